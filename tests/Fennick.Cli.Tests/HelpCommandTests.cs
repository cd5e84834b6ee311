using System.Text.RegularExpressions;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary><c>fennick help</c>, and the page of all words that it prints.</summary>
public sealed partial class HelpCommandTests : IDisposable
{
    private readonly TestFolder folder = new();
    private string? page;

    public void Dispose() => folder.Dispose();

    private string Page => page ??= FennickCommand.Run(folder.Path, "help", "--all").Output;

    [Theory]
    [InlineData("tables.ruling", "tables.ruling  (setting)\n  the rules of tables: open, banded, boxed, bare, or a table style of the house such as lined\n  More: docs/manuscript.md\n")]
    [InlineData("money", "money EUR, money EUR 0  (format)\n  an amount as the language writes it; {1234.5:money EUR} is €1,234.50, {1234.5:money EUR 0} is €1,235\n")]
    [InlineData("for each", "{for each NAME in EXPRESSION}, {end}  (form in braces)\n")]
    [InlineData("{page count}", "(form in braces)\n  what the page and the report say of themselves")]
    [InlineData("dpi", "dpi  (key of a step's head)\n  the pixels to the inch of a chart that is a picture, from 50 to 1200 (figure)\n")]
    [InlineData("limit", "(steps that run a program)")]
    [InlineData("batch gather", "batch gather FOLDERS  (command)\n  Puts together the parts")]
    [InlineData("write", "  --with KEY=VALUE: A setting that overrides the manuscript's own")]
    [InlineData("body", "body  (role of a style)\n  house.style body: NAME names the style of the house for it\n  More: docs/houses.md\n")]
    [InlineData("FENNICK_CACHE", "FENNICK_CACHE  (variable of the environment)\n")]
    [InlineData("3", "3  (exit code)\n  some units of a batch failed; the others are there\n")]
    public void A_word_is_explained(string word, string expected)
    {
        var result = FennickCommand.Run(folder.Path, ["help", .. word.Split(' ')]);
        Assert.Equal((0, ""), (result.ExitCode, result.Errors));
        Assert.Contains(expected, result.Output, StringComparison.Ordinal);
    }

    [Fact]
    public void A_word_that_is_none_leads_to_those_that_are()
    {
        var near = FennickCommand.Run(folder.Path, "help", "table.ruling");
        Assert.Equal((2, ""), (near.ExitCode, near.Output));
        Assert.Contains("there is no word `table.ruling`; did you mean `tables.ruling`?", near.Errors, StringComparison.Ordinal);
        var about = FennickCommand.Run(folder.Path, "help", "watermark");
        Assert.Equal(0, about.ExitCode);
        Assert.Contains("page.watermark  (setting)", about.Output, StringComparison.Ordinal);
        var all = FennickCommand.Run(folder.Path, "help").Output;
        Assert.Contains("Roles of steps: prepare, table, figure, text, show\n", all, StringComparison.Ordinal);
    }

    /// <summary>With <c>FENNICK_GOLDEN=write</c> the page is written anew.</summary>
    [Fact]
    public void The_page_of_all_words_is_what_the_command_prints()
    {
        var path = Repository.PathOf("docs", "reference.md");
        if (Environment.GetEnvironmentVariable("FENNICK_GOLDEN") == "write") File.WriteAllText(path, Page);
        Assert.Equal(File.ReadAllText(path), Page);
        foreach (Match link in Link().Matches(Page))
        {
            var (file, part) = (link.Groups[1].Value, link.Groups[2].Value);
            var heads = File.ReadLines(Repository.PathOf("docs", file)).Where(l => l.StartsWith('#')).Select(l => l.TrimStart('#').Trim().ToLowerInvariant().Replace(' ', '-'));
            Assert.True(part.Length == 0 || heads.Contains(part), link.Value);
        }
    }

    /// <summary>What the command refuses to take names all that it takes: each of these stands on the page.</summary>
    [Fact]
    public void The_page_has_every_setting_key_and_role()
    {
        Has("```manuscript\nqqqqqqqq: x\n```\n", "the settings are ");
        Has("```manuscript\npage.qqqqqqqq: x\n```\n", "what can be said is ", "page.");
        Has("```csharp figure x\ncaption: A\nqqqqqqqq: x\n=>\n1\n```\n", "it takes ");
        Has("```csharp table x\ncaption: A\nqqqqqqqq: x\n=>\n1\n```\n", "it takes ");
        Has("```script table x\nrun: true\nqqqqqqqq: x\n```\n", "it takes ");
        Has("```csharp qqqqqqqq x\n1\n```\n", "the roles are ");

        void Has(string manuscript, string list, string before = "")
        {
            folder.Write("x.ms.md", manuscript);
            var told = FennickCommand.Run(folder.Path, "check", "x.ms.md").Errors;
            var listed = Listed().Matches(told[told.IndexOf(list, StringComparison.Ordinal)..].Split('\n')[0].Split(';')[0]).Select(m => before + m.Groups[1].Value).ToArray();
            Assert.True(listed.Length >= 5, told);
            foreach (var word in listed.Where(w => w is not "script table NAME")) Assert.True(Regex.IsMatch(Page, $"(?m)^\\| .*`{Regex.Escape(word)}[` ].* \\|"), word);
        }
    }

    [Theory]
    [InlineData("manuscript.md")]
    [InlineData("houses.md")]
    public void The_tables_of_the_other_pages_say_the_same(string name)
    {
        var rows = Rows(Page, "").ToDictionary(r => r.Form + r.Text.Split(" (`")[0].Split("; `{")[0].Split(" (steps that")[0]);
        var compared = 0;
        var forms = rows.Values.Select(r => r.Form).ToHashSet();
        foreach (var (form, text) in Rows(File.ReadAllText(Repository.PathOf("docs", name)), name).Where(r => forms.Contains(r.Form)))
        {
            Assert.True(rows.Keys.Any(k => k == form + text.Split(" (`")[0].Split("; `{")[0].Split(" (steps that")[0]), $"{name} says of {form}: {text}");
            compared++;
        }
        Assert.True(compared > 15, $"{compared}");
    }

    private static IEnumerable<(string Form, string Text)> Rows(string page, string name) => Row().Matches(page).Select(m => (m.Groups[1].Value.Trim(), m.Groups[2].Value.Trim().Replace("](#", $"]({name}#", StringComparison.Ordinal))).Distinct();

    [GeneratedRegex(@"\]\(([\w.]+\.md)#?([^)]*)\)")]
    private static partial Regex Link();

    [GeneratedRegex("`([^`]+)`")]
    private static partial Regex Listed();

    [GeneratedRegex(@"(?m)^\| ((?:`[^`\n]+`|[^|`\n])+) \| (.*) \|$")]
    private static partial Regex Row();
}
