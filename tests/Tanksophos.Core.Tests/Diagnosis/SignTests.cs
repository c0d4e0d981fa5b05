using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Diagnosis;

/// <summary>Each sign is read off a log in which little else stands, and is not read off one that lacks it.</summary>
public class SignTests
{
    private static HashSet<SignCode> Found(double day, params LogEntry[] entries) => Found(Rig(), day, entries);

    private static HashSet<SignCode> Found(Rig rig, double day, params LogEntry[] entries)
    {
        var book = Book(rig, At(day), entries);
        return FaultReport.Compute(book, new JointEstimator().Estimate(book)).Tanks[0].Conditions.SelectMany(c => c.Reasons).Select(r => r.Sign.Code)
            .ToHashSet();
    }

    private static SymptomEntry Noticed(double day, SymptomCode code) => new() { At = At(day), Code = code, Tank = "black" };

    private static CheckEntry Checked(double day, CheckCode code, bool pass) =>
        new() { At = At(day), Code = code, Result = pass ? CheckResult.Pass : CheckResult.Fail };

    private static OdorEntry Smelled(double day, OdorPlace where, params OdorWhen[] when) =>
        new() { At = At(day), Where = where, Smell = Smell.Sewage, When = when };

    private static DumpEntry Ran(double day, DumpFlow? flow = null, Debris? debris = null, double? minutes = null) =>
        new() { At = At(day), Tank = "black", Flow = flow, Debris = debris, Minutes = minutes };

    private static FlushEntry Rinsed(double day, int cycles, bool clear) =>
        new()
        {
            At = At(day, 0.3),
            Tank = "black",
            Method = FlushMethod.BuiltIn,
            Cycles = [.. Enumerable.Range(1, cycles)
            .Select(k => new FlushCycle(60, null, k == cycles && clear ? EndColor.Clear : EndColor.Dark, k == cycles && clear ? Debris.None : Debris.Paper))]
        };

    private static WaterEntry Starter(double day) => new() { At = At(day, 1), Tank = "black", WaterL = 15, Purpose = WaterPurpose.Starter };

    private static ValveEntry Valve(double day, ValveState state) => new() { At = At(day), Tank = "black", State = state };

    private static StayEntry Camp => Stay(At(0), Hookup.Full);

    // A look half way up a day before, so that a dump is from a good level.
    private static ReadingEntry Half(double day, double share = 0.6) => Looked(At(day), share);

    [Fact]
    public void A_tank_put_away_dirty_is_told_by_how_long_it_stood_and_by_the_rinse_before()
    {
        StayEntry Away(double day) => Stay(At(day), Hookup.Storage);
        Found(40, Camp, Half(9), Ran(9.5), Starter(9.5), Away(10)).ShouldContain(SignCode.StoredDirty, "a month, and no rinse");
        Found(40, Camp, Half(9), Ran(9.5), Starter(9.5), Rinsed(9.5, 3, true), Away(10)).ShouldNotContain(SignCode.StoredDirty, "it was rinsed");
        Found(15, Camp, Half(9), Ran(9.5), Starter(9.5), Away(10)).ShouldNotContain(SignCode.StoredDirty, "five days are no storage");
        Found(40, Camp, Half(9), Ran(9.5), Starter(9.5), Away(10), Stay(At(14), Hookup.Full))
            .ShouldNotContain(SignCode.StoredDirty, "taken out after four days");
        Found(60, Camp, Half(9), Ran(9.5), Starter(9.5), Away(10), Stay(At(50), Hookup.Full)).ShouldContain(SignCode.StoredDirty, "taken out after forty");
    }

    public static TheoryData<SignCode, string> Told { get; } = new()
    {
        { SignCode.BacksUp, "backs-up" }, { SignCode.DrainsSlowly, "slow" }, { SignCode.FillsTooSoon, "fills" }, { SignCode.HeapSeen, "heap" },
            { SignCode.NothingCame, "nothing" },
        { SignCode.ValveStiff, "stiff" }, { SignCode.ValveDrips, "drips" }, { SignCode.ValveWontClose, "open" },
        { SignCode.Gurgles, "gurgle-low" }, { SignCode.GurglesWhenFull, "gurgle-full" },
        { SignCode.SniffFailed, "sniff-after" }, { SignCode.SniffFailedLater, "sniff-later" }, { SignCode.SniffPassed, "sniff-good" },
        { SignCode.VentFoundBlocked, "vent-bad" }, { SignCode.VentFoundClear, "vent-good" }, { SignCode.CapWet, "cap-wet" }, { SignCode.CapDry, "cap-dry" },
        { SignCode.Rushed, "rush" }, { SignCode.RanSteadily, "steady" }, { SignCode.RanSlowly, "ran-slowly" }, { SignCode.Trickled, "trickle" },
            { SignCode.StayedFull, "stayed" },
        { SignCode.LiquidAlone, "liquid" }, { SignCode.LowDump, "low" }, { SignCode.DrainedLong, "long" }, { SignCode.DrainedAsUsual, "usual" },
        { SignCode.BlackStoodOpen, "stood-open" }, { SignCode.DryStart, "dry" }, { SignCode.PaperFailed, "paper" }, { SignCode.StoredDirty, "stored" },
        { SignCode.CyclesRise, "cycles" }, { SignCode.RinseDirty, "dirty" }, { SignCode.RinseClear, "clear" }, { SignCode.HoldsLess, "holds-less" },
            { SignCode.HoldsAll, "holds-all" },
        { SignCode.SmellAfterDump, "smell-dump" }, { SignCode.SmellAtBay, "smell-bay" }, { SignCode.SmellOnFlush, "smell-flush" },
            { SignCode.LevelFell, "fell" }, { SignCode.LevelHeld, "held" }, { SignCode.CrossFlow, "cross" },
        { SignCode.LongUncleaned, "uncleaned" },
    };

    private static (double Day, LogEntry[] Log) Of(string name) => name switch
    {
        "backs-up" => (6, [Camp, Noticed(5, SymptomCode.BacksUpOnFlush)]),
        "slow" => (6, [Camp, Noticed(5, SymptomCode.DrainsSlowly)]),
        "fills" => (6, [Camp, Noticed(5, SymptomCode.FillsTooSoon)]),
        "heap" => (6, [Camp, Noticed(5, SymptomCode.HeapSeen)]),
        "nothing" => (6, [Camp, Noticed(5, SymptomCode.NothingComesOut)]),
        "stiff" => (6, [Camp, Noticed(5, SymptomCode.ValveStiff)]),
        "drips" => (6, [Camp, Noticed(5, SymptomCode.ValveDrips)]),
        "open" => (6, [Camp, Noticed(5, SymptomCode.ValveWontClose)]),
        "gurgle-low" => (6, [Camp, Half(4.9, 0.2), Noticed(5, SymptomCode.Gurgles)]),
        "gurgle-full" => (6, [Camp, Half(4.9, 0.95), Noticed(5, SymptomCode.Gurgles)]),
        "sniff-after" => (6, [Camp, Half(4), Ran(5), Checked(5.1, CheckCode.SniffTest, false)]),
        "sniff-later" => (6, [Camp, Half(1), Ran(2), Checked(5.1, CheckCode.SniffTest, false)]),
        "sniff-good" => (6, [Camp, Half(4), Ran(5), Checked(5.1, CheckCode.SniffTest, true)]),
        "vent-bad" => (6, [Camp, Checked(5, CheckCode.RoofVentClear, false)]),
        "vent-good" => (6, [Camp, Checked(5, CheckCode.RoofVentClear, true)]),
        "cap-wet" => (6, [Camp, Checked(5, CheckCode.CapDry, false)]),
        "cap-dry" => (6, [Camp, Checked(5, CheckCode.CapDry, true)]),
        "rush" => (6, [Camp, Half(4), Ran(5, DumpFlow.Rush)]),
        "steady" => (6, [Camp, Half(4), Ran(5, DumpFlow.Steady)]),
        "ran-slowly" => (6, [Camp, Half(4), Ran(5, DumpFlow.Slow)]),
        "trickle" => (6, [Camp, Half(4), Ran(5, DumpFlow.Trickle)]),
        "stayed" => (6, [Camp, Half(4), Ran(5, DumpFlow.Trickle), Half(5.1)]),
        "liquid" => (6, [Camp, Half(4.9), Ran(5, DumpFlow.Steady, Debris.None)]),
        "low" => (6, [Camp, Half(4.9, 0.2), Ran(5)]),
        "long" => (40, [Camp, .. Enumerable.Range(1, 4).SelectMany(i => new LogEntry[] { Half(8 * i - 0.1), Ran(8 * i, minutes: 2) }), Half(38.9),
            Ran(39, minutes: 9)]),
        "usual" => (40, [Camp, .. Enumerable.Range(1, 4).SelectMany(i => new LogEntry[] { Half(8 * i - 0.1), Ran(8 * i, minutes: 2) })]),
        "stood-open" => (9, [Camp, Valve(3, ValveState.Open), Valve(6, ValveState.Closed)]),
        "dry" => (20, [Camp, Half(4), Ran(5), Starter(5), Half(11), Ran(12)]),
        "paper" => (6, [Camp, Checked(5, CheckCode.PaperDissolves, false)]),
        "stored" => (40, [Camp, Half(4), Ran(5), Starter(5), Stay(At(9), Hookup.Storage)]),
        "cycles" => (120, [Camp, .. Enumerable.Range(0, 10).SelectMany(i => new LogEntry[] { Ran(5 + 11 * i), Rinsed(5 + 11 * i, 2 + i / 2, true) })]),
        "dirty" => (6, [Camp, Half(4), Ran(5), Rinsed(5, 6, false)]),
        "clear" => (6, [Camp, Half(4), Ran(5), Rinsed(5, 1, true)]),
        "holds-less" => (6, [Camp, new ReadingEntry { At = At(5), Tank = "black", Via = ReadingVia.Meter, Fraction = 0.7 }, Lamps(At(5), "low", "mid", "top")]),
        "holds-all" => (6, [Camp, new ReadingEntry { At = At(5), Tank = "black", Via = ReadingVia.Meter, Fraction = 0.92 }, Lamps(At(5), "low", "mid", "top")]),
        "smell-dump" => (6, [Camp, Half(4), Ran(5), Smelled(5.1, OdorPlace.Bathroom, OdorWhen.RightAfterDump)]),
        "smell-bay" => (6, [Camp, Smelled(5, OdorPlace.StorageBay)]),
        "smell-flush" => (6, [Camp, Smelled(5, OdorPlace.ToiletOnFlush)]),
        "fell" => (8, [Camp, Half(5), Half(6, 0.3)]),
        "held" => (8, [Camp, Half(5), Half(6)]),
        "cross" => (8, [Camp, Half(5), new ReadingEntry { At = At(5), Tank = "gray", Via = ReadingVia.Sight, Fraction = 0.1 },
            new PeopleEntry { At = At(5.1), Count = 0 }, Half(6, 0.3),
            new ReadingEntry { At = At(6.05), Tank = "gray", Via = ReadingVia.Sight, Fraction = 0.4 }]),
        "uncleaned" => (300, [Camp, Half(4), Ran(5), Ran(290)]),
        _ => throw new ArgumentOutOfRangeException(nameof(name), name, null),
    };

    [Theory]
    [MemberData(nameof(Told))]
    public void A_sign_is_read_off_the_log_that_tells_it(SignCode sign, string log)
    {
        var (day, entries) = Of(log);
        Found(day, entries).ShouldContain(sign);
    }

    [Fact]
    public void A_plain_week_tells_nothing_but_that_all_is_well()
    {
        var found = Found(9, Camp, Half(4), Ran(5, DumpFlow.Rush, Debris.Paper, 2), Rinsed(5, 3, true), Starter(5), Checked(5.2, CheckCode.SniffTest, true));
        found.ShouldBeSubsetOf([SignCode.Rushed, SignCode.SniffPassed, SignCode.RinseClear, SignCode.LampsGood, SignCode.DrainedAsUsual]);
    }

    [Fact]
    public void Every_sign_of_the_table_is_told_by_some_log_here_or_by_the_belief()
    {
        SignCode[] fromBelief = [SignCode.LampFouled, SignCode.LampsGood, SignCode.ThriftyUse, SignCode.CyclesMore];
        var told = Told.Select(row => row.Data.Item1).Concat(fromBelief).ToHashSet();
        SignTable.Lines.Select(l => l.Sign).Distinct().Where(s => !told.Contains(s)).ShouldBeEmpty();
    }

    [Fact]
    public void What_a_topped_up_dump_or_a_second_dump_of_a_run_brings_is_no_sign()
    {
        Found(6, Camp, Half(4.8, 0.2), new WaterEntry { At = At(4.9), Tank = "black", WaterL = 60, Purpose = WaterPurpose.TopUp }, Ran(5))
            .ShouldNotContain(SignCode.LowDump);
        Found(6, Camp, Half(4.9), Ran(5, DumpFlow.Rush, Debris.Paper), Ran(5.02, DumpFlow.Slow, Debris.None)).ShouldNotContain(SignCode.RanSlowly);
        Found(6, Camp, Half(4.9), Ran(5, DumpFlow.Steady, Debris.None), Rinsed(5, 2, true)).ShouldNotContain(SignCode.LiquidAlone, "the rinse brought paper");
        Found(6, Camp, Valve(3, ValveState.Open), Valve(3.05, ValveState.Closed)).ShouldNotContain(SignCode.BlackStoodOpen, "a dump run opens it too");
    }

    [Fact]
    public void Water_counted_into_the_emptied_tank_until_a_lamp_comes_on_tells_what_it_holds()
    {
        WaterEntry Filled(double hours, double litres) => new() { At = At(5, hours), Tank = "black", WaterL = litres, Purpose = WaterPurpose.Soak };
        LogEntry[] Fill(double litres, params string[] before) => [Camp, Half(4.9), Ran(5), Rinsed(5, 2, true), Lamps(At(5, 0.5), before),
            Filled(1, litres / 2), Filled(1.5, litres / 2), Lamps(At(5, 2), "low", "mid", "top")];
        Found(6, Fill(100)).ShouldContain(SignCode.HoldsLess, "Full at 100 litres where 139 should fit");
        Found(6, Fill(138)).ShouldContain(SignCode.HoldsAll);
        Found(6, Fill(100, "low", "mid", "top")).ShouldNotContain(SignCode.HoldsLess, "that lamp was lit before a drop went in");
        Found(6, [.. Fill(100).SkipLast(1), Half(5.08, 0.95)]).ShouldContain(SignCode.HoldsLess, "seen near the top");
        Found(6, [.. Fill(100).SkipLast(1), Half(5.08, 0.68)]).ShouldNotContain(SignCode.HoldsLess, "seen where a hundred litres stand");
    }

    // Which entry climbs which rung.

    public static TheoryData<RemedyAction, string> Rungs { get; } = new()
    {
        { RemedyAction.SoapSoak, "dose soap-soak" }, { RemedyAction.PaperDigester, "dose paper-digester" }, { RemedyAction.IceScrub, "dose ice-scrub" },
            { RemedyAction.SoftenerSoak, "dose softener-soak" },
        { RemedyAction.TravelScrub, "dose travel-scrub" }, { RemedyAction.Freshener, "dose freshener" }, { RemedyAction.Enzyme, "dose enzyme" },
            { RemedyAction.ValveLubricant, "dose valve-lubricant" },
        { RemedyAction.SealConditioner, "dose seal-conditioner" }, { RemedyAction.GraySoap, "dose gray-soap" },
            { RemedyAction.GrayDegreaser, "dose gray-degreaser" },
        { RemedyAction.HoseJet, "flush wand" }, { RemedyAction.Reverse, "flush reverse" }, { RemedyAction.BuiltIn, "flush built-in" },
            { RemedyAction.Bucket, "flush bucket" }, { RemedyAction.Pedal, "flush pedal" },
        { RemedyAction.PressureJet, "flush jet" }, { RemedyAction.PressureJet, "service pressure-jet" }, { RemedyAction.VentCleared, "service vent-cleared" },
            { RemedyAction.ValveLubricated, "service valve-lubricated" },
        { RemedyAction.ValveReplaced, "service valve-replaced" }, { RemedyAction.SealReplaced, "service seal-replaced" },
            { RemedyAction.SealConditioner, "service seal-conditioned" },
    };

    private static LogEntry Deed(string said)
    {
        var (type, code) = (said.Split(' ')[0], said.Split(' ')[1]);
        return type switch
        {
            "dose" => new DoseEntry { At = At(1), Tank = "black", Recipe = Word<DoseRecipe>(code) },
            "flush" => new FlushEntry { At = At(1), Tank = "black", Method = Word<FlushMethod>(code), Cycles = [] },
            _ => new ServiceEntry { At = At(1), Code = Word<ServiceCode>(code) },
        };
    }

    private static T Word<T>(string word) where T : struct, Enum => Codes<T>.TryParse(word, out var value) ? value : throw new ArgumentException(word);

    [Theory]
    [MemberData(nameof(Rungs))]
    public void A_rung_is_climbed_by_the_entry_that_did_it_and_by_no_check(RemedyAction action, string deed)
    {
        CauseLadder.Does(action, Deed(deed)).ShouldBeTrue();
        CauseLadder.Does(action, Checked(1, CheckCode.SniffTest, true)).ShouldBeFalse();
        CauseLadder.Does(action, Camp).ShouldBeFalse();
    }

    [Fact]
    public void A_clog_tube_is_told_from_a_jet_of_water_by_its_note()
    {
        var tube = new FlushEntry { At = At(1), Tank = "black", Method = FlushMethod.Wand, Cycles = [], Note = "Tube down the toilet" };
        CauseLadder.Does(RemedyAction.ClogTube, tube).ShouldBeTrue();
        CauseLadder.Does(RemedyAction.HoseJet, tube).ShouldBeFalse();
        CauseLadder.Does(RemedyAction.ClogTube, tube with { Note = null }).ShouldBeFalse();
    }
}
