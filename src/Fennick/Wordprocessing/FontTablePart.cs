using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/fontTable.xml</c> (ECMA-376 Part 1, §17.8).</summary>
internal static class FontTablePart
{
    public static void Write(Utf8XmlWriter xml, HouseDesign house)
    {
        using (xml.Element("w:fonts"u8))
        {
            xml.Attribute("xmlns:w"u8, Namespaces.Main);
            foreach (var family in new[] { house.BodyFamily, house.HeadingFamily, house.TableFamily ?? house.HeadingFamily, house.CodeFamily }.Distinct())
            {
                using (xml.Element("w:font"u8))
                {
                    xml.Attribute("w:name"u8, family);
                    if (FontAlternatives.TwinOf(family) is { } twin) xml.Value("w:altName"u8, twin);
                    xml.Value("w:charset"u8, "00"u8);
                    xml.Value("w:family"u8, family == house.CodeFamily ? "modern"u8 : FontAlternatives.KindOf(family) switch { FontKind.Roman => "roman"u8, FontKind.Swiss => "swiss"u8, FontKind.Modern => "modern"u8, _ => "auto"u8 });
                    xml.Value("w:pitch"u8, family == house.CodeFamily ? "fixed"u8 : "variable"u8);
                }
            }
        }
    }
}
