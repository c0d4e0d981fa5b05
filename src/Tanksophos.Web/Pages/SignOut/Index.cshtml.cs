using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Web.Accounts;

namespace Tanksophos.Web.Pages;

/// <summary>Signing out on this device.</summary>
[NoRig]
public sealed class SignOutModel : PageModel
{
    public IActionResult OnGet() => RedirectToPage("/Account/Index");

    public async Task<IActionResult> OnPostAsync()
    {
        await HttpContext.SignOutAsync(IdentityConstants.ApplicationScheme);
        return RedirectToPage("/SignIn/Index");
    }
}
