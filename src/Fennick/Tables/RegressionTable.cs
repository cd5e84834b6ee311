using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Variables;

namespace Fennick.Tables;

/// <summary>Fitted models side by side: a column for each, a row for each term.</summary>
/// <example>
/// <code>
/// RegressionTable.Of(simple, full).Columns("Simple", "Full")
///     .Label("ForageHa", "Forage within 2 km (ha)")
///     .YesNo("Valley effects", "Valley")
/// </code>
/// </example>
public sealed record RegressionTable : ResultTable<RegressionTable>
{
    private readonly ImmutableArray<IModelResult> fits;
    private ImmutableArray<string> heads = [];
    private ImmutableArray<(string Words, int First, int Last)> spans = [];
    private ImmutableArray<string> first = [];
    private ImmutableArray<(string Words, ImmutableArray<string> Terms)> groups = [];
    private ImmutableArray<string> dropped = [];
    private ImmutableArray<string> kept = [];
    private ImmutableArray<(string Words, string? Variable, ImmutableArray<bool> Values)> indicators = [];
    private ImmutableArray<FitStatistic> statistics = [];
    private ImmutableArray<bool> exponentiated;
    private Uncertainty uncertainty = Uncertainty.StandardError;
    private bool beside;
    private string? format;
    private int decimals = 3;
    private double level = 0.95;

    private RegressionTable(ImmutableArray<IModelResult> fits)
    {
        this.fits = fits;
        exponentiated = [.. fits.Select(_ => false)];
    }

    /// <summary>A table of fits, headed (1), (2), … from the left.</summary>
    /// <exception cref="ArgumentException">There is no fit.</exception>
    public static RegressionTable Of(params IModelResult[] fits) => fits is { Length: > 0 } ? new([.. fits]) : throw new ArgumentException("A regression table needs a fit.", nameof(fits));

    /// <summary>A table of named fits.</summary>
    /// <exception cref="ArgumentException">There is no fit.</exception>
    public static RegressionTable Of(params (string Head, IModelResult Fit)[] fits) => Of([.. fits.Select(f => f.Fit)]).Columns([.. fits.Select(f => f.Head)]);

    /// <summary>With words above the models, from the left.</summary>
    /// <exception cref="ReportException">There are not as many words as models.</exception>
    public RegressionTable Columns(params string[] words) => words.Length == fits.Length ? this with { heads = [.. words] }
        : throw Wrong($"there are {words.Length} heads for {fits.Length} models", "give one for each");

    /// <summary>With the response above each model, and one head over neighbours that share it.</summary>
    public RegressionTable ResponseHeads()
    {
        var table = this;
        for (var i = 0; i < fits.Length;)
        {
            var next = i;
            while (next < fits.Length && fits[next].Response == fits[i].Response) next++;
            table = table with { spans = table.spans.Add((ResponseMark + fits[i].Response, i, next - 1)) };
            i = next;
        }
        return table;
    }

    /// <summary>With a head over several models, counted from 1.</summary>
    /// <exception cref="ReportException">There are no such models.</exception>
    public RegressionTable Span(string words, int firstModel, int lastModel) => firstModel >= 1 && lastModel >= firstModel && lastModel <= fits.Length
        ? this with { spans = spans.Add((words, firstModel - 1, lastModel - 1)) }
        : throw Wrong($"there are no models {firstModel} to {lastModel}; the table has {fits.Length}", "count them from 1");

    /// <summary>With these terms or variables first, in this order.</summary>
    public RegressionTable First(params string[] terms) => this with { first = [.. terms] };

    /// <summary>Without these terms or variables; <c>intercept</c> is the constant.</summary>
    public RegressionTable Without(params string[] terms) => this with { dropped = dropped.AddRange(terms) };

    /// <summary>With these terms or variables alone.</summary>
    public RegressionTable Only(params string[] terms) => this with { kept = kept.AddRange(terms) };

    /// <summary>With a heading over some terms or variables, which stand together where the first of them stands.</summary>
    /// <param name="words">The heading.</param>
    /// <param name="terms">The terms or variables.</param>
    public RegressionTable Under(string words, params string[] terms) => this with { groups = groups.Add((words, [.. terms])) };

    /// <summary>With a row that says "yes" where a model has a variable, instead of the rows of its terms.</summary>
    /// <param name="words">What the row is called.</param>
    /// <param name="variable">The variable.</param>
    public RegressionTable YesNo(string words, string variable) => this with { indicators = indicators.Add((words, variable, [])) };

    /// <summary>With a row of "yes" and "no".</summary>
    /// <param name="words">What the row is called.</param>
    /// <param name="values">One for each model.</param>
    /// <exception cref="ReportException">There are not as many values as models.</exception>
    public RegressionTable YesNo(string words, params bool[] values) => values.Length == fits.Length ? this with { indicators = indicators.Add((words, null, [.. values])) }
        : throw Wrong($"the row `{words}` has {values.Length} values for {fits.Length} models", "give one for each");

    /// <summary>With this beneath each estimate.</summary>
    public RegressionTable Beneath(Uncertainty shown) => this with { uncertainty = shown, beside = false };

    /// <summary>With this beside each estimate, in a column of its own.</summary>
    public RegressionTable Beside(Uncertainty shown) => this with { uncertainty = shown, beside = true };

    /// <summary>With intervals of another level than 0.95.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The level is not between 0 and 1.</exception>
    public RegressionTable Level(double intervals) => intervals is > 0 and < 1 ? this with { level = intervals } : throw new ArgumentOutOfRangeException(nameof(intervals), intervals, "A level lies between 0 and 1.");

    /// <summary>With estimates as e to their power (odds ratios, rate ratios), errors by the delta method; of all models, or of those named, counted from 1.</summary>
    /// <exception cref="ReportException">There is no such model.</exception>
    public RegressionTable Exponentiated(params int[] models) => models.FirstOrDefault(m => m < 1 || m > fits.Length, 0) is not 0 and var wrong
        ? throw Wrong($"there is no model {wrong}; the table has {fits.Length}", "count them from 1")
        : this with { exponentiated = [.. fits.Select((_, i) => models.Length == 0 || models.Contains(i + 1))] };

    /// <summary>With these fit statistics below the terms.</summary>
    public RegressionTable Statistics(params FitStatistic[] shown) => this with { statistics = [.. shown] };

    /// <summary>With other decimals than three. An estimate whose standard error would show fewer than two significant digits gets as many decimals as it needs.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There are fewer than none, or more than eight.</exception>
    public RegressionTable Decimals(int usual) => usual is >= 0 and <= 8 ? this with { decimals = usual } : throw new ArgumentOutOfRangeException(nameof(usual), usual, "A table shows from 0 to 8 decimals.");

    /// <summary>With all estimates and errors in one format, such as <c>0.00</c>.</summary>
    public RegressionTable Format(string numbers) => this with { format = numbers };

    /// <summary>One model in long form: estimate, standard error, statistic, p-value and interval as columns.</summary>
    /// <exception cref="ReportException">There is more than one model.</exception>
    public Table Detailed() => fits is [{ } fit] ? (this with { Names = RecordLabels() }).BuildLong(fit)
        : throw Wrong($"the long form shows one model, and there are {fits.Length}", "make a table of each");

    private Table BuildLong(IModelResult fit)
    {
        var rows = new List<TableRow>();
        var plan = Plan();
        var statisticName = double.IsPositiveInfinity(fit.TestDegreesOfFreedom) ? "z" : "t";
        foreach (var row in plan)
        {
            if (row.Term is null)
            {
                rows.Add(HeadingRow(row, 7));
                continue;
            }
            if (Find(fit, row.Term) is not { } term) continue;
            var numbers = FormatOf(0, term);
            var interval = IntervalOf(0, term);
            rows.Add(new TableRow([row.Words, Number(EstimateOf(0, term), numbers), Number(ErrorOf(0, term), numbers), Number(term.Statistic, "0.00"), PValue(term.PValue), Number(interval.Low, numbers), Number(interval.High, numbers)]) { Level = row.Level });
        }
        RichText[] columnHeads = ["", exponentiated[0] ? Names.Word("Ratio") : Names.Word("Estimate"), Names.Word("Std. error"), statisticName, Names.Word("p"), Names.Word("low"), Names.Word("high")];
        var table = new Table
        {
            Columns = [new(Alignment.Left), .. Enumerable.Repeat(new TableColumn(Alignment.Decimal), 6)],
            HeaderRows = [new TableRow([.. columnHeads.Select(h => Text(h))])],
            Rows = [.. rows],
            Warnings = [.. fit.Warnings.Select(w => w.Message)],
        }.SpanOver(IntervalName(level), 5, 6);
        var shown = Shown().Select(s => (s, Value: s.Of(fit))).Where(s => s.Value is not null).ToArray();
        List<Inline> facts = [];
        foreach (var (statistic, value) in shown)
        {
            if (facts.Count > 0) facts.Add(new TextInline("; "));
            facts.AddRange([.. Names.Word(statistic.Name).Inlines, new TextInline(" ")]);
            facts.Add(new ValueInline(value, statistic.Format));
        }
        facts.Add(new TextInline("."));
        RichText[] sentences = [Sentence($"{Opening(EstimatorOf(fit, Names))} of {Names[fit.Response]}; standard errors {ErrorsOf(fit)}."), .. ExponentiatedNote(), .. InfiniteNote()];
        return Finish(table, [.. sentences, new RichText([.. facts]), .. MissingNote(), .. OwnNotes(fits)], Known());
    }

    /// <inheritdoc/>
    public override Table ToTable() => (this with { Names = RecordLabels() }).Build();

    private Table Build()
    {
        var names = heads.IsEmpty ? [.. fits.Select((_, i) => $"({i + 1})")] : heads;
        var plan = Plan();
        var perModel = beside && uncertainty != Uncertainty.None ? 2 : 1;
        var rows = plan.SelectMany(row => row.Term is null ? [HeadingRow(row, 1 + (fits.Length * perModel))] : TermRows(row)).ToList();
        var warnings = new List<string>();
        rows.AddRange(BelowTerms(perModel, warnings));
        var table = new Table
        {
            Columns = [new(Alignment.Left), .. fits.SelectMany(_ => Enumerable.Range(0, perModel).Select(i => new TableColumn(Alignment.Decimal) { WidthGroup = i + 1 }))],
            HeaderRows = [perModel == 1 ? HeaderRow(names) : new TableRow([TableCell.Empty, .. fits.SelectMany((_, i) => new[] { Text(Names.Word(exponentiated[i] ? "Ratio" : "Estimate")), Text(UncertaintyName()) })])],
            Rows = [.. rows],
            Warnings = [.. fits.SelectMany((f, i) => f.Warnings.Select(w => fits.Length == 1 ? w.Message : $"model {names[i]}: {w.Message}")), .. warnings, .. UnknownTerms()],
        };
        if (perModel == 2) for (var i = 0; i < fits.Length; i++) table = table.SpanOver(names[i], 1 + (i * 2), 2 + (i * 2));
        foreach (var (words, from, to) in spans)
            table = table.SpanOver((RichText)(words.StartsWith(ResponseMark) ? Names[words[1..]] : words), 1 + (from * perModel), (to + 1) * perModel);
        for (var i = 0; i < fits.Length; i++)
            if (!fits[i].Converged) table = MarkNotConverged(table, names[i]);
        return Finish(table, Explain(names), Known());
    }

    private const char ResponseMark = '\u0001';

    private Table MarkNotConverged(Table table, string name)
    {
        var note = Sentence($"The iteration did not converge; the estimates are not to be relied on.");
        var mark = new RaisedInline("a");
        TableRow Marked(TableRow row) => row with { Cells = [.. row.Cells.Select(c => c.Content.ToPlainText() == name ? c with { Sign = mark.Text } : c)] };
        return table with
        {
            HeaderRows = [.. table.HeaderRows.Select(Marked)],
            Notes = table.Notes.IsEmpty ? [new RichText([mark, new TextInline("\u00A0"), .. note.Inlines])] : table.Notes,
        };
    }

    private static TableRow HeaderRow(ImmutableArray<string> names) => new([TableCell.Empty, .. names.Select(n => Text(n))]);

    private static TableRow HeadingRow(PlanRow row, int columns) => TableRow.Heading(row.Words, columns) with { Level = row.Level };

    private IEnumerable<TableRow> TermRows(PlanRow row)
    {
        var estimates = new List<TableCell> { row.Words };
        var beneath = new List<TableCell> { "" };
        for (var i = 0; i < fits.Length; i++)
        {
            if (Find(fits[i], row.Term!) is not { } term)
            {
                estimates.Add("");
                (beside ? estimates : beneath).Add("");
                continue;
            }
            var numbers = FormatOf(i, term);
            estimates.Add(Number(EstimateOf(i, term), numbers) with { Sign = SignOf(term.PValue) });
            (beside ? estimates : beneath).Add(UncertaintyCell(i, term, numbers));
        }
        var hasSecond = !beside && uncertainty != Uncertainty.None;
        if (uncertainty == Uncertainty.None && beside) estimates = [.. estimates.Where((_, i) => i == 0 || i % 2 == 1)];
        yield return new TableRow([.. estimates]) { Level = row.Level, KeepsWithNext = hasSecond };
        if (hasSecond) yield return new TableRow([.. beneath]) { Level = row.Level };
    }

    private TableCell UncertaintyCell(int model, TermEstimate term, string numbers) => uncertainty switch
    {
        Uncertainty.StandardError => Bracketed(Number(ErrorOf(model, term), numbers)),
        Uncertainty.Statistic => Bracketed(Number(term.Statistic, "0.00")),
        Uncertainty.PValue => Bracketed(PValue(term.PValue)),
        Uncertainty.Interval => IntervalCell(IntervalOf(model, term), numbers),
        _ => "",
    };

    private TableCell Bracketed(TableCell cell) => beside ? cell : new(new RichText([new TextInline("("), .. cell.Content.Inlines, new TextInline(")")]));

    /// <summary>Indicator rows and fit statistics, under a thin rule.</summary>
    private IEnumerable<TableRow> BelowTerms(int perModel, List<string> warnings)
    {
        var absorbed = fits.SelectMany(f => f.AbsorbedGroupings).Distinct();
        var all = absorbed.Where(a => indicators.All(i => i.Variable != a)).Select(a => (Words: Sentence($"{Names[a]} effects"), Variable: (string?)a, Values: ImmutableArray<bool>.Empty)).Concat(indicators.Select(i => ((RichText)i.Words, i.Variable, i.Values)));
        var isFirst = true;
        foreach (var (words, variable, given) in all)
        {
            var values = variable is null ? given : [.. fits.Select(f => Has(f, variable))];
            if (!values.Contains(true)) warnings.Add($"no model has `{variable}`, for which the row `{words}` stands{Hint(variable)}");
            yield return Row(words, values.Select(v => (TableCell)Names.Word(v ? "yes" : "no")));
        }
        foreach (var statistic in Shown())
        {
            var values = fits.Select(statistic.Of).ToArray();
            if (statistic == FitStatistic.F) warnings.AddRange(fits.Select(f => FitStatistic.FOf(f).Reason).OfType<string>());
            if (values.Any(v => v is not null)) yield return Row(Names.Word(statistic.Name), values.Select(v => v is null ? "" : Number(v, statistic.Format) with { Alignment = Alignment.Right }));
        }

        TableRow Row(RichText words, IEnumerable<TableCell> cells)
        {
            var row = new TableRow([words, .. cells.SelectMany(c => perModel == 1 ? [c] : new[] { c, "" })]) { RuleAbove = isFirst };
            isFirst = false;
            return row;
        }
    }

    private ImmutableArray<FitStatistic> Shown() => statistics.IsEmpty ? [.. FitStatistic.Usual.Concat(FitStatistic.OwnOf(fits)).Distinct()] : [.. statistics.SelectMany(FitStatistic.WithKin).Distinct()];

    private static bool Has(IModelResult fit, string variable) =>
        fit.Terms.Any(t => t.Term.Variable == variable) || fit.AbsorbedGroupings.Contains(variable);

    // Terms

    /// <summary>A row of the table: a term by name, or the heading of a factor.</summary>
    private sealed record PlanRow(RichText Words, string? Term, int Level);

    /// <summary>The terms of all models in the order in which they appear, the constant last; a factor's levels under its name.</summary>
    private List<PlanRow> Plan()
    {
        var terms = fits.SelectMany(f => f.Terms.Select(t => t.Term)).DistinctBy(t => t.Name).Where(IsShown).ToList();
        var variables = terms.Select(t => t.Variable).Distinct()
            .OrderBy(v => v == Term.InterceptName ? 1 : 0)
            .ThenBy(v => first.IndexOf(v) is >= 0 and var place ? place : terms.Where(t => t.Variable == v).Select(t => first.IndexOf(t.Name)).Where(p => p >= 0).DefaultIfEmpty(int.MaxValue).Min())
            .ToList();
        if (first.Contains(Term.InterceptName)) variables = [.. variables.OrderBy(v => first.IndexOf(v) is >= 0 and var place ? place : int.MaxValue)];
        var plan = new List<PlanRow>();
        int GroupOf(string variable) => Enumerable.Range(0, groups.Length).FirstOrDefault(g => groups[g].Terms.Contains(variable) || terms.Any(t => t.Variable == variable && groups[g].Terms.Contains(t.Name)), -1);
        // A group stands where the first of its variables does.
        var places = variables.Select((v, i) => (Variable: v, Group: GroupOf(v), Place: i)).ToList();
        var lastGroup = -1;
        foreach (var (variable, group, _) in places.OrderBy(p => p.Group < 0 ? p.Place : places.First(o => o.Group == p.Group).Place).ThenBy(p => p.Place))
        {
            if (group >= 0 && group != lastGroup) plan.Add(new PlanRow(groups[group].Words, null, 0));
            lastGroup = group;
            var depth = group < 0 ? 0 : 1;
            var own = terms.Where(t => t.Variable == variable).ToList();
            var isFactor = own.TrueForAll(t => t.Level is not null && !t.Name.Contains(" × ", StringComparison.Ordinal));
            string[] levels = [.. own.SelectMany(t => new[] { t.Level, t.Reference }).OfType<string>().Distinct()];
            if (isFactor)
            {
                var references = own.Select(t => t.Reference).OfType<string>().Distinct().Select(r => Names.Level(variable, r, levels)).ToArray();
                plan.Add(new PlanRow(references.Length == 0 ? Names[variable] : Sentence($"{Names[variable]} ({Names.Word("reference")}: {RichText.Join(", ", references)})"), null, depth));
            }
            plan.AddRange(own.OrderBy(t => first.IndexOf(t.Name) is >= 0 and var place ? place : int.MaxValue)
                .Select(t => new PlanRow(isFactor ? Names.Level(variable, t.Level!, levels) : Names.Term(t.Name), t.Name, depth + (isFactor ? 1 : 0))));
        }
        return plan;
    }

    /// <summary>The rows of the terms in order, with their words; a row without a term heads others.</summary>
    internal IReadOnlyList<(RichText Words, string? Term)> RowsOfTerms() => [.. (this with { Names = RecordLabels() }).Plan().Select(r => (r.Words, r.Term))];

    /// <summary>What the models are called: by their heads, or by numbers.</summary>
    internal IReadOnlyList<string> HeadsOfModels() => heads.IsEmpty ? [.. fits.Select((_, i) => $"({i + 1})")] : heads;

    private bool IsShown(Term term)
    {
        bool Named(ImmutableArray<string> names) => names.Contains(term.Name) || names.Contains(term.Variable);
        return (kept.IsEmpty || Named(kept)) && !Named(dropped) && indicators.All(i => i.Variable != term.Variable);
    }

    private Labels RecordLabels() => fits.Aggregate(Names, (labels, fit) => labels.Or(Tables.Labels.Of(fit.RecordType)));

    private static TermEstimate? Find(IModelResult fit, string name)
    {
        foreach (var term in fit.Terms)
            if (term.Name == name) return term;
        return null;
    }

    private double EstimateOf(int model, TermEstimate term) => exponentiated[model] ? Math.Exp(term.Estimate) : term.Estimate;

    private double ErrorOf(int model, TermEstimate term) => exponentiated[model] ? Math.Exp(term.Estimate) * term.StandardError : term.StandardError;

    private Interval IntervalOf(int model, TermEstimate term)
    {
        var interval = term.Interval(level);
        return exponentiated[model] ? new Interval(Math.Exp(interval.Low), Math.Exp(interval.High)) : interval;
    }

    private string FormatOf(int model, TermEstimate term) => format ?? EstimateFormat(EstimateOf(model, term), ErrorOf(model, term), decimals);

    // Notes

    private RichText UncertaintyName() => uncertainty switch
    {
        Uncertainty.Statistic => fits.All(f => double.IsPositiveInfinity(f.TestDegreesOfFreedom)) ? "z" : "t",
        Uncertainty.PValue => Names.Word("p"),
        Uncertainty.Interval => IntervalName(level),
        _ => Names.Word("Std. error"),
    };

    private IEnumerable<RichText> Explain(ImmutableArray<string> names)
    {
        yield return RichText.Join("", [Opening(Grouped(f => EstimatorOf(f, Names), names)), "."]);
        foreach (var sentence in ExponentiatedNote(names)) yield return sentence;
        foreach (var sentence in InfiniteNote()) yield return sentence;
        var errors = Grouped(ErrorsOf, names);
        var same = fits.Select(f => ErrorsOf(f).ToPlainText()).Distinct().Count() == 1;
        var isNormal = fits.All(f => double.IsPositiveInfinity(f.TestDegreesOfFreedom));
        yield return uncertainty switch
        {
            Uncertainty.StandardError when same => beside ? Sentence($"Standard errors, {errors}.") : Sentence($"Standard errors in parentheses, {errors}."),
            Uncertainty.StandardError => beside ? Sentence($"Standard errors: {errors}.") : Sentence($"Standard errors in parentheses: {errors}."),
            Uncertainty.Statistic => beside ? Sentence($"{(isNormal ? "z" : "t")} statistics; standard errors: {errors}.") : Sentence($"{(isNormal ? "z" : "t")} statistics in parentheses; standard errors: {errors}."),
            Uncertainty.PValue => beside ? Sentence($"p-values; standard errors: {errors}.") : Sentence($"p-values in parentheses; standard errors: {errors}."),
            Uncertainty.Interval => beside ? Sentence($"{Share(level)}% intervals; standard errors: {errors}.") : Sentence($"{Share(level)}% intervals in brackets; standard errors: {errors}."),
            _ => Sentence($"Significance uses these standard errors: {errors}."),
        };
        foreach (var signs in SignsNote()) yield return signs;
        foreach (var missing in MissingNote()) yield return missing;
        foreach (var own in OwnNotes(fits)) yield return own;
    }

    /// <summary>"clustered by Apiary (48 clusters)".</summary>
    private RichText ErrorsOf(IModelResult fit) => fit.ClusterCounts switch
    {
        [] => Kind(fit, Names),
        [var only] => Sentence($"{Kind(fit, Names)} ({only} clusters)"),
        [var first, var second, ..] => Sentence($"{Kind(fit, Names)} ({first} and {second} clusters)"),
    };

    private IEnumerable<RichText> InfiniteNote()
    {
        if (fits.Any(f => f.Terms.Any(t => IsShown(t.Term) && double.IsInfinity(t.Estimate)))) yield return Sentence($"∞: the data give the estimate no finite value.");
    }

    private IEnumerable<RichText> ExponentiatedNote(ImmutableArray<string> names = default)
    {
        if (!exponentiated.Contains(true)) yield break;
        if (!exponentiated.Contains(false)) yield return Sentence($"Estimates are exponentiated: ratios for one unit more, with standard errors by the delta method.");
        else yield return Sentence($"Estimates of {string.Join(", ", fits.Select((_, i) => i).Where(i => exponentiated[i]).Select(i => names[i]))} are exponentiated: ratios for one unit more, with standard errors by the delta method.");
    }

    private IEnumerable<RichText> MissingNote() => LeftOut(Shown().Contains(FitStatistic.RowsLeftOut) ? [0] : [.. fits.Select(f => f.RowsLeftOut)], [.. fits.Select(f => f.RowsOutsideDomain)]);

    /// <summary>What all fits share, or what each group of them has: "(1), (2): least squares; (3): logistic regression".</summary>
    private RichText Grouped(Func<IModelResult, RichText> what, ImmutableArray<string> names)
    {
        var groups = fits.Select((f, i) => (What: what(f), Name: names[i])).GroupBy(f => f.What.ToPlainText()).ToArray();
        return groups.Length > 1 ? RichText.Join("; ", groups.Select(g => RichText.Join(": ", [string.Join(", ", g.Select(f => f.Name)), g.First().What]))) : groups[0].First().What;
    }

    private IEnumerable<string> UnknownTerms()
    {
        var known = fits.SelectMany(f => f.Terms.SelectMany(t => new[] { t.Name, t.Term.Variable })).ToHashSet();
        return first.Concat(dropped).Concat(kept).Concat(groups.SelectMany(g => g.Terms)).Distinct().Where(n => !known.Contains(n)).Select(n => $"no model has a term `{n}`{Hint(n)}");
    }

    private string Hint(string? name) => name is not null && Nearest.Suggest(name, fits.SelectMany(f => f.Terms.Select(t => t.Term.Variable)).Distinct()) is { } hint ? $"; {hint}" : "";

    /// <summary>All that a label may name.</summary>
    private IEnumerable<string> Known() =>
        fits.SelectMany(f => f.Terms.SelectMany(t => new[] { t.Name, t.Term.Variable, $"{t.Term.Variable}={t.Term.Reference}" }).Concat(f.AbsorbedGroupings).Append(f.Response))
            .Concat(Shown().Select(s => s.Name)).Concat(["Estimate", "Ratio", "Std. error", "p", "low", "high", "yes", "no", "reference"]);

    private static ReportException Wrong(string message, string suggestion) => new(Diagnostic.Error(null, message, suggestion));
}
