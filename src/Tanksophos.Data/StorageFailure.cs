using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Tanksophos.Data;

/// <summary>Tells whether something failed because the disk is full, or the data folder cannot be written.</summary>
public static class StorageFailure
{
    /// <summary>What is said then.</summary>
    public const string Message =
        "The disk is full, or the data folder can't be written. Nothing was saved just now. Free some space, then try again. Everything saved before is safe "
        + "and can still be read.";

    // What SQLite answers: read-only, error of the disk, full, cannot open; and the system: no space left, file too large, quota, read-only.
    private const int ReadOnly = 8, DiskError = 10, Full = 13, CannotOpen = 14;
    private static readonly int[] Errno = [28, 27, 122, 30];

    /// <summary>Whether there was no room, or the folder could not be written.</summary>
    public static bool IsFull(Exception? e) => e switch
    {
        SqliteException s => s.SqliteErrorCode is ReadOnly or DiskError or Full or CannotOpen,
        DbUpdateException => IsFull(e.InnerException),
        UnauthorizedAccessException => true,
        IOException io => Errno.Contains(io.HResult & 0xFFFF) || Errno.Contains(io.HResult),
        AggregateException a => a.InnerExceptions.Any(IsFull),
        _ => e?.InnerException is { } inner && IsFull(inner),
    };

    /// <summary>Whether the database itself is damaged.</summary>
    public static bool IsDamaged(Exception? e) => e is SqliteException { SqliteErrorCode: 11 or 26 } || (e?.InnerException is { } inner && IsDamaged(inner));
}
