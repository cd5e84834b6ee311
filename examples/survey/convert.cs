// Makes the other forms of the survey's data from `data/hives.csv` and `data/apiaries.csv`: `dotnet run convert.cs` in this folder.
// The spreadsheet `data/apiaries.xlsx` is one that was made by hand: a title, and below it the table `Apiaries`.
#:property PublishAot=false
#:project ../../src/Fennick.Data.DuckDb/Fennick.Data.DuckDb.csproj
#:project ../../src/Fennick.Data.Sqlite/Fennick.Data.Sqlite.csproj
#:project ../../src/Fennick.Data/Fennick.Data.csproj
using System.Data.Common;
using System.Text.Json;
using DuckDB.NET.Data;
using Fennick.Data;
using Microsoft.Data.Sqlite;

var hives = Csv.Read<Hive>("data/hives.csv");

var weather = hives.Where(h => h.SpringTemp is not null).GroupBy(h => (h.Valley, h.Season))
    .Select(g => new { valley = g.Key.Valley, season = g.Key.Season, spring = new { mean = Math.Round(g.Average(h => h.SpringTemp!.Value), 2), days = g.Count() } });
File.WriteAllText("data/weather.json", JsonSerializer.Serialize(new { source = "Larkmere weather posts", readings = weather }, new JsonSerializerOptions { WriteIndented = true, IndentSize = 1 }) + "\n");

using (var duck = new DuckDBConnection("DataSource=:memory:"))
{
    Do(duck, "copy (select season::int as season, valley, apiary, hive::int as hive, strain, queen_age::int as queen_age, forage_ha, spring_temp, mites, treated, honey_kg, survived::int as survived from read_csv('data/hives.csv', nullstr = ['NA', ''])) to 'data/hives.parquet' (format parquet, compression zstd)");
}

File.Delete("data/survey.db");
using (var lite = new SqliteConnection("Data Source=data/survey.db;Pooling=False"))
{
    Do(lite, "create table apiaries (apiary text primary key, valley text, altitude_m integer, since integer); create table visits (apiary text, season integer, day text, honey_kg real); begin");
    foreach (var a in Csv.Read<Place>("data/apiaries.csv")) Do(lite, "insert into apiaries values (@a, @b, @c, @d)", a.Apiary, a.Valley, a.AltitudeM, a.Since);
    foreach (var v in hives.Where(h => h.HoneyKg is not null).GroupBy(h => (h.Apiary, h.Season)).OrderBy(g => g.Key.Apiary, StringComparer.Ordinal).ThenBy(g => g.Key.Season))
        Do(lite, "insert into visits values (@a, @b, @c, @d)", v.Key.Apiary, v.Key.Season, $"{v.Key.Season}-09-{1 + (v.Key.Apiary.Length % 28):00}", Math.Round(v.Sum(h => h.HoneyKg!.Value), 1));
    Do(lite, "commit");
    Do(lite, "vacuum");
}

static void Do(DbConnection connection, string sql, params object[] values)
{
    if (connection.State != System.Data.ConnectionState.Open) connection.Open();
    using var command = connection.CreateCommand();
    command.CommandText = sql;
    for (var i = 0; i < values.Length; i++)
    {
        var parameter = command.CreateParameter();
        (parameter.ParameterName, parameter.Value) = ($"@{(char)('a' + i)}", values[i]);
        command.Parameters.Add(parameter);
    }
    command.ExecuteNonQuery();
}

internal sealed record Hive(int Season, string Valley, string Apiary, double? SpringTemp, double? HoneyKg);

internal sealed record Place(string Apiary, string Valley, int AltitudeM, int Since);
