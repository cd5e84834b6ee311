using System.Globalization;
using System.Xml.Linq;

namespace Fennick.Revision;

/// <summary>Names of the mark-up that readers of documents ask for (ECMA-376 Part 1, §17).</summary>
internal static class WordNames
{
    public static readonly XNamespace W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";
    public static readonly XNamespace R = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    public static readonly XNamespace M = "http://schemas.openxmlformats.org/officeDocument/2006/math";
    public static readonly XNamespace A = "http://schemas.openxmlformats.org/drawingml/2006/main";
    public static readonly XNamespace C = "http://schemas.openxmlformats.org/drawingml/2006/chart";
    public static readonly XNamespace WP = "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing";
    public static readonly XNamespace Mc = "http://schemas.openxmlformats.org/markup-compatibility/2006";
    public static readonly XNamespace W14 = "http://schemas.microsoft.com/office/word/2010/wordml";

    public static readonly XName P = W + "p";
    public static readonly XName Run = W + "r";
    public static readonly XName Text = W + "t";
    public static readonly XName Table = W + "tbl";
    public static readonly XName Row = W + "tr";
    public static readonly XName Cell = W + "tc";
    public static readonly XName Val = W + "val";
    public static readonly XName Id = W + "id";
    public static readonly XName Name = W + "name";

    /// <summary>Whether an element has a name of the main namespace; asked so often that names are not looked up for it.</summary>
    public static bool Is(this XElement element, string name) => element.Name.LocalName == name && element.Name.Namespace == W;

    /// <summary>What only goes on where its container's content goes on.</summary>
    public static bool IsContainer(XElement element) => element.Is("hyperlink") || element.Is("ins") || element.Is("moveTo") || element.Is("smartTag") || element.Is("sdt") || element.Is("sdtContent")
        || element.Is("customXml") || element.Is("dir") || element.Is("bdo") || element.Is("fldSimple");

    /// <summary>Whether an element stands in something that a tracked change has brought.</summary>
    public static bool IsTracked(XElement element) => element.Ancestors().TakeWhile(a => a.Name != P).Any(a => a.Is("ins") || a.Is("moveTo"));

    /// <summary>The number in an attribute; null if there is none, or what stands there is no number.</summary>
    public static int? NumberIn(XAttribute? attribute) => attribute is not null && int.TryParse(attribute.Value, NumberStyles.Integer, CultureInfo.InvariantCulture, out var number) ? number : null;

    /// <summary>A number that no element of a name has.</summary>
    /// <param name="root">What holds the elements.</param>
    /// <param name="name">Their name.</param>
    /// <param name="id">The attribute with their numbers.</param>
    /// <param name="first">The number of the first of them.</param>
    public static int FreeNumber(XElement root, XName name, XName id, int first = 1) => 1 + root.Elements(name).Select(e => NumberIn(e.Attribute(id)) ?? 0).DefaultIfEmpty(first - 1).Max();

    /// <summary>The properties of a paragraph, made if it has none.</summary>
    public static XElement PropertiesOf(XElement paragraph)
    {
        if (paragraph.Element(W + "pPr") is not { } properties) paragraph.AddFirst(properties = new XElement(W + "pPr"));
        return properties;
    }
}
