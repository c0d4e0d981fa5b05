using System.Text;
using System.Text.Json;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Tests.Dumping;
using Tanksophos.Words;

namespace Tanksophos.Core.Tests.Formats;

public sealed class RunFormatTests
{
    private const string Log = """
        { "format": "tanksophos-logbook", "version": 1,
          "rig": { "name": "Test", "people": 2, "tanks": [ { "id": "black", "name": "Black", "role": "black", "capacityL": 150, "monitor": { "kind": "none" } },
              { "id": "gray", "name": "Gray", "role": "gray", "capacityL": 190, "monitor": { "kind": "none" } } ], "equipment": EQUIPMENT },
          "entries": [ { "at": "2026-05-01T12:00:00-06:00", "type": "stay", "hookup": "HOOKUP" },
            { "at": "2026-05-09T18:00:00-06:00", "type": "reading", "tank": "black", "via": "sight", "fraction": 0.7 },
            { "at": "2026-05-09T18:01:00-06:00", "type": "reading", "tank": "gray", "via": "sight", "fraction": 0.6 }MORE ],
          "asOf": "2026-05-09T18:30:00-06:00" }
        """;

    private const string Dumped = ", { \"at\": \"2026-05-09T18:10:00-06:00\", \"type\": \"dump\", \"tank\": \"black\", \"flow\": ";

    private static JsonElement Ask(string equipment = "{}", string hookup = "full", string more = "", string asked = "\"form\": \"full\"")
    {
        var log = Log.Replace("EQUIPMENT", equipment, StringComparison.Ordinal).Replace("HOOKUP", hookup, StringComparison.Ordinal)
            .Replace("MORE", more, StringComparison.Ordinal);
        var read = RunFormat.Read(Encoding.UTF8.GetBytes($"{{ \"format\": \"tanksophos-run\", \"version\": 1, \"logbook\": {log}, {asked} }}"));
        read.Ok.ShouldBeTrue(string.Join("; ", read.Errors));
        return JsonDocument.Parse(RunFormat.Write(read.Value!, new JointEstimator(), DocumentWords.English)).RootElement;
    }

    private static string? Refused(JsonElement script) => script.TryGetProperty("refused", out var r) ? r.GetProperty("because").GetString() : null;

    [Theory]
    [InlineData("{ \"reverseFlush\": true }", "reverse", "open", "closed", "closed")]
    [InlineData("{ \"flushInlet\": true, \"endValve\": true }", "built-in", "closed", "closed", "open")]
    [InlineData("{ \"wand\": \"flexible\" }", "wand", "closed", "closed", null)]
    public void A_fill_says_how_valves_and_water_stand(string equipment, string method, string black, string gray, string? end)
    {
        var script = Ask(equipment, asked: $"\"form\": \"full\", \"method\": \"{method}\"");
        var fill = script.GetProperty("steps").EnumerateArray().Single(s => s.GetProperty("kind").GetString() == "fill");
        var valves = fill.GetProperty("valves");
        valves.GetProperty("black").GetString().ShouldBe(black);
        valves.GetProperty("gray").GetString().ShouldBe(gray);
        (valves.TryGetProperty("end", out var e) ? e.GetString() : null).ShouldBe(end);
        fill.GetProperty("water").GetString().ShouldBe("on");
        fill.GetProperty("method").GetString().ShouldBe(method);
        fill.GetProperty("limitL").GetDouble().ShouldBeLessThanOrEqualTo(0.9 * 150);
        fill.GetProperty("cautions").GetArrayLength().ShouldBe(1);
    }

    [Theory]
    [InlineData("{}", "dry", "", "\"form\": \"full\"", "no-sewer")]
    [InlineData("{}", "gray-drain", "", "\"form\": \"quick\"", "no-sewer")]
    [InlineData("{}", "dry", "", "\"form\": \"gray-only\"", "no-drain")]
    [InlineData("{ \"macerator\": true, \"reverseFlush\": true }", "full", "", "\"form\": \"full\", \"method\": \"reverse\"", "macerator")]
    [InlineData("{ \"macerator\": true }", "full", "", "\"form\": \"full\", \"method\": \"jet\"", "macerator")]
    [InlineData("{}", "full", "", "\"form\": \"full\", \"method\": \"reverse\"", "no-fitting")]
    [InlineData("{}", "full", "", "\"form\": \"full\", \"method\": \"jet\"", "trained-person")]
    [InlineData("{ \"flushInlet\": true }", "full", "", "\"form\": \"full\", \"method\": \"built-in\", \"rinseWater\": \"none\"", "no-tap")]
    [InlineData("{}", "full", Dumped + "\"none\" }", "\"form\": \"full\"", "clog")]
    [InlineData("{}", "full", Dumped + "\"rush\" }", "\"form\": \"black-only\"", "no-reason")]
    public void What_cannot_be_is_refused_with_its_reason(string equipment, string hookup, string more, string asked, string because)
    {
        var script = Ask(equipment, hookup, more, asked);
        Refused(script).ShouldBe(because);
        script.GetProperty("refused").GetProperty("why").GetString()!.Length.ShouldBeGreaterThan(10);
        script.GetProperty("steps").GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public void Wrong_words_are_named_with_their_path()
    {
        var read = RunFormat.Read(Encoding.UTF8.GetBytes("""
            { "format": "tanksophos-run", "version": 1, "form": "slow", "method": "broom", "staying": 3 }
            """));
        read.Ok.ShouldBeFalse();
        read.Errors.Select(e => e.Path).ShouldBe(["form", "logbook", "method", "staying"], ignoreOrder: true);
    }

    // Over all kits, methods, forms, taps and levels: what may never be.
    [Fact]
    public void No_script_breaks_a_law()
    {
        var built = 0;
        Equipment[] kits =
        [
            Runs.Kit, Runs.Kit with { ReverseFlush = true }, Runs.Kit with { EndValve = true }, Runs.Kit with { WaterMeter = true },
            Runs.Kit with { Macerator = true },
            new Equipment(), new Equipment { JugL = 10, Wand = "rigid" }, new Equipment { ReverseFlush = true, EndValve = true, WaterMeter = true },
        ];
        foreach (var kit in kits)
            foreach (var rule in Enum.GetValues<GrayAtFullHookup>())
                foreach (var (black, gray) in new[] { (12.0, 90.0), (40, 15), (100, 90), (139, 185) })
                    foreach (var open in new[] { false, true })
                        foreach (var tap in Enum.GetValues<TapWater>())
                            foreach (var stop in new FillStop?[] { null, FillStop.Watched, FillStop.Clock })
                                foreach (var method in Enum.GetValues<FlushMethod>())
                                    foreach (var form in Enum.GetValues<RunForm>())
                                    {
                                        var setting = Runs.Setting(black, gray, kit, HouseRules.Default with { GrayAtFullHookup = rule }) with
                                        {
                                            Water = tap,
                                            Method = method,
                                            Stop = stop,
                                            FlowLPerMin = stop is null ? 8 : null
                                        };
                                        setting = setting with { Tanks = [setting.Tanks[0], setting.Tanks[1] with { Open = open }] };
                                        if (RunBuilder.Offer(setting, form).Script is not { } script) continue;
                                        built++;
                                        Laws(setting, script);
                                    }
        built.ShouldBeGreaterThan(2000);
    }

    private static void Laws(RunSetting setting, RunScript script)
    {
        var all = RunStanding.Of(script);
        var closed = false;
        foreach (var (step, s) in script.Steps.Zip(all))
        {
            closed |= step.Kind == RunStepKind.Valves;
            var (black, gray) = (s.Open.Contains("black"), s.Open.Contains("gray"));
            if (!s.EndClosed && closed) (black && gray).ShouldBeFalse($"{step.Id}: black and gray into the sewer together");
            if (s.EndClosed) step.Method.ShouldBeOneOf(FlushMethod.Reverse, FlushMethod.GrayBackfeed);
            if (!s.WaterOn || step.Tank != "black") continue;
            if (step.Kind == RunStepKind.OpenRinse) black.ShouldBeTrue();
            else if (step.Method == FlushMethod.Reverse) (black, gray, s.EndClosed).ShouldBe((true, false, true), step.Id);
            else black.ShouldBeFalse(step.Id);
            var level = step.Kind == RunStepKind.TopUp ? setting.Tanks[0].Level : setting.Tanks[0].AfterDrain;
            foreach (var litres in new[] { step.AimL, step.Kind == RunStepKind.OpenRinse ? null : step.Limit?.Litres })
                if (litres is { } l) (l + level.P95L).ShouldBeLessThanOrEqualTo(0.9 * setting.Tanks[0].Tank.CapacityL + 0.001, step.Id);
        }
        var first = script.Steps.ToList().FindIndex(s => s.Kind == RunStepKind.Drain && s.Tank == "black");
        var second = script.Steps.ToList().FindIndex(s => s.Kind == RunStepKind.Drain && s.Tank == "gray");
        if (first >= 0 && second >= 0) first.ShouldBeLessThan(second);
        all[^1].Open.ShouldNotContain("black");
        if (all[^1].Open.Contains("gray")) setting.Rig.RulesInForce.GrayAtFullHookup.ShouldNotBe(GrayAtFullHookup.Batch);
        if (setting.Rig.Equipment?.Macerator == true)
            script.Steps.ShouldAllBe(s => s.Method != FlushMethod.Reverse && s.Method != FlushMethod.GrayBackfeed && s.Method != FlushMethod.Jet);
    }
}
