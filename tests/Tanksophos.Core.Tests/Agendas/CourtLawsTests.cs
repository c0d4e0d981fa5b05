using System.Collections.Concurrent;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Tests.Agendas;

/// <summary>
/// The laws over seasons of simulated crews, cut off anywhere, with something odd at the end and a trip ahead: read off the log and the answer, not off the
/// court's own reasoning.
/// </summary>
public class CourtLawsTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];

    private enum Odd { Nothing, Bleach, NothingCame, Trickle, Gas, Alarm, GrayOpen, BlackOpen, Dumped, Looked, HeapSeen, SniffFailed, BlackDue }

    private static readonly AgendaCode[] IntoATank = [AgendaCode.TopUp, AgendaCode.StarterWater, AgendaCode.Dose, AgendaCode.ScrubBeforeDrive];

    private sealed record Case(Odd Odd, string Tank, Situation Situation, Agenda Agenda)
    {
        public Instant Now => Agenda.AsOf!.Value.ToInstant();
    }

    /// <summary>A crew's season cut off somewhere, with something odd at its end and perhaps a trip ahead.</summary>
    internal static (Situation Situation, Agenda Agenda) MakeSituation(int seed) => Make(seed) is var made ? (made.Situation, made.Agenda) : default;

    private static Case Make(int seed)
    {
        var chance = new Random(seed);
        bool OneIn(double share) => chance.NextDouble() < share;
        T Any<T>(params T[] of) => of[chance.Next(of.Length)];
        var rig = Given.Rig(Any(MonitorKind.Probes, MonitorKind.Percent, MonitorKind.None), chance.Next(1, 5)) with
        {
            Equipment = new Equipment { FlushInlet = OneIn(0.6), WaterMeter = OneIn(0.4) },
            Rules = HouseRules.Default with
            {
                DumpBlackAt = Any(0.5, 0.66, 0.75),
                MaxDays = Any(5, 7, 10, 14),
                GrayAtFullHookup = Any(GrayAtFullHookup.Bank, GrayAtFullHookup.Batch, GrayAtFullHookup.Open),
                Treatment = Any(TreatmentSchool.Enzyme, TreatmentSchool.Deodorant, TreatmentSchool.BoraxSoap, TreatmentSchool.WaterOnly)
            },
        };
        if (OneIn(0.4)) rig = rig with
        {
            Tanks = [rig.Tanks[0], rig.Tanks[1] with { Id = "gray", Name = "Bath gray" },
            rig.Tanks[1] with { Id = "galley", Name = "Galley gray", CapacityL = 113.6 }]
        };
        var season = SimulatedSeason.Simulate(new Scenario(seed, 30, rig, [])).Logbook;
        var all = season.InOrder();
        var upTo = chance.Next(all.Count / 4, all.Count);
        var now = (all[upTo - 1].Instant + Duration.FromMinutes(Any(5, 60, 400))).InZone(Zone).ToOffsetDateTime();
        var entries = all.Take(upTo).ToList();
        OffsetDateTime Ago(int minutes) => (now.ToInstant() - Duration.FromMinutes(minutes)).InZone(Zone).ToOffsetDateTime();
        var (odd, tank) = (Any(Enum.GetValues<Odd>()), Any([.. rig.Tanks]).Id);
        // In the evening, with gray open until now.
        if (odd == Odd.BlackDue) now = (now.ToInstant().InZone(Zone).Date.PlusDays(1) + new LocalTime(20, 30)).InZoneLeniently(Zone).ToOffsetDateTime();
        if (odd == Odd.GrayOpen) tank = "gray";
        entries.AddRange(odd switch
        {
            Odd.Bleach => [new DoseEntry { At = Ago(2), Tank = tank, Recipe = DoseRecipe.ClassicBleach, Amount = "1 cup" }],
            Odd.NothingCame => [new DumpEntry { At = Ago(2), Tank = tank, Flow = DumpFlow.None }],
            Odd.Trickle => [new DumpEntry { At = Ago(2), Tank = tank, Flow = DumpFlow.Trickle }],
            Odd.Gas => [new OdorEntry { At = Ago(2), Where = OdorPlace.WholeRig, Smell = Smell.Gas, Strength = 4 }],
            Odd.Alarm => [new SymptomEntry { At = Ago(2), Code = SymptomCode.PropaneAlarm }],
            Odd.GrayOpen => [new StayEntry { At = Ago(3), Hookup = Hookup.Dry }, new ValveEntry { At = Ago(2), Tank = "gray", State = ValveState.Open }],
            Odd.BlackOpen => [new ValveEntry { At = Ago(2), Tank = "black", State = ValveState.Open }],
            Odd.Dumped => [new DumpEntry { At = Ago(2), Tank = tank, Flow = DumpFlow.Rush }],
            Odd.Looked => [new ReadingEntry { At = Ago(2), Tank = "black", Via = ReadingVia.Sight, Fraction = Any(0.05, 0.4, 0.7, 0.85, 0.97) }],
            Odd.HeapSeen => [new SymptomEntry { At = Ago(2), Tank = "black", Code = SymptomCode.HeapSeen }],
            Odd.BlackDue => [new StayEntry { At = Ago(30), Hookup = Hookup.Full }, .. rig.Tanks.Where(t => t.Role == TankRole.Gray)
                .Select(t => new ValveEntry { At = Ago(20), Tank = t.Id, State = ValveState.Open }),
                new ReadingEntry { At = Ago(2), Tank = "black", Via = ReadingVia.Sight, Fraction = Any(0.68, 0.74, 0.8) }],
            Odd.SniffFailed => [new CheckEntry { At = Ago(2), Tank = "black", Code = CheckCode.SniffTest, Result = CheckResult.Fail }],
            _ => (LogEntry[])[],
        });
        var book = new Logbook(rig, entries, now);
        var situation = Situation.Build(book, new JointEstimator().Estimate(book), OneIn(0.5) ? Trip() : null);
        return new Case(odd, tank, situation, Court.Decide(situation));

        Itinerary Trip()
        {
            var at = now.ToInstant() - Duration.FromHours(Any(2, 20, 60));
            var stops = new List<Stop>();
            for (var i = 0; i < 3; i++)
            {
                var hookup = i == 0 && odd == Odd.GrayOpen ? StopHookup.Dry : i == 0 && odd == Odd.BlackDue ? StopHookup.Full
                    : Any(StopHookup.Full, StopHookup.Partial, StopHookup.Dry, StopHookup.GrayDrain, StopHookup.DumpStation);
                if (i == 0 && hookup == StopHookup.DumpStation) hookup = StopHookup.Full;
                var until = at + (hookup == StopHookup.DumpStation ? Duration.FromHours(1) : Duration.FromHours(Any(30, 60, 90))) + (i == 0
                    ? now.ToInstant() - at : Duration.Zero);
                stops.Add(new Stop($"s{i}", $"Stop {i}", Zone, at.InZone(Zone).ToOffsetDateTime(), until.InZone(Zone).ToOffsetDateTime(), hookup,
                    rig.People)
                { DriveHoursBefore = 1, Busy = OneIn(0.5), RinseWater = RinseWater.Unthreaded });
                at = until + Duration.FromHours(2);
            }
            return new Itinerary("Trip", stops);
        }
    }

    private static readonly Lazy<IReadOnlyList<Case>> Cases = new(() =>
    {
        var made = new ConcurrentBag<Case>();
        Parallel.For(0, 160, i => made.Add(Make(i)));
        return [.. made];
    });

    private static IEnumerable<Case> With(params Odd[] odd) => Cases.Value.Where(c => odd.Contains(c.Odd));

    // What may be said while no gas is about.
    private static IEnumerable<Case> Plain => Cases.Value.Where(c => c.Odd is not (Odd.Gas or Odd.Alarm));

    [Fact]
    public void Items_stand_by_level_and_hour_each_with_a_reason()
    {
        foreach (var c in Cases.Value)
        {
            c.Agenda.Items.Zip(c.Agenda.Items.Skip(1))
                .ShouldAllBe(p => p.First.Level < p.Second.Level || p.First.Level == p.Second.Level
                && (p.First.At ?? Instant.MaxValue) <= (p.Second.At ?? Instant.MaxValue));
            c.Agenda.Items.ShouldAllBe(i => i.Because.Count > 0);
            c.Agenda.Items.Where(i => i.Level == AgendaLevel.Now && i.At != null).ShouldAllBe(i => i.At <= c.Now + Duration.FromMinutes(30));
        }
    }

    [Fact]
    public void First_while_gas_is_about_everyone_goes_out_and_all_else_waits() =>
        With(Odd.Gas, Odd.Alarm).ShouldAllBe(c => c.Agenda.Items.Count == 1 && c.Agenda.Items[0].Code == AgendaCode.Evacuate
            && c.Agenda.Items[0].Level == AgendaLevel.Safety);

    [Fact]
    public void Second_into_a_tank_with_bleach_goes_nothing_but_rinse_water()
    {
        foreach (var c in With(Odd.Bleach))
        {
            c.Agenda.Items[0].Code.ShouldBe(AgendaCode.Ventilate);
            c.Agenda.Items.ShouldNotContain(i => i.Tanks.Contains(c.Tank) && IntoATank.Contains(i.Code));
        }
    }

    [Fact]
    public void Third_a_tank_that_lets_nothing_out_is_not_used_not_dumped_and_not_filled()
    {
        foreach (var c in With(Odd.NothingCame, Odd.Trickle))
        {
            c.Agenda.Items.ShouldContain(i => i.Code == AgendaCode.StopUsing && i.Tanks.Contains(c.Tank) && i.Level == AgendaLevel.Now);
            c.Agenda.Items.ShouldNotContain(i => i.Tanks.Contains(c.Tank)
                && (IntoATank.Contains(i.Code) || i.Code == AgendaCode.DumpRun || i.Code == AgendaCode.Rinse));
            c.Agenda.Items.ShouldContain(i => i.Code == AgendaCode.Remedy && i.Tanks.Contains(c.Tank) && (i.For == "heap" || i.For == "outlet-clog"));
        }
    }

    [Fact]
    public void Fourth_valves_are_closed_where_they_do_harm()
    {
        foreach (var c in With(Odd.BlackOpen))
            c.Agenda.Items.ShouldContain(i => i.Code == AgendaCode.CloseValve && i.Tanks.Contains("black") && i.Level == AgendaLevel.Now);
        foreach (var c in With(Odd.GrayOpen))
            c.Agenda.Items.ShouldContain(i => i.Code == AgendaCode.CloseValve && i.Tanks.Contains("gray") && i.Level == AgendaLevel.Now);
        // No black leaves while a gray is open.
        foreach (var c in Plain)
            if (c.Agenda.Items.FirstOrDefault(i => i.Code == AgendaCode.DumpRun && i.Tanks.Contains("black")) is { } run)
                foreach (var open in c.Situation.Belief.Tanks.Where(t => t.ValveOpen))
                    c.Agenda.Items.ShouldContain(i => i.Code == AgendaCode.CloseValve && i.Tanks.Contains(open.Tank.Id) && i.At <= run.At);
    }

    [Fact]
    public void Fifth_no_dose_within_two_days_before_its_tank_is_dumped()
    {
        foreach (var c in Plain)
            foreach (var dose in c.Agenda.Items.Where(i => i.Code == AgendaCode.Dose))
                c.Agenda.Items.ShouldNotContain(r => r.Code == AgendaCode.DumpRun && r.Tanks.Contains(dose.Tanks[0]) && r.At >= dose.At
                    && r.At - dose.At < Duration.FromHours(48));
    }

    [Fact]
    public void Sixth_no_tank_has_two_runs_within_three_hours_and_black_stands_first()
    {
        foreach (var c in Plain)
        {
            var runs = c.Agenda.Items.Where(i => i.Code == AgendaCode.DumpRun).OrderBy(i => i.At).ToList();
            runs.Zip(runs.Skip(1)).ShouldAllBe(p => p.Second.At - p.First.At > Duration.FromHours(3));
            runs.ShouldAllBe(r => r.Tanks.Distinct().Count() == r.Tanks.Count && (!r.Tanks.Contains("black") || r.Tanks[0] == "black"));
        }
    }

    [Fact]
    public void Seventh_a_run_that_waits_for_gray_is_one_that_black_surely_lasts_to()
    {
        var waiting = 0;
        foreach (var c in Plain)
            foreach (var run in c.Agenda.Items.Where(i => i.Code == AgendaCode.DumpRun && i.Because.Contains(Because.GrayForRinse)))
            {
                waiting++;
                c.Situation.Belief["black"].Forecast.At(run.At!.Value).P95L.ShouldBeLessThan(Given.BlackL);
                run.At!.Value.InZone(Zone).Hour.ShouldBeInRange(7, 11);
            }
        waiting.ShouldBeGreaterThan(0);
    }

    [Fact]
    public void Eighth_low_black_is_not_dumped_where_people_wait_while_a_sewer_comes_in_time()
    {
        foreach (var c in Plain.Where(c => c.Situation.Trip is not null))
            foreach (var run in c.Agenda.Items.Where(i => i.Code == AgendaCode.DumpRun && i.Tanks.Contains("black")
                && i.Planned?.Stop is { Hookup: StopHookup.DumpStation } && i.Fraction < 0.25))
            {
                var sewer = c.Situation.Trip!.Stops.FirstOrDefault(s => s.Hookup == StopHookup.Full && s.Arrive.ToInstant() > run.At);
                if (sewer is not null) c.Situation.Belief["black"].Forecast.At(sewer.Arrive.ToInstant()).P95L.ShouldBeGreaterThanOrEqualTo(Given.BlackL,
                    "else it had waited for the sewer");
            }
    }

    [Fact]
    public void Tenth_what_was_answered_just_now_is_not_asked()
    {
        foreach (var c in With(Odd.SniffFailed))
            c.Agenda.Items.ShouldNotContain(i => i.Code == AgendaCode.Check && i.Check == "sniff-test" && i.Tanks.Contains("black"));
        foreach (var c in With(Odd.Looked))
            c.Agenda.Items.ShouldNotContain(i => (i.Code == AgendaCode.LookInside || i.Check == "flashlight") && i.Tanks.Contains("black"));
        foreach (var c in With(Odd.Dumped))
            c.Agenda.Items.ShouldNotContain(i => i.Code == AgendaCode.DumpRun && i.Tanks.Contains(c.Tank) && i.Level == AgendaLevel.Now,
            "it was dumped two minutes ago");
    }

    [Fact]
    public void Ninth_every_amount_of_water_surely_fits()
    {
        foreach (var c in Plain)
            foreach (var item in c.Agenda.Items.Where(i => i.WaterL is not null && i.Code != AgendaCode.Rinse
                && (i.At is null || i.At <= c.Now + Duration.FromHours(1))))
                (c.Situation.Belief[item.Tanks[0]].Level.P95L + item.WaterL!.Value)
                    .ShouldBeLessThan(0.9 * c.Situation.Belief[item.Tanks[0]].Tank.CapacityL + 1e-6, $"{item.Code} of {c.Odd}");
    }

    [Fact]
    public void Nothing_is_held_and_proposed_at_once()
    {
        foreach (var c in Plain)
            foreach (var held in c.Agenda.Held.Where(h => h.Tank is not null && h.Item.At is not null))
                c.Agenda.Items.ShouldNotContain(i => i.Code == held.Code && i.Tanks.Contains(held.Tank!) && i.At == held.Item.At
                    && i.Recipe == held.Item.Recipe && i.Action == held.Item.Action);
    }

    [Fact]
    public void The_cases_are_of_every_kind() => Enum.GetValues<Odd>().ShouldAllBe(o => Cases.Value.Count(c => c.Odd == o) >= 3);
}
