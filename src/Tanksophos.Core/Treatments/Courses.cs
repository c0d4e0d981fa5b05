using NodaTime;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Treatments;

/// <summary>How far a treatment is that ends with a dump.</summary>
public enum CourseStage
{
    /// <summary>It stands; the tank is left alone until it has.</summary>
    Stands,

    /// <summary>It waits for a drive.</summary>
    WantsDrive,

    /// <summary>It has done its work: dump and flush.</summary>
    Dump,
}

/// <summary>A treatment under way, read off the log; it ends by itself when the tank is dumped.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="Recipe">What was dosed.</param>
/// <param name="Since">When.</param>
/// <param name="Stage">How far it is.</param>
/// <param name="Until">When it will have stood; null where a drive is waited for.</param>
/// <param name="DrivenHours">Hours driven since.</param>
/// <param name="InARow">Which one in a row it is, dumps with the same treatment counted, from 1.</param>
public sealed record Course(string Tank, DoseRecipe Recipe, Instant Since, CourseStage Stage, Instant? Until, double DrivenHours, int InARow);

/// <summary>Treatments under way, and the deep clean that is due.</summary>
public static class Courses
{
    /// <summary>The treatments under way in a tank, oldest first; routine doses are none.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="tank">Id of the tank.</param>
    /// <param name="now">The present moment.</param>
    public static IReadOnlyList<Course> Build(IReadOnlyList<LogEntry> entries, string tank, Instant now)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var courses = new List<Course>();
        foreach (var working in InTheTank.Compute(entries, tank, now).Treatments)
        {
            if (Recipes.Find(working.Recipe) is not { Then: true } recipe) continue;
            var driven = entries.Kind<DriveEntry>().Reverse().TakeWhile(d => d.Instant >= working.Since - Duration.FromMinutes(5))
                .Where(d => d.Instant >= working.Since - Duration.FromMinutes(5) && d.Instant <= now).Sum(d => Math.Min(d.Hours, (now - d.Instant).TotalHours));
            var until = recipe.Stands is { } stands ? working.Since + stands : (Instant?)null;
            var done = recipe.Motion == Motion.Drive ? driven > 0 && driven >= (recipe.DriveHours ?? 0) : until is { } end && end <= now;
            courses.Add(new Course(tank, working.Recipe, working.Since, done ? CourseStage.Dump : recipe.Motion == Motion.Drive ? CourseStage.WantsDrive
                : CourseStage.Stands, until, driven, Before(entries, tank, working) + 1));
        }
        return courses;
    }

    /// <summary>When a tank was cleaned deeply: a soak, a scrub or reverse floods that were dumped count.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="tank">Id of the tank.</param>
    /// <returns>Oldest first.</returns>
    public static IReadOnlyList<Instant> DeepCleaned(IReadOnlyList<LogEntry> entries, string tank)
    {
        ArgumentNullException.ThrowIfNull(entries);
        return entries.Fold((nameof(DeepCleaned), tank), (Done: (IReadOnlyList<Instant>)[], Scrubbed: false),
            (so, entry) => entry.Tank != tank ? so : entry switch
            {
                DoseEntry dose when DeepClean.Is(dose.Recipe) => (so.Done, true),
                DumpEntry { Emptied: true } when so.Scrubbed => ([.. so.Done, entry.Instant], false),
                FlushEntry flush when DeepClean.Is(flush) => ([.. so.Done, entry.Instant], so.Scrubbed),
                ServiceEntry { Code: ServiceCode.PressureJet } => ([.. so.Done, entry.Instant], so.Scrubbed),
                _ => so,
            }).Done;
    }

    // Fills before this one that held the same treatment when they were dumped, without one between that did not.
    private static int Before(IReadOnlyList<LogEntry> entries, string tank, Working working)
    {
        // From that fill backwards: each dump ends the fill before it, which held the treatment or not.
        var count = 0;
        bool? held = null;
        var deeds = entries.Deeds(tank);
        for (var i = deeds.Count - 1; i >= 0; i--)
        {
            if (deeds[i].Instant > working.Since || ReferenceEquals(deeds[i], working.Entry)) continue;
            if (deeds[i] is DumpEntry { Emptied: true })
            {
                if (held == false) return count;
                if (held == true) count++;
                held = false;
            }
            else if (held == false && deeds[i] is DoseEntry dose && dose.Recipe == working.Recipe) held = true;
        }
        if (held == true) count++;
        return count;
    }
}
