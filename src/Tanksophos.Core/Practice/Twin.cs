using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Practice;

/// <summary>What can be tried on a copy of a rig.</summary>
public enum TwinAct
{
    /// <summary>Nothing is done.</summary>
    Nothing,

    /// <summary>Black is dumped.</summary>
    DumpBlack,

    /// <summary>Black is dumped, then gray.</summary>
    DumpBoth,

    /// <summary>Black is left open.</summary>
    OpenBlack,

    /// <summary>Gray is left open.</summary>
    OpenGray,

    /// <summary>Five gallons of water are added to black.</summary>
    TopUp,

    /// <summary>Two more people come aboard.</summary>
    Guests,
}

/// <summary>A copy of a rig in which one can play ahead. The log itself is never touched.</summary>
public sealed class Twin
{
    /// <summary>The furthest that is played ahead, in days.</summary>
    public const int MostDays = 14;

    /// <summary>What is added for a try, in litres: five gallons, as practitioners pour back in.</summary>
    public const double TopUpL = 5 * UsMeasures.GallonL;

    private const int Guests = 2;

    private readonly Rig rig;
    private readonly OffsetDateTime now;
    private readonly IRunningEstimate copy;

    /// <summary>Copies a rig as it is now. The last year of its log is enough.</summary>
    /// <param name="logbook">The log.</param>
    /// <param name="now">The present moment.</param>
    public Twin(Logbook logbook, OffsetDateTime now)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        (rig, this.now) = (logbook.Rig, now);
        copy = new JointEstimator().Start(rig);
        foreach (var entry in FaultReport.Read(new Logbook(rig, logbook.Entries, now).InOrder(), now.ToInstant())) copy.Add(entry);
    }

    /// <summary>The belief some days ahead, if something is done now.</summary>
    /// <param name="act">What is done.</param>
    /// <param name="days">Days ahead, 1 to 14.</param>
    /// <exception cref="ArgumentOutOfRangeException">The days are none of these.</exception>
    public LevelBelief Ahead(TwinAct act, int days)
    {
        if (days is < 1 or > MostDays) throw new ArgumentOutOfRangeException(nameof(days), days, "1 to 14");
        var then = copy.Copy();
        foreach (var entry in Done(act)) then.Add(entry);
        return then.At(now.Plus(Duration.FromDays(days)));
    }

    private IEnumerable<LogEntry> Done(TwinAct act)
    {
        var black = rig.Tanks.Where(t => t.Role == TankRole.Black);
        var gray = rig.Tanks.Where(t => t.Role == TankRole.Gray);
        return act switch
        {
            TwinAct.DumpBlack => black.Select(t => new DumpEntry { At = now, Tank = t.Id }),
            TwinAct.DumpBoth => black.Concat(gray).Select(t => new DumpEntry { At = now, Tank = t.Id }),
            TwinAct.OpenBlack => black.Select(t => new ValveEntry { At = now, Tank = t.Id, State = ValveState.Open }),
            TwinAct.OpenGray => gray.Select(t => new ValveEntry { At = now, Tank = t.Id, State = ValveState.Open }),
            TwinAct.TopUp => black.Take(1).Select(t => new WaterEntry { At = now, Tank = t.Id, WaterL = TopUpL, Purpose = WaterPurpose.TopUp }),
            TwinAct.Guests => [new PeopleEntry { At = now, Count = copy.At(now).InForce.People + Guests }],
            _ => [],
        };
    }

    /// <summary>Whether something needs a sewer hookup.</summary>
    public static bool NeedsSewer(TwinAct act) => act is TwinAct.DumpBlack or TwinAct.DumpBoth or TwinAct.OpenBlack;
}
