using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Api;

namespace Tanksophos.Web.Pages;

/// <summary>What other programs can ask for, read from the same document that they read.</summary>
[NoRig]
public sealed class ProgramsModel([FromKeyedServices(ApiDescription.Document)] IOpenApiDocumentProvider documents) : PageModel
{
    /// <summary>An operation.</summary>
    /// <param name="Id">Its name.</param>
    /// <param name="Method">GET or POST.</param>
    /// <param name="Path">Its address.</param>
    /// <param name="Summary">What it does.</param>
    /// <param name="Parameters">What can be asked beside, each with its words.</param>
    /// <param name="Sent">An example of what is sent; null for nothing.</param>
    /// <param name="Answered">An example of what comes; null for a picture.</param>
    /// <param name="Answers">Every status that comes.</param>
    public sealed record Operation(string Id, string Method, string Path, string Summary, IReadOnlyList<(string Name, string Words)> Parameters, string? Sent,
        string? Answered, IReadOnlyList<string> Answers);

    public IReadOnlyList<Operation> Operations { get; private set; } = [];

    public string Description { get; private set; } = "";

    /// <summary>Where this program is reached.</summary>
    public string Base => $"{Request.Scheme}://{Request.Host}{Request.PathBase}";

    public async Task OnGetAsync(CancellationToken stop)
    {
        var document = await documents.GetOpenApiDocumentAsync(stop);
        Description = document.Info.Description ?? "";
        Operations = [.. document.Paths.SelectMany(p => (p.Value.Operations ?? []).Select(o => Read(p.Key, o.Key.Method, o.Value)))];
    }

    private static Operation Read(string path, string method, OpenApiOperation operation)
    {
        var good = (operation.Responses ?? []).FirstOrDefault(r => r.Key.StartsWith('2')).Value;
        return new Operation(operation.OperationId ?? "", method.ToUpperInvariant(), path, operation.Summary ?? "",
            [.. (operation.Parameters ?? []).Select(p => (p.Name ?? "", p.Description ?? ""))],
            Pretty(operation.RequestBody?.Content?.Values.FirstOrDefault()?.Example), Pretty(good?.Content?.Values.FirstOrDefault()?.Example),
            [.. (operation.Responses ?? []).Select(r => r.Key)]);
    }

    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true };

    private static string? Pretty(JsonNode? example) => example?.ToJsonString(Indented);
}
