using Tanksophos.Core.Levels;

namespace Tanksophos.Web.Rigs;

/// <summary>Points from which an estimate can be resumed, each after so many entries of the log: denser towards its end, where most is written.</summary>
internal sealed class Checkpoints
{
    // Points kept of one rig.
    private const int MaxPoints = 16;

    private readonly List<(int Taken, IRunningEstimate Estimate)> points = [];

    /// <summary>The earliest point; null for none.</summary>
    public (int Taken, IRunningEstimate Estimate)? First => points.Count > 0 ? points[0] : null;

    /// <summary>The latest point; null for none.</summary>
    public (int Taken, IRunningEstimate Estimate)? Last => points.Count > 0 ? points[^1] : null;

    /// <summary>Keeps a point. The further back, the fewer: what is written down is seldom about long ago, and each point weighs.</summary>
    /// <param name="taken">Entries the estimate has seen.</param>
    /// <param name="estimate">It; a copy is kept.</param>
    public void Add(int taken, IRunningEstimate estimate)
    {
        points.Add((taken, estimate.Copy()));
        if (points.Count <= MaxPoints) return;
        for (var i = points.Count / 2; i >= 1; i -= 2) points.RemoveAt(i);
    }

    /// <summary>The latest point that fits; null for none.</summary>
    /// <param name="fits">Told after how many entries a point is.</param>
    public (int Taken, IRunningEstimate Estimate)? Latest(Func<int, bool> fits)
    {
        for (var i = points.Count - 1; i >= 0; i--) if (fits(points[i].Taken)) return points[i];
        return null;
    }

    /// <summary>Lets go of the points that have seen more of the log than stayed as it was.</summary>
    /// <param name="taken">Entries from the start that stayed.</param>
    /// <param name="keepFirst">Whether the earliest stays all the same: there is nothing to begin from before it.</param>
    public void DropAfter(int taken, bool keepFirst)
    {
        for (var i = points.Count - 1; i >= (keepFirst ? 1 : 0); i--) if (points[i].Taken > taken) points.RemoveAt(i);
    }

    /// <summary>Lets go of all.</summary>
    public void Clear() => points.Clear();
}
