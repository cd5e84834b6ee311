using Fennick.Houses;
using Fennick.Wordprocessing;

namespace Fennick.Revision;

/// <summary>Writes a package that was read, with its types and relationships.</summary>
internal static class PackageFile
{
    private static readonly HashSet<string> Stored = new(["png", "jpg", "jpeg", "gif", "webp", "xlsx", "docx"], StringComparer.OrdinalIgnoreCase);

    public static PackageBuilder Write(HousePackage package, DateOnly? date)
    {
        var builder = new PackageBuilder(date);
        using var buffer = new PooledBuffer();
        var xml = new Utf8XmlWriter(buffer);
        Part("[Content_Types].xml", () => WriteTypes(xml, package));
        Relationships("");
        foreach (var name in package.Names)
        {
            if (Stored.Contains(Path.GetExtension(name).TrimStart('.'))) builder.AddStored(name, package.Bytes(name));
            else builder.Add(name, package.Bytes(name));
            Relationships(name);
        }
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
