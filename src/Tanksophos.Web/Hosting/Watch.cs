using System.Diagnostics;
using System.Globalization;
using Tanksophos.Web.Accounts;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Tanksophos.Data;

namespace Tanksophos.Web.Hosting;

/// <summary>For who watches over the program: whether it is well, and figures for this machine only. Nothing of anybody's rig.</summary>
internal static class Watch
{
    public static void Map(WebApplication app)
    {
        app.MapGet("/health", (TanksophosContext context) => Health(context)).AllowAnonymous().ExcludeFromDescription();
        app.MapGet("/metrics", (HttpContext http) => !HostingOptions.IsLocal(http) ? Results.NotFound()
            : Results.Text(Metrics(), "text/plain; version=0.0.4")).AllowAnonymous().ExcludeFromDescription();
    }

    private static IResult Health(TanksophosContext context)
    {
        try
        {
            context.Database.ExecuteSqlRaw("SELECT 1");
            return Results.Json(new { status = "ok" });
        }
        catch (Exception e) when (e is SqliteException or IOException or InvalidOperationException)
        {
            return Results.Json(new { status = "failing", database = "cannot be read" }, statusCode: 503);
        }
    }

    private static string Metrics()
    {
        using var process = Process.GetCurrentProcess();
        FormattableString text = $"""
            # HELP process_resident_memory_bytes Memory that the program takes.
            # TYPE process_resident_memory_bytes gauge
            process_resident_memory_bytes {process.WorkingSet64}
            # HELP process_cpu_seconds_total Processor time that it has taken.
            # TYPE process_cpu_seconds_total counter
            process_cpu_seconds_total {process.TotalProcessorTime.TotalSeconds}
            # HELP tanksophos_uptime_seconds Seconds since it was started.
            # TYPE tanksophos_uptime_seconds gauge
            tanksophos_uptime_seconds {(DateTime.UtcNow - process.StartTime.ToUniversalTime()).TotalSeconds}
            # HELP dotnet_gc_collections_total Full collections of memory.
            # TYPE dotnet_gc_collections_total counter
            dotnet_gc_collections_total {GC.CollectionCount(2)}

            """;
        return text.ToString(CultureInfo.InvariantCulture);
    }
}
