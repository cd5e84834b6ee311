using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Loops and conditions around blocks.</summary>
public sealed class StructureTests : IDisposable
{
    private const string Fence = "```";
    private const string Valleys = Fence + "csharp prepare\nvar valleys = new[] { (Name: \"Coldbrook\", Kg: 24.5), (Name: \"Dunmarsh\", Kg: 19.5) };\n" + Fence + "\n\n";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Write(string text)
    {
        var result = Manuscript.Open(folder.Write("report.ms.md", text)).Write(null, new Dictionary<string, string>());
        return WordClean.Check(result.Path);
    }

    private string Fail(string text) => Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("report.ms.md", text)).Write(null, new Dictionary<string, string>())).Message
        .Replace(folder.File("report.ms.md"), "report.ms.md", StringComparison.Ordinal);

    private static string Step(string info, string code) => $"{Fence}csharp {info}\n{code}\n{Fence}\n";

    [Fact]
    public void A_loop_repeats_prose_steps_and_plain_blocks()
    {
        var docx = Write(Valleys + "Before.\n\n{for each valley in valleys}\n## {valley.Name}\n\nPlain.\n\n"
            + Step("prepare", "var doubled = valley.Kg * 2;") + "\nTwice {doubled:0.0} kg, see {see t-{valley.Name}}.\n\n"
            + Step("table t-{valley.Name}", "caption: Honey of {valley.Name}\n=>\nTable.WithHeads(\"kg\").Row(valley.Kg)") + "\n> Last plain.\n{end for}\n\nAfter.");
        Assert.Equal(
            ["Before.", "Coldbrook", "Plain.", "Twice 49.0 kg, see Table\u00A01.", "Table\u00A01. Honey of Coldbrook", "", "Last plain.", "Dunmarsh", "Plain.", "Twice 39.0 kg, see Table\u00A02.", "Table\u00A02. Honey of Dunmarsh", "", "Last plain.", "After."],
            docx.Paragraphs);
        Assert.Equal(["24.5", "19.5"], docx.Tables.Select(t => t[1][0]));
    }

    [Theory]
    [InlineData(12, "many")]
    [InlineData(7, "some")]
    [InlineData(2, "few")]
    public void A_condition_chooses_one_branch(int n, string expected) => Assert.Equal(["Start.", expected, "End."],
        Write(Step("prepare", $"var n = {n};") + "\nStart.\n{if n > 10}\nmany\n{else if n > 5}\nsome\n{else}\nfew\n{end}\nEnd.").Paragraphs);

    [Fact]
    public void Loops_take_pairs_positions_and_stand_in_each_other()
    {
        var docx = Write(Valleys + "{for each (i, v) in valleys.Index()}\n{if v.Kg > 20}\n{for each word in new[] { \"a\", \"b\" }}\n{i + 1}{word} {v.Name}\n{end}\n{else}\nToo little in {v.Name}.\n{end if}\n{end}");
        Assert.Equal(["1a Coldbrook", "1b Coldbrook", "Too little in Dunmarsh."], docx.Paragraphs);
    }

    [Fact]
    public void Items_that_a_loop_makes_are_one_list_that_counts_on()
    {
        var docx = Write(Valleys + "{for each v in valleys}\n1. {v.Name}\n{end}\n\nBetween.\n\n{for each v in valleys}\n- {v.Name}\n\n  more\n{end}");
        Assert.Equal([("ListNumber", "Coldbrook"), ("ListNumber", "Dunmarsh"), ("Normal", "Between."), ("ListBullet", "Coldbrook"), ("ListContinue", "more"), ("ListBullet", "Dunmarsh"), ("ListContinue", "more")],
            docx.Body.Elements(Docx.W + "p").Select(p => ((string?)p.Element(Docx.W + "pPr")?.Element(Docx.W + "pStyle")?.Attribute(Docx.W + "val") ?? "Normal", Docx.Text(p))));
        Assert.Equal(2, docx.Body.Descendants(Docx.W + "numId").Select(n => (string?)n.Attribute(Docx.W + "val")).Distinct().Count());
    }

    [Fact]
    public void Loops_and_conditions_stand_in_lines_lists_quotations_cells_and_captions()
    {
        var docx = Write(Valleys + "Valleys: {for each v in valleys}**{v.Name}**{if v.Kg > 20} (good){else} (poor){end}; {end}done.\n\n"
            + "- first\n\n  {for each v in valleys}\n  In the item: {v.Kg}.\n  {end}\n- second\n\n> {if valleys.Length > 5}\n> many\n> {else}\n> few, {valleys.Length}\n> {end}\n\n"
            + "# Head {if true}of{end} it\n\n| A |\n|---|\n| {for each v in valleys}{v.Name[0]}{end} {4 \\| 1} {4 | 2} |\n\n" + Step("table t", "caption: C{for each v in valleys} {v.Kg}{end}\n=>\nnew[] { 1 }"));
        Assert.Equal(["Valleys: Coldbrook (good); Dunmarsh (poor); done.", "first", "In the item: 24.5.", "In the item: 19.5.", "second", "few, 2", "Head of it", "", "Table\u00A01. C 24.5 19.5", ""], docx.Paragraphs);
        Assert.Equal("CD 5 6", docx.Tables[0][1][0]);
        Assert.Equal(["In the item: 24.5.", "In the item: 19.5."], docx.ParagraphsOf("ListContinue"));
    }

    [Fact]
    public void Steps_stand_in_loops_in_lists()
    {
        var docx = Write(Valleys + "1. Item\n\n   {for each v in valleys}\n   ```csharp table t-{v.Name}\n   new[] { v.Kg }\n   ```\n   {end}\n1. Next, {see t-coldbrook}");
        Assert.Equal(["24.5", "19.5"], docx.Tables.Select(t => t[1][0]));
        Assert.Contains("Next, Table\u00A01", docx.Paragraphs);
    }

    [Fact]
    public void A_list_goes_on_over_directives_unless_a_comment_or_another_marker_parts_it()
    {
        static int[] Numbers(Docx docx) => [.. docx.Body.Descendants(Docx.W + "numId").Select(n => (int)n.Attribute(Docx.W + "val")!)];
        var one = Numbers(Write(Valleys + "1. zero\n{for each v in valleys}\n1. {v.Name}\n{end}\n{if true}\n1. last\n{end}"));
        Assert.Single(one.Distinct());
        Assert.Equal(4, one.Length);
        Assert.Equal(2, Numbers(Write("1. zero\n\n<!-- -->\n\n{if true}\n1. last\n{end}")).Distinct().Count());
        Assert.Equal(2, Numbers(Write("1. zero\n{if true}\n1) last\n{end}")).Distinct().Count());
    }

    [Fact]
    public void An_empty_loop_places_nothing_and_a_pass_may_be_left_early()
    {
        Assert.Equal(["Before.", "After."], Write("Before.\n\n{for each x in Array.Empty<int>()}\nNever {x}.\n{end}\n\nAfter.").Paragraphs);
        Assert.Equal(["Pass 0.", "Pass 1.", "Odd.", "Pass 2.", "After."], Write("{for each x in Enumerable.Range(0, 3)}\nPass {x}.\n\n" + Step("prepare", "if (x % 2 == 0) continue;") + "\nOdd.\n{end}\nAfter.").Paragraphs);
    }

    [Fact]
    public void Prose_in_a_loop_compiles_nothing_when_it_changes()
    {
        Manuscript.Open(folder.Write("a.ms.md", Valleys + "{for each v in valleys}\nOne {v.Name}.\n{end}")).Write(null, new Dictionary<string, string>());
        var again = Manuscript.Open(folder.Write("a.ms.md", Valleys + "New.\n\n{for each v in valleys}\nPlain before.\n\nAnother sentence on {v.Name}.\n\n- and a list\n{end}\n\nMore.")).Write(null, new Dictionary<string, string>());
        Assert.Null(again.CompileTime);
        Assert.Equal(["New.", "Plain before.", "Another sentence on Coldbrook.", "and a list", "Plain before.", "Another sentence on Dunmarsh.", "and a list", "More."], WordClean.Check(again.Path).Paragraphs);
    }

    [Fact]
    public void A_paragraph_may_hold_thousands_of_values_and_a_word_of_any_length()
    {
        var word = new string('w', 100_000);
        var values = string.Join(" ", Enumerable.Range(0, 3000).Select(i => $"{{{i}}}"));
        var long1 = "{string.Concat(Enumerable.Repeat(\"ab\", 300).Concat(new[] { \"" + new string('x', 400) + "\" })).Length}";
        var docx = Write($"{values} {word} {long1}");
        Assert.Equal(string.Join(" ", Enumerable.Range(0, 3000).Select(i => i.ToString(System.Globalization.CultureInfo.InvariantCulture))) + $" {word} 1000", docx.Paragraphs[0]);
    }

    [Theory]
    [InlineData("{see a, b}", "Tables\u00A01 and 2")]
    [InlineData("{see d, a, b, c}", "Tables\u00A01–4")]
    [InlineData("{see a, c, d}", "Tables\u00A01, 3 and 4")]
    [InlineData("{see a, f, weighing}", "Table\u00A01, Figure\u00A01 and How we weighed")]
    [InlineData("{see b: number}", "2")]
    [InlineData("{see a, b: number}", "Tables\u00A01 and 2")]
    [InlineData("{see b: title}", "Caption b")]
    [InlineData("{see weighing}", "How we weighed")]
    [InlineData("{see last-2025}", "The year 2025")]
    public void References_name_several_targets_or_parts_of_one(string reference, string text)
    {
        var tables = string.Concat("abcd".Select(l => Step($"table {l}", $"caption: Caption {l}\n=>\nnew[] {{ 1 }}") + "\n"));
        var docx = Write(reference + "\n\n# How we weighed {label weighing}\n\n" + Step("prepare", "var year = 2025;") + "\n## The year {year} {label last-{year}}\n\n"
            + tables + Step("figure f", "caption: F\n=>\nChart.Columns(new[] { 1 }, i => i, i => i)"));
        Assert.Equal(text, docx.Paragraphs[0]);
        Assert.Contains("How we weighed", docx.ParagraphsOf("Heading1"));
        Assert.Equal(["The year 2025"], docx.ParagraphsOf("Heading2"));
    }

    [Theory]
    [InlineData("{see a: pages}\n\n# A {label a}", "report.ms.md:1:1: error: `pages` is not a part of a reference")]
    [InlineData("{see a: numbr}\n\n# A {label a}", "report.ms.md:1:1: error: `numbr` is not a part of a reference; did you mean `number`?")]
    [InlineData("A {label a} paragraph", "report.ms.md:1:3: error: `{label a}` does not stand at the end of a heading; a table or figure is labelled in its step: `csharp table a`")]
    [InlineData("{see a, c}\n\n# A {label a}\n\n# B {label b}", "report.ms.md:1:1: error: there is no label `c`")]
    [InlineData("# A {label a}\n\n# B {label a}", "report.ms.md:3:5: error: the label `a` is used twice (first at report.ms.md:1:5)")]
    public void Mistakes_in_labels_are_told(string text, string message) => Assert.Contains(message, Fail(text), StringComparison.Ordinal);

    [Theory]
    [InlineData("{for each v in valleys}\nText.", "report.ms.md:1:1: error: `{for each v in valleys}` has no end; write `{end}` after what belongs to it")]
    [InlineData("Text.\n{end}", "report.ms.md:2:1: error: `{end}` has no beginning")]
    [InlineData("{if true}\na\n{end for}", "report.ms.md:3:1: error: `{end for}` does not end `{if true}`; write `{end}` or `{end if}`")]
    [InlineData("{for each x in new[] { 1 }}\na\n{else}\nb\n{end}", "report.ms.md:3:1: error: `{else}` cannot stand in a loop")]
    [InlineData("{if true}\na\n{else}\nb\n{else}\nc\n{end}", "report.ms.md:5:1: error: `{else}` cannot stand after `{else}`")]
    [InlineData("{for each 1x in y}\na\n{end}", "report.ms.md:1:1: error: `{for each 1x in y}` is not a loop; write `{for each valley in valleys}`")]
    [InlineData("Some {if true} words.\n\nMore {end} here", "report.ms.md:1:6: error: `{if true}` has no end; write `{end}` after what belongs to it")]
    [InlineData("> quoted\n>\n> {if true}\n> more\n\n{end}", "report.ms.md:3:3: error: `{if true}` has no end")]
    [InlineData("Some *{if true} words* and {end} here", "report.ms.md:1:28: error: `{end}` has no beginning")]
    [InlineData("Some {page break} words", "report.ms.md:1:6: error: `{page break}` does not stand alone on its line")]
    [InlineData("{for each x in missing}\na\n{end}", "report.ms.md:1:16: error: the name 'missing' does not exist")]
    [InlineData("{if 1 + 1}\na\n{end}", "report.ms.md:1:5: error: cannot implicitly convert type 'int' to 'bool'")]
    [InlineData("{if a) (b}\na\n{end}", "report.ms.md:1:2: error: `a) (b` is not an expression")]
    [InlineData("Line.\n\n{for each x in (int[]?)null}\na\n{end}", "error: this loop runs over nothing (null); give an empty sequence instead")]
    [InlineData("{for each x in new[] { 1 }}\n\n{x.Nothing}\n{end}", "report.ms.md:3:4: error: `int` has no member `Nothing`")]
    [InlineData("{for each x in new[] { 1, 2 }}\n```csharp table t\nnew[] { x }\n```\n{end}", "the label `t` is used twice")]
    public void Mistakes_are_told_at_their_place(string text, string message) => Assert.Contains(message, Fail(text), StringComparison.Ordinal);
}
