// The report of examples/survey/harvest.ms.md, made with the library alone: dotnet run examples/library/harvest.cs [FILE.docx]
#:project ../../src/Fennick/Fennick.csproj
#:project ../../src/Fennick.Data/Fennick.Data.csproj

using System.Runtime.CompilerServices;
using Fennick;
using Fennick.Charts;
using Fennick.Data;
using Fennick.Documents;
using Fennick.Tables;
using static Fennick.Inlines;

const int season = 2025;
var weighed = Csv.Read<Hive>(Path.Combine(Here(), "../survey/data/hives.csv")).Where(h => h.HoneyKg != null).ToList();
var hives = weighed.Where(h => h.Season == season).ToList();
var mean = Mean(hives);
var change = mean - Mean(weighed.Where(h => h.Season == season - 1));

var strains = hives.GroupBy(h => h.Strain).OrderBy(g => g.Key)
    .Select(g => new { Name = g.Key, Hives = g.Count(), Mean = Mean(g), Best = g.Max(h => h.HoneyKg), Wintered = g.Average(h => h.Survived ? 1.0 : 0.0) })
    .ToList();
var best = strains.MaxBy(s => s.Mean)!;
var least = strains.MinBy(s => s.Mean)!;
var champion = strains.MaxBy(s => s.Best)!;
var valleys = hives.GroupBy(h => h.Valley).Select(g => new { Name = g.Key, Mean = Mean(g) }).OrderByDescending(v => v.Mean).ToList();

var strainTable = Table.Of(strains)
    .Column("Strain", s => s.Name)
    .Column("Hives", s => s.Hives)
    .Column("Mean (kg)", s => s.Mean, "0.0")
    .Column("Best hive (kg)", s => s.Best, "0.0")
    .Column("Wintered", s => s.Wintered, "P0");
var seasonTable = Table.Of(valleys)
    .Column("Valley", v => v.Name)
    .Column($"{season - 2}", v => MeanOf(v.Name, season - 2), "0.0")
    .Column($"{season - 1}", v => MeanOf(v.Name, season - 1), "0.0")
    .Column($"{season}", v => v.Mean, "0.0");
var chart = Chart.Bars(valleys, v => v.Name, v => v.Mean).Axes("", "Honey per hive (kg)").Format("0.0").WithValues().Highlight(valleys[^1].Name).ReferenceLine(mean, $"All hives {mean:0.0}");

var report = new Report
{
    Title = $"Honey harvest {season}",
    Subtitle = "What the hives of the Larkmere valleys gave",
    Authors = ["Larkmere Hive Survey", "Field Office"],
    Date = new DateOnly(2025, 11, 3),
    Settings = new ReportSettings { FigureHeight = Length.Centimetres(7.5) },
};

report.Heading("The season in short")
    .Text($"""
        In {season} the survey weighed the honey of **{hives.Count} hives** in {hives.Select(h => h.Apiary).Distinct().Count()} apiaries.
        The average hive gave {mean:0.0} kg, {Math.Abs(change):0.0} kg {(change > 0 ? "more" : "less")} than the year before.
        {See("honey-by-strain")} shows what each strain gave, and {See("honey-by-valley")} how far the valleys lie apart.

        - *{best.Name}* gave most: {best.Mean:0.0} kg from the average hive.
        - *{least.Name}* gave least: {least.Mean:0.0} kg, which is {best.Mean - least.Mean:0.0} kg behind.
        - {valleys[^1].Name} stays far behind the other valleys with {valleys[^1].Mean:0.0} kg.
        """);

report.Heading("Strains")
    .Add(strainTable, label: "honey-by-strain", caption: $"Honey per hive by strain, season {season}",
        note: "Hives whose honey was weighed. “Wintered” is the share of them that were alive in spring.")
    .Text($"""
        The best single hive of the season, of the strain {champion.Name}, gave {champion.Best:0.0} kg.
        How hives are weighed, and what counts as one, is written in the [field handbook](https://survey.larkmere.example/handbook).
        """);

report.Heading("Valleys")
    .Text($"""
        Five valleys lie within {valleys[0].Mean - valleys[^2].Mean:0.0} kg of each other. {valleys[^1].Name}, the wet valley, falls out of line,
        as in the two seasons before ({See("honey-by-season")}).
        """)
    .Add(seasonTable, label: "honey-by-season", caption: "Honey per hive by valley in the last three seasons (kg)")
    .Add(chart, label: "honey-by-valley", caption: $"Honey per hive by valley, season {season}")
    .Text($"""
        Before the next season the field office will

        1. weigh the hives of {valleys[^1].Name} a second time, with another scale,
        2. map what flowers within two kilometres of each apiary,
        3. report in March whether forage alone explains the gap.
        """);

var path = args.Length > 0 ? args[0] : "harvest.docx";
foreach (var warning in report.Save(path)) Console.Error.WriteLine(warning);
Console.WriteLine(Path.GetFullPath(path));

double Mean(IEnumerable<Hive> some) => some.Average(h => h.HoneyKg!.Value);

double? MeanOf(string valley, int year) => weighed.Where(h => h.Valley == valley && h.Season == year).Average(h => h.HoneyKg);

static string Here([CallerFilePath] string file = "") => Path.GetDirectoryName(file)!;

internal sealed record Hive(int Season, string Valley, string Apiary, string Strain, double? HoneyKg, bool Survived);
