using NodaTime;

namespace Tanksophos.Core.Weather;

/// <summary>Where the weather of a day is known from.</summary>
public enum WeatherSource
{
    /// <summary>A forecast of the last day.</summary>
    Forecast,

    /// <summary>A forecast that is older: the last that could be had.</summary>
    LastKnown,

    /// <summary>What the month is like, as the owner says.</summary>
    Climate,
}

/// <summary>The weather of a day at a place.</summary>
/// <param name="Date">The day.</param>
/// <param name="LowC">Coldest, in degrees Celsius.</param>
/// <param name="HighC">Hottest, in degrees Celsius.</param>
public sealed record WeatherDay(LocalDate Date, double LowC, double HighC)
{
    /// <summary>At this temperature in C and below, water freezes.</summary>
    public const double FreezingC = 0;

    /// <summary>What is taken for a temperature of the air, in C; anything else is a wrong unit.</summary>
    public const double ColdestC = -60, HottestC = 60;

    /// <summary>Where it is known from.</summary>
    public WeatherSource Source { get; init; }

    /// <summary>Whether it freezes.</summary>
    public bool Freezes => LowC <= FreezingC;
}

/// <summary>What a weather service said of a place.</summary>
/// <param name="Place">Its name, as it stands in the log or the trip.</param>
/// <param name="FetchedAt">When it said so.</param>
/// <param name="Days">The days.</param>
public sealed record PlaceForecast(string Place, Instant FetchedAt, IReadOnlyList<WeatherDay> Days);

/// <summary>What a month is like, as the owner says.</summary>
/// <param name="LowC">An ordinary night, in degrees Celsius.</param>
/// <param name="HighC">An ordinary day, in degrees Celsius.</param>
public sealed record ClimateMonth(double LowC, double HighC);

/// <summary>
/// What is known of the weather at places: the forecast; without one the last that there was, as far as it goes; beyond it the climate. What somebody typed
/// for a stop of a trip outranks all of it, and is not kept here.
/// </summary>
/// <param name="forecasts">Forecasts, one for each place.</param>
/// <param name="climate">Twelve months from January; null where a month is not known; empty for none.</param>
/// <param name="now">The moment.</param>
public sealed class WeatherBook(IEnumerable<PlaceForecast> forecasts, IReadOnlyList<ClimateMonth?> climate, Instant now)
{
    /// <summary>A forecast older than this is only the last known.</summary>
    public static readonly Duration Fresh = Duration.FromHours(24);

    /// <summary>Days ahead that are looked at.</summary>
    public const int DaysAhead = 14;

    private readonly Dictionary<string, PlaceForecast> forecasts = forecasts.GroupBy(f => KeyOf(f.Place)).ToDictionary(g => g.Key,
        g => g.MaxBy(f => f.FetchedAt)!, StringComparer.Ordinal);

    /// <summary>Names that mean the same place have the same key.</summary>
    /// <param name="place">The name.</param>
    public static string KeyOf(string place)
    {
        ArgumentNullException.ThrowIfNull(place);
        return place.Trim().ToUpperInvariant();
    }

    /// <summary>The weather of a day; null if nothing is known of it.</summary>
    /// <param name="place">The place; null where it has no name.</param>
    /// <param name="day">The day.</param>
    public WeatherDay? On(string? place, LocalDate day)
    {
        if (place is not null && forecasts.TryGetValue(KeyOf(place), out var known) && known.Days.FirstOrDefault(d => d.Date == day) is { } said)
            return said with { Source = now - known.FetchedAt <= Fresh ? WeatherSource.Forecast : WeatherSource.LastKnown };
        return climate.ElementAtOrDefault(day.Month - 1) is { } month ? new WeatherDay(day, month.LowC, month.HighC) { Source = WeatherSource.Climate } : null;
    }

    /// <summary>The days of which something is known.</summary>
    /// <param name="place">The place.</param>
    /// <param name="from">The first day.</param>
    /// <param name="to">The last day.</param>
    public IReadOnlyList<WeatherDay> Days(string? place, LocalDate from, LocalDate to)
    {
        var days = new List<WeatherDay>();
        for (var day = from; day <= to; day = day.PlusDays(1))
            if (On(place, day) is { } known) days.Add(known);
        return days;
    }

    /// <summary>When the forecast of a place was had; null without one.</summary>
    /// <param name="place">The place.</param>
    public Instant? FetchedAt(string place) => forecasts.GetValueOrDefault(KeyOf(place))?.FetchedAt;

    /// <summary>Whether nothing is known at all.</summary>
    public bool IsEmpty => forecasts.Count == 0 && climate.Count == 0;
}

/// <summary>The weather where the rig stands.</summary>
/// <param name="Days">From today on, as far as it is known.</param>
public sealed record WeatherHere(IReadOnlyList<WeatherDay> Days)
{
    /// <summary>In a bay as cold as this, in C, water is about to freeze: 36 F, a little above, since a thermometer hangs where it is warmer.</summary>
    public const double ColdBayC = 2.2;

    /// <summary>Name of the place; null where it has none.</summary>
    public string? Place { get; init; }

    /// <summary>What a thermometer in the bay says now, in C; null without one.</summary>
    public double? BayC { get; init; }

    /// <summary>The hottest that a thermometer outside has measured today, in C; null without one.</summary>
    public double? OutsideHighC { get; init; }

    /// <summary>Whether the bay is so cold that something has to be done at once.</summary>
    public bool BayIsCold => BayC <= ColdBayC;

    /// <summary>The first day that freezes; null for none.</summary>
    public WeatherDay? Freezes => Days.FirstOrDefault(d => d.Freezes);

    /// <summary>The hottest of the days until one, measured or expected, in C; null if nothing is known.</summary>
    /// <param name="until">The last day.</param>
    public double? HighC(LocalDate until) =>
        Days.Where(d => d.Date <= until).Select(d => (double?)d.HighC).Append(OutsideHighC).Max();
}
