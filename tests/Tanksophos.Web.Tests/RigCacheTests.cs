using CsCheck;
using NodaTime;
using NodaTime.Testing;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests;

public sealed class RigCacheTests : IDisposable
{
    private static readonly Instant Now = Instant.FromUtc(2026, 6, 9, 23, 30);

    private readonly DataFolder folder = new(Directory.CreateTempSubdirectory("tanksophos-memory").FullName);
    private readonly TanksophosContext context;
    private readonly FakeClock clock = new(Now);
    private readonly RigStore store;

    public RigCacheTests()
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

    private void Same(RigCache kept, int rig, string after)
    {
        var stored = store.Find(rig)!;
        var fresh = new RigCache(new JointEstimator(), clock);
        var (a, b) = (kept.Now(stored, store), fresh.Now(stored, store));
        foreach (var (x, y) in a.Belief.Tanks.Zip(b.Belief.Tanks))
        {
            // Time is cut into other steps for the drawing, which rounds differently in the last digits.
            Near(x.Level, y.Level, after);
            foreach (var (p, q) in x.Probes.Zip(y.Probes))
                (p.Probe, Math.Round(p.Working, 9), Math.Round(p.StuckOn, 9), p.DoubtedSince)
                .ShouldBe((q.Probe, Math.Round(q.Working, 9), Math.Round(q.StuckOn, 9), q.DoubtedSince), after);
            x.Track.Select(t => t.At).ShouldBe(y.Track.Select(t => t.At), after);
            foreach (var (p, q) in x.Track.Zip(y.Track)) Near(p.Level, q.Level, after);
        }
        a.Logbook.Entries.Select(e => e.Id).ShouldBe(b.Logbook.Entries.Select(e => e.Id), after);
        kept.Count(stored, store, EntryFilter.None).ShouldBe(store.Log.Page(rig, 0, 1).Total, after);
        var keys = store.Log.Page(rig, 0, 5000).Entries.Select(e => e.Key).ToList();
        var (ours, theirs) = (kept.Changes(stored, store, keys), fresh.Changes(stored, store, keys));
        ours.Keys.Order().ShouldBe(theirs.Keys.Order(), after);
        foreach (var key in ours.Keys)
            (Math.Round(ours[key].BeforeL, 3), Math.Round(ours[key].AfterL, 3), string.Join('/', ours[key].Doubted))
            .ShouldBe((Math.Round(theirs[key].BeforeL, 3), Math.Round(theirs[key].AfterL, 3), string.Join('/', theirs[key].Doubted)), after);
    }

    private static void Near(LevelBand a, LevelBand b, string after)
    {
        a.P05L.ShouldBe(b.P05L, 1e-6, after);
        a.P50L.ShouldBe(b.P50L, 1e-6, after);
        a.P95L.ShouldBe(b.P95L, 1e-6, after);
    }

    [Fact]
    public void What_is_remembered_is_what_reading_everything_anew_gives_whatever_was_done_to_the_log()
    {
        // Twice through the season: long enough that there are points to resume from.
        var season = DemoSeason.Until(Now).Entries;
        LogEntry[] entries = [.. Enumerable.Range(0, 7)
            .SelectMany(n => season.Select(e => e with { At = (e.Instant - Duration.FromDays(150 * (6 - n))).WithOffset(e.At.Offset) }))
            .Select((e, i) => e with { Id = $"e{i}" })];
        var rig = store.Add(DemoSeason.Rig, entries);
        var memory = new RigCache(new JointEstimator(), clock);
        Same(memory, rig, "the start");
        var n = 0;
        Gen.Select(Gen.Int[0, 5], Gen.Int[0, entries.Length - 1], Gen.Int[0, 1_000_000]).Array[9].Sample(steps =>
        {
            var done = new List<string>();
            foreach (var (what, which, minutes) in steps)
            {
                var key = $"e{which}";
                var at = (Now - Duration.FromMinutes(what < 2 ? minutes % 90 : minutes)).WithOffset(Offset.FromHours(-6));
                switch (what)
                {
                    case 0 or 1 or 2:
                        store.Writer.Record(rig,
                            [new ReadingEntry { Id = $"n{n++}", At = at, Tank = "black", Via = ReadingVia.Sight, Fraction = which % 10 / 10.0 }], "test");
                        break;
                    case 3:
                        store.Writer.Withdraw(rig, key, minutes % 2 == 0, "test");
                        break;
                    case 4 when store.Log.Entry(rig, key) is { } there:
                        store.Writer.Correct(rig, key, there.Revision, new DumpEntry { At = at, Tank = "black" }, "test");
                        break;
                    default:
                        clock.Advance(Duration.FromMinutes(1 + which % 100));
                        break;
                }
                done.Add($"{what}/{which}/{minutes}");
                memory.Now(store.Find(rig)!, store);
            }
            Same(memory, rig, string.Join(' ', done));
        }, iter: 3, threads: 1);
    }

    [Fact]
    public void What_lies_ahead_counts_when_its_time_has_come()
    {
        var rig = store.Add(DemoSeason.Rig, [new DumpEntry { Id = "d", At = (Now + Duration.FromHours(2)).WithOffset(Offset.Zero), Tank = "black" }]);
        var memory = new RigCache(new JointEstimator(), clock);
        memory.Now(store.Find(rig)!, store).Belief["black"].LastEmptied.ShouldBeNull();
        clock.Advance(Duration.FromHours(3));
        memory.Now(store.Find(rig)!, store).Belief["black"].LastEmptied.ShouldBe(Now + Duration.FromHours(2));
        Same(memory, rig, "later");
    }

    [Fact]
    public void Another_description_is_believed_anew()
    {
        var rig = store.Add(DemoSeason.Rig, DemoSeason.Until(Now).Entries);
        var memory = new RigCache(new JointEstimator(), clock);
        var before = memory.Now(store.Find(rig)!, store).Belief["black"].Level;
        store.Change(rig, 1, r => r with { Tanks = [r.Tanks[0] with { CapacityL = 200 }, .. r.Tanks.Skip(1)] });
        memory.Now(store.Find(rig)!, store).Belief["black"].Level.ShouldNotBe(before);
        Same(memory, rig, "changed");
    }

    // Ten years and more: many seasons one after the other.
    private int LongLog(int seasons)
    {
        var season = DemoSeason.Until(Now).Entries;
        return store.Add(DemoSeason.Rig,
            [.. Enumerable.Range(0, seasons)
            .SelectMany(n => season.Select(e => e with { At = (e.Instant - Duration.FromDays(150 * (seasons - 1 - n))).WithOffset(e.At.Offset) }))
            .Select((e, i) => e with { Id = $"e{i}" })]);
    }

    private void Agrees(RigCache memory, int rig, string after)
    {
        var stored = store.Find(rig)!;
        var (a, b) = (memory.Now(stored, store), new RigCache(new JointEstimator(), clock).Now(stored, store));
        a.WorkingOut.ShouldBeNull(after);
        foreach (var (x, y) in a.Belief.Tanks.Zip(b.Belief.Tanks)) Near(x.Level, y.Level, after);
    }

    [Fact]
    public async Task A_long_log_is_worked_out_in_the_background_and_is_at_once_at_hand_after_a_restart()
    {
        var rig = LongLog(1 + RigCache.Much / DemoSeason.Until(Now).Entries.Count + 4);
        var stored = store.Find(rig)!;
        var memory = new RigCache(new JointEstimator(), clock, folder);

        var first = memory.Now(stored, store);
        first.WorkingOut.ShouldNotBeNull();
        first.Belief["black"].LastEmptied.ShouldNotBeNull();
        await memory.Idle();
        Agrees(memory, rig, "worked out");
        memory.Progress(rig).ShouldBeNull();

        // After a restart, with an entry more: from the saved estimate, without waiting for the rest.
        store.Writer.Record(rig,
            [new ReadingEntry { Id = "new", At = Now.WithOffset(Offset.Zero), Tank = "black", Via = ReadingVia.Sight, Fraction = 0.6 }], "test");
        store.Checkpoints.Find(rig)!.Value.Holds.ShouldBeTrue();
        var again = new RigCache(new JointEstimator(), clock, folder);
        var quick = again.Now(stored, store);
        quick.WorkingOut.ShouldNotBeNull();
        var right = new RigCache(new JointEstimator(), clock).Now(stored, store);
        foreach (var (x, y) in quick.Belief.Tanks.Zip(right.Belief.Tanks)) Near(x.Level, y.Level, "resumed");
        again.Changes(stored, store, ["new"]).ShouldContainKey("new");
        await again.Idle();
        Agrees(again, rig, "after the restart");
    }

    [Fact]
    public async Task An_entry_years_back_is_worked_in_while_the_newest_goes_on_being_shown()
    {
        var rig = LongLog(1 + RigCache.Much / DemoSeason.Until(Now).Entries.Count + 4);
        var stored = store.Find(rig)!;
        var memory = new RigCache(new JointEstimator(), clock, folder);
        memory.Now(stored, store);
        await memory.Idle();
        memory.Now(stored, store).WorkingOut.ShouldBeNull();

        store.Writer.Withdraw(rig, "e3", true, "test");
        store.Checkpoints.Find(rig)!.Value.Holds.ShouldBeFalse();
        var meanwhile = memory.Now(stored, store);
        meanwhile.WorkingOut.ShouldNotBeNull();
        meanwhile.Logbook.Entries.Count.ShouldBeGreaterThan(1000);
        await memory.Idle();
        Agrees(memory, rig, "worked in");
        store.Checkpoints.Find(rig)!.Value.Holds.ShouldBeTrue();
    }

    [Fact]
    public void A_saved_estimate_of_another_kind_or_cut_off_is_made_anew()
    {
        var estimator = new JointEstimator();
        var running = estimator.Start(DemoSeason.Rig);
        foreach (var entry in DemoSeason.Until(Now).Entries) running.Add(entry);
        var saved = running.Save();

        var at = Now.WithOffset(Offset.Zero);
        var resumed = estimator.Resume(DemoSeason.Rig, saved).ShouldNotBeNull();
        foreach (var (x, y) in resumed.At(at).Tanks.Zip(running.At(at).Tanks)) Near(x.Level, y.Level, "resumed");
        resumed.At(at).InForce.Place.ShouldBe(running.At(at).InForce.Place);
        estimator.Resume(DemoSeason.Rig, saved.AsMemory(0, saved.Length / 2)).ShouldBeNull();
        estimator.Resume(DemoSeason.Rig, new byte[] { 9, 9, 9, 9, 9 }).ShouldBeNull();
    }

    [Fact]
    public async Task A_page_says_how_far_it_is_while_older_entries_are_worked_in()
    {
        using var app = App.Demo();
        var season = DemoSeason.Until(Now).Entries;
        var seasons = 2 + RigCache.Much / season.Count;
        var rig = app.With(s => s.Add(DemoSeason.Rig with { Name = "Long Haul" },
            [.. Enumerable.Range(0, seasons)
            .SelectMany(n => season.Select(e => e with { At = (e.Instant - Duration.FromDays(150 * (seasons - 1 - n))).WithOffset(e.At.Offset) }))
            .Select((e, i) => e with { Id = $"e{i}" })], owner: 1));

        var first = await app.GetAsync($"/?rig={rig}");
        first.ShouldContain("data-working");
        (await app.GetAsync($"/sensors?rig={rig}")).ShouldShow("[data-verdict]");
        await ((RigCache)app.Services.GetService(typeof(RigCache))!).Idle();
        (await app.GetAsync($"/?rig={rig}")).ShouldNotShow("[data-working]");
        (await app.GetAsync($"/?handler=Progress&rig={rig}")).ShouldBe("{\"share\":null}");
    }
}
