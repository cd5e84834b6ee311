using System.Collections.Immutable;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Statistics;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Variables;

namespace Fennick.Data.Reading;

/// <summary>Makes models of the rows that other programs wrote.</summary>
internal static partial class ModelRows
{
    // How far rounded numbers may be from each other.
    private const double Rounding = 0.03;

    // What programs call the columns, the usual first.
    private static readonly Dictionary<string, string[]> Names = new()
    {
        ["model"] = ["model", "model name", "fit", "specification"],
        ["term"] = ["term", "variable", "parameter", "name", "coefficient name"],
        ["estimate"] = ["estimate", "coef", "coefficient", "coeff", "b", "beta", "value"],
        ["error"] = ["std error", "standard error", "se", "std err", "stderr", "bse"],
        ["statistic"] = ["statistic", "t", "z", "t value", "z value", "tvalue", "zvalue", "t stat", "z stat", "test statistic"],
        ["p"] = ["p value", "p", "pvalue", "pr", "p>|t|", "p>|z|", "pr(>|t|)", "pr(>|z|)", "sig"],
        ["low"] = ["conf low", "ci low", "lower", "ci lower", "conf lower", "[0.025", "2.5 %", "lower 95"],
        ["high"] = ["conf high", "ci high", "upper", "ci upper", "conf upper", "0.975]", "97.5 %", "upper 95"],
        ["level"] = ["conf level", "level", "confidence"],
        ["df"] = ["df", "degrees of freedom", "df residual", "df resid"],
        ["estimator"] = ["estimator", "method", "family"],
        ["response"] = ["response", "dependent", "outcome", "dependent variable", "y"],
        ["errors"] = ["errors", "vcov", "error kind", "std error type", "cov type"],
        ["n"] = ["nobs", "n", "observations", "n obs"],
        ["note"] = ["note", "notes"],
    };

    private static readonly Dictionary<string, (string Name, string Format)> Statistics = new()
    {
        ["rsquared"] = ("R²", "0.000"),
        ["r2"] = ("R²", "0.000"),
        ["adjrsquared"] = ("Adjusted R²", "0.000"),
        ["adjr2"] = ("Adjusted R²", "0.000"),
        ["rsquaredadj"] = ("Adjusted R²", "0.000"),
        ["pseudorsquared"] = ("Pseudo R²", "0.000"),
        ["pseudor2"] = ("Pseudo R²", "0.000"),
        ["aic"] = ("AIC", "#,0.0"),
        ["bic"] = ("BIC", "#,0.0"),
        ["loglik"] = ("Log-likelihood", "#,0.0"),
        ["loglikelihood"] = ("Log-likelihood", "#,0.0"),
        ["llf"] = ("Log-likelihood", "#,0.0"),
        ["deviance"] = ("Deviance", "#,0.0"),
        ["sigma"] = ("Residual std. error", "#,0.000"),
    };

    /// <summary>A coefficient of a model.</summary>
    internal sealed record Coefficient(string Model, TermEstimate Term, double? Count, string Response, string Estimator);

    private sealed record Whole(string Model, string? Estimator, string? Response, string? Errors, int? Count, ImmutableArray<ModelStatistic> Statistics, string? Note);

    public static (string Name, IModelResult Fit)[] Read(string coefficients, string? fits)
    {
        var rows = Open(coefficients, ReadCoefficients);
        return Read(rows, coefficients, fits is null ? [] : Open(fits, ReadWholes), fits);
    }

    /// <summary>The models of coefficients alone.</summary>
    /// <param name="rows">The coefficients.</param>
    /// <param name="name">What they were read from.</param>
    public static (string Name, IModelResult Fit)[] Read(List<Coefficient> rows, string name) => Read(rows, name, [], null);

    private static (string Name, IModelResult Fit)[] Read(List<Coefficient> rows, string coefficients, List<Whole> wholes, string? fits)
    {
        var models = rows.GroupBy(r => r.Model).ToArray();
        if (fits is not null)
        {
            if (wholes.FirstOrDefault(w => models.All(m => m.Key != w.Model)) is { } extra) throw Wrong(fits, $"there are no coefficients of the model `{extra.Model}`", Nearest.Suggest(extra.Model, models.Select(m => m.Key)));
            if (models.FirstOrDefault(m => wholes.All(w => w.Model != m.Key)) is { } lacking) throw Wrong(fits, $"there is no row for the model `{lacking.Key}`", Nearest.Suggest(lacking.Key, wholes.Select(w => w.Model)));
            if (wholes.GroupBy(w => w.Model).FirstOrDefault(g => g.Count() > 1) is { } twice) throw Wrong(fits, $"the model `{twice.Key}` has {twice.Count()} rows", "keep one");
        }
        return [.. models.Select(m => (m.Key, (IModelResult)Model(coefficients, [.. m], wholes.FirstOrDefault(w => w.Model == m.Key))))];
    }

    private static ModelResult Model(string path, Coefficient[] rows, Whole? whole)
    {
        var count = whole?.Count ?? (rows[0].Count is { } own ? (int)own : 0);
        try
        {
            return new ModelResult(whole?.Estimator ?? rows[0].Estimator, whole?.Response ?? rows[0].Response, count, rows.Select(r => r.Term))
            {
                ErrorKind = whole?.Errors ?? "as given",
                Statistics = whole?.Statistics ?? [],
                Notes = whole?.Note is { Length: > 0 } note ? [note] : [],
            };
        }
        catch (AnalysisException problem)
        {
            throw Wrong(path, problem.Message, "if the file holds several models, name them in a column `model`");
        }
    }

    private static List<T> Open<T>(string path, Func<RowSource, List<T>> read) => Path.GetExtension(path).ToLowerInvariant() is ".json" or ".jsonl" or ".ndjson" ? JsonRows.Read(path, null, read) : CsvRows.Read(path, new CsvDialect(), rows => read(rows));

    /// <summary>The coefficients of all models.</summary>
    public static List<Coefficient> ReadCoefficients(RowSource rows)
    {
        var columns = new Columned(rows);
        columns.Need("term", "estimate");
        if (!columns.Has("error") && !columns.Has("statistic")) throw new ReportException(Diagnostic.Error(rows.HeadPlace, "there is neither a column of standard errors nor one of statistics", "add `std_error`"));
        var all = new List<Coefficient>();
        while (rows.Read())
        {
            var estimate = columns.Number("estimate") ?? throw columns.Wrong("estimate", "this coefficient has no estimate", "leave its row out, if the program dropped the term");
            var (error, statistic, p, degrees) = (columns.Number("error"), columns.Number("statistic"), columns.Number("p"), columns.Number("df"));
            if (error is null && statistic is null) throw columns.Wrong("term", "this coefficient has neither a standard error nor a statistic", null);
            if (error is { } given && statistic is { } told && given > 0 && !IsNear(estimate / given, told) && !IsNear(estimate * estimate / (given * given), told))
                throw columns.Wrong("statistic", $"the statistic {told} is not the estimate {estimate} over its error {given}", "see which of the three is wrong; a ratio belongs with the error of its logarithm");
            if (error is < 0) throw columns.Wrong("error", $"a standard error of {error} is below zero", null);
            if (p is < 0 or > 1) throw columns.Wrong("p", $"a p-value of {p} is not between 0 and 1", null);
            var deviation = error ?? Math.Abs(estimate / statistic!.Value);
            var term = new TermEstimate(Term.Named(NameOf(columns.Text("term") ?? throw columns.Wrong("term", "this coefficient has no name", null))), estimate, deviation, degrees ?? double.PositiveInfinity);
            if (p is { } value) term = term with { PValue = value };
            if (columns.Number("low") is { } low && columns.Number("high") is { } high)
            {
                if (low > estimate || high < estimate) throw columns.Wrong("low", $"the interval from {low} to {high} does not hold the estimate {estimate}", null);
                var (level, around) = (columns.Number("level") ?? 0.95, term);
                term = term with { OwnInterval = asked => Math.Abs(asked - level) < 1e-9 ? new Interval(low, high) : around.Interval(asked) };
            }
            all.Add(new Coefficient(columns.Text("model") ?? "Model", term, columns.Number("n"), columns.Text("response") ?? "the response", columns.Text("estimator") ?? "estimated elsewhere"));
        }
        return all.Count > 0 ? all : throw Wrong(rows.Name, "there are no coefficients");
    }

    private static List<Whole> ReadWholes(RowSource rows)
    {
        var columns = new Columned(rows);
        var all = new List<Whole>();
        while (rows.Read())
        {
            var statistics = Enumerable.Range(0, rows.Heads.Count).Where(c => !columns.IsNamed(c) && rows[c].Kind != CellKind.Missing)
                .Where(c => rows.Cells.TryNumber(rows[c], rows, c, out _))
                .Select(c => Statistics.TryGetValue(ColumnNames.Fold(rows.Heads[c]), out var known) ? new ModelStatistic(known.Name, columns.NumberAt(c), known.Format) : new ModelStatistic(Words(rows.Heads[c]), columns.NumberAt(c), "#,0.###"));
            all.Add(new Whole(columns.Text("model") ?? "Model", columns.Text("estimator"), columns.Text("response"), columns.Text("errors"), columns.Number("n") is { } n ? (int)n : null, [.. statistics], columns.Text("note")));
        }
        return all;
    }

    // The constant, interactions and levels as tables write them.
    private static string NameOf(string name)
    {
        if (ColumnNames.Fold(name) is "intercept" or "const" or "cons" or "constant") return Term.InterceptName;
        return string.Join(" × ", name.Split(':').Select(part => Level().Match(part) is { Success: true } level ? $"{level.Groups[1].Value}={level.Groups[2].Value}" : part.Trim()));
    }

    private static string Words(string head) => head.Trim().Replace('_', ' ') is [var first, .. var rest] ? char.ToUpperInvariant(first) + rest : head;

    private static bool IsNear(double a, double b) => Math.Abs(a - b) <= Rounding * Math.Max(1, Math.Abs(b));

    private static ReportException Wrong(string path, string message, string? advice = null) => new(Diagnostic.Error(new SourcePlace(path, 0, 0), message, advice));

    [GeneratedRegex(@"^(?:C\()?([\w ]+)\)?\[(?:T\.)?([^\]]+)\]$")]
    private static partial Regex Level();

    /// <summary>The columns that are known by name.</summary>
    private sealed class Columned(RowSource rows)
    {
        private readonly Dictionary<string, int> places = Names.Select(n => (n.Key, Column: n.Value.Select(name => Find(rows, name)).FirstOrDefault(c => c >= 0, -1))).Where(n => n.Column >= 0).ToDictionary(n => n.Key, n => n.Column);

        public bool Has(string name) => places.ContainsKey(name);

        public bool IsNamed(int column) => places.ContainsValue(column);

        public void Need(params string[] names)
        {
            foreach (var name in names)
                if (!Has(name)) throw new ReportException(Diagnostic.Error(rows.HeadPlace, $"there is no column `{name}`", $"the columns are {string.Join(", ", rows.Heads.Select(h => $"`{h}`"))}"));
        }

        public string? Text(string name) => places.TryGetValue(name, out var column) && rows[column] is { Kind: not CellKind.Missing } cell && cell.ToText().Trim() is { Length: > 0 } text ? text : null;

        public double? Number(string name)
        {
            if (!places.TryGetValue(name, out var column) || rows[column].Kind == CellKind.Missing) return null;
            return rows.Cells.TryNumber(rows[column], rows, column, out var value) ? double.IsNaN(value) ? null : value : throw Wrong(name, $"`{rows[column].ToText()}` is not a number", null);
        }

        public double NumberAt(int column) => rows.Cells.TryNumber(rows[column], rows, column, out var value) ? value : double.NaN;

        public ReportException Wrong(string name, string message, string? advice) => new(Diagnostic.Error(places.TryGetValue(name, out var column) ? rows.PlaceOf(column) : rows.PlaceOf(0), message, advice));

        private static int Find(RowSource rows, string name)
        {
            for (var c = 0; c < rows.Heads.Count; c++)
                if (rows.Heads[c].Trim().Equals(name, StringComparison.OrdinalIgnoreCase) || (ColumnNames.Fold(name) is { Length: > 0 } folded && name.All(s => char.IsLetterOrDigit(s) || s == ' ') && folded == ColumnNames.Fold(rows.Heads[c]))) return c;
            return -1;
        }
    }
}
