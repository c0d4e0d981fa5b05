namespace Tanksophos.Words.Pages;

/// <summary>What the guide says around its pages.</summary>
internal static class GuideSays
{
    public static string Title => "Guide";
    public static string Search => "Search the guide";
    public static string Find => "Find";
    public static string Found => "Found";
    public static string OnThisPage => "On this page";
    public static string AboutThisPage => "About this page";
    public static string FoundFor(int count, string asked) => count switch
    {
        0 => $"Nothing found for “{asked}”. Try one word.",
        1 => $"1 place about “{asked}”",
        _ => $"{count} places about “{asked}”",
    };
}
