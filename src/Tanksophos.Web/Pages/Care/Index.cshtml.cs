using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using NodaTime.Text;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Care;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>The chores of the year: what is due, what was done when, and what it costs.</summary>
public sealed class CareModel(CurrentRequest house, RigStore store, AgendaService agenda) : FormPage
{
    private const int ThisMonthDays = 31, MostPutOffDays = 366, ManyLate = 4;

    /// <summary>All chores, the most urgent first.</summary>
    public IReadOnlyList<CareItem> Items => agenda.Situation.Care;

    /// <summary>Its sentences.</summary>
    public CareWords Words => new(house.Rig!.Rig, house.Times, house.Units);

    /// <summary>When it freezes: winterized by the log, and cold places in storage on the trip.</summary>
    public IReadOnlyList<(Instant From, Instant To)> Frost => frost ??= [.. Freezing()];

    private IEnumerable<(Instant From, Instant To)> Freezing()
    {
        var services = house.RigSnapshot.Logbook.InOrder().Kind<ServiceEntry>();
        foreach (var close in services.Where(s => s is { Code: ServiceCode.SeasonClose, Frost: true }))
            yield return (close.Instant, services.FirstOrDefault(s => s.Code == ServiceCode.SeasonOpen && s.Instant > close.Instant)?.Instant ?? house.Now);
        foreach (var stop in agenda.Situation.Stops.Where(s => s.Hookup == StopHookup.Storage && s.Freezes))
            yield return (stop.Arrive.ToInstant(), stop.Depart.ToInstant());
    }

    /// <summary>Those that the agenda asks for now, in its order: what it holds back, or a remedy does already, is not asked for here either.</summary>
    public IEnumerable<CareItem> Now => now ??= [.. agenda.Now.Items.Where(i => i is { Code: AgendaCode.Care, CareItem: not null }
        && i.CareItem.Asks(house.Now))
        .Select(i => i.CareItem!)];

    private IReadOnlyList<CareItem>? now;
    private IReadOnlyList<(Instant From, Instant To)>? frost;

    /// <summary>Whether a chore that is due must wait, or is done by something else on the agenda.</summary>
    public bool Waits(CareItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        return item.Asks(house.Now) && !Now.Contains(item);
    }

    /// <summary>Whether the agenda holds it back.</summary>
    public bool IsHeld(CareItem item) => agenda.Now.Held.Any(h => h.Item.CareItem == item);

    /// <summary>What is done instead of a chore that is due, or why it waits; null for nothing.</summary>
    public string? Instead(CareItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        if (!Waits(item)) return null;
        if (agenda.Now.Held.FirstOrDefault(h => h.Item.CareItem == item) is { } held) return agenda.Texts.Of(held);
        return agenda.Now.Items.FirstOrDefault(i => i.Tank == item.Tank && Court.Cleans(i)) is { } remedy ? CareSays.CoveredBy(agenda.Texts.Of(remedy).Title)
            : CareSays.CoveredByTreatment;
    }

    /// <summary>Those due within a month.</summary>
    public IEnumerable<CareItem> Month => Items.Where(i => Waits(i) || Counts(i) && i.Due <= house.Now + Duration.FromDays(ThisMonthDays));

    /// <summary>Those due later.</summary>
    public IEnumerable<CareItem> Later => Items.Where(i => Counts(i) && i.Due > house.Now + Duration.FromDays(ThisMonthDays));

    private bool Counts(CareItem item) => !item.Asks(house.Now) && item.State != CareState.Never;

    /// <summary>Those that nobody ever logged and that nothing asks for.</summary>
    public IEnumerable<CareItem> NotLogged => Items.Where(i => !i.Asks(house.Now) && i.State == CareState.Never);

    /// <summary>How many are late, where that is so many that the log was probably not kept for it; 0 else.</summary>
    public int Flood => Items.Count(i => i.State == CareState.Overdue) is var late && late >= ManyLate ? late : 0;

    /// <summary>Drains of the rig that could go unused, and those that do.</summary>
    public IReadOnlyList<string> Drains => [.. house.Rig!.Rig.Tanks.SelectMany(t => t.Fixtures).Where(f => !f.Contains("toilet",
        StringComparison.OrdinalIgnoreCase))
        .Concat(house.Rig.Rig.UnusedFixtures ?? []).Distinct(StringComparer.OrdinalIgnoreCase)];

    /// <summary>Chores that can be taken over.</summary>
    public IEnumerable<OwnChore> Ready => ReadyMade.Of(LivedIn, CareSays.Ready).Where(r => house.Rig!.Rig.Chores.All(c => c.Id != r.Id));

    /// <summary>Minutes and cost since New Year.</summary>
    public (double Minutes, int CostMinor) Year
    {
        get
        {
            var from = new LocalDate(house.Now.InZone(house.Zone).Year, 1, 1).AtStartOfDayInZone(house.Zone).ToInstant();
            var log = house.RigSnapshot.Logbook.InOrder();
            var chores = log.Kind<ChoreEntry>().Where(c => c.Instant >= from && c.Result != ChoreResult.Skipped).ToList();
            var services = log.Kind<ServiceEntry>().Where(s => s.Instant >= from).ToList();
            return (chores.Sum(c => c.Minutes ?? 0) + services.Sum(s => s.Minutes ?? 0), chores.Sum(c => c.CostMinor ?? 0) + services.Sum(s =>
                s.CostMinor ?? 0));
        }
    }

    // Whoever has not stored it for half a year lives in it.
    private bool LivedIn => Items.All(i => i.Chore != ChoreWords.StorageCheck) && house.RigSnapshot.Logbook.InOrder() is [{ } first, ..] log
        && house.Now - first.Instant > Duration.FromDays(180) && !log.Kind<StayEntry>().Any(s => s.Hookup == Hookup.Storage);

    /// <summary>What was typed into a form that was not taken.</summary>
    public string Typed(string field) => Request.HasFormContentType ? Request.Form[field].ToString() : "";

    public IActionResult OnGet() => Page();

    /// <summary>Logs a chore: done, done with a problem, or left out.</summary>
    [Needs(Role.Crew)]
    public IActionResult OnPostDone(string? chore, string? tank, string? result, string? id, string? minutes, string? cost, string? part, string? day,
        string? note)
    {
        if (Find(chore, tank) is not { } item) return Refuse(CareSays.ChoreGone);
        var problems = new List<string>();
        if (!Codes<ChoreResult>.TryParse(result ?? "done", out var how)) problems.Add(CareSays.ResultChoose);
        var (took, paid) = (Minutes(minutes, problems), Cost(cost, problems));
        var at = house.Now.InZone(house.Zone).ToOffsetDateTime();
        if (!string.IsNullOrWhiteSpace(day))
        {
            if (LocalDatePattern.Iso.Parse(day) is { Success: true, Value: var date } && date <= at.Date && date.Year >= 1990)
                at = date == at.Date ? at : (date + new LocalTime(12, 0)).InZoneLeniently(house.Zone).ToOffsetDateTime();
            else problems.Add(CareSays.DayNotAhead);
        }
        if (problems.Count > 0) return Refuse([.. problems]);
        return Written(store, house, Entry(item, id, at) with
        {
            Result = how,
            Minutes = took,
            CostMinor = paid,
            Part = Text(part),
            Note = Text(note)
        },
            () => RedirectToPage());
    }

    /// <summary>Puts a chore off until a day.</summary>
    [Needs(Role.Crew)]
    public IActionResult OnPostPutOff(string? chore, string? tank, string? until, string? id, string? note)
    {
        if (Find(chore, tank) is not { } item) return Refuse(CareSays.ChoreGone);
        var today = house.Now.InZone(house.Zone).Date;
        if (LocalDatePattern.Iso.Parse(until ?? "") is not { Success: true, Value: var day } || day <= today || day > today.PlusDays(MostPutOffDays))
            return Refuse(CareSays.DayBetween);
        return Written(store, house, Entry(item, id, house.Now.InZone(house.Zone).ToOffsetDateTime()) with
        {
            Result = ChoreResult.Skipped,
            Until = (day + new LocalTime(9, 0)).InZoneLeniently(house.Zone).ToOffsetDateTime(),
            Note = Text(note)
        }, () => RedirectToPage());
    }

    /// <summary>Switches a chore off or on.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostSwitch(string? chore, bool on)
    {
        var rig = house.Rig!;
        if (chore is null || !ChoreWords.All.Contains(chore) && rig.Rig.Chores.All(c => c.Id != chore)) return Refuse(CareSays.ChoreGone);
        var name = Words.Name(chore, null);
        return Change(r => r with { ChoresOff = [.. r.ChoresOff.Where(c => c != chore).Concat(on ? [] : [chore])] },
            on ? CareSays.TurnedOn(name) : CareSays.TurnedOff(name));
    }

    /// <summary>Lets reminders count from today.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostFresh() =>
        Change(r => r with { CareFrom = house.Now.InZone(house.Zone).ToOffsetDateTime() }, CareSays.RemindersStartToday);

    /// <summary>Says which drains get no daily water.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostDrains(string[]? unused, string? other, bool none)
    {
        var chosen = none ? [] : (unused ?? []).Append(other ?? "").Select(u => u.Trim()).Where(u => u.Length > 0)
            .Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        return Change(r => r with { UnusedFixtures = chosen }, CareSays.SavedDrains);
    }

    /// <summary>Adds a chore, one of those that are ready or one of their own.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostAdd(string? ready, string? name, string? rhythm, string? number, string? minutes, string? cost, string? steps, string? parts)
    {
        var rig = house.Rig!.Rig;
        if (rig.Chores.Count >= RigCodec.MaxChores) return Refuse(CareSays.TooMany(RigCodec.MaxChores));
        if (ready is not null)
            return ReadyMade.Of(LivedIn, CareSays.Ready).FirstOrDefault(c => c.Id == ready) is { } made && rig.Chores.All(c => c.Id != made.Id)
                ? Change(r => r with { Chores = [.. r.Chores, made] }, CareSays.Added(made.Name)) : Refuse(CareSays.ChoreGone);
        var problems = new List<string>();
        var called = name?.Trim() ?? "";
        if (called.Length is 0 or > 120) problems.Add(CareSays.NameEnter);
        else if (rig.Chores.Any(c => string.Equals(c.Name.Trim(), called, StringComparison.OrdinalIgnoreCase))) problems.Add(CareSays.NameTaken(called));
        if (CareSays.Rhythms.All(r => r.Code != rhythm)) problems.Add(CareSays.HowOftenChoose);
        var most = rhythm switch { "everyDays" => OwnChore.MaxDays, "everyMonths" => OwnChore.MaxMonths, "timesAYear" => OwnChore.MaxTimes, _ => 0 };
        var n = 0;
        if (most > 0 && !(int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out n) && n >= 1 && n <= most))
            problems.Add(CareSays.NumberAccepted(string.Create(CultureInfo.InvariantCulture, $"a whole number from 1 to {most:#,0}")));
        var (took, paid) = (Minutes(minutes, problems), Cost(cost, problems));
        if (problems.Count > 0) return Refuse([.. problems]);
        var own = new OwnChore("own-" + Guid.NewGuid().ToString("N")[..10], called)
        {
            EveryDays = rhythm == "everyDays" ? n : null,
            EveryMonths = rhythm == "everyMonths" ? n : null,
            TimesAYear = rhythm == "timesAYear" ? n : null,
            Season = rhythm switch { "open" => ChoreSeason.Open, "close" => ChoreSeason.Close, _ => null },
            EachTrip = rhythm == "eachTrip",
            Minutes = took,
            CostMinor = paid,
            Steps = [.. (steps ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)],
            Parts = Text(parts)
        };
        return Change(r => r with { Chores = [.. r.Chores, own] }, CareSays.Added(called));
    }

    /// <summary>Takes one of the rig's own chores off the list.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostRemove(string? chore) => house.Rig!.Rig.Chores.FirstOrDefault(c => c.Id == chore) is { } own
        ? Change(r => r with { Chores = [.. r.Chores.Where(c => c.Id != own.Id)], ChoresOff = [.. r.ChoresOff.Where(c => c != own.Id)] },
            CareSays.Removed(own.Name))
        : Refuse(CareSays.ChoreGone);

    private IActionResult Change(Func<Rig, Rig> change, string said)
    {
        var rig = house.Rig!;
        try
        {
            if (!store.Change(rig.Id, rig.Revision, change, house.Who)) return Refuse(CareSays.SomeoneElse);
        }
        catch (NotStorableException e)
        {
            return Refuse([.. e.Problems.Select(p => p + ".")]);
        }
        TempData[TodayModel.Logged] = said;
        return RedirectToPage();
    }

    private CareItem? Find(string? chore, string? tank) => Items.FirstOrDefault(i => i.Chore == chore && i.Tank == (tank is { Length: > 0 } ? tank : null));

    private static ChoreEntry Entry(CareItem item, string? id, OffsetDateTime at) =>
        new() { At = at, Id = id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId(), Chore = item.Chore, Tank = item.Tank, Result = ChoreResult.Done };

    // What is too long is refused when it is stored, with its name; nothing is cut.
    private static string? Text(string? typed) => string.IsNullOrWhiteSpace(typed) ? null : typed.Trim();

    private static double? Minutes(string? typed, List<string> problems)
    {
        if (string.IsNullOrWhiteSpace(typed)) return null;
        if (TypedNumber.Of(typed).TryGetValue<double>(out var minutes) && minutes is >= 0 and <= EntryCodec.MaxChoreMinutes) return minutes;
        problems.Add(CareSays.MinutesAccepted);
        return null;
    }

    private static int? Cost(string? typed, List<string> problems)
    {
        if (string.IsNullOrWhiteSpace(typed)) return null;
        if (Currency.TryParse(typed, EntryCodec.MaxCostMinor / 100, out var minor)) return minor;
        problems.Add(CareSays.CostAccepted);
        return null;
    }
}
