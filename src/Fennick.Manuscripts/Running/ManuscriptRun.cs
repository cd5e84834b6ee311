using System.Collections.Immutable;
using System.ComponentModel;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Manuscripts.Steps;
using Fennick.Prose;
using Fennick.Tables;
using Markdig.Syntax;
using Block = Fennick.Documents.Block;
using Inline = Fennick.Documents.Inline;
using ListBlock = Fennick.Documents.ListBlock;

namespace Fennick.Manuscripts.Running;

/// <summary>One run of a compiled manuscript: takes values and results, and places blocks. Only compiled manuscripts call it.</summary>
[EditorBrowsable(EditorBrowsableState.Never)]
public sealed class ManuscriptRun : IProseHost
{
    private const int MostDigits = 6;

    private readonly ManuscriptTree tree;
    private readonly IReadOnlyDictionary<string, object> parameters;
    private readonly RichText?[] values;
    private readonly object?[] results;
    private readonly ImmutableArray<Block>.Builder blocks = ImmutableArray.CreateBuilder<Block>();
    private readonly ProseConverter converter;
    private readonly List<(ManuscriptBody Body, int Next)> cursors = [];
    private (ManuscriptUnit? Unit, int End) last;
    private int writtenBefore;

    internal ManuscriptRun(ManuscriptTree tree, IReadOnlyDictionary<string, object> parameters)
    {
        this.tree = tree;
        this.parameters = parameters;
        values = new RichText?[tree.Executables.Length];
        results = new object?[tree.Executables.Length];
        converter = new ProseConverter(this);
        cursors.Add((tree.Body, 0));
    }

    internal List<Diagnostic> Diagnostics { get; } = [];

    private Language Language => tree.Settings.Language;

    /// <summary>The value of a parameter.</summary>
    public T Parameter<T>(string name) => (T)parameters[name];

    /// <summary>Names the step that begins, for what it writes to the console.</summary>
    public void Begin(int ordinal)
    {
        var step = (Step)tree.Executables[ordinal];
        var name = NameOf(step);
        StepConsole.CurrentStep = name;
        if (step.Role == StepRole.Show) writtenBefore = StepConsole.WrittenBy(name).Length;
    }

    /// <summary>Takes the value of an expression in braces.</summary>
    public void Value(int ordinal, object? value)
    {
        var hole = (ValueHole)tree.Executables[ordinal];
        switch (value)
        {
            case Inline inline when hole.Format is null:
                values[ordinal] = new RichText([inline]);
                return;
            case RichText rich when hole.Format is null:
                values[ordinal] = rich;
                return;
            case ITableSource or Chart:
                Add(Diagnostic.Error(tree.PlaceOf(ordinal), $"`{hole.Expression}` is a {(value is Chart ? "chart" : "table")}, which cannot stand in a sentence",
                    value is Chart ? "place it with a `figure` step" : "place it with a `table` step"));
                return;
        }
        try
        {
            var text = ValueFormatter.Format(value, hole.Format, Language);
            if (value is double or float or decimal && text.SkipWhile(c => c is not (>= '1' and <= '9')).Count(char.IsAsciiDigit) is > MostDigits and var digits)
                Add(new Diagnostic(Severity.Advice, tree.PlaceOf(ordinal), $"`{hole.Expression}` prints {digits} digits, more than a reader takes in", "round it with a format, such as `:0.0`"));
            values[ordinal] = RichText.Plain(text);
        }
        catch (ValueFormatException problem)
        {
            Add(Diagnostic.Error(tree.PlaceOf(ordinal), problem.Message, problem.Suggestion));
        }
    }

    /// <summary>Takes the result of a step.</summary>
    /// <exception cref="ReportException">It cannot become what the step's role asks for.</exception>
    public void Result(int ordinal, object? value)
    {
        var step = (Step)tree.Executables[ordinal];
        var role = step.Role.ToString().ToLowerInvariant();
        results[ordinal] = (step.Role, value) switch
        {
            (StepRole.Table, not null and not Chart and not Inline and not RichText) when TableResults.Find(value) is { } source => source.ToTable(),
            (StepRole.Figure, Chart chart) => chart,
            (StepRole.Text, not null) when TextResults.Find(value, Language, tree.PlaceOf(ordinal)) is { } placed => placed,
            (StepRole.Show, _) => new Shown(value),
            (_, null) => throw Wrong($"this `{role}` step gave nothing (null)", "its last line must give what is to be placed"),
            (StepRole.Table, Chart) => throw Wrong("this `table` step gave a chart", "place it with a `figure` step"),
            (StepRole.Figure, ITableSource) => throw Wrong("this `figure` step gave a table", "place it with a `table` step"),
            _ => throw Wrong($"this `{role}` step gave a {value.GetType().Name}, which cannot become a {role}",
                step.Role == StepRole.Text ? "its last line must give a text, a block, or a sequence of both" : step.Role == StepRole.Table ? "its last line must give a table, such as `Table.Of(records).Column(…)`, a sequence of records, a `DataTable` or a `DataFrame`" : "its last line must give a chart, such as `Chart.Columns(…)`"),
        };

        ReportException Wrong(string message, string suggestion) => new(Diagnostic.Error(null, message, suggestion));
    }

    /// <summary>Takes a value that nothing is done with.</summary>
    public static void Ignore(object? value) => _ = value;

    /// <summary>
    /// Places the next block that has something to carry out, with the values and results of now, and the plain blocks before it.
    /// </summary>
    /// <remarks>Plain blocks have no number in the program: editing them compiles nothing.</remarks>
    public void Place()
    {
        PlacePlainUnits();
        PlaceNext();
    }

    /// <summary>Goes past the next loop or condition, after the plain blocks before it.</summary>
    public void Control()
    {
        PlacePlainUnits();
        cursors[^1] = cursors[^1] with { Next = cursors[^1].Next + 1 };
    }

    /// <summary>Begins a pass of a loop, or the branch of a condition that was chosen.</summary>
    /// <param name="body">Its number.</param>
    /// <param name="depth">In how many bodies it stands; a pass that was left early is forgotten.</param>
    public void Enter(int body, int depth)
    {
        Return(depth);
        cursors.Add((tree.Bodies[body], 0));
    }

    /// <summary>Ends a pass with the plain blocks that are left.</summary>
    public void Leave() => PlacePlainUnits();

    /// <summary>Goes on behind a loop or a condition.</summary>
    public void Return(int depth) => cursors.RemoveRange(depth, cursors.Count - depth);

    /// <summary>What a loop runs over.</summary>
    /// <exception cref="ReportException">It is nothing.</exception>
    public static T NotNull<T>(T? sequence) => sequence ?? throw new ReportException(Diagnostic.Error(null, "this loop runs over nothing (null)", "give an empty sequence instead, or put `{if …}` around it"));

    private void PlacePlainUnits()
    {
        while (cursors[^1] is var (body, next) && next < body.Nodes.Length && body.Nodes[next] is ManuscriptUnit { Executables.IsEmpty: true }) PlaceNext();
    }

    private void PlaceNext()
    {
        var (body, next) = cursors[^1];
        cursors[^1] = (body, next + 1);
        var unit = (ManuscriptUnit)body.Nodes[next];
        var placed = converter.Convert(unit.Block);
        // The items that a loop makes, one list a pass, are one list.
        if (last.Unit == unit && last.End == blocks.Count && placed is [ListBlock more] && blocks[^1] is ListBlock list)
            blocks[^1] = list with { Items = list.Items.AddRange(more.Items) };
        else
            blocks.AddRange(placed);
        last = (unit, blocks.Count);
    }

    /// <summary>The report that the run made.</summary>
    internal ReportContent Finish()
    {
        PlacePlainUnits();
        var settings = tree.Settings;
        return new ReportContent
        {
            Title = Prose(tree.Title),
            Subtitle = Prose(tree.Subtitle),
            Authors = settings.Authors,
            Date = settings.Date,
            Language = settings.Language,
            Settings = settings.Report,
            Blocks = blocks.ToImmutable(),
        };
    }

    ImmutableArray<Inline> IProseHost.Fill(HoleInline hole)
    {
        if (tree.References.TryGetValue(hole, out var see))
        {
            var references = see.Labels.Select(l => new SeeInline(NameOf(l), l.Place) { Part = see.Part }).ToImmutableArray();
            return references is [var only] ? [only] : [new SeeAllInline(references)];
        }
        return tree.Values.TryGetValue(hole, out var value) && values[value.Ordinal] is { } text ? text.Inlines : [];
    }

    Label? IProseHost.LabelOf(HeadingBlock heading) => tree.HeadingLabels.TryGetValue(heading, out var label) ? new Label(NameOf(label), label.Place) : null;

    ImmutableArray<Block> IProseHost.Fill(DirectiveBlock directive) => [new PageBreak()];

    ImmutableArray<Block>? IProseHost.Fill(FencedCodeBlock fence)
    {
        if (!tree.Steps.TryGetValue(fence, out var step)) return null;
        var placed = Placed(step);
        return step.Role != StepRole.Show && (step.Head.Listing ?? tree.Settings.Listing) ? placed.Insert(0, ListingOf(step)) : placed;
    }

    private static Listing ListingOf(Step step) => new(step.Code.Text.Trim('\n'));

    private ImmutableArray<Block> Placed(Step step)
    {
        var place = tree.PlaceOf(step.Ordinal);
        return (step.Role, results[step.Ordinal]) switch
        {
            (StepRole.Table, Table table) =>
            [
                new TableBlock(step.Head.Turning is { } turning ? table with { MayTurn = turning } : table)
                {
                    Label = LabelOf(step),
                    Caption = Prose(step.Head.Caption),
                    Note = Prose(step.Head.Note),
                    Ruling = step.Head.Ruling,
                    Place = place,
                },
            ],
            (StepRole.Figure, Chart chart) =>
            [
                new FigureBlock(chart)
                {
                    Label = LabelOf(step),
                    Caption = Prose(step.Head.Caption),
                    Note = Prose(step.Head.Note),
                    AlternativeText = Prose(step.Head.AlternativeText)?.ToPlainText(Language),
                    Width = step.Head.Width,
                    Height = step.Head.Height,
                    Place = place,
                },
            ],
            (StepRole.Text, ImmutableArray<Block> placed) => placed,
            (StepRole.Show, var shown) => ShowStep(step, (shown as Shown)?.Value),
            _ => [],
        };
    }

    private ImmutableArray<Block> ShowStep(Step step, object? value)
    {
        var blocks = ImmutableArray.CreateBuilder<Block>();
        blocks.Add(ListingOf(step));
        var written = StepConsole.WrittenBy(NameOf(step))[writtenBefore..].TrimEnd();
        if (written.Length > 0) blocks.Add(new Listing(written));
        if (value is not null) blocks.AddRange(TextResults.Show(value, Language, tree.PlaceOf(step.Ordinal)));
        return blocks.ToImmutable();
    }

    private string NameOf(Step step) => step.Label?.Text ?? $"line {tree.PlaceOf(step.Ordinal).Line}";

    private Label? LabelOf(Step step) => step.Label is { } label ? new Label(NameOf(label), label.Place) : null;

    /// <summary>A label with its values of now; they are brought to the form of a label.</summary>
    private string NameOf(LabelTemplate label) => label.Values.IsEmpty ? label.Text
        : Label.FromWords(string.Concat(label.Parts.Select(p => p.Value is { } hole ? values[hole.Ordinal]?.ToPlainText(Language) ?? "" : p.Text)));

    /// <summary>What a <c>show</c> step gave.</summary>
    private sealed record Shown(object? Value);

    SourcePlace? IProseHost.PlaceOf(int offset) => tree.Source.PlaceOf(offset);

    void IProseHost.Add(Diagnostic diagnostic) => Add(diagnostic);

    private void Add(Diagnostic diagnostic) => Diagnostics.Add(diagnostic);

    private RichText? Prose(ProseFragment? fragment)
    {
        if (fragment is null) return null;
        var host = new FragmentHost(this, fragment);
        return new ProseConverter(host).ConvertAll(fragment.Document) is [Paragraph only] ? only.Content : RichText.Empty;
    }

    /// <summary>Prose in a setting: the same holes, but places count from the setting's own text.</summary>
    private sealed class FragmentHost(ManuscriptRun run, ProseFragment fragment) : IProseHost
    {
        public ImmutableArray<Inline> Fill(HoleInline hole) => ((IProseHost)run).Fill(hole);

        public ImmutableArray<Block>? Fill(FencedCodeBlock fence) => null;

        public Label? LabelOf(HeadingBlock heading) => null;

        public ImmutableArray<Block> Fill(DirectiveBlock directive) => [];

        public SourcePlace? PlaceOf(int offset) => run.tree.Source.PlaceOf(fragment.Entry.Value.ToSource(offset));

        public void Add(Diagnostic diagnostic) => run.Add(diagnostic);
    }
}
