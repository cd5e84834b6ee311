using System.Collections;
using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Fennick.Diagnostics;

namespace Fennick.Tables;

/// <summary>The rows of a table, immutable: dropped, put into another order or renamed by the words of their first cell.</summary>
[CollectionBuilder(typeof(TableRows), nameof(Create))]
public sealed class TableRows : IReadOnlyList<TableRow>
{
    private readonly ImmutableArray<TableRow> rows;

    private TableRows(ImmutableArray<TableRow> rows) => this.rows = rows;

    /// <summary>No rows.</summary>
    public static TableRows Empty { get; } = new([]);

    /// <inheritdoc/>
    public int Count => rows.Length;

    /// <inheritdoc/>
    public TableRow this[int index] => rows[index];

    /// <summary>The rows in the given order.</summary>
    public static TableRows Create(ReadOnlySpan<TableRow> rows) => new([.. rows]);

    /// <summary>These rows and one more at the end.</summary>
    public TableRows Add(TableRow row) => new(rows.Add(row));

    /// <summary>Without the rows of these names; a heading goes with all that stands under it, and rows without a name go with the named one above them.</summary>
    /// <exception cref="ReportException">There is no such row.</exception>
    public TableRows Drop(params string[] names) => new([.. Groups(names).Where(g => !names.Contains(g[0].Label)).SelectMany(g => g)]);

    /// <summary>Without the rows that meet a condition.</summary>
    public TableRows Drop(Func<TableRow, bool> where)
    {
        ArgumentNullException.ThrowIfNull(where);
        return new([.. rows.Where(r => !where(r))]);
    }

    /// <summary>With the rows of these names first, in this order; all others stay as they are, after them.</summary>
    /// <exception cref="ReportException">There is no such row.</exception>
    public TableRows Order(params string[] names)
    {
        var groups = Groups(names);
        return new([.. names.SelectMany(n => groups.Where(g => g[0].Label == n)).Concat(groups.Where(g => !names.Contains(g[0].Label))).SelectMany(g => g)]);
    }

    /// <summary>With other words in the first cell of a row.</summary>
    /// <exception cref="ReportException">There is no such row.</exception>
    public TableRows Relabel(string name, string words)
    {
        Check([name]);
        return new([.. rows.Select(r => r.Label == name ? r with { Cells = r.Cells.SetItem(0, r.Cells[0] with { Content = words }) } : r)]);
    }

    /// <inheritdoc/>
    public IEnumerator<TableRow> GetEnumerator() => ((IEnumerable<TableRow>)rows).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    internal TableRows Select(Func<TableRow, TableRow> change) => new([.. rows.Select(change)]);

    /// <summary>Each named row with the rows that belong to it: those without a name below it, and, if it is named as a whole, those under a heading.</summary>
    private List<List<TableRow>> Groups(string[] names)
    {
        Check(names);
        var groups = new List<List<TableRow>>();
        int? headingLevel = null;
        foreach (var row in rows)
        {
            var belongs = groups.Count > 0 && (row.Label.Length == 0 || (headingLevel is { } level && row.Level > level && row.Kind != RowKind.Total));
            if (belongs)
            {
                groups[^1].Add(row);
                continue;
            }
            groups.Add([row]);
            headingLevel = row.Kind == RowKind.Heading && names.Contains(row.Label) ? row.Level : null;
        }
        return groups;
    }

    private void Check(string[] names)
    {
        foreach (var name in names)
        {
            if (rows.Any(r => r.Label == name)) continue;
            var labels = rows.Select(r => r.Label).Where(l => l.Length > 0).Distinct().ToArray();
            throw new ReportException(Diagnostic.Error(null, $"the table has no row `{name}`", Nearest.Suggest(name, labels) ?? $"its rows are {string.Join(", ", labels.Take(20).Select(l => $"`{l}`"))}"));
        }
    }
}
