using NodaTime;
using Tanksophos.Core.Agendas;

namespace Tanksophos.Core.Tests.Agendas;

/// <summary>What is told to people who are not looking, when, and how often.</summary>
public class NoticesTests
{
    private static readonly Instant Now = Instant.FromUtc(2026, 6, 9, 18, 0);
    private static readonly LocalTime Noon = new(12, 0), Night = new(2, 30);
    private static readonly QuietHours Quiet = new(new LocalTime(22, 0), new LocalTime(7, 0));

    private static AgendaItem Item(AgendaCode code, AgendaLevel level, params string[] tanks) => new(code, level, tanks, ["level"]);

    private static Agenda Agenda(params AgendaItem[] items) => new(null, items, []);

    private static readonly AgendaItem Gas = Item(AgendaCode.Evacuate, AgendaLevel.Safety), Dump = Item(AgendaCode.DumpRun, AgendaLevel.Now, "black"),
        Later = Item(AgendaCode.DumpRun, AgendaLevel.Today, "gray"), Chore = Item(AgendaCode.Care, AgendaLevel.Soon);

    private static IReadOnlyList<AgendaItem> New(Agenda agenda, AgendaLevel from, IReadOnlyDictionary<string, Instant>? told = null, Instant? now = null,
        LocalTime? local = null, QuietHours? quiet = null) =>
        Notices.New(agenda, from, told ?? new Dictionary<string, Instant>(), now ?? Now, local ?? Noon, quiet);

    [Fact]
    public void What_is_urgent_enough_is_told_once_and_what_is_for_now_once_a_day()
    {
        var agenda = Agenda(Gas, Dump, Later, Chore);
        New(agenda, AgendaLevel.Safety).ShouldBe([Gas]);
        New(agenda, AgendaLevel.Now).ShouldBe([Gas, Dump]);
        New(agenda, AgendaLevel.Soon).Count.ShouldBe(4);
        var told = Notices.Remember(agenda, new Dictionary<string, Instant>(), New(agenda, AgendaLevel.Today), Now);
        New(agenda, AgendaLevel.Today, told, Now + Duration.FromHours(1)).ShouldBeEmpty();
        New(agenda, AgendaLevel.Today, told, Now + Duration.FromHours(25)).ShouldBe([Gas, Dump], "that for today is not said again");
        // Its hour and its figures move: it is the same.
        New(Agenda(Dump with { At = Now + Duration.FromHours(3), WaterL = 12 }), AgendaLevel.Now, told).ShouldBeEmpty();
        New(Agenda(Item(AgendaCode.DumpRun, AgendaLevel.Now, "black", "gray")), AgendaLevel.Now, told).Count.ShouldBe(1, "another run");
        New(Agenda(Dump, Dump), AgendaLevel.Now).Count.ShouldBe(1);
    }

    [Fact]
    public void In_quiet_hours_only_what_can_hurt_people_is_told_and_the_rest_waits()
    {
        var agenda = Agenda(Gas, Dump);
        New(agenda, AgendaLevel.Soon, local: Night, quiet: Quiet).ShouldBe([Gas]);
        var told = Notices.Remember(agenda, new Dictionary<string, Instant>(), [Gas], Now);
        New(agenda, AgendaLevel.Soon, told, local: Noon, quiet: Quiet).ShouldBe([Dump]);
    }

    [Theory]
    [InlineData(22, 7, 23, true)]
    [InlineData(22, 7, 6, true)]
    [InlineData(22, 7, 7, false)]
    [InlineData(22, 7, 12, false)]
    [InlineData(13, 15, 14, true)]
    [InlineData(13, 15, 15, false)]
    [InlineData(8, 8, 8, false)]
    public void Quiet_hours_go_over_midnight(int from, int to, int at, bool quiet) =>
        new QuietHours(new LocalTime(from, 0), new LocalTime(to, 0)).Hold(new LocalTime(at, 0)).ShouldBe(quiet);

    [Fact]
    public void What_comes_and_goes_is_not_told_each_time_but_after_a_while_it_is_news()
    {
        var told = Notices.Remember(Agenda(Later), new Dictionary<string, Instant>(), [Later], Now);
        told = Notices.Remember(Agenda(), told, [], Now + Duration.FromHours(2));
        New(Agenda(Later), AgendaLevel.Today, told, Now + Duration.FromHours(3)).ShouldBeEmpty();
        told = Notices.Remember(Agenda(), told, [], Now + Duration.FromHours(13));
        told.ShouldBeEmpty();
        New(Agenda(Later), AgendaLevel.Today, told, Now + Duration.FromHours(14)).ShouldBe([Later]);
        // While it stands it is remembered, however long.
        told = Notices.Remember(Agenda(Later), new Dictionary<string, Instant>(), [Later], Now);
        told = Notices.Remember(Agenda(Later), told, [], Now + Duration.FromDays(9));
        New(Agenda(Later), AgendaLevel.Today, told, Now + Duration.FromDays(9)).ShouldBeEmpty();
    }
}
