using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Data;
using Tanksophos.Web.App;
using Tanksophos.Web.Words;

namespace Tanksophos.Web.Pages;

/// <summary>Everything that was written down, newest first, with undo.</summary>
public sealed class LogbookModel(Household house, RigStore store) : PageModel
{
    public const int PageSize = 60;

    public EntryPage Entries { get; private set; } = new([], 0);

    public int PageNumber { get; private set; } = 1;

    public int LastPage => Math.Max(1, (Entries.Total + PageSize - 1) / PageSize);

    public IActionResult OnGet(string? p)
    {
        if (house.Rig is not { } rig) return RedirectToPage("/Start/Index");
        PageNumber = int.TryParse(p, out var n) && n is >= 1 and <= 1_000_000 ? n : 1;
        Entries = store.Page(rig.Id, (PageNumber - 1) * PageSize, PageSize);
        if (Entries.Entries.Count == 0 && PageNumber > 1) return RedirectToPage(new { p = LastPage });
        return Page();
    }

    public IActionResult OnPostUndo(string? key, string? p) => Change(key, true, p);

    public IActionResult OnPostRestore(string? key, string? p) => Change(key, false, p);

    private IActionResult Change(string? key, bool withdrawn, string? p)
    {
        if (house.Rig is not { } rig) return RedirectToPage("/Start/Index");
        if (key is null || store.Withdraw(rig.Id, key, withdrawn, "owner") is not { } entry) return NotFound();
        TempData[TodayModel.Logged] = $"{(withdrawn ? "Taken back" : "Put back")}: {new EntryWords(rig.Rig, house.Units).Line(entry)}";
        return RedirectToPage(new { p });
    }
}
