using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Tests.Simulation;

public class DemoSeasonTests
{
    internal static readonly Logbook Season = DemoSeason.Until(Instant.FromUtc(2026, 6, 9, 23, 30));

    [Fact]
    public void The_same_seed_and_moment_give_the_same_log_and_another_seed_another()
    {
        var now = Instant.FromUtc(2026, 6, 9, 23, 30);

        LogbookFormat.Write(DemoSeason.Until(now)).ShouldBe(LogbookFormat.Write(Season));
        LogbookFormat.Write(DemoSeason.Until(now, 5)).ShouldNotBe(LogbookFormat.Write(Season));
    }

    [Fact]
    public void It_is_a_valid_document_that_ends_now()
    {
        var now = Instant.FromUtc(2026, 2, 1, 3, 0);
        var season = DemoSeason.Until(now);

        LogbookFormat.Read(LogbookFormat.Write(season)).Errors.ShouldBeEmpty();
        season.Entries.ShouldAllBe(e => e.Instant <= now);
        (now - season.Entries[^1].Instant).ShouldBeLessThan(Duration.FromHours(13));
    }

    [Fact]
    public void At_any_hour_of_any_day_it_shows_one_lying_lamp_and_a_next_dump()
    {
        for (var hour = 0; hour < 72; hour += 5)
        {
            var now = Instant.FromUtc(2026, 3, 6, 0, 0) + Duration.FromHours(hour); // over a clock change
            var season = DemoSeason.Until(now) with { AsOf = now.WithOffset(Offset.Zero) };
            var belief = new JointEstimator().Estimate(season);

            belief.Tanks.SelectMany(t => t.Probes).Where(p => !p.Believed).ShouldHaveSingleItem().Probe.Label.ShouldBe("1/3");
            Advice.For(season, belief).Steps.ShouldContain(s => s.Code == StepCode.DumpBlack && s.Due < now + Duration.FromDays(4));
        }
    }

    [Fact]
    public void The_generator_is_even_and_its_numbers_are_fixed()
    {
        var random = new SeededRandom(42);
        var uniform = Enumerable.Range(0, 20_000).Select(_ => random.Uniform()).ToList();
        uniform.Average().ShouldBe(0.5, 0.01);
        Enumerable.Range(0, 20_000).Select(_ => random.Scatter(0.35)).Average().ShouldBe(1, 0.02);
        new SeededRandom(42).Uniform().ShouldBe(uniform[0]);
        uniform[0].ShouldNotBe(new SeededRandom(43).Uniform());
    }
}
