using System.Text;
using System.Text.Json;
using Tanksophos.Cli;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Words;

namespace Tanksophos.Core.Tests.Cli;

/// <summary>The commands for people: today, log, convert, doctor, completion, and tables instead of JSON.</summary>
public sealed class FileCommandTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("tanksophos-cli-").FullName;
    private readonly StringWriter output = new(), errors = new();

    public void Dispose()
    {
        Directory.Delete(folder, recursive: true);
        output.Dispose();
        errors.Dispose();
    }

    private FileCommands Ask(int width = 100) => new(output, errors, Units.Us, width);

    private FileInfo Put(string name, byte[] content)
    {
        var path = Path.Combine(folder, name);
        File.WriteAllBytes(path, content);
        return new FileInfo(path);
    }

    private static Logbook Season => new(Given.Rig(),
    [
        Given.Stay(Given.At(0), Core.Rigs.Hookup.Dry), Given.Lamps(Given.At(1)), Given.Lamps(Given.At(3), "low"),
        Given.Dump(Given.At(4)) with { Note = "at the road stop" }, Given.Lamps(Given.At(6)),
    ]);

    private FileInfo Logbook(Logbook? logbook = null) => Put("logbook.json", LogbookFormat.Write(logbook ?? Season));

    [Fact]
    public void Today_tells_levels_and_what_to_do_within_the_width()
    {
        Ask(60).Today(Logbook(), json: false).ShouldBe(0);
        var lines = output.ToString().Split('\n');
        lines.ShouldContain(l => l.StartsWith("Black", StringComparison.Ordinal) && l.Contains("gal", StringComparison.Ordinal));
        lines.ShouldAllBe(l => l.TrimEnd().Length <= 60);
        output.ToString().ShouldNotContain("{");
    }

    [Fact]
    public void Today_gives_both_documents_as_json_where_that_is_asked_for()
    {
        Ask().Today(Logbook(), json: true).ShouldBe(0);
        output.ToString().ShouldContain("tanksophos-assessment");
        output.ToString().ShouldContain("tanksophos-agenda");
    }

    [Fact]
    public void The_log_is_a_table_and_can_be_narrowed()
    {
        Ask().Log(Logbook(), "black", "dump", 40, json: false).ShouldBe(0);
        output.ToString().ShouldContain("at the road stop");
        output.ToString().ShouldContain("1 of 5");
        Ask().Log(Logbook(), "attic", null, 40, json: false).ShouldBe(2);
        errors.ToString().ShouldContain("black, gray");
        Ask().Log(Logbook(), null, "nap", 40, json: false).ShouldBe(2);
        errors.ToString().ShouldContain("reading");
    }

    [Theory]
    [InlineData("entries")]
    [InlineData("logbook")]
    public void What_is_converted_comes_back_the_same(string to)
    {
        Ask().Convert(Logbook(), to, null, null, dayFirst: false, new FileInfo(Path.Combine(folder, "there"))).ShouldBe(0);
        var back = new FileInfo(Path.Combine(folder, "back"));
        Ask().Convert(new FileInfo(Path.Combine(folder, "there")), "logbook", Logbook(), null, dayFirst: false, back).ShouldBe(0);
        LogbookFormat.Read(File.ReadAllBytes(back.FullName)).Value!.Entries.Select(e => Encoding.UTF8.GetString(EntryCodec.Write(e)))
            .ShouldBe(Season.Entries.Select(e => Encoding.UTF8.GetString(EntryCodec.Write(e))));
        Ask().Convert(Logbook(), to, null, null, dayFirst: false, back).ShouldBe(2); // never over a file that is there
    }

    [Fact]
    public void A_spreadsheet_becomes_a_logbook_with_the_rig_of_another()
    {
        var sheet = Put("mine.csv", Encoding.UTF8.GetBytes("Date,Black,Gray dumped\n3/4/2026,1/3,\n5/4/2026,,x\n"));
        Ask().Convert(sheet, "logbook", null, "America/Denver", dayFirst: true, null).ShouldBe(2);
        errors.ToString().ShouldContain("--rig");
        Ask().Convert(sheet, "logbook", Logbook(), "America/Denver", dayFirst: true, null).ShouldBe(0);
        var made = LogbookFormat.Read(Encoding.UTF8.GetBytes(output.ToString())).Value!;
        made.Entries.Select(e => e.At.Date).ShouldBe([new NodaTime.LocalDate(2026, 4, 3), new NodaTime.LocalDate(2026, 4, 5)]);
        errors.ToString().ShouldContain("level:black");
    }

    [Fact]
    public void The_doctor_finds_what_stands_twice_gaps_and_stuck_lights_and_nothing_in_a_sound_log()
    {
        var twice = Given.Dump(Given.At(4)) with { Id = "a" };
        var odd = Season with
        {
            Entries = [.. Season.Entries, twice with { Id = "b", Note = "again" }, twice with { Id = "c", Note = "again" },
            Given.Lamps(Given.At(60))]
        };
        Ask().Doctor(Logbook(odd), json: true).ShouldBe(1);
        var kinds = output.ToString().Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(l => JsonDocument.Parse(l).RootElement.GetProperty("kind").GetString()).ToList();
        kinds.ShouldContain("twice");
        kinds.ShouldContain("gap");
        output.GetStringBuilder().Clear();
        Ask().Doctor(Logbook(), json: false).ShouldBe(0, output.ToString());
        output.ToString().ShouldContain("5 entries");
    }

    [Fact]
    public void A_file_that_is_none_is_said_and_not_thrown()
    {
        var photo = Put("photo.csv", [0xFF, 0xD8, 0xFF, 0xE0]);
        Ask().Convert(photo, "logbook", Logbook(), null, false, null).ShouldBe(2);
        errors.ToString().ShouldContain("photo");
        Ask().Today(new FileInfo(Path.Combine(folder, "none.json")), false).ShouldBe(2);
        Ask().Doctor(Put("bad.json", "{\"format\":"u8.ToArray()), false).ShouldBe(2);
        Ask().Convert(Logbook(), "poem", null, null, false, null).ShouldBe(2);
        Ask().Convert(Logbook(), "logbook", null, "Mars/Olympus", false, null).ShouldBe(2);
    }

    [Theory]
    [InlineData("bash", 0)]
    [InlineData("zsh", 0)]
    [InlineData("fish", 0)]
    [InlineData("abacus", 2)]
    public void Shells_learn_to_complete(string shell, int code)
    {
        Ask().Completion(shell).ShouldBe(code);
        output.ToString().Contains("[suggest:", StringComparison.Ordinal).ShouldBe(code == 0);
    }

    // Every answer can be shown as text, and none of it shows a brace.
    [Fact]
    public void Every_kind_of_answer_has_a_table()
    {
        var tables = new Tables(Units.Us, 100);
        var logbook = LogbookFormat.Write(Season);
        var answers = new Dictionary<string, byte[]>
        {
            ["assess"] = Commands.Assess(logbook, false).Line,
            ["agenda"] = Commands.Agenda(logbook, false).Line,
            ["validate"] = Commands.Validate(logbook, false).Line,
            ["error"] = Commands.Assess("{}"u8.ToArray(), false).Line,
            ["dose"] = Commands.Dose("""{"capacityL":151.4,"treatment":"enzyme","highC":33,"days":9}"""u8.ToArray(), false).Line,
            ["practice"] = Commands.PracticeTruth(
                """{"format":"tanksophos-practice","version":1,"seed":7,"topic":"lamps","difficulty":1}"""u8.ToArray(), false).Line,
            ["plan"] = Commands.Plan(Example("trip.json"), false).Line,
            ["run"] = Commands.DumpRun(Example("run.json"), false).Line,
        };
        foreach (var (name, line) in answers)
        {
            var text = tables.Render(line);
            text.Trim().ShouldNotBeEmpty(name);
            text.ShouldNotContain("{", Case.Sensitive, name);
            text.Split('\n').ShouldAllBe(l => l.TrimEnd().Length <= 110, name);
        }
        tables.Render(answers["dose"]).ShouldContain("put in");
        tables.Render(answers["plan"]).ShouldContain("when");
    }

    private static byte[] Example(string name)
    {
        var at = AppContext.BaseDirectory;
        while (!Directory.Exists(Path.Combine(at, "docs", "examples"))) at = Path.GetDirectoryName(at)!;
        return File.ReadAllBytes(Path.Combine(at, "docs", "examples", name));
    }
}
