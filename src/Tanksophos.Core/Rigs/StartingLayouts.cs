namespace Tanksophos.Core.Rigs;

/// <summary>The layouts that a first rig can start from.</summary>
public enum StartingLayout
{
    /// <summary>One black and one gray tank.</summary>
    BlackAndGray,

    /// <summary>One black tank, a bath gray and a galley gray.</summary>
    BlackAndTwoGrays,

    /// <summary>One gray tank, no black (a cassette or composting toilet).</summary>
    GrayOnly,
}

/// <summary>Makes a rig from a layout, so that an owner can start with three numbers and refine later.</summary>
public static class StartingLayouts
{
    /// <summary>Builds the rig. Probes stand at 1/3, 2/3 and Full, the commonest panel.</summary>
    /// <param name="name">The rig's name.</param>
    /// <param name="layout">Which tanks it has.</param>
    /// <param name="people">People aboard, 0 or more.</param>
    /// <param name="blackL">Black capacity in litres; ignored without black.</param>
    /// <param name="grayL">Capacity of each gray tank in litres.</param>
    /// <param name="monitor">The kind of panel for all tanks.</param>
    public static Rig Build(string name, StartingLayout layout, int people, double blackL, double grayL, MonitorKind monitor)
    {
        Tank black = new("black", "Black", TankRole.Black, blackL) { Fixtures = ["toilet"] };
        IReadOnlyList<Tank> tanks = layout switch
        {
            StartingLayout.BlackAndGray =>
                [black, new("gray", "Gray", TankRole.Gray, grayL) { Fixtures = ["galley-sink", "bath-sink", "shower"] }],
            StartingLayout.BlackAndTwoGrays =>
                [
                    black,
                    new("gray-bath", "Bath gray", TankRole.Gray, grayL) { Fixtures = ["bath-sink", "shower"] },
                    new("gray-galley", "Galley gray", TankRole.Gray, grayL) { Fixtures = ["galley-sink"] },
                ],
            StartingLayout.GrayOnly => [new("gray", "Gray", TankRole.Gray, grayL) { Fixtures = ["galley-sink", "bath-sink", "shower"] }],
        };
        return new Rig(name, "", people, [.. tanks.Select(t => t with { Monitor = Panel(monitor) })]);
    }

    private static TankMonitor Panel(MonitorKind kind) => kind switch
    {
        MonitorKind.Probes => TankMonitor.WithProbes(
            new Probe("low", "1/3", 0.33), new Probe("mid", "2/3", 0.66), new Probe("top", "Full", 0.95)),
        MonitorKind.Percent => TankMonitor.Percent,
        MonitorKind.None => TankMonitor.None,
    };
}
