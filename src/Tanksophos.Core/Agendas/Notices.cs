using NodaTime;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Agendas;

/// <summary>Hours in which only what can hurt people is told.</summary>
/// <param name="From">When they begin.</param>
/// <param name="To">When they end; before <paramref name="From"/> for a night.</param>
public readonly record struct QuietHours(LocalTime From, LocalTime To)
{
    /// <summary>Whether a time lies in them.</summary>
    /// <param name="time">The time.</param>
    public bool Hold(LocalTime time) => From == To ? false : From < To ? time >= From && time < To : time >= From || time < To;
}

/// <summary>By which wire somebody is told.</summary>
public enum NoticeWire
{
    /// <summary>JSON to an address.</summary>
    Webhook,

    /// <summary>A message at the owner's broker.</summary>
    Mqtt,

    /// <summary>Mail by the owner's server.</summary>
    Mail,
}

/// <summary>
/// What is told to people who are not looking: what the agenda says from a level on, once while it stands, and once a day again if it is for now. Something
/// that comes and goes within hours is not told anew each time.
/// </summary>
public static class Notices
{
    /// <summary>What stands for now is told again after so long.</summary>
    public static readonly Duration Again = Duration.FromHours(24);

    /// <summary>What was told and is gone is forgotten after so long.</summary>
    public static readonly Duration Forgotten = Duration.FromHours(12);

    /// <summary>What an item is known by, however its hour and its figures move.</summary>
    /// <param name="item">The item.</param>
    public static string KeyOf(AgendaItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        return $"{Codes<AgendaCode>.Word(item.Code)}:{string.Join('+', item.Tanks)}:{item.Device ?? item.Check ?? item.Chore ?? item.Action}";
    }

    /// <summary>What is to be told now.</summary>
    /// <param name="agenda">The agenda.</param>
    /// <param name="from">The least urgent level that is told.</param>
    /// <param name="told">When what was told, by its key.</param>
    /// <param name="now">The moment.</param>
    /// <param name="local">The time of day where the people are.</param>
    /// <param name="quiet">Quiet hours; null for none.</param>
    public static IReadOnlyList<AgendaItem> New(Agenda agenda, AgendaLevel from, IReadOnlyDictionary<string, Instant> told, Instant now, LocalTime local,
        QuietHours? quiet)
    {
        ArgumentNullException.ThrowIfNull(agenda);
        ArgumentNullException.ThrowIfNull(told);
        var hushed = quiet?.Hold(local) == true;
        return [.. agenda.Items.Where(i => i.Level <= (hushed ? AgendaLevel.Safety : from)
            && (!told.TryGetValue(KeyOf(i), out var before) || i.Level <= AgendaLevel.Now && now - before >= Again)).DistinctBy(KeyOf)];
    }

    /// <summary>What is remembered after something was told.</summary>
    /// <param name="agenda">The agenda.</param>
    /// <param name="told">What was remembered before.</param>
    /// <param name="fresh">What was told now.</param>
    /// <param name="now">The moment.</param>
    public static IReadOnlyDictionary<string, Instant> Remember(Agenda agenda, IReadOnlyDictionary<string, Instant> told, IEnumerable<AgendaItem> fresh,
        Instant now)
    {
        ArgumentNullException.ThrowIfNull(agenda);
        ArgumentNullException.ThrowIfNull(told);
        ArgumentNullException.ThrowIfNull(fresh);
        var standing = agenda.Items.Select(KeyOf).ToHashSet();
        var kept = told.Where(t => standing.Contains(t.Key) || now - t.Value < Forgotten).ToDictionary(t => t.Key, t => t.Value);
        foreach (var item in fresh) kept[KeyOf(item)] = now;
        return kept;
    }
}
