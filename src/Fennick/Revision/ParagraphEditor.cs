using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Changes the text of a paragraph and leaves all else in it as it is: formatting, comments, tracked changes, marks.</summary>
/// <param name="paragraph">The paragraph.</param>
/// <param name="author">Signs the changes if they are to be tracked; null if they are made at once.</param>
internal sealed class ParagraphEditor(ReadParagraph paragraph, Author? author)
{
    /// <summary>Puts a text in the place of another, in the formatting of where that starts.</summary>
    public void Replace(int start, int end, string text)
    {
        if (author is null && start < end && FirstText(start, end) is { } carrier)
        {
            var offset = Math.Max(0, start - carrier.Start);
            Clear(start, end);
            var now = carrier.Element.Value;
            SetText(carrier.Element, now.Insert(Math.Min(offset, now.Length), text));
            paragraph.Renew();
            return;
        }
        var properties = RunAt(start, end)?.Element(W + "rPr");
        Replace(start, end, [NewRun(properties, text)]);
    }

    /// <summary>Puts runs in the place of a text.</summary>
    public void Replace(int start, int end, IReadOnlyList<XElement> runs)
    {
        var anchor = AnchorAt(start);
        if (start < end) Delete(start, end);
        if (runs.Count > 0)
        {
            object[] content = author is null ? [.. runs] : [.. runs.Select(r => r.Name == Run ? author.Sign(W + "ins", r) : r)];
            if (anchor is null) AddFirst(content);
            else anchor.AddAfterSelf(content);
        }
        paragraph.Renew();
    }

    /// <summary>Takes a text out, or marks it as deleted.</summary>
    public void Delete(int start, int end)
    {
        if (author is null) Clear(start, end);
        else
        {
            Split(start);
            Split(end);
            foreach (var run in RunsIn(start, end)) MarkDeleted(run, author);
        }
        paragraph.Renew();
    }

    /// <summary>Marks a stretch as inserted, and puts something before it that is marked as deleted.</summary>
    public void MarkInserted(int start, int end, XElement[] deleted)
    {
        var anchor = AnchorAt(start);
        Split(end);
        XElement[] inserted = end > start ? [.. RunsIn(start, end)] : [];
        if (anchor is null) AddFirst(deleted);
        else anchor.AddAfterSelf(deleted);
        foreach (var run in inserted) TrackedChanges.Mark(run, author!, isInserted: true);
        paragraph.Renew();
    }

    /// <summary>Takes everything out but a stretch.</summary>
    public void KeepOnly(int start, int end)
    {
        Clear(end, int.MaxValue);
        paragraph.Renew();
        Clear(0, start);
        paragraph.Renew();
    }

    /// <summary>Parts a run so that one ends at a place in the text.</summary>
    /// <returns>The run that ends there; null at the start.</returns>
    public XElement? AnchorAt(int place)
    {
        Split(place);
        XElement? anchor = null;
        foreach (var piece in paragraph.Reading.Pieces)
        {
            if (piece.End > place || (piece.Start == place && piece.Text.Length > 0)) break;
            anchor = LastOf(piece);
        }
        return anchor;
    }

    /// <summary>The runs whose text lies within a stretch.</summary>
    public IReadOnlyList<XElement> RunsIn(int start, int end) => [.. paragraph.Reading.Pieces.Where(p => p.Text.Length > 0 && p.Start >= start && p.End <= end).SelectMany(ElementsOf).Distinct()];

    /// <summary>The element that a piece stands in, or the last of those that make up a field.</summary>
    public static XElement LastOf(Piece piece) => ElementsOf(piece)[^1];

    /// <summary>The runs that a piece is made of.</summary>
    public static IReadOnlyList<XElement> ElementsOf(Piece piece)
    {
        if (piece.Element.Is("fldSimple") || piece.Element.Name == M + "oMath" || piece.Element.Name == M + "oMathPara") return [piece.Element];
        var run = piece.Element.AncestorsAndSelf(Run).First();
        if (piece.Kind != PieceKind.Field) return [run];
        var runs = new List<XElement>();
        var depth = 0;
        foreach (var element in run.ElementsAfterSelf().Prepend(run))
        {
            runs.Add(element);
            foreach (var character in element.DescendantsAndSelf(W + "fldChar")) depth += (string?)character.Attribute(W + "fldCharType") switch { "begin" => 1, "end" => -1, _ => 0 };
            if (depth <= 0) break;
        }
        return runs;
    }

    /// <summary>Marks a run as deleted.</summary>
    public static void MarkDeleted(XElement run, Author author)
    {
        if (run.Name != Run || run.Ancestors(W + "del").Any()) return;
        foreach (var text in run.Descendants(WordNames.Text).ToArray()) text.ReplaceWith(new XElement(W + "delText", new XAttribute(XNamespace.Xml + "space", "preserve"), text.Value));
        foreach (var instruction in run.Elements(W + "instrText").ToArray()) instruction.Name = W + "delInstrText";
        var copy = new XElement(run);
        run.ReplaceWith(author.Sign(W + "del", copy));
    }

    /// <summary>A run with a text.</summary>
    public static XElement NewRun(XElement? properties, string text)
    {
        var run = new XElement(Run, properties is null ? null : new XElement(properties));
        var start = 0;
        for (var i = 0; i <= text.Length; i++)
        {
            if (i < text.Length && text[i] is not ('\t' or '\n' or '\u2011' or '\u00AD')) continue;
            if (i > start) run.Add(new XElement(WordNames.Text, new XAttribute(XNamespace.Xml + "space", "preserve"), text[start..i]));
            if (i < text.Length) run.Add(new XElement(W + (text[i] switch { '\t' => "tab", '\n' => "br", '\u2011' => "noBreakHyphen", _ => "softHyphen" })));
            start = i + 1;
        }
        return run;
    }

    private static void SetText(XElement element, string text)
    {
        if (text.AsSpan().ContainsAny('\t', '\n', '\u2011') || text.Contains('\u00AD', StringComparison.Ordinal)) element.ReplaceWith(NewRun(null, text).Elements());
        else
        {
            element.Value = text;
            if (text.Length > 0 && (text[0] == ' ' || text[^1] == ' ')) element.SetAttributeValue(XNamespace.Xml + "space", "preserve");
        }
    }

    private Piece? FirstText(int start, int end) => paragraph.Reading.Pieces.FirstOrDefault(p => p.Kind == PieceKind.Text && p.End > start && p.Start < end);

    private XElement? RunAt(int start, int end) => (paragraph.Reading.Pieces.FirstOrDefault(p => p.Kind == PieceKind.Text && p.End > start && p.Start < Math.Max(end, start + 1)) ?? paragraph.Reading.Pieces.LastOrDefault(p => p.Kind == PieceKind.Text && p.End <= start))?.Element.AncestorsAndSelf(Run).FirstOrDefault();

    private void Clear(int start, int end)
    {
        foreach (var piece in paragraph.Reading.Pieces.Where(p => p.End > start && p.Start < end).ToArray())
        {
            if (piece.Kind == PieceKind.Text && (piece.Start < start || piece.End > end || piece == FirstText(start, end)))
            {
                var text = piece.Text;
                SetText(piece.Element, string.Concat(text.AsSpan(0, Math.Max(0, start - piece.Start)), text.AsSpan(Math.Min(text.Length, (int)Math.Min((long)end - piece.Start, text.Length)))));
                continue;
            }
            if (piece.Kind == PieceKind.Field || piece.Element.Name == M + "oMath" || piece.Element.Name == M + "oMathPara")
            {
                foreach (var element in ElementsOf(piece)) element.Remove();
                continue;
            }
            var run = piece.Element.AncestorsAndSelf(Run).First();
            piece.Element.Remove();
            if (!run.Elements().Any(e => !e.Is("rPr"))) run.Remove();
        }
    }

    private void Split(int place)
    {
        if (paragraph.Reading.Pieces.FirstOrDefault(p => p.Kind == PieceKind.Text && p.Start < place && p.End > place) is { } piece)
        {
            var after = new XElement(piece.Element);
            SetText(after, piece.Text[(place - piece.Start)..]);
            SetText(piece.Element, piece.Text[..(place - piece.Start)]);
            piece.Element.AddAfterSelf(after);
            paragraph.Renew();
        }
        // A run may hold several pieces.
        if (paragraph.Reading.Pieces.FirstOrDefault(p => p.Start == place && p.Kind is PieceKind.Text or PieceKind.Sign && p.Element.Parent?.Name == Run && p.Element.ElementsBeforeSelf().Any(e => !e.Is("rPr"))) is not { } second) return;
        var run = second.Element.Parent!;
        var rest = new XElement(Run, run.Attributes(), run.Element(W + "rPr") is { } properties ? new XElement(properties) : null);
        XElement[] moved = [second.Element, .. second.Element.ElementsAfterSelf()];
        foreach (var element in moved)
        {
            element.Remove();
            rest.Add(element);
        }
        run.AddAfterSelf(rest);
        paragraph.Renew();
    }

    private void AddFirst(IReadOnlyList<object> content)
    {
        if (paragraph.Element.Element(W + "pPr") is { } properties) properties.AddAfterSelf(content);
        else paragraph.Element.AddFirst(content);
    }
}
