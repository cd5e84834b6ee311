using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Fennick.Documents;
using Fennick.Records;

namespace Fennick.Revision;

/// <summary>Lists how two documents differ: numbers, words, tables, charts, pictures.</summary>
internal sealed class Comparer
{
    private const int Context = 3;
    private const int Near = 3;
    private readonly List<Difference> differences = [];

    private Comparer(ComparedText old, ComparedText now)
    {
        (Old, New) = (old, now);
        var succession = old.Document.Record is { } before && now.Document.Record is { } after ? Succession.Of(before, after) : null;
        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var (part, blocks) in now.Stories)
        {
            if (Counterpart(part, blocks, taken) is not { } oldPart) continue;
            taken.Add(oldPart);
            Stories.Add((oldPart, part, BlockPairs.Of(old, oldPart, now, part, succession)));
        }
        foreach (var (part, blocks) in old.Stories.Where(s => !taken.Contains(s.Part))) Alone.AddRange(blocks.Select(b => (new BlockPair(b, null, false), part)));
        foreach (var (part, blocks) in now.Stories.Where(s => Stories.All(p => p.Part != s.Part))) Alone.AddRange(blocks.Select(b => (new BlockPair(null, b, false), part)));
    }

    public ComparedText Old { get; }

    public ComparedText New { get; }

    /// <summary>What belongs together, part by part.</summary>
    public List<(string OldPart, string Part, List<BlockPair> Pairs)> Stories { get; } = [];

    /// <summary>The paragraphs of parts that the other document has not.</summary>
    public List<(BlockPair Pair, string Part)> Alone { get; } = [];

    /// <summary>Compares two documents; tracked changes in them are accepted.</summary>
    /// <param name="old">The older.</param>
    /// <param name="now">The newer.</param>
    public static Comparer Of(WordDocument old, WordDocument now)
    {
        var both = old.Record is not null && now.Record is not null;
        var texts = InParallel.Select([old, now], d => ComparedText.Of(d, both));
        return new Comparer(texts[0], texts[1]);
    }

    /// <summary>The list.</summary>
    /// <param name="over">Only numbers are listed that differ by more than this share of the older one; everything if null.</param>
    public CompareResult List(double? over)
    {
        differences.Clear();
        foreach (var (oldPart, part, pairs) in Stories)
            foreach (var pair in pairs) Note(pair, oldPart, part);
        foreach (var (pair, part) in Alone) Note(pair, part, part);
        Difference[] listed = over is { } least ? [.. differences.Where(d => d.Kind == DifferenceKind.Number && (d.Relative is not { } relative || Math.Abs(relative) > least))] : [.. differences];
        var remarks = ImmutableArray.CreateBuilder<string>();
        if (Old.HadTrackedChanges || New.HadTrackedChanges) remarks.Add($"the tracked changes in {(Old.HadTrackedChanges && New.HadTrackedChanges ? "both documents" : Old.HadTrackedChanges ? "the older document" : "the newer document")} were taken for accepted");
        return new CompareResult([.. listed], differences.Count - listed.Length, remarks.ToImmutable());
    }

    /// <summary>The part of the older document that says the same kind of thing: headers and footers go by what they say.</summary>
    private string? Counterpart(string part, List<ReadBlock> blocks, HashSet<string> taken)
    {
        if (part == New.Document.Package.Main) return Old.Document.Package.Main;
        var kind = WordDocument.KindOf(part);
        var text = string.Join('\n', blocks.Select(b => b.Text));
        return Old.Stories.Where(s => s.Part != Old.Document.Package.Main && !taken.Contains(s.Part) && WordDocument.KindOf(s.Part) == kind)
            .Select(s => (s.Part, Likeness: Alignment.Likeness(text, string.Join('\n', s.Blocks.Select(b => b.Text))) + (s.Part == part ? 0.1 : 0))).OrderByDescending(s => s.Likeness).FirstOrDefault().Part;
    }

    private void Note(BlockPair pair, string oldPart, string part)
    {
        if (pair.New is not { } next)
        {
            if (HoldsAnything(pair.Old!)) Add(DifferenceKind.Removed, What(pair.Old!, isNew: false), Old.WhereIs(pair.Old!), Short(pair.Old!), null);
            return;
        }
        if (pair.Old is not { } old)
        {
            if (HoldsAnything(next)) Add(DifferenceKind.Added, What(next, isNew: true), New.WhereIs(next), null, Short(next));
            return;
        }
        if (pair.IsMoved && HoldsAnything(next)) Add(DifferenceKind.Moved, What(next, isNew: true), New.WhereIs(next), Old.WhereIs(old) == New.WhereIs(next) ? null : Old.WhereIs(old), Short(next));
        if (old is ReadParagraph before && next is ReadParagraph after) Compare(before, oldPart, after, part);
        else if (old is ReadTable table && next is ReadTable later) Compare(table, later);
    }

    private static bool HoldsAnything(ReadBlock block) => block.Text.Any(c => !char.IsWhiteSpace(c));

    private static string What(ReadBlock block, bool isNew) => block is ReadTable ? isNew ? "a table" : "the table" : block.Text.Trim().All(c => c == Segment.ObjectLetter) ? "a figure" : "a paragraph";

    private static string? Short(ReadBlock block) => Bare(block.Text) is { Length: > 0 } text ? Refresher.Short(text) : null;

    private static string Bare(string text) => text.Replace(Segment.Object, "", StringComparison.Ordinal).Trim();

    private void Add(DifferenceKind kind, string what, string where, string? before, string? after) => differences.Add(new Difference(kind, what, where, before, after));

    private void Compare(ReadParagraph before, string oldPart, ReadParagraph after, string part)
    {
        var edits = ParagraphEdits.Of(Old, oldPart, before, New, part, after);
        var where = New.WhereIs(after);
        for (var i = 0; i < edits.Count; i++)
        {
            var edit = edits[i];
            if (edit.Value is not null)
            {
                Value(edit, before.Text[edit.Start..edit.End], after.Text[edit.From..edit.To], where);
                continue;
            }
            Objects(edit, before, oldPart, after, part, where);
            var (old, now) = (before.Text[edit.Start..edit.End], after.Text[edit.From..edit.To]);
            if (Number(Around(after.Text, edit.From, edit.To), where, old, now)) continue;
            // What is close together is one change to whoever reads.
            var last = edit;
            while (i + 1 < edits.Count && edits[i + 1].Value is null && Words.Of(before.Text[last.End..edits[i + 1].Start]).Length <= Near)
            {
                last = edits[++i];
                Objects(last, before, oldPart, after, part, where);
            }
            if (Bare(before.Text[edit.Start..last.End]) == Bare(after.Text[edit.From..last.To])) continue;
            Add(DifferenceKind.Text, "the words", where, Around(before.Text, edit.Start, last.End), Around(after.Text, edit.From, last.To));
        }
    }

    private void Value(ParagraphEdit edit, string old, string now, string where)
    {
        var value = edit.Value!;
        if (!Number(value.Expression, where, old, now, edit.Before, value)) differences.Add(new Difference(DifferenceKind.Text, value.Expression, where, old, now) { Place = value.Place is { Line: >= 0 } place ? place : null });
    }

    /// <summary>The value that was written, if it is what is printed: as it is, as a percentage, in thousands.</summary>
    private static double? Full(Origin origin, PrintedNumber printed)
    {
        if (!double.TryParse(origin.Value, NumberStyles.Float, CultureInfo.InvariantCulture, out var value)) return null;
        var unit = Math.Pow(10, -printed.Decimals);
        foreach (var scale in Scales)
            if (Math.Abs((value * scale) - printed.Value) <= unit * 0.51) return value;
        return null;
    }

    private static readonly double[] Scales = [1, 100, 1e-3, 1e-6, 1e-9];

    private static double? Share(double before, double after) => before == 0 ? null : (after - before) / Math.Abs(before);

    /// <summary>Notes numbers in the place of numbers; false if anything else differs as well.</summary>
    private bool Number(string what, string where, string old, string now, Origin? before = null, Origin? after = null)
    {
        var (numbers, others) = (PrintedNumber.In(old, Old.DecimalSign), PrintedNumber.In(now, New.DecimalSign));
        if (numbers.Count == 0 || numbers.Count != others.Count || !IsSameBeside(PrintedNumber.Without(old), PrintedNumber.Without(now))) return false;
        // Of several numbers that one counts which has changed most.
        var (was, number) = numbers.Zip(others).MaxBy(p => Share(p.First.Value, p.Second.Value) is { } share ? Math.Abs(share) : p.First.Value == p.Second.Value ? -1 : double.MaxValue);
        // The values in full tell the share better than what is rounded; where people have typed over one, what they typed counts.
        var share = numbers.Count == 1 && before is not null && after is not null && Full(before, was) is { } full && Full(after, number) is { } other ? Share(full, other) : Share(was.Value, number.Value);
        differences.Add(new Difference(DifferenceKind.Number, what, where, old.Trim(), now.Trim()) { Change = Math.Round(number.Value - was.Value, Math.Min(15, Math.Max(was.Decimals, number.Decimals))), Relative = share, Decimals = Math.Max(was.Decimals, number.Decimals), Place = after?.Place is { Line: >= 0 } place ? place : null });
        return true;
    }

    /// <summary>Whether two texts say the same beside their numbers; signs of significance and units of money may be others, words may not.</summary>
    private static bool IsSameBeside(string old, string now) => Words.Alike(old) == Words.Alike(now) || !(old + now).Any(c => char.IsLetter(c) || c == Segment.ObjectLetter);

    /// <summary>A stretch with the words beside it.</summary>
    private static string Around(string text, int start, int end)
    {
        var words = Words.Of(text);
        var (from, to, count) = (start, end, 0);
        for (var i = words.Length - 1; i >= 0 && count < Context; i--)
        {
            if (words[i].Start >= start) continue;
            from = words[i].Start;
            if (char.IsLetterOrDigit(text[from])) count++;
        }
        count = 0;
        for (var i = 0; i < words.Length && count < Context; i++)
        {
            if (words[i].Start < end) continue;
            to = words[i].Start + words[i].Length;
            if (char.IsLetterOrDigit(text[words[i].Start])) count++;
        }
        var said = new StringBuilder();
        if (Bare(text[..from]).Length > 0) said.Append('…');
        said.Append(Refresher.Short(Bare(text[from..to])));
        if (Bare(text[to..]).Length > 0 && said[^1] != '…') said.Append('…');
        return said.ToString();
    }

    /// <summary>Notes charts, pictures, drawings and formulas that are others, new or gone.</summary>
    private void Objects(ParagraphEdit edit, ReadParagraph before, string oldPart, ReadParagraph after, string part, string where)
    {
        Piece[] old = [.. ObjectsIn(before, edit.Start, edit.End)];
        Piece[] now = [.. ObjectsIn(after, edit.From, edit.To)];
        var pairs = Alignment.Best(old.Length, now.Length, (i, j) => Unit.KindOf(old[i]) == Unit.KindOf(now[j]) ? 1 : 0);
        for (var i = 0; i < old.Length; i++)
        {
            var name = NameOf(old[i]);
            if (pairs[i] < 0) Add(DifferenceKind.Removed, $"the {name}", where, null, null);
            else if (Old.ChartOf(oldPart, old[i]) is { } chart && New.ChartOf(part, now[pairs[i]]) is { } later) Charts(chart, later, where);
            else if (Unit.KindOf(old[i]) == ObjectKind.Formula) Formula(Old.SignatureOf(oldPart, old[i]), New.SignatureOf(part, now[pairs[i]]), where);
            else Add(DifferenceKind.Shape, $"the {name}", where, null, null);
        }
        foreach (var j in Enumerable.Range(0, now.Length).Except(pairs)) Add(DifferenceKind.Added, $"a {NameOf(now[j])}", where, null, null);
    }

    private void Formula(string old, string now, string where)
    {
        if (!Number("the formula", where, old, now)) Add(DifferenceKind.Shape, "the formula", where, old, now);
    }

    private static IEnumerable<Piece> ObjectsIn(ReadParagraph paragraph, int start, int end) => paragraph.Reading.Pieces.Where(p => p.Kind == PieceKind.Object && p.Start >= start && p.End <= end);

    private static string NameOf(Piece piece) => Unit.KindOf(piece).ToString().ToLowerInvariant();

    private void Charts(string old, string now, string where)
    {
        var (chart, next) = (Old.Document.Open(old).Root!, New.Document.Open(now).Root!);
        var (before, after) = (ChartPoints.Of(chart), ChartPoints.Of(next));
        if (ChartPoints.WordsOf(chart) is var words && ChartPoints.WordsOf(next) is var others && words != others) Add(DifferenceKind.Text, "the titles of the chart", where, words.Replace('\n', ' '), others.Replace('\n', ' '));
        var (gone, added) = (Missing(before, after), Missing(after, before));
        if (gone.Length > 0) Add(DifferenceKind.Removed, Points(gone.Length), where, Names(gone), null);
        if (added.Length > 0) Add(DifferenceKind.Added, Points(added.Length), where, null, Names(added));
        var left = after.GroupBy(p => p.Name, StringComparer.Ordinal).ToDictionary(g => g.Key, g => new Queue<double>(g.Select(p => p.Value)), StringComparer.Ordinal);
        foreach (var point in before)
        {
            if (!left.TryGetValue(point.Name, out var queue) || !queue.TryDequeue(out var value) || value.Equals(point.Value)) continue;
            var (was, number) = (Plain(point.Value), Plain(value));
            var decimals = Math.Max(DecimalsOf(was), DecimalsOf(number));
            differences.Add(new Difference(DifferenceKind.Number, point.Name.Length > 0 ? point.Name : "the chart", $"the chart of {where}", was, number) { Change = value - point.Value, Relative = Share(point.Value, value), Decimals = decimals });
        }
    }

    private static ChartPoints.Point[] Missing(IReadOnlyList<ChartPoints.Point> points, IReadOnlyList<ChartPoints.Point> others)
    {
        var names = others.Select(p => p.Name).ToHashSet(StringComparer.Ordinal);
        return [.. points.Where(p => !names.Contains(p.Name))];
    }

    private static string Points(int count) => count == 1 ? "a point of the chart" : $"{count} points of the chart";

    private static string Names(ChartPoints.Point[] points) => string.Join("; ", points.Take(3).Select(p => p.Name)) + (points.Length > 3 ? "; …" : "");

    private static string Plain(double value) => value.ToString("G6", CultureInfo.InvariantCulture);

    private static int DecimalsOf(string number) => number.Contains('E', StringComparison.Ordinal) ? 0 : number.IndexOf('.', StringComparison.Ordinal) is >= 0 and var sign ? number.Length - sign - 1 : 0;

    private void Compare(ReadTable before, ReadTable after)
    {
        var where = New.WhereIs(after);
        var tables = TableComparison.Of(before, after);
        for (var c = 0; c < tables.Columns.Length; c++)
            if (tables.Columns[c] < 0 && HasColumn(tables.Old, c)) Add(DifferenceKind.Removed, $"column {TableComparison.ColumnName(tables.Old, c)}", where, null, null);
        foreach (var c in tables.New.SelectMany(r => r.Keys).Distinct().Order().Except(tables.Columns)) Add(DifferenceKind.Added, $"column {TableComparison.ColumnName(tables.New, c)}", where, null, null);
        for (var r = 0; r < tables.Rows.Length; r++)
        {
            if (tables.Rows[r] >= 0) Compare(tables, r, tables.Rows[r], where);
            else if (tables.Elsewhere.TryGetValue(r, out var to)) Compare(tables, r, to, where);
            else Add(DifferenceKind.Removed, $"row {TableComparison.RowName(tables.Old, r)}", where, TableComparison.TextOf(tables.Old[r]), null);
        }
        if (tables.Elsewhere.Count > 0) Add(DifferenceKind.Moved, tables.Elsewhere.Count == 1 ? "a row in another place" : $"{tables.Elsewhere.Count} rows in another order", where, null, string.Join(", ", tables.Elsewhere.Values.Order().Take(5).Select(r => TableComparison.RowName(tables.New, r))) + (tables.Elsewhere.Count > 5 ? ", …" : ""));
        foreach (var r in Enumerable.Range(0, tables.New.Count).Except(tables.Rows).Except(tables.Elsewhere.Values)) Add(DifferenceKind.Added, $"row {TableComparison.RowName(tables.New, r)}", where, null, TableComparison.TextOf(tables.New[r]));
    }

    /// <summary>By what the things in a cell are known that are no text.</summary>
    private static string Things(ReadCell cell, ComparedText text) => string.Join('\u0004', cell.Paragraphs.SelectMany(p => p.Reading.Pieces).Where(p => p.Kind == PieceKind.Object).Select(p => text.SignatureOf(text.Document.Package.Main, p)));

    private static bool HasColumn(IReadOnlyList<IReadOnlyDictionary<int, ReadCell>> rows, int column) => rows.Any(r => r.ContainsKey(column));

    private void Compare(TableComparison tables, int row, int newRow, string where)
    {
        var (before, after) = (tables.Old[row], tables.New[newRow]);
        foreach (var (column, cell) in before.OrderBy(c => c.Key))
        {
            if (column >= tables.Columns.Length || tables.Columns[column] is not (>= 0 and var to) || !after.TryGetValue(to, out var next)) continue;
            var (old, now) = (cell.Text.Trim(), next.Text.Trim());
            var isSame = Words.Alike(old) == Words.Alike(now);
            if (isSame && Things(cell, Old) == Things(next, New)) continue;
            // What names itself tells nothing.
            var names = new[] { to == after.Keys.Min() ? "" : TableComparison.RowName(tables.New, newRow), newRow == 0 ? "" : TableComparison.ColumnName(tables.New, to) }.Where(n => n.Length > 0).ToArray();
            var what = names.Length == 0 ? $"cell {to + 1} of row {newRow + 1}" : string.Join(", ", names);
            if (isSame) Add(DifferenceKind.Shape, $"the drawing or formula of {what}", where, null, null);
            else if (!Number(what, where, old, now)) Add(DifferenceKind.Text, what, where, old.Replace('\n', ' '), now.Replace('\n', ' '));
        }
    }
}
