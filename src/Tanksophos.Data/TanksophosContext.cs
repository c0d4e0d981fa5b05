using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;
using NodaTime;

namespace Tanksophos.Data;

/// <summary>The database: rigs and their log entries in one SQLite file.</summary>
public sealed class TanksophosContext(DbContextOptions<TanksophosContext> options) : DbContext(options)
{
    /// <summary>The rigs.</summary>
    public DbSet<RigRow> Rigs => Set<RigRow>();

    /// <summary>All revisions of all log entries.</summary>
    public DbSet<EntryRow> Entries => Set<EntryRow>();

    /// <summary>Options for a database file. Write-ahead log, one writer at a time, and nothing acknowledged before it is on the disk.</summary>
    public static DbContextOptions<TanksophosContext> OptionsFor(string file) =>
        new DbContextOptionsBuilder<TanksophosContext>().UseSqlite($"Data Source={file};Default Timeout=30").AddInterceptors(Pragmas.Instance).Options;

    /// <inheritdoc/>
    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder)
    {
        ArgumentNullException.ThrowIfNull(configurationBuilder);
        configurationBuilder.Properties<Instant>().HaveConversion<InstantTicks>(); // integers sort and compare in queries
    }

    /// <inheritdoc/>
    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        ArgumentNullException.ThrowIfNull(modelBuilder);
        modelBuilder.Entity<RigRow>(rig =>
        {
            rig.HasIndex(r => r.Name);
            rig.Property(r => r.Revision).HasDefaultValue(1).HasSentinel(0); // rigs from before there were revisions
        });
        modelBuilder.Entity<EntryRow>(entry =>
        {
            entry.HasOne<RigRow>().WithMany().HasForeignKey(e => e.RigId).OnDelete(DeleteBehavior.Restrict);
            entry.HasIndex(e => new { e.RigId, e.Key, e.Revision }).IsUnique();
            entry.HasIndex(e => new { e.RigId, e.IsCurrent, e.At, e.Sequence });
            entry.HasIndex(e => new { e.RigId, e.Id });
        });
    }

    private sealed class InstantTicks() : ValueConverter<Instant, long>(i => i.ToUnixTimeTicks(), t => Instant.FromUnixTimeTicks(t));

    private sealed class Pragmas : DbConnectionInterceptor
    {
        public static readonly Pragmas Instance = new();

        public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData) => Set(connection);

        public override Task ConnectionOpenedAsync(DbConnection connection, ConnectionEndEventData eventData, CancellationToken cancellationToken = default)
        {
            Set(connection);
            return Task.CompletedTask;
        }

        private static void Set(DbConnection connection)
        {
            using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;";
            command.ExecuteNonQuery();
        }
    }
}

/// <summary>Lets the migration tool build the context; the program itself never uses it.</summary>
public sealed class DesignTimeContext : IDesignTimeDbContextFactory<TanksophosContext>
{
    /// <inheritdoc/>
    public TanksophosContext CreateDbContext(string[] args) => new(TanksophosContext.OptionsFor("design.db"));
}
