namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Start say.</summary>
internal static class StartSays
{
    // Index
    public static string SetUpYourRig => "Set up your rig";
    public static string Of3MinutesChangeAnythingLater => "3 minutes; change anything later";
    public static string RigName => "Rig name";
    public static string BlackHolds => "Black holds";
    public static string EachGrayHolds => "Each gray holds";
    public static string In => "in";
    public static string Gallons => "gallons";
    public static string Liters => "liters";
    public static string Panel => "Panel";
    public static string Lights1323Full => "lights: 1/3, 2/3, Full";
    public static string Percent => "percent";
    public static string PeopleOnBoard => "People on board";
    public static string HookupsNow => "Hookups now";
    public static string AllTanksAreEmptyNow => "All tanks are empty now";
    public static string Back => "Back";
    public static string Next => "Next";
    public static string Finish => "Finish";
    public static string HaveALogbookAlready => "Have a logbook already? [Import it] instead.";
    public static string JustLookingAround => "Just looking around?";
    public static string UseSampleData => "Use sample data";
    public static string Steps => "Steps";
    public static string OneBlackOneGray => "One black, one gray";
    public static string MostTrailers => "most trailers";
    public static string OneBlackTwoGray => "One black, two gray";
    public static string BathAndGalleySeparate => "bath and galley separate";
    public static string GrayOnly => "Gray only";
    public static string CassetteOrCompostingToilet => "cassette or composting toilet";
    public static string RigAndTanks => "Rig and tanks";
    public static string PanelAndPeople => "Panel and people";
    public static string WhereYouAre => "Where you are";
    public static string NameUse1To60Characters => "Name: use 1 to 60 characters.";
    public static string TanksPickOneOfTheThree => "Tanks: pick one of the three.";
    public static string PanelPickOneOfTheThree => "Panel: pick one of the three.";
    public static string HookupPickOne => "Hookup: pick one.";
    public static string EmptyAtTheStart => "empty at the start";
    public static string CapacityEnter(string name, string acceptedVolume) => $"{name} capacity: enter {acceptedVolume}.";
    public static string CapacityEnterBetween(string name, string least, string most, string usualLeast, string usualMost) =>
        $"{name} capacity: enter {least} to {most}. Tanks usually hold {usualLeast} to {usualMost}.";
}
