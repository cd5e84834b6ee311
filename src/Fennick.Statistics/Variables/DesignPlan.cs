using System.Collections.Immutable;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Variables;

/// <summary>How variables become the columns of a design: levels and references are those of the rows that the plan was made from.</summary>
internal sealed class DesignPlan
{
    private readonly bool intercept;
    private readonly ImmutableArray<ImmutableArray<Part>> terms;

    private DesignPlan(bool intercept, ImmutableArray<ImmutableArray<Part>> terms, ImmutableArray<Term> columns)
    {
        this.intercept = intercept;
        this.terms = terms;
        Columns = columns;
    }

    /// <summary>What the columns are.</summary>
    public ImmutableArray<Term> Columns { get; }

    /// <summary>Plans the columns of terms for the rows that will be used.</summary>
    /// <exception cref="AnalysisException">A factor has one level only.</exception>
    public static DesignPlan Create(IReadOnlyList<TermSpecification> specification, bool intercept, int[] rows)
    {
        var terms = ImmutableArray.CreateBuilder<ImmutableArray<Part>>();
        var columns = ImmutableArray.CreateBuilder<Term>();
        if (intercept) columns.Add(Term.Intercept);
        // Without an intercept the first factor has a column for each of its levels.
        var needsAllLevels = !intercept;
        foreach (var term in specification)
        {
            var isProduct = term.Factors.Count > 1;
            var parts = ImmutableArray.CreateBuilder<Part>();
            foreach (var variable in term.Factors)
            {
                parts.Add(Part.Create(variable, isProduct ? variable.Name : term.Name, rows, needsAllLevels && !isProduct));
                if (variable is FactorVariable && !isProduct) needsAllLevels = false;
            }
            terms.Add(parts.ToImmutable());
            columns.AddRange(Names(term, parts));
        }
        return new DesignPlan(intercept, terms.ToImmutable(), columns.ToImmutable());
    }

    /// <summary>The design of some rows.</summary>
    /// <param name="specification">The terms, in the plan's order.</param>
    /// <param name="rows">The rows.</param>
    /// <param name="change">Changes a variable before it is used, for predictions at other values; null for none.</param>
    /// <exception cref="AnalysisException">A row has a level that the plan does not know.</exception>
    public DesignMatrix Apply(IReadOnlyList<TermSpecification> specification, int[] rows, Func<Variable, Variable>? change = null)
    {
        var columns = new List<double[]>();
        if (intercept) columns.Add(Enumerable.Repeat(1.0, rows.Length).ToArray());
        for (var t = 0; t < terms.Length; t++)
        {
            List<double[]>? product = null;
            for (var p = 0; p < terms[t].Length; p++)
            {
                var variable = specification[t].Factors[p];
                var own = terms[t][p].Expand(change is null ? variable : change(variable), rows);
                product = product is null ? own : [.. product.SelectMany(_ => own, (a, b) => Multiply(a, b))];
            }
            columns.AddRange(product!);
        }
        return new DesignMatrix(columns, Columns);
    }

    private static double[] Multiply(double[] a, double[] b)
    {
        var product = new double[a.Length];
        Vectors.Multiply(product, a, b);
        return product;
    }

    private static IEnumerable<Term> Names(TermSpecification specification, IEnumerable<Part> parts)
    {
        IEnumerable<Term> names = [];
        var first = true;
        foreach (var part in parts)
        {
            var own = part.Names(specification.Name).ToArray();
            names = first ? own : [.. names.SelectMany(_ => own, (a, b) =>
                new Term($"{a.Name} × {b.Name}", specification.Name, Join(a.Level, b.Level), Join(a.Reference, b.Reference)))];
            first = false;
        }
        return names;

        static string? Join(string? a, string? b) => a is null ? b : b is null ? a : $"{a} × {b}";
    }

    /// <summary>One variable of a term: a number, or the levels that get a column.</summary>
    private sealed record Part(string Name, ImmutableArray<string>? Levels, string? Reference)
    {
        public static Part Create(Variable variable, string name, int[] rows, bool allLevels)
        {
            if (variable is not FactorVariable factor) return new Part(name, null, null);
            var present = rows.Select(r => factor.Codes[r]).Distinct().Order().ToArray();
            if (present.Length < 2)
                throw new AnalysisException($"the factor `{name}` has only the level `{factor.Levels[present[0]]}` in the {ModelData.CountRows(rows.Length)} used; leave it out");
            var reference = present.Contains(factor.Reference) ? factor.Reference : present[0];
            return new Part(name, [.. present.Where(l => allLevels || l != reference).Select(l => factor.Levels[l])], allLevels ? null : factor.Levels[reference]);
        }

        public IEnumerable<Term> Names(string term) => Levels is { } levels
            ? levels.Select(level => new Term($"{Name}={level}", term, level, Reference))
            : [new Term(Name, term)];

        public List<double[]> Expand(Variable variable, int[] rows)
        {
            if (variable is NumericVariable numeric) return [[.. rows.Select(r => numeric.Values[r])]];
            var factor = (FactorVariable)variable;
            foreach (var row in rows)
            {
                var level = factor.Levels[factor.Codes[row]];
                if (level != Reference && !Levels!.Value.Contains(level)) throw new AnalysisException($"the level `{level}` of `{Name}` was not in the data of the fit");
            }
            return [.. Levels!.Value.Select(level => rows.Select(r => factor.Levels[factor.Codes[r]] == level ? 1.0 : 0.0).ToArray())];
        }
    }
}
