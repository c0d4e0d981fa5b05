using Microsoft.AspNetCore.Identity;
using Microsoft.Data.Sqlite;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;

namespace Tanksophos.Web.Hosting;

/// <summary>The commands <c>backup</c>, <c>restore</c> and <c>passphrase</c>: for who sits at the machine itself.</summary>
internal static class KeepingCommands
{
    private const int Failed = 1, Misused = 2;

    public static int Backup(string? data, FileInfo file, TextWriter output, TextWriter errors)
    {
        if (file.Exists) return Say(errors, Misused, $"file: there is a file '{file.Name}' already; a new name is accepted.");
        if (Open(data, errors, migrate: false) is not { } folder) return Misused;
        if (!File.Exists(folder.Database)) return Say(errors, Misused, "--data: there is no database in this folder yet.");
        try
        {
            new SafeKeeping(folder).Write(file.FullName);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SqliteException)
        {
            return Say(errors, Failed, $"file: it cannot be written: {e.Message}");
        }
        output.WriteLine($"Written: {file.Name}");
        return 0;
    }

    public static int Restore(string? data, FileInfo file, bool setAside, TextWriter output, TextWriter errors)
    {
        if (!file.Exists) return Say(errors, Misused, $"file: there is no file '{file.Name}'.");
        if (Open(data, errors, migrate: false) is not { } folder) return Misused;
        using var held = folder.Hold();
        if (held is null) return Say(errors, Misused, "--data: Tanksophos is running on this folder. Stop it first, or restore on its Backups page.");
        try
        {
            folder.Tidy();
            var done = new SafeKeeping(folder).Restore(file.FullName, SystemClock.Instance.GetCurrentInstant(), setAside);
            output.WriteLine(done.Aside is null ? "Restored." : $"Restored. The previous database is kept as backups/{done.Aside}.");
            if (done.AccountsKept) output.WriteLine("The backup had no account to sign in with, so the present ones were kept.");
            foreach (var row in done.Unreadable) output.WriteLine($"Set aside, can't be read: {row}");
            return 0;
        }
        catch (NotABackupException e)
        {
            return Say(errors, Failed,
                $"{e.Message} Nothing was changed.{(e.Unreadable.Count > 0 ? " To restore it all the same, and set those rows aside, add --set-aside." : "")}");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SqliteException or UnusableDatabaseException)
        {
            return Say(errors, Failed, $"It cannot be restored: {e.Message} Nothing was changed.");
        }
    }

    public static async Task<int> PassphraseAsync(string? data, string name, bool dropCodes, TextReader input, TextWriter output, TextWriter errors)
    {
        if (Open(data, errors, migrate: true) is not { } folder) return Misused;
        var services = new ServiceCollection().AddLogging().AddSingleton(folder).AddScoped(_ => folder.Open());
        services.AddIdentityCore<Person>().AddEntityFrameworkStores<TanksophosContext>();
        await using var provider = services.BuildServiceProvider();
        using var scope = provider.CreateScope();
        var accounts = scope.ServiceProvider.GetRequiredService<UserManager<Person>>();
        if (await accounts.FindByNameAsync(name) is not { } person)
            return Say(errors, Misused,
                $"name: there is no account '{name}'; there {(accounts.Users.Count() == 1 ? "is" : "are")}: "
                + $"{string.Join(", ", accounts.Users.Select(u => u.UserName))}.");
        await output.WriteAsync($"New passphrase for {person.UserName}: ");
        var typed = Ask(input);
        if (SigningIn.PassphraseProblem(typed, typed) is { } problem) return Say(errors, Failed, problem);
        person.PasswordHash = accounts.PasswordHasher.HashPassword(person, typed!);
        if (dropCodes) person.TwoFactorEnabled = false;
        await accounts.UpdateSecurityStampAsync(person); // writes the passphrase too, and signs out everywhere
        await output.WriteLineAsync("\nThe passphrase is set.");
        if (person.TwoFactorEnabled)
            await output.WriteLineAsync("A code is still asked for at sign-in. If the phone and the recovery codes are lost: --drop-codes.");
        return 0;
    }

    // Typed at a keyboard it is not shown; from a pipe a line is read.
    private static string? Ask(TextReader input)
    {
        if (Console.IsInputRedirected || input != Console.In) return input.ReadLine();
        var typed = new System.Text.StringBuilder();
        for (var key = Console.ReadKey(intercept: true); key.Key != ConsoleKey.Enter; key = Console.ReadKey(intercept: true))
        {
            if (key.Key != ConsoleKey.Backspace) typed.Append(key.KeyChar);
            else if (typed.Length > 0) typed.Length--;
        }
        return typed.ToString();
    }

    private static DataFolder? Open(string? data, TextWriter errors, bool migrate)
    {
        try
        {
            var folder = new DataFolder(data ?? Server.UsualDataFolder);
            if (migrate) folder.Migrate(SystemClock.Instance.GetCurrentInstant());
            return folder;
        }
        catch (UnusableDatabaseException e)
        {
            errors.WriteLine(e.Message);
            return null;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SqliteException)
        {
            errors.WriteLine($"--data: the folder cannot be used: {e.Message}");
            return null;
        }
    }

    private static int Say(TextWriter writer, int code, string words)
    {
        writer.WriteLine(words);
        return code;
    }
}
