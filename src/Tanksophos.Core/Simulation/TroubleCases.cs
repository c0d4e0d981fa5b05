using Tanksophos.Core.Log;

namespace Tanksophos.Core.Simulation;

/// <summary>What can be wrong with the black tank of a practice case, in the order in which the diagnosis lists conditions.</summary>
internal enum CrewIllness
{
    /// <summary>A coat on the walls.</summary>
    Buildup,

    /// <summary>A heap under the toilet.</summary>
    Heap,

    /// <summary>A clogged outlet.</summary>
    OutletClog,

    /// <summary>A blocked vent.</summary>
    VentBlocked,

    /// <summary>A leaking valve.</summary>
    ValveLeak,

    /// <summary>A stiff valve.</summary>
    ValveStiff,
}

/// <summary>What can smell in a practice case, in the order in which the diagnosis lists causes.</summary>
internal enum CrewSmell
{
    /// <summary>The fan.</summary>
    FanDraw,

    /// <summary>The bowl's seal.</summary>
    BowlSeal,

    /// <summary>Black has turned.</summary>
    BlackAnaerobic,

    /// <summary>Black is coated.</summary>
    BlackCoated,

    /// <summary>A dry trap.</summary>
    DryTrap,

    /// <summary>Grease in gray.</summary>
    GrayGreasy,

    /// <summary>An open valve.</summary>
    ValveOpenToSewer,

    /// <summary>The vent.</summary>
    VentBlocked,

    /// <summary>Hose or cap.</summary>
    HoseOrCap,

    /// <summary>Propane.</summary>
    Propane,
}

/// <summary>A season of an invented crew with one thing wrong, or nothing.</summary>
/// <param name="Logbook">What the crew wrote down.</param>
/// <param name="Condition">What was wrong with black; null if it was a smell or nothing.</param>
/// <param name="Odor">What smelled; null if nothing did.</param>
internal sealed record TroubleCase(Logbook Logbook, CrewIllness? Condition, CrewSmell? Odor)
{
    /// <summary>Whether nothing was wrong.</summary>
    public bool Healthy => Condition is null && Odor is null;
}

/// <summary>
/// Makes cases to try the diagnosis on. What a crew notices and writes down is drawn by chances of its own, not by the diagnosis' tables: people forget,
/// mistake one thing for another, and
/// healthy rigs gurgle too.
/// </summary>
internal static class TroubleCases
{
    /// <summary>A case.</summary>
    /// <param name="seed">Seed; the same seed gives the same case.</param>
    /// <param name="condition">What is wrong with black; null for no condition.</param>
    /// <param name="odor">What smells; null for no smell.</param>
    public static TroubleCase Make(long seed, CrewIllness? condition = null, CrewSmell? odor = null) =>
        new(new Crew(seed, condition, odor).Write(), condition, odor);

    /// <summary>The kinds of cases in turn: six conditions, ten smells, and as many healthy rigs as there are conditions.</summary>
    /// <param name="count">How many.</param>
    /// <param name="seed">Seed of the first.</param>
    public static IEnumerable<TroubleCase> Many(int count, long seed = 1)
    {
        for (var i = 0; i < count; i++)
        {
            var kind = i % 22;
            yield return Make(seed + 7919L * i, kind < 6 ? (CrewIllness)kind : null, kind is >= 6 and < 16 ? (CrewSmell)(kind - 6) : null);
        }
    }
}
