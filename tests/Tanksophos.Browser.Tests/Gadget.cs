using System.Net.Http.Headers;
using System.Text.RegularExpressions;

namespace Tanksophos.Browser.Tests;

/// <summary>Another program that talks to the demonstration, with a token.</summary>
internal static partial class Gadget
{
    public static HttpClient Client(Site site, string token)
    {
        var client = new HttpClient { BaseAddress = site.Url };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        return client;
    }

    public static async Task<string> TokenAsync(Site site)
    {
        using var client = new HttpClient { BaseAddress = site.Url };
        return await TokenAsync(client);
    }

    /// <summary>Signs a client in to the demonstration, and makes a token.</summary>
    public static async Task<string> TokenAsync(HttpClient client)
    {
        async Task<string> PostAsync(string page, string action, params (string, string)[] fields)
        {
            var html = await client.GetStringAsync(new Uri(page, UriKind.Relative));
            using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", Verification().Match(html).Groups[1].Value),
                .. fields.Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2))]);
            using var response = await client.PostAsync(new Uri(action, UriKind.Relative), form);
            return await response.Content.ReadAsStringAsync();
        }
        await PostAsync("/sign-in", "/sign-in?handler=Demo");
        return Token().Match(await PostAsync("/account", "/account?handler=Token", ("name", "the writer"), ("may", "Read"), ("may", "Log"),
            ("may", "Devices"))).Value;
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Verification();

    [GeneratedRegex("tks_[0-9a-f]{40}")]
    private static partial Regex Token();
}
