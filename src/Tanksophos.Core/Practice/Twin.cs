using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Practice;

/// <summary>What can be tried on a copy of a rig.</summary>
public enum TwinAct
{
    /// <summary>Nothing is done.</summary>
    Nothing,

    /// <summary>Black is dumped.</summary>
    DumpBlack,

    /// <summary>Black is dumped, then gray.</summary>
    DumpBoth,

    /// <summary>Black is left open.</summary>
    OpenBlack,

    /// <summary>Gray is left open.</summary>
    OpenGray,

    /// <summary>Five gallons of water are added to black.</summary>
    TopUp,

    /// <summary>Two more people come aboard.</summary>
    Guests,
}

/// <summary>A copy of a rig in which one can play ahead. The log itself is never touched.</summary>
public static class Twin
{
    /// <summary>The furthest that is played ahead, in days.</summary>
    public const int MostDays = 14;

    /// <summary>What is added for a try, in litres: five gallons, as practitioners pour back in.</summary>
    public const double TopUpL = 5 * UsMeasures.GallonL;

    /// <summary>The belief some days ahead, if something is done now.</summary>
    /// <param name="logbook">The log.</param>
    /// <param name="now">The present moment.</param>
    /// <param name="act">What is done.</param>
    /// <param name="days">Days ahead, 1 to 14.</param>
    /// <exception cref="ArgumentOutOfRangeException">The days are none of these.</exception>
    public static LevelBelief Ahead(Logbook logbook, OffsetDateTime now, TwinAct act, int days)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        if (days is < 1 or > MostDays) throw new ArgumentOutOfRangeException(nameof(days), days, "1 to 14");
        var rig = logbook.Rig;
        var known = new Logbook(rig, logbook.Entries, now);
        var then = new List<LogEntry>();
        var black = rig.Tanks.Where(t => t.Role == TankRole.Black).ToList();
        var gray = rig.Tanks.Where(t => t.Role == TankRole.Gray).ToList();
        switch (act)
        {
            case TwinAct.DumpBlack or TwinAct.DumpBoth:
                then.AddRange(black.Select(t => new DumpEntry { At = now, Tank = t.Id }));
                if (act == TwinAct.DumpBoth) then.AddRange(gray.Select(t => new DumpEntry { At = now, Tank = t.Id }));
                break;
            case TwinAct.OpenBlack: then.AddRange(black.Select(t => new ValveEntry { At = now, Tank = t.Id, State = ValveState.Open })); break;
            case TwinAct.OpenGray: then.AddRange(gray.Select(t => new ValveEntry { At = now, Tank = t.Id, State = ValveState.Open })); break;
            case TwinAct.TopUp:
                if (black.Count > 0) then.Add(new WaterEntry { At = now, Tank = black[0].Id, WaterL = TopUpL, Purpose = WaterPurpose.TopUp });
                break;
            case TwinAct.Guests:
                var aboard = new JointEstimator().Estimate(known).InForce.People;
                then.Add(new PeopleEntry { At = now, Count = aboard + 2 });
                break;
        }
        var ahead = now.Plus(Duration.FromDays(days));
        return new JointEstimator().Estimate(new Logbook(rig, [.. known.InOrder(), .. then], ahead));
    }

    /// <summary>Whether something needs a sewer hookup.</summary>
    public static bool NeedsSewer(TwinAct act) => act is TwinAct.DumpBlack or TwinAct.DumpBoth or TwinAct.OpenBlack;
}
