using System.Globalization;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>A run, step by step. The page goes on by itself while the connection is lost, and sends what was pressed when it is back.</summary>
[Needs(Role.Crew)]
public sealed class RunAtModel(CurrentRequest house, RunStore runs, RigStore store, RigCache memory, RunBell bell, PeopleStore people,
    DeviceStore devices, IHostApplicationLifetime life) : FormPage
{
    private const int MaxAtOnce = 400, MaxBytes = 256 * 1024, ClocksDiffer = 60_000;

    /// <summary>The run.</summary>
    public StoredRun Run { get; private set; } = null!;

    /// <summary>The check of the hose run done at this place before; null for none.</summary>
    public PlaceSetUp? Known => runs.SetUp(Run.RigId, Run.Place);

    /// <summary>The newest check anywhere: what is the rig's own is not asked again.</summary>
    public PlaceSetUp? Last => runs.LastSetUp(Run.RigId);

    /// <summary>What was written when the run ended.</summary>
    public IReadOnlyList<LogEntry> Entries => written ??= RunEntries.Build(Run.Key, Run.State, Run.Zone, house.Rig!.Rig);

    /// <summary>How the run went, against the log until then.</summary>
    public RunReview Review => RunReview.Of(Run.State, Entries,
        [.. memory.Log(house.Rig!, store).TakeWhile(e => e.Instant < Run.StartedAt)], house.Rig!.Rig);

    /// <summary>Those of the entries that still stand in the log.</summary>
    public IReadOnlyList<LogEntry> Standing
    {
        get
        {
            var ids = memory.Log(house.Rig!, store).Where(e => e.Instant >= Run.StartedAt).Select(e => e.Id).ToHashSet(StringComparer.Ordinal);
            return [.. Entries.Where(e => ids.Contains(e.Id))];
        }
    }

    /// <summary>Tanks with a panel that were emptied and not read since.</summary>
    public IReadOnlyList<Tank> PanelToRead
    {
        get
        {
            var since = memory.Log(house.Rig!, store).Where(e => e.Instant >= Run.State.EndedAt).OfType<ReadingEntry>().Select(r => r.Tank).ToHashSet();
            return [.. Review.Tanks.Where(t => t.Tank.Monitor.Probes.Count > 0 && !t.Slow && !since.Contains(t.Tank.Id)
                && house.Now - Run.State.EndedAt < NodaTime.Duration.FromHours(12)).Select(t => t.Tank)];
        }
    }

    /// <summary>Minutes that runs of this form take, and the finished ones that rests on, this one left out.</summary>
    public (double Minutes, int Runs) Usual
    {
        get
        {
            var planned = Run.State.Script.PlannedMinutes;
            var (factor, count) = RunPace.Learn(runs.Finished(Run.RigId, Run.Id), Run.State.Script.Form);
            return (planned * factor, count);
        }
    }

    private IReadOnlyList<LogEntry>? written;

    /// <summary>What the page's script starts from.</summary>
    public string Start => Answer(null);

    public IActionResult OnGet(int id) => Find(id) ? Page() : NotFound();

    /// <summary>Where the run stands, for the page's script.</summary>
    public IActionResult OnGetState(int id) => Find(id) ? Content(Answer(null), "application/json") : NotFound();

    /// <summary>Whether a flow meter measures what runs into one of the run's tanks.</summary>
    public bool HasMeter => Run.State.EndedAt is null && Run.State.Script.Tanks.Any(t => devices.HasMeter(Run.RigId, t.Id));

    /// <summary>What a flow meter counted into a tank since a moment, in Unix milliseconds; null where none counts there, or it fell silent.</summary>
    public IActionResult OnGetMeter(int id, string? tank, long from)
    {
        if (!Find(id)) return NotFound();
        var known = Run.State.Script.Tanks.Any(t => t.Id == tank) && from >= 0 && from <= house.Now.ToUnixTimeMilliseconds() + ClocksDiffer;
        return new JsonResult(new { litres = known ? devices.Metered(Run.RigId, tank!, NodaTime.Instant.FromUnixTimeMilliseconds(from)) : null });
    }

    /// <summary>Tells the page whenever something is pressed on another device.</summary>
    public async Task<IActionResult> OnGetLiveAsync(int id, CancellationToken gone)
    {
        if (!Find(id)) return NotFound();
        // Who was taken out of the rig or has signed out hears nothing more.
        await LiveNumber.ServeAsync(Response, bell, id, () => people.RoleIn(Run.RigId, house.PersonId) is >= Role.Crew
            && SigningIn.StillSignedIn(User, people), () => runs.Version(id), gone, life.ApplicationStopping);
        return new EmptyResult();
    }

    /// <summary>Takes in what was pressed, also what waited for the connection.</summary>
    public async Task<IActionResult> OnPostTapsAsync(int id)
    {
        if (!Find(id)) return NotFound();
        // Read up to the limit and no further, however it is sent.
        using var body = new MemoryStream();
        var buffer = new byte[16384];
        for (int n; (n = await Request.Body.ReadAsync(buffer, HttpContext.RequestAborted)) > 0; body.Write(buffer, 0, n))
            if (body.Length + n > MaxBytes) return Bad(RunSays.UseAtMost256KB, status: StatusCodes.Status413PayloadTooLarge);
        var read = RunCodec.ReadTaps(body.ToArray(), MaxAtOnce);
        if (read.Value is not { } taps) return Bad(read.Errors[0].ToString(), Index(read.Errors[0].Path));
        return Take(id, taps) is { } answer ? Content(Answer(answer), "application/json") : Bad(RunSays.ARunTakesAtMostPresses(RunStore.MaxTaps));
    }

    /// <summary>The same from a form, for a browser without scripts.</summary>
    public IActionResult OnPostPress(int id, string? step, string? round, string? key, string? press)
    {
        if (!Find(id)) return NotFound();
        if (!Codes<RunPress>.TryParse(press, out var pressed)) return Refuse(RunSays.PressChooseOneOf(string.Join(", ", Codes<RunPress>.All)));
        var said = RunCodec.SaidFields.Where(f => Request.Form[f].ToString() is { Length: > 0 and <= 60 })
            .ToDictionary(f => f, f => Request.Form[f].ToString());
        if (said.TryGetValue("litres", out var typed))
        {
            if (!house.Units.TryParseVolume(typed, out var litres) || litres > 1900) return Refuse(RunSays.WaterEnter(house.Units.AcceptedVolume));
            said["litres"] = Math.Round(litres, 2).ToString(CultureInfo.InvariantCulture);
        }
        var tap = new RunEvent(key is { Length: > 0 and <= RunCodec.LongestKey } ? key : TodayModel.NewId(), house.Now,
            step is { Length: <= RunCodec.LongestKey } ? step : "", int.TryParse(round, NumberStyles.None, CultureInfo.InvariantCulture, out var r) ? r : 0,
            pressed, said);
        if (Take(id, [tap]) is not { } answer) return Refuse(RunSays.ARunTakesAtMostPressesOf(RunStore.MaxTaps));
        return answer.Run.State.EndedAt is null ? RedirectToPage(new { id }) : Ended(answer.Run);
    }

    /// <summary>Keeps the check of the hose run at this place.</summary>
    public IActionResult OnPostSetUp(int id, string? outlet, string? sewer, string? hose, string? step, string? key)
    {
        if (!Find(id)) return NotFound();
        double? outletM = null, sewerM = null, hoseM = null;
        foreach (var (name, typed, set) in new (string, string?, Action<double>)[] { (RunSays.OutletHeight, outlet, v => outletM = v),
            (RunSays.SewerHeight, sewer, v => sewerM = v), (RunSays.HoseLengthField, hose, v => hoseM = v) })
        {
            if (string.IsNullOrWhiteSpace(typed)) continue;
            var isHose = name == RunSays.HoseLengthField;
            if (!(isHose ? house.Units.TryParseDistance(typed, out var metres) : house.Units.TryParseLength(typed, out metres))
                || Math.Abs(metres) > 30 || (isHose && metres <= 0))
                return Problem(SharedSays.Enter(name, isHose ? house.Units.AcceptedDistance : house.Units.AcceptedLength));
            set(metres);
        }
        if (Run.Place.Length > 0)
            runs.Keep(Run.RigId, new PlaceSetUp(Run.Place.Trim(), house.Who,
                string.Join(' ', Request.Form["ok"].Where(o => o?.Length is > 0 and < 40)))
            { OutletM = outletM, SewerM = sewerM, HoseM = hoseM });
        var low = outletM is { } o && sewerM is { } w && hoseM is { } l && (o - w) / l < Core.Rigs.Equipment.MinFall;
        var say = low ? RunSays.ItFallsTooLittle(house.Units.Length(outletM!.Value - sewerM!.Value), house.Units.Distance(hoseM!.Value),
            house.Units.Length(Core.Rigs.Equipment.MinFall * hoseM.Value)) : null;
        if (Request.Headers["X-Part"] == "run") return new JsonResult(new { ok = !low, say });
        if (low) return Refuse(say!);
        Take(id, [new RunEvent(key is { Length: > 0 and <= 64 } ? key : TodayModel.NewId(), house.Now, step is { Length: <= RunCodec.LongestKey } ? step : "",
            0, RunPress.Done, new Dictionary<string, string>())]);
        return RedirectToPage(new { id });
    }

    private IActionResult Problem(string problem) => Request.Headers["X-Part"] == "run" ? Bad(problem) : Refuse(problem);

    private bool Find(int id)
    {
        if (runs.Find(house.Rig!.Id, id) is not { } run) return false;
        Run = run;
        return true;
    }

    private TapAnswer? Take(int id, IReadOnlyList<RunEvent> taps)
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
        return RedirectToPage(new { id = run.Id });
    }

    private void Say(StoredRun run)
    {
        var count = RunEntries.Build(run.Key, run.State, run.Zone, house.Rig!.Rig).Count;
        TempData[TodayModel.Logged] =
            run.State.Finished ? RunSays.FinishedAndWritten(SharedSays.EntriesOf(count)) : RunSays.StoppedAndWritten(SharedSays.EntriesOf(count));
        if (count > 0) TempData[TodayModel.LoggedBatch] = run.Key;
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
            ["taps"] = new JsonArray([.. runs.Taps(Run.Id)
                .Select(t => (JsonNode)new JsonObject { ["key"] = t.Key, ["at"] = t.At.ToUnixTimeMilliseconds(), ["step"] = t.Step, ["round"] = t.Round,
                ["press"] = Codes<RunPress>.Word(t.Press), ["said"] = JsonNode.Parse(RunCodec.WriteSaid(t.Said)) })]),
        };
        if (answer is not null)
        {
            json["fates"] = new JsonObject(answer.Fates.Select(f => KeyValuePair.Create(f.Key, (JsonNode?)JsonValue.Create(Codes<TapFate>.Word(f.Value)))));
            if (answer.Ahead is { } ahead) json["ahead"] = ahead;
            if (answer.Wrote) Say(Run);
        }
        return json.ToJsonString();
    }

    // The number of the press that is wrong, which the page then leaves out.
    private static int? Index(string path) =>
        path.StartsWith("taps[", StringComparison.Ordinal)
            && int.TryParse(path.AsSpan(5, Math.Max(0, path.IndexOf(']', StringComparison.Ordinal) - 5)), NumberStyles.None, CultureInfo.InvariantCulture,
            out var i) ? i : null;

    private static JsonResult Bad(string problem, int? index = null, int status = StatusCodes.Status400BadRequest) =>
        new(new { problem, index }) { StatusCode = status };
}
