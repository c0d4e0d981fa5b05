using System.Text.Json;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>Writing fields that may be absent: absent values are omitted, never null.</summary>
internal static class JsonWriting
{
    public static void Optional(this Utf8JsonWriter w, string name, string? value)
    {
        if (value is not null) w.WriteString(name, value);
    }

    public static void Optional(this Utf8JsonWriter w, string name, double? value)
    {
        if (value is { } v) w.WriteNumber(name, v);
    }

    public static void Optional(this Utf8JsonWriter w, string name, bool? value)
    {
        if (value is { } v) w.WriteBoolean(name, v);
    }

    public static void Code<T>(this Utf8JsonWriter w, string name, T value) where T : struct, Enum =>
        w.WriteString(name, Codes<T>.Word(value));

    public static void Code<T>(this Utf8JsonWriter w, string name, T? value) where T : struct, Enum
    {
        if (value is { } v) w.WriteString(name, Codes<T>.Word(v));
    }

    public static void Texts(this Utf8JsonWriter w, string name, IEnumerable<string> values)
    {
        w.WriteStartArray(name);
        foreach (var v in values) w.WriteStringValue(v);
        w.WriteEndArray();
    }

    /// <summary>Litres and probabilities that were computed: six decimals carry all there is.</summary>
    public static void Computed(this Utf8JsonWriter w, string name, double value) =>
        w.WriteNumber(name, Math.Round(value, 6, MidpointRounding.AwayFromZero));
}
