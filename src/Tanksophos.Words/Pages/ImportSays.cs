namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Import say.</summary>
internal static class ImportSays
{
    // Index
    public static string ImportAndExport => "Import and export";
    public static string ALogbookDocumentJSONOrA => "bring in a logbook or a spreadsheet, take out everything";
    public static string TheFile => "The file";
    public static string CantBeImportedNothingWasSaved(string fileName) => $"{fileName} can't be imported. Nothing was saved.";
    public static string AndMore(int count) => $"and {count} more:";
    public static string WillBeAdded(int count, int there) => (count == 1 ? "[1] entry will be added" : $"[{SharedSays.Many(count)}] entries will be added")
        + (there > 0 ? $", {SharedSays.Many(there)} are there already." : ".");
    public static string FromTo(string first, string last) => $"From {first} to {last}.";
    public static string LeaveIt => "Leave it";
    public static string Export => "Export";
    public static string WithItsHouseRulesAndFull(string name) => $"Everything logged for {name}, to keep or to use elsewhere.";
    public static string Import => "Import";
    public static string FileAtMost(string limit) => $"File, at most {limit}";
    public static string WhereItGoes => "Where it goes";
    public static string RigNamedInTheFileOr => "Rig named in the file, or a new one";
    public static string Into(string name) => $"Into {name}";
    public static string AsANewRig => "As a new rig";
    public static string Preview => "Preview";
    public static string YouSeeWhatsAddedBeforeIts =>
        "You see what's added before it's saved. Importing the same file twice adds nothing the second time.";
    public static string FileFormats => "File formats";
    public static string ALogbookDocumentHolds =>
        "A logbook document holds a rig and its entries; the example in [docs/examples/logbook.json] shows all of it. "
        + "A CSV holds readings of one rig:";
    public static string ColumnsOfATable =>
        "[lit] names the sensors whose lights were on, [-] for none. Commas or semicolons separate the columns. "
        + "Dates like [11/27/2026 9:00 PM] are taken too; you see how they were read. "
        + "A table with a column [type] holds entries of every kind, one column for each field, as the export writes it.";
    public static string WhatWillBeAdded => "What will be added";
    public static string ChooseAFile => "Choose a file";
    public static string NewRig(string name) => $"New rig: {name}";
    public static string Remarks(int count) => count == 1 ? "1 remark" : $"{count} remarks";
    public static string NothingToAddBackToToday => "Nothing to add. Back to Today";
    public static string ChooseAFileALogbookDocument => "choose a file: a logbook document (JSON) or a spreadsheet (CSV, Excel)";
    public static string ItHasMBAtMostAre(double length, string limit) => $"it has {length:0} MB; at most {limit} are accepted";
    public static string TheUploadExpiredChooseTheFile => "the upload expired: choose the file again";
    public static string Added(string? newRig, string entries, int there) =>
        $"{(newRig is null ? "" : $"{newRig} set up, ")}{entries} added{(there > 0 ? $", {SharedSays.Many(there)} were there already" : "")}.";

    // Spreadsheets kept by hand
    public static string Columns => "Columns";
    public static string HowItIsRead => "How we read it";
    public static string LinesUnderstood(int taken, int lines) =>
        taken == lines ? (lines == 1 ? "We understood its one line." : $"We understood all {lines} lines.") : $"We understood {taken} of {lines} lines.";
    public static string DatesAre => "Dates have";
    public static string MonthFirst => "the month first (11/27)";
    public static string DayFirst => "the day first (27/11)";
    public static string PlacesWithoutHookup => "Places without a hookup have";
    public static string ReadItAgain => "Read it again";
    public static string ASpreadsheetNeedsARig => "a spreadsheet needs a rig to go to: set the rig up or import its logbook first";
    public static string ASpreadsheetYouKept =>
        "A spreadsheet you kept by hand works too: CSV or Excel, any columns. You see how each column is read and can change it.";

    // Earlier imports
    public static string EarlierImports => "Earlier imports";
    public static string UndoImport => "Undo this import";
    public static string PutItBack => "Put it back";
    public static string StillInTheLog(int count) => count == 0 ? ", undone" : $", {count} still in the log";
    public static string Undone(string entries) => $"Import undone: {entries} removed. They stay in the logbook, crossed out.";
    public static string PutBack(string entries) => $"{entries} put back.";

    // Long imports
    public static string Importing(string entries) => $"Importing {entries}";
    public static string YouCanLeave => "You can leave this page; it goes on. If you stop it, nothing of it is kept.";
    public static string StopIt => "Stop";
    public static string LookAgain => "Look again";
    public static string Stopped => "Stopped";
    public static string NothingOfItWasKept => "Nothing was saved. Your log is as it was.";
    public static string NothingWasSaved => "Nothing was saved";
    public static string BackToData => "Back to import and export";
    public static string ItFailed => "The import failed. Nothing was saved, and what was saved before is safe.";

    // Formats
    public static IReadOnlyList<(string What, string Name, string Words)> Formats(bool plan) =>
    [
        ("everything", "Everything (ZIP)", "The whole log with photos. Keep this one as a copy."),
        ("logbook", "Logbook (JSON)", "The rig, its house rules and its log. Bring it into another Tanksophos."),
        ("entries", "All entries (CSV)", "One line for each entry, for a spreadsheet."),
        ("readings", "Readings (CSV)", "Only what the panel showed or you saw."),
        ("package", "Data package (ZIP)", "Tables for analysis, each with a JSON Schema: entries, looks, tanks, measurements."),
        ("assessment", "Assessment (JSON)", "Levels, sensors and findings as of now."),
        .. plan ? new[] { ("plan", "Trip plan (JSON)", "The plan of the trip under way or next.") } : [],
    ];
    public static string CalendarIsOnTrip => "The calendar link for your phone is there.";
    public static string SheetForTechnician => "One page to print or share with your technician.";
    public static string AskFromAScript => "Ask for the same from a script.";
}
