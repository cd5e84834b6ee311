using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Statistics;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Variables;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

/// <summary>What users bring of their own: models, statistics, tables, formats, blocks.</summary>
public sealed class OwnKindsTests : IDisposable
{
    private static readonly Hive[] Hives = [.. Enumerable.Range(0, 60).Select(i => new Hive(20 + (i % 7) + (i % 3 * 0.5), i % 11, i % 2 == 0 ? "Amber" : "Dusk"))];
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void A_model_by_its_numbers_reads_as_the_fit_that_gave_them()
    {
        var fit = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Mites, h.Strain });
        var same = ModelResult.Of(fit.Estimator, fit.Response, fit.Observations, [.. fit.Terms.Select(t => t.Name)], [.. fit.Terms.Select(t => t.Estimate)], fit.Covariance(), fit.TestDegreesOfFreedom) with
        {
            Statistics = [new("R²", fit.RSquared), new("Adjusted R²", fit.AdjustedRSquared)],
        };
        // Without the reference level, which numbers alone do not tell.
        var table = RegressionTable.Of(fit, same).Beneath(Uncertainty.Interval).ToTable();
        Assert.All(table.Rows.Where(r => r.Cells.Length == 3 && r.Kind == RowKind.Body), r => Assert.Equal(r.Cells[1].Content.ToPlainText(), r.Cells[2].Content.ToPlainText()));
        Assert.Equal(fit["Mites"].PValue, same.Terms.Single(t => t.Name == "Mites").PValue, 12);
        Assert.Equal(fit.Covariance(), same.Covariance());
        Assert.Contains("Least squares. 95% intervals in brackets; standard errors: classical.", string.Join(' ', table.Notes.Select(n => n.ToPlainText())), StringComparison.Ordinal);
    }

    [Fact]
    public void A_model_of_ones_own_type_stands_in_both_tables_with_its_statistics_and_notes()
    {
        var fit = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Mites });
        var table = OneLine(RegressionTable.Of(("Mean", fit), ("Bayes", new Posterior())));
        Assert.Contains("Bayes: posterior {means}", table, StringComparison.Ordinal);
        Assert.Contains("Bayes: posterior deviations", table, StringComparison.Ordinal);
        Assert.Contains("Effective draws 812", table, StringComparison.Ordinal);
        Assert.Contains("Four chains.", table, StringComparison.Ordinal);
        Assert.Contains("a did not mix", string.Join(' ', RegressionTable.Of(new Posterior()).ToTable().Warnings), StringComparison.Ordinal);
        var estimates = EstimatesTable.Of("Mites", fit, new Posterior()).ToString();
        Assert.Contains("[−0.900, −0.100]", estimates, StringComparison.Ordinal);
        Assert.Contains("0.012", estimates, StringComparison.Ordinal);
        Assert.Equal("2,2", string.Join(",", RegressionTable.Of(fit, new Posterior()).Statistics(FitStatistic.OfModel("Terms", m => m.Terms.Length, "0")).ToTable().Rows[^1].Cells.Skip(1).Select(c => c.Content.ToPlainText())));
        // What a model does not have stays empty, and what is asked for by name is found.
        Assert.Contains("AIC", RegressionTable.Of(new Posterior()).Statistics(FitStatistic.Aic).ToString(), StringComparison.Ordinal);
        Assert.DoesNotContain("BIC", RegressionTable.Of(new Posterior()).Statistics(FitStatistic.Bic).ToString(), StringComparison.Ordinal);
        var path = folder.File("own.docx");
        new Report("Own {models}").Add(RegressionTable.Of(fit, new Posterior())).Add(EstimatesTable.Of("Mites", fit, new Posterior())).Save(path);
        Assert.Contains("posterior {means}", WordClean.Check(path).AllText, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("2 names, 1 coefficients", 1, 1.0, 0.0)]
    [InlineData("the variance of `Mites`", 2, -1.0, 0.0)]
    [InlineData("not symmetric at `Mites` and `intercept`", 2, 1.0, 0.5)]
    public void Numbers_that_make_no_model_are_refused(string message, int coefficients, double variance, double above)
    {
        var problem = Assert.Throws<AnalysisException>(() => ModelResult.Of("median", "Honey", 60, ["intercept", "Mites"], new double[coefficients], new[,] { { 1, above }, { 0, variance } }));
        Assert.Contains(message, problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_model_without_terms_or_with_two_of_one_name_is_refused_and_an_unknown_covariance_is_told()
    {
        Assert.Contains("has no terms", Assert.Throws<AnalysisException>(() => new ModelResult("median", "Honey", 3, [])).Message, StringComparison.Ordinal);
        var term = new TermEstimate(Term.Named("Strain=Dusk"), 1, 0.5, double.PositiveInfinity);
        Assert.Equal(("Strain", "Dusk"), (term.Term.Variable, term.Term.Level));
        Assert.Contains("two terms", Assert.Throws<AnalysisException>(() => new ModelResult("median", "Honey", 3, term, term)).Message.Replace("2 terms", "two terms", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.Contains("was not given", Assert.Throws<AnalysisException>(() => new ModelResult("median", "Honey", 3, term).Covariance()).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_format_of_ones_own_holds_in_sentences_tables_and_charts()
    {
        var language = Language.Find("de-DE")!.With(OwnFormat.Chain("weight", "number 1 | unit kg"), OwnFormat.Of("grade", (value, argument, l) => (double)value >= 30 ? $"A{l.Tag[..2]}" : argument));
        Assert.Equal("24,5\u00A0kg", ValueFormatter.Format(24.46, "weight", language));
        Assert.Equal("Ade, B, —", string.Join(", ", new object?[] { 31.0, 2.0, null }.Select(v => ValueFormatter.Format(v, "grade B", language))));
        Assert.Equal("Ade und B", ValueFormatter.Format(new[] { 31.0, 2.0 }, "grade B | list and", language));
        var path = folder.File("formats.docx");
        var rows = new[] { new { Name = "Amber", Honey = 24.46 }, new { Name = "Dusk", Honey = 31.0 } };
        new Report("Formats") { Language = language }.Text($"{24.46:weight} is {24.46:grade B}.")
            .Add(Table.Of(rows).Column("Strain", r => r.Name).Column("Honey", r => r.Honey, "weight").Column("Grade", r => r.Honey, "grade C"))
            .Add(Chart.Columns(rows, r => r.Name, r => r.Honey).Format("weight").WithValues(), alt: "Honey").Save(path);
        var docx = WordClean.Check(path);
        Assert.Contains("24,5\u00A0kg is B.", docx.AllText, StringComparison.Ordinal);
        Assert.Contains("Ade", docx.AllText, StringComparison.Ordinal);
        // The chart's numbers stay live: its code says what the chain does.
        Assert.Contains("#,##0.0", docx.Xml("word/charts/chart1.xml").ToString(), StringComparison.Ordinal);
        var problem = Assert.Throws<ValueFormatException>(() => ValueFormatter.Format(1.0, "weigt", language));
        Assert.Equal("did you mean `weight`?", problem.Suggestion);
        Assert.Contains("stands for `number 1 | unit kg`", Assert.Throws<ValueFormatException>(() => ValueFormatter.Format(1.0, "weight 2", language)).Suggestion, StringComparison.Ordinal);
        Assert.Contains("`grade` failed for the text x", Assert.Throws<ValueFormatException>(() => ValueFormatter.Format("x", "grade", language)).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("percent", "0.0", "there is a format `percent` already")]
    [InlineData("Weight", "0.0", "cannot be the name")]
    [InlineData("w", "0.0", "cannot be the name")]
    [InlineData("two words", "0.0", "cannot be the name")]
    [InlineData("weight", "nmber 1", "is not a format")]
    public void A_format_with_a_wrong_name_or_chain_is_refused(string name, string chain, string message) =>
        Assert.Contains(message, Assert.ThrowsAny<FennickException>(() => OwnFormat.Chain(name, chain)).Message, StringComparison.Ordinal);

    [Fact]
    public void Blocks_come_from_functions_and_all_mistakes_are_of_one_family()
    {
        static IEnumerable<Block> Two(string words) => [new Heading(1, RichText.Plain(words)), new Paragraph("below")];
        Assert.Equal(4, new Report("x").Add(Two("a")).Add(Two("b")).Build().Blocks.Length);
        Assert.Throws<ArgumentNullException>(() => new Report("x").Add((IEnumerable<Block>)null!));
        foreach (var mistake in new Action[] { () => House.Find("nowhere"), () => ValueFormatter.Format(1, "q9 z", Language.Default), () => Regression.LeastSquares(Hives.Take(1).ToList(), h => h.Honey, h => new { h.Mites }) })
            Assert.ThrowsAny<FennickException>(mistake);
    }

    private static string OneLine(ITableSource table) => string.Join(' ', table.ToString()!.Split([' ', '\n'], StringSplitOptions.RemoveEmptyEntries));

    private sealed record Hive(double Honey, double Mites, string Strain);

    private sealed class Posterior : IModelResult
    {
        public string Estimator => "posterior {means}";

        public string Response => "Honey";

        public ImmutableArray<TermEstimate> Terms { get; } =
        [
            new(Term.Intercept, 22, 0.8, double.PositiveInfinity), new(Term.Named("Mites"), -0.5, 0.2, double.PositiveInfinity) { PValue = 0.012, OwnInterval = _ => new Interval(-0.9, -0.1) },
        ];

        public int Observations => 60;

        public string ErrorKind => "posterior deviations";

        public ImmutableArray<ModelStatistic> Statistics { get; } = [new("Effective draws", 812, "0"), new("AIC", 301.25, "0.0")];

        public ImmutableArray<string> Notes => ["Four chains."];

        public ImmutableArray<AnalysisWarning> Warnings => [new("a did not mix")];

        public double[,] Covariance() => new[,] { { 0.64, 0 }, { 0, 0.04 } };
    }
}
