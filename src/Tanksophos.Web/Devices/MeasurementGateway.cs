using System.Threading.Channels;
using NodaTime;
using Tanksophos.Core.Devices;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Devices;

/// <summary>What became of a message of measurements.</summary>
/// <param name="Accepted">How many were taken; they are on the disk.</param>
/// <param name="Refused">The others, with their reasons.</param>
public sealed record MeasurementsTaken(int Accepted, IReadOnlyList<RefusedMeasurement> Refused);

/// <summary>
/// The one way in for everything that measures, by whatever wire it comes. Measurements of many devices are written together; nothing is acknowledged before it
/// is on the disk. What they tell is made into log entries beside, from where it was left off, so that a crash in between loses nothing and writes nothing
/// twice.
/// </summary>
public sealed partial class MeasurementGateway(IServiceScopeFactory scopes, IClock clock, AfterPrograms after, ILogger<MeasurementGateway> log)
    : BackgroundService
{
    // So many may wait to be written: a flood is turned away, not swallowed.
    private const int MostWaiting = 20_000, MostTogether = 4_000;

    private static readonly TimeSpan LooksAtTheClock = TimeSpan.FromSeconds(15), GoesOverAtMost = TimeSpan.FromSeconds(1), TidiesEvery = TimeSpan.FromHours(1);

    private readonly Channel<Pending> waiting = Channel.CreateBounded<Pending>(new BoundedChannelOptions(MostWaiting) { SingleReader = true });

    private sealed record Pending(IncomingMeasurement Incoming, TaskCompletionSource Done);

    /// <summary>Takes measurements of a rig.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="only">The one device that may speak here; null where any may.</param>
    /// <param name="read">What was read.</param>
    /// <param name="stop">Gives up waiting; what was handed in is taken nevertheless.</param>
    /// <returns>What became of it; null where too much is waiting to be written: it is to be sent again.</returns>
    public async Task<MeasurementsTaken?> TakeAsync(StoredRig rig, string? only, MeasurementsRead read, CancellationToken stop)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(read);
        var now = clock.GetCurrentInstant();
        var refused = read.Refused.ToList();
        var taken = new List<Pending>();
        using (var scope = scopes.CreateScope())
        {
            var store = scope.ServiceProvider.GetRequiredService<DeviceStore>();
            var devices = store.Of(rig.Id).ToDictionary(d => d.Name);
            var notes = new Dictionary<string, List<Refusal>>();
            foreach (var (index, measurement) in read.Taken)
            {
                var problem = only is not null && measurement.Device != only ? new Problem("device", $"this token speaks for '{only}' only")
                    : Wrong(rig.Rig, devices.GetValueOrDefault(measurement.Device), measurement);
                if (problem is null)
                    taken.Add(new Pending(new IncomingMeasurement(rig.Id, measurement, now),
                        new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)));
                else
                {
                    refused.Add(new RefusedMeasurement(index, problem.Path, problem.Message));
                    Note(only ?? measurement.Device, problem); // on the page of whoever spoke
                }
            }
            if (only is not null) foreach (var r in read.Refused) Note(only, new Problem(r.Path, r.Message));
            foreach (var (device, said) in notes) store.Refuse(rig.Id, device, said);

            void Note(string device, Problem problem)
            {
                if (!notes.TryGetValue(device, out var list)) notes[device] = list = [];
                list.Add(new Refusal(now, problem.Path, problem.Message));
            }
        }
        foreach (var pending in taken)
            if (!waiting.Writer.TryWrite(pending)) return null;
        foreach (var pending in taken) await pending.Done.Task.WaitAsync(stop);
        return new MeasurementsTaken(taken.Count, [.. refused.OrderBy(r => r.Index)]);
    }

    // What the rig does not have cannot be measured there.
    private static Problem? Wrong(Rig rig, StoredDevice? device, Measurement measurement)
    {
        foreach (var value in measurement.Values)
        {
            var binding = device?.Bindings.FirstOrDefault(b => b.Channel == value.Channel) ?? DeviceBinding.Propose(rig, value);
            if (binding.Kind == BindingKind.Panel && value.Lit is { } lit && rig.Find(binding.Tank) is { } tank
                && lit.FirstOrDefault(l => tank.Monitor.Probes.All(p => p.Id != l)) is { } unknown)
                return new Problem($"values.{value.Channel}.lit", tank.Monitor.Probes.Count == 0 ? $"the panel of '{tank.Id}' has no lights"
                    : $"'{unknown}' is no light of '{tank.Id}': accepted are {string.Join(", ", tank.Monitor.Probes.Select(p => p.Id))}");
            if (device is null && binding.Kind == BindingKind.Unused && value.Quantity == Quantity.Lit)
                return new Problem($"values.{value.Channel}", $"no tank '{value.Channel}': accepted are {string.Join(", ", rig.Tanks.Select(t => t.Id))}");
        }
        return null;
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var touched = new HashSet<(int RigId, int DeviceId)>();
        var flowing = new HashSet<(int RigId, int DeviceId)>(); // a meter that falls silent ends its flow by the clock
        var (wentOver, looked, tidied) = (0L, 0L, 0L);
        try
        {
            // What was taken before the program ended, and not gone over yet.
            foreach (var device in Accepted()) GoOver(device);
            while (true)
            {
                using (var pause = CancellationTokenSource.CreateLinkedTokenSource(stoppingToken))
                {
                    pause.CancelAfter(touched.Count > 0 ? GoesOverAtMost : flowing.Count > 0 ? LooksAtTheClock : TidiesEvery);
                    try
                    {
                        await waiting.Reader.WaitToReadAsync(pause.Token);
                    }
                    catch (OperationCanceledException) when (!stoppingToken.IsCancellationRequested)
                    {
                        // nothing came: time to look at the clock
                    }
                }
                Write(touched);
                var ticks = Environment.TickCount64;
                if (touched.Count > 0 && ticks - wentOver >= GoesOverAtMost.TotalMilliseconds)
                {
                    wentOver = ticks;
                    foreach (var device in touched.ToList()) GoOver(device);
                    touched.Clear();
                }
                if (flowing.Count > 0 && ticks - looked >= LooksAtTheClock.TotalMilliseconds)
                {
                    looked = ticks;
                    foreach (var device in flowing.ToList()) GoOver(device);
                }
                if (ticks - tidied >= TidiesEvery.TotalMilliseconds)
                {
                    tidied = ticks;
                    Tidy();
                }
            }
        }
        catch (OperationCanceledException)
        {
            // What was handed in is on the disk before the program ends; what comes now is turned away, and sent again.
            waiting.Writer.TryComplete();
            while (waiting.Reader.TryPeek(out _)) Write(touched);
        }

        void GoOver((int RigId, int DeviceId) device)
        {
            if (Distill(device.RigId, device.DeviceId)) flowing.Add(device);
            else flowing.Remove(device);
        }
    }

    private List<(int RigId, int DeviceId)> Accepted()
    {
        try
        {
            using var scope = scopes.CreateScope();
            return [.. scope.ServiceProvider.GetRequiredService<DeviceStore>().Accepted().Select(d => (d.RigId, d.Id))];
        }
        catch (Exception e) when (e is not OperationCanceledException) // with the next measurement it is tried again
        {
            NotTaken(log, 0, e);
            return [];
        }
    }

    private void Tidy()
    {
        try
        {
            using var scope = scopes.CreateScope();
            scope.ServiceProvider.GetRequiredService<DeviceStore>().Tidy();
        }
        catch (Exception e) when (e is not OperationCanceledException) // in an hour again
        {
            NotTidied(log, e);
        }
    }

    private void Write(HashSet<(int RigId, int DeviceId)> touched)
    {
        var together = new List<Pending>();
        while (together.Count < MostTogether && waiting.Reader.TryRead(out var pending)) together.Add(pending);
        if (together.Count == 0) return;
        try
        {
            using var scope = scopes.CreateScope();
            var rigs = scope.ServiceProvider.GetRequiredService<RigStore>();
            var devices = scope.ServiceProvider.GetRequiredService<DeviceStore>();
            touched.UnionWith(devices.Take([.. together.Select(p => p.Incoming)], id => rigs.Find(id)?.Rig));
            foreach (var pending in together) pending.Done.TrySetResult();
        }
        catch (Exception e) when (e is not OperationCanceledException) // whoever sent it is told, and sends it again
        {
            NotTaken(log, together.Count, e);
            foreach (var pending in together) pending.Done.TrySetException(e);
        }
    }

    // Goes over what came of a device since the last time, and writes what it tells into the log. Says whether a flow is under way.
    private bool Distill(int rigId, int deviceId)
    {
        try
        {
            using var scope = scopes.CreateScope();
            var services = scope.ServiceProvider;
            var (store, devices) = (services.GetRequiredService<RigStore>(), services.GetRequiredService<DeviceStore>());
            if (store.Find(rigId) is not { } rig || devices.Find(rigId, deviceId) is not { State: DeviceState.Accepted } device) return false;
            var force = services.GetRequiredService<RigCache>().Now(rig, store).Advice.Circumstances;
            var zone = force.StatedZone ?? CurrentRequest.SystemZone;
            while (true)
            {
                var (fresh, cursor) = devices.After(deviceId);
                var distiller = new Distiller(rig.Rig, device.Name, device.Bindings, zone, device.Channels);
                List<LogEntry> entries = [.. fresh.SelectMany(m => distiller.Feed(m.At, m.Values))];
                if (fresh.Count == 0) entries.AddRange(distiller.Until(clock.GetCurrentInstant()));
                // A run writes down its own water; a flow is known to be over only after it stood still for a while.
                var runs = services.GetRequiredService<RunStore>();
                entries.RemoveAll(e => e is WaterEntry && runs.Covers(rigId, e.Instant, Distiller.FlowPause));
                // A valve that is as the log says tells nothing new.
                foreach (var first in entries.OfType<ValveEntry>().DistinctBy(v => v.Tank).ToList())
                    if (force.IsOpen(first.Tank!) == (first.State == ValveState.Open)) entries.Remove(first);
                if (entries.Count > 0 && Record(services, rig, device.Name, entries)) after.Written(rigId);
                devices.Keep(deviceId, distiller.States, cursor);
                if (fresh.Count == 0) return distiller.States.Values.Any(c => c.FlowFrom is not null);
                device = device with { Channels = distiller.States };
            }
        }
        catch (Exception e) when (e is not OperationCanceledException) // the measurements are kept: the next time it is tried again
        {
            NotGoneOver(log, deviceId, e);
            return false;
        }
    }

    private static bool Record(IServiceProvider services, StoredRig rig, string device, IReadOnlyList<LogEntry> entries)
    {
        var store = services.GetRequiredService<RigStore>();
        services.GetRequiredService<AfterWriting>().Before(rig);
        var written = false;
        foreach (var entry in entries)
        {
            try
            {
                written |= store.Writer.Record(rig.Id, [entry], device).New.Count > 0;
            }
            catch (EntryConflictException)
            {
                // somebody's own entry has this id: theirs stands
            }
        }
        return written;
    }

    [LoggerMessage(LogLevel.Warning, "{Count} measurements were not taken; they are to be sent again")]
    private static partial void NotTaken(ILogger log, int count, Exception e);

    [LoggerMessage(LogLevel.Warning, "Old measurements were not summed up")]
    private static partial void NotTidied(ILogger log, Exception e);

    [LoggerMessage(LogLevel.Warning, "What device {Device} measured was not gone over")]
    private static partial void NotGoneOver(ILogger log, int device, Exception e);
}
