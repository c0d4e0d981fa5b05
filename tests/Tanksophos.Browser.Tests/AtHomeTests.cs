using OpenQA.Selenium;
using Tanksophos.Tests;

namespace Tanksophos.Browser.Tests;

/// <summary>What people do at home: a spreadsheet brought in, codes at sign-in, the guide, a proxy in front.</summary>
public sealed class AtHomeTests
{
    [Fact]
    public void A_spreadsheet_is_corrected_brought_in_and_undone()
    {
        using var site = new Site(demo: true);
        using var browser = new Browser(site.Url);
        browser.Open("/import");
        browser.Find("input[type=file]").SendKeys(Path.Combine(Site.Root, "docs", "examples", "spreadsheets", "wide.csv"));
        browser.Follow(".upload .btn-primary");
        var first = int.Parse(browser.Find("[data-added]").GetAttribute("data-added")!);
        // "Gray" could be either of two tanks: the person says which.
        var gray = browser.Driver.FindElements(By.CssSelector("[data-column]")).Single(c => c.GetAttribute("data-column") == "level");
        gray.FindElement(By.CssSelector("option[value='level:galley']")).Click();
        browser.Follow("[data-read-again]");
        int.Parse(browser.Find("[data-added]").GetAttribute("data-added")!).ShouldBeGreaterThan(first);
        browser.Find("[data-column='level:galley']");
        browser.Follow("[data-confirm-import]");
        browser.Find("[data-logged]");
        browser.Open("/import");
        browser.Find("[data-import]:not([data-import='0'])");
        browser.Follow("[data-import] button");
        browser.Find("[data-import='0']");
        browser.Follow("[data-import] button");
        browser.Find("[data-import]:not([data-import='0'])");
        browser.Complaints().ShouldBeEmpty();
        site.Said.ShouldBeEmpty();
    }

    [Fact]
    public void Codes_are_turned_on_with_an_app_and_a_recovery_code_lets_in_without_it()
    {
        using var site = new Site(demo: false);
        string recovery;
        using (var phone = new Browser(site.Url, 390, 844))
        {
            phone.BeFirst();
            phone.Open("/you");
            phone.Follow("form[action*=Key] button");
            var key = phone.Find("[data-key]").GetAttribute("data-key")!;
            phone.Find("form[action*=Codes] input[name=code]").SendKeys(AuthenticatorApp.CodeOf(key));
            phone.Follow("form[action*=Codes] button");
            phone.Find("[data-codes=on]");
            recovery = phone.Text("[data-recovery] code");
            phone.Complaints().ShouldBeEmpty();
        }
        using var other = new Browser(site.Url);
        other.Driver.Navigate().GoToUrl(new Uri(site.Url, "/sign-in"));
        other.Find("input[name=name]").SendKeys("Robin");
        other.Find("input[name=passphrase]").SendKeys("kettle biscuit gravel");
        other.Follow(".sign button");
        other.Find("[data-second-step] input[name=code]").SendKeys(recovery);
        other.Follow("[data-second-step] button");
        other.Open("/you");
        other.Driver.FindElements(By.CssSelector("[data-sign-in]")).Count.ShouldBe(2);
        other.Follow("[data-sign-in=other] button");
        other.Driver.FindElements(By.CssSelector("[data-sign-in]")).Count.ShouldBe(1);
        other.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void The_question_mark_opens_the_guide_at_the_place_and_the_guide_is_searched()
    {
        using var site = new Site(demo: true);
        using var browser = new Browser(site.Url);
        browser.Open("/sensors");
        browser.Follow(".guide-switch");
        browser.Driver.Url.ShouldEndWith("/guide/guide#when-a-light-is-not-trusted");
        browser.Find("input[type=search]").SendKeys("spreadsheet");
        browser.Follow("[role=search] button");
        browser.Follow(".guide-hit");
        browser.Driver.Url.ShouldContain("/guide/");
        browser.Open("/guide/handbook");
        browser.Run<long>("return [...document.querySelectorAll('.drawing svg')].filter(s => s.getBoundingClientRect().width > 200).length")
            .ShouldBeGreaterThanOrEqualTo(5);
        browser.Complaints().ShouldBeEmpty();
    }

    // Everything under a part of the address: pages, scripts, the log sheet, the run and its stream, keys, redirects.
    [Fact]
    public void Behind_a_proxy_a_day_goes_on_under_a_part_of_the_address()
    {
        using var site = new Site(demo: true, more: ["--path-base", "/tanks"]);
        using var phone = new Browser(site.Url, 390, 844);
        phone.Open("/tanks/");
        phone.Driver.Url.ShouldEndWith("/tanks/");
        phone.Click("[data-tank-card]");
        phone.Click("#reading-black [data-probe=mid]");
        phone.Follow("#reading-black [data-save-reading]");
        phone.Find("[data-logged]");
        phone.Driver.Url.ShouldContain("/tanks/");
        phone.Follow("[data-undo]");
        phone.Open("/tanks/run");
        phone.Follow(".run-form.is-first .btn-primary");
        phone.Driver.Url.ShouldContain("/tanks/run/");
        RunTests.PressTo(phone, "drain-black");
        phone.Until(() => RunTests.Sent(phone), "the presses are sent");
        phone.Open("/tanks/rig");
        phone.Open("/tanks/find");
        phone.Open("/tanks/export/logbook?rig=99"); // not there, and said under the same part
        phone.Find("a[href^='/tanks/']");
        phone.Open("/tanks/");
        phone.Driver.FindElement(By.TagName("body")).SendKeys("l");
        phone.Until(() => phone.Driver.Url.EndsWith("/tanks/logbook", StringComparison.Ordinal), "the key leads out of the part");
        phone.Complaints().Where(c => !c.Contains("404", StringComparison.Ordinal)).ShouldBeEmpty();
        site.Said.ShouldBeEmpty();
    }
}
