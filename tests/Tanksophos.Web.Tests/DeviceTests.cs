using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Tanksophos.Core.Devices;
using Tanksophos.Core.Log;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests;

/// <summary>What measures at a rig: registered, heard, doubted, made into log entries.</summary>
public sealed class DeviceTests : IDisposable
{
    // Of its own: what measures goes on in the background.
    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    private TResult Store<TResult>(Func<DeviceStore, TResult> use)
    {
        using var scope = app.Services.CreateScope();
        return use(scope.ServiceProvider.GetRequiredService<DeviceStore>());
    }

    private string NewToken(bool mayLog)
    {
        using var scope = app.Services.CreateScope();
        return scope.ServiceProvider.GetRequiredService<PeopleStore>().NewToken(1, "gateway", mayLog
            ? TokenScopes.Read | TokenScopes.Log | TokenScopes.Devices : TokenScopes.Read);
    }

    private async Task<string> RegisterAsync(string name)
    {
        var (status, html) = await app.PostAsync("/devices", "/devices?handler=Add", ("name", name));
        status.ShouldBe(HttpStatusCode.OK);
        return html.Dom().QuerySelector("[data-made] input")!.GetAttribute("value")!;
    }

    private async Task<(HttpStatusCode Status, JsonElement Said)> SendAsync(string? token, string json)
    {
        using var client = app.Visitor();
        if (token is not null) client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        using var content = new StringContent(json, Encoding.UTF8, "application/json");
        using var response = await client.PostAsync(new Uri("/api/v1/measurements", UriKind.Relative), content);
        return (response.StatusCode, JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement);
    }

    private static string Message(string device, Instant at, string values) => $$"""{"device":"{{device}}","at":"{{at}}","values":{{values}}}""";

    private static string Value(string channel, string quantity, double number) => $$"""{"{{channel}}":{"{{quantity}}":{{number}} } }""";

    private static string Panel(double percent) => Value("galley", "percent", percent);

    private static string Flow(double litres) => Value("flow", "litersTotal", litres);

    private List<LogEntry> Logged(string device) =>
        app.With(s => s.Log.All(1).Where(e => e.Id?.StartsWith($"{device}-", StringComparison.Ordinal) == true).ToList());

    internal static async Task UntilAsync(Func<bool> so, string what)
    {
        for (var i = 0; i < 1600 && !so(); i++) await Task.Delay(25);
        so().ShouldBeTrue(what);
    }

    [Fact]
    public async Task A_registered_device_logs_by_itself_and_a_message_sent_twice_counts_once()
    {
        var token = await RegisterAsync("panel-1");
        var now = app.Clock.GetCurrentInstant();
        var messages = Enumerable.Range(0, 200).Select(i => Message("panel-1", now - Duration.FromSeconds(2000 - 10 * i), Panel(40 + i / 100))).ToList();
        var (status, said) = await SendAsync(token, $"[{string.Join(',', messages)}]");
        status.ShouldBe(HttpStatusCode.Accepted);
        said.GetProperty("accepted").GetInt32().ShouldBe(200);
        said.GetProperty("refused").GetArrayLength().ShouldBe(0);
        await UntilAsync(() => Logged("panel-1").Count == 1, "one entry of two hundred measurements");
        Logged("panel-1")[0].ShouldBeOfType<ReadingEntry>().Percent.ShouldBe(40);
        // The answer got lost on the way: all of it comes once more.
        (await SendAsync(token, $"[{string.Join(',', messages)}]")).Status.ShouldBe(HttpStatusCode.Accepted);
        await UntilAsync(() => Store(s => s.Of(1)[0].Taken) == 200, "taken once");
        app.Clock.Advance(Duration.FromHours(2));
        await SendAsync(token, Message("panel-1", app.Clock.GetCurrentInstant(), Panel(60)));
        await UntilAsync(() => Logged("panel-1").Count == 2, "the level moved");
        var page = await app.GetAsync("/devices");
        page.ShouldShow("[data-device=panel-1][data-taken='201'][data-refused='0'] [data-channel=galley] option[value='panel:galley'][selected]");
        (await app.GetAsync("/logbook")).ShouldContain("panel-1");
    }

    [Fact]
    public async Task What_is_wrong_is_refused_with_its_reason_on_the_devices_page_and_the_rest_goes_on()
    {
        var token = await RegisterAsync("panel-1");
        var now = app.Clock.GetCurrentInstant();
        var (status, said) = await SendAsync(token, $$"""
            [ {{Message("panel-1", now, Panel(42))}}, {{Message("panel-1", now + Duration.FromHours(3), Panel(42))}},
              {{Message("panel-1", now, Panel(42000))}}, {{Message("panel-2", now, Panel(42))}}, {{Message("panel-1", now, """{"black":{"lit":["attic"]}}""")}},
              "half a line" ]
            """);
        status.ShouldBe(HttpStatusCode.Accepted);
        said.GetProperty("accepted").GetInt32().ShouldBe(1);
        said.GetProperty("refused").EnumerateArray().Select(r => (r.GetProperty("index").GetInt32(), r.GetProperty("path").GetString()))
            .ShouldBe([(1, "at"), (2, "values.galley.percent"), (3, "device"), (4, "values.black.lit"), (5, "")]);
        var page = await app.GetAsync("/devices");
        page.ShouldShow("[data-device=panel-1][data-taken='1'] [data-refusal='values.galley.percent']");
        page.ShouldShow("[data-refusal='values.black.lit']");
        foreach (var half in new[] { "{", "", "7" }) (await SendAsync(token, half)).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await SendAsync(token, $"[{string.Join(',', Enumerable.Repeat("{}", 1001))}]")).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await SendAsync(token, new string(' ', 3 << 20))).Status.ShouldBe(HttpStatusCode.RequestEntityTooLarge);
    }

    [Fact]
    public async Task A_devices_token_does_nothing_but_its_own()
    {
        var token = await RegisterAsync("meter-1");
        using var client = app.Visitor();
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        foreach (var path in new[] { "/api/v1/logbook", "/api/v1/assessment", "/api/v1/agenda" })
            (await client.GetAsync(new Uri(path, UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        using var entry = new StringContent("""{"type":"odor","at":"2026-06-09T12:00:00-06:00"}""", Encoding.UTF8, "application/json");
        (await client.PostAsync(new Uri("/api/v1/entries", UriKind.Relative), entry)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        foreach (var wrong in new[] { null, "", "tkd_0000", "tks_" + token[4..], token + "0" })
            (await SendAsync(wrong, Message("meter-1", app.Clock.GetCurrentInstant(), Flow(1)))).Status
                .ShouldBe(HttpStatusCode.Unauthorized);
        // A token that may only read is no way in; a new token ends the old one.
        var reader = NewToken(mayLog: false);
        (await SendAsync(reader, Message("meter-1", app.Clock.GetCurrentInstant(), Flow(1)))).Status
            .ShouldBe(HttpStatusCode.Forbidden);
        var renewed = await RegisterAsync("meter-1");
        (await SendAsync(token, Message("meter-1", app.Clock.GetCurrentInstant(), Flow(1)))).Status
            .ShouldBe(HttpStatusCode.Unauthorized);
        (await SendAsync(renewed, Message("meter-1", app.Clock.GetCurrentInstant(), Flow(1)))).Status
            .ShouldBe(HttpStatusCode.Accepted);
    }

    [Fact]
    public async Task An_unknown_device_waits_until_it_is_accepted_and_one_that_is_ignored_is_not_heard()
    {
        var gadget = NewToken(mayLog: true);
        var now = app.Clock.GetCurrentInstant();
        (await SendAsync(gadget, Message("strip-9", now, Panel(50)))).Status.ShouldBe(HttpStatusCode.Accepted);
        (await app.GetAsync("/devices")).ShouldShow("[data-waiting='1'] [data-device=strip-9]");
        var id = Store(s => s.Of(1))[0].Id;
        Logged("strip-9").ShouldBeEmpty();
        await app.PostAsync("/devices", "/devices?handler=State", ("id", $"{id}"), ("accept", "true"));
        await SendAsync(gadget, Message("strip-9", now + Duration.FromSeconds(5), Panel(50)));
        await UntilAsync(() => Logged("strip-9").Count == 1, "accepted, it logs");
        // It turns out to hang in the other tank.
        await app.PostAsync("/devices", "/devices?handler=Bind", ("id", $"{id}"), ("channel", "galley"), ("what", "panel:bath"));
        Store(s => s.Of(1))[0].Bindings.ShouldBe([new DeviceBinding("galley", BindingKind.Panel, "bath")]);
        (await app.PostAsync("/devices", "/devices?handler=Bind", ("id", $"{id}"), ("channel", "galley"), ("what", "panel:attic"))).Status
            .ShouldBe(HttpStatusCode.BadRequest);
        await app.PostAsync("/devices", "/devices?handler=State", ("id", $"{id}"), ("accept", "false"));
        await SendAsync(gadget, Message("strip-9", now + Duration.FromSeconds(90), Panel(90)));
        Store(s => s.Of(1))[0].Taken.ShouldBe(1);
        await app.PostAsync("/devices", "/devices?handler=Remove", ("id", $"{id}"));
        Store(s => s.Of(1)).ShouldBeEmpty();
        Logged("strip-9").Count.ShouldBe(1, "what it logged stays");
        // A flood of names fills no list.
        for (var i = 0; i < 3; i++)
            await SendAsync(gadget, $"[{string.Join(',', Enumerable.Range(0, 30).Select(n => Message($"flood-{i}-{n}", now, Panel(1))))}]");
        Store(s => s.Of(1)).Count.ShouldBe(DeviceStore.MostWaiting);
    }

    [Fact]
    public async Task A_meter_writes_starter_water_but_not_while_a_run_goes_on()
    {
        var token = await RegisterAsync("hose");
        var now = app.Clock.GetCurrentInstant();
        async Task RunWaterAsync(Instant at, double from)
        {
            for (var i = 0; i < 5; i++) await SendAsync(token, Message("hose", at + Duration.FromSeconds(5 * i), Flow(from + 3 * i)));
            await SendAsync(token, Message("hose", at + Duration.FromSeconds(90), Flow(from + 12)));
        }
        await RunWaterAsync(now, 100);
        await UntilAsync(() => Logged("hose").Count == 1, "a flow is over");
        Logged("hose")[0].ShouldBeOfType<WaterEntry>().WaterL.ShouldBe(12);
        await app.PostAsync("/run", "/run?handler=Start", ("form", "full"));
        using (var scope = app.Services.CreateScope()) scope.ServiceProvider.GetRequiredService<RunStore>().Active(1).ShouldNotBeNull();
        app.Clock.Advance(Duration.FromMinutes(10));
        await RunWaterAsync(now + Duration.FromMinutes(5), 112);
        await UntilAsync(() => Store(s => s.Of(1))[0].Channels["flow"] is { Total: 124, FlowFrom: null }, "gone over");
        Logged("hose").Count.ShouldBe(1);
        // The run's page counts by it.
        var page = await app.GetAsync("/run/1");
        var meter = page.Dom().QuerySelector("[data-run]")!.GetAttribute("data-meter")!;
        async Task<double?> AskAsync(string tank, Instant from)
        {
            var answer = await app.Client.GetStringAsync(new Uri($"{meter}&tank={tank}&from={from.ToUnixTimeMilliseconds()}", UriKind.Relative));
            var litres = JsonDocument.Parse(answer).RootElement.GetProperty("litres");
            return litres.ValueKind == JsonValueKind.Null ? null : litres.GetDouble();
        }
        (await AskAsync("black", now - Duration.FromHours(1))).ShouldBe(24);
        (await AskAsync("black", now + Duration.FromMinutes(3))).ShouldBe(12);
        (await AskAsync("black", now + Duration.FromMinutes(5) + Duration.FromSeconds(11))).ShouldBe(6);
        foreach (var (tank, from) in new[] { ("bath", now), ("attic", now), ("black", now + Duration.FromHours(9)),
            ("black", Instant.FromUnixTimeSeconds(-9)) })
            (await AskAsync(tank, from)).ShouldBeNull(tank);
        // A meter that fell silent counts nothing: half a count is worse than none.
        app.Clock.Advance(Duration.FromMinutes(10));
        (await AskAsync("black", now)).ShouldBeNull();
        // The last water of the run is known to be over only after the run is: the run has it already. Later water is nobody's.
        using (var scope = app.Services.CreateScope())
        {
            var ended = (now + Duration.FromMinutes(12)).ToUnixTimeTicks();
            scope.ServiceProvider.GetRequiredService<TanksophosContext>().Database.ExecuteSql($"UPDATE Runs SET EndedAt = {ended}");
        }
        await RunWaterAsync(now + Duration.FromMinutes(11) + Duration.FromSeconds(45), 124);
        await UntilAsync(() => Store(s => s.Of(1))[0].Channels["flow"] is { Total: 136, FlowFrom: null }, "gone over");
        Logged("hose").Count.ShouldBe(1);
        await RunWaterAsync(now + Duration.FromMinutes(15), 136);
        await UntilAsync(() => Logged("hose").Count == 2, "water after the run");
    }

    [Fact]
    public async Task Old_measurements_go_and_leave_their_hours()
    {
        var token = await RegisterAsync("bay");
        var start = app.Clock.GetCurrentInstant();
        for (var i = 0; i < 4; i++) await SendAsync(token, Message("bay", start + Duration.FromMinutes(i), Value("bay", "celsius", 2 + i)));
        Store(s => s.Tidy()).ShouldBe(0);
        app.Clock.Advance(Duration.FromDays(8));
        Store(s => s.Tidy()).ShouldBe(4);
        Store(s => s.Tidy()).ShouldBe(0);
        var hour = Store(s => s.Hours(s.Of(1)[0].Id, "bay", start - Duration.FromHours(1))).ShouldHaveSingleItem();
        (hour.Least, hour.Mean, hour.Most).ShouldBe((2.0, 3.5, 5.0));
        app.Clock.Advance(DeviceStore.HoursKept);
        Store(s => s.Tidy());
        Store(s => s.Hours(s.Of(1)[0].Id, "bay", start - Duration.FromHours(1))).ShouldBeEmpty();
    }
}
