using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Brings the cells of a table up to date: rows go by their first cell, columns by their place; what people added, widened, shaded or wrote stays.</summary>
internal sealed class TableMerge(RefreshPass pass, ObjectMerge objects)
{
    public void Merge(RecordedTable before, ReadTable theirs, string part, RecordedTable now, ReadTable fresh, string where)
    {
        var place = now.Place ?? before.Place;
        if (before.Rows is not { } rows || now.Rows is not { } next)
        {
            MergeLong(before, theirs, part, now, fresh, where);
            return;
        }
        var places = PlacesOf(rows, theirs);
        var later = PlacesOf(rows, fresh, next);
        if (!IsOneShape(rows, next, later))
        {
            if (IsUntouched(rows, theirs, places)) Exchange(theirs, part, fresh, where, place);
            else Propose(theirs, part, where, place);
            return;
        }
        for (var r = 0; r < rows.Length; r++)
        {
            if (places[r] < 0)
            {
                if (later[r] >= 0 && next[later[r]].Key != rows[r].Key) pass.Add(ChangeKind.StaysDeleted, $"row {RowName(fresh.Rows[later[r]])}", where, null, RowText(fresh.Rows[later[r]]), place);
                continue;
            }
            if (later[r] >= 0) MergeRow(rows[r], theirs.Rows[places[r]], part, (now, later[r]), fresh.Rows[later[r]], where, place);
            else RemoveRow(rows[r], theirs.Rows[places[r]], where, place);
        }
        AddRows(theirs, part, fresh, places, later, where, place);
        theirs.Renew();
    }

    /// <summary>The row that each recorded row has become; -1 if it is gone.</summary>
    private static int[] PlacesOf(IReadOnlyList<RecordedRow> rows, ReadTable table, IReadOnlyList<RecordedRow>? known = null)
    {
        string[][] keys = [.. known is null ? table.Rows.Select(r => r.Cells.Select(c => RecordedCell.KeyOf(c.Text)).ToArray()) : known.Select(r => r.Cells.Select(c => c.Key).ToArray())];
        string[] whole = [.. known is null ? table.Rows.Select(r => RecordedRow.KeyOf(r.Cells.Select(c => c.Text))) : known.Select(r => r.Key)];
        bool[] isDeleted = [.. table.Rows.Select(r => r.IsDeleted)];
        var isOneLength = rows.Count == keys.Length;
        return Alignment.Best(rows.Count, keys.Length, (i, j) => isDeleted[j] ? 0 : LikenessOf(rows[i], keys[j], whole[j], isOneLength && i == j));
    }

    private static double LikenessOf(RecordedRow row, string[] keys, string whole, bool isSamePlace)
    {
        if (row.Key == whole) return 1.5;
        // Rows are known by their first cell, and else by what of them is the same.
        var isNamed = row.Cells.Length > 0 && keys.Length > 0 && row.Cells[0].Key == keys[0] && keys[0] != RecordedCell.EmptyKey;
        var pairs = Alignment.Equal([.. row.Cells.Select(c => c.Key)], keys);
        var share = row.Cells.Length == 0 ? 0 : (double)pairs.Count(p => p >= 0) / Math.Max(row.Cells.Length, keys.Length);
        return (isNamed ? 0.6 : isSamePlace ? 0.2 : 0) + (share >= 0.5 || isNamed ? 0.35 * share : 0);
    }

    private static bool IsOneShape(IReadOnlyList<RecordedRow> rows, IReadOnlyList<RecordedRow> next, int[] later)
    {
        for (var r = 0; r < rows.Count; r++)
            if (later[r] >= 0 && !rows[r].Cells.Select(c => c.Span).SequenceEqual(next[later[r]].Cells.Select(c => c.Span))) return false;
        return rows.Count == 0 || next.Count == 0 || rows.Max(r => r.Cells.Sum(c => c.Span)) == next.Max(r => r.Cells.Sum(c => c.Span));
    }

    private static bool IsUntouched(IReadOnlyList<RecordedRow> rows, ReadTable theirs, int[] places) =>
        theirs.Rows.Count == rows.Count && Enumerable.Range(0, rows.Count).All(r => places[r] == r && rows[r].Key == RecordedRow.KeyOf(theirs.Rows[r].Cells.Select(c => c.Text))) && !HasRemarks(theirs.Element);

    private static bool HasRemarks(XElement element) => element.Descendants().Any(e => e.Is("ins") || e.Is("del") || e.Is("commentRangeStart") || e.Is("commentReference"));

    private void MergeRow(RecordedRow before, ReadRow theirs, string part, (RecordedTable Table, int Row) target, ReadRow fresh, string where, SourcePlace? place)
    {
        var now = target.Table.Rows!.Value[target.Row];
        if (before.Key == now.Key && !ObjectsOf(before).Any()) return;
        var isUntouched = before.Key == RecordedRow.KeyOf(theirs.Cells.Select(c => c.Text));
        int[] places = isUntouched ? [.. Enumerable.Range(0, before.Cells.Length)] : CellPlaces(before, theirs);
        // Its key says that something is another, and the cells do not say which.
        var isUnsure = !isUntouched && theirs.Cells.Count == before.Cells.Length && Enumerable.Range(0, before.Cells.Length).All(c => places[c] == c && RecordedCell.KeyOf(theirs.Cells[c].Text) == before.Cells[c].Key);
        for (var c = 0; c < Math.Min(before.Cells.Length, fresh.Cells.Count); c++)
        {
            var next = fresh.Cells[c];
            if (places[c] < 0)
            {
                if (before.Cells[c].Key != now.Cells[c].Key) pass.Add(ChangeKind.StaysDeleted, $"a cell of row {RowName(fresh)}", where, null, next.Text, place);
                continue;
            }
            var cell = theirs.Cells[places[c]];
            MergeObjects(before.Cells[c], cell, part, now.Cells[c], next, where, place);
            if (cell.Text == next.Text || before.Cells[c].Key == now.Cells[c].Key) continue;
            var what = $"{RowName(fresh)}, column {c + 1}";
            if (!isUnsure && !HasTracked(cell) && before.Cells[c].Key == RecordedCell.KeyOf(cell.Text))
            {
                pass.Add(ChangeKind.Refreshed, what, where, cell.Text, next.Text, place);
                pass.Outdated.Add((cell.Text, next.Text, $"{what} of {where}", place));
                Exchange(cell, part, next);
                continue;
            }
            pass.UnresolvedCells[(target.Table, target.Row, c)] = before.Cells[c].Key;
            pass.Add(cell.Text.Length == 0 ? ChangeKind.StaysDeleted : ChangeKind.Proposed, what, where, cell.Text, next.Text, place);
            if (cell.Text.Length == 0 || cell.Paragraphs.Count == 0) continue;
            if (pass.Options.Proposals == ProposalForm.Tracked && !HasTracked(cell)) Exchange(cell, part, next, pass.Author);
            else pass.Proposals.Comment(part, cell.Paragraphs[0], 0, cell.Paragraphs[0].Text.Length, $"The manuscript gives {next.Text} here now.");
        }
    }

    private static IEnumerable<ObjectSegment> ObjectsOf(RecordedRow row) => row.Cells.SelectMany(c => c.Known).OfType<ObjectSegment>();

    private static bool HasTracked(ReadCell cell) => cell.Paragraphs.Any(p => p.Reading.Pieces.Any(i => i.IsTracked) || p.Element.Descendants(W + "del").Any());

    private static int[] CellPlaces(RecordedRow before, ReadRow theirs)
    {
        string[] keys = [.. theirs.Cells.Select(c => RecordedCell.KeyOf(c.Text))];
        var isOneLength = keys.Length == before.Cells.Length;
        // Where nobody has added or taken away a cell, each stands in its place.
        return isOneLength ? [.. Enumerable.Range(0, keys.Length)] : Alignment.Best(before.Cells.Length, keys.Length, (i, j) => before.Cells[i].Key == keys[j] ? keys[j] == RecordedCell.EmptyKey ? 0.5 : 1 : 0);
    }

    private void MergeObjects(RecordedCell before, ReadCell theirs, string part, RecordedCell now, ReadCell fresh, string where, SourcePlace? place)
    {
        ObjectSegment[] old = [.. before.Known.OfType<ObjectSegment>()];
        if (old.Length == 0) return;
        objects.Merge(old, [.. theirs.Paragraphs.SelectMany(p => p.Reading.Pieces).Where(p => p.Kind == PieceKind.Object)], part, [.. now.Known.OfType<ObjectSegment>()], [.. fresh.Paragraphs.SelectMany(p => p.Reading.Pieces).Where(p => p.Kind == PieceKind.Object)], where, place);
        foreach (var paragraph in theirs.Paragraphs) paragraph.Renew();
    }

    /// <summary>Puts the text of a cell in the place of another's: word by word, so that the formatting of each stays.</summary>
    private void Exchange(ReadCell cell, string part, ReadCell fresh, Author? author = null)
    {
        author ??= pass.Tracker;
        if (cell.Paragraphs.Count == 0 || fresh.Paragraphs.Count == 0) return;
        var (theirs, next) = (cell.Paragraphs[0], fresh.Paragraphs[0]);
        if (theirs.Text.Length == 0 || next.Text.Length == 0)
        {
            var runs = pass.Transplant.Copy(next.Element, pass.Fresh.Package.Main, part).Elements().Where(e => !e.Is("pPr")).ToArray();
            new ParagraphEditor(theirs, author).Replace(0, theirs.Text.Length, runs);
            return;
        }
        var (units, others) = (Unit.Of(theirs.Reading, asText: true), Unit.Of(next.Reading, asText: true));
        var places = Alignment.Equal([.. units.Select(u => u.Key)], [.. others.Select(u => u.Key)]);
        var edits = new List<(int Start, int End, int From, int To)>();
        var (last, at) = (0, 0);
        for (var i = 0; i <= units.Count; i++)
        {
            if (i < units.Count && places[i] < 0) continue;
            var (end, to) = i < units.Count ? (units[i].Start, others[places[i]].Start) : (theirs.Text.Length, next.Text.Length);
            if (end > last || to > at) edits.Add((last, end, at, to));
            if (i < units.Count) (last, at) = (units[i].End, others[places[i]].End);
        }
        foreach (var (start, end, from, to) in Enumerable.Reverse(edits))
        {
            // A number in the place of a number keeps their formatting; what is new brings its own.
            if (end > start) new ParagraphEditor(theirs, author).Replace(start, end, next.Text[from..to]);
            else
            {
                var copy = new ReadParagraph(new XElement(next.Element), 0);
                new ParagraphEditor(copy, null).KeepOnly(from, to);
                ParagraphMerge.Prune(copy.Element);
                new ParagraphEditor(theirs, author).Replace(start, end, [.. pass.Transplant.Copy(copy.Element, pass.Fresh.Package.Main, part).Elements().Where(e => !e.Is("pPr"))]);
            }
        }
    }

    private void RemoveRow(RecordedRow before, ReadRow theirs, string where, SourcePlace? place)
    {
        var isTheirs = before.Key != RecordedRow.KeyOf(theirs.Cells.Select(c => c.Text)) || HasRemarks(theirs.Element);
        pass.Add(isTheirs ? ChangeKind.Open : ChangeKind.Removed, $"row {RowName(theirs)}", where, RowText(theirs), isTheirs ? "the manuscript no longer has it, and people have changed it" : null, place);
        if (isTheirs) return;
        if (pass.Tracker is { } author) TrackedChanges.MarkRow(theirs.Element, author, isInserted: false);
        else theirs.Element.Remove();
    }

    /// <summary>New rows stand behind the one before them, with an empty cell where people have added a column.</summary>
    private void AddRows(ReadTable theirs, string part, ReadTable fresh, int[] places, int[] later, string where, SourcePlace? place)
    {
        var known = Enumerable.Range(0, later.Length).Where(r => later[r] >= 0).ToDictionary(r => later[r], r => places[r]);
        XElement? last = null;
        for (var n = 0; n < fresh.Rows.Count; n++)
        {
            if (known.TryGetValue(n, out var their))
            {
                if (their >= 0) last = theirs.Rows[their].Element;
                continue;
            }
            var row = pass.Transplant.Copy(fresh.Rows[n].Element, pass.Fresh.Package.Main, part);
            FitTo(row, theirs);
            if (pass.Tracker is { } author) TrackedChanges.MarkRow(row, author, isInserted: true);
            if (last is { Parent: not null }) last.AddAfterSelf(row);
            else if (ReadTable.RowsOf(theirs.Element).FirstOrDefault() is { } first) first.AddBeforeSelf(row);
            else theirs.Element.Add(row);
            last = row;
            pass.Add(ChangeKind.Added, $"row {RowName(fresh.Rows[n])}", where, null, RowText(fresh.Rows[n]), place);
        }
    }

    /// <summary>Gives a row as many columns as the others have, in their widths.</summary>
    private static void FitTo(XElement row, ReadTable theirs)
    {
        int[] widths = [.. theirs.Element.Element(W + "tblGrid")?.Elements(W + "gridCol").Select(c => NumberIn(c.Attribute(W + "w")) ?? 0) ?? []];
        var at = 0;
        foreach (var cell in row.Elements(Cell))
        {
            var span = NumberIn(cell.Element(W + "tcPr")?.Element(W + "gridSpan")?.Attribute(Val)) ?? 1;
            if (at + span <= widths.Length) cell.Element(W + "tcPr")?.Element(W + "tcW")?.SetAttributeValue(W + "w", widths.Skip(at).Take(span).Sum());
            at += span;
        }
        for (; at < widths.Length && row.Elements(Cell).LastOrDefault() is { } before; at++)
        {
            before.AddAfterSelf(new XElement(Cell, new XElement(W + "tcPr", new XElement(W + "tcW", new XAttribute(W + "w", widths[at]), new XAttribute(W + "type", "dxa"))),
                new XElement(P, before.Elements(P).FirstOrDefault()?.Element(W + "pPr") is { } properties ? new XElement(properties) : null)));
        }
    }

    /// <summary>Exchanges the whole of a table that nobody has written in: its own properties stay.</summary>
    private void Exchange(ReadTable theirs, string part, ReadTable fresh, string where, SourcePlace? place)
    {
        var copy = pass.Transplant.Copy(fresh.Element, pass.Fresh.Package.Main, part);
        foreach (var element in theirs.Element.Elements().Where(e => !e.Is("tblPr")).ToArray()) element.Remove();
        theirs.Element.Add(copy.Elements().Where(e => !e.Is("tblPr")));
        if (copy.Element(W + "tblPr")?.Element(W + "tblW") is { } width && theirs.Element.Element(W + "tblPr")?.Element(W + "tblW") is { } old) old.ReplaceWith(new XElement(width));
        theirs.Renew();
        pass.Add(ChangeKind.Refreshed, "the table, as a whole, for it has other columns now", where, null, null, place);
    }

    private void Propose(ReadTable theirs, string part, string where, SourcePlace? place)
    {
        const string Words = "it has other columns now, and people have changed it";
        pass.Add(ChangeKind.Open, "the table", where, null, Words, place);
        if (theirs.Rows.SelectMany(r => r.Cells).SelectMany(c => c.Paragraphs).FirstOrDefault() is { } first) pass.Proposals.Comment(part, first, 0, 0, "The manuscript gives this table other columns now. It was left as it is, because it has been changed here.");
    }

    /// <summary>Of a very long table only that is known whether anybody has changed it.</summary>
    private void MergeLong(RecordedTable before, ReadTable theirs, string part, RecordedTable now, ReadTable fresh, string where)
    {
        if (before.Hash.Length > 0 && before.Hash == now.Hash) return;
        if (before.Hash == RecordedTable.HashOf(theirs.Rows.SelectMany(r => r.Cells).Select(c => c.Text))) Exchange(theirs, part, fresh, where, now.Place);
        else Propose(theirs, part, where, now.Place);
    }

    private static string RowName(ReadRow row) => row.Cells.Select(c => c.Text).FirstOrDefault(t => t.Length > 0) is { } name ? $"“{name.Replace('\n', ' ')}”" : "without a name";

    private static string RowText(ReadRow row) => string.Join(" · ", row.Cells.Select(c => c.Text));
}
