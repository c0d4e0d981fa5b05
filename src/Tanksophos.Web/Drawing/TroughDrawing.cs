using Tanksophos.Web.Pages;

namespace Tanksophos.Web.Drawing;

/// <summary>A tank to draw.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="Prefix">Makes ids unique where a tank is drawn more than once on a page.</param>
/// <param name="Alt">What the picture shows, in words.</param>
/// <param name="Editable">Whether the lamps and the liquid can be tapped.</param>
public sealed record TroughDrawing(TankView Tank, string Prefix, string Alt, bool Editable = false);
