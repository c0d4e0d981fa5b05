using System.Text.Json;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>What is asked of a run: a logbook, the form, how the water gets in, what tap there is, and whether the rig stays.</summary>
/// <param name="Logbook">The logbook.</param>
/// <param name="Form">The form; null for the one that fits.</param>
/// <param name="Method">How rinse water gets in; null for the best that is there.</param>
/// <param name="Water">The tap.</param>
/// <param name="Staying">Whether the rig stays afterwards, so that the hose stays on.</param>
public sealed record RunDocument(Logbook Logbook, RunForm? Form, FlushMethod? Method, TapWater Water, bool Staying);

/// <summary>The run document, and the script built from it: each step with its valves, its water and its limits.</summary>
public static class RunFormat
{
    /// <summary>The <c>format</c> word of what is asked.</summary>
    public const string Name = "tanksophos-run";

    /// <summary>The <c>format</c> word of the script.</summary>
    public const string ScriptName = "tanksophos-run-script";

    /// <summary>The name of the valve at the end of the outlet, or of the reverse fitting, among the valves.</summary>
    public const string End = "end";

    /// <summary>Reads a run document. Everything wrong in it is listed with its path.</summary>
    /// <param name="utf8">JSON in UTF-8.</param>
    public static ReadResult<RunDocument> Read(ReadOnlyMemory<byte> utf8) =>
        Json.Read(utf8, (root, findings) => Documents.CheckHead(root, Name) ? ReadBody(root, findings) : null);

    internal static RunDocument? ReadBody(ObjectReader root, Findings findings)
    {
        Logbook? logbook = null;
        if (root.Child("logbook", required: true) is { } inner && Documents.CheckHead(inner, LogbookFormat.Name))
            logbook = LogbookFormat.ReadBody(inner, findings)?.Logbook;
        var form = root.Code<RunForm>("form");
        var method = root.Code<FlushMethod>("method");
        var water = root.Code<TapWater>("rinseWater");
        var staying = root.Flag("staying");
        root.Done();
        return logbook is null || findings.AnyErrors ? null : new RunDocument(logbook, form, method, water ?? TapWater.Threaded, staying ?? true);
    }

    /// <summary>Estimates, builds the run and writes its script.</summary>
    /// <param name="asked">What is asked.</param>
    /// <param name="estimator">The estimator to use.</param>
    /// <param name="words">Its sentences.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(RunDocument asked, ILevelEstimator estimator, IDocumentWords words, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(asked);
        ArgumentNullException.ThrowIfNull(estimator);
        ArgumentNullException.ThrowIfNull(words);
        var setting = Setting(asked, estimator);
        var form = asked.Form ?? RunBuilder.Fitting(setting) ?? RunForm.Full;
        var offer = RunBuilder.Offer(setting, form);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", ScriptName);
            w.WriteNumber("version", 1);
            w.Code("form", form);
            if (offer.Script is { } script) WriteScript(w, script, setting.Rig, words);
            else
            {
                w.WriteStartObject("refused");
                w.WriteString("because", Because(offer.Refused[0]));
                w.WriteString("why", words.Why(offer.Refused[0]));
                w.WriteEndObject();
                w.WriteStartArray("steps");
                w.WriteEndArray();
            }
            w.WriteEndObject();
        }, pretty);
    }

    /// <summary>What a run is built from, as a logbook tells it.</summary>
    internal static RunSetting Setting(RunDocument asked, ILevelEstimator estimator)
    {
        var heard = Situation.Build(asked.Logbook, estimator.Estimate(asked.Logbook));
        var agenda = Court.Decide(heard);
        var log = asked.Logbook.InOrder();
        var now = heard.Belief.AsOf?.ToInstant() ?? NodaTime.Instant.MinValue;
        return new RunSetting
        {
            Rig = asked.Logbook.Rig,
            Tanks = [.. heard.Belief.Tanks.Select(t =>
                RunTank.Build(t, log, agenda.Blocked.ContainsKey(t.Tank.Id), new Dictionary<DumpEntry, double>(ReferenceEqualityComparer.Instance)))],
            Place = heard.Belief.InForce.Hookup switch
            {
                Hookup.Full => RunPlace.Sewer,
                Hookup.GrayDrain => RunPlace.GrayDrain,
                Hookup.Partial or Hookup.Dry or Hookup.Storage => (RunPlace?)null,
            },
            Water = asked.Water,
            Leaving = !asked.Staying,
            PropaneAlarm = Court.Gas(heard.Belief.InForce, log, now) is not null,
            FreshL = asked.Logbook.Rig.Fresh?.Litres,
            Method = asked.Method,
        }.WithFlow(log);
    }

    private static void WriteScript(Utf8JsonWriter w, RunScript script, Rig rig, IDocumentWords words)
    {
        w.Computed("minutes", script.Minutes);
        w.WriteStartArray("steps");
        var hasEnd = rig.Equipment is { EndValve: true } or { ReverseFlush: true };
        foreach (var (step, standing) in script.Steps.Zip(RunStanding.Of(script)))
        {
            w.WriteStartObject();
            w.WriteString("id", step.Id);
            w.Code("kind", step.Kind);
            w.Optional("tank", step.Tank);
            w.Code("method", step.Method);
            w.WriteStartObject("valves");
            foreach (var tank in script.Tanks)
                w.WriteString(tank.Id, Codes<ValveState>.Word(standing.Open.Contains(tank.Id) ? ValveState.Open : ValveState.Closed));
            if (hasEnd) w.WriteString(End, Codes<ValveState>.Word(standing.EndClosed ? ValveState.Closed : ValveState.Open));
            w.WriteEndObject();
            w.WriteString("water", standing.WaterOn ? "on" : "off");
            // Rounded down: the page, the paper and this say the same limit, and it is never more than what fits.
            if (step.AimL is { } aim) w.WriteNumber("aimL", Math.Floor(10 * aim) / 10);
            if (step.Limit is { } limit && step.Kind != RunStepKind.OpenRinse) w.WriteNumber("limitL", Math.Floor(10 * limit.Litres) / 10);
            if (step.Limit?.Seconds is { } seconds) w.WriteNumber("limitSeconds", Math.Floor(seconds));
            w.Texts("presses", step.Presses.Select(Codes<RunPress>.Word));
            var (text, caution) = words.Say(script, step, rig);
            w.WriteString("text", text);
            w.Texts("cautions", caution is null ? [] : [caution]);
            w.WriteEndObject();
        }
        w.WriteEndArray();
    }

    /// <summary>The word for why a run is refused.</summary>
    /// <param name="why">Why.</param>
    internal static string Because(RunRefusal why) => why switch
    {
        RunRefusal.NothingThroughMacerator => "macerator",
        RunRefusal.NoEndValve or RunRefusal.NotOnThisRig => "no-fitting",
        RunRefusal.NoTapForHose => "no-tap",
        _ => Codes<RunRefusal>.Word(why),
    };
}
