using Fennick.Charts;
using Fennick.Citations;
using Fennick.Documents;
using Fennick.Mathematics;
using Fennick.Tables;
using static Fennick.Inlines;

namespace Fennick;

/// <summary>A report that shows every role of a house.</summary>
internal static class SpecimenReport
{
    private static readonly Harvest[] Harvests = [new("Amber", 227, 24.4, 0.86), new("Dusk", 209, 26.2, 0.85), new("Heath", 148, 22.2, 0.75)];

    public static Report Of(House house)
    {
        var report = new Report("A specimen of every style")
        {
            House = house,
            Subtitle = "What headings, text, tables and figures look like in this house",
            Authors = ["Fennick"],
            Date = new DateOnly(2025, 11, 3),
            Sources = WorkList.Of(new Work("moss") { Kind = WorkKind.Article, Authors = [new Person("Moss", "Ada")], Title = "Hives in the wind", Container = "Valley Notes", Year = "2024", Volume = "3", Pages = "14–19" }),
        };
        return report.Contents(2)
            .Heading("Text")
            .Text("""
                Running text with **strong words**, *stressed words*, `code`, a [link](https://larkmere.example) and a footnote[^1]. A paragraph of two or three lines shows how wide the text is set, how
                far its lines lie apart, and how much space there is before the next one begins.

                - a list with bullets,
                - whose second entry
                  - has a list of its own.

                1. A list with numbers
                2. that counts for itself

                > Words of somebody else, set off from the text.

                Hive
                : A box in which bees live, and the bees in it.

                ```csharp
                // Code as it stands.
                var mean = hives.Average(h => h.Honey);
                ```

                ***

                [^1]: What the footnote says.
                """)
            .Heading("The second level", level: 2).Text("Text under it.")
            .Heading("The third level", level: 3).Text("Text under it.")
            .Heading("The fourth level", level: 4).Text("Text under it.")
            .Heading("The fifth level", level: 5).Text("Text under it.")
            .Heading("The sixth level", level: 6).Text("Text under it.")
            .Heading("Tables and figures")
            .Add(Harvested(), "open", "A table in the ruling open", "The small print under it.", ruling: Ruling.Open)
            .Add(Harvested(), "banded", "The same in the ruling banded", ruling: Ruling.Banded)
            .Add(Harvested(), "boxed", "The same in the ruling boxed", ruling: Ruling.Boxed)
            .Add(Chart.Columns(Harvests, h => h.Strain, h => h.Honey), "chart", "A figure", "The small print under it.")
            .Add(Formula.Of(@"y = \beta_0 + \beta_1 x + \varepsilon"), "line")
            .Text($"Equation, table and figure are referred to by number: {See("line")}, {See("open")} and {See("chart")}. A source is cited so: {Cite("moss")}.")
            .Heading("Sources")
            .Add(new Bibliography());
    }

    private static RecordTable<Harvest> Harvested() => Table.Of(Harvests).Column("Strain", h => h.Strain).Column("Hives", h => h.Hives).Column("Honey (kg)", h => h.Honey, "0.0").Column("Wintered", h => h.Wintered, "0 %");

    private sealed record Harvest(string Strain, int Hives, double Honey, double Wintered);
}
