using NodaTime;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Trips;

/// <summary>What would lower the risk of one stretch of a plan, each computed by living the stretch through with the change.</summary>
internal sealed class Mending
{
    private const double MinUse = 0.3, UseStep = 0.05, ThriftWithinReach = 0.7, MaxShare = DryStay.MaxShare, ShareStep = 0.05, WorthDoing = 0.01;
    private const int MaxDays = 14;

    private sealed record Part(int Stop, Instant From, Instant To, double[][] Inflow); // by tank and life, nothing diverted

    private readonly PlanGrid grid;
    private readonly Trip trip;
    private readonly DemandScenarios lives;
    private readonly int tank, worst;
    private readonly Instant from, to;
    private readonly List<Part> parts;
    private readonly IReadOnlyList<(string Tank, Instant At)> dumps;

    /// <summary>Sets up one stretch.</summary>
    /// <param name="grid">The plan's grid.</param>
    /// <param name="lives">Possible lives.</param>
    /// <param name="tank">Index of the tank that overflows.</param>
    /// <param name="from">The drain before it, or the start.</param>
    /// <param name="to">The drain after it, or the end.</param>
    /// <param name="middle">When half of the overflows have happened.</param>
    /// <param name="dumps">The plan's dumps.</param>
    public Mending(PlanGrid grid, DemandScenarios lives, int tank, Instant from, Instant to, Instant middle, IReadOnlyList<(string Tank, Instant At)> dumps)
    {
        (this.grid, trip, this.lives, this.tank, this.from, this.to, this.dumps) = (grid, grid.Trip, lives, tank, from, to, dumps);
        parts = PartsOf(from, to);
        worst = Math.Max(0, trip.Stops.ToList().FindLastIndex(s => s.Arrive.ToInstant() < middle));
    }

    private double Allowed => trip.Rules.OverflowRisk;

    private string WorstId => trip.Stops[worst].Id;

    /// <summary>What helps, the most useful first: what brings the stretch within the house rule with the least trouble, then by the risk it leaves.</summary>
    /// <param name="risk">The risk without it.</param>
    public List<PlanMend> Ranked(double risk)
    {
        var mends = new List<PlanMend?> { Divert(), Earlier(), CutUse(risk), Leave(), Station() };
        return [.. mends.OfType<PlanMend>().Where(m => m.RiskLeft <= risk - Math.Min(WorthDoing, 0.3 * risk))
            .OrderBy(m => m.RiskLeft <= Allowed ? Trouble(m) : 100 + m.RiskLeft)];
    }

    private static double Trouble(PlanMend mend) => mend.Advice switch
    {
        PlanAdvice.DivertToBlack => 1,
        PlanAdvice.DumpEarlier => 2,
        PlanAdvice.CutUse => mend.ToFraction >= ThriftWithinReach ? 3 : 7,
        PlanAdvice.LeaveEarlier => 4,
        PlanAdvice.AddStation => 5,
        PlanAdvice.ShortenStay or PlanAdvice.SkipFlush => 6,
    };

    private PlanMend? Divert()
    {
        var black = Array.FindIndex([.. trip.Rig.Tanks], t => t.Role == TankRole.Black);
        if (black < 0 || trip.Rig.Tanks[tank].Role != TankRole.Gray || !parts.Any(p => MayDivert(trip.Stops[p.Stop]))) return null;
        // Black's own stretch around this one.
        var blackId = trip.Rig.Tanks[black].Id;
        var start = dumps.Where(d => d.Tank == blackId && d.At <= from).Select(d => (Instant?)d.At).LastOrDefault();
        var end = dumps.Where(d => d.Tank == blackId && d.At >= from).Select(d => (Instant?)d.At).FirstOrDefault() ?? grid.End;
        var around = PartsOf(start ?? grid.Begin, end);
        PlanMend? best = null;
        for (var share = ShareStep; share <= MaxShare + 1e-9; share += ShareStep)
        {
            var lost = new bool[DemandScenarios.Count];
            Overflow(parts, tank, FirstLevel(tank, from), lost, p => MayDivert(trip.Stops[p.Stop]) ? 1 - share : 1);
            var level = FirstLevel(black, start);
            foreach (var p in around)
            {
                var moved = MayDivert(trip.Stops[p.Stop]) && p.From >= from && p.From < to ? share : grid.Divert[p.Stop];
                for (var life = 0; life < level.Length; life++)
                {
                    level[life] += p.Inflow[black][life];
                    foreach (var g in grid.Grays) level[life] += moved * p.Inflow[g][life];
                    lost[life] |= level[life] > trip.Rig.Tanks[black].CapacityL;
                }
            }
            var left = Share(lost);
            if (best is null || left < best.RiskLeft - 0.002)
                best = new PlanMend(PlanAdvice.DivertToBlack, WorstId, left) { ShareToBlack = Math.Round(share, 2) };
        }
        // What the plan diverts already is no news.
        return best is { } b && parts.Any(p => grid.Divert[p.Stop] >= b.ShareToBlack - 1e-9 && p.Stop == worst) ? null : best;
    }

    private PlanMend? Earlier()
    {
        // A drain that the plan leaves out.
        PlanMend? best = null;
        for (var m = 0; m < grid.Moments.Count; m++)
        {
            var moment = grid.Moments[m];
            if (moment.At <= from + Duration.FromHours(1) || moment.At >= to - Duration.FromHours(1) || moment.Opens) continue;
            if (trip.Rig.Tanks[tank].Role == TankRole.Black ? !moment.Black : !moment.Gray) continue;
            var left = Broken(moment.At);
            if (best is null || left < best.RiskLeft)
                best = new PlanMend(PlanAdvice.DumpEarlier, trip.Stops[moment.Stop].Id, left)
                {
                    At = moment.At.InZone(trip.Stops[moment.Stop].Zone)
                .ToOffsetDateTime()
                };
        }
        return best;
    }

    // As little less as keeps the rule, and at least halves what there is.
    private PlanMend? CutUse(double risk)
    {
        if (parts.Count == 0) return null;
        PlanMend? made = null;
        for (var use = 1 - UseStep; use >= MinUse - 1e-9; use -= UseStep)
        {
            var left = Risk(use);
            made = new PlanMend(PlanAdvice.CutUse, WorstId, left) { ToFraction = Math.Round(use, 2) };
            if (left <= Math.Min(Allowed, risk / 2)) break;
        }
        return made;
    }

    // Left earlier by as few days as it takes; the places after it come earlier by as much.
    private PlanMend? Leave()
    {
        var stop = trip.Stops[worst];
        var nights = Period.DaysBetween(stop.Arrive.ToInstant().InZone(stop.Zone).Date, stop.Depart.ToInstant().InZone(stop.Zone).Date);
        PlanMend? made = null;
        for (var days = 1; days < Math.Min(nights, MaxDays); days++)
        {
            var lost = new bool[DemandScenarios.Count];
            var until = stop.Depart.ToInstant() - Duration.FromDays(days);
            Overflow([.. parts.Select(p => p.Stop == worst && p.To > until ? p with { Inflow = Kept(p, Instant.Max(p.From, until)) } : p)], tank,
                FirstLevel(tank, from), lost, Keeping);
            made = new PlanMend(days == 1 ? PlanAdvice.LeaveEarlier : PlanAdvice.ShortenStay, stop.Id, Share(lost)) { Days = days };
            if (made.RiskLeft <= Allowed) break;
        }
        return made;
    }

    // A station near the stop: the best day to drive to it.
    private PlanMend? Station()
    {
        var stop = trip.Stops[worst];
        if (stop.Hookup == StopHookup.Full) return null;
        PlanMend? best = null;
        for (var date = Instant.Max(from, stop.Arrive.ToInstant()).InZone(stop.Zone).Date; date <= stop.Depart.ToInstant()
            .InZone(stop.Zone).Date; date = date.PlusDays(1))
        {
            var at = (date + new LocalTime(10, 0)).InZoneLeniently(stop.Zone).ToInstant();
            if (at <= from || at >= to || at > stop.Depart.ToInstant() || at < stop.Arrive.ToInstant()) continue;
            var left = Broken(at);
            if (best is null || left < best.RiskLeft)
                best = new PlanMend(PlanAdvice.AddStation, stop.Id, left) { At = at.InZone(stop.Zone).ToOffsetDateTime() };
        }
        return best;
    }

    // The risk if the tank is emptied once more, in between.
    private double Broken(Instant at)
    {
        var lost = new bool[DemandScenarios.Count];
        Overflow(PartsOf(from, at), tank, FirstLevel(tank, from), lost, Keeping);
        Overflow(PartsOf(at, to), tank, FirstLevel(tank, at), lost, Keeping);
        return Share(lost);
    }

    private double Risk(double use)
    {
        var lost = new bool[DemandScenarios.Count];
        Overflow(parts, tank, FirstLevel(tank, from), lost, p => use * Keeping(p));
        return Share(lost);
    }

    // Black takes what gray gives in the plan; gray keeps the rest.
    private double Keeping(Part part) => trip.Rig.Tanks[tank].Role == TankRole.Gray ? 1 - grid.Divert[part.Stop] : 1;

    private void Overflow(List<Part> along, int t, double[] level, bool[] lost, Func<Part, double> share)
    {
        var black = trip.Rig.Tanks[t].Role == TankRole.Black && t == Array.FindIndex([.. trip.Rig.Tanks], x => x.Role == TankRole.Black);
        foreach (var p in along)
        {
            var kept = share(p);
            for (var life = 0; life < level.Length; life++)
            {
                level[life] += kept * p.Inflow[t][life];
                if (black) foreach (var g in grid.Grays) level[life] += kept * grid.Divert[p.Stop] * p.Inflow[g][life];
                lost[life] |= level[life] > trip.Rig.Tanks[t].CapacityL;
            }
        }
    }

    private double[] FirstLevel(int t, Instant? since)
    {
        if (since is null || since <= grid.Begin) return (double[])lives.Start[t].Clone();
        var tank = trip.Rig.Tanks[t];
        return [.. Enumerable.Repeat(PlanGrid.Residue(tank) + (tank.Role == TankRole.Black ? grid.StarterL(tank) : 0), DemandScenarios.Count)];
    }

    private List<Part> PartsOf(Instant a, Instant b)
    {
        var made = new List<Part>();
        for (var i = 0; i < trip.Stops.Count; i++)
        {
            var stop = trip.Stops[i];
            var (start, end) = (Instant.Max(Instant.Max(a, stop.Arrive.ToInstant()), grid.Begin), Instant.Min(b, stop.Depart.ToInstant()));
            if (end <= start) continue;
            made.Add(new Part(i, start, end, Flow(i, start, end)));
        }
        return made;
    }

    private double[][] Kept(Part part, Instant until) => Flow(part.Stop, part.From, until);

    private double[][] Flow(int stop, Instant a, Instant b)
    {
        double[][] inflow = [.. trip.Rig.Tanks.Select(_ => new double[DemandScenarios.Count])];
        lives.Flow(inflow, trip.Stops[stop], a, b, 0, t => trip.Rig.Tanks[t].Role == TankRole.Gray && grid.IsOpen(trip.Stops[stop]));
        return inflow;
    }

    private static bool MayDivert(Stop stop) => stop.Hookup is StopHookup.Dry or StopHookup.Partial;

    private static double Share(bool[] lost) => lost.Count(x => x) / (double)lost.Length;
}
