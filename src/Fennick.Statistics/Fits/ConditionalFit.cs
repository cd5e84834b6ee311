using System.Collections.Immutable;

namespace Fennick.Statistics.Fits;

/// <summary>A logit or Poisson model with an intercept for each group, which the likelihood within the groups does not hold.</summary>
public sealed class ConditionalFit : EstimatedFit
{
    private readonly string group;

    internal ConditionalFit(EstimatedBasis basis, string group, int groups, int rowsWithoutVariation)
        : base(basis, StandardErrors.Classical) => (this.group, Groups, RowsWithoutVariation) = (group, groups, rowsWithoutVariation);

    /// <summary>How many groups tell something.</summary>
    public int Groups { get; }

    /// <summary>The rows of groups that tell nothing, since their response does not vary.</summary>
    public int RowsWithoutVariation { get; }

    /// <inheritdoc/>
    public override ImmutableArray<string> AbsorbedGroupings => [group];

    /// <inheritdoc/>
    public override ImmutableArray<ModelStatistic> Statistics => [new("Groups", Groups, "#,0"), .. base.Statistics];
}
