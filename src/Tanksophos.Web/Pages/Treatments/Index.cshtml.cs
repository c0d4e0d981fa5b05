using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Data;
using Tanksophos.Web.App;
using Tanksophos.Web.Words;

namespace Tanksophos.Web.Pages;

/// <summary>What is in each tank, what is due, and the recipes: what to put in, how much, and what never together.</summary>
public sealed class TreatmentsModel(Household house, RigStore store, RigMemory memory, TripStore trips) : FormPage
{
    /// <summary>A treatment for a tank, as it would be now.</summary>
    /// <param name="Recipe">Its rules.</param>
    /// <param name="Dose">Amounts and steps.</param>
    /// <param name="Against">What speaks against it now.</param>
    public sealed record Offer(Recipe Recipe, ComputedDose Dose, IReadOnlyList<Objection> Against)
    {
        /// <summary>Whether it is refused.</summary>
        public bool Refused => Against.Any(o => o.Refuses);
    }

    private bool? septic;

    /// <summary>The recipe that is followed; null for the list.</summary>
    public Offer? Followed { get; private set; }

    /// <summary>The tank it is for.</summary>
    public TankBelief At { get; private set; } = null!;

    private IReadOnlyList<LogEntry> Log => memory.Log(house.Rig!, store);

    /// <summary>Whether the place is on a septic system, as the trip says.</summary>
    public bool Septic => septic ??= trips.Current(house.Rig!.Id, house.Now)?.Itinerary.Stops.FirstOrDefault(s => s.Arrive.ToInstant() <= house.Now && s.Depart.ToInstant() >= house.Now)?.Septic == true;

    /// <summary>What is in a tank.</summary>
    public InTheTank In(string tank) => InTheTank.Of(Log, tank, house.Now);

    /// <summary>Treatments under way in a tank.</summary>
    public IReadOnlyList<Course> Under(string tank) => Courses.Of(Log, tank, house.Now);

    /// <summary>When a deep clean is due; null for no date.</summary>
    public NodaTime.Instant? DeepClean(string tank) => Courses.DeepCleanDue(Log, tank, house.Rig!.Rig.RulesInForce);

    /// <summary>A treatment as it would be now.</summary>
    public Offer Of(Recipe recipe, TankBelief tank)
    {
        ArgumentNullException.ThrowIfNull(recipe);
        ArgumentNullException.ThrowIfNull(tank);
        var rules = house.Rig!.Rig.RulesInForce;
        var units = house.Units == Units.Us ? KitchenUnits.Us : KitchenUnits.Metric;
        var free = Guard.Limit(tank.Tank, recipe.IntoCleanTank && recipe.Then ? tank.Forecast.EmptiedAt(tank.Forecast.From).At(tank.Forecast.From) : tank.Level, FillStop.Meter);
        return new Offer(recipe, DoseCalculator.Of(recipe.Code, tank.Tank.CapacityL, units), Objections.To(recipe.Code, tank.Tank, In(tank.Tank.Id), rules, Septic, house.Now, freeL: free.Litres));
    }

    public IActionResult OnGet(string? recipe, string? tank) => recipe is null || Find(recipe, tank) ? Page() : NotFound();

    /// <summary>Logs that it went in; what is refused is not logged here.</summary>
    public IActionResult OnPostIn(string? id, string? recipe, string? tank)
    {
        if (!Find(recipe, tank)) return NotFound();
        if (Followed!.Refused) return Refuse([.. Followed.Against.Where(o => o.Refuses).Select(o => TreatmentWords.Objection(o, house.Rig!.Rig.RulesInForce))]);
        var amount = string.Join(" + ", Followed.Dose.Ingredients.Select(TreatmentWords.Amount));
        var entry = new DoseEntry
        {
            Id = id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId(),
            At = NodaTime.Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime(),
            Tank = At.Tank.Id,
            Recipe = Followed.Recipe.Code,
            Amount = amount.Length > 0 ? amount : null,
            WaterL = RoutineDose.IsRoutine(Followed.Recipe.Code) ? null : Followed.Dose.WaterL,
        };
        return Record(entry);
    }

    /// <summary>Keeps how a paper did in the glass.</summary>
    public IActionResult OnPostPaper(string? id, string? paper, string? result)
    {
        if (!Codes<CheckResult>.TryParse(result, out var how)) return Refuse($"Paper: one of {string.Join(", ", Codes<CheckResult>.All)} is accepted.");
        if (paper?.Length > 60) return Refuse("Which paper: at most 60 characters are accepted.");
        var entry = new CheckEntry { Id = id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId(), At = NodaTime.Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime(), Code = CheckCode.PaperDissolves, Result = how, Note = string.IsNullOrWhiteSpace(paper) ? null : paper.Trim() };
        return Record(entry);
    }

    /// <summary>The papers that were tested, each with its last result, the newest first.</summary>
    public IReadOnlyList<(string Paper, bool Passed, NodaTime.Instant At)> Papers =>
        [.. Log.OfType<CheckEntry>().Where(c => c.Code == CheckCode.PaperDissolves).Reverse().DistinctBy(c => c.Note?.ToLowerInvariant() ?? "").Take(6).Select(c => (c.Note ?? "A paper", c.Result == CheckResult.Pass, c.Instant))];

    private IActionResult Record(LogEntry entry)
    {
        try
        {
            store.Record(house.Rig!.Id, [entry], house.Who);
        }
        catch (EntryConflictException)
        {
            return Refuse("This form was already sent with other content. Open the page afresh.");
        }
        TempData[TodayModel.Logged] = house.Said(entry);
        TempData[TodayModel.LoggedKey] = entry.Id;
        return RedirectToPage(new { recipe = (string?)null });
    }

    private bool Find(string? recipe, string? tank)
    {
        if (!Codes<DoseRecipe>.TryParse(recipe, out var code) || Recipes.Find(code) is not { } known) return false;
        var belief = house.Picture.Belief;
        if ((tank is null ? belief.Tanks.FirstOrDefault(t => known.For(t.Tank.Role)) : belief.Tanks.FirstOrDefault(t => t.Tank.Id == tank)) is not { } found) return false;
        At = found;
        Followed = Of(known, found);
        return true;
    }
}
