using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Formats;
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

/// <summary>What to do next, what is in the tanks, and logging what happens.</summary>
public sealed class TodayModel(CurrentRequest house, RigStore store, RigCache memory, AgendaService agenda, RunStore runs,
    TreatmentService treatments, LogBell bell, PeopleStore people, IHostApplicationLifetime life) : FormPage
{
    public const string Logged = "logged";
    public const string LoggedKey = "logged-key";
    public const string LoggedBatch = "logged-batch";

    public RigSnapshot RigSnapshot => house.RigSnapshot;

    public Advice Advice => RigSnapshot.Advice;

    public IReadOnlyList<TankView> Tanks => tanks ??= TankView.All(RigSnapshot, house.Units);

    /// <summary>What to do, and what is held back.</summary>
    public Agenda Agenda => agenda.Now;

    /// <summary>Its texts.</summary>
    public AgendaTexts Texts => texts ??= agenda.Texts;

    public RibbonGeometry Ribbon => new(RigSnapshot, Agenda, house.Zone);

    /// <summary>A fresh id for each form, so that a form sent twice is one entry.</summary>
    public static string NewId() => "w" + Guid.NewGuid().ToString("N");

    /// <summary>The dump run under way; null for none.</summary>
    public StoredRun? ActiveRun => house.MayLog ? runs.Active(house.Rig!.Id) : null;

    public void OnGet()
    {
    }

    /// <summary>The number of the last thing written into the log.</summary>
    public long Version => store.Log.Version(house.Rig!.Id);

    /// <summary>Tells the page whenever the log changed, whoever wrote it.</summary>
    public async Task<IActionResult> OnGetLiveAsync(CancellationToken gone)
    {
        var rig = house.Rig!.Id;
        // Who was taken out of the rig or has signed out hears nothing more.
        await LiveNumber.ServeAsync(Response, bell, rig, () => people.RoleIn(rig, house.PersonId) is not null
            && Accounts.SigningIn.StillSignedIn(User, people), () => Version, gone, life.ApplicationStopping);
        return new EmptyResult();
    }

    /// <summary>How far the working out of older entries is: a share, or null if all is done.</summary>
    public IActionResult OnGetProgress() => new JsonResult(new { share = memory.Progress(house.Rig!.Id) });

    public IActionResult OnPostReading(string? id, string? tank, string? via, string? lit, string? percent, string? fraction, string? at) =>
        LogFor(id, tank, at, (time, found) =>
        {
            if (!Codes<ReadingVia>.TryParse(via, out var how)) return Bad(TodaySays.ReadingViaIsOneOf(string.Join(", ", Codes<ReadingVia>.All)));
            if (how != ReadingVia.Panel)
            {
                if (!Number(fraction, 0, 100, out var share)) return Bad(TodaySays.LevelEnterANumberFrom0);
                return new ReadingEntry { At = time, Via = how, Fraction = share / 100 };
            }
            if (found.Monitor.Kind == MonitorKind.Percent)
            {
                if (!Number(percent, 0, 100, out var shown)) return Bad(TodaySays.PanelEnterANumberFrom0);
                return new ReadingEntry { At = time, Via = how, Percent = shown };
            }
            var ids = (lit ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
            if (ids.FirstOrDefault(p => found.Monitor.Probes.All(x => x.Id != p)) is { } unknown)
                return Bad(TodaySays.PanelNoLightOnThisTank(unknown));
            return new ReadingEntry { At = time, Via = how, Lit = ids };
        });

    public IActionResult OnPostDump(string? id, string? tank, string? minutes, string? flow, string? at) =>
        LogFor(id, tank, at, (time, _) =>
        {
            double? ran = null;
            if (!string.IsNullOrWhiteSpace(minutes))
            {
                if (!Number(minutes, 0, 120, out var m)) return Bad(TodaySays.MinutesEnter0To120);
                ran = m;
            }
            DumpFlow? how = null;
            if (!string.IsNullOrEmpty(flow))
            {
                if (!Codes<DumpFlow>.TryParse(flow, out var f)) return Bad(TodaySays.FlowChooseOneOf(string.Join(", ", Codes<DumpFlow>.All)));
                how = f;
            }
            return new DumpEntry { At = time, Minutes = ran, Flow = how };
        });

    public IActionResult OnPostWater(string? id, string? tank, string? amount, string? typed, string? purpose, string? at) =>
        LogFor(id, tank, at, (time, found) =>
        {
            if (!house.Units.TryParseVolume(string.IsNullOrWhiteSpace(typed) ? amount : typed, out var litres) || litres <= 0)
                return Bad(TodaySays.WaterEnterMoreThan0(house.Units.AcceptedVolume));
            if (litres > found.CapacityL * 1.5)
                return Bad(TodaySays.WaterWontFitIn(house.Units.Volume(litres), found.Name, house.Units.Volume(found.CapacityL)));
            if (!Codes<WaterPurpose>.TryParse(purpose, out var why)) return Bad(TodaySays.PurposeChooseOneOf(string.Join(", ", Codes<WaterPurpose>.All)));
            return new WaterEntry { At = time, WaterL = Math.Round(litres, 2), Purpose = why };
        });

    public IActionResult OnPostValve(string? id, string? tank, string? state, string? at) =>
        LogFor(id, tank, at, (time, _) => Codes<ValveState>.TryParse(state, out var s) ? new ValveEntry { At = time, State = s }
            : Bad(TodaySays.ValveChooseOpenOrClosed));

    public IActionResult OnPostDose(string? id, string? tank, string? at) =>
        LogFor(id, tank, at, (time, found) =>
        {
            if (RoutineDose.For(RigSnapshot.Logbook.Rig.RulesInForce.Treatment, found.CapacityL) is not { } routine)
                return Bad(TodaySays.DoseYourHouseRulesHaveNo);
            return TreatmentService.Entry(treatments.Of(Recipes.Find(routine.Recipe)!, RigSnapshot.Belief[found.Id]), NewId(), time, found.Id);
        });

    public IActionResult OnPostPeople(string? id, string? count, string? typed, string? at) =>
        Log(id, at, time =>
            int.TryParse(string.IsNullOrWhiteSpace(typed) ? count : typed, NumberStyles.None, CultureInfo.InvariantCulture, out var n)
                && n <= EntryCodec.MaxPeople
                ? new PeopleEntry { At = time, Count = n } : Bad(SharedSays.PeopleEnterAWholeNumberFrom(EntryCodec.MaxPeople)));

    public IActionResult OnPostStay(string? id, string? hookup, string? place, string? at) =>
        Log(id, at, time =>
        {
            if (!Codes<Hookup>.TryParse(hookup, out var connected)) return Bad(TodaySays.HookupChooseOneOf(string.Join(", ", Codes<Hookup>.All)));
            if (place?.Length > 200) return Bad(TodaySays.PlaceUseAtMost200Characters);
            var zone = house.DeviceZone;
            return new StayEntry
            {
                At = time.ToInstant().InZone(zone).ToOffsetDateTime(),
                Hookup = connected,
                Place = string.IsNullOrWhiteSpace(place) ? null
                : place.Trim(),
                Zone = zone
            };
        });

    /// <summary>Logs the usual dump run in one go: the entries the person saw listed, however the log has changed meanwhile.</summary>
    public IActionResult OnPostUsual(string? id, string? at, string? seen)
    {
        if (!house.When(at, out var time, out var problem)) return Refuse(problem);
        var run = LastRunTemplate.Of(memory.Log(house.Rig!, store), time);
        if (run.Count == 0) return Refuse(TodaySays.NoDumpLoggedYetToRepeat);
        if (seen != UsualWords(run)) return Refuse(TodaySays.TheLogChangedSinceYouOpened);
        var batch = id is { Length: > 0 and <= 60 } ? id : NewId();
        try
        {
            store.Writer.Record(house.Rig!.Id, [.. run.Select((e, i) => e with { Id = $"{batch}-{i + 1}" })], house.Who, batch);
        }
        catch (EntryConflictException)
        {
            return Refuse(TodaySays.ThisFormWasAlreadySentReload);
        }
        TempData[Logged] = TodaySays.LoggedSameAsLastTime + UsualWords(run);
        TempData[LoggedBatch] = batch;
        return Back();
    }

    /// <summary>A run in words.</summary>
    private string UsualWords(IReadOnlyList<LogEntry> run) => new EntryWords(house.Rig!.Rig, house.Units).Lines(run);

    public IActionResult OnPostUndoBatch(string? batch)
    {
        var count = batch is null ? 0 : store.Writer.WithdrawBatch(house.Rig!.Id, batch, house.Who);
        if (count == 0) return NotFound();
        TempData[Logged] = TodaySays.RemovedTheyStayInTheLogbook(SharedSays.EntriesOf(count));
        return Back();
    }

    public IActionResult OnPostUndo(string? key)
    {
        var rig = house.Rig!;
        if (key is null || store.Writer.Withdraw(rig.Id, key, true, house.Who) is not { } entry) return NotFound();
        TempData[Logged] = TodaySays.RemovedItStaysInTheLogbook(EntryWords.Kind(entry).ToLowerInvariant());
        return Back();
    }

    private IActionResult LogFor(string? id, string? tank, string? at, Func<OffsetDateTime, Tank, LogEntry?> make)
    {
        var rig = house.Rig!;
        if (rig.Rig.Find(tank) is not { } found)
            return Refuse(tank is null ? TodaySays.TankChooseOne : TodaySays.TankThereIsNoTankOn(tank));
        return Log(id, at, time => make(time, found) is { } entry ? entry with { Tank = found.Id } : null);
    }

    private IActionResult Log(string? id, string? at, Func<OffsetDateTime, LogEntry?> make)
    {
        var rig = house.Rig!;
        if (!house.When(at, out var time, out var problem)) return Refuse(problem);
        if (make(time) is not { } entry) return Refuse(refusal!);
        entry = entry with { Id = id is { Length: > 0 and <= 64 } ? id : NewId() };
        return Written(store, house, entry, Back);
    }

    // A form that was opened on another page leads back to it.
    private IActionResult Back() =>
        Request.Form["back"].ToString() is { Length: > 0 } back && Url.IsLocalUrl(back) ? LocalRedirect(back) : RedirectToPage();

    private AgendaTexts? texts;
    private IReadOnlyList<TankView>? tanks;

    private string? refusal;

    private LogEntry? Bad(string message)
    {
        refusal = message;
        return null;
    }

    private static bool Number(string? text, double min, double max, out double value) =>
        double.TryParse((text ?? "").Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out value) && value >= min
            && value <= max;

}
