using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Levels;

/// <summary>How a capacity was seen.</summary>
public enum CapacitySign
{
    /// <summary>The meter stood at so much when the top lamp lit.</summary>
    MeteredToFull,

    /// <summary>Counted water from empty reached the top lamp.</summary>
    CountedToFull,

    /// <summary>Counted water from empty stood as high as somebody saw.</summary>
    CountedToSight,

    /// <summary>So much came out of it when the top lamp was lit.</summary>
    DrainedFromFull,
}

/// <summary>One look at how much a tank holds.</summary>
/// <param name="At">When.</param>
/// <param name="CapacityL">Litres to the top by it, at most the stated capacity.</param>
/// <param name="CountedL">Litres that were counted or metered.</param>
/// <param name="Sign">How it was seen.</param>
public sealed record CapacityObservation(OffsetDateTime At, double CapacityL, double CountedL, CapacitySign Sign);

/// <summary>What a tank holds by its plate, and by what the log has shown: buildup eats volume.</summary>
/// <param name="StatedL">As stated by the rig.</param>
/// <param name="UsedL">What every limit, level and drawing counts with: the stated one until the log shows less.</param>
/// <param name="Observations">What showed it since the last jet or deep clean, oldest first.</param>
public sealed record TankCapacity(double StatedL, double UsedL, IReadOnlyList<CapacityObservation> Observations)
{
    /// <summary>Whether less is counted with than is stated.</summary>
    public bool IsLess => UsedL < StatedL - 0.05;
}

/// <summary>
/// Learns from ordinary entries how much a tank really holds. One look moves it, and only down; two that agree settle it; a jet or a deep clean begins anew.
/// </summary>
internal sealed class CapacityWatch
{
    // Looks within this share of the stated capacity agree; less than this share of it is less than it should be.
    private const double Agree = 0.06, Less = 0.92;
    // Water that nobody counted may be at most this share of what is in it; less than half a tank is a lamp that lies, not buildup.
    private const double Uncounted = 0.4, MinShare = 0.5;
    // An eye is no gauge below this level.
    private const double MinSight = 0.5;
    private const int Kept = 8;
    private static readonly Duration SameMoment = Duration.FromMinutes(10);

    private readonly double statedL, roomL;
    private readonly string? top;
    private readonly bool percent;
    private List<CapacityObservation> seen = [];
    private bool emptied, cleaning;
    private double countedL;
    private double meterL, cycleL;
    private Instant? meterAt, cycleAt, fullAt;

    public CapacityWatch(Tank tank)
    {
        (statedL, roomL, UsedL) = (tank.CapacityL, tank.RoomAboveFullL, tank.CapacityL);
        top = tank.Monitor.Kind == MonitorKind.Probes && tank.Monitor.Probes.Count > 0 ? tank.Monitor.Probes[^1].Id : null;
        percent = tank.Monitor.Kind == MonitorKind.Percent;
    }

    private CapacityWatch(CapacityWatch other)
    {
        (statedL, roomL, top, percent, UsedL) = (other.statedL, other.roomL, other.top, other.percent, other.UsedL);
        seen = [.. other.seen];
        (emptied, cleaning, countedL, meterL, cycleL, meterAt, cycleAt, fullAt) = (other.emptied, other.cleaning, other.countedL, other.meterL, other.cycleL,
            other.meterAt, other.cycleAt, other.fullAt);
    }

    /// <summary>What is counted with.</summary>
    public double UsedL { get; private set; }

    public TankCapacity Capacity => new(statedL, UsedL, seen);

    public CapacityWatch Copy() => new(this);

    /// <summary>Takes an entry of the tank in, before it is weighed.</summary>
    /// <param name="entry">The entry.</param>
    /// <param name="believedL">Litres believed to be in the tank, what flowed in uncounted included.</param>
    /// <param name="topBelieved">Whether the top lamp is believed.</param>
    /// <returns>Whether another capacity is to be counted with from now on.</returns>
    public bool Take(LogEntry entry, double believedL, bool topBelieved)
    {
        var before = UsedL;
        switch (entry)
        {
            case ServiceEntry { Code: ServiceCode.PressureJet }:
                Anew();
                break;
            case FlushEntry flush:
                if (DeepClean.Is(flush)) Anew();
                cycleL = flush.Cycles.Max(c => c.WaterL) ?? 0;
                cycleAt = cycleL > 0 ? flush.Instant : null;
                if (cycleAt is not null && fullAt is { } shown && Near(shown, flush.Instant)) Full(flush.At, cycleL, CapacitySign.CountedToFull);
                Empty();
                break;
            case DumpEntry { Emptied: true } dump:
                if (dump.VolumeL is { } volume && fullAt is not null) Full(dump.At, volume + Residue, CapacitySign.DrainedFromFull);
                if (cleaning) Anew();
                Empty();
                break;
            case ValveEntry:
                Empty();
                break;
            case WaterEntry water:
                countedL += water.WaterL;
                break;
            case DoseEntry dose:
                countedL += dose.WaterL ?? 0;
                cleaning |= DeepClean.Is(dose.Recipe);
                break;
            case ReadingEntry { Via: ReadingVia.Meter, Fraction: { } share } metered:
                (meterL, meterAt) = (share * statedL, metered.Instant);
                if (fullAt is { } lit && Near(lit, metered.Instant)) Full(metered.At, meterL, CapacitySign.MeteredToFull);
                // What the meter says is known, whatever had flowed in.
                (emptied, countedL) = (true, meterL);
                break;
            case ReadingEntry { Via: ReadingVia.Sight, Fraction: >= MinSight and { } height } eye when Counted(believedL):
                if (believedL / height < Less * statedL) See(eye.At, believedL / height, believedL, CapacitySign.CountedToSight);
                break;
            case ReadingEntry { Via: ReadingVia.Panel } panel when topBelieved
                && (top is not null && panel.Lit?.Contains(top) == true || percent && panel.Percent >= 99):
                if (meterAt is { } stood && Near(stood, panel.Instant)) Full(panel.At, meterL, CapacitySign.MeteredToFull);
                else if (cycleAt is { } filled && Near(filled, panel.Instant)) Full(panel.At, cycleL, CapacitySign.CountedToFull);
                else if (fullAt is null && Counted(believedL) && believedL + roomL < Less * statedL) Full(panel.At, believedL, CapacitySign.CountedToFull);
                fullAt = panel.Instant;
                break;
        }
        return Math.Abs(UsedL - before) > 0.01;
    }

    public void Save(BinaryWriter to)
    {
        to.Write(UsedL);
        to.Write(emptied);
        to.Write(cleaning);
        to.Write(countedL);
        to.Write(meterL);
        to.Write(cycleL);
        foreach (var at in (Instant?[])[meterAt, cycleAt, fullAt]) to.WriteTime(at);
        to.Write(seen.Count);
        foreach (var o in seen)
        {
            to.WriteTime((OffsetDateTime?)o.At);
            to.Write(o.CapacityL);
            to.Write(o.CountedL);
            to.Write((byte)o.Sign);
        }
    }

    public void Load(BinaryReader from)
    {
        UsedL = from.ReadDouble();
        (emptied, cleaning) = (from.ReadBoolean(), from.ReadBoolean());
        (countedL, meterL, cycleL) = (from.ReadDouble(), from.ReadDouble(), from.ReadDouble());
        (meterAt, cycleAt, fullAt) = (from.ReadInstant(), from.ReadInstant(), from.ReadInstant());
        for (var n = from.ReadInt32(); n > 0; n--)
            seen.Add(new CapacityObservation(from.ReadTime()!.Value, from.ReadDouble(), from.ReadDouble(), (CapacitySign)from.ReadByte()));
    }

    private double Residue => DumpEntry.ResidueFraction * statedL;

    private static bool Near(Instant a, Instant b) => a - b <= SameMoment && b - a <= SameMoment;

    private bool Counted(double believedL) => emptied && believedL > 0 && countedL + Residue >= (1 - Uncounted) * believedL;

    private void Empty() => (emptied, countedL, fullAt, meterAt) = (true, 0, null, null);

    private void Anew()
    {
        seen = [];
        cleaning = false;
        UsedL = statedL;
    }

    private void Full(OffsetDateTime at, double litres, CapacitySign sign) => See(at, litres + roomL, litres, sign);

    private void See(OffsetDateTime at, double capacityL, double countedL, CapacitySign sign)
    {
        if (capacityL < MinShare * statedL
            || seen.Exists(o => Near(o.At.ToInstant(), at.ToInstant()) && (o.Sign == sign || o.Sign == CapacitySign.MeteredToFull))) return;
        // The meter knows better than what was counted up to the same moment.
        seen = [.. seen.Where(o => !Near(o.At.ToInstant(), at.ToInstant())).TakeLast(Kept - 1),
            new CapacityObservation(at, Math.Min(capacityL, statedL), countedL, sign)];
        UsedL = statedL;
        for (var i = 0; i < seen.Count; i++)
        {
            var agreeing = seen.Take(i + 1).Where(o => Math.Abs(o.CapacityL - seen[i].CapacityL) <= Agree * statedL).ToList();
            UsedL = agreeing.Count > 1 ? agreeing.Average(o => o.CapacityL) : Math.Min(UsedL, seen[i].CapacityL);
        }
    }
}
