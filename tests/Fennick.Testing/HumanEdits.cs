using System.Globalization;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Testing;

/// <summary>What a test knows of an edit: what has to hold in the document when it has been refreshed.</summary>
/// <param name="Name">The kind of edit.</param>
/// <param name="Check">Asserts it.</param>
public sealed record HumanEdit(string Name, Action<Docx> Check);

/// <summary>Edits as people make them and as the two common families of word processors leave them in the mark-up.</summary>
public static class HumanEdits
{
    /// <summary>All kinds of edits: each changes the document and says what has to hold; null where it finds nothing to edit.</summary>
    public static IReadOnlyList<Func<EditedDocument, Random, int, HumanEdit?>> All { get; } =
    [
        SplitRuns, Spelling, SmartQuotes, InsertParagraph, Reword, AppendWords, DeleteWords, DeleteParagraph, SplitParagraph, JoinParagraphs, MoveParagraph, CopyWithMark, CopyWithoutMark,
        RetypeValue, BoldValue, DeleteValue, CopyValue, Comment, TrackedInsertion, TrackedDeletion, TrackedMove,
        RetypeCell, BoldCell, AddRow, AddColumn, DeleteRow, Widths, ShadeCells, RecolourChart, RetitleChart, ResizeDrawing, AddCaption, AddFootnote, TurnPage, ChangeStyle, RestyleParagraph,
    ];

    /// <summary>A mark that no document has by itself.</summary>
    private static string Own(int number) => string.Create(CultureInfo.InvariantCulture, $"Quillon{number}");

    private static T? Any<T>(T[] all, Random random)
        where T : class => all.Length == 0 ? null : all[random.Next(all.Length)];

    private static XElement Run(string text, XElement? properties = null) => new(W + "r", properties, new XElement(W + "t", new XAttribute(XNamespace.Xml + "space", "preserve"), text));

    private static XElement Paragraph(string text) => new(W + "p", Run(text));

    private static string TextOf(XElement element) => string.Concat(element.Descendants(W + "t").Select(t => t.Value));

    private static string BodyOf(Docx docx) => TextOf(docx.Body);

    private static HumanEdit Stays(string name, string text) => new(name, docx => Assert.Contains(text, BodyOf(docx), StringComparison.Ordinal));

    private static XElement? TextRun(XElement paragraph, Random random, int least = 12) => Any([.. paragraph.Elements(W + "r").Where(r => r.Elements(W + "t").Count() == 1 && TextOf(r).Length >= least)], random);

    private static HumanEdit? SplitRuns(EditedDocument document, Random random, int number)
    {
        foreach (var paragraph in document.Paragraphs)
        {
            if (TextRun(paragraph, random, 2) is not { } run) continue;
            var text = TextOf(run);
            var at = random.Next(1, text.Length);
            run.SetAttributeValue(W + "rsidR", "00A1B2C3");
            run.AddAfterSelf(Run(text[at..], run.Element(W + "rPr") is { } p ? new XElement(p) : null));
            run.Element(W + "t")!.Value = text[..at];
            run.Element(W + "t")!.SetAttributeValue(XNamespace.Xml + "space", "preserve");
        }
        return new HumanEdit(nameof(SplitRuns), _ => { });
    }

    private static HumanEdit? Spelling(EditedDocument document, Random random, int number)
    {
        foreach (var run in document.Body.Descendants(W + "r").Where(r => r.Parent!.Name == W + "p").ToArray())
        {
            if (random.Next(3) > 0) continue;
            run.AddBeforeSelf(new XElement(W + "proofErr", new XAttribute(W + "type", "spellStart")));
            run.AddAfterSelf(new XElement(W + "proofErr", new XAttribute(W + "type", "spellEnd")));
        }
        return new HumanEdit(nameof(Spelling), _ => { });
    }

    private static HumanEdit? SmartQuotes(EditedDocument document, Random random, int number)
    {
        foreach (var text in document.Body.Descendants(W + "t").Where(t => t.Value.Contains('\''))) text.Value = text.Value.Replace('\'', '’');
        return new HumanEdit(nameof(SmartQuotes), _ => { });
    }

    private static HumanEdit? InsertParagraph(EditedDocument document, Random random, int number)
    {
        if (Any(document.Paragraphs, random) is not { } paragraph) return null;
        var added = Paragraph($"A note of a colleague, {Own(number)}.");
        if (random.Next(2) == 0) paragraph.AddBeforeSelf(added);
        else paragraph.AddAfterSelf(added);
        return Stays(nameof(InsertParagraph), $"A note of a colleague, {Own(number)}.");
    }

    private static HumanEdit? Reword(EditedDocument document, Random random, int number)
    {
        if (Any(document.Paragraphs, random) is not { } paragraph || TextRun(paragraph, random) is not { } run) return null;
        var words = TextOf(run).Split(' ');
        words[random.Next(words.Length)] = Own(number);
        run.Element(W + "t")!.Value = string.Join(' ', words);
        run.Element(W + "t")!.SetAttributeValue(XNamespace.Xml + "space", "preserve");
        return Stays(nameof(Reword), Own(number));
    }

    private static HumanEdit? AppendWords(EditedDocument document, Random random, int number)
    {
        if (Any(document.Paragraphs, random) is not { } paragraph) return null;
        paragraph.Add(Run($" And {Own(number)}, too."));
        return Stays(nameof(AppendWords), $" And {Own(number)}, too.");
    }

    private static HumanEdit? DeleteWords(EditedDocument document, Random random, int number)
    {
        if (Any(document.Paragraphs, random) is not { } paragraph || TextRun(paragraph, random, 20) is not { } run) return null;
        run.Element(W + "t")!.Value = TextOf(run)[(TextOf(run).Length / 2)..];
        run.Element(W + "t")!.SetAttributeValue(XNamespace.Xml + "space", "preserve");
        return new HumanEdit(nameof(DeleteWords), _ => { });
    }

    private static HumanEdit? DeleteParagraph(EditedDocument document, Random random, int number)
    {
        if (Any([.. document.Paragraphs.Where(p => p.Elements(W + "bookmarkStart").All(b => ((string)b.Attribute(W + "name")!).StartsWith("_v", StringComparison.Ordinal)) && TextOf(p).Length > 40 && TextOf(p)[..20].All(c => !char.IsDigit(c)))], random) is not { } paragraph) return null;
        var text = TextOf(paragraph)[..20];
        var others = document.Paragraphs.Count(p => p != paragraph && TextOf(p).StartsWith(text, StringComparison.Ordinal));
        paragraph.Remove();
        return new HumanEdit(nameof(DeleteParagraph), docx => Assert.True(docx.Body.Descendants(W + "p").Count(p => TextOf(p).StartsWith(text, StringComparison.Ordinal)) <= others, $"a paragraph has come back: {text}"));
    }

    private static HumanEdit? SplitParagraph(EditedDocument document, Random random, int number)
    {
        if (Any([.. document.Paragraphs.Where(p => p.Elements(W + "r").Count() > 2)], random) is not { } paragraph) return null;
        var second = new XElement(W + "p", paragraph.Element(W + "pPr") is { } p ? new XElement(p) : null);
        var from = paragraph.Elements(W + "r").ElementAt(random.Next(1, paragraph.Elements(W + "r").Count()));
        // Not within a mark: there the word processor would part that too.
        while (from.ElementsBeforeSelf().LastOrDefault() is { } before && before.Name == W + "bookmarkStart") from = before;
        XElement[] moved = [from, .. from.ElementsAfterSelf()];
        foreach (var element in moved)
        {
            element.Remove();
            second.Add(element);
        }
        paragraph.AddAfterSelf(second);
        second.AddAfterSelf(Paragraph(Own(number)));
        return Stays(nameof(SplitParagraph), Own(number));
    }

    private static HumanEdit? JoinParagraphs(EditedDocument document, Random random, int number)
    {
        if (Any([.. document.Paragraphs.Where(p => document.Paragraphs.Contains(p.ElementsAfterSelf().FirstOrDefault()) && TextOf(p).Length > 40)], random) is not { } paragraph) return null;
        var next = paragraph.ElementsAfterSelf().First();
        paragraph.Add(Run($" {Own(number)} "));
        paragraph.Add(next.Elements().Where(e => e.Name != W + "pPr"));
        next.Remove();
        return Stays(nameof(JoinParagraphs), Own(number));
    }

    private static HumanEdit? MoveParagraph(EditedDocument document, Random random, int number)
    {
        if (Any(document.Paragraphs, random) is not { } paragraph || Any([.. document.Paragraphs.Where(p => p != paragraph)], random) is not { } target) return null;
        paragraph.Remove();
        paragraph.Add(Run($" {Own(number)}"));
        target.AddAfterSelf(paragraph);
        return Stays(nameof(MoveParagraph), Own(number));
    }

    private static HumanEdit? CopyWithMark(EditedDocument document, Random random, int number)
    {
        if (Any(document.Paragraphs, random) is not { } paragraph) return null;
        paragraph.AddAfterSelf(new XElement(paragraph));
        return new HumanEdit(nameof(CopyWithMark), _ => { });
    }

    private static HumanEdit? CopyWithoutMark(EditedDocument document, Random random, int number)
    {
        if (Any([.. document.Paragraphs.Where(p => p.Elements(W + "bookmarkStart").Any())], random) is not { } paragraph || Any(document.Paragraphs, random) is not { } target) return null;
        target.AddAfterSelf(Paragraph($"{Own(number)}: {TextOf(paragraph)}"));
        return Stays(nameof(CopyWithoutMark), Own(number));
    }

    private static HumanEdit? RetypeValue(EditedDocument document, Random random, int number)
    {
        if (Any(document.Values, random) is not { } value) return null;
        var typed = string.Create(CultureInfo.InvariantCulture, $"{9000 + number}.5");
        EditedDocument.RunOf(value)!.Element(W + "t")!.Value = typed;
        if (random.Next(2) == 0) RemoveMark(value);
        return Stays(nameof(RetypeValue), typed);
    }

    private static void RemoveMark(XElement start)
    {
        start.Parent!.Elements(W + "bookmarkEnd").Where(e => (string?)e.Attribute(W + "id") == (string?)start.Attribute(W + "id")).Remove();
        start.Remove();
    }

    private static HumanEdit? BoldValue(EditedDocument document, Random random, int number)
    {
        if (Any(document.Values, random) is not { } value) return null;
        var run = EditedDocument.RunOf(value)!;
        run.Element(W + "rPr")?.Remove();
        run.AddFirst(new XElement(W + "rPr", new XElement(W + "b"), new XElement(W + "color", new XAttribute(W + "val", $"AB{number:X4}"))));
        return new HumanEdit(nameof(BoldValue), docx => Assert.Contains(docx.Body.Descendants(W + "color"), c => (string?)c.Attribute(W + "val") == $"AB{number:X4}" && TextOf(c.Parent!.Parent!).Length > 0));
    }

    private static HumanEdit? DeleteValue(EditedDocument document, Random random, int number)
    {
        if (Any(document.Values, random) is not { } value) return null;
        var run = EditedDocument.RunOf(value)!;
        RemoveMark(value);
        run.Remove();
        return new HumanEdit(nameof(DeleteValue), _ => { });
    }

    /// <summary>A number typed once more, without a mark.</summary>
    private static HumanEdit? CopyValue(EditedDocument document, Random random, int number)
    {
        if (Any(document.Values, random) is not { } value || Any(document.Paragraphs, random) is not { } target) return null;
        target.AddAfterSelf(Paragraph($"As said, {TextOf(EditedDocument.RunOf(value)!)} is what {Own(number)} means."));
        return Stays(nameof(CopyValue), $"is what {Own(number)} means.");
    }

    private static HumanEdit? Comment(EditedDocument document, Random random, int number)
    {
        if (Any(document.Values, random) is not { } value) return null;
        const string Part = "word/comments.xml";
        if (!document.Has(Part))
        {
            document.Add(Part, new XDocument(new XElement(W + "comments", new XAttribute(XNamespace.Xmlns + "w", W.NamespaceName))));
            document.Relate(Part, "application/vnd.openxmlformats-officedocument.wordprocessingml.comments+xml", "comments");
        }
        var comments = document.Part(Part).Root!;
        foreach (var words in new[] { $"Is this right? {Own(number)}", $"I think so. {Own(number)}" })
        {
            var id = comments.Elements().Count();
            comments.Add(new XElement(W + "comment", new XAttribute(W + "id", id), new XAttribute(W + "author", "A colleague"), new XAttribute(W + "initials", "C"), Paragraph(words)));
            value.AddBeforeSelf(new XElement(W + "commentRangeStart", new XAttribute(W + "id", id)));
            EditedDocument.RunOf(value)!.ElementsAfterSelf().First().AddAfterSelf(new XElement(W + "commentRangeEnd", new XAttribute(W + "id", id)), new XElement(W + "r", new XElement(W + "commentReference", new XAttribute(W + "id", id))));
        }
        return new HumanEdit(nameof(Comment), docx =>
        {
            var kept = docx.Xml(Part).Root!.Elements(W + "comment").Where(c => TextOf(c).EndsWith(Own(number), StringComparison.Ordinal)).ToArray();
            Assert.Equal(2, kept.Length);
            Assert.All(kept, c => Assert.Contains(docx.Body.Descendants(W + "commentReference"), r => (string?)r.Attribute(W + "id") == (string?)c.Attribute(W + "id")));
        });
    }

    private static XElement Tracked(string kind, int number, object content) => new(W + kind, new XAttribute(W + "id", 70000 + number), new XAttribute(W + "author", "A colleague"), new XAttribute(W + "date", "2026-01-05T10:00:00Z"), content);

    private static HumanEdit? TrackedInsertion(EditedDocument document, Random random, int number)
    {
        if (Any(document.Values, random) is not { } value) return null;
        value.AddBeforeSelf(Tracked("ins", number, Run($"about {Own(number)} ")));
        return new HumanEdit(nameof(TrackedInsertion), docx => Assert.Contains(docx.Body.Descendants(W + "ins"), i => (string?)i.Attribute(W + "author") == "A colleague" && TextOf(i) == $"about {Own(number)} "));
    }

    private static HumanEdit? TrackedDeletion(EditedDocument document, Random random, int number)
    {
        if (Any(document.Values, random) is not { } value) return null;
        var run = EditedDocument.RunOf(value)!;
        var text = TextOf(run);
        run.Element(W + "t")!.Name = W + "delText";
        run.ReplaceWith(Tracked("del", number, new XElement(run)));
        return new HumanEdit(nameof(TrackedDeletion), docx => Assert.Contains(docx.Body.Descendants(W + "del"), d => (string?)d.Attribute(W + "author") == "A colleague" && string.Concat(d.Descendants(W + "delText").Select(t => t.Value)) == text));
    }

    private static HumanEdit? TrackedMove(EditedDocument document, Random random, int number)
    {
        if (Any(document.Values, random) is not { } value || Any(document.Paragraphs, random) is not { } target || target == value.Parent) return null;
        var run = EditedDocument.RunOf(value)!;
        target.Add(Tracked("moveTo", number, new XElement(run)), Run($" {Own(number)}"));
        run.Element(W + "t")!.Name = W + "delText";
        run.ReplaceWith(Tracked("moveFrom", number + 1000, new XElement(run)));
        return Stays(nameof(TrackedMove), Own(number));
    }

    private static XElement? TableOf(EditedDocument document, Random random) => Any([.. document.Body.Elements(W + "tbl").Where(t => t.Descendants(W + "tblHeader").Any() && t.Elements(W + "tr").Count() > 2 && t.Elements(W + "tr").Last().Elements(W + "tc").Count() > 1)], random);

    private static XElement? CellOf(XElement table, Random random) => Any([.. table.Elements(W + "tr").Skip(1).SelectMany(r => r.Elements(W + "tc").Skip(1)).Where(c => c.Descendants(W + "t").Count() == 1)], random);

    private static HumanEdit? RetypeCell(EditedDocument document, Random random, int number)
    {
        if (TableOf(document, random) is not { } table || CellOf(table, random) is not { } cell) return null;
        var typed = string.Create(CultureInfo.InvariantCulture, $"{8000 + number}");
        cell.Descendants(W + "t").Single().Value = typed;
        return Stays(nameof(RetypeCell), typed);
    }

    private static HumanEdit? BoldCell(EditedDocument document, Random random, int number)
    {
        if (TableOf(document, random) is not { } table || CellOf(table, random) is not { } cell) return null;
        var run = cell.Descendants(W + "t").Single().Parent!;
        run.Element(W + "rPr")?.Remove();
        run.AddFirst(new XElement(W + "rPr", new XElement(W + "b"), new XElement(W + "color", new XAttribute(W + "val", $"CD{number:X4}"))));
        return new HumanEdit(nameof(BoldCell), docx => Assert.Contains(docx.Body.Descendants(W + "color"), c => (string?)c.Attribute(W + "val") == $"CD{number:X4}" && TextOf(c.Parent!.Parent!).Length > 0));
    }

    private static HumanEdit? AddRow(EditedDocument document, Random random, int number)
    {
        if (TableOf(document, random) is not { } table) return null;
        var row = new XElement(table.Elements(W + "tr").Last());
        foreach (var id in row.Descendants(W + "p").Attributes(EditedDocument.Mark).ToArray()) id.Remove();
        foreach (var text in row.Descendants(W + "t")) text.Value = Own(number);
        if (!row.Descendants(W + "t").Any()) return null;
        table.Elements(W + "tr").Last().AddAfterSelf(row);
        return Stays(nameof(AddRow), Own(number));
    }

    private static HumanEdit? AddColumn(EditedDocument document, Random random, int number)
    {
        if (TableOf(document, random) is not { } table) return null;
        foreach (var row in table.Elements(W + "tr"))
            row.Add(new XElement(W + "tc", new XElement(W + "tcPr", new XElement(W + "tcW", new XAttribute(W + "w", 900), new XAttribute(W + "type", "dxa"))), Paragraph(Own(number))));
        table.Element(W + "tblGrid")!.Add(new XElement(W + "gridCol", new XAttribute(W + "w", 900)));
        if (table.Element(W + "tblPr")!.Element(W + "tblW") is { } width) width.SetAttributeValue(W + "w", table.Element(W + "tblGrid")!.Elements().Sum(c => (int)c.Attribute(W + "w")!));
        var rows = table.Elements(W + "tr").Count();
        return new HumanEdit(nameof(AddColumn), docx => Assert.True(docx.Body.Descendants(W + "t").Count(t => t.Value == Own(number)) >= rows - 1));
    }

    private static HumanEdit? DeleteRow(EditedDocument document, Random random, int number)
    {
        if (TableOf(document, random) is not { } table || table.Descendants(W + "vMerge").Any() || table.Elements(W + "tr").Count() < 4) return null;
        var row = Any([.. table.Elements(W + "tr").Skip(1).Where(r => r.Elements(W + "tc").First() is var first && TextOf(first).Length > 3 && !r.Descendants().Attributes(EditedDocument.Mark).Any())], random);
        if (row is null) return null;
        row.Remove();
        return new HumanEdit(nameof(DeleteRow), _ => { });
    }

    private static HumanEdit? Widths(EditedDocument document, Random random, int number)
    {
        if (TableOf(document, random) is not { } table) return null;
        var column = table.Element(W + "tblGrid")!.Elements().Last();
        var before = (int)column.Attribute(W + "w")!;
        var wide = 2000 + number;
        column.SetAttributeValue(W + "w", wide);
        foreach (var cell in table.Elements(W + "tr").Select(r => r.Elements(W + "tc").Last()))
            if (cell.Element(W + "tcPr")?.Element(W + "tcW") is { } width) width.SetAttributeValue(W + "w", (int)width.Attribute(W + "w")! - before + wide);
        if (table.Element(W + "tblPr")!.Element(W + "tblW") is { } whole) whole.SetAttributeValue(W + "w", table.Element(W + "tblGrid")!.Elements().Sum(c => (int)c.Attribute(W + "w")!));
        return new HumanEdit(nameof(Widths), docx => Assert.Contains(docx.Body.Descendants(W + "gridCol"), c => (int)c.Attribute(W + "w")! == wide));
    }

    private static HumanEdit? ShadeCells(EditedDocument document, Random random, int number)
    {
        if (TableOf(document, random) is not { } table || CellOf(table, random) is not { } cell) return null;
        var properties = cell.Element(W + "tcPr")!;
        properties.Element(W + "shd")?.Remove();
        var shade = new XElement(W + "shd", new XAttribute(W + "val", "clear"), new XAttribute(W + "color", "auto"), new XAttribute(W + "fill", $"EF{number:X4}"));
        if (properties.Elements().FirstOrDefault(e => e.Name == W + "tcMar" || e.Name == W + "vAlign") is { } after) after.AddBeforeSelf(shade);
        else properties.Add(shade);
        return new HumanEdit(nameof(ShadeCells), docx => Assert.Contains(docx.Body.Descendants(W + "shd"), s => (string?)s.Attribute(W + "fill") == $"EF{number:X4}"));
    }

    private static string? ChartOf(EditedDocument document, Random random) => Any([.. document.Names.Where(n => n.StartsWith("word/charts/chart", StringComparison.Ordinal) && n.EndsWith(".xml", StringComparison.Ordinal))], random);

    private static HumanEdit? RecolourChart(EditedDocument document, Random random, int number)
    {
        if (ChartOf(document, random) is not { } part || document.Part(part).Descendants(A + "schemeClr").FirstOrDefault(c => c.Ancestors(C + "ser").Any()) is not { } colour) return null;
        colour.ReplaceWith(new XElement(A + "srgbClr", new XAttribute("val", $"12{number:X4}")));
        return new HumanEdit(nameof(RecolourChart), docx => Assert.Contains(docx.Names.Where(n => n.StartsWith("word/charts/chart", StringComparison.Ordinal) && n.EndsWith(".xml", StringComparison.Ordinal)), n => docx.Xml(n).Descendants(A + "srgbClr").Any(c => (string?)c.Attribute("val") == $"12{number:X4}")));
    }

    private static HumanEdit? RetitleChart(EditedDocument document, Random random, int number)
    {
        if (ChartOf(document, random) is not { } part || document.Part(part).Descendants(A + "t").FirstOrDefault() is not { } title) return null;
        title.Value = Own(number);
        return new HumanEdit(nameof(RetitleChart), docx => Assert.Contains(docx.Names.Where(n => n.StartsWith("word/charts/chart", StringComparison.Ordinal) && n.EndsWith(".xml", StringComparison.Ordinal)), n => docx.Xml(n).Descendants(A + "t").Any(t => t.Value == Own(number))));
    }

    private static HumanEdit? ResizeDrawing(EditedDocument document, Random random, int number)
    {
        if (Any([.. document.Body.Elements(W + "p").SelectMany(p => p.Descendants(Wp + "inline")).Where(i => i.Descendants(C + "chart").Any())], random) is not { } drawing) return null;
        drawing.Element(Wp + "extent")!.SetAttributeValue("cx", 4_000_000 + number);
        return new HumanEdit(nameof(ResizeDrawing), docx => Assert.Contains(docx.Body.Descendants(Wp + "extent"), e => (long)e.Attribute("cx")! == 4_000_000 + number));
    }

    private static HumanEdit? AddCaption(EditedDocument document, Random random, int number)
    {
        if (Any(document.Paragraphs, random) is not { } target) return null;
        var style = document.Part("word/styles.xml").Root!.Elements(W + "style").FirstOrDefault(s => (string?)s.Element(W + "name")?.Attribute(W + "val") == "caption")?.Attribute(W + "styleId")?.Value;
        var caption = new XElement(W + "p", style is null ? null : new XElement(W + "pPr", new XElement(W + "pStyle", new XAttribute(W + "val", style))), Run("Table "),
            Field("begin"), new XElement(W + "r", new XElement(W + "instrText", new XAttribute(XNamespace.Xml + "space", "preserve"), " SEQ Table \\* ARABIC ")), Field("separate"), Run("99"), Field("end"), Run($". {Own(number)}"));
        target.AddAfterSelf(caption);
        return new HumanEdit(nameof(AddCaption), docx =>
        {
            // Captions count in the order of the document, those that people have added as well.
            var numbers = docx.Body.Descendants(W + "p").Where(p => p.Descendants(W + "instrText").Any(i => i.Value.Trim().StartsWith("SEQ Table", StringComparison.Ordinal))).Select(p => TextOf(p)).ToArray();
            Assert.Contains(numbers, n => n.EndsWith(Own(number), StringComparison.Ordinal));
            // By chapter they count anew in each.
            if (numbers.Any(n => Regex.IsMatch(n, @"^Table\s\d+\.\d"))) return;
            Assert.All(numbers.Index(), n => Assert.StartsWith($"Table {n.Index + 1}.", n.Item.Replace('\u00A0', ' '), StringComparison.Ordinal));
        });

        static XElement Field(string type) => new(W + "r", new XElement(W + "fldChar", new XAttribute(W + "fldCharType", type)));
    }

    private static HumanEdit? AddFootnote(EditedDocument document, Random random, int number)
    {
        if (!document.Has("word/footnotes.xml") || Any(document.Paragraphs, random) is not { } target) return null;
        var notes = document.Part("word/footnotes.xml").Root!;
        var id = 500 + number;
        notes.Add(new XElement(W + "footnote", new XAttribute(W + "id", id), new XElement(W + "p", new XElement(W + "r", new XElement(W + "footnoteRef")), Run($" {Own(number)}"))));
        target.Add(new XElement(W + "r", new XElement(W + "footnoteReference", new XAttribute(W + "id", id))));
        return new HumanEdit(nameof(AddFootnote), docx =>
        {
            Assert.Contains(docx.Xml("word/footnotes.xml").Root!.Elements(), n => TextOf(n).EndsWith(Own(number), StringComparison.Ordinal));
            Assert.Contains(docx.Body.Descendants(W + "footnoteReference"), r => (int)r.Attribute(W + "id")! == id);
        });
    }

    private static HumanEdit? TurnPage(EditedDocument document, Random random, int number)
    {
        var size = document.Body.Elements(W + "sectPr").Last().Element(W + "pgSz")!;
        var (width, height) = ((int)size.Attribute(W + "w")!, (int)size.Attribute(W + "h")!);
        size.SetAttributeValue(W + "w", height);
        size.SetAttributeValue(W + "h", width);
        size.SetAttributeValue(W + "orient", width < height ? "landscape" : "portrait");
        return new HumanEdit(nameof(TurnPage), _ => { });
    }

    private static HumanEdit? ChangeStyle(EditedDocument document, Random random, int number)
    {
        var style = document.Part("word/styles.xml").Root!.Elements(W + "style").First(s => string.Equals((string?)s.Element(W + "name")?.Attribute(W + "val"), "heading 1", StringComparison.OrdinalIgnoreCase));
        style.Descendants(W + "color").Remove();
        if (style.Element(W + "rPr") is not { } properties) style.Add(properties = new XElement(W + "rPr"));
        var colour = new XElement(W + "color", new XAttribute(W + "val", $"34{number:X4}"));
        if (properties.Elements().FirstOrDefault(e => e.Name == W + "spacing" || e.Name == W + "kern" || e.Name == W + "sz" || e.Name == W + "szCs") is { } after) after.AddBeforeSelf(colour);
        else properties.Add(colour);
        return new HumanEdit(nameof(ChangeStyle), docx => Assert.Contains(docx.Xml("word/styles.xml").Descendants(W + "color"), c => ((string)c.Attribute(W + "val")!).StartsWith("34", StringComparison.Ordinal)));
    }

    private static HumanEdit? RestyleParagraph(EditedDocument document, Random random, int number)
    {
        if (Any([.. document.Paragraphs.Where(p => p.Element(W + "pPr")?.Element(W + "pStyle") is null)], random) is not { } paragraph) return null;
        if (paragraph.Element(W + "pPr") is not { } properties) paragraph.AddFirst(properties = new XElement(W + "pPr"));
        properties.Element(W + "spacing")?.Remove();
        var spacing = new XElement(W + "spacing", new XAttribute(W + "before", 300 + number));
        if (properties.Elements().FirstOrDefault(e => e.Name == W + "ind" || e.Name == W + "jc" || e.Name == W + "rPr" || e.Name == W + "sectPr") is { } after) after.AddBeforeSelf(spacing);
        else properties.Add(spacing);
        return new HumanEdit(nameof(RestyleParagraph), docx => Assert.Contains(docx.Body.Descendants(W + "spacing"), s => (string?)s.Attribute(W + "before") == (300 + number).ToString(CultureInfo.InvariantCulture)));
    }
}
