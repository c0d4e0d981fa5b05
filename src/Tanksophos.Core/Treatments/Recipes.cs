using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Treatments;

/// <summary>What a treatment is for.</summary>
public enum Purpose
{
    /// <summary>After each dump.</summary>
    Routine,

    /// <summary>A lamp that lies.</summary>
    Sensors,

    /// <summary>A smell.</summary>
    Odor,

    /// <summary>Film and crust on the walls.</summary>
    Film,

    /// <summary>Paper and heaps.</summary>
    Paper,

    /// <summary>Valves that move hard.</summary>
    Valves,

    /// <summary>A bowl that does not hold its water.</summary>
    Seal,

    /// <summary>Grease in gray.</summary>
    Grease,

    /// <summary>Before standing.</summary>
    Storage,

    /// <summary>Against bacteria.</summary>
    Sanitize,
}

/// <summary>What a treatment needs after it went in.</summary>
public enum Motion
{
    /// <summary>Nothing: it works in use.</summary>
    InUse,

    /// <summary>To stand undisturbed.</summary>
    Stands,

    /// <summary>The drive to the next dump.</summary>
    Drive,
}

/// <summary>A recipe's rules. Its amounts and steps are <see cref="DoseCalculator"/>.</summary>
/// <param name="Code">The recipe.</param>
/// <param name="Purposes">What it is for.</param>
/// <param name="Roles">Tanks it is for.</param>
/// <param name="WaterShare">Share of the tank that is filled with water for it; 0 where litres are given.</param>
/// <param name="WaterLitres">Litres of water with it, where no share is given.</param>
/// <param name="Motion">What it needs afterwards.</param>
/// <param name="Stands">How long it has to stand, or works in use before the next step; null for no time of its own.</param>
/// <param name="DriveHours">Hours of driving it wants; null for none in particular.</param>
/// <param name="IntoCleanTank">Whether the tank is to be dumped and flushed before.</param>
/// <param name="Then">Whether it is dumped afterwards.</param>
/// <param name="Repeats">How many in a row make a course; 1 for a single one.</param>
public sealed record Recipe(DoseRecipe Code, IReadOnlyList<Purpose> Purposes, IReadOnlyList<TankRole> Roles, double WaterShare, double WaterLitres,
    Motion Motion, Duration? Stands, double? DriveHours, bool IntoCleanTank, bool Then, int Repeats)
{
    /// <summary>How long it works, or has to stand, once it is in; null where a drive or a dump ends it.</summary>
    public Duration? Lasts => RoutineDose.IsRoutine(Code) ? Duration.FromDays(RoutineDose.LastsDays) : Stands;

    /// <summary>Whether it is for a tank of a role.</summary>
    public bool For(TankRole role) => Roles.Contains(role);

    /// <summary>Litres of water that go in with it.</summary>
    public double WaterL(double capacityL) => WaterShare > 0 ? WaterShare * capacityL : Math.Min(WaterLitres, 0.9 * capacityL);
}

/// <summary>The recipes that can be followed, from practitioners; a product's label outranks all of them.</summary>
public static class Recipes
{
    private const double Gallon = UsMeasures.GallonL;
    private static readonly TankRole[] Black = [TankRole.Black], Gray = [TankRole.Gray], Both = [TankRole.Black, TankRole.Gray];
    private static readonly Duration Overnight = Duration.FromHours(10), Day = Duration.FromHours(24);

    /// <summary>Soap for gray before a drive, in words.</summary>
    public const string GraySquirt = "a squirt";

    /// <summary>All of them.</summary>
    public static IReadOnlyList<Recipe> All { get; } =
    [
        new(DoseRecipe.Enzyme, [Purpose.Routine], Black, 0, 3 * Gallon, Motion.InUse, null, null, true, false, 1),
        new(DoseRecipe.Deodorant, [Purpose.Routine], Black, 0, 5 * Gallon, Motion.InUse, null, null, true, false, 1),
        new(DoseRecipe.SoftenerCleaner, [Purpose.Routine], Black, 0, 2.5 * Gallon, Motion.InUse, null, null, true, false, 1),
        new(DoseRecipe.Yeast, [Purpose.Routine], Black, 0, Gallon, Motion.InUse, null, null, true, false, 1),
        new(DoseRecipe.TravelScrub, [Purpose.Sensors, Purpose.Odor, Purpose.Film], Both, 0, 3 * Gallon, Motion.Drive, null, null, false, true, 5),
        new(DoseRecipe.Freshener, [Purpose.Odor], Black, 0, 1.5 * Gallon, Motion.InUse, null, null, false, false, 1),
        new(DoseRecipe.SoftenerSoak, [Purpose.Odor, Purpose.Film], Black, 0.9, 0, Motion.Stands, Day, null, true, true, 1),
        new(DoseRecipe.IceScrub, [Purpose.Film], Black, 0.5, 0, Motion.Drive, null, 2, true, true, 1),
        new(DoseRecipe.SoapSoak, [Purpose.Odor], Black, 0.8, 0, Motion.Stands, Overnight, null, false, true, 1),
        new(DoseRecipe.SanitizeBleach, [Purpose.Sanitize], Black, 0.6, 0, Motion.Drive, null, 0.5, true, true, 1),
        new(DoseRecipe.SensorCleaner, [Purpose.Sensors], Both, 0.9, 0, Motion.Stands, Overnight, null, true, true, 1),
        new(DoseRecipe.PaperDigester, [Purpose.Paper], Black, 0, 3 * Gallon, Motion.Stands, Day, null, false, true, 1),
        new(DoseRecipe.ValveLubricant, [Purpose.Valves], Both, 0, 5 * Gallon, Motion.InUse, Duration.FromDays(1.5), null, false, true, 1),
        new(DoseRecipe.SealConditioner, [Purpose.Seal], Black, 0, 0.06, Motion.Stands, Duration.FromHours(3), null, false, false, 1),
        new(DoseRecipe.GraySoap, [Purpose.Grease], Gray, 0, 1.5 * Gallon, Motion.Drive, null, null, false, false, 1),
        new(DoseRecipe.GrayDegreaser, [Purpose.Grease, Purpose.Odor], Gray, 0, 5 * Gallon, Motion.Drive, null, null, false, true, 1),
        new(DoseRecipe.StorageDose, [Purpose.Storage], Both, 0.07, 0, Motion.Stands, null, null, true, false, 1),
    ];

    /// <summary>The rules of a recipe; null for one that is only recorded.</summary>
    public static Recipe? Find(DoseRecipe code) => All.FirstOrDefault(r => r.Code == code);

    /// <summary>The recipes for a purpose and a tank.</summary>
    public static IReadOnlyList<Recipe> For(Purpose purpose, TankRole role) => [.. All.Where(r => r.For(role) && r.Purposes.Contains(purpose))];
}
