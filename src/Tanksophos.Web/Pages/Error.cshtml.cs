using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>Says in words what a refused or failed request means.</summary>
[AllowAnonymous]
[IgnoreAntiforgeryToken]
[ResponseCache(NoStore = true)]
public sealed class ErrorModel : PageModel
{
    public string Heading { get; private set; } = "Something went wrong";

    public string Explanation { get; private set; } = "This isn't your fault. Your saved data is safe. Go back and try again.";

    public void OnGet(int? code) => Explain(code);

    public void OnPost(int? code) => Explain(code);

    private void Explain(int? code)
    {
        var error = HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error;
        if (error is BadHttpRequestException bad) Response.StatusCode = code ??= bad.StatusCode;
        if (error is InvalidDataException && error.Message.Contains("length limit", StringComparison.OrdinalIgnoreCase))
            Response.StatusCode = (code = 413).Value;
        if (error is NotStorableException) Response.StatusCode = (code = 400).Value;
        if (StorageFailure.IsFull(error)) Response.StatusCode = (code = StatusCodes.Status507InsufficientStorage).Value;
        (Heading, Explanation) = code switch
        {
            400 when error is NotStorableException refused =>
                ("This can't be saved", string.Join(" ", refused.Problems.Take(5).Select(p => p + ".")) + " Nothing was saved. Go back and change it."),
            400 => ("This form can't be saved",
                "The page was open for a long time, or the form came from somewhere else. Reload the page and send it again. Nothing was saved."),
            403 => ("You don't have permission", "An owner of the rig can change that on the Account page. Nothing was changed."),
            429 => ("Too many tries", "Wait a minute, then try again."),
            404 => ("Page not found", "Check the address. Nothing was changed."),
            413 => ("The file is too large", $"Send at most {Uploads.Limit}. Nothing was saved."),
            405 or 415 => ("This can't be done here", "The request doesn't fit the page. Nothing was changed."),
            507 => ("The disk is full", StorageFailure.Message),
            _ when StorageFailure.IsDamaged(error) =>
                ("The database is damaged",
                "Stop the program on its computer, then restore a backup: tanksophos-web restore FILE. The program prints where the backups are when "
                + "it starts."),
            _ => (Heading, Explanation),
        };
    }
}
