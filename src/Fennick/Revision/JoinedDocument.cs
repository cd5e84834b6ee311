using System.Collections.Immutable;
using System.Globalization;
using System.Xml.Linq;
using Fennick.Schema;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Makes one document of several finished ones, whoever wrote them.</summary>
internal sealed class JoinedDocument
{
    private static readonly string[] Ends = ["header", "footer"];
    private static readonly HashSet<string> PropertyFields = new(["TITLE", "AUTHOR", "SUBJECT", "KEYWORDS", "COMMENTS", "DOCPROPERTY", "DOCVARIABLE", "LASTSAVEDBY", "FILENAME"], StringComparer.OrdinalIgnoreCase);
    private const string CaptionLists = "lists of tables and figures list those of their own document; when a word processor renews them, they list those of all";
    private readonly WordDocument[] documents;
    private readonly JoinOptions options;
    private readonly JoinedParts shared;
    private readonly WordDocument joined;
    private readonly ImmutableArray<string>.Builder remarks = ImmutableArray.CreateBuilder<string>();
    private readonly HashSet<string> marks = new(StringComparer.OrdinalIgnoreCase);
    private readonly bool hasEvenPages;
    private readonly bool[] evenPages;

    private JoinedDocument(WordDocument[] documents, JoinOptions options)
    {
        (this.documents, this.options, joined) = (documents, options, documents[0]);
        hasEvenPages = documents.Any(HasEvenPages);
        evenPages = [.. documents.Select(HasEvenPages)];
        foreach (var (n, document) in documents.Index()) Prepare(document, n);
        shared = new JoinedParts(joined);
    }

    private bool PagesRestart => options.Restart.HasFlag(JoinRestart.Pages);

    /// <summary>Joins documents into the first of them.</summary>
    /// <returns>What deserves to be known.</returns>
    public static ImmutableArray<string> Join(WordDocument[] documents, JoinOptions options) => new JoinedDocument(documents, options).Run();

    private ImmutableArray<string> Run()
    {
        joined.Change(joined.Package.Main);
        // Headers that all get come first, so that whoever needs them finds them.
        JoinTransplant[] transplants = [.. documents.Skip(1).Select(d => new JoinTransplant(d, joined, shared))];
        var own = Sections.Of(joined.Body);
        var headers = options.HeadersOf is { } n ? HeadersOf(n, n == 1 ? null : transplants[n - 2]) : null;
        if (headers is not null && options.HeadersOf != 1) Dress(own, headers);
        if (hasEvenPages) SetEvenPages();
        if (hasEvenPages && !evenPages[(options.HeadersOf ?? 1) - 1]) foreach (var section in own) AddEven(section);
        for (var d = 1; d < documents.Length; d++) Append(documents[d], transplants[d - 1], d, headers);
        var numbers = new FieldNumbers(joined);
        numbers.Count();
        numbers.Refer();
        RenewEntries(numbers);
        ForgetPages();
        return remarks.ToImmutable();
    }

    private static bool HasEvenPages(WordDocument document) => document.Find("settings") is { } part && document.Open(part).Root!.Element(W + "evenAndOddHeaders") is { } on && (string?)on.Attribute(Val) is not ("0" or "false" or "off");

    private void SetEvenPages()
    {
        if (joined.Find("settings") is null) joined.Add("word/settings.xml", XmlText.Write(new XDocument(new XElement(W + "settings", new XAttribute(XNamespace.Xmlns + "w", W.NamespaceName)))), "application/vnd.openxmlformats-officedocument.wordprocessingml.settings+xml", "settings");
        var settings = joined.Change(joined.Find("settings")!);
        settings.Elements(W + "evenAndOddHeaders").Remove();
        settings.Add(new XElement(W + "evenAndOddHeaders"));
        SchemaMender.Order(settings);
    }

    /// <summary>Makes of a document one that can stand beside others: without the marks by which it is refreshed, with bookmarks of its own, and with its own properties where fields showed them.</summary>
    private void Prepare(WordDocument document, int number)
    {
        if (document.RecordPart is { } record)
        {
            foreach (var properties in document.Package.RelationshipsOf(record).Where(r => !r.IsExternal).ToArray()) document.Package.Remove(properties.Target);
            document.Package.Remove(record);
        }
        if (document.Find("settings") is { } settings && document.Open(settings).Root!.Element(W + "documentProtection") is not null) remarks.Add(number == 0 ? "the first document is protected, and so is what it was joined to" : $"document {number + 1} is protected; what was joined is protected only if the first one is");
        var names = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var story in document.Stories.ToArray())
        {
            var root = document.Change(story);
            foreach (var mark in root.Descendants().SelectMany(e => e.Attributes()).Where(a => a.Name == W14 + "paraId" && WordDocument.MarkOf(a.Parent!) > 0).ToArray()) mark.Remove();
            Bookmarks.RemoveValues(root);
            foreach (var name in root.Descendants(W + "bookmarkStart").Select(b => (string?)b.Attribute(Name) ?? ""))
                if (!marks.Add(name)) names.TryAdd(name, Free(name));
            if (number > 0) Unlink(root);
        }
        if (names.Count > 0) Bookmarks.Rename(document, names);
    }

    private string Free(string name)
    {
        const int Longest = 40;
        if (marks.Add(name)) return name;
        for (var n = 2; ; n++)
        {
            var ending = string.Create(CultureInfo.InvariantCulture, $"_{n}");
            var free = name[..Math.Min(name.Length, Longest - ending.Length)] + ending;
            if (marks.Add(free)) return free;
        }
    }

    /// <summary>Fields that show properties of the document become what they show: the joined document has other properties.</summary>
    private static void Unlink(XElement root)
    {
        foreach (var field in root.Descendants(W + "fldSimple").Where(f => PropertyFields.Contains(((string?)f.Attribute(W + "instr") ?? "").Trim().Split(' ')[0])).ToArray()) field.ReplaceWith(field.Elements());
        foreach (var paragraph in root.Descendants(P).Where(p => p.Descendants(W + "instrText").Any(i => PropertyFields.Contains(i.Value.Trim().Split(' ')[0]))).ToArray())
        {
            foreach (var field in FieldNumbers.FieldsOf(new ReadParagraph(paragraph, 0)).Where(f => PropertyFields.Contains(FieldNumbers.Word(f)) && f.Element.Is("fldChar")).ToArray())
            {
                var isInstruction = true;
                foreach (var run in ParagraphEditor.ElementsOf(field))
                {
                    var type = (string?)run.Element(W + "fldChar")?.Attribute(W + "fldCharType");
                    if (type is null && !isInstruction) continue;
                    if (type == "separate") isInstruction = false;
                    if (type is not null || run.Element(W + "instrText") is not null) run.Remove();
                }
            }
        }
    }

    /// <summary>The references to the headers and footers that all get.</summary>
    private XElement HeadersOf(int number, JoinTransplant? transplant)
    {
        var section = new XElement(Sections.Of(documents[number - 1].Body)[^1]);
        var whole = new XElement(W + "sectPr");
        // What the last section does not name it has from those before it.
        foreach (var earlier in Sections.Of(documents[number - 1].Body))
            foreach (var reference in Sections.References(earlier))
            {
                whole.Elements(reference.Name).Where(r => (string?)r.Attribute(W + "type") == (string?)reference.Attribute(W + "type")).Remove();
                whole.Add(new XElement(reference));
            }
        if (section.Element(W + "titlePg") is { } title) whole.Add(new XElement(title));
        return transplant is null ? whole : transplant.Copy(whole, documents[number - 1].Package.Main, joined.Package.Main);
    }

    private static void Dress(List<XElement> sections, XElement headers)
    {
        foreach (var (n, section) in sections.Index())
        {
            foreach (var reference in Sections.References(section)) reference.Remove();
            section.Element(W + "titlePg")?.Remove();
            if (n > 0) continue;
            section.Add(headers.Elements().Select(e => new XElement(e)));
            SchemaMender.Order(section);
        }
    }

    private void Append(WordDocument document, JoinTransplant transplant, int number, XElement? headers)
    {
        var isDressed = headers is not null && options.HeadersOf != number + 1;
        var own = Sections.Of(document.Body);
        if (isDressed) foreach (var reference in own.SelectMany(Sections.References).ToArray()) reference.Remove();
        var start = joined.Body.Elements(W + "sectPr").Last();
        start.Remove();
        EndSection(start);
        joined.Body.Elements(W + "sectPr").Remove();
        XElement[] content = [.. document.Body.Elements().Select(e => transplant.Copy(e, document.Package.Main, joined.Package.Main))];
        joined.Body.Add(content);
        List<XElement> sections = [.. content.SelectMany(e => e.DescendantsAndSelf(W + "sectPr")).Where(s => s.Parent == joined.Body || s.Parent!.Is("pPr"))];
        if (isDressed) Dress(sections, headers!);
        var first = sections[0];
        if ((string?)first.Element(W + "type")?.Attribute(Val) is "continuous" or "nextColumn") first.Element(W + "type")!.Remove();
        if (hasEvenPages && !evenPages[isDressed ? options.HeadersOf!.Value - 1 : number]) foreach (var section in sections) AddEven(section);
        FillHeaders(first);
        if (PagesRestart) Sections.Property(first, "pgNumType").SetAttributeValue(W + "start", NumberIn(first.Element(W + "pgNumType")?.Attribute(W + "start")) ?? 1);
        else first.Element(W + "pgNumType")?.Attribute(W + "start")?.Remove();
        if (options.Restart.HasFlag(JoinRestart.Notes)) RestartNotes(sections);
        if (options.Restart.HasFlag(JoinRestart.Captions))
        {
            RestartCaptions(content);
            RestartHeadings(content, transplant);
        }
        KeepHeadings(content, transplant);
        KeepContents(content, number);
        if (PagesRestart) KeepCount(content, sections, number);
    }

    /// <summary>Ends the section of what stands before: in its last paragraph, or in one of its own if a table is last.</summary>
    private void EndSection(XElement section)
    {
        if (joined.Body.Elements().LastOrDefault() is { } last && last.Name == P && last.Element(W + "pPr")?.Element(W + "sectPr") is null)
        {
            PropertiesOf(last).Add(section);
            SchemaMender.Order(last);
            return;
        }
        // As small as can be, so that it does not begin a page.
        joined.Body.Add(new XElement(P, new XElement(W + "pPr", new XElement(W + "spacing", new XAttribute(W + "before", 0), new XAttribute(W + "after", 0), new XAttribute(W + "line", 20), new XAttribute(W + "lineRule", "exact")), new XElement(W + "rPr", new XElement(W + "sz", new XAttribute(Val, 2))), section)));
    }

    /// <summary>A document whose left pages look like its right ones keeps them where others have two kinds.</summary>
    private static void AddEven(XElement section)
    {
        foreach (var reference in Sections.References(section).Where(r => (string?)r.Attribute(W + "type") is null or "default"))
        {
            if (section.Elements(reference.Name).Any(r => (string?)r.Attribute(W + "type") == "even")) continue;
            var even = new XElement(reference);
            even.SetAttributeValue(W + "type", "even");
            reference.AddAfterSelf(even);
        }
    }

    /// <summary>What a section does not name it takes from the one before: a document without headers must not get those of another.</summary>
    private void FillHeaders(XElement first)
    {
        foreach (var end in Ends)
        {
            foreach (var kind in hasEvenPages ? ["default", "first", "even"] : (string[])["default", "first"])
            {
                if (kind == "first" && first.Element(W + "titlePg") is null) continue;
                if (first.Elements(W + (end + "Reference")).Any(r => ((string?)r.Attribute(W + "type") ?? "default") == kind)) continue;
                first.AddFirst(new XElement(W + (end + "Reference"), new XAttribute(W + "type", kind), new XAttribute(R + "id", Empty(end))));
            }
        }
    }

    private string Empty(string end)
    {
        var name = $"word/{end}Empty.xml";
        if (!joined.Package.Has(name))
            joined.Package.Add(name, XmlText.Write(new XDocument(new XElement(W + (end == "header" ? "hdr" : "ftr"), new XAttribute(XNamespace.Xmlns + "w", W.NamespaceName), new XElement(P)))));
        joined.Package.SetType(name, $"application/vnd.openxmlformats-officedocument.wordprocessingml.{end}+xml");
        return joined.Relate(joined.Package.Main, end, name, isExternal: false);
    }

    private static void RestartNotes(List<XElement> sections)
    {
        foreach (var kind in new[] { "footnotePr", "endnotePr" })
        {
            foreach (var (n, section) in sections.Index())
            {
                var notes = Sections.Property(section, kind);
                if (notes.Element(W + "numRestart") is { } known && n > 0) continue;
                notes.Elements(W + "numRestart").Remove();
                var restart = new XElement(W + "numRestart", new XAttribute(Val, n == 0 ? "eachSect" : "continuous"));
                notes.Add(restart);
            }
        }
    }

    /// <summary>The first caption of each kind counts from 1.</summary>
    private static void RestartCaptions(XElement[] content)
    {
        var seen = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var (instruction, text) in InstructionsIn(content))
        {
            var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            if (words.Length < 2 || !words[0].Equals("SEQ", StringComparison.OrdinalIgnoreCase) || words.Contains(@"\s") || !seen.Add(words[1]) || words.Contains(@"\r") || words.Contains(@"\c")) continue;
            Set(instruction, $" {string.Join(' ', words)} \\r 1 ");
        }
    }

    /// <summary>Headings that count on in the list of an earlier document get one of their own.</summary>
    private void RestartHeadings(XElement[] content, JoinTransplant transplant)
    {
        if (joined.Find("numbering") is not { } part) return;
        var (lists, root, fresh) = (ParagraphNumbers.ListsIn(joined), joined.Change(part), new Dictionary<string, string>(StringComparer.Ordinal));
        foreach (var paragraph in content.SelectMany(e => e.DescendantsAndSelf(P)))
        {
            if (lists.ListOf(paragraph) is not ({ } list, var level) || transplant.IsOwn(list)) continue;
            if (!fresh.TryGetValue(list, out var own))
            {
                if (root.Elements(W + "num").FirstOrDefault(n => (string?)n.Attribute(W + "numId") == list) is not { } known) continue;
                own = fresh[list] = FreeNumber(root, W + "num", W + "numId").ToString(CultureInfo.InvariantCulture);
                root.Elements(W + "num").Last().AddAfterSelf(new XElement(W + "num", new XAttribute(W + "numId", own), new XElement(known.Element(W + "abstractNumId")!),
                    new XElement(W + "lvlOverride", new XAttribute(W + "ilvl", 0), new XElement(W + "startOverride", new XAttribute(Val, 1)))));
            }
            var properties = PropertiesOf(paragraph);
            properties.Elements(W + "numPr").Remove();
            properties.Add(new XElement(W + "numPr", new XElement(W + "ilvl", new XAttribute(Val, level)), new XElement(W + "numId", new XAttribute(Val, own))));
            SchemaMender.Order(paragraph);
        }
    }

    /// <summary>The instructions of fields, each with the element that holds it.</summary>
    private static (XElement Element, string Text)[] InstructionsIn(IEnumerable<XElement> content) =>
        [.. content.SelectMany(e => e.DescendantsAndSelf()).Where(e => e.Is("instrText") || e.Is("fldSimple")).Select(e => (e, e.Is("fldSimple") ? (string?)e.Attribute(W + "instr") ?? "" : e.Value))];

    private static bool IsField(string instruction, string kind) => instruction.TrimStart().StartsWith(kind, StringComparison.OrdinalIgnoreCase);

    private static void Set(XElement instruction, string text)
    {
        if (instruction.Is("fldSimple")) instruction.SetAttributeValue(W + "instr", text);
        else
        {
            instruction.Value = text;
            instruction.SetAttributeValue(XNamespace.Xml + "space", "preserve");
        }
    }

    /// <summary>Fields that ask for headings ask for those of the names that these have got.</summary>
    private static void KeepHeadings(XElement[] content, JoinTransplant transplant)
    {
        if (transplant.RenamedHeadings.Count == 0) return;
        foreach (var (instruction, text) in InstructionsIn(content))
        {
            var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            if (words.Length < 2) continue;
            if (words[0].Equals("STYLEREF", StringComparison.OrdinalIgnoreCase) && NumberIn(new XAttribute("n", words[1].Trim('"'))) is { } level && transplant.RenamedHeadings.TryGetValue(level, out var name)) Set(instruction, $" STYLEREF \"{name}\" {string.Join(' ', words.Skip(2))} ");
            else if (words[0].Equals("TOC", StringComparison.OrdinalIgnoreCase) && words.Any(w => w is @"\o")) Set(instruction, $" {text.Trim()} \\t \"{string.Join(',', transplant.RenamedHeadings.OrderBy(h => h.Key).Select(h => $"{h.Value},{h.Key}"))}\" ");
        }
    }

    /// <summary>A list of contents or an index goes on listing its own document alone.</summary>
    private void KeepContents(XElement[] content, int number)
    {
        if (number == 1) Bound([.. joined.Body.Elements().TakeWhile(e => e != content[0])], ListsIn(joined.Body.Elements().TakeWhile(e => e != content[0])), 0);
        var lists = ListsIn(content);
        // The pages before move what is listed and referred to.
        XElement[] paged = PagesRestart ? [] : [.. lists, .. InstructionsIn(content).Where(i => IsField(i.Text, "PAGEREF")).Select(i => i.Element)];
        Bound(content, lists, number);
        if (lists.Any(IsOfCaptions) && !remarks.Contains(CaptionLists)) remarks.Add(CaptionLists);
        if (paged.Length == 0) return;
        foreach (var instruction in paged) BeginOf(instruction)?.SetAttributeValue(W + "dirty", "true");
        remarks.Add($"the page numbers in the contents and references of document {number + 1} are those that it had by itself; the word processor renews them when the document is opened (with `--restart pages` they stay true)");
    }

    /// <summary>What begins the field of an instruction: the last beginning before it.</summary>
    private static XElement? BeginOf(XElement instruction) => instruction.Is("fldSimple") ? instruction
        : instruction.Ancestors(P).First().Descendants(W + "fldChar").LastOrDefault(c => (string?)c.Attribute(W + "fldCharType") == "begin" && c.IsBefore(instruction));

    /// <summary>The instructions of lists of contents and indexes that are not bound yet.</summary>
    private static XElement[] ListsIn(IEnumerable<XElement> content) => [.. InstructionsIn(content).Where(i => (IsField(i.Text, "TOC ") || IsField(i.Text, "INDEX")) && !i.Text.Contains(@"\b ", StringComparison.Ordinal)).Select(i => i.Element)];

    private static bool IsOfCaptions(XElement list) => list.Value.Contains(@"\c ", StringComparison.Ordinal);

    /// <summary>Puts a bookmark around a document for its lists.</summary>
    private void Bound(XElement[] content, XElement[] lists, int number)
    {
        if (lists.Length == 0) return;
        var name = Free(string.Create(CultureInfo.InvariantCulture, $"_Joined{number + 1}"));
        var id = shared.Numbers.NextBookmark();
        content[0].AddBeforeSelf(new XElement(W + "bookmarkStart", new XAttribute(Id, id), new XAttribute(Name, name)));
        var end = content.LastOrDefault(e => !e.Is("sectPr")) ?? content[^1];
        end.AddAfterSelf(new XElement(W + "bookmarkEnd", new XAttribute(Id, id)));
        // Debian's word processor ends where a list of captions is bound so.
        foreach (var (list, text) in InstructionsIn(lists).Where(i => !IsOfCaptions(i.Element))) Set(list, $" {text.Trim()} \\b {name} ");
    }

    /// <summary>How many pages there are is what a document counted for itself.</summary>
    private void KeepCount(XElement[] content, List<XElement> sections, int number)
    {
        var parts = sections.SelectMany(Sections.References).Select(r => joined.PartOf(joined.Package.Main, r.Attribute(R + "id"))).OfType<string>().Distinct().ToArray();
        XElement[] counts = [.. InstructionsIn(content.Concat(parts.Select(p => joined.Open(p).Root!))).Where(i => IsField(i.Text, "NUMPAGES")).Select(i => i.Element)];
        // Headers that several documents share count all pages.
        if (counts.Length == 0 || options.HeadersOf is not null) return;
        foreach (var part in parts) joined.Change(part);
        var name = Free(string.Create(CultureInfo.InvariantCulture, $"_JoinedEnd{number + 1}"));
        var id = shared.Numbers.NextBookmark();
        var last = content.LastOrDefault(e => e.Name == P) ?? content.SelectMany(e => e.DescendantsAndSelf(P)).LastOrDefault();
        if (last is null) return;
        last.Add(new XElement(W + "bookmarkStart", new XAttribute(Id, id), new XAttribute(Name, name)), new XElement(W + "bookmarkEnd", new XAttribute(Id, id)));
        foreach (var count in counts) Set(count, $" PAGEREF {name} ");
    }

    /// <summary>Lists of tables and figures show the numbers that these have now.</summary>
    private void RenewEntries(FieldNumbers numbers)
    {
        var targets = numbers.Counted.SelectMany(c => c.Key.Descendants(W + "bookmarkStart").Select(b => (Name: (string?)b.Attribute(Name) ?? "", c.Value))).GroupBy(t => t.Name, StringComparer.OrdinalIgnoreCase).ToDictionary(g => g.Key, g => g.First().Value, StringComparer.OrdinalIgnoreCase);
        foreach (var link in joined.Body.Descendants(W + "hyperlink"))
        {
            if (!targets.TryGetValue((string?)link.Attribute(W + "anchor") ?? "", out var number)) continue;
            var paragraph = new ReadParagraph(link.Ancestors(P).First(), 0);
            var text = paragraph.Text;
            var place = Words.Of(text).FirstOrDefault(w => text.Substring(w.Start, w.Length) == number.Before, (Start: -1, Length: 0));
            if (place.Start >= 0 && paragraph.Reading.Pieces.Any(p => p.Kind == PieceKind.Text && p.Start <= place.Start && p.End >= place.Start + place.Length)) new ParagraphEditor(paragraph, null).Replace(place.Start, place.Start + place.Length, number.Now);
        }
    }

    /// <summary>What the first document said of how long it is.</summary>
    private void ForgetPages()
    {
        const string App = "docProps/app.xml";
        if (!joined.Package.Has(App)) return;
        var root = joined.Change(App);
        root.Elements().Where(e => e.Name.LocalName is "Pages" or "Words" or "Characters" or "Lines" or "Paragraphs" or "CharactersWithSpaces" or "TotalTime" or "HeadingPairs" or "TitlesOfParts").Remove();
    }
}
