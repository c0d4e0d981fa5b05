namespace Tanksophos.Words.Pages;

/// <summary>What the page about other programs says.</summary>
internal static class ProgramSays
{
    public static string Title => "For other programs";
    public static string Where => "what a script or a gadget can ask for and log";
    public static string Document => "OpenAPI document";
    public static string HowToBegin => "Start here";
    public static string Begin => "Make a token on the Account page and choose what it may do. The program sends it with every request:";
    public static string Curl(string address) => $"curl -H \"Authorization: Bearer tks_...\" {address}/api/v1/rig";
    public static string Fair(int burst, int perSecond) =>
        $"A token may ask {burst} times at once and {perSecond} times a second after that. Beyond that the answer is 429 and says how long to wait. "
        + "Amounts are in liters and degrees Celsius. Times include their UTC offset.";
    public static string Example => "Example";
    public static string Sent => "Send";
    public static string Answered => "Get back";
    public static string Answers(string all) => $"Possible answers: {all}.";
}
