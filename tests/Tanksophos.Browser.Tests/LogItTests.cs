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
    [InlineData(".room-log a", "[data-log-to=dump]", "[data-log-kind=dump] .choice[value=galley]", "Galley gray dumped")]
    [InlineData(".room-log a", "[data-log-to=water]", "[data-log-kind=water] .choice[value='3 gal']", "Black: 3 gal water")]
    [InlineData(".room-log a", "[data-log-to=people]", "[data-log-kind=people] .choice[value='4']", "4 people")]
    [InlineData(".room-log a", "[data-log-to=place]", "[data-log-kind=place] .choice[value=partial]", "water only")]
    [InlineData(".room-log a", "#reading-black [data-probe=mid] text", "#reading-black [data-save-reading]", "Black: 1/3 and 2/3 on")]
    [InlineData(".tank[data-tank=bath] a[data-log]", "#reading-bath [data-probe=q1] text", "#reading-bath [data-save-reading]", "Bath gray: 1/4 on")]
    [InlineData(".tank[data-tank=galley] a[data-log]", "#reading-galley .look-area", "#reading-galley [data-save-reading]", "Galley gray: looked, about")]
    [InlineData(".tank[data-tank=bath] a[data-log]", "#reading-bath .valve-form .btn", null, "Bath gray: valve closed")]
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
        browser.Text("[data-logged]").ShouldContain(said);

        browser.Open("/logbook");
        browser.Text(".log li .line").ShouldContain(said.Split(':')[^1].Trim());
        browser.Open("/");
        browser.Complaints().ShouldBeEmpty();
        browser.Open("/logbook");
        browser.Follow(".log li .btn-outline-secondary");
        browser.Find(".log li").GetAttribute("class")!.ShouldContain("is-withdrawn");
    }

    [Fact]
    public void A_check_on_the_page_of_the_sensors_is_logged_in_place_and_leads_back_there()
    {
        browser.Open("/sensors?tank=bath");
        browser.Click(".sensor-words a[data-log]");
        browser.Click("#reading-bath [data-probe=q1] text");
        browser.Follow("#reading-bath [data-save-reading]");

        browser.Text("h1").ShouldBe("Sensors");
        browser.Text("[data-logged]").ShouldContain("Bath gray: 1/4 on");
        browser.Text(".tank-tab[aria-current=page]").ShouldContain("Bath gray");
        browser.Follow("[data-undo]");
        browser.Text("h1").ShouldBe("Sensors");
        browser.Find("[data-logged]");
        browser.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void A_percent_panel_is_typed_and_the_button_says_what_will_be_saved()
    {
        browser.Open("/");
        browser.Click(".tank[data-tank=galley] a[data-log]");
        var field = browser.Visible("#reading-galley input[name=percent]");
        field.Clear();
        field.SendKeys("44");
        browser.Find("#reading-galley [data-save-reading]").Text.ShouldBe("Save: panel shows 44 %");
        browser.Follow("#reading-galley [data-save-reading]");
        browser.Text("[data-logged]").ShouldContain("Galley gray: panel 44 %");
        browser.Follow("[data-undo]");
    }

    [Fact]
    public void The_sheets_are_worked_by_keys_too()
    {
        browser.Open("/");
        var body = browser.Find("body");
        body.SendKeys("?");
        browser.Visible("#keys").Text.ShouldContain("log a dump");
        browser.Find("#keys .btn-close").SendKeys(Keys.Escape);
        browser.Until(() => !browser.Find("#keys").Displayed, "the keys stay");
        body.SendKeys("r");
        browser.Visible("#reading-black");
        var lamp = browser.Find("#reading-black [data-probe=mid]");
        lamp.GetAttribute("aria-checked").ShouldBe("false");
        lamp.SendKeys(Keys.Space);
        lamp.GetAttribute("aria-checked").ShouldBe("true");
        lamp.SendKeys(Keys.Escape);
        browser.Until(() => !browser.Find("#sheet-log").Displayed, "the sheet stays");
        body.SendKeys("l");
        browser.Visible(".log");
        browser.Text("h1").ShouldBe("Logbook");
    }

    [Fact]
    public void Without_a_connection_Today_is_there_as_it_was_and_other_pages_say_that_they_are_not()
    {
        var folder = Directory.CreateTempSubdirectory("tanksophos-away").FullName;
        try
        {
            var site = new Site(demo: true, data: folder);
            using var phone = new Browser(site.Url, 390, 844);
            using (site)
            {
                phone.Open("/");
                phone.Until(() => phone.Run<bool>("return navigator.serviceWorker.controller !== null"), "the worker does not take over");
                phone.Open("/");
                phone.Until(() => phone.Keeps("/"), "Today is not kept");
            }
            phone.Driver.Navigate().GoToUrl(new Uri(site.Url, "/"));
            phone.Visible("[data-kept]");
            phone.Find("main[data-page='/Today/Index']").Displayed.ShouldBeTrue();
            phone.Driver.Navigate().GoToUrl(new Uri(site.Url, "/sensors"));
            phone.Visible("[data-offline]");

            using var again = new Site(demo: true, data: folder, port: site.Url.Port);
            phone.Driver.Navigate().GoToUrl(new Uri(site.Url, "/"));
            phone.Until(() => !phone.Find("[data-kept]").Displayed, "an old page stays");
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    [Fact]
    public void What_is_logged_without_a_connection_waits_visibly_and_is_sent_once()
    {
        void Offline(bool yes) => browser.Driver.ExecuteCdpCommand("Network.emulateNetworkConditions",
            new() { ["offline"] = yes, ["latency"] = 0, ["downloadThroughput"] = -1, ["uploadThroughput"] = -1 });
        browser.Open("/trip");
        browser.Click(".room-log a"); // once with a connection: the sheet is then there without one
        browser.Visible("#reading-black");
        browser.Click("#sheet-log .btn-close");
        Offline(true);
        try
        {
            browser.Until(() => browser.Run<bool>("return !navigator.onLine"), "the page does not notice");
            browser.Click(".room-log a");
            browser.Click("[data-log-to=people]");
            browser.Click("[data-log-kind=people] .choice[value='5']");
            browser.Visible("[data-outbox]").Text.ShouldContain("1 ");
            browser.Find("#sheet-log").Displayed.ShouldBeFalse();
        }
        finally
        {
            Offline(false);
        }
        browser.Until(() => !browser.Find("[data-outbox]").Displayed, "it is not sent");
        browser.Open("/logbook?type=people");
        browser.Driver.FindElements(By.CssSelector(".log li:not(.is-withdrawn)")).Count(l => l.Text.Contains("5 people", StringComparison.Ordinal)).ShouldBe(1);
        browser.Open("/trip");
        browser.Find("[data-outbox]").Displayed.ShouldBeFalse("it is sent once");
        browser.Complaints().ShouldAllBe(c => c.Contains("ERR_INTERNET_DISCONNECTED", StringComparison.Ordinal));
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
