using System.Data.Common;
using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Data.Reading;

/// <summary>The rows that a query returns.</summary>
internal sealed class QueryRows : RowSource
{
    private readonly DbDataReader reader;
    private readonly string[] heads;
    private int row;

    public QueryRows(DbDataReader reader, string name)
        : base(name)
    {
        this.reader = reader;
        heads = [.. Enumerable.Range(0, reader.FieldCount).Select(reader.GetName)];
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
            var value = reader.GetValue(column);
            return value is double number ? Cell.Real(number) : value is long whole ? Cell.Integer(whole) : Cell.Of(value);
        }
    }

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
}
