using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Jobs;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Words;

namespace Tanksophos.Benchmarks;

/// <summary>The command line's work: a document in, an assessment out, beside the estimate alone.</summary>
[MemoryDiagnoser, SimpleJob(RuntimeMoniker.HostProcess)]
public class AssessBenchmarks
{
    private Logbook logbook = null!;
    private byte[] document = null!;

    [Params(250, 10_000)]
    public int Entries { get; set; }

    [GlobalSetup]
    public void Setup()
    {
        logbook = LongLog.Of(Entries);
        document = LogbookFormat.Write(logbook);
    }

    [Benchmark(Baseline = true, Description = "read, estimate, write")]
    public byte[] Assess() => AssessmentFormat.Write(LogbookFormat.Read(document).Value!, new JointEstimator(), DocumentWords.English);

    [Benchmark(Description = "estimate alone")]
    public LevelBelief Estimate() => new JointEstimator().Estimate(logbook);

    [Benchmark(Description = "conditions, smells, checks, ladders")]
    public FaultReport Faults() => FaultReport.Compute(logbook, belief ??= new JointEstimator().Estimate(logbook));

    private LevelBelief? belief;
}
