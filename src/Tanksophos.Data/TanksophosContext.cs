using System.Data.Common;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;
using NodaTime;

namespace Tanksophos.Data;

/// <summary>The database: people, rigs and their log entries in one SQLite file.</summary>
public sealed class TanksophosContext(DbContextOptions<TanksophosContext> options) : IdentityUserContext<Person, int>(options)
{
    /// <summary>The rigs.</summary>
    internal DbSet<RigRow> Rigs => Set<RigRow>();

    /// <summary>All revisions of all log entries.</summary>
    internal DbSet<EntryRow> Entries => Set<EntryRow>();

    /// <summary>All revisions of the rigs' descriptions.</summary>
    internal DbSet<RigRevisionRow> RigRevisions => Set<RigRevisionRow>();

    /// <summary>Who belongs to which rig.</summary>
    internal DbSet<MembershipRow> Memberships => Set<MembershipRow>();

    /// <summary>Where people are signed in.</summary>
    internal DbSet<SignInRow> SignIns => Set<SignInRow>();

    /// <summary>Invitations, open and used.</summary>
    internal DbSet<InvitationRow> Invitations => Set<InvitationRow>();

    /// <summary>Tokens of other programs.</summary>
    internal DbSet<ApiTokenRow> ApiTokens => Set<ApiTokenRow>();

    /// <summary>Pictures that belong to entries.</summary>
    internal DbSet<PhotoRow> Photos => Set<PhotoRow>();

    /// <summary>Saved estimates.</summary>
    internal DbSet<EstimatePointRow> EstimatePoints => Set<EstimatePointRow>();

    /// <summary>Trips.</summary>
    internal DbSet<TripRow> Trips => Set<TripRow>();

    /// <summary>All revisions of the trips' stops.</summary>
    internal DbSet<TripRevisionRow> TripRevisions => Set<TripRevisionRow>();

    /// <summary>Dump runs.</summary>
    internal DbSet<RunRow> Runs => Set<RunRow>();

    /// <summary>What was pressed in them.</summary>
    internal DbSet<RunTapRow> RunTaps => Set<RunTapRow>();

    /// <summary>Seasons being closed or opened.</summary>
    internal DbSet<SeasonRow> Seasons => Set<SeasonRow>();

    /// <summary>Practice cases.</summary>
    internal DbSet<PracticeRow> Practice => Set<PracticeRow>();

    /// <summary>What measures.</summary>
    internal DbSet<DeviceRow> Devices => Set<DeviceRow>();

    /// <summary>Who wants to be told what.</summary>
    internal DbSet<NoticeRow> Notices => Set<NoticeRow>();

    /// <summary>Forecasts by place.</summary>
    internal DbSet<ForecastRow> Forecasts => Set<ForecastRow>();

    /// <summary>What the months are like.</summary>
    internal DbSet<ClimateRow> Climates => Set<ClimateRow>();

    /// <summary>Links that show a sheet for a limited time.</summary>
    internal DbSet<ShareLinkRow> ShareLinks => Set<ShareLinkRow>();

    /// <summary>Raw measurements.</summary>
    internal DbSet<MeasurementRow> Measurements => Set<MeasurementRow>();

    /// <summary>Measurements by the hour.</summary>
    internal DbSet<MeasurementHourRow> MeasurementHours => Set<MeasurementHourRow>();

    /// <summary>Checked hose runs.</summary>
    internal DbSet<PlaceSetUpRow> PlaceSetUps => Set<PlaceSetUpRow>();

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
    protected override void OnModelCreating(ModelBuilder builder)
    {
        ArgumentNullException.ThrowIfNull(builder);
        base.OnModelCreating(builder);
        Accounts(builder);
        RigsAndLog(builder);
        TripsAndRuns(builder);
        WhatMeasures(builder);
    }

    private static void WhatMeasures(ModelBuilder builder)
    {
        builder.Entity<ForecastRow>().HasKey(f => f.Key);
        builder.Entity<ClimateRow>(climate =>
        {
            climate.HasKey(c => c.RigId);
            climate.Property(c => c.RigId).ValueGeneratedNever();
            climate.HasOne<RigRow>().WithOne().HasForeignKey<ClimateRow>(c => c.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<DeviceRow>(device =>
        {
            device.HasIndex(d => new { d.RigId, d.Name }).IsUnique();
            device.HasIndex(d => d.TokenHash).IsUnique();
            device.HasOne<RigRow>().WithMany().HasForeignKey(d => d.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<NoticeRow>(notice =>
        {
            notice.HasIndex(n => n.RigId);
            notice.HasOne<RigRow>().WithMany().HasForeignKey(n => n.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<MeasurementRow>(measurement =>
        {
            measurement.HasIndex(m => new { m.DeviceId, m.At, m.Print }).IsUnique();
            measurement.HasIndex(m => m.ReceivedAt);
            measurement.HasOne<DeviceRow>().WithMany().HasForeignKey(m => m.DeviceId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<MeasurementHourRow>(hour =>
        {
            hour.HasKey(h => new { h.DeviceId, h.Channel, h.Hour });
            hour.HasOne<DeviceRow>().WithMany().HasForeignKey(h => h.DeviceId).OnDelete(DeleteBehavior.Cascade);
        });
    }

    private static void Accounts(ModelBuilder builder)
    {
        builder.Entity<Person>(person =>
        {
            person.ToTable("People");
            person.Property(p => p.Units).HasMaxLength(10).HasDefaultValue("us");
        });
        builder.Entity<MembershipRow>(member =>
        {
            member.HasKey(m => new { m.RigId, m.PersonId });
            member.HasIndex(m => m.PersonId);
            member.HasOne<RigRow>().WithMany().HasForeignKey(m => m.RigId).OnDelete(DeleteBehavior.Cascade);
            member.HasOne<Person>().WithMany().HasForeignKey(m => m.PersonId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<SignInRow>(signIn =>
        {
            signIn.HasKey(s => s.Hash);
            signIn.HasIndex(s => s.PersonId);
            signIn.HasOne<Person>().WithMany().HasForeignKey(s => s.PersonId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<InvitationRow>(invitation =>
        {
            invitation.HasIndex(i => i.Hash).IsUnique();
            invitation.HasOne<RigRow>().WithMany().HasForeignKey(i => i.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<ApiTokenRow>(token =>
        {
            token.HasIndex(t => t.Hash).IsUnique();
            token.HasOne<RigRow>().WithMany().HasForeignKey(t => t.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<ShareLinkRow>(link =>
        {
            link.HasIndex(l => l.Hash).IsUnique();
            link.HasOne<RigRow>().WithMany().HasForeignKey(l => l.RigId).OnDelete(DeleteBehavior.Cascade);
        });
    }

    private static void RigsAndLog(ModelBuilder builder)
    {
        builder.Entity<RigRevisionRow>(revision =>
        {
            revision.HasKey(r => new { r.RigId, r.Revision });
            revision.HasOne<RigRow>().WithMany().HasForeignKey(r => r.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<PhotoRow>(photo =>
        {
            photo.HasIndex(p => new { p.RigId, p.EntryKey });
            photo.HasOne<RigRow>().WithMany().HasForeignKey(p => p.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<EstimatePointRow>(point =>
        {
            point.HasKey(p => p.RigId);
            point.Property(p => p.RigId).ValueGeneratedNever();
            point.HasOne<RigRow>().WithMany().HasForeignKey(p => p.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<PlaceSetUpRow>(place =>
        {
            place.HasKey(p => new { p.RigId, p.Place });
            place.HasOne<RigRow>().WithMany().HasForeignKey(p => p.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<RigRow>(rig =>
        {
            rig.HasIndex(r => r.Name);
            rig.Property(r => r.Revision).HasDefaultValue(1).HasSentinel(0); // rigs from before there were revisions
        });
        builder.Entity<EntryRow>(entry =>
        {
            entry.HasOne<RigRow>().WithMany().HasForeignKey(e => e.RigId).OnDelete(DeleteBehavior.Restrict);
            entry.HasIndex(e => new { e.RigId, e.Key, e.Revision }).IsUnique();
            // Only what is in force, in the order of pages; kind and tank ride along, so that a narrowed log is counted without its rows.
            entry.HasIndex(e => new { e.RigId, e.At, e.Sequence, e.Type, e.Tank }).HasFilter("\"IsCurrent\"").HasDatabaseName("IX_Entries_Current");
            entry.HasIndex(e => new { e.RigId, e.Id });
        });
    }

    private static void TripsAndRuns(ModelBuilder builder)
    {
        builder.Entity<TripRow>(trip =>
        {
            trip.HasIndex(t => new { t.RigId, t.EndsAt });
            trip.HasIndex(t => t.FeedHash).IsUnique();
            trip.HasOne<RigRow>().WithMany().HasForeignKey(t => t.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<RunRow>(run =>
        {
            run.HasIndex(r => new { r.RigId, r.StartedAt });
            run.HasIndex(r => r.Word).IsUnique();
            run.HasOne<RigRow>().WithMany().HasForeignKey(r => r.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<RunTapRow>(tap =>
        {
            tap.HasIndex(t => new { t.RunId, t.Key }).IsUnique();
            tap.HasOne<RunRow>().WithMany().HasForeignKey(t => t.RunId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<SeasonRow>(season =>
        {
            season.HasIndex(s => new { s.RigId, s.StartedAt });
            season.HasOne<RigRow>().WithMany().HasForeignKey(s => s.RigId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<PracticeRow>(practice =>
        {
            practice.HasIndex(p => p.Word).IsUnique();
            practice.HasIndex(p => new { p.PersonId, p.StartedAt });
            practice.HasIndex(p => p.Group);
            practice.HasOne<Person>().WithMany().HasForeignKey(p => p.PersonId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<TripRevisionRow>(revision =>
        {
            revision.HasKey(r => new { r.TripId, r.Revision });
            revision.HasOne<TripRow>().WithMany().HasForeignKey(r => r.TripId).OnDelete(DeleteBehavior.Cascade);
        });
    }

    // A number beyond all time, in a damaged row, must not take the rows beside it along.
    internal sealed class InstantTicks() : ValueConverter<Instant, long>(i => i.ToUnixTimeTicks(), t => Instant.FromUnixTimeTicks(Math.Clamp(t, First, Last)))
    {
        private static readonly long First = Instant.FromUtc(1, 1, 1, 0, 0).ToUnixTimeTicks(), Last = Instant.FromUtc(9999, 1, 1, 0, 0).ToUnixTimeTicks();
    }

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
            // A connection that only reads, such as the one that asks whether there is a database, may not change how it keeps its journal.
            var reads = connection.ConnectionString.Contains("Mode=ReadOnly", StringComparison.OrdinalIgnoreCase);
            using var command = connection.CreateCommand();
            command.CommandText = (reads ? "" : "PRAGMA journal_mode=WAL; ") + "PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;";
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
