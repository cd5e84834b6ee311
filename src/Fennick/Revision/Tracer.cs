using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Records;

namespace Fennick.Revision;

/// <summary>Says of what is printed in a document where it comes from.</summary>
internal sealed class Tracer
{
    private readonly DocumentRecord record;
    private readonly Matching places;
    private readonly Surroundings surroundings;
    private readonly List<TracedItem> items = [];

    private Tracer(WordDocument document, DocumentRecord record)
    {
        this.record = record;
        places = Matching.Find(record, document);
        surroundings = new Surroundings(document, [record]);
    }

    /// <summary>Traces what is asked for.</summary>
    /// <param name="document">The document.</param>
    /// <param name="folder">The folder of its manuscript.</param>
    /// <param name="what">A number or words as they are printed, or a label; everything if null.</param>
    public static TraceResult Trace(WordDocument document, string folder, string? what)
    {
        var record = RefreshedFile.RecordOf(document);
        var tracer = new Tracer(document, record);
        tracer.Find();
        var found = what is null ? tracer.items : [.. tracer.items.Where(i => Names(i, what))];
        if (what is not null && found.Count == 0) found = tracer.InWords(what);
        return new TraceResult(record.Making.Manuscript, record.Program, record.Making.Parameters, [.. record.Making.Inputs.Select(i => new TracedInput(i.Name, i.Hash, StateOf(i, folder)))], [.. found]) { IsIntact = record.IsIntact };
    }

    private static bool Names(TracedItem item, string what) => Words.Alike(item.Text) == Words.Alike(what) || item.Text.Split([' ', '\u00A0', '(', ')', ',']).Contains(what) || item.Expression == what || item.Expression.EndsWith($" {what}", StringComparison.Ordinal) || string.Equals(item.Where, what, StringComparison.OrdinalIgnoreCase);

    /// <summary>What no value gave: words of the manuscript, numbers that the document counts, and what people have typed.</summary>
    private List<TracedItem> InWords(string what)
    {
        var found = new List<TracedItem>();
        foreach (var paragraph in record.Blocks.OfType<RecordedParagraph>())
        {
            if (paragraph.Content.OfType<FieldSegment>().Any(f => Holds(f.Text, what))) found.Add(new TracedItem(what, surroundings.Of(paragraph), "a number or words that the document counts or repeats", null, null, paragraph.Place));
            else if (paragraph.Content.OfType<ObjectSegment>().Any(o => o.Kind == ObjectKind.Formula && o.Letters.Contains(what, StringComparison.Ordinal))) found.Add(new TracedItem(what, surroundings.Of(paragraph), "a formula of the manuscript", null, null, paragraph.Place));
            else if (Holds(paragraph.Text, what))
            {
                // Titles, dates and headers are settings, which stand at the head of a manuscript.
                if (paragraph.Place is { } place) found.Add(new TracedItem(what, surroundings.Of(paragraph), "words of the manuscript", null, null, place));
                else found.Add(new TracedItem(what, surroundings.Of(paragraph), "words of the settings", null, null, record.Making.Manuscript.Length > 0 ? new SourcePlace(record.Making.Manuscript, 1, 1) : null));
            }
        }
        if (found.Count > 0) return found;
        foreach (var (_, blocks) in places.Stories)
            found.AddRange(blocks.Where(b => Holds(b.Text, what)).Select(b => new TracedItem(what, places.Of(b) is { } written ? surroundings.Of(written) : "the document", "typed into the document by somebody", null, null, places.Of(b)?.Place)));
        return found;
    }

    private static bool Holds(string text, string what)
    {
        var (there, sought) = (Words.Alike(text), Words.Alike(what));
        if (sought.Length == 0) return false;
        for (var at = there.IndexOf(sought, StringComparison.Ordinal); at >= 0; at = there.IndexOf(sought, at + 1, StringComparison.Ordinal))
        {
            // A number is no part of a longer one.
            var end = at + sought.Length;
            if (!(at > 0 && char.IsLetterOrDigit(sought[0]) && char.IsLetterOrDigit(there[at - 1])) && !(end < there.Length && char.IsLetterOrDigit(sought[^1]) && char.IsLetterOrDigit(there[end]))
                && !(at > 1 && char.IsDigit(sought[0]) && there[at - 1] is ('.' or ',') && char.IsDigit(there[at - 2])) && !(end + 1 < there.Length && char.IsDigit(sought[^1]) && there[end] is ('.' or ',') && char.IsDigit(there[end + 1]))) return true;
        }
        return false;
    }

    private static InputState StateOf(MadeFrom input, string folder)
    {
        var path = Path.Combine(folder, input.Name);
        return !File.Exists(path) ? InputState.Missing : FileHashes.Shared.Of(path).StartsWith(input.Hash, StringComparison.Ordinal) ? InputState.Same : InputState.Changed;
    }

    private void Find()
    {
        foreach (var block in record.Blocks)
        {
            if (block is RecordedParagraph paragraph) Find(paragraph);
            else if (block is RecordedTable table) Find(table);
        }
    }

    private void Find(RecordedParagraph paragraph)
    {
        var where = surroundings.Of(paragraph);
        var theirs = places.Of(paragraph) as ReadParagraph;
        foreach (var segment in paragraph.Content)
        {
            if (segment is ValueSegment value)
            {
                var there = theirs?.Reading.Values.Where(v => v.Value == value.Mark && v.End > v.Start).Select(v => theirs.Reading.Text[v.Start..v.End]).FirstOrDefault() ?? value.Text;
                items.Add(new TracedItem(there, where, value.Origin.Expression, value.Origin.Format, value.Origin.Value, Known(value.Origin.Place)) { Written = there == value.Text ? null : value.Text });
            }
            else if (segment is ObjectSegment { Kind: ObjectKind.Chart or ObjectKind.Picture } figure) items.Add(new TracedItem($"the {figure.Kind.ToString().ToLowerInvariant()}", where, StepOf("figure", paragraph.Label), null, null, paragraph.Place ?? PlaceNear(paragraph)));
        }
    }

    /// <summary>A panel of a figure knows no place of its own: its caption, below it, does.</summary>
    private SourcePlace? PlaceNear(RecordedParagraph paragraph) => record.Blocks.SkipWhile(b => b != paragraph).FirstOrDefault(b => b.Place is not null)?.Place ?? record.Blocks.TakeWhile(b => b != paragraph).LastOrDefault(b => b.Place is not null)?.Place;

    private void Find(RecordedTable table)
    {
        var where = surroundings.Of(table);
        var step = StepOf("table", table.Label);
        if (places.Of(table) is not ReadTable theirs)
        {
            items.Add(new TracedItem("the table", where, step, null, null, table.Place));
            return;
        }
        var known = (table.Rows ?? []).SelectMany((r, i) => r.Cells.SelectMany((c, j) => c.Known.OfType<ValueSegment>().Select(v => (Row: i, Cell: j, Value: v)))).ToLookup(v => (v.Row, v.Cell), v => v.Value);
        foreach (var (r, row) in theirs.Rows.Index())
        {
            var name = row.Cells.Count > 0 ? row.Cells[0].Text : "";
            foreach (var (c, cell) in row.Cells.Index().Where(c => c.Item.Text.Any(char.IsAsciiDigit)))
            {
                var head = theirs.Rows[0].Cells.Count > c ? theirs.Rows[0].Cells[c].Text : "";
                var at = string.Join(", ", new[] { where, c == 0 ? "" : name, head }.Where(t => t.Length > 0));
                if (known[(r, c)].FirstOrDefault() is { } value) items.Add(new TracedItem(cell.Text, at, value.Origin.Expression, value.Origin.Format, value.Origin.Value, Known(value.Origin.Place)));
                else items.Add(new TracedItem(cell.Text, at, step, null, null, table.Place));
            }
        }
    }

    private static SourcePlace? Known(SourcePlace place) => place.Line < 0 ? null : place;

    private static string StepOf(string role, string? label) => label is null ? role : $"{role} {label}";
}
