using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>Says in words what a refused or failed request means.</summary>
[AllowAnonymous]
[IgnoreAntiforgeryToken]
[ResponseCache(NoStore = true)]
public sealed class ErrorModel : PageModel
{
    public string Heading { get; private set; } = SharedSays.SomethingWentWrong;

    public string Explanation { get; private set; } = SharedSays.ThisIsntYourFaultYourSaved;

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
                (SharedSays.ThisCantBeSaved, string.Join(" ", refused.Problems.Take(5).Select(p => p + ".")) + SharedSays.NothingWasSavedGoBackAnd),
            400 => (SharedSays.ThisFormCantBeSaved,
                SharedSays.ThePageWasOpenForA),
            403 => (SharedSays.YouDontHavePermission, SharedSays.AnOwnerOfTheRigCan),
            429 => (SharedSays.TooManyTries, SharedSays.WaitAMinuteThenTryAgain),
            404 => (SharedSays.PageNotFound, SharedSays.CheckTheAddressNothingWas),
            413 => (SharedSays.TheFileIsTooLarge, SharedSays.SendAtMostNothingWasSaved(Uploads.Limit)),
            405 or 415 => (SharedSays.ThisCantBeDoneHere, SharedSays.TheRequestDoesntFitThePage),
            507 => (SharedSays.TheDiskIsFull, StorageFailure.Message),
            _ when StorageFailure.IsDamaged(error) =>
                (SharedSays.TheDatabaseIsDamaged,
                SharedSays.StopTheProgramOnItsComputer),
            _ => (Heading, Explanation),
        };
    }
}
