namespace Tanksophos.Core.Practice;

/// <summary>One case of the course.</summary>
/// <param name="Number">1 to 10.</param>
/// <param name="Topic">Its topic.</param>
/// <param name="Difficulty">1 to 3.</param>
/// <param name="Seed">Its seed.</param>
public sealed record CourseCase(int Number, PracticeTopic Topic, int Difficulty, long Seed);

/// <summary>Ten cases with a thread: a first season, from the first wrong light to the tank that will not empty.</summary>
public static class Course
{
    /// <summary>The cases, in order.</summary>
    public static IReadOnlyList<CourseCase> Cases { get; } =
    [
        new(1, PracticeTopic.Lamps, 1, 223), // stuck on after a dump
        new(2, PracticeTopic.Rinsing, 1, 205), // the middle ran clear
        new(3, PracticeTopic.Smells, 1, 214), // a dry trap
        new(4, PracticeTopic.Planning, 1, 205), // too low to dump, too full to stay
        new(5, PracticeTopic.Lamps, 2, 210), // a dump that nobody logged
        new(6, PracticeTopic.Clogs, 2, 201), // a pile
        new(7, PracticeTopic.Rinsing, 2, 200), // gray left open
        new(8, PracticeTopic.Smells, 2, 226), // the propane alarm
        new(9, PracticeTopic.Planning, 2, 209), // it will not last
        new(10, PracticeTopic.Lamps, 3, 202), // the other handle was pulled
    ];
}
