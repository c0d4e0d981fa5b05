using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Dumping;

/// <summary>All that a run is built from.</summary>
public sealed record RunSetting
{
    /// <summary>The rig.</summary>
    public required Rig Rig { get; init; }

    /// <summary>Its tanks, with what is believed of them.</summary>
    public required IReadOnlyList<RunTank> Tanks { get; init; }

    /// <summary>Where the run is; null where there is no drain at all.</summary>
    public RunPlace? Place { get; init; }

    /// <summary>Rinse water there.</summary>
    public TapWater Water { get; init; } = TapWater.Threaded;

    /// <summary>Whether the rig leaves afterwards, so that the hose is stowed.</summary>
    public bool Leaving { get; init; }

    /// <summary>Whether others wait.</summary>
    public bool Busy { get; init; }

    /// <summary>What the place takes for a dump, in the smallest coin; null if nobody said.</summary>
    public int? FeeMinor { get; init; }

    /// <summary>Whether it is for a sheet printed ahead: what is in the tanks now is then no reason against it.</summary>
    public bool Ahead { get; init; }

    /// <summary>Whether a propane alarm stands.</summary>
    public bool PropaneAlarm { get; init; }

    /// <summary>Hottest expected day until the next dump, in C; null if it is not known.</summary>
    public double? HighC { get; init; }

    /// <summary>Whether frost is likely where the rig will stand.</summary>
    public bool Frost { get; init; }

    /// <summary>Litres of fresh water on board that may go into rinsing; null if nobody said.</summary>
    public double? FreshL { get; init; }

    /// <summary>How the rinse water is to get in; null for what fits the rig and the place.</summary>
    public FlushMethod? Method { get; init; }

    /// <summary>How the rinse fills are to be done; null for what fits.</summary>
    public RinseSchool? School { get; init; }

    /// <summary>What ends a closed fill; null for what fits.</summary>
    public FillStop? Stop { get; init; }

    /// <summary>The flow of that method as learned, in litres per minute; null if it is not known.</summary>
    public double? FlowLPerMin { get; init; }

    /// <summary>The same with the flow of the way in which the water gets in, as the log has taught it.</summary>
    /// <param name="log">The entries of the rig.</param>
    public RunSetting WithFlow(IReadOnlyList<LogEntry> log)
    {
        var method = Method ?? RunBuilder.Methods(this).FirstOrDefault(FlushMethod.Pedal);
        return this with { FlowLPerMin = RunHistory.Flow(log, method) ?? (method == FlushMethod.BuiltIn ? Rig.Equipment?.KnownFlowLPerMin : null) };
    }

    /// <summary>Runs of this rig that were finished, the newest last: they tell the crew's pace.</summary>
    public IReadOnlyList<RunTime> Finished { get; init; } = [];

    /// <summary>Measures in which doses are said.</summary>
    public KitchenUnits Units { get; init; } = KitchenUnits.Us;

    /// <summary>Whether the hose was checked at this place before.</summary>
    public bool SetUpKnown { get; init; }
}
