using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Pictures;

/// <summary>Takes out of drawings in SVG what runs, moves, fetches, or says who made them where.</summary>
internal static partial class SvgCleaner
{
    private const int Largest = 20 << 20;
    private const int Deepest = 200;
    private const int MostElements = 200_000;
    private static readonly XNamespace Svg = "http://www.w3.org/2000/svg";
    private static readonly string[] Unwanted = ["script", "foreignObject", "handler", "listener", "iframe", "object", "embed", "audio", "video", "canvas", "animate", "animateMotion", "animateTransform", "animateColor", "set", "mpath", "discard", "metadata"];
    private static readonly string[] Kept = ["http://www.w3.org/2000/svg", "http://www.w3.org/1999/xlink", "http://www.w3.org/XML/1998/namespace", "http://www.w3.org/2000/xmlns/", ""];

    /// <summary>The same drawing, still and by itself; null if it is no SVG.</summary>
    /// <exception cref="ReportException">It is damaged, or beyond all measure.</exception>
    public static byte[]? Clean(byte[] bytes)
    {
        if (bytes.AsSpan(0, Math.Min(bytes.Length, 64 * 1024)).IndexOf("<svg"u8) < 0 && bytes.AsSpan().IndexOf(":svg"u8) < 0) return null;
        if (bytes.Length > Largest) throw Refused($"the drawing is larger than {Largest >> 20} MB", "make a picture of it");
        XDocument drawing;
        try
        {
            CheckSize(bytes);
            using var reader = Open(bytes);
            drawing = XDocument.Load(reader);
        }
        catch (XmlException problem)
        {
            throw Refused($"the drawing is damaged: {problem.Message.TrimEnd('.')}", "save it anew in the program that made it");
        }
        if (drawing.Root is not { Name.LocalName: "svg" } root) return null;
        drawing.Nodes().Where(n => n != root).Remove();
        root.DescendantNodes().Where(n => n is XComment or XProcessingInstruction).ToList().ForEach(n => n.Remove());
        root.Descendants().Where(e => !Kept.Contains(e.Name.NamespaceName) || Unwanted.Contains(e.Name.LocalName)).ToList().ForEach(e => e.Remove());
        foreach (var element in root.DescendantsAndSelf())
        {
            foreach (var attribute in element.Attributes().ToArray())
            {
                var isLink = attribute.Name.LocalName is "href" or "src";
                if (attribute.IsNamespaceDeclaration) continue;
                if (!Kept.Contains(attribute.Name.NamespaceName) || attribute.Name.LocalName.StartsWith("on", StringComparison.OrdinalIgnoreCase) || attribute.Name.LocalName == "base" || (isLink && !IsInside(attribute.Value))) attribute.Remove();
                else if (Fetching().IsMatch(attribute.Value)) attribute.Value = Fetching().Replace(attribute.Value, "none");
            }
            if (element.Name == Svg + "style" || element.Name.LocalName == "style") element.Value = Fetching().Replace(Import().Replace(element.Value, ""), "none");
        }
        root.DescendantsAndSelf().Attributes().Where(a => a.IsNamespaceDeclaration && !Kept.Contains(a.Value)).ToList().ForEach(a => a.Remove());
        using var clean = new MemoryStream();
        using (var writer = XmlWriter.Create(clean, new XmlWriterSettings { Encoding = new UTF8Encoding(encoderShouldEmitUTF8Identifier: false) })) drawing.Save(writer);
        return clean.ToArray();
    }

    private static bool IsInside(string link) => link.StartsWith('#') || ImageData().IsMatch(link);

    // A declaration of the document type, and what it declares, is passed over.
    private static XmlReader Open(byte[] bytes) => XmlReader.Create(new MemoryStream(bytes), new XmlReaderSettings { DtdProcessing = DtdProcessing.Ignore, XmlResolver = null, MaxCharactersInDocument = Largest });

    private static void CheckSize(byte[] bytes)
    {
        using var reader = Open(bytes);
        switch (XmlMeasure.Find(reader, Deepest, MostElements))
        {
            case XmlExcess.Depth: throw Refused($"the drawing is nested more than {Deepest} deep", "make a picture of it");
            case XmlExcess.Elements: throw Refused($"the drawing has more than {MostElements} elements", "make a picture of it");
        }
    }

    private static ReportException Refused(string message, string suggestion) => new(Diagnostic.Error(null, message, suggestion));

    [GeneratedRegex(@"url\(\s*['""]?\s*(?!#|data:image/(png|jpe?g|gif|webp))[^)]*\)", RegexOptions.IgnoreCase)]
    private static partial Regex Fetching();

    [GeneratedRegex(@"@import[^;]*;?", RegexOptions.IgnoreCase)]
    private static partial Regex Import();

    [GeneratedRegex("^data:image/(png|jpe?g|gif|webp)[;,]", RegexOptions.IgnoreCase)]
    private static partial Regex ImageData();
}
