using System.Text;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Tests;

/// <summary>Rigs and logs for the tests.</summary>
internal static class Given
{
    public const double BlackL = 151.4;

    public static readonly OffsetDateTime Start = new LocalDateTime(2026, 5, 1, 8, 0).WithOffset(Offset.FromHours(-6));

    public static Rig Rig(MonitorKind monitor = MonitorKind.Probes, int people = 2) => new("Test rig", "van", people,
    [
        new Tank("black", "Black", TankRole.Black, BlackL)
        {
            RoomAboveFullL = 12,
            Monitor = monitor switch
            {
                MonitorKind.Probes => TankMonitor.WithProbes(new Probe("low", "1/3", 0.33), new Probe("mid", "2/3", 0.66), new Probe("top", "Full", 0.92)),
                MonitorKind.Percent => TankMonitor.Percent,
                _ => TankMonitor.None,
            },
        },
        new Tank("gray", "Gray", TankRole.Gray, 189.3) { Monitor = TankMonitor.Percent },
    ]);

    /// <summary>A moment so many days and hours after the start.</summary>
    public static OffsetDateTime At(double days, double hours = 0) => Start.Plus(Duration.FromDays(days) + Duration.FromHours(hours));

    public static DumpEntry Dump(OffsetDateTime at, string tank = "black") => new() { At = at, Tank = tank };

    public static StayEntry Stay(OffsetDateTime at, Hookup hookup) => new() { At = at, Hookup = hookup };

    public static ReadingEntry Lamps(OffsetDateTime at, params string[] lit) => new() { At = at, Tank = "black", Via = ReadingVia.Panel, Lit = lit };

    public static ReadingEntry Looked(OffsetDateTime at, double fraction, string tank = "black") =>
        new() { At = at, Tank = tank, Via = ReadingVia.Sight, Fraction = fraction };

    public static Logbook Book(Rig rig, OffsetDateTime asOf, params LogEntry[] entries) => new(rig, entries, asOf);

    public static byte[] Utf8(string text) => Encoding.UTF8.GetBytes(text);

    /// <summary>A logbook document with the test rig and these entries, as text.</summary>
    public static string Document(string entries) =>
        $$"""{ "format": "tanksophos-logbook", "version": 1, "rig": {{Encoding.UTF8.GetString(RigCodec.Write(Rig()))}}, "entries": [{{entries}}] }""";
}
