using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Devices;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Api;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>What measures at the rig: what it says, what it stands for, what was refused, and what waits to be accepted.</summary>
public sealed class DevicesModel(CurrentRequest house, DeviceStore store) : FormPage
{
    private static readonly Duration WorthSaying = Duration.FromMinutes(1);
    private IReadOnlyList<StoredDevice>? devices;

    /// <summary>The devices, by name.</summary>
    public IReadOnlyList<StoredDevice> Devices => devices ??= store.Of(house.Rig!.Id);

    /// <summary>Those that count or are ignored.</summary>
    public IReadOnlyList<StoredDevice> Known => [.. Devices.Where(d => d.State != DeviceState.Waiting)];

    /// <summary>Those that wait.</summary>
    public IReadOnlyList<StoredDevice> Waiting => [.. Devices.Where(d => d.State == DeviceState.Waiting)];

    /// <summary>A device with the token that was just made for it; null for none.</summary>
    public (string Name, string Token)? Made { get; private set; }

    /// <summary>How a device sends something, in one line of curl.</summary>
    public string Curl => $"curl -H 'Authorization: Bearer {Made!.Value.Token}' -d '{{\"device\":\"{Made.Value.Name}\",\"values\":"
        + $"{{\"{house.Rig!.Rig.Tanks[0].Id}\":"
        + $"{{\"percent\":42}}}}}}' {Request.Scheme}://{Request.Host}{RigApi.Root}/measurements";

    /// <summary>What a channel may be, as a word of the form.</summary>
    public IEnumerable<(string Word, BindingKind Kind, Tank? Tank)> Choices(MeasuredValue value) => Enum.GetValues<BindingKind>()
        .Where(k => DeviceBinding.Fits(k, value.Quantity)).SelectMany(k => k is BindingKind.Unused or BindingKind.Thermometer or BindingKind.Outside
            ? new[] { (Codes<BindingKind>.Word(k), k, (Tank?)null) }
            : [.. house.Rig!.Rig.Tanks.Select(t => ($"{Codes<BindingKind>.Word(k)}:{t.Id}", k, (Tank?)t))]);

    /// <summary>The word of a binding.</summary>
    public static string WordOf(DeviceBinding? binding) => binding is null ? Codes<BindingKind>.Word(BindingKind.Unused)
        : Codes<BindingKind>.Word(binding.Kind) + (binding.Tank is { } tank ? $":{tank}" : "");

    /// <summary>What is wrong with a channel; null for nothing.</summary>
    public DeviceTrouble? TroubleOf(StoredDevice device, string channel) =>
        device.Channels.TryGetValue(channel, out var state) ? Distiller.Trouble(state, house.Now) : null;

    /// <summary>By how many minutes a clock is behind; null for nothing worth saying.</summary>
    public static double? Behind(StoredDevice device) => device.Behind > WorthSaying ? device.Behind.TotalMinutes : null;

    public void OnGet()
    {
    }

    /// <summary>Registers a device.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostAdd(string? name)
    {
        name = name?.Trim();
        if (!MeasurementFormat.IsName(name)) return Refuse(DeviceSays.NameAccepted);
        if (store.Register(house.Rig!.Id, name!) is not { } token) return Refuse(DeviceSays.TooMany);
        Made = (name!, token);
        return Page();
    }

    /// <summary>Accepts, ignores.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostState(int id, bool accept) =>
        store.Set(house.Rig!.Id, id, accept ? DeviceState.Accepted : DeviceState.Ignored) ? RedirectToPage() : NotFound();

    /// <summary>Removes a device.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostRemove(int id)
    {
        if (store.Find(house.Rig!.Id, id) is not { } device || !store.Remove(house.Rig.Id, id)) return NotFound();
        TempData[TodayModel.Logged] = DeviceSays.Removed(device.Name);
        return RedirectToPage();
    }

    /// <summary>Says what the channels are.</summary>
    [Needs(Role.Owner)]
    public IActionResult OnPostBind(int id, string[]? channel, string[]? what)
    {
        if (store.Find(house.Rig!.Id, id) is not { } device) return NotFound();
        if (channel is null || what is null || channel.Length != what.Length) return Refuse(DeviceSays.BindingAccepted);
        var bindings = device.Bindings.ToDictionary(b => b.Channel);
        foreach (var (named, said) in channel.Zip(what))
        {
            var parts = (said ?? "").Split(':', 2);
            var tank = parts.Length == 2 ? parts[1] : null;
            if (!bindings.ContainsKey(named ?? "") || !Codes<BindingKind>.TryParse(parts[0], out var kind)
                || kind is BindingKind.Panel or BindingKind.Meter or BindingKind.Valve != (tank is not null)
                || tank is not null && house.Rig.Rig.Find(tank) is null) return Refuse(DeviceSays.BindingAccepted);
            bindings[named!] = new DeviceBinding(named!, kind, tank);
        }
        store.Bind(house.Rig.Id, id, [.. bindings.Values]);
        TempData[TodayModel.Logged] = DeviceSays.Saved;
        return RedirectToPage();
    }
}
