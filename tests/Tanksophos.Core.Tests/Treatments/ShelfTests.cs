using System.Text;
using CsCheck;
using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Core.Tests.Dumping;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Treatments;

public class ShelfTests
{
    private const double Gallon = 3.785411784, Ounce = 29.5735295625;

    private static readonly Product Concentrate = new("mine", "The small bottle", Substance.Cultures,
        new LabelDose(32, DoseUnit.Ml) { PerL = 20 * Gallon, LastsDays = 5, WaterL = 20 })
    { Holds = 950, PriceMinor = 1900, Caution = "shake it" };
    private static readonly Product Borax = new("borax", "Box", Substance.Borax, null) { Unit = DoseUnit.G, Holds = 2000, PriceMinor = 800 };
    private static readonly Product Soap = new("soap", "Soap", Substance.DishSoap, null) { Unit = DoseUnit.Ml, Holds = 750, PriceMinor = 300 };

    private static Rig Stocked(params Product[] products) => Rig() with { Products = products };

    private static DoseEntry Dose(double day, params ProductUse[] used) => new() { At = At(day), Tank = "black", Recipe = DoseRecipe.Enzyme, Used = used };

    [Fact]
    public void The_label_outranks_the_schools_figure()
    {
        var ours = DoseCalculator.Routine(TreatmentSchool.Enzyme, new DoseCase(40 * Gallon));
        ours.Ingredients.Single().ShouldSatisfyAllConditions(i => i.AmountMl!.Value.ShouldBe(8 * Ounce, 0.1), i => i.Product.ShouldBeNull());
        var labelled = DoseCalculator.Routine(TreatmentSchool.Enzyme, new DoseCase(40 * Gallon) { Product = Concentrate, Days = 6 });
        labelled.Ingredients.Single()
            .ShouldSatisfyAllConditions(i => i.AmountMl!.Value.ShouldBe(64, 5), i => i.Name.ShouldBe("The small bottle"),
            i => i.Quantity!.Value.ShouldBe(i.AmountMl!.Value, 0.1));
        labelled.WaterL.ShouldBe(20, "the label's water, within a quarter of the tank");
        labelled.Steps[^1].ShouldBe(new DoseLine(DoseNote.AgainLater) { LastsDays = 5 }, "the label's days");
        labelled.Cautions[0].ShouldBe(new DoseLine(DoseNote.OwnLabel) { Text = "shake it" });
        labelled.Why.ShouldContain(l => l.Note == DoseNote.LabelDose && l.Text == "The small bottle");
        DoseCalculator.Routine(TreatmentSchool.Enzyme, new DoseCase(40 * Gallon) { HighC = 35 }).Why.ShouldContain(l => l.Note == DoseNote.HotDay
            && l.HeatC == 35);
    }

    [Theory]
    [InlineData(DoseUnit.Cap, "2 caps (1 fl oz)")]
    [InlineData(DoseUnit.Piece, "2 pieces")]
    [InlineData(DoseUnit.Ml, "2 tsp")]
    [InlineData(DoseUnit.G, "2 oz by weight")]
    public void Amounts_are_said_as_they_are_measured(DoseUnit unit, string words)
    {
        var amount = unit switch { DoseUnit.Ml => Ounce / 3, DoseUnit.G => 56.7, _ => 2 };
        DoseCalculator.Words(amount, new LabelDose(1, unit) { CapMl = Ounce / 2 }, KitchenUnits.Us)
            .ShouldBe(words.Replace("(1 fl oz)", "(6 tsp)", StringComparison.Ordinal));
    }

    [Fact]
    public void In_kitchen_measures_too_a_dose_never_falls_and_never_passes_the_labels_most()
    {
        Gen.Select(Gen.Double[0.2, 400], Gen.Int[0, 1], Gen.Double[20, 500], Gen.Double[1, 1.6], Gen.Double[0.5, 6])
            .Sample((amount, unit, capacity, larger, most) =>
        {
            var dose = new LabelDose(amount, (DoseUnit)unit) { PerL = 150, Max = most > 5 ? null : amount * most };
            var here = LabelDoses.For(dose, capacity, null, KitchenUnits.Us);
            LabelDoses.For(dose, capacity * larger, null, KitchenUnits.Us).Amount.ShouldBeGreaterThanOrEqualTo(here.Amount - 1e-9);
            LabelDoses.For(dose, capacity, 33, KitchenUnits.Us).Amount.ShouldBeGreaterThanOrEqualTo(here.Amount - 1e-9);
            if (dose.Max is { } limit) here.Amount.ShouldBeLessThanOrEqualTo(limit + 1e-3);
            here.Amount.ShouldBeGreaterThan(0);
        }, iter: 2000);
    }

    [Fact]
    public void Water_never_goes_beyond_what_surely_fits()
    {
        Gen.Select(Gen.Int[0, Recipes.All.Count - 1].Select(i => Recipes.All[i].Code), Gen.Double[20, 400], Gen.Double[0, 1])
            .Sample((recipe, capacity, share) =>
        {
            var free = share * capacity;
            DoseCalculator.Compute(recipe,
                new DoseCase(capacity) { FreeL = free }).WaterL.ShouldBeLessThanOrEqualTo(Math.Max(free, recipe == DoseRecipe.SealConditioner ? 0.06
                : 0) + 0.051);
        }, iter: 1000);
        var unknown = DoseCalculator.Compute(DoseRecipe.PaperDigester, new DoseCase(150) { LevelUnknown = true });
        unknown.Steps[0].Note.ShouldBe(DoseNote.CountSmallAmounts);
        DoseCalculator.Compute(DoseRecipe.PaperDigester, new DoseCase(150)).Steps[0].Note.ShouldBe(DoseNote.RecipeStep);
        DoseCalculator.Compute(DoseRecipe.SoftenerSoak, new DoseCase(150) { FreeL = 60 }).Why.ShouldContain(new DoseLine(DoseNote.OnlyFits) { Litres = 60 });
    }

    [Fact]
    public void A_lamp_is_won_back_with_a_whole_cup_of_borax_and_a_tank_kept_up_with_half_a_one()
    {
        DoseCalculator.Compute(DoseRecipe.TravelScrub, new DoseCase(150)).Ingredients[0].Amount.ShouldBe("1/2 cup");
        DoseCalculator.Compute(DoseRecipe.TravelScrub, new DoseCase(150) { Recovery = true }).Ingredients[0].Amount.ShouldBe("1 cup");
    }

    [Fact]
    public void The_first_of_a_kind_that_is_not_put_away_is_in_use()
    {
        var other = Concentrate with { Id = "other" };
        Shelf.For(Stocked(Borax, other, Concentrate), TreatmentSchool.Enzyme)!.Id.ShouldBe("other");
        Shelf.For(Stocked(other with { Retired = true }, Concentrate), TreatmentSchool.Enzyme)!.Id.ShouldBe("mine");
        Shelf.For(Stocked(Concentrate), TreatmentSchool.Yeast).ShouldBeNull();
        Shelf.For(Stocked(Concentrate), TreatmentSchool.WaterOnly).ShouldBeNull();
        Shelf.LastsDays(Stocked(Concentrate), TreatmentSchool.Enzyme).ShouldBe(5);
        Shelf.LastsDays(Stocked(), TreatmentSchool.Enzyme).ShouldBe(7);
    }

    [Fact]
    public void What_is_left_is_counted_from_the_log()
    {
        var counted = Concentrate with { Stock = [new StockNote(At(0), 500, false), new StockNote(At(9), 950, true)] };
        LogEntry[] log = [Dose(-1, new ProductUse("mine", 64)), Dose(5, new ProductUse("mine", 64)), Dose(10, new ProductUse("mine", 64)),
            Dose(10, new ProductUse("else", 64))];
        Shelf.StateOf(counted, log, At(12).ToInstant(), 64)
            .ShouldSatisfyAllConditions(s => s.Left!.Value.ShouldBe(500 - 128 + 950), s => s.Doses.ShouldBe(20), s => s.Reorder.ShouldBeFalse(),
            s => s.PerDay!.Value.ShouldBe(3 * 64 / 13.0, 0.01));
        Shelf.StateOf(counted, log, At(8).ToInstant(), 64).Left!.Value.ShouldBe(500 - 64, "what is later is not known yet");
        var low = Concentrate with { Stock = [new StockNote(At(11), 130, false)] };
        Shelf.StateOf(low, log, At(12).ToInstant(), 64)
            .ShouldSatisfyAllConditions(s => s.Doses.ShouldBe(2), s => s.Reorder.ShouldBeTrue(),
            s => s.RunsOut!.Value.ShouldBeInRange(At(18).ToInstant(), At(22).ToInstant()));
        Shelf.StateOf(Concentrate, log, At(12).ToInstant())
            .ShouldSatisfyAllConditions(s => s.Left.ShouldBeNull(), s => s.Doses.ShouldBeNull(), s => s.Reorder.ShouldBeFalse());
        Shelf.StateOf(low, [Dose(11.5, new ProductUse("mine", 900))], At(12).ToInstant()).Left.ShouldBe(0, "never below nothing");
    }

    [Fact]
    public void A_recipe_takes_its_ingredients_by_their_own_measure_and_has_a_price()
    {
        var scrub = DoseCalculator.Compute(DoseRecipe.TravelScrub, 150);
        var takes = Shelf.Takes([Borax, Soap], scrub);
        takes.Select(t => t.Product).ShouldBe(["borax", "soap"]);
        takes[0].Quantity.ShouldBe(100, 3, "half a cup of borax is about 100 g");
        takes[1].Quantity.ShouldBe(59.1, 0.2);
        Shelf.Cost([Borax, Soap], takes)!.Value.ShouldBe(800 * takes[0].Quantity / 2000 + 300 * takes[1].Quantity / 750, 0.01);
        Shelf.Cost([Borax, Soap with { PriceMinor = null }], takes).ShouldBeNull();
        Shelf.Takes([Soap with { Retired = true }], scrub).ShouldBeEmpty();
        Shelf.Cost([], []).ShouldBeNull();
    }

    [Fact]
    public void The_run_the_plan_and_the_advice_go_by_the_label()
    {
        var setting = Runs.Setting();
        var run = Runs.Script(setting with
        {
            Rig =
            setting.Rig with { Products = [Concentrate with { Dose = new LabelDose(1, DoseUnit.Cap) { CapMl = 20 } }] }
        });
        run.Steps.Single(s => s.Kind == RunStepKind.Dose)
            .ShouldSatisfyAllConditions(s => s.Amount.ShouldBe("1 cap (4.06 tsp)"), s => s.Used.ShouldBe([new ProductUse("mine", 20)]));
        RunCodec.Read(RunCodec.Write(run)).Steps.Single(s => s.Kind == RunStepKind.Dose).Used.ShouldBe([new ProductUse("mine", 20)]);

        var zone = DateTimeZoneProviders.Tzdb["America/Denver"];
        var trip = new Trip(Stocked(Concentrate), HouseRules.Default,
            new TripStart(At(0), new Dictionary<string, LevelBand> { ["black"] = new(80, 85, 90), ["gray"] = new(20, 25, 30) }, false, 150, 6),
            [new Stop("a", "A", zone, At(0), At(4), StopHookup.Full, 2),
                new Stop("b", "B", zone, At(4, 4), At(6), StopHookup.Full, 2) { DriveHoursBefore = 3 }]);
        var plan = Planner.Make(trip);
        plan.Actions.First(a => a.Kind == PlanActionKind.Dose).Amount.ShouldBe("2 fl oz", "64 mL by the label, not the school's 8 fl oz");
        var septic = trip with
        {
            Rig = Stocked(Concentrate with { Kind = Substance.Formaldehyde }),
            Rules = HouseRules.Default with { Treatment = TreatmentSchool.Deodorant },
            Stops = [trip.Stops[0], trip.Stops[1] with { Septic = true }]
        };
        Planner.Make(septic).Actions.Where(a => a.Kind == PlanActionKind.Dose).ShouldContain(a => a.NotForSepticAt == "B");
        plan.Actions.ShouldNotContain(a => a.Recipe == DoseRecipe.GraySoap);
        var cared = Planner.Make(trip with { GrayCare = true });
        cared.Actions.Where(a => a.Recipe == DoseRecipe.GraySoap).ShouldAllBe(a => a.Tank == "gray" && a.Stop == "a" && a.WaterL > 0);
        cared.Actions.ShouldContain(a => a.Recipe == DoseRecipe.GraySoap);
        cared.Totals.Doses.ShouldBe(plan.Totals.Doses, "soap in gray is no dose of the school");

        LogEntry[] log = [Stay(At(-1), Hookup.Dry), Dump(At(0)),
            new WaterEntry { At = At(0, 0.2), Tank = "black", WaterL = 20, Purpose = WaterPurpose.Starter }, Dose(0.02)];
        Instant? Due(Rig rig)
        {
            var book = Book(rig, At(1), log);
            return Advice.For(book, new JointEstimator().Estimate(book)).Steps.FirstOrDefault(s => s is { Code: StepCode.Dose, Tank: "black" })?.Due;
        }
        (Due(Stocked())!.Value - Due(Stocked(Concentrate))!.Value).TotalDays.ShouldBe(2, 0.6, "a label of five days against the usual week");
    }

    [Fact]
    public void Schools_are_compared_by_what_the_log_says_of_each()
    {
        List<LogEntry> log = [];
        for (var i = 0; i < 6; i++)
        {
            log.Add(Dump(At(7 * i)));
            log.Add(new FlushEntry
            {
                At = At(7 * i, 0.3),
                Tank = "black",
                Method = FlushMethod.BuiltIn,
                Cycles = [.. Enumerable.Range(1, i < 4 ? 4 : 2)
                .Select(k => new FlushCycle(60, null, k == (i < 4 ? 4 : 2) ? EndColor.Clear : EndColor.Dark, k == (i < 4 ? 4 : 2) ? Debris.None
                : Debris.Paper))]
            });
            if (i < 3) log.Add(Dose(7 * i + 0.1, new ProductUse("mine", 95)));
            log.Add(i < 3 ? Lamps(At(7 * i, 8), "mid") : Lamps(At(7 * i, 8)));
            if (i == 1) log.Add(new OdorEntry { At = At(7 * i, 50), Where = OdorPlace.Bathroom, Smell = Smell.RottenEgg });
        }
        var records = SchoolRecords.Of(log, Stocked(Concentrate), "black", At(40).ToInstant());
        records.Select(r => r.School).ShouldBe([TreatmentSchool.WaterOnly, TreatmentSchool.Enzyme]);
        records[1].ShouldSatisfyAllConditions(r => r.Fills.ShouldBe(3), r => r.Days.ShouldBe(21, 0.01), r => r.CostPerFill!.Value.ShouldBe(190, 0.5),
            r => r.CostPerMonth!.Value.ShouldBe(190 * 30 / 7.0, 2), r => r.OdorDays.ShouldBe(1), r => r.CyclesToClear.ShouldBe(4), r => r.LampsLit.ShouldBe(3),
            r => r.Looks.ShouldBe(3));
        records[0].ShouldSatisfyAllConditions(r => r.CostPerFill.ShouldBe(0), r => r.CyclesToClear!.Value.ShouldBe(2), r => r.LampsLit.ShouldBe(0),
            r => r.OdorDays.ShouldBe(0));
        SchoolRecords.Of([], Stocked(), "black", At(1).ToInstant()).ShouldBeEmpty();
        // Some hours between two dumps are no fill, and months in storage are none either.
        LogEntry[] odd = [Dump(At(1)), Dump(At(1, 5)), Dump(At(8)), Dump(At(80)), Dump(At(86))];
        var kept = SchoolRecords.Of(odd, Stocked(), "black", At(86, 3).ToInstant());
        kept.Sum(r => r.Fills).ShouldBe(2);
        kept.Sum(r => r.Days).ShouldBe(6.8 + 6, 0.05);
        SchoolRecords.Expected(Stocked(Concentrate), TreatmentSchool.Enzyme, Rig().Tanks[0])!.Value.ShouldBe(1900 * 64 / 950.0, 15);
        SchoolRecords.Expected(Stocked(), TreatmentSchool.Enzyme, Rig().Tanks[0]).ShouldBeNull();
        SchoolRecords.Expected(Stocked(), TreatmentSchool.WaterOnly, Rig().Tanks[0]).ShouldBe(0);
    }

    [Fact]
    public void A_shelf_and_what_was_taken_come_back_from_the_documents()
    {
        var season = DemoSeason.Until(Instant.FromUtc(2026, 6, 9, 23, 30));
        season.Rig.Products.Count.ShouldBe(3);
        var utf8 = LogbookFormat.Write(season);
        var read = LogbookFormat.Read(utf8);
        read.Errors.ShouldBeEmpty();
        read.Warnings.ShouldBeEmpty();
        LogbookFormat.Write(read.Value!).ShouldBe(utf8);
        read.Value!.Entries.OfType<DoseEntry>().Count(d => d.Used.Count > 0).ShouldBeGreaterThan(3);
        var rig = Stocked(Concentrate with
        {
            Dose = new LabelDose(1.5, DoseUnit.Cap) { CapMl = 15, Max = 4 },
            Retired = true,
            Stock = [new StockNote(At(0), 12, true)]
        }, Borax);
        RigCodec.Write(RigCodec.Read(RigCodec.Write(rig)).Value!).ShouldBe(RigCodec.Write(rig));
    }

    [Theory]
    [InlineData("""{"id":"a","name":"A","kind":"cultures","dose":{"amount":0,"unit":"ml"}}""", "products[0].dose.amount")]
    [InlineData("""{"id":"a","name":"A","kind":"cultures","dose":{"amount":8,"unit":"spoon"}}""", "products[0].dose.unit")]
    [InlineData("""{"id":"a","name":"A","kind":"cultures","dose":{"amount":8,"unit":"cap"}}""", "products[0].capMl")]
    [InlineData("""{"id":"a","name":"A","kind":"cultures"}""", "products[0].dose")]
    [InlineData("""{"id":"a","name":"A","kind":"potion"}""", "products[0].kind")]
    [InlineData("""{"id":"a","name":"A","kind":"borax","priceMinor":-1}""", "products[0].priceMinor")]
    [InlineData("""{"id":"a","name":"A","kind":"borax","holds":0}""", "products[0].holds")]
    [InlineData("""{"id":"a","name":" ","kind":"borax"}""", "products[0].name")]
    [InlineData("""{"id":"a","name":"A","kind":"cultures","dose":{"amount":900,"unit":"ml","perL":2}}""", "products[0].amount")]
    [InlineData("""{"id":"a","name":"A","kind":"borax"},{"id":"a","name":"B","kind":"borax"}""", "products[1].id")]
    public void A_product_that_cannot_be_is_named_by_its_path(string json, string path)
    {
        var rig = Encoding.UTF8.GetString(RigCodec.Write(Rig()));
        RigCodec.Read(Utf8(rig[..^1] + ""","products":[""" + json + "]}")).Errors.ShouldContain(e => e.Path == path);
    }
}
