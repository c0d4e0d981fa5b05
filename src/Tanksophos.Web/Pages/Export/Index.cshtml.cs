using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.App;

namespace Tanksophos.Web.Pages;

/// <summary>Hands out the rig in front of the person in the open formats.</summary>
public sealed class ExportModel(Household house, RigStore store) : PageModel
{
    public IActionResult OnGet(string what)
    {
        if (house.Rig is not { } rig) return RedirectToPage("/Start/Index");
        var name = FileName(rig.Rig.Name);
        return what switch
        {
            "logbook" => File(LogbookFormat.Write(new Logbook(rig.Rig, store.Log(rig.Id)), pretty: true), "application/json", $"{name}-logbook.json"),
            "readings" => File(ReadingsCsv.Write(store.Log(rig.Id)), "text/csv", $"{name}-readings.csv"),
            _ => NotFound(),
        };
    }

    private static string FileName(string rig)
    {
        var name = new StringBuilder();
        foreach (var c in rig.ToLowerInvariant())
        {
            if (char.IsAsciiLetterOrDigit(c)) name.Append(c);
            else if (name.Length > 0 && name[^1] != '-') name.Append('-');
        }
        return name.ToString().Trim('-') is { Length: > 0 } plain ? plain : "rig";
    }
}
