using System.Runtime.CompilerServices;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>Errors of rows in time: products of what rows add to the estimates, up to some lags apart, with Bartlett's weights.</summary>
internal sealed class TimeCovariance(Scores scores, int[] order, int lags, double factor) : CoefficientCovariance
{
    private readonly ConditionalWeakTable<Combination, double[]> known = [];

    public override double Of(Combination a, Combination b)
    {
        var (first, second) = (InOrder(a), InOrder(b));
        var sum = Vectors.Dot(first, second);
        for (var lag = 1; lag <= lags; lag++)
        {
            var rest = first.Length - lag;
            sum += (1 - (lag / (lags + 1.0))) * (Vectors.Dot(first.AsSpan(lag), second.AsSpan(0, rest)) + Vectors.Dot(first.AsSpan(0, rest), second.AsSpan(lag)));
        }
        return factor * sum;
    }

    private double[] InOrder(Combination combination) => known.GetValue(combination, c =>
    {
        var influence = scores.Influence(c);
        return [.. order.Select(i => influence[i])];
    });
}
