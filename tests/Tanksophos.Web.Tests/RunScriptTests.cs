using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Jint;
using NodaTime;
using Tanksophos.Core;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Web.Tests;

/// <summary>The page and the core apply the same rules of a run, played in process.</summary>
public class RunScriptTests
{
    // What both sides say of a game, as one line.
    private const string Play = """
        function play(text, table, games, now) {
          const script = JSON.parse(text), rules = JSON.parse(table);
          return JSON.stringify(JSON.parse(games).map(taps => {
            const s = runState(script, rules, []), fates = taps.map(t => s.apply(t));
            return [fates.join(), s.step().id, s.round, s.waterOn, s.endClosed, s.finished, s.endedAt !== null, Object.keys(s.open).sort().join(),
              Math.round(s.filledSeconds(now) * 10) / 10,
              script.rinses.map(r => [s.verdict(r), JSON.stringify(s.cycles(r)), s.leftL(r) === null ? '' : s.leftL(r).toFixed(1),
                s.roundsOf(r.loop)].join()).join(),
              script.tanks.map(t => s.emptied(t.id) + ' ' + s.slow(t.id)).join()].join('|');
          }));
        }
        """;

    private static string Root([CallerFilePath] string file = "") => Path.GetFullPath(Path.Combine(Path.GetDirectoryName(file)!, "..", ".."));

    // The page follows a run by the rules it was sent, so that it can go on without the server. Both are played the same presses, sensible and wild.
    [Fact]
    public void The_page_and_the_core_see_the_same_run()
    {
        var engine = new Engine();
        engine.Modules.Add("run-state", File.ReadAllText(Path.Combine(Root(), "src", "Tanksophos.Web", "wwwroot", "js", "parts", "run-state.js")));
        engine.SetValue("runState", engine.Modules.Import("run-state").Get("runState"));
        engine.Execute(Play);
        var random = new SeededRandom(41);
        var presses = Enum.GetValues<RunPress>();
        foreach (var script in Scripts())
        {
            var games = new List<(List<RunEvent> Taps, RunState State, List<string> Fates)>();
            for (var game = 0; game < 60; game++)
            {
                var state = RunState.Replay(script, []);
                var (taps, fates) = (new List<RunEvent>(), new List<string>());
                var at = Instant.FromUnixTimeSeconds(1_780_000_000);
                for (var i = 0; i < 70; i++)
                {
                    at += Duration.FromMilliseconds(Any(random, 200_000) - 20_000);
                    var own = state.Step.Presses;
                    var press = state.EndedAt is not null ? RunPress.Resume : random.Uniform() < 0.75 ? own[Any(random, own.Count)]
                        : presses[Any(random, presses.Length)];
                    var said = new Dictionary<string, string>
                    {
                        ["end"] = random.Uniform() < 0.5 ? "clear" : "dark",
                        ["debris"] = random.Uniform() < 0.6
                        ? "specks" : "paper",
                        ["litres"] = Any(random, 30).ToString(CultureInfo.InvariantCulture),
                        ["to"] = script.Steps[Any(random, script.Steps.Count)].Id
                    };
                    var tap = new RunEvent(random.Uniform() < 0.05 && taps.Count > 0 ? taps[^1].Key : $"k{i}", at, random.Uniform() < 0.05 ? "gloves"
                        : state.Step.Id, state.Round, press, said);
                    taps.Add(tap);
                    fates.Add(Codes<TapFate>.Word(state.Apply(tap)));
                }
                games.Add((taps, state, fates));
            }
            var sent = JsonSerializer.Serialize(games.Select(g =>
                g.Taps.Select(t => new
                {
                    key = t.Key,
                    at = t.At.ToUnixTimeMilliseconds(),
                    step = t.Step,
                    round = t.Round,
                    press = Codes<RunPress>.Word(t.Press),
                    said = t.Said
                })));
            var heard = engine.Invoke("play", RunCodec.Write(script), RunCodec.WriteRules(), sent, 1_780_030_000_000).AsString();
            var expected = games.Select(g => string.Join('|', string.Join(',', g.Fates), g.State.Step.Id, g.State.Round, Low(g.State.WaterOn),
                Low(g.State.EndClosed), Low(g.State.Finished), Low(g.State.EndedAt is not null),
                string.Join(',', script.Tanks.Select(t => t.Id).Where(g.State.IsOpen).Order(StringComparer.Ordinal)),
                    Round(g.State.FilledSeconds(Instant.FromUnixTimeMilliseconds(1_780_030_000_000))),
                string.Join(',', script.Rinses.Select(r => string.Join(',', Codes<Verdict>.Word(g.State.VerdictOf(r)), Cycles(g.State, r),
                    g.State.LeftL(r)?.ToString("F1", CultureInfo.InvariantCulture) ?? "", g.State.Rounds(r.Loop)))),
                string.Join(',', script.Tanks.Select(t => $"{Low(g.State.Emptied(t.Id))} {Low(g.State.Slow(t.Id))}")))).ToList();
            JsonSerializer.Deserialize<List<string>>(heard)!.ShouldBe(expected);
        }
    }

    private static int Any(SeededRandom random, int below) => (int)(random.Uniform() * below);

    private static string Low(bool b) => b ? "true" : "false";

    private static string Round(double seconds) => (Math.Round(seconds * 10, MidpointRounding.AwayFromZero) / 10).ToString(CultureInfo.InvariantCulture);

    private static string Cycles(RunState state, RunRinse rinse) => "[" + string.Join(',', state.Cycles(rinse).Select(c =>
        $"{{\"seconds\":{c.Seconds?.ToString(CultureInfo.InvariantCulture) ?? "null"},\"litres\":{c.WaterL?.ToString(CultureInfo.InvariantCulture) ?? "null"},\"end\":{(c.End is { } e ? $"\"{Codes<EndColor>.Word(e)}\"" : "null")},\"debris\":{(c.Debris is { } d ? $"\"{Codes<Debris>.Word(d)}\"" : "null")}}}")) + "]";

    private static IEnumerable<RunScript> Scripts()
    {
        RunScript Of(Equipment kit, Func<RunSetting, RunSetting> change, RunForm form = RunForm.Full)
        {
            var rig = DemoSeason.Rig with { Equipment = kit };
            var setting = new RunSetting
            {
                Rig = rig,
                Place = RunPlace.Sewer,
                Tanks = [.. rig.Tanks.Select(t =>
                new RunTank(t, new LevelBand(40, 50, 60), new LevelBand(0, 1, 3), t.Id == "bath") { Usual = new UsualDrain(100, 160, 3) })]
            };
            return RunBuilder.Offer(change(setting), form).Script!;
        }
        var kit = DemoSeason.Rig.Equipment!;
        yield return Of(kit, s => s with { FlowLPerMin = 8.5 });
        yield return Of(kit with { WaterMeter = true, FlushInlet = true }, s => s with { School = RinseSchool.OpenRinse }, RunForm.EndOfTrip);
        yield return Of(kit, s => s with { Water = TapWater.None, FreshL = 30 }, RunForm.Quick);
        yield return Of(kit with { EndValve = true }, s => s with { Method = FlushMethod.GrayBackfeed });
        yield return Of(kit, s => s, RunForm.GrayOnly);
    }
}
