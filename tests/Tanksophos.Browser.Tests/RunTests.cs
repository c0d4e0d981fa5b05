using OpenQA.Selenium;
using System.Globalization;
using System.Text.Json;
using NodaTime;
using Tanksophos.Core;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Browser.Tests;

/// <summary>A dump run at the hose: on a phone, over a reload, on two devices, over a lost connection.</summary>
public sealed class RunTests
{
    private const string Now = "section[data-step]:not([hidden]) ";

    private static string Step(Browser browser) => browser.Run<string>("return document.querySelector('section[data-step]:not([hidden])').dataset.step");

    private static bool Shown(Browser browser, string press) =>
        browser.Run<bool>("return [...document.querySelectorAll(arguments[0])].some(b => b.offsetParent !== null)", Now + $"[data-press={press}]");

    /// <summary>Presses one after the other, each when it is there; returns how many.</summary>
    internal static int Press(Browser browser, params string[] presses)
    {
        foreach (var press in presses)
        {
            try
            {
                browser.Until(() => Shown(browser, press), $"no button {press}");
            }
            catch (WebDriverTimeoutException e)
            {
                var there = browser.Run<string>("return [...document.querySelectorAll('section[data-step]:not([hidden])')].map(s => s.dataset.step + ': ' + "
                    + "[...s.querySelectorAll('[data-press]')].filter(b => b.offsetParent !== null).map(b => b.dataset.press)).join('; ') + ', alarm ' + "
                    + "!document.querySelector('[data-alarm]').hidden + ', ' + document.visibilityState + ', clock ' + "
                    + "document.querySelector('[data-seconds]')?.textContent");
                throw new InvalidOperationException($"{e.Message}; there is {there}; the page says {string.Join(" ", browser.Complaints())}");
            }
            browser.Driver.ExecuteScript("[...document.querySelectorAll(arguments[0])].find(b => b.offsetParent !== null).click()",
                Now + $"[data-press={press}]");
        }
        return presses.Length;
    }

    /// <summary>Presses the first button until a step is in front.</summary>
    internal static int PressTo(Browser browser, string step)
    {
        var count = 0;
        while (Step(browser) != step)
        {
            var before = Step(browser);
            count += Press(browser, before switch
            {
                "valves" => "dry",
                "set-up" => "skip",
                "sniff" => "pass",
                _ => before.StartsWith("starter", StringComparison.Ordinal) || before.StartsWith("dose", StringComparison.Ordinal) ? "in" : "done"
            });
            browser.Until(() => Step(browser) != before, $"it stays at {before}");
        }
        return count;
    }

    private static int Judge(Browser browser, string end, string debris, string then)
    {
        browser.Driver.ExecuteScript("const s = document.querySelector(arguments[0]); s.querySelector('[name=end][value=' + arguments[1] + ']').click(); "
            + "s.querySelector('[name=debris][value=' + arguments[2] + ']').click()",
            Now, end, debris);
        return 2 + Press(browser, then);
    }

    internal static bool Sent(Browser browser) =>
        browser.Run<object?>("return localStorage.getItem('run-' + document.querySelector('[data-run]').dataset.word)") is null;

    private static double Seconds(Browser browser) => browser.Text(Now + "[data-figure]").Split(':') is [var m, var s]
        ? int.Parse(m, CultureInfo.InvariantCulture) * 60 + int.Parse(s, CultureInfo.InvariantCulture) : -1;

    private static string Tile(Browser browser, string tile) => browser.Text($"[data-{tile}] b");

    [Fact]
    public void A_whole_run_is_done_with_a_thumb_over_a_reload_and_with_a_second_phone()
    {
        using var site = new Site(demo: true);
        using var phone = new Browser(site.Url, 390, 844);
        phone.Open("/run");
        phone.Follow(".run-form.is-first .btn-main");
        var taps = 1 + PressTo(phone, "drain-black");

        // Every target of the run fits a gloved thumb.
        phone.Run<long>("return [...document.querySelectorAll('.run button, .run .swatch')].filter(b => b.offsetParent !== null && "
            + "b.getBoundingClientRect().height < 64).length")
            .ShouldBe(0);
        phone.Run<long>("return document.documentElement.scrollWidth").ShouldBe(390);
        Tile(phone, "valve=black").ShouldBe("closed");
        taps += Press(phone, "open");
        phone.Until(() => Tile(phone, "valve=black") == "open", "the valve is not shown open");
        taps += Press(phone, "rush", "close-on");
        phone.Until(() => Tile(phone, "water") == "ON" && Tile(phone, "valve=black") == "closed", "water and valve are not shown");
        phone.Text(Now + "h1").ShouldBe("Filling. Stay here.");
        phone.Driver.ExecuteScript(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "lib", "axe.min.js")));
        LookTests.Faults(phone, false).ShouldBeEmpty();
        phone.Until(() => Seconds(phone) >= 2, "the clock stands");

        // Reloaded in the middle of the fill, it is where it was and the clock has gone on.
        var before = Seconds(phone);
        phone.Until(() => Sent(phone), "presses wait here");
        phone.Driver.Navigate().Refresh();
        Step(phone).ShouldBe("fill-black");
        phone.Until(() => Seconds(phone) >= before, "the clock began anew");
        Tile(phone, "water").ShouldBe("ON");

        // A second phone joins the same run.
        using (var other = new Browser(site.Url, 390, 844))
        {
            other.Open("/");
            other.Follow(".run-notice-today");
            Step(other).ShouldBe("fill-black");
            other.Until(() => Math.Abs(Seconds(other) - Seconds(phone)) <= 1, "two clocks");
            taps += Press(phone, "open");
            other.Until(() => Step(other) == "judge-black", "the other does not follow");
            taps += Judge(other, "tinted", "paper", "again");
            phone.Until(() => Step(phone) == "fill-black", "the first does not follow");
            phone.Text("[data-round-words]").ShouldStartWith("rinse 2");
            other.Complaints().ShouldBeEmpty();
        }

        // The phone slept through the limit: the alarm is there when it wakes, full of color and words.
        taps += Press(phone, "close-on");
        phone.Until(() => Sent(phone) && Seconds(phone) >= 1, "the second fill does not begin");
        phone.Driver.ExecuteScript("const d = Date.now; Date.now = () => d() + 3600000");
        phone.Until(() => phone.Run<bool>("const a = document.querySelector('[data-alarm]'); return !a.hidden && a.getBoundingClientRect().height === "
            + "innerHeight"),
            "no alarm");
        phone.Text("[data-alarm] h2").ShouldBe("Stop. Water off, open black.");
        phone.Driver.ExecuteScript("document.querySelector('[data-alarm] [data-press=open]').click()");
        taps++;
        phone.Until(() => phone.Run<bool>("return document.querySelector('[data-alarm]').hidden") && Step(phone) == "judge-black", "the alarm stays");
        taps += Judge(phone, "clear", "specks", "enough") + Press(phone, "closed");
        foreach (var gray in new[] { "bath", "galley" })
        {
            phone.Until(() => Step(phone) == $"drain-{gray}", "gray is not next");
            taps += Press(phone, "open", "leave-open");
        }
        taps += PressTo(phone, "wash");
        phone.Complaints().ShouldBeEmpty();
        taps += Press(phone, "finish");
        phone.Until(() => phone.Driver.Url.EndsWith('/') && phone.Text(".notice")
            .Contains("The run is finished: 12 entries written", StringComparison.Ordinal), "it is not written: " + phone.Driver.Url);
        // By hand the same twelve entries are about 42 taps and five typed numbers, and somebody has to take the times.
        taps.ShouldBeLessThanOrEqualTo(32);
        phone.Open("/logbook");
        phone.Visible(".log").Text.ShouldContain("Black flushed · built in · 2 rinses · end clear");
    }

    [Fact]
    public void Presses_wait_while_the_connection_is_lost_and_count_once_when_it_is_back()
    {
        var folder = Directory.CreateTempSubdirectory("tanksophos-run").FullName;
        try
        {
            using var phone = Start(folder, out var url);
            phone.Until(() => !phone.Run<bool>("return document.querySelector('[data-cut-off]').hidden"), "nobody says that the connection is lost");
            Press(phone, "open", "steady", "close-on");
            phone.Until(() => Seconds(phone) >= 1, "the clock stands without the server");
            Press(phone, "open");
            Step(phone).ShouldBe("judge-black", "the run goes on without the server");
            phone.Run<long>("return JSON.parse(localStorage.getItem('run-' + document.querySelector('[data-run]').dataset.word)).length").ShouldBe(4);

            using var again = new Site(demo: true, data: folder, port: url.Port);
            phone.Until(() => Sent(phone) && phone.Run<bool>("return document.querySelector('[data-cut-off]').hidden"), "the presses are not sent");
            // What is kept in the page's store outlasts a reload, and what had been sent already does not count again.
            phone.Driver.ExecuteScript("window.fetch = () => Promise.reject(new Error('cut'))");
            Judge(phone, "clear", "none", "enough");
            Step(phone).ShouldBe("close-black");
            phone.Driver.Navigate().Refresh();
            Step(phone).ShouldBe("close-black");
            phone.Until(() => Sent(phone), "the kept press is not sent");
            var state = JsonDocument.Parse((string)phone.Driver.ExecuteAsyncScript("const done = arguments[0]; fetch('/run/1?handler=State').then(a => "
                + "a.text()).then(done)")!).RootElement;
            var presses = state.GetProperty("taps").EnumerateArray().Select(t => t.GetProperty("press").GetString()).ToList();
            presses.Skip(presses.IndexOf("open")).ShouldBe(["open", "steady", "close-on", "open", "enough"]);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static Browser Start(string folder, out Uri url)
    {
        using var site = new Site(demo: true, data: folder);
        url = site.Url;
        var phone = new Browser(site.Url, 390, 844);
        phone.Open("/run");
        phone.Follow(".run-form.is-first .btn-main");
        PressTo(phone, "drain-black");
        phone.Until(() => Sent(phone), "presses wait here");
        return phone;
    }

    // The page follows a run by its own copy of the rules, so that it can go on without the server. Both are played the same presses, sensible and wild.
    [Fact]
    public void The_page_and_the_core_see_the_same_run()
    {
        using var site = new Site(demo: true);
        using var browser = new Browser(site.Url);
        browser.Open("/sign-in");
        browser.Driver.ExecuteScript(File.ReadAllText(Path.Combine(Site.Root, "src", "Tanksophos.Web", "wwwroot", "js", "run-state.js")));
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
            var heard = browser.Run<string>("""
                const script = JSON.parse(arguments[0]), now = arguments[2];
                return JSON.stringify(JSON.parse(arguments[1]).map(taps => {
                  const s = window.runState(script, []), fates = taps.map(t => s.apply(t));
                  return [fates.join(), s.step().id, s.round, s.waterOn, s.endClosed, s.finished, s.endedAt !== null, Object.keys(s.open).sort().join(), Math.round(s.filledSeconds(now) * 10) / 10,
                    script.rinses.map(r => [s.verdict(r), JSON.stringify(s.cycles(r)), s.leftL(r) === null ? '' : s.leftL(r).toFixed(1), s.roundsOf(r.loop)].join()).join(), script.tanks.map(t => s.emptied(t.id) + ' ' + s.slow(t.id)).join()].join('|');
                }));
                """, RunCodec.Write(script), sent, 1_780_030_000_000L);
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
