using System.Globalization;
using System.Text;
using System.Text.Json;
using NodaTime;
using Tanksophos.Cli;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Hostile;

/// <summary>
/// Every reader there is, with good documents to spoil. A reader answers or refuses by path; it never throws, and what a command answers is JSON.
/// </summary>
public static class Readers
{
    private static readonly Instant Today = Instant.FromUtc(2026, 6, 9, 23, 30);

    /// <summary>A reader and a good document for it.</summary>
    /// <param name="Name">What it reads.</param>
    /// <param name="Good">A document it takes.</param>
    /// <param name="IsTable">Whether it is a table, not JSON.</param>
    /// <param name="Read">Reads a document; throws only if something is wrong with the reader.</param>
    public sealed record Reader(string Name, byte[] Good, bool IsTable, Action<byte[]> Read);

    /// <summary>All readers.</summary>
    public static IReadOnlyList<Reader> All()
    {
        var season = DemoSeason.Until(Today);
        var logbook = new Logbook(season.Rig, [.. season.Entries.TakeLast(60)]);
        var rig = season.Rig;
        var trip = Encoding.UTF8.GetBytes("""
            {"format":"tanksophos-trip","version":1,"rig":RIG,"rules":{"dumpBlackAt":0.66,"maxDays":10,"grayAtFullHookup":"bank","flush":"standard","treatment":"enzyme","overflowRisk":0.05},
             "start":{"at":"2026-06-05T09:00:00-06:00","levels":{"black":{"p05L":14,"p50L":16,"p95L":19}},"grayOpen":false,"freshL":150,"daysSinceBlackDump":1},
             "stops":[{"id":"s1","name":"Cinder Flat","zone":"America/Denver","arrive":"2026-06-05T15:00:00-06:00","depart":"2026-06-07T10:00:00-06:00","hookup":"dry","people":2,"driveHoursBefore":3.5,"highC":24},
                      {"id":"s2","name":"Alder Bend","zone":"America/Denver","arrive":"2026-06-07T16:00:00-06:00","depart":"2026-06-09T10:00:00-06:00","hookup":"full","people":2,"driveHoursBefore":3.0,"septic":true}]}
            """.Replace("RIG", Encoding.UTF8.GetString(RigCodec.Write(rig)), StringComparison.Ordinal));
        var scenario = """{"format":"tanksophos-scenario","version":1,"seed":7,"days":6,"rig":RIG,"faults":[{"tank":"black","probe":"low","state":"stuckOn","fromDay":2}]}"""u8.ToArray();
        scenario = Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(scenario)
            .Replace("RIG", Encoding.UTF8.GetString(RigCodec.Write(rig)), StringComparison.Ordinal));
        var dose = """{"capacityL":151.4,"treatment":"enzyme","highC":33,"days":9,"units":"us"}"""u8.ToArray();
        var entries = Encoding.UTF8.GetBytes("[" + string.Join(",", season.Entries.DistinctBy(e => e.Type)
            .Select(e => Encoding.UTF8.GetString(EntryCodec.Write(e)))) + "]");
        var taps = """{"taps":[{"key":"a","at":1780000000000,"step":"gloves","round":0,"press":"done","said":{"litres":"12.5","end":"clear","full":"low top"}}]}"""u8.ToArray();
        var itinerary = Encoding.UTF8.GetBytes("""{"format":"tanksophos-itinerary","version":1,"name":"Loop","stops":""" + JsonDocument.Parse(trip).RootElement.GetProperty("stops").GetRawText() + "}");
        var situation = Encoding.UTF8.GetBytes("""{"format":"tanksophos-situation","version":1,"logbook":""" + Encoding.UTF8.GetString(LogbookFormat.Write(logbook)) + ""","trip":{"stops":""" + JsonDocument.Parse(trip).RootElement.GetProperty("stops").GetRawText() + "}}");
        return
        [
            new("assess", LogbookFormat.Write(logbook), false, d => Answered(Commands.Assess(d, false))),
            new("validate", LogbookFormat.Write(logbook), false, d => Answered(Commands.Validate(d, false))),
            new("plan", trip, false, d => Answered(Commands.Plan(d, false))),
            new("simulate", scenario, false, d => Answered(Commands.Simulate(d, false))),
            new("agenda", situation, false, d => Answered(Commands.Agenda(d, false))),
            new("dose", dose, false, d => Answered(Commands.Dose(d, false))),
            new("entries", entries, false, d => Checked(EntryCodec.ReadSeveral(d, rig, 1000, Today))),
            new("rig", RigCodec.Write(rig), false, d => Checked(RigCodec.Read(d))),
            new("taps", taps, false, d => Checked(RunCodec.ReadTaps(d, 400))),
            new("itinerary", itinerary, false, d => Checked(ItineraryFormat.Read(d))),
            new("progress", """{"format":"tanksophos-progress","version":1,"seenUntil":1,"planned":[],"levels":{"black":[]},"done":[],"changes":[{"at":"2026-06-05T15:00:00-06:00","runs":[],"reasons":[]}]}"""u8.ToArray(), false, d => ItineraryFormat.ReadProgress(d)),
            new("import", LogbookFormat.Write(logbook), false, d => Checked(ImportDocument.Read(d, null, Today))),
            new("entries table", EntriesCsv.Write(season.Entries.TakeLast(40)), true, d => Checked(ImportDocument.Read(d, rig, Today))),
            new("readings table", ReadingsCsv.Write(season.Entries.TakeLast(200)), true, d => Checked(ImportDocument.Read(d, rig, Today))),
            new("command line", Lines(LogbookFormat.Write(logbook), dose), false, Lines),
        ];
    }

    /// <summary>Reads spoiled documents.</summary>
    /// <param name="from">Number of the first.</param>
    /// <param name="count">How many.</param>
    /// <param name="seed">Where the inputs begin.</param>
    /// <param name="readers">The readers.</param>
    /// <returns>What broke: reader, number and why; empty if nothing did.</returns>
    public static IReadOnlyList<string> Fuzz(int from, int count, ulong seed, IReadOnlyList<Reader> readers)
    {
        var broken = new System.Collections.Concurrent.ConcurrentBag<string>();
        Parallel.For(from, from + count, i =>
        {
            var reader = readers[i % readers.Count];
            var input = new HostileInput(seed * 1_000_003UL + (ulong)i);
            var spoiled = reader.IsTable ? input.SpoilTable(reader.Good) : input.Spoil(reader.Good);
            try
            {
                reader.Read(spoiled);
            }
            catch (Exception e) // whatever it is, it should not have been thrown
            {
                broken.Add(string.Create(CultureInfo.InvariantCulture,
                    $"{reader.Name} #{i}: {e.GetType().Name}: {e.Message} "
                    + $"{e.StackTrace?.Split('\n').FirstOrDefault(l => l.Contains("Tanksophos.C", StringComparison.Ordinal))?.Trim()}"));
            }
        });
        return [.. broken];
    }

    private static byte[] Lines(byte[] first, byte[] second) => [.. first, (byte)'\n', .. second, (byte)'\n'];

    // Whatever stands in one line, the line after it is answered.
    private static void Lines(byte[] input)
    {
        var dose = """{"capacityL":100,"treatment":"enzyme"}"""u8.ToArray();
        using var from = new MemoryStream([.. dose, (byte)'\n', .. input, (byte)'\n', .. dose, (byte)'\n']);
        using var to = new MemoryStream();
        Commands.Run(Commands.Dose, from, to, TextWriter.Null, false);
        var answers = Encoding.UTF8.GetString(to.ToArray()).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        if (answers.Length < 2) throw new InvalidOperationException("lines without an answer");
        if (answers[0].Contains("\"error\"", StringComparison.Ordinal) || answers[^1].Contains("\"error\"", StringComparison.Ordinal))
            throw new InvalidOperationException("a good line beside a bad one was not answered");
        foreach (var answer in answers) JsonDocument.Parse(answer).Dispose();
    }

    private static void Answered(Commands.Answer answer)
    {
        using var document = JsonDocument.Parse(answer.Line);
        if (answer.Failed != document.RootElement.TryGetProperty("error", out var error)) throw new InvalidOperationException("a failure without an error");
        if (answer.Failed && (error.GetProperty("message").GetString() ?? "").Contains("should not happen", StringComparison.Ordinal))
            throw new InvalidOperationException(error.GetProperty("message").GetString());
    }

    private static void Checked<T>(ReadResult<T> read) where T : class
    {
        if ((read.Value is null) == (read.Errors.Count == 0)) throw new InvalidOperationException("neither a value nor an error");
    }
}
