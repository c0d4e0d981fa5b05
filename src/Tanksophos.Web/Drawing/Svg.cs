using System.Globalization;

namespace Tanksophos.Web.Drawing;

/// <summary>Numbers in drawings: one decimal, always with a point.</summary>
public static class Svg
{
    public static string N(double value) => Math.Round(value, 1).ToString("0.#", CultureInfo.InvariantCulture);

    /// <summary>A closed or open path through points.</summary>
    public static string Path(IEnumerable<(double X, double Y)> points, bool close = false) =>
        string.Concat(points.Select((p, i) => $"{(i == 0 ? "M" : "L")}{N(p.X)} {N(p.Y)}")) + (close ? "Z" : "");
}
