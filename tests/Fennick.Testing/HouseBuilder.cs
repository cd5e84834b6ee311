using System.IO.Compression;
using System.Text;

namespace Fennick.Testing;

/// <summary>Builds word-processor documents as other programs write them, part by part.</summary>
public sealed class HouseBuilder
{
    private const string Office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    private const string Wordprocessing = "application/vnd.openxmlformats-officedocument.wordprocessingml.";
    private readonly Dictionary<string, byte[]> parts = [];
    private readonly Dictionary<string, string> types = [];
    private readonly StringBuilder relationships = new();

    public HouseBuilder(string body, string styles = "")
    {
        Body = body;
        Styles = styles;
    }

    public string Body { get; init; }

    public string Styles { get; init; }

    public string MainType { get; init; } = Wordprocessing + "document.main+xml";

    /// <summary>Properties of the document's own, as <c>docProps/custom.xml</c> holds them.</summary>
    public string Properties { get; init; } = "";

    /// <summary>What the root elements of the text and of headers bind beside the usual prefixes.</summary>
    public string Namespaces { get; init; } = "";

    /// <summary>Adds a part that the text relates to.</summary>
    public HouseBuilder Add(string name, string type, string kind, string content, string id = "")
    {
        parts[name] = Encoding.UTF8.GetBytes(content);
        if (type.Length > 0) types[name] = type.Contains('/') ? type : Wordprocessing + type;
        if (kind.Length > 0) Relate(id.Length > 0 ? id : $"rId{parts.Count + 10}", kind.Contains('/') ? kind : $"{Office}/{kind}", Path.GetRelativePath("/word", "/" + name));
        return this;
    }

    public HouseBuilder Add(string name, byte[] content)
    {
        parts[name] = content;
        return this;
    }

    public HouseBuilder AddHeader(string id, string content) =>
        Add($"word/header{id}.xml", "header+xml", "header", $"<w:hdr {Bound}>{content}</w:hdr>", id);

    public HouseBuilder Relate(string id, string type, string target, bool isExternal = false)
    {
        relationships.Append(System.Globalization.CultureInfo.InvariantCulture, $"<Relationship Id=\"{id}\" Type=\"{(type.Contains('/') ? type : $"{Office}/{type}")}\" Target=\"{target}\"{(isExternal ? " TargetMode=\"External\"" : "")}/>");
        return this;
    }

    /// <summary>A slot in a line.</summary>
    public static string Slot(string name, string words = "placeholder", string properties = "") =>
        $"<w:sdt><w:sdtPr>{properties}<w:tag w:val=\"{name}\"/></w:sdtPr><w:sdtContent><w:r><w:t>{words}</w:t></w:r></w:sdtContent></w:sdt>";

    /// <summary>A paragraph.</summary>
    public static string Paragraph(string content, string style = "") => $"<w:p>{(style.Length > 0 ? $"<w:pPr><w:pStyle w:val=\"{style}\"/></w:pPr>" : "")}{content}</w:p>";

    public static string Run(string words) => $"<w:r><w:t xml:space=\"preserve\">{words}</w:t></w:r>";

    public static string Style(string id, string name, string paragraph = "", string run = "", string type = "paragraph", bool isDefault = false) =>
        $"<w:style w:type=\"{type}\"{(isDefault ? " w:default=\"1\"" : "")} w:styleId=\"{id}\"><w:name w:val=\"{name}\"/>{(paragraph.Length > 0 ? $"<w:pPr>{paragraph}</w:pPr>" : "")}{(run.Length > 0 ? $"<w:rPr>{run}</w:rPr>" : "")}</w:style>";

    public string Save(string path)
    {
        using var zip = new ZipArchive(File.Create(path), ZipArchiveMode.Create);
        var all = new Dictionary<string, byte[]>(parts) { ["word/document.xml"] = Encoding.UTF8.GetBytes($"<w:document {Bound}><w:body>{Body}</w:body></w:document>") };
        if (Styles.Length > 0)
        {
            Relate("rIdS", "styles", "styles.xml");
            all["word/styles.xml"] = Encoding.UTF8.GetBytes($"<w:styles {Bound}>{Styles}</w:styles>");
            types["word/styles.xml"] = Wordprocessing + "styles+xml";
        }
        types["word/document.xml"] = MainType;
        all["_rels/.rels"] = Encoding.UTF8.GetBytes($"<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship Id=\"rId1\" Type=\"{Office}/officeDocument\" Target=\"word/document.xml\"/>{(Properties.Length > 0 ? $"<Relationship Id=\"rId3\" Type=\"{Office}/custom-properties\" Target=\"docProps/custom.xml\"/>" : "")}</Relationships>");
        if (Properties.Length > 0)
        {
            all["docProps/custom.xml"] = Encoding.UTF8.GetBytes($"<Properties xmlns=\"http://schemas.openxmlformats.org/officeDocument/2006/custom-properties\" xmlns:vt=\"http://schemas.openxmlformats.org/officeDocument/2006/docPropsVTypes\">{Properties}</Properties>");
            types["docProps/custom.xml"] = "application/vnd.openxmlformats-officedocument.custom-properties+xml";
        }
        all["word/_rels/document.xml.rels"] = Encoding.UTF8.GetBytes($"<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\">{relationships}</Relationships>");
        all["[Content_Types].xml"] = Encoding.UTF8.GetBytes("<Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"><Default Extension=\"rels\" ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/><Default Extension=\"xml\" ContentType=\"application/xml\"/><Default Extension=\"bin\" ContentType=\"application/octet-stream\"/><Default Extension=\"png\" ContentType=\"image/png\"/>"
            + string.Concat(types.Select(t => $"<Override PartName=\"/{t.Key}\" ContentType=\"{t.Value}\"/>")) + "</Types>");
        foreach (var (name, content) in all)
        {
            using var stream = zip.CreateEntry(name).Open();
            stream.Write(content);
        }
        return path;
    }

    private string Bound => $"xmlns:w=\"http://schemas.openxmlformats.org/wordprocessingml/2006/main\" xmlns:r=\"{Office}\" {Namespaces}";
}
