using System.Globalization;
using Tanksophos.Core.Care;

namespace Tanksophos.Words.Pages;

/// <summary>What the page Care says.</summary>
internal static class CareSays
{
    public static string Title => "Care";
    public static string Now => "Now";
    public static string ThisMonth => "This month";
    public static string Later => "Later";
    public static string NotLogged => "Not logged yet";
    public static string Off => "Turned off";
    public static string DueNow => "Due now";
    public static string NothingDue => "Nothing is due";
    public static string NextUp(string what, string when) => $"Next: {what}, {when}.";
    public static string Minutes(double minutes)
    {
        var (hours, rest) = (Math.Floor(minutes / 60).ToString("0", CultureInfo.InvariantCulture), Math.Floor(minutes % 60).ToString("0",
            CultureInfo.InvariantCulture));
        return minutes < 90 ? $"{minutes.ToString("0", CultureInfo.InvariantCulture)} min" : rest == "0" ? $"{hours} h" : $"{hours} h {rest} min";
    }

    public static string About(string cost) => $"about {cost}";
    public static string Done => "Done";
    public static string DoneToday => "Done today";
    public static string FoundAProblem => "Problem found";
    public static string Skip => "Skip";
    public static string PutOff => "Put off";
    public static string PutOffUntil => "Put off until";
    public static string Reason => "Reason (optional)";
    public static string TurnOff => "Turn off";
    public static string TurnOn => "Turn on";
    public static string Details => "Time, cost, part";
    public static string TookMinutes => "Minutes it took";
    public static string AboutMinutes => "About how many minutes";
    public static string AboutCost => "About what it costs";
    public static string ResultChoose => "How did it go: choose one.";
    public static string Cost => "Cost";
    public static string Part => "Part or drain";
    public static string WhenDone => "Day";
    public static string WhyDue => "Why:";
    public static string Entries(int count) => count == 1 ? "1 entry" : $"{count} entries";
    public static string LastDone(string when) => $"Last done {when}.";
    public static string ManyLate(int count) => $"{count} chores are late";
    public static string ManyLateText => "Old log? Start reminders from today, as if everything had just been done. Your entries stay.";
    public static string StartFromToday => "Start from today";
    public static string RemindersStartToday => "Reminders start from today.";
    public static string WhichDrains => "Which drains get no daily water?";
    public static string WhichDrainsText =>
        "Their traps dry out in about two weeks, and sewer gas comes in. A shower used as a closet, a second bath, a washer drain.";
    public static string OtherDrain => "Another drain";
    public static string AllAreUsed => "All are used";
    public static string SavedDrains => "Unused drains saved.";
    public static string UnusedDrains => "Unused drains";
    public static string AddAChore => "Add a chore";
    public static string AddText => "Anything you do again and again: filters, tires, roof.";
    public static string Name => "Name";
    public static string Every => "How often";
    public static string Number => "How many";
    public static string Steps => "Steps, one a line";
    public static string Parts => "Parts";
    public static string ReadyToAdd => "Ready to add";
    public static string Added(string name) => $"{name} added.";
    public static string Removed(string name) => $"{name} removed. Its entries stay.";
    public static string Remove => "Remove";
    public static string TurnedOff(string name) => $"{name}: no more reminders.";
    public static string TurnedOn(string name) => $"{name}: reminders on.";
    public static string ThisYear(string time, string cost) => $"This year: {time}, {cost}";
    public static string FreezingNights => "May freeze.";
    public static string Legend => "Rising: time since it was last done. Line: due. Triangle: done. Diamond: next.";
    public static string StripOf(string name, string due) => $"{name}: {due}";
    public static string SheetTitle => "Before the season";
    public static string SheetOf(string rig) => $"{rig}: care";
    public static string DueList => "Due now or soon";
    public static string SheetIsForFrost => "This list assumes it may freeze.";
    public static string Planned => "planned";
    public static string NextJet(string when, string why) => $"Next jet: {when}. {why}";
    public static string Grades(string grades) => $"Grades: {grades}";
    public static string Waits => "waits";
    public static string CoveredBy(string what) => $"“{what}” on Today takes care of this.";
    public static string CoveredByTreatment => "A treatment already in the tank takes care of this.";
    public static string AllChores => "All chores";
    public static string StartIt => "Start";
    public static string LogService => "Log it";
    public static string CostsAndTotals => "Costs and totals";
    public static string BeforeTheSeason => "Sheet";
    public static string NameEnter => "Name: enter what you call it, at most 120 letters.";
    public static string NameTaken(string name) => $"Name: there is a chore called {name} already.";
    public static string NumberAccepted(string accepted) => $"How many: {accepted} is accepted.";
    public static string HowOftenChoose => "How often: choose one.";
    public static string ChoreGone => "Chore: it is no longer on the list. Reload the page.";
    public static string DayBetween => "Put off until: a day from tomorrow to a year from now is accepted.";
    public static string DayNotAhead => "Day: a day that is not ahead is accepted.";
    public static string MinutesAccepted => "Minutes it took: a number from 0 to 10,080 is accepted.";
    public static string CostAccepted => "Cost: an amount like 6.50 is accepted.";
    public static string SomeoneElse => "Someone else changed this rig. Reload the page and try again.";
    public static string TooMany(int most) => $"Name: {most} chores is the most.";

    /// <summary>The rhythms offered, by the word of the field that they set.</summary>
    public static IReadOnlyList<(string Code, string Name)> Rhythms =>
    [
        ("everyMonths", "Every … months"), ("everyDays", "Every … days"), ("timesAYear", "… times a year"),
        ("open", "When the season is opened"), ("close", "When the season is closed"), ("eachTrip", "Each trip"),
    ];

    /// <summary>A chore to take over: its name and steps.</summary>
    /// <param name="id">Its id.</param>
    public static (string Name, IReadOnlyList<string> Steps) Ready(string id) => id switch
    {
        ReadyMade.WaterHeater => ("Water heater flush", ["Heater off, gas and electric. Let it cool for hours.",
            "Close the water, open a hot faucet: no pressure left.", "Only then open the drain or pull the anode: scalding water under pressure injures.",
            "Flush until clear. Anode used up: replace it. No anode: put the plug back.", "Fill it before you switch it on."]),
        ReadyMade.FreshTank => ("Sanitize the fresh tank", ["Follow a plumber's or the maker's directions for the amount.",
            "Never with anything else in the water.",
            "Flush until no smell is left."]),
        ReadyMade.WaterFilter => ("Change the water filter", ["Water off, pressure off.", "New cartridge, gasket greased.", "Run 5 gal through it."]),
        ReadyMade.RoofSeals => ("Look over the roof seals", ["From a ladder with a helper; stay off a wet roof.", "Vent caps, seams, edges.",
            "Note cracks; have them resealed."]),
        _ => (id, []),
    };
}

/// <summary>What the page that closes and opens the season says.</summary>
internal static class SeasonSays
{
    public static string Close => "Close the season";
    public static string Open => "Open the season";
    public static string WillItFreeze => "Will it freeze?";
    public static string WillItFreezeText => "While the rig is in storage. Not sure? Choose “It may”.";
    public static string ItMay => "It may";
    public static string ItMayText => "Drain all water. Antifreeze in traps.";
    public static string ItWillNot => "It will not";
    public static string ItWillNotText(string school) => school;
    public static string KeepWater(string water) => $"Keep {water} of treated water in black.";
    public static string KeepFull => "Black full of fresh water.";
    public static string KeepDry => "Tanks dry.";
    public static string Splits => "Water that freezes splits tanks, valves and traps.";
    public static string SewerHere => "There is a sewer here";
    public static string Months => "Months in storage";
    public static string Begin => "Begin";
    public static string StepOf(int step, int of) => $"Step {step} of {of}";
    public static string MinutesLeft(string time) => $"about {time} left";
    public static string Done => "Done";
    public static string Skip => "Skip";
    public static string Back => "Back";
    public static string AllSteps => "All steps";
    public static string StartDumpRun => "Start dump run";
    public static string ReadPanel => "Log the reading";
    public static string FrostAhead => "Your trip or the forecast says it will freeze. Don't leave water in the tanks.";
    public static string PlanForFreezing => "Plan for freezing";
    public static string NotReady => "Not ready yet";
    public static string ClosedTitle => "Ready to close";
    public static string OpenedTitle => "Ready to open";
    public static string HoldsWaste(string tanks) => $"{tanks} still holds waste.";
    public static string HoldsWasteText => "Don't store the rig with waste in a tank. Dump it, or leave this open and you'll be reminded.";
    public static string LeaveOpen => "Leave it open";
    public static string StepsDone(int count) => count == 1 ? "1 step done" : $"{count} steps done";
    public static string StepsSkipped(int count) => count == 1 ? "1 step skipped" : $"{count} steps skipped";
    public static string PeopleOnBoard(int count) => count == 1 ? "The log says 1 person is on board." : $"The log says {count} people are on board.";
    public static string NobodyStays => "Nobody stays on board";
    public static string Save => "Save";
    public static string GiveUp => "Give up";
    public static string LitOverEmpty(string light, string tank) => $"The {light} light of {tank} is on over an empty tank: fouled or shorted.";
    public static string SeeSensors => "Sensors";
    public static string AlreadyOpen(string when) => $"The season is open already{when}.";
    public static string AlreadyClosed(string when) => $"The season is closed already{when}.";
    public static string Since(string when) => $", since {when}";
    public static string Anyway => "Do it anyway";
    public static string NotUnderWay => "Season: nothing has been started. Begin again.";
    public static string FrostChoose => "Will it freeze: choose one.";
    public static string MonthsAccepted => "Months in storage: a whole number from 0 to 60 is accepted.";
    public static string OtherUnderWay => "Season: you are in the middle of the other one. Finish it or give it up first.";
    public static string SeasonClosed => "Season closed.";
    public static string SeasonOpened => "Season opened.";
    public static string ToCare => "Care";
    public static string LoggedAlready => "Already in the log.";
    public static string MonthlyLook => "Check on it once a month: smell, traps, mice and insects at vent and cap.";
}

/// <summary>What the page of costs says.</summary>
internal static class CostsSays
{
    public static string Title => "Costs and totals";
    public static string ByMonth => "By month";
    public static string ByTrip => "By trip";
    public static string DaysPerFill => "Days per fill";
    public static string Month => "Month";
    public static string Trip => "Trip";
    public static string Season => "Season";
    public static string Water => "Water";
    public static string Treatments => "Treatments";
    public static string Stations => "Stations";
    public static string Service => "Service and chores";
    public static string Total => "Total";
    public static string Dumps => "Dumps";
    public static string Nothing => "Nothing yet";
    public static string NothingText => "Log water, doses, chores and service with what they cost, and totals show here.";
    public static string Table => "Table (CSV)";
    public static string ChartOf => "Cost of each month";
    public static string Winter => "Winter";
    public static string Spring => "Spring";
    public static string Summer => "Summer";
    public static string Fall => "Fall";
}
