using System.Globalization;
using System.Security.Claims;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using NodaTime;
using Tanksophos.Data;

namespace Tanksophos.Web.App;

/// <summary>Accounts: who may sign in, for how long, and what every request asks.</summary>
public static class SigningIn
{
    /// <summary>The policy that slows down guessing.</summary>
    public const string Slowly = "sign-in";

    /// <summary>Fewest characters of a passphrase; several words are better than signs.</summary>
    public const int ShortestPassphrase = 10;

    /// <summary>Longest passphrase taken.</summary>
    public const int LongestPassphrase = 200;

    /// <summary>Longest name of an account.</summary>
    public const int LongestName = 40;

    // Ten tries a minute from one address; five wrong passphrases lock an account for five minutes.
    private const int TriesPerMinute = 10, WrongUntilLocked = 5, MinutesLocked = 5;

    private static readonly TimeSpan StaysSignedIn = TimeSpan.FromDays(90);

    public static void Add(IServiceCollection services)
    {
        services.AddIdentityCore<Person>(o =>
        {
            o.Password.RequiredLength = ShortestPassphrase;
            o.Password.RequireDigit = o.Password.RequireLowercase = o.Password.RequireUppercase = o.Password.RequireNonAlphanumeric = false;
            o.Lockout.MaxFailedAccessAttempts = WrongUntilLocked;
            o.Lockout.DefaultLockoutTimeSpan = TimeSpan.FromMinutes(MinutesLocked);
            o.User.AllowedUserNameCharacters = ""; // any; checked in words of our own
        }).AddEntityFrameworkStores<TanksophosContext>().AddSignInManager();
        services.AddAuthentication(IdentityConstants.ApplicationScheme).AddCookie(IdentityConstants.ApplicationScheme, o =>
        {
            o.Cookie.Name = "tanksophos";
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Lax;
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest; // plain http on a LAN is no secure context
            o.ExpireTimeSpan = StaysSignedIn;
            o.SlidingExpiration = true;
            o.LoginPath = "/sign-in";
            o.ReturnUrlParameter = "back";
            o.Events.OnValidatePrincipal = StillGood;
            o.Events.OnRedirectToAccessDenied = c =>
            {
                c.Response.StatusCode = StatusCodes.Status403Forbidden;
                return Task.CompletedTask;
            };
        });
        services.AddAuthorizationBuilder().SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build());
        services.AddRateLimiter(o =>
        {
            o.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            o.AddPolicy(Slowly, c => HttpMethods.IsGet(c.Request.Method) || HttpMethods.IsHead(c.Request.Method) || c.Request.Query["handler"] == "Demo" // nothing is guessed there
                ? RateLimitPartition.GetNoLimiter("reading")
                : RateLimitPartition.GetFixedWindowLimiter(c.Connection.RemoteIpAddress?.ToString() ?? "here", _ => new FixedWindowRateLimiterOptions { PermitLimit = TriesPerMinute, Window = TimeSpan.FromMinutes(1) }));
        });
    }

    // Every request asks whether the person is still there with the same stamp: who is taken out, changes the passphrase or signs out everywhere is out at once.
    private static async Task StillGood(CookieValidatePrincipalContext context)
    {
        var database = context.HttpContext.RequestServices.GetRequiredService<TanksophosContext>();
        var person = context.Principal?.Id() is { } id ? await database.Users.FindAsync(id) : null;
        if (person is not null && person.SecurityStamp == context.Principal!.FindFirstValue("AspNet.Identity.SecurityStamp")) context.HttpContext.Items[Household.PersonItem] = person;
        else context.RejectPrincipal();
    }

    /// <summary>Makes an account.</summary>
    /// <returns>The account, or what is wrong in words.</returns>
    public static async Task<(Person? Person, string Problem)> CreateAsync(UserManager<Person> accounts, IClock clock, string? name, string? passphrase, string? again, bool keeper, string units = "us")
    {
        if (NameProblem(name) is { } bad) return (null, bad);
        if (PassphraseProblem(passphrase, again) is { } wrong) return (null, wrong);
        var person = new Person { UserName = name!.Trim(), IsKeeper = keeper, CreatedAt = clock.GetCurrentInstant(), Units = units };
        var made = await accounts.CreateAsync(person, passphrase!);
        return made.Succeeded ? (person, "") : (null, Words(made, name));
    }

    /// <summary>What is wrong with a name; null if nothing is.</summary>
    public static string? NameProblem(string? name)
    {
        var plain = name?.Trim() ?? "";
        return plain.Length is 0 or > LongestName || plain.Any(char.IsControl) ? $"Name: 1 to {LongestName} characters are accepted." : null;
    }

    /// <summary>What is wrong with a passphrase; null if nothing is.</summary>
    public static string? PassphraseProblem(string? passphrase, string? again)
    {
        if (passphrase is null || passphrase.Length is < ShortestPassphrase or > LongestPassphrase)
            return string.Create(CultureInfo.InvariantCulture, $"Passphrase: {ShortestPassphrase} to {LongestPassphrase} characters are accepted; a few words in a row are good.");
        if (passphrase.Distinct().Count() < 4) return "Passphrase: it repeats the same few characters. A few words in a row are good.";
        return passphrase != again ? "Passphrase: the two do not match." : null;
    }

    /// <summary>What the account store refused, in words.</summary>
    public static string Words(IdentityResult result, string? name)
    {
        ArgumentNullException.ThrowIfNull(result);
        return result.Errors.Any(e => e.Code == nameof(IdentityErrorDescriber.DuplicateUserName)) ? $"Name: there is an account '{name?.Trim()}' already." : "The account cannot be made: " + string.Join(" ", result.Errors.Select(e => e.Description));
    }
}
