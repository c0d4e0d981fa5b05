using NodaTime;
using Tanksophos.Core.Log;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Log;

public class UsualWayTests
{
    private static readonly LogEntry[] Log =
    [
        Dump(At(0)),
        Dump(At(4)) with { Id = "d", Minutes = 3, Flow = DumpFlow.Rush, Note = "rain" },
        new FlushEntry { At = At(4, 0.2), Tank = "black", Method = FlushMethod.Wand,
            Cycles = [new FlushCycle(60, null, EndColor.Dark, Debris.Paper), new FlushCycle(60, null, EndColor.Clear, null)] },
        Looked(At(4, 0.3), 0.1),
        Dump(At(4, 0.5), "gray"),
        new WaterEntry { At = At(4, 0.6), Tank = "black", WaterL = 12, Purpose = WaterPurpose.Starter },
        new DoseEntry { At = At(4, 0.7), Tank = "black", Recipe = DoseRecipe.Enzyme, Amount = "4 fl oz" },
        new WaterEntry { At = At(5), Tank = "black", WaterL = 1, Purpose = WaterPurpose.Starter },
    ];

    [Fact]
    public void The_last_run_is_repeated_without_how_it_went_that_time()
    {
        var again = LastRunTemplate.Of(Log, At(9));
        again.Select(e => e.Type).ShouldBe(["dump", "flush", "dump", "water", "dose"]);
        again.ShouldAllBe(e => e.Id == null && e.Note == null);
        again[0].ShouldBe(new DumpEntry { At = again[0].At, Tank = "black" });
        ((FlushEntry)again[1]).Cycles.ShouldBe([new FlushCycle(60, null, null, null), new FlushCycle(60, null, null, null)]);
        again[^1].Instant.ShouldBe(At(9).ToInstant());
        again.Zip(again.Skip(1)).ShouldAllBe(p => p.First.Instant < p.Second.Instant);
        again[0].At.Offset.ShouldBe(Offset.FromHours(-6));
    }

    [Fact]
    public void Without_a_dump_there_is_no_usual_way() => LastRunTemplate.Of([Looked(At(0), 0.4), Dump(At(1)) with { Flow = DumpFlow.None }], At(2))
        .ShouldBeEmpty();
}
