using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Tests;

/// <summary>Words for entries and steps: every kind has some, in the person's units.</summary>
public class WordsTests
{
    private static readonly OffsetDateTime At = new LocalDateTime(2026, 6, 9, 17, 30).WithOffset(Offset.FromHours(-6));
    private static readonly TimeWords Times = new(At.ToInstant(), DateTimeZoneProviders.Tzdb["America/Denver"]);
    private static readonly EntryWords Us = new(DemoSeason.Rig, Units.Us);

    public static TheoryData<LogEntry, string, string> Said => new()
    {
        { new StayEntry { At = At, Hookup = Hookup.Dry, Place = "Tallow Flat" }, "Place", "Tallow Flat · no hookups" },
        { new StayEntry { At = At, Hookup = Hookup.Full }, "Place", "Unnamed place · full hookup" },
        { new PeopleEntry { At = At, Count = 0 }, "People", "No one on board" },
        { new PeopleEntry { At = At, Count = 1 }, "People", "1 person" },
        { new ValveEntry { At = At, Tank = "bath", State = ValveState.Open }, "Valve", "Bath gray: valve opened and left open" },
        { new ReadingEntry { At = At, Tank = "black", Via = ReadingVia.Panel, Lit = ["low", "mid", "top"] }, "Panel", "Black: 1/3, 2/3 and Full on" },
        { new ReadingEntry { At = At, Tank = "black", Via = ReadingVia.Panel, Lit = [] }, "Panel", "Black: no lights on" },
        { new ReadingEntry { At = At, Tank = "galley", Via = ReadingVia.Panel, Percent = 57 }, "Panel", "Galley gray: panel 57 %" },
        { new ReadingEntry { At = At, Tank = "black", Via = ReadingVia.Sight, Fraction = 0.6 }, "Looked", "Black: looked, about 60 %" },
        { new ReadingEntry { At = At, Tank = "black", Via = ReadingVia.Meter, Fraction = 0.6 }, "Metered", "Black: 60 % on the meter" },
        { new DumpEntry { At = At, Tank = "black", Minutes = 2.5, Flow = DumpFlow.Rush, End = EndColor.Dark, Debris = Debris.Paper }, "Dump",
            "Black dumped · 2.5 min · rush · end dark · paper" },
        { new DumpEntry { At = At, Tank = "attic", VolumeL = 38 }, "Dump", "Attic dumped · 10 gal" },
        { new FlushEntry { At = At, Tank = "black", Method = FlushMethod.BuiltIn,
            Cycles = [new(60, null, EndColor.Tinted, null), new(60, null, EndColor.Clear, null)] }, "Flush",
            "Black flushed · built in · 2 rinses · end clear" },
        { new WaterEntry { At = At, Tank = "black", WaterL = 15, Purpose = WaterPurpose.Starter }, "Water in", "Black: 4 gal water, starter" },
        { new DoseEntry { At = At, Tank = "black", Recipe = DoseRecipe.SoftenerCleaner, Amount = "1/2 cup", WaterL = 8 }, "Dose",
            "Black: softener cleaner · 1/2 cup · with 2.1 gal water" },
        { new DriveEntry { At = At, Hours = 2.5, Winding = true }, "Drive", "2.5 h drive, winding" },
        { new OdorEntry { At = At, Where = OdorPlace.ToiletOnFlush, Smell = Smell.RottenEgg, Strength = 3, When = [OdorWhen.FanOn, OdorWhen.HotDay] }, "Smell",
            "Rotten egg smell · toilet on flush · strength 3/5 · fan on, hot day" },
        { new SymptomEntry { At = At, Code = SymptomCode.Gurgles, Tank = "black" }, "Noticed", "Black · gurgles" },
        { new CheckEntry { At = At, Code = CheckCode.SniffTest, Result = CheckResult.Fail }, "Check", "Sniff test: failed" },
        { new ServiceEntry { At = At, Code = ServiceCode.PressureJet, Tank = "black", Grade = Grade.D }, "Service", "Black · pressure jet · grade D" },
    };

    [Theory]
    [MemberData(nameof(Said))]
    public void Every_kind_of_entry_says_in_one_line_what_it_records(LogEntry entry, string kind, string line)
    {
        EntryWords.Kind(entry).ShouldBe(kind);
        Us.Line(entry).ShouldBe(line);
    }

    [Fact]
    public void Volumes_are_said_in_the_person_s_units()
    {
        new EntryWords(DemoSeason.Rig, Units.Metric).Line(new WaterEntry { At = At, Tank = "black", WaterL = 15, Purpose = WaterPurpose.Starter })
            .ShouldBe("Black: 15 L water, starter");
        Units.Us.SmallVolume(236.6).ShouldBe("8 fl oz");
        Units.Metric.SmallVolume(236.6).ShouldBe("240 mL");
        Units.Us.Weight(56.7).ShouldBe("2 oz by weight");
        Units.Metric.Weight(56.7).ShouldBe("57 g");
        Units.Us.Volume(0.5 * 3.785).ShouldBe("0.5 gal");
    }

    private static readonly RigSnapshot Demo = Look();

    private static RigSnapshot Look()
    {
        var log = DemoSeason.Until(At.ToInstant()) with { AsOf = At };
        var belief = new JointEstimator().Estimate(log);
        return new RigSnapshot(log, belief, Advice.For(log, belief));
    }

    private static AgendaItem Item(AgendaCode code, params string[] because) =>
        new(code, AgendaLevel.Soon, code is AgendaCode.Evacuate or AgendaCode.LogPlace or AgendaCode.CatchUp ? [] : ["black"], because)
        {
            At = At.ToInstant() + Duration.FromHours(40),
            WaterL = 15,
            Recipe = code is AgendaCode.Dose or AgendaCode.ScrubBeforeDrive ? DoseRecipe.Enzyme : null,
            Amount = "1 cup",
            Action = "soap-soak",
            For = "outlet-clog",
            Check = "sniff-test",
            Chore = "traps",
            Share = 0.1,
            Doubts = [new(new LogInconsistency(At, InconsistencyKind.UnloggedPeople, 60, 30), DemoSeason.Rig.Tanks[0], [], [])],
        };

    [Fact]
    public void Every_item_of_the_agenda_and_every_reason_has_words()
    {
        var words = new AgendaTexts(AgendaService.SituationOf(Demo, null, Units.Us, Around.Nothing), Units.Us, Times);
        foreach (var code in Enum.GetValues<AgendaCode>()) words.Of(Item(code, Because.Level)).Title.Length.ShouldBeInRange(8, 80, code.ToString());
        // What is said neither of an item nor of one held back is a reason that nobody put into words.
        string? Said(Func<string> say)
        {
            try { return say(); }
            catch (ArgumentOutOfRangeException) { return null; }
        }
        var reasons = typeof(Because).GetFields().Where(f => f.IsLiteral).Select(f => (string)f.GetRawConstantValue()!).ToList();
        reasons.Count.ShouldBeGreaterThan(30);
        foreach (var because in reasons)
        {
            var text = Said(() => words.Of(Item(AgendaCode.DumpRun, because)).Reason);
            var held = Said(() => words.Of(new AgendaHeld(AgendaCode.DumpRun, "black", because, Item(AgendaCode.DumpRun, because))));
            (text ?? held).ShouldNotBeNull(because);
            (text ?? held)!.ShouldEndWith(".");
        }
        Said(() => words.Of(Item(AgendaCode.DumpRun, "never-said")).Reason).ShouldBeNull();
    }

    [Theory]
    [InlineData("20", 6.096)]
    [InlineData("20 ft", 6.096)]
    [InlineData("20 ft 6 in", 6.248)]
    [InlineData("20' 6\"", 6.248)]
    [InlineData("20'6", 6.248)]
    [InlineData("240 in", 6.096)]
    [InlineData("6 m", 6.0)]
    [InlineData("1/2 ft", 0.152)]
    [InlineData("20 ft 6 gal", null)]
    [InlineData("' 6", null)]
    [InlineData("long", null)]
    public void A_hose_is_typed_in_feet_with_or_without_inches(string typed, double? metres)
    {
        Units.Us.TryParseDistance(typed, out var read).ShouldBe(metres is not null);
        if (metres is { } m) read.ShouldBe(m, 0.001);
        if (typed != "20") Units.Us.TryParseLength(typed, out _).ShouldBe(metres is not null, "a height takes the same, but for a bare number");
        Units.Metric.TryParseDistance("6", out var metric).ShouldBeTrue();
        metric.ShouldBe(6);
        Units.Us.TryParseLength("-1 ft 6 in", out var below).ShouldBeTrue();
        below.ShouldBe(-0.4572, 0.001);
    }

    [Fact]
    public void What_can_hurt_carries_its_caution()
    {
        var words = new AgendaTexts(AgendaService.SituationOf(Demo, null, Units.Us, Around.Nothing), Units.Us, Times);
        foreach (var code in (AgendaCode[])[AgendaCode.Evacuate, AgendaCode.Ventilate, AgendaCode.OpenValve, AgendaCode.DumpRun, AgendaCode.Rinse,
            AgendaCode.TopUp, AgendaCode.Dose, AgendaCode.ScrubBeforeDrive, AgendaCode.LookInside])
            words.Of(Item(code, Because.Level)).Caution.ShouldNotBeNullOrEmpty(code.ToString());
        words.Of(Item(AgendaCode.StopUsing, Because.NothingCame)).Caution!.ShouldContain("caustic");
    }

    [Fact]
    public void The_title_of_a_dump_names_level_and_order()
    {
        var agenda = Court.Decide(AgendaService.SituationOf(Demo, null, Units.Metric, Around.Nothing));
        var text = new AgendaTexts(AgendaService.SituationOf(Demo, null, Units.Us, Around.Nothing), Units.Metric, Times)
            .Of(agenda.Items.First(i => i.Code == AgendaCode.DumpRun && i.Tanks.Contains("black")));
        text.Title.ShouldMatch("^Dump run: black at \\d+\u00a0%, then gray$");
        text.Because.ShouldContain(l => l.Contains("100 L"));
    }

    [Theory]
    [InlineData("1/2 cup", 0.1183)]
    [InlineData("1 1/2 gal", 5.6781)]
    [InlineData("3/4", 2.8391)]
    [InlineData("8 fl oz", 0.2366)]
    [InlineData("2 tbsp", 0.0296)]
    [InlineData("3 dl", 0.3)]
    public void Kitchen_measures_are_read(string typed, double litres)
    {
        Units.Us.TryParseVolume(typed, out var read).ShouldBeTrue();
        read.ShouldBe(litres, 0.0001);
    }

    [Theory]
    [InlineData("1/0 cup")]
    [InlineData("1/2/3 gal")]
    [InlineData("1 2 gal")]
    [InlineData("-3 gal")]
    [InlineData("3 buckets")]
    [InlineData("9999999999 gal")]
    public void What_is_no_volume_is_none(string typed) => Units.Us.TryParseVolume(typed, out _).ShouldBeFalse();

    [Theory]
    [InlineData("us", "86", 30)]
    [InlineData("metric", "30", 30)]
    [InlineData("us", "30 C", 30)]
    [InlineData("metric", "-4\u00b0F", -20)]
    public void Temperatures_are_read_in_either_scale(string code, string typed, double celsius)
    {
        var units = code == "us" ? Units.Us : Units.Metric;
        units.TryParseTemperature(typed, out var read).ShouldBeTrue();
        read.ShouldBe(celsius, 0.001);
        units.TryParseTemperature(units.Temperature(celsius), out var again).ShouldBeTrue();
        again.ShouldBe(celsius, 0.6);
        units.TryParseTemperature("warm", out _).ShouldBeFalse();
    }
}
