using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Log;
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

    [Fact]
    public void A_chart_stays_within_its_frame_and_marks_what_happened()
    {
        var from = App.Start - NodaTime.Duration.FromDays(100);
        HealthPoint At(double day, double value) => new(from + NodaTime.Duration.FromDays(day), value);
        var jet = new HealthEvent(from + NodaTime.Duration.FromDays(50),
            new ServiceEntry { At = App.Start.WithOffset(NodaTime.Offset.Zero), Code = ServiceCode.PressureJet });
        var chart = new HealthChart([At(0, 2), At(50, 9), At(100, 3)], from, App.Start, 0, 5, [jet]);
        chart.Max.ShouldBe(9, "the scale reaches the highest point");
        chart.Dots.ShouldAllBe(d => d.X >= 0 && d.X <= HealthChart.Width && d.Y >= 0 && d.Y <= HealthChart.Height);
        chart.Dots[1].Y.ShouldBeLessThan(chart.Dots[0].Y, "more stands higher");
        chart.Marks.Single().ShouldBe(chart.Dots[1].X, 0.01);
        new HealthChart([At(0, 2)], from, App.Start, 0, 5, []).Line.ShouldBe("");
    }
}
