using CsCheck;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Care;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Core.Trips;
using Tanksophos.Core.Weather;
using static Tanksophos.Core.Tests.Given;
using Duration = NodaTime.Duration;

namespace Tanksophos.Core.Tests.Weather;

/// <summary>What is known of the weather, and what follows from it: doses in the heat, hoses in the frost.</summary>
public class WeatherTests
{
    private static readonly LocalDate Day = new(2026, 5, 11);
    private static readonly Instant Now = At(10).ToInstant();

    private static WeatherBook Book(Duration? age = null, IReadOnlyList<ClimateMonth?>? climate = null, params WeatherDay[] days) =>
        new([new PlaceForecast("Tin Mesa", Now - (age ?? Duration.Zero), days)], climate ?? [], Now);

    private static Stop Stop(string name, int from, int to, StopHookup hookup = StopHookup.Dry) =>
        new($"s{from}", name, DateTimeZoneProviders.Tzdb["America/Denver"], At(from), At(to), hookup, 2);

    [Fact]
    public void A_day_is_known_from_the_forecast_then_from_the_last_there_was_then_from_the_month()
    {
        ClimateMonth?[] climate = [.. Enumerable.Range(1, 12).Select(m => m == 5 ? new ClimateMonth(4, 20) : null)];
        var fresh = Book(Duration.FromHours(2), climate, new WeatherDay(Day, 8, 31));
        fresh.On(" tin mesa ", Day)!.ShouldBe(new WeatherDay(Day, 8, 31) { Source = WeatherSource.Forecast });
        fresh.On("Tin Mesa", Day.PlusDays(1))!.ShouldBe(new WeatherDay(Day.PlusDays(1), 4, 20) { Source = WeatherSource.Climate });
        fresh.On("Elsewhere", Day)!.Source.ShouldBe(WeatherSource.Climate);
        fresh.On("Tin Mesa", Day.PlusMonths(2)).ShouldBeNull();
        Book(Duration.FromDays(3), climate, new WeatherDay(Day, 8, 31)).On("Tin Mesa", Day)!.Source.ShouldBe(WeatherSource.LastKnown);
    }

    [Fact]
    public void What_somebody_typed_for_a_stop_outranks_the_forecast()
    {
        var book = Book(null, null, new WeatherDay(Day, -3, 33), new WeatherDay(Day.PlusDays(1), 5, 20));
        var trip = new Itinerary("Loop", [Stop("Tin Mesa", 9, 11), Stop("Tin Mesa", 11, 12) with { HighC = 24 }, Stop("Salt Gate", 12, 14)]).With(book);
        (trip.Stops[0].HottestC, trip.Stops[0].Freezes).ShouldBe((33, true));
        (trip.Stops[1].HottestC, trip.Stops[1].Freezes).ShouldBe((24, false));
        (trip.Stops[2].HottestC, trip.Stops[2].Freezes).ShouldBe((null, false));
        // The forecast goes with the day; it is not written with the trip.
        ItineraryFormat.Read(ItineraryFormat.Write(trip)).Value!.Stops[0].HottestC.ShouldBeNull();
    }

    [Fact]
    public void A_hot_forecast_doubles_the_plans_dose()
    {
        Plan With(double high)
        {
            var trip = new Itinerary("Loop", [Stop("Tin Mesa", 10, 14, StopHookup.Full), Stop("Tin Mesa", 14, 22)])
                .With(Book(null, null, [.. Enumerable.Range(0, 15).Select(i => new WeatherDay(Day.PlusDays(i), 10, high))]));
            var book = Given.Book(Rig(), At(10), Stay(At(0), Hookup.Full), Dump(At(8)));
            var situation = Situation.Build(book, new JointEstimator().Estimate(book), trip);
            return situation.Plan!;
        }
        With(34).Actions.Where(a => a.Kind == PlanActionKind.Dose).ShouldNotBeEmpty();
        With(34).Actions.Where(a => a.Kind == PlanActionKind.Dose).ShouldAllBe(a => a.Doubled);
        With(22).Actions.Where(a => a.Kind == PlanActionKind.Dose).ShouldAllBe(a => !a.Doubled);
    }

    private static Situation Heard(WeatherHere? weather, params LogEntry[] entries)
    {
        var book = Given.Book(Rig(), At(10), [Stay(At(0), Hookup.Dry), Dump(At(8)), .. entries]);
        return Situation.Build(book, new JointEstimator().Estimate(book)) with { Weather = weather };
    }

    private static CareItem? Frost(WeatherHere? weather, params LogEntry[] entries) => Heard(weather, entries).Care.FirstOrDefault(c =>
        c.Chore == ChoreWords.Frost);

    private static WeatherHere Nights(params double[] lows) => new([.. lows.Select((low, i) => new WeatherDay(Day.PlusDays(i), low, low + 9))]);

    [Fact]
    public void Frost_is_asked_for_the_evening_before_and_once_for_a_night()
    {
        Frost(null).ShouldBeNull();
        Frost(Nights(5, 4, 3, 2)).ShouldBeNull();
        var far = Frost(Nights(5, 4, 3, -2))!;
        (far.State, far.Night!.LowC, far.Asks(Now)).ShouldBe((CareState.Soon, -2, false));
        var near = Frost(Nights(5, -2))!;
        (near.State, near.Asks(Now)).ShouldBe((CareState.Due, true));
        near.Due.InZone(Heard(null).Belief.InForce.Zone).TimeOfDay.ShouldBe(new LocalTime(17, 0));
        Frost(Nights(5, -2), new ChoreEntry { At = At(9.9), Chore = ChoreWords.Frost, Result = ChoreResult.Done })!.Asks(Now).ShouldBeFalse();
        Frost(Nights(5, -2), new ChoreEntry { At = At(8), Chore = ChoreWords.Frost, Result = ChoreResult.Done })!.Asks(Now).ShouldBeTrue();
        // A month that is usually cold is no warning of a night.
        Frost(new WeatherHere([new WeatherDay(Day, -5, 2) { Source = WeatherSource.Climate }])).ShouldBeNull();
        // Closed against frost there is nothing left to freeze.
        Frost(Nights(5, -2), new ServiceEntry { At = At(9), Code = ServiceCode.SeasonClose, Frost = true }, Stay(At(9.1), Hookup.Storage)).ShouldBeNull();
    }

    [Fact]
    public void A_cold_bay_is_for_now()
    {
        var cold = new WeatherHere([]) { BayC = 1 };
        Court.Decide(Heard(cold)).Items.Single(i => i.Chore == ChoreWords.Frost).Level.ShouldBe(AgendaLevel.Now);
        Court.Decide(Heard(new WeatherHere([]) { BayC = 4 })).Items.ShouldNotContain(i => i.Chore == ChoreWords.Frost);
        Court.Decide(Heard(Nights(5, -2))).Items.Single(i => i.Chore == ChoreWords.Frost).Level.ShouldBe(AgendaLevel.Today);
    }

    [Fact]
    public void The_heat_of_the_week_is_the_hottest_of_what_is_expected_and_what_was_measured()
    {
        Heard(null).HighC.ShouldBeNull();
        Heard(Nights(5, 8)).HighC.ShouldBe(17);
        Heard(Nights(5, 8) with { OutsideHighC = 30 }).HighC.ShouldBe(30);
        Heard(new WeatherHere([]) { OutsideHighC = 12 }).HighC.ShouldBe(12);
        Situation.HighAhead([Stop("Tin Mesa", 9, 12) with { HighC = 24 }], new WeatherHere([new WeatherDay(Day, 9, 40)]), Now, DateTimeZone.Utc).ShouldBe(24);
        Situation.HighAhead([Stop("Tin Mesa", 9, 12)], new WeatherHere([]) { OutsideHighC = 33 }, Now, DateTimeZone.Utc).ShouldBe(33);
    }

    [Fact]
    public void A_silent_device_and_a_filling_tank_are_on_the_agenda()
    {
        var agenda = Court.Decide(Heard(null) with { Silent = [("panel-1", ["black"])], Filling = ["gray"] });
        agenda.Items.Single(i => i.Device == "panel-1").Tanks.ShouldBe(["black"]);
        agenda.Items.Single(i => i.Because.Contains(Because.Filling)).ShouldSatisfyAllConditions(i => i.Code.ShouldBe(AgendaCode.StopWater),
            i => i.Level.ShouldBe(AgendaLevel.Now));
        Notices.KeyOf(agenda.Items.Single(i => i.Device == "panel-1")).ShouldContain("panel-1");
        // In storage the battery may be off.
        Court.Decide(Heard(null, Stay(At(9), Hookup.Storage)) with { Silent = [("panel-1", [])] }).Items.ShouldNotContain(i => i.Device != null);
    }

    [Theory]
    [InlineData("""{"days":[{"date":"2026-05-11","lowC":3,"highC":12},{"date":"2026-05-12","lowC":-3.5,"highC":-3.5}]}""", null)]
    [InlineData("""{"place":"x"}""", "days")]
    [InlineData("""{"days":[]}""", "days")]
    [InlineData("[]", "days")]
    [InlineData("nonsense", "")]
    [InlineData("""{"days":[{"date":"11.5.2026","lowC":3,"highC":12}]}""", "days[0].date")]
    [InlineData("""{"days":[{"date":"2026-05-11","lowC":3,"highC":12},{"date":"2026-05-11","lowC":3,"highC":12}]}""", "days[1].date")]
    [InlineData("""{"days":[{"date":"2026-05-11","lowC":38,"highC":95}]}""", "days[0].highC")]
    [InlineData("""{"days":[{"date":"2026-05-11","lowC":13,"highC":12}]}""", "days[0].highC")]
    [InlineData("""{"days":[{"date":"2026-05-11","highC":12}]}""", "days[0].lowC")]
    [InlineData("""{"days":[{"date":"2026-05-11","lowC":"3","highC":12}]}""", "days[0].lowC")]
    public void A_forecast_is_taken_whole_or_refused_with_its_field(string json, string? path)
    {
        var read = WeatherFormat.Read(Utf8(json), "Tin Mesa", Now);
        if (path is null)
        {
            WeatherFormat.Read(WeatherFormat.Write(read.Value!), "Tin Mesa", Now).Value!.Days.ShouldBe(read.Value!.Days);
            return;
        }
        read.Value.ShouldBeNull();
        read.Errors[0].Path.ShouldBe(path);
    }

    [Fact]
    public void Resistance_tells_water_from_a_film_and_both_from_what_bridges_a_probe()
    {
        (double Water, double Film, double Fouled) Of(double ohms) => new ProbeOhms("low", ohms).Odds();
        Of(20_000).ShouldSatisfyAllConditions(o => o.Water.ShouldBe(1), o => o.Film.ShouldBeLessThan(0.2));
        Of(250_000).ShouldSatisfyAllConditions(o => o.Film.ShouldBe(1), o => o.Water.ShouldBeLessThan(0.1));
        Of(60_000).Fouled.ShouldBeGreaterThan(Of(20_000).Fouled);
        // A panel of another kind decides nothing.
        Of(1).ShouldSatisfyAllConditions(o => o.Film.ShouldBeGreaterThan(0.1), o => o.Fouled.ShouldBeGreaterThan(0.1));
        TankBelief After(double? ohms, double? bay = null)
        {
            var book = Given.Book(Rig(), At(10, 1), Stay(At(0), Hookup.Full), Dump(At(9.9)),
                Lamps(At(10), "low") with { Ohms = ohms is { } o ? [new ProbeOhms("low", o)] : [], BayC = bay });
            return new JointEstimator().Estimate(book)["black"];
        }
        double Stuck(TankBelief t) => t.Probes[0].StuckOn;
        // A light that stays on after a dump: a film clears by itself, what bridges it does not.
        Stuck(After(250_000)).ShouldBeLessThan(Stuck(After(null)));
        Stuck(After(60_000)).ShouldBeGreaterThan(Stuck(After(250_000)));
        After(20_000).Level.P50L.ShouldBeGreaterThanOrEqualTo(After(250_000).Level.P50L);
    }

    [Fact]
    public void Lights_that_come_on_one_after_the_other_are_water()
    {
        var four = Rig() with
        {
            Tanks = [.. Rig().Tanks.Select(t => t.Id != "gray" ? t : t with { Monitor = TankMonitor.WithProbes(new Probe("q1", "1/4", 0.25),
            new Probe("q2", "1/2", 0.5), new Probe("q3", "3/4", 0.75), new Probe("full", "Full", 0.95)) })]
        };
        double Level(bool rising)
        {
            ReadingEntry At1(double minutes, params string[] lit) => new()
            {
                At = At(10, minutes / 60),
                Tank = "gray",
                Via = ReadingVia.Panel,
                Lit = lit,
                Rising = rising && lit.Length > 1 ? true : null
            };
            var book = Given.Book(four, At(10, 0.5), Stay(At(0), Hookup.Full), Dump(At(9.99), "gray"), At1(1), At1(6, "q1"), At1(11, "q1", "q2"),
                At1(17, "q1", "q2", "q3"), At1(22, "q1", "q2", "q3", "full"));
            var belief = new JointEstimator().Estimate(book)["gray"];
            return belief.Level.P50L / belief.Tank.CapacityL;
        }
        Level(true).ShouldBeGreaterThan(0.85);
        Level(false).ShouldBeLessThan(0.5, "without it, a panel that lights everything is likelier");
    }

    [Fact]
    public void A_film_dries_later_in_the_cold()
    {
        double Stuck(double bay)
        {
            var book = Given.Book(Rig(), At(12), Stay(At(0), Hookup.Full), Dump(At(9)), Lamps(At(9, 12), "low") with { BayC = bay });
            return new JointEstimator().Estimate(book)["black"].Probes[0].StuckOn;
        }
        Stuck(2).ShouldBeLessThan(Stuck(30), "in the cold the light may still be a film, in the heat hardly");
    }

    [Fact]
    public void The_live_rig_goes_on_as_it_is_told()
    {
        var rig = DemoSeason.Rig;
        LiveRig Made() => new(rig, new Dictionary<string, double> { ["black"] = 60, ["bath"] = 100, ["galley"] = 20 },
            DateTimeZoneProviders.Tzdb["America/Denver"], Instant.FromUtc(2026, 6, 9, 18, 0), 7);
        var (live, again) = (Made(), Made());
        live.Run(Duration.FromHours(3));
        again.Run(Duration.FromHours(3));
        live.LevelL("black").ShouldBe(again.LevelL("black"));
        live.LevelL("black").ShouldBeGreaterThan(60);
        live.Shower = true;
        var before = live.LevelL("bath");
        live.Run(Duration.FromMinutes(5));
        live.LevelL("bath").ShouldBeGreaterThan(Math.Min(before + 20, 140));
        (live.Shower, live.Hose) = (false, true);
        var (meter, black) = (live.MeterL, live.LevelL("black"));
        live.Run(Duration.FromMinutes(2));
        (live.MeterL - meter).ShouldBe(17, 0.1);
        live.LevelL("black").ShouldBeGreaterThan(black + 15);
        live.Hose = false;
        live.Open.Add("black");
        live.Run(Duration.FromMinutes(5));
        live.LevelL("black").ShouldBeLessThan(8);
        live.Open.Clear();
        live.Run(Duration.FromDays(3));
        live.Fouled.Add(("black", "top"));
        live.Lit(rig.Find("black")!).ShouldContain("top");
        live.Ohms(rig.Find("black")!, rig.Find("black")!.Monitor.Probes[2]).ShouldBeInRange(30_000, 140_000);
        live.Freezes = true;
        live.Run(Duration.FromHours(30));
        live.BayC.ShouldBeLessThan(5);
        live.BayHeat = true;
        live.Run(Duration.FromHours(20));
        live.BayC.ShouldBeGreaterThan(6);
        live.BatteryDrains = true;
        live.Run(Duration.FromHours(6));
        live.PanelWorks.ShouldBeFalse();
        live.Lit(rig.Find("black")!).ShouldBeEmpty();
        MadeUpWeather.Of("Tin Mesa", Day).ShouldBe(MadeUpWeather.Of("Tin Mesa", Day));
        MadeUpWeather.Of("Tin Mesa", Day, freezes: true).LowC.ShouldBeLessThan(-4);
    }

    [Fact]
    public void After_noon_the_night_of_today_is_over()
    {
        CareItem? At1(double hour, params double[] lows)
        {
            var day = Start.LocalDateTime.Date.PlusDays(10);
            var at = (day + LocalTime.Midnight.PlusMinutes((long)(hour * 60))).WithOffset(Start.Offset);
            var book = Given.Book(Rig(), at, Stay(At(0), Hookup.Dry), Dump(At(8)));
            var here = new WeatherHere([.. lows.Select((low, i) => new WeatherDay(day.PlusDays(i), low, low + 9))]);
            return (Situation.Build(book, new JointEstimator().Estimate(book)) with { Weather = here }).Care.FirstOrDefault(c => c.Chore == ChoreWords.Frost);
        }
        At1(3, -2, 5, 5)!.Night!.LowC.ShouldBe(-2);
        At1(18, -2, 5, 5).ShouldBeNull();
        At1(18, -2, -6, 5)!.ShouldSatisfyAllConditions(f => f.Night!.LowC.ShouldBe(-6), f => f.Asks(f.Due).ShouldBeTrue());
    }

    [Fact]
    public void Whatever_is_known_of_the_weather_a_day_comes_from_the_best_there_is()
    {
        var temperatures = Gen.Double[-30, 40];
        Gen.Select(Gen.Int[0, 20], Gen.Int[0, 30], temperatures, temperatures, Gen.Bool, Gen.Int[0, 200]).Sample((first, count, one, other, climate, hours) =>
        {
            var (low, high) = (Math.Min(one, other), Math.Max(one, other));
            var days = Enumerable.Range(first, count).Select(i => new WeatherDay(Day.PlusDays(i), low, high)).ToArray();
            ClimateMonth?[] months = climate ? [.. Enumerable.Repeat<ClimateMonth?>(new ClimateMonth(1, 2), 12)] : [];
            var book = Book(Duration.FromHours(hours), months, days);
            for (var i = 0; i < 60; i++)
            {
                var known = book.On("TIN MESA", Day.PlusDays(i));
                if (i >= first && i < first + count)
                {
                    known!.Source.ShouldBe(hours <= 24 ? WeatherSource.Forecast : WeatherSource.LastKnown);
                    (known.LowC, known.HighC).ShouldBe((low, high));
                }
                else if (climate) known!.Source.ShouldBe(WeatherSource.Climate);
                else known.ShouldBeNull();
            }
            var trip = new Itinerary("Loop", [Stop("Tin Mesa", 10, 40)]).With(book);
            if (trip.Stops[0].ExpectedHighC is { } hottest) hottest.ShouldBeGreaterThanOrEqualTo(trip.Stops[0].ExpectedLowC!.Value);
        }, iter: 200);
    }

    [Fact]
    public void The_live_rig_keeps_its_water_whatever_is_turned()
    {
        Gen.Select(Gen.Int[0, 1 << 8], Gen.Int[1, 400], Gen.Long[1, 1000]).Sample((knobs, minutes, seed) =>
        {
            var rig = DemoSeason.Rig;
            var live = new LiveRig(rig, new Dictionary<string, double> { ["black"] = 90, ["bath"] = 140, ["galley"] = 5 },
                DateTimeZoneProviders.Tzdb["America/Denver"], Instant.FromUtc(2026, 6, 9, 18, 0), seed)
            {
                Shower = (knobs & 1) > 0,
                Hose = (knobs & 2) > 0,
                Freezes = (knobs & 4) > 0,
                Hot = (knobs & 8) > 0,
                BatteryDrains = (knobs & 16) > 0,
                People = (knobs & 32) > 0 ? 5 : 0,
            };
            if ((knobs & 64) > 0) live.Open.Add("bath");
            if ((knobs & 128) > 0) live.Open.Add("black");
            var meter = live.MeterL;
            live.Run(Duration.FromMinutes(minutes));
            foreach (var tank in rig.Tanks)
            {
                live.LevelL(tank.Id).ShouldBeInRange(0, tank.CapacityL);
                if (live.Open.Contains(tank.Id) && minutes > 5) live.LevelL(tank.Id).ShouldBeLessThan(0.15 * tank.CapacityL);
                live.Percent(tank).ShouldBeInRange(0, 100);
                live.Lit(tank).Except(tank.Monitor.Probes.Select(p => p.Id)).ShouldBeEmpty();
            }
            (live.MeterL > meter).ShouldBe(live.Hose);
            if (live.People == 0 && !live.Shower && !live.Open.Contains("bath")) live.LevelL("bath").ShouldBe(140);
            live.BayC.ShouldBeInRange(-15, 50);
        }, iter: 150);
    }

    [Fact]
    public void Made_up_weather_is_weather()
    {
        for (var day = new LocalDate(2026, 1, 1); day.Year == 2026; day = day.PlusDays(1))
            foreach (var place in World.Places)
            {
                var (low, high) = MadeUpWeather.Of(place, day);
                low.ShouldBeLessThanOrEqualTo(high);
                WeatherFormat.Read(WeatherFormat.Write(new PlaceForecast(place, Now, [new WeatherDay(day, low, high)])), place, Now).Value.ShouldNotBeNull();
                MadeUpWeather.Of(place, day, hot: true).HighC.ShouldBeGreaterThan(29);
                MadeUpWeather.Of(place, day, freezes: true).HighC.ShouldBeLessThan(10);
            }
    }
}
