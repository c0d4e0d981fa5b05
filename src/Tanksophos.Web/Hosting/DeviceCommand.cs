using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Data;

namespace Tanksophos.Web.Hosting;

/// <summary>The command <c>device</c>: registers a device, also while the program runs.</summary>
internal static class DeviceCommand
{
    public static int Run(string? data, string name, string? rigName, TextWriter output, TextWriter errors)
    {
        if (!MeasurementFormat.IsName(name))
        {
            errors.WriteLine($"name: {MeasurementFormat.NameAccepted}.");
            return 2;
        }
        try
        {
            var folder = new DataFolder(data ?? Server.UsualDataFolder);
            folder.Migrate(SystemClock.Instance.GetCurrentInstant());
            using var context = folder.Open();
            var rigs = new RigStore(context, SystemClock.Instance).Rigs();
            var rig = rigName is null ? rigs is [var only] ? only : null : rigs.FirstOrDefault(r => r.Rig.Name == rigName);
            if (rig is null)
            {
                errors.WriteLine(rigs.Count == 0 ? "--rig: there is no rig yet."
                    : $"--rig: one of {string.Join(", ", rigs.Select(r => r.Rig.Name))} is accepted.");
                return 2;
            }
            if (new DeviceStore(context, SystemClock.Instance).Register(rig.Id, name) is not { } token)
            {
                errors.WriteLine($"name: a rig has at most {DeviceStore.MostDevices} devices. Remove one on the page Devices first.");
                return 2;
            }
            output.WriteLine(token);
            return 0;
        }
        catch (UnusableDatabaseException e)
        {
            errors.WriteLine(e.Message);
            return 2;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or Microsoft.Data.Sqlite.SqliteException)
        {
            errors.WriteLine($"--data: the folder cannot be used: {e.Message}");
            return 2;
        }
    }
}
