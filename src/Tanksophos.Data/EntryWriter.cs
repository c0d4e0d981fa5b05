using System.Text;
using Microsoft.Data.Sqlite;
using SQLitePCL;

namespace Tanksophos.Data;

/// <summary>
/// Writes many entries with one prepared statement of the database itself, on the connection and in the transaction at hand. Ten years of entries
/// pass through it in about a second; through the change tracker they would take half a minute.
/// </summary>
internal static class EntryWriter
{
    private const string Insert = """
        INSERT INTO Entries (Id, RigId, Key, Revision, IsCurrent, Withdrawn, At, OffsetSeconds, Sequence, Type, Tank, Json, RecordedAt, Who, Batch)
        VALUES (?1, ?2, ?3, 1, 1, 0, ?4, ?5, ?1, ?6, ?7, ?8, ?9, ?10, ?11)
        """;

    // From so many entries on, and more than there are, the indexes are built anew afterwards: sorting once is quicker than a hundred thousand insertions.
    private const int ManyEntries = 20_000;

    private const int WatchedEach = 500;

    /// <summary>Inserts entries as first revisions.</summary>
    /// <exception cref="SqliteException">The database refuses a row; the transaction is then to be rolled back.</exception>
    public static void Write(SqliteConnection connection, long firstId, int rigId, IReadOnlyList<PlannedEntry> entries, long recordedAt, string who,
        string? batch, WritingWatch? watch = null)
    {
        var database = connection.Handle!;
        var indexes = entries.Count >= ManyEntries && entries.Count > firstId ? Indexes(connection) : [];
        foreach (var (name, _) in indexes) Run(database, $"DROP INDEX \"{name}\"");
        Rows(database, firstId, rigId, entries, recordedAt, who, batch, watch);
        foreach (var (_, sql) in indexes) Run(database, sql);
    }

    // As the migrations made them; within the transaction, so a failure leaves them as they were.
    private static List<(string Name, string Sql)> Indexes(SqliteConnection connection)
    {
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT name, sql FROM sqlite_master WHERE type = 'index' AND tbl_name = 'Entries' AND sql IS NOT NULL";
        using var reader = command.ExecuteReader();
        var indexes = new List<(string, string)>();
        while (reader.Read()) indexes.Add((reader.GetString(0), reader.GetString(1)));
        return indexes;
    }

    private static void Run(sqlite3 database, string sql) => Check(database, raw.sqlite3_exec(database, sql));

    private static void Rows(sqlite3 database, long firstId, int rigId, IReadOnlyList<PlannedEntry> entries, long recordedAt, string who, string? batch,
        WritingWatch? watch)
    {
        Check(database, raw.sqlite3_prepare_v2(database, Insert, out var statement));
        using (statement)
        {
            raw.sqlite3_bind_int64(statement, 2, rigId);
            raw.sqlite3_bind_int64(statement, 9, recordedAt);
            raw.sqlite3_bind_text(statement, 10, who);
            if (batch is not null) raw.sqlite3_bind_text(statement, 11, batch);
            var buffer = new byte[4096];
            var id = firstId;
            foreach (var (key, entry, utf8) in entries)
            {
                raw.sqlite3_bind_int64(statement, 1, id++);
                Bind(statement, 3, key, ref buffer);
                raw.sqlite3_bind_int64(statement, 4, entry.Instant.ToUnixTimeTicks());
                raw.sqlite3_bind_int64(statement, 5, entry.At.Offset.Seconds);
                Bind(statement, 6, entry.Type, ref buffer);
                if (entry.Tank is { } tank) Bind(statement, 7, tank, ref buffer);
                else raw.sqlite3_bind_null(statement, 7);
                raw.sqlite3_bind_text(statement, 8, utf8.Span);
                var result = raw.sqlite3_step(statement);
                if (result != raw.SQLITE_DONE) Check(database, result);
                raw.sqlite3_reset(statement); // what is bound stays bound
                if (watch is not null && (id - firstId) % WatchedEach == 0) watch.Saw((int)(id - firstId));
            }
        }
    }

    private static void Bind(sqlite3_stmt statement, int index, string text, ref byte[] buffer)
    {
        var most = Encoding.UTF8.GetMaxByteCount(text.Length);
        if (most > buffer.Length) buffer = new byte[most];
        raw.sqlite3_bind_text(statement, index, buffer.AsSpan(0, Encoding.UTF8.GetBytes(text, buffer)));
    }

    private static void Check(sqlite3 database, int result)
    {
        if (result != raw.SQLITE_OK) throw new SqliteException(raw.sqlite3_errmsg(database).utf8_to_string(), result);
    }
}
