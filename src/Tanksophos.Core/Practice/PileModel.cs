using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Practice;

/// <summary>How a toilet is used in the pile model.</summary>
/// <param name="CapacityL">The tank, in litres, 20 to 500.</param>
/// <param name="People">Who uses it, 1 to 12.</param>
/// <param name="FlushL">Water of a flush, in litres, 0.2 to 6; practitioners: 1 thrifty, 2 to 2.6 generous.</param>
/// <param name="StarterL">Water to begin with, in litres, at most half the tank.</param>
/// <param name="DumpAt">Share of the tank at which it is dumped, 0.2 to 1.</param>
/// <param name="Paper">0 for paper that breaks up at once, 1 for paper that stays whole.</param>
public sealed record PileHabits(double CapacityL, int People, double FlushL, double StarterL, double DumpAt, double Paper)
{
    /// <summary>Two people, 40 gal, a flush of 0.4 gal, a tenth of starter water, dumped at two thirds, paper that breaks up.</summary>
    public static PileHabits Usual { get; } = new(40 * UsMeasures.GallonL, 2, 0.4 * UsMeasures.GallonL, 4 * UsMeasures.GallonL, HouseRules.Default.DumpBlackAt,
        0.25);

    /// <summary>The habits with every figure brought within its bounds.</summary>
    public PileHabits Sound() => new(Math.Clamp(CapacityL, 20, 500), Math.Clamp(People, 1, 12), Math.Clamp(FlushL, 0.2, 6),
        Math.Clamp(StarterL, 0, Math.Clamp(CapacityL, 20, 500) / 2), Math.Clamp(DumpAt, 0.2, 1), Math.Clamp(Paper, 0, 1));
}

/// <summary>The tank at one hour.</summary>
/// <param name="LiquidL">Liquid in it, in litres, with what is dissolved.</param>
/// <param name="SoftL">Solids of the pile that are soft.</param>
/// <param name="HardL">Solids of the pile that have dried hard.</param>
/// <param name="Height">Height of the pile, as a share of the tank's depth; 1 reaches the drop.</param>
/// <param name="Radius">Half its width at the bottom, as a share of the tank's length.</param>
/// <param name="InL">Everything that went in since the start, in litres: starter water, flushes, solids.</param>
/// <param name="GoneL">Everything that has left since then.</param>
/// <param name="Dumped">Whether it was dumped in this hour.</param>
public readonly record struct PileHour(double LiquidL, double SoftL, double HardL, double Height, double Radius, double InL, double GoneL, bool Dumped)
{
    /// <summary>Solids of the pile, in litres.</summary>
    public double PileL => SoftL + HardL;
}

/// <summary>
/// The waste pile under a toilet over days, valve closed or open. What falls is part water, part solids; the water carries some of the solids along. With the
/// valve closed the solids lie in liquid, break up, and leave with the rush of a dump; with the valve open the water leaves, and what it leaves behind
/// dries. Mass is kept; more water never makes a pile higher until it is dumped; an open valve never makes a pile lower.
/// </summary>
public static class PileModel
{
    /// <summary>Days that are played.</summary>
    public const int Days = 14;

    /// <summary>From this height on a flush backs up, as a share of the depth.</summary>
    public const double BacksUpFrom = 0.85;

    // Uses of the toilet per person and day, and what each leaves of waste and paper, in litres.
    private const double UsesPerDay = 5, SolidsL = 0.06;

    // A flush of this many litres carries half of its solids away from under the drop.
    private const double CarriesHalfL = 6;

    // Of what lands in liquid this much lies down; the rest stays afloat and leaves with it.
    private const double SinksInLiquid = 0.6;

    // Soft solids in liquid halve in this many hours, with paper that stays whole in four times as many.
    private const double HalfSoftHours = 36, PaperSlows = 3;

    // Soft solids in air halve into hard ones in this many hours.
    private const double HalfDryHours = 60;

    // A dump takes along this much of a soft pile at a trickle and at its fastest rush, and of a hard one at most a tenth.
    private const double TakesLeast = 0.3, TakesMost = 0.95, TakesHard = 0.1;

    // Below a fifth there is no rush; at the level at which practitioners dump it is all there.
    private const double RushFrom = 0.2;

    // Slope of a soft and of a hard pile; the hard one at most twice the soft one, or a pile could grow by losing solids.
    private const double SoftSlope = 0.2, HardSlope = 0.4;

    // A tank six times as long as deep and twice as wide.
    private const double LengthToDepth = 6, WidthToDepth = 2.4;

    /// <summary>Plays fourteen days, hour by hour; the first is the start.</summary>
    /// <param name="habits">The habits; brought within their bounds.</param>
    /// <param name="open">Whether the valve stands open.</param>
    public static IReadOnlyList<PileHour> Play(PileHabits habits, bool open)
    {
        ArgumentNullException.ThrowIfNull(habits);
        var h = habits.Sound();
        double liquid = open ? 0 : h.StarterL, soft = 0, hard = 0, gone = open ? h.StarterL : 0, put = h.StarterL;
        var carried = h.FlushL / (h.FlushL + CarriesHalfL);
        var depth = Math.Pow(h.CapacityL / 1000 / (LengthToDepth * WidthToDepth), 1 / 3.0);
        var hours = new List<PileHour>(24 * Days + 1) { Now(false) };
        for (var hour = 0; hour < 24 * Days; hour++)
        {
            var dumped = false;
            if (hour % 24 is var clock && clock >= UseHours.From.Hour && clock < UseHours.To.Hour)
            {
                var uses = h.People * UsesPerDay / (UseHours.To.Hour - UseHours.From.Hour);
                var (water, solids) = (uses * h.FlushL, uses * SolidsL);
                var lies = (1 - carried) * (open ? 1 : SinksInLiquid) * solids;
                put += water + solids;
                soft += lies;
                if (open) gone += water + solids - lies;
                else liquid += water + solids - lies;
            }
            // What lies under liquid breaks up; what sticks out of it dries.
            var covered = open ? 0 : Math.Clamp(liquid / h.CapacityL / Math.Max(1e-9, Height()), 0, 1);
            var broken = soft * covered * (1 - Math.Pow(0.5, 1 / (HalfSoftHours * (1 + PaperSlows * h.Paper))));
            var dried = soft * (1 - covered) * (1 - Math.Pow(0.5, 1 / HalfDryHours));
            (soft, hard, liquid) = (soft - broken - dried, hard + dried, liquid + broken);
            if (!open && (liquid + soft + hard) / h.CapacityL >= h.DumpAt)
            {
                var rush = Math.Clamp(((liquid + soft + hard) / h.CapacityL - RushFrom) / (HouseRules.Default.DumpBlackAt - RushFrom), 0, 1);
                var (softGone, hardGone) = ((TakesLeast + (TakesMost - TakesLeast) * rush) * soft, TakesHard * rush * hard);
                var left = Math.Min(liquid, DumpEntry.ResidueFraction * h.CapacityL);
                gone += liquid - left + softGone + hardGone;
                (soft, hard, liquid) = (soft - softGone, hard - hardGone, left + h.StarterL);
                put += h.StarterL;
                dumped = true;
            }
            hours.Add(Now(dumped));
        }
        return hours;

        PileHour Now(bool dumped) => new(liquid, soft, hard, Height(), Radius(), put, gone, dumped);

        double Slope() => soft + hard <= 0 ? SoftSlope : (SoftSlope * soft + HardSlope * hard) / (soft + hard);

        // A cone: its volume is a third of pi times radius squared times height, and height is slope times radius.
        double Metres() => Math.Pow(3 * (soft + hard) / 1000 * Slope() * Slope() / Math.PI, 1 / 3.0);

        double Height() => Math.Min(1, Metres() / depth);

        double Radius() => Metres() / Slope() / (LengthToDepth * depth);
    }
}
