using System.Collections.Immutable;
using System.Globalization;
using Fennick.Statistics.Fits;

namespace Fennick.Statistics.Variables;

/// <summary>What other rows hold of a model's variables, for predictions.</summary>
/// <param name="Terms">The terms.</param>
/// <param name="Offset">The offset, if the model has one.</param>
/// <param name="Weights">The weights, if the model has them.</param>
/// <param name="Absorbed">The groupings whose effects are absorbed.</param>
/// <param name="Count">How many rows there are.</param>
internal sealed record OtherRows(IReadOnlyList<TermSpecification> Terms, NumericVariable? Offset, NumericVariable? Weights, IReadOnlyList<FactorVariable> Absorbed, int Count)
{
    /// <summary>The rows where nothing is missing that a prediction needs.</summary>
    public int[] Complete => [.. Enumerable.Range(0, Count).Where(r => Terms.All(t => t.Factors.All(v => !v.IsMissing(r))) && Offset?.IsMissing(r) != true && Absorbed.All(a => !a.IsMissing(r)))];
}

/// <summary>What a model is made of, before the rows that it can use are known.</summary>
internal sealed record ModelParts(Variable Response, IReadOnlyList<TermSpecification> Terms)
{
    public bool Intercept { get; init; } = true;

    public NumericVariable? Weights { get; init; }

    public NumericVariable? Offset { get; init; }

    /// <summary>The groupings whose effects are absorbed.</summary>
    public IReadOnlyList<FactorVariable> Absorbed { get; init; } = [];

    /// <summary>Variables that must be there too, such as instruments.</summary>
    public IReadOnlyList<Variable> Others { get; init; } = [];
}

/// <summary>The complete rows of a model: response, design, and what belongs to each row.</summary>
internal sealed record ModelData
{
    /// <summary>The type of the records; null if the data came in columns.</summary>
    public Type? RecordType { get; init; }

    /// <summary>The groupings whose effects are absorbed.</summary>
    public ImmutableArray<FactorVariable> Absorbed { get; init; } = [];

    public required string ResponseName { get; init; }

    public required double[] Response { get; init; }

    /// <summary>How variables become columns; null if the design came as it is.</summary>
    public DesignPlan? Plan { get; init; }

    public required DesignMatrix Design { get; init; }

    public double[]? Weights { get; init; }

    /// <summary>What the weights are called.</summary>
    public string? WeightsName { get; init; }

    public double[]? Offset { get; init; }

    /// <summary>What the offset is called.</summary>
    public string? OffsetName { get; init; }

    /// <summary>The places of the rows used among all rows.</summary>
    public required int[] Rows { get; init; }

    /// <summary>How many rows there were.</summary>
    public required int RowsGiven { get; init; }

    /// <summary>The rows left out because a value was missing.</summary>
    public int RowsLeftOut => RowsGiven - Rows.Length - RowsOutsideDomain;

    /// <summary>The rows left out because a transformation is not defined there.</summary>
    public int RowsOutsideDomain { get; init; }

    /// <summary>What was left out for another reason than a missing value.</summary>
    public ImmutableArray<AnalysisWarning> Warnings { get; init; } = [];

    /// <summary>The terms as they were asked for, over all rows.</summary>
    public required IReadOnlyList<TermSpecification> Specification { get; init; }

    /// <summary>Evaluates a grouping of the rows used: by a function of the record, or by the name of a column.</summary>
    public required Func<object, Func<int, object?>> Grouping { get; init; }

    /// <summary>The record of a row, by which rows of different lists are known; null if the data came in columns or the records are values.</summary>
    public Func<int, object?>? RecordOf { get; init; }

    /// <summary>Reads the variables from other records or columns; null if the design came as it is.</summary>
    public Func<object, OtherRows>? ReadOthers { get; init; }

    public static ModelData Create(ModelParts parts, Func<object, Func<int, object?>> grouping, Func<object, OtherRows>? readOthers = null, Type? recordType = null, Func<int, object?>? recordOf = null)
    {
        var y = ToNumbers(parts.Response);
        Variable[] all = [.. parts.Terms.SelectMany(t => t.Factors).Concat(parts.Absorbed).Concat(parts.Others).Concat(new Variable?[] { parts.Weights, parts.Offset }.OfType<Variable>()).Append(y).Distinct()];
        var count = y.Count;
        foreach (var variable in all)
        {
            if (variable.Count != count) throw new AnalysisException($"`{variable.Name}` has {variable.Count} rows, but `{y.Name}` has {count}");
            if (variable is NumericVariable numeric && numeric.Values.Count(double.IsInfinity) is > 0 and var infinite)
                throw new AnalysisException($"`{variable.Name}` is infinite in {CountRows(infinite)}; leave them out or transform the variable");
        }
        int[] rows = [.. Enumerable.Range(0, count).Where(r => all.All(v => !v.IsMissing(r)))];
        var undefined = all.OfType<NumericVariable>().Where(v => v.RowsOutsideDomain.Length > 0).ToArray();
        var isUndefined = new bool[count];
        foreach (var row in undefined.SelectMany(v => v.RowsOutsideDomain)) isUndefined[row] = true;
        // A row where something is missing too counts as missing.
        bool IsOutside(int row) => isUndefined[row] && all.All(v => !v.IsMissing(row) || (v is NumericVariable n && n.RowsOutsideDomain.BinarySearch(row) >= 0));
        if (rows.Length == 0)
        {
            var missing = all.Select(v => (v.Name, Missing: Enumerable.Range(0, count).Count(v.IsMissing) - ((v as NumericVariable)?.RowsOutsideDomain.Length ?? 0))).Where(m => m.Missing > 0).Select(m => $"`{m.Name}` is missing in {m.Missing}");
            throw new AnalysisException(count == 0 ? "there are no rows" : $"none of the {CountRows(count)} is complete: {string.Join(", ", missing.Concat(undefined.Select(v => $"`{v.Name}` is not defined in {v.RowsOutsideDomain.Length}")))}");
        }
        var plan = DesignPlan.Create(parts.Terms, parts.Intercept, rows, referencesOnly: parts.Absorbed.Count > 0);
        double[] Take(double[] values) => rows.Length == values.Length ? values : [.. rows.Select(r => values[r])];
        return new ModelData
        {
            RecordType = recordType,
            Absorbed = [.. parts.Absorbed],
            ResponseName = y.Name,
            Response = Take(y.Values),
            Plan = plan,
            Design = plan.Apply(parts.Terms, rows),
            Weights = parts.Weights is null ? null : Take(parts.Weights.Values),
            WeightsName = parts.Weights?.Name,
            Offset = parts.Offset is null ? null : Take(parts.Offset.Values),
            OffsetName = parts.Offset?.Name,
            Rows = rows,
            RowsGiven = count,
            RowsOutsideDomain = Enumerable.Range(0, count).Count(IsOutside),
            Warnings = [.. undefined.Select(v => new AnalysisWarning($"`{v.Name}` is not defined in {CountRows(v.RowsOutsideDomain.Length)} (first in row {v.RowsOutsideDomain[0] + 1}), where the values it is computed from are outside its domain; {(v.RowsOutsideDomain.Length == 1 ? "it is" : "they are")} left out"))],
            Specification = parts.Terms,
            Grouping = grouping,
            ReadOthers = readOthers,
            RecordOf = recordOf,
        };
    }

    /// <summary>A design as it is.</summary>
    /// <exception cref="AnalysisException">The response has another length, or there are no rows.</exception>
    public static ModelData Of(DesignMatrix design, double[] response, double[]? weights = null)
    {
        if (design.ColumnCount > 0 && response.Length != design.RowCount) throw new AnalysisException($"the response has {response.Length} rows, but the design has {design.RowCount}");
        if (weights is not null && weights.Length != response.Length) throw new AnalysisException($"the response has {response.Length} rows, but there are {weights.Length} weights");
        if (response.Length == 0) throw new AnalysisException("there are no rows");
        return new ModelData
        {
            ResponseName = "response",
            Response = response,
            Weights = weights,
            WeightsName = weights is null ? null : "weights",
            Design = design,
            Rows = Enumerable.Range(0, response.Length).ToArray(),
            RowsGiven = response.Length,
            Specification = [],
            Grouping = group => group is int[] codes
                ? codes.Length == response.Length ? row => codes[row] : throw new AnalysisException($"there are {codes.Length} cluster codes for {CountRows(response.Length)}")
                : throw new AnalysisException("the fit was made from arrays; give the clusters as an array too: `StandardErrors.ClusteredBy(int[])`"),
        };
    }

    /// <summary>The same with a column for each level of a factor, instead of groups.</summary>
    public ModelData WithoutGroups()
    {
        if (!Plan!.HasGroups) return this;
        var plan = Plan.WithoutGroups();
        return this with { Plan = plan, Design = plan.Apply(Specification, Rows) };
    }

    /// <summary>The clusters of the rows used.</summary>
    /// <param name="groups">What they are clustered by: functions of a record, names of columns, or codes.</param>
    /// <exception cref="AnalysisException">A cluster is missing.</exception>
    public Clusters ClustersOf(IReadOnlyList<object> groups)
    {
        if (groups is [int[] given] && given.Length == Rows.Length && CountWithoutGaps(given) is { } known) return new Clusters(given, known);
        var keys = groups.Select(Grouping).ToArray();
        var places = new Dictionary<object, int>();
        var codes = new int[Rows.Length];
        for (var i = 0; i < codes.Length; i++)
        {
            var parts = keys.Select(k => k(Rows[i]) ?? throw new AnalysisException($"the cluster of row {Rows[i] + 1} is missing")).ToArray();
            object key = parts.Length == 1 ? parts[0] : (parts[0], parts[1]);
            if (!places.TryGetValue(key, out codes[i])) places[key] = codes[i] = places.Count;
        }
        return new Clusters(codes, places.Count);
    }

    /// <summary>How many codes there are, if they are 0, 1, 2, … without a gap.</summary>
    private static int? CountWithoutGaps(int[] codes)
    {
        var seen = new bool[codes.Length];
        foreach (var code in codes)
        {
            if ((uint)code >= (uint)codes.Length) return null;
            seen[code] = true;
        }
        var count = Array.IndexOf(seen, false) is >= 0 and var first ? first : seen.Length;
        return seen.AsSpan(count).Contains(true) ? null : count;
    }

    /// <summary>A response that is a two-level factor counts 0 and 1.</summary>
    private static NumericVariable ToNumbers(Variable response) => response switch
    {
        NumericVariable numeric => numeric,
        FactorVariable { Levels.Length: 2 } factor => new NumericVariable(factor.Name, [.. factor.Codes.Select(c => c < 0 ? double.NaN : c)]),
        _ => throw new AnalysisException($"the response `{response.Name}` is not a number"),
    };

    /// <summary>"1 row", "5 rows", "1,200 rows".</summary>
    internal static string CountRows(int count) => count == 1 ? "1 row" : $"{count.ToString("N0", CultureInfo.InvariantCulture)} rows";
}
