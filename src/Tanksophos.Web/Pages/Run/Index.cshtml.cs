using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>Which form of the dump run fits here, how long it takes, and what it is computed from.</summary>
public sealed class RunModel(CurrentRequest house, RunService desk, RunStore runs, RigStore store, RigCache memory, AgendaService agenda) : FormPage
{
    private const int Shown = 6;

    private RunWish wish = new();
    private RunSetting? setting;

    /// <summary>The run under way; null for none.</summary>
    public StoredRun? Active { get; private set; }

    /// <summary>A run broken off a short while ago, to be taken up again; null for none.</summary>
    public StoredRun? BrokenOff { get; private set; }

    /// <summary>What runs are built from here.</summary>
    public RunSetting Setting => setting ??= desk.Setting(house, wish);

    /// <summary>What was wished for.</summary>
    public RunWish Wish => wish;

    /// <summary>Whether something was wished for.</summary>
    public bool Asked => wish != new RunWish();

    /// <summary>The forms.</summary>
    public IReadOnlyList<RunOffer> Offers => offers ??= RunBuilder.Offers(Setting);

    /// <summary>The form that fits; null if none can be had.</summary>
    public RunForm? Fitting => wish == new RunWish() && NextRun is { Form: { } form } next && next.Level <= AgendaLevel.Today
        && Offers.Any(o => o.Form == form && o.Script is not null) ? form : RunBuilder.Fitting(Setting);

    /// <summary>The next run on the agenda; null if none is.</summary>
    public AgendaItem? NextRun => agenda.Now.Items.FirstOrDefault(i => i.Code == AgendaCode.DumpRun);

    /// <summary>What the agenda says about a run: what goes before it, and when it is due.</summary>
    public IReadOnlyList<AgendaItem> First =>
        [.. agenda.Now.Items.Where(i => i == NextRun
        || i.Code is AgendaCode.Ventilate or AgendaCode.StopUsing or AgendaCode.CloseValve or AgendaCode.TopUp or AgendaCode.Rinse
        && (i.Level <= AgendaLevel.Now || NextRun is { } run && i.At <= run.At))];

    /// <summary>The runs that are held back.</summary>
    public IReadOnlyList<AgendaHeld> HeldBack => [.. agenda.Now.Held.Where(h => h.Code == AgendaCode.DumpRun)];

    /// <summary>The agenda's texts.</summary>
    public AgendaTexts Texts => agenda.Texts;

    /// <summary>The ways of getting water in.</summary>
    public IReadOnlyList<FlushMethod> Methods => RunBuilder.Methods(Setting with { Method = null, School = null });

    /// <summary>The way in force.</summary>
    public FlushMethod Method => Setting.Method ?? Methods.FirstOrDefault(FlushMethod.Pedal);

    /// <summary>The most water that the black tank surely takes as it stands, before anything is drained; null for a rig without one.</summary>
    public FillLimit? FitsNow => Setting.Tanks.FirstOrDefault(t => t.Tank.Role == TankRole.Black) is { } black
        ? Guard.Limit(black.Tank, black.Level, FillStop.Meter, suspect: black.Suspect) : null;

    /// <summary>The runs on record, newest first.</summary>
    public IReadOnlyList<PastRun> Past => past ??= RunHistory.Runs(memory.Log(house.Rig!, store), Shown);

    /// <summary>Whether cycles rise, by black tank.</summary>
    public IReadOnlyList<(Tank Tank, CyclesTrend Trend)> Trends =>
        [.. house.Rig!.Rig.Tanks.Where(t => t.Role == TankRole.Black).Select(t => (t, RunHistory.Trend(memory.Log(house.Rig!, store), t.Id)))
            .Where(x => x.Item2 is not null).Select(x => (x.t, x.Item2!))];

    /// <summary>Tanks whose Full lamp was met under the meter, where the room above Full would be another than stated.</summary>
    public IReadOnlyList<(Tank Tank, double FullL)> Metered =>
        [.. house.Rig!.Rig.Tanks.Select(t => (t, RunHistory.MeteredFullL(memory.Log(house.Rig!, store), t)))
            .Where(x => x.Item2 is { } full && Math.Abs(x.t.CapacityL - full - x.t.RoomAboveFullL) > 1).Select(x => (x.t, x.Item2!.Value))];

    public IActionResult OnGet(string? place, string? tap, string? leaving, string? busy, string? method, string? school, string? stop)
    {
        Read(place, tap, leaving, busy, method, school, stop);
        Look();
        return Page();
    }

    /// <summary>Begins a run; if one is under way on the rig, leads to it.</summary>
    public IActionResult OnPostStart(string? form, string? place, string? tap, string? leaving, string? busy, string? method, string? school, string? stop)
    {
        Read(place, tap, leaving, busy, method, school, stop);
        if (runs.Active(house.Rig!.Id) is { } active) return RedirectToPage("/Run/At", new { id = active.Id });
        if (!Codes<RunForm>.TryParse(form, out var kind)) return Again(RunSays.FormChooseOneOf(string.Join(", ", Codes<RunForm>.All)));
        var offer = RunBuilder.Offer(Setting, kind);
        if (offer.Script is null) return Again([.. offer.Refused.Select(r => $"{RunWords.Form(kind)}: {RunWords.Refusal(r)}")]);
        var run = runs.Start(house.Rig.Id, offer.Script, house.RigSnapshot.Advice.Circumstances.Place, house.Zone, house.Who);
        return RedirectToPage("/Run/At", new { id = run.Id });
    }

    /// <summary>Keeps the flow that a bucket and a clock have shown.</summary>
    public IActionResult OnPostFlow(string? bucket, string? seconds)
    {
        if (!house.Units.TryParseVolume(bucket, out var litres) || litres is < 1 or > 200)
            return Again(RunSays.BucketEnterAtLeastAQuart(house.Units.AcceptedVolume));
        if (!double.TryParse((seconds ?? "").Replace(',', '.'), System.Globalization.NumberStyles.AllowDecimalPoint,
            System.Globalization.CultureInfo.InvariantCulture, out var took)
            || took is < 3 or > 1800) return Again(RunSays.SecondsEnterANumberFrom3);
        var flow = Math.Round(Guard.FlowOf(litres, took), 2);
        if (flow is < Equipment.MinFlowLPerMin or > 60) return Again(RunSays.ThatWouldBeAMinuteToo(house.Units.Volume(flow)));
        // Somebody else measured it while this form was open: two measurements stand side by side.
        if (SeenBefore(store, house.Rig!) is { } seen && house.Rig!.Rig.Equipment?.FlushInletLPerMin is { } other && other != seen.Equipment?.FlushInletLPerMin
            && other != flow)
        {
            Look();
            return Clashing(RunSays.TheFlow, "Flow", (RunSays.AMinuteField, house.Units.Volume(flow), house.Units.Volume(other)));
        }
        return Kept(rig => rig with { Equipment = (rig.Equipment ?? new Equipment()) with { FlushInletLPerMin = flow } },
            RunSays.FlowMeasuredAMinuteTimedFills(house.Units.Volume(flow)));
    }

    /// <summary>Takes the metered level of the Full lamp as the room above Full.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostRoom(string? tank)
    {
        if (Metered.FirstOrDefault(m => m.Tank.Id == tank) is not { Tank: { } found, FullL: var full }) return NotFound();
        var room = Math.Round(Math.Max(0, found.CapacityL - full), 1);
        if (SeenBefore(store, house.Rig!)?.Tanks.FirstOrDefault(t => t.Id == tank) is { } seen
            && house.Rig!.Rig.Tanks.First(t => t.Id == tank) is { RoomAboveFullL: var other } && other != seen.RoomAboveFullL && other != room)
        {
            Look();
            return Clashing(found.Name, "Room", (SharedSays.HeadroomAboveFull, house.Units.Volume(room), house.Units.Volume(other)));
        }
        return Kept(rig => rig with { Tanks = [.. rig.Tanks.Select(t => t.Id == tank ? t with { RoomAboveFullL = room } : t)] },
            RunSays.HeadroomAboveFullIsNow(found.Name, house.Units.Volume(room)));
    }

    private PageResult Clashing(string what, string handler, (string Field, string Yours, string Saved) differs)
    {
        var revision = house.Rig!.Revision.ToString(System.Globalization.CultureInfo.InvariantCulture);
        return Refuse(new Clash(what, store.ChangedBy(house.Rig.Id) ?? SharedSays.Someone, Url.Page("/Run/Index", handler)!, Url.Page("/Run/Index")!,
            Clash.Sent(Request.Form, (Clash.Seen, revision)), [differs]));
    }

    private IActionResult Kept(Func<Rig, Rig> change, string said)
    {
        var rig = house.Rig!;
        if (!store.Change(rig.Id, rig.Revision, change, house.Who)) return Again(SharedSays.SomeoneElseChangedTheRigCheck);
        TempData[TodayModel.Logged] = said;
        return RedirectToPage();
    }

    private PageResult Again(params string[] problems)
    {
        Look();
        return Refuse(problems);
    }

    private void Look()
    {
        Active = runs.Active(house.Rig!.Id);
        if (Active is null) BrokenOff = runs.BrokenOff(house.Rig.Id, NodaTime.Duration.FromHours(12));
    }

    // What a link or a form asks for; what is no word of ours is as if it were not there.
    private void Read(string? place, string? tap, string? leaving, string? busy, string? method, string? school, string? stop) => wish = new RunWish(
        place switch { "station" => true, "here" => false, _ => null },
        Codes<TapWater>.TryParse(tap, out var t) ? t : null,
        leaving switch { "yes" => true, "no" => false, _ => null },
        busy switch { "yes" => true, "no" => false, _ => null },
        Codes<FlushMethod>.TryParse(method, out var m) ? m : null,
        Codes<RinseSchool>.TryParse(school, out var s) ? s : null,
        Codes<FillStop>.TryParse(stop, out var f) ? f : null);

    private IReadOnlyList<RunOffer>? offers;
    private IReadOnlyList<PastRun>? past;
}
