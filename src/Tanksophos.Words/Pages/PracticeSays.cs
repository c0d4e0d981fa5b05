using Tanksophos.Core.Practice;

namespace Tanksophos.Words.Pages;

/// <summary>Texts of the practice room.</summary>
internal static class PracticeSays
{
    public static string Title => "Practice";
    public static string Lead => "Learn to judge a tank without the mess. Nothing here touches your log.";
    public static string OfferTitle => "New to holding tanks?";
    public static string OfferText => "Ten five-minute cases show you what goes wrong, without the mess.";
    public static string PracticeThis => "Practice this";
    public static string PracticeSmellsAndClogs => "Practice smells and clogs without the mess";
    public static string Short => "Five-minute cases";
    public static string Continue => "Continue";
    public static string OpenCase(string topic, int difficulty) => $"{topic}, level {difficulty}: not answered yet.";
    public static string Course => "The course: a first season";
    public static string CourseLead => "Ten five-minute cases, from the first odd light to a week without a sewer.";
    public static string CourseCase(int number) => number switch
    {
        1 => "First dump, and lights stay on",
        2 => "The middle ran clear",
        3 => "A smell at the shower",
        4 => "Six nights without a sewer",
        5 => "All dark overnight",
        6 => "It fills much too fast",
        7 => "Dirty again, and again",
        8 => "The propane alarm",
        9 => "Six more nights, and two tanks",
        _ => "Lights on after a dump, once more",
    };
    public static string Start => "Start";
    public static string Again => "Again";
    public static string Level(int difficulty) => $"Level {difficulty}";
    public static string ByTopic => "Practice by topic";
    public static string Solved(int solved, int of) => of == 0 ? "Not tried yet" : $"{solved} of {of} solved";
    public static string Weakest(string topic) => $"Practice what went wrong: {Lower(topic)}";
    public static string LastCases => "Last cases, newest last";
    public static string CaseMark(bool solved) => solved ? "solved" : "not solved";
    public static string Explore => "Explore";
    public static string Pile => "The waste pile under the toilet";
    public static string PileLead => "Valve closed or left open: what happens in 14 days.";
    public static string Twin => "Try it on a copy";
    public static string TwinLead => "A copy of your own tanks. Try things and look ahead. Nothing touches your log.";
    public static string HowSureYouWere => "How sure you were:";
    public static string Calibrated(string said, int right, int of) => $"{said}: right {right} of {of}";
    public static string LevelOff(string percent) => $"Your level was off by {percent} of the tank on average.";
    public static string LevelTooDifficult => "Level: 1, 2 or 3 is accepted.";
    public static string TopicUnknown => "Topic: choose one of the topics on this page.";

    public static string TopicLevel(string topic, int difficulty) => $"{topic} · level {difficulty} of {PracticeCase.Hardest}";
    public static string Time => "time";
    public static string Water => "water";
    public static string Mess => "mess";
    public static string Minutes(double minutes) => minutes >= 1440 ? $"{minutes / 1440:0} {(minutes < 2880 ? "day" : "days")}" : $"{minutes:0} min";
    public static string NoneYet => "none yet";
    public static string MessOf(int messy) => messy == 1 ? "1 messy job" : $"{messy} messy jobs";
    public static string TheLog => "The log";
    public static string Lights => "The lights";
    public static string LightsLead => "The last readings, newest on the right. D is a logged dump.";
    public static string LightOn => "on";
    public static string LightOff => "off";
    public static string DumpLetter => "D";
    public static string LoggedDump => "Logged dump";
    public static string Evidence => "Ask for evidence";
    public static string EvidenceLead => "Each costs time, water or mess. Few are needed.";
    public static string Ask => "Ask";
    public static string AskFor(string what) => $"Ask: {what}";
    public static string YourAnswer => "Your answer";
    public static string HowFull => "How full is black now?";
    public static string HowFullLead => "Drag the line in the tank, or use the slider.";
    public static string GiveOrTake => "Give or take";
    public static string Cause => "What is it?";
    public static string WhatToDo => "What do you do?";
    public static string HowSure => "How sure are you?";
    public static string NotSaid => "Rather not say";
    public static string Give => "Give answer";
    public static string Later => "Save for later";
    public static string ChooseAnswer => "Answer: choose one of the answers.";
    public static string LevelAccepted => "Level: a number from 0 to 100 is accepted.";
    public static string SpreadAccepted => "Give or take: a number from 0 to 50 is accepted.";
    public static string EachLight => "And each light?";
    public static string LightsAccepted => "Lights: choose one of the three for each light.";
    public static string YouSaid(string said) => $"you said: {said}";
    public static string Renewed => "The program was updated since you began this case, so it can't go on. Your results are kept. Start a new one.";
    public static string NotOffered => "That check isn't offered in this case.";
    public static string Answered => "This case is answered.";
    public static string TankAlt(string lights) => $"Black tank. {lights}";
    public static string NoLights => "No light is on.";
    public static string LightsOn(string lights) => $"On: {lights}.";
    public static string Nobody => "Level not known";

    public static string Debrief => "Debrief";
    public static string OutOf100 => "of 100";
    public static string Failed => "Failed: someone could have been hurt";
    public static string TrueLevel => "true level";
    public static string WhatLightsSaid => "what the lights said";
    public static string WhatProgramBelieved => "what the program believed, check by check";
    public static string You => "you";
    public static string TheLevel => "Level";
    public static string TheCause => "Answer";
    public static string Waste => "Waste";
    public static string Safety => "Safety";
    public static string Points(int points, int of) => $"{points} of {of}";
    public static string PointsOff(string points) => $"{points} off";
    public static string YouSaidLevel(string said, string low, string high, string truth) => $"You said {said} ({low} to {high}). The tank held {truth}.";
    public static string ProgramOff(string points) => $"With the same checks the program was {points} off.";
    public static string Right(string answer) => $"Right: {Lower(answer)}";
    public static string Wrong(string answer) => $"It was: {Lower(answer)}";
    public static string YouAnswered(string answer) => $"You answered: {Lower(answer)}";
    public static string OnlyIfRight => "No points for this without the right answer.";
    public static string OnlyIfClean => "No points for this without a clean tank.";
    public static string NoWaste => "Nothing wasted";
    public static string Extra(string water, string minutes) => water.Length == 0 ? $"{minutes} extra" : $"{water}, {minutes} extra";
    public static string BestCourse(string checks) => $"All you needed: {checks}.";
    public static string NothingNeeded => "The log alone was enough.";
    public static string NoDanger => "No danger";
    public static string NoDangerText => "Nothing you did could have hurt anyone.";
    public static string InWhichOrder => "And now, in which order?";
    public static string OrderLead => "Three of the steps that fix it. The gentlest goes first.";
    public static string Place(int number) => number switch { 1 => "First", 2 => "Second", _ => "Third" };
    public static string CheckOrder => "Check the order";
    public static string OrderAllRight => "Right: the gentlest first, the next only if it didn't help.";
    public static string OrderInPlace(int right, int of) => $"{right} of {of} in the right place. The gentlest goes first, the next only if it didn't help:";
    public static string OrderAccepted => "Order: choose each of the three steps once.";
    public static string Remember => "Remember";
    public static string WhatEachTold => "What each check told you";
    public static string Helped => "helped";
    public static string Confirmed => "confirmed it";
    public static string NoNews => "no news";
    public static string LogOnly => "The log alone";
    public static string Thought(string answer, string chance) => $"{answer} · {chance}";
    public static string TryAgain => "Try again";
    public static string Next => "Next case";
    public static string Back => "Back to Practice";
    public static string ChartAlt(string truth) => $"The true level over the last days, ending at {truth}, and what the lights said.";
    public static string StepsAlt(string truth, string said) => $"The level the program believed after each check, against the true {truth} and your {said}.";
    public static string Full => "full";
    public static string Empty => "empty";
    public static string PlayTogether => "Play it together";
    public static string PlayTogetherLead => "Others open the link on their phones and give their own answers. They need no account.";
    public static string ShowsIt(string who) => $"{who} is sharing a case. You get the same one and give your own answer.";
    public static string ComeIn => "Play this case";
    public static string MakeLink => "Make a link";
    public static string Answers => "Answers side by side";
    public static string StillThinking => "still thinking";

    public static string PileTitle => "The waste pile under the toilet";
    public static string PileLine => "Some say “pyramid”.";
    public static string PlayDays => "Play 14 days";
    public static string Usual => "Usual values";
    public static string ClosedTitle => "Valve closed until the dump";
    public static string OpenTitle => "Valve left open";
    public static string WhySoft => "Why it stays soft";
    public static string WhySoftText =>
        "Solids sit in liquid for days, so paper and waste break up. Then a full tank leaves in one fast rush and takes them along.";
    public static string WhyPile => "Why it piles up";
    public static string WhyPileText =>
        "Liquid leaves within minutes. Solids stay where they land, dry out and harden. More flushing wets the pile but doesn't move it.";
    public static string Closed => "closed";
    public static string Open => "open";
    public static string Day => "Day";
    public static string Flush => "Flush";
    public static string Starter => "Starter water";
    public static string DumpLevel => "Dump at";
    public static string Paper => "Paper";
    public static string PaperBreaks => "breaks up";
    public static string PaperSlow => "breaks up slowly";
    public static string PaperWhole => "stays whole";
    public static string People => "People";
    public static string AllInTank => "all that is in the tank";
    public static string PileDrawn => "pile, drawn 10 times taller";
    public static string PileAlt => "Two tanks side by side. The numbers are under each one.";
    public static string PileNumbers => "The sliders: numbers are accepted.";
    public static IReadOnlyDictionary<string, string> PileScript => new Dictionary<string, string>
    {
        ["pile-closed"] = "{volume}, {percent} % full. Pile: {pile}, {state}.",
        ["pile-open"] = "Pile: {pile}, {height} of the tank's depth, {state}.",
        ["pile-soft"] = "soft and wet",
        ["pile-firm"] = "drying",
        ["pile-hard"] = "dry and hard inside",
        ["pile-none"] = "hardly any",
        ["pile-down"] = "A flush goes down.",
        ["pile-backs"] = "A flush backs up: the pile is at the toilet.",
        ["pile-day"] = "Day {day}",
    };

    public static string Pictures => "A rinse, a sensor, a trap";
    public static string PicturesLead => "Why only the last trickle counts, what holds a light on, when a drain starts to smell.";
    public static string PicturesTitle => "Three pictures to play with";
    public static string RinseTitle => "A rinse";
    public static string RinseLead =>
        "Water swirls the middle clean first. The corners give up their dirt a little at a time, and only the last trickle comes from there.";
    public static string Rinses => "Rinses";
    public static string RinseAlt => "A black tank from the side, dirt in its corners, and the clear piece below. What it shows is told underneath.";
    public static string RunsFirst => "first";
    public static string MiddleOfDrain => "middle";
    public static string LastTrickle => "last trickle";
    public static string SensorTitle => "A sensor";
    public static string SensorLead => "A light is on when something wet connects the sensor: water, or anything else.";
    public static string SensorAlt => "A tank wall with a sensor at 1/3, and its light on the panel. What it shows is told underneath.";
    public static string LevelNow => "Level";
    public static string HoursSince => "Hours since the dump";
    public static string OnTheSensor => "On the sensor";
    public static string Hangs(ProbeHangs hangs) => hangs switch
    {
        ProbeHangs.Film => "a wet film",
        ProbeHangs.Paper => "wet paper",
        ProbeHangs.Wire => "a broken wire",
        _ => "nothing",
    };
    public static string TrapTitle => "A trap nobody uses";
    public static string TrapLead =>
        "The water in the bend keeps tank air out. Left alone, it dries up. A cup or two every two weeks keeps it wet; sooner when it's hot.";
    public static string TrapAlt => "The bend of a drain from the side, with water in it. What it shows is told underneath.";
    public static string DaysSince => "Days since water ran";
    public static IReadOnlyDictionary<string, string> PictureScript => new Dictionary<string, string>
    {
        ["end-clear"] = "clear",
        ["end-tinted"] = "tinted",
        ["end-dark"] = "dark",
        ["rinse-dump"] = "Dumped, not rinsed yet. Even the last of it is dark.",
        ["rinse-fooled"] = "The middle runs clear, but the last trickle is {end}. Rinse again.",
        ["rinse-again"] = "The last trickle is {end}. Rinse again.",
        ["rinse-done"] = "Clear to the last trickle. Done: more water won't make it cleaner.",
        ["sensor-right-on"] = "On, and right: water reaches the sensor.",
        ["sensor-right-off"] = "Off, and right: the water is below the sensor.",
        ["sensor-film"] = "On, but wrong: a wet film still connects it. Gone by tomorrow.",
        ["sensor-paper"] = "On, but wrong: wet paper connects the sensor to the wall. It stays until it's washed off.",
        ["sensor-hidden"] = "On. Right for now, but it would stay on with the tank empty.",
        ["sensor-wire"] = "Off, but wrong: water is there, and no signal gets out.",
        ["sensor-wire-low"] = "Off. Right for now, but it would stay off with the tank full.",
        ["trap-full"] = "Day {day}: the bend is full. No air gets through.",
        ["trap-low"] = "Day {day}: {percent} of the water is left. Still tight.",
        ["trap-due"] = "Day {day}: time for a cup or two of water.",
        ["trap-dry"] = "Day {day}: dry. Tank air comes up the drain.",
    };

    public static string Yes => "yes";
    public static string No => "no";
    public static string Drill => "A dump run";
    public static string DrillLead => "At the sewer hose, with things going wrong.";
    public static string DrillLevel(int difficulty) => $"Level {difficulty} of {PracticeCase.Hardest}";
    public static string DrillTask(string black, string head) =>
        $"Dump and rinse both tanks, and leave the rig ready to go. Black holds {black}. Your rinse hose puts out about {head} a minute.";
    public static string DrillMinutes(double minutes) => $"{minutes:0} min";
    public static string AtTheHandles => "Handles";
    public static string HoseAndWater => "Hose and water";
    public static string LookAndWait => "Look and wait";
    public static string WhenDone => "When it's done";
    public static string DoNow => "Right now";
    public static string Gloves => "Gloves and eye protection on. Wash your hands after.";
    public static string WhatYouDid => "What you did";
    public static string NothingDone => "Nothing yet.";
    public static string SeenFull(string percent) => $"Down the toilet: liquid up to about {percent} of the tank.";
    public static string Black => "Black";
    public static string Gray => "Gray";
    public static string HandleOpen => "open";
    public static string HandleClosed => "closed";
    public static string HandleUnknown => "not checked";
    public static string Sewer => "Sewer";
    public static string ClearPiece => "Clear piece";
    public static string DrillAlt(string black, string gray, string outlet, string water) => $"Black is {black}. Gray: {gray}. {outlet} {water}";
    public static string WaterIsOn => "The rinse water is on.";
    public static string WaterIsOff => "The rinse water is off.";
    public static string ActNotOffered => "That can't be done now.";
    public static string DrillClean => "Clean";
    public static string DrillReady => "Ready to go";
    public static string IsClean => "Clear to the last trickle";
    public static string LeftAlone => "Clogged, and left alone";
    public static string FilledIt => "You put water into a tank that wouldn't empty";
    public static string NotClean(string color) => $"The last trickle is still {color}";
    public static string ReadyBlack => "Black closed and tight";
    public static string ReadyGray => "Gray closed, or as you found it";
    public static string ReadyGrayEmpty => "Gray dumped";
    public static string ReadyStarter(bool clogged) => clogged ? "No starter water into a clogged tank" : "Starter water in";
    public static string ReadyDose(bool clogged) => clogged ? "No dose into a clogged tank" : "Dose in";
    public static string OwnRun(string minutes, string water) => $"The program did it in {minutes} with {water}.";
    public static string YourRun(string minutes, string water) => $"You took {minutes} and {water}.";
    public static string WentWrong => "What went wrong along the way";
    public static string WhatWasInBlack => "What was really in the tanks";
    public static string DrillChartAlt(string minutes) => $"Black and gray over {minutes}. The list below says the same.";
    public static string KeyBlack => "black";
    public static string KeyGray => "gray";
    public static string KeyProgram => "black, in the program's run";
    public static string ProgramsRun => "The program's run";
    public static string DrillOpen(int difficulty) => $"A dump run, level {difficulty}: not finished yet.";
    public static string NextRun => "Next run";

    public static string VisitLead => "No account needed. Answer on your own phone; all answers are shown after yours.";
    public static string YourName => "Your name";
    public static string NameAccepted => "Name: 1 to 30 characters are accepted.";
    public static string NameTaken => "Name: someone here already has that name. Choose another.";
    public static string TooManyPlay => "This case is full.";
    public static string HaveAccount => "I have an account here";

    public static string Progress => "Your scores over time";
    public static string ProgressAlt(string marks) => $"Scores out of 100, oldest first: {marks}.";
    public static string AverageLast(int count, int average) => $"Last {count} cases: {average} on average.";

    public static string TwinTitle => "Sandbox: a copy of your tanks";
    public static string TwinLine(string rig) => $"A copy of {rig}, as it is now. Nothing you try here goes into the log.";
    public static string WhatIf => "What if...";
    public static string TwinAct(TwinAct act, string topUp) => act switch
    {
        Core.Practice.TwinAct.Nothing => "we do nothing",
        Core.Practice.TwinAct.DumpBlack => "we dump black now",
        Core.Practice.TwinAct.DumpBoth => "we dump black, then gray, now",
        Core.Practice.TwinAct.OpenBlack => "we leave black open",
        Core.Practice.TwinAct.OpenGray => "we leave gray open",
        Core.Practice.TwinAct.TopUp => $"we add {topUp} of water to black",
        _ => "two guests come along",
    };
    public static string NeedsSewer => "Only at a sewer.";
    public static string TwinDays => "Days ahead";
    public static string Try => "Try it";
    public static string InDays(int days, string act) => $"{(days == 1 ? "In a day" : $"In {days} days")}, if {act}";
    public static string AsItIs => "as it is";
    public static string Then => "then";
    public static string FullWhen(string when) => $"Full about {when}";
    public static string NotFullSoon => "Not full within 60 days";
    public static string TwinAlt(string tank, string then, string without) => $"{tank}: {then}, without it {without}.";
    public static string TwinPile(string volume, string percent) =>
        $"A pile of about {volume} would be under the toilet, {percent} of the tank's depth, drying hard.";
    public static string TwinGuard => "Leaving black open is how a waste pile grows.";
    public static string TwinDaysAccepted => "Days ahead: a number from 1 to 14 is accepted.";
    public static string TwinActUnknown => "What if: choose one of the things on this page.";
    public static string ToPile => "See how a pile grows";

    private static string Lower(string text) => text.Length == 0 ? text : char.ToLowerInvariant(text[0]) + text[1..];
}
