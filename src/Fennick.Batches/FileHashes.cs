using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;

namespace Fennick.Batches;

/// <summary>Hashes of files by SHA-256; a file is read again only if its length or time has changed.</summary>
internal sealed class FileHashes
{
    /// <summary>What stands for the hash of a file that is not there.</summary>
    public const string Missing = "missing";

    private readonly ConcurrentDictionary<string, (long Length, DateTime Changed, string Hash)> known = new(StringComparer.Ordinal);

    public string Of(string path)
    {
        var file = new FileInfo(path);
        if (!file.Exists) return Missing;
        if (known.TryGetValue(path, out var entry) && entry.Length == file.Length && entry.Changed == file.LastWriteTimeUtc) return entry.Hash;
        using var stream = File.OpenRead(path);
        var hash = Convert.ToHexStringLower(SHA256.HashData(stream));
        known[path] = (file.Length, file.LastWriteTimeUtc, hash);
        return hash;
    }

    public static string OfText(string text) => OfBytes(Encoding.UTF8.GetBytes(text));

    public static string OfBytes(ReadOnlySpan<byte> bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));
}
