using System.Net;
using Microsoft.Data.Sqlite;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Hosting;

namespace Tanksophos.Web.Tests;

public sealed class KeepingTests : IDisposable
{
    private readonly App app = App.Demo(own: true);
    private readonly string elsewhere = Directory.CreateTempSubdirectory("tanksophos-elsewhere").FullName;

    public void Dispose()
    {
        app.Dispose();
        Directory.Delete(elsewhere, recursive: true);
    }

    private string InElsewhere(string name) => Path.Combine(elsewhere, name);

    private static object? Ask(string file, string sql)
    {
        using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        return command.ExecuteScalar();
    }

    private async Task<byte[]> BackupAsync()
    {
        using var response = await app.SendAsync("/keeping", "/keeping?handler=Now");
        response.Content.Headers.ContentDisposition!.FileName!.ShouldEndWith(".db");
        return await response.Content.ReadAsByteArrayAsync();
    }

    private async Task<(HttpStatusCode Status, string Html)> RestoreAsync(byte[]? file, string word = "restore", string kept = "")
    {
        using var content = new MultipartFormDataContent { { new StringContent(await app.TokenAsync("/keeping")), "__RequestVerificationToken" },
            { new StringContent(word), "word" }, { new StringContent(kept), "kept" } };
        if (file is not null) content.Add(new ByteArrayContent(file), "file", "backup.db");
        using var response = await app.Client.PostAsync(new Uri("/keeping/restore", UriKind.Relative), content);
        return (response.StatusCode, WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync()));
    }

    [Fact]
    public async Task A_backup_is_a_whole_database_and_brings_back_what_was_changed_since()
    {
        await app.PostAsync("/", "/?handler=People", ("id", "before"), ("count", "3"));
        var backup = await BackupAsync();
        await app.PostAsync("/", "/?handler=People", ("id", "after"), ("count", "4"));
        (await app.GetAsync("/")).ShouldContain("4 people");

        var (_, html) = await RestoreAsync(backup);
        html.ShouldContain("before-restore-");
        (await app.GetAsync("/")).ShouldContain("3 people");
        app.With(s => (s.Log.Entry(1, "before") is not null, s.Log.Entry(1, "after") is not null)).ShouldBe((true, false));

        // And back again, from what was kept aside.
        var aside = Path.GetFileName(Directory.EnumerateFiles(Path.Combine(app.Folder, "backups"), "before-restore-*").Single());
        (await RestoreAsync(null, kept: aside)).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/")).ShouldContain("4 people");
        using var download = await app.Client.GetAsync(new Uri($"/keeping?handler=File&name={aside}", UriKind.Relative));
        (await download.Content.ReadAsByteArrayAsync()).AsSpan(0, 15).SequenceEqual("SQLite format 3"u8).ShouldBeTrue();
    }

    [Fact]
    public async Task What_is_no_good_backup_is_refused_and_nothing_changes()
    {
        var good = await BackupAsync();
        var before = app.With(s => s.Log.Version(1));
        byte[] Changed(string sql)
        {
            var path = InElsewhere($"{Guid.NewGuid():N}.db");
            File.WriteAllBytes(path, good);
            Ask(path, sql);
            return File.ReadAllBytes(path);
        }
        async Task Refused(byte[]? file, string words, string word = "restore", string kept = "")
        {
            var (status, html) = await RestoreAsync(file, word, kept);
            status.ShouldBe(HttpStatusCode.BadRequest, words);
            html.ShouldContain(words);
        }
        var torn = good.ToArray();
        Array.Clear(torn, torn.Length / 2, torn.Length / 3);

        await Refused(good, "Type restore", word: "yes");
        await Refused(null, "Choose a backup file");
        await Refused(null, "no longer here", kept: "../tanksophos.db");
        await Refused("not a database"u8.ToArray(), "It is no backup of this program");
        await Refused(good[..(good.Length / 2)], "damaged");
        await Refused(torn, "damaged");
        await Refused(Changed("DROP TABLE Photos"), "damaged");
        await Refused(Changed("UPDATE Rigs SET Json = '{}'"), "can't be read");
        await Refused(Changed("UPDATE Entries SET Json = 'x' WHERE Id = 3"), "can't be read");
        await Refused(Changed("INSERT INTO __EFMigrationsHistory VALUES ('29990101000000_Later', '1')"), "newer version");
        await Refused(Changed("CREATE TRIGGER t AFTER INSERT ON Rigs BEGIN DELETE FROM Entries; END"), "triggers");

        app.With(s => s.Log.Version(1)).ShouldBe(before);
        Directory.EnumerateFiles(Path.Combine(app.Folder, "staging")).ShouldBeEmpty();
    }

    [Fact]
    public void A_day_has_one_backup_and_fourteen_are_kept()
    {
        var keeping = new SafeKeeping(new DataFolder(app.Folder));
        var day = new LocalDate(2026, 3, 1);
        for (var i = 0; i < 17; i++)
        {
            keeping.WriteDaily(day.PlusDays(i)).ShouldBeTrue();
            File.SetLastWriteTimeUtc(Path.Combine(app.Folder, "backups", $"daily-{day.PlusDays(i):uuuu-MM-dd}.db"), new DateTime(2026, 3, 1).AddDays(i));
        }
        keeping.WriteDaily(day.PlusDays(16)).ShouldBeFalse();
        keeping.WriteDaily(day.PlusDays(17)).ShouldBeTrue();
        keeping.Backups().Count(b => b.Daily).ShouldBe(SafeKeeping.DailyKept);
        keeping.Find("daily-2026-03-01.db").ShouldBeNull();
        keeping.Find("daily-2026-03-18.db").ShouldNotBeNull();
    }

    [Fact]
    public void The_commands_back_up_while_the_program_runs_and_restore_only_when_it_does_not()
    {
        var (said, errors) = (new StringWriter(), new StringWriter());
        var file = new FileInfo(InElsewhere("copy.db"));
        KeepingCommands.Backup(app.Folder, file, said, errors).ShouldBe(0);
        KeepingCommands.Backup(app.Folder, new FileInfo(file.FullName), said, errors).ShouldBe(2);
        errors.ToString().ShouldContain("there is a file 'copy.db' already");
        KeepingCommands.Restore(app.Folder, new FileInfo(file.FullName), false, said, errors).ShouldBe(2);
        errors.ToString().ShouldContain("is running on this folder");

        var other = InElsewhere("data");
        KeepingCommands.Restore(other, new FileInfo(InElsewhere("copy.db")), false, said, errors).ShouldBe(0, errors.ToString());
        Ask(Path.Combine(other, "tanksophos.db"), "SELECT Name FROM Rigs").ShouldBe("Old Biscuit");
        File.WriteAllText(InElsewhere("bad.db"), "no");
        KeepingCommands.Restore(other, new FileInfo(InElsewhere("bad.db")), false, said, errors).ShouldBe(1);
        KeepingCommands.Restore(other, new FileInfo(InElsewhere("none.db")), false, said, errors).ShouldBe(2);
    }

    [Fact]
    public async Task A_rig_goes_only_after_its_export_and_its_name_and_a_backup_remembers_it()
    {
        (await app.GetAsync("/rigs")).ShouldNotShow("form[action*=Delete]");
        (await app.PostAsync("/rigs", "/rigs?handler=Delete", ("id", "1"), ("name", "Old Biscuit"))).Html.ShouldShow("[data-problem]");
        await app.Client.GetByteArrayAsync(new Uri("/export/everything", UriKind.Relative));
        (await app.PostAsync("/rigs", "/rigs?handler=Delete", ("id", "1"), ("name", "old biscuit"))).Html.ShouldShow("[data-problem]");
        await app.PostAsync("/", "/?handler=People", ("id", "since"), ("count", "3"));
        (await app.PostAsync("/rigs", "/rigs?handler=Delete", ("id", "1"), ("name", "Old Biscuit"))).Html.ShouldShow("[data-problem]");
        await app.Client.GetByteArrayAsync(new Uri("/export/everything", UriKind.Relative));

        (await app.PostAsync("/rigs", "/rigs?handler=Delete", ("id", "1"), ("name", "Old Biscuit"))).Html.ShouldShow("[data-logged]");
        app.With(s => s.Rigs().Count).ShouldBe(0);
        Ask(Path.Combine(app.Folder, "tanksophos.db"), "SELECT count(*) FROM Entries").ShouldBe(0L);
        Ask(Directory.EnumerateFiles(Path.Combine(app.Folder, "backups"), "before-delete-*").Single(), "SELECT Name FROM Rigs").ShouldBe("Old Biscuit");
        (await app.GetAsync("/")).ShouldShow("main[data-page='/Start/Index']");
    }

    [Fact]
    public async Task A_rig_put_away_keeps_everything_and_comes_back()
    {
        (await app.PostAsync("/rigs", "/rigs?handler=Archive", ("id", "1"), ("away", "yes"))).Html.ShouldShow("[data-logged]");
        (await app.GetAsync("/")).ShouldShow("main[data-page='/Start/Index']");
        (await app.GetAsync("/export/logbook?rig=1")).ShouldContain("Old Biscuit");
        (await app.PostAsync("/rigs", "/rigs?handler=Archive", ("id", "1"), ("away", "no"))).Html.ShouldShow("[data-logged]");
        (await app.GetAsync("/")).ShouldContain("Lantern Hollow");
        app.With(s => s.Log.All(1)).OfType<DumpEntry>().ShouldNotBeEmpty();
    }
}
