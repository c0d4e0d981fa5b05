using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests.Hostile;

/// <summary>Requests that no page of ours sends.</summary>
public sealed class OddRequestTests : IDisposable
{
    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    private string Token(bool mayLog = true)
    {
        using var scope = app.Services.CreateScope();
        return scope.ServiceProvider.GetRequiredService<PeopleStore>().NewToken(1, "gadget", mayLog ? TokenScopes.Read | TokenScopes.Log | TokenScopes.Devices
            : TokenScopes.Read);
    }

    private async Task<(HttpStatusCode Status, string? Type, JsonElement Json)> ApiAsync(string method, string path, string? body = null, string? token = null,
        string? host = null)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path)
        {
            Content = body is null ? null
            : new StringContent(body, Encoding.UTF8, "application/json")
        };
        if (token is not null) request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        if (host is not null) request.Headers.Host = host;
        using var response = await app.Client.SendAsync(request);
        var text = await response.Content.ReadAsStringAsync();
        return (response.StatusCode, response.Content.Headers.ContentType?.MediaType, text.Length > 0 ? JsonDocument.Parse(text).RootElement : default);
    }

    [Fact]
    public async Task Every_answer_under_api_is_json_whatever_happens()
    {
        var token = Token();
        const string Entry = """{"id":"twice","at":"2026-06-01T18:00:00-06:00","type":"people","count":2}""";
        var before = app.With(s => s.Log.Version(1));
        foreach (var (method, path, body, status, host) in new (string, string, string?, int, string?)[]
        {
            ("POST", "/api/v1/entries", $"[{Entry},{Entry}]", 400, null), ("POST", "/api/v1/entries", "{\"\\ud800\":1}", 400, null),
                ("POST", "/api/v1/entries", "", 400, null), ("POST", "/api/v1/entries", new string('[', 5000), 400, null),
            ("POST", "/api/v1/entries", "{\"at\":\"2026-06-01T18:00:00Z\",\"type\":\"people\",\"count\":1e999}", 400, null),
                ("POST", "/api/v1/entries", new string(' ', 3 << 20), 413, null),
            ("GET", "/api/v1/nothing", null, 404, null), ("GET", "/api", null, 404, null), ("GET", "/api/v2/x", null, 404, null),
                ("DELETE", "/api/v1/logbook", null, 405, null), ("GET", "/api/v1/logbook", null, 400, "evil.example"),
        })
        {
            var (got, type, json) = await ApiAsync(method, path, body, token, host);
            ((int)got).ShouldBe(status, $"{method} {path} {body?[..Math.Min(40, body.Length)]}");
            type.ShouldBe("application/problem+json", path);
            json.GetProperty("status").GetInt32().ShouldBe(status);
            json.GetProperty("errors").GetArrayLength().ShouldBeGreaterThan(0);
        }
        (await ApiAsync("POST", "/api/v1/entries", Entry)).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await ApiAsync("POST", "/api/v1/entries", Entry, Token(mayLog: false))).Status.ShouldBe(HttpStatusCode.Forbidden);
        app.With(s => s.Log.Version(1)).ShouldBe(before);
        (await ApiAsync("POST", "/api/v1/entries", Entry, token)).Status.ShouldBe(HttpStatusCode.OK);
        (await ApiAsync("POST", "/api/v1/entries", Entry.Replace(":2}", ":3}", StringComparison.Ordinal), token)).Status.ShouldBe(HttpStatusCode.Conflict);
    }

    [Theory]
    [InlineData("/?handler=People", "count", "NaN")]
    [InlineData("/?handler=Reading", "fraction", "Infinity")]
    [InlineData("/?handler=Water", "amount", "NaN")]
    [InlineData("/?handler=Dump", "minutes", "1e400")]
    [InlineData("/rig", "name", "a\0b")]
    [InlineData("/trip?handler=New", "name", "a\0b")]
    [InlineData("/start", "name", "\0")]
    [InlineData("/write/people", "count", "Infinity")]
    [InlineData("/rules", "maxDays", "NaN")]
    [InlineData("/account?handler=Token", "name", "a\0")]
    [InlineData("/treatments/shelf?handler=Save", "price", "Infinity")]
    public async Task A_number_that_is_none_or_a_text_with_nul_is_refused_with_the_form(string action, string field, string value)
    {
        var page = action.Split('?')[0];
        var (status, html) = await app.PostAsync(page, action, ("tank", "black"), ("via", "sight"), ("purpose", "other"), (field, value));
        status.ShouldBe(HttpStatusCode.BadRequest, html);
        html.ShouldContain("role=\"alert\"");
        html.ShouldContain("<form");
    }

    [Fact]
    public async Task Too_many_fields_and_a_torn_upload_are_refused_with_the_form()
    {
        var (status, html) = await app.PostAsync("/write/people", "/write/people", [.. Enumerable.Range(0, 1500).Select(i => ($"f{i}", "x"))]);
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain("<form");
        foreach (var page in new[] { "/import", "/trip?handler=Import", "/keeping/restore", "/entry/x?handler=Photo" })
        {
            using var torn = new ByteArrayContent("--b\r\nContent-Disposition: form-data; name=\"file\"; filename=\"x\"\r\n\r\nhalf a fi"u8.ToArray());
            torn.Headers.TryAddWithoutValidation("Content-Type", "multipart/form-data; boundary=b");
            using var response = await app.Client.PostAsync(new Uri(page, UriKind.Relative), torn);
            ((int)response.StatusCode).ShouldBeInRange(400, 499, page);
        }
        using var none = new ByteArrayContent("x=%ff%fe&%00=1"u8.ToArray());
        none.Headers.TryAddWithoutValidation("Content-Type", "application/x-www-form-urlencoded; charset=none");
        using var odd = await app.Client.PostAsync(new Uri("/write/people", UriKind.Relative), none);
        ((int)odd.StatusCode).ShouldBeInRange(400, 499);
    }

    [Fact]
    public async Task Presses_in_chunks_pass_no_limit_and_every_text_of_them_is_bounded()
    {
        await app.PostAsync("/run", "/run?handler=Start", ("form", "full"));
        var token = await app.TokenAsync("/account");
        async Task<HttpStatusCode> SendAsync(HttpContent content)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, "/run/1?handler=Taps&rig=1") { Content = content };
            request.Headers.Add("RequestVerificationToken", token);
            request.Headers.TransferEncodingChunked = true;
            using var response = await app.Client.SendAsync(request);
            return response.StatusCode;
        }
        var large = "{\"taps\":[{\"key\":\"a\",\"at\":5,\"step\":\"gloves\",\"round\":0,\"press\":\"done\",\"x\":\"" + new string('y', 400_000) + "\"}]}";
        (await SendAsync(new StreamContent(new MemoryStream(Encoding.UTF8.GetBytes(large))))).ShouldBe(HttpStatusCode.RequestEntityTooLarge);
        (await SendAsync(new StringContent("{\"taps\":[{\"key\":\"a\",\"at\":5,\"step\":\"" + new string('s', 3000) + "\",\"round\":0,\"press\":\"done\"}]}",
            Encoding.UTF8, "application/json"))).ShouldBe(HttpStatusCode.BadRequest);
        using var scope = app.Services.CreateScope();
        scope.ServiceProvider.GetRequiredService<RunStore>().Taps(1).ShouldBeEmpty();
    }

    [Fact]
    public async Task Looking_writes_nothing()
    {
        // Tells whether any other connection has committed anything since this one last asked.
        using var watch = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={Path.Combine(app.Folder, "tanksophos.db")};Pooling=False");
        watch.Open();
        long State()
        {
            using var command = watch.CreateCommand();
            command.CommandText = "PRAGMA data_version";
            return (long)command.ExecuteScalar()!;
        }
        await app.PostAsync("/", "/?handler=People", ("id", "x"), ("count", "2"));
        string feed;
        using (var scope = app.Services.CreateScope()) feed = scope.ServiceProvider.GetRequiredService<TripStore>().NewFeed(1, 1)!;
        var before = State();
        app.Clock.Advance(Duration.FromHours(5));
        foreach (var page in new[] { "/", "/trip", "/trip/sheet", "/run", "/find", "/sensors", "/treatments", "/logbook", "/rig", "/rules", "/keeping",
            "/account", "/set-aside", $"/feed/{feed}.ics", "/export/logbook", "/trip?handler=Calendar" })
        {
            using var response = await app.Client.GetAsync(new Uri(page, UriKind.Relative));
            response.StatusCode.ShouldBe(HttpStatusCode.OK, page);
            State().ShouldBe(before, page);
        }
        await app.PostAsync("/", "/?handler=People", ("id", "y"), ("count", "3"));
        State().ShouldNotBe(before);
    }

    [Fact]
    public async Task Two_people_at_one_stop_are_told_of_each_other_and_nothing_typed_is_lost()
    {
        var page = await app.GetAsync("/trip");
        var seen = System.Text.RegularExpressions.Regex.Match(page, "seen=([0-9]+)").Groups[1].Value;
        seen.ShouldBe("1");
        (await app.PostAsync("/trip", "/trip?handler=Stretch&trip=1&seen=1", ("stop", "s5"), ("nights", "6"))).Status.ShouldBe(HttpStatusCode.OK);
        var (status, html) = await app.PostAsync("/trip", "/trip?handler=Stop&trip=1&seen=1", ("stop", "s5"), ("name", "Alder & Bend"), ("hookup", "full"),
            ("nights", "3"), ("people", "2"), ("drive", "1"));
        status.ShouldBe(HttpStatusCode.Conflict);
        html.ShouldContain("data-conflict");
        html.ShouldContain("value=\"Alder & Bend\"");
        using (var scope = app.Services.CreateScope()) scope.ServiceProvider.GetRequiredService<TripStore>().Find(1, 1)!.Revision.ShouldBe(2);
        // Mine all the same, on top of what is there now.
        (await app.PostAsync("/trip", "/trip?handler=Stop&trip=1&seen=2", ("stop", "s5"), ("name", "Alder & Bend"), ("hookup", "full"), ("nights", "3"),
            ("people", "2"), ("drive", "1"))).Status.ShouldBe(HttpStatusCode.OK);

        await app.PostAsync("/", "/?handler=People", ("id", "e1"), ("count", "3"));
        (await app.PostAsync("/account", "/entry/e1?handler=Note", ("note", "first"), ("seen", "1"))).Status.ShouldBe(HttpStatusCode.OK);
        (status, html) = await app.PostAsync("/account", "/entry/e1?handler=Note", ("note", "my long note"), ("seen", "1"));
        status.ShouldBe(HttpStatusCode.Conflict);
        html.ShouldContain(">my long note</textarea>");
        app.With(s => s.Log.Entry(1, "e1"))!.Entry.Note.ShouldBe("first");
    }

    [Fact]
    public async Task Two_people_at_one_label_or_flow_are_told_of_each_other()
    {
        Product Bottle() => app.With(s => s.Find(1))!.Rig.Products.First(p => p.Dose is not null);
        var before = Bottle();
        var seen = Seen(await app.GetAsync("/treatments/shelf"));
        (string, string)[] Label(string name, string amount, string seen) =>
            [("product", before.Id), ("seen", seen), ("name", name), ("kind", Codes<Substance>.Word(before.Kind)), ("amount", amount), ("unit", "ml")];
        // Somebody else counts and buys: that is added to, and stands in nobody's way.
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Bought", ("product", before.Id))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Save", Label("Theirs", "100", seen))).Status.ShouldBe(HttpStatusCode.OK);
        var (status, html) = await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Save", Label("Mine & ours", "120", seen));
        status.ShouldBe(HttpStatusCode.Conflict);
        html.ShouldContain("data-conflict");
        html.ShouldContain("<th scope=\"row\">Name</th><td>Mine & ours</td><td>Theirs</td>");
        html.ShouldContain("name=\"amount\" value=\"120\"");
        Bottle().ShouldSatisfyAllConditions(p => p.Name.ShouldBe("Theirs"), p => p.Dose!.Amount.ShouldBe(100));
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Save",
            Label("Mine & ours", "120", app.With(s => s.Find(1))!.Revision.ToString(CultureInfo.InvariantCulture)))).Status.ShouldBe(HttpStatusCode.OK);
        Bottle().ShouldSatisfyAllConditions(p => p.Name.ShouldBe("Mine & ours"), p => p.Dose!.Amount.ShouldBe(120));

        seen = Seen(await app.GetAsync("/run"));
        (await app.PostAsync("/run", "/run?handler=Flow", ("bucket", "5 gal"), ("seconds", "150"), ("seen", seen))).Status.ShouldBe(HttpStatusCode.OK);
        (status, html) = await app.PostAsync("/run", "/run?handler=Flow", ("bucket", "5 gal"), ("seconds", "100"), ("seen", seen));
        status.ShouldBe(HttpStatusCode.Conflict);
        html.ShouldContain("<td>3 gal</td><td>2 gal</td>");
        app.With(s => s.Find(1))!.Rig.Equipment!.FlushInletLPerMin!.Value.ShouldBe(7.57, 0.01);
        (await app.PostAsync("/run", "/run?handler=Flow", ("bucket", "5 gal"), ("seconds", "100"), ("seen", Seen(html)))).Status.ShouldBe(HttpStatusCode.OK);
        app.With(s => s.Find(1))!.Rig.Equipment!.FlushInletLPerMin!.Value.ShouldBe(11.36, 0.01);

        static string Seen(string html) => System.Text.RegularExpressions.Regex.Match(html, "name=\"seen\" value=\"([0-9]+)\"").Groups[1].Value;
    }
}
