using System.IO.Compression;
using System.Text;
using System.Xml.Linq;

namespace Fennick.Fuzzing;

/// <summary>Houses to which something has happened: in their bytes, in the text of a part, or in its elements.</summary>
internal static class HouseMutations
{
    private static readonly string[] Values = ["", "-1", "0", "1", "99999999999", "x", "NaN", "true", "auto", "\uE0F0", "rId1", "Normal", "Heading1", "#", "../x", "{x}", "\u0301", "left", "2147483648", "2.5"];

    /// <summary>A file that differs from a sound one.</summary>
    public static byte[] Mutate(byte[] sound, Random random) => random.Next(10) == 0 ? Fuzz.Mutate(sound, random) : MutateParts(sound, random);

    private static byte[] MutateParts(byte[] sound, Random random)
    {
        var parts = new List<(string Name, byte[] Bytes)>();
        using (var archive = new ZipArchive(new MemoryStream(sound)))
        {
            foreach (var entry in archive.Entries)
            {
                using var stream = entry.Open();
                using var copy = new MemoryStream();
                stream.CopyTo(copy);
                parts.Add((entry.FullName, copy.ToArray()));
            }
        }
        for (var changes = random.Next(1, 4); changes > 0; changes--)
        {
            var at = random.Next(3) == 0 ? parts.FindIndex(p => p.Name.EndsWith("document.xml", StringComparison.Ordinal)) : random.Next(parts.Count);
            at = Math.Max(0, at);
            var (name, bytes) = parts[at];
            if (random.Next(60) == 0) parts.RemoveAt(at);
            else if (name.EndsWith(".xml", StringComparison.Ordinal) || name.EndsWith(".rels", StringComparison.Ordinal)) parts[at] = (name, random.Next(8) == 0 ? Fuzz.Mutate(bytes, random) : MutateElements(bytes, random));
            else parts[at] = (name, Fuzz.Mutate(bytes, random));
        }
        using var file = new MemoryStream();
        using (var archive = new ZipArchive(file, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, bytes) in parts)
            {
                using var stream = archive.CreateEntry(name, CompressionLevel.Fastest).Open();
                stream.Write(bytes);
            }
        }
        return file.ToArray();
    }

    private static byte[] MutateElements(byte[] part, Random random)
    {
        XDocument xml;
        try
        {
            xml = XDocument.Load(new MemoryStream(part), LoadOptions.PreserveWhitespace);
        }
        catch (System.Xml.XmlException)
        {
            return part;
        }
        for (var changes = random.Next(1, 6); changes > 0; changes--)
        {
            var all = xml.Root!.Descendants().ToArray();
            if (all.Length == 0) break;
            Change(all[random.Next(all.Length)], all[random.Next(all.Length)], random);
        }
        return Encoding.UTF8.GetBytes(xml.ToString(SaveOptions.DisableFormatting));
    }

    private static void Change(XElement element, XElement other, Random random)
    {
        var attributes = element.Attributes().Where(a => !a.IsNamespaceDeclaration && a.Name.Namespace != XNamespace.Xml).ToArray();
        switch (random.Next(10))
        {
            case 0: element.Remove(); break;
            case 1: element.AddAfterSelf(new XElement(element)); break;
            case 2: other.AddBeforeSelf(new XElement(element)); break;
            case 3: other.Add(new XElement(element)); break;
            case 4: element.Name = other.Name; break;
            case 5: element.RemoveNodes(); break;
            case 6: element.Add(new XText("words")); break;
            case 7 when attributes.Length > 0: attributes[random.Next(attributes.Length)].Remove(); break;
            case 8 when other.FirstAttribute is { IsNamespaceDeclaration: false } attribute: element.SetAttributeValue(attribute.Name, attribute.Value); break;
            default:
                if (attributes.Length > 0) attributes[random.Next(attributes.Length)].Value = Values[random.Next(Values.Length)];
                break;
        }
    }
}
