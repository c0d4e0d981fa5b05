using CsCheck;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Tests.Trips;

public class ItineraryTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];
    private static readonly LocalDate First = new(2026, 6, 5);

    private static Stop Stay(string id, int nights, StopHookup hookup = StopHookup.Full) => Itinerary.UsualStop(id, id, Zone, First, nights, hookup, 2);

    private static Itinerary Of(params Stop[] stops) => stops.Aggregate(new Itinerary("A trip", []), (t, s) => t.Add(s, t.Stops.Count));

    private static LocalDateTime Local(OffsetDateTime t) => t.ToInstant().InZone(Zone).LocalDateTime;

    private static Itinerary Three => Of(Stay("a", 2), Stay("b", 3, StopHookup.Dry), Stay("c", 1));

    [Fact]
    public void Each_stop_begins_when_the_one_before_is_left_and_the_drive_is_done()
    {
        var trip = Three;
        trip.Stops.Select(s => Local(s.Arrive).Date).ShouldBe([First, First.PlusDays(2), First.PlusDays(5)]);
        trip.Stops.Select(Itinerary.Nights).ShouldBe([2, 3, 1]);
        Local(trip.Stops[1].Arrive).TimeOfDay.ShouldBe(new LocalTime(15, 0));
        (trip.Begins, trip.Ends).ShouldBe((trip.Stops[0].Arrive.ToInstant(), trip.Stops[2].Depart.ToInstant()));
    }

    [Fact]
    public void A_stay_made_longer_moves_what_comes_after_it()
    {
        var longer = Three.Stretch("a", 4)!;
        Local(longer.Stops[1].Arrive).Date.ShouldBe(First.PlusDays(4));
        Local(longer.Stops[2].Depart).Date.ShouldBe(First.PlusDays(8));
        longer.Stretch("a", 2)!.Stops.ShouldBe(Three.Stops);
        Three.Stretch("nowhere", 4).ShouldBeNull();
    }

    [Fact]
    public void A_stop_moved_to_the_front_begins_when_the_trip_began()
    {
        var moved = Three.Move("c", 0)!;
        moved.Stops.Select(s => s.Id).ShouldBe(["c", "a", "b"]);
        Local(moved.Stops[0].Arrive).Date.ShouldBe(First);
        Local(moved.Stops[1].Arrive).Date.ShouldBe(First.PlusDays(1));
        Three.Move("b", 99)!.Stops[^1].Id.ShouldBe("b");
    }

    [Fact]
    public void A_stop_taken_out_closes_the_gap_and_takes_its_wishes_along()
    {
        var without = Three.Wish("b", TankRole.Black, DumpWish.NotHere).Wish("c", TankRole.Black, DumpWish.Here).Remove("b")!;
        Local(without.Stops[1].Arrive).Date.ShouldBe(First.PlusDays(2));
        without.Wishes.ShouldHaveSingleItem().Stop.ShouldBe("c");
        Local(Three.Remove("a")!.Stops[0].Arrive).Date.ShouldBe(First);
    }

    [Fact]
    public void A_station_is_taken_on_the_way_and_not_at_night()
    {
        var trip = Of(Stay("a", 2, StopHookup.Dry), Itinerary.UsualStop("s", "s", Zone, First, 0, StopHookup.DumpStation, 2) with { DriveHoursBefore = 0.7 },
            Stay("b", 1));
        Local(trip.Stops[1].Arrive).ShouldBe(First.PlusDays(2) + new LocalTime(10, 45));
        (trip.Stops[1].Depart.ToInstant() - trip.Stops[1].Arrive.ToInstant()).ShouldBe(Duration.FromHours(1));
        trip.Stops[1].RinseWater.ShouldBe(RinseWater.Unthreaded);
        trip.Stretch("s", 5)!.Stops.ShouldBe(trip.Stops, "a station has no nights");

        var late = trip.Change("s", s => s with { DriveHoursBefore = 13 })!;
        Local(late.Stops[1].Arrive).ShouldBe(First.PlusDays(3) + new LocalTime(8, 0));
    }

    [Fact]
    public void The_trip_can_begin_on_another_day()
    {
        var later = Three.BeginOn(First.PlusDays(10));
        Local(later.Stops[0].Arrive).ShouldBe(First.PlusDays(10) + new LocalTime(15, 0));
        Local(later.Stops[2].Arrive).Date.ShouldBe(First.PlusDays(15));
    }

    [Fact]
    public void A_wish_replaces_the_one_before_it_and_can_be_taken_back()
    {
        var wished = Three.Wish("a", TankRole.Black, DumpWish.Here).Wish("a", TankRole.Black, DumpWish.NotHere);
        wished.Wishes.ShouldHaveSingleItem().Dump.ShouldBe(DumpWish.NotHere);
        wished.Wish("a", TankRole.Black, null).Wishes.ShouldBeEmpty();
        Three.Wish("nowhere", TankRole.Black, DumpWish.Here).Wishes.ShouldBeEmpty();
    }

    [Fact]
    public void Whatever_is_done_to_a_trip_its_stops_follow_each_other_and_keep_their_nights()
    {
        Gen.Select(Gen.Select(Gen.Int[0, 5], Gen.Int[0, 6], Gen.Double[0, 9]).Array[1, 8], Gen.Select(Gen.Int[0, 3], Gen.Int[0, 7], Gen.Int[0, 9]).Array[0, 12])
            .Sample((stays, edits) =>
        {
            var trip = new Itinerary("any", []);
            foreach (var (hookup, nights, drive) in stays)
                trip = trip.Add(Itinerary.UsualStop(trip.FreshId(), "x", Zone, First, nights, (StopHookup)hookup, 2) with { DriveHoursBefore = drive },
                trip.Stops.Count);
            foreach (var (kind, which, value) in edits)
            {
                if (trip.Stops.Count == 0) break;
                var id = trip.Stops[which % trip.Stops.Count].Id;
                var nights = trip.Stops.ToDictionary(s => s.Id, Itinerary.Nights);
                trip = kind switch
                {
                    0 => trip.Move(id, value)!,
                    1 => trip.Stretch(id, value)!,
                    2 => trip.Remove(id)!,
                    _ => trip.Change(id, s => s with { DriveHoursBefore = value })!
                };
                foreach (var stop in trip.Stops.Where(s => s.Id != id && s.Hookup != StopHookup.DumpStation && nights[s.Id] > 0))
                    Itinerary.Nights(stop).ShouldBe(nights[stop.Id]);
            }
            for (var i = 0; i < trip.Stops.Count; i++)
            {
                var stop = trip.Stops[i];
                stop.Depart.ToInstant().ShouldBeGreaterThan(stop.Arrive.ToInstant());
                if (i > 0) stop.Arrive.ToInstant()
                    .ShouldBeGreaterThanOrEqualTo(trip.Stops[i - 1].Depart.ToInstant() + Duration.FromHours(stop.DriveHoursBefore) - Duration.FromSeconds(1));
            }
            trip.Stops.Select(s => s.Id).ShouldBeUnique();
            var read = ItineraryFormat.Read(ItineraryFormat.Write(trip));
            read.Errors.ShouldBeEmpty();
            read.Value!.Stops.ShouldBe(trip.Stops);
        }, iter: 200);
    }
}
