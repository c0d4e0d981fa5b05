using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Formats;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>Brings in a logbook document or a CSV of readings: first a look at what it would do, then a yes.</summary>
[NoRig]
[RequestSizeLimit(Uploads.MaxBytes + Uploads.FormBytes)]
public sealed class ImportModel(CurrentRequest house, RigStore store, Importing importing, Uploads uploads) : PageModel
{
    /// <summary>A table of readings as it is taken, shown on the page.</summary>
    public const string Example = """
        at,tank,via,lit,percent,fraction,note
        2026-05-09T18:00:00-06:00,black,panel,low mid,,,
        2026-05-09T18:05:00-06:00,galley,panel,,57,,
        2026-05-09T18:10:00-06:00,black,sight,,,0.6,flashlight
        """;

    private const string NewRig = "new";

    /// <summary>The rigs that the person may import into.</summary>
    public IReadOnlyList<CurrentRequest.RigOfMine> Rigs => [.. house.Rigs.Where(r => r.Role == Role.Owner && !r.Archived)];

    public string? FileName { get; private set; }

    public string? Token { get; private set; }

    /// <summary>The choice of where it goes: a rig's number, "new", or empty to go by the document.</summary>
    public string Into { get; private set; } = "";

    public ImportPreview? Preview { get; private set; }

    public IReadOnlyList<Problem> Errors { get; private set; } = [];

    /// <summary>How the dates of a table were read; null for one whose dates are of the format.</summary>
    public DatedTable? Dates { get; private set; }

    /// <summary>The order of day and month that was chosen: "month", "day", or null to go by the dates.</summary>
    public string? Order { get; private set; }

    public void OnGet()
    {
    }

    public IActionResult OnPost(IFormFile? file, string? into)
    {
        Into = into ?? "";
        FileName = file is null ? null : Path.GetFileName(file.FileName);
        if (file is null) return Refuse(new Problem("file", ImportSays.ChooseAFileALogbookDocument));
        if (file.Length > Uploads.MaxBytes) return Refuse(new Problem("file", ImportSays.ItHasMBAtMostAre(file.Length / 1048576.0, Uploads.Limit)));
        using var buffer = new MemoryStream();
        file.CopyTo(buffer);
        var content = buffer.ToArray();
        if (!Look(content)) return Refuse();
        Token = uploads.Keep(content, house.PersonId);
        return Page();
    }

    /// <summary>Looks at the same upload again, its dates read in the other order.</summary>
    public IActionResult OnPostOrder(string? token, string? into, string? name, string? order)
    {
        (Into, FileName, Order) = (into ?? "", name, order);
        if (uploads.Find(token, house.PersonId) is not { } content) return Refuse(new Problem("file", ImportSays.TheUploadExpiredChooseTheFile));
        if (!Look(content)) return Refuse();
        Token = token;
        return Page();
    }

    public IActionResult OnPostConfirm(string? token, string? into, string? name, string? order)
    {
        Order = order;
        Into = into ?? "";
        FileName = name;
        if (uploads.Find(token, house.PersonId) is not { } content) return Refuse(new Problem("file", ImportSays.TheUploadExpiredChooseTheFile));
        if (!Look(content)) return Refuse();
        try
        {
            house.Choose(importing.Apply(Preview!, house.Who, house.PersonId));
        }
        catch (EntryConflictException e)
        {
            return Refuse([.. e.Conflicts]);
        }
        catch (NotStorableException e)
        {
            return Refuse([.. e.Problems]);
        }
        uploads.Forget(token!, house.PersonId);
        var count = Preview!.Plan.New.Count;
        TempData[TodayModel.Logged] =
            ImportSays.Added(Preview.Target is null ? Preview.NewRig!.Name : null, SharedSays.EntriesOf(count), Preview.Plan.AlreadyThere);
        return RedirectToPage("/Today/Index");
    }

    private bool Look(byte[] content)
    {
        var mine = Rigs;
        var chosen = int.TryParse(Into, NumberStyles.None, CultureInfo.InvariantCulture, out var id) && mine.Any(r => r.Id == id) ? store.Find(id) : null;
        // A table names no rig: it goes to the rig in front of the person.
        var table = content.AsSpan().TrimStart("\uFEFF \t\r\n"u8) is not [(byte)'{', ..];
        Dates = table ? CsvDates.Read(content, house.Zone, house.Style.MonthFirst, Order switch { "month" => true, "day" => false, _ => null }) : null;
        if (Dates is not null) content = Dates.Utf8.ToArray();
        if (chosen is null && Into != NewRig && table && house.MayChange) chosen = house.Rig;
        Preview = importing.Preview(content, chosen, name => mine.FirstOrDefault(r => r.Name == name) is { } same ? store.Find(same.Id) : null, Into == NewRig);
        Errors = Preview.Errors;
        return Preview.Ok;
    }

    private PageResult Refuse(params Problem[] problems)
    {
        if (problems.Length > 0) Errors = problems;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
