using System.Globalization;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Weather;

namespace Tanksophos.Words.Pages;

/// <summary>Texts of the page about the weather.</summary>
internal static class WeatherSays
{
    public static string Title => "Weather";
    public static string Lead => "Heat wears out a dose. A freeze splits pipes and valves.";
    public static string Ahead => "Two weeks ahead";
    public static string Nothing =>
        "No weather yet. Enter the hottest day for each stop of your trip, or fill in the months below.";
    public static string Low(string low, string high) => $"Low {low}, high {high}";
    public static string HeatLine(Units units) => $"Hot for doses: over {(units == Units.Us ? "85 F" : units.Temperature(RoutineDose.HotC))}";
    public static string FrostLine(Units units) => $"Freezing: {units.Temperature(WeatherDay.FreezingC)}";
    public static string Source(WeatherSource source) => source switch
    {
        WeatherSource.Forecast => "",
        WeatherSource.LastKnown => "old forecast",
        WeatherSource.Climate => "typical for the month",
    };
    public static string Hot(double highC, HouseRules rules, Units units) => $"Up to {units.Temperature(highC)} this week. "
        + (rules.Treatment == TreatmentSchool.WaterOnly ? "" : "Your doses are figured double. ") + $"Your limit for black is {rules.MaxDaysIn(true)} days.";
    public static string NotHot(double highC, Units units) => $"Up to {units.Temperature(highC)} this week. No extra dose needed.";
    public static string NoHeat => "This week's heat isn't known. Doses are figured for mild weather.";
    public static string NoFreeze => "No freeze in sight.";
    public static string Winterized => "In storage and winterized.";
    public static string Bay(double c, Units units) => $"In the bay: {units.Temperature(c)}";
    public static string Outside(double c, Units units) => $"Hottest outside today: {units.Temperature(c)}";
    public static string StopsOutrank => "A hottest day you enter for a stop overrides the forecast.";
    public static string ToTrip => "Open the trip";
    public static string ToCare => "What to do";
    public static string Service => "Forecasts";
    public static string NoService =>
        "No weather service is set up, so nothing goes out to the internet. To use one, start the program with --weather.";
    public static string Asking => "No forecast yet. Log where you are, or plan a trip.";
    public static string Asked(string place, string ago) => $"{place}: updated {ago}";
    public static string NotReached(string place, string why) => $"{place}: no answer ({why})";
    public static string KeepsLast(string ago) => $"using the forecast from {ago}";
    public static string Climate => "Typical weather by month";
    public static string ClimateLead => "For days without a forecast. Leave a month blank if you don't know it.";
    public static string Month(int month) => CultureInfo.InvariantCulture.DateTimeFormat.GetMonthName(month);
    public static string UsualDay => "Typical high";
    public static string UsualNight => "Typical low";
    public static string DayOf(int month) => $"{Month(month)}, typical high";
    public static string NightOf(int month) => $"{Month(month)}, typical low";
    public static string Save => "Save the months";
    public static string Saved => "Months saved.";
    public static string Accepted(int month, Units units) =>
        $"{Month(month)}: enter a high and a low, each {units.AcceptedTemperature}. The low can't be above the high.";
    public static string Table => "Weather by day";

    /// <summary>In the field for the hottest day, where nothing was typed.</summary>
    public static string Expected(string high) => $"{high} expected";
}
