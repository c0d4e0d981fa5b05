using NodaTime;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Formats;

/// <summary>What is kept of a trip between two looks at it: the stops with what is wished of them, and the plan being carried out.</summary>
public static class ItineraryFormat
{
    private const string Name = "tanksophos-itinerary", ProgressName = "tanksophos-progress";

    /// <summary>Writes the stops; reading them gives the same.</summary>
    public static byte[] Write(Itinerary itinerary)
    {
        ArgumentNullException.ThrowIfNull(itinerary);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", Name);
            w.WriteNumber("version", 1);
            w.WriteString("name", itinerary.Name);
            TripFormat.WriteStops(w, itinerary.Stops, itinerary.Wishes);
            w.WriteEndObject();
        });
    }

    /// <summary>Reads the stops.</summary>
    public static ReadResult<Itinerary> Read(ReadOnlyMemory<byte> utf8) => Json.Read(utf8, (root, _) =>
    {
        if (!Documents.CheckHead(root, Name)) return null;
        var name = root.Text("name", required: true, most: 120);
        var (stops, wishes) = TripFormat.ReadStops(root, null);
        root.Done();
        return name is null ? null : new Itinerary(name, stops) { Wishes = wishes };
    });

    /// <summary>Writes a plan being carried out. Of the levels only the days until some moment are kept.</summary>
    public static byte[] WriteProgress(TripProgress progress, Instant levelsUntil)
    {
        ArgumentNullException.ThrowIfNull(progress);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", ProgressName);
            w.WriteNumber("version", 1);
            w.WriteNumber("seenUntil", progress.SeenUntil.ToUnixTimeTicks());
            w.WriteStartArray("planned");
            foreach (var a in progress.Planned) PlanFormat.WriteAction(w, a, null);
            w.WriteEndArray();
            w.WriteStartObject("levels");
            foreach (var (tank, points) in progress.Levels)
            {
                w.WriteStartArray(tank);
                foreach (var p in points.Where(p => p.At.ToInstant() <= levelsUntil)) PlanFormat.WriteLevel(w, p);
                w.WriteEndArray();
            }
            w.WriteEndObject();
            w.WriteStartArray("done");
            foreach (var d in progress.Done)
            {
                w.WriteStartObject();
                w.WritePropertyName("action");
                PlanFormat.WriteAction(w, d.Action, null);
                w.WriteString("entry", d.EntryKey);
                w.WriteString("at", Timestamps.Write(d.At));
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.WriteStartArray("changes");
            foreach (var c in progress.Changes)
            {
                w.WriteStartObject();
                w.WriteString("at", Timestamps.Write(c.At));
                w.WriteStartArray("runs");
                foreach (var r in c.Runs)
                {
                    w.WriteStartObject();
                    w.WriteString("stop", r.Stop);
                    w.Code("role", r.Role);
                    if (r.Was is { } was) w.WriteString("was", Timestamps.Write(was));
                    if (r.Is is { } now) w.WriteString("is", Timestamps.Write(now));
                    w.WriteEndObject();
                }
                w.WriteEndArray();
                w.WriteStartArray("reasons");
                foreach (var r in c.Reasons)
                {
                    w.WriteStartObject();
                    w.Code("reason", r.Reason);
                    w.Optional("tank", r.Tank);
                    w.Optional("expectedL", r.ExpectedL);
                    w.Optional("foundL", r.FoundL);
                    w.Optional("dailyL", r.DailyL);
                    w.Optional("plannedDailyL", r.PlannedDailyL);
                    if (r.At is { } at) w.WriteString("at", Timestamps.Write(at));
                    w.WriteEndObject();
                }
                w.WriteEndArray();
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.WriteEndObject();
        });
    }

    /// <summary>Reads a plan being carried out; what cannot be read begins anew.</summary>
    public static TripProgress ReadProgress(ReadOnlyMemory<byte> utf8)
    {
        var read = Json.Read(utf8, (root, _) =>
        {
            if (!Documents.CheckHead(root, ProgressName)) return null;
            var seen = root.Number("seenUntil", long.MinValue, long.MaxValue, required: true);
            var planned = root.Children("planned").Select(PlanFormat.ReadAction).OfType<PlanAction>().ToList();
            var levels = new Dictionary<string, IReadOnlyList<PlanLevel>>();
            if (root.Child("levels") is { } map)
                foreach (var tank in map.Names()) levels[tank] = [.. map.Children(tank).Select(PlanFormat.ReadLevel).OfType<PlanLevel>()];
            var done = new List<DoneAction>();
            foreach (var d in root.Children("done"))
                if (d.Child("action") is { } a && PlanFormat.ReadAction(a) is { } action && d.Text("entry", required: true) is { } key
                    && d.Time("at", required: true) is { } at) done.Add(new DoneAction(action, key, at));
            var changes = new List<PlanChange>();
            foreach (var c in root.Children("changes"))
            {
                if (c.Time("at", required: true) is not { } at) continue;
                var runs = c.Children("runs")
                    .Select(r => (Stop: r.Text("stop", required: true), Role: r.Code<TankRole>("role", required: true), Was: r.Time("was"), Is: r.Time("is")))
                    .Where(r => r.Stop is not null && r.Role is not null).Select(r => new RunChange(r.Stop!, r.Role!.Value, r.Was, r.Is)).ToList();
                var reasons = c.Children("reasons")
                    .Select(r => (Reason: r.Code<ChangeReason>("reason", required: true), Tank: r.Text("tank"), E: r.Number("expectedL", 0, 1e6),
                    F: r.Number("foundL", 0, 1e6), At: r.Time("at"), Daily: r.Number("dailyL", 0, 1e6), Planned: r.Number("plannedDailyL", -1e6, 1e6)))
                    .Where(r => r.Reason is not null).Select(r => new PlanReason(r.Reason!.Value, r.Tank, r.E, r.F, r.At)
                    {
                        DailyL = r.Daily,
                        PlannedDailyL = r.Planned
                    }).ToList();
                changes.Add(new PlanChange(at, runs, reasons));
            }
            return seen is { } ticks ? new TripProgress(planned, levels, done, changes, Instant.FromUnixTimeTicks((long)ticks)) : null;
        });
        return read.Value ?? TripProgress.None;
    }
}
