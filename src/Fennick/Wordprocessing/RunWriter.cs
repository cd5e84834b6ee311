using System.Buffers;
using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>Writes runs of text, fields, links and bookmarks (ECMA-376 Part 1, §17.3.2 and §17.16).</summary>
internal static class RunWriter
{
    private static readonly SearchValues<char> Breaking = SearchValues.Create("\t\n\r\u2011\u00AD\u000B");

    public static void Write(DocumentContext document, FlowInline inline, bool inBoldParagraph)
    {
        var xml = document.Xml;
        switch (inline)
        {
            case FlowText text:
                WriteText(xml, text.Text, Effective(text.Format));
                break;
            case FlowBreak:
                xml.Raw("<w:r><w:br/></w:r>"u8);
                break;
            case FlowTab:
                xml.Raw("<w:r><w:tab/></w:r>"u8);
                break;
            case FlowField field:
                WriteField(xml, field, Effective(field.Format));
                break;
            case FlowBookmark bookmark:
                var id = document.NextBookmark();
                using (xml.Element("w:bookmarkStart"u8))
                {
                    xml.Attribute("w:id"u8, id);
                    xml.Attribute("w:name"u8, bookmark.Name);
                }
                foreach (var inner in bookmark.Content) Write(document, inner, inBoldParagraph);
                using (xml.Element("w:bookmarkEnd"u8)) xml.Attribute("w:id"u8, id);
                break;
            case FlowLink link:
                using (xml.Element("w:hyperlink"u8))
                {
                    xml.Attribute("r:id"u8, document.AddLink(link.Target));
                    foreach (var inner in link.Content) Write(document, inner, inBoldParagraph);
                }
                break;
            case FlowChart chart:
                DrawingWriter.Write(document, chart);
                break;
            case FlowPicture picture:
                DrawingWriter.Write(document, picture);
                break;
            default:
                throw new InvalidOperationException($"No writer for {inline.GetType().Name}.");
        }

        // Bold is a toggle: set by the paragraph's style and again by a run's, it cancels.
        CharacterFormat Effective(CharacterFormat format) => inBoldParagraph ? format & ~CharacterFormat.Bold : format;
    }

    private static void WriteField(Utf8XmlWriter xml, FlowField field, CharacterFormat format)
    {
        WriteFieldCharacter("begin"u8);
        using (xml.Element("w:r"u8))
        {
            WriteProperties(xml, format, rightToLeft: false);
            using (xml.Element("w:instrText"u8))
            {
                xml.Attribute("xml:space"u8, "preserve"u8);
                xml.Text($" {field.Instruction} ");
            }
        }
        WriteFieldCharacter("separate"u8);
        WriteText(xml, field.Result, format);
        WriteFieldCharacter("end"u8);

        void WriteFieldCharacter(ReadOnlySpan<byte> type)
        {
            using (xml.Element("w:r"u8))
            {
                WriteProperties(xml, format, rightToLeft: false);
                using (xml.Element("w:fldChar"u8)) xml.Attribute("w:fldCharType"u8, type);
            }
        }
    }

    private static void WriteText(Utf8XmlWriter xml, ReadOnlySpan<char> text, CharacterFormat format)
    {
        if (format == CharacterFormat.Plain && Utf8XmlWriter.IsSimple(text) && !text.IsEmpty)
        {
            WriteSimpleRun(xml, text);
            return;
        }
        if (!Direction.HasRightToLeft(text))
        {
            WriteRun(xml, text, format, rightToLeft: false);
            return;
        }
        foreach (var (start, length, rightToLeft) in Direction.Split(text.ToString()))
            WriteRun(xml, text.Slice(start, length), format, rightToLeft);
    }

    /// <summary>The run that most text is: nothing in it needs a look at its characters.</summary>
    private static void WriteSimpleRun(Utf8XmlWriter xml, ReadOnlySpan<char> text)
    {
        xml.Raw(NeedsPreserving(text) ? "<w:r><w:t xml:space=\"preserve\">"u8 : "<w:r><w:t>"u8);
        xml.Text(text);
        xml.Raw("</w:t></w:r>"u8);
    }

    private static bool NeedsPreserving(ReadOnlySpan<char> text) => text[0] == ' ' || text[^1] == ' ' || text.IndexOf("  ", StringComparison.Ordinal) >= 0;

    private static void WriteRun(Utf8XmlWriter xml, ReadOnlySpan<char> text, CharacterFormat format, bool rightToLeft)
    {
        if (text.IsEmpty) return;
        using (xml.Element("w:r"u8))
        {
            WriteProperties(xml, format, rightToLeft);
            while (true)
            {
                var special = text.IndexOfAny(Breaking);
                WriteCharacters(xml, special < 0 ? text : text[..special]);
                if (special < 0) return;
                WriteSpecial(xml, text[special]);
                var taken = text[special] == '\r' && special + 1 < text.Length && text[special + 1] == '\n' ? 2 : 1;
                text = text[(special + taken)..];
            }
        }
    }

    private static void WriteSpecial(Utf8XmlWriter xml, char special) => xml.Empty(special switch
    {
        '\t' => "w:tab"u8,
        '\u2011' => "w:noBreakHyphen"u8,
        '\u00AD' => "w:softHyphen"u8,
        _ => "w:br"u8,
    });

    private static void WriteCharacters(Utf8XmlWriter xml, ReadOnlySpan<char> text)
    {
        if (text.IsEmpty) return;
        using (xml.Element("w:t"u8))
        {
            if (NeedsPreserving(text) || text.IndexOfAny(Utf8XmlWriter.MayBeLeftOut) >= 0) xml.Attribute("xml:space"u8, "preserve"u8);
            xml.Text(text);
        }
    }

    /// <summary>A run has one character style; a second quality is set beside it, and never one that the style sets already.</summary>
    private static void WriteProperties(Utf8XmlWriter xml, CharacterFormat format, bool rightToLeft)
    {
        if (format == CharacterFormat.Plain && !rightToLeft) return;
        var style = format switch
        {
            _ when format.HasFlag(CharacterFormat.Link) => CharacterFormat.Link,
            _ when format.HasFlag(CharacterFormat.Code) => CharacterFormat.Code,
            _ when format.HasFlag(CharacterFormat.Bold) => CharacterFormat.Bold,
            _ when format.HasFlag(CharacterFormat.Italic) => CharacterFormat.Italic,
            _ => CharacterFormat.Plain,
        };
        var beside = format & ~style;
        using (xml.Element("w:rPr"u8))
        {
            if (style != CharacterFormat.Plain)
            {
                xml.Value("w:rStyle"u8, style switch
                {
                    CharacterFormat.Link => "Hyperlink"u8,
                    CharacterFormat.Code => "CodeText"u8,
                    CharacterFormat.Bold => "Strong"u8,
                    _ => "Emphasis"u8,
                });
            }
            if (beside.HasFlag(CharacterFormat.Bold)) xml.Raw("<w:b/><w:bCs/>"u8);
            if (beside.HasFlag(CharacterFormat.Italic)) xml.Raw("<w:i/><w:iCs/>"u8);
            if (beside.HasFlag(CharacterFormat.Struck)) xml.Empty("w:strike"u8);
            if (beside.HasFlag(CharacterFormat.Raised)) xml.Value("w:vertAlign"u8, "superscript"u8);
            if (rightToLeft) xml.Empty("w:rtl"u8);
        }
    }
}
