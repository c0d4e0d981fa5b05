namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Find say.</summary>
internal static class FindSays
{
    // Health
    public static string HealthOf(string name) => $"Health of {name}";
    public static string ToToday(string day) => $"{day} to today";
    public static string Trusted => "trusted";
    public static string NotTrustedStuckOn => "not trusted, stuck on";
    public static string NotTrustedStuckOff => "not trusted, stuck off";
    public static string Sensor(string label, string believed) => $"{label} sensor: {believed}";
    public static string ThinLineTrustedTallBoxNot => "Thin line: trusted. Tall box: not trusted. [Sensors] says why.";
    public static string WhatMayHaveChangedIt => "What may have changed it";
    public static string TheWasGone(string day, string condition) => $"{day}: the {condition} was gone";
    public static string View => "View";
    public static string WhenEachSensorWasTrusted => "When each sensor was trusted";
    public static string GoingUpOverMonthsMeansBuildup => "Going up over months means buildup.";
    public static string DrainTimeVsUsual => "Drain time vs. usual";
    public static string Of1IsThisRigsUsualTime => "1 is this rig's usual time from that level. A slow drain can mean a clog.";
    public static string MeteredUpToFull(string volumeSymbol) => $"Metered up to Full, {volumeSymbol}";
    public static string LessThanBeforeMeansBuildup => "Less than before means buildup takes up space.";
    public static string RiskOfAWastePile => "Risk of a waste pile";
    public static string GoesUpBeforeYouSeeAnything =>
        "Goes up before you see anything: open black valve, no starter water, low dumps, paper that stays whole.";
    public static string RiskOfBuildup => "Risk of buildup";
    public static string FromRinsesSniffTestsSensorsAnd => "From rinses, sniff tests, sensors and capacity.";
    public static string DaysItSmelledEachWeek => "Days it smelled, each week";
    public static string DaysTheLast(int count, string day) => count == 1 ? $"1 day, {day}." : $"{count} days, the last {day}.";
    public static string Charts => "Charts";
    public static string Table => "Table";
    public static string NoSmellLogged => "No smell logged";
    public static string DaysWithASmell(int count, string day) =>
        count == 1 ? $"1 day with a smell, {day}" : $"{count} days with a smell, the last {day}";
    public static string Graded(string? grade, string day) => $"Graded {grade} {day}";
    public static string NoServiceGrade => "No service grade";
    public static string TreatmentChangedTo(string school) => $"treatment changed to {school}";
    public static string After(string cause) => $", after {cause}";
    public static string ByItself => ", by itself";

    // Index
    public static string FromTheLogTheLevelsAnd => "from the log, the levels and the rig";
    public static string ServiceSheet => "Service sheet";
    public static string WhichDrain => "Which drain?";
    public static string WhereDoesItSmell => "Where does it smell?";
    public static string OK => "OK";
    public static string WastePile => "Waste pile";
    public static string NoPileLogTheLevel => "No pile; log the level";
    public static string OtherChecks => "Other checks";
    public static string TheSmell => "The smell";
    public static string WhatWasNoticed => "What was noticed";
    public static string TheTanks => "The tanks";
    public static string LogAFewDumpsRinsesAnd => "Log a few dumps, rinses and sniff tests, and this page can tell a healthy tank from a problem.";
    public static string YourDumpsRinsesAndChecksLook => "Your dumps, rinses and checks look like a healthy rig.";
    public static string IfYouNoticeSomethingTapWhere(string tooLittle) => $"{tooLittle} If you notice something, tap where it is.";
    public static string HowToDoItAndLog => "How to do it, and log the result";
    public static string WhatToDo(string tank) => $"{tank}: what to do";
    public static string DidntWorkIf(string sign) => $"Didn't work if: {sign}";
    public static string LevelNotKnownToLookFirst(string least, string most) =>
        $"Level not known ({least} to {most}). Look first, with a flashlight, and log what you see.";
    public static string StepsAndLogIt => "Steps, and log it";
    public static string DoneLogIt => "Done. Log it";
    public static string CallATrainedPersonNext => "Call a trained person next. The [service sheet] shows what you saw and tried.";
    public static string WhichDrainWhichValve => "Which drain, which valve?";
    public static string ItsLoggedAsOfNowYou => "It's logged as of now. You can undo it.";
    public static string CrewAndOwnersCanLogIt => "Crew and owners can log it here.";
    public static string TapItThenPickWhatsWrong => "Tap it, then pick what's wrong. Tap a tank for its health over time.";
    public static string SewerGasCanPoisonAndIgnite =>
        "Sewer gas can poison and ignite. Treat a propane alarm as real until a qualified person rules out propane.";
    public static string CausesOfTheSmell => "Causes of the smell";
    public static string WhatMayBeWrong => "What may be wrong";
    public static string SensorChecks => "Sensor checks";
    public static string WhatDoYouNotice => "What do you notice";
    public static string DrainsTanksAndValves => "Drains, tanks and valves";
    public static string ValveOf(string? name) => $"Valve of {name}";
    public static string ForIt => "For it: ";
    public static string PointsAway => "Points away: ";
    public static string OneDrainAloneItsOwnTrap => ". One drain alone: its own trap or pipe. Log it if the tank's other drains do it too";
    public static string ThatAloneDoesntMakeAnyOf => "That alone doesn't make any of this likely yet:";
    public static string NothingElseLoggedGoesWithIt => "Nothing else logged goes with it. If it happens again, log it again.";
    public static string Of(int done, int times) => $", {done} of {times}";
    public static string Tried => ", tried";
    public static string OfWaterAtMostInSmall(string volume) => $"{volume} of water at most, in small counted amounts";
    public static string OfWater(string volume) => $"{volume} of water";
    public static string AndNoMoreItMayBe => ", and no more: it may be clogged";
    public static string AddAtMostWhileNothingDrains(string most, string present) =>
        $"Add {most} at most while nothing drains. There may already be {present} in there.";
    public static string NoRoomForWaterNowThere(string volume) =>
        $"No room for water now: there may already be {volume} in there. Dump what you can first.";
    public static string OneSlowDrainItsOwnTrap => " One slow drain: its own trap or pipe. All of them: the tank or its vent.";

    // Sheet
    public static string ForYourTechnician => "for your technician";
    public static string AsJSON => "As JSON";
    public static string LogWhatWasFound => "Log what was found";
    public static string LevelsAndFindingsAreEstimates(string heading) => $"{heading}. Levels and findings are estimates from the log.";
    public static string LevelNow => "Level now";
    public static string To(string number, string volume) => $"{number} to {volume}";
    public static string At(string label, string percent) => $"{label} at {percent}";
    public static string LikelyProblems => "Likely problems";
    public static string TheSmellOf(string cause, string probability) => $"The smell: {cause}, {probability}";
    public static string NoneFoundInTheLog => "None found in the log.";
    public static string WhatWasTried => "What was tried";
    public static string LastYearsNotesAndWork => "Last year's notes and work";
    public static string TheLastDumpsAndRinses => "The last dumps and rinses";
    public static string FoundByTheTechnician => "Found by the technician";
    public static string GradeABCDE => "Grade A B C D E F";
    public static string WhatCameOut => "What came out:";
    public static string BeforeYouOpenATankOr =>
        "Before you open a tank or pipe: sewer gas can poison and ignite. No work in closed spaces without air. 12 V off before you touch "
        + "a stud. Never open a cleanout under a full tank.";
    public static string AboveFull(string volume) => $", {volume} above Full";
    public static string PercentStrip => "percent strip";
    public static string Up(string length) => $", {length} up";
    public static string Wire(string wire) => $", wire {wire}";
    public static string TankSensor(string tank, string lamp, string state) => $"{tank}: {lamp} sensor {state}";
    public static string Works => "works";
    public static string StuckOn => "stuck on";
    public static string StuckOff => "stuck off";
    public static string Times(int count) => count == 1 ? "once" : $"{count} times";

    // _Chart
    public static string DayField => "Day";
    public static string NowOn(string value, string date) => $"now, {value} on {date}";

    // _WhereItSmells
    public static string WhereDoesItSmellField => "Where does it smell";
    public static string PlanOfTheRig => "Plan of the rig";

    // Index
    public static string Toilet => "Toilet";
    public static string BathSink => "Bath sink";
    public static string GalleySink => "Galley sink";
    public static string Shower => "Shower";
    public static string Bathroom => "Bathroom";
    public static string NearTheFloor => "Near the floor";
    public static string Everywhere => "Everywhere";
    public static string StorageBay => "Storage bay";
    public static string Outside => "Outside";
    public static string NoticedChooseOneOf(string accepted) => $"Noticed: choose one of {accepted}.";
    public static string TankChooseOneOfTheRigs => "Tank: choose one of the rig's tanks.";
    public static string DrainChooseOneThatDrainsTo => "Drain: choose one that drains to this tank.";
    public static string CheckChooseOneOf(string accepted) => $"Check: choose one of {accepted}.";

    // PointedAt
    public static string OutletCapAndHose => "Outlet, cap and hose";
    public static string ItDripsAtTheCap => "It drips at the cap";
    public static string TheCapIsDry => "The cap is dry";
    public static string HoseOrGasketIsBad => "Hose or gasket is bad";
    public static string ItSmellsOutside => "It smells outside";
    public static string ItSmellsInTheBay => "It smells in the bay";
    public static string TheValveOf(string tank) => $"The valve of {tank}";
    public static string ItsStiff => "It's stiff";
    public static string ItWontClose => "It won't close";
    public static string OpenButNothingComes => "Open, but nothing comes";
    public static string TheToilet => "The toilet";
    public static string ItBacksUp => "It backs up";
    public static string ItDrainsSlowly => "It drains slowly";
    public static string ItGurgles => "It gurgles";
    public static string TankFillsTooFast => "Tank fills too fast";
    public static string BowlWontHoldWater => "Bowl won't hold water";
    public static string ItSmellsWhenFlushed => "It smells when flushed";
    public static string ItSmellsAllTheTime => "It smells all the time";
    public static string WaterStaysInIt => "Water stays in it";
    public static string TheDrainsInto(string drain, string tank) => $"The {drain}, drains into {tank}";
    public static string TheTrapWasDry => "The trap was dry";
    public static string WaterPouredIn => "Water poured in";
    public static string ItSmellsHere => "It smells here";

    // Sheet, Look
    public static string ShareTheSheet => "Share this sheet";
    public static string WhoHasItSeesThisSheet => "Whoever has it sees this sheet, always up to date, and nothing else. The link is shown only now.";
    public static string WhoIsItFor => "Who is it for?";
    public static string ForHowLong => "For how long?";
    public static string DaysOf(int days) => days == 1 ? "1 day" : $"{days} days";
    public static string MakeALink => "Make a link";
    public static string Until(string when) => $"until {when}";
    public static string Opened(string ago) => $"opened {ago}";
    public static string NotOpenedYet => "not opened yet";
    public static string NameWhoIsItFor(int most) => $"Name: say who it is for, 1 to {most} characters.";
    public static string DaysChoose(string days) => $"Days: choose one of {days}.";
    public static string LinkAtMost(int most) => $"Link: at most {most} work at once. Cancel some first.";
    public static string LinkCanceled => "Link canceled. It shows nothing now.";
    public static string ReadOnlyUntil(string when) => $"read only, until {when}";
    public static string ThisLinkNoLongerWorks => "This link no longer works";
    public static string AskTheOwnerForAnother => "Its time is over, or it was canceled. Ask the owner of the rig for a new one.";
}
