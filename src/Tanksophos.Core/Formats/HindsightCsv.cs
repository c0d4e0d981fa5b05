using System.Globalization;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>Looks beside the belief before them as a table: one line a look, levels in litres.</summary>
public static class HindsightCsv
{
    /// <summary>The columns.</summary>
    public static IReadOnlyList<string> Columns { get; } = ["at", "tank", "via", "expectedL", "lowL", "highL", "foundL", "plusMinusL", "within"];

    /// <summary>Writes it, with commas, in UTF-8.</summary>
    /// <param name="tanks">The tanks looked back on.</param>
    public static byte[] Write(IEnumerable<Hindsight> tanks)
    {
        ArgumentNullException.ThrowIfNull(tanks);
        return CsvTable.Write(Columns, Lines(tanks));
    }

    /// <summary>The looks line by line, field by field.</summary>
    internal static IEnumerable<string?[]> Lines(IEnumerable<Hindsight> tanks) => tanks.SelectMany(t => t.Seen).OrderBy(s => s.Entry.Instant).Select(s => new[]
    {
        Timestamps.Write(s.Entry.At), CsvTable.Shielded(s.Entry.Tank), Codes<ReadingVia>.Word(s.Entry.Via), Litres(s.Before.P50L), Litres(s.Before.P05L),
        Litres(s.Before.P95L), Litres(s.FoundL), Litres(s.PlusMinusL), s.Within ? "yes" : "no",
    });

    private static string Litres(double litres) => litres.ToString("0.#", CultureInfo.InvariantCulture);
}
