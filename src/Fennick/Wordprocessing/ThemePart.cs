using Fennick.Formatting;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/theme/theme1.xml</c> (ECMA-376 Part 1, §20.1.6).</summary>
internal static class ThemePart
{
    private static readonly (ThemeColour Colour, string Slot)[] Slots =
    [
        (ThemeColour.Text, "dk1"), (ThemeColour.Background, "lt1"), (ThemeColour.StrongText, "dk2"), (ThemeColour.Tint, "lt2"),
        (ThemeColour.Accent1, "accent1"), (ThemeColour.Accent2, "accent2"), (ThemeColour.Accent3, "accent3"),
        (ThemeColour.Accent4, "accent4"), (ThemeColour.Accent5, "accent5"), (ThemeColour.Accent6, "accent6"),
        (ThemeColour.Link, "hlink"), (ThemeColour.FollowedLink, "folHlink"),
    ];

    /// <summary>The name by which styles call a theme colour.</summary>
    public static ReadOnlySpan<byte> Name(ThemeColour colour) => colour switch
    {
        ThemeColour.Text => "text1"u8,
        ThemeColour.Background => "background1"u8,
        ThemeColour.StrongText => "text2"u8,
        ThemeColour.Tint => "background2"u8,
        ThemeColour.Accent1 => "accent1"u8,
        ThemeColour.Accent2 => "accent2"u8,
        ThemeColour.Accent3 => "accent3"u8,
        ThemeColour.Accent4 => "accent4"u8,
        ThemeColour.Accent5 => "accent5"u8,
        ThemeColour.Accent6 => "accent6"u8,
        ThemeColour.Link => "hyperlink"u8,
        _ => "followedHyperlink"u8,
    };

    public static void Write(Utf8XmlWriter xml, HouseDesign house, Language language)
    {
        using (xml.Element("a:theme"u8))
        {
            xml.Attribute("xmlns:a"u8, Namespaces.Drawing);
            xml.Attribute("name"u8, house.Name);
            using (xml.Element("a:themeElements"u8))
            {
                WriteColours(xml, house);
                WriteFonts(xml, house);
                WriteFormats(xml);
            }
            WriteObjectDefaults(xml, language);
        }
    }

    private static void WriteColours(Utf8XmlWriter xml, HouseDesign house)
    {
        using (xml.Element("a:clrScheme"u8))
        {
            xml.Attribute("name"u8, house.Name);
            foreach (var (colour, slot) in Slots)
            {
                using (xml.Element(System.Text.Encoding.ASCII.GetBytes($"a:{slot}")))
                using (xml.Element("a:srgbClr"u8)) xml.Attribute("val"u8, house.Colours[colour]);
            }
        }
    }

    private static void WriteFonts(Utf8XmlWriter xml, HouseDesign house)
    {
        using (xml.Element("a:fontScheme"u8))
        {
            xml.Attribute("name"u8, house.Name);
            WriteFont("a:majorFont"u8, house.HeadingFamily);
            WriteFont("a:minorFont"u8, house.BodyFamily);
        }

        void WriteFont(ReadOnlySpan<byte> element, string family)
        {
            using (xml.Element(element))
            {
                using (xml.Element("a:latin"u8)) xml.Attribute("typeface"u8, family);
                xml.Raw("<a:ea typeface=\"\"/><a:cs typeface=\"\"/>"u8);
            }
        }
    }

    private static void WriteFormats(Utf8XmlWriter xml) => xml.Raw("""
        <a:fmtScheme name="plain"><a:fillStyleLst><a:solidFill><a:schemeClr val="phClr"/></a:solidFill><a:solidFill><a:schemeClr val="phClr"/></a:solidFill><a:solidFill><a:schemeClr val="phClr"/></a:solidFill></a:fillStyleLst><a:lnStyleLst><a:ln w="6350"><a:solidFill><a:schemeClr val="phClr"/></a:solidFill></a:ln><a:ln w="12700"><a:solidFill><a:schemeClr val="phClr"/></a:solidFill></a:ln><a:ln w="19050"><a:solidFill><a:schemeClr val="phClr"/></a:solidFill></a:ln></a:lnStyleLst><a:effectStyleLst><a:effectStyle><a:effectLst/></a:effectStyle><a:effectStyle><a:effectLst/></a:effectStyle><a:effectStyle><a:effectLst/></a:effectStyle></a:effectStyleLst><a:bgFillStyleLst><a:solidFill><a:schemeClr val="phClr"/></a:solidFill><a:solidFill><a:schemeClr val="phClr"/></a:solidFill><a:solidFill><a:schemeClr val="phClr"/></a:solidFill></a:bgFillStyleLst></a:fmtScheme>
        """u8);

    private static void WriteObjectDefaults(Utf8XmlWriter xml, Language language)
    {
        using (xml.Element("a:objectDefaults"u8))
        using (xml.Element("a:txDef"u8))
        {
            xml.Raw("<a:spPr/><a:bodyPr/>"u8);
            using (xml.Element("a:lstStyle"u8))
            using (xml.Element("a:defPPr"u8))
            using (xml.Element("a:defRPr"u8)) xml.Attribute("lang"u8, language.Tag);
        }
    }
}
