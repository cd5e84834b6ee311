using System.Collections.Immutable;
using System.ComponentModel;
using System.Globalization;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Manuscripts.Compilation;
using Fennick.Manuscripts.Editing;
using Fennick.Manuscripts.Reuse;
using Fennick.Manuscripts.Settings;
using Fennick.Manuscripts.Steps;
using Fennick.Mathematics;
using Fennick.Pictures;
using Fennick.Plots;
using Fennick.Prose;
using Fennick.Running;
using Fennick.Tables;
using Markdig.Syntax;
using Block = Fennick.Documents.Block;
using Inline = Fennick.Documents.Inline;

namespace Fennick.Manuscripts.Running;

/// <summary>One run of a compiled manuscript: takes values and results, and places blocks. Only compiled manuscripts call it.</summary>
[EditorBrowsable(EditorBrowsableState.Never)]
public sealed class ManuscriptRun : IProseHost
{
    private const int MostDigits = 6;

    private readonly ManuscriptTree tree;
    private readonly IReadOnlyDictionary<string, object> parameters;
    private readonly ImmutableArray<Block>.Builder blocks = ImmutableArray.CreateBuilder<Block>();
    private readonly ProseConverter converter;

    /// <summary>Where the program stands: the whole, then each pass inside the one before.</summary>
    private readonly List<Frame> frames = [new Frame(null)];
    private readonly Dictionary<string, RichText> slots = [];
    private readonly Dictionary<int, string> arguments = [];
    private readonly Dictionary<int, string> commands = [];
    private Frame placing;
    private int next;
    private int lastStep;
    private int writtenBefore;
    private bool isInMargin;

    // Of the piece that runs.
    private object? rawResult;
    private int toldBefore;
    private int formatsBefore;

    internal ManuscriptRun(ManuscriptTree tree, IReadOnlyDictionary<string, object> parameters)
    {
        this.tree = tree;
        this.parameters = parameters;
        House = tree.Settings.House;
        placing = frames[0];
        converter = new ProseConverter(this);
    }

    internal List<Diagnostic> Diagnostics { get; } = [];

    /// <summary>What the report wears.</summary>
    internal House House { get; init; }

    /// <summary>Whether values and blocks know where they come from.</summary>
    internal bool KeepsOrigins { get; init; }

    /// <summary>Takes the values in braces for those who go on writing; null if nobody does.</summary>
    internal List<LastValue>? LastValues { get; init; }

    /// <summary>What came of the steps in runs before; null if all of them run.</summary>
    internal StepMemory? Memory { get; init; }

    /// <summary>What watches the run if it is a trial.</summary>
    internal Trial? Trial { get; init; }

    private Language Language => (RunContext.Current as StepContext)?.Formats.In(tree.Settings.Language) ?? tree.Settings.Language;

    /// <summary>The value of a parameter.</summary>
    public T Parameter<T>(string name) => (T)parameters[name];

    /// <summary>Names the step that begins, for what it writes to the console.</summary>
    public void Begin(int ordinal)
    {
        RunContext.Current?.Stop.ThrowIfCancellationRequested();
        var step = (Step)tree.Executables[ordinal];
        var name = NameOf(step);
        lastStep = ordinal;
        Trial?.Begin(step, name);
        StepMark.Begin(name, tree.PlaceOf(ordinal));
        StepConsole.CurrentStep = name;
        if (step.Role == StepRole.Show) writtenBefore = StepConsole.WrittenBy(name).Length;
    }

    /// <summary>Whether a piece of the program need not run: then what it gave before is given again.</summary>
    public bool Reuses(int ordinal)
    {
        if (Memory?.Find(ordinal) is not { } kept)
        {
            FilesRead.BeginRecent();
            rawResult = null;
            (toldBefore, formatsBefore) = (Diagnostics.Count, Formats?.Count ?? 0);
            return false;
        }
        RunContext.Current?.Stop.ThrowIfCancellationRequested();
        foreach (var file in kept.Files) FilesRead.Note(file);
        foreach (var format in kept.Formats) Formats?.Add(format);
        switch (tree.Executables[ordinal])
        {
            case ValueHole when kept.Given is RichText text:
                var place = tree.PlaceOf(ordinal);
                Note((ValueHole)tree.Executables[ordinal], text, text.Inlines.OfType<TextInline>().SelectMany(i => i.Origins).Select(o => o.Origin.Value).FirstOrDefault() ?? "");
                frames[^1].Give(ordinal, new RichText([.. text.Inlines.Select(i => i is TextInline words ? words with { Origins = [.. words.Origins.Select(o => o with { Origin = o.Origin with { Place = place } })] } : i)]));
                break;
            case Step step:
                var name = NameOf(step);
                Trial?.End();
                lastStep = ordinal;
                StepConsole.CurrentStep = name;
                StepConsole.Take(kept.Written);
                // Words know where they stand, which may be elsewhere now.
                if (kept.Raw is { } raw) frames[^1].GiveResult(ordinal, TextResults.Find(raw, Language, tree.PlaceOf(ordinal))!.Value);
                else if (kept.Given is { } given) frames[^1].GiveResult(ordinal, given);
                if (kept.Shown is { } shown) Trial?.ShowAgain(step, name, shown);
                break;
        }
        return true;
    }

    /// <summary>The value that a piece gave a variable in a run before.</summary>
    public T Kept<T>(int ordinal, int index) => (T)Memory!.Find(ordinal)!.Values[Memory.NamesOf(ordinal)[index]]!;

    /// <summary>A piece has run: what it gave is kept for the runs to come.</summary>
    public void Keep(int ordinal, params object?[] values)
    {
        if (Memory is null) return;
        var executable = tree.Executables[ordinal];
        if (executable is Step) Trial?.End();
        // What was said of it is said again when it runs again.
        Diagnostics.AddRange(FilesRead.TakeTold());
        if (Diagnostics.Count > toldBefore) return;
        Memory.Keep(ordinal, new KeptPiece
        {
            Values = Memory.NamesOf(ordinal).Zip(values).ToDictionary(v => v.First, v => v.Second, StringComparer.Ordinal),
            Given = executable is ValueHole ? frames[^1].Value(ordinal) : frames[^1].Result(ordinal),
            Raw = executable is Step { Role: StepRole.Text } && rawResult is string or Inline or RichText or Block ? rawResult : null,
            Written = executable is Step ? Trial?.Last?.Written ?? "" : "",
            Files = FilesRead.Recent,
            Formats = Formats?.Since(formatsBefore) ?? [],
            Shown = executable is Step ? Trial?.Last : null,
        });
    }

    private static StepContext.OwnFormats? Formats => (RunContext.Current as StepContext)?.Formats;

    /// <summary>Takes the value of an expression in braces.</summary>
    public void Value(int ordinal, object? value)
    {
        var hole = (ValueHole)tree.Executables[ordinal];
        switch (value)
        {
            case Inline inline when hole.Format is null:
                Give(hole, value, new RichText([inline]));
                return;
            case RichText rich when hole.Format is null:
                Give(hole, value, rich);
                return;
            case ITableSource or Chart or IChartSource:
                Add(Diagnostic.Error(tree.PlaceOf(ordinal), $"`{hole.Expression}` is a {(value is Chart or IChartSource ? "chart" : "table")}, which cannot stand in a sentence",
                    value is Chart or IChartSource ? "place it with a `figure` step" : "place it with a `table` step"));
                return;
        }
        try
        {
            var text = ValueFormatter.Format(value, hole.Format, Language);
            if (value is double or float or decimal && text.SkipWhile(c => c is not (>= '1' and <= '9')).Count(char.IsAsciiDigit) is > MostDigits and var digits)
                Add(new Diagnostic(Severity.Advice, tree.PlaceOf(ordinal), $"`{hole.Expression}` prints {digits} digits, more than a reader takes in", "round it with a format, such as `:0.0`"));
            Give(hole, value, RichText.Plain(text));
        }
        catch (ValueFormatException problem)
        {
            Add(Diagnostic.Error(tree.PlaceOf(ordinal), problem.Message, problem.Suggestion));
        }
    }

    private void Give(ValueHole hole, object? value, RichText text)
    {
        if (KeepsOrigins || LastValues is not null)
        {
            Note(hole, text, Origin.Full(value, text.ToPlainText(Language)));
            if (KeepsOrigins) text = new RichText([.. text.Inlines.Select(i => i is TextInline words ? Origin.Mark(words, hole.Expression, hole.Format, value, tree.PlaceOf(hole.Ordinal)) : i)]);
        }
        frames[^1].Give(hole.Ordinal, text);
    }

    private void Note(ValueHole hole, RichText text, string value) => LastValues?.Add(new LastValue(hole.Expression, hole.Format, text.ToPlainText(Language), value));

    /// <summary>Takes the result of a step.</summary>
    /// <exception cref="ReportException">It cannot become what the step's role asks for.</exception>
    public void Result(int ordinal, object? value)
    {
        var step = (Step)tree.Executables[ordinal];
        var role = step.Role.ToString().ToLowerInvariant();
        Trial?.Give(value);
        rawResult = value;
        frames[^1].GiveResult(ordinal, (step.Role, value) switch
        {
            (StepRole.Table, not null and not Chart and not IChartSource and not Inline and not RichText) when TableResults.Find(value) is { } source => source.ToTable(),
            (StepRole.Figure, Chart or ChartPanels or Picture or IDrawnFigure) => value,
            (StepRole.Figure, IChartSource made) => made.ToChart(),
            (StepRole.Figure, not null) when PictureTools.FigureOf(value) is { } plot => plot,
            (StepRole.Text, not null) when TextResults.Find(value, Language, tree.PlaceOf(ordinal)) is { } placed => placed,
            (StepRole.Show, _) => new Shown(value, StepConsole.WrittenBy(NameOf(step))[writtenBefore..].TrimEnd()),
            (_, null) => throw Wrong($"this `{role}` step gave nothing (null)", "its last line must give what is to be placed"),
            (StepRole.Table, Chart or IChartSource) => throw Wrong("this `table` step gave a chart", "place it with a `figure` step"),
            (StepRole.Figure, ITableSource) => throw Wrong("this `figure` step gave a table", "place it with a `table` step"),
            _ => throw Wrong($"this `{role}` step gave {ValueFormatter.DescribeType(value)}, not {step.Role switch { StepRole.Text => "a text or a block", StepRole.Table => "a table or records", _ => "a chart or picture" }}",
                step.Role == StepRole.Text ? "its last line must give a text, a block, or a sequence of both" : step.Role == StepRole.Table ? "its last line must give a table, such as `Table.Of(records).Column(…)`, a sequence of records, a `DataTable` or a `DataFrame`" : "its last line must give a chart, such as `Chart.Columns(…)`, or a `Picture`"),
        });
        if (step.Role == StepRole.Text) Trial?.Give(frames[^1].Result(ordinal));

        ReportException Wrong(string message, string suggestion) => new(Diagnostic.Error(null, message, suggestion));
    }

    /// <summary>Takes a value that a program is handed.</summary>
    public void Argument(int ordinal, object? value) => arguments[ordinal] = ScriptRun.TextOf(value, ((ValueHole)tree.Executables[ordinal]).Expression);

    /// <summary>Runs the program of a step that says what it reads.</summary>
    /// <exception cref="ReportException">It fails.</exception>
    public void RunScript(int ordinal)
    {
        var step = (Step)tree.Executables[ordinal];
        var script = new ScriptRun(step.Script!, tree.Sources.FileOf(step.Offset).Folder, value => arguments[value.Ordinal]);
        var given = script.Run(step.Role, step.Code.Text);
        commands[ordinal] = script.Command;
        if (step.Role == StepRole.Prepare) Ignore(null);
        else Result(ordinal, given);
    }

    /// <summary>Runs the program of a step that does not say what it reads, so that nobody knows when it would give something else.</summary>
    /// <exception cref="ReportException">It fails.</exception>
    public void RunAnything(int ordinal) => RunScript(ordinal);

    /// <summary>Takes a value that stands nowhere.</summary>
    public void Ignore(object? value) => Trial?.Give(value);

    /// <summary>
    /// Places the next block that has something to carry out, with the values and results of now, and the plain blocks before it.
    /// </summary>
    /// <remarks>Plain blocks have no number in the program: editing them compiles nothing.</remarks>
    public void Place()
    {
        Trial?.End();
        PlacePlainUnits();
        PlaceNext();
    }

    /// <summary>Begins a pass of a loop, or the branch of a condition that was chosen.</summary>
    /// <param name="control">The number of the loop or condition.</param>
    /// <param name="branch">Which of its branches.</param>
    /// <param name="depth">In how many passes it stands, counting the whole; one that was left early is ended.</param>
    public void Pass(int control, int branch, int depth)
    {
        Return(depth);
        frames.Add(frames[^1].Begin(control, branch));
    }

    /// <summary>A pass comes to its end.</summary>
    public void Complete()
    {
        Trial?.End();
        frames[^1].IsComplete = true;
    }

    /// <summary>Goes on behind a loop or a condition.</summary>
    public void Return(int depth)
    {
        foreach (var frame in frames.Skip(depth).Where(f => !f.IsComplete)) frame.LeftIn = lastStep;
        frames.RemoveRange(depth, frames.Count - depth);
    }

    /// <summary>What a loop runs over.</summary>
    /// <exception cref="ReportException">It is nothing.</exception>
    public static T NotNull<T>(T? sequence) => sequence ?? throw new ReportException(Diagnostic.Error(null, "this loop runs over nothing (null)", "give an empty sequence instead, or put `{if …}` around it"));

    private void PlacePlainUnits()
    {
        while (next < tree.Units.Length && tree.Units[next].Executables.IsEmpty) PlaceNext();
    }

    private void PlaceNext() => converter.Append(blocks, tree.Units[next++].Block);

    /// <summary>The report that the run made.</summary>
    internal ReportContent Finish()
    {
        Diagnostics.AddRange(FilesRead.TakeTold());
        PlacePlainUnits();
        if (tree.Settings.HasAnnex) PlaceAnnex();
        var settings = tree.Settings;
        return new ReportContent
        {
            Title = Prose(tree.Title),
            Subtitle = Prose(tree.Subtitle),
            Authors = settings.Authors,
            Date = settings.Date,
            Language = Language,
            House = House,
            Slots = Slots(),
            Page = PageSettings.WithWords(settings.Page.Layout, WordsOf(tree.PageWords)),
            Watermark = settings.Watermark,
            Settings = settings.Report,
            Sources = settings.Sources,
            CitationStyle = settings.CitationStyle,
            Blocks = blocks.ToImmutable(),
        };
    }

    ImmutableArray<Inline> IProseHost.Fill(HoleInline hole)
    {
        if (tree.References.TryGetValue(hole, out var see))
        {
            var form = see.Form;
            var references = see.Labels.Select(l => new SeeInline(NameOf(l), l.Place) { Part = form.Part, Panel = form.Panel, Case = form.Case, Word = form.Word }).ToImmutableArray();
            return references is [var only] ? [only] : [new SeeAllInline(references) { Case = form.Case, Word = form.Word }];
        }
        if (tree.Dressed.TryGetValue(hole, out var dressed))
        {
            var words = Prose(dressed.Words)!;
            return [dressed.Style is { } style ? new StyledInline(style, words, dressed.Place) : new ColouredInline(dressed.Colour!, words)];
        }
        if (tree.Abbreviations.TryGetValue(hole, out var abbreviated)) return [new AbbreviationInline(abbreviated.Short, Prose(abbreviated.Words), abbreviated.Place)];
        if (tree.Indexed.TryGetValue(hole, out var indexed)) return Filled(indexed.Term) is { Length: > 0 } term ? [new IndexInline(term, indexed.Detail is { } detail && Filled(detail) is { Length: > 0 } words ? words : null)] : [];
        if (tree.Citations.TryGetValue(hole, out var cite)) return [cite];
        return tree.Values.TryGetValue(hole, out var value) && placing.Value(value.Ordinal) is { } text ? isInMargin ? [.. text.Inlines.Select(Whole)] : text.Inlines : [];

        // A bar in a value parts no header.
        static Inline Whole(Inline inline) => inline is TextInline { Text: var words } && words.Contains('|', StringComparison.Ordinal) ? new ValueInline(words, null) : inline;
    }

    Label? IProseHost.LabelOf(HeadingBlock heading) => LabelOf(tree.HeadingLabels.GetValueOrDefault(heading));

    bool IProseHost.IsNumbered(HeadingBlock heading) => !tree.Unnumbered.Contains(heading);

    string IProseHost.Fill(FormulaNode.Live live) => tree.Lives.TryGetValue(live, out var value) ? placing.Value(value.Ordinal)?.ToPlainText(Language) ?? "" : "";

    Formula? IProseHost.FormulaOf(MarkdownObject formula) => tree.Formulas.GetValueOrDefault(formula);

    Label? IProseHost.LabelOf(FormulaBlock formula) => LabelOf(tree.FormulaLabels.GetValueOrDefault(formula));

    ImmutableArray<Block> IProseHost.Fill(DirectiveBlock directive) => tree.Directives.TryGetValue(directive, out var block) ? [block] : [];

    Block IProseHost.WithCaption(MarkdownObject captioned, Block block)
    {
        if (!tree.Captions.TryGetValue(captioned, out var said)) return block;
        var label = LabelOf(said.Label);
        return block switch
        {
            TableBlock table => table with { Label = label, Caption = Prose(said.Caption), Place = said.Place },
            Paragraph { Content.Inlines: [PictureInline picture] } => new FigureBlock(picture.Picture)
            {
                Label = label,
                Caption = Prose(said.Caption),
                AlternativeText = picture.AlternativeText,
                Width = said.Width,
                Height = said.Height,
                Place = said.Place,
            },
            _ => block,
        };
    }

    IEnumerable<BranchBlock> IProseHost.Passes(ControlBlock control) => Passes(control).Select(branch => (BranchBlock)control[branch]);

    bool IProseHost.IsLeftIn(Markdig.Syntax.Block block)
    {
        if (placing.LeftIn is not { } ordinal) return false;
        bool IsStep(Markdig.Syntax.Block inner) => inner is FencedCodeBlock fence && tree.Steps.TryGetValue(fence, out var step) && step.Ordinal == ordinal;
        return IsStep(block) || (block is ContainerBlock container && container.Descendants<FencedCodeBlock>().Any(IsStep));
    }

    IEnumerable<BranchInline> IProseHost.Passes(ControlInline control) => Passes(control).Select(branch => control.OfType<BranchInline>().ElementAt(branch));

    /// <summary>The branches of a loop's or condition's passes; while one is asked for, its values fill the holes.</summary>
    private IEnumerable<int> Passes(MarkdownObject control)
    {
        var outer = placing;
        foreach (var (branch, frame) in outer.TakePasses(tree.Controls[control].Ordinal))
        {
            placing = frame;
            yield return branch;
            placing = outer;
        }
    }

    string IProseHost.TargetOf(Markdig.Syntax.Inlines.LinkInline link) => tree.Targets.TryGetValue(link, out var target) ? Filled(target) : HoleMarks.Restore(link.Url ?? "");

    Block IProseHost.WithWords(ControlBlock control, Block block)
    {
        var head = tree.Controls[control].Branches[0].Head;
        if (block is Pages pages && tree.Margins.TryGetValue(head, out var words)) return pages with { Layout = PageSettings.WithWords(pages.Layout, WordsOf(words)) };
        if (!tree.Around.TryGetValue(head, out var said)) return block;
        return block is SeriesItem item ? item with { Label = LabelOf(said.Label), Caption = Prose(said.Caption)! } : block is EquationGroup group ? group with { Label = LabelOf(said.Label) } : block;
    }

    private KeyValuePair<string, RichText>[] WordsOf(IReadOnlyDictionary<string, ProseFragment> words)
    {
        isInMargin = true;
        KeyValuePair<string, RichText>[] filled = [.. words.Select(w => KeyValuePair.Create(w.Key, Prose(w.Value)!))];
        isInMargin = false;
        return filled;
    }

    IPictureTools? IProseHost.PictureTools => PictureTools.Instance;

    string IProseHost.PathOf(string target, int offset) => Path.Combine(tree.Sources.FileOf(offset).Folder, target);

    ImmutableArray<Block>? IProseHost.Fill(FencedCodeBlock fence)
    {
        if (!tree.Steps.TryGetValue(fence, out var step)) return null;
        var placed = Placed(step);
        return step.Role != StepRole.Show && (step.Head.Listing ?? tree.Settings.Listing) ? placed.Insert(0, ListingOf(step)) : placed;
    }

    private Listing ListingOf(Step step)
    {
        var code = step.Code.Text.Trim('\n');
        if (step.Script is { } script) return new Listing(code.Length > 0 ? code : commands.GetValueOrDefault(step.Ordinal, script.Command.Text));
        return new Listing(code) { Spans = ListingColours.Of(code) };
    }

    ImmutableArray<ListingSpan> IProseHost.ColoursOf(string code, string language) => language == "csharp" ? ListingColours.Of(code) : [];

    /// <summary>All code in the order of the text, on pages of its own.</summary>
    private void PlaceAnnex()
    {
        var steps = tree.Executables.OfType<Step>().Where(s => s.Head.Listing != false).ToArray();
        if (steps.Length == 0) return;
        blocks.Add(new PageBreak());
        blocks.Add(new Heading(1, Language.Words.Code));
        for (var i = 0; i < steps.Length; i++)
        {
            var number = (i + 1).ToString(CultureInfo.InvariantCulture);
            blocks.Add(new Paragraph(new RichText([new Stress(Strong: true, steps[i].Label is { } label ? $"{number} \u00B7 {label.Text}" : number)])));
            blocks.Add(ListingOf(steps[i]));
        }
    }

    /// <summary>A chart as the head of its step wants it.</summary>
    private static Chart Looking(Chart chart, StepHead head) => chart with { Palette = head.Palette.IsEmpty ? chart.Palette : head.Palette, Labels = head.Labels ?? chart.Labels };

    private ImmutableArray<Block> Placed(Step step)
    {
        var place = tree.PlaceOf(step.Ordinal);
        return (step.Role, placing.Result(step.Ordinal)) switch
        {
            (StepRole.Table, Table table) =>
            [
                new TableBlock(table with { MayTurn = step.Head.Turning ?? table.MayTurn, FillsWidth = step.Head.FillsWidth ?? table.FillsWidth })
                {
                    Label = LabelOf(step.Label),
                    Caption = Prose(step.Head.Caption),
                    Note = Prose(step.Head.Note),
                    Source = Prose(step.Head.Source),
                    Ruling = step.Head.Ruling,
                    Series = step.Head.Series,
                    Place = place,
                },
            ],
            (StepRole.Figure, var drawn) when drawn is Chart or ChartPanels or Picture or IDrawnFigure =>
            [
                (drawn is Chart chart ? new FigureBlock(Looking(chart, step.Head)) : drawn is ChartPanels panels ? new FigureBlock(panels with { HasLetters = step.Head.HasLetters ?? panels.HasLetters, Panels = [.. panels.Panels.Select(p => p with { Chart = Looking(p.Chart, step.Head) })] }) : drawn is IDrawnFigure own ? new FigureBlock(own) : new FigureBlock((Picture)drawn)) with
                {
                    Series = step.Head.Series,
                    Alignment = step.Head.Alignment,
                    IsNative = step.Head.IsNative,
                    DotsPerInch = step.Head.DotsPerInch,
                    Label = LabelOf(step.Label),
                    Caption = Prose(step.Head.Caption),
                    Note = Prose(step.Head.Note),
                    Source = Prose(step.Head.Source),
                    AlternativeText = Prose(step.Head.AlternativeText)?.ToPlainText(Language),
                    Width = step.Head.Width,
                    Height = step.Head.Height,
                    Place = place,
                },
            ],
            (StepRole.Text, ImmutableArray<Block> placed) => step.Label is { } name ? ForSlot(NameOf(name), placed) : placed,
            (StepRole.Show, Shown shown) => ShowStep(step, shown),
            _ => [],
        };
    }

    /// <summary>What a labelled step gives fills the slot of its name: as words where only words can stand.</summary>
    private ImmutableArray<Block> ForSlot(string name, ImmutableArray<Block> placed)
    {
        var house = House.Dress(Language);
        if (house.BlockSlots.ContainsKey(name)) return [new InSlot(name, placed)];
        if (house.Slots.All(s => !s.Names.Contains(name, StringComparer.OrdinalIgnoreCase)) || placed is not [Paragraph words]) return placed;
        slots[name] = words.Content;
        return [];
    }

    /// <summary>The words for slots: parameters by their names, expressions as the house writes them, and what labelled steps gave.</summary>
    private ImmutableDictionary<string, RichText> Slots()
    {
        foreach (var (name, value) in parameters) slots.TryAdd(name, RichText.Plain(ValueFormatter.Format(value, null, Language)));
        foreach (var (name, expression) in tree.SlotExpressions) slots[name] = Prose(expression)!;
        return slots.ToImmutableDictionary();
    }

    private ImmutableArray<Block> ShowStep(Step step, Shown shown)
    {
        var blocks = ImmutableArray.CreateBuilder<Block>();
        blocks.Add(ListingOf(step));
        if (shown.Written.Length > 0) blocks.Add(new Listing(shown.Written));
        if (shown.Value is { } value) blocks.AddRange(TextResults.Show(value, Language, tree.PlaceOf(step.Ordinal)));
        return blocks.ToImmutable();
    }

    private string NameOf(Step step) => step.Label?.Text ?? $"line {tree.PlaceOf(step.Ordinal).Line}";

    private Label? LabelOf(LabelTemplate? label) => label is null ? null : new Label(NameOf(label), label.Place);

    /// <summary>A label with its values of now; they are brought to the form of a label.</summary>
    private string NameOf(LabelTemplate label) => label.Values.IsEmpty ? label.Text
        : Label.FromWords(Filled(label));

    private string Filled(LabelTemplate template) => string.Concat(template.Parts.Select(p => p.Value is { } hole ? placing.Value(hole.Ordinal)?.ToPlainText(Language) ?? "" : p.Text));

    /// <summary>What a <c>show</c> step gave and wrote.</summary>
    private sealed record Shown(object? Value, string Written);

    bool IProseHost.KeepsPlaces => KeepsOrigins;

    SourcePlace? IProseHost.PlaceOf(int offset) => tree.Sources.PlaceOf(offset);

    void IProseHost.Add(Diagnostic diagnostic) => Add(diagnostic);

    private void Add(Diagnostic diagnostic) => Diagnostics.Add(diagnostic);

    private RichText? Prose(ProseFragment? fragment) =>
        fragment is null ? null : converter.ConvertAll(fragment.Document) is [Paragraph only] ? only.Content : RichText.Empty;
}
