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
            var document = JsonDocument.Parse(utf8, Strict);
            return document;
        }
        catch (JsonException e)
        {
            problem = new Problem("", Explain(e, utf8.Span));
            return null;
        }
    }

    /// <summary>
    /// Reads one document: parses it, lets <paramref name="read"/> take it apart, and gathers the findings. Text that escapes half a
    /// character (a lone surrogate) only shows when it is read, so that is caught here for all fields and names.
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
            return ReadResult<T>.Fail("", "a text or a field's name in the document is not valid Unicode");
        }
    }

    public static bool IsBlank(ReadOnlySpan<byte> utf8) => utf8.IndexOfAnyExcept(" \t\r\n"u8) < 0;

    public static byte[] Write(Action<Utf8JsonWriter> write, bool pretty = false)
    {
        using var stream = new MemoryStream();
        using (var writer = new Utf8JsonWriter(stream, new JsonWriterOptions { Indented = pretty, NewLine = "\n", Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping })) write(writer);
        return stream.ToArray();
    }

    private static string Explain(JsonException e, ReadOnlySpan<byte> utf8)
    {
        if (e.Message.StartsWith("Duplicate property", StringComparison.Ordinal))
            return $"a field stands twice in one object: {e.Message.Split('\'') switch { [_, var name, ..] => $"'{ObjectReader.Short(name)}'", _ => "see the document" }}";
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
