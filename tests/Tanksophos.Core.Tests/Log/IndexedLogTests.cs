using CsCheck;
using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Tests.Log;

/// <summary>What pages need of the past, kept up entry by entry, is what a computation from scratch gives.</summary>
public class IndexedLogTests
{
    private static readonly Instant Start = Given.Start.ToInstant();

    private static readonly Gen<LogEntry> Entries = Gen.Select(Gen.Int[0, 15], Gen.Int[0, 60 * 24 * 40], Gen.Bool, Gen.Int[1, 4])
        .Select((kind, minutes, black, n) =>
    {
        var at = Start.Plus(Duration.FromMinutes(minutes)).WithOffset(Given.Start.Offset);
        var tank = black ? "black" : "gray";
        return (LogEntry)(kind switch
        {
            0 or 1 => new DumpEntry { At = at, Tank = tank, Flow = n == 4 ? DumpFlow.Trickle : DumpFlow.Rush, Minutes = n },
            2 or 3 => new FlushEntry
            {
                At = at,
                Tank = tank,
                Method = FlushMethod.BuiltIn,
                Cycles = [.. Enumerable.Range(0, n).Select(i => new FlushCycle(60, 12, i == n - 1 ? EndColor.Clear : EndColor.Dark, Debris.None))]
            },
            4 => new DoseEntry { At = at, Tank = tank, Recipe = DoseRecipe.Enzyme, Used = [new ProductUse("a", n)] },
            5 => new DoseEntry { At = at, Tank = tank, Recipe = DoseRecipe.TravelScrub },
            6 => new DoseEntry { At = at, Tank = tank, Recipe = DoseRecipe.ClassicBleach },
            7 => new DriveEntry { At = at, Hours = n },
            8 => new ReadingEntry { At = at, Tank = "black", Via = ReadingVia.Panel, Lit = n > 2 ? ["low"] : [] },
            9 => new ReadingEntry { At = at, Tank = "black", Via = ReadingVia.Meter, Fraction = n / 5.0 },
            10 => new StayEntry { At = at, Hookup = n > 3 ? Hookup.Storage : Hookup.Full },
            11 => new PeopleEntry { At = at, Count = n },
            12 => new SymptomEntry { At = at, Code = SymptomCode.DrainsSlowly, Tank = tank },
            13 => new CheckEntry { At = at, Code = CheckCode.SniffTest, Result = n > 2 ? CheckResult.Fail : CheckResult.Pass },
            14 => new OdorEntry { At = at, Where = OdorPlace.Bathroom, Smell = Smell.Sewage, When = [] },
            _ => new WaterEntry { At = at, Tank = tank, WaterL = n, Purpose = WaterPurpose.Starter },
        });
    });

    private static string Asked(IReadOnlyList<LogEntry> log, Rig rig, Instant now)
    {
        var black = rig.Tanks[0];
        var there = InTheTank.Compute(log, "black", now);
        return string.Join('\n',
        [
            string.Join(',', there.Treatments.Select(t => (t.Recipe, t.Since))),
                $"{there.BleachLeft} {there.BleachedAt} {there.RinsesSince} {there.Waste} {there.EmptiedAt}",
            string.Join(',', Courses.Build(log, "black", now).Select(c => (c.Recipe, c.Stage, c.DrivenHours, c.InARow))),
                string.Join(',', Courses.DeepCleaned(log, "black")),
            $"{RunHistory.Flow(log, FlushMethod.BuiltIn)} {RunHistory.MeteredFullL(log, black)} {RunHistory.IsSuspect(log, "gray")} "
            + $"{RunHistory.Trend(log, "black")}",
                string.Join(',', RunHistory.Cycles(log, "black").Further),
            $"{Shelf.StateOf(rig.Products[0], log, now)}", string.Join(',', SchoolRecords.Of(log, rig, "black", now)),
            string.Join(',', Conditions.Compute(rig, black, FaultReport.Read(log, now), now).Select(c => (c.Code, Math.Round(c.Probability, 9)))),
            string.Join(',', TankHealth.Compute(rig, black, log, now) is var h ? h.Heap.Concat(h.Buildup).Concat(h.Cycles).Concat(h.Drains)
                .Select(p => (p.At, Math.Round(p.Value, 9))) : []),
        ]);
    }

    [Fact]
    public void Kept_up_entry_by_entry_it_answers_as_from_scratch()
    {
        var rig = Given.Rig() with
        {
            Products = [new Product("a", "A", Substance.Cultures, new LabelDose(30, DoseUnit.Ml)) { Holds = 950,
            Stock = [new StockNote(Given.At(1), 500, false)] }]
        };
        Entries.Array[2, 40].Sample(made =>
        {
            LogEntry[] all = [.. made.OrderBy(e => e.Instant)];
            var now = Start + Duration.FromDays(41);
            var log = IndexedLog.Empty;
            for (var i = 0; i < all.Length; i += 1 + i % 3)
            {
                log = log.Append(all[i..Math.Min(all.Length, i + 1 + i % 3)]);
                if (i % 7 == 0) Asked(log, rig, log[^1].Instant + Duration.FromHours(1)); // asked on the way, so that there is something to go on with
            }
            log.ShouldBe(all);
            Asked(log, rig, now).ShouldBe(Asked(all, rig, now));
            log.Kind<DumpEntry>().ShouldBe(all.OfType<DumpEntry>());
            log.Deeds("gray").ShouldBe(all.Where(e => e.Tank == "gray" && e is not ReadingEntry));
        }, iter: 200);
    }

    [Fact]
    public void Ten_seasons_of_the_demonstration_answer_alike_indexed_or_not()
    {
        for (var i = 0; i < 10; i++)
        {
            var season = DemoSeason.Until(Start + Duration.FromDays(i), i);
            Asked(new IndexedLog([.. season.Entries]), season.Rig, Start + Duration.FromDays(i))
                .ShouldBe(Asked(season.Entries, season.Rig, Start + Duration.FromDays(i)));
        }
    }

    [Fact]
    public void Bleach_is_left_until_it_was_rinsed_twice_after_the_dump()
    {
        var log = new List<LogEntry> { new DoseEntry { At = Given.At(1), Tank = "black", Recipe = DoseRecipe.ClassicBleach } };
        InTheTank.Compute(log, "black", Given.At(2).ToInstant()).BleachLeft.ShouldBeTrue();
        for (var i = 1; i <= 3; i++)
        {
            log.Add(Given.Dump(Given.At(1 + i)));
            InTheTank.Compute(log, "black", Given.At(2 + i).ToInstant()).BleachLeft.ShouldBe(i <= 2, $"{i}");
        }
    }
}
