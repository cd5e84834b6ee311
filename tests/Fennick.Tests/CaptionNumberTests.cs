using System.Xml.Linq;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Mathematics;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

/// <summary>Numbers of captions by chapter and in appendices, series of captions, groups of equations, panels, and references to all of them.</summary>
public sealed class CaptionNumberTests
{
    private static readonly XNamespace Compatibility = "http://schemas.openxmlformats.org/markup-compatibility/2006";

    private static RecordTable<double> Small => Table.Of(new[] { 1.5 }).Column("Honey (kg)", k => k, "0.0");

    public static TheoryData<string> Houses => new("tansy", "flint", "heron", Repository.PathOf("examples", "survey", "house", "larkmere.docx"));

    private static Report InChapters(House? house = null) => new("Numbers")
    {
        House = (house ?? House.Tansy) with { NumbersHeadings = true },
        Settings = new ReportSettings { CaptionsByChapter = true, Series = [new CaptionSeries("box", "Box", "Boxes")] },
    };

    private static Docx Saved(Report report, bool inForeignHouse = false)
    {
        using var folder = new TestFolder();
        report.Save(folder.File("numbers.docx"));
        return WordClean.Check(folder.File("numbers.docx"), inForeignHouse);
    }

    private static ReportException Refused(Report report)
    {
        using var folder = new TestFolder();
        return Assert.Throws<ReportException>(() => report.Save(folder.File("numbers.docx")));
    }

    private static string Shown(string text) => text.Replace('\u00A0', ' ');

    private static IEnumerable<string> Instructions(Docx docx) => docx.Body.Descendants(Docx.W + "instrText").Where(i => i.Ancestors(Compatibility + "Fallback").FirstOrDefault() is null).Select(i => i.Value.Trim());

    [Theory]
    [MemberData(nameof(Houses))]
    public void A_note_stands_close_under_the_caption_that_it_belongs_to(string house)
    {
        var chart = Chart.Columns(new[] { 1, 2 }, x => x, x => 2.0 * x);
        var report = new Report("Notes") { House = House.Find(house)! }.Add(new FigureBlock(chart) { Caption = RichText.Plain("With a note"), Note = RichText.Plain("Weighed at the gate.") }).Add(new FigureBlock(chart) { Caption = RichText.Plain("Without") });
        var docx = Saved(report, inForeignHouse: house.EndsWith(".docx", StringComparison.Ordinal));
        XElement? SpaceOf(string caption) => docx.Body.Descendants(Docx.W + "p").Single(p => Docx.Text(p).EndsWith(caption, StringComparison.Ordinal)).Element(Docx.W + "pPr")!.Element(Docx.W + "spacing");
        Assert.Equal("0", (string?)SpaceOf("With a note")?.Attribute(Docx.W + "after"));
        Assert.Null(SpaceOf("Without"));
    }

    [Theory]
    [MemberData(nameof(Houses))]
    public void Captions_count_in_chapters_and_appendices_in_every_house(string house)
    {
        var report = InChapters(House.Find(house)).Contents().Add(new ListOfTables())
            .Heading("Honey").Add(Small, label: "first", caption: "First").Add(Small, label: "second", caption: "Second")
            .Heading("Wax").Add(Small, label: "third", caption: "Third").Text($"{SeeAll("first", "second", "third", "far")}; {See("data")}; {See("files")}.")
            .Add(new Appendices()).Heading("Data", label: "data").Heading("Files", level: 2, label: "files").Add(Small, label: "far", caption: "Far")
            .Heading("More").Add(Small, caption: "Last");
        var docx = Saved(report, inForeignHouse: house.EndsWith(".docx", StringComparison.Ordinal));
        var text = Shown(docx.AllText);
        foreach (var caption in (string[])["Table 1.1. First", "Table 1.2. Second", "Table 2.1. Third", "Table A.1. Far", "Table B.1. Last"]) Assert.Equal(2, text.Split(caption).Length - 1);
        Assert.Contains("Tables 1.1, 1.2, 2.1 and A.1; Appendix A; Appendix A.1.", text, StringComparison.Ordinal);
        Assert.Contains("A\tData\t", text, StringComparison.Ordinal);
        Assert.Contains("A.1\tFiles\t", text, StringComparison.Ordinal);
        Assert.Equal(5, Instructions(docx).Count(i => i == @"STYLEREF 1 \s"));
        Assert.Equal(5, Instructions(docx).Count(i => i == @"SEQ Table \* ARABIC \s 1"));

        // The headings of appendices have a list of their own, which all of them share.
        var numbering = docx.Xml("word/numbering.xml").Root!;
        var lists = docx.Body.Descendants(Docx.W + "p").Where(p => Docx.Text(p) is "Data" or "Files" or "More").Select(p => p.Element(Docx.W + "pPr")!.Element(Docx.W + "numPr")!).ToArray();
        Assert.Equal(["0", "1", "0"], lists.Select(l => (string?)l.Element(Docx.W + "ilvl")?.Attribute(Docx.W + "val") ?? "0"));
        var number = Assert.Single(lists.Select(l => (string)l.Element(Docx.W + "numId")!.Attribute(Docx.W + "val")!).Distinct());
        var kind = (string)numbering.Elements(Docx.W + "num").Single(n => (string)n.Attribute(Docx.W + "numId")! == number).Element(Docx.W + "abstractNumId")!.Attribute(Docx.W + "val")!;
        var level = numbering.Elements(Docx.W + "abstractNum").Single(a => (string)a.Attribute(Docx.W + "abstractNumId")! == kind).Elements(Docx.W + "lvl").First();
        Assert.Equal("upperLetter", (string?)level.Element(Docx.W + "numFmt")!.Attribute(Docx.W + "val"));
        Assert.Single(numbering.Elements(Docx.W + "num"), n => (string?)n.Element(Docx.W + "abstractNumId")!.Attribute(Docx.W + "val") == kind);
    }

    [Fact]
    public void Where_headings_have_no_numbers_an_appendix_says_what_it_is()
    {
        var docx = Saved(new Report().Heading("Honey").Add(Small, label: "one", caption: "One").Add(new Appendices()).Heading("Data", label: "data").Heading("Files", level: 2).Add(Small, label: "far", caption: "Far")
            .Text($"{See("one")}, {See("far")}, {See("data")}, {See("files")}."));
        Assert.Contains("Table 1, Table A.1, Appendix A, Files.", Shown(docx.AllText), StringComparison.Ordinal);
        Assert.Contains(docx.Xml("word/numbering.xml").Descendants(Docx.W + "lvlText"), t => (string?)t.Attribute(Docx.W + "val") == "Appendix %1");
        Assert.Contains(@"REF section_data \w \h", Instructions(docx));
    }

    [Fact]
    public void What_stands_in_no_chapter_counts_by_itself()
    {
        var docx = Saved(InChapters().Add(Small, caption: "Before").Heading("Preface", numbered: false).Add(Small, caption: "In the preface").Heading("Honey").Add(Small, caption: "In a chapter")
            .Heading("Interlude", numbered: false).Add(Small, caption: "Between"));
        Assert.Equal(["Table 1. Before", "Table 2. In the preface", "Table 1.1. In a chapter", "Table 3. Between"], docx.ParagraphsOf("Caption").Select(Shown));
        // The word processor counts what follows as the next of the chapter unless it is told.
        Assert.Equal([@"SEQ Table \* ARABIC", @"SEQ Table \* ARABIC", @"SEQ Table \* ARABIC \s 1", @"SEQ Table \* ARABIC \r 3"], Instructions(docx).Where(i => i.StartsWith("SEQ", StringComparison.Ordinal)));
    }

    [Fact]
    public void Readers_without_chapters_are_told_where_to_begin_anew()
    {
        var docx = Saved(InChapters().Heading("Honey").Add(Small, caption: "One").Add(Small, caption: "Two").Heading("Wax").Add(Small, caption: "Three").Add(Small, caption: "Four"));
        var told = docx.Body.Descendants(Compatibility + "Fallback").Select(f => f.Value.Trim()).ToArray();
        Assert.Equal([@"\r 1"], told);
    }

    [Fact]
    public void Chapters_without_numbers_are_an_error_with_the_way_out()
    {
        var problem = Refused(new Report { Settings = new ReportSettings { CaptionsByChapter = true } }.Heading("Honey").Add(Small, caption: "One"));
        Assert.Contains("the headings of chapters have no numbers", problem.Message, StringComparison.Ordinal);
        Assert.Contains("headings.numbered: yes", problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Only_so_many_levels_have_numbers()
    {
        var report = InChapters().Contents().Heading("Honey").Heading("Valleys", level: 2).Heading("Coldbrook", level: 3);
        report.Settings = report.Settings with { NumberedLevels = 2 };
        var docx = Saved(report);
        Assert.Equal(["1\tHoney\t1", "1.1\tValleys\t1", "Coldbrook\t1"], [.. docx.ParagraphsOf("TOC1"), .. docx.ParagraphsOf("TOC2"), .. docx.ParagraphsOf("TOC3")]);
        var deep = docx.Body.Descendants(Docx.W + "p").Single(p => Docx.Text(p) == "Coldbrook");
        Assert.Equal("0", (string?)deep.Descendants(Docx.W + "numId").Single().Attribute(Docx.W + "val"));
    }

    [Fact]
    public void A_series_has_numbers_a_list_and_references_of_its_own()
    {
        var docx = Saved(InChapters().Add(new ListOfSeries("box")).Heading("Honey")
            .Add(new SeriesItem("box", "How hives are weighed", [new Paragraph("At dusk.")]) { Label = new Label("weighing", null) })
            .Add(new TableBlock(Small.ToTable()) { Series = "box", Caption = "What they weigh", Label = new Label("weights", null) })
            .Add(Small, label: "table", caption: "A table").Text($"{SeeAll("weighing", "weights")} and {See("table")}."));
        Assert.Equal(["Box 1.1. How hives are weighed\t1", "Box 1.2. What they weigh\t1"], docx.ParagraphsOf("TableofFigures").Select(Shown));
        Assert.Contains("Boxes 1.1 and 1.2 and Table 1.1.", Shown(docx.AllText), StringComparison.Ordinal);
        Assert.Contains(@"TOC \h \z \c ""Box""", Instructions(docx));
        var problem = Refused(InChapters().Heading("Honey").Add(new SeriesItem("boxes", "Wrong", [new Paragraph("At dusk.")])));
        Assert.Contains("there is no series `boxes`", problem.Message, StringComparison.Ordinal);
        Assert.Contains("did you mean `box`?", problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Equations_of_a_group_share_a_number_and_have_letters()
    {
        static Equation Equation(string label) => new(Formula.Of("a = b"), new Label(label, null));
        var docx = Saved(new Report().Add(Equation("before")).Add(new EquationGroup([Equation("a"), new Paragraph("where"), Equation("b"), Equation("c")], new Label("all", null))).Add(Equation("behind"))
            .Text($"{See("all")}, {See("b")}, {SeeAll("a", "b", "c")}, {See("behind")}."));
        Assert.Equal(["(1)", "(2a)", "(2b)", "(2c)", "(3)"], docx.Tables.Select(t => t[0][^1]));
        Assert.Contains("Equation (2), Equation (2b), Equations (2a)–(2c), Equation (3).", Shown(docx.AllText), StringComparison.Ordinal);
        Assert.Equal([@"SEQ Equation \* ARABIC", @"SEQ Equation \* ARABIC", @"SEQ Equation \* ARABIC \c", @"SEQ Equation \* ARABIC \c", @"SEQ Equation \* ARABIC"], Instructions(docx).Where(i => i.StartsWith("SEQ Equation ", StringComparison.Ordinal)));
        Assert.Contains("holds no equation", Refused(new Report().Add(new EquationGroup([new Paragraph("Nothing.")]))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_panel_with_a_letter_is_referred_to()
    {
        var panels = ChartPanels.Of(("Amber", Chart.Columns(new[] { 1, 2 }, x => x, x => 2.0 * x)), ("Dusk", Chart.Columns(new[] { 1, 2 }, x => x, x => 3.0 * x)));
        var docx = Saved(new Report().Add(panels.WithLetters(), label: "strains", caption: "Strains").Text($"{SeePanel("strains", 'b')}."));
        Assert.Equal("Figure 1b.", Shown(docx.Paragraphs[^1]));
        Assert.Equal(["(a)\u00A0Amber", "(b)\u00A0Dusk"], docx.ParagraphsOf("Note"));
        Assert.Contains("only (a) to (b)", Refused(new Report().Add(panels.WithLetters(), label: "strains").Text($"{SeePanel("strains", 'c')}.")).Message, StringComparison.Ordinal);
        Assert.Contains("has no panels with letters", Refused(new Report().Add(panels, label: "strains").Text($"{SeePanel("strains", 'a')}.")).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("fr", "Tableau 1. Le tableau 1, comme le tableau 1 ; voir les tableaux 1 et 2. Tableau 2")]
    [InlineData("de", "Tabelle 1. Le Tabelle 1, comme le Tabelle 1 ; voir les Tabellen 1 et 2. Tabelle 2")]
    [InlineData("pl", "Tabela 1. Le tabela 1, comme le tabela 1 ; voir les tabele 1 i 2. Tabela 2")]
    public void A_word_is_small_in_a_sentence_where_the_language_has_it_so(string language, string expected)
    {
        var docx = Saved(new Report { Language = Language.Find(language)! }.Add(Small, label: "one", caption: "One").Add(Small, label: "two", caption: "Two")
            .Text($"{See("one")}. Le {See("one")}, comme le {See("one")} ; voir les {SeeAll("one", "two")}. {See("two")}"));
        Assert.Equal(expected.Replace(" et ", language == "de" ? " und " : " et ", StringComparison.Ordinal), Shown(docx.Paragraphs[^1]));
    }

    [Fact]
    public void A_word_takes_the_case_that_is_asked_for()
    {
        static SeeInline See(string label, WordCase wanted) => new(label, null) { Case = wanted };
        var polish = Saved(new Report { Language = Language.Find("pl")! }.Add(Small, label: "one", caption: "One").Text($"W {See("one", WordCase.Locative)}, zgodnie z {See("one", WordCase.Instrumental)}."));
        Assert.Equal("W tabeli 1, zgodnie z tabelą 1.", Shown(polish.Paragraphs[^1]));
        var german = new Report { Language = Language.Find("de")!, House = House.Tansy with { NumbersHeadings = true } }.Heading("Eins").Heading("Zwei")
            .Text($"In den {new SeeAllInline([new SeeInline("eins", null), new SeeInline("zwei", null)]) { Case = WordCase.Dative }}; laut {new SeeInline("eins", null) { Word = "Kapitel" }}.");
        Assert.Equal("In den Abschnitten 1 und 2; laut Kapitel 1.", Shown(Saved(german).Paragraphs[^1]));
    }

    [Fact]
    public void Where_something_is_depends_on_the_pages()
    {
        var where = new Report().Text($"One {See("far", SeePart.Where)}, {See("near", SeePart.Where)}, {See("next", SeePart.Where)}.").Add(Small, label: "near", caption: "Near").Text($"Two {See("near", SeePart.Where)}.").Add(new PageBreak())
            .Add(Small, label: "next", caption: "Next").Text($"Three {See("near", SeePart.Where)}.").Add(new PageBreak()).Add(Small, label: "far", caption: "Far").Text($"Four {See("near", SeePart.Where)}.");
        var docx = Saved(where);
        Assert.Equal(["One on page 3, below, on the next page.", "Two above.", "Three on the previous page.", "Four on page 1."], docx.Paragraphs.Where(p => p.EndsWith('.') && !p.StartsWith("Table", StringComparison.Ordinal)));
        where.Page = new PageLayout { EvenHeader = "Even" };
        var facing = Saved(where);
        Assert.Contains("One on page 3, below, on the next page.", facing.Paragraphs);
        var second = new Report { Page = new PageLayout { EvenHeader = "Even" } }.Text($"First.").Add(new PageBreak()).Text($"Left: {See("right", SeePart.Where)}.").Add(new PageBreak()).Add(Small, label: "right", caption: "Right");
        Assert.Contains("Left: on the facing page.", Saved(second).Paragraphs);
    }

    [Fact]
    public void The_index_names_each_page_once_in_the_order_of_the_alphabet()
    {
        var docx = Saved(new Report().Text($"Wax{IndexTerm("wax")} and wax{IndexTerm("wax")}.").Heading($"Honey{IndexTerm("honey")}").Add(new PageBreak()).Text($"More{IndexTerm("wax")} of it{IndexTerm("honey", "weight \"dry\"")}.").Add(new IndexOfTerms()));
        Assert.Equal(["honey, 1", "wax, 1, 2"], docx.ParagraphsOf("Index1"));
        Assert.Equal(["weight \"dry\", 2"], docx.ParagraphsOf("Index2"));
        Assert.Contains(@"XE ""honey:weight \""dry\""""", Instructions(docx));
        Assert.Contains(@"INDEX \e "", """, Instructions(docx));
        // What refers to the heading does not bring its place of the index along.
        var heading = docx.Body.Descendants(Docx.W + "p").Single(p => Docx.Text(p) == "Honey");
        Assert.True(heading.Elements().ToList().FindLastIndex(e => e.Name == Docx.W + "bookmarkEnd") < heading.Elements().ToList().FindIndex(e => e.Descendants(Docx.W + "instrText").Any()));
    }

    [Fact]
    public void An_abbreviation_is_explained_where_the_text_uses_it_first()
    {
        var docx = Saved(new Report().Heading($"The {Abbreviation("HLR")}").Text($"An {Abbreviation("HLR")} of {Abbreviation("CB", "Coldbrook")}.").Text($"The {Abbreviation("HLR", "honey left in reserve")} of {Abbreviation("CB")}.").Add(new ListOfAbbreviations()));
        Assert.Equal(["The HLR", "An honey left in reserve (HLR) of Coldbrook (CB).", "The HLR of CB.", "Abbreviations", "CB\tColdbrook", "HLR\thoney left in reserve"], docx.Paragraphs.Where(p => p.Length > 0));
        var twice = Refused(new Report().Text($"{Abbreviation("HLR", "honey left in reserve")} {Abbreviation("HLR", "hives lost in rain")} {Abbreviation("HLX")}"));
        Assert.Contains("stands for two things", twice.Message, StringComparison.Ordinal);
        Assert.Contains("nothing says what `HLX` stands for", twice.Message, StringComparison.Ordinal);
        Assert.Contains("did you mean `HLR`?", twice.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Captions_and_headings_that_refer_stand_in_lists_as_the_reader_sees_them()
    {
        var report = new Report("Refer").Contents().Add(new ListOfTables())
            .Heading($"On {See("first")}", label: "on")
            .Add(Small, label: "first", caption: "First")
            .Add(Small, label: "second", caption: $"As {See("first")}, {See("first", SeePart.Title)}, page {See("first", SeePart.Page)}, {SeeAll("first", "second")}")
            .Text($"{See("second", SeePart.Title)}; {See("on", SeePart.Title)}.");
        var docx = Saved(report);
        var caption = "As Table 1, First, page 1, Tables 1 and 2";
        Assert.Equal(["On Table 1\t1"], docx.ParagraphsOf("TOC1").Select(Shown));
        Assert.Equal(["Table 1. First\t1", $"Table 2. {caption}\t1"], docx.ParagraphsOf("TableofFigures").Select(Shown));
        Assert.Contains($"{caption}; On Table 1.", docx.Paragraphs.Select(Shown));
        Assert.Contains(docx.Body.Descendants(Docx.W + "tblCaption"), c => Shown((string)c.Attribute(Docx.W + "val")!).StartsWith("As Table 1, First", StringComparison.Ordinal));
    }

    [Fact]
    public void Titles_that_name_each_other_in_a_circle_end()
    {
        var report = new Report("Circle").Contents().Add(new ListOfTables())
            .Heading($"One of {See("two")}", label: "one").Heading($"Two of {See("one")}", label: "two")
            .Add(Small, label: "a", caption: $"Beside {See("b", SeePart.Title)}").Add(Small, label: "b", caption: $"Beside {See("a", SeePart.Title)}, {See("b", SeePart.Title)}");
        var docx = Saved(report);
        Assert.Equal(2, docx.ParagraphsOf("TOC1").Count);
        Assert.Equal(["Table 1. Beside Beside Beside 2, 2\t1", "Table 2. Beside Beside Beside 1, 2, Beside Beside 2, 2\t1"], docx.ParagraphsOf("TableofFigures").Select(Shown));
    }
}
