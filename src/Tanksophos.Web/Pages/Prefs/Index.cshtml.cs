using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Web.App;

namespace Tanksophos.Web.Pages;

/// <summary>Keeps a person's choice of units and of the rig in front of them, on their device.</summary>
public sealed class PrefsModel : PageModel
{
    public IActionResult OnGet() => Redirect("/");

    public IActionResult OnPost(string? units, int? rig)
    {
        var kept = new CookieOptions { MaxAge = TimeSpan.FromDays(365), SameSite = SameSiteMode.Lax, HttpOnly = true, IsEssential = true };
        if (units is "us" or "metric") Response.Cookies.Append(Household.UnitsCookie, units, kept);
        if (rig is { } id) Response.Cookies.Append(Household.RigCookie, id.ToString(System.Globalization.CultureInfo.InvariantCulture), kept);
        var back = Request.Headers.Referer.ToString();
        return Uri.TryCreate(back, UriKind.Absolute, out var from) && from.Authority == Request.Host.Value && Url.IsLocalUrl(from.PathAndQuery) ? LocalRedirect(from.PathAndQuery) : Redirect("/");
    }
}
