using NodaTime;
using Tanksophos.Core.Devices;
using Tanksophos.Core.Weather;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>What is known around a rig beside its log.</summary>
/// <param name="Weather">The weather where it stands; null if nothing is known of it.</param>
/// <param name="Silent">Devices that should measure and say nothing, with their tanks.</param>
/// <param name="Filling">Tanks that are nearly full by their device, and into which more is running.</param>
public sealed record Around(WeatherHere? Weather, IReadOnlyList<(string Device, IReadOnlyList<string> Tanks)> Silent, IReadOnlyList<string> Filling)
{
    /// <summary>Nothing is known.</summary>
    public static Around Nothing { get; } = new(null, [], []);
}

/// <summary>What devices and the weather tell of a rig's surroundings now.</summary>
/// <param name="devices">The devices.</param>
/// <param name="weather">The weather.</param>
/// <param name="clock">The time.</param>
public sealed class Surroundings(DeviceStore devices, WeatherStore weather, IClock clock)
{
    // A device is missed after an hour, and no longer after a fortnight; a thermometer counts for an hour.
    private static readonly Duration Missed = Duration.FromHours(1), Forgotten = Duration.FromDays(14), Counts = Duration.FromHours(1);

    /// <summary>What is known around a rig.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="picture">What is believed of it: where it stands.</param>
    public Around Of(StoredRig rig, RigSnapshot picture)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(picture);
        var (now, force) = (clock.GetCurrentInstant(), picture.Belief.InForce);
        var known = devices.Of(rig.Id).Where(d => d.State == DeviceState.Accepted).ToList();
        var channels = known.SelectMany(d => d.Bindings.Where(b => b.Kind != BindingKind.Unused && d.Channels.ContainsKey(b.Channel))
            .Select(b => (Device: d, Binding: b, State: d.Channels[b.Channel]))).ToList();
        var today = now.InZone(force.Zone).Date;
        var days = weather.Book(rig.Id).Days(force.Place, today, today.PlusDays(WeatherBook.DaysAhead));
        double? bay = Recent(BindingKind.Thermometer) is { } b ? Number(b.Last) : null, outside = Recent(BindingKind.Outside)?.DayMost;
        return new Around(days.Count == 0 && bay is null && outside is null ? null
            : new WeatherHere(days) { Place = force.Place, BayC = bay, OutsideHighC = outside },
            [.. channels.Where(c => Distiller.Trouble(c.State, now) == DeviceTrouble.Silent && Age(c.State) is var age && age > Missed && age < Forgotten)
                .GroupBy(c => c.Device.Name).Select(g => (g.Key, (IReadOnlyList<string>)[.. g.Select(c => c.Binding.Tank)
                    .Where(t => rig.Rig.Find(t) is not null).Select(t => t!).Distinct()]))],
            [.. channels.Where(c => c.Binding is { Kind: BindingKind.Panel, Tank: { } t } && rig.Rig.Find(t) is not null && Distiller.Fills(c.State, now))
                .Select(c => c.Binding.Tank!).Distinct()]);

        Duration Age(ChannelState state) => now - Instant.FromUnixTimeSeconds((long)state.LastAt);

        ChannelState? Recent(BindingKind kind) => channels.Where(c => c.Binding.Kind == kind && c.State.Quantity == Quantity.Celsius && Age(c.State) <= Counts)
            .Select(c => c.State).MaxBy(s => s.LastAt);
    }

    private static double? Number(string text) =>
        double.TryParse(text, System.Globalization.CultureInfo.InvariantCulture, out var number) ? number : null;
}
