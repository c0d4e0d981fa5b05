using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using NodaTime;
using NodaTime.Text;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>Everything that was written down, newest first: by day, narrowed by tank, kind and text, with what each entry changed.</summary>
public sealed class LogbookModel(CurrentRequest house, RigStore store, RigCache memory, PhotoStore photos) : PageModel
{
    /// <summary>Entries on one page.</summary>
    public const int PageSize = 60;

    // Longest stretch of time that is drawn above the list.
    private static readonly Duration LongestRibbon = Duration.FromDays(45);

    /// <summary>Longest text searched for.</summary>
    public const int LongestSearch = 100;

    public EntryPage Entries { get; private set; } = new([], 0);

    public EntryFilter Filter { get; private set; } = EntryFilter.None;

    public bool Narrowed => Filter != EntryFilter.None;

    public IReadOnlyDictionary<string, BeliefChange> Changes { get; private set; } = new Dictionary<string, BeliefChange>();

    public ILookup<string, StoredPhoto> Photos { get; private set; } = Array.Empty<StoredPhoto>().ToLookup(p => p.EntryKey);

    public RibbonGeometry? Ribbon { get; private set; }

    public int PageNumber { get; private set; } = 1;

    public int LastPage => Math.Max(1, (Entries.Total + PageSize - 1) / PageSize);

    public string? Problem { get; private set; }

    public IActionResult OnGet(string? p, string? tank, string? type, string? text, string? day)
    {
        var rig = house.Rig!;
        Filter = new EntryFilter(Blank(tank), EntryTypes.All.Contains(type) ? type : null, Blank(text?.Length > LongestSearch ? text[..LongestSearch] : text));
        PageNumber = int.TryParse(p, out var n) && n is >= 1 and <= 1_000_000 ? n : 1;
        if (!string.IsNullOrEmpty(day))
        {
            if (LocalDatePattern.Iso.Parse(day) is { Success: true, Value: { Year: >= 1900 and <= 2200 } date })
                return RedirectToPage(null, null,
                    new
                    {
                        p = store.Log.CountAfter(rig.Id, house.Zone.AtStartOfDay(date.PlusDays(1)).ToInstant(), Filter) / PageSize + 1,
                        tank = Filter.Tank,
                        type = Filter.Type,
                        text = Filter.Text
                    }, "d" + day);
            Problem = LogbookSays.DayEnterADateSuchAs;
        }
        Entries = string.IsNullOrWhiteSpace(Filter.Text)
            ? store.Log.Page(rig.Id, (PageNumber - 1) * PageSize, PageSize, Filter, memory.Count(rig, store, Filter))
            : store.Log.Page(rig.Id, memory.Found(rig, store, Filter), (PageNumber - 1) * PageSize, PageSize);
        if (Entries.Entries.Count == 0 && PageNumber > 1)
            return RedirectToPage(new { p = LastPage, tank = Filter.Tank, type = Filter.Type, text = Filter.Text });
        var keys = Entries.Entries.Select(e => e.Key).ToList();
        Changes = memory.Changes(rig, store, keys);
        Photos = photos.Of(rig.Id, keys).Where(f => !f.Removed).ToLookup(f => f.EntryKey);
        if (Entries.Entries.Count > 1)
        {
            var to = Entries.Entries.Max(e => e.Entry.Instant);
            var from = Instant.Max(Entries.Entries.Min(e => e.Entry.Instant), to - LongestRibbon);
            Ribbon = new RibbonGeometry(rig.Rig, memory.Stretch(rig, store, from, to), from, to, house.Zone);
        }
        return Page();
    }

    public IActionResult OnPostUndo(string? key, string? p) => Change(key, true, p);

    public IActionResult OnPostRestore(string? key, string? p) => Change(key, false, p);

    /// <summary>What an entry changed in the belief: "14 to 0.4 gal"; null if nothing worth saying.</summary>
    public static string? ChangeWords(BeliefChange? change, Units units)
    {
        ArgumentNullException.ThrowIfNull(units);
        if (change is null) return null;
        var (before, after) = (units.Number(Math.Max(0, change.BeforeL)), units.Number(Math.Max(0, change.AfterL)));
        var level = before != after ? LogbookSays.Estimate(before, after, units.VolumeSymbol)
            : change.AfterSdL < 0.85 * change.BeforeSdL ? LogbookSays.EstimateMoreCertain(after, units.VolumeSymbol) : null;
        var lamps = string.Join(", ", change.Doubted.Select(l => LogbookSays.LightNotTrustedNow(l))
            .Concat(change.Trusted.Select(l => LogbookSays.LightTrustedAgain(l))));
        return (level, lamps) switch { (null, "") => null, (null, _) => lamps, (_, "") => level, _ => $"{level}; {lamps}" };
    }

    private IActionResult Change(string? key, bool withdrawn, string? p)
    {
        var rig = house.Rig!;
        if (key is null || store.Writer.Withdraw(rig.Id, key, withdrawn, house.Who) is not { } entry) return NotFound();
        TempData[TodayModel.Logged] = $"{(withdrawn ? LogbookSays.TakenBack : SharedSays.PutBack)}: {new EntryWords(rig.Rig, house.Units).Line(entry)}";
        return RedirectToPage(new { p });
    }

    private static string? Blank(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}
