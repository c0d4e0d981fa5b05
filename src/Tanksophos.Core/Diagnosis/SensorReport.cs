using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Diagnosis;

/// <summary>The sensors of one tank.</summary>
/// <param name="Belief">What is believed of the tank.</param>
/// <param name="Findings">One finding per probe, low to high; empty without probes.</param>
public sealed record TankSensors(TankBelief Belief, IReadOnlyList<ProbeFinding> Findings);

/// <summary>
/// Everything there is to say of the sensors of a rig: verdicts with their reasons, the checks that would settle what is open, the recovery ladder.
/// </summary>
/// <param name="Tanks">One per tank, in the rig's order.</param>
/// <param name="PanelFault">Probability that the whole panel is at fault.</param>
/// <param name="PanelDead">The part of it in which all lamps are dark.</param>
/// <param name="Courses">The recovery courses that are due.</param>
/// <param name="Recoveries">Lamps that came back, the latest first.</param>
/// <param name="NextChecks">The checks worth doing, best first.</param>
public sealed record SensorReport(IReadOnlyList<TankSensors> Tanks, double PanelFault, double PanelDead, IReadOnlyList<SensorCourse> Courses,
    IReadOnlyList<Recovery> Recoveries, IReadOnlyList<NextCheck> NextChecks)
{
    /// <summary>Makes the report from a belief and the log behind it.</summary>
    /// <param name="logbook">The log.</param>
    /// <param name="belief">What is believed about it.</param>
    public static SensorReport Compute(Logbook logbook, LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        var entries = logbook.InOrder();
        List<TankSensors> tanks = [.. belief.Tanks.Select(t => new TankSensors(t, ProbeFindings.Compute(t, LevelSmoother.Probes(t, entries))))];
        return new SensorReport(tanks, belief.PanelFault, belief.PanelDead, SensorLadder.Courses(logbook.Rig, tanks, entries),
            SensorLadder.Recoveries(logbook.Rig, tanks, entries), Diagnosis.NextChecks.Compute(belief, belief.InForce));
    }
}
