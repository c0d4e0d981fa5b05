using NodaTime;
using NodaTime.Testing;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests.Hostile;

/// <summary>An estimator that fails: one entry does not take the log along, and a failure in the background is written down, waited out, and said.</summary>
public sealed class UnluckyTests : IDisposable
{
    private readonly DataFolder folder = new(Directory.CreateTempSubdirectory("tanksophos-unlucky").FullName);
    private readonly FakeClock clock = new(App.Start);
    private readonly TanksophosContext context;
    private readonly RigStore store;

    public UnluckyTests()
    {
        folder.Migrate();
        context = folder.Open();
        store = new RigStore(context, clock);
    }

    public void Dispose()
    {
        context.Dispose();
        folder.ForgetConnections();
        Directory.Delete(folder.Root, recursive: true);
    }

    private sealed class Unlucky(Func<LogEntry, bool> fails) : ILevelEstimator
    {
        private readonly JointEstimator real = new();

        public LevelBelief Estimate(Logbook logbook, EstimateOptions? options = null) => real.Estimate(logbook, options);

        public IRunningEstimate Start(Rig rig, EstimateOptions? options = null) => new Running(real.Start(rig, options), fails);

        public IRunningEstimate? Resume(Rig rig, ReadOnlyMemory<byte> saved, EstimateOptions? options = null) =>
            real.Resume(rig, saved, options) is { } resumed ? new Running(resumed, fails) : null;

        private sealed class Running(IRunningEstimate real, Func<LogEntry, bool> fails) : IRunningEstimate
        {
            public Instant? Last => real.Last;

            public BeliefChange? Add(LogEntry entry) => fails(entry) ? throw new InvalidOperationException("an entry that is one too many") : real.Add(entry);

            public LevelBelief At(OffsetDateTime? now) => real.At(now);

            public IRunningEstimate Copy(EstimateOptions? options = null) => new Running(real.Copy(options), fails);

            public byte[] Save() => real.Save();
        }
    }

    [Fact]
    public void An_entry_that_cannot_be_worked_in_is_left_out_and_named_and_the_others_count()
    {
        var season = DemoSeason.Until(App.Start);
        var bad = season.Entries[40];
        var rig = store.Find(store.Add(season.Rig, season.Entries))!;
        var memory = new RigCache(new Unlucky(e => e.Instant == bad.Instant && e.Type == bad.Type && e.Tank == bad.Tank), clock, folder);
        var picture = memory.Now(rig, store);
        picture.LeftOut.ShouldHaveSingleItem().Instant.ShouldBe(bad.Instant);
        var without = new RigCache(new JointEstimator(), clock, folder);
        var other = store.Find(store.Add(season.Rig with { Name = "Without" }, [.. season.Entries.Where((_, i) => i != 40)]))!;
        foreach (var (a, b) in picture.Belief.Tanks.Zip(without.Now(other, store).Belief.Tanks)) a.Level.P50L.ShouldBe(b.Level.P50L, 1e-6);
    }

    [Fact]
    public async Task A_failure_in_the_background_is_waited_out_and_the_page_is_not_sent_around_in_circles()
    {
        var entries = new List<LogEntry>();
        for (var end = App.Start; entries.Count < RigCache.Much + 500; end -= Duration.FromDays(24))
            entries.InsertRange(0, DemoSeason.Until(end, end.ToUnixTimeSeconds()).Entries);
        var rig = store.Find(store.Add(DemoSeason.Rig, entries))!;
        var broken = true;
        var tries = 0;
        var first = entries[5].Instant;
        var memory = new RigCache(new Unlucky(e =>
        {
            if (e.Instant <= first) Interlocked.Increment(ref tries);
            return broken && e.Instant < first + Duration.FromDays(60);
        }), clock, folder);
        memory.Now(rig, store);
        await Should.ThrowAsync<Exception>(memory.Idle);
        var stale = memory.Now(rig, store);
        (stale.Stale, stale.WorkingOut, memory.Progress(rig.Id)).ShouldBe((true, null, null));
        stale.Belief.Tanks.ShouldNotBeEmpty();
        var before = tries;
        for (var i = 0; i < 5; i++) memory.Now(rig, store).Stale.ShouldBeTrue();
        tries.ShouldBe(before, "it is not tried again at every look");
        broken = false;
        clock.Advance(Duration.FromMinutes(2));
        memory.Now(rig, store);
        await memory.Idle();
        memory.Now(rig, store).Stale.ShouldBeFalse();
    }
}
