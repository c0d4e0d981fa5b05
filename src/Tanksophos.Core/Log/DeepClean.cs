namespace Tanksophos.Core.Log;

/// <summary>What cleans a tank deeply: soaks and scrubs once they were dumped, reverse floods, a jet.</summary>
internal static class DeepClean
{
    /// <summary>Whether a treatment, once it was dumped, counts as one.</summary>
    /// <param name="recipe">The treatment.</param>
    public static bool Is(DoseRecipe recipe) =>
        recipe is DoseRecipe.TravelScrub or DoseRecipe.SoftenerSoak or DoseRecipe.IceScrub or DoseRecipe.SoapSoak or DoseRecipe.SanitizeBleach;

    /// <summary>Whether a flush counts as one: a jet, or two reverse floods.</summary>
    /// <param name="flush">The flush.</param>
    public static bool Is(FlushEntry flush)
    {
        ArgumentNullException.ThrowIfNull(flush);
        return flush.Method == FlushMethod.Jet || flush is { Method: FlushMethod.Reverse, Cycles.Count: >= 2 };
    }
}
