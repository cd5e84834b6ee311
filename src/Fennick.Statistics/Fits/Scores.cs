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
    private const int BlockRows = 128;

    // Room behind the values of a block, for a column times each of three weights.
    private const int SpareColumns = 3;

    // The middles of HC0, HC2 and HC3 take one pass over the rows: the coordinates cost as much as any of them.
    private (double[,] Plain, double[,] Once, double[,] Twice)? middles;

    /// <summary>The leverage of each row.</summary>
    public double[] Leverage()
    {
        var leverage = new double[Design.RowCount];
        ForBlocks(Triangle.Coordinates, (_, start, count, coordinates) => AddLeverage(coordinates, count, leverage.AsSpan(start, count)));
        return leverage;
    }

    /// <summary>The covariance of the coefficients for a heteroscedasticity-consistent kind, 0 to 3.</summary>
    public double[,] Robust(int correction, double residualDegreesOfFreedom)
    {
        var (plain, once, twice) = middles ??= ComputeMiddles();
        var middle = correction switch { 2 => once, 3 => twice, _ => plain };
        return Scale(Triangle.Sandwich(middle), correction == 1 ? Design.RowCount / residualDegreesOfFreedom : 1);
    }

    /// <summary>The covariance of the coefficients when rows of one group may be correlated, without a small-sample factor.</summary>
    public double[,] Clustered(int[] groups, int groupCount)
    {
        var k = Design.ColumnCount;
        var parts = Enumerable.Range(0, Threads.Parts(Design.RowCount)).Select(_ => new double[groupCount * k]).ToArray();
        ForBlocks(Triangle.Standardise, (part, start, count, values) =>
        {
            for (var i = 0; i < count; i++)
            {
                var residual = Residuals[start + i] * (Weights is null ? 1 : Math.Sqrt(Weights[start + i]));
                Vectors.AddScaledStrided(parts[part].AsSpan(groups[start + i] * k, k), residual, values[i..], count);
            }
        });
        foreach (var part in parts.Skip(1)) Vectors.AddScaled(parts[0], 1, part);
        var middle = new double[k, k];
        for (var g = 0; g < groupCount; g++) Triangle.ToCoordinates(parts[0].AsSpan(g * k, k));
        for (var g = 0; g < groupCount; g++)
            for (var a = 0; a < k; a++)
                for (var b = 0; b <= a; b++) middle[a, b] += parts[0][(g * k) + a] * parts[0][(g * k) + b];
        Mirror(middle);
        return Triangle.Sandwich(middle);
    }

    internal static double[,] Scale(double[,] matrix, double factor)
    {
        for (var i = 0; i < matrix.GetLength(0); i++)
            for (var j = 0; j < matrix.GetLength(1); j++) matrix[i, j] *= factor;
        return matrix;
    }

    private (double[,] Plain, double[,] Once, double[,] Twice) ComputeMiddles()
    {
        var k = Design.ColumnCount;
        var parts = Enumerable.Range(0, Threads.Parts(Design.RowCount)).Select(_ => new double[3 * k * k]).ToArray();
        ForBlocks(Triangle.Coordinates, (part, start, count, coordinates) => AddMiddles(parts[part], start, count, coordinates));
        foreach (var part in parts.Skip(1)) Vectors.AddScaled(parts[0], 1, part);
        return (Take(0), Take(1), Take(2));

        double[,] Take(int kind)
        {
            var middle = new double[k, k];
            for (var a = 0; a < k; a++)
                for (var b = 0; b <= a; b++) middle[a, b] = parts[0][(((a * k) + b) * 3) + kind];
            Mirror(middle);
            return middle;
        }
    }

    private void AddMiddles(double[] sums, int start, int count, Span<double> coordinates)
    {
        var k = Design.ColumnCount;
        Span<double> squares = stackalloc double[count];
        Span<double> once = stackalloc double[count];
        Span<double> twice = stackalloc double[count];
        var scaled = coordinates.Slice(k * count, SpareColumns * count);
        Span<double> dots = stackalloc double[6];
        once.Clear();
        AddLeverage(coordinates, count, once);
        for (var i = 0; i < count; i++)
        {
            squares[i] = Residuals[start + i] * Residuals[start + i] * (Weights is null ? 1 : Weights[start + i]);
            var rest = 1 / (1 - once[i]);
            once[i] = squares[i] * rest;
            twice[i] = once[i] * rest;
        }
        for (var a = 0; a < k; a++)
        {
            var own = coordinates.Slice(a * count, count);
            Vectors.Multiply(scaled[..count], own, squares);
            Vectors.Multiply(scaled.Slice(count, count), own, once);
            Vectors.Multiply(scaled.Slice(2 * count, count), own, twice);
            for (var b = 0; b <= a; b += 2)
            {
                // Where only one column is left, it is read twice and its second sums are not used.
                var next = Math.Min(b + 1, a);
                Vectors.Dots(scaled, coordinates.Slice(b * count, count), coordinates.Slice(next * count, count), dots);
                var target = sums.AsSpan(((a * k) + b) * 3, next > b ? 6 : 3);
                for (var d = 0; d < target.Length; d++) target[d] += dots[d];
            }
        }
    }

    private void AddLeverage(Span<double> coordinates, int count, Span<double> leverage)
    {
        for (var c = 0; c < Design.ColumnCount; c++) Vectors.AddSquares(leverage, coordinates.Slice(c * count, count));
    }

    private static void Mirror(double[,] matrix)
    {
        for (var a = 0; a < matrix.GetLength(0); a++)
            for (var b = 0; b < a; b++) matrix[b, a] = matrix[a, b];
    }

    private delegate void BlockFiller(DesignMatrix design, double[]? weights, int start, int count, Span<double> values);

    private delegate void BlockVisitor(int part, int start, int count, Span<double> values);

    private void ForBlocks(BlockFiller fill, BlockVisitor visit) => Threads.ForRows(Design.RowCount, Threads.Parts(Design.RowCount), (part, from, to) =>
    {
        var values = Workspace.Create(Math.Min(BlockRows, to - from) * (Design.ColumnCount + SpareColumns)).Span;
        for (var start = from; start < to; start += BlockRows)
        {
            var count = Math.Min(BlockRows, to - start);
            fill(Design, Weights, start, count, values);
            visit(part, start, count, values);
        }
    });
}
