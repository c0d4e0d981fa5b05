using System.Buffers;
using System.Text;
using Microsoft.AspNetCore.HostFiltering;
using NodaTime;
using NodaTime.Text;
using SmtpServer;
using SmtpServer.Protocol;
using SmtpServer.Storage;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;
using Tanksophos.Core.Weather;

namespace Tanksophos.StandIns;

/// <summary>How it is to run.</summary>
/// <param name="Port">Port of the page and of the weather.</param>
/// <param name="Server">Address of the program.</param>
/// <param name="Tokens">Tokens by device.</param>
/// <param name="Mqtt">Port of the broker.</param>
/// <param name="Inbox">Folder for files.</param>
/// <param name="Smtp">Port for mail.</param>
/// <param name="Now">The moment at which it begins.</param>
/// <param name="Speed">How many times as fast time runs.</param>
/// <param name="Seed">Seed of chance.</param>
internal sealed record Wishes(int Port, string Server, IReadOnlyDictionary<string, string> Tokens, int? Mqtt, string? Inbox, int? Smtp, string? Now,
    double Speed, long Seed);

/// <summary>Serves the page with the knobs, the weather, and lets the devices speak. For this machine only.</summary>
internal static class StandInHost
{
    private const int MostDays = 30, UsualDays = 14;
    private const string Zone = "America/Denver";

    public static async Task<int> RunAsync(Wishes wishes, CancellationToken stop)
    {
        if (wishes.Now is not null && !Timestamps.TryParse(wishes.Now, out _))
        {
            await Console.Error.WriteLineAsync($"--now: {Timestamps.Accepted} is accepted.");
            return 2;
        }
        await using var app = Build(wishes, SystemClock.Instance);
        try
        {
            await app.StartAsync(stop);
        }
        catch (IOException e)
        {
            await Console.Error.WriteLineAsync($"--port: {e.Message}");
            return 3;
        }
        Console.WriteLine($"The stand-ins answer on http://localhost:{wishes.Port}");
        await app.WaitForShutdownAsync(stop);
        return 0;
    }

    /// <summary>Makes it ready to start.</summary>
    /// <param name="wishes">How it is to run.</param>
    /// <param name="clock">The time.</param>
    public static WebApplication Build(Wishes wishes, IClock clock)
    {
        var builder = WebApplication.CreateSlimBuilder(new WebApplicationOptions
        {
            ContentRootPath = AppContext.BaseDirectory,
            ApplicationName = "tanksophos-standins",
        });
        builder.Logging.SetMinimumLevel(LogLevel.Warning);
        builder.WebHost.UseKestrel(k => k.ListenLocalhost(wishes.Port));
        builder.Services.Configure<HostFilteringOptions>(h => h.AllowedHosts = ["localhost", "127.0.0.1", "[::1]"]);
        var begins = wishes.Now is not null && Timestamps.TryParse(wishes.Now, out var moment) ? moment.ToInstant() : clock.GetCurrentInstant();
        var zone = DateTimeZoneProviders.Tzdb[Zone];
        var rig = DemoSeason.Rig;
        var log = DemoSeason.Until(begins);
        var panel = new SimulatedPanel(DemoSeason.Seed);
        var live = new LiveRig(rig, rig.Tanks.ToDictionary(t => t.Id, t => panel.Truth(log, t.Id, begins)), zone, begins, wishes.Seed);
        // Valves and probes are as they are in the log of the demonstration.
        foreach (var tank in rig.Tanks.Where(t => log.InOrder().OfType<ValveEntry>().LastOrDefault(v => v.Tank == t.Id)?.State == ValveState.Open))
            live.Open.Add(tank.Id);
        live.Fouled.UnionWith(DemoSeason.Fouled);
        var bench = new Bench(rig, live, wishes.Speed, clock);
        builder.Services.AddSingleton(bench);
        builder.Services.AddSingleton(wishes);
        builder.Services.AddHostedService<Senders>();
        if (wishes.Smtp is { } port) builder.Services.AddHostedService(_ => new Mailbox(bench, port));
        var app = builder.Build();
        app.Use((context, next) =>
        {
            context.Response.Headers.ContentSecurityPolicy = "default-src 'self'; frame-ancestors 'none'";
            return next(context);
        });
        app.UseHostFiltering();
        app.UseDefaultFiles();
        app.UseStaticFiles();
        app.MapGet("/state", () => State(bench, zone));
        // A page of another place cannot send this: the header asks for leave first.
        app.MapPost("/knob", (HttpRequest request, string name, bool on) => !request.Headers.ContainsKey("X-Knob") ? Results.BadRequest()
            : bench.Turn(name, on) ? Results.NoContent() : Results.NotFound());
        app.MapGet("/days", (string? place, string? from, int? days) =>
        {
            if (place is null or { Length: 0 or > 200 }) return Results.BadRequest("place: a name is accepted");
            var (today, freezes, hot) = bench.With(r => (r.Now.InZone(zone).Date, r.Freezes, r.Hot));
            var first = from is not null && LocalDatePattern.Iso.Parse(from) is { Success: true, Value: var day } ? day : today;
            var made = Enumerable.Range(0, Math.Clamp(days ?? UsualDays, 1, MostDays)).Select(first.PlusDays)
                .Select(d => (Day: d, Made: MadeUpWeather.Of(place, d, freezes, hot))).Select(d => new WeatherDay(d.Day, d.Made.LowC, d.Made.HighC));
            return Results.Bytes(WeatherFormat.Write(new PlaceForecast(place, bench.With(r => r.Now), [.. made])), "application/json");
        });
        return app;
    }

    private static IResult State(Bench bench, DateTimeZone zone) => bench.With(r => Results.Json(new
    {
        now = r.Now.InZone(zone).ToString("ddd, MMM d, h:mm tt", System.Globalization.CultureInfo.InvariantCulture),
        airC = Math.Round(r.AirC, 1),
        bayC = Math.Round(r.BayC, 1),
        volts = Math.Round(r.BatteryV, 1),
        meterGal = Math.Round(r.MeterL / Core.Rigs.UsMeasures.GallonL, 1),
        tanks = bench.Rig.Tanks.Select(t => new
        {
            id = t.Id,
            name = t.Name,
            share = Math.Round(r.LevelL(t.Id) / t.CapacityL, 3),
            says = t.Monitor.Kind == Core.Rigs.MonitorKind.Percent ? $"{r.Percent(t):0} %"
                : r.Lit(t) is { Count: > 0 } lit ? string.Join(", ", t.Monitor.Probes.Where(p => lit.Contains(p.Id)).Select(p => p.Label)) : "no lights on",
            probes = t.Monitor.Probes.Select(p => new { id = $"{t.Id}/{p.Id}", label = p.Label }),
        }),
        knobs = new Dictionary<string, bool>(
        [
            new("shower", r.Shower), new("hose", r.Hose), new("guests", r.People > 2), new("freeze", r.Freezes), new("hot", r.Hot), new("heat", r.BayHeat),
            new("battery", r.BatteryDrains), .. bench.Rig.Tanks.Select(t => KeyValuePair.Create($"valve:{t.Id}", r.Open.Contains(t.Id))),
            .. bench.Rig.Tanks.SelectMany(t => t.Monitor.Probes.Select(p => KeyValuePair.Create($"foul:{t.Id}/{p.Id}", r.Fouled.Contains((t.Id, p.Id))))),
            .. bench.Stands.Select(s => KeyValuePair.Create($"plug:{s.Name}", s.Plugged)),
        ]),
        devices = bench.Stands.Select(s => new { name = s.Name, wire = s.Wire, measures = s.Measures, plugged = s.Plugged, sent = s.Sent, said = s.Said }),
        mails = bench.Mails.Reverse().Take(20),
    }));

    // Takes mail and shows its subject.
    private sealed class Mailbox(Bench bench, int port) : BackgroundService
    {
        protected override async Task ExecuteAsync(CancellationToken stoppingToken)
        {
            var services = new SmtpServer.ComponentModel.ServiceProvider();
            services.Add(new Store(bench));
            await new SmtpServer.SmtpServer(new SmtpServerOptionsBuilder().ServerName("localhost")
                .Endpoint(e => e.Endpoint(new System.Net.IPEndPoint(System.Net.IPAddress.Loopback, port))).Build(), services).StartAsync(stoppingToken);
        }

        private sealed class Store(Bench bench) : MessageStore
        {
            public override Task<SmtpResponse> SaveAsync(ISessionContext context, IMessageTransaction transaction, ReadOnlySequence<byte> buffer,
                CancellationToken cancellationToken)
            {
                var subject = Encoding.UTF8.GetString(buffer.ToArray()).Split('\n').FirstOrDefault(l => l.StartsWith("Subject:", StringComparison.Ordinal));
                bench.Mails.Enqueue(subject?["Subject:".Length..].Trim() ?? "(no subject)");
                return Task.FromResult(SmtpResponse.Ok);
            }
        }
    }
}
