using System.Collections.Immutable;

namespace Fennick.Statistics.Fits;

/// <summary>A regression that outlying rows do not decide.</summary>
public sealed class RobustFit : EstimatedFit
{
    internal RobustFit(EstimatedBasis basis, double scale, double[] weights, double tuning)
        : base(basis, StandardErrors.Classical) => (Scale, RowWeights, Tuning) = (scale, weights, tuning);

    /// <summary>The scale of the residuals, in units of the response: their median absolute size over 0.6745.</summary>
    public double Scale { get; }

    /// <summary>The weight that each row used has in the end, from 1 to 0.</summary>
    public IReadOnlyList<double> RowWeights { get; }

    /// <summary>From how many scales on rows lose weight.</summary>
    public double Tuning { get; }

    /// <inheritdoc/>
    public override ImmutableArray<ModelStatistic> Statistics => [new("Scale of residuals", Scale)];
}
