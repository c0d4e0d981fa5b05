using AngleSharp.Dom;
using AngleSharp.Html.Parser;

namespace Tanksophos.Web.Tests;

/// <summary>
/// Looks at a page by its marks (data-..., roles, names of fields), figures and structure. Sentences may change; what a page means may not.
/// </summary>
internal static class Page
{
    private static readonly HtmlParser Parser = new();

    /// <summary>The page as a document.</summary>
    public static IDocument Dom(this string html) => Parser.ParseDocument(html);

    /// <summary>That something is on the page.</summary>
    public static void ShouldShow(this string html, string selector) =>
        html.Dom().QuerySelector(selector).ShouldNotBeNull($"{selector} is not on the page");

    /// <summary>That something is not on the page, which has a main part at all.</summary>
    public static void ShouldNotShow(this string html, string selector)
    {
        var dom = html.Dom();
        dom.QuerySelector("main").ShouldNotBeNull("this is no page");
        dom.QuerySelector(selector).ShouldBeNull($"{selector} is on the page");
    }

    /// <summary>The text of the first element that a selector finds, with single spaces.</summary>
    public static string Text(this string html, string selector)
    {
        var found = html.Dom().QuerySelector(selector);
        found.ShouldNotBeNull($"{selector} is not on the page");
        return string.Join(' ', found.TextContent.Split((char[])[' ', '\n', '\r', '\t', '\u00a0'], StringSplitOptions.RemoveEmptyEntries));
    }

    /// <summary>What a browser would send of a form, without the fields that every form carries.</summary>
    public static List<(string Name, string Value)> Fields(this string html, string form)
    {
        var found = html.Dom().QuerySelector(form);
        found.ShouldNotBeNull($"{form} is not on the page");
        var fields = new List<(string Name, string Value)>();
        foreach (var e in found.QuerySelectorAll("input[name], select[name], textarea[name]"))
        {
            var name = e.GetAttribute("name")!;
            if (name.StartsWith("__", StringComparison.Ordinal)) continue;
            switch (e)
            {
                case AngleSharp.Html.Dom.IHtmlInputElement { Type: "radio" or "checkbox", IsChecked: false }:
                    break;
                case AngleSharp.Html.Dom.IHtmlInputElement input:
                    fields.Add((name, input.GetAttribute("value") ?? (input.Type is "radio" or "checkbox" ? "on" : "")));
                    break;
                case AngleSharp.Html.Dom.IHtmlSelectElement select:
                    fields.Add((name, select.Value ?? ""));
                    break;
                default:
                    fields.Add((name, e.TextContent));
                    break;
            }
        }
        return fields;
    }

    /// <summary>That a page refused something, naming the field, and says that nothing was saved.</summary>
    /// <param name="html">The page.</param>
    /// <param name="field">How the field's mark begins.</param>
    public static void ShouldRefuse(this string html, string field) =>
        html.ShouldShow($"[role=alert] [data-problem^=\"{field}\"]");
}
