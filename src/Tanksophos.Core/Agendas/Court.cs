using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Agendas;

/// <summary>
/// Decides what to do: hears all judges and makes of what they say one ordered list, and one of what is held back. Whatever tells people what to do asks here.
/// The laws that it keeps, in the order in which they outrank each other, are in docs/decisions/0014-one-court.md.
/// </summary>
public sealed partial class Court
{
    /// <summary>A smell of gas of this strength and more is taken like an alarm.</summary>
    public const int StrongGas = 3;

    /// <summary>Below this share of a tank black is not dumped where people wait while a sewer is ahead.</summary>
    public const double LowBlack = 0.25;

    // A run that begins within this time of another is the same run.
    private static readonly Duration SameRun = LastRunTemplate.RunLasts;
    private static readonly Duration LeavesWithin = Duration.FromHours(12), BeforeLeaving = Duration.FromMinutes(30), BeforeRun = Duration.FromMinutes(10),
        NowIs = Duration.FromMinutes(30), TodayIs = Duration.FromHours(24), SoonIs = Duration.FromDays(4);

    // A gray that was closed this long ago has been given its chance to fill.
    private static readonly Duration Waited = Duration.FromHours(10);
    private static readonly LocalTime MorningRun = new(8, 45), NightEnds = new(4, 0);

    private readonly Situation s;
    private readonly Rig rig;
    private readonly HouseRules rules;
    private readonly Circumstances force;
    private readonly IReadOnlyList<LogEntry> entries;
    private readonly Instant now;
    private readonly DateTimeZone zone;
    private readonly List<AgendaItem> items = [];
    private readonly List<AgendaHeld> held = [];
    private readonly Dictionary<string, BleachInTank> bleached = new(StringComparer.Ordinal);
    private readonly Dictionary<string, (string Because, CauseCourse Course)> clogged = new(StringComparer.Ordinal);
    private readonly List<Run> runs = [];

    private sealed record Run(Instant At, List<string> Tanks, RunForm Form, IReadOnlyList<string> Because, bool Sewer)
    {
        public NextStep? Step { get; init; }
        public PlanRun? Planned { get; init; }
    }

    private Court(Situation situation)
    {
        s = situation;
        rig = s.Logbook.Rig;
        rules = rig.RulesInForce;
        force = s.Belief.InForce;
        entries = s.Logbook.InOrder();
        now = s.Belief.AsOf?.ToInstant() ?? NodaConstants.UnixEpoch;
        zone = force.Zone;
    }

    /// <summary>Decides.</summary>
    /// <param name="situation">All there is to hear.</param>
    public static Agenda Decide(Situation situation)
    {
        ArgumentNullException.ThrowIfNull(situation);
        return new Court(situation).Decide();
    }

    /// <summary>When the gas was noticed that nobody has ruled out since; null if none was.</summary>
    /// <param name="inForce">What is in force.</param>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="now">The present moment.</param>
    public static (Instant Since, string Because)? Gas(Circumstances inForce, IReadOnlyList<LogEntry> entries, Instant now)
    {
        ArgumentNullException.ThrowIfNull(inForce);
        ArgumentNullException.ThrowIfNull(entries);
        if (inForce.PropaneAlarm is { } alarm) return (alarm, Because.PropaneAlarm);
        var cleared = entries.Kind<CheckEntry>()
            .LastOrDefault(c => c is { Code: CheckCode.PropaneRuledOut, Result: CheckResult.Pass } && c.Instant <= now)?.Instant ?? Instant.MinValue;
        // Without a word of its strength it is taken for strong.
        return entries.Kind<OdorEntry>()
            .LastOrDefault(o => o.Smell == Smell.Gas && (o.Strength ?? StrongGas) >= StrongGas && o.Instant > cleared && o.Instant <= now) is { } smell
            ? (smell.Instant, Because.GasSmell) : null;
    }

    private Agenda Decide()
    {
        if (s.Belief.AsOf is null)
        {
            Add(AgendaCode.LogPlace, AgendaLevel.Now, [], Because.NoPlace);
            foreach (var tank in rig.Tanks) Add(AgendaCode.LookInside, AgendaLevel.Today, [tank.Id], Because.WideRange);
            return new Agenda(null, Ordered(), []);
        }
        foreach (var tank in s.Belief.Tanks)
        {
            if (BleachInTank.Find(rig, entries, tank.Tank.Id, now, force.People) is { } bleach) bleached[tank.Tank.Id] = bleach;
            if (Clogged(tank) is { } clog) clogged[tank.Tank.Id] = clog;
        }
        Record();
        Runs();
        Bleach();
        Valves();
        Clogs();
        EmitRuns();
        Overflow();
        AfterRuns();
        Remedies();
        Checks();
        Chores();
        Hold();
        if (Gas(s.Belief.InForce, entries, now) is { } gas)
        {
            foreach (var item in Ordered()) HoldItem(item, gas.Because);
            items.Clear();
            Add(AgendaCode.Evacuate, AgendaLevel.Safety, [], [gas.Because], i => i with { At = gas.Since });
        }
        return new Agenda(s.Belief.AsOf, Ordered(),
            [.. held.DistinctBy(h => (h.Code, h.Tank, h.Because, h.Item.Action, h.Item.Check, h.Item.Chore, h.Item.Recipe))])
        {
            Blocked =
            clogged.ToDictionary(c => c.Key, c => c.Value.Because),
            Answered = answered
        };
    }

    private List<AgendaItem> Ordered() => [.. items.OrderBy(i => i.Level).ThenBy(i => i.At ?? Instant.MaxValue).ThenBy(i => i.Code)];

    private TankBelief Of(string tank) => s.Belief[tank];

    private bool IsBlack(string tank) => Of(tank).Tank.Role == TankRole.Black;

    /// <summary>The capacity that everything is counted with.</summary>
    private static double UsedL(Tank tank) => tank.CapacityL;

    /// <summary>Litres that surely fit now: nine tenths of the tank less the cautious side of the level.</summary>
    private static double RoomL(TankBelief tank) => Math.Max(0, Guard.FillTo * UsedL(tank.Tank) - Math.Max(tank.Level.P95L, tank.Level.P50L) - 0.05);

    private bool SewerHere => force.Hookup == Hookup.Full;

    private bool GrayDrainsHere => force.Hookup is Hookup.Full or Hookup.GrayDrain;

    private AgendaLevel LevelOf(Instant at) => at <= now + NowIs ? AgendaLevel.Now : at < now + TodayIs ? AgendaLevel.Today : at <= now + SoonIs
        ? AgendaLevel.Soon : AgendaLevel.Later;

    private void Add(AgendaCode code, AgendaLevel level, IReadOnlyList<string> tanks, string because, Func<AgendaItem, AgendaItem>? more = null) =>
        Add(code, level, tanks, [because], more);

    private void Add(AgendaCode code, AgendaLevel level, IReadOnlyList<string> tanks, IReadOnlyList<string> because, Func<AgendaItem, AgendaItem>? more = null)
    {
        var item = new AgendaItem(code, level, tanks, because);
        items.Add(more is null ? item : more(item));
    }

    private void HoldItem(AgendaItem item, string because)
    {
        if (item.Tanks.Count == 0) held.Add(new AgendaHeld(item.Code, null, because, item));
        foreach (var tank in item.Tanks) held.Add(new AgendaHeld(item.Code, tank, because, item));
    }

    // What the log is short of.
    private void Record()
    {
        foreach (var step in s.Advice.Steps)
        {
            if (step.Code == StepCode.CatchUp) Add(AgendaCode.CatchUp, AgendaLevel.Now, [], Because.Silence, i => i with { At = now, Step = step });
            else if (step.Code == StepCode.LookInside && !Answers.Stands(entries, Codes<NextCheckCode>.Word(NextCheckCode.Flashlight), step.Tank, now))
                Add(AgendaCode.LookInside, AgendaLevel.Today, [step.Tank!], Because.WideRange, i => i with { Step = step });
        }
        if (PresentStop is { } stop && stop.Hookup != StopHookup.DumpStation && (force.StaySince is null || HookupOf(stop) != force.Hookup))
            Add(AgendaCode.LogPlace, AgendaLevel.Now, [], [Because.TripDisagrees], i => i with { At = now });
        else if (force.StaySince is null)
            Add(AgendaCode.LogPlace, AgendaLevel.Today, [], Because.NoPlace,
                i => i with { Step = s.Advice.Steps.FirstOrDefault(x => x.Code == StepCode.SayWhere) });
        var doubts = LogDoubts.Of(s.Logbook, s.Belief);
        // The latest is asked here, while people remember; all of them stand on the page that mends the log.
        if (doubts.LastOrDefault(d => d.Misfit.Kind is InconsistencyKind.UnloggedEmptying or InconsistencyKind.UnloggedPeople
            && now - d.Misfit.At.ToInstant() <= Asks) is { } latest)
        {
            var run = LogDoubts.SameRun(doubts, latest);
            // Once the tank was dumped after it, the answer changes no level any more.
            var since = entries.Between(latest.Misfit.At.ToInstant(), now + Duration.Epsilon)
                .Any(e => e.Tank == latest.Tank.Id && e is DumpEntry { Emptied: true } or FlushEntry);
            Add(AgendaCode.ConfirmEntry, since ? AgendaLevel.Later : AgendaLevel.Today, [.. run.Select(d => d.Tank.Id)],
                latest.Misfit.Kind == InconsistencyKind.UnloggedPeople ? Because.UnloggedPeople : Because.Unlogged,
                i => i with { At = now, Entry = latest.Suggest[0], Doubts = run });
        }
    }

    private static readonly Duration Asks = Duration.FromDays(14);

    private Stop? PresentStop => s.Stops.FirstOrDefault(x => x.Arrive.ToInstant() <= now && now < x.Depart.ToInstant());

    // When the rig leaves where it is, by the trip; null if it does not say.
    private Instant? Leaves => PresentStop is { } stop ? stop.Depart.ToInstant()
        : s.Stops.FirstOrDefault(x => x.Arrive.ToInstant() > now) is { } next
        && next.Arrive.ToInstant() - Duration.FromHours(next.DriveHoursBefore) is var leaves && leaves > now ? leaves : null;

    private static Hookup HookupOf(Stop stop) => stop.Hookup switch
    {
        StopHookup.Full => Hookup.Full,
        StopHookup.Partial => Hookup.Partial,
        StopHookup.GrayDrain => Hookup.GrayDrain,
        StopHookup.Storage => Hookup.Storage,
        StopHookup.Dry or StopHookup.DumpStation => Hookup.Dry,
    };

    // Law 3: a tank that does not let go of what is in it.
    private (string Because, CauseCourse Course)? Clogged(TankBelief tank)
    {
        string? because = null;
        var id = tank.Tank.Id;
        var conditions = s.Faults.Tanks.FirstOrDefault(t => t.Tank.Id == id);
        var deeds = entries.Deeds(id);
        for (var i = deeds.Count - 1; i >= 0 && because is null; i--)
        {
            if (deeds[i].Instant > now) continue;
            if (deeds[i] is DumpEntry { Emptied: false } bad) because = bad.Flow == DumpFlow.None ? Because.NothingCame : Because.Trickle;
            else if (deeds[i] is SymptomEntry { Code: SymptomCode.NothingComesOut }) because = Because.NothingCame;
            else if (deeds[i] is DumpEntry or FlushEntry or ServiceEntry { Code: ServiceCode.PressureJet }) break;
        }
        if (conditions is null) return null;
        var (heap, clog) = (conditions.Conditions.First(c => c.Code == Condition.Heap), conditions.Conditions.First(c => c.Code == Condition.OutletClog));
        if (because is null && clog.Probability > Conditions.Likely) because = Because.Clog;
        if (because is null && heap.Probability > Conditions.Likely) because = Because.Heap;
        if (because is null) return null;
        var worse = heap.Probability > clog.Probability ? heap : clog;
        return (because, s.Faults.Courses.FirstOrDefault(c => c.Tank == id && c.Condition == worse.Code)
            ?? CauseLadder.Build(rig, tank.Tank, worse, entries, now));
    }

    private void Clogs()
    {
        foreach (var (id, (because, course)) in clogged)
        {
            Add(AgendaCode.StopUsing, AgendaLevel.Now, [id], because, i => i with { At = now });
            var (rung, water) = Climb(Of(id), course, products: !bleached.ContainsKey(id));
            Add(AgendaCode.Remedy, AgendaLevel.Now, [id], because,
                i => i with
                {
                    At = now,
                    Action = Codes<RemedyAction>.Word(rung.Action),
                    For = Codes<Condition>.Word(course.Condition!.Value),
                    WaterL = water > 0 ? water : null
                });
        }
    }

    // The first rung not yet tried that fits the room there surely is; with no room, one that puts no water in.
    private static (Rung Rung, double WaterL) Climb(TankBelief tank, CauseCourse course, bool products)
    {
        var used = UsedL(tank.Tank);
        double Need(RemedyAction action) => action switch
        {
            // To two thirds or three quarters and no further: it cannot be let out quickly.
            RemedyAction.SoapSoak => Math.Floor(Guard.FillToIfSuspect * used - tank.Level.P95L) is >= MinSoakL and var soak ? soak : double.PositiveInfinity,
            RemedyAction.HoseJet or RemedyAction.ClogTube => LittleWaterL,
            RemedyAction.Reverse => 1.5 * LittleWaterL,
            RemedyAction.IceScrub => 0.5 * used,
            // It has to cover the heap; where there is liquid enough it goes in alone.
            RemedyAction.PaperDigester => tank.Level.P50L >= 0.25 * used ? 0 : Recipes.Find(DoseRecipe.PaperDigester)!.WaterL(used),
            _ => 0,
        };
        bool Product(RemedyAction action) => action is RemedyAction.SoapSoak or RemedyAction.PaperDigester or RemedyAction.IceScrub;
        bool Fits(Rung r) => !r.Failed && (products || !Product(r.Action)) && Need(r.Action) is var need
            && (need == 0 || tank.Level.P95L + need < Guard.FillTo * used);
        var rungs = course.Rungs.Where(r => r.Number > 0).ToList();
        var fit = rungs.FirstOrDefault(r => r.Number >= course.Next.Number && Fits(r))
            ?? rungs.LastOrDefault(r => Need(r.Action) == 0 && (products || !Product(r.Action))) ?? rungs[^1];
        return (fit, Need(fit.Action) is var litres && double.IsFinite(litres) && tank.Level.P95L + litres < Guard.FillTo * used ? Math.Round(litres, 1) : 0);
    }

    // What a jet or a tube takes before somebody looks again; less than the other is no soak.
    private const double LittleWaterL = 2 * UsMeasures.GallonL, MinSoakL = 2 * UsMeasures.GallonL;

    // Law 2: bleach.
    private void Bleach()
    {
        foreach (var (id, bleach) in bleached)
        {
            if (bleach.Met)
            {
                Add(AgendaCode.Ventilate, AgendaLevel.Safety, [id], Because.Bleach, i => i with { At = bleach.Since });
                Add(AgendaCode.StopUsing, AgendaLevel.Safety, [id], Because.Bleach, i => i with { At = now });
            }
            if (clogged.ContainsKey(id)) continue;
            var tank = Of(id);
            var rinseAt = now;
            if (!bleach.Dumped)
            {
                if (IsBlack(id) ? SewerHere : GrayDrainsHere)
                {
                    // Once the air is clear, by day.
                    rinseAt = SensibleHours.NotBefore(bleach.Met ? now + Duration.FromHours(1) : now, zone);
                    runs.RemoveAll(r => r.Tanks.Contains(id) && r.Planned is null);
                    runs.Insert(0, new Run(rinseAt, WithGrays(id), FormOf(WithGrays(id)), [Because.Bleach], IsBlack(id)));
                }
                else
                {
                    Add(AgendaCode.FindDrain, AgendaLevel.Now, [id], Because.Bleach, i => i with { At = now });
                    continue;
                }
            }
            var fill = Math.Min(RoomL(tank), UsedL(tank.Tank) / 3);
            Add(AgendaCode.Rinse, LevelOf(rinseAt), [id], Because.Bleach,
                i => i with
                {
                    At = rinseAt + (bleach.Dumped ? Duration.Zero : Duration.FromMinutes(10)),
                    WaterL = fill >= UsMeasures.GallonL
                ? Math.Floor(fill) : null
                });
        }
    }

    private List<string> WithGrays(string tank) => !IsBlack(tank) || rules.GrayAtFullHookup == GrayAtFullHookup.Open ? [tank]
        : [tank, .. rig.Tanks.Where(t => t.Role == TankRole.Gray && !clogged.ContainsKey(t.Id)).Select(t => t.Id)];

    private RunForm FormOf(IReadOnlyList<string> tanks, bool station = false) => !tanks.Any(IsBlack) ? RunForm.GrayOnly : station ? RunForm.Quick
        : tanks.All(IsBlack) && rig.Tanks.Any(t => t.Role == TankRole.Gray) ? RunForm.BlackOnly : RunForm.Full;
}
