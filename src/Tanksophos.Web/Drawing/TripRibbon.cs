using NodaTime;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Drawing;

/// <summary>A stop as a block on the trip's ribbon.</summary>
public sealed record StopBlock(Stop Stop, double X, double Width, int Nights, bool Over, bool Moves);

/// <summary>A run pinned on the ribbon.</summary>
public sealed record RunPin(double X, double Y, string Letter, string Label, string Key);

/// <summary>Where a tank may overflow.</summary>
public sealed record RiskMark(double X, double Y, string Label);

/// <summary>The lane of a tank over the whole trip.</summary>
public sealed record TripLane(Tank Tank, double Top, double Bottom, double DumpY, string Band, string Line,
    IReadOnlyList<RunPin> Pins, IReadOnlyList<RiskMark> Risks);

/// <summary>
/// The whole trip from left to right: stops as blocks, each tank's planned level as a band in its lane between the floor and the full line, runs pinned on it.
/// Only numbers.
/// </summary>
public sealed class TripRibbon
{
    public const double LaneLeft = 110;
    private const double StopTop = 4, StopHeight = 54, LaneHeight = 62, LaneGap = 26, MinWidth = 890, MinDayWidth = 34, MinStation = 30;

    private readonly Instant from, to;

    /// <summary>Computes it.</summary>
    /// <param name="trip">The trip.</param>
    /// <param name="rig">The rig.</param>
    /// <param name="now">The present moment.</param>
    /// <param name="runs">The runs that are to be done.</param>
    /// <param name="style">How times are written.</param>
    public TripRibbon(TripNow trip, Rig rig, Instant now, IReadOnlyList<PlanRun> runs, TimeStyle style)
    {
        ArgumentNullException.ThrowIfNull(trip);
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(runs);
        var stops = trip.Trip?.Stops ?? [];
        var past = trip.Stored.Itinerary.Stops.Where(s => s.Depart.ToInstant() <= now).ToList();
        from = stops.Count > 0 ? Instant.Min(now, stops[0].Arrive.ToInstant()) : now;
        // Of what is over a little is shown.
        if (past.Count > 0) from = Instant.Min(from, Instant.Max(past[^1].Arrive.ToInstant(), now - Duration.FromDays(2)));
        from = Instant.Max(from, now - Duration.FromDays(2));
        to = stops.Count > 0 ? stops[^1].Depart.ToInstant() : now + Duration.FromDays(1);
        var days = Math.Max(1, (to - from).TotalDays);
        Width = LaneLeft + Math.Max(MinWidth, days * MinDayWidth);
        Now = now > from ? X(now) : null;
        Zone = stops.Count > 0 ? stops[0].Zone : DateTimeZone.Utc;
        DayWidth = (Width - LaneLeft) / days;
        Blocks = Apart([.. past.Where(s => s.Depart.ToInstant() > from).Select(s => Block(s, true)), .. stops.Select(s => Block(s, false))]);
        Lanes = [.. rig.Tanks.Select((t, i) => Lane(t, i, trip, rig, runs, style))];
        Days = [.. DaysOf()];
    }

    public double Width { get; }

    public double DayWidth { get; }

    public double? Now { get; }

    public DateTimeZone Zone { get; }

    public double LanesTop => StopTop + StopHeight + 30;

    public double Height => LanesTop + Lanes.Count * (LaneHeight + LaneGap) + 6;

    public IReadOnlyList<StopBlock> Blocks { get; }

    public IReadOnlyList<TripLane> Lanes { get; }

    /// <summary>Midnights, and the day that starts there.</summary>
    public IReadOnlyList<(double X, double Middle, LocalDate Date)> Days { get; }

    private double X(Instant t) => LaneLeft + (Width - LaneLeft) * Math.Clamp((t - from) / (to - from), 0, 1);

    private StopBlock Block(Stop stop, bool over)
    {
        var (a, b) = (X(Instant.Max(from, stop.Arrive.ToInstant())), X(stop.Depart.ToInstant()));
        // A station lasts an hour; drawn so it could not be hit.
        if (b - a < MinStation) (a, b) = (Math.Max(LaneLeft, (a + b) / 2 - MinStation / 2), Math.Max(LaneLeft, (a + b) / 2 - MinStation / 2) + MinStation);
        return new StopBlock(stop, a + 1, b - a - 2, Itinerary.Nights(stop), over, !over && stop.Id != PresentTrip.Here);
    }

    // A station that is drawn wider than its hour takes the room from its neighbors.
    private static List<StopBlock> Apart(List<StopBlock> blocks)
    {
        for (var i = 1; i < blocks.Count; i++)
        {
            var (a, b) = (blocks[i - 1], blocks[i]);
            var over = a.X + a.Width + 2 - b.X;
            if (over <= 0) continue;
            if (b.Stop.Hookup == StopHookup.DumpStation && a.Width > over + 12) blocks[i - 1] = a with { Width = a.Width - over };
            else blocks[i] = b with { X = b.X + over, Width = Math.Max(6, b.Width - over) };
        }
        return blocks;
    }

    private TripLane Lane(Tank tank, int index, TripNow trip, Rig rig, IReadOnlyList<PlanRun> runs, TimeStyle style)
    {
        var top = LanesTop + index * (LaneHeight + LaneGap);
        var bottom = top + LaneHeight;
        double Y(double litres) => bottom - Math.Clamp(litres / tank.CapacityL, 0, 1) * LaneHeight;
        var points = trip.Plan?.Levels.GetValueOrDefault(tank.Id) ?? [];
        var upper = points.Select(p => (X(p.At.ToInstant()), Y(p.Level.P95L)));
        var lower = points.Reverse().Select(p => (X(p.At.ToInstant()), Y(p.Level.P05L)));
        var pins = new List<RunPin>();
        foreach (var run in runs)
        {
            var mine = run.Actions.FirstOrDefault(a => a.Tank == tank.Id && a.Kind is PlanActionKind.Dump)
                ?? run.Actions.FirstOrDefault(a => a.Tank == tank.Id
                && a.Kind is PlanActionKind.CloseValve or PlanActionKind.OpenValve or PlanActionKind.ScrubBeforeDrive && a.Tank == tank.Id);
            if (mine is null) continue;
            var (letter, label) = mine.Kind switch
            {
                PlanActionKind.Dump => ("D", "dump"),
                PlanActionKind.CloseValve => ("C", DrawingSays.CloseTheValve),
                PlanActionKind.OpenValve => ("O", DrawingSays.OpenTheValve),
                PlanActionKind.ScrubBeforeDrive => ("S", DrawingSays.TravelScrub),
                _ => throw new InvalidOperationException($"{mine.Kind} is not drawn on the ribbon."),
            };
            // Two that stand close together would cover each other; the dump is the one to see.
            var x = X(mine.At.ToInstant());
            if (pins.Count > 0 && x - pins[^1].X < 20)
            {
                if (letter != "D" || pins[^1].Letter == "D") continue;
                pins.RemoveAt(pins.Count - 1);
            }
            pins.Add(new RunPin(x, top - 13, letter, $"{label}, {style.Moment(mine.At.ToInstant(), run.Stop.Zone)}", run.Key));
        }
        var risks = trip.Plan is not { } plan ? [] : plan.Risks.Where(r => r.Tank == tank.Id && (!plan.Feasible || r.Probability >= 0.02))
            .Select(r => new RiskMark(X(r.At.ToInstant()), top + 2, StepWords.Percent(r.Probability))).ToList();
        return new TripLane(tank, top, bottom, bottom - rig.RulesInForce.DumpLevel(tank.Role) * LaneHeight, points.Count > 1
            ? Svg.Path(upper.Concat(lower), close: true) : "", points.Count > 1 ? Svg.Path(points.Select(p => (X(p.At.ToInstant()), Y(p.Level.P50L)))) : "",
            pins, risks);
    }

    private IEnumerable<(double X, double Middle, LocalDate Date)> DaysOf()
    {
        for (var date = from.InZone(Zone).Date; ; date = date.PlusDays(1))
        {
            var start = Zone.AtStartOfDay(date).ToInstant();
            if (start >= to) yield break;
            yield return (X(start), (X(start) + X(Zone.AtStartOfDay(date.PlusDays(1)).ToInstant())) / 2, date);
        }
    }
}
