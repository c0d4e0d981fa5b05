using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>How one tank did over the year: charts, or tables of the same, with what may have changed it marked.</summary>
public sealed class HealthModel(CurrentRequest house, RigStore store, RigCache memory, AgendaService agenda) : PageModel
{
    /// <summary>What is believed of the tank.</summary>
    public TankBelief Tank { get; private set; } = null!;

    /// <summary>Its year.</summary>
    public TankHealth Health { get; private set; } = null!;

    /// <summary>When it is jetted next.</summary>
    public Core.Care.CareItem? NextJet => agenda.Situation.Care.FirstOrDefault(c => c.Chore == ChoreWords.PressureJet && c.Tank == Tank.Tank.Id);

    /// <summary>Services that gave a grade, the oldest first.</summary>
    public IReadOnlyList<ServiceEntry> Grades => [.. memory.Log(house.Rig!, store).Kind<ServiceEntry>()
        .Where(s => s.Grade is not null && (s.Tank is null || s.Tank == Tank.Tank.Id)).TakeLast(6)];

    /// <summary>Its conditions now.</summary>
    public TankConditions Now => house.RigSnapshot.Faults.Tanks.First(t => t.Tank.Id == Tank.Tank.Id);

    /// <summary>How its lamps did, low to high.</summary>
    public IReadOnlyList<ProbeLookBack> Lamps { get; private set; } = [];

    /// <summary>Days with a smell by weeks.</summary>
    public IReadOnlyList<HealthPoint> Smells => HealthStrips.Weeks(Health.OdorDays, Health.From, Health.To, house.Zone, house.WeekStart);

    /// <summary>How values are shown: charts or table.</summary>
    public string View { get; private set; } = "charts";

    public IActionResult OnGet(string? tank, string? view)
    {
        if (view == "table") View = view;
        var belief = house.RigSnapshot.Belief;
        if ((tank is null ? belief.Tanks[0] : belief.Tanks.FirstOrDefault(t => t.Tank.Id == tank)) is not { } found) return NotFound();
        Tank = found;
        var log = memory.Log(house.Rig!, store);
        Health = TankHealth.Compute(house.Rig!.Rig, found.Tank, log, house.Now);
        Lamps = [.. LevelSmoother.Probes(found, log).Where(p => p.Looks.Any(l => l.At.ToInstant() >= Health.From))];
        return Page();
    }
}
