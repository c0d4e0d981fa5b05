using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.App;
using Tanksophos.Web.Words;

namespace Tanksophos.Web.Pages;

/// <summary>What is behind a smell, a slow drain, a drip: the causes in order, the check that helps most, and what to do.</summary>
public sealed class FindModel(Household house, RigStore store) : FormPage
{
    /// <summary>What the program makes of the log.</summary>
    public FaultReport Report => house.Picture.Faults;

    /// <summary>Its words.</summary>
    public FaultWords Words => new(house.Rig!.Rig, house.Units, house.Times);

    /// <summary>Conditions worth naming: likely ones, and possible ones after them.</summary>
    public IReadOnlyList<(Tank Tank, ConditionBelief Belief)> Named =>
        [.. Report.Tanks.SelectMany(t => t.Conditions.Where(c => c.Probability >= Conditions.Possible).Select(c => (t.Tank, c))).OrderByDescending(x => x.c.Probability)];

    /// <summary>Whether there is anything to say.</summary>
    public bool Quiet => Named.Count == 0 && Report.Odors.Count == 0;

    /// <summary>Whether the log holds too little of every tank to tell.</summary>
    public bool TooLittle => Report.Tanks.All(t => !t.Enough);

    /// <summary>Places that can be pointed at, with their rectangle in a plan of 360 by 260.</summary>
    public static IReadOnlyList<(OdorPlace Place, string Name, int X, int Y, int Width, int Height)> Plan { get; } =
    [
        (OdorPlace.ToiletOnFlush, "Toilet", 12, 12, 104, 58),
        (OdorPlace.BathSink, "Bath sink", 118, 12, 104, 58),
        (OdorPlace.GalleySink, "Galley sink", 224, 12, 104, 58),
        (OdorPlace.Shower, "Shower", 12, 72, 104, 58),
        (OdorPlace.Bathroom, "Bathroom", 118, 72, 104, 58),
        (OdorPlace.Floor, "Near the floor", 224, 72, 104, 58),
        (OdorPlace.WholeRig, "Everywhere", 12, 132, 316, 54),
        (OdorPlace.StorageBay, "Storage bay", 12, 200, 157, 54),
        (OdorPlace.Outside, "Outside", 171, 200, 157, 54),
    ];

    /// <summary>What can be noticed beside smells.</summary>
    public static IReadOnlyList<(SymptomCode Code, string Name)> Noticing { get; } =
    [
        (SymptomCode.BacksUpOnFlush, "It backs up"), (SymptomCode.DrainsSlowly, "Drains slowly"), (SymptomCode.Gurgles, "It gurgles"), (SymptomCode.FillsTooSoon, "Fills too soon"),
        (SymptomCode.NothingComesOut, "Nothing comes out"), (SymptomCode.HeapSeen, "I see a heap"), (SymptomCode.BowlGoesDry, "The bowl goes dry"), (SymptomCode.ValveDrips, "A valve drips"),
        (SymptomCode.ValveStiff, "A valve is stiff"), (SymptomCode.ValveWontClose, "A valve won't close"), (SymptomCode.PropaneAlarm, "Propane alarm"),
    ];

    /// <summary>A name in one line, or in two where the place is narrow, with how far each stands below the middle.</summary>
    public static IEnumerable<(string Line, int Y)> Lines(string name, int width)
    {
        ArgumentNullException.ThrowIfNull(name);
        var split = width < 110 ? name.LastIndexOf(' ') : -1;
        return split < 0 ? [(name, 7)] : [(name[..split], -5), (name[(split + 1)..], 19)];
    }

    public void OnGet()
    {
    }

    /// <summary>Logs what was noticed, now.</summary>
    public IActionResult OnPostNoticed(string? id, string? code, string? tank)
    {
        if (!Codes<SymptomCode>.TryParse(code, out var symptom)) return Refuse($"Noticed: one of {string.Join(", ", Codes<SymptomCode>.All)} is accepted.");
        if (!string.IsNullOrEmpty(tank) && house.Rig!.Rig.Find(tank) is null) return Refuse("Tank: one of the rig's tanks is accepted.");
        return Record(new SymptomEntry { Id = Key(id), At = Now, Code = symptom, Tank = string.IsNullOrEmpty(tank) || symptom == SymptomCode.PropaneAlarm ? null : tank });
    }

    /// <summary>Logs how a check came out.</summary>
    public IActionResult OnPostCheck(string? id, string? code, string? tank, string? result)
    {
        if (!Codes<CheckCode>.TryParse(code, out var check)) return Refuse($"Check: one of {string.Join(", ", Codes<CheckCode>.All)} is accepted.");
        if (!Codes<CheckResult>.TryParse(result, out var came)) return Refuse("Result: pass or fail is accepted.");
        return Record(new CheckEntry { Id = Key(id), At = Now, Code = check, Result = came, Tank = house.Rig!.Rig.Find(tank)?.Id });
    }

    private OffsetDateTime Now => Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime();

    private static string Key(string? id) => id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId();

    private IActionResult Record(LogEntry entry) => Written(store, house, entry, () => RedirectToPage());
}
