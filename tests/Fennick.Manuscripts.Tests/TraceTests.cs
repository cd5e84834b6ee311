using System.Text.RegularExpressions;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Manuscripts.Tests;

/// <summary>Every number that is printed leads to the line that made it.</summary>
public sealed partial class TraceTests : IDisposable
{
    private readonly TestFolder folder = new();

    private string Path => folder.File("report.docx");

    [Theory]
    [InlineData("harvest")]
    [InlineData("annual")]
    [InlineData("tables")]
    [InlineData("valleys")]
    public void Every_printed_number_of_an_example_leads_to_a_line(string manuscript)
    {
        File.WriteAllBytes(Path, LivingTests.Documents(manuscript).Before);
        var docx = Open(Path);
        var lines = File.ReadAllLines(Repository.PathOf($"examples/survey/{manuscript}.ms.md")).Length;
        string[] stories = ["word/document.xml", "word/footnotes.xml", .. docx.Names.Where(n => n.StartsWith("word/header", StringComparison.Ordinal) || n.StartsWith("word/footer", StringComparison.Ordinal))];
        var printed = stories.Where(s => docx.Names.Contains(s)).SelectMany(s => TrackedText.Of(docx.Xml(s).Root!, accepts: true)).SelectMany(t => Number().Matches(t).Select(m => m.Value)).ToHashSet(StringComparer.Ordinal);
        Assert.True(printed.Count > 15);
        // What values and tables gave, and what else is asked for by itself.
        var items = Living.Trace(Path).Items;
        Assert.All(items, i => Assert.True(i.Place is { } place && place.Line >= 1 && (!place.File.EndsWith($"{manuscript}.ms.md", StringComparison.Ordinal) || place.Line <= lines), $"{i.Text} in {i.Where}"));
        var traced = items.SelectMany(i => Number().Matches(i.Text).Select(m => m.Value)).ToHashSet(StringComparer.Ordinal);
        Assert.Contains(printed, traced.Contains);
        foreach (var number in printed.Where(n => !traced.Contains(n)))
        {
            var found = Living.Trace(Path, number).Items;
            Assert.True(found.Any(i => i.Place is not null), $"{number} leads nowhere in {manuscript}");
            Assert.All(found, i => Assert.DoesNotContain("by somebody", i.Expression, StringComparison.Ordinal));
        }
    }

    [Fact]
    public void Words_of_the_manuscript_counted_numbers_and_what_somebody_typed_are_told_apart()
    {
        folder.Write("report.ms.md", "```manuscript\ntitle: T\n```\n\n```csharp prepare\nvar a = 12.31;\n```\n\nAmber gave {a:0.0} kg in 2024.\n\n```csharp table w\ncaption: Weights\n=>\nTable.WithHeads(\"Hive\", \"kg\").Row(\"Amber\", 7.5)\n```\n\nSee {see w}.\n");
        Manuscript.Open(folder.File("report.ms.md")).Write();
        var value = Assert.Single(Living.Trace(Path, "12.3").Items);
        Assert.Equal(("a", 9), (value.Expression, value.Place!.Line));
        var words = Assert.Single(Living.Trace(Path, "2024").Items);
        Assert.Equal(("words of the manuscript", 9), (words.Expression, words.Place!.Line));
        Assert.Empty(Living.Trace(Path, "024").Items);
        Assert.Empty(Living.Trace(Path, "12").Items);
        Assert.All(Living.Trace(Path, "Table 1").Items, i => Assert.NotNull(i.Place));
        Assert.NotEmpty(Living.Trace(Path, "Table 1").Items);
        var edited = new EditedDocument(File.ReadAllBytes(Path));
        edited.Paragraphs.Single(p => p.Value.Contains("2024", StringComparison.Ordinal)).Add(new System.Xml.Linq.XElement(W + "r", new System.Xml.Linq.XElement(W + "t", " That is 99.9 in all.")));
        edited.Save(Path);
        Assert.Contains("by somebody", Assert.Single(Living.Trace(Path, "99.9").Items).Expression, StringComparison.Ordinal);
    }

    public void Dispose() => folder.Dispose();

    [GeneratedRegex(@"\d+(?:[.,\u00A0\u202F]\d+)*")]
    private static partial Regex Number();
}
