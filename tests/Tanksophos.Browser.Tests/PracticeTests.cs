using OpenQA.Selenium;

namespace Tanksophos.Browser.Tests;

/// <summary>A practice case on a phone, and the pile under the toilet.</summary>
public sealed class PracticeTests : IDisposable
{
    private readonly Site site = new(demo: true);

    public void Dispose() => site.Dispose();

    [Fact]
    public void A_case_is_played_on_a_phone_and_the_level_stays_while_checks_are_asked_for()
    {
        using var phone = new Browser(site.Url, 390, 844);
        phone.Open("/practice");
        phone.Follow("[data-case='1'] button");
        phone.Driver.ExecuteScript("const l = document.getElementById('level'); l.value = 20; l.dispatchEvent(new Event('input', { bubbles: true }))");
        phone.Until(() => phone.Text(".practice-level").StartsWith("20 %", StringComparison.Ordinal), "the level follows the slider");
        phone.Follow("[data-evidence=flashlight] button");
        phone.Text(".practice-level").ShouldStartWith("20 %");
        phone.Text("[data-evidence=flashlight] [data-found]").ShouldContain("%");
        // Dragging in the tank sets it too.
        phone.Driver.ExecuteScript("const s = document.querySelector('.practice-trough'), b = s.getBoundingClientRect();"
            + "for (const t of ['pointerdown', 'pointerup']) s.dispatchEvent(new PointerEvent(t, { pointerId: 1, bubbles: true, clientX: b.x + 80,"
            + " clientY: b.y + 5 }))");
        phone.Until(() => phone.Text(".practice-level").StartsWith("100 %", StringComparison.Ordinal), "the level follows the finger");
        phone.Driver.ExecuteScript("document.querySelector('[name=answer][value=stuck-on]').click()");
        phone.Follow("[data-answer] .btn-primary");
        phone.Driver.FindElement(By.CssSelector("[data-part=cause]")).GetAttribute("data-right").ShouldBe("True");
        phone.Driver.ExecuteScript("return document.documentElement.scrollWidth <= innerWidth").ShouldBe(true);
        phone.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void A_dump_run_is_played_on_a_narrow_phone_and_the_pipe_shows_what_runs()
    {
        using var phone = new Browser(site.Url, 360, 740);
        phone.Open("/practice");
        phone.Follow("[data-topic=run] button[value='1']");
        string Flow() => phone.Driver.FindElement(By.CssSelector(".drill-flow")).GetAttribute("data-flow")!;
        Flow().ShouldBe("none");
        foreach (var act in new[] { "look-handles", "look-hose", "hose-on", "open-black" }) phone.Follow($"[name=act][value={act}]");
        Flow().ShouldNotBe("none");
        phone.Driver.FindElement(By.CssSelector("[data-acts]")).GetAttribute("data-acts").ShouldBe("4");
        phone.Driver.ExecuteScript("return document.documentElement.scrollWidth <= innerWidth").ShouldBe(true);
        phone.Driver.ExecuteScript("return Math.min(...[...document.querySelectorAll('.drill-acts button')].map(b => b.getBoundingClientRect().height)) >= 44")
            .ShouldBe(true);
        phone.Follow("[name=act][value=cap]");
        phone.Driver.FindElement(By.CssSelector("[data-review]")).Displayed.ShouldBeTrue();
        phone.Driver.ExecuteScript("return document.documentElement.scrollWidth <= innerWidth").ShouldBe(true);
        phone.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void The_pile_grows_with_the_days_and_the_sliders_ask_the_server()
    {
        using var browser = new Browser(site.Url, 1280, 900);
        browser.Open("/practice/pile");
        string Heap() => (string)browser.Driver.ExecuteScript("return document.querySelector('[data-side=open] .pile-heap').getAttribute('d')")!;
        void Set(string selector, string value) => browser.Driver.ExecuteScript("const i = document.querySelector(arguments[0]); i.value = arguments[1];"
            + "i.dispatchEvent(new Event('input', { bubbles: true }))", selector, value);
        Set("#hour", "24");
        browser.Until(() => browser.Text(".pile-time label").Contains("1.0", StringComparison.Ordinal), "day one");
        var small = Heap();
        Set("#hour", "336");
        browser.Until(() => Heap() != small, "the pile has grown");
        var two = browser.Text("[data-text=open]");
        Set("[name=people]", "6");
        browser.Until(() => browser.Text("[data-text=open]") != two, "more people, another pile");
        browser.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void The_pictures_follow_their_sliders()
    {
        using var phone = new Browser(site.Url, 390, 844);
        phone.Open("/practice/pictures");
        void Set(string selector, string value) => phone.Driver.ExecuteScript("const i = document.querySelector(arguments[0]); i.value = arguments[1];"
            + "i.dispatchEvent(new Event('input', { bubbles: true }))", selector, value);
        string Corners() => (string)phone.Driver.ExecuteScript("return document.querySelector('.picture-dirt').getAttribute('d')")!;
        bool On() => (bool)phone.Driver.ExecuteScript("return document.querySelector('[data-picture=sensor] .stud').classList.contains('is-lit')")!;
        phone.Until(() => Corners().Length > 0, "drawn");
        var dirty = Corners();
        var said = phone.Text("[data-text=rinse]");
        Set("#rinses", "1");
        phone.Until(() => Corners() != dirty && phone.Text("[data-text=rinse]") != said, "rinsed");
        On().ShouldBeFalse();
        phone.Driver.ExecuteScript("document.querySelector('[name=hangs][value=paper]').click()");
        phone.Until(On, "paper holds it on");
        var fresh = phone.Text("[data-text=trap]");
        Set("#trap-days", "30");
        phone.Until(() => phone.Text("[data-text=trap]") != fresh, "dry");
        phone.Driver.ExecuteScript("return document.documentElement.scrollWidth <= innerWidth").ShouldBe(true);
        phone.Complaints().ShouldBeEmpty();
    }
}
