using Tanksophos.Web.Docs;
using Tanksophos.Web.Pages;

namespace Tanksophos.Web.Tests;

/// <summary>The guide in the program: made from the files of the source, complete, and without a dead end.</summary>
public sealed class GuideTests
{
    private readonly DocsLibrary library = new("");

    [Fact]
    public void Every_page_is_there_with_a_title_and_words()
    {
        library.Pages.Count.ShouldBe(14);
        library.Pages.ShouldAllBe(p => p.Title.Length > 3 && p.Html.Length > 300 && p.Sections.Count > 0);
        library.Pages.Select(p => p.Title).Distinct().Count().ShouldBe(library.Pages.Count);
    }

    [Fact]
    public void Every_question_mark_leads_to_a_place_that_is_there()
    {
        GuideModel.Places.Count.ShouldBeGreaterThan(12);
        foreach (var (room, (slug, section)) in GuideModel.Places)
        {
            var page = library.Find(slug).ShouldNotBeNull(room);
            if (section.Length > 0) page.Sections.Select(s => s.Id).ShouldContain(section, room);
        }
    }

    [Fact]
    public void No_link_within_the_guide_leads_nowhere()
    {
        var links = 0;
        foreach (var page in library.Pages)
            foreach (var link in page.Html.Dom().QuerySelectorAll("a[href]").Select(a => a.GetAttribute("href")!)
                .Where(h => !h.Contains("://", StringComparison.Ordinal)))
            {
                links++;
                var parts = link.Split('#');
                var target = parts[0].Length == 0 ? page : library.Find(parts[0].Replace("/guide/", "", StringComparison.Ordinal))
                    .ShouldNotBeNull($"{page.Slug}: {link}");
                if (parts.Length == 2) target.Html.Dom().GetElementById(parts[1]).ShouldNotBeNull($"{page.Slug}: {link}");
            }
        links.ShouldBeGreaterThan(5);
    }

    [Fact]
    public void Drawings_stand_in_the_page_and_take_its_colors()
    {
        var drawings = library.Find("handbook")!.Html.Dom().QuerySelectorAll(".drawing[role=img] svg");
        drawings.Length.ShouldBeGreaterThanOrEqualTo(5);
        drawings.ShouldAllBe(d => d.OuterHtml.Contains("currentColor", StringComparison.Ordinal) && d.ParentElement!.GetAttribute("aria-label")!.Length > 20);
        library.Pages.ShouldAllBe(p => !p.Html.Contains("style=", StringComparison.Ordinal) && !p.Html.Contains("<script", StringComparison.OrdinalIgnoreCase)
            && !p.Html.Contains("<img", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("reverse proxy", "proxy")]
    [InlineData("authenticator", "accounts")]
    [InlineData("spreadsheet", "data")]
    [InlineData("bank", "handbook")]
    public void What_is_searched_for_is_found(string words, string slug) => library.Search(words).Select(h => h.Page.Slug).ShouldContain(slug);

    [Theory]
    [InlineData("")]
    [InlineData("   ")]
    [InlineData("xyzzy nothing of the kind")]
    [InlineData(null)]
    public void What_is_not_there_is_not_found(string? words) => library.Search(words).ShouldBeEmpty();

    [Fact]
    public async Task The_pages_show_it()
    {
        using var app = App.Demo();
        (await app.GetAsync("/guide")).ShouldShow("article[data-guide=guide]");
        (await app.GetAsync("/guide/handbook")).ShouldShow(".drawing svg");
        (await app.GetAsync("/guide?at=Import")).ShouldShow("article[data-guide=data]");
        (await app.GetAsync("/guide?at=Attic")).ShouldShow("article[data-guide=guide]");
        var found = await app.Client.GetStringAsync(new Uri("/guide?q=" + Uri.EscapeDataString("<script>alert(1)</script>"), UriKind.Relative));
        found.ShouldShow("[data-hits='0']");
        found.ShouldNotContain("<script>alert");
        (await app.GetAsync("/guide?q=valve")).ShouldShow(".guide-hit");
        (await app.GetAsync("/")).ShouldShow("a.guide-switch[href='/guide?at=Today']");
        (await app.Client.GetAsync(new Uri("/guide/no-such-page", UriKind.Relative))).StatusCode.ShouldBe(System.Net.HttpStatusCode.NotFound);
    }
}
