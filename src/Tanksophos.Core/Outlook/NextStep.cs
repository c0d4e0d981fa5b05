using NodaTime;

namespace Tanksophos.Core.Outlook;

/// <summary>What to do next.</summary>
public enum StepCode
{
    /// <summary>A propane alarm stands: everyone out, before anything else.</summary>
    PropaneAlarm,

    /// <summary>Black stands open: liquids leave, solids stay and dry.</summary>
    CloseBlack,

    /// <summary>The tank may overflow now and there is no drain here: use no water.</summary>
    StopFilling,

    /// <summary>Dump black at this site.</summary>
    DumpBlack,

    /// <summary>The longest time between dumps runs out before the level is reached: top up, then dump.</summary>
    TopUpAndDump,

    /// <summary>Close gray, so that there is gray water to rinse the hose after the black dump.</summary>
    CloseGray,

    /// <summary>Dump gray at this site.</summary>
    DumpGray,

    /// <summary>A soak or another treatment has done its work: dump and flush.</summary>
    DumpSoak,

    /// <summary>Gray may drain here: open it until it is needed for the rinse.</summary>
    OpenGray,

    /// <summary>No sewer here: be at one in time for black.</summary>
    FindSewer,

    /// <summary>No drain here: be at one in time for gray.</summary>
    FindGrayDrain,

    /// <summary>Cover the bottom with water.</summary>
    StarterWater,

    /// <summary>The routine treatment is due.</summary>
    Dose,

    /// <summary>A lamp is not believed: find out.</summary>
    CheckLamp,

    /// <summary>The level is too uncertain: look.</summary>
    LookInside,

    /// <summary>The log does not say where the rig stands.</summary>
    SayWhere,

    /// <summary>Nothing was written for long: say where the rig stands and look at the tanks.</summary>
    CatchUp,
}

/// <summary>One thing to do, with what it rests on. Words and units are the reader's business.</summary>
/// <param name="Code">What to do.</param>
/// <param name="Tank">Id of the tank meant, if one is meant.</param>
/// <param name="Due">When; null if it has no hour.</param>
/// <param name="Urgent">Whether it comes before everything else.</param>
public sealed record NextStep(StepCode Code, string? Tank, Instant? Due, bool Urgent)
{
    /// <summary>When the level that calls for it is expected.</summary>
    public Instant? ExpectedAt { get; init; }

    /// <summary>When that level may be there already, one time in twenty.</summary>
    public Instant? CautiousAt { get; init; }

    /// <summary>Expected level at <see cref="Due"/>, as a share of capacity.</summary>
    public double? Fraction { get; init; }

    /// <summary>Litres of water to put in.</summary>
    public double? WaterL { get; init; }

    /// <summary>Days since the tank was last emptied.</summary>
    public double? Days { get; init; }

    /// <summary>Label of the probe meant.</summary>
    public string? Probe { get; init; }

    /// <summary>Since when it has been so.</summary>
    public Instant? Since { get; init; }

    /// <summary>The treatment meant.</summary>
    public Log.DoseRecipe? Recipe { get; init; }
}

/// <summary>When a tank reaches its marks if people and place stay as they are; for one whose valve stands open: if it were closed now.</summary>
/// <param name="DumpLevelL">The level that calls for a dump by the house rules, in litres.</param>
/// <param name="DumpExpected">When that level is expected; null if not within 60 days.</param>
/// <param name="DumpCautious">When it may be there already, one time in twenty.</param>
/// <param name="FullExpected">When the tank is expected to be full to the top, the room above Full included.</param>
/// <param name="FullCautious">When it may be full already, one time in twenty.</param>
public sealed record TankOutlook(double DumpLevelL, Instant? DumpExpected, Instant? DumpCautious, Instant? FullExpected, Instant? FullCautious);
