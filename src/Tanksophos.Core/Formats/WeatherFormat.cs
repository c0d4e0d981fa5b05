using System.Text.Json;
using NodaTime;
using NodaTime.Text;
using Tanksophos.Core.Weather;

namespace Tanksophos.Core.Formats;

/// <summary>
/// Weather as JSON, as a service answers: <c>{"place":"...","days":[{"date":"2026-06-09","lowC":8,"highC":31}]}</c>; and the climate as it is kept.
/// </summary>
public static class WeatherFormat
{
    /// <summary>Most days of an answer.</summary>
    public const int MostDays = 40;

    /// <summary>Reads what a service answered.</summary>
    /// <param name="utf8">JSON in UTF-8.</param>
    /// <param name="place">The place that was asked for.</param>
    /// <param name="now">When it came.</param>
    /// <returns>The forecast; an error that names the field. Half a forecast is none.</returns>
    public static ReadResult<PlaceForecast> Read(ReadOnlyMemory<byte> utf8, string place, Instant now)
    {
        using var document = Json.TryParse(utf8, out var problem);
        if (document is null) return ReadResult<PlaceForecast>.Fail(problem!.Path, problem.Message);
        if (document.RootElement.ValueKind != JsonValueKind.Object || !document.RootElement.TryGetProperty("days", out var days)
            || days.ValueKind != JsonValueKind.Array || days.GetArrayLength() is 0 or > MostDays)
            return ReadResult<PlaceForecast>.Fail("days", $"a list of 1 to {MostDays} days is accepted");
        var read = new List<WeatherDay>();
        foreach (var (item, i) in days.EnumerateArray().Select((d, i) => (d, i)))
        {
            if (item.ValueKind != JsonValueKind.Object || !item.TryGetProperty("date", out var date) || date.ValueKind != JsonValueKind.String
                || LocalDatePattern.Iso.Parse(date.GetString()!) is not { Success: true, Value: var day } || read.Any(d => d.Date == day))
                return ReadResult<PlaceForecast>.Fail($"days[{i}].date", "a date such as 2026-06-09 is accepted, each once");
            if (Degrees(item, "lowC") is not { } low) return ReadResult<PlaceForecast>.Fail($"days[{i}].lowC", Accepted);
            if (Degrees(item, "highC") is not { } high || high < low) return ReadResult<PlaceForecast>.Fail($"days[{i}].highC", $"{Accepted}, not below lowC");
            read.Add(new WeatherDay(day, low, high));
        }
        return new ReadResult<PlaceForecast>(new PlaceForecast(place, now, [.. read.OrderBy(d => d.Date)]), [], []);
    }

    /// <summary>Writes a forecast as <see cref="Read"/> takes it.</summary>
    /// <param name="forecast">The forecast.</param>
    public static byte[] Write(PlaceForecast forecast)
    {
        ArgumentNullException.ThrowIfNull(forecast);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("place", forecast.Place);
            w.WriteStartArray("days");
            foreach (var day in forecast.Days)
            {
                w.WriteStartObject();
                w.WriteString("date", LocalDatePattern.Iso.Format(day.Date));
                w.WriteNumber("lowC", Math.Round(day.LowC, 1));
                w.WriteNumber("highC", Math.Round(day.HighC, 1));
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.WriteEndObject();
        });
    }

    private static string Accepted { get; } = $"a number from {WeatherDay.ColdestC:0} to {WeatherDay.HottestC:0} is accepted";

    private static double? Degrees(JsonElement item, string name) => item.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.Number
        && value.TryGetDouble(out var number) && number is >= WeatherDay.ColdestC and <= WeatherDay.HottestC ? number : null;
}
