using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Tanksophos.Hostile;

/// <summary>Makes hostile inputs out of good ones: the same seed makes the same inputs everywhere.</summary>
/// <param name="seed">Where it begins.</param>
public sealed class HostileInput(ulong seed)
{
    private ulong state = seed * 0x9E3779B97F4A7C15UL + 1;

    // Values that have broken readers before, or might: as JSON.
    private static readonly string[] Values =
    [
        "null", "true", "0", "-1", "1", "0.5", "1e300", "-1e300", "1e999", "-0.0", "9007199254740993", "123456789012345678901234567890", "1e-320", "0.1e+400",
        "\"\"", "\" \"", "\"\\u0000\"", "\"\\ud800\"", "\"\\udc00\\ud800\"", "\"NaN\"", "\"Infinity\"", "\"=1+1\"", "\"@SUM(A1)\"",
            "\"<script>alert(1)</script>\"", "\"../../etc/passwd\"", "\"'; DROP TABLE Rigs; --\"",
        "\"black\"", "\"gray\"", "\"low\"", "\"full\"", "\"2026-05-09T18:00:00-06:00\"", "\"2200-12-31T23:59:59+18:00\"", "\"1900-01-01T00:00:00-18:00\"",
            "\"9999-12-31T23:59:59Z\"", "\"0001-01-01T00:00:00Z\"", "\"2026-02-30T00:00:00Z\"", "\"Europe/Nowhere\"", "\"Pacific/Kiritimati\"",
        "\"\\u202e\\ufeff\\uffff\"", "\"e\\u0301\\ud83d\\udeb0\"", "[]", "{}", "[[]]", "[null]", "[{}]", "{\"\":0}", "{\"a\":{\"a\":{\"a\":{}}}}",
    ];

    private static readonly string[] Texts =
    [
        "", " ", "0", "-1", "1", "0.5", "1e300", "NaN", "Infinity", "-Infinity", "1,5", "1/0", "1/3", "9999999999999999999", "=1+1", "+1", "@x", "\u0000",
            "a\u0000b", "\ud800x", "\u202e\ufeff", "🚽💧", "<script>alert(1)</script>", "\"'`", "../../x",
        "black", "gray", "low", "2026-05-09T18:00", "0001-01-01T00:00", "9999-12-31T23:59", "2026-13-45", "24:00", "99:99", "Europe/Nowhere", "yes", "true",
            "on", "full", "-", "1 2 3", "%00", "%", "\r\nSet-Cookie: a=b", "{}", "[]", "{\"\\ud800\":1}",
    ];

    /// <summary>A whole number from 0 up to but not including a bound.</summary>
    public int Below(int bound)
    {
        state += 0x9E3779B97F4A7C15UL;
        var z = state;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9UL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBUL;
        return (int)((z ^ (z >> 31)) % (ulong)bound);
    }

    /// <summary>One of several.</summary>
    public T OneOf<T>(IReadOnlyList<T> of) => of[Below(of.Count)];

    /// <summary>A text that a form did not expect.</summary>
    public string Text() => Below(12) switch
    {
        0 => new string((char)('a' + Below(26)), 1 << Below(15)),
        1 => Below(1_000_000).ToString(CultureInfo.InvariantCulture),
        _ => OneOf(Texts),
    };

    /// <summary>A document spoiled in one to four ways: fields taken for others, thrown away, doubled, or the text itself cut and bent.</summary>
    public byte[] Spoil(byte[] good)
    {
        var text = good;
        for (var n = 1 + Below(4); n > 0; n--) text = Below(4) == 0 ? Bend(text) : Restructure(text);
        return text;
    }

    private byte[] Restructure(byte[] text)
    {
        JsonNode? root;
        try
        {
            root = JsonNode.Parse(text, documentOptions: new JsonDocumentOptions { MaxDepth = 200 });
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException or ArgumentException)
        {
            return Bend(text);
        }
        try
        {
            var places = new List<(JsonNode Parent, object Key)>();
            Places(root, places);
            if (places.Count == 0) return Encoding.UTF8.GetBytes(OneOf(Values));
            // A marker is put where the hostile value goes: it may be none that a node can hold.
            var (parent, key) = OneOf(places);
            const string Marker = "\"%hostile%\"";
            switch (Below(6))
            {
                case 0 when parent is JsonObject o:
                    o.Remove((string)key);
                    return Encoding.UTF8.GetBytes(root!.ToJsonString());
                case 1 when parent is JsonArray a && a.Count > 0:
                    a.Add(a[(int)key]?.DeepClone());
                    return Encoding.UTF8.GetBytes(root!.ToJsonString());
                case 2: // a place takes what stands in another
                    var (from, other) = OneOf(places);
                    var copy = (from is JsonObject fo ? fo[(string)other] : ((JsonArray)from)[(int)other])?.DeepClone();
                    if (parent is JsonObject po) po[(string)key] = copy;
                    else ((JsonArray)parent)[(int)key] = copy;
                    return Encoding.UTF8.GetBytes(root!.ToJsonString());
                case 3 when parent is JsonObject twice: // a name that stands twice, or is none
                    twice["%hostile%"] = 1;
                    var name = Below(3) switch { 0 => JsonSerializer.Serialize((string)key), 1 => "\"\\ud800\"", _ => "\"\\u0000\"" };
                    return Encoding.UTF8.GetBytes(root!.ToJsonString().Replace("\"%hostile%\"", name, StringComparison.Ordinal));
                default:
                    if (parent is JsonObject obj) obj[(string)key] = "%hostile%";
                    else ((JsonArray)parent)[(int)key] = "%hostile%";
                    var value = Below(30) == 0 ? string.Concat(Enumerable.Repeat("[", 1000)) + string.Concat(Enumerable.Repeat("]", 1000)) : Below(20) == 0
                        ? JsonSerializer.Serialize(new string('x', 1 << Below(17))) : OneOf(Values);
                    return Encoding.UTF8.GetBytes(root!.ToJsonString().Replace(Marker, value, StringComparison.Ordinal));
            }
        }
        catch (Exception e) when (e is InvalidOperationException or ArgumentException) // the text holds what a node cannot
        {
            return Bend(text);
        }
    }

    private static void Places(JsonNode? node, List<(JsonNode, object)> places)
    {
        if (node is JsonObject o)
            foreach (var (name, value) in o.ToList())
            {
                places.Add((o, name));
                Places(value, places);
            }
        else if (node is JsonArray a)
            for (var i = 0; i < a.Count; i++)
            {
                places.Add((a, i));
                Places(a[i], places);
            }
    }

    /// <summary>The bytes cut, doubled or changed somewhere.</summary>
    public byte[] Bend(byte[] text)
    {
        if (text.Length == 0) return Encoding.UTF8.GetBytes(OneOf(Values));
        var at = Below(text.Length);
        switch (Below(6))
        {
            case 0:
                return text[..at];
            case 1:
                return [.. text[..at], .. text[Math.Min(text.Length, at + 1 + Below(20))..]];
            case 2:
                return [.. text[..at], (byte)Below(256), .. text[at..]];
            case 3:
                return [.. text[..at], .. Encoding.UTF8.GetBytes(OneOf(Values)), .. text[at..]];
            case 4:
                return [.. text, .. text];
            default:
                var changed = text.ToArray();
                changed[at] = (byte)Below(256);
                return changed;
        }
    }

    /// <summary>A table with cells changed, thrown away or quoted wrongly.</summary>
    public byte[] SpoilTable(byte[] good)
    {
        var lines = Encoding.UTF8.GetString(good).Split('\n').ToList();
        for (var n = 1 + Below(4); n > 0; n--)
        {
            var line = Below(lines.Count);
            var cells = lines[line].Split(',');
            var cell = Below(cells.Length);
            cells[cell] = Below(8) switch { 0 => "\"", 1 => "\"" + Text(), 2 => "'" + Text(), 3 => OneOf(Values), _ => Text() };
            lines[line] = string.Join(Below(20) == 0 ? ';' : ',', cells);
            if (Below(10) == 0) lines.RemoveAt(Below(lines.Count));
            if (lines.Count == 0) lines.Add("");
        }
        var text = Encoding.UTF8.GetBytes(string.Join(Below(5) == 0 ? "\r\n" : "\n", lines));
        return Below(6) == 0 ? Bend(text) : text;
    }
}
