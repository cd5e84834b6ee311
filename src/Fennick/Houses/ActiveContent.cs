using System.Text;
using System.Xml.Linq;

namespace Fennick.Houses;

/// <summary>
/// Takes out of a house all that a document can do by itself: run code, fetch something, start programs. What is known to be still is kept; everything else goes,
/// and is told with its part.
/// </summary>
internal sealed class ActiveContent
{
    private const string VariablesElement = "docVars";
    private static readonly XNamespace W = StyleSheet.W;
    private static readonly XNamespace R = StyleSheet.R;

    // What goes without a word, for nobody misses it in a report.
    private static readonly HashSet<string> Silent = new(StringComparer.OrdinalIgnoreCase) { "printerSettings", "vbaProject", "wordVbaData", "keyMapCustomizations", "attachedToolbars", "attachedTemplate", "signature", "origin", "classificationlabels" };

    // Fields that show what the document itself holds (ECMA-376 Part 1, §17.16.5). Others fetch, run or ask.
    private static readonly HashSet<string> StillFields = new(StringComparer.OrdinalIgnoreCase)
    {
        "=", "ADDRESSBLOCK", "ADVANCE", "AUTHOR", "AUTONUM", "AUTONUMLGL", "AUTONUMOUT", "AUTOTEXT", "AUTOTEXTLIST", "BARCODE", "BIBLIOGRAPHY", "BIDIOUTLINE", "CITATION", "COMMENTS", "COMPARE", "CREATEDATE", "DATE", "DISPLAYBARCODE", "DOCPROPERTY", "EDITTIME", "EQ", "FILENAME",
        "FILESIZE", "FORMCHECKBOX", "FORMDROPDOWN", "FORMTEXT", "FORMULA", "GREETINGLINE", "HYPERLINK", "IF", "INDEX", "INFO", "KEYWORDS", "LASTSAVEDBY", "LISTNUM", "MERGEBARCODE", "MERGEFIELD", "MERGEREC", "MERGESEQ", "NEXT", "NEXTIF", "NOTEREF", "NUMCHARS", "NUMPAGES", "NUMWORDS", "PAGE", "PAGEREF",
        "PRINTDATE", "PRIVATE", "QUOTE", "REF", "REVNUM", "SAVEDATE", "SECTION", "SECTIONPAGES", "SEQ", "SET", "SKIPIF", "STYLEREF", "SUBJECT", "SYMBOL", "TA", "TC", "TEMPLATE", "TIME", "TITLE", "TOA", "TOC", "USERADDRESS", "USERINITIALS", "USERNAME", "XE",
    };


    // Stores of properties that every document has.
    private static readonly string[] OwnStores = ["{6C3C8BC8-F283-45AE-878A-BAB7291924A1}", "{6668398D-A668-4E3E-A5EB-62B293D839F1}", "{55AF091B-3C7A-41E3-B477-F2FDAA23CFDA}"];

    private readonly HousePackage package;
    private readonly List<string> told = [];

    private ActiveContent(HousePackage package) => this.package = package;

    /// <summary>Takes it out.</summary>
    /// <returns>What was taken out, and of which parts, for people to read.</returns>
    public static IReadOnlyList<string> TakeOut(HousePackage package)
    {
        var content = new ActiveContent(package);
        content.TakeOutParts();
        foreach (var name in package.Names.Where(n => n.EndsWith(".xml", StringComparison.OrdinalIgnoreCase)).ToArray()) content.TakeOutMarkup(name);
        return content.told;
    }

    /// <summary>Whether a link may stand in a document: it waits to be clicked and opens a page or a letter.</summary>
    public static bool IsStillLink(string target) => target.StartsWith('#') || target.StartsWith("http://", StringComparison.OrdinalIgnoreCase) || target.StartsWith("https://", StringComparison.OrdinalIgnoreCase) || target.StartsWith("mailto:", StringComparison.OrdinalIgnoreCase);

    /// <summary>Parts that nothing still leads to, and those that are not what they are said to be.</summary>
    private void TakeOutParts()
    {
        foreach (var from in package.Names.Append("").ToArray())
        {
            var active = package.RelationshipsOf(from).Where(r => !r.IsExternal && (PartKind.Of(r) is null || (PartKind.NameOf(r) == "package" && !(from.Contains("/charts/", StringComparison.OrdinalIgnoreCase) && package.Has(r.Target) && EmbeddedWorkbook.IsStill(package.Bytes(r.Target)))) || (PartKind.NameOf(r) is "image" or "thumbnail" && package.Has(r.Target) && !IsPicture(package.Bytes(r.Target))))).ToArray();
            if (active.Length == 0) continue;
            HouseReader.TakeOut(package, from, active);
            told.AddRange(active.Where(r => !Silent.Contains(PartKind.NameOf(r))).Select(r => $"{WordsOf(PartKind.NameOf(r))} ({r.Target})"));
        }
        package.RemoveUnreached();
    }

    private void TakeOutMarkup(string name)
    {
        var xml = package.Xml(name);
        var before = told.Count;
        TakeOutLinks(name, xml);
        TakeOutFields(name, xml);
        foreach (var element in xml.Descendants().Where(e => e.Name == W + "altChunk" || e.Name == W + "object" || e.Name == W + "control" || e.Name == W + "subDoc" || e.Name == W + VariablesElement || e.Name == W + "saveThroughXslt" || e.Name == W + "attachedSchema" || e.Name == W + "schemaLibrary" || e.Name.LocalName == "OLEObject").ToArray())
        {
            if (element.Parent is null) continue;
            told.Add($"{(element.Name.LocalName == VariablesElement ? "variables" : element.Name.LocalName is "saveThroughXslt" or "attachedSchema" or "schemaLibrary" ? "a transformation or schema" : "an object")} ({name})");
            element.Remove();
        }
        foreach (var binding in xml.Descendants().Where(e => e.Name.LocalName == "dataBinding" && (string?)e.Attribute(W + "storeItemID") is { } store && !OwnStores.Contains(store, StringComparer.OrdinalIgnoreCase) && !HasStore(store)).ToArray())
        {
            told.Add($"a binding to data outside of it ({name})");
            binding.Remove();
        }
        if (told.Count > before) package.Add(name, HouseFile.BytesOf(xml));
    }

    private bool HasStore(string id) => package.Names.Where(n => n.Contains("customXml/itemProps", StringComparison.OrdinalIgnoreCase)).Any(n => package.Xml(n).Root!.Attributes().Any(a => a.Name.LocalName == "itemID" && string.Equals(a.Value, id, StringComparison.OrdinalIgnoreCase)));

    /// <summary>Links that open anything but a page or a letter; their words stay.</summary>
    private void TakeOutLinks(string name, XDocument xml)
    {
        foreach (var relationship in package.RelationshipsOf(name).Where(r => r.IsExternal && r.Is("hyperlink") && !IsStillLink(r.Target)).ToArray())
        {
            package.Remove(name, relationship);
            told.Add($"a link to `{relationship.Target}` ({name})");
            foreach (var link in xml.Descendants(W + "hyperlink").Where(h => (string?)h.Attribute(R + "id") == relationship.Id).ToArray()) link.ReplaceWith(link.Nodes());
            HouseReader.TakeOut(xml, relationship.Id);
        }
    }

    /// <summary>Fields that fetch, run or ask; what they show stays.</summary>
    private void TakeOutFields(string name, XDocument xml)
    {
        foreach (var simple in xml.Descendants(W + "fldSimple").ToArray())
        {
            if (IsStill((string?)simple.Attribute(W + "instr") ?? "")) continue;
            Tell((string?)simple.Attribute(W + "instr") ?? "");
            simple.ReplaceWith(simple.Nodes());
        }
        var open = new Stack<Field>();
        foreach (var element in xml.Descendants().Where(e => e.Name == W + "fldChar" || e.Name == W + "instrText" || e.Name == W + "delInstrText" || e.Name == W + "t").ToArray())
        {
            switch ((string?)element.Attribute(W + "fldCharType"))
            {
                case "begin":
                    open.Push(new Field());
                    open.Peek().Marks.Add(element);
                    break;
                case "separate" when open.TryPeek(out var field):
                    field.Marks.Add(element);
                    field.IsSeparated = true;
                    break;
                case "end" when open.TryPop(out var field):
                    field.Marks.Add(element);
                    // A field inside of an instruction says part of it, and goes with it.
                    if (open.FirstOrDefault(f => !f.IsSeparated) is { } around) around.Marks.AddRange(field.Marks);
                    if (IsStill(field.Instruction.ToString())) break;
                    Tell(field.Instruction.ToString());
                    foreach (var mark in field.Marks) Remove(mark);
                    break;
                case null when element.Name == W + "t":
                    if (open.LastOrDefault(f => !f.IsSeparated) is { } saying) saying.Marks.Add(element);
                    break;
                case null when open.TryPeek(out var field):
                    field.Marks.Add(element);
                    field.Instruction.Append(element.Value);
                    break;
            }
        }
        // What is never closed does nothing, but no reader agrees on that.
        foreach (var field in open.Where(f => !IsStill(f.Instruction.ToString())))
        {
            Tell(field.Instruction.ToString());
            foreach (var mark in field.Marks) Remove(mark);
        }

        void Tell(string instruction) => told.Add($"a field `{(instruction.Trim() is { Length: > 0 } text ? text.Split(' ')[0].ToUpperInvariant() : "without a name")}` ({name})");
    }

    private static bool IsStill(string instruction)
    {
        var words = instruction.Trim();
        if (words.StartsWith('=')) return true;
        var keyword = string.Concat(words.TakeWhile(c => !char.IsWhiteSpace(c) && c is not ('"' or '\\')));
        if (!StillFields.Contains(keyword)) return false;
        if (!keyword.Equals("HYPERLINK", StringComparison.OrdinalIgnoreCase)) return true;
        var target = words[keyword.Length..].Trim();
        return target.StartsWith("\\l", StringComparison.OrdinalIgnoreCase) || IsStillLink(target.Trim('"'));
    }

    /// <summary>Removes an element, and its run if nothing is left in it.</summary>
    public static void Remove(XElement element)
    {
        var run = element.Parent;
        if (run is null) return;
        element.Remove();
        if (run.Name == W + "r" && run.Parent is not null && run.Elements().All(e => e.Name == W + "rPr")) run.Remove();
    }

    private static string WordsOf(string kind) => kind.ToUpperInvariant() switch
    {
        "AFCHUNK" => "a document inside of it",
        "OLEOBJECT" or "PACKAGE" => "an object of another program",
        "CONTROL" or "ACTIVEXCONTROLBINARY" => "a control",
        "WEBEXTENSIONTASKPANES" or "WEBEXTENSION" => "a web extension",
        "EXTENSIBILITY" or "UI" or "CUSTOMUI" => "a ribbon of its own",
        "IMAGE" or "THUMBNAIL" => "a picture that is none",
        "VIDEO" or "AUDIO" or "MEDIA" => "a film or a sound",
        _ => $"a part of the kind `{kind}`",
    };

    // PNG, JPEG, GIF, BMP, TIFF, EMF, WMF, placeable WMF, WebP, icons, and SVG or other text.
    private static bool IsPicture(ReadOnlySpan<byte> bytes) => bytes.StartsWith((ReadOnlySpan<byte>)[0x89, (byte)'P', (byte)'N', (byte)'G']) || bytes.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8]) || bytes.StartsWith("GIF8"u8) || bytes.StartsWith("BM"u8)
        || bytes.StartsWith("II*\0"u8) || bytes.StartsWith("MM\0*"u8) || bytes.StartsWith((ReadOnlySpan<byte>)[1, 0, 0, 0]) || bytes.StartsWith((ReadOnlySpan<byte>)[1, 0, 9, 0]) || bytes.StartsWith((ReadOnlySpan<byte>)[0xD7, 0xCD, 0xC6, 0x9A])
        || bytes.StartsWith("RIFF"u8) || bytes.StartsWith((ReadOnlySpan<byte>)[0, 0, 1, 0]) || bytes.StartsWith("II\xBC"u8) || bytes.StartsWith((ReadOnlySpan<byte>)[0x1F, 0x8B]) || bytes[..Math.Min(1024, bytes.Length)].IndexOf("<svg"u8) >= 0;

    private sealed class Field
    {
        public List<XElement> Marks { get; } = [];

        public StringBuilder Instruction { get; } = new();

        /// <summary>Whether what follows is what it shows.</summary>
        public bool IsSeparated { get; set; }
    }
}
