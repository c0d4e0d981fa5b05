using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Web.Drawing;

/// <summary>A stud in the wall of a drawn tank.</summary>
/// <param name="Probe">The probe.</param>
/// <param name="X">Where.</param>
/// <param name="Y">Where.</param>
/// <param name="LabelY">Height of its label, moved so that labels do not touch.</param>
public sealed record Stud(Probe Probe, double X, double Y, double LabelY);

/// <summary>
/// A tank drawn in section as what it is: a long low box, tilted to the outlet. Only numbers; the markup is in the page. The liquid's surface is
/// level, the box is not, so heights are measured between the lowest corner (empty) and the highest (full to the top).
/// </summary>
public sealed class TroughGeometry
{
    private const double Left = 14, Top = 10, Tilt = 8, LabelGap = 22, TapGap = 43;
    private const double LongestShape = 2.05, ShortestShape = 1.5;

    private readonly double length, height;

    /// <summary>Computes the drawing of a tank.</summary>
    /// <param name="tank">The tank; its length and depth give the shape if they are known.</param>
    /// <param name="level">The believed level.</param>
    /// <param name="dumpLevelL">The level that calls for a dump, in litres.</param>
    /// <param name="toTap">Whether the lamps are to be tapped: their labels are then far enough apart for a gloved thumb.</param>
    public TroughGeometry(Tank tank, LevelBand level, double dumpLevelL, bool toTap = false)
    {
        ArgumentNullException.ThrowIfNull(tank);
        // True tanks are up to six times as long as deep; drawn so, no level could be read. The order of shapes is kept.
        var shape = tank is { LengthM: > 0 and var l, DepthM: > 0 and var d }
            ? ShortestShape + (LongestShape - ShortestShape) * Math.Clamp((l / d - 1.5) / 5, 0, 1) : 1.8;
        length = 202;
        height = length / shape;
        Box = [(Left, Top), (Left + length, Top + Tilt), (Left + length, Bottom), (Left, Bottom - Tilt)];
        MedianY = Y(level.P50L / tank.CapacityL);
        LowY = Y(level.P05L / tank.CapacityL);
        HighY = Y(level.P95L / tank.CapacityL);
        DumpY = Y(dumpLevelL / tank.CapacityL);
        FullMarkY = Y(tank.FullMarkL / tank.CapacityL);
        HasRoomAboveFull = tank.RoomAboveFullL > 0.005 * tank.CapacityL;

        var gap = toTap ? TapGap : LabelGap;
        var heights = tank.Monitor.Probes.Select(p => Y(p.AtFraction)).ToList(); // low to high: from below upwards
        var labels = heights.ToArray();
        for (var i = 1; i < labels.Length; i++) labels[i] = Math.Min(labels[i], labels[i - 1] - gap);
        if (labels.Length > 0 && labels[^1] < Top + gap / 2 - 8)
        {
            labels[^1] = Top + gap / 2 - 8;
            for (var i = labels.Length - 2; i >= 0; i--) labels[i] = Math.Max(labels[i], labels[i + 1] + gap);
        }
        Studs = [.. tank.Monitor.Probes.Select((p, i) => new Stud(p, Left + length, heights[i], labels[i]))];
        LowestLabel = labels.Length > 0 ? labels[0] + gap / 2 : 0;
    }

    public static double Width => 286;

    public double Height => Math.Max(Bottom + 30, LowestLabel + 2);

    private double LowestLabel { get; }

    public double Bottom => Top + height + Tilt;

    /// <summary>The box's corners, from the upper left on clockwise.</summary>
    public IReadOnlyList<(double X, double Y)> Box { get; }

    public double MedianY { get; }

    public double LowY { get; }

    public double HighY { get; }

    public double DumpY { get; }

    public double FullMarkY { get; }

    public bool HasRoomAboveFull { get; }

    public IReadOnlyList<Stud> Studs { get; }

    public double InnerLeft => Left;

    public double InnerRight => Left + length;

    public double InnerTop => Top;

    /// <summary>Left edge of the outlet stub under the lower end.</summary>
    public double OutletX => Left + length - 46;

    /// <summary>Height at which a share of the capacity stands, 0..1.</summary>
    public double Y(double fraction) => Bottom - Math.Clamp(fraction, 0, 1) * (Bottom - Top);
}
