using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

/// <summary>Doubts about the log, in words.</summary>
/// <param name="units">Measures.</param>
/// <param name="times">Times.</param>
/// <param name="rig">The rig.</param>
public sealed class MendWords(Units units, TimeWords times, Rig rig)
{
    /// <summary>How many there are.</summary>
    public static string Count(int count) => count switch { 0 => "", 1 => "1 question", _ => $"{count} questions" };

    /// <summary>Said where there are none.</summary>
    public string Nothing => $"Everything logged for {rig.Name} fits together.";

    /// <summary>What the page is for.</summary>
    public static string Intro => "These don't match the rest of the log. Nothing changes until you say so. The levels already allow for both answers.";

    /// <summary>The question, for one tank or for those of one run.</summary>
    public string Question(IReadOnlyList<LogDoubt> run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var doubt = run[0];
        var misfit = doubt.Misfit;
        var names = EntryWords.And([.. run.Select(d => TimeWords.Lower(d.Tank.Name))]);
        return misfit.Kind switch
        {
            InconsistencyKind.UnloggedEmptying => $"Looks like you dumped {names} between {Between(misfit)}. Did you?",
            InconsistencyKind.WrongLamp =>
                $"Was the {misfit.Probe?.Label} light on {TimeWords.Lower(doubt.Tank.Name)} really {(Lit(doubt) ? "off" : "on")} {At(misfit)}?",
            InconsistencyKind.WrongHour => $"Is the hour right for {TimeWords.Lower(doubt.Tank.Name)} {At(misfit)}?",
            InconsistencyKind.LoggedTwice => $"Same {TimeWords.Lower(doubt.Tank.Name)} dump logged twice {At(misfit)}?",
            InconsistencyKind.SeenOtherwise =>
                $"You saw {units.Volume(misfit.FoundL)} in {TimeWords.Lower(doubt.Tank.Name)} {At(misfit)}. Is something missing before that?",
            InconsistencyKind.UnloggedPeople when doubt.Suggest is [StayEntry] => $"Were you dry camping between {Between(misfit)}?",
            InconsistencyKind.UnloggedPeople when doubt.Suggest is [PeopleEntry { Count: 0 }, ..] => $"Were you away between {Between(misfit)}?",
            InconsistencyKind.UnloggedPeople when doubt.Suggest is [PeopleEntry { Count: 1 }, ..] && misfit.FoundL < misfit.ExpectedL =>
                $"Was only one of you aboard between {Between(misfit)}?",
            InconsistencyKind.UnloggedPeople when doubt.Suggest is [PeopleEntry guests, ..] =>
                $"Were there {(misfit.FoundL < misfit.ExpectedL ? "only" : "about")} {guests.Count} of you between {Between(misfit)}?",
            InconsistencyKind.UnloggedPeople => $"Were there more of you between {Between(misfit)}?",
            InconsistencyKind.MoreThanFits => $"More in {TimeWords.Lower(doubt.Tank.Name)} than fits {At(misfit)}: did a dump go unlogged?",
        };
    }

    /// <summary>Why it is asked.</summary>
    public string Reason(LogDoubt doubt)
    {
        ArgumentNullException.ThrowIfNull(doubt);
        var misfit = doubt.Misfit;
        return misfit.Kind switch
        {
            InconsistencyKind.UnloggedEmptying =>
                $"The log had it at about {units.Volume(Math.Min(misfit.ExpectedL, doubt.Tank.CapacityL))}. "
                + $"What you saw {At(misfit)} fits about {units.Volume(misfit.FoundL)}.",
            InconsistencyKind.WrongLamp => "It doesn't match the readings before and after, and that sensor works.",
            InconsistencyKind.WrongHour => "The lights went out before the dump was logged. One of the two times looks a few hours off.",
            InconsistencyKind.LoggedTwice => "Two dumps within the hour, and no rinse between them. Two people may have logged the same one.",
            InconsistencyKind.SeenOtherwise => $"The log had it at about {units.Volume(misfit.ExpectedL)}. The level goes by what you saw.",
            InconsistencyKind.UnloggedPeople => Miscounted(misfit),
            InconsistencyKind.MoreThanFits => $"The log adds up to {units.Volume(misfit.FoundL)}; {units.Volume(misfit.ExpectedL)} fits.",
        };
    }

    /// <summary>Why people or place are doubted.</summary>
    public static string Miscounted(LogInconsistency misfit)
    {
        ArgumentNullException.ThrowIfNull(misfit);
        return $"Black and gray both filled {(misfit.FoundL < misfit.ExpectedL ? "slower" : "faster")} than they should for the people and place you logged.";
    }

    /// <summary>The press that takes the proposal; null where only the crew can know.</summary>
    public string? Yes(LogDoubt doubt)
    {
        ArgumentNullException.ThrowIfNull(doubt);
        return doubt.Misfit.Kind switch
        {
            InconsistencyKind.UnloggedEmptying when doubt.Suggest is [var dump, ..] =>
                $"Yes, {(doubt.Misfit.From is { } from && from.Date != doubt.Misfit.At.Date ? $"{times.Day(dump.At.Date)} " : "")}around "
                + times.Clock(dump.Instant),
            InconsistencyKind.WrongLamp when doubt.Entries.Count > 0 => $"No, it was {(Lit(doubt) ? "on" : "off")}",
            InconsistencyKind.LoggedTwice when doubt.Surplus is not null => "Yes, cross one out",
            InconsistencyKind.UnloggedPeople when doubt.Suggest is [StayEntry] => "Yes, dry camping",
            InconsistencyKind.UnloggedPeople when doubt.Suggest is [PeopleEntry { Count: 0 }, ..] => "Yes, nobody aboard",
            InconsistencyKind.UnloggedPeople when doubt.Suggest is [PeopleEntry { Count: 1 }, ..] => "Yes, only one of us",
            InconsistencyKind.UnloggedPeople when doubt.Suggest is [PeopleEntry guests, ..] => $"Yes, {guests.Count} of us",
            _ => null,
        };
    }

    /// <summary>The press that says it was as logged.</summary>
    public static string No(LogDoubt doubt)
    {
        ArgumentNullException.ThrowIfNull(doubt);
        return doubt.Misfit.Kind switch
        {
            InconsistencyKind.UnloggedEmptying => "No",
            InconsistencyKind.WrongLamp => $"Yes, it was {(Lit(doubt) ? "off" : "on")}",
            InconsistencyKind.LoggedTwice => "No, I dumped twice",
            InconsistencyKind.UnloggedPeople => "No",
            _ => "It's right as logged",
        };
    }

    /// <summary>The press that opens an entry it rests on.</summary>
    public static string Open(LogDoubt doubt, string entry)
    {
        ArgumentNullException.ThrowIfNull(doubt);
        return doubt.Entries.Count == 1 ? "Open the entry" : entry == doubt.Entries[0] ? "Open the first" : "Open the second";
    }

    // Whether the reading as it would be mended has the light on.
    private static bool Lit(LogDoubt doubt) => doubt.Suggest is [ReadingEntry { Lit: { } lit }, ..] && lit.Contains(doubt.Misfit.Probe!.Id);

    private string At(LogInconsistency misfit) => times.At(misfit.At.ToInstant());

    private string Between(LogInconsistency misfit)
    {
        var (from, to) = ((misfit.From ?? misfit.At).ToInstant(), misfit.At.ToInstant());
        return $"{times.At(from)} and {times.At(to)}";
    }
}
