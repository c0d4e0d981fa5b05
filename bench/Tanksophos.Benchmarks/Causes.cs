using System.Globalization;
using System.Text;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Benchmarks;

/// <summary>How often the diagnosis is right over practice cases, and whether its probabilities mean what they say.</summary>
internal static class Causes
{
    public static int Measure(int count, long seed, string? docs = null)
    {
        var said = new StringBuilder();
        void Line(string text)
        {
            Console.WriteLine(text);
            said.AppendLine(text);
        }
        var conditions = new Dictionary<Condition, (int Cases, int Top, int Said)>();
        var odors = new Dictionary<OdorCause, (int Cases, int Top, int TopTwo)>();
        var bins = new (int Said, int Right)[10];
        var odorBins = new (int Said, int Right)[10];
        int healthy = 0, alarms = 0, smellCases = 0, smellAlarms = 0;
        var missed = new Dictionary<string, int>();
        foreach (var practice in TroubleCases.Many(count, seed))
        {
            var one = (practice.Logbook, Condition: (Condition?)practice.Condition, Odor: (OdorCause?)practice.Odor, practice.Healthy);
            var report = FaultReport.Compute(one.Logbook, new JointEstimator().Estimate(one.Logbook));
            var all = report.Tanks.SelectMany(t => t.Conditions.Select(c => (t.Tank.Id, c.Code, c.Probability))).OrderByDescending(x => x.Probability).ToList();
            foreach (var (tank, code, p) in all)
            {
                // A smell of a blocked vent, or of coated walls, is that condition too; it is not judged as right or wrong.
                if (one.Odor is OdorCause.VentBlocked && code == Condition.VentBlocked || one.Odor is OdorCause.BlackCoated && code == Condition.Buildup
                    || one.Odor is OdorCause.HoseOrCap && code == Condition.ValveLeak || one.Odor is OdorCause.ValveOpenToSewer
                    && code == Condition.Heap) continue;
                if (p >= Conditions.Likely && !(tank == "black" && one.Condition == code))
                    Count(missed, $"{code} ({tank}) named though it was {one.Condition?.ToString() ?? one.Odor?.ToString() ?? "nothing"}");
                var bin = Math.Min(9, (int)(10 * p));
                bins[bin] = (bins[bin].Said + 1, bins[bin].Right + (tank == "black" && one.Condition == code ? 1 : 0));
            }
            if (one.Condition is { } true_)
            {
                var now = conditions.GetValueOrDefault(true_);
                var right = all[0].Id == "black" && all[0].Code == true_;
                if (!right) Count(missed, $"{true_} taken for {all[0].Code} ({all[0].Id})");
                conditions[true_] = (now.Cases + 1, now.Top + (right ? 1 : 0), now.Said + (report.Tanks[0][true_] >= Conditions.Likely ? 1 : 0));
            }
            if (one.Odor is { } smell)
            {
                var now = odors.GetValueOrDefault(smell);
                var rank = report.Odors.ToList().FindIndex(o => o.Cause == smell);
                if (rank != 0) Count(missed, $"{smell} taken for {report.Odors[0].Cause}");
                odors[smell] = (now.Cases + 1, now.Top + (rank == 0 ? 1 : 0), now.TopTwo + (rank is 0 or 1 ? 1 : 0));
                foreach (var o in report.Odors)
                {
                    var bin = Math.Min(9, (int)(10 * o.Probability));
                    odorBins[bin] = (odorBins[bin].Said + 1, odorBins[bin].Right + (o.Cause == smell ? 1 : 0));
                }
                smellCases++;
            }
            if (one.Healthy)
            {
                healthy++;
                if (all[0].Probability >= Conditions.Likely)
                {
                    alarms++;
                    Count(missed, $"healthy taken for {all[0].Code} ({all[0].Id})");
                }
                if (report.Odors.Count > 0) smellAlarms++;
            }
        }
        Line($"{count} cases from seed {seed}");
        Line("condition        cases  ranked first  named (0.5 and more)");
        foreach (var (c, n) in conditions.OrderBy(c => c.Key)) Line($"{c,-16} {n.Cases,5}  {Share(n.Top, n.Cases),12}  {Share(n.Said, n.Cases),12}");
        Line($"{"all",-16} {conditions.Values.Sum(n => n.Cases),5}  {Share(conditions.Values.Sum(n => n.Top), conditions.Values.Sum(n => n.Cases)),12}  "
            + $"{Share(conditions.Values.Sum(n => n.Said), conditions.Values.Sum(n => n.Cases)),12}");
        Line("smell            cases  first  first or second");
        foreach (var (c, n) in odors.OrderBy(c => c.Key)) Line($"{c,-16} {n.Cases,5}  {Share(n.Top, n.Cases),5}  {Share(n.TopTwo, n.Cases),12}");
        Line($"{"all",-16} {smellCases,5}  {Share(odors.Values.Sum(n => n.Top), smellCases),5}  {Share(odors.Values.Sum(n => n.TopTwo), smellCases),12}");
        Line($"healthy rigs {healthy}: a condition named on {alarms}, a smell on {smellAlarms}");
        Line("said        conditions right      smells right");
        for (var b = 0; b < 10; b++)
            Line($"{0.1 * b:0.0} to {0.1 * (b + 1):0.0}  {bins[b].Right,5} of {bins[b].Said,5} {Share(bins[b].Right, bins[b].Said),6}   {odorBins[b].Right,5} "
                + $"of {odorBins[b].Said,5} {Share(odorBins[b].Right, odorBins[b].Said),6}");
        foreach (var (what, n) in missed.OrderByDescending(m => m.Value).Take(30)) Line($"  {n,3} x {what}");
        if (docs is not null)
        {
            var page = File.ReadAllText(docs);
            const string Mark = "```";
            var from = page.IndexOf(Mark, StringComparison.Ordinal);
            var to = page.IndexOf(Mark, from + 3, StringComparison.Ordinal);
            File.WriteAllText(docs, page[..(from + 4)] + said.ToString().Replace("\r", "", StringComparison.Ordinal) + page[to..]);
        }
        return 0;
    }

    private static void Count(Dictionary<string, int> of, string what) => of[what] = of.GetValueOrDefault(what) + 1;

    private static string Share(int part, int whole) => whole == 0 ? "-" : (100.0 * part / whole).ToString("0", CultureInfo.InvariantCulture) + " %";
}
