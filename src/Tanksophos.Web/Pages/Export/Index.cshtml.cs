using System.IO.Compression;
using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>Hands out the rig at hand in the open formats.</summary>
public sealed class ExportModel(CurrentRequest house, RigStore store, PhotoStore photos, RigCache memory, DeviceStore devices, TripService trips) : PageModel
{
    public IActionResult OnGet(string what)
    {
        var rig = house.Rig!;
        var name = FileName(rig.Rig.Name);
        return what switch
        {
            "logbook" => File(Logbook(rig), "application/json", $"{name}-logbook.json"),
            "readings" => File(ReadingsCsv.Write(store.Log.All(rig.Id)), "text/csv", $"{name}-readings.csv"),
            "entries" => File(EntriesCsv.Write(store.Log.All(rig.Id)), "text/csv", $"{name}-entries.csv"),
            "package" => File(Package(rig), "application/zip", $"{name}-data.zip"),
            "plan" => trips.Current(rig)?.Plan is { } plan ? File(PlanFormat.Write(plan, DocumentWords.English, pretty: true), "application/json",
                $"{name}-plan.json")
                : NotFound(),
            "assessment" => File(AssessmentFormat.Write(house.RigSnapshot.Logbook, house.RigSnapshot.Belief, DocumentWords.English, pretty: true),
                "application/json",
                $"{name}-assessment.json"),
            "everything" => File(Everything(rig), "application/zip", $"{name}.zip"),
            _ => NotFound(),
        };
    }

    private byte[] Logbook(StoredRig rig) => LogbookFormat.Write(new Logbook(rig.Rig, store.Log.All(rig.Id)), pretty: true);

    private byte[] Everything(StoredRig rig)
    {
        using var packed = new MemoryStream();
        using (var zip = new ZipArchive(packed, ZipArchiveMode.Create, leaveOpen: true))
        {
            Add(zip, "logbook.json", Logbook(rig));
            Add(zip, "entries.csv", EntriesCsv.Write(store.Log.All(rig.Id)));
            var list = new StringBuilder("photo,entry\n");
            foreach (var (id, key, file) in photos.All(rig.Id))
            {
                var photo = $"photos/{id}.{(file.ContentType == "image/png" ? "png" : "jpg")}";
                Add(zip, photo, file.Bytes);
                list.Append(photo).Append(",\"").Append(key.Replace("\"", "\"\"", StringComparison.Ordinal)).Append("\"\n");
            }
            Add(zip, "photos.csv", Encoding.UTF8.GetBytes(list.ToString()));
        }
        if (house.MayChange) store.Exported(rig.Id); // who may delete it has it whole now
        return packed.ToArray();
    }

    private byte[] Package(StoredRig rig)
    {
        var stretch = memory.Stretch(rig, store, Instant.FromUtc(2000, 1, 1, 0, 0), house.Now).ToList();
        using var packed = new MemoryStream();
        using (var zip = new ZipArchive(packed, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (file, content) in DataPackage.Files(new Logbook(rig.Rig, store.Log.All(rig.Id)), house.RigSnapshot.Belief,
                rig.Rig.Tanks.Select(t => Hindsight.Of(t, stretch)),
                devices.AllHours(rig.Id).Select(h => new PackagedHour(h.Device, h.Channel, h.Hour.Hour, h.Hour.Least, h.Hour.Mean, h.Hour.Most))))
                Add(zip, file, content);
        }
        return packed.ToArray();
    }

    private static void Add(ZipArchive zip, string name, byte[] content)
    {
        using var entry = zip.CreateEntry(name, CompressionLevel.Fastest).Open();
        entry.Write(content);
    }

    private static string FileName(string rig)
    {
        var name = new StringBuilder();
        foreach (var c in rig.ToLowerInvariant())
        {
            if (char.IsAsciiLetterOrDigit(c)) name.Append(c);
            else if (name.Length > 0 && name[^1] != '-') name.Append('-');
        }
        return name.ToString().Trim('-') is { Length: > 0 } plain ? plain : "rig";
    }
}
