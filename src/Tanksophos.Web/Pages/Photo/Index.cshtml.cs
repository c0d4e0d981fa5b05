using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Data;
using Tanksophos.Web.App;

namespace Tanksophos.Web.Pages;

/// <summary>Hands out a photo of the rig at hand.</summary>
public sealed class PhotoModel(Household house, PhotoStore photos) : PageModel
{
    public IActionResult OnGet(int id)
    {
        if (photos.Find(house.Rig!.Id, id) is not { } photo) return NotFound();
        Response.Headers.CacheControl = "private, max-age=31536000, immutable"; // a photo never changes under its number
        return File(photo.Bytes, photo.ContentType);
    }
}
