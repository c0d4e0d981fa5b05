using System.Globalization;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Words;

/// <summary>Says in a sentence or two why something is to be done, or held back.</summary>
/// <param name="rig">The rig, for the names of its tanks.</param>
public sealed class AgendaWords(Rig rig)
{
    /// <summary>Why an item is on the list.</summary>
    /// <param name="item">The item.</param>
    public string Why(AgendaItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        return string.Join(" ", item.Because.Select(b => Sentence(b, item)).Distinct());
    }

    /// <summary>Why something must wait.</summary>
    /// <param name="held">What is held back.</param>
    public string Why(AgendaHeld held)
    {
        ArgumentNullException.ThrowIfNull(held);
        var name = Name(held.Tank);
        return held.Because switch
        {
            Because.PropaneAlarm or Because.GasSmell => "Everything waits until the gas is cleared. Everyone out first.",
            Because.Bleach => $"There is bleach in {name}. Nothing goes in but rinse water until it is dumped and rinsed twice.",
            Because.NothingCame => $"{Capital(name)} did not drain. Clear the clog first.",
            Because.Trickle => $"{Capital(name)} drained only a trickle. Clear the clog first.",
            Because.Clog => $"The outlet of {name} is likely clogged. Clear it first.",
            Because.Heap => $"There is likely a waste pile under the toilet of {name}. Clear it first.",
            Because.DumpWithin48H => $"{Capital(name)} is dumped within 48 hours, so the dose would go down the sewer. Dose after the dump.",
            Because.StillWorks => $"The last dose in {name} still works.",
            Because.BelongsToRun => "It is part of the next dump run.",
            Because.NoRoom => $"There is not enough free space in {name}.",
            Because.SewerAhead => $"{Capital(name)} is low and lasts to your next sewer hookup. Dumped low, it leaves solids behind.",
            Because.GrayForRinse => "Keep the gray water to rinse the hose.",
            Because.BlackOpen => "A black valve is open. Close it first.",
            Because.Departure => "You leave soon. Valves stay closed on the road.",
            Because.SniffFailed => "The sniff test failed. Rinse again before anything else goes in.",
            _ => Codes<ObjectionCode>.TryParse(held.Because, out var objection) ? Objection(objection, name)
                : throw new ArgumentOutOfRangeException(nameof(held), held.Because, "a hold without words"),
        };
    }

    private static string Objection(ObjectionCode objection, string name) => objection switch
    {
        ObjectionCode.PoisonousGas => $"With what is in {name} it makes poisonous gas. Never.",
        ObjectionCode.BleachIntoWaste => "Bleach with waste makes poisonous gas.",
        ObjectionCode.BleachNotInThisHouse => "Your house rule is no bleach.",
        ObjectionCode.KillsCultures => $"It and what is in {name} cancel each other: the cultures die.",
        ObjectionCode.RinseAfterBleach => $"There was bleach in {name}. Fill and dump it twice first.",
        ObjectionCode.TwoDigesters => $"There is a digester in {name} already. Use only one.",
        ObjectionCode.Foams => "Foaming soap under ice foams out the vent.",
        ObjectionCode.OneAtATime => $"There is another product in {name}. One at a time: dump and rinse first.",
        ObjectionCode.StillWorks => $"The last dose in {name} still works.",
        ObjectionCode.Septic => "This place is on a septic system. It would harm it.",
        ObjectionCode.WrongTank => $"It is not for {name}.",
        ObjectionCode.NeverAdvised => "Never advised: bleach with anything but clean water makes poisonous gas.",
        ObjectionCode.NoRoom => $"There is not enough free space in {name}.",
    };

    private string Sentence(string because, AgendaItem item)
    {
        var name = item.Tanks.Count == 0 ? "the tank" : And([.. item.Tanks.Select(Name)]);
        var first = Name(item.Tanks.Count > 0 ? item.Tanks[0] : null);
        return because switch
        {
            Because.PropaneAlarm => "The propane alarm sounded. Treat it as real until a qualified person rules out propane.",
            Because.GasSmell => "Someone smelled gas strongly. Treat it like an alarm until a qualified person rules propane out.",
            Because.Bleach => item.Code switch
            {
                AgendaCode.Ventilate => $"Bleach met waste in {name}. Together they make poisonous gas. Everyone out, open doors and windows, and wait until "
                    + $"the air is clear.",
                AgendaCode.StopUsing => $"Nothing more into {name}: with bleach, urine makes poisonous gas.",
                AgendaCode.FindDrain => $"The bleach in {name} must be dumped, and there's no place for it here.",
                AgendaCode.Rinse => $"Rinse {name} with clean water until it was dumped and rinsed twice since the bleach.",
                _ => $"Get the bleach out of {first} once the air is clear.",
            },
            Because.NothingCame => item.Code == AgendaCode.Remedy ? "Nothing came when you opened it. This is the first step that fits the space left."
                : $"Nothing came when you opened {name}. Keep the space that is left.",
            Because.Trickle => item.Code == AgendaCode.Remedy ? "Only a trickle came. This is the first step that fits the space left."
                : $"Only a trickle came from {name}. Keep the space that is left.",
            Because.Clog => item.Code == AgendaCode.Remedy ? "This is the first step that fits the space left." : $"The outlet of {name} is likely clogged.",
            Because.Heap => item.Code == AgendaCode.Remedy ? "This is the first step that fits the space left."
                : $"There is likely a waste pile under the toilet of {name}.",
            Because.BlackOpen => "Left open, liquid drains off and the solids stay and dry hard.",
            Because.NothingDrains => $"The {name} valve is open and there is no drain here. It drains onto the ground.",
            Because.Departure => "You leave soon. No valve may be open when the hose comes off.",
            Because.GrayForRinse => item.Code == AgendaCode.CloseValve ? "Saves gray water to rinse the hose after black."
                : "By then there is gray water to rinse the hose.",
            Because.DrainsHere => item.Step?.ExpectedAt is null && item.Planned is null ? "Gray can drain here."
                : "Gray can drain here until you need it for the rinse.",
            Because.Level => item.Fraction is { } share ? $"{Capital(first)} is then about {Percent(share)} full, enough to leave in a rush."
                : $"{Capital(first)} reaches its dump level.",
            Because.Days => item.Code == AgendaCode.TopUp ? "Its days are up before it is full enough. More water helps it leave in a rush."
                : $"It is {rig.RulesInForce.MaxDays} days since the last dump then, your limit.",
            Because.MayOverflow => item.Code switch
            {
                AgendaCode.FindDrain => $"In a busy week {name} could be completely full by then.",
                AgendaCode.StopWater when item.Level > AgendaLevel.Now => "Use less water, or a tank may overflow before the next dump.",
                _ => $"{Capital(name)} may be completely full, and it cannot drain here. It backs up or comes out the roof vent next.",
            },
            Because.Plan => "It is the planned time on your trip.",
            Because.SoakDone => item.Code == AgendaCode.FindDrain ? "The soak is done. Dump what it loosened. There is no sewer here."
                : "The soak is done then. Dump and flush before what it loosened settles.",
            Because.RinsedWithWater => "There is too little gray water for the hose, so rinse it with fresh water.",
            Because.SewerAhead => $"{Capital(name)} lasts to the next sewer hookup.",
            Because.NoStarterWater => $"{Capital(name)} was emptied and no water went in since. Waste dries hard on a bare tank bottom.",
            Because.NoDose => $"Nothing was dosed since {name} was emptied.",
            Because.DoseWornOff => $"The last dose in {name} has worn off then.",
            Because.SniffFailed => "The sniff test failed. Rinse once more before anything goes in.",
            Because.SensorDoubt => "A sensor may be wrong, and this would tell the most.",
            Because.WideRange => $"The level of {name} is not known well. A look settles it.",
            Because.NoPlace => "Hookups decide how fast the tanks fill and where they can be emptied. None is logged.",
            Because.TripDisagrees => "Trip and log disagree on where you are. Log your place.",
            Because.Silence => "Nothing was logged for weeks. Until you look, the levels are guesses.",
            Because.Unlogged => $"{Capital(name)} was much emptier than the log says. A dump may not have been logged.",
            Because.UnloggedPeople => MendWords.Miscounted(item.Doubts[0].Misfit),
            Because.HouseRule => item.Code == AgendaCode.CloseValve ? "Your rule: gray stays closed and is dumped at about two thirds."
                : "Your house rules ask for it.",
            Because.Stock => "What is left does not last long.",
            Because.Smell => "It would tell best where the smell comes from.",
            Because.Symptom => "It would tell best what is wrong.",
            Because.Drive => "A drive ahead does the washing.",
            Because.DryStretch => "Gray fills first before the next drain, and black has room.",
            Because.Filling => $"The sensor shows {name} nearly full and still rising.",
            Because.Device => $"Nothing from it for over an hour{(item.Tanks.Count > 0 ? $", so nothing is being logged for {name}" : "")}. "
                + "Check its power and network.",
            Because.UnusedTraps => "Unused drains dry out and let tank odor in.",
            "probe-stuck-on" => "A sensor is stuck on. This is the next step to fix it.",
            "probe-stuck-off" => "A sensor is stuck off. This is the next step to fix it.",
            _ when Codes<Condition>.TryParse(because, out _) || Codes<OdorCause>.TryParse(because, out _) => $"Likely cause: {because.Replace('-', ' ')}.",
            _ => throw new ArgumentOutOfRangeException(nameof(because), because, "a reason without words"),
        };
    }

    private string Name(string? id) => rig.Find(id)?.Name is { Length: > 0 } name ? char.ToLowerInvariant(name[0]) + name[1..] : "the tank";

    private static string Percent(double share) => string.Create(CultureInfo.InvariantCulture, $"{100 * share:0} %");

    private static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    private static string And(IReadOnlyList<string> names) =>
        names.Count switch { 0 => "", 1 => names[0], _ => $"{string.Join(", ", names.Take(names.Count - 1))} and {names[^1]}" };
}
