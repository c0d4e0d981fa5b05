using System.Text;
using System.Text.Json;
using Tanksophos.Cli;

namespace Tanksophos.Core.Tests.Cli;

public class CommandsTests
{
    private static readonly string Good = Given.Document("""{ "at": "2026-05-01T08:00:00-06:00", "type": "dump", "tank": "black" }""");

    private static (int Code, List<JsonElement> Lines, string Errors) Run(Func<ReadOnlyMemory<byte>, bool, Commands.Answer> command, string input,
        bool pretty = false)
    {
        using var output = new MemoryStream();
        var errors = new StringWriter();
        var code = Commands.Run(command, new MemoryStream(Encoding.UTF8.GetBytes(input)), output, errors, pretty);
        var text = Encoding.UTF8.GetString(output.ToArray());
        var lines = pretty ? [text] : text.Split('\n', StringSplitOptions.RemoveEmptyEntries);
        return (code, [.. lines.Select(l => JsonDocument.Parse(l).RootElement)], errors.ToString());
    }

    [Fact]
    public void Assess_gives_a_complete_assessment()
    {
        var (code, lines, _) = Run(Commands.Assess, Good.ReplaceLineEndings(" "));

        code.ShouldBe(0);
        var result = lines.ShouldHaveSingleItem();
        result.GetProperty("format").GetString().ShouldBe("tanksophos-assessment");
        result.GetProperty("asOf").GetString().ShouldBe("2026-05-01T08:00:00-06:00");
        var black = result.GetProperty("tanks")[0];
        black.GetProperty("tank").GetString().ShouldBe("black");
        black.GetProperty("level").GetProperty("p95L").GetDouble().ShouldBeLessThan(8);
        black.GetProperty("inflow").GetProperty("lPerPersonDay").GetDouble().ShouldBeGreaterThan(5);
        black.GetProperty("probes").EnumerateArray()
            .Select(p => p.GetProperty("working").GetDouble() + p.GetProperty("stuckOn").GetDouble() + p.GetProperty("stuckOff").GetDouble())
            .ShouldAllBe(s => Math.Abs(s - 1) < 1e-5);
        black.GetProperty("monitorVerdict").GetString().ShouldBe("trust");
        foreach (var name in new[] { "odorCauses", "safety", "remedies" }) result.GetProperty(name).GetArrayLength().ShouldBe(0);
        result.GetProperty("panelFault").GetDouble().ShouldBeInRange(0, 1);
    }

    [Fact]
    public void An_unresolved_alarm_is_listed()
    {
        var alarm = Given.Document("""{ "at": "2026-05-01T08:00:00-06:00", "type": "symptom", "code": "propane-alarm" }""");
        var (_, lines, _) = Run(Commands.Assess, alarm.ReplaceLineEndings(" "));

        lines[0].GetProperty("safety")[0].GetString().ShouldBe("propane-alarm");
    }

    [Fact]
    public void A_bad_document_gives_an_error_in_its_place_and_the_others_still_come()
    {
        var line = Good.ReplaceLineEndings(" ");
        var (code, lines, _) = Run(Commands.Assess, $"{line}\r\n\n{{ \"a\": \n{line.Replace("\"dump\"", "\"jump\"", StringComparison.Ordinal)}\n{line}\n");

        code.ShouldBe(1);
        lines.Count.ShouldBe(4);
        lines[0].TryGetProperty("tanks", out _).ShouldBeTrue();
        lines[1].GetProperty("error").GetProperty("message").GetString()!.ShouldContain("breaks off");
        lines[2].GetProperty("error").GetProperty("path").GetString().ShouldBe("entries[0].type");
        lines[3].TryGetProperty("tanks", out _).ShouldBeTrue();
    }

    [Fact]
    public void One_document_may_stand_over_several_lines()
    {
        var pretty = Good.Replace("{", "{\n", StringComparison.Ordinal).Replace(",", ",\n", StringComparison.Ordinal);

        Run(Commands.Validate, pretty).Lines.ShouldHaveSingleItem().GetProperty("valid").GetBoolean().ShouldBeTrue();
        Run(Commands.Validate, "\uFEFF\n\n" + pretty + "\n\n").Code.ShouldBe(0);
        Run(Commands.Validate, pretty + "\n" + pretty).Code.ShouldBe(1); // neither one document nor one per line
    }

    [Fact]
    public void Validate_names_the_format_and_what_it_ignored()
    {
        var (code, lines, _) = Run(Commands.Validate, Good.Replace("\"type\"", "\"mood\": 1, \"type\"", StringComparison.Ordinal).ReplaceLineEndings(" "));

        code.ShouldBe(0);
        lines[0].GetProperty("format").GetString().ShouldBe("tanksophos-logbook");
        lines[0].GetProperty("warnings")[0].GetString()!.ShouldContain("entries[0].mood");
    }

    [Fact]
    public void Pretty_indents_and_nothing_at_all_is_said_on_the_error_stream()
    {
        Run(Commands.Validate, Good.ReplaceLineEndings(" "), pretty: true).Lines[0].GetProperty("valid").GetBoolean().ShouldBeTrue();
        var (code, lines, errors) = Run(Commands.Validate, " \n\n");
        code.ShouldBe(1);
        lines.ShouldBeEmpty();
        errors.ShouldContain("standard input");
    }

    [Fact]
    public void Many_documents_come_back_in_their_order()
    {
        var input = string.Join('\n', Enumerable.Range(0, 60)
            .Select(i => Given.Document($$"""{ "at": "2026-05-01T08:{{i:00}}:00-06:00", "type": "people", "count": 2 }""").ReplaceLineEndings(" ")));

        Run(Commands.Assess, input).Lines.Select(l => l.GetProperty("asOf").GetString()![14..16]).ShouldBe(Enumerable.Range(0, 60).Select(i => $"{i:00}"));
    }
}
