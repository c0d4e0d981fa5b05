using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Formats;

/// <summary>The dose document: a question of what to put into a tank, and its answer.</summary>
public static class DoseFormat
{
    private const double MinCapacityL = 1;

    /// <summary>Reads the question and computes the answer.</summary>
    /// <param name="utf8">JSON: <c>capacityL</c>, one of <c>treatment</c> and <c>recipe</c>, optional <c>highC</c>, <c>days</c>, <c>units</c>.</param>
    public static ReadResult<ComputedDose> Compute(ReadOnlyMemory<byte> utf8) => Json.Read(utf8, (root, _) =>
    {
        root.Ignore("format");
        root.Ignore("version");
        var capacity = root.Number("capacityL", MinCapacityL, RigCodec.MaxCapacityL, required: true);
        var school = root.Code<TreatmentSchool>("treatment");
        var recipe = root.Code<DoseRecipe>("recipe");
        var high = root.Number("highC", -60, 60);
        var days = root.Number("days", 0, 3650);
        var units = root.Code<KitchenUnits>("units") ?? KitchenUnits.Us;
        if (root.Has("treatment") && root.Has("recipe")) root.Error("recipe", "either treatment or recipe is accepted, not both");
        else if (!root.Has("treatment") && !root.Has("recipe"))
            root.Error("treatment", $"one is required: treatment ({ObjectReader.OneOf<TreatmentSchool>()}) or recipe");
        else if (recipe is { } r && !DoseCalculator.IsComputed(r))
            root.Error("recipe", $"'{Codes<DoseRecipe>.Word(r)}' is not computed: "
                + (r == DoseRecipe.Other ? "it has no amounts to compute from"
                : "it is only recorded when an owner reports it; bleach with anything but clean water is never planned or dosed"));
        root.Done();
        if (capacity is not { } litres) return null;
        if (school is { } s && recipe is null) return DoseCalculator.Routine(s, litres, high, days, units);
        return recipe is { } of && school is null && DoseCalculator.IsComputed(of) ? DoseCalculator.Compute(of, litres, units, high, days) : null;
    });

    /// <summary>Writes the answer.</summary>
    /// <param name="dose">The answer.</param>
    /// <param name="words">Its sentences.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(ComputedDose dose, IDocumentWords words, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(dose);
        ArgumentNullException.ThrowIfNull(words);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteStartArray("ingredients");
            foreach (var i in dose.Ingredients)
            {
                w.WriteStartObject();
                w.WriteString("name", i.Name);
                w.Optional("amountMl", i.AmountMl);
                w.Optional("amountG", i.AmountG);
                w.WriteString("amount", i.Amount);
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.WriteNumber("waterL", Math.Round(dose.WaterL, 3));
            w.Texts("steps", dose.Steps.Select(l => words.Say(l, dose.Units)));
            w.Texts("cautions", dose.Cautions.Select(l => words.Say(l, dose.Units)));
            w.Texts("why", dose.Why.Select(l => words.Say(l, dose.Units)));
            w.WriteEndObject();
        }, pretty);
    }
}
