using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>A long import under way: how far it is, and a way to stop it.</summary>
[NoRig]
public sealed class ImportWorkingModel(CurrentRequest house, ImportJobs jobs) : PageModel
{
    /// <summary>The word of the import.</summary>
    public string Word { get; private set; } = "";

    /// <summary>The import.</summary>
    public ImportJob? Job { get; private set; }

    public IActionResult OnGet(string job)
    {
        if (!Look(job)) return RedirectToPage("/Import/Index"); // after a restart: the list of imports says what came of it
        if (Job!.RigId is not { } rig) return Page();
        house.Choose(rig);
        TempData[TodayModel.Logged] = Job.Said;
        return RedirectToPage("/Today/Index");
    }

    /// <summary>How far it is, for the script of the page.</summary>
    public IActionResult OnGetState(string job) => new JsonResult(new { share = Look(job) ? Job!.Share : null });

    public IActionResult OnPostStop(string job)
    {
        if (!Look(job)) return NotFound();
        ImportJobs.Stop(Job!);
        return RedirectToPage(new { job });
    }

    private bool Look(string word)
    {
        Word = word;
        Job = jobs.Find(word, house.PersonId);
        return Job is not null;
    }
}
