using System.Collections.Immutable;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>What is asked of the terms of every fit.</summary>
internal static class TermLists
{
    /// <summary>A term by name.</summary>
    /// <exception cref="AnalysisException">There is no such term.</exception>
    public static TermEstimate Named(this ImmutableArray<TermEstimate> terms, string name) => terms.FirstOrDefault(t => t.Name == name) ?? throw Unknown(terms, name);

    /// <summary>The places of a term, or of all terms of a variable.</summary>
    /// <exception cref="AnalysisException">There is no such term or variable.</exception>
    public static int[] PlacesOf(this ImmutableArray<TermEstimate> terms, string name)
    {
        int[] places = [.. Enumerable.Range(0, terms.Length).Where(i => terms[i].Name == name || terms[i].Term.Variable == name)];
        return places.Length > 0 ? places : throw Unknown(terms, name);
    }

    /// <summary>b' V⁻¹ b of some coefficients.</summary>
    /// <param name="coefficients">b.</param>
    /// <param name="covariance">V.</param>
    /// <param name="errors">What the errors are called.</param>
    /// <exception cref="AnalysisException">The errors do not tell the terms apart.</exception>
    public static double WaldStatistic(double[] coefficients, double[,] covariance, string errors)
    {
        // Scaled to correlations first: terms may be of very different sizes.
        double[] scale = [.. coefficients.Select((_, i) => Math.Sqrt(covariance[i, i]))];
        var correlation = new double[scale.Length, scale.Length];
        for (var i = 0; i < scale.Length; i++)
            for (var j = 0; j < scale.Length; j++) correlation[i, j] = covariance[i, j] / (scale[i] * scale[j]);
        var lower = Cholesky.Factor(correlation, 1e-12)
            ?? throw new AnalysisException($"the {errors} errors do not tell the {scale.Length} terms apart, so they cannot be tested together; test fewer terms, or use other errors");
        var scaled = Cholesky.SolveLower(lower, [.. coefficients.Select((c, i) => c / scale[i])]);
        return Vectors.Dot(scaled, scaled);
    }

    private static AnalysisException Unknown(ImmutableArray<TermEstimate> terms, string name) => new($"the fit has no term `{name}`; its terms are {string.Join(", ", terms.Select(t => $"`{t.Name}`"))}");
}
