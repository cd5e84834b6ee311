using System.Collections.Immutable;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Variables;

/// <summary>How variables become the columns of a design: levels and references are those of the rows that the plan was made from.</summary>
internal sealed class DesignPlan
{
    // A factor of more levels becomes groups instead of columns.
    private const int MostColumns = 12;

    private readonly bool intercept;
    private readonly ImmutableArray<ImmutableArray<Part>> terms;
    private readonly int grouped;

    private DesignPlan(bool intercept, ImmutableArray<ImmutableArray<Part>> terms, ImmutableArray<Term> columns, int grouped)
    {
        this.intercept = intercept;
        this.terms = terms;
        this.grouped = grouped;
        Columns = columns;
    }

    /// <summary>What the columns are.</summary>
    public ImmutableArray<Term> Columns { get; }

    /// <summary>Whether the levels of a factor are groups instead of columns.</summary>
    public bool HasGroups => grouped >= 0;

    /// <summary>Plans the columns of terms for the rows that will be used.</summary>
    /// <param name="specification">The terms.</param>
    /// <param name="intercept">Whether there is a constant.</param>
    /// <param name="rows">The rows that will be used.</param>
    /// <param name="referencesOnly">Whether factors have a reference though there is no constant, since absorbed effects stand in for it.</param>
    /// <exception cref="AnalysisException">A factor has one level only.</exception>
    public static DesignPlan Create(IReadOnlyList<TermSpecification> specification, bool intercept, int[] rows, bool referencesOnly = false)
    {
        var terms = ImmutableArray.CreateBuilder<ImmutableArray<Part>>();
        var columns = ImmutableArray.CreateBuilder<Term>();
        if (intercept) columns.Add(Term.Intercept);
        // Without an intercept the first factor has a column for each of its levels.
        var needsAllLevels = !intercept && !referencesOnly;
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
        return new DesignPlan(intercept, terms.ToImmutable(), columns.ToImmutable(), referencesOnly ? -1 : Largest(terms, intercept));
    }

    /// <summary>The same plan with a column for each level.</summary>
    public DesignPlan WithoutGroups() => new(intercept, terms, Columns, -1);

    /// <summary>The design of some rows.</summary>
    /// <param name="specification">The terms, in the plan's order.</param>
    /// <param name="rows">The rows.</param>
    /// <param name="change">Changes a variable before it is used, for predictions at other values; null for none.</param>
    /// <param name="unchanged">The design of these rows without the change, whose columns are taken where a term does not change.</param>
    /// <exception cref="AnalysisException">A row has a level that the plan does not know.</exception>
    public DesignMatrix Apply(IReadOnlyList<TermSpecification> specification, int[] rows, Func<Variable, Variable>? change = null, DesignMatrix? unchanged = null)
    {
        var columns = new List<double[]?>();
        if (intercept) columns.Add(null);
        (int[] Codes, int[] ColumnOfGroup)? groups = null;
        for (var t = 0; t < terms.Length; t++)
        {
            var own = specification[t].Factors;
            Variable[] variables = change is null ? [.. own] : [.. own.Select(change)];
            if (unchanged is not null && t != grouped && variables.Zip(own, ReferenceEquals).All(same => same))
            {
                columns.AddRange(Enumerable.Range(columns.Count, terms[t].Aggregate(1, (product, part) => product * part.ColumnCount)).Select(unchanged.Kept).ToArray());
                continue;
            }
            if (t == grouped)
            {
                var part = terms[t][0];
                groups = (part.Codes((FactorVariable)variables[0], rows), [.. part.Levels!.Value.Select((_, g) => g == part.Reference ? -1 : columns.Count + g - (part.Reference >= 0 && g > part.Reference ? 1 : 0))]);
                columns.AddRange(new double[part.ColumnCount][]);
                continue;
            }
            List<double[]>? product = null;
            for (var p = 0; p < terms[t].Length; p++)
            {
                var expanded = terms[t][p].Expand(variables[p], rows);
                product = product is null ? expanded : [.. product.SelectMany(_ => expanded, Multiply)];
            }
            columns.AddRange(product!);
        }
        var design = DesignMatrix.Create([.. columns], Columns, rows.Length, intercept);
        return groups is { } given ? design.WithGroups(given.Codes, given.ColumnOfGroup) : design;
    }

    /// <summary>The derivatives of a design's columns with respect to a member of the record, by the product rule; null for a column that does not depend on it.</summary>
    /// <param name="specification">The terms, in the plan's order.</param>
    /// <param name="rows">The rows.</param>
    /// <param name="slopesOf">The derivative of a variable for each record; null if it does not depend on the member.</param>
    public double[]?[] Slopes(IReadOnlyList<TermSpecification> specification, int[] rows, Func<Variable, double[]?> slopesOf)
    {
        var columns = new List<double[]?>();
        if (intercept) columns.Add(null);
        for (var t = 0; t < terms.Length; t++)
        {
            var parts = terms[t];
            var slopes = specification[t].Factors.Select(slopesOf).ToArray();
            if (slopes.All(s => s is null))
            {
                columns.AddRange(new double[parts.Aggregate(1, (product, part) => product * part.ColumnCount)][]);
                continue;
            }
            List<double[]>? sum = null;
            for (var moving = 0; moving < parts.Length; moving++)
            {
                if (slopes[moving] is not { } slope) continue;
                List<double[]>? product = null;
                for (var p = 0; p < parts.Length; p++)
                {
                    List<double[]> own = p == moving ? [[.. rows.Select(r => slope[r])]] : parts[p].Expand(specification[t].Factors[p], rows);
                    product = product is null ? own : [.. product.SelectMany(_ => own, Multiply)];
                }
                if (sum is null) sum = product;
                else for (var c = 0; c < sum.Count; c++) Vectors.AddScaled(sum[c], 1, product![c]);
            }
            columns.AddRange(sum!);
        }
        return [.. columns];
    }

    /// <summary>The place of the term that becomes groups: the factor with the most levels, if they are many; -1 if there is none.</summary>
    private static int Largest(IReadOnlyList<ImmutableArray<Part>> terms, bool intercept)
    {
        var places = Enumerable.Range(0, terms.Count).Where(t => terms[t] is [{ Levels: { } levels } only] && levels.Length > MostColumns && (only.Reference >= 0) == intercept).ToArray();
        return places.Length == 0 ? -1 : places.MaxBy(t => terms[t][0].ColumnCount);
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

    /// <summary>One variable of a term: a number, or the levels of a factor and the place of the reference among them, -1 if every level has a column.</summary>
    private sealed record Part(string Name, ImmutableArray<string>? Levels, int Reference)
    {
        public int ColumnCount => Levels is { } levels ? levels.Length - (Reference >= 0 ? 1 : 0) : 1;

        public static Part Create(Variable variable, string name, int[] rows, bool allLevels)
        {
            if (variable is not FactorVariable factor) return new Part(name, null, -1);
            var isPresent = new bool[factor.Levels.Length];
            foreach (var row in rows) isPresent[factor.Codes[row]] = true;
            int[] present = [.. Enumerable.Range(0, isPresent.Length).Where(l => isPresent[l])];
            if (present.Length < 2)
                throw new AnalysisException($"the factor `{name}` has only the level `{factor.Levels[present[0]]}` in the {ModelData.CountRows(rows.Length)} used; leave it out");
            return new Part(name, [.. present.Select(l => factor.Levels[l])], allLevels ? -1 : Math.Max(0, Array.IndexOf(present, factor.Reference)));
        }

        public IEnumerable<Term> Names(string term)
        {
            if (Levels is not { } levels) return [new Term(Name, term)];
            var reference = Reference < 0 ? null : levels[Reference];
            return levels.Where((_, l) => l != Reference).Select(level => new Term($"{Name}={level}", term, level, reference));
        }

        /// <summary>The place of each row's level among the plan's.</summary>
        public int[] Codes(FactorVariable factor, int[] rows)
        {
            var places = Levels!.Value.Select((level, place) => (level, place)).ToDictionary(p => p.level, p => p.place, StringComparer.Ordinal);
            var placeOf = factor.Levels.Select(level => places.GetValueOrDefault(level, -1)).ToArray();
            var codes = new int[rows.Length];
            for (var i = 0; i < codes.Length; i++)
            {
                codes[i] = placeOf[factor.Codes[rows[i]]];
                if (codes[i] < 0) throw new AnalysisException($"the level `{factor.Levels[factor.Codes[rows[i]]]}` of `{Name}` was not in the data of the fit");
            }
            return codes;
        }

        public List<double[]> Expand(Variable variable, int[] rows)
        {
            if (variable is NumericVariable numeric) return [rows.Length == numeric.Values.Length ? numeric.Values : [.. rows.Select(r => numeric.Values[r])]];
            var codes = Codes((FactorVariable)variable, rows);
            var columns = Levels!.Value.Select((_, l) => l == Reference ? null : new double[rows.Length]).ToArray();
            for (var i = 0; i < codes.Length; i++)
                if (columns[codes[i]] is { } column) column[i] = 1;
            return [.. columns.OfType<double[]>()];
        }
    }
}
