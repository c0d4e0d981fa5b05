namespace Tanksophos.Core.Formats;

/// <summary>What is common to all documents: their head, and telling them apart.</summary>
public static class Documents
{
    /// <summary>The formats that the program reads.</summary>
    public static IReadOnlyList<string> Readable { get; } = [LogbookFormat.Name, TripFormat.Name, ScenarioFormat.Name, AgendaFormat.SituationName,
        RunFormat.Name, PracticeFormat.Name];

    /// <summary>Checks a document of any readable format without using it.</summary>
    /// <param name="utf8">JSON in UTF-8.</param>
    /// <returns>The format's word, or the errors.</returns>
    public static ReadResult<string> Validate(ReadOnlyMemory<byte> utf8) => Json.Read(utf8, (root, findings) =>
    {
        var format = root.Text("format", required: true);
        if (format is null || !CheckHead(root, format)) return null;
        object? value = format switch
        {
            LogbookFormat.Name => LogbookFormat.ReadBody(root, findings),
            TripFormat.Name => TripFormat.ReadBody(root),
            ScenarioFormat.Name => ScenarioFormat.ReadBody(root),
            AgendaFormat.SituationName => AgendaFormat.ReadBody(root, findings),
            RunFormat.Name => RunFormat.ReadBody(root, findings),
            PracticeFormat.Name => PracticeFormat.ReadBody(root),
            _ => null,
        };
        if (!Readable.Contains(format))
            root.Error("format", $"unknown format '{ObjectReader.Short(format)}': accepted is one of {string.Join(", ", Readable)}");
        return value is null ? null : format;
    });

    /// <summary>Checks <c>format</c> and <c>version</c>; reports and returns false if the rest cannot be read.</summary>
    internal static bool CheckHead(ObjectReader root, string format)
    {
        var found = root.Text("format", required: true);
        if (found is not null && found != format)
        {
            root.Error("format", $"expected '{format}', found '{ObjectReader.Short(found)}'");
            return false;
        }
        var version = root.Number("version", 0, 1e6, required: true);
        if (version is not null and not 1)
        {
            root.Error("version", $"version 1 is accepted, found {version.Value.ToString(System.Globalization.CultureInfo.InvariantCulture)}");
            return false;
        }
        return found is not null;
    }
}
