using System.Globalization;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;

namespace Tanksophos.Words;

/// <summary>Says a plan in a person's units.</summary>
public sealed class PlanWords(Rig rig, Units units, TimeStyle? style = null)
{
    /// <summary>What a run is, in a few words.</summary>
    public string Title(PlanRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var dumps = run.Actions.Where(a => a.Kind == PlanActionKind.Dump).ToList();
        if (dumps.Count == 0)
        {
            var first = run.Actions[0];
            var tanks = EntryWords.And([.. run.Actions.Select(a => Name(a.Tank)).Where(n => n.Length > 0).Distinct()]);
            return first.Kind switch
            {
                PlanActionKind.CloseValve => $"Close {tanks}",
                PlanActionKind.OpenValve => $"Open {tanks}",
                _ => Line(first),
            };
        }
        var black = dumps.Where(a => rig.Find(a.Tank)?.Role == TankRole.Black).ToList();
        var gray = dumps.Except(black).Select(a => Name(a.Tank)).ToList();
        if (black.Count == 0) return $"Dump {EntryWords.And(gray)}";
        var top = run.Actions.FirstOrDefault(a => a.Kind == PlanActionKind.TopUp);
        var share = black[0].ExpectedL is { } litres && rig.Find(black[0].Tank) is { } tank ? $" at {StepWords.Percent(litres / tank.CapacityL)}" : "";
        var topUp = top is null ? "" : $"top up {units.Volume(top.WaterL ?? 0)}, ";
        return $"Dump run: {topUp}{EntryWords.And([.. black.Select(a => Name(a.Tank))])}{share}{(gray.Count > 0 ? ", then gray" : "")}";
    }

    /// <summary>One action in a line.</summary>
    public string Line(PlanAction a)
    {
        ArgumentNullException.ThrowIfNull(a);
        var tank = rig.Find(a.Tank);
        var water = a.WaterL is { } w ? units.Volume(w) : "";
        return a.Kind switch
        {
            PlanActionKind.Dump when a.ExpectedL is { } l && tank is not null =>
                $"Dump {Name(a.Tank)}: about {units.Volume(l)}, {StepWords.Percent(l / tank.CapacityL)}",
            PlanActionKind.Dump => $"Dump {Name(a.Tank)}",
            PlanActionKind.Flush => $"Flush {Name(a.Tank)}: {(a.Method is { } m ? Method(m) : "rinse")}, "
                + $"{(a.Cycles == 1 ? "1 rinse" : $"{a.Cycles} rinses")}, {water}",
            PlanActionKind.CloseValve => $"Close the {Name(a.Tank)} valve",
            PlanActionKind.OpenValve => $"Open the {Name(a.Tank)} valve",
            PlanActionKind.TopUp => $"Top up {Name(a.Tank)} with {water}",
            PlanActionKind.StarterWater => $"Starter water into {Name(a.Tank)}: {water}",
            PlanActionKind.Dose when a.Recipe == DoseRecipe.GraySoap => $"{TimeWords.Capital(Amount(a))} of dish soap into {Name(a.Tank)}, with {water}",
            PlanActionKind.Dose => $"Dose {Name(a.Tank)}: {Amount(a)} of "
                + $"{Shelf.For(rig, rig.RulesInForce.Treatment)?.Name ?? EntryWords.Spaced(a.Recipe!.Value)}",
            PlanActionKind.ScrubBeforeDrive => $"Travel scrub into {Name(a.Tank)}: {Amount(a)} with {water} of warm water",
            PlanActionKind.FillJug => $"Fill the jug: {water}",
            PlanActionKind.Divert => Dishwater(a.ShareToBlack, units),
            PlanActionKind.CutUse => "Use less water",
            PlanActionKind.TopUpTraps => "Add water to unused drains",
        };
    }

    /// <summary>Why an action is planned, in a sentence or two; empty if it is not known.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A reason without words; a test goes through all reasons.</exception>
    public static string Why(PlanAction action)
    {
        ArgumentNullException.ThrowIfNull(action);
        var text = action.Why switch
        {
            null => "",
            PlanWhy.GrayFillsFirst => "Gray fills first here. Catch dishwater and warm-up water in a basin and pour it down the toilet.",
            PlanWhy.StaysClosed => "Your rule: gray stays closed and is dumped at about two thirds.",
            PlanWhy.MayNotDrain => "Gray may not drain here.",
            PlanWhy.NearTwoThirds => "Near two thirds, and there is a sewer.",
            PlanWhy.WontLastToDrain => "It won't last to the next drain. Black waits for a better place.",
            PlanWhy.ForTheRinse => "Saves gray water to rinse the hose and keeps black from backing up into gray.",
            PlanWhy.RunDone => "The run is done. Gray drains again.",
            PlanWhy.BeforeLeaving => "Before you unhook and drive.",
            PlanWhy.MayDrain => "Gray can drain here.",
            PlanWhy.TooManyDumps => "Kept closed, it would need more than two dumps a day here.",
            PlanWhy.LeftOpen => "Your rule: gray stays open. A squirt of soap now and then keeps it from growing a scum.",
            PlanWhy.UntilRinse => "Gray drains here until you need it for the rinse.",
            PlanWhy.JugRinses => "No hose fits at the next sewer. The jug does the rinse there.",
            PlanWhy.BelowRush => "Too low to leave in a rush. More water carries the solids out. Stay at the water.",
            PlanWhy.OwnSewer => "You have a sewer and time to rinse.",
            PlanWhy.WontLastToSewer => "It won't last to your next sewer hookup.",
            PlanWhy.LastSewer => "Later would be too full: this is the last sewer before.",
            PlanWhy.OthersWait => "Short, because others wait. The long rinse comes at your next sewer hookup.",
            PlanWhy.LongFlushLater => "Short. The long rinse comes at your next sewer hookup.",
            PlanWhy.WhileStaying => "You stay here. What counts is the last trickle.",
            PlanWhy.LastOfTrip => "The last of the trip: until the last trickle is clear with no debris.",
            PlanWhy.UntilClear => "Until the last trickle is clear.",
            PlanWhy.RinsesHose => "After black, to rinse the hose.",
            PlanWhy.AfterEachDump => "After each dump, by your rule. Follow the label.",
            PlanWhy.FrostInStorage =>
                "Frost is likely in storage. Have the tank emptied and protected with RV antifreeze by the maker's manual before it freezes.",
            PlanWhy.StoredFull => "For the drive. At the storage place fill the tank with fresh water and watch it: your rule keeps it full so that seals "
                + "stay wet.",
            PlanWhy.StoredDry => "For the drive and the dose. Your rule stores dry: drain once more at the last sewer before storage.",
            PlanWhy.StoredTreated => "A little treated water keeps residue from drying in storage.",
            PlanWhy.DryDaysAhead => "Half again as much, because days without water follow. Later flushes can use less.",
            PlanWhy.CoversBottom => "Covers the bottom, so waste can't dry on it.",
            PlanWhy.SensorCourse => "The next scrub for the sensors. The drive to the dump does the scrubbing.",
            PlanWhy.SchoolOfTheRoad => "Your rule: borax and soap before a drive, not after each dump.",
            PlanWhy.Monthly => "Once a month by your rule. The drive to the dump does the scrubbing.",
            PlanWhy.OncePerTrip => "Once a trip by your rule. The drive to the last dump does the scrubbing.",
            PlanWhy.DoseWornOff => "A dose works for about a week, and this fill goes on.",
            PlanWhy.WorksOnTheRoad => "Just emptied: the drive does the washing. Pour it down a drain that drains to this tank.",
            PlanWhy.UnusedTraps => "A cup of water into each unused drain. A dry trap lets tank odor in.",
            _ => throw new ArgumentOutOfRangeException(nameof(action), action.Why, null),
        };
        if (action.Kind == PlanActionKind.ScrubBeforeDrive && text.Length > 0)
            text += " Dissolve all the borax in hot water first. Keep it from kids and pets.";
        if (action.NotForSepticAt is { } place)
            text += $" Not this product: {place}, where it is dumped next, is on a septic system, and formaldehyde harms it.";
        return action.Doubled ? text + " Double dose: over 85 F." : text;
    }

    /// <summary>The usual caution at an action; null where none is needed.</summary>
    public static string? Caution(PlanRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        if (run.Actions.Any(a => a.Kind == PlanActionKind.TopUp))
            return "Gloves and eye protection on. Stay at the water while a closed tank fills: overfilling sends sewage out the roof vent or toilet.";
        if (run.Dumps) return "Gloves and eye protection on, kids and pets away. Connect both hose ends before you open a valve. Never leave a closed tank "
            + "while it fills.";
        if (run.Actions.Any(a => a.Kind == PlanActionKind.ScrubBeforeDrive))
            return "Read the labels. Poisonous gas: never with bleach or other cleaners.";
        if (run.Actions.Any(a => a.Kind == PlanActionKind.Dose)) return "The label overrides this amount. One product at a time, never with bleach.";
        return run.Actions.Any(a => a.Kind == PlanActionKind.OpenValve) ? "Connect both hose ends first."
            : run.Actions.Any(a => a.Kind == PlanActionKind.FillJug) ? "A jug for the toilet never holds drinking water." : null;
    }

    /// <summary>What would mend a risk, in a line.</summary>
    /// <param name="mend">What would.</param>
    /// <param name="stop">Its stop.</param>
    public string Mend(PlanMend mend, Stop stop)
    {
        ArgumentNullException.ThrowIfNull(mend);
        ArgumentNullException.ThrowIfNull(stop);
        string When(OffsetDateTime at) => (style ?? TimeStyle.Us).WeekDay(at.ToInstant().InZone(stop.Zone).Date);
        return mend.Advice switch
        {
            PlanAdvice.DivertToBlack => Dishwater(mend.ShareToBlack, units),
            PlanAdvice.CutUse => $"Use {StepWords.Percent(1 - mend.ToFraction)} less water",
            PlanAdvice.DumpEarlier => $"Dump once more at {stop.Name}{(mend.At is { } at ? $", {When(at)}" : "")}, below the rush level",
            PlanAdvice.LeaveEarlier => $"Leave {stop.Name} a day earlier",
            PlanAdvice.ShortenStay => $"Shorten {stop.Name} by {mend.Days} days",
            PlanAdvice.AddStation => $"Drive to a dump station near {stop.Name}{(mend.At is { } on ? $" on {When(on)}" : "")}",
            PlanAdvice.SkipFlush => "Skip a flush",
        };
    }

    /// <summary>That the fresh water ends before a stay does, and what helps.</summary>
    public static string FreshFirst(DryStay stay, string place)
    {
        ArgumentNullException.ThrowIfNull(stay);
        string Days(double days) => days.ToString("0.#", CultureInfo.InvariantCulture);
        return $"Fresh water runs out first at {place}: it lasts about {Days(stay.FreshDays ?? 0)} of {Days(stay.Stay)} days, flushing included. "
            + "Bring more, refill on the way, or use less.";
    }

    /// <summary>What a look on the way decides.</summary>
    /// <param name="look">The look.</param>
    /// <param name="stop">Where it is taken.</param>
    public string Look(PlanLook look, Stop stop)
    {
        ArgumentNullException.ThrowIfNull(look);
        ArgumentNullException.ThrowIfNull(stop);
        var time = style ?? TimeStyle.Us;
        string At(OffsetDateTime at) => time.Moment(at.ToInstant(), stop.Zone);
        if (look.Fork == LookFork.LeaveOut)
        {
            var limits = look.Limits.GroupBy(l => l.Value).Select(g => $"{EntryWords.And([.. g.Select(l => Name(l.Key))])} under {Fraction(g.Key)}");
            return $"Look {At(look.At)} at {stop.Name}: {EntryWords.And([.. limits])}? Skip this dump ({StepWords.Percent(look.Chance)} likely). "
                + "If not, dump as planned.";
        }
        var grays = EntryWords.And([.. look.Limits.Keys.Select(Name)]);
        return $"More gray for the rinse: close {grays} earlier, {At(look.CloseAt!.Value)}, if you can look at it every few hours. "
            + $"Over {Fraction(look.Limits.Values.First())}: drain some, down to about {Fraction(PlanLook.LeftShare)}, black closed "
            + $"({StepWords.Percent(look.Chance)} likely).";
    }

    /// <summary>That black travels along, with its weight.</summary>
    /// <param name="carried">What is carried on.</param>
    /// <param name="place">Name of the place it leaves.</param>
    public string Carried(CarriedOn carried, string place)
    {
        ArgumentNullException.ThrowIfNull(carried);
        return $"{TimeWords.Capital(Name(carried.Tank))} rides along from {place}: about {units.Volume(carried.Litres)}, "
            + $"{units.Load(carried.Litres * CarriedOn.KgPerL)} of water. The drive loosens what sits at the bottom.";
    }

    /// <summary>When a station is open; empty if it always is.</summary>
    public static string OpenHours(Stop stop, TimeStyle style)
    {
        ArgumentNullException.ThrowIfNull(stop);
        ArgumentNullException.ThrowIfNull(style);
        return (stop.Opens, stop.Closes) switch
        {
            ({ } opens, { } closes) => $"open {style.Time(opens)} to {style.Time(closes)}",
            ({ } opens, null) => $"open from {style.Time(opens)}",
            (null, { } closes) => $"open until {style.Time(closes)}",
            _ => "",
        };
    }

    /// <summary>What the looks bring, in a sentence; empty where they change nothing.</summary>
    public static string LooksBring(LookedPlan looked)
    {
        ArgumentNullException.ThrowIfNull(looked);
        if (looked.Looks.Count == 0) return "";
        var (a, b) = (looked.Without, looked.With);
        string Dumps(double n) => n.ToString("0.#", CultureInfo.InvariantCulture);
        var brings = new List<string>();
        if (b.BlackDumps < a.BlackDumps - 0.05) brings.Add($"{Dumps(b.BlackDumps)} black dumps on average instead of {Dumps(a.BlackDumps)}");
        if (b.GrayDumps < a.GrayDumps - 0.05) brings.Add($"{Dumps(b.GrayDumps)} gray dumps instead of {Dumps(a.GrayDumps)}");
        if (b.GrayReady > a.GrayReady + 0.02)
            brings.Add($"enough gray to rinse the hose in {StepWords.Percent(b.GrayReady ?? 0)} of dumps at a sewer hookup instead of "
                + StepWords.Percent(a.GrayReady ?? 0));
        return $"If you look on the way: {EntryWords.And(brings)}. The chance a tank overflows is {StepWords.Percent(b.Overflow)}, or "
            + $"{StepWords.Percent(a.Overflow)} without looking.";
    }

    private static string Fraction(double share) => share switch
    {
        < 0.3 => "a quarter",
        < 0.4 => "a third",
        < 0.6 => "half",
        < 0.7 => "two thirds",
        _ => "three quarters",
    };

    /// <summary>Why a plan became another.</summary>
    public string Reason(PlanReason reason, TimeWords times)
    {
        ArgumentNullException.ThrowIfNull(reason);
        ArgumentNullException.ThrowIfNull(times);
        var name = TimeWords.Capital(Name(reason.Tank));
        string Figures() => $": {units.Volume(reason.FoundL ?? 0)} estimated, {units.Volume(reason.ExpectedL ?? 0)} planned"
            + (reason.DailyL is { } daily && reason.PlannedDailyL is { } planned
                ? $". It filled about {units.Volume(daily)} a day; the plan had {units.Volume(planned)}" : "");
        return reason.Reason switch
        {
            ChangeReason.StopsChanged => "You changed the stops or your wishes.",
            ChangeReason.RulesChanged => "The rig or its house rules were changed.",
            ChangeReason.FullerThanPlanned => $"{name} is fuller than planned{Figures()}.",
            ChangeReason.EmptierThanPlanned => $"{name} is emptier than planned{Figures()}.",
            ChangeReason.DumpedUnplanned => $"{name} was dumped {times.At(reason.At!.Value.ToInstant())}, which wasn't in the plan.",
            ChangeReason.NotDumped => $"{name} was to be dumped {times.At(reason.At!.Value.ToInstant())}, and no dump is in the log.",
            ChangeReason.KnownBetter => "The estimate of your tanks and use got better.",
        };
    }

    /// <summary>What became of a run.</summary>
    /// <param name="change">The change.</param>
    /// <param name="place">Name of its stop; null if it is gone.</param>
    /// <param name="times">Local time.</param>
    public static string Became(RunChange change, string? place, TimeWords times)
    {
        ArgumentNullException.ThrowIfNull(change);
        ArgumentNullException.ThrowIfNull(times);
        var what = $"{(change.Role == TankRole.Black ? "Dump run" : "Gray dump")}{(place is null ? "" : $" at {place}")}";
        return (change.Was, change.Is) switch
        {
            ({ } was, { } now) => $"{what}: {times.At(now.ToInstant())} instead of {times.At(was.ToInstant())}",
            (null, { } now) => $"{what} added: {times.At(now.ToInstant())}",
            ({ } was, null) => $"{what} {times.At(was.ToInstant())} canceled",
            _ => what,
        };
    }

    /// <summary>Gray water put down the toilet, said in what one pours: one of every so many.</summary>
    internal static string Dishwater(double? share, Units units) => share is > 0 and var s
        ? $"Pour some dishwater down the toilet (about 1 {units.VolumeSymbol} of every "
        + $"{Math.Max(2, Math.Round(1 / s)).ToString("0", CultureInfo.InvariantCulture)})"
        : "Pour some dishwater down the toilet";

    /// <summary>A stop's hookup, with what a station's tap is like.</summary>
    public static string HookupWords(Stop stop)
    {
        ArgumentNullException.ThrowIfNull(stop);
        return HookupWords(stop.Hookup) + (stop.Hookup == StopHookup.DumpStation
            ? stop.RinseWater switch { RinseWater.Threaded => ", hose fits", RinseWater.None => ", no water", RinseWater.Unthreaded => ", no thread" }
            + (stop.Busy ? ", busy" : "") : stop.DumpStation ? ", station there" : "");
    }

    /// <summary>A hookup in words.</summary>
    public static string HookupWords(StopHookup hookup) => hookup switch
    {
        StopHookup.Full => "full hookup",
        StopHookup.Partial => "water only",
        StopHookup.GrayDrain => "gray drain only",
        StopHookup.Dry => "no hookups",
        StopHookup.DumpStation => "dump station",
        StopHookup.Storage => "in storage",
    };

    private string Name(string? tank) => rig.Find(tank)?.Name is { Length: > 0 } n ? char.ToLowerInvariant(n[0]) + n[1..] : "";

    private static string Method(FlushMethod method) => method switch
    {
        FlushMethod.BuiltIn => "built-in head",
        FlushMethod.Bucket => "jug",
        FlushMethod.Pedal => "toilet pedal",
        FlushMethod.Reverse => "reverse flush",
        FlushMethod.Wand or FlushMethod.GrayBackfeed or FlushMethod.Jet => EntryWords.Spaced(method),
    };

    private static string Amount(PlanAction a) => a.Amount ?? "a dose";
}
