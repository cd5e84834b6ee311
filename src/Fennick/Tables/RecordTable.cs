using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>A table that is built from records, a column at a time.</summary>
/// <typeparam name="T">The type of a record.</typeparam>
public sealed class RecordTable<T> : ITableSource
{
    private readonly ImmutableArray<T> records;
    private readonly ImmutableArray<Field> fields;

    internal RecordTable(ImmutableArray<T> records, ImmutableArray<Field> fields)
    {
        this.records = records;
        this.fields = fields;
    }

    /// <summary>The same table with one more column at the right.</summary>
    /// <param name="head">The words above it.</param>
    /// <param name="value">A record's value in it; null shows as an em dash.</param>
    /// <param name="format">A .NET format; without one all numbers of the column get the same sensible decimals.</param>
    /// <param name="alignment">Where its cells stand; without one numbers stand right and all else left.</param>
    /// <exception cref="ReportException">The format does not fit a value.</exception>
    public RecordTable<T> Column(string head, Func<T, object?> value, string? format = null, Alignment? alignment = null)
    {
        ArgumentNullException.ThrowIfNull(value);
        var values = records.Select(value).ToArray();
        var present = values.Where(v => v is not null).ToArray();
        try
        {
            foreach (var v in present) _ = ValueFormatter.Format(v, format, Language.Default);
        }
        catch (ValueFormatException problem)
        {
            throw new ReportException(Diagnostic.Error(null, $"column `{head}`: {problem.Message}", problem.Suggestion));
        }
        var numeric = present.Length > 0 && present.All(ValueFormatter.IsNumber);
        var field = new Field(
            head,
            values,
            format ?? (numeric ? ValueFormatter.ColumnFormat(present) : null),
            alignment ?? (numeric ? Alignment.Right : Alignment.Left));
        return new RecordTable<T>(records, fields.Add(field));
    }

    /// <inheritdoc/>
    public Table ToTable() => fields.IsEmpty
        ? throw new ReportException(Diagnostic.Error(null, "the table has no columns", "name them with `.Column(\"head\", record => value)`"))
        : new()
        {
            Columns = [.. fields.Select(f => new TableColumn(f.Alignment))],
            HeaderRows = [new TableRow([.. fields.Select(f => new TableCell(f.Head))])],
            Rows = [.. Enumerable.Range(0, records.Length).Select(Row)],
        };

    /// <summary>The table as aligned plain text, for the terminal.</summary>
    public override string ToString() => ToTable().ToString();

    private TableRow Row(int index) =>
        new([.. fields.Select(f => new TableCell(new RichText([new ValueInline(f.Values[index], f.Values[index] is null ? null : f.Format)])))]);

    internal sealed record Field(string Head, object?[] Values, string? Format, Alignment Alignment);
}
