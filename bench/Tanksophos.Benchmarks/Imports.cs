using System.Diagnostics;
using System.Text;
using Microsoft.Data.Sqlite;
using NodaTime.Testing;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Benchmarks;

/// <summary>Importing ten years of entries, beside raw batched inserts of the same texts, turn by turn.</summary>
internal static class Imports
{
    private const int Entries = 100_000;

    private static readonly string[] Columns = ["$key", "$at", "$offset", "$sequence", "$type", "$tank", "$json"];

    public static int Measure(int rounds)
    {
        var log = LongLog.Of(Entries);
        var document = LogbookFormat.Write(log);
        var texts = log.Entries.Select(e => Encoding.UTF8.GetString(EntryCodec.Write(e))).ToArray();
        Console.WriteLine($"{Entries} entries, {document.Length >> 20} MB");
        List<double> raw = [], rows = [], record = [], whole = [];
        for (var i = 0; i < rounds; i++)
        {
            raw.Add(Time(path => Raw(path, texts)));
            rows.Add(Time(path => Rows(path, log.Entries, texts)));
            record.Add(Time(path =>
            {
                var context = Migrated(path).Open();
                var store = new RigStore(context, new FakeClock(LongLog.Now));
                return () => store.Writer.Record(store.Add(log.Rig), log.Entries, "bench");
            }));
            whole.Add(Time(path =>
            {
                var context = Migrated(path).Open();
                var importing = new Importing(new RigStore(context, new FakeClock(LongLog.Now)), new FakeClock(LongLog.Now));
                return () => importing.Apply(importing.Preview(document, null, _ => null), "bench", null);
            }));
        }
        var basis = Median(raw);
        Console.WriteLine($"raw inserts of the texts alone, no index:     {Entries / basis:0} entries/s");
        Console.WriteLine($"raw inserts of the same rows, same table:     {Entries / Median(rows):0} entries/s");
        Console.WriteLine($"record what was read:                         {Entries / Median(record):0} entries/s, {basis / Median(record):0.00} and "
            + $"{Median(rows) / Median(record):0.00} of raw");
        Console.WriteLine($"read the document, preview and record:        {Entries / Median(whole):0} entries/s, {basis / Median(whole):0.00} and "
            + $"{Median(rows) / Median(whole):0.00} of raw");
        return 0;
    }

    private static DataFolder Migrated(string path)
    {
        var folder = new DataFolder(path);
        folder.Migrate();
        return folder;
    }

    // One prepared statement, one transaction, the same durability, a table with a number and the text.
    private static Action Raw(string path, string[] texts)
    {
        var connection = new SqliteConnection($"Data Source={Path.Combine(path, "raw.db")};Pooling=False");
        connection.Open();
        using (var create = connection.CreateCommand())
        {
            create.CommandText = "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; CREATE TABLE Raw (Id INTEGER PRIMARY KEY, Json TEXT NOT NULL)";
            create.ExecuteNonQuery();
        }
        return () =>
        {
            using var transaction = connection.BeginTransaction();
            using var insert = connection.CreateCommand();
            insert.Transaction = transaction;
            insert.CommandText = "INSERT INTO Raw (Json) VALUES ($json)";
            var json = insert.Parameters.Add("$json", SqliteType.Text);
            insert.Prepare();
            foreach (var text in texts)
            {
                json.Value = text;
                insert.ExecuteNonQuery();
            }
            transaction.Commit();
            connection.Dispose();
        };
    }

    // The rows that the program writes, into its own table with its own indexes, with one prepared command.
    private static Action Rows(string path, IReadOnlyList<LogEntry> entries, string[] texts)
    {
        Migrated(path);
        var connection = new SqliteConnection($"Data Source={Path.Combine(path, "tanksophos.db")};Pooling=False");
        connection.Open();
        using (var prepare = connection.CreateCommand())
        {
            prepare.CommandText = "PRAGMA synchronous=FULL; INSERT INTO Rigs (Id, Name, Json, Revision, CreatedAt) VALUES (1, 'raw', '{}', 1, 0)";
            prepare.ExecuteNonQuery();
        }
        return () =>
        {
            using var transaction = connection.BeginTransaction();
            using var insert = connection.CreateCommand();
            insert.Transaction = transaction;
            insert.CommandText = "INSERT INTO Entries (RigId, Key, Revision, IsCurrent, Withdrawn, At, OffsetSeconds, Sequence, Type, Tank, Json, RecordedAt, "
                + "Who) VALUES (1, $key, 1, 1, 0, $at, $offset, $sequence, $type, $tank, $json, 0, 'raw')";
            SqliteParameter[] p = [.. Columns.Select(n => insert.Parameters.Add(new SqliteParameter { ParameterName = n }))];
            for (var i = 0; i < texts.Length; i++)
            {
                (p[0].Value, p[1].Value, p[2].Value, p[3].Value) = ($"content-{i * 7919L % 100003:x20}", entries[i].Instant.ToUnixTimeTicks(),
                    entries[i].At.Offset.Seconds, i);
                (p[4].Value, p[5].Value, p[6].Value) = (entries[i].Type, (object?)entries[i].Tank ?? DBNull.Value, texts[i]);
                insert.ExecuteNonQuery();
            }
            transaction.Commit();
            connection.Dispose();
        };
    }

    private static double Time(Func<string, Action> prepare)
    {
        var folder = Directory.CreateTempSubdirectory("tanksophos-import").FullName;
        var act = prepare(folder);
        GC.Collect();
        var watch = Stopwatch.StartNew();
        act();
        var seconds = watch.Elapsed.TotalSeconds;
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, recursive: true);
        return seconds;
    }

    private static double Median(List<double> values) => values.Order().ElementAt(values.Count / 2);
}
