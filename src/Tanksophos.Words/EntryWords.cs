using System.Globalization;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

/// <summary>Says in one line what an entry records.</summary>
public sealed class EntryWords(Rig rig, Units units)
{
    /// <summary>The name of a tank, or its id if the rig no longer has it.</summary>
    public string Tank(string? id) => rig.Find(id)?.Name ?? id ?? "";

    /// <summary>What kind of entry it is: "Dump", "Panel reading".</summary>
    /// <exception cref="ArgumentOutOfRangeException">A kind of entry without words; a test goes through all kinds.</exception>
    public static string Kind(LogEntry entry) => entry switch
    {
        StayEntry => "Place",
        PeopleEntry => "People",
        ValveEntry => "Valve",
        ReadingEntry { Via: ReadingVia.Panel } => "Panel",
        ReadingEntry { Via: ReadingVia.Sight } => "Looked",
        ReadingEntry => "Metered",
        DumpEntry => "Dump",
        FlushEntry => "Flush",
        WaterEntry => "Water in",
        DoseEntry => "Dose",
        DriveEntry => "Drive",
        OdorEntry => "Smell",
        SymptomEntry => "Noticed",
        CheckEntry => "Check",
        ServiceEntry => "Service",
        ChoreEntry => "Chore",
        _ => throw new ArgumentOutOfRangeException(nameof(entry), entry.Type, null),
    };

    /// <summary>Several entries in one line.</summary>
    /// <param name="entries">The entries in their order.</param>
    public string Lines(IEnumerable<LogEntry> entries) => string.Join("; ", entries.Select(Line));

    /// <summary>The line itself, without the note.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A kind of entry without words; a test goes through all kinds.</exception>
    public string Line(LogEntry entry) => entry switch
    {
        StayEntry e => Join(e.Place ?? "Unnamed place", HookupWords(e.Hookup)),
        PeopleEntry e => e.Count switch { 0 => "No one on board", 1 => "1 person", _ => $"{e.Count} people" },
        ValveEntry e => $"{Tank(e.Tank)}: valve {(e.State == ValveState.Open ? "opened and left open" : "closed")}",
        ReadingEntry e => $"{Tank(e.Tank)}: {Reading(e)}",
        DumpEntry e => Join($"{Tank(e.Tank)} dumped", e.Minutes is { } m ? $"{m.ToString("0.#", CultureInfo.InvariantCulture)} min" : null, e.Flow is { } f
            ? Spaced(f) : null, e.End is { } c ? $"end {Spaced(c)}" : null, e.Debris is { } d and not Debris.None ? Spaced(d) : null, e.VolumeL is { } v
            ? units.Volume(v) : null),
        FlushEntry e => Join($"{Tank(e.Tank)} flushed", Spaced(e.Method), e.Cycles.Count switch { 0 => null, 1 => "1 rinse", var n => $"{n} rinses" },
            e.Cycles.Count > 0 && e.Cycles[^1].End is { } end ? $"end {Spaced(end)}" : null),
        WaterEntry e => $"{Tank(e.Tank)}: {units.Volume(e.WaterL)} water, {Spaced(e.Purpose)}",
        DoseEntry e => Join($"{Tank(e.Tank)}: {Spaced(e.Recipe)}", e.Amount, e.WaterL is { } w ? $"with {units.Volume(w)} water" : null),
        DriveEntry e => $"{e.Hours.ToString("0.#", CultureInfo.InvariantCulture)} h drive{(e.Winding == true ? ", winding" : "")}",
        OdorEntry e => Join($"{Spaced(e.Smell)} smell", Spaced(e.Where), e.Fixture is { } drain ? $"at the {drain.Replace('-', ' ')}" : null,
            e.Strength is { } s ? $"strength {s}/5" : null, e.When.Count > 0 ? string.Join(", ", e.When.Select(Spaced)) : null),
        SymptomEntry e => Join(e.Tank is null ? null : Tank(e.Tank), Spaced(e.Code), e.Fixture is { } drain ? $"at the {drain.Replace('-', ' ')}" : null),
        CheckEntry { Code: CheckCode.NotDumped } e => $"{Tank(e.Tank)}: not dumped since the last look",
        CheckEntry { Code: CheckCode.AsLogged } e => $"{Tank(e.Tank)}: right as logged",
        CheckEntry e => $"{TimeWords.Capital(Spaced(e.Code))}: {(e.Result == CheckResult.Pass ? "passed" : "failed")}",
        ServiceEntry e => Join(e.Tank is null ? null : Tank(e.Tank), Spaced(e.Code), e.Probe, e.Grade is { } g ? $"grade {g}" : null,
            e.PressureBar is { } bar ? units.Pressure(bar) : null, e.Minutes is { } took ? $"{took.ToString("0.#", CultureInfo.InvariantCulture)} min" : null,
            e.Floods is { } floods ? floods == 1 ? "1 flood" : $"{floods} floods" : null, e.Debris is { } came ? $"{Spaced(came)} came out" : null,
            e.By, e.Frost == true ? "winterized" : null),
        ChoreEntry e => Join(new CareWords(rig, new TimeWords(e.Instant, NodaTime.DateTimeZone.Utc), units).Name(e.Chore, e.Tank), e.Part, e.Result switch
        {
            ChoreResult.Done => "done",
            ChoreResult.Problem => "problem found",
            ChoreResult.Skipped => e.Until is null ? "skipped" : "put off",
        }, e.Minutes is { } m2 ? $"{m2.ToString("0.#", CultureInfo.InvariantCulture)} min" : null),
        _ => throw new ArgumentOutOfRangeException(nameof(entry), entry.Type, null),
    };

    /// <summary>What a reading said: "1/3 and 2/3 lit", "no lights on", "57 %", "about 60 %".</summary>
    public string Reading(ReadingEntry e)
    {
        if (e.Lit is { } lit)
        {
            var labels = lit.Select(id => rig.Find(e.Tank)?.Monitor.Probes.FirstOrDefault(p => p.Id == id)?.Label ?? id).ToList();
            return labels.Count == 0 ? "no lights on" : $"{And(labels)} on";
        }
        if (e.Percent is { } percent) return $"panel {percent.ToString("0", CultureInfo.InvariantCulture)} %";
        var share = ((e.Fraction ?? 0) * 100).ToString("0", CultureInfo.InvariantCulture);
        return e.Via == ReadingVia.Meter ? $"{share} % on the meter" : $"looked, about {share} %";
    }

    /// <summary>A hookup in words.</summary>
    public static string HookupWords(Hookup hookup) => hookup switch
    {
        Hookup.Full => "full hookup",
        Hookup.Partial => "water only",
        Hookup.GrayDrain => "gray drain only",
        Hookup.Dry => "no hookups",
        Hookup.Storage => "in storage",
    };

    /// <summary>"1/3", "1/3 and 2/3", "1/3, 2/3 and Full".</summary>
    public static string And(IReadOnlyList<string> words) => words.Count switch
    {
        0 => "",
        1 => words[0],
        _ => string.Join(", ", words.Take(words.Count - 1)) + " and " + words[^1],
    };

    /// <summary>A code with spaces for its dashes.</summary>
    public static string Spaced<T>(T code) where T : struct, Enum => Codes<T>.Word(code).Replace('-', ' ');

    private static string Join(params string?[] parts) => TimeWords.Capital(string.Join(" · ", parts.Where(p => !string.IsNullOrEmpty(p))));
}
