using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>The assessment document: what is believed about a logbook.</summary>
public static class AssessmentFormat
{
    /// <summary>The document's <c>format</c> word.</summary>
    public const string Name = "tanksophos-assessment";

    /// <summary>Estimates a logbook and writes the assessment.</summary>
    /// <param name="logbook">The logbook.</param>
    /// <param name="estimator">The estimator to use.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(Logbook logbook, ILevelEstimator estimator, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(estimator);
        var belief = estimator.Estimate(logbook);
        var alarm = SafetyAlarms.Propane(logbook.InOrder());
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", Name);
            w.WriteNumber("version", 1);
            if (belief.AsOf is { } asOf) w.WriteString("asOf", Timestamps.Write(asOf));
            w.WriteStartArray("tanks");
            foreach (var tank in belief.Tanks)
            {
                w.WriteStartObject();
                w.WriteString("tank", tank.Tank.Id);
                w.WriteStartObject("level");
                w.Computed("p05L", tank.Level.P05L);
                w.Computed("p50L", tank.Level.P50L);
                w.Computed("p95L", tank.Level.P95L);
                w.WriteEndObject();
                w.WriteStartObject("inflow");
                w.Computed("lPerPersonDay", tank.InflowLPerPersonDay);
                w.WriteEndObject();
                w.WriteStartArray("probes");
                foreach (var p in tank.Probes)
                {
                    w.WriteStartObject();
                    w.WriteString("probe", p.Probe.Id);
                    w.Computed("working", p.Working);
                    w.Computed("stuckOn", p.StuckOn);
                    w.Computed("stuckOff", p.StuckOff);
                    w.WriteEndObject();
                }
                w.WriteEndArray();
                w.WriteStartArray("conditions");
                w.WriteEndArray();
                w.WriteString("monitorVerdict", Codes<MonitorVerdict>.Word(tank.MonitorVerdict));
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.Computed("panelFault", belief.PanelFault);
            w.WriteStartArray("odorCauses");
            w.WriteEndArray();
            w.Texts("safety", alarm is null ? [] : ["propane-alarm"]);
            w.WriteStartArray("nextChecks");
            w.WriteEndArray();
            w.WriteStartArray("remedies");
            w.WriteEndArray();
            w.WriteEndObject();
        }, pretty);
    }
}
