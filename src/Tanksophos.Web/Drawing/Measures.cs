using Tanksophos.Core.Treatments;

namespace Tanksophos.Web.Drawing;

/// <summary>An amount drawn as measuring cups: each holds so much of one.</summary>
/// <param name="Cups">How full each cup is, 0..1.</param>
/// <param name="More">Whether there are more than are drawn.</param>
public sealed record Measures(IReadOnlyList<double> Cups, bool More)
{
    private const double CupMl = Core.Rigs.UsMeasures.CupMl;
    private const int MaxCups = 4;

    /// <summary>The cups of an ingredient; null for what is weighed or goes by its label.</summary>
    public static Measures? Of(Ingredient ingredient)
    {
        ArgumentNullException.ThrowIfNull(ingredient);
        if (ingredient.AmountMl is not { } ml) return null;
        var cups = new List<double>();
        for (var left = ml / CupMl; left > 0.01 && cups.Count < MaxCups; left--) cups.Add(Math.Min(1, left));
        return new Measures(cups, ml / CupMl > MaxCups + 0.01);
    }
}
