using System.Net;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests.Hostile;

/// <summary>Rows that cannot be read, of every kind: they are named on a page and mended there, and everything else goes on.</summary>
public sealed class SetAsideTests : IDisposable
{
    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    private object? Sql(string sql)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(app.Folder, "tanksophos.db")};Pooling=False;Default Timeout=20");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        app.Services.GetRequiredService<RigCache>().Clear(); // what is changed behind the program's back is seen at its next start
        return command.ExecuteScalar();
    }

    private void StartRun()
    {
        using var scope = app.Services.CreateScope();
        var rig = scope.ServiceProvider.GetRequiredService<RigStore>().Find(1)!.Rig;
        var setting = new RunSetting
        {
            Rig = rig,
            Place = RunPlace.Sewer,
            Tanks = [.. rig.Tanks.Select(t => new RunTank(t, new LevelBand(0, 9, 20), new LevelBand(0, 1, 3), false))]
        };
        scope.ServiceProvider.GetRequiredService<RunStore>().Start(1, RunBuilder.Offer(setting, RunForm.Full).Script!, "here", DateTimeZone.Utc, "Demo");
    }

    private static readonly string[] Pages =
    [
        "/", "/run", "/run/1", "/trip", "/trip/sheet", "/find", "/find/health", "/find/sheet", "/sensors", "/sensors/looks", "/care", "/care/costs",
            "/care/sheet", "/care/season/close", "/practice/twin", "/devices", "/notices", "/weather", "/treatments",
        "/treatments/enzyme",
            "/treatments/shelf", "/logbook",
            "/logbook/sheet", "/rig", "/rules", "/import", "/write", "/write/dump", "/rigs", "/account", "/keeping", "/mend", "/set-aside",
        "/set-aside?handler=Raw", "/export/logbook", "/export/entries", "/export/readings", "/export/everything", "/export/package", "/export/assessment",
            "/you", "/programs", "/guide", "/alarm",
    ];

    private async Task WalkAsync(string what)
    {
        foreach (var page in Pages)
        {
            using var response = await app.Client.GetAsync(new Uri(page, UriKind.Relative));
            ((int)response.StatusCode).ShouldBeLessThan(500, $"{page} with {what}");
        }
    }

    [Fact]
    public async Task Unreadable_rows_of_every_kind_leave_every_page_standing_and_are_named()
    {
        StartRun();
        Sql("INSERT INTO RunTaps (RunId, Key, At, Step, Round, Press, Said, Who, ReceivedAt, Fate) VALUES (1, 'bad', 17000000000000000, 'gloves', 0, 'jumped', "
            + "'x', 'Demo', 17000000000000000, 'used')");
        Sql("UPDATE Entries SET Json = '{\"at\":\"2026-06-01T00:00:00Z\",\"type\":\"dump\",\"tank\":\"black\",\"minutes\":1800}' WHERE Id = 3");
        Sql("UPDATE Entries SET Json = 'x', At = 9223372036854775807 WHERE Id = 5");
        Sql("UPDATE Rigs SET Json = '{}' WHERE Id = 1");
        Sql("INSERT INTO RigRevisions (RigId, Revision, Json, At, Who) VALUES (1, 7, 'no rig', 0, 'Demo')");
        Sql("UPDATE TripRevisions SET Json = '[]' WHERE TripId = 1");

        await WalkAsync("everything spoiled");
        var page = await app.GetAsync("/set-aside");
        foreach (var row in new[] { "entry/", "rig/1", "rig-version/7", "trip/1", "press/" }) page.ShouldContain($"data-row=\"{row}");
        page.ShouldContain("\"minutes\":1800");
        page.Text("[data-reason]").ShouldContain("minutes");
        // two entries and the rig's details
        System.Text.RegularExpressions.Regex.Match(await app.GetAsync("/"), "data-set-aside=\"([0-9]*)\"").Groups[1].Value.ShouldBe("3");
        app.With(s => s.Log.All(1).Count).ShouldBe((int)(long)Sql("SELECT count(*) FROM Entries WHERE IsCurrent AND NOT Withdrawn")! - 2);
        (await app.PostAsync("/", "/?handler=People", ("id", "after"), ("count", "3"))).Status.ShouldBe(HttpStatusCode.OK);
        app.With(s => s.Log.Entry(1, "after")).ShouldNotBeNull();

        Sql("UPDATE Runs SET Script = '{\"form\":\"full\"}' WHERE Id = 1");
        await WalkAsync("the run spoiled too");
        (await app.GetAsync("/set-aside")).ShouldContain("data-row=\"run/1\"");
    }

    [Fact]
    public async Task A_row_is_corrected_or_withdrawn_and_counts_again_or_no_more()
    {
        StartRun();
        var key = (string)Sql("SELECT Key FROM Entries WHERE Id = 3")!;
        var good = (string)Sql("SELECT Json FROM Entries WHERE Id = 3")!;
        Sql("UPDATE Entries SET Json = 'x' WHERE Id IN (3, 5)");
        Sql("UPDATE Rigs SET Json = 'x' WHERE Id = 1");
        Sql("UPDATE TripRevisions SET Json = 'x' WHERE TripId = 1");
        Sql("UPDATE Runs SET Script = 'x' WHERE Id = 1");
        Sql("UPDATE RunTaps SET Said = 'x'");

        var (status, html) = await app.PostAsync("/set-aside", "/set-aside?handler=Correct", ("kind", "entry"), ("key", key), ("raw", "{\"type\":\"song\"}"));
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain("song"); // what was typed is still there
        (await app.PostAsync("/set-aside", "/set-aside?handler=Correct", ("kind", "entry"), ("key", key), ("raw", good))).Status.ShouldBe(HttpStatusCode.OK);
        app.With(s => s.Log.Entry(1, key))!.Revision.ShouldBe(2);
        var other = (string)Sql("SELECT Key FROM Entries WHERE Id = 5")!;
        (await app.PostAsync("/set-aside", "/set-aside?handler=Withdraw", ("kind", "entry"), ("key", other))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.PostAsync("/set-aside", "/set-aside?handler=Withdraw", ("kind", "rig"), ("key", "1"))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.PostAsync("/set-aside", "/set-aside?handler=Withdraw", ("kind", "trip"), ("key", "1"))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.PostAsync("/set-aside", "/set-aside?handler=Withdraw", ("kind", "run"), ("key", "1"))).Status.ShouldBe(HttpStatusCode.OK);

        app.With(s => s.Find(1))!.SetAside.ShouldBeFalse();
        var left = await app.GetAsync("/set-aside");
        foreach (var row in new[] { "\"entry/", "\"rig/", "\"trip/", "\"run/" }) left.ShouldNotContain("data-row=" + row);
        await WalkAsync("what is mended");
        (await app.PostAsync("/set-aside", "/set-aside?handler=Withdraw", ("kind", "entry"), ("key", other))).Status.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task A_rig_of_which_nothing_can_be_read_leads_to_the_page_that_says_so()
    {
        Sql("UPDATE Rigs SET Json = 'x'");
        Sql("UPDATE RigRevisions SET Json = 'x'");
        await WalkAsync("nothing of the rig");
        (await app.GetAsync("/")).ShouldContain("data-row=\"rig/1\"");
        var rig = System.Text.Encoding.UTF8.GetString(Tanksophos.Core.Formats.RigCodec.Write(Tanksophos.Core.Simulation.DemoSeason.Rig));
        (await app.PostAsync("/set-aside", "/set-aside?handler=Correct", ("kind", "rig"), ("key", "1"), ("raw", rig))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/")).ShouldContain("Lantern Hollow");
    }

    [Fact]
    public void Nothing_reaches_the_database_that_could_not_be_read_again()
    {
        var at = App.Start.WithOffset(Offset.Zero);
        LogEntry[] bad =
        [
            new DumpEntry { At = at, Tank = "black", Minutes = 1800 }, new DumpEntry { At = at, Tank = "black", Minutes = double.NaN },
                new WaterEntry { At = at, Tank = "black", WaterL = 120_000, Purpose = WaterPurpose.TopUp },
            new FlushEntry { At = at, Tank = "black", Method = FlushMethod.BuiltIn, Cycles = [new FlushCycle(100_000, null, null, null)] },
                new PeopleEntry { At = at, Count = -3 }, new StayEntry { At = at, Hookup = Hookup.Full, Place = new string('x', 5000) },
            new PeopleEntry { At = at, Count = 2, Note = "a\0b" }, new PeopleEntry { At = at, Count = 2, Id = new string('i', 200) },
                new ReadingEntry { At = at, Tank = "black", Via = ReadingVia.Sight, Fraction = 7 },
        ];
        var before = app.With(s => s.Log.Version(1));
        foreach (var entry in bad)
            Should.Throw<NotStorableException>(() => app.With(s => s.Writer.Record(1, [entry], "test")), entry.ToString()).Problems.ShouldNotBeEmpty();
        app.With(s => s.Log.Version(1)).ShouldBe(before);
        Should.Throw<NotStorableException>(() => app.With(s => s.Change(1, s.Find(1)!.Revision, r => r with { Name = "" })));
        using var scope = app.Services.CreateScope();
        var trips = scope.ServiceProvider.GetRequiredService<TripStore>();
        Should.Throw<NotStorableException>(() => trips.Change(1, 1, null, t => t with { Name = new string('x', 500) }, "test"));
        trips.Find(1, 1)!.Revision.ShouldBe(1);
    }
}
