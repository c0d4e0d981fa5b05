using System.Net;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.HttpOverrides;

namespace Tanksophos.Web.Hosting;

/// <summary>A reverse proxy in front of the program: whose word is taken, under which part of the address it shows the program, by which names.</summary>
/// <param name="Proxies">Addresses of proxies that say who asks; anybody else who says so is not believed.</param>
/// <param name="PathBase">The part of the address, such as /tanks; empty for the top.</param>
/// <param name="Hosts">Names by which it may be asked for.</param>
internal sealed partial record ProxyWish(IReadOnlyList<IPAddress> Proxies, string PathBase, IReadOnlyList<string> Hosts)
{
    /// <summary>Reads the options.</summary>
    /// <returns>Null if one is wrong; then <paramref name="wrong"/> says what is accepted.</returns>
    public static ProxyWish? Of(IReadOnlyList<string> proxies, string? pathBase, IReadOnlyList<string> hosts, out string? wrong)
    {
        wrong = null;
        var addresses = new List<IPAddress>();
        foreach (var proxy in proxies)
        {
            if (IPAddress.TryParse(proxy, out var address)) addresses.Add(address);
            else wrong = "--proxy: the address of a reverse proxy is accepted, such as 127.0.0.1 or 192.168.1.2.";
        }
        var part = pathBase?.TrimEnd('/') ?? "";
        if (!Part().IsMatch(part)) wrong = "--path-base: a part of an address is accepted, such as /tanks.";
        if (hosts.Any(h => !Name().IsMatch(h))) wrong = "--host: a name is accepted, such as tanks.example.org.";
        return wrong is null ? new ProxyWish(addresses, part, hosts) : null;
    }

    /// <summary>Puts it in front of everything else.</summary>
    public void Use(IApplicationBuilder app)
    {
        ArgumentNullException.ThrowIfNull(app);
        if (Proxies.Count > 0)
        {
            var forwarded = new ForwardedHeadersOptions { ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto };
            forwarded.KnownProxies.Clear();
            forwarded.KnownIPNetworks.Clear();
            foreach (var proxy in Proxies) forwarded.KnownProxies.Add(proxy);
            app.UseForwardedHeaders(forwarded);
        }
        if (PathBase.Length == 0) return;
        app.UsePathBase(PathBase);
        app.Use(async (context, next) =>
        {
            // A redirect within the program stays within its part of the address.
            if (context.Request.PathBase.HasValue)
                context.Response.OnStarting(() =>
                {
                    var to = context.Response.Headers.Location.ToString();
                    if (to is "/" or ['/', not '/', ..] && !IsWithin(to)) context.Response.Headers.Location = PathBase + to;
                    return Task.CompletedTask;
                });
            await next(context);
        });
    }

    private bool IsWithin(string address) => address.StartsWith(PathBase, StringComparison.Ordinal)
        && (address.Length == PathBase.Length || address[PathBase.Length] is '/' or '?');

    [GeneratedRegex("^(/[a-z0-9-]{1,40}){0,4}$", RegexOptions.IgnoreCase)]
    private static partial Regex Part();

    [GeneratedRegex(@"^[a-z0-9.-]{1,253}$|^\[[0-9a-f:]+\]$", RegexOptions.IgnoreCase)]
    private static partial Regex Name();
}
