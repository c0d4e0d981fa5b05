using Tanksophos.Core.Agendas;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Formats;

/// <summary>The sentences that documents carry beside their codes. The core writes none of its own.</summary>
public interface IDocumentWords
{
    /// <summary>Why an action is planned.</summary>
    /// <param name="action">The action.</param>
    string Why(PlanAction action);

    /// <summary>Why a dump run is refused.</summary>
    /// <param name="why">The reason.</param>
    string Why(Dumping.RunRefusal why);

    /// <summary>A step of a dump run: what to do, and what can hurt; null for nothing.</summary>
    /// <param name="script">The run.</param>
    /// <param name="step">The step.</param>
    /// <param name="rig">The rig.</param>
    (string Text, string? Caution) Say(Dumping.RunScript script, Dumping.RunStep step, Rigs.Rig rig);

    /// <summary>Why an item is on the agenda.</summary>
    /// <param name="item">The item.</param>
    /// <param name="situation">What was heard.</param>
    string Why(AgendaItem item, Situation situation);

    /// <summary>Why something must wait.</summary>
    /// <param name="held">What is held back.</param>
    /// <param name="situation">What was heard.</param>
    string Why(AgendaHeld held, Situation situation);

    /// <summary>Why a chore is due when it is.</summary>
    /// <param name="chore">The chore.</param>
    /// <param name="logbook">The log.</param>
    /// <param name="belief">What is believed of it.</param>
    string Why(Care.CareItem chore, Log.Logbook logbook, LevelBelief belief);

    /// <summary>What a check of a sensor would tell.</summary>
    /// <param name="check">The check.</param>
    /// <param name="belief">What is believed.</param>
    string Why(NextCheck check, LevelBelief belief);

    /// <summary>What a check of a cause would tell.</summary>
    /// <param name="check">The check.</param>
    /// <param name="belief">What is believed.</param>
    string Why(CauseCheck check, LevelBelief belief);

    /// <summary>A line of a dose.</summary>
    /// <param name="line">The line.</param>
    /// <param name="units">Measures.</param>
    string Say(DoseLine line, KitchenUnits units);

    /// <summary>What a practice case asks.</summary>
    /// <param name="case">The case.</param>
    string Question(Practice.PracticeCase @case);

    /// <summary>An answer to a practice case.</summary>
    /// <param name="answer">The answer.</param>
    /// <param name="topic">What the case is about.</param>
    string Say(Practice.CaseAnswer answer, Practice.PracticeTopic topic);

    /// <summary>A check that a practice case offers.</summary>
    /// <param name="evidence">The check.</param>
    string Say(Practice.Evidence evidence);
}
