using System.Net;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;
using Tanksophos.Core.Trips;
using Tanksophos.Data;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Tests;

public sealed class TripTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private T Trips<T>(Func<TripStore, T> use)
    {
        using var scope = app.Services.CreateScope();
        return use(scope.ServiceProvider.GetRequiredService<TripStore>());
    }

    private TripNow Now()
    {
        using var scope = app.Services.CreateScope();
        return scope.ServiceProvider.GetRequiredService<TripService>().Current(scope.ServiceProvider.GetRequiredService<RigStore>().Find(1)!)!;
    }

    private Itinerary Stops => Trips(t => t.Find(1, 1)!.Itinerary);

    private Task<(HttpStatusCode Status, string Html)> Edit(string handler, params (string, string)[] fields) =>
        app.PostAsync("/trip", $"/trip?handler={handler}&trip=1", fields);

    [Fact]
    public async Task The_demonstrations_trip_holds_only_by_diverting_and_shows_its_busy_station()
    {
        var html = await app.GetAsync("/trip");
        html.ShouldContain("<h1>High plains loop</h1>");
        html.ShouldContain("data-holds=\"yes\"");
        Regex.IsMatch(html, "data-kind=\"Divert\"").ShouldBeTrue();
        html.ShouldShow("[data-hookup=dump-station][data-tap=unthreaded][data-busy=yes]");
        html.ShouldShow(".caution");
        html.ShouldShow("[data-proven=yes]");
        Regex.Count(html, "class=\"stop-block").ShouldBe(5);
        html.ShouldNotContain("@(");
        var plan = Now().Plan!;
        plan.Actions.ShouldContain(a => a.Kind == PlanActionKind.Divert && a.Stop == "s2");
        plan.Feasible.ShouldBeTrue();
    }

    // The stop's six nights are longer than the fresh water lasts: that is said beside the verdict and on the sheet, not only in a table.
    [Fact]
    public async Task Fresh_water_that_runs_out_first_stands_beside_the_verdict()
    {
        var dry = Now().DryStays.Single(d => d.FreshFirst);
        (await app.GetAsync("/trip")).ShouldShow($"[data-fresh-first={dry.Stop}]");
        (await app.GetAsync("/trip/sheet")).ShouldContain(PlanWords.FreshFirst(dry, "Cinder Flat"));
    }

    [Fact]
    public async Task A_first_stop_where_the_rig_stands_begins_now()
    {
        var here = app.With(s => s.Log.All(1).OfType<StayEntry>().Last(e => e.Place is not null).Place!);
        await app.PostAsync("/trip", "/trip?handler=New", ("name", "From here"));
        var id = Trips(t => t.Of(1).Max(x => x.Id));
        await app.PostAsync($"/trip?trip={id}", $"/trip?handler=Add&trip={id}", ("name", here.ToUpperInvariant()), ("nights", "2"), ("hookup", "full"));
        var stop = Trips(t => t.Find(1, id)!.Itinerary).Stops.ShouldHaveSingleItem();
        stop.Arrive.ToInstant().ShouldBe(App.Start, "it goes on from now");
        stop.DriveHoursBefore.ShouldBe(0);
    }

    [Fact]
    public async Task A_trip_is_entered_by_name_nights_and_hookup_alone()
    {
        var (_, html) = await app.PostAsync("/trip", "/trip?handler=New", ("name", "Autumn"));
        html.ShouldShow("[data-empty=no-stops]");
        var trip = Trips(t => t.Of(1)).Single(t => t.Itinerary.Name == "Autumn").Id;
        (await app.PostAsync("/trip", $"/trip?handler=Add&trip={trip}", ("name", "Juniper Wash"), ("nights", "3"), ("hookup", "dry"),
            ("begin", "2026-07-01"))).Status.ShouldBe(HttpStatusCode.OK);
        (_, html) = await app.PostAsync("/trip", $"/trip?handler=Add&trip={trip}", ("name", "Mill Creek"), ("nights", "2"), ("hookup", "full"));

        html.ShouldContain("Juniper Wash");
        html.ShouldContain("Dump run");
        var stops = Trips(t => t.Find(1, trip)!.Itinerary.Stops);
        stops.Select(s => s.Id).ShouldBe(["s1", "s2"]);
        stops[1].Arrive.Date.ShouldBe(new LocalDate(2026, 7, 4));
        stops[1].People.ShouldBe(2);
    }

    [Fact]
    public async Task The_pages_own_script_gets_the_board_alone_with_the_new_plan_and_a_way_back()
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/trip?handler=Stretch&trip=1")
        {
            Content = new FormUrlEncodedContent(new Dictionary<string, string>
            {
                ["__RequestVerificationToken"] = await app.TokenAsync("/trip"),
                ["stop"] = "s2",
                ["nights"] = "9"
            }),
        };
        request.Headers.Add("X-Part", "board");
        using var answer = await app.Client.SendAsync(request, TestContext.Current.CancellationToken);
        var html = WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken));

        answer.StatusCode.ShouldBe(HttpStatusCode.OK);
        html.ShouldNotContain("<html");
        html.ShouldContain("data-holds=\"no\"");
        html.ShouldContain("leaves"); // what would mend it
        Itinerary.Nights(Stops.Stops[1]).ShouldBe(9);
        var back = App.Hidden(html.Replace("<button class=\"btn-quiet\" ", "", StringComparison.Ordinal), "revision");
        back.ShouldBe("1");
        await Edit("Back", ("revision", back));
        Itinerary.Nights(Stops.Stops[1]).ShouldBe(6);
        (await app.GetAsync("/trip")).ShouldShow("[data-holds=yes]");
    }

    private static readonly (string Handler, string Fields, string Says)[] Refusals =
    [
        ("Add", "name=|nights=2|hookup=dry", "new-stop-name"),
        ("Add", "name=x|nights=two|hookup=dry", "new-stop-nights"),
        ("Add", "name=x|nights=-1|hookup=dry", "new-stop-nights"),
        ("Add", "name=x|nights=2|hookup=sewer", "new-stop-hookup"),
        ("Add", "name=x|nights=2|hookup=dry|before=s99", "new-stop"),
        ("Stretch", "stop=s2|nights=9999", "nights"),
        ("Stretch", "stop=s99|nights=2", "stop"),
        ("Move", "stop=s2|to=x", "order"),
        ("Stop", "stop=s2|name=Cinder Flat|nights=6|people=2|hookup=x|drive=2", "cinder-flat-hookup"),
        ("DropStop", "stop=s99", "stop"),
        ("Wish", "stop=s2|role=black|dump=here", "cinder-flat"),
        ("Wish", "stop=s5|role=brown|dump=here", "tank"),
        ("Rename", "name=", "trip"),
        ("Stop", "stop=s2|name=Cinder Flat|nights=6|people=0|hookup=dry|drive=2", "cinder-flat-people"),
        ("Stop", "stop=s2|name=Cinder Flat|nights=6|people=2|hookup=dry|drive=99", "cinder-flat-drive"),
        ("Stop", "stop=s2|name=Cinder Flat|nights=6|people=2|hookup=dry|drive=2|high=hot", "cinder-flat-hottest-day"),
        ("Stop", "stop=s2|name=Cinder Flat|nights=6|people=2|hookup=dry|drive=2|fee=lots", "cinder-flat-fee"),
        ("Stop", "stop=s2|name=Cinder Flat|nights=6|people=2|hookup=dry|drive=2|zone=Nowhere/Land", "cinder-flat-zone"),
        ("Stop", "stop=s2|name=Cinder Flat|nights=0|people=2|hookup=dry|drive=2|arrive=18:00|depart=09:00",
            "cinder-flat-departure"),
        ("Stop", "stop=s2|name=Cinder Flat|nights=6|people=2|hookup=dry|drive=2|arrive=late", "cinder-flat-hours"),
        ("Stop", "stop=s1|name=Lantern Hollow|nights=2|people=2|hookup=full|drive=2|begin=2026-05-01", "lantern-hollow-departure"),
        ("Stop", "stop=s1|name=Lantern Hollow|nights=2|people=2|hookup=full|drive=2|begin=yesterday", "lantern-hollow-first-day"),
    ];

    [Fact]
    public async Task What_cannot_be_taken_is_refused_by_name_and_changes_nothing()
    {
        var before = Trips(t => t.Find(1, 1)!);
        foreach (var (handler, fields, says) in Refusals)
        {
            var (status, html) = await Edit(handler,
                [.. fields.Split('|').Select(f => (f.Split('=')[0], f[(f.IndexOf('=', StringComparison.Ordinal) + 1)..]))]);
            status.ShouldBe(HttpStatusCode.BadRequest, says);
            html.ShouldRefuse(says);
            Trips(t => t.Find(1, 1)!).Revision.ShouldBe(before.Revision, says);
        }
    }

    [Fact]
    public async Task Everything_of_a_stop_can_be_said()
    {
        var (status, _) = await Edit("Stop", ("stop", "s3"), ("name", "Crossroads"), ("nights", ""), ("people", "2"), ("hookup", "dump-station"),
            ("drive", "1.5"), ("high", "90 F"), ("fee", "12.50"), ("rinse", "threaded"), ("septic", "true"), ("zone", "America/Phoenix"), ("arrive", "12:00"),
            ("depart", "13:00"));
        status.ShouldBe(HttpStatusCode.OK);
        var stop = Stops.Stops[2];
        (stop.Name, stop.DriveHoursBefore, stop.FeeMinor, stop.RinseWater, stop.Busy, stop.Septic, stop.Zone.Id)
            .ShouldBe(("Crossroads", 1.5, 1250, RinseWater.Threaded, false, true, "America/Phoenix"));
        stop.HighC!.Value.ShouldBe(32.2, 0.1);

        // The sheet of a station has no nights: one that becomes a stay gets one, and the usual hour of leaving.
        await Edit("Stop", ("stop", "s3"), ("name", "Crossroads"), ("people", "2"), ("hookup", "partial"), ("drive", "1.5"), ("arrive", "12:00"));
        Stops.Stops[2].Hookup.ShouldBe(StopHookup.Partial);
        Itinerary.Nights(Stops.Stops[2]).ShouldBe(1);
        await Edit("Move", ("stop", "s4"), ("to", "1"));
        Stops.Stops.Select(s => s.Id).ShouldBe(["s1", "s4", "s2", "s3", "s5"]);
        await Edit("DropStop", ("stop", "s4"));
        Stops.Stops.Count.ShouldBe(4);
    }

    // A station's tap, fee and hours are told once; another trip that goes there knows them, and says so if it comes at the wrong hour.
    [Fact]
    public async Task A_place_that_is_known_is_taken_as_it_was()
    {
        (await Edit("Stop", ("stop", "s3"), ("name", "Crossroads station"), ("people", "2"), ("hookup", "dump-station"), ("drive", "1"), ("fee", "12.50"),
            ("rinse", "none"), ("arrive", "11:00"), ("opens", "14:00"), ("closes", "13:00"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        var (_, html) = await Edit("Stop", ("stop", "s3"), ("name", "Crossroads station"), ("people", "2"), ("hookup", "dump-station"), ("drive", "1"),
            ("fee", "12.50"), ("rinse", "none"), ("arrive", "11:00"), ("opens", "14:00"), ("closes", "17:00"));
        html.ShouldShow("[data-closed=s3]");
        Now().Plan!.Actions.ShouldNotContain(a => a.Stop == "s3" && a.Kind == PlanActionKind.Dump);

        await app.PostAsync("/trip", "/trip?handler=New", ("name", "Back again"));
        var id = Trips(t => t.Of(1).Max(x => x.Id));
        var page = await app.GetAsync($"/trip?trip={id}");
        page.ShouldShow("#places option[value='Crossroads station'][data-hookup=dump-station]");
        await app.PostAsync($"/trip?trip={id}", $"/trip?handler=Add&trip={id}", ("name", " crossroads STATION"),
            ("hookup", "dump-station"), ("begin", "2026-08-01"));
        var stop = Trips(t => t.Find(1, id)!.Itinerary).Stops.ShouldHaveSingleItem();
        (stop.Name, stop.FeeMinor, stop.RinseWater, stop.Opens, stop.Closes).ShouldBe(("Crossroads station", 1250, RinseWater.None, new LocalTime(14, 0),
            new LocalTime(17, 0)));
        // With another hookup it is only the name that is known.
        await app.PostAsync($"/trip?trip={id}", $"/trip?handler=Add&trip={id}", ("name", "Crossroads station"), ("hookup", "full"), ("nights", "2"));
        Trips(t => t.Find(1, id)!.Itinerary).Stops[1].FeeMinor.ShouldBeNull();
    }

    [Fact]
    public async Task The_looks_stand_at_the_runs_they_decide()
    {
        // A rig that nobody knows yet.
        const string log = """
            { "format": "tanksophos-logbook", "version": 1, "rig": { "name": "New rig", "kind": "van", "people": 2, "tanks": [
              { "id": "black", "name": "Black", "role": "black", "capacityL": 150, "monitor": { "kind": "none" } },
              { "id": "gray", "name": "Gray", "role": "gray", "capacityL": 190, "monitor": { "kind": "none" } } ] },
              "entries": [
                { "id": "a", "type": "stay", "at": "2026-06-09T10:00:00-06:00", "place": "Quail Flat", "hookup": "dry" },
                { "id": "b", "type": "dump", "at": "2026-06-09T09:30:00-06:00", "tank": "black", "flow": "rush" },
                { "id": "c", "type": "dump", "at": "2026-06-09T09:40:00-06:00", "tank": "gray", "flow": "rush" } ] }
            """;
        await app.ConfirmAsync((await app.UploadAsync(log, into: "new")).Html, "new");
        var rig = app.NewestRig;
        await app.PostAsync("/trip", "/trip?handler=New", ("name", "Long stay"));
        var id = Trips(t => t.Of(rig).Max(x => x.Id));
        foreach (var (name, nights, hookup) in new[] { ("Quail Flat", "3", "dry"), ("Quail Park", "7", "full") })
            await app.PostAsync($"/trip?trip={id}", $"/trip?handler=Add&trip={id}", ("name", name), ("nights", nights), ("hookup", hookup));
        using var scope = app.Services.CreateScope();
        var now = scope.ServiceProvider.GetRequiredService<TripService>().Of(scope.ServiceProvider.GetRequiredService<RigStore>().Find(rig)!,
            Trips(t => t.Find(rig, id)!));
        now.Looked!.Looks.ShouldNotBeEmpty();
        var html = await app.GetAsync($"/trip?trip={id}");
        html.ShouldShow($"[data-looks='{now.Looked.Looks.Count}']");
        Regex.Count(html, "data-look=\"(leave-out|let-out)\"").ShouldBe(now.Looked.Looks.Count);
        (await app.GetAsync($"/trip/sheet?trip={id}")).ShouldContain(new PlanWords(app.With(s => s.Find(rig)!).Rig, Units.Us)
            .Look(now.Looked.Looks[0], now.Stop(now.Looked.Looks[0].Stop)));
    }

    [Fact]
    public async Task A_wish_is_planned_around_and_taken_back()
    {
        Now().Plan!.Actions.ShouldContain(a => a.Stop == "s3" && a.Kind == PlanActionKind.Dump && a.Tank == "black");
        var (_, html) = await Edit("Wish", ("stop", "s3"), ("role", "black"), ("dump", "not-here"));
        html.ShouldShow("[data-wish=not-here][data-role=black]");
        Now().Plan!.Actions.ShouldNotContain(a => a.Stop == "s3" && a.Kind == PlanActionKind.Dump && a.Tank == "black");
        (await Edit("Wish", ("stop", "s3"), ("role", "black"), ("dump", ""))).Html.Dom().QuerySelector("[data-wish]").ShouldBeNull();
    }

    [Fact]
    public async Task Ways_it_could_go_stand_side_by_side()
    {
        var html = await app.GetAsync("/trip?handler=Compare&trip=1");
        foreach (var variant in new[] { "as-planned", "one-more", "without-stop" })
            html.Dom().QuerySelector($"th[data-variant={variant}]").ShouldNotBeNull(variant);
        html.ShouldContain("Crossroads station");
        html.ShouldContain("batch");
        Regex.Count(html, "<th scope=\"col\" data-variant").ShouldBeGreaterThan(6);
    }

    [Fact]
    public async Task A_removed_trip_can_be_put_back()
    {
        var (_, html) = await Edit("Remove");
        html.ShouldShow("[data-empty=no-trip]");
        html.Text("[data-removed]").ShouldContain("High plains loop");
        (await app.GetAsync("/")).ShouldNotContain("High plains loop");
        (_, html) = await app.PostAsync("/trip", "/trip?handler=Restore", ("trip", "1"));
        html.ShouldContain("data-holds=\"yes\"");
    }

    [Fact]
    public async Task Today_says_what_the_plan_wants_and_a_logged_valve_ticks_it()
    {
        (await app.GetAsync("/")).ShouldContain("High plains loop");
        Now().Progress.Done.ShouldBeEmpty();
        var close = Now().Plan!.Actions.First(a => a.Kind == PlanActionKind.CloseValve);
        app.Clock.Reset(close.At.ToInstant() + Duration.FromMinutes(10));
        await app.PostAsync("/", "/?handler=Valve", ("id", "v1"), ("tank", close.Tank!), ("state", "closed"));

        var done = Now().Progress.Done.ShouldHaveSingleItem();
        (done.EntryKey, done.Action.Tank).ShouldBe(("v1", close.Tank));
        var html = await app.GetAsync("/trip");
        html.ShouldShow("[data-done=\"1\"]");
        html.ShouldContain("/entry/v1");
    }

    [Fact]
    public async Task A_run_that_is_not_done_changes_the_plan_and_says_why()
    {
        _ = Now();
        var dump = Now().Plan!.Actions.First(a => a is { Kind: PlanActionKind.Dump, Tank: "black" });
        app.Clock.Reset(dump.At.ToInstant() + Duration.FromHours(8));
        var html = await app.GetAsync("/trip");
        html.ShouldShow("[data-changed~=not-dumped]");
    }

    [Fact]
    public async Task A_stop_that_the_log_knows_nothing_of_is_pointed_out_and_logged_in_one_tap()
    {
        (await app.GetAsync("/trip")).ShouldNotShow("[data-not-logged]");
        app.Clock.Reset(Stops.Stops[1].Arrive.ToInstant() + Duration.FromHours(2));
        (await app.GetAsync("/trip")).ShouldShow("[data-not-logged=s2]");
        await app.PostAsync("/trip", "/?handler=Stay", ("id", "here"), ("place", "Cinder Flat"), ("hookup", "dry"));
        (await app.GetAsync("/trip")).ShouldNotShow("[data-not-logged]");
    }

    [Fact]
    public async Task The_calendar_has_stable_names_zones_and_alarms()
    {
        var file = await app.GetAsync("/trip?handler=Calendar&trip=1");
        var uids = Regex.Matches(file, "UID:(\\S+)").Select(m => m.Groups[1].Value).ToList();
        uids.ShouldBeUnique();
        uids.RemoveAll(u => u.StartsWith("care1-", StringComparison.Ordinal)).ShouldBeGreaterThan(0);
        uids.ShouldAllBe(u => u.StartsWith("trip1-s", StringComparison.Ordinal) && u.EndsWith("@tanksophos", StringComparison.Ordinal));
        file.ShouldContain("DTSTART;TZID=America/Denver:");
        file.ShouldContain("BEGIN:VTIMEZONE");
        Regex.Count(file, "BEGIN:VALARM").ShouldBe(uids.Count);
        file.ShouldContain("TRIGGER:-PT30M");
        file.ShouldContain("SUMMARY:Dump run: black at");
        // Half an hour later the hours may have moved; the names have not.
        app.Clock.AdvanceMinutes(40);
        Regex.Matches(await app.GetAsync("/trip?handler=Calendar&trip=1"), "UID:(trip\\S+)").Select(m => m.Groups[1].Value).ShouldBe(uids);
    }

    [Fact]
    public async Task The_private_address_answers_whoever_has_it_until_it_is_taken_back()
    {
        var (_, html) = await Edit("Feed");
        var address = new Uri(Regex.Match(html, "value=\"(http://[^\"]+/feed/[0-9a-f]{48}\\.ics)\"").Groups[1].Value);
        using var visitor = app.Visitor();
        using var answer = await visitor.GetAsync(new Uri(address.PathAndQuery, UriKind.Relative), TestContext.Current.CancellationToken);
        answer.Content.Headers.ContentType!.MediaType.ShouldBe("text/calendar");
        (await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain("X-WR-CALNAME:Old Biscuit: High plains loop");

        (await app.GetAsync("/trip")).ShouldNotContain("/feed/"); // shown once
        await Edit("Feed");
        (await visitor.GetAsync(new Uri(address.PathAndQuery, UriKind.Relative),
            TestContext.Current.CancellationToken)).StatusCode.ShouldBe(HttpStatusCode.NotFound, "a new address ends the old one");
        await Edit("FeedOff");
        (await visitor.GetAsync(new Uri("/feed/wrong.ics", UriKind.Relative),
            TestContext.Current.CancellationToken)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        Trips(t => t.Find(1, 1)!).HasFeed.ShouldBeFalse();
    }

    [Fact]
    public async Task Trip_and_plan_go_out_as_documents_and_a_trip_comes_in()
    {
        var document = await app.GetAsync("/trip?handler=Document&trip=1");
        using var plan = JsonDocument.Parse(await app.GetAsync("/trip?handler=Plan&trip=1"));
        plan.RootElement.GetProperty("feasible").GetBoolean().ShouldBeTrue();
        Core.Formats.TripFormat.Read(Encoding.UTF8.GetBytes(document)).Warnings.ShouldBeEmpty();

        var (status, html) = await ImportAsync(document, "Second loop.json");
        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldContain("<h1>Second loop</h1>");
        (status, html) = await ImportAsync(document.Replace("\"dump-station\"", "\"dump\"", StringComparison.Ordinal), "bad.json");
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain("stops[2].hookup");
        (status, html) = await ImportAsync("not json", "bad.json");
        status.ShouldBe(HttpStatusCode.BadRequest);
        Trips(t => t.Of(1)).Count.ShouldBe(2);
    }

    private async Task<(HttpStatusCode, string)> ImportAsync(string text, string name)
    {
        using var content = new MultipartFormDataContent { { new StringContent(await app.TokenAsync("/trip")), "__RequestVerificationToken" },
            { new ByteArrayContent(Encoding.UTF8.GetBytes(text)), "file", name } };
        using var response = await app.Client.PostAsync(new Uri("/trip?handler=Import", UriKind.Relative), content);
        return (response.StatusCode, WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync()));
    }

    [Fact]
    public async Task The_sheet_has_every_run_and_the_cautions_on_one_page()
    {
        var html = await app.GetAsync("/trip/sheet?trip=1");
        Regex.Count(html, "class=\"box\"").ShouldBe(PlanRun.Group(Now().Plan!.Actions, Now().Stop).Count);
        html.ShouldContain("bleach", Case.Insensitive);
        (await app.Client.GetAsync(new Uri("/trip/sheet?trip=99", UriKind.Relative),
            TestContext.Current.CancellationToken)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await app.Client.GetAsync(new Uri("/trip?trip=99", UriKind.Relative), TestContext.Current.CancellationToken)).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public void The_ribbon_keeps_stops_apart_and_pins_inside()
    {
        var ribbon = new TripRibbon(Now(), DemoSeason.Rig, App.Start, PlanRun.Group(Now().Plan!.Actions, Now().Stop), Words.TimeStyle.Us);
        for (var i = 1; i < ribbon.Blocks.Count; i++) ribbon.Blocks[i].X.ShouldBeGreaterThanOrEqualTo(ribbon.Blocks[i - 1].X + ribbon.Blocks[i - 1].Width);
        ribbon.Blocks.Single(b => b.Stop.Hookup == StopHookup.DumpStation).Width.ShouldBeGreaterThan(20, "it can be hit");
        ribbon.Lanes.Count.ShouldBe(3);
        foreach (var lane in ribbon.Lanes)
        {
            lane.Band.ShouldEndWith("Z");
            lane.DumpY.ShouldBeInRange(lane.Top, lane.Bottom);
            lane.Pins.ShouldAllBe(p => p.X >= TripRibbon.LaneLeft && p.X <= ribbon.Width);
            for (var i = 1; i < lane.Pins.Count; i++) (lane.Pins[i].X - lane.Pins[i - 1].X).ShouldBeGreaterThanOrEqualTo(20);
        }
        ribbon.Now!.Value.ShouldBeInRange(TripRibbon.LaneLeft, ribbon.Width);
    }

    [Fact]
    public void The_words_say_each_action_in_either_unit()
    {
        var words = new PlanWords(DemoSeason.Rig, Units.Metric);
        PlanAction Action(PlanActionKind kind, string? tank = "black") => new(default, "s1", kind, tank, null)
        {
            WaterL = 38,
            ExpectedL = 100,
            Cycles = 3,
            Method = FlushMethod.BuiltIn,
            Recipe = DoseRecipe.Enzyme,
            Amount = "8 fl oz",
            ShareToBlack = 0.15
        };
        words.Line(Action(PlanActionKind.Dump)).ShouldBe("Dump black: about 100 L, 66\u00a0%");
        words.Line(Action(PlanActionKind.Flush)).ShouldBe("Flush black: built-in head, 3 rinses, 38 L");
        words.Line(Action(PlanActionKind.Dose)).ShouldBe("Dose black: 8 fl oz of enzyme");
        words.Line(Action(PlanActionKind.Divert, null)).ShouldBe("Pour some dishwater down the toilet (about 1 L of every 7)");
        words.Line(Action(PlanActionKind.FillJug, null)).ShouldBe("Fill the jug: 38 L");
        new PlanWords(DemoSeason.Rig, Units.Us).Line(Action(PlanActionKind.TopUp)).ShouldBe("Top up black with 10 gal");
        foreach (var kind in Enum.GetValues<PlanActionKind>()) words.Line(Action(kind)).Length.ShouldBeGreaterThan(8);
    }

    [Fact]
    public void A_trip_keeps_its_revisions_and_only_its_own_rig_sees_it()
    {
        var now = App.Start;
        Trips(t => t.Current(1, now))!.Id.ShouldBe(1);
        Trips(t => t.Find(2, 1)).ShouldBeNull();
        Trips(t => t.Change(1, 1, 1, i => i.Stretch("s5", 6), "Robin")).ShouldBe(TripChange.Done);
        Trips(t => t.Change(1, 1, 1, i => i.Stretch("s5", 7), "Robin")).ShouldBe(TripChange.ChangedMeanwhile, "somebody was faster");
        Trips(t => t.Change(1, 1, null, _ => null, "Robin")).ShouldBe(TripChange.Refused);
        Trips(t => t.BackTo(1, 1, 1, "Robin")).ShouldBeTrue();
        Trips(t => t.Find(1, 1)!).Revision.ShouldBe(3);
        Itinerary.Nights(Stops.Stops[4]).ShouldBe(4);
        Trips(t => t.BackTo(1, 1, 99, "Robin")).ShouldBeFalse();
        Trips(t => t.Remove(2, 1, true)).ShouldBeFalse();
        Trips(t => t.Current(1, now + Duration.FromDays(400))).ShouldBeNull();
    }
}
