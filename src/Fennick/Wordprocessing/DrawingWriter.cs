using Fennick.Drawing;
using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>Writes inline drawings (ECMA-376 Part 1, §20.4).</summary>
internal static class DrawingWriter
{
    /// <summary>Writes a chart; the result is the name of its part below <c>word/</c>.</summary>
    public static string Write(DocumentContext document, GalleyChart chart)
    {
        var part = document.AddChart(chart);
        using var run = document.Xml.Element("w:r"u8);
        WriteDrawing(document, chart.Width, chart.Height, chart.Name, chart.Description, "<wp:cNvGraphicFramePr/>"u8, isBehind: false, xml =>
        {
            xml.Attribute("uri"u8, Namespaces.Chart);
            using (xml.Element("c:chart"u8)) xml.Attribute("r:id"u8, RelationshipsPart.ChartId(part));
        });
        return RelationshipsPart.ChartName(part);
    }

    /// <summary>Writes a picture; the result is the name of its part below <c>word/</c>.</summary>
    public static string Write(DocumentContext document, GalleyPicture picture)
    {
        var part = document.AddPicture(picture.Picture);
        using var run = document.Xml.Element("w:r"u8);
        WriteDrawing(document, picture.Width, picture.Height, picture.Name, picture.Description, "<wp:cNvGraphicFramePr><a:graphicFrameLocks noChangeAspect=\"1\"/></wp:cNvGraphicFramePr>"u8, picture.IsBehind, xml =>
        {
            xml.Attribute("uri"u8, Namespaces.Picture);
            using (xml.Element("pic:pic"u8))
            {
                using (xml.Element("pic:nvPicPr"u8))
                {
                    using (xml.Element("pic:cNvPr"u8))
                    {
                        xml.Attribute("id"u8, 0);
                        xml.Attribute("name"u8, picture.Name);
                    }
                    xml.Empty("pic:cNvPicPr"u8);
                }
                using (xml.Element("pic:blipFill"u8))
                {
                    using (xml.Element("a:blip"u8))
                    {
                        xml.Attribute("r:embed"u8, RelationshipsPart.PictureId(part));
                        if (picture.Picture.Svg is not null) WriteSvg(xml, part);
                    }
                    xml.Raw("<a:stretch><a:fillRect/></a:stretch>"u8);
                }
                using (xml.Element("pic:spPr"u8))
                {
                    using (xml.Element("a:xfrm"u8))
                    {
                        xml.Raw("<a:off x=\"0\" y=\"0\"/>"u8);
                        WriteExtent(xml, "a:ext"u8, picture.Width, picture.Height);
                    }
                    xml.Raw("<a:prstGeom prst=\"rect\"><a:avLst/></a:prstGeom>"u8);
                }
            }
        });
        return RelationshipsPart.PictureName(part, picture.Picture.Extension);
    }

    /// <summary>A shape in the accent of the house, for readers that know none blocks of text in its place (ECMA-376 Part 3, §10.2; Part 1, §20.1.9).</summary>
    public static void Write(DocumentContext document, GalleySmallChart chart)
    {
        var xml = document.Xml;
        using var run = xml.Element("w:r"u8);
        using var choices = xml.Element("mc:AlternateContent"u8);
        xml.Attribute("xmlns:mc"u8, Namespaces.Compatibility);
        using (xml.Element("mc:Choice"u8))
        {
            xml.Attribute("xmlns:wps"u8, Namespaces.Shape);
            xml.Attribute("Requires"u8, "wps"u8);
            WriteDrawing(document, chart.Width, chart.Height, chart.Name, chart.Description, "<wp:cNvGraphicFramePr/>"u8, isBehind: false, data =>
            {
                data.Attribute("uri"u8, Namespaces.Shape);
                using (data.Element("wps:wsp"u8))
                {
                    data.Empty("wps:cNvSpPr"u8);
                    using (data.Element("wps:spPr"u8))
                    {
                        using (data.Element("a:xfrm"u8))
                        {
                            data.Raw("<a:off x=\"0\" y=\"0\"/>"u8);
                            WriteExtent(data, "a:ext"u8, chart.Width, chart.Height);
                        }
                        data.Raw("<a:custGeom><a:avLst/><a:gdLst/><a:ahLst/><a:cxnLst/><a:rect l=\"0\" t=\"0\" r=\"r\" b=\"b\"/><a:pathLst>"u8);
                        WritePaths(data, chart.Drawing);
                        data.Raw("</a:pathLst></a:custGeom><a:solidFill><a:schemeClr val=\"accent1\"/></a:solidFill><a:ln w=\"12700\" cap=\"rnd\"><a:solidFill><a:schemeClr val=\"accent1\"/></a:solidFill><a:round/></a:ln>"u8);
                    }
                    data.Empty("wps:bodyPr"u8);
                }
            });
        }
        using (xml.Element("mc:Fallback"u8))
            if (chart.Text.Length > 0) xml.TextElement("w:t"u8, chart.Text);
    }

    private static void WritePaths(Utf8XmlWriter xml, SmallDrawing drawing)
    {
        foreach (var line in drawing.Lines)
        {
            WritePath(isFilled: false, () =>
            {
                foreach (var (index, point) in line.Index())
                    using (xml.Element(index == 0 ? "a:moveTo"u8 : "a:lnTo"u8)) WritePoint(point.X, point.Y);
            });
        }
        foreach (var box in drawing.Boxes)
        {
            WritePath(isFilled: true, () =>
            {
                using (xml.Element("a:moveTo"u8)) WritePoint(box.Left, box.Top);
                using (xml.Element("a:lnTo"u8)) WritePoint(box.Left + box.Width, box.Top);
                using (xml.Element("a:lnTo"u8)) WritePoint(box.Left + box.Width, box.Top + box.Height);
                using (xml.Element("a:lnTo"u8)) WritePoint(box.Left, box.Top + box.Height);
                xml.Empty("a:close"u8);
            });
        }
        foreach (var dot in drawing.Dots)
        {
            WritePath(isFilled: true, () =>
            {
                using (xml.Element("a:moveTo"u8)) WritePoint(dot.X + dot.Radius, dot.Y);
                using (xml.Element("a:arcTo"u8))
                {
                    xml.Attribute("wR"u8, Units(dot.Radius));
                    xml.Attribute("hR"u8, Units(dot.Radius));
                    xml.Attribute("stAng"u8, 0);
                    xml.Attribute("swAng"u8, 21_600_000);
                }
                xml.Empty("a:close"u8);
            });
        }

        void WritePath(bool isFilled, Action steps)
        {
            using (xml.Element("a:path"u8))
            {
                xml.Attribute("w"u8, Units(drawing.Width));
                xml.Attribute("h"u8, Units(drawing.Height));
                if (isFilled) xml.Attribute("stroke"u8, 0);
                else xml.Attribute("fill"u8, "none"u8);
                steps();
            }
        }

        void WritePoint(double x, double y)
        {
            using (xml.Element("a:pt"u8))
            {
                xml.Attribute("x"u8, Units(x));
                xml.Attribute("y"u8, Units(y));
            }
        }

        static long Units(double points) => Length.FromPoints(points).EnglishMetricUnits;
    }

    /// <summary>The drawing that readers show instead of the picture if they know SVG.</summary>
    private static void WriteSvg(Utf8XmlWriter xml, int part)
    {
        using (xml.Element("a:extLst"u8))
        using (xml.Element("a:ext"u8))
        {
            xml.Attribute("uri"u8, "{96DAC541-7B7A-43D3-8B79-37D633B846F1}"u8);
            using (xml.Element("asvg:svgBlip"u8))
            {
                xml.Attribute("xmlns:asvg"u8, "http://schemas.microsoft.com/office/drawing/2016/SVG/main"u8);
                xml.Attribute("r:embed"u8, RelationshipsPart.DrawingId(part));
            }
        }
    }

    private static void WriteDrawing(DocumentContext document, Length width, Length height, string name, string description, ReadOnlySpan<byte> frame, bool isBehind, Action<Utf8XmlWriter> writeData)
    {
        var xml = document.Xml;
        using (xml.Element("w:drawing"u8))
        using (xml.Element(isBehind ? "wp:anchor"u8 : "wp:inline"u8))
        {
            xml.Attribute("distT"u8, 0);
            xml.Attribute("distB"u8, 0);
            xml.Attribute("distL"u8, 0);
            xml.Attribute("distR"u8, 0);
            if (isBehind) WriteAnchor(xml);
            WriteExtent(xml, "wp:extent"u8, width, height);
            xml.Raw("<wp:effectExtent l=\"0\" t=\"0\" r=\"0\" b=\"0\"/>"u8);
            if (isBehind) xml.Empty("wp:wrapNone"u8);
            using (xml.Element("wp:docPr"u8))
            {
                xml.Attribute("id"u8, document.NextDrawing());
                xml.Attribute("name"u8, name);
                var isOrnament = description == Documents.Accessibility.Decorative;
                xml.Attribute("descr"u8, isOrnament ? "" : description);
                if (isOrnament) xml.Raw("<a:extLst><a:ext uri=\"{C183D7F6-B498-43B3-948B-1728B52AA6E4}\"><adec:decorative xmlns:adec=\"http://schemas.microsoft.com/office/drawing/2017/decorative\" val=\"1\"/></a:ext></a:extLst>"u8);
            }
            xml.Raw(frame);
            using (xml.Element("a:graphic"u8))
            using (xml.Element("a:graphicData"u8)) writeData(xml);
        }
    }

    /// <summary>Behind the text, from the upper left corner of the page (§20.4.2.3).</summary>
    private static void WriteAnchor(Utf8XmlWriter xml)
    {
        xml.Attribute("simplePos"u8, 0);
        xml.Attribute("relativeHeight"u8, 1);
        xml.Attribute("behindDoc"u8, 1);
        xml.Attribute("locked"u8, 0);
        xml.Attribute("layoutInCell"u8, 1);
        xml.Attribute("allowOverlap"u8, 1);
        xml.Raw("<wp:simplePos x=\"0\" y=\"0\"/><wp:positionH relativeFrom=\"page\"><wp:posOffset>0</wp:posOffset></wp:positionH><wp:positionV relativeFrom=\"page\"><wp:posOffset>0</wp:posOffset></wp:positionV>"u8);
    }

    private static void WriteExtent(Utf8XmlWriter xml, ReadOnlySpan<byte> element, Length width, Length height)
    {
        using (xml.Element(element))
        {
            xml.Attribute("cx"u8, width.EnglishMetricUnits);
            xml.Attribute("cy"u8, height.EnglishMetricUnits);
        }
    }
}
