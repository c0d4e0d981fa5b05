using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Hosting;

/// <summary>The command <c>import</c>.</summary>
internal static class ImportCommand
{
    public static int Run(string? data, FileInfo file, string? rigName, TextWriter output, TextWriter errors)
    {
        if (!file.Exists)
        {
            errors.WriteLine($"file: there is no file '{file.Name}'.");
            return 2;
        }
        if (file.Length > Uploads.MaxBytes)
        {
            errors.WriteLine($"file: at most {Uploads.Limit} are accepted.");
            return 2;
        }
        DataFolder folder;
        try
        {
            folder = new DataFolder(data ?? Server.UsualDataFolder);
            folder.Migrate(SystemClock.Instance.GetCurrentInstant());
        }
        catch (UnusableDatabaseException e)
        {
            errors.WriteLine(e.Message);
            return 2;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or Microsoft.Data.Sqlite.SqliteException)
        {
            errors.WriteLine($"--data: the folder cannot be used: {e.Message}");
            return 2;
        }
        using var context = folder.Open();
        var store = new RigStore(context, SystemClock.Instance);
        var rigs = store.Rigs();
        StoredRig? chosen = null;
        if (rigName is not null)
        {
            chosen = rigs.FirstOrDefault(r => r.Rig.Name == rigName);
            if (chosen is null)
            {
                errors.WriteLine($"--rig: there is no rig '{rigName}'; there {(rigs.Count == 1 ? "is" : "are")}: "
                    + $"{string.Join(", ", rigs.Select(r => r.Rig.Name))}.");
                return 2;
            }
        }
        var content = File.ReadAllBytes(file.FullName);
        var looksLikeTable = content.AsSpan().TrimStart("\uFEFF \t\r\n"u8) is not [(byte)'{', ..];
        if (chosen is null && looksLikeTable && rigs.Count == 1) chosen = rigs[0];
        var importing = new Importing(store, SystemClock.Instance);
        var preview = importing.Preview(content, chosen, name => rigs.FirstOrDefault(r => r.Rig.Name == name));
        foreach (var warning in preview.Warnings) errors.WriteLine($"warning: {warning}");
        if (!preview.Ok)
        {
            foreach (var error in preview.Errors) errors.WriteLine($"error: {error}");
            errors.WriteLine("Nothing was saved.");
            return 1;
        }
        importing.Apply(preview, "command line", context.Users.Where(p => p.IsKeeper).OrderBy(p => p.Id).Select(p => (int?)p.Id).FirstOrDefault());
        var said = ImportSays.Added(preview.NewRig?.Name, SharedSays.EntriesOf(preview.Plan.New.Count), preview.Plan.AlreadyThere);
        output.WriteLine(preview.Target is { } target ? $"{target.Rig.Name}: {said}" : said);
        return 0;
    }
}
