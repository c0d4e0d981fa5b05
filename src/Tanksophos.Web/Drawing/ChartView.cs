using NodaTime;

namespace Tanksophos.Web.Drawing;

/// <summary>A chart with what belongs to it.</summary>
/// <param name="Code">Its code on the page.</param>
/// <param name="Title">What it shows.</param>
/// <param name="Said">What its rise or fall means.</param>
/// <param name="Chart">Its geometry.</param>
public sealed record ChartView(string Code, string Title, string Said, HealthChart Chart)
{
    /// <summary>The value above which something is to be done, or the usual one; null for none.</summary>
    public double? Rule { get; init; }

    /// <summary>Whether the rule is what is usual, not a limit.</summary>
    public bool RuleIsUsual { get; init; }

    /// <summary>Whether counts are drawn as bars.</summary>
    public bool Bars { get; init; }

    /// <summary>Whether the values are listed instead.</summary>
    public bool AsTable { get; init; }

    /// <summary>Services and the like, by letter.</summary>
    public IReadOnlyList<(string Letter, Instant At)> Flags { get; init; } = [];
}
