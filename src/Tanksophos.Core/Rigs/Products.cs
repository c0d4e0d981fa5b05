using NodaTime;

namespace Tanksophos.Core.Rigs;

/// <summary>Kinds of things that are put into tanks. Products are entered by their owners under one of these; the program ships no product names.</summary>
public enum Substance
{
    /// <summary>Enzymes or bacteria.</summary>
    Cultures,

    /// <summary>Dry yeast.</summary>
    Yeast,

    /// <summary>A deodorant that digests by chemistry, without formaldehyde.</summary>
    Deodorant,

    /// <summary>A deodorant with formaldehyde or one of its kin.</summary>
    Formaldehyde,

    /// <summary>Softener and cleaner in one solution.</summary>
    SoftenerCleaner,

    /// <summary>Digests paper.</summary>
    PaperDigester,

    /// <summary>Borax.</summary>
    Borax,

    /// <summary>Dish soap, which foams.</summary>
    DishSoap,

    /// <summary>Laundry detergent, which foams.</summary>
    LaundryDetergent,

    /// <summary>Detergent for dishwashers, which does not foam; without bleach or chlorine on its label.</summary>
    DishwasherDetergent,

    /// <summary>Water softener.</summary>
    WaterSoftener,

    /// <summary>Citrus degreaser.</summary>
    Degreaser,

    /// <summary>A cleaner for probes.</summary>
    SensorCleaner,

    /// <summary>A lubricant for valves.</summary>
    ValveLubricant,

    /// <summary>A conditioner for the toilet's seal.</summary>
    SealConditioner,

    /// <summary>Bleach, or anything whose label names chlorine.</summary>
    Bleach,

    /// <summary>Vinegar, citric acid, descalers.</summary>
    Acid,

    /// <summary>Any other cleaner.</summary>
    OtherCleaner,

    /// <summary>Ice.</summary>
    Ice,
}

/// <summary>How a label counts a dose.</summary>
public enum DoseUnit
{
    /// <summary>Millilitres.</summary>
    Ml,

    /// <summary>Grams.</summary>
    G,

    /// <summary>Capfuls of the product's own cap.</summary>
    Cap,

    /// <summary>Sachets, tablets, pods.</summary>
    Piece,
}

/// <summary>The dose a label states. It outranks every figure of the program.</summary>
/// <param name="Amount">How much, in <paramref name="Unit"/>; above 0.</param>
/// <param name="Unit">What it is counted in.</param>
public sealed record LabelDose(double Amount, DoseUnit Unit)
{
    /// <summary>Litres of tank that amount is for; null for one tank of any size.</summary>
    public double? PerL { get; init; }

    /// <summary>The label's most for one tank, in <see cref="Unit"/>; null where it states none.</summary>
    public double? Max { get; init; }

    /// <summary>Millilitres of a capful; needed where caps are counted.</summary>
    public double? CapMl { get; init; }

    /// <summary>Days a dose works; null for the usual week.</summary>
    public int? LastsDays { get; init; }

    /// <summary>Litres of water the label wants with it; null where it says nothing.</summary>
    public double? WaterL { get; init; }
}

/// <summary>What happened to the stock of a product.</summary>
/// <param name="At">When.</param>
/// <param name="Amount">How much, in <see cref="Product.HoldsIn"/>.</param>
/// <param name="Bought">Whether it came on top; else it is what was left when somebody looked.</param>
public sealed record StockNote(OffsetDateTime At, double Amount, bool Bought);

/// <summary>Something an owner has bought, under the kind it is of.</summary>
/// <param name="Id">Its id, unique on the rig; dose entries point to it.</param>
/// <param name="Name">What the owner calls it.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Dose">The dose on its label; null for what recipes measure, such as borax.</param>
public sealed record Product(string Id, string Name, Substance Kind, LabelDose? Dose)
{
    /// <summary>What it is counted in where no label dose says so.</summary>
    public DoseUnit? Unit { get; init; }

    /// <summary>What bottle, price and stock are counted in: millilitres, grams or pieces.</summary>
    public DoseUnit HoldsIn => (Dose?.Unit ?? Unit ?? DoseUnit.Ml) is var unit && unit == DoseUnit.Cap ? DoseUnit.Ml : unit;

    /// <summary>How much a full bottle or box holds, in <see cref="HoldsIn"/>; null if nobody said.</summary>
    public double? Holds { get; init; }

    /// <summary>Price of a full one in hundredths; null if nobody said.</summary>
    public int? PriceMinor { get; init; }

    /// <summary>What the label warns of.</summary>
    public string? Caution { get; init; }

    /// <summary>Whether it is no longer used; entries go on pointing to it.</summary>
    public bool Retired { get; init; }

    /// <summary>What was bought and counted, in the order of time.</summary>
    public IReadOnlyList<StockNote> Stock { get; init; } = [];
}
