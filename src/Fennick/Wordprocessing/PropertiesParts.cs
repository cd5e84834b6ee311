using System.Globalization;
using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>docProps/core.xml</c> (ECMA-376 Part 2, §8) and <c>docProps/app.xml</c> and <c>docProps/custom.xml</c> (Part 1, §22.2 and §22.3).</summary>
internal static class PropertiesParts
{
    public static void WriteCore(Utf8XmlWriter xml, DocumentProperties properties, string seal, ReadOnlyMemory<byte> house)
    {
        using (xml.Element("cp:coreProperties"u8))
        {
            xml.Attribute("xmlns:cp"u8, "http://schemas.openxmlformats.org/package/2006/metadata/core-properties"u8);
            xml.Attribute("xmlns:dc"u8, "http://purl.org/dc/elements/1.1/"u8);
            xml.Attribute("xmlns:dcterms"u8, "http://purl.org/dc/terms/"u8);
            xml.Attribute("xmlns:xsi"u8, "http://www.w3.org/2001/XMLSchema-instance"u8);
            if (properties.Title.Length > 0) xml.TextElement("dc:title"u8, properties.Title);
            if (properties.Subject.Length > 0) xml.TextElement("dc:subject"u8, properties.Subject);
            if (!properties.Authors.IsEmpty) xml.TextElement("dc:creator"u8, properties.JoinedAuthors);
            if (properties.Date is { } date)
            {
                WriteDate("dcterms:created"u8, date);
                WriteDate("dcterms:modified"u8, date);
            }
            xml.TextElement("dc:language"u8, properties.Language);
            xml.TextElement("dc:identifier"u8, seal);
            xml.Raw(house.Span);
        }

        void WriteDate(ReadOnlySpan<byte> element, DateOnly date)
        {
            using (xml.Element(element))
            {
                xml.Attribute("xsi:type"u8, "dcterms:W3CDTF"u8);
                xml.Text(date.ToString("yyyy-MM-dd'T00:00:00Z'", CultureInfo.InvariantCulture));
            }
        }
    }

    /// <summary>The part of properties of the document's own.</summary>
    public static TemplatePart CreateOwn() => TemplatePart.Of("docProps/custom.xml", (xml, gap) =>
    {
        using (xml.Element("Properties"u8))
        {
            xml.Attribute("xmlns"u8, "http://schemas.openxmlformats.org/officeDocument/2006/custom-properties"u8);
            xml.Attribute("xmlns:vt"u8, "http://schemas.openxmlformats.org/officeDocument/2006/docPropsVTypes"u8);
            gap(new ContentSegment());
        }
    });

    /// <summary>The libraries that the report was made with (Part 1, §22.3).</summary>
    public static void WriteOwn(Utf8XmlWriter xml, DocumentProperties properties, int highest)
    {
        if (properties.Libraries.IsEmpty) return;
        using (xml.Element("property"u8))
        {
            xml.Attribute("fmtid"u8, "{D5CDD505-2E9C-101B-9397-08002B2CF9AE}"u8);
            xml.Attribute("pid"u8, Math.Max(2, highest + 1));
            xml.Attribute("name"u8, "Libraries"u8);
            xml.TextElement("vt:lpwstr"u8, string.Join("; ", properties.Libraries));
        }
    }

    public static void WriteExtended(Utf8XmlWriter xml, int pages, ReadOnlyMemory<byte> house)
    {
        using (xml.Element("Properties"u8))
        {
            xml.Attribute("xmlns"u8, "http://schemas.openxmlformats.org/officeDocument/2006/extended-properties"u8);
            using (xml.Element("Pages"u8)) xml.Text(pages);
            xml.TextElement("Application"u8, "Fennick");
            xml.Raw(house.Span);
        }
    }
}
