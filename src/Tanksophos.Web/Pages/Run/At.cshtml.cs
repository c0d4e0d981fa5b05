using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.App;

namespace Tanksophos.Web.Pages;

/// <summary>A run, step by step. The page goes on by itself while the connection is lost, and sends what was pressed when it is back.</summary>
[Needs(Role.Crew)]
public sealed class RunAtModel(Household house, RunStore runs, RunBell bell, IHostApplicationLifetime life) : FormPage
{
    private const int MostAtOnce = 400, MostBytes = 256 * 1024;
    private static readonly TimeSpan Heartbeat = TimeSpan.FromSeconds(20);
    private static readonly string[] Fields = ["litres", "end", "debris", "to", "full"];

    /// <summary>The run.</summary>
    public StoredRun Run { get; private set; } = null!;

    /// <summary>The check of the hose run done at this place before; null for none.</summary>
    public PlaceSetUpRow? Known => runs.SetUp(Run.RigId, Run.Place);

    /// <summary>What the page's script starts from.</summary>
    public string Start => Answer(null);

    public IActionResult OnGet(int id) => Find(id) ? Page() : NotFound();

    /// <summary>Where the run stands, for the page's script.</summary>
    public IActionResult OnGetState(int id) => Find(id) ? Content(Answer(null), "application/json") : NotFound();

    /// <summary>Tells the page whenever something is pressed on another device.</summary>
    public async Task<IActionResult> OnGetLiveAsync(int id, CancellationToken gone)
    {
        if (!Find(id)) return NotFound();
        using var both = CancellationTokenSource.CreateLinkedTokenSource(gone, life.ApplicationStopping);
        Response.ContentType = "text/event-stream";
        Response.Headers.CacheControl = "no-store";
        try
        {
            while (!both.IsCancellationRequested)
            {
                var rung = bell.Wait(id); // before the look, so that nothing is missed between
                await Response.WriteAsync($"data: {runs.Version(id)}\n\n", both.Token);
                await Response.Body.FlushAsync(both.Token);
                await Task.WhenAny(rung, Task.Delay(Heartbeat, both.Token));
            }
        }
        catch (OperationCanceledException)
        {
            // the page was closed, or the program stops
        }
        return new EmptyResult();
    }

    /// <summary>Takes in what was pressed, also what waited for the connection.</summary>
    public async Task<IActionResult> OnPostTapsAsync(int id)
    {
        if (!Find(id)) return NotFound();
        if (Request.ContentLength > MostBytes) return Bad("at most 256 KB are accepted");
        List<RunTap> taps;
        try
        {
            using var reader = new StreamReader(Request.Body);
            var text = await reader.ReadToEndAsync();
            if (JsonNode.Parse(text) is not JsonObject { } body || body["taps"] is not JsonArray { Count: <= MostAtOnce } sent) return Bad($"taps: a list of at most {MostAtOnce} is accepted");
            taps = [];
            for (var i = 0; i < sent.Count; i++)
            {
                if (Tap(sent[i], out var problem) is not { } tap) return Bad($"taps[{i}]: {problem}", i);
                taps.Add(tap);
            }
        }
        catch (JsonException)
        {
            return Bad("JSON is accepted");
        }
        return Take(id, taps) is { } answer ? Content(Answer(answer), "application/json") : Bad($"a run takes at most {RunStore.MostTaps} presses");
    }

    /// <summary>The same from a form, for a browser without scripts.</summary>
    public IActionResult OnPostPress(int id, string? step, string? round, string? key, string? press)
    {
        if (!Find(id)) return NotFound();
        if (!Codes<RunPress>.TryParse(press, out var pressed)) return Refuse($"Press: one of {string.Join(", ", Codes<RunPress>.All)} is accepted.");
        var said = Fields.Where(f => Request.Form[f].ToString() is { Length: > 0 and <= 60 }).ToDictionary(f => f, f => Request.Form[f].ToString());
        if (said.TryGetValue("litres", out var typed))
        {
            if (!house.Units.TryParseVolume(typed, out var litres) || litres > 1900) return Refuse($"Water: {house.Units.AcceptedVolume} is accepted.");
            said["litres"] = Math.Round(litres, 2).ToString(CultureInfo.InvariantCulture);
        }
        var tap = new RunTap(key is { Length: > 0 and <= 64 } ? key : TodayModel.NewId(), house.Now, step ?? "", int.TryParse(round, NumberStyles.None, CultureInfo.InvariantCulture, out var r) ? r : 0, pressed, said);
        if (Take(id, [tap]) is not { } answer) return Refuse($"A run takes at most {RunStore.MostTaps} presses.");
        return answer.Run.State.EndedAt is null ? RedirectToPage(new { id }) : Ended(answer.Run);
    }

    /// <summary>Keeps the check of the hose run at this place.</summary>
    public IActionResult OnPostSetUp(int id, string? outlet, string? sewer, string? hose, string? step, string? key)
    {
        if (!Find(id)) return NotFound();
        double? outletM = null, sewerM = null, hoseM = null;
        foreach (var (name, typed, set) in new (string, string?, Action<double>)[] { ("Outlet height", outlet, v => outletM = v), ("Sewer height", sewer, v => sewerM = v), ("Hose length", hose, v => hoseM = v) })
        {
            if (string.IsNullOrWhiteSpace(typed)) continue;
            if (!house.Units.TryParseLength(typed, out var metres) || Math.Abs(metres) > 30 || (name == "Hose length" && metres <= 0)) return Problem($"{name}: {house.Units.AcceptedLength} is accepted.");
            set(metres);
        }
        if (Run.Place.Length > 0)
            runs.Keep(new PlaceSetUpRow { RigId = Run.RigId, Place = Run.Place.Trim(), Who = house.Who, OutletM = outletM, SewerM = sewerM, HoseM = hoseM, InOrder = string.Join(' ', Request.Form["ok"].Where(o => o?.Length is > 0 and < 40)) });
        var low = outletM is { } o && sewerM is { } w && hoseM is { } l && (o - w) / l < Core.Rigs.Equipment.LeastFall;
        var say = low ? $"It falls {house.Units.Length(outletM!.Value - sewerM!.Value)} over {house.Units.Distance(hoseM!.Value)}: less than {house.Units.Length(Core.Rigs.Equipment.LeastFall * hoseM.Value)}, so it will not run empty by itself. Raise the rig's end, or support the hose; then say it again, or leave the check out." : null;
        if (Request.Headers["X-Part"] == "run") return new JsonResult(new { ok = !low, say });
        if (low) return Refuse(say!);
        Take(id, [new RunTap(key is { Length: > 0 and <= 64 } ? key : TodayModel.NewId(), house.Now, step ?? "", 0, RunPress.Done, new Dictionary<string, string>())]);
        return RedirectToPage(new { id });
    }

    private IActionResult Problem(string problem) => Request.Headers["X-Part"] == "run" ? Bad(problem) : Refuse(problem);

    private bool Find(int id)
    {
        if (runs.Find(house.Rig!.Id, id) is not { } run) return false;
        Run = run;
        return true;
    }

    private TapAnswer? Take(int id, IReadOnlyList<RunTap> taps)
    {
        if (runs.Tap(house.Rig!.Id, id, taps, house.Who) is not { } answer) return null;
        Run = answer.Run;
        bell.Ring(id);
        if (answer.Wrote) house.Changed();
        return answer;
    }

    private RedirectToPageResult Ended(StoredRun run)
    {
        Say(run);
        return RedirectToPage("/Today/Index");
    }

    private void Say(StoredRun run)
    {
        var count = RunEntries.Of(run.Word, run.State, run.Zone).Count;
        TempData[TodayModel.Logged] = $"{(run.State.Finished ? "The run is finished" : "The run is broken off")}: {count} {(count == 1 ? "entry" : "entries")} written.";
        if (count > 0) TempData[TodayModel.LoggedBatch] = run.Word;
    }

    private string Answer(TapAnswer? answer)
    {
        var state = Run.State;
        var json = new JsonObject
        {
            ["version"] = Run.Version,
            ["now"] = house.Now.ToUnixTimeMilliseconds(),
            ["ended"] = state.EndedAt is not null,
            ["finished"] = state.Finished,
            ["taps"] = new JsonArray([.. runs.Taps(Run.Id).Select(t => (JsonNode)new JsonObject { ["key"] = t.Key, ["at"] = t.At.ToUnixTimeMilliseconds(), ["step"] = t.Step, ["round"] = t.Round, ["press"] = Codes<RunPress>.Word(t.Press), ["said"] = JsonNode.Parse(RunCodec.WriteSaid(t.Said)) })]),
        };
        if (answer is not null)
        {
            json["fates"] = new JsonObject(answer.Fates.Select(f => KeyValuePair.Create(f.Key, (JsonNode?)JsonValue.Create(Codes<TapFate>.Word(f.Value)))));
            if (answer.Wrote) Say(Run);
        }
        return json.ToJsonString();
    }

    private static RunTap? Tap(JsonNode? node, out string problem)
    {
        problem = "";
        if (node is not JsonObject o || o["key"]?.GetValueKind() != JsonValueKind.String || o["key"]!.GetValue<string>() is not { Length: > 0 and <= 64 } key) problem = "key: a text of 1 to 64 characters is accepted";
        else if (o["at"]?.GetValueKind() != JsonValueKind.Number || !o["at"]!.AsValue().TryGetValue<double>(out var at) || at is < 0 or > 7e12) problem = "at: milliseconds since 1970 are accepted";
        else if (o["step"]?.GetValueKind() != JsonValueKind.String) problem = "step: the id of a step is accepted";
        else if (o["round"]?.GetValueKind() != JsonValueKind.Number || !o["round"]!.AsValue().TryGetValue<int>(out var round)) problem = "round: a whole number is accepted";
        else if (o["press"]?.GetValueKind() != JsonValueKind.String || !Codes<RunPress>.TryParse(o["press"]!.GetValue<string>(), out var press)) problem = $"press: one of {string.Join(", ", Codes<RunPress>.All)} is accepted";
        else
        {
            var said = new Dictionary<string, string>();
            if (o["said"] is JsonObject fields)
                foreach (var (field, value) in fields)
                    if (Fields.Contains(field) && value is JsonValue v && v.ToString() is { Length: > 0 and <= 60 } text) said[field] = text;
            return new RunTap(key, Instant.FromUnixTimeMilliseconds((long)at), o["step"]!.GetValue<string>(), round, press, said);
        }
        return null;
    }

    private static JsonResult Bad(string problem, int? index = null) => new(new { problem, index }) { StatusCode = StatusCodes.Status400BadRequest };
}
