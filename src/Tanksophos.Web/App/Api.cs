using Microsoft.AspNetCore.Antiforgery;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Data;

namespace Tanksophos.Web.App;

/// <summary>What other programs may ask and log, with a token of one rig: <c>Authorization: Bearer tks_...</c>.</summary>
internal static class Api
{
    public const string Root = "/api/v1";

    // Far above what a gadget logs at once, far below what would hold the database up.
    private const int MostEntries = 1000;
    private const int MostBytes = 2 << 20;

    public static void Map(WebApplication app)
    {
        var api = app.MapGroup(Root).AllowAnonymous().DisableAntiforgery().WithMetadata(new RequireAntiforgeryTokenAttribute(false)); // a token in a header is no cookie: nobody's browser sends it unasked
        api.MapGet("/logbook", (HttpContext c, PeopleStore people, RigStore store) => With(c, people, store, Role.Guest, (rig, _) =>
            Results.Bytes(LogbookFormat.Write(new Logbook(rig.Rig, store.Log(rig.Id))), "application/json")));
        api.MapGet("/assessment", (HttpContext c, PeopleStore people, RigStore store, RigMemory memory) => With(c, people, store, Role.Guest, (rig, _) =>
        {
            var picture = memory.Now(rig, store);
            return Results.Bytes(AssessmentFormat.Write(picture.Logbook, picture.Belief), "application/json");
        }));
        api.MapPost("/entries", async (HttpContext c, PeopleStore people, RigStore store, IClock clock) =>
        {
            if (c.Request.ContentLength > MostBytes) return Problem(413, "", "at most 2 MB are accepted");
            using var body = new MemoryStream();
            var buffer = new byte[16384];
            for (int n; (n = await c.Request.Body.ReadAsync(buffer, c.RequestAborted)) > 0;)
            {
                if (body.Length + n > MostBytes) return Problem(413, "", "at most 2 MB are accepted");
                body.Write(buffer, 0, n);
            }
            return With(c, people, store, Role.Crew, (rig, who) => Record(rig, who, body.ToArray(), store, clock));
        });
        api.MapFallback("{**rest}", () => Problem(404, "", "there is no such address: accepted are GET logbook, GET assessment, POST entries"));
    }

    private static IResult Record(StoredRig rig, string who, byte[] body, RigStore store, IClock clock)
    {
        var read = EntryCodec.ReadSeveral(body, rig.Rig, MostEntries, clock.GetCurrentInstant());
        if (read.Value is not { } entries) return Results.Json(new { errors = read.Errors.Select(e => new { path = e.Path, message = e.Message }) }, statusCode: 400);
        try
        {
            var plan = store.Record(rig.Id, entries, who);
            return Results.Json(new { added = plan.New.Count, alreadyThere = plan.AlreadyThere, warnings = read.Warnings.Select(w => w.ToString()) });
        }
        catch (EntryConflictException e)
        {
            return Results.Json(new { errors = e.Conflicts.Select(p => new { path = p.Path, message = p.Message }) }, statusCode: 409);
        }
    }

    private static IResult With(HttpContext context, PeopleStore people, RigStore store, Role needs, Func<StoredRig, string, IResult> act)
    {
        var header = context.Request.Headers.Authorization.ToString();
        var token = header.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase) ? people.Token(header[7..].Trim()) : null;
        if (token is not { } good || store.Find(good.RigId) is not { } rig)
        {
            context.Response.Headers.WWWAuthenticate = "Bearer";
            return Problem(401, "", "a token of the rig is needed: Authorization: Bearer tks_...");
        }
        return good.Role < needs ? Problem(403, "", "this token may read, not log") : act(rig, good.Name);
    }

    private static IResult Problem(int status, string path, string message) => Results.Json(new { errors = new[] { new { path, message } } }, statusCode: status);
}
