using System.Collections.Immutable;
using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/footnotes.xml</c> (ECMA-376 Part 1, §17.11).</summary>
internal static class FootnotesPart
{
    /// <summary>The part around the footnotes of a report.</summary>
    public static TemplatePart Create() => TemplatePart.Of("word/footnotes.xml", (xml, gap) =>
    {
        using (xml.Element("w:footnotes"u8))
        {
            DocumentPart.WriteNamespaces(xml);
            xml.Raw("""
                <w:footnote w:type="separator" w:id="-1"><w:p><w:r><w:separator/></w:r></w:p></w:footnote><w:footnote w:type="continuationSeparator" w:id="0"><w:p><w:r><w:continuationSeparator/></w:r></w:p></w:footnote>
                """u8);
            gap(new ContentSegment());
        }
    });

    public static void Write(DocumentContext document, ImmutableArray<ImmutableArray<GalleyParagraph>> notes)
    {
        var xml = document.Xml;
        for (var i = 0; i < notes.Length; i++)
        {
            using (xml.Element("w:footnote"u8))
            {
                xml.Attribute("w:id"u8, document.NoteId(i + 1));
                foreach (var paragraph in notes[i]) ParagraphWriter.Write(document, paragraph);
            }
        }
    }
}
