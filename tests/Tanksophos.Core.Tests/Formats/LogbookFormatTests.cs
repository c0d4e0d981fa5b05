using System.Text;
using System.Text.Json;
using CsCheck;
using Tanksophos.Core.Formats;

namespace Tanksophos.Core.Tests.Formats;

public class LogbookFormatTests
{
    [Theory]
    [InlineData("""{ "at": "2026-05-01T08:00:00-06:00", "type": "water", "tank": "black", "waterL": -3, "purpose": "starter" }""", "entries[0].waterL", "0 to 100000")]
    [InlineData("""{ "at": "2026-05-01T08:00:00-06:00", "type": "water", "tank": "black", "waterL": "3", "purpose": "starter" }""", "entries[0].waterL", "a number")]
    [InlineData("""{ "at": "2026-05-01T08:00:00-06:00", "type": "water", "tank": "black", "purpose": "starter" }""", "entries[0].waterL", "missing")]
    [InlineData("""{ "at": "2026-05-01T08:00:00-06:00", "type": "dump", "tank": "brown" }""", "entries[0].tank", "black, gray")]
    [InlineData("""{ "at": "2026-05-01T08:00:00-06:00", "type": "dump" }""", "entries[0].tank", "missing")]
    [InlineData("""{ "at": "2026-05-01T08:00:00", "type": "dump", "tank": "black" }""", "entries[0].at", "ISO 8601")]
    [InlineData("""{ "at": "2026-02-30T08:00:00Z", "type": "dump", "tank": "black" }""", "entries[0].at", "ISO 8601")]
    [InlineData("""{ "type": "dump", "tank": "black" }""", "entries[0].at", "missing")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "jump", "tank": "black" }""", "entries[0].type", "stay, people, valve")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "tank": "black" }""", "entries[0].type", "missing")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "stay", "hookup": "marina" }""", "entries[0].hookup", "full, partial, gray-drain, dry, storage")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "reading", "tank": "black", "via": "panel", "lit": ["low", "deep"] }""", "entries[0].lit[1]", "low, mid, top")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "reading", "tank": "gray", "via": "panel", "lit": [] }""", "entries[0].percent", "missing")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "reading", "tank": "gray", "via": "sight" }""", "entries[0].fraction", "missing")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "people", "count": 1.5 }""", "entries[0].count", "whole number")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "odor", "where": "shower", "smell": "sewage", "strength": 6 }""", "entries[0].strength", "1 to 5")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "odor", "where": "shower", "smell": "sewage", "when": ["fan-on", "full-moon"] }""", "entries[0].when[1]", "hot-day")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "flush", "tank": "black", "method": "wand", "cycles": [{}, { "end": "murky" }] }""", "entries[0].cycles[1].end", "clear, tinted, dark")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "service", "code": "probe-replaced", "tank": "black", "probe": "deep" }""", "entries[0].probe", "low, mid, top")]
    [InlineData("""{ "at": "2026-05-01T08:00Z", "type": "dump", "tank": "black", "id": " " }""", "entries[0].id", "blank")]
    [InlineData("7", "entries[0]", "an object")]
    public void What_is_wrong_with_an_entry_is_named_by_its_path(string entry, string path, string accepted)
    {
        var read = LogbookFormat.Read(Given.Utf8(Given.Document(entry)));

        read.Value.ShouldBeNull();
        read.Errors[0].Path.ShouldBe(path);
        read.Errors[0].Message.ShouldContain(accepted);
    }

    [Theory]
    [InlineData("\"capacityL\":151.4", "\"capacityL\":0", "rig.tanks[0].capacityL")]
    [InlineData("\"capacityL\":151.4", "\"capacity\":151.4", "rig.tanks[0].capacityL")]
    [InlineData("\"role\":\"gray\"", "\"role\":\"grey\"", "rig.tanks[1].role")]
    [InlineData("\"id\":\"gray\"", "\"id\":\"black\"", "rig.tanks[1].id")]
    [InlineData("\"id\":\"mid\"", "\"id\":\"low\"", "rig.tanks[0].monitor.probes[1].id")]
    [InlineData("\"atFraction\":0.66", "\"atFraction\":1.66", "rig.tanks[0].monitor.probes[1].atFraction")]
    [InlineData("\"kind\":\"percent\"", "\"kind\":\"lamps\"", "rig.tanks[1].monitor.kind")]
    [InlineData("\"people\":2", "\"people\":-1", "rig.people")]
    [InlineData("\"name\":\"Test rig\",", "", "rig.name")]
    [InlineData("\"roomAboveFullL\":12", "\"roomAboveFullL\":160", "rig.tanks[0].roomAboveFullL")]
    [InlineData("\"version\": 1", "\"version\": 2", "version")]
    [InlineData("tanksophos-logbook", "tanksophos-logbok", "format")]
    [InlineData("\"entries\": []", "\"entries\": {}", "entries")]
    [InlineData("\"entries\": []", "\"asOf\": \"soon\", \"entries\": []", "asOf")]
    public void What_is_wrong_with_the_rig_or_the_head_is_named_by_its_path(string good, string bad, string path)
    {
        var document = Given.Document("");
        document.ShouldContain(good);

        var read = LogbookFormat.Read(Given.Utf8(document.Replace(good, bad, StringComparison.Ordinal)));

        read.Value.ShouldBeNull();
        read.Errors.ShouldContain(e => e.Path == path);
    }

    [Fact]
    public void All_errors_are_listed_at_once()
    {
        var read = LogbookFormat.Read(Given.Utf8(Given.Document("""{ "at": "x", "type": "dump", "tank": "y" }, { "at": "z", "type": "people", "count": -1 }""")));

        read.Errors.Select(e => e.Path).ShouldBe(["entries[0].at", "entries[0].tank", "entries[1].at", "entries[1].count"]);
    }

    [Fact]
    public void Unknown_fields_are_ignored_with_a_warning_that_names_them()
    {
        var read = LogbookFormat.Read(Given.Utf8(Given.Document("""{ "at": "2026-05-01T08:00Z", "type": "people", "count": 2, "mood": "fine" }""")));

        read.Ok.ShouldBeTrue();
        read.Warnings.ShouldHaveSingleItem().ShouldBe(new Problem("entries[0].mood", "unknown field 'mood' is ignored"));
    }

    [Fact]
    public void The_same_entry_twice_counts_once_and_another_one_with_its_id_is_an_error()
    {
        const string entry = """{ "id": "a", "at": "2026-05-01T08:00:00Z", "type": "people", "count": 2 }""";

        var twice = LogbookFormat.Read(Given.Utf8(Given.Document($"{entry}, {entry.Replace("08:00:00Z", "08:00+00", StringComparison.Ordinal)}")));
        var clash = LogbookFormat.Read(Given.Utf8(Given.Document($"{entry}, {entry.Replace("\"count\": 2", "\"count\": 3", StringComparison.Ordinal)}")));

        twice.Value!.Entries.Count.ShouldBe(1);
        twice.Warnings.ShouldHaveSingleItem().Path.ShouldBe("entries[1].id");
        clash.Errors.ShouldContain(e => e.Path == "entries[1].id");
    }

    [Theory]
    [InlineData("", "empty")]
    [InlineData("  \n ", "empty")]
    [InlineData("{ \"format\": \"tanksophos-logbook\", \"version\": 1,\n \"rig\": {", "breaks off in line 2")]
    [InlineData("{ \"a\": nope }", "not valid JSON at line 1")]
    [InlineData("[]", "expected an object")]
    [InlineData("{ \"format\": 1, \"format\": 2 }", "stands twice")]
    [InlineData("{ \"format\": \"\\ud800\" }", "not valid Unicode")]
    public void A_broken_document_is_refused_in_words(string text, string words)
    {
        LogbookFormat.Read(Given.Utf8(text)).Errors.ShouldHaveSingleItem().Message.ShouldContain(words);
    }

    [Fact]
    public void Text_that_is_not_UTF8_and_nesting_without_end_are_refused()
    {
        LogbookFormat.Read(new byte[] { (byte)'{', 0xFF, 0xFE, (byte)'}' }).Errors.ShouldHaveSingleItem().Message.ShouldContain("UTF-8");
        LogbookFormat.Read(Given.Utf8(new string('[', 100_000))).Errors.ShouldHaveSingleItem().Message.ShouldContain("nested");
    }

    [Theory]
    [InlineData("2026-05-09T18:00:00-06:00", "2026-05-09T18:00:00-06:00")]
    [InlineData("2026-05-09T18:00-06", "2026-05-09T18:00:00-06:00")]
    [InlineData("2026-05-09T18:00:30Z", "2026-05-09T18:00:30+00:00")]
    [InlineData("2026-05-09T18:00:30.250+05:30", "2026-05-09T18:00:30.25+05:30")]
    public void Times_are_read_in_all_accepted_forms_and_written_in_one(string read, string written)
    {
        Timestamps.TryParse(read, out var time).ShouldBeTrue();
        Timestamps.Write(time).ShouldBe(written);
    }

    [Theory]
    [InlineData("2026-05-09")]
    [InlineData("2026-05-09T24:00:00Z")]
    [InlineData("2026-13-09T10:00:00Z")]
    [InlineData("2026-05-09T10:00:00+19:00")]
    [InlineData("2026-05-09T10:00:00Z ")]
    [InlineData("2026-05-09X10:00:00-06:00")]
    [InlineData("2026-05-09T10:00:00*06:00")]
    [InlineData("2026-05-09T10:00:00-06:60")]
    [InlineData("0000-05-09T10:00:00Z")]
    [InlineData("١٩٩٩-05-09T10:00:00Z")]
    public void Other_times_do_not_parse(string text) => Timestamps.TryParse(text, out _).ShouldBeFalse();

    [Fact]
    public void The_example_logbook_reads_without_a_remark_and_survives_a_round_trip()
    {
        var bytes = File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "examples", "logbook.json"));

        var read = LogbookFormat.Read(bytes);
        read.Errors.ShouldBeEmpty();
        read.Warnings.ShouldBeEmpty();
        var again = LogbookFormat.Read(LogbookFormat.Write(read.Value!));

        LogbookFormat.Write(again.Value!).ShouldBe(LogbookFormat.Write(read.Value!));
        JsonElement.DeepEquals(JsonDocument.Parse(bytes).RootElement, JsonDocument.Parse(LogbookFormat.Write(read.Value!)).RootElement).ShouldBeTrue();
    }

    [Fact]
    public void Any_logbook_survives_a_round_trip_with_all_that_a_rig_can_carry()
    {
        Generated.Logbooks.Sample(book =>
        {
            var bytes = LogbookFormat.Write(book);
            var read = LogbookFormat.Read(bytes);
            read.Errors.ShouldBeEmpty();
            LogbookFormat.Write(read.Value!).ShouldBe(bytes);
            read.Value!.Rig.Tanks.Select(t => t.FormerMonitors.Count).ShouldBe(book.Rig.Tanks.Select(t => t.FormerMonitors.Count));
            (read.Value.Rig.Equipment, read.Value.Rig.Rules, read.Value.Rig.Fresh, read.Value.Rig.Usage)
                .ShouldBe((book.Rig.Equipment, book.Rig.Rules, book.Rig.Fresh, book.Rig.Usage));
        }, iter: 500);
    }

    [Fact]
    public void Any_log_survives_as_a_table()
    {
        Generated.Logbooks.Sample(book =>
        {
            var entries = book.Entries.Select((e, i) => e with { Id = e.Id is null ? null : $"{e.Id}-{i}" }).ToList();
            if (entries.Count == 0) return;
            var table = EntriesCsv.Write(entries);
            var read = EntriesCsv.Read(table, book.Rig);
            read.Errors.ShouldBeEmpty(Encoding.UTF8.GetString(table));
            EntriesCsv.Write(read.Value!.Entries).ShouldBe(table);
            LogbookFormat.Write(book with { Entries = read.Value.Entries }).ShouldBe(LogbookFormat.Write(book with { Entries = entries }));
        }, iter: 500);
    }

    [Fact]
    public void Any_entry_survives_a_round_trip()
    {
        Generated.Entries.Sample(entry =>
        {
            var bytes = EntryCodec.Write(entry);
            var read = EntryCodec.Read(bytes, null);
            read.Errors.ShouldBeEmpty();
            EntryCodec.Write(read.Value!).ShouldBe(bytes);
            read.Value!.GetType().ShouldBe(entry.GetType());
            read.Value.Instant.ShouldBe(entry.Instant);
            Encoding.UTF8.GetString(bytes).ShouldNotContain("null");
        }, iter: 2000);
    }
}
