using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text;

namespace Fennick.Files;

/// <summary>Hashes of files by SHA-256; a file is read again only if its length or time has changed.</summary>
internal sealed class FileHashes
{
    /// <summary>What stands for the hash of a file that is not there.</summary>
    public const string Missing = "missing";

    /// <summary>What stands for the hash of a file that is no longer what was read.</summary>
    public const string Changed = "changed while it was read";

    /// <summary>Those that all reports of the process share.</summary>
    public static FileHashes Shared { get; } = new();

    private readonly ConcurrentDictionary<FileStamp, string> known = new();

    public string Of(string path)
    {
        var stamp = FileStamp.Of(path);
        if (stamp.Length < 0) return Missing;
        if (known.TryGetValue(stamp, out var hash)) return hash;
        // Which files there are; what is in them counts by itself.
        if (FileStamp.IsPattern(stamp.Path)) return known[stamp] = OfText(string.Join('\n', FileStamp.Matches(stamp.Path).Select(Path.GetFileName)));
        using var stream = File.OpenRead(path);
        return known[stamp] = Convert.ToHexStringLower(SHA256.HashData(stream));
    }

    /// <summary>The hash of what was read, unless the file has changed since, so that nobody knows.</summary>
    public string Of(FileStamp file) => FileStamp.Of(file.Path) == file ? Of(file.Path) : Changed;

    /// <summary>The hashes of what was read, by the files' paths from a folder.</summary>
    public ImmutableSortedDictionary<string, string> Of(IEnumerable<FileStamp> files, string folder) => files.ToImmutableSortedDictionary(f => Path.GetRelativePath(folder, f.Path), Of, StringComparer.Ordinal);

    public static string OfText(string text) => OfBytes(Encoding.UTF8.GetBytes(text));

    public static string OfBytes(ReadOnlySpan<byte> bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));
}
