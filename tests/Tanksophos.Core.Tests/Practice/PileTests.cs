using CsCheck;
using Tanksophos.Core.Care;
using Tanksophos.Core.Log;
using Tanksophos.Core.Practice;

namespace Tanksophos.Core.Tests.Practice;

public class PileTests
{
    private static readonly Gen<PileHabits> Habits = Gen.Select(Gen.Double[60, 250], Gen.Int[1, 6], Gen.Double[0.4, 3], Gen.Double[0, 40],
        Gen.Double[0.3, 0.95], Gen.Double[0, 1])
        .Select((capacity, people, flush, starter, dump, paper) => new PileHabits(capacity, people, flush, starter, dump, paper).Sound());

    private static double Peak(PileHabits habits, bool open) => PileModel.Play(habits, open).Max(h => h.Height);

    [Fact]
    public void Nothing_is_lost_and_nothing_comes_from_nowhere() => Gen.Select(Habits, Gen.Bool).Sample((habits, open) =>
    {
        foreach (var hour in PileModel.Play(habits, open)) (hour.LiquidL + hour.PileL + hour.GoneL).ShouldBe(hour.InL, 1e-6);
    }, iter: 200);

    [Fact]
    public void More_water_never_makes_a_pile_higher_until_it_is_dumped() => Gen.Select(Habits, Gen.Double[1, 2]).Sample((habits, more) =>
    {
        foreach (var open in (bool[])[false, true])
            foreach (var wetter in (PileHabits[])[habits with { FlushL = more * habits.FlushL }, habits with { StarterL = more * habits.StarterL }])
            {
                var (less, water) = (PileModel.Play(habits, open), PileModel.Play(wetter.Sound(), open));
                for (var i = 0; i < less.Count && !less[i].Dumped && !water[i].Dumped; i++)
                    water[i].Height.ShouldBeLessThanOrEqualTo(less[i].Height + 1e-9);
            }
    }, iter: 200);

    [Fact]
    public void An_open_valve_never_makes_a_pile_lower() => Habits.Sample(habits =>
    {
        var (closed, open) = (PileModel.Play(habits, false), PileModel.Play(habits, true));
        for (var i = 0; i < closed.Count; i++) closed[i].Height.ShouldBeLessThanOrEqualTo(open[i].Height + 1e-9);
    }, iter: 200);

    [Fact]
    public void Paper_that_stays_whole_and_dumps_at_a_third_leave_more_behind()
    {
        var usual = PileHabits.Usual;
        Peak(usual with { Paper = 1 }, false).ShouldBeGreaterThan(Peak(usual, false));
        // In the days after the last dump, a low one has left more.
        PileModel.Play(usual with { DumpAt = 0.3 }, false)[^1].PileL.ShouldBeGreaterThan(0);
        PileModel.Play(usual with { DumpAt = 0.3 }, false).Where(h => h.Dumped).Min(h => h.PileL)
            .ShouldBeGreaterThan(PileModel.Play(usual, false).Where(h => h.Dumped).Min(h => h.PileL));
    }

    [Fact]
    public void Two_people_and_an_open_valve_make_a_hard_pile_in_two_weeks_and_a_closed_one_does_not()
    {
        var open = PileModel.Play(PileHabits.Usual, true)[^1];
        var closed = PileModel.Play(PileHabits.Usual, false)[^1];
        open.HardL.ShouldBeGreaterThan(open.SoftL);
        open.Height.ShouldBeGreaterThan(0.3);
        closed.HardL.ShouldBeLessThan(0.1 * open.HardL);
        closed.Height.ShouldBeLessThan(0.2);
        PileModel.Play(PileHabits.Usual, false).Count(h => h.Dumped).ShouldBe(2);
        PileModel.Play(PileHabits.Usual, true).ShouldAllBe(h => !h.Dumped && h.LiquidL == 0);
    }

    [Fact]
    public void Figures_out_of_bounds_are_brought_within_them() => new PileHabits(1e9, 900, -5, 1e9, 7, -1).Sound()
        .ShouldBe(new PileHabits(500, 12, 0.2, 250, 1, 0));

    [Fact]
    public void The_middle_of_a_rinse_is_clear_before_its_end_and_no_rinse_brings_dirt_back()
    {
        var rinses = RinseModel.Play();
        rinses.Count.ShouldBe(RinseModel.Most + 1);
        RinseModel.Looks(rinses[0].Last).ShouldBe(EndColor.Dark);
        for (var i = 1; i < rinses.Count; i++)
        {
            rinses[i].Corners.ShouldBeLessThan(rinses[i - 1].Corners);
            rinses[i].Last.ShouldBe(rinses[i].Corners);
            rinses[i].First.ShouldBe(rinses[i - 1].Corners);
            rinses[i].Middle.ShouldBeLessThan(rinses[i].Last);
        }
        // The eye is fooled once at least.
        rinses.ShouldContain(r => RinseModel.Looks(r.Middle) == EndColor.Clear && RinseModel.Looks(r.Last) != EndColor.Clear);
        RinseModel.Looks(rinses[3].Last).ShouldBe(EndColor.Clear);
    }

    [Fact]
    public void A_trap_watered_every_fortnight_never_dries_and_one_left_alone_does()
    {
        TrapModel.Water(0).ShouldBe(1);
        for (var day = 1; day <= TrapModel.Days; day++) TrapModel.Water(day).ShouldBeLessThanOrEqualTo(TrapModel.Water(day - 1));
        TrapModel.Water(CareReport.TrapDays).ShouldBeGreaterThan(0);
        TrapModel.Water(TrapModel.Days).ShouldBe(0);
    }

    [Theory]
    [InlineData(ProbeHangs.Clean, false, false, true)]
    [InlineData(ProbeHangs.Film, true, false, true)]
    [InlineData(ProbeHangs.Paper, true, true, true)]
    [InlineData(ProbeHangs.Wire, false, false, false)]
    public void A_light_tells_of_water_only_where_nothing_else_closes_the_circuit(ProbeHangs hangs, bool soonAfter, bool later, bool underWater)
    {
        ProbeModel.Lit(hangs, false, 1).ShouldBe(soonAfter);
        ProbeModel.Lit(hangs, false, ProbeModel.FilmHours + 1).ShouldBe(later);
        ProbeModel.Lit(hangs, true, 1).ShouldBe(underWater);
    }

    [Fact]
    public void The_next_steps_of_a_case_are_offered_out_of_order_and_are_the_rungs_of_its_ladder()
    {
        var orders = 0;
        for (var seed = 0; seed < 60; seed++)
            foreach (var topic in (PracticeTopic[])[PracticeTopic.Clogs, PracticeTopic.Smells, PracticeTopic.Lamps])
            {
                var made = CaseMaker.Make(seed, topic, 1);
                if (CaseOrder.Of(made) is not { } order) continue;
                orders++;
                order.Offered.ShouldBe(order.Right, ignoreOrder: true);
                order.InPlace(order.Offered).ShouldBeLessThan(CaseOrder.Steps);
                order.InPlace(order.Right).ShouldBe(CaseOrder.Steps);
                CaseOrder.Of(CaseMaker.Make(seed, topic, 1))!.Offered.ShouldBe(order.Offered);
                topic.ShouldNotBe(PracticeTopic.Lamps);
            }
        orders.ShouldBeGreaterThan(40);
    }
}
