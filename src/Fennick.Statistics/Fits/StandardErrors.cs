using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;

namespace Fennick.Statistics.Fits;

/// <summary>A kind of standard errors.</summary>
/// <remarks>
/// HC0 White (1980), Econometrica 48; HC1–HC3 MacKinnon &amp; White (1985), Journal of Econometrics 29; clusters Liang &amp; Zeger (1986), Biometrika 73, with
/// the factor G/(G−1)·(n−1)/(n−k); two ways Cameron, Gelbach &amp; Miller (2011), Journal of Business &amp; Economic Statistics 29.
/// </remarks>
public sealed class StandardErrors
{
    private readonly string kind;
    private readonly string?[] groupNames;

    private StandardErrors(string kind, int correction, string?[]? groupNames = null, params object[] groups)
    {
        this.kind = kind;
        this.groupNames = groupNames ?? [];
        Correction = correction;
        Groups = groups;
    }

    /// <summary>What clustered errors are called.</summary>
    public const string ClusteredKind = "clustered";

    /// <summary>Equal variances: from the residual variance, or the information matrix.</summary>
    public static StandardErrors Classical { get; } = new("classical", -1);

    /// <summary>By a kernel of the residuals, of a quantile regression.</summary>
    internal static StandardErrors Kernel { get; } = new("kernel", -1);

    /// <summary>From the expected information, where the classical ones are from the observed.</summary>
    internal static StandardErrors ExpectedInformation { get; } = new("classical (expected information)", -1);

    /// <summary>Heteroscedasticity-consistent, without a correction.</summary>
    public static StandardErrors Hc0 { get; } = new("heteroscedasticity-consistent (HC0)", 0);

    /// <summary>Heteroscedasticity-consistent, times n/(n−k).</summary>
    public static StandardErrors Hc1 { get; } = new("heteroscedasticity-consistent (HC1)", 1);

    /// <summary>Heteroscedasticity-consistent, squared residuals over 1 − leverage.</summary>
    public static StandardErrors Hc2 { get; } = new("heteroscedasticity-consistent (HC2)", 2);

    /// <summary>Heteroscedasticity-consistent, squared residuals over the square of 1 − leverage.</summary>
    public static StandardErrors Hc3 { get; } = new("heteroscedasticity-consistent (HC3)", 3);

    /// <summary>What they are called in a note, with the names of what they are clustered by.</summary>
    public string Name => GroupNames.Count > 0 ? $"{kind} by {string.Join(" and ", GroupNames)}" : kind;

    internal const int ClusteredCorrection = 4;
    internal const int TimeCorrection = 5;
    internal const int SquareRootCorrection = 6;
    internal const int JackknifeCorrection = 7;

    /// <summary>-1 classical, 0 to 3 the corrections HC0 to HC3, 4 clustered, 5 rows in time, 6 and 7 clustered with CR2 and CR3.</summary>
    internal int Correction { get; }

    /// <summary>What rows are clustered by: functions of a record, or names of columns.</summary>
    internal IReadOnlyList<object> Groups { get; }

    /// <summary>Rows of the same group may be correlated: <c>StandardErrors.ClusteredBy((Hive h) => h.Apiary)</c>.</summary>
    /// <typeparam name="T">The type of the records that were fitted.</typeparam>
    /// <param name="group">The group of a record.</param>
    /// <param name="name">What the groups are called; by default the member that the function returns.</param>
    public static StandardErrors ClusteredBy<T>(Func<T, object?> group, [CallerArgumentExpression(nameof(group))] string? name = null) => new(ClusteredKind, ClusteredCorrection, [NameOf(name)], Erase(group));

    /// <summary>Rows of the same group of either grouping may be correlated.</summary>
    /// <typeparam name="T">The type of the records that were fitted.</typeparam>
    /// <param name="first">The first group of a record.</param>
    /// <param name="second">The second group of a record.</param>
    /// <param name="firstName">What the first groups are called; by default the member that the function returns.</param>
    /// <param name="secondName">What the second groups are called.</param>
    public static StandardErrors ClusteredBy<T>(Func<T, object?> first, Func<T, object?> second, [CallerArgumentExpression(nameof(first))] string? firstName = null, [CallerArgumentExpression(nameof(second))] string? secondName = null) =>
        new(ClusteredKind, ClusteredCorrection, [NameOf(firstName), NameOf(secondName)], Erase(first), Erase(second));

    /// <summary>Rows with the same value of a column may be correlated.</summary>
    public static StandardErrors ClusteredBy(string column) => new(ClusteredKind, ClusteredCorrection, [column], column);

    /// <summary>Rows with the same value of either column may be correlated.</summary>
    public static StandardErrors ClusteredBy(string first, string second) => new(ClusteredKind, ClusteredCorrection, [first, second], first, second);

    /// <summary>Rows with the same code may be correlated, for fits of plain arrays.</summary>
    /// <param name="codes">n codes.</param>
    public static StandardErrors ClusteredBy(int[] codes) => new(ClusteredKind, ClusteredCorrection, null, codes);

    /// <summary>
    /// Clustered with the correction CR2, which is free of bias if the rows are alike, and with the degrees of freedom of each term that go with it: for few clusters, or unequal ones.
    /// Least squares without weights.
    /// </summary>
    /// <typeparam name="T">The type of the records that were fitted.</typeparam>
    /// <param name="group">The group of a record.</param>
    /// <param name="name">What the groups are called; by default the member that the function returns.</param>
    /// <remarks>Bell &amp; McCaffrey (2002), Survey Methodology 28; Pustejovsky &amp; Tipton (2018), Journal of Business &amp; Economic Statistics 36.</remarks>
    public static StandardErrors Cr2<T>(Func<T, object?> group, [CallerArgumentExpression(nameof(group))] string? name = null) => new($"{ClusteredKind} (CR2)", SquareRootCorrection, [NameOf(name)], Erase(group));

    /// <summary>Clustered by the jackknife (CR3): each cluster is left out in turn. The degrees of freedom are those of CR3 for each term. Least squares without weights.</summary>
    /// <typeparam name="T">The type of the records that were fitted.</typeparam>
    /// <param name="group">The group of a record.</param>
    /// <param name="name">What the groups are called; by default the member that the function returns.</param>
    /// <remarks>MacKinnon, Nielsen &amp; Webb (2023), Journal of Applied Econometrics 38; degrees of freedom as for CR2.</remarks>
    public static StandardErrors Cr3<T>(Func<T, object?> group, [CallerArgumentExpression(nameof(group))] string? name = null) => new($"{ClusteredKind} (CR3, jackknife)", JackknifeCorrection, [NameOf(name)], Erase(group));

    /// <summary>Rows that follow each other may be correlated, and vary differently (HAC): Bartlett's weights of the products of rows up to some lags apart.</summary>
    /// <param name="lags">How many lags; ⌊4 (n/100)^(2/9)⌋ if null.</param>
    /// <param name="adjusted">Whether the covariance is multiplied by n/(n−k).</param>
    /// <remarks>Newey &amp; West (1987), Econometrica 55; the number of lags Newey &amp; West (1994), Review of Economic Studies 61. The rows are taken in the order in which they were given.</remarks>
    public static StandardErrors NeweyWest(int? lags = null, bool adjusted = false) => new("heteroscedasticity- and autocorrelation-consistent", TimeCorrection) { Lags = Checked(lags), IsAdjusted = adjusted };

    /// <summary>The same with the rows in the order of a time.</summary>
    /// <typeparam name="T">The type of the records that were fitted.</typeparam>
    /// <param name="time">The time of a record; those of the same time keep their order.</param>
    /// <param name="lags">How many lags; ⌊4 (n/100)^(2/9)⌋ if null.</param>
    /// <param name="adjusted">Whether the covariance is multiplied by n/(n−k).</param>
    public static StandardErrors NeweyWest<T>(Func<T, IComparable> time, int? lags = null, bool adjusted = false)
    {
        ArgumentNullException.ThrowIfNull(time);
        return new("heteroscedasticity- and autocorrelation-consistent", TimeCorrection, null, Erase<T>(r => time(r))) { Lags = Checked(lags), IsAdjusted = adjusted };
    }

    /// <summary>The lags of errors of rows in time; null for a number that goes by the rows.</summary>
    internal int? Lags { get; private init; }

    /// <summary>Whether errors of rows in time are multiplied by n/(n−k).</summary>
    internal bool IsAdjusted { get; private init; }

    private static int? Checked(int? lags) => lags is null or >= 0 ? lags : throw new ArgumentOutOfRangeException(nameof(lags), "the lags must be zero or more");

    /// <inheritdoc/>
    public override string ToString() => Name;

    /// <summary>What they are called, without the names of what they are clustered by.</summary>
    public string Kind => kind;

    /// <summary>The names of what they are clustered by; none if they are not, or one of them has no name.</summary>
    public IReadOnlyList<string> GroupNames => groupNames.All(n => n is not null) ? [.. groupNames.OfType<string>()] : [];

    /// <summary>What a function returns, without its parameter: "Apiary" of <c>(Hive h) => h.Apiary</c>, "Valley + Season" of <c>h => h.Valley + h.Season</c>; a name that is not a function stays itself.</summary>
    private static string? NameOf(string? expression)
    {
        if (expression is null || expression.IndexOf("=>", StringComparison.Ordinal) is not (>= 0 and var arrow)) return expression;
        var parameter = expression[..arrow].Trim(' ', '(', ')').Split(' ')[^1];
        var body = expression[(arrow + 2)..].Trim();
        // Statements and pieced texts say too little in a note.
        if (body.AsSpan().IndexOfAny('{', '"', ';') >= 0) return null;
        var name = Regex.Replace(body, $@"\b{Regex.Escape(parameter)}!?\.", "");
        // A whole path is called by its last member.
        return name.All(c => char.IsLetterOrDigit(c) || c is '_' or '.' or '!') ? name[(name.LastIndexOf('.') + 1)..].TrimEnd('!') : name == parameter ? null : name;
    }

    private static Func<object, object?> Erase<T>(Func<T, object?> group)
    {
        ArgumentNullException.ThrowIfNull(group);
        return record => record is T typed ? group(typed)
            : throw new AnalysisException($"the clusters are a function of `{typeof(T).Name}`, but the fit was made from `{record.GetType().Name}`");
    }
}
