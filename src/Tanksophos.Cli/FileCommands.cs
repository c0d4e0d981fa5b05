using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Sheets;
using Tanksophos.Words;

namespace Tanksophos.Cli;

/// <summary>
/// The commands that read a file a person has: today, log, convert, doctor. They end with 0, 1 if something is odd, 2 if the file is no good.
/// </summary>
/// <param name="output">Where the answer goes.</param>
/// <param name="errors">Where problems go.</param>
/// <param name="units">Measures.</param>
/// <param name="width">Characters of a line.</param>
public sealed class FileCommands(TextWriter output, TextWriter errors, Units units, int width)
{
    private const int Odd = 1, Unusable = 2;

    /// <summary>The formats that <see cref="Convert"/> writes.</summary>
    public static IReadOnlyList<string> Targets { get; } = ["logbook", "entries", "readings", "ndjson"];

    /// <summary>Levels and what to do, in the words of the page Today.</summary>
    public int Today(FileInfo file, bool json)
    {
        if (Content(file) is not { } content) return Unusable;
        var read = LogbookFormat.Read(content);
        if (read.Value is not { } logbook) return Refused(file, read.Errors);
        if (json)
        {
            foreach (var answer in new[] { Commands.Assess(content, pretty: true), Commands.Agenda(content, pretty: true) })
                output.WriteLine(System.Text.Encoding.UTF8.GetString(answer.Line));
            return 0;
        }
        var belief = new JointEstimator().Estimate(logbook);
        var situation = Situation.Build(logbook, belief);
        var agenda = Court.Decide(situation);
        var times = Times(belief);
        var words = new AgendaTexts(situation, units, times);
        var tables = new Tables(units, width);
        output.WriteLine($"{logbook.Rig.Name}, {times.Style.Moment(times.Now, times.Zone)}");
        output.WriteLine();
        output.Write(tables.Table(["tank", "now", "likely", "holds"], [.. belief.Tanks.Select(t => (IReadOnlyList<string>)
            [t.Tank.Name, Share(t, t.Level.P50L), $"{Share(t, t.Level.P05L)} to {Share(t, t.Level.P95L)}", units.Volume(t.Tank.CapacityL)])]));
        output.WriteLine();
        var steps = AgendaTexts.Together(agenda.Items.Where(i => i.Level < AgendaLevel.Later)).Select(words.Of)
            .Select(s => (IReadOnlyList<string>)[s.When, s.Title, s.Reason + (s.Caution is { } caution ? $" CAUTION: {caution}" : "")]).ToList();
        output.Write(steps.Count == 0 ? "Nothing due." + Environment.NewLine : tables.Table(["when", "next", "why"], steps));
        foreach (var held in agenda.Held.Select(words.Of).Distinct()) output.WriteLine("Not now: " + held);
        return 0;
    }

    private static string Share(TankBelief tank, double litres) => StepWords.Percent(Math.Clamp(litres / tank.Tank.CapacityL, 0, 1));

    private TimeWords Times(LevelBelief belief) => new(belief.AsOf?.ToInstant() ?? Instant.MinValue, belief.InForce.Zone,
        units == Units.Metric ? TimeStyle.International : TimeStyle.Us);

    /// <summary>The log as a table, the newest last.</summary>
    public int Log(FileInfo file, string? tank, string? type, int last, bool json)
    {
        if (Read(file) is not { } logbook) return Unusable;
        if (type is not null && !EntryTypes.All.Contains(type))
        {
            errors.WriteLine($"--type: one of {string.Join(", ", EntryTypes.All)} is accepted.");
            return Unusable;
        }
        if (tank is not null && logbook.Rig.FindEver(tank) is null)
        {
            errors.WriteLine($"--tank: one of {string.Join(", ", logbook.Rig.Tanks.Select(t => t.Id))} is accepted.");
            return Unusable;
        }
        var entries = logbook.InOrder().Where(e => (tank is null || e.Tank == tank) && (type is null || e.Type == type)).TakeLast(last).ToList();
        if (json)
        {
            foreach (var entry in entries) output.WriteLine(System.Text.Encoding.UTF8.GetString(EntryCodec.Write(entry)));
            return 0;
        }
        var (words, style) = (new EntryWords(logbook.Rig, units), units == Units.Metric ? TimeStyle.International : TimeStyle.Us);
        output.Write(new Tables(units, width).Table(["when", "what", "details"], [.. entries.Select(e => (IReadOnlyList<string>)
            [$"{style.Year(e.At.Date)}, {style.Time(new LocalTime(e.At.Hour, e.At.Minute))}", EntryWords.Kind(e),
                words.Line(e) + (e.Note is { } note ? $" ({note})" : "")])]));
        output.WriteLine($"{entries.Count} of {logbook.Entries.Count} entries");
        return 0;
    }

    /// <summary>Turns a file into another format.</summary>
    /// <param name="file">A logbook document, a table of ours, or a spreadsheet kept by hand.</param>
    /// <param name="to">One of <see cref="Targets"/>.</param>
    /// <param name="rig">A logbook that describes the rig, for a table; null for none.</param>
    /// <param name="zone">The zone of hours in a spreadsheet.</param>
    /// <param name="dayFirst">Whether the day stands first in dates that could be either.</param>
    /// <param name="result">Where to write it; null for the output.</param>
    public int Convert(FileInfo file, string to, FileInfo? rig, string? zone, bool dayFirst, FileInfo? result)
    {
        if (!Targets.Contains(to))
        {
            errors.WriteLine($"--to: one of {string.Join(", ", Targets)} is accepted.");
            return Unusable;
        }
        if (result is not null && File.Exists(result.FullName))
        {
            errors.WriteLine($"--out: there is a file '{result.Name}' already; a new name is accepted.");
            return Unusable;
        }
        var there = zone is null ? DateTimeZone.Utc : DateTimeZoneProviders.Tzdb.GetZoneOrNull(zone);
        if (there is null)
        {
            errors.WriteLine("--zone: a time zone such as America/Denver is accepted.");
            return Unusable;
        }
        Rig? described = null;
        if (rig is not null)
        {
            if (Read(rig) is not { } known) return Unusable;
            described = known.Rig;
        }
        if (Content(file) is not { } content || Take(file, content, described, there, dayFirst) is not { } logbook) return Unusable;
        var written = to switch
        {
            "logbook" => LogbookFormat.Write(logbook, pretty: true),
            "entries" => EntriesCsv.Write(logbook.InOrder()),
            "readings" => ReadingsCsv.Write(logbook.InOrder()),
            _ => System.Text.Encoding.UTF8.GetBytes(string.Concat(logbook.InOrder()
                .Select(e => System.Text.Encoding.UTF8.GetString(EntryCodec.Write(e)) + "\n"))),
        };
        if (result is null) output.Write(System.Text.Encoding.UTF8.GetString(written));
        else File.WriteAllBytes(result.FullName, written);
        errors.WriteLine($"{logbook.Entries.Count} entries.");
        return 0;
    }

    /// <summary>What is odd in a log.</summary>
    public int Doctor(FileInfo file, bool json)
    {
        if (Content(file) is not { } content) return Unusable;
        var read = LogbookFormat.Read(content);
        if (read.Value is not { } logbook) return Refused(file, read.Errors);
        var belief = new JointEstimator().Estimate(logbook);
        var times = Times(belief);
        var words = new MendWords(units, times, logbook.Rig);
        var findings = new List<(string Kind, string Where, string Said)>();
        findings.AddRange(read.Warnings.Select(w => ("document", w.Path, w.Message)));
        findings.AddRange(Plausibility.Check(logbook.Rig).Select(d => ("rig", d.Tank?.Id ?? "", RigWords.Doubt(d, logbook.Rig, units))));
        findings.AddRange(Alike(logbook).Select(e => ("twice", Timestamps.Write(e.At),
            $"the same {EntryWords.Kind(e).ToLowerInvariant()} stands in the log twice")));
        findings.AddRange(Gaps(logbook).Select(g => ("gap", Timestamps.Write(g.From.At), $"nothing logged for {g.Days} days, and no storage")));
        findings.AddRange(LogDoubts.Of(logbook, belief).Select(d => ("misfit", d.Tank.Id, $"{words.Question([d])} {words.Reason(d)}")));
        findings.AddRange(belief.Tanks.SelectMany(t => t.Probes.Where(p => !p.Believed).Select(p =>
            ("sensor", t.Tank.Id, $"the {p.Probe.Label} light is {(p.StuckOn > p.StuckOff ? "stuck on" : "stuck off")}"))));
        if (json)
            foreach (var (kind, where, said) in findings) output.WriteLine(System.Text.Json.JsonSerializer.Serialize(new { kind, where, message = said }));
        else if (findings.Count == 0) output.WriteLine($"{logbook.Entries.Count} entries, nothing odd.");
        else
        {
            output.Write(new Tables(units, width).Table(["kind", "where", "what"], [.. findings.Select(f => (IReadOnlyList<string>)[f.Kind, f.Where,
                f.Said])]));
            output.WriteLine($"{findings.Count} in {logbook.Entries.Count} entries");
        }
        return findings.Count == 0 ? 0 : Odd;
    }

    // Alike in everything but their ids.
    private static IEnumerable<LogEntry> Alike(Logbook logbook) =>
        logbook.InOrder().GroupBy(e => System.Text.Encoding.UTF8.GetString(EntryCodec.Write(e with { Id = null }))).Where(g => g.Count() > 1)
            .Select(g => g.First());

    private const int LongGapDays = 21;

    private static IEnumerable<(LogEntry From, int Days)> Gaps(Logbook logbook)
    {
        var stored = false;
        LogEntry? before = null;
        foreach (var entry in logbook.InOrder())
        {
            if (before is not null && !stored && (entry.Instant - before.Instant).Days is > LongGapDays and var days) yield return (before, days);
            if (entry is StayEntry stay) stored = stay.Hookup == Hookup.Storage;
            if (entry is PeopleEntry people) stored = people.Count == 0;
            before = entry;
        }
    }

    private Logbook? Take(FileInfo file, ReadOnlyMemory<byte> content, Rig? rig, DateTimeZone zone, bool dayFirst)
    {
        if (!SheetTable.IsWorkbook(content.Span) && !CsvDates.IsKeptByHand(content))
        {
            var dated = rig is null ? null : CsvDates.Read(content, zone, !dayFirst);
            var read = ImportDocument.Read(dated?.Utf8 ?? content, rig, Instant.MaxValue);
            foreach (var warning in read.Warnings) errors.WriteLine($"warning: {warning}");
            if (read.Value is { } document) return new Logbook(document.Rig ?? rig!, document.Entries);
            Refused(file, read.Errors);
            return null;
        }
        var sheet = SheetTable.Read(content);
        if (sheet.Value is not { } table)
        {
            Refused(file, sheet.Errors);
            return null;
        }
        if (rig is null)
        {
            errors.WriteLine("--rig: a spreadsheet needs a logbook that describes its rig.");
            return null;
        }
        var map = SheetMap.Guess(table, rig, !dayFirst);
        var entries = SheetReading.Read(table, map, rig, zone, Instant.FromUtc(2200, 1, 1, 0, 0),
            SystemClock.Instance.GetCurrentInstant().InZone(zone).Date);
        for (var i = 0; i < table.Columns.Count; i++) errors.WriteLine($"{table.Columns[i]}: {map.Columns[i].Word}");
        foreach (var remark in entries.Remarks) errors.WriteLine($"remark: {remark}");
        return new Logbook(rig, entries.Entries);
    }

    private Logbook? Read(FileInfo file)
    {
        if (Content(file) is not { } content) return null;
        var read = LogbookFormat.Read(content);
        if (read.Value is null) Refused(file, read.Errors);
        return read.Value;
    }

    private byte[]? Content(FileInfo file)
    {
        try
        {
            return File.ReadAllBytes(file.FullName);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            errors.WriteLine($"file: '{file.Name}' can't be read: there is no such file, or it is closed to you.");
            return null;
        }
    }

    private int Refused(FileInfo file, IReadOnlyList<Problem> problems)
    {
        foreach (var problem in problems.Take(20)) errors.WriteLine($"{file.Name}: {problem}");
        return Unusable;
    }

    /// <summary>A script that teaches a shell to complete the command line.</summary>
    /// <param name="shell">bash, zsh or fish.</param>
    public int Completion(string shell)
    {
        var script = shell switch
        {
            "bash" => """
                _tanksophos() { local IFS=$'\n'; COMPREPLY=($(tanksophos "[suggest:$COMP_POINT]" "$COMP_LINE" 2>/dev/null)); [ ${#COMPREPLY[@]} -eq 0 ]
                    && compopt -o default; }
                complete -F _tanksophos tanksophos
                """,
            "zsh" => """
                _tanksophos() { local -a found; found=("${(@f)$(tanksophos "[suggest:$CURSOR]" "$BUFFER" 2>/dev/null)}"); compadd -- $found || _files; }
                compdef _tanksophos tanksophos
                """,
            "fish" => """
                complete -c tanksophos -a '(tanksophos "[suggest:"(commandline -C)"]" (commandline -cp) 2>/dev/null)'
                """,
            _ => null,
        };
        if (script is null)
        {
            errors.WriteLine("shell: bash, zsh or fish is accepted.");
            return Unusable;
        }
        output.WriteLine(script);
        return 0;
    }
}
