using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Practice;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>What was so in a practice case, and how it was played.</summary>
public sealed class PracticeDebriefModel(CurrentRequest house, PracticeStore store) : PageModel
{
    /// <summary>The case as it was played.</summary>
    public StoredPractice Played { get; private set; } = null!;

    /// <summary>The review; null where the program was renewed since, so that the case is another one now.</summary>
    public CaseReview? Review { get; private set; }

    /// <summary>Its drawing.</summary>
    public CaseChart Chart => new(Review!);

    /// <summary>Its sentences.</summary>
    public PracticeWords Words => new(house.Units);

    /// <summary>The next case of the course; null outside of it and at its end.</summary>
    public CourseCase? NextOfCourse => Played.Course is { } n ? Course.Cases.FirstOrDefault(c => c.Number == n + 1) : null;

    /// <summary>Minutes and litres beyond the best course.</summary>
    public (double Minutes, double WaterL) Extra
    {
        get
        {
            var best = Review!.Case.Evidence.Where(e => Review.Case.Truth.Best.Contains(e.Code)).ToList();
            var asked = Review.Steps.Select(s => s.Result.Evidence).ToList();
            return (Math.Max(0, asked.Sum(e => e.Minutes) - best.Sum(e => e.Minutes)), Math.Max(0, asked.Sum(e => e.WaterL) - best.Sum(e => e.WaterL)));
        }
    }

    /// <summary>All who play it together, with what they answered; empty where one plays alone.</summary>
    public IReadOnlyList<(string Who, StoredPractice Played)> Together => Played.Group is { } group ? store.Together(group) : [];

    public IActionResult OnGet(string? word)
    {
        if (store.Find(house.PersonId, word) is not { } played) return NotFound();
        if (played.EndedAt is null) return RedirectToPage("/Practice/Case", new { word });
        Played = played;
        if (played is { Reply: { } reply, Maker: PracticeCase.Maker })
            Review = CaseReview.Of(CaseMaker.Make(played.Seed, played.Topic, played.Difficulty), reply);
        return Page();
    }

    /// <summary>The same case once more.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPostAgain(string? word)
    {
        if (store.Find(house.PersonId, word) is not { } played) return NotFound();
        return RedirectToPage("/Practice/Case", new
        {
            word = store.Start(house.PersonId, played.Seed, played.Topic, played.Difficulty, played.Course, null).Word,
        });
    }
}
