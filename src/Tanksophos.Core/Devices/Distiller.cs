using System.Globalization;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Weather;

namespace Tanksophos.Core.Devices;

/// <summary>What is remembered of one channel between two measurements. Plain data, so that it can be kept and gone on with after a restart.</summary>
public sealed record ChannelState
{
    /// <summary>When it was last measured, in Unix seconds by the device.</summary>
    public double LastAt { get; init; }

    /// <summary>The last value in words: lights, a number.</summary>
    public string Last { get; init; } = "";

    /// <summary>What it measures.</summary>
    public Quantity Quantity { get; init; }

    /// <summary>Usual seconds between two measurements; 0 before the second.</summary>
    public double Every { get; init; }

    /// <summary>What was last written into the log; null for nothing.</summary>
    public string? Logged { get; init; }

    /// <summary>When that was so, in Unix seconds.</summary>
    public double LoggedAt { get; init; }

    /// <summary>What it changed to, while it is not sure that it stays; null for no change.</summary>
    public string? Candidate { get; init; }

    /// <summary>Since when, in Unix seconds.</summary>
    public double CandidateAt { get; init; }

    /// <summary>Changes that did not stay, within the last hours; they fade.</summary>
    public double Flickers { get; init; }

    /// <summary>Reading of the meter when the flow under way began; null while nothing runs.</summary>
    public double? FlowFrom { get; init; }

    /// <summary>When the flow under way began, in Unix seconds.</summary>
    public double FlowSince { get; init; }

    /// <summary>When the meter last moved, in Unix seconds.</summary>
    public double MovedAt { get; init; }

    /// <summary>Last reading of the meter; null before the first.</summary>
    public double? Total { get; init; }

    /// <summary>The largest of the local day; null for what is no temperature.</summary>
    public double? DayMost { get; init; }

    /// <summary>That day, in days since 1970.</summary>
    public int Day { get; init; }

    /// <summary>Percent that a level rises in a minute; negative where it falls.</summary>
    public double Rate { get; init; }

    /// <summary>The percent from which that is counted on.</summary>
    public double RateFrom { get; init; }

    /// <summary>When it was so, in Unix seconds; 0 before the first.</summary>
    public double RateAt { get; init; }

    /// <summary>The lowest that a level showed since it last fell; null before the first fall.</summary>
    public double? LowSince { get; init; }

    /// <summary>How many times in a row it stayed high after a fall.</summary>
    public int HighLows { get; init; }

    /// <summary>When the lights last rose by a step, in Unix seconds; 0 for never.</summary>
    public double RoseAt { get; init; }

    /// <summary>Since when the topmost light is on, in Unix seconds; 0 if it was from the beginning, null if it is not.</summary>
    public double? FullSince { get; init; }

    /// <summary>Since when it shows the very same, in Unix seconds.</summary>
    public double SameSince { get; init; }
}

/// <summary>What is wrong with a channel.</summary>
public enum DeviceTrouble
{
    /// <summary>It has been silent for longer than is usual for it.</summary>
    Silent,

    /// <summary>It changes to and fro.</summary>
    Flickers,

    /// <summary>It shows the very same number for days.</summary>
    Stuck,

    /// <summary>It no longer comes down when the tank is emptied: coated, or out of adjustment.</summary>
    Drifts,
}

/// <summary>
/// Makes log entries of measurements: never one a second, but one when something is told: a light changed and stayed, a level moved, a valve was moved, a flow
/// ended. The same measurements in the same order always make the same entries with the same ids, so that going over them again writes nothing twice.
/// </summary>
/// <param name="rig">The rig.</param>
/// <param name="device">Name of the device.</param>
/// <param name="bindings">What its channels are.</param>
/// <param name="zone">Local time where the rig stands.</param>
/// <param name="states">What is remembered of its channels.</param>
public sealed class Distiller(Rig rig, string device, IReadOnlyList<DeviceBinding> bindings, DateTimeZone zone,
    IReadOnlyDictionary<string, ChannelState> states)
{
    /// <summary>A light has to stay so long before it counts: water sloshes.</summary>
    public static readonly Duration LightStays = Duration.FromMinutes(2);

    /// <summary>A level is written at most so often, unless it falls.</summary>
    public static readonly Duration LevelEvery = Duration.FromHours(1);

    /// <summary>What has not changed is written again after so long: that it is still so tells something too.</summary>
    public static readonly Duration StillSo = Duration.FromHours(6);

    /// <summary>A flow is over when the meter stood still for so long.</summary>
    public static readonly Duration FlowPause = Duration.FromMinutes(1);

    /// <summary>Percent by which a level has to move.</summary>
    public const double LevelMoves = 3;

    /// <summary>A level that jumps by so many percent is a dump, or a fault: it has to stay as a light has, and is then not held back for an hour.</summary>
    public const double LevelJumps = 15;

    /// <summary>From this percent on a level that rises is written at once: somebody may stand in the shower.</summary>
    public const double LevelFull = 100 * Dumping.Guard.FillTo;

    // Water runs in if it rises by more than this percent in a minute; looked at over half a minute and more.
    private const double RunsIn = 0.4, LeastLook = 30, RisesLately = 120, FullStays = 15, FullLately = 600, RisesWithin = 3600;

    /// <summary>A number that has not moved at all for so long is stuck: the last digit of what works moves.</summary>
    public static readonly Duration SameFor = Duration.FromDays(2);

    // After a dump a strip shows next to nothing; one that stays above this twice in a row has drifted.
    private const double LowAfterDump = 8;
    private const int HighLowsAreDrift = 2;

    // What else the device measures counts for a reading if it is this recent.
    private static readonly Duration Together = Duration.FromMinutes(10);

    /// <summary>A valve has to stay so long.</summary>
    private static readonly Duration ValveStays = Duration.FromSeconds(5);

    private const double LeastFlowL = 0.4; // less is a hand rinsed at the tap

    // A channel is silent after so many of its usual pauses, at least a quarter of an hour; a change that did not stay is forgotten within hours.
    private const double SilentAfter = 5, LeastSilence = 900, FlickersFade = 2 * 3600, ManyFlickers = 5;

    private readonly Dictionary<string, ChannelState> states = new(states);

    /// <summary>What is remembered, to be kept.</summary>
    public IReadOnlyDictionary<string, ChannelState> States => states;

    /// <summary>Takes a measurement.</summary>
    /// <param name="at">Its moment.</param>
    /// <param name="values">Its values.</param>
    /// <returns>The entries that it makes.</returns>
    public IReadOnlyList<LogEntry> Feed(Instant at, IReadOnlyList<MeasuredValue> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        var entries = new List<LogEntry>();
        var seconds = at.ToUnixTimeMilliseconds() / 1000.0;
        newest = seconds;
        // What else it measures stands before the lights are judged by it, in whatever order it was sent.
        foreach (var value in values.OrderBy(v => v.Quantity is Quantity.Ohms or Quantity.Celsius ? 0 : 1))
        {
            var before = states.GetValueOrDefault(value.Channel) ?? new ChannelState { Quantity = value.Quantity };
            // What comes late, or a second time, changes nothing of what is known since.
            if (seconds <= before.LastAt) continue;
            var state = before with
            {
                LastAt = seconds,
                Last = Said(value),
                Quantity = value.Quantity,
                Every = before.LastAt == 0 ? 0 : before.Every == 0 ? seconds - before.LastAt : 0.9 * before.Every + 0.1 * (seconds - before.LastAt),
                Flickers = before.Flickers * Math.Exp(-(seconds - before.LastAt) / FlickersFade),
                SameSince = before.LastAt > 0 && before.Last == Said(value) && before.SameSince > 0 ? before.SameSince : seconds,
            };
            if (value is { Quantity: Quantity.Celsius, Number: { } celsius })
            {
                var day = Period.DaysBetween(new LocalDate(1970, 1, 1), at.InZone(zone).Date);
                state = state with { Day = day, DayMost = day == before.Day && before.DayMost is { } most ? Math.Max(most, celsius) : celsius };
            }
            if (bindings.FirstOrDefault(b => b.Channel == value.Channel) is { } binding && DeviceBinding.Fits(binding.Kind, value.Quantity)
                && (binding.Tank is null || rig.Find(binding.Tank) is not null))
                state = binding.Kind switch
                {
                    BindingKind.Panel when value.Quantity == Quantity.Lit => Lights(binding, state, value, entries),
                    BindingKind.Panel => Level(binding, state, value.Number!.Value, entries),
                    BindingKind.Valve => Valve(binding, state, value.Number > 0, entries),
                    BindingKind.Meter => Flow(binding, state, value.Number!.Value, entries),
                    _ => state,
                };
            states[value.Channel] = state;
        }
        return entries;
    }

    /// <summary>Ends what has ended by now: a flow whose meter stands still, or fell silent.</summary>
    /// <param name="now">The moment.</param>
    public IReadOnlyList<LogEntry> Until(Instant now)
    {
        var entries = new List<LogEntry>();
        var seconds = now.ToUnixTimeMilliseconds() / 1000.0;
        foreach (var (channel, state) in states.ToList())
            if (state.FlowFrom is not null && seconds - state.MovedAt > FlowPause.TotalSeconds
                && bindings.FirstOrDefault(b => b.Channel == channel) is { Kind: BindingKind.Meter } binding)
                states[channel] = EndFlow(binding, state, entries);
        return entries;
    }

    /// <summary>What is wrong with a channel; null for nothing.</summary>
    /// <param name="state">What is remembered of it.</param>
    /// <param name="now">The moment.</param>
    public static DeviceTrouble? Trouble(ChannelState state, Instant now)
    {
        ArgumentNullException.ThrowIfNull(state);
        var silence = now.ToUnixTimeMilliseconds() / 1000.0 - state.LastAt;
        return silence > Math.Max(LeastSilence, SilentAfter * state.Every) ? DeviceTrouble.Silent
            : state.Flickers >= ManyFlickers ? DeviceTrouble.Flickers
            : state.Quantity is Quantity.Celsius or Quantity.Ohms && state.LastAt - state.SameSince > SameFor.TotalSeconds ? DeviceTrouble.Stuck
            : state.HighLows >= HighLowsAreDrift ? DeviceTrouble.Drifts : null;
    }

    /// <summary>Whether a tank is nearly full by its device, and more is running in: a strip that rises, a topmost light that has just come on.</summary>
    /// <param name="state">What is remembered of the strip or the lights.</param>
    /// <param name="now">The moment.</param>
    public static bool Fills(ChannelState state, Instant now)
    {
        ArgumentNullException.ThrowIfNull(state);
        var seconds = now.ToUnixTimeMilliseconds() / 1000.0;
        if (seconds - state.LastAt > RisesLately) return false;
        return state.Quantity == Quantity.Lit ? state.FullSince is { } since && seconds - since <= FullLately
            : state.Quantity == Quantity.Percent && state.Rate >= RunsIn
                && double.TryParse(state.Last, CultureInfo.InvariantCulture, out var percent) && percent >= LevelFull;
    }

    /// <summary>A value in words that can be compared.</summary>
    private static string Said(MeasuredValue value) => value.Lit is { } lit ? string.Join(' ', lit.Order(StringComparer.Ordinal))
        : value.Number!.Value.ToString(CultureInfo.InvariantCulture);

    private ChannelState Lights(DeviceBinding binding, ChannelState state, MeasuredValue value, List<LogEntry> entries)
    {
        var now = state.Last;
        var full = Top(binding) is { } top && value.Lit!.Contains(top);
        state = state with { FullSince = !full ? null : state.FullSince ?? (state.Logged is null ? 0 : state.LastAt) };
        if (now == state.Logged)
        {
            if (state.Candidate is not null) state = state with { Candidate = null, Flickers = state.Flickers + 1 };
            if (state.LastAt - state.LoggedAt < StillSo.TotalSeconds) return state;
            return Write(state, state.LastAt);
        }
        if (state.Candidate != now)
            return state with { Candidate = now, CandidateAt = state.LastAt, Flickers = state.Flickers + (state.Candidate is null ? 0 : 1) };
        // Somebody may stand in the shower.
        var stays = full && state.Logged is { } logged && !logged.Split(' ').Contains(Top(binding)) ? FullStays : LightStays.TotalSeconds;
        return state.LastAt - state.CandidateAt < stays ? state : Write(state, state.CandidateAt);

        ChannelState Write(ChannelState of, double at)
        {
            // One light more may be stuck; two, one after the other from the bottom up, are water.
            var rose = Steps(binding, of.Logged) is { } before && Steps(binding, now) > before;
            entries.Add(new ReadingEntry
            {
                Id = Id(binding, at),
                At = Local(at),
                Tank = binding.Tank,
                Via = ReadingVia.Panel,
                Lit = Known(binding, value.Lit!),
                Ohms = Resistances(binding.Tank!),
                BayC = Bay(),
                Rising = rose && at - of.RoseAt <= RisesWithin ? true : null,
            });
            return of with { Logged = now, LoggedAt = at, Candidate = null, RoseAt = rose ? at : of.RoseAt };
        }
    }

    // How many lights are on from the bottom up; null where one is missing below another, or nothing is known.
    private int? Steps(DeviceBinding binding, string? lit)
    {
        if (lit is null) return null;
        var (on, probes) = (lit.Split(' ', StringSplitOptions.RemoveEmptyEntries), rig.Find(binding.Tank)!.Monitor.Probes.OrderBy(p => p.AtFraction).ToList());
        var steps = probes.TakeWhile(p => on.Contains(p.Id)).Count();
        return steps == on.Length ? steps : null;
    }

    // The light that means full; null where the highest is lower.
    private string? Top(DeviceBinding binding) => rig.Find(binding.Tank)!.Monitor.Probes.Where(p => p.AtFraction >= Dumping.Guard.FillTo)
        .MaxBy(p => p.AtFraction)?.Id;

    // In the order of the rig, and what the rig does not have left out.
    private List<string> Known(DeviceBinding binding, IReadOnlyList<string> lit) =>
        [.. rig.Find(binding.Tank)!.Monitor.Probes.Select(p => p.Id).Where(lit.Contains)];

    // What is measured at the probes of a tank beside its lights.
    private List<ProbeOhms> Resistances(string tank) =>
        [.. bindings.Where(b => b.Kind == BindingKind.Probe && b.Tank == tank && rig.Find(tank)!.Monitor.Probes.Any(p => p.Id == b.Probe))
            .Select(b => (b.Probe, Number: Recent(b.Channel, Quantity.Ohms))).Where(m => m.Number > 0).DistinctBy(m => m.Probe)
            .Select(m => new ProbeOhms(m.Probe, m.Number!.Value))];

    private double? Bay() => bindings.Where(b => b.Kind == BindingKind.Thermometer).Select(b => Recent(b.Channel, Quantity.Celsius))
        .FirstOrDefault(c => c is >= WeatherDay.ColdestC and <= WeatherDay.HottestC);

    private double? Recent(string channel, Quantity quantity) => states.GetValueOrDefault(channel) is { } state && state.Quantity == quantity
        && Math.Abs(newest - state.LastAt) <= Together.TotalSeconds ? double.Parse(state.Last, CultureInfo.InvariantCulture) : null;

    private double newest;

    private ChannelState Level(DeviceBinding binding, ChannelState state, double percent, List<LogEntry> entries)
    {
        if (state.RateAt == 0 || state.LastAt - state.RateAt >= LeastLook)
            state = state with
            {
                Rate = state.RateAt == 0 ? 0 : (percent - state.RateFrom) / (state.LastAt - state.RateAt) * 60,
                RateFrom = percent,
                RateAt = state.LastAt,
            };
        var logged = state.Logged is null ? (double?)null : double.Parse(state.Logged, CultureInfo.InvariantCulture);
        var moved = logged is { } l ? percent - l : double.PositiveInfinity;
        var since = state.LastAt - state.LoggedAt;
        var due = logged is null || Math.Abs(moved) >= LevelMoves && since >= LevelEvery.TotalSeconds || since >= StillSo.TotalSeconds;
        if (state.LowSince is { } low) state = state with { LowSince = Math.Min(low, percent) };
        var full = percent >= LevelFull && moved >= LevelMoves;
        // Up it jumps only where no water runs in that fast.
        var jumps = moved <= -LevelJumps || moved >= LevelJumps && (state.Candidate is not null || state.Rate >= LevelJumps);
        if (logged is not null && (jumps || full))
        {
            // It has to stay as a light has: a strip that is unplugged shows nothing for a while, and water sloshes.
            if (state.Candidate is null) return state with { Candidate = "moves", CandidateAt = state.LastAt };
            due = state.LastAt - state.CandidateAt >= (full ? FullStays : LightStays.TotalSeconds);
        }
        else if (state.Candidate is not null) state = state with { Candidate = null, Flickers = state.Flickers + 1 };
        if (!due) return state;
        entries.Add(new ReadingEntry
        {
            Id = Id(binding, state.LastAt),
            At = Local(state.LastAt),
            Tank = binding.Tank,
            Via = ReadingVia.Panel,
            Percent = percent,
            BayC = Bay(),
            Rising = moved >= 3 * LevelMoves && !jumps && since <= 2 * LevelEvery.TotalSeconds ? true : null,
        });
        if (moved <= -LevelJumps)
            state = state with { HighLows = state.LowSince > LowAfterDump ? state.HighLows + 1 : 0, LowSince = percent };
        return state with { Logged = state.Last, LoggedAt = state.LastAt, Candidate = null };
    }

    private ChannelState Valve(DeviceBinding binding, ChannelState state, bool open, List<LogEntry> entries)
    {
        if (state.Last == state.Logged) return state.Candidate is null ? state : state with { Candidate = null, Flickers = state.Flickers + 1 };
        if (state.Candidate != state.Last) return state with { Candidate = state.Last, CandidateAt = state.LastAt };
        if (state.LastAt - state.CandidateAt < ValveStays.TotalSeconds) return state;
        entries.Add(new ValveEntry
        {
            Id = Id(binding, state.CandidateAt),
            At = Local(state.CandidateAt),
            Tank = binding.Tank,
            State = open ? ValveState.Open : ValveState.Closed,
        });
        return state with { Logged = state.Last, LoggedAt = state.CandidateAt, Candidate = null };
    }

    private ChannelState Flow(DeviceBinding binding, ChannelState state, double total, List<LogEntry> entries)
    {
        // A meter that begins anew was changed or lost its count.
        if (state.Total is not { } before || total < before) return state with { Total = total, FlowFrom = null, MovedAt = state.LastAt };
        if (total > before)
            return state with
            {
                Total = total,
                FlowFrom = state.FlowFrom ?? before,
                FlowSince = state.FlowFrom is null ? state.LastAt : state.FlowSince,
                MovedAt = state.LastAt,
            };
        return state.FlowFrom is not null && state.LastAt - state.MovedAt > FlowPause.TotalSeconds ? EndFlow(binding, state, entries) : state;
    }

    private ChannelState EndFlow(DeviceBinding binding, ChannelState state, List<LogEntry> entries)
    {
        var litres = Math.Round(state.Total!.Value - state.FlowFrom!.Value, 1);
        if (litres >= LeastFlowL && rig.Find(binding.Tank) is { } tank)
            entries.Add(new WaterEntry
            {
                Id = Id(binding, state.FlowSince),
                At = Local(state.MovedAt),
                Tank = tank.Id,
                WaterL = litres,
                Purpose = litres <= tank.CapacityL / 4 ? WaterPurpose.Starter : WaterPurpose.Other,
            });
        return state with { FlowFrom = null };
    }

    private string Id(DeviceBinding binding, double seconds) =>
        string.Create(CultureInfo.InvariantCulture, $"{device}-{binding.Channel}-{(long)seconds}");

    private OffsetDateTime Local(double seconds) => Instant.FromUnixTimeSeconds((long)seconds).InZone(zone).ToOffsetDateTime();
}
