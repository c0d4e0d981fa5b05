using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>The sheet for a technician: the rig, its probes, what was seen, what was tried.</summary>
public sealed class ServiceSheetModel(CurrentRequest house, RigStore store, RigCache memory) : PageModel
{
    /// <summary>Entries that bear on it, the newest first.</summary>
    public IReadOnlyList<LogEntry> History => [.. ServiceSheetFormat.Bearing(memory.Log(house.Rig!, store), house.Now)
        .Where(e => e is not DumpEntry and not FlushEntry).Reverse().Take(30)];

    /// <summary>The last dumps and rinses, the newest first.</summary>
    public IReadOnlyList<LogEntry> Runs => [.. ServiceSheetFormat.Bearing(memory.Log(house.Rig!, store), house.Now).Where(e => e is DumpEntry or FlushEntry)
        .Reverse().Take(12)];

    /// <summary>What the program makes of it.</summary>
    public FaultReport Report => house.RigSnapshot.Faults;

    public void OnGet()
    {
    }

    /// <summary>The same as JSON.</summary>
    public IActionResult OnGetDocument() => File(ServiceSheetFormat.Write(house.RigSnapshot.Logbook, house.RigSnapshot.Belief, DocumentWords.English),
        "application/json", "service-sheet.json");
}
