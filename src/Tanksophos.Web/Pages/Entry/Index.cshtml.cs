using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Levels;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>One entry: what it says, what it changed, its photos, and every version it ever had.</summary>
public sealed class EntryModel(CurrentRequest house, RigStore store, RigCache memory, PhotoStore photos) : FormPage
{
    public StoredEntry Entry { get; private set; } = null!;

    public IReadOnlyList<StoredEntry> History { get; private set; } = [];

    public BeliefChange? Change { get; private set; }

    public IReadOnlyList<StoredPhoto> Photos { get; private set; } = [];

    /// <summary>The note as it was typed, if somebody else changed the entry meanwhile.</summary>
    public string? TypedNote { get; private set; }

    public EntryWords Words => new(house.Rig!.Rig, house.Units);

    public IActionResult OnGet(string key) => Look(key) ? Page() : NotFound();

    public IActionResult OnPostWithdraw(string key, string? back) => Withdraw(key, back != "yes");

    public IActionResult OnPostNote(string key, string? note, int seen)
    {
        if (!Look(key)) return NotFound();
        if (note?.Length > Core.Formats.EntryCodec.LongestNote) return Refuse(EntrySays.NoteUseAtMostCharacters(Core.Formats.EntryCodec.LongestNote));
        if (note?.Contains('\0', StringComparison.Ordinal) == true) return Refuse(EntrySays.NoteEnterATextWithoutNUL);
        var how = store.Writer.Correct(house.Rig!.Id, key, seen, Entry.Entry with { Note = string.IsNullOrWhiteSpace(note) ? null : note.Trim() }, house.Who);
        if (how != Correction.ChangedMeanwhile) return Written(key, how, EntrySays.NoteSaved);
        TypedNote = note;
        Response.StatusCode = StatusCodes.Status409Conflict;
        HttpContext.Features.Get<Microsoft.AspNetCore.Diagnostics.IStatusCodePagesFeature>()?.Enabled = false;
        return Page();
    }

    public IActionResult OnPostVersion(string key, int revision, int seen)
    {
        if (!Look(key) || History.FirstOrDefault(h => h.Revision == revision) is not { } old) return NotFound();
        return Written(key, store.Writer.Correct(house.Rig!.Id, key, seen, old.Entry, house.Who), EntrySays.ThatVersionIsBack);
    }

    public IActionResult OnPostPhoto(string key, IFormFile? photo)
    {
        if (!Look(key)) return NotFound();
        if (photo is null || photo.Length == 0) return Refuse(EntrySays.PhotoChooseOne(PhotoFile.Accepted));
        if (photo.Length > PhotoFile.MaxBytes) return Refuse(EntrySays.PhotoItHasMB(photo.Length >> 20, PhotoFile.Accepted));
        using var content = new MemoryStream();
        photo.CopyTo(content);
        if (PhotoFile.Check(content.ToArray(), out var problem) is not { } file) return Refuse(problem);
        if (photos.Add(house.Rig!.Id, key, file, house.Who) is null)
            return Refuse(EntrySays.PhotoAnEntryCarriesAtMost(PhotoStore.MaxPerEntry));
        return Done(key, EntrySays.PhotoSaved);
    }

    public IActionResult OnPostPhotoOff(string key, int id, string? back)
    {
        if (!Look(key) || Photos.All(p => p.Id != id)) return NotFound();
        photos.Remove(house.Rig!.Id, id, back != "yes");
        return Done(key, back == "yes" ? EntrySays.PhotoPutBack : EntrySays.PhotoRemoved);
    }

    private IActionResult Withdraw(string key, bool withdrawn)
    {
        if (store.Writer.Withdraw(house.Rig!.Id, key, withdrawn, house.Who) is null) return NotFound();
        return Done(key, withdrawn ? EntrySays.RemovedItStaysCrossedOut : EntrySays.PutBackIntoTheLog);
    }

    private IActionResult Written(string key, Correction how, string words)
    {
        if (how == Correction.Done) return Done(key, words);
        return how == Correction.Missing ? NotFound() : Refuse(EntrySays.SomeoneElseChangedThisEntry);
    }

    private RedirectToPageResult Done(string key, string words)
    {
        TempData[TodayModel.Logged] = words;
        return RedirectToPage(new { key });
    }

    private bool Look(string key)
    {
        var rig = house.Rig!;
        History = store.Log.History(rig.Id, key);
        if (History.Count == 0) return false;
        Entry = History[0];
        Change = memory.Changes(rig, store, [key]).GetValueOrDefault(key);
        Photos = photos.Of(rig.Id, [key]);
        return true;
    }
}
