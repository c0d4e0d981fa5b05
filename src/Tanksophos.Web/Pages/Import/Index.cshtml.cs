using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Sheets;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>Brings in a logbook document or a CSV of readings: first a look at what it would do, then a yes.</summary>
[NoRig]
[RequestSizeLimit(Uploads.MaxBytes + Uploads.FormBytes)]
public sealed class ImportModel(CurrentRequest house, RigStore store, Importing importing, ImportJobs jobs, Uploads uploads, TripService trips) : PageModel
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

    /// <summary>The spreadsheet, where the file is one that somebody kept by hand.</summary>
    public SheetTable? Sheet { get; private set; }

    /// <summary>How it is understood.</summary>
    public SheetMap? Map { get; private set; }

    /// <summary>What was understood of it.</summary>
    public SheetEntries? Understood { get; private set; }

    /// <summary>What each column was said to hold; empty to guess.</summary>
    public IReadOnlyList<string> Said { get; private set; } = [];

    /// <summary>The hookup at places for which the sheet names none, as it was chosen; null to guess.</summary>
    public string? PlaceHookup { get; private set; }

    private const int MostImports = 5;

    /// <summary>What was imported into the rig at hand, the newest first.</summary>
    public IReadOnlyList<ImportedBatch> Imports => house.MayChange ? store.Log.Imports(house.Rig!.Id, MostImports) : [];

    /// <summary>Whether there is a trip whose plan can be handed out.</summary>
    public bool HasPlan => house.Rig is { } rig && trips.Current(rig)?.Plan is not null;

    /// <summary>What a column may hold, each with its words.</summary>
    public IReadOnlyList<(string Value, string Words)> Uses(Rig rig) =>
        [.. Enum.GetValues<SheetColumn>().SelectMany(kind => kind is SheetColumn.Level or SheetColumn.Dumped or SheetColumn.Rinsed or SheetColumn.Treatment
            ? rig.Tanks.Select(t => (Tank?)t).Prepend(null).Select(t => (new SheetUse(kind, t?.Id).Word, ImportWords.Use(kind, t)))
            : [(new SheetUse(kind).Word, ImportWords.Use(kind, null))])];

    public void OnGet()
    {
    }

    /// <summary>Takes a whole import out of the log, or puts it back.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostUndo(string? batch, string? back)
    {
        if (batch is null || !batch.StartsWith(LogWriter.ImportBatch, StringComparison.Ordinal)) return NotFound();
        var count = back == "yes" ? store.Writer.RestoreBatch(house.Rig!.Id, batch, house.Who) : store.Writer.WithdrawBatch(house.Rig!.Id, batch, house.Who);
        if (count == 0) return NotFound();
        TempData[TodayModel.Logged] = back == "yes" ? ImportSays.PutBack(SharedSays.EntriesOf(count)) : ImportSays.Undone(SharedSays.EntriesOf(count));
        return RedirectToPage();
    }

    /// <summary>Looks at the same spreadsheet again, its columns understood as a person says.</summary>
    public IActionResult OnPostColumns(string? token, string? into, string? name, string? order, string? hookup, string[]? column)
    {
        (Into, FileName, Order, PlaceHookup, Said) = (into ?? "", name, order, hookup, column ?? []);
        if (uploads.Find(token, house.PersonId) is not { } content) return Refuse(new Problem("file", ImportSays.TheUploadExpiredChooseTheFile));
        Token = token;
        return Look(content) ? Page() : Refuse();
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
        var good = Look(content);
        if (good || Sheet is not null) Token = uploads.Keep(content, house.PersonId); // a spreadsheet that was not understood can be explained
        return good ? Page() : Refuse();
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

    public IActionResult OnPostConfirm(string? token, string? into, string? name, string? order, string? hookup, string[]? column)
    {
        (Into, FileName, Order, PlaceHookup, Said) = (into ?? "", name, order, hookup, column ?? []);
        if (uploads.Find(token, house.PersonId) is not { } content) return Refuse(new Problem("file", ImportSays.TheUploadExpiredChooseTheFile));
        if (!Look(content)) return Refuse();
        var count = Preview!.Plan.New.Count;
        var said = ImportSays.Added(Preview.Target is null ? Preview.NewRig!.Name : null, SharedSays.EntriesOf(count), Preview.Plan.AlreadyThere);
        if (count >= ImportJobs.Many)
        {
            var job = jobs.Begin(Preview, house.Who, house.PersonId, said);
            uploads.Forget(token!, house.PersonId);
            return RedirectToPage("/Import/Working", new { job });
        }
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
        TempData[TodayModel.Logged] = said;
        return RedirectToPage("/Today/Index");
    }

    private bool Look(byte[] content)
    {
        var mine = Rigs;
        var chosen = int.TryParse(Into, NumberStyles.None, CultureInfo.InvariantCulture, out var id) && mine.Any(r => r.Id == id) ? store.Find(id) : null;
        if (SheetTable.IsWorkbook(content) || CsvDates.IsKeptByHand(content)) return LookAtSheet(content,
            chosen ?? (Into != NewRig && house.MayChange ? house.Rig : null));
        // A table names no rig: it goes to the rig in front of the person.
        var table = content.AsSpan().TrimStart("\uFEFF \t\r\n"u8) is not [(byte)'{', ..];
        Dates = table ? CsvDates.Read(content, house.Zone, house.Style.MonthFirst, Order switch { "month" => true, "day" => false, _ => null }) : null;
        if (Dates is not null) content = Dates.Utf8.ToArray();
        if (chosen is null && Into != NewRig && table && house.MayChange) chosen = house.Rig;
        Preview = importing.Preview(content, chosen, name => mine.FirstOrDefault(r => r.Name == name) is { } same ? store.Find(same.Id) : null, Into == NewRig);
        Errors = Preview.Errors;
        return Preview.Ok;
    }

    private bool LookAtSheet(byte[] content, StoredRig? target)
    {
        var read = SheetTable.Read(content);
        if (read.Value is { } sheet && target is not null)
        {
            Sheet = sheet;
            var guess = SheetMap.Guess(sheet, target.Rig, house.Style.MonthFirst);
            Map = guess with
            {
                Columns = [.. guess.Columns.Select((c, i) => i < Said.Count && SheetUse.Parse(Said[i], target.Rig) is { } said ? said : c)],
                MonthFirst = Order switch { "month" => true, "day" => false, _ => guess.MonthFirst },
                UnknownHookup = Codes<Hookup>.TryParse(PlaceHookup, out var hookup) ? hookup : guess.UnknownHookup,
            };
            Understood = SheetReading.Read(sheet, Map, target.Rig, house.Zone, house.Now);
            Preview = importing.Preview(target, Understood);
            Errors = Preview.Errors;
            return Preview.Ok;
        }
        Errors = read.Ok ? [new Problem("", ImportSays.ASpreadsheetNeedsARig)] : read.Errors;
        return false;
    }

    private PageResult Refuse(params Problem[] problems)
    {
        if (problems.Length > 0) Errors = problems;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
