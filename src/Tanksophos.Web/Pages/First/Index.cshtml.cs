using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.RateLimiting;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>The very first start: the owner's account. Gone as soon as there is one.</summary>
[AllowAnonymous]
[EnableRateLimiting(SigningIn.Slowly)]
public sealed class FirstModel(PeopleStore people, UserManager<Person> accounts, SignInManager<Person> signIn, HostingOptions hosting, IClock clock) : FormPage
{
    // Of several first visitors at once one is the first.
    private static readonly SemaphoreSlim Turn = new(1, 1);

    public string Name { get; private set; } = "";

    /// <summary>Word printed at the start, needed from another machine.</summary>
    public string Code { get; private set; } = "";

    public bool NeedsCode => !HostingOptions.IsLocal(HttpContext);

    public IActionResult OnGet(string? code)
    {
        Code = code ?? "";
        return people.AnyPeople ? NotFound() : Page();
    }

    public async Task<IActionResult> OnPostAsync(string? name, string? passphrase, string? again, string? code)
    {
        if (people.AnyPeople) return NotFound();
        (Name, Code) = (name ?? "", code ?? "");
        if (NeedsCode && !CodeFits(code)) return Refuse(AccountSays.CodeWrongCodeOpenTheLink);
        await Turn.WaitAsync(HttpContext.RequestAborted);
        Person? person;
        try
        {
            if (people.AnyPeople) return NotFound();
            (person, var problem) = await SigningIn.CreateAsync(accounts, clock, name, passphrase, again, keeper: true);
            if (person is null) return Refuse(problem);
            people.Adopt(person.Id);
        }
        finally
        {
            Turn.Release();
        }
        await signIn.SignInAsync(person, isPersistent: true);
        return Redirect("~/");
    }

    private bool CodeFits(string? code) =>
        System.Security.Cryptography.CryptographicOperations.FixedTimeEquals(System.Text.Encoding.UTF8.GetBytes(code ?? ""),
            System.Text.Encoding.UTF8.GetBytes(hosting.SetUpCode));
}
