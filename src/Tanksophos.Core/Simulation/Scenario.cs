using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Simulation;

/// <summary>True state of a probe in a simulated rig.</summary>
public enum ProbeState
{
    /// <summary>Lit exactly while liquid is at or above it.</summary>
    Working,

    /// <summary>Always lit: fouled.</summary>
    StuckOn,

    /// <summary>Never lit: wire or stud.</summary>
    StuckOff,
}

/// <summary>A fault that sets in on a day.</summary>
/// <param name="Tank">Id of the tank.</param>
/// <param name="Probe">Id of the probe.</param>
/// <param name="State">The state from then on.</param>
/// <param name="FromDay">First day of the fault, counted from 0.</param>
public sealed record ScenarioFault(string Tank, string Probe, ProbeState State, double FromDay);

/// <summary>What may be wrong with a tank beside its probes.</summary>
public enum Trouble
{
    /// <summary>A coat on walls and in corners: more cycles until it runs clear, less room.</summary>
    Buildup,

    /// <summary>Solids under the toilet drop.</summary>
    Heap,

    /// <summary>Little comes out, slowly.</summary>
    OutletClog,

    /// <summary>No air comes in from above.</summary>
    VentBlocked,

    /// <summary>The valve drips.</summary>
    ValveLeak,

    /// <summary>The valve moves hard.</summary>
    ValveStiff,
}

/// <summary>A trouble that sets in on a day and stays.</summary>
/// <param name="Tank">Id of the tank.</param>
/// <param name="Code">What it is.</param>
/// <param name="FromDay">Its first day, counted from 0.</param>
public sealed record ScenarioTrouble(string Tank, Trouble Code, double FromDay);

/// <summary>What to simulate.</summary>
/// <param name="Seed">Seed of the generator: the same seed gives the same season.</param>
/// <param name="Days">Length in days, 1 or more.</param>
/// <param name="Rig">The rig.</param>
/// <param name="Faults">Faults of its probes.</param>
public sealed record Scenario(long Seed, int Days, Rig Rig, IReadOnlyList<ScenarioFault> Faults)
{
    /// <summary>What is wrong beside the probes.</summary>
    public IReadOnlyList<ScenarioTrouble> Troubles { get; init; } = [];
}
