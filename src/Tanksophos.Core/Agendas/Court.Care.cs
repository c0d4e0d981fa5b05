using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Agendas;

public sealed partial class Court
{
    /// <summary>The word of the check of a device that fell silent.</summary>
    public const string DeviceCheck = "device";

    // More than these at a time nobody does.
    private const int MaxChecks = 3;

    private static readonly Duration CleanSoon = Duration.FromDays(4);

    private void Remedies()
    {
        foreach (var course in s.Faults.Courses)
        {
            // Heaps and clogs have been dealt with; what is called likely there and was not, is looked at again by a check.
            if (course.Condition is Condition.Heap or Condition.OutletClog || course.Odor == OdorCause.Propane || course.Next.Failed) continue;
            var word = course.Condition is { } c ? Codes<Condition>.Word(c) : Codes<OdorCause>.Word(course.Odor!.Value);
            if (course.Next.Action == RemedyAction.CloseValve
                && (items.Any(i => i.Code == AgendaCode.CloseValve) || !s.Belief.Tanks.Any(t => t.ValveOpen))) continue;
            Remedy(Codes<RemedyAction>.Word(course.Next.Action), word, course.Tank,
                course.Next.Action is RemedyAction.WaterTraps or RemedyAction.CloseValve or RemedyAction.FanOff or RemedyAction.CleanBowlSeal
                    or RemedyAction.StowHose
                ? AgendaLevel.Today : AgendaLevel.Soon);
        }
        foreach (var course in s.Sensors.Courses)
        {
            if (course.CheckFirst || course.Next is not { } next) continue;
            Remedy(SensorLadder.ActionOf(next.Rung, rig), course.For == ProbeVerdict.StuckOn ? "probe-stuck-on" : "probe-stuck-off", course.Tank,
                next.Rung >= SensorRung.PressureJet ? AgendaLevel.Later : AgendaLevel.Soon);
        }
    }

    private void Remedy(string action, string what, string? tank, AgendaLevel level)
    {
        if (items.Any(i => i.Code == AgendaCode.Remedy && i.Tank == tank && i.Action == action)) return;
        var item = new AgendaItem(AgendaCode.Remedy, level, tank is null ? [] : [tank], [what]) { Action = action, For = what };
        if (tank is not null && Codes<DoseRecipe>.TryParse(action, out var recipe) && Recipes.Find(recipe) is { } known)
        {
            var belief = Of(tank);
            item = item with { Recipe = recipe };
            if (Against(recipe, belief) is { } against)
            {
                HoldItem(item, against);
                return;
            }
            // Into a flushed tank it goes after the next run; on top of what is there it has to fit.
            if (!known.IntoCleanTank)
            {
                var water = known.WaterL(belief.Tank.CapacityL);
                if (known.WaterShare > 0) water = Math.Max(0, water - belief.Level.P50L);
                if (water > RoomL(belief))
                {
                    HoldItem(item, Because.NoRoom);
                    return;
                }
                item = item with { WaterL = water >= 1 ? Math.Round(water, 1) : null };
            }
        }
        // What is done at the outlet is done with the next run.
        if (tank is not null && runs.Where(r => r.Tanks.Contains(tank)).Select(r => (Instant?)r.At).Min() is { } run
            && (item.Recipe is null || Recipes.Find(item.Recipe.Value)?.IntoCleanTank == true) && level == AgendaLevel.Soon)
            item = item with { At = run, Level = (AgendaLevel)Math.Max((int)LevelOf(run), (int)AgendaLevel.Today) };
        items.Add(item);
    }

    private readonly HashSet<(string, string?)> answered = [];

    private void Checks()
    {
        var merged = s.Sensors.NextChecks.Select(c => (Code: Codes<NextCheckCode>.Word(c.Code), c.Tank, c.Worth, Fill: c.FillL, Why: Because.SensorDoubt))
            .Concat(s.Faults.Checks.Select(c => (Code: Codes<CauseCheckCode>.Word(c.Code), c.Tank, c.Worth, Fill: 0.0, Why: s.Faults.Odors.Count > 0
            && c.Tank is null ? Because.Smell : Because.Symptom)))
            .OrderByDescending(c => c.Worth).DistinctBy(c => (c.Code, c.Tank)).ToList();
        var named = 0;
        foreach (var check in merged)
        {
            if (Answers.Stands(entries, check.Code, check.Tank, now))
            {
                answered.Add((check.Code, check.Tank));
                continue;
            }
            if (named == MaxChecks) continue;
            var item = new AgendaItem(AgendaCode.Check, AgendaLevel.Today, check.Tank is null ? [] : [check.Tank], [check.Why])
            {
                Check = check.Code,
                WaterL = check.Fill > 0 ? Math.Round(check.Fill, 1) : null
            };
            if (check.Fill > 0 && check.Tank is { } id && check.Fill > RoomL(Of(id)))
            {
                HoldItem(item with { WaterL = null }, Because.NoRoom);
                continue;
            }
            if (check.Code == Codes<NextCheckCode>.Word(NextCheckCode.Flashlight) && check.Tank is { } seen
                && items.Any(i => i.Code == AgendaCode.LookInside && i.Tank == seen)) continue;
            items.Add(item);
            named++;
        }
    }

    private void Chores()
    {
        foreach (var chore in s.Care.Where(c => c.Asks(now) || c.Chore == ChoreWords.DeepClean && c.State is CareState.Soon or CareState.Never
            && c.Due <= now + CleanSoon && !c.Because.Contains(CareBecause.WaitsForSewer)))
        {
            // What a remedy of the tank does already, or a treatment that stands in it, is that clean.
            if (chore is { Chore: ChoreWords.DeepClean, Tank: { } tank }
                && (Courses.Build(entries, tank, now).Count > 0 || items.Any(i => i.Tank == tank && Cleans(i)))) continue;
            // Work for an afternoon is not for this hour.
            var quick = chore.Chore is ChoreWords.Traps or ChoreWords.StorageCheck or ChoreWords.HoseInspection or ChoreWords.GrayCare
                or ChoreWords.Frost || chore.Own is not null;
            Add(AgendaCode.Care, chore.BayC is not null ? AgendaLevel.Now : quick ? AgendaLevel.Today : AgendaLevel.Soon,
                chore.Tank is null ? [] : [chore.Tank], chore.Because,
                i => i with
                {
                    Chore = chore.Chore,
                    CareItem = chore,
                    Minutes = chore.Minutes,
                    At = chore.Chore == ChoreWords.Frost ? Instant.Max(now, chore.Due) : quick ? null : Instant.Max(now + TodayIs, chore.Due)
                });
            if (chore.Chore == ChoreWords.HoseInspection && chore.Because.Contains(CareBecause.Problem))
                Add(AgendaCode.Buy, AgendaLevel.Soon, [], CareBecause.Problem, i => i with { Chore = chore.Chore, CareItem = chore });
        }
        // A rig in storage may well have its battery off.
        if (force.Hookup != Hookup.Storage)
            foreach (var (device, tanks) in s.Silent)
                Add(AgendaCode.Check, AgendaLevel.Today, tanks, Because.Device, i => i with { Check = DeviceCheck, Device = device });
        foreach (var product in rig.Products.Where(p => !p.Retired))
            if (Shelf.StateOf(product, entries, now) is { Reorder: true })
                Add(AgendaCode.Buy, AgendaLevel.Soon, [], Because.Stock, i => i with { Chore = product.Id });
    }

    /// <summary>Whether an item cleans its tank as deeply as a deep clean does.</summary>
    /// <param name="item">The item.</param>
    public static bool Cleans(AgendaItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        return item.Code == AgendaCode.Remedy && (item.Action is "reverse" or "pressure-jet"
            || item.Recipe is { } recipe && (DeepClean.Is(recipe) || recipe == DoseRecipe.SensorCleaner));
    }

    // Laws 2 and 3 over everything else: into such a tank goes nothing.
    private void Hold()
    {
        foreach (var item in items.ToList())
        {
            if (item.Tanks.FirstOrDefault(bleached.ContainsKey) is { } white
                && (item.Code is AgendaCode.TopUp or AgendaCode.StarterWater or AgendaCode.Dose or AgendaCode.ScrubBeforeDrive
                || item.Code == AgendaCode.Remedy && (item.Recipe is not null || item.WaterL is not null) || item.Code == AgendaCode.Care
                || item.Code == AgendaCode.Check && (item.WaterL is not null || item.Check is "hard-flush-then-panel")))
                Drop(item, Because.Bleach);
            else if (item.Tanks.FirstOrDefault(clogged.ContainsKey) is { } stuck
                && (item.Code is AgendaCode.TopUp or AgendaCode.Rinse or AgendaCode.StarterWater or AgendaCode.Dose or AgendaCode.ScrubBeforeDrive
                or AgendaCode.OpenValve or AgendaCode.Care
                || item.Code == AgendaCode.Remedy && item.For is not ("heap" or "outlet-clog") || item.Code == AgendaCode.Check
                && item.Check is "hard-flush-then-panel" or "metered-fill" or "bucket-test"))
                Drop(item, clogged[stuck].Because);
        }
        // Gray water that is led into a black that lets nothing out fills it for good.
        if (clogged.Keys.Any(IsBlack) || bleached.Keys.Any(IsBlack))
            foreach (var item in items.Where(i => i.Code == AgendaCode.Divert).ToList())
                Drop(item, clogged.Keys.Any(IsBlack) ? clogged.First(c => IsBlack(c.Key)).Value.Because : Because.Bleach);
        // What is dumped now need not be looked at before.
        foreach (var look in items.Where(i => i.Code == AgendaCode.LookInside).ToList())
            if (items.Any(i => i.Code == AgendaCode.DumpRun && i.Level == AgendaLevel.Now && i.Tanks.Contains(look.Tanks[0]))) items.Remove(look);
        // One of a kind for a tank.
        foreach (var twice in items.Where(i => i.Code is AgendaCode.StopUsing or AgendaCode.StopWater or AgendaCode.FindDrain && i.Tanks.Count > 0)
            .GroupBy(i => (i.Code, i.Tanks[0])).Where(g => g.Count() > 1).ToList())
        {
            var all = twice.OrderBy(i => i.Level).ThenBy(i => i.At ?? Instant.MaxValue).ToList();
            items.RemoveAll(i => all.Contains(i));
            items.Add(all[0] with { Because = [.. all.SelectMany(i => i.Because).Distinct()] });
        }
    }
}
