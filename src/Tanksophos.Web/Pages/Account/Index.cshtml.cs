using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>The person's own account, and for owners who belongs to the rig: people, invitations, tokens.</summary>
[NoRig]
public sealed class AccountModel(CurrentRequest house, PeopleStore people, UserManager<Person> accounts, SignInManager<Person> signIn, SignInThrottle throttle,
    HostingOptions hosting, IClock clock) : FormPage
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

    public bool HasPassphrase { get; private set; }

    public bool Lan => hosting.Lan;

    public IReadOnlyList<Member> Members => house.Rig is { } rig ? people.Members(rig.Id) : [];

    public IReadOnlyList<Invitation> Invitations => house.Rig is { } rig ? people.Invitations(rig.Id) : [];

    public IReadOnlyList<ApiToken> Tokens => house.Rig is { } rig ? people.Tokens(rig.Id) : [];

    public async Task OnGetAsync() => HasPassphrase = await MeAsync() is { PasswordHash: not null };

    public async Task<IActionResult> OnPostPassphraseAsync(string? present, string? passphrase, string? again)
    {
        var me = await MeAsync();
        HasPassphrase = me.PasswordHash is not null;
        if (SigningIn.PassphraseProblem(passphrase, again) is { } problem) return Refuse(problem);
        if (throttle.Waits(HttpContext, me.UserName!, me))
            return Refuse(AccountSays.TooManyWrongTriesWaitMinutes(SignInThrottle.Pause.TotalMinutes));
        var changed = HasPassphrase ? await accounts.ChangePasswordAsync(me, present ?? "", passphrase!) : await accounts.AddPasswordAsync(me, passphrase!);
        if (!changed.Succeeded)
        {
            throttle.Wrong(HttpContext, me.UserName!, me);
            return Refuse(AccountSays.PassphraseTheCurrentOneIsWrong);
        }
        await signIn.SignInAsync(me, isPersistent: true); // its stamp is new: other devices are out, this one stays
        return Done(AccountSays.PassphraseChangedSignInAgainOn);
    }

    public async Task<IActionResult> OnPostEverywhereAsync()
    {
        await accounts.UpdateSecurityStampAsync(await MeAsync());
        return RedirectToPage("/SignIn/Index");
    }

    [Needs(Role.Owner)]
    public async Task<IActionResult> OnPostInviteAsync(string? role)
    {
        if (!Enum.TryParse<Role>(role, ignoreCase: true, out var asked) || !Enum.IsDefined(asked))
            return Refuse(AccountSays.InvitationChooseGuestCrewOr);
        if (Invitations.Count >= MaxInvitations) return Refuse(AccountSays.InvitationAtMostCanBeOpen(MaxInvitations));
        NewLink = $"{Base}/join/{people.Invite(house.Rig!.Id, asked)}";
        await OnGetAsync();
        return Page();
    }

    [Needs(Role.Owner)]
    public IActionResult OnPostRevoke(int id) => people.Revoke(house.Rig!.Id, id) ? Done(AccountSays.InvitationCanceled) : NotFound();

    [Needs(Role.Owner)]
    public async Task<IActionResult> OnPostTokenAsync(string? name, string? mayLog)
    {
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > LongestTokenName)
            return Refuse(AccountSays.TokenEnterANameOf1(LongestTokenName));
        if (Tokens.Count >= MaxTokens) return Refuse(AccountSays.TokenAtMostAreKeptRemove(MaxTokens));
        NewToken = people.NewToken(house.Rig!.Id, name.Trim(), mayLog == "yes");
        await OnGetAsync();
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

    [Needs(Role.Guest)]
    public IActionResult OnPostLeave() =>
        people.Leave(house.Rig!.Id, house.PersonId) ? Redirect("/") : Refuse(AccountSays.TheLastOwnerCantLeaveMake);

    public static string RoleName(Role role) => role switch { Role.Guest => "guest", Role.Crew => "crew", Role.Owner => "owner" };

    /// <summary>How long an invitation still works, in days.</summary>
    public int DaysLeft(Invitation invitation) => Math.Max(1, (int)Math.Ceiling((invitation.ExpiresAt - clock.GetCurrentInstant()).TotalDays));

    // On this machine itself the browser says "localhost"; a link for others names the machine as they reach it.
    private string Base =>
        hosting.Lan && Request.Host.Host is "localhost" or "127.0.0.1" or "[::1]" && hosting.Lan && Addresses.OfThisMachine() is [var near, ..]
            ? $"{Request.Scheme}://{near}:{Request.Host.Port}" : $"{Request.Scheme}://{Request.Host}";

    private async Task<Person> MeAsync() => (await accounts.GetUserAsync(User))!;

    private RedirectToPageResult Done(string words)
    {
        TempData[TodayModel.Logged] = words;
        return RedirectToPage();
    }
}
