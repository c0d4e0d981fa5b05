using Tanksophos.Core.Dumping;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Tests.Dumping;

/// <summary>The figures of rinsing, in the gallons in which they are handed down.</summary>
public class RinsePlanTests
{
    [Fact]
    public void A_hose_of_fifteen_feet_holds_five_and_a_half_gallons() =>
        (Rigs.Equipment.HoseLPerM * 15 * 0.3048 / 3.785411784).ShouldBe(5.55, 0.01);

    private const double Gallon = 3.785411784;

    [Fact]
    public void A_spray_head_gives_a_good_gallon_and_a_half_a_minute_and_an_outlet_takes_six_to_twelve()
    {
        (RinsePlan.HeadLPerMin / Gallon).ShouldBeInRange(0.9, 3);
        (RinsePlan.ReverseLPerMin / Gallon).ShouldBeInRange(6, 12);
        (RinsePlan.BowlL / Gallon).ShouldBe(1.1, 1e-9);
    }

    [Theory]
    [InlineData(40, true, 7)]
    [InlineData(12, true, 4)]
    [InlineData(12, false, 4)]
    public void A_fill_is_a_third_of_a_small_tank_and_no_more_than_its_usual_gallons(double capacity, bool quick, double gallons) =>
        (RinsePlan.FillL(capacity * Gallon, quick) / Gallon).ShouldBe(gallons, 1e-9);

    [Theory]
    [InlineData(40, false, 4.4)]
    [InlineData(40, true, 1.1)]
    [InlineData(6, false, 2)]
    public void A_pedal_rinse_is_four_bowls_one_where_people_wait(double capacity, bool othersWait, double gallons) =>
        (RinsePlan.PedalL(capacity * Gallon, othersWait) / Gallon).ShouldBe(gallons, 1e-9);

    [Theory]
    [InlineData(FlushProgramme.Standard, true, true, false, 1)]
    [InlineData(FlushProgramme.Thorough, true, false, true, 2)]
    [InlineData(FlushProgramme.Quick, false, false, false, 3)]
    [InlineData(FlushProgramme.Standard, false, false, false, 5)]
    [InlineData(FlushProgramme.Thorough, false, false, false, 7)]
    [InlineData(FlushProgramme.Quick, false, false, true, 7)]
    public void Rinses_end_at_a_cap(FlushProgramme flush, bool station, bool othersWait, bool last, int cap) => RinsePlan.Cap(flush, station, othersWait, last)
        .ShouldBe(cap);

    [Theory]
    [InlineData(FlushProgramme.Standard, false, false, 1)]
    [InlineData(FlushProgramme.Thorough, false, false, 2)]
    [InlineData(FlushProgramme.Thorough, true, false, 1)]
    [InlineData(FlushProgramme.Quick, false, true, 2)]
    public void A_thorough_rinse_and_the_last_end_with_two_clear_ends(FlushProgramme flush, bool station, bool last, int need) =>
        RinsePlan.Need(flush, station, last).ShouldBe(need);

    [Theory]
    [InlineData(2.4, 1, 5, false, 2)]
    [InlineData(2.6, 2, 5, false, 4)]
    [InlineData(9, 1, 5, false, 5)]
    [InlineData(0, 1, 5, false, 1)]
    [InlineData(4, 2, 2, true, 1)]
    public void A_plan_counts_with_what_the_tank_took_before(double toClear, int need, int cap, bool station, int expected) =>
        RinsePlan.Expected(toClear, need, cap, station).ShouldBe(expected);
}
