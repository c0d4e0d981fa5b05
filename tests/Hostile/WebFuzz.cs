using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace Tanksophos.Hostile;

/// <summary>
/// Sends hostile forms, files, presses and API requests to a running program as somebody who is signed in. Every answer is below 500, every page stands
/// afterwards, and what the API says it added is there: nothing is half-written.
/// </summary>
/// <param name="client">Signed in; keeps cookies.</param>
/// <param name="token">A token that may log.</param>
/// <param name="seed">Where the inputs begin.</param>
public sealed partial class WebFuzz(HttpClient client, string token, ulong seed)
{
    private static readonly string[] Pages =
    [
        "/", "/run", "/trip", "/find", "/find/health", "/sensors", "/treatments", "/treatments/enzyme", "/treatments/shelf", "/logbook", "/rig", "/rules",
            "/import", "/write", "/write/flush", "/write/dose", "/write/odor", "/write/symptom", "/write/check", "/write/drive", "/write/service",
            "/write/dump",
        "/write/reading", "/write/water", "/write/valve", "/write/people", "/write/stay", "/rigs", "/account", "/keeping", "/set-aside",
    ];

    // What would end the run itself: everybody out, everything replaced, the rig gone.
    private static readonly string[] Spared = ["/sign-out", "handler=Everywhere", "handler=Passphrase", "handler=Leave", "handler=Delete", "handler=Archive",
        "/keeping", "handler=Now", "handler=DropToken", "handler=Member", "/prefs", "/alarm"];

    private readonly HostileInput input = new(seed);
    private readonly IReadOnlyList<Readers.Reader> readers = Readers.All();
    private int number;

    /// <summary>What broke: request and answer.</summary>
    public List<string> Broken { get; } = [];

    /// <summary>Requests sent.</summary>
    public int Requests { get; private set; }

    /// <summary>Sends so many hostile requests.</summary>
    public async Task RunAsync(int count)
    {
        var forms = await FormsAsync();
        for (var i = 0; i < count; i++)
        {
            switch (input.Below(10))
            {
                case 0:
                    await ApiAsync();
                    break;
                case 1:
                    await UploadAsync(forms);
                    break;
                case 2:
                    await PressAsync(forms);
                    break;
                case 3:
                    await AskAsync();
                    break;
                default:
                    await FormAsync(input.OneOf(forms));
                    break;
            }
            if (i % 200 == 199) forms = await FormsAsync();
        }
        await StandsAsync();
    }

    /// <summary>Whether every page stands and everything saved can be read.</summary>
    public async Task StandsAsync()
    {
        foreach (var page in Pages)
        {
            using var response = await client.GetAsync(new Uri(page, UriKind.Relative));
            if ((int)response.StatusCode >= 500) Broken.Add($"{page} answers {(int)response.StatusCode} afterwards");
            if (page == "/set-aside" && (await response.Content.ReadAsStringAsync()).Contains("data-row", StringComparison.Ordinal))
                Broken.Add("something saved cannot be read");
        }
    }

    private sealed record Form(string Page, string Action, bool Files, IReadOnlyList<(string Name, string Value)> Fields, string Verification);

    private async Task<List<Form>> FormsAsync()
    {
        var forms = new List<Form>();
        foreach (var page in Pages)
        {
            var html = WebUtility.HtmlDecode(await client.GetStringAsync(new Uri(page, UriKind.Relative)));
            foreach (Match m in FormPattern().Matches(html))
            {
                var head = m.Groups[1].Value;
                if (!head.Contains("method=\"post\"", StringComparison.Ordinal)) continue;
                var action = ActionPattern().Match(head) is { Success: true } a ? a.Groups[1].Value : page;
                if (action.StartsWith('?')) action = page + action;
                if (action.Length == 0) action = page;
                if (Spared.Any(s => action.Contains(s, StringComparison.OrdinalIgnoreCase))) continue;
                var fields = FieldPattern().Matches(m.Groups[2].Value)
                    .Select(f => (Name: f.Groups[1].Value, Value: ValuePattern().Match(f.Value).Groups[1].Value))
                    .Where(f => f.Name is not "__RequestVerificationToken").ToList();
                var verification = VerificationPattern().Match(html).Groups[1].Value;
                forms.Add(new Form(page, action, head.Contains("multipart", StringComparison.Ordinal), fields, verification));
            }
        }
        return forms;
    }

    private async Task FormAsync(Form form)
    {
        var fields = new List<KeyValuePair<string, string>> { new("__RequestVerificationToken", form.Verification) };
        foreach (var (name, value) in form.Fields)
        {
            switch (input.Below(8))
            {
                case 0: // left out
                    break;
                case 1 or 2 when name != "__rig":
                    fields.Add(new(name, Clean(input.Text())));
                    break;
                case 3:
                    fields.Add(new(name, value));
                    fields.Add(new(name, Clean(input.Text())));
                    break;
                default:
                    fields.Add(new(name, value));
                    break;
            }
        }
        using var content = new FormUrlEncodedContent(fields);
        await SendAsync(HttpMethod.Post, form.Action, content,
            $"form of {form.Page}: {string.Join("&", fields.Skip(1).Select(f => $"{f.Key}={f.Value[..Math.Min(30, f.Value.Length)]}"))}");
    }

    // What a form cannot carry at all is not sent in one.
    private static string Clean(string text) => text.Replace("\ud800", "", StringComparison.Ordinal);

    private static string Short(string text) => text.Length <= 200 ? text : text[..200];

    private async Task UploadAsync(List<Form> forms)
    {
        if (forms.Where(f => f.Files).ToList() is not { Count: > 0 } files) return;
        var form = input.OneOf(files);
        var reader = input.OneOf(readers.Where(r => r.Name is "import" or "plan" or "entries table" or "readings table" or "rig").ToList());
        var file = input.Below(4) == 0 ? reader.Good : reader.IsTable ? input.SpoilTable(reader.Good) : input.Spoil(reader.Good);
        using var content = new MultipartFormDataContent { { new StringContent(form.Verification), "__RequestVerificationToken" } };
        foreach (var (name, value) in form.Fields.Where(f => f.Name is not ("file" or "photo")))
            content.Add(new StringContent(input.Below(6) == 0 ? Clean(input.Text()).Replace("\0", "", StringComparison.Ordinal) : value), name);
        content.Add(new ByteArrayContent(file), form.Fields.Any(f => f.Name == "photo") ? "photo" : "file", "x.json");
        await SendAsync(HttpMethod.Post, form.Action, content, $"upload {reader.Name} to {form.Action}");
    }

    private async Task PressAsync(List<Form> forms)
    {
        var good = readers.First(r => r.Name == "taps").Good;
        using var content = new ByteArrayContent(input.Below(3) == 0
            ? Encoding.UTF8.GetBytes($"{{\"taps\":[{{\"key\":\"f{number++}\",\"at\":{1780000000000 + number},\"step\":\"{input.OneOf((string[])["gloves", "valves", "drain-black", "fill-black", "judge-black"])}\",\"round\":{input.Below(3)},\"press\":\"{input.OneOf((string[])["done", "skip", "back", "open", "rush", "poured", "close-on", "water-off", "finish", "break-off", "resume", "again"])}\",\"said\":{{\"litres\":\"{input.Text().Replace("\"", "", StringComparison.Ordinal).Replace("\\", "", StringComparison.Ordinal)}\"}}}}]}}")
            : input.Spoil(good));
        content.Headers.ContentType = new MediaTypeHeaderValue("application/json");
        using var request = new HttpRequestMessage(HttpMethod.Post, "/run/1?handler=Taps") { Content = content };
        request.Headers.Add("RequestVerificationToken", forms[0].Verification);
        await SendAsync(request, "presses");
    }

    private async Task AskAsync()
    {
        var query = string.Join('&', Enumerable.Range(0, 1 + input.Below(3))
            .Select(_ => $"{input.OneOf((string[])["tank", "p", "text", "day", "type", "handler", "trip", "edit", "high", "days", "capacity", "rig", "seen", "name", "form", "method", "stop", "what", "drain"])}={Uri.EscapeDataString(Short(Clean(input.Text())))}".Replace("rig=",
            "r=", StringComparison.Ordinal)));
        await SendAsync(HttpMethod.Get, $"{input.OneOf(Pages)}?{query}", null, "question");
    }

    private async Task ApiAsync()
    {
        var before = await EntriesAsync();
        var reader = readers.First(r => r.Name == "entries");
        // Ids of their own, so that what is good is new.
        var good = Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(reader.Good).Replace("\"id\":\"", $"\"id\":\"f{number++}-", StringComparison.Ordinal));
        using var content = new ByteArrayContent(input.Below(3) == 0 ? good : input.Spoil(good));
        content.Headers.ContentType = new MediaTypeHeaderValue("application/json");
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/v1/entries") { Content = content };
        request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        var (status, answer) = await SendAsync(request, "API");
        JsonElement json;
        try
        {
            json = JsonDocument.Parse(answer).RootElement;
        }
        catch (JsonException)
        {
            Broken.Add($"API answers {status} with no JSON: {answer[..Math.Min(80, answer.Length)]}");
            return;
        }
        var added = status == HttpStatusCode.OK ? json.GetProperty("added").GetInt32() : 0;
        if (await EntriesAsync() is var after && after - before != added)
            Broken.Add(string.Create(CultureInfo.InvariantCulture, $"API said {added} were added, {after - before} are"));
    }

    private async Task<int> EntriesAsync()
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, "/api/v1/logbook");
        request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        using var response = await client.SendAsync(request);
        return JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement.GetProperty("entries").GetArrayLength();
    }

    private async Task SendAsync(HttpMethod method, string address, HttpContent? content, string what)
    {
        using var request = new HttpRequestMessage(method, address) { Content = content };
        await SendAsync(request, what);
    }

    private async Task<(HttpStatusCode Status, string Answer)> SendAsync(HttpRequestMessage request, string what)
    {
        Requests++;
        using var response = await client.SendAsync(request);
        var answer = await response.Content.ReadAsStringAsync();
        if ((int)response.StatusCode >= 500) Broken.Add($"{request.Method} {request.RequestUri} answers {(int)response.StatusCode}: {what}");
        return (response.StatusCode, answer);
    }

    [GeneratedRegex("<form([^>]*)>(.*?)</form>", RegexOptions.Singleline)]
    private static partial Regex FormPattern();

    [GeneratedRegex("action=\"([^\"]*)\"")]
    private static partial Regex ActionPattern();

    [GeneratedRegex("<(?:input|select|textarea|button)[^>]*\\sname=\"([^\"]+)\"[^>]*>")]
    private static partial Regex FieldPattern();

    [GeneratedRegex("\\svalue=\"([^\"]*)\"")]
    private static partial Regex ValuePattern();

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex VerificationPattern();
}
