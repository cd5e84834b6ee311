using Fennick.Formatting;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/styles.xml</c> (ECMA-376 Part 1, §17.7).</summary>
internal static class StylesPart
{
    private const double ReadableContrast = 4.5;
    public static void Write(Utf8XmlWriter xml, HouseDesign house, Language language)
    {
        using (xml.Element("w:styles"u8))
        {
            xml.Attribute("xmlns:w"u8, Namespaces.Main);
            WriteDefaults(xml, house, language);
            WriteLatentStyles(xml);
            foreach (var style in house.Styles) WriteStyle(xml, house, style, isDefault: style.Role == StyleRole.Body);
            WriteOtherNames(xml, house);
            WriteDefaultStyles(xml);
            foreach (var style in house.CharacterStyles) WriteCharacterStyle(xml, house, style);
            foreach (var ruling in house.Rulings) WriteRuling(xml, house, ruling);
            foreach (var box in house.Boxes) WriteRuling(xml, house, box, isBox: true);
            WriteCover(xml, house);
        }
    }

    // The body's size stands here and not in Normal, which would beat the table styles.
    private static void WriteDefaults(Utf8XmlWriter xml, HouseDesign house, Language language)
    {
        var body = house.Style(StyleRole.Body);
        using (xml.Element("w:docDefaults"u8))
        {
            using (xml.Element("w:rPrDefault"u8))
            using (xml.Element("w:rPr"u8))
            {
                using (xml.Element("w:rFonts"u8))
                {
                    xml.Attribute("w:asciiTheme"u8, "minorHAnsi"u8);
                    xml.Attribute("w:eastAsiaTheme"u8, "minorEastAsia"u8);
                    xml.Attribute("w:hAnsiTheme"u8, "minorHAnsi"u8);
                    xml.Attribute("w:cstheme"u8, "minorBidi"u8);
                }
                WriteColour(xml, house, body.Colour);
                WriteSize(xml, body.Points);
                using (xml.Element("w:lang"u8))
                {
                    xml.Attribute("w:val"u8, language.Tag);
                    if (language.IsRightToLeft) xml.Attribute("w:bidi"u8, language.Tag);
                }
            }
            using (xml.Element("w:pPrDefault"u8))
            using (xml.Element("w:pPr"u8))
            {
                xml.Empty("w:widowControl"u8);
                if (language.IsRightToLeft) xml.Empty("w:bidi"u8);
            }
        }
    }

    private static void WriteLatentStyles(Utf8XmlWriter xml) => xml.Raw("""
        <w:latentStyles w:defLockedState="0" w:defUIPriority="99" w:defSemiHidden="0" w:defUnhideWhenUsed="0" w:defQFormat="0" w:count="376"><w:lsdException w:name="toc 1" w:semiHidden="1" w:uiPriority="39" w:unhideWhenUsed="1"/><w:lsdException w:name="toc 2" w:semiHidden="1" w:uiPriority="39" w:unhideWhenUsed="1"/><w:lsdException w:name="toc 3" w:semiHidden="1" w:uiPriority="39" w:unhideWhenUsed="1"/><w:lsdException w:name="footnote text" w:semiHidden="1" w:unhideWhenUsed="1"/><w:lsdException w:name="annotation text" w:semiHidden="1" w:unhideWhenUsed="1"/><w:lsdException w:name="header" w:semiHidden="1" w:unhideWhenUsed="1"/><w:lsdException w:name="Table Grid" w:uiPriority="39"/><w:lsdException w:name="Placeholder Text" w:semiHidden="1"/></w:latentStyles>
        """u8);

    /// <summary>Writes a paragraph style; what its base says already is not said again, so that whoever changes the base changes all that stand on it.</summary>
    /// <param name="xml">The writer.</param>
    /// <param name="house">The house.</param>
    /// <param name="style">The style.</param>
    /// <param name="isDefault">Whether it is that of paragraphs without a style.</param>
    /// <param name="saysAll">Whether it is added to a house of others, and says its size and spacing in any case: what such a house says of its base is not all known.</param>
    public static void WriteStyle(Utf8XmlWriter xml, HouseDesign house, ParagraphStyle style, bool isDefault = false, bool saysAll = false)
    {
        var below = style.BasedOn is { } baseRole ? house.Style(baseRole) : null;
        using (xml.Element("w:style"u8))
        {
            xml.Attribute("w:type"u8, "paragraph"u8);
            if (isDefault) xml.Attribute("w:default"u8, "1"u8);
            if (!style.IsBuiltIn) xml.Attribute("w:customStyle"u8, "1"u8);
            xml.Attribute("w:styleId"u8, style.Id);
            xml.Value("w:name"u8, style.Name);
            if (below is not null) xml.Value("w:basedOn"u8, below.Id);
            if (style.Next != style.Role) xml.Value("w:next"u8, house.Style(style.Next).Id);
            xml.Value("w:uiPriority"u8, style.Priority);
            if (style.OnlySize)
            {
                using (xml.Element("w:rPr"u8)) WriteSize(xml, style.Points);
                return;
            }
            xml.Empty("w:qFormat"u8);
            WriteParagraphProperties(xml, house, style, below, saysAll || below is null, isOfOthers: saysAll);
            if (!isDefault) WriteRunProperties(xml, house, style, below, saysAll || below is null);
        }
    }

    /// <summary>The name by which some word processors know the style of lists of captions when they make them anew.</summary>
    public const string OtherNameOfLists = "Figure Index 1";

    /// <summary>Writes a hidden style for each name that another word processor has for one of ours: what it makes anew keeps its look, and so its pages.</summary>
    public static void WriteOtherNames(Utf8XmlWriter xml, HouseDesign house)
    {
        using (xml.Element("w:style"u8))
        {
            xml.Attribute("w:type"u8, "paragraph"u8);
            xml.Attribute("w:customStyle"u8, "1"u8);
            xml.Attribute("w:styleId"u8, "FigureIndex1"u8);
            xml.Value("w:name"u8, OtherNameOfLists);
            xml.Value("w:basedOn"u8, house.Style(StyleRole.ContentsOfKind).Id);
            xml.Value("w:uiPriority"u8, 99);
            xml.Empty("w:semiHidden"u8);
        }
    }

    private static void WriteParagraphProperties(Utf8XmlWriter xml, HouseDesign house, ParagraphStyle style, ParagraphStyle? below, bool saysAll, bool isOfOthers)
    {
        using (xml.Element("w:pPr"u8))
        {
            if (saysAll ? style.KeepWithNext : style.KeepWithNext && !below!.KeepWithNext) xml.Empty("w:keepNext"u8);
            else if (!style.KeepWithNext && below is { KeepWithNext: true }) xml.Value("w:keepNext"u8, "0"u8);
            if (saysAll ? style.KeepLines : style.KeepLines && !below!.KeepLines) xml.Empty("w:keepLines"u8);
            else if (!style.KeepLines && below is { KeepLines: true }) xml.Value("w:keepLines"u8, "0"u8);
            if (style.InMargin) WriteFrame(xml, house.Page);
            if (style.OutlineLevel is { } counted && !house.HeadingLevels.IsEmpty) NumberingPart.WritePlace(xml, counted, NumberingPart.HeadingNumber);
            var list = isOfOthers ? null : NumberingPart.NumberOf(style.Role, NumberingPart.Counts(house));
            if (list is { } ownList) NumberingPart.WritePlace(xml, 0, ownList);
            WriteRules(xml, house, style);
            if (style.Shaded) WriteShading(xml, house, ThemeColour.Tint);
            if (style.RightTabAtTextWidth)
            {
                using (xml.Element("w:tabs"u8))
                using (xml.Element("w:tab"u8))
                {
                    xml.Attribute("w:val"u8, "right"u8);
                    if (style.HasLeader) xml.Attribute("w:leader"u8, "dot"u8);
                    xml.Attribute("w:pos"u8, house.Page.TextWidth.Twips);
                }
            }
            if (saysAll || style.Before != below!.Before || style.After != below.After || style.Lines != below.Lines)
            {
                using (xml.Element("w:spacing"u8))
                {
                    if (saysAll || style.Before != below!.Before) xml.Attribute("w:before"u8, style.Before.Twips);
                    if (saysAll || style.After != below!.After) xml.Attribute("w:after"u8, style.After.Twips);
                    if (saysAll || style.Lines != below!.Lines)
                    {
                        xml.Attribute("w:line"u8, (int)Math.Round(style.Lines * 240));
                        xml.Attribute("w:lineRule"u8, "auto"u8);
                    }
                }
            }
            var isAsBelow = !saysAll && (style.IndentLeft, style.IndentRight, style.Hanging, style.FirstLine) == (below!.IndentLeft, below.IndentRight, below.Hanging, below.FirstLine);
            // The list says where its items stand.
            if (list is null && !isAsBelow && (IsIndented(style) || IsIndented(below)))
            {
                using (xml.Element("w:ind"u8))
                {
                    xml.Attribute("w:left"u8, style.IndentLeft.Twips);
                    if (style.IndentRight != Length.Zero || IsIndented(below)) xml.Attribute("w:right"u8, style.IndentRight.Twips);
                    if (style.Hanging != Length.Zero) xml.Attribute("w:hanging"u8, style.Hanging.Twips);
                    else if (IsIndented(below)) xml.Attribute("w:firstLine"u8, style.FirstLine.Twips);
                }
            }
            if (style.Contextual) xml.Empty("w:contextualSpacing"u8);
            if (saysAll || (style.RightAligned, style.Centred, style.Justified) != (below!.RightAligned, below.Centred, below.Justified))
            {
                if (style.RightAligned) xml.Value("w:jc"u8, "right"u8);
                else if (style.Centred) xml.Value("w:jc"u8, "center"u8);
                else if (!style.Justified && below is { RightAligned: true } or { Centred: true } or { Justified: true }) xml.Value("w:jc"u8, "left"u8);
            }
            if (style.OutlineLevel is { } level) xml.Value("w:outlineLvl"u8, level);
        }
    }

    /// <summary>A frame in the outer margin beside the line at which it is placed; where that is too narrow, at the edge of the text, which flows around it.</summary>
    internal static void WriteFrame(Utf8XmlWriter xml, PageGeometry page)
    {
        var frame = MarginFrame.Of(page);
        using (xml.Element("w:framePr"u8))
        {
            xml.Attribute("w:w"u8, frame.Width.Twips);
            xml.Attribute("w:hSpace"u8, MarginFrame.Gap.Twips);
            xml.Attribute("w:wrap"u8, "around"u8);
            xml.Attribute("w:vAnchor"u8, "text"u8);
            xml.Attribute("w:hAnchor"u8, "margin"u8);
            xml.Attribute("w:x"u8, frame.Left.Twips);
            xml.Attribute("w:y"u8, 1);
        }
    }

    private static bool IsIndented(ParagraphStyle? style) => style is not null && (style.IndentLeft != Length.Zero || style.IndentRight != Length.Zero || style.Hanging != Length.Zero || style.FirstLine != Length.Zero);

    private static void WriteRules(Utf8XmlWriter xml, HouseDesign house, ParagraphStyle style)
    {
        if (style.RuleAbove is null && style.RuleBelow is null) return;
        using (xml.Element("w:pBdr"u8))
        {
            if (style.RuleAbove is { } above) WriteBorder(xml, house, "w:top"u8, above.EighthsOfPoint, above.Space, above.Colour);
            if (style.RuleBelow is { } below) WriteBorder(xml, house, "w:bottom"u8, below.EighthsOfPoint, below.Space, below.Colour);
        }
    }

    private static void WriteRunProperties(Utf8XmlWriter xml, HouseDesign house, ParagraphStyle style, ParagraphStyle? below, bool saysAll)
    {
        using (xml.Element("w:rPr"u8))
        {
            if (below is null || style.Font != below.Font) WriteFont(xml, house, style.Font, overAnother: below is not null);
            WriteToggle("<w:b/><w:bCs/>"u8, "<w:b w:val=\"0\"/><w:bCs w:val=\"0\"/>"u8, style is { Bold: true, LeavesBold: false }, below is { Bold: true, LeavesBold: false });
            WriteToggle("<w:i/><w:iCs/>"u8, "<w:i w:val=\"0\"/><w:iCs w:val=\"0\"/>"u8, style.Italic, below?.Italic);
            if (style.NoProofing) xml.Empty("w:noProof"u8);
            if (style.Hex is { } hex) xml.Value("w:color"u8, hex);
            else if (style.OnFill is { } fill) WriteColour(xml, house, WordsOn(house, fill));
            else if (style.Colour != (below?.Colour ?? ThemeColour.Text)) WriteColour(xml, house, style.Colour);
            if (saysAll || style.Points != below!.Points) WriteSize(xml, style.Points);
        }

        void WriteToggle(ReadOnlySpan<byte> on, ReadOnlySpan<byte> off, bool isOn, bool? wasOn)
        {
            if (isOn) xml.Raw(on);
            else if (wasOn == true) xml.Raw(off);
        }
    }

    internal static void WriteFont(Utf8XmlWriter xml, HouseDesign house, FontSlot slot, bool overAnother = false)
    {
        if (slot == FontSlot.Body && !overAnother) return;
        using (xml.Element("w:rFonts"u8))
        {
            if (slot == FontSlot.Body && house.HasThemeFamilies)
            {
                xml.Attribute("w:asciiTheme"u8, "minorHAnsi"u8);
                xml.Attribute("w:eastAsiaTheme"u8, "minorEastAsia"u8);
                xml.Attribute("w:hAnsiTheme"u8, "minorHAnsi"u8);
                xml.Attribute("w:cstheme"u8, "minorBidi"u8);
            }
            else if ((slot == FontSlot.Heading || (slot == FontSlot.Table && house.TableFamily is null)) && house.HasThemeFamilies)
            {
                xml.Attribute("w:asciiTheme"u8, "majorHAnsi"u8);
                xml.Attribute("w:eastAsiaTheme"u8, "majorEastAsia"u8);
                xml.Attribute("w:hAnsiTheme"u8, "majorHAnsi"u8);
                xml.Attribute("w:cstheme"u8, "majorBidi"u8);
            }
            else
            {
                var family = house.Family(slot);
                xml.Attribute("w:ascii"u8, family);
                xml.Attribute("w:hAnsi"u8, family);
                xml.Attribute("w:cs"u8, family);
            }
        }
    }

    private static void WriteSize(Utf8XmlWriter xml, double points)
    {
        var halfPoints = (int)Math.Round(points * 2);
        xml.Value("w:sz"u8, halfPoints);
        xml.Value("w:szCs"u8, halfPoints);
    }

    private static void WriteColour(Utf8XmlWriter xml, HouseDesign house, ThemeColour colour)
    {
        using (xml.Element("w:color"u8))
        {
            // A colour too pale to be read is deepened where text wears it; light text stands on something dark.
            var own = Colour.Parse(house.Colours[colour])!.Value;
            var deep = colour == ThemeColour.Background ? own : own.ReadableOn(Colour.White);
            xml.Attribute("w:val"u8, deep.ToString());
            if (!house.IsInTheme(colour)) return;
            xml.Attribute("w:themeColor"u8, ThemePart.Name(colour));
            if (deep != own) xml.Attribute("w:themeShade"u8, deep.ShadeOf(own));
        }
    }

    /// <summary>The colour of the house in which words can be read on a fill: that of the paper, or that of strong text.</summary>
    private static ThemeColour WordsOn(HouseDesign house, ThemeColour fill) =>
        Colour.Contrast(Colour.Parse(house.Colours[ThemeColour.Background])!.Value, Colour.Parse(house.Colours[fill])!.Value) >= ReadableContrast ? ThemeColour.Background : ThemeColour.StrongText;

    private static void WriteShading(Utf8XmlWriter xml, HouseDesign house, ThemeColour colour)
    {
        using (xml.Element("w:shd"u8))
        {
            xml.Attribute("w:val"u8, "clear"u8);
            xml.Attribute("w:color"u8, "auto"u8);
            xml.Attribute("w:fill"u8, house.Colours[colour]);
            if (house.IsInTheme(colour)) xml.Attribute("w:themeFill"u8, ThemePart.Name(colour));
        }
    }

    internal static void WriteBorder(Utf8XmlWriter xml, HouseDesign house, ReadOnlySpan<byte> edge, int eighthsOfPoint, int space, ThemeColour colour, string? hex = null)
    {
        using (xml.Element(edge))
        {
            xml.Attribute("w:val"u8, "single"u8);
            xml.Attribute("w:sz"u8, eighthsOfPoint);
            xml.Attribute("w:space"u8, space);
            xml.Attribute("w:color"u8, hex ?? house.Colours[colour]);
            if (hex is null && house.IsInTheme(colour)) xml.Attribute("w:themeColor"u8, ThemePart.Name(colour));
        }
    }

    internal static void WriteDefaultStyles(Utf8XmlWriter xml) => xml.Raw("""
        <w:style w:type="character" w:default="1" w:styleId="DefaultParagraphFont"><w:name w:val="Default Paragraph Font"/><w:uiPriority w:val="1"/><w:semiHidden/><w:unhideWhenUsed/></w:style><w:style w:type="table" w:default="1" w:styleId="TableNormal"><w:name w:val="Normal Table"/><w:uiPriority w:val="99"/><w:semiHidden/><w:unhideWhenUsed/><w:tblPr><w:tblInd w:w="0" w:type="dxa"/><w:tblCellMar><w:top w:w="0" w:type="dxa"/><w:left w:w="108" w:type="dxa"/><w:bottom w:w="0" w:type="dxa"/><w:right w:w="108" w:type="dxa"/></w:tblCellMar></w:tblPr></w:style><w:style w:type="numbering" w:default="1" w:styleId="NoList"><w:name w:val="No List"/><w:uiPriority w:val="99"/><w:semiHidden/><w:unhideWhenUsed/></w:style>
        """u8);

    public static void WriteCharacterStyle(Utf8XmlWriter xml, HouseDesign house, CharacterStyle style)
    {
        using (xml.Element("w:style"u8))
        {
            xml.Attribute("w:type"u8, "character"u8);
            if (!style.IsBuiltIn) xml.Attribute("w:customStyle"u8, "1"u8);
            xml.Attribute("w:styleId"u8, style.Id);
            xml.Value("w:name"u8, style.Name);
            xml.Value("w:basedOn"u8, "DefaultParagraphFont"u8);
            xml.Value("w:uiPriority"u8, style.Priority);
            xml.Empty("w:qFormat"u8);
            using (xml.Element("w:rPr"u8))
            {
                if (style.Font is { } font) WriteFont(xml, house, font);
                if (style.Bold) xml.Raw("<w:b/><w:bCs/>"u8);
                if (style.Italic) xml.Raw("<w:i/><w:iCs/>"u8);
                if (style.SmallCapitals) xml.Empty("w:smallCaps"u8);
                if (style.NoProofing) xml.Empty("w:noProof"u8);
                if (style.Colour is { } colour) WriteColour(xml, house, colour);
                if (style.Underlined) xml.Value("w:u"u8, "single"u8);
                if (style.Shaded) WriteShading(xml, house, ThemeColour.Tint);
                if (style.Raised) xml.Value("w:vertAlign"u8, "superscript"u8);
            }
        }
    }

    /// <summary>Writes the table style of the cover, whose first row is the panel, and of the last page, where it is the last.</summary>
    public static void WriteCover(Utf8XmlWriter xml, HouseDesign house)
    {
        using (xml.Element("w:style"u8))
        {
            xml.Attribute("w:type"u8, "table"u8);
            xml.Attribute("w:customStyle"u8, "1"u8);
            xml.Attribute("w:styleId"u8, house.Cover.StyleId);
            xml.Value("w:name"u8, CoverDesign.StyleName);
            xml.Value("w:basedOn"u8, "TableNormal"u8);
            xml.Value("w:uiPriority"u8, 40);
            WritePanel("firstRow"u8, "w:bottom"u8, "bottom"u8);
            WritePanel("lastRow"u8, "w:top"u8, "top"u8);
        }

        void WritePanel(ReadOnlySpan<byte> row, ReadOnlySpan<byte> edge, ReadOnlySpan<byte> words)
        {
            using (xml.Element("w:tblStylePr"u8))
            {
                xml.Attribute("w:type"u8, row);
                using (xml.Element("w:tcPr"u8))
                {
                    using (xml.Element("w:tcBorders"u8)) WriteBorder(xml, house, edge, house.Cover.Rule.EighthsOfPoint, 0, house.Cover.Rule.Colour, house.Cover.Rule.Hex);
                    WriteShading(xml, house, house.Cover.Fill);
                    xml.Value("w:vAlign"u8, words);
                }
            }
        }
    }

    /// <summary>Rules, shading and margins stand in the table style alone: changing it changes every table.</summary>
    public static void WriteRuling(Utf8XmlWriter xml, HouseDesign house, RulingDesign design, bool isBox = false)
    {
        using (xml.Element("w:style"u8))
        {
            xml.Attribute("w:type"u8, "table"u8);
            xml.Attribute("w:customStyle"u8, "1"u8);
            xml.Attribute("w:styleId"u8, design.StyleId);
            xml.Value("w:name"u8, design.StyleName);
            xml.Value("w:basedOn"u8, "TableNormal"u8);
            xml.Value("w:uiPriority"u8, 40);
            xml.Empty("w:qFormat"u8);
            using (xml.Element("w:tblPr"u8))
            {
                xml.Raw("<w:tblStyleRowBandSize w:val=\"1\"/>"u8);
                if (design.Outer is not null || design.Sides is not null || design.Inner is not null || design.Left is not null)
                {
                    using (xml.Element("w:tblBorders"u8))
                    {
                        WriteRule("w:top"u8, design.Outer);
                        WriteRule("w:left"u8, design.Left ?? design.Sides);
                        WriteRule("w:bottom"u8, isBox ? null : design.Outer);
                        WriteRule("w:right"u8, design.Sides);
                        WriteRule("w:insideH"u8, design.Inner ?? design.Rows);
                        WriteRule("w:insideV"u8, design.Inner ?? design.Columns);
                    }
                }
                using (xml.Element("w:tblCellMar"u8))
                {
                    WriteMargin("w:top"u8, (int)(design.CellPadding * 20));
                    WriteMargin("w:left"u8, (int)(design.CellMargin * 20));
                    WriteMargin("w:bottom"u8, (int)(design.CellPaddingBelow * 20));
                    WriteMargin("w:right"u8, (int)(design.CellMargin * 20));
                }
            }
            if (design.Fill is { } fill)
                using (xml.Element("w:tcPr"u8)) WriteShading(xml, house, fill);
            if (isBox) return;
            WritePart("firstRow"u8, () =>
            {
                if (design.Header is not null)
                    using (xml.Element("w:tcBorders"u8)) WriteRule("w:bottom"u8, design.Header);
                xml.Value("w:vAlign"u8, "bottom"u8);
            });
            WritePart("band2Horz"u8, () => WriteShading(xml, house, ThemeColour.Tint));
        }

        void WritePart(ReadOnlySpan<byte> type, Action properties)
        {
            using (xml.Element("w:tblStylePr"u8))
            {
                xml.Attribute("w:type"u8, type);
                using (xml.Element("w:tcPr"u8)) properties();
            }
        }

        void WriteRule(ReadOnlySpan<byte> edge, TableRule? rule)
        {
            if (rule is not null) WriteBorder(xml, house, edge, rule.EighthsOfPoint, 0, rule.Colour, rule.Hex);
        }

        void WriteMargin(ReadOnlySpan<byte> edge, int twips)
        {
            using (xml.Element(edge))
            {
                xml.Attribute("w:w"u8, twips);
                xml.Attribute("w:type"u8, "dxa"u8);
            }
        }
    }
}
