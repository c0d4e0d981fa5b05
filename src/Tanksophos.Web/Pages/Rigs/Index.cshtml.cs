using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>All rigs of a person: choosing, adding, putting away, deleting.</summary>
[NoRig]
public sealed class RigsModel(CurrentRequest house, RigStore store, RigCache memory, SafeKeeping keeping, IClock clock) : FormPage
{
    /// <summary>Whether the present state of a rig was exported whole, so that it may be deleted.</summary>
    public bool IsExported(int rigId) => store.IsExported(rigId);

    public void OnGet()
    {
    }

    public IActionResult OnPostChoose(int id)
    {
        if (house.Rigs.All(r => r.Id != id)) return NotFound();
        house.Choose(id);
        return Redirect("~/");
    }

    public IActionResult OnPostArchive(int id, string? away)
    {
        if (Mine(id) is not { } rig) return Not(id);
        store.Archive(id, away == "yes");
        TempData[TodayModel.Logged] = away == "yes" ? RigsSays.IsArchivedNothingIsLost(rig.Name)
            : RigsSays.IsInUseAgain(rig.Name);
        return RedirectToPage();
    }

    public IActionResult OnPostDelete(int id, string? name)
    {
        if (Mine(id) is not { } rig) return Not(id);
        if (name?.Trim() != rig.Name) return Refuse(RigsSays.ToDeleteItTypeItsName(rig.Name));
        if (!store.IsExported(id)) return Refuse(RigsSays.HasChangedSinceYourLastExport(rig.Name));
        var aside = keeping.KeepAside("delete", clock.GetCurrentInstant());
        if (!store.Delete(id)) return Refuse(RigsSays.HasChangedSinceYourLastExportExport(rig.Name));
        memory.Forget(id);
        TempData[TodayModel.Logged] =
            RigsSays.IsDeletedWithItsLogAnd(rig.Name, house.IsKeeper ? RigsSays.ABackupFromBeforeIsKept(aside) : "");
        return RedirectToPage();
    }

    private CurrentRequest.RigOfMine? Mine(int id) => house.Rigs.FirstOrDefault(r => r.Id == id && r.Role == Role.Owner);

    private StatusCodeResult Not(int id) => house.Rigs.Any(r => r.Id == id) ? StatusCode(StatusCodes.Status403Forbidden) : NotFound();
}
