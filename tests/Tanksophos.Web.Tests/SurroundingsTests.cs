using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests;

/// <summary>What devices tell of a rig's surroundings reaches the agenda, and from there every page alike.</summary>
public sealed class SurroundingsTests : IDisposable
{
    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    private TResult With<T, TResult>(Func<T, TResult> use) where T : notnull
    {
        using var scope = app.Services.CreateScope();
        return use(scope.ServiceProvider.GetRequiredService<T>());
    }

    private string Register(string name) => With<DeviceStore, string>(s => s.Register(1, name)!);

    private async Task SendAsync(string token, params string[] measurements)
    {
        using var client = app.Visitor();
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        using var content = new StringContent($"[{string.Join(',', measurements)}]", Encoding.UTF8, "application/json");
        using var answer = await client.PostAsync(new Uri("/api/v1/measurements", UriKind.Relative), content);
        JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement.GetProperty("accepted").GetInt32().ShouldBe(measurements.Length);
    }

    private string At(string device, Duration ago, string values) =>
        string.Create(CultureInfo.InvariantCulture, $$"""{"device":"{{device}}","at":"{{app.Clock.GetCurrentInstant() - ago}}","values":{{values}}}""");

    private OffsetDateTime Ago(int minutes) => (app.Clock.GetCurrentInstant() - Duration.FromMinutes(minutes)).WithOffset(Offset.Zero);

    private void Log(LogEntry entry) => app.With(s => s.Writer.Record(1, [entry], "Robin"));

    private Around Around() => With<IServiceProvider, Around>(s =>
    {
        var store = s.GetRequiredService<RigStore>();
        var rig = store.Find(1)!;
        return s.GetRequiredService<Surroundings>().Of(rig, s.GetRequiredService<RigCache>().Now(rig, store));
    });

    private Task KnownAsync(string device, Func<Core.Devices.ChannelState, bool> so) => DeviceTests.UntilAsync(() =>
        With<DeviceStore, bool>(s => s.Of(1).Single(d => d.Name == device).Channels.Values.Any(so)), $"{device} is not gone over");

    [Fact]
    public async Task A_cold_bay_is_first_on_today_and_the_same_on_care_and_weather()
    {
        var token = Register("bay-1");
        await SendAsync(token, At("bay-1", Duration.FromMinutes(5), """{"bay":{"celsius":1.0},"outside":{"celsius":-4}}"""));
        await KnownAsync("bay-1", c => c.LastAt > 0);
        Around().Weather!.ShouldSatisfyAllConditions(w => w.BayC.ShouldBe(1.0), w => w.OutsideHighC.ShouldBe(-4), w => w.BayIsCold.ShouldBeTrue());
        (await app.GetAsync("/")).ShouldShow("[data-agenda=care]");
        (await app.GetAsync("/care")).ShouldShow("[data-chore=frost][data-state=due]");
        (await app.GetAsync("/weather")).ShouldShow("[data-frost=due] .btn");
        // A thermometer that is not heard any more says nothing of now.
        app.Clock.Advance(Duration.FromHours(2));
        Around().Weather.ShouldBeNull();
        (await app.GetAsync("/weather")).ShouldShow("[data-frost=none]");
    }

    [Fact]
    public async Task While_gas_is_smelled_nothing_else_is_asked_for_on_the_page_of_the_weather()
    {
        var token = Register("bay-1");
        await SendAsync(token, At("bay-1", Duration.FromMinutes(5), """{"bay":{"celsius":1.0} }"""));
        await KnownAsync("bay-1", c => c.LastAt > 0);
        (await app.GetAsync("/weather")).ShouldShow("[data-frost=due]");
        Log(new OdorEntry { Id = "gas", At = Ago(0), Where = Enum.GetValues<OdorPlace>()[0], Smell = Smell.Gas, Strength = 3 });
        var agenda = With<IServiceProvider, Core.Agendas.Agenda>(services =>
        {
            var store = services.GetRequiredService<RigStore>();
            var picture = services.GetRequiredService<RigCache>().Now(store.Find(1)!, store);
            return Core.Agendas.Court.Decide(AgendaService.SituationOf(picture, null, Words.Units.Us, Around()));
        });
        agenda.Items.ShouldHaveSingleItem().Code.ShouldBe(Core.Agendas.AgendaCode.Evacuate);
        (await app.GetAsync("/weather")).ShouldNotShow("[data-frost=due]");
    }

    [Fact]
    public async Task A_device_that_fell_silent_is_on_today_and_leads_to_its_page()
    {
        var token = Register("strip-1");
        await SendAsync(token, [.. Enumerable.Range(0, 6).Select(i => At("strip-1", Duration.FromSeconds(60 - 10 * i), """{"galley":{"percent":42} }"""))]);
        await KnownAsync("strip-1", c => c.Every > 0);
        Around().Silent.ShouldBeEmpty();
        app.Clock.Advance(Duration.FromMinutes(50));
        Around().Silent.ShouldBeEmpty("an hour may pass");
        app.Clock.Advance(Duration.FromMinutes(30));
        Around().Silent.ShouldHaveSingleItem().ShouldSatisfyAllConditions(s => s.Device.ShouldBe("strip-1"), s => s.Tanks.ShouldBe(["galley"]));
        var today = (await app.GetAsync("/")).Dom();
        today.QuerySelectorAll("main a[href='/devices']").Length.ShouldBeGreaterThan(0);
        // Whoever knows that it is gone says so, and is not asked any more.
        With<DeviceStore, bool>(s => s.Set(1, s.Of(1)[0].Id, DeviceState.Ignored)).ShouldBeTrue();
        Around().Silent.ShouldBeEmpty();
    }

    [Fact]
    public async Task A_tank_that_fills_rings_on_today_and_nowhere_once_its_valve_is_open()
    {
        var token = Register("strip-1");
        // The galley valve is open in the demonstration: what rises there drains.
        Log(new ValveEntry { Id = "shut", At = Ago(30), Tank = "galley", State = ValveState.Closed });
        await SendAsync(token, [.. Enumerable.Range(0, 40).Select(i => At("strip-1", Duration.FromSeconds(400 - 10 * i),
            string.Create(CultureInfo.InvariantCulture, $$"""{"galley":{"percent":{{60 + i}} } }""")))]);
        await KnownAsync("strip-1", c => c.Last == "99");
        Around().Filling.ShouldBe(["galley"]);
        var today = await app.GetAsync("/");
        today.ShouldShow("[data-alarm=galley] button");
        today.ShouldShow("[data-agenda=stop-water][data-because~=filling]");
        Log(new ValveEntry { Id = "open", At = Ago(0), Tank = "galley", State = ValveState.Open });
        (await app.GetAsync("/")).ShouldNotShow("[data-alarm]");
    }

    [Fact]
    public async Task The_heat_that_was_measured_doubles_the_dose_wherever_it_is_told()
    {
        string[] Doubled(string html) => [.. html.Dom().QuerySelectorAll("[data-heat]").Select(e => e.GetAttribute("data-heat")!)];
        Doubled(await app.GetAsync("/weather")).ShouldNotContain("unknown");
        var token = Register("roof-1");
        await SendAsync(token, At("roof-1", Duration.FromMinutes(5), """{"outside":{"celsius":36} }"""));
        await KnownAsync("roof-1", c => c.DayMost == 36);
        Doubled(await app.GetAsync("/weather")).ShouldBe(["hot"]);
        With<IServiceProvider, double?>(_ => Around().Weather!.OutsideHighC).ShouldBe(36);
        // The calculator takes the same heat.
        (await app.GetAsync("/treatments/enzyme")).ShouldContain("97 F");
    }

    [Theory]
    [InlineData("outside", "Outside")]
    [InlineData("bay", "Thermometer")]
    [InlineData("fridge", "Thermometer")]
    public async Task A_thermometer_is_taken_for_what_its_name_says_until_somebody_says_otherwise(string channel, string kind)
    {
        var token = Register("t-1");
        await SendAsync(token, At("t-1", Duration.FromMinutes(1), $$"""{"{{channel}}":{"celsius":7} }"""));
        With<DeviceStore, string>(s => s.Of(1)[0].Bindings[0].Kind.ToString()).ShouldBe(kind);
        var id = With<DeviceStore, int>(s => s.Of(1)[0].Id);
        (await app.PostAsync("/devices", "/devices?handler=Bind", ("id", $"{id}"), ("channel", channel), ("what", "unused")))
            .Status.ShouldBe(HttpStatusCode.OK);
        await KnownAsync("t-1", c => c.LastAt > 0);
        Around().Weather.ShouldBeNull();
    }
}
