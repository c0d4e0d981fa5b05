using System.Collections.Concurrent;
using System.Security.Cryptography;
using NodaTime;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>An import that takes long enough to be watched.</summary>
/// <param name="PersonId">Whose it is.</param>
/// <param name="Total">How many entries it brings.</param>
/// <param name="Said">What is said when it is done.</param>
/// <param name="Begun">When it began.</param>
public sealed record ImportJob(int PersonId, int Total, string Said, Instant Begun)
{
    internal CancellationTokenSource Stopping { get; } = new();

    internal WritingWatch? Watch { get; set; }

    /// <summary>How much of it is written, 0 to 1; null once it has ended.</summary>
    public double? Share => Ended ? null : Math.Clamp((Watch?.Written ?? 0) / (double)Math.Max(1, Total), 0, 1);

    /// <summary>Whether it has ended, whichever way.</summary>
    public bool Ended { get; internal set; }

    /// <summary>The rig that it went to; null if it did not.</summary>
    public int? RigId { get; internal set; }

    /// <summary>Why nothing was saved; null if it was, or it still runs.</summary>
    public string? Problem { get; internal set; }

    /// <summary>Whether somebody stopped it; nothing was saved then.</summary>
    public bool Stopped { get; internal set; }
}

/// <summary>Imports that run beside the request that began them, in one transaction each: stopped, nothing of them stays.</summary>
public sealed partial class ImportJobs(IServiceScopeFactory scopes, AfterPrograms after, IClock clock, IHostApplicationLifetime life, ILogger<ImportJobs> log)
{
    /// <summary>From so many entries on an import is watched.</summary>
    public const int Many = 5000;

    private static readonly Duration Remembered = Duration.FromMinutes(30);

    private readonly ConcurrentDictionary<string, ImportJob> jobs = new(StringComparer.Ordinal);

    /// <summary>Begins an import.</summary>
    /// <returns>The word by which its person finds it again.</returns>
    public string Begin(ImportPreview preview, string who, int person, string said)
    {
        ArgumentNullException.ThrowIfNull(preview);
        var now = clock.GetCurrentInstant();
        foreach (var (old, job) in jobs) if (job.Ended && now - job.Begun > Remembered) jobs.TryRemove(old, out _);
        var word = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(12));
        var begun = jobs[word] = new ImportJob(person, preview.Plan.New.Count, said, now);
        _ = Task.Run(() => Work(begun, preview, who));
        return word;
    }

    /// <summary>A person's import; null if there is none of that word.</summary>
    public ImportJob? Find(string? word, int person) => word is not null && jobs.TryGetValue(word, out var job) && job.PersonId == person ? job : null;

    /// <summary>Stops an import; what it wrote until then is taken back.</summary>
    public static void Stop(ImportJob job)
    {
        ArgumentNullException.ThrowIfNull(job);
        job.Stopping.Cancel();
    }

    private void Work(ImportJob job, ImportPreview preview, string who)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(job.Stopping.Token, life.ApplicationStopping);
        try
        {
            using var scope = scopes.CreateScope();
            job.Watch = new WritingWatch(stop.Token);
            job.RigId = scope.ServiceProvider.GetRequiredService<Importing>().Apply(preview, who, job.PersonId, job.Watch);
            after.Written(job.RigId.Value);
        }
        catch (OperationCanceledException)
        {
            job.Stopped = true;
        }
        catch (Exception e) when (e is EntryConflictException or NotStorableException)
        {
            job.Problem = e.Message;
        }
        catch (Exception e)
        {
            job.Problem = StorageFailure.IsFull(e) ? StorageFailure.Message : Tanksophos.Words.Pages.ImportSays.ItFailed;
            Failed(log, e);
        }
        job.Ended = true;
    }

    [LoggerMessage(LogLevel.Error, "An import failed; nothing of it was saved")]
    private static partial void Failed(ILogger log, Exception e);
}
