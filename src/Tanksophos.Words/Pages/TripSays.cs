namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Trip say.</summary>
internal static class TripSays
{
    // Index
    public static string To(string first, string last) => $"{first} to {last}";
    public static string TripSheet => "Trip sheet";
    public static string FilesCalendarMore => "Files, calendar, more";
    public static string TripRemoved(string? name) => $"Trip “{name}” removed.";
    public static string NoTripYet => "No trip yet";
    public static string EnterWhereYouStayHowMany =>
        "Enter where you stay, how many nights, and the hookups there. The plan tells you when to close gray, dump, flush and dose, and "
        + "how likely an overflow is. It starts from what the log says is in the tanks now, and changes with every entry.";
    public static string NameOfTheTrip => "Name of the trip";
    public static string Begin => "Begin";
    public static string GuestViewOnlyCrewAndOwners => "Guest: view only. Crew and owners plan trips.";
    public static string Calendar => "Calendar";
    public static string CalendarFile => "Calendar file";
    public static string SubscribeToThisAddressInYour =>
        "Subscribe to this address in your calendar. Shown only now. Don't share it: it opens your plan.";
    public static string Address => "Address";
    public static string TurnItOff => "Turn it off";
    public static string Files => "Files";
    public static string TripJSON => "Trip (JSON)";
    public static string PlanJSON => "Plan (JSON)";
    public static string Trips => "Trips";
    public static string NewTrip => "New trip";
    public static string Rename => "Rename";
    public static string RemoveThisTrip => "Remove this trip";
    public static string SummerLoop => "Summer loop";
    public static string ThisTrip => "This trip";
    public static string Trip => "Trip";
    public static string StopsOf(int count) => count == 1 ? "1 stop" : $"{count} stops";
    public static string CalendarsCanReadThisTripA => "Calendars can read this trip. A new address turns off the old one.";
    public static string APrivateAddressKeepsYour => "A private address keeps your calendar up to date as the plan changes.";
    public static string NewAddress => "New address";
    public static string GetAnAddress => "Get an address";

    // Sheet
    public static string OnePageToHangUpPrint => "One page to hang up. Print it from your browser.";
    public static string BackToTheTrip => "Back to the trip";
    public static string PrintedTimesAreLocalToEach(string name, string moment) =>
        $"{name} · printed {moment}. Times are local to each stop. This page won't update.";
    public static string NoStopsAheadSoNothingTo => "No stops ahead, so nothing to do.";
    public static string LessThan1 => "less than 1 %";
    public static string ChanceATankOverflowsBlackAnd(string overflowProbability, int blackDumps, int grayDumps, string volume) =>
        $": {overflowProbability} chance a tank overflows. {blackDumps} black and {grayDumps} gray dumps, {volume} for rinsing.";
    public static string First => "First:";
    public static string StopField => "Stop";
    public static string Arrive => "Arrive";
    public static string Leave => "Leave";
    public static string Hookups => "Hookups";
    public static string Done => "Done";
    public static string What => "What";
    public static string GlovesAndEyeProtectionOnKids =>
        "Gloves and eye protection on, kids and pets away. Connect both hose ends before you open a valve. Black first, then gray, never "
        + "both open. Never leave a closed tank while it fills. Poisonous gas: never bleach with anything else in a tank. Labels and local "
        + "rules override this sheet.";
    public static string NoOverflowExpected => "No overflow expected";
    public static string ATankMayOverflow => "A tank may overflow";

    // _Board
    public static string NothingWasChanged => "Nothing was changed.";
    public static string TheNewestVersionOfThisTrip => "The newest version of this trip can't be read, so an earlier one is shown.";
    public static string ChangedHereIsTheNewPlan => "Changed. Here is the new plan.";
    public static string TheTripSaysYoureAtThe(string place, string planned, string logged) =>
        $"The trip says you're at {place} ({planned}); the log says {logged}. The plan uses the trip.";
    public static string WeAreHere => "We are here";
    public static string WhereFirst => "Where first?";
    public static string NameNightsAndHookupsAreEnough => "Name, nights and hookups are enough. The rest gets usual values; change it later.";
    public static string ThisTripIsOver => "This trip is over";
    public static string AllItsStopsAreInThe => "All its stops are in the past. Add a stop, or start a new trip.";
    public static string LessThanOne => "Less than 1 %";
    public static string BlackAloneYourRuleAllows(string probability, string allowed) =>
        $" Black alone: {probability}. Your rule allows {allowed}, because sewage is worse than dishwater.";
    public static string ChanceATankOverflowsYourRule(string overflowProbability, string percent, string blackOverflowRisk) =>
        $"{overflowProbability} chance a tank overflows. Your rule allows {percent}.{blackOverflowRisk}";
    public static string Opens => "Opens";
    public static string Closes => "Closes";
    public static string LaterThanItOpens => "use a time later than it opens.";
    public static string ClosedWhileThere(string name, string hours) => $"{name} is closed when you get there ({hours}). Change the hour, or dump elsewhere.";
    public static string LookFirst => "Look first.";
    public static string Rinsing => "Rinsing";
    public static string Doses => "Doses";
    public static string AtStations => "At stations";
    public static string Min => "min";
    public static string AtAbout(string tank, string place, string probability, string day) => $"{tank} at {place}: {probability}, about {day}";
    public static string Leaves(string probability) => $"leaves {probability}";
    public static string DoIt => "Do it";
    public static string NoSimpleFixHere => "No simple fix here.";
    public static string ThePlanChanged(string ago) => $"The plan changed {ago}";
    public static string AndMore(int count) => $"and {count} more";
    public static string FirstField => "First";
    public static string NotNowAndWhy(int count) => $"Not now, and why: {count}";
    public static string DoneSoFar(int count) => $"Done so far: {count}";
    public static string DontDumpHere => "Don't dump here";
    public static string DumpHere => "Dump here";
    public static string StopsField => "Stops";
    public static string NextStop => "Next stop";
    public static string Nights => "Nights";
    public static string FirstDay => "First day";
    public static string Add => "Add";
    public static string WithoutASewer => "Without a sewer";
    public static string WhatIf => "What if";
    public static string HowThePlanChooses => "How the plan chooses";
    public static string FirstTheSafetyRulesBlackOnly(string any, string black) =>
        "First, the safety rules: black only at a sewer, black before gray, never both open. Then the chance of any overflow stays within "
        + $"{any}, of black within {black}. Among those plans, the first difference in this list decides:";
    public static string BlackIsntDumpedBelowHalf => "black isn't dumped below half without topping up";
    public static string BlackGoesAtSitesWithTheir => "black goes at sites with their own sewer rather than at stations";
    public static string NoMoreThanDaysBetweenBlack(int maxDays) => $"no more than {maxDays} days between black dumps, seven in heat";
    public static string BlackIsntCarriedHomeFromA => "black isn't carried home from a last stop with a sewer";
    public static string EnoughGrayIsThereToRinse => "enough gray is there to rinse the hose";
    public static string FewDumps => "few dumps";
    public static string BlackNearWhenItGoes(string percent) => $"black near {percent} when it goes";
    public static string LittleMoneyAndWaterAndShort => "little money and water, and short waits for others";
    public static string MorePeopleLessWaterAnotherRule => "More people, less water, another rule, a station skipped: each planned and compared.";
    public static string Compare => "Compare";
    public static string OverflowRisk => "Overflow risk";
    public static string WhatChanged => "What changed";
    public static string TheTripOverTime => "The trip over time";
    public static string OneNightLessAt(string name) => $"One night less at {name}";
    public static string OneNightMoreAt(string name) => $"One night more at {name}";
    public static string NameOfThePlace => "Name of the place";
    public static string Under1 => "under 1 %";
    public static string Dump => "dump";
    public static string Dumps(int count) => count == 1 ? "dump" : "dumps";
    public static string NightsInLine(int count) => count == 1 ? "night" : "nights";
    public static string Of1Hour => "1 hour";
    public static string NightsOf(int count) => count == 1 ? "1 night" : $"{count} nights";
    public static string DumpHereInLine => "dump here";
    public static string DontDumpHereInLine => "don't dump here";
    public static string HereNoPlanStaysWithinThat =>
        "Here no plan stays within that risk. The risky stretches are kept short; the rest follows the same list.";
    public static string NoOtherOrderOfDumpsIs => "No other order of dumps is better.";
    public static string ALongTripThisIsThe => "A long trip: this is the best order found. A better one may exist.";

    // _Compared
    public static string BlackDumps => "Black dumps";
    public static string GrayDumps => "Gray dumps";
    public static string GrayDownTheToilet => "Gray down the toilet";
    public static string UseThisPlan => "Use this plan";
    public static string Yes => "yes";
    public static string No => "no";
    public static string MinOf(double stationMinutes) => $"{stationMinutes:0} min";
    public static string UpTo(string percent) => $"up to {percent}";

    // _DryStay
    public static string Days(string name, string stay) => $"{name}: {stay} days";
    public static string Lasts => "lasts";
    public static string DaysOf(string days) => $"{days} days";
    public static string FreshWaterFlushingIncluded => "Fresh water, flushing included";
    public static string DishBasinAndWarmUpWater(string percent, string days) =>
        $"Dish basin and warm-up water down the toilet, {percent} of the gray: {days} days until the first tank is full in busy days.";
    public static string PouringGrayWaterDownTheToilet => "Pouring gray water down the toilet won't help here: black fills as fast.";
    public static string AQuarterLessWaterDays(string days, string asPlanned) => $"A quarter less water: {days} days{asPlanned}.";
    public static string DaysMoreThanThePlan(string days) => $"{days} days more than the plan";
    public static string NoBetterThanThePlan => "no better than the plan";
    public static string NoLimitInSight => "no limit in sight";
    public static string ThePlanPutsThere(string percent) => $" The plan puts {percent} there.";

    // _ImportTrip
    public static string ImportATrip => "Import a trip";
    public static string BringIn => "Bring in";

    // _StopSheet
    public static string HoursDrivenBefore => "Hours driven before";
    public static string Fee(string currency) => $"Fee, {currency}";
    public static string TimeZone => "Time zone";
    public static string ItsTap => "Its tap";
    public static string OthersWaitThere => "others wait there";
    public static string HasADumpStation => "has a dump station";
    public static string OnSeptic => "on septic";
    public static string Black => "Black:";
    public static string NoWish => "no wish";
    public static string Earlier => "Earlier";
    public static string Later => "Later";

    // _TripRibbon
    public static string D => "D";
    public static string C => "C";
    public static string Close => "close";
    public static string O => "O";
    public static string S => "S";
    public static string ScrubBeforeTheDrive => "scrub before the drive";
    public static string DottedDumpLevelUpperLine => "dotted: dump level; upper line: completely full";
    public static string StopsAndTanksOverTheTrip => "Stops and tanks over the trip";
    public static string N(int nights) => $"{nights} n";

    // Index
    public static string TripEnterANameOf1(int maxName) => $"Trip: enter a name of 1 to {maxName} characters.";
    public static string ThereAreTripsAlreadyRemoveOne(int maxTrips) => $"There are {maxTrips} trips already; remove one first.";
    public static string NewStopNameUse1To(int maxName) => $"New stop, name: use 1 to {maxName} characters.";
    public static string NewStopHookupChooseOneOf(string accepted) => $"New stop, hookup: choose one of {accepted}.";
    public static string NewStopNightsEnterAWhole(int maxNights) => $"New stop, nights: enter a whole number from 0 to {maxNights}.";
    public static string ATripHasAtMostStops(int maxStops) => $"A trip has at most {maxStops} stops.";
    public static string NewStopTheStopAfterIt => "New stop: the stop after it is gone.";
    public static string StopItIsNoLongerThere => "Stop: it is no longer there.";
    public static string Use1ToCharacters(int maxName) => $"use 1 to {maxName} characters.";
    public static string ChooseOneOf(string accepted) => $"choose one of {accepted}.";
    public static string EnterAWholeNumberFrom0(int maxNights) => $"enter a whole number from 0 to {maxNights}.";
    public static string EnterAWholeNumberFrom1(int maxPeople) => $"enter a whole number from 1 to {maxPeople}; a stop with no people is storage.";
    public static string EnterHoursFrom0To24 => "enter hours from 0 to 24.";
    public static string HottestDayInLine => "hottest day";
    public static string Enter(string acceptedTemperature) => $"enter {acceptedTemperature}.";
    public static string EnterAnAmountFrom0To => "enter an amount from 0 to 1000000.";
    public static string ATimeSuchAs1500 => "a time such as 15:00 is accepted.";
    public static string NoZoneIsCalledEnterA(string? zone) => $"no zone is called '{zone}'; enter a name such as America/Denver.";
    public static string FirstDayInLine => "first day";
    public static string EnterADateSuchAs2026 => "enter a date such as 2026-06-05.";
    public static string ItMustBeLaterThanThe => "it must be later than the arrival.";
    public static string ItsInThePastAPlan => "it's in the past. A plan can't include a finished stop.";
    public static string NightsEnterAWholeNumberFrom(int maxNights) => $"Nights: enter a whole number from 0 to {maxNights}.";
    public static string OrderEnterAWholeNumber => "Order: enter a whole number.";
    public static string TankChooseOneOf(string accepted) => $"Tank: choose one of {accepted}.";
    public static string StopItIsNotOneOf => "Stop: it is not one of the trip's.";
    public static string NothingCanBeDumpedThere(string name) => $"{name}: nothing can be dumped there.";
    public static string NothingToUndo => "Nothing to undo.";
    public static string FileChooseATripDocumentJSON => "File: choose a trip document (JSON).";
    public static string FileUseAtMost2MB => "File: use at most 2 MB.";
    public static string StopsTheWholeTripIsIn => "stops: the whole trip is in the past, so nothing can be planned.";
    public static string ImportedTrip => "Imported trip";
    public static string AsPlanned => "As planned";
    public static string OnePersonMore => "One person more";
    public static string OnePersonLess => "One person less";
    public static string UseAQuarterLessWater => "Use a quarter less water";
    public static string Without(string name) => $"Without {name}";
    public static string GrayRule(string rule) => $"Gray rule: {rule}";
    public static string DumpBlackAt(string percent) => $"Dump black at {percent}";
    public static string TheChangeCantBeMade => "The change can't be made.";
    public static string ThisTripInLine => "this trip";
    public static string ATripOfDaysIsToo(double totalDays, int maxDays) =>
        $"A trip of {totalDays:0} days is too long: use at most {maxDays} days.";
    public static string TheWholeTripWouldBeIn => "The whole trip would be in the past. Choose a later first day.";
}
