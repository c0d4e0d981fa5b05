using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Web.Tests;

public sealed class RigTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private Rig Rig => app.With(s => s.Find(1)!.Rig);

    private static string Json(Rig rig) => Encoding.UTF8.GetString(RigCodec.Write(rig));

    /// <summary>The form as a browser would send it, with some fields changed.</summary>
    private Task<(HttpStatusCode Status, string Html)> SaveAsync(params (string Name, string Value)[] changed) => SendFormAsync("/rig", changed);

    private async Task<(HttpStatusCode Status, string Html)> SendFormAsync(string action, (string Name, string Value)[] changed)
    {
        var fields = (await app.GetAsync("/rig")).Fields("form.rig-form");
        return await app.PostAsync("/rig", action, [.. fields.Where(f => changed.All(c => c.Name != f.Name)), .. changed]);
    }

    [Fact]
    public async Task Saving_without_a_change_changes_nothing()
    {
        var before = Json(Rig);
        (await SaveAsync()).Html.ShouldShow("[data-logged]");
        Json(Rig).ShouldBe(before);
    }

    [Fact]
    public async Task What_is_typed_is_kept_and_a_new_capacity_is_dated()
    {
        var (status, html) = await SaveAsync(("t0-name", "Big black"), ("t0-capacity", "42 gal"), ("t0-room", "3.5 gal"), ("t2-monitor", "probes"),
            ("t2-p0-label", "1/2"), ("t2-p0-at", "50 %"), ("t2-p0-wire", "green"),
            ("people", "3"), ("jug", "6 gal"), ("hose", "20 ft"), ("outlet", "18 in"), ("sewer", "4"), ("wand", "rigid"));

        status.ShouldBe(HttpStatusCode.OK);
        html.Text("[data-fall=enough]").ShouldContain("0.7 in");
        var rig = Rig;
        rig.Tanks[0].Name.ShouldBe("Big black");
        rig.Tanks[0].CapacityL.ShouldBe(158.99, 0.01);
        rig.Tanks[0].CapacityHistory.Select(h => Math.Round(h.CapacityL, 1)).ShouldBe([151.4, 159.0]);
        rig.Tanks[0].CapacityHistory[1].From.ToInstant().ShouldBe(App.Start);
        rig.Tanks[0].Monitor.Probes.Select(p => p.Id).ShouldBe(["low", "mid", "top"]);
        rig.Tanks[2].Monitor.Probes.ShouldHaveSingleItem().ShouldBe(new Probe("p1", "1/2", 0.5) { Wire = "green" });
        rig.People.ShouldBe(3);
        rig.Equipment!.HoseLengthM!.Value.ShouldBe(6.096, 0.001);
        rig.Equipment.Wand.ShouldBe("rigid");
        (await app.GetAsync("/")).ShouldContain("<h2>Big black</h2>");
    }

    [Fact]
    public async Task A_gray_tank_can_be_added_and_then_shows_on_Today()
    {
        await SaveAsync(("add", "gray"));
        Rig.Tanks.Select(t => t.Id).ShouldBe(["black", "bath", "galley", "gray-2"]);
        (await app.GetAsync("/")).ShouldContain("<h2>Gray 2</h2>");
    }

    [Theory]
    [InlineData("t0-capacity", "4000 gal", "tanks usually hold 15 to 50 gal")]
    [InlineData("t0-room", "20 gal", "Meter it once")]
    [InlineData("t1-share", "20", "do not add up to 100 %")]
    [InlineData("t1-p1-at", "26", "nearly the same height")]
    public async Task What_is_hardly_so_is_said_and_saved_all_the_same(string field, string value, string words)
    {
        var (status, html) = await SaveAsync((field, value));
        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldContain(words);
    }

    [Fact]
    public async Task A_hose_that_does_not_fall_enough_is_said()
    {
        (await SaveAsync(("hose", "15 ft"), ("outlet", "8 in"), ("sewer", "6 in"))).Html.Text("[data-doubts]").ShouldContain("0.13 in");
    }

    [Theory]
    [InlineData("200", "18 in", "4 in", "200 ft")]
    [InlineData("20 in", "18 in", "4 in", "1.7 ft")]
    [InlineData("3 ft", "90 in", "4 in", "in per foot")]
    public async Task A_hose_or_a_fall_that_can_hardly_be_is_questioned(string hose, string outlet, string sewer, string says) =>
        (await SaveAsync(("hose", hose), ("outlet", outlet), ("sewer", sewer))).Html.Text("[data-doubts]").ShouldContain(says);

    [Theory]
    [InlineData("name", " ", "Name: must not be blank")]
    [InlineData("people", "several", "People: expected a number")]
    [InlineData("t0-name", "", "a name is needed")]
    [InlineData("t0-capacity", "big", "capacity: enter a volume")]
    [InlineData("t0-capacity", "0", "out of range")]
    [InlineData("t0-room", "60 gal", "roomAboveFullL: out of range")]
    [InlineData("t1-p0-at", "150", "atFraction: out of range")]
    [InlineData("t1-p0-at", "half", "atFraction: expected a number")]
    [InlineData("t1-p0-at", "", "a height in percent")]
    [InlineData("t1-share", "-5", "usageShare: out of range")]
    [InlineData("t2-monitor", "crystal-ball", "kind: unknown code")]
    [InlineData("hose", "long", "Sewer hose: enter a length")]
    [InlineData("revision", "0", "Someone else changed this rig")]
    public async Task What_cannot_be_is_refused_by_name_and_what_was_typed_stays(string field, string value, string words)
    {
        var before = Json(Rig);
        var (status, html) = await SaveAsync(field == "kind" ? ("kind", value) : ("kind", "van, typed before"), (field, value));

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain(words);
        html.ShouldContain("value=\"van, typed before\"");
        Json(Rig).ShouldBe(before);
    }

    [Fact]
    public async Task A_tank_that_goes_is_kept_for_its_entries_and_can_come_back()
    {
        var entries = app.With(s => s.Log.All(1)).Count(e => e.Tank == "galley");
        (await SaveAsync(("remove", "galley"))).Html.Text("[data-former=galley]").ShouldContain("Galley gray");
        Rig.Tanks.Select(t => t.Id).ShouldBe(["black", "bath"]);
        Rig.FormerTanks.ShouldHaveSingleItem().Tank.Name.ShouldBe("Galley gray");
        (await app.GetAsync("/logbook?tank=galley")).ShouldContain($"{entries} entries found");
        (await app.GetAsync("/")).ShouldNotContain("<h2>Galley gray</h2>");
        await SameAfterReimportAsync();

        await SaveAsync(("takeBack", "galley"));
        Rig.Tanks.Select(t => t.Id).ShouldBe(["black", "bath", "galley"]);
        Rig.FormerTanks.ShouldBeEmpty();
        (await SaveAsync(("remove", "nothing"))).Html.ShouldRefuse("tank");
    }

    [Fact]
    public async Task After_another_monitor_or_fewer_lamps_the_old_readings_stay_readable_everywhere()
    {
        await SaveAsync(("t0-monitor", "percent"), ("t1-p1-label", ""), ("t1-p1-at", ""), ("t2-monitor", "probes"), ("t2-p0-label", "half"),
            ("t2-p0-at", "50"));
        var rig = Rig;
        rig.Tanks[0].FormerMonitors.ShouldHaveSingleItem().Monitor.Probes.Select(p => p.Id).ShouldBe(["low", "mid", "top"]);
        rig.Tanks[1].Monitor.Probes.Count.ShouldBe(3);
        rig.Tanks[1].MonitorAt(App.Start - NodaTime.Duration.FromDays(1)).Probes.Count.ShouldBe(4);
        (await app.GetAsync("/")).ShouldContain("Black");
        await SameAfterReimportAsync();
    }

    /// <summary>The export brought in as a new rig is the same rig with the same log.</summary>
    private async Task SameAfterReimportAsync()
    {
        var document = await app.Client.GetStringAsync(new Uri("/export/logbook", UriKind.Relative));
        await app.ConfirmAsync((await app.UploadAsync(document, into: "new")).Html, "new");
        var again = app.NewestRig;
        again.ShouldNotBe(1);
        app.With(s => Json(s.Find(again)!.Rig)).ShouldBe(Json(Rig));
        app.With(s => s.Log.All(again)).Select(e => Encoding.UTF8.GetString(EntryCodec.Write(e)))
            .ShouldBe(app.With(s => s.Log.All(1)).Select(e => Encoding.UTF8.GetString(EntryCodec.Write(e))));
        await app.PostAsync("/rigs", "/rigs?handler=Choose", ("id", "1"));
    }

    [Fact]
    public async Task What_is_typed_is_drawn_without_being_saved()
    {
        var before = Json(Rig);
        string Stud(string html) => Regex.Match(html, "data-part=\"tank-black\".*?<circle class=\"lamp\" [^>]*cy=\"([0-9.]+)\"",
            RegexOptions.Singleline).Groups[1].Value;
        var (_, drawn) = await DrawAsync(("t0-p0-at", "10"), ("t0-capacity", "4000 gal"));
        drawn.ShouldNotContain("<html");
        Stud(drawn).ShouldNotBe(Stud(await app.GetAsync("/rig")));
        drawn.ShouldContain("A typo?");
        (await DrawAsync(("t0-p0-at", "half"))).Status.ShouldBe(HttpStatusCode.NoContent); // the drawing stays as it was
        Json(Rig).ShouldBe(before);
    }

    private Task<(HttpStatusCode Status, string Html)> DrawAsync(params (string Name, string Value)[] changed) => SendFormAsync("/rig?handler=Draw", changed);

    [Fact]
    public async Task Repairs_find_what_was_noted_and_fresh_water_is_dated()
    {
        await SaveAsync(("t0-p0-wire", "violet"), ("t0-p0-height", "3 in"), ("t0-p0-note", "nut behind the ladder"), ("ventFan", "yes"),
            ("grayOnlyCap", "yes"), ("freshNow", "30 gal"));
        var rig = Rig;
        (rig.Tanks[0].Monitor.Probes[0].Wire, Math.Round(rig.Tanks[0].Monitor.Probes[0].HeightM!.Value, 4), rig.Tanks[0].Monitor.Probes[0].Note)
            .ShouldBe(("violet", 0.0762, "nut behind the ladder"));
        (rig.Equipment!.VentFan, rig.Equipment.GrayOnlyCap, rig.Equipment.FrostProof).ShouldBe((true, true, null));
        rig.Fresh!.Litres.ShouldBe(113.56, 0.01);
        rig.Fresh.At.ToInstant().ShouldBe(App.Start);
        (await SaveAsync(("freshNow", "90 gal"))).Html.Text("[data-problem]").ShouldContain("50 gal");
        (await app.GetAsync("/rig")).ShouldShow("[data-earlier=\"1\"]");
    }
}
