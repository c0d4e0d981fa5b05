using System.Collections.Frozen;
using System.Text;

namespace Tanksophos.Core.Rigs;

/// <summary>
/// The words of the open formats for the values of an enumeration: <c>GrayDrain</c> is written <c>gray-drain</c>.
/// One rule for all codes, so that documents, database and forms cannot drift apart.
/// </summary>
/// <typeparam name="T">An enumeration whose members are the codes of one field.</typeparam>
public static class Codes<T> where T : struct, Enum
{
    // Grades A..F stay capitals; a unit of one letter (G for grams) is written small.
    private static readonly bool Grades = Enum.GetNames<T>().All(n => n.Length == 1);

    private static readonly FrozenDictionary<T, string> Words =
        Enum.GetValues<T>().ToFrozenDictionary(v => v, v => Grades ? v.ToString() : Kebab(v.ToString()));

    // Documents and databases of earlier versions hold units of one letter as capitals: those are read too.
    private static readonly FrozenDictionary<string, T> Values =
        Words.SelectMany(p => new[] { (Word: p.Value, Value: p.Key), (Word: p.Value.Length == 1 ? p.Key.ToString() : p.Value, Value: p.Key) })
            .Distinct().ToFrozenDictionary(p => p.Word, p => p.Value, StringComparer.Ordinal);

    /// <summary>All codes of the field, in the order in which they are declared.</summary>
    public static IReadOnlyList<string> All { get; } = [.. Enum.GetValues<T>().Select(v => Words[v])];

    /// <summary>The code for <paramref name="value"/>.</summary>
    /// <exception cref="KeyNotFoundException">The value is not a member of the enumeration.</exception>
    public static string Word(T value) => Words[value];

    /// <summary>Reads a code; letters must match exactly (codes are lower case).</summary>
    /// <returns>False if the text is not one of <see cref="All"/>.</returns>
    public static bool TryParse(string? text, out T value)
    {
        value = default;
        return text is not null && Values.TryGetValue(text, out value);
    }

    private static string Kebab(string name)
    {
        var text = new StringBuilder(name.Length + 4);
        foreach (var c in name)
        {
            if (char.IsUpper(c) && text.Length > 0) text.Append('-');
            text.Append(char.ToLowerInvariant(c));
        }
        return text.ToString();
    }
}
