using System.Globalization;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Gives lists of contents the entries that the document has now.</summary>
/// <param name="pass">The refresh.</param>
/// <param name="levels">The levels of the styles of headings.</param>
internal sealed partial class ContentsRenewal(RefreshPass pass, Dictionary<string, int> levels)
{
    private int freeMark = 990_000_000;

    /// <summary>Whether page numbers may be others than those that stand there.</summary>
    public bool PagesAreUnsure { get; private set; }

    public void Renew()
    {
        var lists = ListsOf(pass.Theirs, pass.Places);
        if (lists.Count == 0) return;
        PagesAreUnsure = !TextOf(pass.Places).SequenceEqual(TextOf(pass.FreshPlaces));
        var fresh = ListsOf(pass.Fresh, pass.FreshPlaces).SelectMany(l => l.Entries).Select(e => (Anchor: AnchorOf(e), Entry: e)).Where(e => e.Anchor is not null).GroupBy(e => e.Anchor!, StringComparer.OrdinalIgnoreCase).ToDictionary(g => g.Key, g => g.First().Entry, StringComparer.OrdinalIgnoreCase);
        foreach (var list in lists)
        {
            Renew(list, fresh);
            if (PagesAreUnsure && list.Begin is { } begin) begin.SetAttributeValue(W + "dirty", "true");
        }
    }

    /// <summary>All text of the body; what is gone or new counts as what it is.</summary>
    private static IEnumerable<string> TextOf(Matching places) => places.Stories[0].Blocks.Where(b => b.Element.Parent is not null).Select(b => b.Text).Where(t => t.Length > 0);

    /// <summary>The lists of contents of a document, but for indexes.</summary>
    private static List<ContentsList> ListsOf(WordDocument document, Matching places)
    {
        var lists = new List<ContentsList>();
        foreach (var paragraph in document.Body.Descendants(P).Where(places.IsEntry))
        {
            // A list begins with the first paragraph that holds its instruction.
            var instruction = paragraph.Descendants(W + "instrText").Select(i => i.Value.Trim()).FirstOrDefault(i => i.StartsWith("TOC", StringComparison.OrdinalIgnoreCase));
            if (instruction is not null) lists.Add(new ContentsList(instruction, paragraph.Descendants(W + "fldChar").FirstOrDefault(), []));
            else if (paragraph.Descendants(W + "instrText").Any(i => i.Value.TrimStart().StartsWith("INDEX", StringComparison.OrdinalIgnoreCase))) lists.Add(new ContentsList("", null, []));
            if (lists.Count > 0) lists[^1].Entries.Add(paragraph);
        }
        lists.RemoveAll(l => l.Instruction.Length == 0);
        return lists;
    }

    private void Renew(ContentsList list, Dictionary<string, XElement> fresh)
    {
        XElement[] targets = [.. TargetsOf(list.Instruction)];
        var theirs = list.Entries.Select(e => (Anchor: AnchorOf(e), Entry: e)).Where(e => e.Anchor is not null).GroupBy(e => e.Anchor!, StringComparer.OrdinalIgnoreCase).ToDictionary(g => g.Key, g => g.First().Entry, StringComparer.OrdinalIgnoreCase);
        var next = new List<XElement>();
        foreach (var target in targets)
        {
            var isKnown = MarkOf(target) is { } known && (theirs.ContainsKey(known) || fresh.ContainsKey(known));
            var mark = MarkOf(target) ?? AddMark(target);
            var entry = theirs.GetValueOrDefault(mark) ?? (fresh.TryGetValue(mark, out var made) ? pass.Transplant.Copy(made, pass.Fresh.Package.Main, pass.Theirs.Package.Main) : Like(list, next, target));
            if (entry is null) continue;
            if (fresh.TryGetValue(mark, out var now)) TakeOver(entry, now);
            Set(entry, mark, isKnown ? null : PageBefore(next));
            SetTitle(entry, target);
            next.Add(entry);
        }
        if (next.Count > 0 && !next.SequenceEqual(list.Entries)) Place(list, next);
    }

    /// <summary>The headings or captions that a list names.</summary>
    private IEnumerable<XElement> TargetsOf(string instruction)
    {
        var paragraphs = pass.Theirs.Body.Descendants(P).Where(p => !pass.Places.IsEntry(p) && p.Ancestors(W + "txbxContent").FirstOrDefault() is null);
        if (Caption().Match(instruction) is { Success: true } caption)
        {
            var series = caption.Groups[1].Value;
            return paragraphs.Where(p => p.Descendants(W + "instrText").Any(i => i.Value.Split(' ', StringSplitOptions.RemoveEmptyEntries) is ["SEQ", var name, ..] && string.Equals(name, series, StringComparison.OrdinalIgnoreCase)) && MarkOf(p) is not null | !HasCaptionMark(p));
        }
        var deepest = Outline().Match(instruction) is { Success: true } outline ? int.Parse(outline.Groups[1].ValueSpan, CultureInfo.InvariantCulture) : 3;
        return paragraphs.Where(p => levels.TryGetValue(new ReadParagraph(p, 0).Style, out var level) && level <= deepest && ParagraphReading.Of(p).Text.Trim().Length > 0);
    }

    /// <summary>Whether a caption's bookmark is one that no list asked for: then it is in no list.</summary>
    private static bool HasCaptionMark(XElement paragraph) => paragraph.Descendants(W + "bookmarkStart").Any(b => !((string?)b.Attribute(Name) ?? "").StartsWith('_'));

    private static string? AnchorOf(XElement entry) => entry.Descendants(W + "hyperlink").Select(h => (string?)h.Attribute(W + "anchor")).FirstOrDefault(a => a is not null);

    private static string? MarkOf(XElement target) => target.Descendants(W + "bookmarkStart").Select(b => (string?)b.Attribute(Name)).FirstOrDefault(n => n?.StartsWith("_Toc", StringComparison.Ordinal) == true);

    private string AddMark(XElement target)
    {
        var name = string.Create(CultureInfo.InvariantCulture, $"_Toc{freeMark++}");
        var id = pass.Transplant.NextBookmark();
        var start = new XElement(W + "bookmarkStart", new XAttribute(Id, id), new XAttribute(WordNames.Name, name));
        if (target.Element(W + "pPr") is { } properties) properties.AddAfterSelf(start);
        else target.AddFirst(start);
        target.Add(new XElement(W + "bookmarkEnd", new XAttribute(Id, id)));
        return name;
    }

    /// <summary>A copy of an entry of the same level, or of any.</summary>
    private XElement? Like(ContentsList list, List<XElement> made, XElement target)
    {
        var level = levels.GetValueOrDefault(new ReadParagraph(target, 0).Style);
        var all = made.Concat(list.Entries).ToArray();
        var twin = all.FirstOrDefault(e => level > 0 && StyleLevel(e) == level) ?? all.FirstOrDefault();
        if (twin is null) return null;
        var copy = new XElement(twin);
        RemoveStart(copy);
        return copy;
    }

    /// <summary>The level of an entry: that of its style, in its digit.</summary>
    private static int StyleLevel(XElement entry) => new ReadParagraph(entry, 0).Style is { Length: > 0 } style && char.IsAsciiDigit(style[^1]) ? style[^1] - '0' : 0;

    private static string? PageBefore(List<XElement> made) => made.Count > 0 ? PageOf(made[^1])?.Value : null;

    private static XElement? PageOf(XElement entry) => ResultsOf(entry).LastOrDefault();

    /// <summary>The texts of an entry behind its last tab.</summary>
    private static IEnumerable<XElement> ResultsOf(XElement entry)
    {
        var after = entry.Descendants().ToList();
        var tab = after.FindLastIndex(e => e.Is("tab") && e.Parent!.Name == Run);
        return after.Skip(tab + 1).Where(e => e.Name == WordNames.Text);
    }

    private static void TakeOver(XElement entry, XElement now)
    {
        if (PageOf(entry) is { } page && PageOf(now) is { } next && page.Value != next.Value) page.Value = next.Value;
    }

    private static void Set(XElement entry, string mark, string? page)
    {
        foreach (var link in entry.Descendants(W + "hyperlink")) link.SetAttributeValue(W + "anchor", mark);
        foreach (var instruction in entry.Descendants(W + "instrText").Where(i => i.Value.TrimStart().StartsWith("PAGEREF", StringComparison.OrdinalIgnoreCase))) instruction.Value = $" PAGEREF {mark} \\h ";
        if (page is not null && PageOf(entry) is { } there) there.Value = page;
    }

    /// <summary>Gives an entry the words of its heading.</summary>
    private static void SetTitle(XElement entry, XElement target)
    {
        var title = ParagraphReading.Of(target).Text.Replace(Records.Segment.Object, "", StringComparison.Ordinal).Trim();
        var all = entry.Descendants().ToList();
        XElement[] tabs = [.. all.Where(e => e.Is("tab") && e.Parent!.Name == Run)];
        if (tabs.Length == 0) return;
        // The number of a heading stands before a tab of its own.
        var (from, to) = (tabs.Length > 1 ? all.IndexOf(tabs[^2]) : -1, all.IndexOf(tabs[^1]));
        XElement[] words = [.. all.Skip(from + 1).Take(to - from - 1).Where(e => e.Name == WordNames.Text)];
        // An entry with a formula or a reference of its own is left as it was made.
        if (words.Length == 0 || Words.Alike(string.Concat(words.Select(w => w.Value))) == Words.Alike(title) || all.Skip(from + 1).Take(to - from - 1).Any(e => e.Name.Namespace == M)) return;
        words[0].Value = title;
        words[0].SetAttributeValue(XNamespace.Xml + "space", "preserve");
        foreach (var rest in words.Skip(1)) rest.Value = "";
    }

    /// <summary>Puts the entries in the place of those that are there; the first holds the start of the field.</summary>
    private static void Place(ContentsList list, List<XElement> next)
    {
        var start = TakeStart(list.Entries[0]);
        var anchor = new XElement(P);
        list.Entries[0].AddBeforeSelf(anchor);
        foreach (var old in list.Entries) old.Remove();
        foreach (var entry in next) RemoveStart(entry);
        anchor.AddAfterSelf(next);
        anchor.Remove();
        if (next[0].Element(W + "pPr") is { } properties) properties.AddAfterSelf(start);
        else next[0].AddFirst(start);
    }

    /// <summary>The runs that begin the field of a list.</summary>
    private static XElement[] StartOf(XElement entry)
    {
        var runs = new List<XElement>();
        var isOpen = false;
        foreach (var run in entry.Elements(Run))
        {
            var type = (string?)run.Element(W + "fldChar")?.Attribute(W + "fldCharType");
            if (!isOpen && type != "begin") break;
            isOpen = true;
            runs.Add(run);
            if (type == "separate") break;
        }
        return runs.Any(r => r.Descendants(W + "instrText").Any(i => i.Value.TrimStart().StartsWith("TOC", StringComparison.OrdinalIgnoreCase))) ? [.. runs] : [];
    }

    private static XElement[] TakeStart(XElement entry)
    {
        var start = StartOf(entry);
        foreach (var run in start) run.Remove();
        return start;
    }

    private static void RemoveStart(XElement entry) => TakeStart(entry);

    [GeneratedRegex("""\\c\s+"?([^"\s]+)"?""")]
    private static partial Regex Caption();

    [GeneratedRegex("""\\o\s+"?1-(\d)"?""")]
    private static partial Regex Outline();

    /// <summary>A list of contents.</summary>
    /// <param name="Instruction">What it lists.</param>
    /// <param name="Begin">What begins its field.</param>
    /// <param name="Entries">Its paragraphs.</param>
    private sealed record ContentsList(string Instruction, XElement? Begin, List<XElement> Entries);
}
