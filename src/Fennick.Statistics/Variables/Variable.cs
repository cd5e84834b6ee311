using System.Collections.Immutable;
using System.Linq.Expressions;

namespace Fennick.Statistics.Variables;

/// <summary>A variable of a data set.</summary>
/// <param name="Name">Its name.</param>
public abstract record Variable(string Name)
{
    /// <summary>How many rows it has, missing ones included.</summary>
    public abstract int Count { get; }

    /// <summary>How it is computed from its record; null if it came as a column.</summary>
    internal IFormula? Formula { get; init; }

    /// <summary>The member of the record that it is as it stands; null if it is computed, or came as a column.</summary>
    internal Member? Member => Formula is { IsPlain: true } plain ? plain.Members[0] : null;

    /// <summary>Variables of records, named as the terms of a model are: <c>Variable.Read(hives, h => new { h.HoneyKg, h.Strain })</c>.</summary>
    /// <exception cref="AnalysisException">One of them is neither a number nor a factor, or is an interaction.</exception>
    public static IReadOnlyList<Variable> Read<T>(IReadOnlyList<T> records, Expression<Func<T, object?>> variables)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(variables);
        return [.. TermReader.ReadTerms(records, variables).Select(t => t.Factors is [{ } only] ? only with { Name = t.Name } : throw new AnalysisException($"`{t.Name}` is an interaction; name its variables by themselves"))];
    }

    /// <summary>Whether it is computed from a member of the record.</summary>
    internal bool DependsOn(Member member) => Formula?.Members.Contains(member) == true;

    /// <summary>Whether its value in a row is missing, or a transformation is not defined there.</summary>
    public abstract bool IsMissing(int row);
}

/// <summary>A variable of numbers.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Values">One value a row; not-a-number where it is missing or not defined.</param>
public sealed record NumericVariable(string Name, double[] Values) : Variable(Name)
{
    /// <inheritdoc/>
    public override int Count => Values.Length;

    /// <summary>The rows, in order, where nothing is missing but the transformation is not defined: the logarithm of a negative number, a division by zero.</summary>
    public ImmutableArray<int> RowsOutsideDomain { get; init; } = [];

    /// <inheritdoc/>
    public override bool IsMissing(int row) => double.IsNaN(Values[row]);
}

/// <summary>A variable of levels.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Levels">The levels in order; the first is the reference unless another is named.</param>
/// <param name="Codes">The place of each row's level among them; -1 where it is missing.</param>
/// <param name="Reference">The place of the reference level.</param>
public sealed record FactorVariable(string Name, ImmutableArray<string> Levels, int[] Codes, int Reference = 0) : Variable(Name)
{
    /// <inheritdoc/>
    public override int Count => Codes.Length;

    /// <summary>The values of which the levels are the texts; empty if it came as texts.</summary>
    internal ImmutableArray<object> LevelValues { get; init; } = [];

    /// <inheritdoc/>
    public override bool IsMissing(int row) => Codes[row] < 0;

    /// <summary>A factor of the given values.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="values">A level a row; null or empty where it is missing.</param>
    /// <param name="levels">The levels in order; natural order of the values if null, so that "2" stands before "10".</param>
    /// <param name="reference">The reference level; the first if null.</param>
    /// <exception cref="AnalysisException">The reference is none of the levels.</exception>
    public static FactorVariable Of(string name, IReadOnlyList<string?> values, IEnumerable<string>? levels = null, string? reference = null)
    {
        var ordered = (levels ?? values.Where(v => !string.IsNullOrEmpty(v)).Select(v => v!).Distinct().Order(NaturalOrder.Comparer)).ToImmutableArray();
        var places = ordered.Select((level, i) => (level, i)).ToDictionary(p => p.level, p => p.i, StringComparer.Ordinal);
        var codes = values.Select(v => string.IsNullOrEmpty(v) ? -1 : places[v]).ToArray();
        if (reference is null) return new FactorVariable(name, ordered, codes);
        return places.TryGetValue(reference, out var place)
            ? new FactorVariable(name, ordered, codes, place)
            : throw new AnalysisException($"the factor `{name}` has no level `{reference}` to refer to; its levels are {string.Join(", ", ordered.Select(l => $"`{l}`"))}");
    }
}
