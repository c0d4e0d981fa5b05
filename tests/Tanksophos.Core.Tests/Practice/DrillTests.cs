using Tanksophos.Core.Log;
using Tanksophos.Core.Practice;

namespace Tanksophos.Core.Tests.Practice;

/// <summary>A dump run with things going wrong: its laws, the program's own play, and what bad habits come to.</summary>
public class DrillTests
{
    private static IEnumerable<(long Seed, int Difficulty)> Runs(int count) => Enumerable.Range(0, count).Select(i => (5000L + i, 1 + i % 3));

    private static (long Seed, int Difficulty) With(DrillTrouble trouble, params DrillTrouble[] without) => Runs(400).First(r =>
        DumpDrill.Play(r.Seed, r.Difficulty, []).Troubles is var held && held.Contains(trouble) && !held.Any(without.Contains));

    private static DumpDrill Play((long Seed, int Difficulty) run, params DrillAct[] acts) => DumpDrill.Play(run.Seed, run.Difficulty, acts);

    [Fact]
    public void The_program_gets_every_run_clean_and_hurts_nobody()
    {
        foreach (var (seed, difficulty) in Runs(400))
        {
            var review = DrillReview.Of(DrillPlay.Own(seed, difficulty));
            review.Drill.Ended.ShouldBeTrue($"{seed}");
            review.Drill.Dangers.ShouldBeEmpty($"{seed} {string.Join(' ', review.Drill.Troubles)}: "
                + string.Join(", ", review.Drill.Steps.Select(s => $"{s.Act} {s.Minutes} {s.BlackL:0} {s.GrayL:0}")));
            review.Solved.ShouldBeTrue($"{seed}: {review.Drill.Left.Dirt} {string.Join(' ', review.Drill.Troubles)}");
            review.ReadyPoints.ShouldBe(DrillReview.MaxReady, $"{seed}");
            review.Score.ShouldBe(100, $"{seed}");
        }
    }

    [Fact]
    public void Bad_habits_come_to_far_less_and_in_a_known_order()
    {
        double Mean(Func<long, int, DumpDrill> habit) => Runs(300).Average(r => (double)DrillReview.Of(habit(r.Seed, r.Difficulty)).Score);
        var (middle, both, walks) = (Mean(DrillPlay.ClosesInTheMiddle), Mean(DrillPlay.PullsBoth), Mean(DrillPlay.WalksAway));
        both.ShouldBe(0); // one rinses nothing and lets black into gray
        walks.ShouldBeInRange(0, 25);
        middle.ShouldBeInRange(walks + 10, 75);
    }

    [Fact]
    public void The_same_acts_come_to_the_same_and_what_is_not_offered_changes_nothing()
    {
        foreach (var (seed, difficulty) in Runs(30))
        {
            var own = DrillPlay.Own(seed, difficulty);
            List<DrillAct> acts = [.. own.Steps.Select(s => s.Act)];
            var again = DumpDrill.Play(seed, difficulty, acts);
            again.Steps.Select(s => (s.Minutes, s.BlackL, s.Dirt)).ShouldBe(own.Steps.Select(s => (s.Minutes, s.BlackL, s.Dirt)));
            DumpDrill.Play(seed, difficulty, [DrillAct.WaterOn, DrillAct.CloseBlack, DrillAct.WorkValve, .. acts]).Steps.Count.ShouldBe(acts.Count);
        }
    }

    [Fact]
    public void Tanks_stay_within_their_walls_whatever_is_pressed()
    {
        var random = new Random(4);
        var acts = Enum.GetValues<DrillAct>().Where(a => a != DrillAct.Cap).ToArray();
        foreach (var run in Runs(120))
        {
            var drill = DumpDrill.Play(run.Seed, run.Difficulty, Enumerable.Range(0, 200).Select(_ => acts[random.Next(acts.Length)]));
            drill.Steps.Count.ShouldBeLessThanOrEqualTo(DumpDrill.MostActs);
            foreach (var step in drill.Steps)
            {
                step.BlackL.ShouldBeInRange(0, drill.Capacities.BlackL);
                step.GrayL.ShouldBeInRange(0, drill.Capacities.GrayL);
                step.Dirt.ShouldBeInRange(0, 1);
            }
            drill.Steps.Zip(drill.Steps.Skip(1)).ShouldAllBe(p => p.Second.Minutes >= p.First.Minutes);
            if (drill.Steps.Count == DumpDrill.MostActs) drill.Offered.ShouldBe([DrillAct.Cap]);
        }
    }

    [Fact]
    public void The_middle_of_a_drain_looks_cleaner_than_its_end()
    {
        var run = With(DrillTrouble.Neighbor, DrillTrouble.Trickle, DrillTrouble.Gasket, DrillTrouble.GrayOpen, DrillTrouble.TwoInlets, DrillTrouble.Shower);
        DrillAct[] dumped = [DrillAct.HoseOn, DrillAct.OpenBlack, .. Enumerable.Repeat(DrillAct.Watch, 6), DrillAct.CloseBlack, DrillAct.RinseHoseFirst];
        // Water straight through an open valve looks clear, and rinses nothing.
        var through = Play(run, [.. dumped, DrillAct.OpenBlack, DrillAct.WaterOn, DrillAct.Watch, DrillAct.Watch]);
        through.Sight.Color.ShouldBe(EndColor.Clear);
        through.Left.Dirt.ShouldBeGreaterThan(RinseModel.DarkFrom - 0.1);
        var rinsed = Play(run, [.. dumped, DrillAct.WaterOn, DrillAct.Wait, DrillAct.Watch, DrillAct.WaterOff, DrillAct.OpenBlack,
            .. Enumerable.Repeat(DrillAct.Watch, 6), DrillAct.CloseBlack]);
        rinsed.Left.Dirt.ShouldBeLessThan(through.Left.Dirt);
    }

    [Fact]
    public void What_hurts_people_fails_the_run()
    {
        var usual = With(DrillTrouble.Neighbor, DrillTrouble.Gasket, DrillTrouble.Trickle, DrillTrouble.GrayOpen, DrillTrouble.TwoInlets);
        Play(usual, DrillAct.OpenBlack).Dangers.ShouldBe([Danger.Spilled]);
        Play(usual, DrillAct.HoseOn, DrillAct.OpenBlack, DrillAct.OpenGray).Dangers.ShouldBe([Danger.BothValvesOpen]);
        Play(usual, DrillAct.RinseHoseFirst, DrillAct.WaterOn, DrillAct.Talk, DrillAct.Wait, DrillAct.Wait).Dangers.ShouldContain(Danger.Overfilled);
        Play(usual, DrillAct.HoseOn, DrillAct.OpenBlack, DrillAct.Cap).Dangers.ShouldBe([Danger.Spilled]);

        Play(With(DrillTrouble.Gasket, DrillTrouble.GrayOpen), DrillAct.HoseOn, DrillAct.OpenBlack).Dangers.ShouldBe([Danger.Spilled]);
        var open = With(DrillTrouble.GrayOpen, DrillTrouble.Gasket);
        Play(open, DrillAct.HoseOn, DrillAct.OpenBlack).Dangers.ShouldBe([Danger.BothValvesOpen]);
        Play(open, DrillAct.LookHandles).Sight.News.ShouldBe([DrillNews.GrayIsOpen]);

        var inlets = With(DrillTrouble.TwoInlets);
        var first = Play(inlets, DrillAct.ReadInlets).Sight.News.Contains(DrillNews.FlushIsFirst);
        Play(inlets, first ? DrillAct.RinseHoseSecond : DrillAct.RinseHoseFirst, DrillAct.WaterOn).Dangers.ShouldBe([Danger.WrongInlet]);
        Play(inlets, first ? DrillAct.RinseHoseFirst : DrillAct.RinseHoseSecond, DrillAct.WaterOn).Dangers.ShouldBeEmpty();

        var clogged = With(DrillTrouble.Trickle, DrillTrouble.Gasket, DrillTrouble.GrayOpen, DrillTrouble.TwoInlets);
        var filled = Play(clogged, DrillAct.HoseOn, DrillAct.OpenBlack, DrillAct.Watch, DrillAct.CloseBlack, DrillAct.RinseHoseFirst, DrillAct.WaterOn,
            DrillAct.Watch, DrillAct.WaterOff, DrillAct.Cap);
        DrillReview.Of(filled).CleanPoints.ShouldBe(0);

        var shower = With(DrillTrouble.Shower, DrillTrouble.GrayOpen, DrillTrouble.Gasket);
        DrillAct[] waits = [DrillAct.Wait, DrillAct.Wait, DrillAct.Wait];
        Play(shower, waits).Sight.News.ShouldContain(DrillNews.ShowerStands);
        Play(shower, [.. waits, DrillAct.StopShower, .. waits]).Dangers.ShouldBeEmpty();
        Play(shower, [.. waits, .. waits]).Dangers.ShouldBe([Danger.Overfilled]);
    }
}
