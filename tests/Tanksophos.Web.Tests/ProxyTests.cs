using System.Net;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.Hosting;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Hosting;

namespace Tanksophos.Web.Tests;

/// <summary>A reverse proxy in front: whose word counts, and under which part of the address.</summary>
public sealed class ProxyTests
{
    private static async Task<IHost> StartAsync(ProxyWish wish, string from) =>
        await new HostBuilder().ConfigureWebHost(web => web.UseTestServer().Configure(app =>
        {
            app.Use(async (context, next) =>
            {
                context.Connection.RemoteIpAddress = IPAddress.Parse(from);
                await next(context);
            });
            wish.Use(app);
            app.Run(async context =>
            {
                if (context.Request.Path == "/away") context.Response.Redirect("/sign-in?back=x");
                else if (context.Request.Path == "/out") context.Response.Redirect("https://elsewhere.example/");
                else if (context.Request.Path == "/inside") context.Response.Redirect(context.Request.PathBase + "/run");
                else await context.Response.WriteAsync(
                    string.Join(' ', context.Connection.RemoteIpAddress, context.Request.Scheme,
                    context.Request.PathBase, context.Request.Path, HostingOptions.IsLocal(context)));
            });
        })).StartAsync();

    private static async Task<string> AskAsync(IHost host, string path, params (string Name, string Value)[] headers)
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, path);
        foreach (var (name, value) in headers) request.Headers.TryAddWithoutValidation(name, value);
        using var answer = await host.GetTestClient().SendAsync(request);
        return answer.Headers.Location?.ToString() ?? await answer.Content.ReadAsStringAsync();
    }

    private static ProxyWish Wish(string? proxy, string? part = null) => ProxyWish.Of(proxy is null ? [] : [proxy], part, [], out _)!;

    [Fact]
    public async Task The_word_of_the_named_proxy_counts()
    {
        using var host = await StartAsync(Wish("10.0.0.2", "/tanks"), "10.0.0.2");
        (await AskAsync(host, "/tanks/trip", ("X-Forwarded-For", "192.168.1.77"), ("X-Forwarded-Proto", "https")))
            .ShouldBe("192.168.1.77 https /tanks /trip False");
        (await AskAsync(host, "/trip")).ShouldBe("10.0.0.2 http  /trip False");
    }

    [Fact]
    public async Task A_proxy_that_was_not_named_may_say_what_it_likes()
    {
        using var host = await StartAsync(Wish("10.0.0.2"), "10.0.0.9");
        (await AskAsync(host, "/", ("X-Forwarded-For", "127.0.0.1"), ("X-Forwarded-Proto", "https"))).ShouldBe("10.0.0.9 http  / False");
    }

    // The usual mistake: a proxy on the same machine that nobody told the program of. Its visitors are not this machine.
    [Theory]
    [InlineData("X-Forwarded-For", "203.0.113.5", "False")]
    [InlineData("Forwarded", "for=203.0.113.5", "False")]
    [InlineData("X-Forwarded-Proto", "https", "False")]
    [InlineData("Accept", "text/html", "True")]
    public async Task What_was_passed_on_never_counts_as_this_machine(string header, string value, string local)
    {
        using var host = await StartAsync(Wish(null), "127.0.0.1");
        (await AskAsync(host, "/", (header, value))).ShouldEndWith(local);
    }

    [Fact]
    public async Task A_redirect_stays_within_the_part()
    {
        using var host = await StartAsync(Wish("127.0.0.1", "/tanks/"), "127.0.0.1");
        (await AskAsync(host, "/tanks/away")).ShouldBe("/tanks/sign-in?back=x");
        (await AskAsync(host, "/tanks/inside")).ShouldBe("/tanks/run");
        (await AskAsync(host, "/tanks/out")).ShouldBe("https://elsewhere.example/");
    }

    [Theory]
    [InlineData("a name", null, null, "--proxy")]
    [InlineData("127.0.0.1", "tanks", null, "--path-base")]
    [InlineData("127.0.0.1", "/a b", null, "--path-base")]
    [InlineData(null, null, "*", "--host")]
    [InlineData(null, null, "two words", "--host")]
    public void Wrong_options_are_named(string? proxy, string? part, string? name, string option)
    {
        ProxyWish.Of(proxy is null ? [] : [proxy], part, name is null ? [] : [name], out var wrong).ShouldBeNull();
        wrong.ShouldNotBeNull().ShouldStartWith(option);
        ProxyWish.Of(["127.0.0.1", "::1"], "/tanks", ["tanks.example.org"], out wrong).ShouldNotBeNull();
        wrong.ShouldBeNull();
    }
}
