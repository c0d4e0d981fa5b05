using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Tests.Drawing;

public class DrawingTests
{
    private static readonly Instant Now = Instant.FromUtc(2026, 6, 9, 23, 30);
    private static readonly DateTimeZone Denver = DateTimeZoneProviders.Tzdb["America/Denver"];

    private static TroughGeometry Trough(Tank tank, double low = 30, double mid = 40, double high = 50, bool toTap = false) =>
        new(tank, new LevelBand(low, mid, high), 0.66 * tank.CapacityL, toTap);

    [Fact]
    public void The_liquid_stands_between_floor_and_top_in_the_order_of_the_band()
    {
        var g = Trough(DemoSeason.Rig.Tanks[0]);

        g.HighY.ShouldBeLessThan(g.MedianY);
        g.MedianY.ShouldBeLessThan(g.LowY);
        g.Y(0).ShouldBe(g.Bottom);
        g.Y(1).ShouldBe(g.InnerTop);
        g.Y(7).ShouldBe(g.InnerTop);
        g.FullMarkY.ShouldBeGreaterThan(g.InnerTop);
    }

    [Fact]
    public void A_stud_stands_exactly_where_liquid_of_its_share_would_stand()
    {
        var tank = DemoSeason.Rig.Tanks[1];
        var g = Trough(tank);

        g.Studs.Select(s => s.Y).ShouldBe(tank.Monitor.Probes.Select(p => g.Y(p.AtFraction)));
    }

    [Theory]
    [InlineData(false, 19)]
    [InlineData(true, 43)]
    public void Labels_never_touch_each_other_and_stay_in_the_drawing(bool toTap, double gap)
    {
        var crowded = DemoSeason.Rig.Tanks[0] with
        {
            Monitor = TankMonitor.WithProbes([.. new[] { 0.1, 0.12, 0.5, 0.9, 0.95, 0.99 }
            .Select((f, i) => new Probe($"p{i}", "x", f))])
        };
        var g = Trough(crowded, toTap: toTap);

        foreach (var (below, above) in g.Studs.Zip(g.Studs.Skip(1))) (below.LabelY - above.LabelY).ShouldBeGreaterThanOrEqualTo(gap - 1e-9);
        g.Studs[^1].LabelY.ShouldBeGreaterThan(0);
        g.Studs[0].LabelY.ShouldBeLessThan(g.Height);
    }

    [Fact]
    public void A_longer_tank_is_drawn_flatter()
    {
        var tank = DemoSeason.Rig.Tanks[0];
        Trough(tank with { LengthM = 1.4, DepthM = 0.2 }).Bottom.ShouldBeLessThan(Trough(tank with { LengthM = 0.5, DepthM = 0.4 }).Bottom);
    }

    [Fact]
    public void The_ribbon_runs_from_the_past_over_now_into_the_plan()
    {
        var log = DemoSeason.Until(Now) with { AsOf = Now.WithOffset(Offset.Zero) };
        var belief = new JointEstimator().Estimate(log, new EstimateOptions(Now - RigCache.TrackLength));
        var picture = new RigSnapshot(log, belief, Advice.For(log, belief));
        var ribbon = new RibbonGeometry(picture, Core.Agendas.Court.Decide(AgendaService.SituationOf(picture, null, Units.Us, Around.Nothing)), Denver);

        ribbon.Lanes.Select(l => l.Tank.Id).ShouldBe(["black", "bath", "galley"]);
        ribbon.Now!.Value.ShouldBeInRange(RibbonGeometry.LaneLeft, RibbonGeometry.Width);
        ribbon.Stays[^1].Place.ShouldBe("Lantern Hollow");
        ribbon.Stays[^1].Open.ShouldBeTrue();
        ribbon.Lanes[0].Pins.ShouldContain(p => !p.Planned && p.X < ribbon.Now);
        ribbon.Lanes[0].Pins.ShouldContain(p => p.Planned && p.X >= ribbon.Now);
        ribbon.Lanes[0].Stretches.Count(s => s.Planned).ShouldBe(2); // up to the dump and after it
        ribbon.Lanes.SelectMany(l => l.Stretches).ShouldAllBe(s => !s.Band.Contains("NaN") && s.Band.EndsWith('Z'));
        ribbon.Days.Count.ShouldBeInRange(11, 13);
    }

    [Theory]
    [InlineData("15", 56.78)]
    [InlineData("15 gal", 56.78)]
    [InlineData(" 57 L ", 57)]
    [InlineData("57,5l", 57.5)]
    [InlineData("2 qt", 1.893)]
    [InlineData("500 ml", 0.5)]
    public void Volumes_are_read_as_people_type_them(string text, double litres)
    {
        Units.Us.TryParseVolume(text, out var read).ShouldBeTrue();
        read.ShouldBe(litres, 0.005);
    }

    [Theory]
    [InlineData("")]
    [InlineData("gal")]
    [InlineData("-3")]
    [InlineData("1e5")]
    [InlineData("3 stone")]
    [InlineData("٣")]
    public void Other_volumes_are_not(string text) => Units.Us.TryParseVolume(text, out _).ShouldBeFalse();

    [Fact]
    public void Moments_are_said_the_way_people_do()
    {
        var times = new TimeWords(Now, Denver); // Tuesday 17:30
        Instant Local(int day, int hour, int minute = 0) => new LocalDateTime(2026, 6, day, hour, minute).InZoneStrictly(Denver).ToInstant();

        times.Greeting.ShouldBe("Tuesday evening");
        var other = new TimeWords(Now, Denver, TimeStyle.International);
        (other.At(Local(9, 19)), other.At(Local(20, 5)), other.Heading(new LocalDate(2026, 6, 8))).ShouldBe(("today 19:00", "20 Jun 05:00", "Yesterday, "
            + "Monday 8 June"));
        TimeStyle.Us.Moment(Local(28, 20, 45), Denver).ShouldBe("Sun, Jun 28, 8:45 PM");
        TimeStyle.International.Moment(Local(28, 20, 45), Denver).ShouldBe("Sun 28 Jun 20:45");
        times.At(Local(9, 19)).ShouldBe("today 7:00 PM");
        times.At(Local(10, 8, 12)).ShouldBe("tomorrow 8:10 AM");
        times.At(Local(11, 5)).ShouldBe("Thu 5:00 AM");
        times.At(Local(20, 5)).ShouldBe("Jun 20 5:00 AM");
        times.At(Now).ShouldBe("now");
        times.By(Local(9, 19)).ShouldBe("Today by 7:00 PM");
        times.By(Local(9, 8)).ShouldBe("Now");
        times.Brief(Local(10, 23, 58)).ShouldBe("Wed 12:00 AM");
        times.Brief(Local(28, 5)).ShouldBe("Jun 28");
        times.Ago(Local(9, 8)).ShouldBe("10 h ago");
        times.Heading(new LocalDate(2026, 6, 8)).ShouldBe("Yesterday, Monday, June 8");
    }
}
