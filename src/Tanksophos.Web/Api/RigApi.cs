using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.WebUtilities;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Data;
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
        var api = app.MapGroup(Root).AllowAnonymous().DisableAntiforgery().WithMetadata(new RequireAntiforgeryTokenAttribute(false));
        api.MapGet("/logbook", (HttpContext c, PeopleStore people, RigStore store) => With(c, people, store, Role.Guest, (rig, _) =>
            Results.Bytes(LogbookFormat.Write(new Logbook(rig.Rig, store.Log.All(rig.Id))), "application/json")));
        api.MapGet("/assessment", (HttpContext c, PeopleStore people, RigStore store, RigCache memory) => With(c, people, store, Role.Guest, (rig, _) =>
        {
            var picture = memory.Now(rig, store);
            return Results.Bytes(AssessmentFormat.Write(picture.Logbook, picture.Belief, Tanksophos.Words.DocumentWords.English), "application/json");
        }));
        api.MapGet("/agenda", (HttpContext c, PeopleStore people, RigStore store, RigCache memory, TripService trips, Surroundings surroundings) =>
            With(c, people, store, Role.Guest, (rig, _) =>
        {
            var picture = memory.Now(rig, store);
            var situation = AgendaService.SituationOf(picture, trips.Current(rig), Tanksophos.Words.Units.Us, surroundings.Of(rig, picture));
            return Results.Bytes(AgendaFormat.Write(situation, Court.Decide(situation), Tanksophos.Words.DocumentWords.English), "application/json");
        }));
        api.MapPost("/entries", async (HttpContext c, PeopleStore people, RigStore store, AfterWriting before, AfterPrograms after, IClock clock) =>
        {
            if (await BodyAsync(c) is not { } body) return Problem(413, "", Words(413));
            return With(c, people, store, Role.Crew, (rig, who) => Record(rig, who, body, store, before, after, clock));
        });
        api.MapPost("/measurements", async (HttpContext c, PeopleStore people, RigStore store, DeviceStore devices, MeasurementGateway gateway, IClock clock) =>
        {
            if (await BodyAsync(c) is not { } body) return Problem(413, "", Words(413));
            // A device's own token speaks for that device alone; a token that may log speaks for any, and what is unknown waits to be accepted.
            var token = Bearer(c);
            var device = devices.ByToken(token);
            var good = device is null ? people.Token(token) : null;
            if (device is { State: DeviceState.Ignored }) return Problem(403, "",
                "this device is not listened to: its owner can change that on the page Devices");
            if ((device?.RigId ?? good?.RigId) is not { } rigId || store.Find(rigId) is not { } rig) return Unknown(c);
            if (good is { Role: < Role.Crew }) return Problem(403, "", "this token may read, not log");
            var read = MeasurementFormat.Read(body, clock.GetCurrentInstant());
            if (read.Value is not { } message) return Problem(400, read.Errors);
            return await gateway.TakeAsync(rig, device?.Name, message, c.RequestAborted) is { } taken
                ? Results.Json(new
                {
                    accepted = taken.Accepted,
                    refused = taken.Refused.Select(r => new { index = r.Index, path = r.Path, message = r.Message }),
                }, statusCode: 202)
                : Problem(429, "", "too much at once; send it again in a few seconds");
        });
        api.MapFallback("{**rest}", (string? rest) => rest is "logbook" or "assessment" or "agenda" or "entries" or "measurements"
            ? Problem(405, "", Words(405)) : Problem(404, "", Words(404)));
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

    // Null where it is too much.
    private static async Task<byte[]?> BodyAsync(HttpContext context)
    {
        if (context.Request.ContentLength > MaxBytes) return null;
        using var body = new MemoryStream();
        var buffer = new byte[16384];
        for (int n; (n = await context.Request.Body.ReadAsync(buffer, context.RequestAborted)) > 0;)
        {
            if (body.Length + n > MaxBytes) return null;
            body.Write(buffer, 0, n);
        }
        return body.ToArray();
    }

    private static string? Bearer(HttpContext context)
    {
        var header = context.Request.Headers.Authorization.ToString();
        return header.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase) ? header[7..].Trim() : null;
    }

    private static IResult Unknown(HttpContext context)
    {
        context.Response.Headers.WWWAuthenticate = "Bearer";
        return Problem(401, "", "a token of the rig is needed: Authorization: Bearer tks_...");
    }

    private static IResult With(HttpContext context, PeopleStore people, RigStore store, Role needs, Func<StoredRig, string, IResult> act)
    {
        if (people.Token(Bearer(context)) is not { } good || store.Find(good.RigId) is not { } rig) return Unknown(context);
        return good.Role < needs ? Problem(403, "", "this token may read, not log") : act(rig, good.Name);
    }

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
        context.Response.Clear();
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
        404 => "there is no such address: accepted are GET logbook, GET assessment, GET agenda, POST entries, POST measurements",
        405 => "this method is not accepted here",
        413 => "at most 2 MB are accepted",
        415 => "JSON is accepted",
        429 => "too many requests; wait a minute",
        _ => ReasonPhrases.GetReasonPhrase(status),
    };
}
