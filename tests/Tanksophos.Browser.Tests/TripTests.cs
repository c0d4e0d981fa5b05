using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Tanksophos.Browser.Tests;

/// <summary>A trip is entered, dragged and stretched, and the plan answers in place.</summary>
public sealed class TripTests : IDisposable
{
    private readonly Site site = new(demo: true);

    public void Dispose() => site.Dispose();

    private static string Stops(Browser browser) =>
        browser.Run<string>("return [...document.querySelectorAll('.stop-list strong')].map(s => s.textContent).join(', ')");

    private static string Nights(Browser browser) =>
        browser.Run<string>("return [...document.querySelectorAll('.stop-list li')].map(l => l.querySelector('.nights').textContent.replace(/\\D+/g, ' "
            + "').trim()).join(', ')");

    // The page itself stays: a mark set on it is still there when the plan has changed.
    private static void Mark(Browser browser) => browser.Driver.ExecuteScript("window.marked = true");

    private static void StillThere(Browser browser) => browser.Run<bool>("return window.marked === true").ShouldBeTrue("the page was loaded anew");

    [Fact]
    public void Stops_are_stretched_dragged_and_added_and_the_plan_answers_in_place()
    {
        using var browser = new Browser(site.Url, 1280, 900);
        browser.Open("/trip");
        Mark(browser);
        Stops(browser).ShouldBe("Lantern Hollow, Cinder Flat, Crossroads station, Sallow Bay, Nettle Bench");
        browser.Find(".verdict [data-holds=yes]");

        // A night more at a time, until the dry place is too long.
        browser.Click("#more-s2");
        browser.Until(() => Nights(browser).Contains("7, 7", StringComparison.Ordinal), "the stay is not longer");
        browser.Run<string>("return document.activeElement.id").ShouldBe("more-s2", "the thumb stays where it was");
        browser.Click("#more-s2");
        browser.Until(() => Nights(browser).Contains("7, 8", StringComparison.Ordinal), "the stay is not longer");
        browser.Visible(".verdict [data-holds=no]");
        browser.Visible(".breaks li");
        browser.Click("[data-undo]");
        browser.Until(() => Nights(browser).Contains("7, 7", StringComparison.Ordinal), "nothing was taken back");

        // By its edge.
        var edge = browser.Find(".stop-block[data-stop=s2] .stretch");
        browser.Driver.ExecuteScript("document.querySelector('.trip-ribbon').scrollIntoView({ block: 'center' })");
        var day = Convert.ToDouble(browser.Run<object>("const s = document.querySelector('.trip-ribbon .ribbon'); return Number(s.dataset.day) * "
            + "s.getBoundingClientRect().width / s.viewBox.baseVal.width"),
            System.Globalization.CultureInfo.InvariantCulture);
        new Actions(browser.Driver).MoveToElement(edge).ClickAndHold().MoveByOffset(-8, 0).MoveByOffset((int)Math.Round(-2 * day) + 8, 0).Release().Perform();
        browser.Until(() => Nights(browser).Contains("7, 5", StringComparison.Ordinal), "the edge does not stretch: " + Nights(browser));

        // By its body, in front of the station.
        browser.Driver.ExecuteScript("document.querySelector('.trip-ribbon').scrollIntoView({ block: 'center' })");
        var body = browser.Find(".stop-block[data-stop=s4] .body");
        new Actions(browser.Driver).MoveToElement(body).ClickAndHold().MoveByOffset(-10, 0).MoveByOffset((int)(-4 * day), 0).Release().Perform();
        browser.Until(() => Stops(browser).Contains("Sallow Bay, Crossroads station", StringComparison.Ordinal), "the stop does not move: " + Stops(browser));

        browser.Find("#add-name").SendKeys("Mill Creek" + Keys.Enter);
        browser.Until(() => Stops(browser).EndsWith("Nettle Bench, Mill Creek", StringComparison.Ordinal), "no stop was added");
        browser.Run<string>("return document.activeElement.id").ShouldBe("add-name", "ready for the next stop");
        StillThere(browser);
        browser.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void A_refused_change_says_why_in_place_and_a_pin_leads_to_its_run()
    {
        using var browser = new Browser(site.Url, 390, 844);
        browser.Open("/trip");
        Mark(browser);
        browser.Click(".stop-list li:nth-child(2) .stop-name");
        browser.Visible("#sheet-stop-s2");
        browser.Driver.ExecuteScript("document.querySelector('#sheet-stop-s2 [name=nights]').value = 'two'");
        browser.Click("#sheet-stop-s2 .btn-primary");
        browser.Until(() => browser.Text("[data-board] [role=alert]").Contains("Cinder Flat, nights", StringComparison.Ordinal),
            "nothing is said");
        StillThere(browser);

        browser.Driver.ExecuteScript("document.querySelector('.trip-ribbon').scrollIntoView({ block: 'center' }); "
            + "document.querySelector('a.pin').dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }))");
        browser.Until(() => browser.Run<long>("return document.querySelectorAll('.todo details[open]').length") == 1, "the run does not open");

        browser.Click("[data-compare]");
        browser.Visible(".compare");
        browser.Run<long>("return document.documentElement.scrollWidth").ShouldBe(390);
        // The answer of 400 is the browser's own line in the log; nothing else may be there.
        browser.Complaints().ShouldAllBe(c => c.Contains("400", StringComparison.Ordinal));
    }
}
