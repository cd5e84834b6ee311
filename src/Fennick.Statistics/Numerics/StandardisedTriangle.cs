using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Numerics;

/// <summary>
/// The triangle R of a design whose columns are centred (if it has an intercept) and scaled to unit length, with the response as a last column.
/// </summary>
internal sealed class StandardisedTriangle
{
    private const int BlockRows = 256;
    private readonly int[] columns;
    private readonly double[] means;
    private readonly double[] lengths;
    private readonly double totalWeight;
    private readonly double responseMean;
    private readonly bool centred;

    // Row-major, (p + 1) × (p + 1); p counts the columns without the intercept.
    private readonly double[] triangle;

    private StandardisedTriangle(int[] columns, bool centred, double[] means, double[] lengths, double responseMean, double totalWeight)
    {
        this.columns = columns;
        this.centred = centred;
        this.means = means;
        this.lengths = lengths;
        this.responseMean = responseMean;
        this.totalWeight = totalWeight;
        Size = lengths.Length;
        triangle = new double[(Size + 1) * (Size + 1)];
    }

    /// <summary>p, the number of columns without the intercept.</summary>
    public int Size { get; }

    /// <summary>k, the number of columns with the intercept.</summary>
    public int ColumnCount => columns.Length;

    private int Width => Size + 1;

    private int First => centred ? 1 : 0;

    public static StandardisedTriangle Create(DesignMatrix design, int[] columns, double[] response, double[]? weights)
    {
        var centred = design.HasIntercept && columns.Length > 0 && columns[0] == 0;
        var first = centred ? 1 : 0;
        var p = columns.Length - first;
        var means = new double[p];
        var lengths = new double[p];
        var total = weights?.Sum() ?? response.Length;
        var (responseMean, responseSquares) = Moments(response, weights, total, centred);
        if (!double.IsFinite(responseSquares)) throw NotFinite("response");
        void Standardise(int j)
        {
            var column = design.Columns[columns[j + first]];
            (means[j], var squares) = Moments(column, weights, total, centred);
            if (!double.IsFinite(squares)) throw NotFinite(design.Terms[columns[j + first]].Name);
            // A constant column is dependent; its length only keeps the division defined.
            var size = Math.Abs(means[j]) * Math.Sqrt(total) * 1e-15;
            lengths[j] = Math.Sqrt(squares) is var length && length > size ? length : double.PositiveInfinity;
        }
        Threads.ForEach(p, response.Length, Standardise);
        var result = new StandardisedTriangle(columns, centred, means, lengths, responseMean, total);
        result.Fold(design, response, weights);
        return result;
    }

    /// <summary>The columns whose distance from those before them is below the tolerance, as a share of their length.</summary>
    public List<int> DependentColumns(double tolerance)
    {
        var dependent = new List<int>();
        for (var j = 0; j < Size; j++)
            if (double.IsPositiveInfinity(lengths[j]) || Math.Abs(triangle[(j * Width) + j]) <= tolerance) dependent.Add(columns[j + First]);
        return dependent;
    }

    /// <summary>An estimate of the condition: the largest over the smallest diagonal element.</summary>
    public double Condition()
    {
        double largest = 0, smallest = double.PositiveInfinity;
        for (var j = 0; j < Size; j++)
        {
            var pivot = Math.Abs(triangle[(j * Width) + j]);
            largest = Math.Max(largest, pivot);
            smallest = Math.Min(smallest, pivot);
        }
        return Size == 0 ? 1 : largest / smallest;
    }

    /// <summary>The coefficients, in the design's own units.</summary>
    public double[] Solve()
    {
        var standardised = new double[Size];
        for (var j = 0; j < Size; j++) standardised[j] = triangle[(j * Width) + Size];
        SolveUpper(standardised);
        return ToOwnUnits(standardised, responseMean);
    }

    /// <summary>The change of the coefficients that a gradient X'W r asks for: (X'WX)⁻¹ times it.</summary>
    public double[] SolveGradient(ReadOnlySpan<DoubleDouble> gradient)
    {
        var standardised = new double[Size];
        for (var j = 0; j < Size; j++)
        {
            var own = gradient[j + First];
            standardised[j] = (centred ? own - (gradient[0] * means[j]) : own).Value / lengths[j];
        }
        SolveLower(standardised);
        SolveUpper(standardised);
        return ToOwnUnits(standardised, centred ? gradient[0].Value / totalWeight : 0);
    }

    /// <summary>(X'WX)⁻¹ for the kept columns, k × k.</summary>
    public double[,] InverseCrossProduct()
    {
        var basis = new double[ColumnCount, ColumnCount];
        for (var i = 0; i < ColumnCount; i++) basis[i, i] = 1;
        return Sandwich(basis);
    }

    /// <summary>T M T' where the rows of T turn orthonormal coordinates into coefficients; M is k × k in the coordinates of <see cref="Coordinates"/>.</summary>
    public double[,] Sandwich(double[,] middle)
    {
        var k = ColumnCount;
        // T, column by column: the coefficients that belong to each orthonormal coordinate.
        var transform = new double[k][];
        for (var c = 0; c < k; c++)
        {
            var standardised = new double[Size];
            var constant = 0.0;
            if (centred && c == 0) constant = 1 / Math.Sqrt(totalWeight);
            else standardised[c - First] = 1;
            SolveUpper(standardised);
            transform[c] = ToOwnUnits(standardised, constant);
        }
        var result = new double[k, k];
        var half = new double[k, k];
        for (var i = 0; i < k; i++)
            for (var c = 0; c < k; c++)
                for (var d = 0; d < k; d++) half[i, c] += transform[d][i] * middle[d, c];
        for (var i = 0; i < k; i++)
        {
            for (var j = 0; j <= i; j++)
            {
                var sum = 0.0;
                for (var c = 0; c < k; c++) sum += half[i, c] * transform[c][j];
                result[i, j] = result[j, i] = sum;
            }
        }
        return result;
    }

    /// <summary>The orthonormal coordinates of rows from <paramref name="start"/> on: row i of W^½ Q, coordinate by coordinate. Their squares sum to the leverage.</summary>
    /// <param name="design">The design that the triangle was made from.</param>
    /// <param name="weights">Its weights.</param>
    /// <param name="start">The first row.</param>
    /// <param name="count">How many rows.</param>
    /// <param name="coordinates">Receives k stretches of <paramref name="count"/> values.</param>
    public void Coordinates(DesignMatrix design, double[]? weights, int start, int count, Span<double> coordinates)
    {
        Standardise(design, weights, start, count, coordinates);
        for (var j = 0; j < Size; j++)
        {
            var target = coordinates.Slice((j + First) * count, count);
            var pivot = 1 / triangle[(j * Width) + j];
            double Factor(int column) => triangle[(column * Width) + j] * pivot;
            var c = 0;
            for (; c + 4 <= j; c += 4)
                Vectors.SubtractFour(target, coordinates.Slice((c + First) * count, 4 * count), Factor(c), Factor(c + 1), Factor(c + 2), Factor(c + 3));
            for (; c < j; c++) Vectors.AddScaled(target, -Factor(c), coordinates.Slice((c + First) * count, count));
        }
    }

    /// <summary>
    /// The standardised values of rows, as <see cref="Coordinates"/> wants them: each column is divided by the triangle's pivot already, so that only the columns before it
    /// are left to take away.
    /// </summary>
    public void Standardise(DesignMatrix design, double[]? weights, int start, int count, Span<double> values)
    {
        Span<double> buffer = stackalloc double[weights is null ? 0 : count];
        var roots = Roots(weights, start, buffer);
        if (centred)
        {
            var constant = values[..count];
            constant.Fill(1 / Math.Sqrt(totalWeight));
            if (weights is not null) Vectors.Multiply(constant, constant, roots);
        }
        for (var j = 0; j < Size; j++)
            Vectors.Standardise(values.Slice((j + First) * count, count), design.Columns[columns[j + First]].AsSpan(start, count), means[j], 1 / (triangle[(j * Width) + j] * lengths[j]), roots);
    }

    /// <summary>Turns a sum over rows of standardised values into the sum of their coordinates; sums commute with the triangle.</summary>
    public void ToCoordinates(Span<double> sums)
    {
        for (var j = 0; j < Size; j++)
            for (var c = 0; c < j; c++) sums[j + First] -= triangle[(c * Width) + j] / triangle[(j * Width) + j] * sums[c + First];
    }

    private void Fold(DesignMatrix design, double[] response, double[]? weights)
    {
        var parts = Threads.Parts(response.Length);
        var triangles = Enumerable.Range(0, parts).Select(part => part == 0 ? triangle : new double[triangle.Length]).ToArray();
        Threads.ForRows(response.Length, parts, (part, from, to) => Fold(design, response, weights, from, to, triangles[part]));
        // The other triangles are one more block of rows each.
        var block = new double[triangle.Length];
        foreach (var other in triangles.Skip(1))
        {
            Array.Clear(block);
            for (var row = 0; row < Width; row++)
                for (var column = row; column < Width; column++) block[(column * Width) + row] = other[(row * Width) + column];
            FoldBlock(block, Width, triangle);
        }
    }

    private void Fold(DesignMatrix design, double[] response, double[]? weights, int from, int to, double[] target)
    {
        var block = Workspace.Create(Width * Math.Min(BlockRows, Math.Max(1, to - from))).Span;
        Span<double> buffer = stackalloc double[weights is null ? 0 : BlockRows];
        for (var start = from; start < to; start += BlockRows)
        {
            var count = Math.Min(BlockRows, to - start);
            var roots = Roots(weights, start, buffer.IsEmpty ? buffer : buffer[..count]);
            for (var j = 0; j < Size; j++) Vectors.Standardise(block.Slice(j * count, count), design.Columns[columns[j + First]].AsSpan(start, count), means[j], 1 / lengths[j], roots);
            Vectors.Standardise(block.Slice(Size * count, count), response.AsSpan(start, count), responseMean, 1, roots);
            FoldBlock(block, count, target);
        }
    }

    private static ReadOnlySpan<double> Roots(double[]? weights, int start, Span<double> buffer)
    {
        for (var i = 0; i < buffer.Length; i++) buffer[i] = Math.Sqrt(weights![start + i]);
        return buffer;
    }

    /// <summary>Folds a block (column after column) into a triangle by Householder reflections, which leave the zeros of the triangle alone.</summary>
    private void FoldBlock(Span<double> block, int count, double[] target)
    {
        for (var j = 0; j < Width; j++)
        {
            var column = block.Slice(j * count, count);
            var squares = Vectors.Dot(column, column);
            if (squares == 0) continue;
            var alpha = target[(j * Width) + j];
            var norm = Math.Sqrt((alpha * alpha) + squares);
            var beta = alpha > 0 ? -norm : norm;
            var head = alpha - beta;
            var factor = 2 / ((head * head) + squares);
            target[(j * Width) + j] = beta;
            var row = target.AsSpan(j * Width, Width);
            var c = j + 1;
            for (; c + 1 < Width; c += 2)
            {
                var first = block.Slice(c * count, count);
                var second = block.Slice((c + 1) * count, count);
                var (dot, nextDot) = Vectors.Dot(column, first, second);
                var (along, nextAlong) = (factor * ((head * row[c]) + dot), factor * ((head * row[c + 1]) + nextDot));
                row[c] -= along * head;
                row[c + 1] -= nextAlong * head;
                Vectors.AddToBoth(first, -along, second, -nextAlong, column);
            }
            if (c < Width)
            {
                var last = block.Slice(c * count, count);
                var along = factor * ((head * row[c]) + Vectors.Dot(column, last));
                row[c] -= along * head;
                Vectors.AddScaled(last, -along, column);
            }
        }
    }

    private double[] ToOwnUnits(double[] standardised, double constant)
    {
        var own = new double[ColumnCount];
        for (var j = 0; j < Size; j++)
        {
            own[j + First] = standardised[j] / lengths[j];
            constant -= own[j + First] * means[j];
        }
        if (centred) own[0] = constant;
        return own;
    }

    private void SolveUpper(double[] values)
    {
        for (var j = Size - 1; j >= 0; j--)
        {
            var sum = values[j];
            for (var c = j + 1; c < Size; c++) sum -= triangle[(j * Width) + c] * values[c];
            values[j] = sum / triangle[(j * Width) + j];
        }
    }

    private void SolveLower(double[] values)
    {
        for (var j = 0; j < Size; j++)
        {
            var sum = values[j];
            for (var c = 0; c < j; c++) sum -= triangle[(c * Width) + j] * values[c];
            values[j] = sum / triangle[(j * Width) + j];
        }
    }

    private static AnalysisException NotFinite(string name) => new($"`{name}` holds values that are missing, infinite or too large to be squared");

    /// <summary>The mean and the squares around it in one pass, about a first guess that keeps both free of cancellation; around zero if not centred.</summary>
    private static (double Mean, double Squares) Moments(double[] values, double[]? weights, double total, bool centred)
    {
        const int guessed = 1024;
        var first = Math.Min(values.Length, guessed);
        var guess = centred ? Vectors.Sum(values.AsSpan(0, first)) / first : 0;
        var (sum, squares) = weights is null ? Vectors.Around(values, guess) : Vectors.Around(values, guess, weights);
        return centred ? (guess + (sum / total), Math.Max(0, squares - (sum * sum / total))) : (0, squares);
    }
}
