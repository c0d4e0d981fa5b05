using Microsoft.Extensions.DependencyInjection;
using Tanksophos.Data;
using Tanksophos.Hostile;

namespace Tanksophos.Web.Tests.Hostile;

/// <summary>Hostile forms, files, presses and API requests; the long runs are in the bench.</summary>
public sealed class WebFuzzTests : IDisposable
{
    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    [Fact]
    public async Task No_request_breaks_a_page_and_nothing_is_half_written()
    {
        await app.PostAsync("/run", "/run?handler=Start", ("form", "full"));
        using var scope = app.Services.CreateScope();
        var fuzz = new WebFuzz(app.Client, scope.ServiceProvider.GetRequiredService<PeopleStore>().NewToken(1, "fuzz",
            TokenScopes.Read | TokenScopes.Log | TokenScopes.Devices), 16);
        await fuzz.RunAsync(400);
        fuzz.Requests.ShouldBeGreaterThan(350);
        fuzz.Broken.ShouldBeEmpty();
    }
}
