using System.Text.Json;
using System.Text.Json.Serialization;
using Tanksophos.Core.Dumping;

namespace Tanksophos.Core.Formats;

/// <summary>A run as JSON: for the database, and for the page that goes on without the server while the connection is lost.</summary>
public static class RunCodec
{
    private static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
    };

    /// <summary>Writes a run.</summary>
    public static string Write(RunScript script) => JsonSerializer.Serialize(script, Options);

    /// <summary>Reads a run that was written by <see cref="Write"/>.</summary>
    /// <exception cref="InvalidDataException">It is no run.</exception>
    public static RunScript Read(string json)
    {
        try
        {
            return JsonSerializer.Deserialize<RunScript>(json, Options) ?? throw new InvalidDataException("A stored run is empty.");
        }
        catch (JsonException e)
        {
            throw new InvalidDataException("A stored run cannot be read.", e);
        }
    }

    /// <summary>Writes what was said with a press.</summary>
    public static string WriteSaid(IReadOnlyDictionary<string, string> said) => JsonSerializer.Serialize(said, Options);

    /// <summary>Reads what was said with a press.</summary>
    public static IReadOnlyDictionary<string, string> ReadSaid(string json) => JsonSerializer.Deserialize<Dictionary<string, string>>(json, Options) ?? [];
}
