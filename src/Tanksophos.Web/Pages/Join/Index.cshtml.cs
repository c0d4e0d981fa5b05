using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>Joining a rig by an invitation: with a new account, or with the one that is signed in.</summary>
[AllowAnonymous]
[EnableRateLimiting(SigningIn.Slowly)]
public sealed class JoinModel(PeopleStore people, CurrentRequest house, UserManager<Person> accounts, SignInManager<Person> signIn, IClock clock) : PageModel
{
    public (string Rig, Role Role)? Invited { get; private set; }

    public string Word { get; private set; } = "";

    public string Name { get; private set; } = "";

    public string? Problem { get; private set; }

    public IActionResult OnGet(string word) => Look(word) ? Page() : NoLongerGood();

    public async Task<IActionResult> OnPostAsync(string word, string? name, string? passphrase, string? again)
    {
        if (!Look(word)) return NoLongerGood();
        Name = name ?? "";
        var person = house.PersonId;
        if (person == 0)
        {
            var (made, problem) = await SigningIn.CreateAsync(accounts, clock, name, passphrase, again, keeper: false);
            if (made is null)
            {
                Problem = problem;
                Response.StatusCode = StatusCodes.Status400BadRequest;
                return Page();
            }
            person = made.Id;
            if (people.Use(word, person, out var joined) != Joining.Done) // somebody was quicker with the same link
            {
                await accounts.DeleteAsync(made);
                Invited = null;
                return NoLongerGood();
            }
            await signIn.SignInAsync(made, isPersistent: true);
            house.Choose(joined);
            return Redirect("~/");
        }
        if (people.Use(word, person, out var rig) != Joining.Done) return NoLongerGood();
        house.Choose(rig);
        return Redirect("~/");
    }

    private bool Look(string word)
    {
        Word = word;
        Invited = people.Invited(word);
        return Invited is not null;
    }

    private PageResult NoLongerGood()
    {
        Invited = null;
        Response.StatusCode = StatusCodes.Status404NotFound;
        HttpContext.Features.Get<Microsoft.AspNetCore.Diagnostics.IStatusCodePagesFeature>()?.Enabled = false;
        return Page();
    }
}
