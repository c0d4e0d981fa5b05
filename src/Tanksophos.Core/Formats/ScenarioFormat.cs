using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Formats;

/// <summary>The scenario document: what to simulate.</summary>
public static class ScenarioFormat
{
    /// <summary>The document's <c>format</c> word.</summary>
    public const string Name = "tanksophos-scenario";

    /// <summary>The codes of a probe's state in documents: written in camel case there, unlike other codes.</summary>
    private static readonly (string Word, ProbeState State)[] States =
        [("working", ProbeState.Working), ("stuckOn", ProbeState.StuckOn), ("stuckOff", ProbeState.StuckOff)];

    /// <summary>Reads a scenario. Everything wrong in it is listed with its path.</summary>
    /// <param name="utf8">JSON in UTF-8.</param>
    public static ReadResult<Scenario> Read(ReadOnlyMemory<byte> utf8) => Json.Read(utf8, (root, _) =>
        Documents.CheckHead(root, Name) ? ReadBody(root) : null);

    /// <summary>The word of a probe's state.</summary>
    internal static string Word(ProbeState state) => States.First(s => s.State == state).Word;

    internal static Scenario? ReadBody(ObjectReader root)
    {
        var seed = root.Number("seed", -9e15, 9e15, required: true);
        var days = root.Whole("days", 1, 3660, required: true);
        var rig = root.Child("rig", required: true) is { } r ? RigCodec.ReadFrom(r) : null;
        var faults = new List<ScenarioFault>();
        foreach (var o in root.Children("faults"))
        {
            var tank = o.Text("tank", required: true);
            var probe = o.Text("probe", required: true);
            var word = o.Text("state", required: true);
            var from = o.Number("fromDay", 0, 3660, required: true);
            o.Done();
            if (rig is not null && tank is not null)
            {
                if (rig.Find(tank) is not { } t)
                    o.Error("tank", $"unknown tank '{ObjectReader.Short(tank)}': accepted is one of {string.Join(", ", rig.Tanks.Select(x => x.Id))}");
                else if (probe is not null && t.Monitor.Probes.All(p => p.Id != probe))
                    o.Error("probe", $"unknown probe '{ObjectReader.Short(probe)}' of tank '{t.Id}'");
            }
            if (word is null) continue;
            var known = Array.FindIndex(States, s => s.Word == word);
            if (known < 0) o.Error("state", $"unknown code '{ObjectReader.Short(word)}': accepted is one of {string.Join(", ", States.Select(s => s.Word))}");
            else if (tank is not null && probe is not null && from is { } f) faults.Add(new ScenarioFault(tank, probe, States[known].State, f));
        }
        var troubles = new List<ScenarioTrouble>();
        foreach (var o in root.Children("troubles"))
        {
            var tank = o.Text("tank", required: true);
            var code = o.Code<Trouble>("code", required: true);
            var from = o.Number("fromDay", 0, 3660, required: true);
            o.Done();
            if (rig is not null && tank is not null && rig.Find(tank) is null)
                o.Error("tank", $"unknown tank '{ObjectReader.Short(tank)}': accepted is one of {string.Join(", ", rig.Tanks.Select(x => x.Id))}");
            else if (tank is not null && code is { } c && from is { } f) troubles.Add(new ScenarioTrouble(tank, c, f));
        }
        root.Done();
        return seed is null || days is null || rig is null ? null : new Scenario((long)seed.Value, days.Value, rig, faults) { Troubles = troubles };
    }

    /// <summary>Writes a simulated season: a logbook document with the truth beside it.</summary>
    public static byte[] WriteSeason(SimulatedSeason season, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(season);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            LogbookFormat.WriteFields(w, season.Logbook);
            w.WriteStartArray("truth");
            foreach (var t in season.Truth)
            {
                w.WriteStartObject();
                w.WriteString("at", Timestamps.Write(t.At));
                w.WriteString("tank", t.Tank);
                w.Computed("levelL", t.LevelL);
                w.WriteStartObject("probes");
                foreach (var (probe, state) in t.Probes) w.WriteString(probe, Word(state));
                w.WriteEndObject();
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.WriteEndObject();
        }, pretty);
    }
}
