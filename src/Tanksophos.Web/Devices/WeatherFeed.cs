using System.Globalization;
using NodaTime;
using NodaTime.Text;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Weather;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Devices;

/// <summary>Where forecasts come from. Another service than ours is another class of this kind.</summary>
public interface IWeatherSource
{
    /// <summary>Asks for the weather of a place.</summary>
    /// <param name="place">Its name, as it stands in the log or the trip.</param>
    /// <param name="from">The first day.</param>
    /// <param name="days">How many days.</param>
    /// <param name="now">The moment.</param>
    /// <param name="stop">Gives up.</param>
    /// <exception cref="HttpRequestException">It was not reached, or did not answer with weather.</exception>
    Task<PlaceForecast> AskAsync(string place, LocalDate from, int days, Instant now, CancellationToken stop);
}

/// <summary>Asks a service over HTTP: <c>GET address?place=NAME&amp;from=DATE&amp;days=N</c>, which answers as the guide says.</summary>
internal sealed class WeatherService : IWeatherSource, IDisposable
{
    private const int Largest = 64 * 1024;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(15);

    private readonly Uri address;
    private readonly HttpClient http = new(new SocketsHttpHandler { AllowAutoRedirect = false, UseCookies = false, ConnectTimeout = Patience })
    {
        Timeout = Patience,
        MaxResponseContentBufferSize = Largest,
    };

    private WeatherService(Uri address) => this.address = address;

    /// <summary>Reads the option.</summary>
    /// <param name="option">The address; null for none.</param>
    /// <param name="wrong">What is wrong with it; null for nothing.</param>
    public static WeatherService? Of(string? option, out string? wrong)
    {
        wrong = null;
        if (option is null) return null;
        if (Uri.TryCreate(option, UriKind.Absolute, out var uri) && uri.Scheme is "http" or "https" && uri.Host.Length > 0 && uri.Query.Length == 0)
            return new WeatherService(uri);
        wrong = "--weather: an address such as http://192.168.1.20:8090/days is accepted.";
        return null;
    }

    /// <inheritdoc/>
    public async Task<PlaceForecast> AskAsync(string place, LocalDate from, int days, Instant now, CancellationToken stop)
    {
        var asked = string.Create(CultureInfo.InvariantCulture,
            $"{address}?place={Uri.EscapeDataString(place)}&from={LocalDatePattern.Iso.Format(from)}&days={days}");
        byte[] body;
        try
        {
            using var answer = await http.GetAsync(new Uri(asked), stop);
            if (!answer.IsSuccessStatusCode) throw new HttpRequestException($"it answered {(int)answer.StatusCode}");
            body = await answer.Content.ReadAsByteArrayAsync(stop);
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            throw new HttpRequestException("no answer in time");
        }
        var read = WeatherFormat.Read(body, place, now);
        return read.Value ?? throw new HttpRequestException($"its answer is not taken: {read.Errors[0]}");
    }

    /// <inheritdoc/>
    public void Dispose() => http.Dispose();
}

/// <summary>
/// Asks for the weather where rigs stand and where their trips go, some times a day, where a service was set up. What it said last stays when it is not
/// reached.
/// </summary>
internal sealed partial class WeatherFeed(IWeatherSource source, IServiceScopeFactory scopes, IClock clock, PlanMemory plans, LogBell bell,
    ILogger<WeatherFeed> log) : BackgroundService
{
    // A place is asked for again after so long, sooner if it was not answered; a trip is looked at so often.
    private static readonly Duration Old = Duration.FromHours(3), Again = Duration.FromMinutes(15);
    private static readonly TimeSpan Looks = TimeSpan.FromSeconds(30);

    private const int MostPlaces = 40;

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            while (true)
            {
                try
                {
                    await AskAsync(stoppingToken);
                }
                catch (Exception e) when (e is not OperationCanceledException) // whatever it is, the program goes on
                {
                    NotAsked(log, e);
                }
                await Task.Delay(Looks, stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            // the program stops
        }
    }

    /// <summary>Asks for what is not known or old.</summary>
    public async Task AskAsync(CancellationToken stop)
    {
        using var scope = scopes.CreateScope();
        var (store, weather) = (scope.ServiceProvider.GetRequiredService<RigStore>(), scope.ServiceProvider.GetRequiredService<WeatherStore>());
        var (memory, trips) = (scope.ServiceProvider.GetRequiredService<RigCache>(), scope.ServiceProvider.GetRequiredService<TripStore>());
        var now = clock.GetCurrentInstant();
        var places = new Dictionary<string, (string Name, LocalDate Today, HashSet<int> Rigs)>(StringComparer.Ordinal);
        foreach (var rig in store.Rigs())
        {
            var force = memory.Now(rig, store).Belief.InForce;
            if (force.Place is { Length: > 0 } here) Want(here, force.Zone);
            foreach (var next in trips.Current(rig.Id, now)?.Itinerary.Stops ?? [])
                if (next.Depart.ToInstant() > now && next.Arrive.ToInstant() < now + Duration.FromDays(WeatherBook.DaysAhead)) Want(next.Name, next.Zone);

            void Want(string place, DateTimeZone zone)
            {
                if (string.IsNullOrWhiteSpace(place)) return;
                if (!places.TryGetValue(WeatherBook.KeyOf(place), out var wanted))
                {
                    if (places.Count >= MostPlaces) return;
                    places[WeatherBook.KeyOf(place)] = wanted = (place, now.InZone(zone).Date, []);
                }
                wanted.Rigs.Add(rig.Id);
            }
        }
        var tries = weather.Tries().ToDictionary(t => WeatherBook.KeyOf(t.Place), StringComparer.Ordinal);
        foreach (var (key, (place, today, rigs)) in places)
        {
            if (tries.TryGetValue(key, out var before)
                && (now - before.TriedAt < Again && now >= before.TriedAt
                || before.Problem is null && now - before.FetchedAt < Old && now >= before.FetchedAt)) continue;
            try
            {
                if (!weather.Keep(await source.AskAsync(place, today, WeatherBook.DaysAhead + 1, now, stop))) continue;
                plans.Clear();
                foreach (var id in rigs) bell.Ring(id);
            }
            catch (HttpRequestException e)
            {
                weather.Failed(place, e.Message);
            }
        }
    }

    [LoggerMessage(LogLevel.Warning, "The weather was not asked for")]
    private static partial void NotAsked(ILogger log, Exception e);
}
