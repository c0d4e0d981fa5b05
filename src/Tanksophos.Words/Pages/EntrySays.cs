namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Entry say.</summary>
internal static class EntrySays
{
    // Index
    public static string WhatItChanged => "What it changed";
    public static string CrossedOutNotCounted => "Crossed out, not counted.";
    public static string BeforeItWasEstimatedAtAfter(string tank, string before, string after) =>
        $"Before it, {tank} was estimated at {before}. After it, {after}.";
    public static string SinceThenTheLightIsNot(string lamp) => $"Since then the {lamp} light is not trusted.";
    public static string SinceThenTheLightIsTrusted(string lamp) => $"Since then the {lamp} light is trusted again.";
    public static string AsEstimatedThenFromEverything => "As estimated then, from everything logged up to that time.";
    public static string ItDoesntChangeALevelBy => "It doesn't change a level by itself. It affects how tanks fill, or counts as evidence later.";
    public static string Edit => "Edit";
    public static string ThatDayInTheLog => "That day in the log";
    public static string NoteAndPhotos => "Note and photos";
    public static string ChangedThisEntryWhileYouHad(string who) => $"{who} changed this entry while you had it open.";
    public static string YourNoteIsInTheField => "Your note is in the field below and is not saved yet.";
    public static string SavedNow(string line) => $"Saved now: {line}";
    public static string SaveAgainToUseYourNote => "Save again to use your note, or [leave it as it is].";
    public static string SaveNote => "Save note";
    public static string APhotoWasRemoved => "A photo was removed.";
    public static string APhotoJPEGOrPNG => "A photo (JPEG or PNG)";
    public static string AddIt => "Add it";
    public static string WiringWhatCameOutAHose => "Wiring, what came out, a hose. Location and camera data are removed.";
    public static string AllVersions => "All versions";
    public static string By(string who) => $"by {who}";
    public static string RestoreThisVersion => "Restore this version";
    public static string PhotoAddedBy(string who, string ago) => $"Photo added by {who} {ago}";
    public static string History => "History";
    public static string GiveOrTake(string amount, string unit, string deviation) => $"{amount} {unit} (give or take {deviation})";
    public static string Logged => "Logged";
    public static string Removed => "Removed";
    public static string Corrected => "Corrected";
    public static string NoteUseAtMostCharacters(int longestNote) => $"Note: use at most {longestNote} characters.";
    public static string NoteEnterATextWithoutNUL => "Note: enter a text without NUL characters.";
    public static string NoteSaved => "Note saved.";
    public static string ThatVersionIsBack => "That version is back.";
    public static string PhotoChooseOne(string accepted) => $"Photo: choose one; {accepted}.";
    public static string PhotoItHasMB(long length, string accepted) => $"Photo: it has {length} MB; {accepted}.";
    public static string PhotoAnEntryCarriesAtMost(int maxPerEntry) => $"Photo: an entry carries at most {maxPerEntry}. Remove one first.";
    public static string PhotoSaved => "Photo saved.";
    public static string PhotoPutBack => "Photo put back.";
    public static string PhotoRemoved => "Photo removed.";
    public static string RemovedItStaysCrossedOut => "Removed. It stays, crossed out.";
    public static string PutBackIntoTheLog => "Put back into the log.";
    public static string SomeoneElseChangedThisEntry => "Someone else changed this entry. Check theirs, then save again.";
}
