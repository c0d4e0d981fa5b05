using Tanksophos.Core.Levels;
using Tanksophos.Core.Outlook;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Drawing;

/// <summary>Everything needed to show one tank.</summary>
/// <param name="Belief">What is believed about it.</param>
/// <param name="Outlook">When it reaches its marks.</param>
/// <param name="Trough">Its drawing.</param>
/// <param name="Capacity">Its capacity in the person's units.</param>
public sealed record TankView(TankBelief Belief, TankOutlook Outlook, TroughGeometry Trough, string Capacity)
{
    /// <summary>Every tank of a rig.</summary>
    /// <param name="rig">How it is.</param>
    /// <param name="units">The person's units.</param>
    public static IReadOnlyList<TankView> All(RigSnapshot rig, Units units)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(units);
        return [.. rig.Belief.Tanks.Select(t => new TankView(t, rig.Advice[t.Tank.Id],
            new TroughGeometry(t.Tank, t.Level, rig.Advice[t.Tank.Id].DumpLevelL), units.Volume(t.Tank.CapacityL)))];
    }
}

/// <summary>A tank to draw.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="Prefix">Makes ids unique where a tank is drawn more than once on a page.</param>
/// <param name="Alt">What the picture shows, in words.</param>
/// <param name="Editable">Whether the lamps and the liquid can be tapped.</param>
public sealed record TroughDrawing(TankView Tank, string Prefix, string Alt, bool Editable = false);
