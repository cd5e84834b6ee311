using Fennick.Diagnostics;
using Fennick.Revision;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Manuscripts.Tests;

/// <summary>What is listed when two documents are compared.</summary>
public sealed class CompareTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    /// <summary>Writes two versions of a manuscript and compares them.</summary>
    private CompareResult Compare(string before, string after, string settings = "", string first = "", double? over = null)
    {
        Write("old", before, settings + first);
        Write("new", after, settings);
        var result = Living.Compare(folder.File("old.docx"), folder.File("new.docx"), over, folder.File("both.docx"));
        var both = WordClean.Check(folder.File("both.docx"), inForeignHouse: true);
        Assert.Equal(TrackedText.Of(Open(folder.File("new.docx")).Body, accepts: true), TrackedText.Of(both.Body, accepts: true));
        Assert.Equal(TrackedText.Of(Open(folder.File("old.docx")).Body, accepts: true), TrackedText.Of(both.Body, accepts: false));
        return result;
    }

    private void Write(string name, string text, string settings)
    {
        folder.Write("report.ms.md", $"```manuscript\ntitle: Weights\n{settings}```\n\n{text}\n");
        Manuscript.Open(folder.File("report.ms.md")).Write(folder.File($"{name}.docx"));
    }

    private static string[] Said(CompareResult result) => [.. result.Differences.Select(d => $"{d.Kind}: {d}")];

    [Fact]
    public void Values_are_known_by_their_expressions_and_shares_come_from_the_values_in_full()
    {
        const string Text = "```csharp prepare\nvar mean = 24.44; var share = 0.125;\n```\n\n# Honey\n\nThe mean is {mean:0} kg, a share of {share:0 %}.\n\nThe rest.";
        var result = Compare(Text, Text.Replace("24.44", "26.61", StringComparison.Ordinal).Replace("0.125", "0.25", StringComparison.Ordinal).Replace("The mean is", "This year the average was", StringComparison.Ordinal));
        var (mean, share) = (result.Differences.Single(d => d.What == "mean"), result.Differences.Single(d => d.What == "share"));
        Assert.Equal((DifferenceKind.Number, "“Honey”", 3.0), (mean.Kind, mean.Where, mean.Change!.Value));
        Assert.Equal((26.61 - 24.44) / 24.44, mean.Relative!.Value, 1e-12);
        Assert.StartsWith("mean in “Honey”: 24 → 27 (+3, +8.9 %)", mean.ToString(), StringComparison.Ordinal);
        Assert.Equal(1, share.Relative!.Value, 1e-12);
        Assert.EndsWith("report.ms.md:11:28", mean.Place!.ToString(), StringComparison.Ordinal);
        Assert.Contains(result.Differences, d => d.Kind == DifferenceKind.Text && d.Before!.Contains("The mean is", StringComparison.Ordinal) && d.After!.Contains("This year the average was", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("en-GB", "1,234.5", "1,300.5", 66)]
    [InlineData("en-GB", "1,234", "1,235", 1)]
    [InlineData("en-GB", "0.125", "0.250", 0.125)]
    [InlineData("de-DE", "1.234", "1.235", 1)]
    [InlineData("de-DE", "1.234,5", "1.300,5", 66)]
    [InlineData("de-DE", "0,125", "0,250", 0.125)]
    [InlineData("fr-FR", "1\u202F234,5", "1\u202F300,5", 66)]
    [InlineData("en-GB", "−0.72", "−0.76", -0.04)]
    [InlineData("en-GB", "−0.5", "0.5", 1)]
    [InlineData("en-GB", "12 %", "15 %", 3)]
    [InlineData("en-GB", "€ 5", "€ 7", 2)]
    public void Numbers_of_other_hands_are_read_as_they_are_printed(string language, string before, string after, double change)
    {
        var result = Compare($"The hives gave {before} in all that year.", $"The hives gave {after} in all that year.", $"language: {language}\nliving: no\n");
        var only = Assert.Single(result.Differences);
        Assert.Equal(DifferenceKind.Number, only.Kind);
        Assert.Equal(change, only.Change!.Value, 1e-9);
    }

    [Theory]
    [InlineData("2019–2021", "2019–2022")]
    [InlineData("1.2.3", "1.2.4")]
    [InlineData("Hive A", "Hive B")]
    public void What_is_no_number_is_none(string before, string after)
    {
        var only = Assert.Single(Compare($"It was {before} then.", $"It was {after} then.", "living: no\n").Differences);
        Assert.True(only.Kind == DifferenceKind.Text || only.Change is 1, only.ToString());
    }

    [Fact]
    public void Tables_go_by_their_rows_and_heads()
    {
        const string Start = "```csharp table gave\ncaption: Honey\n=>\n";
        var result = Compare(
            Start + "Table.Of(new[] { (N: \"Amber\", K: 24.4, H: 3), (N: \"Dusk\", K: 26.2, H: 4), (N: \"Heath\", K: 22.2, H: 5), (N: \"Moor\", K: 20.1, H: 6) }).Column(\"Strain\", r => r.N).Column(\"kg\", r => r.K, \"0.0\").Column(\"Hives\", r => r.H)\n```",
            Start + "Table.Of(new[] { (N: \"Amber\", K: 24.4, H: 3), (N: \"Ling\", K: 9.9, H: 1), (N: \"Heath\", K: 23.3, H: 5), (N: \"Dusk\", K: 26.2, H: 4) }).Column(\"Strain\", r => r.N).Column(\"kg\", r => r.K, \"0.0\").Column(\"Hives\", r => r.H)\n```");
        Assert.Equal(["Number: “Heath”, “kg” in Table 1: 22.2 → 23.3 (+1.1, +5.0 %)"], Said(result).Where(s => s.StartsWith("Number", StringComparison.Ordinal)));
        Assert.Equal(["Added: row “Ling” in Table 1: Ling · 9.9 · 1"], Said(result).Where(s => s.StartsWith("Added", StringComparison.Ordinal)));
        Assert.Equal(["Removed: row “Moor” in Table 1: Moor · 20.1 · 6"], Said(result).Where(s => s.StartsWith("Removed", StringComparison.Ordinal)));
        Assert.Single(Said(result), s => s.StartsWith("Moved: a row in another place in Table 1: “", StringComparison.Ordinal));
    }

    [Fact]
    public void A_column_more_does_not_hide_what_else_is_new()
    {
        const string Start = "```csharp table gave\ncaption: Honey\n=>\nTable.Of(new[] { (N: \"Amber\", K: 24.4, H: 3), (N: \"Dusk\", K: 26.2, H: 4) }).Column(\"Strain\", r => r.N)";
        var result = Compare(Start + ".Column(\"kg\", r => r.K, \"0.0\")\n```", Start + ".Column(\"Hives\", r => r.H).Column(\"kg\", r => r.K + 1, \"0.0\")\n```");
        Assert.Equal(["Added: column “Hives” in Table 1", "Number: “Amber”, “kg” in Table 1: 24.4 → 25.4 (+1.0, +4.1 %)", "Number: “Dusk”, “kg” in Table 1: 26.2 → 27.2 (+1.0, +3.8 %)"], Said(result).Order(StringComparer.Ordinal));
    }

    [Fact]
    public void Charts_are_compared_by_their_data_and_not_by_their_look()
    {
        const string Text = "```csharp figure drawn\ncaption: Honey\nalt: Bars\n=>\nChart.Columns(new[] { (N: \"Amber\", K: 24.5), (N: \"Dusk\", K: 26.25) }, r => r.N, r => r.K).Axes(\"\", \"kg\")\n```";
        var changed = Compare(Text, Text.Replace("26.25", "26.75", StringComparison.Ordinal));
        Assert.Equal(["Number: “Dusk” in the chart of Figure 1: 26.25 → 26.75 (+0.50, +1.9 %)"], Said(changed).Select(s => s.Replace("“kg”, ", "", StringComparison.Ordinal)));
        var document = new EditedDocument(File.ReadAllBytes(folder.File("old.docx")));
        foreach (var colour in document.Part("word/charts/chart1.xml").Descendants(A + "srgbClr")) colour.SetAttributeValue("val", "FF0000");
        document.Save(folder.File("red.docx"));
        Assert.Empty(Living.Compare(folder.File("old.docx"), folder.File("red.docx")).Differences);
    }

    [Fact]
    public void Paragraphs_are_added_removed_moved_and_reworded()
    {
        var result = Compare("# One\n\nFirst of all the hives are weighed.\n\nThen somebody writes it all down.\n\nThe lime trees flowered late this year.\n\n# Two\n\nNothing else happened in the valley.",
            "# One\n\nThen somebody writes it all down.\n\nA new sentence stands here.\n\n# Two\n\nNothing else happened in any valley.\n\nFirst of all the hives are weighed.", "living: no\n");
        Assert.Equal([
            "Added: a paragraph in “One”: A new sentence stands here.",
            "Moved: a paragraph from “One” to “Two”: First of all the hives are weighed.",
            "Removed: a paragraph in “One”: The lime trees flowered late this year.",
            "Text: the words in “Two”: “…else happened in the valley.” → “…else happened in any valley.”"], Said(result).Order(StringComparer.Ordinal));
    }

    [Fact]
    public void Numbers_that_count_are_no_differences()
    {
        const string Table = "```csharp table NAME\ncaption: Numbers of NAME\n=>\nTable.Of(new[] { (A: \"a\", B: 1) }).Column(\"A\", r => r.A).Column(\"B\", r => r.B)\n```\n\n";
        var second = Table.Replace("NAME", "two", StringComparison.Ordinal) + "It is shown in {see two}.";
        var result = Compare(second, Table.Replace("NAME", "one", StringComparison.Ordinal).Replace("\"a\"", "\"z\"", StringComparison.Ordinal) + second);
        Assert.Equal([DifferenceKind.Added, DifferenceKind.Added], result.Differences.Select(d => d.Kind));
        Assert.Equal("the documents say the same", Living.Compare(folder.File("old.docx"), folder.File("old.docx")).Summary);
    }

    [Fact]
    public void Only_large_differences_can_be_asked_for()
    {
        const string Text = "```csharp prepare\nvar (a, b, c) = (100.0, 200.0, 0.0);\n```\n\nThey are {a:0.0}, {b:0.0} and {c:0.0}; words.";
        var result = Compare(Text, Text.Replace("(100.0, 200.0, 0.0)", "(104.0, 190.0, 1.0)", StringComparison.Ordinal).Replace("words", "others", StringComparison.Ordinal), over: 0.045);
        Assert.Equal(["b", "c"], result.Differences.Select(d => d.What));
        Assert.Equal((2, "2 numbers differ; 2 smaller or other differences are not listed"), (result.LeftOut, result.Summary));
        Assert.Null(result.Differences[1].Relative);
    }

    [Fact]
    public void A_document_that_remembers_is_compared_with_one_that_does_not()
    {
        const string Text = "```csharp prepare\nvar mean = 24.4;\n```\n\n# Honey\n\nThe mean is {mean:0.0} kg.\n\n```csharp table gave\ncaption: Honey\n=>\nTable.Of(new[] { (N: \"Amber\", K: 24.4), (N: \"Dusk\", K: 26.2) }).Column(\"Strain\", r => r.N).Column(\"kg\", r => r.K, \"0.0\")\n```";
        var result = Compare(Text, Text.Replace("24.4", "25.4", StringComparison.Ordinal), first: "living: no\n");
        Assert.Equal(["Number: “Amber”, “kg” in Table 1: 24.4 → 25.4 (+1.0, +4.1 %)", "Number: …The mean is 25.4 kg. in “Honey”: 24.4 → 25.4 (+1.0, +4.1 %)"], Said(result).Select(s => s.Replace("Number: The", "Number: …The", StringComparison.Ordinal)).Order(StringComparer.Ordinal));
    }

    [Fact]
    public void Tracked_changes_are_taken_for_accepted_and_said()
    {
        Write("old", "The hives are weighed in May and in June.", "");
        var document = new EditedDocument(File.ReadAllBytes(folder.File("old.docx")));
        var run = document.Paragraphs.SelectMany(p => p.Elements(W + "r")).First(r => r.Value.Contains("weighed", StringComparison.Ordinal));
        run.ReplaceWith(new System.Xml.Linq.XElement(W + "ins", new System.Xml.Linq.XAttribute(W + "id", 900), new System.Xml.Linq.XAttribute(W + "author", "A colleague"), new System.Xml.Linq.XElement(W + "r", new System.Xml.Linq.XElement(W + "t", "The hives are counted in May."))));
        document.Save(folder.File("new.docx"));
        var result = Living.Compare(folder.File("old.docx"), folder.File("new.docx"), output: folder.File("both.docx"));
        Assert.Equal(["the tracked changes in the newer document were taken for accepted"], result.Remarks);
        Assert.Contains(result.Differences, d => d.Kind == DifferenceKind.Text);
        Assert.Equal(TrackedText.Of(Open(folder.File("old.docx")).Body, accepts: true), TrackedText.Of(WordClean.Check(folder.File("both.docx"), inForeignHouse: true).Body, accepts: false));
    }

    [Fact]
    public void Other_pictures_headers_and_notes_are_told()
    {
        Write("old", "Words with a note[^one] behind them.\n\n[^one]: It says so in the register of May.", "");
        var document = new EditedDocument(File.ReadAllBytes(folder.File("old.docx")));
        document.Part("word/footnotes.xml").Descendants(W + "t").First(t => t.Value.Contains("May", StringComparison.Ordinal)).Value = "It says so in the register of June.";
        document.Save(folder.File("new.docx"));
        var only = Assert.Single(Living.Compare(folder.File("old.docx"), folder.File("new.docx"), output: folder.File("both.docx")).Differences);
        Assert.Equal(("a footnote", "…the register of May."), (only.Where, only.Before));
        Assert.Contains(WordClean.Check(folder.File("both.docx"), inForeignHouse: true).Xml("word/footnotes.xml").Descendants(W + "delText"), t => t.Value == "May");
    }

    [Fact]
    public void What_cannot_be_compared_is_said_and_nothing_is_written()
    {
        Write("old", "Words.", "");
        var old = folder.File("old.docx");
        folder.Write("text.docx", "no document");
        foreach (var (path, message) in new[] { ("none.docx", "there is no such document"), ("text.docx", "the file is not a word-processor document") })
            Assert.Equal(message, Assert.Throws<ReportException>(() => Living.Compare(old, folder.File(path), output: folder.File("out.docx"))).Diagnostics[0].Message);
        Assert.False(File.Exists(folder.File("out.docx")));
        var bytes = File.ReadAllBytes(old);
        Assert.Contains("made from", Assert.Throws<ReportException>(() => Living.Compare(old, old, output: old)).Diagnostics[0].Message, StringComparison.Ordinal);
        Assert.Throws<ReportException>(() => Living.Compare(old, old, output: folder.File("out.pdf")));
        Assert.Throws<ArgumentOutOfRangeException>(() => Living.Compare(old, old, over: -1));
        Assert.Equal(bytes, File.ReadAllBytes(old));
    }

    [Fact]
    public void The_document_with_tracked_changes_is_written_again_without_a_copy_unless_somebody_edited_it()
    {
        Compare("The hives are weighed in May.", "The hives are weighed in June.");
        var result = Living.Compare(folder.File("old.docx"), folder.File("new.docx"), output: folder.File("both.docx"));
        Assert.Empty(result.Remarks);
        var document = new EditedDocument(File.ReadAllBytes(folder.File("both.docx")));
        document.Body.Descendants(W + "t").First().Value += " more";
        document.Save(folder.File("both.docx"));
        Assert.Contains("it is kept as", Assert.Single(Living.Compare(folder.File("old.docx"), folder.File("new.docx"), output: folder.File("both.docx")).Remarks), StringComparison.Ordinal);
    }
}
