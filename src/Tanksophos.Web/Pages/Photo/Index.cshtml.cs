using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>Hands out a photo of the rig at hand.</summary>
public sealed class PhotoModel(CurrentRequest house, PhotoStore photos) : PageModel
{
    public IActionResult OnGet(int id)
    {
        if (photos.Find(house.Rig!.Id, id) is not { } photo) return NotFound();
        // A photo never changes under its number, but it can be taken off: every look asks whether it is still there.
        Response.Headers.CacheControl = "private, no-cache";
        return new FileContentResult(photo.Bytes, photo.ContentType) { EntityTag = new($"\"{id}\"") };
    }
}
