using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>A table that is built from records, a column at a time.</summary>
/// <typeparam name="T">The type of a record.</typeparam>
public sealed record RecordTable<T> : ITableSource
{
    private readonly ImmutableArray<T> records;
    private ImmutableArray<Field> fields = [];
    private Func<T, object?>? group;
    private string? total;

    internal RecordTable(ImmutableArray<T> records) => this.records = records;

    /// <summary>The same table with one more column at the right.</summary>
    /// <param name="head">The words above it.</param>
    /// <param name="value">A record's value in it: null shows as an em dash; a <see cref="TableCell"/>, an inline or a small chart stands as it is.</param>
    /// <param name="format">A .NET format; without one all numbers of the column get the same sensible decimals.</param>
    /// <param name="alignment">Where its cells stand; without one numbers stand right and all else left.</param>
    /// <param name="total">What stands in the row that <see cref="Total"/> asks for.</param>
    /// <exception cref="ReportException">The format does not fit a value.</exception>
    public RecordTable<T> Column(string head, Func<T, object?> value, string? format = null, Alignment? alignment = null, Func<IReadOnlyList<T>, object?>? total = null)
    {
        ArgumentNullException.ThrowIfNull(value);
        return this with { fields = fields.Add(Field.Of(head, [.. records.Select(value)], format, alignment, total?.Invoke(records))) };
    }

    /// <summary>The same table with a heading over the records of each group, in the order in which the groups appear.</summary>
    public RecordTable<T> GroupBy(Func<T, object?> group)
    {
        ArgumentNullException.ThrowIfNull(group);
        return this with { group = group };
    }

    /// <summary>The same table with a last row for the totals of its columns.</summary>
    /// <param name="words">What the row is called.</param>
    public RecordTable<T> Total(string words) => this with { total = words };

    /// <inheritdoc/>
    public Table ToTable()
    {
        if (fields.IsEmpty) throw new ReportException(Diagnostic.Error(null, "the table has no columns", "name them with `.Column(\"head\", record => value)`"));
        var rows = Enumerable.Range(0, records.Length);
        IEnumerable<TableRow> body = group is null ? rows.Select(i => Row(i, 0))
            : rows.GroupBy(i => group(records[i])).SelectMany(g => g.Select(i => Row(i, 1)).Prepend(TableRow.Heading(TableCell.Of(g.Key), fields.Length)));
        if (total is not null) body = body.Append(new TableRow([.. fields.Select((f, c) => c == 0 ? (TableCell)total : f.Total is null ? TableCell.Empty : f.Cell(f.Total))]) { Kind = RowKind.Total });
        return new Table
        {
            Columns = [.. fields.Select(f => new TableColumn(f.Alignment))],
            HeaderRows = [new TableRow([.. fields.Select(f => (TableCell)f.Head)])],
            Rows = [.. body],
        };
    }

    /// <summary>The table as aligned plain text, for the terminal.</summary>
    public override string ToString() => ToTable().ToString();

    private TableRow Row(int index, int level) => new([.. fields.Select(f => f.Cell(f.Values[index]))]) { Level = level };

    private sealed record Field(string Head, object?[] Values, string? Format, Alignment Alignment, object? Total)
    {
        public static Field Of(string head, object?[] values, string? format, Alignment? alignment, object? total)
        {
            var present = values.Append(total).Where(v => v is not (null or DBNull or TableCell or RichText or Inline)).ToArray();
            try
            {
                ValueFormatter.Check(present, format);
            }
            catch (ValueFormatException problem)
            {
                throw new ReportException(Diagnostic.Error(null, $"column `{head}`: {problem.Message}", problem.Suggestion));
            }
            var numeric = present.Length > 0 && present.All(ValueFormatter.IsNumber);
            return new Field(head, values, format ?? (numeric ? ValueFormatter.ColumnFormat(present) : null), alignment ?? (numeric || values.Any(v => v is SmallChart { Mark: SmallMark.Bar }) ? Alignment.Right : Alignment.Left), total);
        }

        public TableCell Cell(object? value) => TableCell.Of(value is DBNull ? null : value, Format);
    }
}
