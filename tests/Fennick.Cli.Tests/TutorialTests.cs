using System.Text.RegularExpressions;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>The pages that lead a reader step by step.</summary>
public sealed partial class TutorialTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void The_tutorial_works_as_it_stands()
    {
        Assert.True(RunPage.Do(File.ReadAllText(Repository.PathOf("docs", "tutorial.md")), folder) >= 9);
        foreach (var document in (string[])["first/report.docx", "bees/report.docx", "bees/apiary.docx", "bees/reports/Mill Lane.docx"]) WordClean.Check(folder.File(document));
        WordClean.Check(folder.File("bees/in-house.docx"), inForeignHouse: true);
    }

    [Theory]
    [InlineData("from-a-spreadsheet.md", "first/report.docx", "report.docx")]
    [InlineData("from-a-script.md", "report.docx", "second.docx", "third.docx")]
    public void The_pages_for_those_who_come_from_elsewhere_work(string page, params string[] documents)
    {
        File.Copy(Repository.PathOf("examples", "survey", "data", "apiaries.xlsx"), folder.File("apiaries.xlsx"));
        RunPage.Do(File.ReadAllText(Repository.PathOf("docs", page)), folder);
        foreach (var document in documents) WordClean.Check(folder.File(document));
    }

    [Fact]
    public void The_story_of_a_living_document_works()
    {
        File.Copy(Repository.PathOf("docs", "living", "edited.docx"), folder.File("edited.docx"));
        WordClean.Check(folder.File("edited.docx"), inForeignHouse: true);
        Assert.Equal(10, RunPage.Do(File.ReadAllText(Repository.PathOf("docs", "living.md")).Replace("```csharp no-run", "```console", StringComparison.Ordinal), folder));
        var docx = WordClean.Check(folder.File("honey.docx"), inForeignHouse: true);
        Assert.Contains("Fern Hill lies south; its 28.2 kg are no surprise.", docx.Paragraphs);
        Assert.Equal(["Tarn Side (a neighbour)", "3", "21.5"], docx.Tables[0][^1]);
    }

    [Fact]
    public void The_gallery_quotes_what_is_there()
    {
        var page = File.ReadAllText(Repository.PathOf("docs", "gallery.md"));
        var quotes = Quote().Matches(page);
        Assert.True(quotes.Count >= 6);
        foreach (Match quote in quotes) Assert.Contains(quote.Groups[2].Value, File.ReadAllText(Repository.PathOf(quote.Groups[1].Value.Split('/'))), StringComparison.Ordinal);
        foreach (Match target in Target().Matches(page)) Assert.True(File.Exists(Path.GetFullPath(Path.Combine(Repository.PathOf("docs"), target.Groups[1].Value))), target.Value);
    }

    [Fact]
    public void The_calls_of_the_recipes_work()
    {
        SurveyCopy.Make(folder);
        folder.Write("report.ms.md", "```manuscript\nparameter season: 2025\n```\n\nSeason {season}, {see strains}.\n\n```csharp table strains\ncaption: Strains\n=>\nTable.Of(new[] { \"Dusk\" }).Column(\"Strain\", s => s)\n```\n");
        var page = File.ReadAllText(Repository.PathOf("docs", "recipes.md"));
        Assert.Equal(9, RunPage.Do(page[page.IndexOf("## Calls", StringComparison.Ordinal)..], folder));
        Assert.Equal(48, Directory.GetFiles(folder.File("reports"), "*.docx", SearchOption.AllDirectories).Length);
        Assert.Equal(2, Directory.GetFiles(folder.File("some"), "*.docx").Length);
        Assert.Contains("Table.Of(", WordClean.Check(folder.File("review.docx")).AllText, StringComparison.Ordinal);
        Assert.Matches("Season 2025, Table.1\\.", File.ReadAllText(folder.File("report.txt")));
        foreach (var document in (string[])["in-house.docx", "all.docx"]) WordClean.Check(folder.File(document), inForeignHouse: true);
    }

    [GeneratedRegex("^````quote (\\S+)\n((?s).*?)^````\n", RegexOptions.Multiline)]
    private static partial Regex Quote();

    [GeneratedRegex(@"\]\(([^)#]+)")]
    private static partial Regex Target();
}
