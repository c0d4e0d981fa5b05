using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>The service sheet for who has a link to it, until its time is over. Nothing else of the rig is reached by it, and nothing can be changed.</summary>
[AllowAnonymous]
public sealed class LookModel(CurrentRequest house, PeopleStore people, RigStore store, RigCache memory) : PageModel
{
    /// <summary>The sheet; null where the link is not good or no longer.</summary>
    public ServiceSheetView? Sheet { get; private set; }

    /// <summary>Until when the link works.</summary>
    public Instant Until { get; private set; }

    /// <summary>Words for its times, in the zone of who looks.</summary>
    public TimeWords Times => new(house.Now, house.DeviceZone, house.Style);

    public IActionResult OnGet(string word)
    {
        Response.Headers["X-Robots-Tag"] = "noindex";
        Response.Headers.CacheControl = "private, no-store";
        if (people.Shared(word) is not { } shared || store.Find(shared.RigId) is not { } rig)
        {
            Response.StatusCode = StatusCodes.Status410Gone;
            HttpContext.Features.Get<Microsoft.AspNetCore.Diagnostics.IStatusCodePagesFeature>()?.Enabled = false;
            return Page();
        }
        Until = shared.Until;
        Sheet = new ServiceSheetView(memory.Now(rig, store), house.Units, Times, house.Now, [.. ServiceSheetFormat.Bearing(memory.Log(rig, store), house.Now)]);
        return Page();
    }
}
