using System.Collections.Immutable;
using Fennick.Statistics.Comparisons;
using Fennick.Statistics.Estimators;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>A check of whether a fit is what its model says.</summary>
/// <param name="Asks">What it asks.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Statistic">Its statistic.</param>
/// <param name="DegreesOfFreedom">Its degrees of freedom; null if it has none.</param>
/// <param name="PValue">Its p-value; null if it is no test.</param>
/// <param name="Finding">What it says, in words.</param>
public sealed record FitCheck(string Asks, string Name, double Statistic, double? DegreesOfFreedom, double? PValue, string Finding);

/// <summary>Checks of fits by least squares, as one table.</summary>
public static class FitChecks
{
    private const double Level = 0.05;
    private const double HighInflation = 10;

    /// <summary>Whether rows vary alike, the form is right, residuals are normal, single rows decide, and terms go together.</summary>
    /// <param name="fit">A fit by least squares, without weights or absorbed effects, with an intercept.</param>
    /// <exception cref="AnalysisException">The fit is of another kind.</exception>
    /// <remarks>
    /// Breusch &amp; Pagan (1979), Econometrica 47, with Koenker's (1981) studentised statistic; Ramsey (1969), Journal of the Royal Statistical Society B 31, with squares and cubes; Shapiro
    /// &amp; Wilk, or Jarque &amp; Bera (1987), International Statistical Review 55, of more than 5000 rows; Cook (1977), Technometrics 19, against 4/n.
    /// </remarks>
    public static ImmutableArray<FitCheck> Of(LinearFit fit)
    {
        ArgumentNullException.ThrowIfNull(fit);
        var data = fit.Basis.Data;
        if (fit.Estimator != Regression.LeastSquaresName || data.Weights is not null || !fit.HasIntercept) throw new AnalysisException("checks are made of fits by least squares with an intercept and without weights");
        if (fit.Terms.Length < 2) throw new AnalysisException("the fit has no terms to check");
        var plain = fit.With(StandardErrors.Classical);
        List<FitCheck> checks = [Variances(plain, data), Form(plain, data), Normality(plain), Influence(plain)];
        if (plain.Terms.Length > 2) checks.Add(Collinearity(plain));
        return [.. checks];
    }

    private static FitCheck Variances(LinearFit fit, ModelData data)
    {
        double[] squares = [.. fit.Residuals.Select(r => r * r)];
        var other = LinearEstimator.Fit(data with { Response = squares, ResponseName = "squared residuals" });
        var (statistic, degrees) = (fit.Observations * other.RSquared, fit.Terms.Length - 1);
        var p = Tails.ChiSquaredUpper(statistic, degrees);
        return new FitCheck("Do all rows vary alike?", "Breusch–Pagan test", statistic, degrees, p, p < Level ? "no: use heteroscedasticity-consistent errors" : "nothing speaks against it");
    }

    private static FitCheck Form(LinearFit fit, ModelData data)
    {
        // Powers of the fitted values around their mean, so that they can be told apart.
        var mean = fit.Fitted.Average();
        var scale = Math.Sqrt(fit.Fitted.Average(f => (f - mean) * (f - mean)));
        double[] Power(int power) => [.. fit.Fitted.Select(f => Math.Pow((f - mean) / scale, power))];
        var design = new DesignMatrix([.. Enumerable.Range(0, data.Design.ColumnCount).Select(data.Design.Column), Power(2), Power(3)], [.. data.Design.Terms, Term.Named("squares"), Term.Named("cubes")]);
        var larger = LinearEstimator.Fit(data with { Design = design, Plan = null });
        string[] names = [.. larger.Terms.Select(t => t.Name).Where(n => n is "squares" or "cubes")];
        if (names.Length == 0) return new FitCheck("Is the form right?", "RESET", double.NaN, null, null, "cannot be told: the terms say all that their powers do");
        var test = larger.Wald(names);
        return new FitCheck("Is the form right?", "RESET", test.Statistic, test.DegreesOfFreedom, test.PValue, test.PValue < Level ? "no: a transformation or an interaction is missing" : "nothing speaks against it");
    }

    private static FitCheck Normality(LinearFit fit)
    {
        const int Most = 5000;
        TestResult test;
        if (fit.Observations <= Most) test = NormalityTests.ShapiroWilk(fit.Residuals);
        else
        {
            double n = fit.Observations;
            var second = fit.Residuals.Average(r => r * r);
            var (third, fourth) = (fit.Residuals.Average(r => r * r * r) / Math.Pow(second, 1.5), fit.Residuals.Average(r => r * r * r * r) / (second * second));
            var statistic = n / 6 * ((third * third) + ((fourth - 3) * (fourth - 3) / 4));
            test = new TestResult("Jarque–Bera test", statistic, 2, null, Tails.ChiSquaredUpper(statistic, 2));
        }
        return new FitCheck("Are residuals normal?", test.Name, test.Statistic, test.Name.StartsWith('J') ? 2 : null, test.PValue, test.PValue < Level ? "no; with many rows that matters little" : "nothing speaks against it");
    }

    private static FitCheck Influence(LinearFit fit)
    {
        var leverage = fit.Leverage();
        var variance = fit.ResidualStandardError * fit.ResidualStandardError;
        double[] distances = [.. fit.Residuals.Select((r, i) => leverage[i] >= 1 ? double.PositiveInfinity : r * r * leverage[i] / (fit.Terms.Length * variance * (1 - leverage[i]) * (1 - leverage[i])))];
        var largest = distances.Max();
        var place = Array.IndexOf(distances, largest);
        var many = distances.Count(d => d > 4.0 / fit.Observations);
        return new FitCheck("Do single rows decide?", "largest Cook's distance", largest, null, null, $"row {fit.Basis.Data.Rows[place] + 1}; {many} of {fit.Observations} rows are above 4/n{(largest > 1 ? ", and this one is above 1: look at it" : "")}");
    }

    private static FitCheck Collinearity(LinearFit fit)
    {
        var (name, largest) = fit.VarianceInflation().MaxBy(v => v.Value);
        return new FitCheck("Do terms go together?", "largest variance inflation", largest, null, null, $"of {name}{(largest > HighInflation ? ": its effect is hard to tell from that of others" : "")}");
    }
}
