using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Unicode;

namespace Tanksophos.Core.Formats;

/// <summary>Opening and writing JSON the same way everywhere.</summary>
internal static class Json
{
    private static readonly JsonDocumentOptions Strict = new() { MaxDepth = 32, AllowDuplicateProperties = false };

    /// <summary>Parses a text; a failure is reported with the line and the place, not with the parser's own words.</summary>
    public static JsonDocument? TryParse(ReadOnlyMemory<byte> utf8, out Problem? problem)
    {
        problem = null;
        if (utf8.Span.StartsWith(Encoding.UTF8.Preamble)) utf8 = utf8[3..];
        if (IsBlank(utf8.Span))
        {
            problem = new Problem("", "the document is empty: accepted is JSON in UTF-8");
            return null;
        }
        if (!Utf8.IsValid(utf8.Span))
        {
            problem = new Problem("", "not valid UTF-8 text: accepted is JSON in UTF-8");
            return null;
        }
        try
        {
            // Half characters show only when a text is read; where one is escaped they are looked for in all texts and names, known or not.
            if (Escapes(utf8.Span) && HalfCharacter(utf8.Span) is { } half)
            {
                problem = half;
                return null;
            }
            return JsonDocument.Parse(utf8, Strict);
        }
        catch (JsonException e)
        {
            problem = new Problem("", Explain(e, utf8.Span));
            return null;
        }
        catch (InvalidOperationException) // looking for names that stand twice, the parser stumbles over half a character
        {
            problem = HalfCharacter(utf8.Span) ?? new Problem("", NoUnicode);
            return null;
        }
    }

    private const string NoUnicode = "not valid Unicode: an escaped half of a character (a lone surrogate) is not accepted";

    private static bool Escapes(ReadOnlySpan<byte> utf8) => utf8.IndexOf("\\ud"u8) >= 0 || utf8.IndexOf("\\uD"u8) >= 0;

    /// <summary>Where a text or a name escapes half a character (a lone surrogate), by its path; null if none does.</summary>
    private static Problem? HalfCharacter(ReadOnlySpan<byte> utf8)
    {
        var reader = new Utf8JsonReader(utf8, new JsonReaderOptions { MaxDepth = Strict.MaxDepth });
        var within = new List<(bool List, string Name, int Index)>();
        try
        {
            while (reader.Read())
            {
                var token = reader.TokenType;
                if (within is [.., { List: true } list] && token is not (JsonTokenType.EndArray or JsonTokenType.EndObject))
                    within[^1] = list with { Index = list.Index + 1 };
                if (token is JsonTokenType.PropertyName or JsonTokenType.String && reader.ValueIsEscaped && !IsWhole(ref reader))
                    return new Problem(Path(within), token == JsonTokenType.String ? NoUnicode : "a field's name is " + NoUnicode);
                if (token == JsonTokenType.PropertyName) within[^1] = (false, reader.GetString()!, -1);
                else if (token is JsonTokenType.StartObject or JsonTokenType.StartArray) within.Add((token == JsonTokenType.StartArray, "", -1));
                else if (token is JsonTokenType.EndObject or JsonTokenType.EndArray) within.RemoveAt(within.Count - 1);
            }
        }
        catch (JsonException)
        {
            // what else is wrong with the document is said elsewhere
        }
        return null;
    }

    private static string Path(IEnumerable<(bool List, string Name, int Index)> within)
    {
        var path = new StringBuilder();
        foreach (var (list, name, index) in within)
        {
            if (list) path.Append('[').Append(index).Append(']');
            else if (name.Length > 0) path.Append(path.Length > 0 ? "." : "").Append(ObjectReader.Short(name));
        }
        return path.ToString();
    }

    private static bool IsWhole(ref Utf8JsonReader reader)
    {
        try
        {
            reader.GetString();
            return true;
        }
        catch (InvalidOperationException)
        {
            return false;
        }
    }

    /// <summary>
    /// Reads one document: parses it, lets <paramref name="read"/> take it apart, and gathers the findings.
    /// </summary>
    public static ReadResult<T> Read<T>(ReadOnlyMemory<byte> utf8, Func<ObjectReader, Findings, T?> read) where T : class
    {
        using var document = TryParse(utf8, out var problem);
        if (document is null) return ReadResult<T>.Fail(problem!.Path, problem.Message);
        var findings = new Findings();
        try
        {
            var root = ObjectReader.Of(document.RootElement, findings);
            return findings.Result(root is null ? null : read(root, findings));
        }
        catch (InvalidOperationException)
        {
            return ReadResult<T>.Fail("", NoUnicode);
        }
    }

    public static bool IsBlank(ReadOnlySpan<byte> utf8) => utf8.IndexOfAnyExcept(" \t\r\n"u8) < 0;

    public static byte[] Write(Action<Utf8JsonWriter> write, bool pretty = false)
    {
        using var stream = new MemoryStream();
        using (var writer = new Utf8JsonWriter(stream,
            new JsonWriterOptions { Indented = pretty, NewLine = "\n", Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping })) write(writer);
        return stream.ToArray();
    }

    private static string Explain(JsonException e, ReadOnlySpan<byte> utf8)
    {
        if (e.Message.StartsWith("Duplicate property", StringComparison.Ordinal))
            return $"a field stands twice in one object: "
                + $"{e.Message.Split('\'') switch { [_, var name, ..] => $"'{ObjectReader.Short(name)}'", _ => "see the document" }}";
        if (e.Message.Contains("maximum configured depth", StringComparison.Ordinal))
            return "nested too deeply: at most 32 levels are accepted";
        var line = (e.LineNumber ?? 0) + 1;
        var place = (e.BytePositionInLine ?? 0) + 1;
        var text = utf8.TrimEnd(" \t\r\n"u8);
        var lines = text.Count((byte)'\n') + 1;
        var lastLine = text.Length - (text.LastIndexOf((byte)'\n') + 1);
        // The parser stumbles at the very end: something is missing there rather than wrong.
        return line > lines || line == lines && place > lastLine
            ? $"the JSON breaks off in line {lines}: the document is incomplete"
            : $"not valid JSON at line {line}, byte {place}";
    }
}
