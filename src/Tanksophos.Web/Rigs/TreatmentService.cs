using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;
using Tanksophos.Data;
using Tanksophos.Words;

namespace Tanksophos.Web.Rigs;

/// <summary>A treatment for a tank, as it would be now.</summary>
/// <param name="Recipe">Its rules.</param>
/// <param name="Dose">Amounts and steps.</param>
/// <param name="Against">What speaks against it now.</param>
/// <param name="Takes">What it takes from the shelf.</param>
public sealed record TreatmentOffer(Recipe Recipe, ComputedDose Dose, IReadOnlyList<Objection> Against, IReadOnlyList<ProductUse> Takes)
{
    /// <summary>Whether it is refused.</summary>
    public bool Refused => Against.Any(o => o.Refuses);
}

/// <summary>What a person asks of the calculator; what is null is taken from the trip and the rig.</summary>
/// <param name="HighC">Hottest day in C.</param>
/// <param name="Days">Days until the next dump.</param>
/// <param name="CapacityL">Another capacity in litres.</param>
public sealed record TreatmentAsk(double? HighC = null, double? Days = null, double? CapacityL = null);

/// <summary>Treatments with all they are judged by: the shelf, what is in the tank, the weather and the place of the trip.</summary>
public sealed class TreatmentService(CurrentRequest house, RigStore store, RigCache memory, TripStore trips,
    Surroundings surroundings)
{
    private IReadOnlyList<Stop>? stops;
    private IReadOnlyList<LogEntry>? log;

    /// <summary>The log in the order of time.</summary>
    public IReadOnlyList<LogEntry> Log => log ??= memory.Log(house.Rig!, store);

    /// <summary>The shelf.</summary>
    public IReadOnlyList<Product> Products => house.Rig!.Rig.Products;

    /// <summary>Measures of the person.</summary>
    public KitchenUnits Kitchen => house.Units == Units.Us ? KitchenUnits.Us : KitchenUnits.Metric;

    private IReadOnlyList<Stop> Stops => stops ??= trips.Current(house.Rig!.Id, house.Now)?.Itinerary.Stops ?? [];

    /// <summary>Whether the place is on a septic system, as the trip says.</summary>
    public bool Septic => Stops.FirstOrDefault(s => s.Arrive.ToInstant() <= house.Now && s.Depart.ToInstant() >= house.Now)?.Septic == true;

    /// <summary>The hottest day of the week ahead, as trip and weather say; null if neither does.</summary>
    public double? HighC => highC ??= Core.Agendas.Situation.HighAhead(Stops, surroundings.Of(house.Rig!, house.RigSnapshot).Weather, house.Now,
        house.RigSnapshot.Belief.InForce.Zone);

    private double? highC;

    /// <summary>What is in a tank.</summary>
    public InTheTank In(string tank) => InTheTank.Compute(Log, tank, house.Now);

    /// <summary>A treatment as it would be now.</summary>
    /// <param name="recipe">Its rules.</param>
    /// <param name="tank">The tank.</param>
    /// <param name="ask">What the person says of heat, days and capacity.</param>
    public TreatmentOffer Of(Recipe recipe, TankBelief tank, TreatmentAsk? ask = null)
    {
        ArgumentNullException.ThrowIfNull(recipe);
        ArgumentNullException.ThrowIfNull(tank);
        var product = Shelf.InUse(Products, recipe.Code);
        var capacity = ask?.CapacityL ?? tank.Tank.CapacityL;
        // A recipe for a dumped and flushed tank is for the tank as it will be then; a routine dose too, unless the fill goes on.
        var emptiedFirst = recipe.IntoCleanTank && recipe.Then;
        // What has to stand leaves room for what will still be used until it has.
        var from = tank.Forecast.From;
        var until = recipe is { Motion: Motion.Stands, Stands: { } stands } ? from + stands : from;
        var level = emptiedFirst ? tank.Forecast.EmptiedAt(from).At(until) : until > from ? tank.Forecast.At(until) : tank.Level;
        var free = ask?.CapacityL is null ? Guard.Limit(tank.Tank, level, FillStop.Meter).Litres : (double?)null;
        var unknown = ask?.CapacityL is null && !emptiedFirst && tank.Level.P95L - tank.Level.P05L > 0.5 * tank.Tank.CapacityL;
        var dose = DoseCalculator.Compute(recipe.Code,
            new DoseCase(capacity)
            {
                Units = Kitchen,
                HighC = ask?.HighC ?? HighC,
                Days = ask?.Days,
                Product = product,
                FreeL = free,
                LevelUnknown = unknown,
                Recovery = recipe.Code == DoseRecipe.TravelScrub
            && house.RigSnapshot.Sensors.Courses.Any(c => c.Tank == tank.Tank.Id && c.For == ProbeVerdict.StuckOn)
            });
        IReadOnlyList<Substance>? made = product is null ? null : [product.Kind];
        return new TreatmentOffer(recipe, dose,
            Objections.To(recipe.Code, tank.Tank, In(tank.Tank.Id), house.Rig!.Rig.RulesInForce, Septic, house.Now, made, free), Shelf.Takes(Products, dose));
    }

    /// <summary>The entry of a treatment that went in.</summary>
    public static DoseEntry Entry(TreatmentOffer offer, string id, OffsetDateTime at, string tank)
    {
        ArgumentNullException.ThrowIfNull(offer);
        var amount = string.Join(" + ", offer.Dose.Ingredients.Select(TreatmentWords.Amount));
        return new DoseEntry
        {
            Id = id,
            At = at,
            Tank = tank,
            Recipe = offer.Recipe.Code,
            Amount = amount.Length == 0 ? null : amount.Length > 200 ? amount[..200] : amount,
            // The water of a routine dose is the starter water, which is logged as that.
            WaterL = RoutineDose.IsRoutine(offer.Recipe.Code) ? null : offer.Dose.WaterL,
            Used = offer.Takes,
        };
    }

    /// <summary>The state of a product's stock.</summary>
    public StockState Stock(Product product)
    {
        ArgumentNullException.ThrowIfNull(product);
        double? each = null;
        if (product.Dose is { } dose
            && house.RigSnapshot.Belief.Tanks.FirstOrDefault(t => Shelf.RecipeOf(product.Kind) is { } r
            && Recipes.Find(r)?.For(t.Tank.Role) == true) is { } tank)
            each = LabelDoses.For(dose, tank.Tank.CapacityL, HighC, Kitchen).InBottleUnits(dose);
        return Shelf.StateOf(product, Log, house.Now, each);
    }
}
