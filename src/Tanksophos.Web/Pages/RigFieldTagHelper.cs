using System.Globalization;
using Microsoft.AspNetCore.Razor.TagHelpers;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>
/// Every form says which rig it was opened for, so that a form in one tab does not land in the rig that was chosen meanwhile in another.
/// </summary>
[HtmlTargetElement("form", Attributes = "method")]
public sealed class RigFieldTagHelper(CurrentRequest house) : TagHelper
{
    /// <inheritdoc/>
    public override int Order => 2000;

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        if (output.Attributes["method"]?.Value?.ToString() != "post" || house.Rig is not { } rig) return;
        output.PostContent.AppendHtml($"<input type=\"hidden\" name=\"{CurrentRequest.RigField}\" value=\"{rig.Id.ToString(CultureInfo.InvariantCulture)}\">");
    }
}
