using System.Diagnostics;
using CsvHelper;
using DuckDB.NET.Data;
using Fennick.Data;
using Parquet.Serialization;

namespace Fennick.Bench;

/// <summary>Reading data into records against the packages' own typed readers of the same rows. Rounds are interleaved, and the quickest of each compared.</summary>
internal static class DataBenchmark
{
    private const int Rows = 1_000_000;
    private const int Rounds = 5;

    public static int Run()
    {
        var folder = Directory.CreateTempSubdirectory("fennick-bench-").FullName;
        try
        {
            var (csv, parquet, duck) = (Path.Combine(folder, "rows.csv"), Path.Combine(folder, "rows.parquet"), Path.Combine(folder, "rows.duckdb"));
            using (var connection = new DuckDBConnection($"DataSource={duck}"))
            {
                connection.Open();
                foreach (var sql in (string[])[$"create table hives as select 2021 + i % 5 as season, 'valley ' || (i % 6) as valley, 'apiary ' || (i % 48) as apiary, i::bigint as number, i % 3 = 0 as treated, (i % 997) / 8.0::double as a, (i % 991) / 4.0::double as b, (i * 7919 % 100003) / 16.0::double as c, case when i % 20 = 0 then null else (i % 401) / 10.0::double end as d, i % 12 as e, (i * 31 % 1000) / 3.0::double as f, sqrt(i)::double as g from range({Rows}) t(i)", $"copy hives to '{csv}' (header)", $"copy hives to '{parquet}'"])
                {
                    using var command = connection.CreateCommand();
                    command.CommandText = sql;
                    command.ExecuteNonQuery();
                }
            }
            Compare("CSV", "the CSV package's own typed reader", 1.5, () => Csv.Read<Row>(csv).Count, () =>
            {
                using var reader = CsvReader.FromFile(csv);
                return reader.GetRecords<OwnRow>().ToList().Count;
            });
            Compare("Parquet", "the Parquet package's own typed reader", 1.3, () => ParquetFile.Read<Row>(parquet).Count, () => ParquetSerializer.DeserializeAsync<PlainRow>(parquet).GetAwaiter().GetResult().Data.Count);
            Compare("DuckDB", "a loop over its own typed reader", 1.3, () => DuckDb.Read<Row>(duck, $"select * from hives").Count, () =>
            {
                using var connection = new DuckDBConnection($"DataSource={duck};ACCESS_MODE=READ_ONLY");
                connection.Open();
                using var command = connection.CreateCommand();
                command.CommandText = "select * from hives";
                using var reader = command.ExecuteReader();
                var rows = new List<Row>();
                while (reader.Read())
                    rows.Add(new Row((int)reader.GetInt64(0), reader.GetString(1), reader.GetString(2), reader.GetInt64(3), reader.GetBoolean(4), reader.GetDouble(5), reader.GetDouble(6), reader.GetDouble(7), reader.IsDBNull(8) ? null : reader.GetDouble(8), (int)reader.GetInt64(9), reader.GetDouble(10), reader.GetDouble(11)));
                return rows.Count;
            });
            return 0;
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static void Compare(string kind, string other, double target, Func<int> ours, Func<int> theirs)
    {
        var (a, b) = (new List<double>(), new List<double>());
        for (var round = 0; round < Rounds; round++)
        {
            a.Add(Time(ours));
            b.Add(Time(theirs));
        }
        Console.WriteLine($"{kind}, {Rows:N0} rows of 12 columns into records: {a.Min():0} ms; {other} {b.Min():0} ms: {a.Min() / b.Min():0.00} times (target: at most {target})");
    }

    private static double Time(Func<int> read)
    {
        GC.Collect();
        var watch = Stopwatch.StartNew();
        if (read() != Rows) throw new InvalidOperationException("rows are missing");
        return watch.Elapsed.TotalMilliseconds;
    }
}

internal sealed record Row(int Season, string Valley, string Apiary, long Number, bool Treated, double A, double B, double C, double? D, int E, double F, double G);

[CsvRecord]
internal sealed partial record OwnRow(
    [property: CsvColumn("season")] int Season, [property: CsvColumn("valley")] string Valley, [property: CsvColumn("apiary")] string Apiary, [property: CsvColumn("number")] long Number, [property: CsvColumn("treated")] bool Treated,
    [property: CsvColumn("a")] double A, [property: CsvColumn("b")] double B, [property: CsvColumn("c")] double C, [property: CsvColumn("d")] double? D, [property: CsvColumn("e")] int E, [property: CsvColumn("f")] double F, [property: CsvColumn("g")] double G);

internal sealed class PlainRow
{
    public long? season { get; set; }

    public string? valley { get; set; }

    public string? apiary { get; set; }

    public long? number { get; set; }

    public bool? treated { get; set; }

    public double? a { get; set; }

    public double? b { get; set; }

    public double? c { get; set; }

    public double? d { get; set; }

    public long? e { get; set; }

    public double? f { get; set; }

    public double? g { get; set; }
}
