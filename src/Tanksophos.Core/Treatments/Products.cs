using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Treatments;

/// <summary>A product's dose for a tank.</summary>
/// <param name="Amount">How much, in the label's unit, rounded to what can be measured and never beyond the label's most.</param>
/// <param name="Unit">The unit.</param>
/// <param name="Doubled">Whether it is doubled for heat.</param>
/// <param name="AtMost">Whether the label's most holds it down.</param>
/// <param name="Exact">What was computed before rounding, and before the label's most.</param>
public sealed record ProductDose(double Amount, DoseUnit Unit, bool Doubled, bool AtMost, double Exact)
{
    /// <summary>In what the bottle is counted in: millilitres for caps.</summary>
    /// <param name="dose">The label's dose.</param>
    public double InBottleUnits(LabelDose dose)
    {
        ArgumentNullException.ThrowIfNull(dose);
        return Unit == DoseUnit.Cap ? Amount * (dose.CapMl ?? 0) : Amount;
    }
}

/// <summary>Doses by the label: for the tank's capacity, doubled in heat, never beyond the label's own most.</summary>
public static class LabelDoses
{
    /// <summary>Most a label may state for one dose, in its unit; anything above is a slip of the pen.</summary>
    public const double MaxAmount = 5000;

    /// <summary>Why a label's dose cannot be computed from, by the field that is wrong; null if it can.</summary>
    public static (string Field, string Accepted)? Problem(Product product)
    {
        ArgumentNullException.ThrowIfNull(product);
        if (product.Holds is { } holds && !(holds is > 0 and <= 100_000)) return ("holds", "above 0");
        if (product.PriceMinor is < 0) return ("priceMinor", "0 or more");
        if (product.Dose is not { } dose)
        {
            if (product.Unit == DoseUnit.Cap) return ("unit", "ml, g or piece, where the label states no dose");
            return Shelf.IsMeasuredByRecipes(product.Kind) ? null : ("dose", "the dose that the label states; only what recipes measure goes without");
        }
        if (!(dose.Amount is > 0 and <= MaxAmount)) return ("amount", "above 0, at most 5000");
        if (dose.PerL is { } per && !(per is > 0 and <= 5000)) return ("perL", "above 0, at most 5000 litres");
        // 50 mL in a litre of tank is far beyond every label; such a dose is a slip in one of the two numbers.
        if (dose.PerL is { } each && dose.Unit is DoseUnit.Ml or DoseUnit.G && dose.Amount / (dose.PerL ?? 1) > 50)
            return ("amount", "at most 50 for each litre of tank");
        if (dose.Unit == DoseUnit.Cap && !(dose.CapMl is > 0 and <= 500)) return ("capMl", "the millilitres of a capful, above 0, at most 500");
        if (dose.Max is { } most && !(most >= dose.Amount / 2 && most <= 50_000)) return ("most", "not below half of the dose itself");
        if (dose.LastsDays is { } days && days is < 1 or > 60) return ("lastsDays", "1 to 60");
        return dose.WaterL is { } water && !(water is >= 0 and <= 500) ? ("waterL", "0 to 500 litres") : null;
    }

    /// <summary>The dose for a tank.</summary>
    /// <param name="dose">The label's dose.</param>
    /// <param name="capacityL">Capacity in litres, above 0.</param>
    /// <param name="highC">Hottest expected day in C; above <see cref="RoutineDose.HotC"/> the dose is doubled.</param>
    /// <param name="units">Measures in the kitchen; they decide how it is rounded.</param>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    public static ProductDose For(LabelDose dose, double capacityL, double? highC = null, KitchenUnits units = KitchenUnits.Metric)
    {
        ArgumentNullException.ThrowIfNull(dose);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(capacityL);
        var hot = RoutineDose.IsHot(highC);
        var exact = dose.Amount * (dose.PerL is { } per ? capacityL / per : 1) * (hot ? 2 : 1);
        var most = dose.Max ?? double.MaxValue;
        var amount = dose.Unit switch
        {
            DoseUnit.Ml => Measure.Volume(exact, most, units),
            DoseUnit.G => Measure.Weight(exact, most, units),
            // Half caps and whole sachets: up, so that a small tank gets one too, but not for a sliver more.
            DoseUnit.Cap => Measure.Steps(exact, most, 0.5),
            DoseUnit.Piece => Measure.Steps(exact, most, 1),
        };
        return new ProductDose(Math.Round(amount, 3), dose.Unit, hot, exact > most, exact);
    }
}

/// <summary>Rounds to what can be measured in a kitchen.</summary>
internal static class Measure
{
    public const double FluidOunce = UsMeasures.FluidOunceMl, Teaspoon = UsMeasures.TeaspoonMl, Cup = UsMeasures.CupMl, Ounce = UsMeasures.OunceG;

    // Spoons up to one and a half ounces, then half ounces; on metric measures the marks get coarser as they go up.
    private static readonly double[] Spoons = [Teaspoon / 8, Teaspoon / 4, .. Enumerable.Range(1, 9).Select(k => k * Teaspoon / 2)];
    private static readonly double[] MetricMarks = [0.5, .. Enumerable.Range(1, 10).Select(k => (double)k), .. Enumerable.Range(3, 18).Select(k => 5.0 * k)];

    /// <summary>Millilitres to the nearest mark, or to the next below where that would be beyond the most.</summary>
    public static double Volume(double ml, double most, KitchenUnits units) =>
        units == KitchenUnits.Us ? Nearest(ml, most, Spoons, FluidOunce / 2) : Nearest(ml, most, MetricMarks, 10);

    /// <summary>Grams, in the same way.</summary>
    public static double Weight(double grams, double most, KitchenUnits units) =>
        units == KitchenUnits.Us ? Nearest(grams, most, [Ounce / 8, Ounce / 4], Ounce / 2) : Nearest(grams, most, MetricMarks, 10);

    /// <summary>Up to the next step, with a tenth of a step let go; down where that would be beyond the most.</summary>
    public static double Steps(double amount, double most, double step)
    {
        var up = Math.Max(1, Math.Ceiling(amount / step - 0.1)) * step;
        return up <= most ? up : Math.Floor(most / step + 1e-9) * step is > 0 and var down ? down : most;
    }

    private static double Nearest(double amount, double most, double[] marks, double step)
    {
        var held = Math.Min(amount, most);
        var best = Marks(held, marks, step).MinBy(m => Math.Abs(m - held));
        if (best <= most + 1e-9) return best;
        var below = Marks(held, marks, step).Where(m => m <= most + 1e-9).DefaultIfEmpty(0).Max();
        return below > 0 ? below : most;
    }

    private static IEnumerable<double> Marks(double near, double[] marks, double step)
    {
        foreach (var m in marks) yield return m;
        var from = Math.Max(Math.Ceiling(marks[^1] / step), Math.Floor(near / step) - 1);
        for (var k = 0; k < 4; k++) yield return (from + k) * step;
    }
}
