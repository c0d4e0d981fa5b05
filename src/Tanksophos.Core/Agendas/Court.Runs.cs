using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Agendas;

public sealed partial class Court
{
    private readonly List<(string Tank, Instant At, string Because, NextStep? Step, PlanRun? Planned)> closings = [], openings = [];

    // From the plan of the trip where there is one, else from the outlook.
    private void Runs()
    {
        if (s.Plan is { } plan && s.Trip is { } trip)
        {
            foreach (var group in PlanRun.Group(plan.Actions, id => trip.Stops.FirstOrDefault(x => x.Id == id) ?? s.Stops.First(x => x.Id == id)))
                Planned(plan, group);
            foreach (var step in s.Advice.Steps.Where(x => x.Code == StepCode.DumpSoak)) Soak(step);
        }
        else
            foreach (var step in s.Advice.Steps) Advised(step);
        // What sits in a tank to work is left to its end, if the tank lasts and the rig stays.
        foreach (var soak in s.Advice.Steps.Where(x => x.Code == StepCode.DumpSoak && x.Due > now + NowIs))
            foreach (var run in runs.Where(r => r.Tanks.Contains(soak.Tank!) && r.At < soak.Due!.Value).ToList())
                if (Lasts(Of(soak.Tank!), soak.Due!.Value) && !(Leaves <= soak.Due))
                    runs[runs.IndexOf(run)] = run with { At = soak.Due.Value, Because = [Because.SoakDone], Step = soak };
        foreach (var run in runs.ToList())
        {
            if (LawSeven(run) is not { } instead) continue;
            runs[runs.IndexOf(run)] = instead;
        }
    }

    private void Advised(NextStep step)
    {
        switch (step.Code)
        {
            case StepCode.DumpBlack or StepCode.TopUpAndDump:
                var days = step.Code == StepCode.TopUpAndDump;
                runs.Add(new Run(step.Due ?? now, WithGrays(step.Tank!), FormOf(WithGrays(step.Tank!)), [days ? Because.Days : Because.Level],
                    true)
                { Step = step });
                if (days && step.WaterL is >= UsMeasures.GallonL and var litres) TopUp(step.Tank!, step.Due ?? now, litres, Because.Days, step);
                break;
            case StepCode.DumpGray:
                runs.Add(new Run(step.Due ?? now, [step.Tank!], RunForm.GrayOnly, [Because.Level], false) { Step = step });
                break;
            case StepCode.DumpSoak:
                Soak(step);
                break;
            case StepCode.CloseGray:
                closings.Add((step.Tank!, step.Due ?? now, Because.GrayForRinse, step, null));
                break;
            case StepCode.OpenGray:
                openings.Add((step.Tank!, step.Due ?? now, Because.DrainsHere, step, null));
                break;
        }
    }

    private void Soak(NextStep step)
    {
        var at = step.Due ?? now;
        if (IsBlack(step.Tank!) ? !SewerHere : !GrayDrainsHere)
        {
            if (s.Plan is null) Add(AgendaCode.FindDrain, LevelOf(at), [step.Tank!], Because.SoakDone, i => i with { At = at, Step = step });
            return;
        }
        if (runs.Any(r => r.Tanks.Contains(step.Tank!) && r.At <= at + SameRun)) return;
        runs.Add(new Run(at, WithGrays(step.Tank!), FormOf(WithGrays(step.Tank!)), [Because.SoakDone], IsBlack(step.Tank!)) { Step = step });
    }

    private void TopUp(string tank, Instant at, double litres, string because, NextStep? step = null, PlanRun? planned = null)
    {
        var belief = Of(tank);
        // By the plan what is in it then may be less than now: it is dumped before.
        var then = planned is null ? Math.Max(belief.Forecast.At(Instant.Max(at, belief.Forecast.From)).P95L, belief.Level.P95L)
            : s.Plan!.Levels.TryGetValue(tank, out var levels) && levels.LastOrDefault(l => l.At.ToInstant() <= at) is { Level: { } level } ? level.P95L
            : belief.Level.P95L;
        var room = Guard.FillTo * UsedL(belief.Tank) - then - 0.05;
        var fits = Math.Floor(Math.Min(litres, room));
        var before = Instant.Max(now, at - Duration.FromMinutes(15));
        var item = new AgendaItem(AgendaCode.TopUp, LevelOf(before), [tank], [because]) { At = before, By = at, WaterL = fits, Step = step, Planned = planned };
        if (fits >= UsMeasures.GallonL) items.Add(item);
        else held.Add(new AgendaHeld(AgendaCode.TopUp, tank, Because.NoRoom, item with { WaterL = null }));
    }

    private void Planned(Plan plan, PlanRun group)
    {
        var at = Instant.Max(now, group.At.ToInstant());
        if (group.Dumps)
        {
            var tanks = group.Actions.Where(a => a.Kind == PlanActionKind.Dump).Select(a => a.Tank!).Distinct().OrderByDescending(IsBlack).ToList();
            var station = group.Stop.Hookup == StopHookup.DumpStation || group.Stop is { DumpStation: true, Hookup: not StopHookup.Full };
            // Law 8: a low black is not dumped where people wait, if a sewer comes before it has to.
            if ((station || group.Stop.Busy) && tanks.Any(IsBlack) && LowBefore(group) is { } ahead)
            {
                foreach (var black in tanks.Where(IsBlack))
                    held.Add(new AgendaHeld(AgendaCode.DumpRun, black, Because.SewerAhead,
                    new AgendaItem(AgendaCode.DumpRun, LevelOf(at), [black], [Because.SewerAhead]) { At = at, By = ahead }));
                tanks.RemoveAll(IsBlack);
                if (tanks.Count == 0) return;
            }
            var form = FormOf(tanks, station);
            if (form == RunForm.Full && s.Trip!.Stops.SkipWhile(x => x.Id != group.Stop.Id).Skip(1)
                .FirstOrDefault(x => x.Hookup != StopHookup.DumpStation) is null or { Hookup: StopHookup.Storage }
                && !plan.Actions.Any(a => a.Kind == PlanActionKind.Dump && IsBlack(a.Tank!) && a.At.ToInstant() > group.Until.ToInstant())) form =
                RunForm.EndOfTrip;
            var high = group.Actions.FirstOrDefault(a => a.Kind == PlanActionKind.Dump && IsBlack(a.Tank!)) is { ExpectedL: { } litres } dump
                && litres >= 0.95 * rules.DumpBlackAt * Of(dump.Tank!).Tank.CapacityL;
            runs.Add(new Run(at, tanks, form, high ? [Because.Level, Because.Plan] : [Because.Plan], group.Stop.Hookup == StopHookup.Full) { Planned = group });
            foreach (var top in group.Actions.Where(a => a.Kind == PlanActionKind.TopUp && a.WaterL is > 0 && tanks.Contains(a.Tank!)))
                TopUp(top.Tank!, at, top.WaterL!.Value, Because.Plan, planned: group);
            return;
        }
        foreach (var action in group.Actions)
        {
            switch (action.Kind)
            {
                case PlanActionKind.CloseValve:
                    closings.Add((action.Tank!, at, rules.GrayAtFullHookup == GrayAtFullHookup.Batch ? Because.HouseRule : Because.GrayForRinse, null, group));
                    break;
                case PlanActionKind.OpenValve:
                    openings.Add((action.Tank!, at, Because.DrainsHere, null, group));
                    break;
                case PlanActionKind.ScrubBeforeDrive:
                    var room = RoomL(Of(action.Tank!));
                    Add(AgendaCode.ScrubBeforeDrive, LevelOf(at), [action.Tank!], Because.Drive,
                        i => i with
                        {
                            At = at,
                            Recipe = action.Recipe,
                            Amount = action.Amount,
                            WaterL = action.WaterL is { } w && w <= room ? w : null,
                            Planned = group
                        });
                    break;
                case PlanActionKind.Divert:
                    Add(AgendaCode.Divert, LevelOf(at), action.Tank is null ? [] : [action.Tank], Because.DryStretch,
                        i => i with { At = at, Share = action.ShareToBlack, Planned = group });
                    break;
                case PlanActionKind.CutUse:
                    Add(AgendaCode.StopWater, LevelOf(at) == AgendaLevel.Now ? AgendaLevel.Today : LevelOf(at), action.Tank is null ? [] : [action.Tank],
                        Because.MayOverflow, i => i with { At = at, Planned = group });
                    break;
                case PlanActionKind.TopUpTraps:
                    Add(AgendaCode.Care, LevelOf(at), [], Because.UnusedTraps, i => i with { At = at, Chore = "traps", Planned = group });
                    break;
                case PlanActionKind.Dose when at > now + Duration.FromHours(1) && action.Recipe is { } recipe:
                    Add(AgendaCode.Dose, LevelOf(at), [action.Tank!], RoutineDose.IsRoutine(recipe) ? Because.DoseWornOff : Because.Drive,
                        i => i with { At = at, Recipe = recipe, Amount = action.Amount, Planned = group });
                    break;
            }
        }
    }

    // The hour at which a sewer comes that a low black surely lasts to; null if it is not low, or none comes in time.
    private Instant? LowBefore(PlanRun group)
    {
        foreach (var dump in group.Actions.Where(a => a.Kind == PlanActionKind.Dump && IsBlack(a.Tank!)))
        {
            var tank = Of(dump.Tank!);
            if ((dump.ExpectedL ?? tank.Level.P50L) >= LowBlack * UsedL(tank.Tank)) return null;
        }
        if (s.Trip!.Stops.FirstOrDefault(x => x.Hookup == StopHookup.Full && x.Arrive.ToInstant() > group.At.ToInstant()) is not { } sewer) return null;
        var ahead = sewer.Arrive.ToInstant();
        return s.Belief.Tanks.Where(t => t.Tank.Role == TankRole.Black).All(t => Lasts(t, ahead)) ? ahead : null;
    }

    // Whether a tank surely has room at a moment, and its days allow it.
    private bool Lasts(TankBelief tank, Instant until) =>
        tank.Forecast.At(Instant.Max(until, tank.Forecast.From)).P95L < UsedL(tank.Tank)
            && (tank.LastEmptied is not { } emptied || until <= emptied + Duration.FromDays(rules.MaxDays));

    // Law 7: too little gray for the rinse. Null if the run may stay as it is.
    private Run? LawSeven(Run run)
    {
        if (!run.Sewer || !run.Tanks.Any(IsBlack) || run.Because.Contains(Because.Bleach) || run.At > now + Duration.FromHours(12)) return null;
        var grays = run.Tanks.Where(t => !IsBlack(t)).Select(Of).ToList();
        if (grays.Count == 0 || rules.GrayAtFullHookup == GrayAtFullHookup.Open) return null;
        double Then(TankBelief g) => (g.ValveOpen ? g.Forecast.EmptiedAt(now) : g.Forecast).At(Instant.Max(run.At, g.Forecast.From)).P50L;
        if (grays.Sum(Then) >= grays.Sum(g => GrayRinse.TargetL(rig, rules, g.Tank))) return null;
        var local = now.InZone(zone);
        var morning = ((local.TimeOfDay < NightEnds ? local.Date : local.Date.PlusDays(1)) + MorningRun).InZoneLeniently(zone).ToInstant();
        var waits = grays.Any(g => g.ValveOpen || ClosedAt(g) is { } closed && now - closed < Waited);
        var blacks = run.Tanks.Where(IsBlack).Select(Of).ToList();
        if (waits && blacks.TrueForAll(b => Lasts(b, morning)) && !(Leaves <= morning + Duration.FromHours(1)))
        {
            foreach (var gray in grays.Where(g => g.ValveOpen)) closings.Add((gray.Tank.Id, now, Because.GrayForRinse, null, null));
            return run with { At = morning, Because = [.. run.Because, Because.GrayForRinse] };
        }
        return run with { Because = [.. run.Because, Because.RinsedWithWater] };
    }

    // What is closed stays closed until it is opened again: of several closings the first counts.
    private IEnumerable<(string Tank, Instant At, string Because, NextStep? Step, PlanRun? Planned)> Once(IGrouping<string,
        (string Tank, Instant At, string Because, NextStep? Step, PlanRun? Planned)> ofTank)
    {
        Instant? openSince = Of(ofTank.Key).ValveOpen ? Instant.MinValue : null, closed = null;
        foreach (var closing in ofTank.OrderBy(c => c.At))
        {
            openSince ??= openings.Where(o => o.Tank == ofTank.Key && o.At < closing.At).Select(o => (Instant?)o.At)
                .Where(o => closed is null || o > closed).Max();
            if (openSince is null) continue;
            yield return closing;
            (openSince, closed) = (null, closing.At);
        }
    }

    private Instant? ClosedAt(TankBelief gray)
    {
        var deeds = entries.Deeds(gray.Tank.Id);
        for (var i = deeds.Count - 1; i >= 0; i--)
            if (deeds[i].Instant <= now && deeds[i] is ValveEntry { State: ValveState.Closed } or DumpEntry or FlushEntry) return deeds[i].Instant;
        return null;
    }

    // Law 4, and when gray is opened and closed for the rinse.
    private void Valves()
    {
        var nothingDrains = !GrayDrainsHere || PresentStop is { } stop
            && stop.Hookup is not (StopHookup.Full or StopHookup.GrayDrain or StopHookup.DumpStation);
        foreach (var tank in s.Belief.Tanks.Where(t => t.ValveOpen))
        {
            var id = tank.Tank.Id;
            if (tank.Tank.Role == TankRole.Black)
                closings.Add((id, now, Because.BlackOpen, s.Advice.Steps.FirstOrDefault(x => x.Code == StepCode.CloseBlack && x.Tank == id), null));
            else if (nothingDrains) closings.Add((id, now, Because.NothingDrains, null, null));
            else if (Leaves is { } leaves && leaves <= now + LeavesWithin)
                closings.Add((id, Instant.Max(now, leaves - BeforeLeaving), Because.Departure, null, null));
        }
        // The sewer never sees black and a gray together: what is open by then is closed first.
        foreach (var run in runs.Where(r => r.Tanks.Any(IsBlack) && !r.Tanks.TrueForAll(clogged.ContainsKey)))
            foreach (var tank in s.Belief.Tanks.Where(t => t.ValveOpen && t.Tank.Role == TankRole.Gray))
                closings.Add((tank.Tank.Id, Instant.Max(now, run.At - BeforeRun), Because.GrayForRinse, null, null));
        foreach (var closing in closings.GroupBy(c => c.Tank).SelectMany(Once))
        {
            Add(AgendaCode.CloseValve, LevelOf(closing.At), [closing.Tank], closing.Because,
                i => i with { At = closing.At, Step = closing.Step, Planned = closing.Planned });
        }
        foreach (var opening in openings)
        {
            var item = new AgendaItem(AgendaCode.OpenValve, LevelOf(opening.At), [opening.Tank], [opening.Because])
            {
                At = opening.At,
                Step = opening.Step,
                Planned = opening.Planned
            };
            if (opening.Planned is null && closings.Any(c => c.Tank == opening.Tank && c.At <= opening.At + Duration.FromHours(2)))
                HoldItem(item, Because.GrayForRinse);
            else if (opening.At <= now + NowIs && s.Belief.Tanks.Any(t => t.ValveOpen && t.Tank.Role == TankRole.Black)) HoldItem(item, Because.BlackOpen);
            else if (opening.Planned is null && Leaves is { } leaves && leaves <= now + LeavesWithin) HoldItem(item, Because.Departure);
            else items.Add(item);
        }
    }

    // Laws 3 and 6: one run names every tank that goes, and none that cannot.
    private void EmitRuns()
    {
        var merged = new List<Run>();
        foreach (var run in runs.OrderBy(r => r.At))
        {
            if (merged.Count > 0 && merged[^1] is var last && run.At - last.At <= SameRun)
            {
                List<string> all = [.. last.Tanks.Union(run.Tanks).OrderByDescending(IsBlack)];
                merged[^1] = last with
                {
                    Tanks = all,
                    Because = [.. last.Because.Union(run.Because)],
                    Form = all.Any(IsBlack) ? last.Tanks.Any(IsBlack)
                    ? last.Form == RunForm.BlackOnly && !all.All(IsBlack) ? RunForm.Full : last.Form : run.Form : last.Form,
                    Sewer = last.Sewer || run.Sewer,
                    Planned = last.Planned ?? run.Planned,
                    Step = last.Step ?? run.Step,
                    At = run.Because.Contains(Because.Bleach) ? run.At : last.At
                };
            }
            else merged.Add(run);
        }
        runs.Clear();
        foreach (var run in merged)
        {
            // What was dumped a moment ago does not go again.
            var going = run.Tanks.Where(t => !clogged.ContainsKey(t)
                && (IsBlack(t) || run.Planned is not null || Of(t).LastEmptied is not { } emptied || run.At - emptied > SameRun)).ToList();
            foreach (var stuck in run.Tanks.Where(clogged.ContainsKey))
                held.Add(new AgendaHeld(AgendaCode.DumpRun, stuck, clogged[stuck].Because,
                new AgendaItem(AgendaCode.DumpRun, LevelOf(run.At), [stuck], run.Because) { At = run.At, Form = run.Form }));
            // Gray alone has no reason of its own to go yet: it would have rinsed after black.
            if (going.Count == 0 || !going.Any(IsBlack) && run.Tanks.Any(IsBlack)
                && going.TrueForAll(g =>
                Of(g).Forecast.At(Instant.Max(run.At, Of(g).Forecast.From)).P50L < 0.5 * HouseRules.DumpGrayAt * Of(g).Tank.CapacityL)) continue;
            // The figures are those of a tank that goes.
            var step = run.Step?.Tank == going[0] ? run.Step
                : s.Advice.Steps.FirstOrDefault(x => x.Tank == going[0]
                && x.Code is StepCode.DumpBlack or StepCode.TopUpAndDump or StepCode.DumpGray or StepCode.DumpSoak && x.Due <= run.At + SameRun);
            runs.Add(run with { Tanks = going, Form = going.Count == run.Tanks.Count ? run.Form : FormOf(going), Step = step });
        }
        // A black that cannot be dumped and is due, where no run names it.
        foreach (var id in clogged.Keys.Where(id => held.TrueForAll(h => h.Code != AgendaCode.DumpRun || h.Tank != id)))
            if (Of(id).Level.P50L >= rules.DumpLevel(Of(id).Tank.Role) * Of(id).Tank.CapacityL)
                held.Add(new AgendaHeld(AgendaCode.DumpRun, id, clogged[id].Because,
                new AgendaItem(AgendaCode.DumpRun, AgendaLevel.Now, [id], [Because.Level])));
        foreach (var run in runs)
            Add(AgendaCode.DumpRun, LevelOf(run.At), run.Tanks, run.Because,
                i => i with { At = run.At, Form = run.Form, Fraction = FractionOf(run), Step = run.Step, Planned = run.Planned, Look = LookOf(run) });
    }

    // What only the plan asks for may be left out by a look; what the level asks for may not.
    private PlanLook? LookOf(Run run) => run.Planned is { } planned && run.Because.All(b => b == Because.Plan)
        ? s.Looks.FirstOrDefault(l => l.Run == planned.Key && l.Fork == LookFork.LeaveOut && l.At.ToInstant() >= now) : null;

    private double? FractionOf(Run run)
    {
        var first = Of(run.Tanks[0]);
        if (run.Planned?.Actions.FirstOrDefault(a => a.Kind == PlanActionKind.Dump && a.Tank == first.Tank.Id)?.ExpectedL is { } expected)
            return first.Fraction(expected);
        return first.ValveOpen ? null : Math.Min(1, first.Fraction(first.Forecast.At(Instant.Max(run.At, first.Forecast.From)).P50L));
    }

    // A tank that may overflow where nothing drains, and a drain to be found in time.
    private void Overflow()
    {
        foreach (var id in s.Filling.Where(id => !Of(id).ValveOpen))
            Add(IsBlack(id) ? AgendaCode.StopUsing : AgendaCode.StopWater, AgendaLevel.Now, [id], Because.Filling, i => i with { At = now });
        foreach (var step in s.Advice.Steps)
        {
            if (step.Code == StepCode.StopFilling)
                Add(IsBlack(step.Tank!) ? AgendaCode.StopUsing : AgendaCode.StopWater, AgendaLevel.Now, [step.Tank!], Because.MayOverflow,
                    i => i with { At = now, Step = step });
            if (step.Code is StepCode.FindSewer or StepCode.FindGrayDrain && step.Due is { } due
                && !runs.Any(r => r.Tanks.Contains(step.Tank!) && r.At <= due + Duration.FromHours(3)))
                Add(AgendaCode.FindDrain, LevelOf(due), [step.Tank!], step.Code == StepCode.FindSewer && step.CautiousAt is { } o
                    && o > due + Duration.FromHours(20) ? Because.Days : Because.MayOverflow, i => i with { At = due, By = due, Step = step });
        }
    }

    // Law 5: what belongs after a run that was logged without it, and the dose of a long fill.
    private void AfterRuns()
    {
        foreach (var step in s.Advice.Steps)
        {
            if (step.Tank is not { } id || step.Code is not (StepCode.StarterWater or StepCode.Dose)) continue;
            var tank = Of(id);
            var next = runs.Where(r => r.Tanks.Contains(id)).Select(r => (Instant?)r.At).Min();
            var due = step.Due ?? now;
            if (step.Code == StepCode.StarterWater)
            {
                var fits = Math.Floor(10 * Math.Min(step.WaterL ?? 0, RoomL(tank))) / 10;
                var item = new AgendaItem(AgendaCode.StarterWater, LevelOf(due), [id], [Because.NoStarterWater]) { At = due, WaterL = fits, Step = step };
                if (next <= now + Duration.FromHours(12)) HoldItem(item with { WaterL = null }, Because.BelongsToRun);
                else if (fits < 1) HoldItem(item with { WaterL = null }, Because.NoRoom);
                else items.Add(item);
                continue;
            }
            var product = Shelf.For(rig, rules.Treatment);
            var dose = DoseCalculator.Routine(rules.Treatment, new DoseCase(tank.Tank.CapacityL) { Units = s.Units, HighC = s.HighC, Product = product });
            var routine = RoutineDose.For(rules.Treatment, tank.Tank.CapacityL)!;
            items.Add(new AgendaItem(AgendaCode.Dose, LevelOf(due), [id], [step.Since is null ? Because.NoDose : Because.DoseWornOff])
            {
                At = due,
                Recipe = routine.Recipe,
                Amount = dose.Ingredients.Count > 0 ? dose.Ingredients[0].Amount : null,
                Step = step
            });
        }
        var sniffed = entries.Kind<CheckEntry>().LastOrDefault(c => c.Code == CheckCode.SniffTest && c.Instant <= now);
        foreach (var item in items.Where(i => i.Code == AgendaCode.Dose).ToList())
        {
            var tank = item.Tanks[0];
            var next = runs.Where(r => r.Tanks.Contains(tank) && r.At >= item.At).Select(r => (Instant?)r.At).Min();
            if (next is { } run && run - item.At!.Value < RoutineDose.BeforeDump) Drop(item, Because.DumpWithin48H);
            else if (Against(item.Recipe!.Value, Of(tank)) is { } against) Drop(item, against);
            else if (items.Any(o => o != item && o.Code == AgendaCode.Dose && o.Tanks[0] == tank && o.At < item.At
                && item.At - o.At < Duration.FromDays(Shelf.LastsDays(rig, rules.Treatment)))) items.Remove(item);
        }
        // The nose has the last word on whether it is clean.
        if (sniffed is { Result: CheckResult.Fail } failed && now - failed.Instant <= Duration.FromHours(12) && SewerHere)
            foreach (var tank in s.Belief.Tanks.Where(t => t.Tank.Role == TankRole.Black && t.LastEmptied is { } e && e <= failed.Instant
                && failed.Instant - e <= Duration.FromHours(6) && (failed.Tank is null || failed.Tank == t.Tank.Id)))
            {
                var fill = Math.Min(RoomL(tank), UsedL(tank.Tank) / 3);
                Add(AgendaCode.Rinse, AgendaLevel.Now, [tank.Tank.Id], Because.SniffFailed,
                    i => i with { At = now, WaterL = fill >= UsMeasures.GallonL ? Math.Floor(fill) : null });
                foreach (var item in items.Where(i => i.Code is AgendaCode.Dose or AgendaCode.StarterWater && i.Tank == tank.Tank.Id && i.At <= now + TodayIs)
                    .ToList()) Drop(item, Because.SniffFailed);
            }
    }

    private void Drop(AgendaItem item, string because)
    {
        items.Remove(item);
        HoldItem(item, because);
    }

    // What is in the tank, and the place, may speak against a treatment.
    private string? Against(DoseRecipe recipe, TankBelief tank)
    {
        var there = InTheTank.Compute(entries, tank.Tank.Id, now);
        var septic = PresentStop?.Septic == true;
        IReadOnlyList<Substance>? made = Shelf.InUse(rig.Products, recipe) is { } product ? [product.Kind] : null;
        var objections = Objections.To(recipe, tank.Tank, there, rules, septic, now, made);
        if (objections.FirstOrDefault(o => o.Refuses) is { } refused) return Codes<ObjectionCode>.Word(refused.Code);
        return objections.Any(o => o.Code == ObjectionCode.StillWorks) ? Because.StillWorks : null;
    }
}
