namespace Tanksophos.Core.Treatments;

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
    public double? Most { get; init; }

    /// <summary>Millilitres of a capful; needed where caps are counted.</summary>
    public double? CapMl { get; init; }

    /// <summary>Days a dose works; null for the usual week.</summary>
    public int? LastsDays { get; init; }

    /// <summary>Litres of water the label wants with it; null where it says nothing.</summary>
    public double? WaterL { get; init; }
}

/// <summary>Something an owner has bought, under the kind it is of.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Name">What the owner calls it.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Dose">The dose on its label.</param>
public sealed record Product(string Id, string Name, Substance Kind, LabelDose Dose)
{
    /// <summary>How much a full bottle or box holds, in the dose's unit (millilitres where caps are counted); null if nobody said.</summary>
    public double? Holds { get; init; }

    /// <summary>Price of a full one in hundredths; null if nobody said.</summary>
    public int? PriceMinor { get; init; }

    /// <summary>What the label warns of.</summary>
    public string? Caution { get; init; }
}

/// <summary>A product's dose for a tank.</summary>
/// <param name="Amount">How much, in the label's unit, rounded so that it can be measured and never beyond the label's most.</param>
/// <param name="Unit">The unit.</param>
/// <param name="Doubled">Whether it is doubled for heat.</param>
/// <param name="AtMost">Whether the label's most holds it down.</param>
/// <param name="Exact">What was computed before rounding.</param>
public sealed record ProductDose(double Amount, DoseUnit Unit, bool Doubled, bool AtMost, double Exact)
{
    /// <summary>In what the bottle is counted in: millilitres for caps.</summary>
    /// <param name="dose">The label's dose.</param>
    public double InBottleUnits(LabelDose dose)
    {
        ArgumentNullException.ThrowIfNull(dose);
        return Unit == DoseUnit.Cap ? Amount * (dose.CapMl ?? 0) : Amount;
    }
}

/// <summary>Doses by the label: for the tank's capacity, doubled in heat, never beyond the label's own most.</summary>
public static class LabelDoses
{
    /// <summary>Why a label's dose cannot be computed from, by the field that is wrong; null if it can.</summary>
    public static (string Field, string Accepted)? Problem(Product product)
    {
        ArgumentNullException.ThrowIfNull(product);
        var dose = product.Dose;
        if (!(dose.Amount is > 0 and <= 5000)) return ("amount", "above 0, at most 5000");
        if (dose.PerL is { } per && !(per is > 0 and <= 5000)) return ("perL", "above 0, at most 5000 litres");
        if (dose.Unit == DoseUnit.Cap && !(dose.CapMl is > 0 and <= 500)) return ("capMl", "the millilitres of a capful, above 0, at most 500");
        if (dose.Most is { } most && !(most >= dose.Amount / 2 && most <= 50000)) return ("most", "not below half of the dose itself");
        if (dose.LastsDays is { } days && days is < 1 or > 60) return ("lastsDays", "1 to 60");
        if (dose.WaterL is { } water && !(water is >= 0 and <= 500)) return ("waterL", "0 to 500 litres");
        if (product.Holds is { } holds && !(holds is > 0 and <= 100_000)) return ("holds", "above 0");
        return product.PriceMinor is < 0 ? ("priceMinor", "0 or more") : null;
    }

    /// <summary>The dose for a tank.</summary>
    /// <param name="dose">The label's dose.</param>
    /// <param name="capacityL">Capacity in litres, above 0.</param>
    /// <param name="highC">Hottest expected day in C; above <see cref="RoutineDose.HotC"/> the dose is doubled.</param>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    public static ProductDose For(LabelDose dose, double capacityL, double? highC = null)
    {
        ArgumentNullException.ThrowIfNull(dose);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(capacityL);
        var hot = RoutineDose.IsHot(highC);
        var exact = dose.Amount * (dose.PerL is { } per ? capacityL / per : 1) * (hot ? 2 : 1);
        var most = dose.Most ?? double.MaxValue;
        var held = exact > most;
        // Up to what can be measured; where that is beyond the label's most, down.
        var step = Step(dose.Unit, Math.Min(exact, most));
        var amount = Math.Ceiling(Math.Min(exact, most) / step - 1e-9) * step;
        if (amount > most) amount = Math.Max(Math.Floor(most / step + 1e-9) * step, 0) is > 0 and var less ? less : most;
        return new ProductDose(Math.Round(amount, 3), dose.Unit, hot, held, exact);
    }

    // Half caps, whole sachets, and marks that stand on measures.
    private static double Step(DoseUnit unit, double amount) => unit switch
    {
        DoseUnit.Cap => 0.5,
        DoseUnit.Piece => 1,
        _ => amount < 10 ? 1 : amount < 100 ? 5 : 10,
    };
}
