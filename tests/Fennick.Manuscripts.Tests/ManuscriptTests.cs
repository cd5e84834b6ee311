using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

public sealed class ManuscriptTests : IDisposable
{
    private const string Fence = "```";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private (Docx Docx, WriteResult Result) Write(string text, params (string, string)[] parameters)
    {
        var result = Manuscript.Open(folder.Write("report.ms.md", text)).Write(null, parameters.ToDictionary(p => p.Item1, p => p.Item2));
        Assert.Equal(folder.File("report.docx"), result.Path);
        return (WordClean.Check(result.Path), result);
    }

    private string Fail(string text, params (string, string)[] parameters)
    {
        var path = folder.Write("report.ms.md", text);
        File.WriteAllText(folder.File("report.docx"), "old");
        var problem = Assert.Throws<ReportException>(() => Manuscript.Open(path).Write(null, parameters.ToDictionary(p => p.Item1, p => p.Item2)));
        Assert.Equal("old", File.ReadAllText(folder.File("report.docx")));
        return problem.Message.Replace(path, "report.ms.md", StringComparison.Ordinal);
    }

    private static string Settings(params string[] lines) => $"{Fence}manuscript\n{string.Join('\n', lines)}\n{Fence}\n\n";

    private static string Step(string info, string code) => $"{Fence}csharp {info}\n{code}\n{Fence}\n\n";

    /// <summary>The compiler's line directives end at column 65,535; expressions need not.</summary>
    [Fact]
    public void An_expression_may_be_longer_than_a_line_directive_can_say()
    {
        var text = new string('x', 70_000);
        Assert.Equal([$"It is 70,000 long, and {text}."], Write($"It is {{\"{text}\".Length}} long, and {{\"{text}\"}}.").Docx.Paragraphs);
        Assert.StartsWith("report.ms.md:1:70020: error: the name 'nothing'", Fail($"It is {{\"{text}\".Length + nothing}}."), StringComparison.Ordinal);
    }

    [Fact]
    public void Settings_prose_and_steps_become_a_report()
    {
        var (docx, _) = Write(
            Settings("title: Honey in {place}", "subtitle: *Season* {season}", "author: A; B", "date: 2025-11-03", "language: de-DE", "parameter season: 2025", "figures.width: 8 cm")
            + Step("prepare", "var place = \"Coldbrook\";\nvar rows = new[] { (Name: \"a\", Value: 1.5), (Name: \"b\", Value: 2.5) };")
            + "# Über {place}\n\nEs gab {rows.Sum(r => r.Value):0.0} kg, {see t} und {see f}.\n\n"
            + Step("table t", "caption: Werte in {place},\n  {rows.Length} Zeilen\nnote: Klein.\n=>\nTable.Of(rows).Column(\"Name\", r => r.Name).Column(\"Wert\", r => r.Value)")
            + Step("figure f", "caption: Bild\nalt: Zwei Säulen für {place}\nheight: 4 cm\n=>\nChart.Columns(rows, r => r.Name, r => r.Value);"));
        Assert.Equal(
            ["Honey in Coldbrook", "Season 2025", "A, B", "3. November 2025", "Über Coldbrook", "Es gab 4,0 kg, Tabelle\u00A01 und Abbildung\u00A01.", "Tabelle\u00A01. Werte in Coldbrook, 2 Zeilen", "Klein.", "", "Abbildung\u00A01. Bild"],
            docx.Paragraphs);
        var drawing = docx.Body.Descendants(Docx.Wp + "inline").Single();
        Assert.Equal(("2880000", "1440000"), ((string)drawing.Element(Docx.Wp + "extent")!.Attribute("cx")!, (string)drawing.Element(Docx.Wp + "extent")!.Attribute("cy")!));
        Assert.Equal("Zwei Säulen für Coldbrook", (string)drawing.Element(Docx.Wp + "docPr")!.Attribute("descr")!);
        Assert.Equal("1,5", docx.Tables[0][1][1]);
    }

    [Theory]
    [InlineData("new[] { (A: 1, B: \"x\") }.Select(t => new { t.A, t.B })", "A|B|1|x")]
    [InlineData("new List<Row> { new(1, true) };\nrecord Row([Label(\"Number\")] int Count, bool Weighed);", "Number|Weighed|1|yes")]
    [InlineData("var data = new System.Data.DataTable(); data.Columns.Add(\"a\", typeof(int)); data.Rows.Add(3);\ndata", "A|3")]
    [InlineData("new Microsoft.Data.Analysis.DataFrame(new Microsoft.Data.Analysis.DoubleDataFrameColumn(\"kg\", new double?[] { 1.5, null }))", "Kg|1.5|—")]
    [InlineData("new double[,] { { 1, 2 } }", "1|2|1|2")]
    [InlineData("new[] { 1.5, 2 }", "Value|1.5|2.0")]
    [InlineData("FrequencyTable.Of(new[] { \"a\", \"b\" }, x => x).Label(\"All\", \"Sum\")", "Level|Count|Share|Cumulative|a|1|50.0%|50.0%|b|1|50.0%|100.0%|Sum|2|100.0%|")]
    public void A_table_step_gives_anything_that_can_become_a_table(string code, string cells)
    {
        var (docx, _) = Write(Step("table t", code));
        Assert.Equal(cells, string.Join('|', docx.Tables[0].SelectMany(r => r)));
    }

    [Fact]
    public void Heads_and_settings_choose_rulings_turning_and_captions()
    {
        var (docx, _) = Write(
            Settings("tables.ruling: banded", "tables.caption: below", "tables.turning: no", "tables.smallest: 9 pt", "figures.caption: above")
            + Step("table a", "caption: One\n=>\nnew[] { 1 }") + Step("table b", "caption: Two\nruling: boxed\nturning: yes\n=>\nnew[] { 1 }")
            + Step("figure c", "caption: Three\n=>\nChart.Columns(new[] { 1 }, i => i, i => i)"));
        Assert.Equal(["TableBanded", "TableBoxed"], docx.Body.Descendants(Docx.W + "tblStyle").Select(s => (string?)s.Attribute(Docx.W + "val")));
        Assert.Equal(["tbl", "p", "tbl", "p", "p", "p"], docx.Body.Elements().Select(e => e.Name.LocalName).SkipLast(1));
        Assert.Equal("Figure\u00A01. Three", docx.Paragraphs[^2]);
    }

    [Fact]
    public void Tables_can_be_as_wide_as_the_text_and_say_their_source_and_signs()
    {
        var (docx, _) = Write(
            Settings("tables.width: full", "tables.symbols: — not known; .. not asked; p provisional; x unused", "language: fr")
            + Step("prepare", "var n = 3;")
            + Step("table a", "caption: One\nnote: A note.\nsource: the survey of {n} *valleys*\n=>\nTable.WithHeads(\"A\", \"B\").Row(null, \"..\").Row(1.5, TableCell.Of(2) with { Sign = \"p\" })")
            + Step("table b", "width: content\n=>\nTable.WithHeads(\"A\").Row(1)")
            + Step("figure c", "caption: Three\nsource: Scales\n=>\nChart.Columns(new[] { 1 }, i => i, i => i)"));
        var widths = docx.Body.Descendants(Docx.W + "tblW").Select(w => (int)w.Attribute(Docx.W + "w")!).ToArray();
        var page = docx.Body.Descendants(Docx.W + "sectPr").Last();
        var text = (int)page.Element(Docx.W + "pgSz")!.Attribute(Docx.W + "w")! - (int)page.Element(Docx.W + "pgMar")!.Attribute(Docx.W + "left")! - (int)page.Element(Docx.W + "pgMar")!.Attribute(Docx.W + "right")!;
        Assert.Equal(text, widths[0]);
        Assert.True(widths[1] < text / 2, $"{widths[1]}");
        Assert.Equal(["A note.\n—\u00A0not known; ..\u00A0not asked; p\u00A0provisional.\nSource\u00A0: the survey of 3 valleys", "Source\u00A0: Scales"], docx.ParagraphsOf("Note"));
        Assert.Contains("report.ms.md:2:17: error: `—` does not say what a sign means", Fail(Settings("tables.symbols: —")), StringComparison.Ordinal);
        Assert.Contains("report.ms.md:2:15: error: `wide` is not a width of tables", Fail(Settings("tables.width: wide")), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("ruling: bandet", "report.ms.md:2:9: error: `bandet` is not a ruling; did you mean `banded`?")]
    [InlineData("turning: maybe", "report.ms.md:2:10: error: `maybe` is neither `yes` nor `no`")]
    [InlineData("caption: x\nwidth: 3 cm", "report.ms.md:3:8: error: `3 cm` is not a width of tables; write `full` for that of the text, or `content` for that of what they hold")]
    [InlineData("caption: x\nheight: 3 cm", "report.ms.md:3:1: error: `height` is not a setting of a `table` step")]
    public void Wrong_heads_of_tables_are_told_at_their_place(string head, string message) =>
        Assert.Contains(message, Fail(Step("table t", $"{head}\n=>\nnew[] {{ 1 }}")), StringComparison.Ordinal);

    [Theory]
    [InlineData("\"text\"", "this `table` step gave a text, not a table or records")]
    [InlineData("new object()", "this `table` step gave an `Object`, not a table or records")]
    public void What_cannot_become_a_table_is_told(string code, string message) => Assert.Contains(message, Fail(Step("table t", code)), StringComparison.Ordinal);

    [Fact]
    public void What_tables_warn_of_is_told_at_their_step()
    {
        var (_, result) = Write(Step("prepare", "var rows = Enumerable.Range(0, 20).Select(i => new { Y = (double?)(i % 7), X = i }).ToList();")
            + Step("table t", "RegressionTable.Of(Regression.LeastSquares(rows, r => r.Y, r => new { r.X, Twice = 2.0 * r.X })).Label(\"Z\", \"z\")"));
        Assert.Equal(
            ["report.ms.md:5:1: warning: `Twice` depends on the terms before it and was dropped", "report.ms.md:5:1: warning: the label of `Z` names nothing in the table"],
            result.Diagnostics.Select(d => d.ToString().Replace(folder.File("report.ms.md"), "report.ms.md", StringComparison.Ordinal)));
    }

    [Fact]
    public void Text_steps_place_prose_blocks_tables_and_mixtures_of_them()
    {
        var (docx, _) = Write(
            Step("prepare", "IEnumerable<object> Section(string valley, double kg)\n{\n    yield return $\"## {valley}\\n\\nOn *average* {kg:0.0} kg, in {{braces}}.\";\n    yield return Table.WithHeads(\"Valley\", \"kg\").Row(valley, kg);\n    yield return new Paragraph(\"As it *stands*.\");\n    if (kg > 20) yield return See(\"coldbrook\");\n}")
            + Step("text", "new[] { (\"Coldbrook\", 24.5), (\"Dunmarsh\", 19.25) }.Select(v => Section(v.Item1, v.Item2))")
            + Step("text", "ProseTemplate words = $\"Values are *never* read: {\"*so*\"}.\";\nwords") + Step("text", "\"\""));
        Assert.Equal(["Coldbrook", "On average 24.5 kg, in {braces}.", "", "As it *stands*.", "Coldbrook", "Dunmarsh", "On average 19.3 kg, in {braces}.", "", "As it *stands*.", "Values are never read: *so*."], docx.Paragraphs);
        Assert.Equal(["24.5", "19.25"], docx.Tables.Select(t => t[1][1]));
    }

    [Fact]
    public void Show_steps_place_their_code_and_what_it_wrote_and_gave()
    {
        var (docx, result) = Write(Step("show", "var n = 3;\nConsole.WriteLine($\"n is {n}\");\nn * 1.5") + Step("show", "Console.WriteLine(\"only words\");") + Step("show listing-of-rows", "new[] { new { A = 1 } }") + Step("show", "Table.WithHeads(\"B\").Row(2)"));
        Assert.Equal(["var n = 3;\nConsole.WriteLine($\"n is {n}\");\nn * 1.5", "n is 3", "4.5", "Console.WriteLine(\"only words\");", "only words", "new[] { new { A = 1 } }", "Table.WithHeads(\"B\").Row(2)"], docx.ParagraphsOf("Listing"));
        Assert.Equal([[["A"], ["1"]], [["B"], ["2"]]], docx.Tables);
        Assert.Equal(["n is 3\n", "only words\n"], result.Outputs.Select(o => o.Text));
    }

    [Fact]
    public void Code_stands_above_results_where_settings_or_heads_say_so()
    {
        var shown = Write(Settings("listing: shown") + Step("prepare", "var n = 3;") + Step("prepare", "listing: hidden\n=>\nvar m = 4;") + Step("table", "caption: T\n=>\nnew[] { n, m }") + "{n}").Docx;
        Assert.Equal(["var n = 3;", "new[] { n, m }"], shown.ParagraphsOf("Listing"));
        Assert.Equal(["var n = 3;", "new[] { n, m }", "Table\u00A01. T", "", "3"], shown.Paragraphs);
        var hidden = Write(Step("prepare", "var n = 3;") + Step("text", "listing: shown\n=>\n$\"n is {n}\"")).Docx;
        Assert.Equal(["$\"n is {n}\"", "n is 3"], hidden.Paragraphs);
        Assert.Contains("report.ms.md:2:10: error: `show` is neither `shown` nor `hidden`", Fail(Settings("listing: show") + "x"), StringComparison.Ordinal);
    }

    [Fact]
    public void A_page_breaks_before_what_follows()
    {
        var (docx, _) = Write("One.\n\n{page break}\n\nTwo.\n\n{page break}\n\n" + Step("table", "Table.WithHeads(\"A\").Row(1)") + "\n\n{page break}\n");
        Assert.Equal(["Two.", ""], docx.Body.Elements(Docx.W + "p").Where(p => p.Descendants(Docx.W + "pageBreakBefore").Any()).Select(Docx.Text));
    }

    [Theory]
    [InlineData("**{24.5:0.0}**kg", "24.5kg")]
    [InlineData("\\{x} and }", "{x} and }")]
    [InlineData("`{x}` stays", "{x} stays")]
    [InlineData("{1 > 2 ? \"hives\" : \"hive\"}", "hive")]
    [InlineData("{(1 > 2 ? 1.5 : 2.5):0.00}", "2.50")]
    [InlineData("{\"a}b\"} {$\"{1 + 1:0.0}\"} {'}'}", "a}b 2.0 }")]
    [InlineData("{string.Join(\", \", new[] { 1, 2 }.Select(x => $\"{x}\"))}", "1, 2")]
    [InlineData("{global::System.Math.PI:0.00}", "3.14")]
    [InlineData("{new DateOnly(2025, 11, 3):yyyy-MM-dd}", "2025-11-03")]
    [InlineData("{((int?)null)}", "—")]
    [InlineData("{(null as string)?.Length ?? 7:0.0}", "7.0")]
    [InlineData("{\"*a* {see b} [c](d)\"}", "*a* {see b} [c](d)")]
    [InlineData("a {1 +\n2} b", "a 3 b")]
    [InlineData("{new Dictionary<string, double> { [\"a:b\"] = 1.25 }[\"a:b\"]:0.0}", "1.3")]
    [InlineData("{true ? false ? 1 : 2 : 3}", "2")]
    [InlineData("{(\"ab\" as string)?.Length:00}", "02")]
    [InlineData("{\"\"\"a \"quoted\" }\"\"\"}", "a \"quoted\" }")]
    [InlineData("{@\"c:\\x\"} {/* } */ 5}", "c:\\x 5")]
    [InlineData("{3 is var y && y > 2 ? y : 0} {4 is var y && y > 2 ? y : 0}", "3 4")]
    [InlineData("{new[] { 1, 2 }.Select(x => { return x * 2; }).Sum():0.0} it's", "6.0 it's")]
    [InlineData("*{1}*{2}**{3}**", "123")]
    [InlineData("[{1 + 1}](https://a.example)", "2")]
    [InlineData("{typeof(List<int>).Name.Length}", "6")]
    [InlineData("wrapped line\n2025. starts no list", "wrapped line 2025. starts no list")]
    [InlineData("See <https://x.example/{a}>", "See https://x.example/{a}")]
    public void Braces_in_prose(string prose, string expected) => Assert.Equal(expected, Write(prose).Docx.Paragraphs[0]);

    [Fact]
    public void Steps_share_variables_functions_and_types()
    {
        var (docx, _) = Write(
            Step("prepare", "using System.Text;\nvar a = new Pair(1, 2);\npublic static int Twice(int x) => 2 * x;\nprivate record Pair(int X, int Y);")
            + Step("prepare", "var b = Twice(a.X) + new StringBuilder(\"abc\").Length; // three\nif (b > 0 is var positive && positive) { b++; }")
            + Step("prepare", "await Task.Delay(1);\nvar (c, d) = (b, a);\nint Later() => c;\nb")
            + "{a.Y} {b} {Later()} {d.X}");
        Assert.Equal("2 6 6 1", docx.Paragraphs[0]);
    }

    [Fact]
    public void Console_output_and_listings_of_steps_stay_out_of_the_report()
    {
        var (docx, result) = Write(Step("prepare", "Console.WriteLine(\"chatter\"); Console.Error.WriteLine(\"noise\"); var x = 1;") + Step("table t", "Console.Write(\"more\");\nTable.Of([x]).Column(\"x\", v => v)") + "Text\n\n```csharp\nshown();\n```\n");
        Assert.Equal(["", "Text", "shown();"], docx.Paragraphs.Where(p => !p.StartsWith("Table", StringComparison.Ordinal)));
        Assert.DoesNotContain("chatter", docx.AllText, StringComparison.Ordinal);
        Assert.Equal([("line 1", "chatter\nnoise\n"), ("t", "more")], result.Outputs.Select(o => (o.Step, o.Text)));
    }

    [Fact]
    public void Editing_prose_compiles_nothing_and_places_stay_right()
    {
        string Text(string prose, string code) => prose + Step("prepare", code) + "Value {x}.";
        Assert.NotNull(Write(Text("", "var x = 41;")).Result.CompileTime);
        var (docx, result) = Write(Text("# New heading\n\nA paragraph more.\n\n", "var x = 41;"));
        Assert.Null(result.CompileTime);
        Assert.Equal(["New heading", "A paragraph more.", "Value 41."], docx.Paragraphs);
        Assert.NotNull(Write(Text("", "var x = 42;")).Result.CompileTime);

        const string Throws = "var zero = 0;\nvar x = 1 / zero;";
        Assert.StartsWith("report.ms.md:3:", Fail(Text("", Throws)), StringComparison.Ordinal);
        Assert.StartsWith("report.ms.md:7:", Fail(Text("# Head\n\nText.\n\n", Throws)), StringComparison.Ordinal);
    }

    [Fact]
    public void Parameters_have_types_and_defaults()
    {
        const string Prose = "{apiary} {season + 1} {share * 2} {since.Year} {(big ? 1 : 2)} {strain.Length}";
        var settings = Settings("parameter apiary: Alder Bank", "parameter season: 2025", "parameter share: 0.5", "parameter since (date):", "parameter big: yes", "parameter strain (one of Amber, Dusk): Dusk");
        Assert.Equal("Alder Bank 2026 1 2011 1 4", Write(settings + Prose, ("since", "2011-05-01")).Docx.Paragraphs[0]);
        Assert.Equal("Müller's, \"x\" 2025 3 2012 2 5", Write(settings + Prose, ("since", "2012-05-01"), ("apiary", "Müller's, \"x\""), ("season", "2024"), ("share", "1.5"), ("big", "no"), ("strain", "Amber")).Docx.Paragraphs[0]);
        Assert.Equal("report.ms.md:5:1: error: the parameter `since` has no value; give one with `--set since=VALUE`", Fail(settings + Prose));
        Assert.Contains("report.ms.md:7:1: error: `Dark` is not a value for the parameter `strain`, which is one of `Amber`, `Dusk`", Fail(settings + Prose, ("since", "2012-05-01"), ("strain", "Dark")), StringComparison.Ordinal);
        Assert.Contains("report.ms.md:3:1: error: `many` is not a value for the parameter `season`, which is a whole number", Fail(settings + Prose, ("since", "2012-05-01"), ("season", "many")), StringComparison.Ordinal);
        Assert.Contains("has no parameter `seasn`; did you mean `season`?", Fail(settings + Prose, ("since", "2012-05-01"), ("seasn", "1")), StringComparison.Ordinal);
    }

    [Fact]
    public void Data_is_read_from_the_manuscripts_folder()
    {
        folder.Write("data/x.csv", "value\n1.5\n2.5\n");
        var before = Environment.CurrentDirectory;
        var (docx, _) = Write(Step("prepare", "var rows = Csv.Read<Row>(\"data/x.csv\");\nrecord Row(double Value);") + "{rows.Average(r => r.Value)}");
        Assert.Equal("2", docx.Paragraphs[0]);
        Assert.Equal(before, Environment.CurrentDirectory);
    }

    [Fact]
    public void Steps_see_the_statistics()
    {
        var (docx, _) = Write(Step("prepare", "var rows = Enumerable.Range(0, 9).Select(i => new { X = i, Y = 2.0 * i + i % 3, G = i % 2 == 0 ? \"a\" : \"b\" }).ToList();\nvar fit = Regression.LeastSquares(rows, r => r.Y, r => new { r.X, Group = Factor(r.G, reference: \"b\") }).With(StandardErrors.Hc1);") + "{fit[\"X\"].Estimate:0.000} {fit.Terms[2].Name} {Description.Of(rows, r => r.Y).Median}");
        Assert.Equal("2.100 Group=a 9", docx.Paragraphs[0]);
    }

    [Fact]
    public void A_step_in_a_list_stays_in_its_item()
    {
        var (docx, _) = Write("- first\n\n  ```csharp table t\n  Table.Of([1]).Column(\"x\", v => v)\n  ```\n\n- second {see t}\n");
        Assert.Equal(["first", "second Table\u00A01"], docx.Paragraphs.Where(p => p.Length > 0 && p != "Table\u00A01"));
        Assert.Equal("425", (string?)docx.Body.Descendants(Docx.W + "tblInd").Single().Attribute(Docx.W + "w"));
    }

    [Fact]
    public void Warnings_of_the_compiler_are_told_at_their_place()
    {
        string Text(string lead) => lead + Step("prepare", "var used = 1;\nint unused = 2;") + "{used}";
        Assert.Contains("report.ms.md:3:5: warning: the variable 'unused' is assigned but its value is never used (CS0219)", Show(Write(Text(""))), StringComparison.Ordinal);
        Assert.Contains("report.ms.md:5:5: warning:", Show(Write(Text("Words.\n\n"))), StringComparison.Ordinal);

        string Show((Docx, WriteResult Result) written) => string.Join('\n', written.Result.Diagnostics).Replace(folder.Path + "/", "", StringComparison.Ordinal);
    }

    [Fact]
    public void Wrong_files_are_told()
    {
        folder.Write("harvest.ms.md", "x");
        string Message(string name) => Assert.Throws<ReportException>(() => Manuscript.Open(folder.File(name))).Message.Replace(folder.Path + "/", "", StringComparison.Ordinal);
        Assert.Equal("harvst.ms.md:1:1: error: there is no such manuscript; did you mean `harvest.ms.md`?", Message("harvst.ms.md"));
        Assert.Contains("a manuscript's name ends in `.ms.md`", Message("harvest.md"), StringComparison.Ordinal);
        File.WriteAllBytes(folder.File("latin.ms.md"), [0x4D, 0xFC, 0x6C]);
        Assert.Equal("latin.ms.md:1:1: error: the file is not UTF-8 (byte 1); save it as UTF-8", Message("latin.ms.md"));
    }

    public static TheoryData<string, string> Mistakes => new()
    {
        { Step("prepare", "var hives = 1;\nvar x = hive + 1;"), "report.ms.md:3:9: error: the name 'hive' does not exist in the current context (CS0103); did you mean `hives`?" },
        { Step("prepare", "var x = \"a\".Lenght;"), "report.ms.md:2:13: error: `string` has no member `Lenght` (CS1061); did you mean `Length`?" },
        { Step("prepare", "var x = 1;\nvar y = {;"), "report.ms.md:3:" },
        { Step("prepare", "var x = 1;") + Step("prepare", "\nvar x = 2;"), "report.ms.md:7:5: error: a local variable or function named 'x' is already defined in this scope (CS0128); it is declared at report.ms.md:2:5 already" },
        { "A {later} one.\n\n" + Step("prepare", "var later = 1;"), "report.ms.md:1:4: error: cannot use local variable 'later' before it is declared (CS0841); it is declared at report.ms.md:4:5, after this place" },
        { "Text {1 +} here.", "report.ms.md:1:7: error: `1 +` is not an expression" },
        { "Text {missing} here.", "report.ms.md:1:7: error: the name 'missing' does not exist" },
        { Step("prepare", "return;"), "report.ms.md:2:1: error: `return` stands outside a function" },
        { Step("prepare", "throw new InvalidOperationException(\"no\\nhoney\");"), "report.ms.md:2:1: error: no honey (InvalidOperationException)" },
        { Step("prepare", "int F(int d)\n{\n    return 1 / d;\n}\nvar x = F(0);"), "report.ms.md:4:" },
        { Step("prepare", "var x = Task.Run(() => { throw new FormatException(\"deep\"); });\nx.Wait();"), "error: deep (FormatException)" },
        { "Value {new int[0].First()}.", "report.ms.md:1:8: error: Sequence contains no elements" },
        { Step("prepare", "\nvar x = Csv.Read<Row>(\"data/no.csv\");\nrecord Row(int A);"), "report.ms.md:3:1: error: there is no data file `data/no.csv`" },
        { "Text {see honey} x", "report.ms.md:1:6: error: there is no label `honey`" },
        { Step("table honey", "Table.Of([1]).Column(\"a\", v => v)") + "{see hony}", "report.ms.md:5:1: error: there is no label `hony`; did you mean `honey`?" },
        { Step("table a", "Table.Of([1]).Column(\"a\", v => v)") + Step("table a", "Table.Of([1]).Column(\"a\", v => v)"), "report.ms.md:5:17: error: the label `a` is used twice (first at report.ms.md:1:17)" },
        { Settings("titel: X"), "report.ms.md:2:1: error: `titel` is not a setting; did you mean `title`?" },
        { Settings("parameter: Alder"), "report.ms.md:2:1: error: this parameter has no name; write it before the colon, such as `parameter apiary: Alder Bank`" },
        { Settings("format: kg"), "report.ms.md:2:1: error: this format has no name; write it before the colon, such as `format weight: number 1 | unit kg`" },
        { Settings("title: X", "title: Y"), "report.ms.md:3:1: error: `title` is set twice (first at report.ms.md:2:1)" },
        { Settings("no colon"), "report.ms.md:2:1: error: `no colon` is not a setting; write `key: value`" },
        { Settings("date: 3.11.2025"), "report.ms.md:2:7: error: `3.11.2025` is not a date; write it as `2025-11-03`" },
        { Settings("language: klingon"), "report.ms.md:2:11: error: `klingon` is not a language" },
        { Settings("figures.width: wide"), "report.ms.md:2:16: error: `wide` is not a length" },
        { Settings("tables.ruling: opn"), "report.ms.md:2:16: error: `opn` is not a ruling; did you mean `open`?" },
        { Settings("fennick: 2"), "report.ms.md:2:10: error: this manuscript is of another version" },
        { Settings("parameter class: 1"), "report.ms.md:2:1: error: `class` cannot name a parameter" },
        { Settings("parameter a (dat): 1"), "report.ms.md:2:1: error: `dat` is not a type of a parameter; did you mean `date`?" },
        { Settings("parameter a: 1", "parameter a (date): 2025-01-01"), "report.ms.md:3:1: error: the parameter `a` is declared twice (first at report.ms.md:2:1)" },
        { "Text\n\n" + Settings("title: X"), "report.ms.md:3:1: error: the settings are not the first block" },
        { "---\ntitle: X\n---\n", "report.ms.md:1:1: error: a block between dashes holds no settings" },
        { Step("table t", "captoin: X\n=>\nTable.Of([1]).Column(\"a\", v => v)"), "report.ms.md:2:1: error: `captoin` is not a setting of a `table` step; did you mean `caption`?" },
        { Step("table t", "caption: X\nTable.Of([1]).Column(\"a\", v => v)"), "report.ms.md:2:1: error: the head of this step has no end" },
        { Step("table t", "height: 3 cm\n=>\nTable.Of([1]).Column(\"a\", v => v)"), "`height` is not a setting of a `table` step" },
        { Step("figure f", "width: 3 km\n=>\nChart.Columns([1], v => v, v => v)"), "report.ms.md:2:8: error: `3 km` is not a length" },
        { Step("tabel t", "1"), "report.ms.md:1:1: error: `tabel` is not a role of a step; did you mean `table`?" },
        { "```cs table t\n1\n```\n", "report.ms.md:1:1: error: `cs table t` is neither a step nor a listing" },
        { "```csharp prepare\nvar x = 1;\n", "report.ms.md:1:1: error: this fence has no end" },
        { Step("table t", "var x = 1;"), "report.ms.md:2:1: error: this `table` step gives nothing" },
        { Step("table t", ""), "error: this `table` step gives nothing" },
        { Step("table t", "var x = 1;\nConsole.WriteLine(x);"), "report.ms.md:3:1: error: this gives nothing that could be placed" },
        { Step("table t", "(object?)null"), "report.ms.md:2:1: error: this `table` step gave nothing (null)" },
        { Step("table t", "\n\"text\""), "report.ms.md:3:1: error: this `table` step gave a text, not a table or records" },
        { Step("figure t", "Table.Of([1]).Column(\"a\", v => v)"), "this `figure` step gave a table; place it with a `table` step" },
        { Step("table t", "Table.Of([1.5]).Column(\"a\", v => v, \"perecent\")"), "report.ms.md:2:1: error: column `a`: `perecent` is not a format for a number" },
        { "Mean {1.5:perecent 1} kg", "report.ms.md:1:7: error: `perecent 1` is not a format for a number" },
        { "Lost (p = {0.03:p-value})", "report.ms.md:1:11: error: `p-value` gives the sign too, and there is one before it" },
        { "Mean {new object()} kg", "report.ms.md:1:7: error: a `Object` has no text of its own; place one of its members" },
        { "{for i in new[] { 1 }}", "report.ms.md:1:1: error: `{for i in new[] { 1 }}` is not a loop; write `{for each name in list}` on a line of its own" },
        { "Mean {new[] { 1 }} kg", "report.ms.md:1:7: error: a sequence cannot stand in a sentence" },
        { "A {Table.Of([1]).Column(\"a\", v => v)} b", "report.ms.md:1:4: error: `Table.Of([1]).Column(\"a\", v => v)` is a table, which cannot stand in a sentence; place it with a `table` step" },
        { "An {open brace", "report.ms.md:1:4: error: this `{` has no `}` in its paragraph; close it, or write `\\{` for a brace" },
        { "Empty {} braces", "report.ms.md:1:7: error: these braces are empty" },
        { "{landscape}", "report.ms.md:1:1: error: `{landscape}` has no end" },
        { "{columns 1/3, 1/3}\na\n{end}", "report.ms.md:1:1: error: `1/3, 1/3` are no shares of columns that make up the whole; write `{columns 1/3, 2/3}`" },
        { "Text.\n{next column}", "report.ms.md:2:1: error: `{next column}` stands outside columns" },
        { "{columns 2}\na\n{next column}\nb\n{next column}\nc\n{end}", "report.ms.md:1:1: error: there are 3 columns, but only 2 have a share" },
        { "> {landscape}\n> a\n> {end}", "report.ms.md:1:3: error: `{landscape}` stands inside a list or a quotation" },
        { "{columns 2}\na\n{end for}", "report.ms.md:3:1: error: `{end for}` does not end `{columns 2}`; write `{end}` or `{end columns}`" },
        { "{contents: 9 levels}", "report.ms.md:1:1: error: `contents: 9 levels` does not say how many levels; write `{contents: 2 levels}`, up to six" },
        { "Text {page break} text", "report.ms.md:1:6: error: `{page break}` does not stand alone on its line; put it on a line of its own" },
        { Step("text", "new object()"), "report.ms.md:2:1: error: this `text` step gave an `Object`, not a text or a block; its last line must give a text, a block, or a sequence of both" },
        { Step("text", "\"<b>x</b>\""), "error: HTML (`<b>`) cannot be placed in a report" },
        { "An <b>html</b> word", "report.ms.md:1:4: error: HTML (`<b>`) cannot be placed" },
        { "A ![picture](x.png)", "report.ms.md:1:3: error: `x.png`: the picture cannot be read" },
        { "A ![picture](https://survey.example/x.png)", "report.ms.md:1:3: error: the picture `https://survey.example/x.png` is not a file; save it beside the manuscript and name the file" },
        { Step("prepare", "record T(int A) { int B => y; }\nvar y = 1;"), "report.ms.md:2:28: error: the type `T` uses `y`, but a type cannot use a step's variables" },
        { Step("prepare", "var x = 1;\nnamespace N { }"), "report.ms.md:3:1: error: a step cannot hold a namespace" },
        { Step("prepare", "#line 5\nvar x = 1;"), "report.ms.md:2:1: error: `#line 5` cannot stand in a step" },
    };

    [Theory]
    [MemberData(nameof(Mistakes))]
    public void A_mistake_is_told_at_its_place_and_the_old_report_stays(string manuscript, string expected) => Assert.Contains(expected, Fail(manuscript), StringComparison.Ordinal);
}
