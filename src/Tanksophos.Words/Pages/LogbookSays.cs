namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Logbook say.</summary>
internal static class LogbookSays
{
    // Index
    public static string NewestFirst(string entries) => $"{entries}, newest first";
    public static string FoundNewestFirst(string entries) => $"{entries} found, newest first";
    public static string Print => "Print";
    public static string All => "all";
    public static string Says => "Says";
    public static string Day => "Day";
    public static string Find => "Find";
    public static string ShowAll => "Show all";
    public static string NoMatches => "No matches";
    public static string TryFewerWordsOrAnotherTank => "Try fewer words, or another tank or kind.";
    public static string NothingLoggedYet => "Nothing logged yet.";
    public static string LogYourPlaceAndThePanel => "Log your place and the panel on [Today], or [import] a logbook.";
    public static string Removed(string ago) => $"removed {ago}";
    public static string EditedBy(string who) => $"edited by {who}";
    public static string Newer => "Newer";
    public static string PageOf(int pageNumber, int lastPage) => $"Page {pageNumber} of {lastPage}";
    public static string Older => "Older";
    public static string Filter => "Filter";
    public static string ANoteAPlaceAWord => "a note, a place, a word";
    public static string TheDaysBelowAsEstimatedThen => "The days below, as estimated then";
    public static string Photo => "Photo";
    public static string PagesOfTheLogbook => "Pages of the logbook";

    // Sheet
    public static string Periods => "Quick dates";
    public static string ThisWeek => "This week";
    public static string LastWeek => "Last week";
    public static string ThisMonth => "This month";
    public static string LastMonth => "Last month";
    public static string PrintLogbook => "Print logbook";
    public static string From => "From";
    public static string To => "To";
    public static string Show => "Show";
    public static string Logbook(string name) => $"{name}: logbook";
    public static string ToPrinted(string from, string to, string entries, string at) => $"{from} to {to}, {entries}. Printed {at}.";
    public static string Dumped(string tank) => $"{tank} dumped";
    public static string Rinses => "Rinses";
    public static string WaterAdded => "Water added";
    public static string Doses => "Doses";
    public static string DaysWithASmell => "Days with a smell";
    public static string FailedChecks => "Failed checks";
    public static string Dates => "Dates";
    public static string TimesOf(int count) => count == 1 ? "1 time" : $"{count} times";
    public static string Metered(string volume) => $", {volume} metered";

    // Index
    public static string DayEnterADateSuchAs => "Day: enter a date such as 2026-05-09.";
    public static string Estimate(string before, string after, string volumeSymbol) => $"estimate {before} → {after} {volumeSymbol}";
    public static string EstimateMoreCertain(string after, string volumeSymbol) => $"estimate {after} {volumeSymbol}, more certain";
    public static string LightNotTrustedNow(string light) => $"{light} light not trusted now";
    public static string LightTrustedAgain(string light) => $"{light} light trusted again";
    public static string TakenBack => "Taken back";

    // Sheet
    public static string DatesEnterAStartAndAn => "Dates: enter a start and an end date. The start can't be after the end.";
}
