using Tanksophos.Core.Log;

namespace Tanksophos.Core.Levels;

/// <summary>Whether the panel as a whole is at fault, shared by all tanks: low battery, ground, the panel itself.</summary>
internal sealed class PanelState
{
    // A panel fails as a whole far more rarely than a probe fouls, and somebody mends it within weeks. No figure is on record; these are guesses of size.
    private const double DeadPerDay = 1 / 600.0, AllLitPerDay = 1 / 4000.0, MendedPerDay = 1 / 25.0;
    private const double Slip = 0.01;

    private double dead = 0.01, allLit = 0.002;

    /// <summary>Chance that all lamps are dark whatever the level.</summary>
    public double Dead => dead;

    /// <summary>Chance that all lamps are lit whatever the level.</summary>
    public double AllLit => allLit;

    /// <summary>Chance that the panel is at fault.</summary>
    public double Probability => dead + allLit;

    public PanelState Copy() => (PanelState)MemberwiseClone();

    public void Age(double days)
    {
        // Failing and mending over any time, also over a winter: the three cases settle where as many panels fail as are mended.
        const double all = DeadPerDay + AllLitPerDay + MendedPerDay, settled = MendedPerDay / all;
        var (stay, slow) = (Math.Exp(-MendedPerDay * days), Math.Exp(-all * days));
        var well = 1 - dead - allLit;
        var failed = settled * (1 - stay) / MendedPerDay + (well - settled) * (stay - slow) / (all - MendedPerDay);
        dead = dead * stay + DeadPerDay * failed;
        allLit = allLit * stay + AllLitPerDay * failed;
    }

    /// <summary>Likelihood of a pattern if every lamp is dark, and if every lamp is lit.</summary>
    public static (double Dead, double AllLit) Likelihood(int lit, int dark) =>
        (Math.Pow(Slip, lit) * Math.Pow(1 - Slip, dark), Math.Pow(Slip, dark) * Math.Pow(1 - Slip, lit));

    /// <summary>Weighs the three cases by likelihoods.</summary>
    public void Weigh(double ifWell, double ifDead, double ifAllLit)
    {
        var sum = (1 - dead - allLit) * ifWell + dead * ifDead + allLit * ifAllLit;
        if (!(sum > 1e-300)) return;
        dead = dead * ifDead / sum;
        allLit = allLit * ifAllLit / sum;
    }

    public void Apply(LogEntry entry)
    {
        switch (entry)
        {
            case SymptomEntry { Code: SymptomCode.LampsDead }:
                Weigh(0.1, 0.9, 0.01);
                break;
            case SymptomEntry { Code: SymptomCode.LampsAllOn }: // as often every probe is fouled
                Weigh(0.2, 0.01, 0.9);
                break;
            case CheckEntry { Code: CheckCode.BatteryOk, Result: CheckResult.Pass }: // a low battery is the commonest cause
                Weigh(0.95, 0.2, 0.08);
                break;
            case CheckEntry { Code: CheckCode.BatteryOk, Result: CheckResult.Fail }:
                Weigh(0.1, 0.8, 0.5);
                break;
            case CheckEntry { Code: CheckCode.WiringOk, Result: CheckResult.Pass }:
                Weigh(0.95, 0.25, 0.25);
                break;
            case CheckEntry { Code: CheckCode.WiringOk, Result: CheckResult.Fail }:
                Weigh(0.3, 0.7, 0.7);
                break;
            case ServiceEntry { Code: ServiceCode.WiringRepaired, Tank: null }:
                (dead, allLit) = (0.02 * dead, 0.05 * allLit);
                break;
        }
    }

    public void Save(BinaryWriter to)
    {
        to.Write(dead);
        to.Write(allLit);
    }

    public void Load(BinaryReader from) => (dead, allLit) = (from.ReadDouble(), from.ReadDouble());
}
