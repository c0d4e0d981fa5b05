using System.Text;
using NodaTime;
using Tanksophos.Core.Formats;

namespace Tanksophos.Core.Tests.Formats;

public sealed class CsvDatesTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];

    private static DatedTable? Read(string first, string second = "", bool guess = true, bool? chosen = null) =>
        CsvDates.Read(Encoding.UTF8.GetBytes("at,tank,via,fraction\n" + Line(first) + (second.Length > 0 ? Line(second) : "")), Zone, guess, chosen);

    private static string Line(string at) => $"{at},black,sight,0.5\n";

    [Theory]
    [InlineData("11/27/2026 9:00 PM", "2026-11-27T21:00:00")]
    [InlineData("27.11.2026 21:00", "2026-11-27T21:00:00")]
    [InlineData("7/4/26 12:05 am", "2026-07-04T00:05:00")]
    [InlineData("7/4/2026 12:05 p.m.", "2026-07-04T12:05:00")]
    [InlineData("1-2-2026 08:07:09", "2026-01-02T08:07:09")]
    public void A_date_is_read_as_people_write_it(string written, string read)
    {
        var table = Read(written)!;
        table.SampleAt.ToString("uuuu-MM-ddTHH:mm:ss", null).ShouldBe(read);
        table.Sample.ShouldBe(written);
        Encoding.UTF8.GetString(table.Utf8.Span).ShouldContain(read);
    }

    [Fact]
    public void A_number_above_twelve_tells_the_order_for_all_dates_of_the_table()
    {
        var table = Read("3/4/2026 8:00 AM", "27/4/2026 8:00 AM", guess: true)!;
        (table.MonthFirst, table.Sure).ShouldBe((false, true));
        Encoding.UTF8.GetString(table.Utf8.Span).ShouldContain("2026-04-03T08:00:00");
        Read("3/4/2026 8:00 AM", "27/4/2026 8:00 AM", chosen: true)!.MonthFirst.ShouldBeFalse("no wish goes against the dates");
    }

    [Fact]
    public void Where_no_date_tells_it_is_a_guess_that_a_person_can_turn_round()
    {
        var guessed = Read("3/4/2026 8:00 AM")!;
        (guessed.MonthFirst, guessed.Sure, guessed.SampleAt.Month).ShouldBe((true, false, 3));
        Read("3/4/2026 8:00 AM", chosen: false)!.SampleAt.Month.ShouldBe(4);
        Read("3/4/2026 8:00 AM", guess: false)!.SampleAt.Month.ShouldBe(4);
    }

    [Theory]
    [InlineData("2026-11-27T21:00:00-07:00")]
    [InlineData("yesterday")]
    [InlineData("13/13/2026 8:00 AM")]
    [InlineData("2/30/2026 8:00 AM")]
    [InlineData("11/27/2026 13:00 PM")]
    [InlineData("11/27/2026")]
    public void What_is_no_such_date_is_left_to_the_reader_of_tables(string written) => Read(written).ShouldBeNull();

    [Fact]
    public void Whatever_a_table_holds_nothing_else_is_changed()
    {
        var text = "tank;at;via;fraction;note\nblack;11/27/2026 9:00 PM;sight;0.5;\"a; \"\"b\"\"\nc\"\nbath;2026-11-27T21:00:00-07:00;sight;0.5;x\n";
        var read = EntriesOf(CsvDates.Read(Encoding.UTF8.GetBytes(text), Zone, true)!.Utf8);
        read.ShouldBe(["tank,at,via,fraction,note", "black,2026-11-27T21:00:00-07:00,sight,0.5,\"a; \"\"b\"\"", "c\"",
            "bath,2026-11-27T21:00:00-07:00,sight,0.5,x"]);
        CsvDates.Read("no table"u8.ToArray(), Zone, true).ShouldBeNull();
        CsvDates.Read(Array.Empty<byte>(), Zone, true).ShouldBeNull();
        CsvDates.Read((byte[])[.. Encoding.UTF8.GetBytes("at,note\n11/27/2026 9:00 PM,"), 0xFF, 0xFE], Zone, true).ShouldBeNull("that is no text");
    }

    private static string[] EntriesOf(ReadOnlyMemory<byte> utf8) => Encoding.UTF8.GetString(utf8.Span).Split('\n', StringSplitOptions.RemoveEmptyEntries);
}
