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
        List<RemedyAction> right = [.. Ladder(@case).Distinct().Take(Steps)];
        if (right.Count < Steps) return null;
        var random = new SeededRandom(@case.Seed ^ 0x0DDE);
        List<RemedyAction> offered = [.. right];
        // Never in the right order already.
        for (var i = offered.Count - 1; i > 0; i--)
        {
            var j = (int)(random.Uniform() * i);
            (offered[i], offered[j]) = (offered[j], offered[i]);
        }
        return new CaseOrder(right, offered);
    }

    // What is wrong in a case bears the name that the diagnosis gives it.
    private static RemedyAction[] Ladder(PracticeCase @case)
    {
        var (name, rig) = (@case.Truth.Answer.ToString(), @case.Logbook.Rig);
        return @case.Topic switch
        {
            PracticeTopic.Smells when Enum.TryParse<OdorCause>(name, out var cause) => CauseLadder.Ladder(cause, rig),
            PracticeTopic.Clogs when Enum.TryParse<Condition>(name, out var condition) => CauseLadder.Ladder(condition, rig),
            _ => [],
        };
    }

    /// <summary>How many of the steps stand at their place.</summary>
    /// <param name="said">The steps in the order that was chosen.</param>
    public int InPlace(IReadOnlyList<RemedyAction> said)
    {
        ArgumentNullException.ThrowIfNull(said);
        return said.Zip(Right).Count(p => p.First == p.Second);
    }
}
