using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Flow;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Layout;

/// <summary>Fits one table: its text wraps, then steps down in size, then its page turns, then it goes on below itself.</summary>
internal sealed class TableFitter
{
    // ECMA-376 knows no such limits, but word processors stop at 63 columns and 32,767 rows.
    private const int MostColumns = 63;
    private const int MostRows = 32_000;

    private const double Slack = 0.5;

    private readonly GalleyTable table;
    private readonly TableMeasures measures;
    private readonly double[] sizes;
    private readonly int lastStep;

    public TableFitter(GalleyTable table, IStyleBook house)
    {
        this.table = table;
        measures = TableMeasures.Of(table, house);
        var points = Enumerable.Range(0, TableTextSizes.Count).Select(step => house.Style(StyleRole.TableText.At(step)).Points).ToArray();
        sizes = [.. points.Select(p => p / points[0])];
        lastStep = Math.Max(0, points.Count(p => p >= table.SmallestText) - 1);
    }

    /// <summary>What could not be fitted.</summary>
    public List<Diagnostic> Diagnostics { get; } = [];

    /// <summary>Whether the table does not fit its page as it is, but does if that turns.</summary>
    public bool Turns(PageGeometry page, Length available)
    {
        if (FitsNaturally(available.Points) || !table.MayTurn || page.IsLandscape || table.Indents > 0 || Fits(available.Points)) return false;
        return Fits(page.Turned.TextWidth.Points);
    }

    /// <summary>The table with its geometry, or the parts that it is taken apart into.</summary>
    public IEnumerable<(GalleyTable Part, TableGeometry Geometry, bool IsFirst)> Fit(Length available)
    {
        if (FitsNaturally(available.Points))
        {
            yield return (table, NaturalGeometry(available), true);
            yield break;
        }
        var isFirst = true;
        foreach (var columns in Panels(available.Points))
        {
            var geometry = Geometry(columns, available);
            var panel = columns.Length == measures.Count ? table : Slice(columns);
            var body = panel.Rows.Count - panel.HeaderRows;
            for (var start = 0; start == 0 || start < body; start += MostRows)
            {
                var part = body <= MostRows ? panel : panel with { Rows = panel.Rows.Part(panel.HeaderRows, panel.HeaderRows + start, Math.Min(MostRows, body - start)) };
                yield return (isFirst ? part : part with { Begins = null }, geometry, isFirst);
                isFirst = false;
            }
        }
    }

    /// <summary>Whether the table stands as it is, without anything wrapped or shared: most tables do.</summary>
    private bool FitsNaturally(double room)
    {
        if (measures.Count > MostColumns || table.Rows.Count > MostRows) return false;
        var width = 0.0;
        for (var c = 0; c < measures.Count; c++)
        {
            if (table.Columns[c].Width is ColumnWidth.ShareWidth) return false;
            width += Natural(c, 0);
        }
        return width <= room;
    }

    private TableGeometry NaturalGeometry(Length available)
    {
        var widths = new double[measures.Count];
        for (var c = 0; c < widths.Length; c++) widths[c] = Natural(c, 0);
        return Geometry(null, Eased(widths, [.. Enumerable.Range(0, widths.Length)], 0, available.Points), step: 0, available);
    }

    /// <summary>Columns with room to spare, as far as there is any: whoever changes a number or a size in the document should not break it over two lines.</summary>
    private double[] Eased(double[] widths, int[] columns, int step, double room)
    {
        var slack = columns.Select(c => table.Columns[c].Width is not ColumnWidth.FixedWidth ? measures.Slack(c) * sizes[step] : 0).ToArray();
        var share = Math.Min(1, (room - widths.Sum()) / slack.Sum());
        return share > 0 ? [.. widths.Select((w, i) => w + (share * slack[i]))] : widths;
    }

    /// <summary>Columns that take all the room there is, each in proportion to its own width; those of a fixed width stay.</summary>
    private double[] Filled(double[] widths, int[]? columns, double room)
    {
        bool Gives(int i) => table.Columns[columns?[i] ?? i].Width is not ColumnWidth.FixedWidth;
        var (left, own) = (room - widths.Sum(), widths.Where((_, i) => Gives(i)).Sum());
        return left > 0 && own > 0 ? [.. widths.Select((w, i) => Gives(i) ? w + (left * w / own) : w)] : widths;
    }

    private bool Fits(double room) => measures.Count <= MostColumns && Needed(Enumerable.Range(0, measures.Count), lastStep) <= room;

    private double Needed(IEnumerable<int> columns, int step) => columns.Sum(c => Least(c, step));

    private double Preferred(IEnumerable<int> columns, int step) => columns.Sum(c => Preferred(c, step));

    /// <summary>The columns of each panel: all of them if they fit; else as many as fit beside the stub.</summary>
    private List<int[]> Panels(double room)
    {
        int[] all = [.. Enumerable.Range(0, measures.Count)];
        if (Fits(room)) return [all];
        var stub = all[..table.StubColumns];
        var rest = all[table.StubColumns..];
        var panels = new List<int[]>();
        // A panel is set at the usual size, unless one column alone would not fit then.
        var step = Enumerable.Range(0, lastStep + 1).FirstOrDefault(s => rest.All(c => Preferred(stub, s) + Least(c, s) <= room), -1);
        if (step < 0)
        {
            var wide = rest.Where(c => Needed(stub, lastStep) + Least(c, lastStep) > room).DefaultIfEmpty(0);
            Warn($"{Title} is too wide for its page: {string.Join(", ", wide.Take(5).Select(Name))} hold{(wide.Count() == 1 ? "s" : "")} words or numbers that cannot be broken", "shorten them, or give the column a width of its own");
            step = lastStep;
        }
        var panel = new List<int>();
        foreach (var column in rest)
        {
            if (panel.Count > 0 && (Preferred(stub, step) + Preferred(panel, step) + Preferred(column, step) > room || stub.Length + panel.Count == MostColumns)) Flush();
            panel.Add(column);
        }
        Flush();
        if (panels.Count > 1)
            Warn($"{Title} has {measures.Count} columns, too many for its page: it goes on below itself in {panels.Count} parts, from {string.Join(", ", panels.Skip(1).Take(3).Select(p => Name(p[stub.Length])))}{(panels.Count > 4 ? ", …" : "")}", "drop columns, or shorten their heads, to keep it in one");
        return panels;

        void Flush()
        {
            panels.Add([.. stub, .. panel]);
            panel.Clear();
        }
    }

    private string Name(int column) => table.Heads.Length > column && table.Heads[column].Length > 0 ? $"`{table.Heads[column]}`" : $"column {column + 1}";

    private string Title => table.Title.Length > 0 ? $"the table \"{table.Title}\"" : "the table";

    private void Warn(string message, string suggestion) => Diagnostics.Add(Diagnostic.Warning(table.Place, message, suggestion));

    private TableGeometry Geometry(int[] columns, Length available)
    {
        var room = available.Points;
        var steps = Enumerable.Range(0, lastStep + 1);
        var step = steps.FirstOrDefault(s => Preferred(columns, s) <= room, -1);
        var keepsNames = step >= 0;
        if (step < 0) step = steps.FirstOrDefault(s => Needed(columns, s) <= room, lastStep);
        var least = columns.Select(c => keepsNames ? Preferred(c, step) : Least(c, step)).ToArray();
        return Geometry(columns, Widths(columns, step, room, least), step, available);
    }

    /// <summary>The geometry of some columns, or of all of them.</summary>
    private TableGeometry Geometry(int[]? columns, double[] widths, int step, Length available)
    {
        var twips = Round(table.FillsWidth ? Filled(widths, columns, available.Points) : widths, available.Twips);
        var meetings = ImmutableArray.CreateBuilder<NumberMeeting?>(twips.Length);
        for (var i = 0; i < twips.Length; i++)
            meetings.Add(measures.Meeting(columns?[i] ?? i, (twips[i] / 20.0) - measures.CellMargins, sizes[step]));
        var isWhole = twips.Length == measures.Count && table.Rows.Count - table.HeaderRows <= MostRows;
        return new TableGeometry([.. twips], meetings.MoveToImmutable(), step, !isWhole || step > 0 || measures.Wraps(twips), measures.CellMargins);
    }

    private double[] Widths(int[] columns, int step, double room, double[] least)
    {
        var natural = columns.Select(c => Math.Min(room, Natural(c, step))).ToArray();
        var shares = columns.Select(c => table.Columns[c].Width is ColumnWidth.ShareWidth share ? share.Weight : 0).ToArray();
        var hasShares = shares.Any(s => s > 0);
        if (least.Sum() > room) return [.. least.Select(w => w * room / least.Sum())];
        // Columns with shares give way first: they take what is left, but never less than they need.
        var wanted = natural.Select((w, i) => shares[i] > 0 ? least[i] : w).ToArray();
        if (wanted.Sum() > room) return Wrap(wanted, least, room);
        if (hasShares) return Share(wanted, least, shares, room);
        return Eased(wanted, columns, step, room);
    }

    /// <summary>Columns that fit keep their width; the others share what is left in proportion to what they lack.</summary>
    private static double[] Wrap(double[] natural, double[] least, double room)
    {
        var spare = room - least.Sum();
        var lacking = natural.Zip(least, (n, l) => n - l).ToArray();
        var total = lacking.Sum();
        return total <= 0 ? least : [.. least.Select((l, c) => l + (spare * lacking[c] / total))];
    }

    private static double[] Share(double[] wanted, double[] least, double[] shares, double room)
    {
        var widths = wanted.ToArray();
        var open = Enumerable.Range(0, widths.Length).Where(c => shares[c] > 0).ToList();
        while (true)
        {
            var left = room - Enumerable.Range(0, widths.Length).Except(open).Sum(c => widths[c]);
            var total = open.Sum(c => shares[c]);
            // A column that needs more than its share keeps what it needs, and the others share the rest.
            var tight = open.Where(c => left * shares[c] / total < least[c]).ToArray();
            if (tight.Length == 0 || tight.Length == open.Count)
            {
                foreach (var c in open) widths[c] = left * shares[c] / total;
                return widths;
            }
            foreach (var c in tight) open.Remove(c);
        }
    }

    private static int[] Round(double[] points, int available)
    {
        var twips = new int[points.Length];
        var over = -available;
        for (var c = 0; c < twips.Length; c++) over += twips[c] = (int)Math.Ceiling(points[c] * 20);
        for (var c = twips.Length - 1; over > 0 && c >= 0; c--)
        {
            var less = Math.Min(twips[c] - 1, over);
            twips[c] -= less;
            over -= less;
        }
        return twips;
    }

    private double Natural(int column, int step) => Width(column, step, measures.Natural);

    private double Least(int column, int step) => Width(column, step, measures.Least);

    private double Preferred(int column, int step) => Width(column, step, measures.Preferred);

    private double Width(int column, int step, Func<int, double> measure) =>
        table.Columns[column].Width is ColumnWidth.FixedWidth width ? width.Width.Points : (measure(column) * sizes[step]) + measures.CellMargins + Slack;

    /// <summary>The table with some of its columns only; what reaches over more becomes narrower.</summary>
    private GalleyTable Slice(int[] columns)
    {
        var kept = new bool[measures.Count];
        foreach (var c in columns) kept[c] = true;
        return table with
        {
            Columns = [.. columns.Select(c => table.Columns[c])],
            Rows = new GalleyRows(table.Rows.Count, i => SliceRow(table.Rows[i])),
            Heads = [.. columns.Select(c => table.Heads[c])],
        };

        GalleyRow SliceRow(GalleyRow row)
        {
            var cells = ImmutableArray.CreateBuilder<GalleyCell>();
            var place = 0;
            foreach (var cell in row.Cells)
            {
                var span = 0;
                for (var c = place; c < place + cell.ColumnSpan; c++)
                    if (kept[c]) span++;
                if (span > 0) cells.Add(span == cell.ColumnSpan ? cell : cell with { ColumnSpan = span });
                place += cell.ColumnSpan;
            }
            return row with { Cells = cells.DrainToImmutable() };
        }
    }
}
