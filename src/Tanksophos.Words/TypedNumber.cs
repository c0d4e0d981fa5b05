using System.Globalization;
using System.Text.Json.Nodes;

namespace Tanksophos.Words;

/// <summary>A number as somebody typed it into a form, on its way to the codec.</summary>
public static class TypedNumber
{
    /// <summary>The number; what is none goes on as it is, and the codec says what it accepts.</summary>
    public static JsonValue Of(string text) =>
        double.TryParse(text.Replace(',', '.'), NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value)
            && double.IsFinite(value) ? JsonValue.Create(value) : JsonValue.Create(text);
}
