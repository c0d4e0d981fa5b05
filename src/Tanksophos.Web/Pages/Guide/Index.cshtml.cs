using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Docs;

namespace Tanksophos.Web.Pages;

/// <summary>The guide: how to use the program, the craft itself, questions, formats. Searchable, without a network.</summary>
[NoRig]
public sealed class GuideModel(DocsLibrary library) : PageModel
{
    // Where the question mark of each room leads.
    private static readonly Dictionary<string, (string Slug, string Section)> Rooms = new(StringComparer.OrdinalIgnoreCase)
    {
        ["Today"] = ("guide", "every-day"),
        ["Run"] = ("guide", "the-dump-run"),
        ["Trip"] = ("guide", "planning-a-trip"),
        ["Find"] = ("guide", "troubleshoot"),
        ["Sensors"] = ("guide", "when-a-light-is-not-trusted"),
        ["Treat"] = ("guide", "treatments"),
        ["Care"] = ("guide", "care-through-the-year"),
        ["Practice"] = ("practice", ""),
        ["Logbook"] = ("guide", "finding-something-again"),
        ["Rig"] = ("guide", "setting-the-rig-right"),
        ["Rules"] = ("handbook", ""),
        ["Import"] = ("data", ""),
        ["Account"] = ("accounts", ""),
        ["Log"] = ("guide", "every-day"),
        ["Devices"] = ("devices", ""),
        ["Weather"] = ("weather", ""),
        ["Notices"] = ("devices", "notices"),
    };

    /// <summary>The most that is searched for, in characters.</summary>
    public const int LongestSearch = 80;

    public IReadOnlyList<DocsPage> Pages => library.Pages;

    /// <summary>The page shown; null for results.</summary>
    public DocsPage? Shown { get; private set; }

    /// <summary>What is searched for.</summary>
    public string Asked { get; private set; } = "";

    public IReadOnlyList<DocsHit> Hits { get; private set; } = [];

    /// <summary>Every room that has a place in the guide.</summary>
    internal static IReadOnlyDictionary<string, (string Slug, string Section)> Places => Rooms;

    public IActionResult OnGet(string? slug, string? q, string? at)
    {
        if (at is not null) return Rooms.TryGetValue(at, out var place)
            ? Redirect($"~/guide/{place.Slug}{(place.Section.Length > 0 ? "#" + place.Section : "")}")
            : Redirect("~/guide");
        Asked = q is null ? "" : q.Length > LongestSearch ? q[..LongestSearch] : q;
        if (Asked.Trim().Length > 0)
        {
            Hits = library.Search(Asked);
            return Page();
        }
        Shown = library.Find(slug ?? "guide");
        return Shown is null ? NotFound() : Page();
    }
}
