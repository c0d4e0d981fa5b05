namespace Tanksophos.Core.Levels;

/// <summary>A level that is not known exactly, in litres.</summary>
/// <param name="P05L">One time in twenty there is less.</param>
/// <param name="P50L">As often less as more.</param>
/// <param name="P95L">One time in twenty there is more.</param>
public readonly record struct LevelBand(double P05L, double P50L, double P95L);
