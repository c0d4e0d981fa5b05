using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>
/// The quick log: a reading, a dump, water, people, a place. With scripts it comes up as a sheet over any page; without, it is a page of its own. What is
/// sent goes to Today's forms.
/// </summary>
[Needs(Role.Crew)]
public sealed class LogModel(CurrentRequest house) : PageModel
{
    /// <summary>The kinds that the sheet itself takes.</summary>
    public static IReadOnlyList<(string Code, string Name, string Icon)> Kinds =>
        [("reading", LogSays.Reading, "panel"), ("dump", LogSays.Dump, "dump"), ("water", SharedSays.Water, "water"),
        ("people", SharedSays.People, "people"), ("place", LogSays.Place, "place")];

    /// <summary>The kinds that have a page, as the page knows them.</summary>
    public static IReadOnlyList<(string Code, string Name, string Icon)> Others =>
        [("odor", LogSays.Smell, "odor"), ("symptom", SharedSays.Problem, "symptom"), ("", LogSays.Other, "more")];

    /// <summary>The kind in front.</summary>
    public string Kind { get; private set; } = Kinds[0].Code;

    /// <summary>The tank in front.</summary>
    public string Tank { get; private set; } = "";

    /// <summary>The page to go back to, a path of this program.</summary>
    public string Back { get; private set; } = "/";

    /// <summary>Whether it is asked for as a sheet over another page.</summary>
    public bool AsSheet => Request.Headers["X-Part"] == "log";

    public Circumstances Now => house.RigSnapshot.Advice.Circumstances;

    public IReadOnlyList<TankView> Tanks => tanks ??= TankView.All(house.RigSnapshot, house.Units);

    /// <summary>What this household did at its last dump, to be logged again in one tap; empty if there was none.</summary>
    public IReadOnlyList<LogEntry> Usual => usual ??=
        LastRunTemplate.Of(house.RigSnapshot.Logbook.Entries, house.Now.InZone(house.Zone).ToOffsetDateTime());

    public IActionResult OnGet(string? kind, string? tank, string? back)
    {
        if (kind is not null && Kinds.Any(k => k.Code == kind)) Kind = kind;
        Tank = (house.Rig!.Rig.Find(tank) ?? house.Rig.Rig.Tanks[0]).Id;
        if (back is not null && Url.IsLocalUrl(back)) Back = back;
        return AsSheet ? Partial("_LogSheet", this) : Page();
    }

    private IReadOnlyList<TankView>? tanks;
    private IReadOnlyList<LogEntry>? usual;
}
