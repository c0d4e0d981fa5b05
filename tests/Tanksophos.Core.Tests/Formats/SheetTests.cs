using System.IO.Compression;
using System.Text;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Sheets;

namespace Tanksophos.Core.Tests.Formats;

/// <summary>Spreadsheets that people kept by hand, five styles and what goes wrong with them.</summary>
public sealed class SheetTests
{
    private static readonly DateTimeZone Denver = DateTimeZoneProviders.Tzdb["America/Denver"];
    private static readonly Instant Now = Instant.FromUtc(2026, 10, 1, 18, 0);

    private static SheetEntries Understand(byte[] content, bool monthFirst = true, Func<SheetMap, SheetMap>? mend = null)
    {
        var read = SheetTable.Read(content);
        read.Errors.ShouldBeEmpty();
        var map = SheetMap.Guess(read.Value!, Given.Rig(), monthFirst);
        return SheetReading.Read(read.Value!, mend?.Invoke(map) ?? map, Given.Rig(), Denver, Now);
    }

    private static SheetEntries Understand(string text, bool monthFirst = true) => Understand(Encoding.UTF8.GetBytes(text), monthFirst);

    private static byte[] Example(string name)
    {
        var folder = AppContext.BaseDirectory;
        while (!Directory.Exists(Path.Combine(folder, "docs", "examples", "spreadsheets"))) folder = Path.GetDirectoryName(folder)!;
        return File.ReadAllBytes(Path.Combine(folder, "docs", "examples", "spreadsheets", name));
    }

    // What an entry says, short: "05-16 08:45 dump black".
    private static string Short(LogEntry e) => $"{e.At:MM-dd HH:mm} {e.Type}{(e.Tank is null ? "" : " " + e.Tank)}" + e switch
    {
        ReadingEntry { Lit: { } lit } => $" [{string.Join(' ', lit)}]",
        ReadingEntry { Percent: { } p } => $" {p} %",
        ReadingEntry { Fraction: { } f } => $" ~{f}",
        FlushEntry f => $" {f.Method} x{f.Cycles.Count}",
        DoseEntry d => $" {d.Recipe}",
        WaterEntry w => $" {w.WaterL} L",
        StayEntry s => $" {s.Place} {s.Hookup}",
        PeopleEntry p => $" {p.Count}",
        OdorEntry o => $" {o.Where} {o.Smell}",
        SymptomEntry s => $" {s.Code}",
        DriveEntry d => $" {d.Hours} h",
        _ => "",
    };

    private static string[] Lines(SheetEntries sheet) => [.. sheet.Entries.Select(Short)];

    [Fact]
    public void One_event_a_line()
    {
        var sheet = Understand(Example("tidy.csv"));
        Lines(sheet).ShouldBe([
            "05-03 09:30 reading black [low]", "05-09 18:15 reading black [low mid]", "05-16 08:45 dump black", "05-16 08:50 flush black Pedal x2",
            "05-16 09:00 dump gray", "05-18 19:00 reading gray 35 %"]);
        sheet.Entries[2].Note.ShouldNotBeNull().ShouldContain("4 min");
        sheet.Taken.ShouldBe(6);
        sheet.SampleAt.ShouldBe(new LocalDateTime(2026, 5, 3, 9, 30));
    }

    [Fact]
    public void A_column_for_each_tank_below_a_title()
    {
        var sheet = Understand(Example("wide.csv"));
        Lines(sheet).ShouldBe([
            "06-05 12:00 stay Cinder Flat Dry", "06-05 12:00 reading black []", "06-05 12:00 reading gray 10 %",
            "06-06 12:00 reading black []", "06-06 12:00 reading gray 20 %", "06-08 12:00 reading black [low]", "06-08 12:00 reading gray 45 %",
            "06-09 12:00 stay Road stop Full", "06-09 12:00 dump black", "06-09 12:00 dump gray",
            "06-09 12:00 stay Alder Bend Full", "06-09 12:00 reading black []", "06-09 12:00 reading gray 5 %", "06-12 12:00 reading black [low]"]);
    }

    [Fact]
    public void Marks_with_days_first()
    {
        var sheet = Understand(Example("marks.csv"));
        Lines(sheet).ShouldBe([
            "07-13 12:00 stay Alder Bend Full", "07-13 12:00 people 2", "07-13 12:00 dump black", "07-13 12:00 dump gray", "07-13 12:00 flush black Pedal x2",
            "07-13 12:00 dose black Enzyme", "07-17 12:00 dump gray", "07-20 12:00 people 4", "07-20 12:00 dump black", "07-20 09:30 dump gray",
            "07-20 12:00 flush black Pedal x1", "07-20 12:00 dose black Other", "07-24 12:00 dump gray", "07-27 12:00 stay Cinder Flat Full",
                "07-27 12:00 people 2", "07-27 12:00 dump black",
            "07-27 12:00 dump gray", "07-27 12:00 flush black Pedal x2", "07-27 12:00 dose black Enzyme"]);
    }

    [Fact]
    public void A_diary()
    {
        var sheet = Understand(Example("diary.csv"));
        Lines(sheet).ShouldBe([
            "08-01 18:00 stay Cinder Flat Dry", "08-01 18:00 people 2", "08-03 12:00 reading black [low]", "08-03 12:00 reading gray 40 %",
            "08-05 19:00 odor Bathroom RottenEgg", "08-07 10:00 dump black", "08-07 10:00 dump gray", "08-07 10:00 flush black Wand x3",
            "08-07 10:00 dose black Enzyme", "08-07 10:00 water black 11.4 L", "08-07 14:00 drive 2.5 h", "08-08 12:00 symptom black ValveStiff"]);
        sheet.Remarks.ShouldContain(r => r.Path == "line 5"); // what was not done is no entry, and is said
    }

    [Fact]
    public void The_newest_on_top_and_the_year_said_once()
    {
        var sheet = Understand(Example("newest-first.csv"));
        Lines(sheet).ShouldBe([
            "09-03 12:00 reading gray 80 %", "09-03 12:00 reading black []", "09-04 12:00 dump gray", "09-06 12:00 reading gray 30 %",
            "09-06 12:00 reading black [low]", "09-09 12:00 reading gray 55 %", "09-09 12:00 reading black [low]", "09-11 12:00 reading gray 70 %",
            "09-11 12:00 reading black [low mid]", "09-12 12:00 dump black", "09-12 12:00 dump gray"]);
        sheet.Entries.ShouldAllBe(e => e.At.Year == 2025);
    }

    [Theory]
    [InlineData("1/12/2026", false, 1, 12)] // nothing tells: as the person reads dates
    [InlineData("1/12/2026\n25/12/2025", true, 12, 1)]
    [InlineData("1/12/2026\n2/25/2026", true, 1, 12)]
    [InlineData("2026-12-01", true, 12, 1)]
    [InlineData("1 Dec 2026", true, 12, 1)]
    public void The_order_of_day_and_month(string dates, bool sure, int month, int day)
    {
        var table = SheetTable.Read(Encoding.UTF8.GetBytes("Date,Tank\n" + string.Join('\n', dates.Split('\n').Select(d => d + ",black")))).Value!;
        var map = SheetMap.Guess(table, Given.Rig(), monthFirst: true);
        map.Sure.ShouldBe(sure);
        SheetDates.Read(table.Rows[0].Cells[0])!.On(map.MonthFirst, 2026).ShouldBe(new LocalDate(2026, month, day));
    }

    [Fact]
    public void Days_in_their_order_tell_which_number_is_the_month()
    {
        // 1/2 to 12/2 with the day first runs through a February; with the month first it jumps from month to month, which is just as steady.
        var days = string.Join('\n', new[] { "10/1/2026", "11/1/2026", "12/1/2026", "1/2/2026", "2/2/2026", "3/2/2026", "10/2/2026", "1/3/2026" }
            .Select(d => d + ",x"));
        SheetMap.Guess(SheetTable.Read(Encoding.UTF8.GetBytes("Date,Dumped\n" + days)).Value!, Given.Rig(), monthFirst: true).ShouldSatisfyAllConditions(
            m => m.Sure.ShouldBeTrue(), m => m.MonthFirst.ShouldBeFalse());
    }

    [Theory]
    [InlineData("Dumped", 2)]
    [InlineData("dumped both tanks", 2)]
    [InlineData("emptied gray", 1)]
    [InlineData("didn't dump", 0)]
    [InlineData("will dump tomorrow", 0)]
    [InlineData("need to dump black soon", 0)]
    [InlineData("at the dump station", 0)]
    [InlineData("black drains slowly", 0)]
    public void What_counts_as_a_dump(string text, int dumps) => Understand($"Date,Event\n2026-05-01,{text}").Entries.OfType<DumpEntry>().Count()
        .ShouldBe(dumps);

    [Theory]
    [InlineData("filled fresh tank", 0)]
    [InlineData("drained the fresh water tank", 0)]
    [InlineData("drained fresh, dumped black", 1)]
    [InlineData("dumped black but it drained slow", 1)]
    public void The_drinking_water_is_no_waste(string text, int dumps) =>
        Understand($"Date,Event\n2026-05-01,\"{text}\"").Entries.OfType<DumpEntry>().Count().ShouldBe(dumps);

    [Fact]
    public void A_line_about_a_tank_that_the_rig_has_not_counts_for_none()
    {
        var sheet = Understand("Date,Tank,Event\n2026-05-01,Fresh,drained\n2026-05-02,Black,dumped");
        Lines(sheet).ShouldBe(["05-02 12:00 dump black"]);
        sheet.Remarks.ShouldContain(r => r.Path == "line 2");
    }

    [Theory]
    [InlineData("bought enzyme", 0)]
    [InlineData("out of tabs", 0)]
    [InlineData("need more chemicals", 0)]
    [InlineData("ice cream at the store", 0)]
    [InlineData("bugs in the shower", 0)]
    [InlineData("bleached the fresh tank", 0)]
    [InlineData("added a tab", 1)]
    [InlineData("enzyme in black", 1)]
    [InlineData("bag of ice before the drive", 1)]
    public void What_counts_as_a_treatment(string text, int doses) =>
        Understand($"Date,Event\n2026-05-01,{text}\n2026-05-02,dumped").Entries.OfType<DoseEntry>().Count().ShouldBe(doses);

    [Theory]
    [InlineData("Black (gal)", "20", 0.5)]
    [InlineData("Black gallons", "10", 0.25)]
    [InlineData("Black (liters)", "75.7", 0.5)]
    public void A_unit_in_a_columns_name_is_that_of_its_cells(string column, string cell, double fraction) =>
        Understand($"Date,{column}\n2026-05-01,{cell}").Entries.OfType<ReadingEntry>().Single().Fraction!.Value.ShouldBe(fraction, 0.01);

    [Fact]
    public void A_small_workbook_that_unpacks_to_a_sea_is_refused()
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
        {
            using var to = zip.CreateEntry("xl/sharedStrings.xml", CompressionLevel.Fastest).Open();
            var nothing = new byte[1 << 20];
            for (var i = 0; i < 260; i++) to.Write(nothing);
        }
        stream.Length.ShouldBeLessThan(4 << 20);
        SheetTable.Read(stream.ToArray()).Errors.ShouldHaveSingleItem().Message.ShouldContain("unpacks");
    }

    // Further styles, each as somebody might have kept it; what counts is that no column has to be corrected.
    [Theory]
    [InlineData("DATE/TIME,EVENT,DETAILS\n7/3/2025 6:15p,Arrived,Pine Flat CG - W/E\n7/5/2025 8:10a,Dump,\"Blk & gry. Rinsed blk 2x. 1 oz enzyme + 3 gal water\"\n"
        + "7/9/2025 7:00a,Read panel,\"Blk 1/3, gry 50 %\"",
        "07-03 18:15 stay Pine Flat CG Partial", "07-05 08:10 dump black", "07-05 08:10 dump gray", "07-05 08:10 flush black Pedal x2",
        "07-05 08:10 dose black Enzyme", "07-05 08:10 water black 11.4 L", "07-09 07:00 reading black [low]", "07-09 07:00 reading gray 50 %")]
    [InlineData("Trip log 2024,,,,,\nDay,Blk %,Gry %,Fresh %,Dump?,Chem?\nFri 5-Jul,0,0,100,,Y\nMon 8-Jul,0,0,100,Y,Y",
        "07-05 12:00 reading black []", "07-05 12:00 reading gray 0 %", "07-05 12:00 dose black Other", "07-08 12:00 dump black", "07-08 12:00 reading black []",
        "07-08 12:00 dump gray", "07-08 12:00 reading gray 0 %", "07-08 12:00 dose black Other")]
    [InlineData("Date,Black before,Black after,Gray before,Gray after\n05/02/2025,Full,Empty,3/4,Empty\n05/16/2025,2/3,Empty,1/2,1/4",
        "05-02 12:00 reading black [low mid top]", "05-02 12:00 dump black", "05-02 12:00 reading black []", "05-02 12:00 reading gray 75 %",
        "05-02 12:00 dump gray", "05-02 12:00 reading gray 0 %", "05-16 12:00 reading black [low mid]", "05-16 12:00 dump black", "05-16 12:00 reading black []",
        "05-16 12:00 reading gray 50 %", "05-16 12:00 reading gray 25 %")]
    [InlineData("Date dumped,Days since,Gallons black,Treatment used\n3/14/25,,15,drop-in pod\n3/26/25,7,20,none",
        "03-14 12:00 reading black ~0.375", "03-14 12:00 dump black", "03-14 12:00 dump gray", "03-14 12:00 dose black Other", "03-26 12:00 reading black ~0.5",
        "03-26 12:00 dump black", "03-26 12:00 dump gray")]
    [InlineData("Date,Black,Gray\n9/1,1/3,10 %\n9/3,2/3,D\n9/4,2/3 D,20 %", "09-01 12:00 reading black [low]", "09-01 12:00 reading gray 10 %",
        "09-03 12:00 reading black [low mid]", "09-03 12:00 dump gray", "09-04 12:00 reading black [low mid]", "09-04 12:00 dump black", "09-04 12:00 reading gray 20 %")]
    [InlineData("Date,AM Black,PM Black,Notes\n8/3/25,1/3,Full,dumped black after dinner\n8/4/25,E,E,dump station closed", "08-03 09:00 reading black [low]",
        "08-03 15:00 reading black [low mid top]", "08-03 15:00 dump black", "08-04 09:00 reading black []", "08-04 15:00 reading black []")]
    [InlineData("Trip,Start,End,Black dumped,Gray dumped\nwest,6/20/2025,7/2/2025,\"6/26/2025, 7/2/2025\",6/24/2025", "06-26 12:00 dump black",
        "07-02 12:00 dump black", "06-24 12:00 dump gray")]
    [InlineData("Black tank dumps\n5/1/25\n5/9/25", "05-01 12:00 dump black", "05-09 12:00 dump black")]
    [InlineData("Date;Campsite;Sewer;Black %;Comment\n14.07.2025;Alder Bend;no;30;\n16.07.2025;Cinder Flat;yes;0;dumped & flushed on arrival",
        "07-14 12:00 stay Alder Bend Partial", "07-14 12:00 reading black [low]", "07-16 12:00 stay Cinder Flat Full", "07-16 12:00 dump black",
        "07-16 12:00 reading black []", "07-16 12:00 dump gray", "07-16 12:00 flush black Pedal x1")]
    [InlineData("2025 season log\n\n4/20 Dumped at home - both tanks. Bathroom smell gone\n5/3 Black at 2/3\n"
        + "5/14: dump + rinse black (3 times), gray after. Put in 2 scoops powder\nslow to drain", "04-20 12:00 dump black", "04-20 12:00 dump gray",
        "05-03 12:00 reading black [low mid]", "05-14 12:00 dump black", "05-14 12:00 flush black Pedal x3", "05-14 12:00 dump gray", "05-14 12:00 dose black Other",
        "05-14 12:00 symptom DrainsSlowly")]
    [InlineData("June 12, 2025: Dumped black, then gray. Used the tank rinser till it ran clear\nJune 14, 2025: W/E site - no sewer. No smell today", "06-12 12:00 dump black",
        "06-12 12:00 dump gray", "06-12 12:00 flush black BuiltIn x1")]
    public void Further_styles_are_understood_as_they_are(string sheet, params string[] lines)
    {
        var read = Understand(sheet);
        Lines(read).ShouldBe(lines);
        read.Entries.ShouldAllBe(e => e.At.Year == 2024 == sheet.Contains("2024", StringComparison.Ordinal));
    }

    [Fact]
    public void Of_two_grays_a_mark_for_gray_empties_both_and_never_the_black_one()
    {
        var rig = Given.Rig();
        rig = rig with { Tanks = [.. rig.Tanks, rig.Tanks[1] with { Id = "galley", Name = "Galley gray" }] };
        var gray = rig with { Tanks = [rig.Tanks[0], rig.Tanks[1] with { Id = "bath", Name = "Bath gray" }, rig.Tanks[2]] };
        foreach (var text in new[] { "Date,Black dumped?,Gray dumped?\n6/4/25,,x", "Date,Black,Gray\n6/3/25,1/3,20 %\n6/4/25,1/3,D",
            "Date,Black,Gray\n6/3/25,1/3,20 %\n6/4/25,1/3,dumped" })
        {
            var table = SheetTable.Read(Encoding.UTF8.GetBytes(text)).Value!;
            SheetReading.Read(table, SheetMap.Guess(table, gray, true), gray, Denver, Now).Entries.OfType<DumpEntry>().Select(e => e.Tank)
                .ShouldBe(["bath", "galley"], text);
        }
    }

    [Fact]
    public void What_a_note_tells_is_taken_once()
    {
        Lines(Understand("Date,Black,Notes\n6/4/25,,smell in bathroom\n6/5/25,1/3,smell in bathroom\n6/6/25,E,dumped black")).ShouldBe([
            "06-04 12:00 odor Bathroom Sewage", "06-05 12:00 reading black [low]", "06-05 12:00 odor Bathroom Sewage", "06-06 12:00 dump black",
            "06-06 12:00 reading black []"]);
        Lines(Understand("Date dumped,Black before,Black after\n6/6/25,2/3,E")).Count(l => l.EndsWith("dump black", StringComparison.Ordinal)).ShouldBe(1);
        SheetMap.Guess(SheetTable.Read("Date,Sewer tank\n6/6/25,1/3"u8.ToArray()).Value!, Given.Rig(), true).Columns[1].Word.ShouldBe("level:black");
    }

    [Fact]
    public void A_year_in_the_title_counts_and_without_one_the_newest_day_has_been()
    {
        Understand("Log of 2023\nDate,Event\n11/30,dumped black\n12/2,dumped gray").Entries.Select(e => e.At.Year).ShouldBe([2023, 2023]);
        Understand("Date,Event\n9/30,dumped black\n12/2,dumped gray").Entries.Select(e => e.At.Year).ShouldBe([2025, 2025]);
        Understand("Log 2023 and 2024\nDate,Event\n9/30,dumped black").Entries.Select(e => e.At.Year).ShouldBe([2026]);
    }

    [Fact]
    public void An_empty_header_a_single_column_and_forty_columns_do_no_harm()
    {
        Understand(string.Join(',', Enumerable.Repeat("x", 60)) + "\n" + string.Join(',', Enumerable.Repeat("y", 60))).Remarks.ShouldContain(r =>
            r.Message.Contains("40", StringComparison.Ordinal));
        Lines(Understand("2026-05-01 dumped black\n2026-05-02 dumped gray")).ShouldBe(["05-01 12:00 dump black", "05-02 12:00 dump gray"]);
        Understand(",,\n2026-05-01,dumped,\n").Entries.ShouldNotBeEmpty();
    }

    [Theory]
    [InlineData("Full", "low mid top")]
    [InlineData("2/3", "low mid")]
    [InlineData("66%", "low mid")]
    [InlineData("e", "")]
    [InlineData("0", "")]
    [InlineData("low top", "low top")]
    [InlineData("mid", "low mid")]
    public void Lights_are_known_by_label_share_and_name(string cell, string lit) =>
        Understand($"Date,Black\n2026-05-01,{cell}").Entries.OfType<ReadingEntry>().Single().Lit
            .ShouldBe(lit.Split(' ', StringSplitOptions.RemoveEmptyEntries));

    [Theory]
    [InlineData("45 %", 0.45)]
    [InlineData("half", 0.5)]
    [InlineData("20 gal", 0.5)]
    [InlineData("75.7 L", 0.5)]
    public void Another_share_than_a_lights_is_a_look(string cell, double fraction) =>
        Understand($"Date,Black\n2026-05-01,{cell}").Entries.OfType<ReadingEntry>().Single().ShouldSatisfyAllConditions(
            r => r.Via.ShouldBe(ReadingVia.Sight), r => r.Fraction!.Value.ShouldBe(fraction, 0.01));

    [Fact]
    public void A_gas_alarm_of_long_ago_does_not_sound_again()
    {
        var sheet = Understand("Date,Event\n2024-05-01,\"propane alarm went off, dumped black\"");
        Lines(sheet).ShouldBe(["05-01 12:00 dump black"]);
        sheet.Entries[0].Note.ShouldNotBeNull().ShouldContain("propane");
        sheet.Remarks.ShouldContain(r => r.Path == "line 2");
    }

    [Fact]
    public void Plans_are_left_out_and_said()
    {
        var sheet = Understand("Date,Dumped\n2026-09-30,x\n2026-11-05,x");
        sheet.Entries.Count.ShouldBe(2);
        sheet.Remarks.ShouldContain(r => r.Path == "line 3");
    }

    [Fact]
    public void What_a_person_says_of_a_column_counts()
    {
        var content = Encoding.UTF8.GetBytes("Date,Stuff\n2026-05-01,33");
        Understand(content).Entries.ShouldBeEmpty();
        var sheet = Understand(content, mend: m => m with { Columns = [m.Columns[0], SheetUse.Parse("level:gray", Given.Rig())!] });
        Lines(sheet).ShouldBe(["05-01 12:00 reading gray 33 %"]);
        SheetUse.Parse("level:attic", Given.Rig()).ShouldBeNull();
        SheetUse.Parse("shoe", Given.Rig()).ShouldBeNull();
        SheetUse.Parse(new SheetUse(SheetColumn.Dumped, "black").Word, Given.Rig()).ShouldBe(new SheetUse(SheetColumn.Dumped, "black"));
    }

    [Fact]
    public void A_workbook_with_real_dates_and_percents()
    {
        var sheet = Understand(Workbook(
            $"""<row r="1">{Cell("A1", "Date")}{Cell("B1", "Gray")}{Cell("C1", "Black dumped")}</row>"""
            + """<row r="2"><c r="A2" s="1"><v>46150.75</v></c><c r="B2" s="2"><v>0.57</v></c></row>"""
            + $"""<row r="3"><c r="A3" s="1"><v>46151</v></c>{Cell("C3", "x")}</row>"""));
        Lines(sheet).ShouldBe(["05-08 18:00 reading gray 57 %", "05-09 12:00 dump black"]);
    }

    [Fact]
    public void A_workbook_of_photos_is_told_so() =>
        SheetTable.Read(Workbook("")).Errors.ShouldHaveSingleItem().Message.ShouldContain("picture");

    public static TheoryData<byte[], string> NoSheets => new()
    {
        { [0xFF, 0xD8, 0xFF, 0xE0, 1, 2, 3], "photo" },
        { [0x89, 0x50, 0x4E, 0x47, 1, 2, 3], "picture" },
        { Encoding.ASCII.GetBytes("%PDF-1.7 ..."), "PDF" },
        { [0, 0, 0, 24, .. Encoding.ASCII.GetBytes("ftypheic"), 0, 0, 0, 0, 1], "photo" },
        { [0x50, 0x4B, 0x03, 0x04, 9, 9, 9, 9], "can't be read" },
        { [0xD0, 0xCF, 0x11, 0xE0, 9, 9, 9, 9], "can't be read" },
        { [1, 0, 2, 0, 3], "not a spreadsheet" },
        { Encoding.ASCII.GetBytes("   \n  "), "empty" },
        { Encoding.ASCII.GetBytes("Date,Black"), "no lines" },
    };

    [Theory]
    [MemberData(nameof(NoSheets))]
    public void What_is_no_spreadsheet_is_refused_with_a_word(byte[] content, string word) =>
        SheetTable.Read(content).Errors.ShouldHaveSingleItem().Message.ShouldContain(word);

    // Whatever stands in a sheet: what comes of it can be read as entries of the log.
    [Fact]
    public void Whatever_stands_in_a_sheet_gives_entries_that_can_be_kept()
    {
        var random = new Random(25);
        string[] cells = ["", "x", "2/3", "110 %", "dumped", "black", "gray 4", "yesterday", "31/31/2026", "5/6", "99999", "-1", "=1+1", "\"", "Ünïcode",
            "full",
            "0 gal", "5000 gal of water", "999 people", "drove 9999 hours", "rinsed 99 times", "12:75", "25:00", "propane smell", new string('a', 5000),
                "\u0000"];
        for (var n = 0; n < 200; n++)
        {
            var text = new StringBuilder("Date,Time,Tank,Black,Gray,Event,Place,People,Notes\n");
            for (var line = 0; line < 8; line++)
                text.Append(string.Join(',', Enumerable.Range(0, 9).Select(c => c == 0 && random.Next(3) > 0 ? $"2026-0{1 + random.Next(9)}-1{random.Next(9)}"
                    : cells[random.Next(cells.Length - 1)]))).Append('\n');
            var read = SheetTable.Read(Encoding.UTF8.GetBytes(text.ToString()));
            if (read.Value is not { } table) continue;
            var sheet = SheetReading.Read(table, SheetMap.Guess(table, Given.Rig(), true), Given.Rig(), Denver, Now);
            if (sheet.Entries.Count > 0) EntriesCsv.Read(EntriesCsv.Write(sheet.Entries), Given.Rig(), Now).Errors.ShouldBeEmpty(text.ToString());
            sheet.Paths.Count.ShouldBe(sheet.Entries.Count);
        }
    }

    private static string Cell(string at, string text) => $"""<c r="{at}" t="inlineStr"><is><t>{text}</t></is></c>""";

    // The least of a workbook that is one: dates, percents, and the rows.
    private static byte[] Workbook(string rows)
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
        {
            void Add(string name, string xml)
            {
                using var to = new StreamWriter(zip.CreateEntry(name).Open());
                to.Write("""<?xml version="1.0" encoding="UTF-8"?>""" + xml);
            }
            const string Main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main", Package = "http://schemas.openxmlformats.org/package/2006/",
                Document = "http://schemas.openxmlformats.org/officeDocument/2006/relationships", Kind = "application/vnd.openxmlformats-";
            string Relation(string id, string kind, string target) => $"""<Relationship Id="{id}" Type="{Document}/{kind}" Target="{target}"/>""";
            string Relations(params string[] all) => $"""<Relationships xmlns="{Package}relationships">{string.Concat(all)}</Relationships>""";
            string Part(string name, string kind) => $"""<Override PartName="/xl/{name}" ContentType="{Kind}officedocument.spreadsheetml.{kind}+xml"/>""";
            Add("[Content_Types].xml", $"""<Types xmlns="{Package}content-types"><Default Extension="rels" ContentType="{Kind}package.relationships+xml"/>"""
                + Part("workbook.xml", "sheet.main") + Part("worksheets/sheet1.xml", "worksheet") + "</Types>");
            Add("_rels/.rels", Relations(Relation("r1", "officeDocument", "xl/workbook.xml")));
            Add("xl/workbook.xml", $"""<workbook xmlns="{Main}" xmlns:r="{Document}"><sheets><sheet name="Log" sheetId="1" r:id="r1"/></sheets></workbook>""");
            Add("xl/_rels/workbook.xml.rels", Relations(Relation("r1", "worksheet", "worksheets/sheet1.xml"), Relation("r2", "styles", "styles.xml")));
            Add("xl/styles.xml", $"""<styleSheet xmlns="{Main}"><cellXfs count="3"><xf numFmtId="0"/><xf numFmtId="22" applyNumberFormat="1"/>"""
                + """<xf numFmtId="9" applyNumberFormat="1"/></cellXfs></styleSheet>""");
            Add("xl/worksheets/sheet1.xml", $"""<worksheet xmlns="{Main}"><sheetData>{rows}</sheetData></worksheet>""");
        }
        return stream.ToArray();
    }
}
