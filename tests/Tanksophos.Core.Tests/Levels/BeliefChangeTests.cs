using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Levels;

/// <summary>What an entry changed: the level, and which lamps are no longer believed or believed again.</summary>
public class BeliefChangeTests
{
    [Fact]
    public void A_lamp_is_named_in_the_entry_that_lost_or_regained_its_trust_and_in_no_other()
    {
        // The low lamp burns on after every dump, for six dumps; then a crew finds it dark six times.
        var entries = new List<LogEntry>();
        for (var dump = 0; dump < 12; dump++)
        {
            entries.Add(Looked(At(4 * dump + 3), 0.6));
            entries.Add(Dump(At(4 * dump + 3.1)));
            entries.Add(Looked(At(4 * dump + 3.11), 0.01));
            entries.Add(Lamps(At(4 * dump + 3.12), dump < 6 ? ["low"] : []));
        }
        var running = new JointEstimator().Start(Rig());
        var trusted = new List<string> { "1/3", "2/3", "Full" };
        int doubted = 0, regained = 0;
        foreach (var entry in entries)
        {
            if (running.Add(entry) is not { } change) continue;
            foreach (var label in change.Doubted)
            {
                trusted.Remove(label).ShouldBeTrue("only a lamp that was believed is doubted");
                doubted++;
            }
            foreach (var label in change.Trusted)
            {
                trusted.ShouldNotContain(label);
                trusted.Add(label);
                regained++;
            }
            var belief = running.At(null).Tanks.Single(t => t.Tank.Id == "black");
            belief.Probes.Where(p => p.Believed).Select(p => p.Probe.Label).ShouldBe(trusted, ignoreOrder: true);
        }
        doubted.ShouldBeInRange(1, 3);
        regained.ShouldBeInRange(1, 3);
    }
}
