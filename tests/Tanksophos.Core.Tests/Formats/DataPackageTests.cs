using System.Text;
using System.Text.Json.Nodes;
using CsvHelper;
using CsvHelper.Configuration;
using Json.Schema;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Tests.Formats;

public sealed class DataPackageTests
{
    [Fact]
    public void Every_line_of_every_table_fits_its_schema()
    {
        var season = DemoSeason.Until(Instant.FromUtc(2026, 6, 9, 18, 0));
        var logbook = new Logbook(season.Rig, season.Entries);
        var belief = new JointEstimator().Estimate(logbook);
        var hour = new PackagedHour("panel-1", "galley", Instant.FromUtc(2026, 6, 9, 17, 0), 40, 41.5, 43);
        var files = DataPackage.Files(logbook, belief, [], [hour]).ToDictionary(f => f.Name, f => f.Content);
        files.Keys.ShouldContain("README.txt");
        var tables = files.Keys.Where(k => k.EndsWith(".csv", StringComparison.Ordinal)).ToList();
        tables.Count.ShouldBe(4);
        foreach (var table in tables)
        {
            var name = table[..^4];
            var schema = JsonSchema.FromText(Encoding.UTF8.GetString(files[$"schema/{name}.schema.json"]));
            var columns = JsonNode.Parse(files[$"schema/{name}.schema.json"])!["properties"]!.AsObject();
            using var csv = new CsvReader(new StringReader(Encoding.UTF8.GetString(files[table])),
                new CsvConfiguration(System.Globalization.CultureInfo.InvariantCulture));
            csv.Read();
            csv.ReadHeader();
            csv.HeaderRecord.ShouldBe(columns.Select(c => c.Key));
            var lines = 0;
            while (csv.Read())
            {
                lines++;
                var line = new JsonObject();
                foreach (var column in csv.HeaderRecord!.Where(c => csv[c]!.Length > 0))
                    line[column] = columns[column]!["type"]!.GetValue<string>() == "number" ? JsonValue.Create(double.Parse(csv[column]!,
                        System.Globalization.CultureInfo.InvariantCulture)) : JsonValue.Create(csv[column]);
                schema.Evaluate(System.Text.Json.JsonSerializer.SerializeToElement(line)).IsValid.ShouldBeTrue($"{table}: {line.ToJsonString()}");
            }
            lines.ShouldBe(name switch { "entries" => season.Entries.Count, "tanks" => season.Rig.Tanks.Count, "measurements" => 1, _ => 0 }, table);
        }
    }
}
