using System.Globalization;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Api;

/// <summary>A plan as a calendar: each run an event in the zone of its place, with an alarm before it.</summary>
public static class TripCalendar
{
    /// <summary>The address under which a trip's calendar is read by other programs.</summary>
    public const string Root = "/feed";

    private const int AlarmMinutes = 30;
    private static readonly NodaTime.Duration CareAhead = NodaTime.Duration.FromDays(60);

    /// <summary>Writes the calendar.</summary>
    /// <param name="trip">The trip with its plan.</param>
    /// <param name="runs">What of the plan is to be done.</param>
    /// <param name="rig">The rig.</param>
    /// <param name="units">The units of amounts.</param>
    /// <param name="now">When it is written.</param>
    /// <param name="style">How times are written; null for what goes with the units.</param>
    /// <param name="care">Chores of the rig; null for none.</param>
    public static string Write(TripNow trip, IReadOnlyList<PlanRun> runs, Rig rig, Units units, Instant now, TimeStyle? style = null,
        IReadOnlyList<CareItem>? care = null)
    {
        ArgumentNullException.ThrowIfNull(trip);
        ArgumentNullException.ThrowIfNull(runs);
        ArgumentNullException.ThrowIfNull(rig);
        style ??= units == Units.Us ? TimeStyle.Us : TimeStyle.International;
        var words = new PlanWords(rig, units, style);
        var calendar = new Ical.Net.Calendar { ProductId = "-//Tanksophos//Trip//EN", Method = "PUBLISH" };
        calendar.AddProperty("X-WR-CALNAME", $"{rig.Name}: {trip.Stored.Itinerary.Name}");
        foreach (var run in runs)
        {
            var happening = new CalendarEvent
            {
                // The same as long as the run keeps its stop, day and kind, so that a moved hour moves the event.
                Uid = string.Create(CultureInfo.InvariantCulture, $"trip{trip.Stored.Id}-{run.Key}@tanksophos"),
                Summary = words.Title(run),
                Location = run.Stop.Name,
                Description = string.Join("\n",
                    run.Actions.Select(a => $"{style.Time(a.At.ToInstant(), run.Stop.Zone)} {words.Line(a)}. {PlanWords.Why(a)}"))
                    + (PlanWords.Caution(run) is { } caution ? "\n" + caution : ""),
                DtStamp = new CalDateTime(now.ToDateTimeUtc(), "UTC"),
                Start = Local(run.At, run.Stop),
                End = Local(run.Until.Plus(NodaTime.Duration.FromMinutes(10)), run.Stop),
            };
            happening.Alarms.Add(new Alarm
            {
                Action = "DISPLAY",
                Description = happening.Summary,
                Trigger = new Trigger(Ical.Net.DataTypes.Duration.FromMinutes(-AlarmMinutes))
            });
            calendar.Events.Add(happening);
        }
        var zone = trip.Stored.Itinerary.Stops is [{ } at, ..] ? at.Zone : DateTimeZone.Utc;
        var chores = new CareWords(rig, new TimeWords(now, zone, style), units);
        foreach (var chore in (care ?? []).Where(c => c.Asks(now) || c.State is not CareState.Never && c.Due > now && c.Due <= now + CareAhead))
        {
            var day = Instant.Max(chore.Due, now).InZone(zone).Date;
            calendar.Events.Add(new CalendarEvent
            {
                Uid = $"care{trip.Stored.RigId}-{chore.Chore}-{chore.Tank}@tanksophos",
                Summary = chores.What(chore),
                Description = $"{chores.Why(chore)}\n{string.Join("\n", chores.Steps(chore))}"
                    + (CareWords.Caution(chore) is { } caution ? "\n" + caution : ""),
                DtStamp = new CalDateTime(now.ToDateTimeUtc(), "UTC"),
                Start = new CalDateTime(day.Year, day.Month, day.Day),
            });
        }
        foreach (var used in calendar.Events.Select(e => e.Start!.TzId).OfType<string>().Distinct().ToList())
            if (used != "UTC") calendar.AddTimeZone(VTimeZone.FromDateTimeZone(used));
        return new CalendarSerializer().SerializeToString(calendar)!;
    }

    /// <summary>Answers those who know the address; whoever has it can read the plan, nothing else.</summary>
    internal static void Map(WebApplication app) =>
        app.MapGet(Root + "/{word}.ics", (string word, string? units, TripStore trips, RigStore rigs, RigCache memory, TripService desk,
            Surroundings surroundings, IClock clock) =>
    {
        if (word.Length > 100 || trips.ByFeed(word) is not { } trip || rigs.Find(trip.RigId) is not { } rig) return Results.NotFound();
        var (now, measures) = (desk.Of(rig, trip), units == Units.Metric.Code ? Units.Metric : Units.Us);
        var picture = memory.Now(rig, rigs);
        var situation = AgendaService.SituationOf(picture, now, measures, surroundings.Of(rig, picture));
        var agenda = Core.Agendas.Court.Decide(situation);
        return Results.Text(Write(now, now.Plan is { } plan ? AllowedRuns.Build(agenda, plan, now.Stop) : [], rig.Rig, measures, clock.GetCurrentInstant(),
            care: AgendaService.CareOf(situation, agenda)),
            "text/calendar; charset=utf-8");
    }).AllowAnonymous().ExcludeFromDescription();

    private static CalDateTime Local(OffsetDateTime at, Stop stop)
    {
        var local = at.ToInstant().InZone(stop.Zone).LocalDateTime;
        return new CalDateTime(local.Year, local.Month, local.Day, local.Hour, local.Minute, 0, stop.Zone.Id);
    }
}
