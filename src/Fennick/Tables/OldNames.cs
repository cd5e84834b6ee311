using Fennick.Statistics.Fits;

namespace Fennick.Tables;

/// <summary>Names of an earlier version, which tell their new ones; they go with the next version.</summary>
public static class OldNames
{
    /// <summary>Now <see cref="RegressionTable.Columns"/>.</summary>
    [Obsolete("`Heads` is now `Columns`.", error: true)]
    public static RegressionTable Heads(this RegressionTable table, params string[] words) => table.Columns(words);

    /// <summary>Now <see cref="RegressionTable.First"/>.</summary>
    [Obsolete("`Order` is now `First`.", error: true)]
    public static RegressionTable Order(this RegressionTable table, params string[] terms) => table.First(terms);

    /// <summary>Now <see cref="RegressionTable.Without"/>.</summary>
    [Obsolete("`Drop` is now `Without`.", error: true)]
    public static RegressionTable Drop(this RegressionTable table, params string[] terms) => table.Without(terms);

    /// <summary>Now <see cref="RegressionTable.Only"/>.</summary>
    [Obsolete("`Keep` is now `Only`.", error: true)]
    public static RegressionTable Keep(this RegressionTable table, params string[] terms) => table.Only(terms);

    /// <summary>Now <see cref="RegressionTable.Under"/>.</summary>
    [Obsolete("`Group` is now `Under`.", error: true)]
    public static RegressionTable Group(this RegressionTable table, string words, params string[] terms) => table.Under(words, terms);

    /// <summary>Now <see cref="RegressionTable.YesNo(string, string)"/>.</summary>
    [Obsolete("`Indicator` is now `YesNo`.", error: true)]
    public static RegressionTable Indicator(this RegressionTable table, string words, string variable) => table.YesNo(words, variable);

    /// <summary>Now <see cref="RegressionTable.Detailed"/>.</summary>
    [Obsolete("`ToLongTable` is now `Detailed`.", error: true)]
    public static Table ToLongTable(this RegressionTable table) => table.Detailed();

    /// <summary>Now <see cref="RegressionFit.PredictedMeans(string)"/>.</summary>
    [Obsolete("`AveragePredictions` is now `PredictedMeans`.", error: true)]
    public static IReadOnlyList<AverageEffect> AveragePredictions(this RegressionFit fit, string factor) => fit.PredictedMeans(factor);
}

/// <summary>The former name of <see cref="EstimatesTable"/>.</summary>
public static class OutcomesTable
{
    /// <summary>Now <see cref="EstimatesTable.Of"/>.</summary>
    [Obsolete("`OutcomesTable` is now `EstimatesTable`.", error: true)]
    public static EstimatesTable Of(string term, params IModelResult[] fits) => EstimatesTable.Of(term, fits);
}
