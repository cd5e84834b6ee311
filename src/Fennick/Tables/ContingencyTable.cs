using Fennick.Documents;
using Fennick.Statistics;
using Fennick.Statistics.Summaries;

namespace Fennick.Tables;

/// <summary>Which shares stand beside the counts of a contingency table.</summary>
public enum Shares
{
    /// <summary>None.</summary>
    None,

    /// <summary>Of the row.</summary>
    Row,

    /// <summary>Of the column.</summary>
    Column,

    /// <summary>Of all.</summary>
    Cell,
}

/// <summary>How often the levels of two variables occur together, with the χ² test in the note.</summary>
/// <example><c>ContingencyTable.Of(hives, "Strain", h => h.Strain, "Wintered", h => h.Survived ? "alive" : "lost")</c></example>
public sealed record ContingencyTable : ResultTable<ContingencyTable>
{
    private readonly string rowName;
    private readonly string columnName;
    private readonly CrossTabulation counts;
    private Shares shares = Tables.Shares.Row;

    private ContingencyTable(string rowName, string columnName, CrossTabulation counts)
    {
        this.rowName = rowName;
        this.columnName = columnName;
        this.counts = counts;
    }

    /// <summary>The table of two variables of records.</summary>
    /// <param name="records">The records; those that lack either variable are left out.</param>
    /// <param name="rowName">What the first variable is called.</param>
    /// <param name="row">The first variable.</param>
    /// <param name="columnName">What the second variable is called.</param>
    /// <param name="column">The second variable.</param>
    /// <exception cref="AnalysisException">No record has both.</exception>
    public static ContingencyTable Of<T>(IEnumerable<T> records, string rowName, Func<T, object?> row, string columnName, Func<T, object?> column) =>
        new(rowName, columnName, CrossTabulation.Of(records, row, column));

    /// <summary>With other shares beside the counts; those of the rows otherwise.</summary>
    public ContingencyTable Shares(Shares shown) => this with { shares = shown };

    /// <inheritdoc/>
    public override Table ToTable()
    {
        var (rows, columns) = (counts.Rows, counts.Columns);
        var width = shares == Tables.Shares.None ? 1 : 2;
        TableCell[] Pair(int count, double share) => width == 1 ? [Number(count, "#,0")] : [Number(count, "#,0"), Number(share, "P1")];
        double ShareOf(int r, int c) => shares switch { Tables.Shares.Column => counts.ColumnShare(r, c), Tables.Shares.Cell => counts.CellShare(r, c), _ => counts.RowShare(r, c) };
        var body = rows.Select((level, r) => new TableRow([Names.Level(rowName, level, rows), .. columns.SelectMany((_, c) => Pair(counts[r, c], ShareOf(r, c))),
            .. Pair(counts.RowTotal(r), shares == Tables.Shares.Row ? 1 : counts.RowTotal(r) / (double)counts.Total)]));
        var total = new TableRow([Names.Word("All"), .. columns.SelectMany((_, c) => Pair(counts.ColumnTotal(c), shares == Tables.Shares.Column ? 1 : counts.ColumnTotal(c) / (double)counts.Total)), .. Pair(counts.Total, 1)]) { Kind = RowKind.Total };
        var heads = columns.Select(l => Names.Level(columnName, l, columns)).Append(Names.Word("All"));
        var table = new Table
        {
            Columns = [new(Alignment.Left), .. Enumerable.Repeat(new TableColumn(Alignment.Right), (columns.Length + 1) * width)],
            HeaderRows = [new TableRow([Text(Names.Name(rowName)), .. heads.Select(h => Text(h, Alignment.Right) with { ColumnSpan = width })])],
            Rows = [.. body, total],
        }.SpanOver(Names.Name(columnName), 1, columns.Length * width);
        return Finish(table, [.. ShareNote(), .. Test(), .. counts.Missing == 0 ? [] : new[] { counts.Missing == 1 ? Sentence($"1 row that lacks either is left out.") : Sentence($"{counts.Missing} rows that lack either are left out.") }],
            rows.Select(l => $"{rowName}={l}").Concat(columns.Select(l => $"{columnName}={l}")).Concat([rowName, columnName, "All"]));
    }

    private IEnumerable<RichText> ShareNote() => shares switch
    {
        Tables.Shares.Row => [Sentence($"Counts and shares of the row.")],
        Tables.Shares.Column => [Sentence($"Counts and shares of the column.")],
        Tables.Shares.Cell => [Sentence($"Counts and shares of all.")],
        _ => [],
    };

    private IEnumerable<RichText> Test()
    {
        if (counts.Rows.Length < 2 || counts.Columns.Length < 2) yield break;
        var test = counts.ChiSquaredTest();
        RichText statistic = new([new ValueInline(test.Statistic, "0.00")]), p = new([new ValueInline(test.PValue, "p-value")]);
        yield return test.DegreesOfFreedom == 1 ? Sentence($"χ² = {statistic} with 1 degree of freedom, p\u00A0{p}.") : Sentence($"χ² = {statistic} with {test.DegreesOfFreedom} degrees of freedom, p\u00A0{p}.");
        var small = counts.Rows.SelectMany((_, r) => counts.Columns.Select((_, c) => counts.Expected(r, c))).Count(e => e < 5);
        if (small > 0) yield return Sentence($"{small} of {counts.Rows.Length * counts.Columns.Length} cells are expected below 5, where χ² is rough.");
    }
}
