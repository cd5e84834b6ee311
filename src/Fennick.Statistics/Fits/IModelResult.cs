using System.Collections.Immutable;

namespace Fennick.Statistics.Fits;

/// <summary>
/// A fitted model, as tables and charts of estimates read it. Every fit of this library is one; a model that was estimated elsewhere becomes one by a type of your own, or by <see cref="ModelResult"/>.
/// </summary>
public interface IModelResult
{
    /// <summary>What the estimator is called, in lower case as within a sentence: "least squares", "quantile regression".</summary>
    string Estimator { get; }

    /// <summary>The name of the response.</summary>
    string Response { get; }

    /// <summary>The terms in order.</summary>
    ImmutableArray<TermEstimate> Terms { get; }

    /// <summary>The covariance matrix of the coefficients, k × k, in the order of the terms.</summary>
    double[,] Covariance();

    /// <summary>n, the rows used.</summary>
    int Observations { get; }

    /// <summary>What the standard errors are called, in lower case: "classical", "bootstrap with 999 draws", "clustered".</summary>
    string ErrorKind { get; }

    /// <summary>The names of what the errors are clustered by; none if they are not, or that has no name.</summary>
    IReadOnlyList<string> ErrorGroups => [];

    /// <summary>The number of clusters of each grouping; empty if the errors are not clustered.</summary>
    ImmutableArray<int> ClusterCounts => [];

    /// <summary>Measures of the fit beside those that every fit has, by the name of a row: "R²", "AIC", or one of its own.</summary>
    ImmutableArray<ModelStatistic> Statistics => [];

    /// <summary>Sentences that belong under a table with this model.</summary>
    ImmutableArray<string> Notes => [];

    /// <summary>What a reader must know.</summary>
    ImmutableArray<AnalysisWarning> Warnings => [];

    /// <summary>Whether the iteration met its criterion; true for fits that need none.</summary>
    bool Converged => true;

    /// <summary>The name of the weights; null if there are none.</summary>
    string? Weights => null;

    /// <summary>The name of the offset; null if there is none.</summary>
    string? Offset => null;

    /// <summary>The rows left out because a value was missing.</summary>
    int RowsLeftOut => 0;

    /// <summary>The rows left out because a transformation is not defined there.</summary>
    int RowsOutsideDomain => 0;

    /// <summary>The groupings whose effects are in the model without terms of their own.</summary>
    ImmutableArray<string> AbsorbedGroupings => [];

    /// <summary>The type of the records that were fitted, whose labels hold for the terms; null if there is none.</summary>
    Type? RecordType => null;

    /// <summary>The degrees of freedom of the t statistics; infinite where the normal distribution is meant.</summary>
    double TestDegreesOfFreedom => Terms.IsDefaultOrEmpty ? double.PositiveInfinity : Terms[0].DegreesOfFreedom;
}
