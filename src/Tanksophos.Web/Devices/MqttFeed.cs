using System.Buffers;
using MQTTnet;
using MQTTnet.Formatter;
using MQTTnet.Protocol;
using NodaTime;

namespace Tanksophos.Web.Devices;

/// <summary>How to reach the owner's broker.</summary>
/// <param name="Server">Its address.</param>
internal sealed record MqttWish(ServerAddress Server)
{
    private const int UsualPort = 1883, UsualTlsPort = 8883;

    /// <summary>Reads the options.</summary>
    /// <param name="address">The address; null for none.</param>
    /// <param name="passwordFile">A file with the password; null for none.</param>
    /// <param name="wrong">What is wrong with them; null for nothing.</param>
    public static MqttWish? Of(string? address, FileInfo? passwordFile, out string? wrong)
    {
        wrong = null;
        return address is not null && ServerAddress.Of("--mqtt", address, passwordFile, "mqtt", UsualPort, UsualTlsPort, out wrong) is { } server
            ? new MqttWish(server) : null;
    }
}

/// <summary>
/// Listens at the owner's MQTT broker to <c>tanksophos/rig/device</c>. A message is acknowledged when it is on the disk; while this program is away the broker
/// keeps what comes. Whether it listens stands retained at <c>tanksophos/status</c>.
/// </summary>
internal sealed partial class MqttFeed(MqttWish wish, MeasurementGateway gateway, IServiceScopeFactory scopes, IClock clock, ILogger<MqttFeed> log)
    : BackgroundService
{
    /// <summary>First part of every topic.</summary>
    public const string Root = "tanksophos";

    private const string Status = Root + "/status", Online = "online", Offline = "offline", ClientName = "tanksophos";
    private const uint SessionSeconds = 7 * 24 * 3600; // as long as measurements may be old

    private static readonly TimeSpan FirstWait = TimeSpan.FromSeconds(1), LongestWait = TimeSpan.FromMinutes(1), LooksEvery = TimeSpan.FromSeconds(2);

    private readonly SemaphoreSlim together = new(256); // so many messages are on their way to the disk at once

    /// <summary>Whether the broker is reached.</summary>
    public bool IsConnected { get; private set; }

    private IMqttClient? reached;

    /// <summary>Publishes a message.</summary>
    /// <param name="topic">Its topic.</param>
    /// <param name="payload">What it says.</param>
    /// <param name="stop">Gives up.</param>
    /// <exception cref="InvalidOperationException">The broker is not reached, or refused it.</exception>
    public async Task PublishAsync(string topic, byte[] payload, CancellationToken stop)
    {
        if (!IsConnected || reached is not { } client) throw new InvalidOperationException("the broker is not reached");
        var answer = await client.PublishAsync(new MqttApplicationMessageBuilder().WithTopic(topic).WithPayload(payload)
            .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce).Build(), stop);
        if (!answer.IsSuccess) throw new InvalidOperationException($"the broker answered {answer.ReasonCode}");
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var factory = new MqttClientFactory();
        using var client = factory.CreateMqttClient();
        reached = client;
        client.ApplicationMessageReceivedAsync += e => ReceiveAsync(e, stoppingToken);
        var wait = FirstWait;
        try
        {
            while (true)
            {
                try
                {
                    await client.ConnectAsync(Options(), stoppingToken);
                    await client.SubscribeAsync(factory.CreateSubscribeOptionsBuilder()
                        .WithTopicFilter(f => f.WithTopic($"{Root}/+/+").WithAtLeastOnceQoS()).Build(), stoppingToken);
                    await SayAsync(client, Online, stoppingToken);
                    (IsConnected, wait) = (true, FirstWait);
                    while (client.IsConnected) await Task.Delay(LooksEvery, stoppingToken);
                }
                catch (Exception e) when (e is not OperationCanceledException || !stoppingToken.IsCancellationRequested)
                {
                    NotReached(log, wish.Server.Host, wish.Server.Port, e.Message);
                }
                IsConnected = false;
                await Task.Delay(wait, stoppingToken);
                wait = TimeSpan.FromSeconds(Math.Min(LongestWait.TotalSeconds, 2 * wait.TotalSeconds));
            }
        }
        catch (OperationCanceledException)
        {
            IsConnected = false;
            if (!client.IsConnected) return;
            using var brief = new CancellationTokenSource(LooksEvery);
            try
            {
                await SayAsync(client, Offline, brief.Token);
                await client.DisconnectAsync(cancellationToken: brief.Token);
            }
            catch (Exception e) when (e is OperationCanceledException or MQTTnet.Exceptions.MqttCommunicationException)
            {
                // the broker says it for us: its last will
            }
        }
    }

    private MqttClientOptions Options()
    {
        var options = new MqttClientOptionsBuilder().WithTcpServer(wish.Server.Host, wish.Server.Port)
            .WithClientId(ClientName).WithProtocolVersion(MqttProtocolVersion.V500)
            .WithCleanStart(false).WithSessionExpiryInterval(SessionSeconds).WithReceiveMaximum(200)
            .WithWillTopic(Status).WithWillPayload(Offline).WithWillRetain().WithWillQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce);
        if (wish.Server.User is not null) options = options.WithCredentials(wish.Server.User, wish.Server.Password ?? "");
        return (wish.Server.Tls ? options.WithTlsOptions(t => t.UseTls()) : options).Build();
    }

    private static Task<MqttClientPublishResult> SayAsync(IMqttClient client, string status, CancellationToken stop) =>
        client.PublishAsync(new MqttApplicationMessageBuilder()
        .WithTopic(Status).WithPayload(status).WithRetainFlag().WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce).Build(), stop);

    // Many at a time, so that they are written together; each is acknowledged for itself.
    private async Task ReceiveAsync(MqttApplicationMessageReceivedEventArgs e, CancellationToken stop)
    {
        e.AutoAcknowledge = false;
        await together.WaitAsync(stop);
        _ = TakeAsync(e, stop);
    }

    private async Task TakeAsync(MqttApplicationMessageReceivedEventArgs e, CancellationToken stop)
    {
        try
        {
            var message = e.ApplicationMessage;
            if (message.Topic.Split('/') is [_, var rig, var device])
                await WireReader.TakeAsync(scopes, gateway, rig, device, message.Payload.ToArray(), clock.GetCurrentInstant(), message.Retain, stop);
            await e.AcknowledgeAsync(stop);
        }
        catch (Exception failed) when (failed is not OperationCanceledException) // not acknowledged: the broker sends it again
        {
            NotTaken(log, failed);
        }
        catch (OperationCanceledException)
        {
            // the program stops; the broker keeps it
        }
        finally
        {
            together.Release();
        }
    }

    /// <inheritdoc/>
    public override void Dispose()
    {
        together.Dispose();
        base.Dispose();
    }

    [LoggerMessage(LogLevel.Warning, "The broker at {Host}:{Port} is not reached: {Why}")]
    private static partial void NotReached(ILogger log, string host, int port, string why);

    [LoggerMessage(LogLevel.Warning, "A message from the broker was not taken")]
    private static partial void NotTaken(ILogger log, Exception e);
}
