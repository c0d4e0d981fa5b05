using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Drawing;

/// <summary>One look at a lamp on its strip.</summary>
public sealed record StripLook(double X, bool Lit, bool Believed, string Label);

/// <summary>The strip of one lamp.</summary>
public sealed record LampStrip(Probe Probe, double Y, IReadOnlyList<StripLook> Looks);

/// <summary>A level that somebody saw, metered, or read in percent.</summary>
public sealed record SeenLevel(double X, double Y, bool Eyes, string Label);

/// <summary>
/// The record of one tank over weeks: the level as believed now with its band, the level as it was believed then, what was seen, and under it one strip
/// per lamp, lit or dark at each look, over the same time. Only numbers.
/// </summary>
public sealed class SensorRecord
{
    public const double Width = 1000, Left = 70, Right = 992, ChartTop = 14;
    private const double ChartHeight = 190, StripGap = 40;

    private readonly Instant from, to;
    private readonly double capacity;

    /// <summary>Computes the drawing.</summary>
    /// <param name="back">The tank looked back on.</param>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="start">Left edge.</param>
    /// <param name="end">Right edge; later than the start.</param>
    /// <param name="times">Words for a moment.</param>
    /// <param name="zone">Local time.</param>
    public SensorRecord(TankLookBack back, IReadOnlyList<LogEntry> entries, Instant start, Instant end, Func<Instant, string> times, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(back);
        ArgumentNullException.ThrowIfNull(entries);
        ArgumentNullException.ThrowIfNull(times);
        ArgumentNullException.ThrowIfNull(zone);
        (from, to) = (start, Instant.Max(end, start + Duration.FromHours(12)));
        capacity = back.Tank.CapacityL;
        var now = back.Now.Where(p => p.At >= from && p.At <= to).ToList();
        Band = now.Count < 2 ? ""
            : Svg.Path([.. now.Select(p => (X(p.At), Y(p.Level.P95L))), .. now.AsEnumerable().Reverse().Select(p => (X(p.At), Y(p.Level.P05L)))], true);
        Line = now.Count < 2 ? "" : Svg.Path(now.Select(p => (X(p.At), Y(p.Level.P50L))));
        Then = now.Count < 2 ? "" : Svg.Path(back.Then.Where(p => p.At >= from && p.At <= to).Select(p => (X(p.At), Y(p.Level.P50L))));
        Marks = [.. back.Tank.Monitor.Probes.Select(p => (p, Y(p.AtFraction * capacity)))];
        var mine = entries.Between(from, to).Where(e => e.Tank == back.Tank.Id).ToList();
        Dumps = [.. mine.Where(e => e is DumpEntry { Emptied: true } or ValveEntry { State: ValveState.Open }).Select(e => (X(e.Instant), times(e.Instant)))];
        Seen = [.. mine.OfType<ReadingEntry>().Where(r => r.Via != ReadingVia.Panel && r.Fraction is not null)
            .Select(r => new SeenLevel(X(r.Instant), Y(r.Fraction!.Value * capacity), true, DrawingSays.Seen(times(r.Instant)))),
            .. mine.OfType<ReadingEntry>().Where(r => r is { Via: ReadingVia.Panel, Percent: not null })
            .Select(r => new SeenLevel(X(r.Instant), Y(r.Percent!.Value / 100 * back.Tank.FullMarkL), false, DrawingSays.Panel(times(r.Instant))))];
        Strips = [.. back.Probes.Reverse()
            .Select((p, i) => new LampStrip(p.Probe, ChartTop + ChartHeight + 34 + i * StripGap,
            [.. p.Looks.Where(l => l.At.ToInstant() >= from && l.At.ToInstant() <= to)
            .Select(l => new StripLook(X(l.At.ToInstant()), l.Lit, l.Believed,
            $"{(l.Lit ? "lit" : "dark")} {times(l.At.ToInstant())}{(l.Believed ? "" : DrawingSays.NotBelieved)}"))]))];
        Days = [.. DaysOf(zone)];
    }

    public string Band { get; }

    public string Line { get; }

    /// <summary>The level as it was believed at each moment.</summary>
    public string Then { get; }

    public IReadOnlyList<(Probe Probe, double Y)> Marks { get; }

    public IReadOnlyList<(double X, string Label)> Dumps { get; }

    public IReadOnlyList<SeenLevel> Seen { get; }

    /// <summary>One per lamp, the highest first.</summary>
    public IReadOnlyList<LampStrip> Strips { get; }

    public IReadOnlyList<(double X, LocalDate Date)> Days { get; }

    public double ChartBottom => ChartTop + ChartHeight;

    public double Bottom => Strips.Count == 0 ? ChartBottom + 6 : Strips[^1].Y + 20;

    public double Height => Bottom + 28;

    public double X(Instant at) => Left + (Right - Left) * ((at - from) / (to - from));

    public double Y(double litres) => ChartTop + ChartHeight * (1 - Math.Clamp(litres / capacity, 0, 1));

    // So many days between two dates that they do not touch.
    private IEnumerable<(double, LocalDate)> DaysOf(DateTimeZone zone)
    {
        var first = from.InZone(zone).Date.PlusDays(1);
        var days = Period.DaysBetween(first, to.InZone(zone).Date) + 1;
        var step = Math.Max(1, (days + 8) / 9);
        for (var date = first; date.AtStartOfDayInZone(zone).ToInstant() <= to; date = date.PlusDays(step))
            yield return (X(date.AtStartOfDayInZone(zone).ToInstant()), date);
    }
}
