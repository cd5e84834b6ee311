using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Npgsql;

namespace Fennick.Data;

/// <summary>Asks PostgreSQL databases. What a server gives is not known as an input of a report; a batch takes it for changed.</summary>
public static class Postgres
{
    // For a server that does not answer.
    private const int SecondsToConnect = 15;

    /// <summary>Reads the rows of a query into records, by the names of its columns as <see cref="Csv.Read{T}(string, string?)"/> does; a query of one column into values. The query runs in a transaction that only reads, unless it may change data.</summary>
    /// <typeparam name="T">A record, a class with settable properties, or a number, text or date where the query has one column.</typeparam>
    /// <param name="connection">The server, such as <c>Host=db.example.org;Database=survey;Username=reader</c>. A password belongs into the file <c>~/.pgpass</c> or the variable <c>PGPASSWORD</c>, not into a manuscript.</param>
    /// <param name="sql">The query, its values in braces: <c>$"select * from hives where valley = {valley}"</c>.</param>
    /// <param name="mayChange">Whether the query may do more than read.</param>
    /// <exception cref="ReportException">The server cannot be reached, refuses the query or goes away; the query does more than read; a column is missing, or cells have the wrong form: column and row are named.</exception>
    public static IReadOnlyList<T> Read<T>(string connection, SqlText sql, bool mayChange = false) => Open(connection, sql, mayChange, rows => rows.Records<T>());

    /// <summary>Reads the rows of a query as columns for statistics and overviews: numbers as they are, texts, dates and yes/no as factors.</summary>
    /// <param name="connection">The server.</param>
    /// <param name="sql">The query.</param>
    /// <param name="mayChange">Whether the query may do more than read.</param>
    /// <exception cref="ReportException">As for records; or two columns have one name.</exception>
    public static Columns Columns(string connection, SqlText sql, bool mayChange = false) => ColumnReader.Read(pick => Open(connection, sql, mayChange, pick), []);

    private static T Open<T>(string text, SqlText sql, bool mayChange, Func<RowSource, T> read)
    {
        ArgumentNullException.ThrowIfNull(text);
        NpgsqlConnectionStringBuilder settings;
        try
        {
            settings = new NpgsqlConnectionStringBuilder(text) { Pooling = false };
        }
        catch (ArgumentException problem)
        {
            // What it says may hold the password.
            throw new ReportException([Diagnostic.Error(null, "the server's settings cannot be read", "write them as `Host=db.example.org;Database=survey;Username=reader`")], problem);
        }
        if (!settings.ContainsKey("Timeout")) settings.Timeout = SecondsToConnect;
        // So the server itself refuses what would change data.
        if (!mayChange) settings.Options = $"{settings.Options} -c default_transaction_read_only=on".Trim();
        using var connection = new NpgsqlConnection(settings.ConnectionString);
        return Query.Run(connection, sql, mayChange, $"{settings.Host}/{settings.Database}", read);
    }
}
