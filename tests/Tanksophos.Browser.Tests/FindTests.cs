namespace Tanksophos.Browser.Tests;

/// <summary>Under the rig with a phone in the hand: point at what is wrong, answer the check, follow the ladder.</summary>
public sealed class FindTests : IDisposable
{
    private readonly Site site = new(demo: true);
    private readonly Browser browser;

    public FindTests() => browser = new Browser(site.Url, 390, 844, "night");

    public void Dispose()
    {
        browser.Dispose();
        site.Dispose();
    }

    [Fact]
    public void A_drip_is_pointed_at_checked_and_traced_to_its_entries_with_a_thumb()
    {
        browser.Open("/find");
        browser.Visible("[data-finding=none]");
        browser.Follow("a.is-valve[aria-label='Valve of Black']");
        browser.Text("#here h3").ShouldBe("The valve of black");
        browser.Run<bool>("return document.querySelector('#here').getBoundingClientRect().top < innerHeight")
            .ShouldBeTrue("what is asked stands below the fold");
        browser.Run<double>("return Math.min(...[...document.querySelectorAll('#here .btn-outline-primary, .plan-place rect')].map(e => "
            + "e.getBoundingClientRect().height)) * 1.0001")
            .ShouldBeGreaterThanOrEqualTo(44, "a thumb does not hit it");

        browser.Follow("#here button[value=valve-drips]");
        browser.Find("[data-cause=valve-leak][data-tank=black]");
        browser.Text(".find-next h2").ShouldBe("Take the cap off with the valves closed");
        double Bar() => double.Parse(browser.Find(".causes .plus").GetAttribute("width")!, System.Globalization.CultureInfo.InvariantCulture);
        var before = Bar();
        browser.Follow(".find-next button[value=fail]");
        Bar().ShouldBeGreaterThan(before);
        browser.Text(".cause-ladder").ShouldContain("A gate valve on the outlet");
        browser.Click(".causes summary");
        browser.Until(() => browser.Text(".causes details").Contains("it dripped when the cap came off", StringComparison.Ordinal), "the reason is not shown");

        browser.Open("/");
        browser.Find(".find-note");
        browser.Open("/find");
        browser.Click(".causes summary");
        browser.Follow(".causes details a[href*='/logbook']");
        browser.Text("main").ShouldContain("valve drips");
        browser.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void The_alarm_comes_before_everything_and_a_slip_of_the_thumb_is_taken_back()
    {
        browser.Open("/find?tank=galley&drain=galley-sink");
        browser.Text("#here h3").ShouldContain("galley sink");
        browser.Follow("button[value=propane-alarm]");
        browser.Text("h1").ShouldContain("everyone out", Case.Insensitive);
        browser.Open("/find");
        browser.Text("h1").ShouldContain("everyone out", Case.Insensitive);
        browser.Follow("form[action*='Mistake'] button");
        browser.Open("/find");
        browser.Find(".alarm-call");
        browser.Complaints().ShouldBeEmpty();
    }
}
