using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>A sandbox: the rig's present state, copied, to play ahead in.</summary>
public sealed class PracticeTwinModel(CurrentRequest house) : FormPage
{
    /// <summary>What is tried.</summary>
    public TwinAct Act { get; private set; }

    /// <summary>Days ahead.</summary>
    public int Days { get; private set; } = 3;

    /// <summary>The belief then, if it is done.</summary>
    public LevelBelief? With { get; private set; }

    /// <summary>The belief then, if nothing is done.</summary>
    public LevelBelief? Without { get; private set; }

    /// <summary>The pile that an open black valve would leave; null where none is.</summary>
    public PileHour? Pile { get; private set; }

    /// <summary>A tank's drawing.</summary>
    public static TroughGeometry Trough(TankBelief tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        return new(tank.Tank, tank.Level, HouseRules.Default.DumpBlackAt * tank.Tank.CapacityL);
    }

    public IActionResult OnGet(string? act, string? days)
    {
        if (act is null && days is null) return Page();
        if (!int.TryParse(days, NumberStyles.None, CultureInfo.InvariantCulture, out var ahead) || ahead is < 1 or > Twin.MostDays)
            return Refuse(PracticeSays.TwinDaysAccepted);
        if (!Codes<TwinAct>.TryParse(act, out var tried)) return Refuse(PracticeSays.TwinActUnknown);
        (Act, Days) = (tried, ahead);
        var now = NodaTime.OffsetDateTime.FromDateTimeOffset(house.Now.InZone(house.Zone).ToDateTimeOffset());
        var log = house.RigSnapshot.Logbook;
        var twin = new Twin(log, now);
        With = twin.Ahead(Act, Days);
        Without = twin.Ahead(TwinAct.Nothing, Days);
        if (Act == TwinAct.OpenBlack && log.Rig.Tanks.FirstOrDefault(t => t.Role == TankRole.Black) is { } black)
        {
            var habits = PileHabits.Usual with { CapacityL = black.CapacityL, People = house.RigSnapshot.Belief.InForce.People };
            Pile = PileModel.Play(habits, open: true)[24 * Days];
        }
        return Page();
    }
}
