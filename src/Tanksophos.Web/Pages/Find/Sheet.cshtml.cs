using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>A service sheet as it is shown.</summary>
/// <param name="Picture">The rig and what is believed about it.</param>
/// <param name="Units">Measures in which it is said.</param>
/// <param name="Times">Words for its times.</param>
/// <param name="Now">The present moment.</param>
/// <param name="Bearing">Entries that bear on it, in the order of time.</param>
public sealed record ServiceSheetView(RigSnapshot Picture, Units Units, TimeWords Times, Instant Now, IReadOnlyList<LogEntry> Bearing)
{
    private const int MostHistory = 30, MostRuns = 12;

    /// <summary>Notes and work, the newest first.</summary>
    public IReadOnlyList<LogEntry> History => [.. Bearing.Where(e => e is not DumpEntry and not FlushEntry).Reverse().Take(MostHistory)];

    /// <summary>The last dumps and rinses, the newest first.</summary>
    public IReadOnlyList<LogEntry> Runs => [.. Bearing.Where(e => e is DumpEntry or FlushEntry).Reverse().Take(MostRuns)];
}

/// <summary>The sheet for a technician: the rig, its probes, what was seen, what was tried. An owner can lend it by a link for a limited time.</summary>
public sealed class ServiceSheetModel(CurrentRequest house, RigStore store, RigCache memory, PeopleStore people, HostingOptions hosting) : FormPage
{
    /// <summary>For how many days a link may work.</summary>
    public static IReadOnlyList<int> Days { get; } = [1, 7, 30];

    /// <summary>Longest name of whom a link is for.</summary>
    public const int LongestName = 60;

    /// <summary>Most links of one rig that work at once.</summary>
    public const int MaxShares = 10;

    /// <summary>The link just made; shown once.</summary>
    public string? NewLink { get; private set; }

    public bool Lan => hosting.Lan;

    public IReadOnlyList<ShareLink> Shares => people.Shares(house.Rig!.Id);

    public ServiceSheetView Sheet => new(house.RigSnapshot, house.Units, house.Times, house.Now,
        [.. ServiceSheetFormat.Bearing(memory.Log(house.Rig!, store), house.Now)]);

    public void OnGet()
    {
    }

    /// <summary>The same as JSON.</summary>
    public IActionResult OnGetDocument() => File(ServiceSheetFormat.Write(house.RigSnapshot.Logbook, house.RigSnapshot.Belief, DocumentWords.English),
        "application/json", "service-sheet.json");

    [Needs(Role.Owner)]
    public IActionResult OnPostShare(string? name, int days)
    {
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > LongestName) return Refuse(FindSays.NameWhoIsItFor(LongestName));
        if (!Days.Contains(days)) return Refuse(FindSays.DaysChoose(string.Join(", ", Days)));
        if (Shares.Count >= MaxShares) return Refuse(FindSays.LinkAtMost(MaxShares));
        NewLink = $"{Addresses.ForOthers(Request, hosting.Lan)}/look/{people.Share(house.Rig!.Id, name.Trim(), Duration.FromDays(days))}";
        return Page();
    }

    [Needs(Role.Owner)]
    public IActionResult OnPostUnshare(int id)
    {
        if (!people.DropShare(house.Rig!.Id, id)) return NotFound();
        TempData[TodayModel.Logged] = FindSays.LinkCanceled;
        return RedirectToPage();
    }
}
