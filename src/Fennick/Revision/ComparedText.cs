using System.Globalization;
using System.Xml.Linq;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>What a document says, part by part, as it is compared with another: with its tracked changes accepted, and without lists of contents.</summary>
internal sealed class ComparedText
{
    private const int LongestCell = 250;
    private readonly Dictionary<XElement, RecordedBlock> recorded = [];
    private readonly Dictionary<XElement, string> places = [];
    private readonly Dictionary<string, string> signatures = new(StringComparer.OrdinalIgnoreCase);

    private ComparedText(WordDocument document) => Document = document;

    public WordDocument Document { get; }

    /// <summary>Whether it held tracked changes.</summary>
    public bool HadTrackedChanges { get; private set; }

    /// <summary>The paragraphs and tables, part by part, the body first.</summary>
    public List<(string Part, List<ReadBlock> Blocks)> Stories { get; } = [];

    /// <summary>The decimal sign of its language.</summary>
    public char DecimalSign { get; private set; } = '.';

    /// <summary>What a paragraph or table was written as, if the document remembers that.</summary>
    public RecordedBlock? RecordedAs(ReadBlock block) => recorded.GetValueOrDefault(block.Element);

    /// <summary>Where in the document something stands, in words.</summary>
    public string WhereIs(ReadBlock block) => places.GetValueOrDefault(block.Element, "the document");

    /// <summary>Reads a document.</summary>
    /// <param name="document">The document; its tracked changes are accepted.</param>
    /// <param name="useRecord">Whether what it remembers tells which of its tables are such of data.</param>
    public static ComparedText Of(WordDocument document, bool useRecord)
    {
        var text = new ComparedText(document);
        foreach (var part in document.Stories.Where(s => TrackedChanges.Any(document.Open(s).Root!)).ToArray())
        {
            text.HadTrackedChanges = true;
            TrackedChanges.Accept(document.Change(part));
        }
        var matching = document.Record is { } record && useRecord ? Matching.Find(record, document) : null;
        foreach (var (block, known) in matching?.Stories.SelectMany(s => s.Blocks).Select(b => (b, matching.Of(b))) ?? [])
            if (known is not null) text.recorded[block.Element] = known;
        foreach (var part in document.Stories)
        {
            var blocks = new List<ReadBlock>();
            var root = document.Open(part).Root!;
            text.Collect(root.Is("document") ? root.Element(W + "body")! : root, blocks);
            var entries = Entries.Of(blocks).Select(e => e.Element).ToHashSet();
            text.Stories.Add((part, [.. blocks.Where(b => !entries.Contains(b.Element))]));
        }
        text.DecimalSign = SignOf(document);
        text.FindPlaces();
        return text;
    }

    private void Collect(XElement container, List<ReadBlock> blocks)
    {
        foreach (var element in container.Elements())
        {
            if (element.Name == P)
            {
                blocks.Add(new ReadParagraph(element, WordDocument.MarkOf(element)));
                // Boxes hold paragraphs of their own; what is for older readers says the same once more.
                foreach (var box in element.Descendants(W + "txbxContent").Where(b => !b.Ancestors(Mc + "Fallback").Any() && b.Ancestors(P).First() == element).ToArray()) Collect(box, blocks);
            }
            else if (element.Name == Table && IsData(element)) blocks.Add(new ReadTable(element, 0));
            else if (!element.Is("sectPr") && !element.Is("tblPr") && !element.Is("tblGrid") && !element.Is("trPr") && !element.Is("tcPr") && !element.Is("sdtPr") && element.Name != Mc + "Fallback") Collect(element, blocks);
        }
    }

    /// <summary>Whether a table is one of data, and not one that puts things beside each other.</summary>
    private bool IsData(XElement table)
    {
        if (recorded.GetValueOrDefault(table) is RecordedTable) return true;
        if (table.Descendants(P).Any(recorded.ContainsKey)) return false;
        if (table.Descendants().Any(e => e.Name == Table || e.Is("drawing") || e.Is("pict") || e.Is("object") || e.Is("sectPr"))) return false;
        ReadRow[] rows = [.. new ReadTable(table, 0).Rows];
        return rows.Sum(r => r.Cells.Count) > 1 && rows.All(r => r.Cells.All(c => c.Text.Length <= LongestCell && c.Element.Elements(P).Count() == c.Element.Elements().Count(e => !e.Is("tcPr"))));
    }

    private static char SignOf(WordDocument document)
    {
        var language = document.Find("styles") is { } styles ? (string?)document.Open(styles).Root!.Element(W + "docDefaults")?.Descendants(W + "lang").FirstOrDefault()?.Attribute(Val) : null;
        try
        {
            return language is null ? '.' : CultureInfo.GetCultureInfo(language).NumberFormat.NumberDecimalSeparator[0];
        }
        catch (CultureNotFoundException)
        {
            return '.';
        }
    }

    /// <summary>Tables and figures are known by their captions, all else by the heading above.</summary>
    private void FindPlaces()
    {
        var headings = Surroundings.HeadingStyles(Document);
        foreach (var (part, blocks) in Stories)
        {
            var heading = part == Document.Package.Main ? "the beginning" : Surroundings.KindOf(part);
            for (var i = 0; i < blocks.Count; i++)
            {
                if (part == Document.Package.Main && blocks[i] is ReadParagraph paragraph && headings.Contains(paragraph.Style) && paragraph.Text.Trim().Length > 0) heading = $"“{Refresher.Short(paragraph.Text)}”";
                places[blocks[i].Element] = (blocks[i] is ReadTable || IsOnlyObjects(blocks[i]) ? CaptionAt(blocks, i - 1) ?? CaptionAt(blocks, i + 1) : CaptionAt(blocks, i)) ?? heading;
            }
        }
    }

    private static bool IsOnlyObjects(ReadBlock block) => block is ReadParagraph && block.Text.Length > 0 && block.Text.Trim().All(c => c == Segment.ObjectLetter);

    /// <summary>The kind and number of a caption; null if a paragraph is none.</summary>
    private static string? CaptionAt(List<ReadBlock> blocks, int place)
    {
        if (place < 0 || place >= blocks.Count || blocks[place] is not ReadParagraph paragraph) return null;
        if (paragraph.Reading.Pieces.LastOrDefault(p => p.Kind == PieceKind.Field && p.Instruction.StartsWith("SEQ ", StringComparison.OrdinalIgnoreCase)) is not { } number || number.Start == 0) return null;
        return paragraph.Text[..number.End].Replace('\u00A0', ' ').Trim();
    }

    /// <summary>By what a thing that is no text is compared: its data, its bytes or its letters.</summary>
    /// <param name="part">The part that it stands in.</param>
    /// <param name="piece">The thing.</param>
    public string SignatureOf(string part, Piece piece)
    {
        var element = piece.Element;
        if (ChartOf(part, piece) is { } chart) return signatures.TryGetValue(chart, out var known) ? known : signatures[chart] = ChartPoints.SignatureOf(Document.Open(chart).Root!);
        var pictures = string.Join('+', element.Descendants().Where(e => (e.Name == A + "blip" || e.Name.LocalName == "imagedata") && !e.Ancestors(Mc + "Fallback").Any()).SelectMany(e => e.Attributes()).Where(a => a.Name == R + "embed" || a.Name == R + "id")
            .Select(a => Document.PartOf(part, a)).OfType<string>().Select(Document.ChecksumOf));
        if (pictures.Length > 0) return pictures;
        if (element.Name == M + "oMath" || element.Name == M + "oMathPara") return string.Concat(element.Descendants(M + "t").Select(t => t.Value));
        return string.Concat(element.Descendants().Where(e => e.Name == A + "pathLst" || e.Name == A + "prstGeom").Select(e => e.ToString(SaveOptions.DisableFormatting)));
    }

    /// <summary>The part of a chart; null if a thing is none.</summary>
    public string? ChartOf(string part, Piece piece) => Document.PartOf(part, piece.Element.Descendants(C + "chart").Select(c => c.Attribute(R + "id")).FirstOrDefault(a => a is not null));
}
