using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using NodaTime;
using Tanksophos.Core.Devices;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Data;

/// <summary>A measurement that was refused.</summary>
/// <param name="At">When it came.</param>
/// <param name="Path">The field.</param>
/// <param name="Message">What was wrong with it, and what is accepted.</param>
public sealed record Refusal(Instant At, string Path, string Message);

/// <summary>Something that measures at a rig.</summary>
/// <param name="Id">Number.</param>
/// <param name="RigId">The rig.</param>
/// <param name="Name">Its name.</param>
/// <param name="State">Whether it counts.</param>
/// <param name="Bindings">What its channels are.</param>
/// <param name="Channels">What is remembered of its channels.</param>
/// <param name="Values">The last values.</param>
/// <param name="Taken">Measurements taken so far.</param>
/// <param name="Refused">Measurements refused so far.</param>
/// <param name="Refusals">The last refusals, the newest first.</param>
/// <param name="Behind">By how much its clock is behind ours.</param>
/// <param name="LastAt">When something last came of it; null for never.</param>
/// <param name="HasToken">Whether it has a token of its own.</param>
public sealed record StoredDevice(int Id, int RigId, string Name, DeviceState State, IReadOnlyList<DeviceBinding> Bindings,
    IReadOnlyDictionary<string, ChannelState> Channels, IReadOnlyList<MeasuredValue> Values, long Taken, long Refused, IReadOnlyList<Refusal> Refusals,
    Duration Behind, Instant? LastAt, bool HasToken);

/// <summary>A measurement on its way to the disk.</summary>
/// <param name="RigId">The rig.</param>
/// <param name="Measurement">The measurement.</param>
/// <param name="ReceivedAt">When it came.</param>
public sealed record IncomingMeasurement(int RigId, Measurement Measurement, Instant ReceivedAt);

/// <summary>What an hour's measurements of a channel came to.</summary>
/// <param name="Hour">Its beginning.</param>
/// <param name="Least">The least.</param>
/// <param name="Mean">The mean.</param>
/// <param name="Most">The most.</param>
public sealed record MeasuredHour(Instant Hour, double Least, double Mean, double Most);

/// <summary>
/// Keeps devices and what they measured: raw for days, by the hour for months. A measurement is taken once, however often it is sent.
/// </summary>
/// <param name="context">The database.</param>
/// <param name="clock">The time.</param>
public sealed class DeviceStore(TanksophosContext context, IClock clock)
{
    /// <summary>Hours are kept so long.</summary>
    public static readonly Duration HoursKept = Duration.FromDays(400);

    /// <summary>Most devices of a rig, and most that wait.</summary>
    public const int MostDevices = 60, MostWaiting = 20;

    // A meter that was not heard for so long does not count a fill that goes on.
    private static readonly Duration MeterSilent = Duration.FromSeconds(30);

    private static readonly (string Name, SqliteType Type)[] Parameters = [("$device", SqliteType.Integer), ("$at", SqliteType.Integer),
        ("$received", SqliteType.Integer), ("$values", SqliteType.Text), ("$print", SqliteType.Integer)];

    private const int RefusalsKept = 20, GoneOverAtOnce = 5000;

    /// <summary>The devices of a rig, by name.</summary>
    public IReadOnlyList<StoredDevice> Of(int rigId) =>
        [.. context.Devices.AsNoTracking().Where(d => d.RigId == rigId).OrderBy(d => d.Name).AsEnumerable().Select(Read)];

    /// <summary>A device of a rig; null for none.</summary>
    public StoredDevice? Find(int rigId, int id) =>
        context.Devices.AsNoTracking().FirstOrDefault(d => d.RigId == rigId && d.Id == id) is { } row ? Read(row) : null;

    /// <summary>The device with a token; null for none.</summary>
    public StoredDevice? ByToken(string? token)
    {
        if (string.IsNullOrEmpty(token) || token.Length > 200) return null;
        var hash = PeopleStore.HashOf(token);
        return context.Devices.AsNoTracking().FirstOrDefault(d => d.TokenHash == hash) is { } row ? Read(row) : null;
    }

    /// <summary>Registers a device, or gives one that is there a new token.</summary>
    /// <returns>Its token, which is not kept; null where the rig has too many devices.</returns>
    public string? Register(int rigId, string name)
    {
        using var transaction = context.Database.BeginTransaction();
        var row = context.Devices.FirstOrDefault(d => d.RigId == rigId && d.Name == name);
        if (row is null)
        {
            if (context.Devices.Count(d => d.RigId == rigId) >= MostDevices) return null;
            context.Devices.Add(row = New(rigId, name, DeviceState.Accepted));
        }
        var token = "tkd_" + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(20));
        (row.TokenHash, row.State) = (PeopleStore.HashOf(token), DeviceState.Accepted);
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return token;
    }

    /// <summary>Says whether a device counts.</summary>
    /// <returns>False if the rig has none of this number.</returns>
    public bool Set(int rigId, int id, DeviceState state) =>
        context.Devices.Where(d => d.RigId == rigId && d.Id == id).ExecuteUpdate(u => u.SetProperty(d => d.State, state)) == 1;

    /// <summary>Takes a device and all it measured away. What it wrote into the log stays.</summary>
    public bool Remove(int rigId, int id) => context.Devices.Where(d => d.RigId == rigId && d.Id == id).ExecuteDelete() == 1;

    /// <summary>Says what the channels of a device are.</summary>
    public bool Bind(int rigId, int id, IReadOnlyList<DeviceBinding> bindings) => context.Devices.Where(d => d.RigId == rigId && d.Id == id)
        .ExecuteUpdate(u => u.SetProperty(d => d.Bindings, JsonSerializer.Serialize(bindings, JsonSerializerOptions.Default))) == 1;

    /// <summary>Takes measurements, in one go: when this returns they are on the disk. One that was taken before is not taken again.</summary>
    /// <param name="incoming">The measurements, in the order in which they came.</param>
    /// <param name="rigs">The rigs, for what new channels probably are.</param>
    /// <returns>The devices that count and have something new.</returns>
    public IReadOnlyList<(int RigId, int DeviceId)> Take(IReadOnlyList<IncomingMeasurement> incoming, Func<int, Rig?> rigs)
    {
        ArgumentNullException.ThrowIfNull(incoming);
        ArgumentNullException.ThrowIfNull(rigs);
        using var transaction = context.Database.BeginTransaction();
        var connection = (SqliteConnection)context.Database.GetDbConnection();
        using var insert = connection.CreateCommand();
        insert.Transaction = (SqliteTransaction)transaction.GetDbTransaction();
        insert.CommandText = "INSERT OR IGNORE INTO Measurements (DeviceId, At, ReceivedAt, \"Values\", Print) "
            + "VALUES ($device, $at, $received, $values, $print)";
        var parameters = Parameters.Select(p => insert.Parameters.Add(p.Name, p.Type)).ToArray();
        var touched = new Dictionary<(int, string), DeviceRow?>();
        foreach (var (rigId, measurement, received) in incoming)
        {
            if (!touched.TryGetValue((rigId, measurement.Device), out var row))
                touched[(rigId, measurement.Device)] = row = context.Devices.FirstOrDefault(d => d.RigId == rigId && d.Name == measurement.Device)
                    ?? Waiting(rigId, measurement.Device);
            if (row is null || row.State == DeviceState.Ignored) continue;
            var json = Encoding.UTF8.GetString(MeasurementFormat.Write(measurement.Values));
            var at = measurement.At?.ToInstant() ?? received;
            (row.LastAt, row.LastValues) = (received, json);
            if (measurement.At is not null) row.BehindSeconds = Math.Round((received - at).TotalSeconds, 1);
            Propose(row, measurement.Values, rigs);
            if (row.State != DeviceState.Accepted) continue;
            parameters[0].Value = row.Id;
            parameters[1].Value = at.ToUnixTimeTicks();
            parameters[2].Value = received.ToUnixTimeTicks();
            parameters[3].Value = json;
            parameters[4].Value = BitConverter.ToInt64(SHA256.HashData(Encoding.UTF8.GetBytes(json)));
            if (insert.ExecuteNonQuery() == 1) row.Taken++;
        }
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return [.. touched.Values.OfType<DeviceRow>().Where(r => r.State == DeviceState.Accepted).Select(r => (r.RigId, r.Id))];
    }

    /// <summary>Notes refusals on the page of a device, if it is there.</summary>
    public void Refuse(int rigId, string device, IReadOnlyList<Refusal> refusals)
    {
        ArgumentNullException.ThrowIfNull(refusals);
        using var transaction = context.Database.BeginTransaction();
        if (context.Devices.FirstOrDefault(d => d.RigId == rigId && d.Name == device) is not { } row) return;
        row.Refused += refusals.Count;
        row.Refusals = JsonSerializer.Serialize(refusals.Reverse().Select(Kept.Of).Concat(Parse<List<Kept>>(row.Refusals) ?? []).Take(RefusalsKept));
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
    }

    /// <summary>What came of a device and was not gone over yet, in the order in which it came.</summary>
    /// <returns>The measurements, and the cursor to keep when they are done.</returns>
    public (IReadOnlyList<(Instant At, IReadOnlyList<MeasuredValue> Values)> New, long Cursor) After(int deviceId)
    {
        var cursor = context.Devices.AsNoTracking().Where(d => d.Id == deviceId).Select(d => d.Cursor).FirstOrDefault();
        var rows = context.Measurements.AsNoTracking().Where(m => m.DeviceId == deviceId && m.Id > cursor).OrderBy(m => m.Id).Take(GoneOverAtOnce)
            .Select(m => new { m.Id, m.At, m.Values }).ToList();
        return ([.. rows.Select(r => (r.At, MeasurementFormat.ReadValues(Encoding.UTF8.GetBytes(r.Values))))], rows.Count > 0 ? rows[^1].Id : cursor);
    }

    /// <summary>Keeps what is remembered of a device's channels, and how far it was gone over.</summary>
    public void Keep(int deviceId, IReadOnlyDictionary<string, ChannelState> channels, long cursor) => context.Devices.Where(d => d.Id == deviceId)
        .ExecuteUpdate(u => u
            .SetProperty(d => d.Channels, JsonSerializer.Serialize(channels, JsonSerializerOptions.Default)).SetProperty(d => d.Cursor, cursor));

    /// <summary>The devices that count, of every rig.</summary>
    public IReadOnlyList<StoredDevice> Accepted() =>
        [.. context.Devices.AsNoTracking().Where(d => d.State == DeviceState.Accepted).AsEnumerable().Select(Read)];

    /// <summary>Whether a meter counts what runs into a tank.</summary>
    public bool HasMeter(int rigId, string tank) => Meters(rigId, tank).Any();

    /// <summary>What the meters into a tank counted since a moment.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="tank">Id of the tank.</param>
    /// <param name="from">The moment.</param>
    /// <returns>Litres; null where no meter counts into it, or one fell silent: half a count is worse than none.</returns>
    public double? Metered(int rigId, string tank, Instant from)
    {
        double? litres = null;
        foreach (var (device, channel) in Meters(rigId, tank))
        {
            // What may stand in a name and means something in a pattern is taken as it is.
            var named = $"%\"{channel.Replace("_", "\\_", StringComparison.Ordinal)}\":%";
            var rows = context.Measurements.AsNoTracking().Where(m => m.DeviceId == device && EF.Functions.Like(m.Values, named, "\\"));
            if (rows.OrderByDescending(m => m.At).Select(m => new { m.ReceivedAt, m.Values }).FirstOrDefault() is not { } last
                || clock.GetCurrentInstant() - last.ReceivedAt > MeterSilent) return null;
            // What it showed before; where nothing came before, the first that came after.
            var first = rows.Where(m => m.At <= from).OrderByDescending(m => m.At).Select(m => m.Values).FirstOrDefault()
                ?? rows.OrderBy(m => m.At).Select(m => m.Values).First();
            litres = (litres ?? 0) + Math.Max(0, Total(last.Values, channel) - Total(first, channel));
        }
        return litres;
    }

    private IEnumerable<(int Device, string Channel)> Meters(int rigId, string tank) => Of(rigId).Where(d => d.State == DeviceState.Accepted)
        .SelectMany(d => d.Bindings.Where(b => b.Kind == BindingKind.Meter && b.Tank == tank).Select(b => (d.Id, b.Channel)));

    private static double Total(string json, string channel) =>
        MeasurementFormat.ReadValues(Encoding.UTF8.GetBytes(json)).FirstOrDefault(v => v.Channel == channel)?.Number ?? 0;

    /// <summary>The hours of a channel, the oldest first.</summary>
    public IReadOnlyList<MeasuredHour> Hours(int deviceId, string channel, Instant from) => [.. context.MeasurementHours.AsNoTracking()
        .Where(h => h.DeviceId == deviceId && h.Channel == channel && h.Hour >= from).OrderBy(h => h.Hour)
        .Select(h => new MeasuredHour(h.Hour, h.Least, h.Mean, h.Most))];

    /// <summary>All hours of a rig's devices, device by device.</summary>
    public IReadOnlyList<(string Device, string Channel, MeasuredHour Hour)> AllHours(int rigId) =>
        [.. (from d in context.Devices where d.RigId == rigId join h in context.MeasurementHours on d.Id equals h.DeviceId
             orderby d.Name, h.Channel, h.Hour select new { d.Name, h.Channel, h.Hour, h.Least, h.Mean, h.Most })
            .AsEnumerable().Select(h => (h.Name, h.Channel, new MeasuredHour(h.Hour, h.Least, h.Mean, h.Most)))];

    /// <summary>Raw measurements that are old go; what they came to stays by the hour, and goes after a year.</summary>
    /// <returns>How many raw ones went.</returns>
    public int Tidy()
    {
        var now = clock.GetCurrentInstant();
        var before = now - Measurement.Oldest - Duration.FromHours(1); // what may still come a second time is still known
        using var transaction = context.Database.BeginTransaction();
        var old = context.Measurements.AsNoTracking().Where(m => m.ReceivedAt < before).ToList();
        foreach (var hour in old.SelectMany(m => MeasurementFormat.ReadValues(Encoding.UTF8.GetBytes(m.Values)).Select(v => (m.DeviceId, v.Channel,
            Hour: Instant.FromUnixTimeSeconds(m.At.ToUnixTimeSeconds() / 3600 * 3600), Number: v.Number ?? v.Lit!.Count)))
            .GroupBy(v => (v.DeviceId, v.Channel, v.Hour)))
        {
            var row = context.MeasurementHours.Find(hour.Key.DeviceId, hour.Key.Channel, hour.Key.Hour);
            if (row is null)
                context.MeasurementHours.Add(row = new MeasurementHourRow
                {
                    DeviceId = hour.Key.DeviceId,
                    Channel = hour.Key.Channel,
                    Hour = hour.Key.Hour,
                    Least = double.PositiveInfinity,
                    Most = double.NegativeInfinity,
                });
            var numbers = hour.Select(h => h.Number).ToList();
            row.Mean = (row.Mean * row.Count + numbers.Sum()) / (row.Count + numbers.Count);
            (row.Least, row.Most, row.Count) = (Math.Min(row.Least, numbers.Min()), Math.Max(row.Most, numbers.Max()), row.Count + numbers.Count);
        }
        context.SaveChanges();
        context.Measurements.Where(m => m.ReceivedAt < before).ExecuteDelete();
        var oldest = now - HoursKept;
        context.MeasurementHours.Where(h => h.Hour < oldest).ExecuteDelete();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return old.Count;
    }

    private DeviceRow? Waiting(int rigId, string name)
    {
        if (context.Devices.Count(d => d.RigId == rigId && d.State == DeviceState.Waiting) >= MostWaiting
            || context.Devices.Count(d => d.RigId == rigId) >= MostDevices) return null;
        var row = New(rigId, name, DeviceState.Waiting);
        context.Devices.Add(row);
        context.SaveChanges();
        return row;
    }

    private DeviceRow New(int rigId, string name, DeviceState state) => new()
    {
        RigId = rigId,
        Name = name,
        State = state,
        Bindings = "[]",
        Channels = "{}",
        Refusals = "[]",
        LastValues = "{}",
        CreatedAt = clock.GetCurrentInstant(),
    };

    private static void Propose(DeviceRow row, IReadOnlyList<MeasuredValue> values, Func<int, Rig?> rigs)
    {
        var bindings = Parse<List<DeviceBinding>>(row.Bindings) ?? [];
        var fresh = values.Where(v => bindings.All(b => b.Channel != v.Channel)).ToList();
        if (fresh.Count == 0 || bindings.Count + fresh.Count > 2 * MeasurementFormat.MostValues || rigs(row.RigId) is not { } rig) return;
        bindings.AddRange(fresh.Select(v => DeviceBinding.Propose(rig, v)));
        row.Bindings = JsonSerializer.Serialize(bindings, JsonSerializerOptions.Default);
    }

    private static StoredDevice Read(DeviceRow row) => new(row.Id, row.RigId, row.Name, row.State, Parse<List<DeviceBinding>>(row.Bindings) ?? [],
        Parse<Dictionary<string, ChannelState>>(row.Channels) ?? [], MeasurementFormat.ReadValues(Encoding.UTF8.GetBytes(row.LastValues)), row.Taken,
        row.Refused,
        [.. (Parse<List<Kept>>(row.Refusals) ?? []).Select(r => r.Read())], Duration.FromSeconds(row.BehindSeconds), row.LastAt, row.TokenHash is not null);

    // What cannot be read is as if it were not there: it comes again with the next measurements.
    private static T? Parse<T>(string json) where T : class
    {
        try
        {
            return JsonSerializer.Deserialize<T>(json);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private sealed record Kept(long At, string Path, string Message)
    {
        public static Kept Of(Refusal refusal) => new(refusal.At.ToUnixTimeSeconds(), refusal.Path, refusal.Message);

        public Refusal Read() => new(Instant.FromUnixTimeSeconds(At), Path, Message);
    }
}
