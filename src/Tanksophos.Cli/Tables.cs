using System.Globalization;
using System.Text;
using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Words;

namespace Tanksophos.Cli;

/// <summary>Answers as a person reads them at a terminal: the same documents, as tables and short lines.</summary>
/// <param name="units">Measures.</param>
/// <param name="width">Characters of a line.</param>
public sealed class Tables(Units units, int width)
{
    private readonly int width = Math.Clamp(width, 40, 160);

    /// <summary>An answer of a command, as text.</summary>
    /// <param name="answer">The answer: a document in JSON.</param>
    public string Render(ReadOnlyMemory<byte> answer)
    {
        using var document = JsonDocument.Parse(answer);
        var root = document.RootElement;
        var text = new StringBuilder();
        if (root.TryGetProperty("error", out var error)) text.AppendLine(Join(": ", Text(error, "path"), Text(error, "message")));
        else if (root.TryGetProperty("valid", out _)) Valid(text, root);
        else if (root.TryGetProperty("ingredients", out _)) Dose(text, root);
        else
            switch (Text(root, "format"))
            {
                case "tanksophos-assessment": Assessment(text, root); break;
                case "tanksophos-agenda": Agenda(text, root); break;
                case "tanksophos-plan": Plan(text, root); break;
                case "tanksophos-run-script": Run(text, root); break;
                case "tanksophos-case": Case(text, root); break;
                default: text.AppendLine(Pretty(root)); break; // a whole logbook: nothing shorter says it
            }
        return text.ToString();
    }

    /// <summary>A table with its columns set apart; where the line is too short, the widest go on below.</summary>
    public string Table(IReadOnlyList<string> head, IReadOnlyList<IReadOnlyList<string>> lines)
    {
        ArgumentNullException.ThrowIfNull(head);
        ArgumentNullException.ThrowIfNull(lines);
        var widths = head.Select((h, i) => lines.Select(l => l[i].Length).Append(h.Length).Max()).ToArray();
        for (var over = widths.Sum() + 2 * (head.Count - 1) - width; over > 0; over--) widths[System.Array.IndexOf(widths, widths.Max())]--;
        var text = new StringBuilder();
        Line(text, head, widths);
        Line(text, [.. widths.Select(w => new string('-', w))], widths);
        foreach (var line in lines) Line(text, line, widths);
        return text.ToString();
    }

    private static void Line(StringBuilder text, IReadOnlyList<string> cells, int[] widths)
    {
        var wrapped = cells.Select((c, i) => Wrap(c, widths[i])).ToList();
        for (var row = 0; row < wrapped.Max(w => w.Count); row++)
            text.AppendLine(string.Join("  ", wrapped.Select((w, i) => (row < w.Count ? w[row] : "").PadRight(widths[i]))).TrimEnd());
    }

    private static List<string> Wrap(string text, int width)
    {
        var lines = new List<string>();
        for (var rest = text; ;)
        {
            if (rest.Length <= width)
            {
                lines.Add(rest);
                return lines;
            }
            var cut = rest.LastIndexOf(' ', width);
            if (cut <= 0) cut = width;
            lines.Add(rest[..cut].TrimEnd());
            rest = rest[cut..].TrimStart();
        }
    }

    private void Paragraph(StringBuilder text, string words, string indent = "  ")
    {
        foreach (var line in Wrap(words, width - indent.Length)) text.Append(indent).AppendLine(line);
    }

    private static void Valid(StringBuilder text, JsonElement root)
    {
        text.AppendLine($"OK: {Text(root, "format")}");
        foreach (var warning in root.GetProperty("warnings").EnumerateArray()) text.AppendLine($"  {warning.GetString()}");
    }

    private void Assessment(StringBuilder text, JsonElement root)
    {
        text.AppendLine($"As of {Moment(Text(root, "asOf"))}");
        text.AppendLine();
        text.Append(Table(["tank", "likely", "between", "panel", "lights"], [.. root.GetProperty("tanks").EnumerateArray().Select(t =>
        {
            var level = t.GetProperty("level");
            return (IReadOnlyList<string>)
            [
                Text(t, "tank"), Volume(level, "p50L"), $"{Volume(level, "p05L")} and {Volume(level, "p95L")}", Verdict(Text(t, "monitorVerdict")),
                string.Join(", ", t.GetProperty("probes").EnumerateArray().Select(Probe).Where(p => p.Length > 0).DefaultIfEmpty("all look right")),
            ];
        })]));
        var found = root.GetProperty("tanks").EnumerateArray().SelectMany(t => t.GetProperty("conditions").EnumerateArray()
            .Where(c => c.GetProperty("probability").GetDouble() >= 0.5)
                .Select(c => $"{Text(t, "tank")}: {Spaced(Text(c, "code"))}, {Percent(c, "probability")}")).ToList();
        Listed(text, "Found", found);
        Listed(text, "Smell", [.. root.GetProperty("odorCauses").EnumerateArray().Take(3)
            .Select(o => $"{Spaced(Text(o, "cause"))}, {Percent(o, "probability")}")]);
        Listed(text, "Safety", [.. root.GetProperty("safety").EnumerateArray().Select(s => Spaced(s.GetString()!))]);
        Listed(text, "Check next", [.. root.GetProperty("nextChecks").EnumerateArray().Select(c => $"{Spaced(Text(c, "code"))}: {Text(c, "why")}")]);
        if (root.TryGetProperty("care", out var care))
            Listed(text, "Care", [.. care.EnumerateArray().Where(c => Text(c, "state") is "due" or "overdue" or "soon")
                .Select(c => $"{Spaced(Text(c, "chore"))} ({Text(c, "state")}): {Text(c, "why")}")]);
    }

    private void Agenda(StringBuilder text, JsonElement root)
    {
        text.AppendLine($"As of {Moment(Text(root, "asOf"))}");
        foreach (var level in root.GetProperty("items").EnumerateArray().GroupBy(i => Text(i, "level")))
            Listed(text, TimeWords.Capital(level.Key), [.. level.Select(i =>
                $"{Spaced(Text(i, "code"))}{Of(i)}{(Text(i, "at") is { Length: > 0 } at ? $", {Moment(at)}" : "")}: {Text(i, "why")}")]);
        if (root.GetProperty("items").GetArrayLength() == 0) text.AppendLine("Nothing to do.");
        Listed(text, "Not now", [.. root.GetProperty("held").EnumerateArray().Select(h => $"{Spaced(Text(h, "code"))}{Of(h)}: {Text(h, "why")}")]);
    }

    private void Plan(StringBuilder text, JsonElement root)
    {
        var totals = root.GetProperty("totals");
        text.AppendLine(root.GetProperty("feasible").GetBoolean() ? $"No overflow expected ({Percent(totals, "overflowProbability")} risk)."
            : $"A tank may overflow ({Percent(totals, "overflowProbability")} risk).");
        text.AppendLine();
        text.Append(Table(["when", "stop", "tank", "do", "why"], [.. root.GetProperty("actions").EnumerateArray().Select(a => (IReadOnlyList<string>)
            [
                Moment(Text(a, "at")), Text(a, "stop"), Text(a, "tank"),
                Join(", ", Spaced(Text(a, "action")), Spaced(Text(a, "recipe")), Spaced(Text(a, "method")), a.TryGetProperty("waterL", out _)
                    ? Volume(a, "waterL") : ""),
                Text(a, "why"),
            ])]));
        Listed(text, "Risks", [.. root.GetProperty("risks").EnumerateArray().Select(r =>
            $"{Moment(Text(r, "at"))} {Text(r, "tank")}: {Spaced(Text(r, "code"))}, {Percent(r, "probability")}; {Each(r, "advice")}")]);
        text.AppendLine();
        text.AppendLine($"{totals.GetProperty("blackDumps").GetRawText()} black dumps, {totals.GetProperty("grayDumps").GetRawText()} gray dumps, "
            + $"{Volume(totals, "rinseWaterL")} to rinse, {totals.GetProperty("doses").GetRawText()} doses.");
    }

    private void Run(StringBuilder text, JsonElement root)
    {
        if (root.TryGetProperty("refused", out var refused))
        {
            text.AppendLine($"Not now: {Text(refused, "why")}");
            return;
        }
        text.AppendLine($"About {root.GetProperty("minutes").GetRawText()} minutes.");
        var number = 0;
        foreach (var step in root.GetProperty("steps").EnumerateArray())
        {
            text.AppendLine();
            foreach (var caution in Array(step, "cautions")) Paragraph(text, $"CAUTION: {caution.GetString()}", "    ");
            Paragraph(text, $"{++number,2}. {Text(step, "text")}", "");
        }
    }

    private void Dose(StringBuilder text, JsonElement root)
    {
        foreach (var caution in Array(root, "cautions")) Paragraph(text, $"CAUTION: {caution.GetString()}", "");
        text.Append(Table(["put in", "how much"], [.. Array(root, "ingredients").Select(i => (IReadOnlyList<string>)[Text(i, "name"), Text(i, "amount")])]));
        if (root.TryGetProperty("waterL", out var water) && water.ValueKind == JsonValueKind.Number)
            text.AppendLine($"With {Volume(root, "waterL")} of water.");
        var number = 0;
        foreach (var step in Array(root, "steps")) Paragraph(text, $"{++number}. {step.GetString()}", "");
    }

    private void Case(StringBuilder text, JsonElement root)
    {
        Paragraph(text, Text(root, "question"), "");
        Listed(text, "Choose", [.. Array(root, "choices").Select(c => $"{Text(c, "id")}: {Text(c, "text")}")]);
        Listed(text, "Look first", [.. Array(root, "evidence")
            .Select(e => $"{Text(e, "id")}: {Text(e, "text")} ({e.GetProperty("minutes").GetRawText()} min)")]);
        if (root.TryGetProperty("truth", out var truth)) Listed(text, "Answer", [Text(truth, "answer")]);
    }

    private void Listed(StringBuilder text, string head, List<string> lines)
    {
        if (lines.Count == 0) return;
        text.AppendLine().AppendLine(head);
        foreach (var line in lines)
        {
            var wrapped = Wrap(line, width - 4);
            text.Append("  - ").AppendLine(wrapped[0]);
            foreach (var more in wrapped.Skip(1)) text.Append("    ").AppendLine(more);
        }
    }

    private static string Probe(JsonElement probe) =>
        probe.GetProperty("stuckOn").GetDouble() > probe.GetProperty("working").GetDouble() ? $"{Text(probe, "probe")} stuck on"
        : probe.GetProperty("stuckOff").GetDouble() > probe.GetProperty("working").GetDouble() ? $"{Text(probe, "probe")} stuck off" : "";

    private static string Verdict(string verdict) => verdict switch { "trust" => "looks right", "doubt" => "not sure", "ignore" => "not trusted", _ => "none" };

    private static string Of(JsonElement item) =>
        Text(item, "tank") is { Length: > 0 } tank ? " " + tank : item.TryGetProperty("tanks", out var tanks) ? " " + Each(item, "tanks") : "";

    private static string Each(JsonElement item, string name) => string.Join(", ", Array(item, name).Select(v => Spaced(v.GetString() ?? "")));

    private static JsonElement.ArrayEnumerator Array(JsonElement item, string name) =>
        item.TryGetProperty(name, out var list) && list.ValueKind == JsonValueKind.Array ? list.EnumerateArray() : default;

    private string Volume(JsonElement item, string name) => units.Volume(item.GetProperty(name).GetDouble());

    private static string Percent(JsonElement item, string name) => (item.GetProperty(name).GetDouble() * 100).ToString("0",
        CultureInfo.InvariantCulture) + " %";

    private static string Text(JsonElement item, string name) =>
        item.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String ? value.GetString()! : "";

    private static string Spaced(string code) => code.Replace('-', ' ');

    private static string Join(string between, params string[] parts) => string.Join(between, parts.Where(p => p.Length > 0));

    private string Moment(string at)
    {
        if (!Timestamps.TryParse(at, out var time)) return at;
        var style = units == Units.Metric ? TimeStyle.International : TimeStyle.Us;
        return $"{style.WeekDay(time.Date)}, {style.Time(new LocalTime(time.Hour, time.Minute))}";
    }

    private static string Pretty(JsonElement root) => JsonSerializer.Serialize(root, Indented);

    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true };
}
