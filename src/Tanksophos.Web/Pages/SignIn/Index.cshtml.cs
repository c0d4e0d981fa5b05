using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.RateLimiting;
using Tanksophos.Data;
using Tanksophos.Web.App;

namespace Tanksophos.Web.Pages;

/// <summary>Signing in; on a demonstration that only this machine can reach, with one click.</summary>
[AllowAnonymous]
[EnableRateLimiting(SigningIn.Slowly)]
public sealed class SignInModel(PeopleStore people, UserManager<Person> accounts, SignInManager<Person> signIn, Hosting hosting) : FormPage
{
    public string Name { get; private set; } = "";

    public string Back { get; private set; } = "/";

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
        var person = string.IsNullOrWhiteSpace(name) ? null : await accounts.FindByNameAsync(name.Trim());
        if (person?.PasswordHash is null)
        {
            accounts.PasswordHasher.HashPassword(new Person(), passphrase ?? ""); // as slow as for a name that exists
            return Refuse("Name or passphrase is not right.");
        }
        var result = await signIn.PasswordSignInAsync(person, passphrase ?? "", isPersistent: true, lockoutOnFailure: true);
        if (result.Succeeded) return LocalRedirect(Back);
        return Refuse(result.IsLockedOut ? "Too many wrong passphrases: this account is locked for five minutes." : "Name or passphrase is not right.");
    }

    public async Task<IActionResult> OnPostDemoAsync(string? back)
    {
        if (!OneClick || await accounts.FindByNameAsync(Server.DemoName) is not { PasswordHash: null } person) return NotFound();
        await signIn.SignInAsync(person, isPersistent: true);
        return LocalRedirect(Local(back));
    }

    private string Local(string? back) => Url.IsLocalUrl(back) && back is not null && !back.StartsWith("/sign-", StringComparison.OrdinalIgnoreCase) ? back : "/";
}
