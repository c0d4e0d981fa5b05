using System.Buffers.Binary;

namespace Tanksophos.Data;

/// <summary>A checked picture: JPEG or PNG, of a sensible size, without what a camera writes into it about place and time.</summary>
/// <param name="ContentType">"image/jpeg" or "image/png".</param>
/// <param name="Bytes">The file.</param>
/// <param name="Width">Pixels across.</param>
/// <param name="Height">Pixels down.</param>
public sealed record PhotoFile(string ContentType, byte[] Bytes, int Width, int Height)
{
    /// <summary>Largest file in bytes.</summary>
    public const int MaxBytes = 6 << 20;

    /// <summary>Most pixels of a side.</summary>
    public const int MaxPixels = 10_000;

    /// <summary>Most pixels in all; a larger picture, however well it is packed, would take more memory to show than a phone has to spare.</summary>
    public const int MaxArea = 50_000_000;

    /// <summary>What is accepted, in words.</summary>
    public const string Accepted = "a JPEG or PNG picture of at most 6 MB, 10,000 pixels a side and 50 megapixels is accepted";

    private static ReadOnlySpan<byte> PngSignature => [0x89, (byte)'P', (byte)'N', (byte)'G', 0x0D, 0x0A, 0x1A, 0x0A];

    /// <summary>Checks a file by its own structure, whatever it calls itself, and copies only what makes the picture.</summary>
    /// <param name="content">The file.</param>
    /// <param name="problem">Why it is not taken.</param>
    /// <returns>The picture; null if it is none, is cut off, or too large.</returns>
    public static PhotoFile? Check(ReadOnlySpan<byte> content, out string problem)
    {
        problem = $"Photo: {Accepted}.";
        if (content.Length is 0 or > MaxBytes) return null;
        var photo = content.StartsWith(PngSignature) ? Png(content) : content.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8, 0xFF]) ? Jpeg(content) : null;
        return photo is { Width: > 0 and <= MaxPixels, Height: > 0 and <= MaxPixels } && (long)photo.Width * photo.Height <= MaxArea ? photo : null;
    }

    // Chunks of a PNG that make the picture; text, times and whatever else is left out.
    private static readonly string[] Kept = ["IHDR", "PLTE", "tRNS", "IDAT", "IEND", "gAMA", "cHRM", "sRGB", "iCCP", "sBIT", "bKGD", "pHYs"];

    private static PhotoFile? Png(ReadOnlySpan<byte> content)
    {
        var kept = new MemoryStream();
        kept.Write(PngSignature);
        int width = 0, height = 0;
        bool data = false, ended = false;
        for (var at = PngSignature.Length; at + 12 <= content.Length && !ended;)
        {
            var length = BinaryPrimitives.ReadUInt32BigEndian(content[at..]);
            if (length > content.Length - at - 12) return null;
            var chunk = content.Slice(at, (int)length + 12);
            var type = System.Text.Encoding.ASCII.GetString(chunk.Slice(4, 4));
            if (width == 0)
            {
                if (type != "IHDR" || length != 13) return null;
                width = (int)Math.Min(int.MaxValue, BinaryPrimitives.ReadUInt32BigEndian(chunk[8..]));
                height = (int)Math.Min(int.MaxValue, BinaryPrimitives.ReadUInt32BigEndian(chunk[12..]));
            }
            data |= type == "IDAT";
            ended = type == "IEND";
            if (Kept.Contains(type)) kept.Write(chunk);
            at += chunk.Length;
        }
        return data && ended ? new PhotoFile("image/png", kept.ToArray(), width, height) : null;
    }

    private static PhotoFile? Jpeg(ReadOnlySpan<byte> content)
    {
        const int Start = 0xD8, End = 0xD9, Scan = 0xDA, Comment = 0xFE;
        var kept = new MemoryStream();
        kept.Write([0xFF, Start]);
        int width = 0, height = 0, turned = 1;
        for (var at = 2; at + 4 <= content.Length;)
        {
            if (content[at] != 0xFF) return null;
            int marker = content[at + 1];
            if (marker == 0xFF)
            {
                at++; // a filling byte
                continue;
            }
            if (marker is Start or End or 0x00 or (>= 0xD0 and <= 0xD7)) return null;
            var length = BinaryPrimitives.ReadUInt16BigEndian(content[(at + 2)..]);
            if (length < 2 || at + 2 + length > content.Length) return null;
            var segment = content.Slice(at, 2 + length);
            if (marker is >= 0xC0 and <= 0xCF and not 0xC4 and not 0xC8 and not 0xCC)
            {
                if (length < 8) return null;
                height = BinaryPrimitives.ReadUInt16BigEndian(segment[5..]);
                width = BinaryPrimitives.ReadUInt16BigEndian(segment[7..]);
            }
            if (marker == 0xE1) turned = Math.Max(turned, Orientation(segment[4..]));
            if (marker == Scan)
            {
                if (width == 0) return null;
                var rest = content[at..];
                var end = rest.LastIndexOf((ReadOnlySpan<byte>)[0xFF, End]);
                if (end < 0) return null;
                if (turned > 1) kept.Write(OrientationSegment(turned));
                kept.Write(rest[..(end + 2)]);
                return new PhotoFile("image/jpeg", kept.ToArray(), width, height);
            }
            // The header of the format and the color profile make the picture; place, camera, thumbnails and comments do not.
            if (marker is not Comment and not (>= 0xE0 and <= 0xEF) || marker is 0xE0 or 0xE2 or 0xEE) kept.Write(segment);
            at += segment.Length;
        }
        return null;
    }

    // How the camera was held, out of its block: 1 upright, up to 8; 1 if it does not say.
    private static int Orientation(ReadOnlySpan<byte> block)
    {
        if (!block.StartsWith("Exif\0\0"u8) || block.Length < 14) return 1;
        var tiff = block[6..];
        var little = tiff[0] == (byte)'I';
        ushort U16(ReadOnlySpan<byte> s) => little ? BinaryPrimitives.ReadUInt16LittleEndian(s) : BinaryPrimitives.ReadUInt16BigEndian(s);
        var first = little ? BinaryPrimitives.ReadUInt32LittleEndian(tiff[4..]) : BinaryPrimitives.ReadUInt32BigEndian(tiff[4..]);
        if (first > (uint)tiff.Length - 2) return 1;
        var count = U16(tiff[(int)first..]);
        for (var i = 0; i < count; i++)
        {
            var at = (int)first + 2 + i * 12;
            if (at + 12 > tiff.Length) return 1;
            if (U16(tiff[at..]) == 0x0112) return U16(tiff[(at + 8)..]) is >= 1 and <= 8 and var held ? held : 1;
        }
        return 1;
    }

    private static byte[] OrientationSegment(int held) =>
    [
        0xFF, 0xE1, 0x00, 0x22, .. "Exif\0\0"u8, (byte)'M', (byte)'M', 0x00, 0x2A, 0x00, 0x00, 0x00, 0x08,
        0x00, 0x01, 0x01, 0x12, 0x00, 0x03, 0x00, 0x00, 0x00, 0x01, 0x00, (byte)held, 0x00, 0x00, 0x00, 0x00, 0x00, 0x00,
    ];
}
