using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace Tanksophos.Data;

/// <summary>A saved estimate. Nothing in it is truth; it can be dropped at any time.</summary>
/// <param name="Version">State of the log (see <see cref="LogReader.Version"/>) that it has taken into account whole.</param>
/// <param name="At">Time of the last entry in it.</param>
/// <param name="Bytes">The estimate.</param>
public sealed record Checkpoint(long Version, Instant At, byte[] Bytes);

/// <summary>Keeps one estimate of each rig for taking it up after a restart.</summary>
/// <param name="context">The database.</param>
public sealed class CheckpointStore(TanksophosContext context)
{
    /// <summary>Keeps an estimate in place of the one kept before.</summary>
    /// <param name="rig">The rig, in the revision that the estimate was made with.</param>
    /// <param name="point">It.</param>
    public void Save(StoredRig rig, Checkpoint point)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(point);
        using var transaction = context.Database.BeginTransaction();
        context.EstimatePoints.Where(p => p.RigId == rig.Id).ExecuteDelete();
        if (context.Rigs.Any(r => r.Id == rig.Id))
            context.EstimatePoints.Add(new EstimatePointRow
            {
                RigId = rig.Id,
                RigRevision = rig.Revision,
                Version = point.Version,
                At = point.At,
                Bytes = point.Bytes
            });
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
    }

    /// <summary>The estimate kept for a rig, and whether everything written since lies after it, so that it can be taken up as it is.</summary>
    /// <returns>Null if none is kept, or the rig's description has changed since.</returns>
    public (Checkpoint Point, bool Holds)? Find(int rigId)
    {
        if (context.EstimatePoints.AsNoTracking().FirstOrDefault(p => p.RigId == rigId) is not { } point) return null;
        var revision = context.Rigs.Where(r => r.Id == rigId).Select(r => r.Revision).FirstOrDefault();
        if (revision != point.RigRevision) return null;
        var since = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.Id > point.Version);
        // An entry that was corrected or withdrawn may have been in it.
        var earlier = since.Any(e => e.At < point.At
            || (e.Revision > 1 && context.Entries.Any(o => o.RigId == rigId && o.Key == e.Key && o.Id <= point.Version)));
        return (new Checkpoint(point.Version, point.At, point.Bytes), !earlier);
    }
}
