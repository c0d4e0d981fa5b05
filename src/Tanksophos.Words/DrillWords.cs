using Tanksophos.Core.Log;
using Tanksophos.Core.Practice;

namespace Tanksophos.Words;

/// <summary>Says a practiced dump run in words: what can be done, what is seen, what went wrong.</summary>
public static class DrillWords
{
    /// <summary>What can be done.</summary>
    /// <param name="act">The act.</param>
    /// <param name="named">Whether the flush inlet bears its name; else the inlets are told by where they are.</param>
    public static string Act(DrillAct act, bool named) => act switch
    {
        DrillAct.LookHandles => "Look at the handles",
        DrillAct.LookHose => "Check hose, lugs and gasket",
        DrillAct.MendHose => "Put in a new gasket",
        DrillAct.HoseOn => "Cap off, sewer hose on",
        DrillAct.OpenBlack => "Open black",
        DrillAct.CloseBlack => "Close black",
        DrillAct.OpenGray => "Open gray",
        DrillAct.CloseGray => "Close gray",
        DrillAct.ReadInlets => "Read the labels at the inlets",
        DrillAct.RinseHoseFirst => named ? "Rinse hose on the flush inlet" : "Rinse hose on the inlet by the valves",
        DrillAct.RinseHoseSecond => "Rinse hose on the inlet by the door",
        DrillAct.WaterOn => "Rinse water on",
        DrillAct.WaterOff => "Rinse water off",
        DrillAct.Watch => "Watch for a minute",
        DrillAct.Wait => "Wait 3 minutes",
        DrillAct.LookToilet => "Look down the toilet",
        DrillAct.StopShower => "Ask them to stop the shower",
        DrillAct.Talk => "Talk for a while",
        DrillAct.NotNow => "“In a few minutes, please.”",
        DrillAct.WorkValve => "Work the black handle",
        DrillAct.StarterWater => "Starter water in",
        DrillAct.Dose => "Dose in",
        DrillAct.Cap => "Hose off, cap on: finish",
    };

    /// <summary>What one notices.</summary>
    public static string News(DrillNews news) => news switch
    {
        DrillNews.GrayIsOpen => "The gray handle is out: gray is open.",
        DrillNews.BothClosed => "Both handles are in: black and gray are closed.",
        DrillNews.NoGasket => "The hose end has no gasket.",
        DrillNews.HoseGood => "Hose, lugs and gasket are good.",
        DrillNews.FlushIsFirst => "By the valves: “Tank flush”. By the door: “City water”.",
        DrillNews.FlushIsSecond => "By the door: “Tank flush”. By the valves: “City water”.",
        DrillNews.ShowerStands => "Someone yells from inside: the shower won't drain.",
        DrillNews.ShowerOff => "The shower is off.",
        DrillNews.Neighbor => "A neighbor comes over to talk.",
        DrillNews.Drips => "Black is closed, but it keeps dripping.",
        DrillNews.Tight => "Paper came loose. Black is tight now.",
        DrillNews.Spill => "Sewage is running onto the ground.",
        DrillNews.ToiletFull => "It's coming up in the toilet.",
    };

    /// <summary>What one sees at the clear piece.</summary>
    /// <param name="sight">The sight.</param>
    public static string Outlet(DrillSight sight)
    {
        ArgumentNullException.ThrowIfNull(sight);
        var color = sight.Color is { } c ? Color(c) : "";
        return sight switch
        {
            { BlackOpen: false, Flow: DumpFlow.None } => "Nothing is running.",
            { Flow: DumpFlow.None } => $"Nothing more comes out. The last of it was {color}.",
            { Flow: DumpFlow.Rush } => $"It's rushing out, {color}.",
            { Flow: DumpFlow.Trickle } => $"Only a trickle, {color}.",
            { WaterOn: true, BlackOpen: true } => $"A steady stream, {color}. The rinse water is on.",
            _ => $"A steady stream, {color}.",
        };
    }

    /// <summary>A color of what runs out.</summary>
    public static string Color(EndColor color) => color switch { EndColor.Clear => "clear", EndColor.Tinted => "tinted", EndColor.Dark => "dark" };

    /// <summary>What went wrong by itself, and what it asked for.</summary>
    public static string Trouble(DrillTrouble trouble) => trouble switch
    {
        DrillTrouble.GrayOpen => "Gray was open when you got there. Check both handles before you open black.",
        DrillTrouble.Gasket => "The hose had no gasket. Check the hose before it goes on.",
        DrillTrouble.TwoInlets => "There were two inlets, one of them for drinking water. Read the labels first.",
        DrillTrouble.Trickle => "The outlet was clogged. When only a trickle comes, close black and put nothing more in.",
        DrillTrouble.Shower => "Someone took a shower with gray nearly full. Ask them to stop. Never open gray while black is open.",
        DrillTrouble.Neighbor => "A neighbor came by while the rinse water was on. Turn it off first, or talk later.",
        DrillTrouble.Drip => "Paper was stuck in the black valve. Work the handle until it's tight.",
    };

    /// <summary>A sentence to remember.</summary>
    /// <param name="review">How it was played.</param>
    public static string Remember(DrillReview review)
    {
        ArgumentNullException.ThrowIfNull(review);
        return review switch
        {
            { Drill.Dangers: [var danger, ..] } => PracticeWords.Why(danger),
            { Drill.FilledClogged: true } => PracticeWords.Remember(CaseAnswer.OutletClog),
            { Clean: false } => PracticeWords.Remember(CaseAnswer.RinseAgain),
            { BlackClosed: false } or { GrayAsFound: false } => "When you leave, close everything that was closed when you came.",
            { StarterRight: false } => "Starter water goes in last. A dry tank is how a pile begins.",
            _ => PracticeWords.Remember(CaseAnswer.Done),
        };
    }
}
