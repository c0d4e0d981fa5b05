using System.Globalization;
using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>Collects what is wrong or odd in one document while it is read, so that a person sees all of it at once.</summary>
internal sealed class Findings
{
    private const int MaxProblems = ReadResult<object>.MaxProblems;
    private readonly List<Problem> errors = [];
    private readonly List<Problem> warnings = [];
    private int moreErrors, moreWarnings;

    public bool AnyErrors => errors.Count > 0;

    public void Error(string path, string message)
    {
        if (errors.Count < MaxProblems - 1) errors.Add(new Problem(path, message));
        else moreErrors++;
    }

    public void Warn(string path, string message)
    {
        if (warnings.Count < MaxProblems - 1) warnings.Add(new Problem(path, message));
        else moreWarnings++;
    }

    public ReadResult<T> Result<T>(T? value) where T : class
    {
        if (moreErrors > 0) errors.Add(new Problem("", $"and {moreErrors} more errors"));
        if (moreWarnings > 0) warnings.Add(new Problem("", $"and {moreWarnings} more warnings"));
        return new ReadResult<T>(AnyErrors ? null : value, errors, warnings);
    }
}

/// <summary>
/// Reads the fields of one JSON object and says what is wrong with them by path. A field that is null counts as absent.
/// Methods that return null have either found nothing or reported an error. <see cref="Done"/> warns about fields nobody asked for.
/// </summary>
internal sealed class ObjectReader
{
    private readonly JsonElement element;
    private readonly Findings findings;
    private readonly List<string> known = new(12); // few, and asked for once: a list is quicker than a set
    private readonly ObjectReader? within;
    private readonly string name;
    private readonly int index;
    private string? path;

    private ObjectReader(JsonElement element, ObjectReader? within, string name, int index, Findings findings)
    {
        this.element = element;
        this.within = within;
        this.name = name;
        this.index = index;
        this.findings = findings;
    }

    /// <summary>Where it stands in the document; put together only when somebody asks.</summary>
    public string Path => path ??= index < 0 ? within?.At(name) ?? name : string.Create(CultureInfo.InvariantCulture, $"{within?.At(name) ?? name}[{index}]");

    public static ObjectReader? Of(JsonElement element, Findings findings) => Of(element, null, "", -1, findings);

    private static ObjectReader? Of(JsonElement element, ObjectReader? within, string name, int index, Findings findings)
    {
        var reader = new ObjectReader(element, within, name, index, findings);
        if (element.ValueKind == JsonValueKind.Object) return reader;
        findings.Error(reader.Path, $"expected an object, found {Kind(element)}");
        return null;
    }

    public string At(string name) => Path.Length == 0 ? name : $"{Path}.{name}";

    public void Error(string name, string message) => findings.Error(At(name), message);

    public void Warn(string name, string message) => findings.Warn(At(name), message);

    public void Ignore(string name) => known.Add(name);

    /// <summary>Text of at most <paramref name="most"/> characters.</summary>
    public string? Text(string name, bool required = false, int most = 200, bool blankAllowed = true)
    {
        if (!Get(name, required, "a text", out var value)) return null;
        if (value.ValueKind != JsonValueKind.String) return Wrong(name, "a text", value);
        var text = value.GetString()!;
        if (text.Length > most)
        {
            Error(name, $"at most {most} characters are accepted, found {text.Length}");
            return null;
        }
        if (text.Contains('\0', StringComparison.Ordinal))
        {
            Error(name, "a text without NUL characters is accepted");
            return null;
        }
        if (!blankAllowed && string.IsNullOrWhiteSpace(text))
        {
            Error(name, "must not be blank");
            return null;
        }
        return text;
    }

    /// <summary>A short text, or a number as it is written; null for anything else or longer: what is said beside the point is let go.</summary>
    public string? Said(string name, int most) => !Get(name, false, "", out var value) ? null : (value.ValueKind switch
    {
        JsonValueKind.Number => value.GetRawText(),
        JsonValueKind.String => value.GetString(),
        _ => null,
    }) is { } text && text.Length <= most && !text.Contains('\0', StringComparison.Ordinal) ? text : null;

    /// <summary>A finite number from <paramref name="min"/> to <paramref name="max"/>, both included.</summary>
    public double? Number(string name, double min, double max, bool required = false, bool aboveMin = false)
    {
        if (!Get(name, required, required ? $"a number, {Range(min, max, aboveMin)}" : "", out var value)) return null;
        if (value.ValueKind != JsonValueKind.Number || !value.TryGetDouble(out var number) || !double.IsFinite(number))
        {
            Wrong(name, $"a number, {Range(min, max, aboveMin)}", value);
            return null;
        }
        if (number < min || number > max || (aboveMin && number <= min))
        {
            Error(name, $"out of range: accepted is {Range(min, max, aboveMin)}, found {value.GetRawText()}");
            return null;
        }
        return number;
    }

    /// <summary>A whole number in a range (3.0 counts as whole).</summary>
    public int? Whole(string name, int min, int max, bool required = false)
    {
        if (Number(name, min, max, required) is not { } number) return null;
        if (number == Math.Floor(number)) return (int)number;
        Error(name, $"a whole number from {min} to {max} is accepted, found {number.ToString(CultureInfo.InvariantCulture)}");
        return null;
    }

    public bool? Flag(string name)
    {
        if (!Get(name, false, "true or false", out var value)) return null;
        if (value.ValueKind is JsonValueKind.True or JsonValueKind.False) return value.GetBoolean();
        Wrong(name, "true or false", value);
        return null;
    }

    public T? Code<T>(string name, bool required = false) where T : struct, Enum
    {
        if (!Get(name, required, required ? OneOf<T>() : "", out var value)) return null;
        return AsCode<T>(value, name, -1);
    }

    /// <summary>A list of codes; empty if absent.</summary>
    public IReadOnlyList<T> CodeList<T>(string name) where T : struct, Enum
    {
        var list = new List<T>();
        foreach (var (item, i) in Items(name, false, OneOf<T>))
            if (AsCode<T>(item, name, i) is { } code && !list.Contains(code)) list.Add(code);
        return list;
    }

    /// <summary>Whether a field holds exactly this text; it counts as asked for.</summary>
    public bool Is(string name, string text) => Has(name) && element.GetProperty(name) is { ValueKind: JsonValueKind.String } v && v.ValueEquals(text)
        && Get(name, false, "", out _);

    /// <summary>A list of texts; null if absent and not required.</summary>
    public IReadOnlyList<string>? Texts(string name, bool required = false, int most = int.MaxValue, int longest = int.MaxValue)
    {
        if (!Has(name) && !required) return null;
        var list = new List<string>();
        foreach (var (item, i) in Items(name, required, () => "a list of texts"))
        {
            if (item.ValueKind == JsonValueKind.String && item.GetString()!.Length > longest)
                findings.Error(At(name, i), $"at most {longest} characters are accepted");
            else if (item.ValueKind == JsonValueKind.String) list.Add(item.GetString()!);
            else findings.Error(At(name, i), $"expected a text, found {Kind(item)}");
        }
        if (list.Count > most) Error(name, $"at most {most} are accepted, found {list.Count}");
        return list;
    }

    public OffsetDateTime? Time(string name, bool required = false)
    {
        if (!Get(name, required, Timestamps.Accepted, out var value)) return null;
        if (value.ValueKind != JsonValueKind.String)
        {
            Wrong(name, Timestamps.Accepted, value);
            return null;
        }
        if (Timestamps.TryParse(value.GetString(), out var time)) return time;
        Error(name, $"does not parse as a time: accepted is {Timestamps.Accepted}, found {value.GetRawText()}");
        return null;
    }

    public DateTimeZone? Zone(string name, bool required = false)
    {
        if (Text(name, required) is not { } id) return null;
        if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(id) is { } zone) return zone;
        Error(name, $"unknown time zone '{id}': accepted is an IANA zone such as America/Denver");
        return null;
    }

    public ObjectReader? Child(string name, bool required = false) =>
        Get(name, required, "an object", out var value) ? Of(value, this, name, -1, findings) : null;

    /// <summary>The objects of a list; what is not an object is reported.</summary>
    public IEnumerable<ObjectReader> Children(string name, bool required = false)
    {
        foreach (var (item, i) in Items(name, required, () => "a list of objects"))
            if (Of(item, this, name, i, findings) is { } child) yield return child;
    }

    /// <summary>The members of an object that is used as a map.</summary>
    public IEnumerable<(string Key, ObjectReader Value)> Map()
    {
        foreach (var p in element.EnumerateObject())
        {
            known.Add(p.Name);
            if (Of(p.Value, this, p.Name, -1, findings) is { } child) yield return (p.Name, child);
        }
    }

    /// <summary>Whether the field is there and not null.</summary>
    public IReadOnlyList<string> Names() => [.. element.EnumerateObject().Select(p => p.Name)];

    public bool IsEmptyList(string name) => element.TryGetProperty(name, out var v) && v.ValueKind == JsonValueKind.Array && v.GetArrayLength() == 0;

    public bool IsObject(string name) => element.TryGetProperty(name, out var v) && v.ValueKind == JsonValueKind.Object;

    public bool Has(string name) => element.TryGetProperty(name, out var v) && v.ValueKind != JsonValueKind.Null;

    /// <summary>Warns about every field that was never asked for.</summary>
    public void Done()
    {
        foreach (var p in element.EnumerateObject())
            if (!Known(p)) findings.Warn(At(p.Name), $"unknown field '{p.Name}' is ignored");
    }

    private bool Known(JsonProperty property)
    {
        foreach (var field in known) if (property.NameEquals(field)) return true;
        return false;
    }

    private string At(string list, int i) => string.Create(CultureInfo.InvariantCulture, $"{At(list)}[{i}]");

    public static string OneOf<T>() where T : struct, Enum => "one of " + string.Join(", ", Codes<T>.All);

    private T? AsCode<T>(JsonElement value, string name, int i) where T : struct, Enum
    {
        if (value.ValueKind == JsonValueKind.String && Codes<T>.TryParse(value.GetString(), out var code)) return code;
        var found = value.ValueKind == JsonValueKind.String ? $"'{Short(value.GetString()!)}'" : Kind(value);
        findings.Error(i < 0 ? At(name) : At(name, i), $"unknown code {found}: accepted is {OneOf<T>()}");
        return null;
    }

    private IEnumerable<(JsonElement Item, int Index)> Items(string name, bool required, Func<string> accepted)
    {
        if (!Get(name, required, required ? accepted() : "", out var value)) yield break;
        if (value.ValueKind != JsonValueKind.Array)
        {
            Error(name, $"expected a list, found {Kind(value)}");
            yield break;
        }
        var i = 0;
        foreach (var item in value.EnumerateArray()) yield return (item, i++);
    }

    private bool Get(string name, bool required, string accepted, out JsonElement value)
    {
        known.Add(name);
        if (element.TryGetProperty(name, out value) && value.ValueKind != JsonValueKind.Null) return true;
        if (required) Error(name, $"missing: required is {accepted}");
        return false;
    }

    private string? Wrong(string name, string accepted, JsonElement value)
    {
        Error(name, $"expected {accepted}, found {Kind(value)}");
        return null;
    }

    private static string Range(double min, double max, bool aboveMin)
    {
        var low = min.ToString(CultureInfo.InvariantCulture);
        var high = max.ToString(CultureInfo.InvariantCulture);
        return aboveMin ? $"above {low} up to {high}" : $"{low} to {high}";
    }

    internal static string Short(string text) => text.Length <= 40 ? text : text[..40] + "...";

    private static string Kind(JsonElement value) => value.ValueKind switch
    {
        JsonValueKind.Object => "an object",
        JsonValueKind.Array => "a list",
        JsonValueKind.String => $"the text '{Short(value.GetString()!)}'",
        JsonValueKind.Number => $"the number {Short(value.GetRawText())}",
        JsonValueKind.True => "true",
        JsonValueKind.False => "false",
        _ => "null",
    };
}
