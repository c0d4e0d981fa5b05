using OpenQA.Selenium;

namespace Tanksophos.Browser.Tests;

/// <summary>The demonstration's rig in a browser: one program and one browser for all, at phone size, since that is where it is logged.</summary>
public sealed class PhoneDemo : IDisposable
{
    public PhoneDemo()
    {
        Site = new Site(demo: true);
        Browser = new Browser(Site.Url, 390, 844);
    }

    public Site Site { get; }

    public Browser Browser { get; }

    public void Dispose()
    {
        Browser.Dispose();
        Site.Dispose();
    }
}

public sealed class LogItTests(PhoneDemo demo) : IClassFixture<PhoneDemo>
{
    private readonly Browser browser = demo.Browser;

    [Theory]
    [InlineData("button[data-open=sheet-dump]", "#sheet-dump .choice[value=galley]", null, "Galley gray dumped")]
    [InlineData("button[data-open=sheet-water]", "#sheet-water .choice[value='3 gal']", null, "Black: 3 gal water")]
    [InlineData("button[data-open=sheet-people]", "#sheet-people .choice[value='4']", null, "4 people")]
    [InlineData("button[data-open=sheet-place]", "#sheet-place .choice[value=partial]", null, "water only")]
    [InlineData("[data-open=sheet-tank-bath]", "#sheet-tank-bath [data-probe=q1] text", "#sheet-tank-bath .btn-main", "Bath gray: 1/4 on")]
    [InlineData("[data-open=sheet-tank-galley]", "#sheet-tank-galley .look-area", "#sheet-tank-galley .btn-main", "Galley gray: looked, about")]
    [InlineData("[data-open=sheet-tank-bath]", "#sheet-tank-bath .valve-form .btn-plain", null, "Bath gray: valve closed")]
    public void Each_thing_takes_at_most_three_taps_and_can_be_undone(string first, string second, string? third, string said)
    {
        browser.Open("/");
        browser.Click(first);
        if (third is null) browser.Follow(second);
        else
        {
            browser.Click(second);
            browser.Follow(third);
        }
        browser.Text(".notice").ShouldContain(said);

        browser.Open("/logbook");
        browser.Text(".log li .line").ShouldContain(said.Split(':')[^1].Trim());
        browser.Open("/");
        browser.Complaints().ShouldBeEmpty();
        browser.Open("/logbook");
        browser.Follow(".log li .btn-quiet");
        browser.Find(".log li").GetAttribute("class")!.ShouldContain("is-withdrawn");
    }

    [Fact]
    public void A_check_on_the_page_of_the_sensors_is_logged_in_place_and_leads_back_there()
    {
        browser.Open("/sensors?tank=bath");
        browser.Click(".sensor-words [data-open=sheet-tank-bath]");
        browser.Click("#sheet-tank-bath [data-probe=q1] text");
        browser.Follow("#sheet-tank-bath .btn-main");

        browser.Text("h1").ShouldBe("Sensors");
        browser.Text(".notice").ShouldContain("Bath gray: 1/4 on");
        browser.Text(".tank-tab[aria-current=page]").ShouldContain("Bath gray");
        browser.Follow(".notice [data-undo]");
        browser.Text("h1").ShouldBe("Sensors");
        browser.Find(".notice[data-logged]");
        browser.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void A_percent_panel_is_typed_and_the_button_says_what_will_be_saved()
    {
        browser.Open("/");
        browser.Click("[data-open=sheet-tank-galley]");
        var field = browser.Visible("#sheet-tank-galley input[name=percent]");
        field.Clear();
        field.SendKeys("44");
        browser.Find("#sheet-tank-galley .btn-main").Text.ShouldBe("Save: panel shows 44 %");
        browser.Follow("#sheet-tank-galley .btn-main");
        browser.Text(".notice").ShouldContain("Galley gray: panel 44 %");
        browser.Follow("[data-undo]");
    }

    [Fact]
    public void The_sheets_are_worked_by_keys_too()
    {
        browser.Open("/");
        var body = browser.Find("body");
        body.SendKeys("?");
        browser.Visible("#keys").Text.ShouldContain("log a dump");
        browser.Find("#keys .close").SendKeys(Keys.Escape);
        body.SendKeys("r");
        browser.Visible("#sheet-tank-black");
        var lamp = browser.Find("#sheet-tank-black [data-probe=mid]");
        lamp.GetAttribute("aria-checked").ShouldBe("false");
        lamp.SendKeys(Keys.Space);
        lamp.GetAttribute("aria-checked").ShouldBe("true");
        lamp.SendKeys(Keys.Escape);
        body.SendKeys("l");
        browser.Visible(".log");
        browser.Text("h1").ShouldBe("Logbook");
    }

    [Fact]
    public void The_night_is_dark_and_stays_so()
    {
        browser.Open("/");
        browser.Click("[data-theme-switch]");
        browser.Run<string>("return document.documentElement.dataset.bsTheme").ShouldBe("dark");
        browser.Open("/logbook");
        browser.Run<string>("return document.documentElement.dataset.bsTheme").ShouldBe("dark");
        browser.Click("[data-theme-switch]");
        browser.Run<string>("return document.documentElement.dataset.bsTheme").ShouldBe("light");
    }
}
