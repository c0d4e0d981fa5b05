using System.Reflection;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Accounts;

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
        needs ??= page.HandlerTypeInfo.GetCustomAttribute<NeedsAttribute>() is { } all && (all.Role > Role.Crew || handler.HttpMethod is "Get") ? all
            : new NeedsAttribute(handler.HttpMethod is "Get" ? Role.Guest : Role.Crew);
        if (house.IsSetAside) context.Result = new RedirectToPageResult(SetAsidePage);
        else if (house.Rig is null) context.Result = new RedirectToPageResult("/Start/Index");
        else if (house.Role < needs.Role) context.Result = new StatusCodeResult(StatusCodes.Status403Forbidden);
        // Gas goes before every page of the rig, until it is logged as ruled out.
        else if (handler.HttpMethod is "Get" && handler.Name is null && page.ViewEnginePath != AlarmPage && house.RigSnapshot.Gas is not null)
            context.Result = new RedirectToPageResult(AlarmPage);
        if (context.Result is not null || handler.HttpMethod is "Get" || house.Rig is not { } rig) return;
        version = store.Log.Version(rig.Id);
        after.Before(rig);
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
        if (context.HandlerMethod?.HttpMethod is null or "Get" || context.Exception is not null || house.Rig is not { } rig) return;
        after.Written(rig.Id, changed: store.Log.Version(rig.Id) != version);
    }

    private static T? Of<T>(MethodInfo method, CompiledPageActionDescriptor page) where T : Attribute =>
        method.GetCustomAttribute<T>() ?? page.HandlerTypeInfo.GetCustomAttribute<T>();
}
