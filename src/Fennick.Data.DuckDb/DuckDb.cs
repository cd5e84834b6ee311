using DuckDB.NET.Data;
using Fennick.Data.Reading;
using Fennick.Diagnostics;

namespace Fennick.Data;

/// <summary>Asks DuckDB: a database of its own, or files by SQL.</summary>
public static class DuckDb
{
    /// <summary>Reads the rows of a query into records, by the names of its columns as <see cref="Csv.Read{T}(string, string?)"/> does; a query of one column into values. The file counts as an input of the report.</summary>
    /// <typeparam name="T">A record, a class with settable properties, or a number, text or date where the query has one column.</typeparam>
    /// <param name="path">The database; it is opened for reading only, unless the query may change data.</param>
    /// <param name="sql">The query, its values in braces.</param>
    /// <param name="mayChange">Whether the query may do more than read.</param>
    /// <exception cref="ReportException">There is no such file, it is no database or another program holds it; the query is refused or does more than read; a column is missing, or cells have the wrong form: column and row are named.</exception>
    public static IReadOnlyList<T> Read<T>(string path, SqlText sql, bool mayChange = false) => Open(path, mayChange, connection => Query.Run(connection, sql, mayChange, path, rows => rows.Records<T>()));

    /// <summary>Reads the rows of a query as columns for statistics and overviews: numbers as they are, texts, dates and yes/no as factors.</summary>
    /// <param name="path">The database.</param>
    /// <param name="sql">The query.</param>
    /// <param name="mayChange">Whether the query may do more than read.</param>
    /// <exception cref="ReportException">As for records; or two columns have one name.</exception>
    public static Columns Columns(string path, SqlText sql, bool mayChange = false) => Open(path, mayChange, connection => Query.Columns(connection, sql, mayChange, path));

    /// <summary>Asks files by SQL without a database: each name in the query stands for a file of character-separated data, Parquet or JSON. The files count as inputs of the report.</summary>
    /// <typeparam name="T">A record, a class with settable properties, or a number, text or date where the query has one column.</typeparam>
    /// <param name="sql">The query, in which the tables are called as <paramref name="tables"/> names them.</param>
    /// <param name="tables">The files by the names that the query calls them by.</param>
    /// <exception cref="ReportException">There is no such file, or the query is refused or does more than read; a column is missing, or cells have the wrong form: column and row are named.</exception>
    /// <example><code>var means = DuckDb.Read&lt;ValleyMean&gt;($"select valley, avg(honey_kg) as honey from hives group by valley", ("hives", "data/hives.parquet"));</code></example>
    public static IReadOnlyList<T> Read<T>(SqlText sql, params (string Name, string File)[] tables)
    {
        ArgumentNullException.ThrowIfNull(tables);
        using var connection = new DuckDBConnection("DataSource=:memory:");
        connection.Open();
        foreach (var (name, file) in tables) DataFiles.Read(file, full => View(connection, name, file, full));
        return Query.Run(connection, sql, false, string.Join(", ", tables.Select(t => t.File)), rows => rows.Records<T>());
    }

    private static bool View(DuckDBConnection connection, string name, string file, string full)
    {
        using var command = connection.CreateCommand();
        var reader = Path.GetExtension(full).ToLowerInvariant() switch { ".parquet" => "read_parquet", ".json" or ".jsonl" or ".ndjson" => "read_json_auto", _ => "read_csv_auto" };
        command.CommandText = $"create view \"{name.Replace("\"", "\"\"", StringComparison.Ordinal)}\" as select * from {reader}('{full.Replace("'", "''", StringComparison.Ordinal)}')";
        try
        {
            command.ExecuteNonQuery();
            return true;
        }
        catch (DuckDBException problem)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(file, 0, 0), $"the file cannot be read: {QueryRows.Reason(problem)}")], problem);
        }
    }

    private static T Open<T>(string path, bool mayChange, Func<DuckDBConnection, T> read) => DataFiles.Read(path, full =>
    {
        using var connection = new DuckDBConnection($"DataSource={full};ACCESS_MODE={(mayChange ? "READ_WRITE" : "READ_ONLY")}");
        return read(connection);
    });
}
