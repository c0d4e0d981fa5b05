using CsCheck;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Care;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Core.Trips;
using Tanksophos.Words;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Care;

/// <summary>The chores of the year: due by their own rhythm, earlier on signs, quiet where they are not needed.</summary>
public class CareTests
{
    private static readonly Rig Closet = Rig() with { UnusedFixtures = ["shower", "washer"] };

    private static IReadOnlyList<CareItem> Care(Rig rig, double day, params LogEntry[] entries)
    {
        var book = Book(rig, At(day), [.. entries.OrderBy(e => e.Instant)]);
        var belief = new JointEstimator().Estimate(book);
        return CareReport.Compute(book, belief, FaultReport.Compute(book, belief));
    }

    private static CareItem? Item(Rig rig, string chore, double day, params LogEntry[] entries) => Care(rig, day, entries).FirstOrDefault(c =>
        c.Chore == chore);

    private static ChoreEntry Chore(double day, string chore, ChoreResult result = ChoreResult.Done, string? part = null) =>
        new() { At = At(day), Chore = chore, Result = result, Part = part };

    private static ServiceEntry Service(double day, ServiceCode code, Grade? grade = null, string? tank = null) =>
        new() { At = At(day), Code = code, Grade = grade, Tank = tank };

    [Fact]
    public void A_trap_is_due_two_weeks_after_water_was_last_poured_in()
    {
        Item(Rig(), ChoreWords.Traps, 30, Stay(At(0), Hookup.Full)).ShouldBeNull("nobody said which drains are unused");
        Item(Closet, ChoreWords.Traps, 3, Stay(At(0), Hookup.Full), Chore(1, ChoreWords.Traps))!.State.ShouldBe(CareState.Done);
        Item(Closet, ChoreWords.Traps, 12, Stay(At(0), Hookup.Full), Chore(1, ChoreWords.Traps))!.State.ShouldBe(CareState.Soon);
        var due = Item(Closet, ChoreWords.Traps, 15.5, Stay(At(0), Hookup.Full), Chore(1, ChoreWords.Traps))!;
        (due.State, due.Due, due.Last).ShouldBe((CareState.Due, At(15).ToInstant(), At(1).ToInstant()));
        Item(Closet, ChoreWords.Traps, 25, Stay(At(0), Hookup.Full), Chore(1, ChoreWords.Traps))!.State.ShouldBe(CareState.Overdue);
        var never = Item(Closet, ChoreWords.Traps, 40, Stay(At(0), Hookup.Full))!;
        (never.State, never.Asks(At(40).ToInstant())).ShouldBe((CareState.Never, true));
    }

    [Fact]
    public void Each_unused_drain_has_its_own_water_and_a_wet_trap_counts()
    {
        var one = Item(Closet, ChoreWords.Traps, 16, Chore(0, ChoreWords.Traps), Chore(10, ChoreWords.Traps, part: "Shower"))!;
        one.State.ShouldBe(CareState.Due);
        one.Drains.ShouldBe(["washer"]);
        Item(Closet, ChoreWords.Traps, 16, Chore(0, ChoreWords.Traps),
            new CheckEntry { At = At(9), Code = CheckCode.TrapsWet, Result = CheckResult.Pass })!.State.ShouldBe(CareState.Done);
    }

    [Fact]
    public void Traps_rest_in_storage_and_are_filled_again_after_it()
    {
        LogEntry[] stored = [Stay(At(0), Hookup.Full), Chore(1, ChoreWords.Traps), Stay(At(5), Hookup.Storage)];
        Item(Closet, ChoreWords.Traps, 60, stored).ShouldBeNull();
        var after = Item(Closet, ChoreWords.Traps, 101, [.. stored, Stay(At(100), Hookup.Full)])!;
        after.State.ShouldBe(CareState.Due);
        after.Because.ShouldBe([CareBecause.AfterStorage]);
        after.Due.ShouldBe(At(100).ToInstant());
    }

    [Theory]
    [InlineData(Grade.A, 25, CareState.Done)]
    [InlineData(Grade.A, 37, CareState.Overdue)]
    [InlineData(Grade.B, 20, CareState.Done)]
    [InlineData(Grade.B, 25, CareState.Overdue)]
    [InlineData(Grade.C, 11.8, CareState.Soon)]
    [InlineData(Grade.D, 13, CareState.Overdue)]
    [InlineData(Grade.F, 12.05, CareState.Due)]
    public void The_next_jet_goes_by_the_grade_of_the_last(Grade grade, double months, CareState state)
    {
        var item = Item(Rig(), ChoreWords.PressureJet, months * 30.44, Service(0, ServiceCode.PressureJet, grade, "black"), Stay(At(1), Hookup.Full))!;
        (item.State, item.Grade).ShouldBe((state, grade));
    }

    [Fact]
    public void A_jet_without_a_tank_was_of_black()
    {
        Item(Rig(), ChoreWords.PressureJet, 5, Service(2, ServiceCode.PressureJet, Grade.B), Stay(At(1), Hookup.Full))!.Last.ShouldBe(At(2).ToInstant());
        Care(Rig(), 5, Service(2, ServiceCode.PressureJet, Grade.B)).Count(c => c.Chore == ChoreWords.PressureJet).ShouldBe(1, "not of gray");
    }

    [Fact]
    public void A_winter_that_nobody_closed_is_asked_for_even_if_the_one_before_was_never_opened()
    {
        LogEntry[] log = [Stay(At(0), Hookup.Full), Service(10, ServiceCode.SeasonClose), Stay(At(10.1), Hookup.Storage), Stay(At(150), Hookup.Full),
            Dump(At(300)), Dump(At(300), "gray"), new PeopleEntry { At = At(300), Count = 0 }, Stay(At(301), Hookup.Storage)];
        Item(Rig(), ChoreWords.SeasonClose, 302, log)!.Asks(At(302).ToInstant()).ShouldBeTrue();
    }

    [Fact]
    public void A_rig_that_was_never_jetted_is_not_overdue()
    {
        var item = Item(Rig(), ChoreWords.PressureJet, 2000, Stay(At(0), Hookup.Full))!;
        (item.State, item.Last, item.Asks(At(2000).ToInstant())).ShouldBe((CareState.Never, null, false));
    }

    [Theory]
    [InlineData(DeepCleanRule.Monthly, 31, 0, true)]
    [InlineData(DeepCleanRule.Monthly, 20, 0, false)]
    [InlineData(DeepCleanRule.EachTrip, 20, 1, true)]
    [InlineData(DeepCleanRule.EachFewTrips, 70, 2, false)]
    [InlineData(DeepCleanRule.EachFewTrips, 70, 3, true)]
    [InlineData(DeepCleanRule.BySigns, 300, 5, false)]
    public void The_deep_clean_follows_the_rule_of_the_house(DeepCleanRule rule, double day, int trips, bool due)
    {
        var rig = Rig() with { Rules = new HouseRules { DeepClean = rule } };
        List<LogEntry> log = [Stay(At(0), Hookup.Full), Chore(0.5, ChoreWords.DeepClean)];
        for (var i = 0; i < trips; i++)
            log.AddRange([Stay(At(9 + 3 * i), Hookup.Storage), Stay(At(10 + 3 * i), Hookup.Full)]);
        var item = Item(rig, ChoreWords.DeepClean, day, [.. log]);
        (item?.State is CareState.Due or CareState.Overdue).ShouldBe(due);
    }

    [Fact]
    public void A_deep_clean_says_what_is_best_by_what_calls_for_it_and_what_is_at_hand()
    {
        var monthly = Rig() with { Rules = new HouseRules { DeepClean = DeepCleanRule.Monthly } };
        LogEntry[] quiet = [Stay(At(0), Hookup.Full), Dump(At(3)), Chore(4, ChoreWords.DeepClean)];
        LogEntry[] smells = [.. quiet, Dump(At(8)), new CheckEntry { At = At(8, 1), Code = CheckCode.SniffTest, Result = CheckResult.Fail, Tank = "black" }];
        RemedyAction? By(Rig rig, LogEntry[] log, Itinerary? stops = null)
        {
            var book = Book(rig, At(36), [.. log.OrderBy(e => e.Instant)]);
            var belief = new JointEstimator().Estimate(book);
            return CareReport.Compute(book, belief, FaultReport.Compute(book, belief), stops).First(c => c.Chore == ChoreWords.DeepClean).By;
        }
        Rig With(bool reverse, bool pump) => monthly with { Equipment = new Equipment { ReverseFlush = reverse, Macerator = pump } };
        var drive = new Itinerary("Home", [new Stop("s1", "Cinder Flat", DateTimeZone.Utc, At(38), At(40), StopHookup.Dry, 2) { DriveHoursBefore = 3 }]);
        By(With(false, false), quiet).ShouldBe(RemedyAction.SoapSoak);
        By(With(false, false), quiet, drive).ShouldBe(RemedyAction.TravelScrub);
        By(With(false, false), smells).ShouldBe(RemedyAction.SoftenerSoak);
        By(With(false, false), smells, drive).ShouldBe(RemedyAction.IceScrub);
        By(With(true, false), smells, drive).ShouldBe(RemedyAction.Reverse);
        By(With(true, true), smells).ShouldBe(RemedyAction.SoftenerSoak);
    }

    [Fact]
    public void Signs_bring_a_deep_clean_forward()
    {
        LogEntry[] log = [Stay(At(0), Hookup.Full), Dump(At(3)), Chore(4, ChoreWords.DeepClean), Dump(At(8)),
            new CheckEntry { At = At(8, 1), Code = CheckCode.SniffTest, Result = CheckResult.Fail, Tank = "black" }];
        var item = Item(Rig(), ChoreWords.DeepClean, 9, log)!;
        item.State.ShouldBe(CareState.Due);
        item.Because.ShouldBe([CareBecause.SniffFailed]);
        item.Evidence.ShouldContain(log[^1]);
        Item(Rig(), ChoreWords.DeepClean, 10, [.. log, Chore(9.5, ChoreWords.DeepClean)])!.State.ShouldBe(CareState.Done);
    }

    [Fact]
    public void What_needs_a_sewer_waits_at_a_dry_place()
    {
        var rig = Rig() with { Rules = new HouseRules { DeepClean = DeepCleanRule.Monthly } };
        LogEntry[] log = [Stay(At(0), Hookup.Full), Chore(1, ChoreWords.DeepClean), Stay(At(30), Hookup.Dry)];
        var item = Item(rig, ChoreWords.DeepClean, 33, log)!;
        (item.State, item.Because.Contains(CareBecause.WaitsForSewer)).ShouldBe((CareState.Soon, true));
        Item(rig, ChoreWords.DeepClean, 33, [.. log, Stay(At(32), Hookup.Full)])!.State.ShouldBe(CareState.Due);
    }

    [Fact]
    public void A_problem_stays_due_until_it_is_done_right_and_asks_to_buy_the_part()
    {
        LogEntry[] log = [Stay(At(0), Hookup.Full), Chore(3, ChoreWords.HoseInspection, ChoreResult.Problem, "cap gasket")];
        var book = Book(Rig(), At(3.5), log);
        var agenda = Court.Decide(Situation.Build(book, new JointEstimator().Estimate(book)));
        agenda.Items.Select(i => (i.Code, i.Chore)).ShouldContain((AgendaCode.Buy, ChoreWords.HoseInspection));
        Item(Rig(), ChoreWords.HoseInspection, 3.5, log)!.State.ShouldBe(CareState.Due);
        Item(Rig(), ChoreWords.HoseInspection, 5, [.. log, Chore(4, ChoreWords.HoseInspection)])!.State.ShouldBe(CareState.Done);
    }

    [Fact]
    public void A_skip_waits_a_turn_and_what_is_put_off_waits_as_long_as_was_said()
    {
        LogEntry[] log = [Stay(At(0), Hookup.Full), Chore(0, ChoreWords.Traps)];
        var skipped = Item(Closet, ChoreWords.Traps, 20, [.. log, Chore(15, ChoreWords.Traps, ChoreResult.Skipped)])!;
        (skipped.State, skipped.Due, skipped.Last).ShouldBe((CareState.Done, At(29).ToInstant(), At(0).ToInstant()));
        var off = Item(Closet, ChoreWords.Traps, 20, [.. log, Chore(15, ChoreWords.Traps, ChoreResult.Skipped) with { Until = At(22) }])!;
        (off.State, off.Due).ShouldBe((CareState.Soon, At(22).ToInstant()));
        Item(Closet with { ChoresOff = [ChoreWords.Traps] }, ChoreWords.Traps, 20, log).ShouldBeNull();
    }

    [Fact]
    public void An_old_log_starts_from_today_in_one_go()
    {
        LogEntry[] old = [Stay(At(0), Hookup.Full), Chore(1, ChoreWords.Traps), Chore(1, ChoreWords.YearlyInspection), Chore(1,
            ChoreWords.HoseInspection), Dump(At(5)),
            new DoseEntry { At = At(2), Tank = "gray", Recipe = DoseRecipe.GrayDegreaser }, Service(2, ServiceCode.PressureJet, Grade.C, "black")];
        Care(Closet, 1500, old).Count(c => c.State == CareState.Overdue).ShouldBeGreaterThan(4);
        var fresh = Care(Closet with { CareFrom = At(1500) }, 1500, old);
        fresh.Where(c => c.Asks(At(1500).ToInstant())).ShouldBeEmpty();
        fresh.Count(c => c.Last == At(1).ToInstant()).ShouldBe(3, "what was done stays on record");
    }

    [Fact]
    public void In_storage_a_look_is_due_each_month_and_the_season_is_opened_with_the_first_stay()
    {
        LogEntry[] log = [Stay(At(0), Hookup.Full), Service(10, ServiceCode.SeasonClose) with { Frost = true }, Stay(At(10.1), Hookup.Storage)];
        var first = Item(Rig(), ChoreWords.StorageCheck, 41, log)!;
        (first.State, first.Because.Contains(CareBecause.Frost)).ShouldBe((CareState.Due, true));
        Item(Rig(), ChoreWords.StorageCheck, 45, [.. log, Chore(41, ChoreWords.StorageCheck)])!.State.ShouldBe(CareState.Done);
        Item(Rig(), ChoreWords.StorageCheck, 120, [.. log, Stay(At(110), Hookup.Full)]).ShouldBeNull();
        Item(Rig(), ChoreWords.SeasonOpen, 60, log)!.Asks(At(60).ToInstant()).ShouldBeFalse();
        var open = Item(Rig(), ChoreWords.SeasonOpen, 111, [.. log, Stay(At(110), Hookup.Full)])!;
        (open.Asks(At(111).ToInstant()), open.Due).ShouldBe((true, At(110).ToInstant()));
        Item(Rig(), ChoreWords.SeasonOpen, 112, [.. log, Stay(At(110), Hookup.Full), Service(111, ServiceCode.SeasonOpen)]).ShouldBeNull();
    }

    [Fact]
    public void A_rig_stored_without_closing_the_season_is_asked_for_it_and_waste_waits_for_a_sewer()
    {
        LogEntry[] clean = [Stay(At(0), Hookup.Full), Dump(At(3)), Dump(At(3), "gray"), new PeopleEntry { At = At(3), Count = 0 }, Stay(At(3.1),
            Hookup.Storage)];
        Item(Rig(), ChoreWords.SeasonClose, 4, clean)!.Asks(At(4).ToInstant()).ShouldBeTrue();
        var dirty = Item(Rig(), ChoreWords.SeasonClose, 13, Stay(At(0), Hookup.Full), Looked(At(12), 0.6), Stay(At(12.1), Hookup.Storage))!;
        dirty.Because.ShouldContain(CareBecause.HoldsWaste);
        dirty.Because.ShouldContain(CareBecause.WaitsForSewer);
    }

    public static readonly TheoryData<OwnChore, double, bool> Rhythms = new()
    {
        { new OwnChore("x", "X") { EveryDays = 10 }, 9, false }, { new OwnChore("x", "X") { EveryDays = 10 }, 11, true },
        { new OwnChore("x", "X") { EveryMonths = 2 }, 58, false }, { new OwnChore("x", "X") { EveryMonths = 2 }, 63, true },
        { new OwnChore("x", "X") { TimesAYear = 4 }, 88, false }, { new OwnChore("x", "X") { TimesAYear = 4 }, 93, true },
        { new OwnChore("x", "X") { Season = ChoreSeason.Close }, 50, false }, { new OwnChore("x", "X") { Season = ChoreSeason.Close }, 105, true },
        { new OwnChore("x", "X") { Season = ChoreSeason.Open }, 105, false }, { new OwnChore("x", "X") { Season = ChoreSeason.Open }, 205, true },
        { new OwnChore("x", "X") { EachTrip = true }, 105, false }, { new OwnChore("x", "X") { EachTrip = true }, 205, true },
    };

    [Theory]
    [MemberData(nameof(Rhythms))]
    public void Chores_of_their_own_have_each_their_rhythm(OwnChore chore, double day, bool due)
    {
        LogEntry[] log = [Stay(At(0), Hookup.Full), Chore(0, "x"), Stay(At(100), Hookup.Storage), Stay(At(200), Hookup.Full)];
        var rig = Rig() with { Chores = [chore] };
        Item(rig, "x", day, [.. log.Where(e => e.Instant <= At(day).ToInstant())])!.Asks(At(day).ToInstant()).ShouldBe(due);
    }

    // Years of a household that moves, stores its rig in winter and does now and then what is asked.
    private static readonly Gen<(long Seed, int Years, bool Diligent)> Lives = Gen.Select(Gen.Long[1, 1_000_000], Gen.Int[1, 3], Gen.Bool);

    [Fact]
    public void Over_simulated_years_no_chore_is_due_twice_for_one_cause_and_doing_it_moves_its_date() =>
        Lives.Sample(life =>
        {
            var random = new SeededRandom(life.Seed);
            var rig = Closet with
            {
                Chores = [new OwnChore("heater", "Heater") { TimesAYear = 2 }, new OwnChore("roof", "Roof") { Season = ChoreSeason.Open },
                    new OwnChore("steps", "Steps") { EachTrip = true }],
                Rules = new HouseRules { DeepClean = Enum.GetValues<DeepCleanRule>()[(int)(random.Uniform() * 4)] }
            };
            List<LogEntry> log = [Stay(At(0), Hookup.Full)];
            var frost = false;
            for (var day = 1.0; day < life.Years * 365; day += 9 + 12 * random.Uniform())
            {
                if (random.Uniform() < 0.15) log.Add(Service(day, frost ? ServiceCode.SeasonOpen
                    : ServiceCode.SeasonClose) with
                { Frost = !(frost = !frost) ? null : true });
                log.Add(Stay(At(day), Enum.GetValues<Hookup>()[(int)(random.Uniform() * 5)]));
                if (random.Uniform() < 0.4) log.AddRange([Dump(At(day, 1)), Dump(At(day, 1.1), "gray")]);
                var items = Care(rig, day + 0.1, [.. log]);
                items.GroupBy(i => (i.Chore, i.Tank)).ShouldAllBe(g => g.Count() == 1);
                var now = At(day + 0.1).ToInstant();
                foreach (var item in items.Where(i => i.Asks(now)))
                {
                    var standing = Standing.Of(Book(rig, At(day + 0.1), [.. log]).InOrder());
                    var dry = log.OfType<StayEntry>().Last().Hookup is not Hookup.Full || standing.Now is not null;
                    (dry && item.Chore is ChoreWords.DeepClean or ChoreWords.PressureJet && dry
                        && item.State != CareState.Never).ShouldBeFalse("a sewer is needed");
                    (standing.Now is not null && item.Chore == ChoreWords.Traps).ShouldBeFalse("water is not proposed in storage");
                    if (!life.Diligent || ChoreWords.All.Contains(item.Chore) && !ChoreWords.Logged.Contains(item.Chore)) continue;
                    log.Add(new ChoreEntry { At = At(day + 0.12), Chore = item.Chore, Tank = item.Tank, Result = ChoreResult.Done });
                    var again = Care(rig, day + 0.15, [.. log]).FirstOrDefault(i => (i.Chore, i.Tank) == (item.Chore, item.Tank));
                    if (again is null) continue;
                    again.Asks(At(day + 0.15).ToInstant()).ShouldBeFalse(item.Chore);
                    again.Due.ShouldBeGreaterThan(item.Due, item.Chore);
                }
            }
        }, iter: 25);

    [Fact]
    public void An_imported_log_makes_nothing_overdue_that_it_never_recorded() =>
        Gen.Long[1, 10_000].Sample(seed =>
        {
            var book = SimulatedSeason.Simulate(new Core.Simulation.Scenario(seed, 60, Closet, [])).Logbook;
            var late = book with { AsOf = book.AsOf!.Value.Plus(Duration.FromDays(900)) };
            var belief = new JointEstimator().Estimate(late);
            CareReport.Compute(late, belief, FaultReport.Compute(late, belief)).Where(c => c.Last is null)
                .ShouldAllBe(c => c.State != CareState.Overdue);
        }, iter: 6);

    [Fact]
    public void Every_reason_has_its_words()
    {
        var words = new CareWords(Closet, new TimeWords(At(9).ToInstant(), DateTimeZone.Utc), Units.Us);
        foreach (var reason in typeof(CareBecause).GetFields().Select(f => (string)f.GetRawConstantValue()!))
            words.Why(new CareItem(ChoreWords.DeepClean, "black", At(9).ToInstant(), CareState.Due, At(1).ToInstant(), [reason])
            { From = At(1).ToInstant(), Grade = Grade.B }).ShouldNotBeNullOrWhiteSpace(reason);
    }
}
