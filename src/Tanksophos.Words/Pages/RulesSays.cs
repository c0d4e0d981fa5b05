namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Rules say.</summary>
internal static class RulesSays
{
    // Index
    public static string RVersDisagreeOnTheseYouChoose => "RVers disagree on these. You choose.";
    public static string OurDefault => "our default";
    public static string WhyTheDefault(string why) => $"Why the default: {why}";
    public static string ChooseOneOf(string matter, string accepted) => $"{matter}: choose one of {accepted}.";
    public static string TheFormIsNotCompleteReload => "The form is not complete. Reload the page.";
    public static string SomeoneElseChangedThisRigSince =>
        "Someone else changed this rig since you opened the page. Your choices are below. What is saved now is marked. Save again to use yours.";
    public static string HouseRulesSavedTodayUsesThem => "House rules saved. Today uses them now.";
}
