using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>What a person wants of a run; null for what fits.</summary>
public sealed record RunWish(bool? AtStation = null, TapWater? Tap = null, bool? Leaving = null, bool? Busy = null, FlushMethod? Method = null,
    RinseSchool? School = null, FillStop? Stop = null);

/// <summary>Gathers what a dump run is built from: the belief, the place, the plan, and what the rig's own log has taught.</summary>
public sealed class RunService(RigStore store, RigCache memory, TripStore trips, RunStore runs, AgendaService agenda)
{
    // Timed drains of this long ago and newer tell the usual time.
    private static readonly Duration DrainsFrom = Duration.FromDays(120);
    private static readonly Duration LeavesSoon = Duration.FromHours(20);

    /// <summary>The setting of a run here and now.</summary>
    public RunSetting Setting(CurrentRequest house, RunWish wish)
    {
        ArgumentNullException.ThrowIfNull(house);
        ArgumentNullException.ThrowIfNull(wish);
        var stored = house.Rig!;
        var rig = stored.Rig;
        var picture = house.RigSnapshot;
        var now = house.Now;
        var log = memory.Log(stored, store);
        var inForce = picture.Advice.Circumstances;
        var trip = trips.Current(stored.Id, now);
        var stop = trip?.Itinerary.Stops.FirstOrDefault(s => s.Arrive.ToInstant() <= now && s.Depart.ToInstant() >= now);
        var station = wish.AtStation ?? (stop?.Hookup == StopHookup.DumpStation && inForce.Hookup != Hookup.Full);
        var place = station ? RunPlace.Station
            : inForce.Hookup switch
            {
                Hookup.Full => RunPlace.Sewer,
                Hookup.GrayDrain => RunPlace.GrayDrain,
                Hookup.Partial or Hookup.Dry or Hookup.Storage =>
            (RunPlace?)null
            };
        var tap = wish.Tap ?? (station
            ? stop?.RinseWater switch
            {
                RinseWater.Threaded => TapWater.Threaded,
                RinseWater.None => TapWater.None,
                RinseWater.Unthreaded or null => TapWater.Unthreaded
            } : TapWater.Threaded);
        var timed = new Dictionary<DumpEntry, double>(ReferenceEqualityComparer.Instance);
        foreach (var (entry, change) in memory.Stretch(stored, store, now - DrainsFrom, now))
            if (entry is DumpEntry dump && change is not null) timed[dump] = change.BeforeL;

        var setting = new RunSetting
        {
            Rig = rig,
            Tanks = [.. picture.Belief.Tanks.Select(t => RunTank.Build(t, log, agenda.Now.Blocked.ContainsKey(t.Tank.Id), timed))],
            Place = place,
            Water = tap,
            Leaving = wish.Leaving ?? (station || (stop is not null && stop.Depart.ToInstant() < now + LeavesSoon)),
            Busy = wish.Busy ?? (station && stop is not { Hookup: StopHookup.DumpStation, Busy: false }),
            FeeMinor = station ? stop?.FeeMinor : null,
            Frost = wish.Leaving != false
                && trip?.Itinerary.Stops.FirstOrDefault(s => s.Hookup == StopHookup.Storage && s.Depart.ToInstant() > now) is { Freezes: true },
            PropaneAlarm = picture.Gas is not null,
            HighC = agenda.Situation.HighC,
            FreshL = rig.Fresh?.Litres,
            Method = wish.Method,
            School = wish.School,
            Stop = wish.Stop,
            SetUpKnown = place != RunPlace.Sewer || inForce.Place is null || runs.SetUp(stored.Id, inForce.Place) is not null,
            Finished = runs.Finished(stored.Id),
            Units = house.Units == Words.Units.Us ? KitchenUnits.Us : KitchenUnits.Metric,
        };
        return setting.WithFlow(log);
    }
}
