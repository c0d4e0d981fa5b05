using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Care;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;

namespace Tanksophos.Words;

/// <summary>The sentences of documents, in plain American English.</summary>
public sealed class DocumentWords : IDocumentWords
{
    private DocumentWords()
    {
    }

    /// <summary>They have no state.</summary>
    public static DocumentWords English { get; } = new();

    /// <inheritdoc/>
    public string Why(PlanAction action) => PlanWords.Why(action);

    /// <inheritdoc/>
    public string Why(RunRefusal why) => RunWords.Refusal(why);

    /// <inheritdoc/>
    public (string Text, string? Caution) Say(RunScript script, RunStep step, Rig rig)
    {
        var said = new RunWords(rig, Units.Us).Of(script, step);
        return ($"{said.Title}. {string.Join(" ", said.Lines)}", said.Caution);
    }

    /// <inheritdoc/>
    public string Why(AgendaItem item, Situation situation)
    {
        ArgumentNullException.ThrowIfNull(situation);
        return item.CareItem is { } chore ? new CareWords(situation.Logbook.Rig, Times(situation.Belief), Units.Us).Why(chore)
            : new AgendaWords(situation.Logbook.Rig).Why(item);
    }

    /// <inheritdoc/>
    public string Why(AgendaHeld held, Situation situation)
    {
        ArgumentNullException.ThrowIfNull(situation);
        return new AgendaWords(situation.Logbook.Rig).Why(held);
    }

    /// <inheritdoc/>
    public string Why(CareItem chore, Core.Log.Logbook logbook, LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        return new CareWords(logbook.Rig, Times(belief), Units.Us).Why(chore);
    }

    private static TimeWords Times(LevelBelief belief) => new(belief.AsOf?.ToInstant() ?? NodaConstants.UnixEpoch, belief.InForce.Zone);

    /// <inheritdoc/>
    public string Why(NextCheck check, LevelBelief belief) => CheckWords.Why(check, belief);

    /// <inheritdoc/>
    public string Why(CauseCheck check, LevelBelief belief) => CheckWords.Why(check, belief);

    /// <inheritdoc/>
    public string Say(DoseLine line, KitchenUnits units) => DoseWords.Of(line, units);

    /// <inheritdoc/>
    public string Question(Core.Practice.PracticeCase @case) => PracticeWords.Question(@case);

    /// <inheritdoc/>
    public string Say(Core.Practice.CaseAnswer answer, Core.Practice.PracticeTopic topic) => PracticeWords.Answer(answer, topic);

    /// <inheritdoc/>
    public string Say(Core.Practice.Evidence evidence) => new PracticeWords(Units.Us).Evidence(evidence);
}
