using System.Globalization;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Houses;
using Fennick.Records;
using Fennick.Wordprocessing;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>A document that somebody has: its text as paragraphs and tables, and all else as it is. What nobody touches goes through byte for byte.</summary>
internal sealed class WordDocument
{
    private const string Strict = "http://purl.oclc.org/ooxml/";
    private readonly Dictionary<string, XDocument> opened = new(StringComparer.OrdinalIgnoreCase);
    private readonly HashSet<string> changed = new(StringComparer.OrdinalIgnoreCase);
    private readonly SourcePlace place;

    private WordDocument(HousePackage package, SourcePlace place)
    {
        Package = package;
        this.place = place;
    }

    public HousePackage Package { get; }

    /// <summary>What it remembers of how it was made; null if it remembers nothing.</summary>
    public DocumentRecord? Record { get; private set; }

    /// <summary>The name of the part that holds that.</summary>
    public string? RecordPart { get; private set; }

    /// <summary>Why it has no record that can be read, if there is one.</summary>
    public string? RecordProblem { get; private set; }

    /// <summary>Reads a document.</summary>
    /// <param name="bytes">The file.</param>
    /// <param name="place">Where it is.</param>
    /// <exception cref="ReportException">It is no word-processor document, is damaged, encrypted or hostile.</exception>
    public static WordDocument Read(byte[] bytes, SourcePlace place)
    {
        var document = new WordDocument(HousePackage.Read(bytes, place), place);
        var main = document.Open(document.Package.Main).Root!;
        if (main.Name.NamespaceName.StartsWith(Strict, StringComparison.Ordinal)) throw new ReportException(Diagnostic.Error(place, "the document is in the strict variant of the format", "open it in the word processor and save it as an ordinary `.docx`"));
        if (!main.Is("document") || main.Element(W + "body") is null) throw new ReportException(Diagnostic.Error(place, "the document has no body", "open it in the word processor, save it anew, and use that"));
        document.FindRecord();
        return document;
    }

    /// <summary>The body.</summary>
    public XElement Body => Open(Package.Main).Root!.Element(W + "body")!;

    /// <summary>A part as XML.</summary>
    public XDocument Open(string part)
    {
        if (!opened.TryGetValue(part, out var xml)) opened[part] = xml = Package.Xml(part);
        return xml;
    }

    /// <summary>A part as XML that is about to be changed.</summary>
    public XElement Change(string part)
    {
        changed.Add(part);
        return Open(part).Root!;
    }

    /// <summary>The part of a kind that the main part leads to; null if there is none.</summary>
    public string? Find(string kind) => Package.Find(Package.Main, kind);

    /// <summary>The parts that hold text, the main one first.</summary>
    public IEnumerable<string> Stories =>
        Package.RelationshipsOf(Package.Main).Where(r => !r.IsExternal && (r.Is("header") || r.Is("footer") || r.Is("footnotes") || r.Is("endnotes")) && Package.Has(r.Target)).Select(r => r.Target).Distinct(StringComparer.OrdinalIgnoreCase).Prepend(Package.Main);

    /// <summary>The paragraphs and tables of a part.</summary>
    /// <param name="part">The part.</param>
    /// <param name="isData">Whether a table is one of data, which stays whole; others are taken for what lays out.</param>
    public List<ReadBlock> Blocks(string part, Func<XElement, bool> isData)
    {
        var blocks = new List<ReadBlock>();
        var root = Open(part).Root!;
        Collect(root.Is("document") ? root.Element(W + "body")! : root, isData, blocks);
        return blocks;
    }

    private static void Collect(XElement container, Func<XElement, bool> isData, List<ReadBlock> blocks)
    {
        foreach (var element in container.Elements())
        {
            if (element.Name == P) blocks.Add(new ReadParagraph(element, MarkOf(element)));
            else if (element.Name == Table && isData(element)) blocks.Add(new ReadTable(element, MarkOfTable(element)));
            else if (!element.Is("sectPr") && !element.Is("tblPr") && !element.Is("trPr") && !element.Is("tcPr")) Collect(element, isData, blocks);
        }
    }

    /// <summary>The number of the mark of a paragraph; 0 if it has none.</summary>
    public static int MarkOf(XElement paragraph)
    {
        if ((string?)paragraph.Attribute(W14 + "paraId") is not { Length: 8 } id || !id.StartsWith("0FE1", StringComparison.OrdinalIgnoreCase)) return 0;
        return int.TryParse(id.AsSpan(4), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var number) ? number : 0;
    }

    /// <summary>The number of the mark in the cells of a table.</summary>
    public static int MarkOfTable(XElement table) => table.Descendants(P).Select(MarkOf).FirstOrDefault(m => m > 0);

    /// <summary>Adds a part that the main part leads to.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="bytes">Its bytes.</param>
    /// <param name="type">Its type; null if its ending says it.</param>
    /// <param name="kind">The kind of the relationship.</param>
    /// <param name="from">The part that leads to it; the main one if null.</param>
    /// <returns>The id of the relationship.</returns>
    public string Add(string name, byte[] bytes, string? type, string kind, string? from = null)
    {
        Package.Add(name, bytes);
        if (type is not null) Package.SetType(name, type);
        return Relate(from ?? Package.Main, kind, name, isExternal: false);
    }

    /// <summary>Adds a relationship to a part.</summary>
    /// <returns>Its id.</returns>
    public string Relate(string from, string kind, string target, bool isExternal)
    {
        return Package.Relate(from, kind.Contains('/') ? kind : "http://schemas.openxmlformats.org/officeDocument/2006/relationships/" + kind, target, isExternal);
    }

    /// <summary>The part here that a relationship of a part leads to; null if there is none.</summary>
    /// <param name="part">The part.</param>
    /// <param name="id">Holds the id of the relationship.</param>
    public string? PartOf(string part, XAttribute? id) => id is null ? null : Package.RelationshipsOf(part).FirstOrDefault(r => r.Id == id.Value && !r.IsExternal && Package.Has(r.Target))?.Target;

    /// <summary>The kind of a part by its name, such as <c>header</c>.</summary>
    public static string KindOf(string part) => string.Concat(Path.GetFileNameWithoutExtension(part).TakeWhile(char.IsAsciiLetter));

    /// <summary>A name for a part that none has: the name itself, or with a number.</summary>
    public string FreeName(string name)
    {
        if (!Package.Has(name)) return name;
        var (start, ending) = (name[..^Path.GetExtension(name).Length].TrimEnd([.. "0123456789"]), Path.GetExtension(name));
        for (var n = 1; ; n++)
        {
            var candidate = string.Create(CultureInfo.InvariantCulture, $"{start}{n}{ending}");
            if (!Package.Has(candidate)) return candidate;
        }
    }

    /// <summary>The checksum of a part as it is now.</summary>
    public uint ChecksumOf(string part) => System.IO.Hashing.Crc32.HashToUInt32(Package.Bytes(part));

    /// <summary>Makes a document of a template; one that holds programs cannot be written as a document without them.</summary>
    /// <exception cref="ReportException">It holds programs.</exception>
    public void BecomeDocument()
    {
        const string Document = "application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml";
        var type = Package.TypeOf(Package.Main);
        if (type.Contains("macroEnabled", StringComparison.OrdinalIgnoreCase)) throw Error("the document holds macros, which no `.docx` may hold", "save it as an ordinary `.docx` in the word processor, and use that");
        if (type != Document) Package.SetType(Package.Main, Document);
    }

    /// <summary>The package with all that was changed.</summary>
    /// <param name="date">The time stamp of its parts.</param>
    /// <param name="isSealed">Whether it is known later by a seal whether anybody has worked on it; what was merged with work of people is theirs.</param>
    public PackageBuilder Write(DateOnly? date, bool isSealed = false)
    {
        foreach (var part in changed) Package.Add(part, XmlText.Write(opened[part]));
        return PackageFile.Write(Package, date, isSealed);
    }

    private void FindRecord()
    {
        foreach (var relationship in Package.RelationshipsOf(Package.Main).Where(r => r.Is("customXml") && !r.IsExternal && Package.Has(r.Target)))
        {
            if (!RecordReader.IsRecord(Package.Bytes(relationship.Target))) continue;
            RecordPart = relationship.Target;
            try
            {
                Record = RecordReader.Read(Package.Bytes(relationship.Target), Package.Xml(relationship.Target));
            }
            catch (Exception problem) when (problem is FormatException or ReportException)
            {
                RecordProblem = problem.Message;
            }
            return;
        }
    }

    /// <summary>An error at the document.</summary>
    public ReportException Error(string message, string suggestion) => new(Diagnostic.Error(place, message, suggestion));
}
