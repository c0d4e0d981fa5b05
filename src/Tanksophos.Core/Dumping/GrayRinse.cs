using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>How much gray water is wanted when black is dumped, so that it rinses the hose afterwards.</summary>
public static class GrayRinse
{
    /// <summary>Gray rinse volume is at least so many times what the hose holds (practitioners' rule).</summary>
    public const double HoseVolumes = 4;

    /// <summary>More than this share of a gray tank is not waited for.</summary>
    public const double MaxShare = 0.75;

    /// <summary>Gray is not kept closed for longer than this to be full enough at a dump.</summary>
    public static readonly NodaTime.Duration LongestBanking = NodaTime.Duration.FromDays(2);

    /// <summary>Litres that the sewer hose of a rig holds.</summary>
    public static double HoseL(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return (rig.Equipment?.HoseLengthM ?? Equipment.UsualHoseM) * Equipment.HoseLPerM;
    }

    /// <summary>
    /// Litres wanted in one gray: the larger of the house rule's share and its part of four hose volumes, which all grays that go in the same run give together
    /// by their size; at most three quarters of the tank.
    /// </summary>
    /// <param name="rig">The rig.</param>
    /// <param name="rules">The rules in force.</param>
    /// <param name="gray">The tank.</param>
    public static double TargetL(Rig rig, HouseRules rules, Tank gray)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(rules);
        ArgumentNullException.ThrowIfNull(gray);
        var all = rig.Tanks.Where(t => t.Role == TankRole.Gray).Sum(t => t.CapacityL);
        return Math.Min(MaxShare * gray.CapacityL, Math.Max(rules.GrayTargetAtDump * gray.CapacityL, HoseVolumes * HoseL(rig) * gray.CapacityL / all));
    }

    /// <summary>Litres wanted in all grays together.</summary>
    public static double TargetL(Rig rig, HouseRules rules)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return rig.Tanks.Where(t => t.Role == TankRole.Gray).Sum(t => TargetL(rig, rules, t));
    }
}
