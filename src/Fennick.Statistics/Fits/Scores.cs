using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>What robust covariances are made of: the design, its weights and triangle, and a residual for each row.</summary>
/// <param name="Design">n × k, without dropped columns.</param>
/// <param name="Weights">The weights of the triangle, or null.</param>
/// <param name="Triangle">The triangle of the weighted design.</param>
/// <param name="Residuals">The residuals whose products with weights and rows are the scores.</param>
internal sealed record Scores(DesignMatrix Design, double[]? Weights, StandardisedTriangle Triangle, double[] Residuals)
{
    private const int BlockRows = 256;

    /// <summary>The leverage of each row.</summary>
    public double[] Leverage()
    {
        var leverage = new double[Design.RowCount];
        ForBlocks((start, count, coordinates) =>
        {
            for (var c = 0; c < Design.ColumnCount; c++)
                for (var i = 0; i < count; i++) leverage[start + i] += coordinates[(c * count) + i] * coordinates[(c * count) + i];
        });
        return leverage;
    }

    /// <summary>The covariance of the coefficients for a heteroscedasticity-consistent kind, 0 to 3.</summary>
    public double[,] Robust(int correction, double residualDegreesOfFreedom)
    {
        var n = Design.RowCount;
        var k = Design.ColumnCount;
        var leverage = correction >= 2 ? Leverage() : null;
        var middle = new double[k, k];
        var scaled = new double[BlockRows];
        ForBlocks((start, count, coordinates) =>
        {
            for (var a = 0; a < k; a++)
            {
                for (var i = 0; i < count; i++)
                {
                    var square = Residuals[start + i] * Residuals[start + i] * (Weights is null ? 1 : Weights[start + i]);
                    var rest = leverage is null ? 1 : 1 - leverage[start + i];
                    scaled[i] = coordinates[(a * count) + i] * (correction switch { 2 => square / rest, 3 => square / (rest * rest), _ => square });
                }
                for (var b = 0; b <= a; b++) middle[a, b] += Vectors.Dot(scaled.AsSpan(0, count), coordinates.AsSpan(b * count, count));
            }
        });
        Mirror(middle);
        return Scale(Triangle.Sandwich(middle), correction == 1 ? n / residualDegreesOfFreedom : 1);
    }

    /// <summary>The covariance of the coefficients when rows of one group may be correlated, without a small-sample factor.</summary>
    public double[,] Clustered(int[] groups, int groupCount)
    {
        var k = Design.ColumnCount;
        var sums = new double[groupCount * k];
        ForBlocks((start, count, coordinates) =>
        {
            for (var i = 0; i < count; i++)
            {
                var residual = Residuals[start + i] * (Weights is null ? 1 : Math.Sqrt(Weights[start + i]));
                for (var c = 0; c < k; c++) sums[(groups[start + i] * k) + c] += residual * coordinates[(c * count) + i];
            }
        });
        var middle = new double[k, k];
        for (var g = 0; g < groupCount; g++)
            for (var a = 0; a < k; a++)
                for (var b = 0; b <= a; b++) middle[a, b] += sums[(g * k) + a] * sums[(g * k) + b];
        Mirror(middle);
        return Triangle.Sandwich(middle);
    }

    internal static double[,] Scale(double[,] matrix, double factor)
    {
        for (var i = 0; i < matrix.GetLength(0); i++)
            for (var j = 0; j < matrix.GetLength(1); j++) matrix[i, j] *= factor;
        return matrix;
    }

    private static void Mirror(double[,] matrix)
    {
        for (var a = 0; a < matrix.GetLength(0); a++)
            for (var b = 0; b < a; b++) matrix[b, a] = matrix[a, b];
    }

    private void ForBlocks(Action<int, int, double[]> visit)
    {
        var coordinates = new double[BlockRows * Design.ColumnCount];
        for (var start = 0; start < Design.RowCount; start += BlockRows)
        {
            var count = Math.Min(BlockRows, Design.RowCount - start);
            Triangle.Coordinates(Design, Weights, start, count, coordinates);
            visit(start, count, coordinates);
        }
    }
}
