using Tanksophos.Core.Rigs;

namespace Tanksophos.Web.Drawing;

/// <summary>A bottle or a box with what is left in it, 48 wide and 72 high.</summary>
/// <param name="Outline">Path of its wall.</param>
/// <param name="FillY">Where its content begins.</param>
/// <param name="FillHeight">Height of the content.</param>
/// <param name="Spare">Full ones beside it.</param>
public sealed record Bottle(string Outline, double FillY, double FillHeight, int Spare)
{
    private const double Floor = 68, BottleTop = 22, BoxTop = 12;

    /// <summary>Draws the stock of a product; null while nobody knows what is left or how much a full one holds.</summary>
    public static Bottle? Of(Product product, double? left)
    {
        ArgumentNullException.ThrowIfNull(product);
        if (left is not { } amount || product.Holds is not > 0) return null;
        var holds = product.Holds.Value;
        // The opened one is drawn; what is beyond it stands beside it, full.
        var spare = Math.Max(0, (int)Math.Ceiling(amount / holds - 1e-6) - 1);
        var share = Math.Clamp(amount / holds - spare, 0, 1);
        var box = product.HoldsIn != DoseUnit.Ml;
        var top = box ? BoxTop : BottleTop;
        var height = share * (Floor - top);
        return new Bottle(box ? "M8 12L14 6H40L40 62L34 68H8ZM8 12H34V68M34 12L40 6"
            : "M18 4H30V12C38 15 40 18 40 24V64A4 4 0 0 1 36 68H12A4 4 0 0 1 8 64V24C8 18 10 15 18 12Z", Floor - height, height, spare);
    }
}
