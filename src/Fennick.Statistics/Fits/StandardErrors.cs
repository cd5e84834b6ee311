namespace Fennick.Statistics.Fits;

/// <summary>A kind of standard errors.</summary>
/// <remarks>
/// HC0 White (1980), Econometrica 48; HC1–HC3 MacKinnon &amp; White (1985), Journal of Econometrics 29; clusters Liang &amp; Zeger (1986), Biometrika 73, with
/// the factor G/(G−1)·(n−1)/(n−k); two ways Cameron, Gelbach &amp; Miller (2011), Journal of Business &amp; Economic Statistics 29.
/// </remarks>
public sealed class StandardErrors
{
    private StandardErrors(string name, int correction, params object[] groups)
    {
        Name = name;
        Correction = correction;
        Groups = groups;
    }

    /// <summary>Equal variances: from the residual variance, or the information matrix.</summary>
    public static StandardErrors Classical { get; } = new("classical", -1);

    /// <summary>Heteroscedasticity-consistent, without a correction.</summary>
    public static StandardErrors Hc0 { get; } = new("heteroscedasticity-consistent (HC0)", 0);

    /// <summary>Heteroscedasticity-consistent, times n/(n−k).</summary>
    public static StandardErrors Hc1 { get; } = new("heteroscedasticity-consistent (HC1)", 1);

    /// <summary>Heteroscedasticity-consistent, squared residuals over 1 − leverage.</summary>
    public static StandardErrors Hc2 { get; } = new("heteroscedasticity-consistent (HC2)", 2);

    /// <summary>Heteroscedasticity-consistent, squared residuals over the square of 1 − leverage.</summary>
    public static StandardErrors Hc3 { get; } = new("heteroscedasticity-consistent (HC3)", 3);

    /// <summary>What they are called in a note.</summary>
    public string Name { get; }

    /// <summary>-1 classical, 0 to 3 the corrections HC0 to HC3, 4 clustered.</summary>
    internal int Correction { get; }

    /// <summary>What rows are clustered by: functions of a record, or names of columns.</summary>
    internal IReadOnlyList<object> Groups { get; }

    /// <summary>Rows of the same group may be correlated: <c>StandardErrors.ClusteredBy((Hive h) => h.Apiary)</c>.</summary>
    /// <typeparam name="T">The type of the records that were fitted.</typeparam>
    public static StandardErrors ClusteredBy<T>(Func<T, object?> group) => new("clustered", 4, Erase(group));

    /// <summary>Rows of the same group of either grouping may be correlated.</summary>
    /// <typeparam name="T">The type of the records that were fitted.</typeparam>
    public static StandardErrors ClusteredBy<T>(Func<T, object?> first, Func<T, object?> second) => new("clustered two ways", 4, Erase(first), Erase(second));

    /// <summary>Rows with the same value of a column may be correlated.</summary>
    public static StandardErrors ClusteredBy(string column) => new("clustered", 4, column);

    /// <summary>Rows with the same value of either column may be correlated.</summary>
    public static StandardErrors ClusteredBy(string first, string second) => new("clustered two ways", 4, first, second);

    /// <summary>Rows with the same code may be correlated, for fits of plain arrays.</summary>
    /// <param name="codes">n codes.</param>
    public static StandardErrors ClusteredBy(int[] codes) => new("clustered", 4, codes);

    /// <inheritdoc/>
    public override string ToString() => Name;

    private static Func<object, object?> Erase<T>(Func<T, object?> group)
    {
        ArgumentNullException.ThrowIfNull(group);
        return record => record is T typed ? group(typed)
            : throw new AnalysisException($"the clusters are a function of `{typeof(T).Name}`, but the fit was made from `{record.GetType().Name}`");
    }
}
