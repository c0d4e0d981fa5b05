using CsCheck;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Tests.Treatments;

public class LabelDoseTests
{
    private const double Gallon = 3.785411784, Ounce = 29.5735295625;

    [Fact]
    public void Labels_are_followed_as_they_state_it()
    {
        LabelDoses.For(new LabelDose(8 * Ounce, DoseUnit.Ml) { PerL = 40 * Gallon }, 20 * Gallon).Amount.ShouldBe(120, "118 mL, up to a mark");
        LabelDoses.For(new LabelDose(1, DoseUnit.Cap) { PerL = 20 * Gallon, CapMl = 15 }, 40 * Gallon)
            .ShouldSatisfyAllConditions(d => d.Amount.ShouldBe(2), d => d.InBottleUnits(new LabelDose(1, DoseUnit.Cap) { CapMl = 15 }).ShouldBe(30));
        LabelDoses.For(new LabelDose(1, DoseUnit.Piece), 200).Amount.ShouldBe(1);
        LabelDoses.For(new LabelDose(1, DoseUnit.Piece), 200, highC: 35).ShouldSatisfyAllConditions(d => d.Amount.ShouldBe(2), d => d.Doubled.ShouldBeTrue());
        LabelDoses.For(new LabelDose(1, DoseUnit.Piece) { Max = 1 }, 200, highC: 35)
            .ShouldSatisfyAllConditions(d => d.Amount.ShouldBe(1), d => d.AtMost.ShouldBeTrue());
        Should.Throw<ArgumentOutOfRangeException>(() => LabelDoses.For(new LabelDose(1, DoseUnit.Piece), 0));
    }

    [Fact]
    public void A_dose_never_falls_with_capacity_or_heat_and_never_passes_the_labels_most()
    {
        Gen.Select(Gen.Double[0.1, 400], Gen.Int[0, 3], Gen.Double[10, 400], Gen.Double[20, 500], Gen.Double[1, 1.6], Gen.Double[0.5, 6])
            .Sample((amount, unit, per, capacity, larger, most) =>
        {
            var dose = new LabelDose(amount, (DoseUnit)unit) { PerL = unit == 3 ? null : per, Max = most > 5 ? null : amount * most, CapMl = 15 };
            var here = LabelDoses.For(dose, capacity);
            LabelDoses.For(dose, capacity * larger).Amount.ShouldBeGreaterThanOrEqualTo(here.Amount);
            var hot = LabelDoses.For(dose, capacity, 33);
            hot.Amount.ShouldBeGreaterThanOrEqualTo(here.Amount);
            hot.Exact.ShouldBe(2 * here.Exact, 1e-9);
            if (dose.Max is { } limit) hot.Amount.ShouldBeLessThanOrEqualTo(limit + 1e-3);
            here.Amount.ShouldBeGreaterThan(0);
            if (!here.AtMost) here.Amount.ShouldBeGreaterThanOrEqualTo(Math.Min(here.Exact, dose.Max ?? double.MaxValue) - Math.Max(1, 0.34 * here.Exact));
        }, iter: 3000);
    }

    [Theory]
    [InlineData(0, DoseUnit.Ml, null, null, null, "amount")]
    [InlineData(double.NaN, DoseUnit.Ml, null, null, null, "amount")]
    [InlineData(1e9, DoseUnit.G, null, null, null, "amount")]
    [InlineData(1, DoseUnit.Cap, null, null, null, "capMl")]
    [InlineData(1, DoseUnit.Cap, 0.0, null, null, "capMl")]
    [InlineData(10, DoseUnit.Ml, null, 0.0, null, "perL")]
    [InlineData(10, DoseUnit.Ml, null, null, 2.0, "most")]
    public void A_label_that_cannot_be_is_named_by_its_field(double amount, DoseUnit unit, double? cap, double? per, double? most, string field) =>
        LabelDoses.Problem(new Product("p", "Mine", Substance.Cultures,
            new LabelDose(amount, unit) { CapMl = cap, PerL = per, Max = most }))!.Value.Field.ShouldBe(field);

    [Fact]
    public void A_price_and_a_size_are_looked_at_too()
    {
        var sound = new Product("p", "Mine", Substance.Cultures, new LabelDose(30, DoseUnit.Ml)) { Holds = 950, PriceMinor = 1499 };
        LabelDoses.Problem(sound).ShouldBeNull();
        LabelDoses.Problem(sound with { PriceMinor = -1 })!.Value.Field.ShouldBe("priceMinor");
        LabelDoses.Problem(sound with { Holds = 0 })!.Value.Field.ShouldBe("holds");
        LabelDoses.Problem(sound with { Dose = sound.Dose! with { LastsDays = 0 } })!.Value.Field.ShouldBe("lastsDays");
        LabelDoses.Problem(sound with { Dose = sound.Dose! with { WaterL = -1 } })!.Value.Field.ShouldBe("waterL");
    }
}
