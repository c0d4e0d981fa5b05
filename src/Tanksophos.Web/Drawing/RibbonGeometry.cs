using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Drawing;

/// <summary>A stay on the ribbon.</summary>
public sealed record RibbonStay(double X, double Width, string Place, Hookup Hookup, bool Open);

/// <summary>Something that was or will be done to a tank.</summary>
public sealed record RibbonPin(double X, string Letter, string Label, bool Planned, bool Asked = false);

/// <summary>A stretch of believed level in one lane: the band as a closed path and the median as a line.</summary>
public sealed record RibbonStretch(string Band, string Line, bool Planned);

/// <summary>The lane of one tank.</summary>
public sealed record RibbonLane(Tank Tank, double Top, double Bottom, double DumpY, IReadOnlyList<RibbonStretch> Stretches, IReadOnlyList<RibbonPin> Pins);

/// <summary>
/// Time from left to right: stays as blocks, each tank's level as a band in its lane, what was done and what is next pinned on it. Only numbers.
/// </summary>
public sealed class RibbonGeometry
{
    public const double Width = 1000;
    public const double LaneLeft = 118;
    private const double StayTop = 4, StayHeight = 34, LaneHeight = 58, LaneGap = 16;
    private static readonly Duration Ahead = Duration.FromDays(4);
    private static readonly Duration Step = Duration.FromHours(4);

    private readonly Instant from, to;

    /// <summary>Computes the ribbon from a week back to four days ahead.</summary>
    public RibbonGeometry(RigSnapshot picture, Agenda agenda, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(picture);
        ArgumentNullException.ThrowIfNull(agenda);
        ArgumentNullException.ThrowIfNull(zone);
        Zone = zone;
        var now = picture.Belief.AsOf!.Value.ToInstant();
        var entries = picture.Logbook.InOrder();
        var first = entries.Count > 0 ? entries[0].Instant : now;
        from = Instant.Max(now - RigCache.TrackLength, Instant.Min(first, now - Duration.FromDays(2)));
        to = now + Ahead;
        Now = X(now);
        Stays = [.. StaysOf(entries, now)];
        Lanes = [.. picture.Belief.Tanks.Select((t, i) => Lane(t, i, picture, agenda, entries, now))];
        Days = [.. DaysOf(zone)];
    }

    /// <summary>Computes the ribbon of a stretch of the past, with the levels as they were believed just before and after each entry.</summary>
    public RibbonGeometry(Rig rig, IReadOnlyList<(LogEntry Entry, BeliefChange? Change)> stretch, Instant start, Instant end, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(stretch);
        ArgumentNullException.ThrowIfNull(zone);
        Zone = zone;
        (from, to) = (start, Instant.Max(end, start + Duration.FromHours(1)));
        Stays = [.. StaysOf([.. stretch.Select(s => s.Entry)], to)];
        Lanes = [.. rig.Tanks.Select((t, i) => Lane(t, i, stretch, rig.RulesInForce.DumpLevel(t.Role)))];
        Days = [.. DaysOf(zone)];
    }

    private RibbonLane Lane(Tank tank, int index, IReadOnlyList<(LogEntry Entry, BeliefChange? Change)> stretch, double dumpLevel)
    {
        var top = LanesTop + index * (LaneHeight + LaneGap);
        var bottom = top + LaneHeight;
        double Y(double litres) => bottom - Math.Clamp(litres / tank.CapacityL, 0, 1) * LaneHeight;
        LevelBand Band(double mean, double sd) => new(Math.Max(0, mean - 1.645 * sd), Math.Max(0, mean), Math.Min(tank.CapacityL, mean + 1.645 * sd));

        var track = new List<TrackPoint>();
        var pins = new List<RibbonPin>();
        foreach (var (entry, change) in stretch)
        {
            if (entry.Tank != tank.Id || entry.Instant < from) continue;
            if (change is not null) track.AddRange([new TrackPoint(entry.Instant, Band(change.BeforeL, change.BeforeSdL)),
                new TrackPoint(entry.Instant, Band(change.AfterL, change.AfterSdL))]);
            if (entry is DumpEntry) pins.Add(new RibbonPin(X(entry.Instant), "D", "dumped", false));
        }
        return new RibbonLane(tank, top, bottom, bottom - dumpLevel * LaneHeight, track.Count > 1 ? [Stretch(track, Y, false)] : [], pins);
    }

    /// <summary>The local time of its days.</summary>
    public DateTimeZone Zone { get; }

    /// <summary>Where now is; null on a ribbon of the past.</summary>
    public double? Now { get; }

    public double LanesTop => StayTop + StayHeight + 18;

    public double Height => LanesTop + Lanes.Count * (LaneHeight + LaneGap) + 20;

    public IReadOnlyList<RibbonStay> Stays { get; }

    public IReadOnlyList<RibbonLane> Lanes { get; }

    /// <summary>Midnights, and the day that starts there.</summary>
    public IReadOnlyList<(double X, double Middle, LocalDate Date)> Days { get; }

    private double X(Instant t) => LaneLeft + (Width - LaneLeft) * Math.Clamp((t - from) / (to - from), 0, 1);

    private IEnumerable<RibbonStay> StaysOf(IReadOnlyList<LogEntry> entries, Instant now)
    {
        var stays = entries.OfType<StayEntry>().ToList();
        for (var i = 0; i < stays.Count; i++)
        {
            var last = i == stays.Count - 1;
            var end = last ? to : stays[i + 1].Instant;
            var start = Instant.Max(stays[i].Instant, from);
            if (end <= from || start > now) continue;
            yield return new RibbonStay(X(start) + 1, X(end) - X(start) - 2, stays[i].Place ?? "", stays[i].Hookup, last);
        }
    }

    private RibbonLane Lane(TankBelief tank, int index, RigSnapshot picture, Agenda agenda, IReadOnlyList<LogEntry> entries, Instant now)
    {
        var top = LanesTop + index * (LaneHeight + LaneGap);
        var bottom = top + LaneHeight;
        double Y(double litres) => bottom - Math.Clamp(litres / tank.Tank.CapacityL, 0, 1) * LaneHeight;

        var stretches = new List<RibbonStretch>();
        if (tank.Track.Count > 1) stretches.Add(Stretch(tank.Track, Y, false));
        stretches.AddRange(Forecast(tank, agenda, now).Where(s => s.Count > 1).Select(s => Stretch(s, Y, true)));

        var pins = new List<RibbonPin>();
        foreach (var entry in entries.Where(e => e.Tank == tank.Tank.Id && e.Instant >= from))
            if (entry is DumpEntry) pins.Add(new RibbonPin(X(entry.Instant), "D", "dumped", false));
        foreach (var item in agenda.Items.Where(i => i.Tanks.Contains(tank.Tank.Id) && i.At is { } d && d <= to))
        {
            var (letter, label) = item.Code switch
            {
                AgendaCode.DumpRun => ("D", "dump"),
                AgendaCode.CloseValve => ("C", DrawingSays.CloseTheValve),
                AgendaCode.OpenValve => ("O", DrawingSays.OpenTheValve),
                AgendaCode.FindDrain => ("!", DrawingSays.FindADrain),
                _ => ("", ""),
            };
            if (letter.Length > 0) pins.Add(new RibbonPin(X(item.At!.Value), letter, label, true));
        }
        // What may have been forgotten stands hollow where it most likely was.
        foreach (var doubt in picture.Doubts)
            if (doubt.Tank.Id == tank.Tank.Id && doubt.Suggest is [DumpEntry dump, ..] && dump.Instant >= from)
                pins.Add(new RibbonPin(X(dump.Instant), "?", DrawingSays.PerhapsDumpedNotLogged, false, true));
        return new RibbonLane(tank.Tank, top, bottom, Y(picture.Advice[tank.Tank.Id].DumpLevelL), stretches, pins);
    }

    // The level ahead if the agenda is followed: gray near empty until it is closed, every tank near empty after its dump.
    private IEnumerable<List<TrackPoint>> Forecast(TankBelief tank, Agenda agenda, Instant now)
    {
        Instant? Of(AgendaCode code) => agenda.Items.FirstOrDefault(i => i.Code == code && i.Tanks.Contains(tank.Tank.Id))?.At;
        var (dump, close) = (Of(AgendaCode.DumpRun), Of(AgendaCode.CloseValve));
        if (tank.ValveOpen)
        {
            yield return Points(tank.Forecast, now, Instant.Min(close ?? to, to));
            if (close is { } c && c < to) yield return Points(tank.Forecast.EmptiedAt(c), c, Instant.Min(dump ?? to, to));
            yield break;
        }
        yield return Points(tank.Forecast, now, Instant.Min(dump ?? to, to));
        if (dump is { } d && d < to && tank.Tank.Role == TankRole.Black) yield return Points(tank.Forecast.EmptiedAt(d), d, to);
    }

    private static List<TrackPoint> Points(ILevelForecast forecast, Instant start, Instant end)
    {
        var points = new List<TrackPoint>();
        for (var t = Instant.Max(start, forecast.From); t < end; t += Step) points.Add(new TrackPoint(t, forecast.At(t)));
        if (end >= forecast.From) points.Add(new TrackPoint(end, forecast.At(end)));
        return points;
    }

    private RibbonStretch Stretch(IReadOnlyList<TrackPoint> track, Func<double, double> y, bool planned)
    {
        var upper = track.Select(p => (X(p.At), y(p.Level.P95L)));
        var lower = track.Reverse().Select(p => (X(p.At), y(p.Level.P05L)));
        return new RibbonStretch(Svg.Path(upper.Concat(lower), close: true), Svg.Path(track.Select(p => (X(p.At), y(p.Level.P50L)))), planned);
    }

    private IEnumerable<(double X, double Middle, LocalDate Date)> DaysOf(DateTimeZone zone)
    {
        for (var date = from.InZone(zone).Date; ; date = date.PlusDays(1))
        {
            var start = zone.AtStartOfDay(date).ToInstant();
            var end = zone.AtStartOfDay(date.PlusDays(1)).ToInstant();
            if (start >= to) yield break;
            yield return (X(start), (X(start) + X(end)) / 2, date);
        }
    }
}
