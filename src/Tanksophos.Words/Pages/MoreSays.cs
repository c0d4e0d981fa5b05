namespace Tanksophos.Words.Pages;

/// <summary>What the pages of More say.</summary>
internal static class MoreSays
{
    // Index
    public static string Care(int due) => due switch { 0 => "Nothing is due", 1 => "1 chore is due", _ => $"{due} chores are due" };
    public static string Shelf => "Shelf";
    public static string US => "US";
    public static string Metric => "Metric";
    public static string PropaneAlarmSounding => "Propane alarm sounding?";
    public static string WhatToDoRightNow => "What to do right now";
    public static string MorePlaces => "More places";
    public static string SetUp => "Set up";
    public static string Units => "Units";
    public static string SomethingToCheck => "Something to check";
    public static string NoDoseDue => "No dose due";
    public static string NextDose(string when) => $"Next dose {when}";
    public static string DoseDue => "Dose due";
    public static string LastEntry(string ago) => $"Last entry {ago}";
    public static string NothingLoggedYet => "Nothing logged yet";
}
