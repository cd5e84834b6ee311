using System.IO.Compression;
using System.Xml.Linq;
using static Fennick.Testing.Docx;

namespace Fennick.Testing;

/// <summary>A document that is being edited as people and word processors edit it: in its mark-up.</summary>
public sealed class EditedDocument
{
    private readonly List<(string Name, byte[] Bytes)> parts = [];
    private readonly Dictionary<string, XDocument> open = [];

    public EditedDocument(byte[] package)
    {
        using var zip = new ZipArchive(new MemoryStream(package));
        foreach (var entry in zip.Entries)
        {
            using var stream = entry.Open();
            using var copy = new MemoryStream();
            stream.CopyTo(copy);
            parts.Add((entry.FullName, copy.ToArray()));
        }
    }

    public XElement Body => Part("word/document.xml").Root!.Element(W + "body")!;

    public IReadOnlyList<string> Names => [.. parts.Select(p => p.Name)];

    /// <summary>The paragraphs of the body that hold text of the manuscript: no entries of lists of contents, no cells.</summary>
    public XElement[] Paragraphs => [.. Body.Elements(W + "p").Where(p => p.Descendants(W + "t").Any() && !p.Descendants(W + "fldChar").Any() && !p.Descendants(W + "hyperlink").Any() && p.Attribute(Mark) is not null)];

    /// <summary>The attribute that bears the mark of a paragraph.</summary>
    public static XName Mark { get; } = XName.Get("paraId", "http://schemas.microsoft.com/office/word/2010/wordml");

    /// <summary>The bookmarks around values of the body's own paragraphs.</summary>
    public XElement[] Values => [.. Body.Elements(W + "p").SelectMany(p => p.Elements(W + "bookmarkStart")).Where(b => ((string?)b.Attribute(W + "name") ?? "").StartsWith("_v", StringComparison.Ordinal) && RunOf(b) is not null)];

    /// <summary>The run of a value.</summary>
    public static XElement? RunOf(XElement bookmark) => bookmark.ElementsAfterSelf().FirstOrDefault() is { } run && run.Name == W + "r" && run.Element(W + "t") is not null && run.ElementsAfterSelf().FirstOrDefault()?.Name == W + "bookmarkEnd" ? run : null;

    public XDocument Part(string name)
    {
        if (!open.TryGetValue(name, out var xml)) open[name] = xml = XDocument.Load(new MemoryStream(parts.First(p => p.Name == name).Bytes), LoadOptions.PreserveWhitespace);
        return xml;
    }

    public bool Has(string name) => parts.Any(p => p.Name == name);

    public void Add(string name, XDocument xml) => parts.Add((name, Bytes(xml)));

    public void Replace(string name, byte[] bytes) => parts[parts.FindIndex(p => p.Name == name)] = (name, bytes);

    public byte[] BytesOf(string name) => parts.First(p => p.Name == name).Bytes;

    /// <summary>Adds a part that the main part leads to.</summary>
    public void Relate(string name, string type, string kind)
    {
        Part("[Content_Types].xml").Root!.Add(new XElement(XName.Get("Override", "http://schemas.openxmlformats.org/package/2006/content-types"), new XAttribute("PartName", "/" + name), new XAttribute("ContentType", type)));
        Part("word/_rels/document.xml.rels").Root!.Add(new XElement(XName.Get("Relationship", "http://schemas.openxmlformats.org/package/2006/relationships"), new XAttribute("Id", "rIdHand" + kind),
            new XAttribute("Type", "http://schemas.openxmlformats.org/officeDocument/2006/relationships/" + kind), new XAttribute("Target", name["word/".Length..])));
    }

    public void Save(string path)
    {
        using var zip = new ZipArchive(File.Create(path), ZipArchiveMode.Create);
        foreach (var (name, bytes) in parts)
        {
            using var stream = zip.CreateEntry(name).Open();
            stream.Write(open.TryGetValue(name, out var xml) ? Bytes(xml) : bytes);
        }
    }

    private static byte[] Bytes(XDocument xml)
    {
        using var memory = new MemoryStream();
        xml.Save(memory, SaveOptions.DisableFormatting);
        return memory.ToArray();
    }
}
