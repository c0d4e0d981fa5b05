using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>A rinse, a probe and a trap, to explore; the numbers come from the core.</summary>
public sealed class PracticePicturesModel : PageModel
{
    /// <summary>Where the probe sits, as a share of the tank.</summary>
    public const double Mark = 1 / 3.0;

    /// <summary>What the script draws.</summary>
    public object Data => new
    {
        rinses = RinseModel.Play().Select(r => new
        {
            corners = r.Corners,
            drain = new[] { r.First, r.Middle, r.Last }.Select(d => new { dirt = d, looks = Codes<Core.Log.EndColor>.Word(RinseModel.Looks(d)) }),
        }),
        trap = Enumerable.Range(0, TrapModel.Days + 1).Select(TrapModel.Water),
        trapDue = Core.Care.CareReport.TrapDays,
        film = ProbeModel.FilmHours,
        mark = Mark,
        // Whether the light is on: below the probe while a film would be wet, below it later, and with water at it.
        lit = Enum.GetValues<ProbeHangs>().ToDictionary(Codes<ProbeHangs>.Word, h => new[] { ProbeModel.Lit(h, false, 0),
            ProbeModel.Lit(h, false, ProbeModel.FilmHours), ProbeModel.Lit(h, true, 0) }),
    };

    public void OnGet()
    {
    }
}
