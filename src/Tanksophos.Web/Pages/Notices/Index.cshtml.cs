using Microsoft.AspNetCore.Mvc;
using MimeKit;
using NodaTime.Text;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Devices;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>Who is told what: by an address in the local network, a broker, mail.</summary>
[Needs(Role.Owner)]
public sealed class NoticesModel : FormPage
{
    private static readonly LocalTimePattern Typed = LocalTimePattern.CreateWithInvariantCulture("HH:mm");

    private readonly CurrentRequest house;
    private readonly NoticeStore store;
    private readonly Notifier notifier;
    private IReadOnlyList<StoredNotice>? notices;

    /// <summary>The page.</summary>
    public NoticesModel(CurrentRequest house, NoticeStore store, IServiceProvider services)
    {
        (this.house, this.store) = (house, store);
        notifier = services.GetRequiredService<Notifier>();
    }

    /// <summary>Those of the rig.</summary>
    public IReadOnlyList<StoredNotice> Notices => notices ??= store.Of(house.Rig!.Id);

    /// <summary>The wires that can be used.</summary>
    public IReadOnlyList<NoticeWire> Wires => notifier.Wires;

    /// <summary>The levels to choose from.</summary>
    public static IReadOnlyList<AgendaLevel> Levels { get; } = [AgendaLevel.Safety, AgendaLevel.Now, AgendaLevel.Today, AgendaLevel.Soon];

    /// <summary>What was typed.</summary>
    public string? To { get; private set; }

    public void OnGet()
    {
    }

    /// <summary>Adds one.</summary>
    public IActionResult OnPostAdd(string? wire, string? to, string? level, string? quietFrom, string? quietTo)
    {
        To = to = to?.Trim();
        var problems = new List<string>();
        if (!Codes<NoticeWire>.TryParse(wire, out var by) || !Wires.Contains(by)) problems.Add(NoticeSays.WireAccepted);
        else if (!Fits(by, to)) problems.Add(by switch
        {
            NoticeWire.Webhook => NoticeSays.AddressAccepted,
            NoticeWire.Mqtt => NoticeSays.TopicAccepted,
            _ => NoticeSays.MailboxAccepted,
        });
        if (!Codes<AgendaLevel>.TryParse(level, out var from) || !Levels.Contains(from)) problems.Add(NoticeSays.LevelAccepted);
        QuietHours? quiet = null;
        if (!string.IsNullOrWhiteSpace(quietFrom) || !string.IsNullOrWhiteSpace(quietTo))
        {
            if (Typed.Parse(quietFrom ?? "") is { Success: true } begin && Typed.Parse(quietTo ?? "") is { Success: true } end)
                quiet = new QuietHours(begin.Value, end.Value);
            else problems.Add(NoticeSays.QuietAccepted);
        }
        if (problems.Count > 0) return Refuse([.. problems]);
        if (!store.Add(house.Rig!.Id, by, to!, from, quiet, house.Units.Code)) return Refuse(NoticeSays.TooMany);
        notifier.Changed();
        return RedirectToPage();
    }

    /// <summary>Removes one.</summary>
    public IActionResult OnPostRemove(int id) => store.Remove(house.Rig!.Id, id) ? RedirectToPage() : NotFound();

    /// <summary>Sends a test.</summary>
    public async Task<IActionResult> OnPostTestAsync(int id)
    {
        if (Notices.FirstOrDefault(n => n.Id == id) is not { } notice) return NotFound();
        var message = new NoticeMessage(house.Rig!.Rig.Name, Codes<AgendaLevel>.Word(AgendaLevel.Later), NoticeSays.TestTitle, NoticeSays.TestReason,
            house.Now.InZone(house.Zone).ToOffsetDateTime().ToString("G", System.Globalization.CultureInfo.InvariantCulture));
        if (await notifier.SendAsync(store, notice, message, HttpContext.RequestAborted))
        {
            store.Told(notice.Id, notice.Told, house.Now);
            TempData[TodayModel.Logged] = NoticeSays.Tested;
        }
        return RedirectToPage();
    }

    private static bool Fits(NoticeWire wire, string? to) => to is { Length: > 0 and <= NoticeStore.LongestTarget } && !to.Any(char.IsControl) && wire switch
    {
        NoticeWire.Webhook => Uri.TryCreate(to, UriKind.Absolute, out var uri) && uri.Scheme is "http" or "https" && uri.Host.Length > 0,
        NoticeWire.Mqtt => !to.Contains('#', StringComparison.Ordinal) && !to.Contains('+', StringComparison.Ordinal)
            && !to.StartsWith('$') && !to.StartsWith(MqttFeed.Root + "/", StringComparison.Ordinal),
        _ => MailboxAddress.TryParse(to, out var mailbox) && mailbox.Address.Contains('@', StringComparison.Ordinal),
    };
}
