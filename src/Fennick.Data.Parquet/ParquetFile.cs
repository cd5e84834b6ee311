using Fennick.Data.Parquets;
using Fennick.Data.Reading;
using Fennick.Diagnostics;

namespace Fennick.Data;

/// <summary>Reads Parquet files.</summary>
public static class ParquetFile
{
    /// <summary>Reads the rows into records, by the names of the columns as <see cref="Csv.Read{T}(string, string?)"/> does. Only the columns that have a member are read. Null is a missing value and needs a member that may be null.</summary>
    /// <typeparam name="T">A record, or a class with settable properties.</typeparam>
    /// <param name="path">The file.</param>
    /// <exception cref="ReportException">There is no such file, it is no Parquet, a column is missing or holds lists, or cells have the wrong form: column and row are named.</exception>
    public static IReadOnlyList<T> Read<T>(string path) => ParquetRows.Read(path, rows => rows.Records<T>());

    /// <summary>Reads the rows as columns for statistics and overviews: numbers as they are, texts, dates and yes/no as factors.</summary>
    /// <param name="path">The file.</param>
    /// <exception cref="ReportException">There is no such file, or it is no Parquet.</exception>
    public static Columns Columns(string path) => ColumnReader.Read(pick => ParquetRows.Read(path, pick), []);
}
