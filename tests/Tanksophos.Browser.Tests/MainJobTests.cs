using OpenQA.Selenium;

namespace Tanksophos.Browser.Tests;

public sealed class MainJobTests : IDisposable
{
    private readonly Site site = new(demo: false);
    private readonly Browser browser;

    public MainJobTests() => browser = new Browser(site.Url);

    public void Dispose()
    {
        browser.Dispose();
        site.Dispose();
    }

    private string BlackLevel => browser.Text(".tank .level strong");

    [Fact]
    public void A_logbook_is_brought_in_and_Today_tells_the_next_dump_and_moves_with_a_reading_of_three_clicks()
    {
        browser.BeFirst();
        browser.Text("h1").ShouldBe("Set up your rig");
        browser.Follow("a[href='/import']");
        browser.Find("input[type=file]").SendKeys(Path.Combine(AppContext.BaseDirectory, "examples", "logbook.json"));
        browser.Follow(".upload .btn-primary");
        browser.Text(".preview h2").ShouldBe("New rig: Blue Kettle");
        browser.Follow("[data-confirm-import]");

        browser.Text("[data-logged]").ShouldContain("168 entries added");
        browser.Find("[data-agenda=dump-run][data-tank^=black]");
        browser.Find("[data-agenda=close-valve]");
        var before = BlackLevel;

        // Three clicks: the tank, the lamp, save.
        browser.Click("[data-tank-card]");
        browser.Click("#reading-black [data-probe=mid]");
        browser.Find("#reading-black [data-save-reading]").Text.ShouldBe("Save: 1/3, 2/3 on");
        browser.Follow("#reading-black [data-save-reading]");

        browser.Text("[data-logged]").ShouldContain("Black: 1/3 and 2/3 on");
        BlackLevel.ShouldNotBe(before);
        int.Parse(BlackLevel.Split(' ')[0]).ShouldBeGreaterThan(int.Parse(before.Split(' ')[0]));

        browser.Follow("[data-undo]");
        BlackLevel.ShouldBe(before);
        browser.Follow(".rooms a[href='/logbook']");
        browser.Text(".log li").ShouldContain("1/3 and 2/3 on");
        browser.Find(".log li").GetAttribute("class")!.ShouldContain("is-withdrawn");
        browser.Complaints().ShouldBeEmpty();
        site.Said.ShouldBeEmpty();
    }

    [Fact]
    public void The_first_run_takes_a_person_from_nothing_to_a_look_into_the_tank()
    {
        browser.BeFirst();
        browser.Find("input[name=name]").SendKeys("Dented Can");
        browser.Click(".layout:nth-child(2)");
        browser.Find("input[name=black]").SendKeys("30");
        browser.Find("input[name=gray]").SendKeys("34 gal");
        browser.Click("[data-next]");
        browser.Visible("input[name=people]");
        browser.Click("[data-next]");
        browser.Follow("[data-finish]");

        browser.Driver.FindElements(By.CssSelector(".tank")).Count.ShouldBe(3);
        browser.Text(".rig-name").ShouldBe("Dented Can");
        browser.Text(".tank .facts").ShouldContain("of 30 gal");

        // Where the liquid stands can be tapped in the drawing itself.
        browser.Click("[data-tank-card]");
        var area = browser.Visible("#reading-black .look-area");
        new OpenQA.Selenium.Interactions.Actions(browser.Driver).MoveToElement(area, 0, 10).Click().Perform();
        var save = browser.Find("#reading-black [data-save-reading]").Text;
        save.ShouldMatch("^Save: I looked, about (3|4)[05] %$");
        browser.Follow("#reading-black [data-save-reading]");
        browser.Text("[data-logged]").ShouldMatch("looked, about (3|4)[05] %");
        browser.Complaints().ShouldBeEmpty();
    }
}
