using System.Xml.Linq;
using Fennick.Files;
using Fennick.Houses;
using Fennick.Wordprocessing;

namespace Fennick.Revision;

/// <summary>Writes a package that was read, with its types and relationships.</summary>
internal static class PackageFile
{
    private static readonly HashSet<string> Stored = new(["png", "jpg", "jpeg", "gif", "webp", "xlsx", "docx"], StringComparer.OrdinalIgnoreCase);

    private const string Core = "docProps/core.xml";
    private const string CoreType = "application/vnd.openxmlformats-package.core-properties+xml";
    private const string CoreKind = "http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties";
    private static readonly XName Identifier = XName.Get("identifier", "http://purl.org/dc/elements/1.1/");
    private static readonly XName Properties = XName.Get("coreProperties", "http://schemas.openxmlformats.org/package/2006/metadata/core-properties");

    /// <summary>Writes a package.</summary>
    /// <param name="package">The package.</param>
    /// <param name="date">The time stamp of its parts.</param>
    /// <param name="isSealed">Whether it is to be known later whether anybody has worked on the document; an identifier of somebody else's stays, and then it is not.</param>
    public static PackageBuilder Write(HousePackage package, DateOnly? date, bool isSealed)
    {
        var core = isSealed ? CoreOf(package) : null;
        var builder = new PackageBuilder(date);
        using var buffer = new PooledBuffer();
        var xml = new Utf8XmlWriter(buffer);
        Part("[Content_Types].xml", () => WriteTypes(xml, package));
        Relationships("");
        foreach (var name in package.Names)
        {
            if (core is not null && name == Core) continue;
            if (Stored.Contains(Path.GetExtension(name).TrimStart('.'))) builder.AddStored(name, package.Bytes(name));
            else builder.Add(name, package.Bytes(name));
            Relationships(name);
        }
        if (core is null) return builder;
        core.Root!.Elements(Identifier).Remove();
        core.Root.Add(new XElement(Identifier, builder.Seal()));
        builder.Add(Core, XmlText.Write(core));
        return builder;

        void Part(string name, Action write)
        {
            buffer.Clear();
            xml.Declaration();
            write();
            builder.Add(name, buffer.WrittenSpan);
        }

        void Relationships(string from)
        {
            if (package.RelationshipsOf(from) is not { Count: > 0 } relationships) return;
            var folder = from.Contains('/') ? from[..from.LastIndexOf('/')] : "";
            Part($"{(folder.Length > 0 ? folder + "/" : "")}_rels/{Path.GetFileName(from)}.rels", () => RelationshipsPart.WriteAll(xml, () =>
            {
                foreach (var relationship in relationships)
                    RelationshipsPart.WriteOne(xml, relationship.Id, relationship.Type, RelationshipsPart.EscapeTarget(relationship.IsExternal ? relationship.Target : Path.GetRelativePath("/" + folder, "/" + relationship.Target)), relationship.IsExternal);
            }));
        }
    }

    /// <summary>The properties that can hold a seal, made if there are none; null if they cannot.</summary>
    private static XDocument? CoreOf(HousePackage package)
    {
        if (!package.Has(Core))
        {
            if (package.RelationshipsOf("").Any(r => r.Is("core-properties"))) return null;
            package.Add(Core, XmlText.Write(new XDocument(new XElement(Properties, new XAttribute(XNamespace.Xmlns + "cp", Properties.NamespaceName), new XAttribute(XNamespace.Xmlns + "dc", Identifier.NamespaceName)))));
            package.SetType(Core, CoreType);
            package.Relate("", CoreKind, Core, isExternal: false);
        }
        var core = package.Xml(Core);
        return core.Root!.Elements(Identifier).All(i => i.Value.Length == 0 || i.Value.StartsWith(Seal.Prefix, StringComparison.Ordinal)) ? core : null;
    }

    private static void WriteTypes(Utf8XmlWriter xml, HousePackage package)
    {
        using (xml.Element("Types"u8))
        {
            xml.Attribute("xmlns"u8, "http://schemas.openxmlformats.org/package/2006/content-types"u8);
            if (!package.Defaults.ContainsKey("rels")) ContentTypesPart.WriteDefault(xml, "rels", "application/vnd.openxmlformats-package.relationships+xml");
            if (!package.Defaults.ContainsKey("xml")) ContentTypesPart.WriteDefault(xml, "xml", "application/xml");
            foreach (var (ending, type) in package.Defaults) ContentTypesPart.WriteDefault(xml, ending, type);
            foreach (var name in package.Names)
                if (package.OverrideOf(name) is { } type) ContentTypesPart.WriteOverride(xml, "/" + name, type);
        }
    }
}
