using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Pages;

namespace Tanksophos.Web.Tests.Drawing;

public class PipePlanTests
{
    private static readonly Instant From = Instant.FromUtc(2026, 1, 1, 0, 0), To = Instant.FromUtc(2026, 12, 31, 0, 0);

    private static Rig Plumbed(params string[][] fixtures) =>
        new("R", "van", 2, [.. fixtures.Select((f, i) => new Tank($"t{i}", i == 0 ? "Black" : $"Gray water {i}", i == 0 ? TankRole.Black : TankRole.Gray,
        100) { Fixtures = f })]);

    public static TheoryData<string> Rigs => ["demo", "bare", "many", "long"];

    private static Rig Of(string name) => name switch
    {
        "demo" => DemoSeason.Rig,
        "bare" => Plumbed([], []),
        "many" => Plumbed(["toilet", "bath-sink"], ["shower", "galley-sink", "washer", "outside-shower"], ["hand-basin"]),
        _ => Plumbed(["toilet"], ["the-sink-of-the-second-bathroom-upstairs", "extraordinarilylongword"]),
    };

    [Theory]
    [MemberData(nameof(Rigs))]
    public void Every_part_stands_in_the_drawing_fits_a_thumb_and_touches_no_other(string name)
    {
        var rig = Of(name);
        var plan = PipePlan.Build(rig);
        PipePart[] parts = [.. plan.Drains, .. plan.Tanks, .. plan.Valves, plan.Outlet];
        plan.Tanks.Select(t => t.Tank).ShouldBe(rig.Tanks.Select(t => t.Id));
        plan.Valves.Count.ShouldBe(rig.Tanks.Count);
        plan.Drains.Count.ShouldBe(rig.Tanks.Sum(t => PipePlan.DrainsOf(t).Count));
        foreach (var p in parts)
        {
            p.X.ShouldBeGreaterThanOrEqualTo(0);
            (p.X + p.Width).ShouldBeLessThanOrEqualTo(PipePlan.Width);
            (p.Y + p.Height).ShouldBeLessThanOrEqualTo(plan.Height);
            Math.Min(p.Width, p.Height).ShouldBeGreaterThanOrEqualTo(50, "at 320 pixels that is a thumb");
            p.Lines.Count.ShouldBeInRange(1, 2);
            p.Lines.ShouldAllBe(l => l.Length > 0 && (l.Length <= 10 || p == plan.Outlet));
            p.LineY(0).ShouldBeInRange(p.Y, p.Y + p.Height);
        }
        foreach (var a in parts)
            foreach (var b in parts)
                if (!ReferenceEquals(a, b))
                    (a.X + a.Width <= b.X || b.X + b.Width <= a.X || a.Y + a.Height <= b.Y || b.Y + b.Height <= a.Y).ShouldBeTrue($"{a} and {b} overlap");
        plan.Pipes.Count.ShouldBe(plan.Drains.Count + rig.Tanks.Count + 1);
    }

    [Fact]
    public void A_tank_of_which_nothing_is_said_has_the_toilet_or_some_drain()
    {
        var bare = Of("bare");
        PipePlan.DrainsOf(bare.Tanks[0]).ShouldBe(["toilet"]);
        PipePlan.DrainsOf(bare.Tanks[1]).ShouldBe(["drain"]);
        PointedAt.Find(bare, "t1", "drain", null)!.Smells.ShouldHaveSingleItem();
        PointedAt.Find(bare, "t0", "toilet", null)!.Symptoms.Count.ShouldBeGreaterThan(4);
        PipePlan.DrainsOf(bare.Tanks[1] with { Fixtures = ["", " ", "-", "shower", "shower"] }).ShouldBe(["-", "shower"]);
        PipePlan.Build(Plumbed(["", " "], ["-", " a sink with a long name "])).Drains.Count.ShouldBe(3);
        PointedAt.Kept(new string('x', 200)).Length.ShouldBe(Tanksophos.Core.Formats.EntryCodec.LongestFixture);
        PointedAt.Find(bare, "t0", null, null).ShouldBeNull();
        PointedAt.Find(bare, null, null, "outlet")!.Tank.ShouldBeNull();
    }

    [Fact]
    public void Looks_at_a_lamp_are_joined_where_they_say_the_same()
    {
        var chart = new HealthChart([], From, To, 0, 1, DateTimeZone.Utc, d => d.ToString(), v => v.ToString("0"));
        LampLook Look(int day, bool believed) => new((From + Duration.FromDays(day)).WithOffset(Offset.Zero), true, believed ? 0.9 : 0.1, believed ? 0.1 : 0.9,
            0, 10, 0.5, null);
        var strip = HealthStrips.Lamp([Look(-20, true), Look(10, true), Look(40, true), Look(100, false), Look(200, false), Look(300, true)], chart, From);
        strip.Select(s => s.Believed).ShouldBe([true, false, true]);
        strip[0].From.ShouldBe(chart.X(From + Duration.FromDays(10)), 1e-9);
        strip[0].To.ShouldBe(strip[1].From, 1e-9);
        strip[1].To.ShouldBe(strip[2].From, 1e-9);
        strip[2].To.ShouldBeGreaterThan(strip[2].From);
        HealthStrips.Lamp([], chart, From).ShouldBeEmpty();
    }

    [Fact]
    public void Smell_days_are_counted_by_weeks()
    {
        var first = new LocalDate(2026, 3, 2);
        var weeks = HealthStrips.Weeks([first, first.PlusDays(1), first.PlusDays(40), new LocalDate(2020, 1, 1)], From, To,
            DateTimeZone.Utc, IsoDayOfWeek.Sunday);
        weeks.Sum(w => w.Value).ShouldBe(3);
        weeks.ShouldAllBe(w => w.At >= From && w.At <= To && w.Value <= 7);
        weeks.Select(w => w.At).ShouldBeInOrder();

        // A Sunday and the Monday after it: one week where weeks begin on Sunday, two where they begin on Monday.
        LocalDate[] two = [first.PlusDays(6), first.PlusDays(7)];
        HealthStrips.Weeks(two, From, To, DateTimeZone.Utc, IsoDayOfWeek.Sunday).ShouldHaveSingleItem().Value.ShouldBe(2);
        HealthStrips.Weeks(two, From, To, DateTimeZone.Utc, IsoDayOfWeek.Monday).Count.ShouldBe(2);
        HealthStrips.Weeks([], From, To, DateTimeZone.Utc, IsoDayOfWeek.Monday).ShouldBeEmpty();
    }
}
