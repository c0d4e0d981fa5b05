using System.Text;
using System.Text.RegularExpressions;
using Markdig;
using Markdig.Extensions.AutoIdentifiers;
using Markdig.Renderers.Html;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Tanksophos.Web.Docs;

/// <summary>A section of a page.</summary>
/// <param name="Id">Its mark within the page.</param>
/// <param name="Title">Its title.</param>
/// <param name="Text">Its words, for searching.</param>
public sealed record DocsSection(string Id, string Title, string Text);

/// <summary>A page of the guide.</summary>
/// <param name="Slug">Its name in addresses.</param>
/// <param name="Title">Its title.</param>
/// <param name="Html">What it says.</param>
/// <param name="Sections">Its sections, the first being what stands before any heading.</param>
public sealed record DocsPage(string Slug, string Title, string Html, IReadOnlyList<DocsSection> Sections);

/// <summary>Something found.</summary>
/// <param name="Page">The page.</param>
/// <param name="Section">The section.</param>
/// <param name="Around">The words around what was found.</param>
public sealed record DocsHit(DocsPage Page, DocsSection Section, string Around);

/// <summary>The guide in the program: the same files that lie in the source, made into pages when they are first asked for.</summary>
public sealed partial class DocsLibrary
{
    // The files in the order in which they are listed, and their names in addresses.
    private static readonly (string File, string Slug)[] Files =
    [
        ("guide/README.md", "guide"), ("guide/handbook.md", "handbook"), ("guide/questions.md", "questions"), ("guide/devices.md", "devices"),
        ("guide/weather.md", "weather"), ("guide/practice.md", "practice"), ("guide/data.md", "data"), ("guide/accounts.md", "accounts"),
        ("guide/running.md", "running"), ("guide/proxy.md", "proxy"), ("guide/upgrades.md", "upgrades"), ("guide/command-line.md", "command-line"),
        ("format/README.md", "formats"), ("glossary.md", "glossary"),
    ];

    private const int MostHits = 20, AroundLength = 160;

    private readonly Lazy<IReadOnlyList<DocsPage>> pages;
    private readonly string root;
    private readonly string pathBase;

    /// <summary>A library of the files beside the program.</summary>
    /// <param name="pathBase">The part of the address under which the program is shown; empty for the top.</param>
    public DocsLibrary(string pathBase)
    {
        (root, this.pathBase) = (Path.Combine(AppContext.BaseDirectory, "docs"), pathBase);
        pages = new Lazy<IReadOnlyList<DocsPage>>(() => [.. Files.Where(f => File.Exists(Path.Combine(root, f.File))).Select(Read)]);
    }

    /// <summary>The pages in their order.</summary>
    public IReadOnlyList<DocsPage> Pages => pages.Value;

    /// <summary>A page; null if there is none of that name.</summary>
    public DocsPage? Find(string? slug) => Pages.FirstOrDefault(p => p.Slug == slug);

    /// <summary>Finds sections that have all words, those with a word in their title first.</summary>
    public IReadOnlyList<DocsHit> Search(string? words)
    {
        var asked = (words ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Take(8).ToList();
        if (asked.Count == 0) return [];
        return [.. Pages.SelectMany((p, order) => p.Sections.Select(s => (Page: p, Section: s, Order: order)))
            .Where(x => asked.TrueForAll(w => Has(x.Section.Title, w) || Has(x.Section.Text, w)))
            .OrderByDescending(x => asked.Count(w => Has(x.Section.Title, w))).ThenBy(x => x.Order).Take(MostHits)
            .Select(x => new DocsHit(x.Page, x.Section, Around(x.Section.Text, asked)))];
    }

    private static bool Has(string text, string word) => text.Contains(word, StringComparison.OrdinalIgnoreCase);

    private static string Around(string text, List<string> words)
    {
        var at = words.Select(w => text.IndexOf(w, StringComparison.OrdinalIgnoreCase)).Where(i => i >= 0).DefaultIfEmpty(0).Min();
        var from = text.Length == 0 ? 0 : Math.Max(0, text.LastIndexOf(' ', Math.Max(0, at - 40)));
        var to = from + AroundLength < text.Length ? text.LastIndexOf(' ', from + AroundLength, AroundLength - 1) : text.Length;
        if (to < 0) to = from + AroundLength; // one word as long as all that is shown
        return (from > 0 ? "... " : "") + text[from..to].Trim() + (to < text.Length ? " ..." : "");
    }

    private DocsPage Read((string File, string Slug) file)
    {
        var pipeline = new MarkdownPipelineBuilder().UsePipeTables().UseAutoIdentifiers(AutoIdentifierOptions.GitHub).UseAutoLinks().DisableHtml().Build();
        var document = Markdown.Parse(File.ReadAllText(Path.Combine(root, file.File)), pipeline);
        foreach (var link in document.Descendants<LinkInline>().ToList()) Relink(link, file.File);
        var title = document.Descendants<HeadingBlock>().FirstOrDefault(h => h.Level == 1) is { } first ? Plain(first) : file.Slug;
        if (document.FirstOrDefault() is HeadingBlock { Level: 1 } heading) document.Remove(heading); // the page has a heading of its own
        var html = Picture().Replace(document.ToHtml(pipeline), m => Drawing(file.File, m.Groups["src"].Value, m.Groups["alt"].Value));
        return new DocsPage(file.Slug, title, html, Sections(document, title));
    }

    // A link to another file of the guide leads to its page; what is not part of it stays as words.
    private void Relink(LinkInline link, string from)
    {
        if (link.IsImage || link.Url is not { Length: > 0 } url || url.StartsWith('#') || url.Contains("://", StringComparison.Ordinal)) return;
        var parts = url.Split('#', 2);
        var target = Path.GetRelativePath(root, Path.GetFullPath(Path.Combine(root, Path.GetDirectoryName(from)!, parts[0]))).Replace('\\', '/');
        if (Array.Find(Files, f => f.File == target) is { File: not null } known)
            link.Url = $"{pathBase}/guide/{known.Slug}{(parts.Length == 2 ? "#" + parts[1] : "")}";
        else
        {
            foreach (var child in link.ToList())
            {
                child.Remove();
                link.InsertBefore(child);
            }
            link.Remove();
        }
    }

    // Our own drawings stand in the page itself, so that they take its colors.
    private string Drawing(string from, string source, string words)
    {
        var path = Path.GetFullPath(Path.Combine(root, Path.GetDirectoryName(from)!, source));
        return source.EndsWith(".svg", StringComparison.Ordinal) && path.StartsWith(Path.GetFullPath(root), StringComparison.Ordinal) && File.Exists(path)
            ? $"<span class=\"drawing\" role=\"img\" aria-label=\"{words}\">{Declaration().Replace(File.ReadAllText(path), "")}</span>" : words;
    }

    private static List<DocsSection> Sections(MarkdownDocument document, string title)
    {
        var sections = new List<DocsSection>();
        var (id, name, text) = ("", title, new StringBuilder());
        void Close()
        {
            if (text.Length > 0 || sections.Count == 0 && id.Length == 0) sections.Add(new DocsSection(id, name, text.ToString().Trim()));
            text.Clear();
        }
        foreach (var block in document)
        {
            if (block is HeadingBlock { Level: <= 3 } heading)
            {
                Close();
                (id, name) = (heading.GetAttributes().Id ?? "", Plain(heading));
                continue;
            }
            foreach (var leaf in block is LeafBlock one ? [one] : ((ContainerBlock)block).Descendants<LeafBlock>())
                text.Append(leaf is CodeBlock code ? code.Lines.ToString().ReplaceLineEndings(" ") : Plain(leaf)).Append(' ');
        }
        Close();
        return sections;
    }

    private static string Plain(LeafBlock block)
    {
        var text = new StringBuilder();
        foreach (var inline in block.Inline?.Descendants<LeafInline>() ?? [])
            text.Append(inline switch { LiteralInline l => l.Content.ToString(), CodeInline c => c.Content, LineBreakInline => " ", _ => "" });
        return text.ToString();
    }

    [GeneratedRegex("<img src=\"(?<src>[^\"]+)\" alt=\"(?<alt>[^\"]*)\" />")]
    private static partial Regex Picture();

    [GeneratedRegex(@"<\?xml[^>]*\?>\s*")]
    private static partial Regex Declaration();
}
