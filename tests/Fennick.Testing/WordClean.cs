using System.IO.Compression;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Validation;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Testing;

/// <summary>Asserts what makes a document open cleanly: the schema, and the rules that no schema shows.</summary>
public static partial class WordClean
{
    private static readonly string[] CompatibilitySettings =
        ["compatibilityMode", "overrideTableStyleFontSizeAndJustification", "enableOpenTypeFeatures", "doNotFlipMirrorIndents", "differentiateMultirowTableHeaders"];

    private static readonly string[] ForbiddenSettings = ["mailMerge", "attachedTemplate", "documentProtection", "writeProtection", "updateFields", "linkStyles", "trackRevisions"];

    /// <summary>Opens a document, asserts all rules and returns it.</summary>
    /// <param name="path">The document.</param>
    /// <param name="inForeignHouse">Whether it wears a house of somebody else, who did not keep to those rules that are no more than good manners.</param>
    public static Docx Check(string path, bool inForeignHouse = false)
    {
        CheckSchema(path);
        var docx = Docx.Open(path);
        CheckPackage(docx);
        if (!inForeignHouse) CheckNotes(docx);
        CheckIds(docx);
        foreach (var story in Stories(docx))
        {
            if (!inForeignHouse) CheckTables(story);
            CheckFields(docx, story, inForeignHouse);
            CheckText(story);
        }
        CheckStyles(docx, inForeignHouse);
        CheckNumbering(docx, inForeignHouse);
        CheckSettings(docx);
        if (!inForeignHouse) CheckDrawings(docx);
        return docx;
    }

    private static void CheckSchema(string path)
    {
        using var document = WordprocessingDocument.Open(path, isEditable: false);
        AssertValid(document);
        foreach (var chart in document.MainDocumentPart!.ChartParts)
        {
            // A chart of somebody's house may have lost its workbook.
            if (chart.EmbeddedPackagePart is not { } data) continue;
            using var stream = data.GetStream();
            using var workbook = SpreadsheetDocument.Open(stream, isEditable: false);
            AssertValid(workbook);
        }

        static void AssertValid(OpenXmlPackage package)
        {
            var errors = new OpenXmlValidator(FileFormatVersions.Microsoft365).Validate(package).ToArray();
            Assert.True(errors.Length == 0, string.Join('\n', errors.Take(10).Select(e => $"{e.Part?.Uri} {e.Path?.XPath}: {e.Description}")));
        }
    }

    private static IEnumerable<XElement> Stories(Docx docx) =>
        docx.Names.Where(n => Regex.IsMatch(n, @"^word/(document|header\d+|footer\d+|footnotes|endnotes)\.xml$")).Select(n => docx.Xml(n).Root!);

    private static void CheckPackage(Docx docx)
    {
        Assert.Equal("[Content_Types].xml", docx.Names[0]);
        Assert.Equal(docx.Names.Count, docx.Names.Distinct(StringComparer.OrdinalIgnoreCase).Count());
        var types = docx.Xml("[Content_Types].xml").Root!;
        var overrides = types.Elements().Where(e => e.Name.LocalName == "Override").Select(e => (string)e.Attribute("PartName")!).ToList();
        var defaults = types.Elements().Where(e => e.Name.LocalName == "Default").Select(e => (string)e.Attribute("Extension")!).ToHashSet();
        Assert.Equal(overrides.Count, overrides.Distinct().Count());
        Assert.All(overrides, name => Assert.True(docx.Has(name[1..]), $"{name} has a type but is not there"));
        var parts = docx.Names.Skip(1).ToList();
        Assert.All(parts, name => Assert.True(overrides.Contains("/" + name) || (defaults.Contains(Path.GetExtension(name).TrimStart('.')) && (!name.EndsWith(".xml", StringComparison.Ordinal) || Regex.IsMatch(name, @"^customXml/item\d+\.xml$"))), $"{name} has no type"));

        var reached = new HashSet<string>();
        foreach (var rels in parts.Where(n => n.EndsWith(".rels", StringComparison.Ordinal)))
        {
            var folder = Path.GetDirectoryName(Path.GetDirectoryName(rels))!;
            foreach (var relationship in docx.Xml(rels).Root!.Elements())
            {
                var target = (string)relationship.Attribute("Target")!;
                if ((string?)relationship.Attribute("TargetMode") == "External")
                {
                    Assert.Matches(@"^[A-Za-z0-9\-._~:/?#\[\]@!$&'()*+,;=%]+$", target);
                    continue;
                }
                var resolved = Path.GetRelativePath("/", Path.GetFullPath(Path.Combine("/", folder, target)));
                Assert.True(docx.Has(resolved), $"{rels} points to {resolved}, which is not there");
                reached.Add(resolved);
            }
        }
        Assert.All(parts.Where(n => !n.EndsWith(".rels", StringComparison.Ordinal)), name => Assert.True(reached.Contains(name), $"nothing relates to {name}"));
        foreach (var name in docx.Names.Where(n => n.EndsWith(".xml", StringComparison.Ordinal)))
        {
            var text = System.Text.Encoding.UTF8.GetString(docx.Bytes(name));
            Assert.DoesNotContain(Environment.MachineName is { Length: > 3 } machine ? machine : "\0", text, StringComparison.Ordinal);
            Assert.DoesNotContain(Repository.Root, text, StringComparison.Ordinal);
            Assert.All(docx.Xml(name).Descendants(W + "p").Attributes().Where(a => a.Name.LocalName.StartsWith("rsid", StringComparison.Ordinal)), a => Assert.Fail($"{name} holds {a}"));
        }
        foreach (var element in docx.Xml("word/document.xml").Descendants().Attributes(R + "id").Concat(docx.Xml("word/document.xml").Descendants().Attributes(R + "embed")))
            Assert.Contains(element.Value, docx.Xml("word/_rels/document.xml.rels").Root!.Elements().Select(e => (string)e.Attribute("Id")!));
    }

    private static void CheckIds(Docx docx)
    {
        var stories = Stories(docx).ToList();
        AssertUnique(stories.SelectMany(s => s.Descendants(Wp + "docPr")).Select(e => (string)e.Attribute("id")!));
        var starts = stories.SelectMany(s => s.Descendants(W + "bookmarkStart")).ToList();
        AssertUnique(starts.Select(e => (string)e.Attribute(W + "id")!));
        AssertUnique(starts.Select(e => ((string)e.Attribute(W + "name")!).ToUpperInvariant()));
        Assert.All(starts, s => Assert.Matches(@"^[\p{L}_][\p{L}\p{Nd}_]{0,39}$", (string)s.Attribute(W + "name")!));
        Assert.Equal(
            starts.Select(e => (string)e.Attribute(W + "id")!).Order(),
            stories.SelectMany(s => s.Descendants(W + "bookmarkEnd")).Select(e => (string)e.Attribute(W + "id")!).Order());

        static void AssertUnique(IEnumerable<string> ids)
        {
            var all = ids.ToList();
            Assert.Equal(all.Count, all.Distinct().Count());
        }
    }

    private static void CheckTables(XElement story)
    {
        foreach (var container in story.DescendantsAndSelf().Where(e => e.Name == W + "body" || e.Name == W + "tc"))
        {
            var blocks = container.Elements().Where(e => e.Name == W + "p" || e.Name == W + "tbl").ToList();
            Assert.Equal(W + "p", blocks[^1].Name);
            Assert.DoesNotContain(blocks.Zip(blocks.Skip(1)), pair => pair.First.Name == W + "tbl" && pair.Second.Name == W + "tbl");
        }
        foreach (var table in story.Descendants(W + "tbl"))
        {
            var properties = table.Element(W + "tblPr")!;
            var grid = table.Element(W + "tblGrid")!.Elements(W + "gridCol").Select(g => (int)g.Attribute(W + "w")!).ToArray();
            Assert.InRange(grid.Length, 1, 63);
            Assert.Equal("fixed", (string)properties.Element(W + "tblLayout")!.Attribute(W + "type")!);
            Assert.Equal(grid.Sum(), (int)properties.Element(W + "tblW")!.Attribute(W + "w")!);
            Assert.NotNull(properties.Element(W + "tblLook")!.Attribute(W + "val"));
            Assert.NotNull(properties.Element(W + "tblLook")!.Attribute(W + "firstRow"));
            Assert.Null(properties.Element(W + "tblBorders"));
            var rows = table.Elements(W + "tr").ToList();
            Assert.InRange(rows.Count, 1, 32_767);
            foreach (var row in rows)
            {
                var column = 0;
                foreach (var cell in row.Elements(W + "tc"))
                {
                    var span = (int?)cell.Element(W + "tcPr")!.Element(W + "gridSpan")?.Attribute(W + "val") ?? 1;
                    Assert.Equal(grid.Skip(column).Take(span).Sum(), (int)cell.Element(W + "tcPr")!.Element(W + "tcW")!.Attribute(W + "w")!);
                    Assert.All(cell.Elements(W + "p"), p => Assert.NotNull(p.Element(W + "pPr")?.Element(W + "pStyle")));
                    column += span;
                }
                Assert.Equal(grid.Length, column);
            }
            var headers = rows.Select(r => r.Element(W + "trPr")?.Element(W + "tblHeader") is not null).ToList();
            Assert.DoesNotContain(headers.Zip(headers.Skip(1)), pair => !pair.First && pair.Second);
        }
    }

    private static void CheckFields(Docx docx, XElement story, bool inForeignHouse)
    {
        var states = new Stack<string>();
        var instruction = "";
        foreach (var character in story.Descendants().Where(e => e.Name == W + "fldChar" || e.Name == W + "instrText" || e.Name == W + "delInstrText"))
        {
            if (character.Name != W + "fldChar") instruction = character.Value;
            else switch ((string)character.Attribute(W + "fldCharType")!)
                {
                    // The mark of a place of the index has no result (§17.16.5.74).
                    case "end" when states.Peek() == "begin" && instruction.StartsWith(" XE ", StringComparison.Ordinal): states.Pop(); break;
                    case "begin": states.Push("begin"); break;
                    case "separate": Assert.Equal("begin", states.Pop()); states.Push("separate"); break;
                    default: Assert.Contains(states.Pop(), inForeignHouse ? ["begin", "separate"] : (string[])["separate"]); break;
                }
        }
        Assert.Empty(states);
        var body = docx.Body;
        foreach (var reference in story.Descendants(W + "instrText"))
        {
            var match = ReferenceInstruction().Match(reference.Value);
            if (!match.Success) continue;
            var start = body.Descendants(W + "bookmarkStart").SingleOrDefault(b => (string?)b.Attribute(W + "name") == match.Groups[2].Value);
            Assert.True(start is not null, $"no bookmark for {reference.Value}");
            // The number of a paragraph stands in a list, not in its text.
            if (reference.Value.Contains("\\w", StringComparison.Ordinal)) Assert.True(IsCounted(docx, start!.Ancestors(W + "p").First()), $"nothing counts the target of {reference.Value}");
            else if (match.Groups[1].Value == "REF") Assert.Equal(BookmarkText(start!), FieldResult(reference));
        }
        foreach (var link in story.Descendants(W + "hyperlink").Where(l => l.Attribute(W + "anchor") is not null))
            Assert.Contains(body.Descendants(W + "bookmarkStart"), b => (string?)b.Attribute(W + "name") == (string)link.Attribute(W + "anchor")!);
        if (inForeignHouse) return;
        foreach (var sequence in story.Descendants(W + "instrText").Where(i => i.Value.TrimStart().StartsWith("SEQ ", StringComparison.Ordinal)))
            Assert.DoesNotContain(sequence.Ancestors(W + "p").First().Descendants(W + "bookmarkStart").Take(1).SelectMany(b => b.ElementsAfterSelf(W + "r").Take(1)), r => r.Element(W + "rPr") is not null);
    }

    private static bool IsCounted(Docx docx, XElement paragraph)
    {
        var style = docx.Xml("word/styles.xml").Root!.Elements(W + "style").Single(s => (string?)s.Attribute(W + "styleId") == (string?)paragraph.Element(W + "pPr")!.Element(W + "pStyle")!.Attribute(W + "val"));
        // Headings of appendices name their list themselves.
        var own = paragraph.Element(W + "pPr")!.Element(W + "numPr");
        var id = (string?)(own ?? style.Element(W + "pPr")?.Element(W + "numPr"))?.Element(W + "numId")?.Attribute(W + "val");
        var number = docx.Xml("word/numbering.xml").Root!.Elements(W + "num").SingleOrDefault(n => (string?)n.Attribute(W + "numId") == id);
        if (number is null) return false;
        var kind = docx.Xml("word/numbering.xml").Root!.Elements(W + "abstractNum").Single(a => (string?)a.Attribute(W + "abstractNumId") == (string?)number.Element(W + "abstractNumId")!.Attribute(W + "val"));
        if (own is not null) return kind.Elements(W + "lvl").Any(l => (string?)l.Attribute(W + "ilvl") == ((string?)own.Element(W + "ilvl")?.Attribute(W + "val") ?? "0"));
        // Style and level name each other.
        return kind.Descendants(W + "pStyle").Any(s => (string?)s.Attribute(W + "val") == (string?)style.Attribute(W + "styleId"));
    }

    private static void CheckNotes(Docx docx)
    {
        var marks = docx.Body.Descendants(W + "footnoteReference").Select(m => (int)m.Attribute(W + "id")!).ToList();
        Assert.Equal(marks.Count > 0, docx.Has("word/footnotes.xml"));
        Assert.Equal(marks.Count > 0, docx.Xml("word/settings.xml").Root!.Element(W + "footnotePr") is not null);
        if (marks.Count == 0) return;
        var notes = docx.Xml("word/footnotes.xml").Root!.Elements(W + "footnote").ToList();
        Assert.Equal([-1, 0, .. Enumerable.Range(1, marks.Count)], notes.Select(n => (int)n.Attribute(W + "id")!));
        Assert.Equal(marks.Order(), Enumerable.Range(1, marks.Count));
        Assert.All(notes.Skip(2), n => Assert.Single(n.Descendants(W + "footnoteRef")));
    }

    private static string BookmarkText(XElement start)
    {
        var id = (string)start.Attribute(W + "id")!;
        return string.Concat(start.ElementsAfterSelf().TakeWhile(e => !(e.Name == W + "bookmarkEnd" && (string)e.Attribute(W + "id")! == id)).Select(Text));
    }

    private static string FieldResult(XElement instruction)
    {
        var runs = instruction.Parent!.ElementsAfterSelf().SkipWhile(r => (string?)r.Element(W + "fldChar")?.Attribute(W + "fldCharType") != "separate").Skip(1);
        return string.Concat(runs.TakeWhile(r => r.Element(W + "fldChar") is null).Select(Text));
    }

    private static void CheckText(XElement story)
    {
        foreach (var text in story.Descendants(W + "t"))
        {
            Assert.DoesNotContain(text.Value, c => c is '\t' or '\n' or '\r' or '\u2011');
            if (text.Value.Trim(' ').Length != text.Value.Length || text.Value.Contains("  ", StringComparison.Ordinal))
                Assert.Equal("preserve", (string?)text.Attribute(XNamespace.Xml + "space"));
            if (text.Value.Any(c => c is >= '\u0590' and <= '\u08FF')) Assert.NotNull(text.Parent!.Element(W + "rPr")?.Element(W + "rtl"));
        }
    }

    private static void CheckStyles(Docx docx, bool inForeignHouse)
    {
        var styles = docx.Xml("word/styles.xml").Root!;
        var defined = styles.Elements(W + "style").ToList();
        var ids = defined.Select(s => (string)s.Attribute(W + "styleId")!).ToList();
        Assert.Equal(ids.Count, ids.Distinct().Count());
        var used = Stories(docx).SelectMany(s => s.Descendants()).Where(e => e.Name == W + "pStyle" || e.Name == W + "rStyle" || e.Name == W + "tblStyle");
        Assert.All(used, e => Assert.Contains((string)e.Attribute(W + "val")!, ids));
        foreach (var link in defined.SelectMany(s => s.Elements()).Where(e => e.Name == W + "basedOn" || e.Name == W + "next" || e.Name == W + "link"))
            Assert.Contains((string)link.Attribute(W + "val")!, ids);
        // A toggle that is set by the paragraph's style and again by a run's style cancels.
        var bold = defined.Where(s => s.Element(W + "rPr")?.Element(W + "b") is { } b && (string?)b.Attribute(W + "val") is not ("0" or "false")).Select(s => (string)s.Attribute(W + "styleId")!).ToHashSet();
        foreach (var run in Stories(docx).SelectMany(s => s.Descendants(W + "rStyle")).Where(r => bold.Contains((string)r.Attribute(W + "val")!)))
            Assert.DoesNotContain((string?)run.Ancestors(W + "p").First().Element(W + "pPr")?.Element(W + "pStyle")?.Attribute(W + "val") ?? "", bold);
        if (inForeignHouse) return;
        var names = defined.Select(s => ((string)s.Element(W + "name")!.Attribute(W + "val")!).ToUpperInvariant()).ToList();
        Assert.Equal(names.Count, names.Distinct().Count());
        Assert.NotNull(styles.Element(W + "latentStyles"));
        var normal = defined.Single(s => (string?)s.Attribute(W + "default") == "1" && (string?)s.Attribute(W + "type") == "paragraph");
        Assert.Null(normal.Element(W + "rPr")?.Element(W + "sz"));
    }

    private static void CheckNumbering(Docx docx, bool inForeignHouse)
    {
        var used = Stories(docx).Append(docx.Xml("word/styles.xml").Root!).SelectMany(s => s.Descendants(W + "numId")).Select(e => (string)e.Attribute(W + "val")!).Distinct().Where(id => id != "0").ToList();
        if (used.Count == 0) return;
        var numbering = docx.Xml("word/numbering.xml").Root!;
        var numbers = numbering.Elements(W + "num").Select(n => (string)n.Attribute(W + "numId")!).ToList();
        Assert.All(used, id => Assert.Contains(id, numbers));
        if (inForeignHouse) return;
        var nsids = numbering.Elements(W + "abstractNum").Select(a => (string)a.Element(W + "nsid")!.Attribute(W + "val")!).ToList();
        Assert.Equal(nsids.Count, nsids.Distinct().Count());
    }

    private static void CheckSettings(Docx docx)
    {
        var settings = docx.Xml("word/settings.xml").Root!;
        var compatibility = settings.Element(W + "compat")!.Elements(W + "compatSetting").ToDictionary(e => (string)e.Attribute(W + "name")!, e => (string)e.Attribute(W + "val")!);
        Assert.All(CompatibilitySettings, name => Assert.Contains(name, compatibility.Keys));
        Assert.Equal("15", compatibility["compatibilityMode"]);
        Assert.DoesNotContain(settings.Elements(), e => ForbiddenSettings.Contains(e.Name.LocalName));
        Assert.NotNull(settings.Element(W + "decimalSymbol"));
        Assert.NotNull(settings.Element(W + "listSeparator"));
        Assert.NotNull(docx.Xml("word/styles.xml").Root!.Element(W + "docDefaults")!.Descendants(W + "lang").Single().Attribute(W + "val"));
    }

    private static void CheckDrawings(Docx docx)
    {
        foreach (var properties in docx.Body.Descendants(Wp + "docPr")) Assert.True(!string.IsNullOrWhiteSpace((string?)properties.Attribute("descr")) || properties.Descendants().Any(e => e.Name.LocalName == "decorative"), "a figure has no alternative text");
        foreach (var name in docx.Names.Where(n => Regex.IsMatch(n, @"^word/charts/chart\d+\.xml$")))
        {
            var chart = docx.Xml(name).Root!;
            foreach (var element in (string[])["roundedCorners", "autoTitleDeleted", "varyColors", "dispBlanksAs", "overlay"])
                Assert.True(element == "overlay" || chart.Descendants(C + element).Any(), $"{name} lacks {element}");
            Assert.All(chart.Descendants(C + "dLbls"), labels => Assert.Equal(6, labels.Elements().Count(e => e.Name.LocalName.StartsWith("show", StringComparison.Ordinal))));
            CheckCaches(docx, name, chart);
        }
    }

    /// <summary>What the chart shows is what its workbook holds.</summary>
    private static void CheckCaches(Docx docx, string name, XElement chart)
    {
        var relationship = docx.Xml($"word/charts/_rels/{Path.GetFileName(name)}.rels").Root!.Elements().Single(e => ((string)e.Attribute("Type")!).EndsWith("/package", StringComparison.Ordinal));
        var workbook = docx.Bytes(Path.GetRelativePath("/", Path.GetFullPath(Path.Combine("/word/charts", (string)relationship.Attribute("Target")!))));
        using var zip = new ZipArchive(new MemoryStream(workbook));
        using var sheet = zip.GetEntry("xl/worksheets/sheet1.xml")!.Open();
        var cells = XDocument.Load(sheet).Descendants().Where(e => e.Name.LocalName == "c").ToDictionary(c => (string)c.Attribute("r")!, c => c.Value);
        foreach (var reference in chart.Descendants().Where(e => e.Name == C + "numRef" || e.Name == C + "strRef"))
        {
            var range = Regex.Match(reference.Element(C + "f")!.Value, @"!\$([A-Z]+)\$(\d+)(?::\$[A-Z]+\$(\d+))?$");
            var first = int.Parse(range.Groups[2].Value, null);
            var last = range.Groups[3].Success ? int.Parse(range.Groups[3].Value, null) : first;
            Assert.Equal(last - first + 1, (int)reference.Descendants(C + "ptCount").Single().Attribute("val")!);
            for (var row = first; row <= last; row++)
            {
                var cached = reference.Descendants(C + "pt").SingleOrDefault(p => (int)p.Attribute("idx")! == row - first)?.Element(C + "v")!.Value;
                Assert.Equal(cells.GetValueOrDefault($"{range.Groups[1].Value}{row}"), cached);
            }
        }
    }

    [GeneratedRegex(@"^\s*(REF|PAGEREF|NOTEREF)\s+(\S+)")]
    private static partial Regex ReferenceInstruction();
}
