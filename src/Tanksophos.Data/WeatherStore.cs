using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Weather;

namespace Tanksophos.Data;

/// <summary>How asking for the weather of a place went.</summary>
/// <param name="Place">Its name.</param>
/// <param name="FetchedAt">When a forecast was last had; null if never.</param>
/// <param name="TriedAt">When it was last asked for.</param>
/// <param name="Problem">Why the last try failed; null if it did not.</param>
public sealed record WeatherTry(string Place, Instant? FetchedAt, Instant TriedAt, string? Problem);

/// <summary>Keeps forecasts by place, and each rig's climate by month.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">The time.</param>
public sealed class WeatherStore(TanksophosContext context, IClock clock)
{
    /// <summary>Months of a climate.</summary>
    public const int Months = 12;

    private static readonly Duration Kept = Duration.FromDays(60);
    private readonly Dictionary<int, WeatherBook> books = [];

    /// <summary>What is known of the weather, for a rig.</summary>
    /// <param name="rigId">The rig.</param>
    public WeatherBook Book(int rigId) => books.TryGetValue(rigId, out var book) ? book
        : books[rigId] = new WeatherBook(Forecasts(), Climate(rigId), clock.GetCurrentInstant());

    /// <summary>What a rig's months are like: twelve, null where it was not said; empty if nothing was said.</summary>
    /// <param name="rigId">The rig.</param>
    public IReadOnlyList<ClimateMonth?> Climate(int rigId)
    {
        var json = context.Climates.AsNoTracking().Where(c => c.RigId == rigId).Select(c => c.Months).FirstOrDefault();
        try
        {
            return json is not null && JsonSerializer.Deserialize<List<ClimateMonth?>>(json) is { Count: Months } months ? months : [];
        }
        catch (JsonException)
        {
            return [];
        }
    }

    /// <summary>Says what a rig's months are like.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="months">Twelve, null where a month is not known; empty to say nothing any more.</param>
    public void SetClimate(int rigId, IReadOnlyList<ClimateMonth?> months)
    {
        ArgumentNullException.ThrowIfNull(months);
        using var transaction = context.Database.BeginTransaction();
        context.Climates.Where(c => c.RigId == rigId).ExecuteDelete();
        if (months.Any(m => m is not null)) context.Climates.Add(new ClimateRow { RigId = rigId, Months = JsonSerializer.Serialize(months) });
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        books.Clear();
    }

    /// <summary>How asking went, for each place that was asked for.</summary>
    public IReadOnlyList<WeatherTry> Tries() => [.. context.Forecasts.AsNoTracking().OrderBy(f => f.Place).AsEnumerable()
        .Select(f => new WeatherTry(f.Place, f.FetchedAt, f.TriedAt, f.Problem))];

    /// <summary>Keeps a forecast in the place of the one before.</summary>
    /// <returns>Whether it says anything else than the one before.</returns>
    public bool Keep(PlaceForecast forecast)
    {
        ArgumentNullException.ThrowIfNull(forecast);
        var days = Encoding.UTF8.GetString(WeatherFormat.Write(forecast));
        return Change(forecast.Place, row =>
        {
            var other = row.Days != days;
            (row.Days, row.FetchedAt, row.Problem) = (days, forecast.FetchedAt, null);
            return other;
        });
    }

    /// <summary>Notes that a forecast could not be had. The last one stays.</summary>
    public void Failed(string place, string problem) => Change(place, row =>
    {
        row.Problem = problem.Length > 300 ? problem[..300] : problem;
        return false;
    });

    private bool Change(string place, Func<ForecastRow, bool> change)
    {
        using var transaction = context.Database.BeginTransaction();
        var (key, now) = (WeatherBook.KeyOf(place), clock.GetCurrentInstant());
        var old = now - Kept;
        context.Forecasts.Where(f => f.TriedAt < old && f.Key != key).ExecuteDelete(); // places of long ago
        var row = context.Forecasts.FirstOrDefault(f => f.Key == key);
        if (row is null) context.Forecasts.Add(row = new ForecastRow { Key = key, Place = place.Trim(), Days = "" });
        row.TriedAt = now;
        var other = change(row);
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        books.Clear();
        return other;
    }

    private IEnumerable<PlaceForecast> Forecasts() => context.Forecasts.AsNoTracking().Where(f => f.FetchedAt != null).AsEnumerable()
        .Select(f => WeatherFormat.Read(Encoding.UTF8.GetBytes(f.Days), f.Place, f.FetchedAt!.Value).Value).OfType<PlaceForecast>();
}
