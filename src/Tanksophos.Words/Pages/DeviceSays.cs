using Tanksophos.Core.Devices;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words.Pages;

/// <summary>Texts of the page about what measures.</summary>
internal static class DeviceSays
{
    public static string Title => "Devices";
    public static string Lead => "Panels, meters and thermometers that log on their own.";
    public static string ToDevices => "Devices that log on their own";
    public static string None => "No devices yet. Name one below to get its token.";
    public static string Add => "Add a device";
    public static string AddLead =>
        "A small computer at the panel, a flow meter on the rinse hose, a thermometer in the bay. It sends what it measures. "
        + "The log only gets an entry when something changes and stays that way.";
    public static string Name => "Name";
    public static string NameHint => "Letters, digits and dashes, such as panel-1";
    public static string MakeToken => "Add and make a token";
    public static string NewToken => "New token";
    public static string TokenOf(string name) => $"Token for {name}";
    public static string CopyNow => "Copy it now. You won't see it again. It can only send for this device.";
    public static string Token => "Token";
    public static string TryIt => "Try it from any computer that can reach this one:";
    public static string Waiting => "New devices";
    public static string WaitingLead => "These sent something. Accept the ones that belong to this rig.";
    public static string Accept => "Accept";
    public static string Ignore => "Ignore";
    public static string ListenAgain => "Listen again";
    public static string Remove => "Remove";
    public static string Heard(string ago) => $"Last heard {ago}";
    public static string NeverHeard => "Never heard from";
    public static string Ignored => "Ignored";
    public static string Counted(long taken, long refused) => refused == 0 ? $"{taken:#,0} received" : $"{taken:#,0} received, {refused:#,0} refused";
    public static string Behind(double minutes) => minutes >= 120 ? $"Its clock is {minutes / 60:0} hours behind this one."
        : $"Its clock is {minutes:0} min behind this one.";
    public static string ValuesOf(string name) => $"Values of {name}";
    public static string Channel => "Device's name for it";
    public static string Now => "Now";
    public static string Is => "What it is";
    public static string Save => "Save";
    public static string Saved => "Saved.";
    public static string Removed(string name) => $"{name} removed. What it logged stays in the log.";
    public static string IsLabel(string channel) => $"What {channel} is";
    public static string WhyRefused => "What was refused, and why";
    public static string NameAccepted => "Name: 1 to 40 letters, digits, points, dashes and underscores are accepted.";
    public static string TooMany => "Devices: this rig already has the most it can. Remove one first.";
    public static string BindingAccepted => "What it is: choose one from the list.";
    public static string Kind(BindingKind kind, string? tank) => kind switch
    {
        BindingKind.Panel => $"{tank} panel",
        BindingKind.Meter => $"Water into {Lower(tank ?? "")}",
        BindingKind.Valve => $"{tank} valve",
        BindingKind.Thermometer => "Thermometer in the bay",
        BindingKind.Outside => "Thermometer outside",
        BindingKind.Probe => $"Resistance at a {Lower(tank ?? "")} probe",
        BindingKind.Unused => "Not used",
    };
    public static string Trouble(DeviceTrouble trouble) => trouble switch
    {
        DeviceTrouble.Silent => "silent",
        DeviceTrouble.Flickers => "flickers",
        DeviceTrouble.Stuck => "stuck on one number",
        DeviceTrouble.Drifts => "reads high after dumps",
    };

    /// <summary>A value.</summary>
    public static string Value(MeasuredValue value, DeviceBinding? binding, Rig rig, Units units) => value.Quantity switch
    {
        Quantity.Lit => value.Lit!.Count == 0 ? "no lights on"
            : string.Join(", ", value.Lit.Select(l => rig.Find(binding?.Tank)?.Monitor.Probes.FirstOrDefault(p => p.Id == l)?.Label ?? l)),
        Quantity.Percent => StepWords.Percent(value.Number!.Value / 100),
        Quantity.LitersTotal => $"{units.Volume(value.Number!.Value)} so far",
        Quantity.Celsius => units.Temperature(value.Number!.Value),
        Quantity.Valve => value.Number > 0 ? "open" : "closed",
        Quantity.Ohms => value.Number >= 1000 ? $"{value.Number / 1000:#,0} kΩ" : $"{value.Number:0} Ω",
    };

    private static string Lower(string text) => text.Length == 0 ? text : char.ToLowerInvariant(text[0]) + text[1..];
}
