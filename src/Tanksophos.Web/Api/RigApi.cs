using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.WebUtilities;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Devices;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Api;

/// <summary>What other programs may ask and log, with a token of one rig: <c>Authorization: Bearer tks_...</c>.</summary>
internal static class RigApi
{
    public const string Root = "/api/v1";

    // Far above what a gadget logs at once, far below what would hold the database up.
    private const int MaxEntries = 1000;
    private const int MaxBytes = 2 << 20;

    public static void Map(WebApplication app)
    {
        // a token in a header is no cookie: nobody's browser sends it unasked
        var api = app.MapGroup(Root).AllowAnonymous().DisableAntiforgery().WithMetadata(new RequireAntiforgeryTokenAttribute(false))
            .RequireRateLimiting(ProgramAllowance.Policy);
        api.MapGet("/rig", (HttpContext c, PeopleStore people, RigStore store) => With(c, people, store, TokenScopes.Read, (rig, _) =>
            Tagged(c, RigCodec.Write(rig.Rig)))).Tells("rig", "The rig: tanks, sensors, equipment, house rules");
        api.MapGet("/logbook", (HttpContext c, PeopleStore people, RigStore store) => With(c, people, store, TokenScopes.Read, (rig, _) =>
            Tagged(c, LogbookFormat.Write(new Logbook(rig.Rig, store.Log.All(rig.Id)))))).Tells("logbook", "The rig with its whole log, as a logbook document");
        api.MapGet("/entries", (HttpContext c, PeopleStore people, RigStore store, string? from, string? to, string? type, string? tank, string? skip,
            string? limit) => With(c, people, store, TokenScopes.Read, (rig, _) => Entries(c, rig, store, (from, to, type, tank, skip, limit))))
            .Tells("entries", "Entries of the log, the newest first: of a stretch of time, a kind, a tank, page by page", 400);
        api.MapGet("/assessment", (HttpContext c, PeopleStore people, RigStore store, RigCache memory) => With(c, people, store, TokenScopes.Read, (rig, _) =>
        {
            var picture = memory.Now(rig, store);
            return Tagged(c, AssessmentFormat.Write(picture.Logbook, picture.Belief, Tanksophos.Words.DocumentWords.English));
        })).Tells("assessment", "Levels, sensors, what is wrong, when tanks reach their marks, the chores of the year");
        api.MapGet("/agenda", (HttpContext c, PeopleStore people, RigStore store, RigCache memory, TripService trips, Surroundings surroundings) =>
            With(c, people, store, TokenScopes.Read, (rig, _) =>
        {
            var picture = memory.Now(rig, store);
            var situation = AgendaService.SituationOf(picture, trips.Current(rig), Tanksophos.Words.Units.Us, surroundings.Of(rig, picture));
            return Tagged(c, AgendaFormat.Write(situation, Court.Decide(situation), Tanksophos.Words.DocumentWords.English));
        })).Tells("agenda", "What to do, in order, and what is held back");
        api.MapGet("/plan", (HttpContext c, PeopleStore people, RigStore store, TripService trips) => With(c, people, store, TokenScopes.Read, (rig, _) =>
            trips.Current(rig)?.Plan is { } plan ? Tagged(c, PlanFormat.Write(plan, Tanksophos.Words.DocumentWords.English))
                : Problem(404, "", "there is no trip under way or ahead"))).Tells("plan", "The plan of the trip under way or next", 404);
        api.MapGet("/care", (HttpContext c, PeopleStore people, RigStore store, RigCache memory, TripService trips, Surroundings surroundings) =>
            With(c, people, store, TokenScopes.Read, (rig, _) =>
        {
            var picture = memory.Now(rig, store);
            var situation = AgendaService.SituationOf(picture, trips.Current(rig), Tanksophos.Words.Units.Us, surroundings.Of(rig, picture));
            return Tagged(c, AssessmentFormat.WriteCare(picture.Logbook, picture.Belief, AgendaService.CareOf(situation, Court.Decide(situation)),
                Tanksophos.Words.DocumentWords.English));
        })).Tells("care", "The chores of the year: what is due, what was done, and why. A chore that was done is logged as an entry");
        api.MapGet("/photos", (HttpContext c, PeopleStore people, RigStore store, PhotoStore photos) => With(c, people, store, TokenScopes.Read, (rig, _) =>
            Tagged(c, JsonSerializer.SerializeToUtf8Bytes(new
            {
                photos = photos.List(rig.Id).Select(p => new
                {
                    photo = p.Id,
                    entry = p.EntryKey,
                    width = p.Width,
                    height = p.Height,
                    at = Timestamps.Write(p.AddedAt.WithOffset(Offset.Zero)),
                    by = p.Who,
                }),
            })))).Tells("photos", "The photos of the log, and the entry that each belongs to");
        api.MapGet("/photos/{photo}", (HttpContext c, PeopleStore people, RigStore store, PhotoStore photos, string photo) =>
            With(c, people, store, TokenScopes.Read, (rig, _) =>
                int.TryParse(photo, NumberStyles.None, CultureInfo.InvariantCulture, out var id) && photos.Find(rig.Id, id) is { } file
                    ? Tagged(c, file.Bytes, file.ContentType) : Problem(404, "photo", "there is no photo of that number")))
            .Takes("photo", "A photo", 200, "image/jpeg", 404).Produces(304);
        api.MapPost("/entries/{entry}/photos", async (HttpContext c, PeopleStore people, RigStore store, PhotoStore photos, AfterPrograms after,
            string entry) =>
        {
            if (await BodyAsync(c, PhotoFile.MaxBytes) is not { } body) return Problem(413, "", PhotoFile.Accepted);
            return With(c, people, store, TokenScopes.Log, (rig, who) => AddPhoto(rig, who, entry, body, store, photos, after));
        }).Takes("add-photo", "Adds a photo to an entry: the picture as it is, JPEG or PNG. The same picture counts once", 200, "application/json",
            400, 403, 404, 409, 413);
        api.MapGet("/devices", (HttpContext c, PeopleStore people, RigStore store, DeviceStore devices) => With(c, people, store,
            TokenScopes.Read | TokenScopes.Devices, (rig, _) =>
            Tagged(c, JsonSerializer.SerializeToUtf8Bytes(new
            {
                devices = devices.Of(rig.Id).Select(d => new
                {
                    device = d.Name,
                    state = Codes<DeviceState>.Word(d.State),
                    at = d.LastAt is { } at ? Timestamps.Write(at.WithOffset(Offset.Zero)) : null,
                    values = JsonNode.Parse(MeasurementFormat.Write(d.Values)),
                }),
            })))).Tells("devices", "Devices, and what each measured last");
        api.MapPost("/entries", async (HttpContext c, PeopleStore people, RigStore store, AfterWriting before, AfterPrograms after, IClock clock) =>
        {
            if (await BodyAsync(c) is not { } body) return Problem(413, "", Words(413));
            return With(c, people, store, TokenScopes.Log, (rig, who) => Record(rig, who, body, store, before, after, clock));
        }).Takes("record", "Logs an entry, or a list of at most 1000. The same entry with its id counts once", 200, 400, 403, 409, 413);
        api.MapPost("/measurements", async (HttpContext c, PeopleStore people, RigStore store, DeviceStore devices, MeasurementGateway gateway, IClock clock) =>
        {
            if (await BodyAsync(c) is not { } body) return Problem(413, "", Words(413));
            // A device's own token speaks for that device alone; a token that may log speaks for any, and what is unknown waits to be accepted.
            var token = ProgramAllowance.Bearer(c);
            var device = devices.ByToken(token);
            var good = device is null ? people.Token(token) : null;
            if (device is { State: DeviceState.Ignored }) return Problem(403, "",
                "this device is not listened to: its owner can change that on the page Devices");
            if ((device?.RigId ?? good?.RigId) is not { } rigId || store.Find(rigId) is not { } rig) return Unknown(c);
            if (good is not null && !good.Scopes.HasFlag(TokenScopes.Devices)) return Problem(403, "", Lacks(good.Scopes, TokenScopes.Devices));
            var read = MeasurementFormat.Read(body, clock.GetCurrentInstant());
            if (read.Value is not { } message) return Problem(400, read.Errors);
            return await gateway.TakeAsync(rig, device?.Name, message, c.RequestAborted) is { } taken
                ? Results.Json(new
                {
                    accepted = taken.Accepted,
                    refused = taken.Refused.Select(r => new { index = r.Index, path = r.Path, message = r.Message }),
                }, statusCode: 202)
                : Problem(429, "", "too much at once; send it again in a few seconds");
        }).DisableRateLimiting() // has a gate of its own, by what can be stored
            .Takes("measure", "Takes a measurement of a device, or a list of at most 1000: each is taken or refused for itself", 202, 400, 403, 413, 429);
        api.MapFallback("{**rest}", (string? rest) => Known.Contains(rest) ? Problem(405, "", Words(405))
            : Problem(404, "", Words(404))).ExcludeFromDescription();
    }

    // The addresses that are there, for another method than theirs.
    private static readonly string[] Known =
        ["rig", "logbook", "assessment", "agenda", "entries", "plan", "care", "photos", "devices", "measurements"];

    private static RouteHandlerBuilder Tells(this RouteHandlerBuilder route, string name, string summary, params int[] problems) =>
        route.Takes(name, summary, 200, "application/json", [.. problems, 403]).Produces(304);

    private static RouteHandlerBuilder Takes(this RouteHandlerBuilder route, string name, string summary, int good, params int[] problems) =>
        route.Takes(name, summary, good, "application/json", problems);

    private static RouteHandlerBuilder Takes(this RouteHandlerBuilder route, string name, string summary, int good, string kind, params int[] problems)
    {
        route.WithName(name).WithSummary(summary);
        if (kind == "application/json") route.Produces<JsonObject>(good, kind);
        else route.Produces<byte[]>(good, kind, "image/png");
        foreach (var status in problems.Concat([401, 429]).Distinct()) route.ProducesProblem(status);
        return route;
    }

    // Who has it already is told so.
    private static IResult Tagged(HttpContext context, byte[] content, string kind = "application/json")
    {
        var tag = $"\"{Convert.ToHexStringLower(SHA256.HashData(content).AsSpan(0, 12))}\"";
        context.Response.Headers.ETag = tag;
        context.Response.Headers.CacheControl = "private, no-cache";
        return context.Request.Headers.IfNoneMatch.ToString().Split(',').Any(t => t.Trim() is var had && (had == tag || had == $"W/{tag}" || had == "*"))
            ? Results.StatusCode(304) : Results.Bytes(content, kind);
    }

    private const int UsualPage = 100;

    private static IResult Entries(HttpContext context, StoredRig rig, RigStore store,
        (string? From, string? To, string? Type, string? Tank, string? Skip, string? Limit) asked)
    {
        var wrong = new List<Problem>();
        Instant? Moment(string path, string? text)
        {
            if (text is null) return null;
            // A plus sign in an address is a blank.
            if (Timestamps.TryParse(text.Replace(' ', '+'), out var at)) return at.ToInstant();
            wrong.Add(new Problem(path, $"{Timestamps.Accepted} is accepted"));
            return null;
        }
        int Number(string path, string? text, int usual, int least, int most)
        {
            if (text is null) return usual;
            if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number >= least && number <= most) return number;
            wrong.Add(new Problem(path, $"a whole number from {least} to {most} is accepted"));
            return usual;
        }
        var (from, to) = (Moment("from", asked.From), Moment("to", asked.To));
        var (skip, limit) = (Number("skip", asked.Skip, 0, 0, int.MaxValue), Number("limit", asked.Limit, UsualPage, 1, MaxEntries));
        if (asked.Type is { } type && !EntryTypes.All.Contains(type))
            wrong.Add(new Problem("type", $"one of {string.Join(", ", EntryTypes.All)} is accepted"));
        if (asked.Tank is { } tank && rig.Rig.FindEver(tank) is null)
            wrong.Add(new Problem("tank", $"one of {string.Join(", ", rig.Rig.Tanks.Select(t => t.Id))} is accepted"));
        if (wrong.Count > 0) return Problem(400, wrong);
        var found = store.Log.All(rig.Id).Reverse().Where(e => (from is null || e.Instant >= from) && (to is null || e.Instant < to)
            && (asked.Type is null || EntryTypes.WordOf(e) == asked.Type) && (asked.Tank is null || e.Tank == asked.Tank)).ToList();
        var page = found.Skip(skip).Take(limit).ToList();
        return Tagged(context, JsonSerializer.SerializeToUtf8Bytes(new
        {
            total = found.Count,
            next = skip + page.Count < found.Count ? skip + page.Count : (int?)null,
            entries = page.Select(e => JsonNode.Parse(EntryCodec.Write(e))),
        }));
    }

    private static IResult Record(StoredRig rig, string who, byte[] body, RigStore store, AfterWriting before, AfterPrograms after, IClock clock)
    {
        var read = EntryCodec.ReadSeveral(body, rig.Rig, MaxEntries, clock.GetCurrentInstant());
        if (read.Value is not { } entries) return Problem(400, read.Errors);
        try
        {
            before.Before(rig);
            var plan = store.Writer.Record(rig.Id, entries, who);
            if (plan.New.Count > 0) after.Written(rig.Id);
            return Results.Json(new { added = plan.New.Count, alreadyThere = plan.AlreadyThere, warnings = read.Warnings.Select(w => w.ToString()) });
        }
        catch (EntryConflictException e)
        {
            return Problem(409, e.Conflicts);
        }
    }

    private static IResult AddPhoto(StoredRig rig, string who, string key, byte[] body, RigStore store, PhotoStore photos, AfterPrograms after)
    {
        if (key.Length > LongestKey || store.Log.Entry(rig.Id, key) is not { Withdrawn: false })
            return Problem(404, "entry", "there is no entry of that id in the log");
        if (PhotoFile.Check(body, out var wrong) is not { } file) return Problem(400, "", wrong);
        if (photos.Same(rig.Id, key, file) is { } there) return Results.Json(new { photo = there, added = false });
        if (photos.Add(rig.Id, key, file, who) is not { } added) return Problem(409, "entry", $"an entry carries at most {PhotoStore.MaxPerEntry} photos");
        after.Written(rig.Id);
        return Results.Json(new { photo = added, added = true });
    }

    private const int LongestKey = 200;

    // Null where it is too much.
    private static async Task<byte[]?> BodyAsync(HttpContext context, long most = MaxBytes)
    {
        if (context.Request.ContentLength > most) return null;
        using var body = new MemoryStream();
        var buffer = new byte[16384];
        for (int n; (n = await context.Request.Body.ReadAsync(buffer, context.RequestAborted)) > 0;)
        {
            if (body.Length + n > most) return null;
            body.Write(buffer, 0, n);
        }
        return body.ToArray();
    }

    private static IResult Unknown(HttpContext context)
    {
        context.Response.Headers.WWWAuthenticate = "Bearer";
        return Problem(401, "", "a token of the rig is needed: Authorization: Bearer tks_...");
    }

    private static IResult With(HttpContext context, PeopleStore people, RigStore store, TokenScopes anyOf, Func<StoredRig, string, IResult> act)
    {
        if (people.Token(ProgramAllowance.Bearer(context)) is not { } good || store.Find(good.RigId) is not { } rig) return Unknown(context);
        return (good.Scopes & anyOf) == 0 ? Problem(403, "", Lacks(good.Scopes, anyOf)) : act(rig, good.Name);
    }

    private static string Lacks(TokenScopes has, TokenScopes anyOf) =>
        $"this token is good for {Said(has, " and ")}; this needs {Said(anyOf, " or ")}. Its owner can make another on the page Account";

    private static string Said(TokenScopes scopes, string joined) =>
        scopes == TokenScopes.None ? "nothing" : string.Join(joined, Enum.GetValues<TokenScopes>().Where(s => s != TokenScopes.None && scopes.HasFlag(s))
            .Select(s => s.ToString().ToLowerInvariant()));

    private static IResult Problem(int status, string path, string message) => Problem(status, [new Problem(path, message)]);

    // Problem details (RFC 9457), with each thing that is wrong by its path.
    private static IResult Problem(int status, IReadOnlyList<Problem> errors) =>
        Results.Json(new
        {
            type = "about:blank",
            title = ReasonPhrases.GetReasonPhrase(status),
            status,
            detail = errors[0].ToString(),
            errors = errors.Select(e => new { path = e.Path, message = e.Message })
        }, statusCode: status, contentType: "application/problem+json");

    /// <summary>
    /// Whatever happens, programs get an answer that they can read: also for an address that is none, a method that is none, and what failed.
    /// </summary>
    public static async Task AnswerInJson(HttpContext context, RequestDelegate next)
    {
        if (!context.Request.Path.StartsWithSegments("/api"))
        {
            await next(context);
            return;
        }
        IResult? said = null;
        try
        {
            context.Items[Item] = true;
            await next(context);
            if (context.Response is { StatusCode: >= 400, HasStarted: false, ContentType: null })
                said = Problem(context.Response.StatusCode, "", Words(context.Response.StatusCode));
        }
        catch (Exception e) when (!context.Response.HasStarted && !context.RequestAborted.IsCancellationRequested)
        {
            said = Failed(context, e);
        }
        if (said is null) return;
        var wait = context.Response.Headers.RetryAfter;
        context.Response.Clear();
        if (wait.Count > 0) context.Response.Headers.RetryAfter = wait;
        await said.ExecuteAsync(context);
    }

    /// <summary>Where a request notes that it is answered in JSON.</summary>
    public const string Item = "answers-json";

    private static IResult Failed(HttpContext context, Exception e)
    {
        if (e is NotStorableException refused) return Problem(400, refused.Problems);
        if (e is BadHttpRequestException bad) return Problem(bad.StatusCode, "", Words(bad.StatusCode));
        var full = StorageFailure.IsFull(e);
        context.RequestServices.GetRequiredService<ILoggerFactory>().CreateLogger(typeof(RigApi))
            .Log(full ? LogLevel.Warning : LogLevel.Error, e, "Request to {Path} failed", context.Request.Path);
        return full ? Problem(507, "", StorageFailure.Message) : Problem(500, "", "this should not happen; nothing was saved, and what was saved "
            + "before is safe");
    }

    private static string Words(int status) => status switch
    {
        400 => "the request cannot be read",
        404 => "there is no such address: accepted are GET rig, logbook, entries, assessment, agenda, plan, care, photos, "
            + "devices, and POST entries, entries/{id}/photos, measurements",
        405 => "this method is not accepted here",
        413 => "at most 2 MB are accepted",
        415 => "JSON is accepted",
        429 => "too many requests; wait a minute",
        _ => ReasonPhrases.GetReasonPhrase(status),
    };
}
