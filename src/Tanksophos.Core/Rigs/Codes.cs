using System.Runtime.CompilerServices;
using System.Text;

namespace Tanksophos.Core.Rigs;

/// <summary>
/// The words of the open formats for the values of an enumeration: <c>GrayDrain</c> is written <c>gray-drain</c>.
/// One rule for all codes, so that documents, database and forms cannot drift apart.
/// </summary>
/// <typeparam name="T">An enumeration whose members are the codes of one field, counted from an <see cref="int"/>.</typeparam>
public static class Codes<T> where T : struct, Enum
{
    private static readonly CodeTable Table = new(typeof(T));

    /// <summary>All codes of the field, in the order in which they are declared.</summary>
    public static IReadOnlyList<string> All => Table.All;

    /// <summary>The code for <paramref name="value"/>.</summary>
    /// <exception cref="KeyNotFoundException">The value is not a member of the enumeration.</exception>
    public static string Word(T value) => Table.Word(Unsafe.As<T, int>(ref value));

    /// <summary>Reads a code; letters must match exactly (codes are lower case).</summary>
    /// <returns>False if the text is not one of <see cref="All"/>.</returns>
    public static bool TryParse(string? text, out T value)
    {
        value = default;
        if (text is null || !Table.TryFind(text, out var number)) return false;
        value = Unsafe.As<int, T>(ref number);
        return true;
    }
}

/// <summary>
/// The words of one enumeration. Made without its type, since what is generic is compiled anew for each of some fifty enumerations, and that was a fifth of
/// every start.
/// </summary>
internal sealed class CodeTable
{
    private readonly Dictionary<int, string> words = [];
    private readonly Dictionary<string, int> values = new(StringComparer.Ordinal);

    /// <exception cref="ArgumentException">The enumeration does not count from an int.</exception>
    public CodeTable(Type type)
    {
        if (Enum.GetUnderlyingType(type) != typeof(int)) throw new ArgumentException("An enumeration of codes counts from an int.", nameof(type));
        var names = Enum.GetNames(type);
        var numbers = (int[])Enum.GetValuesAsUnderlyingType(type);
        // Grades A..F stay capitals; a unit of one letter (G for grams) is written small.
        var grades = Array.TrueForAll(names, n => n.Length == 1);
        var all = new string[names.Length];
        for (var i = 0; i < names.Length; i++)
        {
            var word = all[i] = words[numbers[i]] = grades ? names[i] : Kebab(names[i]);
            values[word] = numbers[i];
            // Documents and databases of earlier versions hold units of one letter as capitals: those are read too.
            if (word.Length == 1) values[names[i]] = numbers[i];
        }
        All = all;
    }

    public IReadOnlyList<string> All { get; }

    public string Word(int value) => words[value];

    public bool TryFind(string word, out int value) => values.TryGetValue(word, out value);

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
