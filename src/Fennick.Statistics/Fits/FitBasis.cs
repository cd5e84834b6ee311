using System.Collections.Immutable;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>What an estimator leaves behind, apart from the kind of errors.</summary>
internal sealed record FitBasis
{
    public required string Estimator { get; init; }

    public required ModelData Data { get; init; }

    /// <summary>One for each column of the scores' design.</summary>
    public required double[] Coefficients { get; init; }

    public required Scores Scores { get; init; }

    /// <summary>The columns of the full design that were dropped.</summary>
    public IReadOnlySet<int> Dropped { get; init; } = new HashSet<int>();

    public required double ResidualDegreesOfFreedom { get; init; }

    /// <summary>The residual variance, or 1 where the likelihood fixes it.</summary>
    public required double Dispersion { get; init; }

    /// <summary>Whether statistics are compared with Student's t; else with the normal distribution.</summary>
    public required bool UsesStudent { get; init; }

    public required double LogLikelihood { get; init; }

    /// <summary>The fitted means of an iterated fit; for other fits they are the response less the residuals of the scores.</summary>
    public double[]? Means { get; init; }

    /// <summary>The mean for a linear predictor, and its slope.</summary>
    public Func<double, (double Value, double Slope)> Mean { get; init; } = linear => (linear, 1);

    public ImmutableArray<AnalysisWarning> Warnings { get; init; } = [];

    /// <summary>The covariance for a kind of errors, the degrees of freedom of its tests, and the numbers of clusters.</summary>
    public (double[,] Covariance, double TestDegreesOfFreedom, ImmutableArray<int> Clusters) Covariance(StandardErrors errors)
    {
        var student = UsesStudent ? ResidualDegreesOfFreedom : double.PositiveInfinity;
        switch (errors.Correction)
        {
            case < 0: return (Statistics.Fits.Scores.Scale(Scores.Triangle.InverseCrossProduct(), Dispersion), student, []);
            case <= 3: return (Scores.Robust(errors.Correction, ResidualDegreesOfFreedom), student, []);
        }
        var groupings = errors.Groups.Select(g => Groups([g])).ToArray();
        if (groupings.FirstOrDefault(g => g.Count < 2) is { Codes: not null }) throw new AnalysisException($"all {ModelData.CountRows(Data.Response.Length)} are in one cluster; at least two are needed");
        var covariance = Clustered(groupings[0]);
        if (groupings.Length == 2)
        {
            var second = Clustered(groupings[1]);
            var both = Clustered(Groups(errors.Groups));
            for (var i = 0; i < covariance.GetLength(0); i++)
                for (var j = 0; j < covariance.GetLength(1); j++) covariance[i, j] += second[i, j] - both[i, j];
        }
        var counts = groupings.Select(g => g.Count).ToImmutableArray();
        return (covariance, UsesStudent ? counts.Min() - 1 : double.PositiveInfinity, counts);

        double[,] Clustered((int[] Codes, int Count) grouping)
        {
            var n = (double)Data.Response.Length;
            // Absorbed effects are not counted: they are mostly nested in the clusters.
            var factor = grouping.Count / (grouping.Count - 1.0) * (UsesStudent ? (n - 1) / (n - Coefficients.Length) : 1);
            return Statistics.Fits.Scores.Scale(Scores.Clustered(grouping.Codes, grouping.Count), factor);
        }
    }

    /// <summary>The design of the rows used as if every row had a level of a factor.</summary>
    public DesignMatrix DesignWith(string factor, string level) => Changed(factor, variable => variable is FactorVariable f
        ? f with { Codes = [.. f.Codes.Select(c => c < 0 ? c : f.Levels.IndexOf(level))] } : variable);

    /// <summary>The design of the rows used as if a variable were larger.</summary>
    public DesignMatrix DesignShifted(string name, double by) => Changed(name, variable => variable is NumericVariable n
        ? n with { Values = [.. n.Values.Select(v => v + by)] } : variable);

    public Variable FindVariable(string name)
    {
        var term = Data.Specification.FirstOrDefault(t => t.Name == name && t.Factors.Count == 1);
        return term?.Factors[0] ?? Data.Specification.SelectMany(t => t.Factors).FirstOrDefault(v => v.Name == name)
            ?? throw new AnalysisException($"the model has no variable `{name}`; its variables are {string.Join(", ", Data.Specification.SelectMany(t => t.Factors).Select(v => $"`{v.Name}`").Distinct())}");
    }

    public static double[] ResidualsOf(DesignMatrix design, double[] coefficients, double[] response)
    {
        const int block = 2048;
        var residuals = (double[])response.Clone();
        Threads.ForRows(residuals.Length, Threads.Parts(residuals.Length), (_, from, to) =>
        {
            for (var start = from; start < to; start += block)
            {
                var count = Math.Min(block, to - start);
                for (var c = 0; c < coefficients.Length; c++)
                    if (coefficients[c] != 0) Vectors.AddScaled(residuals.AsSpan(start, count), -coefficients[c], design.Columns[c].AsSpan(start, count));
            }
        });
        return residuals;
    }

    public static double SquareSum(double[] values, double[]? weights) => SquaresAround(values, 0, weights).Squares;

    /// <summary>The (weighted) squares around the mean, or around zero.</summary>
    public static double TotalSquares(double[] values, double[]? weights, bool centred)
    {
        if (!centred) return SquareSum(values, weights);
        var total = weights is null ? values.Length : Vectors.Sum(weights);
        var mean = SquaresAround(values, 0, weights).Sum / total;
        // The second pass takes away what the first one rounded.
        return SquaresAround(values, mean + (SquaresAround(values, mean, weights).Sum / total), weights).Squares;
    }

    private static (double Sum, double Squares) SquaresAround(double[] values, double centre, double[]? weights) =>
        weights is null ? Vectors.Around(values, centre) : Vectors.Around(values, centre, weights);

    /// <summary>a − b, value by value.</summary>
    public static double[] Difference(double[] a, double[] b)
    {
        var difference = (double[])a.Clone();
        Vectors.AddScaled(difference, -1, b);
        return difference;
    }

    private DesignMatrix Changed(string name, Func<Variable, Variable> change)
    {
        var found = FindVariable(name);
        return Data.Plan!.Apply(Data.Specification, Data.Rows, v => v.Name == found.Name ? change(v) : v).Without(Dropped);
    }

    private (int[] Codes, int Count) Groups(IReadOnlyList<object> groups)
    {
        if (groups is [int[] given] && given.Length == Data.Rows.Length && CountWithoutGaps(given) is { } known) return (given, known);
        var keys = groups.Select(Data.Grouping).ToArray();
        var places = new Dictionary<object, int>();
        var codes = new int[Data.Rows.Length];
        for (var i = 0; i < codes.Length; i++)
        {
            var parts = keys.Select(k => k(Data.Rows[i]) ?? throw new AnalysisException($"the cluster of row {Data.Rows[i] + 1} is missing")).ToArray();
            object key = parts.Length == 1 ? parts[0] : (parts[0], parts[1]);
            if (!places.TryGetValue(key, out codes[i])) places[key] = codes[i] = places.Count;
        }
        return (codes, places.Count);
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
}
