using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.RateLimiting;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>Where others come into a case that is played together: as who they are signed in, or by a name alone.</summary>
[AllowAnonymous]
[EnableRateLimiting(SigningIn.Slowly)]
public sealed class PracticeTogetherModel(CurrentRequest house, PracticeStore store) : FormPage
{
    /// <summary>Longest name of who has no account.</summary>
    public const int LongestName = 30;

    /// <summary>Who shows it.</summary>
    public string Who { get; private set; } = "";

    /// <summary>The case as who shows it plays it.</summary>
    public StoredPractice Shown { get; private set; } = null!;

    /// <summary>Whether who comes is signed in, with a rig; whoever is not plays by a name alone.</summary>
    public bool HasAccount => house.PersonId > 0 && house.Rig is not null;

    public IActionResult OnGet(string? group) => !Find(group) ? NotFound()
        : HasAccount && store.Mine(house.PersonId, group!) is { } mine ? RedirectToPage("/Practice/Case", new { word = mine.Word }) : Page();

    /// <summary>Comes in.</summary>
    public IActionResult OnPost(string? group, string? name)
    {
        if (!Find(group)) return NotFound();
        if (HasAccount)
        {
            var mine = store.Mine(house.PersonId, group!) ?? store.Start(house.PersonId, Shown.Seed, Shown.Topic, Shown.Difficulty, null, group);
            return RedirectToPage("/Practice/Case", new { word = mine.Word });
        }
        name = (name ?? "").Trim();
        if (name.Length is 0 or > LongestName || name.Any(char.IsControl)) return Refuse(PracticeSays.NameAccepted);
        var (became, visit) = store.Visit(group!, name);
        return became switch
        {
            Visiting.Done => RedirectToPage("/Practice/Visit", new { word = visit!.Word }),
            Visiting.Taken => Refuse(PracticeSays.NameTaken),
            Visiting.Full => Refuse(PracticeSays.TooManyPlay),
            Visiting.NoCase => NotFound(),
        };
    }

    private bool Find(string? group)
    {
        if (string.IsNullOrEmpty(group) || store.Together(group) is not [var (who, shown), ..]) return false;
        (Who, Shown) = (who, shown);
        return true;
    }
}
