using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>Where others come into a case that is played together.</summary>
public sealed class PracticeTogetherModel(CurrentRequest house, PracticeStore store) : PageModel
{
    /// <summary>Who shows it.</summary>
    public string Who { get; private set; } = "";

    /// <summary>The case as who shows it plays it.</summary>
    public StoredPractice Shown { get; private set; } = null!;

    public IActionResult OnGet(string? group) => !Find(group) ? NotFound()
        : store.Mine(house.PersonId, group!) is { } mine ? RedirectToPage("/Practice/Case", new { word = mine.Word }) : Page();

    /// <summary>Comes in.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPost(string? group)
    {
        if (!Find(group)) return NotFound();
        var mine = store.Mine(house.PersonId, group!) ?? store.Start(house.PersonId, Shown.Seed, Shown.Topic, Shown.Difficulty, null, group);
        return RedirectToPage("/Practice/Case", new { word = mine.Word });
    }

    private bool Find(string? group)
    {
        if (string.IsNullOrEmpty(group) || store.Together(group) is not [var (who, shown), ..]) return false;
        (Who, Shown) = (who, shown);
        return true;
    }
}
