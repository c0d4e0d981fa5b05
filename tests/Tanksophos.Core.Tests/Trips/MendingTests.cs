using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Tests.Trips;

/// <summary>What is said to mend a plan does mend it, when it is done.</summary>
public class MendingTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];
    private static readonly Rig Rig = Given.Rig() with
    {
        Usage = new Usage(Usage.Default.Black with { LogSd = 0.2 }, Usage.Default.Gray with { LogSd = 0.2 }),
        FreshCapacityL = 200
    };

    private static OffsetDateTime At(int day, int hour, int minute = 0) => (new LocalDate(2026, 6, 5).PlusDays(day) + new LocalTime(hour, minute))
        .InZoneLeniently(Zone).ToOffsetDateTime();

    private static Stop Dry(int nights) => new("dry", "Dry place", Zone, At(0, 15), At(nights, 10), StopHookup.Dry, 2);

    private static Trip Trip(params Stop[] stops) =>
        new(Rig, HouseRules.Default, new TripStart(At(0, 14), new Dictionary<string, LevelBand> { ["black"] = new(14, 16, 18), ["gray"] = new(0, 2, 4) },
        false, 150, 0), stops);

    private static Stop Site(int from, int to) => new("site", "Site", Zone, At(from, 14), At(to, 10), StopHookup.Full, 2) { DriveHoursBefore = 2 };

    private static Trip TooLong => Trip(Dry(10), Site(10, 12));

    [Fact]
    public void A_plan_that_does_not_hold_says_where_it_breaks_and_ranks_what_mends_it()
    {
        var plan = Planner.Make(TooLong);
        plan.Feasible.ShouldBeFalse();
        plan.Totals.OverflowProbability.ShouldBeGreaterThan(0.2);
        plan.Actions.ShouldNotContain(a => a.Kind == PlanActionKind.CutUse);
        plan.Risks.ShouldAllBe(r => r.Advice.Count > 0, "each says what would help");
        var risk = plan.Risks.First(r => r.Tank == "gray");
        risk.At.ToInstant().ShouldBeInRange(At(7, 0).ToInstant(), At(10, 10).ToInstant());
        var left = risk.Mends.Select(m => m.RiskLeft).ToList();
        left.ShouldAllBe(l => l < risk.Probability);
        risk.Mends.Select(m => m.Advice).ShouldContain(PlanAdvice.AddStation);
        risk.Mends.Select(m => m.Advice).ShouldContain(PlanAdvice.CutUse);
        // What keeps the rule stands before what does not.
        var within = risk.Mends.Select(m => m.RiskLeft <= 0.05).ToList();
        within.ShouldBe(within.OrderByDescending(w => w));
        risk.Advice.ShouldBe(risk.Mends.Select(m => m.Advice).Distinct());
    }

    [Fact]
    public void Leaving_as_much_earlier_as_it_says_makes_the_plan_hold()
    {
        var plan = Planner.Make(TooLong);
        var days = plan.Risks.SelectMany(r => r.Mends).Where(m => m.Advice is PlanAdvice.ShortenStay or PlanAdvice.LeaveEarlier && m.RiskLeft <= 0.05)
            .Max(m => m.Days!.Value);
        Planner.Make(Trip(Dry(10 - days), Site(10 - days, 12))).Totals.OverflowProbability.ShouldBeLessThan(0.08);
        Planner.Make(Trip(Dry(10 - days + 2), Site(10 - days + 2, 12))).Feasible.ShouldBeFalse("two days less than that are not enough");
    }

    [Fact]
    public void Using_as_little_as_it_says_makes_the_plan_hold()
    {
        var cut = Planner.Make(TooLong).Risks.SelectMany(r => r.Mends).Where(m => m.Advice == PlanAdvice.CutUse).Min(m => m.ToFraction!.Value);
        cut.ShouldBeInRange(0.3, 0.95);
        RoleUsage Less(RoleUsage u) => u with { DryLPerPersonDay = cut * u.DryLPerPersonDay };
        var trip = TooLong;
        Planner.Make(trip with
        {
            Rig = trip.Rig with
            {
                Usage = new Usage(Less(Rig.Usage!.Black),
            Less(Rig.Usage.Gray))
            }
        }).Totals.OverflowProbability.ShouldBeLessThan(0.08);
    }

    [Fact]
    public void A_station_on_the_day_it_says_makes_the_plan_hold()
    {
        var at = Planner.Make(TooLong).Risks.SelectMany(r => r.Mends).First(m => m.Advice == PlanAdvice.AddStation).At!.Value;
        var day = Period.DaysBetween(new LocalDate(2026, 6, 5), at.Date);
        Planner.Make(Trip(Dry(day), new Stop("station", "Station", Zone, At(day, 11), At(day, 12), StopHookup.DumpStation, 2) { DriveHoursBefore = 0.5 },
            new Stop("dry2", "Dry place", Zone, At(day, 13), At(10, 10), StopHookup.Dry, 2), Site(10, 12))).Feasible.ShouldBeTrue();
    }

    [Fact]
    public void Around_a_stretch_that_cannot_be_kept_the_plan_stays_sensible()
    {
        var plan = Planner.Make(Trip(Dry(12), Site(12, 20)));
        plan.Feasible.ShouldBeFalse();
        plan.Actions.Count(a => a is { Kind: PlanActionKind.Dump, Tank: "black" }).ShouldBeLessThanOrEqualTo(3);
        plan.Actions.Where(a => a is { Kind: PlanActionKind.Dump, Tank: "gray" }).Min(a => a.At.ToInstant())
            .ShouldBeLessThan(At(12, 16).ToInstant(), "as soon as there is a sewer");
    }

    [Fact]
    public void A_dry_stay_tells_the_days_the_share_that_fills_both_and_the_end_of_the_water()
    {
        var trip = Trip(Dry(5), Site(5, 7));
        var stay = DryStay.Compute(trip, Planner.Make(trip)).ShouldHaveSingleItem();
        var gray = stay.Tanks.Single(t => t.Tank == "gray");
        gray.Expected!.Value.ShouldBe((189.3 - 2) / 24, 1);
        gray.Cautious!.Value.ShouldBeLessThan(gray.Expected.Value);
        stay.BestShare.ShouldBeInRange(0.02, 0.25);
        stay.WithBestShare!.Value.ShouldBeGreaterThan(stay.AsPlanned!.Value);
        stay.WithThrift!.Value.ShouldBe(stay.AsPlanned.Value / 0.75, 0.5);
        stay.FreshDays!.Value.ShouldBe(150 / (2 * (3.8 + 12)), 0.2);

        // At the best share no other share lasts longer: black has become the first to fill, or gray is no longer far before it.
        var black = stay.Tanks.Single(t => t.Tank == "black");
        black.Cautious!.Value.ShouldBeGreaterThan(gray.Cautious.Value, "gray fills first without it");
        DryStay.Compute(Trip(Site(0, 3) with { Arrive = At(0, 14) }), Planner.Make(Trip(Site(0, 3)))).ShouldBeEmpty();
    }

    [Fact]
    public void After_a_place_with_water_the_fresh_tank_is_full_again()
    {
        var trip = Trip(Site(0, 2), Dry(9) with { Arrive = At(2, 15) });
        var dry = DryStay.Compute(trip, Planner.Make(trip)).ShouldHaveSingleItem();
        dry.FreshDays!.Value.ShouldBe(200 / (2 * (3.8 + 12)), 0.2);
        dry.FreshFirst.ShouldBe(dry.FreshDays < dry.Stay && !(dry.AsPlanned < dry.FreshDays));
        (dry with { FreshDays = dry.Stay + 1 }).FreshFirst.ShouldBeFalse("it lasts");
        (dry with { FreshDays = dry.Stay - 1, AsPlanned = dry.Stay - 2 }).FreshFirst.ShouldBeFalse("a tank is full before");
        (dry with { FreshDays = dry.Stay - 1, AsPlanned = null }).FreshFirst.ShouldBeTrue();
    }
}
