using System.Net;

namespace Tanksophos.Web.Accounts;

/// <summary>How the program is reached.</summary>
/// <param name="Demo">Whether it was started as a demonstration.</param>
/// <param name="Lan">Whether it answers other machines.</param>
/// <param name="SetUpCode">Code that the first account needs when it is made from another machine; printed at the start.</param>
public sealed record HostingOptions(bool Demo, bool Lan, string SetUpCode)
{
    /// <summary>
    /// Whether a request comes from this machine itself. What somebody says was passed on does not, whoever passed it on: a proxy that was not named at the
    /// start may sit on this machine.
    /// </summary>
    public static bool IsLocal(HttpContext context) =>
        context.Connection.RemoteIpAddress is { } from ? IPAddress.IsLoopback(from) && !PassedOn(context) : !PassedOn(context);

    private static bool PassedOn(HttpContext context) => Array.Exists(Passing, context.Request.Headers.ContainsKey);

    private static readonly string[] Passing = ["X-Forwarded-For", "Forwarded", "X-Forwarded-Host", "X-Forwarded-Proto"];

    /// <summary>Whether the demonstration may be entered with one click: only on the machine itself, and only if no other machine is answered.</summary>
    public bool OneClick(HttpContext context) => Demo && !Lan && IsLocal(context);
}
