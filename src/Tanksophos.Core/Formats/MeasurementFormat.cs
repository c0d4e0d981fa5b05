using System.Text.Json;
using System.Text.RegularExpressions;
using NodaTime;
using Tanksophos.Core.Devices;

namespace Tanksophos.Core.Formats;

/// <summary>Why a measurement was not taken.</summary>
/// <param name="Index">Its place in what was sent, from 0.</param>
/// <param name="Path">The field.</param>
/// <param name="Message">What is wrong, and what is accepted.</param>
public sealed record RefusedMeasurement(int Index, string Path, string Message);

/// <summary>What was read of a message of measurements: each is taken or refused for itself.</summary>
/// <param name="Taken">The good ones, with their place.</param>
/// <param name="Refused">The others.</param>
public sealed record MeasurementsRead(IReadOnlyList<(int Index, Measurement Measurement)> Taken, IReadOnlyList<RefusedMeasurement> Refused);

/// <summary>Measurements of devices as JSON: one object, or a list of them.</summary>
public static partial class MeasurementFormat
{
    /// <summary>Most measurements of one message, and most values of one measurement.</summary>
    public const int MostAtOnce = 1000, MostValues = 40;

    /// <summary>Longest name of a device or channel.</summary>
    public const int LongestName = 40;

    /// <summary>What a name is made of.</summary>
    public const string NameAccepted = "1 to 40 letters, digits, points, dashes and underscores are accepted";

    // What can be measured around a rig: more is a wrong unit.
    private const double MostLiters = 10_000_000, Coldest = -60, Hottest = 90, MostOhms = 1e9;

    /// <summary>Whether a text can name a device or a channel.</summary>
    /// <param name="name">The text.</param>
    public static bool IsName(string? name) => name is not null && Name().IsMatch(name);

    /// <summary>Reads a message.</summary>
    /// <param name="utf8">JSON in UTF-8.</param>
    /// <param name="now">The moment at which it came.</param>
    /// <returns>What was read; an error where it is no JSON, or too many at once.</returns>
    public static ReadResult<MeasurementsRead> Read(ReadOnlyMemory<byte> utf8, Instant now)
    {
        using var document = Json.TryParse(utf8, out var problem);
        if (document is null) return ReadResult<MeasurementsRead>.Fail(problem!.Path, problem.Message);
        var root = document.RootElement;
        if (root.ValueKind is not (JsonValueKind.Object or JsonValueKind.Array))
            return ReadResult<MeasurementsRead>.Fail("", "a measurement or a list of measurements is accepted");
        List<JsonElement> items = root.ValueKind == JsonValueKind.Array ? [.. root.EnumerateArray()] : [root];
        if (items.Count > MostAtOnce) return ReadResult<MeasurementsRead>.Fail("", $"at most {MostAtOnce} measurements at once are accepted");
        var taken = new List<(int, Measurement)>();
        var refused = new List<RefusedMeasurement>();
        for (var i = 0; i < items.Count; i++)
        {
            if (One(items[i], now, out var path, out var message) is { } measurement) taken.Add((i, measurement));
            else refused.Add(new RefusedMeasurement(i, path, message));
        }
        return new ReadResult<MeasurementsRead>(new MeasurementsRead(taken, refused), [], []);
    }

    /// <summary>The values of a measurement as they are kept.</summary>
    /// <param name="values">The values.</param>
    public static byte[] Write(IReadOnlyList<MeasuredValue> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            foreach (var v in values)
            {
                w.WritePropertyName(v.Channel);
                switch (v.Quantity)
                {
                    case Quantity.Valve:
                        w.WriteStringValue(v.Number > 0 ? "open" : "closed");
                        break;
                    case Quantity.Ohms:
                        w.WriteNumberValue(v.Number!.Value);
                        break;
                    case Quantity.Lit:
                        w.WriteStartObject();
                        w.WriteStartArray("lit");
                        foreach (var lit in v.Lit!) w.WriteStringValue(lit);
                        w.WriteEndArray();
                        w.WriteEndObject();
                        break;
                    default:
                        w.WriteStartObject();
                        w.WriteNumber(Field(v.Quantity), v.Number!.Value);
                        w.WriteEndObject();
                        break;
                }
            }
            w.WriteEndObject();
        });
    }

    /// <summary>Reads values as they are kept.</summary>
    /// <param name="utf8">What <see cref="Write"/> wrote; anything else gives an empty list.</param>
    public static IReadOnlyList<MeasuredValue> ReadValues(ReadOnlyMemory<byte> utf8)
    {
        using var document = Json.TryParse(utf8, out _);
        return document is not null && Values(document.RootElement, out _, out _) is { } values ? values : [];
    }

    private static string Field(Quantity quantity) => quantity switch
    {
        Quantity.Lit => "lit",
        Quantity.Percent => "percent",
        Quantity.LitersTotal => "litersTotal",
        Quantity.Celsius => "celsius",
        _ => "",
    };

    private static Measurement? One(JsonElement item, Instant now, out string path, out string message)
    {
        (path, message) = ("", "a measurement is an object with device and values");
        if (item.ValueKind != JsonValueKind.Object) return null;
        (path, message) = ("device", NameAccepted);
        if (!item.TryGetProperty("device", out var device) || device.ValueKind != JsonValueKind.String || !IsName(device.GetString())) return null;
        OffsetDateTime? at = null;
        if (item.TryGetProperty("at", out var said) && said.ValueKind != JsonValueKind.Null)
        {
            (path, message) = ("at", $"{Timestamps.Accepted} is accepted");
            if (said.ValueKind != JsonValueKind.String || !Timestamps.TryParse(said.GetString(), out var moment)) return null;
            (path, message) = ("at", "the time lies ahead: set the device's clock, or leave the time out");
            if (moment.ToInstant() > now + Measurement.Ahead) return null;
            (path, message) = ("at", $"at most {Measurement.Oldest.Days} days back are accepted");
            if (moment.ToInstant() < now - Measurement.Oldest) return null;
            at = moment;
        }
        (path, message) = ("values", "an object of values is accepted");
        if (!item.TryGetProperty("values", out var values) || values.ValueKind != JsonValueKind.Object) return null;
        if (Values(values, out path, out message) is not { } read) return null;
        return new Measurement(device.GetString()!, at, read);
    }

    private static List<MeasuredValue>? Values(JsonElement values, out string path, out string message)
    {
        (path, message) = ("values", $"1 to {MostValues} values are accepted");
        if (values.ValueKind != JsonValueKind.Object) return null;
        var read = new List<MeasuredValue>();
        foreach (var property in values.EnumerateObject())
        {
            if (read.Count >= MostValues) return null;
            (path, message) = ($"values.{(IsName(property.Name) ? property.Name : "")}", $"name: {NameAccepted}");
            if (!IsName(property.Name) || read.Any(r => r.Channel == property.Name)) return null;
            if (Value(property.Name, property.Value, ref path, out message) is not { } value) return null;
            read.Add(value);
        }
        (path, message) = ("values", $"1 to {MostValues} values are accepted");
        return read.Count == 0 ? null : read;
    }

    private static MeasuredValue? Value(string channel, JsonElement element, ref string path, out string message)
    {
        message = "accepted are lit, percent, litersTotal, celsius, open or closed, and a number of ohms";
        switch (element.ValueKind)
        {
            case JsonValueKind.String:
                message = "open or closed is accepted";
                return element.GetString() switch
                {
                    "open" => new MeasuredValue(channel, Quantity.Valve, 1, null),
                    "closed" => new MeasuredValue(channel, Quantity.Valve, 0, null),
                    _ => null,
                };
            case JsonValueKind.Number:
                message = $"0 to {MostOhms:0} ohms are accepted";
                return Within(element, 0, MostOhms) is { } ohms ? new MeasuredValue(channel, Quantity.Ohms, ohms, null) : null;
            case JsonValueKind.Object:
                break;
            default:
                return null;
        }
        using var fields = element.EnumerateObject();
        if (!fields.MoveNext()) return null;
        var (name, value) = (fields.Current.Name, fields.Current.Value);
        if (fields.MoveNext()) return null; // one quantity at a time
        var (quantity, low, high) = name switch
        {
            "percent" => (Quantity.Percent, 0.0, 100.0),
            "litersTotal" => (Quantity.LitersTotal, 0, MostLiters),
            "celsius" => (Quantity.Celsius, Coldest, Hottest),
            _ => (Quantity.Lit, 0, 0),
        };
        if (quantity != Quantity.Lit)
        {
            path = $"{path}.{name}";
            message = $"a number from {low:0} to {high:0} is accepted";
            return Within(value, low, high) is { } number ? new MeasuredValue(channel, quantity, number, null) : null;
        }
        if (name != "lit") return null;
        path = $"{path}.lit";
        message = "a list of probe names is accepted";
        if (value.ValueKind != JsonValueKind.Array || value.GetArrayLength() > MostValues) return null;
        var lit = new List<string>();
        foreach (var probe in value.EnumerateArray())
        {
            if (probe.ValueKind != JsonValueKind.String || !IsName(probe.GetString())) return null;
            if (!lit.Contains(probe.GetString()!)) lit.Add(probe.GetString()!);
        }
        return new MeasuredValue(channel, Quantity.Lit, null, lit);
    }

    private static double? Within(JsonElement element, double low, double high) =>
        element.ValueKind == JsonValueKind.Number && element.TryGetDouble(out var number) && double.IsFinite(number) && number >= low && number <= high
            ? number : null;

    [GeneratedRegex(@"\A[A-Za-z0-9][A-Za-z0-9._-]{0,39}\z")]
    private static partial Regex Name();
}
