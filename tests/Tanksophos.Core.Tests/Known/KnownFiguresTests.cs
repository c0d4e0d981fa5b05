using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Core.Tests.Agendas;
using Tanksophos.Core.Tests.Dumping;
using Tanksophos.Core.Treatments;
using Tanksophos.Words;

namespace Tanksophos.Core.Tests.Known;

/// <summary>
/// What the core answers on some hundred cases, a line for each: its main figures, and a mark of all its figures and codes. Whoever changes an answer sees
/// here which cases it touches. Texts do not count. If a change is meant: TANKSOPHOS_KNOWN=write runs the tests and writes the lines anew.
/// </summary>
public class KnownFiguresTests
{
    private static readonly IDocumentWords Texts = DocumentWords.English;

    [Fact]
    public void Of_practice_cases() => Compare("practice", TroubleCases.Many(44, seed: 20).Select((c, i) =>
    {
        var belief = new JointEstimator().Estimate(c.Logbook);
        var sensors = SensorReport.Compute(c.Logbook, belief);
        var faults = FaultReport.Compute(c.Logbook, belief);
        return Line($"{i} {c.Condition?.ToString() ?? c.Odor?.ToString() ?? "healthy"}",
            [.. belief.Tanks.Select(t => N(t.Level.P50L)), .. faults.Odors.Take(2).Select(o => $"{o.Cause} {N(o.Probability)}")],
            AssessmentFormat.Write(c.Logbook, belief, Texts), Said(faults), Said(sensors),
            Said(LevelSmoother.Compute(c.Logbook, c.Logbook.InOrder()[^1].Instant - Duration.FromDays(12))
                .Select(t => new { t.Tank, t.Then, t.Now, t.Probes })));
    }));

    [Fact]
    public void Of_situations_and_their_plans() => Compare("situations", Enumerable.Range(1000, 240).AsParallel().AsOrdered().Select(seed =>
    {
        var (s, agenda) = CourtLawsTests.MakeSituation(seed);
        return Line($"{seed}", [.. agenda.Items.Take(3).Select(i => i.Code.ToString())], AgendaFormat.Write(s, agenda, Texts),
            s.Plan is null ? [] : PlanFormat.Write(s.Plan, Texts), AssessmentFormat.Write(s.Logbook, s.Belief, Texts), Said(s.Advice.Steps));
    }));

    [Fact]
    public void Of_doses() => Compare("doses",
        from recipe in Enum.GetValues<DoseRecipe>().Where(DoseCalculator.IsComputed)
        from tank in (DoseCase[])[new(57), new(151.4) { HighC = 35 }, new(113.6) { Days = 16, Recovery = true }, new(230) { FreeL = 9, LevelUnknown = true },
            new(400) { Units = KitchenUnits.Metric }]
        select Line($"{recipe} {N(tank.CapacityL)}", [.. DoseCalculator.Compute(recipe, tank).Ingredients.Select(i => N(i.AmountMl ?? i.AmountG ?? 0))],
            DoseFormat.Write(DoseCalculator.Compute(recipe, tank), Texts), Said(DoseCalculator.Compute(recipe, tank).Why)));

    [Fact]
    public void Of_dump_runs() => Compare("runs",
        from form in Enum.GetValues<RunForm>()
        from place in Enum.GetValues<RunPlace>()
        from method in (FlushMethod?[])[null, FlushMethod.Wand, FlushMethod.Bucket, FlushMethod.Pedal, FlushMethod.GrayBackfeed]
        from setting in (RunSetting[])[Runs.Setting(place: place), Runs.Setting(30, 20, place: place) with { Busy = true, Water = TapWater.None, FreshL = 40 },
            Runs.Setting(140, 150, place: place) with { Leaving = true, FlowLPerMin = 9, Water = TapWater.Unthreaded, HighC = 36 }]
        let offer = RunBuilder.Offer(setting with { Method = method }, form)
        select Line($"{form} {place} {method} {N(setting.Tanks[0].Level.P50L)}",
            offer.Script is { } script ? [N(script.Steps.Sum(s => s.Minutes)), $"{script.Steps.Count} steps"] : [.. offer.Refused.Select(r => r.ToString())],
            offer.Script is { } built ? Encoding.UTF8.GetBytes(RunCodec.Write(built)) : []));

    // Every kit with every way to rinse, and a gray that stands open.
    [Fact]
    public void Of_dump_runs_by_what_the_rig_has() => Compare("kits",
        from kit in new[]
        {
            Runs.Kit with { FlushInlet = false }, Runs.Kit with { FlushInlet = true, ReverseFlush = true }, Runs.Kit with { EndValve = true },
            Runs.Kit with { Macerator = true, EndValve = true, ReverseFlush = true }, Runs.Kit with { Wand = "rigid", ToiletDrop = "offset", JugL = null },
            Runs.Kit with { Wand = "rigid", ToiletDrop = "straight", WaterMeter = true }
        }.Select((k, i) => (Kit: k, Number: i))
        from method in (FlushMethod?[])[null, .. Enum.GetValues<FlushMethod>()]
        from open in (bool[])[true, false]
        from form in (RunForm[])[RunForm.Full, RunForm.Quick]
        let plain = Runs.Setting(100, 90, kit.Kit)
        let setting = plain with { Method = method, Tanks = [.. plain.Tanks.Select(t => t.Tank.Role == TankRole.Gray ? t with { Open = open } : t)] }
        let offer = RunBuilder.Offer(setting, form)
        select Line($"kit {kit.Number} {method} {open} {form}",
            offer.Script is { } script ? [N(script.Steps.Sum(s => s.Minutes)), $"{script.Steps.Count} steps"] : [.. offer.Refused.Select(r => r.ToString())],
            offer.Script is { } built ? Encoding.UTF8.GetBytes(RunCodec.Write(built)) : []));

    [Fact]
    public void Of_runs_that_were_played() => Compare("played",
        from form in (RunForm[])[RunForm.Full, RunForm.Quick, RunForm.GrayOnly, RunForm.BlackOnly, RunForm.EndOfTrip]
        from method in (FlushMethod?[])[null, FlushMethod.Bucket, FlushMethod.Pedal]
        from last in (RunStepKind[])[RunStepKind.Sniff, RunStepKind.Stow, RunStepKind.Close]
        from dry in (bool[])[true, false]
        let offer = RunBuilder.Offer(Runs.Setting(60, 90) with { Leaving = true, Method = method, FlowLPerMin = 9, HighC = 36 }, form)
        where offer.Script?.Steps.Any(s => s.Kind == last) == true
        let played = Played(offer.Script!, last, dry)
        select Line($"{form} {method} {last} {dry}", [$"{played.Count} entries"],
            LogbookFormat.Write(new Logbook(Runs.Rig(), played, null))));

    private static IReadOnlyList<LogEntry> Played(RunScript script, RunStepKind last, bool dry)
    {
        var presser = new Presser(script);
        if (script.Steps.Any(s => s.Kind == RunStepKind.Valves)) presser.To(RunStepKind.Valves).Press(dry ? RunPress.Dry : RunPress.Drips);
        presser.To(last).Press(presser.State.Step.Presses[dry ? 0 : ^1]).Press(RunPress.Finish);
        return RunEntries.Build("run", presser.State, DateTimeZoneProviders.Tzdb["America/Denver"]);
    }

    private static string N(double value) => value == 0 ? "0" : double.Parse(value.ToString("E2", CultureInfo.InvariantCulture),
        CultureInfo.InvariantCulture).ToString("G3", CultureInfo.InvariantCulture);

    private static byte[] Said<T>(T value) => Encoding.UTF8.GetBytes(JsonSerializer.Serialize(value, Plain));

    private static readonly JsonSerializerOptions Plain = new() { Converters = { new TextConverter() }, MaxDepth = 128 };

    private static string Line(string name, IReadOnlyList<string> figures, params byte[][] documents)
    {
        var all = new StringBuilder();
        foreach (var document in documents.Where(d => d.Length > 0))
        {
            using var json = JsonDocument.Parse(document);
            Walk(json.RootElement, all);
        }
        var mark = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(all.ToString())).AsSpan(0, 5));
        return $"{name}: {string.Join(", ", figures)} [{mark}]";
    }

    // Figures to three digits, codes and times; texts have a space in them.
    private static void Walk(JsonElement element, StringBuilder all)
    {
        if (element.ValueKind == JsonValueKind.Object)
            foreach (var field in element.EnumerateObject())
            {
                all.Append(field.Name).Append(':');
                Walk(field.Value, all);
            }
        else if (element.ValueKind == JsonValueKind.Array)
            foreach (var item in element.EnumerateArray()) Walk(item, all.Append('-'));
        else if (element.ValueKind == JsonValueKind.Number) all.Append(N(element.GetDouble())).Append(';');
        else if (element.ValueKind != JsonValueKind.String) all.Append(element.ValueKind).Append(';');
        else if (element.GetString() is { } text && !text.Contains(' ', StringComparison.Ordinal)) all.Append(text).Append(';');
    }

    private static void Compare(string name, IEnumerable<string> lines)
    {
        var now = lines.ToList();
        now.Count.ShouldBeGreaterThan(40);
        if (Environment.GetEnvironmentVariable("TANKSOPHOS_KNOWN") == "write")
        {
            var folder = new DirectoryInfo(AppContext.BaseDirectory);
            while (!File.Exists(Path.Combine(folder.FullName, "Tanksophos.slnx"))) folder = folder.Parent!;
            File.WriteAllLines(Path.Combine(folder.FullName, "tests", "Tanksophos.Core.Tests", "Known", name + ".txt"), now);
            return;
        }
        var known = File.ReadAllLines(Path.Combine(AppContext.BaseDirectory, "Known", name + ".txt"));
        now.ShouldBeUnique();
        now.Except(known).ShouldBeEmpty($"{name}: answers that are new or changed");
        known.Except(now).ShouldBeEmpty($"{name}: answers that are gone");
    }

    // Times and other values of libraries as their text.
    private sealed class TextConverter : System.Text.Json.Serialization.JsonConverterFactory
    {
        public override bool CanConvert(Type typeToConvert) => typeToConvert.IsEnum || typeToConvert == typeof(LogEntry) || typeToConvert == typeof(Tank)
            || typeToConvert.Namespace?.StartsWith("NodaTime", StringComparison.Ordinal) == true;

        public override System.Text.Json.Serialization.JsonConverter CreateConverter(Type typeToConvert, JsonSerializerOptions options) =>
            (System.Text.Json.Serialization.JsonConverter)Activator.CreateInstance(typeof(AsText<>).MakeGenericType(typeToConvert))!;

        private sealed class AsText<T> : System.Text.Json.Serialization.JsonConverter<T>
        {
            public override T? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => throw new NotSupportedException();

            public override void Write(Utf8JsonWriter writer, T value, JsonSerializerOptions options) => writer.WriteStringValue(value switch
            {
                LogEntry e => $"{e.Type}/{e.Instant}",
                Tank t => t.Id,
                _ => value?.ToString(),
            });
        }
    }
}
