using NodaTime;

namespace Tanksophos.Core.Devices;

/// <summary>What a value measures.</summary>
public enum Quantity
{
    /// <summary>Which lights of a probe panel are on.</summary>
    Lit,

    /// <summary>A level in percent.</summary>
    Percent,

    /// <summary>Litres that ran through a meter since it was made.</summary>
    LitersTotal,

    /// <summary>A temperature in degrees Celsius.</summary>
    Celsius,

    /// <summary>A valve's switch.</summary>
    Valve,

    /// <summary>Resistance of a probe in ohms.</summary>
    Ohms,
}

/// <summary>One value of a measurement.</summary>
/// <param name="Channel">The device's word for it: <c>black</c>, <c>flow</c>, <c>valve.gray</c>.</param>
/// <param name="Quantity">What it is.</param>
/// <param name="Number">Percent, litres, degrees or ohms; 1 for an open valve, 0 for a closed one; null for lights.</param>
/// <param name="Lit">Ids of the probes whose lights are on; null for anything else.</param>
public sealed record MeasuredValue(string Channel, Quantity Quantity, double? Number, IReadOnlyList<string>? Lit);

/// <summary>What a device sent at once.</summary>
/// <param name="Device">Name of the device.</param>
/// <param name="At">The moment by the device's clock; null where it has none.</param>
/// <param name="Values">The values.</param>
public sealed record Measurement(string Device, OffsetDateTime? At, IReadOnlyList<MeasuredValue> Values)
{
    /// <summary>So far ahead a device's clock may be.</summary>
    public static readonly Duration Ahead = Duration.FromMinutes(5);

    /// <summary>So old a measurement may be: as long as raw ones are kept.</summary>
    public static readonly Duration Oldest = Duration.FromDays(7);
}

/// <summary>What a channel of a device is in a rig.</summary>
public enum BindingKind
{
    /// <summary>Kept, and not used.</summary>
    Unused,

    /// <summary>The panel of a tank: lights or percent.</summary>
    Panel,

    /// <summary>A water meter on what runs into a tank.</summary>
    Meter,

    /// <summary>The switch of a tank's valve.</summary>
    Valve,

    /// <summary>A thermometer in the bay.</summary>
    Thermometer,

    /// <summary>A thermometer outside.</summary>
    Outside,

    /// <summary>Resistance at a probe of a tank's panel.</summary>
    Probe,
}

/// <summary>What a channel stands for.</summary>
/// <param name="Channel">The device's word.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Tank">Id of the tank, for a panel, a meter, a valve.</param>
public sealed record DeviceBinding(string Channel, BindingKind Kind, string? Tank)
{
    private const string ValvePrefix = "valve.", OhmsPrefix = "ohms.", OutsideHint = "out";

    /// <summary>The probe that a channel of resistance means, by the last part of its name: <c>ohms.low</c>, <c>ohms.black.low</c>.</summary>
    public string Probe => Channel[(Channel.LastIndexOf('.') + 1)..];

    /// <summary>
    /// What a value probably stands for, by its name: a tank's id is its panel, <c>valve.</c> its valve, a meter counts into the first black tank.
    /// </summary>
    /// <param name="rig">The rig.</param>
    /// <param name="value">The value.</param>
    public static DeviceBinding Propose(Rigs.Rig rig, MeasuredValue value)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(value);
        var (kind, tank) = value.Quantity switch
        {
            Quantity.Lit or Quantity.Percent when rig.Find(value.Channel) is { } named => (BindingKind.Panel, named.Id),
            Quantity.Valve when value.Channel.StartsWith(ValvePrefix, StringComparison.Ordinal) && rig.Find(value.Channel[ValvePrefix.Length..]) is { } of
                => (BindingKind.Valve, of.Id),
            Quantity.LitersTotal when rig.Tanks.FirstOrDefault(t => t.Role == Rigs.TankRole.Black) is { } black => (BindingKind.Meter, black.Id),
            Quantity.Celsius when value.Channel.StartsWith(OutsideHint, StringComparison.OrdinalIgnoreCase) => (BindingKind.Outside, null),
            Quantity.Celsius => (BindingKind.Thermometer, null),
            Quantity.Ohms when value.Channel.StartsWith(OhmsPrefix, StringComparison.Ordinal) && ProbeOf(rig, value.Channel[OhmsPrefix.Length..]) is { } probed
                => (BindingKind.Probe, probed.Id),
            _ => (BindingKind.Unused, (string?)null),
        };
        return new DeviceBinding(value.Channel, kind, tank);
    }

    // "black.low" or "low": the first tank that has a probe of this name.
    private static Rigs.Tank? ProbeOf(Rigs.Rig rig, string name)
    {
        var point = name.LastIndexOf('.');
        var probe = name[(point + 1)..];
        return rig.Tanks.FirstOrDefault(t => (point < 0 || t.Id == name[..point]) && t.Monitor.Probes.Any(p => p.Id == probe));
    }

    /// <summary>Whether a channel of this quantity can be that.</summary>
    /// <param name="kind">What it should be.</param>
    /// <param name="quantity">What is measured.</param>
    public static bool Fits(BindingKind kind, Quantity quantity) => kind switch
    {
        BindingKind.Panel => quantity is Quantity.Lit or Quantity.Percent,
        BindingKind.Meter => quantity == Quantity.LitersTotal,
        BindingKind.Valve => quantity == Quantity.Valve,
        BindingKind.Thermometer or BindingKind.Outside => quantity == Quantity.Celsius,
        BindingKind.Probe => quantity == Quantity.Ohms,
        BindingKind.Unused => true,
    };
}
