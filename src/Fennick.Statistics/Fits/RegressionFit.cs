using System.Collections.Immutable;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>A fitted regression: its terms, their errors, and how well it fits.</summary>
public abstract class RegressionFit : IModelResult
{
    private readonly ImmutableArray<AnalysisWarning> ofErrors;
    private double[]? fitted;
    private double[]? residuals;

    private protected RegressionFit(FitBasis basis, StandardErrors errors)
    {
        Basis = basis;
        StandardErrors = errors;
        var made = basis.ErrorsOf(errors);
        (Errors, TestDegreesOfFreedom, ClusterCounts, ofErrors) = made;
        var coefficients = basis.Combinations;
        Terms = [.. basis.Design.Terms.Select((term, i) => basis.Infinite.TryGetValue(i, out var sign)
            ? new TermEstimate(term, sign * double.PositiveInfinity, double.PositiveInfinity, TestDegreesOfFreedom)
            : new TermEstimate(term, basis.Coefficients[i], Math.Sqrt(Errors.Of(coefficients[i], coefficients[i])), made.DegreesOf?.Invoke(coefficients[i]) ?? TestDegreesOfFreedom))];
    }

    /// <summary>What the estimator is called: "least squares", "logistic regression", …</summary>
    public string Estimator => Basis.Estimator;

    /// <summary>The name of the response.</summary>
    public string Response => Basis.Data.ResponseName;

    /// <summary>The name of the weights; null if there are none.</summary>
    public string? Weights => Basis.Data.WeightsName;

    /// <summary>The name of the offset; null if there is none.</summary>
    public string? Offset => Basis.Data.OffsetName;

    /// <summary>The terms in order.</summary>
    public ImmutableArray<TermEstimate> Terms { get; }

    /// <summary>A term by name.</summary>
    /// <exception cref="AnalysisException">The fit has no such term.</exception>
    public TermEstimate this[string name] => Terms.Named(name);

    /// <summary>The kind of the standard errors.</summary>
    public StandardErrors StandardErrors { get; }

    /// <inheritdoc/>
    public string ErrorKind => StandardErrors.Kind;

    /// <inheritdoc/>
    public IReadOnlyList<string> ErrorGroups => StandardErrors.GroupNames;

    /// <summary>The groupings whose effects were absorbed.</summary>
    public virtual ImmutableArray<string> AbsorbedGroupings => [];

    /// <summary>n, the rows used.</summary>
    public int Observations => Basis.Data.Response.Length;

    /// <summary>The rows left out because a value was missing.</summary>
    public int RowsLeftOut => Basis.Data.RowsLeftOut;

    /// <summary>The rows left out, though nothing is missing in them, because a transformation is not defined there: the logarithm of zero or less, a division by zero.</summary>
    public int RowsOutsideDomain => Basis.Data.RowsOutsideDomain;

    /// <summary>n − k; absorbed effects count too.</summary>
    public double ResidualDegreesOfFreedom => Basis.ResidualDegreesOfFreedom;

    /// <summary>The degrees of freedom of the t statistics; infinite where the normal distribution is meant.</summary>
    public double TestDegreesOfFreedom { get; }

    /// <summary>The number of clusters of each grouping; empty if the errors are not clustered.</summary>
    public ImmutableArray<int> ClusterCounts { get; }

    /// <summary>The type of the records that were fitted; null if the data came in columns.</summary>
    public Type? RecordType => Basis.Data.RecordType;

    /// <inheritdoc/>
    public virtual ImmutableArray<ModelStatistic> Statistics => [];

    /// <summary>Whether there is a constant.</summary>
    public bool HasIntercept => Basis.Intercept >= 0;

    /// <summary>Whether the iteration met its criterion; true for fits that need none.</summary>
    public virtual bool Converged => true;

    /// <summary>The natural logarithm of the likelihood at the estimates.</summary>
    public double LogLikelihood => Basis.LogLikelihood;

    /// <summary>2 p − 2 log L; p counts the coefficients, absorbed effects, and the dispersion of a negative binomial.</summary>
    public double Aic => (2 * ParameterCount) - (2 * LogLikelihood);

    /// <summary>p ln n − 2 log L.</summary>
    public double Bic => (ParameterCount * Math.Log(Observations)) - (2 * LogLikelihood);

    /// <summary>What a reader must know: dropped columns, rows left out, an iteration that did not end, errors that are not what they seem.</summary>
    public ImmutableArray<AnalysisWarning> Warnings => [.. Basis.Data.Warnings, .. Basis.Warnings, .. ofErrors];

    /// <summary>The fitted values, on the response's own scale; one for each row used.</summary>
    public IReadOnlyList<double> Fitted => fitted ??= Basis.Means ?? FitBasis.Difference(Basis.Data.Response, Basis.Scores.Residuals);

    /// <summary>Response minus fitted value.</summary>
    public IReadOnlyList<double> Residuals => residuals ??= Basis.Means is { } means ? FitBasis.Difference(Basis.Data.Response, means) : Basis.Scores.Residuals;

    internal FitBasis Basis { get; }

    private protected CoefficientCovariance Errors { get; }

    private protected virtual int ParameterCount => Terms.Length + (Basis.Absorption?.EffectCount ?? 0);

    /// <summary>The covariance matrix of the coefficients, k × k, in the order of the terms.</summary>
    public double[,] Covariance() => Errors.Of(Basis.Combinations);

    /// <summary>The diagonal of the hat matrix, absorbed effects included.</summary>
    public IReadOnlyList<double> Leverage() => Basis.Scores.Leverage();

    /// <summary>Tests that several terms are all zero: an F test, or χ² where the normal distribution is meant.</summary>
    /// <param name="names">Names of terms or of variables; all levels of a factor are meant by its name. Without any, all but the intercept.</param>
    /// <exception cref="AnalysisException">A name is unknown, a term has no finite estimate, or the errors cannot tell so many terms apart, as with fewer clusters than terms.</exception>
    public TestResult Wald(params string[] names)
    {
        var chosen = names.Length == 0
            ? [.. Enumerable.Range(0, Terms.Length).Where(i => i != Basis.Intercept)]
            : names.SelectMany(n => Terms.PlacesOf(n)).Distinct().ToArray();
        if (chosen.Length == 0) throw new AnalysisException("there are no terms to test");
        if (chosen.FirstOrDefault(Basis.Infinite.ContainsKey, -1) is >= 0 and var infinite) throw new AnalysisException($"the term `{Terms[infinite].Name}` has no finite estimate, so it cannot be tested; use a likelihood-ratio test");
        if (!ClusterCounts.IsEmpty && chosen.Length >= ClusterCounts.Min())
            throw new AnalysisException($"{chosen.Length} terms cannot be tested together with errors clustered in {ClusterCounts.Min()} groups, which tell at most {ClusterCounts.Min() - 1} apart; test fewer terms, or use other errors");
        var part = Errors.Of([.. chosen.Select(i => Basis.Combinations[i])]);
        var statistic = TermLists.WaldStatistic([.. chosen.Select(c => Basis.Coefficients[c])], part, StandardErrors.Name);
        return double.IsPositiveInfinity(TestDegreesOfFreedom)
            ? new TestResult("Wald χ² test", statistic, chosen.Length, null, Tails.ChiSquaredUpper(statistic, chosen.Length))
            : new TestResult("Wald F test", statistic / chosen.Length, chosen.Length, TestDegreesOfFreedom, Tails.FUpper(statistic / chosen.Length, chosen.Length, TestDegreesOfFreedom));
    }

    /// <summary>Predictions, on the response's own scale, for other records of the type that was fitted; an offset is that of the records, and so are absorbed effects.</summary>
    /// <param name="records">The records; their response is not looked at.</param>
    /// <param name="level">The level of the intervals.</param>
    /// <returns>One for each record; null where a value is missing or a transformation is not defined.</returns>
    /// <exception cref="AnalysisException">The fit was made from columns or another type, or a level was not in its data.</exception>
    public IReadOnlyList<Prediction?> Predict<T>(IReadOnlyList<T> records, double level = 0.95) => PredictOthers(records, level);

    /// <summary>Predictions for other columns, of a fit that was made from columns.</summary>
    /// <exception cref="AnalysisException">The fit was made from records, a column is unknown, or a level was not in the data of the fit.</exception>
    public IReadOnlyList<Prediction?> Predict(IColumnSource columns, double level = 0.95) => PredictOthers(columns, level);

    /// <summary>
    /// The variance inflation factor of each term but the intercept: 1 / (1 − R²) of its regression on the others, with absorbed effects among them.
    /// </summary>
    public IReadOnlyDictionary<string, double> VarianceInflation()
    {
        var design = Basis.Design;
        var split = Factorisation.Create(design, Basis.Data.Response, Basis.Data.Weights);
        var ofColumns = split.Inflation();
        var unit = new ClassicalCovariance(split, 1);
        var whole = Basis.Absorption is null ? design : Basis.Data.Design.Without(Basis.Dropped);
        var inflation = new Dictionary<string, double>();
        for (var c = 0; c < design.ColumnCount; c++)
        {
            if (c == design.Intercept) continue;
            var squares = FitBasis.TotalSquares(whole.Column(c), Basis.Data.Weights, design.HasIntercept || Basis.Absorption is not null);
            var place = Array.IndexOf(split.Dense, c);
            var coefficient = split.Coefficient(c);
            inflation[design.Terms[c].Name] = squares * (place >= 0 ? ofColumns[place] : unit.Of(coefficient, coefficient));
        }
        return inflation;
    }

    /// <summary>Average predictions, on the response's own scale, if every row had each level of a factor; errors by the delta method.</summary>
    /// <param name="factor">The name of a factor.</param>
    /// <exception cref="AnalysisException">The fit has no such factor.</exception>
    public IReadOnlyList<AverageEffect> PredictedMeans(string factor) => new Averages(this).Predictions(factor);

    /// <summary>Average predictions, on the response's own scale, if every row had each of some values of a variable; errors by the delta method.</summary>
    /// <param name="variable">The name of a variable of numbers, or of a member of the record that terms are computed from.</param>
    /// <param name="values">The values, in the variable's own unit.</param>
    /// <param name="factor">A factor that every row has one level of as well; each row keeps its own if null.</param>
    /// <param name="level">That level.</param>
    /// <exception cref="AnalysisException">The fit has no such variable, factor or level, or a term is not defined at a value.</exception>
    public IReadOnlyList<AverageEffect> PredictedMeans(string variable, IReadOnlyList<double> values, string? factor = null, string? level = null) => new Averages(this).PredictionsAt(variable, values, factor, level);

    /// <summary>The values that a variable of numbers has in the rows used.</summary>
    /// <param name="variable">Its name.</param>
    /// <exception cref="AnalysisException">The fit has no such variable.</exception>
    public IReadOnlyList<double> ValuesOf(string variable) => new Averages(this).ValuesOf(variable);

    /// <summary>The levels that a factor has in the rows used, the reference first.</summary>
    /// <param name="factor">Its name.</param>
    /// <exception cref="AnalysisException">The fit has no such factor.</exception>
    public IReadOnlyList<string> LevelsOf(string factor) => new Averages(this).LevelsOf(factor);

    /// <summary>
    /// Average marginal effects, on the response's own scale: for a number the average slope, through every term that it stands in; for a factor the average difference of each level
    /// from the reference. Errors by the delta method.
    /// </summary>
    /// <param name="variable">The name of a variable of the model, or of a member of the record that its terms are computed from.</param>
    /// <exception cref="AnalysisException">The fit has no such variable, or a term jumps with it.</exception>
    /// <remarks>The terms are differentiated as they are written, without numerical steps.</remarks>
    public IReadOnlyList<AverageEffect> MarginalEffects(string variable) => new Averages(this).Effects(variable);

    /// <summary>Fits compare only if they are of the same rows, response and weights.</summary>
    private protected void CheckSameData(RegressionFit other)
    {
        var (mine, its) = (Basis.Data, other.Basis.Data);
        if (Estimator != other.Estimator) throw Differ($"one is by {Estimator}, the other by {other.Estimator}");
        if (Response != other.Response) throw Differ($"one is of `{Response}`, the other of `{other.Response}`");
        var rows = mine.Rows.ToHashSet();
        var same = its.Rows.ToHashSet();
        // Rows of different lists are the same if they are the same records.
        var areSameRecords = mine.RecordOf is { } first && its.RecordOf is { } second && mine.Rows.Length == its.Rows.Length && mine.Rows.Zip(its.Rows, (a, b) => ReferenceEquals(first(a), second(b))).All(s => s);
        if (!areSameRecords && (mine.RowsGiven != its.RowsGiven || !rows.SetEquals(same)))
        {
            string Only(IEnumerable<int> first, HashSet<int> second)
            {
                int[] only = [.. first.Where(r => !second.Contains(r))];
                return only.Length == 0 ? "none" : $"{ModelData.CountRows(only.Length)} (row {string.Join(", ", only.Take(5).Select(r => r + 1))}{(only.Length > 5 ? ", …" : "")})";
            }
            throw Differ(mine.RowsGiven != its.RowsGiven
                ? $"one has {ModelData.CountRows(Observations)} of `{Response}`, the other {ModelData.CountRows(other.Observations)}, of different data"
                : $"one has {ModelData.CountRows(Observations)}, the other {ModelData.CountRows(other.Observations)}: {Only(mine.Rows, same)} only in the first, {Only(its.Rows, rows)} only in the second; fit both to the rows that are complete in both");
        }
        if (!mine.Response.AsSpan().SequenceEqual(its.Response)) throw Differ($"the values of `{Response}` are not the same");
        if (!AreSame(mine.Weights, its.Weights)) throw Differ("their weights are not the same");
        if (!AreSame(mine.Offset, its.Offset)) throw Differ("their offsets are not the same");

        static bool AreSame(double[]? a, double[]? b) => a is null || b is null ? a == b : a.AsSpan().SequenceEqual(b);

        static AnalysisException Differ(string how) => new($"the fits do not compare: {how}");
    }

    /// <summary>A smaller fit is nested in a larger one if all its columns are combinations of the larger one's.</summary>
    private protected void CheckNestedIn(RegressionFit larger)
    {
        var inside = larger.Basis.Design;
        for (var c = 0; c < Basis.Design.ColumnCount; c++)
        {
            if (c == Basis.Intercept && (larger.HasIntercept || larger.Basis.Absorption is not null)) continue;
            if (inside.Terms.Contains(Basis.Design.Terms[c])) continue;
            var column = Basis.Design.Column(c);
            if (larger.Basis.Absorption is { } absorbed) column = absorbed.TakeOut(column);
            var rest = FitBasis.Difference(column, LeastSquaresSolver.Solve(inside, column, Basis.Data.Weights).Fitted());
            if (FitBasis.SquareSum(rest, null) > 1e-14 * FitBasis.SquareSum(Basis.Design.Column(c), null))
                throw new AnalysisException($"the fits do not compare: the term `{Basis.Design.Terms[c].Name}` of the first is not among what the second can fit; only nested fits compare");
        }
    }

    private protected TestResult LikelihoodRatio(double other, int degreesOfFreedom)
    {
        if (degreesOfFreedom == 0) throw new AnalysisException("there are no terms to test");
        var statistic = Math.Max(0, 2 * (LogLikelihood - other));
        return new TestResult("likelihood-ratio test", statistic, degreesOfFreedom, null, Tails.ChiSquaredUpper(statistic, degreesOfFreedom));
    }

    /// <summary>The covariance of two combinations.</summary>
    internal double CovarianceOf(Combination a, Combination b) => Errors.Of(a, b);

    private Prediction?[] PredictOthers(object others, double level)
    {
        ArgumentNullException.ThrowIfNull(others);
        if (level is not (> 0 and < 1)) throw new ArgumentOutOfRangeException(nameof(level), level, "A level lies between 0 and 1.");
        if (Basis.Data.ReadOthers is not { } read) throw new AnalysisException("the fit was made from arrays or is a curve, which hold no variables by name; compute predictions from its terms");
        var rows = read(others);
        var complete = rows.Complete;
        var design = Basis.Data.Plan!.Apply(rows.Terms, complete).Without(Basis.Dropped);
        var predictions = new Prediction?[rows.Count];
        var quantile = Tails.StudentQuantile(1 - level, TestDegreesOfFreedom);
        var groups = Basis.Absorption is null ? null : new AbsorbedRows(this, rows.Absorbed, complete);
        if (groups?.Partition is { } partition) design = design.Absorbing(partition);
        var columns = Basis.Factorisation.ColumnsOf(design);
        for (var i = 0; i < complete.Length; i++)
        {
            var row = complete[i];
            var (linear, error) = groups is { Partition: null } ? groups.Predict(columns, i) : PredictLinear(design, columns, i);
            var offset = rows.Offset?.Values[row] ?? 0;
            predictions[row] = Predict(linear + offset, error, quantile, rows.Weights is null ? 1 : rows.Weights.Values[row]);
        }
        return predictions;
    }

    private (double Linear, double Error) PredictLinear(DesignMatrix design, double[][] columns, int row)
    {
        var split = Basis.Factorisation;
        var centred = new double[split.Size];
        var groups = new double[split.GroupTotals.Length];
        split.AddRow(design, columns, row, 1, groups, centred);
        var combination = split.Combine(groups.Length == 0 ? [] : [(design.Partition[row], 1)], centred);
        return (Factorisation.Value(combination, Basis.Centres, Basis.Slopes), Math.Sqrt(Errors.Of(combination, combination)));
    }

    private Prediction Predict(double linear, double error, double quantile, double weight)
    {
        var (value, slope, _) = Basis.Mean(linear);
        // The ends are those of the linear predictor, so that they stay where the mean can be.
        var interval = new Interval(Basis.Mean(linear - (quantile * error)).Value, Basis.Mean(linear + (quantile * error)).Value);
        // A single response of weight w has the residual variance over w.
        var spread = Math.Sqrt((error * error) + (Basis.Dispersion / weight)) * quantile;
        return new Prediction(value, slope * error, interval, Basis.UsesStudent && weight > 0 ? new Interval(value - spread, value + spread) : null);
    }
}
