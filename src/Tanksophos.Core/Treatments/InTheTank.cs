using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Treatments;

/// <summary>A treatment that is in a tank now.</summary>
/// <param name="Recipe">What was dosed.</param>
/// <param name="Since">When.</param>
/// <param name="WorksUntil">Until when it works or has to stand; null where it ends with a drive or a dump.</param>
/// <param name="Entry">The entry.</param>
public sealed record Working(DoseRecipe Recipe, Instant Since, Instant? WorksUntil, DoseEntry Entry);

/// <summary>What the log says is in a tank beside waste: the treatments of the present fill, and bleach that is not rinsed out yet.</summary>
public sealed class InTheTank
{
    /// <summary>Rinses after bleach before anything living goes in.</summary>
    public const int RinsesAfterBleach = 2;

    private InTheTank(IReadOnlyList<Working> treatments, Instant? bleached, int rinses, bool waste, Instant? emptied) =>
        (Treatments, BleachedAt, RinsesSince, Waste, EmptiedAt) = (treatments, bleached, rinses, waste, emptied);

    /// <summary>The treatments of the present fill, oldest first.</summary>
    public IReadOnlyList<Working> Treatments { get; }

    /// <summary>When the bleach went in that may still be there; null if none did since it was last rinsed often enough.</summary>
    public Instant? BleachedAt { get; }

    /// <summary>Times it was filled and emptied since that bleach; 0 without.</summary>
    public int RinsesSince { get; }

    /// <summary>Whether bleach may still be in it: not yet dumped and rinsed twice.</summary>
    public bool BleachLeft => BleachedAt is not null && RinsesSince <= RinsesAfterBleach;

    /// <summary>Whether it holds waste: used since it was emptied, or never emptied on record.</summary>
    public bool Waste { get; }

    /// <summary>When it was last emptied; null if never on record.</summary>
    public Instant? EmptiedAt { get; }

    /// <summary>Reads it off the log.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="tank">Id of the tank.</param>
    /// <param name="now">The present moment.</param>
    /// <param name="peopleAboard">Whether somebody has used it since it was emptied; null to count a tank as used an hour after.</param>
    public static InTheTank Compute(IReadOnlyList<LogEntry> entries, string tank, Instant now, bool? peopleAboard = null)
    {
        ArgumentNullException.ThrowIfNull(entries);
        // From now backwards, as far as it bears on now: to the last time it was emptied, and for bleach until it was rinsed often enough.
        var fill = new List<Working>();
        Instant? bleached = null, emptied = null;
        var rinses = 0;
        var deeds = entries.Deeds(tank);
        for (var i = deeds.Count - 1; i >= 0 && (emptied is null || (bleached is null && rinses <= RinsesAfterBleach)); i--)
        {
            if (deeds[i].Instant > now) continue;
            switch (deeds[i])
            {
                case DumpEntry { Emptied: true } dump:
                    emptied ??= dump.Instant;
                    if (bleached is null) rinses++;
                    break;
                case FlushEntry flush:
                    emptied ??= flush.Instant;
                    if (bleached is null) rinses += Math.Max(1, flush.Cycles.Count);
                    break;
                case DoseEntry dose:
                    if (bleached is null && rinses <= RinsesAfterBleach && Mixing.In(dose.Recipe).Contains(Substance.Bleach)) bleached = dose.Instant;
                    if (emptied is null) fill.Insert(0,
                        new Working(dose.Recipe, dose.Instant, Recipes.Find(dose.Recipe)?.Lasts is { } lasts ? dose.Instant + lasts : null, dose));
                    break;
            }
        }
        if (bleached is null) rinses = 0;
        var waste = emptied is not { } at || (peopleAboard ?? now - at > Duration.FromHours(1));
        return new InTheTank(fill, bleached, rinses, waste, emptied);
    }
}

/// <summary>What speaks against a treatment.</summary>
public enum ObjectionCode
{
    /// <summary>It makes poisonous gas with what is in the tank.</summary>
    PoisonousGas,

    /// <summary>Bleach goes into clean water in a flushed tank only.</summary>
    BleachIntoWaste,

    /// <summary>The house never uses bleach.</summary>
    BleachNotInThisHouse,

    /// <summary>It would kill the cultures that are in the tank, or bleach left in it would kill these.</summary>
    KillsCultures,

    /// <summary>Rinse twice after bleach first.</summary>
    RinseAfterBleach,

    /// <summary>A second digester.</summary>
    TwoDigesters,

    /// <summary>Foaming soap in an ice scrub.</summary>
    Foams,

    /// <summary>One product at a time.</summary>
    OneAtATime,

    /// <summary>The same dose still works.</summary>
    StillWorks,

    /// <summary>The place is on a septic system.</summary>
    Septic,

    /// <summary>The recipe is not for this tank.</summary>
    WrongTank,

    /// <summary>It is recorded when reported, never advised.</summary>
    NeverAdvised,

    /// <summary>There is no room for its water.</summary>
    NoRoom,
}

/// <summary>Something that speaks against a treatment.</summary>
/// <param name="Code">What.</param>
/// <param name="Refuses">Whether it is refused; else it is a warning.</param>
/// <param name="With">The treatment in the tank it is about, where there is no room the treatment itself; null if it is about none.</param>
public sealed record Objection(ObjectionCode Code, bool Refuses, DoseRecipe? With = null);

/// <summary>Judges a treatment by what is in the tank, where the rig stands and the rules of the house.</summary>
public static class Objections
{
    /// <summary>All that speaks against it; what is refused first.</summary>
    /// <param name="recipe">The treatment.</param>
    /// <param name="tank">The tank.</param>
    /// <param name="there">What is in it.</param>
    /// <param name="rules">The rules of the house.</param>
    /// <param name="septic">Whether the place is on a septic system.</param>
    /// <param name="substances">What the product at hand is made of; null for what the recipe says.</param>
    /// <param name="freeL">Litres that surely fit; null if that is not known.</param>
    /// <param name="now">The present moment.</param>
    public static IReadOnlyList<Objection> To(DoseRecipe recipe, Tank tank, InTheTank there, HouseRules rules, bool septic, Instant now,
        IReadOnlyList<Substance>? substances = null, double? freeL = null)
    {
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentNullException.ThrowIfNull(there);
        ArgumentNullException.ThrowIfNull(rules);
        var made = substances ?? Mixing.In(recipe);
        var found = new List<Objection>();
        void Say(ObjectionCode code, bool refuses, DoseRecipe? with = null)
        {
            if (!found.Any(o => o.Code == code && o.With == with)) found.Add(new Objection(code, refuses, with));
        }
        if (recipe == DoseRecipe.ClassicBleach) Say(ObjectionCode.NeverAdvised, true);
        if (Recipes.Find(recipe) is { } known && !known.For(tank.Role)) Say(ObjectionCode.WrongTank, true);
        foreach (var substance in made)
        {
            if (substance == Substance.Bleach)
            {
                if (rules.Bleach == BleachRule.Never) Say(ObjectionCode.BleachNotInThisHouse, true);
                if (there.Waste) Say(ObjectionCode.BleachIntoWaste, true);
            }
            else if (there.BleachLeft && there.Treatments.All(t => !Mixing.In(t.Recipe).Contains(Substance.Bleach)))
                Say(ObjectionCode.RinseAfterBleach, Mixing.Of(Substance.Bleach, substance) is Together.PoisonousGas or Together.KillsCultures);
            if (septic) Say(ObjectionCode.Septic, Mixing.ForbiddenOnSeptic(substance));
            foreach (var working in there.Treatments)
                foreach (var other in Mixing.In(working.Recipe))
                    switch (Mixing.Of(substance, other))
                    {
                        case Together.PoisonousGas:
                            Say(ObjectionCode.PoisonousGas, true, working.Recipe);
                            break;
                        case Together.KillsCultures:
                            Say(ObjectionCode.KillsCultures, true, working.Recipe);
                            break;
                        case Together.TwoDigesters:
                            Say(ObjectionCode.TwoDigesters, true, working.Recipe);
                            break;
                        case Together.Foams:
                            Say(ObjectionCode.Foams, true, working.Recipe);
                            break;
                        case Together.OneAtATime:
                            Say(ObjectionCode.OneAtATime, false, working.Recipe);
                            break;
                        case Together.TheSame when working.WorksUntil is { } until && until > now:
                            Say(ObjectionCode.StillWorks, false, working.Recipe);
                            break;
                    }
        }
        // Where septic is only a matter of asking, it is said once, and not of soap and water.
        if (septic && found.Any(o => o is { Code: ObjectionCode.Septic, Refuses: true }))
            found.RemoveAll(o => o is { Code: ObjectionCode.Septic, Refuses: false });
        if (freeL is { } room && Recipes.Find(recipe) is { } r && r.WaterL(tank.CapacityL) > room + 0.5) Say(ObjectionCode.NoRoom, room < 2, recipe);
        return [.. found.OrderByDescending(o => o.Refuses).ThenBy(o => o.Code)];
    }
}
