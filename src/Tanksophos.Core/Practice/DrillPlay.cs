using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Practice;

/// <summary>How a dump run was played.</summary>
/// <param name="Drill">The run.</param>
/// <param name="Own">The program's own run on the same rig.</param>
public sealed record DrillReview(DumpDrill Drill, DumpDrill Own)
{
    /// <summary>The most points for each part; they make 100.</summary>
    public const int MaxClean = 40, MaxReady = 20, MaxWaste = 20, MaxSafety = 20;

    /// <summary>Things that make a rig ready to go on, each worth the same.</summary>
    public const int ReadyParts = 5;

    // So much more than the program's own run, in minutes and half gallons, costs half of the points for it.
    private const double Slack = 12;

    private bool Clogged => Drill.Troubles.Contains(DrillTrouble.Trickle);

    /// <summary>Whether nothing more went into a tank that would not empty, or the tank is clean.</summary>
    public bool Clean => Clogged ? !Drill.FilledClogged : Drill.Left.Dirt < RinseModel.ClearBelow;

    /// <summary>Points for a clean tank; for one that would not empty, for leaving it alone.</summary>
    public int CleanPoints => Clean ? MaxClean : Clogged ? 0 : Drill.Left.Dirt < 2 * RinseModel.ClearBelow ? MaxClean / 2 : 0;

    /// <summary>Whether black is closed and tight.</summary>
    public bool BlackClosed => !Drill.Open.Black && !Drill.Drips;

    /// <summary>Whether gray is closed, or as it was found.</summary>
    public bool GrayAsFound => !Drill.Open.Gray || Drill.GrayStoodOpen;

    /// <summary>Whether gray was dumped too.</summary>
    public bool GrayEmpty => Drill.Left.GrayL < 0.1 * Drill.Capacities.GrayL;

    /// <summary>Whether starter water is in; into a tank that would not empty none belongs.</summary>
    public bool StarterRight => Drill.Starter != Clogged;

    /// <summary>Whether the dose is in; none into a tank that would not empty.</summary>
    public bool DoseRight => Drill.Dosed != Clogged;

    /// <summary>Points for how the rig is left.</summary>
    public int ReadyPoints => MaxReady / ReadyParts * new[] { BlackClosed, GrayAsFound, GrayEmpty, StarterRight, DoseRight }.Count(r => r);

    /// <summary>Minutes and litres beyond the program's own run.</summary>
    public (double Minutes, double WaterL) Extra => (Math.Max(0, Drill.Minutes - Own.Minutes), Math.Max(0, Drill.WaterL - Own.WaterL));

    /// <summary>Points for time and water. Who did not get it clean saved nothing.</summary>
    public int WastePoints => !Clean ? 0
        : (int)Math.Round(MaxWaste * Slack / (Slack + Extra.Minutes + 0.5 * Extra.WaterL / UsMeasures.GallonL));

    /// <summary>Points for safety.</summary>
    public int SafetyPoints => Drill.Dangers.Count == 0 ? MaxSafety : 0;

    /// <summary>Points, 0..100; 0 where somebody was put in danger.</summary>
    public int Score => SafetyPoints == 0 ? 0 : CleanPoints + ReadyPoints + WastePoints + SafetyPoints;

    /// <summary>Whether it was done well: clean, closed, nobody in danger.</summary>
    public bool Solved => Drill.Ended && Clean && BlackClosed && GrayAsFound && SafetyPoints > 0;

    /// <summary>Reviews a run.</summary>
    /// <param name="drill">The run.</param>
    public static DrillReview Of(DumpDrill drill)
    {
        ArgumentNullException.ThrowIfNull(drill);
        return new DrillReview(drill, DrillPlay.Own(drill.Seed, drill.Difficulty));
    }
}

/// <summary>Ways of playing a dump run: the program's own, by what is seen only, and bad habits to compare it with.</summary>
internal static class DrillPlay
{
    private const int LongestDrain = 12;

    /// <summary>The program's own run: looks first, black before gray, rinses until the end of a drain is clear, asks for nothing twice.</summary>
    /// <param name="seed">The seed.</param>
    /// <param name="difficulty">1 to 3.</param>
    public static DumpDrill Own(long seed, int difficulty)
    {
        var run = new Hand(seed, difficulty);
        if (run.Do(DrillAct.LookHandles).News.Contains(DrillNews.GrayIsOpen)) run.Do(DrillAct.CloseGray);
        if (run.Do(DrillAct.LookHose).News.Contains(DrillNews.NoGasket)) run.Do(DrillAct.MendHose);
        run.Do(DrillAct.HoseOn);
        run.Do(DrillAct.OpenBlack);
        if (run.Do(DrillAct.Watch).Flow == DumpFlow.Trickle && run.Do(DrillAct.LookToilet).SeenShare > 0.3)
        {
            run.CloseBlack();
            run.Gray();
            return run.Do();
        }
        run.Drain();
        run.CloseBlack();
        if (run.Now.Offered.Contains(DrillAct.ReadInlets))
            run.Do(run.Do(DrillAct.ReadInlets).News.Contains(DrillNews.FlushIsFirst) ? DrillAct.RinseHoseFirst : DrillAct.RinseHoseSecond);
        else run.Do(DrillAct.RinseHoseFirst);
        var fill = RinsePlan.FillL(run.Now.Capacities.BlackL, false);
        for (var rinse = 0; rinse < RinsePlan.Cap(FlushProgramme.Standard, false, false, false); rinse++)
        {
            run.Do(DrillAct.WaterOn);
            var left = fill / run.Now.HeadLPerMin;
            while (left > 0.5)
            {
                var by = left > 2.5 ? DrillAct.Wait : DrillAct.Watch;
                run.Do(by);
                left -= by == DrillAct.Wait ? 3 : 1;
            }
            run.Do(DrillAct.WaterOff);
            run.Do(DrillAct.OpenBlack);
            run.Drain();
            var end = run.Now.Sight.Color;
            run.CloseBlack();
            if (Judging.IsClean(new FlushCycle(null, fill, end, null))) break;
        }
        run.Gray();
        run.Do(DrillAct.StarterWater);
        run.Do(DrillAct.Dose);
        return run.Do();
    }

    /// <summary>Closes as soon as it runs clear, which the middle does, and never lets it run to its end.</summary>
    public static DumpDrill ClosesInTheMiddle(long seed, int difficulty) => DumpDrill.Play(seed, difficulty,
    [
        DrillAct.LookHandles, DrillAct.CloseGray, DrillAct.LookHose, DrillAct.MendHose, DrillAct.HoseOn, DrillAct.OpenBlack, DrillAct.Watch,
        DrillAct.ReadInlets, DrillAct.RinseHoseFirst, DrillAct.WaterOn, DrillAct.Watch, DrillAct.WaterOff, DrillAct.CloseBlack,
        DrillAct.OpenGray, DrillAct.Watch, DrillAct.Wait, DrillAct.CloseGray, DrillAct.StarterWater, DrillAct.Dose, DrillAct.Cap,
    ]);

    /// <summary>Pulls both handles and lets it run.</summary>
    public static DumpDrill PullsBoth(long seed, int difficulty) => DumpDrill.Play(seed, difficulty,
        [DrillAct.HoseOn, DrillAct.OpenBlack, DrillAct.OpenGray, DrillAct.Wait, DrillAct.Wait, DrillAct.CloseBlack, DrillAct.CloseGray, DrillAct.Cap]);

    /// <summary>Closes black, turns the water on and goes for a walk.</summary>
    public static DumpDrill WalksAway(long seed, int difficulty) => DumpDrill.Play(seed, difficulty,
    [
        DrillAct.LookHandles, DrillAct.CloseGray, DrillAct.LookHose, DrillAct.MendHose, DrillAct.HoseOn, DrillAct.OpenBlack, DrillAct.Wait, DrillAct.Watch,
        DrillAct.CloseBlack, DrillAct.RinseHoseFirst, DrillAct.WaterOn, .. Enumerable.Repeat(DrillAct.Wait, 10), DrillAct.WaterOff, DrillAct.OpenBlack,
        DrillAct.Wait, DrillAct.CloseBlack, DrillAct.StarterWater, DrillAct.Dose, DrillAct.Cap,
    ]);

    // Plays act by act, and answers what comes in between.
    private sealed class Hand(long seed, int difficulty)
    {
        private readonly List<DrillAct> acts = [];

        public DumpDrill Now { get; private set; } = DumpDrill.Play(seed, difficulty, []);

        public DrillSight Do(DrillAct act)
        {
            acts.Add(act);
            Now = DumpDrill.Play(seed, difficulty, acts);
            var sight = Now.Sight;
            // Whoever calls is told: later; the shower is stopped before it runs over.
            if (sight.News.Contains(DrillNews.Neighbor)) Do(DrillAct.NotNow);
            if (sight.News.Contains(DrillNews.ShowerStands)) Do(DrillAct.StopShower);
            return sight;
        }

        public DumpDrill Do()
        {
            Do(DrillAct.Cap);
            return Now;
        }

        public void Drain()
        {
            for (var i = 0; i < LongestDrain && Now.Sight.Flow is not DumpFlow.None; i++) Do(DrillAct.Watch);
        }

        public void CloseBlack()
        {
            Do(DrillAct.CloseBlack);
            if (Now.Offered.Contains(DrillAct.WorkValve)) Do(DrillAct.WorkValve);
        }

        public void Gray()
        {
            Do(DrillAct.OpenGray);
            for (var i = 0; i < LongestDrain && Now.Left.GrayL > 0 && Now.Sight.Flow is not DumpFlow.None; i++) Do(DrillAct.Watch);
            Do(DrillAct.CloseGray);
        }
    }
}
