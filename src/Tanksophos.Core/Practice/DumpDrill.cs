using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Practice;

/// <summary>What a learner does at the sewer.</summary>
public enum DrillAct
{
    /// <summary>Looks at both valve handles.</summary>
    LookHandles,

    /// <summary>Looks over hose, lugs and gasket.</summary>
    LookHose,

    /// <summary>Puts a new gasket in.</summary>
    MendHose,

    /// <summary>Cap off, hose on, at both ends.</summary>
    HoseOn,

    /// <summary>Opens black.</summary>
    OpenBlack,

    /// <summary>Closes black.</summary>
    CloseBlack,

    /// <summary>Opens gray.</summary>
    OpenGray,

    /// <summary>Closes gray.</summary>
    CloseGray,

    /// <summary>Reads the labels at the inlets.</summary>
    ReadInlets,

    /// <summary>Rinse hose on the inlet by the valves.</summary>
    RinseHoseFirst,

    /// <summary>Rinse hose on the inlet by the door.</summary>
    RinseHoseSecond,

    /// <summary>Turns the rinse water on.</summary>
    WaterOn,

    /// <summary>Turns it off.</summary>
    WaterOff,

    /// <summary>Watches the clear piece for a minute.</summary>
    Watch,

    /// <summary>Waits three minutes.</summary>
    Wait,

    /// <summary>Looks down the toilet.</summary>
    LookToilet,

    /// <summary>Asks whoever is in the shower to stop.</summary>
    StopShower,

    /// <summary>Talks with the neighbor.</summary>
    Talk,

    /// <summary>Tells the neighbor: later.</summary>
    NotNow,

    /// <summary>Works the black handle back and forth.</summary>
    WorkValve,

    /// <summary>Starter water.</summary>
    StarterWater,

    /// <summary>The dose.</summary>
    Dose,

    /// <summary>Hose rinsed and off, cap on: the run is over.</summary>
    Cap,
}

/// <summary>What goes wrong in a dump run.</summary>
public enum DrillTrouble
{
    /// <summary>Gray stood open when one came.</summary>
    GrayOpen,

    /// <summary>The hose has no gasket.</summary>
    Gasket,

    /// <summary>Two inlets without a name, one of them for drinking water.</summary>
    TwoInlets,

    /// <summary>The outlet is clogged: only a trickle comes.</summary>
    Trickle,

    /// <summary>Somebody showers, and gray is nearly full.</summary>
    Shower,

    /// <summary>A neighbor wants to talk while water runs in.</summary>
    Neighbor,

    /// <summary>Paper in the black gate: closed, it drips on.</summary>
    Drip,
}

/// <summary>What one notices.</summary>
public enum DrillNews
{
    /// <summary>Gray stands open.</summary>
    GrayIsOpen,

    /// <summary>Both valves are closed.</summary>
    BothClosed,

    /// <summary>The gasket is missing.</summary>
    NoGasket,

    /// <summary>The hose is all right.</summary>
    HoseGood,

    /// <summary>The inlet by the valves is the flush inlet.</summary>
    FlushIsFirst,

    /// <summary>The inlet by the door is the flush inlet.</summary>
    FlushIsSecond,

    /// <summary>The shower drain stands in water.</summary>
    ShowerStands,

    /// <summary>The shower is off.</summary>
    ShowerOff,

    /// <summary>A neighbor wants to talk.</summary>
    Neighbor,

    /// <summary>Closed, it drips on.</summary>
    Drips,

    /// <summary>It is tight now.</summary>
    Tight,

    /// <summary>Sewage runs onto the ground.</summary>
    Spill,

    /// <summary>It comes up in the toilet.</summary>
    ToiletFull,
}

/// <summary>What one sees after something was done.</summary>
/// <param name="Flow">What comes out at the clear piece.</param>
/// <param name="Color">Its color; null where nothing comes or nobody looked.</param>
/// <param name="BlackOpen">Whether black is open.</param>
/// <param name="GrayOpen">Whether gray is open; null while nobody looked.</param>
/// <param name="HoseOn">Whether the sewer hose is on.</param>
/// <param name="RinseHose">Whether the rinse hose is on an inlet.</param>
/// <param name="WaterOn">Whether the rinse water runs.</param>
/// <param name="SeenShare">How full black was seen to be; null where nobody looked just now.</param>
/// <param name="News">What else one notices.</param>
public sealed record DrillSight(DumpFlow Flow, EndColor? Color, bool BlackOpen, bool? GrayOpen, bool HoseOn, bool RinseHose, bool WaterOn, double? SeenShare,
    IReadOnlyList<DrillNews> News);

/// <summary>One thing done, and what was so then.</summary>
/// <param name="Act">What was done.</param>
/// <param name="Minutes">Minutes since the beginning, when it was over.</param>
/// <param name="Sight">What one saw.</param>
/// <param name="BlackL">What was really in black, in litres.</param>
/// <param name="GrayL">What was really in gray, in litres.</param>
/// <param name="Dirt">Dirt left in the corners of black, 0..1.</param>
public sealed record DrillStep(DrillAct Act, double Minutes, DrillSight Sight, double BlackL, double GrayL, double Dirt);

/// <summary>
/// A dump run to play with things going wrong: a black and a gray tank on a sewer, a hose, a tap, and what a seed holds in store. Played anew from seed and
/// acts; the same acts come to the same on every machine. The flow at the valve is a judgement: a rush down to an eighth of the tank, then a steady stream,
/// then a trickle; what it carries is <see cref="RinseModel"/>'s.
/// </summary>
public sealed class DumpDrill
{
    /// <summary>Version of the drill: one begun with another cannot be gone on with.</summary>
    public const int Maker = 1;

    /// <summary>Most acts of a run.</summary>
    public const int MostActs = 150;

    // Shares of the tank a minute, and the levels down to which they hold.
    private const double Rush = 0.35, RushDownTo = 0.12, Steady = 0.1, SteadyDownTo = 0.03, Trickle = 0.02, Rest = 0.01, Step = 0.25;
    private const double FirstShare = 0.35, LastFrom = 0.05; // of a drain: its gush, and the level from which the corners come
    private const double ShowerAt = 0.85, ShowerLPerMin = 2 * UsMeasures.GallonL, ShowerFrom = 8, TalkMinutes = 12;
    private const double MostRinse = 1.25; // more than a swirl's worth of water carries hardly more along

    private readonly double capacity, grayCapacity, head;
    private readonly bool flushIsFirst;
    private readonly List<DrillStep> steps = [];
    private readonly List<Danger> dangers = [];
    private readonly HashSet<DrillTrouble> troubles = [];
    private readonly List<DrillNews> news = [];

    private double minutes, black, gray, corners, middle, first = 1, after, atOpening, filled;
    private bool blackOpen, grayOpen, hoseOn, mended, waterOn, showerRuns, showerTold, neighborCame, drips, handlesKnown, draining, trickled;
    private bool? onFirst;
    private double? seen;

    private DumpDrill(long seed, int difficulty)
    {
        (Seed, Difficulty) = (seed, Math.Clamp(difficulty, PracticeCase.Easiest, PracticeCase.Hardest));
        var random = new SeededRandom(unchecked(seed * 31 + 7));
        capacity = Math.Round((30 + 15 * random.Uniform()) * UsMeasures.GallonL, 1);
        grayCapacity = Math.Round(1.25 * capacity, 1);
        head = Math.Round((1.9 + 1.2 * random.Uniform()) * UsMeasures.GallonL, 1);
        black = (0.6 + 0.2 * random.Uniform()) * capacity;
        gray = (0.55 + 0.2 * random.Uniform()) * grayCapacity;
        corners = RinseModel.AfterDump * (0.75 + 0.5 * random.Uniform());
        middle = RinseModel.MiddleAfterDump;
        flushIsFirst = random.Uniform() < 0.5;
        var open = Enum.GetValues<DrillTrouble>().ToList();
        while (troubles.Count < Difficulty)
        {
            var next = open[(int)(random.Uniform() * open.Count)];
            open.Remove(next);
            // What could not happen beside it.
            open.RemoveAll(o => Apart(next, o) || Apart(o, next));
            troubles.Add(next);
        }
        if (Has(DrillTrouble.GrayOpen)) (grayOpen, gray) = (true, 0.02 * grayCapacity);
        if (Has(DrillTrouble.Shower)) gray = ShowerAt * grayCapacity;
        GrayStoodOpen = grayOpen;
        after = corners;
    }

    /// <summary>The seed.</summary>
    public long Seed { get; }

    /// <summary>How many things go wrong, 1 to 3.</summary>
    public int Difficulty { get; }

    /// <summary>What was done so far.</summary>
    public IReadOnlyList<DrillStep> Steps => steps;

    /// <summary>Capacity of black and of gray, in litres.</summary>
    public (double BlackL, double GrayL) Capacities => (capacity, grayCapacity);

    /// <summary>What the rinse hose gives, in litres a minute.</summary>
    public double HeadLPerMin => head;

    /// <summary>Whether the run is over.</summary>
    public bool Ended { get; private set; }

    /// <summary>Litres of rinse and starter water used.</summary>
    public double WaterL { get; private set; }

    /// <summary>Minutes so far.</summary>
    public double Minutes => minutes;

    /// <summary>What goes wrong. Hidden until the end.</summary>
    public IReadOnlySet<DrillTrouble> Troubles => troubles;

    /// <summary>What could have hurt somebody.</summary>
    public IReadOnlyList<Danger> Dangers => dangers;

    /// <summary>Whether starter water went in last.</summary>
    public bool Starter { get; private set; }

    /// <summary>Whether the dose is in.</summary>
    public bool Dosed { get; private set; }

    /// <summary>Whether water was put into a tank that would not empty.</summary>
    public bool FilledClogged { get; private set; }

    /// <summary>Whether gray stood open when one came.</summary>
    public bool GrayStoodOpen { get; }

    /// <summary>Whether it drips when it is capped.</summary>
    public bool Drips => drips;

    /// <summary>Whether black and gray are open.</summary>
    public (bool Black, bool Gray) Open => (blackOpen, grayOpen);

    /// <summary>What is really left: litres of gray, and dirt in the corners of black.</summary>
    public (double GrayL, double Dirt) Left => (gray, corners);

    /// <summary>What one sees now.</summary>
    public DrillSight Sight => steps.Count > 0 ? steps[^1].Sight : Look();

    /// <summary>Plays acts from the beginning; what is not offered at its time is left out.</summary>
    /// <param name="seed">The seed.</param>
    /// <param name="difficulty">1 to 3.</param>
    /// <param name="acts">What is done.</param>
    public static DumpDrill Play(long seed, int difficulty, IEnumerable<DrillAct> acts)
    {
        ArgumentNullException.ThrowIfNull(acts);
        var drill = new DumpDrill(seed, difficulty);
        foreach (var act in acts.Take(MostActs)) drill.Do(act);
        return drill;
    }

    /// <summary>What can be done now, in the order of a run.</summary>
    public IReadOnlyList<DrillAct> Offered
    {
        get
        {
            if (Ended || steps.Count >= MostActs) return Ended ? [] : [DrillAct.Cap];
            var offered = new List<DrillAct>();
            void When(bool may, DrillAct act)
            {
                if (may) offered.Add(act);
            }
            bool Did(DrillAct act) => steps.Any(s => s.Act == act);
            When(neighborCame && !Did(DrillAct.Talk) && !Did(DrillAct.NotNow), DrillAct.NotNow);
            When(neighborCame && !Did(DrillAct.Talk) && !Did(DrillAct.NotNow), DrillAct.Talk);
            When(showerTold && showerRuns, DrillAct.StopShower);
            When(!blackOpen, DrillAct.OpenBlack);
            When(blackOpen, DrillAct.CloseBlack);
            When(!grayOpen || !handlesKnown, DrillAct.OpenGray);
            When(grayOpen || !handlesKnown, DrillAct.CloseGray);
            When(true, DrillAct.LookHandles);
            When(!hoseOn && !Did(DrillAct.LookHose), DrillAct.LookHose);
            When(!hoseOn && !mended && steps.Any(s => s.Sight.News.Contains(DrillNews.NoGasket)), DrillAct.MendHose);
            When(!hoseOn, DrillAct.HoseOn);
            When(Has(DrillTrouble.TwoInlets) && !Did(DrillAct.ReadInlets), DrillAct.ReadInlets);
            When(!waterOn && onFirst != true, DrillAct.RinseHoseFirst);
            When(!waterOn && onFirst != false && Has(DrillTrouble.TwoInlets), DrillAct.RinseHoseSecond);
            When(onFirst is not null && !waterOn, DrillAct.WaterOn);
            When(waterOn, DrillAct.WaterOff);
            When(true, DrillAct.Watch);
            When(true, DrillAct.Wait);
            When(true, DrillAct.LookToilet);
            When(drips && !blackOpen && steps.Any(s => s.Sight.News.Contains(DrillNews.Drips)), DrillAct.WorkValve);
            When(!blackOpen && !Starter, DrillAct.StarterWater);
            When(!blackOpen && !Dosed, DrillAct.Dose);
            When(hoseOn || steps.Count > 0, DrillAct.Cap);
            return offered;
        }
    }

    private static bool Apart(DrillTrouble one, DrillTrouble other) => (one, other) is (DrillTrouble.GrayOpen, DrillTrouble.Shower)
        or (DrillTrouble.Trickle, DrillTrouble.Drip) or (DrillTrouble.Trickle, DrillTrouble.Neighbor);

    private bool Has(DrillTrouble trouble) => troubles.Contains(trouble);

    private void Do(DrillAct act)
    {
        if (!Offered.Contains(act)) return;
        news.Clear();
        seen = null;
        switch (act)
        {
            case DrillAct.LookHandles:
                Pass(1);
                handlesKnown = true;
                news.Add(grayOpen ? DrillNews.GrayIsOpen : DrillNews.BothClosed);
                break;
            case DrillAct.LookHose:
                Pass(1);
                news.Add(Has(DrillTrouble.Gasket) ? DrillNews.NoGasket : DrillNews.HoseGood);
                break;
            case DrillAct.MendHose:
                Pass(2);
                mended = true;
                break;
            case DrillAct.HoseOn:
                Pass(2);
                hoseOn = true;
                break;
            case DrillAct.OpenBlack:
                blackOpen = true;
                Opened();
                Pass(Step);
                break;
            case DrillAct.CloseBlack:
                Settle();
                blackOpen = false;
                (filled, draining) = (0, false);
                Pass(Step);
                break;
            case DrillAct.OpenGray:
                (grayOpen, handlesKnown) = (true, true);
                Pass(Step);
                break;
            case DrillAct.CloseGray:
                (grayOpen, handlesKnown) = (false, true);
                Pass(Step);
                break;
            case DrillAct.ReadInlets:
                Pass(1);
                news.Add(flushIsFirst ? DrillNews.FlushIsFirst : DrillNews.FlushIsSecond);
                break;
            case DrillAct.RinseHoseFirst:
                onFirst = true;
                Pass(1);
                break;
            case DrillAct.RinseHoseSecond:
                onFirst = false;
                Pass(1);
                break;
            case DrillAct.WaterOn:
                waterOn = true;
                if (!RightInlet) Risk(Danger.WrongInlet);
                else if (trickled) FilledClogged = true;
                if (Has(DrillTrouble.Neighbor) && !neighborCame && !blackOpen)
                {
                    neighborCame = true;
                    news.Add(DrillNews.Neighbor);
                }
                Pass(Step);
                break;
            case DrillAct.WaterOff:
                waterOn = false;
                Pass(Step);
                break;
            case DrillAct.Watch:
                Pass(1);
                break;
            case DrillAct.Wait:
                Pass(3);
                break;
            case DrillAct.LookToilet:
                Pass(1);
                seen = Math.Round(black / capacity * 20) / 20;
                break;
            case DrillAct.StopShower:
                Pass(1);
                showerRuns = false;
                news.Add(DrillNews.ShowerOff);
                break;
            case DrillAct.Talk:
                Pass(TalkMinutes);
                break;
            case DrillAct.NotNow:
                Pass(Step);
                break;
            case DrillAct.WorkValve:
                Pass(1);
                drips = false;
                Worked = true;
                news.Add(DrillNews.Tight);
                break;
            case DrillAct.StarterWater:
                var starter = RoutineDose.StarterWaterL(HouseRules.Default.Treatment, capacity);
                if (trickled) FilledClogged = true;
                Fill(starter);
                Starter = true;
                Pass(2);
                break;
            case DrillAct.Dose:
                Dosed = true;
                Pass(1);
                break;
            case DrillAct.Cap:
                // Nobody takes a hose off while it runs, and lives to like it.
                if (blackOpen && black > 2 * Rest * capacity || grayOpen && !GrayStoodOpen && gray > 2 * Rest * grayCapacity) Spill();
                Settle();
                Pass(3);
                Ended = true;
                break;
        }
        steps.Add(new DrillStep(act, minutes, Look(), black, gray, corners));
    }

    /// <summary>Whether a dripping gate was worked until it was tight.</summary>
    public bool Worked { get; private set; }

    private bool RightInlet => !Has(DrillTrouble.TwoInlets) || onFirst == flushIsFirst;

    private void Risk(Danger danger)
    {
        if (!dangers.Contains(danger)) dangers.Add(danger);
    }

    private void Spill()
    {
        news.Add(DrillNews.Spill);
        Risk(Danger.Spilled);
    }

    private void Opened()
    {
        if (grayOpen) Risk(Danger.BothValvesOpen);
        (atOpening, draining) = (black, true);
        var worth = Math.Min(MostRinse, filled / RinsePlan.FillL(capacity, false));
        if (worth > 0.05)
        {
            first = corners;
            middle *= Math.Pow(RinseModel.MiddleLeaves, worth);
            after = corners * Math.Pow(RinseModel.Leaves, worth);
        }
        else after = corners;
        if (!hoseOn || Has(DrillTrouble.Gasket) && !mended) Spill();
    }

    // What did not run out keeps its dirt.
    private void Settle()
    {
        if (!draining) return;
        var left = Math.Clamp((black / capacity - SteadyDownTo) / 0.2, 0, 1);
        corners = after + (corners - after) * left;
        if (Has(DrillTrouble.Drip) && !Worked && atOpening > RushDownTo * capacity) drips = true;
    }

    private void Fill(double litres)
    {
        WaterL += litres;
        if (blackOpen) return;
        black += litres;
        filled += litres;
        if (black <= capacity) return;
        black = capacity;
        news.Add(DrillNews.ToiletFull);
        Risk(Danger.Overfilled);
    }

    private void Pass(double time)
    {
        for (var passed = 0.0; passed < time - 1e-9; passed += Step)
        {
            minutes += Step;
            if (waterOn && RightInlet) Fill(head * Step);
            else if (waterOn) WaterL += head * Step;
            if (blackOpen) black -= Math.Min(Math.Max(0, black - Rest * capacity), Rate(black / capacity, Has(DrillTrouble.Trickle)) * capacity * Step);
            if (grayOpen) gray -= Math.Min(Math.Max(0, gray - Rest * grayCapacity), Rate(gray / grayCapacity, false) * grayCapacity * Step);
            if (blackOpen && grayOpen) Risk(Danger.BothValvesOpen);
            if (showerRuns)
            {
                gray = grayOpen ? gray : gray + ShowerLPerMin * Step;
                if (gray > grayCapacity)
                {
                    gray = grayCapacity;
                    Risk(Danger.Overfilled);
                }
            }
            else if (Has(DrillTrouble.Shower) && !showerTold && minutes >= ShowerFrom)
            {
                (showerRuns, showerTold) = (true, true);
                news.Add(DrillNews.ShowerStands);
                break; // whoever is called stops waiting
            }
        }
        if (blackOpen && Has(DrillTrouble.Trickle)) trickled = true;
    }

    private static double Rate(double share, bool clogged) =>
        clogged ? Trickle / 4 : share > RushDownTo ? Rush : share > SteadyDownTo ? Steady : Trickle;

    private DrillSight Look()
    {
        DumpFlow flow = DumpFlow.None;
        EndColor? color = null;
        if (blackOpen)
        {
            var share = black / capacity;
            flow = Has(DrillTrouble.Trickle) ? DumpFlow.Trickle
                : waterOn ? DumpFlow.Steady : share > RushDownTo ? DumpFlow.Rush : share > SteadyDownTo ? DumpFlow.Steady
                : share > 1.05 * Rest ? DumpFlow.Trickle : DumpFlow.None;
            // With water on it is mostly water that one sees.
            var dirt = Has(DrillTrouble.Trickle) ? 1 : waterOn && share <= SteadyDownTo ? middle * RinseModel.MiddleLeaves
                : atOpening - black < FirstShare * atOpening ? first : share > LastFrom ? middle : after;
            color = flow == DumpFlow.None ? RinseModel.Looks(after) : RinseModel.Looks(dirt);
        }
        else if (grayOpen && handlesKnown && hoseOn && gray > 1.05 * Rest * grayCapacity)
        {
            flow = gray > RushDownTo * grayCapacity ? DumpFlow.Rush : gray > SteadyDownTo * grayCapacity ? DumpFlow.Steady : DumpFlow.Trickle;
            color = EndColor.Tinted;
        }
        else if (drips && hoseOn && !blackOpen && steps.Count > 0)
        {
            news.Add(DrillNews.Drips);
        }
        return new DrillSight(flow, color, blackOpen, handlesKnown ? grayOpen : null, hoseOn, onFirst is not null, waterOn, seen, [.. news.Distinct()]);
    }
}
