using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Dumping;

/// <summary>A form of the run as it can be had here, or why it cannot.</summary>
/// <param name="Form">The form.</param>
/// <param name="Script">The run; null if it cannot be had.</param>
/// <param name="Refused">Why not; empty if it can.</param>
public sealed record RunOffer(RunForm Form, RunScript? Script, IReadOnlyList<RunRefusal> Refused);

/// <summary>
/// Builds the dump run that fits a rig, a place and what is in the tanks: the steps that apply, in order. Black before gray, never both open at once, black
/// only
/// where a sewer is: a run that would break one of these cannot be built.
/// </summary>
public sealed class RunBuilder
{
    private const double OpenRinseSeconds = 6 * 60;
    // Gray floods up for 5 to 15 s; it runs at most about as fast as a tank drains.
    private const double FloodSeconds = 15, FloodLPerSecond = 2;
    private const double MinFloodL = 20;
    // Below this share, surely below that, there is nothing in a tank worth opening it for.
    private const double NothingInIt = 0.03, SurelyLittle = 0.1;
    // Where others wait, black below this share can wait for a place with time.
    private const double BlackCanWait = 0.25;

    private readonly RunSetting setting;
    private readonly RunForm form;
    private readonly Equipment kit;
    private readonly HouseRules rules;
    private readonly List<RunStep> steps = [];
    private readonly List<RunRinse> rinses = [];

    private RunBuilder(RunSetting setting, RunForm form)
    {
        this.setting = setting;
        this.form = form;
        kit = setting.Rig.Equipment ?? new Equipment();
        rules = setting.Rig.RulesInForce;
    }

    private bool Pump => kit.Macerator == true;

    // Gray runs into a hose that lies already: there is no cap to take off, and what comes first is only gray.
    private bool HoseOn => setting.Place == RunPlace.Sewer && !Pump && setting.Tanks.Any(t => t.Open);

    private IReadOnlyList<RunTank> Blacks => [.. setting.Tanks.Where(t => t.Tank.Role == TankRole.Black)];

    private IReadOnlyList<RunTank> Grays => [.. setting.Tanks.Where(t => t.Tank.Role == TankRole.Gray)];

    private bool DumpsBlack => form != RunForm.GrayOnly && Blacks.Count > 0;

    private bool DumpsGray => form != RunForm.BlackOnly && Grays.Count > 0;

    /// <summary>Each form as it can be had.</summary>
    public static IReadOnlyList<RunOffer> Offers(RunSetting setting) => [.. Enum.GetValues<RunForm>().Select(f => Offer(setting, f))];

    /// <summary>One form as it can be had, or why it cannot.</summary>
    public static RunOffer Offer(RunSetting setting, RunForm form)
    {
        ArgumentNullException.ThrowIfNull(setting);
        var builder = new RunBuilder(setting, form);
        var refused = builder.WhyNot().Distinct().ToList();
        return new RunOffer(form, refused.Count == 0 ? builder.Build() : null, refused);
    }

    /// <summary>The form that fits what stands at a place: gray alone where only gray drains, the quick one where others wait, else the full one.</summary>
    /// <returns>Null if none can be had.</returns>
    public static RunForm? Fitting(RunSetting setting)
    {
        ArgumentNullException.ThrowIfNull(setting);
        var wait = setting.Busy && setting.Tanks.Where(t => t.Tank.Role == TankRole.Black).All(t => t.Level.P50L < BlackCanWait * t.Tank.CapacityL);
        RunForm[] order = setting.Place == RunPlace.Station
            ? wait ? [RunForm.GrayOnly, RunForm.Quick, RunForm.Full] : [RunForm.Quick, RunForm.Full, RunForm.GrayOnly]
            : [RunForm.Full, RunForm.GrayOnly, RunForm.BlackOnly];
        foreach (var form in order) if (!new RunBuilder(setting, form).WhyNot().Any()) return form;
        return null;
    }

    /// <summary>The ways in which rinse water can get into black at the place, the best first.</summary>
    public static IReadOnlyList<FlushMethod> Methods(RunSetting setting)
    {
        ArgumentNullException.ThrowIfNull(setting);
        return [.. Enum.GetValues<FlushMethod>().Where(m => m != FlushMethod.Jet && !MethodRefused(setting, m).Any()).OrderBy(m => Rank(setting, m))];
    }

    /// <summary>The schools of rinsing that go with a way of getting water in, the default first.</summary>
    public static IReadOnlyList<RinseSchool> Schools(RunSetting setting, RunForm form, FlushMethod method)
    {
        ArgumentNullException.ThrowIfNull(setting);
        var usual = UsualSchool(setting, form, method);
        return [usual, .. Enum.GetValues<RinseSchool>().Where(s => s != usual && !SchoolRefused(setting, method, s).Any())];
    }

    /// <summary>What can end a closed fill by a hose here, the default first.</summary>
    public static IReadOnlyList<FillStop> Stops(RunSetting setting)
    {
        ArgumentNullException.ThrowIfNull(setting);
        var blacks = setting.Tanks.Where(t => t.Tank.Role == TankRole.Black).ToList();
        var stops = new List<FillStop>();
        if (setting.Rig.Equipment?.WaterMeter == true) stops.Add(FillStop.Meter);
        if (setting.FlowLPerMin is > 0) stops.Add(FillStop.ClockKnownFlow);
        stops.Add(FillStop.Clock);
        if (blacks.Count > 0 && blacks.TrueForAll(b => !b.PanelInDoubt && b.Tank.Monitor.Kind != MonitorKind.None)) stops.Add(FillStop.Watched);
        return stops;
    }

    private static int Rank(RunSetting setting, FlushMethod method) => (method, setting.Water) switch
    {
        (FlushMethod.BuiltIn, _) => 0,
        (FlushMethod.Reverse, _) => 1,
        (FlushMethod.Wand, _) => 2,
        (FlushMethod.Bucket, _) => 3,
        (FlushMethod.GrayBackfeed, TapWater.None) => 4,
        (FlushMethod.Pedal, _) => 5,
        _ => 6,
    };

    private IEnumerable<RunRefusal> WhyNot()
    {
        if (setting.PropaneAlarm) yield return RunRefusal.PropaneAlarm;
        if (setting.Place is null) yield return form == RunForm.GrayOnly ? RunRefusal.NoDrain : RunRefusal.NoSewer;
        else if (setting.Place == RunPlace.GrayDrain && form != RunForm.GrayOnly) yield return RunRefusal.NoSewer;
        if (form != RunForm.GrayOnly && Blacks.Any(b => b.Blocked) || form != RunForm.BlackOnly && Grays.Any(g => g.Blocked)) yield return RunRefusal.Clog;
        if (form != RunForm.GrayOnly && Blacks.Count == 0) yield return RunRefusal.NoBlackTank;
        if (form == RunForm.GrayOnly && Grays.Count == 0) yield return RunRefusal.NoGrayTank;
        if (!setting.Ahead && form != RunForm.EndOfTrip && (form == RunForm.GrayOnly ? Grays : Blacks) is { Count: > 0 } meant && meant.All(HasNothing))
            yield return RunRefusal.NoReason;
        if (form == RunForm.GrayOnly) yield break;
        if (setting.Method is { } method)
        {
            foreach (var why in MethodRefused(setting, method)) yield return why;
            if (setting.School is { } school) foreach (var why in SchoolRefused(setting, method, school)) yield return why;
        }
        if (setting.Stop == FillStop.Meter && kit.WaterMeter != true) yield return RunRefusal.NoMeter;
        if (setting.Stop == FillStop.ClockKnownFlow && setting.FlowLPerMin is not > 0) yield return RunRefusal.FlowNotKnown;
        if (setting.Stop == FillStop.Watched && Blacks.Any(b => b.PanelInDoubt)) yield return RunRefusal.PanelInDoubt;
    }

    private static bool HasNothing(RunTank tank) =>
        tank.Level.P50L < NothingInIt * tank.Tank.CapacityL && tank.Level.P95L < SurelyLittle * tank.Tank.CapacityL;

    private static IEnumerable<RunRefusal> MethodRefused(RunSetting setting, FlushMethod method)
    {
        var kit = setting.Rig.Equipment ?? new Equipment();
        var hose = method is FlushMethod.BuiltIn or FlushMethod.Reverse or FlushMethod.Wand;
        if (kit.Macerator == true && (method is FlushMethod.Reverse or FlushMethod.GrayBackfeed or FlushMethod.Jet))
            yield return RunRefusal.NothingThroughMacerator;
        else if (method == FlushMethod.Jet) yield return RunRefusal.TrainedPerson;
        if (method == FlushMethod.GrayBackfeed && kit.EndValve != true) yield return RunRefusal.NoEndValve;
        if (method == FlushMethod.GrayBackfeed && !setting.Tanks.Any(t => t.Tank.Role == TankRole.Gray && !t.Open && t.Level.P05L >= MinFloodL))
            yield return RunRefusal.NoGrayToFlood;
        if ((method == FlushMethod.BuiltIn && kit.FlushInlet != true) || (method == FlushMethod.Reverse && kit.ReverseFlush != true)
            || (method == FlushMethod.Wand && kit.Wand is not ("rigid" or "flexible")) || (method == FlushMethod.Bucket && kit.JugL is not > 0))
            yield return RunRefusal.NotOnThisRig;
        // An offset toilet bends the way of a rigid wand.
        if (method == FlushMethod.Wand && kit is { Wand: "rigid", ToiletDrop: "offset" }) yield return RunRefusal.NotOnThisRig;
        if (hose && setting.Water != TapWater.Threaded) yield return RunRefusal.NoTapForHose;
    }

    private static IEnumerable<RunRefusal> SchoolRefused(RunSetting setting, FlushMethod method, RinseSchool school)
    {
        var hose = method is FlushMethod.BuiltIn or FlushMethod.Reverse or FlushMethod.Wand;
        if (!hose && school != RinseSchool.QuickRefills) yield return RunRefusal.SchoolNeedsOtherWater;
        if (hose && method != FlushMethod.BuiltIn && school == RinseSchool.OpenRinse) yield return RunRefusal.SchoolNeedsOtherWater;
        if (school == RinseSchool.WatchedFills
            && setting.Tanks.Any(t => t.Tank.Role == TankRole.Black
            && (t.PanelInDoubt || t.Tank.Monitor.Kind == MonitorKind.None))) yield return RunRefusal.PanelInDoubt;
        if (school == RinseSchool.MeteredFloods && setting.Rig.Equipment?.WaterMeter != true) yield return RunRefusal.NoMeter;
        if (school is RinseSchool.ThirdFills or RinseSchool.QuickRefills && hose && setting.Rig.Equipment?.WaterMeter != true
            && setting.FlowLPerMin is not > 0) yield return RunRefusal.FlowNotKnown;
    }

    private static RinseSchool UsualSchool(RunSetting setting, RunForm form, FlushMethod method)
    {
        if (method is FlushMethod.Bucket or FlushMethod.Pedal or FlushMethod.GrayBackfeed or FlushMethod.Jet) return RinseSchool.QuickRefills;
        var known = setting.Stop != FillStop.Clock && (setting.Rig.Equipment?.WaterMeter == true || setting.FlowLPerMin is > 0);
        if (!known) return RinseSchool.TimedFills;
        return form == RunForm.Quick || setting.Rig.RulesInForce.Flush == FlushProgramme.Quick ? RinseSchool.QuickRefills : RinseSchool.ThirdFills;
    }

    private RunScript Build()
    {
        var place = setting.Place!.Value;
        Add(RunStepKind.Gloves, 0.5, RunPress.Done);
        if (DumpsBlack) Add(RunStepKind.Fan, 0.5, RunPress.Done);
        if (DumpsBlack && form != RunForm.Quick) Add(RunStepKind.Bowl, 1, RunPress.Done);
        if (HoseOn) Add(RunStepKind.Valves, 0.5, RunPress.Done);
        else Add(RunStepKind.Valves, 0.5, RunPress.Dry, RunPress.Drips, RunPress.Done);
        steps[^1] = steps[^1] with { HoseOn = HoseOn };
        if (place == RunPlace.Sewer && !setting.SetUpKnown && !Pump) Add(RunStepKind.SetUp, 2, RunPress.Done);
        Add(Pump ? RunStepKind.ThinHose : RunStepKind.SewerHose, HoseOn ? 1 : RunMinutes.SetUp - 3, RunPress.Done);
        steps[^1] = steps[^1] with { HoseOn = HoseOn };

        var method = setting.Method ?? Methods(setting).FirstOrDefault(FlushMethod.Pedal);
        var hose = method is FlushMethod.BuiltIn or FlushMethod.Reverse or FlushMethod.Wand;
        if (DumpsBlack && hose)
        {
            Add(RunStepKind.RinseHose, 1, RunPress.Done);
            steps[^1] = steps[^1] with { Method = method };
        }
        if (DumpsBlack && method == FlushMethod.Bucket && setting.Water != TapWater.None) Add(RunStepKind.Jug, RunMinutes.Jug, RunPress.Done);

        if (DumpsBlack) foreach (var black in Blacks) Black(black, method);
        if (DumpsGray) foreach (var gray in Grays) Gray(gray);

        if (DumpsBlack && form != RunForm.Quick) Add(RunStepKind.Sniff, 0.5, RunPress.Pass, RunPress.Fail, RunPress.Again, RunPress.Done);
        var stays = place == RunPlace.Sewer && !setting.Leaving && form != RunForm.EndOfTrip;
        Add(stays ? RunStepKind.HoseStays : RunStepKind.Stow, stays ? 1 : RunMinutes.Stow, RunPress.Done);
        if (DumpsBlack) foreach (var black in Blacks) After(black);
        if (DumpsGray && form != RunForm.Quick)
            foreach (var gray in Grays.Where(_ => !stays || rules.GrayAtFullHookup == GrayAtFullHookup.Batch))
                steps.Add(new RunStep($"gray-care-{gray.Tank.Id}", RunStepKind.GrayCare, gray.Tank.Id, [RunPress.In])
                {
                    Recipe = DoseRecipe.GraySoap,
                    Amount = Recipes.GraySquirt,
                    AimL = Recipes.Find(DoseRecipe.GraySoap)!.WaterLitres,
                    Minutes = 0.5
                });
        Add(RunStepKind.Wash, 0.5, RunPress.Finish);
        return new RunScript(form, place, steps, rinses,
            [.. setting.Tanks.Select(t => new RunScriptTank(t.Tank.Id, t.Tank.Role, t.Tank.CapacityL, t.Open, t.Level.P50L) { StatedL = t.Tank.ShrunkFromL })])
        {
            Pace = RunPace.Learn(setting.Finished, form).Factor
        };
    }

    private void Black(RunTank black, FlushMethod method)
    {
        var tank = black.Tank;
        var level = black.Level;
        var topUp = !black.EnoughForRush && black.LevelKnown && !black.Suspect && !black.Open ? TopUp(black, method) : null;
        if (topUp is not null) steps.Add(topUp);
        var drained = topUp?.AimL is { } more ? level.P50L + more : level.P50L;
        steps.Add(new RunStep($"drain-{tank.Id}", RunStepKind.Drain, tank.Id,
            [RunPress.Open, RunPress.Rush, RunPress.Steady, RunPress.Slow, RunPress.Trickle, RunPress.Nothing])
        {
            Minutes = RunMinutes.BlackDrain,
            Pump = Pump,
            UsualSeconds = black.Usual?.Seconds * (topUp is null ? 1 : Math.Sqrt(Math.Max(drained, 1) / Math.Max(level.P50L, 1))),
            SlowSeconds = black.Usual?.SlowSeconds * (topUp is null ? 1 : Math.Sqrt(Math.Max(drained, 1) / Math.Max(level.P50L, 1))),
        });
        Rinse(black, method);
        steps.Add(new RunStep($"close-{tank.Id}", RunStepKind.Close, tank.Id, [RunPress.Closed]) { Minutes = 0.5, Pump = Pump });
    }

    private RunStep? TopUp(RunTank black, FlushMethod method)
    {
        var wanted = HouseRules.Default.DumpBlackAt * black.Tank.CapacityL - black.Level.P50L;
        // Where no hose reaches into the tank, or the manual allows the spray head only with the valve open: bowlfuls or jugs, counted.
        var hose = method is FlushMethod.BuiltIn or FlushMethod.Wand && setting.School != RinseSchool.OpenRinse;
        var stop = hose ? StopFor(black, method) : FillStop.Meter;
        var limit = Guard.Limit(black.Tank, black.Level, stop, setting.FlowLPerMin, black.Suspect, black.PanelInDoubt);
        if (limit.Refused is not null) return null;
        if (!hose && setting.Water == TapWater.None && setting.FreshL is { } fresh) wanted = Math.Min(wanted, fresh / 2);
        var litres = Math.Min(wanted, limit.Litres);
        if (litres < 0.05 * black.Tank.CapacityL) return null;
        // By the clock alone nothing is known of how much has gone in: the timed school gives too little for a top-up.
        if (hose && stop == FillStop.Clock) (hose, limit) = (false, Guard.Limit(black.Tank, black.Level, FillStop.Meter, null, black.Suspect));
        // Counted in whole jugs where one fits, else in bowlfuls: never more than the tank takes.
        litres = Math.Min(litres, limit.Litres);
        var unit = method == FlushMethod.Bucket && kit.JugL is > 0 and var jug && jug <= litres ? jug : RinsePlan.BowlL;
        if (!hose && unit > litres) return null;
        var flow = setting.FlowLPerMin;
        return new RunStep($"top-up-{black.Tank.Id}", RunStepKind.TopUp, black.Tank.Id, hose ? [RunPress.WaterOn, RunPress.WaterOff, RunPress.Done]
            : [RunPress.Poured, RunPress.Done])
        {
            Method = hose ? method : unit == RinsePlan.BowlL ? FlushMethod.Pedal : FlushMethod.Bucket,
            Limit = limit,
            AimL = hose ? litres : Math.Floor(litres / unit) * unit,
            AimSeconds = hose && stop == FillStop.ClockKnownFlow && flow is > 0 ? Math.Min(60 * litres / flow.Value, limit.Seconds!.Value) : null,
            Minutes = hose && flow is > 0 ? litres / flow.Value : litres / unit,
        };
    }

    private FillStop StopFor(RunTank black, FlushMethod method)
    {
        if (setting.Stop is { } stop) return stop;
        if (kit.WaterMeter == true) return FillStop.Meter;
        if (setting.School == RinseSchool.WatchedFills && !black.PanelInDoubt) return FillStop.Watched;
        if (setting.School == RinseSchool.TimedFills) return FillStop.Clock;
        return setting.FlowLPerMin is > 0 && method != FlushMethod.Jet ? FillStop.ClockKnownFlow : FillStop.Clock;
    }

    // The rinse of one tank: how it is done, how often at least and at most, and what each further cycle is likely to bring.
    private sealed record Rinsing(string Loop, RinseSchool School, int Need, int Cap, IReadOnlyList<double> Further);

    private void Rinse(RunTank black, FlushMethod method)
    {
        if (method == FlushMethod.Pedal && setting.Water == TapWater.None && setting.FreshL is < RinsePlan.BowlL) return;
        var school = setting.School is { } s && !SchoolRefused(setting, method, s).Any() ? s : UsualSchool(setting, form, method);
        var (station, last) = (form == RunForm.Quick, form == RunForm.EndOfTrip);
        var further = black.Cycles?.Further ?? RunHistory.Cycles([], black.Tank.Id).Further;
        var plan = new Rinsing($"rinse-{black.Tank.Id}", school, RinsePlan.Need(rules.Flush, station, last),
            RinsePlan.Cap(rules.Flush, station, setting.Busy, last), further);
        if (school == RinseSchool.OpenRinse) RinseOpen(black, method, plan);
        else if (method == FlushMethod.GrayBackfeed) Flood(black, method, plan);
        else if (method is FlushMethod.Bucket or FlushMethod.Pedal) Pour(black, method, plan);
        else Fill(black, method, plan);
    }

    private void RinseOpen(RunTank black, FlushMethod method, Rinsing plan)
    {
        var tank = black.Tank;
        steps.Add(new RunStep($"open-rinse-{tank.Id}", RunStepKind.OpenRinse, tank.Id, [RunPress.WaterOn, RunPress.WaterOff])
        {
            Loop = plan.Loop,
            Method = method,
            AimSeconds = OpenRinseSeconds,
            Minutes = OpenRinseSeconds / 60
        });
        Judge(tank, plan.Loop);
        var flow = setting.FlowLPerMin ?? RinsePlan.HeadLPerMin;
        rinses.Add(new RunRinse(plan.Loop, tank.Id, method, plan.School, plan.Need, Math.Min(plan.Cap, 2), flow * OpenRinseSeconds / 60, null,
            plan.Further)
        { FlowLPerMin = setting.FlowLPerMin });
    }

    private void Flood(RunTank black, FlushMethod method, Rinsing plan)
    {
        var tank = black.Tank;
        var gray = setting.Tanks.Where(t => t.Tank.Role == TankRole.Gray && !t.Open).MaxBy(t => t.Level.P05L)!;
        var free = Guard.Limit(tank, black.AfterDrain, FillStop.Meter, null);
        var seconds = Math.Min(FloodSeconds, free.Litres / FloodLPerSecond);
        steps.Add(new RunStep($"flood-{tank.Id}", RunStepKind.Flood, tank.Id, [RunPress.FloodOn, RunPress.FloodOff, RunPress.EndOpen])
        {
            Loop = plan.Loop,
            Method = method,
            Limit = free with { Stop = FillStop.ClockKnownFlow, Seconds = seconds, UpperFlowLPerMin = 60 * FloodLPerSecond },
            AimSeconds = Math.Min(10, seconds),
            Minutes = 1,
        });
        Judge(tank, plan.Loop);
        rinses.Add(new RunRinse(plan.Loop, tank.Id, method, plan.School, plan.Need, Math.Min(plan.Cap, 3), Math.Round(0.7 * FloodLPerSecond * seconds),
            gray.Level.P05L, plan.Further));
    }

    private void Pour(RunTank black, FlushMethod method, Rinsing plan)
    {
        var tank = black.Tank;
        var fits = Guard.Limit(tank, black.AfterDrain, FillStop.Meter, null, black.Suspect);
        var unit = method == FlushMethod.Bucket ? kit.JugL!.Value : RinsePlan.BowlL;
        var per = Math.Min(method == FlushMethod.Bucket ? unit : RinsePlan.PedalL(tank.CapacityL, form == RunForm.Quick && setting.Busy), fits.Litres);
        steps.Add(new RunStep($"pour-{tank.Id}", RunStepKind.Pour, tank.Id, [RunPress.Closed, RunPress.Poured, RunPress.Open])
        {
            Loop = plan.Loop,
            Method = method,
            Limit = fits,
            SuspectLimit = Guard.Limit(tank, black.AfterDrain, FillStop.Meter, null, suspect: true),
            AimL = per,
            Minutes = method == FlushMethod.Bucket ? setting.Water == TapWater.None ? 1 : RunMinutes.Jug : RunMinutes.Pedal,
        });
        Judge(tank, plan.Loop);
        // Without a tap the jug that was brought, and the fresh water on board, is all there is.
        double? onHand = setting.Water == TapWater.None
            ? (method == FlushMethod.Bucket ? unit : 0) + (setting.FreshL ?? (method == FlushMethod.Pedal ? RinsePlan.Bowls * RinsePlan.BowlL : 0)) : null;
        rinses.Add(new RunRinse(plan.Loop, tank.Id, method, plan.School, plan.Need, plan.Cap, per, onHand, plan.Further));
    }

    private void Fill(RunTank black, FlushMethod method, Rinsing plan)
    {
        var tank = black.Tank;
        var reverse = method == FlushMethod.Reverse;
        var stop = StopFor(black, method);
        FillLimit Limit(bool suspect) => Guard.Limit(tank, black.AfterDrain, stop, setting.FlowLPerMin, suspect || black.Suspect, black.PanelInDoubt, reverse);
        var limit = Limit(false);
        if (limit.Refused == NoFill.PanelInDoubt)
        {
            stop = FillStop.Clock;
            limit = Limit(false);
        }
        var wanted = plan.School switch
        {
            RinseSchool.ThirdFills => RinsePlan.FillL(tank.CapacityL, quick: false),
            RinseSchool.QuickRefills => RinsePlan.FillL(tank.CapacityL, quick: true),
            RinseSchool.WatchedFills or RinseSchool.OpenRinse or RinseSchool.TimedFills or RinseSchool.MeteredFloods => limit.Litres,
        };
        var aim = Math.Min(wanted, limit.Litres);
        var learned = setting.FlowLPerMin ?? (reverse ? RinsePlan.ReverseLPerMin : RinsePlan.HeadLPerMin);
        var seconds2 = stop == FillStop.Clock ? limit.Seconds : stop == FillStop.ClockKnownFlow ? Math.Min(60 * aim / learned, limit.Seconds ?? 0) : null;
        var cycleL = stop == FillStop.Clock ? learned * (limit.Seconds ?? 0) / 60 : aim;
        steps.Add(new RunStep($"fill-{tank.Id}", RunStepKind.Fill, tank.Id, [RunPress.CloseOn, RunPress.Open, RunPress.WaterOff, RunPress.WaterOn])
        {
            Loop = plan.Loop,
            Method = method,
            BehindEnd = reverse,
            Limit = limit,
            SuspectLimit = Limit(true),
            AimL = stop == FillStop.Clock ? null : aim,
            AimSeconds = seconds2,
            Minutes = cycleL / learned,
        });
        Judge(tank, plan.Loop);
        rinses.Add(new RunRinse(plan.Loop, tank.Id, method, plan.School, plan.Need, plan.Cap, cycleL, null,
            plan.Further)
        { FlowLPerMin = setting.FlowLPerMin });
    }

    private void Judge(Tank tank, string loop) =>
        steps.Add(new RunStep($"judge-{tank.Id}", RunStepKind.Judge, tank.Id, [RunPress.Again, RunPress.Enough])
        {
            Loop = loop,
            Pump = Pump,
            Minutes = RunMinutes.AfterFill
        });

    private void Gray(RunTank gray)
    {
        var stays = setting.Place is RunPlace.Sewer or RunPlace.GrayDrain && !setting.Leaving && form != RunForm.EndOfTrip
            && rules.GrayAtFullHookup != GrayAtFullHookup.Batch && !Pump;
        RunPress[] presses = stays ? [RunPress.Open, RunPress.LeaveOpen, RunPress.Closed, RunPress.Trickle]
            : [RunPress.Open, RunPress.Closed, RunPress.Trickle];
        steps.Add(new RunStep($"drain-{gray.Tank.Id}", RunStepKind.Drain, gray.Tank.Id, presses)
        {
            Minutes = RunMinutes.GrayDrain,
            Pump = Pump,
            UsualSeconds = gray.Usual?.Seconds,
            SlowSeconds = gray.Usual?.SlowSeconds
        });
    }

    private void After(RunTank black)
    {
        var tank = black.Tank;
        var storing = form == RunForm.EndOfTrip;
        if (storing && (setting.Frost || rules.Storage == StorageRule.Dry)) return;
        var product = storing ? Shelf.InUse(setting.Rig.Products, DoseRecipe.StorageDose) : Shelf.For(setting.Rig, rules.Treatment);
        var water = !storing || rules.Storage == StorageRule.FullFresh ? RoutineDose.StarterWaterL(rules.Treatment, tank.CapacityL, storing ? null : product)
            : RoutineDose.StorageWaterL(rules.Storage, tank.CapacityL);
        steps.Add(new RunStep($"starter-{tank.Id}", RunStepKind.Starter, tank.Id, [RunPress.In])
        {
            AimL = Math.Round(water, 1),
            Minutes = RunMinutes.Starter - 1
        });
        var recipe = storing ? DoseRecipe.StorageDose : RoutineDose.For(rules.Treatment, tank.CapacityL)?.Recipe;
        // Chemicals that some septic systems forbid are left to the owner, who has asked; enzyme and water are not in question.
        if (recipe is not { } r) return;
        var asked = new DoseCase(tank.CapacityL) { Units = setting.Units, HighC = setting.HighC, Product = product };
        var dose = storing ? DoseCalculator.Compute(r, asked) : DoseCalculator.Routine(rules.Treatment, asked);
        steps.Add(new RunStep($"dose-{tank.Id}", RunStepKind.Dose, tank.Id, [RunPress.In])
        {
            Recipe = r,
            Amount = dose.Ingredients.Count > 0
            ? dose.Ingredients[0].Amount : null,
            Used = Shelf.Takes(setting.Rig.Products, dose),
            Minutes = 1
        });
    }

    private void Add(RunStepKind kind, double minutes, params RunPress[] presses) =>
        steps.Add(new RunStep(Codes<RunStepKind>.Word(kind), kind, null, presses) { Minutes = minutes });
}
