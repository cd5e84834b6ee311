using Fennick.Flow;
using Fennick.Layout;

namespace Fennick.Wordprocessing;

/// <summary>Writes the body of <c>word/document.xml</c>, headers and footers (ECMA-376 Part 1, §17.2, §17.6 and §17.10).</summary>
internal static class DocumentPart
{
    /// <summary>Writes the body, and the properties of each of its sections but for one that ends as the house's own does.</summary>
    public static void WriteBody(DocumentContext document, FittedDocument fitted)
    {
        var sections = fitted.Flow.Sections;
        var table = 0;
        for (var s = 0; s < sections.Length; s++)
        {
            var section = sections[s];
            // The last one ends where the house's own section ends, if that looks the same.
            var isLast = s == sections.Length - 1;
            var ends = !isLast || (document.House.Template.BodyIsFollowed && !document.House.Template.Section.Matches(section));
            WriteBlocks(document, section, fitted, ref table, ends ? () => WriteSection(document, section) : null);
            document.OpenSection = ends ? null : section;
        }
    }

    /// <summary>Writes blocks into a slot.</summary>
    public static void WriteSlot(DocumentContext document, FittedDocument fitted, string slot)
    {
        for (var i = 0; i < fitted.Flow.SlotBlocks.Length; i++)
        {
            if (!string.Equals(fitted.Flow.SlotBlocks[i].Slot, slot, StringComparison.OrdinalIgnoreCase)) continue;
            var table = fitted.SlotTables[i];
            WriteBlocks(document, fitted.Flow.SlotBlocks[i].Section, fitted, ref table, null);
        }
    }

    /// <summary>Writes the end of the house's section in which the body stands.</summary>
    public static void WriteSectionEnd(DocumentContext document)
    {
        if (document.OpenSection is { } open) WriteSection(document, open);
        else document.House.Template.Section.Write(document.Xml, null, _ => "", goesOn: document.SectionsWritten > 0, document.SectionBefore);
    }

    private static void WriteBlocks(DocumentContext document, GalleySection section, FittedDocument fitted, ref int table, Action? end)
    {
        var width = section.Columns.IsEmpty ? section.Page.TextWidth : section.Columns[0];
        for (var b = 0; b < section.Blocks.Length; b++)
        {
            WriteBlock(document, section.Blocks[b], width, fitted, ref table, b == section.Blocks.Length - 1 ? end : null);
            document.Drain();
        }
    }

    /// <summary>Writes a block.</summary>
    /// <param name="document">What the writers share.</param>
    /// <param name="block">The block.</param>
    /// <param name="width">The room that it has.</param>
    /// <param name="fitted">The document, with its tables.</param>
    /// <param name="table">The number of the next table.</param>
    /// <param name="end">Writes the end of the section in the block, which is a paragraph then.</param>
    internal static void WriteBlock(DocumentContext document, GalleyBlock block, Length width, FittedDocument fitted, ref int table, Action? end)
    {
        switch (block)
        {
            case GalleyTable t: TableWriter.Write(document, t, fitted.Tables[table++]); break;
            case GalleyCover cover: CoverWriter.Write(document, cover); break;
            case GalleyBox box: BoxWriter.Write(document, box, fitted, ref table); break;
            case GalleyEquation equation: EquationWriter.Write(document, equation, width); break;
            default: ParagraphWriter.Write(document, (GalleyParagraph)block, end); break;
        }
    }

    private static void WriteSection(DocumentContext document, GalleySection section) =>
        document.SectionBefore = document.House.Template.Section.Write(document.Xml, section, story => RelationshipsPart.StoryId(document.PartOf(story)), goesOn: document.SectionsWritten++ > 0, document.SectionBefore);

    /// <summary>Writes a header or a footer.</summary>
    public static void WriteStory(DocumentContext document, GalleyStory story)
    {
        using (document.Xml.Element(story.Kind.IsFooter ? "w:ftr"u8 : "w:hdr"u8))
        {
            WriteNamespaces(document.Xml);
            foreach (var paragraph in story.Paragraphs) ParagraphWriter.Write(document, paragraph);
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
        xml.Attribute("xmlns:mc"u8, Namespaces.Compatibility);
        xml.Attribute("xmlns:w14"u8, Namespaces.Since2010);
        xml.Attribute("mc:Ignorable"u8, "w14"u8);
    }
}
