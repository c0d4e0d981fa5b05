using Tanksophos.Core.Rigs;

namespace Tanksophos.Web.Drawing;

/// <summary>A tank of a run to draw; the page's script moves the liquid.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="Geometry">Its shape, with the level at the start.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Prefix">Makes ids unique where a tank is drawn more than once on the page.</param>
public sealed record RunTrough(Tank Tank, TroughGeometry Geometry, string Name, string Prefix);
