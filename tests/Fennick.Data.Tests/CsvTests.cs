using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Data.Tests;

public sealed class CsvTests : IDisposable
{
    private readonly TestFolder folder = new();

    private enum Strain
    {
        Amber,
        Dusk,
    }

    private sealed record Hive(string Apiary, int Season, double? HoneyKg, bool Treated, Strain Strain, DateOnly? Seen = null, string? Remark = "none");

    private sealed class Settable
    {
        public string Apiary { get; set; } = "";

        public int Season { get; set; } = 7;
    }

    public void Dispose() => folder.Dispose();

    [Fact]
    public void Columns_fill_members_of_that_name()
    {
        var path = folder.Write("hives.csv", "season,apiary,honey_kg,Treated,strain,seen,unused\n2025,\"Alder, \"\"Bank\"\"\",24.5,yes,Dusk,2025-04-01,x\n2024,Müller's Croft,NA,0,amber,,\n");
        Assert.Equal(
            [new Hive("Alder, \"Bank\"", 2025, 24.5, true, Strain.Dusk, new DateOnly(2025, 4, 1)), new Hive("Müller's Croft", 2024, null, false, Strain.Amber)],
            Csv.Read<Hive>(path));
    }

    [Fact]
    public void Semicolons_and_settable_properties_work_too()
    {
        var read = Assert.Single(Csv.Read<Settable>(folder.Write("x.csv", "\uFEFFapiary;other\r\nReed Bank;1\r\n")));
        Assert.Equal(("Reed Bank", 7), (read.Apiary, read.Season));
    }

    [Theory]
    [InlineData("apiary,season,honey,treated,strain\nA,1,2,yes,Dusk\n", ":1:1: error: there is no column for `HoneyKg`")]
    [InlineData("apiary,season,honey_kg,HoneyKg,treated,strain\n", ":1:1: error: more than one column fits `HoneyKg`: `honey_kg`, `HoneyKg`; rename one of them")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1,2,yes,Dusk\nB,x,2,yes,Dusk\n", ":3:2: error: `x` in column `season` is no whole number")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,,2,yes,Dusk\n", ":2:2: error: an empty cell in column `season`; make `Season` nullable (`int?`) if values may be missing")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1,\"2,5\",yes,Dusk\n", ":2:3: error: `2,5` in column `honey_kg` is no number")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1,2,perhaps,Dusk\n", ":2:4: error: `perhaps` in column `treated` is no yes or no")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1,2,yes,Dark\n", ":2:5: error: `Dark` in column `strain` is no Strain (Amber, Dusk)")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1\n", ":2:3: error: line has 2 cells")]
    public void A_wrong_file_is_told_by_line_and_column(string text, string expected)
    {
        var path = folder.Write("hives.csv", text);
        Assert.StartsWith(path + expected, Assert.Throws<ReportException>(() => Csv.Read<Hive>(path)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_missing_file_names_the_nearest()
    {
        folder.Write("hives.csv", "");
        Assert.Contains($"did you mean `{folder.File("hives.csv")}`?", Assert.Throws<ReportException>(() => Csv.Read<Hive>(folder.File("hive.csv"))).Message, StringComparison.Ordinal);
        Assert.Contains("there is no folder", Assert.Throws<ReportException>(() => Csv.Read<Hive>(folder.File("no/hive.csv"))).Message, StringComparison.Ordinal);
    }
}
