using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>The first run: name the rig, pick its tanks, say who is aboard and where; then Today.</summary>
[NoRig]
public sealed class StartModel(CurrentRequest house, RigStore store, TripStore trips, TanksophosContext database) : PageModel
{
    /// <summary>The steps, in order.</summary>
    public static IReadOnlyList<string> Steps => [StartSays.RigAndTanks, StartSays.PanelAndPeople, StartSays.WhereYouAre];

    // Tanks are drawn at this size until one is typed: 40 gal, the commonest.
    private const double UsualL = 40 * UsMeasures.GallonL;

    // Tanks in the field hold 15 to 50 gal; far outside of that a slip of the finger is likelier.
    private const double MinL = 8, MaxL = 600;

    public sealed record Answers(string? Name, string? Layout, string? Black, string? Gray, string? People, string? Monitor, string? Hookup, string? Units,
        bool Emptied);

    public Answers Given { get; private set; } = new("", "black-and-gray", "", "", "2", "probes", "full", "us", false);

    public IReadOnlyDictionary<string, string> Problems { get; private set; } = new Dictionary<string, string>();

    /// <summary>The step that the first problem is in; 1 for none.</summary>
    public int FirstStep => Problems.Keys.Select(f => f switch { "monitor" or "people" => 2, "hookup" => 3, _ => 1 }).DefaultIfEmpty(1).Min();

    /// <summary>The rig as far as it is typed, to be drawn.</summary>
    public Rig Drawn
    {
        get
        {
            var units = Given.Units == "metric" ? Units.Metric : Units.Us;
            double Typed(string? text) => units.TryParseVolume(text, out var litres) && litres is >= MinL and <= MaxL ? litres : UsualL;
            var layout = Codes<StartingLayout>.TryParse(Given.Layout, out var l) ? l : StartingLayout.BlackAndGray;
            return StartingLayouts.Build("rig", layout, 0, Typed(Given.Black), Typed(Given.Gray),
                Codes<MonitorKind>.TryParse(Given.Monitor, out var kind) ? kind : MonitorKind.Probes);
        }
    }

    public void OnGet()
    {
    }

    /// <summary>The tanks as they are being typed; nothing is written.</summary>
    public IActionResult OnPostDraw(string? layout, string? black, string? gray, string? monitor, string? units)
    {
        Given = Given with { Layout = layout, Black = black, Gray = gray, Monitor = monitor, Units = units };
        return Partial("_StartDrawing", this);
    }

    /// <summary>Adds the sample rig with its log and its trip, as the person's own; it can be deleted like any other.</summary>
    public IActionResult OnPostSample()
    {
        var now = Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds());
        var season = DemoSeason.Until(now);
        var rig = store.Add(season.Rig, season.Entries, house.Who, owner: house.PersonId);
        trips.Add(rig, DemoSeason.TripAt(now), house.Who);
        house.Choose(rig);
        return RedirectToPage("/Today/Index");
    }

    public IActionResult OnPost(string? name, string? layout, string? black, string? gray, string? people, string? monitor, string? hookup, string? units,
        string? emptied)
    {
        Given = new Answers(name, layout, black, gray, people, monitor, hookup, units, emptied == "yes");
        var problems = new Dictionary<string, string>();
        var inUnits = units == "metric" ? Units.Metric : Units.Us;
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > 60) problems["name"] = StartSays.NameUse1To60Characters;
        if (!Codes<StartingLayout>.TryParse(layout, out var tanks)) problems["layout"] = StartSays.TanksPickOneOfTheThree;
        double blackL = 0;
        if (tanks != StartingLayout.GrayOnly) blackL = Capacity(black, "black", SharedSays.Black, inUnits, problems);
        var grayL = Capacity(gray, "gray", SharedSays.Gray, inUnits, problems);
        if (!int.TryParse(people, NumberStyles.None, CultureInfo.InvariantCulture, out var count) || count > EntryCodec.MaxPeople)
            problems["people"] = SharedSays.PeopleEnterAWholeNumberFrom(EntryCodec.MaxPeople);
        if (!Codes<MonitorKind>.TryParse(monitor, out var kind)) problems["monitor"] = StartSays.PanelPickOneOfTheThree;
        if (!Codes<Hookup>.TryParse(hookup, out var connected)) problems["hookup"] = StartSays.HookupPickOne;
        if (problems.Count > 0)
        {
            Problems = problems;
            Response.StatusCode = StatusCodes.Status400BadRequest;
            return Page();
        }
        var rig = StartingLayouts.Build(name!.Trim(), tanks, count, blackL, grayL, kind);
        var zone = house.DeviceZone;
        var now = Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(zone).ToOffsetDateTime();
        List<LogEntry> entries = [new StayEntry { Id = TodayModel.NewId(), At = now, Hookup = connected, Zone = zone }];
        if (Given.Emptied) entries.AddRange(rig.Tanks.Select(t =>
            new DumpEntry { Id = TodayModel.NewId(), At = now, Tank = t.Id, Note = StartSays.EmptyAtTheStart }));
        house.Choose(store.Add(rig, entries, house.Who, owner: house.PersonId));
        database.Users.Where(p => p.Id == house.PersonId).ExecuteUpdate(u => u.SetProperty(p => p.Units, inUnits.Code));
        TempData[PracticeModel.Offer] = true;
        return RedirectToPage("/Today/Index");
    }

    private static double Capacity(string? typed, string field, string name, Units units, Dictionary<string, string> problems)
    {
        if (!units.TryParseVolume(typed, out var litres)) problems[field] = StartSays.CapacityEnter(name, units.AcceptedVolume);
        else if (litres is < MinL or > MaxL)
            problems[field] = StartSays.CapacityEnterBetween(name, units.Volume(MinL), units.Volume(MaxL),
                units.Number(Plausibility.SmallTankL), units.Volume(Plausibility.LargeTankL));
        return litres;
    }
}
