using Tanksophos.Core.Practice;

namespace Tanksophos.Web.Drawing;

/// <summary>What was really in black and gray over a practiced dump run, beside the program's own run. Only numbers; 640 wide.</summary>
public sealed class DrillChart
{
    public const double Width = 640, Height = 190, Left = 4, Right = 636, Top = 14, Bottom = 160;

    private readonly double longest;

    /// <summary>Draws a review.</summary>
    /// <param name="review">The review.</param>
    public DrillChart(DrillReview review)
    {
        ArgumentNullException.ThrowIfNull(review);
        longest = Math.Max(1, Math.Max(review.Drill.Minutes, review.Own.Minutes));
        Black = Path(review.Drill, s => s.BlackL / review.Drill.Capacities.BlackL);
        Gray = Path(review.Drill, s => s.GrayL / review.Drill.Capacities.GrayL);
        Own = Path(review.Own, s => s.BlackL / review.Own.Capacities.BlackL);
        var every = longest > 90 ? 30 : longest > 45 ? 15 : longest > 20 ? 10 : 5;
        Ticks = [.. Enumerable.Range(1, (int)(longest / every)).Select(i => (X(i * every), i * every)).Where(t => t.Item1 < Right - 40)];
    }

    /// <summary>Path of black.</summary>
    public string Black { get; }

    /// <summary>Path of gray.</summary>
    public string Gray { get; }

    /// <summary>Path of black in the program's run.</summary>
    public string Own { get; }

    /// <summary>Where minutes are marked.</summary>
    public IReadOnlyList<(double X, int Minutes)> Ticks { get; }

    private string Path(DumpDrill drill, Func<DrillStep, double> share) => drill.Steps.Count == 0 ? ""
        : Svg.Path([(X(0), Y(share(drill.Steps[0]))), .. drill.Steps.Select(s => (X(s.Minutes), Y(share(s))))]);

    private double X(double minutes) => Left + minutes / longest * (Right - Left);

    private static double Y(double share) => Bottom - Math.Clamp(share, 0, 1) * (Bottom - Top);
}
