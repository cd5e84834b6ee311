using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>What manuscripts read without asking for a library.</summary>
public sealed class DataSourceTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void A_manuscript_reads_every_kind_of_data_that_is_small_and_tells_where_a_cell_is_wrong()
    {
        Directory.CreateDirectory(folder.File("data"));
        foreach (var file in Directory.GetFiles(Repository.PathOf("examples", "survey", "data"))) File.Copy(file, folder.File($"data/{Path.GetFileName(file)}"));
        var manuscript = folder.Write("data.ms.md", """
            # Data

            ```csharp prepare
            var hives = ParquetFile.Read<Hive>("data/hives.parquet").Require(h => h.HoneyKg is null or > 0);
            var places = Spreadsheet.Read<Place>("data/apiaries.xlsx", table: "Apiaries");
            var valley = "Coldbrook";
            var names = Sqlite.Read<string>("data/survey.db", $"select apiary from apiaries where valley = {valley} order by 1");
            var weather = Json.Read<Reading>("data/weather.json", at: "readings");
            var few = DataFolder.Read("data/apiaries.*", f => f.EndsWith(".csv") ? Csv.Read<Place>(f) : Spreadsheet.Read<Place>(f, range: "A3"));
            record Hive(int Season, string Strain, double? HoneyKg, bool Treated);
            record Place(string Apiary, int AltitudeM);
            record Reading(string Valley, double SpringMean);
            ```

            {hives.Count:#,0} hives, {places.Count} places, {names.Count} in {valley}, {weather.Count} readings, {few.Count} rows.

            ```csharp table overview
            caption: What the hives hold
            =>
            Data.Overview(hives)
            ```
            """);
        Manuscript.Open(manuscript).Write();
        var docx = WordClean.Check(folder.File("data.docx"));
        Assert.Contains("3,021 hives, 48 places, 8 in Coldbrook, 30 readings, 96 rows.", docx.AllText, StringComparison.Ordinal);
        Assert.Contains("2021 to 2025", docx.AllText, StringComparison.Ordinal);

        folder.Write("data.ms.md", File.ReadAllText(manuscript).Replace("record Place(string Apiary, int AltitudeM)", "record Place(string Apiary, DateOnly AltitudeM)", StringComparison.Ordinal));
        var problem = Assert.Throws<Diagnostics.ReportException>(() => Manuscript.Open(manuscript).Write());
        Assert.Contains("data/apiaries.xlsx, sheet Apiaries, cell D4: `212` in column `altitude_m` is not a date, and so are 47 cells more", problem.Message, StringComparison.Ordinal);
    }
}
