using System.Net;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Tests;
using Tanksophos.Web.Hosting;

namespace Tanksophos.Web.Tests.Accounts;

/// <summary>A person's own account: name, codes, devices, its end; and what is lent for a limited time.</summary>
public sealed class YouTests : IDisposable
{
    private readonly App app = new(own: true);

    public void Dispose() => app.Dispose();

    private static readonly (string, string)[] Mine = [("name", App.Owner), ("passphrase", App.Passphrase)];

    private async Task<HttpClient> ElsewhereAsync()
    {
        var client = app.Visitor();
        var (mine, there) = (app.Client, client);
        (await app.As(there).PostAsync("/sign-in", "/sign-in", Mine)).Status.ShouldBe(HttpStatusCode.OK);
        app.As(mine);
        return client;
    }

    private async Task<string> MakeRigAsync()
    {
        await app.ConfirmAsync((await app.UploadAsync(App.Example("logbook.json"))).Html);
        return app.With(s => s.Rigs().Single().Rig.Name);
    }

    private async Task<(string Key, List<string> Recovery)> TurnOnAsync()
    {
        var (_, html) = await app.PostAsync("/you", "/you?handler=Key");
        var key = html.Dom().QuerySelector("[data-key]")!.GetAttribute("data-key")!;
        (await app.PostAsync("/you", "/you?handler=Codes", ("code", "000000"))).Html.ShouldShow("[data-problem=code]");
        var (status, on) = await app.PostAsync("/you", "/you?handler=Codes", ("code", AuthenticatorApp.CodeOf(key)));
        status.ShouldBe(HttpStatusCode.OK);
        on.ShouldShow("[data-codes=on]");
        return (key, [.. on.Dom().QuerySelectorAll("[data-recovery] code").Select(c => c.TextContent)]);
    }

    [Fact]
    public async Task A_new_name_counts_from_now_on()
    {
        (await app.PostAsync("/you", "/you?handler=Name", ("name", " Kim "))).Html.ShouldShow("[data-logged]");
        (await app.GetAsync("/you")).ShouldContain("Kim");
        (await app.PostAsync("/you", "/you?handler=Name", ("name", ""))).Html.ShouldShow("[data-problem=name]");
        var other = app.Visitor();
        app.As(other);
        (await app.PostAsync("/sign-in", "/sign-in", Mine)).Status.ShouldBe(HttpStatusCode.BadRequest); // the old name is nobody's
        (await app.PostAsync("/sign-in", "/sign-in", ("name", "Kim"), ("passphrase", App.Passphrase))).Status.ShouldBe(HttpStatusCode.OK);
    }

    // The demonstration is entered by its name alone: under another it would be closed for good.
    [Fact]
    public async Task Without_a_passphrase_a_name_stays()
    {
        using var demo = App.Demo();
        (await demo.PostAsync("/you", "/you?handler=Name", ("name", "Kim"))).Html.ShouldShow("[data-problem=name]");
        (await demo.PostAsync("/you", "/you?handler=Key")).Html.ShouldShow("[data-problem=code]");
        (await demo.GetAsync("/you")).ShouldContain("Demo");
    }

    [Fact]
    public async Task Every_device_is_listed_and_can_be_signed_out()
    {
        var phone = await ElsewhereAsync();
        var page = (await app.GetAsync("/you")).Dom();
        page.QuerySelectorAll("[data-sign-in]").Length.ShouldBe(2);
        page.QuerySelectorAll("[data-sign-in=here]").Length.ShouldBe(1);
        var id = page.QuerySelector("[data-sign-in=other] input[name=id]")!.GetAttribute("value")!;
        (await app.PostAsync("/you", "/you?handler=End", ("id", "0123456789abcdef"))).Status.ShouldBe(HttpStatusCode.NotFound);
        (await app.PostAsync("/you", "/you?handler=End", ("id", id))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/you")).Dom().QuerySelectorAll("[data-sign-in]").Length.ShouldBe(1);
        (await app.As(phone).GetAsync("/you")).ShouldShow("main[data-page='/SignIn/Index']");
    }

    [Fact]
    public async Task With_codes_a_passphrase_alone_lets_nobody_in()
    {
        var (key, recovery) = await TurnOnAsync();
        recovery.Count.ShouldBe(10);
        app.As(app.Visitor());
        var (_, asked) = await app.PostAsync("/sign-in", "/sign-in", Mine);
        asked.ShouldShow("[data-second-step]");
        (await app.GetAsync("/you")).ShouldShow("main[data-page='/SignIn/Index']");
        var ticket = App.Hidden(asked, "ticket");
        async Task<(HttpStatusCode Status, string Html)> Try(string code, string with) =>
            await app.PostAsync("/sign-in", "/sign-in?handler=Code", ("ticket", with), ("code", code));
        (await Try("123456", ticket)).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await Try(AuthenticatorApp.CodeOf(key), ticket)).Status.ShouldBe(HttpStatusCode.BadRequest); // it was used to turn the codes on
        (await Try(AuthenticatorApp.CodeOf(key, 1), "forged" + ticket)).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await Try(AuthenticatorApp.CodeOf(key, 1), ticket)).Html.ShouldNotShow("[data-second-step]");
        (await app.GetAsync("/you")).ShouldShow("[data-codes=on]");

        app.As(app.Visitor());
        ticket = App.Hidden((await app.PostAsync("/sign-in", "/sign-in", Mine)).Html, "ticket");
        (await Try(recovery[3].ToLowerInvariant(), ticket)).Status.ShouldBe(HttpStatusCode.OK);
        app.As(app.Visitor());
        ticket = App.Hidden((await app.PostAsync("/sign-in", "/sign-in", Mine)).Html, "ticket");
        (await Try(recovery[3], ticket)).Status.ShouldBe(HttpStatusCode.BadRequest); // each works once
        app.Clock.Advance(Duration.FromMinutes(6));
        (await Try(recovery[4], ticket)).Html.ShouldNotShow("[data-second-step]"); // too late: the passphrase again
        (await app.GetAsync("/you")).ShouldShow("main[data-page='/SignIn/Index']");
    }

    [Fact]
    public async Task Guessing_a_code_is_as_slow_as_guessing_a_passphrase()
    {
        await TurnOnAsync();
        app.As(app.Visitor());
        var ticket = App.Hidden((await app.PostAsync("/sign-in", "/sign-in", Mine)).Html, "ticket");
        var said = "";
        for (var i = 0; i < 6; i++) said = (await app.PostAsync("/sign-in", "/sign-in?handler=Code", ("ticket", ticket), ("code", $"{i:000000}"))).Html;
        said.ShouldContain("Too many");
    }

    [Fact]
    public async Task Codes_are_turned_off_with_the_passphrase_or_at_the_machine_itself()
    {
        await TurnOnAsync();
        (await app.PostAsync("/you", "/you?handler=NoCodes", ("present", "not it at all"))).Html.ShouldShow("[data-codes=on]");
        (await app.PostAsync("/you", "/you?handler=NoCodes", ("present", App.Passphrase))).Html.ShouldShow("[data-codes=off]");
        await TurnOnAsync();
        (await KeepingCommands.PassphraseAsync(app.Folder, App.Owner, true, new StringReader("another biscuit kettle"), new StringWriter(),
            new StringWriter())).ShouldBe(0);
        app.As(app.Visitor());
        (await app.PostAsync("/sign-in", "/sign-in", ("name", App.Owner), ("passphrase", "another biscuit kettle"))).Html.ShouldNotShow("[data-second-step]");
        (await app.GetAsync("/you")).ShouldShow("[data-codes=off]");
    }

    [Fact]
    public async Task An_account_goes_only_with_its_own_rigs_downloaded()
    {
        var rig = await MakeRigAsync();
        (await app.GetAsync("/you")).ShouldShow("[data-left='1']");
        (await app.PostAsync("/you", "/you?handler=Delete", ("name", App.Owner), ("present", App.Passphrase))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await app.Client.GetAsync(new Uri("/export/everything?rig=1", UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await app.PostAsync("/you", "/you?handler=Delete", ("name", "Somebody"), ("present", App.Passphrase))).Html.ShouldShow("[data-problem=name]");
        (await app.PostAsync("/you", "/you?handler=Delete", ("name", App.Owner), ("present", "not it at all"))).Html.ShouldShow("[data-problem=passphrase]");
        app.With(s => s.Rigs().Count).ShouldBe(1);
        (await app.PostAsync("/you", "/you?handler=Delete", ("name", App.Owner), ("present", App.Passphrase))).Status.ShouldBe(HttpStatusCode.OK);
        app.With(s => s.Rigs().Count).ShouldBe(0);
        using (var scope = app.Services.CreateScope()) scope.ServiceProvider.GetRequiredService<PeopleStore>().AnyPeople.ShouldBeFalse();
        // The rig is in the copy from before.
        var aside = Directory.EnumerateFiles(Path.Combine(app.Folder, "backups"), "before-delete-*").Single();
        using var connection = new SqliteConnection($"Data Source={aside};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT Name FROM Rigs";
        command.ExecuteScalar().ShouldBe(rig);
    }

    [Fact]
    public async Task A_rig_of_several_is_handed_over_first_and_stays()
    {
        await MakeRigAsync();
        string word;
        using (var scope = app.Services.CreateScope()) word = scope.ServiceProvider.GetRequiredService<PeopleStore>().Invite(1, Role.Guest);
        var (owner, kim) = (app.Client, app.Visitor());
        await app.As(kim).PostAsync($"/join/{word}", $"/join/{word}", ("name", "Kim"), ("passphrase", App.Passphrase), ("again", App.Passphrase));
        await app.As(owner).GetAsync("/export/everything?rig=1");
        (await app.PostAsync("/you", "/you?handler=Delete", ("name", App.Owner), ("present", App.Passphrase))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await app.PostAsync("/account", "/account?handler=HandOver", ("to", "99"))).Html.ShouldShow("[data-problem]");
        (await app.PostAsync("/account", "/account?handler=HandOver", ("to", "2"))).Status.ShouldBe(HttpStatusCode.OK);
        using (var scope = app.Services.CreateScope())
            scope.ServiceProvider.GetRequiredService<PeopleStore>().Members(1).Select(m => (m.Name, m.Role))
                .ShouldBe([("Kim", Role.Owner), (App.Owner, Role.Crew)]);
        (await app.PostAsync("/you", "/you?handler=Delete", ("name", App.Owner), ("present", App.Passphrase))).Status.ShouldBe(HttpStatusCode.OK);
        app.With(s => s.Rigs().Count).ShouldBe(1);
        (await app.As(kim).GetAsync("/keeping")).ShouldShow("[data-backup], a[href*=Download], form[action*=Download]"); // somebody keeps the installation
    }

    [Fact]
    public async Task A_technician_sees_the_sheet_until_the_link_runs_out_and_nothing_else()
    {
        await MakeRigAsync();
        (await app.PostAsync("/find/sheet", "/find/sheet?handler=Share", ("name", ""), ("days", "7"))).Html.ShouldShow("[data-problem=name]");
        (await app.PostAsync("/find/sheet", "/find/sheet?handler=Share", ("name", "the shop"), ("days", "400"))).Html.ShouldShow("[data-problem=days]");
        async Task<string> Share(string days) => new Uri((await app.PostAsync("/find/sheet", "/find/sheet?handler=Share", ("name", "the shop"),
            ("days", days))).Html
            .Dom().QuerySelector("[data-share-link] input")!.GetAttribute("value")!).AbsolutePath;
        var (day, week) = (await Share("1"), await Share("7"));
        var owner = app.Client;
        var shop = app.Visitor();
        app.As(shop);
        (await app.GetAsync(day)).ShouldShow("article.service-sheet");
        (await app.GetAsync(day)).ShouldNotShow("form[action*=Share]");
        (await app.GetAsync("/find")).ShouldShow("main[data-page='/SignIn/Index']");
        app.Clock.Advance(Duration.FromHours(25));
        async Task<(HttpStatusCode Status, string Html)> Look(string link)
        {
            using var answer = await shop.GetAsync(new Uri(link, UriKind.Relative));
            return (answer.StatusCode, await answer.Content.ReadAsStringAsync());
        }
        (await Look(day)).Status.ShouldBe(HttpStatusCode.Gone);
        (await Look(day)).Html.ShouldShow("[data-gone]");
        (await Look("/look/" + new string('0', 40))).Status.ShouldBe(HttpStatusCode.Gone);
        (await Look(week)).Status.ShouldBe(HttpStatusCode.OK);
        app.As(owner);
        var id = (await app.GetAsync("/find/sheet")).Dom().QuerySelector("form[action*=Unshare] input[name=id]")!.GetAttribute("value")!;
        await app.PostAsync("/find/sheet", "/find/sheet?handler=Unshare", ("id", id));
        (await Look(week)).Status.ShouldBe(HttpStatusCode.Gone);
    }

    [Fact]
    public void Tokens_from_before_there_were_scopes_are_good_for_what_they_were()
    {
        var folder = Directory.CreateTempSubdirectory("tanksophos-scopes").FullName;
        KeepingCommands.Restore(folder, new FileInfo(Path.Combine(AppContext.BaseDirectory, "Data", "backups", "14-Weather.db")), false, new StringWriter(),
            new StringWriter()).ShouldBe(0);
        using (var context = new DataFolder(folder).Open())
        {
            var people = new PeopleStore(context, SystemClock.Instance);
            people.Token("tks_old-reader")!.Scopes.ShouldBe(TokenScopes.Read);
            people.Token("tks_old-logger")!.Scopes.ShouldBe(TokenScopes.Read | TokenScopes.Log | TokenScopes.Devices);
        }
        new DataFolder(folder).ForgetConnections();
        Directory.Delete(folder, recursive: true);
    }
}
