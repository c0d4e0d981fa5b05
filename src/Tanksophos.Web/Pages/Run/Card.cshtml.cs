using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>A run on one page of paper, for those who leave the phone inside.</summary>
public sealed class RunCardModel(CurrentRequest house, RunService desk) : PageModel
{
    /// <summary>The run; null if it cannot be had.</summary>
    public RunOffer Offer { get; private set; } = null!;

    public IActionResult OnGet(string? form, string? place, string? tap, string? leaving, string? method, string? school)
    {
        if (!Codes<RunForm>.TryParse(form ?? "full", out var kind)) return NotFound();
        var wish = new RunWish(place == "station" ? true : place == "here" ? false : null, Codes<TapWater>.TryParse(tap, out var t) ? t : null,
            leaving == "yes" ? true : leaving == "no" ? false : null, null,
            Codes<FlushMethod>.TryParse(method, out var m) ? m : null, Codes<RinseSchool>.TryParse(school, out var s) ? s : null);
        Offer = RunBuilder.Offer(desk.Setting(house, wish) with { Ahead = true }, kind);
        return Page();
    }
}
