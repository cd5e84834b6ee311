using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Fennick.Running;
using Microsoft.Data.Sqlite;

namespace Fennick.Data;

/// <summary>Asks SQLite databases. The file counts as an input of the report.</summary>
public static class Sqlite
{
    // For another program to finish its writing.
    private const int SecondsToWait = 8;

    /// <summary>Reads the rows of a query into records, by the names of its columns as <see cref="Csv.Read{T}(string, string?)"/> does; a query of one column into values.</summary>
    /// <typeparam name="T">A record, a class with settable properties, or a number, text or date where the query has one column.</typeparam>
    /// <param name="path">The file; it is opened for reading only, unless the query may change data.</param>
    /// <param name="sql">The query, its values in braces: <c>$"select * from hives where valley = {valley}"</c>.</param>
    /// <param name="mayChange">Whether the query may do more than read.</param>
    /// <exception cref="ReportException">There is no such file, it is no database or another program holds it; the query is refused or does more than read; a column is missing, or cells have the wrong form: column and row are named.</exception>
    public static IReadOnlyList<T> Read<T>(string path, SqlText sql, bool mayChange = false) => Open(path, mayChange, connection => Query.Run(connection, sql, mayChange, path, rows => rows.Records<T>(), SecondsToWait));

    /// <summary>Reads the rows of a query as columns for statistics and overviews: numbers as they are, texts as factors.</summary>
    /// <param name="path">The file.</param>
    /// <param name="sql">The query.</param>
    /// <param name="mayChange">Whether the query may do more than read.</param>
    /// <exception cref="ReportException">As for records; or two columns have one name, or a column holds numbers and texts.</exception>
    public static Columns Columns(string path, SqlText sql, bool mayChange = false) => Open(path, mayChange, connection => Query.Columns(connection, sql, mayChange, path, SecondsToWait));

    private static T Open<T>(string path, bool mayChange, Func<SqliteConnection, T> read) => DataFiles.Read(path, full =>
    {
        // What is written and not yet moved into the file belongs to it.
        if (File.Exists(full + "-wal")) FilesRead.Note(full + "-wal");
        using var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = full, Mode = mayChange ? SqliteOpenMode.ReadWrite : SqliteOpenMode.ReadOnly, Pooling = false, DefaultTimeout = SecondsToWait }.ConnectionString);
        return read(connection);
    });
}
