using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;
using NodaTime.Testing;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests.Data;

public sealed class RigStoreTests : IDisposable
{
    private static readonly OffsetDateTime At = new LocalDateTime(2026, 5, 1, 8, 0).WithOffset(Offset.FromHours(-6));

    private readonly FakeClock clock = new(Instant.FromUtc(2026, 5, 2, 0, 0));
    private readonly DataFolder folder = new(Directory.CreateTempSubdirectory("tanksophos-store").FullName);
    private readonly TanksophosContext context;
    private readonly RigStore store;
    private readonly int rig;

    public RigStoreTests()
    {
        folder.Migrate();
        context = folder.Open();
        store = new RigStore(context, clock);
        rig = store.Add(DemoSeason.Rig);
    }

    public void Dispose()
    {
        context.Dispose();
        new DataFolder(Path.GetDirectoryName(folder.Database)!).ForgetConnections();
        Directory.Delete(folder.Root, recursive: true);
    }

    [Fact]
    public void A_season_comes_back_as_it_was_written()
    {
        var season = DemoSeason.Until(Instant.FromUtc(2026, 5, 1, 0, 0));
        var stocked = store.Add(season.Rig);
        store.Writer.Record(stocked, season.Entries, "test");

        var back = new Logbook(store.Find(stocked)!.Rig, store.Log.All(stocked));
        LogbookFormat.Write(back).ShouldBe(LogbookFormat.Write(season));
    }

    [Fact]
    public void Entries_of_one_moment_keep_their_order_even_through_undo_and_restore()
    {
        store.Writer.Record(rig, [.. Enumerable.Range(1, 5).Select(n => new PeopleEntry { Id = $"p{n}", At = At, Count = n })], "test");
        store.Writer.Withdraw(rig, "p2", true, "test");
        store.Writer.Withdraw(rig, "p2", false, "test");

        store.Log.All(rig).Cast<PeopleEntry>().Select(p => p.Count).ShouldBe([1, 2, 3, 4, 5]);
    }

    [Fact]
    public void A_withdrawal_is_a_revision_and_nothing_is_overwritten()
    {
        store.Writer.Record(rig, [new PeopleEntry { Id = "p", At = At, Count = 2 }], "ines");
        clock.AdvanceHours(1);
        store.Writer.Withdraw(rig, "p", true, "tobe").ShouldNotBeNull();
        store.Writer.Withdraw(rig, "p", true, "tobe").ShouldNotBeNull(); // already done: no further revision

        store.Log.All(rig).ShouldBeEmpty();
        var rows = store.Log.History(rig, "p").Reverse().ToList();
        rows.Select(r => (r.Revision, r.Withdrawn, r.Who)).ShouldBe([(1, false, "ines"), (2, true, "tobe")]);
        rows[1].RecordedAt.ShouldBe(rows[0].RecordedAt + Duration.FromHours(1));
        store.Log.Page(rig, 0, 10).Entries.ShouldHaveSingleItem().Withdrawn.ShouldBeTrue();
        store.Writer.Withdraw(rig, "other", true, "tobe").ShouldBeNull();
        store.Writer.Withdraw(rig + 1, "p", false, "tobe").ShouldBeNull();
    }

    [Fact]
    public void Recording_is_all_or_nothing()
    {
        store.Writer.Record(rig, [new PeopleEntry { Id = "p", At = At, Count = 2 }], "test");

        Should.Throw<EntryConflictException>(() =>
            store.Writer.Record(rig, [new PeopleEntry { Id = "q", At = At, Count = 1 }, new PeopleEntry { Id = "p", At = At, Count = 3 }], "test"))
            .Conflicts.ShouldHaveSingleItem().Path.ShouldBe("p");
        store.Log.All(rig).ShouldHaveSingleItem().Id.ShouldBe("p");
    }

    [Fact]
    public void Alike_entries_without_ids_in_one_file_are_different_entries_but_the_file_again_is_not()
    {
        LogEntry[] twice = [new PeopleEntry { At = At, Count = 2 }, new PeopleEntry { At = At, Count = 2 }];

        store.Writer.Record(rig, twice, "test").New.Count.ShouldBe(2);
        store.Writer.Record(rig, twice, "test").New.ShouldBeEmpty();
        store.Writer.Record(rig, [.. twice, twice[0]], "test").New.ShouldHaveSingleItem();
        store.Log.All(rig).Count.ShouldBe(3);
        store.Log.All(rig).ShouldAllBe(e => e.Id == null);
    }

    [Fact]
    public void Every_change_of_the_log_changes_its_version()
    {
        List<long> versions = [store.Log.Version(rig)];
        store.Writer.Record(rig, [new PeopleEntry { Id = "p", At = At, Count = 2 }], "test");
        versions.Add(store.Log.Version(rig));
        store.Writer.Withdraw(rig, "p", true, "test");
        versions.Add(store.Log.Version(rig));
        store.Writer.Withdraw(rig, "p", false, "test");
        versions.Add(store.Log.Version(rig));

        versions.ShouldBeUnique();
        versions.ShouldBeInOrder();
    }

    [Fact]
    public void The_database_writes_ahead_and_acknowledges_only_what_is_on_the_disk()
    {
        context.Database.OpenConnection();
        string Pragma(string name)
        {
            using var command = context.Database.GetDbConnection().CreateCommand();
            command.CommandText = "PRAGMA " + name;
            return command.ExecuteScalar()!.ToString()!;
        }
        Pragma("journal_mode").ShouldBe("wal");
        Pragma("synchronous").ShouldBe("2");
        Pragma("foreign_keys").ShouldBe("1");
    }

    [Fact]
    public void The_model_and_the_migrations_agree()
    {
        context.Database.HasPendingModelChanges().ShouldBeFalse();
        context.Database.GetPendingMigrations().ShouldBeEmpty();
    }

    [Fact]
    public void A_database_of_the_first_version_is_brought_up_without_losing_anything()
    {
        var old = new DataFolder(Path.Combine(folder.Root, "old"));
        using (var before = old.Open())
        {
            before.GetService<IMigrator>().Migrate("FirstSlice");
            var json = System.Text.Encoding.UTF8.GetString(RigCodec.Write(DemoSeason.Rig));
            before.Database.ExecuteSql($"INSERT INTO Rigs (Name, Json, CreatedAt) VALUES ('Old Biscuit', {json}, 17000000000000000)");
            before.Database.ExecuteSql($$"""INSERT INTO Entries (RigId, Key, Revision, IsCurrent, Withdrawn, At, OffsetSeconds, Sequence, Type, Json, RecordedAt, Who) VALUES (1, 'p', 1, 1, 0, 17000000000000000, 0, 1, 'people', '{"at":"2023-11-14T22:13:20+00:00","type":"people","count":3}', 17000000000000000, 'ines')""");
        }

        old.Migrate();

        using var now = old.Open();
        var upgraded = new RigStore(now, clock);
        upgraded.Find(1)!.Revision.ShouldBe(1);
        upgraded.Find(1)!.Rig.Tanks.Count.ShouldBe(3);
        upgraded.Log.All(1).ShouldHaveSingleItem().ShouldBeOfType<PeopleEntry>().Count.ShouldBe(3);
        upgraded.Change(1, 1, r => r with { Name = "Older Biscuit" }).ShouldBeTrue();
        upgraded.Change(1, 1, r => r with { Name = "Newer Biscuit" }).ShouldBeFalse();
        upgraded.Find(1)!.Rig.Name.ShouldBe("Older Biscuit");
    }

    [Fact]
    public async Task Two_writers_at_once_lose_nothing()
    {
        await Task.WhenAll(Enumerable.Range(0, 4).Select(w => Task.Run(() =>
        {
            for (var i = 0; i < 10; i++)
            {
                using var own = folder.Open();
                new RigStore(own, clock).Writer.Record(rig, [new PeopleEntry { Id = $"w{w}-{i}", At = At, Count = i }], "test");
            }
        })));
        store.Log.All(rig).Count.ShouldBe(40);
    }
}
