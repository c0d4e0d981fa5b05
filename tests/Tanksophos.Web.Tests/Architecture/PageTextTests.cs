using System.Reflection.Metadata;
using System.Reflection.Metadata.Ecma335;
using System.Reflection.PortableExecutable;
using System.Text;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Tanksophos.Web.Tests.Architecture;

/// <summary>What a person reads stands in the words library, so that another language could follow: pages are markup around it.</summary>
public class PageTextTests
{
    private const char Gap = '\u0001'; // something computed stands here
    private static readonly string Root = OneSourceTests.Root;

    // The markup a page writes, method by method, as it was compiled: all that is not a tag, or a key to press, must be without letters.
    [Fact]
    public void Pages_write_no_text_of_their_own()
    {
        var pages = Markup().ToList();
        pages.Count.ShouldBeGreaterThan(60);
        pages.Sum(p => p.Html.Length).ShouldBeGreaterThan(50_000);
        pages.SelectMany(p => Texts(p.Html).Select(t => $"{p.Page}: {t}")).ShouldBeEmpty();
    }

    // What a page or its handlers say in code: sentences start with a capital and hold blanks.
    [Fact]
    public void Handlers_and_drawings_write_no_sentences()
    {
        var files = new[] { "Pages", "Drawing", "Rigs" }
            .SelectMany(f => Directory.EnumerateFiles(Path.Combine(Root, "src", "Tanksophos.Web", f), "*.cs*", SearchOption.AllDirectories)).ToList();
        files.Count.ShouldBeGreaterThan(100);
        files.SelectMany(f => File.ReadAllLines(f)
            .Where(l => !l.TrimStart().StartsWith("//", StringComparison.Ordinal) && !Regex.IsMatch(l, @"Exception\(|LoggerMessage|Note = "))
            .Where(l => Regex.IsMatch(l, "\"[A-Z][a-z']+,? [a-z][^\"<=]*\""))
            .Select(l => $"{Path.GetFileName(f)}: {l.Trim()}")).ShouldBeEmpty();
    }

    [Fact]
    public void Scripts_write_no_sentences() =>
        Directory.EnumerateFiles(Path.Combine(Root, "src", "Tanksophos.Web", "wwwroot", "js"), "*.js", SearchOption.AllDirectories)
            .SelectMany(f => File.ReadAllLines(f).Where(l => !l.TrimStart().StartsWith("//", StringComparison.Ordinal))
            .Where(l => Regex.IsMatch(l, "['`\"][A-Z][a-z']+,? [a-z][^'`\"]*['`\"]"))
            .Select(l => $"{Path.GetFileName(f)}: {l.Trim()}")).ShouldBeEmpty();

    [Theory]
    [InlineData("<p class=\"a\">Dump now</p>", 1)]
    [InlineData("<a href=\"\u0001\" title=\"Dump now\">\u0001</a>", 1)]
    [InlineData("<p aria-label=\"\u0001\">\u0001 %</p> · <b>Tanksophos</b>", 0)]
    public void The_test_itself_finds_text(string html, int texts) => Texts(html).Count().ShouldBe(texts);

    // A sentence and the elements that its bracketed words go into belong together: no bracket is left on a page, and no element empty.
    [Fact]
    public async Task Sentences_with_links_are_whole()
    {
        (await SaidAsync("See the [logbook] & the [rig].", "<a href=\"/l\"></a> <a href=\"/r\"></a>"))
            .ShouldBe("See the <a href=\"/l\">logbook</a> &amp; the <a href=\"/r\">rig</a>.");
        (await SaidAsync("<b>[x]", "<code></code>")).ShouldBe("&lt;b&gt;<code>x</code>");
        (await SaidAsync("Nothing to [press", "<a></a>")).ShouldBe("Nothing to [press", "a sentence without its link is better than none");
    }

    private static async Task<string> SaidAsync(string text, string inside)
    {
        var output = new TagHelperOutput("say", [], (_, _) =>
        {
            var content = new DefaultTagHelperContent();
            content.SetHtmlContent(inside);
            return Task.FromResult<TagHelperContent>(content);
        });
        await new Pages.SayTagHelper { Text = text }.ProcessAsync(new TagHelperContext("say", [], new Dictionary<object, object>(), "1"), output);
        output.TagName.ShouldBeNull();
        return output.Content.GetContent();
    }

    private static IEnumerable<string> Texts(string html)
    {
        foreach (Match said in Regex.Matches(html, "\\b(aria-label|title|placeholder|alt)=\"([^\"]*)\""))
        {
            if (Regex.IsMatch(said.Groups[2].Value, "[A-Za-z]") && said.Groups[2].Value != "Tanksophos") yield return said.Value;
        }
        foreach (var text in Regex.Replace(html, "<script.*?</script>|<kbd>.*?</kbd>|<[^>]*>", "\n", RegexOptions.Singleline).Split('\n'))
        {
            var plain = text.Replace("Tanksophos", "", StringComparison.Ordinal).Trim(Gap, ' ', '\r');
            plain = Regex.Replace(plain, "&#?\\w+;", "");
            if (Regex.IsMatch(plain, "[A-Za-z]")) yield return plain;
        }
    }

    // The strings that a compiled page hands to WriteLiteral, in their order, with a gap wherever something else comes between.
    private static IEnumerable<(string Page, string Html)> Markup()
    {
        using var file = new PEReader(File.OpenRead(typeof(Pages.FormPage).Assembly.Location));
        var data = file.GetMetadataReader();
        foreach (var handle in data.MethodDefinitions)
        {
            var method = data.GetMethodDefinition(handle);
            var page = Outermost(data, method.GetDeclaringType());
            if (method.RelativeVirtualAddress == 0 || !page.StartsWith("Pages_", StringComparison.Ordinal)) continue;
            var code = file.GetMethodBody(method.RelativeVirtualAddress).GetILBytes()!;
            var html = new StringBuilder();
            var end = 0;
            var inAttribute = false; // of a tag helper: what is written then is its value
            for (var i = 0; i + 9 < code.Length; i++)
            {
                if (Called(data, code, i) is { } name && name.EndsWith("WriteTagHelperAttribute", StringComparison.Ordinal))
                    inAttribute = name.StartsWith("Begin", StringComparison.Ordinal);
                // ldstr, then the call that writes it
                if (inAttribute || code[i] != 0x72 || code[i + 4] != 0x70 || Called(data, code, i + 5) != "WriteLiteral") continue;
                if (i > end + 2 && html.Length > 0) html.Append(Gap);
                html.Append(data.GetUserString((UserStringHandle)MetadataTokens.Handle(BitConverter.ToInt32(code, i + 1))));
                end = i + 10;
            }
            if (html.Length > 0) yield return (page, html.ToString());
        }
    }

    private static string? Called(MetadataReader data, byte[] code, int at) =>
        code[at] is 0x28 or 0x6F && at + 4 < code.Length && code[at + 4] == 0x0A && BitConverter.ToInt32(code, at + 1) is var token
        && (token & 0xFFFFFF) <= data.GetTableRowCount(TableIndex.MemberRef)
        ? data.GetString(data.GetMemberReference((MemberReferenceHandle)MetadataTokens.Handle(token)).Name) : null;

    private static string Outermost(MetadataReader data, TypeDefinitionHandle type)
    {
        var found = data.GetTypeDefinition(type);
        while (!found.GetDeclaringType().IsNil) found = data.GetTypeDefinition(found.GetDeclaringType());
        return data.GetString(found.Name);
    }
}
