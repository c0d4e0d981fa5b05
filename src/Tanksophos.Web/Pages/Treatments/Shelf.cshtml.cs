using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>The owner's products with their label doses, what is left of them, and what each school of treatment costs and does on this rig.</summary>
public sealed class ShelfModel(CurrentRequest house, RigStore store, TreatmentService desk) : FormPage
{
    /// <summary>The form's fields as typed, where they could not be taken; else empty.</summary>
    public IReadOnlyDictionary<string, string> Typed { get; private set; } = new Dictionary<string, string>();

    /// <summary>The shelf, those put away at the end.</summary>
    public IReadOnlyList<Product> Products => [.. house.Rig!.Rig.Products.OrderBy(p => p.Retired)];

    /// <summary>The black tank that schools are compared on; null without one.</summary>
    public Tank? Black => house.Rig!.Rig.Tanks.FirstOrDefault(t => t.Role == TankRole.Black);

    /// <summary>What each school did on this rig.</summary>
    public IReadOnlyList<SchoolRecord> Records => records ??= Black is { } b ? SchoolRecords.Of(desk.Log, house.Rig!.Rig, b.Id, house.Now) : [];

    /// <summary>What is left of a product.</summary>
    public StockState Stock(Product product) => desk.Stock(product);

    /// <summary>Whether it is the one in use of its kind.</summary>
    public bool InUse(Product product)
    {
        ArgumentNullException.ThrowIfNull(product);
        return !product.Retired && house.Rig!.Rig.Products.First(p => !p.Retired && p.Kind == product.Kind).Id == product.Id;
    }

    /// <summary>Its dose for the tank it is for, in words; null where recipes measure it.</summary>
    public string? DoseHere(Product product)
    {
        ArgumentNullException.ThrowIfNull(product);
        if (product.Dose is not { } dose || Shelf.RecipeOf(product.Kind) is not { } recipe
            || house.Rig!.Rig.Tanks.FirstOrDefault(t => Recipes.Find(recipe)?.For(t.Role) == true) is not { } tank) return null;
        var amount = LabelDoses.For(dose, tank.CapacityL, null, desk.Kitchen);
        return TreatmentsSays.ForAmount(DoseCalculator.Words(amount.Amount, dose, desk.Kitchen), tank.Name.ToLowerInvariant())
            + (Shelf.Cost(product, amount.InBottleUnits(dose)) is { } cost ? TreatmentsSays.ADose(house.Currency.Amount(cost)) : "");
    }

    public void OnGet()
    {
    }

    /// <summary>Adds a product, or changes one.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostSave(string? product)
    {
        var form = Request.Form;
        string Field(string name) => form[name].ToString().Trim();
        Typed = form.Keys.Where(k => !k.StartsWith("__", StringComparison.Ordinal)).ToDictionary(k => k, k => form[k].ToString());
        var before = string.IsNullOrEmpty(product) ? null : house.Rig!.Rig.Products.FirstOrDefault(p => p.Id == product);
        if (!string.IsNullOrEmpty(product) && before is null) return NotFound();
        var problems = new List<string>();
        var name = Field("name");
        if (name.Length is 0 or > 60) problems.Add(TreatmentsSays.NameEnterANameOfAt);
        if (!Codes<Substance>.TryParse(Field("kind"), out var kind)) problems.Add(TreatmentsSays.KindChooseOneOf(string.Join(", ", Codes<Substance>.All)));
        var unit = ShelfWords.Typed.FirstOrDefault(u => u.Code == Field("unit"));
        if (unit.Code is null) problems.Add(TreatmentsSays.UnitChooseOneOf(string.Join(", ", ShelfWords.Typed.Select(u => u.Name))));
        var dose = unit.Code is null ? null : ReadDose(unit.Unit, unit.Each, kind, problems);
        var holdsIn = unit.Unit == DoseUnit.Cap ? DoseUnit.Ml : unit.Unit;
        double? holds = null, left = null;
        if (Field("holds").Length > 0)
        {
            if (ShelfWords.TryParse(Field("holds"), holdsIn, house.Units, out var h) && h > 0) holds = h;
            else problems.Add(TreatmentsSays.FullContainerHoldsEnterMore(ShelfWords.Accepted(holdsIn)));
        }
        int? price = null;
        if (Field("price").Length > 0)
        {
            if (Currency.TryParse(Field("price"), 100_000, out var paid)) price = paid;
            else problems.Add(TreatmentsSays.PriceEnterANumberSuchAs);
        }
        if (Field("left").Length > 0)
        {
            if (ShelfWords.TryParse(Field("left"), holdsIn, house.Units, out var l)) left = l;
            else problems.Add(TreatmentsSays.AmountLeftEnter(ShelfWords.Accepted(holdsIn)));
        }
        if (Field("caution").Length > 300) problems.Add(TreatmentsSays.LabelWarningUseAtMost300);
        if (problems.Count > 0) return Refuse([.. problems]);
        var made = (before ?? new Product("p" + Guid.NewGuid().ToString("N")[..10], name, kind, dose)) with
        {
            Name = name,
            Kind = kind,
            Dose = dose,
            Unit = dose is null ? holdsIn : null,
            Holds = holds,
            PriceMinor = price,
            Caution = Field("caution").Length > 0 ? Field("caution") : null,
        };
        // Counted in another unit than before, what was counted means nothing any more.
        if (before is not null && before.HoldsIn != made.HoldsIn) made = made with { Stock = [] };
        if (left is { } now) made = made with { Stock = [.. made.Stock, new StockNote(Here, now, false)] };
        if (LabelDoses.Problem(made) is { } wrong) return Refuse(TreatmentsSays.AcceptedIs(TitleOf(wrong.Field), wrong.Accepted));
        if (before is not null && SeenBefore(store, house.Rig!) is { } seen && seen.Products.FirstOrDefault(p => p.Id == before.Id) is var then
            && !SameLabel(then, before)) return Refuse(Clashing(before, made));
        if (before is null && house.Rig!.Rig.Products.Count >= RigCodec.MaxProducts)
            return Refuse(TreatmentsSays.AtMostProductsFitOnThe(RigCodec.MaxProducts));
        return Kept(list => before is null ? [made, .. list] : [.. list.Select(p => p.Id == made.Id ? made : p)], before is null
            ? TreatmentsSays.IsOnTheShelf(made.Name) : TreatmentsSays.IsSaved(made.Name));
    }

    // The dose on the label as it was typed; what is wrong with it goes to the problems.
    private LabelDose? ReadDose(DoseUnit unit, double each, Substance kind, List<string> problems)
    {
        string Field(string name) => Typed.GetValueOrDefault(name, "").Trim();
        double? Number(string field, string title, string accepted)
        {
            if (Field(field).Length == 0) return null;
            if (double.TryParse(Field(field).Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var n) && n > 0
                && n <= LabelDoses.MaxAmount) return n * each;
            problems.Add($"{title}: {accepted}");
            return null;
        }
        double? Volume(string field, Func<double, bool> fits, string otherwise)
        {
            if (Field(field).Length == 0) return null;
            if (house.Units.TryParseVolume(Field(field), out var litres) && fits(litres)) return litres;
            problems.Add(otherwise);
            return null;
        }
        if (Number("amount", TreatmentsSays.DoseOnTheLabel, TreatmentsSays.EnterANumberAbove0Such) is not { } amount)
        {
            if (Field("amount").Length == 0 && problems.Count == 0 && !Shelf.IsMeasuredByRecipes(kind))
                problems.Add(TreatmentsSays.DoseOnTheLabelEnterA);
            return null;
        }
        var dose = new LabelDose(amount, unit)
        {
            Max = Number("most", TreatmentsSays.LabelsMaximumPerTank, TreatmentsSays.EnterANumberAbove0In),
            PerL = Volume("per", l => l > 0, TreatmentsSays.PerTankSizeEnterMoreThan(house.Units.AcceptedVolume))
        };
        if (unit == DoseUnit.Cap)
        {
            if (ShelfWords.TryParse(Field("cap"), DoseUnit.Ml, house.Units, out var cap) && cap is > 0 and <= 500) dose = dose with { CapMl = cap };
            else problems.Add(TreatmentsSays.SizeOfACapfulFillThe);
        }
        if (Field("lasts").Length > 0)
        {
            if (int.TryParse(Field("lasts"), NumberStyles.None, CultureInfo.InvariantCulture, out var days) && days is >= 1 and <= 60)
                dose = dose with { LastsDays = days };
            else problems.Add(TreatmentsSays.WorksForEnterAWholeNumber);
        }
        return Volume("water", l => l <= 500, TreatmentsSays.WaterWithItEnter(house.Units.AcceptedVolume)) is { } water ? dose with { WaterL = water } : dose;
    }

    /// <summary>Another full one was bought.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostBought(string? product) => Change(product, p => p.Holds is { } holds
        ? (p with { Stock = [.. Since(p), new StockNote(Here, holds, true)] }, TreatmentsSays.AnotherIsOnTheShelf(p.Name))
        : (null, TreatmentsSays.FirstEnterHowMuchAFull(p.Name)));

    /// <summary>Somebody looked at what is left.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostCounted(string? product, string? left) => Change(product, p => ShelfWords.TryParse(left, p.HoldsIn, house.Units, out var l)
        ? (p with { Stock = [.. p.Stock, new StockNote(Here, l, false)] }, TreatmentsSays.Left(p.Name, ShelfWords.Quantity(l, p.HoldsIn, house.Units)))
        : (null, TreatmentsSays.AmountLeftEnter(ShelfWords.Accepted(p.HoldsIn))));

    /// <summary>Puts a product away, or back.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostAway(string? product, bool away) =>
        Change(product, p => (p with { Retired = away }, away ? TreatmentsSays.IsArchivedTheLogKeepsIt(p.Name) : TreatmentsSays.IsBackOnTheShelf(p.Name)));

    /// <summary>Takes a product as the one in use of its kind.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostUse(string? product) => house.Rig!.Rig.Products.FirstOrDefault(p => p.Id == product) is not { } chosen ? NotFound()
        : Kept(list => [chosen, .. list.Where(p => p.Id != product)], TreatmentsSays.IsInUseNow(chosen.Name));

    // What the form shows of a product: not what was counted, which is added to and not overwritten.
    private static bool SameLabel(Product? a, Product b) => a is not null && a with { Stock = b.Stock, Retired = b.Retired } == b;

    private Clash Clashing(Product saved, Product mine)
    {
        var units = house.Units;
        string Amount(double? value, DoseUnit unit) => value is { } v ? ShelfWords.Quantity(v, unit, units) : "";
        string Volume(double? litres) => litres is { } l ? units.Volume(l) : "";
        (string, string, string)[] all =
        [
            (SharedSays.Name, mine.Name, saved.Name), (SharedSays.Kind, ShelfWords.Kind(mine.Kind), ShelfWords.Kind(saved.Kind)),
            (TitleOf("amount"), Amount(mine.Dose?.Amount, mine.Dose?.Unit ?? mine.HoldsIn), Amount(saved.Dose?.Amount, saved.Dose?.Unit ?? saved.HoldsIn)),
            (TitleOf("perL"), Volume(mine.Dose?.PerL), Volume(saved.Dose?.PerL)),
            (TitleOf("capMl"), Amount(mine.Dose?.CapMl, DoseUnit.Ml), Amount(saved.Dose?.CapMl, DoseUnit.Ml)),
            (TitleOf("most"), Amount(mine.Dose?.Max, mine.Dose?.Unit ?? mine.HoldsIn), Amount(saved.Dose?.Max, saved.Dose?.Unit ?? saved.HoldsIn)),
            (TitleOf("lastsDays"), mine.Dose?.LastsDays?.ToString(CultureInfo.InvariantCulture) ?? "",
                saved.Dose?.LastsDays?.ToString(CultureInfo.InvariantCulture) ?? ""),
            (TitleOf("waterL"), Volume(mine.Dose?.WaterL), Volume(saved.Dose?.WaterL)),
            (TitleOf("holds"), Amount(mine.Holds, mine.HoldsIn), Amount(saved.Holds, saved.HoldsIn)),
            (TitleOf("price"), mine.PriceMinor is { } m ? house.Currency.Amount(m) : "", saved.PriceMinor is { } s ? house.Currency.Amount(s) : ""),
            (TreatmentsSays.LabelWarning, mine.Caution ?? "", saved.Caution ?? ""),
        ];
        var revision = house.Rig!.Revision.ToString(CultureInfo.InvariantCulture);
        Typed = new Dictionary<string, string>();
        return new Clash(saved.Name, store.ChangedBy(house.Rig.Id) ?? SharedSays.Someone,
            Url.Page("/Treatments/Shelf", "Save")!, Url.Page("/Treatments/Shelf")!,
            Clash.Sent(Request.Form, (Clash.Seen, revision)), [.. all.Where(f => f.Item2 != f.Item3)]);
    }

    // What was never counted begins with nothing, so that what is bought counts.
    private IReadOnlyList<StockNote> Since(Product p) => p.Stock.Any(s => !s.Bought) ? p.Stock
        : [new StockNote(Here.Minus(NodaTime.Duration.FromSeconds(1)), Amount: 0, Bought: false)];

    private NodaTime.OffsetDateTime Here => NodaTime.Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime();

    private IActionResult Change(string? id, Func<Product, (Product? Changed, string Said)> change)
    {
        if (house.Rig!.Rig.Products.FirstOrDefault(p => p.Id == id) is not { } product) return NotFound();
        var (changed, said) = change(product);
        return changed is null ? Refuse(said) : Kept(list => [.. list.Select(p => p.Id == id ? changed : p)], said);
    }

    private IActionResult Kept(Func<IReadOnlyList<Product>, IReadOnlyList<Product>> change, string said)
    {
        var rig = house.Rig!;
        if (!store.Change(rig.Id, rig.Revision, r => r with { Products = change(r.Products) }, house.Who))
            return Refuse(SharedSays.SomeoneElseChangedTheRigCheck);
        TempData[TodayModel.Logged] = said;
        return RedirectToPage();
    }

    private static string TitleOf(string field) => field switch
    {
        "amount" or "dose" => TreatmentsSays.DoseOnTheLabel,
        "perL" => TreatmentsSays.PerTankSize,
        "capMl" => TreatmentsSays.SizeOfACapful,
        "most" => TreatmentsSays.LabelsMaximumPerTank,
        "lastsDays" => TreatmentsSays.WorksFor,
        "waterL" => SharedSays.WaterWithIt,
        "holds" => TreatmentsSays.FullContainerHolds,
        "unit" => TreatmentsSays.Unit,
        _ => TreatmentsSays.Price,
    };

    private IReadOnlyList<SchoolRecord>? records;
}
