using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>How a manuscript says what is numbered, referred to, listed and explained.</summary>
public sealed class NumberingSyntaxTests : IDisposable
{
    private const string Table = "=>\nTable.Of(new[] { 1.5 }).Column(\"Honey\", k => k, \"0.0\")\n```\n\n";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private string Text(string manuscript)
    {
        var result = Manuscript.Open(folder.Write("report.ms.md", manuscript)).Write();
        Assert.Empty(result.Diagnostics);
        return WordClean.Check(result.Path).AllText.Replace('\u00A0', ' ');
    }

    private ImmutableArray<Diagnostic> Wrong(string manuscript) => Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("wrong.ms.md", manuscript)).Write()).Diagnostics;

    [Fact]
    public void A_series_is_declared_and_its_items_may_come_from_a_loop()
    {
        var text = Text("""
            ```manuscript
            series map: Map
            parameter valley: Coldbrook
            ```

            {list of maps}

            {for each v in new[] { "Coldbrook", "Dunmarsh" }}

            {series map map-{v}: The valley of {v}}

            Seen from *above*.

            {end}

            {end}

            ```csharp table far
            series: map
            caption: As numbers

            """ + Table + "{see map-coldbrook, map-dunmarsh, far}.\n");
        Assert.Contains("Map 1. The valley of Coldbrook\t1\nMap 2. The valley of Dunmarsh\t1\nMap 3. As numbers\t1", text, StringComparison.Ordinal);
        Assert.EndsWith("Maps 1–3.", text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("box", "Box", "Boxes")]
    [InlineData("story", "Story", "Stories")]
    [InlineData("day", "Day", "Days")]
    [InlineData("map", "Karte, Karten", "Karten")]
    public void The_plural_of_a_series_is_formed_or_given(string name, string words, string plural) =>
        Assert.StartsWith($"{plural}\n", Text($"```manuscript\nseries {name}: {words}\n```\n\n{{list of {name}}}\n\n{{series {name}: One}}\n\nText.\n\n{{end}}\n"), StringComparison.Ordinal);

    [Theory]
    [InlineData("series box: Box, Boxes, More", "does not say what stands before the numbers")]
    [InlineData("series two words: Box", "is not a name of a series")]
    [InlineData("captions.numbering: by chaptre", "is not a way of numbering captions")]
    [InlineData("headings.numbered: 9 levels", "does not say which headings have numbers")]
    [InlineData("figures.shrink: a bit", "does not say by how much a figure may become smaller")]
    [InlineData("tables.unbroken: many", "is not a number of rows")]
    public void A_setting_that_says_nothing_is_told(string setting, string message)
    {
        var problem = Wrong($"```manuscript\n{setting}\n```\n\nText.\n")[0];
        Assert.Contains(message, problem.Message, StringComparison.Ordinal);
        Assert.Equal(2, problem.Place!.Line);
        Assert.NotNull(problem.Suggestion);
    }

    [Theory]
    [InlineData("{series box}\n\nText.\n\n{end}", "is not a caption of a series", "write `{series box label: Caption}`")]
    [InlineData("{series box x: Caption}\n\nText.\n\n{end}", "there is no series `box`", "write `series box: Box` into the settings")]
    [InlineData("{list of boxes}", "there is no list of `boxes`", "a series of captions is declared in the settings: `series boxes: …`")]
    [InlineData("{equations all}\n\n$$ a = b $$\n", "`{equations all}` has no end", "write `{end}` after what belongs to it")]
    [InlineData("{equations all}\n\nText.\n\n{end}", "a group of equations holds no equation", "write one on lines of its own")]
    [InlineData("Text {appendix} here.", "does not stand alone on its line", "put it on a line of its own")]
    [InlineData("Text {list of tables} here.", "does not stand alone on its line", "put it on a line of its own")]
    [InlineData("The {abbr HLR:  } is.", "has no words", "write `{abbr HLR: what it stands for}`")]
    [InlineData("The {abbr HLR} is.", "nothing says what `HLR` stands for", "write `{abbr HLR: what it stands for}` once")]
    [InlineData("# One\n\n{see one: wher}", "`wher` is not a part of a reference", "did you mean `where`?")]
    [InlineData("# One\n\n# Two\n\n{see one, two: where}", "`where` is not a part of a reference to several things", "refer to each of them")]
    public void What_is_written_wrong_is_told(string text, string message, string suggestion)
    {
        var problem = Wrong(text + "\n")[0];
        Assert.Contains(message, problem.Message, StringComparison.Ordinal);
        Assert.Contains(suggestion, problem.Suggestion!, StringComparison.Ordinal);
    }

    [Fact]
    public void Variables_may_have_the_names_of_the_words()
    {
        var text = Text("```csharp prepare\nvar (index, series, equations, abbr) = (1, \"s\", 2, 3);\n```\n\n{index}, {series is \"s\"}, {equations + 1}, {index is 1}, {abbr}, {series.Length}.\n");
        Assert.Equal("1, True, 3, True, 3, 1.", text);
    }

    [Fact]
    public void Terms_and_abbreviations_stand_in_loops_conditions_and_included_files()
    {
        folder.Write("part.ms.md", "The {abbr HLR} of the part{index part}.\n");
        var text = Text("{for each v in new[] { \"a\", \"b\" }}\n\nThe {abbr HLR: honey left in *reserve*} of {v}{index valley: {v}}.\n\n{end}\n\n{include part.ms.md}\n\n{index of terms}\n");
        Assert.StartsWith("The honey left in reserve (HLR) of a.\nThe HLR of b.\nThe HLR of the part.\n", text, StringComparison.Ordinal);
        Assert.EndsWith("part, 1\nvalley\na, 1\nb, 1", text.TrimEnd(), StringComparison.Ordinal);
    }

    [Fact]
    public void Terms_of_the_index_hold_values()
    {
        var text = Text("{for each v in new[] { \"Coldbrook\", \"Dunmarsh\" }}\n\nIn {v}{index {v}: {v.Length > 8 ? \"long: yes\" : \"short\"}}{index valleys}{index {v[..0]}}.\n\n{page break}\n\n{end}\n\n{index of terms}\n");
        Assert.EndsWith("Index\nColdbrook\nlong: yes, 1\nDunmarsh\nshort, 2\nvalleys, 1, 2", text.TrimEnd(), StringComparison.Ordinal);
        Assert.Contains("only its words may hold values", Assert.Throws<ReportException>(() => Text("{abbr {1}: one}\n")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Check_advises_of_what_nothing_refers_to()
    {
        var manuscript = Manuscript.Open(folder.Write("report.ms.md", "# Used\n\n# Named {label named}\n\n```csharp table one\ncaption: One\n" + Table + "```csharp figure two\ncaption: Two\nalt: x\n=>\nChart.Columns(new[] { 1 }, x => x, x => (double)x)\n```\n\n```csharp figure\ncaption: Three\nalt: x\n=>\nChart.Columns(new[] { 1 }, x => x, x => (double)x)\n```\n\n{see used}\n"));
        Assert.Equal(
            ["nothing uses the label `named`", "nothing uses the label `one`", "no text refers to the figure `two`", "no text refers to this figure, since it has no label"],
            manuscript.Check().Diagnostics.Where(d => d.Severity == Severity.Advice).Select(d => d.Message));
        Assert.Empty(manuscript.Write().Diagnostics);
    }
}
