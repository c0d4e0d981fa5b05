using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>A page that takes forms and shows again what it could not take, with the reason.</summary>
public abstract class FormPage : PageModel
{
    /// <summary>Where the fields of a page find what is wrong with them.</summary>
    internal const string ProblemsItem = "problems";

    /// <summary>Why the form was not taken; empty if it was.</summary>
    public IReadOnlyList<string> Problems { get; private set; } = [];

    /// <summary>What somebody else changed while the form was open; null if nobody did.</summary>
    public Clash? Conflict { get; private set; }

    /// <summary>The field that a problem is about, as a mark: what stands before its colon.</summary>
    public static string FieldOf(string problem)
    {
        ArgumentNullException.ThrowIfNull(problem);
        var colon = problem.IndexOf(':', StringComparison.Ordinal);
        return colon < 0 ? "form" : problem[..colon].ToLowerInvariant().Replace("'", "", StringComparison.Ordinal).Replace(", ", "-", StringComparison.Ordinal)
            .Replace(' ', '-');
    }

    /// <summary>Shows the page again with what stands against the form: nothing was saved.</summary>
    protected PageResult Refuse(Clash clash)
    {
        Conflict = clash;
        Response.StatusCode = StatusCodes.Status409Conflict;
        HttpContext.Features.Get<Microsoft.AspNetCore.Diagnostics.IStatusCodePagesFeature>()?.Enabled = false;
        return Page();
    }

    /// <summary>The rig as it was when the form was opened; null if the form does not say, or the rig is still the same.</summary>
    protected Rig? SeenBefore(RigStore store, StoredRig rig)
    {
        ArgumentNullException.ThrowIfNull(store);
        ArgumentNullException.ThrowIfNull(rig);
        return int.TryParse(Request.Form[Clash.Seen], System.Globalization.NumberStyles.None, System.Globalization.CultureInfo.InvariantCulture, out var seen)
            && seen != rig.Revision ? store.Description(rig.Id, seen) : null;
    }

    /// <summary>Shows the page again with what is wrong, as a refused request.</summary>
    protected PageResult Refuse(params string[] problems)
    {
        Problems = problems;
        HttpContext.Items[ProblemsItem] = Problems;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    /// <summary>Writes one entry down, says so with its undo, and goes on; a form that was already sent with other content is refused.</summary>
    protected IActionResult Written(RigStore store, CurrentRequest house, LogEntry entry, Func<IActionResult> then)
    {
        ArgumentNullException.ThrowIfNull(store);
        ArgumentNullException.ThrowIfNull(house);
        ArgumentNullException.ThrowIfNull(entry);
        ArgumentNullException.ThrowIfNull(then);
        try
        {
            store.Writer.Record(house.Rig!.Id, [entry], house.Who);
        }
        catch (EntryConflictException)
        {
            return Refuse(SharedSays.ThisFormWasAlreadySentWith);
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
