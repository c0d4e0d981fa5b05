using CsCheck;
using Tanksophos.Core.Levels;

namespace Tanksophos.Core.Tests.Levels;

/// <summary>Laws of the distribution behind the estimator.</summary>
public class JointStateTests
{
    private const double Capacity = 150;
    private static readonly double[] Marks = [50, 100, 138];

    private static JointState Emptied(int probes = 3)
    {
        var state = new JointState(Capacity, 0.45, (0, 5), [.. Enumerable.Range(0, probes).Select(_ => (double[])[0.85, 0, 0.12, 0.03])]);
        state.Empty(2, 1);
        return state;
    }

    private static LevelBand Band(JointState state) => state.Mixture(JointState.Full).Band();

    [Fact]
    public void Chance_and_quantile_are_each_other_s_inverse_and_monotone()
    {
        Gen.Select(Gen.Double[1, 80], Gen.Double[0.02, 0.98], Gen.Double[0.02, 0.98]).Sample((inflow, p, q) =>
        {
            var state = Emptied();
            state.Flow(inflow, 0.13 * inflow * inflow, JointState.Full);
            var level = state.Mixture(JointState.Full);
            var a = level.Quantile(p);
            var b = level.Quantile(q);
            if (a is > 0.01 and < Capacity - 0.01) (1 - level.ChanceOf(a)).ShouldBe(p, 1e-4);
            if (p < q) a.ShouldBeLessThanOrEqualTo(b + 1e-5);
            level.ChanceOf(0).ShouldBe(1);
        }, iter: 200);
    }

    [Fact]
    public void Water_that_goes_in_is_in_it()
    {
        Gen.Select(Gen.Double[0, 60], Gen.Double[0, 40]).Sample((first, second) =>
        {
            var state = Emptied();
            state.Add(first, 0);
            state.Add(second, 0);
            Band(state).P50L.ShouldBe(2 + first + second, 0.05);
        }, iter: 50);
    }

    [Fact]
    public void A_forecast_is_what_the_flow_would_give()
    {
        Gen.Select(Gen.Double[1, 40], Gen.Double[1, 40], Gen.Int[1, 3]).Sample((now, later, hookup) =>
        {
            var state = Emptied();
            state.Flow(now, 0.13 * now * now, hookup);
            var forecast = state.Mixture(hookup).Band(later, 0.13 * later * later);
            state.Flow(later, 0.13 * later * later, hookup);
            var flowed = state.Mixture(hookup).Band();
            forecast.P05L.ShouldBe(flowed.P05L, 0.1);
            forecast.P95L.ShouldBe(flowed.P95L, 0.1);
        }, iter: 60);
    }

    [Fact]
    public void An_observation_that_agrees_narrows_the_band()
    {
        Gen.Select(Gen.Double[10, 60], Gen.Double[1, 12]).Sample((inflow, sd) =>
        {
            var state = Emptied();
            state.Flow(inflow, 0.13 * inflow * inflow, JointState.Full);
            var before = Band(state);
            state.Observe(state.Moments().Mean, sd, eyes: true);
            var after = Band(state);
            (after.P95L - after.P05L).ShouldBeLessThan(before.P95L - before.P05L);
        }, iter: 100);
    }

    [Fact]
    public void Chances_always_sum_to_one_whatever_is_seen()
    {
        Gen.Select(Gen.Double[0, 60], Gen.Bool, Gen.Bool, Gen.Bool).Array[1, 12].Sample(steps =>
        {
            var state = Emptied();
            foreach (var (inflow, low, mid, top) in steps)
            {
                state.Flow(inflow, 0.13 * inflow * inflow, JointState.Dry);
                state.See(Marks, [low, mid, top], [true, true, true], 0.015, 3, 0.99, 0.0001);
                for (var i = 0; i < 3; i++) state.Modes(i).Sum().ShouldBe(1, 1e-9);
                var band = Band(state);
                double.IsFinite(band.P50L).ShouldBeTrue();
                band.P05L.ShouldBeLessThanOrEqualTo(band.P95L);
            }
        }, iter: 150);
    }

    [Fact]
    public void A_lamp_lit_over_an_empty_tank_is_blamed_and_moves_the_level_little()
    {
        var state = Emptied();
        state.Add(8, 0.5);

        for (var n = 0; n < 3; n++) state.See(Marks, [true, false, false], [true, true, true], 0.015, 3, 1, 0);

        state.Modes(0)[(int)ProbeMode.On].ShouldBeGreaterThan(0.98);
        Band(state).P50L.ShouldBeLessThan(13);
    }

    [Fact]
    public void An_impossible_pattern_leaves_both_explanations_and_the_level_decides()
    {
        var low = Emptied();
        low.Add(20, 2);
        var high = Emptied();
        high.Add(120, 2);
        foreach (var state in (JointState[])[low, high]) state.See(Marks, [false, true, false], [true, true, true], 0.015, 3, 1, 0);

        low.Modes(1)[(int)ProbeMode.On].ShouldBeGreaterThan(0.8); // the higher is fouled
        high.Modes(0)[(int)ProbeMode.Off].ShouldBeGreaterThan(0.6); // the lower is broken
    }

    [Fact]
    public void A_mark_that_is_passed_raises_the_level_and_the_household_and_one_that_is_not_lowers_them()
    {
        var passed = Emptied();
        var below = Emptied();
        foreach (var state in (JointState[])[passed, below]) state.Flow(50, 300, JointState.Full);
        var (mean, factor) = (passed.Moments().Mean, passed.CurrentRequest(JointState.Full).Mean);

        passed.ObserveThreshold(50, 2, 0.98, 0.02);
        below.ObserveThreshold(50, 2, 0.02, 0.98);

        passed.Moments().Mean.ShouldBeGreaterThan(mean);
        passed.CurrentRequest(JointState.Full).Mean.ShouldBeGreaterThan(factor);
        below.Moments().Mean.ShouldBeLessThan(mean);
        below.CurrentRequest(JointState.Full).Mean.ShouldBeLessThan(factor);
    }

    [Fact]
    public void A_mark_that_says_nothing_changes_nothing()
    {
        var state = Emptied();
        state.Flow(50, 300, JointState.Full);
        var before = Band(state);

        state.ObserveThreshold(50, 2, 0.5, 0.5);

        Band(state).P50L.ShouldBe(before.P50L, 1e-4);
        Band(state).P95L.ShouldBe(before.P95L, 1e-4);
    }

    [Fact]
    public void Emptying_keeps_what_was_learned_of_the_household()
    {
        var state = Emptied();
        state.Flow(40, 100, JointState.Full);
        state.Observe(90, 3, eyes: true);
        var learned = state.CurrentRequest(JointState.Full).Mean;

        state.Empty(2, 1);

        state.CurrentRequest(JointState.Full).Mean.ShouldBe(learned, 1e-9);
        learned.ShouldBeGreaterThan(1.7);
        state.Mixture(JointState.Full).Quantile(0.95).ShouldBeLessThan(5);
    }

    [Fact]
    public void What_is_learned_at_one_hookup_teaches_most_there_and_something_elsewhere()
    {
        var state = Emptied();
        for (var n = 0; n < 6; n++)
        {
            state.Flow(30, 60, JointState.Full);
            state.Observe(2 + 30 * 1.6, 4, eyes: true);
            state.Empty(2, 1);
        }
        var (full, dry) = (state.CurrentRequest(JointState.Full), state.CurrentRequest(JointState.Dry));

        full.Mean.ShouldBe(1.6, 0.15);
        dry.Mean.ShouldBeInRange(1.3, 1.75);
        dry.Variance.ShouldBeGreaterThan(full.Variance);
    }

    [Fact]
    public void Eyes_outrank_the_count_where_a_panel_does_not()
    {
        var seen = Emptied();
        var shown = Emptied();
        foreach (var state in (JointState[])[seen, shown]) state.Flow(20, 10, JointState.Full);

        seen.Observe(130, 5, eyes: true);
        shown.Observe(130, 5, eyes: false);

        seen.Moments().Mean.ShouldBeGreaterThan(110);
        shown.Moments().Mean.ShouldBeLessThan(60);
    }

    [Fact]
    public void A_saved_state_is_the_same_when_it_is_read()
    {
        var state = Emptied();
        state.Flow(30, 60, JointState.Full);
        state.See(Marks, [true, false, false], [true, true, true], 0.015, 3, 1, 0);
        using var memory = new MemoryStream();
        using (var to = new BinaryWriter(memory, System.Text.Encoding.UTF8, leaveOpen: true)) state.Save(to);
        memory.Position = 0;
        var again = Emptied();

        using (var from = new BinaryReader(memory)) again.Load(from);

        Band(again).P50L.ShouldBe(Band(state).P50L, 1e-9);
        again.Modes(0)[0].ShouldBe(state.Modes(0)[0], 1e-12);
    }

    [Fact]
    public void The_normal_distribution_is_right_to_seven_places()
    {
        (double X, double P)[] known = [(0, 0.5), (1, 0.8413447461), (-1.6448536270, 0.05), (2.5, 0.9937903347), (-4, 0.0000316712)];
        foreach (var (x, p) in known) Gaussian.Below(x).ShouldBe(p, 2e-7);
    }
}
