namespace Fennick.Statistics.Numerics;

/// <summary>Cholesky's factorisation of symmetric positive definite matrices.</summary>
/// <remarks>Golub &amp; Van Loan, Matrix Computations, 4th ed., §4.2.</remarks>
internal static class Cholesky
{
    /// <summary>The lower factor L with L L' = A; null if a pivot is below the tolerance times its diagonal element.</summary>
    public static double[,]? Factor(double[,] matrix, double tolerance)
    {
        var n = matrix.GetLength(0);
        var rows = new double[n][];
        for (var i = 0; i < n; i++)
        {
            rows[i] = new double[i + 1];
            for (var j = 0; j <= i; j++)
            {
                var rest = matrix[i, j] - Vectors.Dot(rows[i].AsSpan(0, j), rows[j].AsSpan(0, j));
                if (i == j && !(rest > tolerance * matrix[i, i])) return null;
                rows[i][j] = i == j ? Math.Sqrt(rest) : rest / rows[j][j];
            }
        }
        var lower = new double[n, n];
        for (var i = 0; i < n; i++)
            for (var j = 0; j <= i; j++) lower[i, j] = rows[i][j];
        return lower;
    }

    /// <summary>L⁻¹ b.</summary>
    public static double[] SolveLower(double[,] lower, double[] right)
    {
        var result = new double[right.Length];
        for (var i = 0; i < result.Length; i++)
        {
            var sum = right[i];
            for (var j = 0; j < i; j++) sum -= lower[i, j] * result[j];
            result[i] = sum / lower[i, i];
        }
        return result;
    }

    /// <summary>L'⁻¹ b.</summary>
    public static double[] SolveUpper(double[,] lower, double[] right)
    {
        var result = new double[right.Length];
        for (var i = result.Length - 1; i >= 0; i--)
        {
            var sum = right[i];
            for (var j = i + 1; j < result.Length; j++) sum -= lower[j, i] * result[j];
            result[i] = sum / lower[i, i];
        }
        return result;
    }

    /// <summary>A⁻¹ of a positive definite matrix.</summary>
    /// <param name="matrix">A.</param>
    /// <param name="problem">What to say if it is not positive definite.</param>
    /// <exception cref="AnalysisException">It is not positive definite in double precision.</exception>
    public static double[,] Inverse(double[,] matrix, string problem = "the absorbed effects cannot be told apart in double precision; absorb one of them only")
    {
        var n = matrix.GetLength(0);
        var lower = Factor(matrix, 1e-14) ?? throw new AnalysisException(problem);
        // The rows of L⁻¹, then their products.
        var inverse = new double[n][];
        Parallel.For(0, n, c =>
        {
            var column = new double[n];
            for (var i = c; i < n; i++)
            {
                var sum = i == c ? 1.0 : 0.0;
                for (var j = c; j < i; j++) sum -= lower[i, j] * column[j];
                column[i] = sum / lower[i, i];
            }
            inverse[c] = column;
        });
        var result = new double[n, n];
        Parallel.For(0, n, i =>
        {
            for (var j = 0; j <= i; j++) result[i, j] = result[j, i] = Vectors.Dot(inverse[i].AsSpan(i), inverse[j].AsSpan(i));
        });
        return result;
    }
}
