using Fennick.Diagnostics;
using Fennick.Pictures;
using Fennick.Plots;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;
using static Fennick.Testing.HouseBuilder;

namespace Fennick.Manuscripts.Tests;

/// <summary>Houses, livery, slots and pages, as settings and braces say them.</summary>
public sealed class HouseSettingsTests : IDisposable
{
    private const string Fence = "```";
    private static readonly string Larkmere = Repository.PathOf("examples", "survey", "house");
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private (Docx Docx, IReadOnlyList<Diagnostic> Diagnostics) Write(string settings, string text, Dictionary<string, string>? with = null, bool inForeignHouse = true)
    {
        var result = Manuscript.Open(folder.Write("report.ms.md", $"{Fence}manuscript\n{settings}\n{Fence}\n\n{text}"), with).Write();
        return (WordClean.Check(result.Path, inForeignHouse), result.Diagnostics);
    }

    private string Fail(string settings, string text = "Text.") => Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("report.ms.md", $"{Fence}manuscript\n{settings}\n{Fence}\n\n{text}")).Write()).Message
        .Replace(folder.File("report.ms.md"), "report.ms.md", StringComparison.Ordinal);

    private static string Story(Docx docx, string kind) => string.Join('/', docx.Names.Where(n => n.StartsWith($"word/{kind}", StringComparison.Ordinal)).Select(n => Text(docx.Xml(n).Root!)));

    [Fact]
    public void A_report_wears_the_house_that_its_settings_name()
    {
        File.Copy(Path.Combine(Larkmere, "larkmere.docx"), folder.File("larkmere.docx"));
        var (docx, diagnostics) = Write("title: Hives & valleys\nsubtitle: Found\nauthor: Ada Moss\ndate: 2025-11-03\nhouse: larkmere.docx", "# Honey\n\nText.");
        Assert.Empty(diagnostics);
        Assert.Equal(["Larkmere Hive Survey", "Hives & valleys", "Found", "Ada Moss", "3 November 2025"], docx.Paragraphs.Take(5));
        Assert.Equal(["Honey", "Text."], docx.Paragraphs.Skip(6).Take(2));
        Assert.EndsWith("by its keeper’s name.", docx.Paragraphs[^1], StringComparison.Ordinal);
        Assert.Contains("\tHives & valleys", Story(docx, "header"), StringComparison.Ordinal);
        Assert.Contains("3 November 2025\tPage 3 of 3", Story(docx, "footer"), StringComparison.Ordinal);
    }

    [Fact]
    public void Manuscripts_share_the_settings_of_a_file_above_them()
    {
        folder.Write("fennick.settings", "house: flint\nhouse.accent: #7A1F3D\ntables.ruling: banded");
        var path = folder.Write("2025/autumn/report.ms.md", $"{Fence}manuscript\nhouse.accent: #1F5C7A\n{Fence}\n\n| a |\n|---|\n| 1 |\n");
        var docx = WordClean.Check(Manuscript.Open(path).Write().Path);
        Assert.Equal("TableBanded", (string?)docx.Body.Descendants(W + "tblStyle").Single().Attribute(W + "val"));
        var theme = System.Text.Encoding.UTF8.GetString(docx.Bytes("word/theme/theme1.xml"));
        Assert.Contains("name=\"flint\"", theme, StringComparison.Ordinal);
        Assert.Contains("<a:accent1><a:srgbClr val=\"1F5C7A\"", theme, StringComparison.Ordinal);
        folder.Write("fennick.settings", "house: flint\nhose.accent: #7A1F3D");
        Assert.Contains("fennick.settings:2:1: error: `hose.accent` is not a setting; did you mean `house.accent`?", Assert.Throws<ReportException>(() => Manuscript.Open(path)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Slots_take_parameters_expressions_and_what_labelled_steps_give()
    {
        var body = Paragraph(Run("In ") + Slot("apiary") + Run(" the mean was ") + Slot("{kilograms.Average():0.0}") + Run(" kg: ") + Slot("verdict") + Run(".")) + Paragraph(Slot("hives")) + Paragraph(Run("Signed."));
        new HouseBuilder(body, Style("Normal", "Normal", isDefault: true)).Save(folder.File("letter.docx"));
        var text = $"{Fence}csharp prepare\nvar kilograms = new[] {{ 20.0, 27.5 }};\n{Fence}\n\n{Fence}csharp text verdict\nkilograms.Max() > 25 ? \"a *good* year\" : \"a poor year\"\n{Fence}\n\n"
            + $"{Fence}csharp table hives\ncaption: Hives of {{apiary}}\n=>\nTable.Of(kilograms).Column(\"kg\", k => k, \"0.0\")\n{Fence}\n";
        var (docx, diagnostics) = Write("house: letter.docx\nhouse.values: yes\nparameter apiary: Alder Bank", text);
        Assert.Empty(diagnostics);
        Assert.Equal("In Alder Bank the mean was 23.8 kg: a good year.", docx.Paragraphs[0]);
        Assert.Equal("Table\u00A01. Hives of Alder Bank", docx.Paragraphs[1]);
        Assert.Equal("27.5", docx.Tables.Single()[2][0]);
        Assert.Equal("Signed.", docx.Paragraphs[^1]);
        // A mistake in an expression is told at its slot.
        new HouseBuilder(Paragraph(Slot("{kilogram.Average()}")) + Paragraph(Slot("body")), Style("Normal", "Normal", isDefault: true)).Save(folder.File("letter.docx"));
        Assert.Contains("letter.docx: slot `{kilogram.Average()}`", Fail("house: letter.docx\nhouse.values: yes", text), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("{System.IO.File.ReadAllText(\"/etc/hostname\")}", "is not a value that a house may ask for")]
    [InlineData("{Environment.MachineName}", "`Environment` is not a variable of the manuscript")]
    [InlineData("{typeof(int).Name}", "is not a value that a house may ask for")]
    [InlineData("{new Random().Next()}", "is not a value that a house may ask for")]
    [InlineData("{kilograms.Select(k => k).First()}", "is not a value that a house may ask for")]
    [InlineData("{file.Delete()}", "is not a value that a house may ask for")]
    [InlineData("{file.Open(FileMode.Create)}", "is not a value that a house may ask for")]
    [InlineData("{kilograms[0] + System.IO.File.ReadAllBytes(\"x\").Length}", "is not a value that a house may ask for")]
    [InlineData("{(kilograms)}", "is not a value that a house may ask for")]
    [InlineData("{kilograms = null}", "is not a value that a house may ask for")]
    [InlineData("{kilograms.Length", "is not a value that a house may ask for")]
    public void A_house_is_no_program(string slot, string message)
    {
        new HouseBuilder(Paragraph(Slot(slot.Replace("\"", "&quot;", StringComparison.Ordinal).Replace(">", "&gt;", StringComparison.Ordinal))) + Paragraph(Slot("body")), Style("Normal", "Normal", isDefault: true)).Save(folder.File("letter.docx"));
        var text = $"{Fence}csharp prepare\nvar kilograms = new[] {{ 20.0, 27.5 }};\nvar file = new FileInfo(\"made\");\n{Fence}\n\nText.\n";
        Assert.Contains(message, Fail("house: letter.docx\nhouse.values: yes", text), StringComparison.Ordinal);
        // Without the manuscript's word nothing is even looked at.
        var (docx, diagnostics) = Write("house: letter.docx", text);
        Assert.Contains(diagnostics, d => d.Message == $"the house asks for the value of `{slot[1..].TrimEnd('}')}`, which it does not get");
        Assert.Equal("placeholder", docx.Paragraphs[0]);
    }

    [Fact]
    public void A_slot_in_the_old_form_tells_the_new_one()
    {
        new HouseBuilder(Paragraph(Slot("=kilograms.Length")) + Paragraph(Slot("body")), Style("Normal", "Normal", isDefault: true)).Save(folder.File("letter.docx"));
        Assert.Contains("letter.docx: slot `=kilograms.Length`: error: a slot for a value is now written in braces; write `{kilograms.Length}` as its tag", Fail("house: letter.docx", "Text."), StringComparison.Ordinal);
    }

    [Fact]
    public void What_a_house_is_given_is_shown_by_check()
    {
        new HouseBuilder(Paragraph(Slot("{kilograms[^1]:0.0}")) + Paragraph(Slot("{kilograms.Length}")) + Paragraph(Slot("body")), Style("Normal", "Normal", isDefault: true)).Save(folder.File("letter.docx"));
        var path = folder.Write("report.ms.md", $"{Fence}manuscript\nhouse: letter.docx\nhouse.values: yes\n{Fence}\n\n{Fence}csharp prepare\nvar kilograms = new[] {{ 20.0, 27.5 }};\n{Fence}\n\nText.\n");
        Assert.Equal(["the house is given the value of `kilograms[^1]:0.0`, as `house.values: yes` allows", "the house is given the value of `kilograms.Length`, as `house.values: yes` allows"], Manuscript.Open(path).Check().Diagnostics.Select(d => d.Message));
        Assert.Equal(["27.5", "2", "Text."], WordClean.Check(Manuscript.Open(path).Write().Path, inForeignHouse: true).Paragraphs);
    }

    [Fact]
    public void A_bar_in_a_value_parts_no_header()
    {
        var (docx, _) = Write("page.header: {word} | right\nparameter word (text): a | b", "Text.");
        var header = docx.Xml(docx.Names.First(n => n.StartsWith("word/header", StringComparison.Ordinal)));
        Assert.Equal("a | b\tright", Text(header.Root!));
    }

    [Fact]
    public void Shared_settings_of_others_are_not_obeyed_and_none_lets_code_in()
    {
        const UnixFileMode Mine = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;
        var path = folder.Write("repository/inside/report.ms.md", "Text.\n");
        var shared = folder.Write("fennick.settings", "title: Taken");
        string[] Titles() => [.. WordClean.Check(Manuscript.Open(path).Write().Path).Paragraphs.SkipLast(1)];
        Assert.Equal(["Taken"], Titles());
        // Anybody may write the file, or into its folder.
        File.SetUnixFileMode(shared, Mine | UnixFileMode.OtherWrite);
        Assert.Empty(Titles());
        Assert.Contains("these settings are not read", Manuscript.Open(path).Check().Diagnostics.Single().Message, StringComparison.Ordinal);
        File.SetUnixFileMode(shared, Mine);
        File.SetUnixFileMode(folder.File("repository"), Mine | UnixFileMode.OtherWrite | UnixFileMode.OtherExecute);
        Assert.Empty(Titles());
        File.SetUnixFileMode(folder.File("repository"), Mine);
        Assert.Equal(["Taken"], Titles());
        // What lies above the repository is none of its business.
        Directory.CreateDirectory(folder.File("repository/.git"));
        Assert.Empty(Titles());
        foreach (var key in new[] { "library: x.dll", "house.values: yes" })
        {
            folder.Write("repository/fennick.settings", key);
            Assert.Contains("cannot stand in settings that manuscripts share; write it in the manuscript", Assert.Throws<ReportException>(() => Manuscript.Open(path)).Message, StringComparison.Ordinal);
        }
    }

    [Theory]
    [InlineData("house: larkmer.docx", "there is no file `larkmer.docx`; did you mean `larkmere.docx`?")]
    [InlineData("house: flimt", "`flimt` is not a house; did you mean `flint`?")]
    [InlineData("house.accent: violet", "`violet` is not a colour; write it as `#B4690E`")]
    [InlineData("house.logo: larc.svg", "there is no file `larc.svg`; did you mean `lark.svg`?")]
    [InlineData("house.style bdy: X", "`bdy` is not a role of a style; did you mean `body`?")]
    [InlineData("house.contents: maybe", "`maybe` is neither `kept` nor `replaced`")]
    [InlineData("page.size: B9", "`B9` is not a size of paper")]
    [InlineData("page.margins: wide", "`wide` is not a margin")]
    [InlineData("page.numbers: greek", "`greek` is not a way of numbering pages")]
    [InlineData("page.numbers: decimal by chapter /", "`decimal by chapter /` is not a way of numbering pages")]
    [InlineData("page.numbers: decimal by chapter", "pages are numbered by chapter, but headings have no numbers; write `headings.numbered: yes`")]
    [InlineData("page.columns: 1/2, 1/3", "no shares of columns")]
    [InlineData("page.heading: x", "`heading` says nothing about pages; what can be said is `size`")]
    public void Mistakes_are_told_at_their_place(string setting, string message)
    {
        File.Copy(Path.Combine(Larkmere, "lark.svg"), folder.File("lark.svg"));
        new HouseBuilder(Paragraph(Run("x"))).Save(folder.File("larkmere.docx"));
        var problem = Fail(setting);
        Assert.StartsWith("report.ms.md:2:", problem, StringComparison.Ordinal);
        Assert.Contains(message, problem, StringComparison.Ordinal);
    }

    private const string Chapters = """
        {contents}

        # Foreword {no number} {label fore}

        Read {see scale}, {see scale: number} on page {see scale: page}, {see scale: title}, {see scale, care}, {see fore}.

        # Weighing

        ## The scale {label scale}

        1. one

        {landscape}
        Wide.
        {end}

        # Care {label care}

        Text.
        """;

    private static string?[] PageNumbersOf(Docx docx) =>
        [.. docx.Body.Descendants(W + "sectPr").Select(s => s.Element(W + "pgNumType") is { } n ? string.Join(' ', n.Attributes().Select(a => a.Value)) : null)];

    private static string?[] HeadingLists(Docx docx) =>
        [.. docx.Xml("word/styles.xml").Root!.Elements(W + "style").Where(s => ((string?)s.Element(W + "name")!.Attribute(W + "val"))!.StartsWith("heading ", StringComparison.Ordinal)).Take(3).Select(s => (string?)s.Element(W + "pPr")!.Element(W + "numPr")?.Element(W + "numId")!.Attribute(W + "val"))];

    [Theory]
    [InlineData("tansy", "1", "1")]
    [InlineData("heron", "1", "1")]
    [InlineData("house.docx", "8", "9")]
    public void Chapters_count_their_own_pages_under_numbered_headings(string house, string headings, string list)
    {
        var w = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";
        new HouseBuilder(Paragraph(Run("Cover")) + Paragraph(Slot("body")), Style("N", "Normal", isDefault: true) + Style("H1", "heading 1"))
            .Add("word/numbering.xml", "numbering+xml", "numbering", $"<w:numbering xmlns:w=\"{w}\"><w:abstractNum w:abstractNumId=\"4\"><w:multiLevelType w:val=\"multilevel\"/></w:abstractNum><w:num w:numId=\"7\"><w:abstractNumId w:val=\"4\"/></w:num></w:numbering>").Save(folder.File("house.docx"));
        var (docx, _) = Write($"house: {house}\nheadings.numbered: yes\npage.numbers: decimal by chapter .", Chapters, inForeignHouse: house.Contains('.'));
        var lines = docx.AllText.Split('\n');
        Assert.Equal([headings, headings, headings], HeadingLists(docx));
        Assert.Equal(["decimal", "decimal 1 1 period", "decimal 1 period", "decimal 1 1 period"], PageNumbersOf(docx)[^4..]);
        Assert.Contains("1\tWeighing\t1.1", lines);
        Assert.Contains("1.1\tThe scale\t1.1", lines);
        Assert.Contains("2\tCare\t2.1", lines);
        Assert.Contains(lines, p => p.StartsWith("Foreword\t", StringComparison.Ordinal));
        Assert.Contains("Read Section\u00A01.1, 1.1 on page 1.1, The scale, Sections\u00A01.1 and 2, Foreword.", lines);
        var numbered = docx.Body.Descendants(W + "numId").Select(n => (string?)n.Attribute(W + "val")).ToArray();
        Assert.Equal(["0", docx.Xml("word/numbering.xml").Root!.Elements(W + "num").Select(n => (string?)n.Attribute(W + "numId")).Last()], numbered);
        Assert.NotEqual(list, numbered[1]);
        Assert.Contains(docx.Body.Descendants(W + "instrText"), i => i.Value.Contains("\\w \\h", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("", "Chapter\u00A0II\tWeighing", "II-A.\tThe scale", "Read II-A, II-A", "3")]
    [InlineData("headings.numbered: no", "Weighing", "The scale", "Read The scale, The scale", "0")]
    [InlineData("", "Weighing", "The scale", "Read The scale, The scale", "3", "none")]
    [InlineData("headings.numbered: yes", "1\tWeighing", "1.1\tThe scale", "Read 1.1, 1.1", "4", "none")]
    public void A_house_that_numbers_its_headings_is_followed_unless_the_settings_say_otherwise(string setting, string chapter, string section, string reference, string list, string? format = null)
    {
        var w = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";
        string Level(int level, string format, string text, int start, string style) => $"<w:lvl w:ilvl=\"{level}\"><w:start w:val=\"{start}\"/><w:numFmt w:val=\"{format}\"/><w:pStyle w:val=\"{style}\"/><w:lvlText w:val=\"{text}\"/></w:lvl>";
        new HouseBuilder(Paragraph(Slot("body")), Style("N", "Normal", isDefault: true) + Style("H1", "heading 1", "<w:numPr><w:numId w:val=\"3\"/></w:numPr>") + Style("H2", "heading 2", "<w:numPr><w:numId w:val=\"3\"/></w:numPr>"))
            .Add("word/numbering.xml", "numbering+xml", "numbering", $"<w:numbering xmlns:w=\"{w}\"><w:abstractNum w:abstractNumId=\"0\"><w:multiLevelType w:val=\"multilevel\"/>{Level(0, format ?? "upperRoman", format is null ? "Chapter\u00A0%1" : "%1", 2, "H1")}{Level(1, format ?? "upperLetter", format is null ? "%1-%2." : "%2", 1, "H2")}</w:abstractNum><w:num w:numId=\"3\"><w:abstractNumId w:val=\"0\"/></w:num></w:numbering>").Save(folder.File("house.docx"));
        var (docx, _) = Write($"house: house.docx\n{setting}", Chapters.Replace("{see scale}", "{see scale: number}", StringComparison.Ordinal));
        var lines = docx.AllText.Split('\n');
        Assert.Contains(lines, p => p.StartsWith(chapter + "\t", StringComparison.Ordinal));
        Assert.Contains(lines, p => p.StartsWith(section + "\t", StringComparison.Ordinal));
        Assert.Contains(lines, p => p.StartsWith(reference, StringComparison.Ordinal));
        // What the house lacks was made from what it has, and must not count with it.
        Assert.Equal([list, list, format is null ? "0" : list == "4" ? list : null], HeadingLists(docx));
    }

    [Fact]
    public void Braces_and_settings_say_what_pages_look_like()
    {
        File.Copy(Path.Combine(Larkmere, "lark.svg"), folder.File("lark.svg"));
        var (docx, diagnostics) = Write("title: Hives\nparameter unit: Alder Bank\npage.size: A5\npage.header: ![The lark](lark.svg) | {unit} | {chapter title}\npage.first header: none\npage.footer: {report date}{report title} | {page number} of {page count}\ndate: 2025-11-03\nfigures.width: 50 %",
            "{pages numbers: roman from 1; footer: {page number}}\n# Preface\n{end}\n\n# Text\n\n{pages orientation: landscape; header: Across {unit}}\nAcross.\n{end pages}\n\nAfter.", inForeignHouse: false);
        Assert.Empty(diagnostics);
        var sections = docx.Body.Descendants(W + "sectPr").ToArray();
        Assert.Equal([null, "lowerRoman", "decimal", "decimal", "decimal"], sections.Select(s => (string?)s.Element(W + "pgNumType")?.Attribute(W + "fmt")));
        Assert.Equal([null, null, null, "landscape", null], sections.Select(s => (string?)s.Element(W + "pgSz")!.Attribute(W + "orient")));
        var headers = docx.Names.Where(n => n.StartsWith("word/header", StringComparison.Ordinal)).Select(n => Text(docx.Xml(n).Root!)).ToHashSet();
        Assert.Equal(["\tAlder Bank\tPreface", "", "\tAlder Bank\tText", "Across Alder Bank"], headers);
        Assert.Contains("3 November 2025Hives\t1 of 5", Story(docx, "footer"), StringComparison.Ordinal);
        // The picture stands in the header with its drawing beside it.
        var header = docx.Names.First(n => n.StartsWith("word/header", StringComparison.Ordinal) && docx.Xml(n).Descendants(A + "blip").Any());
        Assert.Equal(2, docx.Xml($"word/_rels/{Path.GetFileName(header)}.rels").Root!.Elements().Count());
        Assert.Contains("has no end", Fail("title: x", "{pages columns: 2}\n\nText."), StringComparison.Ordinal);
        Assert.Contains("`colour` says nothing about pages", Fail("title: x", "{pages colour: red}\n\nText.\n{end}"), StringComparison.Ordinal);
        Assert.Contains("`{pages columns: 2}` stands inside a list", Fail("title: x", "- {pages columns: 2}\n  Text.\n  {end}"), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("valley.svg")]
    [InlineData("valley.png")]
    [InlineData("valley.jpeg")]
    public void A_cover_is_darkened_just_enough_for_its_title_and_a_logo_on_it_turned_light(string cover)
    {
        var svg = File.ReadAllBytes(Path.Combine(Larkmere, "valley.svg"));
        var png = PictureTools.Instance.Draw(svg, 600, 848);
        File.WriteAllBytes(folder.File("valley.svg"), svg);
        File.WriteAllBytes(folder.File("valley.png"), png);
        using (var image = NetVips.Image.NewFromBuffer(png)) File.WriteAllBytes(folder.File("valley.jpeg"), image.Flatten().JpegsaveBuffer());
        File.Copy(Path.Combine(Larkmere, "lark.svg"), folder.File("lark.svg"));
        File.Copy(Path.Combine(Larkmere, "larkmere.docx"), folder.File("larkmere.docx"));
        foreach (var house in (string[])["larkmere.docx", "heron"])
        {
            var (docx, diagnostics) = Write($"title: Hives\nhouse: {house}\nhouse.cover: {cover}\nhouse.logo: lark.svg", "# Honey\n\nText.");
            // What the report does not say of itself is not told in a house of somebody either.
            Assert.Empty(diagnostics);
            var picture = docx.Bytes(docx.Names.Single(n => n.StartsWith("word/media/fennick-cover", StringComparison.Ordinal) && !n.EndsWith(".svg", StringComparison.Ordinal)));
            Assert.InRange(Contrast(picture, 0.98), 4.5, 4.9);
            Assert.Equal(cover.EndsWith("svg", StringComparison.Ordinal), docx.Has("word/media/fennick-cover.svg"));
            var logos = docx.Names.Where(n => n.StartsWith("word/media/fennick-logo", StringComparison.Ordinal) && n.EndsWith(".png", StringComparison.Ordinal)).Select(docx.Bytes).ToArray();
            // On the cover it is white alone; in Larkmere's header, on paper, it keeps its violet.
            Assert.Equal(house == "heron" ? 1 : 2, logos.Length);
            Assert.Equal(1, logos.Count(l => PictureTools.Instance.Pixels(l, 10_000).Where(p => p >> 24 > 200).All(p => (p & 0xFFFFFF) == 0xFFFFFF)));
        }
        var (plain, _) = Write($"title: Hives\nhouse: larkmere.docx\nhouse.cover: {cover}, as it is", "Text.");
        Assert.InRange(Contrast(plain.Bytes(plain.Names.Single(n => n.StartsWith("word/media/fennick-cover", StringComparison.Ordinal) && !n.EndsWith(".svg", StringComparison.Ordinal))), 0.98), 1, 2.5);
    }

    /// <summary>The contrast of white with all but the brightest pixels of a picture.</summary>
    private static double Contrast(byte[] picture, double share)
    {
        static double Part(uint part) => part / 255.0 is var v && v <= 0.04045 ? v / 12.92 : Math.Pow((v + 0.055) / 1.055, 2.4);
        var luminances = PictureTools.Instance.Pixels(picture, 40_000).Select(p => (0.2126 * Part((p >> 16) & 255)) + (0.7152 * Part((p >> 8) & 255)) + (0.0722 * Part(p & 255))).Order().ToArray();
        return 1.05 / (luminances[(int)((luminances.Length - 1) * share)] + 0.05);
    }

    [Fact]
    public void A_drawing_in_SVG_stands_in_the_text_with_a_picture_beside_it()
    {
        File.Copy(Path.Combine(Larkmere, "lark.svg"), folder.File("lark.svg"));
        var (docx, _) = Write("title: x", "{figure lark, width 40 %: The lark}\n![A lark over water](lark.svg)", inForeignHouse: false);
        Assert.Contains(docx.Names, n => n.EndsWith(".svg", StringComparison.Ordinal));
        var extent = docx.Body.Descendants(Wp + "extent").Single();
        Assert.Equal(0.4 * 12.4, (long)extent.Attribute("cx")! / 360_000.0, 0.01);
        Assert.NotNull(Picture.Read(folder.File("lark.svg")));
    }
}
