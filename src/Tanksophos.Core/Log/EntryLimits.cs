namespace Tanksophos.Core.Log;

/// <summary>The bounds of what an entry may say. Forms, documents, runs and the database all keep to them; more cannot be meant.</summary>
internal static class EntryLimits
{
    /// <summary>Longest note in characters.</summary>
    public const int LongestNote = 4000;

    /// <summary>Longest name of a drain in characters.</summary>
    public const int LongestFixture = 60;

    /// <summary>Largest volume in litres.</summary>
    public const double MaxLitres = 100_000;

    /// <summary>Most people aboard.</summary>
    public const int MaxPeople = 100;

    /// <summary>Longest drain in minutes: a day.</summary>
    public const double MaxDrainMinutes = 1440;

    /// <summary>Longest rinse cycle in seconds: a day.</summary>
    public const double MaxCycleSeconds = 86_400;

    /// <summary>Longest drive in hours.</summary>
    public const double MaxDriveHours = 240;
}
