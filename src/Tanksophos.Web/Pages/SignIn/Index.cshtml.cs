using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.RateLimiting;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Hosting;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>Signing in; on a demonstration that only this machine can reach, with one click.</summary>
[AllowAnonymous]
[EnableRateLimiting(SigningIn.Slowly)]
public sealed class SignInModel(PeopleStore people, UserManager<Person> accounts, SignInManager<Person> signIn, SignInThrottle throttle,
    SecondStep second, HostingOptions hosting) : FormPage
{
    public string Name { get; private set; } = "";

    public string Back { get; private set; } = "/";

    /// <summary>Given with the code, where the passphrase was right and a code is asked for; null before.</summary>
    public string? Ticket { get; private set; }

    public bool OneClick => hosting.OneClick(HttpContext);

    public IActionResult OnGet(string? back)
    {
        Back = Local(back);
        if (!people.AnyPeople) return RedirectToPage("/First/Index");
        return User.Identity?.IsAuthenticated == true ? LocalRedirect(Back) : Page();
    }

    public async Task<IActionResult> OnPostAsync(string? name, string? passphrase, string? back)
    {
        (Name, Back) = (name ?? "", Local(back));
        var wrong = AccountSays.WrongNameOrPassphrase;
        var plain = name is { Length: <= SigningIn.LongestName + 20 } ? name.Trim() : "";
        var person = plain.Length == 0 ? null : await accounts.FindByNameAsync(plain);
        // The same words, the same pause and the same work for names that exist and names that do not.
        if (throttle.Waits(HttpContext, plain, person))
            return Refuse(AccountSays.TooManyWrongTriesWaitMinutes(SignInThrottle.Pause.TotalMinutes));
        if (passphrase is { Length: > SigningIn.LongestPassphrase }) return Refuse(wrong);
        if (person?.PasswordHash is null) accounts.PasswordHasher.HashPassword(new Person(), passphrase ?? "");
        else if (await accounts.CheckPasswordAsync(person, passphrase ?? ""))
        {
            if (person.TwoFactorEnabled)
            {
                Ticket = second.Ticket(person);
                return Page();
            }
            throttle.Right(HttpContext, plain, person);
            await signIn.SignInAsync(person, isPersistent: true);
            return LocalRedirect(Back);
        }
        throttle.Wrong(HttpContext, plain, person);
        return Refuse(wrong);
    }

    public async Task<IActionResult> OnPostCodeAsync(string? ticket, string? code, string? back)
    {
        Back = Local(back);
        if (await second.PersonOfAsync(ticket, accounts) is not { } person) return Refuse(AccountSays.TookTooLong);
        var name = CodesOf + person.UserName; // a code is tried as rarely as a passphrase, and apart from it
        if (throttle.Waits(HttpContext, name, person)) return Refuse(AccountSays.TooManyWrongTriesWaitMinutes(SignInThrottle.Pause.TotalMinutes));
        if (!await second.IsRightAsync(person, code, accounts))
        {
            throttle.Wrong(HttpContext, name, person);
            Ticket = ticket;
            return Refuse(AccountSays.CodeWrong);
        }
        throttle.Right(HttpContext, name, person);
        await signIn.SignInAsync(person, isPersistent: true);
        return LocalRedirect(Back);
    }

    private const string CodesOf = "code of ";

    public async Task<IActionResult> OnPostDemoAsync(string? back)
    {
        if (!OneClick || await accounts.FindByNameAsync(Server.DemoName) is not { PasswordHash: null } person) return NotFound();
        await signIn.SignInAsync(person, isPersistent: true);
        return LocalRedirect(Local(back));
    }

    private string Local(string? back) => Url.IsLocalUrl(back) && back is not null && !back.StartsWith("/sign-", StringComparison.OrdinalIgnoreCase)
        ? back : "/";
}
