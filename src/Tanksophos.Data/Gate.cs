using System.Text;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Data;

/// <summary>Thrown when something on its way into the database would be refused by the reader that has to read it later. Nothing was written.</summary>
public sealed class NotStorableException(IReadOnlyList<Problem> problems, Exception? inner = null) : Exception(string.Join("; ", problems), inner)
{
    /// <summary>What is wrong, by path, with what is accepted.</summary>
    public IReadOnlyList<Problem> Problems { get; } = problems;
}

/// <summary>
/// The one way in: whatever is stored as JSON is written here and read back at once by its own codec. From runs, forms, imports, the API and the shelf alike
/// nothing reaches the database that could not be read again.
/// </summary>
internal static class Gate
{
    /// <exception cref="NotStorableException">The reader would refuse it.</exception>
    public static byte[] Entry(LogEntry entry) => Passed(() => EntryCodec.Write(entry), utf8 => EntryCodec.Read(utf8, null).Errors);

    /// <exception cref="NotStorableException">The reader would refuse it.</exception>
    public static string Rig(Rig rig) => Text(Passed(() => RigCodec.Write(rig), utf8 => RigCodec.Read(utf8).Errors));

    /// <exception cref="NotStorableException">The reader would refuse it.</exception>
    public static string Itinerary(Itinerary itinerary) => Text(Passed(() => ItineraryFormat.Write(itinerary), utf8 => ItineraryFormat.Read(utf8).Errors));

    /// <exception cref="NotStorableException">The reader would refuse it.</exception>
    public static string Script(RunScript script) => Text(Passed(() => Encoding.UTF8.GetBytes(RunCodec.Write(script)), utf8 =>
    {
        RunCodec.Read(Text(utf8));
        return [];
    }));

    /// <exception cref="NotStorableException">A text in it holds what no reader takes, or is longer than any reader takes.</exception>
    public static void Tap(RunEvent tap)
    {
        if (tap.Key.Length is 0 or > RunCodec.LongestKey || tap.Step.Length > RunCodec.LongestKey
            || tap.Said.Any(s => s.Value.Length > RunCodec.LongestSaid || s.Key.Length > RunCodec.LongestKey))
            throw new NotStorableException([new Problem("taps", $"texts of at most {RunCodec.LongestKey} characters are accepted")]);
    }

    private static string Text(byte[] utf8) => Encoding.UTF8.GetString(utf8);

    private static byte[] Passed(Func<byte[]> write, Func<byte[], IReadOnlyList<Problem>> read)
    {
        byte[] written;
        IReadOnlyList<Problem> errors;
        try
        {
            written = write();
            errors = read(written);
        }
        // a number that is none, a value that is no code
        catch (Exception e) when (e is ArgumentException or InvalidDataException or KeyNotFoundException or System.Text.Json.JsonException)
        {
            throw new NotStorableException([new Problem("", e.Message)], e);
        }
        return errors.Count == 0 ? written : throw new NotStorableException(errors);
    }
}
