using System.Collections.Immutable;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>
/// A model of counts with many zeros. The first terms are of the counts; those behind them, whose names begin with "always zero" or "more than zero", are logits of that.
/// </summary>
public sealed class ZeroFit : EstimatedFit
{
    internal const string Always = "always zero";
    internal const string Positive = "more than zero";
    private readonly bool isHurdle;

    internal ZeroFit(EstimatedBasis basis, int zeros, bool isHurdle)
        : base(basis, StandardErrors.Classical) => (Zeros, this.isHurdle) = (zeros, isHurdle);

    /// <summary>How many counts are zero.</summary>
    public int Zeros { get; }

    /// <inheritdoc/>
    public override ImmutableArray<ModelStatistic> Statistics => [new("Zeros", Zeros, "#,0"), .. base.Statistics];

    /// <inheritdoc/>
    public override ImmutableArray<string> Notes => [isHurdle ? "Terms of “more than zero” are log odds of a count above zero; the others are of the counts above zero." : "Terms of “always zero” are log odds of a row that counts nothing whatever its other terms."];

    private protected override bool IsConstant(int place) => Terms[place].Name.EndsWith(Term.InterceptName, StringComparison.Ordinal);
}
