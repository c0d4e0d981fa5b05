using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Care;

/// <summary>Chores of other wet systems that can be taken over as they are; the rhythms are practitioners'.</summary>
public static class ReadyMade
{
    /// <summary>Times a year that a water heater is flushed by those who live aboard, and by the others.</summary>
    public const int HeaterLivedIn = 4, Heater = 2;

    /// <summary>Their ids, each once on a rig; the words are the program's.</summary>
    public static IReadOnlyList<OwnChore> Of(bool livedIn, Func<string, (string Name, IReadOnlyList<string> Steps)> words)
    {
        ArgumentNullException.ThrowIfNull(words);
        OwnChore Make(string id, Func<OwnChore, OwnChore> rhythm)
        {
            var (name, steps) = words(id);
            return rhythm(new OwnChore(id, name) { Steps = steps });
        }
        return
        [
            Make(WaterHeater, c => c with { TimesAYear = livedIn ? HeaterLivedIn : Heater, Minutes = 40 }),
            Make(FreshTank, c => c with { TimesAYear = 2, Minutes = 90 }),
            Make(WaterFilter, c => c with { EveryMonths = 6, Minutes = 10 }),
            Make(RoofSeals, c => c with { TimesAYear = 2, Minutes = 30 }),
        ];
    }

#pragma warning disable CS1591 // each is its own word
    public const string WaterHeater = "water-heater-flush", FreshTank = "fresh-tank-sanitize", WaterFilter = "water-filter", RoofSeals = "roof-seals";
#pragma warning restore CS1591
}
