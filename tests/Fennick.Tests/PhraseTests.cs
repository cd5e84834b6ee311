using System.Text.RegularExpressions;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Statistics;
using Fennick.Statistics.Fits;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Statistics.Variables.Terms;

namespace Fennick.Tests;

/// <summary>What tables and their notes say, in every language.</summary>
public sealed class PhraseTests : IDisposable
{
    // The same in all languages.
    private static readonly string[] Signs = ["AIC", "BIC", "F", "p", "n", "n = {0}", "R²", "χ²"];
    private readonly TestFolder folder = new();

    private sealed record Hive(double Honey, double Mites, double? Forage, string Strain, string Valley, bool Survived, int Swarms);

    private static readonly Hive[] Hives = [.. Enumerable.Range(0, 80).Select(i => new Hive(20 + (i * 7 % 13) + (i % 3 * 0.5), i * 5 % 11, i % 17 == 0 ? null : i % 9, i % 2 == 0 ? "Amber" : "Dusk", $"V{i % 5}", i * 11 % 7 > 2, i * 3 % 4))];

    private sealed record Odd(double? Nothing, int Same, DateOnly Day, DateTime Time, double Number, double Coded, string Spaced, string Code, string Figures);

    private static readonly Odd[] Doubtful = [.. Enumerable.Range(0, 40).Select(i => new Odd(null, 1, new DateOnly(2025, 10, 25).AddDays(i % 20), new DateTime(2025, 1, 1, 8, i, 0), i % 20 == 19 ? 900.5 : i % 20, i % 20 == 0 ? -99 : i % 20, i % 4 == 0 ? " Amber" : i % 4 == 1 ? "amber" : "n/a", i % 5 == 0 ? "7" : "x", $"{i % 7}"))];

    public static TheoryData<string> Languages => [.. Directory.GetFiles(Repository.PathOf("src", "Fennick", "Formatting"), "Phrases.*.txt").Select(f => f.Split('.')[^2])];

    public void Dispose() => folder.Dispose();

    private static Dictionary<string, string> PhrasesOf(string language) => File.ReadAllLines(Repository.PathOf("src", "Fennick", "Formatting", $"Phrases.{language}.txt")).Select(l => l.Split('|')).ToDictionary(l => l[0], l => l[1]);

    private static IEnumerable<ITableSource> Tables()
    {
        var plain = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Mites, h.Strain });
        var more = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Mites, h.Strain, h.Forage });
        var weighted = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Mites, h.Strain }, weights: h => h.Honey);
        var clustered = plain.With(StandardErrors.ClusteredBy((Hive h) => h.Valley));
        var both = plain.With(StandardErrors.ClusteredBy((Hive h) => h.Valley, (Hive h) => h.Strain));
        var robust = plain.With(StandardErrors.Hc1);
        var logistic = Regression.Logistic(Hives, h => h.Survived ? 1 : 0, h => new { h.Mites, h.Strain });
        var counts = Regression.Poisson(Hives, h => h.Swarms, h => new { h.Mites, h.Strain });
        var complete = Hives.Where(h => h.Forage is not null).ToArray();
        var small = Regression.LeastSquares(complete, h => h.Honey, h => new { h.Mites });
        var large = Regression.LeastSquares(complete, h => h.Honey, h => new { h.Mites, h.Forage });
        foreach (var shown in Enum.GetValues<Uncertainty>())
        {
            yield return RegressionTable.Of(plain, clustered, both).Beneath(shown);
            yield return RegressionTable.Of(plain, weighted, logistic).Beside(shown).Exponentiated(3);
        }
        yield return RegressionTable.Of(more).Statistics(FitStatistic.Observations, FitStatistic.RSquared, FitStatistic.AdjustedRSquared, FitStatistic.ResidualStandardError, FitStatistic.F, FitStatistic.LogLikelihood, FitStatistic.Aic, FitStatistic.Bic);
        yield return RegressionTable.Of(counts, logistic).Exponentiated().Statistics(FitStatistic.PseudoRSquared, FitStatistic.Deviance, FitStatistic.RowsLeftOut).YesNo("Strains", "Strain");
        yield return RegressionTable.Of(Regression.FixedEffects(Hives, h => h.Honey, h => new { h.Mites }, h => h.Valley));
        yield return RegressionTable.Of(Regression.Probit(Hives, h => h.Survived ? 1 : 0, h => new { h.Mites }), Regression.NegativeBinomial(Hives, h => h.Swarms, h => new { h.Mites }));
        yield return RegressionTable.Of(Regression.Cox(Hives, h => h.Honey, h => h.Survived ? 1 : 0, h => new { h.Mites }), Regression.OrderedLogit(Hives, h => h.Swarms, h => h.Mites), Regression.OrderedProbit(Hives, h => h.Swarms, h => h.Mites), Regression.MultinomialLogit(Hives, h => h.Swarms, h => h.Mites));
        yield return RegressionTable.Of(Regression.Mixed(Hives, h => h.Honey, h => h.Mites, h => h.Valley), Regression.Mixed(Hives, h => h.Honey, h => h.Mites, h => h.Valley, restricted: false), Regression.MixedLogistic(Hives, h => h.Survived ? 1 : 0, h => h.Mites, h => h.Valley));
        yield return RegressionTable.Of(Regression.Mixed(Hives, h => h.Honey, h => h.Mites, h => h.Valley).WithExpectedInformation());
        yield return RegressionTable.Of(Regression.Quantile(Hives, h => h.Honey, h => h.Mites), Regression.Huber(Hives, h => h.Honey, h => h.Mites), Regression.Bisquare(Hives, h => h.Honey, h => h.Mites));
        yield return RegressionTable.Of(Regression.ConditionalLogit(Hives, h => h.Survived ? 1 : 0, h => h.Mites, h => h.Valley), Regression.FixedEffectsPoisson(Hives, h => h.Swarms, h => h.Mites, h => h.Valley), Regression.ZeroInflatedPoisson(Hives, h => h.Swarms, h => h.Mites), Regression.HurdlePoisson(Hives, h => h.Swarms, h => h.Mites));
        yield return RegressionTable.Of(Panel.FirstDifferences([.. Hives.Select((h, i) => h with { Honey = h.Honey + i })], h => h.Honey, h => h.Mites, h => h.Valley, h => h.Honey));
        yield return RegressionTable.Of(Regression.Cox(Hives, h => h.Honey, h => h.Survived ? 1 : 0, h => new { h.Mites }, strata: h => h.Strain), Regression.Mixed(Hives, h => h.Honey, h => h.Mites, h => h.Valley, h => h.Mites), Imputations.Pool([plain, plain]));
        var stages = Regression.TwoStageLeastSquares(Hives, h => h.Honey, h => new { h.Strain }, h => new { h.Mites }, h => new { h.Swarms, h.Survived });
        yield return RegressionTable.Of(stages, stages.With(StandardErrors.Hc0), Panel.RandomEffects(Hives, h => h.Honey, h => h.Mites, h => h.Valley));
        yield return RegressionTable.Of(plain.With(StandardErrors.NeweyWest()), plain.With(StandardErrors.Cr2((Hive h) => h.Valley)), plain.With(StandardErrors.Cr3((Hive h) => h.Valley)));
        yield return RegressionTable.Of(clustered).Detailed();
        yield return DescriptiveTable.Of(Hives, h => new { h.Honey, h.Forage, h.Strain });
        yield return DescriptiveTable.Of(Hives, h => new { h.Honey, h.Forage, h.Valley }).By("Strain", (Hive h) => h.Strain);
        yield return DescriptiveTable.Of(Hives, h => new { h.Honey }).By("Valley", (Hive h) => h.Valley).Statistics(Statistic.Count, Statistic.Missing, Statistic.Mean, Statistic.StandardDeviation, Statistic.Minimum, Statistic.LowerQuartile, Statistic.Median, Statistic.UpperQuartile, Statistic.Maximum, Statistic.Skewness);
        yield return DescriptiveTable.Of([.. Hives, Hives[0] with { Strain = null! }], h => new { h.Honey, h.Strain }).By("Strain", (Hive h) => h.Strain);
        yield return FrequencyTable.Of(Hives, h => h.Forage);
        yield return OverviewTable.Of(Hives);
        yield return OverviewTable.Of(Doubtful).AsOf(new DateOnly(2025, 11, 3));
        yield return OverviewTable.Of(Doubtful.Take(9).Append(Doubtful[0]).Select(d => d with { Spaced = d.Number == 0 ? " a" : "b" }));
        yield return ContingencyTable.Of(Hives, "Strain", h => h.Strain, "Valley", h => h.Forage is null ? null : h.Valley);
        yield return ContingencyTable.Of(Hives.Take(9), "Strain", h => h.Strain, "Valley", h => h.Valley).Shares(Shares.Cell);
        yield return CorrelationTable.Of(Hives, h => new { h.Honey, h.Mites, h.Forage });
        yield return CorrelationTable.Of(Hives, h => new { h.Honey, h.Mites }).Spearman();
        yield return PredictionTable.Of(logistic, "Strain");
        yield return PredictionTable.Effects(logistic, "Strain", "Mites");
        yield return EstimatesTable.Of("Mites", plain, robust, logistic);
        yield return EstimatesTable.Of("Strain=Dusk", plain, clustered);
        yield return FitComparisonTable.Of(small, large);
        yield return FitComparisonTable.Of(small.With(StandardErrors.Hc3), large.With(StandardErrors.Hc3));
        yield return ListingTable.Of(Hives).First(3);
    }

    private static IEnumerable<PhraseInline> PhrasesIn(RichText words) => words.Inlines.OfType<PhraseInline>().SelectMany(p => p.Among.SelectMany(PhrasesIn).Prepend(p));

    private static IEnumerable<RichText> WordsOf(Table table) => table.HeaderRows.Concat(table.Rows).SelectMany(r => r.Cells).Select(c => c.Content).Concat(table.Notes);

    [Fact]
    public void All_languages_hold_the_same_phrases_with_the_same_places()
    {
        var phrases = Languages.Select(l => PhrasesOf(l.Data)).ToArray();
        Assert.Equal(8, phrases.Length);
        foreach (var language in phrases)
        {
            Assert.Equal(phrases[0].Keys.Order(StringComparer.Ordinal), language.Keys.Order(StringComparer.Ordinal));
            foreach (var (english, own) in language)
                Assert.Equal(Regex.Matches(english, @"\{\d\}").Select(m => m.Value).Order(), Regex.Matches(own, @"\{\d\}").Select(m => m.Value).Order());
        }
    }

    [Theory]
    [MemberData(nameof(Languages))]
    public void Every_table_speaks_the_language_of_its_report(string language)
    {
        var known = PhrasesOf(language);
        var found = Tables().SelectMany(t => WordsOf(t.ToTable())).SelectMany(PhrasesIn).Select(p => p.English).Where(e => Regex.Replace(e, @"\{\d\}", "").Any(char.IsLetter)).ToHashSet();
        Assert.DoesNotContain(found.Except(Signs), e => !known.ContainsKey(e));
        // Most of what the files hold is met; the rest are corners such as an iteration without end, and the words of charts.
        Assert.True(known.Keys.Count(found.Contains) > known.Count * 0.57, string.Join('\n', known.Keys.Except(found)));
        var report = new Report("x") { Language = Language.Find(language)! };
        foreach (var table in Tables()) report.Add(table);
        var path = folder.File("tables.docx");
        report.Save(path);
        var text = WordClean.Check(path).AllText;
        foreach (var english in (string[])["Standard errors", "Observations", "Std. error", "are left out", "delta-method", "least squares", "degrees of freedom", "Cumulative", "Skewness", "95% interval"])
            if (known.GetValueOrDefault(english) != english) Assert.DoesNotContain(english, text, StringComparison.Ordinal);
        Assert.Contains(known["Constant"], text, StringComparison.Ordinal);
    }

    [Fact]
    public void A_label_stands_for_every_word_and_columns_are_named_in_English()
    {
        var fit = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Mites });
        var german = Language.Find("de")!;
        string[] Rows(ITableSource table) => [.. table.ToTable().Rows.Select(r => r.Cells[0].Content.ToPlainText(german))];
        Assert.Equal(["Mites", "", "Konstante", "", "Beobachtungen", "R²", "Korrigiertes R²"], Rows(RegressionTable.Of(fit)));
        Assert.Equal(["Milben", "", "Achse", "", "Fälle", "R²", "Korrigiertes R²"], Rows(RegressionTable.Of(fit).Label("Mites", "Milben").Label("intercept", "Achse").Label("Observations", "Fälle")));
        var table = RegressionTable.Of(fit).Detailed().Format("Std. error", "0.0");
        Assert.Equal("Std.-Fehler", table.HeaderRows[^1].Cells[2].Content.ToPlainText(german));
        Assert.Equal("Methode der kleinsten Quadrate von Honey; Standardfehler klassisch.", table.Notes[0].ToPlainText(german));
        Assert.Equal("Least squares of Honey; standard errors classical.", table.Notes[0].ToPlainText());
    }

    [Fact]
    public void Levels_of_truth_are_words_of_the_language_and_other_levels_are_data()
    {
        var german = Language.Find("de")!;
        string[] First(ITableSource table) => [.. table.ToTable().Rows.Select(r => r.Cells[0].Content.ToPlainText(german))];
        Assert.Equal(["nein", "ja", "Alle"], First(FrequencyTable.Of(Hives, h => h.Survived)));
        Assert.Equal(["da", "no", "Alle"], First(FrequencyTable.Of((string[])["no", "da"], c => c)));
        Assert.Equal(["nein", "ja", "Alle"], First(ContingencyTable.Of(Hives, "Survived", h => h.Survived, "Strain", h => h.Strain)));
        Assert.Equal(["Survived (Referenz: nein)", "ja", "", "Konstante", ""], First(RegressionTable.Of(Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Survived })))[..5]);
        Assert.Equal(["Survived", "nein", "ja"], First(DescriptiveTable.Of(Hives, h => new { h.Survived })));
        Assert.Equal(["Survived: ja × Mites", "", "Konstante", ""], First(RegressionTable.Of(Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Survived, h.Mites, Both = Cross(h.Survived, h.Mites) })).Only("Survived=yes × Mites", "intercept"))[..4]);
    }

    [Fact]
    public void Every_phrase_in_the_sources_is_in_the_files()
    {
        var known = PhrasesOf("de").Keys.Concat(Signs).ToHashSet();
        var sentences = Directory.GetFiles(Repository.PathOf("src", "Fennick", "Tables"), "*.cs").SelectMany(f => SentencesIn(File.ReadAllText(f))).ToArray();
        Assert.True(sentences.Length > 50);
        Assert.DoesNotContain(sentences, s => Regex.Replace(s, @"\{\d\}", "").Any(char.IsLetter) && !known.Contains(s));
    }

    /// <summary>The patterns of all calls <c>Sentence($"…")</c>.</summary>
    private static IEnumerable<string> SentencesIn(string source)
    {
        const string Call = "Sentence($\"";
        for (var at = source.IndexOf(Call, StringComparison.Ordinal); at >= 0; at = source.IndexOf(Call, at, StringComparison.Ordinal))
        {
            at += Call.Length;
            var (pattern, depth, places) = ("", 0, 0);
            for (; depth > 0 || source[at] != '"'; at++)
            {
                if (source[at] == '{' && depth++ == 0) pattern += $"{{{places++}}}";
                else if (source[at] == '}') depth--;
                else if (depth == 0) pattern += source[at];
            }
            yield return pattern.Replace("\\u00A0", "\u00A0", StringComparison.Ordinal);
        }
    }
}
