using System.Collections.Immutable;

namespace Fennick.Statistics.Fits;

/// <summary>A quantile regression.</summary>
public sealed class QuantileFit : EstimatedFit
{
    private readonly double share;

    internal QuantileFit(EstimatedBasis basis, double quantile, double share, double degreesOfFreedom)
        : base(basis, StandardErrors.Kernel, degreesOfFreedom) => (Quantile, this.share) = (quantile, share);

    /// <summary>The quantile, between 0 and 1.</summary>
    public double Quantile { get; }

    /// <summary>1 less the sum of tilted absolute deviations over that of a constant.</summary>
    /// <remarks>Koenker &amp; Machado (1999), Journal of the American Statistical Association 94.</remarks>
    public double PseudoRSquared => share;

    /// <inheritdoc/>
    public override ImmutableArray<ModelStatistic> Statistics => [new("Quantile", Quantile, "0.00"), new("Pseudo-R²", PseudoRSquared)];

    /// <inheritdoc/>
    public override ImmutableArray<string> Notes => ["Errors of quantile regressions are by a kernel of the residuals."];
}
