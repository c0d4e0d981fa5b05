using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>What case is asked for.</summary>
/// <param name="Seed">The seed.</param>
/// <param name="Topic">The topic.</param>
/// <param name="Difficulty">1 to 3.</param>
public sealed record PracticeRequest(long Seed, PracticeTopic Topic, int Difficulty);

/// <summary>The practice document, and the case that is made from it.</summary>
public static class PracticeFormat
{
    /// <summary>The request's <c>format</c> word.</summary>
    public const string Name = "tanksophos-practice";

    /// <summary>The case's.</summary>
    public const string CaseName = "tanksophos-case";

    // What every program reads as the same whole number.
    private const double LargestSeed = 9e15;

    /// <summary>Reads a request. Everything wrong in it is listed with its path.</summary>
    /// <param name="utf8">JSON in UTF-8.</param>
    public static ReadResult<PracticeRequest> Read(ReadOnlyMemory<byte> utf8) => Json.Read(utf8, (root, _) =>
        Documents.CheckHead(root, Name) ? ReadBody(root) : null);

    internal static PracticeRequest? ReadBody(ObjectReader root)
    {
        var seed = root.Number("seed", -LargestSeed, LargestSeed, required: true);
        if (seed is { } number && number != Math.Floor(number)) root.Error("seed", "a whole number is accepted");
        var topic = root.Code<PracticeTopic>("topic", required: true);
        var difficulty = root.Whole("difficulty", PracticeCase.Easiest, PracticeCase.Hardest) ?? PracticeCase.Easiest;
        root.Done();
        return seed is null || topic is null ? null : new PracticeRequest((long)seed.Value, topic.Value, difficulty);
    }

    /// <summary>Writes a case: what the learner sees, and on wish what is hidden.</summary>
    /// <param name="case">The case.</param>
    /// <param name="words">Sentences.</param>
    /// <param name="truth">Whether what is hidden is written too.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(PracticeCase @case, IDocumentWords words, bool truth = false, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(@case);
        ArgumentNullException.ThrowIfNull(words);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", CaseName);
            w.WriteNumber("version", 1);
            w.WriteNumber("seed", @case.Seed);
            w.WriteString("topic", Codes<PracticeTopic>.Word(@case.Topic));
            w.WriteNumber("difficulty", @case.Difficulty);
            w.WriteStartObject("logbook");
            LogbookFormat.WriteFields(w, @case.Logbook);
            w.WriteEndObject();
            w.WriteString("question", words.Question(@case));
            w.WriteStartArray("choices");
            foreach (var choice in @case.Choices)
            {
                w.WriteStartObject();
                w.WriteString("id", Codes<CaseAnswer>.Word(choice));
                w.WriteString("text", words.Say(choice, @case.Topic));
                w.WriteEndObject();
            }
            w.WriteEndArray();
            w.WriteStartArray("evidence");
            foreach (var evidence in @case.Evidence)
            {
                w.WriteStartObject();
                w.WriteString("id", Codes<EvidenceCode>.Word(evidence.Code));
                w.WriteString("text", words.Say(evidence));
                w.Computed("minutes", evidence.Minutes);
                w.Computed("waterL", evidence.WaterL);
                w.WriteEndObject();
            }
            w.WriteEndArray();
            if (truth) Truth(w, @case.Truth);
            w.WriteEndObject();
        }, pretty);
    }

    private static void Truth(System.Text.Json.Utf8JsonWriter w, CaseTruth truth)
    {
        w.WriteStartObject("truth");
        w.WriteString("answer", Codes<CaseAnswer>.Word(truth.Answer));
        w.WriteStartObject("levels");
        foreach (var (tank, litres) in truth.LevelsL) w.Computed(tank, litres);
        w.WriteEndObject();
        w.WriteStartObject("probes");
        foreach (var (tank, probes) in truth.Probes)
        {
            w.WriteStartObject(tank);
            foreach (var (probe, state) in probes) w.WriteString(probe, ScenarioFormat.Word(state));
            w.WriteEndObject();
        }
        w.WriteEndObject();
        w.WriteStartArray("best");
        foreach (var code in truth.Best) w.WriteStringValue(Codes<EvidenceCode>.Word(code));
        w.WriteEndArray();
        w.WriteEndObject();
    }
}
