using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Data.Tests;

/// <summary>Looking at data, checking them, and reading folders of them.</summary>
public sealed class OverviewTests : IDisposable
{
    private readonly TestFolder folder = new();

    private sealed record Hive(string Apiary, double? HoneyKg, int Season = 0);

    public void Dispose() => folder.Dispose();

    [Fact]
    public void An_overview_shows_types_ranges_and_doubtful_cells()
    {
        var path = folder.Write("x.csv", "apiary,season,honey_kg,note\n" + string.Concat(Enumerable.Range(0, 20).Select(i => $"{(i == 3 ? "\" Alder\"" : i == 4 ? "alder" : i % 2 == 0 ? "Alder" : "Elm")},{2021 + (i % 5)},{(i == 7 ? "-99" : i == 9 ? "250.5" : i == 2 ? "" : $"{20 + (i % 4)}")},{(i == 5 ? "n/a" : i == 6 ? "-" : "fine")}\n")) + "Elm,2021,23,fine\nElm,2021,23,fine\n");
        Assert.Equal("""
            ────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────
            Variable  Type          Missing  Different  Values                     Doubtful
            ────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────
            Apiary    Text                0          4   Alder, Alder, Elm, alder  1 with spaces at an end; alike but for case or spaces: “Alder”, “ Alder”, “alder”
            Season    Whole number        0          5  2021 to 2025
            Honey kg  Number              1          6  −99 to 250.5               may mean missing: −99; 1 far from the rest: 250.5
            Note      Text                0          3  -, fine, n/a               may mean missing: “n/a”, “-”
            ────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────────
            22 rows. 2 rows are the same as others.
            """, string.Join('\n', Data.Overview(Csv.Columns(path)).ToString().Split('\n').Select(l => l.TrimEnd())).Trim());
        var report = new Report("Data").Add(Data.Overview(Csv.Read<Hive>(path)).Label("Apiary", "Place").ToTable());
        report.Save(folder.File("data.docx"));
        var text = WordClean.Check(folder.File("data.docx")).AllText;
        Assert.All((string[])["Place", "Whole number", "2021 to 2025", "may mean missing"], w => Assert.Contains(w, text, StringComparison.Ordinal));
    }

    [Fact]
    public void What_has_to_hold_is_checked_with_the_rows_named()
    {
        var path = folder.Write("x.csv", "apiary,honey_kg\nA,1\nB,-2\nC,\nD,-4\nE,-5\nF,-6\n");
        var read = Csv.Read<Hive>(path);
        Assert.Same(read, read.Require(h => h.Apiary != ""));
        Assert.Equal($"error: 4 of 6 records do not meet `h => h.HoneyKg is null or > 0`: {path}:3:1: Hive {{ Apiary = B, HoneyKg = -2, Season = 0 }}; {path}:5:1: Hive {{ Apiary = D, HoneyKg = -4, Season = 0 }}; {path}:6:1: Hive {{ Apiary = E, HoneyKg = -5, Season = 0 }}; …; put the data right, leave those records out with `Where`, or change the condition",
            Assert.Throws<ReportException>(() => read.Require(h => h.HoneyKg is null or > 0)).Message);
        Assert.StartsWith("error: 1 record does not meet `h => h.HoneyKg > 0`: record 2: ", Assert.Throws<ReportException>(() => read.Take(2).Require(h => h.HoneyKg > 0)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_files_of_a_folder_are_one_table()
    {
        foreach (var name in (string[])["h10", "h9", "other", ".h1", "~h2"]) folder.Write($"d/{name}.csv", $"apiary,honey_kg\n{name},1\n");
        Assert.Equal(["h9", "h10"], DataFolder.Read(folder.File("d/h*.csv"), f => Csv.Read<Hive>(f)).Select(h => h.Apiary));
        Assert.Equal(["h9.csv", "h10.csv", "other.csv"], DataFolder.Files(folder.File("d/*.csv")).Select(f => Path.GetFileName(f)));
        Assert.Contains("no file is like", Assert.Throws<ReportException>(() => DataFolder.Files(folder.File("d/*.xls"))).Message, StringComparison.Ordinal);
        Assert.Contains("there is no folder", Assert.Throws<ReportException>(() => DataFolder.Files(folder.File("e/*.csv"))).Message, StringComparison.Ordinal);
        Assert.Contains("is a folder; name a file in it", Assert.Throws<ReportException>(() => Csv.Read<Hive>(folder.File("d"))).Message, StringComparison.Ordinal);
    }
}
