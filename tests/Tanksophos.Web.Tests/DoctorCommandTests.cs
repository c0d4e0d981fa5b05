using NodaTime;
using Tanksophos.Web.Hosting;

namespace Tanksophos.Web.Tests;

/// <summary>The doctor looks over a data folder and changes nothing.</summary>
public class DoctorCommandTests
{
    private static (int Code, string Out, string Errors) Run(string folder, IClock clock)
    {
        using var output = new StringWriter();
        using var errors = new StringWriter();
        return (DoctorCommand.Run(folder, clock, output, errors), output.ToString(), errors.ToString());
    }

    [Fact]
    public void A_sound_folder_a_damaged_database_and_none_are_told_apart()
    {
        using var app = App.Demo(own: true);
        var (code, said, _) = Run(app.Folder, app.Clock);
        said.ShouldContain("ok    database");
        said.ShouldContain("ok    entries");
        said.ShouldContain("look  backups");
        code.ShouldBe(1, "no backup was written yet");

        var copy = Directory.CreateTempSubdirectory("tanksophos-doctor").FullName;
        try
        {
            Run(copy, app.Clock).ShouldSatisfyAllConditions(r => r.Code.ShouldBe(2), r => r.Errors.ShouldStartWith("--data"));
            Directory.EnumerateFileSystemEntries(copy).ShouldBeEmpty("looking makes nothing");
            File.WriteAllBytes(Path.Combine(copy, "tanksophos.db"), [.. Enumerable.Range(0, 9000).Select(i => (byte)i)]);
            Run(copy, app.Clock).ShouldSatisfyAllConditions(r => r.Code.ShouldBe(1), r => r.Out.ShouldContain("look  database"));
        }
        finally
        {
            Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
            Directory.Delete(copy, recursive: true);
        }
    }
}
