using System.Collections.Immutable;
using System.Globalization;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.Optimization;

namespace Fennick.Statistics.Estimators;

/// <summary>Linear models with random intercepts and slopes of one grouping, by restricted or full maximum likelihood.</summary>
/// <remarks>
/// The likelihood is profiled down to the relative Cholesky factor of the random effects' covariance, from sums over each group alone: Pinheiro &amp; Bates, Mixed-Effects Models in S and
/// S-PLUS, §2.2–2.4. The factor's sign does not matter, so that it needs no bounds.
/// </remarks>
internal sealed class MixedEstimator
{
    private readonly int n;
    private readonly int p;
    private readonly int q;
    private readonly bool isRestricted;
    private readonly GroupSums[] groups;
    private readonly double[,] xx;
    private readonly double[] xy;
    private readonly double yy;

    private MixedEstimator(double[][] fixedColumns, double[][] randomColumns, double[] response, int[] codes, int groupCount, bool isRestricted)
    {
        (n, p, q, this.isRestricted) = (response.Length, fixedColumns.Length, randomColumns.Length, isRestricted);
        groups = [.. Enumerable.Range(0, groupCount).Select(_ => new GroupSums(p, q))];
        (xx, xy) = (new double[p, p], new double[p]);
        var (x, z) = (new double[p], new double[q]);
        for (var i = 0; i < n; i++)
        {
            for (var c = 0; c < p; c++) x[c] = fixedColumns[c][i];
            for (var c = 0; c < q; c++) z[c] = randomColumns[c][i];
            groups[codes[i]].Add(x, z, response[i]);
            yy += response[i] * response[i];
            for (var a = 0; a < p; a++)
            {
                xy[a] += x[a] * response[i];
                for (var b = 0; b <= a; b++) xx[a, b] += x[a] * x[b];
            }
        }
        for (var a = 0; a < p; a++)
            for (var b = 0; b < a; b++) xx[b, a] = xx[a, b];
    }

    private int Degrees => isRestricted ? n - p : n;

    private int ThetaCount => q * (q + 1) / 2;

    /// <summary>Fits a model.</summary>
    /// <param name="data">The data, with the grouping absorbed.</param>
    /// <param name="slopes">The variables whose slopes differ by group.</param>
    /// <param name="isRestricted">Whether the likelihood is restricted.</param>
    public static MixedFit Fit(ModelData data, IReadOnlyList<NumericVariable> slopes, bool isRestricted)
    {
        var (codes, levels) = GroupsOf(data);
        if (!data.Response.AsSpan().ContainsAnyExcept(data.Response[0])) throw new AnalysisException($"the response `{data.ResponseName}` is {data.Response[0].ToString(CultureInfo.InvariantCulture)} in all {ModelData.CountRows(data.Response.Length)}; there is nothing to explain");
        var columns = ModelColumns.Of(data);
        var n = data.Response.Length;
        var ones = Enumerable.Repeat(1.0, n).ToArray();
        var (centre, unit) = ModelColumns.MeanAndDeviation(data.Response);
        double[] response = [.. data.Response.Select(y => (y - centre) / unit)];
        var given = slopes.Select(s => data.Rows.Select(r => s.Values[r]).ToArray()).ToArray();
        var measures = given.Select(ModelColumns.MeanAndDeviation).ToArray();
        if (Array.FindIndex(measures, m => m.Deviation == 0) is >= 0 and var constant) throw new AnalysisException($"`{slopes[constant].Name}` does not vary, so that its slope cannot differ by group");
        double[][] random = [ones, .. given.Select((column, s) => column.Select(x => (x - measures[s].Mean) / measures[s].Deviation).ToArray())];
        if (n <= columns.Count + 1) throw new AnalysisException($"{ModelData.CountRows(n)} are too few for {columns.Count + 1} terms");
        if (levels.Length >= n) throw new AnalysisException($"each of the {levels.Length} groups of `{data.Absorbed[0].Name}` has one row, so that the groups cannot be told from the rows");
        var model = new MixedEstimator([ones, .. columns.Columns], random, response, codes, levels.Length, isRestricted);
        var (theta, converged, steps) = model.Minimise();
        var at = model.At(theta);
        var none = model.At(new double[theta.Length]);
        // Back to the units that were given.
        var toGiven = columns.ToGiven(columns.Count + 1, 1, [(0, -1)]);
        var expected = at.Covariance();
        var factor = model.Factor(theta);
        var relative = EstimatedBasis.Transform(factor, new double[model.q], Identity(model.q)).Covariance;
        var observed = model.ObservedCovariance(relative, at);
        var (coefficients, covariance) = ToUnits(toGiven, at.Coefficients, observed ?? expected, centre, unit);
        var back = new double[model.q, model.q];
        back[0, 0] = 1;
        for (var s = 1; s < model.q; s++) (back[0, s], back[s, s]) = (-measures[s - 1].Mean / measures[s - 1].Deviation, 1 / measures[s - 1].Deviation);
        var effects = EstimatedBasis.Transform(back, new double[model.q], relative).Covariance;
        var variance = at.Variance * unit * unit;
        for (var a = 0; a < model.q; a++)
            for (var b = 0; b < model.q; b++) effects[a, b] *= variance;
        var scale = (model.Degrees * Math.Log(unit)) + (isRestricted ? -LogDeterminant(toGiven) : 0);
        AnalysisWarning[] singular = [.. model.SingularWarnings(factor, slopes, data.Absorbed[0].Name)];
        var basis = new EstimatedBasis
        {
            Estimator = isRestricted ? Regression.MixedName : Regression.MixedFullName,
            Data = data,
            Terms = [Term.Intercept, .. columns.Terms],
            Coefficients = coefficients,
            Covariance = covariance,
            LogLikelihood = (-at.Deviance / 2) - scale,
            ParameterCount = columns.Count + 1 + theta.Length + 1,
            Iterations = steps,
            Converged = converged,
            Warnings = [.. columns.Warnings, .. singular, .. observed is null && singular.Length == 0 ? [new AnalysisWarning("the likelihood is not curved downwards in the variances, so that the errors are those of the expected information")] : Array.Empty<AnalysisWarning>()],
        };
        return new MixedFit(basis, StandardErrors.Classical, new MixedDetails(data.Absorbed[0].Name, levels, [Term.InterceptName, .. slopes.Select(s => s.Name)], effects, variance, none.Deviance - at.Deviance, isRestricted,
            Predictions(model, theta, at, back, unit))
        { Expected = ToUnits(toGiven, at.Coefficients, expected, centre, unit).Covariance });
    }

    private static (double[] Coefficients, double[,] Covariance) ToUnits(double[,] toGiven, double[] own, double[,] ofOwn, double centre, double unit)
    {
        var (coefficients, covariance) = EstimatedBasis.Transform(toGiven, own, ofOwn);
        for (var i = 0; i < coefficients.Length; i++)
        {
            coefficients[i] = (coefficients[i] * unit) + (i == 0 ? centre : 0);
            for (var j = 0; j < coefficients.Length; j++) covariance[i, j] *= unit * unit;
        }
        return (coefficients, covariance);
    }

    /// <summary>The covariance of the fixed effects from the curvature of the likelihood in them and the variances together.</summary>
    /// <param name="relative">The covariance of the random effects over the residual variance.</param>
    /// <param name="at">The estimates.</param>
    /// <returns>Null if it is not curved downwards.</returns>
    private double[,]? ObservedCovariance(double[,] relative, Solution at)
    {
        (int A, int B)[] places = [.. Enumerable.Range(0, q).SelectMany(a => Enumerable.Range(0, a + 1).Select(b => (a, b)))];
        // The likelihood bends where a variance is of the size of what a group's rows leave open.
        double[] sizes = [.. Enumerable.Range(0, q).Select(a => relative[a, a] + (1 / groups.Average(g => g.Squares(a))))];
        double[] widths = [.. places.Select(e => 1e-3 * Math.Sqrt(sizes[e.A] * sizes[e.B]))];
        var k = p + places.Length;
        var information = new double[k, k];
        for (var c = 0; c < p; c++)
            for (var d = 0; d < p; d++) information[c, d] = at.Information[c, d] / at.Variance;
        for (var i = 0; i < places.Length; i++)
        {
            var (above, below) = (Moved(i, widths[i], i, 0), Moved(i, -widths[i], i, 0));
            for (var c = 0; c < p; c++) information[c, p + i] = information[p + i, c] = -(above.Slope[c] - below.Slope[c]) / (2 * widths[i]) / at.Variance;
            information[p + i, p + i] = -(above.Value - (2 * Moved(i, 0, i, 0).Value) + below.Value) / (widths[i] * widths[i]);
            for (var j = 0; j < i; j++)
                information[p + i, p + j] = information[p + j, p + i] = -(Moved(i, widths[i], j, widths[j]).Value - Moved(i, widths[i], j, -widths[j]).Value - Moved(i, -widths[i], j, widths[j]).Value + Moved(i, -widths[i], j, -widths[j]).Value) / (4 * widths[i] * widths[j]);
        }
        if (Cholesky.Factor(information, 1e-12) is null) return null;
        return Categories.Reorder(Cholesky.Inverse(information), [.. Enumerable.Range(0, p)]);

        (double Value, double[] Slope) Moved(int i, double a, int j, double b)
        {
            var moved = (double[,])relative.Clone();
            Move(i, a);
            Move(j, b);
            return Profile(moved, at.Coefficients);

            void Move(int place, double by)
            {
                var (row, column) = places[place];
                moved[row, column] += by;
                if (row != column) moved[column, row] += by;
            }
        }
    }

    /// <summary>The log-likelihood, but for constants, for a covariance of the random effects and given fixed effects, and X'V⁻¹(y − Xβ).</summary>
    private (double Value, double[] Slope) Profile(double[,] relative, double[] coefficients)
    {
        var (left, right, rest, logs) = ((double[,])xx.Clone(), (double[])xy.Clone(), yy, 0.0);
        foreach (var group in groups) group.TakeOutOf(relative, left, right, ref rest, ref logs);
        var slope = (double[])right.Clone();
        var squares = rest - Vectors.Dot(coefficients, right);
        for (var c = 0; c < p; c++)
        {
            for (var d = 0; d < p; d++) slope[c] -= left[c, d] * coefficients[d];
            squares -= coefficients[c] * slope[c];
        }
        if (isRestricted && Cholesky.Factor(left, 1e-14) is { } lower) logs += 2 * LogDeterminant(lower);
        return (-((Degrees * Math.Log(squares)) + logs) / 2, slope);
    }

    /// <summary>The rows' groups without gaps, with their names.</summary>
    /// <exception cref="AnalysisException">There are fewer than two.</exception>
    internal static (int[] Codes, ImmutableArray<string> Levels) GroupsOf(ModelData data)
    {
        var factor = data.Absorbed[0];
        int[] present = [.. data.Rows.Select(r => factor.Codes[r]).Distinct().Order()];
        if (present.Length < 2) throw new AnalysisException($"all {ModelData.CountRows(data.Rows.Length)} are in one group of `{factor.Name}`; a model with random effects needs several, so use `Regression.LeastSquares` or `Logistic`");
        var place = present.Index().ToDictionary(x => x.Item, x => x.Index);
        return ([.. data.Rows.Select(r => place[factor.Codes[r]])], [.. present.Select(c => factor.Levels[c])]);
    }

    private static double LogDeterminant(double[,] triangular) => Enumerable.Range(0, triangular.GetLength(0)).Sum(i => Math.Log(triangular[i, i]));

    private static double[,] Identity(int size)
    {
        var matrix = new double[size, size];
        for (var i = 0; i < size; i++) matrix[i, i] = 1;
        return matrix;
    }

    /// <summary>What is predicted of each group's own effects, in the units that were given.</summary>
    private static double[][] Predictions(MixedEstimator model, double[] theta, Solution at, double[,] back, double unit)
    {
        var factor = model.Factor(theta);
        return [.. model.groups.Select(g =>
        {
            var effects = g.Effects(factor, at.Coefficients);
            var own = new double[model.q];
            for (var a = 0; a < model.q; a++)
                for (var b = 0; b < model.q; b++) own[a] += back[a, b] * effects[b] * unit;
            return own;
        })];
    }

    private IEnumerable<AnalysisWarning> SingularWarnings(double[,] factor, IReadOnlyList<NumericVariable> slopes, string group)
    {
        const double None = 1e-4;
        if (Math.Abs(factor[0, 0]) < None && q == 1) yield return new AnalysisWarning($"the groups of `{group}` differ by no more than their rows do: the variance of the intercepts is zero; the model without random effects fits as well");
        for (var s = 1; s < q; s++)
        {
            if (Math.Abs(factor[s, s]) < None) yield return new AnalysisWarning($"the slopes of `{slopes[s - 1].Name}` by `{group}` are not determined apart from the other random effects (their variance is zero or their correlation is 1); use a model with random intercepts alone");
        }
    }

    private double[,] Factor(double[] theta)
    {
        var factor = new double[q, q];
        for (int a = 0, place = 0; a < q; a++)
            for (var b = 0; b <= a; b++) factor[a, b] = theta[place++];
        return factor;
    }

    private (double[] Theta, bool Converged, int Steps) Minimise()
    {
        var start = new double[ThetaCount];
        for (int a = 0, place = 0; a < q; a++)
            for (var b = 0; b <= a; b++, place++) start[place] = a == b ? 1 : 0;
        var best = start;
        foreach (var size in new[] { 1.0, 0.2 })
        {
            var objective = ObjectiveFunction.Value(v => At([.. v]).Deviance);
            var found = NelderMeadSimplex.Minimum(objective, Vector<double>.Build.DenseOfEnumerable(start.Select(s => s * size)), Vector<double>.Build.Dense(ThetaCount, 0.4 * size), 1e-9, 5000).MinimizingPoint.ToArray();
            if (At(found).Deviance < At(best).Deviance) best = found;
        }
        return Polish(best);
    }

    /// <summary>Newton's method with differences, from nearby.</summary>
    private (double[] Theta, bool Converged, int Steps) Polish(double[] theta)
    {
        const double Width = 1e-4;
        const int Most = 20;
        for (var step = 1; step <= Most; step++)
        {
            var k = theta.Length;
            var (gradient, curvature, here) = (new double[k], new double[k, k], At(theta).Deviance);
            for (var i = 0; i < k; i++)
            {
                var (above, below) = (Moved(i, Width, i, 0), Moved(i, -Width, i, 0));
                gradient[i] = (above - below) / (2 * Width);
                curvature[i, i] = (above - (2 * here) + below) / (Width * Width);
                for (var j = 0; j < i; j++) curvature[i, j] = curvature[j, i] = (Moved(i, Width, j, Width) - Moved(i, Width, j, -Width) - Moved(i, -Width, j, Width) + Moved(i, -Width, j, -Width)) / (4 * Width * Width);
            }
            if (Cholesky.Factor(curvature, 1e-10) is not { } lower) return (theta, Vectors.Dot(gradient, gradient) < 1e-6, step);
            var move = Cholesky.SolveUpper(lower, Cholesky.SolveLower(lower, gradient));
            if (Vectors.Dot(move, gradient) < 1e-12) return (theta, true, step);
            var next = (double[])theta.Clone();
            Vectors.AddScaled(next, -1, move);
            if (!(At(next).Deviance <= here)) return (theta, Vectors.Dot(move, gradient) < 1e-7, step);
            theta = next;

            double Moved(int i, double a, int j, double b)
            {
                var moved = (double[])theta.Clone();
                moved[i] += a;
                moved[j] += b;
                return At(moved).Deviance;
            }
        }
        return (theta, false, Most);
    }

    private Solution At(double[] theta)
    {
        var factor = Factor(theta);
        var (left, right, rest, logs) = ((double[,])xx.Clone(), (double[])xy.Clone(), yy, 0.0);
        foreach (var group in groups) group.TakeOut(factor, left, right, ref rest, ref logs);
        var lower = Cholesky.Factor(left, 1e-14) ?? throw new AnalysisException("the terms cannot be told apart within the groups; leave out terms that are the same in all rows of a group");
        var half = Cholesky.SolveLower(lower, right);
        var squares = rest - Vectors.Dot(half, half);
        if (isRestricted) for (var i = 0; i < p; i++) logs += 2 * Math.Log(lower[i, i]);
        var variance = squares / Degrees;
        return new Solution((Degrees * (Math.Log(2 * Math.PI * variance) + 1)) + logs, Cholesky.SolveUpper(lower, half), left, variance);
    }

    /// <summary>The best fixed effects for a factor.</summary>
    private sealed record Solution(double Deviance, double[] Coefficients, double[,] Information, double Variance)
    {
        public double[,] Covariance()
        {
            var inverse = Cholesky.Inverse(Information, "the terms cannot be told apart within the groups");
            for (var i = 0; i < Coefficients.Length; i++)
                for (var j = 0; j < Coefficients.Length; j++) inverse[i, j] *= Variance;
            return inverse;
        }
    }

    /// <summary>What a group's rows add up to.</summary>
    private sealed class GroupSums(int p, int q)
    {
        private readonly double[,] zz = new double[q, q];
        private readonly double[,] zx = new double[q, p];
        private readonly double[] zy = new double[q];

        public void Add(double[] x, double[] z, double y)
        {
            for (var a = 0; a < q; a++)
            {
                zy[a] += z[a] * y;
                for (var b = 0; b < q; b++) zz[a, b] += z[a] * z[b];
                for (var c = 0; c < p; c++) zx[a, c] += z[a] * x[c];
            }
        }

        /// <summary>Takes what the group's random effects explain out of the cross-products.</summary>
        public void TakeOut(double[,] factor, double[,] left, double[] right, ref double rest, ref double logs)
        {
            var lower = Middle(factor);
            for (var a = 0; a < q; a++) logs += 2 * Math.Log(lower[a, a]);
            // L⁻¹ Λ' Z'X column by column.
            var explained = new double[q, p];
            for (var c = 0; c < p; c++)
            {
                var column = Half(factor, lower, a => zx[a, c]);
                for (var a = 0; a < q; a++) explained[a, c] = column[a];
            }
            var own = Half(factor, lower, a => zy[a]);
            for (var a = 0; a < q; a++)
            {
                rest -= own[a] * own[a];
                for (var c = 0; c < p; c++)
                {
                    right[c] -= explained[a, c] * own[a];
                    for (var d = 0; d < p; d++) left[c, d] -= explained[a, c] * explained[a, d];
                }
            }
        }

        /// <summary>The squares of a column of the random effects.</summary>
        public double Squares(int column) => zz[column, column];

        /// <summary>The same for a relative covariance D that need not be positive: V⁻¹ = I − Z (I + D Z'Z)⁻¹ D Z'.</summary>
        public void TakeOutOf(double[,] relative, double[,] left, double[] right, ref double rest, ref double logs)
        {
            var covariance = Matrix<double>.Build.DenseOfArray(relative);
            var split = (Matrix<double>.Build.DenseIdentity(q) + (covariance * Matrix<double>.Build.DenseOfArray(zz))).LU();
            var middle = split.Solve(covariance);
            logs += Math.Log(split.Determinant);
            var own = Vector<double>.Build.DenseOfArray(zy);
            var columns = Matrix<double>.Build.DenseOfArray(zx);
            var turned = middle * columns;
            rest -= own * middle * own;
            var (explained, cross) = (columns.TransposeThisAndMultiply(turned), turned.TransposeThisAndMultiply(own));
            for (var c = 0; c < p; c++)
            {
                right[c] -= cross[c];
                for (var d = 0; d < p; d++) left[c, d] -= explained[c, d];
            }
        }

        /// <summary>The group's predicted effects: Λ (Λ'Z'ZΛ + I)⁻¹ Λ' Z'(y − Xβ).</summary>
        public double[] Effects(double[,] factor, double[] coefficients)
        {
            var lower = Middle(factor);
            var solved = Cholesky.SolveUpper(lower, Half(factor, lower, a =>
            {
                var own = zy[a];
                for (var c = 0; c < p; c++) own -= zx[a, c] * coefficients[c];
                return own;
            }));
            var effects = new double[q];
            for (var a = 0; a < q; a++)
                for (var b = 0; b <= a; b++) effects[a] += factor[a, b] * solved[b];
            return effects;
        }

        private double[,] Middle(double[,] factor)
        {
            var middle = new double[q, q];
            for (var a = 0; a < q; a++)
            {
                for (var b = 0; b < q; b++)
                {
                    var sum = a == b ? 1.0 : 0.0;
                    for (var c = a; c < q; c++)
                        for (var d = b; d < q; d++) sum += factor[c, a] * zz[c, d] * factor[d, b];
                    middle[a, b] = sum;
                }
            }
            return Cholesky.Factor(middle, 0)!;
        }

        private double[] Half(double[,] factor, double[,] lower, Func<int, double> of)
        {
            var turned = new double[q];
            for (var a = 0; a < q; a++)
                for (var c = a; c < q; c++) turned[a] += factor[c, a] * of(c);
            return Cholesky.SolveLower(lower, turned);
        }
    }
}
