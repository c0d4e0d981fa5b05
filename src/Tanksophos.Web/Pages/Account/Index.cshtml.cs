using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>The person's own account, and for owners who belongs to the rig: people, invitations, tokens.</summary>
[NoRig]
public sealed class AccountModel(CurrentRequest house, PeopleStore people, HostingOptions hosting, IClock clock) : FormPage
{
    /// <summary>The days on which weeks begin, somewhere or other.</summary>
    public static IReadOnlyList<IsoDayOfWeek> WeekStarts { get; } = [IsoDayOfWeek.Sunday, IsoDayOfWeek.Monday, IsoDayOfWeek.Saturday];

    /// <summary>Longest name of a token.</summary>
    public const int LongestTokenName = 60;

    /// <summary>Most tokens of one rig.</summary>
    public const int MaxTokens = 20;

    /// <summary>Most open invitations of one rig.</summary>
    public const int MaxInvitations = 20;

    /// <summary>The link just made; shown once.</summary>
    public string? NewLink { get; private set; }

    /// <summary>The token just made; shown once.</summary>
    public string? NewToken { get; private set; }

    public bool Lan => hosting.Lan;

    public IReadOnlyList<Member> Members => house.Rig is { } rig ? people.Members(rig.Id) : [];

    public IReadOnlyList<Invitation> Invitations => house.Rig is { } rig ? people.Invitations(rig.Id) : [];

    public IReadOnlyList<ApiToken> Tokens => house.Rig is { } rig ? people.Tokens(rig.Id) : [];

    public void OnGet()
    {
    }

    [Needs(Role.Owner)]
    public IActionResult OnPostInvite(string? role)
    {
        if (!Enum.TryParse<Role>(role, ignoreCase: true, out var asked) || !Enum.IsDefined(asked))
            return Refuse(AccountSays.InvitationChooseGuestCrewOr);
        if (Invitations.Count >= MaxInvitations) return Refuse(AccountSays.InvitationAtMostCanBeOpen(MaxInvitations));
        NewLink = $"{Base}/join/{people.Invite(house.Rig!.Id, asked)}";
        return Page();
    }

    [Needs(Role.Owner)]
    public IActionResult OnPostRevoke(int id) => people.Revoke(house.Rig!.Id, id) ? Done(AccountSays.InvitationCanceled) : NotFound();

    [Needs(Role.Owner)]
    public IActionResult OnPostToken(string? name, string[]? may)
    {
        var scopes = (may ?? []).Select(m => Enum.TryParse<TokenScopes>(m, out var scope) && Enum.IsDefined(scope) ? scope : TokenScopes.None)
            .Aggregate(TokenScopes.None, (all, one) => all | one);
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > LongestTokenName)
            return Refuse(AccountSays.TokenEnterANameOf1(LongestTokenName));
        if (Tokens.Count >= MaxTokens) return Refuse(AccountSays.TokenAtMostAreKeptRemove(MaxTokens));
        if (scopes == TokenScopes.None) return Refuse(AccountSays.TokenChooseWhatItMayDo);
        NewToken = people.NewToken(house.Rig!.Id, name.Trim(), scopes);
        return Page();
    }

    [Needs(Role.Owner)]
    public IActionResult OnPostDropToken(int id) => people.DropToken(house.Rig!.Id, id) ? Done(AccountSays.TokenRemovedProgramsThatUsedIt)
        : NotFound();

    [Needs(Role.Owner)]
    public IActionResult OnPostMember(int id, string? role)
    {
        if (people.Members(house.Rig!.Id).FirstOrDefault(m => m.PersonId == id) is not { } member) return NotFound();
        if (role == "out") return people.Leave(house.Rig.Id, id) ? Done(AccountSays.IsNoLongerOn(member.Name, house.Rig.Rig.Name))
            : Refuse(AccountSays.TheLastOwnerCantLeaveMake);
        if (!Enum.TryParse<Role>(role, ignoreCase: true, out var asked) || !Enum.IsDefined(asked)) return Refuse(AccountSays.RoleChooseGuestCrewOrOwner);
        if (member.Role == Role.Owner && asked != Role.Owner && people.Members(house.Rig.Id).Count(m => m.Role == Role.Owner) == 1)
            return Refuse(AccountSays.TheRigNeedsAnOwnerMake);
        people.Join(house.Rig.Id, id, asked);
        return Done(AccountSays.IsNow(member.Name, RoleName(asked)));
    }

    [Needs(Role.Owner)]
    public IActionResult OnPostHandOver(int to)
    {
        if (!people.HandOver(house.Rig!.Id, house.PersonId, to)) return Refuse(AccountSays.HandOverChoose);
        return Done(AccountSays.IsOwnerNow(people.Members(house.Rig.Id).First(m => m.PersonId == to).Name));
    }

    [Needs(Role.Guest)]
    public IActionResult OnPostLeave() =>
        people.Leave(house.Rig!.Id, house.PersonId) ? Redirect("~/") : Refuse(AccountSays.TheLastOwnerCantLeaveMake);

    public static string RoleName(Role role) => role switch { Role.Guest => "guest", Role.Crew => "crew", Role.Owner => "owner" };

    /// <summary>How long an invitation still works, in days.</summary>
    public int DaysLeft(Invitation invitation) => Math.Max(1, (int)Math.Ceiling((invitation.ExpiresAt - clock.GetCurrentInstant()).TotalDays));

    private string Base => Addresses.ForOthers(Request, hosting.Lan);

    private RedirectToPageResult Done(string words)
    {
        TempData[TodayModel.Logged] = words;
        return RedirectToPage();
    }
}
