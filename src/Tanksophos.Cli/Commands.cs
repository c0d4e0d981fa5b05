using System.Text.Encodings.Web;
using System.Text.Json;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Simulation;
using Tanksophos.Core.Trips;
using Tanksophos.Words;

namespace Tanksophos.Cli;

/// <summary>The commands: a document in, a result out, errors in the result's place.</summary>
public static class Commands
{
    /// <summary>What one document gives: its line, and whether it is an error.</summary>
    public readonly record struct Answer(byte[] Line, bool Failed);

    /// <summary>Checks a document of any readable format.</summary>
    public static Answer Validate(ReadOnlyMemory<byte> document, bool pretty)
    {
        var result = Documents.Validate(document);
        return result.Ok ? new Answer(Write(w =>
        {
            w.WriteStartObject();
            w.WriteBoolean("valid", true);
            w.WriteString("format", result.Value);
            w.WriteStartArray("warnings");
            foreach (var warning in result.Warnings) w.WriteStringValue(warning.ToString());
            w.WriteEndArray();
            w.WriteEndObject();
        }, pretty), false) : Error(result.Errors, pretty);
    }

    /// <summary>Assesses a logbook.</summary>
    public static Answer Assess(ReadOnlyMemory<byte> document, bool pretty)
    {
        var logbook = LogbookFormat.Read(document);
        return logbook.Ok ? new Answer(AssessmentFormat.Write(logbook.Value!, new JointEstimator(), DocumentWords.English, pretty), false)
            : Error(logbook.Errors, pretty);
    }

    /// <summary>Decides what to do, from a situation or a logbook.</summary>
    public static Answer Agenda(ReadOnlyMemory<byte> document, bool pretty)
    {
        var situation = AgendaFormat.Read(document);
        return situation.Ok ? new Answer(AgendaFormat.Write(situation.Value!, new JointEstimator(), DocumentWords.English, pretty), false)
            : Error(situation.Errors, pretty);
    }

    /// <summary>Plans a trip.</summary>
    public static Answer Plan(ReadOnlyMemory<byte> document, bool pretty)
    {
        var trip = TripFormat.Read(document);
        return trip.Ok ? new Answer(PlanFormat.Write(Planner.Make(trip.Value!), DocumentWords.English, pretty), false) : Error(trip.Errors, pretty);
    }

    /// <summary>Builds a dump run.</summary>
    public static Answer DumpRun(ReadOnlyMemory<byte> document, bool pretty)
    {
        var asked = RunFormat.Read(document);
        return asked.Ok ? new Answer(RunFormat.Write(asked.Value!, new JointEstimator(), DocumentWords.English, pretty), false) : Error(asked.Errors, pretty);
    }

    /// <summary>Computes a dose.</summary>
    public static Answer Dose(ReadOnlyMemory<byte> document, bool pretty)
    {
        var dose = DoseFormat.Compute(document);
        return dose.Ok ? new Answer(DoseFormat.Write(dose.Value!, DocumentWords.English, pretty), false) : Error(dose.Errors, pretty);
    }

    /// <summary>Plays a scenario: the log its crew wrote, and the truth beside it.</summary>
    public static Answer Simulate(ReadOnlyMemory<byte> document, bool pretty)
    {
        var scenario = ScenarioFormat.Read(document);
        return scenario.Ok ? new Answer(ScenarioFormat.WriteSeason(SimulatedSeason.Simulate(scenario.Value!), pretty), false) : Error(scenario.Errors, pretty);
    }

    /// <summary>Makes a practice case, as the learner sees it.</summary>
    public static Answer Practice(ReadOnlyMemory<byte> document, bool pretty) => Practice(document, pretty, truth: false);

    /// <summary>Makes a practice case, with what is hidden in it.</summary>
    public static Answer PracticeTruth(ReadOnlyMemory<byte> document, bool pretty) => Practice(document, pretty, truth: true);

    private static Answer Practice(ReadOnlyMemory<byte> document, bool pretty, bool truth)
    {
        var asked = PracticeFormat.Read(document);
        return asked.Ok ? new Answer(PracticeFormat.Write(CaseMaker.Make(asked.Value!.Seed, asked.Value.Topic, asked.Value.Difficulty), DocumentWords.English,
            truth, pretty), false) : Error(asked.Errors, pretty);
    }

    /// <summary>Runs a command over all documents of an input, in parallel, and writes the answers in the order of the documents.</summary>
    /// <param name="command">The command.</param>
    /// <param name="input">The documents.</param>
    /// <param name="output">Where the answers go.</param>
    /// <param name="errors">Where it is said that there was no document.</param>
    /// <param name="pretty">Whether JSON is indented.</param>
    /// <param name="tables">Writes answers for a person; null for JSON.</param>
    /// <returns>0, or 1 if any document failed or there was none.</returns>
    public static int Run(Func<ReadOnlyMemory<byte>, bool, Answer> command, Stream input, Stream output, TextWriter errors, bool pretty,
        Tables? tables = null)
    {
        ArgumentNullException.ThrowIfNull(command);
        ArgumentNullException.ThrowIfNull(input);
        ArgumentNullException.ThrowIfNull(output);
        ArgumentNullException.ThrowIfNull(errors);
        using var buffer = new MemoryStream();
        input.CopyTo(buffer);
        var documents = InputDocuments.Split(buffer.GetBuffer().AsMemory(0, (int)buffer.Length));
        if (documents.Count == 0)
        {
            errors.WriteLine("Nothing on standard input: give one JSON document, or several, one per line.");
            return 1;
        }
        var failed = false;
        foreach (var answer in documents.AsParallel().AsOrdered().WithMergeOptions(ParallelMergeOptions.NotBuffered).Select(d => Answered(command, d, pretty)))
        {
            failed |= answer.Failed;
            output.Write(tables is null ? answer.Line : System.Text.Encoding.UTF8.GetBytes(tables.Render(answer.Line).TrimEnd()));
            output.WriteByte((byte)'\n');
        }
        output.Flush();
        return failed ? 1 : 0;
    }

    // Whatever a document brings about, the others are answered.
    private static Answer Answered(Func<ReadOnlyMemory<byte>, bool, Answer> command, ReadOnlyMemory<byte> document, bool pretty)
    {
        try
        {
            return command(document, pretty);
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            return Error([new Problem("", $"this document cannot be computed, which should not happen: {e.Message}")], pretty);
        }
    }

    private static Answer Error(IReadOnlyList<Problem> errors, bool pretty) => new(Write(w =>
    {
        w.WriteStartObject();
        w.WriteStartObject("error");
        w.WriteString("path", errors[0].Path);
        w.WriteString("message", errors[0].Message);
        w.WriteEndObject();
        w.WriteEndObject();
    }, pretty), true);

    private static byte[] Write(Action<Utf8JsonWriter> write, bool pretty)
    {
        using var stream = new MemoryStream();
        using (var writer = new Utf8JsonWriter(stream,
            new JsonWriterOptions { Indented = pretty, NewLine = "\n", Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping })) write(writer);
        return stream.ToArray();
    }
}
