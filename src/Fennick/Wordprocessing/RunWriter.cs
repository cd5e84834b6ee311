using System.Buffers;
using System.Collections.Immutable;
using System.Globalization;
using Fennick.Flow;
using Fennick.Mathematics;
using Fennick.Records;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes runs of text, fields, links and bookmarks (ECMA-376 Part 1, §17.3.2 and §17.16).</summary>
internal static class RunWriter
{
    private static readonly SearchValues<char> Breaking = SearchValues.Create("\t\n\r\u2011\u00AD\u000B");

    public static void Write(DocumentContext document, GalleyInline inline, bool inBoldParagraph) => Write(document, inline, inBoldParagraph, default);

    private static void Write(DocumentContext document, GalleyInline inline, bool inBoldParagraph, Look look)
    {
        var xml = document.Xml;
        switch (inline)
        {
            case GalleyText { Origins.IsEmpty: false } text when document.Record is { } record:
                WriteValues(document, record, text, Effective(text.Format), look);
                break;
            case GalleyText text:
                WriteText(document, text.Text, Effective(text.Format), look);
                document.Record?.Words(text.Text);
                break;
            case GalleyBreak:
                xml.Raw("<w:r><w:br/></w:r>"u8);
                document.Record?.Words("\n");
                break;
            case GalleyTab:
                xml.Raw("<w:r><w:tab/></w:r>"u8);
                document.Record?.Words("\t");
                break;
            case GalleySequence { IsToldToOthers: true, Starts: false } sequence:
                WriteField(document, FieldCodes.Of(sequence), sequence.Result, Effective(sequence.Format), look, FieldCodes.ToldToOthers(sequence));
                break;
            case GalleyField field:
                WriteField(document, FieldCodes.Of(field), field.Result, Effective(field.Format), look);
                break;
            case GalleyWhere where:
                ImmutableArray<GalleyInline> parts = document.NearbyWords(where) is { } nearby ? [new GalleyText(nearby, where.Format)]
                    : [new GalleyText(where.Words.BeforeNumber, where.Format), new GalleyPageNumber(where.Bookmark, where.Block, where.Format), new GalleyText(where.Words.BehindNumber, where.Format)];
                Write(document, new GalleyAnchor(where.Bookmark, parts), inBoldParagraph, look);
                break;
            case GalleyPageNumber number:
                WriteField(document, FieldCodes.Of(number), document.PageOf(number), Effective(number.Format), look);
                break;
            case GalleyWatermark watermark:
                WatermarkWriter.Write(document, watermark);
                break;
            case GalleyPageCount count:
                WriteField(document, FieldCodes.PageCount, document.PageCount.ToString(CultureInfo.InvariantCulture), Effective(count.Format), look);
                break;
            case GalleyContentsBegin begin:
                WriteFieldStart(document, FieldCodes.Of(begin), CharacterFormat.Plain, look);
                break;
            case GalleyIndexBegin:
                WriteFieldStart(document, FieldCodes.Index, CharacterFormat.Plain, look);
                break;
            case GalleyIndexPages pages:
                WriteText(document, document.PagesOf(pages), CharacterFormat.Plain, look);
                document.Record?.Words(document.PagesOf(pages));
                break;
            case GalleyIndexMark mark:
                // It has no result, and is not to be seen (§17.16.5.74).
                xml.Raw("<w:r><w:rPr><w:vanish/></w:rPr><w:fldChar w:fldCharType=\"begin\"/></w:r><w:r><w:rPr><w:vanish/></w:rPr><w:instrText xml:space=\"preserve\"> "u8);
                xml.Text(FieldCodes.Of(mark));
                xml.Raw(" </w:instrText></w:r><w:r><w:rPr><w:vanish/></w:rPr><w:fldChar w:fldCharType=\"end\"/></w:r>"u8);
                break;
            case GalleyContentsEnd:
                WriteFieldCharacter(document, "end"u8, CharacterFormat.Plain, look);
                break;
            case GalleyNoteMark mark:
                using (xml.Element("w:r"u8))
                {
                    WriteProperties(document, CharacterFormat.NoteMark, look, rightToLeft: false);
                    using (xml.Element("w:footnoteReference"u8)) xml.Attribute("w:id"u8, document.NoteId(mark.Number));
                }
                document.Record?.Object(ObjectKind.Note, string.Create(CultureInfo.InvariantCulture, $"{document.NoteId(mark.Number)}"));
                break;
            case GalleyOwnNoteMark:
                using (xml.Element("w:r"u8))
                {
                    WriteProperties(document, CharacterFormat.NoteMark, look, rightToLeft: false);
                    xml.Empty("w:footnoteRef"u8);
                }
                break;
            case GalleyBookmark bookmark:
                var id = document.NextBookmark();
                using (xml.Element("w:bookmarkStart"u8))
                {
                    xml.Attribute("w:id"u8, id);
                    xml.Attribute("w:name"u8, bookmark.Name);
                }
                WriteAll(bookmark, look);
                using (xml.Element("w:bookmarkEnd"u8)) xml.Attribute("w:id"u8, id);
                break;
            case GalleyLink link:
                using (xml.Element("w:hyperlink"u8))
                {
                    xml.Attribute("r:id"u8, document.Story.AddLink(link.Target));
                    WriteAll(link, look);
                }
                break;
            case GalleyAnchor anchor:
                using (xml.Element("w:hyperlink"u8))
                {
                    xml.Attribute("w:anchor"u8, anchor.Bookmark);
                    xml.Attribute("w:history"u8, 1);
                    WriteAll(anchor, look);
                }
                break;
            case GalleyControl control:
                using (xml.Element("w:sdt"u8))
                {
                    using (xml.Element("w:sdtPr"u8))
                    {
                        xml.Value("w:alias"u8, control.Tag);
                        xml.Value("w:tag"u8, control.Tag);
                        xml.Value("w:id"u8, document.NextControl());
                        xml.Empty("w:text"u8);
                    }
                    using (xml.Element("w:sdtContent"u8)) WriteAll(control, look);
                }
                break;
            case GalleyStyled styled:
                WriteAll(styled, look with { Style = styled.Style });
                break;
            case GalleyColoured coloured:
                WriteAll(coloured, look with { Colour = coloured.Colour });
                break;
            case GalleyFormula formula:
                Write(document, formula.Formula, displayed: false);
                break;
            case GalleyChart chart:
                var chartPart = DrawingWriter.Write(document, chart);
                document.Record?.Object(ObjectKind.Chart, chartPart);
                break;
            case GalleySmallChart small:
                var drawn = xml.Length;
                DrawingWriter.Write(document, small);
                document.Record?.Object(ObjectKind.Drawing, WrittenObject.KeyOfPaths(xml.Since(drawn)));
                break;
            case GalleyPicture picture:
                var picturePart = DrawingWriter.Write(document, picture);
                document.Record?.Object(ObjectKind.Picture, picturePart);
                break;
            default:
                throw new InvalidOperationException($"No writer for {inline.GetType().Name}.");
        }

        void WriteAll(GalleyContainer container, Look inside)
        {
            foreach (var inner in container.Content) Write(document, inner, inBoldParagraph, inside);
        }

        // Bold is a toggle: set by the paragraph's style and again by a run's, it cancels.
        CharacterFormat Effective(CharacterFormat format) => inBoldParagraph ? format & ~CharacterFormat.Bold : format;
    }

    private static void WriteField(DocumentContext document, string instruction, string result, CharacterFormat format, Look look, string? forOthers = null)
    {
        WriteFieldStart(document, instruction, format, look, forOthers);
        WriteText(document, result, format, look);
        WriteFieldCharacter(document, "end"u8, format, look);
        document.Record?.Field(result, instruction);
    }

    /// <summary>A formula, with its letters for the record.</summary>
    internal static void Write(DocumentContext document, Formula formula, bool displayed)
    {
        var start = document.Xml.Length;
        if (displayed) FormulaWriter.WriteDisplayed(document.Xml, formula);
        else FormulaWriter.Write(document.Xml, formula);
        if (document.Record is not { } record) return;
        var written = document.Xml.Since(start);
        record.Object(ObjectKind.Formula, WrittenObject.KeyOf(written), WrittenObject.LettersOf(written));
    }

    /// <summary>Text with values in it, each between the ends of its mark.</summary>
    private static void WriteValues(DocumentContext document, RecordWriter record, GalleyText text, CharacterFormat format, Look look)
    {
        var at = 0;
        foreach (var (start, length, origin) in text.Origins)
        {
            WriteWords(at, start - at);
            var value = text.Text.Substring(start, length);
            var number = record.Value(value, origin);
            var mark = number > 0 ? document.BeginValue(number) : 0;
            WriteText(document, value, format, look);
            if (number > 0) document.EndValue(mark);
            at = start + length;
        }
        WriteWords(at, text.Text.Length - at);

        void WriteWords(int start, int length)
        {
            if (length <= 0) return;
            WriteText(document, text.Text.AsSpan(start, length), format, look);
            record.Words(text.Text.AsSpan(start, length));
        }
    }

    private static void WriteFieldStart(DocumentContext document, string instruction, CharacterFormat format, Look look, string? forOthers = null)
    {
        var xml = document.Xml;
        WriteFieldCharacter(document, "begin"u8, format, look);
        using (xml.Element("w:r"u8))
        {
            WriteProperties(document, format, look, rightToLeft: false);
            using (xml.Element("w:instrText"u8))
            {
                xml.Attribute("xml:space"u8, "preserve"u8);
                xml.Text($" {instruction} ");
            }
        }
        if (forOthers is not null) WriteForOthers(xml, forOthers);
        WriteFieldCharacter(document, "separate"u8, format, look);
    }

    /// <summary>A part of an instruction for readers that know less than the word processor (ECMA-376 Part 3, §9.3).</summary>
    private static void WriteForOthers(Utf8XmlWriter xml, string instruction)
    {
        using var run = xml.Element("w:r"u8);
        using var choices = xml.Element("mc:AlternateContent"u8);
        xml.Attribute("xmlns:mc"u8, Namespaces.Compatibility);
        using (xml.Element("mc:Choice"u8))
        {
            xml.Attribute("xmlns:w15"u8, Namespaces.Since2013);
            xml.Attribute("Requires"u8, "w15"u8);
        }
        using (xml.Element("mc:Fallback"u8))
        using (xml.Element("w:instrText"u8))
        {
            xml.Attribute("xml:space"u8, "preserve"u8);
            xml.Text(instruction);
        }
    }

    private static void WriteFieldCharacter(DocumentContext document, ReadOnlySpan<byte> type, CharacterFormat format, Look look)
    {
        using (document.Xml.Element("w:r"u8))
        {
            WriteProperties(document, format, look, rightToLeft: false);
            using (document.Xml.Element("w:fldChar"u8)) document.Xml.Attribute("w:fldCharType"u8, type);
        }
    }

    private static void WriteText(DocumentContext document, ReadOnlySpan<char> text, CharacterFormat format, Look look)
    {
        if (format == CharacterFormat.Plain && look == default && Utf8XmlWriter.IsSimple(text) && !text.IsEmpty)
        {
            WriteSimpleRun(document.Xml, text);
            return;
        }
        if (!Direction.HasRightToLeft(text))
        {
            WriteRun(document, text, format, look, rightToLeft: false);
            return;
        }
        foreach (var (start, length, rightToLeft) in Direction.Split(text.ToString()))
            WriteRun(document, text.Slice(start, length), format, look, rightToLeft);
    }

    /// <summary>The run that most text is: nothing in it needs a look at its characters.</summary>
    private static void WriteSimpleRun(Utf8XmlWriter xml, ReadOnlySpan<char> text)
    {
        xml.Raw(NeedsPreserving(text) ? "<w:r><w:t xml:space=\"preserve\">"u8 : "<w:r><w:t>"u8);
        xml.Text(text);
        xml.Raw("</w:t></w:r>"u8);
    }

    private static bool NeedsPreserving(ReadOnlySpan<char> text) => text[0] == ' ' || text[^1] == ' ' || text.IndexOf("  ", StringComparison.Ordinal) >= 0;

    private static void WriteRun(DocumentContext document, ReadOnlySpan<char> text, CharacterFormat format, Look look, bool rightToLeft)
    {
        if (text.IsEmpty) return;
        var xml = document.Xml;
        using (xml.Element("w:r"u8))
        {
            WriteProperties(document, format, look, rightToLeft);
            WriteContent(xml, text);
        }
    }

    /// <summary>Writes what a run holds: characters, and elements for breaks, tabs and hyphens.</summary>
    internal static void WriteContent(Utf8XmlWriter xml, ReadOnlySpan<char> text)
    {
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
    private static void WriteProperties(DocumentContext document, CharacterFormat format, Look look, bool rightToLeft)
    {
        if (format == CharacterFormat.Plain && look == default && !rightToLeft) return;
        var xml = document.Xml;
        var style = format switch
        {
            _ when look.Style is not null => CharacterFormat.Plain,
            _ when format.HasFlag(CharacterFormat.Link) => CharacterFormat.Link,
            _ when format.HasFlag(CharacterFormat.NoteMark) => CharacterFormat.NoteMark,
            _ when format.HasFlag(CharacterFormat.Code) => CharacterFormat.Code,
            _ when format.HasFlag(CharacterFormat.Bold) => CharacterFormat.Bold,
            _ when format.HasFlag(CharacterFormat.Italic) => CharacterFormat.Italic,
            _ => CharacterFormat.Plain,
        };
        var beside = format & ~style;
        using (xml.Element("w:rPr"u8))
        {
            if (look.Style is { } named) xml.Value("w:rStyle"u8, named.Id);
            else if (style != CharacterFormat.Plain)
            {
                xml.Value("w:rStyle"u8, document.House.CharacterStyleId(style switch
                {
                    CharacterFormat.Link => CharacterRole.Link,
                    CharacterFormat.NoteMark => CharacterRole.NoteMark,
                    CharacterFormat.Code => CharacterRole.Code,
                    CharacterFormat.Bold => CharacterRole.Strong,
                    _ => CharacterRole.Emphasis,
                }));
            }
            if (beside.HasFlag(CharacterFormat.Code)) StylesPart.WriteFont(xml, document.House.Design, FontSlot.Code);
            if (beside.HasFlag(CharacterFormat.Bold) && look.Style is not { Bold: true }) xml.Raw("<w:b/><w:bCs/>"u8);
            if (beside.HasFlag(CharacterFormat.Italic) && look.Style is not { Italic: true }) xml.Raw("<w:i/><w:iCs/>"u8);
            if (beside.HasFlag(CharacterFormat.Struck)) xml.Empty("w:strike"u8);
            if (beside.HasFlag(CharacterFormat.Code)) xml.Empty("w:noProof"u8);
            if (look.Colour is { } colour) xml.Value("w:color"u8, colour);
            if ((beside & (CharacterFormat.Raised | CharacterFormat.NoteMark)) != 0) xml.Value("w:vertAlign"u8, "superscript"u8);
            if (rightToLeft) xml.Empty("w:rtl"u8);
        }
    }

    /// <summary>What the text around a run gives it: a style of the house, a colour.</summary>
    private readonly record struct Look(CharacterStyle? Style, string? Colour);
}
