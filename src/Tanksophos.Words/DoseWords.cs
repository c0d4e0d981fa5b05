using System.Globalization;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Words;

/// <summary>The lines of a dose in words.</summary>
public static class DoseWords
{
    /// <summary>Says a line.</summary>
    /// <param name="line">The line.</param>
    /// <param name="units">Measures.</param>
    /// <exception cref="ArgumentOutOfRangeException">A note without words; a test goes through all notes.</exception>
    public static string Of(DoseLine line, KitchenUnits units)
    {
        ArgumentNullException.ThrowIfNull(line);
        string W(double? litres) => Water(litres ?? 0, units);
        string S(double? ml) => DoseCalculator.Small(ml ?? 0, units);
        string G(double? grams) => DoseCalculator.Weight(grams ?? 0, units);
        return line.Note switch
        {
            DoseNote.ReadLabel => "Read the label first. It goes before every figure here.",
            DoseNote.KeepAway => "Keep from kids and pets. Gloves and eye protection on.",
            DoseNote.NeverWithBleach => "Poisonous gas: never with bleach, acid or other cleaners.",
            DoseNote.AskOnSeptic => "Some parks on septic systems forbid certain chemicals. Ask.",
            DoseNote.OwnLabel => $"Its label: {line.Text}",
            DoseNote.LivingCultures => "Living cultures: bleach kills them. After bleach rinse twice first. Use only one digester.",
            DoseNote.NoFormaldehydeOnSeptic => "On a septic system nothing with formaldehyde. Use only one digester.",
            DoseNote.NoPineOil => "No cleaner of pure pine oil: it is corrosive.",
            DoseNote.NeverLeftDry => "Never leave a tank in use dry: waste dries hard on a bare tank bottom.",
            DoseNote.BeforeADrive => "This treatment goes in monthly or before a drive, not after each dump.",
            DoseNote.CoverBottom => $"Put in {W(line.Litres)}: enough to cover the bottom.",
            DoseNote.WaterOnly => "Nothing else. Flush with plenty of water each time.",
            DoseNote.WaterIntoClean => $"Put {W(line.Litres)} into the emptied and rinsed tank.",
            DoseNote.PutIn => (line.Recipe == DoseRecipe.SoftenerCleaner ? "Shake the solution, then pour in"
                : line.Ingredient?.Product?.Dose?.Unit == DoseUnit.Piece ? "Drop in" : "Pour in") + $" {line.Ingredient?.Amount} of {line.Ingredient?.Name}.",
            DoseNote.CountSmallAmounts =>
                $"The level is not known. Put the water in {W(line.Litres)} to {W(line.More)} at a time, count it, and look down between.",
            DoseNote.PourSlowly => "The level is not known. Pour slowly, count it, and look down as you pour.",
            DoseNote.DoubledForHeat => "Double dose for the heat. Never more than the label's maximum.",
            DoseNote.AgainLater => $"A dose works for about {(line.LastsDays == RoutineDose.LastsDays ? "a week" : $"{line.LastsDays} days")}. Put in the same "
                + $"again on day {line.LastsDays}.",
            DoseNote.StarterRule => $"Water: a tenth of the tank ({W(line.Litres)}), at least a gallon, and what the dose asks for; at most a quarter of "
                + $"the tank.",
            DoseNote.OnlyFits => $"Only {W(line.Litres)} fits to be safe.",
            DoseNote.UsualDose => line.Recipe switch
            {
                DoseRecipe.Enzyme => $"{S(8 * UsMeasures.FluidOunceMl)} for each {W(40 * UsMeasures.GallonL)} of tank: {W(line.Litres)} takes {S(line.Ml)}.",
                DoseRecipe.SoftenerCleaner =>
                    $"{(units == KitchenUnits.Us ? "1/2 cup" : "120 mL")} up to {W(40 * UsMeasures.GallonL)}, twice that above. This tank holds "
                    + $"{W(line.Litres)}.",
                _ => $"{(line.Ml > 0 ? S(line.Ml) : G(line.Grams))}: the usual amount, any tank.",
            },
            DoseNote.LabelOutranks => "This is the usual amount. Put your product on the shelf, and its label counts.",
            DoseNote.HotDay => $"The hottest day, {Heat(line.HeatC ?? 0, units)}, is over "
                + $"{(units == KitchenUnits.Us ? "85 F" : Heat(RoutineDose.HotC, units))}: double, and never more than double.",
            DoseNote.LongFill => $"{(line.Days ?? 0).ToString("0.#", CultureInfo.InvariantCulture)} days is longer than a dose works ({line.LastsDays}). Add "
                + $"the same again on day {line.LastsDays}, never more at one time.",
            DoseNote.ShareOfTank => $"Water: {(line.Share ?? 0).ToString("0 %", CultureInfo.InvariantCulture)} of {W(line.Litres)} is {W(line.More)}.",
            DoseNote.AnyTankWater => $"Water: {W(line.Litres)}, any tank.",
            DoseNote.CoverPile => $"Water: enough to cover the waste pile. Start with {W(line.Litres)}.",
            DoseNote.StorageWater => $"Water: about 7 % of {W(line.More)}, at least a gallon: {W(line.Litres)}.",
            DoseNote.UsualAmount => $"{TimeWords.Capital(line.Text ?? "")}: {S(line.Ml)}, the usual amount, any tank.",
            DoseNote.ByItsLabel => $"{TimeWords.Capital(line.Text ?? "")}: by its label. Add it to your shelf with its label's dose to get the amount.",
            DoseNote.LabelDose => line.Litres is { } per ? $"The label of {line.Text}: {line.Amount} for each {W(per)}. {W(line.More)} takes {line.Total}."
                : $"The label of {line.Text}: {line.Amount} a tank.",
            DoseNote.LabelMost => $"The label's maximum is {line.Amount} a tank.",
            DoseNote.IceWeight => $"Ice: {G(line.Grams)} for {W(line.Litres)}, at least {G(line.MinGrams)} and at most {G(line.MaxGrams)}. Some use ice alone, "
                + $"and people disagree on how much it helps.",
            DoseNote.DetergentShare => $"Detergent: {S(line.Ml)} for each {W(line.Litres)}: {S(line.MoreMl)}.",
            DoseNote.WeightOnTheRoad => $"Weight: {W(line.Litres)} of water and the ice are {G(line.Grams)}.",
            DoseNote.RecipeStep => Step(line, W),
            DoseNote.RecipeCaution => Caution(line, W, G),
            _ => throw new ArgumentOutOfRangeException(nameof(line), line.Note, null),
        };
    }

    private static string Step(DoseLine line, Func<double?, string> w) => (line.Recipe, line.Number) switch
    {
        (DoseRecipe.TravelScrub, 1) => $"Dissolve all the borax in {w(line.More)} of hot water, or it turns to sediment.",
        (DoseRecipe.TravelScrub, 2) => $"Before you drive, pour it and the soap onto the waste. Add warm water to {w(line.Litres)} total, only if it fits.",
        (DoseRecipe.TravelScrub, 3) => "Drive. Longer is better.",
        (DoseRecipe.TravelScrub, 4) => "Dump, refill to 1/2 to 2/3, dump again.",
        (DoseRecipe.TravelScrub, 5) => "For sensors: 1 cup of borax, on 4 to 6 dumps in a row until they recover. Then each trip or monthly.",
        (DoseRecipe.Freshener, 1) => $"Try water alone first: {w(line.Litres)}.",
        (DoseRecipe.Freshener, 2) => "If the smell stays, dissolve all the borax and pour it in with the same amount of water.",
        (DoseRecipe.SoftenerSoak, 1) => $"Dissolve all the softener in {w(line.More)} of hot water.",
        (DoseRecipe.SoftenerSoak, 2) =>
            $"Pour both into the emptied and rinsed tank and fill it, while you watch, to {w(line.Litres)} total. Leave room for what you use meanwhile.",
        (DoseRecipe.SoftenerSoak, 3) => "Let it sit 24 hours.",
        (DoseRecipe.IceScrub, 1) => "Pour the ice down the toilet into the emptied tank.",
        (DoseRecipe.IceScrub, 2) => $"Add the detergent and {w(line.Litres)} of water, half a tank.",
        (DoseRecipe.IceScrub, 3) => "Drive two hours or until it has melted. Curvy roads help.",
        (DoseRecipe.SoapSoak, 1) => $"Pour in the soap and fill to {w(line.Litres)} total. Leave room for the night.",
        (DoseRecipe.SoapSoak, 2) => "Let it sit overnight.",
        (DoseRecipe.SanitizeBleach, 1) => "Only after the tank was dumped and rinsed until clear, with no waste left in it.",
        (DoseRecipe.SanitizeBleach, 2) => $"Fill with {w(line.Litres)} of clean water, then pour in the bleach.",
        (DoseRecipe.SanitizeBleach, 3) => "Take a short drive. Never let it sit.",
        (DoseRecipe.SanitizeBleach, 4) => "Dump at once, then fill and dump clean water twice.",
        (DoseRecipe.SensorCleaner, 1) => $"Fill the clean tank, usually all the way ({w(line.Litres)}), by the label.",
        (DoseRecipe.SensorCleaner, 2) => "Let it sit overnight.",
        (DoseRecipe.SensorCleaner, 3) => "Dump and rinse. Look at the panel the next day.",
        (DoseRecipe.PaperDigester, 1) => $"Put in enough water to cover the waste pile. Start with {w(line.Litres)}.",
        (DoseRecipe.PaperDigester, 2) => "Pour in the digester by its label.",
        (DoseRecipe.PaperDigester, 3) => "Let it sit 24 hours. Don't use the toilet.",
        (DoseRecipe.PaperDigester, 4) => "Dump.",
        (DoseRecipe.ValveLubricant, 1) => $"Pour it in with {w(line.Litres)} of water.",
        (DoseRecipe.ValveLubricant, 2) => "Use the tank for 1 to 2 days.",
        (DoseRecipe.ValveLubricant, 3) => "Work the valve while you dump.",
        (DoseRecipe.SealConditioner, 1) => $"Pour it into the bowl by its label, with about 2 fl oz (60 mL) of water.",
        (DoseRecipe.SealConditioner, 2) => "Let it sit on the seal for some hours.",
        (DoseRecipe.GraySoap, 1) => $"A squirt down a drain that drains to this tank, with {w(line.Litres)} of water.",
        (DoseRecipe.GraySoap, 2) => "The drive does the washing.",
        (DoseRecipe.GrayDegreaser, 1) => $"Pour it down a drain that drains to this tank, with {w(line.Litres)} of water.",
        (DoseRecipe.GrayDegreaser, 2) => "Drive.",
        (DoseRecipe.GrayDegreaser, 3) => "Dump.",
        (DoseRecipe.StorageDose, 1) => $"Into the clean tank: {w(line.Litres)} of water and the treatment by its label.",
        (DoseRecipe.StorageDose, 2) => "It keeps residue from drying in storage.",
        (DoseRecipe.SoftenerSoak, 4) or (DoseRecipe.IceScrub, 4) or (DoseRecipe.SoapSoak, 3) => "Dump and rinse.",
        _ => throw new ArgumentOutOfRangeException(nameof(line), line.Recipe, $"step {line.Number}"),
    };

    private static string Caution(DoseLine line, Func<double?, string> w, Func<double?, string> g) => (line.Recipe, line.Number) switch
    {
        (DoseRecipe.TravelScrub, 1) => "Only what fits the space that is left in the tank.",
        (DoseRecipe.SoftenerSoak, 1) => "Stay at the water while a closed tank fills. Leave room for what you use meanwhile, or don't use the toilet.",
        (DoseRecipe.IceScrub, 1) => "Never foaming dish soap. If the detergent's label names bleach or chlorine, don't use it.",
        (DoseRecipe.IceScrub, 2) => $"Half a tank and the ice add about {g(line.Grams)} on the road.",
        (DoseRecipe.SoapSoak or DoseRecipe.SensorCleaner, 1) => "Stay at the water while a closed tank fills.",
        (DoseRecipe.SanitizeBleach, 1) =>
            "Poisonous gas: bleach with urine (ammonia), acid or other cleaners. Never into a tank with waste or any other treatment.",
        (DoseRecipe.SanitizeBleach, 2) => "It swells rubber seals and kills the bacteria of enzyme products. Rinse twice before any of these.",
        (DoseRecipe.PaperDigester, 1) => "Use only one digester. A clogged tank can't be emptied fast: leave space.",
        (DoseRecipe.ValveLubricant or DoseRecipe.SealConditioner, 1) => "On rubber, only products made for it.",
        (DoseRecipe.StorageDose, 1) =>
            "Freezing water splits tanks, valves and traps. If it may freeze, empty them and protect them with RV antifreeze by the maker's manual.",
        _ => throw new ArgumentOutOfRangeException(nameof(line), line.Recipe, $"caution {line.Number}"),
    };

    private static string Heat(double celsius, KitchenUnits units) => units == KitchenUnits.Us
        ? string.Create(CultureInfo.InvariantCulture, $"{celsius * 9 / 5 + 32:0} F") : string.Create(CultureInfo.InvariantCulture, $"{celsius:0.#} C");

    private static string Water(double litres, KitchenUnits units) => units == KitchenUnits.Metric
        ? string.Create(CultureInfo.InvariantCulture, $"{Math.Round(2 * litres) / 2:0.#} L")
        : string.Create(CultureInfo.InvariantCulture, $"{Math.Round(2 * litres / UsMeasures.GallonL) / 2:0.#} gal");
}
