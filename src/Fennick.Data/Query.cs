using System.Data.Common;
using Fennick.Data.Reading;
using Fennick.Diagnostics;

namespace Fennick.Data;

/// <summary>Asks a database, of whatever kind, that .NET has a connection for. What it gives is not known as an input of a report; a batch takes it for changed.</summary>
public static class Query
{
    // What analysts ask takes its time.
    private const int SecondsToWait = 1800;

    /// <summary>Reads the rows of a query into records, by the names of its columns as <see cref="Csv.Read{T}(string, string?)"/> does; a query of one column into values, such as <c>Query.Read&lt;string&gt;</c>.</summary>
    /// <typeparam name="T">A record, a class with settable properties, or a number, text or date where the query has one column.</typeparam>
    /// <param name="connection">The database; it is opened if it is not, and then closed again.</param>
    /// <param name="sql">The query, its values in braces: <c>$"select * from hives where valley = {valley}"</c>.</param>
    /// <param name="mayChange">Whether it may do more than read.</param>
    /// <exception cref="ReportException">The database cannot be reached, refuses the query or stops; the query does more than read; a column is missing, or cells have the wrong form: column and row are named.</exception>
    public static IReadOnlyList<T> Read<T>(DbConnection connection, SqlText sql, bool mayChange = false) => Run(connection, sql, mayChange, NameOf(connection), rows => rows.Records<T>());

    /// <summary>Reads the rows of a query as columns for statistics and overviews: numbers as they are, texts, dates and yes/no as factors.</summary>
    /// <param name="connection">The database; it is opened if it is not, and then closed again.</param>
    /// <param name="sql">The query.</param>
    /// <param name="mayChange">Whether it may do more than read.</param>
    /// <exception cref="ReportException">As for records; or two columns have one name.</exception>
    public static Columns Columns(DbConnection connection, SqlText sql, bool mayChange = false) => Columns(connection, sql, mayChange, NameOf(connection));

    internal static Columns Columns(DbConnection connection, SqlText sql, bool mayChange, string name, int wait = SecondsToWait) => ColumnReader.Read(pick => Run(connection, sql, mayChange, name, pick, wait), []);

    /// <summary>Runs a query and reads its rows.</summary>
    /// <param name="connection">The database.</param>
    /// <param name="sql">The query.</param>
    /// <param name="mayChange">Whether it may do more than read.</param>
    /// <param name="name">What messages call the database.</param>
    /// <param name="read">Reads the rows.</param>
    /// <param name="wait">How many seconds it may take.</param>
    internal static TResult Run<TResult>(DbConnection connection, SqlText sql, bool mayChange, string name, Func<RowSource, TResult> read, int wait = SecondsToWait)
    {
        ArgumentNullException.ThrowIfNull(connection);
        ArgumentNullException.ThrowIfNull(sql);
        var isOpened = connection.State != System.Data.ConnectionState.Open;
        try
        {
            using var command = Try("cannot be opened", connection.CreateCommand);
            sql.Fill(command, mayChange);
            if (isOpened) Try("cannot be opened", () => Open(connection));
            command.CommandTimeout = wait;
            using var reader = Try("refuses the query", command.ExecuteReader);
            using var rows = new QueryRows(reader, name);
            return read(rows);
        }
        finally
        {
            if (isOpened && connection.State == System.Data.ConnectionState.Open) connection.Close();
        }

        TValue Try<TValue>(string what, Func<TValue> call)
        {
            try
            {
                return call();
            }
            catch (Exception problem) when (problem is DbException or InvalidOperationException or IOException or System.Net.Sockets.SocketException or TimeoutException or ArgumentException)
            {
                throw new ReportException([Diagnostic.Error(new SourcePlace(name, -1, 0), $"the database {what}: {QueryRows.Reason(problem)}", Advice(problem))], problem);
            }
        }
    }

    private static bool Open(DbConnection connection)
    {
        connection.Open();
        return true;
    }

    private static string? Advice(Exception problem) => problem.Message.Contains("is locked", StringComparison.OrdinalIgnoreCase) || problem.Message.Contains("Conflicting lock", StringComparison.OrdinalIgnoreCase)
        ? "another program is writing to it; close that, or read a copy of the file" : null;

    private static string NameOf(DbConnection connection)
    {
        ArgumentNullException.ThrowIfNull(connection);
        return string.IsNullOrEmpty(connection.DataSource) ? "the query" : connection.Database.Length > 0 && connection.Database != "main" ? $"{connection.DataSource}/{connection.Database}" : connection.DataSource;
    }
}
