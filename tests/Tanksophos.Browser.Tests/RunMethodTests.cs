using System.Globalization;

namespace Tanksophos.Browser.Tests;

/// <summary>Each way of rinsing played to its end on a phone, and a run in which everything goes wrong.</summary>
public sealed class RunMethodTests
{
    // What a thumb finds in front of it, without Back and Skip; the suggested one first.
    private const string InFront = """
        const here = document.querySelector('section[data-step]:not([hidden])');
        const buttons = [...here.querySelectorAll('[data-press]')].filter(b => b.offsetParent !== null && !b.matches('.run-aside') && !b.disabled);
        buttons.sort((a, b) => b.matches('.is-first') - a.matches('.is-first'));
        const tile = s => document.querySelector(`[data-${s}]`)?.matches('.is-on') ?? null;
        return JSON.stringify({ step: here.dataset.step, presses: buttons.map(b => b.dataset.press), black: tile('valve=black'),
          gray: [...document.querySelectorAll('[data-valve]:not([data-valve=black])')].some(t => t.matches('.is-on')), end: tile('end'), water: tile('water'),
          small: [...document.querySelectorAll('.run button, .run .swatch')]
            .filter(b => b.offsetParent !== null && b.getBoundingClientRect().height < 64).length,
          wide: document.documentElement.scrollWidth });
        """;

    private sealed record Front(string Step, IReadOnlyList<string> Presses, bool? Black, bool Gray, bool? End, bool? Water, int Small, int Wide);

    private static readonly System.Text.Json.JsonSerializerOptions Web = new(System.Text.Json.JsonSerializerDefaults.Web);

    private static Front Look(Browser phone) => System.Text.Json.JsonSerializer.Deserialize<Front>(phone.Run<string>(InFront), Web)!;

    // Sends a form of a page as the browser would, with some of its fields changed; nothing leaves a field out.
    private static void Send(Browser phone, string page, string form, params (string Name, string? Value)[] changes)
    {
        var changed = "{" + string.Join(",", changes.Select(c => $"\"{c.Name}\":{(c.Value is null ? "null" : $"\"{c.Value}\"")}")) + "}";
        var status = (long)phone.Driver.ExecuteAsyncScript("""
            const [page, form, changed, done] = arguments;
            fetch(page).then(a => a.text()).then(html => {
              const found = new DOMParser().parseFromString(html, 'text/html').querySelector(form);
              const data = new FormData(found);
              for (const [name, value] of Object.entries(JSON.parse(changed))) { data.delete(name); if (value !== null) data.append(name, value); }
              return fetch(found.getAttribute('action') || page, { method: 'POST', body: new URLSearchParams(data) });
            }).then(a => done(a.status), e => done(-1));
            """, page, form, changed)!;
        status.ShouldBe(200, $"{page} was refused");
    }

    private static void Fill(Browser phone, string tank, string amount) =>
        Send(phone, "/write/water", "main form", ("tank", tank), ("waterL", amount), ("purpose", "other"));

    private static string State(Browser phone, string tank, string state)
    {
        Send(phone, "/write/valve", "main form", ("tank", tank), ("state", state));
        return tank;
    }

    // Plays a run with the suggested presses, or with those that are asked for, and looks at the page before each.
    private static (List<string> Said, List<string> Steps) Play(Browser phone, Func<Front, string?>? choose = null, string end = "clear",
        string debris = "none")
    {
        var said = new List<string>();
        var steps = new List<string>();
        for (var i = 0; i < 120; i++)
        {
            phone.Until(() => phone.Driver.Url.Contains("/run/", StringComparison.Ordinal) && phone.Run<bool>(
                "return !!document.querySelector('[data-review]') || !!document.querySelector('section[data-step]:not([hidden])')"), "no step in front");
            if (phone.Run<bool>("return !!document.querySelector('[data-review]')")) return (said, steps);
            var front = Look(phone);
            if (steps.Count == 0 || steps[^1] != front.Step) steps.Add(front.Step);
            front.Small.ShouldBe(0, front.Step);
            front.Wide.ShouldBe(390, front.Step);
            // Never both open, but behind a closed end.
            if (front.Black == true && front.Gray) front.End.ShouldBe(false, $"both are open at {front.Step}");
            if (front.Presses.Contains("enough"))
            {
                phone.Driver.ExecuteScript("const s = document.querySelector('section[data-step]:not([hidden])'); "
                    + "s.querySelector('[name=end][value=' + arguments[0] + ']').click(); s.querySelector('[name=debris][value=' + arguments[1] + ']').click()",
                    end, debris);
                phone.Until(() => phone.Run<bool>("return [...document.querySelectorAll('section[data-step]:not([hidden]) [data-verdict]')]"
                    + ".some(v => !v.hidden && v.dataset.verdict !== 'look')"), "no verdict");
                front = Look(phone);
            }
            var press = choose?.Invoke(front) ?? front.Presses.FirstOrDefault(p => p is not ("again" or "drips" or "fail" or "nothing" or "trickle"))
                ?? throw new InvalidOperationException($"nothing to press at {front.Step}");
            said.Add(press);
            if (press == "skip")
                phone.Driver.ExecuteScript("document.querySelector('section[data-step]:not([hidden]) [data-press=skip].run-aside').click()");
            else RunTests.Press(phone, press);
            // Some seconds run into the tank, so that a fill is one.
            if (press is "close-on" or "water-on" or "flood-on") phone.Until(() => phone.Run<bool>(
                "const f = document.querySelector('section[data-step]:not([hidden]) [data-figure]'); return !!f && f.textContent !== '0:00'"),
                "the clock stands");
            else phone.Until(() => !Same(phone, front), $"{press} does nothing at {front.Step} after {string.Join(" ", said)}");
        }
        throw new InvalidOperationException("it does not end: " + string.Join(" ", said));
    }

    private static bool Same(Browser phone, Front before) =>
        phone.Run<bool>("return !document.querySelector('[data-review]')") && phone.Driver.Url.Contains("/run/", StringComparison.Ordinal)
        && phone.Run<bool>("return !!document.querySelector('section[data-step]:not([hidden])')")
        && Look(phone) is var now && now.Step == before.Step && now.Presses.SequenceEqual(before.Presses)
        && now.Black == before.Black && now.Gray == before.Gray;

    [Fact]
    public void Every_way_of_rinsing_is_played_to_its_end_on_a_phone()
    {
        using var site = new Site(demo: true);
        using var phone = new Browser(site.Url, 390, 844);
        phone.Open("/rig");
        Send(phone, "/rig", "form.rig-form", ("reverseFlush", "yes"), ("endValve", "yes"), ("waterMeter", "yes"), ("wand", "flexible"),
            ("toiletDrop", "straight"), ("jug", "5 gal"), ("flushInlet", "yes"));
        foreach (var (method, tap, expected) in new[] { ("built-in", "threaded", "close-on"), ("reverse", "threaded", "close-on"),
            ("wand", "threaded", "close-on"), ("bucket", "unthreaded", "poured"), ("pedal", "unthreaded", "poured"), ("gray-backfeed", "none", "flood-on") })
        {
            // Black as before a dump; gray closed and half full, so that it can flood.
            foreach (var gray in new[] { "bath", "galley" })
            {
                State(phone, gray, "closed");
                Fill(phone, gray, "18 gal");
            }
            if (method != "built-in") Fill(phone, "black", "24 gal"); // as it stands at first, it is enough
            phone.Open($"/run?method={method}&tap={tap}");
            phone.Find($"select[name=method] option[value={method}][selected]");
            phone.Follow(".run-form.is-first .btn-primary");
            var (said, steps) = Play(phone);
            said.ShouldContain(expected, method);
            steps.ShouldContain("sniff", method);
            steps.Count(s => s.StartsWith("drain-", StringComparison.Ordinal)).ShouldBe(3, $"{method}: {string.Join(" ", steps)}");
            phone.Complaints().ShouldBeEmpty(method);
            phone.Open("/logbook");
            phone.Run<string>("return [...document.querySelectorAll('.log li')].slice(0, 30).map(l => l.textContent).join(' ')")
                .ShouldContain(Words(method), Case.Insensitive, method);
        }
    }

    private static string Words(string method) => method switch { "gray-backfeed" => "back", "built-in" => "built in", "reverse" => "reverse", _ => method };

    // It drips, drains slowly, stays dark and smells: the rest of the run follows what was said.
    [Fact]
    public void A_run_in_which_everything_goes_wrong_ends_without_a_dose()
    {
        using var site = new Site(demo: true);
        using var phone = new Browser(site.Url, 390, 844);
        phone.Open("/run");
        phone.Follow(".run-form.is-first .btn-primary");
        var (sniffed, rinsed) = (0, 0);
        var (said, steps) = Play(phone, front => front.Step switch
        {
            "valves" when front.Presses.Contains("drips") => "drips",
            "valves" when front.Presses.Contains("dry") => "done",
            "drain-black" when front.Presses.Contains("slow") => "slow",
            "judge-black" when front.Presses.Contains("again") && rinsed++ < 4 => "again",
            "sniff" when front.Presses.Contains("fail") => "fail",
            "sniff" when front.Presses.Contains("again") && sniffed++ == 0 => "again",
            "sniff" when front.Presses.Contains("done") => "done",
            "drain-bath" or "drain-galley" when front.Presses.Contains("trickle") => "trickle",
            _ => null
        }, "dark", "paper");
        said.Count(p => p == "fail").ShouldBeGreaterThanOrEqualTo(1);
        said.Count(p => p == "close-on").ShouldBe(6, "a dark trickle asks for more, and so does the smell");
        steps.ShouldNotContain("dose-black");
        phone.Find("[data-review]");
        phone.Complaints().ShouldBeEmpty();
        phone.Open("/find");
        phone.Find("[data-cause], [data-check], [data-course]");
    }

    [Fact]
    public void A_tank_that_does_not_let_go_keeps_its_level_and_gets_no_water()
    {
        using var site = new Site(demo: true);
        using var phone = new Browser(site.Url, 390, 844);
        phone.Open("/");
        var before = Level(phone);
        phone.Open("/run");
        phone.Follow(".run-form.is-first .btn-primary");
        var (said, _) = Play(phone, front => front.Presses.Contains("nothing") ? "nothing" : front.Presses.Count == 0 ? "skip" : null);
        said.ShouldNotContain("close-on");
        said.ShouldNotContain("in");
        phone.Open("/");
        Math.Abs(Level(phone) - before).ShouldBeLessThanOrEqualTo(2);
        phone.Find("[data-agenda=stop-using], [data-agenda=remedy]");
    }

    // One phone without a connection, another that goes on: the first is told who was ahead, and both show the same.
    [Fact]
    public void The_phone_that_comes_second_is_told_what_happened()
    {
        using var site = new Site(demo: true);
        using var first = new Browser(site.Url, 390, 844);
        using var second = new Browser(site.Url, 390, 844);
        first.Open("/run");
        first.Follow(".run-form.is-first .btn-primary");
        RunTests.PressTo(first, "drain-black");
        second.Open("/");
        second.Follow(".run-notice-today");
        Look(second).Step.ShouldBe("drain-black");
        Offline(second, true);
        RunTests.Press(second, "open", "slow");
        RunTests.Press(first, "open", "rush", "close-on");
        first.Until(() => RunTests.Sent(first), "the presses are not sent");
        Offline(second, false);

        second.Until(() => second.Run<bool>("const n = document.querySelector('[data-notice]'); return !n.hidden && n.textContent.length > 20"),
            "nobody says what became of the presses");
        second.Until(() => Look(second) is var there && there.Step == "fill-black" && there.Water == true && there.Black == false, "it shows another run");
        first.Run<bool>("return document.querySelector('[data-notice]').hidden").ShouldBeTrue("the first was ahead and hears nothing");
    }

    private static void Offline(Browser phone, bool offline)
    {
        phone.Driver.ExecuteCdpCommand("Network.enable", []);
        phone.Driver.ExecuteCdpCommand("Network.emulateNetworkConditions",
            new() { ["offline"] = offline, ["latency"] = 0, ["downloadThroughput"] = -1, ["uploadThroughput"] = -1 });
    }

    private static int Level(Browser phone) =>
        int.Parse(phone.Text("[data-tank=black] .level strong").TrimEnd('%', ' '), CultureInfo.InvariantCulture);
}
