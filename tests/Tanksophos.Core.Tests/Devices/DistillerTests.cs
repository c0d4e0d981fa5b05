using System.Text;
using System.Text.Json;
using Json.Schema;
using NodaTime;
using Duration = NodaTime.Duration;
using Tanksophos.Core.Devices;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Tests.Devices;

/// <summary>From measurements to log entries, and what is refused on the way in.</summary>
public class DistillerTests
{
    private static readonly Instant Start = Instant.FromUtc(2026, 6, 9, 18, 0);
    private static readonly DateTimeZone Denver = DateTimeZoneProviders.Tzdb["America/Denver"];

    private static readonly Rig Rig = new("Biscuit", "trailer", 2,
    [
        new Tank("black", "Black", TankRole.Black, 151) { Monitor = TankMonitor.WithProbes(new Probe("low", "1/3", 0.33), new Probe("mid", "2/3", 0.66)) },
        new Tank("gray", "Gray", TankRole.Gray, 190),
    ]);

    private static readonly JsonSchema Schema = JsonSchema.FromText(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "format",
        "measurement.schema.json")));

    private static readonly DeviceBinding[] Bindings = [new("black", BindingKind.Panel, "black"), new("gray", BindingKind.Panel, "gray"),
        new("flow", BindingKind.Meter, "black"), new("valve.gray", BindingKind.Valve, "gray"), new("fresh", BindingKind.Unused, null)];

    private sealed class Played
    {
        private readonly Distiller distiller;

        public Played(IReadOnlyDictionary<string, ChannelState>? states = null) =>
            distiller = new(Rig, "panel-1", Bindings, Denver, states ?? new Dictionary<string, ChannelState>());

        public Played(IEnumerable<DeviceBinding> more) =>
            distiller = new(Rig, "panel-1", [.. Bindings, .. more], Denver, new Dictionary<string, ChannelState>());

        public List<LogEntry> Entries { get; } = [];

        public IReadOnlyDictionary<string, ChannelState> States => distiller.States;

        public Played Feed(double seconds, params MeasuredValue[] values)
        {
            Entries.AddRange(distiller.Feed(Start + Duration.FromSeconds(seconds), values));
            return this;
        }

        public Played Until(double seconds)
        {
            Entries.AddRange(distiller.Until(Start + Duration.FromSeconds(seconds)));
            return this;
        }
    }

    private static MeasuredValue Lit(params string[] lit) => new("black", Quantity.Lit, null, lit);

    private static MeasuredValue Gray(double percent) => new("gray", Quantity.Percent, percent, null);

    private static MeasuredValue Flow(double litres) => new("flow", Quantity.LitersTotal, litres, null);

    private static MeasuredValue Valve(bool open) => new("valve.gray", Quantity.Valve, open ? 1 : 0, null);

    [Fact]
    public void A_light_is_written_when_it_changed_and_stayed_and_a_slosh_is_not()
    {
        var played = new Played();
        for (var s = 0; s < 600; s++) played.Feed(s, Lit());
        played.Entries.OfType<ReadingEntry>().ShouldHaveSingleItem().Lit.ShouldBe([]);
        for (var s = 600; s < 640; s++) played.Feed(s, Lit(s % 3 == 0 ? ["low"] : [])); // a drive
        for (var s = 640; s < 900; s++) played.Feed(s, Lit());
        played.Entries.Count.ShouldBe(1);
        for (var s = 900; s < 1200; s++) played.Feed(s, Lit("low"));
        var reading = played.Entries.OfType<ReadingEntry>().Last();
        (reading.Lit!.Single(), reading.Via, reading.Instant).ShouldBe(("low", ReadingVia.Panel, Start + Duration.FromSeconds(900)));
        reading.At.Offset.ShouldBe(Offset.FromHours(-6));
        played.Entries.Count.ShouldBe(2);
        // That it is still so is said again after hours, not every second.
        for (var s = 1200; s < 1200 + 13 * 3600; s += 20) played.Feed(s, Lit("low"));
        played.Entries.Count.ShouldBe(4);
    }

    [Fact]
    public void A_level_is_written_when_it_moved_at_most_hourly_and_a_dump_at_once()
    {
        var played = new Played();
        double percent = 20;
        for (var s = 0; s < 4 * 3600; s += 10) played.Feed(s, Gray(percent += 0.01)); // 14 % in four hours
        played.Entries.Count.ShouldBeInRange(4, 5);
        var before = played.Entries.Count;
        for (var s = 4 * 3600; s < 4 * 3600 + 600; s += 10) played.Feed(s, Gray(1));
        var dumped = played.Entries.Skip(before).ShouldHaveSingleItem().ShouldBeOfType<ReadingEntry>();
        dumped.Percent.ShouldBe(1);
        (dumped.Instant - Start).TotalSeconds.ShouldBeInRange(4 * 3600, 4 * 3600 + 150);
        // A strip that is unplugged for a moment is no dump.
        for (var s = 15100; s < 19000; s += 10) played.Feed(s, Gray(30));
        before = played.Entries.Count;
        played.Feed(19010, Gray(0)).Feed(19020, Gray(0)).Feed(19030, Gray(30)).Feed(19040, Gray(30));
        played.Entries.Count.ShouldBe(before);
    }

    [Fact]
    public void A_flow_is_one_entry_when_it_is_over_also_when_the_meter_falls_silent()
    {
        var played = new Played().Feed(0, Flow(1000)).Feed(10, Flow(1000));
        for (var s = 20; s <= 140; s++) played.Feed(s, Flow(1000 + (s - 20) * 0.1));
        played.Entries.ShouldBeEmpty();
        played.Feed(170, Flow(1012)).Feed(190, Flow(1012));
        played.Entries.ShouldBeEmpty("a pause of less than a minute");
        played.Feed(205, Flow(1012));
        var water = played.Entries.ShouldHaveSingleItem().ShouldBeOfType<WaterEntry>();
        (water.Tank, water.WaterL, water.Purpose).ShouldBe(("black", 12.0, WaterPurpose.Starter));
        // The meter goes silent in the middle; another time it begins anew at nothing.
        played.Feed(300, Flow(1020)).Feed(310, Flow(1060)).Until(320);
        played.Entries.Count.ShouldBe(1);
        played.Until(400);
        played.Entries[^1].ShouldBeOfType<WaterEntry>().WaterL.ShouldBe(48);
        played.Entries[^1].ShouldBeOfType<WaterEntry>().Purpose.ShouldBe(WaterPurpose.Other);
        played.Feed(500, Flow(0)).Feed(600, Flow(0)).Feed(610, Flow(0.2)).Until(700);
        played.Entries.Count.ShouldBe(2, "a hand rinsed at the tap");
    }

    [Fact]
    public void A_valve_is_written_when_it_was_moved()
    {
        var played = new Played();
        for (var s = 0; s < 60; s += 2) played.Feed(s, Valve(false));
        played.Entries.ShouldHaveSingleItem("the first look: whether the log knows it is another's matter");
        played.Entries.Clear();
        played.Feed(60, Valve(true)).Feed(62, Valve(false));
        for (var s = 64; s < 80; s += 2) played.Feed(s, Valve(false));
        played.Entries.ShouldBeEmpty("a bounce");
        for (var s = 100; s < 120; s += 2) played.Feed(s, Valve(true));
        for (var s = 200; s < 220; s += 2) played.Feed(s, Valve(false));
        played.Entries.Cast<ValveEntry>().Select(v => (v.State, (v.Instant - Start).TotalSeconds))
            .ShouldBe([(ValveState.Open, 100.0), (ValveState.Closed, 200.0)]);
    }

    [Fact]
    public void Going_over_the_same_again_from_any_point_writes_the_same_under_the_same_ids()
    {
        var random = new Random(11);
        var messages = new List<(double At, MeasuredValue[] Values)>();
        double total = 0, percent = 10;
        for (var s = 0.0; s < 8 * 3600; s += 5 + 20 * random.NextDouble())
        {
            if (random.Next(20) == 0) total += 5 * random.NextDouble();
            percent = random.Next(900) == 0 ? 2 : Math.Min(99, percent + 0.05 * random.NextDouble());
            messages.Add((s, [Lit(percent > 33 ? ["low"] : []), Gray(percent), Flow(total), Valve(random.Next(40) == 0)]));
        }
        var whole = new Played();
        foreach (var (at, values) in messages) whole.Feed(at, values);
        whole.Entries.Count.ShouldBeInRange(8, messages.Count / 10);
        whole.Entries.Select(e => e.Id).Distinct().Count().ShouldBe(whole.Entries.Count);
        foreach (var cut in new[] { 0, 1, 100, 500, messages.Count - 1 })
        {
            var first = new Played();
            foreach (var (at, values) in messages.Take(cut)) first.Feed(at, values);
            // As it is kept on the disk.
            var kept = JsonSerializer.Deserialize<Dictionary<string, ChannelState>>(JsonSerializer.Serialize(first.States))!;
            var second = new Played(kept);
            foreach (var (at, values) in messages.Skip(cut)) second.Feed(at, values);
            first.Entries.Concat(second.Entries).Select(e => e.Id).ShouldBe(whole.Entries.Select(e => e.Id), $"cut at {cut}");
            // What comes a second time changes nothing.
            var again = new Played(second.States);
            foreach (var (at, values) in messages) again.Feed(at, values);
            again.Entries.ShouldBeEmpty();
        }
    }

    [Fact]
    public void Silence_and_flicker_are_noticed()
    {
        var played = new Played();
        for (var s = 0; s < 600; s += 60) played.Feed(s, Lit());
        DeviceTrouble? At(double seconds) => Distiller.Trouble(played.States["black"], Start + Duration.FromSeconds(seconds));
        At(700).ShouldBeNull();
        At(540 + 1000).ShouldBe(DeviceTrouble.Silent);
        for (var s = 700; s < 900; s += 5) played.Feed(s, Lit(s % 10 == 0 ? ["low"] : []));
        At(905).ShouldBe(DeviceTrouble.Flickers);
        for (var s = 900; s < 12 * 3600; s += 60) played.Feed(s, Lit());
        At(12 * 3600).ShouldBeNull();
    }

    private static MeasurementsRead Read(string json) => MeasurementFormat.Read(Encoding.UTF8.GetBytes(json), Start).Value!;

    [Fact]
    public void The_example_of_the_format_is_read_and_kept_as_it_was()
    {
        var read = Read("""
            {"device":"panel-1","at":"2026-06-09T11:59:30-06:00","values":{"black":{"lit":["low"]},"gray":{"percent":42},"fresh":{"percent":80},
             "flow":{"litersTotal":1234.5},"bay":{"celsius":4.5},"valve.black":"open","ohms.low":41000}}
            """);
        var (_, measurement) = read.Taken.ShouldHaveSingleItem();
        measurement.Device.ShouldBe("panel-1");
        measurement.Values.Select(v => (v.Channel, v.Quantity, v.Number)).ShouldBe([("black", Quantity.Lit, null), ("gray", Quantity.Percent, 42.0),
            ("fresh", Quantity.Percent, 80.0), ("flow", Quantity.LitersTotal, 1234.5), ("bay", Quantity.Celsius, 4.5), ("valve.black", Quantity.Valve, 1.0),
            ("ohms.low", Quantity.Ohms, 41000.0)]);
        MeasurementFormat.ReadValues(MeasurementFormat.Write(measurement.Values)).Select(v => v.ToString())
            .ShouldBe(measurement.Values.Select(v => v.ToString()), ignoreOrder: false);
        MeasurementFormat.ReadValues("{ half"u8.ToArray()).ShouldBeEmpty();
        var again = "{\"device\":\"panel-1\",\"values\":" + Encoding.UTF8.GetString(MeasurementFormat.Write(measurement.Values)) + "}";
        Schema.Evaluate(JsonDocument.Parse(again).RootElement).IsValid.ShouldBeTrue();
    }

    [Theory]
    [InlineData("""{"values":{"gray":{"percent":1}}}""", "device")]
    [InlineData("""{"device":"no spaces","values":{"gray":{"percent":1}}}""", "device")]
    [InlineData("""{"device":"p","at":"yesterday","values":{"gray":{"percent":1}}}""", "at")]
    [InlineData("""{"device":"p","at":"2026-06-09T12:06:00-06:00","values":{"gray":{"percent":1}}}""", "at")]
    [InlineData("""{"device":"p","at":"2026-06-01T12:06:00-06:00","values":{"gray":{"percent":1}}}""", "at")]
    [InlineData("""{"device":"p"}""", "values")]
    [InlineData("""{"device":"p","values":{}}""", "values")]
    [InlineData("""{"device":"p","values":[1]}""", "values")]
    [InlineData("""{"device":"p","values":{"gray":{"percent":42000}}}""", "values.gray.percent")]
    [InlineData("""{"device":"p","values":{"bay":{"celsius":4500}}}""", "values.bay.celsius")]
    [InlineData("""{"device":"p","values":{"flow":{"litersTotal":-1}}}""", "values.flow.litersTotal")]
    [InlineData("""{"device":"p","values":{"flow":{"litersTotal":"12"}}}""", "values.flow.litersTotal")]
    [InlineData("""{"device":"p","values":{"black":{"lit":"low"}}}""", "values.black.lit")]
    [InlineData("""{"device":"p","values":{"black":{"lit":[1]}}}""", "values.black.lit")]
    [InlineData("""{"device":"p","values":{"black":{"lit":[],"percent":3}}}""", "values.black")]
    [InlineData("""{"device":"p","values":{"black":{"gallons":3}}}""", "values.black")]
    [InlineData("""{"device":"p","values":{"black":null}}""", "values.black")]
    [InlineData("""{"device":"p","values":{"valve.black":"ajar"}}""", "values.valve.black")]
    [InlineData("""{"device":"p","values":{"ohms.low":-4}}""", "values.ohms.low")]
    [InlineData("7", "")]
    public void What_cannot_be_is_refused_by_its_field_and_the_rest_goes_on(string wrong, string path)
    {
        var read = Read("""[ {"device":"p","values":{"gray":{"percent":1}}}, """ + wrong
            + """, {"device":"q","values":{"gray":{"percent":2}}} ]""");
        read.Taken.Select(t => t.Index).ShouldBe([0, 2]);
        var refused = read.Refused.ShouldHaveSingleItem();
        (refused.Index, refused.Path).ShouldBe((1, path));
        refused.Message.ShouldNotBeNullOrWhiteSpace();
        // The schema says the same, but for the calendar.
        if (path != "at") Schema.Evaluate(JsonDocument.Parse(wrong).RootElement).IsValid.ShouldBeFalse();
    }

    [Theory]
    [InlineData("")]
    [InlineData("{ \"device\":")]
    [InlineData("\"panel\"")]
    public void Half_a_message_is_refused_as_a_whole(string json) =>
        MeasurementFormat.Read(Encoding.UTF8.GetBytes(json), Start).Errors.ShouldNotBeEmpty();

    [Fact]
    public void Damaged_messages_are_refused_and_never_break_anything()
    {
        var random = new Random(24);
        var whole = Encoding.UTF8.GetBytes("""
            [{"device":"panel-1","at":"2026-06-09T11:59:30-06:00","values":{"black":{"lit":["low","mid"]},"gray":{"percent":42.5},"flow":{"litersTotal":1e3},
             "bay":{"celsius":-4.5},"valve.black":"open","ohms.low":41000}},{"device":"hose","values":{"flow":{"litersTotal":7}}}]
            """);
        byte[] pieces = [.. "{}[]\",:.-0e9nulltrue\\u0000"u8, 0, 0xff, 0xc3];
        var (read, refused) = (0, 0);
        for (var i = 0; i < 4000; i++)
        {
            var damaged = whole.ToList();
            for (var n = random.Next(1, 5); n > 0; n--)
            {
                var at = random.Next(damaged.Count);
                switch (random.Next(3))
                {
                    case 0: damaged[at] = pieces[random.Next(pieces.Length)]; break;
                    case 1: damaged.RemoveAt(at); break;
                    default: damaged.Insert(at, pieces[random.Next(pieces.Length)]); break;
                }
            }
            var result = MeasurementFormat.Read(damaged.ToArray(), Start);
            (result.Value is null).ShouldBe(result.Errors.Count > 0);
            if (result.Value is not { } message)
            {
                refused++;
                continue;
            }
            read++;
            // What was taken is sound: it can be kept, read again and gone over.
            foreach (var (_, measurement) in message.Taken)
            {
                MeasurementFormat.ReadValues(MeasurementFormat.Write(measurement.Values)).Count.ShouldBe(measurement.Values.Count);
                new Played().Feed(0, [.. measurement.Values]).Feed(300, [.. measurement.Values]).Until(900);
            }
            message.Refused.ShouldAllBe(r => r.Message.Length > 0);
        }
        read.ShouldBeGreaterThan(100);
        refused.ShouldBeGreaterThan(100);
    }

    [Fact]
    public void An_hour_without_a_network_is_caught_up_with_the_times_at_which_it_was_measured()
    {
        var played = new Played();
        for (var s = 0; s < 600; s += 10) played.Feed(s, Lit(), Flow(50));
        // The device went on measuring, and sends all of it at once; some of it twice.
        var kept = Enumerable.Range(0, 360).Select(i => 600.0 + 10 * i).ToList();
        foreach (var s in kept.Concat(kept.TakeLast(30))) played.Feed(s, s < 2400 ? Lit() : Lit("low"), Flow(s is < 1800 or >= 2000 ? s < 1800 ? 50 : 70 : 60));
        played.Until(4300);
        var light = played.Entries.OfType<ReadingEntry>().Last();
        (light.Lit!.Count, (light.Instant - Start).TotalSeconds).ShouldBe((1, 2400.0));
        var water = played.Entries.OfType<WaterEntry>().ToList();
        water.Select(w => w.WaterL).ShouldBe([10.0, 10.0], "two flows with minutes between them");
        played.Entries.Count.ShouldBe(4);
    }

    [Fact]
    public void A_channel_is_bound_by_its_name()
    {
        DeviceBinding Of(MeasuredValue value) => DeviceBinding.Propose(Rig, value);
        Of(Lit()).ShouldBe(new DeviceBinding("black", BindingKind.Panel, "black"));
        Of(Gray(4)).ShouldBe(new DeviceBinding("gray", BindingKind.Panel, "gray"));
        Of(Valve(true)).ShouldBe(new DeviceBinding("valve.gray", BindingKind.Valve, "gray"));
        Of(Flow(2)).ShouldBe(new DeviceBinding("flow", BindingKind.Meter, "black"));
        Of(new MeasuredValue("bay", Quantity.Celsius, 4, null)).Kind.ShouldBe(BindingKind.Thermometer);
        Of(new MeasuredValue("fresh", Quantity.Percent, 4, null)).Kind.ShouldBe(BindingKind.Unused);
        Of(new MeasuredValue("valve.attic", Quantity.Valve, 1, null)).Kind.ShouldBe(BindingKind.Unused);
    }

    private static Played Probed(params DeviceBinding[] more) => new(more);

    [Fact]
    public void A_reading_takes_along_what_was_measured_at_its_probes_and_in_the_bay()
    {
        var probe = new DeviceBinding("ohms.low", BindingKind.Probe, "black");
        DeviceBinding.Propose(Rig, new MeasuredValue("ohms.low", Quantity.Ohms, 41_000, null)).ShouldBe(probe);
        DeviceBinding.Propose(Rig, new MeasuredValue("ohms.black.mid", Quantity.Ohms, 41_000, null)).ShouldSatisfyAllConditions(
            b => b.Kind.ShouldBe(BindingKind.Probe), b => b.Probe.ShouldBe("mid"));
        DeviceBinding.Propose(Rig, new MeasuredValue("ohms.none", Quantity.Ohms, 41_000, null)).Kind.ShouldBe(BindingKind.Unused);
        DeviceBinding.Propose(Rig, new MeasuredValue("outside", Quantity.Celsius, 4, null)).Kind.ShouldBe(BindingKind.Outside);
        DeviceBinding.Propose(Rig, new MeasuredValue("bay", Quantity.Celsius, 4, null)).Kind.ShouldBe(BindingKind.Thermometer);
        var played = Probed(probe, new DeviceBinding("bay", BindingKind.Thermometer, null));
        for (var s = 0; s <= 180; s += 30)
            played.Feed(s, Lit("low"), new MeasuredValue("ohms.low", Quantity.Ohms, 41_000 + s, null), new MeasuredValue("bay", Quantity.Celsius, 4.5, null));
        var reading = played.Entries.ShouldHaveSingleItem().ShouldBeOfType<ReadingEntry>();
        reading.Ohms.ShouldHaveSingleItem().Probe.ShouldBe("low");
        reading.BayC.ShouldBe(4.5);
        var book = LogbookFormat.Write(new Logbook(Rig, [reading]));
        LogbookFormat.Read(book).Value!.Entries[0].ShouldBeOfType<ReadingEntry>().Ohms.ShouldBe(reading.Ohms);
    }

    [Fact]
    public void A_strip_near_full_is_written_at_once_and_says_that_water_runs_in()
    {
        var played = new Played().Feed(0, Gray(80)).Feed(200, Gray(80));
        played.Entries.Count.ShouldBe(1);
        for (var s = 210; s <= 420; s += 10) played.Feed(s, Gray(Math.Min(100, 80 + (s - 210) * 0.08)));
        var readings = played.Entries.OfType<ReadingEntry>().Select(r => r.Percent!.Value).ToList();
        readings.Count.ShouldBeInRange(3, 6);
        readings[1].ShouldBeInRange(90, 93);
        var state = played.States["gray"];
        Distiller.Fills(state, Start + Duration.FromSeconds(425)).ShouldBeTrue();
        Distiller.Fills(state, Start + Duration.FromSeconds(900)).ShouldBeFalse("nothing was heard of it since");
        played.Feed(460, Gray(96)).Feed(500, Gray(96)).Feed(540, Gray(96));
        Distiller.Fills(played.States["gray"], Start + Duration.FromSeconds(545)).ShouldBeFalse("the shower is off");
    }

    [Fact]
    public void The_topmost_light_is_written_at_once_and_says_that_it_has_just_come_on()
    {
        var rig = Rig with { Tanks = [Rig.Tanks[0] with { Monitor = TankMonitor.WithProbes(new Probe("low", "1/3", 0.33), new Probe("top", "Full", 0.95)) }] };
        Distiller Made(IReadOnlyDictionary<string, ChannelState>? states = null) => new(rig, "panel-1", [Bindings[0]], Denver,
            states ?? new Dictionary<string, ChannelState>());
        IReadOnlyList<LogEntry> Feed(Distiller to, int from, int until, params string[] lit) => [.. Enumerable.Range(from, until - from).SelectMany(s =>
            to.Feed(Start + Duration.FromSeconds(s), [Lit(lit)]))];
        bool Fills(Distiller of, int at) => Distiller.Fills(of.States["black"], Start + Duration.FromSeconds(at));
        var shower = Made();
        Feed(shower, 1, 200, "low").Count.ShouldBe(1);
        Feed(shower, 200, 213, "low", "top").ShouldBeEmpty("it may slosh");
        Feed(shower, 213, 220, "low", "top").Single().ShouldBeOfType<ReadingEntry>().Rising.ShouldBeNull("one step may be a light that sticks");
        Fills(shower, 221).ShouldBeTrue();
        Feed(shower, 220, 900, "low", "top");
        Fills(shower, 901).ShouldBeFalse("that was a while ago");
        var fouled = Made();
        Feed(fouled, 1, 200, "top");
        Fills(fouled, 200).ShouldBeFalse("it was on from the beginning");
    }

    [Fact]
    public void A_jump_has_to_stay_whichever_way_it_goes()
    {
        var played = new Played().Feed(0, Gray(30)).Feed(60, Gray(75)).Feed(90, Gray(31)).Feed(4000, Gray(30));
        played.Entries.Count.ShouldBe(1);
        played.States["gray"].Flickers.ShouldBeGreaterThan(0);
        played.Feed(4100, Gray(75)).Feed(4300, Gray(76));
        played.Entries.Count.ShouldBe(2);
    }

    [Fact]
    public void A_strip_that_stays_high_after_dumps_has_drifted()
    {
        DeviceTrouble? After(double low)
        {
            var played = new Played();
            var s = 1.0;
            for (var dump = 0; dump < 4; dump++)
            {
                foreach (var percent in new[] { 40.0, 60, 80 }) played.Feed(s += 4000, Gray(percent));
                for (var i = 0; i < 6; i++) played.Feed(s += 60, Gray(low));
            }
            return Distiller.Trouble(played.States["gray"], Start + Duration.FromSeconds(s));
        }
        After(2).ShouldBeNull();
        After(14).ShouldBe(DeviceTrouble.Drifts);
    }

    [Fact]
    public void A_thermometer_that_never_moves_is_stuck()
    {
        MeasuredValue Bay(double c) => new("bay", Quantity.Celsius, c, null);
        var (stuck, well) = (new Played(), new Played());
        for (var hour = 0; hour < 60; hour++)
        {
            stuck.Feed(1 + hour * 3600, Bay(4.5));
            well.Feed(1 + hour * 3600, Bay(4.5 + 0.1 * (hour % 7)));
        }
        var now = Start + Duration.FromHours(59.5);
        Distiller.Trouble(stuck.States["bay"], now).ShouldBe(DeviceTrouble.Stuck);
        Distiller.Trouble(well.States["bay"], now).ShouldBeNull();
        well.States["bay"].DayMost!.Value.ShouldBe(5.1, 0.001);
    }
}
