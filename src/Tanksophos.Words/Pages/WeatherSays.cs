using System.Globalization;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Weather;

namespace Tanksophos.Words.Pages;

/// <summary>Texts of the page about the weather.</summary>
internal static class WeatherSays
{
    public static string Title => "Weather";
    public static string Lead => "Heat wears out a dose. Frost splits pipes and valves.";
    public static string Ahead => "Two weeks ahead";
    public static string Nothing =>
        "No weather yet. Type the hottest day at each stop of your trip, or fill in the months below.";
    public static string Day => "Day";
    public static string Place => "Place";
    public static string HighAndLow => "High and low";
    public static string Low(string low, string high) => $"Low {low}, high {high}";
    public static string HeatLine(Units units) => $"Hot for doses: over {(units == Units.Us ? "85 F" : units.Temperature(RoutineDose.HotC))}";
    public static string FrostLine(Units units) => $"Freezing: {units.Temperature(WeatherDay.FreezingC)}";
    public static string Source(WeatherSource source) => source switch
    {
        WeatherSource.Forecast => "",
        WeatherSource.LastKnown => "old forecast",
        WeatherSource.Climate => "usual for the month",
    };
    public static string Hot(double highC, HouseRules rules, Units units) =>
        $"Up to {units.Temperature(highC)} this week: double each dose, and dump black within {rules.MaxDaysIn(true)} days.";
    public static string NotHot(double highC, Units units) => $"Up to {units.Temperature(highC)} this week: the usual doses.";
    public static string NoHeat => "How hot it gets this week isn't known. Doses are figured for mild weather.";
    public static string NoFrost => "No frost in sight.";
    public static string ReadyForFrost(string when, string low) => $"{low} {when}. You're ready: frost chore done.";
    public static string ClosedForFrost => "In storage, winterized. Frost can't hurt it.";
    public static string Bay(double c, Units units) => $"In the bay: {units.Temperature(c)}";
    public static string Outside(double c, Units units) => $"Hottest outside today: {units.Temperature(c)}";
    public static string StopsOutrank => "What you type at a stop of the trip counts more than any forecast.";
    public static string ToTrip => "Open the trip";
    public static string ToCare => "What to do for frost";
    public static string Service => "Forecasts";
    public static string NoService =>
        "No weather service is set up, and nothing is asked on the internet. Whoever runs this program can start it with --weather.";
    public static string Asking => "The weather service wasn't asked yet. Log where you are, or plan a trip.";
    public static string Asked(string place, string ago) => $"{place}: asked {ago}";
    public static string NotReached(string place, string why) => $"{place}: not reached ({why})";
    public static string KeepsLast(string ago) => $"using the forecast from {ago}";
    public static string Climate => "Usual weather by month";
    public static string ClimateLead => "For days without a forecast. Leave a month blank if you don't know it.";
    public static string Month(int month) => CultureInfo.InvariantCulture.DateTimeFormat.GetMonthName(month);
    public static string UsualDay => "Usual day";
    public static string UsualNight => "Usual night";
    public static string DayOf(int month) => $"{Month(month)}, usual day";
    public static string NightOf(int month) => $"{Month(month)}, usual night";
    public static string Save => "Save the months";
    public static string Saved => "Months saved.";
    public static string Accepted(int month, Units units) => $"{Month(month)}: fill in both, {units.AcceptedTemperature}, the night no warmer than the day.";
    public static string Table => "Weather by day";

    /// <summary>In the field for the hottest day, where nothing was typed.</summary>
    public static string Expected(string high) => $"{high} expected";
}
