using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>The household's choices where experienced people disagree, with what each side holds.</summary>
[Needs(Role.Owner)]
public sealed class RulesModel(CurrentRequest house, RigStore store) : PageModel
{
    /// <summary>The choices shown: what is in force, or what the person chose and could not be saved.</summary>
    public IReadOnlyDictionary<string, string?> Chosen { get; private set; } = new Dictionary<string, string?>();

    /// <summary>The rules in force.</summary>
    public HouseRules InForce => house.Rig!.Rig.RulesInForce;

    public int Revision => house.Rig!.Revision;

    public string? Problem { get; private set; }

    [Needs(Role.Guest)]
    public IActionResult OnGet()
    {
        Chosen = Matters.All.ToDictionary(m => m.Id, m => m.Chosen(InForce));
        return Page();
    }

    public IActionResult OnPost(string? revision)
    {
        var rig = house.Rig!;
        var given = Matters.All.ToDictionary(m => m.Id, m => (string?)Request.Form[m.Id].ToString());
        foreach (var m in Matters.All)
        {
            if (string.IsNullOrEmpty(given[m.Id])) given[m.Id] = null; // left as it is
            else if (m.Schools.All(s => s.Code != given[m.Id]))
                return Refuse(given, RulesSays.ChooseOneOf(m.Title, string.Join(", ", m.Schools.Select(s => s.Name))));
        }
        if (!int.TryParse(revision, NumberStyles.None, CultureInfo.InvariantCulture, out var seen))
            return Refuse(given, RulesSays.TheFormIsNotCompleteReload);
        var saved = store.Change(rig.Id, seen,
            r => r with { Rules = Matters.All.Aggregate(r.RulesInForce, (rules, m) => given[m.Id] is { } code ? m.Choose(rules, code) : rules) }, house.Who);
        if (!saved) return Refuse(given,
            RulesSays.SomeoneElseChangedThisRigSince);
        TempData[TodayModel.Logged] = RulesSays.HouseRulesSavedTodayUsesThem;
        return RedirectToPage();
    }

    private PageResult Refuse(Dictionary<string, string?> given, string problem)
    {
        Chosen = Matters.All.ToDictionary(m => m.Id, m => given[m.Id] ?? m.Chosen(InForce));
        Problem = problem;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
