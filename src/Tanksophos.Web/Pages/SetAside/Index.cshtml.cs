using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>
/// The rows of a rig that cannot be read: set aside from everything else, named here with their raw text, to be corrected, withdrawn or downloaded.
/// </summary>
[NoRig]
public sealed class SetAsideModel(CurrentRequest house, SetAsideStore rows, RigCache memory, PlanMemory plans) : FormPage
{
    /// <summary>Longest text that is taken back, in characters.</summary>
    public const int LongestRaw = 1_000_000;

    private IReadOnlyList<SetAsideItem>? found;

    /// <summary>The rows.</summary>
    public IReadOnlyList<SetAsideItem> Rows => found ??= house.Chosen is { } rig ? rows.Of(rig.Id) : [];

    /// <summary>Name of the rig.</summary>
    public string RigName => house.Chosen?.Name ?? "";

    /// <summary>Whether the person may mend the rows.</summary>
    public bool MayMend => house.Chosen is { Role: Role.Owner };

    /// <summary>The row that was being corrected, and what was typed.</summary>
    public (string Row, string Raw)? Typed { get; private set; }

    public IActionResult OnGet() => house.AskedForOthers ? NotFound() : Page();

    /// <summary>One row as a file; without a kind all of them, one a line.</summary>
    public IActionResult OnGetRaw(string? kind, string? key, int revision)
    {
        if (house.AskedForOthers) return NotFound();
        if (string.IsNullOrEmpty(kind))
            return File(JsonSerializer.SerializeToUtf8Bytes(Rows.Select(r => new
            {
                kind = Codes<SetAsideKind>.Word(r.Kind),
                key = r.Key,
                revision = r.Revision,
                at = r.At.ToString(),
                who = r.Who,
                reason = r.Reason,
                raw = r.Raw
            })), "application/json", "set-aside.json");
        return Codes<SetAsideKind>.TryParse(kind, out var k) && Rows.FirstOrDefault(r => r.Kind == k && r.Key == key && r.Revision == revision) is { } row
            ? File(Encoding.UTF8.GetBytes(row.Raw), "application/octet-stream", $"set-aside-{kind}-{revision}.json") : NotFound();
    }

    public IActionResult OnPostCorrect(string? kind, string? key, string? raw)
    {
        if (Refused(kind, out var k) is { } no) return no;
        Typed = ($"{kind}/{key}", raw ?? "");
        if (raw is null || raw.Length > LongestRaw) return Refuse(SetAsideSays.TextUse1ToCharacters(LongestRaw));
        var problems = rows.Correct(house.Chosen!.Id, k, key ?? "", raw, house.Who);
        return problems.Count > 0 ? Refuse([.. problems.Take(8).Select(p => p + ".")]) : Mended(SetAsideSays.CorrectedItCountsAgain);
    }

    public IActionResult OnPostWithdraw(string? kind, string? key)
    {
        if (Refused(kind, out var k) is { } no) return no;
        return rows.Withdraw(house.Chosen!.Id, k, key ?? "", house.Who) ? Mended(SetAsideSays.WithdrawnItsTextStaysInThe)
            : Refuse(SetAsideSays.ThatRowIsGoneOrTheres);
    }

    /// <summary>What a kind of row is called.</summary>
    public static string Title(SetAsideItem row)
    {
        ArgumentNullException.ThrowIfNull(row);
        return row.Kind switch
        {
            SetAsideKind.Entry => SetAsideSays.LogEntry,
            SetAsideKind.EntryVersion => SetAsideSays.VersionOfALogEntry(row.Revision),
            SetAsideKind.Rig => SetAsideSays.TheRigsDetails,
            SetAsideKind.RigVersion => SetAsideSays.VersionOfTheRigsDetails(row.Revision),
            SetAsideKind.Trip => SetAsideSays.Trip(row.Key),
            SetAsideKind.TripVersion => SetAsideSays.VersionOfTrip(row.Revision, row.Key),
            SetAsideKind.Run => SetAsideSays.DumpRun(row.Key),
            _ => SetAsideSays.PressInADumpRun(row.Key),
        };
    }

    private IActionResult? Refused(string? kind, out SetAsideKind k)
    {
        k = default;
        if (house.AskedForOthers || house.Chosen is null) return NotFound();
        if (!MayMend) return StatusCode(StatusCodes.Status403Forbidden);
        return Codes<SetAsideKind>.TryParse(kind, out k) ? null : Refuse(SetAsideSays.RowChooseOneOf(string.Join(", ", Codes<SetAsideKind>.All)));
    }

    private RedirectToPageResult Mended(string words)
    {
        memory.Forget(house.Chosen!.Id);
        plans.Clear();
        TempData[TodayModel.Logged] = words;
        return RedirectToPage();
    }
}
