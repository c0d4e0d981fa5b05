using Tanksophos.Core.Diagnosis;

namespace Tanksophos.Core.Practice;

/// <summary>What to do next once the cause of a case is known, to be put in order: the gentlest first, as the ladders of the diagnosis have it.</summary>
/// <param name="Right">The steps in their right order.</param>
/// <param name="Offered">The same as they are offered.</param>
public sealed record CaseOrder(IReadOnlyList<RemedyAction> Right, IReadOnlyList<RemedyAction> Offered)
{
    /// <summary>Steps of an order.</summary>
    public const int Steps = 3;

    /// <summary>The order that belongs to a case; null where one step is all there is.</summary>
    public static CaseOrder? Of(PracticeCase @case)
    {
        ArgumentNullException.ThrowIfNull(@case);
        var right = CauseLadder.FirstRungs(@case.Truth.Answer.ToString(), @case.Topic == PracticeTopic.Smells, @case.Logbook.Rig, Steps);
        if (right.Count < Steps) return null;
        var random = new SeededRandom(@case.Seed ^ 0x0DDE);
        var offered = right.ToList();
        // Never in the right order already.
        for (var i = offered.Count - 1; i > 0; i--)
        {
            var j = (int)(random.Uniform() * i);
            (offered[i], offered[j]) = (offered[j], offered[i]);
        }
        return new CaseOrder(right, offered);
    }

    /// <summary>How many of the steps stand at their place.</summary>
    /// <param name="said">The steps in the order that was chosen.</param>
    public int InPlace(IReadOnlyList<RemedyAction> said)
    {
        ArgumentNullException.ThrowIfNull(said);
        return said.Zip(Right).Count(p => p.First == p.Second);
    }
}
