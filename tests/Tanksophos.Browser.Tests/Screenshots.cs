namespace Tanksophos.Browser.Tests;

/// <summary>Takes the pictures of the documentation from the demonstration's data. Run by tools/screenshots.sh, not with the tests.</summary>
public sealed class Screenshots
{
    [Fact(Explicit = true)]
    public void Take()
    {
        var folder = Path.Combine(Site.Root, "docs", "screenshots");
        Directory.CreateDirectory(folder);
        using var site = new Site(demo: true);
        using var looking = new Browser(site.Url);
        looking.Open("/logbook?type=dump&tank=black");
        void Shot(string name, string path, int width, int height, string theme = "day", string? click = null)
        {
            using var browser = new Browser(site.Url, width, height, theme);
            browser.Open(path);
            if (click is not null)
            {
                browser.Click(click);
                browser.Visible(".modal.show");
                browser.Driver.ExecuteScript("document.getAnimations().forEach(a => a.finish())");
            }
            browser.Driver.GetScreenshot().SaveAsFile(Path.Combine(folder, name + ".png"));
            browser.Complaints().ShouldBeEmpty();
        }
        Shot("today", "/", 1280, 1150);
        Shot("today-night", "/", 1280, 800, "night");
        Shot("today-phone", "/", 390, 844);
        Shot("more-phone", "/more", 390, 844);
        Shot("reading-phone", "/", 390, 844, click: "[data-tank-card]");
        Shot("trip", "/trip", 1280, 1100);
        Shot("trip-phone", "/trip", 390, 844);
        Shot("sensors", "/sensors", 1280, 1500);
        Shot("care", "/care", 1280, 900);
        Shot("logbook", "/logbook", 1280, 800);
        Shot("rig", "/rig", 1280, 900);
        Shot("house-rules", "/rules", 1280, 800);
        Shot("treatments", "/treatments", 1280, 1150);
        Shot("health", "/find/health?tank=black", 1280, 900);
        // The run in the middle of a fill, on the phone and wide, and the choice of its form.
        Shot("run-forms", "/run", 1280, 1100);
        using (var phone = new Browser(site.Url, 390, 844))
        {
            phone.Open("/run");
            phone.Follow(".run-form.is-first .btn-primary");
            RunTests.PressTo(phone, "drain-black");
            RunTests.Press(phone, "open", "rush", "close-on");
            phone.Until(() => RunTests.Sent(phone), "presses wait");
            phone.Driver.ExecuteScript("const d = Date.now; Date.now = () => d() + 168000");
            phone.Until(() => phone.Text("section:not([hidden]) [data-figure]").StartsWith("2:4", StringComparison.Ordinal), "the clock stands");
            phone.Driver.GetScreenshot().SaveAsFile(Path.Combine(folder, "run-phone.png"));
        }
        using (var learner = new Browser(site.Url, 1280, 1000))
        {
            learner.Open("/practice");
            learner.Follow("[data-case='1'] button");
            learner.Follow("[data-evidence=flashlight] button");
            learner.Driver.ExecuteScript("scrollTo(0, 0)");
            learner.Driver.GetScreenshot().SaveAsFile(Path.Combine(folder, "practice.png"));
        }
        using (var wide = new Browser(site.Url, 1280, 1300))
        {
            wide.Open("/find?tank=black&part=valve");
            wide.Follow("#here button[value=valve-drips]");
            wide.Driver.GetScreenshot().SaveAsFile(Path.Combine(folder, "find.png"));
        }
        using var fresh = new Site(demo: false);
        using var first = new Browser(fresh.Url, 1280, 1000);
        first.BeFirst();
        first.Driver.GetScreenshot().SaveAsFile(Path.Combine(folder, "first-run.png"));
    }
}
