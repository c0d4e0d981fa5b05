using NodaTime;

namespace Tanksophos.Core.Simulation;

/// <summary>
/// The rates of a simulated world. They stand here and are shared with no estimator. Those of inflow, film, fouling and residue are practitioners' (their
/// spread in the field); those of the crew's habits are invented so that seasons differ.
/// </summary>
internal sealed record World
{
    /// <summary>Places of no map.</summary>
    public static IReadOnlyList<string> Places { get; } = ["Tallow Flat", "Nettle Bench", "Quillwater", "Three Kettles", "Lantern Hollow", "Cinder Flat",
        "Alder Bend", "Tin Mesa", "Salt Gate", "Crow Landing"];

    /// <summary>The world that practitioners describe.</summary>
    public static World Usual { get; } = new();

    /// <summary>A world whose rates nobody told the estimator: days scatter more and some far more, guests come and are not always counted, lamps stay wet
    /// two to three times as long and longer in the cold, lights are misread three times as often, tanks hold a tenth less or more than they should.</summary>
    public static World Hard { get; } = new()
    {
        DayLogSd = 0.5,
        OddDays = 0.08,
        FilmChance = 0.7,
        FilmMeanHours = 10,
        FilmLongestHours = 60,
        FilmFollowsWeather = true,
        Misread = 0.03,
        FlickerNear = 0.03,
        GuestWeekends = 0.3,
        CapacityOff = 0.1,
        SightSd = 0.07,
        PercentSd = 0.05,
    };

    /// <summary>One day's inflow around the household's own mean (sd of its log), and the share of days on which that is doubled (washing, visitors).</summary>
    public double DayLogSd { get; init; } = 0.35;

    /// <summary>Share of days, 0..1, whose inflow scatters twice as much.</summary>
    public double OddDays { get; init; }

    /// <summary>What stays in after a free dump, as a share of capacity.</summary>
    public double ResidueShare { get; init; } = 0.01;

    /// <summary>Scatter of what stays in (sd of its log).</summary>
    public double ResidueLogSd { get; init; } = 0.5;

    /// <summary>Chance that a wet film holds a lamp after an emptying.</summary>
    public double FilmChance { get; init; } = 0.4;

    /// <summary>Hours that it holds it: the mean.</summary>
    public double FilmMeanHours { get; init; } = 5;

    /// <summary>Hours that it holds it at most.</summary>
    public double FilmLongestHours { get; init; } = 24;

    /// <summary>Whether a film dries slower in cool weather: twice as slow for each 10 degrees Celsius below 18, and the other way round.</summary>
    public bool FilmFollowsWeather { get; init; }

    /// <summary>Slosh near a probe's height, as a share of capacity.</summary>
    public double FlickerNear { get; init; } = 0.02;

    /// <summary>Chance that a lamp flickers there.</summary>
    public double FlickerChance { get; init; } = 0.3;

    /// <summary>Chance that somebody writes down a lamp wrongly.</summary>
    public double Misread { get; init; } = 0.01;

    /// <summary>Mean days until the lowest probe of a black tank fouls by itself.</summary>
    public double FoulDaysBlackLowest { get; init; } = 270;

    /// <summary>Mean days until any other probe fouls.</summary>
    public double FoulDays { get; init; } = 700;

    /// <summary>Mean days until a probe breaks.</summary>
    public double BreakDays { get; init; } = 2500;

    /// <summary>How many times as long a dump takes with a clog, and how much of the tank it leaves at most.</summary>
    public double ClogMinutes { get; init; } = 3;

    /// <summary>Share of the tank that a clog leaves at most.</summary>
    public double ClogLeaves { get; init; } = 0.5;

    /// <summary>How many times as long a dump takes with a blocked vent.</summary>
    public double VentMinutes { get; init; } = 1.8;

    /// <summary>Share of the tank that buildup takes up.</summary>
    public double BuildupTakes { get; init; } = 0.15;

    /// <summary>Share of the tank that a leaking valve loses in a day.</summary>
    public double LeakPerDay { get; init; } = 0.04;

    /// <summary>Rinses that buildup adds until the water runs clear.</summary>
    public int BuildupCycles { get; init; } = 3;

    /// <summary>Chance per day that the crew writes down what they notice of a trouble.</summary>
    public double Notices { get; init; } = 0.25;

    /// <summary>How far the eye is off, as a share of capacity.</summary>
    public double SightSd { get; init; } = 0.05;

    /// <summary>How far a strip is off, as a share of capacity.</summary>
    public double PercentSd { get; init; } = 0.03;

    /// <summary>Share of weekends with guests.</summary>
    public double GuestWeekends { get; init; }

    /// <summary>Share of those guests who are written down.</summary>
    public double GuestsWritten { get; init; } = 0.5;

    /// <summary>How far, as a share, a tank holds less or more than it should.</summary>
    public double CapacityOff { get; init; }

    /// <summary>Scatter of the inflow of one day.</summary>
    public double DayLogSdOf(SeededRandom chance) => OddDays > 0 && chance.Uniform() < OddDays ? 2 * DayLogSd : DayLogSd;

    /// <summary>How long a film holds a lamp, in hours, for an emptying at a moment.</summary>
    public double FilmHours(Instant at, SeededRandom chance)
    {
        var hours = -FilmMeanHours * Math.Log(1 - chance.Uniform());
        if (FilmFollowsWeather) hours *= Math.Pow(2, (18 - Celsius(at)) / 10);
        return Math.Min(FilmLongestHours, hours);
    }

    // A year between 5 and 27 degrees, warmest in the middle of July.
    private static double Celsius(Instant at) => 16 + 11 * Math.Cos(2 * Math.PI * (at.InUtc().DayOfYear - 197) / 365.25);
}
