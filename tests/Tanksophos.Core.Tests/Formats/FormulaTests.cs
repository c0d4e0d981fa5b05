using System.Text;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Tests.Formats;

/// <summary>What leaves as a table is opened in spreadsheets: no cell of it may be taken for a formula, and all of it comes back.</summary>
public class FormulaTests
{
    private const string Bad = "=1+1";

    private static readonly Rig Rig = Given.Rig() with
    {
        Tanks = [Given.Rig().Tanks[0] with { Id = "+gray", Monitor = TankMonitor.WithProbes(new Probe("=low", "low", 0.3), new Probe("@ top", "top", 0.9)) }],
    };

    private static readonly LogEntry[] Entries =
    [
        new ReadingEntry { Id = Bad, At = Given.At(1), Tank = "+gray", Via = ReadingVia.Panel, Lit = ["=low", "@ top"], Note = "-5 at night" },
        new ReadingEntry { Id = "'=x", At = Given.At(2), Tank = "+gray", Via = ReadingVia.Panel, Lit = ["=low"] },
        new ReadingEntry { Id = "b", At = Given.At(2.5), Tank = "+gray", Via = ReadingVia.Panel, Lit = [] },
        new SymptomEntry { Id = "@c", At = Given.At(3), Code = SymptomCode.Gurgles, Fixture = Bad },
        new StayEntry { Id = "d", At = Given.At(4), Hookup = Hookup.Full, Place = "=HYPERLINK(\"x\")" },
        new DoseEntry { Id = "e", At = Given.At(5), Tank = "+gray", Recipe = DoseRecipe.Enzyme, Amount = "+1 cup" },
    ];

    private static IEnumerable<string> Cells(byte[] table) =>
        Encoding.UTF8.GetString(table).Split('\n').Skip(1)
            .SelectMany(l => System.Text.RegularExpressions.Regex.Matches(l, "\"(?:[^\"]|\"\")*\"|[^,]+").Select(m => m.Value.Trim('"')));

    [Fact]
    public void No_cell_of_the_entries_is_a_formula_and_all_come_back()
    {
        var table = EntriesCsv.Write(Entries);
        Cells(table).Count(c => c.Length > 5).ShouldBeGreaterThan(10);
        foreach (var cell in Cells(table)) (cell.Length > 1 && "=+-@".Contains(cell[0], StringComparison.Ordinal)).ShouldBeFalse(cell);
        var read = EntriesCsv.Read(table, Rig);
        read.Errors.ShouldBeEmpty();
        read.Value!.Entries.Select(EntryCodec.Write).Select(Encoding.UTF8.GetString).ShouldBe(Entries.Select(EntryCodec.Write).Select(Encoding.UTF8.GetString));
    }

    [Fact]
    public void No_cell_of_the_readings_is_a_formula_and_all_come_back()
    {
        var table = ReadingsCsv.Write(Entries);
        foreach (var cell in Cells(table)) (cell.Length > 1 && "=+-@".Contains(cell[0], StringComparison.Ordinal)).ShouldBeFalse(cell);
        var read = ReadingsCsv.Read(table, Rig);
        read.Errors.ShouldBeEmpty();
        read.Value!.Entries.Cast<ReadingEntry>().Select(r => (r.Tank, string.Join("|", r.Lit!), r.Note))
            .ShouldBe(Entries.OfType<ReadingEntry>().Select(r => (r.Tank, string.Join("|", r.Lit!), r.Note)));
    }
}
