using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Formats;
using Tanksophos.Data;
using Tanksophos.Web.App;
using Tanksophos.Web.Words;

namespace Tanksophos.Web.Pages;

/// <summary>A kind of entry that is written on this page.</summary>
public sealed record WriteKind(string Code, string Title, string Text);

/// <summary>
/// Writing down what is not logged in three taps from Today. What was typed becomes the entry's own JSON and is read by the one codec, so that a
/// form accepts exactly what a document does.
/// </summary>
public sealed class WriteModel(Household house, RigStore store) : PageModel
{
    /// <summary>Most rinse cycles on the form.</summary>
    public const int MostCycles = 7;

    /// <summary>The kinds, in the order in which they come up.</summary>
    public static IReadOnlyList<WriteKind> Kinds { get; } =
    [
        new("flush", "Flush", "rinse cycles, and how the end of each looked"),
        new("dose", "Dose", "a treatment that went in"),
        new("odor", "Smell", "where, what like, and when"),
        new("symptom", "Something is wrong", "gurgles, drips, slow drains, lamps, the alarm"),
        new("check", "Check", "a test that passed or failed"),
        new("drive", "Drive", "hours on the road"),
        new("service", "Work done", "jetting, probes, valves, seals, season"),
    ];

    private static readonly string[] Numbers = ["hours", "strength", "value"];
    private static readonly string[] Plain = ["where", "smell", "code", "result", "method", "recipe", "amount", "probe", "grade", "note", "tank"];

    public WriteKind? Kind { get; private set; }

    public IReadOnlyList<string> Problems { get; private set; } = [];

    /// <summary>What was typed, to be shown again if it could not be taken.</summary>
    public string Typed(string field) => Request.HasFormContentType ? Request.Form[field].ToString() : "";

    public bool Chosen(string field, string value) => Request.HasFormContentType && Request.Form[field].Contains(value);

    public IActionResult OnGet(string? kind)
    {
        if (house.Rig is null) return RedirectToPage("/Start/Index");
        Kind = Kinds.FirstOrDefault(k => k.Code == kind);
        return kind is not null && Kind is null ? NotFound() : Page();
    }

    public IActionResult OnPost(string? kind, string? id, string? at)
    {
        if (house.Rig is not { } rig) return RedirectToPage("/Start/Index");
        Kind = Kinds.FirstOrDefault(k => k.Code == kind);
        if (Kind is null) return NotFound();
        if (!house.When(at, out var time, out var problem)) return Refuse(problem);

        var problems = new List<string>();
        var json = Build(Kind.Code, problems);
        json["id"] = id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId();
        json["at"] = Timestamps.Write(time);
        var read = EntryCodec.Read(Encoding.UTF8.GetBytes(json.ToJsonString()), rig.Rig, house.Now);
        problems.AddRange(read.Errors.Select(e => $"{Label(e.Path)}: {e.Message}."));
        if (problems.Count > 0) return Refuse([.. problems]);
        try
        {
            store.Record(rig.Id, [read.Value!], "owner");
        }
        catch (EntryConflictException)
        {
            return Refuse("This form was already sent with other content. Open the page afresh.");
        }
        TempData[TodayModel.Logged] = house.Said(read.Value!);
        TempData[TodayModel.LoggedKey] = read.Value!.Id;
        return RedirectToPage("/Today/Index");
    }

    private JsonObject Build(string type, List<string> problems)
    {
        var json = new JsonObject { ["type"] = type };
        foreach (var field in Plain)
            if (Typed(field) is { Length: > 0 } text) json[field] = text;
        foreach (var field in Numbers)
            if (Typed(field) is { Length: > 0 } text) json[field] = TypedNumber.Of(text);
        if (Typed("waterL") is { Length: > 0 } water)
        {
            if (house.Units.TryParseVolume(water, out var litres)) json["waterL"] = Math.Round(litres, 2);
            else problems.Add($"Water: {house.Units.AcceptedVolume} is accepted.");
        }
        if (Typed("winding") == "yes") json["winding"] = true;
        if (type == "odor") json["when"] = new JsonArray([.. Request.Form["when"].Select(w => (JsonNode?)w)]);
        if (type == "flush") json["cycles"] = Cycles(problems);
        return json;
    }

    private JsonArray Cycles(List<string> problems)
    {
        var cycles = new JsonArray();
        for (var i = 1; i <= MostCycles; i++)
        {
            var cycle = new JsonObject();
            var filled = Typed($"filled-{i}");
            if (filled.EndsWith(" s", StringComparison.Ordinal) || filled.EndsWith(" sec", StringComparison.Ordinal)) cycle["seconds"] = TypedNumber.Of(filled.Split(' ')[0]);
            else if (filled.Length > 0)
            {
                if (house.Units.TryParseVolume(filled, out var litres)) cycle["waterL"] = Math.Round(litres, 2);
                else problems.Add($"Cycle {i}: seconds such as 60 s, or {house.Units.AcceptedVolume}, is accepted.");
            }
            if (Typed($"end-{i}") is { Length: > 0 } end) cycle["end"] = end;
            if (Typed($"debris-{i}") is { Length: > 0 } debris) cycle["debris"] = debris;
            if (cycle.Count > 0) cycles.Add(cycle);
        }
        return cycles;
    }

    private static string Label(string path) => path switch
    {
        "" => "Entry",
        "waterL" => "Water",
        "code" => "What",
        _ => TimeWords.Capital(path.Replace('-', ' ')),
    };

    private PageResult Refuse(params string[] problems)
    {
        Problems = problems;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
