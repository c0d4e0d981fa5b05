using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Trips;

/// <summary>Black that a plan takes along from a place with a sewer.</summary>
/// <param name="Stop">Id of the place it leaves.</param>
/// <param name="Tank">Id of the tank.</param>
/// <param name="Litres">Litres expected in it when the rig rolls.</param>
public sealed record CarriedOn(string Stop, string Tank, double Litres)
{
    /// <summary>Less than this share of the tank is starter water and not worth a word.</summary>
    public const double WorthNaming = 0.25;

    /// <summary>What a litre of it weighs, in kilograms: water, 8.34 pounds a gallon.</summary>
    public const double KgPerL = 1;

    /// <summary>What a plan carries on, in the order of its stops.</summary>
    /// <param name="trip">The trip.</param>
    /// <param name="plan">Its plan.</param>
    public static IReadOnlyList<CarriedOn> Of(Trip trip, Plan plan)
    {
        ArgumentNullException.ThrowIfNull(trip);
        ArgumentNullException.ThrowIfNull(plan);
        return [.. trip.Stops.SkipLast(1).Where(s => s.Hookup == StopHookup.Full).SelectMany(s => trip.Rig.Tanks.Where(t => t.Role == TankRole.Black)
            .Select(t => new CarriedOn(s.Id, t.Id, plan.Levels[t.Id].LastOrDefault(p => p.At.ToInstant() <= s.Depart.ToInstant()).Level.P50L))
            .Where(c => c.Litres >= WorthNaming * trip.Rig.Find(c.Tank)!.CapacityL))];
    }
}
