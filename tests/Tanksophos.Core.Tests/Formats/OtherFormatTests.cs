using System.Text;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Tests.Formats;

public class OtherFormatTests
{
    private static string Trip => File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "examples", "trip.json"));

    [Fact]
    public void The_example_trip_reads_without_a_remark()
    {
        var read = TripFormat.Read(Given.Utf8(Trip));

        read.Errors.ShouldBeEmpty();
        read.Warnings.ShouldBeEmpty();
        read.Value!.Stops.Count.ShouldBe(4);
        read.Value.Stops[2].Hookup.ShouldBe(StopHookup.DumpStation);
        read.Value.Stops[2].RinseWater.ShouldBe(RinseWater.Unthreaded);
        read.Value.Start.Levels["black"].P50L.ShouldBe(88);
        read.Value.Rules.GrayAtFullHookup.ShouldBe(GrayAtFullHookup.Bank);
    }

    [Theory]
    [InlineData("\"dumpBlackAt\": 0.66", "\"dumpBlackAt\": 66", "rules.dumpBlackAt")]
    [InlineData("\"zone\": \"America/Denver\"", "\"zone\": \"Denver\"", "stops[0].zone")]
    [InlineData("\"id\": \"s2\"", "\"id\": \"s1\"", "stops[1].id")]
    [InlineData("2026-06-12T10:00:00-06:00", "2026-06-10T07:00:00-06:00", "stops[0].depart")]
    [InlineData("\"p50L\": 88", "\"p50L\": 8", "start.levels.black.p50L")]
    [InlineData("\"levels\": {", "\"levels\": { \"brown\": { \"p05L\": 1, \"p50L\": 1, \"p95L\": 1 },", "start.levels.brown")]
    [InlineData("\"rinseWater\": \"unthreaded\"", "\"rinseWater\": \"tepid\"", "stops[2].rinseWater")]
    [InlineData("\"dumpBlackAt\": 0.66", "\"dumpBlackAt\": 0", "rules.dumpBlackAt")]
    [InlineData("\"dumpBlackAt\": 0.66", "\"dumpBlackAt\": 1.5", "rules.dumpBlackAt")]
    [InlineData("\"hookup\": \"dry\",\n      \"people\": 2", "\"hookup\": \"dry\",\n      \"people\": 0", "stops[1].people")]
    [InlineData("\"depart\": \"2026-06-12T10:00:00-06:00\"", "\"depart\": \"2026-06-10T07:00:00-06:00\"", "stops[0].depart")]
    [InlineData("\"at\": \"2026-06-10T08:00:00-06:00\"", "\"at\": \"2026-06-12T12:00:00-06:00\"", "stops[0].depart")]
    [InlineData("\"arrive\": \"2026-06-12T13:30:00-06:00\"", "\"arrive\": \"2026-06-14T13:30:00-06:00\"", "stops[1].arrive")]
    [InlineData("\"capacityL\": 151.4,", "", "rig.tanks[0].capacityL")]
    [InlineData("\"stops\": [", "\"wishes\": [{ \"stop\": \"s9\", \"role\": \"black\", \"dump\": \"here\" }], \"stops\": [", "wishes[0].stop")]
    [InlineData("\"stops\": [", "\"scrubsDue\": 9, \"stops\": [", "scrubsDue")]
    [InlineData("\"depart\": \"2026-06-22T10:00:00-06:00\"", "\"depart\": \"2029-06-22T10:00:00-06:00\"", "stops[3].depart")]
    [InlineData("\"arrive\": \"2026-06-17T10:00:00-06:00\"", "\"arrive\": \"2026-06-17T08:00:00-06:00\"", "stops[2].arrive")]
    public void What_is_wrong_with_a_trip_is_named_by_its_path(string good, string bad, string path)
    {
        Trip.ShouldContain(good);

        TripFormat.Read(Given.Utf8(Trip.Replace(good, bad, StringComparison.Ordinal))).Errors.ShouldContain(e => e.Path == path);
    }

    [Fact]
    public void More_stops_than_can_be_planned_and_none_are_refused()
    {
        var node = System.Text.Json.Nodes.JsonNode.Parse(Trip)!;
        var stop = node["stops"]![3]!;
        var stops = new System.Text.Json.Nodes.JsonArray();
        for (var i = 0; i < 500; i++)
        {
            var copy = stop.DeepClone();
            copy["id"] = $"n{i}";
            var day = new DateTime(2026, 6, 17, 14, 0, 0, DateTimeKind.Unspecified).AddDays(i * 0.5);
            copy["arrive"] = day.ToString("yyyy-MM-dd'T'HH:mm:ss'-06:00'", System.Globalization.CultureInfo.InvariantCulture);
            copy["depart"] = day.AddHours(10).ToString("yyyy-MM-dd'T'HH:mm:ss'-06:00'", System.Globalization.CultureInfo.InvariantCulture);
            stops.Add(copy);
        }
        node["stops"] = stops;
        TripFormat.Read(Given.Utf8(node.ToJsonString())).Errors.ShouldHaveSingleItem().ToString().ShouldContain("500 stops: at most 200");
        node["stops"] = new System.Text.Json.Nodes.JsonArray();
        TripFormat.Read(Given.Utf8(node.ToJsonString())).Errors.ShouldHaveSingleItem().ToString().ShouldContain("at least one stop");
    }

    [Fact]
    public void A_written_trip_reads_as_the_same_trip()
    {
        var trip = TripFormat.Read(Given.Utf8(Trip)).Value! with { Wishes = [new TripWish("s3", TankRole.Black, DumpWish.NotHere)], ScrubsDue = 3 };
        var read = TripFormat.Read(TripFormat.Write(trip));
        read.Errors.ShouldBeEmpty();
        read.Warnings.ShouldBeEmpty();
        read.Value!.Stops.ShouldBe(trip.Stops);
        read.Value.Wishes.ShouldBe(trip.Wishes);
        (read.Value.ScrubsDue, read.Value.Rules, read.Value.Start.At).ShouldBe((3, trip.Rules, trip.Start.At));
        TripFormat.Write(read.Value).ShouldBe(TripFormat.Write(trip));
    }

    [Fact]
    public void A_scenario_is_checked_against_its_rig()
    {
        var rig = Encoding.UTF8.GetString(RigCodec.Write(Given.Rig()));
        string Scenario(string fault) =>
            $$"""{ "format": "tanksophos-scenario", "version": 1, "seed": 7, "days": 60, "rig": {{rig}}, "faults": [{{fault}}] }""";

        ScenarioFormat.Read(Given.Utf8(Scenario("""{ "tank": "black", "probe": "low", "state": "stuckOn", "fromDay": 20 }"""))).Value!.Faults.Count.ShouldBe(1);
        ScenarioFormat.Read(Given.Utf8(Scenario("""{ "tank": "black", "probe": "low", "state": "stuck-on", "fromDay": 20 }"""))).Errors.ShouldHaveSingleItem().Path.ShouldBe("faults[0].state");
        ScenarioFormat.Read(Given.Utf8(Scenario("""{ "tank": "gray", "probe": "low", "state": "stuckOn", "fromDay": 20 }"""))).Errors.ShouldHaveSingleItem().Path.ShouldBe("faults[0].probe");
    }

    [Fact]
    public void Validate_tells_the_formats_apart()
    {
        Documents.Validate(Given.Utf8(Given.Document(""))).Value.ShouldBe("tanksophos-logbook");
        Documents.Validate(Given.Utf8(Trip)).Value.ShouldBe("tanksophos-trip");
        Documents.Validate(Given.Utf8("""{ "format": "tanksophos-song", "version": 1 }""")).Errors.ShouldHaveSingleItem().Message.ShouldContain("tanksophos-trip");
        Documents.Validate(Given.Utf8("""{ "version": 1 }""")).Errors.ShouldHaveSingleItem().Path.ShouldBe("format");
    }

    [Fact]
    public void Readings_come_from_a_table_in_any_order_of_columns_with_commas_or_semicolons()
    {
        var commas = Csv("at,tank,via,lit,percent,fraction,note\n2026-05-01T08:00:00-06:00,black,panel,low "
            + "mid,,,\n2026-05-01T08:01:00-06:00,black,panel,-,,,\"a, b\"\n");
        var semicolons = Csv("\uFEFFVia;Note;percent;tank;at;mood\r\npanel;;57;gray;2026-05-01T08:00Z;fine\r\n\r\n");

        commas.Value!.Entries.Cast<ReadingEntry>().Select(e => string.Join('+', e.Lit!)).ShouldBe(["low+mid", ""]);
        commas.Value.Entries[1].Note.ShouldBe("a, b");
        ((ReadingEntry)semicolons.Value!.Entries.ShouldHaveSingleItem()).Percent.ShouldBe(57);
        semicolons.Warnings.ShouldHaveSingleItem().Message.ShouldContain("'mood'");
    }

    [Theory]
    [InlineData("at\ttank\tvia\n2026-05-01T08:00Z\tblack\tpanel\n", "line 1", "another separator")]
    [InlineData("2026-05-01T08:00Z,black,panel,low\n", "line 1", "header lacks at, tank, via")]
    [InlineData("at,tank\n2026-05-01T08:00Z,black\n", "line 1", "lacks via")]
    [InlineData("at,tank,via,via\n", "line 1", "stands twice")]
    [InlineData("at,tank,via,lit\nyesterday,black,panel,low\n", "line 2, at", "ISO 8601")]
    [InlineData("at,tank,via,lit\n2026-05-01T08:00Z,brown,panel,low\n", "line 2, tank", "black, gray")]
    [InlineData("at,tank,via,lit\n2026-05-01T08:00Z,black,panel,\n", "line 2, lit", "missing")]
    [InlineData("at,tank,via,lit\n2026-05-01T08:00Z,black,panel,deep\n", "line 2, lit", "low, mid, top")]
    [InlineData("at,tank,via,percent\n2026-05-01T08:00Z,gray,panel,\"5,5\"\n", "line 2, percent", "decimal point")]
    [InlineData("at,tank,via,fraction\n2026-05-01T08:00Z,black,sight,-0.5\n", "line 2, fraction", "0 to 1")]
    [InlineData("at,tank,via,fraction\n2026-05-01T08:00Z,black,guess,0.5\n", "line 2, via", "panel, sight, meter")]
    [InlineData("at,tank,via,note\n2026-05-01T08:00Z,black,sight,\"never ends\n", "line 2", "quote")]
    [InlineData("at,tank,via\n", "", "no readings")]
    [InlineData("", "", "empty")]
    public void What_is_wrong_with_a_table_is_named_by_its_line(string text, string path, string words)
    {
        var error = Csv(text).Errors[0];
        error.Path.ShouldBe(path);
        error.Message.ShouldContain(words);
    }

    [Fact]
    public void Times_ahead_of_the_present_day_are_taken_for_a_day_and_refused_beyond()
    {
        var today = Instant.FromUtc(2026, 5, 1, 12, 0);
        string Entry(string at) => Given.Document($$"""{ "at": "{{at}}", "type": "people", "count": 2 }""");

        ImportDocument.Read(Given.Utf8(Entry("2026-05-02T11:59:00Z")), null, today).Warnings.ShouldHaveSingleItem().Path.ShouldBe("entries[0].at");
        ImportDocument.Read(Given.Utf8(Entry("2026-05-02T12:01:00Z")), null, today).Errors.ShouldHaveSingleItem().Path.ShouldBe("entries[0].at");
        ImportDocument.Read(Given.Utf8("at,tank,via,fraction\n2027-05-01T08:00Z,black,sight,0.5\n"), Given.Rig(),
            today).Errors.ShouldHaveSingleItem().Path.ShouldBe("line 2, at");
    }

    private static ReadResult<EntryTable> Csv(string text) => ReadingsCsv.Read(Given.Utf8(text), Given.Rig());
}
