using System.Net;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests;

/// <summary>Presses that are none. Nothing is taken, so one application serves all.</summary>
public sealed class RunRefusalTests(SharedDemo app) : IClassFixture<SharedDemo>
{
    private async Task<(HttpStatusCode Status, JsonElement Json)> SendAsync(string body)
    {
        // One run is under way; beginning again leads to it.
        (await app.Instance.PostAsync("/run", "/run?handler=Start", ("form", "full"))).Status.ShouldBe(HttpStatusCode.OK);
        using var request = new HttpRequestMessage(HttpMethod.Post,
            "/run/1?handler=Taps&rig=1")
        { Content = new StringContent(body, Encoding.UTF8, "application/json") };
        request.Headers.Add("RequestVerificationToken", await app.Instance.TokenAsync("/account"));
        using var response = await app.Instance.Client.SendAsync(request);
        return (response.StatusCode, JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement);
    }

    [Theory]
    [InlineData("", "accepted is JSON")]
    [InlineData("[]", "expected an object")]
    [InlineData("{}", "taps: ")]
    [InlineData("{\"taps\":{}}", "taps: ")]
    [InlineData("{\"taps\":[5]}", "taps[0]: ")]
    [InlineData("{\"taps\":[{\"key\":\"a\",\"at\":\"noon\",\"step\":\"gloves\",\"round\":0,\"press\":\"done\"}]}", "taps[0].at")]
    [InlineData("{\"taps\":[{\"key\":\"a\",\"at\":1e300,\"step\":\"gloves\",\"round\":0,\"press\":\"done\"}]}", "taps[0].at")]
    [InlineData("{\"taps\":[{\"key\":\"a\",\"at\":5,\"round\":0,\"press\":\"done\"}]}", "taps[0].step")]
    [InlineData("{\"taps\":[{\"key\":\"a\",\"at\":5,\"step\":\"gloves\",\"round\":1.5,\"press\":\"done\"}]}", "taps[0].round")]
    [InlineData("{\"taps\":[{\"key\":\"a\",\"at\":5,\"step\":\"gloves\",\"round\":0,\"press\":\"jumped\"}]}", "taps[0].press")]
    [InlineData("{\"taps\":[{\"key\":\"\\ud800\",\"at\":5,\"step\":\"gloves\",\"round\":0,\"press\":\"done\"}]}", "taps[0].key")]
    [InlineData("{\"taps\":[{\"key\":\"a\",\"key\":\"b\"}]}", "stands twice")]
    [InlineData("{\"taps\":[{\"key\":\"\",\"at\":5,\"step\":\"gloves\",\"round\":0,\"press\":\"done\"}]}", "taps[0].key")]
    public async Task What_is_no_press_is_refused_by_name_and_nothing_is_half_taken(string body, string problem)
    {
        var (status, json) = await SendAsync(body);
        status.ShouldBe(HttpStatusCode.BadRequest);
        json.GetProperty("problem").GetString()!.ShouldContain(problem);
        json.GetProperty("index").ValueKind.ShouldBe(problem.StartsWith("taps[", StringComparison.Ordinal) ? JsonValueKind.Number : JsonValueKind.Null);
        using var scope = app.Instance.Services.CreateScope();
        scope.ServiceProvider.GetRequiredService<RunStore>().Taps(1).ShouldBeEmpty();
    }
}
