using System.Globalization;
using Tanksophos.Core.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Words;

/// <summary>Words for what a rig is made of.</summary>
public static class RigWords
{
    /// <summary>The drains that usually feed a tank, by the words that rigs are described with.</summary>
    /// <param name="role">What the tank holds.</param>
    public static IReadOnlyList<string> UsualDrains(TankRole role) =>
        role == TankRole.Black ? ["toilet", "bath-sink"] : ["galley-sink", "bath-sink", "shower", "second-bath", "outside-kitchen", "washer"];

    /// <summary>A drain's name for people: "Galley sink".</summary>
    /// <param name="drain">The rig's word for it.</param>
    public static string Drain(string drain)
    {
        ArgumentNullException.ThrowIfNull(drain);
        return TimeWords.Capital(drain.Replace('-', ' ').Trim());
    }

    /// <summary>What looks odd about a rig.</summary>
    /// <param name="doubt">What.</param>
    /// <param name="rig">The rig.</param>
    /// <param name="units">Measures.</param>
    public static string Doubt(RigDoubt doubt, Rig rig, Units units)
    {
        ArgumentNullException.ThrowIfNull(doubt);
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(units);
        return doubt.What switch
        {
            Implausible.Capacity => RigSays.TanksUsuallyHold(doubt.Tank!.Name, units.Volume(doubt.Tank.CapacityL), units.Number(Plausibility.SmallTankL),
                units.Volume(Plausibility.LargeTankL)),
            Implausible.RoomAboveFull => RigSays.TheTopLightComesOnAt(doubt.Tank!.Name, StepWords.Percent(doubt.Tank.Monitor.Probes[^1].AtFraction),
                units.Volume(doubt.Tank.RoomAboveFullL), StepWords.Percent(doubt.Tank.FullMarkL / doubt.Tank.CapacityL)),
            Implausible.ProbesTogether => RigSays.TwoSensorsAreAtNearlyThe(doubt.Tank!.Name),
            Implausible.Shares => RigSays.TheSharesOfTheGraysDo,
            Implausible.HoseLength => RigSays.TheSewerHoseIsLong(units.Distance(rig.Equipment!.HoseLengthM!.Value), units.Distance(Plausibility.ShortestHoseM),
                units.Distance(Plausibility.LongestHoseM)),
            Implausible.Steep => RigSays.TheSewerHoseWouldFallCheck(Fall(rig, units)),
            _ => RigSays.TheSewerHoseFallsTooLittle(Fall(rig, units)),
        };
    }

    /// <summary>How steeply the sewer hose falls; empty if that is not known.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="units">Measures.</param>
    public static string Fall(Rig rig, Units units)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return rig.Equipment?.Fall is not { } fall ? "" : units == Units.Us
            ? RigSays.InPerFoot((fall * 12).ToString("0.##", CultureInfo.InvariantCulture))
            : RigSays.CmPerMeter((fall * 100).ToString("0.#", CultureInfo.InvariantCulture));
    }
}
