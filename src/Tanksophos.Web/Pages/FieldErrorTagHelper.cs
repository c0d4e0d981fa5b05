using System.Net;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Tanksophos.Web.Pages;

/// <summary>
/// Says at a field itself what is wrong with it: a label whose words stand before the colon of a problem, and whose field still shows what was sent, is marked
/// and carries the rest of the sentence. What is wrong stands above the form as well.
/// </summary>
[HtmlTargetElement("label", Attributes = "class")]
public sealed partial class FieldErrorTagHelper : TagHelper
{
    /// <summary>The request that was refused, if it was.</summary>
    [ViewContext]
    [HtmlAttributeNotBound]
    public ViewContext View { get; set; } = null!;

    /// <inheritdoc/>
    public override int Order => 1000;

    /// <inheritdoc/>
    public override async Task ProcessAsync(TagHelperContext context, TagHelperOutput output)
    {
        var http = View.HttpContext;
        if (http.Items[FormPage.ProblemsItem] is not IReadOnlyList<string> { Count: > 0 } problems || !http.Request.HasFormContentType) return;
        if (output.Attributes["class"]?.Value?.ToString()?.Split(' ').Contains("form-label") != true) return;
        var html = (await output.GetChildContentAsync()).GetContent();
        if (Field().Match(html) is not { Success: true } field) return;
        var (tag, name) = (field.Value, WebUtility.HtmlDecode(Name().Match(field.Value).Groups[1].Value));
        var words = Plain(html[..field.Index]);
        if (problems.FirstOrDefault(p => IsAbout(p, words, name)) is not { } problem || !ShowsWhatWasSent(tag, name, http.Request.Form)) return;
        var id = $"wrong-{name}-{context.UniqueId}";
        var marked = tag.Replace("class=\"form-", $"aria-invalid=\"true\" aria-describedby=\"{WebUtility.HtmlEncode(id)}\" class=\"is-invalid form-",
            StringComparison.Ordinal);
        output.Content.SetHtmlContent(html[..field.Index] + marked + html[(field.Index + tag.Length)..]);
        output.Content.AppendHtml($"<span class=\"invalid-feedback\" data-wrong=\"{WebUtility.HtmlEncode(name)}\" id=\"{WebUtility.HtmlEncode(id)}\">")
            .Append(TextAfter(problem)).AppendHtml("</span>");
    }

    // "Nights: ..." and "Blue Mesa, nights: ..." are about the label "Nights", "Hose length: ..." about "Hose length, ft", "Minutes: ..." about
    // "Minutes it ran".
    private static bool IsAbout(string problem, string words, string name)
    {
        var colon = problem.IndexOf(':', StringComparison.Ordinal);
        if (colon < 0 || words.Length == 0) return false;
        var about = problem[..colon];
        var last = about[(about.LastIndexOf(", ", StringComparison.Ordinal) is var c && c < 0 ? 0 : c + 2)..];
        var first = words.Split(',')[0];
        return about.Equals(words, StringComparison.OrdinalIgnoreCase) || about.Equals(first, StringComparison.OrdinalIgnoreCase)
            || last.Equals(first, StringComparison.OrdinalIgnoreCase)
            || (words.StartsWith(about + " ", StringComparison.OrdinalIgnoreCase) && name.StartsWith(about, StringComparison.OrdinalIgnoreCase));
    }

    // An empty field may stand in several forms of a page: it is not marked, since nobody can tell which was sent.
    private static bool ShowsWhatWasSent(string tag, string name, IFormCollection form) =>
        form.TryGetValue(name, out var sent) && !string.IsNullOrWhiteSpace(sent)
        && (!tag.StartsWith("<input", StringComparison.Ordinal) || WebUtility.HtmlDecode(Value().Match(tag).Groups[1].Value) == sent.ToString());

    private static string TextAfter(string problem) =>
        Words.TimeWords.Capital(problem[(problem.IndexOf(':', StringComparison.Ordinal) + 1)..].Trim());

    private static string Plain(string html) => WebUtility.HtmlDecode(Tags().Replace(html, "")).Trim();

    [GeneratedRegex("<(input|select|textarea)\\b[^>]*class=\"form-(control|select)[^>]*>")]
    private static partial Regex Field();

    [GeneratedRegex(" name=\"([^\"]*)\"")]
    private static partial Regex Name();

    [GeneratedRegex(" value=\"([^\"]*)\"")]
    private static partial Regex Value();

    [GeneratedRegex("<[^>]*>")]
    private static partial Regex Tags();
}
