using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Care;

/// <summary>A step of closing or opening the season.</summary>
public enum SeasonStepCode
{
    /// <summary>A dump run that empties all tanks.</summary>
    Dump,

    /// <summary>Rinsed until it ran clear twice.</summary>
    RinseTwice,

    /// <summary>A deep clean.</summary>
    DeepClean,

    /// <summary>Gray tanks cleaned.</summary>
    Gray,

    /// <summary>Bowl and its seal cleaned.</summary>
    Bowl,

    /// <summary>Water heater off, cooled, drained; only against frost.</summary>
    Heater,

    /// <summary>Low points open, lines and pump empty; only against frost.</summary>
    Drain,

    /// <summary>Antifreeze into traps and pump; only against frost.</summary>
    Antifreeze,

    /// <summary>Water into all traps; never against frost.</summary>
    Traps,

    /// <summary>A little treated water, or the tank full of it; never against frost.</summary>
    StorageWater,

    /// <summary>Hose rinsed, dry, boxed.</summary>
    Hose,

    /// <summary>Valves closed, cap on.</summary>
    Cap,

    /// <summary>The seal of the bowl holds water.</summary>
    SealHolds,

    /// <summary>Valves worked.</summary>
    Valves,

    /// <summary>Vent cap in place.</summary>
    Vent,

    /// <summary>Cap dry with the valves closed.</summary>
    CapDry,

    /// <summary>Antifreeze out of the lines, water on.</summary>
    WaterOn,

    /// <summary>Starter water in.</summary>
    Starter,

    /// <summary>The routine dose.</summary>
    Dose,

    /// <summary>The first reading of the panel, over empty tanks.</summary>
    FirstReading,
}

/// <summary>One step.</summary>
/// <param name="Code">What.</param>
/// <param name="Tank">Id of the tank; null for none.</param>
/// <param name="Minutes">About so many.</param>
public sealed record SeasonStep(SeasonStepCode Code, string? Tank, double Minutes)
{
    /// <summary>Litres that go in.</summary>
    public double? WaterL { get; init; }

    /// <summary>What goes in.</summary>
    public DoseRecipe? Recipe { get; init; }

    /// <summary>How much, in kitchen measures.</summary>
    public string? Amount { get; init; }

    /// <summary>By which it is known among the steps.</summary>
    public string Id => Tank is null ? Codes<SeasonStepCode>.Word(Code) : $"{Codes<SeasonStepCode>.Word(Code)}-{Tank}";
}

/// <summary>What was said before the first step.</summary>
/// <param name="End">Whether the season is opened or closed.</param>
/// <param name="Frost">Whether it may freeze while the rig stands.</param>
/// <param name="Sewer">Whether there is a sewer here.</param>
/// <param name="Months">About how many months it stands.</param>
public sealed record SeasonAsked(ChoreSeason End, bool Frost, bool Sewer, int Months);

/// <summary>Closing and opening the season step by step, by the rules of the house and by whether it freezes.</summary>
public static class SeasonGuide
{
    /// <summary>A tank that holds more than this share is not empty.</summary>
    public const double EmptyShare = 0.1;

    private static readonly Duration DoneBefore = Duration.FromHours(36);

    /// <summary>Makes the steps.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="asked">What was said.</param>
    /// <param name="units">Measures of amounts.</param>
    public static IReadOnlyList<SeasonStep> Build(Rig rig, SeasonAsked asked, KitchenUnits units)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(asked);
        var blacks = rig.Tanks.Where(t => t.Role == TankRole.Black).ToList();
        var steps = new List<SeasonStep>();
        void Add(SeasonStepCode code, double minutes, Tank? tank = null) => steps.Add(new SeasonStep(code, tank?.Id, minutes));
        if (asked.End == ChoreSeason.Close)
        {
            Add(SeasonStepCode.Dump, 30);
            if (asked.Sewer)
                foreach (var black in blacks)
                {
                    Add(SeasonStepCode.RinseTwice, 15, black);
                    Add(SeasonStepCode.DeepClean, 20, black);
                }
            foreach (var gray in rig.Tanks.Where(t => t.Role == TankRole.Gray)) Add(SeasonStepCode.Gray, 5, gray);
            if (blacks.Count > 0) Add(SeasonStepCode.Bowl, 5);
            if (asked.Frost)
            {
                Add(SeasonStepCode.Heater, 15);
                Add(SeasonStepCode.Drain, 15);
                Add(SeasonStepCode.Antifreeze, 20);
            }
            else
            {
                Add(SeasonStepCode.Traps, 3);
                foreach (var black in blacks) if (Store(rig, black, units) is { } store) steps.Add(store);
            }
            Add(SeasonStepCode.Hose, 10);
            Add(SeasonStepCode.Cap, 2);
            return steps;
        }
        if (blacks.Count > 0) Add(SeasonStepCode.SealHolds, 5);
        Add(SeasonStepCode.Valves, 5);
        Add(SeasonStepCode.Vent, 5);
        Add(SeasonStepCode.CapDry, 3);
        Add(SeasonStepCode.WaterOn, 10);
        Add(SeasonStepCode.Traps, 3);
        // Over empty tanks, before water goes in: a light that is on then is fouled or shorted.
        if (rig.Tanks.Any(t => t.Monitor.Kind != MonitorKind.None)) Add(SeasonStepCode.FirstReading, 2);
        foreach (var black in blacks)
        {
            var product = Shelf.For(rig, rig.RulesInForce.Treatment);
            steps.Add(new SeasonStep(SeasonStepCode.Starter, black.Id, 3)
            {
                WaterL = Math.Round(RoutineDose.StarterWaterL(rig.RulesInForce.Treatment, black.CapacityL, product), 1)
            });
            if (RoutineDose.For(rig.RulesInForce.Treatment, black.CapacityL)?.Recipe is { } recipe)
                steps.Add(new SeasonStep(SeasonStepCode.Dose, black.Id, 1)
                {
                    Recipe = recipe,
                    Amount = AmountOf(
                    DoseCalculator.Routine(rig.RulesInForce.Treatment, new DoseCase(black.CapacityL) { Units = units, Product = product }))
                });
        }
        return steps;
    }

    // The school of storage above freezing; dry asks for nothing.
    private static SeasonStep? Store(Rig rig, Tank tank, KitchenUnits units)
    {
        if (rig.RulesInForce.Storage == StorageRule.Dry) return null;
        var product = Shelf.InUse(rig.Products, DoseRecipe.StorageDose);
        return new SeasonStep(SeasonStepCode.StorageWater, tank.Id, 5)
        {
            WaterL = Math.Round(RoutineDose.StorageWaterL(rig.RulesInForce.Storage, tank.CapacityL), 1),
            Recipe = DoseRecipe.StorageDose,
            Amount = AmountOf(DoseCalculator.Compute(DoseRecipe.StorageDose, new DoseCase(tank.CapacityL) { Units = units, Product = product }))
        };
    }

    private static string? AmountOf(ComputedDose dose) => dose.Ingredients.Count > 0 ? dose.Ingredients[0].Amount : null;

    /// <summary>Tanks that still hold waste, as believed: with them a season is not closed.</summary>
    /// <param name="belief">What is believed.</param>
    public static IReadOnlyList<Tank> WithWaste(LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(belief);
        return [.. belief.Tanks.Where(t => t.Level.P50L > EmptyShare * t.Tank.CapacityL).Select(t => t.Tank)];
    }

    /// <summary>Steps that the log shows as done since a moment, so that nothing is written twice.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="belief">What is believed.</param>
    /// <param name="steps">The steps.</param>
    /// <param name="begun">When the guide was begun; what was done a day and a half before counts too.</param>
    public static IReadOnlySet<string> Seen(IReadOnlyList<LogEntry> entries, LevelBelief belief, IReadOnlyList<SeasonStep> steps, Instant begun)
    {
        ArgumentNullException.ThrowIfNull(entries);
        ArgumentNullException.ThrowIfNull(belief);
        ArgumentNullException.ThrowIfNull(steps);
        var since = begun - DoneBefore;
        var lately = entries.Between(since, Instant.MaxValue).ToList();
        bool Shows(SeasonStep step) => step.Code switch
        {
            SeasonStepCode.Dump => WithWaste(belief).Count == 0,
            SeasonStepCode.RinseTwice => lately.OfType<FlushEntry>().Any(f => f.Tank == step.Tank
                && f.Cycles is [.., { End: EndColor.Clear }, { End: EndColor.Clear }]),
            SeasonStepCode.DeepClean => Courses.DeepCleaned(entries, step.Tank!) is [.., { } last] && last >= since,
            SeasonStepCode.StorageWater => lately.OfType<WaterEntry>().Any(w => w.Tank == step.Tank && w.Purpose == WaterPurpose.Storage)
                || lately.OfType<DoseEntry>().Any(d => d.Tank == step.Tank && d.Recipe == DoseRecipe.StorageDose),
            SeasonStepCode.Starter => lately.OfType<WaterEntry>().Any(w => w.Tank == step.Tank && w.Purpose == WaterPurpose.Starter),
            SeasonStepCode.Dose => lately.OfType<DoseEntry>().Any(d => d.Tank == step.Tank && RoutineDose.IsRoutine(d.Recipe)),
            // One from before the guide was over full tanks.
            SeasonStepCode.FirstReading => lately.OfType<ReadingEntry>().Any(r => r.Via == ReadingVia.Panel && r.Instant >= begun),
            _ => false,
        };
        return steps.Where(Shows).Select(s => s.Id).ToHashSet(StringComparer.Ordinal);
    }

    /// <summary>Lights that were on over an empty tank in the first reading of the season.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="belief">What is believed: a light that liquid may reach is no fault.</param>
    /// <param name="since">When the guide was begun.</param>
    public static IReadOnlyList<(string Tank, string Probe)> LitOverEmpty(IReadOnlyList<LogEntry> entries, LevelBelief belief, Instant since)
    {
        ArgumentNullException.ThrowIfNull(entries);
        ArgumentNullException.ThrowIfNull(belief);
        bool Above(string tank, string probe) => belief.Tanks.FirstOrDefault(t => t.Tank.Id == tank) is { } t
            && t.Tank.Monitor.Probes.FirstOrDefault(p => p.Id == probe) is { } stud && t.Level.P95L < stud.AtFraction * t.Tank.CapacityL;
        return [.. entries.Kind<ReadingEntry>().Where(r => r.Instant >= since && r is { Via: ReadingVia.Panel, Tank: not null, Lit.Count: > 0 })
            .GroupBy(r => r.Tank!).SelectMany(g => g.First().Lit!.Where(p => Above(g.Key, p))
            .Select(p => (g.Key, p)))];
    }

    /// <summary>The entries that a finished guide leaves in the log, in the order of time.</summary>
    /// <param name="asked">What was said.</param>
    /// <param name="steps">The steps.</param>
    /// <param name="done">When each was done, by its id; those that were skipped are left out.</param>
    /// <param name="at">When it was finished.</param>
    /// <param name="minutes">How long it took.</param>
    public static IReadOnlyList<LogEntry> Entries(SeasonAsked asked, IReadOnlyList<SeasonStep> steps, IReadOnlyDictionary<string, OffsetDateTime> done,
        OffsetDateTime at, double minutes)
    {
        ArgumentNullException.ThrowIfNull(asked);
        ArgumentNullException.ThrowIfNull(steps);
        ArgumentNullException.ThrowIfNull(done);
        var entries = new List<LogEntry>();
        foreach (var step in steps)
        {
            if (!done.TryGetValue(step.Id, out var when)) continue;
            ChoreEntry Chore(string chore) => new() { At = when, Chore = chore, Tank = step.Tank, Result = ChoreResult.Done };
            CheckEntry Check(CheckCode code) => new() { At = when, Code = code, Result = CheckResult.Pass };
            switch (step.Code)
            {
                case SeasonStepCode.DeepClean: entries.Add(Chore(ChoreWords.DeepClean)); break;
                case SeasonStepCode.Gray: entries.Add(Chore(ChoreWords.GrayCare)); break;
                case SeasonStepCode.Hose: entries.Add(Chore(ChoreWords.HoseInspection)); break;
                case SeasonStepCode.Traps: entries.Add(Chore(ChoreWords.Traps)); break;
                case SeasonStepCode.Bowl: entries.Add(new ServiceEntry { At = when, Code = ServiceCode.SealConditioned }); break;
                case SeasonStepCode.SealHolds: entries.Add(Check(CheckCode.BowlHoldsWater)); break;
                case SeasonStepCode.CapDry: entries.Add(Check(CheckCode.CapDry)); break;
                case SeasonStepCode.Vent: entries.Add(Check(CheckCode.RoofVentClear)); break;
                case SeasonStepCode.StorageWater:
                    entries.Add(new WaterEntry { At = when, Tank = step.Tank, WaterL = step.WaterL!.Value, Purpose = WaterPurpose.Storage });
                    entries.Add(new DoseEntry { At = when, Tank = step.Tank, Recipe = step.Recipe!.Value, Amount = step.Amount });
                    break;
                case SeasonStepCode.Starter:
                    entries.Add(new WaterEntry { At = when, Tank = step.Tank, WaterL = step.WaterL!.Value, Purpose = WaterPurpose.Starter });
                    break;
                case SeasonStepCode.Dose:
                    entries.Add(new DoseEntry { At = when, Tank = step.Tank, Recipe = step.Recipe!.Value, Amount = step.Amount });
                    break;
            }
        }
        entries.Add(new ServiceEntry
        {
            At = at,
            Code = asked.End == ChoreSeason.Close ? ServiceCode.SeasonClose : ServiceCode.SeasonOpen,
            Frost = asked.End == ChoreSeason.Close && asked.Frost ? true : null,
            Minutes = Math.Round(minutes)
        });
        return [.. entries.OrderBy(e => e.Instant)];
    }
}
