namespace Tanksophos.Core.Rigs;

/// <summary>Something about a rig that can be but hardly is.</summary>
public enum Implausible
{
    /// <summary>The capacity lies far from what tanks hold.</summary>
    Capacity,

    /// <summary>The top probe and the room above Full say different things.</summary>
    RoomAboveFull,

    /// <summary>Two probes stand at the same height.</summary>
    ProbesTogether,

    /// <summary>The shares of the grays do not add up to 1.</summary>
    Shares,

    /// <summary>The sewer hose falls too little, or rises.</summary>
    Fall,

    /// <summary>The sewer hose is shorter or longer than hoses are.</summary>
    HoseLength,

    /// <summary>The sewer hose falls more steeply than one can be laid: a height or the length is likely mistyped.</summary>
    Steep,
}

/// <summary>A doubt about a rig's description. It is said, and does not stop anything.</summary>
/// <param name="What">What is doubted.</param>
/// <param name="Tank">The tank meant, if one is meant.</param>
public sealed record RigDoubt(Implausible What, Tank? Tank);

/// <summary>Looks over a rig's description.</summary>
public static class Plausibility
{
    /// <summary>Tanks in the field hold 15 to 50 gal (litres).</summary>
    public const double SmallTankL = 57, LargeTankL = 190;

    /// <summary>Within these bounds nothing is said (litres).</summary>
    public const double MinUsualL = 30, MaxUsualL = 400;

    /// <summary>Sewer hoses come in pieces of 5 to 20 ft; joined ones reach about 60 ft (meters).</summary>
    public const double ShortestHoseM = 0.9, LongestHoseM = 18.3;

    // As rise over run: three inches to the foot.
    private const double SteepestFall = 0.25;

    private const double ProbeAgainstRoom = 0.08;

    /// <summary>All doubts about a rig.</summary>
    public static IReadOnlyList<RigDoubt> Check(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var doubts = new List<RigDoubt>();
        foreach (var tank in rig.Tanks)
        {
            if (tank.CapacityL is < MinUsualL or > MaxUsualL) doubts.Add(new RigDoubt(Implausible.Capacity, tank));
            var probes = tank.Monitor.Probes;
            if (probes.Count > 0 && Math.Abs(probes[^1].AtFraction - tank.FullMarkL / tank.CapacityL) > ProbeAgainstRoom)
                doubts.Add(new RigDoubt(Implausible.RoomAboveFull, tank));
            if (probes.Zip(probes.Skip(1)).Any(p => p.Second.AtFraction - p.First.AtFraction < 0.02))
                doubts.Add(new RigDoubt(Implausible.ProbesTogether, tank));
        }
        var grays = rig.Tanks.Where(t => t.Role == TankRole.Gray).ToList();
        if (grays.Count > 0 && grays.All(g => g.UsageShare is not null) && Math.Abs(grays.Sum(g => g.UsageShare!.Value) - 1) > 0.02)
            doubts.Add(new RigDoubt(Implausible.Shares, null));
        if (rig.Equipment?.HoseLengthM is (< ShortestHoseM or > LongestHoseM)) doubts.Add(new RigDoubt(Implausible.HoseLength, null));
        else if (rig.Equipment?.Fall is > SteepestFall or < -SteepestFall) doubts.Add(new RigDoubt(Implausible.Steep, null));
        else if (rig.Equipment?.Fall is < Equipment.MinFall) doubts.Add(new RigDoubt(Implausible.Fall, null));
        return doubts;
    }
}
