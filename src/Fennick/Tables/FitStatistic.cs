using System.Collections.Immutable;
using Fennick.Statistics.Fits;

namespace Fennick.Tables;

/// <summary>A statistic of a fit, as a row of a regression table.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Value">Its value; null where a fit has none.</param>
/// <param name="Format">A .NET format.</param>
public sealed record FitStatistic(string Name, Func<RegressionFit, double?> Value, string Format)
{
    /// <summary>n, the rows used.</summary>
    public static FitStatistic Observations { get; } = new("Observations", f => f.Observations, "#,0");

    /// <summary>The rows left out because a value was missing.</summary>
    public static FitStatistic RowsLeftOut { get; } = new("Rows left out", f => f.RowsLeftOut, "#,0");

    /// <summary>The number of clusters; of the smaller grouping if there are two.</summary>
    public static FitStatistic Clusters { get; } = new("Clusters", f => f.ClusterCounts.IsEmpty ? null : f.ClusterCounts.Min(), "#,0");

    /// <summary>R² of least squares.</summary>
    public static FitStatistic RSquared { get; } = new("R²", f => (f as LinearFit)?.RSquared, "0.000");

    /// <summary>R² adjusted for the number of terms.</summary>
    public static FitStatistic AdjustedRSquared { get; } = new("Adjusted R²", f => (f as LinearFit)?.AdjustedRSquared, "0.000");

    /// <summary>McFadden's pseudo-R².</summary>
    public static FitStatistic PseudoRSquared { get; } = new("Pseudo-R²", f => (f as GeneralizedFit)?.PseudoRSquared, "0.000");

    /// <summary>The residual standard error, in units of the response.</summary>
    public static FitStatistic ResidualStandardError { get; } = new("Residual standard error", f => f switch { LinearFit l => l.ResidualStandardError, NonlinearFit n => n.ResidualStandardError, _ => null }, "#,0.000");

    /// <summary>The F statistic of all terms.</summary>
    public static FitStatistic F { get; } = new("F", f => (f as LinearFit)?.FTest().Statistic, "#,0.00");

    /// <summary>The log-likelihood.</summary>
    public static FitStatistic LogLikelihood { get; } = new("Log-likelihood", f => f.LogLikelihood, "#,0.0");

    /// <summary>Akaike's criterion.</summary>
    public static FitStatistic Aic { get; } = new("AIC", f => f.Aic, "#,0.0");

    /// <summary>The Bayesian criterion.</summary>
    public static FitStatistic Bic { get; } = new("BIC", f => f.Bic, "#,0.0");

    /// <summary>The deviance of a generalized linear model.</summary>
    public static FitStatistic Deviance { get; } = new("Deviance", f => (f as GeneralizedFit)?.Deviance, "#,0.0");

    /// <summary>What a regression table shows unless told otherwise, as far as a fit of it has it.</summary>
    internal static ImmutableArray<FitStatistic> Usual { get; } = [Observations, RSquared, AdjustedRSquared, PseudoRSquared];
}
