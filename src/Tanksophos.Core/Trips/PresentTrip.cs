using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Trips;

/// <summary>A trip as it stands now: from the present belief about the tanks and about the household, with the stops that are still to come.</summary>
public static class PresentTrip
{
    /// <summary>Id of the stop that stands for where the rig is before the trip's first stop.</summary>
    public const string Here = "here";

    // A household that was never seen is as uncertain as the usual ones; one that was seen for weeks is known to about a tenth.
    private const double MinLogSd = 0.08;

    /// <summary>Makes it.</summary>
    /// <param name="itinerary">What the owner entered.</param>
    /// <param name="rig">The rig.</param>
    /// <param name="belief">What is believed now; its moment is the trip's now.</param>
    /// <param name="freshL">Fresh water aboard, if known.</param>
    /// <param name="scrubsDue">Dumps that a course of travel scrubs still has to go.</param>
    /// <returns>The trip; null if no stop is left, or if nothing is known of the present.</returns>
    public static Trip? Build(Itinerary itinerary, Rig rig, LevelBelief belief, double? freshL = null, int scrubsDue = 0)
    {
        ArgumentNullException.ThrowIfNull(itinerary);
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(belief);
        if (belief.AsOf is not { } now) return null;
        var at = now.ToInstant();
        var stops = itinerary.Stops.Where(s => s.Depart.ToInstant() > at).ToList();
        if (stops.Count == 0) return null;
        var force = belief.InForce;
        var zone = force.StatedZone ?? stops[0].Zone;
        var leaves = stops[0].Arrive.ToInstant() - Duration.FromHours(stops[0].DriveHoursBefore);
        var first = stops[0].Id == itinerary.Stops[0].Id;
        // Before the first stop the rig stands where the log says.
        if (first && leaves - at > Duration.FromMinutes(30) && HookupOf(force) is { } hookup)
            stops.Insert(0, new Stop(Here, force.Place ?? "Here", zone, at.InZone(zone).ToOffsetDateTime(), leaves.InZone(zone).ToOffsetDateTime(), hookup,
                force.People));
        var black = belief.Tanks.Where(t => t.Tank.Role == TankRole.Black).Select(t => t.LastEmptied).ToList();
        return new Trip(Known(rig, belief), rig.RulesInForce,
            new TripStart(at.InZone(zone).ToOffsetDateTime(), belief.Tanks.ToDictionary(t => t.Tank.Id, t => Band(t)),
            belief.Tanks.Any(t => t.Tank.Role == TankRole.Gray && t.ValveOpen), freshL,
            black.Count > 0 && black.TrueForAll(e => e is not null) ? Math.Max(0, (at - black.Min()!.Value).TotalDays) : null), stops)
        {
            Wishes = [.. itinerary.Wishes.Where(w => stops.Any(s => s.Id == w.Stop))],
            ScrubsDue = scrubsDue,
            GrayCare = true,
        };
    }

    private static LevelBand Band(TankBelief t) => new(Math.Min(t.Level.P05L, t.Tank.CapacityL), Math.Min(t.Level.P50L, t.Tank.CapacityL),
        Math.Min(t.Level.P95L, t.Tank.CapacityL));

    private static StopHookup? HookupOf(Circumstances now) => now.People == 0 && now.Hookup != Hookup.Storage ? StopHookup.Storage : now.Hookup switch
    {
        Hookup.Full => StopHookup.Full,
        Hookup.Partial => StopHookup.Partial,
        Hookup.GrayDrain => StopHookup.GrayDrain,
        Hookup.Dry => StopHookup.Dry,
        Hookup.Storage => StopHookup.Storage,
    };

    // The rig with its use as the log has taught it: this household's own mean, and how surely it is known.
    private static Rig Known(Rig rig, LevelBelief belief)
    {
        var usage = rig.Usage ?? Usage.Default;
        RoleUsage Role(TankRole role, RoleUsage usual)
        {
            var tanks = belief.Tanks.Where(t => t.Tank.Role == role && t.Factors.Full.Mean > 0).ToList();
            if (tanks.Count == 0) return usual;
            double Mean(Func<HouseholdFactors, HouseholdFactor> of) =>
                tanks.Sum(t => of(t.Factors).Mean * Share(rig, t.Tank)) / tanks.Sum(t => Share(rig, t.Tank));
            // The widest of them, so that no hookup is taken for better known than it is.
            var spread = tanks.Max(t => ((HouseholdFactor[])[t.Factors.Full, t.Factors.Partial, t.Factors.Dry])
                .Max(f => Math.Sqrt(Math.Log(1 + f.Sd * f.Sd / (f.Mean * f.Mean)))));
            return new RoleUsage(usual.HookupLPerPersonDay * Mean(f => f.Full), usual.At(Hookup.Partial) * Mean(f => f.Partial),
                usual.DryLPerPersonDay * Mean(f => f.Dry), Math.Clamp(spread, Math.Min(MinLogSd, usual.LogSd), usual.LogSd));
        }
        var known = new Usage(Role(TankRole.Black, usage.Black), Role(TankRole.Gray, usage.Gray));
        // With the capacities that are counted with.
        return rig with
        {
            Usage = known,
            Tanks = [.. rig.Tanks.Select(t => belief[t.Id].Tank is var used
            ? t with { UsageShare = ShareOf(rig, belief, t), CapacityL = used.CapacityL, RoomAboveFullL = used.RoomAboveFullL } : t)]
        };
    }

    private static double Share(Rig rig, Tank tank) => rig.MedianInflow(tank, Hookup.Full) / Math.Max(1e-9, (rig.Usage ?? Usage.Default).For(tank.Role)
        .At(Hookup.Full));

    // Several grays: one may take more than its share.
    private static double? ShareOf(Rig rig, LevelBelief belief, Tank tank)
    {
        var same = belief.Tanks.Where(t => t.Tank.Role == tank.Role && t.Factors.Full.Mean > 0).ToList();
        if (same.Count < 2) return tank.UsageShare;
        var all = same.Sum(t => t.Factors.Full.Mean * Share(rig, t.Tank));
        var whole = same.Sum(t => Share(rig, t.Tank));
        return same.FirstOrDefault(t => t.Tank.Id == tank.Id) is { } mine && all > 0 ? Math.Min(1, whole * mine.Factors.Full.Mean * Share(rig, tank) / all)
            : tank.UsageShare;
    }
}
