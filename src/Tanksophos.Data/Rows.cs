using NodaTime;

namespace Tanksophos.Data;

/// <summary>A rig as it is stored: its description as JSON, written by the core's codec.</summary>
public sealed class RigRow
{
    /// <summary>Number of the rig in this database.</summary>
    public int Id { get; set; }

    /// <summary>The rig's name, for lists.</summary>
    public required string Name { get; set; }

    /// <summary>The description, as in documents.</summary>
    public required string Json { get; set; }

    /// <summary>1 when it was created, one more with each change: who changes a rig says which revision was seen.</summary>
    public int Revision { get; set; } = 1;

    /// <summary>When it was created.</summary>
    public Instant CreatedAt { get; set; }
}

/// <summary>
/// One revision of one log entry. Rows are only ever added; a correction, a withdrawal and its undoing are new revisions.
/// The one column that changes is <see cref="IsCurrent"/>.
/// </summary>
public sealed class EntryRow
{
    /// <summary>Number of the row; grows with every change of any log, so the largest one tells the state of a log.</summary>
    public long Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>The entry's id, or one made from its content if it has none.</summary>
    public required string Key { get; set; }

    /// <summary>1 for the first version.</summary>
    public int Revision { get; set; }

    /// <summary>Whether this is the newest revision.</summary>
    public bool IsCurrent { get; set; }

    /// <summary>Whether this revision takes the entry out of the log.</summary>
    public bool Withdrawn { get; set; }

    /// <summary>When it happened.</summary>
    public Instant At { get; set; }

    /// <summary>The local offset in force there, in seconds.</summary>
    public int OffsetSeconds { get; set; }

    /// <summary>Place among entries of the same moment: the number of the row that first recorded it.</summary>
    public long Sequence { get; set; }

    /// <summary>The kind of entry.</summary>
    public required string Type { get; set; }

    /// <summary>The tank meant, if one is meant.</summary>
    public string? Tank { get; set; }

    /// <summary>The whole entry, as in documents.</summary>
    public required string Json { get; set; }

    /// <summary>When this revision was written down.</summary>
    public Instant RecordedAt { get; set; }

    /// <summary>Who wrote it down.</summary>
    public required string Who { get; set; }

    /// <summary>What was written down together in one go (an import), if it was.</summary>
    public string? Batch { get; set; }
}
