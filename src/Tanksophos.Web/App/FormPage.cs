using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Pages;

namespace Tanksophos.Web.App;

/// <summary>A page that takes forms and shows again what it could not take, with the reason.</summary>
public abstract class FormPage : PageModel
{
    /// <summary>Why the form was not taken; empty if it was.</summary>
    public IReadOnlyList<string> Problems { get; private set; } = [];

    /// <summary>Shows the page again with what is wrong, as a refused request.</summary>
    protected PageResult Refuse(params string[] problems)
    {
        Problems = problems;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    /// <summary>Writes one entry down, says so with its undo, and goes on; a form that was already sent with other content is refused.</summary>
    protected IActionResult Written(RigStore store, Household house, LogEntry entry, Func<IActionResult> then)
    {
        ArgumentNullException.ThrowIfNull(store);
        ArgumentNullException.ThrowIfNull(house);
        ArgumentNullException.ThrowIfNull(entry);
        ArgumentNullException.ThrowIfNull(then);
        try
        {
            store.Record(house.Rig!.Id, [entry], house.Who);
        }
        catch (EntryConflictException)
        {
            return Refuse("This form was already sent with other content. Reload the page.");
        }
        catch (NotStorableException e)
        {
            return Refuse([.. e.Problems.Select(p => p + ".")]);
        }
        TempData[TodayModel.Logged] = house.Said(entry);
        TempData[TodayModel.LoggedKey] = entry.Id;
        return then();
    }
}
