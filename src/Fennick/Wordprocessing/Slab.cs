using System.IO.Compression;
using System.IO.Hashing;

namespace Fennick.Wordprocessing;

/// <summary>The bytes of a part as they stand in the package: compressed once, written many times.</summary>
internal sealed record Slab(ReadOnlyMemory<byte> Data, uint Crc, int UncompressedLength, bool IsDeflated)
{
    // What is compressed by its own nature.
    private static readonly string[] Dense = [".png", ".jpg", ".jpeg", ".gif", ".webp", ".docx", ".xlsx", ".zip", ".odttf", ".mp4"];

    /// <summary>A part as it suits its kind: pictures and packages are stored as they are.</summary>
    public static Slab Of(string name, byte[] content) => Dense.Contains(Path.GetExtension(name).ToLowerInvariant())
        ? new Slab(content, Crc32.HashToUInt32(content), content.Length, IsDeflated: false) : Compress(content, CompressionLevel.Optimal);

    /// <summary>Compresses a part that will be written many times as small as it gets.</summary>
    public static Slab Compress(ReadOnlySpan<byte> content, CompressionLevel level = CompressionLevel.SmallestSize)
    {
        var stream = new MemoryStream();
        using (var deflate = new DeflateStream(stream, level, leaveOpen: true)) deflate.Write(content);
        return new Slab(stream.ToArray(), Crc32.HashToUInt32(content), content.Length, IsDeflated: true);
    }
}
