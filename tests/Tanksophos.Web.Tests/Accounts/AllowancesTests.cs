using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.RateLimiting;
using Tanksophos.Web.Accounts;

namespace Tanksophos.Web.Tests.Accounts;

public sealed class AllowancesTests
{
    private readonly Allowances allowances = new();

    private async Task<HttpContext> Ask(string token)
    {
        var context = new DefaultHttpContext();
        context.SetEndpoint(new Endpoint(null, new EndpointMetadataCollection(new EnableRateLimitingAttribute(ProgramAllowance.Policy)), "api"));
        context.Request.Headers.Authorization = "Bearer " + token;
        await allowances.CheckAsync(context, _ => Task.CompletedTask);
        return context;
    }

    [Fact]
    public async Task A_program_that_asks_in_a_loop_waits_and_another_one_does_not()
    {
        for (var i = 0; i < ProgramAllowance.Burst; i++) (await Ask("one")).Response.StatusCode.ShouldBe(200);
        var late = await Ask("one");
        late.Response.StatusCode.ShouldBe(429);
        int.Parse(late.Response.Headers.RetryAfter.ToString()).ShouldBeInRange(1, 60);
        (await Ask("two")).Response.StatusCode.ShouldBe(200);
    }

    [Fact]
    public async Task Made_up_tokens_without_end_fill_no_memory_and_share_one_allowance()
    {
        await Ask("mine");
        var refused = 0;
        for (var i = 0; i < Allowances.Most + ProgramAllowance.Burst + 200; i++) if ((await Ask($"made-up-{i}")).Response.StatusCode == 429) refused++;
        allowances.Count.ShouldBeLessThanOrEqualTo(Allowances.Most + 1);
        refused.ShouldBeGreaterThan(0);
        (await Ask("mine")).Response.StatusCode.ShouldBe(200);
    }
}
