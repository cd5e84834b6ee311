using Fennick.Documents;
using Fennick.Mathematics;
using Fennick.Pictures;
using Fennick.Prose;
using Fennick.Tables;
using static Fennick.Inlines;

namespace Fennick.Testing;

/// <summary>Documents of all kinds of blocks, made by chance, whose contents and references carry page numbers.</summary>
public static class TruthDocuments
{
    private static readonly string[] HouseNames = ["tansy", "flint", "heron", "larkmere"];
    private static readonly string[] Vocabulary = "the hives of valleys gave more honey than before and bees in apiaries near heather kept their stores through winter while mites were few after treatment with acid though queens aged three years rarely laid as many eggs under cold rain that came over Dunmarsh late into spring so foragers found little nectar on clover or lime trees beside roads where survey counted strains Amber Dusk Heath separately each season because weighing differs between field offices".Split(' ');
    private static readonly string[] Formulas = [@"\bar{x} = \frac{1}{n} \sum_{i=1}^{n} x_i", "a + b = c", @"\sqrt{\frac{a}{b + c}}", @"R^2 = 1 - \frac{\sum_i \hat{\varepsilon}_i^2}{\sum_i (y_i - \bar{y})^2}", @"\hat{y}_i = \alpha + \beta x_i^2", @"\int_0^1 f(x) \, dx", @"\begin{pmatrix} a & b \\ c & d \end{pmatrix}"];
    private static readonly Picture Dot = Picture.Of(Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=="))!;

    /// <summary>The kinds of blocks.</summary>
    public static IReadOnlyList<string> Kinds { get; } = ["text", "lists", "tables", "long-tables", "figures", "notes", "listings", "quotations", "equations", "boxes", "columns", "landscape", "formulas", "nested-lists", "definitions", "side-by-side", "key-figures", "asides", "series", "chapters"];

    /// <summary>Writes documents, named by their houses, four houses by turns.</summary>
    /// <param name="folder">Where to.</param>
    /// <param name="seed">What chance begins with.</param>
    /// <param name="count">How many.</param>
    /// <param name="kinds">The kinds of blocks beside text; all if empty.</param>
    /// <returns>How each fills its pages.</returns>
    public static IReadOnlyList<ReportPages> Write(string folder, int seed, int count, params string[] kinds)
    {
        House[] houses = [House.Tansy, House.Flint, House.Heron, House.Read(Repository.PathOf("examples", "survey", "house", "larkmere.docx"))];
        Directory.CreateDirectory(folder);
        return [.. Enumerable.Range(0, count).Select(i => Write(folder, seed, i, kinds is [] ? [.. Kinds] : kinds, houses))];
    }

    /// <summary>Writes a document.</summary>
    private static ReportPages Write(string folder, int seed, int index, string[] kinds, House[] houses)
    {
        var random = new Random((seed * 1000) + index);
        var place = index % houses.Length;
        var report = new Report($"Truth {index}") { House = houses[place] };
        // A third counts by chapters, with numbers before its headings; some of them have appendices and an index at their end.
        var byChapter = random.NextDouble() < 0.33;
        if (byChapter) report.House = report.House with { NumbersHeadings = true };
        report.Settings = report.Settings with { Series = [new CaptionSeries("box", "Box", "Boxes")], CaptionsByChapter = byChapter };
        report.Contents().Add(new ListOfTables()).Add(new ListOfFigures());
        if (kinds.Contains("series")) report.Add(new ListOfSeries("box"));
        var blocks = (int)Math.Exp(random.NextDouble() * Math.Log(60)) * 6;
        var (tables, figures) = (0, 0);
        string Words(int least, int most) => string.Join(' ', Enumerable.Range(0, random.Next(least, most + 1)).Select(_ => Vocabulary[random.Next(Vocabulary.Length)]));
        string Sentence(int least = 8, int most = 30) => Words(least, most) is var s ? char.ToUpperInvariant(s[0]) + s[1..] + "." : "";
        string Text() => string.Join(' ', Enumerable.Range(0, random.Next(1, 7)).Select(_ => Sentence()));
        ProseTemplate P(string s) => s;
        for (var b = 0; b < blocks; b++)
        {
            if (b == 0 || random.NextDouble() < 0.16) report.Heading(P(Words(2, random.NextDouble() < 0.1 ? 16 : 6)), b == 0 ? 1 : random.Next(1, 4));
            var kind = kinds[random.Next(kinds.Length)];
            if (random.NextDouble() < 0.5) kind = "text";
            if (byChapter && b == blocks * 4 / 5 && kinds.Contains("chapters")) report.Add(new Appendices()).Heading(P(Words(2, 5)), 1);
            Add(report, kind);
        }
        if (byChapter) report.Add(new IndexOfTerms());
        report.Save(Path.Combine(folder, $"{HouseNames[place]}-{index:000}.docx"), force: true);
        return report.Build().LayOut();

        void Add(Report to, string kind)
        {
            switch (kind)
            {
                case "lists":
                    to.Text(P(string.Concat(Enumerable.Range(1, random.Next(2, 7)).Select(n => (random.NextDouble() < 0.5 ? "- " : "- ") + Sentence(4, 25) + "\n"))));
                    break;
                case "tables":
                case "long-tables":
                    var columns = random.Next(2, 6);
                    var table = Table.WithHeads([.. Enumerable.Range(0, columns).Select(c => Words(1, 2))]);
                    for (var r = random.Next(2, kind == "tables" ? 10 : 60); r > 0; r--) table = table.Row([Words(1, 4), .. Enumerable.Range(1, columns - 1).Select(_ => (object)(random.Next(10, 9999) / 10.0))]);
                    to.Add(table, caption: P(Sentence(3, 14)), note: random.NextDouble() < 0.5 ? P(Sentence(5, 40)) : null, label: $"t{++tables}");
                    break;
                case "figures":
                    to.Add(Dot, "decorative", caption: P(Sentence(3, 14)), width: Length.Centimetres(random.Next(6, 15)), height: Length.Centimetres(random.Next(3, 11)), note: random.NextDouble() < 0.3 ? P(Sentence(5, 40)) : null, label: $"f{++figures}");
                    break;
                case "notes":
                    to.Text($"{Sentence()}{Footnote(P(Text()))} {Text()}");
                    break;
                case "listings":
                    to.Add(new Listing(string.Join('\n', Enumerable.Range(0, random.Next(1, 14)).Select(_ => "var x = " + Words(1, random.NextDouble() < 0.2 ? 20 : 6) + ";"))));
                    break;
                case "quotations":
                    to.Text(P("> " + Text() + (random.NextDouble() < 0.3 ? "\n>\n> " + Text() : "")));
                    break;
                case "equations":
                    to.Add(Formula.Of(Formulas[random.Next(Formulas.Length)]), label: random.NextDouble() < 0.5 ? $"e{random.Next()}" : null);
                    break;
                case "boxes":
                    to.Add(new Box((BoxKind)random.Next(2), random.NextDouble() < 0.5 ? Words(2, 5) : null, [.. Enumerable.Range(0, random.Next(1, 4)).Select(_ => new Paragraph(RichText.Plain(Text())))]));
                    break;
                case "columns":
                    to.Add(new Pages(new PageLayout { Columns = [0.5, 0.5] }, [.. Enumerable.Range(0, random.Next(1, 6)).Select(_ => new Paragraph(RichText.Plain(Text())))]));
                    break;
                case "formulas":
                    to.Text(P($"{Sentence()} ${Formulas[random.Next(Formulas.Length)]}$ {Text()} ${Formulas[random.Next(Formulas.Length)]}$."));
                    break;
                case "nested-lists":
                    var mark = random.NextDouble() < 0.3 ? "- [ ]" : random.NextDouble() < 0.5 ? "1." : "-";
                    to.Text(P(string.Concat(Enumerable.Range(1, random.Next(2, 5)).Select(n => $"{mark} {Sentence(4, 25)}\n" + (mark != "- [ ]" && random.NextDouble() < 0.5 ? $"   - {Sentence(3, 20)}\n   - {Sentence(3, 20)}\n" : "")))));
                    break;
                case "definitions":
                    to.Text(P(string.Join("\n", Enumerable.Range(0, random.Next(1, 4)).Select(_ => $"{Words(1, 2)}\n:   {Sentence(4, 40)}\n"))));
                    break;
                case "side-by-side":
                    Block[] Beside() => [.. Enumerable.Range(0, random.Next(1, 4)).Select(_ => new Paragraph(RichText.Plain(Sentence()))), new Quotation([new Paragraph(RichText.Plain(Sentence(5, 20)))])];
                    var share = random.Next(3, 8) / 10.0;
                    to.Add(new SideBySide([share, 1 - share], [[.. Beside()], [.. Beside().Reverse()]]));
                    break;
                case "key-figures":
                    to.Add(new KeyFigures([.. Enumerable.Range(0, random.Next(1, 6)).Select(n => new KeyFigure(RichText.Plain(Words(1, 3)), RichText.Plain($"{n + 20.5} kg")) { Change = n % 2 == 0 ? RichText.Plain(Words(1, 2)) : null, Note = n % 3 == 0 ? RichText.Plain(Words(2, 4)) : null })]));
                    break;
                case "asides":
                    if (random.NextDouble() < 0.5) to.Add(new ThoughtBreak());
                    else to.Add(new Aside((AsideKind)random.Next(2), [new Paragraph(RichText.Plain(Sentence()))]));
                    break;
                case "series":
                    to.Add(new SeriesItem("box", RichText.Plain(Sentence(2, 8)), [new Paragraph(RichText.Plain(Text()))]));
                    break;
                case "chapters":
                    to.Heading(P(Words(2, random.NextDouble() < 0.3 ? 14 : 6)), 1).Text(P(Text()));
                    break;
                case "landscape":
                    to.Add(new Landscape([.. Enumerable.Range(0, random.Next(1, 4)).Select(_ => new Paragraph(RichText.Plain(Text())))]));
                    break;
                default:
                    to.Text(P(tables > 0 && random.NextDouble() < 0.1 ? "" : Text()));
                    if (byChapter && random.NextDouble() < 0.2) to.Text($"{Text()}{IndexTerm(Words(1, 2))}");
                    if (tables > 0 && random.NextDouble() < 0.1) to.Text($"{Text()} As {See($"t{random.Next(1, tables + 1)}")} on page {See($"t{random.Next(1, tables + 1)}", SeePart.Page)} shows.");
                    break;
            }
        }
    }
}
