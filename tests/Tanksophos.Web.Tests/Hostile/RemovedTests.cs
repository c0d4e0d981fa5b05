using System.Net;
using Microsoft.Extensions.DependencyInjection;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests.Hostile;

/// <summary>What was taken away is gone: a member's stream, a photo's bytes.</summary>
public sealed class RemovedTests : IDisposable
{
    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    [Fact]
    public async Task A_photo_that_was_taken_off_is_not_handed_out_and_comes_back_when_it_is_put_back()
    {
        using var scope = app.Services.CreateScope();
        var photos = scope.ServiceProvider.GetRequiredService<PhotoStore>();
        var id = photos.Add(1, app.With(s => s.Log.Page(1, 0, 1)).Entries[0].Key, PhotoFile.Check(Pictures.Png(), out _)!, "Demo")!.Value;
        async Task<HttpResponseMessage> GetAsync() => await app.Client.GetAsync(new Uri($"/photos/{id}?rig=1", UriKind.Relative));
        var there = await GetAsync();
        there.StatusCode.ShouldBe(HttpStatusCode.OK);
        there.Headers.CacheControl!.NoCache.ShouldBeTrue();
        photos.Remove(1, id, true);
        (await GetAsync()).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        photos.Remove(1, id, false);
        (await GetAsync()).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task The_stream_of_a_member_who_was_taken_out_ends()
    {
        await app.PostAsync("/run", "/run?handler=Start", ("form", "full"));
        string word;
        using (var scope = app.Services.CreateScope()) word = scope.ServiceProvider.GetRequiredService<PeopleStore>().Invite(1, Role.Crew);
        var owner = app.Client;
        var crew = app.Visitor();
        app.As(crew);
        (await app.PostAsync($"/join/{word}", $"/join/{word}", ("name", "Crew"), ("passphrase", App.Passphrase),
            ("again", App.Passphrase))).Status.ShouldBe(HttpStatusCode.OK);
        using var response = await crew.GetAsync(new Uri("/run/1?handler=Live", UriKind.Relative), HttpCompletionOption.ResponseHeadersRead);
        using var stream = new StreamReader(await response.Content.ReadAsStreamAsync());
        (await stream.ReadLineAsync())!.ShouldStartWith("data:");
        using (var scope = app.Services.CreateScope())
        {
            var people = scope.ServiceProvider.GetRequiredService<PeopleStore>();
            people.Leave(1, people.Members(1).First(m => m.Name == "Crew").PersonId).ShouldBeTrue();
        }
        app.Services.GetRequiredService<RunBell>().Ring(1);
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        var rest = await stream.ReadToEndAsync(patience.Token);
        rest.Trim().ShouldBeEmpty();
        app.As(owner);
    }
}
