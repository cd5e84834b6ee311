using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary><c>fennick new --from DATA</c>: a first manuscript about somebody's own data.</summary>
public sealed class NewFromDataTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Begin(string data)
    {
        var made = FennickCommand.Run(folder.Path, "new", "first", "--title", "Our_hives {2025}", "--author", "Ada Wren", "--from", data);
        Assert.True(made.ExitCode == 0, made.Errors);
        Assert.Equal(folder.File("first/report.ms.md") + "\n", made.Output);
        var written = FennickCommand.Run(folder.Path, "write", "first/report.ms.md");
        Assert.True(written.ExitCode == 0, written.Errors + File.ReadAllText(folder.File("first/report.ms.md")));
        Assert.DoesNotContain("warning", written.Errors, StringComparison.Ordinal);
        return WordClean.Check(folder.File("first/report.docx"));
    }

    [Fact]
    public void The_survey_gives_an_overview_sentences_with_values_and_charts()
    {
        File.Copy(Repository.PathOf("examples", "survey", "data", "hives.csv"), folder.File("hives.csv"));
        var docx = Begin("hives.csv");
        Assert.Equal(["What the data hold", "The numbers", "The groups"], docx.ParagraphsOf("Heading1"));
        Assert.Equal(["Forage ha", "Spring temp", "Honey kg", "Valley", "Strain", "Treated"], docx.ParagraphsOf("Heading2"));
        foreach (var expected in (string[])["Our_hives {2025}", "3,021 rows hold 12 variables", "The mean of 2,958 values is 24.44; half of them lie between", "and 63 are missing.", "The most frequent of 3 values is Amber, with 41% of the rows", "2021 to 2025"])
            Assert.Contains(expected, docx.AllText.Replace('\u00A0', ' ').Replace("\u202F", "", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.Equal(9, docx.Names.Count(n => n.StartsWith("word/charts/chart", StringComparison.Ordinal)));
        Assert.Equal(File.ReadAllBytes(folder.File("hives.csv")), File.ReadAllBytes(folder.File("first/data/hives.csv")));
    }

    [Fact]
    public void Names_that_are_no_names_of_members_and_odd_columns_are_no_hindrance()
    {
        var rows = string.Concat(Enumerable.Range(1, 40).Select(i => $"{i};{i * 1.5:0.0};{(i % 3 == 0 ? "" : "yes")};{2000000000L + i};;2025-01-{1 + (i % 28):00};{(i % 2 == 0 ? "a*b_c" : "{d} `e`")};{i % 4}\n".Replace('.', ',').Replace("2025-01", "2025-01", StringComparison.Ordinal)));
        folder.Write("odd.csv", "id;2024 $ per {hive};ok?;Big;Nothing at all;day;class;GetType\n" + rows);
        var docx = Begin("odd.csv");
        Assert.Contains("40 rows hold 8 variables", docx.AllText, StringComparison.Ordinal);
        Assert.Contains("a*b_c", docx.AllText, StringComparison.Ordinal);
    }

    [Fact]
    public void Other_kinds_of_files_begin_too()
    {
        Begin(Repository.PathOf("examples", "survey", "data", "hives.parquet"));
        Directory.Delete(folder.File("first"), recursive: true);
        Begin(folder.Write("w.json", "[{\"place\": {\"valley\": \"A\"}, \"kg\": 1.5}, {\"place\": {\"valley\": \"B\"}, \"kg\": 2.5}, {\"place\": {\"valley\": \"B\"}, \"kg\": 3.25}]"));
        Directory.Delete(folder.File("first"), recursive: true);
        foreach (var (part, kind) in new[] { ("Apiaries", "table"), ("A3:E51", "range") })
        {
            Begin(Repository.PathOf("examples", "survey", "data", "apiaries.xlsx") + "#" + part);
            Assert.Contains($"Read<Entry>(\"data/apiaries.xlsx\", {kind}: \"{part}\")", File.ReadAllText(folder.File("first/report.ms.md")), StringComparison.Ordinal);
            Directory.Delete(folder.File("first"), recursive: true);
        }
        Begin(Repository.PathOf("examples", "survey", "data", "answers.sav"));
        Assert.Contains("[Label(\"Keeps bees\")] string Keeps, string Valley, [Label(\"Number of hives\")] int Hives", File.ReadAllText(folder.File("first/report.ms.md")), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("no.csv", null, "there is no data file `no.csv`")]
    [InlineData("x.doc", "a", "files that end in `.doc` are not known")]
    [InlineData("x.csv", "a,b\n", "there are no rows in it")]
    [InlineData("x.csv", "a,b\n1,2,3\n", "x.csv:2:3: error: this row has 3 cells")]
    [InlineData("x.csv", "a b,a_b\n1,2\n", "the columns `a b` and `a_b` differ only in signs")]
    public void Data_that_cannot_be_read_make_no_folder(string file, string? text, string expected)
    {
        if (text is not null) folder.Write(file, text);
        var result = FennickCommand.Run(folder.Path, "new", "first", "--from", file);
        Assert.Equal(1, result.ExitCode);
        Assert.Contains(expected, result.Errors, StringComparison.Ordinal);
        Assert.False(Directory.Exists(folder.File("first")));
        Assert.Equal(2, FennickCommand.Run(folder.Path, "new", "first", "--from", file, "--kind", "unit").ExitCode);
    }
}
