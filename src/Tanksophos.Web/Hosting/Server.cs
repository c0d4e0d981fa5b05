using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.HostFiltering;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.AspNetCore.Identity;
using NodaTime;
using Serilog;
using Serilog.Events;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Api;
using Tanksophos.Web.Devices;
using Tanksophos.Web.Docs;
using Tanksophos.Web.Pages;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Hosting;

/// <summary>Builds and runs the web application.</summary>
internal static class Server
{
    public const int UsualPort = 5080;

    /// <summary>Name of the account of the demonstration.</summary>
    public const string DemoName = "Demo";

    public static string UsualDataFolder =>
        Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.LocalApplicationData, Environment.SpecialFolderOption.Create), "tanksophos");

    /// <summary>How the program was asked to run.</summary>
    public sealed record Wishes(string[] Args, string? Data, int? Port, bool Demo, string? Now, bool Lan, bool Https, FileInfo? Certificate,
        FileInfo? CertificateKey)
    {
        /// <summary>The owner's MQTT broker; null for none.</summary>
        public string? Mqtt { get; init; }

        /// <summary>A file with its password; null for none.</summary>
        public FileInfo? MqttPassword { get; init; }

        /// <summary>Port of a broker of our own; null for none.</summary>
        public int? Broker { get; init; }

        /// <summary>The owner's mail server; null for none.</summary>
        public string? Smtp { get; init; }

        /// <summary>Mailbox that its mail comes from.</summary>
        public string? SmtpFrom { get; init; }

        /// <summary>A file with its password; null for none.</summary>
        public FileInfo? SmtpPassword { get; init; }

        /// <summary>A folder whose files of measurements are taken in; null for none.</summary>
        public string? Inbox { get; init; }

        /// <summary>Address of a weather service; null for none.</summary>
        public string? Weather { get; init; }

        /// <summary>Addresses of reverse proxies whose word on who asks is taken; empty for none.</summary>
        public IReadOnlyList<string> Proxies { get; init; } = [];

        /// <summary>The part of the address under which a proxy shows the program, such as /tanks; null for the top.</summary>
        public string? PathBase { get; init; }

        /// <summary>Further names by which it may be asked for.</summary>
        public IReadOnlyList<string> Hosts { get; init; } = [];

        /// <summary>How many times as fast time runs.</summary>
        public double Speed { get; init; } = 1;
    }

    public static async Task<int> RunAsync(Wishes wishes, CancellationToken stop)
    {
        var (args, data, port, demo, now, lan, https, given, key) = wishes;
        if (port is < 0 or > 65535)
        {
            await Console.Error.WriteLineAsync("--port: a number from 0 to 65535 is accepted.");
            return 2;
        }
        if (wishes.Speed is not (>= 1 and <= MostSpeed))
        {
            await Console.Error.WriteLineAsync($"--speed: a number from 1 to {MostSpeed} is accepted.");
            return 2;
        }
        if (ClockOf(now, wishes.Speed) is not { } clock)
        {
            await Console.Error.WriteLineAsync($"--now: {Timestamps.Accepted} is accepted.");
            return 2;
        }
        if (MqttWish.Of(wishes.Mqtt, wishes.MqttPassword, out var wrong) is var mqtt && wrong is not null)
        {
            await Console.Error.WriteLineAsync(wrong);
            return 2;
        }
        if (MailWish.Of(wishes.Smtp, wishes.SmtpFrom, wishes.SmtpPassword, out wrong) is var mail && wrong is not null)
        {
            await Console.Error.WriteLineAsync(wrong);
            return 2;
        }
        if (WeatherService.Of(wishes.Weather, out wrong) is var weather && wrong is not null)
        {
            await Console.Error.WriteLineAsync(wrong);
            return 2;
        }
        if (ProxyWish.Of(wishes.Proxies, wishes.PathBase, wishes.Hosts, out wrong) is not { } proxy)
        {
            await Console.Error.WriteLineAsync(wrong);
            return 2;
        }
        if (wishes.Broker is < 1 or > 65535)
        {
            await Console.Error.WriteLineAsync("--mqtt-broker: a number from 1 to 65535 is accepted.");
            return 2;
        }
        // A published program finds its pages' files beside itself, from whichever folder it is started.
        var beside = Directory.Exists(Path.Combine(AppContext.BaseDirectory, "wwwroot")) ? AppContext.BaseDirectory : null;
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { Args = args, ContentRootPath = beside });
        var folder = builder.Configuration["data"] ?? data ?? UsualDataFolder; // the test host sets the former
        demo |= builder.Configuration["demo"] == "true";
        port ??= builder.Configuration.GetValue<int?>("port");
        FileStream? held = null;
        X509Certificate2? certificate = null;
        try
        {
            var kept = new DataFolder(folder);
            held = kept.Hold();
            if (held is null)
            {
                await Console.Error.WriteLineAsync($"--data: another Tanksophos is using the folder '{folder}'. Stop it, or choose another folder.");
                return 2;
            }
            if (https || given is not null)
            {
                certificate = given is null ? Addresses.OwnCertificate(Path.Combine(kept.Root, "https.pfx"), clock.GetCurrentInstant().ToDateTimeOffset())
                    : Given(given, key);
                if (certificate is null)
                {
                    await Console.Error.WriteLineAsync("--certificate: a PEM file with its --certificate-key, or a PKCS #12 file without a password, is "
                        + "accepted.");
                    return 2;
                }
            }
            kept.Tidy();
            if (kept.IsOpenToOthers)
                await Console.Error.WriteLineAsync($"Warning: other users of this computer can look into the data folder. Close it with: chmod 700 "
                    + $"\"{kept.Root}\"");
            kept.Migrate(clock.GetCurrentInstant());
            Configure(builder, kept, port ?? UsualPort, clock, new HostingOptions(demo, lan, Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(5))),
                certificate);
            builder.Services.AddSingleton(proxy);
            if (proxy.Hosts.Count > 0) builder.Services.PostConfigure<HostFilteringOptions>(h => h.AllowedHosts = [.. h.AllowedHosts, .. proxy.Hosts]);
            if (mqtt is not null)
            {
                builder.Services.AddSingleton(s => ActivatorUtilities.CreateInstance<MqttFeed>(s, mqtt));
                builder.Services.AddHostedService(s => s.GetRequiredService<MqttFeed>());
            }
            if (mail is not null) builder.Services.AddSingleton(mail);
            if (wishes.Broker is { } broker)
                builder.Services.AddHostedService(s => ActivatorUtilities.CreateInstance<MqttBroker>(s, new MqttBrokerWish(broker, lan, certificate)));
            if (weather is not null)
            {
                builder.Services.AddSingleton<IWeatherSource>(_ => weather);
                builder.Services.AddHostedService<WeatherFeed>();
            }
            if (wishes.Inbox is { } inbox) builder.Services.AddHostedService(s => ActivatorUtilities.CreateInstance<InboxFeed>(s, inbox));
        }
        catch (UnusableDatabaseException e)
        {
            await Console.Error.WriteLineAsync(e.Message);
            held?.Dispose();
            return 4;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or CryptographicException)
        {
            await Console.Error.WriteLineAsync($"--data: the folder '{folder}' cannot be used: {e.Message}");
            return 2;
        }
        using var lockFile = held;
        await using var app = builder.Build();
        return await ServeAsync(app, demo, port ?? UsualPort, certificate, stop);
    }

    private static async Task<int> ServeAsync(WebApplication app, bool demo, int port, X509Certificate2? certificate, CancellationToken stop)
    {
        // The first questions to the database are prepared while the server starts; whoever is quicker waits for it.
        var prepared = app.Services.GetRequiredService<Prepared>();
        prepared.Task = Task.Run(() => PrepareAsync(app, demo), stop);
        Map(app);
        try
        {
            await app.StartAsync(stop);
        }
        catch (IOException e) when (e.InnerException is Microsoft.AspNetCore.Connections.AddressInUseException or SocketException || e is { HResult: _ }
            && e.Message.Contains("address already in use", StringComparison.OrdinalIgnoreCase))
        {
            await Console.Error.WriteLineAsync($"Port {port} is taken by another program. Choose another: --port {port + 1}");
            return 3;
        }
        Announce(app, certificate);
        await app.WaitForShutdownAsync(stop);
        return 0;
    }

    // The clock of the program: the system's, or one that started at a wished moment; null if that is no moment.
    private static IClock? ClockOf(string? now, double speed)
    {
        if (now is null && speed == 1) return SystemClock.Instance;
        var real = SystemClock.Instance.GetCurrentInstant();
        return now is null ? new WishedClock(SystemClock.Instance, real, real, speed)
            : Timestamps.TryParse(now, out var moment) ? new WishedClock(SystemClock.Instance, real, moment.ToInstant(), speed) : null;
    }

    private const double MostSpeed = 600;

    private static X509Certificate2? Given(FileInfo file, FileInfo? key)
    {
        try
        {
            return key is not null ? X509Certificate2.CreateFromPemFile(file.FullName, key.FullName)
                : X509CertificateLoader.LoadPkcs12FromFile(file.FullName, null);
        }
        catch (Exception e) when (e is CryptographicException or IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    private static void Announce(WebApplication app, X509Certificate2? certificate)
    {
        var hosting = app.Services.GetRequiredService<HostingOptions>();
        var scheme = certificate is null ? "http" : "https";
        foreach (var address in app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()?.Addresses ?? [])
        {
            var bound = new Uri(address.Replace("[::]", "localhost", StringComparison.Ordinal).Replace("0.0.0.0", "localhost", StringComparison.Ordinal));
            Console.WriteLine($"Tanksophos answers on {scheme}://localhost:{bound.Port}");
            if (!hosting.Lan) continue;
            using var scope = app.Services.CreateScope();
            var first = !scope.ServiceProvider.GetRequiredService<PeopleStore>().AnyPeople;
            foreach (var (near, i) in Addresses.OfThisMachine().Select((a, i) => (a, i)))
            {
                var link = $"{scheme}://{near}:{bound.Port}{(first ? $"/first?code={hosting.SetUpCode}" : "")}";
                Console.WriteLine($"In the local network: {link}");
                if (i == 0) Console.WriteLine(Addresses.QrText(link));
            }
            if (first) Console.WriteLine("There is no account yet. The first person to open this link becomes the owner. Keep it to yourself.");
            if (certificate is null)
                Console.WriteLine("Anyone in this network can read plain http. Start with --https to encrypt; phones refuse some features without it.");
        }
        if (certificate is not null)
            Console.WriteLine($"Fingerprint of the certificate (SHA-256), to compare when a browser asks: "
                + $"{Convert.ToHexString(certificate.GetCertHash(HashAlgorithmName.SHA256))}");
    }

    private static void Configure(WebApplicationBuilder builder, DataFolder folder, int port, IClock clock, HostingOptions hosting,
        X509Certificate2? certificate)
    {
        builder.Services.AddSystemd(); // says when it is ready, where it is run as a service
        builder.Host.UseSerilog((_, log) => log
            .MinimumLevel.Is(LogEventLevel.Warning)
            .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", LogEventLevel.Error) // keys lie in the data folder, by intent
            .MinimumLevel.Override("Microsoft.AspNetCore.Antiforgery", LogEventLevel.Error)
            // a server without limits of its own, in tests
            .MinimumLevel.Override("Microsoft.AspNetCore.Routing.EndpointRoutingMiddleware", LogEventLevel.Error)
            .MinimumLevel.Override("Microsoft.AspNetCore.Mvc.Filters.RequestSizeLimitFilter", LogEventLevel.Error)
            .MinimumLevel.Override("Microsoft.Extensions.Hosting", LogEventLevel.Fatal) // a taken port is said in our own words
            .WriteTo.Console(formatProvider: CultureInfo.InvariantCulture));
        builder.WebHost.ConfigureKestrel(k =>
        {
            k.AddServerHeader = false;
            k.Listen(hosting.Lan ? IPAddress.Any : IPAddress.Loopback, port, l =>
            {
                if (certificate is not null) l.UseHttps(certificate);
            });
            k.Limits.MaxRequestBodySize = Uploads.UsualBytes; // an import and a backup have limits of their own
        });
        builder.Services.Configure<FormOptions>(f => f.MultipartBodyLengthLimit = Uploads.MaxBytes + Uploads.FormBytes);
        builder.Services.Configure<HostFilteringOptions>(h => h.IncludeFailureMessage = false); // said in our own words, for programs in JSON
        builder.Services.Insert(0, ServiceDescriptor.Transient<IStartupFilter, First>());
        builder.Services.AddSingleton<Prepared>();
        builder.Services.AddHostedService<Preparing>(); // the start is over when this is; the server itself starts beside it
        builder.Services.Configure<HostOptions>(h => h.ServicesStartConcurrently = true);
        builder.Services.AddSingleton(folder);
        builder.Services.AddSingleton(clock);
        builder.Services.AddSingleton<ILevelEstimator, JointEstimator>();
        builder.Services.AddSingleton(hosting);
        builder.Services.AddSingleton<RigCache>();
        builder.Services.AddSingleton<SafeKeeping>();
        builder.Services.AddHostedService<DailyBackup>();
        builder.Services.AddHostedService<IdleRigs>();
        builder.Services.AddHostedService<SimulatedPanelFeed>();
        builder.Services.Configure<HostFilteringOptions>(h => h.AllowedHosts = [.. Addresses.Hosts(hosting.Lan)]);
        builder.Services.AddSingleton<Uploads>();
        builder.Services.AddScoped(_ => folder.Open());
        builder.Services.AddScoped<RigStore>();
        builder.Services.AddScoped<PeopleStore>();
        builder.Services.AddScoped<PhotoStore>();
        builder.Services.AddScoped<TripStore>();
        builder.Services.AddScoped<TripService>();
        builder.Services.AddScoped<AfterWriting>();
        builder.Services.AddSingleton<AfterPrograms>();
        builder.Services.AddScoped<RunStore>();
        builder.Services.AddScoped<SeasonStore>();
        builder.Services.AddScoped<PracticeStore>();
        builder.Services.AddScoped<DeviceStore>();
        builder.Services.AddScoped<NoticeStore>();
        builder.Services.AddScoped<WeatherStore>();
        builder.Services.AddScoped<Surroundings>();
        builder.Services.AddSingleton(s => new Notifier(s.GetRequiredService<IServiceScopeFactory>(), s.GetRequiredService<IClock>(),
            s.GetRequiredService<ILogger<Notifier>>(), s.GetService<MailWish>(), s.GetService<MqttFeed>()));
        builder.Services.AddHostedService(s => s.GetRequiredService<Notifier>());
        builder.Services.AddSingleton<MeasurementGateway>();
        builder.Services.AddHostedService(s => s.GetRequiredService<MeasurementGateway>());
        builder.Services.AddScoped<RunService>();
        builder.Services.AddScoped<TreatmentService>();
        builder.Services.AddScoped<AgendaService>();
        builder.Services.AddScoped<SetAsideStore>();
        builder.Services.AddSingleton<SignInThrottle>();
        builder.Services.AddSingleton<RunBell>();
        builder.Services.AddSingleton<LogBell>();
        builder.Services.AddSingleton<PlanMemory>();
        builder.Services.AddScoped<CurrentRequest>();
        builder.Services.AddScoped<Importing>();
        builder.Services.AddSingleton<ImportJobs>();
        builder.Services.AddSingleton(s => new DocsLibrary(s.GetService<ProxyWish>()?.PathBase ?? ""));
        builder.Services.AddHttpContextAccessor();
        builder.Services.AddScoped<AccessFilter>();
        ApiDescription.Add(builder.Services);
        SigningIn.Add(builder.Services);
        builder.Services.AddRazorPages(o => o.Conventions.AddPageRoute("/Today/Index", "")).AddMvcOptions(o => o.Filters.AddService<AccessFilter>());
        builder.Services.AddRouting(o => o.LowercaseUrls = true);
        builder.Services.AddAntiforgery(o => o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest);
        builder.Services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(folder.Root, "keys"))).SetApplicationName("tanksophos");
    }

    private static async Task PrepareAsync(WebApplication app, bool demo)
    {
        using var scope = app.Services.CreateScope();
        if (!demo)
        {
            _ = scope.ServiceProvider.GetRequiredService<PeopleStore>().AnyPeople;
            return;
        }
        var store = scope.ServiceProvider.GetRequiredService<RigStore>();
        var people = scope.ServiceProvider.GetRequiredService<PeopleStore>();
        if (store.Rigs().Count == 0)
        {
            var season = DemoSeason.Until(app.Services.GetRequiredService<IClock>().GetCurrentInstant());
            var rig = store.Add(season.Rig, season.Entries, DemoName, "demo");
            scope.ServiceProvider.GetRequiredService<TripStore>()
                .Add(rig, DemoSeason.TripAt(app.Services.GetRequiredService<IClock>().GetCurrentInstant()), DemoName);
        }
        // On the machine itself the demonstration is entered with one click; where others could come in, its first visitor makes an account like everywhere.
        if (people.AnyPeople || app.Services.GetRequiredService<HostingOptions>().Lan) return;
        var at = app.Services.GetRequiredService<IClock>().GetCurrentInstant();
        var person = new Person { UserName = DemoName, IsKeeper = true, TourDone = true, CreatedAt = at };
        await scope.ServiceProvider.GetRequiredService<UserManager<Person>>().CreateAsync(person);
        people.Adopt(person.Id);
    }

    private static void Map(WebApplication app)
    {
        app.UseSecurityHeaders(Policy());
        app.UseWhen(c => !c.Items.ContainsKey(RigApi.Item), pages =>
        {
            pages.UseExceptionHandler("/error");
            pages.UseStatusCodePagesWithReExecute("/error", "?code={0}");
        });
        app.UseRouting();
        app.Use(RefuseLargeUploads);
        var allowances = app.Services.GetRequiredService<Allowances>();
        app.Use(allowances.CheckAsync);
        app.UseAuthentication();
        app.UseAuthorization();
        app.Use(FormGuard.ReadAsync);
        app.UseAntiforgery();
        app.MapStaticAssets().AllowAnonymous();
        app.MapRazorPages().WithStaticAssets();
        RigApi.Map(app);
        TripCalendar.Map(app);
        Watch.Map(app);
        app.MapOpenApi("/openapi/{documentName}.json").AllowAnonymous();
    }

    // What is done before the first answer.
    private sealed class Prepared
    {
        public Task Task { get; set; } = Task.CompletedTask;
    }

    private sealed class Preparing(Prepared prepared) : IHostedService
    {
        public Task StartAsync(CancellationToken cancellationToken) => prepared.Task;

        public Task StopAsync(CancellationToken cancellationToken) => Task.CompletedTask;
    }

    // The framework refuses wrong hosts before anything of ours; what has to be there even then goes before it.
    private sealed class First : IStartupFilter
    {
        public Action<IApplicationBuilder> Configure(Action<IApplicationBuilder> next) => app =>
        {
            var prepared = app.ApplicationServices.GetRequiredService<Prepared>();
            app.Use(async (context, following) =>
            {
                if (!prepared.Task.IsCompletedSuccessfully) await prepared.Task;
                await following(context);
            });
            if (app.ApplicationServices.GetService<ProxyWish>() is { } proxy) proxy.Use(app);
            app.Use(OnlyHttpsFromNowOn);
            app.Use(RigApi.AnswerInJson);
            app.Use(SayWrongHost);
            next(app);
        };
    }

    // Only for names: an address in the local network may belong to another machine tomorrow, and one's own machine is reached without encryption too.
    private static Task OnlyHttpsFromNowOn(HttpContext context, RequestDelegate next)
    {
        var host = context.Request.Host.Host;
        if (context.Request.IsHttps && host.Length > 0 && !host.Equals("localhost", StringComparison.OrdinalIgnoreCase)
            && !IPAddress.TryParse(host.Trim('[', ']'), out _))
            context.Response.Headers.StrictTransportSecurity = "max-age=15552000"; // 180 days
        return next(context);
    }

    private static async Task SayWrongHost(HttpContext context, RequestDelegate next)
    {
        await next(context);
        if (context.Response is { StatusCode: StatusCodes.Status400BadRequest, HasStarted: false, ContentType: null }
            && !context.Request.Path.StartsWithSegments(RigApi.Root))
            await context.Response.WriteAsync("Wrong address. Open the one the program printed at startup.");
    }

    // A browser that is cut off while it sends shows its own error; so the rest is read and thrown away, and the page says what is accepted.
    private static async Task RefuseLargeUploads(HttpContext context, RequestDelegate next)
    {
        var refused = context.Items.ContainsKey(nameof(RefuseLargeUploads)); // the page that says so comes through here too
        var most = context.GetEndpoint()?.Metadata.GetMetadata<IRequestSizeLimitMetadata>()?.MaxRequestBodySize ?? Uploads.UsualBytes;
        if (refused || context.Request.ContentLength is not { } length || length <= most)
        {
            await next(context);
            return;
        }
        if (context.Request.ContentLength < Uploads.MaxBytesToDiscard)
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
            csp.AddWorkerSrc().Self();
            csp.AddFormAction().Self();
            csp.AddBaseUri().None();
            csp.AddFrameAncestors().None();
            csp.AddObjectSrc().None();
        });
}

/// <summary>A clock that goes right but was set to another time.</summary>
internal sealed class WishedClock(IClock clock, Instant from, Instant shown, double speed) : IClock
{
    public Instant GetCurrentInstant() => shown + (clock.GetCurrentInstant() - from) * speed;
}
