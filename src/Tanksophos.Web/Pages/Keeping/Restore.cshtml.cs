using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;
using Microsoft.Data.Sqlite;
using Microsoft.Net.Http.Headers;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>
/// Takes a backup back, as large as any that the program hands out: the file runs straight onto the disk as it arrives, and never through memory. What
/// proves that the form is ours comes before the file in it, so nothing is written for a form that is not.
/// </summary>
[KeeperOnly]
[IgnoreAntiforgeryToken] // checked below, field by field
[RequestSizeLimit(Uploads.MaxBackupBytes + Uploads.FormBytes)]
public sealed class RestoreModel(SafeKeeping keeping, RigCache memory, PlanMemory plans, DataFolder folder, IClock clock, IAntiforgery antiforgery,
    UserManager<Person> accounts, SignInManager<Person> signIn)
    : KeepingPage(keeping)
{
    private const int MaxFields = 20, LongestField = 4096, BufferBytes = 1 << 17;
    private const string TokenField = "__RequestVerificationToken", TokenHeader = "RequestVerificationToken";

    private readonly SafeKeeping keeping = keeping;

    public IActionResult OnGet() => RedirectToPage("/Keeping/Index");

    public async Task<IActionResult> OnPostAsync()
    {
        var uploaded = Path.Combine(folder.Staging, $"uploaded-{Guid.NewGuid():N}.db");
        try
        {
            var (fields, hasFile, problem) = await ReceiveAsync(uploaded);
            if (problem is not null) return No(problem);
            Kept = fields.GetValueOrDefault("kept");
            if (!hasFile && string.IsNullOrEmpty(Kept)) return No(KeepingSays.ChooseABackupFileOrOne);
            if ((hasFile ? uploaded : keeping.Find(Kept)) is not { } path) return No(KeepingSays.ThatBackupIsNoLongerHere);
            var done = keeping.Restore(path, clock.GetCurrentInstant(), fields.GetValueOrDefault("setAside") == "yes");
            memory.Clear();
            plans.Clear();
            // Everybody signs in anew, but who has just proved to keep the installation need not.
            if (await accounts.FindByNameAsync(User.Identity?.Name ?? "") is { IsKeeper: true } me
                && me.SecurityStamp == User.FindFirst("AspNet.Identity.SecurityStamp")?.Value) await signIn.SignInAsync(me, isPersistent: true);
            TempData[TodayModel.Logged] = KeepingSays.RestoredYourEarlierDataIsSaved(done.Aside) + (done.AccountsKept
                ? KeepingSays.TheBackupHadNoAccountTo : "")
                + (done.Unreadable.Count > 0 ? KeepingSays.RowsCantBeReadAndWere(done.Unreadable.Count) : "");
            return Request.Headers.ContainsKey(TripModel.PartHeader) ? new JsonResult(new { go = Url.Page("/Keeping/Index") })
                : RedirectToPage("/Keeping/Index");
        }
        catch (NotABackupException e)
        {
            Unreadable = e.Unreadable;
            return No(KeepingSays.NothingWasChanged(e.Message));
        }
        catch (BadHttpRequestException e) when (e.StatusCode == StatusCodes.Status413PayloadTooLarge)
        {
            return No(TooLarge);
        }
        catch (Exception e) when (e is IOException or InvalidDataException or SqliteException or BadHttpRequestException)
        {
            return No(StorageFailure.IsFull(e) ? StorageFailure.Message : KeepingSays.TheFileArrivedIncompleteOrCant);
        }
        finally
        {
            System.IO.File.Delete(uploaded);
        }
    }

    private static string TooLarge =>
        KeepingSays.ChooseABackupOfAtMost(Uploads.BackupLimit);

    private IActionResult No(string problem) =>
        Request.Headers.ContainsKey(TripModel.PartHeader)
            ? new JsonResult(new { problem, unreadable = Unreadable.Count }) { StatusCode = StatusCodes.Status400BadRequest } : Refuse(problem);

    // Field after field; the file only once the token and the word before it are right.
    private async Task<(Dictionary<string, string> Fields, bool HasFile, string? Problem)> ReceiveAsync(string path)
    {
        var fields = new Dictionary<string, string>(StringComparer.Ordinal);
        if (!MediaTypeHeaderValue.TryParse(Request.ContentType, out var type)
            || HeaderUtilities.RemoveQuotes(type.Boundary).Value is not { Length: > 0 and <= 100 } boundary) return (fields, false,
            KeepingSays.UseTheFormOnThisPage);
        var reader = new MultipartReader(boundary, Request.Body, BufferBytes);
        var hasFile = false;
        while (await reader.ReadNextSectionAsync(HttpContext.RequestAborted) is { } section)
        {
            if (!ContentDispositionHeaderValue.TryParse(section.ContentDisposition, out var disposition)
                || HeaderUtilities.RemoveQuotes(disposition.Name).Value is not { } name) continue;
            if (disposition.FileName.HasValue || disposition.FileNameStar.HasValue)
            {
                if (name != "file" || HeaderUtilities.RemoveQuotes(disposition.FileName).Length == 0) continue;
                if (hasFile || await WhyNotAsync(fields) is not null) break;
                await using var to = DataFolder.CreateFile(path);
                await section.Body.CopyToAsync(to, BufferBytes, HttpContext.RequestAborted);
                if (to.Length > Uploads.MaxBackupBytes) return (fields, false, TooLarge);
                hasFile = to.Length > 0;
            }
            else if (fields.Count < MaxFields)
            {
                using var text = new StreamReader(section.Body);
                var buffer = new char[LongestField];
                fields[name] = new string(buffer, 0, await text.ReadBlockAsync(buffer));
            }
        }
        HttpContext.Features.Set<IFormFeature>(new FormFeature(new FormCollection(fields.ToDictionary(f => f.Key,
            f => new Microsoft.Extensions.Primitives.StringValues(f.Value)))));
        return (fields, hasFile, await WhyNotAsync(fields));
    }

    private async Task<string?> WhyNotAsync(Dictionary<string, string> fields)
    {
        if (!Request.Headers.ContainsKey(TokenHeader)) Request.Headers[TokenHeader] = fields.GetValueOrDefault(TokenField) ?? "";
        if (!await antiforgery.IsRequestValidAsync(HttpContext)) return KeepingSays.ThePageWasOpenTooLong;
        return string.Equals(fields.GetValueOrDefault("word")?.Trim(), Word, StringComparison.OrdinalIgnoreCase) ? null
            : KeepingSays.TypeToConfirmNothingWasChanged(Word);
    }
}
