using Fennick.Diagnostics;
using Fennick.Tables;

namespace Fennick.Data.Reading;

/// <summary>The table of what another program has written as CSV or JSON.</summary>
internal static class WrittenTable
{
    // How such programs name the columns of a table of coefficients; others are read by `Models.Read`.
    private static readonly string[] Errors = ["stderror", "statistic"];

    /// <summary>Coefficients become a regression table, all else a listing.</summary>
    /// <param name="name">What it is called in messages.</param>
    /// <param name="bytes">What was written.</param>
    /// <exception cref="ReportException">It is neither, or damaged.</exception>
    public static ITableSource Read(string name, byte[] bytes)
    {
        var isJson = bytes.AsSpan().TrimStart(" \t\r\n"u8) is [(byte)'[' or (byte)'{', ..];
        var heads = Open(rows => rows.Heads.Select(ColumnNames.Fold).ToArray());
        return heads.Contains("term") && heads.Contains("estimate") && heads.Intersect(Errors).Any()
            ? RegressionTable.Of(ModelRows.Read(Open(ModelRows.ReadCoefficients), name))
            : ListingTable.Of(ColumnReader.Read(pick => Open(pick), []));

        T Open<T>(Func<RowSource, T> read) => isJson ? JsonRows.Read(bytes, name, read) : CsvRows.Read(new MemoryStream(bytes), name, new CsvDialect(), read);
    }
}
