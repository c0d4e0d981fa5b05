namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Import say.</summary>
internal static class ImportSays
{
    // Index
    public static string ImportAndExport => "Import and export";
    public static string ALogbookDocumentJSONOrA => "a logbook document (JSON), or a table of entries or readings (CSV)";
    public static string TheFile => "The file";
    public static string CantBeImportedNothingWasSaved(string fileName) => $"{fileName} can't be imported. Nothing was saved.";
    public static string AndMore(int count) => $"and {count} more:";
    public static string WillBeAdded(int count, int there) => (count == 1 ? "[1] entry will be added" : $"[{count}] entries will be added")
        + (there > 0 ? $", {there} are there already." : ".");
    public static string FromTo(string first, string last) => $"From {first} to {last}.";
    public static string LeaveIt => "Leave it";
    public static string Export => "Export";
    public static string WithItsHouseRulesAndFull(string name) => $"{name} with its house rules and full log, or a table for a spreadsheet.";
    public static string LogbookJSON => "Logbook (JSON)";
    public static string AllEntriesCSV => "All entries (CSV)";
    public static string ReadingsCSV => "Readings (CSV)";
    public static string EverythingWithPhotosZIP => "Everything with photos (ZIP)";
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
    public static string ChooseAFileALogbookDocument => "choose a file: a logbook document (JSON) or a CSV of readings";
    public static string ItHasMBAtMostAre(double length, string limit) => $"it has {length:0} MB; at most {limit} are accepted";
    public static string TheUploadExpiredChooseTheFile => "the upload expired: choose the file again";
    public static string Added(string? newRig, string entries, int there) =>
        $"{(newRig is null ? "" : $"{newRig} set up, ")}{entries} added, {there} were there already.";
}
