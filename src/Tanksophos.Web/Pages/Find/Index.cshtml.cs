using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Data;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>What is behind a smell, a slow drain, a drip: the causes in order, the check that helps most, and what to do.</summary>
public sealed class FindModel(CurrentRequest house, RigStore store, TreatmentService desk, AgendaService agenda) : FormPage
{
    private TroubleSummary? summary;

    /// <summary>What the program makes of the log.</summary>
    public FaultReport Report => house.RigSnapshot.Faults;

    /// <summary>Whether a check is still asked for: what was just answered is not.</summary>
    public bool Asked(CauseCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return agenda.Now.Asks(Codes<CauseCheckCode>.Word(check.Code), check.Tank);
    }

    /// <summary>Its words.</summary>
    public FaultWords Words => new(house.Rig!.Rig, house.Units, house.Times);

    /// <summary>Conditions worth naming, the likeliest first.</summary>
    public IReadOnlyList<(Tank Tank, ConditionBelief Belief)> Named => Summary.Named;

    /// <summary>What somebody noticed lately, the newest first.</summary>
    public IReadOnlyList<SymptomEntry> Noticed => Summary.Noticed;

    /// <summary>Whether there is nothing to say.</summary>
    public bool Quiet => Summary.Quiet;

    /// <summary>Whether all that was noticed of a tank lately was at one drain of several.</summary>
    public bool AtOneDrain(SymptomEntry s)
    {
        ArgumentNullException.ThrowIfNull(s);
        return s.Fixture is { } drain && house.Rig!.Rig.Find(s.Tank) is { } tank && PipePlan.DrainsOf(tank).Count(f => f != PipePlan.Toilet) > 1
            && Noticed.Where(o => o.Tank == s.Tank && o.Code == s.Code).All(o => o.Fixture == drain);
    }

    /// <summary>Whether the log holds too little of every tank to tell.</summary>
    public bool TooLittle => Summary.TooLittle;

    private TroubleSummary Summary => summary ??= TroubleSummary.Compute(Report, desk.Log, house.Now);

    /// <summary>Places that can be pointed at, with their rectangle in a plan of 360 by 260.</summary>
    public static IReadOnlyList<(OdorPlace Place, string Name, int X, int Y, int Width, int Height)> Plan =>
    [
        (OdorPlace.ToiletOnFlush, FindSays.Toilet, 12, 12, 104, 58),
        (OdorPlace.BathSink, FindSays.BathSink, 118, 12, 104, 58),
        (OdorPlace.GalleySink, FindSays.GalleySink, 224, 12, 104, 58),
        (OdorPlace.Shower, FindSays.Shower, 12, 72, 104, 58),
        (OdorPlace.Bathroom, FindSays.Bathroom, 118, 72, 104, 58),
        (OdorPlace.Floor, FindSays.NearTheFloor, 224, 72, 104, 58),
        (OdorPlace.WholeRig, FindSays.Everywhere, 12, 132, 316, 54),
        (OdorPlace.StorageBay, FindSays.StorageBay, 12, 200, 157, 54),
        (OdorPlace.Outside, FindSays.Outside, 171, 200, 157, 54),
    ];

    /// <summary>The drains, tanks and valves that can be pointed at.</summary>
    public PipePlan Pipes => PipePlan.Build(house.Rig!.Rig);

    /// <summary>The part that is pointed at; null if none is.</summary>
    public PointedAt? Here { get; private set; }

    /// <summary>Checks about lamps, which have their own page.</summary>
    public IEnumerable<NextCheck> LampChecks =>
        house.RigSnapshot.Sensors.NextChecks.Where(c => agenda.Now.Asks(Codes<NextCheckCode>.Word(c.Code), c.Tank)).Take(2);

    /// <summary>The checks that the page itself shows in full, or leads to.</summary>
    public IReadOnlyCollection<string> ShownChecks =>
        [.. Report.Checks.Where(Asked).Select(c => Codes<CauseCheckCode>.Word(c.Code)), .. LampChecks.Select(c => Codes<NextCheckCode>.Word(c.Code))];

    /// <summary>The rung of a ladder that the agenda has chosen: of a tank that lets nothing out the first that fits the free space.</summary>
    public Rung NextOf(CauseCourse course)
    {
        ArgumentNullException.ThrowIfNull(course);
        return Item(course) is { } item && course.Rungs.FirstOrDefault(r => r.Number > 0 && Codes<RemedyAction>.Word(r.Action) == item.Action) is { } rung
            ? rung : course.Next;
    }

    /// <summary>What the agenda says of a ladder's next rung; null if it says nothing of it.</summary>
    public AgendaItem? Item(CauseCourse course)
    {
        ArgumentNullException.ThrowIfNull(course);
        return course.Condition is { } condition
            ? agenda.Now.Items.FirstOrDefault(i => i.Code == AgendaCode.Remedy && i.Tank == course.Tank && i.For == Codes<Condition>.Word(condition)) : null;
    }

    /// <summary>Whether a tank does not let go of what is in it.</summary>
    public bool Blocked(string? tank) => tank is not null && agenda.Now.Blocked.ContainsKey(tank);

    /// <summary>What stands in the way of a remedy, or keeps it safe, from what is in the tank now.</summary>
    /// <param name="course">The ladder.</param>
    public RungNow Now(CauseCourse course)
    {
        ArgumentNullException.ThrowIfNull(course);
        var tank = house.RigSnapshot.Belief.Tanks.FirstOrDefault(t => t.Tank.Id == course.Tank);
        if (tank is null) return RungNow.Free;
        var recipe = Words.Remedy(NextOf(course).Action, tank.Tank).Recipe is { } code ? Recipes.Find(code) : null;
        var offer = recipe is not null && recipe.For(tank.Tank.Role) ? desk.Of(recipe, tank) : null;
        // A tank that may be clogged cannot be emptied quickly: less goes in than into a sound one, treatments too.
        var clogged = course.Condition is Condition.Heap or Condition.OutletClog;
        if (offer is null ? !RungNow.PutsWaterIn(NextOf(course).Action) : !clogged) return new RungNow(offer, null, null);
        return new RungNow(offer, Guard.Limit(tank.Tank, tank.Level, FillStop.Meter, suspect: clogged), Advice.IsWide(tank) ? tank.Level : null);
    }

    /// <summary>A name in one line, or in two where the place is narrow, with how far each stands below the middle.</summary>
    public static IEnumerable<(string Line, int Y)> Lines(string name, int width)
    {
        ArgumentNullException.ThrowIfNull(name);
        var split = width < 110 ? name.LastIndexOf(' ') : -1;
        return split < 0 ? [(name, 7)] : [(name[..split], -5), (name[(split + 1)..], 19)];
    }

    /// <summary>The page, with a part of the drains pointed at or without.</summary>
    /// <param name="tank">Id of the tank.</param>
    /// <param name="drain">The rig's word for a drain.</param>
    /// <param name="part">"valve" or "outlet".</param>
    public IActionResult OnGet(string? tank, string? drain, string? part)
    {
        if (tank is null && drain is null && part is null) return Page();
        Here = PointedAt.Find(house.Rig!.Rig, tank, drain, part);
        return Here is null ? NotFound() : Page();
    }

    /// <summary>Logs what was noticed, now.</summary>
    public IActionResult OnPostNoticed(string? id, string? code, string? tank, string? drain)
    {
        if (!Codes<SymptomCode>.TryParse(code, out var symptom)) return Refuse(FindSays.NoticedChooseOneOf(string.Join(", ", Codes<SymptomCode>.All)));
        if (!string.IsNullOrEmpty(tank) && house.Rig!.Rig.Find(tank) is null) return Refuse(FindSays.TankChooseOneOfTheRigs);
        if (!string.IsNullOrEmpty(drain) && (house.Rig!.Rig.Find(tank) is not { } fed || !PipePlan.DrainsOf(fed).Contains(drain)))
            return Refuse(FindSays.DrainChooseOneThatDrainsTo);
        var alarm = symptom == SymptomCode.PropaneAlarm;
        return Record(new SymptomEntry
        {
            Id = Key(id),
            At = Moment,
            Code = symptom,
            Tank = string.IsNullOrEmpty(tank) || alarm ? null : tank,
            Fixture = string.IsNullOrEmpty(drain) || alarm ? null : PointedAt.Kept(drain)
        });
    }

    /// <summary>Logs how a check came out.</summary>
    public IActionResult OnPostCheck(string? id, string? code, string? tank, string? result)
    {
        if (!Codes<CheckCode>.TryParse(code, out var check)) return Refuse(FindSays.CheckChooseOneOf(string.Join(", ", Codes<CheckCode>.All)));
        if (!Codes<CheckResult>.TryParse(result, out var came)) return Refuse(SharedSays.ResultChoosePassOrFail);
        return Record(new CheckEntry { Id = Key(id), At = Moment, Code = check, Result = came, Tank = house.Rig!.Rig.Find(tank)?.Id });
    }

    private OffsetDateTime Moment => Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime();

    private static string Key(string? id) => id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId();

    private IActionResult Record(LogEntry entry) => Written(store, house, entry, () => RedirectToPage());
}
