using Tanksophos.Core.Agendas;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;
using Tanksophos.Words;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Words;

/// <summary>Every code has its sentence, in the units asked for, and none of the words that people do not say.</summary>
public class DocumentWordsTests
{
    private static readonly string[] Banned = ["lamp", "stands", "nobody knows", "practitioner", "the house", "outrank", "liquid stands", "runs off",
        "null", "  "];

    private static void Plain(string text, string of)
    {
        text.ShouldNotBeNullOrWhiteSpace(of);
        foreach (var word in Banned) text.ShouldNotContain(word, Case.Insensitive, of);
        "?.)".ShouldContain(text[^1], of);
    }

    [Fact]
    public void Every_reason_of_a_plan_has_a_sentence()
    {
        foreach (var why in Enum.GetValues<PlanWhy>())
            Plain(DocumentWords.English.Why(new PlanAction(At(0), "s", PlanActionKind.Dump, "black", why)), why.ToString());
        DocumentWords.English.Why(new PlanAction(At(0), "s", PlanActionKind.Dose, "black", PlanWhy.AfterEachDump)
        {
            Doubled = true,
            NotForSepticAt = "Alder Bend"
        }).ShouldSatisfyAllConditions(t => t.ShouldContain("Alder Bend"), t => t.ShouldContain("Double"));
        DocumentWords.English.Why(new PlanAction(At(0), "s", PlanActionKind.Dump, "black", null)).ShouldBeEmpty();
    }

    [Theory]
    [InlineData(KitchenUnits.Us, "gal", " L")]
    [InlineData(KitchenUnits.Metric, " L", "gal")]
    public void Every_line_of_every_dose_has_a_sentence_in_the_units_asked_for(KitchenUnits units, string ours, string theirs)
    {
        var water = 0;
        foreach (var recipe in Enum.GetValues<DoseRecipe>().Where(DoseCalculator.IsComputed))
            foreach (var (free, unknown, high) in new (double?, bool, double?)[] { (null, false, null), (20, true, 35), (null, false, 20) })
            {
                var dose = DoseCalculator.Compute(recipe,
                    new DoseCase(150) { Units = units, FreeL = free, LevelUnknown = unknown, HighC = high, Days = high is null ? null : 12 });
                foreach (var line in dose.Steps.Concat(dose.Cautions).Concat(dose.Why))
                {
                    var text = DocumentWords.English.Say(line, dose.Units);
                    Plain(text, $"{recipe} {line.Note} {line.Number}");
                    if (line.Note is DoseNote.RecipeStep && recipe is DoseRecipe.SealConditioner) continue;
                    text.ShouldNotMatch($"[0-9]{theirs}", line.ToString());
                    if (text.Contains(ours, StringComparison.Ordinal)) water++;
                }
            }
        water.ShouldBeGreaterThan(20);
        foreach (var school in Enum.GetValues<TreatmentSchool>())
            DoseCalculator.Routine(school, new DoseCase(150) { Units = units }).Steps.ShouldAllBe(l => DocumentWords.English.Say(l, units).Length > 8);
    }

    [Fact]
    public void The_agenda_speaks_of_the_tank_by_its_name()
    {
        var book = Book(Rig(), At(4), Stay(At(0), Hookup.Full), Dump(At(0.1)), Looked(At(3.9), 0.7));
        var situation = Situation.Build(book, new JointEstimator().Estimate(book));
        var agenda = Court.Decide(situation);
        agenda.Items.ShouldNotBeEmpty();
        foreach (var item in agenda.Items) Plain(DocumentWords.English.Why(item, situation), item.Code.ToString());
        foreach (var held in agenda.Held) Plain(DocumentWords.English.Why(held, situation), held.Code.ToString());
    }
}
