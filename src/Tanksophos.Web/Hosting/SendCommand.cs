using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Tanksophos.Core.Formats;

namespace Tanksophos.Web.Hosting;

/// <summary>
/// The command <c>send</c>: measurements from standard input, a line of JSON each or a table, to the program on this machine or another. Whatever prints lines
/// can be a device this way. What is not answered is sent again until it is: twice is once.
/// </summary>
internal static class SendCommand
{
    private const int Together = 200, Tries = 60;
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(1), Patience = TimeSpan.FromSeconds(30);

    public static async Task<int> RunAsync(string to, FileInfo? tokenFile, TextReader input, TextWriter output, TextWriter errors, CancellationToken stop)
    {
        if (!Uri.TryCreate(to, UriKind.Absolute, out var address) || address.Scheme is not ("http" or "https"))
        {
            await errors.WriteLineAsync("--to: an address such as http://localhost:5080 is accepted.");
            return 2;
        }
        string? token = null;
        try
        {
            if (tokenFile is not null) token = File.ReadLines(tokenFile.FullName).FirstOrDefault()?.Trim();
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            await errors.WriteLineAsync($"--token-file: the file cannot be read: {e.Message}");
            return 2;
        }
        if (string.IsNullOrEmpty(token))
        {
            await errors.WriteLineAsync("--token-file: a file whose first line is the device's token is needed.");
            return 2;
        }
        using var http = new HttpClient { BaseAddress = address, Timeout = Patience };
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        var (line, taken, refused) = (0, 0, 0);
        var parcel = new List<(int Line, string Json)>();
        var next = input.ReadLineAsync(stop).AsTask();
        while (true)
        {
            // What came is sent when nothing more comes for a second, or enough has.
            if (!next.IsCompleted && parcel.Count > 0 && await Task.WhenAny(next, Task.Delay(Pause, stop)) != next || parcel.Count >= Together)
            {
                if (!await SendAsync()) return 1;
                continue;
            }
            if (await next is not { } text) break;
            line++;
            if (line == 1 && !text.TrimStart().StartsWith('{') && !text.TrimStart().StartsWith('['))
            {
                // A table is known as a whole.
                var wrong = new List<string>();
                parcel.AddRange(MeasurementCsv.Lines(text + "\n" + await input.ReadToEndAsync(stop), wrong)
                    .Select(l => (l.Line, Encoding.UTF8.GetString(l.Utf8))));
                foreach (var w in wrong) await errors.WriteLineAsync(w);
                refused += wrong.Count;
                break;
            }
            if (!string.IsNullOrWhiteSpace(text)) parcel.Add((line, text));
            next = input.ReadLineAsync(stop).AsTask();
        }
        while (parcel.Count > 0)
            if (!await SendAsync()) return 1;
        await output.WriteLineAsync($"{taken} taken, {refused} refused");
        return refused == 0 ? 0 : 1;

        async Task<bool> SendAsync()
        {
            // Half a line spoils no other: each is looked at for itself.
            var good = new List<(int Line, string Json)>();
            foreach (var (number, json) in parcel.Take(Together))
            {
                if (IsJson(json)) good.Add((number, json));
                else
                {
                    refused++;
                    await errors.WriteLineAsync($"line {number}: no JSON object");
                }
            }
            parcel.RemoveRange(0, Math.Min(Together, parcel.Count));
            if (good.Count == 0) return true;
            for (var tries = 0; ; tries++)
            {
                string why;
                try
                {
                    using var content = new StringContent($"[{string.Join(',', good.Select(g => g.Json))}]", Encoding.UTF8, "application/json");
                    using var answer = await http.PostAsync(new Uri("/api/v1/measurements", UriKind.Relative), content, stop);
                    var said = await answer.Content.ReadAsStringAsync(stop);
                    if (answer.StatusCode == HttpStatusCode.Accepted)
                    {
                        using var document = JsonDocument.Parse(said);
                        taken += document.RootElement.GetProperty("accepted").GetInt32();
                        foreach (var r in document.RootElement.GetProperty("refused").EnumerateArray())
                        {
                            refused++;
                            await errors.WriteLineAsync($"line {good[r.GetProperty("index").GetInt32()].Line}: {r.GetProperty("path").GetString()}: "
                                + r.GetProperty("message").GetString());
                        }
                        return true;
                    }
                    why = $"answered {(int)answer.StatusCode}: {said}";
                    if (answer.StatusCode is not (HttpStatusCode.TooManyRequests or >= HttpStatusCode.InternalServerError)) tries = Tries;
                }
                catch (Exception e) when (e is HttpRequestException or TaskCanceledException && !stop.IsCancellationRequested)
                {
                    why = e.Message;
                }
                if (tries >= Tries)
                {
                    await errors.WriteLineAsync($"--to: {why}");
                    return false;
                }
                await Task.Delay(Pause, stop);
            }
        }
    }

    private static bool IsJson(string text)
    {
        try
        {
            using var document = JsonDocument.Parse(text);
            return document.RootElement.ValueKind == JsonValueKind.Object;
        }
        catch (JsonException)
        {
            return false;
        }
    }
}
