using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>Keeps a person's choice of units, and of the rig in front of them on this device.</summary>
[NoRig]
public sealed class PrefsModel(CurrentRequest house, TanksophosContext database) : PageModel
{
    public IActionResult OnGet() => Redirect("~/");

    public IActionResult OnPost(string? units, int? rig, string? clock, string? dates, string? currency, string? week, string? tour)
    {
        if (units is "us" or "metric") database.Users.Where(p => p.Id == house.PersonId).ExecuteUpdate(u => u.SetProperty(p => p.Units, units));
        if (clock is "12" or "24")
        {
            var hours = clock == "12" ? 12 : 24;
            database.Users.Where(p => p.Id == house.PersonId).ExecuteUpdate(u => u.SetProperty(p => p.Clock, hours));
        }
        if (dates is "month" or "day")
        {
            var month = dates == "month";
            database.Users.Where(p => p.Id == house.PersonId).ExecuteUpdate(u => u.SetProperty(p => p.MonthFirst, month));
        }
        if (Currency.Find(currency) is { Code: var code })
            database.Users.Where(p => p.Id == house.PersonId).ExecuteUpdate(u => u.SetProperty(p => p.Currency, code));
        if (week is { Length: 1 } && week[0] is >= '1' and <= '7')
        {
            var begins = week[0] - '0';
            database.Users.Where(p => p.Id == house.PersonId).ExecuteUpdate(u => u.SetProperty(p => p.WeekStart, begins));
        }
        if (tour is "done") database.Users.Where(p => p.Id == house.PersonId).ExecuteUpdate(u => u.SetProperty(p => p.TourDone, true));
        if (rig is { } id)
        {
            if (house.Rigs.All(r => r.Id != id)) return NotFound();
            house.Choose(id);
        }
        var back = Request.Headers.Referer.ToString();
        return Uri.TryCreate(back, UriKind.Absolute, out var from) && from.Authority == Request.Host.Value && Url.IsLocalUrl(from.PathAndQuery)
            ? LocalRedirect(from.PathAndQuery) : Redirect("~/");
    }
}
