using System.CommandLine;
using System.Globalization;

namespace Tanksophos.StandIns;

/// <summary>The command line of the stand-ins.</summary>
internal static class Start
{
    private static async Task<int> Main(string[] args)
    {
        var port = new Option<int>("--port")
        {
            Description = "Port of the page with the knobs and of the weather (default 5090).",
            DefaultValueFactory = _ => 5090,
        };
        var server = new Option<string>("--server")
        {
            Description = "Address of the program that is to be sent to.",
            DefaultValueFactory = _ => "http://localhost:5080",
        };
        var token = new Option<string[]>("--token") { Description = "A device's token, as name=token. One for each device.", DefaultValueFactory = _ => [] };
        var mqtt = new Option<int?>("--mqtt") { Description = "Port of the broker on this machine, for the devices that speak MQTT." };
        var inbox = new Option<string?>("--inbox") { Description = "The folder for the device that writes files." };
        var smtp = new Option<int?>("--smtp") { Description = "Take mail on this port, and show it." };
        var now = new Option<string?>("--now") { Description = "The moment at which the rig begins, as for the program." };
        var speed = new Option<double>("--speed") { Description = "How many times as fast time runs, 1 to 600.", DefaultValueFactory = _ => 1 };
        var seed = new Option<long>("--seed") { Description = "Seed of chance.", DefaultValueFactory = _ => 7 };

        var root = new RootCommand("Stands in for the devices, the weather and the mail server of an invented rig, on this machine only.")
        {
            port, server, token, mqtt, inbox, smtp, now, speed, seed,
        };
        root.SetAction((parsed, stop) => StandInHost.RunAsync(new Wishes(parsed.GetValue(port), parsed.GetValue(server)!,
            parsed.GetValue(token)!.Select(t => t.Split('=', 2)).Where(t => t.Length == 2).ToDictionary(t => t[0], t => t[1]), parsed.GetValue(mqtt),
            parsed.GetValue(inbox), parsed.GetValue(smtp), parsed.GetValue(now), Math.Clamp(parsed.GetValue(speed), 1, 600), parsed.GetValue(seed)), stop));
        CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
        return await root.Parse(args).InvokeAsync();
    }
}
