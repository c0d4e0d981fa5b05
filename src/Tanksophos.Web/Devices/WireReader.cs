using System.Globalization;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Data;

namespace Tanksophos.Web.Devices;

/// <summary>Brings messages from wires that answer nothing to the gateway: what cannot be read is noted on the device's page.</summary>
internal static class WireReader
{
    private static readonly TimeSpan FullPause = TimeSpan.FromMilliseconds(200);

    /// <summary>The rig that a word of a topic or folder names: by its number, or by its name in small letters with dashes.</summary>
    public static StoredRig? RigOf(RigStore store, string word)
    {
        var rigs = store.Rigs();
        return rigs.FirstOrDefault(r => r.Id.ToString(CultureInfo.InvariantCulture) == word) ?? rigs.FirstOrDefault(r => SlugOf(r.Rig.Name) == word);
    }

    /// <summary>A rig's name as a word of a topic.</summary>
    public static string SlugOf(string name) => string.Join('-', new string([.. name.ToLowerInvariant().Select(c => char.IsAsciiLetterOrDigit(c) ? c : ' ')])
        .Split(' ', StringSplitOptions.RemoveEmptyEntries));

    /// <summary>Takes a message in, and waits while the gateway is full.</summary>
    /// <param name="scopes">Scopes of the services.</param>
    /// <param name="gateway">The gateway.</param>
    /// <param name="rigWord">What names the rig.</param>
    /// <param name="device">The one device that may speak here; null where any may.</param>
    /// <param name="body">The message.</param>
    /// <param name="now">When it came.</param>
    /// <param name="stale">Whether it may be an old one, which counts only if it says when it was measured.</param>
    /// <param name="stop">Stops.</param>
    /// <returns>What became of it; null where there is no such rig or nothing could be read.</returns>
    public static async Task<MeasurementsTaken?> TakeAsync(IServiceScopeFactory scopes, MeasurementGateway gateway, string rigWord, string? device, byte[] body,
        Instant now, bool stale, CancellationToken stop)
    {
        StoredRig? rig;
        ReadResult<MeasurementsRead> read;
        using (var scope = scopes.CreateScope())
        {
            rig = RigOf(scope.ServiceProvider.GetRequiredService<RigStore>(), rigWord);
            if (rig is null) return null;
            read = MeasurementFormat.Read(body, now);
            if (read.Value is null)
            {
                var said = new Refusal(now, read.Errors[0].Path, read.Errors[0].Message);
                if (device is not null) scope.ServiceProvider.GetRequiredService<DeviceStore>().Refuse(rig.Id, device, [said]);
                return null;
            }
        }
        var message = read.Value;
        if (stale) message = message with { Taken = [.. message.Taken.Where(t => t.Measurement.At is not null)] };
        while (true)
        {
            if (await gateway.TakeAsync(rig, device, message, stop) is { } taken) return taken;
            await Task.Delay(FullPause, stop);
        }
    }
}
