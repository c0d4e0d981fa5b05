using System.Text.Json.Nodes;
using Microsoft.OpenApi;
using Tanksophos.Web.Accounts;

namespace Tanksophos.Web.Api;

/// <summary>The OpenAPI document: what the operations say of themselves, with examples and how to sign in.</summary>
internal static class ApiDescription
{
    /// <summary>Name of the document, as it stands in its address.</summary>
    public const string Document = "v1";

    private const string Token = "token", Json = "application/json", ProblemJson = "application/problem+json";

    private static readonly Dictionary<string, string> Parameters = new()
    {
        ["from"] = "The first moment, as ISO 8601 with offset.",
        ["to"] = "The moment before which entries lie, as ISO 8601 with offset.",
        ["type"] = "A kind of entry, such as dump.",
        ["tank"] = "Id of a tank.",
        ["photo"] = "Number of a photo.",
        ["entry"] = "Id of an entry.",
        ["skip"] = "How many to leave out, as next of the page before says.",
        ["limit"] = "How many at most, 1 to 1000; 100 unless said.",
    };

    // What is sent and what comes, by the operation's name.
    private static readonly Dictionary<string, string> Sent = new()
    {
        ["record"] = """{"id":"my-1","at":"2026-06-09T18:00:00-06:00","type":"reading","tank":"black","via":"panel","lit":["low"]}""",
        ["measure"] = """{"device":"panel-1","values":{"black":{"lit":["low"]},"galley":{"percent":42},"valve.black":"closed"}}""",
    };

    private static readonly Dictionary<string, string> Answered = new()
    {
        ["rig"] = """{"name":"Old Biscuit","kind":"travel-trailer","people":2,"tanks":[]}""",
        ["logbook"] = """{"format":"tanksophos-logbook","version":1,"rig":{},"entries":[]}""",
        ["entries"] = """{"total":412,"next":100,"entries":[{"id":"my-1","at":"2026-06-09T18:00:00-06:00","type":"dump","tank":"black"}]}""",
        ["assessment"] = """{"format":"tanksophos-assessment","version":1,"tanks":[]}""",
        ["agenda"] = """{"format":"tanksophos-agenda","version":1,"items":[{"code":"dump-run","level":"today","because":["level"]}],"held":[]}""",
        ["plan"] = """{"format":"tanksophos-plan","version":1,"actions":[]}""",
        ["care"] = """{"care":[{"chore":"hose-inspection","due":"2026-06-20T12:00:00-06:00","state":"soon","because":["yearly"],"why":"..."}]}""",
        ["photos"] = """{"photos":[{"photo":1,"entry":"my-1","width":1600,"height":1200,"at":"2026-06-10T00:00:00Z","by":"Robin"}]}""",
        ["add-photo"] = """{"photo":1,"added":true}""",
        ["devices"] = """{"devices":[{"device":"panel-1","state":"accepted","at":"2026-06-10T00:00:00Z","values":{"galley":{"percent":42}}}]}""",
        ["record"] = """{"added":1,"alreadyThere":0,"warnings":[]}""",
        ["measure"] = """{"accepted":1,"refused":[]}""",
    };

    private static readonly string[] Pictures = ["image/jpeg", "image/png"];

    private static OpenApiSchema Binary => new() { Type = JsonSchemaType.String, Format = "binary" };

    private const string Wrong =
        """{"type":"about:blank","title":"Bad Request","status":400,"detail":"at: missing","errors":[{"path":"at","message":"missing"}]}""";

    /// <summary>Adds the document.</summary>
    public static void Add(IServiceCollection services) => services.AddOpenApi(Document, options => options.AddDocumentTransformer((document, _, _) =>
    {
        document.Info = new OpenApiInfo
        {
            Title = "Tanksophos",
            Version = "1",
            Description = "One rig, its log and what follows from it. A token of the page Account says which rig, and whether it reads, logs or "
                + "sends measurements; a device's token of the page Devices only sends measurements of that device. Liters, degrees Celsius, "
                + $"ISO 8601 times. A token may ask {ProgramAllowance.Burst} times at once and {ProgramAllowance.PerSecond} times a second after that; beyond, "
                + "the answer is 429 with Retry-After.",
        };
        document.Servers = [new OpenApiServer { Url = "/" }];
        document.Components ??= new OpenApiComponents();
        document.Components.SecuritySchemes ??= new Dictionary<string, IOpenApiSecurityScheme>();
        document.Components.SecuritySchemes[Token] = new OpenApiSecurityScheme { Type = SecuritySchemeType.Http, Scheme = "bearer" };
        foreach (var operation in document.Paths.Values.SelectMany(p => p.Operations?.Values ?? Enumerable.Empty<OpenApiOperation>()))
        {
            var name = operation.OperationId ?? "";
            operation.Security = [new OpenApiSecurityRequirement { [new OpenApiSecuritySchemeReference(Token, document)] = [] }];
            foreach (var parameter in operation.Parameters?.OfType<OpenApiParameter>() ?? [])
                parameter.Description = Parameters.GetValueOrDefault(parameter.Name ?? "");
            if (Sent.TryGetValue(name, out var sent))
                operation.RequestBody = new OpenApiRequestBody
                {
                    Required = true,
                    Content = new Dictionary<string, OpenApiMediaType> { [Json] = new OpenApiMediaType { Example = JsonNode.Parse(sent) } },
                };
            if (name == "add-photo")
                operation.RequestBody = new OpenApiRequestBody
                {
                    Required = true,
                    Content = Pictures.ToDictionary(kind => kind, _ => new OpenApiMediaType { Schema = Binary }),
                };
            foreach (var (status, response) in operation.Responses ?? [])
            {
                if (name == "photo" && status == "200")
                    foreach (var picture in response.Content?.Values ?? []) (picture.Schema, picture.Example) = (Binary, null);
                if (response.Content?.TryGetValue(Json, out var good) == true && Answered.TryGetValue(name, out var answer))
                    good.Example = JsonNode.Parse(answer);
                if (response.Content?.TryGetValue(ProblemJson, out var bad) != true) continue;
                var problem = JsonNode.Parse(Wrong)!;
                (problem["status"], problem["title"]) = (int.Parse(status, System.Globalization.CultureInfo.InvariantCulture),
                    Microsoft.AspNetCore.WebUtilities.ReasonPhrases.GetReasonPhrase(int.Parse(status, System.Globalization.CultureInfo.InvariantCulture)));
                bad!.Example = problem;
            }
        }
        return Task.CompletedTask;
    }));
}
