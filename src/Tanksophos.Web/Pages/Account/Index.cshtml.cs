using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>The person's own account, and for owners who belongs to the rig: people, invitations, tokens.</summary>
[NoRig]
public sealed class AccountModel(CurrentRequest house, PeopleStore people, UserManager<Person> accounts, SignInManager<Person> signIn, SignInThrottle throttle,
    HostingOptions hosting, IClock clock) : FormPage
{
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
            return Refuse($"Too many wrong tries. Wait {SignInThrottle.Pause.TotalMinutes:0} minutes, then try again.");
        var changed = HasPassphrase ? await accounts.ChangePasswordAsync(me, present ?? "", passphrase!) : await accounts.AddPasswordAsync(me, passphrase!);
        if (!changed.Succeeded)
        {
            throttle.Wrong(HttpContext, me.UserName!, me);
            return Refuse("Passphrase: the current one is wrong.");
        }
        await signIn.SignInAsync(me, isPersistent: true); // its stamp is new: other devices are out, this one stays
        return Done("Passphrase changed. Sign in again on your other devices.");
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
            return Refuse("Invitation: choose guest, crew or owner.");
        if (Invitations.Count >= MaxInvitations) return Refuse($"Invitation: at most {MaxInvitations} can be open at once. Cancel some first.");
        NewLink = $"{Base}/join/{people.Invite(house.Rig!.Id, asked)}";
        await OnGetAsync();
        return Page();
    }

    [Needs(Role.Owner)]
    public IActionResult OnPostRevoke(int id) => people.Revoke(house.Rig!.Id, id) ? Done("Invitation canceled.") : NotFound();

    [Needs(Role.Owner)]
    public async Task<IActionResult> OnPostTokenAsync(string? name, string? mayLog)
    {
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > LongestTokenName)
            return Refuse($"Token: enter a name of 1 to {LongestTokenName} characters.");
        if (Tokens.Count >= MaxTokens) return Refuse($"Token: at most {MaxTokens} are kept. Remove some first.");
        NewToken = people.NewToken(house.Rig!.Id, name.Trim(), mayLog == "yes");
        await OnGetAsync();
        return Page();
    }

    [Needs(Role.Owner)]
    public IActionResult OnPostDropToken(int id) => people.DropToken(house.Rig!.Id, id) ? Done("Token removed. Programs that used it are refused now.")
        : NotFound();

    [Needs(Role.Owner)]
    public IActionResult OnPostMember(int id, string? role)
    {
        if (people.Members(house.Rig!.Id).FirstOrDefault(m => m.PersonId == id) is not { } member) return NotFound();
        if (role == "out") return people.Leave(house.Rig.Id, id) ? Done($"{member.Name} is no longer on {house.Rig.Rig.Name}.")
            : Refuse("The last owner can't leave. Make someone else an owner first.");
        if (!Enum.TryParse<Role>(role, ignoreCase: true, out var asked) || !Enum.IsDefined(asked)) return Refuse("Role: choose guest, crew or owner.");
        if (member.Role == Role.Owner && asked != Role.Owner && people.Members(house.Rig.Id).Count(m => m.Role == Role.Owner) == 1)
            return Refuse("The rig needs an owner. Make someone else one first.");
        people.Join(house.Rig.Id, id, asked);
        return Done($"{member.Name} is now {RoleName(asked)}.");
    }

    [Needs(Role.Guest)]
    public IActionResult OnPostLeave() =>
        people.Leave(house.Rig!.Id, house.PersonId) ? Redirect("/") : Refuse("The last owner can't leave. Make someone else an owner first.");

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
