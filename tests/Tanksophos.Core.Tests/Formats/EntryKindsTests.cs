using System.Reflection;
using System.Text.Json;
using CsCheck;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Words;

namespace Tanksophos.Core.Tests.Formats;

/// <summary>The registry of entries: a kind or a field that somebody forgets is found here, before it is lost in a document or a table.</summary>
public class EntryKindsTests
{
    private static readonly Type[] Kinds = [.. typeof(LogEntry).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(LogEntry)))];

    [Fact]
    public void Every_kind_of_entry_is_registered_with_its_word_once()
    {
        Kinds.Length.ShouldBeGreaterThan(10);
        EntryKinds.All.Select(k => k.Type).ShouldBe(Kinds, ignoreOrder: true);
        EntryKinds.All.Select(k => k.Word).ShouldBe(EntryTypes.All);
        EntryKinds.All.SelectMany(k => k.Fields).GroupBy(f => f.Name).ShouldAllBe(g => g.Distinct().Count() == 1, "one column, one kind of cell");
    }

    [Fact]
    public void Every_property_has_its_field_and_every_field_its_property()
    {
        foreach (var kind in EntryKinds.All)
        {
            var own = kind.Type.GetProperties(BindingFlags.Public | BindingFlags.Instance | BindingFlags.DeclaredOnly).Where(p => p.SetMethod is not null)
                .Select(p => JsonNamingPolicy.CamelCase.ConvertName(p.Name));
            kind.Fields.Select(f => f.Name).ShouldBe(own, ignoreOrder: true, kind.Word);
        }
    }

    [Fact]
    public void A_filled_entry_of_every_kind_comes_back_whole_from_document_and_table()
    {
        var seen = new HashSet<string>();
        foreach (var made in Generated.Entries.Array[600].Single())
        {
            var entry = made with { Id = "x" };
            EntryCodec.Read(EntryCodec.Write(entry), null).Value.ShouldNotBeNull();
            var table = EntriesCsv.Read(EntriesCsv.Write([entry]), Given.Rig());
            if (table.Value is { } read) LogbookFormat.Same(read.Entries[0], entry).ShouldBeTrue(entry.Type);
            seen.Add(entry.Type);
            new EntryWords(Given.Rig(), Units.Us).Line(entry).ShouldNotBeNullOrWhiteSpace();
            EntryWords.Kind(entry).ShouldNotBeNullOrWhiteSpace();
        }
        seen.ShouldBe(EntryTypes.All, ignoreOrder: true);
        var used = new DoseEntry { At = Given.At(0), Id = "d", Tank = "black", Recipe = DoseRecipe.Enzyme, Used = [new ProductUse("jug", 237)] };
        ((DoseEntry)EntriesCsv.Read(EntriesCsv.Write([used]), Given.Rig()).Value!.Entries[0]).Used.ShouldBe(used.Used);
    }
}
