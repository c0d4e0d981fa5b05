using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Tanksophos.Web.Pages;

/// <summary>
/// A whole sentence with links or code in it: <c>&lt;say text="Look at the [logbook]."&gt;&lt;a href="..."&gt;&lt;/a&gt;&lt;/say&gt;</c>. What stands in
/// brackets goes into the elements inside, one after the other, so that a sentence stays whole where its words are kept.
/// </summary>
[HtmlTargetElement("say", Attributes = "text")]
public sealed partial class SayTagHelper : TagHelper
{
    /// <summary>The sentence, with as many brackets as there are elements inside.</summary>
    public string Text { get; set; } = "";

    /// <inheritdoc/>
    public override async Task ProcessAsync(TagHelperContext context, TagHelperOutput output)
    {
        var elements = Element().Matches((await output.GetChildContentAsync()).GetContent());
        var parts = Bracket().Split(Text); // the words outside and inside of brackets by turns
        output.TagName = null;
        output.Content.SetHtmlContent("");
        if (parts.Length != 2 * elements.Count + 1)
        {
            // Better a sentence without its link than none.
            output.Content.Append(string.Concat(parts));
            return;
        }
        for (var i = 0; i < parts.Length; i++)
        {
            if (i % 2 == 0) output.Content.Append(parts[i]);
            else output.Content.AppendHtml(elements[i / 2].Groups[1].Value).Append(parts[i]).AppendHtml($"</{elements[i / 2].Groups[2].Value}>");
        }
    }

    [GeneratedRegex("(<(\\w+)\\b[^>]*>)</\\2>")]
    private static partial Regex Element();

    [GeneratedRegex("\\[([^\\]]*)\\]")]
    private static partial Regex Bracket();
}
