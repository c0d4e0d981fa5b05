using System.Text.Json;
using Tanksophos.Core.Care;
using Tanksophos.Core.Diagnosis;
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
    /// <param name="words">Its sentences.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(Logbook logbook, ILevelEstimator estimator, IDocumentWords words, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(estimator);
        return Write(logbook, estimator.Estimate(logbook), words, pretty);
    }

    /// <summary>Writes the assessment of a logbook that was estimated already.</summary>
    /// <param name="logbook">The logbook; its newest part is enough.</param>
    /// <param name="belief">What is believed about it.</param>
    /// <param name="words">Its sentences.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(Logbook logbook, LevelBelief belief, IDocumentWords words, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        var sensors = SensorReport.Compute(logbook, belief);
        var faults = FaultReport.Compute(logbook, belief);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", Name);
            w.WriteNumber("version", 1);
            if (belief.AsOf is { } asOf) w.WriteString("asOf", Timestamps.Write(asOf));
            w.WriteStartArray("tanks");
            foreach (var tank in belief.Tanks)
            {
                WriteTank(w, tank, faults.Tanks.First(t => t.Tank.Id == tank.Tank.Id).Conditions);
            }
            w.WriteEndArray();
            w.Computed("panelFault", belief.PanelFault);
            w.WriteStartArray("odorCauses");
            foreach (var odor in faults.Odors)
            {
                w.WriteStartObject();
                w.Code("cause", odor.Cause);
                w.Computed("probability", odor.Probability);
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.Texts("safety", belief.InForce.PropaneAlarm is null ? [] : ["propane-alarm"]);
            w.WriteStartArray("nextChecks");
            foreach (var check in Merged(logbook, belief, sensors, faults))
            {
                if (check is NextCheck lamp) Write(w, lamp, belief, words);
                else if (check is CauseCheck cause) Write(w, cause, belief, words);
            }
            w.WriteEndArray();
            w.WriteStartArray("remedies");
            foreach (var course in faults.Courses) Write(w, course);
            if (!faults.Alarm) foreach (var course in sensors.Courses) Write(w, course, logbook.Rig);
            w.WriteEndArray();
            w.WriteStartArray("misfits");
            foreach (var doubt in LogDoubts.Of(logbook, belief).Where(d => d.Misfit.Kind != InconsistencyKind.LoggedTwice)) WriteMisfit(w, doubt);
            w.WriteEndArray();
            w.WriteStartArray("care");
            foreach (var chore in CareReport.Compute(logbook, belief, faults)) Write(w, chore, logbook, belief, words);
            w.WriteEndArray();
            w.WriteEndObject();
        }, pretty);
    }

    /// <summary>Writes chores alone, as they stand in an assessment: <c>{ "care": [...] }</c>.</summary>
    /// <param name="logbook">The logbook.</param>
    /// <param name="belief">What is believed about it.</param>
    /// <param name="chores">The chores.</param>
    /// <param name="words">Their sentences.</param>
    public static byte[] WriteCare(Logbook logbook, LevelBelief belief, IEnumerable<CareItem> chores, IDocumentWords words)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        ArgumentNullException.ThrowIfNull(chores);
        ArgumentNullException.ThrowIfNull(words);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteStartArray("care");
            foreach (var chore in chores) Write(w, chore, logbook, belief, words);
            w.WriteEndArray();
            w.WriteEndObject();
        });
    }

    private static void Write(Utf8JsonWriter w, CareItem chore, Logbook logbook, LevelBelief belief, IDocumentWords words)
    {
        var zone = belief.InForce.Zone;
        w.WriteStartObject();
        w.WriteString("chore", chore.Chore);
        w.Optional("tank", chore.Tank);
        w.WriteString("due", Timestamps.Write(chore.Due.InZone(zone).ToOffsetDateTime()));
        w.Code("state", chore.State);
        if (chore.Last is { } last) w.WriteString("last", Timestamps.Write(last.InZone(zone).ToOffsetDateTime()));
        w.Texts("because", chore.Because);
        w.WriteString("why", words.Why(chore, logbook, belief));
        w.WriteEndObject();
    }

    private static void WriteTank(Utf8JsonWriter w, TankBelief tank, IReadOnlyList<ConditionBelief> conditions)
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
        foreach (var condition in conditions)
        {
            w.WriteStartObject();
            w.Code("code", condition.Code);
            w.Computed("probability", condition.Probability);
            w.WriteEndObject();
        }
        w.WriteEndArray();
        var capacity = tank.Capacity ?? new TankCapacity(tank.Tank.StatedL, tank.Tank.CapacityL, []);
        w.WriteStartObject("capacity");
        w.Computed("statedL", capacity.StatedL);
        if (capacity.Observations is [.., { } latest])
        {
            w.Computed("measuredL", latest.CapacityL);
            w.WriteString("at", Timestamps.Write(latest.At));
        }
        w.Computed("usedL", capacity.UsedL);
        w.WriteEndObject();
        w.WriteString("monitorVerdict", Codes<MonitorVerdict>.Word(tank.MonitorVerdict));
        w.WriteEndObject();
    }

    private static void WriteMisfit(Utf8JsonWriter w, LogDoubt doubt)
    {
        var misfit = doubt.Misfit;
        w.WriteStartObject();
        w.WriteString("at", Timestamps.Write(misfit.At));
        w.WriteString("tank", doubt.Tank.Id);
        w.Code("code", misfit.Kind);
        w.WriteString("from", Timestamps.Write(misfit.From ?? misfit.At));
        w.WriteString("to", Timestamps.Write(misfit.At));
        w.Computed("probability", misfit.Probability);
        w.Computed("expectedL", misfit.ExpectedL);
        w.Computed("foundL", misfit.FoundL);
        w.Texts("entries", doubt.Entries);
        w.WriteStartArray("suggest");
        foreach (var entry in doubt.Suggest) EntryCodec.WriteTo(w, entry);
        w.WriteEndArray();
        w.WriteEndObject();
    }

    private const int MaxChecks = 8;

    // Both lists by what they tell for their effort; a code stands once for a tank. While a propane alarm stands there is one thing to do.
    private static IEnumerable<object> Merged(Logbook logbook, LevelBelief belief, SensorReport sensors, FaultReport faults) => faults.Alarm ? faults.Checks
        : sensors.NextChecks.Select(c => (Check: (object)c, c.Worth, Key: (Codes<NextCheckCode>.Word(c.Code), c.Tank)))
        .Concat(faults.Checks.Select(c => (Check: (object)c, c.Worth, Key: (Codes<CauseCheckCode>.Word(c.Code), c.Tank))))
            .Where(c => belief.AsOf is not { } now || !Answers.Stands(logbook.InOrder(), c.Key.Item1, c.Key.Tank, now.ToInstant()))
            .OrderByDescending(c => c.Worth).DistinctBy(c => c.Key).Take(MaxChecks).Select(c => c.Check);

    private static void Write(Utf8JsonWriter w, CauseCheck check, LevelBelief belief, IDocumentWords words)
    {
        w.WriteStartObject();
        w.Code("code", check.Code);
        w.Optional("tank", check.Tank);
        w.WriteString("why", words.Why(check, belief));
        w.Computed("bits", check.Bits);
        w.WriteEndObject();
    }

    private static void Write(Utf8JsonWriter w, CauseCourse course)
    {
        w.WriteStartObject();
        w.WriteString("for", course.Condition is { } condition ? Codes<Condition>.Word(condition) : Codes<OdorCause>.Word(course.Odor!.Value));
        w.Optional("tank", course.Tank);
        w.WriteNumber("rung", course.Next.Number);
        w.Code("action", course.Next.Action);
        w.WriteNumber("done", course.Next.Done);
        w.WriteNumber("of", course.Next.Of);
        w.WriteEndObject();
    }

    private static void Write(Utf8JsonWriter w, NextCheck check, LevelBelief belief, IDocumentWords words)
    {
        w.WriteStartObject();
        w.Code("code", check.Code);
        w.Optional("tank", check.Tank);
        w.WriteString("why", words.Why(check, belief));
        w.Computed("bits", check.Bits);
        w.WriteEndObject();
    }

    private static void Write(Utf8JsonWriter w, SensorCourse course, Rig rig)
    {
        w.WriteStartObject();
        w.WriteString("for", course.For == ProbeVerdict.StuckOn ? "probe-stuck-on" : "probe-stuck-off");
        w.WriteString("tank", course.Tank);
        w.Texts("probes", course.Probes);
        w.WriteNumber("rung", (int)(course.Next?.Rung ?? SensorRung.NewProbes));
        w.WriteString("action", course.Next is { } next ? SensorLadder.ActionOf(next.Rung, rig) : "professional");
        w.WriteNumber("done", course.Next?.Done ?? 1);
        w.WriteNumber("of", course.Next?.Of ?? 1);
        w.WriteEndObject();
    }
}
