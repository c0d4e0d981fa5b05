using Tanksophos.Core.Care;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Practice;

/// <summary>A black tank after some rinses, and the drain of the last of them.</summary>
/// <param name="Corners">Dirt in the corners and on the walls, 0..1.</param>
/// <param name="First">Dirt in what runs first.</param>
/// <param name="Middle">Dirt in the middle of the drain.</param>
/// <param name="Last">Dirt in the last trickle.</param>
public readonly record struct RinseState(double Corners, double First, double Middle, double Last);

/// <summary>
/// What a rinse takes along: the middle of the tank at once, the corners by and by. The middle of a drain runs clear long before the corners are; only the last
/// trickle comes from there. The figures are a judgement: two or three rinses of a third of the tank, as practitioners count them.
/// </summary>
public static class RinseModel
{
    /// <summary>Rinses that are played.</summary>
    public const int Most = 6;

    /// <summary>So little dirt leaves the end clear, and from here on it is dark.</summary>
    public const double ClearBelow = 0.12, DarkFrom = 0.5;

    /// <summary>Dirt in the corners after a dump without a rinse, and the share of it that a rinse leaves there.</summary>
    public const double AfterDump = 0.6, Leaves = 0.35;

    internal const double MiddleAfterDump = 0.45, MiddleLeaves = 0.15;

    /// <summary>The tank after the dump and after each rinse.</summary>
    public static IReadOnlyList<RinseState> Play()
    {
        var made = new List<RinseState> { new(AfterDump, 1, MiddleAfterDump, AfterDump) };
        while (made.Count <= Most)
        {
            var before = made[^1];
            made.Add(new RinseState(Leaves * before.Corners, before.Corners, MiddleLeaves * before.Middle, Leaves * before.Corners));
        }
        return made;
    }

    /// <summary>How water with so much dirt in it looks.</summary>
    /// <param name="dirt">0..1.</param>
    public static EndColor Looks(double dirt) => dirt < ClearBelow ? EndColor.Clear : dirt < DarkFrom ? EndColor.Tinted : EndColor.Dark;
}

/// <summary>Water in the trap of a drain that nobody uses.</summary>
public static class TrapModel
{
    /// <summary>Days that are played.</summary>
    public const int Days = 30;

    // A cup or two every fortnight keeps a trap; left alone it is dry half as long again after (a judgement; sooner in the heat).
    private const double DryAfterDays = 1.5 * CareReport.TrapDays;

    /// <summary>Share of the water that is left; at 0 air passes.</summary>
    /// <param name="days">Days since water ran.</param>
    public static double Water(int days) => Math.Clamp(1 - days / DryAfterDays, 0, 1);
}

/// <summary>What hangs at a probe.</summary>
public enum ProbeHangs
{
    /// <summary>Nothing.</summary>
    Clean,

    /// <summary>A wet film after a dump.</summary>
    Film,

    /// <summary>Wet paper from the probe to the wall.</summary>
    Paper,

    /// <summary>Its wire is broken.</summary>
    Wire,
}

/// <summary>Why a light is on: water at the probe, or something else that closes the circuit.</summary>
public static class ProbeModel
{
    /// <summary>Hours that a wet film holds a light after a dump, at most.</summary>
    public const double FilmHours = ProbeFindings.FilmHours;

    /// <summary>Whether the light is on.</summary>
    /// <param name="hangs">What hangs at it.</param>
    /// <param name="reached">Whether liquid reaches it.</param>
    /// <param name="hours">Hours since the dump.</param>
    public static bool Lit(ProbeHangs hangs, bool reached, double hours) => hangs switch
    {
        ProbeHangs.Wire => false,
        ProbeHangs.Paper => true,
        ProbeHangs.Film => reached || hours < FilmHours,
        ProbeHangs.Clean => reached,
    };
}
