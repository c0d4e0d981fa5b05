using NodaTime;
using Tanksophos.Core;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Benchmarks;

// Made-up trips for measuring: sites of all kinds a drive apart, with stations between some of them.
internal static class SampleTrips
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];

    public static Rig Rig(double blackL, double grayL, double logSd = 0.45) => new("Sample", "travel-trailer", 2,
    [
        new Tank("black", "Black", TankRole.Black, blackL) { Fixtures = ["toilet"] },
        new Tank("gray", "Gray", TankRole.Gray, grayL) { Fixtures = ["galley-sink", "shower"] },
    ])
    {
        Usage = new Usage(Usage.Default.Black with { LogSd = logSd }, Usage.Default.Gray with { LogSd = logSd }),
        Equipment = new Equipment { FlushInlet = true, FlushInletLPerMin = 8, JugL = 19, HoseLengthM = 4.6 },
    };

    // So many stops of a few nights each; with stations they count as stops too.
    public static Trip Of(long seed, int stops, int mostNights = 5, HouseRules? rules = null, double logSd = 0.45)
    {
        var random = new SeededRandom(seed);
        var rig = Rig(110 + 60 * random.Uniform(), 130 + 80 * random.Uniform(), logSd);
        var made = new List<Stop>();
        var day = new LocalDate(2026, 5, 4);
        OffsetDateTime At(LocalDate d, int hour, int minute = 0) => (d + new LocalTime(hour, minute)).InZoneLeniently(Zone).ToOffsetDateTime();
        while (made.Count < stops)
        {
            var nights = 1 + (int)(random.Uniform() * mostNights);
            var hookup = random.Uniform() switch { < 0.4 => StopHookup.Full, < 0.6 => StopHookup.Partial, < 0.7 => StopHookup.GrayDrain, _ => StopHookup.Dry };
            if (made.Count > 0 && made[^1].Hookup is StopHookup.Dry or StopHookup.Partial && random.Uniform() < 0.5)
            {
                made.Add(new Stop($"s{made.Count + 1}", "Station", Zone, At(day, 11), At(day, 12), StopHookup.DumpStation, 2)
                {
                    DriveHoursBefore = 0.7,
                    RinseWater = random.Uniform() < 0.5 ? RinseWater.Threaded : RinseWater.Unthreaded,
                    Busy = random.Uniform() < 0.5,
                    FeeMinor = 1000
                });
                if (made.Count == stops) break;
            }
            made.Add(new Stop($"s{made.Count + 1}", "Site", Zone, At(day, 15), At(day.PlusDays(nights), 10), hookup, 2)
            {
                DriveHoursBefore = 3,
                HighC = 22 + 10 * random.Uniform(),
                DumpStation = hookup == StopHookup.Partial && random.Uniform() < 0.4
            });
            day = day.PlusDays(nights);
        }
        return new Trip(rig, rules ?? HouseRules.Default,
            new TripStart(At(new LocalDate(2026, 5, 4), 9), new Dictionary<string, LevelBand> { ["black"] = new(12, 16, 20), ["gray"] = new(0, 2, 5) }, false,
            150, 0), made);
    }
}
