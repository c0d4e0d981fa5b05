using System.Net;
using System.Net.Http.Json;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests.Hostile;

/// <summary>Runs that somebody forgot, and poured without end: what is written can be read, and says no more than is known.</summary>
public sealed class RunBoundsTests : IDisposable
{
    private readonly App app = App.Demo(own: true);
    private int number;

    public void Dispose() => app.Dispose();

    private StoredRun Run
    {
        get
        {
            using var scope = app.Services.CreateScope();
            return scope.ServiceProvider.GetRequiredService<RunStore>().Find(1, 1)!;
        }
    }

    private async Task PressAsync(RunPress press, params (string Field, string Value)[] said)
    {
        var state = Run.State;
        using var request = new HttpRequestMessage(HttpMethod.Post, "/run/1?handler=Taps&rig=1")
        {
            Content = JsonContent.Create(new
            {
                taps = new[] { new { key = $"k{++number}", at = app.Clock.GetCurrentInstant().ToUnixTimeMilliseconds(),
                step = state.Step.Id, round = state.Round, press = Codes<RunPress>.Word(press), said = said.ToDictionary(s => s.Field, s => s.Value) } }
            }),
        };
        request.Headers.Add("RequestVerificationToken", await app.TokenAsync("/account"));
        using var response = await app.Client.SendAsync(request);
        response.StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    private async Task SkipToAsync(RunStepKind kind)
    {
        while (Run.State.Step.Kind != kind) await PressAsync(Run.State.Step.Kind == RunStepKind.Valves ? RunPress.Done : RunPress.Skip);
    }

    private async Task EverythingReadsAsync()
    {
        foreach (var page in new[] { "/", "/logbook", "/run", "/find", "/export/logbook", "/export/entries", "/set-aside" })
            (await app.Client.GetAsync(new Uri(page, UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.OK, page);
        (await app.GetAsync("/set-aside")).ShouldNotContain("data-row");
        var path = Path.Combine(app.Folder, "staging", "x.db");
        new SafeKeeping(new DataFolder(app.Folder)).Write(path);
        new SafeKeeping(new DataFolder(app.Folder)).Restore(path, App.Start).Unreadable.ShouldBeEmpty();
    }

    [Fact]
    public async Task A_drain_that_was_answered_30_hours_later_has_no_known_minutes()
    {
        await app.PostAsync("/run", "/run?handler=Start", ("form", "full"));
        await SkipToAsync(RunStepKind.Drain);
        await PressAsync(RunPress.Open);
        app.Clock.Advance(Duration.FromHours(30));
        await PressAsync(RunPress.Steady);
        await PressAsync(RunPress.BreakOff);
        var dump = app.With(s => s.Log.All(1)).OfType<DumpEntry>().Last();
        (dump.Flow, dump.Minutes).ShouldBe((DumpFlow.Steady, null));
        await EverythingReadsAsync();
    }

    [Fact]
    public async Task Sixty_pours_and_water_left_on_for_days_are_written_as_what_a_reader_takes()
    {
        await app.PostAsync("/run", "/run?handler=Start", ("form", "full"), ("method", "bucket"));
        await SkipToAsync(RunStepKind.Pour);
        var state = Run.State;
        using (var scope = app.Services.CreateScope())
            scope.ServiceProvider.GetRequiredService<RunStore>()
                .Tap(1, 1, [.. Enumerable.Range(0, 60)
                .Select(i => new RunEvent($"pour{i}", app.Clock.GetCurrentInstant(), state.Step.Id, state.Round, RunPress.Poured,
                new Dictionary<string, string> { ["litres"] = "1999" }))], "Demo")!.Fates.Count.ShouldBe(60);
        app.Clock.Advance(Duration.FromDays(3));
        await PressAsync(RunPress.BreakOff);
        app.With(s => s.Log.All(1)).OfType<FlushEntry>().Last().Cycles.Max(c => c.WaterL ?? 0).ShouldBeLessThanOrEqualTo(StepRecord.MaxLitres);
        await EverythingReadsAsync();
    }
}
