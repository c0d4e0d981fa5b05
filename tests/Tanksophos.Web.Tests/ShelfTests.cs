using System.Net;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Web.Tests;

public sealed class ShelfTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private IReadOnlyList<Product> Shelf => app.With(s => s.Find(1)!.Rig.Products);

    private static readonly (string, string)[] Concentrate =
        [("name", "Little bottle"), ("kind", "cultures"), ("amount", "1,5"), ("unit", "cap"), ("per", "20 gal"), ("cap", "15 mL"), ("most", "6"),
            ("lasts", "5"), ("holds", "1 qt"), ("price", "19.90"), ("left", "500 mL"), ("caution", "shake it")];

    [Fact]
    public async Task A_product_goes_on_the_shelf_and_every_dose_goes_by_its_label()
    {
        var page = (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Save", Concentrate)).Html;
        page.Text("[data-logged]").ShouldContain("Little bottle");
        page.ShouldContain("3 caps (1.5 fl oz) for black", Case.Sensitive, "1.5 caps for each 20 gal, 40 gal of tank");
        Shelf[0].ShouldSatisfyAllConditions(p =>
            p.Dose.ShouldBe(new LabelDose(1.5, DoseUnit.Cap) { PerL = 20 * 3.785411784, CapMl = 15, Max = 6, LastsDays = 5 },
            "what was typed is what is stored"), p => p.Holds!.Value.ShouldBe(946.4, 0.1), p => p.PriceMinor.ShouldBe(1990),
            p => p.Stock.Single().Amount.ShouldBe(500, 0.1));

        app.With(s => s.Writer.Record(1, [new DumpEntry { Id = "d", At = App.Start.WithOffset(NodaTime.Offset.FromHours(-6)), Tank = "black" }], "test"));
        app.Clock.AdvanceMinutes(5);
        (await app.GetAsync("/")).ShouldContain("of Little bottle");
        await app.PostAsync("/", "/?handler=Dose", ("tank", "black"));
        var dose = app.With(s => s.Log.All(1)).OfType<DoseEntry>().Last();
        dose.ShouldSatisfyAllConditions(d => d.Recipe.ShouldBe(DoseRecipe.Enzyme), d => d.Used.Single().Product.ShouldBe(Shelf[0].Id),
            d => d.Used.Single().Quantity.ShouldBe(90, 0.1, "six caps: doubled for the hot days of the trip, and the label's most"));
        (await app.GetAsync("/treatments/shelf")).ShouldContain("13.9 fl oz left");
        (await app.GetAsync("/treatments/enzyme")).ShouldMatch("data-note=\"label-dose\">[^<]*Little bottle");
        (await app.GetAsync("/run")).ShouldNotContain("fl oz of enzyme");
        (await app.GetAsync("/trip")).ShouldContain("of Little bottle");
    }

    [Fact]
    public async Task What_is_bought_counted_and_put_away_shows_at_once()
    {
        (await app.GetAsync("/treatments/shelf")).ShouldContain("8 fl oz left");
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Bought", ("product", "enzyme"))).Html.ShouldContain("72 fl oz left");
        app.Clock.AdvanceMinutes(2);
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Counted", ("product", "enzyme"),
            ("left", "1/0"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Counted", ("product", "enzyme"),
            ("left", "0.5 gal"))).Html.ShouldContain("64 fl oz left");
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Save", [.. Concentrate])).Status.ShouldBe(HttpStatusCode.OK);
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Use", ("product", "enzyme"))).Html.ShouldShow("[data-logged]");
        Shelf[0].Id.ShouldBe("enzyme");
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Away", ("product", "enzyme"), ("away", "true"))).Html.ShouldShow("[data-logged]");
        (await app.GetAsync("/treatments/enzyme")).ShouldContain("Little bottle");
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Away", ("product", "enzyme"),
            ("away", "false"))).Status.ShouldBe(HttpStatusCode.OK);
        Shelf.Single(p => p.Id == "enzyme").Retired.ShouldBeFalse();
        (await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Bought", ("product", "nothing"))).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task An_edited_product_keeps_its_stock_and_the_form_shows_what_is_stored()
    {
        await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Save", Concentrate);
        var id = Shelf[0].Id;
        var page = await app.GetAsync("/treatments/shelf");
        foreach (var shown in new[] { "value=\"1.5\"", "value=\"20 gal\"", "value=\"0.507 fl oz\"", "value=\"32 fl oz\"", "value=\"$19.90\"" })
            page.ShouldContain(shown);
        await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Save",
            [("product", id), .. Concentrate.Where(f => f.Item1 is not ("price" or "left")), ("price", "21")]);
        Shelf[0].ShouldSatisfyAllConditions(p => p.Id.ShouldBe(id), p => p.PriceMinor.ShouldBe(2100), p => p.Stock.Count.ShouldBe(1));
        await app.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Save", ("product", id), ("name", "Sachets"), ("kind", "cultures"), ("amount", "1"),
            ("unit", "piece"), ("holds", "12"));
        Shelf[0].ShouldSatisfyAllConditions(p => p.HoldsIn.ShouldBe(DoseUnit.Piece), p => p.Stock.ShouldBeEmpty("millilitres say nothing of sachets"));
    }

    [Fact]
    public async Task A_dose_written_by_hand_takes_from_the_shelf_and_a_correction_keeps_it()
    {
        (string, string)[] dose = [("tank", "black"), ("recipe", "travel-scrub"), ("amount", "1 cup"), ("id", "by-hand"), ("product", "borax"),
            ("taken", "7 oz")];
        (await app.PostAsync("/write/dose", "/write/dose", dose)).Status.ShouldBe(HttpStatusCode.OK);
        DoseEntry Stored() => (DoseEntry)app.With(s => s.Log.Entry(1, "by-hand"))!.Entry;
        Stored().Used.Single().ShouldSatisfyAllConditions(u => u.Product.ShouldBe("borax"), u => u.Quantity.ShouldBe(198.4, 0.1));
        var edit = await app.GetAsync("/write/dose?edit=by-hand");
        edit.ShouldContain("value=\"7 oz\"");
        await app.PostAsync("/write/dose?edit=by-hand", "/write/dose?edit=by-hand&seen=" + app.With(s => s.Log.Entry(1, "by-hand"))!.Revision,
            ("tank", "black"), ("recipe", "travel-scrub"), ("amount", "a whole cup"), ("product", "borax"), ("taken", "7 oz"));
        Stored().ShouldSatisfyAllConditions(d => d.Amount.ShouldBe("a whole cup"), d => d.Used.Single().Quantity.ShouldBe(198.4, 0.1));
        (await app.PostAsync("/write/dose", "/write/dose",
            [.. dose[..3], ("product", "borax"), ("taken", "a lot")])).Html.ShouldRefuse("amount-used");
        (await app.PostAsync("/write/dose", "/write/dose",
            [.. dose[..3], ("product", "gone"), ("taken", "7 oz")])).Html.ShouldRefuse("from-the-shelf");
    }

    [Fact]
    public async Task The_schools_stand_side_by_side()
    {
        var page = await app.GetAsync("/treatments/shelf");
        page.Text("[data-school=enzyme][data-tried=yes]").ShouldContain("3 fills");
        page.ShouldShow("[data-school][data-tried=no]");
        page.ShouldContain("2.69");
    }

    [Fact]
    public async Task The_calculator_answers_for_other_days_and_other_tanks()
    {
        (await app.GetAsync("/treatments/enzyme?high=70&days=3")).ShouldContain("<b>8 fl oz</b>");
        var hot = await app.GetAsync("/treatments/enzyme?high=95&days=9");
        hot.ShouldContain("<b>16 fl oz</b>");
        hot.ShouldMatch("data-note=\"again-later\">[^<]*day 7");
        (await app.GetAsync("/treatments/enzyme?high=70&capacity=20 gal"))
            .ShouldContain("<b>1/2 cup</b>".Replace("1/2 cup", "4 fl oz", StringComparison.Ordinal));
    }
}

/// <summary>What the shelf and the calculator do not take. Nothing is taken, so one application serves all.</summary>
public sealed class ShelfRefusalTests(SharedDemo app) : IClassFixture<SharedDemo>
{
    [Theory]
    [InlineData("name", " ", "name")]
    [InlineData("kind", "potion", "kind")]
    [InlineData("unit", "spoon", "unit")]
    [InlineData("amount", "0", "dose-on-the-label")]
    [InlineData("amount", "much", "dose-on-the-label")]
    [InlineData("amount", "99999", "dose-on-the-label")]
    [InlineData("amount", "", "dose-on-the-label")]
    [InlineData("amount", "150", "dose-on-the-label", "floz")]
    [InlineData("per", "0", "per-tank-size")]
    [InlineData("per", "a lot", "per-tank-size")]
    [InlineData("cap", "", "size-of-a-capful")]
    [InlineData("cap", "0", "size-of-a-capful")]
    [InlineData("cap", "big", "size-of-a-capful")]
    [InlineData("most", "0.1", "labels-maximum")]
    [InlineData("most", "some", "labels-maximum")]
    [InlineData("lasts", "0", "works-for")]
    [InlineData("lasts", "2.5", "works-for")]
    [InlineData("water", "wet", "water-with-it")]
    [InlineData("holds", "0", "full-container-holds")]
    [InlineData("holds", "3 lb", "full-container-holds")]
    [InlineData("price", "-3", "price")]
    [InlineData("price", "cheap", "price")]
    [InlineData("left", "half", "amount-left")]
    public async Task A_label_that_cannot_be_is_refused_by_its_field_and_stands_in_the_form_again(string field, string value, string problem,
        string unit = "cap")
    {
        var before = app.Instance.With(s => s.Find(1)!.Revision);
        (string, string)[] sound = [("name", "Mine"), ("kind", "cultures"), ("amount", "2"), ("unit", unit), ("per", "20 gal"), ("cap", "15 mL"),
            ("most", "8"), ("lasts", "7"), ("water", "3"), ("holds", "32"), ("price", "5"), ("left", "20")];
        var (status, html) = await app.Instance.PostAsync("/treatments/shelf", "/treatments/shelf?handler=Save",
            [.. sound.Where(f => f.Item1 != field), (field, value)]);
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldRefuse(problem);
        if (field is not ("kind" or "unit")) html.ShouldContain($"name=\"{field}\"");
        app.Instance.With(s => s.Find(1)!.Revision).ShouldBe(before);
    }

    [Theory]
    [InlineData("high=hot", "hottest-day")]
    [InlineData("high=900", "hottest-day")]
    [InlineData("days=soon", "days")]
    [InlineData("days=-2", "days")]
    [InlineData("capacity=0", "capacity")]
    [InlineData("capacity=big", "capacity")]
    public async Task The_calculator_says_which_field_it_cannot_read(string query, string problem)
    {
        using var response = await app.Instance.Client.GetAsync(new Uri("/treatments/enzyme?" + query, UriKind.Relative));
        response.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await response.Content.ReadAsStringAsync()).ShouldRefuse(problem);
    }
}
