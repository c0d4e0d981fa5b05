using System.Text.Json;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Words;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Levels;

/// <summary>What a tank really holds, learned from ordinary entries. The test rig's black: 151.4 L stated, 12 of them above Full.</summary>
public class CapacityTests
{
    private const double FullL = BlackL - 12;

    private static TankCapacity Of(double days, params LogEntry[] entries) => Black(days, entries).Capacity!;

    private static TankBelief Black(double days, params LogEntry[] entries) => new JointEstimator()
        .Estimate(Book(Rig(), At(days), [Stay(At(0), Hookup.Full), .. entries]))["black"];

    private static WaterEntry Water(double day, double litres) => new() { At = At(day), Tank = "black", WaterL = litres, Purpose = WaterPurpose.Other };

    private static ReadingEntry Metered(double day, double litres) =>
        new() { At = At(day), Tank = "black", Via = ReadingVia.Meter, Fraction = litres / BlackL };

    private static FlushEntry Flush(double day, FlushMethod method = FlushMethod.BuiltIn, params double[] water) =>
        new() { At = At(day), Tank = "black", Method = method, Cycles = [.. water.Select(w => new FlushCycle(null, w, EndColor.Clear, null))] };

    private static LogEntry[] FullAfter(double day, double litres) =>
        [Dump(At(day)), Flush(day + 0.01), Water(day + 0.02, litres), Lamps(At(day + 0.025), "low", "mid", "top")];

    [Fact]
    public void Without_a_look_the_stated_capacity_counts()
    {
        var capacity = Of(3, Dump(At(1)), Lamps(At(2), "low"));
        (capacity.StatedL, capacity.UsedL, capacity.Observations.Count).ShouldBe((BlackL, BlackL, 0));
    }

    [Fact]
    public void Water_counted_from_empty_to_the_top_lamp_shows_what_it_holds_and_everything_counts_with_it()
    {
        var black = Black(2, FullAfter(1, 95));
        black.Capacity!.UsedL.ShouldBe(95 + 1.5 + 12, 6);
        black.Tank.CapacityL.ShouldBe(black.Capacity.UsedL);
        black.Tank.StatedL.ShouldBe(BlackL);
        black.Capacity.Observations.ShouldHaveSingleItem().Sign.ShouldBe(CapacitySign.CountedToFull);
        black.Level.P50L.ShouldBeGreaterThan(85);
        black.Probes.ShouldAllBe(p => p.Believed, "no lamp lied");
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void So_does_the_meter_whichever_is_written_first(bool meterFirst)
    {
        LogEntry meter = Metered(1.1, 106), lamps = Lamps(At(1.1), "low", "mid", "top");
        Of(2, [Dump(At(1)), Flush(1.01), Water(1.09, 105), .. meterFirst ? (LogEntry[])[meter, lamps] : [lamps, meter]]).UsedL.ShouldBe(106 + 12, 0.2);
    }

    [Fact]
    public void So_do_an_eye_a_metered_rinse_and_what_ran_out()
    {
        Of(2, Dump(At(1)), Flush(1.01), Water(1.02, 75), Looked(At(1.03), 0.8)).UsedL.ShouldBe(76.5 / 0.8, 4);
        Of(2, Dump(At(1)), Lamps(At(1.02), "low", "mid", "top"), Flush(1.021, FlushMethod.BuiltIn, 40, 100)).UsedL.ShouldBe(112, 1);
        Of(9, Dump(At(1)), Lamps(At(6)), Lamps(At(8), "low", "mid", "top"),
            new DumpEntry { At = At(8.1), Tank = "black", VolumeL = 100, Flow = DumpFlow.Rush }).UsedL.ShouldBe(100 + 1.5 + 12, 1);
    }

    [Fact]
    public void One_look_only_makes_it_safer_and_two_that_agree_settle_it()
    {
        Of(2, FullAfter(1, FullL)).UsedL.ShouldBe(BlackL, 3, "all of it");
        var low = Of(8, [.. FullAfter(1, 90), .. FullAfter(4, 118)]);
        low.UsedL.ShouldBe(90 + 13.5, 6, "one higher look does not raise it");
        var settled = Of(10, [.. FullAfter(1, 90), .. FullAfter(4, 117), .. FullAfter(7, 119)]);
        settled.UsedL.ShouldBe(118 + 13.5, 8, "two that agree do");
        settled.UsedL.ShouldBeLessThanOrEqualTo(BlackL);
    }

    [Fact]
    public void A_jet_or_a_deep_clean_begins_anew()
    {
        Of(8, [.. FullAfter(1, 90), new ServiceEntry { At = At(3), Code = ServiceCode.PressureJet, Tank = "black" }])
            .ShouldSatisfyAllConditions(c => c.UsedL.ShouldBe(BlackL), c => c.Observations.ShouldBeEmpty());
        Of(8, [.. FullAfter(1, 90), new DoseEntry { At = At(3), Tank = "black", Recipe = DoseRecipe.SoftenerSoak }]).UsedL.ShouldBeLessThan(BlackL,
            "it sits, and was not dumped yet");
        Of(8, [.. FullAfter(1, 90), new DoseEntry { At = At(3), Tank = "black", Recipe = DoseRecipe.SoftenerSoak }, Dump(At(4))]).UsedL.ShouldBe(BlackL);
    }

    [Fact]
    public void Water_that_nobody_counted_shows_nothing()
    {
        Of(8, Dump(At(1)), Lamps(At(3), "low"), Lamps(At(4), "low", "mid", "top")).UsedL.ShouldBe(BlackL, "a busy household");
        Of(8, Water(1, 90), Lamps(At(1.1), "low", "mid", "top")).UsedL.ShouldBe(BlackL, "not from a known level");
        Of(8, Dump(At(1)), Flush(1.01), Water(1.02, 20), Lamps(At(1.03), "low", "mid", "top")).UsedL.ShouldBe(BlackL, "a film, not buildup");
    }

    [Fact]
    public void The_estimate_can_be_saved_and_gone_on_with_and_the_assessment_says_it()
    {
        var estimator = new JointEstimator();
        LogEntry[] entries = [Stay(At(0), Hookup.Full), .. FullAfter(1, 95), Dump(At(4))];
        var running = estimator.Start(Rig());
        foreach (var e in entries) running.Add(e);
        var resumed = estimator.Resume(Rig(), running.Save())!;
        resumed.At(At(6))["black"]
            .ShouldSatisfyAllConditions(b => b.Capacity!.UsedL.ShouldBe(running.At(At(6))["black"].Capacity!.UsedL),
            b => b.Level.ShouldBe(running.At(At(6))["black"].Level), b => b.Tank.CapacityL.ShouldBeLessThan(BlackL));

        using var document = JsonDocument.Parse(AssessmentFormat.Write(Book(Rig(), At(6), entries), estimator, DocumentWords.English));
        var capacity = document.RootElement.GetProperty("tanks")[0].GetProperty("capacity");
        capacity.GetProperty("statedL").GetDouble().ShouldBe(BlackL);
        capacity.GetProperty("usedL").GetDouble().ShouldBe(capacity.GetProperty("measuredL").GetDouble());
        capacity.GetProperty("at").GetString().ShouldNotBeNull();
        document.RootElement.GetProperty("tanks")[1].GetProperty("capacity").TryGetProperty("measuredL", out _).ShouldBeFalse();
    }
}
