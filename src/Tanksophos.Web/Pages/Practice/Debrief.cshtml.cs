using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>What was so in a practice case, and how it was played.</summary>
public class PracticeDebriefModel(CurrentRequest house, PracticeStore store) : PageModel
{
    /// <summary>Number of who played; 0 for a visitor.</summary>
    protected virtual int Player => house.PersonId;

    /// <summary>The page of the case.</summary>
    protected virtual string CasePage => "/Practice/Case";

    /// <summary>Whether who played has no account here.</summary>
    public bool IsVisitor => Player == 0;

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

    /// <summary>The next steps to be put in order; null where there is one only.</summary>
    public CaseOrder? Order => Review is { } review ? CaseOrder.Of(review.Case) : null;

    /// <summary>The order that was chosen; null before.</summary>
    public IReadOnlyList<RemedyAction>? Said { get; private set; }

    /// <summary>Whether something was chosen that is no order.</summary>
    public bool NoOrder { get; private set; }

    /// <summary>Remedies in words.</summary>
    public string Step(RemedyAction action) => new FaultWords(Review!.Case.Logbook.Rig, house.Units,
        new TimeWords(Review.Case.Logbook.AsOf!.Value.ToInstant(), NodaTime.DateTimeZone.Utc, house.Style)).Remedy(action, Review.Case.Tank).Title;

    public IActionResult OnGet(string? word, string[]? order = null)
    {
        if (store.Find(Player, word) is not { } played) return NotFound();
        if (played.EndedAt is null) return RedirectToPage(CasePage, new { word });
        Played = played;
        if (played is { Reply: { } reply, Maker: PracticeCase.Maker })
            Review = CaseReview.Of(CaseMaker.Make(played.Seed, played.Topic, played.Difficulty), reply);
        if (order is { Length: > 0 } && Order is { } right)
        {
            List<RemedyAction> said = [.. order.Select(o => Codes<RemedyAction>.TryParse(o, out var action) ? action : (RemedyAction?)null)
                .OfType<RemedyAction>()];
            NoOrder = said.Count != CaseOrder.Steps || said.Distinct().Count() != CaseOrder.Steps || !said.All(right.Right.Contains);
            Said = NoOrder ? null : said;
        }
        return Page();
    }

    /// <summary>The same case once more.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPostAgain(string? word)
    {
        if (IsVisitor || store.Find(Player, word) is not { } played) return NotFound();
        return RedirectToPage("/Practice/Case", new
        {
            word = store.Start(house.PersonId, played.Seed, played.Topic, played.Difficulty, played.Course, null).Word,
        });
    }
}
