using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>A drain, a valve or the outlet that somebody points at, with what can be noticed there.</summary>
/// <param name="Tank">The tank; null for the outlet.</param>
/// <param name="Drain">The rig's word for the drain; null for a valve and the outlet.</param>
/// <param name="Title">What it is called.</param>
/// <param name="Symptoms">What can be noticed there.</param>
/// <param name="Checks">What can be found there, as a check that fails or passes.</param>
/// <param name="Smells">Where a smell there would be said to be.</param>
public sealed record PointedAt(Tank? Tank, string? Drain, string Title,
    IReadOnlyList<(SymptomCode Code, string Name)> Symptoms, IReadOnlyList<(CheckCode Code, CheckResult Result, string Name)> Checks,
        IReadOnlyList<(OdorPlace Place, string Name)> Smells)
{
    /// <summary>The words by which the page asks for a valve and the outlet.</summary>
    public const string Valve = "valve", Outlet = "outlet";

    /// <summary>A drain's word as an entry keeps it: a rig may call it by more letters than an entry takes.</summary>
    public static string Kept(string drain)
    {
        ArgumentNullException.ThrowIfNull(drain);
        return drain.Length <= EntryCodec.LongestFixture ? drain : drain[..EntryCodec.LongestFixture];
    }

    /// <summary>Finds it on a rig; null if there is no such part.</summary>
    public static PointedAt? Find(Rig rig, string? tank, string? drain, string? part)
    {
        ArgumentNullException.ThrowIfNull(rig);
        if (part == Outlet)
            return new(null, null, FindSays.OutletCapAndHose, [],
                [(CheckCode.CapDry, CheckResult.Fail, FindSays.ItDripsAtTheCap), (CheckCode.CapDry, CheckResult.Pass, FindSays.TheCapIsDry),
                (CheckCode.HoseSound, CheckResult.Fail, FindSays.HoseOrGasketIsBad)],
                [(OdorPlace.Outside, FindSays.ItSmellsOutside), (OdorPlace.StorageBay, FindSays.ItSmellsInTheBay)]);
        if (rig.Find(tank) is not { } of) return null;
        if (part == Valve)
            return new(of, null, FindSays.TheValveOf(TimeWords.Lower(of.Name)),
                [(SymptomCode.ValveDrips, SharedSays.ItDrips), (SymptomCode.ValveStiff, FindSays.ItsStiff), (SymptomCode.ValveWontClose, FindSays.ItWontClose),
                (SymptomCode.NothingComesOut, FindSays.OpenButNothingComes)], [], []);
        if (drain is null || !PipePlan.DrainsOf(of).Contains(drain)) return null;
        var name = drain.Replace('-', ' ');
        if (drain == PipePlan.Toilet)
            return new(of, drain, FindSays.TheToilet,
                [(SymptomCode.BacksUpOnFlush, FindSays.ItBacksUp), (SymptomCode.DrainsSlowly, FindSays.ItDrainsSlowly),
                (SymptomCode.Gurgles, FindSays.ItGurgles),
                    (SymptomCode.HeapSeen, FindSays.WastePile), (SymptomCode.FillsTooSoon, FindSays.TankFillsTooFast),
                    (SymptomCode.BowlGoesDry, FindSays.BowlWontHoldWater)],
                [], [(OdorPlace.ToiletOnFlush, FindSays.ItSmellsWhenFlushed), (OdorPlace.Bathroom, FindSays.ItSmellsAllTheTime)]);
        List<(SymptomCode, string)> symptoms = [(SymptomCode.DrainsSlowly, FindSays.ItDrainsSlowly), (SymptomCode.Gurgles, FindSays.ItGurgles)];
        if (drain == "shower") symptoms.Add((SymptomCode.ShowerStandsInWater, FindSays.WaterStaysInIt));
        symptoms.Add((SymptomCode.FillsTooSoon, FindSays.TankFillsTooFast));
        return new(of, drain, FindSays.TheDrainsInto(name, TimeWords.Lower(of.Name)), symptoms,
            [(CheckCode.TrapsWet, CheckResult.Fail, FindSays.TheTrapWasDry), (CheckCode.TrapsWet, CheckResult.Pass, FindSays.WaterPouredIn)],
            Codes<OdorPlace>.TryParse(drain, out var place) ? [(place, FindSays.ItSmellsHere)] : [(OdorPlace.Floor, FindSays.ItSmellsHere)]);
    }
}

/// <summary>What bears on the next rung now: amounts and objections of its treatment, or how much water still fits.</summary>
/// <param name="Offer">The treatment; null if the rung is none.</param>
/// <param name="Room">How much may go in; null if no water does.</param>
/// <param name="Unknown">The level where nobody knows it well enough to put water in.</param>
public sealed record RungNow(TreatmentOffer? Offer, FillLimit? Room, LevelBand? Unknown)
{
    /// <summary>Nothing bears on it.</summary>
    public static RungNow Free { get; } = new(null, null, null);

    /// <summary>Whether a rung puts water into a tank that may be closed or clogged.</summary>
    public static bool PutsWaterIn(RemedyAction action) =>
        action is RemedyAction.HoseJet or RemedyAction.ClogTube or RemedyAction.Reverse or RemedyAction.BuiltIn or RemedyAction.Wand or RemedyAction.Bucket
            or RemedyAction.Pedal;
}
