using System.Collections.Immutable;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Records;
using Fennick.Running;
using Fennick.Schema;

namespace Fennick.Houses;

/// <summary>Reads the file of a house and takes out what no report may carry: macros, links to outside templates and data, signatures.</summary>
internal static class HouseReader
{
    private const string StrictNamespace = "http://purl.oclc.org/ooxml/";
    private const int MostTold = 5;
    private static readonly XNamespace R = StyleSheet.R;

    // Relationships to outside things that a word processor would fetch or ask about; a hyperlink waits to be clicked.
    private static readonly (string Kind, string Words)[] OutsideKinds =
    [
        ("attachedTemplate", "a template"), ("mailMergeSource", "a data source"), ("mailMergeHeaderSource", "a data source"), ("image", "a picture"), ("oleObject", "an object"), ("subDocument", "a document"),
        ("frame", "a page"), ("externalLinkPath", "a workbook"), ("video", "a film"), ("audio", "a sound"), ("control", "a control"),
    ];

    private static int reads;

    /// <summary>How many files have been read in this process.</summary>
    public static int Reads => Volatile.Read(ref reads);

    /// <summary>Reads a file.</summary>
    /// <exception cref="ReportException">It cannot be read, is not a word-processor document, or is not sound.</exception>
    public static HouseFile Read(string path)
    {
        var place = new SourcePlace(path, 0, 0);
        try
        {
            var full = FilesRead.Note(path);
            return Read(File.ReadAllBytes(full), place) with { Path = full };
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(place, $"the house cannot be read: {(Directory.Exists(RunContext.FullPath(path)) ? "this is a folder" : FileProblem.Reason(problem))}", "name a `.docx` or `.dotx` file, or one of Fennick's own houses")], problem);
        }
    }

    /// <summary>Reads a file's bytes.</summary>
    public static HouseFile Read(byte[] bytes, SourcePlace place)
    {
        Interlocked.Increment(ref reads);
        var package = HousePackage.Read(bytes, place);
        var warnings = ImmutableArray.CreateBuilder<Diagnostic>();
        PackageMender.Mend(package);
        DropMacros(package, Warn);
        DropOutsideLinks(package, Warn);
        if (ActiveContent.TakeOut(package) is { Count: > 0 } active)
            Warn($"the house holds what reports do not carry, since it does something by itself: {string.Join(", ", active.GroupBy(a => a).Select(g => g.Count() == 1 ? g.Key : $"{g.Key} {g.Count()} times"))}", "take it out of the house to be rid of this message");
        if (MendParts(package, place) is { Count: > 0 } leftOut)
            Warn($"the house holds what the standard does not allow, and what some word processors refuse; it is left out: {string.Join(", ", leftOut.Take(MostTold))}{(leftOut.Count > MostTold ? $" and {leftOut.Count - MostTold} more" : "")}", "open it in the word processor and save it anew, and look whether anything is missing");
        var main = package.Xml(package.Main).Root!;
        if (main.Name.NamespaceName.StartsWith(StrictNamespace, StringComparison.Ordinal))
            throw new ReportException(Diagnostic.Error(place, "the file is in the strict variant of the format", "save it as a usual `.docx` in the word processor"));
        if (main.Name != StyleSheet.W + "document") throw new ReportException(Diagnostic.Error(place, $"the file's main part is not a document but `{main.Name.LocalName}`", "name a `.docx` or `.dotx` file"));
        if (main.Descendants().Any(e => e.Name.Namespace == StyleSheet.W && e.Name.LocalName is "ins" or "del" or "moveFrom" or "moveTo" or "rPrChange" or "pPrChange"))
            Warn("the house has tracked changes, which every report will show", "accept or reject them in the house");
        if (package.Find(package.Main, "comments") is { } comments && package.Xml(comments).Root!.Elements(StyleSheet.W + "comment").Any())
            Warn("the house has comments, which every report will show", "delete them in the house");
        return new HouseFile(package, place, warnings.ToImmutable());

        void Warn(string message, string suggestion) => warnings.Add(Diagnostic.Warning(place, message, suggestion));
    }

    /// <summary>Brings all parts to what the schema allows.</summary>
    /// <returns>What had to be left out, each kind once.</returns>
    private static List<string> MendParts(HousePackage package, SourcePlace place)
    {
        var leftOut = new List<string>();
        // What a finished report remembers of how it was made is not for those that wear it.
        foreach (var record in package.Names.Where(n => n != package.Main && RecordReader.IsRecord(package.Bytes(n))).ToArray()) package.Remove(record);
        foreach (var name in package.Names.Where(n => n.EndsWith(".xml", StringComparison.OrdinalIgnoreCase)).ToArray())
        {
            if (!package.Has(name)) continue;
            var (xml, mender, isChanged) = (package.Xml(name), new SchemaMender(), false);
            xml.Changed += (_, _) => isChanged = true;
            foreach (var attribute in Dangling(xml, package.RelationshipsOf(name)).ToArray()) TakeOut(attribute);
            RemoveValueMarks(xml);
            var isSound = mender.Mend(xml.Root!);
            leftOut.AddRange(mender.LeftOut.Select(l => $"{l} ({name})"));
            if (isSound)
            {
                if (isChanged) package.Add(name, HouseFile.BytesOf(xml));
                continue;
            }
            if (name == package.Main) throw new ReportException(Diagnostic.Error(place, $"the part {name} does not hold what a document must", "open the file in the word processor, save it anew, and use that"));
            leftOut.Add(name);
            foreach (var from in package.Names.ToArray())
                if (package.RelationshipsOf(from).Where(r => !r.IsExternal && string.Equals(r.Target, name, StringComparison.OrdinalIgnoreCase)).ToArray() is { Length: > 0 } leading) TakeOut(package, from, leading);
            package.Remove(name);
        }
        MendWorkbooks(package, leftOut);
        StoryMender.Mend(package);
        package.RemoveUnreached();
        return [.. leftOut.Distinct()];
    }

    /// <summary>Takes out the marks around values of a finished report.</summary>
    private static void RemoveValueMarks(XDocument xml)
    {
        foreach (var start in xml.Descendants(StyleSheet.W + "bookmarkStart").Where(b => (string?)b.Attribute(StyleSheet.W + "name") is ['_', 'v', .. var number] && number.All(char.IsAsciiDigit)).ToArray())
        {
            xml.Descendants(StyleSheet.W + "bookmarkEnd").FirstOrDefault(e => (string?)e.Attribute(StyleSheet.W + "id") == (string?)start.Attribute(StyleSheet.W + "id"))?.Remove();
            start.Remove();
        }
    }

    private static void MendWorkbooks(HousePackage package, List<string> leftOut)
    {
        foreach (var from in package.Names.ToArray())
        {
            foreach (var relationship in package.RelationshipsOf(from).Where(r => r.Is("package")).ToArray())
            {
                var told = new List<string>();
                if (EmbeddedWorkbook.Mend(package.Bytes(relationship.Target), told) is { } mended) package.Add(relationship.Target, mended);
                else
                {
                    TakeOut(package, from, [relationship]);
                    told = ["a damaged workbook"];
                }
                leftOut.AddRange(told.Select(t => $"{t} ({relationship.Target})"));
            }
        }
    }

    /// <summary>What names a relationship that its part does not have, or one of another kind than it can use.</summary>
    private static IEnumerable<XAttribute> Dangling(XDocument xml, IReadOnlyList<HouseRelationship> relationships) =>
        xml.Descendants().Attributes().Where(a => a.Name.Namespace == R && (a.Value.Length > 0 || a.Name.LocalName is "id" or "embed") && !relationships.Any(r => r.Id == a.Value && (KindFor(a) is not { } kind || r.Is(kind))));

    /// <summary>The kind of relationship that an attribute names; null if there are several.</summary>
    private static string? KindFor(XAttribute attribute) => (attribute.Parent!.Name.LocalName, attribute.Name.LocalName) switch
    {
        ("headerReference", _) => "header",
        ("footerReference", _) => "footer",
        ("blip" or "imagedata" or "svgBlip", _) => "image",
        ("chart", "id") => "chart",
        ("externalData", "id") => "package",
        ("hyperlink" or "hlinkClick" or "hlinkHover", "id") => "hyperlink",
        ("relIds", "dm") => "diagramData",
        ("relIds", "lo") => "diagramLayout",
        ("relIds", "qs") => "diagramQuickStyle",
        ("relIds", "cs") => "diagramColors",
        ("embedRegular" or "embedBold" or "embedItalic" or "embedBoldItalic", _) => "font",
        _ => null,
    };

    private static void DropMacros(HousePackage package, Action<string, string> warn)
    {
        string[] active = ["vbaProject", "vbaData", "keyMapCustomizations", "attachedToolbars"];
        var dropped = package.Names.Where(n => active.Any(a => package.TypeOf(n).Contains(a, StringComparison.OrdinalIgnoreCase))).ToHashSet(StringComparer.OrdinalIgnoreCase);
        if (dropped.Count > 0) warn("the house holds macros, which reports do not carry", "save it without macros to be rid of this message");
        foreach (var name in package.Names.Where(n => n.StartsWith("_xmlsignatures/", StringComparison.OrdinalIgnoreCase)).ToArray())
        {
            if (dropped.All(d => !d.StartsWith("_xmlsignatures/", StringComparison.OrdinalIgnoreCase))) warn("the house is signed; reports are not, for they differ from it", "nothing needs to be done");
            dropped.Add(name);
        }
        foreach (var name in dropped) package.Remove(name);
    }

    private static void DropOutsideLinks(HousePackage package, Action<string, string> warn)
    {
        foreach (var from in package.Names.Append("").ToArray())
        {
            var outside = package.RelationshipsOf(from).Where(r => r.IsExternal ? !r.Is("hyperlink") : !package.Has(r.Target)).ToArray();
            if (outside.Length == 0) continue;
            TakeOut(package, from, outside);
            foreach (var relationship in outside.Where(r => r.IsExternal))
            {
                var words = OutsideKinds.FirstOrDefault(k => relationship.Is(k.Kind)).Words ?? "something";
                warn($"the house links to {words} outside of it ({relationship.Target}), which reports do not carry", "put it into the file itself");
            }
        }
    }

    /// <summary>Takes relationships of a part out, and what names them in it.</summary>
    internal static void TakeOut(HousePackage package, string from, IReadOnlyList<HouseRelationship> relationships)
    {
        foreach (var relationship in relationships) package.Remove(from, relationship);
        if (!from.EndsWith(".xml", StringComparison.OrdinalIgnoreCase)) return;
        var xml = package.Xml(from);
        foreach (var relationship in relationships) TakeOut(xml, relationship.Id);
        package.Add(from, HouseFile.BytesOf(xml));
    }

    /// <summary>Takes out what names a relationship that is gone.</summary>
    internal static void TakeOut(XDocument xml, string id)
    {
        foreach (var attribute in xml.Descendants().Attributes().Where(a => a.Name.Namespace == R && a.Value == id).ToArray()) TakeOut(attribute);
    }

    private static void TakeOut(XAttribute attribute)
    {
        if (attribute.Parent is not { } element) return;
        // A picture may be linked and stored too.
        if (attribute.Name.LocalName == "link" && element.Attribute(R + "embed") is not null) attribute.Remove();
        else if ((element.AncestorsAndSelf().LastOrDefault(e => e.Name.Namespace == StyleSheet.W && e.Name.LocalName is "drawing" or "pict" or "object" or "mailMerge") ?? element) is { Parent: not null } whole) whole.Remove();
    }
}
