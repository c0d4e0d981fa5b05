using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>Closing and opening the season, one step a screen; it can be left and gone on with at any time.</summary>
[Needs(Role.Crew)]
public sealed class SeasonModel(CurrentRequest house, RigStore store, SeasonStore seasons, AgendaService agenda) : FormPage
{
    private const int MostMonths = 60;

    /// <summary>Which end is asked for.</summary>
    public ChoreSeason End { get; private set; }

    /// <summary>What is under way; null before the first question is answered.</summary>
    public StoredSeason? Season { get; private set; }

    /// <summary>Its steps.</summary>
    public IReadOnlyList<SeasonStep> Steps { get; private set; } = [];

    /// <summary>Steps that the log shows.</summary>
    public IReadOnlySet<string> Seen { get; private set; } = new HashSet<string>();

    /// <summary>The step on the screen; null where all are done or none is begun.</summary>
    public SeasonStep? Step { get; private set; }

    /// <summary>Whether all steps are shown in a list.</summary>
    public bool List { get; private set; }

    /// <summary>Its sentences.</summary>
    public SeasonWords Words => new(house.Rig!.Rig, house.Units);

    /// <summary>Tanks that hold waste.</summary>
    public IReadOnlyList<Tank> WithWaste => SeasonGuide.WithWaste(house.RigSnapshot.Belief);

    /// <summary>Lights that were on over an empty tank.</summary>
    public IReadOnlyList<(string Tank, string Probe)> Lit => Season is { } s && End == ChoreSeason.Open
        ? SeasonGuide.LitOverEmpty(house.RigSnapshot.Logbook.InOrder(), house.RigSnapshot.Belief, s.StartedAt) : [];

    /// <summary>Whether the trip's weather says that it freezes where the rig will be stored, against what was said.</summary>
    public bool FrostAhead => Season is { Asked: { End: ChoreSeason.Close, Frost: false } } && TripSaysFrost;

    /// <summary>Whether trip or weather say that it freezes in storage.</summary>
    public bool TripSaysFrost => agenda.Situation.FreezesInStorage;

    /// <summary>Since when the season is already as is asked for; null if it is not.</summary>
    public OffsetDateTime? Already
    {
        get
        {
            var last = house.RigSnapshot.Logbook.InOrder().Kind<ServiceEntry>().LastOrDefault(s =>
                s.Code is ServiceCode.SeasonOpen or ServiceCode.SeasonClose);
            return last?.Code == (End == ChoreSeason.Open ? ServiceCode.SeasonOpen : ServiceCode.SeasonClose) ? last.At : null;
        }
    }

    /// <summary>Whether a step is behind: done, seen in the log, or left out.</summary>
    public bool Behind(SeasonStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return Season!.Done.ContainsKey(step.Id) || Season.Skipped.Contains(step.Id) || Seen.Contains(step.Id);
    }

    /// <summary>Minutes of what is left.</summary>
    public double MinutesLeft => Steps.Where(s => !Behind(s)).Sum(s => s.Minutes);

    public IActionResult OnGet(string? end, string? step, bool list)
    {
        if (!Find(end)) return NotFound();
        List = list && Season is not null;
        Show(step);
        return Page();
    }

    /// <summary>Answers the first question, or answers it anew.</summary>
    public IActionResult OnPostBegin(string? end, string? frost, string? sewer, string? months)
    {
        if (!Find(end)) return NotFound();
        var problems = new List<string>();
        if (End == ChoreSeason.Close && frost is not ("yes" or "no")) problems.Add(SeasonSays.FrostChoose);
        var stands = 0;
        if (!string.IsNullOrWhiteSpace(months) && !(int.TryParse(months, NumberStyles.None, CultureInfo.InvariantCulture, out stands)
            && stands <= MostMonths))
            problems.Add(SeasonSays.MonthsAccepted);
        if (problems.Count > 0) return Refuse([.. problems]);
        var asked = new SeasonAsked(End, frost == "yes", sewer == "yes", stands);
        if (Season is null)
        {
            if (seasons.Start(house.Rig!.Id, asked, house.Who).Asked.End != End) return Refuse(SeasonSays.OtherUnderWay);
        }
        else seasons.Ask(house.Rig!.Id, asked);
        return Next();
    }

    /// <summary>Marks a step as done, as left out, or as not yet done.</summary>
    public IActionResult OnPostStep(string? end, string? step, string? done)
    {
        if (!Find(end)) return NotFound();
        if (Season is null) return Refuse(SeasonSays.NotUnderWay);
        if (Steps.All(s => s.Id != step)) return Next(); // of a plan that was changed meanwhile
        seasons.Mark(house.Rig!.Id, step!, done switch { "yes" => true, "no" => false, _ => null });
        return done is "yes" or "no" ? Next() : RedirectToPage(new { end, step });
    }

    /// <summary>Finishes: writes what was done. Not while a tank holds waste.</summary>
    public IActionResult OnPostFinish(string? end, string? nobody)
    {
        if (!Find(end)) return NotFound();
        if (Season is not { } season) return Refuse(SeasonSays.NotUnderWay);
        if (End == ChoreSeason.Close && WithWaste.Count > 0) return Refuse(SeasonSays.HoldsWaste(EntryWords.And([.. WithWaste.Select(t => t.Name)])));
        if (!Steps.All(Behind)) return Next();
        OffsetDateTime At(Instant moment) => moment.InZone(house.Zone).ToOffsetDateTime();
        var done = season.Done.Where(d => !Seen.Contains(d.Key)).ToDictionary(d => d.Key, d => At(d.Value));
        var minutes = Steps.Where(s => season.Done.ContainsKey(s.Id) || Seen.Contains(s.Id)).Sum(s => s.Minutes);
        var entries = SeasonGuide.Entries(season.Asked, Steps, done, At(house.Now), minutes).ToList();
        if (nobody == "yes" && End == ChoreSeason.Close) entries.Add(new PeopleEntry { At = At(house.Now), Count = 0 });
        try
        {
            store.Writer.Record(house.Rig!.Id, [.. entries.Select((e, i) => e with { Id = $"{season.Word}-{i + 1}" })], house.Who, season.Word);
        }
        catch (EntryConflictException)
        {
            // sent twice: it is in the log
        }
        seasons.End(house.Rig!.Id);
        TempData[TodayModel.Logged] = End == ChoreSeason.Close ? SeasonSays.SeasonClosed : SeasonSays.SeasonOpened;
        return RedirectToPage("/Care/Index");
    }

    /// <summary>Gives up what is under way; what is in the log stays.</summary>
    public IActionResult OnPostGiveUp(string? end)
    {
        if (!Find(end)) return NotFound();
        seasons.End(house.Rig!.Id);
        return RedirectToPage("/Care/Index");
    }

    private RedirectToPageResult Next() => RedirectToPage(new { end = Codes<ChoreSeason>.Word(End) });

    private bool Find(string? end)
    {
        if (!Codes<ChoreSeason>.TryParse(end, out var which)) return false;
        End = which;
        Season = seasons.Active(house.Rig!.Id) is { } active && active.Asked.End == which ? active : null;
        if (Season is null) return true;
        Steps = SeasonGuide.Build(house.Rig.Rig, Season.Asked, house.Units == Units.Metric ? KitchenUnits.Metric : KitchenUnits.Us);
        Seen = SeasonGuide.Seen(house.RigSnapshot.Logbook.InOrder(), house.RigSnapshot.Belief, Steps, Season.StartedAt);
        return true;
    }

    private void Show(string? step)
    {
        if (Season is null) return;
        Step = Steps.FirstOrDefault(s => s.Id == step) ?? Steps.FirstOrDefault(s => !Behind(s));
    }
}
