using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

[assembly: Xunit.v3.Parallelization(Mode = Xunit.Sdk.ParallelMode.None)]

namespace Tanksophos.Browser.Tests;

/// <summary>
/// Debian's Chromium without a window. A start takes seconds, so one that is done with is wiped (cookies, what pages stored, caches) and handed to the next
/// test; only where a test has two people at once are there two.
/// </summary>
public sealed class Browser : IDisposable
{
    private static readonly Stack<Chromium> Idle = new();

    private readonly Chromium chromium;

    static Browser() => AppDomain.CurrentDomain.ProcessExit += (_, _) =>
    {
        while (Idle.TryPop(out var chromium)) chromium.Dispose();
    };

    public Browser(Uri site, int width = 1280, int height = 800, string theme = "day")
    {
        Site = site;
        chromium = Idle.TryPop(out var waiting) ? waiting : new Chromium();
        Driver.ExecuteCdpCommand("Emulation.setDeviceMetricsOverride",
            new() { ["width"] = width, ["height"] = height, ["deviceScaleFactor"] = 1, ["mobile"] = false });
        Driver.ExecuteCdpCommand("Emulation.setTimezoneOverride", new() { ["timezoneId"] = "America/Denver" });
        Driver.ExecuteCdpCommand("Network.setCookie", new() { ["name"] = "theme", ["value"] = theme, ["url"] = site.ToString() });
    }

    public Uri Site { get; }

    public ChromeDriver Driver => chromium.Driver;

    /// <summary>Opens a page; on a demonstration, steps aboard first if that was not done yet.</summary>
    public void Open(string path)
    {
        Driver.Navigate().GoToUrl(new Uri(Site, path));
        Ready();
        if (!Driver.Url.Contains("/sign-in", StringComparison.Ordinal) || path.StartsWith("/sign-in", StringComparison.Ordinal)) return;
        Follow("[data-demo]");
        Driver.Navigate().GoToUrl(new Uri(Site, path));
        Ready();
    }

    /// <summary>Waits until the page and its scripts are there.</summary>
    public void Ready() =>
        Until(() => Run<bool>("return document.readyState === 'complete' && (!document.querySelector('script[type=module]') || "
            + "document.documentElement.dataset.ready === 'yes')"), "the page does not get ready");

    /// <summary>Makes the first account of a fresh installation.</summary>
    public void BeFirst(string name = "Robin", string passphrase = "kettle biscuit gravel")
    {
        Driver.Navigate().GoToUrl(new Uri(Site, "/"));
        Find("input[name=name]").SendKeys(name);
        Find("input[name=passphrase]").SendKeys(passphrase);
        Find("input[name=again]").SendKeys(passphrase);
        Follow(".btn-primary");
    }

    public IWebElement Find(string css) => Wait(d => d.FindElements(By.CssSelector(css)).FirstOrDefault(), $"nothing matches {css}");

    public IWebElement Visible(string css) => Wait(d => d.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed), $"nothing visible matches {css}");

    public void Click(string css) => Wait(_ =>
    {
        try
        {
            var target = Visible(css);
            Driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", target); // clear of the bar at the bottom of a phone
            target.Click();
            return this;
        }
        catch (Exception e) when (e is ElementClickInterceptedException or StaleElementReferenceException)
        {
            return null; // a sheet is still rising
        }
    }, $"{css} cannot be clicked");

    /// <summary>Clicks something that leads to another page, and waits until that page is there.</summary>
    public void Follow(string css)
    {
        var page = Driver.FindElement(By.TagName("html"));
        Click(css);
        Wait(_ =>
        {
            try
            {
                return page.Displayed ? null : this;
            }
            catch (WebDriverException)
            {
                return this; // the old page is gone
            }
        }, $"{css} leads nowhere");
        Ready();
    }

    /// <summary>Whether the device keeps a page for when there is no connection.</summary>
    public bool Keeps(string path) =>
        Run<bool>($"caches.open('pages-1').then(c => c.match('{path}')).then(p => {{ window.kept = !!p; }}); return window.kept === true");

    /// <summary>Waits until something is so.</summary>
    public void Until(Func<bool> so, string problem) => Wait(_ =>
    {
        try
        {
            return so() ? this : null;
        }
        catch (WebDriverException)
        {
            return null; // the page is changing under the question
        }
    }, problem);

    public string Text(string css) => Find(css).Text;

    public T Run<T>(string script, params object[] arguments) => (T)Driver.ExecuteScript(script, arguments)!;

    /// <summary>What the page complained of: script errors, refused content, missing files.</summary>
    public IReadOnlyList<string> Complaints() => [.. Driver.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level >= LogLevel.Warning)
        .Select(l => l.Message)];

    public void Dispose()
    {
        try
        {
            chromium.Wipe(Site);
            Idle.Push(chromium);
        }
        catch (WebDriverException)
        {
            chromium.Dispose(); // it no longer answers: the next test starts its own
        }
    }

    private T Wait<T>(Func<IWebDriver, T?> until, string problem) where T : class =>
        new WebDriverWait(Driver, TimeSpan.FromSeconds(15)) { Message = problem, PollingInterval = TimeSpan.FromMilliseconds(40) }.Until(d => until(d))!;
}

/// <summary>One running Chromium with a profile of its own.</summary>
internal sealed class Chromium : IDisposable
{
    private readonly string profile = Directory.CreateTempSubdirectory("tanksophos-profile").FullName;
    private readonly ChromeDriverService service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");

    public Chromium()
    {
        service.SuppressInitialDiagnosticInformation = true;
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-quic", "--no-first-run", "--disable-background-networking",
            "--disable-component-update", "--disable-sync", "--hide-scrollbars", $"--user-data-dir={profile}", "--window-size=1280,800");
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        options.SetLoggingPreference(LogType.Performance, LogLevel.All);
        Driver = new ChromeDriver(service, options, TimeSpan.FromSeconds(60));
    }

    public ChromeDriver Driver { get; }

    /// <summary>Leaves nothing of what a test did.</summary>
    public void Wipe(Uri site)
    {
        while (Driver.WindowHandles.Count > 1) Driver.SwitchTo().Window(Driver.WindowHandles[^1]).Close();
        Driver.SwitchTo().Window(Driver.WindowHandles[0]);
        Driver.Navigate().GoToUrl("about:blank");
        Driver.ExecuteCdpCommand("Network.emulateNetworkConditions",
            new() { ["offline"] = false, ["latency"] = 0, ["downloadThroughput"] = -1, ["uploadThroughput"] = -1 });
        Driver.ExecuteCdpCommand("Network.clearBrowserCookies", []);
        Driver.ExecuteCdpCommand("Network.clearBrowserCache", []);
        Driver.ExecuteCdpCommand("Storage.clearDataForOrigin", new() { ["origin"] = site.GetLeftPart(UriPartial.Authority), ["storageTypes"] = "all" });
        foreach (var log in (string[])[LogType.Browser, LogType.Performance]) Driver.Manage().Logs.GetLog(log);
    }

    public void Dispose()
    {
        Driver.Quit();
        Driver.Dispose();
        service.Dispose();
        Directory.Delete(profile, recursive: true);
    }
}
