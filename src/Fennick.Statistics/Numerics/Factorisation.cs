using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Numerics;

/// <summary>
/// A weighted design split into its groups' means and the triangle R of what is left: columns less their groups' means, scaled to unit length, with the response as a last column. An
/// intercept is a single group of all rows; a factor of many levels is a group for each, so that it costs no columns.
/// </summary>
internal sealed class Factorisation
{
    private const int BlockRows = 256;
    private readonly double[][] columns;
    private readonly Partition partition;
    private readonly double[]? weights;
    private readonly double[] lengths;

    // Row-major, groups × p.
    private readonly double[] means;

    // Row-major, (p + 1) × (p + 1).
    private readonly double[] triangle;

    private Factorisation(DesignMatrix design, double[]? weights)
    {
        Design = design;
        Dense = [.. design.Dense];
        columns = [.. Dense.Select(design.Column)];
        partition = design.Partition;
        this.weights = weights;
        lengths = new double[Size];
        means = new double[partition.Count * Size];
        triangle = new double[(Size + 1) * (Size + 1)];
        GroupTotals = new double[partition.Count];
        ResponseMeans = new double[partition.Count];
    }

    public DesignMatrix Design { get; }

    /// <summary>The places in the design of the columns of the triangle.</summary>
    public int[] Dense { get; }

    /// <summary>p, the number of columns of the triangle.</summary>
    public int Size => Dense.Length;

    /// <summary>The total weight of each group.</summary>
    public double[] GroupTotals { get; }

    /// <summary>The mean of the response in each group.</summary>
    public double[] ResponseMeans { get; }

    /// <summary>1 where a single group's coordinate stands before those of the triangle, else 0.</summary>
    public int First => partition.Count == 1 ? 1 : 0;

    /// <summary>The number of coordinates of a row: those of the triangle, and that of a single group.</summary>
    public int CoordinateCount => Size + First;

    /// <summary>Whether the rows have weights.</summary>
    public bool HasWeights => weights is not null;

    private int Width => Size + 1;

    private int RowCount => Design.RowCount;

    /// <summary>Splits a design.</summary>
    /// <exception cref="AnalysisException">A value is not finite, or too large to be squared.</exception>
    public static Factorisation Create(DesignMatrix design, double[] response, double[]? weights)
    {
        var result = new Factorisation(design, weights);
        result.FindMeans(response);
        result.Fold(response);
        return result;
    }

    /// <summary>The places in the design of the columns whose distance from those before them is below the tolerance, as a share of their length.</summary>
    public List<int> DependentColumns(double tolerance)
    {
        var dependent = new List<int>();
        for (var j = 0; j < Size; j++)
            if (double.IsPositiveInfinity(lengths[j]) || !(Math.Abs(triangle[(j * Width) + j]) > tolerance)) dependent.Add(Dense[j]);
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

    /// <summary>The squares of the response that nothing of the design explains.</summary>
    public double ResidualSquares => triangle[^1] * triangle[^1];

    /// <summary>The response along each coordinate, that of a single group first.</summary>
    public double[] Effects()
    {
        var effects = new double[CoordinateCount];
        if (First == 1) effects[0] = ResponseMeans[0] * Math.Sqrt(GroupTotals[0]);
        for (var j = 0; j < Size; j++) effects[j + First] = triangle[(j * Width) + Size];
        return effects;
    }

    /// <summary>The slopes of the triangle's columns, in their own units.</summary>
    public double[] Solve()
    {
        var slopes = new double[Size];
        for (var j = 0; j < Size; j++) slopes[j] = triangle[(j * Width) + Size];
        return ToOwnUnits(slopes);
    }

    /// <summary>The change of the groups' constants and of the slopes that a gradient X'W r asks for: (X'WX)⁻¹ times it.</summary>
    public (double[] Constants, double[] Slopes) SolveGradient(ReadOnlySpan<DoubleDouble> ofGroups, ReadOnlySpan<DoubleDouble> ofColumns)
    {
        var slopes = new double[Size];
        for (var j = 0; j < Size; j++)
        {
            var own = ofColumns[j];
            for (var g = 0; g < ofGroups.Length; g++) own -= ofGroups[g] * means[(g * Size) + j];
            slopes[j] = own.Value / lengths[j];
        }
        SolveLower(slopes);
        slopes = ToOwnUnits(slopes);
        var constants = new double[ofGroups.Length];
        for (var g = 0; g < constants.Length; g++) constants[g] = (ofGroups[g].Value / GroupTotals[g]) - Vectors.Dot(MeansOf(g), slopes);
        return (constants, slopes);
    }

    /// <summary>The means of the triangle's columns in a group.</summary>
    public ReadOnlySpan<double> MeansOf(int group) => means.AsSpan(group * Size, Size);

    /// <summary>A combination of groups and centred columns.</summary>
    public Combination Combine((int Group, double Factor)[] groups, double[] centred)
    {
        var coordinates = new double[Size];
        for (var j = 0; j < Size; j++) coordinates[j] = centred[j] / lengths[j];
        SolveLower(coordinates);
        return new Combination(groups, centred, coordinates);
    }

    /// <summary>The combination that is the coefficient of a column of the design.</summary>
    public Combination Coefficient(int place)
    {
        var centred = new double[Size];
        var (group, reference) = Design.GroupsOf[place];
        if (group < 0)
        {
            centred[Array.IndexOf(Dense, place)] = 1;
            return Combine([], centred);
        }
        var unit = place == Design.Intercept ? 1 / Design.InterceptValue : 1;
        Vectors.AddScaled(centred, -unit, MeansOf(group));
        if (reference < 0) return Combine([(group, unit)], centred);
        Vectors.AddScaled(centred, 1, MeansOf(reference));
        return Combine(group < reference ? [(group, 1), (reference, -1)] : [(reference, -1), (group, 1)], centred);
    }

    /// <summary>The coefficients of the design's columns that a combination is made of.</summary>
    public double[] Weights(Combination combination)
    {
        var own = new double[Design.ColumnCount];
        for (var j = 0; j < Size; j++) own[Dense[j]] = combination.Centred[j];
        foreach (var (group, factor) in combination.Groups)
        {
            for (var j = 0; j < Size; j++) own[Dense[j]] += factor * means[(group * Size) + j];
            for (var c = 0; c < own.Length; c++)
            {
                if (c == Design.Intercept) own[c] += factor / Design.InterceptValue;
                else if (Design.GroupsOf[c].Group == group) own[c] += factor;
            }
        }
        return own;
    }

    /// <summary>Its value for the given fitted means of the groups and slopes.</summary>
    public static double Value(Combination combination, double[] centres, double[] slopes)
    {
        var sum = Vectors.Dot(combination.Centred, slopes);
        foreach (var (group, factor) in combination.Groups) sum += factor * centres[group];
        return sum;
    }

    /// <summary>A row of another design of the same columns, as a combination that is multiplied by a factor and added to sums over groups and centred columns.</summary>
    public void AddRow(DesignMatrix other, double[][] otherColumns, int row, double factor, double[] groups, double[] centred)
    {
        var group = partition.Count == 0 ? -1 : other.Partition[row];
        if (group >= 0) groups[group] += factor;
        for (var j = 0; j < Size; j++) centred[j] += factor * (otherColumns[j][row] - (group < 0 ? 0 : means[(group * Size) + j]));
    }

    /// <summary>The triangle's columns of another design.</summary>
    public double[][] ColumnsOf(DesignMatrix other) => [.. Dense.Select(other.Column)];

    /// <summary>The fitted linear predictor of a row of another design of the same columns.</summary>
    public double Linear(DesignMatrix other, double[][] otherColumns, int row, double[] centres, double[] slopes)
    {
        var group = partition.Count == 0 ? -1 : other.Partition[row];
        var sum = 0.0;
        for (var j = 0; j < Size; j++) sum += slopes[j] * (otherColumns[j][row] - (group < 0 ? 0 : means[(group * Size) + j]));
        return group < 0 ? sum : sum + centres[group];
    }

    /// <summary>The fitted linear predictor of each row.</summary>
    public double[] Fitted(double[] centres, double[] slopes)
    {
        const int block = 2048;
        var fitted = new double[RowCount];
        Threads.ForRows(RowCount, Threads.Parts(RowCount), (_, from, to) =>
        {
            for (var start = from; start < to; start += block)
            {
                var target = fitted.AsSpan(start, Math.Min(block, to - start));
                if (partition.Codes is { } codes)
                {
                    for (var i = 0; i < target.Length; i++) target[i] = centres[codes[start + i]];
                    for (var j = 0; j < Size; j++)
                        for (var i = 0; i < target.Length; i++) target[i] += slopes[j] * (columns[j][start + i] - means[(codes[start + i] * Size) + j]);
                    continue;
                }
                if (partition.Count == 1) target.Fill(centres[0]);
                for (var j = 0; j < Size; j++) Vectors.AddCentred(target, slopes[j], columns[j].AsSpan(start, target.Length), partition.Count == 0 ? 0 : means[j]);
            }
        });
        return fitted;
    }

    /// <summary>For each column of the triangle one over the squares that the other columns and the groups leave of it: the squares of the rows of the triangle's inverse.</summary>
    public double[] Inflation()
    {
        var inflation = new double[Size];
        var inverse = new double[Size];
        for (var j = 0; j < Size; j++)
        {
            Array.Clear(inverse);
            inverse[j] = 1;
            SolveLower(inverse);
            inflation[j] = Vectors.Dot(inverse, inverse) / (lengths[j] * lengths[j]);
        }
        return inflation;
    }

    /// <summary>a' M b.</summary>
    public static double Quadratic(ReadOnlySpan<double> a, double[,] middle, ReadOnlySpan<double> b)
    {
        var sum = 0.0;
        for (var i = 0; i < a.Length; i++)
        {
            if (a[i] == 0) continue;
            var row = 0.0;
            for (var j = 0; j < b.Length; j++) row += middle[i, j] * b[j];
            sum += a[i] * row;
        }
        return sum;
    }

    /// <summary>All coordinates of a combination, that of a single group before those of the triangle.</summary>
    public double[] AllCoordinates(Combination combination)
    {
        if (First == 0) return combination.Coordinates;
        var constant = combination.Groups.Length == 0 ? 0 : combination.Groups[0].Factor / Math.Sqrt(GroupTotals[0]);
        return [constant, .. combination.Coordinates];
    }

    /// <summary>The orthonormal coordinates of rows from <paramref name="start"/> on: row i of W^½ Q, coordinate by coordinate; that of a single group first.</summary>
    /// <param name="start">The first row.</param>
    /// <param name="count">How many rows.</param>
    /// <param name="coordinates">Receives stretches of <paramref name="count"/> values.</param>
    public void Coordinates(int start, int count, Span<double> coordinates)
    {
        Standardise(start, count, coordinates);
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
    public void Standardise(int start, int count, Span<double> values)
    {
        Span<double> buffer = stackalloc double[weights is null ? 0 : count];
        var roots = Roots(weights, start, buffer);
        if (First == 1)
        {
            var constant = values[..count];
            constant.Fill(1 / Math.Sqrt(GroupTotals[0]));
            if (weights is not null) Vectors.Multiply(constant, constant, roots);
        }
        for (var j = 0; j < Size; j++) Centre(values.Slice((j + First) * count, count), j, start, 1 / (triangle[(j * Width) + j] * lengths[j]), roots);
    }

    /// <summary>Turns a sum over rows of standardised values into the sum of their coordinates; sums commute with the triangle.</summary>
    public void ToCoordinates(Span<double> sums)
    {
        for (var j = 0; j < Size; j++)
            for (var c = 0; c < j; c++) sums[j + First] -= triangle[(c * Width) + j] / triangle[(j * Width) + j] * sums[c + First];
    }

    /// <summary>The share of a row in its group's weight.</summary>
    public double GroupShare(int row) => (weights is null ? 1 : weights[row]) / GroupTotals[partition[row]];

    private void FindMeans(double[] response)
    {
        if (partition.Count > 1)
        {
            for (var i = 0; i < RowCount; i++) GroupTotals[partition[i]] += weights is null ? 1 : weights[i];
            FindGroupMeans(response, ResponseMeans, 0, 1);
            Threads.ForEach(Size, RowCount, j =>
            {
                var (squares, raw) = FindGroupMeans(columns[j], means, j, Size);
                if (!double.IsFinite(squares)) throw NotFinite(Design.Terms[Dense[j]].Name);
                lengths[j] = squares > raw * 1e-28 ? Math.Sqrt(squares) : double.PositiveInfinity;
            });
            return;
        }
        var total = weights is null ? RowCount : Vectors.Sum(weights);
        if (partition.Count == 1) GroupTotals[0] = total;
        var (responseMean, responseSquares) = Moments(response, total);
        if (!double.IsFinite(responseSquares)) throw NotFinite("response");
        if (partition.Count == 1) ResponseMeans[0] = responseMean;
        Threads.ForEach(Size, RowCount, j =>
        {
            var (mean, squares) = Moments(columns[j], total);
            if (!double.IsFinite(squares)) throw NotFinite(Design.Terms[Dense[j]].Name);
            if (partition.Count == 1) means[j] = mean;
            // A constant column is dependent; its length only keeps the division defined.
            var size = Math.Abs(mean) * Math.Sqrt(total) * 1e-15;
            lengths[j] = Math.Sqrt(squares) is var length && length > size ? length : double.PositiveInfinity;
        });
    }

    /// <summary>The means of a column in each group, in two passes; the squares around them, and around zero.</summary>
    private (double Squares, double Raw) FindGroupMeans(double[] column, double[] target, int offset, int stride)
    {
        var guesses = new double[partition.Count];
        Array.Fill(guesses, double.NaN);
        var sums = new double[partition.Count];
        for (var i = 0; i < column.Length; i++)
        {
            var g = partition[i];
            if (double.IsNaN(guesses[g])) guesses[g] = column[i];
            sums[g] += (column[i] - guesses[g]) * (weights is null ? 1 : weights[i]);
        }
        for (var g = 0; g < sums.Length; g++) target[(g * stride) + offset] = guesses[g] + (sums[g] / GroupTotals[g]);
        double squares = 0, raw = 0;
        for (var i = 0; i < column.Length; i++)
        {
            var distance = column[i] - target[(partition[i] * stride) + offset];
            var weight = weights is null ? 1 : weights[i];
            squares += distance * distance * weight;
            raw += column[i] * column[i] * weight;
        }
        return (squares, raw);
    }

    private void Fold(double[] response)
    {
        var parts = Threads.Parts(RowCount);
        var triangles = Enumerable.Range(0, parts).Select(part => part == 0 ? triangle : new double[triangle.Length]).ToArray();
        Threads.ForRows(RowCount, parts, (part, from, to) => Fold(response, from, to, triangles[part]));
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

    private void Fold(double[] response, int from, int to, double[] target)
    {
        var block = Workspace.Create(Width * Math.Min(BlockRows, Math.Max(1, to - from))).Span;
        Span<double> buffer = stackalloc double[weights is null ? 0 : BlockRows];
        for (var start = from; start < to; start += BlockRows)
        {
            var count = Math.Min(BlockRows, to - start);
            var roots = Roots(weights, start, buffer.IsEmpty ? buffer : buffer[..count]);
            for (var j = 0; j < Size; j++) Centre(block.Slice(j * count, count), j, start, 1 / lengths[j], roots);
            Centre(block.Slice(Size * count, count), response, ResponseMeans, 0, 1, start, 1, roots);
            FoldBlock(block, count, target);
        }
    }

    private void Centre(Span<double> target, int column, int start, double scale, ReadOnlySpan<double> roots) => Centre(target, columns[column], means, column, Size, start, scale, roots);

    /// <summary>target = (values − their groups' means) · scale, times a root of the weight for each if there are any.</summary>
    private void Centre(Span<double> target, double[] source, double[] centres, int offset, int stride, int start, double scale, ReadOnlySpan<double> roots)
    {
        if (partition.Codes is not { } codes)
        {
            Vectors.Standardise(target, source.AsSpan(start, target.Length), partition.Count == 0 ? 0 : centres[offset], scale, roots);
            return;
        }
        for (var i = 0; i < target.Length; i++) target[i] = (source[start + i] - centres[(codes[start + i] * stride) + offset]) * scale * (roots.IsEmpty ? 1 : roots[i]);
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

    private double[] ToOwnUnits(double[] standardised)
    {
        for (var j = Size - 1; j >= 0; j--)
        {
            var sum = standardised[j];
            for (var c = j + 1; c < Size; c++) sum -= triangle[(j * Width) + c] * standardised[c];
            standardised[j] = sum / triangle[(j * Width) + j];
        }
        for (var j = 0; j < Size; j++) standardised[j] /= lengths[j];
        return standardised;
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

    /// <summary>The mean and the squares around it in one pass, about a first guess that keeps both free of cancellation; around zero where no mean is taken out.</summary>
    private (double Mean, double Squares) Moments(double[] values, double total)
    {
        const int guessed = 1024;
        var centred = partition.Count == 1;
        var first = Math.Min(values.Length, guessed);
        var guess = centred ? Vectors.Sum(values.AsSpan(0, first)) / first : 0;
        var (sum, squares) = weights is null ? Vectors.Around(values, guess) : Vectors.Around(values, guess, weights);
        return centred ? (guess + (sum / total), Math.Max(0, squares - (sum * sum / total))) : (0, squares);
    }
}
