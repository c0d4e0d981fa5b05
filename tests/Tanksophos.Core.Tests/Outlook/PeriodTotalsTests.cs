using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Outlook;

/// <summary>What a stretch of the log adds up to.</summary>
public class PeriodTotalsTests
{
    [Fact]
    public void Everything_counts_once_and_only_metered_water_adds_up()
    {
        var totals = PeriodTotals.Compute(Rig(),
        [
            Dump(At(0)), Dump(At(3)), Dump(At(3.1), "gray"),
            new FlushEntry { At = At(3.2), Tank = "black", Method = FlushMethod.BuiltIn,
                Cycles = [new FlushCycle(90, null, null, null), new FlushCycle(60, 12.5, EndColor.Clear, null)] },
            new FlushEntry { At = At(3.3), Tank = "gray", Method = FlushMethod.Bucket },
            new WaterEntry { At = At(3.4), Tank = "black", WaterL = 16, Purpose = WaterPurpose.Starter },
            new DoseEntry { At = At(3.5), Tank = "black", Recipe = DoseRecipe.Enzyme },
            new OdorEntry { At = At(1), Where = OdorPlace.Bathroom, Smell = Smell.Sewage },
            new OdorEntry { At = At(1.1), Where = OdorPlace.Shower, Smell = Smell.Sewage },
            new OdorEntry { At = At(4), Where = OdorPlace.Shower, Smell = Smell.Sewage },
            new CheckEntry { At = At(4.1), Code = CheckCode.SniffTest, Result = CheckResult.Fail },
            new CheckEntry { At = At(4.2), Code = CheckCode.SniffTest, Result = CheckResult.Pass },
        ]);
        totals.Dumps.ShouldBe([("black", 2), ("gray", 1)]);
        (totals.Rinses, totals.RinseL, totals.AddedL, totals.Doses, totals.SmellDays, totals.FailedChecks).ShouldBe((2, 12.5, 16.0, 1, 2, 1));
        PeriodTotals.Compute(Rig(), []).ShouldSatisfyAllConditions(t => t.Dumps.ShouldBeEmpty(), t => t.Rinses.ShouldBe(0));
    }
}
