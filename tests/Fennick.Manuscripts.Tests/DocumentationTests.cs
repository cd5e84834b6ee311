using System.Text.RegularExpressions;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Runs every example of the pages on manuscripts and houses and compares the document's text with the text under it.</summary>
public sealed class DocumentationTests
{
    public static TheoryData<string, string> Examples()
    {
        var examples = new TheoryData<string, string>();
        foreach (var name in (string[])["manuscript.md", "houses.md"])
        {
            var page = File.ReadAllText(Repository.PathOf("docs", name));
            var before = examples.Count;
            foreach (Match match in Regex.Matches(page, "^````markdown\n(.*?)^````\n\n```text\n(.*?)\n```\n", RegexOptions.Multiline | RegexOptions.Singleline))
                examples.Add(match.Groups[1].Value, match.Groups[2].Value);
            Assert.Equal(Regex.Count(page, "^````markdown", RegexOptions.Multiline), examples.Count - before);
        }
        return examples;
    }

    [Theory]
    [MemberData(nameof(Examples))]
    public void An_example_gives_the_text_under_it(string manuscript, string expected)
    {
        using var folder = new TestFolder();
        foreach (Match file in Regex.Matches(File.ReadAllText(Repository.PathOf("docs", "manuscript.md")), "^````file (\\S+)\n(.*?)^````\n", RegexOptions.Multiline | RegexOptions.Singleline))
            folder.Write(file.Groups[1].Value, file.Groups[2].Value);
        Directory.CreateDirectory(folder.File("house"));
        foreach (var file in Directory.GetFiles(Repository.PathOf("examples", "survey", "house"))) File.Copy(file, folder.File($"house/{Path.GetFileName(file)}"));
        var result = Manuscript.Open(folder.Write("example.ms.md", manuscript)).Write();
        var docx = WordClean.Check(result.Path, inForeignHouse: manuscript.Contains("house: house/", StringComparison.Ordinal));
        Assert.Equal(expected, string.Join('\n', docx.Notes.Select(n => $"*{n}").Prepend(docx.AllText)).Replace('\u00A0', ' '));
        Assert.Empty(result.Diagnostics);
    }
}
