using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Practice;

namespace Tanksophos.Web.Drawing;

/// <summary>
/// A practice case opened: what was really in the tank over the last days, what the lights said of it, and beside it what was believed after each check. Only
/// numbers; each chart is 340 wide.
/// </summary>
public sealed class CaseChart
{
    public const double Width = 340, Height = 200, Left = 6, Right = 334, Top = 12, Bottom = 186;

    private static readonly Duration Shown = Duration.FromDays(9);

    private readonly Instant from, to;

    /// <summary>Draws a review.</summary>
    /// <param name="review">The review.</param>
    public CaseChart(CaseReview review)
    {
        ArgumentNullException.ThrowIfNull(review);
        var tank = review.Case.Tank;
        to = review.Case.Logbook.AsOf!.Value.ToInstant();
        from = to - Shown;
        var path = review.Case.Truth.Trace.Where(p => p.Tank == tank.Id && p.At >= from && p.At <= to).Select(p => (X(p.At), Y(p.LevelL / tank.CapacityL)))
            .Append((X(to), Y(review.Case.Truth.LevelsL[tank.Id] / tank.CapacityL))).ToList();
        Truth = Svg.Path(path);
        Body = Svg.Path([(path[0].Item1, Bottom), .. path, (path[^1].Item1, Bottom)], true);
        var said = new List<(double X, double Y)>();
        foreach (var reading in review.Case.Logbook.InOrder().OfType<ReadingEntry>().Where(r => r.Tank == tank.Id && r.Lit is not null && r.Instant >= from))
        {
            var height = tank.Monitor.Probes.Where(p => reading.Lit!.Contains(p.Id)).Select(p => p.AtFraction).DefaultIfEmpty(0).Max();
            if (said.Count > 0) said.Add((X(reading.Instant), said[^1].Y));
            said.Add((X(reading.Instant), Y(height)));
        }
        Lights = said.Count > 1 ? Svg.Path(said) : "";
        Dumps = [.. review.Case.Logbook.InOrder().OfType<DumpEntry>().Where(d => d.Tank == tank.Id && d.Instant >= from).Select(d => X(d.Instant))];
        CaseView[] views = [review.Start, .. review.Steps.Select(s => s.After)];
        double At(int i) => views.Length == 1 ? (Left + Right) / 2 : Left + 20 + (Right - Left - 40) * i / (views.Length - 1);
        Points = [.. views.Select((v, i) => (At(i), Y(v.Level.P50L / tank.CapacityL), Y(v.Level.P95L / tank.CapacityL), Y(v.Level.P05L / tank.CapacityL)))];
        True = Y(review.TrueShare);
        (You, YouHigh, YouLow) = (Y(review.Reply.Share), Y(review.Reply.High), Y(review.Reply.Low));
    }

    /// <summary>The true level over time.</summary>
    public string Truth { get; }

    /// <summary>The same as a body down to the ground.</summary>
    public string Body { get; }

    /// <summary>The highest light that was on, over time; empty for too few readings.</summary>
    public string Lights { get; }

    /// <summary>Logged dumps.</summary>
    public IReadOnlyList<double> Dumps { get; }

    /// <summary>After the log and after each check: the level believed and its band.</summary>
    public IReadOnlyList<(double X, double Y, double High, double Low)> Points { get; }

    /// <summary>The true level at the end.</summary>
    public double True { get; }

    /// <summary>The level that was answered.</summary>
    public double You { get; }

    /// <summary>The upper end of what was answered.</summary>
    public double YouHigh { get; }

    /// <summary>Its lower end.</summary>
    public double YouLow { get; }

    /// <summary>Height of a share of the tank.</summary>
    public static double Y(double share) => Bottom - Math.Clamp(share, 0, 1) * (Bottom - Top);

    private double X(Instant at) => Left + (Right - Left) * Math.Clamp((at - from) / (to - from), 0, 1);
}
