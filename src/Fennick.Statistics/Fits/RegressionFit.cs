using System.Collections.Immutable;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;
using MathNet.Numerics.LinearAlgebra;

namespace Fennick.Statistics.Fits;

/// <summary>A fitted regression: its terms, their errors, and how well it fits.</summary>
public abstract class RegressionFit
{
    private readonly double[,] covariance;
    private double[]? fitted;
    private double[]? residuals;

    private protected RegressionFit(FitBasis basis, StandardErrors errors)
    {
        Basis = basis;
        StandardErrors = errors;
        (covariance, TestDegreesOfFreedom, ClusterCounts) = basis.Covariance(errors);
        Terms = [.. basis.Scores.Design.Terms.Select((term, i) => new TermEstimate(term, basis.Coefficients[i], Math.Sqrt(covariance[i, i]), TestDegreesOfFreedom))];
    }

    /// <summary>What the estimator is called: "least squares", "logistic regression", …</summary>
    public string Estimator => Basis.Estimator;

    /// <summary>The name of the response.</summary>
    public string Response => Basis.Data.ResponseName;

    /// <summary>The terms in order.</summary>
    public ImmutableArray<TermEstimate> Terms { get; }

    /// <summary>A term by name.</summary>
    /// <exception cref="AnalysisException">The fit has no such term.</exception>
    public TermEstimate this[string name] => Terms.FirstOrDefault(t => t.Name == name)
        ?? throw new AnalysisException($"the fit has no term `{name}`; its terms are {string.Join(", ", Terms.Select(t => $"`{t.Name}`"))}");

    /// <summary>The kind of the standard errors.</summary>
    public StandardErrors StandardErrors { get; }

    /// <summary>n, the rows used.</summary>
    public int Observations => Basis.Data.Response.Length;

    /// <summary>The rows left out because a value was missing.</summary>
    public int RowsLeftOut => Basis.Data.RowsLeftOut;

    /// <summary>n − k; absorbed effects count too.</summary>
    public double ResidualDegreesOfFreedom => Basis.ResidualDegreesOfFreedom;

    /// <summary>The degrees of freedom of the t statistics; infinite where the normal distribution is meant.</summary>
    public double TestDegreesOfFreedom { get; }

    /// <summary>The number of clusters of each grouping; empty if the errors are not clustered.</summary>
    public ImmutableArray<int> ClusterCounts { get; }

    /// <summary>The type of the records that were fitted; null if the data came in columns.</summary>
    public Type? RecordType => Basis.Data.RecordType;

    /// <summary>Whether the iteration met its criterion; true for fits that need none.</summary>
    public virtual bool Converged => true;

    /// <summary>The natural logarithm of the likelihood at the estimates.</summary>
    public double LogLikelihood => Basis.LogLikelihood;

    /// <summary>2 p − 2 log L; p counts the coefficients, and the dispersion of a negative binomial.</summary>
    public double Aic => (2 * ParameterCount) - (2 * LogLikelihood);

    /// <summary>p ln n − 2 log L.</summary>
    public double Bic => (ParameterCount * Math.Log(Observations)) - (2 * LogLikelihood);

    /// <summary>What a reader must know: dropped columns, an iteration that did not end.</summary>
    public ImmutableArray<AnalysisWarning> Warnings => Basis.Warnings;

    /// <summary>The fitted values, on the response's own scale; one for each row used.</summary>
    public IReadOnlyList<double> Fitted => fitted ??= Basis.Means ?? FitBasis.Difference(Basis.Data.Response, Basis.Scores.Residuals);

    /// <summary>Response minus fitted value.</summary>
    public IReadOnlyList<double> Residuals => residuals ??= Basis.Means is { } means ? FitBasis.Difference(Basis.Data.Response, means) : Basis.Scores.Residuals;

    internal FitBasis Basis { get; }

    private protected virtual int ParameterCount => Terms.Length;

    /// <summary>The covariance matrix of the coefficients, k × k, in the order of the terms; a copy.</summary>
    public double[,] Covariance() => (double[,])covariance.Clone();

    /// <summary>The diagonal of the hat matrix.</summary>
    public IReadOnlyList<double> Leverage() => Basis.Scores.Leverage();

    /// <summary>Tests that several terms are all zero: an F test, or χ² where the normal distribution is meant.</summary>
    /// <param name="names">Names of terms or of variables; all levels of a factor are meant by its name. Without any, all but the intercept.</param>
    /// <exception cref="AnalysisException">A name is unknown.</exception>
    public TestResult Wald(params string[] names)
    {
        var chosen = names.Length == 0
            ? [.. Enumerable.Range(0, Terms.Length).Where(i => Terms[i].Term != Term.Intercept)]
            : names.SelectMany(IndexesOf).Distinct().ToArray();
        if (chosen.Length == 0) throw new AnalysisException("there are no terms to test");
        var estimates = Vector<double>.Build.DenseOfEnumerable(chosen.Select(i => Terms[i].Estimate));
        var part = Matrix<double>.Build.Dense(chosen.Length, chosen.Length, (i, j) => covariance[chosen[i], chosen[j]]);
        // Scaled to correlations first: terms may be of very different sizes.
        var scale = part.Diagonal().PointwiseSqrt();
        var correlation = Matrix<double>.Build.Dense(chosen.Length, chosen.Length, (i, j) => part[i, j] / (scale[i] * scale[j]));
        var scaled = estimates.PointwiseDivide(scale);
        var statistic = scaled.DotProduct(correlation.LU().Solve(scaled));
        return double.IsPositiveInfinity(TestDegreesOfFreedom)
            ? new TestResult("Wald χ² test", statistic, chosen.Length, null, Tails.ChiSquaredUpper(statistic, chosen.Length))
            : new TestResult("Wald F test", statistic / chosen.Length, chosen.Length, TestDegreesOfFreedom, Tails.FUpper(statistic / chosen.Length, chosen.Length, TestDegreesOfFreedom));
    }

    /// <summary>Predictions, on the response's own scale, for other records of the type that was fitted.</summary>
    /// <param name="records">The records; their response is not looked at.</param>
    /// <param name="level">The level of the intervals, which are for the mean.</param>
    /// <returns>One for each record; null where a value is missing.</returns>
    /// <exception cref="AnalysisException">The fit was made from columns or another type, or a level was not in its data.</exception>
    public IReadOnlyList<Prediction?> Predict<T>(IReadOnlyList<T> records, double level = 0.95)
    {
        ArgumentNullException.ThrowIfNull(records);
        if (Basis.Data.ReadOthers is not { } read) throw new AnalysisException("the fit was made from columns; predictions need records");
        var (terms, count) = read(records);
        var complete = Enumerable.Range(0, count).Where(r => terms.All(t => t.Factors.All(v => !v.IsMissing(r)))).ToArray();
        var design = Basis.Data.Plan!.Apply(terms, complete).Without(Basis.Dropped);
        var predictions = new Prediction?[count];
        var quantile = Tails.StudentQuantile(1 - level, TestDegreesOfFreedom);
        var row = new double[design.ColumnCount];
        for (var i = 0; i < complete.Length; i++)
        {
            for (var c = 0; c < row.Length; c++) row[c] = design.Columns[c][i];
            predictions[complete[i]] = Predict(row, quantile);
        }
        return predictions;
    }

    /// <summary>The variance inflation factor of each term but the intercept: 1 / (1 − R²) of its regression on the others.</summary>
    public IReadOnlyDictionary<string, double> VarianceInflation()
    {
        var design = Basis.Scores.Design;
        var first = design.HasIntercept ? 1 : 0;
        var inflation = new Dictionary<string, double>();
        for (var c = first; c < design.ColumnCount; c++)
        {
            var others = design.Without(new HashSet<int> { c });
            var solution = LeastSquaresSolver.Solve(others, design.Columns[c], Basis.Data.Weights);
            var residuals = FitBasis.ResidualsOf(others, solution.Coefficients, design.Columns[c]);
            inflation[design.Terms[c].Name] = FitBasis.TotalSquares(design.Columns[c], Basis.Data.Weights, design.HasIntercept) / FitBasis.SquareSum(residuals, Basis.Data.Weights);
        }
        return inflation;
    }

    /// <summary>Average predictions, on the response's own scale, if every row had each level of a factor; errors by the delta method.</summary>
    /// <param name="factor">The name of a factor.</param>
    /// <exception cref="AnalysisException">The fit has no such factor.</exception>
    public IReadOnlyList<AverageEffect> AveragePredictions(string factor)
    {
        var levels = Levels(factor);
        return [.. levels.Select(level => Average(level, Basis.DesignWith(factor, level), null))];
    }

    /// <summary>
    /// Average marginal effects, on the response's own scale: for a number the average slope, for a factor the average difference of each level from the reference. Errors by the
    /// delta method.
    /// </summary>
    /// <param name="variable">The name of a variable of the model.</param>
    /// <exception cref="AnalysisException">The fit has no such variable.</exception>
    public IReadOnlyList<AverageEffect> MarginalEffects(string variable)
    {
        if (Basis.FindVariable(variable) is NumericVariable numeric)
        {
            var width = 1e-5 * Math.Max(1e-3, numeric.Values.Where(double.IsFinite).Select(Math.Abs).DefaultIfEmpty(1).Max());
            var effect = Average(variable, Basis.DesignShifted(variable, width), Basis.DesignShifted(variable, -width));
            return [effect with { Estimate = effect.Estimate / (2 * width), StandardError = effect.StandardError / (2 * width) }];
        }
        var levels = Levels(variable);
        var reference = Basis.DesignWith(variable, levels[0]);
        return [.. levels.Skip(1).Select(level => Average(level, Basis.DesignWith(variable, level), reference))];
    }

    /// <summary>Fits compare only if they are of the same rows.</summary>
    private protected void CheckSameRows(RegressionFit other)
    {
        if (Observations != other.Observations || Response != other.Response)
            throw new AnalysisException($"the fits do not compare: one has {Observations} rows of `{Response}`, the other {other.Observations} of `{other.Response}`");
    }

    private protected TestResult LikelihoodRatio(double other, int degreesOfFreedom)
    {
        var statistic = Math.Max(0, 2 * (LogLikelihood - other));
        return new TestResult("likelihood-ratio test", statistic, degreesOfFreedom, null, Tails.ChiSquaredUpper(statistic, degreesOfFreedom));
    }

    /// <summary>The variance of a linear combination of the coefficients.</summary>
    private protected double Variance(ReadOnlySpan<double> row)
    {
        var sum = 0.0;
        for (var i = 0; i < row.Length; i++)
            for (var j = 0; j < row.Length; j++) sum += row[i] * covariance[i, j] * row[j];
        return sum;
    }

    private Prediction Predict(double[] row, double quantile)
    {
        var linear = row.Zip(Basis.Coefficients, (x, b) => x * b).Sum();
        var error = Math.Sqrt(Variance(row));
        var (value, slope) = Basis.Mean(linear);
        // The ends are those of the linear predictor, so that they stay where the mean can be.
        var interval = new Interval(Basis.Mean(linear - (quantile * error)).Value, Basis.Mean(linear + (quantile * error)).Value);
        var spread = Math.Sqrt((error * error) + Basis.Dispersion) * quantile;
        return new Prediction(value, slope * error, interval, Basis.UsesStudent ? new Interval(value - spread, value + spread) : null);
    }

    private AverageEffect Average(string name, DesignMatrix design, DesignMatrix? minus)
    {
        var gradient = new double[Terms.Length];
        var mean = Accumulate(design, 1) + (minus is null ? 0 : Accumulate(minus, -1));
        return new AverageEffect(name, mean, Math.Sqrt(Variance(gradient)), TestDegreesOfFreedom);

        double Accumulate(DesignMatrix rows, double sign)
        {
            var sum = 0.0;
            for (var i = 0; i < rows.RowCount; i++)
            {
                var linear = Basis.Data.Offset?[i] ?? 0;
                for (var c = 0; c < rows.ColumnCount; c++) linear += rows.Columns[c][i] * Basis.Coefficients[c];
                var (value, slope) = Basis.Mean(linear);
                sum += value;
                for (var c = 0; c < rows.ColumnCount; c++) gradient[c] += sign * slope * rows.Columns[c][i] / rows.RowCount;
            }
            return sign * sum / rows.RowCount;
        }
    }

    /// <summary>The levels of a factor in the rows used, the reference first.</summary>
    private List<string> Levels(string name)
    {
        if (Basis.FindVariable(name) is not FactorVariable factor) throw new AnalysisException($"`{name}` is no factor of the model");
        var present = Basis.Data.Rows.Select(r => factor.Codes[r]).Distinct().Order().Select(c => factor.Levels[c]).ToList();
        var reference = Terms.FirstOrDefault(t => t.Term.Variable == name && t.Term.Reference is not null)?.Term.Reference;
        return reference is null ? present : [reference, .. present.Where(l => l != reference)];
    }

    private IEnumerable<int> IndexesOf(string name)
    {
        var found = Enumerable.Range(0, Terms.Length).Where(i => Terms[i].Name == name || Terms[i].Term.Variable == name).ToArray();
        return found.Length > 0 ? found : throw new AnalysisException($"the fit has no term `{name}`; its terms are {string.Join(", ", Terms.Select(t => $"`{t.Name}`"))}");
    }
}
