using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Sheets;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>What a file would bring in.</summary>
/// <param name="Target">The rig its entries go to; null if a new one is made.</param>
/// <param name="NewRig">The rig that is made; null if the entries go to one that exists.</param>
/// <param name="Entries">All entries of the file.</param>
/// <param name="Plan">What is new, what is there already, what clashes.</param>
/// <param name="Errors">Why it cannot be brought in; empty if it can.</param>
/// <param name="Warnings">What was ignored or looks odd.</param>
public sealed record ImportPreview(StoredRig? Target, Rig? NewRig,
    IReadOnlyList<LogEntry> Entries, ImportPlan Plan, IReadOnlyList<Problem> Errors, IReadOnlyList<Problem> Warnings)
{
    public bool Ok => Errors.Count == 0;
}

/// <summary>Brings files into the database: the same for the page and the command line.</summary>
public sealed partial class Importing(RigStore store, IClock clock)
{
    private static readonly ImportPlan Nothing = new([], 0, []);

    /// <summary>
    /// What bringing in a file would do. A logbook goes to the rig with the name in the document, or makes that rig; a table of readings goes
    /// to <paramref name="chosen"/>.
    /// </summary>
    /// <param name="content">The file.</param>
    /// <param name="chosen">The rig to use; null to go by the document.</param>
    /// <param name="named">Finds the rig of a name among those that may be imported into.</param>
    /// <param name="asNew">Make a new rig from the document even if one of that name exists.</param>
    public ImportPreview Preview(byte[] content, StoredRig? chosen, Func<string, StoredRig?> named, bool asNew = false)
    {
        ArgumentNullException.ThrowIfNull(named);
        var today = clock.GetCurrentInstant();
        var read = ImportDocument.Read(content, asNew ? null : chosen?.Rig, today);
        var target = asNew ? null : chosen;
        if (target is null && !asNew && read.Value?.Rig is { } described && named(described.Name) is { } same)
        {
            target = same;
            read = ImportDocument.Read(content, same.Rig, today); // its entries must fit the rig that is there
        }
        if (read.Value is not { } document) return new ImportPreview(target, null, [], Nothing, read.Errors, read.Warnings);
        if (target is not null)
        {
            var plan = store.Writer.Plan(target.Id, document.Entries, document.Paths);
            return new ImportPreview(target, null, document.Entries, plan, plan.Conflicts, read.Warnings);
        }
        return new ImportPreview(null, document.Rig, document.Entries,
            new ImportPlan([.. document.Entries.Select(e => new PlannedEntry("", e, default))], 0, []), [], read.Warnings);
    }

    /// <summary>
    /// What a spreadsheet kept by hand would bring in. Its entries go through the same reader as a table of entries, so nothing gets in that could not be
    /// typed.
    /// </summary>
    /// <param name="target">The rig that they go to.</param>
    /// <param name="sheet">What was understood of the spreadsheet.</param>
    public ImportPreview Preview(StoredRig target, SheetEntries sheet)
    {
        ArgumentNullException.ThrowIfNull(target);
        ArgumentNullException.ThrowIfNull(sheet);
        if (sheet.Entries.Count == 0)
            return new ImportPreview(target, null, [], Nothing,
                [new Problem("", "none of its lines can be imported: see why below, or choose what each column holds"), .. sheet.Remarks], []);
        var read = EntriesCsv.Read(EntriesCsv.Write(sheet.Entries), target.Rig, clock.GetCurrentInstant());
        string There(string path) => Line().Match(path) is { Success: true } line && int.Parse(line.Groups[1].Value, CultureInfo.InvariantCulture) - 2 is var i
            && i >= 0 && i < sheet.Paths.Count ? sheet.Paths[i] + path[line.Length..] : path;
        IReadOnlyList<Problem> At(IReadOnlyList<Problem> problems) => [.. problems.Select(p => p with { Path = There(p.Path) })];
        if (read.Value is not { } table) return new ImportPreview(target, null, [], Nothing, At(read.Errors), sheet.Remarks);
        var plan = store.Writer.Plan(target.Id, table.Entries, sheet.Paths);
        return new ImportPreview(target, null, table.Entries, plan, plan.Conflicts, [.. sheet.Remarks, .. At(read.Warnings)]);
    }

    [GeneratedRegex(@"^line (\d+)")]
    private static partial Regex Line();

    /// <summary>Brings in what a preview showed, all or nothing.</summary>
    /// <param name="preview">What was shown.</param>
    /// <param name="who">Who brings it in, by name.</param>
    /// <param name="owner">Who will own a new rig; null for the first owner's account.</param>
    /// <param name="watch">Watches a long import; null for nobody.</param>
    /// <returns>The number of the rig.</returns>
    /// <exception cref="OperationCanceledException">It was stopped; nothing was written.</exception>
    /// <exception cref="EntryConflictException">The log has changed since the preview.</exception>
    public int Apply(ImportPreview preview, string who, int? owner, WritingWatch? watch = null)
    {
        ArgumentNullException.ThrowIfNull(preview);
        var batch = LogWriter.ImportBatch + Guid.NewGuid().ToString("N");
        if (preview.Target is null) return store.Add(preview.NewRig!, preview.Entries, who, batch, owner, watch);
        store.Writer.Record(preview.Target.Id, preview.Entries, who, batch, watch);
        return preview.Target.Id;
    }
}
