using NodaTime;
using Tanksophos.Core.Levels;

namespace Tanksophos.Web.Drawing;

/// <summary>A look on the drawing.</summary>
/// <param name="X">Where it stands.</param>
/// <param name="Low">Height of the lower end of what was believed.</param>
/// <param name="Middle">Height of the estimate.</param>
/// <param name="High">Height of the upper end.</param>
/// <param name="Found">Height of what was found.</param>
/// <param name="Seen">The look.</param>
public readonly record struct HindsightMark(double X, double Low, double Middle, double High, double Found, FoundLevel Seen);

/// <summary>Looks side by side, each with the range that was believed before it: 340 wide and 230 high, levels from empty to full.</summary>
public sealed class HindsightChart
{
    public const double Width = 340, Height = 230, Left = 66, Right = 336, Top = 12, Bottom = 200;

    /// <summary>The newest so many looks fit.</summary>
    public const int Most = 16;

    /// <summary>Draws them.</summary>
    /// <param name="hindsight">The tank's looks.</param>
    public HindsightChart(Hindsight hindsight)
    {
        ArgumentNullException.ThrowIfNull(hindsight);
        var capacity = hindsight.Tank.CapacityL;
        List<FoundLevel> seen = [.. hindsight.Seen.TakeLast(Most)];
        Slot = Math.Min(40, (Right - Left) / Math.Max(1, seen.Count));
        Marks = [.. seen.Select((s, i) => new HindsightMark(Left + (i + 0.5) * Slot, Y(s.Before.P05L / capacity), Y(s.Before.P50L / capacity),
            Y(s.Before.P95L / capacity), Y(s.FoundL / capacity), s))];
    }

    /// <summary>The looks, the oldest first.</summary>
    public IReadOnlyList<HindsightMark> Marks { get; }

    /// <summary>Room for each.</summary>
    public double Slot { get; }

    /// <summary>Height of a share of the tank.</summary>
    public static double Y(double share) => Bottom - Math.Clamp(share, 0, 1.05) / 1.05 * (Bottom - Top);

    /// <summary>The dates that are named below: the first look of each of a few groups.</summary>
    /// <param name="zone">Local time.</param>
    public IEnumerable<(double X, LocalDate Day)> Dates(DateTimeZone zone) =>
        Marks.Where((_, i) => i % Math.Max(1, (int)Math.Ceiling(96 / Slot)) == 0).Select(m => (m.X, m.Seen.Entry.Instant.InZone(zone).Date));
}
