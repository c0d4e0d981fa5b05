using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>What is due before the season ends or begins, to be printed and ticked off in the bay.</summary>
public sealed class CareSheetModel(CurrentRequest house, AgendaService agenda) : PageModel
{
    private static readonly Duration Ahead = Duration.FromDays(60);

    /// <summary>Chores that are due or will be before long.</summary>
    public IReadOnlyList<CareItem> Due => [.. AgendaService.CareOf(agenda.Situation, agenda.Now).Where(c =>
        c.Chore is not (Core.Log.ChoreWords.SeasonOpen or Core.Log.ChoreWords.SeasonClose)
        && (c.Asks(house.Now) || c.State is not CareState.Never && c.Due <= house.Now + Ahead))];

    /// <summary>Which end of the season comes next; on paper it is planned for frost, since nobody can ask.</summary>
    public SeasonAsked Asked => new(Stored ? ChoreSeason.Open : ChoreSeason.Close, true, true, 0);

    /// <summary>Its steps.</summary>
    public IReadOnlyList<SeasonStep> Steps => SeasonGuide.Build(house.Rig!.Rig, Asked, house.Units == Units.Metric ? KitchenUnits.Metric : KitchenUnits.Us);

    private bool Stored => agenda.Situation.Care.Any(c => c.Chore is Core.Log.ChoreWords.StorageCheck or Core.Log.ChoreWords.SeasonOpen);

    public IActionResult OnGet() => Page();
}
