using System.Globalization;
using System.Text;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Data;

namespace Tanksophos.Web.Devices;

/// <summary>
/// Takes in files of measurements that are put into a folder: lines of JSON, a list in JSON, or CSV. In a folder named like a rig they go to that rig, else to
/// the only one there is. What is done is moved to the folder <c>done</c>, with a list of what was refused beside it.
/// </summary>
internal sealed partial class InboxFeed(string folder, MeasurementGateway gateway, IServiceScopeFactory scopes, IClock clock, ILogger<InboxFeed> log)
    : BackgroundService
{
    private const string Done = "done";
    private const long Largest = 64 << 20;
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(3), Rests = TimeSpan.FromSeconds(2);

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            while (true)
            {
                try
                {
                    Directory.CreateDirectory(folder);
                    foreach (var file in Files()) await TakeAsync(file, stoppingToken);
                }
                catch (Exception e) when (e is not OperationCanceledException) // whatever it is, the program goes on
                {
                    NotTaken(log, folder, e.Message);
                }
                await Task.Delay(Every, stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            // the program stops; a file that was half taken comes again, and nothing of it counts twice
        }
    }

    // A file that is still being written is left for later.
    private List<FileInfo> Files() => [.. new DirectoryInfo(folder).EnumerateFiles("*", SearchOption.AllDirectories)
        .Where(f => f.Directory!.Name != Done && f.Extension.ToLowerInvariant() is ".ndjson" or ".json" or ".csv" && f.Length <= Largest
            && DateTime.UtcNow - f.LastWriteTimeUtc > Rests).OrderBy(f => f.LastWriteTimeUtc)];

    private async Task TakeAsync(FileInfo file, CancellationToken stop)
    {
        var root = Path.GetFullPath(folder);
        var within = Path.GetRelativePath(root, file.FullName).Split(Path.DirectorySeparatorChar);
        var refused = new List<string>();
        using (var scope = scopes.CreateScope())
        {
            var rigs = scope.ServiceProvider.GetRequiredService<RigStore>();
            var rig = within.Length > 1 ? WireReader.RigOf(rigs, within[0]) : rigs.Rigs() is [var only] ? only : null;
            if (rig is null) refused.Add("Put the file into a folder named like the rig.");
            else
            {
                var text = await File.ReadAllTextAsync(file.FullName, stop);
                var taken = new List<(int, Core.Devices.Measurement)>();
                foreach (var (line, utf8) in Lines(file.Extension, text, refused))
                {
                    var read = MeasurementFormat.Read(utf8, clock.GetCurrentInstant());
                    if (read.Value is null) refused.Add(string.Create(CultureInfo.InvariantCulture, $"line {line}: {read.Errors[0]}"));
                    else
                    {
                        taken.AddRange(read.Value.Taken.Select(t => (line, t.Measurement)));
                        refused.AddRange(read.Value.Refused.Select(r => string.Create(CultureInfo.InvariantCulture, $"line {line}: {r.Path}: {r.Message}")));
                    }
                    if (taken.Count >= MeasurementFormat.MostAtOnce) await SendAsync(rig);
                }
                await SendAsync(rig);

                async Task SendAsync(StoredRig to)
                {
                    while (taken.Count > 0)
                    {
                        if (await gateway.TakeAsync(to, null, new MeasurementsRead(taken, []), stop) is { } became)
                        {
                            refused.AddRange(became.Refused.Select(r => string.Create(CultureInfo.InvariantCulture, $"line {r.Index}: {r.Path}: {r.Message}")));
                            taken = [];
                        }
                        else await Task.Delay(Rests, stop);
                    }
                }
            }
        }
        var done = Directory.CreateDirectory(Path.Combine(file.DirectoryName!, Done)).FullName;
        var name = $"{clock.GetCurrentInstant().ToUnixTimeMilliseconds()}-{file.Name}";
        if (refused.Count > 0) await File.WriteAllLinesAsync(Path.Combine(done, name + ".refused.txt"), refused, stop);
        file.MoveTo(Path.Combine(done, name));
    }

    private static IEnumerable<(int Line, byte[] Utf8)> Lines(string extension, string text, List<string> refused)
    {
        if (extension.Equals(".json", StringComparison.OrdinalIgnoreCase)) return [(1, Encoding.UTF8.GetBytes(text))];
        var lines = text.Split('\n').Select((l, i) => (Line: i + 1, Text: l.Trim().TrimStart('\uFEFF'))).Where(l => l.Text.Length > 0);
        return extension.Equals(".csv", StringComparison.OrdinalIgnoreCase) ? MeasurementCsv.Lines(text, refused)
            : lines.Select(l => (l.Line, Encoding.UTF8.GetBytes(l.Text)));
    }

    [LoggerMessage(LogLevel.Warning, "The folder {Folder} was not read: {Why}")]
    private static partial void NotTaken(ILogger log, string folder, string why);
}
