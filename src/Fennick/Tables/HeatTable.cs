using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;

namespace Fennick.Tables;

/// <summary>Numbers of two groupings as a table whose cells are shaded the deeper, the greater their number: a chart that can be read to the last digit.</summary>
/// <example><c>HeatTable.Of(means, m => m.Valley, m => m.Season, m => m.Honey).Format("0.0").Heads("Valley", "Season")</c></example>
public sealed record HeatTable : ITableSource
{
    private readonly ImmutableArray<object?> rows;
    private readonly ImmutableArray<object?> columns;
    private readonly ImmutableDictionary<(object Row, object Column), double> values;
    private string? format;
    private string rowHead = "";
    private string columnHead = "";
    private (double Low, double High)? scale;

    private HeatTable(ImmutableArray<object?> rows, ImmutableArray<object?> columns, ImmutableDictionary<(object, object), double> values) => (this.rows, this.columns, this.values) = (rows, columns, values);

    /// <summary>A heat table of records, in the order in which rows and columns appear.</summary>
    /// <param name="records">One record a cell.</param>
    /// <param name="row">The row that it stands in.</param>
    /// <param name="column">The column.</param>
    /// <param name="value">Its number; null leaves the cell empty.</param>
    /// <exception cref="ReportException">There are no records, or two for one cell.</exception>
    public static HeatTable Of<T>(IEnumerable<T> records, Func<T, object?> row, Func<T, object?> column, Func<T, double?> value)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(row);
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(value);
        var all = records.Select(r => (Row: row(r), Column: column(r), Value: value(r))).ToArray();
        if (all.Length == 0) throw new ReportException(Diagnostic.Error(null, "the heat table has no data", "check the records it is made from"));
        var cells = ImmutableDictionary.CreateBuilder<(object, object), double>();
        var seen = new HashSet<(object, object)>();
        foreach (var (r, c, v) in all)
        {
            if (!seen.Add((r ?? "", c ?? ""))) throw new ReportException(Diagnostic.Error(null, $"the heat table has two values for {r} and {c}", "take their sum or mean first"));
            if (v is { } number && double.IsFinite(number)) cells.Add((r ?? "", c ?? ""), number);
        }
        return new HeatTable([.. all.Select(a => a.Row).Distinct()], [.. all.Select(a => a.Column).Distinct()], cells.ToImmutable());
    }

    /// <summary>With its numbers in a format.</summary>
    public HeatTable Format(string numbers) => this with { format = numbers };

    /// <summary>With a head over the names of the rows, and one over all columns.</summary>
    /// <param name="ofRows">What the rows are.</param>
    /// <param name="ofColumns">What the columns are; no head over them if empty.</param>
    public HeatTable Heads(string ofRows, string ofColumns = "") => this with { rowHead = ofRows, columnHead = ofColumns };

    /// <summary>With the paper at one number and the full shade at another, so that several tables can be compared.</summary>
    /// <exception cref="ReportException">The numbers are equal.</exception>
    public HeatTable Scale(double paper, double full) => paper != full ? this with { scale = (paper, full) }
        : throw new ReportException(Diagnostic.Error(null, $"a scale cannot run from {paper} to {full}", "give two different numbers"));

    /// <inheritdoc/>
    public Table ToTable()
    {
        var (low, high) = scale ?? (values.IsEmpty ? (0, 1) : (values.Values.Min(), values.Values.Max()));
        double? ShadeOf(double value) => high == low ? null : Math.Clamp((value - low) / (high - low), 0, 1);
        var heads = new TableRow([rowHead, .. columns.Select(c => TableCell.Of(c))]);
        return new Table
        {
            Columns = [new TableColumn(Alignment.Left), .. columns.Select(_ => new TableColumn(Alignment.Decimal))],
            HeaderRows = columnHead.Length == 0 ? [heads] : [new TableRow([TableCell.Empty, new TableCell(RichText.Plain(columnHead)) { ColumnSpan = columns.Length, Alignment = Alignment.Centre, RuleBelow = true }]), heads],
            Rows = [.. rows.Select(r => new TableRow([TableCell.Of(r), .. columns.Select(c => values.TryGetValue((r ?? "", c ?? ""), out var value) ? TableCell.Of(value, format) with { Shade = ShadeOf(value) } : TableCell.Empty)]))],
        };
    }
}
