using System.Text;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Levels;

public class HindsightTests
{
    private static Hindsight Of(string tank, params LogEntry[] entries)
    {
        var rig = Rig();
        var running = new JointEstimator().Start(rig);
        return Hindsight.Of(rig.Find(tank)!, entries.Select(e => (e, running.Add(e))));
    }

    [Fact]
    public void Each_look_stands_beside_what_was_believed_before_it()
    {
        var rate = Rig().People * Rig().MedianInflow(Rig().Tanks[0], Hookup.Full) / BlackL;
        LogEntry[] entries = [Stay(At(0), Hookup.Full), Dump(At(0.1)), Looked(At(3), 0.01 + 3 * rate), Looked(At(5), 0.01 + 5 * rate),
            Looked(At(5.1), 0.95), Dump(At(6)), Looked(At(6.1), 0.02), Lamps(At(7), "low"), Looked(At(7), 0.5, "gray")];
        var black = Of("black", entries);
        black.Seen.Select(s => s.Within).ShouldBe([true, true, false, true]);
        black.Within.ShouldBe(3);
        black.Seen[2].OffL.ShouldBeGreaterThan(0.3 * BlackL);
        black.Seen[2].Before.P95L.ShouldBeLessThan(0.95 * BlackL);
        // What came later is not in it: the first range is as wide as it was then.
        var first = Of("black", entries[..3]).Seen.Single();
        (first.Before, first.FoundL, first.Within).ShouldBe((black.Seen[0].Before, black.Seen[0].FoundL, black.Seen[0].Within));
        (first.Before.P95L - first.Before.P05L).ShouldBeGreaterThan(black.Seen[1].Before.P95L - black.Seen[1].Before.P05L);
        black.UsualOffL!.Value.ShouldBeInRange(0, 0.1 * BlackL);
        Of("gray", entries).Seen.Count.ShouldBe(1);
        Of("gray", entries[..2]).UsualOffL.ShouldBeNull();
    }

    [Fact]
    public void The_table_has_a_line_a_look()
    {
        var text = Encoding.UTF8.GetString(HindsightCsv.Write([Of("black", Stay(At(0), Hookup.Full), Dump(At(0.1)), Looked(At(3), 0.5))]));
        var lines = text.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        lines.Length.ShouldBe(2);
        lines[0].TrimStart('\uFEFF').ShouldBe(string.Join(',', HindsightCsv.Columns));
        lines[1].Split(',')[1..3].ShouldBe(["black", "sight"]);
        lines[1].Split(',')[6].ShouldBe("75.7");
    }

    // The shower stands in water: whatever was counted, gray is full.
    [Fact]
    public void A_shower_that_stands_in_water_means_a_full_gray()
    {
        var rig = Rig();
        double Gray(params LogEntry[] entries) => new JointEstimator().Estimate(Book(rig, entries[^1].At, entries))["gray"].Level.P50L / rig.Tanks[1].CapacityL;
        LogEntry[] counted = [Stay(At(0), Hookup.Partial), Dump(At(0.1), "gray"), Looked(At(1), 0.3, "gray")];
        Gray(counted).ShouldBeInRange(0.2, 0.4);
        Gray([.. counted, new SymptomEntry { At = At(1, 14), Code = SymptomCode.ShowerStandsInWater }]).ShouldBeGreaterThan(0.85);
        // With the valve open it is the drain.
        Gray([.. counted, new ValveEntry { At = At(1, 1), Tank = "gray", State = ValveState.Open },
            new SymptomEntry { At = At(1, 14), Code = SymptomCode.ShowerStandsInWater }]).ShouldBeLessThan(0.2);
    }

    // Guests for the weekend that nobody wrote down: both tanks are seen far fuller than counted.
    [Fact]
    public void Both_tanks_far_fuller_than_counted_ask_for_more_people()
    {
        var rig = Rig();
        double Rate(int tank) => rig.People * rig.MedianInflow(rig.Tanks[tank], Hookup.Partial) / rig.Tanks[tank].CapacityL;
        var entries = new List<LogEntry> { Stay(At(0), Hookup.Partial) };
        for (var k = 0; k < 8; k++)
            entries.AddRange([Dump(At(4 * k, 1)), Dump(At(4 * k, 2), "gray"), Looked(At(4 * k + 2), 0.01 + 1.9 * Rate(0)),
                Looked(At(4 * k + 2, 0.1), 0.01 + 1.9 * Rate(1), "gray")]);
        LogDoubt[] Doubts(double times)
        {
            LogEntry[] all = [.. entries, Dump(At(32, 1)), Dump(At(32, 2), "gray"), Looked(At(35), 0.01 + 2.9 * times * Rate(0)),
                Looked(At(35, 0.1), Math.Min(0.97, 0.01 + 2.9 * times * Rate(1)), "gray")];
            var book = Book(rig, At(35, 1), [.. all.OrderBy(e => e.Instant).Select((e, i) => e with { Id = $"e{i}" })]);
            return [.. LogDoubts.Of(book, new JointEstimator().Estimate(book))];
        }
        Doubts(1).ShouldBeEmpty();
        var doubt = Doubts(2.6).ShouldHaveSingleItem();
        doubt.Misfit.Kind.ShouldBe(InconsistencyKind.UnloggedPeople);
        // They came, and they left again.
        var people = doubt.Suggest.Cast<PeopleEntry>().ToList();
        people.Count.ShouldBe(2);
        people[0].Count.ShouldBeInRange(3, 6);
        people[1].Count.ShouldBe(2);
        people[1].At.ShouldBe(doubt.Misfit.At);
        // Once they are written down it fits.
        entries.AddRange(people);
        Doubts(2.6).ShouldBeEmpty();
        doubt.Entries.Count.ShouldBe(2);
        doubt.Misfit.From!.Value.ToInstant().ShouldBeLessThan(doubt.Misfit.At.ToInstant());
    }

    // Months at hookups, then a look that finds both tanks hardly filled: somebody was gone, or the hookups were.
    [Theory]
    [InlineData(0.5, 0.5, 1)]   // one of two
    [InlineData(0.56, 0.32, -1)] // both, off the hookups
    public void Both_tanks_far_emptier_than_counted_ask_who_was_there(double black, double gray, int people)
    {
        var rig = Rig() with { Tanks = [Rig().Tanks[0] with { CapacityL = 60 }, Rig().Tanks[1]] };
        double Rate(int tank) => rig.People * rig.MedianInflow(rig.Tanks[tank], Hookup.Full) / rig.Tanks[tank].CapacityL;
        var entries = new List<LogEntry> { Stay(At(0), Hookup.Full) };
        for (var k = 0; k < 10; k++)
            entries.AddRange([Dump(At(3 * k, 1)), Dump(At(3 * k, 1.1), "gray"), Looked(At(3 * k + 2), 0.01 + 1.95 * Rate(0)),
                Looked(At(3 * k + 2, 0.1), 0.01 + 1.95 * Rate(1), "gray")]);
        LogDoubt[] Doubts(double ofBlack, double ofGray)
        {
            LogEntry[] all = [.. entries, Dump(At(30, 1)), Dump(At(30, 1.1), "gray"), Looked(At(32), 0.01 + 1.95 * ofBlack * Rate(0)),
                Looked(At(32, 0.1), 0.01 + 1.95 * ofGray * Rate(1), "gray")];
            var book = Book(rig, At(32, 1), [.. all.OrderBy(e => e.Instant).Select((e, i) => e with { Id = $"e{i}" })]);
            return [.. LogDoubts.Of(book, new JointEstimator().Estimate(book))];
        }
        Doubts(1, 1).ShouldBeEmpty();
        var doubt = Doubts(black, gray).ShouldHaveSingleItem();
        doubt.Misfit.Kind.ShouldBe(InconsistencyKind.UnloggedPeople);
        doubt.Misfit.FoundL.ShouldBeLessThan(doubt.Misfit.ExpectedL);
        doubt.Entries.Count.ShouldBe(2);
        if (people >= 0) doubt.Suggest[0].ShouldBeOfType<PeopleEntry>().Count.ShouldBe(people);
        else doubt.Suggest.ShouldHaveSingleItem().ShouldBeOfType<StayEntry>().Hookup.ShouldBe(Hookup.Dry);
        // Written down, it fits.
        entries.AddRange(doubt.Suggest);
        Doubts(black, gray).ShouldBeEmpty();
    }

    // Six at the table and two in the log: the lights that come on too soon are the guests', not the sensors' fault.
    [Fact]
    public void Guests_nobody_counted_widen_the_inflow_and_accuse_no_sensor()
    {
        var rig = Rig();
        var rate = rig.People * rig.MedianInflow(rig.Tanks[0], Hookup.Full) / BlackL;
        var entries = new List<LogEntry> { Stay(At(0), Hookup.Full) };
        string[] Lit(double share) => [.. rig.Tanks[0].Monitor.Probes.Where(p => share >= p.AtFraction).Select(p => p.Id)];
        for (var k = 0; k < 5; k++)
        {
            entries.Add(Dump(At(10 * k, 1)));
            for (var d = 0.5; d < 10; d += 0.5) entries.Add(Lamps(At(10 * k + d, 1), Lit(d * rate)));
        }
        entries.Add(Dump(At(50, 1)));
        for (var d = 0.5; d <= 3; d += 0.5) entries.Add(Lamps(At(50 + d, 1), Lit(3.2 * d * rate)));
        var black = new JointEstimator().Estimate(Book(rig, At(53, 1), [.. entries]))["black"];
        black.Probes.ShouldAllBe(p => p.Believed);
        black.Level.P95L.ShouldBeGreaterThan(3.2 * 3 * rate * BlackL * 0.95);
        black.Level.P50L.ShouldBeGreaterThan(0.6 * BlackL);
    }
}
