using System.CommandLine;
using NodaTime;
using Tanksophos.Web.Hosting;

PrivateFiles.FromNowOn();

var data = new Option<string?>("--data")
{
    Description =
    "Folder for the database (made if missing). Default: a folder 'tanksophos' in this user's local data folder.",
    Recursive = true
};
var port = new Option<int?>("--port") { Description = "Port on this machine (default 5080; 0 takes a free one)." };
var demo = new Option<bool>("--demo") { Description = "Fill an empty database with the invented demonstration rig." };
var now = new Option<string?>("--now")
{
    Description =
    "Pretend that it is this moment when the program starts, such as 2026-06-09T18:30:00-06:00; time runs on from there. For trying things out."
};
var lan = new Option<bool>("--lan")
{
    Description =
    "Answer other machines in the local network too, and print the address with a QR code. Signing in is always required there."
};
var https = new Option<bool>("--https")
{
    Description =
    "Encrypt, with a certificate made on first use. Browsers ask once whether to trust it; compare the fingerprint that is printed."
};
var certificate = new Option<FileInfo?>("--certificate")
{
    Description =
    "Encrypt with this certificate: a PEM file together with --certificate-key, or a PKCS #12 file without a password."
};
var certificateKey = new Option<FileInfo?>("--certificate-key") { Description = "The private key of a PEM certificate." };
var mqtt = new Option<string?>("--mqtt")
{
    Description =
    "Take measurements from your MQTT broker, such as mqtt://user@192.168.1.4:1883, or mqtts:// to encrypt. Topics: tanksophos/<rig>/<device>."
};
var mqttPassword = new Option<FileInfo?>("--mqtt-password-file") { Description = "A file whose first line is the password for the broker." };
var broker = new Option<int?>("--mqtt-broker")
{
    Description =
    "Be a small MQTT broker on this port, for devices only: their name is the user, their token the password. With --https it is encrypted."
};
var smtp = new Option<string?>("--smtp") { Description = "Your mail server for notices, such as smtp://user@192.168.1.4:587, or smtps:// to encrypt." };
var smtpFrom = new Option<string?>("--smtp-from") { Description = "The mailbox that notices come from." };
var smtpPassword = new Option<FileInfo?>("--smtp-password-file") { Description = "A file whose first line is the password for the mail server." };
var inbox = new Option<string?>("--inbox")
{
    Description =
    "Take in files of measurements (.ndjson, .json, .csv) that are put into this folder. They are moved to its folder 'done'."
};
var weather = new Option<string?>("--weather")
{
    Description =
    "Ask this address for forecasts, such as http://192.168.1.20:8090/days (place, from and days are added). Only names of places go there."
};
var proxies = new Option<string[]>("--proxy")
{
    Description =
    "Address of a reverse proxy in front, such as 127.0.0.1: its word on who asks and whether it is encrypted is taken. May be given several times."
};
var pathBase = new Option<string?>("--path-base") { Description = "The part of the address under which the proxy shows the program, such as /tanks." };
var hosts = new Option<string[]>("--host") { Description = "A further name by which the program may be asked for. May be given several times." };
var speed = new Option<double?>("--speed") { Description = "Let time run so many times as fast, 1 to 600. For trying things out." };
var file = new Argument<FileInfo>("file") { Description = "A logbook document (JSON), a CSV of entries or a CSV of readings." };
var rig = new Option<string?>("--rig")
{
    Description =
    "Name of the rig that the entries go to. Default: the rig of that name in the document, made if missing; for a CSV the only rig there is."
};

var root = new RootCommand("Tanksophos: when to dump, how to flush, whether a light is wrong. Serves its pages on this computer.") { data, port, demo, now,
    lan, https, certificate, certificateKey, mqtt, mqttPassword, broker, smtp, smtpFrom,
    smtpPassword, inbox, weather, proxies, pathBase, hosts, speed };
root.TreatUnmatchedTokensAsErrors = false; // the web framework has options of its own
root.SetAction((parsed, stop) =>
    Server.RunAsync(new Server.Wishes(args, parsed.GetValue(data), parsed.GetValue(port), parsed.GetValue(demo), parsed.GetValue(now),
    parsed.GetValue(lan), parsed.GetValue(https), parsed.GetValue(certificate), parsed.GetValue(certificateKey))
    {
        Mqtt = parsed.GetValue(mqtt),
        MqttPassword = parsed.GetValue(mqttPassword),
        Broker = parsed.GetValue(broker),
        Inbox = parsed.GetValue(inbox),
        Weather = parsed.GetValue(weather),
        Proxies = parsed.GetValue(proxies) ?? [],
        PathBase = parsed.GetValue(pathBase),
        Hosts = parsed.GetValue(hosts) ?? [],
        Speed = parsed.GetValue(speed) ?? 1,
        Smtp = parsed.GetValue(smtp),
        SmtpFrom = parsed.GetValue(smtpFrom),
        SmtpPassword = parsed.GetValue(smtpPassword)
    }, stop));

var import = new Command("import", "Brings a logbook document or a CSV into the database.") { file, rig };
import.SetAction(parsed => ImportCommand.Run(parsed.GetValue(data), parsed.GetValue(file)!, parsed.GetValue(rig), Console.Out, Console.Error));
root.Add(import);

var to = new Argument<FileInfo>("file") { Description = "The file to write; it must not exist yet." };
var backup = new Command("backup", "Writes a backup of the database to a file, also while the program runs.") { to };
backup.SetAction(parsed => KeepingCommands.Backup(parsed.GetValue(data), parsed.GetValue(to)!, Console.Out, Console.Error));
root.Add(backup);

var from = new Argument<FileInfo>("file") { Description = "A backup of this program." };
var setAside = new Option<bool>("--set-aside") { Description = "Restore even if some rows can't be read; the pages name them afterwards." };
var restore = new Command("restore",
    "Puts a backup in the place of the database, after checking it. The present database is kept aside. Stop the program first, or restore on "
    + "its page.") { from, setAside };
restore.SetAction(parsed => KeepingCommands.Restore(parsed.GetValue(data), parsed.GetValue(from)!, parsed.GetValue(setAside), Console.Out, Console.Error));
root.Add(restore);

var deviceName = new Argument<string>("name") { Description = "Name of the device, such as panel-1." };
var device = new Command("device",
    "Registers a device that sends measurements and prints its token, also while the program runs. A second time it gets a new token.") { deviceName, rig };
device.SetAction(parsed => DeviceCommand.Run(parsed.GetValue(data), parsed.GetValue(deviceName)!, parsed.GetValue(rig), Console.Out, Console.Error));
root.Add(device);

var target = new Option<string>("--to") { Description = "Address of the program.", DefaultValueFactory = _ => "http://localhost:5080" };
var tokenFile = new Option<FileInfo?>("--token-file") { Description = "A file whose first line is the device's token." };
var send = new Command("send",
    "Sends measurements from standard input, a line of JSON each or a table with the columns device,at,channel,quantity,value.") { target, tokenFile };
send.SetAction((parsed, stop) => SendCommand.RunAsync(parsed.GetValue(target)!, parsed.GetValue(tokenFile), Console.In, Console.Out, Console.Error, stop));
root.Add(send);

var doctor = new Command("doctor", "Looks over the data folder: database, backups, permissions, space. Changes nothing, also while the program runs.");
doctor.SetAction(parsed => DoctorCommand.Run(parsed.GetValue(data), SystemClock.Instance, Console.Out, Console.Error));
root.Add(doctor);

var person = new Argument<string>("name") { Description = "Name of the account." };
var dropCodes = new Option<bool>("--drop-codes") { Description = "Also turn off codes at sign-in, for when the phone and the recovery codes are lost." };
var passphrase = new Command("passphrase",
    "Sets a new passphrase for an account, for when the old one is forgotten. Asks for it; it signs that account out everywhere.") { person, dropCodes };
passphrase.SetAction((parsed, _) => KeepingCommands.PassphraseAsync(parsed.GetValue(data), parsed.GetValue(person)!, parsed.GetValue(dropCodes), Console.In,
    Console.Out, Console.Error));
root.Add(passphrase);

return await root.Parse(args).InvokeAsync();

/// <summary>The entry point, named for the test host.</summary>
public partial class Program;
