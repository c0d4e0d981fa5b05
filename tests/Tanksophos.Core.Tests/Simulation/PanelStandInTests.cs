using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Simulation;

public class PanelStandInTests
{
    private static readonly SimulatedPanel Panel = new(5);

    private static ReadingEntry Black(double day, params LogEntry[] log) => Panel.Show(Book(Rig(), At(day), [Dump(At(0)), .. log]), At(day), ("black", "low"))
        .First(r => r.Tank == "black");

    [Fact]
    public void The_panel_shows_what_the_invented_tank_holds_and_the_fouled_lamp_besides()
    {
        var log = Book(Rig(), At(30), Dump(At(0)));
        for (var day = 1.0; day < 12; day++)
        {
            var level = Panel.Truth(log, "black", At(day).ToInstant());
            var lit = Black(day).Lit!;
            lit.ShouldContain("low");
            lit.Contains("mid").ShouldBe(level >= 0.66 * BlackL);
            level.ShouldBeInRange(0, BlackL);
        }
        Panel.Truth(log, "black", At(11).ToInstant()).ShouldBeGreaterThan(Panel.Truth(log, "black", At(3).ToInstant()));
    }

    [Fact]
    public void What_is_logged_happens_to_it()
    {
        var log = Book(Rig(), At(30), Dump(At(0)), Dump(At(6)),
            new WaterEntry { At = At(6, 0.1), Tank = "black", WaterL = 30, Purpose = WaterPurpose.Starter });
        Panel.Truth(log, "black", At(6, 0.05).ToInstant()).ShouldBeLessThan(0.02 * BlackL);
        Panel.Truth(log, "black", At(6, 0.2).ToInstant()).ShouldBeInRange(30, 34);
    }

    [Fact]
    public void Two_cleanings_or_a_jet_free_the_fouled_lamp()
    {
        DoseEntry Cleaner(double day) => new() { At = At(day), Tank = "black", Recipe = DoseRecipe.SensorCleaner };
        LogEntry[] dumped = [Dump(At(3))];
        Black(4, dumped).Lit!.ShouldContain("low");
        Black(4, [Cleaner(1), Cleaner(2), .. dumped]).Lit!.ShouldBeEmpty();
        Black(4, [new ServiceEntry { At = At(1), Tank = "black", Code = ServiceCode.PressureJet }, .. dumped]).Lit!.ShouldBeEmpty();
    }

    [Fact]
    public void The_same_log_and_moment_show_the_same()
    {
        Black(7).Lit.ShouldBe(Black(7).Lit);
        Panel.Show(Book(Rig(MonitorKind.None), At(2)), At(2)).ShouldAllBe(r => r.Tank == "gray");
    }
}
