using Microsoft.AspNetCore.Http.Features;
using Tanksophos.Web.Api;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>
/// Reads every form before a page does. One that is broken, has too many fields or holds what no text may hold is answered with the page it was sent to, the
/// reason above it and status 400; nothing of it reaches a page.
/// </summary>
internal static class FormGuard
{
    /// <summary>Where the layout finds what is wrong.</summary>
    public const string Item = "form-problem";

    public static async Task ReadAsync(HttpContext context, RequestDelegate next)
    {
        var request = context.Request;
        // nobody but its own page reads what is sent there
        if (RestoreUpload.Is(request)) context.Features.Set<IFormFeature>(new FormFeature(FormCollection.Empty));
        if (!HttpMethods.IsPost(request.Method) || !request.HasFormContentType || RestoreUpload.Is(request) || request.Path.StartsWithSegments(RigApi.Root))
        {
            await next(context);
            return;
        }
        var status = StatusCodes.Status400BadRequest;
        string? problem = null;
        try
        {
            var form = await request.ReadFormAsync(context.RequestAborted);
            if (form.Any(f => f.Key.Contains('\0', StringComparison.Ordinal) || f.Value.Any(v => v?.Contains('\0', StringComparison.Ordinal) == true)))
                problem = SharedSays.TheFormHoldsANULCharacter;
        }
        catch (BadHttpRequestException e)
        {
            status = e.StatusCode;
            problem = status == StatusCodes.Status413PayloadTooLarge ? SharedSays.ThatIsTooLargeSendAt(Uploads.Limit) : Broken;
        }
        catch (Exception e) when (e is InvalidDataException or IOException && !context.RequestAborted.IsCancellationRequested)
        {
            if (e.Message.Contains("length limit", StringComparison.OrdinalIgnoreCase))
            {
                status = StatusCodes.Status413PayloadTooLarge;
                problem = SharedSays.ThatIsTooLargeSendAt(Uploads.Limit);
            }
            else problem = Broken;
        }
        if (problem is not null) ShowAgain(context, problem, status);
        await next(context);
    }

    private static string Broken => SharedSays.TheFormArrivedIncompleteOrHas;

    // The page itself, as if it had been opened, with the reason above it.
    private static void ShowAgain(HttpContext context, string problem, int status)
    {
        var request = context.Request;
        context.Items[Item] = problem;
        request.Method = HttpMethods.Get;
        request.ContentType = null;
        request.ContentLength = null;
        request.Body = Stream.Null;
        context.Features.Set<IFormFeature>(new FormFeature(request));
        request.QueryString = new QueryString().Add(QueryString.Create(request.Query.Where(q => !q.Key.Equals("handler", StringComparison.OrdinalIgnoreCase))));
        context.Response.StatusCode = status;
    }
}
