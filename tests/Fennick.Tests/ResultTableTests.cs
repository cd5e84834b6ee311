using System.Data;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Statistics;
using Fennick.Statistics.Comparisons;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Summaries;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

/// <summary>Tables of results say what the fits and summaries say, in the reader's words.</summary>
public sealed class ResultTableTests
{
    private static readonly Hive[] Hives = CreateHives();
    private static readonly LinearFit Simple = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa });
    private static readonly LinearFit Full = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Mites, h.Strain });
    private static readonly GeneralizedFit Survival = Regression.Logistic(Hives, h => h.Survived ? 1 : 0, h => new { h.Mites, h.Strain });

    /// <summary>The cells of a table's rows as text; signs stand behind their number.</summary>
    private static string[][] Rows(ITableSource table) => [.. table.ToTable().Rows.Select(r => r.Cells.Select(c => c.Content.ToPlainText() + c.Sign?.ToPlainText()).ToArray())];

    private static string[] Row(ITableSource table, string label) => Rows(table).First(r => r[0] == label);

    private static string[] RowAfter(ITableSource table, string label) => Rows(table).SkipWhile(r => r[0] != label).Skip(1).First();

    private static string[] Heads(ITableSource table) => [.. table.ToTable().HeaderRows[^1].Cells.Select(c => c.Content.ToPlainText())];

    private static string Notes(ITableSource table) => string.Join(" ", table.ToTable().Notes.Select(n => n.ToPlainText()));

    private static string F(double value, string format) => ValueFormatter.Format(value, format, Language.Default);

    /// <summary>Three decimals, or as many as show two digits of the error.</summary>
    private static string DecimalsOf(double error) => $"0.{new string('0', Math.Max(3, 1 - (int)Math.Floor(Math.Log10(error * 1.005))))}";

    private static string Shown(TermEstimate term, string sign) => F(term.Estimate, DecimalsOf(term.StandardError)) + sign;

    private static string Error(TermEstimate term) => F(term.StandardError, DecimalsOf(term.StandardError));

    // Regression tables

    [Fact]
    public void Models_stand_side_by_side_with_errors_beneath()
    {
        var table = RegressionTable.Of(("Small", Simple), ("Large", Full));
        Assert.Equal(["", "Small", "Large"], Heads(table));
        Assert.Equal(["Forage within 2 km (ha)", Shown(Simple["ForageHa"], "***"), Shown(Full["ForageHa"], "***")], Row(table, "Forage within 2 km (ha)"));
        Assert.Equal(["", $"({Error(Simple["ForageHa"])})", $"({Error(Full["ForageHa"])})"], RowAfter(table, "Forage within 2 km (ha)"));
        Assert.Equal(["Mites", "", Shown(Full["Mites"], "***")], Row(table, "Mites"));
        Assert.Equal(["Forage within 2 km (ha)", "Mites", "Strain (reference: Amber bees)", "Dusk", "Heath", "Constant", "Observations", "R²", "Adjusted R²"],
            Rows(table).Select(r => r[0]).Where(l => l.Length > 0));
        Assert.Equal(["Observations", "119", "119"], Row(table, "Observations"));
        Assert.Equal(["R²", F(Simple.RSquared, "0.000"), F(Full.RSquared, "0.000")], Row(table, "R²"));
        Assert.Equal("Least squares. Standard errors in parentheses, classical. *\u00A0p\u00A0<\u00A00.05, **\u00A0p\u00A0<\u00A00.01, ***\u00A0p\u00A0<\u00A00.001. 1 row with a missing value is left out.", Notes(table));
        Assert.True(table.ToTable().Rows.First(r => r.Label == "Observations").RuleAbove);
        Assert.Empty(table.ToTable().Warnings);
    }

    [Fact]
    public void Terms_are_ordered_dropped_kept_and_labelled()
    {
        string[] Labels(RegressionTable table) => [.. Rows(table).Select(r => r[0]).Where(l => l.Length > 0).TakeWhile(l => l != "Observations")];
        var table = RegressionTable.Of(Full).Beneath(Uncertainty.None);
        Assert.Equal(["Constant", "Mites", "Forage within 2 km (ha)", "Strain (reference: Amber bees)", "Dusk", "Heath"], Labels(table.First("intercept", "Mites")));
        Assert.Equal(["Mites", "Constant"], Labels(table.Without("Strain", "ForageHa")));
        Assert.Equal(["Strain (reference: Amber bees)", "Heath"], Labels(table.Only("Strain=Heath")));
        Assert.Equal(["Forage", "Mites", "Kind (reference: A)", "Dusk", "H", "Start"], Labels(table.Label("ForageHa", "Forage").Label("Strain", "Kind").Label("Strain=Heath", "H").Label("Strain=Amber", "A").Label("intercept", "Start")));
        Assert.Equal(["Place", "Forage within 2 km (ha)", "Colony", "Mites", "Strain (reference: Amber bees)", "Dusk", "Heath", "Constant"], Labels(table.Under("Colony", "Strain", "Mites").Under("Place", "ForageHa")));
        Assert.Equal([0, 1, 1, 2, 2, 0, 1, 0], table.Under("Colony", "Strain", "Mites").Under("Place", "ForageHa").First("Mites").ToTable().Rows.Take(8).Select(r => r.Level));
        Assert.Equal("Kilos", RegressionTable.Of(Full).ResponseHeads().Label("HoneyKg", "Kilos").ToTable().HeaderRows[0].Cells[1].Content.ToPlainText());
        Assert.Equal(
            ["no model has a term `Forage`; did you mean `ForageHa`?", "the label of `Mitse` names nothing in the table; did you mean `Mites`?"],
            table.Without("Forage").Label("Mitse", "x").ToTable().Warnings);
    }

    [Theory]
    [InlineData(Uncertainty.Statistic, "(27.27)")]
    [InlineData(Uncertainty.PValue, "(<\u00A00.001)")]
    public void Other_uncertainties_stand_beneath(Uncertainty shown, string text)
    {
        var table = RegressionTable.Of(Full).Beneath(shown);
        var expected = shown == Uncertainty.Statistic ? $"({F(Full["ForageHa"].Statistic, "0.00")})" : text;
        Assert.Equal(expected, RowAfter(table, "Forage within 2 km (ha)")[1]);
    }

    [Fact]
    public void Intervals_stand_beneath_or_beside()
    {
        var interval = Full["Mites"].Interval(0.9);
        var text = $"[{F(interval.Low, "0.000")}, {F(interval.High, "0.000")}]";
        Assert.Equal(text, RowAfter(RegressionTable.Of(Full).Beneath(Uncertainty.Interval).Level(0.9), "Mites")[1]);
        var beside = RegressionTable.Of(Simple, Full).Beside(Uncertainty.Interval).Level(0.9);
        Assert.Equal(["Mites", "", "", F(Full["Mites"].Estimate, "0.000") + "***", text], Row(beside, "Mites"));
        Assert.Equal(["", "Estimate", "90% interval", "Estimate", "90% interval"], Heads(beside));
        Assert.Equal(["", "(1)", "(2)"], beside.ToTable().HeaderRows[0].Cells.Select(c => c.Content.ToPlainText()));
        Assert.StartsWith("Least squares. 90% intervals; standard errors: classical.", Notes(beside), StringComparison.Ordinal);
    }

    [Fact]
    public void Signs_follow_their_levels()
    {
        var p = Full["Strain=Dusk"].PValue;
        string Sign(RegressionTable table) => table.ToTable().Rows.First(r => r.Label == "Dusk").Cells[1].Sign?.ToPlainText() ?? "";
        Assert.Equal("†", Sign(RegressionTable.Of(Full).Signs(("†", Math.Min(0.99, p * 2)), ("*", p / 2))));
        Assert.Equal("*", Sign(RegressionTable.Of(Full).Signs(Math.Min(0.99, p * 2), p / 2)));
        Assert.Equal("", Sign(RegressionTable.Of(Full).Signs(p / 2)));
        Assert.DoesNotContain("*", Notes(RegressionTable.Of(Full).Signs(Array.Empty<double>())), StringComparison.Ordinal);
        Assert.Throws<ArgumentOutOfRangeException>(() => RegressionTable.Of(Full).Signs(1.5));
    }

    [Fact]
    public void Models_of_different_kinds_and_errors_explain_themselves()
    {
        var table = RegressionTable.Of(Full.With(StandardErrors.ClusteredBy((Hive h) => h.Apiary)), Survival).Exponentiated(2);
        Assert.Equal(F(Math.Exp(Survival["Mites"].Estimate), "0.000"), Row(table, "Mites")[2].TrimEnd('*'));
        Assert.Equal($"({F(Math.Exp(Survival["Mites"].Estimate) * Survival["Mites"].StandardError, "0.000")})", RowAfter(table, "Mites")[2]);
        Assert.StartsWith("(1): least squares; (2): logistic regression. Estimates of (2) are exponentiated: ratios for one unit more, with standard errors by the delta method. "
            + "Standard errors in parentheses: (1): clustered by Apiary (12 clusters); (2): classical.", Notes(table), StringComparison.Ordinal);
        Assert.Equal(["Pseudo-R²", "", F(Survival.PseudoRSquared, "0.000")], Row(table, "Pseudo-R²"));
        Assert.Equal("error: there is no model 3; the table has 2; count them from 1", Assert.Throws<ReportException>(() => table.Exponentiated(3)).Message);
    }

    [Fact]
    public void Indicator_rows_and_absorbed_effects_say_yes_and_no()
    {
        var absorbing = Regression.FixedEffects(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Mites }, h => h.Apiary);
        var table = RegressionTable.Of(Simple, Full, absorbing).YesNo("Strain effects", "Strain").YesNo("Weighed", true, false, true).Span("Honey", 1, 3);
        Assert.Equal(["Strain effects", "no", "yes", "no"], Row(table, "Strain effects"));
        Assert.Equal(["Apiary effects", "no", "no", "yes"], Row(table, "Apiary effects"));
        Assert.Equal(["Weighed", "yes", "no", "yes"], Row(table, "Weighed"));
        Assert.DoesNotContain("Dusk", Rows(table).Select(r => r[0]));
        Assert.Equal(3, table.ToTable().HeaderRows[0].Cells[1].ColumnSpan);
        Assert.Equal(["no model has `Valey`, for which the row `V` stands"], RegressionTable.Of(Simple).YesNo("V", "Valey").ToTable().Warnings);
    }

    [Fact]
    public void Any_statistics_and_formats_may_be_chosen()
    {
        var table = RegressionTable.Of(Simple, Survival).Format("0.00").Statistics(FitStatistic.Aic, FitStatistic.Deviance, new FitStatistic("Mean", f => f.Fitted.Average(), "0.0"));
        Assert.Equal(["AIC", F(Simple.Aic, "#,0.0"), F(Survival.Aic, "#,0.0")], Row(table, "AIC"));
        Assert.Equal(["Deviance", "", F(Survival.Deviance, "#,0.0")], Row(table, "Deviance"));
        Assert.Equal(F(Simple.Fitted.Average(), "0.0"), Row(table, "Mean")[1]);
        Assert.Equal(F(Simple["ForageHa"].Estimate, "0.00") + "***", Row(table, "Forage within 2 km (ha)")[1]);
    }

    [Fact]
    public void Tiny_errors_get_the_digits_they_need()
    {
        var small = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { Area = h.ForageHa * 10_000 });
        var table = RegressionTable.Of(small, Simple);
        Assert.Matches(@"^\d\.\d\d\u00A0×\u00A010⁻⁵\*\*\*$", Row(table, "Area")[1]);
        Assert.Matches(@"^\(0\.\d\d\u00A0×\u00A010⁻⁵\)$", RowAfter(table, "Area")[1]);
        // The other model keeps its three decimals, and so does the constant.
        Assert.Matches(@"^\(\d\.\d{3}\)$", RowAfter(table, "Constant")[2]);
        var middle = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { Area = h.ForageHa * 100 });
        Assert.Equal([Shown(middle["Area"], "***"), $"({Error(middle["Area"])})"], new[] { Row(RegressionTable.Of(middle), "Area")[1], RowAfter(RegressionTable.Of(middle), "Area")[1] });
        Assert.Matches(@"^\(0\.0{3,}\d{2}\)$", RowAfter(RegressionTable.Of(middle).Decimals(1), "Area")[1]);
        Assert.Matches(@"^\(\d\.\d\)$", RowAfter(RegressionTable.Of(Regression.LeastSquares(Hives, h => h.HoneyKg * 100, h => new { h.ForageHa })).Decimals(1), "Forage within 2 km (ha)")[1]);
        var huge = Regression.LeastSquares(Hives, h => h.HoneyKg * 1e12, h => new { h.ForageHa });
        Assert.Matches(@"^\d\.\d\d\u00A0×\u00A010¹¹\*\*\*$", Row(RegressionTable.Of(huge), "Forage within 2 km (ha)")[1]);
    }

    [Fact]
    public void Notes_say_what_is_true()
    {
        Hive[] many = [.. Enumerable.Range(0, 20).SelectMany(_ => Hives)];
        var weighted = Regression.LeastSquares(many, h => h.HoneyKg, h => new { h.ForageHa }, weights: h => h.Mites + 1).With(StandardErrors.ClusteredBy((Hive h) => h.Strain.ToString() + h.Number));
        Assert.Contains("Least squares, weighted by Mites + 1.", Notes(RegressionTable.Of(weighted)), StringComparison.Ordinal);
        Assert.Contains("clustered by Strain.ToString() + Number (119 clusters)", Notes(RegressionTable.Of(weighted)), StringComparison.Ordinal);
        Assert.Contains("20 rows with missing values are left out.", Notes(RegressionTable.Of(weighted)), StringComparison.Ordinal);
        var rates = Regression.Poisson([.. many.Concat(many).Concat(many.Select(h => h with { HoneyKg = null }))], h => Math.Round(h.HoneyKg!.Value), h => new { Log = Math.Log(h.Mites - 0.5) }, offset: h => Math.Log(h.ForageHa));
        var note = Notes(RegressionTable.Of(rates));
        Assert.StartsWith("Poisson regression with the offset Log(ForageHa).", note, StringComparison.Ordinal);
        Assert.Contains($"{rates.RowsLeftOut:#,0} rows with missing values are left out.", note, StringComparison.Ordinal);
        Assert.Contains("rows where a transformed variable is not defined are left out.", note, StringComparison.Ordinal);
        Assert.True(rates.RowsLeftOut > 1000);
        // In German the groups are parted by points.
        Assert.Contains($"{rates.RowsLeftOut / 1000}.{rates.RowsLeftOut % 1000:000} Zeilen", string.Join(" ", RegressionTable.Of(rates).ToTable().Notes.Select(n => n.ToPlainText(Language.Find("de")))), StringComparison.Ordinal);

        var within = Regression.FixedEffects(Hives, h => h.HoneyKg, h => new { h.ForageHa }, h => h.Strain);
        var through = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa }, intercept: false);
        var table = RegressionTable.Of(Simple, within, through);
        Assert.Equal(["R²", F(Simple.RSquared, "0.000"), "", ""], Row(table, "R²"));
        Assert.Equal(["Within R²", "", F(within.RSquared, "0.000"), ""], Row(table, "Within R²"));
        Assert.Equal(["R² without intercept", "", "", F(through.RSquared, "0.000")], Row(table, "R² without intercept"));
        Assert.Equal(["R²", "Within R²", "R² without intercept"], Rows(table.Statistics(FitStatistic.RSquared)).Select(r => r[0]).TakeLast(3));

        var clusters = StandardErrors.ClusteredBy((Hive h) => h.Strain);
        var comparison = FitComparisonTable.Of(Simple.With(clusters), Full.With(clusters));
        Assert.Contains("F tests of the classical kind, which do not take account of errors that are clustered by Strain", Notes(comparison), StringComparison.Ordinal);
        var f = RegressionTable.Of(Full.With(clusters)).Statistics(FitStatistic.F);
        Assert.Contains(f.ToTable().Warnings, w => w.Contains("there is no F statistic: 4 terms cannot be tested together", StringComparison.Ordinal));
        Assert.DoesNotContain("F", Rows(f).Select(r => r[0]));
        Assert.StartsWith("Average change in Honey in kilograms", Notes(PredictionTable.Effects(Full, "Mites").Label("HoneyKg", "Honey in kilograms")), StringComparison.Ordinal);
        Assert.StartsWith("Average change in Honey", Notes(PredictionTable.Effects(Regression.LeastSquares(Hives, h => Math.Sqrt(h.HoneyKg!.Value), h => new { h.Mites }), "Mites").Label("Sqrt(HoneyKg)", "Honey")), StringComparison.Ordinal);
    }

    [Fact]
    public void Estimates_without_a_finite_value_are_shown_as_such()
    {
        var none = Regression.Poisson(Hives, h => h.Strain == Strain.Dusk ? 0 : h.Number, h => new { h.Mites, h.Strain });
        var table = RegressionTable.Of(none);
        Assert.Equal("−∞", Row(table, "Dusk")[1]);
        Assert.Contains("∞: the data give the estimate no finite value.", Notes(table), StringComparison.Ordinal);
        Assert.Contains(table.ToTable().Warnings, w => w.Contains("the estimate of `Strain=Dusk` has no finite value", StringComparison.Ordinal));
    }

    [Fact]
    public void A_p_value_beside_a_level_of_significance_shows_on_which_side_it_is()
    {
        var rows = Enumerable.Range(0, 12).Select(i => new Hive($"{i}", (Strain)(i % 2), 1, i % 2, i, true)).ToArray();
        // Signs and numbers agree: below the level there is a sign, and the number reads below it.
        foreach (var shift in Enumerable.Range(0, 4000).Select(i => 5.0 + (i / 1000.0)))
        {
            var fit = Regression.LeastSquares([.. rows.Select(r => r with { HoneyKg = r.HoneyKg + (r.Strain == Strain.Dusk ? shift : 0) })], h => h.HoneyKg, h => new { h.Strain });
            var shown = Row(RegressionTable.Of(fit).Beneath(Uncertainty.PValue), "Dusk")[1].Count(c => c == '*');
            var printed = RowAfter(RegressionTable.Of(fit).Beneath(Uncertainty.PValue), "Dusk")[1].Trim('(', ')');
            if (printed.StartsWith('<')) continue;
            var read = double.Parse(printed, CultureInfo.InvariantCulture);
            Assert.True((read < 0.05 ? 1 : 0) + (read < 0.01 ? 1 : 0) + (read < 0.001 ? 1 : 0) == shown, $"{printed} has {shown} stars");
        }
    }

    [Fact]
    public void The_long_form_shows_one_model_in_columns()
    {
        var table = RegressionTable.Of(Full).Detailed();
        var mites = Full["Mites"];
        Assert.Equal(["", "Estimate", "Std. error", "t", "p", "low", "high"], Heads(table));
        Assert.Equal(["Mites", F(mites.Estimate, "0.000"), F(mites.StandardError, "0.000"), F(mites.Statistic, "0.00"), "<\u00A00.001", F(mites.Interval().Low, "0.000"), F(mites.Interval().High, "0.000")], Row(table, "Mites"));
        Assert.StartsWith($"Least squares of Honey kg; standard errors classical. Observations 119; R² {F(Full.RSquared, "0.000")}", Notes(table), StringComparison.Ordinal);
        Assert.Equal("error: the long form shows one model, and there are 2; make a table of each", Assert.Throws<ReportException>(() => RegressionTable.Of(Simple, Full).Detailed()).Message);
    }

    [Fact]
    public void A_fit_that_did_not_converge_is_marked()
    {
        var separated = Enumerable.Range(0, 40).Select(i => new Hive("A", Strain.Amber, i, i, i, i >= 20)).ToArray();
        var fit = Regression.Logistic(separated, h => h.Survived ? 1 : 0, h => new { h.Mites });
        var table = RegressionTable.Of(Survival, fit).ToTable();
        Assert.False(fit.Converged);
        Assert.Equal(["", null, "a"], table.HeaderRows[0].Cells.Select((c, i) => i == 0 ? "" : c.Sign?.ToPlainText()));
        Assert.EndsWith("a\u00A0The iteration did not converge; the estimates are not to be relied on.", Notes(table), StringComparison.Ordinal);
        Assert.Contains(table.Warnings, w => w.StartsWith("model (2): ", StringComparison.Ordinal));
    }

    [Fact]
    public void Models_without_a_common_term_stand_side_by_side()
    {
        var other = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.Mites }, intercept: false);
        var table = RegressionTable.Of(Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa }, intercept: false), other);
        Assert.Equal("", Row(table, "Mites")[1]);
        Assert.Equal("", Row(table, "Forage within 2 km (ha)")[2]);
    }

    // Labels

    [Fact]
    public void Labels_come_from_attributes_files_and_calls()
    {
        using var folder = new TestFolder();
        folder.Write("labels.txt", "Mites: Mites per 100 bees\n\nStrain=Dusk: Dusk bees\n");
        var table = RegressionTable.Of(Full).Labels(Labels.Read(folder.File("labels.txt"))).Label("Strain=Dusk", "Dark ones");
        Assert.Contains("Mites per 100 bees", Rows(table).Select(r => r[0]));
        Assert.Contains("Dark ones", Rows(table).Select(r => r[0]));
        Assert.Empty(table.ToTable().Warnings);
        folder.Write("bad.txt", "Mites: a\nno label\n");
        Assert.Equal($"{folder.File("bad.txt")}:2:1: error: `no label` is not a label; write `Name: words`", Assert.Throws<ReportException>(() => Labels.Read(folder.File("bad.txt"))).Message);
        folder.Write("twice.txt", "Mites: a\nMites: b\n");
        Assert.Contains(":2:1: error: `Mites` has two labels", Assert.Throws<ReportException>(() => Labels.Read(folder.File("twice.txt"))).Message, StringComparison.Ordinal);
        Assert.Contains("the labels cannot be read", Assert.Throws<ReportException>(() => Labels.Read(folder.File("none.txt"))).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("ForageHa", "Forage ha")]
    [InlineData("forage_ha", "Forage ha")]
    [InlineData("URLCount", "URL count")]
    [InlineData("A", "A")]
    [InlineData("Honey in kg", "Honey in kg")]
    public void Names_without_a_label_are_put_into_words(string name, string words) =>
        Assert.Equal(words, Heads(ListingTable.Of((name, [1]))).Single());

    // Descriptions

    [Fact]
    public void Variables_are_described_and_levels_counted()
    {
        var table = DescriptiveTable.Of(Hives, h => new { h.HoneyKg, h.Mites, h.Strain });
        var honey = Description.Of(Hives, h => h.HoneyKg);
        Assert.Equal(["", "n", "Mean", "Std. dev.", "Min.", "Median", "Max."], Heads(table));
        Assert.Equal(["Honey kg", "119", F(honey.Mean, "0.00"), F(honey.StandardDeviation!.Value, "0.00"), F(honey.Minimum, "0.00"), F(honey.Median, "0.00"), F(honey.Maximum, "0.00")], Row(table, "Honey kg"));
        Assert.Equal(["Amber bees", "40", "33.3%"], Row(table, "Amber bees").Take(3));
        Assert.Equal(["Honey kg", "1"], Row(DescriptiveTable.Of(Hives, h => new { h.HoneyKg }).Statistics(Statistic.Missing), "Honey kg"));
        Assert.Contains("there are no rows", Assert.Throws<AnalysisException>(() => DescriptiveTable.Of(Array.Empty<Hive>(), h => new { h.Mites })).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Groups_are_compared_by_the_test_that_fits()
    {
        double[] Mites(bool survived) => [.. Hives.Where(h => h.Survived == survived).Select(h => h.Mites)];
        var table = DescriptiveTable.Of(Hives, h => new { h.Mites, h.Strain }).By("Survived", (Hive h) => h.Survived);
        Assert.Equal(F(Mites(false).Average(), "0.00"), Row(table, "Mites")[1].Split(' ')[0]);
        Assert.Equal(F(MeanTests.Welch(Mites(false), Mites(true)).PValue, "p-value bare"), Row(table, "Mites")[4]);
        Assert.Equal(F(CrossTabulation.Of(Hives, h => h.Strain, h => h.Survived).ChiSquaredTest().PValue, "p-value bare"), Row(table, "Strain")[1]);
        Assert.Contains("p by Welch's t test, χ² test of independence", Notes(table), StringComparison.Ordinal);
        var three = DescriptiveTable.Of(Hives, h => new { h.Mites }).By("Strain", (Hive h) => h.Strain);
        Assert.Equal(F(MeanTests.OneWay([.. Hives.GroupBy(h => h.Strain).Select(g => g.Select(h => h.Mites).ToArray())]).PValue, "p-value bare"), Row(three, "Mites")[5]);
        Assert.Equal(["", "no n = " + Mites(false).Length, "yes n = " + Mites(true).Length, "All n = 120"], Heads(table.WithoutTest()));
    }

    [Fact]
    public void Variables_of_any_scale_show_digits_that_say_something()
    {
        var rows = Enumerable.Range(0, 50).Select(i => new { Tiny = (10 + (i * 7 % 13)) * 1e-6, Flag = i % 3 == 0 ? 1 : 0, People = 1_000_000 + (i * 7919 % 400_000), Vast = (1 + (i % 7)) * 1e13, Same = 5, Shift = i - 1.5 }).ToArray();
        var table = DescriptiveTable.Of(rows, r => new { r.Tiny, r.Flag, r.People, r.Vast, r.Same, Log = Math.Log(r.Shift) });
        Assert.Equal(["Tiny", "50", "1.59\u00A0×\u00A010⁻⁵", "0.38\u00A0×\u00A010⁻⁵", "1.00\u00A0×\u00A010⁻⁵", "1.60\u00A0×\u00A010⁻⁵", "2.20\u00A0×\u00A010⁻⁵"], Row(table, "Tiny"));
        Assert.Equal(["Flag", "50", "0.34", "0.48", "0", "0.00", "1"], Row(table, "Flag"));
        Assert.Matches("^1,[0-9]{3},[0-9]{3}$", Row(table, "People")[2]);
        Assert.Matches("^[0-9]{3},[0-9]{3}$", Row(table, "People")[3]);
        Assert.Matches("^[0-9]\\.[0-9]{2}\u00A0×\u00A010¹³$", Row(table, "Vast")[2]);
        Assert.Equal("5", Row(table, "Same")[2]);
        Assert.Contains("Log is not defined in 2 rows.", Notes(table), StringComparison.Ordinal);
    }

    [Fact]
    public void Groups_and_statistics_go_together()
    {
        var table = DescriptiveTable.Of(Hives, h => new { h.Mites, h.Strain }).By("Week", (Hive h) => $"{(h.Number % 11) + 1}").Statistics(Statistic.Count, Statistic.Median, Statistic.Maximum);
        Assert.Equal(["1", "2", "3", "10", "11"], Heads(table).Select(h => h.Split(' ')[0]).Where(h => h is "1" or "2" or "3" or "10" or "11"));
        var mites = Description.Of(Hives.Where(h => h.Number % 11 == 1), h => h.Mites);
        Assert.Equal($"{mites.Count}", Row(table, "n")[2]);
        Assert.Equal(F(mites.Median, "0.00"), Row(table, "Median")[2]);
        var heading = table.ToTable().Rows.First(r => r.Label == "Mites");
        Assert.Equal(RowKind.Heading, heading.Kind);
        Assert.Equal(table.WithoutTest().ToTable().Columns.Length, table.ToTable().Columns.Length - 1);
    }

    [Fact]
    public void Frequencies_add_up()
    {
        var table = FrequencyTable.Of(Hives.Select(h => h.HoneyKg is null ? null : (object)h.Strain), s => s);
        Assert.Equal(["Level", "Count", "Share", "Cumulative"], Heads(table));
        Assert.Equal([["Amber", "39", "32.8%", "32.8%"], ["Dusk", "40", "33.6%", "66.4%"], ["Heath", "40", "33.6%", "100.0%"], ["All", "119", "100.0%", ""], ["Missing", "1", "", ""]], Rows(table));
        Assert.Equal(["Dusk", "Heath", "Amber"], Rows(table.Sorted()).Take(3).Select(r => r[0]));
    }

    [Theory]
    [InlineData(Shares.Row, "50.0%", "Counts and shares of the row.")]
    [InlineData(Shares.Column, "33.3%", "Counts and shares of the column.")]
    [InlineData(Shares.Cell, "16.7%", "Counts and shares of all.")]
    public void Contingencies_show_counts_shares_and_their_test(Shares shares, string share, string note)
    {
        var table = ContingencyTable.Of(Hives, "Strain", h => h.Strain, "Half", h => h.Number % 2 == 0 ? "even" : "odd").Shares(shares);
        Assert.Equal(["Amber", "20", share, "20", share], Row(table, "Amber").Take(5));
        Assert.Equal($"{note} χ² = 0.00 with 2 degrees of freedom, p\u00A0>\u00A00.99.", Notes(table));
        Assert.Equal(["Amber", "20", "20", "40"], Row(table.Shares(Shares.None), "Amber"));
    }

    [Fact]
    public void Correlations_fill_a_triangle()
    {
        var table = CorrelationTable.Of(Hives, h => new { h.HoneyKg, h.ForageHa, h.Mites });
        var complete = Hives.Where(h => h.HoneyKg is not null).ToArray();
        var r = Correlation.Pearson([.. complete.Select(h => h.HoneyKg!.Value)], [.. complete.Select(h => h.ForageHa)]);
        Assert.Equal(["2. Forage within 2 km (ha)", F(r.Coefficient, "0.00") + "***", "1"], Row(table, "2. Forage within 2 km (ha)"));
        Assert.StartsWith("Pearson's r; n between 119 and 120", Notes(table), StringComparison.Ordinal);
        Assert.StartsWith("Spearman's ρ", Notes(table.Spearman()), StringComparison.Ordinal);
        Assert.Equal("`Strain` is a factor; correlations are of numbers", Assert.Throws<AnalysisException>(() => CorrelationTable.Of(Hives, h => new { h.Mites, h.Strain })).Message);
    }

    // Listings

    [Fact]
    public void Records_data_tables_and_matrices_are_listed()
    {
        var table = ListingTable.Of(Hives).Columns("Strain", "Mites", "Survived").First(2).Format("Mites", "0.0");
        Assert.Equal([["Amber", F(Hives[0].Mites, "0.0"), Hives[0].Survived ? "yes" : "no"], ["Dusk", F(Hives[1].Mites, "0.0"), Hives[1].Survived ? "yes" : "no"]], Rows(table));
        Assert.Equal("The first 2 of 120 rows.", Notes(table));
        using var data = new DataTable { Locale = CultureInfo.InvariantCulture };
        data.Columns.Add("name", typeof(string));
        data.Columns.Add("honey_kg", typeof(double));
        data.Rows.Add("A", 1.5);
        data.Rows.Add("B", DBNull.Value);
        Assert.Equal([["A", "1.5"], ["B", "—"]], Rows(ListingTable.Of(data)));
        Assert.Equal(["Name", "Honey kg"], Heads(ListingTable.Of(data)));
        Assert.Equal([["1", "2"], ["3", "4"]], Rows(ListingTable.Of(new double[,] { { 1, 2 }, { 3, 4 } }, "a", "b")));
        Assert.Equal([["x"], ["y"]], Rows(ListingTable.Of(["x", "y"])));
        Assert.Equal("error: the listing has no column `Mitse`; did you mean `Mites`?", Assert.Throws<ReportException>(() => table.Columns("Mitse")).Message);
        Assert.Equal("error: the columns have `a` 1, `b` 2 values; give as many to each", Assert.Throws<ReportException>(() => ListingTable.Of(("a", [1]), ("b", [1, 2]))).Message);
    }

    // Several models

    [Fact]
    public void One_term_is_followed_through_several_responses()
    {
        var mites = Regression.LeastSquares(Hives, h => h.Mites, h => new { h.Strain });
        var table = EstimatesTable.Of("Strain=Heath", Full, mites, Simple);
        Assert.Equal(["Honey kg", F(Full["Strain=Heath"].Estimate, "0.000"), F(Full["Strain=Heath"].StandardError, "0.000")], Row(table, "Honey kg").Take(3).Select(c => c.TrimEnd('*')));
        Assert.Equal("Mites", Rows(table)[1][0]);
        Assert.Equal(["Honey kg", "—", "—", "—", "—", "119"], Rows(table)[2]);
        Assert.Contains("(reference: Amber bees)", Notes(table), StringComparison.Ordinal);
        Assert.Equal(["the model of `HoneyKg` has no term `Strain=Heath`"], table.ToTable().Warnings);
        Assert.Equal("error: no model has a term `Strain=Heat`; did you mean `Strain=Heath`?", Assert.Throws<ReportException>(() => EstimatesTable.Of("Strain=Heat", Full)).Message);
    }

    [Fact]
    public void Predictions_and_effects_are_those_of_the_fit()
    {
        var dusk = Survival.PredictedMeans("Strain").Single(p => p.Name == "Dusk");
        Assert.Equal(["Dusk", F(dusk.Estimate, "0.000"), F(dusk.StandardError, "0.000"), $"[{F(dusk.Interval().Low, "0.000")}, {F(dusk.Interval().High, "0.000")}]"], Row(PredictionTable.Of(Survival, "Strain"), "Dusk"));
        var effect = Survival.MarginalEffects("Mites").Single();
        Assert.Equal(["Mites", F(effect.Estimate, DecimalsOf(effect.StandardError)), F(effect.StandardError, DecimalsOf(effect.StandardError))], Row(PredictionTable.Effects(Survival, "Mites", "Strain"), "Mites").Take(3));
        Assert.Equal("Strain (reference: Amber bees)", Rows(PredictionTable.Effects(Survival, "Mites", "Strain"))[1][0]);
    }

    [Fact]
    public void Nested_fits_are_tested_one_against_the_other()
    {
        var table = FitComparisonTable.Of(("Small", Simple), ("Large", Full));
        var test = Simple.Compare(Full);
        Assert.Equal(["Large", "114", F(Full.ResidualSumOfSquares, "#,0.0"), F(Full.Aic, "#,0.0"), F(Full.Bic, "#,0.0"), "3", F(test.Statistic, "#,0.00"), F(test.PValue, "p-value bare")], Rows(table)[1]);
        Assert.Contains("of one kind", Assert.Throws<ReportException>(() => FitComparisonTable.Of(Simple, Survival)).Message, StringComparison.Ordinal);
        Assert.Contains("at least two fits", Assert.Throws<ReportException>(() => FitComparisonTable.Of(Simple)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Notes_may_be_added_and_taken_away()
    {
        Assert.Equal("Mine.", Notes(RegressionTable.Of(Simple).WithoutNote().Note("Mine.")));
        Assert.EndsWith("Mine.", Notes(RegressionTable.Of(Simple).Note("Mine.")), StringComparison.Ordinal);
    }

    private static Hive[] CreateHives()
    {
        var random = new Random(3);
        return [.. Enumerable.Range(0, 120).Select(i =>
        {
            var (forage, mites) = (10 + (40 * random.NextDouble()), Math.Round(8 * random.NextDouble(), 1));
            double? honey = i == 0 ? null : 8 + (0.3 * forage) - (0.8 * mites) + (i % 3) + (2 * random.NextDouble());
            return new Hive($"Apiary {i % 12}", (Strain)(i % 3), Math.Round(forage, 1), mites, honey, random.NextDouble() > mites / 10) { Number = i / 3 };
        })];
    }

    private enum Strain
    {
        [Label("Amber bees")]
        Amber,
        Dusk,
        Heath,
    }

    private sealed record Hive(string Apiary, Strain Strain, [Label("Forage within 2 km (ha)")] double ForageHa, double Mites, double? HoneyKg, bool Survived)
    {
        public int Number { get; init; }
    }
}
