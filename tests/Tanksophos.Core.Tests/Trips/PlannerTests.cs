using System.Text.Json;
using CsCheck;
using NodaTime;
using Tanksophos.Cli;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Tests.Trips;

public class PlannerTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];
    private static readonly Rig Rig = Given.Rig() with { Equipment = new Equipment { FlushInlet = true, JugL = 19, HoseLengthM = 4.6 } };

    private static OffsetDateTime At(int day, int hour, int minute = 0) => (new LocalDate(2026, 6, 5).PlusDays(day) + new LocalTime(hour, minute)).InZoneLeniently(Zone).ToOffsetDateTime();

    private static Stop Stop(string id, int from, int to, StopHookup hookup, int people = 2) => hookup == StopHookup.DumpStation
        ? new(id, id, Zone, At(from, 11), At(from, 12), hookup, people) { RinseWater = RinseWater.Unthreaded, Busy = true, FeeMinor = 1000 }
        : new(id, id, Zone, At(from, 15), At(to, 10), hookup, people) { DriveHoursBefore = 2 };

    private static Trip Trip(HouseRules? rules, params Stop[] stops) =>
        new(Rig, rules ?? HouseRules.Default, new TripStart(At(0, 9), new Dictionary<string, LevelBand> { ["black"] = new(14, 16, 19), ["gray"] = new(0, 2, 5) }, false, 150, 0), stops);

    private static Trip ThreeStops(HouseRules? rules = null) => Trip(rules, Stop("dry", 0, 4, StopHookup.Dry), Stop("station", 4, 4, StopHookup.DumpStation), Stop("site", 4, 9, StopHookup.Full));

    private static readonly Gen<Trip> AnyTrip = Gen.Select(Gen.Select(Gen.Int[0, 4], Gen.Int[1, 5], Gen.Int[1, 4]).Array[1, 5], Gen.Int[0, 2], Gen.Int[0, 5]).Select((stays, gray, school) =>
    {
        var stops = new List<Stop>();
        var day = 0;
        foreach (var (kind, nights, people) in stays)
        {
            if (kind == 4)
            {
                stops.Add(Stop($"s{stops.Count}", day, day, StopHookup.DumpStation, people));
                continue;
            }
            stops.Add(Stop($"s{stops.Count}", day, day + nights, (StopHookup)kind, people));
            day += nights;
        }
        // Stations of the same morning would overlap.
        List<Stop> apart = [.. stops.Where((s, i) => i == 0 || s.Arrive.ToInstant() >= stops[i - 1].Depart.ToInstant())];
        return Trip(new HouseRules { GrayAtFullHookup = (GrayAtFullHookup)gray, Treatment = (TreatmentSchool)school }, [.. apart]);
    });

    [Fact]
    public void No_plan_breaks_a_law()
    {
        AnyTrip.Sample(trip =>
        {
            var plan = Planner.Make(trip);
            var open = new Dictionary<string, bool>();
            var before = Instant.MinValue;
            foreach (var action in plan.Actions)
            {
                var stop = trip.Stops.First(s => s.Id == action.Stop);
                var at = action.At.ToInstant();
                at.ShouldBeGreaterThanOrEqualTo(before);
                before = at;
                at.ShouldBeInRange(stop.Arrive.ToInstant(), stop.Depart.ToInstant());
                SensibleHours.Holds(at, stop.Zone).ShouldBeTrue($"{action}");
                var sewer = stop.Hookup is StopHookup.Full or StopHookup.DumpStation || stop.DumpStation;
                var isBlack = trip.Rig.Find(action.Tank)?.Role == TankRole.Black;
                switch (action.Kind)
                {
                    case PlanActionKind.Dump when isBlack:
                        sewer.ShouldBeTrue($"{action}");
                        open.Values.ShouldNotContain(true, $"gray open at {action}");
                        var after = plan.Actions.Where(a => a.Stop == action.Stop && a.At.ToInstant() >= at && a.At.ToInstant() - at <= Duration.FromHours(3)).ToList();
                        after.ShouldContain(a => a.Kind == PlanActionKind.Flush && a.Tank == "black");
                        after.ShouldContain(a => a.Kind == PlanActionKind.StarterWater && a.Tank == "black");
                        if (trip.Rules.Treatment is not (TreatmentSchool.WaterOnly or TreatmentSchool.BoraxSoap)) after.ShouldContain(a => a.Kind == PlanActionKind.Dose && a.Tank == "black");
                        plan.Actions.ShouldNotContain(a => a.Kind == PlanActionKind.Dump && a.Tank == "gray" && a.Stop == action.Stop && a.At.ToInstant() <= at && at - a.At.ToInstant() < Duration.FromHours(3), "black goes first");
                        break;
                    case PlanActionKind.Dump:
                        (sewer || stop.Hookup == StopHookup.GrayDrain).ShouldBeTrue($"{action}");
                        break;
                    case PlanActionKind.OpenValve:
                        (stop.Hookup is StopHookup.Full or StopHookup.GrayDrain).ShouldBeTrue($"{action}");
                        isBlack.ShouldBeFalse();
                        open[action.Tank!] = true;
                        break;
                    case PlanActionKind.CloseValve:
                        open[action.Tank!] = false;
                        break;
                    case PlanActionKind.Divert:
                        (stop.Hookup is StopHookup.Dry or StopHookup.Partial).ShouldBeTrue();
                        action.ShareToBlack!.Value.ShouldBeInRange(0.01, 0.25);
                        break;
                }
                // Nothing stands open when the rig rolls.
                if (plan.Actions.LastOrDefault(a => a.Stop == action.Stop) == action) open.Values.ShouldNotContain(true, $"left open at {stop.Id}");
            }
            plan.Feasible.ShouldBe(plan.Totals.OverflowProbability <= trip.Rules.OverflowRisk);
            plan.Actions.ShouldNotContain(a => a.Kind == PlanActionKind.CutUse);
            foreach (var points in plan.Levels.Values)
                points.ShouldAllBe(p => p.Level.P05L >= 0 && p.Level.P05L <= p.Level.P50L && p.Level.P50L <= p.Level.P95L && double.IsFinite(p.Level.P95L));
        }, iter: 20);
    }

    [Fact]
    public void A_dry_stretch_before_a_site_is_made_to_hold_by_the_dish_water_and_black_waits_for_the_site()
    {
        var plan = Planner.Make(ThreeStops());

        plan.Feasible.ShouldBeTrue();
        plan.Actions.ShouldContain(a => a.Kind == PlanActionKind.Divert && a.Stop == "dry");
        plan.Actions.Where(a => a is { Kind: PlanActionKind.Dump, Tank: "black" }).ShouldAllBe(a => a.Stop == "site");
        plan.Actions.ShouldContain(a => a.Kind == PlanActionKind.Dump && a.Tank == "black" && a.At.Date == At(9, 0).Date, "a trip ends with an empty tank");
        plan.Actions.ShouldAllBe(a => a.Why.Length > 10);
    }

    [Fact]
    public void Where_nothing_holds_the_least_bad_is_given_with_what_would_mend_it()
    {
        var plan = Planner.Make(Trip(null, Stop("far", 0, 14, StopHookup.Dry, people: 5)));

        plan.Feasible.ShouldBeFalse();
        plan.Totals.OverflowProbability.ShouldBeGreaterThan(0.5);
        plan.Risks.Select(r => r.Tank).ShouldContain("gray");
        plan.Risks[0].Advice.ShouldNotBeEmpty();
    }

    [Fact]
    public void With_a_station_where_no_hose_fits_the_jug_is_filled_before_and_the_rinse_is_short()
    {
        var trip = Trip(null, Stop("water", 0, 2, StopHookup.GrayDrain), Stop("station", 2, 2, StopHookup.DumpStation), Stop("more", 2, 5, StopHookup.Dry));
        var plan = Planner.Make(trip with { Start = trip.Start with { Levels = new Dictionary<string, LevelBand> { ["black"] = new(85, 90, 95) } } });

        var dump = plan.Actions.First(a => a is { Kind: PlanActionKind.Dump, Tank: "black" });
        dump.Stop.ShouldBe("station");
        plan.Actions.ShouldContain(a => a.Kind == PlanActionKind.FillJug && a.Stop == "water" && a.At.ToInstant() < dump.At.ToInstant());
        var flush = plan.Actions.First(a => a.Kind == PlanActionKind.Flush);
        (flush.Method, flush.Cycles, flush.WaterL).ShouldBe((FlushMethod.Bucket, 1, 19));
    }

    // Every sequence of steps there is, without any of the search's shortcuts.
    private static PlanCost? TryingEverything(PlanGrid grid, PlanSearch search, int allowed)
    {
        PlanCost? best = null;
        void Go(int m, int black, int gray, PlanCost cost, ulong[] lost)
        {
            foreach (var step in m == grid.Moments.Count ? [search.Ended(black, gray)] : search.Steps(m, black, gray))
            {
                var union = LifeSet.Union(lost, step.Lost);
                if (LifeSet.Counted(union) > allowed) continue;
                var sum = cost + step.Cost;
                if (m < grid.Moments.Count) Go(m + 1, step.Black, step.Gray, sum, union);
                else if (best is not { } b || sum.CompareTo(b) < 0) best = sum;
            }
        }
        Go(0, -1, -1, PlanCost.None, LifeSet.None);
        return best;
    }

    [Fact]
    public void The_search_finds_what_trying_everything_finds()
    {
        var (found, hopeless) = (0, 0);
        Gen.Select(Gen.Int[0, 2], Gen.Int[1, 4], Gen.Int[1, 3], Gen.Int[1, 4], Gen.Double[0.02, 0.2]).Sample((gray, dry, full, people, risk) =>
        {
            var trip = Trip(new HouseRules { GrayAtFullHookup = (GrayAtFullHookup)gray, OverflowRisk = risk }, Stop("a", 0, dry, StopHookup.Dry, people), Stop("s", dry, dry, StopHookup.DumpStation), Stop("b", dry, dry + full, StopHookup.Full, people));
            var grid = new PlanGrid(trip, new Lives(trip), new double[3]);
            var allowed = (int)(risk * Lives.Count);
            var search = new PlanSearch(grid, allowed);
            var (quick, slow) = (search.Best(), TryingEverything(grid, search, allowed));
            (quick?.Cost).ShouldBe(slow);
            quick?.Proven.ShouldBeTrue();
            if (quick is null) hopeless++;
            else found++;
        }, iter: 60, threads: 1);
        found.ShouldBeGreaterThan(10);
        hopeless.ShouldBeGreaterThan(5);
    }

    [Fact]
    public void The_command_plans_the_example_and_refuses_what_it_cannot_read()
    {
        using var plan = JsonDocument.Parse(Commands.Plan(File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "examples", "trip.json")), pretty: false).Line);
        plan.RootElement.GetProperty("format").GetString().ShouldBe("tanksophos-plan");
        plan.RootElement.GetProperty("actions").GetArrayLength().ShouldBeGreaterThan(5);
        plan.RootElement.GetProperty("totals").GetProperty("overflowProbability").GetDouble().ShouldBeInRange(0, 1);
        Commands.Plan(Given.Utf8("""{ "format": "tanksophos-trip", "version": 1 }"""), pretty: false).Failed.ShouldBeTrue();
    }

    [Fact]
    public void The_same_trip_gives_the_same_plan() => PlanFormat.Write(Planner.Make(ThreeStops())).ShouldBe(PlanFormat.Write(Planner.Make(ThreeStops())));
}
