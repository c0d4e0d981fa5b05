using System.Text.Json;
using CsCheck;
using Tanksophos.Cli;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Tests.Treatments;

public class DoseTests
{
    private const double Gallon = 3.785411784;

    private static JsonElement Ask(string question)
    {
        var answer = Commands.Dose(Given.Utf8(question), pretty: false);
        using var document = JsonDocument.Parse(answer.Line);
        return document.RootElement.Clone();
    }

    [Theory]
    [InlineData("enzyme", 40, "1 cup", 236.6)]
    [InlineData("enzyme", 20, "1/2 cup", 118.3)]
    [InlineData("deodorant", 60, "1 cup", 236.6)]
    [InlineData("softener-cleaner", 40, "1/2 cup", 118.3)]
    [InlineData("softener-cleaner", 41, "1 cup", 236.6)]
    public void The_routine_dose_of_each_school_in_kitchen_measures(string school, double gallons, string amount, double ml)
    {
        var dose = Ask($$"""{ "capacityL": {{(gallons * Gallon).ToString(System.Globalization.CultureInfo.InvariantCulture)}}, "treatment": "{{school}}", "highC": 22, "days": 6 }""");
        var only = dose.GetProperty("ingredients").EnumerateArray().Single();
        only.GetProperty("amount").GetString().ShouldBe(amount);
        only.GetProperty("amountMl").GetDouble().ShouldBe(ml, 0.1);
        only.TryGetProperty("amountG", out _).ShouldBeFalse();
        dose.GetProperty("cautions").EnumerateArray().Select(c => c.GetString()).ShouldContain(c => c!.Contains("label", StringComparison.Ordinal));
    }

    [Fact]
    public void Heat_doubles_a_long_fill_is_dosed_again_and_both_together_are_no_more_than_double()
    {
        double Ml(string more) => Ask($$"""{ "capacityL": 151.4, "treatment": "enzyme", "units": "metric"{{more}} }""").GetProperty("ingredients")[0]
            .GetProperty("amountMl").GetDouble();
        var plain = Ml("");
        plain.ShouldBe(240, 1);
        Ml(""", "highC": 33 """).ShouldBe(2 * plain, 10);
        Ml(""", "days": 12 """).ShouldBe(plain);
        Ml(""", "highC": 33, "days": 30 """).ShouldBe(2 * plain, 10);
        Ml(""", "highC": 29 """).ShouldBe(plain, "over 29, not at 29");
        Ask("""{ "capacityL": 151.4, "treatment": "enzyme", "days": 9 }""").GetProperty("steps").EnumerateArray().Select(s => s.GetString())
            .ShouldContain(s => s!.Contains("day 7", StringComparison.Ordinal));
        Ask("""{ "capacityL": 151.4, "treatment": "enzyme", "days": 7 }""").GetProperty("steps").EnumerateArray().Select(s => s.GetString())
            .ShouldNotContain(s => s!.Contains("day 7", StringComparison.Ordinal));
    }

    [Fact]
    public void Water_alone_and_borax_are_answered_by_their_own_school()
    {
        var water = Ask("""{ "capacityL": 151.4, "treatment": "water-only" }""");
        water.GetProperty("ingredients").GetArrayLength().ShouldBe(0);
        water.GetProperty("waterL").GetDouble().ShouldBe(15.14, 0.01);
        var borax = Ask("""{ "capacityL": 151.4, "treatment": "borax-soap" }""");
        borax.GetProperty("ingredients").EnumerateArray().Select(i => i.GetProperty("name").GetString()).ShouldBe(["borax", "dish soap"]);
        borax.GetProperty("steps")[0].GetString()!.ShouldContain("not after each dump");
    }

    [Fact]
    public void No_dose_falls_when_the_tank_or_the_heat_grows_and_all_fit()
    {
        var recipes = Enum.GetValues<DoseRecipe>().Where(r => DoseCalculator.IsComputed(r)).ToArray();
        Gen.Select(Gen.Double[10, 400], Gen.Double[0, 60], Gen.Int[0, recipes.Length - 1], Gen.Double[-10, 45], Gen.Bool)
            .Sample((capacity, more, which, high, metric) =>
        {
            var units = metric ? KitchenUnits.Metric : KitchenUnits.Us;
            ComputedDose Of(double c, double h) => DoseCalculator.Compute(recipes[which], c, units, h, 5);
            double Sum(ComputedDose d) => d.Ingredients.Sum(i => (i.AmountMl ?? 0) + (i.AmountG ?? 0));
            var small = Of(capacity, high);
            Sum(Of(capacity + more, high)).ShouldBeGreaterThanOrEqualTo(Sum(small) - 1e-6);
            Sum(Of(capacity, high + more)).ShouldBeGreaterThanOrEqualTo(Sum(small) - 1e-6);
            Of(capacity + more, high).WaterL.ShouldBeGreaterThanOrEqualTo(small.WaterL - 1e-6);
            small.WaterL.ShouldBeInRange(0.01, 0.91 * capacity);
            small.Steps.ShouldNotBeEmpty();
            small.Cautions.ShouldNotBeEmpty();
            foreach (var i in small.Ingredients) (i.AmountMl is null || i.AmountG is null).ShouldBeTrue();
        }, iter: 2000);
    }

    [Fact]
    public void Both_kinds_of_measures_say_about_the_same_amount() =>
        Gen.Select(Gen.Double[40, 300], Gen.Int[0, 5]).Sample((capacity, school) =>
        {
            var us = DoseCalculator.Routine((TreatmentSchool)school, capacity);
            var metric = DoseCalculator.Routine((TreatmentSchool)school, capacity, units: KitchenUnits.Metric);
            us.WaterL.ShouldBe(metric.WaterL);
            // half an ounce and ten millilitres, each rounded
            foreach (var (a, b) in us.Ingredients.Zip(metric.Ingredients)) ((a.AmountMl ?? a.AmountG)!.Value).ShouldBe((b.AmountMl ?? b.AmountG)!.Value, 13);
        });

    [Fact]
    public void Bleach_comes_with_its_warnings_and_the_classic_with_bleach_not_at_all()
    {
        var bleach = Ask("""{ "capacityL": 151.4, "recipe": "sanitize-bleach" }""");
        bleach.GetProperty("cautions")[0].GetString()!.ShouldContain("poisonous gas");
        bleach.GetProperty("steps")[0].GetString()!.ShouldContain("until clear");
        Ask("""{ "capacityL": 151.4, "recipe": "classic-bleach" }""").GetProperty("error").GetProperty("path").GetString().ShouldBe("recipe");
        Ask("""{ "capacityL": 151.4, "recipe": "ice-scrub" }""").GetProperty("cautions").EnumerateArray().Select(c => c.GetString())
            .ShouldContain(c => c!.Contains("Never foaming", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("""{ "treatment": "enzyme" }""", "capacityL")]
    [InlineData("""{ "capacityL": 0, "treatment": "enzyme" }""", "capacityL")]
    [InlineData("""{ "capacityL": "big", "treatment": "enzyme" }""", "capacityL")]
    [InlineData("""{ "capacityL": 150 }""", "treatment")]
    [InlineData("""{ "capacityL": 150, "treatment": "magic" }""", "treatment")]
    [InlineData("""{ "capacityL": 150, "treatment": "enzyme", "recipe": "travel-scrub" }""", "recipe")]
    [InlineData("""{ "capacityL": 150, "recipe": "other" }""", "recipe")]
    [InlineData("""{ "capacityL": 150, "treatment": "enzyme", "highC": 200 }""", "highC")]
    [InlineData("""{ "capacityL": 150, "treatment": "enzyme", "days": -1 }""", "days")]
    [InlineData("""{ "capacityL": 150, "treatment": "enzyme", "units": "cubits" }""", "units")]
    public void A_question_that_cannot_be_answered_is_refused_by_its_path(string question, string path) => Ask(question).GetProperty("error")
        .GetProperty("path").GetString().ShouldBe(path);
}
