namespace Tanksophos.Core.Log;

/// <summary>Alarms that stand until they are cleared.</summary>
public static class SafetyAlarms
{
    /// <summary>
    /// The propane alarm that stands, or null. An alarm stands until a <see cref="CheckCode.PropaneRuledOut"/> pass later than it;
    /// a fail resolves nothing and a new alarm stands anew.
    /// </summary>
    /// <param name="inOrder">Entries in the order of time.</param>
    public static SymptomEntry? Propane(IReadOnlyList<LogEntry> inOrder)
    {
        ArgumentNullException.ThrowIfNull(inOrder);
        SymptomEntry? standing = null;
        foreach (var entry in inOrder)
        {
            if (entry is SymptomEntry { Code: SymptomCode.PropaneAlarm } alarm) standing = alarm;
            else if (entry is CheckEntry { Code: CheckCode.PropaneRuledOut, Result: CheckResult.Pass } clear && standing is not null && clear.Instant > standing.Instant) standing = null;
        }
        return standing;
    }
}
