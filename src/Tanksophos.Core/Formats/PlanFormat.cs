using System.Text.Json;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Formats;

/// <summary>The plan document: what to do on a trip, and what it leaves to chance.</summary>
public static class PlanFormat
{
    /// <summary>The document's <c>format</c> word.</summary>
    public const string Name = "tanksophos-plan";

    /// <summary>Writes a plan.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="words">Its sentences.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(Plan plan, IDocumentWords words, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(words);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", Name);
            w.WriteNumber("version", 1);
            w.WriteBoolean("feasible", plan.Feasible);
            w.WriteStartArray("actions");
            foreach (var a in plan.Actions) WriteAction(w, a, words);
            w.WriteEndArray();
            w.WriteStartArray("levels");
            foreach (var (tank, points) in plan.Levels)
            {
                w.WriteStartObject();
                w.WriteString("tank", tank);
                w.WriteStartArray("points");
                foreach (var p in points) WriteLevel(w, p);
                w.WriteEndArray();
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.WriteStartArray("risks");
            foreach (var r in plan.Risks)
            {
                w.WriteStartObject();
                w.WriteString("at", Timestamps.Write(r.At));
                w.WriteString("tank", r.Tank);
                w.WriteString("code", "overflow");
                w.Computed("probability", r.Probability);
                w.Texts("advice", r.Advice.Select(Rigs.Codes<PlanAdvice>.Word));
                w.WriteStartArray("mends");
                foreach (var m in r.Mends)
                {
                    w.WriteStartObject();
                    w.Code("advice", m.Advice);
                    w.WriteString("stop", m.Stop);
                    if (m.At is { } at) w.WriteString("at", Timestamps.Write(at));
                    w.Optional("shareToBlack", m.ShareToBlack);
                    w.Optional("toFraction", m.ToFraction);
                    if (m.Days is { } days) w.WriteNumber("days", days);
                    w.Computed("riskLeft", m.RiskLeft);
                    w.WriteEndObject();
                }
                w.WriteEndArray();
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.WriteStartObject("totals");
            w.WriteNumber("blackDumps", plan.Totals.BlackDumps);
            w.WriteNumber("grayDumps", plan.Totals.GrayDumps);
            w.Computed("rinseWaterL", plan.Totals.RinseWaterL);
            w.WriteNumber("doses", plan.Totals.Doses);
            w.Computed("stationMinutes", plan.Totals.StationMinutes);
            w.Computed("overflowProbability", plan.Totals.OverflowProbability);
            w.WriteEndObject();
            w.WriteEndObject();
        }, pretty);
    }

    /// <summary>Writes an action: with its reason in a sentence for documents, or as a code for what is kept.</summary>
    internal static void WriteAction(Utf8JsonWriter w, PlanAction a, IDocumentWords? words)
    {
        w.WriteStartObject();
        w.WriteString("at", Timestamps.Write(a.At));
        w.WriteString("stop", a.Stop);
        w.Optional("tank", a.Tank);
        w.Code("action", a.Kind);
        if (words is not null) w.WriteString("why", words.Why(a));
        else w.Code("because", a.Why);
        w.Optional("expectedL", a.ExpectedL);
        w.Code("method", a.Method);
        if (a.Cycles is { } cycles) w.WriteNumber("cycles", cycles);
        w.Optional("waterL", a.WaterL);
        w.Code("recipe", a.Recipe);
        w.Optional("amount", a.Amount);
        w.Optional("shareToBlack", a.ShareToBlack);
        if (words is null && a.Doubled) w.WriteBoolean("doubled", true);
        if (words is null) w.Optional("notForSepticAt", a.NotForSepticAt);
        w.WriteEndObject();
    }

    internal static PlanAction? ReadAction(ObjectReader o)
    {
        var (at, stop, kind, why) = (o.Time("at", required: true), o.Text("stop", required: true), o.Code<PlanActionKind>("action", required: true),
            o.Code<PlanWhy>("because"));
        o.Ignore("why"); // a sentence, in what was kept before reasons had codes
        return at is null || stop is null || kind is null ? null : new PlanAction(at.Value, stop, kind.Value, o.Text("tank"), why)
        {
            ExpectedL = o.Number("expectedL", 0, 1e6),
            Method = o.Code<FlushMethod>("method"),
            Cycles = o.Whole("cycles", 0, 100),
            WaterL = o.Number("waterL", 0, 1e6),
            Recipe = o.Code<DoseRecipe>("recipe"),
            Amount = o.Text("amount"),
            ShareToBlack = o.Number("shareToBlack", 0, 1),
            Doubled = o.Flag("doubled") == true,
            NotForSepticAt = o.Text("notForSepticAt", most: 200),
        };
    }

    internal static void WriteLevel(Utf8JsonWriter w, PlanLevel p)
    {
        w.WriteStartObject();
        w.WriteString("at", Timestamps.Write(p.At));
        w.Computed("p05L", p.Level.P05L);
        w.Computed("p50L", p.Level.P50L);
        w.Computed("p95L", p.Level.P95L);
        w.WriteEndObject();
    }

    internal static PlanLevel? ReadLevel(ObjectReader o) =>
        o.Time("at", required: true) is { } at && o.Number("p05L", 0, 1e6) is { } a && o.Number("p50L", 0, 1e6) is { } b && o.Number("p95L", 0, 1e6) is { } c
            ? new PlanLevel(at, new LevelBand(a, b, c)) : null;
}
