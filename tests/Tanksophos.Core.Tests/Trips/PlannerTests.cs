using System.Text.Json;
using CsCheck;
using NodaTime;
using Tanksophos.Cli;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;
using Tanksophos.Words;

namespace Tanksophos.Core.Tests.Trips;

public class PlannerTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];
    private static readonly Rig Rig = Given.Rig() with { Equipment = new Equipment { FlushInlet = true, JugL = 19, HoseLengthM = 4.6 } };

    private static OffsetDateTime At(int day, int hour, int minute = 0) => (new LocalDate(2026, 6, 5).PlusDays(day) + new LocalTime(hour, minute))
        .InZoneLeniently(Zone).ToOffsetDateTime();

    private static Stop Stop(string id, int from, int to, StopHookup hookup, int people = 2) => hookup == StopHookup.DumpStation
        ? new(id, id, Zone, At(from, 11), At(from, 12), hookup, people) { RinseWater = RinseWater.Unthreaded, Busy = true, FeeMinor = 1000 }
        : new(id, id, Zone, At(from, 15), At(to, 10), hookup, people) { DriveHoursBefore = 2 };

    private static Trip Trip(HouseRules? rules, params Stop[] stops) =>
        new(Rig, rules ?? HouseRules.Default,
            new TripStart(At(0, 9), new Dictionary<string, LevelBand> { ["black"] = new(14, 16, 19), ["gray"] = new(0, 2, 5) }, false, 150, 0), stops);

    private static Trip ThreeStops(HouseRules? rules = null) => Trip(rules, Stop("dry", 0, 4, StopHookup.Dry), Stop("station", 4, 4, StopHookup.DumpStation),
        Stop("site", 4, 9, StopHookup.Full));

    private static readonly Gen<Trip> AnyTrip = Gen.Select(Gen.Select(Gen.Int[0, 4], Gen.Int[1, 5], Gen.Int[1, 4]).Array[1, 5], Gen.Int[0, 2], Gen.Int[0, 5])
        .Select((stays, gray, school) =>
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

    // The same with arrivals and departures at any hour of day and night, stays of one night, and zones that change.
    private static readonly Gen<Trip> OddHours = Gen.Select(Gen.Select(Gen.Int[0, 4], Gen.Int[0, 3], Gen.Int[1, 4]).Array[1, 5], Gen.Int[0, 23].Array[12],
            Gen.Int[0, 2], Gen.Bool)
        .Select((stays, hours, gray, east) =>
    {
        var stops = new List<Stop>();
        var (day, hour) = (0, 10);
        foreach (var ((kind, nights, people), i) in stays.Select((s, i) => (s, i)))
        {
            var zone = east && i % 2 == 1 ? DateTimeZoneProviders.Tzdb["America/New_York"] : Zone;
            OffsetDateTime There(int d, int h) => At(d, h).ToInstant().InZone(zone).ToOffsetDateTime();
            var arrive = Math.Max(hour + 1, hours[2 * i]);
            if (arrive > 23) (day, arrive) = (day + 1, hours[2 * i] % 12);
            var leave = kind == 4 ? arrive + 1 : hours[2 * i + 1];
            var last = kind == 4 ? day : day + nights;
            if (leave > 23 || last == day && leave <= arrive) (last, leave) = (last + 1, kind == 4 ? 0 : leave % 24);
            stops.Add(new Stop($"s{i}", $"s{i}", zone, There(day, arrive), There(last, leave), kind == 4 ? StopHookup.DumpStation : (StopHookup)kind, people)
            { DriveHoursBefore = 1 });
            (day, hour) = (last, leave);
        }
        return Trip(new HouseRules { GrayAtFullHookup = (GrayAtFullHookup)gray }, [.. stops]);
    });

    [Fact]
    public void No_plan_breaks_a_law() => AnyTrip.Sample(trip => KeepsTheLaws(trip, Planner.Make(trip)), iter: 20);

    [Fact]
    public void No_plan_breaks_a_law_whatever_the_hours() => OddHours.Sample(trip => KeepsTheLaws(trip, Planner.Make(trip)), iter: 300);

    private static string Told(Trip trip, Plan plan) => string.Join("; ", trip.Stops.Select(s => $"{s.Id} {s.Hookup} {s.Arrive} {s.Depart}")) + " | "
        + string.Join("; ", plan.Actions.Select(a => $"{a.At.ToString("dd'T'HH:mm", null)} {a.Kind} {a.Tank} {a.Why}"));

    private static void KeepsTheLaws(Trip trip, Plan plan)
    {
        var open = new Dictionary<string, bool>();
        var since = new Dictionary<string, PlanAction>();
        var before = Instant.MinValue;
        foreach (var action in plan.Actions)
        {
            var stop = trip.Stops.First(s => s.Id == action.Stop);
            var at = action.At.ToInstant();
            at.ShouldBeGreaterThanOrEqualTo(before);
            before = at;
            at.ShouldBeInRange(stop.Arrive.ToInstant(), stop.Depart.ToInstant());
            // A run that begins in time may end a little later; a stop that is all night leaves no choice.
            var (came, goes) = (stop.Arrive.ToInstant(), stop.Depart.ToInstant());
            var awake = Enumerable.Range(0, Math.Max(0, ((int)(goes - came).TotalMinutes - 60) / 15 + 1)) // an hour before it goes
                .Any(q => SensibleHours.Holds(came + Duration.FromMinutes(15 * q), stop.Zone));
            (!awake || SensibleHours.Holds(at, stop.Zone) || SensibleHours.Holds(at - Duration.FromHours(1), stop.Zone))
                .ShouldBeTrue($"{action.Kind} {action.At}: {Told(trip, plan)}");
            var sewer = stop.Hookup is StopHookup.Full or StopHookup.DumpStation || stop.DumpStation;
            var isBlack = trip.Rig.Find(action.Tank)?.Role == TankRole.Black;
            switch (action.Kind)
            {
                case PlanActionKind.Dump when isBlack:
                    sewer.ShouldBeTrue($"{action}");
                    open.Values.ShouldNotContain(true, $"gray open at {action}: {Told(trip, plan)}");
                    var after = plan.Actions.Where(a => a.Stop == action.Stop && a.At.ToInstant() >= at
                        && a.At.ToInstant() - at <= Duration.FromHours(3)).ToList();
                    after.ShouldContain(a => a.Kind == PlanActionKind.Flush && a.Tank == action.Tank);
                    after.ShouldContain(a => a.Kind == PlanActionKind.StarterWater && a.Tank == action.Tank);
                    if (trip.Rules.Treatment is not (TreatmentSchool.WaterOnly or TreatmentSchool.BoraxSoap))
                        after.ShouldContain(a => a.Kind == PlanActionKind.Dose && a.Tank == action.Tank);
                    plan.Actions.ShouldNotContain(a => a.Kind == PlanActionKind.Dump && a.Tank == "gray" && a.Stop == action.Stop && a.At.ToInstant() <= at
                        && at - a.At.ToInstant() < Duration.FromHours(3), $"black goes first: {Told(trip, plan)}");
                    break;
                case PlanActionKind.Dump:
                    (sewer || stop.Hookup == StopHookup.GrayDrain).ShouldBeTrue($"{action}");
                    break;
                case PlanActionKind.OpenValve:
                    (stop.Hookup is StopHookup.Full or StopHookup.GrayDrain).ShouldBeTrue($"{action}");
                    isBlack.ShouldBeFalse();
                    open[action.Tank!] = true;
                    since[action.Tank!] = action;
                    break;
                case PlanActionKind.CloseValve:
                    open[action.Tank!] = false;
                    // A valve is moved for hours or not at all.
                    if (stop.Hookup == StopHookup.Full && since.Remove(action.Tank!, out var opened) && opened.Why != PlanWhy.TooManyDumps)
                        (at - opened.At.ToInstant()).ShouldBeGreaterThanOrEqualTo(Duration.FromHours(4), Told(trip, plan));
                    break;
                case PlanActionKind.Divert:
                    (stop.Hookup is StopHookup.Dry or StopHookup.Partial).ShouldBeTrue();
                    action.ShareToBlack!.Value.ShouldBeInRange(0.01, 0.25);
                    break;
            }
            // Nothing stands open when the rig rolls.
            if (plan.Actions.LastOrDefault(a => a.Stop == action.Stop) == action)
                open.Values.ShouldNotContain(true, $"left open at {stop.Id}: {Told(trip, plan)}");
        }
        plan.Feasible.ShouldBe(plan.Totals.OverflowProbability <= trip.Rules.OverflowRisk
            && plan.Totals.BlackOverflowProbability <= trip.Rules.BlackOverflowRisk);
        plan.Actions.ShouldNotContain(a => a.Kind == PlanActionKind.CutUse);
        foreach (var points in plan.Levels.Values)
            points.ShouldAllBe(p => p.Level.P05L >= 0 && p.Level.P05L <= p.Level.P50L && p.Level.P50L <= p.Level.P95L && double.IsFinite(p.Level.P95L));
    }

    // The main bath and a small half bath that is used little.
    private static Rig TwoBlacks => Rig with
    {
        Tanks = [Rig.Tanks[0] with { UsageShare = 0.85 }, new Tank("half-bath", "Half bath", TankRole.Black, 110) { UsageShare = 0.15 }, Rig.Tanks[1]],
    };

    [Fact]
    public void No_plan_breaks_a_law_with_two_blacks() => AnyTrip.Sample(trip =>
    {
        var two = trip with { Rig = TwoBlacks };
        KeepsTheLaws(two, Planner.Make(two));
    }, iter: 15);

    [Fact]
    public void Two_blacks_go_each_at_its_own_pace()
    {
        var trip = Trip(null, Stop("one", 0, 2, StopHookup.Partial), Stop("site", 2, 12, StopHookup.Full), Stop("two", 12, 14, StopHookup.Partial),
            Stop("home", 14, 20, StopHookup.Full)) with
        { Rig = TwoBlacks };
        var plan = Planner.Make(trip with { Rules = HouseRules.Default with { MaxDays = 25 } });

        int Dumps(string tank) => plan.Actions.Count(a => a.Kind == PlanActionKind.Dump && a.Tank == tank);
        Dumps("black").ShouldBeGreaterThan(Dumps("half-bath"));
        Dumps("half-bath").ShouldBeGreaterThan(0);
        // What is left for later gets nothing that belongs to a dump.
        foreach (var dose in plan.Actions.Where(a => a.Kind is PlanActionKind.StarterWater or PlanActionKind.Flush && a.Tank == "half-bath"))
            plan.Actions.ShouldContain(a => a.Kind == PlanActionKind.Dump && a.Tank == "half-bath" && a.Stop == dose.Stop);
        // Each is topped up by what it lacks itself.
        foreach (var top in plan.Actions.Where(a => a.Kind == PlanActionKind.TopUp))
        {
            var dump = plan.Actions.First(a => a.Kind == PlanActionKind.Dump && a.Tank == top.Tank && a.At.ToInstant() > top.At.ToInstant());
            dump.ExpectedL!.Value.ShouldBeLessThanOrEqualTo(trip.Rig.Find(top.Tank)!.CapacityL);
        }
    }

    // A week at a sewer with black a good half full when the rig leaves, then a few days without one, then a sewer again.
    [Fact]
    public void Black_below_its_level_is_topped_up_or_carried_on_as_the_house_wants()
    {
        Plan With(LeavingLowRule rule) => Planner.Make(Trip(HouseRules.Default with { LeavingLow = rule, MaxDays = 20 }, Stop("one", 0, 2, StopHookup.Full),
            Stop("two", 2, 4, StopHookup.Full), Stop("three", 4, 7, StopHookup.Full)));
        bool Leaves(Plan plan) => plan.Actions.Any(a => a is { Kind: PlanActionKind.Dump, Tank: "black", Stop: "one" });
        var (light, carried) = (With(LeavingLowRule.TopUp), With(LeavingLowRule.CarryOn));
        Leaves(light).ShouldBeTrue();
        Leaves(carried).ShouldBeFalse();
        carried.Feasible.ShouldBeTrue();
        var trip = Trip(null, Stop("one", 0, 2, StopHookup.Full), Stop("two", 2, 4, StopHookup.Full), Stop("three", 4, 7, StopHookup.Full));
        CarriedOn.Of(trip, carried)[0].ShouldSatisfyAllConditions(c => c.Stop.ShouldBe("one"),
            c => c.Litres.ShouldBeInRange(0.25 * Given.BlackL, Given.BlackL));
        CarriedOn.Of(trip, light).ShouldNotContain(c => c.Stop == "one");
    }

    [Fact]
    public void A_station_is_used_in_its_hours_or_not_at_all()
    {
        var early = Stop("station", 4, 4, StopHookup.DumpStation) with { Opens = new LocalTime(11, 30), Closes = new LocalTime(17, 0) };
        var trip = Trip(null, Stop("dry", 0, 4, StopHookup.Dry, people: 4), early, Stop("more", 4, 8, StopHookup.Dry, people: 4));
        var plan = Planner.Make(trip);
        plan.Actions.Where(a => a.Kind == PlanActionKind.Dump && a.Stop == "station").ShouldNotBeEmpty();
        plan.Actions.Where(a => a.Kind == PlanActionKind.Dump && a.Stop == "station").ShouldAllBe(a => a.At.Hour * 60 + a.At.Minute >= 11 * 60 + 30);

        var shut = trip with { Stops = [trip.Stops[0], early with { Opens = new LocalTime(14, 0) }, trip.Stops[2]] };
        shut.Stops[1].IsClosed.ShouldBeTrue();
        Planner.Make(shut).Actions.ShouldNotContain(a => a.Stop == "station");
        // The document keeps the hours; a wrong one is named.
        var read = TripFormat.Read(TripFormat.Write(shut));
        read.Value!.Stops[1].Opens.ShouldBe(new LocalTime(14, 0));
        var text = System.Text.Encoding.UTF8.GetString(TripFormat.Write(shut)).Replace("\"17:00\"", "\"25:00\"", StringComparison.Ordinal);
        TripFormat.Read(System.Text.Encoding.UTF8.GetBytes(text)).Errors.ShouldContain(e => e.Path == "stops[1].closes");
    }

    [Fact]
    public void A_dry_stretch_before_a_site_is_made_to_hold_by_the_dish_water_and_black_waits_for_the_site()
    {
        var plan = Planner.Make(ThreeStops());

        plan.Feasible.ShouldBeTrue();
        plan.Actions.ShouldContain(a => a.Kind == PlanActionKind.Divert && a.Stop == "dry");
        plan.Actions.Where(a => a is { Kind: PlanActionKind.Dump, Tank: "black" }).ShouldAllBe(a => a.Stop == "site");
        plan.Actions.ShouldContain(a => a.Kind == PlanActionKind.Dump && a.Tank == "black" && a.At.Date == At(9, 0).Date, "a trip ends with an empty tank");
        plan.Actions.ShouldAllBe(a => a.Why != null);
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
    private static PlanCost? TryingEverything(PlanGrid grid, PlanSearch search, AllowedLives allowed)
    {
        PlanCost? best = null;
        void Go(int m, int black, int gray, PlanCost cost, ulong[] lost, ulong[] blackLost)
        {
            foreach (var step in m == grid.Moments.Count ? [search.Ended(black, gray)] : search.Steps(m, black, gray))
            {
                var (union, blacks) = (LifeSet.Union(lost, step.Lost), LifeSet.Union(blackLost, step.BlackLost));
                if (allowed.IsBeyond(union, blacks)) continue;
                var sum = cost + step.Cost;
                if (m < grid.Moments.Count) Go(m + 1, step.Black, step.Gray, sum, union, blacks);
                else if (best is not { } b || sum.CompareTo(b) < 0) best = sum;
            }
        }
        Go(0, -1, -1, PlanCost.None, LifeSet.None, LifeSet.None);
        return best;
    }

    [Fact]
    public void The_search_finds_what_trying_everything_finds()
    {
        var (found, hopeless) = (0, 0);
        Gen.Select(Gen.Int[0, 2], Gen.Int[1, 4], Gen.Int[1, 3], Gen.Int[1, 4], Gen.Double[0.02, 0.2]).Sample((gray, dry, full, people, risk) =>
        {
            var trip = Trip(new HouseRules { GrayAtFullHookup = (GrayAtFullHookup)gray, OverflowRisk = risk }, Stop("a", 0, dry, StopHookup.Dry, people),
                Stop("s", dry, dry, StopHookup.DumpStation), Stop("b", dry, dry + full, StopHookup.Full, people));
            var grid = new PlanGrid(trip, new DemandScenarios(trip), new double[3]);
            var allowed = AllowedLives.Of(trip.Rules);
            var search = new PlanSearch(grid, allowed);
            var (quick, slow) = (search.Best(), TryingEverything(grid, search, allowed));
            (quick?.Cost).ShouldBe(slow);
            quick?.Proven.ShouldBeTrue();
            if (quick is null) hopeless++;
            else found++;
        }, iter: 200, threads: 1);
        found.ShouldBeGreaterThan(10);
        hopeless.ShouldBeGreaterThan(5);
    }

    [Fact]
    public void Black_is_within_its_own_rule_or_the_plan_does_not_hold_and_black_is_given_up_last()
    {
        var (held, broken) = (0, 0);
        AnyTrip.Sample(trip =>
        {
            var plan = Planner.Make(trip);
            if (plan.Feasible)
            {
                held++;
                plan.Totals.BlackOverflowProbability.ShouldBeLessThanOrEqualTo(trip.Rules.BlackOverflowRisk);
                return;
            }
            broken++;
            var alone = Planner.Make(trip with { Rules = trip.Rules with { OverflowRisk = 1 } });
            if (alone.Feasible) plan.Totals.BlackOverflowProbability.ShouldBeLessThanOrEqualTo(0.06, "black can be kept, whatever becomes of gray");
        }, iter: 60, threads: 1);
        held.ShouldBeGreaterThan(10);
        broken.ShouldBeGreaterThan(3);
    }

    [Fact]
    public void A_wish_is_kept_and_planned_around()
    {
        var trip = ThreeStops();
        var at = Planner.Make(trip).Actions.First(a => a is { Kind: PlanActionKind.Dump, Tank: "black" });
        var plan = Planner.Make(trip with { Wishes = [new TripWish("site", TankRole.Black, DumpWish.NotHere)] });
        plan.Actions.ShouldNotContain(a => a.Kind == PlanActionKind.Dump && a.Tank == "black" && a.Stop == "site");
        at.Stop.ShouldBe("site");

        plan = Planner.Make(trip with { Wishes = [new TripWish("station", TankRole.Black, DumpWish.Here)] });
        plan.Actions.ShouldContain(a => a.Kind == PlanActionKind.Dump && a.Tank == "black" && a.Stop == "station");

        plan = Planner.Make(trip with
        {
            Wishes = [new TripWish("station", TankRole.Gray, DumpWish.NotHere),
            new TripWish("station", TankRole.Black, DumpWish.NotHere)]
        });
        plan.Actions.ShouldNotContain(a => a.Kind == PlanActionKind.Dump && a.Stop == "station");
    }

    [Fact]
    public void Gray_that_would_want_more_than_two_batches_a_day_stands_open_and_says_why()
    {
        var trip = Trip(new HouseRules { GrayAtFullHookup = GrayAtFullHookup.Batch }, Stop("site", 0, 4, StopHookup.Full, people: 7));
        Planner.Make(trip).Actions.First(a => a.Kind == PlanActionKind.OpenValve).Why.ShouldBe(PlanWhy.TooManyDumps);
        Planner.Make(Trip(new HouseRules { GrayAtFullHookup = GrayAtFullHookup.Batch }, Stop("site", 0, 4, StopHookup.Full))).Actions.ShouldNotContain(a =>
            a.Kind == PlanActionKind.OpenValve);
    }

    [Fact]
    public void Heat_doubles_the_dose_of_the_fill_it_falls_into()
    {
        var trip = Trip(new HouseRules { BlackOverflowRisk = 0.05 }, Stop("a", 0, 2, StopHookup.Full), Stop("b", 2, 5, StopHookup.Dry) with { HighC = 33 },
            Stop("c", 5, 8, StopHookup.Full));
        var doses = Planner.Make(trip with
        {
            Start =
            trip.Start with { Levels = new Dictionary<string, LevelBand> { ["black"] = new(85, 90, 95) } }
        }).Actions.Where(a =>
            a.Kind == PlanActionKind.Dose).ToList();
        doses.First(d => d.Stop == "a").Amount.ShouldBe("2 cups");
        doses.Last(d => d.Stop == "c").Amount.ShouldBe("1 cup");
    }

    [Fact]
    public void Before_days_without_water_half_as_much_again_covers_the_bottom_where_there_is_room()
    {
        var trip = Trip(null, Stop("a", 0, 2, StopHookup.Full), Stop("b", 2, 5, StopHookup.Dry), Stop("c", 5, 8, StopHookup.Full));
        var plan = Planner.Make(trip with
        {
            Rig = Known,
            Start = trip.Start with { Levels = new Dictionary<string, LevelBand> { ["black"] = new(95, 99, 103) } }
        });
        var waters = plan.Actions.Where(a => a.Kind == PlanActionKind.StarterWater).ToList();
        waters.First(w => w.Stop == "a").WaterL!.Value.ShouldBe(1.5 * waters.Last().WaterL!.Value, 0.2);
    }

    private static Rig Known => Rig with { Usage = new Usage(Usage.Default.Black with { LogSd = 0.1 }, Usage.Default.Gray with { LogSd = 0.1 }) };

    [Fact]
    public void Travel_scrubs_go_in_before_drives_to_a_dump_as_house_and_course_want_it()
    {
        // Long drives to sewers, a dump at each.
        var trip = Trip(null, Stop("a", 0, 8, StopHookup.Dry, 1), Stop("b", 8, 9, StopHookup.Full), Stop("c", 9, 17, StopHookup.Dry, 1),
            Stop("d", 17, 18, StopHookup.Full)) with
        { Rig = Known, Wishes = [new TripWish("b", TankRole.Black, DumpWish.Here)] };
        int Scrubs(HouseRules rules, int due = 0) =>
            Planner.Make(trip with { Rules = rules, ScrubsDue = due }).Actions.Count(a => a.Kind == PlanActionKind.ScrubBeforeDrive);
        var usual = Planner.Make(trip with { ScrubsDue = 4 });
        foreach (var scrub in usual.Actions.Where(a => a.Kind == PlanActionKind.ScrubBeforeDrive))
            usual.Actions.ShouldContain(a => a.Kind == PlanActionKind.Dump && a.Tank == "black" && a.At.ToInstant() > scrub.At.ToInstant()
                && a.At.ToInstant() - scrub.At.ToInstant() < Duration.FromHours(12), "the drive ends at a dump");
        Scrubs(HouseRules.Default, due: 4).ShouldBeGreaterThanOrEqualTo(Scrubs(HouseRules.Default));
        Scrubs(HouseRules.Default with { DeepClean = DeepCleanRule.EachFewTrips }).ShouldBe(0);
        Scrubs(HouseRules.Default with { DeepClean = DeepCleanRule.BySigns }).ShouldBe(0);
        Scrubs(HouseRules.Default with { Treatment = TreatmentSchool.WaterOnly }).ShouldBe(0);
    }

    [Fact]
    public void Before_storage_the_starter_water_says_what_the_house_wants_of_it()
    {
        PlanWhy? Why(HouseRules rules, double high = 20) =>
            Planner.Make(Trip(rules, Stop("site", 0, 4, StopHookup.Full), Stop("shed", 4, 20, StopHookup.Storage, 0) with { HighC = high })).Actions.Last(a =>
            a.Kind == PlanActionKind.StarterWater).Why;
        Why(HouseRules.Default).ShouldBe(PlanWhy.StoredTreated);
        Why(new HouseRules { Storage = StorageRule.FullFresh }).ShouldBe(PlanWhy.StoredFull);
        Why(new HouseRules { Storage = StorageRule.Dry }).ShouldBe(PlanWhy.StoredDry);
        Why(HouseRules.Default, high: -4).ShouldBe(PlanWhy.FrostInStorage);
    }

    [Fact]
    public void The_last_flush_of_a_trip_is_longer_than_one_while_staying()
    {
        var plan = Planner.Make(Trip(new HouseRules { MaxDays = 4 },
            Stop("site", 0, 12, StopHookup.Full, 3)) with
        { Rig = Known with { Equipment = new Equipment { FlushInlet = true } } });
        var cycles = plan.Actions.Where(a => a.Kind == PlanActionKind.Flush).Select(a => a.Cycles!.Value).ToList();
        cycles.Count.ShouldBeGreaterThan(1);
        cycles[0].ShouldBe(3, "what most tanks take until they are clear");
        cycles[^1].ShouldBe(4, "two clear ends in a row");
    }

    [Fact]
    public void Plan_and_run_rinse_with_the_same_figures()
    {
        var rig = Known with { Equipment = new Equipment { FlushInlet = true, FlushInletLPerMin = 7 }, Rules = new HouseRules { MaxDays = 4 } };
        var flush = Planner.Make(Trip(rig.Rules, Stop("site", 0, 12, StopHookup.Full, 3)) with { Rig = rig, RinsesToClear = 4.2 }).Actions.First(a =>
            a.Kind == PlanActionKind.Flush);
        var black = rig.Tanks[0];
        var script = RunBuilder.Offer(new RunSetting
        {
            Rig = rig,
            Place = RunPlace.Sewer,
            FlowLPerMin = 7,
            Tanks = [.. rig.Tanks.Select(t => new RunTank(t, new LevelBand(90, 95, 100), new LevelBand(0, 1, 3), false) { Cycles = t == black
                ? new CyclesToClear([4.2, 3, 2, 2, 1, 1, 1], 5) : null })],
        }, RunForm.Full).Script!;
        flush.Cycles.ShouldBe(script.ExpectedRinses(script.Rinses[0]));
        flush.Cycles.ShouldBe(4);
        flush.WaterL!.Value.ShouldBe(4 * script.Rinses[0].PerCycleL, 0.2);
    }

    [Theory]
    [InlineData(23, 0, false)]
    [InlineData(10, 0, true)]
    public void At_a_station_passed_by_night_nothing_is_planned(int hour, int minute, bool planned)
    {
        var station = new Stop("s", "s", Zone, At(2, hour, minute), At(2, hour, minute).Plus(Duration.FromMinutes(50)), StopHookup.DumpStation, 2);
        var trip = Trip(null, Stop("a", 0, 2, StopHookup.Dry), station);
        trip = trip with { Wishes = planned ? [new TripWish("s", TankRole.Black, DumpWish.Here)] : [] };
        var plan = Planner.Make(trip with { Start = trip.Start with { Levels = new Dictionary<string, LevelBand> { ["black"] = new(90, 95, 100) } } });
        plan.Actions.Any(a => a.Stop == "s").ShouldBe(planned);
        plan.Actions.ShouldAllBe(a => SensibleHours.Holds(a.At.ToInstant(), Zone));
    }

    [Theory]
    [InlineData(6, 30, 0)]
    [InlineData(7, 40, 1)]
    [InlineData(11, 0, 1)]
    public void A_places_own_station_is_used_in_the_last_hour_of_the_stay(int hour, int minute, int dumps)
    {
        var stop = new Stop("p", "p", Zone, At(0, 15), At(3, hour, minute), StopHookup.Partial, 2) { DumpStation = true };
        var plan = Planner.Make(Trip(null, stop, Stop("d", 3, 6, StopHookup.Dry)) with { Wishes = [] });
        var black = plan.Actions.Where(a => a is { Kind: PlanActionKind.Dump, Tank: "gray", Stop: "p" }).ToList();
        black.Count.ShouldBe(dumps);
        black.ShouldAllBe(a => At(3, hour, minute).ToInstant() - a.At.ToInstant() <= Duration.FromHours(1));
    }

    [Theory]
    [InlineData(TankRole.Black)]
    [InlineData(TankRole.Gray)]
    public void A_rig_with_tanks_of_one_kind_alone_is_planned_too(TankRole only)
    {
        var trip = ThreeStops() with { Rig = Rig with { Tanks = [.. Rig.Tanks.Where(t => t.Role == only)] } };
        trip = trip with { Start = trip.Start with { Levels = new Dictionary<string, LevelBand>() } };
        var plan = Planner.Make(trip);
        plan.Actions.ShouldContain(a => a.Kind == PlanActionKind.Dump || a.Kind == PlanActionKind.OpenValve);
        plan.Actions.ShouldNotContain(a => a.Kind == PlanActionKind.Divert);
        DryStay.Compute(trip, plan).ShouldHaveSingleItem().BestShare.ShouldBe(0);
        PlanFormat.Write(plan, DocumentWords.English).Length.ShouldBeGreaterThan(100);
    }

    [Fact]
    public void Costs_compare_term_by_term_and_add_up()
    {
        PlanCost[] order = [PlanCost.Waiting(9), PlanCost.Money(3, 0), PlanCost.Distance(0.2), PlanCost.Dumps(1), PlanCost.GrayShort(0.2),
            PlanCost.CarriedHome, PlanCost.Late(0.1), PlanCost.Away(1), PlanCost.Low(1)];
        for (var i = 1; i < order.Length; i++)
        {
            order[i].CompareTo(order[i - 1]).ShouldBePositive();
            // However much of a lesser term there is in the longest trip, it does not reach the next.
            var many = PlanCost.None;
            for (var n = 0; n < 400; n++) many += order[i - 1];
            if (order[i - 1] != PlanCost.CarriedHome) order[i].CompareTo(many).ShouldBePositive($"term {i}");
        }
        (PlanCost.Dumps(2) + PlanCost.Dumps(3)).ShouldBe(PlanCost.Dumps(5));
        (PlanCost.Impossible + PlanCost.Low(1)).ShouldBe(PlanCost.Impossible);
        (PlanCost.Dumps(1) + PlanCost.Waiting(5)).ThroughDumps.ShouldBe((PlanCost.Dumps(1) + PlanCost.Money(7, 1)).ThroughDumps);
    }

    [Fact]
    public void A_rank_among_lives_is_what_sorting_gives() =>
        Gen.Double[-5, 5].Array[1, 300].Select(Gen.Int[0, 299]).Sample((values, at) =>
        {
            var rank = at % values.Length;
            DemandScenarios.Ranked([.. values], rank).ShouldBe(values.Order().ElementAt(rank));
        });

    [Fact]
    public void The_command_plans_the_example_and_refuses_what_it_cannot_read()
    {
        using var plan = JsonDocument.Parse(Commands.Plan(File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "examples", "trip.json")),
            pretty: false).Line);
        plan.RootElement.GetProperty("format").GetString().ShouldBe("tanksophos-plan");
        plan.RootElement.GetProperty("actions").GetArrayLength().ShouldBeGreaterThan(5);
        plan.RootElement.GetProperty("totals").GetProperty("overflowProbability").GetDouble().ShouldBeInRange(0, 1);
        Commands.Plan(Given.Utf8("""{ "format": "tanksophos-trip", "version": 1 }"""), pretty: false).Failed.ShouldBeTrue();
    }

    [Fact]
    public void The_same_trip_gives_the_same_plan() => PlanFormat.Write(Planner.Make(ThreeStops()), DocumentWords.English)
        .ShouldBe(PlanFormat.Write(Planner.Make(ThreeStops()), DocumentWords.English));
}
