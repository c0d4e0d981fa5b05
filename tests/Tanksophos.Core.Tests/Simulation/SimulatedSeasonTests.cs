using System.Text;
using System.Text.Json;
using CsCheck;
using NodaTime;
using Tanksophos.Cli;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Tests.Simulation;

public class SimulatedSeasonTests
{
    private static SimulatedSeason Season(long seed, params ScenarioFault[] faults) => SimulatedSeason.Simulate(new Scenario(seed, 40, Given.Rig(), faults));

    private static byte[] Bytes(SimulatedSeason season) => ScenarioFormat.WriteSeason(season);

    [Fact]
    public void The_same_seed_gives_the_same_season_and_another_seed_another()
    {
        Bytes(Season(7)).ShouldBe(Bytes(Season(7)));
        Bytes(Season(8)).ShouldNotBe(Bytes(Season(7)));
    }

    [Fact]
    public void The_truth_stays_within_the_tank_and_its_log_is_a_valid_logbook_in_the_order_of_time()
    {
        Gen.Long[0, 100_000].Sample(seed =>
        {
            var season = Season(seed);
            season.Truth.ShouldAllBe(t => t.LevelL >= 0 && t.LevelL <= (t.Tank == "black" ? Given.BlackL : 189.3));
            season.Truth.Zip(season.Truth.Skip(1)).ShouldAllBe(p => p.First.At.ToInstant() <= p.Second.At.ToInstant());
            season.Logbook.Entries.Zip(season.Logbook.Entries.Skip(1)).ShouldAllBe(p => p.First.Instant <= p.Second.Instant);
            LogbookFormat.Read(LogbookFormat.Write(season.Logbook)).Errors.ShouldBeEmpty();
            season.Logbook.Entries.OfType<DumpEntry>().ShouldContain(d => d.Tank == "black");
        }, iter: 20);
    }

    [Fact]
    public void A_fault_sets_in_on_its_day_and_shows_in_the_readings()
    {
        var season = Season(3, new ScenarioFault("black", "low", ProbeState.StuckOn, 10), new ScenarioFault("black", "mid", ProbeState.StuckOff, 0));
        var onset = season.Truth[0].At.ToInstant();
        var black = season.Truth.Where(t => t.Tank == "black").ToList();
        black.Where(t => t.At.ToInstant() < onset + Duration.FromDays(8)).ShouldAllBe(t => t.Probes["low"] == ProbeState.Working);
        black.Where(t => t.At.ToInstant() > onset + Duration.FromDays(11)).ShouldAllBe(t => t.Probes["low"] == ProbeState.StuckOn);
        var later = season.Logbook.Entries.OfType<ReadingEntry>()
            .Where(r => r.Tank == "black" && r.Lit is not null && r.Instant > onset + Duration.FromDays(11)).ToList();
        (later.Count(r => r.Lit!.Contains("low")) / (double)later.Count).ShouldBeGreaterThan(0.9);
        (later.Count(r => r.Lit!.Contains("mid")) / (double)later.Count).ShouldBeLessThan(0.1);
    }

    [Fact]
    public void The_command_plays_a_scenario_and_what_it_writes_can_be_assessed()
    {
        var rig = Encoding.UTF8.GetString(RigCodec.Write(Given.Rig()));
        var answer = Commands.Simulate(Given.Utf8($$"""{ "format": "tanksophos-scenario", "version": 1, "seed": 7, "days": 30, "rig": {{rig}}, "faults": [{ "tank": "black", "probe": "low", "state": "stuckOn", "fromDay": 5 }] }"""),
            pretty: false);
        answer.Failed.ShouldBeFalse();
        using var season = JsonDocument.Parse(answer.Line);
        var truth = season.RootElement.GetProperty("truth");
        truth.GetArrayLength().ShouldBeGreaterThan(60);
        truth[truth.GetArrayLength() - 2].GetProperty("probes").GetProperty("low").GetString().ShouldBe("stuckOn");
        using var assessed = JsonDocument.Parse(Commands.Assess(answer.Line, pretty: false).Line);
        assessed.RootElement.GetProperty("asOf").GetString().ShouldBe(season.RootElement.GetProperty("asOf").GetString());
        Commands.Simulate(Given.Utf8("""{ "format": "tanksophos-scenario", "version": 1, "seed": 7, "days": 0 }"""), pretty: false).Failed.ShouldBeTrue();
    }

    // A small sample of what the benchmark measures over hundreds of seasons; wide bounds, so that it fails only when something broke.
    [Fact]
    public void The_belief_is_nearer_to_the_truth_than_the_panel_and_its_band_is_honest()
    {
        int held = 0, judged = 0;
        double error = 0;
        for (var seed = 900; seed < 912; seed++)
        {
            var season = Season(seed, new ScenarioFault("black", "low", ProbeState.StuckOn, 12));
            var running = new JointEstimator().Start(season.Logbook.Rig);
            var next = 0;
            foreach (var truth in season.Truth.Where(t => t.Tank == "black").Skip(20))
            {
                for (; next < season.Logbook.Entries.Count && season.Logbook.Entries[next].Instant <= truth.At.ToInstant(); next++)
                    running.Add(season.Logbook.Entries[next]);
                var level = running.At(truth.At)["black"].Level;
                error += Math.Abs(level.P50L - truth.LevelL) / Given.BlackL;
                judged++;
                if (truth.LevelL >= level.P05L - 1e-6 && truth.LevelL <= level.P95L + 1e-6) held++;
            }
        }
        (error / judged).ShouldBeLessThan(0.06);
        (held / (double)judged).ShouldBeInRange(0.8, 1);
    }

    [Fact]
    public void Troubles_show_in_what_the_crew_writes_down()
    {
        SimulatedSeason With(Trouble trouble) =>
            SimulatedSeason.Simulate(new Scenario(77, 60, Given.Rig(), []) { Troubles = [new ScenarioTrouble("black", trouble, 10)] });
        var sound = SimulatedSeason.Simulate(new Scenario(77, 60, Given.Rig(), []));
        static double Cycles(SimulatedSeason s) => s.Logbook.Entries.OfType<FlushEntry>().Average(f => f.Cycles.Count);
        static IEnumerable<SymptomCode> Symptoms(SimulatedSeason s) => s.Logbook.Entries.OfType<SymptomEntry>().Select(e => e.Code);

        Symptoms(sound).ShouldBeEmpty();
        Cycles(With(Trouble.Buildup)).ShouldBeGreaterThan(Cycles(sound) + 1);
        Symptoms(With(Trouble.Heap)).ShouldContain(SymptomCode.BacksUpOnFlush);
        With(Trouble.OutletClog).Logbook.Entries.OfType<DumpEntry>().ShouldContain(d => d.Tank == "black" && d.Flow == DumpFlow.Trickle);
        Symptoms(With(Trouble.VentBlocked)).ShouldContain(SymptomCode.Gurgles);
        Symptoms(With(Trouble.ValveLeak)).ShouldContain(SymptomCode.ValveDrips);
        Symptoms(With(Trouble.ValveStiff)).ShouldContain(SymptomCode.ValveStiff);
        static double Highest(SimulatedSeason s) => s.Truth.Where(t => t.Tank == "black").Average(t => t.LevelL);
        Highest(With(Trouble.ValveLeak)).ShouldBeLessThan(Highest(sound));
    }

    [Fact]
    public void A_trouble_of_no_tank_or_no_kind_is_refused_with_its_place()
    {
        var rig = System.Text.Encoding.UTF8.GetString(RigCodec.Write(Given.Rig()));
        string Error(string trouble)
        {
            using var line = JsonDocument.Parse(Commands.Simulate(Given.Utf8($$"""{ "format": "tanksophos-scenario", "version": 1, "seed": 7, "days": 5, "rig": {{rig}}, "troubles": [{{trouble}}] }"""),
                pretty: false).Line);
            return line.RootElement.TryGetProperty("error", out var error) ? error.GetProperty("path").GetString()! : "";
        }
        Error("""{ "tank": "black", "code": "heap", "fromDay": 2 }""").ShouldBe("");
        Error("""{ "tank": "cellar", "code": "heap", "fromDay": 2 }""").ShouldBe("troubles[0].tank");
        Error("""{ "tank": "black", "code": "ghost", "fromDay": 2 }""").ShouldBe("troubles[0].code");
        Error("""{ "tank": "black", "code": "heap", "fromDay": -2 }""").ShouldBe("troubles[0].fromDay");
    }
}
