using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace Tanksophos.Data;

/// <summary>A photo without its bytes.</summary>
/// <param name="Id">Number.</param>
/// <param name="EntryKey">The entry it belongs to.</param>
/// <param name="Width">Pixels across.</param>
/// <param name="Height">Pixels down.</param>
/// <param name="Removed">Whether it was taken off.</param>
/// <param name="Who">Who added it.</param>
/// <param name="AddedAt">When it was added.</param>
public sealed record StoredPhoto(int Id, string EntryKey, int Width, int Height, bool Removed, string Who, Instant AddedAt);

/// <summary>Keeps the photos of entries. They lie in the database, so every backup holds them and a deleted rig takes them along.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">The time.</param>
public sealed class PhotoStore(TanksophosContext context, IClock clock)
{
    /// <summary>Most photos of one entry.</summary>
    public const int MaxPerEntry = 8;

    /// <summary>The photos of some entries, oldest first.</summary>
    public IReadOnlyList<StoredPhoto> Of(int rigId, IReadOnlyCollection<string> keys) =>
        [.. context.Photos.AsNoTracking().Where(p => p.RigId == rigId && keys.Contains(p.EntryKey)).OrderBy(p => p.Id)
            .Select(p => new StoredPhoto(p.Id, p.EntryKey, p.Width, p.Height, p.Removed, p.Who, p.AddedAt))];

    /// <summary>The photos of a rig that were not taken off, without their bytes, oldest first.</summary>
    public IReadOnlyList<StoredPhoto> List(int rigId) =>
        [.. context.Photos.AsNoTracking().Where(p => p.RigId == rigId && !p.Removed).OrderBy(p => p.Id)
            .Select(p => new StoredPhoto(p.Id, p.EntryKey, p.Width, p.Height, p.Removed, p.Who, p.AddedAt))];

    /// <summary>The number of the same picture on the same entry; null if it is not there.</summary>
    public int? Same(int rigId, string entryKey, PhotoFile file)
    {
        ArgumentNullException.ThrowIfNull(file);
        return context.Photos.AsNoTracking().Where(p => p.RigId == rigId && p.EntryKey == entryKey && !p.Removed && p.Bytes == file.Bytes)
            .Select(p => (int?)p.Id)
            .FirstOrDefault();
    }

    /// <summary>All photos of a rig that were not taken off, oldest first; what is no picture any more is left out.</summary>
    public IEnumerable<(int Id, string EntryKey, PhotoFile File)> All(int rigId) =>
        context.Photos.AsNoTracking().Where(p => p.RigId == rigId && !p.Removed).OrderBy(p => p.Id).AsEnumerable()
            .Select(p => (p.Id, p.EntryKey, File: PhotoFile.Check(p.Bytes, out _))).Where(p => p.File is not null).Select(p => (p.Id, p.EntryKey, p.File!));

    /// <summary>A photo of a rig; null if the rig has none of that number, it was taken off, or it is no picture any more.</summary>
    public PhotoFile? Find(int rigId, int id) =>
        context.Photos.AsNoTracking().FirstOrDefault(p => p.RigId == rigId && p.Id == id && !p.Removed) is { } p ? PhotoFile.Check(p.Bytes, out _) : null;

    /// <summary>Adds a photo to an entry.</summary>
    /// <returns>Its number; null if the entry has as many as it may.</returns>
    public int? Add(int rigId, string entryKey, PhotoFile file, string who)
    {
        ArgumentNullException.ThrowIfNull(file);
        using var transaction = context.Database.BeginTransaction();
        if (context.Photos.Count(p => p.RigId == rigId && p.EntryKey == entryKey && !p.Removed) >= MaxPerEntry) return null;
        var row = new PhotoRow
        {
            RigId = rigId,
            EntryKey = entryKey,
            ContentType = file.ContentType,
            Bytes = file.Bytes,
            Width = file.Width,
            Height = file.Height,
            AddedAt = clock.GetCurrentInstant(),
            Who = who
        };
        context.Photos.Add(row);
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return row.Id;
    }

    /// <summary>Takes a photo off its entry, or puts it back.</summary>
    /// <returns>The entry's key; null if the rig has no such photo.</returns>
    public string? Remove(int rigId, int id, bool removed)
    {
        if (context.Photos.FirstOrDefault(p => p.RigId == rigId && p.Id == id) is not { } row) return null;
        row.Removed = removed;
        context.SaveChanges();
        context.ChangeTracker.Clear();
        return row.EntryKey;
    }
}
