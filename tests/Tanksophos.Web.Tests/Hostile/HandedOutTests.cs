using System.IO.Compression;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Json.Schema;
using Microsoft.Extensions.DependencyInjection;
using Tanksophos.Cli;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests.Hostile;

/// <summary>Whatever pages, API and command line hand out for the demonstration keeps to our own schemas, and is taken back.</summary>
public sealed class HandedOutTests : IDisposable
{
    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    private static readonly Lazy<Dictionary<string, JsonSchema>> Schemas = new(() => new[] { "logbook", "trip", "plan", "scenario", "assessment" }
        .ToDictionary(n => n, n => JsonSchema.FromText(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "format", n + ".schema.json")))));

    private static void Fits(string schema, byte[] document, string what)
    {
        using var json = JsonDocument.Parse(document);
        var result = Schemas.Value[schema].Evaluate(json.RootElement, new EvaluationOptions { OutputFormat = OutputFormat.List });
        result.IsValid.ShouldBeTrue($"{what}: "
            + $"{string.Join("; ", (result.Details ?? []).Where(d => d.Errors is { Count: > 0 }).Take(4).Select(d => $"{d.InstanceLocation} {string.Join(",",
                d.Errors!.Values)}"))}");
    }

    private async Task<byte[]> GetAsync(string path, string? token = null)
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, path);
        if (token is not null) request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        using var response = await app.Client.SendAsync(request);
        response.EnsureSuccessStatusCode();
        return await response.Content.ReadAsByteArrayAsync();
    }

    [Fact]
    public async Task Every_document_of_the_demonstration_fits_its_schema_and_comes_back()
    {
        string token;
        using (var scope = app.Services.CreateScope()) token = scope.ServiceProvider.GetRequiredService<PeopleStore>().NewToken(1, "x", TokenScopes.Read);
        var logbook = await GetAsync("/export/logbook");
        Fits("logbook", logbook, "export");
        Fits("logbook", await GetAsync("/api/v1/logbook", token), "API");
        Fits("assessment", await GetAsync("/api/v1/assessment", token), "API");
        var trip = await GetAsync("/trip?handler=Document");
        Fits("trip", trip, "trip");
        Fits("plan", await GetAsync("/trip?handler=Plan"), "plan");
        using (var zip = new ZipArchive(new MemoryStream(await GetAsync("/export/everything"))))
        using (var within = new MemoryStream())
        {
            await zip.GetEntry("logbook.json")!.Open().CopyToAsync(within);
            Fits("logbook", within.ToArray(), "everything");
        }
        Fits("assessment", Commands.Assess(logbook, false).Line, "assess");
        Fits("plan", Commands.Plan(trip, false).Line, "plan on the command line");
        var rig = JsonDocument.Parse(logbook).RootElement.GetProperty("rig").GetRawText();
        var scenario = Encoding.UTF8.GetBytes($$"""{"format":"tanksophos-scenario","version":1,"seed":7,"days":5,"rig":{{rig}},"faults":[]}""");
        Fits("scenario", scenario, "scenario");
        var season = Commands.Simulate(scenario, false);
        season.Failed.ShouldBeFalse();
        Fits("logbook", season.Line, "simulate");
        foreach (var (document, name) in new[] { (logbook, "logbook.json"), (season.Line, "season.json"), (await GetAsync("/export/entries"), "entries.csv"),
            (await GetAsync("/export/readings"), "readings.csv") })
        {
            var (status, html) = await app.UploadAsync(document, name, name.EndsWith("csv", StringComparison.Ordinal) ? "1" : "new");
            ((int)status).ShouldBe(200, name + html);
        }
    }
}
