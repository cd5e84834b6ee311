using System.Collections.Immutable;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using Fennick.Diagnostics;

namespace Fennick.Houses;

/// <summary>A house's file as it was read; it is dressed as often as needed and never changed.</summary>
/// <param name="Package">Its parts.</param>
/// <param name="Place">Where it is.</param>
/// <param name="Warnings">What had to be taken out of it, and what deserves attention.</param>
internal sealed record HouseFile(HousePackage Package, SourcePlace Place, ImmutableArray<Diagnostic> Warnings)
{
    /// <summary>Its full path; null if it came from a stream.</summary>
    public string? Path { get; init; }

    /// <summary>The hash of its bytes, if it came from a stream.</summary>
    public string? Fingerprint { get; init; }

    private static readonly XmlWriterSettings Plain = new() { Encoding = new UTF8Encoding(encoderShouldEmitUTF8Identifier: false), CloseOutput = false };

    /// <summary>The bytes of a part.</summary>
    public static byte[] BytesOf(XDocument xml)
    {
        using var stream = new MemoryStream();
        // What another program declared about encoding holds no longer.
        xml.Declaration = new XDeclaration("1.0", "UTF-8", "yes");
        using (var writer = XmlWriter.Create(stream, Plain)) xml.Save(writer);
        return stream.ToArray();
    }
}
