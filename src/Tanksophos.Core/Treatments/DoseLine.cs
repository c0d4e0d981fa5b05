using Tanksophos.Core.Log;

namespace Tanksophos.Core.Treatments;

/// <summary>What a line of a dose says; its figures stand beside it.</summary>
public enum DoseNote
{
    /// <summary>The label goes before every figure here.</summary>
    ReadLabel,

    /// <summary>Away from children and pets; gloves and eye protection.</summary>
    KeepAway,

    /// <summary>Never with bleach, acids or other cleaners.</summary>
    NeverWithBleach,

    /// <summary>Some places on septic systems forbid it.</summary>
    AskOnSeptic,

    /// <summary>What the owner noted from the label.</summary>
    OwnLabel,

    /// <summary>Bleach kills the cultures; no second digester.</summary>
    LivingCultures,

    /// <summary>Nothing with formaldehyde on septic; no second digester.</summary>
    NoFormaldehydeOnSeptic,

    /// <summary>No cleaner of pure pine oil.</summary>
    NoPineOil,

    /// <summary>A tank in use is never left dry.</summary>
    NeverLeftDry,

    /// <summary>A caution of the recipe's own, by its number.</summary>
    RecipeCaution,

    /// <summary>This school doses before a drive, not after each dump.</summary>
    BeforeADrive,

    /// <summary>Water that covers the bottom.</summary>
    CoverBottom,

    /// <summary>Nothing but water.</summary>
    WaterOnly,

    /// <summary>Water into the emptied and flushed tank.</summary>
    WaterIntoClean,

    /// <summary>The dose goes in.</summary>
    PutIn,

    /// <summary>The level is not known: a little at a time, counted.</summary>
    CountSmallAmounts,

    /// <summary>The level is not known: pour slowly.</summary>
    PourSlowly,

    /// <summary>Doubled for the heat, never beyond the label's most.</summary>
    DoubledForHeat,

    /// <summary>The same again when it has worn off.</summary>
    AgainLater,

    /// <summary>A step of the recipe's own, by its number.</summary>
    RecipeStep,

    /// <summary>How the starter water comes about.</summary>
    StarterRule,

    /// <summary>Only so much surely fits.</summary>
    OnlyFits,

    /// <summary>The usual dose of practitioners.</summary>
    UsualDose,

    /// <summary>The label of what is at hand goes before it.</summary>
    LabelOutranks,

    /// <summary>The hottest day doubles it.</summary>
    HotDay,

    /// <summary>The fill lasts longer than the dose.</summary>
    LongFill,

    /// <summary>A share of the tank.</summary>
    ShareOfTank,

    /// <summary>So much water in a tank of any size.</summary>
    AnyTankWater,

    /// <summary>Water that covers the waste pile.</summary>
    CoverPile,

    /// <summary>A little treated water for storage.</summary>
    StorageWater,

    /// <summary>So much as is usual in a tank of any size.</summary>
    UsualAmount,

    /// <summary>By its label; nothing is computed.</summary>
    ByItsLabel,

    /// <summary>What the label of a product gives.</summary>
    LabelDose,

    /// <summary>The most that the label allows.</summary>
    LabelMost,

    /// <summary>How the ice comes about.</summary>
    IceWeight,

    /// <summary>How the detergent comes about.</summary>
    DetergentShare,

    /// <summary>What it weighs on the road.</summary>
    WeightOnTheRoad,
}

/// <summary>A line of a dose: a code and the figures it names.</summary>
/// <param name="Note">What it says.</param>
public sealed record DoseLine(DoseNote Note)
{
    /// <summary>The recipe meant.</summary>
    public DoseRecipe? Recipe { get; init; }

    /// <summary>Number of a step or caution of the recipe, from 1.</summary>
    public int Number { get; init; }

    /// <summary>Litres.</summary>
    public double? Litres { get; init; }

    /// <summary>Litres of something else.</summary>
    public double? More { get; init; }

    /// <summary>Millilitres.</summary>
    public double? Ml { get; init; }

    /// <summary>Millilitres of something else.</summary>
    public double? MoreMl { get; init; }

    /// <summary>Grams.</summary>
    public double? Grams { get; init; }

    /// <summary>Grams at least.</summary>
    public double? MinGrams { get; init; }

    /// <summary>Grams at most.</summary>
    public double? MaxGrams { get; init; }

    /// <summary>A share, 0..1.</summary>
    public double? Share { get; init; }

    /// <summary>Degrees Celsius.</summary>
    public double? HeatC { get; init; }

    /// <summary>Days.</summary>
    public double? Days { get; init; }

    /// <summary>Days that a dose lasts.</summary>
    public int? LastsDays { get; init; }

    /// <summary>An amount in kitchen measures.</summary>
    public string? Amount { get; init; }

    /// <summary>Another amount in kitchen measures.</summary>
    public string? Total { get; init; }

    /// <summary>A name, or what an owner noted.</summary>
    public string? Text { get; init; }

    /// <summary>What goes in.</summary>
    public Ingredient? Ingredient { get; init; }
}
