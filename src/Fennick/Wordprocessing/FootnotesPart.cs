using System.Collections.Immutable;
using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/footnotes.xml</c> (ECMA-376 Part 1, §17.11).</summary>
internal static class FootnotesPart
{
    public static void Write(DocumentContext document, ImmutableArray<ImmutableArray<FlowParagraph>> notes)
    {
        var xml = document.Xml;
        using (xml.Element("w:footnotes"u8))
        {
            DocumentPart.WriteNamespaces(xml);
            xml.Raw("""
                <w:footnote w:type="separator" w:id="-1"><w:p><w:r><w:separator/></w:r></w:p></w:footnote><w:footnote w:type="continuationSeparator" w:id="0"><w:p><w:r><w:continuationSeparator/></w:r></w:p></w:footnote>
                """u8);
            for (var i = 0; i < notes.Length; i++)
            {
                using (xml.Element("w:footnote"u8))
                {
                    xml.Attribute("w:id"u8, i + 1);
                    foreach (var paragraph in notes[i]) ParagraphWriter.Write(document, paragraph);
                }
            }
        }
    }
}
