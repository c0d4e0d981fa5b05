using System.Net;

namespace Tanksophos.Web.Tests;

/// <summary>One application with the demonstration's rig for tests that write nothing.</summary>
public sealed class SharedDemo : IDisposable
{
    public App Instance { get; } = App.Demo();

    public void Dispose() => Instance.Dispose();
}

public sealed class TodayRefusalTests(SharedDemo app) : IClassFixture<SharedDemo>
{
    private int Count => app.Instance.With(s => s.Log.All(1).Count);

    [Theory]
    [InlineData("Reading", "tank=black&via=panel&lit=deep", "no lamp 'deep'")]
    [InlineData("Reading", "tank=brown&via=panel&lit=low", "no tank 'brown'")]
    [InlineData("Reading", "via=panel&lit=low&tank=", "Tank: choose one")]
    [InlineData("Reading", "via=panel&lit=low", "Tank: choose one")]
    [InlineData("Dump", "", "Tank: choose one")]
    [InlineData("Water", "amount=3 gal&purpose=starter", "Tank: choose one")]
    [InlineData("Valve", "state=open", "Tank: choose one")]
    [InlineData("Dose", "tank=bathtub", "no tank 'bathtub'")]
    [InlineData("People", "", "0 to 100")]
    [InlineData("Stay", "", "full, partial")]
    [InlineData("Reading", "tank=black&via=sight&fraction=120", "0 to 100")]
    [InlineData("Reading", "tank=black&via=sight&fraction=NaN", "0 to 100")]
    [InlineData("Reading", "tank=galley&via=panel&percent=", "0 to 100")]
    [InlineData("Reading", "tank=black&via=guess", "panel, sight, meter")]
    [InlineData("Dump", "tank=black&minutes=-1", "0 to 120")]
    [InlineData("Dump", "tank=black&flow=gush", "rush, steady")]
    [InlineData("Dump", "tank=black&at=tomorrow", "2026-05-09T18:00")]
    [InlineData("Dump", "tank=black&at=2026-06-12T10:00", "a day ahead")]
    [InlineData("Dump", "tank=black&at=0001-01-01T00:00", "2026-05-09T18:00")]
    [InlineData("Water", "tank=black&typed=-3 gal&purpose=starter", "15 gal")]
    [InlineData("Water", "tank=black&typed=a bucket&purpose=starter", "15 gal")]
    [InlineData("Water", "tank=black&amount=0&purpose=starter", "more than 0")]
    [InlineData("Water", "tank=black&amount=900 gal&purpose=starter", "do not fit")]
    [InlineData("Water", "tank=black&amount=3 gal&purpose=fun", "starter, top-up")]
    [InlineData("Valve", "tank=bath&state=ajar", "open or closed")]
    [InlineData("People", "count=-1", "0 to 100")]
    [InlineData("People", "typed=9999999999999", "0 to 100")]
    [InlineData("Stay", "hookup=marina", "full, partial")]
    public async Task What_cannot_be_taken_is_said_by_name_and_nothing_is_written(string handler, string form, string words)
    {
        var before = Count;

        var (status, html) = await app.Instance.PostAsync("/", $"/?handler={handler}", TodayTests.Fields(form));

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain(words);
        html.ShouldContain("Nothing was written.");
        Count.ShouldBe(before);
    }
}
