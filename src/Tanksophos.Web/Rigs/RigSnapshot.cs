using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;

namespace Tanksophos.Web.Rigs;

/// <summary>A rig's log, what is believed about it now, and what follows from that.</summary>
public sealed record RigSnapshot(Logbook Logbook, LevelBelief Belief, Advice Advice)
{
    private Judgements? judgements;

    /// <summary>The share of the log that is worked out, 0..1, while the rest still is; null if all of it is.</summary>
    public double? WorkingOut { get; init; }

    /// <summary>How many entries cannot be read, and are set aside.</summary>
    public int SetAside { get; init; }

    /// <summary>Entries that could not be worked in, and are left out of the estimate.</summary>
    public IReadOnlyList<LogEntry> LeftOut { get; init; } = [];

    /// <summary>Whether working out failed and will be tried again: this is the last good estimate, or the one from the newest entries.</summary>
    public bool Stale { get; init; }

    /// <summary>What is judged from the log and the belief; shared by the pictures of some minutes, as long as nothing is written.</summary>
    internal Judgements Judged { get => judgements ??= new Judgements(Logbook, Belief); init => judgements = value; }

    /// <summary>What there is to say of the sensors; made when it is first asked for.</summary>
    public SensorReport Sensors => Judged.Sensors;

    /// <summary>What is wrong beside the lamps; made when it is first asked for.</summary>
    public FaultReport Faults => Judged.Faults;

    /// <summary>What in the log is probably not as it was; made when it is first asked for.</summary>
    public IReadOnlyList<LogDoubt> Doubts => Judged.Doubts;

    /// <summary>When gas was noticed that nobody has ruled out since, by an alarm or a strong smell; null if none was.</summary>
    public (Instant Since, string Because)? Gas => Core.Agendas.Court.Gas(Belief.InForce, Logbook.InOrder(), Belief.AsOf?.ToInstant() ?? Instant.MinValue);

}

/// <summary>What the judges say of a log and the belief in it: made when it is first asked for, and good for a while.</summary>
internal sealed class Judgements(Logbook logbook, LevelBelief belief)
{
    /// <summary>How long what was judged is shown while nothing is written: signs change with days, not with minutes.</summary>
    public static readonly Duration Lasts = Duration.FromMinutes(10);

    private readonly Lazy<SensorReport> sensors = new(() => SensorReport.Compute(logbook, belief));
    private readonly Lazy<FaultReport> faults = new(() => FaultReport.Compute(logbook, belief));
    private readonly Lazy<IReadOnlyList<LogDoubt>> doubts = new(() => LogDoubts.Of(logbook, belief));

    /// <summary>When they were made.</summary>
    public Instant At { get; } = logbook.AsOf?.ToInstant() ?? Instant.MinValue;

    public SensorReport Sensors => sensors.Value;

    public FaultReport Faults => faults.Value;

    public IReadOnlyList<LogDoubt> Doubts => doubts.Value;
}
