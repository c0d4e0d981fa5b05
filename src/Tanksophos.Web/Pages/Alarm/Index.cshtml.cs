using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>Gas: what to do now, and nothing else, until it is logged as ruled out.</summary>
public sealed class AlarmModel(CurrentRequest house, RigStore store) : FormPage
{
    /// <summary>When gas was noticed that nobody has ruled out since; null if none was.</summary>
    public NodaTime.Instant? Since => house.RigSnapshot.Gas?.Since;

    /// <summary>Whether it was smelled rather than the alarm sounded.</summary>
    public bool Smelled => house.RigSnapshot.Gas?.Because == Because.GasSmell;

    /// <summary>Whether it was ruled out just now: what else may have set an alarm off.</summary>
    public bool After { get; private set; }

    public void OnGet(string? after) => After = after is not null;

    /// <summary>An alarm sounds: it is logged, and the page says what to do.</summary>
    public IActionResult OnPostSounds(string? id) => Since is not null ? RedirectToPage()
        : Written(store, house, new SymptomEntry { Id = Key(id), At = Moment, Code = SymptomCode.PropaneAlarm }, () => RedirectToPage());

    /// <summary>Logs the all-clear; it covers this alarm only.</summary>
    public IActionResult OnPostClear(string? id)
    {
        if (Since is not { } since) return RedirectToPage("/Today/Index");
        var clear = new CheckEntry { Id = Key(id), At = Moment, Code = CheckCode.PropaneRuledOut, Result = CheckResult.Pass };
        // An alarm of this very second is cleared by what comes after it.
        if (clear.Instant <= since) clear = clear with { At = since.Plus(NodaTime.Duration.FromSeconds(1)).InZone(house.Zone).ToOffsetDateTime() };
        return Written(store, house, clear, () => RedirectToPage(new { after = 1 }));
    }

    /// <summary>Takes back an alarm, or a smell, that was logged by mistake.</summary>
    public IActionResult OnPostMistake()
    {
        var wrong = house.RigSnapshot.Logbook.Entries.LastOrDefault(e => e.Instant == Since
            && e is SymptomEntry { Code: SymptomCode.PropaneAlarm } or OdorEntry { Smell: Smell.Gas });
        if (wrong?.Id is { } key) store.Writer.Withdraw(house.Rig!.Id, key, true, house.Who);
        house.Changed();
        return RedirectToPage("/Today/Index");
    }

    private NodaTime.OffsetDateTime Moment => NodaTime.Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime();

    private static string Key(string? id) => id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId();
}
