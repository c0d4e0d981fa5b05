using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.App;

namespace Tanksophos.Web.Pages;

/// <summary>A propane alarm stands: what to do now, and nothing else, until it is logged as ruled out.</summary>
public sealed class AlarmModel(Household house, RigStore store) : FormPage
{
    /// <summary>When the alarm that stands was logged.</summary>
    public NodaTime.Instant? Since => house.Picture.Advice.Circumstances.PropaneAlarm;

    public void OnGet()
    {
    }

    /// <summary>Logs the all-clear; it covers this alarm only.</summary>
    public IActionResult OnPostClear(string? id) => Since is null ? RedirectToPage("/Today/Index") : Cleared(new CheckEntry
    {
        Id = id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId(),
        At = NodaTime.Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime(),
        Code = CheckCode.PropaneRuledOut,
        Result = CheckResult.Pass,
    });

    /// <summary>Takes back an alarm that was logged by mistake.</summary>
    public IActionResult OnPostMistake()
    {
        var alarm = house.Picture.Logbook.Entries.OfType<SymptomEntry>().LastOrDefault(s => s.Code == SymptomCode.PropaneAlarm && s.Instant == Since);
        if (alarm?.Id is { } key) store.Withdraw(house.Rig!.Id, key, true, house.Who);
        house.Changed();
        return RedirectToPage("/Today/Index");
    }

    private IActionResult Cleared(CheckEntry clear)
    {
        // An alarm of this very second is cleared by what comes after it.
        if (clear.Instant <= Since) clear = clear with { At = Since!.Value.Plus(NodaTime.Duration.FromSeconds(1)).InZone(house.Zone).ToOffsetDateTime() };
        return Written(store, house, clear, () => RedirectToPage("/Find/Index"));
    }
}
