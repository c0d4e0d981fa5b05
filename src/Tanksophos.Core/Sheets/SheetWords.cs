using System.Globalization;
using System.Text.RegularExpressions;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Sheets;

/// <summary>The words by which people name columns, tanks, levels and what they did.</summary>
internal static partial class SheetWords
{
    private static readonly (SheetColumn Kind, string Names)[] Named =
    [
        (SheetColumn.Date, "date day when timestamp datetime"), (SheetColumn.Time, "time hour clock"), (SheetColumn.Tank, "tank tanks"),
        (SheetColumn.What, "event what action activity entry did task log type happened details description"),
        (SheetColumn.Level, "level reading panel lights light sensor gauge monitor percent fill pct"),
        (SheetColumn.Dumped, "dumped dump dumps emptied drained empty"), (SheetColumn.Rinsed, "rinse rinsed flush flushed"),
        (SheetColumn.Treatment, "treatment chemical chemicals chem chems additive enzyme enzymes treated dose"),
        (SheetColumn.Place, "place campground campsite site location where park camp stop"), (SheetColumn.Hookup, "hookup hookups sewer"),
        (SheetColumn.People, "people persons aboard campers"), (SheetColumn.Note, "note notes remark remarks comment comments memo"),
        (SheetColumn.Ignore, "miles odometer cost fee price weather temp who by"),
    ];

    private static readonly Dictionary<string, SheetColumn> Columns =
        Named.SelectMany(n => n.Names.Split(' ').Select(word => (word, n.Kind))).ToDictionary(n => n.word, n => n.Kind, StringComparer.OrdinalIgnoreCase);

    // The treatments, the more particular first.
    private static readonly (Regex Words, DoseRecipe Recipe)[] Recipes =
        [.. new (string Words, DoseRecipe Recipe)[]
        {
            ("enzymes?|bacteria|probiotics?", DoseRecipe.Enzyme), ("deodorants?|deodorizer", DoseRecipe.Deodorant),
            ("softener", DoseRecipe.SoftenerCleaner), ("yeast", DoseRecipe.Yeast), ("ice cubes|ice scrub|bags? of ice", DoseRecipe.IceScrub),
            ("bleach(ed)?", DoseRecipe.SanitizeBleach), ("sensor cleaner", DoseRecipe.SensorCleaner), ("digester", DoseRecipe.PaperDigester),
            ("degreaser", DoseRecipe.GrayDegreaser),
            ("chemicals?|treatments?|tabs?|tablets?|pods?|packets?|pouch|additives?|drop-?ins?|powder|scoops?", DoseRecipe.Other),
        }.Select(r => (new Regex($@"\b(?:{r.Words})\b", Loosely), r.Recipe))];

    /// <summary>Whether a cell could be the name of a column.</summary>
    public static bool NamesColumn(string cell) => cell.Length is > 0 and <= 40 && (Column(cell) is not null || TankWord().IsMatch(cell)
        && !Dump().IsMatch(cell));

    /// <summary>
    /// What a column of this name holds; null if the name says nothing. Of several words the deed counts before the time, and the time before the rest.
    /// </summary>
    public static SheetColumn? Column(string name)
    {
        var said = Word().Matches(name).Select(m => Columns.TryGetValue(m.Value, out var kind) ? kind : (SheetColumn?)null).OfType<SheetColumn>().ToList();
        if (name.Contains('%', StringComparison.Ordinal) || name.Contains('?', StringComparison.Ordinal) && said.Count == 0) said.Add(SheetColumn.Level);
        if (TankWord().IsMatch(name)) said.Remove(SheetColumn.Hookup); // "Sewer tank"
        foreach (var kind in new[] { SheetColumn.Treatment, SheetColumn.Rinsed, SheetColumn.Dumped, SheetColumn.Date, SheetColumn.Level, SheetColumn.Hookup,
            SheetColumn.Tank })
            if (said.Contains(kind) && !(kind == SheetColumn.Tank && TankWord().IsMatch(name))) return kind;
        said.RemoveAll(s => s == SheetColumn.Tank);
        return said.Count > 0 ? said[0] : null;
    }

    /// <summary>Whether a column's name tells of dumps: "Date dumped".</summary>
    public static bool TellsOfDumps(string name) => Dump().IsMatch(name);

    /// <summary>Whether a column holds what was there before a dump.</summary>
    public static bool IsBefore(string name) => BeforeWord().IsMatch(name);

    /// <summary>Whether a column holds what was there after a dump.</summary>
    public static bool IsAfter(string name) => AfterWord().IsMatch(name);

    /// <summary>The tanks that a text means; empty if it names none.</summary>
    public static IReadOnlyList<Tank> Tanks(string text, Rig rig)
    {
        if (rig.Tanks.FirstOrDefault(t => Same(t.Id, text) || Same(t.Name, text)) is { } exact) return [exact];
        var named = rig.Tanks.Where(t => Holds(text, t.Name) || Holds(text, t.Id)).ToList();
        var (black, gray) = (BlackWord().IsMatch(text), GrayWord().Match(text));
        if (black && !named.Exists(t => t.Role == TankRole.Black)) named.AddRange(rig.Tanks.Where(t => t.Role == TankRole.Black));
        if (gray.Success && !named.Exists(t => t.Role == TankRole.Gray))
        {
            var grays = rig.Tanks.Where(t => t.Role == TankRole.Gray).ToList();
            named.AddRange(int.TryParse(gray.Groups["n"].Value, out var n) && n >= 1 && n <= grays.Count ? [grays[n - 1]] : grays);
        }
        if (named.Count == 0 && AllTanks().IsMatch(text)) return rig.Tanks;
        return [.. rig.Tanks.Where(named.Contains)];
    }

    /// <summary>A level as a share of the tank, 0 to 1; null if the text is none.</summary>
    public static double? Share(string text)
    {
        if (Percent().Match(text) is { Success: true } percent && Number(percent.Groups["n"].Value) is var p && p <= 100) return p / 100;
        if (Fraction().Match(text) is { Success: true } part && Number(part.Groups["b"].Value) is > 0 and var of && Number(part.Groups["a"].Value) is var parts
            && parts <= of) return parts / of;
        if (FullWord().IsMatch(text)) return 1;
        if (EmptyWord().IsMatch(text)) return 0;
        if (text.Contains("half", StringComparison.OrdinalIgnoreCase)) return 0.5;
        if (TwoThirds().IsMatch(text)) return 2 / 3.0;
        if (OneThird().IsMatch(text)) return 1 / 3.0;
        if (ThreeQuarters().IsMatch(text)) return 0.75;
        if (Quarter().IsMatch(text)) return 0.25;
        return double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var plain) && plain is >= 0 and <= 100 ? plain > 1 ? plain / 100
            : plain : null;
    }

    /// <summary>Whether a cell among levels says by a letter that the tank was dumped, "D" or "2/3 D".</summary>
    /// <param name="cell">The cell.</param>
    /// <param name="before">What stands before the letter.</param>
    public static bool IsDumpLetter(string cell, out string before)
    {
        var letter = DumpLetter().Match(cell);
        before = letter.Groups["before"].Value.Trim();
        return letter.Success;
    }

    /// <summary>The hour in a column's name, "PM" in "PM Black"; null for none.</summary>
    public static string? DaypartOf(string column) => Daypart().Match(column) is { Success: true } part ? part.Value : null;

    /// <summary>An amount in litres, "12 gal" or "45 l"; null if the text is none.</summary>
    public static double? Amount(string text) => Volume().Match(text) is { Success: true } amount ? Measured(amount) : null;

    /// <summary>The unit of amounts that a column's name states, "gal" in "Black (gal)"; null for none.</summary>
    public static string? UnitOf(string column) => Unit().Match(column) is { Success: true } unit ? unit.Value : null;

    /// <summary>Whether a text is about the drinking water and no waste tank.</summary>
    public static bool IsFresh(string text) => FreshWord().IsMatch(text);

    /// <summary>Whether a cell is a mark for yes.</summary>
    public static bool Yes(string cell) => cell.Length > 0 && !NoWord().IsMatch(cell);

    /// <summary>The hookup in a cell of a column such as "Hookup", or "Sewer" with yes and no; null if it is none.</summary>
    public static Hookup? Hookup(string cell, string column) =>
        cell.Length > 0 && SewerWord().IsMatch(column) && (YesWord().IsMatch(cell) || NoWord().IsMatch(cell))
            ? YesWord().IsMatch(cell) ? Rigs.Hookup.Full : Rigs.Hookup.Partial : Hookup(cell);

    /// <summary>A hookup; null if the text is none.</summary>
    public static Hookup? Hookup(string text)
    {
        if (StorageWord().IsMatch(text)) return Rigs.Hookup.Storage;
        if (NoSewer().IsMatch(text)) return Rigs.Hookup.Partial;
        if (FullHookup().IsMatch(text)) return Rigs.Hookup.Full;
        if (WaterOnly().IsMatch(text)) return Rigs.Hookup.Partial;
        return DryWord().IsMatch(text) ? Rigs.Hookup.Dry : null;
    }

    /// <summary>The recipe that a text names; null for none.</summary>
    public static DoseRecipe? Recipe(string text)
    {
        foreach (var (words, recipe) in Recipes)
            if (words.IsMatch(text)) return recipe;
        return null;
    }

    /// <summary>How somebody rinsed, as far as the text says; else the way that the rig is fitted for.</summary>
    public static FlushMethod Method(string text, Rig rig)
    {
        if (WandWord().IsMatch(text)) return FlushMethod.Wand;
        if (BucketWord().IsMatch(text)) return FlushMethod.Bucket;
        if (ReverseWord().IsMatch(text)) return FlushMethod.Reverse;
        if (InletWord().IsMatch(text)) return FlushMethod.BuiltIn;
        return rig.Equipment?.FlushInlet == true ? FlushMethod.BuiltIn : FlushMethod.Pedal;
    }

    /// <summary>What somebody did or noticed, in the order of the text.</summary>
    public static IReadOnlyList<SheetDeed> Deeds(string text, Rig rig)
    {
        var deeds = new List<(int At, SheetDeed Deed)>();
        foreach (var clause in Clauses(text))
        {
            var (from, said) = clause;
            var tanks = Tanks(said, rig);
            if (tanks.Count > 0 && OnlyNames(said, rig)
                && (deeds.FindLast(d => d.Deed.Kind == SheetDeedKind.Dump).Deed ?? deeds.FindLast(d => d.Deed.Kind == SheetDeedKind.Rinse).Deed) is { } same)
            {
                // "Dumped black, then gray": the deed goes on. "Dumped, both tanks": it is the same.
                if (same.Tanks.Count == 0 && ReferenceEquals(deeds[^1].Deed, same)) deeds[^1] = (from, same with { Tanks = tanks });
                else deeds.Add((from, same with { Tanks = tanks }));
                continue;
            }
            if (Notdone().IsMatch(said) || tanks.Count == 0 && FreshWord().IsMatch(said)) continue;
            foreach (Match level in LevelOf().Matches(said))
                if (Tanks(level.Groups["tank"].Value, rig) is { Count: > 0 } of && Share(level.Groups["level"].Value) is not null && !Dump().IsMatch(said))
                    deeds.Add((from + level.Index, new SheetDeed(SheetDeedKind.Level, of) { Text = level.Groups["level"].Value }));
            if (Symptom(said) is { } symptom) deeds.Add((from, new SheetDeed(SheetDeedKind.Symptom, tanks) { Symptom = symptom }));
            if (Dump().Match(said) is { Success: true } dump && !(SlowWord().Match(said) is { Success: true } slow && slow.Index <= dump.Index))
                deeds.Add((from + dump.Index, new SheetDeed(SheetDeedKind.Dump, tanks)));
            if (Rinse().Match(said) is { Success: true } rinse)
                deeds.Add((from + rinse.Index, new SheetDeed(SheetDeedKind.Rinse, tanks) { Method = Method(said, rig), Times = Twice(said) }));
            if (Recipe(said) is { } recipe && !Rinse().IsMatch(said) && !SmellWord().IsMatch(said) && !Shopping().IsMatch(said))
                deeds.Add((from, new SheetDeed(SheetDeedKind.Dose, tanks) { Recipe = recipe }));
            if (Water().Match(said) is { Success: true } water && Litres(water) is { } litres)
                deeds.Add((from + water.Index, new SheetDeed(SheetDeedKind.Water, tanks) { Litres = litres }));
            // A smell is told of over several clauses: where, of what.
            if (SmellWord().Match(said) is { Success: true } smell && !SmellGone().IsMatch(said) && !deeds.Exists(d => d.Deed.Kind == SheetDeedKind.Smell))
                deeds.Add((from + smell.Index, new SheetDeed(SheetDeedKind.Smell, tanks) { Where = Where(text), Smell = Smell(text) }));
            if (Drive().Match(said) is { Success: true } drive)
                deeds.Add((from + drive.Index, new SheetDeed(SheetDeedKind.Drive, tanks) { Hours = Number(drive.Groups["n"].Value) }));
            if (Arrived().Match(said) is { Success: true } arrived)
                deeds.Add((from + arrived.Index, new SheetDeed(SheetDeedKind.Stay, tanks)
                {
                    Text = arrived.Groups["place"].Value.Trim(),
                    Hookup = Hookup(text)
                }));
            if (PeopleWord().Match(said) is { Success: true } people)
                deeds.Add((from + people.Index, new SheetDeed(SheetDeedKind.People, tanks) { Count = (int)Number(people.Groups["n"].Value) }));
        }
        return [.. deeds.OrderBy(d => d.At).Select(d => d.Deed)];
    }

    // Nothing but tanks and little words between them.
    private static bool OnlyNames(string said, Rig rig)
    {
        foreach (var tank in rig.Tanks) said = said.Replace(tank.Name, "", StringComparison.OrdinalIgnoreCase);
        return LittleWords().Replace(TankWord().Replace(said, ""), "").Trim().Length == 0;
    }

    /// <summary>Whether a text tells of gas or its alarm, which only a person may call over.</summary>
    public static bool TellsOfGas(string text) => GasWord().IsMatch(text);

    // A sentence is taken apart where people change the subject; "black and gray" stays together.
    private static IEnumerable<(int At, string Said)> Clauses(string text)
    {
        var at = 0;
        foreach (Match cut in Cut().Matches(text))
        {
            yield return (at, text[at..cut.Index]);
            at = cut.Index + cut.Length;
        }
        yield return (at, text[at..]);
    }

    private static SymptomCode? Symptom(string said) =>
        SlowWord().IsMatch(said) ? SymptomCode.DrainsSlowly : GurgleWord().IsMatch(said) ? SymptomCode.Gurgles
        : BackUpWord().IsMatch(said) ? SymptomCode.BacksUpOnFlush : StuckWord().IsMatch(said) ? SymptomCode.NothingComesOut
        : StiffWord().IsMatch(said) ? SymptomCode.ValveStiff : DripWord().IsMatch(said) ? SymptomCode.ValveDrips
        : PileWord().IsMatch(said) ? SymptomCode.HeapSeen : null;

    private static OdorPlace Where(string said) =>
        BathWord().IsMatch(said) ? OdorPlace.Bathroom : KitchenWord().IsMatch(said) ? OdorPlace.GalleySink : ShowerWord().IsMatch(said) ? OdorPlace.Shower
        : OutsideWord().IsMatch(said) ? OdorPlace.Outside : BayWord().IsMatch(said) ? OdorPlace.StorageBay : OdorPlace.WholeRig;

    private static Smell Smell(string said) =>
        said.Contains("egg", StringComparison.OrdinalIgnoreCase) ? Log.Smell.RottenEgg : said.Contains("must", StringComparison.OrdinalIgnoreCase)
            ? Log.Smell.Musty
        : said.Contains("chemical", StringComparison.OrdinalIgnoreCase) ? Log.Smell.Chemical : Log.Smell.Sewage;

    private static int Twice(string said) => TwiceWord().Match(said) is not { Success: true } m ? 1
        : m.Groups["n"] is { Success: true } n ? Math.Clamp((int)Number(n.Value), 1, 10)
        : m.Value.StartsWith("tw", StringComparison.OrdinalIgnoreCase) ? 2 : 3;

    private static double? Litres(Match water) => Measured(water) is > 0 and < 1000 and var litres ? Math.Round(litres, 1) : null;

    private static double Measured(Match amount) =>
        Number(amount.Groups["n"].Value) * (amount.Groups["unit"].Value[0] is 'g' or 'G' ? UsMeasures.GallonL : 1);

    private static double Number(string text) => double.Parse(text.Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture);

    private static bool Same(string name, string text) => name.Equals(text.Trim(), StringComparison.OrdinalIgnoreCase);

    // As a word of its own.
    private static bool Holds(string text, string name)
    {
        if (name.Length <= 2 || ColorOnly().IsMatch(name)) return false;
        for (var at = 0; (at = text.IndexOf(name, at, StringComparison.OrdinalIgnoreCase)) >= 0; at++)
        {
            var end = at + name.Length;
            if ((at == 0 || !char.IsLetterOrDigit(text[at - 1])) && (end == text.Length || !char.IsLetterOrDigit(text[end]))) return true;
        }
        return false;
    }

    private const RegexOptions Loosely = RegexOptions.IgnoreCase | RegexOptions.CultureInvariant;

    [GeneratedRegex(@"[a-z]+", Loosely)] private static partial Regex Word();
    [GeneratedRegex(@"\b(black|blk|b/?w|toilet tank|gray|grey|gry|g/?w|galley|sewer tank)\b", Loosely)] private static partial Regex TankWord();
    [GeneratedRegex(@"\b(black|blk|bw)\b|\btoilet tank\b|\bsewer tank\b", Loosely)] private static partial Regex BlackWord();
    [GeneratedRegex(@"\b(?:gray|grey|gry|gw)s?(?:\s*(?:tank)?\s*#?(?<n>[1-4])(?!\s*[/%\d]))?\b", Loosely)] private static partial Regex GrayWord();
    [GeneratedRegex(@"\b(both|all|everything|tanks)\b", Loosely)] private static partial Regex AllTanks();
    [GeneratedRegex(@"^(black|gray|grey)$", Loosely)] private static partial Regex ColorOnly();
    [GeneratedRegex(@"^~?\s*(?<n>\d{1,3}(?:[.,]\d+)?)\s*(?<unit>gal(lons?)?|g|l|liters?|litres?)\.?$", Loosely)] private static partial Regex Volume();
    [GeneratedRegex(@"(?<n>\d{1,3}(?:[.,]\d+)?)\s*(?:%|percent|pct)", Loosely)] private static partial Regex Percent();
    [GeneratedRegex(@"(?<![\d/])(?<a>\d)\s*/\s*(?<b>\d)(?![\d/])", Loosely)] private static partial Regex Fraction();
    [GeneratedRegex(@"^\s*(f|full|top)\s*$|\bfull\b(?!\s*(hook|rinse|flush))", Loosely)] private static partial Regex FullWord();
    [GeneratedRegex(@"^\s*(e|mt|empty|zero|none)\s*$|\bempty\b", Loosely)] private static partial Regex EmptyWord();
    [GeneratedRegex(@"\b(before|start|arrival|in)\b", Loosely)] private static partial Regex BeforeWord();
    [GeneratedRegex(@"\b(after|end|departure|out)\b", Loosely)] private static partial Regex AfterWord();
    [GeneratedRegex(@"^(?<before>.*?)[\s/,>-]*\bd\.?$", Loosely)] private static partial Regex DumpLetter();
    [GeneratedRegex(@"\b(am|pm|morning|noon|afternoon|evening|night|bedtime)\b", Loosely)] private static partial Regex Daypart();
    [GeneratedRegex(@"two[- ]thirds", Loosely)] private static partial Regex TwoThirds();
    [GeneratedRegex(@"(one[- ])?third", Loosely)] private static partial Regex OneThird();
    [GeneratedRegex(@"three[- ]quarters", Loosely)] private static partial Regex ThreeQuarters();
    [GeneratedRegex(@"\bquarter\b", Loosely)] private static partial Regex Quarter();
    [GeneratedRegex(@"^\s*(n|no|none|nope|false|0|-+|—|n/?a)\s*$", Loosely)] private static partial Regex NoWord();
    [GeneratedRegex(@"^\s*(y|yes|x|true|1|✓)\s*$", Loosely)] private static partial Regex YesWord();
    [GeneratedRegex(@"\bsewer\b", Loosely)] private static partial Regex SewerWord();
    [GeneratedRegex(@"\bno sewer\b|\bwithout (a )?sewer\b", Loosely)] private static partial Regex NoSewer();
    [GeneratedRegex(@"\b(storage|stored|winterized)\b", Loosely)] private static partial Regex StorageWord();
    [GeneratedRegex(@"\b(full|fhu|f/h|sewer|w/?e/?s)\b", Loosely)] private static partial Regex FullHookup();
    [GeneratedRegex(@"\b(w/e|we|water|partial|electric)\b", Loosely)] private static partial Regex WaterOnly();
    [GeneratedRegex(@"\b(dry|none|no|boondock\w*|dispersed|off[- ]?grid)\b", Loosely)] private static partial Regex DryWord();
    [GeneratedRegex(@"\bwand\b", Loosely)] private static partial Regex WandWord();
    [GeneratedRegex(@"\b(buckets?|jugs?)\b", Loosely)] private static partial Regex BucketWord();
    [GeneratedRegex(@"\b(back-?flush\w*|revers\w+)\b", Loosely)] private static partial Regex ReverseWord();
    [GeneratedRegex(@"\b(inlet|sprayer|rinser|flusher|built[- ]in|tank flush)\b", Loosely)] private static partial Regex InletWord();
    [GeneratedRegex(@"\b(not|no|didn'?t|don'?t|won'?t|couldn'?t|can'?t|will|should|needs? to|must|before|until|skip(ped)?|forgot to"
        + @"|plan(ned)? to)\s+(\w+\s+){0,3}?(dump|empty|drain|rinse|flush|treat)", Loosely)]
    private static partial Regex Notdone();
    [GeneratedRegex(@"\b(fresh(\s*water)?\s*(tank)?|potable|drinking water|water heater)\b", Loosely)] private static partial Regex FreshWord();
    [GeneratedRegex(@"\b(bought|buy|order(ed)?|out of|need(s|ed)?|low on|get more|price of)\b", Loosely)] private static partial Regex Shopping();
    [GeneratedRegex(@"\b(gal(lons?)?|liters?|litres?)\b", Loosely)] private static partial Regex Unit();
    [GeneratedRegex(@"\b(dumped|dumping|dumps|dump(?!\s*(station|tomorrow|next|run at))|emptied|emptying|drained|pumped\s*-?out|pump\s*-?out)\b", Loosely)]
    private static partial Regex Dump();
    [GeneratedRegex(@"\b(flush(ed|ing)?|rins(e|ed|ing|es)|back-?flush(ed)?"
        + @"|(?:used|ran)\s+(?:the\s+)?(?:\w+\s+)?(?:rinser|flusher|sprayer|wand))\b", Loosely)]
    private static partial Regex Rinse();
    [GeneratedRegex(@"(?<n>\d+(?:[.,]\d+)?)\s*(?<unit>gal(lons?)?|g|l|liters?|litres?)\b(?:\s+of)?\s+(fresh\s+|clean\s+|starter\s+)*water", Loosely)]
    private static partial Regex Water();
    [GeneratedRegex(@"\b(smell\w*|odou?rs?|stink\w*|stench|stank|rotten egg)\b", Loosely)] private static partial Regex SmellWord();
    [GeneratedRegex(@"\b(no|without)\s+(\w+\s+)?(smell|odou?r|stink)|\b(smell|odou?r|stink)\w*\s+(is\s+|was\s+|has\s+)?(gone|better|went|fixed|cleared)", Loosely)]
    private static partial Regex SmellGone();
    [GeneratedRegex(@"\bdrove\b\D{0,20}(?<n>\d+(?:[.,]\d+)?)\s*h(ou)?rs?\b", Loosely)] private static partial Regex Drive();
    [GeneratedRegex(@"\b(?:(?:arrived|camped|set up|moved|checked in|parked)\s+(?:at|in|to)|^(?:arrived|moved|camp(?:ed)?|parked))\s+(?<place>[^,.;(]{2,80}?)(?=\s+-\s|[,.;(]|$)", Loosely)]
    private static partial Regex Arrived();
    [GeneratedRegex(@"\b(?<n>\d{1,2})\s+(people|persons|of us|campers)\b", Loosely)] private static partial Regex PeopleWord();
    [GeneratedRegex(@"\b(propane|gas)\b.{0,20}\b(alarm|smell|leak|detector)\b|\b(smell\w*|alarm)\b.{0,15}\b(propane|gas)\b", Loosely)]
    private static partial Regex GasWord();
    [GeneratedRegex(@"[,;.!]\s+|\s+-\s+|;|\s*\+\s*|\s+then\s+|\s*&\s*(?=\w+(ed|ing)\b)|\s+and\s+(?=(\w+ed|put|had|new|water|smell\w*)\b)", Loosely)]
    private static partial Regex Cut();
    [GeneratedRegex(@"\b(slow(ly)?\s+(to\s+)?drain\w*|drain\w*\s+(is\s+|was\s+)?(very\s+|so\s+)?slow(ly)?)\b", Loosely)]
    private static partial Regex SlowWord();
    [GeneratedRegex(@"\b(and|then|also|both|all|the|tanks?|too|after|next|last|first)\b|[&+.\d]", Loosely)] private static partial Regex LittleWords();
    [GeneratedRegex(@"\bgurgl\w+", Loosely)] private static partial Regex GurgleWord();
    [GeneratedRegex(@"\bback(s|ed|ing)\s+up\b", Loosely)] private static partial Regex BackUpWord();
    [GeneratedRegex(@"\bnothing came out\b|\b(wouldn'?t|won'?t) drain\b|\bclogged\b", Loosely)] private static partial Regex StuckWord();
    [GeneratedRegex(@"\bvalve\b.{0,20}\b(stiff|hard)\b|\bstiff\b.{0,20}\bvalve\b", Loosely)] private static partial Regex StiffWord();
    [GeneratedRegex(@"\bvalve\b.{0,20}\b(drip|leak)\w*|\b(drip|leak)\w*\b.{0,20}\bvalve\b", Loosely)] private static partial Regex DripWord();
    [GeneratedRegex(@"\b(pyramid|waste pile|poop pile)\b", Loosely)] private static partial Regex PileWord();
    [GeneratedRegex(@"\b(bath\w*|toilet)\b", Loosely)] private static partial Regex BathWord();
    [GeneratedRegex(@"\b(kitchen|galley|sink)\b", Loosely)] private static partial Regex KitchenWord();
    [GeneratedRegex(@"\bshower\b", Loosely)] private static partial Regex ShowerWord();
    [GeneratedRegex(@"\boutside\b", Loosely)] private static partial Regex OutsideWord();
    [GeneratedRegex(@"\b(bay|basement)\b", Loosely)] private static partial Regex BayWord();
    [GeneratedRegex(@"\b(?<n>\d+)\s*(x|times)\b|\bx\s*(?<n>\d+)\b|\btwice\b|\bthree times\b|\btwo rinses\b", Loosely)] private static partial Regex TwiceWord();
    [GeneratedRegex(@"(?<tank>\b[\w ]{0,20}?\b(?:black|blk|bw|gray|grey|gry|gw|galley|bath)\b(?:\s*(?:tank|#?[1-4](?!\s*[/%\d])))?)\s*(?:tank\s*)?(?:at"
        + @"|is|was|reads?|read|shows?|showed|showing|:|=|-)?\s*(?:about|~|approx\.?)?\s*(?<level>\d{1,3}\s*%|\d\s*/\s*\d|full\b"
        + @"|empty\b|half\b)", Loosely)]
    private static partial Regex LevelOf();
}

/// <summary>What kind of thing was done or noticed.</summary>
internal enum SheetDeedKind { Dump, Rinse, Dose, Water, Level, Smell, Symptom, Drive, Stay, People }

/// <summary>One thing that a text tells.</summary>
/// <param name="Kind">What kind.</param>
/// <param name="Tanks">The tanks that it names; empty for none.</param>
internal sealed record SheetDeed(SheetDeedKind Kind, IReadOnlyList<Tank> Tanks)
{
    /// <summary>A place or a level, as written.</summary>
    public string Text { get; init; } = "";

    /// <summary>How it was rinsed.</summary>
    public FlushMethod Method { get; init; }

    /// <summary>How often it was rinsed.</summary>
    public int Times { get; init; } = 1;

    /// <summary>What was put in.</summary>
    public DoseRecipe Recipe { get; init; }

    /// <summary>How much water, in litres.</summary>
    public double Litres { get; init; }

    /// <summary>Hours of driving.</summary>
    public double Hours { get; init; }

    /// <summary>People aboard.</summary>
    public int Count { get; init; }

    /// <summary>Where it smelled.</summary>
    public OdorPlace Where { get; init; }

    /// <summary>Of what.</summary>
    public Smell Smell { get; init; }

    /// <summary>What was noticed.</summary>
    public SymptomCode Symptom { get; init; }

    /// <summary>The hookup there; null if the text names none.</summary>
    public Hookup? Hookup { get; init; }
}
