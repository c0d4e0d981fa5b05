using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

/// <summary>Words for what a rig is made of.</summary>
public static class RigWords
{
    /// <summary>The drains that usually feed a tank, by the words that rigs are described with.</summary>
    /// <param name="role">What the tank holds.</param>
    public static IReadOnlyList<string> UsualDrains(TankRole role) =>
        role == TankRole.Black ? ["toilet", "bath-sink"] : ["galley-sink", "bath-sink", "shower", "second-bath", "outside-kitchen", "washer"];

    /// <summary>A drain's name for people: "Galley sink".</summary>
    /// <param name="drain">The rig's word for it.</param>
    public static string Drain(string drain)
    {
        ArgumentNullException.ThrowIfNull(drain);
        return TimeWords.Capital(drain.Replace('-', ' ').Trim());
    }
}
