using Microsoft.AspNetCore.Identity;
using NodaTime;

namespace Tanksophos.Data;

/// <summary>What somebody may do with a rig; each may do what the ones before may.</summary>
public enum Role
{
    /// <summary>Reads.</summary>
    Guest,

    /// <summary>Reads and logs.</summary>
    Crew,

    /// <summary>Changes the rig, its house rules and its people, imports, and deletes.</summary>
    Owner,
}

/// <summary>Somebody with an account.</summary>
public sealed class Person : IdentityUser<int>
{
    /// <summary>Code of the units this person reads and types.</summary>
    public string Units { get; set; } = "us";

    /// <summary>12 or 24, as this person reads the clock; null for what the browser's language suggests.</summary>
    public int? Clock { get; set; }

    /// <summary>Whether this person reads the month before the day; null for what the browser's language suggests.</summary>
    public bool? MonthFirst { get; set; }

    /// <summary>Code of the currency in which this person writes prices; null for what the browser's language suggests.</summary>
    public string? Currency { get; set; }

    /// <summary>The day on which a week of this person begins, 1 for Monday to 7 for Sunday; null for what the browser's language suggests.</summary>
    public int? WeekStart { get; set; }

    /// <summary>Whether this person has put the first tour away.</summary>
    public bool TourDone { get; set; }

    /// <summary>Whether this person keeps the installation: backups and restoring. The first account does.</summary>
    public bool IsKeeper { get; set; }

    /// <summary>When the account was made.</summary>
    public Instant CreatedAt { get; set; }
}

/// <summary>That somebody belongs to a rig.</summary>
internal sealed class MembershipRow
{
    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>The person.</summary>
    public int PersonId { get; set; }

    /// <summary>What the person may do.</summary>
    public Role Role { get; set; }

    /// <summary>Since when.</summary>
    public Instant Since { get; set; }
}

/// <summary>A way into a rig that works once: an invitation for a person.</summary>
internal sealed class InvitationRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>What the invited person will be.</summary>
    public Role Role { get; set; }

    /// <summary>SHA-256 of the word in the link, in hexadecimal; the word itself is kept nowhere.</summary>
    public required string Hash { get; set; }

    /// <summary>When it was made.</summary>
    public Instant CreatedAt { get; set; }

    /// <summary>From when on it no longer works.</summary>
    public Instant ExpiresAt { get; set; }

    /// <summary>Who joined with it; null while it is open.</summary>
    public int? UsedBy { get; set; }

    /// <summary>Whether it was taken back.</summary>
    public bool Revoked { get; set; }
}

/// <summary>That somebody is signed in on a device. Signing out takes the row away, and with it the cookie's worth.</summary>
internal sealed class SignInRow
{
    /// <summary>SHA-256 of the word in the cookie, in hexadecimal.</summary>
    public required string Hash { get; set; }

    /// <summary>Who.</summary>
    public int PersonId { get; set; }

    /// <summary>Since when.</summary>
    public Instant Since { get; set; }

    /// <summary>What its browser says it is, in a few words; empty from before that was kept.</summary>
    public string Device { get; set; } = "";

    /// <summary>When it was last seen, to the hour; null from before that was kept.</summary>
    public Instant? SeenAt { get; set; }
}

/// <summary>What a token of another program is good for.</summary>
[Flags]
public enum TokenScopes
{
    /// <summary>Nothing.</summary>
    None = 0,

    /// <summary>Reads the rig, its log and what follows from it.</summary>
    Read = 1,

    /// <summary>Logs entries and adds photos to them.</summary>
    Log = 2,

    /// <summary>Sends measurements of any device of the rig and reads the devices.</summary>
    Devices = 4,
}

/// <summary>A link that shows one sheet of a rig to whoever has it, for a limited time.</summary>
internal sealed class ShareLinkRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>Whom it is for, as its maker calls them.</summary>
    public required string Name { get; set; }

    /// <summary>SHA-256 of the word in the link, in hexadecimal; the word itself is kept nowhere.</summary>
    public required string Hash { get; set; }

    /// <summary>When it was made.</summary>
    public Instant CreatedAt { get; set; }

    /// <summary>From when on it no longer works.</summary>
    public Instant ExpiresAt { get; set; }

    /// <summary>When it was last opened; null for never.</summary>
    public Instant? OpenedAt { get; set; }
}

/// <summary>A word by which another program reads or logs for one rig.</summary>
internal sealed class ApiTokenRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>What its owner calls it.</summary>
    public required string Name { get; set; }

    /// <summary>SHA-256 of the token in hexadecimal.</summary>
    public required string Hash { get; set; }

    /// <summary>What it is good for.</summary>
    public TokenScopes Scopes { get; set; }

    /// <summary>When it was made.</summary>
    public Instant CreatedAt { get; set; }

    /// <summary>When it was last used, to the hour.</summary>
    public Instant? LastUsedAt { get; set; }
}

/// <summary>An earlier or the present description of a rig; rows are only ever added.</summary>
internal sealed class RigRevisionRow
{
    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>The revision, as in <see cref="RigRow.Revision"/>.</summary>
    public int Revision { get; set; }

    /// <summary>The description in force from then on.</summary>
    public required string Json { get; set; }

    /// <summary>When it was written.</summary>
    public Instant At { get; set; }

    /// <summary>Who wrote it.</summary>
    public required string Who { get; set; }
}

/// <summary>A picture that belongs to an entry.</summary>
internal sealed class PhotoRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>The entry it belongs to.</summary>
    public required string EntryKey { get; set; }

    /// <summary>"image/jpeg" or "image/png".</summary>
    public required string ContentType { get; set; }

    /// <summary>The file, freed of what it says about place and camera.</summary>
    public required byte[] Bytes { get; set; }

    /// <summary>Pixels across.</summary>
    public int Width { get; set; }

    /// <summary>Pixels down.</summary>
    public int Height { get; set; }

    /// <summary>When it was added.</summary>
    public Instant AddedAt { get; set; }

    /// <summary>Who added it.</summary>
    public required string Who { get; set; }

    /// <summary>Whether it was taken off the entry; it can be put back.</summary>
    public bool Removed { get; set; }
}

/// <summary>A rig as it is stored: its description as JSON, written by the core's codec.</summary>
internal sealed class RigRow
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

    /// <summary>Since when it is put away; null while it is in use.</summary>
    public Instant? ArchivedAt { get; set; }

    /// <summary>The state that was last exported whole (see <see cref="RigStore.StateOf"/>); a rig is deleted only in that state.</summary>
    public string? ExportedState { get; set; }
}

/// <summary>
/// One revision of one log entry. Rows are only ever added; a correction, a withdrawal and its undoing are new revisions.
/// The one column that changes is <see cref="IsCurrent"/>.
/// </summary>
internal sealed class EntryRow
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

    /// <summary>The next revision, alike but for who writes it and when.</summary>
    internal EntryRow Next(string who, Instant now) => new()
    {
        RigId = RigId,
        Key = Key,
        Revision = Revision + 1,
        IsCurrent = true,
        Withdrawn = Withdrawn,
        At = At,
        OffsetSeconds = OffsetSeconds,
        Sequence = Sequence,
        Type = Type,
        Tank = Tank,
        Json = Json,
        RecordedAt = now,
        Who = who,
        Batch = Batch,
    };
}

/// <summary>A saved estimate of a rig, for taking it up after a restart. Nothing in it is truth; it can be dropped at any time.</summary>
internal sealed class EstimatePointRow
{
    /// <summary>The rig; it has one point, the newest.</summary>
    public int RigId { get; set; }

    /// <summary>Revision of the rig's description that it was made with.</summary>
    public int RigRevision { get; set; }

    /// <summary>State of the log (see <see cref="LogReader.Version"/>) that it has taken into account whole.</summary>
    public long Version { get; set; }

    /// <summary>Time of the last entry in it.</summary>
    public Instant At { get; set; }

    /// <summary>The estimate.</summary>
    public required byte[] Bytes { get; set; }
}

/// <summary>A trip: its stops as JSON, written by the core's codec, and the plan being carried out.</summary>
internal sealed class TripRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>1 when it was made, one more with each change of the stops.</summary>
    public int Revision { get; set; } = 1;

    /// <summary>Start of the first stop, for finding the trip that is under way; null without stops.</summary>
    public Instant? BeginsAt { get; set; }

    /// <summary>End of the last stop.</summary>
    public Instant? EndsAt { get; set; }

    /// <summary>Whether it was taken away; it can be put back.</summary>
    public bool Removed { get; set; }

    /// <summary>When it was made.</summary>
    public Instant CreatedAt { get; set; }

    /// <summary>The plan being carried out; nothing in it is truth but what was ticked and how it changed. Null before the first look.</summary>
    public byte[]? Progress { get; set; }

    /// <summary>State of the log that the progress has taken into account.</summary>
    public long ProgressVersion { get; set; }

    /// <summary>Revision of the stops that the progress was made with.</summary>
    public int ProgressRevision { get; set; }

    /// <summary>Revision of the rig that the progress was made with.</summary>
    public int ProgressRigRevision { get; set; }

    /// <summary>SHA-256 of the word in the calendar's address, in hexadecimal; null without a feed.</summary>
    public string? FeedHash { get; set; }
}

/// <summary>One revision of a trip's stops; rows are only ever added.</summary>
internal sealed class TripRevisionRow
{
    /// <summary>The trip.</summary>
    public int TripId { get; set; }

    /// <summary>The revision, as in <see cref="TripRow.Revision"/>.</summary>
    public int Revision { get; set; }

    /// <summary>Name and stops from then on.</summary>
    public required string Json { get; set; }

    /// <summary>When it was written.</summary>
    public Instant At { get; set; }

    /// <summary>Who wrote it.</summary>
    public required string Who { get; set; }
}

/// <summary>A dump run. Its steps were built once and are kept as they were; where it stands follows from its presses.</summary>
internal sealed class RunRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>The run's own word: the start of the ids of its entries, and what they are written down as in one go.</summary>
    public required string Word { get; set; }

    /// <summary>Its steps, written by the core's codec.</summary>
    public required string Script { get; set; }

    /// <summary>Name of the place; empty if none is known.</summary>
    public required string Place { get; set; }

    /// <summary>Time zone there (an IANA id, or an offset).</summary>
    public required string Zone { get; set; }

    /// <summary>When it was begun.</summary>
    public Instant StartedAt { get; set; }

    /// <summary>Who began it.</summary>
    public required string Who { get; set; }

    /// <summary>When it was finished or broken off; null while it goes on.</summary>
    public Instant? EndedAt { get; set; }

    /// <summary>Whether it was finished, not broken off.</summary>
    public bool Finished { get; set; }
}

/// <summary>Closing or opening a season, step by step.</summary>
internal sealed class SeasonRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>The start of the ids of its entries.</summary>
    public required string Word { get; set; }

    /// <summary>What was said and done, as JSON.</summary>
    public required string State { get; set; }

    /// <summary>When it was begun.</summary>
    public Instant StartedAt { get; set; }

    /// <summary>Who began it.</summary>
    public required string Who { get; set; }

    /// <summary>When it was finished or given up; null while it goes on.</summary>
    public Instant? EndedAt { get; set; }
}

/// <summary>A press in a run; rows are only ever added.</summary>
internal sealed class RunTapRow
{
    /// <summary>Number; presses count in this order.</summary>
    public long Id { get; set; }

    /// <summary>The run.</summary>
    public int RunId { get; set; }

    /// <summary>The press's own key, unique within the run: what is sent twice counts once.</summary>
    public required string Key { get; set; }

    /// <summary>When it was pressed.</summary>
    public Instant At { get; set; }

    /// <summary>Step it was pressed in.</summary>
    public required string Step { get; set; }

    /// <summary>Rinse cycle it was pressed in.</summary>
    public int Round { get; set; }

    /// <summary>What was pressed, by the core's word.</summary>
    public required string Press { get; set; }

    /// <summary>What was said with it, as JSON.</summary>
    public required string Said { get; set; }

    /// <summary>Who pressed.</summary>
    public required string Who { get; set; }

    /// <summary>When it arrived.</summary>
    public Instant ReceivedAt { get; set; }

    /// <summary>What became of it, by the core's word: used, stale, blocked.</summary>
    public required string Fate { get; set; }
}

/// <summary>The check of the hose run at a place, as it was last done.</summary>
internal sealed class PlaceSetUpRow
{
    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>The place's name, as it was typed.</summary>
    public required string Place { get; set; }

    /// <summary>When.</summary>
    public Instant At { get; set; }

    /// <summary>Who.</summary>
    public required string Who { get; set; }

    /// <summary>Height of the rig's outlet above the ground, in metres.</summary>
    public double? OutletM { get; set; }

    /// <summary>Height of the sewer inlet above the ground, in metres; below it is negative.</summary>
    public double? SewerM { get; set; }

    /// <summary>Length of the hose there, in metres.</summary>
    public double? HoseM { get; set; }

    /// <summary>What was found in order, by its word, separated by spaces.</summary>
    public required string InOrder { get; set; }
}

/// <summary>A practice case that somebody plays or played.</summary>
internal sealed class PracticeRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>Who plays; null for somebody without an account, who came in by a link.</summary>
    public int? PersonId { get; set; }

    /// <summary>Name of who plays without an account; null for a person.</summary>
    public string? Visitor { get; set; }

    /// <summary>Its name in addresses; says nothing of the case.</summary>
    public required string Word { get; set; }

    /// <summary>Seed of the case.</summary>
    public long Seed { get; set; }

    /// <summary>Topic, as a code.</summary>
    public required string Topic { get; set; }

    /// <summary>1 to 3.</summary>
    public int Difficulty { get; set; }

    /// <summary>Version of the maker.</summary>
    public int Maker { get; set; }

    /// <summary>Which case of the course it is; null for none.</summary>
    public int? Course { get; set; }

    /// <summary>Word of those who play it together; null for one alone.</summary>
    public string? Group { get; set; }

    /// <summary>What was asked and answered, as JSON.</summary>
    public required string State { get; set; }

    /// <summary>When it was begun.</summary>
    public Instant StartedAt { get; set; }

    /// <summary>When it was answered; null while it goes on.</summary>
    public Instant? EndedAt { get; set; }

    /// <summary>Points, 0 to 100; null before the answer.</summary>
    public int? Score { get; set; }

    /// <summary>Whether it was solved; null before the answer.</summary>
    public bool? Solved { get; set; }

    /// <summary>How far off the level was, as a share of the tank; null before the answer.</summary>
    public double? LevelError { get; set; }
}

/// <summary>Whether a device's measurements count.</summary>
public enum DeviceState
{
    /// <summary>It sent something, and nobody has said yet whether it belongs to the rig.</summary>
    Waiting,

    /// <summary>It belongs to the rig.</summary>
    Accepted,

    /// <summary>It is not listened to.</summary>
    Ignored,
}

/// <summary>The weather of a place.</summary>
internal sealed class ForecastRow
{
    /// <summary>What names of the same place have in common.</summary>
    public required string Key { get; set; }

    /// <summary>Its name.</summary>
    public required string Place { get; set; }

    /// <summary>When a forecast was last had; null if never.</summary>
    public Instant? FetchedAt { get; set; }

    /// <summary>When it was last asked for.</summary>
    public Instant TriedAt { get; set; }

    /// <summary>Why the last try failed.</summary>
    public string? Problem { get; set; }

    /// <summary>The days, as JSON; empty if there was never a forecast.</summary>
    public required string Days { get; set; }
}

/// <summary>What a rig's months are like.</summary>
internal sealed class ClimateRow
{
    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>Twelve months, as JSON.</summary>
    public required string Months { get; set; }
}

/// <summary>Something that measures at a rig.</summary>
internal sealed class DeviceRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>Its name, by which it sends.</summary>
    public required string Name { get; set; }

    /// <summary>SHA-256 of its token in hexadecimal; null where it comes in by another way.</summary>
    public string? TokenHash { get; set; }

    /// <summary>Whether it counts.</summary>
    public DeviceState State { get; set; }

    /// <summary>What its channels are, as JSON.</summary>
    public required string Bindings { get; set; }

    /// <summary>What is remembered of its channels, as JSON.</summary>
    public required string Channels { get; set; }

    /// <summary>The last raw measurement that was gone over.</summary>
    public long Cursor { get; set; }

    /// <summary>Measurements taken so far.</summary>
    public long Taken { get; set; }

    /// <summary>Measurements refused so far.</summary>
    public long Refused { get; set; }

    /// <summary>The last refusals, as JSON.</summary>
    public required string Refusals { get; set; }

    /// <summary>By how many seconds its clock is behind ours, at the last measurement that had a time.</summary>
    public double BehindSeconds { get; set; }

    /// <summary>The last values, as JSON.</summary>
    public required string LastValues { get; set; }

    /// <summary>When something last came of it.</summary>
    public Instant? LastAt { get; set; }

    /// <summary>When it was first heard of.</summary>
    public Instant CreatedAt { get; set; }
}

/// <summary>A raw measurement.</summary>
internal sealed class MeasurementRow
{
    /// <summary>Number, in the order in which they came.</summary>
    public long Id { get; set; }

    /// <summary>The device.</summary>
    public int DeviceId { get; set; }

    /// <summary>The moment by the device's clock; by ours where it has none.</summary>
    public Instant At { get; set; }

    /// <summary>The moment at which it came, by our clock.</summary>
    public Instant ReceivedAt { get; set; }

    /// <summary>The values, as JSON.</summary>
    public required string Values { get; set; }

    /// <summary>A short print of the values: the same measurement sent twice is kept once.</summary>
    public long Print { get; set; }
}

/// <summary>What a channel measured within an hour.</summary>
internal sealed class MeasurementHourRow
{
    /// <summary>The device.</summary>
    public int DeviceId { get; set; }

    /// <summary>The device's word for the channel.</summary>
    public required string Channel { get; set; }

    /// <summary>The hour's beginning.</summary>
    public Instant Hour { get; set; }

    /// <summary>How many measurements.</summary>
    public int Count { get; set; }

    /// <summary>The least; for lights how many are on.</summary>
    public double Least { get; set; }

    /// <summary>The mean.</summary>
    public double Mean { get; set; }

    /// <summary>The most.</summary>
    public double Most { get; set; }
}

/// <summary>Where somebody wants to be told something.</summary>
internal sealed class NoticeRow
{
    /// <summary>Number.</summary>
    public int Id { get; set; }

    /// <summary>The rig.</summary>
    public int RigId { get; set; }

    /// <summary>By which wire, as a code.</summary>
    public required string Wire { get; set; }

    /// <summary>Address, topic or mailbox.</summary>
    public required string Target { get; set; }

    /// <summary>The least urgent level that is told, as a code.</summary>
    public required string Level { get; set; }

    /// <summary>Minute of the day at which quiet hours begin; null for none.</summary>
    public int? QuietFrom { get; set; }

    /// <summary>Minute of the day at which they end; null for none.</summary>
    public int? QuietTo { get; set; }

    /// <summary>Measures of who set it up.</summary>
    public required string Units { get; set; }

    /// <summary>What was told when, as JSON.</summary>
    public required string Told { get; set; }

    /// <summary>When something was last told.</summary>
    public Instant? LastAt { get; set; }

    /// <summary>Why the last try failed; null where it did not.</summary>
    public string? Problem { get; set; }
}
