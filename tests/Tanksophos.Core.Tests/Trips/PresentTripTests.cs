using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Tests.Trips;

public class PresentTripTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];

    private static Itinerary From(OffsetDateTime now, int days) =>
        new Itinerary("x", []).Add(Itinerary.UsualStop("a", "First", Zone, now.ToInstant().InZone(Zone).Date.PlusDays(days), 3, StopHookup.Dry, 2), 0);

    private static LevelBelief Belief(Rig rig, OffsetDateTime now, params LogEntry[] entries) => new JointEstimator().Estimate(new Logbook(rig, entries, now));

    [Fact]
    public void Before_the_first_stop_the_rig_stands_where_the_log_says()
    {
        var rig = Given.Rig();
        var now = Given.At(4);
        var belief = Belief(rig, now, new StayEntry { At = Given.At(0), Place = "Home", Hookup = Hookup.Full, Zone = Zone }, Given.Dump(Given.At(1)),
            new ValveEntry { At = Given.At(1, 1), Tank = "gray", State = ValveState.Open });
        var trip = PresentTrip.Build(From(now, 3), rig, belief, 120)!;

        trip.Stops.Select(s => s.Name).ShouldBe(["Home", "First"]);
        trip.Stops[0].Id.ShouldBe(PresentTrip.Here);
        trip.Stops[0].Depart.ToInstant().ShouldBe(trip.Stops[1].Arrive.ToInstant() - Duration.FromHours(Itinerary.UsualDriveHours));
        trip.Start.GrayOpen.ShouldBeTrue();
        trip.Start.FreshL.ShouldBe(120);
        trip.Start.DaysSinceBlackDump!.Value.ShouldBe(3, 0.01);
        trip.Start.Levels["black"].P50L.ShouldBe(belief["black"].Level.P50L, 0.001);
        Planner.Make(trip).Actions.ShouldAllBe(a => a.At.ToInstant() >= now.ToInstant());
    }

    [Fact]
    public void A_stop_under_way_stands_for_itself_and_one_that_is_over_falls_away()
    {
        var rig = Given.Rig();
        var itinerary = From(Given.At(0), 0).Add(Itinerary.UsualStop("b", "Second", Zone, default, 2, StopHookup.Full, 2), 1);
        PresentTrip.Build(itinerary, rig, Belief(rig, Given.At(1), Given.Dump(Given.At(0))))!.Stops.Select(s => s.Id).ShouldBe(["a", "b"]);
        PresentTrip.Build(itinerary, rig, Belief(rig, Given.At(4), Given.Dump(Given.At(0))))!.Stops.Select(s => s.Id).ShouldBe(["b"]);
        PresentTrip.Build(itinerary, rig, Belief(rig, Given.At(40), Given.Dump(Given.At(0)))).ShouldBeNull();
    }

    [Fact]
    public void A_household_that_was_watched_for_weeks_is_planned_with_what_it_uses()
    {
        var rig = Given.Rig();
        var entries = new List<LogEntry> { Given.Stay(Given.At(0), Hookup.Full) };
        // Twice the usual, seen at each dump.
        for (var day = 0; day < 40; day += 4)
        {
            entries.Add(Given.Dump(Given.At(day)));
            entries.Add(Given.Looked(Given.At(day + 3.9), Math.Min(0.95, (3.9 * 2 * 2 * 6.8 + 1.5) / Given.BlackL)));
        }
        var belief = Belief(rig, Given.At(40), [.. entries]);
        var usage = PresentTrip.Build(From(Given.At(40), 0), rig, belief)!.Rig.Usage!;

        usage.Black.HookupLPerPersonDay.ShouldBeInRange(1.6 * 6.8, 2.4 * 6.8);
        usage.Black.LogSd.ShouldBeLessThan(0.3);
        usage.Gray.LogSd.ShouldBeGreaterThan(0.3, "of gray nothing was seen");
        usage.Gray.HookupLPerPersonDay.ShouldBeInRange(0.8 * 38, 1.3 * 38);
    }
}
