using System.Text.Json;
using System.Text.Json.Serialization;
using NodaTime;
using Tanksophos.Core.Dumping;

namespace Tanksophos.Core.Formats;

/// <summary>A run as JSON: for the database, and for the page that goes on without the server while the connection is lost.</summary>
public static class RunCodec
{
    /// <summary>Longest key of a press, and longest id of a step, in characters.</summary>
    public const int LongestKey = 64;

    /// <summary>Longest text that is said with a press, in characters.</summary>
    public const int LongestSaid = 60;

    /// <summary>Most steps of a run.</summary>
    public const int MaxSteps = 400;

    /// <summary>The fields that may be said with a press.</summary>
    public static IReadOnlyList<string> SaidFields { get; } = ["litres", "end", "debris", "to", "full", RunEntries.Problem];

    private const double LatestMs = 7e12; // the year 2191

    private static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        RespectNullableAnnotations = true,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
    };

    /// <summary>Writes a run.</summary>
    public static string Write(RunScript script) => JsonSerializer.Serialize(script, Options);

    /// <summary>Reads a run that was written by <see cref="Write"/>.</summary>
    /// <exception cref="InvalidDataException">It is no run; says why.</exception>
    public static RunScript Read(string json)
    {
        ArgumentNullException.ThrowIfNull(json);
        RunScript? script;
        try
        {
            script = JsonSerializer.Deserialize<RunScript>(json, Options);
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException or ArgumentException or NotSupportedException)
        {
            throw new InvalidDataException("not a dump run: " + (e is JsonException { Path: { Length: > 0 } path }
                ? $"{path.TrimStart('$', '.')} is missing or has another form" : "not valid JSON"), e);
        }
        return script is not null && IsSound(script) ? script
            : throw new InvalidDataException("not a dump run: its steps, rinses and tanks do not fit together");
    }

    /// <summary>Writes what presses may do and do, for the page that applies it.</summary>
    public static string WriteRules() => JsonSerializer.Serialize(RunRules.All, Options);

    /// <summary>Writes what was said with a press.</summary>
    public static string WriteSaid(IReadOnlyDictionary<string, string> said) => JsonSerializer.Serialize(said, Options);

    /// <summary>Reads what was said with a press; null if it cannot be read.</summary>
    public static IReadOnlyDictionary<string, string>? ReadSaid(string json)
    {
        try
        {
            return JsonSerializer.Deserialize<Dictionary<string, string>>(json, Options) ?? [];
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            return null;
        }
    }

    /// <summary>
    /// Reads presses as a page sends them: <c>{"taps":[{"key","at","step","round","press","said"}]}</c>, <c>at</c> in milliseconds since 1970.
    /// </summary>
    /// <param name="utf8">The JSON.</param>
    /// <param name="most">Most presses at once.</param>
    public static ReadResult<IReadOnlyList<RunEvent>> ReadTaps(ReadOnlyMemory<byte> utf8, int most) => Json.Read<IReadOnlyList<RunEvent>>(utf8, (root, _) =>
    {
        var taps = new List<RunEvent>();
        foreach (var o in root.Children("taps", required: true))
        {
            if (taps.Count == most)
            {
                root.Error("taps", $"at most {most} presses at once are accepted");
                break;
            }
            var key = o.Text("key", required: true, most: LongestKey, blankAllowed: false);
            var at = o.Number("at", 0, LatestMs, required: true);
            var step = o.Text("step", required: true, most: LongestKey);
            var round = o.Whole("round", 0, 1000, required: true);
            var press = o.Code<RunPress>("press", required: true);
            var said = new Dictionary<string, string>();
            if (o.IsObject("said") && o.Child("said") is { } fields)
                foreach (var field in SaidFields) if (fields.Said(field, LongestSaid) is { Length: > 0 } text) said[field] = text;
            if (key is not null && at is { } ms && step is not null && round is { } r && press is { } p)
                taps.Add(new RunEvent(key, Instant.FromUnixTimeMilliseconds((long)ms), step, r, p, said));
        }
        return taps;
    });

    // What the state of a run relies on; a list that is missing is null here, whatever its type says.
    private static bool IsSound(RunScript script) =>
        script is { Steps.Count: > 0 and <= MaxSteps, Tanks.Count: > 0, Rinses: not null } && script.Tanks.All(t => t is { Id: not null })
            && script.Rinses.All(r => r is { Loop: not null, Tank: not null, Further: not null })
        && script.Steps.All(s => s is { Presses: not null, Id.Length: > 0 and <= LongestKey } && (s.Tank is null || script.Tanks.Any(t => t.Id == s.Tank)))
        && script.Rinses.All(r => script.Tanks.Any(t => t.Id == r.Tank) && script.Steps.Any(s => s.Loop == r.Loop && s.Kind == RunStepKind.Judge)
        && script.Steps.Any(s => s.Loop == r.Loop && s.Kind != RunStepKind.Judge))
        && script.Steps.All(s => s.Loop is null || script.RinseOf(s) is not null);
}
