using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>A practice case. What is hidden in it stays on the server until it is answered.</summary>
public class PracticeCaseModel(CurrentRequest house, PracticeStore store) : FormPage
{
    /// <summary>Number of who plays; 0 for a visitor.</summary>
    protected virtual int Player => house.PersonId;

    /// <summary>The page of the debrief.</summary>
    protected virtual string DebriefPage => "/Practice/Debrief";

    /// <summary>Whether who plays has an account here.</summary>
    public bool IsVisitor => Player == 0;

    private const int LastReadings = 6, LastEntries = 8;
    /// <summary>What fills the small tanks of cost: half an hour, twenty gallons, three messy jobs.</summary>
    public const double FullMinutes = 30, FullWaterL = 20 * UsMeasures.GallonL, FullMess = 3;

    private const double WidestSpread = 50;

    /// <summary>The case as it was played so far.</summary>
    public StoredPractice Played { get; private set; } = null!;

    /// <summary>The case.</summary>
    public PracticeCase Case { get; private set; } = null!;

    /// <summary>What was found so far.</summary>
    public IReadOnlyList<EvidenceResult> Results { get; private set; } = [];

    /// <summary>Whether the case was begun with another version of the program.</summary>
    public bool Renewed { get; private set; }

    /// <summary>Its sentences.</summary>
    public PracticeWords Words => new(house.Units);

    /// <summary>The tank's drawing, without a level.</summary>
    public TroughGeometry Trough => new(Case.Tank, new LevelBand(0, 0, 0), Case.Logbook.Rig.RulesInForce.DumpBlackAt * Case.Tank.CapacityL);

    /// <summary>The log with what was found.</summary>
    public IReadOnlyList<LogEntry> Log => Case.With(Results).InOrder();

    /// <summary>The last readings of the lights and logged dumps, the oldest first.</summary>
    public IReadOnlyList<LogEntry> Columns => [.. Log.Where(e => e is ReadingEntry { Lit: not null } r && r.Tank == Case.Tank.Id || e is DumpEntry d
        && d.Tank == Case.Tank.Id).TakeLast(LastReadings)];

    /// <summary>The other readings of the same moments.</summary>
    public ReadingEntry? Beside(LogEntry column, Tank tank) => Log.OfType<ReadingEntry>().FirstOrDefault(r => r.Tank == tank.Id && r.Instant == column.Instant
        && r.Lit is not null);

    /// <summary>The last entries, the newest last, without the readings.</summary>
    public IReadOnlyList<LogEntry> Told => [.. Case.Logbook.InOrder().Where(e => e is not ReadingEntry { Via: ReadingVia.Panel }).TakeLast(LastEntries)];

    /// <summary>The lights that are on now.</summary>
    public IReadOnlyList<string> Lit => Log.OfType<ReadingEntry>().LastOrDefault(r => r.Tank == Case.Tank.Id && r.Lit is not null)?.Lit ?? [];

    /// <summary>Time in words for the case's own now.</summary>
    public TimeWords Times => new(Case.Logbook.AsOf!.Value.ToInstant(), NodaTime.DateTimeZone.ForOffset(Case.Logbook.AsOf.Value.Offset), house.Style);

    /// <summary>Minutes, litres and messy jobs so far.</summary>
    public (double Minutes, double WaterL, int Messy) Spent => (Results.Sum(r => r.Evidence.Minutes), Results.Sum(r => r.Evidence.WaterL),
        Results.Count(r => r.Evidence.Mess == Mess.Messy));

    /// <summary>Whether the question is about what to do rather than what is so.</summary>
    public bool AsksDoing => Case.Topic is PracticeTopic.Rinsing or PracticeTopic.Planning;

    public IActionResult OnGet(string? word)
    {
        if (!Load(word)) return NotFound();
        return Played.EndedAt is not null ? RedirectToPage(DebriefPage, new { word }) : Page();
    }

    /// <summary>Asks for something.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPostAsk(string? word, string? code)
    {
        if (!Load(word)) return NotFound();
        if (Played.EndedAt is not null) return RedirectToPage(DebriefPage, new { word });
        if (Renewed) return Refuse(PracticeSays.Renewed);
        if (!Codes<EvidenceCode>.TryParse(code, out var evidence) || Case.Evidence.All(e => e.Code != evidence)) return Refuse(PracticeSays.NotOffered);
        store.Ask(Player, word!, evidence);
        return RedirectToPage(null, null, new { word }, "evidence");
    }

    /// <summary>Answers.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPostAnswer(string? word, string? answer, string? level, string? spread, string? sure,
        string[]? light = null)
    {
        if (!Load(word)) return NotFound();
        if (Played.EndedAt is not null) return RedirectToPage(DebriefPage, new { word });
        if (Renewed) return Refuse(PracticeSays.Renewed);
        var problems = new List<string>();
        if (!Codes<CaseAnswer>.TryParse(answer, out var chosen) || !Case.Choices.Contains(chosen)) problems.Add(PracticeSays.ChooseAnswer);
        if (!Number(level, 100, out var percent)) problems.Add(PracticeSays.LevelAccepted);
        if (!Number(spread, WidestSpread, out var around)) problems.Add(PracticeSays.SpreadAccepted);
        List<ProbeState> lights = [.. (light ?? []).Select(l => Codes<ProbeState>.TryParse(l, out var state) ? state : (ProbeState?)null).OfType<ProbeState>()];
        if (light is { Length: > 0 } && (lights.Count != light.Length || lights.Count != Case.Lights.Count)) problems.Add(PracticeSays.LightsAccepted);
        if (problems.Count > 0) return Refuse([.. problems]);
        var reply = new CaseReply(Played.Asked, chosen, percent / 100, Math.Max(0, percent - around) / 100, Math.Min(100, percent + around) / 100)
        {
            Lights = lights.Count > 0 ? lights : null,
        };
        store.End(Player, word!, CaseReview.Of(Case, reply), Number(sure, 100, out var said) && said > 0 ? said / 100 : null);
        return RedirectToPage(DebriefPage, new { word });
    }

    /// <summary>Lets others play the same case.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPostShare(string? word)
    {
        if (!Load(word) || IsVisitor) return NotFound();
        store.Share(house.PersonId, word!);
        return RedirectToPage(null, null, new { word }, "together");
    }

    /// <summary>The address at which others come in; null while nobody was asked.</summary>
    public string? Link => Played.Group is { } group ? Url.Page("/Practice/Together", null, new { group }, Request.Scheme, Request.Host.Value) : null;

    private static bool Number(string? text, double most, out double number) =>
        double.TryParse(text, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out number) && number >= 0 && number <= most;

    private bool Load(string? word)
    {
        if (store.Find(Player, word) is not { } played) return false;
        Played = played;
        Renewed = played.Maker != PracticeCase.Maker;
        Case = CaseMaker.Make(played.Seed, played.Topic, played.Difficulty);
        Results = Renewed ? [] : Case.Ask(played.Asked);
        return true;
    }
}
