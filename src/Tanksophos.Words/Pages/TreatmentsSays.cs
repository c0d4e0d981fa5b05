namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Treatments say.</summary>
internal static class TreatmentsSays
{
    // Index
    public static string For => "for";
    public static string AllTreatments => "All treatments";
    public static string ByItsLabel => "by its label";
    public static string TheSameAsTheStarterWater => ", the same as the starter water";
    public static string Water(string after) => $"water{after}";
    public static string ItCostsAbout(string amount) => $"It costs about {amount}.";
    public static string WhyThisMuch => "Why this much";
    public static string AnotherTankOrMoreDays => "Another tank or more days";
    public static string DaysUntilTheNextDump => "Days until the next dump";
    public static string AnotherTankSize => "Another tank size";
    public static string Compute => "Compute";
    public static string SepticHere => ", septic here";
    public static string YourRule(string treatment, string septic) => $"your rule: {treatment}{septic}";
    public static string ShelfAndCosts => "Shelf and costs";
    public static string BleachWasInItRinseTwice(string ago) => $"Bleach was in it {ago}: rinse twice before anything else goes in.";
    public static string ForTheSensors(IReadOnlyList<string> labels, string step, string done, bool checkFirst) =>
        $"For the {string.Join(" and ", labels).Replace('[', '(').Replace(']', ')')} {(labels.Count == 1 ? "sensor" : "sensors")}: [{step}{done}]"
        + (checkFirst ? ". Check the panel first: it may have worked." : ".");
    public static string AfterEmptyingIt(string? lastCare) =>
        (lastCare is null ? "No soap or degreaser logged." : $"Soap or degreaser last {lastCare}.")
        + " After emptying it, before a drive: [a squirt of soap]; each month or so [degreaser].";
    public static string Due => "due";
    public static string DeepCleanYourRule(string when) => $"Deep clean, your rule: {when}.";
    public static string RecipesByProblem => "Recipes by problem";
    public static string IsThisPaperOK => "Is this paper OK?";
    public static string AGlassOfWater30Seconds => "a glass of water, 30 seconds";
    public static string DropOneSquareInAGlass =>
        "Drop one square in a glass of water, wait 30 seconds, stir once. Pulp is OK. Pieces are not. Not sure? Shake it in a jar of water.";
    public static string WhichPaper => "Which paper";
    public static string Test => "Test";
    public static string Glass30S => "glass, 30 s";
    public static string ShakenInAJar => "shaken in a jar";
    public static string InTheWater => "In the water";
    public static string Pulp => "Pulp";
    public static string Pieces => "Pieces";
    public static string YourRuleIs => "Your rule:";
    public static string RigPaperOnly => "rig paper only";
    public static string NoPaperInTheTank => "no paper in the tank";
    public static string AnyThatPassesWithPlentyOf => "any that passes, with plenty of water";
    public static string LittlePaperAndMuchWaterMatter(string anyThatPasses) =>
        $"{anyThatPasses}. Little paper and much water matter as much as the kind; a septic label settles nothing. No wipes of any kind.";
    public static string AboutAWeek => "about a week";
    public static string InTheTanks => "In the tanks";
    public static string WhatYouCallIt => "what you call it";
    public static string ATankOf(string volume) => $"a tank of {volume}";
    public static string OfForTheLampsDone(int done, int times) => $" · {done} of {times} for the lamps done";
    public static string ByTheTrip => " expected";
    public static string UpToInTheDaysAhead(string temperature) => $", up to {temperature} in the days ahead";
    public static string NothingSinceItWasEmptied(string at) => $"Nothing since it was emptied {at}.";
    public static string NothingLogged => "Nothing logged.";
    public static string WorksUntil(string at) => $". Works until {at}.";
    public static string ItWorkedUntil(string at) => $". It worked until {at}.";
    public static string InARow(int times) => $", {times} in a row";
    public static string OfDone(int done, int times) => $", {done} of {times} done";
    public static string PulpInTheGlassPiecesIn => "pulp in the glass, pieces in the jar: better not";
    public static string Suits => "suits";
    public static string PiecesInTheGlassPulpIn => "pieces in the glass, pulp in the jar: only with plenty of water";
    public static string DoesNotSuit => "does not suit";
    public static string PulpInTheJar => "pulp in the jar";
    public static string PiecesInTheJar => "pieces in the jar";

    // Shelf
    public static string TheLabelOverridesEveryAmount => "the label overrides every amount here";
    public static string NothingOnTheShelfYet => "Nothing on the shelf yet";
    public static string AddWhatYouBoughtWithThe =>
        "Add what you bought, with the dose on its label. Doses, runs and plans then follow the label, and the log counts what's left.";
    public static string ForAmount(string amount, string quantity) => $"{amount} for {quantity}";
    public static string ItsLabel(string caution) => $"Its label: {caution}";
    public static string BoughtAnother => "Bought another";
    public static string UseThisOne => "Use this one";
    public static string AmountLeft => "Amount left";
    public static string Counted => "Counted";
    public static string LabelSizePrice => "Label, size, price";
    public static string AddAProduct => "Add a product";
    public static string CompareTreatments => "Compare treatments";
    public static string WhatEachRoutineTreatmentCost(string name, string school) =>
        $"What each routine treatment cost and did in {name}, from the log; for ones you haven't tried, the cost by your shelf. Your rule: "
        + $"{school}.";
    public static string ChangeIt => "Change it";
    public static string Treatment => "Treatment";
    public static string PerFill => "Per fill";
    public static string PerMonth => "Per month";
    public static string DaysItSmelled => "Days it smelled";
    public static string LightsOnAfterADump => "Lights on after a dump";
    public static string NotTried => "not tried";
    public static string FillsFromTo(string from, string to, int fills) => $"{from} to {to}, {(fills == 1 ? "1 fill" : $"{fills} fills")}";
    public static string In(int odorDays, string days) => $"{odorDays} in {days}";
    public static string AFewFillsProveLittleHeat => "A few fills prove little; heat and hookups differ. Costs in your currency.";
    public static string TreatmentsCompared => "Treatments compared";
    public static string Archived => ", archived";
    public static string InUse => ", in use";
    public static string AmountLeftNotCounted => "Amount left: not counted.";
    public static string OfThemUnopened(int spare) => $" {spare} of them unopened.";
    public static string Archive => "Archive";
    public static string NoPrice => "no price";
    public static string OfLooks(int lampsLit, int looks) => $"{lampsLit} of {looks} looks";

    // _ProductForm
    public static string DoseOnTheLabel => "Dose on the label";
    public static string Unit => "Unit";
    public static string PerTankSize => "Per tank size";
    public static string SizeOfACapful => "Size of a capful";
    public static string LabelsMaximumPerTank => "Label's maximum per tank";
    public static string WorksForDays => "Works for, days";
    public static string FullContainerHolds => "Full container holds";
    public static string Price => "Price";
    public static string LabelWarning => "Label warning";
    public static string BoraxSoapsAndOtherRecipe =>
        "Borax, soaps and other recipe ingredients need no dose. Poisonous gas: never mix bleach, acids or cleaners with anything else.";
    public static string ATankOfAnySize => "a tank of any size";
    public static string WhereCapsAreCounted => "where caps are counted";
    public static string NotStated => "not stated";
    public static string About7 => "about 7";
    public static string NotCounted => "not counted";
    public static string InItsOwnWords => "in its own words";
    public static string Of32FlOz => "32 fl oz";
    public static string Of950ML => "950 mL";

    // Index
    public static string PaperChooseOneOf(string accepted) => $"Paper: choose one of {accepted}.";
    public static string WhichPaperUseAtMost60 => "Which paper: use at most 60 characters.";
    public static string TestChooseGlassOrJar => "Test: choose glass or jar.";
    public static string APaper => "A paper";
    public static string HottestDayEnter(string acceptedTemperature) => $"Hottest day: enter {acceptedTemperature}.";
    public static string DaysEnterANumberFrom0 => "Days: enter a number from 0 to 60.";
    public static string CapacityEnterMoreThan0(string acceptedVolume) => $"Capacity: enter {acceptedVolume}, more than 0.";

    // Shelf
    public static string ADose(string amount) => $", {amount} a dose";
    public static string NameEnterANameOfAt => "Name: enter a name of at most 60 characters.";
    public static string KindChooseOneOf(string accepted) => $"Kind: choose one of {accepted}.";
    public static string UnitChooseOneOf(string accepted) => $"Unit: choose one of {accepted}.";
    public static string FullContainerHoldsEnterMore(string accepted) => $"Full container holds: enter {accepted}, more than 0.";
    public static string PriceEnterANumberSuchAs => "Price: enter a number such as 14.99, 0 or more.";
    public static string AmountLeftEnter(string accepted) => $"Amount left: enter {accepted}.";
    public static string LabelWarningUseAtMost300 => "Label warning: use at most 300 characters.";
    public static string AcceptedIs(string field, string accepted) => $"{field}: accepted is {accepted}.";
    public static string AtMostProductsFitOnThe(int maxProducts) => $"At most {maxProducts} products fit on the shelf.";
    public static string IsOnTheShelf(string name) => $"{name} is on the shelf.";
    public static string IsSaved(string name) => $"{name} is saved.";
    public static string EnterANumberAbove0Such => "enter a number above 0 such as 8.";
    public static string DoseOnTheLabelEnterA => "Dose on the label: enter a number above 0 such as 8. Only what recipes measure goes without.";
    public static string EnterANumberAbove0In => "enter a number above 0 in the unit of the dose.";
    public static string PerTankSizeEnterMoreThan(string acceptedVolume) =>
        $"Per tank size: enter {acceptedVolume}, more than 0; or nothing, for one tank of any size.";
    public static string SizeOfACapfulFillThe =>
        "Size of a capful: fill the cap once and measure it; a volume such as 15 mL or 0.5 fl oz is accepted.";
    public static string WorksForEnterAWholeNumber => "Works for: enter a whole number of days from 1 to 60.";
    public static string WaterWithItEnter(string acceptedVolume) => $"Water with it: enter {acceptedVolume}.";
    public static string AnotherIsOnTheShelf(string name) => $"Another {name} is on the shelf.";
    public static string FirstEnterHowMuchAFull(string name) => $"{name}: first enter how much a full container holds.";
    public static string Left(string name, string quantity) => $"{name}: {quantity} left.";
    public static string IsArchivedTheLogKeepsIt(string name) => $"{name} is archived. The log keeps it.";
    public static string IsBackOnTheShelf(string name) => $"{name} is back on the shelf.";
    public static string IsInUseNow(string name) => $"{name} is in use now.";
    public static string WorksFor => "Works for";
}
