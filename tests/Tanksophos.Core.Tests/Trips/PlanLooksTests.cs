using CsCheck;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Tests.Trips;

public class PlanLooksTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];

    private static OffsetDateTime At(int day, int hour) =>
        (new LocalDate(2026, 6, 5).PlusDays(day) + new LocalTime(hour, 0)).InZoneLeniently(Zone).ToOffsetDateTime();

    private static Stop Stay(string id, int from, int to, StopHookup hookup, int people = 2) => hookup == StopHookup.DumpStation
        ? new(id, id, Zone, At(from, 11), At(from, 12), hookup, people) { RinseWater = RinseWater.Unthreaded }
        : new(id, id, Zone, At(from, 15), At(to, 10), hookup, people) { DriveHoursBefore = 2 };

    // A household nobody knows (spread 0.45), or one that the log has taught.
    private static Trip Trip(double logSd, params Stop[] stops)
    {
        var usage = new Usage(Usage.Default.Black with { LogSd = logSd }, Usage.Default.Gray with { LogSd = logSd });
        var rig = Given.Rig() with { Usage = usage, Equipment = new Equipment { FlushInlet = true, JugL = 19, HoseLengthM = 4.6 } };
        return new Trip(rig, HouseRules.Default,
            new TripStart(At(0, 9), new Dictionary<string, LevelBand> { ["black"] = new(12, 16, 20), ["gray"] = new(0, 2, 5) }, false, 150, 0), stops);
    }

    private static readonly Gen<Trip> AnyTrip = Gen.Select(Gen.Select(Gen.Int[0, 4], Gen.Int[1, 5], Gen.Int[1, 3]).Array[2, 6], Gen.Bool)
        .Select((stays, known) =>
    {
        var stops = new List<Stop>();
        var day = 0;
        foreach (var (kind, nights, people) in stays)
        {
            if (kind == 4 && stops.Count > 0 && stops[^1].Hookup == StopHookup.DumpStation) continue;
            stops.Add(Stay($"s{stops.Count}", day, kind == 4 ? day : day + nights, kind == 4 ? StopHookup.DumpStation : (StopHookup)kind, people));
            if (kind != 4) day += nights;
        }
        return Trip(known ? 0.2 : 0.45, [.. stops]);
    });

    [Fact]
    public void A_look_adds_no_risk_and_lies_before_what_it_decides() => AnyTrip.Sample(trip =>
    {
        var plan = Planner.Make(trip);
        var looked = PlanLooks.For(trip, plan);
        // The same lives, followed action by action, come to what the plan itself says.
        Assert.Equal(plan.Totals.OverflowProbability, looked.Without.Overflow, 0.0001);
        Assert.Equal(plan.Totals.BlackOverflowProbability, looked.Without.BlackOverflow, 0.0001);
        Assert.Equal(plan.Totals.BlackDumps, looked.Without.BlackDumps, 0.0001);
        Assert.True(looked.With.Overflow <= looked.Without.Overflow);
        Assert.True(looked.With.BlackOverflow <= looked.Without.BlackOverflow);
        Assert.True(looked.With.BlackDumps <= looked.Without.BlackDumps);
        var runs = PlanRun.Group(plan.Actions, id => trip.Stops.First(s => s.Id == id)).Where(r => r.Dumps).ToList();
        foreach (var look in looked.Looks)
        {
            var run = runs.Single(r => r.Key == look.Run);
            var stop = trip.Stops.Single(s => s.Id == look.Stop);
            Assert.NotEmpty(look.Hours);
            Assert.All(look.Hours, h => Assert.InRange(h.ToInstant(), Instant.Max(stop.Arrive.ToInstant(), trip.Start.At.ToInstant()), run.At.ToInstant()));
            Assert.Equal(look.At, look.Hours[0]);
            Assert.All(look.Limits, l => Assert.InRange(l.Value, 0.2, 0.8));
            Assert.InRange(look.Chance, 0, 1);
            if (look.Fork == LookFork.LeaveOut) Assert.True(runs.IndexOf(run) < runs.Count - 1); // something is left that dumps
            else
            {
                Assert.True(look.CloseAt!.Value.ToInstant() < look.At.ToInstant() && stop == run.Stop);
                // A valve is moved for hours or not at all.
                if (plan.Actions.LastOrDefault(a => a.Kind == PlanActionKind.OpenValve && a.Stop == stop.Id && a.At.ToInstant() < run.At.ToInstant())
                    is { } opened)
                    Assert.True(look.CloseAt!.Value.ToInstant() - opened.At.ToInstant() >= Duration.FromHours(4));
            }
        }
    }, iter: 40);

    // Seven nights at a sewer: more gray than the letter of the plan dares to keep, since whoever fills it fast sees that.
    [Fact]
    public void Looking_gives_the_hose_its_rinse()
    {
        var trip = Trip(0.45, Stay("dry", 0, 3, StopHookup.Dry), Stay("site", 3, 10, StopHookup.Full));
        var looked = PlanLooks.For(trip, Planner.Make(trip));
        Assert.Contains(looked.Looks, l => l.Fork == LookFork.LetOut);
        Assert.True(looked.With.GrayReady > 1.5 * looked.Without.GrayReady);
    }

    // Three people who are not known on the way to a sewer, with a station between: the thirsty need it, the thrifty see that they do not.
    [Fact]
    public void A_station_is_left_out_by_those_who_see_that_they_need_not()
    {
        var looks = Enumerable.Range(3, 4).SelectMany(nights =>
        {
            var trip = Trip(0.45, Stay("dry", 0, nights, StopHookup.Dry), Stay("station", nights, nights, StopHookup.DumpStation),
                Stay("more", nights, nights + 2, StopHookup.Dry), Stay("site", nights + 2, nights + 5, StopHookup.Full));
            return PlanLooks.For(trip, Planner.Make(trip)).Looks
                .Where(l => l.Fork == LookFork.LeaveOut && l.Run.StartsWith("station", StringComparison.Ordinal));
        }).ToList();
        Assert.NotEmpty(looks);
        Assert.All(looks, l => Assert.Equal("dry", l.Stop)); // taken before the rig rolls
        Assert.All(looks, l => Assert.True(l.Chance > 0.08));
    }

    [Fact]
    public void Nothing_is_asked_of_an_empty_plan()
    {
        var trip = Trip(0.2, Stay("site", 0, 1, StopHookup.Partial));
        var looked = PlanLooks.For(trip, Planner.Make(trip));
        Assert.Empty(looked.Looks);
        Assert.Null(looked.Without.GrayReady);
        Assert.Throws<ArgumentNullException>(() => PlanLooks.For(null!, Planner.Make(trip)));
    }
}
