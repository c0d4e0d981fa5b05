using System.Globalization;
using System.Net;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using Tanksophos.Data;
using Tanksophos.Web.Hosting;

namespace Tanksophos.Web.Tests.Hostile;

/// <summary>Databases of earlier versions, of later ones, damaged ones, and what lies around them.</summary>
public sealed class OldDatabaseTests : IDisposable
{
    private readonly string elsewhere = Directory.CreateTempSubdirectory("tanksophos-old").FullName;

    public void Dispose()
    {
        Directory.Delete(elsewhere, recursive: true);
    }

    private string InElsewhere(string name) => Path.Combine(elsewhere, name);

    public static TheoryData<string> Schemas => [.. Directory.EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "Data", "backups"), "*.db")
        .Select(f => Path.GetFileName(f)!).OrderBy(f => int.Parse(f.Split('-')[0], CultureInfo.InvariantCulture))];

    private static string Backup(string name) => Path.Combine(AppContext.BaseDirectory, "Data", "backups", name);

    private static object? Ask(string file, string sql)
    {
        using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        return command.ExecuteScalar();
    }

    [Fact]
    public void There_is_a_backup_of_every_earlier_schema() =>
        Schemas.Select(s => ((string)s).Split('-')[1].Replace(".db", "", StringComparison.Ordinal))
            .ShouldBe(DataFolder.Migrations.SkipLast(1).Select(m => m.Split('_')[1]));

    [Theory]
    [MemberData(nameof(Schemas))]
    public void A_backup_of_an_earlier_schema_is_restored_by_command_with_all_it_holds(string schema)
    {
        var (said, errors) = (new StringWriter(), new StringWriter());
        var data = InElsewhere("data");
        KeepingCommands.Restore(data, new FileInfo(Backup(schema)), false, said, errors).ShouldBe(0, errors.ToString());
        var database = Path.Combine(data, "tanksophos.db");
        foreach (var table in new[] { "Rigs", "Entries", "Photos", "People", "Trips", "Runs", "Practice" })
            if ((long)Ask(Backup(schema), $"SELECT count(*) FROM sqlite_master WHERE name = '{table}'")! > 0)
                Ask(database, $"SELECT count(*) FROM {table}").ShouldBe(Ask(Backup(schema), $"SELECT count(*) FROM {table}"), table);
        using var context = new DataFolder(data).Open();
        new RigStore(context, NodaTime.SystemClock.Instance).Log.All(1).Count.ShouldBe((int)(long)Ask(Backup(schema), "SELECT count(*) FROM Entries")!);
        new SetAsideStore(context, NodaTime.SystemClock.Instance).Of(1).ShouldBeEmpty();
    }

    [Theory]
    [MemberData(nameof(Schemas))]
    public async Task A_backup_of_an_earlier_schema_is_restored_by_the_page_and_somebody_can_sign_in(string schema)
    {
        using var app = new App(own: true);
        using (var content = new MultipartFormDataContent { { new StringContent(await app.TokenAsync("/keeping")), "__RequestVerificationToken" },
            { new StringContent("restore"), "word" }, { new ByteArrayContent(File.ReadAllBytes(Backup(schema))), "file", "old.db" } })
        using (var response = await app.Client.PostAsync(new Uri("/keeping/restore", UriKind.Relative), content))
            response.StatusCode.ShouldBe(HttpStatusCode.OK, await response.Content.ReadAsStringAsync());
        await app.PostAsync("/sign-in", "/sign-in", ("name", App.Owner), ("passphrase", App.Passphrase));
        var page = await app.GetAsync("/logbook");
        page.ShouldContain("<h1>Logbook</h1>");
        if ((long)Ask(Backup(schema), "SELECT count(*) FROM sqlite_master WHERE name = 'Photos'")! > 0)
            (await app.Client.GetAsync(new Uri("/photos/1?rig=1", UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.OK);
        Directory.EnumerateFiles(Path.Combine(app.Folder, "staging")).ShouldBeEmpty();
    }

    [Fact]
    public async Task A_backup_beyond_what_a_form_may_hold_comes_back_through_the_page_with_every_photo_that_is_one()
    {
        using var app = App.Demo(own: true);
        const int Photos = 7;
        using (var scope = app.Services.CreateScope())
        {
            var photos = scope.ServiceProvider.GetRequiredService<PhotoStore>();
            var key = app.With(s => s.Log.Page(1, 0, 1)).Entries[0].Key;
            for (var n = 1; n <= Photos; n++) photos.Add(1, key, PhotoFile.Check(Pictures.Png(2400, n), out _)!, "Demo").ShouldNotBeNull();
        }
        byte[] handed;
        using (var content = new FormUrlEncodedContent([new("__RequestVerificationToken", await app.TokenAsync("/keeping"))]))
        using (var response = await app.Client.PostAsync(new Uri("/keeping?handler=Now", UriKind.Relative), content))
            handed = await response.Content.ReadAsByteArrayAsync();
        handed.Length.ShouldBeGreaterThan(33 << 20, "larger than what any other form takes");
        var file = InElsewhere("large.db");
        await File.WriteAllBytesAsync(file, handed);
        Ask(file, "UPDATE Photos SET Bytes = x'00010203' WHERE Id = 3");
        using (var scope = app.Services.CreateScope()) scope.ServiceProvider.GetRequiredService<PhotoStore>().Remove(1, 1, true);

        async Task<HttpStatusCode> RestoreAsync(string setAside)
        {
            using var content = new MultipartFormDataContent { { new StringContent(await app.TokenAsync("/keeping")), "__RequestVerificationToken" },
                { new StringContent("restore"), "word" }, { new StringContent(setAside), "setAside" },
                { new StreamContent(File.OpenRead(file)), "file", "large.db" } };
            using var response = await app.Client.PostAsync(new Uri("/keeping/restore", UriKind.Relative), content);
            return response.StatusCode;
        }
        async Task<HttpStatusCode> PhotoAsync(int id)
        {
            using var response = await app.Client.GetAsync(new Uri($"/photos/{id}?rig=1", UriKind.Relative));
            return response.StatusCode;
        }
        (await RestoreAsync("")).ShouldBe(HttpStatusCode.BadRequest, "a photo is damaged, and nobody said to go on without it");
        (await PhotoAsync(1)).ShouldBe(HttpStatusCode.NotFound);
        (await RestoreAsync("yes")).ShouldBe(HttpStatusCode.OK);
        for (var id = 1; id <= Photos; id++) (await PhotoAsync(id)).ShouldBe(id == 3 ? HttpStatusCode.NotFound : HttpStatusCode.OK, $"photo {id}");
        (await app.GetAsync("/logbook")).ShouldNotContain("/photos/3");
    }

    [Theory]
    [MemberData(nameof(Schemas))]
    public async Task A_database_of_an_earlier_schema_is_used_as_it_is_and_a_copy_of_it_is_kept(string schema)
    {
        var data = Directory.CreateDirectory(InElsewhere("used")).FullName;
        File.Copy(Backup(schema), Path.Combine(data, "tanksophos.db"));
        using var app = new App(signedIn: false, folder: data);
        using var first = await app.Client.GetAsync(new Uri("/", UriKind.Relative));
        first.StatusCode.ShouldBe(HttpStatusCode.OK);
        app.With(s => s.Log.All(1).Count).ShouldBe((int)(long)Ask(Backup(schema), "SELECT count(*) FROM Entries")!);
        Directory.EnumerateFiles(Path.Combine(data, "backups"), "before-upgrade-*").ShouldHaveSingleItem();
        app.Keep = true;
    }

    [Fact]
    public void A_database_of_a_later_version_is_refused_with_what_to_do_and_left_alone()
    {
        var folder = new DataFolder(InElsewhere("later"));
        folder.Migrate();
        Ask(folder.Database, "INSERT INTO __EFMigrationsHistory VALUES ('29990101000000_Later', '1')");
        new SafeKeeping(folder).Write(Path.Combine(folder.Backups, "daily-2026-01-01.db"));
        var said = Should.Throw<UnusableDatabaseException>(() => folder.Migrate()).Message;
        said.ShouldContain("later version");
        said.ShouldContain(folder.Backups);
        said.ShouldContain("tanksophos-web restore");
        said.ShouldContain("daily-2026-01-01.db");
    }

    [Fact]
    public async Task A_damaged_database_is_refused_at_the_start_with_the_way_back()
    {
        var data = Directory.CreateDirectory(InElsewhere("damaged")).FullName;
        await File.WriteAllBytesAsync(Path.Combine(data, "tanksophos.db"), [.. "SQLite format 3\0"u8, .. new byte[5000]]);
        var said = Should.Throw<UnusableDatabaseException>(() => new DataFolder(data).Migrate()).Message;
        said.ShouldContain("damaged");
        said.ShouldContain("tanksophos-web restore");
        await File.WriteAllTextAsync(Path.Combine(data, "tanksophos.db"),
            "this is a letter, not a database, and it is long enough to be looked at as one. " + new string('x', 4096));
        Should.Throw<UnusableDatabaseException>(() => new DataFolder(data).Migrate());
        var errors = new StringWriter();
        var before = Console.Error;
        Console.SetError(errors);
        try
        {
            (await Server.RunAsync(new Server.Wishes([], data, 0, false, null, false, false, null, null), CancellationToken.None)).ShouldBe(4);
        }
        finally
        {
            Console.SetError(before);
        }
        errors.ToString().ShouldContain("tanksophos-web restore");
        errors.ToString().ShouldNotContain("   at ");
    }

    [Fact]
    public void Files_are_for_their_owner_alone_also_in_a_folder_of_before_and_leftovers_are_cleared_away()
    {
        if (OperatingSystem.IsWindows()) return;
        const UnixFileMode Open = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.GroupRead | UnixFileMode.OtherRead;
        const UnixFileMode Own = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        var data = Directory.CreateDirectory(InElsewhere("open")).FullName;
        File.SetUnixFileMode(data, Open | UnixFileMode.UserExecute | UnixFileMode.OtherExecute);
        Directory.CreateDirectory(Path.Combine(data, "backups"));
        Directory.CreateDirectory(Path.Combine(data, "staging"));
        File.Copy(Backup("6-Runs.db"), Path.Combine(data, "tanksophos.db"));
        foreach (var name in new[] { "tanksophos.db", "backups/daily-2026-01-01.db", "backups/daily-2026-01-02.db.part", "staging/restore-x.db",
            "staging/a.upload", "https.pfx" })
        {
            var path = Path.Combine(data, name);
            if (!File.Exists(path)) File.WriteAllText(path, "x");
            File.SetUnixFileMode(path, Open);
        }
        var folder = new DataFolder(data);
        folder.IsOpenToOthers.ShouldBeTrue();
        folder.Tidy();
        folder.Migrate(NodaTime.Instant.FromUtc(2026, 6, 9, 0, 0));
        using (var context = folder.Open())
            new RigStore(context, NodaTime.SystemClock.Instance).Writer.Record(1,
            [new Tanksophos.Core.Log.PeopleEntry { At = App.Start.WithOffset(NodaTime.Offset.Zero), Count = 2 }], "test");
        new SafeKeeping(folder).Write(Path.Combine(folder.Backups, "by-hand.db"));
        using (folder.Hold()) { }
        Directory.EnumerateFiles(folder.Staging).ShouldBeEmpty();
        var files = Directory.EnumerateFiles(data, "*", SearchOption.AllDirectories).ToList();
        files.ShouldContain(f => f.EndsWith("by-hand.db", StringComparison.Ordinal));
        files.ShouldContain(f => f.Contains("before-upgrade", StringComparison.Ordinal));
        files.ShouldNotContain(f => f.EndsWith(".part", StringComparison.Ordinal));
        foreach (var file in files) File.GetUnixFileMode(file).ShouldBe(Own, file);
    }

    [Fact]
    public async Task A_restore_is_checked_whole_and_what_cannot_be_read_is_set_aside_only_on_request()
    {
        using var app = App.Demo(own: true);
        async Task<(HttpStatusCode, string)> RestoreAsync(byte[] file, bool setAside = false)
        {
            using var content = new MultipartFormDataContent { { new StringContent(await app.TokenAsync("/keeping")), "__RequestVerificationToken" },
                { new StringContent("restore"), "word" } };
            if (setAside) content.Add(new StringContent("yes"), "setAside");
            content.Add(new ByteArrayContent(file), "file", "backup.db");
            using var response = await app.Client.PostAsync(new Uri("/keeping/restore", UriKind.Relative), content);
            return (response.StatusCode, WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync()));
        }
        var path = InElsewhere("good.db");
        new SafeKeeping(new DataFolder(app.Folder)).Write(path);
        byte[] Changed(string sql)
        {
            var changed = InElsewhere($"{Guid.NewGuid():N}.db");
            File.Copy(path, changed);
            Ask(changed, sql);
            return File.ReadAllBytes(changed);
        }
        foreach (var sql in new[] { "DROP TABLE RunTaps", "DROP TABLE PlaceSetUps", "ALTER TABLE Trips DROP COLUMN Removed", "DROP TABLE SignIns" })
        {
            var (status, html) = await RestoreAsync(Changed(sql));
            status.ShouldBe(HttpStatusCode.BadRequest, sql);
            html.ShouldContain("damaged");
        }
        foreach (var sql in new[] { "UPDATE TripRevisions SET Json = '{}'",
            "INSERT INTO Runs (RigId, Word, Script, Place, Zone, StartedAt, Who, Finished) VALUES (1, 'w', '{}', '', 'UTC', 0, 'x', 0)",
            "UPDATE Entries SET Json = 'x' WHERE Id = 3" })
        {
            var (status, html) = await RestoreAsync(Changed(sql));
            status.ShouldBe(HttpStatusCode.BadRequest, sql);
            html.ShouldContain("name=\"setAside\"");
        }
        var (done, _) = await RestoreAsync(Changed("UPDATE Entries SET Json = 'x' WHERE Id = 3"), setAside: true);
        done.ShouldBe(HttpStatusCode.OK);
        await app.PostAsync("/sign-in", "/sign-in?handler=Demo");
        (await app.GetAsync("/set-aside")).ShouldContain("data-row=\"entry/");

        // A backup without accounts leaves those that are there.
        await RestoreAsync(Changed("DELETE FROM People"));
        await app.PostAsync("/sign-in", "/sign-in?handler=Demo");
        (await app.GetAsync("/keeping")).ShouldShow("main[data-page='/Keeping/Index']");
        (await app.GetAsync("/")).ShouldContain("Lantern Hollow");
        Directory.EnumerateFiles(Path.Combine(app.Folder, "staging")).ShouldBeEmpty();
    }
}
