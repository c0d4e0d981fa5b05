using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Formats;

/// <summary>The situation document (a logbook and the trip under way) and the agenda computed from it.</summary>
public static class AgendaFormat
{
    /// <summary>The <c>format</c> word of the agenda.</summary>
    public const string Name = "tanksophos-agenda";

    /// <summary>The <c>format</c> word of a situation.</summary>
    public const string SituationName = "tanksophos-situation";

    /// <summary>Reads a situation, or a logbook as one without a trip. Everything wrong in it is listed with its path.</summary>
    /// <param name="utf8">JSON in UTF-8.</param>
    public static ReadResult<SituationDocument> Read(ReadOnlyMemory<byte> utf8) => Json.Read(utf8, (root, findings) =>
    {
        var format = root.Text("format", required: true);
        if (format == LogbookFormat.Name)
            return Documents.CheckHead(root, LogbookFormat.Name) && LogbookFormat.ReadBody(root, findings) is { } log
            ? new SituationDocument(log.Logbook, null) : null;
        if (format is not null and not SituationName)
        {
            root.Error("format", $"unknown format '{ObjectReader.Short(format)}': accepted is one of {SituationName}, {LogbookFormat.Name}");
            return null;
        }
        return Documents.CheckHead(root, SituationName) ? ReadBody(root, findings) : null;
    });

    internal static SituationDocument? ReadBody(ObjectReader root, Findings findings)
    {
        Logbook? logbook = null;
        if (root.Child("logbook", required: true) is { } inner && Documents.CheckHead(inner, LogbookFormat.Name))
            logbook = LogbookFormat.ReadBody(inner, findings)?.Logbook;
        Itinerary? trip = null;
        if (root.Child("trip") is { } t)
        {
            var name = t.Text("name", most: 120);
            var (stops, wishes) = TripFormat.ReadStops(t, null);
            t.Done();
            if (stops.Count > 0) trip = new Itinerary(name ?? "Trip", stops) { Wishes = wishes };
        }
        root.Done();
        return logbook is null || findings.AnyErrors ? null : new SituationDocument(logbook, trip);
    }

    /// <summary>Estimates, decides and writes the agenda.</summary>
    /// <param name="situation">The situation.</param>
    /// <param name="estimator">The estimator to use.</param>
    /// <param name="words">Its sentences.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(SituationDocument situation, ILevelEstimator estimator, IDocumentWords words, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(situation);
        ArgumentNullException.ThrowIfNull(estimator);
        var heard = Situation.Build(situation.Logbook, estimator.Estimate(situation.Logbook), situation.Trip);
        return Write(heard, Court.Decide(heard), words, pretty);
    }

    /// <summary>Writes an agenda.</summary>
    /// <param name="situation">What was heard.</param>
    /// <param name="agenda">What was decided.</param>
    /// <param name="words">Its sentences.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(Situation situation, Agenda agenda, IDocumentWords words, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(situation);
        ArgumentNullException.ThrowIfNull(agenda);
        ArgumentNullException.ThrowIfNull(words);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", Name);
            w.WriteNumber("version", 1);
            if (agenda.AsOf is { } asOf) w.WriteString("asOf", Timestamps.Write(asOf));
            w.WriteStartArray("items");
            foreach (var item in agenda.Items) Write(w, item, situation, words);
            w.WriteEndArray();
            w.WriteStartArray("held");
            foreach (var held in agenda.Held) Write(w, held, situation, words);
            w.WriteEndArray();
            w.WriteEndObject();
        }, pretty);
    }

    private static void Write(Utf8JsonWriter w, AgendaItem item, Situation situation, IDocumentWords words)
    {
        w.WriteStartObject();
        w.Code("code", item.Code);
        w.Code("level", item.Level);
        // A run names its tanks in a list even if it is one.
        if (item.Code == AgendaCode.DumpRun || item.Tanks.Count > 1) w.Texts("tanks", item.Tanks);
        else w.Optional("tank", item.Tank);
        w.Code("form", item.Form);
        Time("at", item.At);
        Time("by", item.By);
        if (item.WaterL is { } litres) w.Computed("waterL", litres);
        w.Code("recipe", item.Recipe);
        w.Optional("amount", item.Amount);
        w.Optional("action", item.Action);
        w.Optional("for", item.For);
        w.Optional("check", item.Check);
        w.Optional("chore", item.Chore);
        if (item.Entry is { } entry)
        {
            w.WritePropertyName("entry");
            EntryCodec.WriteTo(w, entry);
        }
        if (item.Minutes is { } minutes) w.Computed("minutes", minutes);
        w.Texts("because", item.Because);
        w.WriteString("why", words.Why(item, situation));
        w.WriteEndObject();

        // In the local time of where it is done.
        void Time(string name, Instant? at)
        {
            if (at is not { } instant) return;
            // To the minute, but never before the present moment.
            var whole = Instant.FromUnixTimeSeconds(instant.ToUnixTimeSeconds() / 60 * 60);
            if (whole >= situation.Belief.AsOf!.Value.ToInstant()) instant = whole;
            w.WriteString(name, Timestamps.Write(instant.InZone(item.Planned?.Stop.Zone ?? situation.Belief.InForce.Zone).ToOffsetDateTime()));
        }
    }

    private static void Write(Utf8JsonWriter w, AgendaHeld held, Situation situation, IDocumentWords words)
    {
        w.WriteStartObject();
        w.Code("code", held.Code);
        w.Optional("tank", held.Tank);
        w.Code("recipe", held.Item.Recipe);
        w.Optional("action", held.Item.Action);
        w.Optional("check", held.Item.Check);
        w.Optional("chore", held.Item.Chore);
        w.WriteString("because", held.Because);
        w.WriteString("why", words.Why(held, situation));
        w.WriteEndObject();
    }
}

/// <summary>A logbook and the trip under way.</summary>
/// <param name="Logbook">The logbook.</param>
/// <param name="Trip">The stops as entered; null without a trip.</param>
public sealed record SituationDocument(Logbook Logbook, Itinerary? Trip);
