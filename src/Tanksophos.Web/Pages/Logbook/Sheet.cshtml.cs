using Microsoft.AspNetCore.Mvc.RazorPages;
using NodaTime;
using NodaTime.Text;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Data;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>The log of a stretch of days on paper, with what it adds up to.</summary>
public sealed class LogbookSheetModel(CurrentRequest house, RigStore store, RigCache memory) : PageModel
{
    private const int UsualDays = 30;

    /// <summary>First day.</summary>
    public LocalDate From { get; private set; }

    /// <summary>Last day, counted in.</summary>
    public LocalDate To { get; private set; }

    /// <summary>What was typed and is no stretch of days; null if all is well.</summary>
    public string? Problem { get; private set; }

    /// <summary>The entries of those days, in the order of time.</summary>
    public IReadOnlyList<LogEntry> Entries { get; private set; } = [];

    /// <summary>What they add up to.</summary>
    public PeriodTotals Totals { get; private set; } = null!;

    /// <summary>Usual stretches of days, the last of them up to today.</summary>
    public IReadOnlyList<(string Code, string Name, LocalDate From, LocalDate To)> Periods
    {
        get
        {
            var today = house.Now.InZone(house.Zone).Date;
            var week = HealthStrips.WeekOf(today, house.WeekStart);
            var month = today.With(DateAdjusters.StartOfMonth);
            return
            [
                ("week", LogbookSays.ThisWeek, week, today),
                ("last-week", LogbookSays.LastWeek, week.PlusDays(-7), week.PlusDays(-1)),
                ("month", LogbookSays.ThisMonth, month, today),
                ("last-month", LogbookSays.LastMonth, month.PlusMonths(-1), month.PlusDays(-1))
            ];
        }
    }

    public void OnGet(string? from, string? to)
    {
        To = house.Now.InZone(house.Zone).Date;
        From = To.PlusDays(1 - UsualDays);
        var (first, last) = (Read(from, From), Read(to, To));
        if (first is { } f && last is { } l && f <= l) (From, To) = (f, l);
        else Problem = LogbookSays.DatesEnterAStartAndAn;
        if (Problem is not null) Response.StatusCode = 400;
        Entries = [.. memory.Log(house.Rig!, store).Where(e => e.At.Date >= From && e.At.Date <= To)];
        Totals = PeriodTotals.Compute(house.Rig!.Rig, Entries);
    }

    private static LocalDate? Read(string? text, LocalDate usual) => string.IsNullOrEmpty(text) ? usual
        : LocalDatePattern.Iso.Parse(text) is { Success: true } read && read.Value.Year is >= 1900 and <= 2200 ? read.Value : null;
}
