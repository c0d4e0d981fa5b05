using System.Globalization;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>A dump run to practice, act by act, and its review. What goes wrong stays on the server until it is over.</summary>
public sealed class PracticeRunModel(CurrentRequest house, PracticeStore store) : FormPage
{
    private static readonly DrillAct[] Urgent = [DrillAct.NotNow, DrillAct.Talk, DrillAct.StopShower];

    /// <summary>The groups of things to do.</summary>
    public static IReadOnlyList<(string Name, IReadOnlyList<DrillAct> Acts)> Groups { get; } =
    [
        (PracticeSays.AtTheHandles, [DrillAct.OpenBlack, DrillAct.CloseBlack, DrillAct.OpenGray, DrillAct.CloseGray, DrillAct.LookHandles,
            DrillAct.WorkValve]),
        (PracticeSays.HoseAndWater, [DrillAct.LookHose, DrillAct.MendHose, DrillAct.HoseOn, DrillAct.ReadInlets, DrillAct.RinseHoseFirst,
            DrillAct.RinseHoseSecond, DrillAct.WaterOn, DrillAct.WaterOff]),
        (PracticeSays.LookAndWait, [DrillAct.Watch, DrillAct.Wait, DrillAct.LookToilet]),
        (PracticeSays.WhenDone, [DrillAct.StarterWater, DrillAct.Dose, DrillAct.Cap]),
    ];

    /// <summary>The run as it is kept.</summary>
    public StoredDrill Stored { get; private set; } = null!;

    /// <summary>The run.</summary>
    public DumpDrill Drill { get; private set; } = null!;

    /// <summary>Whether it was begun with another version of the program.</summary>
    public bool Renewed => Stored.Maker != DumpDrill.Maker;

    /// <summary>How it was played; null before its end.</summary>
    public DrillReview? Review { get; private set; }

    /// <summary>Whether the inlets bear names.</summary>
    public bool Named => !Drill.Troubles.Contains(DrillTrouble.TwoInlets);

    /// <summary>What cannot wait.</summary>
    public IReadOnlyList<DrillAct> Now => [.. Drill.Offered.Where(Urgent.Contains)];

    /// <summary>The drawing of what was really in the tanks.</summary>
    public DrillChart Chart => new(Review!);

    public IActionResult OnGet(string? word) => Load(word) ? Page() : NotFound();

    /// <summary>Does something.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPostDo(string? word, string? act, string? done)
    {
        if (!Load(word)) return NotFound();
        if (Renewed) return Refuse(PracticeSays.Renewed);
        if (Drill.Ended) return RedirectToPage(null, new { word });
        // A press from an older page shows how it stands now.
        if (int.TryParse(done, NumberStyles.None, CultureInfo.InvariantCulture, out var count) && count != Drill.Steps.Count)
            return RedirectToPage(null, new { word });
        if (!Codes<DrillAct>.TryParse(act, out var wanted) || !store.Do(house.PersonId, word!, Drill.Steps.Count, wanted))
            return Refuse(PracticeSays.ActNotOffered);
        return RedirectToPage(null, new { word });
    }

    /// <summary>Begins another.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPostAnother(string? word, bool same)
    {
        if (!Load(word)) return NotFound();
        var seed = same ? Stored.Seed : RandomNumberGenerator.GetInt32(1, int.MaxValue);
        return RedirectToPage(null, new { word = store.StartDrill(house.PersonId, seed, Stored.Difficulty).Word });
    }

    private bool Load(string? word)
    {
        if (store.FindDrill(house.PersonId, word) is not { } stored) return false;
        Stored = stored;
        Drill = DumpDrill.Play(stored.Seed, stored.Difficulty, Renewed ? [] : stored.Acts);
        if (Drill.Ended) Review = DrillReview.Of(Drill);
        return true;
    }
}
