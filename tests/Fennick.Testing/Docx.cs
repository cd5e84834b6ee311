using System.IO.Compression;
using System.Xml.Linq;

namespace Fennick.Testing;

/// <summary>A finished document, opened as a reader would: its parts as XML.</summary>
public sealed class Docx
{
    public static readonly XNamespace W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";
    public static readonly XNamespace M = "http://schemas.openxmlformats.org/officeDocument/2006/math";
    public static readonly XNamespace A = "http://schemas.openxmlformats.org/drawingml/2006/main";
    public static readonly XNamespace C = "http://schemas.openxmlformats.org/drawingml/2006/chart";
    public static readonly XNamespace R = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    public static readonly XNamespace Wp = "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing";

    private readonly Dictionary<string, byte[]> parts = [];

    public Docx(byte[] package)
    {
        using var zip = new ZipArchive(new MemoryStream(package));
        Names = [.. zip.Entries.Select(e => e.FullName)];
        foreach (var entry in zip.Entries)
        {
            using var stream = entry.Open();
            using var copy = new MemoryStream();
            stream.CopyTo(copy);
            parts.Add(entry.FullName, copy.ToArray());
        }
    }

    public static Docx Open(string path) => new(File.ReadAllBytes(path));

    /// <summary>The names of the parts in the order of the package.</summary>
    public IReadOnlyList<string> Names { get; }

    /// <summary>The width of the text on the document's last pages, in twips.</summary>
    public int TextWidth => Body.Elements(W + "sectPr").Select(s => Number(s, "pgSz", "w") - Number(s, "pgMar", "left") - Number(s, "pgMar", "right")).Single();

    public XElement Body => Xml("word/document.xml").Root!.Element(W + "body")!;

    public byte[] Bytes(string name) => parts[name];

    public bool Has(string name) => parts.ContainsKey(name);

    public XDocument Xml(string name) => XDocument.Load(new MemoryStream(parts[name]), LoadOptions.PreserveWhitespace);

    /// <summary>The paragraphs of the body outside tables, as text.</summary>
    public IReadOnlyList<string> Paragraphs => [.. Body.Elements(W + "p").Select(Text)];

    /// <summary>The paragraphs of a style, as text.</summary>
    public IReadOnlyList<string> ParagraphsOf(string styleId) =>
        [.. Body.Descendants(W + "p").Where(p => (string?)p.Element(W + "pPr")?.Element(W + "pStyle")?.Attribute(W + "val") == styleId).Select(Text)];

    /// <summary>The tables as text: rows of cells.</summary>
    public IReadOnlyList<string[][]> Tables =>
        [.. Body.Descendants(W + "tbl").Select(t => t.Elements(W + "tr").Select(r => r.Elements(W + "tc").Select(Text).ToArray()).ToArray())];

    /// <summary>The footnotes as text; a mark reads as <c>*</c>.</summary>
    public IReadOnlyList<string> Notes => !Has("word/footnotes.xml") ? [] :
        [.. Xml("word/footnotes.xml").Root!.Elements(W + "footnote").Skip(2).Select(n => string.Join('\n', n.Elements(W + "p").Select(Text)))];

    /// <summary>All text of the body, a line a paragraph.</summary>
    public string AllText => string.Join('\n', Body.Descendants(W + "p").Select(Text));

    /// <summary>The text of an element as a reader sees it: field results, not instructions.</summary>
    public static string Text(XElement element) => string.Concat(element.Descendants().Select(e => e.Name.LocalName switch
    {
        "t" when e.Name.Namespace == W || e.Name.Namespace == M => e.Value,
        "tab" when e.Parent!.Name == W + "r" => "\t",
        "br" when e.Parent!.Name == W + "r" && e.Attribute(W + "type") is null => "\n",
        "noBreakHyphen" => "\u2011",
        "softHyphen" => "\u00AD",
        "footnoteReference" => "*",
        _ => "",
    }));

    private static int Number(XElement section, string element, string attribute) => (int)section.Element(W + element)!.Attribute(W + attribute)!;
}
