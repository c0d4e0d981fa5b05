using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Diagnosis;

/// <summary>A tank's year: points in order, within the year, and what may have changed them.</summary>
public class TankHealthTests
{
    private static readonly Rig Of = Rig();

    private static TankHealth Health(double day, IEnumerable<LogEntry> entries, int tank = 0) =>
        TankHealth.Compute(Of, Of.Tanks[tank], [.. entries.OrderBy(e => e.Instant)], At(day).ToInstant());

    private static FlushEntry Rinsed(double day, int cycles, bool clear = true) =>
        new()
        {
            At = At(day, 0.3),
            Tank = "black",
            Method = FlushMethod.BuiltIn,
            Cycles = [.. Enumerable.Range(1, cycles)
            .Select(k => new FlushCycle(60, null, k == cycles && clear ? EndColor.Clear : EndColor.Dark, k == cycles && clear ? Debris.None : Debris.Paper))]
        };

    private static IEnumerable<LogEntry> Season(int weeks)
    {
        yield return Stay(At(0), Hookup.Full);
        for (var w = 1; w <= weeks; w++)
        {
            yield return Looked(At(7 * w - 0.1), 0.6);
            yield return new DumpEntry { At = At(7 * w), Tank = "black", Minutes = 2 + 0.1 * w, Flow = DumpFlow.Rush };
            yield return Rinsed(7 * w, 2 + w / 6);
        }
    }

    [Fact]
    public void Points_stand_in_the_order_of_time_within_the_year()
    {
        var health = Health(7 * 70, Season(70));
        foreach (var points in new[] { health.Cycles, health.Drains, health.Heap, health.Buildup })
        {
            points.ShouldNotBeEmpty();
            points.Select(p => p.At).ShouldBeInOrder();
            points.ShouldAllBe(p => p.At >= health.From && p.At <= health.To);
        }
        (health.To - health.From).ShouldBe(Duration.FromDays(365));
        health.Cycles[^1].Value.ShouldBeGreaterThan(health.Cycles[0].Value);
        health.Drains.ShouldAllBe(p => p.Value > 0.2 && p.Value < 5);
        health.Heap.Concat(health.Buildup).ShouldAllBe(p => p.Value >= 0 && p.Value <= 1);
        health.Buildup.Count.ShouldBeLessThanOrEqualTo(41, "a chart of a year needs no more");
        health.Buildup[^1].At.ShouldBe(health.To, "it ends today");
    }

    [Fact]
    public void Rising_cycles_raise_the_risk_of_buildup_over_the_year()
    {
        var health = Health(7 * 40, Season(40));
        health.Buildup[^1].Value.ShouldBeGreaterThan(health.Buildup[0].Value + 0.2);
    }

    [Fact]
    public void A_rinse_that_ended_dirty_counts_one_more()
    {
        Health(9, [Stay(At(0), Hookup.Full), Dump(At(7)), Rinsed(7, 4, clear: false)]).Cycles.Single().Value.ShouldBe(5);
        Health(9, [Stay(At(0), Hookup.Full), Dump(At(7)), Rinsed(7, 4)]).Cycles.Single().Value.ShouldBe(4);
    }

    [Fact]
    public void Gray_has_no_heap_and_each_tank_its_own_smells()
    {
        LogEntry[] log = [.. Season(4), new OdorEntry { At = At(20), Where = OdorPlace.GalleySink, Smell = Smell.Rancid },
            new OdorEntry { At = At(20.2), Where = OdorPlace.GalleySink, Smell = Smell.Rancid },
            new OdorEntry { At = At(21), Where = OdorPlace.Bathroom, Smell = Smell.Sewage }];
        var black = Health(30, log);
        var gray = Health(30, log, 1);
        gray.Heap.ShouldBeEmpty();
        gray.Cycles.ShouldBeEmpty();
        gray.OdorDays.ShouldBe([At(20).Date], "twice on one day is one day");
        black.OdorDays.ShouldBe([At(21).Date]);
    }

    [Fact]
    public void A_metered_fill_to_the_top_lamp_is_a_point_of_its_capacity()
    {
        var health = Health(30, [.. Season(3), new ReadingEntry { At = At(25), Tank = "black", Via = ReadingVia.Meter, Fraction = 0.8 },
            Lamps(At(25), "low", "mid", "top"), new ReadingEntry { At = At(27), Tank = "black", Via = ReadingVia.Meter, Fraction = 0.5 }]);
        var point = health.Capacity.Single();
        point.At.ShouldBe(At(25).ToInstant());
        point.Value.ShouldBe(0.8 * BlackL, 1e-6);
    }

    [Fact]
    public void Jets_storage_and_a_new_school_are_marked_and_the_first_school_is_not()
    {
        DoseEntry Dosed(double day, DoseRecipe recipe) => new() { At = At(day), Tank = "black", Recipe = recipe };
        var health = Health(40, [.. Season(3), Dosed(7.1, DoseRecipe.Enzyme), Dosed(14.1, DoseRecipe.Enzyme), Dosed(21.1, DoseRecipe.SoftenerCleaner),
            Stay(At(25), Hookup.Storage),
            new FlushEntry { At = At(23), Tank = "black", Method = FlushMethod.Jet, Cycles = [] },
                new ServiceEntry { At = At(24), Code = ServiceCode.SeasonClose, Grade = Grade.B },
                new ServiceEntry { At = At(24.5), Tank = "gray", Code = ServiceCode.ValveReplaced }]);
        health.Events.Select(e => (e.At, e.School))
            .ShouldBe([(At(21.1).ToInstant(), TreatmentSchool.SoftenerCleaner), (At(23).ToInstant(), null), (At(24).ToInstant(), null),
            (At(25).ToInstant(), null)]);
        health.Graded!.Grade.ShouldBe(Grade.B);
        Health(40, Season(3)).Graded.ShouldBeNull();
    }

    [Fact]
    public void An_empty_log_is_borne()
    {
        var health = Health(3, []);
        health.Cycles.ShouldBeEmpty();
        health.Drains.ShouldBeEmpty();
        health.OdorDays.ShouldBeEmpty();
        health.Cures.ShouldBeEmpty();
        health.Heap.ShouldHaveSingleItem().Value.ShouldBeLessThan(0.1);
    }
}
