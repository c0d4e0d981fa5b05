using OpenQA.Selenium;
using System.Globalization;
using System.Text.Json;

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
                "valves" => browser.Driver.FindElements(By.CssSelector(Now + "[data-press=dry]")).Count > 0 ? "dry" : "done",
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
    public async Task A_flow_meter_counts_up_beside_the_clock_and_what_it_counted_goes_with_the_press()
    {
        using var site = new Site(demo: true);
        using var phone = new Browser(site.Url, 390, 844);
        phone.Open("/devices");
        phone.Find("[data-add] [name=name]").SendKeys("hose");
        phone.Follow("[data-add] .btn-primary");
        using var meter = Gadget.Client(site, phone.Find("[data-made] input").GetAttribute("value")!);
        async Task CountAsync(double litres)
        {
            using var content = new StringContent(string.Create(CultureInfo.InvariantCulture,
                $$"""{"device":"hose","values":{"flow":{"litersTotal":{{litres}} } } }"""), System.Text.Encoding.UTF8, "application/json");
            using var answer = await meter.PostAsync(new Uri("/api/v1/measurements", UriKind.Relative), content);
            answer.StatusCode.ShouldBe(System.Net.HttpStatusCode.Accepted);
        }
        await CountAsync(500);
        phone.Open("/run");
        phone.Follow(".run-form.is-first .btn-primary");
        PressTo(phone, "drain-black");
        Press(phone, "open", "rush", "close-on");
        phone.Until(() => Step(phone) == "fill-black" && Tile(phone, "water") == "ON", "water is on");
        await CountAsync(518.9); // five gallons
        phone.Until(() => phone.Text(Now + "[data-figure-words]").Contains("5 gal", StringComparison.Ordinal), "the meter's count beside the clock");
        // Beyond the room that is left it rings, whatever the clock says.
        await CountAsync(640);
        phone.Until(() => phone.Run<bool>("return !document.querySelector('[data-alarm]').hidden"), "the alarm by the meter");
        await CountAsync(640);
        phone.Driver.ExecuteScript("[...document.querySelectorAll('[data-alarm] [data-press=open]')].find(b => b.offsetParent !== null).click()");
        phone.Until(() => Step(phone) != "fill-black" && Sent(phone), "the press is sent");
        var state = (string)phone.Driver.ExecuteAsyncScript("const done = arguments[0];"
            + "fetch(document.querySelector('[data-run]').dataset.stateAt).then(a => a.text()).then(done)")!;
        state.ShouldContain("140");
        phone.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void A_whole_run_is_done_with_a_thumb_over_a_reload_and_with_a_second_phone()
    {
        using var site = new Site(demo: true);
        using var phone = new Browser(site.Url, 390, 844);
        phone.Open("/run");
        phone.Follow(".run-form.is-first .btn-primary");
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
        phone.Ready();
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
        phone.Until(() => phone.Driver.FindElements(By.CssSelector("[data-review]")).Count > 0 && phone.Text("[data-logged]")
            .Contains("The run is finished: 12 entries written", StringComparison.Ordinal), "it is not written: " + phone.Driver.Url);
        // By hand the same twelve entries are about 40 taps and five typed numbers, and somebody has to take the times.
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
            // Looked at again while the server is gone: the page that the device kept is older, the run in it is not.
            var ran = Seconds(phone);
            phone.Driver.Navigate().Refresh();
            phone.Ready();
            Step(phone).ShouldBe("fill-black");
            (Tile(phone, "water"), Tile(phone, "valve=black")).ShouldBe(("ON", "closed"));
            phone.Until(() => Seconds(phone) >= ran, "the clock began anew");
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
            phone.Ready();
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
        phone.Follow(".run-form.is-first .btn-primary");
        PressTo(phone, "drain-black");
        phone.Until(() => Sent(phone), "presses wait here");
        phone.Until(() => phone.Keeps(new Uri(phone.Driver.Url).AbsolutePath), "the run is not kept for when the connection goes");
        return phone;
    }
}
