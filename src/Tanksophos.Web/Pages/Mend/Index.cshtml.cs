using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>What in the log people probably forgot, mistyped or wrote twice: asked one by one, never changed by itself.</summary>
public sealed class MendModel(CurrentRequest house, RigStore store) : FormPage
{
    private IReadOnlyList<LogDoubt>? doubts;

    /// <summary>The open doubts, the latest first.</summary>
    public IReadOnlyList<LogDoubt> Doubts => doubts ??= [.. house.RigSnapshot.Doubts.Reverse()];

    /// <summary>Its sentences.</summary>
    public MendWords Words => new(house.Units, house.Times, house.Rig!.Rig);

    /// <summary>By which a doubt is known in a form.</summary>
    public static string Key(LogDoubt doubt)
    {
        ArgumentNullException.ThrowIfNull(doubt);
        return string.Create(CultureInfo.InvariantCulture,
            $"{doubt.Tank.Id}|{Codes<InconsistencyKind>.Word(doubt.Misfit.Kind)}|{doubt.Misfit.At.ToInstant().ToUnixTimeSeconds()}|{doubt.Misfit.Probe?.Id}");
    }

    /// <summary>The doubts of one run: the same hours, another tank.</summary>
    public IReadOnlyList<LogDoubt> SameRun(LogDoubt doubt) => LogDoubts.SameRun(Doubts, doubt);

    public IActionResult OnGet() => Page();

    /// <summary>Takes the proposal: logs the dump, mends the reading, or withdraws one of two.</summary>
    public IActionResult OnPostYes(string? doubt, string? id)
    {
        if (Doubts.FirstOrDefault(d => Key(d) == doubt) is not { } asked) return Refuse(MendSays.QuestionItsSettledAlready);
        if (asked.Surplus is { } surplus)
        {
            if (store.Writer.Withdraw(house.Rig!.Id, surplus, true, house.Who) is null) return Refuse(MendSays.QuestionThatEntryIsGoneReload);
            return Said(MendSays.OneOfTheTwoDumpsIs);
        }
        if (asked.Misfit.Kind == InconsistencyKind.WrongLamp)
        {
            if (asked.Entries is not [var key, ..] || store.Log.Entry(house.Rig!.Id, key) is not { Withdrawn: false } there)
                return Refuse(MendSays.QuestionThatReadingIsGone);
            var corrected = asked.Suggest[0] with { Id = key };
            return store.Writer.Correct(house.Rig.Id, key, there.Revision, corrected, house.Who) == Correction.Done ? Said(MendSays.TheReadingIsCorrected)
                : Refuse(MendSays.QuestionSomebodyChangedThat);
        }
        if (asked.Suggest.Count == 0) return Refuse(MendSays.QuestionOnlyYouCanKnowWhat);
        var batch = id is { Length: > 0 and <= 60 } ? id : TodayModel.NewId();
        return Record(batch, [.. SameRun(asked).SelectMany(d => d.Suggest).Select((e, i) => e with { Id = $"{batch}-{i + 1}" })]);
    }

    /// <summary>It was not so: that is remembered, and not asked again.</summary>
    public IActionResult OnPostNo(string? doubt, string? id)
    {
        if (Doubts.FirstOrDefault(d => Key(d) == doubt) is not { } asked) return Refuse(MendSays.QuestionItsSettledAlready);
        var batch = id is { Length: > 0 and <= 60 } ? id : TodayModel.NewId();
        var forgotten = asked.Misfit.Kind == InconsistencyKind.UnloggedEmptying;
        return Record(batch, [.. SameRun(asked).Select((d, i) => (LogEntry)new CheckEntry
        {
            // That it was not dumped counts from a moment before the look that made us ask.
            At = (d.Misfit.At.ToInstant() - (forgotten ? Duration.FromMinutes(1) : Duration.Zero)).WithOffset(d.Misfit.At.Offset),
            Id = $"{batch}-{i + 1}",
            Tank = d.Tank.Id,
            Code = forgotten ? CheckCode.NotDumped : CheckCode.AsLogged,
            Result = CheckResult.Pass,
        })]);
    }

    private IActionResult Record(string batch, IReadOnlyList<LogEntry> entries)
    {
        try
        {
            store.Writer.Record(house.Rig!.Id, entries, house.Who, batch);
        }
        catch (EntryConflictException)
        {
            return Refuse(MendSays.QuestionThisWasAlreadyAnswered);
        }
        TempData[TodayModel.Logged] = "Logged: " + new EntryWords(house.Rig!.Rig, house.Units).Lines(entries);
        TempData[TodayModel.LoggedBatch] = batch;
        return Back();
    }

    private RedirectToPageResult Said(string words)
    {
        TempData[TodayModel.Logged] = words;
        return Back();
    }

    // Back to where it was asked: Today, or this page.
    private RedirectToPageResult Back() => Request.Form["back"] == "/" ? RedirectToPage("/Today/Index") : RedirectToPage();
}
