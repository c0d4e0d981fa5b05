using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.AspNetCore.Routing;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests;

/// <summary>The API and its document say the same, in both directions: every operation stands in it, and no answer comes that does not.</summary>
public sealed class ApiContractTests : IDisposable
{
    private readonly App app = App.Demo(own: true);
    private readonly HttpClient client;

    public ApiContractTests() => client = app.Visitor();

    public void Dispose() => app.Dispose();

    private string Token(bool mayLog)
    {
        using var scope = app.Services.CreateScope();
        var people = scope.ServiceProvider.GetRequiredService<PeopleStore>();
        return people.NewToken(1, mayLog ? "writer" : "reader", mayLog ? TokenScopes.Read | TokenScopes.Log | TokenScopes.Devices : TokenScopes.Read);
    }

    private async Task<JsonElement> DocumentAsync() =>
        JsonDocument.Parse(await client.GetStringAsync(new Uri("/openapi/v1.json", UriKind.Relative))).RootElement;

    private async Task<HttpResponseMessage> SendAsync(string method, string path, string? token, string? body = null, string? tag = null)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path);
        if (token is not null) request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        if (tag is not null) request.Headers.TryAddWithoutValidation("If-None-Match", tag);
        if (body is not null)
            request.Content = path.EndsWith("/photos", StringComparison.Ordinal) ? new ByteArrayContent(Encoding.Latin1.GetBytes(body))
                : new StringContent(body, Encoding.UTF8, "application/json");
        return await client.SendAsync(request);
    }

    // An entry with a photo, for the addresses that name one.
    private (string Entry, int Photo) Seed()
    {
        using var scope = app.Services.CreateScope();
        var key = scope.ServiceProvider.GetRequiredService<RigStore>().Log.Page(1, 0, 1).Entries[0].Key;
        return (key, scope.ServiceProvider.GetRequiredService<PhotoStore>().Add(1, key, PhotoFile.Check(Pictures.Png(), out _)!, "Demo")!.Value);
    }

    private static IEnumerable<(string Path, string Method, JsonElement Operation)> Operations(JsonElement document) =>
        document.GetProperty("paths").EnumerateObject().SelectMany(p => p.Value.EnumerateObject().Select(o => (p.Name, o.Name.ToUpperInvariant(), o.Value)));

    [Fact]
    public async Task Every_operation_stands_in_the_document_and_nothing_else_does()
    {
        var mapped = app.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .Where(e => e.RoutePattern.RawText!.StartsWith("/api/v1/", StringComparison.Ordinal)
                && !e.RoutePattern.RawText.Contains('*', StringComparison.Ordinal))
            .SelectMany(e => e.Metadata.GetMetadata<HttpMethodMetadata>()!.HttpMethods.Select(m => $"{m} {e.RoutePattern.RawText}")).Order().ToList();
        mapped.Count.ShouldBeGreaterThan(8);
        Operations(await DocumentAsync()).Select(o => $"{o.Method} {o.Path}").Order().ShouldBe(mapped);
    }

    [Fact]
    public async Task Every_operation_says_what_it_is_how_to_sign_in_and_shows_an_example_of_each_answer()
    {
        var document = await DocumentAsync();
        document.GetProperty("components").GetProperty("securitySchemes").GetProperty("token").GetProperty("scheme").GetString().ShouldBe("bearer");
        foreach (var (path, method, operation) in Operations(document))
        {
            operation.GetProperty("summary").GetString().ShouldNotBeNullOrWhiteSpace(path);
            operation.GetProperty("security").GetArrayLength().ShouldBe(1, path);
            // A picture has no example; everything else does.
            foreach (var response in operation.GetProperty("responses").EnumerateObject().Where(r => r.Name != "304"))
                response.Value.GetProperty("content").EnumerateObject().Where(c => !c.Name.StartsWith("image/", StringComparison.Ordinal)).ShouldAllBe(
                    c => c.Value.GetProperty("example").ValueKind == JsonValueKind.Object, $"{method} {path} {response.Name}");
            if (method == "POST")
                operation.GetProperty("requestBody").GetProperty("content").EnumerateObject().ShouldAllBe(c =>
                    c.Name.StartsWith("image/", StringComparison.Ordinal) ? c.Value.GetProperty("schema").GetProperty("format").GetString() == "binary"
                    : c.Value.GetProperty("example").ValueKind == JsonValueKind.Object);
            foreach (var parameter in operation.TryGetProperty("parameters", out var list) ? list.EnumerateArray() : [])
                parameter.GetProperty("description").GetString().ShouldNotBeNullOrWhiteSpace();
        }
    }

    [Fact]
    public async Task No_answer_comes_that_the_document_does_not_have()
    {
        var (writer, reader) = (Token(mayLog: true), Token(mayLog: false));
        var (entry, photo) = Seed();
        var document = await DocumentAsync();
        var seen = new HashSet<string>();
        foreach (var (named, method, operation) in Operations(document))
        {
            var path = named.Replace("{entry}", entry, StringComparison.Ordinal).Replace("{photo}", photo.ToString(
                System.Globalization.CultureInfo.InvariantCulture), StringComparison.Ordinal);
            var documented = operation.GetProperty("responses").EnumerateObject().Select(r => r.Name).ToHashSet();
            var picture = named.EndsWith("/photos", StringComparison.Ordinal);
            var good = method != "POST" ? null : picture ? Encoding.Latin1.GetString(Pictures.Png())
                : operation.GetProperty("requestBody").GetProperty("content").GetProperty("application/json").GetProperty("example")
                .GetRawText();
            async Task Ask(string? token, string? body, string query = "", string? tag = null)
            {
                using var answer = await SendAsync(method, path + query, token, body, tag);
                var status = ((int)answer.StatusCode).ToString(System.Globalization.CultureInfo.InvariantCulture);
                documented.ShouldContain(status, $"{method} {path}{query}");
                seen.Add($"{method} {path} {status}");
                if (answer.StatusCode == HttpStatusCode.NotModified) return;
                var kind = (int)answer.StatusCode >= 400 ? "application/problem+json" : named.EndsWith("{photo}", StringComparison.Ordinal) ? "image/png"
                    : "application/json";
                answer.Content.Headers.ContentType!.MediaType.ShouldBe(kind, $"{method} {path}");
                if (kind == "image/png") return;
                JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement.ValueKind.ShouldBe(JsonValueKind.Object);
            }
            await Ask(null, good);
            await Ask("tks_wrong", good);
            await Ask(writer, good);
            await Ask(reader, good);
            if (method == "GET")
            {
                using var first = await SendAsync(method, path, reader);
                first.Headers.ETag.ShouldNotBeNull(path);
                await Ask(reader, null, tag: first.Headers.ETag!.ToString());
                continue;
            }
            await Ask(writer, "nonsense");
            await Ask(writer, "[]");
            await Ask(writer, new string(' ', 3 << 20));
            if (!picture) await Ask(writer, good!.Replace("\"low\"", "\"top\"", StringComparison.Ordinal));
        }
        (await SendAsync("GET", "/api/v1/photos/none", reader)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await SendAsync("POST", "/api/v1/entries/none/photos", writer, "x")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        foreach (var query in new[] { "?from=yesterday", "?limit=0", "?limit=x", "?skip=-1", "?type=nap", "?tank=attic" })
            (await SendAsync("GET", "/api/v1/entries" + query, reader)).StatusCode.ShouldBe(HttpStatusCode.BadRequest, query);
        seen.ShouldContain("GET /api/v1/logbook 304");
        seen.ShouldContain("POST /api/v1/entries 409");
        seen.ShouldContain("POST /api/v1/entries 403");
    }

    [Theory]
    [InlineData(TokenScopes.Read, 200, 403, 403, 200)]
    [InlineData(TokenScopes.Log, 403, 200, 403, 403)]
    [InlineData(TokenScopes.Devices, 403, 403, 202, 200)]
    public async Task A_token_is_good_for_what_it_was_made_for(TokenScopes scopes, int rig, int record, int measure, int devices)
    {
        string token;
        using (var scope = app.Services.CreateScope()) token = scope.ServiceProvider.GetRequiredService<PeopleStore>().NewToken(1, "narrow", scopes);
        ((int)(await SendAsync("GET", "/api/v1/rig", token)).StatusCode).ShouldBe(rig);
        ((int)(await SendAsync("GET", "/api/v1/care", token)).StatusCode).ShouldBe(rig);
        ((int)(await SendAsync("GET", "/api/v1/devices", token)).StatusCode).ShouldBe(devices);
        ((int)(await SendAsync("POST", "/api/v1/entries", token, """{"id":"n1","at":"2026-06-09T17:00:00-06:00","type":"dump","tank":"black"}""")).StatusCode)
            .ShouldBe(record);
        ((int)(await SendAsync("POST", "/api/v1/measurements", token, """{"device":"p","values":{"black":{"percent":4}}}""")).StatusCode).ShouldBe(measure);
    }

    [Fact]
    public async Task The_same_photo_counts_once_and_comes_back()
    {
        var token = Token(mayLog: true);
        var (entry, first) = Seed();
        var png = Encoding.Latin1.GetString(Pictures.Png());
        async Task<JsonElement> Add() => JsonDocument.Parse(await (await SendAsync("POST", $"/api/v1/entries/{entry}/photos", token,
            png)).Content.ReadAsStringAsync())
            .RootElement;
        (await Add()).GetProperty("added").GetBoolean().ShouldBeFalse();
        (await Add()).GetProperty("photo").GetInt32().ShouldBe(first);
        var listed = JsonDocument.Parse(await (await SendAsync("GET", "/api/v1/photos", token)).Content.ReadAsStringAsync()).RootElement.GetProperty("photos");
        listed.EnumerateArray().ShouldHaveSingleItem().GetProperty("entry").GetString().ShouldBe(entry);
    }

    [Fact]
    public async Task A_program_in_a_loop_is_told_to_wait_and_another_is_not()
    {
        var (mine, other) = (Token(mayLog: false), Token(mayLog: false));
        HttpResponseMessage? told = null;
        var seen = new Dictionary<HttpStatusCode, int>();
        for (var i = 0; i < 2000 && told is null; i++)
        {
            var answer = await SendAsync("GET", "/api/v1/rig", mine);
            seen[answer.StatusCode] = seen.GetValueOrDefault(answer.StatusCode) + 1;
            if (answer.StatusCode == HttpStatusCode.TooManyRequests) told = answer;
        }
        told.ShouldNotBeNull(string.Join(", ", seen));
        told.ShouldNotBeNull().Headers.RetryAfter.ShouldNotBeNull();
        told.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
        (await SendAsync("GET", "/api/v1/photos", other)).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task The_page_for_people_shows_every_operation()
    {
        var shown = (await app.GetAsync("/programs")).Dom().QuerySelectorAll("[data-operation]").Select(e => e.GetAttribute("data-operation")!).Order();
        shown.ShouldBe(Operations(await DocumentAsync()).Select(o => o.Operation.GetProperty("operationId").GetString()!).Order());
    }

    [Fact]
    public async Task Entries_come_page_by_page_and_narrowed()
    {
        var token = Token(mayLog: false);
        async Task<JsonElement> Get(string query) =>
            JsonDocument.Parse(await (await SendAsync("GET", "/api/v1/entries" + query, token)).Content.ReadAsStringAsync())
            .RootElement;
        var all = await Get("?limit=1000");
        var total = all.GetProperty("total").GetInt32();
        var ids = new List<string>();
        for (int? skip = 0; skip is not null;)
        {
            var page = await Get($"?limit=37&skip={skip}");
            ids.AddRange(page.GetProperty("entries").EnumerateArray().Select(e => e.GetRawText()));
            skip = page.GetProperty("next").ValueKind == JsonValueKind.Null ? null : page.GetProperty("next").GetInt32();
        }
        ids.Count.ShouldBe(total);
        var dumps = await Get("?type=dump&tank=black&limit=1000");
        dumps.GetProperty("total").GetInt32().ShouldBeInRange(1, total - 1);
        dumps.GetProperty("entries").EnumerateArray().ShouldAllBe(e => e.GetProperty("type").GetString() == "dump"
            && e.GetProperty("tank").GetString() == "black");
        var early = await Get("?to=2026-05-25T00:00:00-06:00&limit=1000");
        var late = await Get("?from=2026-05-25T00:00:00-06:00&limit=1000");
        (early.GetProperty("total").GetInt32() + late.GetProperty("total").GetInt32()).ShouldBe(total);
    }

    [Fact]
    public async Task A_watchdog_is_answered_and_figures_are_for_this_machine()
    {
        var health = await client.GetAsync(new Uri("/health", UriKind.Relative));
        health.StatusCode.ShouldBe(HttpStatusCode.OK);
        JsonDocument.Parse(await health.Content.ReadAsStringAsync()).RootElement.GetProperty("status").GetString().ShouldBe("ok");
        (await client.GetStringAsync(new Uri("/metrics", UriKind.Relative))).ShouldContain("process_resident_memory_bytes");
    }
}
