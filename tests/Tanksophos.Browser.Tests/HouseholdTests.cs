using OpenQA.Selenium;

namespace Tanksophos.Browser.Tests;

/// <summary>What a household does with the rig, its entries and its people, as they do it.</summary>
public sealed class HouseholdTests : IDisposable
{
    private readonly Site site = new(demo: true);
    private readonly Browser browser;

    public HouseholdTests() => browser = new Browser(site.Url);

    public void Dispose()
    {
        browser.Dispose();
        site.Dispose();
    }

    [Fact]
    public void The_drawing_of_a_tank_follows_what_is_typed()
    {
        browser.Open("/rig");
        double Stud() => double.Parse(browser.Find("[data-part=tank-black] .stud circle").GetAttribute("cy")!,
            System.Globalization.CultureInfo.InvariantCulture);
        var before = Stud();
        var field = browser.Find("input[name=t0-p0-at]");
        field.Clear();
        field.SendKeys("20");
        browser.Until(() => Stud() > before + 5, "the stud does not move");
        var capacity = browser.Find("input[name=t0-capacity]");
        capacity.Clear();
        capacity.SendKeys("4000 gal");
        browser.Until(() => browser.Driver.FindElements(By.CssSelector("[data-doubts-of=black] li")).Count > 0, "nothing is doubted");
        browser.Open("/rig"); // nothing of it was saved
        Stud().ShouldBe(before);
        browser.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void A_sensor_is_dragged_along_the_wall_or_moved_by_keys_and_its_field_follows()
    {
        browser.Open("/rig");
        int Field() => int.Parse(browser.Find("input[name=t0-p1-at]").GetAttribute("value")!, System.Globalization.CultureInfo.InvariantCulture);
        IWebElement Stud() => browser.Visible(".rig-stud[data-field=t0-p1-at]");
        Field().ShouldBe(66);
        new OpenQA.Selenium.Interactions.Actions(browser.Driver).MoveToElement(Stud()).ClickAndHold().MoveByOffset(0, 25).Release().Perform();
        var dragged = Field();
        dragged.ShouldBeInRange(30, 62);
        browser.Until(() => Stud().GetAttribute("aria-valuenow") == dragged.ToString(System.Globalization.CultureInfo.InvariantCulture)
            && Stud().GetAttribute("transform") is null or "", "the server does not draw it");
        Stud().SendKeys(Keys.ArrowUp);
        Field().ShouldBe(dragged + 1);
        browser.Click("[data-tab=whole]");
        browser.Visible("input[name=people]");
        browser.Find("input[name=t0-p1-at]").Displayed.ShouldBeFalse("one part at a time");
        browser.Follow(".save-bar .btn-primary");
        Field().ShouldBe(dragged + 1, "it was saved");
        browser.Complaints().ShouldBeEmpty();
    }

    [Fact]
    public void The_Enter_key_saves_the_rig_and_removes_nothing()
    {
        browser.Open("/rig");
        var name = browser.Find("input[name=t0-name]");
        name.Clear();
        name.SendKeys("Big black" + Keys.Enter);
        browser.Until(() => browser.Driver.FindElements(By.CssSelector("[data-logged]")).Count > 0, "it is not saved");
        browser.Driver.FindElements(By.CssSelector("[data-tab^=tank-]")).Count.ShouldBe(3);
        browser.Find("input[name=t0-name]").GetAttribute("value").ShouldBe("Big black");
    }

    [Fact]
    public void An_entry_is_found_corrected_and_gets_a_photo_that_is_made_smaller_on_the_way()
    {
        browser.Open("/logbook");
        browser.Find("input[name=text]").SendKeys("lantern" + Keys.Enter);
        browser.Until(() => browser.Text(".where").Contains("1 entry found", StringComparison.Ordinal), "the search finds something else");
        browser.Follow(".log a.line");
        browser.Follow("a[href*='edit=']");
        var place = browser.Find("input[name=place]");
        place.Clear();
        place.SendKeys("Lantern Hollow, site 9");
        browser.Follow(".write .btn-primary");
        browser.Text("h1").ShouldContain("site 9");
        browser.Text(".versions").ShouldContain("Corrected by Demo");

        browser.Find("input[name=photo]").SendKeys(Path.Combine(Site.Root, "docs", "screenshots", "today.png"));
        browser.Until(() => browser.Find(".photo-form button").Enabled, "the photo is not ready");
        browser.Follow(".photo-form button");
        browser.Until(() => browser.Run<bool>("const i = document.querySelector('.photos img'); return i.complete && i.naturalWidth > 0"),
            "the photo does not show");
        browser.Open("/logbook");
        browser.Visible(".log .thumb");
        browser.Complaints().ShouldBeEmpty();
        site.Said.ShouldBeEmpty();
    }

    [Fact]
    public void Somebody_joins_by_the_link_and_what_they_log_bears_their_name()
    {
        browser.Open("/account");
        browser.Follow("button[value=Crew]");
        var link = browser.Find(".shown-once input").GetAttribute("value")!;
        browser.Visible(".shown-once .qr");

        using var phone = new Browser(site.Url, 390, 844);
        phone.Driver.Navigate().GoToUrl(link);
        phone.Find("input[name=name]").SendKeys("Kim");
        phone.Find("input[name=passphrase]").SendKeys("lantern hollow gravel");
        phone.Find("input[name=again]").SendKeys("lantern hollow gravel");
        phone.Follow(".btn-primary");
        phone.Click(".room-log a");
        phone.Click("[data-log-to=people]");
        phone.Follow("[data-log-kind=people] .choice[value='4']");
        phone.Driver.FindElements(By.CssSelector("a[href='/keeping']")).ShouldBeEmpty();

        browser.Open("/logbook");
        browser.Follow(".log a.line");
        browser.Text(".versions").ShouldContain("by Kim");
        browser.Driver.Navigate().GoToUrl(link);
        browser.Text("h1").ShouldBe("This invitation no longer works");
    }

    [Fact]
    public void The_usual_dump_is_logged_and_undone_in_three_taps()
    {
        browser.Open("/");
        browser.Click(".log-button");
        browser.Click("[data-log-to=dump]");
        browser.Follow(".usual .btn-primary");
        browser.Text("[data-logged]").ShouldContain("Black dumped");
        browser.Text(".tank .level strong").ShouldMatch("^[0-9] %$|^1[0-9] %$");
        browser.Follow("[data-undo]");
        browser.Text("[data-logged]").ShouldContain("8 entries");
    }

    [Fact]
    public void A_large_file_shows_how_far_it_is_on_its_way_and_what_became_of_it()
    {
        browser.Open("/keeping");
        var file = Path.Combine(Directory.CreateTempSubdirectory("tanksophos-large").FullName, "large.db");
        try
        {
            using (var large = File.Create(file)) large.SetLength(40 << 20);
            browser.Find("form[data-upload] input[name=word]").SendKeys("restore");
            browser.Find("form[data-upload] input[type=file]").SendKeys(file);
            browser.Driver.ExecuteCdpCommand("Network.emulateNetworkConditions",
                new() { ["offline"] = false, ["latency"] = 0, ["downloadThroughput"] = -1, ["uploadThroughput"] = 15 << 20 });
            browser.Driver.ExecuteScript("window.went = []; const bar = document.querySelector('[data-upload-bar] progress'); new MutationObserver(() => { if "
                + "(bar.checkVisibility()) window.went.push(bar.value); }).observe(bar, { attributes: true })");
            browser.Click("form[data-upload] button");
            browser.Until(() => browser.Find("[data-upload-problem]").Displayed, "nothing is said of the file");
            var went = browser.Run<IReadOnlyCollection<object>>("return window.went")
                .Select(v => Convert.ToDouble(v, System.Globalization.CultureInfo.InvariantCulture)).ToList();
            went.Count(v => v is > 0.02 and < 0.98).ShouldBeGreaterThan(2);
            went.ShouldBe(went.Order());
            browser.Find("[data-upload-bar]").Displayed.ShouldBeFalse();
            browser.Find("form[data-upload] button").Enabled.ShouldBeTrue("it can be tried again");
        }
        finally
        {
            Directory.Delete(Path.GetDirectoryName(file)!, recursive: true);
        }
    }
}
