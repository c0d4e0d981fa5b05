using System.Security.Claims;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Accounts;

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

    /// <summary>Claim that holds the word of the sign-in on this device.</summary>
    private const string WordClaim = "tanksophos:sign-in";

    // Ten tries a minute from one address; beside it, five wrong ones for one name from one address (see SignInThrottle).
    private const int TriesPerMinute = 10;

    private static readonly TimeSpan StaysSignedIn = TimeSpan.FromDays(90);

    public static void Add(IServiceCollection services)
    {
        services.AddIdentityCore<Person>(o =>
        {
            o.Password.RequiredLength = ShortestPassphrase;
            o.Password.RequireDigit = o.Password.RequireLowercase = o.Password.RequireUppercase = o.Password.RequireNonAlphanumeric = false;
            o.Lockout.AllowedForNewUsers = false; // nobody can be locked out by others; see SignInThrottle
            o.User.AllowedUserNameCharacters = ""; // any; checked in words of our own
        }).AddEntityFrameworkStores<TanksophosContext>().AddSignInManager()
            .AddTokenProvider<AuthenticatorTokenProvider<Person>>(TokenOptions.DefaultAuthenticatorProvider);
        services.AddSingleton<SecondStep>();
        services.AddSingleton<SeenDevices>();
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
            o.Events.OnSigningIn = c =>
            {
                var people = c.HttpContext.RequestServices.GetRequiredService<PeopleStore>();
                people.SignOut(c.HttpContext.User.FindFirstValue(WordClaim));
                if (c.Principal?.Id() is { } id) ((ClaimsIdentity)c.Principal.Identity!).AddClaim(new Claim(WordClaim,
                    people.SignIn(id, DeviceOf(c.HttpContext))));
                return Task.CompletedTask;
            };
            o.Events.OnSigningOut = c =>
            {
                c.HttpContext.RequestServices.GetRequiredService<PeopleStore>().SignOut(c.HttpContext.User.FindFirstValue(WordClaim));
                return Task.CompletedTask;
            };
            o.Events.OnRedirectToAccessDenied = c =>
            {
                c.Response.StatusCode = StatusCodes.Status403Forbidden;
                return Task.CompletedTask;
            };
        });
        services.AddAuthorizationBuilder().SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build());
        services.AddSingleton<Allowances>();
    }

    /// <summary>Who guesses is slowed down, by address; null where nothing is guessed: reading, and entering the demonstration.</summary>
    internal static string? Guesser(HttpContext context) =>
        HttpMethods.IsGet(context.Request.Method) || HttpMethods.IsHead(context.Request.Method) || EntersDemo(context) ? null
            : "guess " + Address(context);

    internal static string Address(HttpContext context) => context.Connection.RemoteIpAddress?.ToString() ?? "here";

    internal static RateLimiter Slow() => new FixedWindowRateLimiter(new FixedWindowRateLimiterOptions
    {
        PermitLimit = TriesPerMinute,
        Window = TimeSpan.FromMinutes(1),
        AutoReplenishment = false,
    });

    /// <summary>The word of the sign-in by which a request came in; null for none.</summary>
    public static string? WordOf(ClaimsPrincipal who) => who.FindFirstValue(WordClaim);

    // What kind of device, what it says it runs, and from where: enough to know one's own again.
    private static string DeviceOf(HttpContext context)
    {
        var headers = context.Request.Headers;
        var agent = headers.UserAgent.ToString();
        var kind = headers["Sec-CH-UA-Mobile"] == "?1" || agent.Contains("Mobi", StringComparison.Ordinal) ? AccountSays.Phone
            : agent.Contains("Tablet", StringComparison.Ordinal) ? AccountSays.Tablet : AccountSays.Computer;
        var system = new string([.. headers["Sec-CH-UA-Platform"].ToString().Trim('"', ' ').Where(c => char.IsAsciiLetterOrDigit(c) || c == ' ').Take(20)]);
        return AccountSays.DeviceAt(kind, system, context.Connection.RemoteIpAddress is { } from && !System.Net.IPAddress.IsLoopback(from) ? from.ToString()
            : "");
    }

    private static bool EntersDemo(HttpContext context) =>
        context.Request.Path.Equals("/sign-in", StringComparison.OrdinalIgnoreCase) && context.Request.Query["handler"] == "Demo"
            && context.RequestServices.GetRequiredService<HostingOptions>().OneClick(context);

    // Every request asks whether this sign-in still counts and the person is there with the same stamp: who signs out, is taken out, changes the passphrase
    // or signs out everywhere is out at once, whoever has a copy of the cookie.
    private static Task StillGood(CookieValidatePrincipalContext context)
    {
        var people = context.HttpContext.RequestServices.GetRequiredService<PeopleStore>();
        var who = context.Principal ?? new ClaimsPrincipal();
        var person = people.SignedIn(who.FindFirstValue(WordClaim));
        if (person is not null && person.Id == who.Id() && person.SecurityStamp == who.FindFirstValue("AspNet.Identity.SecurityStamp"))
        {
            context.HttpContext.Items[CurrentRequest.PersonItem] = person;
            var word = who.FindFirstValue(WordClaim)!;
            context.HttpContext.RequestServices.GetRequiredService<SeenDevices>().See(PeopleStore.PlaceOf(word));
            if (!HttpMethods.IsGet(context.HttpContext.Request.Method) && !HttpMethods.IsHead(context.HttpContext.Request.Method)) people.Seen(word);
        }
        else context.RejectPrincipal();
        return Task.CompletedTask;
    }

    /// <summary>Whether the sign-in by which a request came in still counts.</summary>
    public static bool StillSignedIn(ClaimsPrincipal who, PeopleStore people)
    {
        ArgumentNullException.ThrowIfNull(who);
        ArgumentNullException.ThrowIfNull(people);
        return people.SignedIn(who.FindFirstValue(WordClaim)) is { } person && person.SecurityStamp == who.FindFirstValue("AspNet.Identity.SecurityStamp");
    }

    /// <summary>Makes an account.</summary>
    /// <returns>The account, or what is wrong in words.</returns>
    public static async Task<(Person? Person, string Problem)> CreateAsync(UserManager<Person> accounts, IClock clock, string? name, string? passphrase,
        string? again, bool keeper, string units = "us")
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
        return plain.Length is 0 or > LongestName || plain.Any(char.IsControl) ? AccountSays.NameUse1ToCharacters(LongestName) : null;
    }

    /// <summary>What is wrong with a passphrase; null if nothing is.</summary>
    public static string? PassphraseProblem(string? passphrase, string? again)
    {
        if (passphrase is null || passphrase.Length is < ShortestPassphrase or > LongestPassphrase)
            return AccountSays.PassphraseToCharactersAre(ShortestPassphrase, LongestPassphrase);
        if (passphrase.Distinct().Count() < 4) return AccountSays.PassphraseItRepeatsTheSameFew;
        return passphrase != again ? AccountSays.PassphraseTheTwoDoNotMatch : null;
    }

    /// <summary>What the account store refused, in words.</summary>
    public static string Words(IdentityResult result, string? name)
    {
        ArgumentNullException.ThrowIfNull(result);
        return result.Errors.Any(e => e.Code == nameof(IdentityErrorDescriber.DuplicateUserName)) ? AccountSays.NameAnAccountAlreadyExists(name?.Trim())
            : AccountSays.TheAccountCantBeCreated + string.Join(" ", result.Errors.Select(e => e.Description));
    }
}
