using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Trips;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>The plan on one page of paper.</summary>
public sealed class TripSheetModel(CurrentRequest house, TripStore trips, TripService desk, AgendaService court) : PageModel
{
    private TripNow? now;

    public TripNow Now => now!;

    public PlanWords Words => new(house.Rig!.Rig, house.Units, house.Style);

    public IReadOnlyList<PlanRun> Runs => Now.Plan is { } plan ? AllowedRuns.Build(court.With(Now), plan, Now.Stop) : [];

    /// <summary>What goes before the plan, in words.</summary>
    public IReadOnlyList<StepText> First =>
        [.. court.With(Now).Items.Where(i => i.Level <= AgendaLevel.Now && i.Planned is null && i.Code != AgendaCode.LogPlace).Select(court.Texts.Of)];

    public IActionResult OnGet(int? trip)
    {
        var rig = house.Rig!;
        var stored = trip is { } id ? trips.Find(rig.Id, id) : trips.Current(rig.Id, house.Now);
        if (stored is not { Removed: false }) return NotFound();
        now = desk.Of(rig, stored);
        return Page();
    }
}
