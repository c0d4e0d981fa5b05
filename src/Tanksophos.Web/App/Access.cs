using System.Globalization;
using System.Net;
using System.Reflection;
using System.Security.Claims;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Razor.TagHelpers;
using Tanksophos.Data;

namespace Tanksophos.Web.App;

/// <summary>What a page or one of its handlers asks of the person, where it is not the usual: reading asks for a guest, everything else for crew.</summary>
[AttributeUsage(AttributeTargets.Class | AttributeTargets.Method)]
public sealed class NeedsAttribute(Role role) : Attribute
{
    /// <summary>The least role in the rig at hand.</summary>
    public Role Role { get; } = role;
}

/// <summary>The page is about no rig: whoever is signed in may use it.</summary>
[AttributeUsage(AttributeTargets.Class | AttributeTargets.Method)]
public sealed class NoRigAttribute : Attribute;

/// <summary>The page is for who keeps the installation.</summary>
[AttributeUsage(AttributeTargets.Class | AttributeTargets.Method)]
public sealed class KeeperOnlyAttribute : Attribute;

/// <summary>
/// Checks before every page handler that the person belongs to the rig at hand and may do this there. A rig of others is not there at all (404);
/// in an own rig, what one may not do is refused (403).
/// </summary>
internal sealed class AccessFilter(CurrentRequest house, RigStore store, AfterWriting after) : IPageFilter
{
    private const string AlarmPage = "/Alarm/Index", SetAsidePage = "/SetAside/Index";

    private long version;

    public void OnPageHandlerSelected(PageHandlerSelectedContext context)
    {
    }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        if (context.HandlerMethod is not { } handler) // a name nobody answers to; the page alone is never shown
        {
            context.Result = new NotFoundResult();
            return;
        }
        var page = context.ActionDescriptor;
        if (page.EndpointMetadata.OfType<IAllowAnonymous>().Any()) return;
        if (Of<KeeperOnlyAttribute>(handler.MethodInfo, page) is not null)
        {
            if (!house.IsKeeper) context.Result = new StatusCodeResult(StatusCodes.Status403Forbidden);
            return;
        }
        if (house.AskedForOthers)
        {
            context.Result = new NotFoundResult();
            return;
        }
        var needs = handler.MethodInfo.GetCustomAttribute<NeedsAttribute>();
        if (needs is null && Of<NoRigAttribute>(handler.MethodInfo, page) is not null) return;
        needs ??= page.HandlerTypeInfo.GetCustomAttribute<NeedsAttribute>() is { } all && (all.Role > Role.Crew || handler.HttpMethod is "Get") ? all : new NeedsAttribute(handler.HttpMethod is "Get" ? Role.Guest : Role.Crew);
        if (house.IsSetAside) context.Result = new RedirectToPageResult(SetAsidePage);
        else if (house.Rig is null) context.Result = new RedirectToPageResult("/Start/Index");
        else if (house.Role < needs.Role) context.Result = new StatusCodeResult(StatusCodes.Status403Forbidden);
        // Gas goes before every page of the rig, until it is logged as ruled out.
        else if (handler.HttpMethod is "Get" && handler.Name is null && page.ViewEnginePath != AlarmPage && house.RigSnapshot.Gas is not null) context.Result = new RedirectToPageResult(AlarmPage);
        if (context.Result is not null || handler.HttpMethod is "Get" || house.Rig is not { } rig) return;
        version = store.Version(rig.Id);
        after.Before(rig);
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
        if (context.HandlerMethod?.HttpMethod is null or "Get" || context.Exception is not null || house.Rig is not { } rig) return;
        after.Written(rig.Id, changed: store.Version(rig.Id) != version);
    }

    private static T? Of<T>(MethodInfo method, CompiledPageActionDescriptor page) where T : Attribute =>
        method.GetCustomAttribute<T>() ?? page.HandlerTypeInfo.GetCustomAttribute<T>();
}

/// <summary>What is kept beside the log once something was written down; it spares time later, and may be lost.</summary>
public sealed partial class AfterWriting(RigStore store, RigCache memory, TripService trips, ILogger<AfterWriting> log)
{
    /// <summary>Notes by which plan is done what comes now.</summary>
    public void Before(StoredRig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        try
        {
            trips.Follow(rig, plan: false);
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            NotKept(log, rig.Id, e);
        }
    }

    /// <summary>Brings a rig's trip and its saved estimate up to what was written.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="changed">Whether its log changed; otherwise its trip or description may have.</param>
    public void Written(int rigId, bool changed)
    {
        try
        {
            if (store.Find(rigId) is not { } rig) return;
            trips.Follow(rig, plan: true);
            if (changed) memory.Keep(rig, store);
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            NotKept(log, rigId, e);
        }
    }

    [LoggerMessage(LogLevel.Warning, "What follows from an entry of rig {Rig} was not kept; it is worked out again when it is asked for")]
    private static partial void NotKept(ILogger log, int rig, Exception e);
}

/// <summary>
/// The same for programs that log one entry after another: once they pause for a moment, so that no entry waits for a plan.
/// </summary>
public sealed class AfterPrograms(IServiceScopeFactory scopes, IHostApplicationLifetime life)
{
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(2);

    private readonly System.Collections.Concurrent.ConcurrentDictionary<int, byte> waiting = new();

    /// <summary>Notes that something was written into a rig's log.</summary>
    public void Written(int rigId)
    {
        if (!waiting.TryAdd(rigId, 0)) return;
        _ = Task.Run(async () =>
        {
            await Task.Delay(Pause);
            waiting.TryRemove(rigId, out _);
            if (life.ApplicationStopping.IsCancellationRequested) return;
            using var scope = scopes.CreateScope();
            scope.ServiceProvider.GetRequiredService<AfterWriting>().Written(rigId, changed: true);
        });
    }
}

/// <summary>
/// Every form says which rig it was opened for, so that a form in one tab does not land in the rig that was chosen meanwhile in another.
/// </summary>
[HtmlTargetElement("form", Attributes = "method")]
public sealed class RigFieldTagHelper(CurrentRequest house) : TagHelper
{
    /// <summary>The name of the field.</summary>
    public const string Field = "__rig";

    /// <inheritdoc/>
    public override int Order => 2000;

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        if (output.Attributes["method"]?.Value?.ToString() != "post" || house.Rig is not { } rig) return;
        output.PostContent.AppendHtml($"<input type=\"hidden\" name=\"{Field}\" value=\"{rig.Id.ToString(CultureInfo.InvariantCulture)}\">");
    }
}

/// <summary>How the program is reached.</summary>
/// <param name="Demo">Whether it was started as a demonstration.</param>
/// <param name="Lan">Whether it answers other machines.</param>
/// <param name="SetUpCode">Word that the first account needs when it is made from another machine; printed at the start.</param>
public sealed record Hosting(bool Demo, bool Lan, string SetUpCode)
{
    /// <summary>Whether a request comes from this machine itself.</summary>
    public static bool IsLocal(HttpContext context) => context.Connection.RemoteIpAddress is not { } from || IPAddress.IsLoopback(from);

    /// <summary>Whether the demonstration may be entered with one click: only on the machine itself, and only if no other machine is answered.</summary>
    public bool OneClick(HttpContext context) => Demo && !Lan && IsLocal(context);
}

/// <summary>Reads the signed-in person out of the request.</summary>
internal static class Persons
{
    public static int? Id(this ClaimsPrincipal person) =>
        person.Identity?.IsAuthenticated == true && int.TryParse(person.FindFirstValue(ClaimTypes.NameIdentifier), NumberStyles.None, CultureInfo.InvariantCulture, out var id) ? id : null;
}
