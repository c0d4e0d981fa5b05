using Tanksophos.Core.Agendas;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;
using Tanksophos.Words;

namespace Tanksophos.Web.Rigs;

/// <summary>What there is to do on the rig at hand: the one place that every page asks.</summary>
public sealed class AgendaService(CurrentRequest house, TripService trips, Surroundings surroundings)
{
    private Agenda? agenda;
    private Situation? situation;
    private TripNow? trip;
    private bool looked;

    /// <summary>The agenda now.</summary>
    public Agenda Now => agenda ??= Court.Decide(Situation);

    /// <summary>The trip under way or next; null for none.</summary>
    public TripNow? Trip
    {
        get
        {
            if (looked) return trip;
            looked = true;
            return trip = trips.Current(house.Rig!);
        }
    }

    /// <summary>The agenda's texts.</summary>
    public AgendaTexts Texts => new(Situation, house.Units, house.Times, Trip?.Stored.Itinerary.Name, Situation.HighC);

    /// <summary>
    /// What has to be done about a fault, safety first, then what to check: the same list wherever faults are looked for. Valves that are closed for the rinse
    /// or the road are no fault.
    /// </summary>
    public IReadOnlyList<AgendaItem> Trouble =>
        [.. Now.Items.Where(i => i.Code is AgendaCode.Evacuate or AgendaCode.Ventilate or AgendaCode.StopUsing or AgendaCode.StopWater
                or AgendaCode.Check or AgendaCode.LookInside
            || i.Level <= AgendaLevel.Now && (i.Code == AgendaCode.Remedy
                || i.Code == AgendaCode.CloseValve && !i.Because.Any(b => b is Because.GrayForRinse or Because.Departure)))];

    /// <summary>What is held back because of a fault.</summary>
    public IReadOnlyList<AgendaHeld> TroubleHeld =>
        [.. Now.Held.Where(h => h.Tank is not null && Now.Blocked.ContainsKey(h.Tank) || h.Because == Because.Bleach)];

    /// <summary>What is known around the rig.</summary>
    public Around Around => around ??= surroundings.Of(house.Rig!, house.RigSnapshot);

    private Around? around;

    /// <summary>All that it is made from.</summary>
    public Situation Situation => situation ??= SituationOf(house.RigSnapshot, Trip, house.Units, Around);

    /// <summary>What there is to do if a trip is followed, which need not be the one under way.</summary>
    /// <param name="other">The trip.</param>
    public Agenda With(TripNow other) => ReferenceEquals(other, Trip) ? Now : Court.Decide(SituationOf(house.RigSnapshot, other, house.Units, Around));

    /// <summary>The chores as the agenda leaves them: those that are due and that it holds back, or that a remedy does already, are left out.</summary>
    /// <param name="situation">What was heard.</param>
    /// <param name="agenda">What was decided.</param>
    public static IReadOnlyList<Core.Care.CareItem> CareOf(Situation situation, Agenda agenda)
    {
        ArgumentNullException.ThrowIfNull(situation);
        ArgumentNullException.ThrowIfNull(agenda);
        var now = situation.Belief.AsOf?.ToInstant() ?? NodaTime.Instant.MaxValue;
        return [.. situation.Care.Where(c => !c.Asks(now) || agenda.Items.Any(i => i.CareItem == c))];
    }

    /// <summary>What the court hears, from what is remembered of a rig.</summary>
    /// <param name="picture">What is believed.</param>
    /// <param name="trip">The trip; null for none.</param>
    /// <param name="units">Measures in which amounts are said.</param>
    /// <param name="around">What is known around the rig.</param>
    public static Situation SituationOf(RigSnapshot picture, TripNow? trip, Units units, Around around)
    {
        ArgumentNullException.ThrowIfNull(picture);
        ArgumentNullException.ThrowIfNull(around);
        var heard = new Situation(picture.Logbook, picture.Belief, picture.Advice, picture.Sensors, picture.Faults)
        {
            Units = units == Units.Metric
            ? KitchenUnits.Metric : KitchenUnits.Us,
            Weather = around.Weather,
            Silent = around.Silent,
            Filling = around.Filling,
        };
        return trip is null ? heard : heard.With(trip.Stored.Itinerary, trip.Trip, trip.Plan) with { Looks = trip.Looked?.Looks ?? [] };
    }
}

/// <summary>The plan of a trip as it may be carried out: without what the court holds back.</summary>
public static class AllowedRuns
{
    /// <summary>The planned runs that an agenda leaves, each with the actions that are left of it.</summary>
    /// <param name="agenda">What was decided.</param>
    /// <param name="plan">The plan.</param>
    /// <param name="stopOf">The stop of an action.</param>
    public static IReadOnlyList<PlanRun> Build(Agenda agenda, Plan plan, Func<string, Stop> stopOf)
    {
        ArgumentNullException.ThrowIfNull(agenda);
        ArgumentNullException.ThrowIfNull(plan);
        var left = new List<PlanRun>();
        foreach (var run in PlanRun.Group(plan.Actions, stopOf))
        {
            var kind = run.Actions[0].Kind;
            var items = agenda.Items.Where(i => i.Planned is { } p && p.Key == run.Key && p.At == run.At).ToList();
            if (run.Dumps)
            {
                // What concerns the tanks that still go, at the hour at which they go.
                var going = agenda.Items.Where(i => i.Code == AgendaCode.DumpRun
                    && (items.Contains(i) || i.At is { } at
                    && NodaTime.Duration.FromTicks(Math.Abs((at - run.At.ToInstant()).TotalTicks)) <= Core.Log.LastRunTemplate.RunLasts)).ToList();
                var actions = run.Actions.Where(a => a.Tank is null || going.Exists(i => i.Tanks.Contains(a.Tank))).ToList();
                if (!actions.Exists(a => a.Kind == PlanActionKind.Dump)) continue;
                var moved = items.Find(i => i.Code == AgendaCode.DumpRun)?.At is { } hour && hour - run.At.ToInstant() > NodaTime.Duration.FromHours(1)
                    ? hour - run.At.ToInstant() : NodaTime.Duration.Zero;
                left.Add(moved == NodaTime.Duration.Zero ? run with { Actions = actions }
                    : run with
                    {
                        At = run.At.Plus(moved),
                        Until = run.Until.Plus(moved),
                        Actions = [.. actions.Select(a => a with { At = a.At.Plus(moved) })]
                    });
            }
            else if (kind == PlanActionKind.FillJug && !agenda.Items.Any(i => i.Code == AgendaCode.Evacuate)) left.Add(run);
            else if (run.Actions.Where(a => items.Exists(i => i.Tanks.Count == 0 || a.Tank is not null && i.Tanks.Contains(a.Tank)))
                .ToList() is { Count: > 0 } asked) left.Add(run with { Actions = asked });
        }
        return left;
    }
}
