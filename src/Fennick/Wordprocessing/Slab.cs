using System.IO.Compression;
using System.IO.Hashing;

namespace Fennick.Wordprocessing;

/// <summary>The bytes of a part as they stand in the package: compressed once, written many times.</summary>
internal sealed record Slab(ReadOnlyMemory<byte> Data, uint Crc, int UncompressedLength, bool IsDeflated)
{
    /// <summary>Compresses a part that will be written many times as small as it gets.</summary>
    public static Slab Compress(ReadOnlySpan<byte> content)
    {
        var stream = new MemoryStream();
        using (var deflate = new DeflateStream(stream, CompressionLevel.SmallestSize, leaveOpen: true)) deflate.Write(content);
        return new Slab(stream.ToArray(), Crc32.HashToUInt32(content), content.Length, IsDeflated: true);
    }
}
