using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Treatments;

public class TreatmentTests
{
    private static readonly Tank Black = Rig().Tanks[0], Gray = Rig().Tanks[1];
    private static readonly HouseRules Bleaching = HouseRules.Default with { Bleach = BleachRule.CleanTank };

    private static DoseEntry Dose(double day, DoseRecipe recipe, string tank = "black", double hours = 0) =>
        new() { At = At(day, hours), Tank = tank, Recipe = recipe };

    private static FlushEntry Flush(double day, int cycles = 3, FlushMethod method = FlushMethod.BuiltIn) =>
        new() { At = At(day, 0.3), Tank = "black", Method = method, Cycles = [.. Enumerable.Repeat(new FlushCycle(60, null, null, null), cycles)] };

    private static InTheTank In(double day, params LogEntry[] entries) => InTheTank.Compute(entries, "black", At(day).ToInstant());

    private static ObjectionCode[] Against(DoseRecipe recipe, InTheTank there, HouseRules? rules = null, bool septic = false, Tank? tank = null,
        double day = 2, double? free = null) =>
        [.. Objections.To(recipe, tank ?? Black, there, rules ?? HouseRules.Default, septic, At(day).ToInstant(), freeL: free).Select(o => o.Code)];

    [Theory]
    [InlineData(DoseRecipe.Enzyme, 3)]
    [InlineData(DoseRecipe.Deodorant, 5)]
    [InlineData(DoseRecipe.SoftenerCleaner, 2.5)]
    [InlineData(DoseRecipe.Yeast, 1)]
    public void A_dose_after_a_dump_comes_with_so_many_gallons(DoseRecipe recipe, double gallons)
    {
        Recipes.Find(recipe)!.WaterL(40 * UsMeasures.GallonL).ShouldBe(gallons * UsMeasures.GallonL, 1e-6);
        Recipes.Find(recipe)!.WaterL(0.5 * UsMeasures.GallonL).ShouldBe(0.45 * UsMeasures.GallonL, 1e-6, "never more than fits");
    }

    [Fact]
    public void Every_pair_of_substances_is_decided_whichever_comes_first()
    {
        foreach (var a in Enum.GetValues<Substance>())
            foreach (var b in Enum.GetValues<Substance>())
            {
                Mixing.Of(a, b).ShouldBe(Mixing.Of(b, a));
                (Mixing.Of(a, b) == Together.TheSame).ShouldBe(a == b);
                if (a == b) continue;
                // Bleach goes with nothing at all.
                if (Substance.Bleach == a) Mixing.Of(a, b).ShouldBeOneOf(Together.PoisonousGas, Together.KillsCultures);
            }
        foreach (var recipe in Enum.GetValues<DoseRecipe>()) Mixing.In(recipe).ShouldNotBeEmpty();
    }

    [Theory]
    [InlineData(Substance.Borax, Substance.Cultures, nameof(Together.May))]
    [InlineData(Substance.DishSoap, Substance.Cultures, nameof(Together.May))]
    [InlineData(Substance.Borax, Substance.DishSoap, nameof(Together.May))]
    [InlineData(Substance.DishSoap, Substance.Ice, nameof(Together.Foams))]
    [InlineData(Substance.DishwasherDetergent, Substance.Ice, nameof(Together.May))]
    [InlineData(Substance.Cultures, Substance.Deodorant, nameof(Together.TwoDigesters))]
    [InlineData(Substance.Cultures, Substance.PaperDigester, nameof(Together.TwoDigesters))]
    [InlineData(Substance.Formaldehyde, Substance.Yeast, nameof(Together.KillsCultures))]
    [InlineData(Substance.Bleach, Substance.Acid, nameof(Together.PoisonousGas))]
    [InlineData(Substance.Bleach, Substance.OtherCleaner, nameof(Together.PoisonousGas))]
    [InlineData(Substance.Bleach, Substance.Cultures, nameof(Together.KillsCultures))]
    [InlineData(Substance.ValveLubricant, Substance.Cultures, nameof(Together.May))]
    public void The_pairs_practitioners_name_are_as_they_say(Substance a, Substance b, string what) => Mixing.Of(a, b).ToString().ShouldBe(what);

    [Fact]
    public void Weights_are_said_in_pounds_from_a_pound_on_and_in_ounces_below()
    {
        DoseCalculator.Weight(30 * 453.59237, KitchenUnits.Us).ShouldBe("30 lb");
        DoseCalculator.Weight(2 * 28.349523, KitchenUnits.Us).ShouldBe("2 oz by weight");
        DoseCalculator.Weight(1500, KitchenUnits.Metric).ShouldBe("1.5 kg");
        DoseCalculator.Weight(58, KitchenUnits.Metric).ShouldBe("60 g");
    }

    [Fact]
    public void Bleach_is_remembered_until_two_rinses_and_no_longer()
    {
        var bleach = new DoseEntry { At = Given.At(0), Tank = "black", Recipe = DoseRecipe.ClassicBleach };
        InTheTank Then(int rinses) => InTheTank.Compute([bleach, Given.Dump(Given.At(0, 1)),
            new FlushEntry { At = Given.At(0, 2), Tank = "black", Method = FlushMethod.BuiltIn,
                Cycles = [.. Enumerable.Repeat(new FlushCycle(60, null, null, null), rinses)] }],
            "black", Given.At(1).ToInstant());
        (Then(1).BleachLeft, Then(1).BleachedAt).ShouldBe((true, bleach.Instant));
        Then(2).BleachLeft.ShouldBeFalse("dumped, and rinsed twice");
        InTheTank.Compute([bleach, Given.Dump(Given.At(0, 1))], "black", Given.At(1).ToInstant()).BleachLeft.ShouldBeTrue();
        Then(4).BleachedAt.ShouldBeNull("long gone");
    }

    [Fact]
    public void What_is_in_a_tank_follows_from_the_log_and_leaves_with_the_dump()
    {
        var there = In(2, Dump(At(1)), Dose(1, DoseRecipe.Enzyme, hours: 1), Dose(1, DoseRecipe.Freshener, hours: 20), Dose(1.5, DoseRecipe.GraySoap, "gray"));
        there.Treatments.Select(t => t.Recipe).ShouldBe([DoseRecipe.Enzyme, DoseRecipe.Freshener]);
        there.Treatments[0].WorksUntil.ShouldBe(At(8, 1).ToInstant());
        there.Waste.ShouldBeTrue();
        In(2, Dump(At(1)), Dose(1, DoseRecipe.Enzyme, hours: 1), Dump(At(1.5))).Treatments.ShouldBeEmpty();
        In(2, Dose(1, DoseRecipe.Enzyme), Dump(At(1.5)) with { Flow = DumpFlow.Trickle }).Treatments.Count.ShouldBe(1, "it did not leave");
        In(0.5, Dose(1, DoseRecipe.Enzyme)).Treatments.ShouldBeEmpty("not yet");
        In(1.01, Dump(At(1))).Waste.ShouldBeFalse();
        In(1, []).Waste.ShouldBeTrue("nobody knows");
    }

    [Fact]
    public void Bleach_is_refused_with_anything_but_clean_water_and_by_the_rule_of_the_house()
    {
        Against(DoseRecipe.SanitizeBleach, In(1.01, Dump(At(1))), day: 1.01).ShouldBe([ObjectionCode.BleachNotInThisHouse]);
        Against(DoseRecipe.SanitizeBleach, In(1.01, Dump(At(1))), Bleaching, day: 1.01).ShouldBeEmpty();
        Against(DoseRecipe.SanitizeBleach, In(2, Dump(At(1))), Bleaching).ShouldBe([ObjectionCode.BleachIntoWaste]);
        Against(DoseRecipe.SanitizeBleach, In(1.02, Dump(At(1)), Dose(1.01, DoseRecipe.SoapSoak)), Bleaching, day: 1.02)
            .ShouldContain(ObjectionCode.PoisonousGas);
        Against(DoseRecipe.SanitizeBleach, In(1.02, Dump(At(1)), Dose(1.01, DoseRecipe.Enzyme)), Bleaching, day: 1.02)
            .ShouldContain(ObjectionCode.KillsCultures);
        Against(DoseRecipe.ClassicBleach, In(1.01, Dump(At(1))), Bleaching, day: 1.01).ShouldContain(ObjectionCode.NeverAdvised);
        Against(DoseRecipe.SanitizeBleach, In(1.01, Dump(At(1))), Bleaching, septic: true, day: 1.01).ShouldContain(ObjectionCode.Septic);
    }

    [Fact]
    public void After_bleach_two_rinses_come_before_anything_living()
    {
        var left = In(1.1, Dump(At(1)), Dose(1.01, DoseRecipe.SanitizeBleach), Dump(At(1.05)));
        left.BleachLeft.ShouldBeTrue();
        Objections.To(DoseRecipe.Enzyme, Black, left, Bleaching, false, At(1.1).ToInstant()).ShouldHaveSingleItem()
            .ShouldBe(new Objection(ObjectionCode.RinseAfterBleach, true));
        Against(DoseRecipe.Enzyme, In(1.1, Dump(At(1)), Dose(1.01, DoseRecipe.SanitizeBleach), Dump(At(1.05)), Flush(1.06, 2)), Bleaching).ShouldBeEmpty();
        Against(DoseRecipe.Enzyme, In(1.1, Dump(At(1)), Dose(1.01, DoseRecipe.SanitizeBleach)), Bleaching).ShouldContain(ObjectionCode.KillsCultures);
    }

    [Fact]
    public void A_second_digester_is_refused_another_product_is_warned_of_and_the_same_again_too_early()
    {
        var enzyme = In(2, Dump(At(1)), Dose(1, DoseRecipe.Enzyme, hours: 1));
        Against(DoseRecipe.Deodorant, enzyme).ShouldBe([ObjectionCode.TwoDigesters]);
        Against(DoseRecipe.PaperDigester, enzyme).ShouldBe([ObjectionCode.TwoDigesters]);
        Objections.To(DoseRecipe.SensorCleaner, Black, enzyme, HouseRules.Default, false, At(2).ToInstant()).ShouldHaveSingleItem()
            .ShouldBe(new Objection(ObjectionCode.OneAtATime, false, DoseRecipe.Enzyme));
        Against(DoseRecipe.TravelScrub, enzyme).ShouldBeEmpty("borax and soap may join a routine dose");
        Against(DoseRecipe.Enzyme, enzyme).ShouldBe([ObjectionCode.StillWorks]);
        Against(DoseRecipe.Enzyme, In(9, Dump(At(1)), Dose(1, DoseRecipe.Enzyme, hours: 1)), day: 9).ShouldBeEmpty("after a week it is due again");
        Against(DoseRecipe.IceScrub, In(2, Dump(At(1)), Dose(1.5, DoseRecipe.SoapSoak))).ShouldContain(ObjectionCode.Foams);
    }

    [Fact]
    public void The_tank_and_its_room_count_too()
    {
        Against(DoseRecipe.GraySoap, In(2, Dump(At(1)))).ShouldBe([ObjectionCode.WrongTank]);
        Against(DoseRecipe.GraySoap, InTheTank.Compute([], "gray", At(2).ToInstant()), tank: Gray).ShouldBeEmpty();
        Against(DoseRecipe.TravelScrub, In(2, Dump(At(1))), free: 5).ShouldBe([ObjectionCode.NoRoom]);
        Objections.To(DoseRecipe.TravelScrub, Black, In(2, Dump(At(1))), HouseRules.Default, false, At(2).ToInstant(), freeL: 1)
            .Single().Refuses.ShouldBeTrue();
        Against(DoseRecipe.TravelScrub, In(2, Dump(At(1))), free: 60).ShouldBeEmpty();
        Objections.To(DoseRecipe.Deodorant, Black, In(2, Dump(At(1))), HouseRules.Default, true, At(2).ToInstant(), [Substance.Formaldehyde])
            .ShouldHaveSingleItem().ShouldBe(new Objection(ObjectionCode.Septic, true));
    }

    [Fact]
    public void A_soak_stands_a_scrub_wants_its_drive_and_both_end_with_the_dump()
    {
        LogEntry[] soak = [Dump(At(1)), Dose(1, DoseRecipe.SoftenerSoak, hours: 1)];
        Courses.Build(soak, "black", At(1, 20).ToInstant()).ShouldHaveSingleItem()
            .ShouldSatisfyAllConditions(c => c.Stage.ShouldBe(CourseStage.Stands), c => c.Until.ShouldBe(At(2, 1).ToInstant()));
        Courses.Build(soak, "black", At(2, 2).ToInstant()).Single().Stage.ShouldBe(CourseStage.Dump);
        Courses.Build([.. soak, Dump(At(2, 3))], "black", At(3).ToInstant()).ShouldBeEmpty();
        LogEntry[] ice = [Dump(At(1)), Dose(1, DoseRecipe.IceScrub, hours: 1)];
        Courses.Build(ice, "black", At(2).ToInstant()).Single().Stage.ShouldBe(CourseStage.WantsDrive);
        Courses.Build([.. ice, new DriveEntry { At = At(1, 2), Hours = 1.5 }], "black", At(2).ToInstant()).Single()
            .ShouldSatisfyAllConditions(c => c.Stage.ShouldBe(CourseStage.WantsDrive), c => c.DrivenHours.ShouldBe(1.5));
        Courses.Build([.. ice, new DriveEntry { At = At(1, 2), Hours = 3 }], "black", At(2).ToInstant()).Single().Stage.ShouldBe(CourseStage.Dump);
        Courses.Build([Dump(At(1)), Dose(1, DoseRecipe.Enzyme, hours: 1)], "black", At(2).ToInstant()).ShouldBeEmpty("a routine dose ends by itself");
    }

    [Fact]
    public void Scrubs_in_a_row_are_counted_until_a_dump_goes_without()
    {
        LogEntry[] three = [Dump(At(0)), Dose(1, DoseRecipe.TravelScrub), Dump(At(1.5)), Dose(3, DoseRecipe.TravelScrub), Dump(At(3.5)),
            Dose(5, DoseRecipe.TravelScrub)];
        Courses.Build(three, "black", At(5.2).ToInstant()).Single().InARow.ShouldBe(3);
        Courses.Build([.. three.Take(5), Dump(At(4)), three[5]], "black", At(5.2).ToInstant()).Single().InARow.ShouldBe(1);
    }

    [Fact]
    public void A_scrub_counts_as_a_deep_clean_once_it_was_dumped()
    {
        Courses.DeepCleaned([Dump(At(0))], "black").ShouldBeEmpty();
        Courses.DeepCleaned([Dump(At(0)), Dose(9, DoseRecipe.TravelScrub), Dump(At(10))], "black").ShouldBe([At(10).ToInstant()]);
        Courses.DeepCleaned([Dump(At(0)), Dose(9, DoseRecipe.TravelScrub)], "black").ShouldBeEmpty("not dumped yet");
        Courses.DeepCleaned([Dump(At(0)), Flush(20, 3, FlushMethod.Reverse)], "black").ShouldBe([At(20, 0.3).ToInstant()]);
    }

    [Fact]
    public void Today_says_when_a_soak_is_over()
    {
        LogEntry[] log = [Stay(At(0), Hookup.Full), Dump(At(1)), Dose(1, DoseRecipe.SoftenerSoak, hours: 1)];
        NextStep Step(double day)
        {
            var book = Book(Rig(), At(day), log);
            return Advice.For(book, new JointEstimator().Estimate(book)).Steps.Single(s => s.Code == StepCode.DumpSoak);
        }
        Step(1.5).ShouldSatisfyAllConditions(s => s.Due.ShouldBe(At(2, 1).ToInstant()), s => s.Recipe.ShouldBe(DoseRecipe.SoftenerSoak));
        Step(2.5).Due.ShouldBe(At(2.5).ToInstant());
    }

    [Fact]
    public void Every_recipe_has_its_rules_its_amounts_and_its_place()
    {
        foreach (var recipe in Recipes.All)
        {
            var dose = DoseCalculator.Compute(recipe.Code, 150);
            dose.Steps.ShouldNotBeEmpty(recipe.Code.ToString());
            dose.Cautions.ShouldNotBeEmpty();
            recipe.Purposes.ShouldNotBeEmpty();
            if (!RoutineDose.IsRoutine(recipe.Code)) dose.WaterL.ShouldBe(recipe.WaterL(150), 0.2, recipe.Code.ToString());
            if (recipe.Motion == Motion.Stands && recipe.Then) recipe.Stands.ShouldNotBeNull();
            (dose.WaterL <= 0.9 * 150).ShouldBeTrue();
        }
        Recipes.All.Select(r => r.Code).ShouldBeUnique();
        Enum.GetValues<DoseRecipe>().Where(DoseCalculator.IsComputed).ShouldBe(Recipes.All.Select(r => r.Code), ignoreOrder: true);
        Recipes.For(Purpose.Sensors, TankRole.Gray).Select(r => r.Code).ShouldBe([DoseRecipe.TravelScrub, DoseRecipe.SensorCleaner]);
    }
}
