using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Log;

public class CircumstancesTests
{
    [Fact]
    public void Before_any_entry_the_rig_s_people_stand_at_a_full_hookup_with_closed_valves()
    {
        var now = new Circumstances(Rig(people: 3));

        now.People.ShouldBe(3);
        now.Hookup.ShouldBe(Hookup.Full);
        now.IsOpen("gray").ShouldBeFalse();
        now.StaySince.ShouldBeNull();
    }

    [Fact]
    public void Only_valve_entries_leave_a_valve_open()
    {
        var now = Circumstances.After(new Logbook(Rig(),
            [new ValveEntry { At = At(0), Tank = "gray", State = ValveState.Open }, Dump(At(1), "gray"), Dump(At(1))]));

        now.OpenSince("gray").ShouldBe(At(0).ToInstant());
        now.IsOpen("black").ShouldBeFalse();
    }

    [Fact]
    public void A_drive_ends_when_it_has_lasted_its_hours_or_at_the_next_place()
    {
        var driving = Circumstances.After(new Logbook(Rig(), [new DriveEntry { At = At(0), Hours = 3 }]));
        var arrived = Circumstances.After(new Logbook(Rig(), [new DriveEntry { At = At(0), Hours = 3 }, Stay(At(0, 2), Hookup.Dry)]));

        driving.DrivingUntil.ShouldBe(At(0, 3).ToInstant());
        arrived.DrivingUntil.ShouldBeNull();
    }

    [Fact]
    public void Local_time_is_the_stay_s_zone_else_the_entry_s_own_offset()
    {
        Circumstances.After(new Logbook(Rig(), [Dump(At(0))])).Zone.GetUtcOffset(At(0).ToInstant()).ShouldBe(Offset.FromHours(-6));
        Circumstances.After(new Logbook(Rig(),
            [new StayEntry { At = At(0), Hookup = Hookup.Dry, Zone = DateTimeZoneProviders.Tzdb["Asia/Tokyo"] }, Dump(At(1))])).Zone.Id.ShouldBe("Asia/Tokyo");
    }

    [Fact]
    public void Entries_at_the_same_moment_keep_the_order_of_the_document()
    {
        LogEntry[] entries = [Looked(At(2), 0.5), Dump(At(1)), Looked(At(1), 0.1), Looked(At(1), 0.2)];

        new Logbook(Rig(), entries).InOrder().ShouldBe([entries[1], entries[2], entries[3], entries[0]]);
    }

    [Fact]
    public void Now_is_what_is_stated_else_the_last_entry()
    {
        new Logbook(Rig(), [Dump(At(2)), Dump(At(1))]).Now().ShouldBe(At(2));
        new Logbook(Rig(), [Dump(At(2))], At(5)).Now().ShouldBe(At(5));
        new Logbook(Rig(), []).Now().ShouldBeNull();
    }

    [Fact]
    public void A_propane_alarm_stands_until_a_later_pass_and_a_new_one_stands_anew()
    {
        SymptomEntry Alarm(double day) => new() { At = At(day), Code = SymptomCode.PropaneAlarm };
        CheckEntry Check(double day, CheckResult result) => new() { At = At(day), Code = CheckCode.PropaneRuledOut, Result = result };

        static Instant? Standing(LogEntry[] log)
        {
            var now = new Circumstances(Rig());
            foreach (var entry in log) now.Apply(entry);
            return now.PropaneAlarm;
        }

        Standing([Alarm(1)]).ShouldNotBeNull();
        Standing([Alarm(1), Check(2, CheckResult.Fail)]).ShouldNotBeNull();
        Standing([Alarm(1), Check(1, CheckResult.Pass)]).ShouldNotBeNull();
        Standing([Alarm(1), Check(2, CheckResult.Pass)]).ShouldBeNull();
        Standing([Alarm(1), Check(2, CheckResult.Pass), Alarm(3)]).ShouldBe(At(3).ToInstant());
    }

    [Fact]
    public void Use_hours_add_up_to_days_whatever_the_clock_does()
    {
        var zone = DateTimeZoneProviders.Tzdb["America/Denver"];
        var before = new LocalDateTime(2026, 3, 7, 5, 0).InZoneStrictly(zone).ToInstant();
        var after = new LocalDateTime(2026, 3, 9, 5, 0).InZoneStrictly(zone).ToInstant(); // the clock jumped ahead on the 8th

        UseHours.Between(before, after, zone).ShouldBe(2, 1e-9);
        UseHours.After(before, 2, zone).ShouldBe(new LocalDateTime(2026, 3, 8, 23, 0).InZoneStrictly(zone).ToInstant());
        UseHours.Between(after, before, zone).ShouldBe(0);
    }
}
