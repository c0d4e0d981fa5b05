namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Run say.</summary>
internal static class RunSays
{
    // At
    public static string StoppedAt(string step) => $"Stopped at: {step}.";
    public static string Resume => "Resume";
    public static string WhatsNext => "What's next";
    public static string AllRuns => "All runs";
    public static string StepOf(int position, int count) => $"step {position} of {count}";
    public static string End => "End";
    public static string NoConnectionGoOn =>
        "No connection. Go on. Taps waiting on this device: [0]. They're sent when it's back. The clock keeps running.";
    public static string FillingStayHere => "Filling. Stay here.";
    public static string TheGate => "the gate";
    public static string EnoughOpen(string valve) => $"Enough. Open {valve}.";
    public static string SlowerThanUsualForThisRig => "Slower than usual for this rig. The next fills are smaller, in case something is clogged.";
    public static string ItDidntDrainAddNoWater => "It didn't drain. Add no water. Skip the rinse, close the valve, and clear the clog first.";
    public static string ByTheMeter(string volumeSymbol) => $"By the meter, {volumeSymbol}";
    public static string HoseProblem => "Something is worn or cracked. Note it, and replace it before you open a valve.";
    public static string TheFullLightCameOnAt => "The Full light came on at this reading";
    public static string ColorOfTheLastTrickle => "Color of the last trickle";
    public static string Debris => "Debris";
    public static string OfTheRig => "Your rig and hose";
    public static string SameAsLastTime(int ticked, int all) =>
        $"Same rig and hose as last time ({ticked} of {all} checked)";
    public static string RigOutletAboveGround => "Rig outlet above ground";
    public static string SewerInletAboveGround => "Sewer inlet above ground";
    public static string HoseLength(string distanceSymbol) => $"Hose length, {distanceSymbol}";
    public static string ItDidntDrain => "It didn't drain";
    public static string ItSmells => "It smells";
    public static string LookFor => "Look for:";
    public static string TheAlarmWorksOnlyWithThis => "The alarm works only with this page open and can't replace you.";
    public static string AfterASlowDrainInCase => "After a slow drain, in case it is clogged:";
    public static string AllClosed => "All closed";
    public static string AllClosedCapIsDry => "All closed, cap is dry";
    public static string ItStopped => "It stopped";
    public static string GoOnWithCare => "Go on with care";
    public static string WaterOn => "Water on";
    public static string WaterOff => "Water off";
    public static string WaterOnAgain => "Water on again";
    public static string PouredIn(string volume) => $"{volume} poured in";
    public static string EnoughIsIn => "Enough is in";
    public static string DownToATrickleHowDid => "Down to a trickle? How did it drain?";
    public static string OneRush => "One rush";
    public static string Evenly => "Evenly";
    public static string Slowly => "Slowly";
    public static string OnlyATrickle => "Only a trickle";
    public static string NothingCame => "Nothing came";
    public static string GoOn => "Go on";
    public static string ItRanOutItStaysOpen => "It ran out; it stays open";
    public static string ItRanOutClosed => "It ran out; closed";
    public static string LittleCameClosed => "Little came; closed";
    public static string WaterOnValveOpen => "Water on, valve open";
    public static string OpenNow(string valve) => $"Open {valve} now";
    public static string ClosedPouredIn(string volume) => $"Closed, {volume} poured in";
    public static string EndClosedGrayAndBlackOpen => "End closed, gray and black open";
    public static string GrayIsClosedAgain => "Gray is closed again";
    public static string EndIsOpenItDrains => "End is open, it drains";
    public static string OneMore => "One more";
    public static string Enough => "Enough";
    public static string NoSmell => "No smell";
    public static string GrayClosedRinseAgain => "Gray closed. Rinse again";
    public static string GoOnWithoutADose => "Go on without a dose";
    public static string WaterOffClosed => "Water off, closed";
    public static string DoneSaveTheLog => "Done. Save the log";
    public static string Back => "Back";
    public static string AllSteps => "All steps";
    public static string About(string percent) => $"about {percent}";
    public static string LookingAtAnotherStepChanges => "Looking at another step changes nothing.";
    public static string StopWaterOffOpenBlack => "Stop. Water off, open black.";
    public static string AnyMoreCanComeOutThe => "Any more can come out the roof vent or toilet.";
    public static string StopCloseGray => "Stop. Close gray.";
    public static string CloseGrayFirstThenOpenThe => "Close gray first, then open the end valve.";
    public static string ItIsOpen => "It is open";
    public static string WaterIsOff => "Water is off";
    public static string NotWithTheOtherValveOpen => "Not with the other valve open, and not into a tank that didn't drain. Check the valves above.";
    public static string WhoContinuedThisRunWhileYou => "{who} continued this run while you were offline. Not counted from here: {taps}.";
    public static string WhoWasAMomentAheadOf => "{who} was a moment ahead of you. Not counted from here: {taps}.";
    public static string TheOtherPhone => "The other phone";
    public static string FirstLogTheLastTrickle => "First log the last trickle.";
    public static string WaterEnterANumber => "Water: enter a number.";
    public static string YoureSignedOutOnThisDevice =>
        "You're signed out on this device. Reload the page and sign in. Your taps wait here and are sent then.";
    public static string StateOfValvesAndWater => "State of valves and water";
    public static string Closed => "closed";
    public static string ON => "ON";
    public static string Off => "off";
    public static string LimitReached => "Limit reached";
    public static string Finished => "finished";
    public static string Stopped => "stopped";
    public static string Nothing => "nothing";
    public static string Of18In => "18 in";
    public static string Of45Cm => "45 cm";
    public static string Of4In => "4 in";
    public static string Of10Cm => "10 cm";
    public static string SlopesDownAllTheWaySupported => "Slopes down all the way, supported, no dip";
    public static string SewerEndScrewedInOrWeighted => "Sewer end screwed in or weighted";
    public static string RinseHoseGoesToTheFlush => "Rinse hose goes to the flush inlet";
    public static string BackflowPreventerInLine => "Backflow preventer in line";
    public static string SeparateHoseNotForDrinking => "Separate hose, not for drinking water";
    public static string ClearPieceInLine => "Clear piece in line";
    public static string Why(string clock) => $"Why {clock}?";
    public static string WhyAsked => "Why?";
    public static string AtMost(string volume, string clock) => $"at most {volume}{clock}.";
    public static string NothingInLine => "nothing.";
    public static string OpenPumpIsOn => "Open, pump is on";
    public static string GateClosedWaterOn => "Gate closed, water on";
    public static string ClosedWaterOn => "Closed, water on";
    public static string GlovesAreOn => "Gloves are on";
    public static string OffAndShut => "Off and shut";
    public static string ItIsClean => "It is clean";
    public static string BothEndsAreLocked => "Both ends are locked";
    public static string ItIsOnTapClosed => "It is on, tap closed";
    public static string ItIsFull => "It is full";
    public static string StowedCapIsOn => "Stowed, cap is on";
    public static string HoseLooksGood => "Hose looks good";
    public static string LooksGood => "Looks good";
    public static string Done => "Done";
    public static string NoRinse => "No rinse";
    public static string Skip => "Skip";

    // Card
    public static string Print => "Print";
    public static string Rinse => "rinse";
    public static string EndInLine => "end";
    public static string OpenedRanOut => "opened ______ ran out ______";
    public static string NotPossibleHere => "Not possible here";
    public static string RunCard => "Run card";
    public static string ByTheClock(string clock) => $", {clock} by the clock";
    public static string AtMostOf(string volume, string clock) => $" At most {volume}{clock}.";
    public static string Usually(string clock) => $" (usually {clock})";

    // Index
    public static string UnderWaySince(string at) => $"Under way since {at}";
    public static string StepOfForm(string form, int position, int count) => $"{form}: step {position} of {count}";
    public static string Continue => "Continue";
    public static string ARunWasStopped(string ago) => $"A run was stopped {ago}";
    public static string AtWhatYouDidIsIn(string step) => $"At: {step}. What you did is in the log. Pick up where you left off.";
    public static string Change => "Change";
    public static string ADumpStation => "A dump station";
    public static string Tap => "Tap";
    public static string NoThreadsJugOnly => "no threads: jug only";
    public static string Afterwards => "Afterwards";
    public static string WeStay => "we stay";
    public static string WeLeave => "we leave";
    public static string OthersAreWaiting => "Others are waiting";
    public static string No => "no";
    public static string Yes => "yes";
    public static string StopFillingBy => "Stop filling by";
    public static string RinseField => "Rinse";
    public static string Update => "Update";
    public static string EnoughForARush => ": enough for a rush.";
    public static string IsAtBetweenAnd(string tank, string level, string least, string most, string after) =>
        $"{tank} is at {level}, between {least} and {most}{after}";
    public static string HowMuchWaterFitsIn(string name) => $"How much water fits in {name}";
    public static string AfterDraining => "After draining";
    public static string WhatStopsARinseFill(string stop) => $"What stops a rinse fill: {stop}";
    public static string LevelNotKnownToLookWith(string name, string number, string volume) =>
        $"{name} level not known ({number} to {volume}). Look with a flashlight and log it, or top up in small counted amounts.";
    public static string OtherRuns => "Other runs";
    public static string MeasureTheFlow => "Measure the flow";
    public static string NotKnownYetSoTimedFills => "Not known yet, so timed fills stay at 30 seconds.";
    public static string ItChangesWithParkPressureSo => "It changes with park pressure, so measure it here.";
    public static string HoldABucketUnderTheRinse(string flowLPerMin) => $"{flowLPerMin} Hold a bucket under the rinse hose and take the time.";
    public static string BucketHolds => "Bucket holds";
    public static string SecondsToFillIt => "Seconds to fill it";
    public static string StartTimer => "Start timer";
    public static string KeepIt => "Keep it";
    public static string TheFullLightCameOnAtBy(string tank, string metered, string capacity, string headroom, string saved) =>
        $"{tank}: the Full light came on at {metered} by the meter. Of {capacity}, that leaves {headroom} above Full. Your rig page says {saved}.";
    public static string TakeAsHeadroomAboveFull(string volume) => $"Take {volume} as headroom above Full";
    public static string PastRuns => "Past runs";
    public static string BlackDrained => "Black drained";
    public static string Rinses => "Rinses";
    public static string RinseWater => "Rinse water";
    public static string Sniff => "Sniff";
    public static string Took => "Took";
    public static string RisingByAboutAMonthBetween(string perMonth, string low, string high) =>
        $"rising by about {perMonth} a month (between {low} and {high}). Walls build up: plan a soak or a scrub.";
    public static string NoSureChangeOverRuns(int rinses) => $"no sure change over {rinses} runs.";
    public static string RinsesUntilClear(string name, string rises) => $"{name}, rinses until clear: {rises}";
    public static string RunUnderWay => "Run under way";
    public static string Next => "Next";
    public static string RunSettings => "Run settings";
    public static string Min(string ceiling) => $"{ceiling} min";
    public static string RinsesOf(int count) => count == 1 ? "1 rinse" : $"{count} rinses";
    public static string AboutOf(string rinses) => $", about {rinses}";
    public static string ToTopUpFirst(string volume) => $", {volume} to top up first";
    public static string Steps(int count, string rinses, string topUp) => $"{count} steps{rinses}{topUp}";
    public static string TheWaterIsOn => "The water is on.";
    public static string AtADumpStation => "At a dump station";
    public static string Here => "Here";
    public static string LeavingAfter => "leaving after";
    public static string Staying => "staying";
    public static string OthersWait => ", others wait";
    public static string Fee(string amount) => $", fee {amount}";
    public static string AMinute(string volume) => $"{volume} a minute";
    public static string NotKnownYet => "not known yet";
    public static string Passed => "passed";
    public static string Failed => "failed";

    // _RunList
    public static string StopAndSave => "Stop and save";

    // _RunReview
    public static string UndoneNothingOfThisRunCounts => "Undone: nothing of this run counts. Its entries stay in the logbook, crossed out.";
    public static string HowItWent => "How it went";
    public static string Time => "Time";
    public static string SniffTest => "Sniff test";
    public static string InTheLog => "In the log";
    public static string TapALineToCorrectIt => "Tap a line to correct it or add a photo of the clear piece.";
    public static string UndoAllOfIt => "Undo all of it";

    // _RunStart
    public static string Start => "Start";
    public static string PrintChecklist => "Print checklist";

    // _RunTrough
    public static string DrawnAsItFillsAndDrains(string name) => $"{name}, drawn as it fills and drains";

    // At
    public static string DataNN(long version) => $"data: {version}\n\n";
    public static string UseAtMost256KB => "use at most 256 KB";
    public static string ARunTakesAtMostPresses(int maxTaps) => $"a run takes at most {maxTaps} presses";
    public static string PressChooseOneOf(string accepted) => $"Press: choose one of {accepted}.";
    public static string WaterEnter(string acceptedVolume) => $"Water: enter {acceptedVolume}.";
    public static string ARunTakesAtMostPressesOf(int maxTaps) => $"A run takes at most {maxTaps} presses.";
    public static string OutletHeight => "Outlet height";
    public static string SewerHeight => "Sewer height";
    public static string HoseLengthField => "Hose length";
    public static string ItFallsTooLittle(string fall, string hose, string least) =>
        $"It falls {fall} over {hose}: less than {least}, so it won't drain by itself. "
        + "Raise the rig end or support the hose, then enter it again, or skip this check.";
    public static string FinishedAndWritten(string entries) => $"The run is finished: {entries} written.";
    public static string StoppedAndWritten(string entries) => $"The run was stopped: {entries} written.";

    // Index
    public static string FormChooseOneOf(string accepted) => $"Form: choose one of {accepted}.";
    public static string BucketEnterAtLeastAQuart(string acceptedVolume) => $"Bucket: enter {acceptedVolume}, at least a quart.";
    public static string SecondsEnterANumberFrom3 => "Seconds: enter a number from 3 to 1800.";
    public static string ThatWouldBeAMinuteToo(string volume) => $"That would be {volume} a minute, too fast for a hose. Measure again.";
    public static string TheFlow => "the flow";
    public static string AMinuteField => "A minute";
    public static string FlowMeasuredAMinuteTimedFills(string volume) => $"Flow measured: {volume} a minute. Timed fills use it now.";
    public static string HeadroomAboveFullIsNow(string name, string volume) => $"{name}: headroom above Full is now {volume}.";
}
