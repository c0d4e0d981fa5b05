using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Formats;

/// <summary>The plan document: what to do on a trip, and what it leaves to chance.</summary>
public static class PlanFormat
{
    /// <summary>The document's <c>format</c> word.</summary>
    public const string Name = "tanksophos-plan";

    /// <summary>Writes a plan.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(Plan plan, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(plan);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", Name);
            w.WriteNumber("version", 1);
            w.WriteBoolean("feasible", plan.Feasible);
            w.WriteStartArray("actions");
            foreach (var a in plan.Actions)
            {
                w.WriteStartObject();
                w.WriteString("at", Timestamps.Write(a.At));
                w.WriteString("stop", a.Stop);
                w.Optional("tank", a.Tank);
                w.Code("action", a.Kind);
                w.WriteString("why", a.Why);
                w.Optional("expectedL", a.ExpectedL);
                w.Code("method", a.Method);
                if (a.Cycles is { } cycles) w.WriteNumber("cycles", cycles);
                w.Optional("waterL", a.WaterL);
                w.Code("recipe", a.Recipe);
                w.Optional("amount", a.Amount);
                w.Optional("shareToBlack", a.ShareToBlack);
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.WriteStartArray("levels");
            foreach (var (tank, points) in plan.Levels)
            {
                w.WriteStartObject();
                w.WriteString("tank", tank);
                w.WriteStartArray("points");
                foreach (var p in points)
                {
                    w.WriteStartObject();
                    w.WriteString("at", Timestamps.Write(p.At));
                    w.Computed("p05L", p.Level.P05L);
                    w.Computed("p50L", p.Level.P50L);
                    w.Computed("p95L", p.Level.P95L);
                    w.WriteEndObject();
                }
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
}
