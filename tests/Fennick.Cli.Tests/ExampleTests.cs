using System.Globalization;
using System.IO.Compression;
using System.Text.RegularExpressions;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

public sealed class ExampleTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void The_demo_writes_its_reports_and_prints_their_paths()
    {
        var result = FennickCommand.Run(folder.Path, "demo");
        Assert.True(result.ExitCode == 0, result.Errors);
        Assert.Equal($"{folder.File("fennick-demo/annual.docx")}\n{folder.File("fennick-demo/apiary.docx")}\n{folder.File("fennick-demo/figures.docx")}\n{folder.File("fennick-demo/harvest.docx")}\n{folder.File("fennick-demo/tables.docx")}\n{folder.File("fennick-demo/valleys.docx")}\n", result.Output);
        Assert.Matches(@"written in [\d.]+ m?s", result.Errors);
        var docx = WordClean.Check(folder.File("fennick-demo/harvest.docx"));
        Assert.Equal(["Table\u00A01. Honey per hive by strain, season 2025", "Table\u00A02. Honey per hive by valley in the last three seasons (kg)"], docx.ParagraphsOf("Caption"));
        Assert.Equal(["Figure\u00A01. Honey per hive by valley, season 2025"], docx.ParagraphsOf("FigureCaption"));
        Assert.Contains("In 2025 the survey weighed the honey of 584 hives in 47 apiaries.", docx.AllText, StringComparison.Ordinal);
        Assert.True(File.Exists(folder.File("fennick-demo/data/hives.csv")));
        var annex = WordClean.Check(folder.File("fennick-demo/tables.docx"));
        Assert.Equal(27, annex.ParagraphsOf("Caption").Count);
        Assert.Equal(["TableBanded", "TableBare", "TableBoxed", "TableLined", "TableOpen"], annex.Body.Descendants(Docx.W + "tblStyle").Select(s => (string)s.Attribute(Docx.W + "val")!).Distinct().Order());
        var valleys = WordClean.Check(folder.File("fennick-demo/valleys.docx"));
        Assert.Equal(["The valleys at a glance", "Fernhollow", "Bramble Down", "Eskerdale", "Alderwick", "Coldbrook", "Dunmarsh"], valleys.ParagraphsOf("Heading1"));
        Assert.Equal(6, valleys.ParagraphsOf("ListNumber").Count);
        Assert.Contains("Three of the six valleys, Fernhollow, Bramble Down and Eskerdale, lie above the mean of 24.5\u00A0kg.", valleys.AllText, StringComparison.Ordinal);
        Assert.Single(valleys.ParagraphsOf("Quote"));
        Assert.Single(annex.Body.Descendants(Docx.W + "pgSz"), p => (string?)p.Attribute(Docx.W + "orient") == "landscape");
        var gallery = WordClean.Check(folder.File("fennick-demo/figures.docx"));
        Assert.Equal(27, gallery.ParagraphsOf("FigureCaption").Count);
        Assert.Equal(19, gallery.Names.Count(n => n.StartsWith("word/charts/chart", StringComparison.Ordinal)));
        Golden.Check("examples.txt", Directory.GetFiles(folder.File("fennick-demo"), "*.docx").Order(StringComparer.Ordinal).SelectMany(PartsOf));
    }

    /// <summary>A line for each part of a document: its length and a sum of its bytes.</summary>
    private static IEnumerable<string> PartsOf(string path)
    {
        using var package = ZipFile.OpenRead(path);
        // The pixels of a picture made of a drawing are those of the fonts of the machine.
        foreach (var part in package.Entries.Where(e => !(Path.GetFileName(path) == "figures.docx" && e.FullName.EndsWith(".png", StringComparison.Ordinal)))) yield return $"{Path.GetFileName(path)} {part.FullName} {part.Length} {part.Crc32:x8}";
    }

    [Fact]
    public void The_annual_report_shows_what_the_format_has()
    {
        var written = FennickCommand.Run(folder.Path, "write", Repository.PathOf("examples", "survey", "annual.ms.md"), "--out", "annual.docx");
        Assert.True(written.ExitCode == 0, written.Errors);
        Assert.DoesNotContain("warning", written.Errors, StringComparison.Ordinal);
        Assert.DoesNotContain("advice", written.Errors, StringComparison.Ordinal);
        var docx = WordClean.Check(folder.File("annual.docx"), inForeignHouse: true);
        var contents = docx.ParagraphsOf("TOC1");
        Assert.Equal(["1\tThe year in short", "2\tHow the survey works", "3\tThe harvest", "4\tThe valleys", "5\tWhat makes honey", "6\tMites and the winter", "7\tWhat follows", "8\tFor the curious", "A\tAll apiaries", "B\tCounts and measures", "C\tThe form", "Sources"],
            contents.Select(c => c[..c.LastIndexOf('\t')]));
        Assert.True(int.Parse(docx.Xml("docProps/app.xml").Root!.Elements().First(e => e.Name.LocalName == "Pages").Value, CultureInfo.InvariantCulture) >= 25);
        Assert.Equal(9, docx.ParagraphsOf("Heading2").Count);
        Assert.Equal(8, docx.Notes.Count);
        Assert.Equal(3, docx.ParagraphsOf("Bibliography").Count);
        Assert.Equal("The year of the hives 2025", docx.ParagraphsOf("Title").Single());
        string[] lists = [.. docx.ParagraphsOf("TableofFigures").Select(p => p.Replace('\u00A0', ' '))];
        Assert.Contains(lists, l => l.StartsWith("Table A.1. The apiaries of the survey, season 2025\t", StringComparison.Ordinal));
        Assert.Contains(lists, l => l.StartsWith("Figure 6.2. Mites and survival as the model of Table 6.2 has them\t", StringComparison.Ordinal));
        Assert.Equal(2, lists.Count(l => l.StartsWith("Box ", StringComparison.Ordinal)));
        Assert.Contains(docx.ParagraphsOf("Index1"), t => t.StartsWith("Fernhollow, ", StringComparison.Ordinal));
        Assert.Contains("Tables\u00A03.1, 3.2, 5.1 and 6.2 hold most numbers, and Equation\u00A0(5.1) is the curve behind them.", docx.AllText, StringComparison.Ordinal);
        var saved = WordProcessor.Resave(folder.File("annual.docx"));
        Assert.Equal(8, saved.Notes.Count);
        Assert.Equal(docx.ParagraphsOf("Heading1"), saved.ParagraphsOf("Heading1"));
    }

    [Fact]
    public void Both_ways_in_give_the_same_body_and_the_same_inputs_the_same_bytes()
    {
        var manuscript = Repository.PathOf("examples", "survey", "harvest.ms.md");
        Assert.Equal(0, FennickCommand.Run(folder.Path, "write", manuscript, "--out", "one.docx").ExitCode);
        Assert.Equal(0, FennickCommand.Run(folder.Path, "write", manuscript, "--out", "two.docx").ExitCode);
        Assert.Equal(File.ReadAllBytes(folder.File("one.docx")), File.ReadAllBytes(folder.File("two.docx")));

        var library = Command.Run("dotnet", ["run", Repository.PathOf("examples", "library", "harvest.cs"), "--", folder.File("library.docx")]);
        Assert.True(library.ExitCode == 0, library.Output + library.Errors);
        Assert.Equal(WordClean.Check(folder.File("one.docx")).Bytes("word/document.xml"), WordClean.Check(folder.File("library.docx")).Bytes("word/document.xml"));
    }

    [Fact]
    public void Another_word_processor_opens_the_example_and_keeps_its_text()
    {
        var path = folder.File("harvest.docx");
        Assert.Equal(0, FennickCommand.Run(folder.Path, "write", Repository.PathOf("examples", "survey", "harvest.ms.md"), "--out", path).ExitCode);
        var written = Docx.Open(path);
        var saved = WordProcessor.Resave(path);
        Assert.Equal(written.AllText, saved.AllText);
        Assert.Equal(written.Tables.Count, saved.Tables.Count);
        Assert.Equal(written.Tables[0], saved.Tables[0]);
        Assert.Equal(Instructions(written), Instructions(saved));
        Assert.Contains(saved.Names, n => Regex.IsMatch(n, @"^word/charts/chart\d+\.xml$"));
        Assert.Equal(2, saved.Body.Descendants(Docx.W + "tblHeader").Count());

        static IEnumerable<string> Instructions(Docx docx) =>
            docx.Body.Descendants(Docx.W + "instrText").Select(i => Regex.Match(i.Value, @"^\s*(\w+\s+\w+)").Groups[1].Value).Order();
    }

    [Fact]
    public void The_generator_makes_the_committed_data()
    {
        var copy = folder.Write("generate.cs", File.ReadAllText(Repository.PathOf("examples", "survey", "generate.cs")));
        var result = Command.Run("dotnet", ["run", copy]);
        Assert.True(result.ExitCode == 0, result.Output + result.Errors);
        foreach (var file in (string[])["hives.csv", "apiaries.csv"])
            Assert.Equal(File.ReadAllText(Repository.PathOf("examples", "survey", "data", file)), File.ReadAllText(folder.File($"data/{file}")));
    }

    [Fact]
    public void The_readmes_manuscript_and_script_run_and_agree()
    {
        var readme = File.ReadAllText(Repository.PathOf("README.md"));
        var manuscript = Regex.Match(readme, "^````markdown\n(.*?)^````\n", RegexOptions.Multiline | RegexOptions.Singleline).Groups[1].Value;
        Directory.CreateDirectory(folder.File("data"));
        File.Copy(Repository.PathOf("examples", "survey", "data", "hives.csv"), folder.File("data/hives.csv"));
        folder.Write("strains.ms.md", manuscript);
        var written = FennickCommand.Run(folder.Path, "write", "strains.ms.md");
        Assert.True(written.ExitCode == 0, written.Errors);

        var script = Regex.Match(readme, "^```csharp\n(#:project.*?)^```\n", RegexOptions.Multiline | RegexOptions.Singleline).Groups[1].Value;
        Assert.NotEmpty(script);
        folder.Write("strains.cs", script.Replace("#:project src/", $"#:project {Repository.Root}/src/", StringComparison.Ordinal).Replace("strains.docx", "script.docx", StringComparison.Ordinal));
        var run = Command.Run("dotnet", ["run", "strains.cs"], folder.Path);
        Assert.True(run.ExitCode == 0, run.Output + run.Errors);
        Assert.Equal(WordClean.Check(folder.File("strains.docx")).Bytes("word/document.xml"), WordClean.Check(folder.File("script.docx")).Bytes("word/document.xml"));
    }

    [Theory]
    [InlineData("batches.md")]
    [InlineData("charts.md")]
    [InlineData("data.md")]
    [InlineData("library.md")]
    [InlineData("statistics.md")]
    [InlineData("tables.md")]
    public void A_page_of_code_runs_and_prints_what_it_shows(string name)
    {
        SlowSet.Enter();
        var page = File.ReadAllText(Repository.PathOf("docs", name));
        string All(string info) => string.Concat(Regex.Matches(page, $"^```{info}\n(.*?)^```\n", RegexOptions.Multiline | RegexOptions.Singleline).Select(m => m.Groups[1].Value));
        SurveyCopy.Make(folder);
        var projects = string.Concat((name == "batches.md" ? [.. Core, "Fennick.Manuscripts", "Fennick.Batches"] : name == "statistics.md" ? [.. Core, "Fennick.Data.Frames"] : name == "charts.md" ? [.. Core, "Fennick.Plots"] : name == "data.md" ? [.. Core, "Fennick.Data.DuckDb", "Fennick.Data.Labelled", "Fennick.Data.Parquet", "Fennick.Data.Postgres", "Fennick.Data.Sheets", "Fennick.Data.Sqlite"] : Core).Select(p => $"#:project {Repository.PathOf("src", p)}\n"));
        folder.Write("page.cs", projects + All("csharp"));
        var run = Command.Run("dotnet", ["run", "page.cs"], folder.Path);
        Assert.True(run.ExitCode == 0, run.Output + run.Errors);
        Assert.Equal(All("text"), run.Output);
        foreach (var document in Directory.GetFiles(folder.Path, "*.docx")) WordClean.Check(document);
        if (name == "batches.md") Assert.Equal(15, new[] { "coldbrook", "reports" }.Sum(f => Directory.GetFiles(folder.File(f), "*.docx", SearchOption.AllDirectories).Length));
        // The pictures beside the calls are what the calls make.
        var pictures = Regex.Matches(page, @"\]\((charts/[a-z-]+\.svg)\)").Select(m => m.Groups[1].Value).ToArray();
        Assert.Equal(name == "charts.md" ? 20 : 0, pictures.Length);
        foreach (var picture in pictures) Assert.Equal(File.ReadAllText(folder.File(picture)), File.ReadAllText(Repository.PathOf("docs", picture)));
        if (name == "library.md") Assert.Equal("Tables\u00A01–3 show the same; The second is number 2.", Docx.Open(folder.File("references.docx")).Paragraphs[1]);
    }

    [Fact]
    public void The_commands_of_the_page_on_batches_run_in_their_order()
    {
        SurveyCopy.Make(folder);
        var commands = Regex.Matches(File.ReadAllText(Repository.PathOf("docs", "batches.md")), "^```sh\n(.*?)^```\n", RegexOptions.Multiline | RegexOptions.Singleline).SelectMany(m => m.Groups[1].Value.TrimEnd().Split('\n')).ToArray();
        Assert.Equal(6, commands.Length);
        foreach (var command in commands)
        {
            var result = FennickCommand.Run(folder.Path, [.. Regex.Matches(command, "\"([^\"]*)\"|\\S+").Skip(1).Select(m => m.Groups[1].Success ? m.Groups[1].Value : m.Value)]);
            Assert.True(result.ExitCode == 0, command + result.Errors);
        }
        Assert.Equal(48, Directory.GetFiles(folder.File("reports"), "*.docx", SearchOption.AllDirectories).Length);
        Assert.Equal(48, Directory.GetFiles(folder.File("part-1"), "*.docx", SearchOption.AllDirectories).Length);
        Assert.Equal(48, Directory.GetFiles(folder.File("pages"), "*.html", SearchOption.AllDirectories).Length);
        Assert.Equal(["Alderwick", "Bramble Down"], WordClean.Check(folder.File("all.docx"), inForeignHouse: true).ParagraphsOf("Heading1"));
    }

    private static readonly string[] Core = ["Fennick.Statistics", "Fennick", "Fennick.Data"];
}
