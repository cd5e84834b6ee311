using System.Collections.Immutable;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>The columns of a design without its constant, centred and scaled, so that terms of any size are estimated alike.</summary>
internal sealed class ModelColumns
{
    private readonly double[] means;
    private readonly double[] scales;

    private ModelColumns(ModelColumns other) => (Terms, Columns, Warnings, means, scales) = (other.Terms, other.Columns, other.Warnings, other.means, other.scales);

    private ModelColumns(ModelData data, int[] kept)
    {
        Terms = [.. kept.Select(c => data.Design.Terms[c])];
        Columns = [.. kept.Select(c => (double[])data.Design.Column(c).Clone())];
        (means, scales) = (new double[kept.Length], new double[kept.Length]);
        foreach (var (c, column) in Columns.Index())
        {
            // A level keeps its zero: where it has no finite coefficient, nothing else goes with it.
            means[c] = Terms[c].Level is null ? MeanAndDeviation(column).Mean : 0;
            scales[c] = MeanAndDeviation(column).Deviation is > 0 and var deviation ? deviation : 1;
            for (var i = 0; i < column.Length; i++) column[i] = (column[i] - means[c]) / scales[c];
        }
    }

    /// <summary>What each column is.</summary>
    public ImmutableArray<Term> Terms { get; }

    /// <summary>The columns, centred and scaled.</summary>
    public double[][] Columns { get; }

    public int Count => Columns.Length;

    public ImmutableArray<AnalysisWarning> Warnings { get; private init; } = [];

    /// <summary>The columns of a model; those that depend on earlier ones, or are constant, are dropped and named.</summary>
    /// <exception cref="AnalysisException">No column is left.</exception>
    public static ModelColumns Of(ModelData data)
    {
        var dropped = LeastSquaresSolver.Solve(data.Design, data.Response, null).Dropped;
        int[] kept = [.. Enumerable.Range(0, data.Design.ColumnCount).Where(c => c != data.Design.Intercept && !dropped.Contains(c))];
        return new ModelColumns(data, kept) { Warnings = LinearEstimator.DroppedWarnings(data.Design, dropped) };
    }

    /// <summary>The same columns, of which something more is to be said.</summary>
    public ModelColumns Telling(ImmutableArray<AnalysisWarning> more) => new(this) { Warnings = [.. Warnings, .. more] };

    /// <summary>The row of a subject.</summary>
    public double[] Row(int row) => [.. Columns.Select(c => c[row])];

    /// <summary>The linear predictor of each row.</summary>
    /// <param name="slopes">The coefficients of the columns, in order.</param>
    public double[] Predictor(ReadOnlySpan<double> slopes)
    {
        var linear = new double[Columns.Length == 0 ? 0 : Columns[0].Length];
        for (var c = 0; c < Columns.Length; c++) Vectors.AddScaled(linear, slopes[c], Columns[c]);
        return linear;
    }

    /// <summary>How parameters of the columns as they are here become those of the columns as they were given.</summary>
    /// <param name="count">How many parameters there are.</param>
    /// <param name="first">The place of the first slope among them.</param>
    /// <param name="constants">The places of constants, with the sign by which a centred column moves them: −1 for an intercept, 1 for a threshold.</param>
    public double[,] ToGiven(int count, int first, IEnumerable<(int Place, int Sign)> constants)
    {
        var matrix = new double[count, count];
        for (var i = 0; i < count; i++) matrix[i, i] = 1;
        Add(matrix, first, constants);
        return matrix;
    }

    /// <summary>Enters one block of slopes into such a matrix.</summary>
    public void Add(double[,] matrix, int first, IEnumerable<(int Place, int Sign)> constants)
    {
        (int Place, int Sign)[] places = [.. constants];
        for (var c = 0; c < Count; c++)
        {
            matrix[first + c, first + c] = 1 / scales[c];
            foreach (var (place, sign) in places) matrix[place, first + c] = sign * means[c] / scales[c];
        }
    }

    /// <summary>The mean of a column and its standard deviation, over n.</summary>
    public static (double Mean, double Deviation) MeanAndDeviation(double[] column)
    {
        var mean = column[0] + (Vectors.Around(column, column[0]).Sum / column.Length);
        return (mean, Math.Sqrt(Vectors.Around(column, mean).Squares / column.Length));
    }
}
