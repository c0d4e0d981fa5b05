using CsCheck;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Tests.Dumping;

public class GuardTests
{
    private static readonly Tank Black = new("black", "Black", TankRole.Black, 150) { RoomAboveFullL = 12 };

    [Fact]
    public void A_metered_fill_goes_up_to_nine_tenths_from_the_upper_side_of_the_level()
    {
        var limit = Guard.Limit(Black, new LevelBand(1, 3, 10), FillStop.Meter);
        (limit.Litres, limit.Seconds, limit.Refused).ShouldBe((0.9 * 150 - 10, null, null));
        Guard.Limit(Black with { CapacityL = 120 }, new LevelBand(1, 3, 10), FillStop.Meter).Litres.ShouldBe(0.9 * 120 - 10, 1e-9, "buildup eats volume");
    }

    [Fact]
    public void Under_watch_the_room_above_Full_is_the_reserve_and_a_panel_in_doubt_stops_nothing()
    {
        Guard.Limit(Black, new LevelBand(1, 3, 10), FillStop.Watched).Litres
            .ShouldBe(0.9 * 150 - 10, "a tenth is kept where that is more than the room above Full");
        Guard.Limit(Black with { RoomAboveFullL = 30 }, new LevelBand(1, 3, 10), FillStop.Watched).Litres.ShouldBe(150 - 30 - 10);
        Guard.Limit(Black with { RoomAboveFullL = 0 }, new LevelBand(1, 3, 10), FillStop.Watched).Litres.ShouldBe(0.9 * 150 - 10);
        Guard.Limit(Black, new LevelBand(1, 3, 10), FillStop.Watched, panelInDoubt: true).Refused.ShouldBe(NoFill.PanelInDoubt);
    }

    [Fact]
    public void The_clock_counts_with_the_upper_side_of_the_flow_and_warns_at_four_fifths()
    {
        var limit = Guard.Limit(Black, new LevelBand(1, 3, 10), FillStop.ClockKnownFlow, flowLPerMin: 8);
        limit.UpperFlowLPerMin!.Value.ShouldBeInRange(8 * 1.38, 8 * 1.75);
        limit.Seconds!.Value.ShouldBe(60 * limit.Litres / limit.UpperFlowLPerMin.Value, 1e-9);
        limit.WarnAtSeconds.ShouldBe(0.8 * limit.Seconds);
        Guard.Limit(Black, new LevelBand(1, 3, 10), FillStop.ClockKnownFlow).Refused.ShouldBe(NoFill.FlowNotKnown);
    }

    [Fact]
    public void The_wider_the_level_is_believed_the_shorter_the_clock_although_the_upper_side_is_the_same()
    {
        var narrow = Guard.Limit(Black, new LevelBand(58, 60, 62), FillStop.ClockKnownFlow, flowLPerMin: 8).Seconds!.Value;
        var wide = Guard.Limit(Black, new LevelBand(10, 30, 62), FillStop.ClockKnownFlow, flowLPerMin: 8).Seconds!.Value;
        // Both may hold 62 L; for the wide one the level's own tail is added to the flow's.
        narrow.ShouldBeLessThan(60 * (0.9 * 150 - 62) / 8 / 1.38);
        wide.ShouldBeGreaterThan(narrow, "its middle is lower, so that its tail passes the top less often");
        Guard.Limit(Black, new LevelBand(0, 5, 100), FillStop.ClockKnownFlow, flowLPerMin: 8).Refused.ShouldBe(NoFill.NoRoom, "it may be anything");
    }

    [Theory]
    [InlineData(15, 0.05)]
    [InlineData(30, 0.05)]
    [InlineData(15, 0.3)]
    public void Gray_is_kept_for_four_hose_volumes_or_the_share_of_the_rule(double hoseM, double share)
    {
        var rig = Runs.Rig(Runs.Kit with { HoseLengthM = hoseM }) with { Rules = HouseRules.Default with { GrayTargetAtDump = share } };
        var hose = hoseM * Equipment.HoseLPerM;
        GrayRinse.HoseL(rig).ShouldBe(hose, 1e-9);
        GrayRinse.TargetL(rig, rig.RulesInForce, rig.Tanks[1]).ShouldBe(Math.Min(0.75 * 190, Math.Max(share * 190, 4 * hose)), 1e-9);
    }

    [Fact]
    public void With_nothing_known_half_a_minute_is_all_and_less_where_there_is_less_room()
    {
        Guard.Limit(Black, new LevelBand(1, 3, 10), FillStop.Clock).Seconds.ShouldBe(30);
        var little = Guard.Limit(Black, new LevelBand(120, 125, 131), FillStop.Clock);
        little.Seconds!.Value.ShouldBeInRange(5, 29);
        Guard.Limit(Black, new LevelBand(1, 3, 115), FillStop.Clock, reverse: true).Seconds!.Value.ShouldBeLessThan(30);
        Guard.Limit(Black, new LevelBand(120, 130, 140), FillStop.Clock).Refused.ShouldBe(NoFill.NoRoom);
    }

    [Fact]
    public void A_suspect_tank_is_filled_less_whatever_ends_the_fill()
    {
        foreach (var stop in Enum.GetValues<FillStop>())
        {
            var (sound, suspect) = (Guard.Limit(Black, new LevelBand(20, 30, 50), stop, 8),
                Guard.Limit(Black, new LevelBand(20, 30, 50), stop, 8, suspect: true));
            suspect.Litres.ShouldBeLessThan(sound.Litres);
        }
    }

    [Fact]
    public void More_in_the_tank_never_allows_more_and_nothing_passes_the_top()
    {
        Gen.Select(Gen.Double[0, 150], Gen.Double[0, 40], Gen.Double[0, 30], Gen.Int[0, 3], Gen.Double[2, 40]).Sample((mid, up, more, stop, flow) =>
        {
            var band = new LevelBand(Math.Max(0, mid - up), mid, mid + up);
            var limit = Guard.Limit(Black, band, (FillStop)stop, flow);
            var fuller = Guard.Limit(Black, new LevelBand(band.P05L, mid + more, band.P95L + more), (FillStop)stop, flow);
            fuller.Litres.ShouldBeLessThanOrEqualTo(limit.Litres + 1e-9);
            // The time is found by halving: known to a billionth of a second.
            (fuller.Seconds ?? 0).ShouldBeLessThanOrEqualTo((limit.Seconds ?? double.MaxValue) + 1e-6);
            if (limit.Refused is null) (limit.UpperLevelL + limit.Litres).ShouldBeLessThan(Black.CapacityL);
            else limit.Litres.ShouldBe(0);
            if (stop == 3 && limit.Seconds is { } s) s.ShouldBeLessThanOrEqualTo(45);
        }, iter: 1000);
    }

    // The level scatters as the belief says, the flow by a fifth (learned) or a half (not) of its logarithm.
    [Theory]
    [InlineData(FillStop.Meter, 0, 0.85)]
    [InlineData(FillStop.ClockKnownFlow, 1, 0.60)]
    [InlineData(FillStop.Clock, 0, 0)]
    public void Ten_thousand_fills_do_not_run_over_and_are_not_timid(FillStop stop, int mostOverfillsInThousand, double leastMedian)
    {
        const int fills = 10_000;
        var random = new SeededRandom(31);
        var over = 0;
        var shares = new List<double>();
        for (var i = 0; i < fills; i++)
        {
            var sd = 1 + 5 * random.Uniform(); // of capacity about 1 to 4 %: after a dump, with the error of the belief
            var mid = 2 + 25 * random.Uniform();
            var level = Math.Max(0, mid + sd * random.Normal());
            var band = new LevelBand(Math.Max(0, mid - 1.645 * sd), mid, mid + 1.645 * sd);
            var known = 5 + 6 * random.Uniform();
            var flow = stop == FillStop.Clock ? 7.6 * Math.Exp(0.5 * random.Normal()) : known * Math.Exp(0.2 * random.Normal());
            var limit = Guard.Limit(Black, band, stop, known);
            var put = limit.Refused is not null ? 0 : stop == FillStop.Meter ? limit.Litres : flow * limit.Seconds!.Value / 60;
            if (level + put > Black.CapacityL) over++;
            shares.Add(put / (0.9 * Black.CapacityL - level));
        }
        over.ShouldBeLessThanOrEqualTo(2 * mostOverfillsInThousand * fills / 1000);
        shares.Order().ElementAt(fills / 2).ShouldBeGreaterThanOrEqualTo(leastMedian);
    }

    [Fact]
    public void A_bucket_tells_the_flow()
    {
        Guard.FlowOf(19, 150).ShouldBe(7.6, 0.01);
        Should.Throw<ArgumentOutOfRangeException>(() => Guard.FlowOf(0, 30));
        Should.Throw<ArgumentOutOfRangeException>(() => Guard.FlowOf(19, 0));
    }
}
