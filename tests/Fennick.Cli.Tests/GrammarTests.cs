using System.Text.Json;
using System.Text.RegularExpressions;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>The syntax file for editors knows what manuscripts are written with.</summary>
public sealed class GrammarTests
{
    private static readonly JsonElement Repository = JsonDocument.Parse(File.ReadAllText(Testing.Repository.PathOf("docs", "editors", "fennick.tmLanguage.json"))).RootElement.GetProperty("repository");

    [Theory]
    [InlineData("```csharp prepare", "csharp", "prepare", "")]
    [InlineData("```csharp table honey", "csharp", "table", "honey")]
    [InlineData("~~~csharp figure {valley}-honey", "csharp", "figure", "{valley}-honey")]
    [InlineData("```csharp text", "csharp", "text", "")]
    [InlineData("   ````csharp show x", "csharp", "show", "x")]
    public void A_step_is_told_by_its_first_line(string line, string language, string role, string label)
    {
        var match = Regex.Match(line, Repository.GetProperty("step").GetProperty("begin").GetString()!);
        Assert.Equal((language, role, label), (match.Groups[2].Value, match.Groups[3].Value, match.Groups[4].Value));
    }

    [Theory]
    [InlineData("```csharp")]
    [InlineData("```csharp chart x")]
    [InlineData("```r")]
    public void A_listing_is_no_step(string line) => Assert.DoesNotMatch(Repository.GetProperty("step").GetProperty("begin").GetString()!, line);

    [Fact]
    public void Every_brace_of_the_examples_that_is_a_directive_is_known()
    {
        var patterns = Repository.GetProperty("brace").GetProperty("patterns").EnumerateArray().Where(p => p.ToString().Contains("keyword.control", StringComparison.Ordinal)).Select(p => p.GetProperty("match").GetString()!).ToArray();
        var directives = Directory.GetFiles(Testing.Repository.PathOf("examples"), "*.ms.md", SearchOption.AllDirectories).SelectMany(File.ReadLines)
            .Select(l => Regex.Match(l, @"^\{([a-z][a-z ]*)[^(.\[]*\}$")).Where(m => m.Success && m.Value.Contains(' ', StringComparison.Ordinal)).Select(m => m.Value).Distinct().ToArray();
        Assert.NotEmpty(directives);
        Assert.All(directives, d => Assert.Contains(patterns, p => Regex.IsMatch(d, p)));
    }

    [Fact]
    public void Settings_parameters_and_formats_are_entries()
    {
        var entry = Repository.GetProperty("entry").GetProperty("patterns")[0].GetProperty("match").GetString()!;
        foreach (var (line, word, name) in new[] { ("title: Honey", "", "title"), ("page.first.header: Honey", "", "page.first.header"), ("parameter strain (one of Amber, Dusk): Dusk", "parameter ", "strain"), ("format weight: number 1", "format ", "weight") })
        {
            var match = Regex.Match(line, entry);
            Assert.Equal((word, name), (match.Groups[1].Value, match.Groups[2].Value));
        }
        Assert.DoesNotMatch(entry, "var x = a ? b : c;");
    }
}
