using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Data;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>What was believed of a tank and what turned out: each look beside the estimate before it.</summary>
public sealed class LooksModel(CurrentRequest house, RigStore store, RigCache memory) : PageModel
{
    /// <summary>The tank's looks.</summary>
    public Hindsight Hindsight { get; private set; } = null!;

    /// <summary>Their drawing.</summary>
    public HindsightChart Chart => new(Hindsight);

    public IActionResult OnGet(string? tank)
    {
        var belief = house.RigSnapshot.Belief;
        // Without a choice, the tank that was looked into most.
        var all = belief.Tanks.Select(t => Of(t)).ToList();
        if ((tank is null ? all.MaxBy(h => h.Seen.Count) : all.FirstOrDefault(h => h.Tank.Id == tank)) is not { } found) return NotFound();
        Hindsight = found;
        return Page();
    }

    /// <summary>All tanks' looks as a table.</summary>
    public IActionResult OnGetCsv() =>
        File(HindsightCsv.Write(house.RigSnapshot.Belief.Tanks.Select(t => Of(t))), "text/csv", "looks.csv");

    private Hindsight Of(TankBelief tank) =>
        Core.Levels.Hindsight.Of(tank.Tank, memory.Stretch(house.Rig!, store, Instant.FromUtc(2000, 1, 1, 0, 0), house.Now));
}
