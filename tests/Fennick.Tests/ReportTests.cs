using System.Xml.Linq;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

public sealed class ReportTests : IDisposable
{
    private static readonly (string Strain, int Hives, double? Honey)[] Strains = [("Amber", 227, 24.4), ("Dusk", 209, 26.25), ("Heath", 148, null)];
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Save(Report report)
    {
        var path = folder.File("report.docx");
        report.Save(path);
        return WordClean.Check(path);
    }

    private static RecordTable<(string Strain, int Hives, double? Honey)> HoneyTable() =>
        Table.Of(Strains).Column("Strain", s => s.Strain).Column("Hives", s => s.Hives).Column("Honey (kg)", s => s.Honey, "0.0");

    private static Chart HoneyChart() => Chart.Columns(Strains, s => s.Strain, s => s.Honey).Axes("Strain", "Honey (kg)").Format("0.0").WithValues();

    [Fact]
    public void A_report_shows_title_text_table_and_figure_in_order()
    {
        var report = new Report("Honey & more") { Subtitle = "A test", Authors = ["A. Keeper"], Date = new DateOnly(2025, 11, 3) };
        report.Heading("Results")
            .Text($"See {See("honey")} and {See("honey-chart")}, or {See("results")}.")
            .Add(HoneyTable(), label: "honey", caption: "Honey by strain", note: "Means.")
            .Add(HoneyChart(), label: "honey-chart", caption: "Honey by strain, drawn");
        var docx = Save(report);
        Assert.Equal(
            ["Honey & more", "A test", "A. Keeper", "3 November 2025", "Results", "See Table\u00A01 and Figure\u00A01, or Results.", "Table\u00A01. Honey by strain", "Means.", "", "Figure\u00A01. Honey by strain, drawn"],
            docx.Paragraphs);
        Assert.Equal([["Strain", "Hives", "Honey (kg)"], ["Amber", "227", "24.4"], ["Dusk", "209", "26.3"], ["Heath", "148", "—"]], docx.Tables[0]);
        Assert.Equal(["Amber", "Dusk", "Heath", "24.4", "26.25"], docx.Xml("word/charts/chart1.xml").Descendants(Docx.C + "pt").Where(p => p.Parent!.Parent!.Parent!.Name != Docx.C + "tx").Select(p => p.Value));
        Assert.Equal("Honey & more", docx.Xml("docProps/core.xml").Root!.Elements().Single(e => e.Name.LocalName == "title").Value);
    }

    [Fact]
    public void Words_are_markdown_and_values_are_not()
    {
        var docx = Save(new Report().Text($"**{"*a* & [b](c)"}** and *{1234567.5}*, `code`, {-3.5:0.0}."));
        Assert.Equal("*a* & [b](c) and 1,234,568, code, −3.5.", docx.Paragraphs[0]);
        Assert.Equal(["Strong", "Emphasis", "CodeText"], docx.Body.Descendants(Docx.W + "rStyle").Select(s => (string?)s.Attribute(Docx.W + "val")));
    }

    [Fact]
    public void Emphasis_beside_a_value_holds_although_a_letter_follows()
    {
        var docx = Save(new Report().Text($"**{24.5}**kg and *{"Dusk"}*s"));
        Assert.Equal("24.5kg and Dusks", docx.Paragraphs[0]);
        Assert.Equal(["24.5", "Dusk"], docx.Body.Descendants(Docx.W + "rStyle").Select(s => Docx.Text(s.Parent!.Parent!)));
    }

    [Fact]
    public void Lists_nest_and_numbered_lists_start_anew()
    {
        var docx = Save(new Report().Text("1. one\n2. two\n   - deep\n\n     more\n\nBetween\n\n1. again\n"));
        Assert.Equal(["one", "two", "deep", "more", "Between", "again"], docx.Paragraphs);
        var places = docx.Body.Descendants(Docx.W + "numPr").Select(n => ((string)n.Element(Docx.W + "numId")!.Attribute(Docx.W + "val")!, (string)n.Element(Docx.W + "ilvl")!.Attribute(Docx.W + "val")!)).ToArray();
        Assert.Equal(4, places.Length);
        Assert.Equal(places[0], places[1]);
        Assert.Equal("1", places[2].Item2);
        Assert.NotEqual(places[0].Item1, places[3].Item1);
    }

    [Fact]
    public void Lists_have_a_mark_for_each_level_room_for_their_numbers_and_one_mark_for_a_task()
    {
        var docx = Save(new Report().Text("- a\n  - b\n    - c\n      - d\n\nBetween\n\n- [ ] open\n- [x] done\n- plain\n\nBetween\n\n98. entry\n99. more\n100. most\n"));
        Assert.Equal(["a", "b", "c", "d", "Between", "open", "done", "plain", "Between"], docx.Paragraphs.Take(9));
        var numbering = docx.Xml("word/numbering.xml").Root!;
        var bullets = numbering.Elements(Docx.W + "abstractNum").First(a => Value(a.Element(Docx.W + "lvl")!, "pStyle") == "ListBullet");
        Assert.Equal(4, bullets.Elements(Docx.W + "lvl").Take(4).Select(l => Value(l, "lvlText")).Distinct().Count());
        XElement Number(string text) => numbering.Elements(Docx.W + "num").Single(n => (string?)n.Attribute(Docx.W + "numId") == Value(docx.Body.Descendants(Docx.W + "p").First(p => Docx.Text(p) == text).Descendants(Docx.W + "numPr").Single(), "numId"));
        Assert.Equal("☐", Value(Number("open").Descendants(Docx.W + "lvl").Single(), "lvlText"));
        Assert.Equal("☑", Value(Number("done").Descendants(Docx.W + "lvl").Single(), "lvlText"));
        Assert.Empty(Number("plain").Elements(Docx.W + "lvlOverride"));
        Assert.True((int)Number("entry").Descendants(Docx.W + "ind").Single().Attribute(Docx.W + "hanging")! > (int)bullets.Descendants(Docx.W + "ind").First().Attribute(Docx.W + "hanging")!);
        // Roman numbers are as wide as the widest of them.
        var deep = Save(new Report().Text("1. a\n   1. b\n      1. c1\n      2. c2\n      3. c3\n      4. c4\n      5. c5\n      6. c6\n      7. c7\n      8. c8\n"));
        var roman = deep.Xml("word/numbering.xml").Root!.Elements(Docx.W + "num").Last().Descendants(Docx.W + "lvl").Single();
        Assert.Equal(("lowerRoman", "2"), (Value(roman, "numFmt"), (string?)roman.Attribute(Docx.W + "ilvl")));
        Assert.True((int)roman.Descendants(Docx.W + "ind").Single().Attribute(Docx.W + "hanging")! > 360);
        // A style that somebody applies by hand brings its mark, and only the last item has space below it.
        foreach (var id in new[] { "ListBullet", "ListNumber" })
        {
            var style = docx.Xml("word/styles.xml").Root!.Elements(Docx.W + "style").Single(s => (string?)s.Attribute(Docx.W + "styleId") == id);
            Assert.NotNull(style.Descendants(Docx.W + "contextualSpacing").SingleOrDefault());
            var own = numbering.Elements(Docx.W + "num").Single(n => (string?)n.Attribute(Docx.W + "numId") == Value(style.Descendants(Docx.W + "numPr").Single(), "numId"));
            Assert.Equal(id, Value(numbering.Elements(Docx.W + "abstractNum").Single(a => (string?)a.Attribute(Docx.W + "abstractNumId") == Value(own, "abstractNumId")).Element(Docx.W + "lvl")!, "pStyle"));
        }

        static string? Value(XElement parent, string name) => (string?)parent.Element(Docx.W + name)?.Attribute(Docx.W + "val");
    }

    [Fact]
    public void The_same_report_gives_the_same_bytes()
    {
        byte[] Bytes(string name)
        {
            var report = new Report("Twice") { Date = new DateOnly(2025, 11, 3) };
            report.Text($"Text {1.5}").Add(HoneyTable(), caption: "T").Add(HoneyChart(), caption: "F").Save(folder.File(name));
            WordClean.Check(folder.File(name));
            return File.ReadAllBytes(folder.File(name));
        }
        Assert.Equal(Bytes("a.docx"), Bytes("b.docx"));
    }

    [Fact]
    public void One_table_may_be_placed_twice_and_counts_twice()
    {
        var table = HoneyTable();
        var docx = Save(new Report().Add(table, label: "first", caption: "First").Add(table, label: "second", caption: "Second").Text($"{See("second")}"));
        Assert.Equal(["Table\u00A01. First", "Table\u00A02. Second"], docx.ParagraphsOf("Caption"));
        Assert.Contains("Table\u00A02", docx.Paragraphs);
    }

    [Fact]
    public void Wrong_references_and_labels_are_named_and_nothing_is_written()
    {
        var path = folder.File("report.docx");
        File.WriteAllText(path, "old");
        var report = new Report().Text($"{See("hony")}").Add(HoneyTable(), label: "honey", caption: "A").Add(HoneyTable(), label: "honey", caption: "B");
        var problem = Assert.Throws<ReportException>(() => report.Save(path));
        Assert.Collection(
            problem.Diagnostics,
            d => Assert.Matches(@"^ReportTests\.cs:\d+:1: error: the label `honey` is used twice \(first at ReportTests\.cs:\d+:1\)", d.ToString()),
            d => Assert.Matches(@"^ReportTests\.cs:\d+:1: error: there is no label `hony`; did you mean `honey`\?$", d.ToString()));
        Assert.Equal("old", File.ReadAllText(path));
        Assert.Single(Directory.GetFiles(folder.Path));
    }

    [Fact]
    public void A_lock_file_of_a_word_processor_is_told()
    {
        folder.Write(".~lock.report.docx#", "");
        var warning = Assert.Single(new Report("A").Save(folder.File("report.docx")));
        Assert.Contains("open in a word processor", warning.Message, StringComparison.Ordinal);
        Assert.Contains("open it again", warning.Suggestion!, StringComparison.Ordinal);
        folder.Write("~$port.docx", "");
        File.Delete(folder.File(".~lock.report.docx#"));
        Assert.Single(new Report("A").Save(folder.File("report.docx")));
        WordClean.Check(folder.File("report.docx"));
    }

    [Fact]
    public void Characters_that_no_document_can_hold_are_left_out_and_told()
    {
        var path = folder.File("report.docx");
        var warning = Assert.Single(new Report().Text($"{"a\u0001b\uD800c\uFFFE😀"}").Save(path));
        Assert.StartsWith("3 characters", warning.Message, StringComparison.Ordinal);
        Assert.Equal("abc😀", WordClean.Check(path).Paragraphs[0]);
    }

    [Fact]
    public void Text_from_right_to_left_is_marked()
    {
        var docx = Save(new Report().Text($"{"שלום world"}"));
        Assert.Equal("שלום world", docx.Paragraphs[0]);
        Assert.NotNull(docx.Body.Element(Docx.W + "p")!.Element(Docx.W + "pPr")!.Element(Docx.W + "bidi"));
        Assert.Single(docx.Body.Descendants(Docx.W + "rtl"));
    }

    [Fact]
    public void A_wide_table_never_exceeds_the_text_and_says_what_does_not_fit()
    {
        var words = Enumerable.Range(0, 40).Select(i => new { Word = $"Donaudampfschiff{i}" }).ToArray();
        var table = words.Aggregate(Table.Of([1]), (t, w) => t.Column(w.Word, _ => w.Word));
        var path = folder.File("wide.docx");
        var warning = Assert.Single(new Report().Add(table, caption: "Too wide").Save(path));
        Assert.Contains("\"Too wide\" has 40 columns, too many for its page", warning.Message, StringComparison.Ordinal);
        var docx = WordClean.Check(path);
        Assert.All(docx.Body.Descendants(Docx.W + "tblW"), w => Assert.InRange((int)w.Attribute(Docx.W + "w")!, 1_000, docx.TextWidth));
    }

    [Fact]
    public void Long_words_in_a_wide_table_wrap_the_columns_that_have_room()
    {
        var text = string.Join(' ', Enumerable.Repeat("forage", 60));
        var docx = Save(new Report().Add(Table.Of([1]).Column("A", _ => 1).Column("B", _ => text)));
        var widths = docx.Body.Descendants(Docx.W + "gridCol").Select(g => (int)g.Attribute(Docx.W + "w")!).ToArray();
        Assert.InRange(widths.Sum(), docx.TextWidth - 14, docx.TextWidth);
        Assert.True(widths[0] < 500);
    }

    [Theory]
    [InlineData("de-DE", "Tabelle\u00A01. T", "3. November 2025", "1,5")]
    [InlineData("fr-FR", "Tableau\u00A01. T", "3 novembre 2025", "1,5")]
    [InlineData("en-US", "Table\u00A01. T", "November 3, 2025", "1.5")]
    public void The_language_gives_words_dates_and_numbers(string tag, string caption, string date, string number)
    {
        var report = new Report { Language = Language.Find(tag)!, Date = new DateOnly(2025, 11, 3) };
        var docx = Save(report.Text($"{1.5}").Add(HoneyTable(), caption: "T"));
        Assert.Contains(caption, docx.Paragraphs);
        Assert.Contains(date, docx.Paragraphs);
        Assert.Contains(number, docx.Paragraphs);
        Assert.Equal(tag, (string?)docx.Xml("word/styles.xml").Descendants(Docx.W + "lang").Single().Attribute(Docx.W + "val"));
    }

    [Fact]
    public void A_language_without_words_of_its_own_is_told()
    {
        var report = new Report { Language = Language.Find("fi-FI")! };
        Assert.Contains("fi-FI", Assert.Single(report.Text("x").Save(folder.File("fi.docx"))).Message, StringComparison.Ordinal);
        WordClean.Check(folder.File("fi.docx"));
    }

    [Fact]
    public void An_empty_report_is_a_clean_document() => Assert.Equal([""], Save(new Report()).Paragraphs);

    [Fact]
    public void Links_are_escaped_and_stay_clickable()
    {
        var docx = Save(new Report().Text("[a](<https://x.example/a b?q=ä&r=100%>) and <https://y.example>"));
        Assert.Equal("a and https://y.example", docx.Paragraphs[0]);
        Assert.Equal(
            ["https://x.example/a%20b?q=%C3%A4&r=100%25", "https://y.example"],
            docx.Xml("word/_rels/document.xml.rels").Root!.Elements().Where(e => (string?)e.Attribute("TargetMode") == "External").Select(e => (string)e.Attribute("Target")!));
    }

    [Fact]
    public void Missing_values_leave_a_gap_in_a_chart()
    {
        var docx = Save(new Report().Add(HoneyChart(), caption: "F"));
        var values = docx.Xml("word/charts/chart1.xml").Descendants(Docx.C + "numCache").Single();
        Assert.Equal("3", (string?)values.Element(Docx.C + "ptCount")!.Attribute("val"));
        Assert.Equal(["0", "1"], values.Elements(Docx.C + "pt").Select(p => (string)p.Attribute("idx")!));
        Assert.Equal("Column chart: Honey (kg), Strain. Amber 24.4; Dusk 26.3; Heath —.", (string?)docx.Body.Descendants(Docx.Wp + "docPr").Single().Attribute("descr"));
    }

    [Fact]
    public void Wrong_calls_say_what_to_do()
    {
        Assert.Contains("no data", Assert.Throws<ReportException>(() => Chart.Columns<int>([], c => c, c => c)).Message, StringComparison.Ordinal);
        Assert.Contains("no columns", Assert.Throws<ReportException>(() => new Report().Add(Table.Of([1]))).Message, StringComparison.Ordinal);
        Assert.Contains("column `A`: `perecent 1` is not a format for a number", Assert.Throws<ReportException>(() => Table.Of([1.5]).Column("A", v => v, "perecent 1")).Message, StringComparison.Ordinal);
        Assert.Contains("levels are 1 to 6", Assert.Throws<ReportException>(() => new Report().Heading("x", level: 7)).Message, StringComparison.Ordinal);
        Assert.Contains("HTML", Assert.Throws<ReportException>(() => new Report().Text("a <b>c</b>")).Message, StringComparison.Ordinal);
        Assert.Contains("single paragraph", Assert.Throws<ReportException>(() => new Report().Add(HoneyTable(), caption: "a\n\nb")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_table_prints_as_aligned_text() => Assert.Equal(
        """
        ─────────────────────────
        Strain  Hives  Honey (kg)
        ─────────────────────────
        Amber     227        24.4
        Dusk      209        26.3
        Heath     148           —
        ─────────────────────────
        """, HoneyTable().ToString());

    [Fact]
    public void Numbers_of_a_column_without_a_format_share_their_decimals()
    {
        var table = Table.Of([0.5, 12.345, 101.0]).Column("x", v => v).Column("n", v => (int)v).ToTable();
        Assert.Equal(["0.50", "12.35", "101.00"], table.Rows.Select(r => r.Cells[0].Content.ToPlainText()));
        Assert.Equal(["−1.3", "1,000,000.5"], Table.Of([-1.25, 1_000_000.5]).Column("x", v => v).ToTable().Rows.Select(r => r.Cells[0].Content.ToPlainText()));
        Assert.Equal(["0.000", "12.345"], Table.Of([0.00001, 12.345]).Column("x", v => v).ToTable().Rows.Select(r => r.Cells[0].Content.ToPlainText()));
        Assert.Equal([Alignment.Right, Alignment.Right], table.Columns.Select(c => c.Alignment));
    }

    [Theory]
    [InlineData("x.odt", "write `x.docx`")]
    [InlineData("x", "write `x.docx`")]
    [InlineData("season.2025", "write `season.2025.docx`")]
    public void A_name_that_is_no_word_processor_document_is_refused(string name, string suggestion)
    {
        var problem = Assert.Throws<Diagnostics.ReportException>(() => new Report("x").Text("y").Save(name));
        Assert.Equal(suggestion, problem.Diagnostics.Single().Suggestion);
        Assert.False(File.Exists(name));
    }
}
