using System.Collections.Immutable;
using System.Linq.Expressions;
using System.Runtime.CompilerServices;
using Fennick.Statistics.Estimators;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics;

/// <summary>
/// Regressions. Variables are named by C# itself: <c>Regression.LeastSquares(hives, h => h.HoneyKg, h => new { h.ForageHa, h.Strain })</c>. Text, enum and yes/no members are factors whose
/// reference is the first level in order; <c>Factor(h.Strain, reference: "Heath")</c> names another; <c>Both = Cross(h.ForageHa, h.Strain)</c> is an interaction; any arithmetic is a
/// transformation. Rows with a missing value are left out and counted. The same by column names from an <see cref="IColumnSource"/>.
/// </summary>
public static class Regression
{
    internal const string LeastSquaresName = "least squares";
    internal const string TwoStageName = "two-stage least squares";
    internal const string CoxName = "Cox regression";
    internal const string OrderedLogitName = "ordered logit";
    internal const string OrderedProbitName = "ordered probit";
    internal const string MultinomialName = "multinomial logit";
    internal const string MixedName = "linear mixed model";
    internal const string MixedFullName = "linear mixed model by full likelihood";
    internal const string MixedLogisticName = "mixed logistic regression";
    internal const string QuantileName = "quantile regression";
    internal const string HuberName = "robust regression (Huber)";
    internal const string BisquareName = "robust regression (bisquare)";
    internal const string ConditionalLogitName = "conditional logit";
    internal const string AbsorbedPoissonName = "Poisson regression with absorbed effects";
    internal const string ZeroInflatedName = "zero-inflated Poisson regression";
    internal const string HurdleName = "hurdle Poisson regression";

    /// <summary>Ordinary least squares by Householder QR of the standardised design.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The response, a number.</param>
    /// <param name="terms">The terms: an anonymous object, or one member.</param>
    /// <param name="weights">Positive weights, if the rows differ in precision.</param>
    /// <param name="intercept">Whether there is a constant.</param>
    /// <exception cref="AnalysisException">There are no more rows than terms, the response is constant, a factor has one level, a value is infinite, or a weight is not positive.</exception>
    /// <remarks>Golub &amp; Van Loan, Matrix Computations, 4th ed., §5.3.</remarks>
    public static LinearFit LeastSquares<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, double?>>? weights = null, bool intercept = true) =>
        LinearEstimator.Fit(Read(records, response, terms, weights: weights, intercept: intercept));

    /// <summary>Ordinary least squares of named columns.</summary>
    /// <exception cref="AnalysisException">As for records, or a column is unknown.</exception>
    public static LinearFit LeastSquares(IColumnSource columns, string response, params string[] terms) => LinearEstimator.Fit(Read(columns, response, terms));

    /// <summary>Ordinary least squares of plain arrays.</summary>
    /// <param name="design">n × k; a dependent column is dropped and reported.</param>
    /// <param name="response">n values.</param>
    /// <param name="weights">n positive weights, if the rows differ in precision.</param>
    /// <exception cref="AnalysisException">n ≤ k, a value is not finite, or a weight is not positive.</exception>
    public static LinearFit LeastSquares(DesignMatrix design, double[] response, double[]? weights = null)
    {
        ArgumentNullException.ThrowIfNull(design);
        ArgumentNullException.ThrowIfNull(response);
        return LinearEstimator.Fit(ModelData.Of(design, response, weights));
    }

    /// <summary>Logistic regression of a 0/1 or yes/no response.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">0 or 1; write <c>h => h.Survived ? 1 : 0</c> for yes/no.</param>
    /// <param name="terms">The terms.</param>
    /// <exception cref="AnalysisException">The response is anything but 0 and 1, or the data do not allow a fit.</exception>
    public static GeneralizedFit Logistic<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms) =>
        IteratedEstimator.Fit(Read(records, response, terms), new Logistic());

    /// <summary>Logistic regression of named columns.</summary>
    public static GeneralizedFit Logistic(IColumnSource columns, string response, params string[] terms) => IteratedEstimator.Fit(Read(columns, response, terms), new Logistic());

    /// <summary>Probit regression of a 0/1 response; errors are from the observed information.</summary>
    /// <exception cref="AnalysisException">The response is anything but 0 and 1, or the data do not allow a fit.</exception>
    public static GeneralizedFit Probit<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms) =>
        IteratedEstimator.Fit(Read(records, response, terms), new Probit());

    /// <summary>Probit regression of named columns.</summary>
    public static GeneralizedFit Probit(IColumnSource columns, string response, params string[] terms) => IteratedEstimator.Fit(Read(columns, response, terms), new Probit());

    /// <summary>Poisson regression of a count, with the logarithm as link.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">A count.</param>
    /// <param name="terms">The terms.</param>
    /// <param name="offset">A part of the linear predictor with coefficient 1, such as the logarithm of an exposure.</param>
    /// <exception cref="AnalysisException">A count is negative, or the data do not allow a fit.</exception>
    public static GeneralizedFit Poisson<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, double?>>? offset = null) =>
        IteratedEstimator.Fit(Read(records, response, terms, offset: offset), new Poisson());

    /// <summary>Poisson regression of named columns.</summary>
    public static GeneralizedFit Poisson(IColumnSource columns, string response, params string[] terms) => IteratedEstimator.Fit(Read(columns, response, terms), new Poisson());

    /// <summary>Poisson regression of plain arrays.</summary>
    /// <param name="design">n × k.</param>
    /// <param name="response">n counts.</param>
    /// <exception cref="AnalysisException">A count is negative, n ≤ k, or a value is not finite.</exception>
    public static GeneralizedFit Poisson(DesignMatrix design, double[] response)
    {
        ArgumentNullException.ThrowIfNull(design);
        ArgumentNullException.ThrowIfNull(response);
        return IteratedEstimator.Fit(ModelData.Of(design, response), new Poisson());
    }

    /// <summary>Negative binomial regression of a count with variance μ + μ²/θ; θ is estimated too, and the errors hold it fixed.</summary>
    /// <exception cref="AnalysisException">A count is negative, or the data do not allow a fit.</exception>
    public static GeneralizedFit NegativeBinomial<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, double?>>? offset = null) =>
        IteratedEstimator.FitNegativeBinomial(Read(records, response, terms, offset: offset));

    /// <summary>Negative binomial regression of named columns.</summary>
    public static GeneralizedFit NegativeBinomial(IColumnSource columns, string response, params string[] terms) => IteratedEstimator.FitNegativeBinomial(Read(columns, response, terms));

    /// <summary>Least squares with the effects of one or two groupings absorbed, without making their columns.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The response.</param>
    /// <param name="terms">The terms; those that do not vary within the groups are dropped and named.</param>
    /// <param name="absorb">The first grouping.</param>
    /// <param name="alsoAbsorb">The second grouping, if there is one.</param>
    /// <exception cref="AnalysisException">As for <see cref="LeastSquares{T}"/>.</exception>
    public static LinearFit FixedEffects<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>> absorb, Expression<Func<T, object?>>? alsoAbsorb = null)
    {
        return LinearEstimator.FitAbsorbing(Read(records, response, terms, intercept: false, absorb: [.. new[] { absorb, alsoAbsorb }.OfType<Expression<Func<T, object?>>>()]));
    }

    /// <summary>Two-stage least squares.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The response.</param>
    /// <param name="exogenous">The terms that are their own instruments.</param>
    /// <param name="endogenous">The terms that the instruments stand in for.</param>
    /// <param name="instruments">At least one for each endogenous term.</param>
    /// <exception cref="AnalysisException">The instruments do not identify an endogenous term.</exception>
    /// <remarks>Wooldridge, Econometric Analysis of Cross Section and Panel Data, 2nd ed., ch. 5; the residual variance is over n − k.</remarks>
    public static LinearFit TwoStageLeastSquares<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> exogenous, Expression<Func<T, object?>> endogenous, Expression<Func<T, object?>> instruments)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(exogenous);
        ArgumentNullException.ThrowIfNull(endogenous);
        ArgumentNullException.ThrowIfNull(instruments);
        var ends = TermReader.ReadTerms(records, endogenous);
        var outside = TermReader.ReadTerms(records, exogenous);
        var instead = TermReader.ReadTerms(records, instruments);
        var parts = new ModelParts(TermReader.Read(records, response), [.. outside, .. ends]) { Others = [.. instead.SelectMany(t => t.Factors)] };
        var data = ModelData.Create(parts, ByRecord(records), Others<T>(list => new OtherRows([.. TermReader.ReadTerms(list, exogenous), .. TermReader.ReadTerms(list, endogenous)], null, null, [], list.Count)), typeof(T)).WithoutGroups();
        var names = ends.Select(e => e.Name).ToHashSet();
        var places = Enumerable.Range(0, data.Design.ColumnCount).Where(c => names.Contains(data.Design.Terms[c].Variable)).ToHashSet();
        TermSpecification[] firstStage = [.. outside, .. instead];
        return LinearEstimator.FitTwoStage(data, places, DesignPlan.Create(firstStage, intercept: true, data.Rows).WithoutGroups().Apply(firstStage, data.Rows), instead.Select(i => i.Name).ToHashSet());
    }

    /// <summary>Nonlinear least squares of a curve whose derivatives are found by the rules of calculus.</summary>
    /// <param name="records">n records; rows without a response are left out.</param>
    /// <param name="response">The response.</param>
    /// <param name="curve">The expected response for parameters and a record: <c>(p, h) => p[0] * (1 - Math.Exp(-p[1] * h.ForageHa))</c>.</param>
    /// <param name="start">Names and starting values of the parameters, in the order of the curve's array.</param>
    /// <exception cref="AnalysisException">The curve has no finite value at the start, or the data do not determine a parameter.</exception>
    /// <remarks>Levenberg–Marquardt: Moré (1978), Lecture Notes in Mathematics 630. A curve that calls other functions is differentiated by steps relative to the parameters.</remarks>
    [OverloadResolutionPriority(1)]
    public static NonlinearFit Nonlinear<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<double[], T, double>> curve, params (string Name, double Value)[] start)
        where T : notnull
    {
        ArgumentNullException.ThrowIfNull(curve);
        return Nonlinear(records, response, curve.Compile(), Curve.Gradient(curve, start?.Length ?? 0), DoubleLength.Compile(curve), start!);
    }

    /// <summary>Nonlinear least squares of any C# function of the parameters, differentiated by steps relative to the parameters.</summary>
    /// <param name="records">n records; rows without a response are left out.</param>
    /// <param name="response">The response.</param>
    /// <param name="curve">A method or a function that gives the expected response for parameters and a record.</param>
    /// <param name="start">Names and starting values of the parameters, in the order of the curve's array.</param>
    /// <exception cref="AnalysisException">The curve has no finite value at the start, or the data do not determine a parameter.</exception>
    public static NonlinearFit Nonlinear<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Func<double[], T, double> curve, params (string Name, double Value)[] start)
        where T : notnull
    {
        ArgumentNullException.ThrowIfNull(curve);
        return Nonlinear(records, response, curve, null, null, start);
    }

    private static NonlinearFit Nonlinear<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Func<double[], T, double> curve, Func<double[], T, double>[]? gradient, Func<DoubleDouble[], T, DoubleDouble>? full,
        (string Name, double Value)[] start)
        where T : notnull
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(start);
        if (start.Length == 0) throw new AnalysisException("the curve has no parameters; give their names and starting values");
        var data = ModelData.Create(new ModelParts(TermReader.Read(records, response), []), ByRecord(records), recordType: typeof(T));
        Func<DoubleDouble[], double[]>? residuals = full is null ? null : p => [.. data.Rows.Select((row, i) => (DoubleDouble.OfDecimal(data.Response[i]) - full(p, records[row])).Value)];
        return NonlinearEstimator.Fit(data, new Curve(data.Rows.Length, (p, row) => curve(p, records[data.Rows[row]]), gradient?.Select(g => (Func<double[], int, double>)((p, row) => g(p, records[data.Rows[row]]))).ToArray(), residuals),
            (p, record) => curve(p, (T)record), [.. start.Select(s => new Term(s.Name, s.Name))], [.. start.Select(s => s.Value)]);
    }

    /// <summary>Cox's proportional-hazards regression; the coefficients are logarithms of hazard ratios.</summary>
    /// <param name="records">n records.</param>
    /// <param name="time">The time until the event, or until observation ended.</param>
    /// <param name="occurred">1 if the event occurred then, 0 if observation ended; write <c>h => h.Died ? 1 : 0</c> for yes/no.</param>
    /// <param name="terms">The terms.</param>
    /// <param name="strata">Groups with a baseline hazard each; null for one.</param>
    /// <param name="efron">Whether tied times are treated by Efron's method; else by Breslow's.</param>
    /// <exception cref="AnalysisException">A time is negative, an event is neither 0 nor 1, no event occurred, or the data do not allow a fit.</exception>
    public static CoxFit Cox<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> time, Expression<Func<T, double?>> occurred, Expression<Func<T, object?>> terms, Expression<Func<T, object?>>? strata = null, bool efron = true)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(time);
        ArgumentNullException.ThrowIfNull(occurred);
        ArgumentNullException.ThrowIfNull(terms);
        var happened = (NumericVariable)TermReader.Read(records, occurred);
        var groups = strata is null ? null : TermReader.ReadGrouping(records, strata);
        var data = Create(records, TermReader.Read(records, time), terms, [happened, .. new[] { groups }.OfType<FactorVariable>()]);
        return CoxEstimator.Fit(data, [.. data.Rows.Select(r => happened.Values[r])], happened.Name, groups is null ? null : [.. data.Rows.Select(r => groups.Codes[r])], groups?.Name, efron);
    }

    /// <summary>Ordered logit of categories in their order; positive coefficients make higher categories likelier.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The categories: numbers in their order, or a factor whose levels are in order, such as an enum.</param>
    /// <param name="terms">The terms.</param>
    /// <exception cref="AnalysisException">There are fewer than three categories, or the data do not allow a fit.</exception>
    public static OrderedFit OrderedLogit<T>(IReadOnlyList<T> records, Expression<Func<T, object?>> response, Expression<Func<T, object?>> terms) => Ordered(records, response, terms, isProbit: false);

    /// <summary>Ordered probit of categories in their order.</summary>
    /// <exception cref="AnalysisException">There are fewer than three categories, or the data do not allow a fit.</exception>
    public static OrderedFit OrderedProbit<T>(IReadOnlyList<T> records, Expression<Func<T, object?>> response, Expression<Func<T, object?>> terms) => Ordered(records, response, terms, isProbit: true);

    /// <summary>Multinomial logit of categories without an order: each against a reference.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The categories.</param>
    /// <param name="terms">The terms.</param>
    /// <param name="reference">The category that the others are compared with; the first in order if null.</param>
    /// <exception cref="AnalysisException">There are fewer than three categories, the reference is none of them, or the data do not allow a fit.</exception>
    public static MultinomialFit MultinomialLogit<T>(IReadOnlyList<T> records, Expression<Func<T, object?>> response, Expression<Func<T, object?>> terms, string? reference = null)
    {
        var (data, levels) = OfCategories(records, response, terms);
        return MultinomialEstimator.Fit(data, levels, reference);
    }

    /// <summary>A linear model with random intercepts of a grouping, and random slopes if wished.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The response.</param>
    /// <param name="terms">The fixed terms.</param>
    /// <param name="group">The grouping.</param>
    /// <param name="slopes">Variables of numbers whose slopes differ by group, correlated with the intercepts.</param>
    /// <param name="restricted">Whether the likelihood is restricted (REML); full likelihoods compare models with other fixed terms.</param>
    /// <exception cref="AnalysisException">There is one group, each group has one row, or the data do not allow a fit.</exception>
    public static MixedFit Mixed<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>> group, Expression<Func<T, object?>>? slopes = null, bool restricted = true)
    {
        ArgumentNullException.ThrowIfNull(group);
        NumericVariable[] random = slopes is null ? [] : [.. TermReader.ReadTerms(records, slopes).Select(t => t.Factors is [NumericVariable one] ? one with { Name = t.Name } : throw new AnalysisException($"the random slope `{t.Name}` is not of a variable of numbers"))];
        var data = Create(records, TermReader.Read(records, response), terms, [.. random], TermReader.ReadGrouping(records, group));
        return MixedEstimator.Fit(data, random, restricted);
    }

    /// <summary>Logistic regression with random intercepts of a grouping.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">0 or 1.</param>
    /// <param name="terms">The fixed terms.</param>
    /// <param name="group">The grouping.</param>
    /// <param name="nodes">How many nodes the adaptive quadrature has for each group.</param>
    /// <exception cref="AnalysisException">The response is anything but 0 and 1, there is one group, or the data do not allow a fit.</exception>
    public static MixedFit MixedLogistic<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>> group, int nodes = 15)
    {
        ArgumentNullException.ThrowIfNull(group);
        return MixedLogisticEstimator.Fit(Create(records, TermReader.Read(records, response), terms, [], TermReader.ReadGrouping(records, group)), nodes);
    }

    /// <summary>Quantile regression.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The response.</param>
    /// <param name="terms">The terms.</param>
    /// <param name="quantile">The quantile, between 0 and 1; 0.5 is the median.</param>
    /// <exception cref="AnalysisException">The quantile is not between 0 and 1, or the data do not allow a fit.</exception>
    public static QuantileFit Quantile<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, double quantile = 0.5) =>
        QuantileEstimator.Fit(Create(records, TermReader.Read(records, response), terms, []), quantile);

    /// <summary>Regression that outlying rows do not decide, after Huber: rows count the less the farther they are.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The response.</param>
    /// <param name="terms">The terms.</param>
    /// <param name="tuning">From how many scales on rows lose weight; 1.345 keeps 95 % of the precision with normal errors.</param>
    /// <exception cref="AnalysisException">More than half of the rows lie on one plane, or the data do not allow a fit.</exception>
    public static RobustFit Huber<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, double tuning = 1.345) =>
        RobustEstimator.Fit(Create(records, TermReader.Read(records, response), terms, []), isBisquare: false, tuning);

    /// <summary>Regression in which rows far away count for nothing, by Tukey's bisquare.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The response.</param>
    /// <param name="terms">The terms.</param>
    /// <param name="tuning">From how many scales on rows have no weight; 4.685 keeps 95 % of the precision with normal errors.</param>
    /// <exception cref="AnalysisException">More than half of the rows lie on one plane, or the data do not allow a fit.</exception>
    public static RobustFit Bisquare<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, double tuning = 4.685) =>
        RobustEstimator.Fit(Create(records, TermReader.Read(records, response), terms, []), isBisquare: true, tuning);

    /// <summary>Logit with an intercept for each group, by the likelihood within the groups; groups whose response does not vary tell nothing and are counted.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">0 or 1.</param>
    /// <param name="terms">The terms; those that do not vary within the groups are dropped and named.</param>
    /// <param name="group">The grouping.</param>
    /// <exception cref="AnalysisException">The response is anything but 0 and 1, or varies within no group.</exception>
    public static ConditionalFit ConditionalLogit<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>> group) =>
        ConditionalEstimator.Fit(Create(records, TermReader.Read(records, response), terms, [], TermReader.ReadGrouping(records, group)), isLogit: true);

    /// <summary>Poisson regression with the effects of a grouping absorbed; groups that count nothing tell nothing and are counted.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">A count.</param>
    /// <param name="terms">The terms; those that do not vary within the groups are dropped and named.</param>
    /// <param name="group">The grouping.</param>
    /// <exception cref="AnalysisException">A count is negative, or no group counts anything.</exception>
    public static ConditionalFit FixedEffectsPoisson<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>> group) =>
        ConditionalEstimator.Fit(Create(records, TermReader.Read(records, response), terms, [], TermReader.ReadGrouping(records, group)), isLogit: false);

    /// <summary>Poisson regression of counts of which some are always zero, whatever their terms.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">A count.</param>
    /// <param name="terms">The terms of the counts.</param>
    /// <param name="zeros">The terms of being always zero; a constant alone if null.</param>
    /// <exception cref="AnalysisException">The response is no count, or never zero.</exception>
    public static ZeroFit ZeroInflatedPoisson<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>>? zeros = null) => Zeros(records, response, terms, zeros, isHurdle: false);

    /// <summary>A hurdle model of counts: whether there are any, and a Poisson distribution above zero of how many.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">A count.</param>
    /// <param name="terms">The terms of the counts above zero.</param>
    /// <param name="any">The terms of there being any; a constant alone if null.</param>
    /// <exception cref="AnalysisException">The response is no count, or never zero.</exception>
    public static ZeroFit HurdlePoisson<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>>? any = null) => Zeros(records, response, terms, any, isHurdle: true);

    private static ZeroFit Zeros<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>>? zeros, bool isHurdle)
    {
        ArgumentNullException.ThrowIfNull(records);
        IReadOnlyList<TermSpecification> other = zeros is null ? [] : TermReader.ReadTerms(records, zeros);
        var data = Create(records, TermReader.Read(records, response), terms, [.. other.SelectMany(t => t.Factors)]);
        return ZeroEstimator.Fit(data, data with { Design = DesignPlan.Create(other, intercept: true, data.Rows).WithoutGroups().Apply(other, data.Rows) }, isHurdle);
    }

    private static OrderedFit Ordered<T>(IReadOnlyList<T> records, Expression<Func<T, object?>> response, Expression<Func<T, object?>> terms, bool isProbit)
    {
        var (data, levels) = OfCategories(records, response, terms);
        return OrderedEstimator.Fit(data, levels, isProbit);
    }

    private static (ModelData Data, ImmutableArray<string> Levels) OfCategories<T>(IReadOnlyList<T> records, Expression<Func<T, object?>> response, Expression<Func<T, object?>> terms)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(response);
        ArgumentNullException.ThrowIfNull(terms);
        var (codes, levels) = Categories.Read(TermReader.Read(records, response));
        return (Create(records, codes, terms, []), levels);
    }

    /// <summary>The data of a model whose columns have all values of their own.</summary>
    internal static ModelData Create<T>(IReadOnlyList<T> records, Variable response, Expression<Func<T, object?>> terms, IReadOnlyList<Variable> others, FactorVariable? group = null)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(terms);
        var parts = new ModelParts(response, TermReader.ReadTerms(records, terms)) { Others = group is null ? others : [.. others, group] };
        return ModelData.Create(parts, ByRecord(records), recordType: typeof(T)).WithoutGroups() with { Absorbed = group is null ? [] : [group] };
    }

    private static ModelData Read<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, double?>>? weights = null,
        Expression<Func<T, double?>>? offset = null, bool intercept = true, params Expression<Func<T, object?>>[] absorb)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(response);
        ArgumentNullException.ThrowIfNull(terms);
        NumericVariable? Number(IReadOnlyList<T> list, Expression<Func<T, double?>>? member) => member is null ? null : (NumericVariable)TermReader.Read(list, member);
        var parts = new ModelParts(TermReader.Read(records, response), TermReader.ReadTerms(records, terms))
        {
            Intercept = intercept,
            Weights = Number(records, weights),
            Offset = Number(records, offset),
            Absorbed = [.. absorb.Select(a => TermReader.ReadGrouping(records, a))],
        };
        return ModelData.Create(parts, ByRecord(records), Others<T>(list => new OtherRows(TermReader.ReadTerms(list, terms), Number(list, offset), Number(list, weights), [.. absorb.Select(a => TermReader.ReadGrouping(list, a))], list.Count)), typeof(T), typeof(T).IsValueType ? null : row => records[row]);
    }

    private static Func<object, OtherRows> Others<T>(Func<IReadOnlyList<T>, OtherRows> read) => others => others is IReadOnlyList<T> list ? read(list)
        : throw new AnalysisException($"the fit was made from `{typeof(T).Name}`; predictions need the same type");

    private static ModelData Read(IColumnSource columns, string response, string[] terms)
    {
        ArgumentNullException.ThrowIfNull(columns);
        ArgumentNullException.ThrowIfNull(terms);
        static IReadOnlyList<TermSpecification> Of(IColumnSource source, string[] names) => [.. names.Select(t => new TermSpecification(t, [source.Column(t)]))];
        OtherRows Others(object others)
        {
            if (others is not IColumnSource source) throw new AnalysisException("the fit was made from columns; predictions need columns too");
            var own = Of(source, terms);
            return new OtherRows(own, null, null, [], own.Count == 0 ? 0 : own[0].Factors[0].Count);
        }
        return ModelData.Create(new ModelParts(columns.Column(response), Of(columns, terms)), group => ByColumn(columns, group), Others);
    }

    private static Func<object, Func<int, object?>> ByRecord<T>(IReadOnlyList<T> records) => group => group is Func<object, object?> function
        ? row => function(records[row]!)
        : throw new AnalysisException($"the fit was made from records; name the clusters by a function: `StandardErrors.ClusteredBy(({typeof(T).Name} r) => r.…)`");

    private static Func<int, object?> ByColumn(IColumnSource columns, object group)
    {
        if (group is not string name) throw new AnalysisException("the fit was made from columns; name the clusters by a column");
        var variable = columns.Column(name);
        return row => variable.IsMissing(row) ? null : variable is FactorVariable factor ? factor.Codes[row] : ((NumericVariable)variable).Values[row];
    }
}
