using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;
using Tanksophos.Core.Weather;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Devices;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>The weather of the days ahead, where the rig will be, and what it means for the tanks.</summary>
public sealed class WeatherModel(CurrentRequest house, AgendaService agenda, WeatherStore store, TripStore trips, PlanMemory plans, IServiceProvider services)
    : FormPage
{
    private IReadOnlyList<(LocalDate Date, string? Place, WeatherDay? Day)>? days;

    /// <summary>What the court heard.</summary>
    public Core.Agendas.Situation Situation => agenda.Situation;

    /// <summary>Whether a service was set up.</summary>
    public bool HasService => services.GetService<IWeatherSource>() is not null;

    /// <summary>How asking went, for the places of this rig.</summary>
    public IReadOnlyList<WeatherTry> Tries => [.. store.Tries().Where(t => Days.Any(d => d.Place is { } p && Itinerary.IsSamePlace(p, t.Place)))];

    /// <summary>The days ahead, where the rig will be, with what is known.</summary>
    public IReadOnlyList<(LocalDate Date, string? Place, WeatherDay? Day)> Days => days ??= [.. Coming()];

    /// <summary>The drawing of them; null if nothing is known.</summary>
    public WeatherChart? Chart => Days.Any(d => d.Day is not null) ? new WeatherChart([.. Days.Select(d => d.Day)]) : null;

    /// <summary>The chore of the frost as the court leaves it; null without any.</summary>
    public CareItem? Frost => AgendaService.CareOf(Situation, agenda.Now).FirstOrDefault(c => c.Chore == ChoreWords.Frost);

    /// <summary>Whether the rig is closed against frost.</summary>
    public bool Closed => house.RigSnapshot.Logbook.InOrder().Kind<ServiceEntry>()
        .LastOrDefault(s => s.Code is ServiceCode.SeasonClose or ServiceCode.SeasonOpen) is { Code: ServiceCode.SeasonClose, Frost: true }
        && house.RigSnapshot.Belief.InForce.Hookup == Hookup.Storage;

    /// <summary>What was typed for the months, or what is kept: day and night.</summary>
    public IReadOnlyList<(string High, string Low)> Months { get; private set; } = [];

    /// <summary>Whether anything is filled in.</summary>
    public bool MonthsKnown => Months.Any(m => m.High.Length + m.Low.Length > 0);

    public void OnGet() => Months = [.. Enumerable.Range(0, WeatherStore.Months).Select(m => store.Climate(house.Rig!.Id).ElementAtOrDefault(m) is { } month
        ? (house.Units.Temperature(month.HighC), house.Units.Temperature(month.LowC)) : ("", ""))];

    /// <summary>Says what the months are like.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostClimate(string?[]? high, string?[]? low)
    {
        string At(string?[]? typed, int month) => typed?.ElementAtOrDefault(month)?.Trim() ?? "";
        Months = [.. Enumerable.Range(0, WeatherStore.Months).Select(m => (At(high, m), At(low, m)))];
        var months = new List<ClimateMonth?>();
        var problems = new List<string>();
        foreach (var ((day, night), i) in Months.Select((m, i) => (m, i)))
        {
            if (day.Length == 0 && night.Length == 0) months.Add(null);
            else if (house.Units.TryParseTemperature(day, out var highC) && house.Units.TryParseTemperature(night, out var lowC) && lowC <= highC
                && highC <= WeatherDay.HottestC && lowC >= WeatherDay.ColdestC) months.Add(new ClimateMonth(lowC, highC));
            else problems.Add(WeatherSays.Accepted(i + 1, house.Units));
        }
        if (problems.Count > 0) return Refuse([.. problems]);
        store.SetClimate(house.Rig!.Id, months);
        plans.Clear();
        TempData[TodayModel.Logged] = WeatherSays.Saved;
        return RedirectToPage();
    }

    private IEnumerable<(LocalDate, string?, WeatherDay?)> Coming()
    {
        var book = store.Book(house.Rig!.Id);
        var stops = trips.Current(house.Rig.Id, house.Now)?.Itinerary.Stops ?? [];
        var today = house.Now.InZone(house.Zone).Date;
        for (var i = 0; i <= WeatherBook.DaysAhead; i++)
        {
            var day = today.PlusDays(i);
            // Where the night is spent.
            var night = (day + new LocalTime(23, 0)).InZoneLeniently(house.Zone).ToInstant();
            var place = stops.FirstOrDefault(s => s.Arrive.ToInstant() <= night && s.Depart.ToInstant() > night)?.Name
                ?? house.RigSnapshot.Belief.InForce.Place;
            yield return (day, place, book.On(place, day));
        }
    }
}
