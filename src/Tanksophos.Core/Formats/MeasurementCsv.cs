using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace Tanksophos.Core.Formats;

/// <summary>
/// Measurements as a table: <c>device,at,channel,quantity,value</c>. The quantity is <c>lit</c> (probe ids separated by spaces, <c>-</c> for none),
/// <c>percent</c>, <c>litersTotal</c>, <c>celsius</c>, <c>valve</c> (open or closed) or <c>ohms</c>.
/// </summary>
public static class MeasurementCsv
{
    /// <summary>The columns, all of them needed but <c>at</c>.</summary>
    public static IReadOnlyList<string> Columns { get; } = ["device", "at", "channel", "quantity", "value"];

    /// <summary>Reads a table line by line, each line as a measurement in JSON.</summary>
    /// <param name="text">The file.</param>
    /// <param name="refused">Where lines that cannot be read are noted.</param>
    /// <returns>The number of each line, and what it says.</returns>
    public static IReadOnlyList<(int Line, byte[] Utf8)> Lines(string text, ICollection<string> refused)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(refused);
        var lines = new List<(int, byte[])>();
        var at = 1;
        try
        {
            var header = text.Split('\n', 2)[0];
            using var csv = new CsvReader(new StringReader(text.TrimStart('\uFEFF')), new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = header.Contains(';', StringComparison.Ordinal) ? ";" : ",",
                TrimOptions = TrimOptions.Trim,
                MissingFieldFound = null,
                PrepareHeaderForMatch = a => (a.Header ?? "").Trim().ToLowerInvariant(),
            });
            if (!csv.Read() || !csv.ReadHeader() || Columns.Where(c => c != "at").Any(c => csv.HeaderRecord?.All(h =>
                !h.Trim().Equals(c, StringComparison.OrdinalIgnoreCase)) != false))
            {
                refused.Add($"line 1: the columns {string.Join(", ", Columns)} are accepted");
                return [];
            }
            while (csv.Read())
            {
                at = csv.Parser.RawRow;
                string Field(string name) => csv.GetField(name) ?? "";
                var moment = csv.TryGetField<string>("at", out var said) ? said : null;
                lines.Add((at, Line(Field("device"), moment, Field("channel"), Field("quantity"), Field("value"))));
            }
        }
        catch (CsvHelperException)
        {
            refused.Add(string.Create(CultureInfo.InvariantCulture, $"line {at}: a quoted field does not end, or a quote stands inside a field"));
        }
        return lines;
    }

    private static byte[] Line(string device, string? at, string channel, string quantity, string value) => Json.Write(w =>
    {
        w.WriteStartObject();
        w.WriteString("device", device);
        if (!string.IsNullOrEmpty(at)) w.WriteString("at", at);
        w.WriteStartObject("values");
        w.WritePropertyName(channel);
        if (quantity == "valve") w.WriteStringValue(value);
        else
        {
            if (quantity != "ohms") w.WriteStartObject();
            if (quantity == "lit")
            {
                w.WriteStartArray("lit");
                foreach (var probe in value == "-" ? [] : value.Split(' ', StringSplitOptions.RemoveEmptyEntries)) w.WriteStringValue(probe);
                w.WriteEndArray();
            }
            else
            {
                if (quantity != "ohms") w.WritePropertyName(quantity);
                // What is no number is refused as the text that it is.
                if (double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number))
                    w.WriteNumberValue(number);
                else w.WriteStringValue(value);
            }
            if (quantity != "ohms") w.WriteEndObject();
        }
        w.WriteEndObject();
        w.WriteEndObject();
    });
}
