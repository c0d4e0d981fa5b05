using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>Whether a check was answered: what was just answered is not asked again until something new comes up.</summary>
internal static class Answers
{
    private static readonly Duration AnswerLasts = Duration.FromDays(30);

    /// <summary>Whether the answer to a check still holds.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="code">The check's word.</param>
    /// <param name="tank">Its tank; null for the rig.</param>
    /// <param name="now">The present moment.</param>
    public static bool Stands(IReadOnlyList<LogEntry> entries, string code, string? tank, Instant now)
    {
        ArgumentNullException.ThrowIfNull(entries);
        LogEntry? answer = code switch
        {
            "panel-tomorrow" => null,
            "flashlight" or "bucket-test" or "metered-fill" => entries.Kind<ReadingEntry>()
                .LastOrDefault(r => r.Via is not ReadingVia.Panel && r.Tank == tank && r.Instant <= now),
            "hard-flush-then-panel" => null,
            _ => Codes<CheckCode>.TryParse(code, out var check) ? entries.Kind<CheckEntry>()
                .LastOrDefault(c => c.Code == check && (c.Tank is null || tank is null || c.Tank == tank) && c.Instant <= now) : null,
        };
        if (answer is null || now - answer.Instant > AnswerLasts) return false;
        if (code is "flashlight" or "bucket-test" or "metered-fill")
            return now - answer.Instant <= Duration.FromHours(12) && !entries.Between(answer.Instant + Duration.Epsilon, now)
            .Any(e => e.Tank == tank && e is DumpEntry or FlushEntry or SymptomEntry);
        return !entries.Between(answer.Instant + Duration.Epsilon, now).Any(e => code switch
        {
            "battery-ok" or "wiring-ok" =>
                e is SymptomEntry { Code: SymptomCode.LampsDead or SymptomCode.LampsAllOn }
                    or ServiceEntry { Code: ServiceCode.WiringRepaired or ServiceCode.ProbeReplaced },
            "sniff-test" => e is OdorEntry || e is DumpEntry or FlushEntry,
            "cap-dry" => e is SymptomEntry { Code: SymptomCode.ValveDrips or SymptomCode.ValveWontClose } or DumpEntry or OdorEntry,
            "paper-dissolves" => e is SymptomEntry { Code: SymptomCode.HeapSeen },
            "bowl-holds-water" => e is SymptomEntry { Code: SymptomCode.BowlGoesDry } or OdorEntry,
            _ => e is OdorEntry or SymptomEntry,
        });
    }
}
