namespace Tanksophos.Core.Rigs;

/// <summary>US measures in the units that everything is computed in, by definition.</summary>
public static class UsMeasures
{
    /// <summary>Litres of a gallon.</summary>
    public const double GallonL = 3.785411784;

    /// <summary>Millilitres of a fluid ounce.</summary>
    public const double FluidOunceMl = 1000 * GallonL / 128;

    /// <summary>Millilitres of a cup.</summary>
    public const double CupMl = 8 * FluidOunceMl;

    /// <summary>Millilitres of a teaspoon.</summary>
    public const double TeaspoonMl = FluidOunceMl / 6;

    /// <summary>Grams of a pound.</summary>
    public const double PoundG = 453.59237;

    /// <summary>Grams of an ounce by weight.</summary>
    public const double OunceG = PoundG / 16;

    /// <summary>Metres of a foot.</summary>
    public const double FootM = 0.3048;
}
