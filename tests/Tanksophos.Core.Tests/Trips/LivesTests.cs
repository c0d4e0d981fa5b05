using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;
using Tanksophos.Words;

namespace Tanksophos.Core.Tests.Trips;

public class LivesTests
{
    private static readonly DateTimeZone Zone = DateTimeZone.ForOffset(Offset.FromHours(-6));

    private static Trip Trip(StopHookup hookup, int people, int days = 20, LevelBand start = default)
    {
        var stop = new Stop("a", "a", Zone, Given.At(0), Given.At(days), hookup, people);
        return new Trip(Given.Rig(), HouseRules.Default,
            new TripStart(Given.At(0), new Dictionary<string, LevelBand> { ["black"] = start }, false, null, null), [stop]);
    }

    private static double[] Inflow(Trip trip, int tank, double divert = 0, bool open = false)
    {
        var sums = trip.Rig.Tanks.Select(_ => new double[DemandScenarios.Count]).ToArray();
        var stop = trip.Stops[0];
        new DemandScenarios(trip).Flow(sums, stop, stop.Arrive.ToInstant(), stop.Depart.ToInstant(), divert, t => open && t == tank);
        Array.Sort(sums[tank]);
        return sums[tank];
    }

    [Fact]
    public void The_middle_life_uses_what_the_median_household_does_and_the_spread_is_the_stated_one()
    {
        var black = Inflow(Trip(StopHookup.Full, 2), 0);

        black[DemandScenarios.Count / 2].ShouldBe(20 * 2 * 6.8, 15);
        Math.Log(black[(int)(0.841 * DemandScenarios.Count)] / black[DemandScenarios.Count / 2]).ShouldBe(0.45, 0.06);
    }

    [Fact]
    public void Twice_the_people_use_twice_as_much_and_storage_nothing()
    {
        Inflow(Trip(StopHookup.Dry, 4), 0)[100].ShouldBe(2 * Inflow(Trip(StopHookup.Dry, 2), 0)[100], 1e-6);
        Inflow(Trip(StopHookup.Storage, 2), 0).ShouldAllBe(x => x == 0);
        Inflow(Trip(StopHookup.Dry, 0), 0).ShouldAllBe(x => x == 0);
    }

    [Fact]
    public void What_is_diverted_goes_from_gray_to_black_and_nothing_is_lost()
    {
        var trip = Trip(StopHookup.Dry, 2);
        double Sum(double divert) => Inflow(trip, 0, divert).Sum() + Inflow(trip, 1, divert).Sum();

        Sum(0.25).ShouldBe(Sum(0), 1e-6 * Sum(0));
        Inflow(trip, 1, 0.25).Sum().ShouldBe(0.75 * Inflow(trip, 1).Sum(), 1e-6 * Sum(0));
        Inflow(trip, 1, open: true).ShouldAllBe(x => x == 0);
    }

    [Fact]
    public void The_start_is_spread_as_the_belief_says()
    {
        var start = new DemandScenarios(Trip(StopHookup.Dry, 2, start: new LevelBand(40, 60, 100))).Start[0].Order().ToArray();
        start[DemandScenarios.Count / 20].ShouldBe(40, 1);
        start[DemandScenarios.Count / 2].ShouldBe(60, 1);
        start[DemandScenarios.Count * 19 / 20].ShouldBe(100, 1);
    }

    [Fact]
    public void A_plan_is_written_with_all_lists_and_without_empty_values()
    {
        var trip = Trip(StopHookup.Full, 2, 6, new LevelBand(50, 60, 70));
        using var plan = JsonDocument.Parse(PlanFormat.Write(Planner.Make(trip), DocumentWords.English));
        var root = plan.RootElement;

        foreach (var name in (string[])["actions", "levels", "risks"]) root.GetProperty(name).ValueKind.ShouldBe(JsonValueKind.Array);
        root.GetProperty("levels").GetArrayLength().ShouldBe(2);
        root.GetRawText().ShouldNotContain("null");
        var dump = root.GetProperty("actions").EnumerateArray()
            .First(a => a.GetProperty("action").GetString() == "dump" && a.GetProperty("tank").GetString() == "black");
        dump.GetProperty("expectedL").GetDouble().ShouldBeGreaterThan(0);
        dump.GetProperty("at").GetString()!.ShouldEndWith("-06:00");
        root.GetProperty("totals").GetProperty("blackDumps").GetInt32()
            .ShouldBe(root.GetProperty("actions").EnumerateArray()
            .Count(a => a.GetProperty("action").GetString() == "dump" && a.GetProperty("tank").GetString() == "black"));
    }

    [Theory]
    [InlineData(TreatmentSchool.WaterOnly, false, 1)]
    [InlineData(TreatmentSchool.Enzyme, true, 1)]
    [InlineData(TreatmentSchool.Yeast, true, 1)]
    public void Doses_follow_the_school_and_double_in_heat(TreatmentSchool school, bool dosed, int times)
    {
        string? Amount(double high)
        {
            var trip = Trip(StopHookup.Full, 2, 6);
            trip = trip with { Rules = trip.Rules with { Treatment = school }, Stops = [trip.Stops[0] with { HighC = high }] };
            return Planner.Make(trip).Actions.FirstOrDefault(a => a.Kind == PlanActionKind.Dose)?.Amount;
        }
        (Amount(20) is not null).ShouldBe(dosed);
        if (!dosed) return;
        static double First(string amount) => double.Parse(amount.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture);
        First(Amount(33)!).ShouldBe(2 * times * First(Amount(20)!), 0.2);
    }
}
