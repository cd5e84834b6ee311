using Fennick.Drawing;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes the colours, lines and words of charts (ECMA-376 Part 1, §20.1).</summary>
internal sealed class ChartInk(Utf8XmlWriter xml, HouseDesign house, double points)
{
    private const int EnglishMetricUnitsInPoint = 12_700;
    private readonly long size = (long)Math.Round(points * 100);

    /// <summary>A fill; none if there is no colour.</summary>
    public void Fill(DrawnColour? colour)
    {
        if (colour is not { } seen)
        {
            xml.Raw("<a:noFill/>"u8);
            return;
        }
        using (xml.Element("a:solidFill"u8)) Colour(seen);
    }

    /// <summary>A line; none if there is no colour.</summary>
    public void Line(DrawnColour? colour, double points, int dash = 0, bool isFlat = false)
    {
        using (xml.Element("a:ln"u8))
        {
            if (colour is not null)
            {
                xml.Attribute("w"u8, (long)Math.Round(points * EnglishMetricUnitsInPoint));
                xml.Attribute("cap"u8, isFlat ? "flat"u8 : "rnd"u8);
            }
            Fill(colour);
            if (colour is null) return;
            if (dash > 0) xml.Raw(dash switch { 1 => "<a:prstDash val=\"dash\"/>"u8, 2 => "<a:prstDash val=\"sysDot\"/>"u8, _ => "<a:prstDash val=\"lgDashDot\"/>"u8 });
            xml.Raw("<a:round/>"u8);
        }
    }

    /// <summary>The fill and the outline of a shape.</summary>
    public void Shape(DrawnColour? fill, DrawnColour? line = null, double points = 0, int dash = 0)
    {
        using (xml.Element("c:spPr"u8))
        {
            Fill(fill);
            Line(line, points, dash);
        }
    }

    /// <summary>An outline alone, as lines have it.</summary>
    public void Stroke(DrawnColour? line, double points, int dash = 0, bool isFlat = false)
    {
        using (xml.Element("c:spPr"u8)) Line(line, points, dash, isFlat);
    }

    /// <summary>How words look where they differ from the rest of the chart.</summary>
    public void Words(DrawnColour? colour, bool bold)
    {
        using (xml.Element("c:txPr"u8))
        {
            xml.Raw("<a:bodyPr/><a:lstStyle/>"u8);
            using (xml.Element("a:p"u8))
            {
                using (xml.Element("a:pPr"u8)) RunProperties("a:defRPr"u8, null, colour, bold);
                xml.Raw("<a:endParaRPr/>"u8);
            }
        }
    }

    /// <summary>Words as they stand, in paragraphs for their lines.</summary>
    public void RichText(string words, string language, DrawnColour? colour = null, bool bold = false, ReadOnlySpan<byte> alignment = default)
    {
        using (xml.Element("c:tx"u8))
        using (xml.Element("c:rich"u8))
        {
            xml.Raw("<a:bodyPr rot=\"0\" vert=\"horz\" wrap=\"none\"/><a:lstStyle/>"u8);
            foreach (var line in words.Split('\n')) Paragraph(line, language, colour, bold, alignment);
        }
    }

    /// <summary>The title of a chart on one line: what is bold, what is plain, or both.</summary>
    public void Title(string? bold, string? plain, string language)
    {
        using (xml.Element("c:tx"u8))
        using (xml.Element("c:rich"u8))
        {
            xml.Raw("<a:bodyPr rot=\"0\" vert=\"horz\"/><a:lstStyle/>"u8);
            using (xml.Element("a:p"u8))
            {
                using (xml.Element("a:pPr"u8))
                {
                    xml.Attribute("algn"u8, "l"u8);
                    RunProperties("a:defRPr"u8, null, null, bold is not null);
                }
                if (bold is not null) Run(plain is null ? bold : $"{bold}: ", language, null, true);
                if (plain is not null) Run(plain, language, null, false);
            }
        }
    }

    private void Run(string words, string language, DrawnColour? colour, bool bold)
    {
        using (xml.Element("a:r"u8))
        {
            RunProperties("a:rPr"u8, language, colour, bold);
            xml.TextElement("a:t"u8, words);
        }
    }

    private void Paragraph(string line, string language, DrawnColour? colour, bool bold, ReadOnlySpan<byte> alignment)
    {
        using (xml.Element("a:p"u8))
        {
            using (xml.Element("a:pPr"u8))
            {
                if (!alignment.IsEmpty) xml.Attribute("algn"u8, alignment);
                RunProperties("a:defRPr"u8, null, colour, bold);
            }
            Run(line, language, colour, bold);
        }
    }

    private void RunProperties(ReadOnlySpan<byte> element, string? language, DrawnColour? colour, bool bold)
    {
        using (xml.Element(element))
        {
            if (language is not null) xml.Attribute("lang"u8, language);
            // A title has a size of its own in every reader, unless it says another.
            xml.Attribute("sz"u8, size);
            xml.Attribute("b"u8, bold ? 1 : 0);
            if (colour is { } seen) using (xml.Element("a:solidFill"u8)) Colour(seen);
        }
    }

    private void Colour(DrawnColour colour)
    {
        if (colour.Theme is { } theme && house.IsInTheme(theme))
        {
            using (xml.Element("a:schemeClr"u8))
            {
                xml.Attribute("val"u8, NameOf(theme));
                if (colour.Modulation != 100_000) Change("a:lumMod"u8, colour.Modulation);
                if (colour.Offset != 0) Change("a:lumOff"u8, colour.Offset);
                if (colour.Opacity < 1) Change("a:alpha"u8, (int)(colour.Opacity * 100_000));
            }
            return;
        }
        using (xml.Element("a:srgbClr"u8))
        {
            xml.Attribute("val"u8, colour.Rgb.ToString());
            if (colour.Opacity < 1) Change("a:alpha"u8, (int)(colour.Opacity * 100_000));
        }
    }

    private void Change(ReadOnlySpan<byte> element, int value)
    {
        using (xml.Element(element)) xml.Attribute("val"u8, value);
    }

    private static ReadOnlySpan<byte> NameOf(ThemeColour colour) => colour switch
    {
        ThemeColour.Text => "tx1"u8,
        ThemeColour.Background => "bg1"u8,
        ThemeColour.StrongText => "tx2"u8,
        ThemeColour.Tint => "bg2"u8,
        ThemeColour.Accent1 => "accent1"u8,
        ThemeColour.Accent2 => "accent2"u8,
        ThemeColour.Accent3 => "accent3"u8,
        ThemeColour.Accent4 => "accent4"u8,
        ThemeColour.Accent5 => "accent5"u8,
        ThemeColour.Accent6 => "accent6"u8,
        ThemeColour.Link => "hlink"u8,
        _ => "folHlink"u8,
    };
}
