namespace Tanksophos.Core.Levels;

/// <summary>What a probe may be doing.</summary>
internal enum ProbeMode
{
    /// <summary>Lit exactly while liquid reaches it.</summary>
    Working = 0,

    /// <summary>Working, but a wet film left by the last emptying still lights it.</summary>
    Film = 1,

    /// <summary>Fouled: lit whatever the level.</summary>
    On = 2,

    /// <summary>Wire or stud: never lit.</summary>
    Off = 3,
}

/// <summary>An emptying that the log may not have.</summary>
/// <param name="Days">Days in which it can have happened, each as much as a crew could and would dump there.</param>
/// <param name="Forgets">How often this crew forgets to log a dump.</param>
/// <param name="RestL">Litres there at once: what stayed in, and perhaps starter water.</param>
/// <param name="RestSdL">Its standard deviation.</param>
/// <param name="FlowL">Litres that the median household put in over those days.</param>
/// <param name="Film">Chance that a wet film still lights a lamp.</param>
internal readonly record struct Emptying(double Days, double Forgets, double RestL, double RestSdL, double FlowL, double Film)
{
    // How often a crew dumps in a day, by how full the tank is: hardly ever below a third, every other day at three quarters, at once when it is full.
    private const double Seldom = 0.02, Often = 0.5, AtOnce = 1.5, From = 0.3, To = 0.75, Most = 0.9;

    private static double PerDay(double share) => share < To ? Seldom + (Often - Seldom) * Math.Max(0, (share - From) / (To - From))
        : Often + (AtOnce - Often) * Math.Min(1, (share - To) / (1 - To));

    /// <summary>Chance of it, given that none was logged, at a level that was reached if it did not happen.</summary>
    /// <param name="share">The level now, a share of the tank.</param>
    /// <param name="rise">By how much it rose in those days.</param>
    public double ChanceAt(double share, double rise)
    {
        var not = Math.Exp(-0.5 * Days * (PerDay(share) + PerDay(share - rise)));
        var unlogged = Forgets * (1 - not);
        return Math.Min(Most, unlogged / (unlogged + not));
    }

    /// <summary>Mean and variance of the level after it, for a household's factor: it can have been early or late in those days.</summary>
    public (double Mean, double Variance) LevelFor(double factor) =>
        (RestL + 0.5 * FlowL * factor, RestSdL * RestSdL + FlowL * factor * FlowL * factor / 12);
}

/// <summary>
/// Everything unknown about one tank, together: for each combination of probe states that is still possible, and for each of a grid of
/// household factors, a normal distribution over the level, the household's deviations by hookup, and the coating of a percent strip.
/// Lamps weigh the combinations, inflow couples the factor to the level; nothing is drawn by chance.
/// </summary>
internal sealed class JointState
{
    // The grid of factors spans three standard deviations; what lies between two of them is carried by the deviations.
    private const int Factors = 13;
    private const double WidestSds = 3;

    /// <summary>Dimensions of each normal: the level in litres, deviations of the factor at a full, a partial and no hookup, coating in litres.</summary>
    public const int Level = 0, Full = 1, Partial = 2, Dry = 3, Coating = 4;

    private const int Dims = 5;
    private const int Size = 1 + Dims + Dims * (Dims + 1) / 2;

    // A household differs a little between hookups from what its one factor says; part of it everywhere, part at each.
    private const double CommonDeviation = 0.10, OwnDeviation = 0.08;

    // Combinations below this weight are dropped, and never are more than so many kept.
    private const double Negligible = 3e-6, Nothing = 1e-9;
    private const int MaxCombinations = 32;

    private const ulong UnloggedBit = 1UL << 62;

    private double capacity;
    private readonly double[] factor;
    private List<Combination> combinations = [];

    private sealed class Combination(ulong code)
    {
        public readonly ulong Code = code;
        public readonly double[] C = new double[Factors * Size];

        public double Weight;

        public ProbeMode Mode(int probe) => (ProbeMode)((Code >> (2 * probe)) & 3);

        public Combination Copy()
        {
            var copy = new Combination(Code) { Weight = Weight };
            Array.Copy(C, copy.C, C.Length);
            return copy;
        }
    }

    [System.Runtime.CompilerServices.MethodImpl(System.Runtime.CompilerServices.MethodImplOptions.AggressiveInlining)]
    private static int At(int i, int j) => i <= j ? j * (j + 1) / 2 + i : i * (i + 1) / 2 + j;

    private static ulong With(ulong code, int probe, ProbeMode mode) => (code & ~(3UL << (2 * probe))) | ((ulong)mode << (2 * probe));

    /// <summary>A tank about whose level nothing is known.</summary>
    /// <param name="capacityL">Litres to the top.</param>
    /// <param name="logSd">Spread of the household's factor (standard deviation of its logarithm).</param>
    /// <param name="coating">Mean and standard deviation of a strip's coating, litres.</param>
    /// <param name="probes">For each probe the chance of each mode.</param>
    public JointState(double capacityL, double logSd, (double Mean, double Sd) coating, IReadOnlyList<double[]> probes)
    {
        capacity = capacityL;
        factor = [.. Enumerable.Range(0, Factors).Select(k => Math.Exp(WidestSds * (2.0 * k / (Factors - 1) - 1) * logSd))];
        var start = new Combination(0) { Weight = 1 };
        var total = 0.0;
        for (var k = 0; k < Factors; k++) total += Gaussian.Density(WidestSds * (2.0 * k / (Factors - 1) - 1));
        for (var k = 0; k < Factors; k++)
        {
            var o = k * Size;
            start.C[o] = Gaussian.Density(WidestSds * (2.0 * k / (Factors - 1) - 1)) / total;
            // Unknown start: rather empty than full, but anything may be.
            start.C[o + 1 + Level] = 0.25 * capacity;
            start.C[o + 1 + Coating] = coating.Mean;
            var p = o + 1 + Dims;
            start.C[p + At(Level, Level)] = Square(0.3 * capacity);
            for (var i = Full; i <= Dry; i++)
                for (var j = Full; j <= i; j++) start.C[p + At(i, j)] = Square(CommonDeviation) + (i == j ? Square(OwnDeviation) : 0);
            start.C[p + At(Coating, Coating)] = Square(coating.Sd);
        }
        combinations.Add(start);
        for (var i = 0; i < probes.Count; i++)
        {
            var row = probes[i];
            Move(i, (_, mode) => mode == ProbeMode.Working ? row : null);
        }
    }

    private JointState(JointState other)
    {
        capacity = other.capacity;
        factor = other.factor;
        combinations = [.. other.combinations.Select(c => c.Copy())];
    }

    public JointState Copy() => new(this);

    /// <summary>Counts with another capacity from now on; what is in the tank stays.</summary>
    public void Resize(double capacityL) => capacity = capacityL;

    /// <summary>How many combinations of probe states are carried.</summary>
    public int Count => combinations.Count;

    /// <summary>Chance that an emptying since the last logged one is not in the log.</summary>
    public double Unlogged => combinations.Where(c => (c.Code & UnloggedBit) != 0).Sum(c => c.Weight);

    /// <summary>Chances of a probe's modes.</summary>
    public double[] Modes(int probe)
    {
        var modes = new double[4];
        foreach (var c in combinations) modes[(int)c.Mode(probe)] += c.Weight;
        return modes;
    }

    /// <summary>Mean and variance of one dimension.</summary>
    public (double Mean, double Variance) Moments(int dimension = Level)
    {
        double m = 0, s = 0;
        foreach (var c in combinations)
            for (var o = 0; o < c.C.Length; o += Size)
            {
                if (c.C[o] == 0) continue;
                var x = c.C[o + 1 + dimension];
                m += c.C[o] * x;
                s += c.C[o] * (c.C[o + 1 + Dims + At(dimension, dimension)] + x * x);
            }
        return (m, Math.Max(0, s - m * m));
    }

    /// <summary>
    /// Mean of the household's factor at a hookup (<see cref="Full"/>, <see cref="Partial"/>, <see cref="Dry"/>), its variance, and its covariance with the
    /// level.
    /// </summary>
    public (double Mean, double Variance, double WithLevel) CurrentRequest(int hookup)
    {
        double m = 0, s = 0, x = 0, l = 0;
        foreach (var c in combinations)
            for (var k = 0; k < Factors; k++)
            {
                var o = k * Size;
                var w = c.C[o];
                var f = factor[k] * (1 + c.C[o + 1 + hookup]);
                var level = c.C[o + 1];
                m += w * f;
                s += w * (f * f + Square(factor[k]) * c.C[o + 1 + Dims + At(hookup, hookup)]);
                l += w * level;
                x += w * (f * level + factor[k] * c.C[o + 1 + Dims + At(Level, hookup)]);
            }
        return (m, Math.Max(0, s - m * m), x - m * l);
    }

    /// <summary>The distribution of the level for a forecast at a hookup.</summary>
    public LevelMixture Mixture(int hookup)
    {
        var parts = new List<LevelMixture.Part>();
        for (var k = 0; k < Factors; k++)
        {
            var first = parts.Count;
            foreach (var c in combinations)
            {
                var o = k * Size;
                if (c.C[o] < 1e-5) continue;
                var p = o + 1 + Dims;
                var part = new LevelMixture.Part(c.C[o], c.C[o + 1], c.C[p + At(Level, Level)], factor[k] * (1 + c.C[o + 1 + hookup]),
                    Square(factor[k]) * c.C[p + At(hookup, hookup)], factor[k] * c.C[p + At(Level, hookup)]);
                // What differs in the probes alone is one for the level.
                var same = parts.FindIndex(first, x => x.IsLike(part));
                if (same < 0) parts.Add(part);
                else parts[same] = parts[same].With(part);
            }
        }
        return new LevelMixture(capacity, parts);
    }

    /// <summary>
    /// Inflow of <paramref name="median"/> litres for the median household; <paramref name="scatter"/> is its variance in units of the factor squared.
    /// </summary>
    public void Flow(double median, double scatter, int hookup)
    {
        foreach (var c in combinations)
            for (var k = 0; k < Factors; k++)
            {
                var o = k * Size;
                if (c.C[o] == 0) continue;
                var p = o + 1 + Dims;
                var m = median * factor[k];
                c.C[o + 1] += m * (1 + c.C[o + 1 + hookup]);
                c.C[p] += 2 * m * c.C[p + At(Level, hookup)] + m * m * c.C[p + At(hookup, hookup)] + scatter * factor[k] * factor[k];
                for (var j = Full; j < Dims; j++) c.C[p + At(Level, j)] += m * c.C[p + At(hookup, j)];
                // What does not fit runs out of the vent. Far beyond that, a dump may have gone unlogged: full is likeliest, little is known.
                if (c.C[o + 1] <= capacity * 2) continue;
                c.C[o + 1] = capacity * 2;
                c.C[p] = Math.Max(c.C[p], Square(capacity));
            }
    }

    /// <summary>Less is known of what flowed in: the count of people or the place may be wrong since some litres of the median household.</summary>
    /// <param name="median">Those litres.</param>
    /// <param name="more">How much more flowed in rather, as a share of the household's factor.</param>
    /// <param name="variance">Variance of that.</param>
    /// <param name="hookup">The hookup that is in force.</param>
    public void Widen(double median, double more, double variance, int hookup)
    {
        foreach (var c in combinations)
            for (var k = 0; k < Factors; k++)
            {
                var o = k * Size;
                if (c.C[o] == 0) continue;
                var (p, m) = (o + 1 + Dims, median * factor[k]);
                c.C[o + 1 + Level] += m * more;
                c.C[o + 1 + hookup] += more;
                c.C[p] += m * m * variance;
                c.C[p + At(Level, hookup)] += m * variance;
                c.C[p + At(hookup, hookup)] += variance;
            }
    }

    /// <summary>A known amount went in or, if negative, came out.</summary>
    public void Add(double litres, double sd) => ForEach((c, o) =>
    {
        c[o + 1] = Math.Clamp(c[o + 1] + litres, 0, capacity * 1.2);
        c[o + 1 + Dims] += sd * sd;
    });

    /// <summary>The tank may have lost a share of what was in it.</summary>
    public void Lose(double share, double sdShare) => ForEach((c, o) =>
    {
        var p = o + 1 + Dims;
        var spread = Square(sdShare * c[o + 1]);
        c[o + 1] *= 1 - share;
        for (var j = Full; j < Dims; j++) c[p + At(Level, j)] *= 1 - share;
        c[p] = c[p] * Square(1 - share) + spread;
    });

    /// <summary>A strip's coating grows and wanders.</summary>
    public void Coat(double drift, double variance) => ForEach((c, o) =>
    {
        c[o + 1 + Coating] += drift;
        c[o + 1 + Dims + At(Coating, Coating)] += variance;
    });

    /// <summary>Part of a strip's coating may have come off.</summary>
    public void Clean(double share) => ForEach((c, o) =>
    {
        var p = o + 1 + Dims;
        var spread = Square(share * c[o + 1 + Coating]);
        c[o + 1 + Coating] *= 1 - share;
        for (var j = 0; j < Coating; j++) c[p + At(Coating, j)] *= 1 - share;
        c[p + At(Coating, Coating)] = c[p + At(Coating, Coating)] * Square(1 - share) + spread;
    });

    /// <summary>The tank was emptied: what was learned of household and probes stays, the level is the residue.</summary>
    public void Empty(double residue, double sd)
    {
        Recode(code => code & ~UnloggedBit);
        ForEach((c, o) => SetLevel(c, o, residue, sd * sd));
    }

    /// <summary>Chance that the tank was emptied without a word in the log, before anything is seen.</summary>
    public double ChanceOf(Emptying emptying)
    {
        var sum = 0.0;
        foreach (var c in combinations)
        {
            if ((c.Code & UnloggedBit) != 0) continue;
            for (var k = 0; k < Factors; k++)
            {
                var o = k * Size;
                if (c.C[o] > 0) sum += c.C[o] * emptying.ChanceAt(c.C[o + 1] / capacity, emptying.FlowL * factor[k] / capacity);
            }
        }
        return sum;
    }

    /// <summary>Likelihood of a pattern of lamps if the tank was emptied without a word in the log.</summary>
    public double LikelihoodIf(Emptying emptying, double[] marks, bool[] lit, bool[] known, double slip, double blur)
    {
        Span<double> between = stackalloc double[marks.Length + 1];
        double weight = 0, seen = 0;
        foreach (var c in combinations)
        {
            if ((c.Code & UnloggedBit) != 0) continue;
            double own = 0, flow = 0;
            for (var k = 0; k < Factors; k++)
            {
                var o = k * Size;
                if (c.C[o] == 0) continue;
                var w = c.C[o] * emptying.ChanceAt(c.C[o + 1] / capacity, emptying.FlowL * factor[k] / capacity);
                own += w;
                flow += w * factor[k];
            }
            if (!(own > 0)) continue;
            var (mean, variance) = emptying.LevelFor(flow / own);
            var (code, film) = Filmed(c, emptying, marks, lit);
            var seenNow = (1 - film) * Lamps(c.Code, mean, variance, between);
            if (film > 0) seenNow += film * Lamps(code, mean, variance, between);
            weight += own;
            seen += own * seenNow;
        }
        return weight > 0 ? seen / weight : 0;

        double Lamps(ulong code, double mean, double variance, Span<double> between) =>
            Between(code, lit, known, slip, between) * Pieces(mean, variance, marks, between, blur).Mass;
    }

    // A wet film may still light the lamps that are seen lit and were under the level; how likely that is, for all of them at once.
    private static (ulong Code, double Chance) Filmed(Combination c, Emptying emptying, double[] marks, bool[] lit)
    {
        var code = c.Code;
        if (emptying.Film <= 0) return (code, 0);
        double mean = 0;
        for (var o = 0; o < c.C.Length; o += Size) mean += c.C[o] * c.C[o + 1];
        mean /= Math.Max(c.Weight, 1e-300);
        var chance = 1.0;
        for (var i = 0; i < lit.Length; i++)
        {
            if (!lit[i] || c.Mode(i) != ProbeMode.Working || marks[i] > mean) continue;
            code = With(code, i, ProbeMode.Film);
            chance *= emptying.Film;
        }
        return code == c.Code ? (code, 0) : (code, chance);
    }

    /// <summary>Opens the possibility that the tank was emptied without a word in the log.</summary>
    /// <param name="emptying">When and with what left.</param>
    /// <param name="odds">By how much what else is known raises or lowers the odds of it.</param>
    /// <param name="marks">Litres at which each lamp should light.</param>
    /// <param name="lit">Lamps that are seen lit: a wet film may do that; none when no lamp is seen.</param>
    public void Doubt(Emptying emptying, double odds, double[] marks, bool[] lit)
    {
        var doubted = new List<Combination>();
        foreach (var c in combinations.Where(c => (c.Code & UnloggedBit) == 0))
        {
            var (code, film) = Filmed(c, emptying, marks, lit);
            var doubt = new Combination(c.Code | UnloggedBit);
            Array.Copy(c.C, doubt.C, c.C.Length);
            for (var k = 0; k < Factors; k++)
            {
                var o = k * Size;
                if (c.C[o] == 0) continue;
                var chance = emptying.ChanceAt(c.C[o + 1] / capacity, emptying.FlowL * factor[k] / capacity);
                chance = odds * chance / (1 - chance + odds * chance);
                var (mean, variance) = emptying.LevelFor(factor[k]);
                SetLevel(doubt.C, o, mean, variance);
                doubt.C[o] *= chance;
                c.C[o] *= 1 - chance;
            }
            if (film > 0)
            {
                var wet = new Combination(code | UnloggedBit);
                Array.Copy(doubt.C, wet.C, doubt.C.Length);
                for (var o = 0; o < wet.C.Length; o += Size)
                {
                    wet.C[o] *= film;
                    doubt.C[o] *= 1 - film;
                }
                doubted.Add(wet);
            }
            doubted.Add(doubt);
        }
        Gather(combinations.Concat(doubted));
    }

    /// <summary>
    /// Where it is as good as decided whether the tank was emptied without a word in the log, the other case is dropped, so that it can be asked anew.
    /// </summary>
    /// <param name="sure">From this chance on it is.</param>
    /// <param name="never">Below this one it was not.</param>
    public void Settle(double sure, double never)
    {
        var chance = Unlogged;
        if (chance == 0 || chance > never && chance < sure) return;
        combinations.RemoveAll(c => (c.Code & UnloggedBit) != 0 == chance < sure);
        Normalise();
        Recode(code => code & ~UnloggedBit);
    }

    /// <summary>The tank was surely not emptied without a word in the log.</summary>
    public void Deny()
    {
        if (Unlogged is 0 or 1) return;
        combinations.RemoveAll(c => (c.Code & UnloggedBit) != 0);
        Normalise();
    }

    /// <summary>A probe changes its mode: for each mode it was in, the chance of each mode after; null where nothing changes.</summary>
    public void Move(int probe, Func<ulong, ProbeMode, double[]?> row)
    {
        var before = combinations.Count;
        var rows = new double[before][];
        var any = false;
        for (var i = 0; i < before; i++) any |= (rows[i] = row(combinations[i].Code, combinations[i].Mode(probe))!) is not null;
        if (!any) return;
        var weights = Weights();
        for (var i = 0; i < before; i++)
        {
            if (rows[i] is not { } chances) continue;
            var own = (int)combinations[i].Mode(probe);
            for (var mode = 0; mode < 4; mode++)
                if (mode != own) Pass(i, With(combinations[i].Code, probe, (ProbeMode)mode), chances[mode], weights);
            Leave(i, 1 - chances[own], weights);
        }
        Normalise();
    }

    // The weights as they were, while combinations pass parts of themselves to others.
    private double[] Weights()
    {
        var weights = new double[combinations.Count * Factors];
        for (var i = 0; i < combinations.Count; i++)
            for (var k = 0; k < Factors; k++) weights[i * Factors + k] = combinations[i].C[k * Size];
        return weights;
    }

    // A share of a combination becomes (part of) another.
    private void Pass(int from, ulong code, double share, double[] weights)
    {
        var source = combinations[from];
        if (share * source.Weight < Negligible * 0.1) return;
        var target = combinations.Find(c => c.Code == code);
        if (target is null)
        {
            target = new Combination(code);
            Array.Copy(source.C, target.C, source.C.Length);
            for (var k = 0; k < Factors; k++) target.C[k * Size] = weights[from * Factors + k] * share;
            combinations.Add(target);
        }
        else for (var k = 0; k < Factors; k++) Merge(target.C, source.C, k * Size, weights[from * Factors + k] * share);
    }

    private void Leave(int from, double share, double[] weights)
    {
        var c = combinations[from].C;
        for (var k = 0; k < Factors; k++) c[k * Size] = Math.Max(0, c[k * Size] - share * weights[from * Factors + k]);
    }

    /// <summary>All probes foul together, as they do in a tank that was never well flushed.</summary>
    public void FoulAll(int probes, double chance)
    {
        if (probes < 2 || chance <= 0) return;
        var all = 0UL;
        for (var i = 0; i < probes; i++) all = With(all, i, ProbeMode.On);
        var before = combinations.Count;
        var weights = Weights();
        for (var i = 0; i < before; i++)
        {
            var code = all | (combinations[i].Code & UnloggedBit);
            if (code == combinations[i].Code) continue;
            Pass(i, code, chance, weights);
            Leave(i, chance, weights);
        }
        Normalise();
    }

    /// <summary>Chance, in the combination with a code, that the level is at or above a mark.</summary>
    public double ChanceAbove(ulong code, double mark)
    {
        foreach (var c in combinations)
        {
            if (c.Code != code) continue;
            double sum = 0, all = 0;
            for (var o = 0; o < c.C.Length; o += Size)
            {
                if (c.C[o] == 0) continue;
                all += c.C[o];
                sum += c.C[o] * Gaussian.Below((c.C[o + 1] - mark) / Math.Sqrt(c.C[o + 1 + Dims] + 1e-9));
            }
            return all > 0 ? sum / all : 0;
        }
        return 0;
    }

    /// <summary>
    /// Lamps were seen. <paramref name="trust"/> is the weight with which they say something of this tank, <paramref name="otherwise"/> the
    /// likelihood of what was seen if they do not (the panel at fault), already weighted.
    /// </summary>
    /// <param name="marks">Litres at which each lamp should light, ascending.</param>
    /// <param name="lit">Which were lit.</param>
    /// <param name="known">Which of them were seen at all.</param>
    /// <param name="slip">How often a lamp shows otherwise than it should.</param>
    /// <param name="blur">Standard deviation in litres of slosh about a mark.</param>
    /// <param name="trust">Weight of the lamps.</param>
    /// <param name="otherwise">Weight of the likelihood if the panel is at fault.</param>
    public void See(double[] marks, bool[] lit, bool[] known, double slip, double blur, double trust, double otherwise)
    {
        var n = marks.Length;
        Span<double> between = stackalloc double[n + 1];
        foreach (var c in combinations)
        {
            var fixedPart = Between(c.Code, lit, known, slip, between);
            for (var o = 0; o < c.C.Length; o += Size)
            {
                if (c.C[o] == 0) continue;
                var (z, mean, square) = Pieces(c.C, o, marks, between, blur);
                var seen = trust * fixedPart * z;
                var total = seen + otherwise;
                if (!(total > 1e-300))
                {
                    c.C[o] = 0;
                    continue;
                }
                var b = seen / total;
                // The level with slosh has this mean and second moment, relative to the expected level; mixed with the case that nothing was learned.
                var v = c.C[o + 1 + Dims] + blur * blur;
                var m1 = b * mean;
                var v1 = b * square + (1 - b) * v - m1 * m1;
                c.C[o] *= total;
                Gain(c.C, o, v, m1, v1);
            }
        }
        Normalise();
    }

    /// <summary>Lamps were seen whose probes are known, as far as they are: they say something of the level alone.</summary>
    public void SeeKnown(double[] marks, IEnumerable<(int Probe, bool Lit, (double Working, double StuckOn, double StuckOff) Chances)> lamps, double slip,
        double blur)
    {
        Span<double> between = stackalloc double[marks.Length + 1];
        between.Fill(1);
        foreach (var (probe, lit, (working, on, off)) in lamps)
            for (var j = 0; j < between.Length; j++)
                between[j] *= working * (lit == j > probe ? 1 - slip : slip) + on * (lit ? 1 - slip : slip) + off * (lit ? slip : 1 - slip);
        foreach (var c in combinations)
            for (var o = 0; o < c.C.Length; o += Size)
            {
                if (c.C[o] == 0) continue;
                var (z, mean, square) = Pieces(c.C, o, marks, between, blur);
                c.C[o] *= z;
                Gain(c.C, o, c.C[o + 1 + Dims] + blur * blur, mean, square - mean * mean);
            }
        Normalise();
    }

    /// <summary>Likelihood of a pattern of lamps, given that they follow this tank.</summary>
    public double Likelihood(double[] marks, bool[] lit, bool[] known, double slip, double blur)
    {
        Span<double> between = stackalloc double[marks.Length + 1];
        var sum = 0.0;
        foreach (var c in combinations)
        {
            var fixedPart = Between(c.Code, lit, known, slip, between);
            for (var o = 0; o < c.C.Length; o += Size)
                if (c.C[o] > 0) sum += c.C[o] * fixedPart * Pieces(c.C, o, marks, between, blur).Mass;
        }
        return sum;
    }

    /// <summary>
    /// Likelihood of one lamp lit, if its probe works, by what is believed before: with and without a film, and the chance of liquid above it.
    /// </summary>
    public (double IfWorking, double Above) LampChance(int probe, double mark, double slip, double blur)
    {
        double weight = 0, lit = 0, all = 0, aboveAll = 0;
        foreach (var c in combinations)
        {
            var mode = c.Mode(probe);
            for (var o = 0; o < c.C.Length; o += Size)
            {
                var w = c.C[o];
                if (w == 0) continue;
                var above = Gaussian.Below((c.C[o + 1] - mark) / Math.Sqrt(c.C[o + 1 + Dims] + blur * blur));
                all += w;
                aboveAll += w * above;
                if (mode > ProbeMode.Film) continue;
                weight += w;
                lit += w * (mode == ProbeMode.Film ? 1 - slip : slip + (1 - 2 * slip) * above);
            }
        }
        return (weight > 1e-12 ? lit / weight : slip + (1 - 2 * slip) * aboveAll / all, all > 0 ? aboveAll / all : 0);
    }

    /// <summary>
    /// A level was seen, with a normal error. Where it lies far from what was expected, either the observation is plainly wrong, or
    /// (<paramref name="eyes"/>) something happened that is not in the log: then what was seen stands.
    /// </summary>
    /// <param name="litres">What was seen.</param>
    /// <param name="sd">Standard deviation of its error.</param>
    /// <param name="eyes">Whether a person looked or metered, rather than a panel.</param>
    /// <param name="coated">Whether what was seen has a strip's coating in it.</param>
    /// <param name="trust">Weight of the observation.</param>
    /// <param name="otherwise">Weight of the likelihood if the panel is at fault.</param>
    /// <returns>Likelihood of what was seen, per capacity.</returns>
    public double Observe(double litres, double sd, bool eyes, bool coated = false, double trust = 1, double otherwise = 0)
    {
        const double wrong = 0.03;
        var sum = 0.0;
        foreach (var c in combinations)
            for (var o = 0; o < c.C.Length; o += Size)
            {
                if (c.C[o] == 0) continue;
                var p = o + 1 + Dims;
                var total = c.C[p] + sd * sd;
                if (coated) total += 2 * c.C[p + At(Level, Coating)] + c.C[p + At(Coating, Coating)];
                var expected = Math.Min(c.C[o + 1], capacity) + (coated ? c.C[o + 1 + Coating] : 0);
                var gap = litres - expected;
                var right = trust * (1 - wrong) * Gaussian.Density(gap / Math.Sqrt(total)) / Math.Sqrt(total) * capacity;
                var likelihood = right + trust * wrong + otherwise;
                sum += c.C[o] * (right + trust * wrong);
                c.C[o] *= likelihood;
                Correct(c.C, o, coated, total, gap, right / likelihood, eyes, litres, sd);
            }
        Normalise();
        return sum;
    }

    /// <summary>
    /// Something was seen whose likelihood is <paramref name="above"/> if the level is at or above a mark and <paramref name="below"/> otherwise;
    /// slosh blurs the mark.
    /// </summary>
    public void ObserveThreshold(double mark, double blur, double above, double below)
    {
        Span<double> between = [below, above];
        double[] marks = [mark];
        foreach (var c in combinations)
            for (var o = 0; o < c.C.Length; o += Size)
            {
                if (c.C[o] == 0) continue;
                var (z, mean, square) = Pieces(c.C, o, marks, between, blur);
                c.C[o] *= z;
                Gain(c.C, o, c.C[o + 1 + Dims] + blur * blur, mean, square - mean * mean);
            }
        Normalise();
    }

    /// <summary>Weighs this state and another of the same tank into one: what may have been so instead.</summary>
    public void Blend(JointState other, double chance)
    {
        foreach (var c in combinations) for (var o = 0; o < c.C.Length; o += Size) c.C[o] *= 1 - chance;
        var others = other.combinations.Select(c => c.Copy()).ToList();
        foreach (var c in others) for (var o = 0; o < c.C.Length; o += Size) c.C[o] *= chance;
        Gather(combinations.Concat(others));
    }

    /// <summary>
    /// For each combination carried, the chance that the level lies in each stretch between marks, after a further inflow; for asking what a check would show.
    /// </summary>
    public IEnumerable<(ulong Code, double Weight, double[] Stretches)> Stretches(double[] marks, double blur, double median, double scatter, int hookup)
    {
        foreach (var c in combinations)
        {
            var stretches = new double[marks.Length + 1];
            for (var k = 0; k < Factors; k++)
            {
                var o = k * Size;
                if (c.C[o] == 0) continue;
                var p = o + 1 + Dims;
                var m = median * factor[k];
                var mean = c.C[o + 1] + m * (1 + c.C[o + 1 + hookup]);
                var sd = Math.Sqrt(c.C[p] + 2 * m * c.C[p + At(Level, hookup)] + m * m * c.C[p + At(hookup, hookup)] + scatter * factor[k] * factor[k]
                    + blur * blur + 1e-9);
                var below = 0.0;
                for (var j = 0; j <= marks.Length; j++)
                {
                    var next = j < marks.Length ? Gaussian.Below((marks[j] - mean) / sd) : 1;
                    stretches[j] += c.C[o] * (next - below);
                    below = next;
                }
            }
            for (var j = 0; j < stretches.Length; j++) stretches[j] /= c.Weight;
            yield return (c.Code, c.Weight, stretches);
        }
    }

    /// <summary>The mode of a probe in a code.</summary>
    public static ProbeMode ModeIn(ulong code, int probe) => (ProbeMode)((code >> (2 * probe)) & 3);

    public void Save(BinaryWriter to)
    {
        to.Write(combinations.Count);
        foreach (var c in combinations)
        {
            to.Write(c.Code);
            foreach (var x in c.C) to.Write(x);
        }
    }

    public void Load(BinaryReader from)
    {
        combinations = [];
        for (var n = from.ReadInt32(); n > 0; n--)
        {
            var c = new Combination(from.ReadUInt64());
            for (var i = 0; i < c.C.Length; i++) c.C[i] = from.ReadDouble();
            combinations.Add(c);
        }
        Weigh();
    }

    // Likelihood of the lamps that do not depend on the level, and, for each stretch between marks, of those that do.
    private static double Between(ulong code, bool[] lit, bool[] known, double slip, Span<double> between)
    {
        var fixedPart = 1.0;
        between.Fill(1);
        for (var i = 0; i < lit.Length; i++)
        {
            if (!known[i]) continue;
            switch (ModeIn(code, i))
            {
                case ProbeMode.Working:
                    for (var j = 0; j < between.Length; j++) between[j] *= lit[i] == j > i ? 1 - slip : slip;
                    break;
                case ProbeMode.Off:
                    fixedPart *= lit[i] ? slip : 1 - slip;
                    break;
                default:
                    fixedPart *= lit[i] ? 1 - slip : slip;
                    break;
            }
        }
        return fixedPart;
    }

    // Total weight of a normal cut at marks, each piece weighed by its own likelihood, with mean and second moment relative to the normal's mean.
    private static (double Mass, double Mean, double Square) Pieces(double[] c, int o, double[] marks, ReadOnlySpan<double> between, double blur) =>
        Pieces(c[o + 1], c[o + 1 + Dims], marks, between, blur);

    private static (double Mass, double Mean, double Square) Pieces(double level, double variance, double[] marks, ReadOnlySpan<double> between, double blur)
    {
        var v = variance + blur * blur + 1e-9;
        var sd = Math.Sqrt(v);
        double lowBelow = 0, lowDensity = 0, lowSlope = 0, mass = 0, first = 0, second = 0;
        for (var j = 0; j <= marks.Length; j++)
        {
            double below = 1, density = 0, slope = 0;
            if (j < marks.Length)
            {
                var z = (marks[j] - level) / sd;
                below = Gaussian.Below(z);
                density = Gaussian.Density(z);
                slope = z * density;
            }
            var piece = below - lowBelow;
            mass += between[j] * piece;
            first += between[j] * (lowDensity - density);
            second += between[j] * (piece + lowSlope - slope);
            (lowBelow, lowDensity, lowSlope) = (below, density, slope);
        }
        if (!(mass > 1e-300)) return (0, 0, v);
        return (mass, first / mass * sd, Math.Max(second / mass, 0) * v);
    }

    // The level (blurred: variance v) turned out to have moved by shift, with variance after; everything coupled to it follows.
    private static void Gain(double[] c, int o, double v, double shift, double after)
    {
        var p = o + 1 + Dims;
        Span<double> gain = stackalloc double[Dims];
        for (var i = 0; i < Dims; i++) gain[i] = c[p + At(Level, i)] / v;
        var narrowed = Math.Max(after, 1e-9) - v;
        for (var i = 0; i < Dims; i++) c[o + 1 + i] += gain[i] * shift;
        for (var j = 0; j < Dims; j++)
            for (var i = 0; i <= j; i++) c[p + At(i, j)] += gain[i] * gain[j] * narrowed;
        for (var i = 0; i < Dims; i++) c[p + At(i, i)] = Math.Max(c[p + At(i, i)], 1e-12);
    }

    // The usual correction, believed with some weight, mixed with the case that it was wrong (nothing learned) or that eyes saw what the log does not know.
    private static void Correct(double[] c, int o, bool coated, double total, double gap, double believed, bool eyes, double litres, double sd)
    {
        var p = o + 1 + Dims;
        Span<double> gain = stackalloc double[Dims], usual = stackalloc double[Dims], other = stackalloc double[Dims];
        Span<double> before = stackalloc double[Dims * (Dims + 1) / 2];
        for (var i = 0; i < before.Length; i++) before[i] = c[p + i];
        for (var i = 0; i < Dims; i++)
        {
            gain[i] = (before[At(Level, i)] + (coated ? before[At(Coating, i)] : 0)) / total;
            usual[i] = gain[i] * gap;
            other[i] = 0;
        }
        if (eyes) other[Level] = litres - c[o + 1];
        for (var j = 0; j < Dims; j++)
            for (var i = 0; i <= j; i++)
            {
                var one = before[At(i, j)] - gain[i] * gain[j] * total;
                var two = !eyes || i != Level ? before[At(i, j)] : j == Level ? sd * sd : 0;
                c[p + At(i, j)] = believed * one + (1 - believed) * two + believed * (1 - believed) * (usual[i] - other[i]) * (usual[j] - other[j]);
            }
        for (var i = 0; i < Dims; i++)
        {
            c[o + 1 + i] += believed * usual[i] + (1 - believed) * other[i];
            c[p + At(i, i)] = Math.Max(c[p + At(i, i)], 1e-12);
        }
    }

    private static void SetLevel(double[] c, int o, double mean, double variance)
    {
        var p = o + 1 + Dims;
        c[o + 1] = mean;
        for (var j = 0; j < Dims; j++) c[p + At(Level, j)] = 0;
        c[p] = variance;
    }

    private void ForEach(Action<double[], int> act)
    {
        foreach (var c in combinations)
            for (var o = 0; o < c.C.Length; o += Size)
                if (c.C[o] > 0) act(c.C, o);
    }

    private void Recode(Func<ulong, ulong> code)
    {
        if (combinations.All(c => code(c.Code) == c.Code)) return;
        Gather(combinations.Select(c =>
        {
            var to = new Combination(code(c.Code));
            Array.Copy(c.C, to.C, c.C.Length);
            return to;
        }));
    }

    // Combinations that have become the same are merged: means and variances of the mixture are kept.
    private void Gather(IEnumerable<Combination> all)
    {
        var kept = new Dictionary<ulong, Combination>();
        var order = new List<Combination>();
        foreach (var c in all)
        {
            if (!kept.TryGetValue(c.Code, out var same))
            {
                kept[c.Code] = c;
                order.Add(c);
                continue;
            }
            for (var o = 0; o < c.C.Length; o += Size) Merge(same.C, c.C, o, c.C[o]);
        }
        combinations = order;
        Normalise();
    }

    private static void Merge(double[] a, double[] b, int o, double weight)
    {
        if (weight <= 0) return;
        if (a[o] <= 0)
        {
            Array.Copy(b, o, a, o, Size);
            a[o] = weight;
            return;
        }
        var w = a[o] + weight;
        var s = weight / w;
        var p = o + 1 + Dims;
        Span<double> gap = stackalloc double[Dims];
        for (var i = 0; i < Dims; i++) gap[i] = b[o + 1 + i] - a[o + 1 + i];
        for (var j = 0; j < Dims; j++)
            for (var i = 0; i <= j; i++) a[p + At(i, j)] = (1 - s) * a[p + At(i, j)] + s * b[p + At(i, j)] + s * (1 - s) * gap[i] * gap[j];
        for (var i = 0; i < Dims; i++) a[o + 1 + i] += s * gap[i];
        a[o] = w;
    }

    private double Weigh()
    {
        var sum = 0.0;
        foreach (var c in combinations)
        {
            c.Weight = 0;
            for (var o = 0; o < c.C.Length; o += Size) c.Weight += c.C[o];
            sum += c.Weight;
        }
        return sum;
    }

    private void Normalise()
    {
        var sum = Weigh();
        if (!(sum > 1e-250)) // everything was impossible: keep what was known
        {
            foreach (var c in combinations) for (var o = 0; o < c.C.Length; o += Size) c.C[o] = 1.0 / (combinations.Count * Factors);
            sum = Weigh();
        }
        if (combinations.Count > 1)
        {
            var kept = combinations.Where(c => c.Weight >= Negligible * sum).ToList();
            if (kept.Count > MaxCombinations) kept = [.. kept.OrderByDescending(c => c.Weight).ThenBy(c => c.Code).Take(MaxCombinations).OrderBy(c => c.Code)];
            if (kept.Count < combinations.Count)
            {
                combinations = kept;
                sum = Weigh();
            }
        }
        foreach (var c in combinations)
        {
            for (var o = 0; o < c.C.Length; o += Size) c.C[o] = c.C[o] > Nothing * sum ? c.C[o] / sum : 0;
            c.Weight /= sum;
        }
    }

    private static double Square(double x) => x * x;
}
