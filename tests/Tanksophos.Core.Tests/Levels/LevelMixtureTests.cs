using CsCheck;
using Tanksophos.Core.Levels;

namespace Tanksophos.Core.Tests.Levels;

/// <summary>Laws of the distribution behind the first estimator.</summary>
public class LevelMixtureTests
{
    private const double Capacity = 150;

    private static LevelMixture Emptied()
    {
        var level = new LevelMixture(Capacity, 0.45);
        level.Empty(2, 1);
        return level;
    }

    [Fact]
    public void Chance_and_quantile_are_each_other_s_inverse_and_monotone()
    {
        Gen.Select(Gen.Double[1, 80], Gen.Double[0.02, 0.98], Gen.Double[0.02, 0.98]).Sample((inflow, p, q) =>
        {
            var level = Emptied();
            level.Flow(inflow, 0.13 * inflow * inflow);
            var a = level.Quantile(p);
            var b = level.Quantile(q);
            if (a is > 0 and < Capacity) (1 - level.ChanceOf(a)).ShouldBe(p, 1e-6);
            if (p < q) a.ShouldBeLessThanOrEqualTo(b);
            level.ChanceOf(0).ShouldBe(1);
        }, iter: 200);
    }

    [Fact]
    public void Water_that_goes_in_is_in_it()
    {
        Gen.Select(Gen.Double[0, 60], Gen.Double[0, 40]).Sample((first, second) =>
        {
            var level = Emptied();
            level.Add(first, 0);
            level.Add(second, 0);
            level.Quantile(0.5).ShouldBe(2 + first + second, 0.05);
        }, iter: 50);
    }

    [Fact]
    public void An_observation_that_agrees_narrows_the_band()
    {
        Gen.Select(Gen.Double[10, 60], Gen.Double[1, 12]).Sample((inflow, sd) =>
        {
            var level = Emptied();
            level.Flow(inflow, 0.13 * inflow * inflow);
            var before = level.Band();
            level.ObserveLevel(level.Moments.Mean, sd, eyes: true);
            var after = level.Band();
            (after.P95L - after.P05L).ShouldBeLessThan(before.P95L - before.P05L);
        }, iter: 100);
    }

    [Fact]
    public void A_mark_that_is_passed_raises_the_level_and_the_factor_and_one_that_is_not_lowers_them()
    {
        var passed = Emptied();
        var below = Emptied();
        foreach (var level in (LevelMixture[])[passed, below]) level.Flow(50, 300);
        var (mean, factor) = (passed.Moments.Mean, passed.ExpectedFactor);

        passed.ObserveMark(50, 2, 0.98, 0.02);
        below.ObserveMark(50, 2, 0.02, 0.98);

        passed.Moments.Mean.ShouldBeGreaterThan(mean);
        passed.ExpectedFactor.ShouldBeGreaterThan(factor);
        below.Moments.Mean.ShouldBeLessThan(mean);
        below.ExpectedFactor.ShouldBeLessThan(factor);
    }

    [Fact]
    public void A_mark_that_says_nothing_changes_nothing()
    {
        var level = Emptied();
        level.Flow(50, 300);
        var before = level.Band();

        level.ObserveMark(50, 2, 0.5, 0.5);

        level.Band().P50L.ShouldBe(before.P50L, 1e-6);
        level.Band().P95L.ShouldBe(before.P95L, 1e-6);
    }

    [Fact]
    public void Emptying_keeps_what_was_learned_of_the_household()
    {
        var level = Emptied();
        level.Flow(40, 100);
        level.ObserveLevel(90, 3, eyes: true);
        var learned = level.ExpectedFactor;

        level.Empty(2, 1);

        level.ExpectedFactor.ShouldBe(learned, 1e-9);
        learned.ShouldBeGreaterThan(1.7);
        level.Quantile(0.95).ShouldBeLessThan(5);
    }

    [Fact]
    public void Eyes_outrank_the_count_where_a_panel_does_not()
    {
        var seen = Emptied();
        var shown = Emptied();
        foreach (var level in (LevelMixture[])[seen, shown]) level.Flow(20, 10);

        seen.ObserveLevel(130, 5, eyes: true);
        shown.ObserveLevel(130, 5, eyes: false);

        seen.Moments.Mean.ShouldBeGreaterThan(110);
        shown.Moments.Mean.ShouldBeLessThan(60);
    }

    [Fact]
    public void The_normal_distribution_is_right_to_seven_places()
    {
        (double X, double P)[] known = [(0, 0.5), (1, 0.8413447461), (-1.6448536270, 0.05), (2.5, 0.9937903347), (-4, 0.0000316712)];
        foreach (var (x, p) in known) Gaussian.Below(x).ShouldBe(p, 2e-7);
    }
}
