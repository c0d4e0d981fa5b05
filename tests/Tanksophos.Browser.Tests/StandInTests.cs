using System.Globalization;
using System.Net;
using System.Net.Sockets;
using NodaTime;
using OpenQA.Selenium;
using Tanksophos.StandIns;

namespace Tanksophos.Browser.Tests;

/// <summary>The rig that logs by itself: every stand-in by its own wire, the knobs turned in their page, and what the program's pages make of it.</summary>
public sealed class StandInTests : IDisposable
{
    private const string Now = "2026-06-09T17:30:00-06:00";
    private const int Speed = 120;

    private readonly string folder = Directory.CreateTempSubdirectory("tanksophos-stand-ins").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private static string N(int number) => number.ToString(CultureInfo.InvariantCulture);

    [Fact]
    public async Task A_rig_logs_by_itself_and_calls_when_the_shower_fills_its_tank()
    {
        var (knobs, broker, mail, inbox) = (FreePort(), FreePort(), FreePort(), Path.Combine(folder, "inbox"));
        using var site = new Site(demo: true, Now, more: ["--speed", N(Speed), "--mqtt-broker", N(broker), "--weather", $"http://127.0.0.1:{N(knobs)}/days",
            "--smtp", $"smtp://127.0.0.1:{N(mail)}", "--smtp-from", "rig@example.org", "--inbox", inbox]);
        using var browser = new Browser(site.Url);
        browser.Open("/");
        string[] names = ["panel-1", "strip-1", "meter-1", "valves-1", "bay-1"];
        var tokens = names.ToDictionary(n => n, n => site.Command("device", n));
        await using var standIns = StandInHost.Build(new Wishes(knobs, site.Url.ToString(), tokens, broker, inbox, mail, Now, Speed, 7), SystemClock.Instance);
        await standIns.StartAsync(TestContext.Current.CancellationToken);
        // Each of them is heard, by its own wire.
        browser.Until(() =>
        {
            browser.Open("/devices");
            return names.All(n => browser.Driver.FindElements(By.CssSelector($"[data-device='{n}'] [data-channel]")).Count > 0);
        }, "a device is not heard");
        // The gray valves are closed and somebody showers, on the page with the knobs.
        browser.Driver.Navigate().GoToUrl($"http://localhost:{N(knobs)}/");
        foreach (var knob in new[] { "valve:bath", "valve:galley", "shower" })
        {
            browser.Click($"[data-knob='{knob}']");
            browser.Until(() => browser.Find($"[data-knob='{knob}']").GetAttribute("aria-pressed")
                == (knob == "shower" ? "true" : "false"), $"{knob} does not turn");
        }
        browser.Complaints().ShouldBeEmpty();
        browser.Open("/");
        browser.Until(() => browser.Driver.FindElements(By.CssSelector("[data-because~=filling]")).Count > 0, "the tank fills unnoticed");
        browser.Visible("[data-alarm] button").Click();
        browser.Until(() => !browser.Find("[data-alarm] button").Displayed, "the alarm was not heard");
        // The belief followed the lights: they came on one after the other.
        browser.Until(() => int.Parse(browser.Text(".tank[data-tank=bath] .level strong").TrimEnd('%', ' '), CultureInfo.InvariantCulture) > 60,
            "the level does not follow");
        browser.Open("/weather");
        browser.Until(() =>
        {
            browser.Open("/weather");
            return browser.Driver.FindElements(By.CssSelector("li[data-source=forecast]")).Count > 10;
        }, "no forecast");
    }
}
