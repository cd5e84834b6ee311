using System.Data.Common;
using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Data.Reading;

/// <summary>The rows that a query returns.</summary>
internal sealed class QueryRows : RowSource
{
    private readonly DbDataReader reader;
    private readonly string[] heads;
    private readonly ColumnType[] types;
    private int row;

    public QueryRows(DbDataReader reader, string name)
        : base(name)
    {
        this.reader = reader;
        // SQLite has a type for each cell, not for a column.
        var isTyped = reader.GetType().Name != "SqliteDataReader";
        types = [.. Enumerable.Range(0, reader.FieldCount).Select(c => isTyped ? TypeOf(reader.GetFieldType(c)) : ColumnType.Any)];
        heads = [.. Enumerable.Range(0, reader.FieldCount).Select(reader.GetName)];
    }

    private enum ColumnType
    {
        Any,
        Double,
        Long,
        Int,
        Text,
        Truth,
    }

    /// <inheritdoc/>
    public override IReadOnlyList<string> Heads => heads;

    /// <inheritdoc/>
    public override bool HasTypes => true;

    /// <inheritdoc/>
    public override SourcePlace HeadPlace => new(Name, -1, 0);

    /// <inheritdoc/>
    public override Cell this[int column]
    {
        get
        {
            if (reader.IsDBNull(column)) return Cell.Missing();
            return types[column] switch
            {
                ColumnType.Double => Cell.Real(reader.GetDouble(column)),
                ColumnType.Long => Cell.Integer(reader.GetInt64(column)),
                ColumnType.Int => Cell.Integer(reader.GetInt32(column)),
                ColumnType.Text => Cell.Text(reader.GetString(column)),
                ColumnType.Truth => Cell.Of(reader.GetBoolean(column)),
                _ => Cell.Of(reader.GetValue(column)),
            };
        }
    }

    /// <inheritdoc/>
    public override bool TryQuickNumber(int column, out double value)
    {
        var isQuick = types[column] == ColumnType.Double && !reader.IsDBNull(column);
        value = isQuick ? reader.GetDouble(column) : 0;
        return isQuick;
    }

    /// <inheritdoc/>
    public override bool TryQuickWhole(int column, out long value)
    {
        var isQuick = types[column] is ColumnType.Long or ColumnType.Int && !reader.IsDBNull(column);
        value = !isQuick ? 0 : types[column] == ColumnType.Long ? reader.GetInt64(column) : reader.GetInt32(column);
        return isQuick;
    }

    /// <inheritdoc/>
    public override string TextOf(int column) => types[column] == ColumnType.Text && !reader.IsDBNull(column) ? reader.GetString(column) : base.TextOf(column);

    /// <inheritdoc/>
    public override int RowNumber => row;

    /// <inheritdoc/>
    public override bool Read()
    {
        try
        {
            if (!reader.Read()) return false;
        }
        catch (Exception problem) when (problem is DbException or IOException or InvalidOperationException)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(Name, -1, 0), $"the database stopped after {row.ToString("N0", CultureInfo.InvariantCulture)} rows: {Reason(problem)}")], problem);
        }
        row++;
        return true;
    }

    /// <inheritdoc/>
    public override SourcePlace PlaceOf(int column) => new(NameOfRow(RowNumber), -1, 0);

    /// <summary>What a database says, in one line.</summary>
    public static string Reason(Exception problem) => string.Join("; ", problem.Message.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)).TrimEnd('.');

    private static ColumnType TypeOf(Type type) => type == typeof(double) ? ColumnType.Double : type == typeof(long) ? ColumnType.Long : type == typeof(int) ? ColumnType.Int
        : type == typeof(string) ? ColumnType.Text : type == typeof(bool) ? ColumnType.Truth : ColumnType.Any;
}
