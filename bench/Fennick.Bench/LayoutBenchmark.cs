using System.Diagnostics;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Houses;
using Fennick.Layout;
using Fennick.Tables;
using static Fennick.Inlines;

namespace Fennick.Bench;

/// <summary>The layout pass over reports of 5, 100 and 2,000 pages of text, lists, tables, notes and boxes: what it takes to a page, warm.</summary>
internal static class LayoutBenchmark
{
    private const double Target = 0.15;
    private const double GrowthTarget = 1.1;
    private const int Rounds = 9;

    public static int Run()
    {
        int[] sizes = [5, 100, 2000];
        var measured = sizes.Select(Prepare).ToArray();
        var best = new double[sizes.Length];
        Array.Fill(best, double.MaxValue);
        // By turns, so that noise of the machine meets all of them.
        for (var round = 0; round < Rounds; round++)
        {
            for (var i = 0; i < sizes.Length; i++)
            {
                var (fitted, house, pages) = measured[i];
                var repeats = Math.Max(1, 400 / pages);
                var watch = Stopwatch.StartNew();
                for (var r = 0; r < repeats; r++) Pagination.Paginate(fitted, house);
                best[i] = Math.Min(best[i], watch.Elapsed.TotalMilliseconds / repeats / pages);
            }
        }
        for (var i = 0; i < sizes.Length; i++) Console.WriteLine($"{measured[i].Pages,5} pages: {best[i]:0.000} ms a page (target: at most {Target})");
        Console.WriteLine($"a page of {measured[2].Pages} / a page of {measured[1].Pages}: {best[2] / best[1]:0.00} (target: at most {GrowthTarget})");
        return 0;
    }

    private static (FittedDocument Fitted, DressedHouse House, int Pages) Prepare(int pages)
    {
        var report = new Report("Layout").Contents();
        var text = string.Join(' ', Enumerable.Range(0, 14).Select(i => $"The hives of valley {i} gave more honey than before."));
        for (var page = 0; page < pages; page++)
        {
            if (page % 4 == 0) report.Heading($"Chapter {page}");
            report.Text($"{text}{Footnote("Weighed at dusk.")} See {See($"t{page}", SeePart.Page)}.").Text("- one hive\n- another hive, which stands in the shade of the lime trees beside the road to the mill");
            report.Add(Table.Of(Enumerable.Range(0, 8)).Column("Hive", n => n).Column("Honey (kg)", n => n * 1.5, "0.0").Column("Where it stands", n => $"place {n}"), label: $"t{page}", caption: $"Hives {page}");
            if (page % 5 == 0) report.Add(new Box(BoxKind.Note, "Note", [new Paragraph(text)]));
            else report.Text(text);
        }
        var content = report.Build();
        var house = content.House.Dress(content.Language);
        var fitted = Fitting.Fit(Lowering.Lower(content, Numberer.Number(content), house), house);
        return (fitted, house, Pagination.Paginate(fitted, house).Pages.Count);
    }
}
