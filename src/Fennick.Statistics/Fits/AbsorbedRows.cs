using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>Predictions of a fit with absorbed effects, for rows that name their groups.</summary>
internal sealed class AbsorbedRows
{
    private readonly RegressionFit fit;
    private readonly int[][] codes;
    private readonly double[][]? effects;

    public AbsorbedRows(RegressionFit fit, IReadOnlyList<FactorVariable> groupings, int[] rows)
    {
        this.fit = fit;
        var data = fit.Basis.Data;
        codes = [.. groupings.Select((grouping, g) => Codes(data.Absorbed[g], data.Rows, grouping, rows))];
        if (codes.Length == 1)
        {
            Partition = new Partition(codes[0], fit.Basis.Absorption!.Single!.Count);
            return;
        }
        // What the slopes leave of the fitted values are the effects.
        double[] rest = [.. fit.Fitted];
        var raw = fit.Basis.Data.Design.Without(fit.Basis.Dropped);
        for (var j = 0; j < raw.ColumnCount; j++) Vectors.AddScaled(rest, -fit.Basis.Slopes[j], raw.Column(j));
        effects = fit.Basis.Absorption!.EffectsIn(rest);
    }

    /// <summary>The group of each row, if there is one grouping only.</summary>
    public Partition? Partition { get; }

    /// <summary>The groups of a grouping in the order in which the rows of the fit name them.</summary>
    public static (int[] Codes, int Count) Compact(FactorVariable factor, int[] rows)
    {
        var places = new Dictionary<int, int>();
        var codes = new int[rows.Length];
        for (var i = 0; i < rows.Length; i++)
            if (!places.TryGetValue(factor.Codes[rows[i]], out codes[i])) places[factor.Codes[rows[i]]] = codes[i] = places.Count;
        return (codes, places.Count);
    }

    /// <summary>The value and the error of a row with effects of two groupings.</summary>
    public (double Value, double Error) Predict(double[][] columns, int row)
    {
        var basis = fit.Basis;
        var (first, second) = (codes[0][row], codes[1][row]);
        if (!basis.Absorption!.AreLinked(first, second))
            throw new AnalysisException($"no rows of the fit link the level of `{basis.Data.Absorbed[0].Name}` with that of `{basis.Data.Absorbed[1].Name}` in row {row + 1}, so that the sum of their effects is not known");
        double[][] factors = [.. basis.Absorption.LevelCounts.Select(c => new double[c])];
        factors[0][first] = factors[1][second] = 1;
        var value = effects![0][first] + effects[1][second];
        var values = columns.Select(c => c[row]).ToArray();
        for (var j = 0; j < values.Length; j++) value += basis.Slopes[j] * values[j];
        return (value, Math.Sqrt(basis.VarianceOfRows(fit.StandardErrors, RowWeights(fit, factors, values))));
    }

    /// <summary>The c for which effects, each times its factor, and slopes times values are Σ cᵢ yᵢ.</summary>
    public static double[] RowWeights(RegressionFit fit, double[][] factors, double[] values)
    {
        var basis = fit.Basis;
        var weights = basis.Absorption!.RowWeights(factors);
        var raw = basis.Data.Design.Without(basis.Dropped);
        var centred = values.Select((v, j) => v - Vectors.Dot(weights, raw.Column(j))).ToArray();
        Vectors.AddScaled(weights, 1, basis.Scores.RowWeights(basis.Factorisation.Combine([], centred)));
        return weights;
    }

    private static int[] Codes(FactorVariable own, int[] ownRows, FactorVariable other, int[] rows)
    {
        var (compact, _) = Compact(own, ownRows);
        var places = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var i = 0; i < ownRows.Length; i++) places[own.Levels[own.Codes[ownRows[i]]]] = compact[i];
        return [.. rows.Select(r => places.TryGetValue(other.Levels[other.Codes[r]], out var place) ? place
            : throw new AnalysisException($"the level `{other.Levels[other.Codes[r]]}` of `{own.Name}` was not in the data of the fit"))];
    }
}
