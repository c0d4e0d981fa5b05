using NodaTime;
using NodaTime.Text;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Words;

namespace Tanksophos.Web.App;

/// <summary>What a request is about: the rig, its units, its local time.</summary>
public sealed class Household(RigStore store, Beliefs beliefs, IClock clock, IHttpContextAccessor http)
{
    public const string RigCookie = "rig";
    public const string UnitsCookie = "units";
    public const string ThemeCookie = "theme";
    public const string ZoneCookie = "zone";

    private StoredRig? rig;
    private Picture? picture;
    private bool looked;

    /// <summary>The chosen rig, or the first; null before the first run.</summary>
    public StoredRig? Rig
    {
        get
        {
            if (looked) return rig;
            looked = true;
            rig = int.TryParse(Cookie(RigCookie), out var id) ? store.Find(id) : null;
            return rig ??= store.Rigs() is [var first, ..] ? first : null;
        }
    }

    /// <summary>All rigs.</summary>
    public IReadOnlyList<StoredRig> Rigs => store.Rigs();

    /// <summary>The picture of the rig now.</summary>
    /// <exception cref="InvalidOperationException">There is no rig yet.</exception>
    public Picture Picture => picture ??= beliefs.Now(Rig ?? throw new InvalidOperationException("No rig yet."), store);

    /// <summary>The person's units.</summary>
    public Units Units => Cookie(UnitsCookie) == "metric" ? Units.Metric : Units.Us;

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
    public TimeWords Times => new(Now, Zone);

    /// <summary>
    /// The moment that somebody typed into a form, local to the place; nothing typed is now. Up to a day ahead is taken, as the log does.
    /// </summary>
    public bool When(string? typed, out OffsetDateTime time, out string problem)
    {
        problem = "";
        time = Instant.FromUnixTimeSeconds(Now.ToUnixTimeSeconds()).InZone(Zone).ToOffsetDateTime();
        if (string.IsNullOrWhiteSpace(typed)) return true;
        var parsed = LocalDateTimePattern.CreateWithInvariantCulture("uuuu-MM-dd'T'HH:mm").Parse(typed.Length > 16 ? typed[..16] : typed);
        if (!parsed.Success || parsed.Value.Year is < 1900 or > 2200)
        {
            problem = "Time: a date and an hour such as 2026-05-09T18:00 is accepted.";
            return false;
        }
        time = parsed.Value.InZoneLeniently(Zone).ToOffsetDateTime();
        if (time.ToInstant() <= Now + Duration.FromDays(1)) return true;
        problem = "Time: at most a day ahead is accepted.";
        return false;
    }

    /// <summary>What was just written down, in words; with a warning if its time lies ahead.</summary>
    public string Said(LogEntry entry) =>
        $"{EntryWords.Kind(entry)} · {new EntryWords(Rig!.Rig, Units).Line(entry)}{(entry.Instant > Now + Duration.FromMinutes(1) ? $" · lies in the future and counts from {Times.At(entry.Instant)} on" : "")}";

    /// <summary>Drops what was computed in this request, after something was written.</summary>
    public void Changed() => picture = null;

    private DateTimeZone? StayZone => Rig is null ? null : Picture.Advice.Circumstances.StatedZone;

    private static DateTimeZone SystemZone
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
