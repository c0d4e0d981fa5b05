using CsCheck;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Tests.Dumping;

public class RunBuilderTests
{
    [Fact]
    public void A_full_run_at_a_site_goes_in_the_order_of_the_work()
    {
        Runs.Kinds(Runs.Script(Runs.Setting() with { Leaving = true })).ShouldBe(
        [
            RunStepKind.Gloves, RunStepKind.Fan, RunStepKind.Bowl, RunStepKind.Valves, RunStepKind.SewerHose, RunStepKind.RinseHose, RunStepKind.Drain,
                RunStepKind.Fill, RunStepKind.Judge,
            RunStepKind.Close, RunStepKind.Drain, RunStepKind.Sniff, RunStepKind.Stow, RunStepKind.Starter, RunStepKind.Dose, RunStepKind.GrayCare,
                RunStepKind.Wash,
        ]);
    }

    [Fact]
    public void Who_stays_leaves_the_hose_and_by_the_banking_school_gray_open()
    {
        var staying = Runs.Script(Runs.Setting());
        Runs.Kinds(staying).ShouldContain(RunStepKind.HoseStays);
        Runs.Kinds(staying).ShouldNotContain(RunStepKind.Stow);
        staying.Steps.Last(s => s.Kind == RunStepKind.Drain).Presses.ShouldContain(RunPress.LeaveOpen);
        Runs.Script(Runs.Setting(rules: new HouseRules { GrayAtFullHookup = GrayAtFullHookup.Batch })).Steps.Last(s =>
            s.Kind == RunStepKind.Drain).Presses.ShouldNotContain(RunPress.LeaveOpen);
        Runs.Script(Runs.Setting() with { Leaving = true }).Steps.Last(s => s.Kind == RunStepKind.Drain).Presses.ShouldNotContain(RunPress.LeaveOpen);
    }

    [Fact]
    public void The_quick_run_leaves_out_what_others_would_wait_for()
    {
        var station = Runs.Setting(place: RunPlace.Station) with { Water = TapWater.Unthreaded, Leaving = true, Busy = true };
        var quick = Runs.Script(station, RunForm.Quick);
        Runs.Kinds(quick).ShouldNotContain(RunStepKind.Sniff);
        Runs.Kinds(quick).ShouldNotContain(RunStepKind.Bowl);
        Runs.Kinds(quick).ShouldNotContain(RunStepKind.RinseHose, "no hose fits");
        Runs.Kinds(quick).ShouldContain(RunStepKind.Pour);
        quick.Rinses.Single().ShouldSatisfyAllConditions(r => r.Method.ShouldBe(FlushMethod.Bucket), r => r.Cap.ShouldBe(1));
        quick.Minutes.ShouldBeLessThan(Runs.Script(station, RunForm.Full).Minutes);
        RunBuilder.Fitting(station).ShouldBe(RunForm.Quick);
        RunBuilder.Fitting(Runs.Setting()).ShouldBe(RunForm.Full);
    }

    [Theory]
    [InlineData(null, RunForm.Full, RunRefusal.NoSewer)]
    [InlineData(null, RunForm.GrayOnly, RunRefusal.NoDrain)]
    [InlineData(RunPlace.GrayDrain, RunForm.BlackOnly, RunRefusal.NoSewer)]
    [InlineData(RunPlace.GrayDrain, RunForm.EndOfTrip, RunRefusal.NoSewer)]
    public void Black_goes_only_where_a_sewer_is_and_gray_only_where_it_may(RunPlace? place, RunForm form, RunRefusal why)
    {
        var offer = RunBuilder.Offer(Runs.Setting(place: place), form);
        offer.Script.ShouldBeNull();
        offer.Refused.ShouldContain(why);
    }

    [Fact]
    public void At_a_gray_drain_gray_alone_goes_and_under_an_alarm_nothing()
    {
        var gray = Runs.Script(Runs.Setting(place: RunPlace.GrayDrain), RunForm.GrayOnly);
        gray.Steps.Where(s => s.Kind == RunStepKind.Drain).Select(s => s.Tank).ShouldBe(["gray"]);
        Runs.Kinds(gray).ShouldNotContain(RunStepKind.Sniff);
        RunBuilder.Offers(Runs.Setting() with { PropaneAlarm = true }).ShouldAllBe(o => o.Script == null && o.Refused.Contains(RunRefusal.PropaneAlarm));
        RunBuilder.Fitting(Runs.Setting() with { PropaneAlarm = true }).ShouldBeNull();
        RunBuilder.Offer(Runs.Setting(grayTank: false), RunForm.GrayOnly).Refused.ShouldContain(RunRefusal.NoGrayTank);
        Runs.Script(Runs.Setting(grayTank: false)).Steps.Count(s => s.Kind == RunStepKind.Drain).ShouldBe(1);
    }

    [Fact]
    public void Nothing_is_pushed_back_through_a_macerator_and_gray_floods_only_behind_an_end_valve()
    {
        var macerator = Runs.Setting(kit: Runs.Kit with { Macerator = true, ReverseFlush = true });
        RunBuilder.Offer(macerator with { Method = FlushMethod.Reverse }, RunForm.Full).Refused.ShouldContain(RunRefusal.NothingThroughMacerator);
        RunBuilder.Methods(macerator).ShouldNotContain(FlushMethod.Reverse);
        var pumped = Runs.Script(macerator);
        Runs.Kinds(pumped).ShouldContain(RunStepKind.ThinHose);
        Runs.Kinds(pumped).ShouldNotContain(RunStepKind.SewerHose);
        pumped.Steps.Where(s => s.Kind == RunStepKind.Drain).ShouldAllBe(s => s.Pump);

        RunBuilder.Offer(Runs.Setting() with { Method = FlushMethod.GrayBackfeed }, RunForm.Full).Refused.ShouldContain(RunRefusal.NoEndValve);
        var end = Runs.Setting(kit: Runs.Kit with { EndValve = true }) with { Method = FlushMethod.GrayBackfeed };
        var flood = Runs.Script(end).Steps.Single(s => s.Kind == RunStepKind.Flood);
        flood.Limit!.Seconds!.Value.ShouldBeLessThanOrEqualTo(15);
        RunBuilder.Offer(Runs.Setting(gray: 5, kit: Runs.Kit with { EndValve = true }) with { Method = FlushMethod.GrayBackfeed },
            RunForm.Full).Refused.ShouldContain(RunRefusal.NoGrayToFlood);
    }

    [Fact]
    public void Without_a_tap_a_jug_does_the_rinse_and_what_is_there_is_counted()
    {
        var dry = Runs.Setting() with { Water = TapWater.None, FreshL = 12 };
        RunBuilder.Methods(dry).ShouldNotContain(FlushMethod.BuiltIn);
        RunBuilder.Offer(dry with { Method = FlushMethod.BuiltIn }, RunForm.Full).Refused.ShouldContain(RunRefusal.NoTapForHose);
        var rinse = Runs.Script(dry).Rinses.Single();
        (rinse.Method, rinse.OnHandL).ShouldBe((FlushMethod.Bucket, 31));
        Runs.Kinds(Runs.Script(dry)).ShouldNotContain(RunStepKind.Jug, "it was filled before");
        var nothing = Runs.Setting(kit: new Equipment()) with { Water = TapWater.None, FreshL = 0 };
        Runs.Script(nothing).Rinses.ShouldBeEmpty();
    }

    [Fact]
    public void Below_half_black_is_topped_up_to_two_thirds_and_a_level_nobody_knows_is_not()
    {
        var metered = Runs.Script(Runs.Setting(black: 50, kit: Runs.Kit with { WaterMeter = true })).Steps.Single(s => s.Kind == RunStepKind.TopUp);
        metered.AimL!.Value.ShouldBe(0.66 * 150 - 50, 0.1);
        metered.Limit!.Litres.ShouldBeGreaterThanOrEqualTo(metered.AimL.Value);
        Runs.Kinds(Runs.Script(Runs.Setting(black: 90))).ShouldNotContain(RunStepKind.TopUp);
        var vague = Runs.Setting(black: 50);
        vague = vague with { Tanks = [vague.Tanks[0] with { Level = new LevelBand(5, 50, 120) }, vague.Tanks[1]] };
        Runs.Kinds(Runs.Script(vague)).ShouldNotContain(RunStepKind.TopUp);
        // Where the manual allows the spray head only with the valve open, nothing is filled through it.
        Runs.Script(Runs.Setting(black: 50, kit: Runs.Kit with { WaterMeter = true }) with { School = RinseSchool.OpenRinse }).Steps.Single(s =>
            s.Kind == RunStepKind.TopUp).Presses.ShouldNotContain(RunPress.WaterOn);
        // By the clock alone nothing tells how much has gone in: counted bowlfuls instead.
        Runs.Script(Runs.Setting(black: 50)).Steps.Single(s => s.Kind == RunStepKind.TopUp).Presses.ShouldContain(RunPress.Poured);
    }

    [Theory]
    [InlineData(15, 150)]
    [InlineData(19, 150)]
    [InlineData(60, 150)]
    [InlineData(4, 150)]
    [InlineData(19, 45)]
    public void A_counted_top_up_is_whole_jugs_or_bowlfuls_and_never_more_than_the_tank_takes(double jug, double capacity)
    {
        var seen = 0;
        foreach (var share in Enumerable.Range(4, 60).Select(s => s / 100.0))
        {
            // No hose reaches in and the water is carried: jugs, or bowlfuls where a jug is more than the tank still takes.
            var setting = Runs.Setting(black: share * capacity, kit: new Equipment { JugL = jug });
            var rig = setting.Rig with { Tanks = [setting.Rig.Tanks[0] with { CapacityL = capacity }, setting.Rig.Tanks[1]] };
            var step = Runs.Script(setting with
            {
                Rig = rig,
                Tanks = [setting.Tanks[0] with { Tank = rig.Tanks[0] }, setting.Tanks[1]]
            }).Steps.SingleOrDefault(s => s.Kind == RunStepKind.TopUp);
            if (step is null) continue;
            seen++;
            step.Presses.ShouldContain(RunPress.Poured);
            step.AimL!.Value.ShouldBeLessThanOrEqualTo(step.Limit!.Litres + 1e-9);
            step.AimL.Value.ShouldBeLessThanOrEqualTo(HouseRules.Default.DumpBlackAt * capacity - share * capacity + 1e-9);
            var (jugs, bowls) = (step.AimL.Value / jug, step.AimL.Value / RinsePlan.BowlL);
            Math.Min(Math.Abs(jugs - Math.Round(jugs)), Math.Abs(bowls - Math.Round(bowls))).ShouldBeLessThan(1e-9);
            step.AimL.Value.ShouldBeGreaterThan(0);
        }
        seen.ShouldBeGreaterThan(10);
    }

    [Theory]
    [InlineData(false, null, RinseSchool.TimedFills, FillStop.Clock)]
    [InlineData(false, 8.0, RinseSchool.ThirdFills, FillStop.ClockKnownFlow)]
    [InlineData(true, null, RinseSchool.ThirdFills, FillStop.Meter)]
    public void What_ends_a_fill_follows_from_what_is_known(bool meter, double? flow, RinseSchool school, FillStop stop)
    {
        var script = Runs.Script(Runs.Setting(kit: Runs.Kit with { WaterMeter = meter }) with { FlowLPerMin = flow });
        script.Rinses.Single().School.ShouldBe(school);
        var fill = script.Steps.Single(s => s.Kind == RunStepKind.Fill);
        fill.Limit!.Stop.ShouldBe(stop);
        if (stop == FillStop.Clock) (fill.Limit.Seconds, fill.AimL).ShouldBe((30, null));
        else fill.AimL!.Value.ShouldBe(37.85, 0.1);
    }

    [Fact]
    public void What_can_end_a_fill_is_offered_and_each_of_it_can_be_had()
    {
        var all = Runs.Setting(kit: Runs.Kit with { WaterMeter = true }) with { FlowLPerMin = 8, Method = FlushMethod.BuiltIn };
        RunBuilder.Stops(all).ShouldBe([FillStop.Meter, FillStop.ClockKnownFlow, FillStop.Clock, FillStop.Watched]);
        foreach (var stop in RunBuilder.Stops(all))
            Runs.Script(all with { Stop = stop }).Steps.Single(s => s.Kind == RunStepKind.Fill).Limit!.Stop.ShouldBe(stop);
        Runs.Script(all with { Stop = FillStop.Clock }).Rinses.Single().School.ShouldBe(RinseSchool.TimedFills);
        RunBuilder.Stops(Runs.Setting()).ShouldBe([FillStop.Clock, FillStop.Watched]);
        RunBuilder.Offer(Runs.Setting() with { Stop = FillStop.Meter }, RunForm.Full).Refused.ShouldContain(RunRefusal.NoMeter);
        var doubted = Runs.Setting();
        RunBuilder.Stops(doubted with { Tanks = [doubted.Tanks[0] with { PanelInDoubt = true }, doubted.Tanks[1]] }).ShouldBe([FillStop.Clock]);
    }

    [Fact]
    public void Each_school_of_rinsing_can_be_had_where_it_can_be_done()
    {
        var meter = Runs.Setting(kit: Runs.Kit with { WaterMeter = true });
        var floods = Runs.Script(meter with { School = RinseSchool.MeteredFloods }).Steps.Single(s => s.Kind == RunStepKind.Fill);
        floods.AimL.ShouldBe(floods.Limit!.Litres);
        floods.Limit.UpToL.ShouldBe(135);
        RunBuilder.Offer(Runs.Setting() with { Method = FlushMethod.BuiltIn, School = RinseSchool.MeteredFloods },
            RunForm.Full).Refused.ShouldContain(RunRefusal.NoMeter);
        Runs.Kinds(Runs.Script(meter with { School = RinseSchool.OpenRinse })).ShouldContain(RunStepKind.OpenRinse);
        var watched = Runs.Script(Runs.Setting() with { School = RinseSchool.WatchedFills }).Steps.Single(s => s.Kind == RunStepKind.Fill);
        watched.Limit!.UpToL.ShouldBe(0.9 * 150, "the room above Full is kept, and a tenth at least");
        var doubted = Runs.Setting();
        doubted = doubted with { Tanks = [doubted.Tanks[0] with { PanelInDoubt = true }, doubted.Tanks[1]] };
        RunBuilder.Schools(doubted, RunForm.Full, FlushMethod.BuiltIn).ShouldNotContain(RinseSchool.WatchedFills);
        RunBuilder.Offer(doubted with { Method = FlushMethod.BuiltIn, School = RinseSchool.WatchedFills },
            RunForm.Full).Refused.ShouldContain(RunRefusal.PanelInDoubt);
        foreach (var school in RunBuilder.Schools(meter with { FlowLPerMin = 8 }, RunForm.Full, FlushMethod.BuiltIn))
            Runs.Script(meter with { FlowLPerMin = 8, Method = FlushMethod.BuiltIn, School = school }).Rinses.Single().School.ShouldBe(school);
    }

    [Fact]
    public void A_suspect_tank_takes_less_and_the_last_run_of_a_trip_wants_two_clear_ends_and_storage_water()
    {
        var sound = Runs.Setting(kit: Runs.Kit with { WaterMeter = true });
        var suspect = sound with { Tanks = [sound.Tanks[0] with { Suspect = true }, sound.Tanks[1]] };
        Runs.Script(suspect).Steps.Single(s =>
            s.Kind == RunStepKind.Fill).Limit!.Litres.ShouldBeLessThan(Runs.Script(sound).Steps.Single(s => s.Kind == RunStepKind.Fill).Limit!.Litres);
        var end = Runs.Script(sound, RunForm.EndOfTrip);
        (end.Rinses.Single().Need, end.Rinses.Single().Cap).ShouldBe((2, 7));
        end.Steps.Single(s => s.Kind == RunStepKind.Starter).AimL!.Value.ShouldBe(10.5, 0.01);
        end.Steps.Single(s => s.Kind == RunStepKind.Dose).Recipe.ShouldBe(DoseRecipe.StorageDose);
        Runs.Kinds(Runs.Script(sound with { Frost = true }, RunForm.EndOfTrip)).ShouldNotContain(RunStepKind.Starter, "water splits what freezes");
        Runs.Kinds(Runs.Script(Runs.Setting(rules: new HouseRules { Treatment = TreatmentSchool.WaterOnly }))).ShouldNotContain(RunStepKind.Dose);
        Runs.Script(sound with { HighC = 33 }).Steps.Single(s => s.Kind == RunStepKind.Dose).Amount.ShouldBe("2 cups");
    }

    [Fact]
    public void Two_black_tanks_are_drained_and_rinsed_one_after_the_other_before_any_gray()
    {
        var setting = Runs.Setting();
        var second = new Tank("black2", "Rear black", TankRole.Black, 80);
        var two = setting with
        {
            Rig = setting.Rig with { Tanks = [.. setting.Rig.Tanks, second] },
            Tanks = [.. setting.Tanks, new RunTank(second, Runs.Band(50), new LevelBand(0, 1, 2), false)]
        };
        var script = Runs.Script(two);
        script.Steps.Where(s => s.Kind is RunStepKind.Drain or RunStepKind.Close).Select(s => $"{s.Kind} {s.Tank}")
            .ShouldBe(["Drain black", "Close black", "Drain black2", "Close black2", "Drain gray"]);
        script.Rinses.Count.ShouldBe(2);
        script.Steps.Select(s => s.Id).ShouldBeUnique();
    }

    // Whatever the rig and the place: what can be built keeps the laws, and what is written is read again.
    [Fact]
    public void Every_run_that_can_be_built_keeps_the_laws()
    {
        Gen.Select(Gen.Int[0, 4], Gen.Int[0, 3], Gen.Int[0, 2], Gen.Int[0, 255], Gen.Select(Gen.Double[0, 150], Gen.Double[0, 190], Gen.Double[0, 60]),
            Gen.Int[0, 6], Gen.Int[0, 5], Gen.Int[0, 3]).Sample((form, place, water, bits, levels, method, school, flow) =>
        {
            bool Bit(int n) => (bits & (1 << n)) != 0;
            var kit = new Equipment
            {
                FlushInlet = Bit(0),
                ReverseFlush = Bit(1),
                EndValve = Bit(2),
                WaterMeter = Bit(3),
                Macerator = Bit(4),
                JugL = Bit(5)
                ? 19 : null,
                Wand = Bit(6) ? "flexible" : "none"
            };
            var (black, gray, width) = levels;
            var setting = Runs.Setting(black, gray, kit, place: place == 3 ? null : (RunPlace)place) with
            {
                Water = (TapWater)water,
                Leaving = Bit(7),
                FlowLPerMin = flow == 0 ? null : 3 * flow,
                Method = method == 6 ? null : (FlushMethod)method,
                School = school == 5 && method < 3
                ? (RinseSchool)school : null
            };
            setting = setting with
            {
                Tanks = [setting.Tanks[0] with { Level = new LevelBand(Math.Max(0, black - width), black, Math.Min(150, black + width)) },
                setting.Tanks[1]]
            };
            var offer = RunBuilder.Offer(setting, (RunForm)form);
            (offer.Script is null).ShouldBe(offer.Refused.Count > 0);
            if (offer.Script is not { } script) return;
            script.Place.ShouldBe(setting.Place!.Value);
            var kinds = script.Steps.ToList();
            var firstGray = kinds.FindIndex(s => s.Kind == RunStepKind.Drain && s.Tank == "gray");
            var lastBlack = kinds.FindLastIndex(s => s.Tank == "black"
                && s.Kind is RunStepKind.Drain or RunStepKind.Fill or RunStepKind.Pour or RunStepKind.Close && s.Tank == "black");
            if (script.Place == RunPlace.GrayDrain) lastBlack.ShouldBe(-1);
            if (firstGray >= 0 && lastBlack >= 0) lastBlack.ShouldBeLessThan(firstGray, "black before gray");
            kinds.FindIndex(s => s.Kind == RunStepKind.Drain)
                .ShouldBeGreaterThan(kinds.FindIndex(s => s.Kind is RunStepKind.SewerHose or RunStepKind.ThinHose), "the hose is on before a valve moves");
            kinds.FindIndex(s => s.Kind == RunStepKind.Valves).ShouldBeGreaterThan(0);
            var sniff = kinds.FindIndex(s => s.Kind == RunStepKind.Sniff);
            if (sniff >= 0) sniff.ShouldBeLessThan(kinds.FindIndex(s => s.Kind is RunStepKind.Starter or RunStepKind.Wash), "before anything is dosed");
            foreach (var step in kinds.Where(s => s.Limit is not null))
            {
                (step.Limit!.UpperLevelL + step.Limit.Litres).ShouldBeLessThanOrEqualTo(150);
                if (step.AimL is { } aim) aim.ShouldBeLessThanOrEqualTo(step.Limit.Litres + 4.2, step.Id); // one bowlful at least
                if (step.SuspectLimit is { } less) less.Litres.ShouldBeLessThanOrEqualTo(step.Limit.Litres);
            }
            kinds[^1].Kind.ShouldBe(RunStepKind.Wash);
            kinds.Select(s => s.Id).ShouldBeUnique();
            script.Minutes.ShouldBeInRange(3, 240);
            RunCodec.Write(RunCodec.Read(RunCodec.Write(script))).ShouldBe(RunCodec.Write(script));
        }, iter: 2000);
        Should.Throw<InvalidDataException>(() => RunCodec.Read("{"));
        Should.Throw<InvalidDataException>(() => RunCodec.Read("null"));
    }
}
