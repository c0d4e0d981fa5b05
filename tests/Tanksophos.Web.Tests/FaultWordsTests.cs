using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Web.Drawing;
using Tanksophos.Words;

namespace Tanksophos.Web.Tests;

public class FaultWordsTests
{
    private static readonly FaultWords Words = new(DemoSeason.Rig, Units.Us, new TimeWords(App.Start, NodaTime.DateTimeZone.Utc));
    private static readonly Tank Black = DemoSeason.Rig.Tanks[0];

    [Fact]
    public void Every_condition_cause_sign_check_and_remedy_has_words_of_its_own()
    {
        Enum.GetValues<Condition>().Select(c => FaultWords.Condition(c, Black)).ShouldBeUnique();
        Enum.GetValues<Condition>().Select(FaultWords.Brief).ShouldBeUnique();
        Enum.GetValues<OdorCause>().Select(FaultWords.Cause).ShouldBeUnique();
        Enum.GetValues<SignCode>().Select(s => Words.Sign(new Sign(s, App.Start, null))).ShouldBeUnique();
        Enum.GetValues<CauseCheckCode>().Select(c => FaultWords.Check(new CauseCheck(c, null, 1, 1, [])).Title).ShouldBeUnique();
        // The four ways to flush are one remedy to the reader.
        Enum.GetValues<RemedyAction>().Select(a => Words.Remedy(a, Black).Title).Distinct().Count().ShouldBe(Enum.GetValues<RemedyAction>().Length - 3);
    }

    [Theory]
    [InlineData(RemedyAction.SoapSoak, "Leave space")]
    [InlineData(RemedyAction.PressureJet, "cuts skin")]
    [InlineData(RemedyAction.VentCleared, "never alone")]
    [InlineData(RemedyAction.Professional, "poison")]
    [InlineData(RemedyAction.ClogTube, "drinking water")]
    public void What_can_hurt_is_said_at_its_rung(RemedyAction action, string caution) => Words.Remedy(action, Black).Caution.ShouldNotBeNull()
        .ShouldContain(caution);

    [Theory]
    [InlineData("8", DoseUnit.Ml, 236.588)]
    [InlineData("0,5 gal", DoseUnit.Ml, 1892.706)]
    [InlineData("950 mL", DoseUnit.Ml, 950.0)]
    [InlineData("2 lb", DoseUnit.G, 907.185)]
    [InlineData("12 sachets", DoseUnit.Piece, 12.0)]
    public void Amounts_of_the_shelf_are_read_as_they_are_typed(string typed, DoseUnit unit, double amount)
    {
        ShelfWords.TryParse(typed, unit, Units.Us, out var read).ShouldBeTrue();
        read.ShouldBe(amount, 0.01);
        ShelfWords.TryParse(ShelfWords.Exact(read, unit, Units.Us), unit, Units.Us, out var again).ShouldBeTrue();
        again.ShouldBe(read, 0.02, "what is shown can be typed back");
        ShelfWords.TryParse(ShelfWords.Exact(read, unit, Units.Metric), unit, Units.Metric, out again).ShouldBeTrue();
        again.ShouldBe(read, 0.02);
    }

    [Theory]
    [InlineData("", DoseUnit.Ml)]
    [InlineData("-3", DoseUnit.Ml)]
    [InlineData("2 lb", DoseUnit.Ml)]
    [InlineData("2 gal", DoseUnit.G)]
    [InlineData("3 oz", DoseUnit.Piece)]
    [InlineData("lots", DoseUnit.Piece)]
    public void What_is_no_amount_is_not_read(string typed, DoseUnit unit) => ShelfWords.TryParse(typed, unit, Units.Us, out _).ShouldBeFalse();

    [Fact]
    public void A_bottle_is_drawn_as_full_as_it_is_with_the_unopened_ones_beside_it()
    {
        var soap = new Product("s", "Soap", Substance.DishSoap, null) { Holds = 800 };
        Bottle.Of(soap, null).ShouldBeNull();
        var (full, half, none) = (Bottle.Of(soap, 800)!, Bottle.Of(soap, 400)!, Bottle.Of(soap, 0)!);
        half.FillHeight.ShouldBe(full.FillHeight / 2, 0.01);
        none.FillHeight.ShouldBe(0);
        Bottle.Of(soap, 2000)!.ShouldSatisfyAllConditions(b => b.Spare.ShouldBe(2), b => b.FillHeight.ShouldBe(half.FillHeight, 0.01));
        Bottle.Of(soap with { Unit = DoseUnit.G }, 400)!.Outline.ShouldNotBe(full.Outline, "what is weighed comes in a box");
    }

    [Theory]
    [InlineData(100, 9, 10)]
    [InlineData(100, 5, 6)]
    [InlineData(12, 0.3, 0.3)]
    [InlineData(700, 140, 150)]
    public void A_chart_stays_within_its_frame_with_round_levels_and_named_days(int days, double most, double top)
    {
        var from = App.Start - NodaTime.Duration.FromDays(days);
        HealthPoint At(double share, double value) => new(from + NodaTime.Duration.FromDays(days * share), value);
        HealthChart Chart(params HealthPoint[] points) => new(points, from, App.Start, 0, 0, NodaTime.DateTimeZone.Utc,
            d => d.ToString("MM-dd", System.Globalization.CultureInfo.InvariantCulture),
            v => v.ToString("0.##", System.Globalization.CultureInfo.InvariantCulture));
        var chart = Chart(At(0, most / 4), At(0.5, most), At(1, most / 3));
        double.Parse(chart.Levels[^1].Words, System.Globalization.CultureInfo.InvariantCulture).ShouldBe(top, "the scale ends on a round level");
        chart.Levels.Count.ShouldBeInRange(3, 6);
        chart.Points.ShouldAllBe(p => p.X >= HealthChart.Left && p.X <= HealthChart.Right && p.Y >= HealthChart.Top && p.Y <= HealthChart.Bottom);
        chart.Points[1].Y.ShouldBeLessThan(chart.Points[0].Y, "more stands higher");
        chart.Dates.Count.ShouldBeInRange(2, 4);
        chart.Dates.Zip(chart.Dates.Skip(1)).ShouldAllBe(p => p.Second.X - p.First.X > 60, "names of days do not touch");
        Chart(At(0, 2)).Line.ShouldBe("");
        Chart(At(0, 0)).Points.Single().Y.ShouldBe(HealthChart.Bottom);
    }
}
