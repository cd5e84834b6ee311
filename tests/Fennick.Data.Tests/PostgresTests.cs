using Fennick.Diagnostics;
using Fennick.Statistics.Variables;
using Fennick.Testing;
using Npgsql;
using Xunit;

namespace Fennick.Data.Tests;

/// <summary>A real server, which is asked, refuses, and goes away.</summary>
public sealed class PostgresTests
{
    private sealed record Hive(string Apiary, int Season, double? HoneyKg, decimal Price, bool Treated, DateOnly? Seen, DateTime Entered);

    private static string Wrong(Action read) => Assert.Throws<ReportException>(read).Message;

    [Fact]
    public void A_server_is_asked_with_parameters_only_for_reading_and_its_end_is_told()
    {
        using var server = PostgresServer.Start();
        using (var connection = new NpgsqlConnection(server.Connection))
        {
            connection.Open();
            using var command = new NpgsqlCommand("create table hives (apiary text, season int, honey_kg real, price numeric(8,3), treated bool, seen date, entered timestamp); insert into hives values ('O''Hara''s', 2025, 24.5, 0.125, true, '2025-04-01', '2025-05-01 08:30'), ('Elm', 2024, null, 1, false, null, '2025-05-02'); create function add_hive() returns int language sql as $$ insert into hives values ('x', 1, 1, 1, true, null, now()) returning 1 $$", connection);
            command.ExecuteNonQuery();
        }
        var at = server.Connection;
        Hive[] expected = [new("O'Hara's", 2025, 24.5, 0.125m, true, new DateOnly(2025, 4, 1), new DateTime(2025, 5, 1, 8, 30, 0)), new("Elm", 2024, null, 1, false, null, new DateTime(2025, 5, 2))];
        Assert.Equal(expected, Postgres.Read<Hive>(at, $"select * from hives order by season desc"));
        var name = "O'Hara's";
        Assert.Equal(expected[..1], Postgres.Read<Hive>(at, $"select * from hives where apiary = {name} and seen > {new DateOnly(2025, 1, 1)} and season in {new[] { 2024, 2025 }}"));
        Assert.Equal([24.5, double.NaN], Assert.IsType<NumericVariable>(Postgres.Columns(at, $"select honey_kg from hives order by season desc").Column("honey_kg")).Values);

        Assert.Contains("the query does more than read data: `delete`", Wrong(() => Postgres.Read<int>(at, $"with gone as (delete from hives returning 1) select * from gone")), StringComparison.Ordinal);
        // What words do not show, the server itself refuses.
        Assert.Contains("cannot execute INSERT in a read-only transaction", Wrong(() => Postgres.Read<int>(at, $"select add_hive()")), StringComparison.Ordinal);
        Assert.Equal([1], Postgres.Read<int>(at, $"select add_hive()", mayChange: true));
        Assert.Equal([3L], Postgres.Read<long>(at, $"select count(*) from hives"));

        Assert.Contains("127.0.0.1/postgres: error: the database refuses the query: 42703: column \"honey\" does not exist", Wrong(() => Postgres.Read<double>(at, $"select honey from hives")), StringComparison.Ordinal);
        Assert.Equal("127.0.0.1/postgres, row 2: error: an empty cell in column `honey_kg`; make `HoneyKg` nullable (`double?`) if values may be missing", Wrong(() => Postgres.Read<Strict>(at, $"select honey_kg from hives where season > 1 order by season desc")));
        Assert.DoesNotContain("secret", Wrong(() => Postgres.Read<int>("Host=127.0.0.1;Passwort=secret", $"select 1")), StringComparison.Ordinal);

        // In the middle of the rows the server goes away.
        var stopped = Wrong(() => Query.Run(new NpgsqlConnection(at), $"select i, repeat('x', 1000) from generate_series(1, 1000000) as i", false, "the server", rows =>
        {
            for (var i = 0; i < 10; i++) rows.Read();
            server.Kill();
            while (rows.Read())
            {
            }
            return 0;
        }));
        Assert.Matches("the server: error: the database stopped after [0-9,]+ rows: ", stopped);
        Assert.Contains("127.0.0.1/postgres: error: the database cannot be opened: ", Wrong(() => Postgres.Read<int>(at, $"select 1")), StringComparison.Ordinal);
    }

    private sealed record Strict(double HoneyKg);
}
