using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Tanksophos.Cli;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Trips;
using Tanksophos.Hostile;
using Tanksophos.Words;

namespace Tanksophos.Core.Tests.Hostile;

/// <summary>Inputs made to break readers. The long runs are in the bench: <c>-- fuzz MINUTES</c>.</summary>
public class HostileInputTests
{
    [Fact]
    public void Every_reader_answers_or_refuses_by_path_whatever_it_is_given()
    {
        var readers = Readers.All();
        foreach (var reader in readers) reader.Read(reader.Good);
        Readers.Fuzz(0, 2000, 16, readers).ShouldBeEmpty();
    }

    [Theory]
    [InlineData("{\"\\ud800\":1}", "")]
    [InlineData("{\"format\":\"\\ud800\"}", "format")]
    [InlineData("{\"rig\":{\"tanks\":[{},{\"id\":\"a\\udc00\"}]}}", "rig.tanks[1].id")]
    [InlineData("{\"a\":[1,[2,{\"b\":\"\\ud800\"}]]}", "a[1][1].b")]
    public void Half_a_character_is_refused_by_its_path(string document, string path)
    {
        var read = Documents.Validate(Encoding.UTF8.GetBytes(document));
        read.Errors[0].Path.ShouldBe(path);
        read.Errors[0].Message.ShouldContain("Unicode");
    }

    [Fact]
    public void A_bad_line_leaves_the_others_their_answers()
    {
        const string Good = """{"capacityL":151.4,"treatment":"enzyme"}""";
        using var input = new MemoryStream(Encoding.UTF8.GetBytes($"{Good}\n{{\"\\ud800\":1}}\n{new string('[', 5000)}\n{Good}\n"));
        using var output = new MemoryStream();
        Commands.Run(Commands.Dose, input, output, TextWriter.Null, pretty: false).ShouldBe(1);
        var lines = Encoding.UTF8.GetString(output.ToArray()).Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(l => JsonDocument.Parse(l).RootElement.TryGetProperty("error", out _)).ToList();
        lines.ShouldBe([false, true, true, false]);
    }

    [Fact]
    public void An_id_that_stands_twice_in_a_list_is_refused_by_its_path()
    {
        const string Entry = """{"id":"a","at":"2026-05-09T18:00:00-06:00","type":"people","count":2}""";
        var read = EntryCodec.ReadSeveral(Encoding.UTF8.GetBytes($"[{Entry},{Entry}]"), Given.Rig(), 10);
        read.Errors.ShouldHaveSingleItem().Path.ShouldBe("entries[1].id");
    }

    [Theory]
    [InlineData("0")]
    [InlineData("1e-300")]
    [InlineData("0.4")]
    public void A_flow_that_is_none_is_not_planned_with(string flow)
    {
        var trip = JsonNode.Parse(Readers.All().First(r => r.Name == "plan").Good)!;
        var equipment = trip["rig"]!["equipment"]!.AsObject();
        string Planned(JsonNode? stated)
        {
            equipment["flushInletLPerMin"] = stated;
            return Encoding.UTF8.GetString(PlanFormat.Write(Planner.Make(TripFormat.Read(Encoding.UTF8.GetBytes(trip.ToJsonString())).Value!),
                DocumentWords.English));
        }
        Planned(JsonNode.Parse(flow)).ShouldBe(Planned(null));
    }
}
