using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>On a phone: every place that is not in the bar, each with where it stands.</summary>
public sealed class MoreModel(CurrentRequest house, AgendaService agenda) : PageModel
{
    /// <summary>Shows it.</summary>
    public void OnGet()
    {
    }

    /// <summary>What Troubleshoot says.</summary>
    public (string Said, bool Wrong) Troubleshoot
    {
        get
        {
            var faults = house.RigSnapshot.Faults;
            if (FaultWords.Noticed(faults) is { Length: > 0 } noticed) return (noticed, true);
            var summary = TroubleSummary.Compute(faults, house.RigSnapshot.Logbook.InOrder(), house.Now);
            return summary.Quiet
                ? (FaultWords.Nothing(summary.TooLittle, FaultWords.SensorDoubted(house.RigSnapshot.Belief)), false)
                : (MoreSays.SomethingToCheck, true);
        }
    }

    /// <summary>Chores that are due.</summary>
    public int CareDue => AgendaService.CareOf(agenda.Situation, agenda.Now).Count(c => c.Asks(house.Now));

    /// <summary>What Sensors says.</summary>
    public (string Said, bool Wrong) Sensors => SensorWords.Brief(house.RigSnapshot.Sensors);

    /// <summary>The next dose of the agenda.</summary>
    public string Treatments => agenda.Now.Items.FirstOrDefault(i => i.Code == AgendaCode.Dose) is not { } dose ? MoreSays.NoDoseDue
        : dose.At is { } at ? MoreSays.NextDose(house.Times.Brief(at)) : MoreSays.DoseDue;

    /// <summary>What the logbook would say.</summary>
    public string Logbook => house.RigSnapshot.Logbook.InOrder() is [.., var last]
        ? MoreSays.LastEntry(house.Times.Ago(last.Instant)) : MoreSays.NothingLoggedYet;
}
