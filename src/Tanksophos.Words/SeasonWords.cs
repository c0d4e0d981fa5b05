using Tanksophos.Core.Care;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

/// <summary>Says the steps of closing and opening the season.</summary>
/// <param name="rig">The rig, for names.</param>
/// <param name="units">The person's units.</param>
public sealed class SeasonWords(Rig rig, Units units)
{
    private string Tank(SeasonStep step) => TimeWords.Lower(rig.FindEver(step.Tank)?.Name ?? step.Tank ?? "");

    /// <summary>A step's heading.</summary>
    /// <param name="step">The step.</param>
    public string Title(SeasonStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return step.Code switch
        {
            SeasonStepCode.Dump => "Dump all tanks",
            SeasonStepCode.RinseTwice => $"Rinse {Tank(step)} until it runs clear twice",
            SeasonStepCode.DeepClean => $"Deep clean {Tank(step)}",
            SeasonStepCode.Gray => $"Clean {Tank(step)}",
            SeasonStepCode.Bowl => "Clean the bowl and its seal",
            SeasonStepCode.Heater => "Drain the water heater",
            SeasonStepCode.Drain => "Open the low points",
            SeasonStepCode.Antifreeze => "Antifreeze in traps and pump",
            SeasonStepCode.Traps => "Water in every trap",
            SeasonStepCode.StorageWater => $"Put {units.Volume(step.WaterL ?? 0)} of treated water into {Tank(step)}",
            SeasonStepCode.Hose => "Rinse, dry and box the hose",
            SeasonStepCode.Cap => "Valves closed, cap on",
            SeasonStepCode.SealHolds => "Does the bowl hold water?",
            SeasonStepCode.Valves => "Work the valves",
            SeasonStepCode.Vent => "Look at the vent cap",
            SeasonStepCode.CapDry => "Cap off: is it dry?",
            SeasonStepCode.WaterOn => "Flush the lines, water on",
            SeasonStepCode.Starter => $"Put {units.Volume(step.WaterL ?? 0)} of starter water into {Tank(step)}",
            SeasonStepCode.Dose => $"Dose {Tank(step)}{(step.Amount is { } a ? $": {a}" : "")}",
            SeasonStepCode.FirstReading => "Read the panel",
        };
    }

    /// <summary>How it is done.</summary>
    /// <param name="step">The step.</param>
    /// <param name="asked">What was said before the first step.</param>
    public IReadOnlyList<string> Lines(SeasonStep step, SeasonAsked asked)
    {
        ArgumentNullException.ThrowIfNull(step);
        ArgumentNullException.ThrowIfNull(asked);
        return step.Code switch
        {
            SeasonStepCode.Dump => asked.Sewer ? ["Black first, then gray. The dump run takes you through it."]
                : ["No sewer here. Stop at a dump station first: stored waste dries hard in the corners."],
            SeasonStepCode.RinseTwice => ["Once is not enough. The last trickle has to run clear two times in a row."],
            SeasonStepCode.DeepClean => ["Soak, scrub or reverse floods, by your house rule. Then dump and rinse."],
            SeasonStepCode.Gray => [CareWords.Degrease(rig.FindEver(step.Tank)?.CapacityL ?? 0, units), "Galley first: its grease goes rancid."],
            SeasonStepCode.Bowl => ["Clean the seal and its groove. Conditioner on the seal.",
                asked.Frost ? "RV antifreeze on top of it, no water." : "A little water on top of it keeps it soft."],
            SeasonStepCode.Heater => ["Gas and electric off. Let it cool for hours.", "Open a hot faucet: no pressure left. Only then open the drain."],
            SeasonStepCode.Drain => ["Open all low points and faucets, the outside shower too. Pump off.",
                "Fresh tank empty. Close them when nothing drips."],
            SeasonStepCode.Antifreeze => [$"{CareWords.TrapWater(units)} in each trap and the bowl, and through the pump by the maker's manual.",
                "RV antifreeze only. Car antifreeze is poison."],
            SeasonStepCode.Traps => [$"{CareWords.TrapWater(units)} in each: shower, sinks, washer. Flap traps too."],
            SeasonStepCode.StorageWater => step.WaterL > 40
                ? [$"It weighs {units.Load(step.WaterL.Value)}. Check what your axles carry.", $"{step.Amount ?? "The treatment by its label"} with it."]
                : [$"{step.Amount ?? "The treatment by its label"} with it. It keeps what is left from drying hard."],
            SeasonStepCode.Hose => ["Inside and outside, drip it dry, look for holes and worn gaskets. Both ends capped, in its box."],
            SeasonStepCode.Cap => ["All valves closed. Cap on, both lugs turned."],
            SeasonStepCode.SealHolds => ["Put water in the bowl and wait 10 minutes. Gone? Clean and condition the seal."],
            SeasonStepCode.Valves => ["Pull each one a few times. Stiff: oil it first, never force it."],
            SeasonStepCode.Vent => ["From a ladder, with a helper: cap there, no nest in it."],
            SeasonStepCode.CapDry => ["Valves closed, bucket under it. Drips mean a valve leaks."],
            SeasonStepCode.WaterOn => ["Rinse the antifreeze out of the lines into the gray tank. Heater full before it is switched on."],
            SeasonStepCode.Starter => ["Through the toilet. It covers the bottom."],
            SeasonStepCode.Dose => ["Follow the label. One product at a time."],
            SeasonStepCode.FirstReading => ["Before any water goes in: every light should be off. One that is on reads wrong."],
        };
    }

    /// <summary>What can hurt there; null for nothing.</summary>
    /// <param name="step">The step.</param>
    public static string? Caution(SeasonStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return step.Code switch
        {
            SeasonStepCode.Dump or SeasonStepCode.RinseTwice or SeasonStepCode.Bowl or SeasonStepCode.CapDry =>
                "Sewage carries disease. Wear gloves and wash your hands.",
            SeasonStepCode.Heater => "Scalding water under pressure. Gas and electric work: a licensed person.",
            SeasonStepCode.Antifreeze or SeasonStepCode.Drain => "Water that freezes splits tanks, valves, pumps and traps. Your maker's manual comes first.",
            SeasonStepCode.DeepClean or SeasonStepCode.StorageWater or SeasonStepCode.Dose =>
                "Poisonous gas: never bleach with anything else. Follow the labels.",
            SeasonStepCode.Vent => "A fall from the roof can kill you. Stay off it when it is wet or windy.",
            _ => null,
        };
    }
}
