using NodaTime;
using NodaTime.Text;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Words;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Rigs;

/// <summary>What a request is about: the person, the rig, its units, its local time.</summary>
public sealed class CurrentRequest(RigStore store, PeopleStore people, RigCache memory, IClock clock, IHttpContextAccessor http)
{
    /// <summary>The field in which every form says for which rig it was opened.</summary>
    public const string RigField = "__rig";

    public const string RigCookie = "rig";
    public const string ThemeCookie = "theme";
    public const string ZoneCookie = "zone";

    /// <summary>Where the check of the sign-in leaves the person it has read, for the rest of the request.</summary>
    public const string PersonItem = "person";

    private IReadOnlyList<RigOfMine>? rigs;
    private StoredRig? rig;
    private RigSnapshot? picture;
    private bool looked;

    /// <summary>A rig the person belongs to.</summary>
    public sealed record RigOfMine(int Id, string Name, Role Role, bool Archived);

    private Person? Person => http.HttpContext?.Items[PersonItem] as Person;

    /// <summary>Number of the person; 0 for nobody.</summary>
    public int PersonId => Person?.Id ?? 0;

    /// <summary>Name of the person, as it is written into the log; empty for nobody.</summary>
    public string Who => Person?.UserName ?? "";

    /// <summary>Whether the person keeps the installation.</summary>
    public bool IsKeeper => Person?.IsKeeper == true;

    /// <summary>The rigs of the person, by name, those put away at the end.</summary>
    public IReadOnlyList<RigOfMine> Rigs => rigs ??= Person is { } p
        ? [.. people.RigsOf(p.Id).Select(r => new RigOfMine(r.RigId, r.Name, r.Role, r.Archived)).OrderBy(r => r.Archived)] : [];

    /// <summary>The chosen rig, or the first; null before the first run.</summary>
    public StoredRig? Rig
    {
        get
        {
            if (looked) return rig;
            looked = true;
            if (Chosen is not { } mine) return null;
            Role = mine.Role;
            return rig = store.Find(mine.Id);
        }
    }

    /// <summary>Whether the rig at hand is there, but nothing of its description can be read.</summary>
    public bool IsSetAside => Rig is null && Chosen is not null;

    /// <summary>The rig chosen, readable or not; null for none.</summary>
    public RigOfMine? Chosen => Asked is { } asked ? Rigs.FirstOrDefault(r => r.Id == asked)
        : Rigs.FirstOrDefault(r => r.Id == Number(Cookie(RigCookie)) && !r.Archived) ?? Rigs.FirstOrDefault(r => !r.Archived);

    /// <summary>What the person may do with the rig at hand.</summary>
    public Role Role { get; private set; }

    /// <summary>Whether the person may log.</summary>
    public bool MayLog => Rig is not null && Role >= Role.Crew;

    /// <summary>Whether the person may change the rig.</summary>
    public bool MayChange => Rig is not null && Role >= Role.Owner;

    /// <summary>Whether the request names a rig that is not one of the person's.</summary>
    public bool AskedForOthers => Asked is { } asked && Rigs.All(r => r.Id != asked);

    // A form names the rig it was opened for; an address may name one too.
    private int? Asked
    {
        get
        {
            if (http.HttpContext is not { } context) return null;
            var named = context.Request.HasFormContentType && context.Request.Form.TryGetValue(RigField, out var form) ? form.ToString()
                : context.Request.Query["rig"].ToString();
            return string.IsNullOrEmpty(named) ? null : Number(named);
        }
    }

    private static int Number(string? text) => int.TryParse(text, System.Globalization.NumberStyles.None, System.Globalization.CultureInfo.InvariantCulture,
        out var id) ? id : -1;

    /// <summary>Makes a rig the one in front of the person from now on.</summary>
    public void Choose(int rigId) =>
        http.HttpContext!.Response.Cookies.Append(RigCookie, rigId.ToString(System.Globalization.CultureInfo.InvariantCulture), Kept);

    /// <summary>A cookie that stays on the device for a year and that scripts cannot read.</summary>
    public static CookieOptions Kept => new() { MaxAge = TimeSpan.FromDays(365), SameSite = SameSiteMode.Lax, HttpOnly = true, IsEssential = true };

    /// <summary>The picture of the rig now.</summary>
    /// <exception cref="InvalidOperationException">There is no rig yet.</exception>
    public RigSnapshot RigSnapshot => picture ??= memory.Now(Rig ?? throw new InvalidOperationException("No rig yet."), store);

    /// <summary>The person's units.</summary>
    public Units Units => Person?.Units == Units.Metric.Code ? Units.Metric : Units.Us;

    /// <summary>How the person reads times and dates: as chosen, else as the browser's first language suggests.</summary>
    public TimeStyle Style
    {
        get
        {
            var usual = AmericanBrowser ? TimeStyle.Us : TimeStyle.International;
            return new TimeStyle(Person?.Clock is { } clock ? clock == 12 : usual.TwelveHours, Person?.MonthFirst ?? usual.MonthFirst);
        }
    }

    /// <summary>The currency in which the person writes prices: as chosen, else as the browser's first language suggests.</summary>
    public Currency Currency => Currency.Find(Person?.Currency) ?? Currency.Guess(FirstLanguage);

    /// <summary>The day on which a week begins: as chosen, else as the browser's first language suggests.</summary>
    public IsoDayOfWeek WeekStart =>
        Person?.WeekStart is >= 1 and <= 7 and var day ? (IsoDayOfWeek)day : AmericanBrowser ? IsoDayOfWeek.Sunday : IsoDayOfWeek.Monday;

    /// <summary>Whether the person has not put the first tour away.</summary>
    public bool WantsTour => Person is { TourDone: false };

    private string? FirstLanguage => http.HttpContext?.Request.Headers.AcceptLanguage.ToString().Split(',', ';')[0].Trim();

    /// <summary>Whether the browser's first language is American English or Spanish, or it names none.</summary>
    public bool AmericanBrowser =>
        FirstLanguage is not { Length: > 0 } first
        || first.EndsWith("-US", StringComparison.OrdinalIgnoreCase) || first.Equals("en", StringComparison.OrdinalIgnoreCase) || first == "*";

    /// <summary>"day", "night" or "auto".</summary>
    public string Theme => Cookie(ThemeCookie) is "day" or "night" ? Cookie(ThemeCookie)! : "auto";

    /// <summary>The present moment.</summary>
    public Instant Now => clock.GetCurrentInstant();

    /// <summary>Local time: the stay's own zone if it states one, else the device's, else this machine's.</summary>
    public DateTimeZone Zone => StayZone ?? DeviceZone;

    /// <summary>The zone of the device in front of the person, as it says itself.</summary>
    public DateTimeZone DeviceZone =>
        DateTimeZoneProviders.Tzdb.GetZoneOrNull(Uri.UnescapeDataString(Cookie(ZoneCookie) ?? "")) ?? SystemZone;

    /// <summary>Words for times here and now.</summary>
    public TimeWords Times => new(Now, Zone, Style);

    /// <summary>
    /// The moment that somebody typed into a form, local to the place; nothing typed is now. Up to a day ahead is taken, as the log does.
    /// </summary>
    public bool When(string? typed, out OffsetDateTime time, out string problem, DateTimeZone? there = null)
    {
        var zone = there ?? Zone;
        problem = "";
        time = Instant.FromUnixTimeSeconds(Now.ToUnixTimeSeconds()).InZone(zone).ToOffsetDateTime();
        if (string.IsNullOrWhiteSpace(typed)) return true;
        var parsed = LocalDateTimePattern.CreateWithInvariantCulture("uuuu-MM-dd'T'HH:mm").Parse(typed.Length > 16 ? typed[..16] : typed);
        if (!parsed.Success || parsed.Value.Year is < 1900 or > 2200)
        {
            problem = SharedSays.TimeDateAndHour;
            return false;
        }
        time = parsed.Value.InZoneLeniently(zone).ToOffsetDateTime();
        if (time.ToInstant() <= Now + Duration.FromDays(1)) return true;
        problem = SharedSays.TimeAtMostADayAhead;
        return false;
    }

    /// <summary>What was just written down, in words; with a warning if its time lies ahead.</summary>
    public string Said(LogEntry entry)
    {
        ArgumentNullException.ThrowIfNull(entry);
        var ahead = entry.Instant > Now + Duration.FromMinutes(1) ? $" · in the future, counts from {Times.At(entry.Instant)}" : "";
        return $"{EntryWords.Kind(entry)} · {new EntryWords(Rig!.Rig, Units).Line(entry)}{ahead}";
    }

    /// <summary>Drops what was computed in this request, after something was written.</summary>
    public void Changed() => picture = null;

    private DateTimeZone? StayZone => Rig is null ? null : RigSnapshot.Advice.Circumstances.StatedZone;

    /// <summary>The zone of this machine.</summary>
    public static DateTimeZone SystemZone
    {
        get
        {
            try
            {
                return DateTimeZoneProviders.Tzdb.GetSystemDefault();
            }
            catch (Exception e) when (e is NodaTime.TimeZones.DateTimeZoneNotFoundException or InvalidOperationException)
            {
                return DateTimeZone.Utc;
            }
        }
    }

    private string? Cookie(string name) => http.HttpContext?.Request.Cookies[name];
}
