using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>
/// Whether the lamps tell the truth: the panel beside the belief, the record behind each verdict, the check that would settle it, the ladder.
/// </summary>
public sealed class SensorsModel(CurrentRequest house, RigStore store, RigCache memory, HostingOptions hosting, AgendaService agenda) : FormPage
{
    /// <summary>Whether a check is still asked for: what was just answered is not.</summary>
    public bool Asked(NextCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return agenda.Now.Asks(Codes<NextCheckCode>.Word(check.Code), check.Tank);
    }

    /// <summary>How far back the record goes.</summary>
    public static readonly Duration LooksBack = Duration.FromDays(56);

    public RigSnapshot RigSnapshot => house.RigSnapshot;

    public SensorReport Report => RigSnapshot.Sensors;

    public TankSensors Tank { get; private set; } = null!;

    public TankView View { get; private set; } = null!;

    public SensorRecord Record { get; private set; } = null!;

    /// <summary>Whether a stand-in plays the panel of this rig.</summary>
    public bool HasStandIn => hosting.Demo && house.Rig?.Rig.Name == DemoSeason.Rig.Name;

    public SensorWords Words => new(house.Units, house.Times);

    public IActionResult OnGet(string? tank)
    {
        // Without a choice, the tank about which there is most to say.
        var chosen = tank is null
            ? Report.Tanks.MaxBy(t => t.Findings.Count(f => f.Verdict != ProbeVerdict.Working) + (t.Findings.Any(f => !f.Settled) ? 0.5 : 0))
            : Report.Tanks.FirstOrDefault(t => t.Belief.Tank.Id == tank);
        if (chosen is null) return NotFound();
        Tank = chosen;
        var belief = chosen.Belief;
        var outlook = RigSnapshot.Advice[belief.Tank.Id];
        View = new TankView(belief, outlook, new TroughGeometry(belief.Tank, belief.Level, outlook.DumpLevelL), house.Units.Volume(belief.Tank.CapacityL));
        var now = house.Now;
        var entries = RigSnapshot.Logbook.InOrder();
        // From a midnight on, so that a second look within the day finds the same stretch.
        var start = Instant.FromUnixTimeSeconds((now - LooksBack).ToUnixTimeSeconds() / 86400 * 86400);
        var from = Instant.Max(start, entries.Count > 0 ? entries[0].Instant : start);
        var back = memory.LookBack(house.Rig!, store, from).First(t => t.Tank.Id == belief.Tank.Id);
        Record = new SensorRecord(back, entries, from, now, house.Times.At, house.Zone);
        return Page();
    }

    /// <summary>Reads the demonstration's stand-in panel now.</summary>
    public IActionResult OnPostStandIn(string? tank)
    {
        if (!HasStandIn) return NotFound();
        IReadOnlyList<LogEntry> read;
        try
        {
            read = SimulatedPanelReadings.Take(store, house.Rig!, house.Zone, house.Now, onlyNews: false);
        }
        catch (EntryConflictException)
        {
            return Refuse(SensorsSays.TheStandInPanelWasRead, tank);
        }
        var words = new EntryWords(house.Rig!.Rig, house.Units);
        TempData[TodayModel.Logged] = SensorsSays.TheStandInPanelShows + string.Join("; ", read.Select(words.Line));
        return RedirectToPage(new { tank });
    }

    /// <summary>Logs a test of battery or wiring.</summary>
    public IActionResult OnPostCheck(string? id, string? tank, string? code, string? result)
    {
        if (code is not ("battery-ok" or "wiring-ok")) return Refuse(SensorsSays.CheckChooseBatteryOkOrWiring, tank);
        if (result is not ("pass" or "fail")) return Refuse(SharedSays.ResultChoosePassOrFail, tank);
        var rig = house.Rig!;
        var entry = new CheckEntry
        {
            Id = id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId(),
            At = house.Now.InZone(house.Zone).ToOffsetDateTime(),
            Code = code == "battery-ok" ? CheckCode.BatteryOk : CheckCode.WiringOk,
            Result = result == "pass" ? CheckResult.Pass : CheckResult.Fail,
            Tank = rig.Rig.Find(tank)?.Id,
        };
        try
        {
            store.Writer.Record(rig.Id, [entry], house.Who);
        }
        catch (EntryConflictException)
        {
            return Refuse(SharedSays.ThisFormWasAlreadySentWith, tank);
        }
        TempData[TodayModel.Logged] = house.Said(entry);
        TempData[TodayModel.LoggedKey] = entry.Id;
        return RedirectToPage(new { tank });
    }

    private IActionResult Refuse(string problem, string? tank)
    {
        var refused = Refuse(problem);
        return OnGet(house.Rig!.Rig.Find(tank)?.Id) is NotFoundResult ? NotFound() : refused;
    }
}
