using System.Buffers;
using System.Net;
using System.Security.Cryptography.X509Certificates;
using MQTTnet.Protocol;
using MQTTnet.Server;
using NodaTime;
using Tanksophos.Data;

namespace Tanksophos.Web.Devices;

/// <summary>How a broker of our own is to run.</summary>
/// <param name="Port">Its port.</param>
/// <param name="Lan">Whether other machines may come.</param>
/// <param name="Certificate">With what it encrypts; null for not.</param>
internal sealed record MqttBrokerWish(int Port, bool Lan, X509Certificate2? Certificate);

/// <summary>
/// A small broker for devices, where the owner has none: a device signs in with its name and its token, publishes to its own topic, and hears nothing. A
/// message is acknowledged when it is on the disk.
/// </summary>
internal sealed partial class MqttBroker(MqttBrokerWish wish, MeasurementGateway gateway, IServiceScopeFactory scopes, IClock clock, ILogger<MqttBroker> log)
    : IHostedService, IDisposable
{
    private const int LongestMessage = 256 * 1024, MostWaiting = 200;

    private readonly CancellationTokenSource stopping = new();
    private MqttServer? server;

    private sealed record Signed(int RigId, string Device);

    /// <inheritdoc/>
    public async Task StartAsync(CancellationToken cancellationToken)
    {
        var at = wish.Lan ? IPAddress.Any : IPAddress.Loopback;
        var options = new MqttServerOptionsBuilder().WithMaxPendingMessagesPerClient(MostWaiting);
        options = wish.Certificate is { } certificate
            ? options.WithoutDefaultEndpoint().WithEncryptedEndpoint().WithEncryptedEndpointPort(wish.Port).WithEncryptedEndpointBoundIPAddress(at)
                .WithEncryptedEndpointBoundIPV6Address(IPAddress.None).WithEncryptionCertificate(certificate)
            : options.WithDefaultEndpoint().WithDefaultEndpointPort(wish.Port).WithDefaultEndpointBoundIPAddress(at)
                .WithDefaultEndpointBoundIPV6Address(IPAddress.None);
        server = new MqttServerFactory().CreateMqttServer(options.Build());
        server.ValidatingConnectionAsync += Validate;
        server.InterceptingPublishAsync += PublishAsync;
        server.InterceptingSubscriptionAsync += e =>
        {
            (e.ProcessSubscription, e.Response.ReasonCode) = (false, MqttSubscribeReasonCode.NotAuthorized);
            return Task.CompletedTask;
        };
        try
        {
            await server.StartAsync();
        }
        catch (Exception e) when (e is System.Net.Sockets.SocketException or InvalidOperationException) // the pages go on without it
        {
            NotStarted(log, wish.Port, e.Message);
        }
    }

    /// <inheritdoc/>
    public async Task StopAsync(CancellationToken cancellationToken)
    {
        await stopping.CancelAsync();
        if (server is { IsStarted: true }) await server.StopAsync();
    }

    private Task Validate(ValidatingConnectionEventArgs e)
    {
        using var scope = scopes.CreateScope();
        var device = scope.ServiceProvider.GetRequiredService<DeviceStore>().ByToken(e.Password);
        if (device is { State: DeviceState.Accepted } && device.Name == e.UserName) e.SessionItems[nameof(Signed)] = new Signed(device.RigId, device.Name);
        else e.ReasonCode = MqttConnectReasonCode.BadUserNameOrPassword;
        return Task.CompletedTask;
    }

    private async Task PublishAsync(InterceptingPublishEventArgs e)
    {
        e.ProcessPublish = false; // it goes to the disk, to nobody else
        var payload = e.ApplicationMessage.Payload;
        if (e.SessionItems[nameof(Signed)] is not Signed signed || e.ApplicationMessage.Topic.Split('/') is not [MqttFeed.Root, var rig, var device]
            || device != signed.Device || payload.Length > LongestMessage || !IsOf(rig, signed.RigId))
        {
            e.Response.ReasonCode = MqttPubAckReasonCode.NotAuthorized;
            return;
        }
        try
        {
            using var both = CancellationTokenSource.CreateLinkedTokenSource(e.CancellationToken, stopping.Token);
            await WireReader.TakeAsync(scopes, gateway, rig, signed.Device, payload.ToArray(), clock.GetCurrentInstant(),
                e.ApplicationMessage.Retain, both.Token);
        }
        catch (Exception failed)
        {
            e.Response.ReasonCode = MqttPubAckReasonCode.UnspecifiedError;
            e.CloseConnection = true; // not acknowledged: the device sends it again when it is back
            if (failed is not OperationCanceledException) NotTaken(log, failed);
        }
    }

    // A token speaks for a device of one rig.
    private bool IsOf(string word, int rigId)
    {
        using var scope = scopes.CreateScope();
        return WireReader.RigOf(scope.ServiceProvider.GetRequiredService<RigStore>(), word)?.Id == rigId;
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        server?.Dispose();
        stopping.Dispose();
    }

    [LoggerMessage(LogLevel.Error, "The MQTT broker could not be started on port {Port}: {Why}")]
    private static partial void NotStarted(ILogger log, int port, string why);

    [LoggerMessage(LogLevel.Warning, "A device's message was not taken")]
    private static partial void NotTaken(ILogger log, Exception e);
}
