using Tanksophos.Words;

namespace Tanksophos.Web.Drawing;

/// <summary>A tank on the page of the rig: drawn with a scale in the person's unit.</summary>
/// <param name="View">The tank.</param>
/// <param name="Index">Its place among the rig's tanks, from 0.</param>
/// <param name="Units">The person's units.</param>
public sealed record RigTankDrawing(TankView View, int Index, Units Units)
{
    private const int MostSteps = 5;

    /// <summary>The lines of the scale: share of the capacity, and the volume in words; the topmost is the capacity.</summary>
    public IReadOnlyList<(double Share, string Words)> Scale
    {
        get
        {
            var capacity = View.Belief.Tank.CapacityL;
            var whole = capacity / Units.LitresPerUnit;
            var step = new[] { 1.0, 2, 5, 10, 20, 25, 50, 100, 200, 500 }.FirstOrDefault(s => whole / s <= MostSteps, 1000);
            List<(double, string)> lines = [(1, Units.Number(capacity))];
            for (var v = 0.0; v < whole - 0.4 * step; v += step) lines.Add((v / whole, Units.Number(v * Units.LitresPerUnit)));
            return lines;
        }
    }
}
