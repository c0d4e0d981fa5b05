using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>On a phone: every place that is not in the bar, each with where it stands.</summary>
public sealed class MoreModel(CurrentRequest house, AgendaService agenda) : PageModel
{
    /// <summary>Shows it.</summary>
    public void OnGet()
    {
    }

    /// <summary>What Troubleshoot would say.</summary>
    public (string Said, bool Wrong) Troubleshoot
    {
        get
        {
            var faults = house.RigSnapshot.Faults;
            var named = faults.Tanks.SelectMany(t => t.Conditions).Where(c => c.Probability >= Conditions.Possible).MaxBy(c => c.Probability);
            if (named is not null) return (TimeWords.Capital(FaultWords.Brief(named.Code)) + ", " + FaultWords.Likely(named.Probability), true);
            return faults.Odors.Count > 0 ? ("Smell: " + TimeWords.Lower(FaultWords.Cause(faults.Odors[0].Cause)), true) : ("No problems found", false);
        }
    }

    /// <summary>What Sensors would say.</summary>
    public (string Said, bool Wrong) Sensors
    {
        get
        {
            var wrong = house.RigSnapshot.Belief.Tanks.SelectMany(t => t.Probes.Where(p => !p.Believed)).ToList();
            return wrong.Count switch
            {
                0 => ("All look right", false),
                1 => ($"{wrong[0].Probe.Label} light stuck {(wrong[0].StuckOn >= wrong[0].StuckOff ? "on" : "off")}", true),
                _ => ($"{wrong.Count} lights not trusted", true),
            };
        }
    }

    /// <summary>What Treatments would say.</summary>
    public string Treatments => agenda.Now.Items.FirstOrDefault(i => i.Code is AgendaCode.Dose or AgendaCode.StarterWater) is { At: { } at }
        ? $"Next dose {house.Times.Brief(at)}" : "No dose due";

    /// <summary>What the logbook would say.</summary>
    public string Logbook => house.RigSnapshot.Logbook.InOrder() is [.., var last] ? $"Last entry {house.Times.Ago(last.Instant)}" : "Nothing logged yet";
}
