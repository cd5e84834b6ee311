using System.Collections.Immutable;
using Fennick.Flow;
using Fennick.Layout;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/document.xml</c> and the footer (ECMA-376 Part 1, §17.2, §17.6 and §17.10).</summary>
internal static class DocumentPart
{
    public static void Write(DocumentContext document, FittedDocument fitted)
    {
        var xml = document.Xml;
        using (xml.Element("w:document"u8))
        {
            WriteNamespaces(xml);
            using (xml.Element("w:body"u8))
            {
                var table = 0;
                var sections = fitted.Flow.Sections;
                var footers = Footers(fitted.Flow);
                for (var s = 0; s < sections.Length; s++)
                {
                    var section = sections[s];
                    var isLast = s == sections.Length - 1;
                    var footer = footers.IndexOf(section.Footer);
                    for (var b = 0; b < section.Blocks.Length; b++)
                    {
                        if (section.Blocks[b] is FlowTable t) TableWriter.Write(document, t, fitted.Tables[table++]);
                        else if (section.Blocks[b] is FlowEquation equation) EquationWriter.Write(document, equation, section.Columns.IsEmpty ? section.Page.TextWidth : section.Columns[0]);
                        else if (!isLast && b == section.Blocks.Length - 1) ParagraphWriter.Write(document, (FlowParagraph)section.Blocks[b], () => WriteSection(xml, section, footer));
                        else ParagraphWriter.Write(document, (FlowParagraph)section.Blocks[b]);
                        document.Drain();
                    }
                    if (isLast) WriteSection(xml, section, footer);
                }
            }
        }
    }

    /// <summary>The different footers of a document, in the order of their parts.</summary>
    public static ImmutableArray<FlowParagraph> Footers(FlowDocument flow) => [.. flow.Sections.Select(s => s.Footer).Distinct()];

    public static void WriteFooter(DocumentContext document, FlowParagraph footer)
    {
        using (document.Xml.Element("w:ftr"u8))
        {
            WriteNamespaces(document.Xml);
            ParagraphWriter.Write(document, footer);
        }
    }

    internal static void WriteNamespaces(Utf8XmlWriter xml)
    {
        xml.Attribute("xmlns:w"u8, Namespaces.Main);
        xml.Attribute("xmlns:r"u8, Namespaces.Relationships);
        xml.Attribute("xmlns:m"u8, Namespaces.Math);
        xml.Attribute("xmlns:wp"u8, Namespaces.WordDrawing);
        xml.Attribute("xmlns:a"u8, Namespaces.Drawing);
        xml.Attribute("xmlns:c"u8, Namespaces.Chart);
        xml.Attribute("xmlns:pic"u8, Namespaces.Picture);
    }

    private static void WriteSection(Utf8XmlWriter xml, FlowSection section, int footer)
    {
        var page = section.Page;
        using (xml.Element("w:sectPr"u8))
        {
            using (xml.Element("w:footerReference"u8))
            {
                xml.Attribute("w:type"u8, "default"u8);
                xml.Attribute("r:id"u8, RelationshipsPart.FooterId(footer));
            }
            if (section.IsContinuous) xml.Value("w:type"u8, "continuous"u8);
            using (xml.Element("w:pgSz"u8))
            {
                xml.Attribute("w:w"u8, page.Width.Twips);
                xml.Attribute("w:h"u8, page.Height.Twips);
                if (page.IsLandscape) xml.Attribute("w:orient"u8, "landscape"u8);
            }
            using (xml.Element("w:pgMar"u8))
            {
                xml.Attribute("w:top"u8, page.Top.Twips);
                xml.Attribute("w:right"u8, page.Right.Twips);
                xml.Attribute("w:bottom"u8, page.Bottom.Twips);
                xml.Attribute("w:left"u8, page.Left.Twips);
                xml.Attribute("w:header"u8, page.HeaderDistance.Twips);
                xml.Attribute("w:footer"u8, page.FooterDistance.Twips);
                xml.Attribute("w:gutter"u8, 0);
            }
            if (section.Columns.IsEmpty) xml.Raw("<w:cols w:space=\"708\"/>"u8);
            else WriteColumns(xml, section.Columns);
        }
    }

    private static void WriteColumns(Utf8XmlWriter xml, ImmutableArray<Length> columns)
    {
        using (xml.Element("w:cols"u8))
        {
            xml.Attribute("w:num"u8, columns.Length);
            xml.Attribute("w:space"u8, FlowSection.Gutter.Twips);
            xml.Attribute("w:equalWidth"u8, 0);
            for (var c = 0; c < columns.Length; c++)
            {
                using (xml.Element("w:col"u8))
                {
                    xml.Attribute("w:w"u8, columns[c].Twips);
                    if (c < columns.Length - 1) xml.Attribute("w:space"u8, FlowSection.Gutter.Twips);
                }
            }
        }
    }
}
