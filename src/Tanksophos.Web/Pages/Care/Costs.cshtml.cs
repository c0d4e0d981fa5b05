using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using NodaTime;
using Tanksophos.Core.Outlook;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>What water, treatments, stations and service took, by month and by trip.</summary>
public sealed class CostsModel(CurrentRequest house, TripStore trips) : PageModel
{
    /// <summary>Months shown, a year and a half.</summary>
    public const int MostMonths = 18;

    /// <summary>By month, the newest last.</summary>
    public IReadOnlyList<CostTotals> Months => CostTotals.ByMonth(house.Rig!.Rig, house.RigSnapshot.Logbook.InOrder(), house.Zone, Fees);

    /// <summary>By trip, the newest last.</summary>
    public IReadOnlyList<CostTotals> Trips => CostTotals.ByTrip(house.Rig!.Rig, house.RigSnapshot.Logbook.InOrder(), house.Zone, Fees);

    /// <summary>Days from dump to dump.</summary>
    public IReadOnlyList<FillDays> Fills => FillDays.Of(house.RigSnapshot.Logbook.InOrder(), house.Zone);

    public IActionResult OnGet() => Page();

    /// <summary>The months as a table.</summary>
    public IActionResult OnGetCsv() => File(CostTotals.Csv(Months), "text/csv", "costs.csv");

    private IReadOnlyList<(Instant At, int FeeMinor)> Fees => [.. trips.Of(house.Rig!.Id).SelectMany(t => t.Itinerary.Stops)
        .Where(s => s.FeeMinor > 0 && s.Arrive.ToInstant() <= house.Now).Select(s => (s.Arrive.ToInstant(), s.FeeMinor!.Value)).Distinct()];
}
