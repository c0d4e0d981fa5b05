using System.Collections.Concurrent;
using NodaTime;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.StandIns;

/// <summary>A device as the page shows it.</summary>
internal sealed class Stand(string name, string wire, string measures)
{
    /// <summary>Its name.</summary>
    public string Name => name;

    /// <summary>By what it speaks.</summary>
    public string Wire => wire;

    /// <summary>What it measures.</summary>
    public string Measures => measures;

    /// <summary>Whether it is plugged in.</summary>
    public bool Plugged { get; set; } = true;

    /// <summary>How often it was answered.</summary>
    public long Sent { get; set; }

    /// <summary>What it last heard.</summary>
    public string Said { get; set; } = "";
}

/// <summary>The rig, its devices and their knobs. One thread at a time.</summary>
internal sealed class Bench
{
    private readonly Lock turn = new();
    private readonly LiveRig live;
    private readonly double speed;
    private readonly IClock clock;
    private Instant last;

    public Bench(Rig rig, LiveRig live, double speed, IClock clock)
    {
        (Rig, this.live, this.speed, this.clock) = (rig, live, speed, clock);
        last = clock.GetCurrentInstant();
    }

    /// <summary>The rig.</summary>
    public Rig Rig { get; }

    /// <summary>The devices.</summary>
    public IReadOnlyList<Stand> Stands { get; } =
    [
        new("panel-1", "HTTP", "Lights of black and bath, ohms at black's probes"),
        new("strip-1", "MQTT", "Percent of the galley tank"),
        new("meter-1", "MQTT", "Flow meter on the rinse hose"),
        new("valves-1", "HTTP", "Switches at the valves"),
        new("bay-1", "Files", "Thermometers in the bay and outside"),
    ];

    /// <summary>Mail that came.</summary>
    public ConcurrentQueue<string> Mails { get; } = new();

    /// <summary>Does something with the rig as it is now.</summary>
    public T With<T>(Func<LiveRig, T> use)
    {
        lock (turn)
        {
            var now = clock.GetCurrentInstant();
            live.Run((now - last) * speed);
            last = now;
            return use(live);
        }
    }

    /// <summary>Turns a knob.</summary>
    /// <param name="name">Which.</param>
    /// <param name="on">On or off.</param>
    /// <returns>Whether there is such a knob.</returns>
    public bool Turn(string name, bool on) => With(r =>
    {
        var (kind, of) = name.Split(':', 2) is [var a, var b] ? (a, b) : (name, "");
        switch (kind)
        {
            case "shower":
                r.Shower = on;
                return true;
            case "hose":
                r.Hose = on;
                return true;
            case "guests":
                r.People = on ? 5 : 2;
                return true;
            case "freeze":
                (r.Freezes, r.Hot) = (on, r.Hot && !on);
                return true;
            case "hot":
                (r.Hot, r.Freezes) = (on, r.Freezes && !on);
                return true;
            case "heat":
                r.BayHeat = on;
                return true;
            case "battery":
                r.BatteryDrains = on;
                return true;
            case "valve" when Rig.Find(of) is not null:
                return Put(r.Open, of, on);
            case "foul" when of.Split('/', 2) is [var tank, var probe] && Rig.Find(tank)?.Monitor.Probes.Any(p => p.Id == probe) == true:
                return Put(r.Fouled, (tank, probe), on);
            case "plug" when Stands.FirstOrDefault(s => s.Name == of) is { } stand:
                stand.Plugged = on;
                return true;
            default:
                return false;
        }
    });

    private static bool Put<T>(ISet<T> set, T item, bool on)
    {
        if (on) set.Add(item);
        else set.Remove(item);
        return true;
    }
}
