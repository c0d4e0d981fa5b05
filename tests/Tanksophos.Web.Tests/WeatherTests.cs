using System.Net;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using NodaTime;
using Tanksophos.Core.Weather;
using Tanksophos.Data;
using Tanksophos.StandIns;
using Tanksophos.Web.Devices;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests;

/// <summary>The weather: asked for, kept, shown, and what a service that is not well cannot do.</summary>
public sealed class WeatherTests : IDisposable
{
    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    private sealed class Source : IWeatherSource
    {
        public List<string> Asked { get; } = [];

        public double LowC { get; set; } = 8;

        public bool Away { get; set; }

        public Task<PlaceForecast> AskAsync(string place, LocalDate from, int days, Instant now, CancellationToken stop)
        {
            Asked.Add(place);
            return Away ? throw new HttpRequestException("nobody there")
                : Task.FromResult(new PlaceForecast(place, now, [.. Enumerable.Range(0, days).Select(i => new WeatherDay(from.PlusDays(i), LowC, LowC + 12))]));
        }
    }

    private WeatherFeed Feed(IWeatherSource source) => new(source, app.Services.GetRequiredService<IServiceScopeFactory>(), app.Clock,
        app.Services.GetRequiredService<PlanMemory>(), app.Services.GetRequiredService<LogBell>(), app.Services.GetRequiredService<ILogger<WeatherFeed>>());

    [Fact]
    public async Task Where_the_rig_is_and_goes_is_asked_for_and_what_came_stays_when_nobody_answers()
    {
        (await app.GetAsync("/weather")).ShouldShow("[data-none]");
        var source = new Source();
        using var feed = Feed(source);
        await feed.AskAsync(default);
        source.Asked.ShouldContain("Cinder Flat");
        source.Asked.Count.ShouldBe(source.Asked.Distinct().Count());
        var page = await app.GetAsync("/weather");
        page.ShouldShow("li[data-source=forecast]");
        page.ShouldShow("[data-frost=none]");
        var before = source.Asked.Count;
        await feed.AskAsync(default);
        source.Asked.Count.ShouldBe(before, "what is fresh is not asked for again");
        // A day without an answer.
        app.Clock.AdvanceHours(30);
        source.Away = true;
        await feed.AskAsync(default);
        page = await app.GetAsync("/weather");
        page.ShouldShow("li[data-source=last-known]");
        page.ShouldShow("li[data-try=failed]");
        app.Clock.AdvanceMinutes(20);
        (source.Away, source.LowC) = (false, -4);
        await feed.AskAsync(default);
        (await app.GetAsync("/weather")).ShouldShow("[data-frost=due]");
        (await app.GetAsync("/care")).ShouldShow("[data-chore=frost]");
        // Done, it is not asked for again tonight, on no page.
        (await app.PostAsync("/care", "/care?handler=Done", ("chore", "frost"), ("result", "done"))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/weather")).ShouldShow("[data-frost=done]");
        (await app.GetAsync("/")).ShouldNotShow("[data-chore=frost]");
    }

    [Fact]
    public async Task The_months_fill_in_where_there_is_no_forecast()
    {
        var fields = Enumerable.Range(1, 12).SelectMany(m => new[] { ("high", m == 6 ? "95" : ""), ("low", m == 6 ? "60 F" : "") }).ToArray();
        (await app.PostAsync("/weather", "/weather?handler=Climate", fields)).Status.ShouldBe(HttpStatusCode.OK);
        var page = await app.GetAsync("/weather");
        page.ShouldShow("li[data-source=climate] rect[data-hot=yes]");
        // Half a month, a night warmer than its day, no number at all: refused, and what was typed is still there.
        foreach (var (high, low) in new[] { ("95", ""), ("40", "60"), ("warm", "cold"), ("400", "20") })
        {
            fields[0] = ("high", high);
            fields[1] = ("low", low);
            var (_, html) = await app.PostAsync("/weather", "/weather?handler=Climate", fields);
            html.ShouldShow("[role=alert]");
            html.ShouldContain($"value=\"{high}\"");
        }
        using var scope = app.Services.CreateScope();
        scope.ServiceProvider.GetRequiredService<WeatherStore>().Climate(1)[5]!.HighC.ShouldBe(35, 0.1);
    }

    [Theory]
    [InlineData("ftp://x/days")]
    [InlineData("/days")]
    [InlineData("http://x/days?key=1")]
    public void An_address_that_is_none_is_refused_at_the_start(string address)
    {
        WeatherService.Of(address, out var wrong).ShouldBeNull();
        wrong.ShouldStartWith("--weather");
    }

    [Fact]
    public async Task The_stand_ins_serve_weather_and_turn_knobs()
    {
        var port = DeviceWireTests.FreePort();
        await using var standIns = StandInHost.Build(new Wishes(port, "http://127.0.0.1:9", new Dictionary<string, string>(), null, null, null,
            "2026-06-09T17:30:00-06:00", 1, 7), SystemClock.Instance);
        await standIns.StartAsync();
        using var service = WeatherService.Of($"http://127.0.0.1:{port}/days", out _)!;
        var day = new LocalDate(2026, 6, 9);
        var said = await service.AskAsync("Tin Mesa", day, 5, app.Clock.GetCurrentInstant(), default);
        (said.Place, said.Days.Count, said.Days[0].Date).ShouldBe(("Tin Mesa", 5, day));
        said.Days.ShouldAllBe(d => !d.Freezes);
        using var http = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{port}") };
        async Task<HttpStatusCode> Turn(string knob, bool leave = true)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, $"/knob?name={Uri.EscapeDataString(knob)}&on=true");
            if (leave) request.Headers.Add("X-Knob", "1");
            return (await http.SendAsync(request)).StatusCode;
        }
        (await Turn("freeze", leave: false)).ShouldBe(HttpStatusCode.BadRequest);
        (await Turn("no-such-knob")).ShouldBe(HttpStatusCode.NotFound);
        foreach (var knob in new[] { "freeze", "shower", "hose", "guests", "heat", "battery", "valve:bath", "foul:black/low", "plug:panel-1" })
            (await Turn(knob)).ShouldBe(HttpStatusCode.NoContent, knob);
        (await service.AskAsync("Tin Mesa", day, 5, app.Clock.GetCurrentInstant(), default)).Days.ShouldAllBe(d => d.Freezes);
        (await http.GetStringAsync("/")).ShouldContain("data-knob=\"shower\"");
        using var elsewhere = WeatherService.Of($"http://127.0.0.1:{port}/state", out _)!;
        (await Should.ThrowAsync<HttpRequestException>(() => elsewhere.AskAsync("Tin Mesa", day, 5, app.Clock.GetCurrentInstant(), default)))
            .Message.ShouldContain("days");
        await standIns.StopAsync();
        await Should.ThrowAsync<HttpRequestException>(() => service.AskAsync("Tin Mesa", day, 5, app.Clock.GetCurrentInstant(), default));
    }
}
