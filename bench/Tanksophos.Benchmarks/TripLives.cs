using System.Globalization;
using System.Text;
using NodaTime;
using Tanksophos.Core;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Benchmarks;

/// <summary>
/// Lives plans through: households drawn anew (none of the planner's own), hour by hour, each plan followed to the letter; beside it two habits. What a plan
/// says of its risk is held against how often a tank ran over.
/// </summary>
internal static class TripLives
{
    private const int Households = 1000;
    private const double Full = 0.92; // where the panel's last lamp usually sits
    private const double Low = 0.5;
    private static readonly Duration Step = Duration.FromHours(1);

    private sealed record Lived(double Overflow, double BlackOverflow, double BlackDumps, double LowDumps, double GrayDumps, double AtSewer, double Ready);

    private sealed record Row(Plan Plan, Lived ByPlan, Lived Looking, Lived Everything, Lived WhenFull);

    public static int Measure(int trips, string? into)
    {
        var rows = new List<Row>();
        for (var seed = 1; seed <= trips; seed++)
        {
            var trip = SampleTrips.Of(7000 + seed, 3 + seed % 8, mostNights: 2 + seed % 3, logSd: seed % 2 == 0 ? 0.45 : 0.2);
            var plan = Planner.Make(trip);
            var looks = PlanLooks.For(trip, plan).Looks;
            rows.Add(new Row(plan, Live(trip, seed, h => h.Follow(plan)), Live(trip, seed, h => h.Follow(plan, looks)),
                Live(trip, seed, h => h.DumpEverywhere()), Live(trip, seed, h => h.DumpWhenFull())));
            Console.Error.Write(seed % 10 == 0 ? $"{seed} " : "");
        }
        Console.Error.WriteLine();
        var text = Table(rows);
        Console.WriteLine(text);
        if (into is not null) File.WriteAllText(into, text);
        return 0;
    }

    private static Lived Live(Trip trip, long seed, Action<Household> way)
    {
        var (over, overBlack, black, low, gray, sewer, ready) = (0, 0, 0, 0, 0, 0, 0);
        for (var i = 0; i < Households; i++)
        {
            var household = new Household(trip, new SeededRandom(seed * 1_000_003 + i));
            way(household);
            over += household.Overflowed ? 1 : 0;
            overBlack += household.BlackOverflowed ? 1 : 0;
            black += household.BlackDumps;
            low += household.LowDumps;
            gray += household.GrayDumps;
            sewer += household.AtSewer;
            ready += household.Ready;
        }
        return new Lived(over / (double)Households, overBlack / (double)Households, black / (double)Households,
            low / (double)Households, gray / (double)Households, sewer / (double)Households, ready / (double)Households);
    }

    private static string Table(List<Row> rows)
    {
        var text = new StringBuilder();
        text.AppendLine(CultureInfo.InvariantCulture, $"""
            # How plans keep their word

            {rows.Count} made-up trips of 3 to 10 stops, half of them with a household that is not known yet (spread 0.45), half with one that the log has
            taught (0.2). Each plan is followed to the letter by {Households} households that are drawn anew, hour by hour; nobody looks at a panel or
            changes his mind, but in the row "looking": there each takes the looks that the plan proposes (see decisions/0017-looks.md), with an error of 6 % of
            the tank, and goes the other way where they say so. The last rows are two habits on the same trips: dumping both tanks at every
            sewer, and dumping at the next sewer once the panel says Full ({Full:P0}). The last column
            counts black dumps at a full hookup for which all grays together held what the hose wants.
            Written by `dotnet run -c Release --project bench/Tanksophos.Benchmarks -- trips docs`.

            | the plan says | trips | said, mean | ran over, mean | largest difference |
            |---|---|---|---|---|
            """);
        (string Name, double From, double To)[] bins = [("up to 1 %", 0, 0.01), ("1 to 3 %", 0.01, 0.03), ("3 to 5 % (the house rule)", 0.03, 0.0501),
            ("5 to 15 %: does not hold", 0.0501, 0.15), ("15 to 50 %: does not hold", 0.15, 0.5), ("above 50 %: does not hold", 0.5, 1.01)];
        foreach (var (name, from, to) in bins)
        {
            var bin = rows.Where(r => r.Plan.Totals.OverflowProbability >= from && r.Plan.Totals.OverflowProbability < to).ToList();
            if (bin.Count == 0) continue;
            text.AppendLine(CultureInfo.InvariantCulture,
                $"| {name} | {bin.Count} | {100 * bin.Average(r => r.Plan.Totals.OverflowProbability):0.0} % | {100 * bin.Average(r => r.ByPlan.Overflow):0.0} "
                + $"% | {100 * bin.Max(r => Math.Abs(r.ByPlan.Overflow - r.Plan.Totals.OverflowProbability)):0.0} points |");
        }
        var held = rows.Where(r => r.Plan.Feasible).ToList();
        var broken = rows.Where(r => !r.Plan.Feasible).ToList();
        text.AppendLine(CultureInfo.InvariantCulture, $"""

            On the {held.Count} trips whose plan holds:

            | | ran over | black ran over | black dumps a trip | of these below half, no top-up | gray dumps a trip | enough gray for the rinse |
            |---|---|---|---|---|---|---|
            """);
        foreach (var (name, of) in ((string, Func<Row, Lived>)[])[("the plan", r => r.ByPlan), ("the plan, looking", r => r.Looking),
            ("everything at every sewer", r => r.Everything), ("when the panel says Full", r => r.WhenFull)])
        {
            double Mean(Func<Lived, double> figure) => held.Average(r => figure(of(r)));
            text.AppendLine(CultureInfo.InvariantCulture,
                $"| {name} | {100 * Mean(l => l.Overflow):0.0} % | {100 * Mean(l => l.BlackOverflow):0.0} % | {Mean(l => l.BlackDumps):0.00} | "
                + $"{Mean(l => l.LowDumps):0.0} | {Mean(l => l.GrayDumps):0.00} | {100 * Mean(l => l.Ready) / Mean(l => l.AtSewer):0} % |");
        }
        text.AppendLine(CultureInfo.InvariantCulture, $"""

            Black ran over in more than 2.5 % of the households on {held.Count(r => r.ByPlan.BlackOverflow > 0.025)} of these trips (the house rule allows 2 %),
            most often on one in {100 * held.Max(r => r.ByPlan.BlackOverflow):0.0} % of them. Where no plan holds, black ran over in
            {100 * broken.Average(r => r.ByPlan.BlackOverflow):0.0} % of the households on the mean,
            any tank in {100 * broken.Average(r => r.ByPlan.Overflow):0.0} %.
            """);
        return text.ToString();
    }

    // One household on the trip, with its own factors and days.
    private sealed class Household
    {
        private readonly Trip trip;
        private readonly SeededRandom random;
        private readonly double[] level, factor;
        private readonly bool[] open;
        private readonly Dictionary<(int, LocalDate), double> days = [];
        private double divert;
        private Instant clock;
        private int stop;

        public Household(Trip trip, SeededRandom random)
        {
            (this.trip, this.random) = (trip, random);
            var tanks = trip.Rig.Tanks;
            factor = [.. tanks.Select(t => Math.Exp((trip.Rig.Usage ?? Usage.Default).For(t.Role).LogSd * random.Normal()))];
            level = [.. tanks.Select(t => trip.Start.Levels.TryGetValue(t.Id, out var band)
                ? Math.Max(0, band.P50L + (band.P95L - band.P50L) / 1.645 * random.Normal()) : 0)];
            open = [.. tanks.Select(_ => false)];
            clock = trip.Start.At.ToInstant();
        }

        public bool Overflowed { get; private set; }

        public bool BlackOverflowed { get; private set; }

        public int BlackDumps { get; private set; }

        public int LowDumps { get; private set; }

        public int GrayDumps { get; private set; }

        /// <summary>Black dumps at a site with its own sewer.</summary>
        public int AtSewer { get; private set; }

        /// <summary>Those of them for which the grays together held what the hose wants.</summary>
        public int Ready { get; private set; }

        public void Follow(Plan plan, IReadOnlyList<PlanLook>? looks = null)
        {
            var runs = PlanRun.Group(plan.Actions, id => trip.Stops.First(s => s.Id == id)).Where(r => r.Dumps).ToList();
            var leftOut = new HashSet<PlanAction>(ReferenceEqualityComparer.Instance);
            double toppedUp = 0;
            PlanRun RunOf(PlanLook look) => runs.First(r => r.Key == look.Run);
            IEnumerable<PlanAction> Closing(PlanLook look) => plan.Actions.Where(a => a is { Kind: PlanActionKind.CloseValve, Why: PlanWhy.ForTheRinse }
                && RunOf(look) == runs.FirstOrDefault(r => r.Stop.Id == a.Stop && r.Until.ToInstant() > a.At.ToInstant()));
            var events = plan.Actions.Select((a, i) => (At: a.At.ToInstant(), Order: i, Do: (Action)(() =>
            {
                if (!leftOut.Contains(a)) Do(a);
            }))).ToList();
            foreach (var look in looks ?? [])
            {
                if (look.CloseAt is { } sooner)
                    foreach (var close in Closing(look)) events.Add((sooner.ToInstant(), -1, () => open[Index(close.Tank)] = false));
                foreach (var hour in look.Hours) events.Add((hour.ToInstant(), -2, () => Look(look)));
            }
            foreach (var e in events.OrderBy(e => e.At).ThenBy(e => e.Order))
            {
                Until(e.At);
                e.Do();
            }
            Until(trip.Stops[^1].Depart.ToInstant());

            int Index(string? tank) => trip.Rig.Tanks.ToList().FindIndex(x => x.Id == tank);
            void Look(PlanLook look)
            {
                var above = look.Limits.Where(l => level[Index(l.Key)] + PlanLooks.ReadingSd * trip.Rig.Find(l.Key)!.CapacityL * random.Normal()
                    > l.Value * trip.Rig.Find(l.Key)!.CapacityL).ToList();
                if (look.Fork == LookFork.LetOut && above.Count > 0)
                    foreach (var t in look.Limits.Keys.Select(Index)) level[t] = Math.Min(level[t], PlanLook.LeftShare * trip.Rig.Tanks[t].CapacityL);
                if (look.Fork == LookFork.LeaveOut && above.Count == 0)
                {
                    leftOut.UnionWith(RunOf(look).Actions);
                    leftOut.UnionWith(Closing(look));
                    // Gray that stood open is closed before the rig rolls.
                    if (Closing(look).Any() && !plan.Actions.Any(a => a is { Kind: PlanActionKind.OpenValve } && a.Stop == RunOf(look).Stop.Id
                        && a.At.ToInstant() > RunOf(look).At.ToInstant()))
                        leftOut.ExceptWith(Closing(look));
                }
            }
            void Do(PlanAction a)
            {
                var t = Index(a.Tank);
                switch (a.Kind)
                {
                    case PlanActionKind.Dump: Dump(t, toppedUp); toppedUp = 0; break;
                    case PlanActionKind.Flush: level[t] = Math.Min(level[t], Residue(t)); break;
                    case PlanActionKind.TopUp: Put(t, a.WaterL ?? 0); toppedUp = a.WaterL ?? 0; break;
                    case PlanActionKind.StarterWater or PlanActionKind.ScrubBeforeDrive: Put(t, a.WaterL ?? 0); break;
                    case PlanActionKind.OpenValve: open[t] = true; level[t] = Math.Min(level[t], Residue(t)); break;
                    case PlanActionKind.CloseValve: open[t] = false; break;
                    case PlanActionKind.Divert: divert = a.ShareToBlack ?? 0; break;
                }
            }
        }

        // On arrival at every sewer; at a site gray then stays open, and both go again on leaving.
        public void DumpEverywhere() => AtSewers((_, _) => true);

        public void DumpWhenFull() => AtSewers((t, capacity) => level[t] >= Full * capacity);

        private void AtSewers(Func<int, double, bool> dumps)
        {
            foreach (var s in trip.Stops)
            {
                var sewer = s.Hookup is StopHookup.Full or StopHookup.DumpStation;
                var moments = sewer || s.DumpStation ? s.Hookup == StopHookup.Full
                    ? [s.Arrive.ToInstant() + Duration.FromMinutes(30), .. Mornings(s), s.Depart.ToInstant() - Duration.FromHours(1)]
                    : new[] { s.Depart.ToInstant() - Duration.FromMinutes(50) } : [];
                foreach (var at in moments)
                {
                    Until(at);
                    for (var t = 0; t < trip.Rig.Tanks.Count; t++)
                    {
                        if (!dumps(t, trip.Rig.Tanks[t].CapacityL)) continue;
                        Dump(t, 0);
                        if (trip.Rig.Tanks[t].Role == TankRole.Black) Put(t, 0.1 * trip.Rig.Tanks[t].CapacityL);
                    }
                }
                Until(s.Depart.ToInstant());
            }
        }

        private static IEnumerable<Instant> Mornings(Stop s)
        {
            for (var date = s.Arrive.ToInstant().InZone(s.Zone).Date.PlusDays(1); date < s.Depart.ToInstant().InZone(s.Zone).Date; date = date.PlusDays(1))
                yield return (date + new LocalTime(9, 0)).InZoneLeniently(s.Zone).ToInstant();
        }

        private double Residue(int t) => DumpEntry.ResidueFraction * trip.Rig.Tanks[t].CapacityL;

        private void Dump(int t, double toppedUp)
        {
            var tank = trip.Rig.Tanks[t];
            if (tank.Role == TankRole.Black)
            {
                BlackDumps++;
                if (stop < trip.Stops.Count && trip.Stops[stop].Hookup == StopHookup.Full)
                {
                    AtSewer++;
                    var grays = Enumerable.Range(0, level.Length).Where(g => trip.Rig.Tanks[g].Role == TankRole.Gray);
                    if (grays.Sum(g => level[g]) >= GrayRinse.TargetL(trip.Rig, trip.Rules)) Ready++;
                }
                if (toppedUp == 0 && level[t] < Low * tank.CapacityL) LowDumps++;
            }
            else GrayDumps++;
            level[t] = Math.Min(level[t], Residue(t));
        }

        private void Put(int t, double litres)
        {
            level[t] += litres;
            Spill(t);
        }

        private void Spill(int t)
        {
            if (level[t] <= trip.Rig.Tanks[t].CapacityL) return;
            Overflowed = true;
            BlackOverflowed |= trip.Rig.Tanks[t].Role == TankRole.Black;
            level[t] = trip.Rig.Tanks[t].CapacityL;
        }

        private void Until(Instant moment)
        {
            while (clock < moment && stop < trip.Stops.Count)
            {
                var s = trip.Stops[stop];
                if (clock < s.Arrive.ToInstant()) clock = Instant.Min(moment, s.Arrive.ToInstant());
                if (clock >= s.Depart.ToInstant())
                {
                    stop++;
                    divert = 0; // it ends with its stop
                    continue;
                }
                var next = Instant.Min(Instant.Min(moment, s.Depart.ToInstant()), clock + Step);
                Flow(s, clock, next);
                clock = next;
            }
            if (clock < moment) clock = moment;
        }

        private void Flow(Stop s, Instant from, Instant to)
        {
            Hookup? hookup = s.Hookup switch
            {
                StopHookup.Full => Hookup.Full,
                StopHookup.Partial => Hookup.Partial,
                StopHookup.GrayDrain => Hookup.GrayDrain,
                StopHookup.Dry => Hookup.Dry,
                _ => null
            };
            if (hookup is not { } h || s.People == 0) return;
            foreach (var (day, share, _) in UseHours.Days(from, to, s.Zone))
            {
                for (var t = 0; t < level.Length; t++)
                {
                    var tank = trip.Rig.Tanks[t];
                    if (!days.TryGetValue((t, day), out var scatter)) days[(t, day)] = scatter = random.Scatter(Usage.DayLogSd);
                    var litres = s.People * trip.Rig.MedianInflow(tank, h) * factor[t] * scatter * share;
                    var kept = tank.Role == TankRole.Gray ? (1 - divert) * litres : litres;
                    if (!open[t]) level[t] += kept;
                    if (tank.Role == TankRole.Gray) level[0] += divert * litres;
                }
                for (var t = 0; t < level.Length; t++) Spill(t);
            }
        }
    }
}
