using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Formats;

/// <summary>
/// The sheet for a technician as JSON: the rig with its probes, what is believed to be wrong, and the entries of the last year that bear on it.
/// </summary>
public static class ServiceSheetFormat
{
    /// <summary>The document's <c>format</c> word.</summary>
    public const string Name = "tanksophos-service-sheet";

    private static readonly Duration History = Duration.FromDays(365);

    /// <summary>Writes it.</summary>
    /// <param name="logbook">The log.</param>
    /// <param name="belief">What is believed about it.</param>
    /// <param name="words">Its sentences.</param>
    public static byte[] Write(Logbook logbook, LevelBelief belief, IDocumentWords words)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", Name);
            w.WriteNumber("version", 1);
            w.WritePropertyName("rig");
            RigCodec.WriteTo(w, logbook.Rig with { Products = [] });
            w.WritePropertyName("assessment");
            w.WriteRawValue(AssessmentFormat.Write(logbook, belief, words));
            w.WriteStartArray("history");
            foreach (var entry in Bearing(logbook.InOrder(), belief.AsOf?.ToInstant() ?? Instant.MaxValue)) w.WriteRawValue(EntryCodec.Write(entry));
            w.WriteEndArray();
            w.WriteEndObject();
        }, pretty: true);
    }

    /// <summary>
    /// The entries of the last year that bear on what is wrong: dumps, rinses, treatments beside the routine, symptoms, smells, checks, chores that found a
    /// problem; and all services there ever were.
    /// </summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="now">The moment.</param>
    public static IEnumerable<LogEntry> Bearing(IReadOnlyList<LogEntry> entries, Instant now)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var from = now < Instant.MaxValue ? now - History : Instant.MinValue;
        return entries.Kind<ServiceEntry>().Where(s => s.Instant < from).Concat(entries.Between(from, now)
            .Where(e => e is DumpEntry or FlushEntry or SymptomEntry or OdorEntry or CheckEntry or ServiceEntry
            || e is ChoreEntry { Result: ChoreResult.Problem } || e is DoseEntry d && !Treatments.RoutineDose.IsRoutine(d.Recipe)));
    }
}
