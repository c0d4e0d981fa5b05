using System.Text.Json;
using System.Text.Json.Nodes;
using CsCheck;
using Json.Schema;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Core.Tests.Formats;

/// <summary>The schemas and the format page say what the program does.</summary>
public class SchemaTests
{
    private static string FileText(string name) => File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "format", name));

    private static readonly Dictionary<string, JsonSchema> Schemas = new[] { "logbook", "trip", "plan", "scenario", "assessment", "agenda", "practice", "case" }
        .ToDictionary(n => n, n => JsonSchema.FromText(FileText(n + ".schema.json")));

    private static bool Fits(string schema, ReadOnlySpan<byte> document) => Schemas[schema]
        .Evaluate(JsonDocument.Parse(document.ToArray()).RootElement).IsValid;

    [Fact]
    public void Any_logbook_and_its_assessment_fit_their_schemas()
    {
        Generated.Logbooks.Sample(book =>
        {
            Fits("logbook", LogbookFormat.Write(book)).ShouldBeTrue();
        }, iter: 100);
        Generated.Logbooks.Sample(book =>
            Fits("assessment", AssessmentFormat.Write(book, new JointEstimator(), DocumentWords.English)), iter: 30);
        Fits("assessment", AssessmentFormat.Write(Given.Book(Given.Rig(), Given.At(3), Given.Dump(Given.At(0)), Given.Lamps(Given.At(2), "low")),
            new JointEstimator(), DocumentWords.English)).ShouldBeTrue();
    }

    [Fact]
    public void Any_agenda_fits_its_schema() =>
        Generated.Logbooks.Sample(book =>
        Fits("agenda", AgendaFormat.Write(new SituationDocument(book, null), new JointEstimator(), DocumentWords.English)), iter: 60);

    [Theory]
    [InlineData(0.05)]
    [InlineData(0.0)]
    public void A_plan_fits_its_schema_and_a_written_trip_fits_its_own(double risk)
    {
        var trip = TripFormat.Read(File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "examples", "trip.json"))).Value!;
        trip = trip with { Rules = trip.Rules with { OverflowRisk = risk } };
        Fits("plan", PlanFormat.Write(Tanksophos.Core.Trips.Planner.Make(trip), DocumentWords.English)).ShouldBeTrue();
        Fits("trip", TripFormat.Write(trip)).ShouldBeTrue();
    }

    [Theory]
    [InlineData("logbook", "logbook.json")]
    [InlineData("trip", "trip.json")]
    public void The_examples_fit(string schema, string example) => Fits(schema, File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "examples", example)))
        .ShouldBeTrue();

    [Theory]
    [InlineData("\"type\":\"people\",\"count\":-1")]
    [InlineData("\"type\":\"song\"")]
    [InlineData("\"type\":\"dump\"")]
    [InlineData("\"type\":\"stay\",\"hookup\":\"dump-station\"")]
    [InlineData("\"type\":\"drive\",\"hours\":\"two\"")]
    [InlineData("\"type\":\"water\",\"tank\":\"black\",\"waterL\":3,\"purpose\":\"tea\"")]
    public void What_the_program_refuses_the_schema_refuses(string fields)
    {
        var document = Given.Utf8(Given.Document($"{{\"at\":\"2026-05-09T18:00:00Z\",{fields}}}"));
        LogbookFormat.Read(document).Errors.ShouldNotBeEmpty();
        Fits("logbook", document).ShouldBeFalse();
    }

    [Fact]
    public void The_schema_lists_every_code_there_is()
    {
        var defs = JsonNode.Parse(FileText("logbook.schema.json"))!["$defs"]!;
        void Same<T>(string path) where T : struct, Enum => path.Split('/').Aggregate(defs, (n, p) => n[p]!)["enum"]!.AsArray()
            .Select(v => v!.GetValue<string>()).ShouldBe(Codes<T>.All, path);
        JsonNode.Parse(FileText("agenda.schema.json"))!["$defs"]!["code"]!["enum"]!.AsArray()
            .Select(v => v!.GetValue<string>()).ShouldBe(Codes<Tanksophos.Core.Agendas.AgendaCode>.All);
        Same<Hookup>("stay/properties/hookup");
        Same<ValveState>("valve/properties/state");
        Same<ReadingVia>("reading/properties/via");
        Same<DumpFlow>("dump/properties/flow");
        Same<EndColor>("dump/properties/end");
        Same<Debris>("dump/properties/debris");
        Same<FlushMethod>("flush/properties/method");
        Same<WaterPurpose>("water/properties/purpose");
        Same<DoseRecipe>("dose/properties/recipe");
        Same<OdorPlace>("odor/properties/where");
        Same<Smell>("odor/properties/smell");
        Same<OdorWhen>("odor/properties/when/items");
        Same<SymptomCode>("symptom/properties/code");
        Same<CheckCode>("check/properties/code");
        Same<CheckResult>("check/properties/result");
        Same<ServiceCode>("service/properties/code");
        Same<Grade>("service/properties/grade");
        Same<ChoreResult>("chore/properties/result");
        Same<ChoreSeason>("ownChore/properties/season");
        Same<TankRole>("tank/properties/role");
        Same<GrayAtFullHookup>("rules/properties/grayAtFullHookup");
        Same<FlushProgramme>("rules/properties/flush");
        Same<TreatmentSchool>("rules/properties/treatment");
        Same<BleachRule>("rules/properties/bleach");
        Same<PaperRule>("rules/properties/paper");
        Same<StorageRule>("rules/properties/storage");
        Same<DeepCleanRule>("rules/properties/deepClean");
        JsonNode.Parse(FileText("logbook.schema.json"))!["$defs"]!["entry"]!["oneOf"]!.AsArray().Count.ShouldBe(EntryTypes.All.Count);
    }

    /// <summary>Each line of the table of errors: an entry as it stands in a document, the path, and the words that the program answers.</summary>
    public static TheoryData<string, string, string> Errors()
    {
        var data = new TheoryData<string, string, string>();
        foreach (var line in FileText("README.md").Split('\n').Where(l => l.StartsWith("| `{", StringComparison.Ordinal)))
        {
            var cells = line.Trim('|', ' ').Split(" | ");
            data.Add(cells[0].Trim('`', ' '), cells[1].Trim('`', ' '), cells[2].Trim('`', ' '));
        }
        return data;
    }

    [Theory]
    [MemberData(nameof(Errors))]
    public void The_format_page_quotes_the_messages_as_they_are(string entry, string path, string message)
    {
        var read = LogbookFormat.Read(Given.Utf8(Given.Document(entry)));
        read.Errors.Select(e => (e.Path, e.Message)).ShouldContain((path, message));
    }

    [Fact]
    public void The_format_page_has_a_table_of_errors() => Errors().Count.ShouldBeGreaterThan(10);
}
