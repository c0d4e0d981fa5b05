using System.Text.Json;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>A person's own account: name, passphrase, codes, where it is signed in, and its end.</summary>
[NoRig]
public sealed class YouModel(CurrentRequest house, PeopleStore people, RigStore store, RigCache memory, SafeKeeping keeping, UserManager<Person> accounts,
    SignInManager<Person> signIn, SignInThrottle throttle, SecondStep second, SeenDevices seen, IClock clock) : FormPage
{
    /// <summary>A rig that would be left without an owner.</summary>
    /// <param name="RigId">Its number.</param>
    /// <param name="Name">Its name.</param>
    /// <param name="Others">Whether others belong to it, so that it needs another owner first.</param>
    /// <param name="Exported">Whether its present state was downloaded whole.</param>
    public sealed record Left(int RigId, string Name, bool Others, bool Exported);

    public bool HasPassphrase { get; private set; }

    /// <summary>Whether a code is asked for at sign-in.</summary>
    public bool HasCodes { get; private set; }

    /// <summary>How many recovery codes are left.</summary>
    public int CodesLeft { get; private set; }

    /// <summary>The key to set up in an app; null if nobody asked for it.</summary>
    public string? Key { get; private set; }

    /// <summary>Recovery codes just made; shown once.</summary>
    public IReadOnlyList<string> Recovery { get; private set; } = [];

    public IReadOnlyList<SignInPlace> SignIns => [.. people.SignInsOf(house.PersonId, SigningIn.WordOf(User))
        .Select(s => s with { SeenAt = seen.Last(s.Id, s.SeenAt) })];

    public IReadOnlyList<Left> Alone => [.. people.OwnedAlone(house.PersonId).Select(r => new Left(r.RigId, r.Name, r.Others, store.IsExported(r.RigId)))];

    public Task OnGetAsync() => LookAsync();

    public async Task<IActionResult> OnPostNameAsync(string? name)
    {
        var me = await LookAsync();
        if (SigningIn.NameProblem(name) is { } problem) return Refuse(problem);
        if (!HasPassphrase) return Refuse(AccountSays.NameSetAPassphraseFirst); // the demonstration is entered by its name alone
        if (name!.Trim() == me.UserName) return RedirectToPage();
        var done = await accounts.SetUserNameAsync(me, name.Trim());
        if (!done.Succeeded) return Refuse(SigningIn.Words(done, name));
        await signIn.SignInAsync(me, isPersistent: true);
        return Done(AccountSays.NameChanged(me.UserName!));
    }

    public async Task<IActionResult> OnPostPassphraseAsync(string? present, string? passphrase, string? again)
    {
        var me = await LookAsync();
        if (SigningIn.PassphraseProblem(passphrase, again) is { } problem) return Refuse(problem);
        if (Waits(me)) return TooMany();
        var changed = HasPassphrase ? await accounts.ChangePasswordAsync(me, present ?? "", passphrase!) : await accounts.AddPasswordAsync(me, passphrase!);
        if (!changed.Succeeded) return WrongPassphrase(me);
        await signIn.SignInAsync(me, isPersistent: true); // its stamp is new: other devices are out, this one stays
        return Done(AccountSays.PassphraseChangedSignInAgainOn);
    }

    public async Task<IActionResult> OnPostEverywhereAsync()
    {
        await accounts.UpdateSecurityStampAsync(await LookAsync());
        return RedirectToPage("/SignIn/Index");
    }

    public IActionResult OnPostEnd(string? id) => people.EndSignIn(house.PersonId, id) ? Done(AccountSays.Ended) : NotFound();

    /// <summary>Shows the key for the app; nothing is asked for at sign-in before a code of it was typed.</summary>
    public async Task<IActionResult> OnPostKeyAsync()
    {
        var me = await LookAsync();
        if (!HasPassphrase) return Refuse(AccountSays.SetAPassphraseFirst);
        if (HasCodes) return RedirectToPage();
        await accounts.ResetAuthenticatorKeyAsync(me);
        await signIn.SignInAsync(me, isPersistent: true);
        Key = await accounts.GetAuthenticatorKeyAsync(me);
        return Page();
    }

    public async Task<IActionResult> OnPostCodesAsync(string? code)
    {
        var me = await LookAsync();
        if (HasCodes) return RedirectToPage();
        if (await accounts.GetAuthenticatorKeyAsync(me) is not { } key) return Refuse(AccountSays.CodeWrong);
        if (!await second.IsRightAsync(me, code, accounts))
        {
            Key = key;
            return Refuse(AccountSays.CodeWrong);
        }
        await accounts.SetTwoFactorEnabledAsync(me, true);
        return await NewCodesAsync(me);
    }

    public async Task<IActionResult> OnPostRecoveryAsync(string? present)
    {
        var me = await LookAsync();
        if (!HasCodes) return RedirectToPage();
        if (Waits(me)) return TooMany();
        return await accounts.CheckPasswordAsync(me, present ?? "") ? await NewCodesAsync(me) : WrongPassphrase(me);
    }

    public async Task<IActionResult> OnPostNoCodesAsync(string? present)
    {
        var me = await LookAsync();
        if (Waits(me)) return TooMany();
        if (!await accounts.CheckPasswordAsync(me, present ?? "")) return WrongPassphrase(me);
        await accounts.SetTwoFactorEnabledAsync(me, false);
        await accounts.ResetAuthenticatorKeyAsync(me);
        await signIn.SignInAsync(me, isPersistent: true);
        return Done(AccountSays.SecondStepIsOff);
    }

    /// <summary>What is kept of the person beside the rigs.</summary>
    public async Task<IActionResult> OnGetDataAsync()
    {
        var me = await LookAsync();
        var json = JsonSerializer.SerializeToUtf8Bytes(new
        {
            name = me.UserName,
            since = Timestamps.Write(me.CreatedAt.WithOffset(Offset.Zero)),
            units = me.Units,
            clock = me.Clock,
            monthFirst = me.MonthFirst,
            currency = me.Currency,
            weekStart = me.WeekStart,
            keeper = me.IsKeeper,
            codes = HasCodes,
            rigs = house.Rigs.Select(r => new { name = r.Name, role = AccountModel.RoleName(r.Role), archived = r.Archived }),
            signedIn = SignIns.Select(s => new { device = s.Device, since = Timestamps.Write(s.Since.WithOffset(Offset.Zero)) }),
        }, Indented);
        return File(json, "application/json", "account.json");
    }

    public async Task<IActionResult> OnPostDeleteAsync(string? name, string? present)
    {
        var me = await LookAsync();
        if (name?.Trim() != me.UserName) return Refuse(AccountSays.NameTypeItToConfirm(me.UserName!));
        if (Waits(me)) return TooMany();
        if (HasPassphrase && !await accounts.CheckPasswordAsync(me, present ?? "")) return WrongPassphrase(me);
        var alone = Alone;
        if (alone.Any(r => r.Others || !r.Exported)) return Refuse(AccountSays.RigsHandOverOrDownloadFirst);
        if (alone.Count > 0) keeping.KeepAside("delete", clock.GetCurrentInstant());
        foreach (var rig in alone)
        {
            if (!store.Delete(rig.RigId)) return Refuse(AccountSays.RigsHandOverOrDownloadFirst); // changed since it was downloaded
            memory.Forget(rig.RigId);
        }
        people.KeepByAnother(me.Id);
        await signIn.SignOutAsync();
        await accounts.DeleteAsync(me);
        return RedirectToPage("/SignIn/Index");
    }

    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true };

    private async Task<Person> LookAsync()
    {
        var me = (await accounts.GetUserAsync(User))!;
        (HasPassphrase, HasCodes) = (me.PasswordHash is not null, me.TwoFactorEnabled);
        if (HasCodes) CodesLeft = await accounts.CountRecoveryCodesAsync(me);
        return me;
    }

    private async Task<IActionResult> NewCodesAsync(Person me)
    {
        Recovery = [.. await accounts.GenerateNewTwoFactorRecoveryCodesAsync(me, SecondStep.RecoveryCodes) ?? []];
        await signIn.SignInAsync(me, isPersistent: true); // a new stamp: other devices are out
        (HasCodes, CodesLeft) = (true, Recovery.Count);
        return Page();
    }

    private bool Waits(Person me) => throttle.Waits(HttpContext, me.UserName!, me);

    private PageResult TooMany() => Refuse(AccountSays.TooManyWrongTriesWaitMinutes(SignInThrottle.Pause.TotalMinutes));

    private PageResult WrongPassphrase(Person me)
    {
        throttle.Wrong(HttpContext, me.UserName!, me);
        return Refuse(AccountSays.PassphraseTheCurrentOneIsWrong);
    }

    private RedirectToPageResult Done(string words)
    {
        TempData[TodayModel.Logged] = words;
        return RedirectToPage();
    }
}
