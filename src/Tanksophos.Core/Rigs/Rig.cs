namespace Tanksophos.Core.Rigs;

/// <summary>What a tank holds.</summary>
public enum TankRole
{
    /// <summary>Toilet waste.</summary>
    Black,

    /// <summary>Water from sinks, shower and washer.</summary>
    Gray,
}

/// <summary>The sewer and water connections where a rig stands; they decide how freely people use water.</summary>
public enum Hookup
{
    /// <summary>Water and a sewer at the site.</summary>
    Full,

    /// <summary>Water at the site, no sewer.</summary>
    Partial,

    /// <summary>Water at the site; gray may run off there, black may not.</summary>
    GrayDrain,

    /// <summary>Neither water nor sewer.</summary>
    Dry,

    /// <summary>The rig stands unused: nothing flows in.</summary>
    Storage,
}

/// <summary>A conductive stud in a tank's wall whose lamp should light while liquid reaches it.</summary>
/// <param name="Id">Unique within the tank.</param>
/// <param name="Label">What the panel prints beside the lamp, "1/3" for example.</param>
/// <param name="AtFraction">Share of the tank's stated capacity at which liquid reaches the probe, 0..1.</param>
public sealed record Probe(string Id, string Label, double AtFraction)
{
    /// <summary>Wire color, for later repairs.</summary>
    public string? Wire { get; init; }

    /// <summary>Height of the stud above the tank's floor in metres, for later repairs.</summary>
    public double? HeightM { get; init; }

    /// <summary>Whatever else helps at a repair: where its nut is, what was done to it.</summary>
    public string? Note { get; init; }
}

/// <summary>What kind of monitor a tank has.</summary>
public enum MonitorKind
{
    /// <summary>Lamps from probes.</summary>
    Probes,

    /// <summary>A strip or sender that shows percent.</summary>
    Percent,

    /// <summary>No working monitor: flashlight, meter, counting.</summary>
    None,
}

/// <summary>A tank's monitor.</summary>
/// <param name="Kind">Lamps, percent, or none.</param>
/// <param name="Probes">The probes from low to high; empty unless <paramref name="Kind"/> is <see cref="MonitorKind.Probes"/>.</param>
public sealed record TankMonitor(MonitorKind Kind, IReadOnlyList<Probe> Probes)
{
    /// <summary>No monitor.</summary>
    public static TankMonitor None { get; } = new(MonitorKind.None, []);

    /// <summary>A monitor that shows percent.</summary>
    public static TankMonitor Percent { get; } = new(MonitorKind.Percent, []);

    /// <summary>Lamps at the given probes; they are put in order of height.</summary>
    public static TankMonitor WithProbes(params Probe[] probes) =>
        new(MonitorKind.Probes, [.. probes.OrderBy(p => p.AtFraction)]);
}

/// <summary>A capacity that was in force from a moment on.</summary>
/// <param name="From">The first moment with this capacity.</param>
/// <param name="CapacityL">Litres, above 0.</param>
public sealed record DatedCapacity(NodaTime.OffsetDateTime From, double CapacityL);

/// <summary>A monitor that a tank had up to a moment.</summary>
/// <param name="Until">The first moment without it.</param>
/// <param name="Monitor">The monitor.</param>
public sealed record FormerMonitor(NodaTime.OffsetDateTime Until, TankMonitor Monitor);

/// <summary>A tank that the rig had up to a moment; entries go on pointing to it.</summary>
/// <param name="Until">The first moment without it.</param>
/// <param name="Tank">The tank as it was.</param>
public sealed record FormerTank(NodaTime.OffsetDateTime Until, Tank Tank);

/// <summary>Fresh water on board, as somebody said.</summary>
/// <param name="At">When.</param>
/// <param name="Litres">Litres, 0 or more.</param>
public sealed record FreshLevel(NodaTime.OffsetDateTime At, double Litres);

/// <summary>A holding tank.</summary>
/// <param name="Id">Unique within the rig; entries point to it.</param>
/// <param name="Name">What its people call it.</param>
/// <param name="Role">Black or gray.</param>
/// <param name="CapacityL">Litres to the top, where it overflows; above 0.</param>
public sealed record Tank(string Id, string Name, TankRole Role, double CapacityL)
{
    /// <summary>Litres that still fit once the top probe (or 100 %) reads; 0 up to <see cref="CapacityL"/>.</summary>
    public double RoomAboveFullL { get; init; }

    /// <summary>How its level is shown on the panel.</summary>
    public TankMonitor Monitor { get; init; } = TankMonitor.None;

    /// <summary>Fixtures that drain into it, as free words ("toilet", "shower").</summary>
    public IReadOnlyList<string> Fixtures { get; init; } = [];

    /// <summary>Share of the rig's gray water that runs into this tank, 0..1; null for an equal share.</summary>
    public double? UsageShare { get; init; }

    /// <summary>Length in metres, for the drawing.</summary>
    public double? LengthM { get; init; }

    /// <summary>Width in metres.</summary>
    public double? WidthM { get; init; }

    /// <summary>Depth in metres, for the drawing.</summary>
    public double? DepthM { get; init; }

    /// <summary>
    /// Litres as its plate states them, where less is counted with because the log has shown less; null where <see cref="CapacityL"/> is as stated.
    /// </summary>
    public double? ShrunkFromL { get; init; }

    /// <summary>Litres as stated.</summary>
    public double StatedL => ShrunkFromL ?? CapacityL;

    /// <summary>The tank as its plate states it.</summary>
    public Tank AsStated => ShrunkFromL is { } stated ? this with { CapacityL = stated, ShrunkFromL = null } : this;

    /// <summary>Earlier capacities, oldest first.</summary>
    public IReadOnlyList<DatedCapacity> CapacityHistory { get; init; } = [];

    /// <summary>Monitors it had before, oldest first.</summary>
    public IReadOnlyList<FormerMonitor> FormerMonitors { get; init; } = [];

    /// <summary>The monitor in force at a moment.</summary>
    public TankMonitor MonitorAt(NodaTime.Instant moment) => FormerMonitors.FirstOrDefault(f => moment < f.Until.ToInstant())?.Monitor ?? Monitor;

    /// <summary>Litres in the tank when the top probe, or 100 %, reads.</summary>
    public double FullMarkL => CapacityL - RoomAboveFullL;
}

/// <summary>Inflow of the median household into the tanks of one role; see <see cref="Usage"/>.</summary>
/// <param name="HookupLPerPersonDay">Litres per person and day with water and a drain at the site.</param>
/// <param name="PartialLPerPersonDay">With water but no drain; null for the geometric mean of the other two.</param>
/// <param name="DryLPerPersonDay">Dry camping.</param>
/// <param name="LogSd">Spread between households: standard deviation of the logarithm of their own mean.</param>
public sealed record RoleUsage(double HookupLPerPersonDay, double? PartialLPerPersonDay, double DryLPerPersonDay, double LogSd)
{
    /// <summary>Litres per person and day at a hookup; 0 in storage.</summary>
    public double At(Hookup hookup) => hookup switch
    {
        Hookup.Full or Hookup.GrayDrain => HookupLPerPersonDay,
        Hookup.Partial => PartialLPerPersonDay ?? Math.Sqrt(HookupLPerPersonDay * DryLPerPersonDay),
        Hookup.Dry => DryLPerPersonDay,
        Hookup.Storage => 0,
    };
}

/// <summary>
/// What flows in, for the median household. A household's own mean is this times one factor, log-normal with
/// <see cref="RoleUsage.LogSd"/>; each day scatters around that mean.
/// </summary>
/// <param name="Black">Into black.</param>
/// <param name="Gray">Into all gray tanks together.</param>
public sealed record Usage(RoleUsage Black, RoleUsage Gray)
{
    /// <summary>
    /// What to start from before the log teaches better: black 1.8, 1.4 and 1.0 gal, gray 10, 5.5 and 3.2 gal per person
    /// and day (hookup, partial, dry); practitioners' counts.
    /// </summary>
    public static Usage Default { get; } = new(new RoleUsage(6.8, 5.3, 3.8, 0.45), new RoleUsage(38, 21, 12, 0.45));

    /// <summary>Standard deviation of the logarithm of one day's inflow around the household's own mean (practitioners' counts).</summary>
    public const double DayLogSd = 0.35;

    /// <summary>The usage of one role.</summary>
    public RoleUsage For(TankRole role) => role == TankRole.Black ? Black : Gray;
}

/// <summary>What the rig carries for the work. Null means that the owner has not said.</summary>
public sealed record Equipment
{
    /// <summary>A spray head inside black with its own hose connection.</summary>
    public bool? FlushInlet { get; init; }

    /// <summary>The least flow, in litres a minute, that is taken for one: a head at the weakest tap gives several times as much.</summary>
    public const double MinFlowLPerMin = 0.5;

    /// <summary>Its flow in litres per minute as it was stated or learned.</summary>
    public double? FlushInletLPerMin { get; init; }

    /// <summary>The flow that times are computed from; null if none is known, or what was stated is none.</summary>
    public double? KnownFlowLPerMin => FlushInletLPerMin >= MinFlowLPerMin ? FlushInletLPerMin : null;

    /// <summary>A reverse-flush fitting with its own gate.</summary>
    public bool? ReverseFlush { get; init; }

    /// <summary>"rigid", "flexible" or "none".</summary>
    public string? Wand { get; init; }

    /// <summary>A gate valve at the end of the outlet.</summary>
    public bool? EndValve { get; init; }

    /// <summary>A clear elbow or straight piece in the sewer hose.</summary>
    public bool? ClearPiece { get; init; }

    /// <summary>A backflow preventer between the flush hose and any tank.</summary>
    public bool? BackflowPreventer { get; init; }

    /// <summary>An inline water meter.</summary>
    public bool? WaterMeter { get; init; }

    /// <summary>Litres of the jug or bucket.</summary>
    public double? JugL { get; init; }

    /// <summary>A macerator pump instead of a gravity outlet.</summary>
    public bool? Macerator { get; init; }

    /// <summary>Length of the sewer hose in metres.</summary>
    public double? HoseLengthM { get; init; }

    /// <summary>"straight" or "offset".</summary>
    public string? ToiletDrop { get; init; }

    /// <summary>A gate valve that was added behind the outlet, against a dripping one.</summary>
    public bool? AddOnValve { get; init; }

    /// <summary>A fan in the roof vent; while it runs it can draw air up through the toilet.</summary>
    public bool? VentFan { get; init; }

    /// <summary>A cap with a garden-hose connection, for gray alone where it may run off.</summary>
    public bool? GrayOnlyCap { get; init; }

    /// <summary>Tanks and valves that are heated or enclosed against frost.</summary>
    public bool? FrostProof { get; init; }

    /// <summary>Height of the rig's outlet above the ground in metres.</summary>
    public double? OutletHeightM { get; init; }

    /// <summary>Height of the sewer inlet above the ground in metres; below it is negative.</summary>
    public double? SewerHeightM { get; init; }

    /// <summary>What a 3-inch sewer hose holds, in litres per metre: 0.37 gal per foot (practitioners' figure).</summary>
    public const double HoseLPerM = 0.37 * UsMeasures.GallonL / UsMeasures.FootM;

    /// <summary>Length of a usual sewer hose in metres, 15 ft, where nobody said.</summary>
    public const double UsualHoseM = 4.6;

    /// <summary>Least fall of a sewer hose, as rise over run: 1/4 inch per foot (what practitioners aim for).</summary>
    public const double MinFall = 0.25 / 12;

    /// <summary>Fall of the sewer hose as rise over run; null unless both heights and the length are known.</summary>
    public double? Fall => HoseLengthM is > 0 and var length && OutletHeightM is { } outlet && SewerHeightM is { } sewer ? (outlet - sewer) / length : null;
}

/// <summary>A vehicle or trailer with its tanks, people and house rules.</summary>
/// <param name="Name">What its people call it.</param>
/// <param name="Kind">Free words ("travel-trailer").</param>
/// <param name="People">People aboard before the log says otherwise; 0 or more.</param>
/// <param name="Tanks">At least one tank, ids unique.</param>
public sealed record Rig(string Name, string Kind, int People, IReadOnlyList<Tank> Tanks)
{
    /// <summary>Inflow of the median household; null for <see cref="Usage.Default"/>.</summary>
    public Usage? Usage { get; init; }

    /// <summary>What the rig carries; null if nothing was said.</summary>
    public Equipment? Equipment { get; init; }

    /// <summary>House rules; null for <see cref="HouseRules.Default"/>.</summary>
    public HouseRules? Rules { get; init; }

    /// <summary>Litres of fresh water the rig can carry.</summary>
    public double? FreshCapacityL { get; init; }

    /// <summary>Fresh water on board when somebody last said; null if nobody did.</summary>
    public FreshLevel? Fresh { get; init; }

    /// <summary>Tanks it had before, oldest first.</summary>
    public IReadOnlyList<FormerTank> FormerTanks { get; init; } = [];

    /// <summary>What is on its shelf. Of several of a kind the first that is not retired is the one in use.</summary>
    public IReadOnlyList<Product> Products { get; init; } = [];

    /// <summary>Drains that get no daily water, as free words; null if nobody has said, so that no trap is ever due.</summary>
    public IReadOnlyList<string>? UnusedFixtures { get; init; }

    /// <summary>Chores of its own.</summary>
    public IReadOnlyList<OwnChore> Chores { get; init; } = [];

    /// <summary>Chores that are switched off, by their word or id.</summary>
    public IReadOnlyList<string> ChoresOff { get; init; } = [];

    /// <summary>Reminders count from then on, as if all had been done that day; null for all that the log tells.</summary>
    public NodaTime.OffsetDateTime? CareFrom { get; init; }

    /// <summary>The tank with this id, also one the rig no longer has; or null.</summary>
    public Tank? FindEver(string? tankId) => Find(tankId) ?? FormerTanks.LastOrDefault(f => f.Tank.Id == tankId)?.Tank;

    /// <summary>The rules in force.</summary>
    public HouseRules RulesInForce => Rules ?? HouseRules.Default;

    /// <summary>The tank with this id, or null.</summary>
    public Tank? Find(string? tankId) => Tanks.FirstOrDefault(t => t.Id == tankId);

    /// <summary>
    /// Inflow of the median household into one tank in litres per person and day: the role's usage times the tank's share.
    /// Shares that were not stated are an equal part of what the stated ones leave.
    /// </summary>
    public double MedianInflow(Tank tank, Hookup hookup)
    {
        ArgumentNullException.ThrowIfNull(tank);
        return (Usage ?? Usage.Default).For(tank.Role).At(hookup) * Share(tank);
    }

    private double Share(Tank tank)
    {
        if (tank.UsageShare is { } stated) return stated;
        var same = Tanks.Where(t => t.Role == tank.Role).ToList();
        if (same.Count <= 1) return 1;
        var left = Math.Max(0, 1 - same.Sum(t => t.UsageShare ?? 0));
        return left / same.Count(t => t.UsageShare is null);
    }
}
