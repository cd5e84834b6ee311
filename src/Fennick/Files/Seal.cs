using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using System.Xml;

namespace Fennick.Files;

/// <summary>What a document bears by which it is known later whether anybody has worked on it: a hash of all its parts but the one that holds it, as the identifier among its properties.</summary>
internal static class Seal
{
    /// <summary>What every seal begins with.</summary>
    public const string Prefix = "fennick-1-";
    private const string Part = "docProps/core.xml";
    private const int LongestPart = 1 << 20;

    /// <summary>The seal of a package.</summary>
    /// <param name="parts">Its parts but the core properties.</param>
    public static string Of(IEnumerable<(string Name, uint Crc, long Length)> parts)
    {
        var text = new StringBuilder();
        foreach (var (name, crc, length) in parts.OrderBy(p => p.Name, StringComparer.Ordinal)) text.Append(name).Append('\n').Append(crc).Append(' ').Append(length).Append('\n');
        return Prefix + Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())).AsSpan(0, 16));
    }

    /// <summary>Whether a document is as Fennick wrote it.</summary>
    public static bool IsIntact(string path)
    {
        try
        {
            using var package = ZipFile.OpenRead(path);
            return package.GetEntry(Part) is { Length: <= LongestPart } core && Read(core) is { } seal && seal == Of(package.Entries.Where(e => e != core).Select(e => (e.FullName, e.Crc32, e.Length)));
        }
        catch (Exception problem) when (problem is IOException or InvalidDataException or XmlException or UnauthorizedAccessException or NotSupportedException or ArgumentException)
        {
            return false;
        }
    }

    private static string? Read(ZipArchiveEntry core)
    {
        using var stream = core.Open();
        using var xml = XmlReader.Create(stream, new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null });
        return xml.ReadToFollowing("identifier", "http://purl.org/dc/elements/1.1/") ? xml.ReadElementContentAsString() : null;
    }
}
