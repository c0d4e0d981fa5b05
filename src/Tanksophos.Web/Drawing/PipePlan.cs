using Tanksophos.Core.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Drawing;

/// <summary>A part of the drains that can be pointed at.</summary>
/// <param name="Tank">Id of its tank; null for the outlet they share.</param>
/// <param name="Word">The rig's word for the drain; null for a valve, a tank or the outlet.</param>
/// <param name="Lines">Its name, in one line or two.</param>
/// <param name="X">Left.</param>
/// <param name="Y">Top.</param>
/// <param name="Width">Width.</param>
/// <param name="Height">Height.</param>
public sealed record PipePart(string? Tank, string? Word, IReadOnlyList<string> Lines, double X, double Y, double Width, double Height)
{
    /// <summary>Middle of it.</summary>
    public double MiddleX => X + Width / 2;

    /// <summary>Where a line of its name stands.</summary>
    public double LineY(int line) => Y + Height / 2 + 7 + (line - (Lines.Count - 1) / 2.0) * 21;
}

/// <summary>
/// The drains of a rig as one sees them from below: each tank with what drains into it on the left and its valve on the right, joined to the outlet at the
/// bottom. Pure numbers, 360 wide.
/// </summary>
public sealed class PipePlan
{
    public const double Width = 360;

    private const double DrainWidth = 120, TankX = 138, TankWidth = 112, ValveX = 264, ValveWidth = 70, MainX = 350, Row = 56, Gap = 8, Between = 12;
    private const int Longest = 10;

    /// <summary>The word for the drain of a black tank of which nothing is said.</summary>
    public const string Toilet = "toilet", AnyDrain = "drain";

    private PipePlan(IReadOnlyList<PipePart> drains, IReadOnlyList<PipePart> tanks, IReadOnlyList<PipePart> valves, PipePart outlet,
        IReadOnlyList<string> pipes)
    {
        (Drains, Tanks, Valves, Outlet, Pipes, Height) = (drains, tanks, valves, outlet, pipes, outlet.Y + outlet.Height + 4);
    }

    /// <summary>What drains into the tanks.</summary>
    public IReadOnlyList<PipePart> Drains { get; }

    /// <summary>The tanks.</summary>
    public IReadOnlyList<PipePart> Tanks { get; }

    /// <summary>Their valves.</summary>
    public IReadOnlyList<PipePart> Valves { get; }

    /// <summary>Outlet, cap and hose.</summary>
    public PipePart Outlet { get; }

    /// <summary>Paths of the pipes between them.</summary>
    public IReadOnlyList<string> Pipes { get; }

    /// <summary>Height of the whole.</summary>
    public double Height { get; }

    /// <summary>What drains into a tank; if nothing is said, the toilet into black and some drain into gray.</summary>
    public static IReadOnlyList<string> DrainsOf(Tank tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        IReadOnlyList<string> said = [.. tank.Fixtures.Where(f => !string.IsNullOrWhiteSpace(f)).Distinct()];
        return said.Count > 0 ? said : [tank.Role == TankRole.Black ? Toilet : AnyDrain];
    }

    /// <summary>Draws a rig.</summary>
    public static PipePlan Build(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        List<PipePart> drains = [], tanks = [], valves = [];
        var pipes = new List<string>();
        double y = 4, first = 0;
        foreach (var tank in rig.Tanks)
        {
            var words = DrainsOf(tank);
            var height = words.Count * Row + (words.Count - 1) * Gap;
            var middle = y + height / 2;
            for (var i = 0; i < words.Count; i++)
            {
                var top = y + i * (Row + Gap);
                drains.Add(new PipePart(tank.Id, words[i], Lines(RigWords.Drain(words[i])), 4, top, DrainWidth, Row));
                pipes.Add($"M{Svg.N(4 + DrainWidth)} {Svg.N(top + Row / 2)}H{Svg.N(TankX)}");
            }
            tanks.Add(new PipePart(tank.Id, null, Lines(tank.Name), TankX, y, TankWidth, height));
            valves.Add(new PipePart(tank.Id, null, [SharedSays.Valve], ValveX, middle - Row / 2, ValveWidth, Row));
            pipes.Add($"M{Svg.N(TankX + TankWidth)} {Svg.N(middle)}H{Svg.N(MainX)}");
            if (first == 0) first = middle;
            y += height + Between;
        }
        var outlet = new PipePart(null, null, [SharedSays.OutletAndHose], TankX, y, Width - TankX - 4, Row);
        pipes.Add($"M{Svg.N(MainX)} {Svg.N(first)}V{Svg.N(y + 2)}");
        return new PipePlan(drains, tanks, valves, outlet, pipes);
    }

    // In two lines where one is too long; a word that is longer still is cut.
    private static IReadOnlyList<string> Lines(string name)
    {
        static string Cut(string line) => line.Length <= Longest ? line : line[..(Longest - 1)] + "…";
        name = name.Trim();
        if (name.Length <= Longest) return [name];
        var space = name.LastIndexOf(' ', Math.Min(name.Length - 1, Longest));
        return space > 0 ? [Cut(name[..space]), Cut(name[(space + 1)..])] : [Cut(name)];
    }
}
