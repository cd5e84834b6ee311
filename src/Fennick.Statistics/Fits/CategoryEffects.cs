using System.Collections.Immutable;
using Fennick.Statistics.Estimators;

namespace Fennick.Statistics.Fits;

/// <summary>Average effects of a variable on the probabilities of categories.</summary>
internal static class CategoryEffects
{
    /// <summary>The probabilities of the categories for coefficients and a row of the design without its constant.</summary>
    public delegate double[] Probability(double[] coefficients, ReadOnlySpan<double> row);

    /// <summary>The effects for each category.</summary>
    /// <param name="fit">The fit.</param>
    /// <param name="basis">What it rests on.</param>
    /// <param name="categories">The categories.</param>
    /// <param name="variable">The variable.</param>
    /// <param name="probability">The probabilities of the categories.</param>
    public static IReadOnlyList<(string, IReadOnlyList<AverageEffect>)> Of(EstimatedFit fit, EstimatedBasis basis, ImmutableArray<string> categories, string variable, Probability probability)
    {
        var columns = ModelColumns.Of(basis.Data);
        int[] places = [.. Enumerable.Range(0, columns.Count).Where(c => columns.Terms[c].Variable == variable)];
        if (places.Length == 0) throw new AnalysisException($"the fit has no variable `{variable}`; its variables are {string.Join(", ", columns.Terms.Select(t => $"`{t.Variable}`").Distinct())}");
        var own = basis.Data.Specification.First(s => s.Name == variable).Factors;
        if (own.Count > 1 || basis.Data.Specification.Any(s => s.Name != variable && s.Factors.Any(f => f.Name == own[0].Name)))
            throw new AnalysisException($"`{variable}` stands in an interaction; its effects by category are known only for variables that stand in one term by themselves");
        var given = columns.Terms.Select(t => basis.Data.Design.Column(Place(basis, t))).ToArray();
        double[][] rows = [.. Enumerable.Range(0, basis.Data.Rows.Length).Select(i => given.Select(c => c[i]).ToArray())];
        var effects = categories.Select(_ => new List<AverageEffect>()).ToArray();
        var covariance = fit.Covariance();
        foreach (var place in places)
        {
            var isLevel = columns.Terms[place].Level is not null;
            double[] Average(double[] coefficients) => isLevel ? Difference(coefficients, rows, places, place, probability, categories.Length) : Slope(coefficients, rows, place, probability, categories.Length);
            var at = Average(basis.Coefficients);
            var slopes = Slopes(Average, basis.Coefficients, categories.Length, i => Math.Sqrt(covariance[i, i]));
            for (var c = 0; c < categories.Length; c++)
                effects[c].Add(new AverageEffect(columns.Terms[place].Name, at[c], Math.Sqrt(Math.Max(0, Categories.Quadratic(slopes[c], covariance))), double.PositiveInfinity));
        }
        return [.. categories.Select((c, i) => (c, (IReadOnlyList<AverageEffect>)effects[i]))];
    }

    private static int Place(EstimatedBasis basis, Variables.Term term) => Enumerable.Range(0, basis.Data.Design.ColumnCount).First(c => basis.Data.Design.Terms[c].Name == term.Name);

    private static double[] Difference(double[] coefficients, double[][] rows, int[] places, int place, Probability probability, int count)
    {
        var sums = new double[count];
        foreach (var row in rows)
        {
            var changed = (double[])row.Clone();
            foreach (var other in places) changed[other] = 0;
            var without = probability(coefficients, changed);
            changed[place] = 1;
            var with = probability(coefficients, changed);
            for (var c = 0; c < count; c++) sums[c] += (with[c] - without[c]) / rows.Length;
        }
        return sums;
    }

    // Probabilities are smooth, so that a central difference of this width is exact to about ten digits (Richardson).
    private static double[] Slope(double[] coefficients, double[][] rows, int place, Probability probability, int count)
    {
        var largest = rows.Max(r => Math.Abs(r[place]));
        var width = 1e-3 * Math.Max(largest, 1e-8);
        var (wide, narrow) = (Central(width), Central(width / 2));
        return [.. narrow.Select((n, c) => n + ((n - wide[c]) / 3))];

        double[] Central(double h)
        {
            var sums = new double[count];
            foreach (var row in rows)
            {
                var changed = (double[])row.Clone();
                changed[place] = row[place] + h;
                var above = probability(coefficients, changed);
                changed[place] = row[place] - h;
                var below = probability(coefficients, changed);
                for (var c = 0; c < count; c++) sums[c] += (above[c] - below[c]) / (2 * h) / rows.Length;
            }
            return sums;
        }
    }

    /// <summary>The derivatives of averages with respect to the coefficients, by category.</summary>
    private static double[][] Slopes(Func<double[], double[]> average, double[] coefficients, int count, Func<int, double> errorOf)
    {
        var slopes = Enumerable.Range(0, count).Select(_ => new double[coefficients.Length]).ToArray();
        for (var i = 0; i < coefficients.Length; i++)
        {
            var h = 1e-3 * errorOf(i);
            if (!(h > 0) || double.IsInfinity(h)) continue;
            var changed = (double[])coefficients.Clone();
            changed[i] = coefficients[i] + h;
            var above = average(changed);
            changed[i] = coefficients[i] - h;
            var below = average(changed);
            for (var c = 0; c < count; c++) slopes[c][i] = (above[c] - below[c]) / (2 * h);
        }
        return slopes;
    }
}
