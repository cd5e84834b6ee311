using System.Collections.Immutable;

namespace Fennick.Statistics.Variables;

/// <summary>The complete rows of a model: response, design, and what belongs to each row.</summary>
internal sealed class ModelData
{
    /// <summary>The type of the records; null if the data came in columns.</summary>
    public Type? RecordType { get; init; }

    /// <summary>The groupings whose effects are absorbed.</summary>
    public ImmutableArray<string> Absorbed { get; init; } = [];

    public required string ResponseName { get; init; }

    public required double[] Response { get; init; }

    /// <summary>How variables become columns; null if the design came as it is.</summary>
    public DesignPlan? Plan { get; init; }

    public required DesignMatrix Design { get; init; }

    public double[]? Weights { get; init; }

    public double[]? Offset { get; init; }

    /// <summary>The places of the rows used among all rows.</summary>
    public required int[] Rows { get; init; }

    public required int RowsLeftOut { get; init; }

    /// <summary>The terms as they were asked for, over all rows.</summary>
    public required IReadOnlyList<TermSpecification> Specification { get; init; }

    /// <summary>Evaluates a grouping of the rows used: by a function of the record, or by the name of a column.</summary>
    public required Func<object, Func<int, object?>> Grouping { get; init; }

    /// <summary>Reads the terms from other records of the same type; null if the data came in columns.</summary>
    public Func<object, (IReadOnlyList<TermSpecification> Terms, int Count)>? ReadOthers { get; init; }

    public static ModelData Create(
        Variable response, IReadOnlyList<TermSpecification> terms, bool intercept, NumericVariable? weights, NumericVariable? offset,
        IReadOnlyList<Variable> alsoComplete, Func<object, Func<int, object?>> grouping,
        Func<object, (IReadOnlyList<TermSpecification> Terms, int Count)>? readOthers = null, Type? recordType = null)
    {
        var y = ToNumbers(response);
        var all = terms.SelectMany(t => t.Factors).Concat(alsoComplete).Concat(new Variable?[] { weights, offset }.OfType<Variable>()).Append(y).Distinct().ToArray();
        var count = y.Count;
        foreach (var variable in all)
        {
            if (variable.Count != count) throw new AnalysisException($"`{variable.Name}` has {variable.Count} rows, but `{y.Name}` has {count}");
            if (variable is NumericVariable numeric && numeric.Values.Count(double.IsInfinity) is > 0 and var infinite)
                throw new AnalysisException($"`{variable.Name}` is infinite in {CountRows(infinite)}; leave them out or transform the variable");
        }
        var rows = Enumerable.Range(0, count).Where(r => all.All(v => !v.IsMissing(r))).ToArray();
        if (rows.Length == 0)
        {
            throw new AnalysisException(count == 0 ? "there are no rows"
                : $"none of the {count} rows is complete: {string.Join(", ", all.Select(v => (v.Name, Missing: Enumerable.Range(0, count).Count(v.IsMissing))).Where(m => m.Missing > 0).Select(m => $"`{m.Name}` is missing in {m.Missing}"))}");
        }
        var plan = DesignPlan.Create(terms, intercept, rows);
        double[] Take(double[] values) => rows.Length == values.Length ? values : [.. rows.Select(r => values[r])];
        return new ModelData
        {
            ResponseName = y.Name,
            Response = Take(y.Values),
            Plan = plan,
            Design = plan.Apply(terms, rows),
            Weights = weights is null ? null : Take(weights.Values),
            Offset = offset is null ? null : Take(offset.Values),
            Rows = rows,
            RowsLeftOut = count - rows.Length,
            Specification = terms,
            Grouping = grouping,
            ReadOthers = readOthers,
            RecordType = recordType,
        };
    }

    /// <summary>A design as it is.</summary>
    /// <exception cref="AnalysisException">The response has another length, or a value is not finite.</exception>
    public static ModelData Of(DesignMatrix design, double[] response, double[]? weights = null)
    {
        if (response.Length != design.RowCount) throw new AnalysisException($"the response has {response.Length} rows, but the design has {design.RowCount}");
        if (response.Length == 0) throw new AnalysisException("there are no rows");
        return new ModelData
        {
            ResponseName = "response",
            Response = response,
            Weights = weights,
            Design = design,
            Rows = Enumerable.Range(0, response.Length).ToArray(),
            RowsLeftOut = 0,
            Specification = [],
            Grouping = group => group is int[] codes ? row => codes[row] : throw new AnalysisException("the fit was made from arrays; give the clusters as an array too: `StandardErrors.ClusteredBy(int[])`"),
        };
    }

    /// <summary>The same rows without the constant, whose place absorbed effects take.</summary>
    public ModelData WithoutIntercept(ImmutableArray<string> absorbed) => new()
    {
        Absorbed = absorbed,
        RecordType = RecordType,
        ResponseName = ResponseName,
        Response = Response,
        Plan = Plan,
        Design = Design.Without(new HashSet<int> { 0 }),
        Weights = Weights,
        Offset = Offset,
        Rows = Rows,
        RowsLeftOut = RowsLeftOut,
        Specification = Specification,
        Grouping = Grouping,
    };

    /// <summary>A response that is a two-level factor counts 0 and 1.</summary>
    private static NumericVariable ToNumbers(Variable response) => response switch
    {
        NumericVariable numeric => numeric,
        FactorVariable { Levels.Length: 2 } factor => new NumericVariable(factor.Name, [.. factor.Codes.Select(c => c < 0 ? double.NaN : c)]),
        _ => throw new AnalysisException($"the response `{response.Name}` is no number"),
    };

    /// <summary>"1 row", "5 rows".</summary>
    internal static string CountRows(int count) => count == 1 ? "1 row" : $"{count} rows";
}
