using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Runs every recipe behind the beginning that the page gives, and looks for the lines under it in the document.</summary>
public sealed partial class RecipeTests
{
    private const string Sources = "@article{hale2019, author = {Hale, Ada}, title = {Mites}, journal = {Bees}, year = {2019}}\n";

    private static string Page { get; } = File.ReadAllText(Repository.PathOf("docs", "recipes.md"));

    public static TheoryData<string> Questions()
    {
        var questions = new TheoryData<string>();
        foreach (Match recipe in Recipe().Matches(Page)) questions.Add(recipe.Groups[1].Value);
        Assert.True(questions.Count >= 50, $"{questions.Count} recipes");
        Assert.Equal(questions.Count, Regex.Count(Page, "^````markdown", RegexOptions.Multiline));
        return questions;
    }

    [Theory]
    [MemberData(nameof(Questions))]
    public void A_recipe_gives_the_lines_under_it(string question)
    {
        var recipe = Recipe().Matches(Page).Single(m => m.Groups[1].Value == question);
        var (manuscript, expected) = (recipe.Groups[2].Value, recipe.Groups[3].Value.Split('\n', StringSplitOptions.RemoveEmptyEntries));
        var settings = Settings().Match(manuscript).Value;
        using var folder = new TestFolder();
        foreach (var file in Directory.GetFiles(Repository.PathOf("examples", "survey", "data")))
        {
            Directory.CreateDirectory(folder.File("data"));
            File.CreateSymbolicLink(folder.File($"data/{Path.GetFileName(file)}"), file);
        }
        folder.Write("sources.bib", Sources);
        var beginning = Regex.Match(Page, "^````beginning\n(.*?)^````\n", RegexOptions.Multiline | RegexOptions.Singleline).Groups[1].Value;
        var result = Manuscript.Open(folder.Write("recipe.ms.md", $"{settings}{beginning}\n{manuscript[settings.Length..]}")).Write();
        Assert.Equal("", string.Join('\n', result.Diagnostics.Where(d => d.Severity != Severity.Advice)));
        var text = WordClean.Check(result.Path).AllText.Replace('\u00A0', ' ');
        foreach (var line in expected) Assert.Contains(line, text, StringComparison.Ordinal);
    }

    [GeneratedRegex("^### … (.*)\n\n(?:[A-Z].*\n\n)?````markdown\n((?s).*?)^````\n\n```text\n((?s).*?)^```\n", RegexOptions.Multiline)]
    private static partial Regex Recipe();

    [GeneratedRegex("^```manuscript\n(?s).*?\n```\n")]
    private static partial Regex Settings();
}
