using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Tanksophos.Web.App;

/// <summary>A page that takes forms and shows again what it could not take, with the reason.</summary>
public abstract class FormPage : PageModel
{
    /// <summary>Why the form was not taken; empty if it was.</summary>
    public IReadOnlyList<string> Problems { get; private set; } = [];

    /// <summary>Shows the page again with what is wrong, as a refused request.</summary>
    protected PageResult Refuse(params string[] problems)
    {
        Problems = problems;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
