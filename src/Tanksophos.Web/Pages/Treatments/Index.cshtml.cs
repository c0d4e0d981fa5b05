using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>What is in each tank, what is due, and the recipes: what to put in, how much, and what never together.</summary>
public sealed class TreatmentsModel(CurrentRequest house, RigStore store, TreatmentService desk, AgendaService agenda) : FormPage
{
    private const double MaxDays = 60;

    /// <summary>The recipe that is followed; null for the list.</summary>
    public TreatmentOffer? Followed { get; private set; }

    /// <summary>The tank it is for.</summary>
    public TankBelief At { get; private set; } = null!;

    /// <summary>What the person asked of the calculator, as typed.</summary>
    public (string? High, string? Days, string? Capacity) Typed { get; private set; }

    /// <summary>What that comes to.</summary>
    public TreatmentAsk Asked { get; private set; } = new();

    /// <summary>The hottest day of the week ahead by the trip.</summary>
    public double? HighC => desk.HighC;

    /// <summary>Whether the place is on a septic system, as the trip says.</summary>
    public bool Septic => desk.Septic;

    /// <summary>The desk all is judged at.</summary>
    public TreatmentService Desk => desk;

    /// <summary>The agenda's texts.</summary>
    public AgendaTexts Texts => agenda.Texts;

    /// <summary>What the agenda has going into a tank: of each kind the next.</summary>
    public IEnumerable<AgendaItem> Suggested(string tank) => agenda.Now.Items.Where(i => i.Tanks.Contains(tank) && GoesIn(i))
        .DistinctBy(i => (i.Code, i.Recipe));

    /// <summary>What is held back from it.</summary>
    public IEnumerable<AgendaHeld> Held(string tank) => agenda.Now.Held.Where(h => h.Tank == tank && GoesIn(h.Item));

    private static bool GoesIn(AgendaItem item) =>
        item.Code is AgendaCode.Ventilate or AgendaCode.Rinse or AgendaCode.StarterWater or AgendaCode.Dose or AgendaCode.ScrubBeforeDrive
        || item is { Code: AgendaCode.Remedy, Recipe: not null } || item is { Code: AgendaCode.Care, Chore: ChoreWords.DeepClean };

    /// <summary>What is in a tank.</summary>
    public InTheTank In(string tank) => desk.In(tank);

    /// <summary>Treatments under way in a tank.</summary>
    public IReadOnlyList<Course> Under(string tank) => Courses.Build(desk.Log, tank, house.Now);

    /// <summary>When a deep clean is due; null for no date.</summary>
    public Core.Care.CareItem? DeepClean(string tank) =>
        AgendaService.CareOf(agenda.Situation, agenda.Now).FirstOrDefault(c => c.Chore == ChoreWords.DeepClean && c.Tank == tank);

    /// <summary>The course by which lamps of a tank are being won back; null for none.</summary>
    public SensorCourse? Lamps(string tank) => house.RigSnapshot.Sensors.Courses.FirstOrDefault(c => c.Tank == tank);

    /// <summary>When gray last had soap or degreaser.</summary>
    public NodaTime.Instant? GrayCared(string tank) => desk.Log.Kind<DoseEntry>()
        .LastOrDefault(d => d.Tank == tank && d.Recipe is DoseRecipe.GraySoap or DoseRecipe.GrayDegreaser or DoseRecipe.TravelScrub)?.Instant;

    /// <summary>A treatment as it would be now.</summary>
    public TreatmentOffer Of(Recipe recipe, TankBelief tank) => desk.Of(recipe, tank);

    public IActionResult OnGet(string? recipe, string? tank, string? high, string? days, string? capacity)
    {
        if (recipe is null) return Page();
        Typed = (high, days, capacity);
        var problems = Ask(high, days, capacity);
        if (!Find(recipe, tank)) return NotFound();
        return problems.Count > 0 ? Refuse([.. problems]) : Page();
    }

    /// <summary>Logs that it went in; what is refused is not logged here.</summary>
    public IActionResult OnPostIn(string? id, string? recipe, string? tank, string? high, string? days)
    {
        Typed = (high, days, null);
        var problems = Ask(high, days, null);
        if (!Find(recipe, tank)) return NotFound();
        if (problems.Count > 0) return Refuse([.. problems]);
        if (Followed!.Refused) return Refuse([.. Followed.Against.Where(o => o.Refuses).Select(o => TreatmentWords.Objection(o, house.Rig!.Rig.RulesInForce))]);
        return Record(TreatmentService.Entry(Followed, id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId(),
            NodaTime.Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime(), At.Tank.Id));
    }

    /// <summary>Keeps how a paper did in the glass, or in the jar.</summary>
    public IActionResult OnPostPaper(string? id, string? paper, string? result, string? how)
    {
        if (!Codes<CheckResult>.TryParse(result, out var came)) return Refuse(TreatmentsSays.PaperChooseOneOf(string.Join(", ", Codes<CheckResult>.All)));
        if (paper?.Length > 60) return Refuse(TreatmentsSays.WhichPaperUseAtMost60);
        if (how is not (null or "" or "glass" or "jar")) return Refuse(TreatmentsSays.TestChooseGlassOrJar);
        var entry = new CheckEntry
        {
            Id = id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId(),
            At = NodaTime.Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime(),
            Code = CheckCode.PaperDissolves,
            Result = came,
            Note = how == "jar" ? Name(paper) + Jar : string.IsNullOrWhiteSpace(paper) ? null : Name(paper)
        };
        return Record(entry);
    }

    /// <summary>The papers that were tested, each with its last result in the glass and in the jar, the newest first.</summary>
    public IReadOnlyList<(string Paper, bool? Glass, bool? Jar, NodaTime.Instant At)> Papers =>
        [.. desk.Log.Kind<CheckEntry>().Where(c => c.Code == CheckCode.PaperDissolves).Reverse().GroupBy(c => Name(c.Note).ToLowerInvariant()).Take(6)
            .Select(g => (Name(g.First().Note), Last(g, jar: false), Last(g, jar: true), g.First().Instant))];

    // The jar is said behind the paper's name: the log knows one check of paper.
    private const string Jar = " (jar)";

    private static string Name(string? paper) => string.IsNullOrWhiteSpace(paper) ? TreatmentsSays.APaper : paper.Trim() is var p
        && p.EndsWith(Jar, StringComparison.Ordinal) ? p[..^Jar.Length] : p;

    private static bool? Last(IEnumerable<CheckEntry> tests, bool jar) =>
        tests.FirstOrDefault(t => t.Note?.EndsWith(Jar, StringComparison.Ordinal) == true == jar) is { } t ? t.Result == CheckResult.Pass : null;

    // What is typed wrong counts as not said, and is said.
    private List<string> Ask(string? high, string? days, string? capacity)
    {
        var problems = new List<string>();
        double? heat = null, until = null, litres = null;
        if (!string.IsNullOrWhiteSpace(high))
        {
            if (house.Units.TryParseTemperature(high, out var c) && c is >= -60 and <= 60) heat = c;
            else problems.Add(TreatmentsSays.HottestDayEnter(house.Units.AcceptedTemperature));
        }
        if (!string.IsNullOrWhiteSpace(days))
        {
            if (double.TryParse(days.Trim().Replace(',', '.'), System.Globalization.NumberStyles.AllowDecimalPoint,
                System.Globalization.CultureInfo.InvariantCulture, out var d) && d is >= 0 and <= MaxDays) until = d;
            else problems.Add(TreatmentsSays.DaysEnterANumberFrom0);
        }
        if (!string.IsNullOrWhiteSpace(capacity))
        {
            if (house.Units.TryParseVolume(capacity, out var l) && l is >= 1 and <= 5000) litres = l;
            else problems.Add(TreatmentsSays.CapacityEnterMoreThan0(house.Units.AcceptedVolume));
        }
        Asked = new TreatmentAsk(heat, until, litres);
        return problems;
    }

    private IActionResult Record(LogEntry entry) => Written(store, house, entry, () => RedirectToPage(new { recipe = (string?)null }));

    private bool Find(string? recipe, string? tank)
    {
        if (!Codes<DoseRecipe>.TryParse(recipe, out var code) || Recipes.Find(code) is not { } known) return false;
        var belief = house.RigSnapshot.Belief;
        if ((string.IsNullOrEmpty(tank) ? belief.Tanks.FirstOrDefault(t => known.For(t.Tank.Role))
            : belief.Tanks.FirstOrDefault(t => t.Tank.Id == tank)) is not { } found) return false;
        At = found;
        Followed = desk.Of(known, found, Asked);
        return true;
    }
}
