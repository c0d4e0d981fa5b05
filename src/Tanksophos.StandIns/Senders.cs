using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;
using MQTTnet;
using MQTTnet.Protocol;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.StandIns;

/// <summary>Lets the devices speak: each by its own wire, once a second; the one that writes files every ten.</summary>
internal sealed class Senders(Bench bench, Wishes wishes) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(1), FilesEvery = TimeSpan.FromSeconds(10), Patience = TimeSpan.FromSeconds(5);

    private readonly HttpClient http = new() { Timeout = Patience };
    private readonly Dictionary<string, IMqttClient> clients = [];

    // The rig in a topic: its name in small letters with dashes.
    private string Topic => bench.Rig.Name.ToLowerInvariant().Replace(' ', '-');

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var written = Environment.TickCount64 - (long)FilesEvery.TotalMilliseconds;
        using var timer = new PeriodicTimer(Every);
        try
        {
            do
            {
                foreach (var stand in bench.Stands)
                {
                    // An unplugged device says nothing, one without current neither.
                    if (!stand.Plugged || stand.Name == "panel-1" && !bench.With(r => r.PanelWorks)) continue;
                    if (stand.Wire == "Files")
                    {
                        if (Environment.TickCount64 - written < FilesEvery.TotalMilliseconds) continue;
                        written = Environment.TickCount64;
                    }
                    try
                    {
                        stand.Said = await SayAsync(stand, Of(stand.Name), stoppingToken);
                        stand.Sent++;
                    }
                    catch (Exception e) when (!stoppingToken.IsCancellationRequested) // it stands on the page, and is tried again
                    {
                        stand.Said = e.Message;
                    }
                }
            }
            while (await timer.WaitForNextTickAsync(stoppingToken));
        }
        catch (OperationCanceledException)
        {
            // the program stops
        }
    }

    /// <summary>What a device measures now.</summary>
    public JsonObject Of(string device) => bench.With(r => new JsonObject
    {
        ["device"] = device,
        ["values"] = device switch
        {
            "panel-1" => Panel(r),
            "strip-1" => Strips(r),
            "meter-1" => new JsonObject { ["flow"] = new JsonObject { ["litersTotal"] = Math.Round(r.MeterL, 2) } },
            "valves-1" => new JsonObject(bench.Rig.Tanks.Select(t => KeyValuePair.Create($"valve.{t.Id}",
                (JsonNode?)(r.Open.Contains(t.Id) ? "open" : "closed")))),
            _ => new JsonObject
            {
                ["bay"] = new JsonObject { ["celsius"] = Math.Round(r.BayC, 2) },
                ["outside"] = new JsonObject { ["celsius"] = Math.Round(r.AirC, 2) },
            },
        },
    });

    private JsonObject Panel(LiveRig r)
    {
        var values = new JsonObject();
        foreach (var tank in bench.Rig.Tanks.Where(t => t.Monitor.Kind == MonitorKind.Probes))
        {
            values[tank.Id] = new JsonObject { ["lit"] = new JsonArray([.. r.Lit(tank).Select(p => (JsonNode?)p)]) };
            if (tank.Role == TankRole.Black)
                foreach (var probe in tank.Monitor.Probes) values[$"ohms.{tank.Id}.{probe.Id}"] = r.Ohms(tank, probe);
        }
        return values;
    }

    private JsonObject Strips(LiveRig r) => new(bench.Rig.Tanks.Where(t => t.Monitor.Kind == MonitorKind.Percent)
        .Select(t => KeyValuePair.Create(t.Id, (JsonNode?)new JsonObject { ["percent"] = r.Percent(t) })));

    private async Task<string> SayAsync(Stand stand, JsonObject message, CancellationToken stop)
    {
        var text = message.ToJsonString();
        switch (stand.Wire)
        {
            case "HTTP":
                using (var request = new HttpRequestMessage(HttpMethod.Post, $"{wishes.Server.TrimEnd('/')}/api/v1/measurements"))
                {
                    request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", wishes.Tokens.GetValueOrDefault(stand.Name, ""));
                    request.Content = new StringContent(text, Encoding.UTF8, "application/json");
                    using var answer = await http.SendAsync(request, stop);
                    var said = await answer.Content.ReadAsStringAsync(stop);
                    return $"{(int)answer.StatusCode} {said[..Math.Min(said.Length, 120)]}";
                }
            case "MQTT":
                if (wishes.Mqtt is not { } port) return "no broker given";
                var client = await ClientAsync(stand.Name, port, stop);
                var published = await client.PublishAsync(new MqttApplicationMessageBuilder().WithTopic($"tanksophos/{Topic}/{stand.Name}").WithPayload(text)
                    .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce).Build(), stop);
                return published.IsSuccess ? "published" : $"{published.ReasonCode}";
            default:
                if (wishes.Inbox is not { } folder) return "no folder given";
                Directory.CreateDirectory(folder);
                var name = Path.Combine(folder, $"{stand.Name}-{Environment.TickCount64}");
                await File.WriteAllTextAsync(name + ".part", text + "\n", stop);
                File.Move(name + ".part", name + ".ndjson");
                return "written";
        }
    }

    private async Task<IMqttClient> ClientAsync(string name, int port, CancellationToken stop)
    {
        if (!clients.TryGetValue(name, out var client)) clients[name] = client = new MqttClientFactory().CreateMqttClient();
        if (!client.IsConnected)
            await client.ConnectAsync(new MqttClientOptionsBuilder().WithTcpServer("127.0.0.1", port).WithClientId(name)
                .WithCredentials(name, wishes.Tokens.GetValueOrDefault(name, "")).WithTimeout(Patience).Build(), stop);
        return client;
    }

    /// <inheritdoc/>
    public override void Dispose()
    {
        foreach (var client in clients.Values) client.Dispose();
        http.Dispose();
        base.Dispose();
    }
}
