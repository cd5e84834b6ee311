using DuckDB.NET.Data;
using Fennick.Diagnostics;
using Fennick.Statistics.Variables;
using Fennick.Testing;
using Microsoft.Data.Sqlite;
using Xunit;

namespace Fennick.Data.Tests;

/// <summary>Queries of databases that are files, and of any connection.</summary>
public sealed class DatabaseTests : IDisposable
{
    private readonly TestFolder folder = new();

    private enum Strain
    {
        Amber,
        Dusk,
    }

    private sealed record Hive(string Apiary, int Season, double? HoneyKg, bool Treated, Strain Strain, DateOnly? Seen);

    private static readonly Hive[] Hives = [new("Alder Bank", 2025, 24.5, true, Strain.Dusk, new DateOnly(2025, 4, 1)), new("O'Hara's", 2024, null, false, Strain.Amber, null), new("Reed/Moor", 2025, 7, true, Strain.Amber, new DateOnly(2024, 2, 29))];

    private static readonly string[] Make =
    [
        "create table hives (apiary text, season integer, honey_kg double precision, treated boolean, strain text, seen date)",
        "insert into hives values ('Alder Bank', 2025, 24.5, true, 'Dusk', '2025-04-01'), ('O''Hara''s', 2024, null, false, 'Amber', null), ('Reed/Moor', 2025, 7, true, 'Amber', '2024-02-29')",
    ];

    public void Dispose() => folder.Dispose();

    private static string Wrong(Action read) => Assert.Throws<ReportException>(read).Message;

    private string MakeSqlite()
    {
        var path = folder.File("survey.db");
        using var connection = new SqliteConnection($"Data Source={path};Pooling=False");
        Do(connection, Make);
        return path;
    }

    private string MakeDuck()
    {
        var path = folder.File("survey.duckdb");
        using var connection = new DuckDBConnection($"DataSource={path}");
        Do(connection, Make);
        return path;
    }

    private static void Do(System.Data.Common.DbConnection connection, params string[] statements)
    {
        connection.Open();
        foreach (var statement in statements)
        {
            using var command = connection.CreateCommand();
            command.CommandText = statement;
            command.ExecuteNonQuery();
        }
    }

    // The same of both kinds.
    private IEnumerable<(string Path, Func<SqlText, bool, IReadOnlyList<Hive>> Read, Func<SqlText, IReadOnlyList<string>> Names, Func<SqlText, Columns> Columns)> Kinds()
    {
        var (sqlite, duck) = (MakeSqlite(), MakeDuck());
        yield return (sqlite, (q, change) => Sqlite.Read<Hive>(sqlite, q, change), q => Sqlite.Read<string>(sqlite, q), q => Sqlite.Columns(sqlite, q));
        yield return (duck, (q, change) => DuckDb.Read<Hive>(duck, q, change), q => DuckDb.Read<string>(duck, q), q => DuckDb.Columns(duck, q));
    }

    [Fact]
    public void A_query_fills_records_and_its_values_are_parameters()
    {
        foreach (var (_, read, names, columns) in Kinds())
        {
            Assert.Equal(Hives, read($"select * from hives order by apiary", false));
            var apiary = "O'Hara's";
            int[] seasons = [2024, 2025];
            Assert.Equal([Hives[1]], read($"select * from hives where apiary = {apiary} and season in {seasons}", false));
            Assert.Empty(read($"select * from hives where season in {Array.Empty<int>()}", false));
            Assert.Empty(read($"select * from hives where apiary = {"x' or 'a' = 'a"}", false));
            Assert.Equal([Hives[0]], read($"select * from hives where strain = {Strain.Dusk}", false));
            Assert.Equal(["Alder Bank", "O'Hara's", "Reed/Moor"], names($"select apiary from hives order by 1 -- delete\n"));
            Assert.Equal([24.5, double.NaN, 7], Assert.IsType<NumericVariable>(columns($"select honey_kg from hives order by apiary").Column("honey_kg")).Values);
            Assert.Equal(["Amber", "Dusk"], Assert.IsType<FactorVariable>(columns($"select strain from hives").Column("strain")).Levels);
            Assert.Equal([Hives[2]], read(SqlText.Read(folder.Write("q.sql", "select * from hives where apiary = $name and season > $after"), ("name", "Reed/Moor"), ("$after", 2000)), false));
        }
    }

    [Fact]
    public void What_is_wrong_is_told_by_column_and_row()
    {
        foreach (var (path, read, names, _) in Kinds())
        {
            Assert.Equal($"{path}, row 2: error: an empty cell in column `season`; make `Season` nullable (`int?`) if values may be missing", Wrong(() => read($"select apiary, nullif(season, 2024) as season, honey_kg, treated, strain, seen from hives order by apiary", false)));
            Assert.Contains("there is no column for `HoneyKg`", Wrong(() => read($"select apiary, season from hives", false)), StringComparison.Ordinal);
            Assert.Contains("there are 2 columns, and a `String` comes from one", Wrong(() => names($"select apiary, season from hives")), StringComparison.Ordinal);
            Assert.Contains($"{path}: error: the database refuses the query: ", Wrong(() => read($"select * from hive", false)), StringComparison.Ordinal);
        }
        var none = folder.File("none.db");
        Assert.Contains("there is no data file", Wrong(() => Sqlite.Read<Hive>(none, $"select 1")), StringComparison.Ordinal);
        Assert.False(File.Exists(none));
        folder.Write("none.db", "this is no database, although it has its name");
        Assert.Contains("the database refuses the query: ", Wrong(() => Sqlite.Read<Hive>(none, $"select 1")), StringComparison.Ordinal);
        Assert.Contains("the database cannot be opened: ", Wrong(() => DuckDb.Read<Hive>(none, $"select 1")), StringComparison.Ordinal);
    }

    [Fact]
    public void A_query_that_changes_data_is_refused_unless_that_is_said()
    {
        foreach (var (_, read, _, _) in Kinds())
        {
            foreach (var sql in (SqlText[])[$"delete from hives returning *", $"with gone as (select 1) insert into hives select * from hives", $"select 1; drop table hives", $"  /* look */ update hives set season = 1", $"select * into h2 from hives", $"pragma x; vacuum", $"create table x (y int)", $"attach 'x' as y"])
                Assert.Contains("the query does more than read data: `", Wrong(() => read(sql, false)), StringComparison.Ordinal);
            Assert.Equal(Hives, read($"select hives.*, 'delete; drop' as \"update\" from hives /* insert */ order by apiary;", false));
            Assert.Single(read($"delete from hives where season = 2024 returning *", true));
            Assert.Equal(2, read($"select * from hives", false).Count);
        }
        Assert.Contains("the query is empty", Wrong(() => Sqlite.Read<Hive>(MakeSqlite2(), $"")), StringComparison.Ordinal);
        Assert.Contains("the value `Dusk` stands in quotation marks", Wrong(() => Sqlite.Read<Hive>(folder.File("survey.db"), $"select * from hives where strain = '{Strain.Dusk}'")), StringComparison.Ordinal);
    }

    private string MakeSqlite2() => folder.File("survey.db");

    [Fact]
    public void A_database_that_another_program_holds_is_told()
    {
        var path = MakeSqlite();
        using var other = new SqliteConnection($"Data Source={path};Pooling=False");
        Do(other, "begin exclusive");
        Assert.Contains("is locked'; another program is writing to it; close that, or read a copy of the file", Wrong(() => Sqlite.Read<Hive>(path, $"select * from hives")), StringComparison.Ordinal);
    }

    [Fact]
    public void Files_are_asked_by_SQL()
    {
        var csv = folder.Write("it's.csv", "valley,honey\nA,1\nA,3\nB,5\n");
        Assert.Equal([2, 5], DuckDb.Read<double>($"select avg(honey) from hives where honey < {10} group by valley order by valley", ("hives", csv)));
        Assert.Contains("there is no data file", Wrong(() => DuckDb.Read<double>($"select 1", ("hives", folder.File("no.csv")))), StringComparison.Ordinal);
    }

    [Fact]
    public void Any_connection_will_do()
    {
        using var connection = new SqliteConnection($"Data Source={MakeSqlite()};Pooling=False");
        Assert.Equal(3, Query.Read<Hive>(connection, $"select * from hives").Count);
        Assert.Equal(System.Data.ConnectionState.Closed, connection.State);
        connection.Open();
        Assert.Equal([2024, 2025], Query.Read<int>(connection, $"select distinct season from hives order by 1"));
        Assert.Equal(System.Data.ConnectionState.Open, connection.State);
        Assert.Equal(["apiary"], Query.Columns(connection, $"select apiary from hives").Names);
    }
}
