namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Mend say.</summary>
internal static class MendSays
{
    // Index
    public static string NothingToMend => "Nothing to mend";
    public static string QuestionItsSettledAlready => "Question: it's settled already. Reload the page.";
    public static string QuestionThatEntryIsGoneReload => "Question: that entry is gone. Reload the page.";
    public static string OneOfTheTwoDumpsIs => "One of the two dumps is crossed out.";
    public static string QuestionThatReadingIsGone => "Question: that reading is gone. Reload the page.";
    public static string TheReadingIsCorrected => "The reading is corrected.";
    public static string QuestionSomebodyChangedThat => "Question: somebody changed that reading meanwhile. Reload the page.";
    public static string QuestionOnlyYouCanKnowWhat => "Question: only you can know what happened. Open the entry and correct it.";
    public static string QuestionThisWasAlreadyAnswered => "Question: this was already answered. Reload the page.";
}
