using System.Security.Cryptography;
using System.Text.Json;
using System.Text.Json.Serialization;
using Fennick.Files;

namespace Fennick.Manuscripts.Compilation;

/// <summary>Keeps compiled manuscripts in the user's cache. It is code that runs: only the user can write there, and every entry is verified.</summary>
internal sealed class CompiledCache
{
    private const UnixFileMode OnlyUser = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;
    private static readonly TimeSpan Keep = TimeSpan.FromDays(60);

    /// <summary>Where the entries are.</summary>
    public string Folder { get; } = Path.Combine(CacheFolder.Root, "compiled");

    /// <summary>Where the packages are that manuscripts use.</summary>
    public static string LibraryFolder => Path.Combine(CacheFolder.Root, "libraries");

    /// <summary>The compiled manuscript of a key; null if there is none, or if it is not as it was written.</summary>
    public CompiledManuscript? Find(string key)
    {
        if (FindBytes(key) is not { } bytes) return null;
        try
        {
            using var reader = new BinaryReader(new MemoryStream(bytes));
            var assembly = reader.ReadBytes(reader.ReadInt32());
            var symbols = reader.ReadBytes(reader.ReadInt32());
            return new CompiledManuscript(assembly, symbols, JsonSerializer.Deserialize(reader.ReadString(), CompiledJson.Default.CompiledWarningArray) ?? [], JsonSerializer.Deserialize(reader.ReadString(), CompiledJson.Default.CompiledCallArray) ?? []);
        }
        catch (Exception problem) when (problem is IOException or JsonException)
        {
            return null;
        }
    }

    /// <summary>Keeps a compiled manuscript. A cache that cannot be written costs time, not the report.</summary>
    /// <returns>False if it could not be kept.</returns>
    public bool Store(string key, CompiledManuscript compiled)
    {
        using var stream = new MemoryStream();
        using (var writer = new BinaryWriter(stream))
        {
            writer.Write(compiled.Assembly.Length);
            writer.Write(compiled.Assembly);
            writer.Write(compiled.Symbols.Length);
            writer.Write(compiled.Symbols);
            writer.Write(JsonSerializer.Serialize([.. compiled.Warnings], CompiledJson.Default.CompiledWarningArray));
            writer.Write(JsonSerializer.Serialize([.. compiled.Undeclared], CompiledJson.Default.CompiledCallArray));
        }
        return StoreBytes(key, stream.ToArray());
    }

    /// <summary>The entry of a key; null if there is none, or if it is not as it was written.</summary>
    public byte[]? FindBytes(string key)
    {
        var path = PathOf(key);
        // It is code that runs: what somebody else can have written is not looked at.
        if (!IsPrivate(Folder) || UnixFile.Of(path) is not { IsOwn: true }) return null;
        try
        {
            var bytes = File.ReadAllBytes(path);
            var content = bytes.AsSpan(SHA256.HashSizeInBytes);
            if (!CryptographicOperations.FixedTimeEquals(SHA256.HashData(content), bytes.AsSpan(0, SHA256.HashSizeInBytes))) return null;
            File.SetLastWriteTimeUtc(path, DateTime.UtcNow);
            return content.ToArray();
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException or ArgumentException)
        {
            return null;
        }
    }

    /// <summary>Stores an entry beside its place and renames it.</summary>
    /// <param name="key">Its key.</param>
    /// <param name="content">What it holds.</param>
    /// <param name="clears">Whether what nobody has used for long goes.</param>
    /// <returns>False if it could not be stored.</returns>
    public bool StoreBytes(string key, byte[] content, bool clears = true)
    {
        try
        {
            Directory.CreateDirectory(Folder);
            // Fails unless the folder is the user's own.
            File.SetUnixFileMode(Folder, OnlyUser);
            if (!IsPrivate(Folder)) return false;
            var beside = Path.Combine(Folder, $".{Guid.NewGuid():N}");
            File.WriteAllBytes(beside, [.. SHA256.HashData(content), .. content]);
            File.Move(beside, PathOf(key), overwrite: true);
            foreach (var old in !clears ? [] : Directory.EnumerateFiles(Folder).Where(f => DateTime.UtcNow - File.GetLastWriteTimeUtc(f) > Keep)) File.Delete(old);
            return true;
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            return false;
        }
    }

    /// <summary>Whether a folder is there that nobody but the user can look into.</summary>
    internal static bool IsPrivate(string folder) => UnixFile.Of(folder) is { IsOwn: true } found && (found.Mode & ~OnlyUser) == 0;

    private string PathOf(string key) => Path.Combine(Folder, $"{key}.bin");
}

/// <summary>Reads and writes warnings also where nothing may be found out about types at run time, as in single-file programs.</summary>
[JsonSerializable(typeof(CompiledWarning[]))]
[JsonSerializable(typeof(CompiledCall[]))]
internal sealed partial class CompiledJson : JsonSerializerContext;
