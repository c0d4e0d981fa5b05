using System.Buffers.Binary;
using System.IO.Compression;
using System.Text;

namespace Tanksophos.Web.Tests;

/// <summary>Small true pictures, made here.</summary>
internal static class Pictures
{
    /// <summary>A gray PNG, with a text in it that should not survive; or one of noise, which no packing makes smaller.</summary>
    public static byte[] Png(int side = 4, int? noise = null)
    {
        var png = new MemoryStream();
        png.Write([0x89, (byte)'P', (byte)'N', (byte)'G', 0x0D, 0x0A, 0x1A, 0x0A]);
        var header = new byte[13];
        BinaryPrimitives.WriteInt32BigEndian(header, side);
        BinaryPrimitives.WriteInt32BigEndian(header.AsSpan(4), side);
        header[8] = 8;
        Chunk(png, "IHDR", header);
        Chunk(png, "tEXt", Encoding.ASCII.GetBytes("Comment\0taken at the secret spring"));
        var packed = new MemoryStream();
        using (var zlib = new ZLibStream(packed, CompressionLevel.Fastest, leaveOpen: true))
        {
            var pixels = new byte[side * (side + 1)];
            if (noise is { } seed) new Random(seed).NextBytes(pixels);
            for (var row = 0; row < side; row++) pixels[row * (side + 1)] = 0;
            zlib.Write(pixels);
        }

        Chunk(png, "IDAT", packed.ToArray());
        Chunk(png, "IEND", []);
        return png.ToArray();
    }

    /// <summary>The frame of a JPEG: turned on its side, with a place in its camera data.</summary>
    public static byte[] Jpeg(int width = 30, int height = 20)
    {
        var exif = new List<byte>(Encoding.ASCII.GetBytes("Exif\0\0II*\0"));
        exif.AddRange([8, 0, 0, 0, 1, 0, 0x12, 0x01, 3, 0, 1, 0, 0, 0, 6, 0, 0, 0, 0, 0, 0, 0]);
        exif.AddRange(Encoding.ASCII.GetBytes("47.11 north, 8.15 east"));
        var jpeg = new List<byte> { 0xFF, 0xD8 };
        void Segment(byte marker, IReadOnlyCollection<byte> content) =>
            jpeg.AddRange([0xFF, marker, (byte)((content.Count + 2) >> 8), (byte)(content.Count + 2), .. content]);
        Segment(0xE0, Encoding.ASCII.GetBytes("JFIF\0\u0001\u0001\0\0\u0001\0\u0001\0\0"));
        Segment(0xE1, exif);
        Segment(0xFE, Encoding.ASCII.GetBytes("a comment about somebody"));
        Segment(0xDB, new byte[65]);
        Segment(0xC0, [8, (byte)(height >> 8), (byte)height, (byte)(width >> 8), (byte)width, 1, 1, 0x11, 0]);
        Segment(0xC4, new byte[17]);
        Segment(0xDA, [1, 1, 0, 0, 63, 0]);
        jpeg.AddRange([0x12, 0x34, 0xFF, 0x00, 0x56, 0xFF, 0xD9]);
        return [.. jpeg];
    }

    private static void Chunk(Stream to, string type, byte[] content)
    {
        var four = new byte[4];
        BinaryPrimitives.WriteInt32BigEndian(four, content.Length);
        to.Write(four);
        byte[] body = [.. Encoding.ASCII.GetBytes(type), .. content];
        to.Write(body);
        BinaryPrimitives.WriteUInt32BigEndian(four, Crc(body));
        to.Write(four);
    }

    private static uint Crc(byte[] content)
    {
        var crc = 0xFFFFFFFFu;
        foreach (var b in content)
        {
            crc ^= b;
            for (var k = 0; k < 8; k++) crc = (crc & 1) == 1 ? 0xEDB88320u ^ (crc >> 1) : crc >> 1;
        }
        return ~crc;
    }
}
