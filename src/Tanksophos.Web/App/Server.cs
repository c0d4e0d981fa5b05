using System.Globalization;
using System.Net;
using System.Net.Sockets;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Http.Features;
using NodaTime;
using Serilog;
using Serilog.Events;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;

namespace Tanksophos.Web.App;

/// <summary>Builds and runs the web application.</summary>
internal static class Server
{
    public const int UsualPort = 5080;

    public static string UsualDataFolder =>
        Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.LocalApplicationData, Environment.SpecialFolderOption.Create), "tanksophos");

    public static async Task<int> RunAsync(string[] args, string? data, int? port, bool demo, string? now, CancellationToken stop)
    {
        if (port is < 0 or > 65535)
        {
            await Console.Error.WriteLineAsync("--port: a number from 0 to 65535 is accepted.");
            return 2;
        }
        IClock clock = SystemClock.Instance;
        if (now is not null)
        {
            if (!Timestamps.TryParse(now, out var moment))
            {
                await Console.Error.WriteLineAsync($"--now: {Timestamps.Accepted} is accepted.");
                return 2;
            }
            clock = new ShiftedClock(clock, moment.ToInstant() - clock.GetCurrentInstant());
        }
        // A published program finds its pages' files beside itself, from whichever folder it is started.
        var beside = Directory.Exists(Path.Combine(AppContext.BaseDirectory, "wwwroot")) ? AppContext.BaseDirectory : null;
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { Args = args, ContentRootPath = beside });
        var folder = builder.Configuration["data"] ?? data ?? UsualDataFolder; // the test host sets the former
        try
        {
            Configure(builder, new DataFolder(folder), port ?? UsualPort, clock);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            await Console.Error.WriteLineAsync($"--data: the folder '{folder}' cannot be used: {e.Message}");
            return 2;
        }
        await using var app = builder.Build();
        Prepare(app, demo || builder.Configuration["demo"] == "true");
        Map(app);
        try
        {
            await app.StartAsync(stop);
        }
        catch (IOException e) when (e.InnerException is Microsoft.AspNetCore.Connections.AddressInUseException or SocketException || e is { HResult: _ } && e.Message.Contains("address already in use", StringComparison.OrdinalIgnoreCase))
        {
            await Console.Error.WriteLineAsync($"Port {port ?? UsualPort} is taken by another program. Choose another: --port {(port ?? UsualPort) + 1}");
            return 3;
        }
        foreach (var address in app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()?.Addresses ?? [])
            Console.WriteLine($"Tanksophos answers on {address.Replace("127.0.0.1", "localhost", StringComparison.Ordinal)}");
        await app.WaitForShutdownAsync(stop);
        return 0;
    }

    private static void Configure(WebApplicationBuilder builder, DataFolder folder, int port, IClock clock)
    {
        builder.Host.UseSerilog((_, log) => log
            .MinimumLevel.Is(LogEventLevel.Warning)
            .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", LogEventLevel.Error) // keys lie in the data folder, by intent
            .MinimumLevel.Override("Microsoft.AspNetCore.Antiforgery", LogEventLevel.Error)
            .MinimumLevel.Override("Microsoft.Extensions.Hosting", LogEventLevel.Fatal) // a taken port is said in our own words
            .WriteTo.Console(formatProvider: CultureInfo.InvariantCulture));
        builder.WebHost.ConfigureKestrel(k =>
        {
            k.AddServerHeader = false;
            k.Listen(IPAddress.Loopback, port);
            k.Limits.MaxRequestBodySize = Uploads.MostBytes + Uploads.FormBytes;
        });
        builder.Services.Configure<FormOptions>(f => f.MultipartBodyLengthLimit = Uploads.MostBytes + Uploads.FormBytes);
        builder.Services.AddSingleton(folder);
        builder.Services.AddSingleton(clock);
        builder.Services.AddSingleton<ILevelEstimator, CountingEstimator>();
        builder.Services.AddSingleton<Beliefs>();
        builder.Services.AddSingleton<Uploads>();
        builder.Services.AddScoped(_ => folder.Open());
        builder.Services.AddScoped<RigStore>();
        builder.Services.AddScoped<Household>();
        builder.Services.AddScoped<Importing>();
        builder.Services.AddHttpContextAccessor();
        builder.Services.AddRazorPages(o => o.Conventions.AddPageRoute("/Today/Index", ""));
        builder.Services.AddRouting(o => o.LowercaseUrls = true);
        builder.Services.AddAntiforgery(o => o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest);
        builder.Services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(folder.Root, "keys"))).SetApplicationName("tanksophos");
    }

    private static void Prepare(WebApplication app, bool demo)
    {
        var folder = app.Services.GetRequiredService<DataFolder>();
        folder.Migrate();
        if (!demo) return;
        using var scope = app.Services.CreateScope();
        var store = scope.ServiceProvider.GetRequiredService<RigStore>();
        if (store.Rigs().Count > 0) return;
        var season = DemoSeason.Until(app.Services.GetRequiredService<IClock>().GetCurrentInstant());
        store.Add(season.Rig, season.Entries, "demo", "demo");
    }

    private static void Map(WebApplication app)
    {
        app.UseSecurityHeaders(Policy());
        app.UseExceptionHandler("/error");
        app.UseStatusCodePagesWithReExecute("/error", "?code={0}");
        app.Use(RefuseLargeUploads);
        app.UseRouting();
        app.UseAntiforgery();
        app.MapStaticAssets();
        app.MapRazorPages().WithStaticAssets();
    }

    // A browser that is cut off while it sends shows its own error; so the rest is read and thrown away, and the page says what is accepted.
    private static async Task RefuseLargeUploads(HttpContext context, RequestDelegate next)
    {
        var refused = context.Items.ContainsKey(nameof(RefuseLargeUploads)); // the page that says so comes through here too
        if (refused || context.Request.ContentLength is not > Uploads.MostBytes + Uploads.FormBytes)
        {
            await next(context);
            return;
        }
        if (context.Request.ContentLength < Uploads.MostBytesToDiscard)
        {
            if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit) limit.MaxRequestBodySize = null;
            await context.Request.Body.CopyToAsync(Stream.Null, context.RequestAborted);
        }
        context.Items[nameof(RefuseLargeUploads)] = true;
        context.Request.Method = HttpMethods.Get;
        context.Request.ContentType = null;
        context.Request.ContentLength = null;
        context.Request.Body = Stream.Null;
        context.Response.StatusCode = StatusCodes.Status413PayloadTooLarge;
    }

    // Strict from the first day: only our own files, no inline script or style, no eval.
    private static HeaderPolicyCollection Policy() => new HeaderPolicyCollection()
        .AddFrameOptionsDeny()
        .AddContentTypeOptionsNoSniff()
        .AddReferrerPolicySameOrigin()
        .RemoveServerHeader()
        .AddCrossOriginOpenerPolicy(p => p.SameOrigin())
        .AddContentSecurityPolicy(csp =>
        {
            csp.AddDefaultSrc().None();
            csp.AddScriptSrc().Self();
            csp.AddStyleSrc().Self();
            csp.AddImgSrc().Self().Data();
            csp.AddFontSrc().Self();
            csp.AddConnectSrc().Self();
            csp.AddManifestSrc().Self();
            csp.AddFormAction().Self();
            csp.AddBaseUri().None();
            csp.AddFrameAncestors().None();
            csp.AddObjectSrc().None();
        });
}

/// <summary>A clock that goes right but was set to another time.</summary>
internal sealed class ShiftedClock(IClock clock, Duration shift) : IClock
{
    public Instant GetCurrentInstant() => clock.GetCurrentInstant() + shift;
}
