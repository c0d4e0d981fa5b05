using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Tanksophos.Web.Pages;

/// <summary>What the device shows instead of a page that it cannot have without a connection.</summary>
[AllowAnonymous]
public sealed class OfflineModel : PageModel
{
    public void OnGet()
    {
    }
}
