namespace Tanksophos.Core.Rigs;

/// <summary>US measures in the units that everything is computed in.</summary>
public static class UsMeasures
{
    /// <summary>Litres of a US gallon, by definition.</summary>
    public const double GallonL = 3.785411784;
}
