using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Web.App;

namespace Tanksophos.Web.Pages;

/// <summary>Says in words what a refused or failed request means.</summary>
[AllowAnonymous]
[IgnoreAntiforgeryToken]
[ResponseCache(NoStore = true)]
public sealed class ErrorModel : PageModel
{
    public string Heading { get; private set; } = "Something went wrong";

    public string Explanation { get; private set; } = "It is not your doing. Nothing was half-written; what was saved before is safe. Go back and try once more.";

    public void OnGet(int? code) => Explain(code);

    public void OnPost(int? code) => Explain(code);

    private void Explain(int? code)
    {
        var error = HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error;
        if (error is BadHttpRequestException bad) Response.StatusCode = code ??= bad.StatusCode;
        if (error is InvalidDataException && error.Message.Contains("length limit", StringComparison.OrdinalIgnoreCase)) Response.StatusCode = (code = 413).Value;
        (Heading, Explanation) = code switch
        {
            400 => ("This form cannot be taken", "The page was open for long, or it was sent from somewhere else. Open it afresh and send it again; nothing was written."),
            403 => ("This is not yours to do", "Your role in this rig does not allow it. An owner of the rig can change that on the Account page. Nothing was changed."),
            429 => ("Too many tries", "Wait a minute, then try again."),
            404 => ("There is no such page", "The address leads nowhere. Nothing was changed."),
            413 => ("The file is too large", $"At most {Uploads.Limit} are accepted. Nothing was written."),
            405 or 415 => ("This cannot be done here", "The request does not fit the page. Nothing was changed."),
            _ => (Heading, Explanation),
        };
    }
}
