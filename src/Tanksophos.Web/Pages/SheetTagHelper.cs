using System.Globalization;
using Microsoft.AspNetCore.Razor.TagHelpers;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>
/// A sheet that comes up over the page: <c>&lt;sheet id="..." title="..."&gt;</c>, opened by <c>data-bs-toggle="modal" data-bs-target="#id"</c>.
/// </summary>
[HtmlTargetElement("sheet", Attributes = "id,title")]
public sealed class SheetTagHelper : TagHelper
{
    /// <summary>Its name in the page.</summary>
    public string Id { get; set; } = "";

    /// <summary>What stands at its top, and what it is called for those who hear the page.</summary>
    public string Title { get; set; } = "";

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = "div";
        var more = output.Attributes["class"]?.Value?.ToString();
        output.Attributes.SetAttribute("id", Id);
        output.Attributes.SetAttribute("class", more is null ? "modal" : $"modal {more}");
        output.Attributes.SetAttribute("tabindex", "-1");
        output.Attributes.SetAttribute("aria-labelledby", $"{Id}-title");
        output.PreContent.AppendHtml("<div class=\"modal-dialog modal-dialog-scrollable modal-dialog-centered\"><div class=\"modal-content\">")
            .AppendHtml("<div class=\"modal-header\">");
        output.PreContent.AppendHtml($"<h2 class=\"modal-title\" id=\"{System.Net.WebUtility.HtmlEncode(Id)}-title\">").Append(Title)
            .AppendHtml("</h2><button type=\"button\" class=\"btn-close\" data-bs-dismiss=\"modal\" aria-label=\"").Append(SharedSays.Close)
            .AppendHtml("\">&#x2715;</button></div>")
            .AppendHtml("<div class=\"modal-body\">");
        output.PostContent.AppendHtml("</div></div></div>");
    }
}

/// <summary>
/// One of several that can be chosen, or one that can be ticked, as a button: <c>&lt;choice type="radio" name="..." value="..."&gt;words&lt;/choice&gt;</c>.
/// </summary>
[HtmlTargetElement("choice", Attributes = "type,name,value")]
public sealed class ChoiceTagHelper : TagHelper
{
    private const string Counted = "choices-so-far";

    /// <summary>More classes for the button.</summary>
    public string? Look { get; set; }

    /// <summary>The name of the field.</summary>
    public string Name { get; set; } = "";

    /// <summary>What is sent if it is chosen.</summary>
    public string Value { get; set; } = "";

    /// <summary>The request, which counts its choices so that each has an id of its own.</summary>
    [Microsoft.AspNetCore.Mvc.ViewFeatures.ViewContext]
    [HtmlAttributeNotBound]
    public Microsoft.AspNetCore.Mvc.Rendering.ViewContext View { get; set; } = null!;

    /// <inheritdoc/>
    public override async Task ProcessAsync(TagHelperContext context, TagHelperOutput output)
    {
        var number = View.HttpContext.Items[Counted] as int? ?? 0;
        View.HttpContext.Items[Counted] = number + 1;
        var id = "choice-" + number.ToString(CultureInfo.InvariantCulture);
        var words = await output.GetChildContentAsync();
        // What shows and hides a choice belongs to the button; the rest to the field.
        var hidden = output.Attributes.Where(a => a.Name is "data-when" or "hidden" or "x-bind:hidden").ToList();
        output.TagName = "input";
        output.TagMode = TagMode.SelfClosing;
        foreach (var a in hidden) output.Attributes.Remove(a);
        output.Attributes.SetAttribute("name", Name);
        output.Attributes.SetAttribute("value", Value);
        output.Attributes.SetAttribute("class", "btn-check");
        output.Attributes.SetAttribute("id", id);
        var label = new Microsoft.AspNetCore.Mvc.Rendering.TagBuilder("label");
        label.AddCssClass(Look is null ? "btn btn-choice" : $"btn btn-choice {Look}");
        label.Attributes["for"] = id;
        label.Attributes["data-choice"] = $"{Name}={Value}";
        foreach (var a in hidden) label.Attributes[a.Name] = a.Value?.ToString();
        label.InnerHtml.AppendHtml(words);
        output.PostElement.AppendHtml(label);
    }
}
