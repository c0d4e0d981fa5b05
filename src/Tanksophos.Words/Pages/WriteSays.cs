namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Write say.</summary>
internal static class WriteSays
{
    // Index
    public static string ChangedThisEntryWhileYouHad(string who) =>
        $"{who} changed this entry while you had it open. Your version is in the form below.";
    public static string TakenBack => "taken back. ";
    public static string InTheLogNow(string withdrawn, string line) => $"In the log now: {withdrawn}{line}";
    public static string SaveAgainToUseYours => "Save again to use yours, or [leave it as it is]. Both stay in the entry's history.";
    public static string AtTheDrain => "At the drain";
    public static string GasOrPropaneAlarmEveryoneOut =>
        "Gas or propane alarm: everyone out first. No flames, no switches. Log it as an alarm under \"Something is wrong\" after.";
    public static string WhatYouNoticed => "What you noticed";
    public static string TreatAPropaneAlarmAsReal => "Treat a propane alarm as real: everyone out first, then call for help.";
    public static string RinsesWaterInAndTheLast => "Rinses: water in, and the last trickle";
    public static string RinseWaterIn(int number) => $"Rinse {number}: water in";
    public static string TheFirstGushIsAlwaysDark => "The first gush is always dark. Log the last trickle. Leave unused rinses empty.";
    public static string HowMuch => "How much";
    public static string FromTheShelf => "From the shelf";
    public static string AmountUsed => "Amount used";
    public static string PoisonousGasBleachWithUrine =>
        "Poisonous gas: bleach with urine, acid or other cleaners. One product at a time. The label overrides these amounts.";
    public static string HoursDriven => "Hours driven";
    public static string CurvyRoad => "Curvy road";
    public static string IfItStartedEarlierSetThe => "If it started earlier, set the time below.";
    public static string MinutesItRan => "Minutes it ran";
    public static string HowMuchCameOutIfMetered => "How much came out, if metered";
    public static string BlackBeforeGrayGlovesOnSewer =>
        "Black before gray, gloves on. Sewer gas is poisonous: stay upwind, and never lean over an open inlet.";
    public static string LightsThatWereOn(string name) => $"{name}: lights that were on";
    public static string PercentOnThePanel => "Percent on the panel";
    public static string SeenOrMeteredOfTheTank => "Seen or metered, % of the tank";
    public static string PlusOrMinus => "Plus or minus, %";
    public static string OnlyFieldsForThisKindOf => "Only fields for this kind of reading are saved. No light chosen means none was on.";
    public static string KeepBlackClosedExceptToDump => "Keep black closed except to dump. Left open, liquid drains off and solids pile up.";
    public static string PeopleOnBoardFromThenOn => "People on board from then on";
    public static string Place => "Place";
    public static string TimeZoneThere => "Time zone there";
    public static string TheTimeBelowIsLocalTo => "The time below is local to that place.";
    public static string WhichSensorOptional => "Which sensor (optional)";
    public static string PressureJetsAnd12VWiring => "Pressure jets and 12 V wiring are for trained people. Switch 12 V off first.";
    public static string When(string id) => $"When ({id})";
    public static string Cancel => "Cancel";
    public static string KindsOfEntries => "Kinds of entries";
    public static string RinseLastTrickle(int number) => $"Rinse {number}: last trickle";
    public static string Of12Cup => "1/2 cup";
    public static string Of8FlOz => "8 fl oz";
    public static string LogAnEntry => "Log an entry";
    public static string Nothing => "nothing";
    public static string Flashlight => "flashlight";
    public static string SprayHead => "spray head";
    public static string GrayBackFeed => "gray back-feed";
    public static string ToiletOnFlushing => "toilet, on flushing";
    public static string BathroomSink => "bathroom sink";
    public static string GalleySink => "galley sink";
    public static string TheWholeRig => "the whole rig";
    public static string NearTheFloor => "near the floor";
    public static string StorageBay => "storage bay";
    public static string ValveWontClose => "valve won't close";
    public static string Correct(string kind) => $"Correct: {kind}";
    public static string AllKindsOfEntriesAllDetails => "all kinds of entries, all details";
    public static string WhatItSmellsLike => "What it smells like";
    public static string Strength15 => "Strength (1-5)";
    public static string WhatWasGoingOn => "What was going on";
    public static string WhichTankOptional => "Which tank (optional)";
    public static string WhichCheck => "Which check";
    public static string InOrder => "in order";
    public static string NotInOrder => "not in order";
    public static string Of60SOr10Gal => "60 s or 10 gal";
    public static string Of60SOr40L => "60 s or 40 L";
    public static string NoDebris => "no debris";
    public static string What => "What";
    public static string Of3Gal => "3 gal";
    public static string Of11L => "11 L";
    public static string Flow => "Flow";
    public static string LastTrickle => "Last trickle";
    public static string Debris => "Debris";
    public static string HowItWasRead => "How it was read";
    public static string Into => "Into";
    public static string ItIs => "It is";
    public static string Hookups => "Hookups";
    public static string WhatWasDone => "What was done";
    public static string GradeFromWhatCameOut => "Grade, from what came out";
    public static string SaveChanges => "Save changes";
    public static string Flush => "Flush";
    public static string RinsesAndTheLastTrickleOf => "rinses, and the last trickle of each";
    public static string Dose => "Dose";
    public static string TreatmentAdded => "treatment added";
    public static string Smell => "Smell";
    public static string WhereWhatKindWhen => "where, what kind, when";
    public static string SomethingIsWrong => "Something is wrong";
    public static string GurglesDripsSlowDrainsLights => "gurgles, drips, slow drains, lights, the alarm";
    public static string Check => "Check";
    public static string ATestThatPassedOrFailed => "a test that passed or failed";
    public static string Drive => "Drive";
    public static string HoursDrivenInLine => "hours driven";
    public static string WorkDone => "Work done";
    public static string JettingSensorsValvesSeals => "jetting, sensors, valves, seals, season";
    public static string Dump => "Dump";
    public static string MinutesFlowLastTrickle => "minutes, flow, last trickle";
    public static string Reading => "Reading";
    public static string PanelFlashlightOrMeter => "panel, flashlight or meter";
    public static string WaterIn => "Water in";
    public static string StarterTopUpSoak => "starter, top-up, soak";
    public static string LeftOpenOrClosed => "left open, or closed";
    public static string HowManyPeople => "how many people";
    public static string WhereYouAreAndWhatHookups => "where you are and what hookups";
    public static string S(string seconds) => $"{seconds} s";
    public static string Volume => "Volume";
    public static string FromTheShelfChooseOneOf => "From the shelf: choose one of the shelf's products.";
    public static string AmountUsedEnterMoreThan0(string accepted) => $"Amount used: enter {accepted}, more than 0.";
    public static string RinseEnterSecondsSuchAs60(int number, string acceptedVolume) =>
        $"Rinse {number}: enter seconds such as 60 s, or {acceptedVolume}.";
    public static string Entry => "Entry";
    public static string PlusOrMinusField => "Plus or minus";
    public static string Lamps => "Lamps";
}
