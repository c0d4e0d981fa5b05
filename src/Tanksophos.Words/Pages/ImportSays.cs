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
    public static string AreThereAlready(int alreadyThere) => $", {alreadyThere} are there already";
    public static string WillBeAdded(string count, string alreadyThere) => $"{count} will be added{alreadyThere}.";
    public static string FromTo(string replace, string replace2) => $"From {replace} to {replace2}.";
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
    public static string ALogbookDocumentHoldsARig => "A logbook document holds a rig and its entries; the example in";
    public static string DocsExamplesLogbookJson => "docs/examples/logbook.json";
    public static string ShowsAllOfItACSV => "shows all of it. A CSV holds readings of one rig:";
    public static string AtTankViaLitPercentFraction =>
        "at,tank,via,lit,percent,fraction,note 2026-05-09T18:00:00-06:00,black,panel,low mid,,, "
        + "2026-05-09T18:05:00-06:00,galley,panel,,57,, 2026-05-09T18:10:00-06:00,black,sight,,,0.6,flashlight";
    public static string Lit => "lit";
    public static string NamesTheSensorsWhoseLightsWere => "names the sensors whose lights were on,";
    public static string ForNoneCommasOrSemicolons => "for none. Commas or semicolons separate the columns. Dates like";
    public static string Of11272026900PM => "11/27/2026 9:00 PM";
    public static string AreTakenTooYouSeeHow => "are taken too; you see how they were read. A table with a column";
    public static string Type => "type";
    public static string HoldsEntriesOfEveryKindOne => "holds entries of every kind, one column for each field, as the export writes it.";
    public static string WhatWillBeAdded => "What will be added";
    public static string ChooseAFile => "Choose a file";
    public static string NewRig(string name) => $"New rig: {name}";
    public static string Remark => "remark";
    public static string Remarks => "remarks";
    public static string NothingToAddBackToToday => "Nothing to add. Back to Today";
    public static string ChooseAFileALogbookDocument => "choose a file: a logbook document (JSON) or a CSV of readings";
    public static string ItHasMBAtMostAre(double length, string limit) => $"it has {length:0} MB; at most {limit} are accepted";
    public static string TheUploadExpiredChooseTheFile => "the upload expired: choose the file again";
    public static string SetUp(string name) => $"{name} set up, ";
    public static string Added(string what, int count, string what2) => $"{what}{count} {what2} added, ";
    public static string WereThereAlready(int alreadyThere) => $"{alreadyThere} were there already.";
}
