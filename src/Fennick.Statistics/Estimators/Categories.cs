using System.Collections.Immutable;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>What models of categories share.</summary>
internal static class Categories
{
    /// <summary>The categories that rows have, with the code of each row among them.</summary>
    /// <exception cref="AnalysisException">There are too few.</exception>
    public static (int[] Codes, ImmutableArray<string> Present, ImmutableArray<AnalysisWarning> Warnings) Present(ModelData data, ImmutableArray<string> categories, int atLeast, string otherwise)
    {
        var isPresent = new bool[categories.Length];
        foreach (var code in data.Response) isPresent[(int)code] = true;
        int[] present = [.. Enumerable.Range(0, categories.Length).Where(c => isPresent[c])];
        if (present.Length < 2) throw new AnalysisException($"`{data.ResponseName}` has only the category `{categories[present[0]]}` in the {ModelData.CountRows(data.Response.Length)} used; there is nothing to explain");
        if (present.Length < atLeast) throw new AnalysisException($"`{data.ResponseName}` has only the categories {string.Join(" and ", present.Select(p => $"`{categories[p]}`"))} in the {ModelData.CountRows(data.Response.Length)} used; use {otherwise}");
        var place = present.Index().ToDictionary(p => p.Item, p => p.Index);
        string[] absent = [.. categories.Where((_, c) => !isPresent[c]).Select(c => $"`{c}`")];
        return ([.. data.Response.Select(c => place[(int)c])], [.. present.Select(p => categories[p])],
            absent.Length == 0 ? [] : [new AnalysisWarning($"no row used has {string.Join(", ", absent)} of `{data.ResponseName}`; the model is of the other categories")]);
    }

    /// <summary>A response that holds categories, as the codes of these in their order.</summary>
    /// <exception cref="AnalysisException">It has neither levels nor few whole numbers.</exception>
    public static (NumericVariable Codes, ImmutableArray<string> Levels) Read(Variable response)
    {
        const int Most = 50;
        if (response is FactorVariable factor) return (new NumericVariable(factor.Name, [.. factor.Codes.Select(c => c < 0 ? double.NaN : c)]), factor.Levels);
        var values = ((NumericVariable)response).Values;
        double[] distinct = [.. values.Where(v => !double.IsNaN(v)).Distinct().Order()];
        if (distinct.Length > Most) throw new AnalysisException($"`{response.Name}` has {distinct.Length} values, too many for categories; gather them");
        var places = distinct.Index().ToDictionary(d => d.Item, d => (double)d.Index);
        return (new NumericVariable(response.Name, [.. values.Select(v => double.IsNaN(v) ? double.NaN : places[v])]), [.. distinct.Select(d => d.ToString(System.Globalization.CultureInfo.InvariantCulture))]);
    }

    /// <summary>A matrix with its rows and columns in another order.</summary>
    public static double[,] Reorder(double[,] matrix, int[] order)
    {
        var result = new double[order.Length, order.Length];
        for (var i = 0; i < order.Length; i++)
            for (var j = 0; j < order.Length; j++) result[i, j] = matrix[order[i], order[j]];
        return result;
    }

    /// <summary>The inverse of a matrix that is diagonal but for what slopes move in constants.</summary>
    /// <param name="matrix">The matrix.</param>
    /// <param name="first">The place of the first slope.</param>
    /// <param name="count">How many slopes follow.</param>
    public static double[,] Inverse(double[,] matrix, int first, int count)
    {
        var inverse = (double[,])matrix.Clone();
        for (var c = first; c < first + count; c++)
        {
            inverse[c, c] = 1 / matrix[c, c];
            for (var t = 0; t < matrix.GetLength(0); t++)
                if (t != c && matrix[t, c] != 0) inverse[t, c] = -matrix[t, c] / matrix[c, c];
        }
        return inverse;
    }

    /// <summary>v' A.</summary>
    public static double[] Times(double[] vector, double[,] matrix)
    {
        var result = new double[matrix.GetLength(1)];
        for (var i = 0; i < vector.Length; i++)
            for (var j = 0; j < result.Length; j++) result[j] += vector[i] * matrix[i, j];
        return result;
    }

    /// <summary>The sum of v A v' over pairs.</summary>
    public static double Quadratic(double[] vector, double[,] matrix) => Vectors.Dot(Times(vector, matrix), vector);
}
