using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using NodaTime.Text;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Api;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>One way the trip could go, beside the plan.</summary>
/// <param name="Code">What is different, as a code: as-planned, one-more, one-less, thrifty, without-stop, gray-rule, dump-level.</param>
/// <param name="Name">What is different, in words.</param>
/// <param name="Plan">The plan then; null if it cannot be.</param>
/// <param name="Take">A form that takes it, if one does: handler and fields.</param>
public sealed record WhatIf(string Code, string Name, Plan? Plan, (string Handler, IReadOnlyDictionary<string, string> Fields)? Take = null);

/// <summary>Where the rig will stand, and when to dump, flush and dose on the way.</summary>
public sealed class TripModel(CurrentRequest house, TripStore trips, TripService desk, TreatmentService treatments, AgendaService court) : FormPage
{
    /// <summary>Header by which the page's own script asks for the board alone.</summary>
    public const string PartHeader = "X-Part";

    private const int MaxName = 120, MostPlaces = 200;

    private TripNow? now;
    private Agenda? agenda;
    private IReadOnlyList<PlanRun>? runs;
    private IReadOnlyList<StoredTrip>? all;
    private IReadOnlyList<Stop>? places;

    /// <summary>The trip in front; null if there is none yet.</summary>
    public StoredTrip? Stored { get; private set; }

    /// <summary>It with its plan.</summary>
    public TripNow Now => now ??= desk.Of(house.Rig!, Stored!);

    /// <summary>The rig's trips.</summary>
    public IReadOnlyList<StoredTrip> All => all ??= trips.Of(house.Rig!.Id);

    public TripRibbon Ribbon => new(Now, house.Rig!.Rig, house.Now, Runs, house.Style);

    /// <summary>What there is to do if this trip is followed.</summary>
    public Agenda Agenda => agenda ??= court.With(Now);

    /// <summary>What goes before the plan: it does not come from it, and it cannot wait.</summary>
    public IReadOnlyList<AgendaItem> First => [.. Agenda.Items.Where(i => i.Level <= AgendaLevel.Now && i.Planned is null && i.Code != AgendaCode.LogPlace)];

    /// <summary>The agenda's texts.</summary>
    public AgendaTexts Texts => court.Texts;

    /// <summary>What of the plan is left by the agenda.</summary>
    public IReadOnlyList<PlanRun> Runs => runs ??= Now.Plan is { } plan ? AllowedRuns.Build(Agenda, plan, Now.Stop) : [];

    /// <summary>Treatments under way, which the plan's next dump of their tank ends.</summary>
    public IEnumerable<(Tank Tank, Course Course)> UnderWay => house.Rig!.Rig.Tanks.SelectMany(t => Courses.Build(treatments.Log, t.Id, house.Now)
        .Select(c => (t, c)));

    public PlanWords Words => new(house.Rig!.Rig, house.Units, house.Style);

    /// <summary>The calendar's address, shown once after it was made.</summary>
    public string? FeedAddress { get; private set; }

    /// <summary>The variants that were asked for.</summary>
    public IReadOnlyList<WhatIf> Compared { get; private set; } = [];

    /// <summary>The stop that by its hours is under way while the log has the rig standing with something else connected; null if they agree.</summary>
    public Stop? NotLogged =>
        Agenda.Items.Any(i => i.Code == AgendaCode.LogPlace && i.Because.Contains(Because.TripDisagrees)) ? Now.Trip?.Stops[0] : null;

    /// <summary>The runs of the plan by local day.</summary>
    public IEnumerable<IGrouping<LocalDate, PlanRun>> Days =>
        Runs.GroupBy(r => r.At.ToInstant().InZone(r.Stop.Zone).Date);

    public void OnGet(int? trip) => Show(trip);

    public IActionResult OnPostNew(string? name, string? begin)
    {
        Show(null);
        if (NameOf(name) is not { } named) return Refuse(TripSays.TripEnterANameOf1(MaxName));
        if (trips.Add(house.Rig!.Id, new Itinerary(named, []), house.Who) is not { } id)
            return Refuse(TripSays.ThereAreTripsAlreadyRemoveOne(TripStore.MaxTrips));
        TempData["begin"] = DateOf(begin)?.ToString("uuuu-MM-dd", CultureInfo.InvariantCulture);
        return RedirectToPage(new { trip = id });
    }

    /// <summary>Fast entry: name, nights, hookup; the rest as usual.</summary>
    public IActionResult OnPostAdd(int? trip, string? name, string? nights, string? hookup, string? before, string? begin) => Edit(trip, itinerary =>
    {
        if (NameOf(name) is not { } named) return Bad(TripSays.NewStopNameUse1To(MaxName));
        if (!Codes<StopHookup>.TryParse(hookup, out var connected))
            return Bad(TripSays.NewStopHookupChooseOneOf(string.Join(", ", Codes<StopHookup>.All)));
        var stays = 0;
        if (connected != StopHookup.DumpStation && !Whole(nights, 0, Itinerary.MaxNights, out stays))
            return Bad(TripSays.NewStopNightsEnterAWhole(Itinerary.MaxNights));
        if (itinerary.Stops.Count >= Trip.MaxStops) return Bad(TripSays.ATripHasAtMostStops(Trip.MaxStops));
        var date = DateOf(begin) ?? house.Now.InZone(house.Zone).Date;
        var zone = itinerary.Stops.Count > 0 ? itinerary.Stops[^1].Zone : house.Zone;
        var people = connected == StopHookup.Storage ? 0 : itinerary.Stops.LastOrDefault(s => s.People > 0)?.People
            ?? Math.Max(1, house.RigSnapshot.Advice.Circumstances.People);
        var index = before is { Length: > 0 } ? itinerary.Stops.ToList().FindIndex(s => s.Id == before) : itinerary.Stops.Count;
        if (index < 0) return Bad(TripSays.NewStopTheStopAfterIt);
        var added = Itinerary.UsualStop(itinerary.FreshId(), named, zone, date, stays, connected, people);
        // What a place was the last time it still is: its tap, queue, fee, hours.
        if (Places.FirstOrDefault(p => Itinerary.IsSamePlace(p.Name, named)) is { } known) added = added.AsKnown(known);
        // Where the rig stands already the stay goes on from now; nobody drives there.
        var now = house.Now.InZone(zone);
        if (itinerary.Stops.Count == 0 && date == now.Date && house.Now < added.Depart.ToInstant() && IsHere(named))
            added = added with { Arrive = now.ToOffsetDateTime(), DriveHoursBefore = 0 };
        return Sound(itinerary.Add(added, index));
    });

    private bool IsHere(string name) => house.RigSnapshot.Advice.Circumstances.Place is { } here && Itinerary.IsSamePlace(here, name);

    /// <summary>Places of this rig's trips, each as it was entered last.</summary>
    public IReadOnlyList<Stop> Places => places ??= [.. All.OrderByDescending(t => t.Itinerary.Ends ?? Instant.MinValue)
        .SelectMany(t => t.Itinerary.Stops.Reverse()).DistinctBy(s => s.Name.Trim().ToUpperInvariant()).Take(MostPlaces)];

    /// <summary>Everything that can be said of a stop.</summary>
    public IActionResult OnPostStop(int? trip, string? stop, string? name, string? nights, string? begin, string? arrive, string? depart, string? hookup,
        string? people, string? drive, string? high, string? rinse, bool busy, string? fee, bool septic, bool station, string? zone, string? opens,
        string? closes) =>
        Edit(trip, itinerary =>
        {
            if (itinerary.Stops.FirstOrDefault(s => s.Id == stop) is not { } found) return Bad(TripSays.StopItIsNoLongerThere);
            var old = found;
            string At(string field) => $"{old.Name}, {field}: ";
            if (NameOf(name) is not { } named) return Bad(At("name") + TripSays.Use1ToCharacters(MaxName));
            if (!Codes<StopHookup>.TryParse(hookup, out var connected))
                return Bad(At("hookup") + TripSays.ChooseOneOf(string.Join(", ", Codes<StopHookup>.All)));
            var isStation = connected == StopHookup.DumpStation;
            // What stops being a station gets the usual hours of a stay; its sheet had no nights to fill in.
            if (old.Hookup == StopHookup.DumpStation && !isStation)
            {
                old = Itinerary.UsualStop(old.Id, old.Name, old.Zone, old.Arrive.ToInstant().InZone(old.Zone).Date, 1, connected, Math.Max(1, old.People));
                if (string.IsNullOrWhiteSpace(nights)) nights = "1";
            }
            var stays = 0;
            if (!isStation && !Whole(nights, 0, Itinerary.MaxNights, out stays))
                return Bad(At("nights") + TripSays.EnterAWholeNumberFrom0(Itinerary.MaxNights));
            if (!Whole(people, connected is StopHookup.Storage or StopHookup.DumpStation ? 0 : 1, EntryCodec.MaxPeople, out var aboard))
                return Bad(At("people") + TripSays.EnterAWholeNumberFrom1(EntryCodec.MaxPeople));
            if (!Number(drive, 0, 24, out var hours)) return Bad(At("drive") + TripSays.EnterHoursFrom0To24);
            double? highC = null;
            if (!string.IsNullOrWhiteSpace(high))
            {
                if (!house.Units.TryParseTemperature(high, out var t) || t is < -60 or > 60)
                    return Bad(At(TripSays.HottestDayInLine) + TripSays.Enter(house.Units.AcceptedTemperature));
                highC = Math.Round(t, 1);
            }
            int? feeMinor = null;
            if (!string.IsNullOrWhiteSpace(fee))
            {
                if (!Currency.TryParse(fee, 1_000_000, out var paid)) return Bad(At("fee") + TripSays.EnterAnAmountFrom0To);
                feeMinor = paid;
            }
            if (!TimeOf(arrive, out var from) || !TimeOf(depart, out var to)) return Bad(At("hours") + TripSays.ATimeSuchAs1500);
            if (!TimeOf(opens, out var openFrom) || !TimeOf(closes, out var openTo)) return Bad(At("hours") + TripSays.ATimeSuchAs1500);
            if (openFrom >= openTo) return Bad(At("closes") + TripSays.LaterThanItOpens);
            if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(zone ?? old.Zone.Id) is not { } there)
                return Bad(At("zone") + TripSays.NoZoneIsCalledEnterA(zone));
            var first = itinerary.Stops[0].Id == old.Id;
            var local = old.Arrive.ToInstant().InZone(old.Zone);
            var date = local.Date;
            if (first && !string.IsNullOrWhiteSpace(begin))
            {
                if (DateOf(begin) is not { } day) return Bad(At(TripSays.FirstDayInLine) + TripSays.EnterADateSuchAs2026);
                date = day;
            }
            var starts = date + (from ?? local.TimeOfDay);
            var ends = isStation ? starts.PlusHours(1) : date.PlusDays(stays) + (to ?? old.Depart.ToInstant().InZone(old.Zone).TimeOfDay);
            if (ends <= starts) return Bad(At("departure") + TripSays.ItMustBeLaterThanThe);
            if (first && ends.InZoneLeniently(there).ToInstant() <= house.Now)
                return Bad(At("departure") + TripSays.ItsInThePastAPlan);
            var changed = itinerary.Change(old.Id, s => s with
            {
                Name = named,
                Zone = there,
                Arrive = starts.InZoneLeniently(there).ToOffsetDateTime(),
                Depart = ends.InZoneLeniently(there).ToOffsetDateTime(),
                Hookup = connected,
                People = connected == StopHookup.Storage ? 0 : aboard,
                DriveHoursBefore = hours,
                HighC = highC,
                RinseWater = isStation ? Codes<RinseWater>.TryParse(rinse, out var tap) ? tap : RinseWater.Unthreaded : null,
                Busy = busy && isStation,
                FeeMinor = feeMinor,
                Opens = isStation ? openFrom : null,
                Closes = isStation ? openTo : null,
                Septic = septic,
                DumpStation = station && connected is StopHookup.Partial or StopHookup.GrayDrain or StopHookup.Dry,
            })!;
            return Sound(changed with { Wishes = [.. changed.Wishes.Where(w => w.Stop != old.Id || Wishable(changed.Stops.First(s => s.Id == old.Id)))] });
        });

    public IActionResult OnPostStretch(int? trip, string? stop, string? nights) => Edit(trip, i =>
        !Whole(nights, 0, Itinerary.MaxNights, out var n) ? Bad(TripSays.NightsEnterAWholeNumberFrom(Itinerary.MaxNights))
        : i.Stretch(stop ?? "", n) is { } changed ? Sound(changed) : Bad(TripSays.StopItIsNoLongerThere));

    public IActionResult OnPostMove(int? trip, string? stop, string? to) => Edit(trip, i =>
        !Whole(to, 0, Trip.MaxStops, out var index) ? Bad(TripSays.OrderEnterAWholeNumber) : i.Move(stop ?? "", index) is { } changed ? Sound(changed)
            : Bad(TripSays.StopItIsNoLongerThere));

    public IActionResult OnPostDropStop(int? trip, string? stop) => Edit(trip, i => i.Remove(stop ?? "") ?? Bad(TripSays.StopItIsNoLongerThere));

    /// <summary>"Here for sure", "not here", or neither.</summary>
    public IActionResult OnPostWish(int? trip, string? stop, string? role, string? dump) => Edit(trip, i =>
    {
        if (!Codes<TankRole>.TryParse(role, out var of)) return Bad(TripSays.TankChooseOneOf(string.Join(", ", Codes<TankRole>.All)));
        DumpWish? wish = Codes<DumpWish>.TryParse(dump, out var w) ? w : null;
        if (i.Stops.FirstOrDefault(s => s.Id == stop) is not { } found) return Bad(TripSays.StopItIsNotOneOf);
        if (wish == DumpWish.Here && !Wishable(found)) return Bad(TripSays.NothingCanBeDumpedThere(found.Name));
        return i.Wish(found.Id, of, wish);
    });

    public IActionResult OnPostRename(int? trip, string? name) =>
        Edit(trip, i => NameOf(name) is { } named ? i with { Name = named } : Bad(TripSays.TripEnterANameOf1(MaxName)));

    /// <summary>Takes the last change of the stops back.</summary>
    public IActionResult OnPostBack(int? trip, int revision)
    {
        if (!Found(trip)) return NotFound();
        if (!trips.BackTo(house.Rig!.Id, Stored!.Id, revision, house.Who)) return Refuse(TripSays.NothingToUndo);
        return Done(undo: null);
    }

    public IActionResult OnPostRemove(int? trip)
    {
        if (!Found(trip)) return NotFound();
        trips.Remove(house.Rig!.Id, Stored!.Id, true);
        TempData["removed"] = Stored.Id;
        TempData["removed-name"] = Stored.Itinerary.Name;
        return RedirectToPage(new { trip = (int?)null });
    }

    public IActionResult OnPostRestore(int? trip) => trip is { } id && trips.Remove(house.Rig!.Id, id, false) ? RedirectToPage(new { trip = id })
        : NotFound();

    [Needs(Role.Owner)]
    public IActionResult OnPostFeed(int? trip)
    {
        if (!Found(trip) || trips.NewFeed(house.Rig!.Id, Stored!.Id) is not { } word) return NotFound();
        Stored = Stored with { HasFeed = true };
        FeedAddress = $"{Request.Scheme}://{Request.Host}{TripCalendar.Root}/{word}.ics{(house.Units == Units.Metric ? "?units=metric" : "")}";
        return Page();
    }

    [Needs(Role.Owner)]
    public IActionResult OnPostFeedOff(int? trip)
    {
        if (!Found(trip)) return NotFound();
        trips.DropFeed(house.Rig!.Id, Stored!.Id);
        return RedirectToPage(new { trip = Stored.Id });
    }

    /// <summary>A trip document becomes a trip of this rig; its rig, rules and start are left aside.</summary>
    public IActionResult OnPostImport(IFormFile? file)
    {
        Show(null);
        if (file is null) return Refuse(TripSays.FileChooseATripDocumentJSON);
        if (file.Length > 2 << 20) return Refuse(TripSays.FileUseAtMost2MB);
        using var buffer = new MemoryStream();
        file.CopyTo(buffer);
        var read = TripFormat.Read(buffer.ToArray());
        if (read.Value is not { } document)
            return Refuse([.. read.Errors.Take(8).Select(e => e.ToString()), .. read.Errors.Count > 8 ? [TripSays.AndMore(read.Errors.Count - 8)]
            : Array.Empty<string>()]);
        if (document.Stops[^1].Depart.ToInstant() <= house.Now) return Refuse(TripSays.StopsTheWholeTripIsIn);
        var name = Path.GetFileNameWithoutExtension(file.FileName);
        var itinerary = new Itinerary(NameOf(name) ?? TripSays.ImportedTrip, document.Stops) { Wishes = document.Wishes };
        if (trips.Add(house.Rig!.Id, itinerary, house.Who) is not { } id) return Refuse(TripSays.ThereAreTripsAlreadyRemoveOne(TripStore.MaxTrips));
        return RedirectToPage(new { trip = id });
    }

    public IActionResult OnGetCalendar(int? trip) =>
        Found(trip) ? File(System.Text.Encoding.UTF8.GetBytes(TripCalendar.Write(Now, Runs, house.Rig!.Rig, house.Units, house.Now, house.Style,
            AgendaService.CareOf(court.Situation, court.Now))),
            "text/calendar",
            "trip.ics") : NotFound();

    public IActionResult OnGetDocument(int? trip) => Found(trip) && Now.Trip is { } document
        ? File(TripFormat.Write(document, pretty: true), "application/json", "trip.json") : NotFound();

    public IActionResult OnGetPlan(int? trip) => Found(trip) && Now.Plan is { } plan
        ? File(PlanFormat.Write(plan, DocumentWords.English, pretty: true), "application/json", "plan.json") : NotFound();

    /// <summary>Some ways it could go, side by side.</summary>
    public IActionResult OnGetCompare(int? trip)
    {
        if (!Found(trip) || Now.Trip is not { } present) return NotFound();
        Compared = [new WhatIf("as-planned", TripSays.AsPlanned, Now.Plan), .. Variants(present)];
        return Partial("_Compared", this);
    }

    private static IEnumerable<WhatIf> Variants(Trip trip)
    {
        WhatIf Ask(string code, string name, Trip other, (string, IReadOnlyDictionary<string, string>)? take = null) =>
            new(code, name, other.Stops.Count > 0 ? Planner.Make(other) : null, take);
        yield return Ask("one-more", TripSays.OnePersonMore,
            trip with { Stops = [.. trip.Stops.Select(s => s.People > 0 ? s with { People = s.People + 1 } : s)] });
        if (trip.Stops.All(s => s.People != 1))
            yield return Ask("one-less", TripSays.OnePersonLess,
                trip with { Stops = [.. trip.Stops.Select(s => s.People > 1 ? s with { People = s.People - 1 } : s)] });
        yield return Ask("thrifty", TripSays.UseAQuarterLessWater, trip with { Rig = Thrifty(trip.Rig) });
        foreach (var stop in trip.Stops.Where(s => s.Hookup == StopHookup.DumpStation && s.Id != PresentTrip.Here).Take(2))
        {
            yield return Ask("without-stop", TripSays.Without(stop.Name),
                trip with { Stops = [.. trip.Stops.Where(s => s.Id != stop.Id)], Wishes = [.. trip.Wishes.Where(w => w.Stop != stop.Id)] },
                ("DropStop", new Dictionary<string, string> { ["stop"] = stop.Id }));
        }
        foreach (var gray in Enum.GetValues<GrayAtFullHookup>()
            .Where(g => g != trip.Rules.GrayAtFullHookup && trip.Stops.Any(s => s.Hookup == StopHookup.Full)))
            yield return Ask("gray-rule", TripSays.GrayRule(Codes<GrayAtFullHookup>.Word(gray)),
                trip with { Rules = trip.Rules with { GrayAtFullHookup = gray } });
        foreach (var level in ((double[])[0.5, 0.75]).Where(l => Math.Abs(l - trip.Rules.DumpBlackAt) > 0.05))
            yield return Ask("dump-level", TripSays.DumpBlackAt(StepWords.Percent(level)), trip with { Rules = trip.Rules with { DumpBlackAt = level } });
    }

    private static Rig Thrifty(Rig rig)
    {
        static RoleUsage Less(RoleUsage u) =>
            u with
            {
                HookupLPerPersonDay = DryStay.Thrift * u.HookupLPerPersonDay,
                PartialLPerPersonDay = DryStay.Thrift * u.At(Hookup.Partial),
                DryLPerPersonDay = DryStay.Thrift * u.DryLPerPersonDay
            };
        var usage = rig.Usage ?? Usage.Default;
        return rig with { Usage = new Usage(Less(usage.Black), Less(usage.Gray)) };
    }

    /// <summary>Whether a wish of a dump makes sense at a stop.</summary>
    public static bool Wishable(Stop stop)
    {
        ArgumentNullException.ThrowIfNull(stop);
        return stop.Hookup is StopHookup.Full or StopHookup.DumpStation || stop.DumpStation;
    }

    private void Show(int? trip)
    {
        if (trip is { } id) Stored = trips.Find(house.Rig!.Id, id) is { Removed: false } found ? found : null;
        Stored ??= trips.Current(house.Rig!.Id, house.Now) ?? All.FirstOrDefault(t => t.Itinerary.Stops.Count == 0) ?? (All.Count > 0 ? All[0] : null);
    }

    // Without a number the trip that is under way is meant.
    private bool Found(int? trip)
    {
        if (trip is null) Show(null);
        else Stored = trips.Find(house.Rig!.Id, trip.Value) is { Removed: false } found ? found : null;
        return Stored is not null;
    }

    private IActionResult Edit(int? trip, Func<Itinerary, Itinerary?> change)
    {
        if (!Found(trip)) return NotFound();
        var before = Stored!.Revision;
        refusal = null;
        int? seen = int.TryParse(Request.Query["seen"], NumberStyles.None, CultureInfo.InvariantCulture, out var revision) ? revision : null;
        var how = trips.Change(house.Rig!.Id, Stored.Id, seen, change, house.Who);
        if (how == TripChange.Done) return Done(before);
        Stored = trips.Find(house.Rig.Id, Stored.Id) ?? Stored;
        if (how == TripChange.ChangedMeanwhile)
        {
            var clash = Refuse(Clashing());
            return Request.Headers.ContainsKey(PartHeader)
                ? new PartialViewResult { ViewName = "_Board", ViewData = ViewData, StatusCode = StatusCodes.Status409Conflict } : clash;
        }
        var refused = Refuse(refusal ?? TripSays.TheChangeCantBeMade);
        return Request.Headers.ContainsKey(PartHeader) ? new PartialViewResult { ViewName = "_Board", ViewData = ViewData, StatusCode = 400 } : refused;
    }

    // What was typed, field by field, beside what the stop says now.
    private Clash Clashing()
    {
        var differs = new List<(string, string, string)>();
        if (Stored!.Itinerary.Stops.FirstOrDefault(s => s.Id == Request.Form["stop"]) is { } stop)
        {
            string Hour(OffsetDateTime t) => t.ToInstant().InZone(stop.Zone).ToString("HH:mm", CultureInfo.InvariantCulture);
            foreach (var (field, title, saved) in new[]
            {
                ("name", SharedSays.Name, stop.Name), ("hookup", TripSays.Hookups, Codes<StopHookup>.Word(stop.Hookup)),
                    ("nights", TripSays.Nights, Itinerary.Nights(stop).ToString(CultureInfo.InvariantCulture)),
                ("people", SharedSays.People, stop.People.ToString(CultureInfo.InvariantCulture)), ("arrive", TripSays.Arrive, Hour(stop.Arrive)),
                    ("depart", TripSays.Leave, Hour(stop.Depart)),
                ("drive", TripSays.HoursDrivenBefore, stop.DriveHoursBefore.ToString("0.##", CultureInfo.InvariantCulture)),
                    ("high", SharedSays.HottestDay, stop.HighC is { } c ? house.Units.Temperature(c) : ""), ("zone", TripSays.TimeZone, stop.Zone.Id),
            })
                if (Request.Form.TryGetValue(field, out var yours) && yours.ToString() != saved) differs.Add((title, yours.ToString(), saved));
        }
        return new Clash(TripSays.ThisTripInLine, trips.ChangedBy(Stored.Id) ?? SharedSays.Someone,
            Url.Page("/Trip/Index", Request.Query["handler"].ToString(), new { trip = Stored.Id, seen = Stored.Revision })!,
            Url.Page("/Trip/Index", new { trip = Stored.Id })!, Clash.Sent(Request.Form), differs);
    }

    // The page's own script gets the board alone; a browser without it, the page again.
    private IActionResult Done(int? undo)
    {
        Stored = trips.Find(house.Rig!.Id, Stored!.Id);
        now = null;
        if (undo is { } revision) TempData["undo"] = revision;
        return Request.Headers.ContainsKey(PartHeader) ? Partial("_Board", this) : RedirectToPage(new { trip = Stored!.Id });
    }

    // A trip longer than can be planned is not taken.
    private Itinerary? Sound(Itinerary itinerary)
    {
        if (itinerary.Begins is not { } begins || itinerary.Ends is not { } ends) return itinerary;
        if ((ends - begins).TotalDays > Trip.MaxDays)
            return Bad(TripSays.ATripOfDaysIsToo((ends - begins).TotalDays, Trip.MaxDays));
        return ends <= house.Now ? Bad(TripSays.TheWholeTripWouldBeIn) : itinerary;
    }

    private static string? NameOf(string? text) => text?.Trim() is { Length: > 0 and <= MaxName } name ? name : null;

    private static LocalDate? DateOf(string? text) =>
        LocalDatePattern.Iso.Parse(text ?? "") is { Success: true } parsed && parsed.Value.Year is >= 2000 and <= 2200 ? parsed.Value : null;

    private static bool TimeOf(string? text, out LocalTime? time)
    {
        time = null;
        if (string.IsNullOrWhiteSpace(text)) return true;
        var parsed = LocalTimePattern.CreateWithInvariantCulture("HH:mm").Parse(text.Length > 5 ? text[..5] : text);
        if (parsed.Success) time = parsed.Value;
        return parsed.Success;
    }

    private static bool Whole(string? text, int least, int most, out int value) => int.TryParse(text?.Trim(), NumberStyles.None, CultureInfo.InvariantCulture,
        out value) && value >= least && value <= most;

    private static bool Number(string? text, double least, double most, out double value) =>
        double.TryParse((text ?? "").Trim().Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out value) && value >= least
            && value <= most;

    private string? refusal;

    private Itinerary? Bad(string message)
    {
        refusal = message;
        return null;
    }
}
