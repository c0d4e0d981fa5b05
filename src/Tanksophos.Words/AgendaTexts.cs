using System.Globalization;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Log;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Words;

/// <summary>Says what is on the agenda: one wording for every page.</summary>
/// <param name="picture">What is believed.</param>
/// <param name="units">The person's units.</param>
/// <param name="times">Local time.</param>
/// <param name="trip">Name of the trip under way; null for none.</param>
/// <param name="highC">Hottest day ahead in C; null if it is not known.</param>
public sealed class AgendaTexts(Situation picture, Units units, TimeWords times, string? trip = null, double? highC = null)
{
    private const string Fill = "Never leave a closed tank while it fills: overfilling sends sewage out the roof vent or toilet.";
    private const string AtTheOutlet = "Gloves and eye protection on, kids and pets away. Connect both hose ends before you open a valve. " + Fill;

    private Rig Rig => picture.Logbook.Rig;

    private AgendaWords Words => new(Rig);

    /// <summary>The words for an item.</summary>
    public StepText Of(AgendaItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        var (title, caution) = Say(item);
        return new StepText(When(item), title, item.CareItem is { } chore ? new CareWords(Rig, times, units).Why(chore) : Words.Why(item),
            [.. Details(item)], caution);
    }

    /// <summary>Items as people do them: valves that are moved at the same hour for the same reason are one.</summary>
    public static IReadOnlyList<AgendaItem> Together(IEnumerable<AgendaItem> items)
    {
        ArgumentNullException.ThrowIfNull(items);
        return [.. items.GroupBy(i => i.Code is AgendaCode.CloseValve or AgendaCode.OpenValve
            ? (object)(i.Code, i.Level, i.At, string.Join(' ', i.Because)) : i)
            .Select(g => g.Count() == 1 ? g.First() : g.First() with { Tanks = [.. g.SelectMany(i => i.Tanks)] })];
    }

    /// <summary>What is held back, in a line.</summary>
    public string Of(AgendaHeld held)
    {
        ArgumentNullException.ThrowIfNull(held);
        return $"{Say(held.Item with { Tanks = held.Tank is null ? [] : [held.Tank] }).Title}: not now. {Words.Why(held)}";
    }

    private string When(AgendaItem item)
    {
        if (item.Level is AgendaLevel.Safety or AgendaLevel.Now) return "Now";
        if (item.At is not { } at) return item.Level == AgendaLevel.Today ? "Today" : "";
        return item.Code is AgendaCode.CloseValve or AgendaCode.FindDrain or AgendaCode.TopUp or AgendaCode.StopWater ? times.By(at)
            : TimeWords.Capital(times.At(at));
    }

    private (string Title, string? Caution) Say(AgendaItem item)
    {
        var tank = Rig.Find(item.Tanks.Count > 0 ? item.Tanks[0] : null);
        var name = tank is null ? "" : Name(tank);
        var black = tank?.Role == TankRole.Black;
        switch (item.Code)
        {
            case AgendaCode.Evacuate:
                return (item.Because.Contains(Because.GasSmell) ? "Smell of gas: everyone out" : "Propane alarm: everyone out",
                    "No flames, no switches, no engine. Close the gas at the cylinder only if you can reach it safely. Call for help from outside.");
            case AgendaCode.Ventilate:
                return ($"Bleach in {name}: out, and let air in",
                    "The gas is poisonous. Nothing more goes in. Doors and windows open, toilet lid down; go back only when the air is clear.");
            case AgendaCode.CloseValve:
                return ($"Close {Valves(item)}", black ? "Gloves on." : null);
            case AgendaCode.OpenValve:
                return ($"Open {Valves(item)}", "Both ends of the sewer hose locked first. Black stays closed.");
            case AgendaCode.StopUsing:
                return (black ? "Stop using the toilet" : $"Stop using the drains of {name}",
                    item.Because.Any(b => b is Because.NothingCame or Because.Trickle or Because.Clog or Because.Heap)
                    ? "Add no water. No caustic drain opener, no compressed air. Never open a cleanout under a full tank."
                    : item.Because.Any(b => b is Because.MayOverflow or Because.Filling) ? "Overfilling sends sewage out the roof vent or toilet." : null);
            case AgendaCode.StopWater:
                return item.Because.Contains(Because.Filling) ? ($"Water off: {name} is nearly full", "Next, the shower drain backs up.")
                    : item.Level <= AgendaLevel.Now ? ($"Stop running water into {name}", "Next, the shower drain backs up.") : ("Use less water", null);
            case AgendaCode.DumpRun:
                return (Run(item), AtTheOutlet);
            case AgendaCode.Rinse:
                return ($"Rinse {name}{(item.WaterL is { } r ? $" with {units.Volume(r)}" : "")}", Fill);
            case AgendaCode.TopUp:
                return (item.WaterL is { } t ? $"Add {units.Volume(t)} to {name} before the dump" : $"Add water to {name} before the dump", Fill);
            case AgendaCode.StarterWater:
                return (item.WaterL is { } s ? $"Put {units.Volume(s)} of starter water into {name}" : $"Starter water into {name}", null);
            case AgendaCode.Dose:
                return (item.Recipe is { } recipe && !RoutineDose.IsRoutine(recipe)
                    ? $"{TreatmentWords.Title(recipe)} into {name}{(item.Amount is { } a ? $": {a}" : "")}"
                    : $"Dose {name}{(item.Amount is { } b ? $": {b} of {Product(item)}" : "")}",
                    "Follow the label. One product at a time, never bleach with anything else in the tank.");
            case AgendaCode.ScrubBeforeDrive:
                return ($"Travel scrub into {name} before you drive{(item.Amount is { } c ? $": {c}" : "")}",
                    "Poisonous gas: never with bleach, acid or other cleaners. Follow the labels.");
            case AgendaCode.Remedy:
                return Remedy(item, tank);
            case AgendaCode.Check:
                return Check(item);
            case AgendaCode.LookInside:
                return ($"Look into {name}", black ? "Sewer gas can poison and ignite. No flames; keep your face away." : null);
            case AgendaCode.FindDrain:
                return (black ? $"Find a sewer for {name}" : $"Find a drain for {name}", black ? null
                    : "Local rules say where gray water may go. Never assume.");
            case AgendaCode.Divert:
                return (PlanWords.Dishwater(item.Share, units), null);
            case AgendaCode.ConfirmEntry:
                return (item.Doubts.Count == 0 ? $"Was {name} dumped?" : new MendWords(units, times, Rig).Question(item.Doubts), null);
            case AgendaCode.Care:
                return item.CareItem is { } chore ? (new CareWords(Rig, times, units).What(chore), CareWords.Caution(chore))
                    : ($"Look into Care: {Spaced(item.Chore ?? "chores")}", null);
            case AgendaCode.Buy:
                if (item.CareItem is { } broken)
                    return ($"Buy {broken.Evidence.OfType<ChoreEntry>().LastOrDefault()?.Part ?? "a gasket or hose"} before the next dump run", null);
                return ($"Buy {Rig.Products.FirstOrDefault(p => p.Id == item.Chore)?.Name ?? "more"}", null);
            case AgendaCode.CatchUp:
                return ("Bring the log up to date", null);
            case AgendaCode.LogPlace:
                return ("Log where you are", null);
            default:
                throw new ArgumentOutOfRangeException(nameof(item), item.Code, "an item without words");
        }
    }

    // "the black valve", "both gray valves", "the bath gray and galley gray valves"
    private string Valves(AgendaItem item)
    {
        var tanks = item.Tanks.Select(t => Rig.Find(t)).OfType<Tank>().ToList();
        var grays = Rig.Tanks.Count(t => t.Role == TankRole.Gray);
        if (tanks.Count > 1 && tanks.Count == grays && tanks.TrueForAll(t => t.Role == TankRole.Gray))
            return tanks.Count == 2 ? "both gray valves" : "all gray valves";
        return $"the {EntryWords.And([.. tanks.Select(Name)])} {(tanks.Count == 1 ? "valve" : "valves")}";
    }

    private string Run(AgendaItem item)
    {
        var tanks = item.Tanks.Select(t => Rig.Find(t)).OfType<Tank>().ToList();
        var black = tanks.FirstOrDefault(t => t.Role == TankRole.Black);
        if (black is null) return $"Dump {EntryWords.And([.. tanks.Select(Name)])}";
        var share = item.Fraction is { } full ? $" at {StepWords.Percent(full)}" : "";
        return $"Dump run: {Name(black)}{share}{(tanks.Count > 1 ? ", then gray" : "")}";
    }

    private (string, string?) Remedy(AgendaItem item, Tank? tank)
    {
        var of = tank is null ? "" : $" ({Name(tank)})";
        if (item.For?.StartsWith("probe-", StringComparison.Ordinal) == true
            && picture.Sensors.Courses.FirstOrDefault(c => c.Tank == tank?.Id && c.Next is { } n
            && SensorLadder.ActionOf(n.Rung, Rig) == item.Action) is { Next: { } rung })
            return (SensorWords.Rung(rung.Rung).Title + of, SensorWords.Rung(rung.Rung).Caution);
        if (item.Action is not null && Codes<RemedyAction>.TryParse(item.Action, out var action))
        {
            var text = new FaultWords(Rig, units, times).Remedy(action, tank);
            return (text.Title + (item.WaterL is { } w ? $", {units.Volume(w)} at most" : "") + of, text.Caution);
        }
        return (TimeWords.Capital(Spaced(item.Action ?? "next step")) + of, null);
    }

    private (string, string?) Check(AgendaItem item)
    {
        if (picture.Sensors.NextChecks.FirstOrDefault(c => Codes<NextCheckCode>.Word(c.Code) == item.Check && c.Tank == item.Tank) is { } lamp)
        {
            var text = new SensorWords(units, times).Check(lamp, picture.Belief);
            return (text.Title, text.Caution);
        }
        if (picture.Faults.Checks.FirstOrDefault(c => Codes<CauseCheckCode>.Word(c.Code) == item.Check && c.Tank == item.Tank) is { } cause)
        {
            var text = FaultWords.Check(cause);
            return (cause.Tank is { } id && Rig.Find(id) is { } of ? $"{text.Title} ({Name(of)})" : text.Title, text.Caution);
        }
        if (item.Device is { } device) return ($"Check {device}: it stopped reporting", "12 V off before you touch its wires.");
        return (TimeWords.Capital(Spaced(item.Check ?? "check")), null);
    }

    // The figures behind it.
    private IEnumerable<string> Details(AgendaItem item)
    {
        foreach (var line in Steps(item)) yield return line;
        if (item.Planned is { } run)
        {
            var plan = new PlanWords(Rig, units, times.Style);
            foreach (var action in run.Actions.Where(a => a.Tank is null || item.Tanks.Count == 0 || item.Tanks.Contains(a.Tank)))
                yield return plan.Line(action);
            if (item.Look is { } look && picture.Trip?.Stops.FirstOrDefault(s => s.Id == look.Stop) is { } stop) yield return plan.Look(look, stop);
            if (trip is not null) yield return $"From the plan of {trip}, at {run.Stop.Name}.";
        }
        if (item.Step is { } step && item.Code is not AgendaCode.LogPlace)
            foreach (var line in new StepWords(picture, units, times, highC).Of(step)) yield return line;
        if (item.Code == AgendaCode.Dose && item.Recipe is { } recipe && Shelf.InUse(Rig.Products, recipe) is { } product
            && Shelf.StateOf(product, picture.Logbook.InOrder(), times.Now) is { Left: not null } stock)
            yield return TreatmentWords.Left(product, stock, units, times);
        if (item.Minutes is { } minutes) yield return $"About {Math.Ceiling(minutes).ToString("0", CultureInfo.InvariantCulture)} minutes.";
        if (item.Code == AgendaCode.DumpRun && item.Form is { } form) yield return $"{RunWords.Form(form)}: {TimeWords.Lower(RunWords.FormHolds(form))}";
    }

    // What to do in an emergency, in order, and what not to do.
    private static string[] Steps(AgendaItem item) => (item.Code, item.Because[0]) switch
    {
        (AgendaCode.Ventilate, _) => ["Everyone out, pets too. Leave doors and windows open.",
            "Nothing more goes in: no flush, no cleaner, no other product.",
            "When the air is clear, dump the tank.", "Then fill it with clean water and dump it, twice."],
        (AgendaCode.StopUsing, Because.NothingCame or Because.Trickle or Because.Clog or Because.Heap) =>
            ["Use another restroom. Keep the space that is left.", "No more water: a clogged tank can't be emptied fast.",
            "No caustic drain opener: it burns people and seals, and it stays in the tank.", "No compressed air: it sprays sewage and breaks pipes.",
            "Never open a cleanout under a full tank."],
        _ => [],
    };

    /// <summary>What a tank is counted with, where the log has shown less than is stated, and why.</summary>
    /// <param name="capacity">What it holds.</param>
    public IReadOnlyList<string> Why(TankCapacity capacity)
    {
        ArgumentNullException.ThrowIfNull(capacity);
        return [$"Stated {units.Volume(capacity.StatedL)}. The log shows less, so everything uses {units.Volume(capacity.UsedL)}.",
            .. capacity.Observations.Reverse().Take(3)
            .Select(o => $"{TimeWords.Capital(times.Day(o.At.ToInstant().InZone(times.Zone).Date))}: {units.Volume(o.CountedL)} {Sign(o.Sign)}. "
            + $"That makes {units.Volume(o.CapacityL)} total."),
            "Buildup on walls and in corners takes up space. After a pressure jet or deep clean it is measured again."];
    }

    private static string Sign(CapacitySign sign) => sign switch
    {
        CapacitySign.MeteredToFull => "by the meter when Full came on",
        CapacitySign.CountedToFull => "counted when Full came on",
        CapacitySign.CountedToSight => "counted to the level you saw",
        CapacitySign.DrainedFromFull => "came out with Full on",
    };

    private string Product(AgendaItem item) => Shelf.For(Rig, Rig.RulesInForce.Treatment)?.Name ?? EntryWords.Spaced(item.Recipe!.Value);

    private static string Spaced(string word) => word.Replace('-', ' ');

    private static string Name(Tank tank) => TimeWords.Lower(tank.Name);
}
