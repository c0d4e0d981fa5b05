using System.Collections.Concurrent;
using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.Mvc.Testing.Handlers;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using NodaTime.Testing;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests;

/// <summary>
/// The web application in process, on a data folder of its own and with a clock that stands still. Starting one costs a second of pages and queries being
/// compiled, so one that is done with is handed on: its database, files, clock and all that it remembered are put back to the start.
/// </summary>
public sealed partial class App : IDisposable
{
    private static readonly ConcurrentDictionary<bool, ConcurrentBag<Host>> Idle = new() { [false] = [], [true] = [] };

    private readonly Host host;
    private readonly bool pooled, demonstration;

    /// <summary>Name and passphrase of the owner of an application that is no demonstration.</summary>
    public const string Owner = "Robin", Passphrase = "kettle biscuit gravel";

    /// <param name="demo">With the demonstration's rig.</param>
    /// <param name="signedIn">Somebody is signed in: the demonstration's owner, or <see cref="Owner"/>.</param>
    /// <param name="folder">A folder that lies there already and outlives the application.</param>
    /// <param name="own">Starts one that nobody had before and nobody gets afterwards.</param>
    public App(bool demo = false, bool signedIn = true, string? folder = null, bool own = false)
    {
        demonstration = demo;
        pooled = signedIn && folder is null && !own;
        if (pooled && Idle[demo].TryTake(out var used))
        {
            host = used;
            host.Begin();
        }
        else
        {
            host = new Host(demo, folder);
        }
        var cookies = new CookieContainerHandler();
        Client = host.Factory.CreateDefaultClient(new RedirectHandler(7), cookies, new Recorder(this));
        Client.DefaultRequestHeaders.Add("Cookie", "zone=America%2FDenver");
        if (!signedIn) return;
        if (host.SignedIn is null)
        {
            var (status, html) = (demo ? PostAsync("/sign-in", "/sign-in?handler=Demo")
                : PostAsync("/first", "/first", ("name", Owner), ("passphrase", Passphrase), ("again", Passphrase))).GetAwaiter().GetResult();
            status.ShouldBe(HttpStatusCode.OK, html);
            if (pooled) host.Remember(SignInCookieLine);
        }
        else
        {
            SignInCookieLine = host.SignedIn;
            cookies.Container.SetCookies(Client.BaseAddress!, host.SignedIn);
        }
    }

    // One running application with its folder.
    private sealed class Host
    {
        // The same start for every test is made once and copied: an empty database, or the demonstration's.
        private static readonly Dictionary<bool, Lazy<byte[]>> Starts = new() { [false] = new(() => Begun(false)), [true] = new(() => Begun(true)) };

        private byte[]? begun;

        public Host(bool demo, string? folder)
        {
            Folder = folder ?? Directory.CreateTempSubdirectory("tanksophos-test").FullName;
            if (folder is null) File.WriteAllBytes(Database, Starts[demo].Value);
            Factory = new WebApplicationFactory<Program>().WithWebHostBuilder(b => b
                .UseSetting("data", Folder)
                .UseSetting("demo", demo ? "true" : "false")
                .ConfigureTestServices(s => s.AddSingleton<IClock>(Clock)));
        }

        public string Folder { get; }

        public FakeClock Clock { get; } = new(Start);

        public WebApplicationFactory<Program> Factory { get; }

        /// <summary>The cookie line of who is signed in at its start.</summary>
        public string? SignedIn { get; private set; }

        private string Database => Path.Combine(Folder, "tanksophos.db");

        /// <summary>Notes the present state as the one to come back to.</summary>
        public void Remember(string cookie)
        {
            using (var connection = new SqliteConnection($"Data Source={Database};Pooling=False"))
            {
                connection.Open();
                using var command = connection.CreateCommand();
                command.CommandText = "PRAGMA wal_checkpoint(TRUNCATE)";
                command.ExecuteNonQuery();
            }
            (begun, SignedIn) = (File.ReadAllBytes(Database), cookie);
        }

        /// <summary>Puts everything back to the start.</summary>
        public void Begin()
        {
            Factory.Services.GetRequiredService<RigCache>().Clear();
            Factory.Services.GetRequiredService<PlanMemory>().Clear();
            Factory.Services.GetRequiredService<DataFolder>().ForgetConnections();
            foreach (var file in Directory.EnumerateFiles(Folder, "*", SearchOption.AllDirectories)
                .Where(f => !f.Contains("keys", StringComparison.Ordinal) && Path.GetFileName(f) != "in-use")) File.Delete(file);
            File.WriteAllBytes(Database, begun!);
            Clock.Reset(Start);
        }

        public void End(bool keep)
        {
            Factory.Dispose();
            new DataFolder(Folder).ForgetConnections();
            if (!keep) Directory.Delete(Folder, recursive: true);
        }

        private static byte[] Begun(bool demo)
        {
            var folder = Directory.CreateTempSubdirectory("tanksophos-begun").FullName;
            using (var app = new App(demo, signedIn: false, folder) { Keep = true }) app.With(s => s.Rigs());
            var bytes = File.ReadAllBytes(Path.Combine(folder, "tanksophos.db"));
            Directory.Delete(folder, recursive: true);
            return bytes;
        }
    }

    /// <summary>Whether the folder outlives this application.</summary>
    public bool Keep { get; set; }

    /// <summary>The header by which a new owner is signed in, as a browser gets it.</summary>
    public string SignInCookieLine { get; private set; } = "";

    /// <summary>The cookie by which the client is signed in.</summary>
    public string SignInCookie => SignInCookieLine.Split(';')[0];

    /// <summary>Another visitor of the same application: nobody yet, with cookies of their own.</summary>
    public HttpClient Visitor(bool follow = true)
    {
        var client = host.Factory.CreateClient(new WebApplicationFactoryClientOptions { HandleCookies = true, AllowAutoRedirect = follow });
        client.DefaultRequestHeaders.Add("Cookie", "zone=America%2FDenver");
        return client;
    }

    /// <summary>Acts as another visitor from here on.</summary>
    public App As(HttpClient visitor)
    {
        Client = visitor;
        return this;
    }

    public IServiceProvider Services => host.Factory.Services;

    /// <summary>The rig that was set up or imported last.</summary>
    public int NewestRig => With(s => s.Rigs().Max(r => r.Id));

    public static Instant Start { get; } = Instant.FromUtc(2026, 6, 9, 23, 30);

    public FakeClock Clock => host.Clock;

    public string Folder => host.Folder;

    public HttpClient Client { get; private set; }

    /// <summary>An application with the demonstration's rig.</summary>
    public static App Demo(bool own = false) => new(demo: true, own: own);

    public T With<T>(Func<RigStore, T> use)
    {
        using var scope = host.Factory.Services.CreateScope();
        return use(scope.ServiceProvider.GetRequiredService<RigStore>());
    }

    public async Task<string> GetAsync(string path)
    {
        using var response = await Client.GetAsync(new Uri(path, UriKind.Relative));
        response.StatusCode.ShouldBe(HttpStatusCode.OK, path);
        return WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync());
    }

    /// <summary>Sends a form the way a page does: with the page's token.</summary>
    public async Task<(HttpStatusCode Status, string Html)> PostAsync(string page, string action, params (string Name, string Value)[] fields)
    {
        using var response = await SendAsync(page, action, fields);
        return (response.StatusCode, WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync()));
    }

    public async Task<HttpResponseMessage> SendAsync(string page, string action, params (string Name, string Value)[] fields)
    {
        using var content = new FormUrlEncodedContent([new("__RequestVerificationToken", await TokenAsync(page)),
            .. fields.Select(f => new KeyValuePair<string, string>(f.Name, f.Value))]);
        var response = await Client.PostAsync(new Uri(action, UriKind.Relative), content);
        return response;
    }

    public async Task<(HttpStatusCode Status, string Html)> UploadAsync(byte[] file, string name = "logbook.json", string into = "")
    {
        using var content = new MultipartFormDataContent { { new StringContent(await TokenAsync("/import")), "__RequestVerificationToken" },
            { new StringContent(into), "into" }, { new ByteArrayContent(file), "file", name } };
        using var response = await Client.PostAsync(new Uri("/import", UriKind.Relative), content);
        return (response.StatusCode, WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync()));
    }

    public Task<(HttpStatusCode Status, string Html)> UploadAsync(string text, string name = "logbook.json", string into = "") =>
        UploadAsync(Encoding.UTF8.GetBytes(text), name, into);

    /// <summary>Says yes to a preview.</summary>
    public Task<(HttpStatusCode Status, string Html)> ConfirmAsync(string preview, string into = "") =>
        PostAsync("/import", "/import?handler=Confirm", ("token", Hidden(preview, "token")), ("into", into), ("name", "x"));

    public static string Hidden(string html, string name) => Regex.Match(html, $"name=\"{name}\" value=\"([^\"]*)\"").Groups[1].Value;

    public static string Example(string name) => File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "examples", name));

    public void Dispose()
    {
        if (pooled && host.SignedIn is not null) Idle[demonstration].Add(host);
        else host.End(Keep);
    }

    // Notes the cookie of the sign-in on its way to the client.
    private sealed class Recorder(App app) : DelegatingHandler
    {
        protected override async Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken cancellationToken)
        {
            var response = await base.SendAsync(request, cancellationToken);
            if (response.Headers.TryGetValues("Set-Cookie", out var lines)
                && lines.FirstOrDefault(l => l.StartsWith("tanksophos=", StringComparison.Ordinal)) is { } line) app.SignInCookieLine = line;
            return response;
        }
    }

    /// <summary>The token of the forms on a page.</summary>
    public async Task<string> TokenAsync(string page)
    {
        using var response = await Client.GetAsync(new Uri(page, UriKind.Relative));
        return Token().Match(await response.Content.ReadAsStringAsync()).Groups[1].Value;
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
