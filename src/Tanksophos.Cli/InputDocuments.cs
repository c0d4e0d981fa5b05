using System.Text;
using System.Text.Json;

namespace Tanksophos.Cli;

/// <summary>Splits standard input into documents: one per line, or the whole input as one document over several lines.</summary>
public static class InputDocuments
{
    /// <summary>
    /// The documents of an input. Each non-blank line is one, unless the first such line is not a complete JSON value while the whole input is.
    /// </summary>
    public static IReadOnlyList<ReadOnlyMemory<byte>> Split(ReadOnlyMemory<byte> input)
    {
        if (input.Span.StartsWith(Encoding.UTF8.Preamble)) input = input[3..];
        var lines = new List<ReadOnlyMemory<byte>>();
        for (var rest = input; rest.Length > 0;)
        {
            var end = rest.Span.IndexOf((byte)'\n');
            var line = end < 0 ? rest : rest[..end];
            rest = end < 0 ? default : rest[(end + 1)..];
            if (line.Span.IndexOfAnyExcept(" \t\r"u8) >= 0) lines.Add(line);
        }
        return lines.Count > 1 && !IsJson(lines[0]) && IsJson(input) ? [input] : lines;
    }

    private static bool IsJson(ReadOnlyMemory<byte> utf8)
    {
        try
        {
            using var document = JsonDocument.Parse(utf8, new JsonDocumentOptions { MaxDepth = 1000 });
            return true;
        }
        catch (JsonException)
        {
            return false;
        }
    }
}
