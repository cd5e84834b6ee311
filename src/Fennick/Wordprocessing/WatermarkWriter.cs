using System.Globalization;
using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>Writes the word across a page, in the form in which word processors write their own (ECMA-376 Part 4, §19.1): they can change it and take it away.</summary>
internal static class WatermarkWriter
{
    private const double LetterWidth = 60;
    private const double Widest = 0.85;
    private const double LetterHeight = 1.6;

    public static void Write(DocumentContext document, GalleyWatermark watermark)
    {
        var word = watermark.Word;
        var xml = document.Xml;
        var width = Math.Min(Widest * watermark.Room.Points, LetterWidth * Math.Max(2, word.Length));
        var height = width / Math.Max(2, word.Length) * LetterHeight;
        var number = document.NextDrawing();
        xml.Raw("""
            <w:r><w:rPr><w:noProof/></w:rPr><w:pict xmlns:v="urn:schemas-microsoft-com:vml" xmlns:o="urn:schemas-microsoft-com:office:office"><v:shapetype id="_x0000_t136" coordsize="21600,21600" o:spt="136" adj="10800" path="m@7,l@8,m@5,21600l@6,21600e"><v:formulas><v:f eqn="sum #0 0 10800"/><v:f eqn="prod #0 2 1"/><v:f eqn="sum 21600 0 @1"/><v:f eqn="sum 0 0 @2"/><v:f eqn="sum 21600 0 @3"/><v:f eqn="if @0 @3 0"/><v:f eqn="if @0 21600 @1"/><v:f eqn="if @0 0 @2"/><v:f eqn="if @0 @4 21600"/><v:f eqn="mid @5 @6"/><v:f eqn="mid @8 @5"/><v:f eqn="mid @7 @8"/><v:f eqn="mid @6 @7"/><v:f eqn="sum @6 0 @5"/></v:formulas><v:path textpathok="t" o:connecttype="custom" o:connectlocs="@9,0;@10,10800;@11,21600;@12,10800" o:connectangles="270,180,90,0"/><v:textpath on="t" fitshape="t"/></v:shapetype>
            """u8);
        using (xml.Element("v:shape"u8))
        {
            xml.Attribute("id"u8, string.Create(CultureInfo.InvariantCulture, $"PowerPlusWaterMarkObject{number}"));
            xml.Attribute("o:spid"u8, string.Create(CultureInfo.InvariantCulture, $"_x0000_s{2048 + number}"));
            xml.Attribute("type"u8, "#_x0000_t136"u8);
            xml.Attribute("alt"u8, word);
            xml.Attribute("style"u8, string.Create(CultureInfo.InvariantCulture, $"position:absolute;margin-left:0;margin-top:0;width:{width:0.#}pt;height:{height:0.#}pt;rotation:315;z-index:-251658752;mso-position-horizontal:center;mso-position-horizontal-relative:margin;mso-position-vertical:center;mso-position-vertical-relative:margin"));
            xml.Attribute("o:allowincell"u8, "f"u8);
            xml.Attribute("fillcolor"u8, "silver"u8);
            xml.Attribute("stroked"u8, "f"u8);
            xml.Raw("<v:fill opacity=\".5\"/>"u8);
            using (xml.Element("v:textpath"u8))
            {
                xml.Attribute("style"u8, $"font-family:'{document.House.Design.HeadingFamily}';font-size:1pt");
                xml.Attribute("string"u8, word);
            }
        }
        xml.Raw("</w:pict></w:r>"u8);
    }
}
