using System.Collections.Immutable;
using Fennick.Statistics;
using Fennick.Statistics.Fits;

namespace Fennick.Tables;

/// <summary>A statistic of a fit, as a row of a regression table.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Value">Its value for a fit of this library; null where a fit has none.</param>
/// <param name="Format">A .NET format.</param>
public sealed record FitStatistic(string Name, Func<RegressionFit, double?> Value, string Format)
{
    private Func<IModelResult, double?>? OfAny { get; init; }

    /// <summary>A statistic of any model, also of one that was estimated elsewhere.</summary>
    /// <param name="name">What it is called.</param>
    /// <param name="value">Its value; null where a model has none.</param>
    /// <param name="format">A .NET format.</param>
    public static FitStatistic OfModel(string name, Func<IModelResult, double?> value, string format = "#,0.000")
    {
        ArgumentNullException.ThrowIfNull(value);
        return new(name, fit => value(fit), format) { OfAny = value };
    }

    /// <summary>n, the rows used.</summary>
    public static FitStatistic Observations { get; } = OfModel("Observations", f => f.Observations, "#,0");

    /// <summary>The rows left out because a value was missing.</summary>
    public static FitStatistic RowsLeftOut { get; } = OfModel("Rows left out", f => f.RowsLeftOut, "#,0");

    /// <summary>The number of clusters; of the smaller grouping if there are two.</summary>
    public static FitStatistic Clusters { get; } = OfModel("Clusters", f => f.ClusterCounts.IsEmpty ? null : f.ClusterCounts.Min(), "#,0");

    /// <summary>The rows left out because a transformation is not defined there.</summary>
    public static FitStatistic RowsOutsideDomain { get; } = OfModel("Rows outside the domain", f => f.RowsOutsideDomain, "#,0");

    /// <summary>R² of least squares, around the mean.</summary>
    public static FitStatistic RSquared { get; } = new("R²", f => AroundMean(f)?.RSquared, "0.000");

    /// <summary>R² adjusted for the number of terms.</summary>
    public static FitStatistic AdjustedRSquared { get; } = new("Adjusted R²", f => AroundMean(f)?.AdjustedRSquared, "0.000");

    /// <summary>R² of a fit with absorbed effects: of what varies within their groups.</summary>
    public static FitStatistic WithinRSquared { get; } = new("Within R²", f => Within(f)?.RSquared, "0.000");

    /// <summary>Within R² adjusted for the number of terms.</summary>
    public static FitStatistic AdjustedWithinRSquared { get; } = new("Adjusted within R²", f => Within(f)?.AdjustedRSquared, "0.000");

    /// <summary>R² of a fit without intercept: around zero, and no measure beside that around the mean.</summary>
    public static FitStatistic UncentredRSquared { get; } = new("R² without intercept", f => AroundZero(f)?.RSquared, "0.000");

    /// <summary>R² without intercept adjusted for the number of terms.</summary>
    public static FitStatistic AdjustedUncentredRSquared { get; } = new("Adjusted R² without intercept", f => AroundZero(f)?.AdjustedRSquared, "0.000");

    /// <summary>McFadden's pseudo-R².</summary>
    public static FitStatistic PseudoRSquared { get; } = new("Pseudo-R²", f => (f as GeneralizedFit)?.PseudoRSquared, "0.000");

    /// <summary>The residual standard error, in units of the response.</summary>
    public static FitStatistic ResidualStandardError { get; } = new("Residual standard error", f => f switch { LinearFit l => l.ResidualStandardError, NonlinearFit n => n.ResidualStandardError, _ => null }, "#,0.000");

    /// <summary>The F statistic of all terms; none where it cannot be computed, as with fewer clusters than terms.</summary>
    public static FitStatistic F { get; } = new("F", f => FOf(f).Value, "#,0.00");

    /// <summary>The log-likelihood.</summary>
    public static FitStatistic LogLikelihood { get; } = new("Log-likelihood", f => f.LogLikelihood, "#,0.0");

    /// <summary>Akaike's criterion.</summary>
    public static FitStatistic Aic { get; } = new("AIC", f => f.Aic, "#,0.0");

    /// <summary>The Bayesian criterion.</summary>
    public static FitStatistic Bic { get; } = new("BIC", f => f.Bic, "#,0.0");

    /// <summary>The deviance of a generalized linear model.</summary>
    public static FitStatistic Deviance { get; } = new("Deviance", f => (f as GeneralizedFit)?.Deviance, "#,0.0");

    /// <summary>Its value for a model: what the model says itself of a statistic of this name goes before.</summary>
    internal double? Of(IModelResult model)
    {
        foreach (var own in model.Statistics)
            if (own.Name == Name) return own.Value;
        return OfAny is { } any ? any(model) : model is RegressionFit fit ? Value(fit) : null;
    }

    /// <summary>The statistics that models bring which this library does not know.</summary>
    internal static IEnumerable<FitStatistic> OwnOf(IEnumerable<IModelResult> models) =>
        models.SelectMany(m => m.Statistics).DistinctBy(s => s.Name).Select(s => Known.FirstOrDefault(k => k.Name == s.Name) ?? new FitStatistic(s.Name, _ => null, s.Format));

    /// <summary>What a regression table shows unless told otherwise, as far as a fit of it has it.</summary>
    internal static ImmutableArray<FitStatistic> Usual { get; } = [Observations, RSquared, AdjustedRSquared, WithinRSquared, AdjustedWithinRSquared, UncentredRSquared, AdjustedUncentredRSquared, PseudoRSquared];

    private static ImmutableArray<FitStatistic> Known { get; } = [.. Usual, RowsLeftOut, Clusters, RowsOutsideDomain, ResidualStandardError, F, LogLikelihood, Aic, Bic, Deviance];

    /// <summary>A statistic and those that stand for it where a fit has another kind of it: who asks for R² gets the within R² of absorbed effects in a row of its own.</summary>
    internal static IEnumerable<FitStatistic> WithKin(FitStatistic statistic) => statistic == RSquared ? [statistic, WithinRSquared, UncentredRSquared]
        : statistic == AdjustedRSquared ? [statistic, AdjustedWithinRSquared, AdjustedUncentredRSquared] : [statistic];

    private static LinearFit? AroundMean(IModelResult fit) => fit is LinearFit { HasIntercept: true } linear ? linear : null;

    private static LinearFit? Within(IModelResult fit) => fit is LinearFit { AbsorbedEffects: > 0 } linear ? linear : null;

    private static LinearFit? AroundZero(IModelResult fit) => fit is LinearFit { HasIntercept: false, AbsorbedEffects: 0 } linear ? linear : null;

    /// <summary>The F statistic of a fit by least squares, or why it has none.</summary>
    internal static (double? Value, string? Reason) FOf(IModelResult fit)
    {
        if (fit is not LinearFit linear) return (null, null);
        try
        {
            return (linear.FTest().Statistic, null);
        }
        catch (AnalysisException problem)
        {
            return (null, $"there is no F statistic: {problem.Message}");
        }
    }
}
