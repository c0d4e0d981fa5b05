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
    [InlineData("Reading", "tank=black&via=panel&lit=deep", "panel")]
    [InlineData("Reading", "tank=brown&via=panel&lit=low", "tank")]
    [InlineData("Reading", "via=panel&lit=low&tank=", "tank")]
    [InlineData("Reading", "via=panel&lit=low", "tank")]
    [InlineData("Dump", "", "tank")]
    [InlineData("Water", "amount=3 gal&purpose=starter", "tank")]
    [InlineData("Valve", "state=open", "tank")]
    [InlineData("Dose", "tank=bathtub", "tank")]
    [InlineData("People", "", "people")]
    [InlineData("Stay", "", "hookup")]
    [InlineData("Reading", "tank=black&via=sight&fraction=120", "level")]
    [InlineData("Reading", "tank=black&via=sight&fraction=NaN", "level")]
    [InlineData("Reading", "tank=galley&via=panel&percent=", "panel")]
    [InlineData("Reading", "tank=black&via=guess", "reading")]
    [InlineData("Dump", "tank=black&minutes=-1", "minutes")]
    [InlineData("Dump", "tank=black&flow=gush", "flow")]
    [InlineData("Dump", "tank=black&at=tomorrow", "time")]
    [InlineData("Dump", "tank=black&at=2026-06-12T10:00", "time")]
    [InlineData("Dump", "tank=black&at=0001-01-01T00:00", "time")]
    [InlineData("Water", "tank=black&typed=-3 gal&purpose=starter", "water")]
    [InlineData("Water", "tank=black&typed=a bucket&purpose=starter", "water")]
    [InlineData("Water", "tank=black&amount=0&purpose=starter", "water")]
    [InlineData("Water", "tank=black&amount=900 gal&purpose=starter", "water")]
    [InlineData("Water", "tank=black&amount=3 gal&purpose=fun", "purpose")]
    [InlineData("Valve", "tank=bath&state=ajar", "valve")]
    [InlineData("People", "count=-1", "people")]
    [InlineData("People", "typed=9999999999999", "people")]
    [InlineData("Stay", "hookup=marina", "hookup")]
    public async Task What_cannot_be_taken_is_said_by_name_and_nothing_is_written(string handler, string form, string field)
    {
        var before = Count;

        var (status, html) = await app.Instance.PostAsync("/", $"/?handler={handler}", TodayTests.Fields(form));

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldRefuse(field);
        Count.ShouldBe(before);
    }
}
