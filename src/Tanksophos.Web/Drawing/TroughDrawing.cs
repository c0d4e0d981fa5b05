using Tanksophos.Core.Levels;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Web.Drawing;

/// <summary>Everything needed to show one tank.</summary>
/// <param name="Belief">What is believed about it.</param>
/// <param name="Outlook">When it reaches its marks.</param>
/// <param name="Trough">Its drawing.</param>
/// <param name="Capacity">Its capacity in the person's units.</param>
/// <param name="Others">The rig's other tanks.</param>
public sealed record TankView(TankBelief Belief, TankOutlook Outlook, TroughGeometry Trough, string Capacity, IReadOnlyList<Tank> Others);

/// <summary>A tank to draw.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="Prefix">Makes ids unique where a tank is drawn more than once on a page.</param>
/// <param name="Alt">What the picture shows, in words.</param>
/// <param name="Editable">Whether the lamps and the liquid can be tapped.</param>
public sealed record TroughDrawing(TankView Tank, string Prefix, string Alt, bool Editable = false);
