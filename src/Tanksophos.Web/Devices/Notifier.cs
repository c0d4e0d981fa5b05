using System.Text.Json;
using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Devices;

/// <summary>How to reach the owner's mail server.</summary>
/// <param name="Server">Its address.</param>
/// <param name="From">Mailbox that the mail comes from.</param>
internal sealed record MailWish(ServerAddress Server, string From)
{
    private const int UsualPort = 587, UsualTlsPort = 465;

    /// <summary>Reads the options.</summary>
    /// <param name="address">The address; null for none.</param>
    /// <param name="from">Mailbox that the mail comes from.</param>
    /// <param name="passwordFile">A file with the password; null for none.</param>
    /// <param name="wrong">What is wrong with them; null for nothing.</param>
    public static MailWish? Of(string? address, string? from, FileInfo? passwordFile, out string? wrong)
    {
        wrong = null;
        if (address is null || ServerAddress.Of("--smtp", address, passwordFile, "smtp", UsualPort, UsualTlsPort, out wrong) is not { } server) return null;
        if (MailboxAddress.TryParse(from, out var mailbox)) return new MailWish(server, mailbox.Address);
        wrong = "--smtp-from: a mailbox such as rig@example.org is needed.";
        return null;
    }
}

/// <summary>What is told.</summary>
/// <param name="Rig">Name of the rig.</param>
/// <param name="Level">How soon, as a code.</param>
/// <param name="Title">What to do.</param>
/// <param name="Reason">Why.</param>
/// <param name="At">When it was told.</param>
internal sealed record NoticeMessage(string Rig, string Level, string Title, string Reason, string At);

/// <summary>
/// Tells people who are not looking, where somebody set that up: by an address in the local network, the owner's broker or mail server. What fails is tried
/// again in a minute, and stands on the page. Without anybody to tell it sleeps.
/// </summary>
internal sealed partial class Notifier(IServiceScopeFactory scopes, IClock clock, ILogger<Notifier> log, MailWish? mail = null, MqttFeed? mqtt = null)
    : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(1), Idle = TimeSpan.FromHours(1), Patience = TimeSpan.FromSeconds(10);

    private readonly SemaphoreSlim changed = new(0, 1), one = new(1, 1); // nothing is told twice at once
    private readonly HttpClient http = new(new SocketsHttpHandler { AllowAutoRedirect = false, ConnectTimeout = Patience, UseCookies = false })
    {
        Timeout = Patience,
        MaxResponseContentBufferSize = 64 * 1024,
    };

    /// <summary>The wires that can be used here.</summary>
    public IReadOnlyList<NoticeWire> Wires => [NoticeWire.Webhook, .. mqtt is null ? (NoticeWire[])[] : [NoticeWire.Mqtt],
        .. mail is null ? (NoticeWire[])[] : [NoticeWire.Mail]];

    /// <summary>Says that somebody set something up, or took it away.</summary>
    public void Changed()
    {
        if (changed.CurrentCount == 0) changed.Release();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            while (true)
            {
                var some = false;
                try
                {
                    some = await TellAsync(stoppingToken);
                }
                catch (Exception e) when (e is not OperationCanceledException) // whatever it is, the program goes on
                {
                    NotTold(log, e);
                }
                await changed.WaitAsync(some ? Every : Idle, stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            // the program stops
        }
    }

    /// <summary>Tells what there is to tell.</summary>
    /// <returns>Whether anybody wants to be told anything.</returns>
    public async Task<bool> TellAsync(CancellationToken stop)
    {
        await one.WaitAsync(stop);
        try
        {
            return await TellAllAsync(stop);
        }
        finally
        {
            one.Release();
        }
    }

    private async Task<bool> TellAllAsync(CancellationToken stop)
    {
        using var scope = scopes.CreateScope();
        var services = scope.ServiceProvider;
        var (notices, store) = (services.GetRequiredService<NoticeStore>(), services.GetRequiredService<RigStore>());
        var rigs = notices.Rigs();
        foreach (var id in rigs)
        {
            if (store.Find(id) is not { } rig) continue;
            var picture = services.GetRequiredService<RigCache>().Now(rig, store);
            var trip = services.GetRequiredService<TripService>().Current(rig);
            var around = services.GetRequiredService<Surroundings>().Of(rig, picture);
            var now = clock.GetCurrentInstant();
            var zone = picture.Advice.Circumstances.StatedZone ?? CurrentRequest.SystemZone;
            foreach (var notice in notices.Of(id))
            {
                var units = notice.Units == Units.Metric.Code ? Units.Metric : Units.Us;
                var situation = AgendaService.SituationOf(picture, trip, units, around);
                var agenda = Court.Decide(situation);
                var fresh = Notices.New(agenda, notice.Level, notice.Told, now, now.InZone(zone).TimeOfDay, notice.Quiet);
                var words = new AgendaTexts(situation, units, new TimeWords(now, zone), trip?.Stored.Itinerary.Name, situation.HighC);
                var sent = new List<AgendaItem>();
                foreach (var item in fresh)
                {
                    var text = words.Of(item);
                    var said = string.IsNullOrEmpty(text.When) ? text.Title : $"{text.When}: {text.Title}";
                    if (await SendAsync(notices, notice, new NoticeMessage(rig.Rig.Name, Codes<AgendaLevel>.Word(item.Level), said, text.Reason,
                        now.InZone(zone).ToOffsetDateTime().ToString("G", System.Globalization.CultureInfo.InvariantCulture)), stop)) sent.Add(item);
                    else break; // the others would fail too
                }
                var remembered = Notices.Remember(agenda, notice.Told, sent, now);
                if (sent.Count > 0 || remembered.Count != notice.Told.Count) notices.Told(notice.Id, remembered, sent.Count > 0 ? now : null);
            }
        }
        return rigs.Count > 0;
    }

    /// <summary>Sends one message.</summary>
    /// <returns>Whether it arrived; why not is kept.</returns>
    public async Task<bool> SendAsync(NoticeStore notices, StoredNotice notice, NoticeMessage message, CancellationToken stop)
    {
        try
        {
            using var patience = CancellationTokenSource.CreateLinkedTokenSource(stop);
            patience.CancelAfter(2 * Patience);
            switch (notice.Wire)
            {
                case NoticeWire.Webhook:
                    using (var answer = await http.PostAsJsonAsync(notice.Target, message, JsonSerializerOptions.Web, patience.Token))
                        if (!answer.IsSuccessStatusCode) throw new HttpRequestException($"it answered {(int)answer.StatusCode}");
                    return true;
                case NoticeWire.Mqtt when mqtt is not null:
                    await mqtt.PublishAsync(notice.Target, JsonSerializer.SerializeToUtf8Bytes(message, JsonSerializerOptions.Web), patience.Token);
                    return true;
                case NoticeWire.Mail when mail is not null:
                    await MailAsync(mail, notice.Target, message, patience.Token);
                    return true;
                default:
                    throw new InvalidOperationException("this program was started without it");
            }
        }
        catch (Exception e) when (!stop.IsCancellationRequested) // of whatever kind: the page says it, and it is tried again
        {
            notices.Failed(notice.Id, e is OperationCanceledException ? "no answer in time" : e.Message);
            return false;
        }
    }

    private static async Task MailAsync(MailWish wish, string to, NoticeMessage message, CancellationToken stop)
    {
        using var mail = new MimeMessage();
        mail.From.Add(MailboxAddress.Parse(wish.From));
        mail.To.Add(MailboxAddress.Parse(to));
        mail.Subject = $"{message.Rig}: {message.Title}";
        mail.Body = new TextPart("plain") { Text = $"{message.Title}\n\n{message.Reason}\n" };
        using var client = new SmtpClient();
        var secure = wish.Server.Tls ? SecureSocketOptions.SslOnConnect : SecureSocketOptions.StartTlsWhenAvailable;
        await client.ConnectAsync(wish.Server.Host, wish.Server.Port, secure, stop);
        if (wish.Server.User is not null) await client.AuthenticateAsync(wish.Server.User, wish.Server.Password ?? "", stop);
        await client.SendAsync(mail, stop);
        await client.DisconnectAsync(true, stop);
    }

    /// <inheritdoc/>
    public override void Dispose()
    {
        http.Dispose();
        changed.Dispose();
        one.Dispose();
        base.Dispose();
    }

    [LoggerMessage(LogLevel.Warning, "What there is to tell was not worked out")]
    private static partial void NotTold(ILogger log, Exception e);
}
