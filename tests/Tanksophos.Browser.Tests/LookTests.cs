using System.Text.Json;
using OpenQA.Selenium;

namespace Tanksophos.Browser.Tests;

/// <summary>What holds for every page: no sideways scrolling, targets for gloved thumbs, contrast and names, no other host.</summary>
public sealed class LookTests : IDisposable
{
    private static readonly string[] Pages = ["/", "/run", "/run?place=station", "/run/card", "/treatments", "/treatments/ice-scrub",
        "/treatments/enzyme?high=95&days=9", "/treatments/shelf", "/find", "/find/health?tank=black", "/find/sheet", "/trip", "/trip/sheet", "/sensors",
        "/sensors/looks", "/logbook", "/logbook/sheet", "/import", "/rig", "/rules", "/write", "/write/odor", "/write/flush", "/write/symptom",
        "/write/service", "/write/chore", "/care", "/care/costs", "/care/sheet", "/care/season/close", "/care/season/open", "/practice",
        "/practice/pile", "/practice/pictures", "/devices", "/notices", "/weather", "/you", "/programs", "/guide", "/guide/handbook", "/guide?q=valve",
        "/practice/twin?act=guests&days=3", "/write/reading", "/write/stay", "/log", "/log?tank=bath",
        "/log?tank=galley", "/log?kind=dump", "/log?kind=water", "/log?kind=people", "/log?kind=place",
        "/start", "/more", "/mend", "/account", "/rigs", "/keeping", "/logbook?type=dump&text=black", "/sign-in", "/no-such-page"];
    private static string[] SheetsOf(string page) => page switch
    {
        "/" => ["keys"],
        "/trip" => ["sheet-stop-s2", "sheet-stop-s3", "sheet-trip"],
        _ => []
    };

    private readonly Site site = new(demo: true);

    public void Dispose() => site.Dispose();

    private static void Show(Browser browser, string sheet) =>
        browser.Driver.ExecuteScript("document.querySelector('.modal.show .btn-close')?.click(); const b = document.createElement('button'); b.hidden = true; "
            + "b.dataset.bsToggle = 'modal'; b.dataset.bsTarget = '#' + arguments[0]; document.body.append(b); b.click(); b.remove()", sheet);

    [Fact]
    public void On_a_narrow_phone_no_page_scrolls_sideways_every_target_fits_a_thumb_and_no_other_host_is_asked()
    {
        using var browser = new Browser(site.Url, 360, 740);
        foreach (var page in Pages)
        {
            browser.Open(page);
            browser.Run<long>("return document.documentElement.scrollWidth").ShouldBeLessThanOrEqualTo(360, page);
            TooSmall(browser, "main, .rail").ShouldBeEmpty(page);
            TooSmallToRead(browser).ShouldBe("", page);
            foreach (var sheet in SheetsOf(page))
            {
                Show(browser, sheet);
                browser.Run<bool>("const d = document.getElementById(arguments[0]); return d.scrollWidth <= d.clientWidth", sheet).ShouldBeTrue(sheet);
                TooSmall(browser, $"#{sheet}").ShouldBeEmpty(sheet);
            }
        }

        var asked = browser.Driver.Manage().Logs.GetLog(LogType.Performance)
            .Select(l => JsonDocument.Parse(l.Message).RootElement.GetProperty("message"))
            .Where(m => m.GetProperty("method").GetString() == "Network.requestWillBeSent")
            .Select(m => new Uri(m.GetProperty("params").GetProperty("request").GetProperty("url").GetString()!))
            .Where(u => u.Scheme is "http" or "https").ToList();
        asked.Count.ShouldBeGreaterThan(10);
        asked.ShouldAllBe(u => u.Authority == site.Url.Authority);
        browser.Complaints().ShouldAllBe(c => c.Contains("/no-such-page", StringComparison.Ordinal));
        site.Said.ShouldBeEmpty();
    }

    [Fact]
    public void No_page_and_no_sheet_has_a_fault_that_a_checker_of_accessibility_finds()
    {
        using var browser = new Browser(site.Url, 1280, 800);
        var axe = File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "lib", "axe.min.js"));
        foreach (var page in Pages)
        {
            browser.Open(page);
            browser.Driver.ExecuteScript(axe);
            Faults(browser, onlyContrast: false).ShouldBeEmpty(page);
            TooSmallToRead(browser).ShouldBe("", page);
            // By night only the colors differ.
            foreach (var theme in (string[])["light", "dark"])
            {
                browser.Driver.ExecuteScript("document.documentElement.setAttribute('data-bs-theme', arguments[0]); document.getAnimations().forEach(a => "
                    + "a.finish())", theme);
                if (theme == "dark") Faults(browser, onlyContrast: true).ShouldBeEmpty($"{page} by night");
                foreach (var sheet in SheetsOf(page))
                {
                    Show(browser, sheet);
                    Faults(browser, theme == "dark").ShouldBeEmpty($"{sheet}, {theme}");
                }
                browser.Driver.ExecuteScript("document.querySelector('.modal.show .btn-close')?.click()");
            }
        }
    }

    // What is read is 16 pixels and more.
    private static string TooSmallToRead(Browser browser) => browser.Run<string>("""
        const small = new Set();
        const walk = document.createTreeWalker(document.querySelector('.frame'), NodeFilter.SHOW_TEXT);
        while (walk.nextNode()) {
          const e = walk.currentNode.parentElement;
          if (!walk.currentNode.data.trim() || !e.checkVisibility() || e.closest('title, script, .visually-hidden')) continue;
          let size = parseFloat(getComputedStyle(e).fontSize);
          const svg = e.closest('svg');
          if (svg) size *= svg.getBoundingClientRect().width / svg.viewBox.baseVal.width;
          if (size < 15.5) small.add(walk.currentNode.data.trim() + ' ' + size.toFixed(1));
        }
        return [...small].join(' | ');
        """);

    private static string TooSmall(Browser browser, string within) => browser.Run<string>("""
        const small = [];
        for (const box of document.querySelectorAll(arguments[0]))
          for (const e of box.querySelectorAll('button, a.btn, .btn-check + label, a.room, select, summary, [role=checkbox], '
              + 'input:not([type=hidden]):not([type=range]):not(.btn-check)')) {
            if (!e.checkVisibility() || e.closest('.modal') && !e.closest('.modal.show')) continue;
            const r = e.getBoundingClientRect();
            const label = e.closest('label')?.getBoundingClientRect();
            const w = Math.max(r.width, label?.width ?? 0), h = Math.max(r.height, label?.height ?? 0);
            if (w < 43.5 || h < 43.5) small.push(e.outerHTML.slice(0, 80) + ' ' + Math.round(w) + 'x' + Math.round(h));
          }
        return small.join('\n');
        """, within);

    internal static string Faults(Browser browser, bool onlyContrast)
    {
        var result = (string?)browser.Driver.ExecuteAsyncScript("""
            const done = arguments[arguments.length - 1];
            const open = document.querySelector('.modal.show');
            axe.run(open ?? document, { runOnly: arguments[0] ? ['color-contrast'] : ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] })
              .then(r => done(r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.target.join(' ')).slice(0, 3).join(', ')).join('\n')), e =>
                  done('axe: ' + e));
            """, onlyContrast);
        return result ?? "";
    }
}
