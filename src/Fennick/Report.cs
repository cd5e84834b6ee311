using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Fennick.Charts;
using Fennick.Citations;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Mathematics;
using Fennick.Outputs;
using Fennick.Pictures;
using Fennick.Prose;
using Fennick.Tables;

namespace Fennick;

/// <summary>A report being made: blocks are added in order, then it is saved as a word-processor document.</summary>
/// <example>
/// <code>
/// var report = new Report("Honey harvest") { Date = new DateOnly(2025, 11, 3) };
/// report.Heading("The harvest")
///     .Text($"The average hive gave {mean:0.0} kg, see {See("honey-by-strain")}.")
///     .Add(table, label: "honey-by-strain", caption: "Honey per hive by strain")
///     .Save("harvest.docx");
/// </code>
/// </example>
public sealed class Report
{
    private readonly ImmutableArray<Block>.Builder blocks = ImmutableArray.CreateBuilder<Block>();
    private readonly ImmutableDictionary<string, RichText>.Builder slots = ImmutableDictionary.CreateBuilder<string, RichText>();

    /// <summary>A report without a title.</summary>
    public Report()
    {
    }

    /// <summary>A report with a title.</summary>
    /// <param name="title">Inline Markdown without values.</param>
    public Report(string title) => Title = title;

    /// <summary>A report with a title that holds values, which stand as they are.</summary>
    /// <param name="title">An interpolated string of inline Markdown, such as <c>$"Honey of {apiary}"</c>.</param>
    public Report(ProseTemplate title) => Title = title;

    /// <summary>The title, on the first page and in the document's properties.</summary>
    public ProseTemplate? Title { get; set; }

    /// <summary>The line under the title.</summary>
    public ProseTemplate? Subtitle { get; set; }

    /// <summary>Who wrote it.</summary>
    public IReadOnlyList<string> Authors { get; set; } = [];

    /// <summary>The report's date; without one the document says none.</summary>
    public DateOnly? Date { get; set; }

    /// <summary>The language of its words, numbers and dates.</summary>
    public Language Language { get; set; } = Language.Default;

    /// <summary>What it wears.</summary>
    public House House { get; set; } = House.Tansy;

    /// <summary>What its pages look like where that differs from the house.</summary>
    public PageLayout Page { get; set; } = new();

    /// <summary>The word that stands across every page, such as "Draft"; none if null.</summary>
    public string? Watermark { get; set; }

    /// <summary>What holds for all its tables and figures.</summary>
    public ReportSettings Settings { get; set; } = new();

    /// <summary>The sources that it can cite.</summary>
    public WorkList Sources { get; set; } = WorkList.Empty;

    /// <summary>How it cites them.</summary>
    public CitationStyle CitationStyle { get; set; }

    /// <summary>Words of inline Markdown with values, such as a header takes.</summary>
    /// <param name="words">For example <c>$"Harvest | {PageNumber} of {PageCount}"</c>.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">They are no single line, or a format does not fit its value.</exception>
    public RichText Words(ProseTemplate words, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(words);
        return words.ToInlines(Language, Place(file, line));
    }

    /// <summary>Fills a slot of the house with words: in its text, its headers, its footers and its text boxes.</summary>
    /// <param name="slot">The slot's name: the tag or the title of its content control.</param>
    /// <param name="words">Inline Markdown with values; the slot's own look is kept.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">The words are no single line, or a format does not fit its value.</exception>
    public Report Fill(string slot, ProseTemplate words, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentException.ThrowIfNullOrWhiteSpace(slot);
        ArgumentNullException.ThrowIfNull(words);
        slots[slot] = words.ToInlines(Language, Place(file, line));
        return this;
    }

    /// <summary>Adds a heading.</summary>
    /// <param name="words">Inline Markdown with values.</param>
    /// <param name="level">1 to 6.</param>
    /// <param name="label">Its label; without one it is known by its words.</param>
    /// <param name="numbered">Whether it has a number where headings have numbers.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">The level is not 1 to 6, or the words are no single line.</exception>
    public Report Heading(ProseTemplate words, int level = 1, string? label = null, bool numbered = true, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(words);
        var place = Place(file, line);
        if (level is < 1 or > 6) throw new ReportException(Diagnostic.Error(place, $"a heading of level {level}", "levels are 1 to 6"));
        return Append(new Heading(level, words.ToInlines(Language, place), ToLabel(label, place)) { IsNumbered = numbered });
    }

    /// <summary>Adds text: paragraphs, lists and headings in Markdown, with values that are never read as Markdown.</summary>
    /// <param name="markdown">For example <c>$"The mean is **{mean:0.0} kg**, see {See("honey")}."</c></param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">A format does not fit its value, or the Markdown holds what cannot be placed.</exception>
    public Report Text(ProseTemplate markdown, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(markdown);
        blocks.AddRange(markdown.ToBlocks(Language, Place(file, line)));
        return this;
    }

    /// <summary>Adds a table, numbered if it has a caption or a label.</summary>
    /// <param name="table">The table; the same one may be added more than once.</param>
    /// <param name="label">The name under which the text refers to it.</param>
    /// <param name="caption">The words beside its number: inline Markdown with values.</param>
    /// <param name="note">The small print under it.</param>
    /// <param name="source">What it was made from, on a line of its own under it, behind the word for it.</param>
    /// <param name="ruling">Its rules, if not the report's.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">The table has no columns, or a format does not fit its value.</exception>
    public Report Add(ITableSource table, string? label = null, ProseTemplate? caption = null, ProseTemplate? note = null, ProseTemplate? source = null, Ruling? ruling = null,
        [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(table);
        var place = Place(file, line);
        return Append(new TableBlock(table.ToTable())
        {
            Label = ToLabel(label, place),
            Caption = caption?.ToInlines(Language, place),
            Note = note?.ToInlines(Language, place),
            Source = source?.ToInlines(Language, place),
            Ruling = ruling,
            Place = place,
        });
    }

    /// <summary>Adds a chart, numbered if it has a caption or a label.</summary>
    /// <param name="chart">The chart; the same one may be added more than once.</param>
    /// <param name="label">The name under which the text refers to it.</param>
    /// <param name="caption">The words beside its number: inline Markdown with values.</param>
    /// <param name="note">The small print under it.</param>
    /// <param name="source">What it was made from, on a line of its own under it, behind the word for it.</param>
    /// <param name="alt">What it shows, for readers who cannot see it; made from the data if null.</param>
    /// <param name="width">Its width, if not the report's.</param>
    /// <param name="height">Its height, if not the report's.</param>
    /// <param name="align">Where it stands if it is narrower than the text, if not as the report says.</param>
    /// <param name="native">Whether it is the word processor's own chart, or a picture of it; as the report says if null.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">A format does not fit its value.</exception>
    public Report Add(Chart chart, string? label = null, ProseTemplate? caption = null, ProseTemplate? note = null, ProseTemplate? source = null, string? alt = null, Measure? width = null, Measure? height = null,
        Alignment? align = null, bool? native = null, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(chart);
        return Add(new FigureBlock(chart) { AlternativeText = alt, Width = width, Height = height, Alignment = align, IsNative = native }, label, caption, note, source, Place(file, line));
    }

    /// <summary>Adds a chart made of results, such as <see cref="EstimatesChart"/>, numbered if it has a caption or a label.</summary>
    /// <inheritdoc cref="Add(Chart, string?, ProseTemplate?, ProseTemplate?, ProseTemplate?, string?, Measure?, Measure?, Alignment?, bool?, string, int)"/>
    public Report Add(IChartSource chart, string? label = null, ProseTemplate? caption = null, ProseTemplate? note = null, ProseTemplate? source = null, string? alt = null, Measure? width = null, Measure? height = null,
        Alignment? align = null, bool? native = null, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(chart);
        return Add(chart.ToChart(), label, caption, note, source, alt, width, height, align, native, file, line);
    }

    /// <summary>Adds several charts as one figure, numbered if it has a caption or a label.</summary>
    /// <inheritdoc cref="Add(Chart, string?, ProseTemplate?, ProseTemplate?, ProseTemplate?, string?, Measure?, Measure?, Alignment?, bool?, string, int)"/>
    public Report Add(ChartPanels panels, string? label = null, ProseTemplate? caption = null, ProseTemplate? note = null, ProseTemplate? source = null, string? alt = null, Measure? height = null, bool? native = null,
        [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(panels);
        return Add(new FigureBlock(panels) { AlternativeText = alt, Height = height, IsNative = native }, label, caption, note, source, Place(file, line));
    }

    /// <summary>Adds a figure that draws itself, numbered if it has a caption or a label.</summary>
    /// <inheritdoc cref="Add(Picture, string, string?, ProseTemplate?, ProseTemplate?, ProseTemplate?, Measure?, Measure?, Alignment?, string, int)"/>
    public Report Add(IDrawnFigure picture, string alt, string? label = null, ProseTemplate? caption = null, ProseTemplate? note = null, ProseTemplate? source = null, Measure? width = null, Measure? height = null,
        Alignment? align = null, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(picture);
        return Add(new FigureBlock(picture) { AlternativeText = alt, Width = width, Height = height, Alignment = align }, label, caption, note, source, Place(file, line));
    }

    /// <summary>Adds a picture as a figure, numbered if it has a caption or a label.</summary>
    /// <param name="picture">The picture; the same one may be added more than once.</param>
    /// <param name="alt">What it shows, for readers who cannot see it.</param>
    /// <param name="label">The name under which the text refers to it.</param>
    /// <param name="caption">The words beside its number: inline Markdown with values.</param>
    /// <param name="note">The small print under it.</param>
    /// <param name="source">What it was made from, on a line of its own under it, behind the word for it.</param>
    /// <param name="width">Its width, if not its own.</param>
    /// <param name="height">Its height, if not what keeps its shape.</param>
    /// <param name="align">Where it stands if it is narrower than the text, if not as the report says.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">A format does not fit its value.</exception>
    public Report Add(Picture picture, string alt, string? label = null, ProseTemplate? caption = null, ProseTemplate? note = null, ProseTemplate? source = null, Measure? width = null, Measure? height = null,
        Alignment? align = null, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(picture);
        return Add(new FigureBlock(picture) { AlternativeText = alt, Width = width, Height = height, Alignment = align }, label, caption, note, source, Place(file, line));
    }

    /// <summary>Adds a formula on lines of its own, numbered at the right margin if it has a label.</summary>
    /// <param name="formula">The formula.</param>
    /// <param name="label">The name under which the text refers to it.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    public Report Add(Formula formula, string? label = null, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(formula);
        return Append(new Equation(formula, ToLabel(label, Place(file, line))));
    }

    /// <summary>Adds the contents: the headings with their pages.</summary>
    /// <param name="levels">How many levels of headings, 1 to 6.</param>
    public Report Contents(int levels = 3)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(levels, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(levels, 6);
        return Append(new Contents(levels));
    }

    /// <summary>Adds any block, such as a <see cref="PageBreak"/> or a <see cref="ListOfTables"/>.</summary>
    /// <param name="block">The block.</param>
    public Report Add(Block block)
    {
        ArgumentNullException.ThrowIfNull(block);
        return Append(block);
    }

    /// <summary>Adds several blocks: what a function of your own makes of those that there are.</summary>
    /// <example><code>report.Add(KeyFigures(hives))</code>, where <c>KeyFigures</c> returns a heading, a paragraph and a table.</example>
    public Report Add(IEnumerable<Block> several)
    {
        ArgumentNullException.ThrowIfNull(several);
        foreach (var block in several) Add(block);
        return this;
    }

    /// <summary>The report as it stands, immutable.</summary>
    /// <exception cref="ReportException">The title or the subtitle is not a single line.</exception>
    public ReportContent Build() => new()
    {
        Title = Title?.ToInlines(Language, null),
        Subtitle = Subtitle?.ToInlines(Language, null),
        Authors = [.. Authors],
        Date = Date,
        Language = Language,
        House = House,
        Slots = slots.ToImmutable(),
        Page = Page,
        Watermark = Watermark,
        Settings = Settings,
        Sources = Sources,
        CitationStyle = CitationStyle,
        Blocks = blocks.ToImmutable(),
    };

    /// <summary>Writes the report as a <c>.docx</c> file, or by the ending of its name as a page for the browser (<c>.html</c>), a PDF (<c>.pdf</c>) or plain text (<c>.txt</c>): beside its place first, then renamed, so that an old file stays whole if anything fails.</summary>
    /// <param name="path">Where to; relative to the current folder.</param>
    /// <param name="force">Whether a file that is protected against writing is replaced too.</param>
    /// <returns>What deserves attention: among other things, that the document there had been worked on and is kept under another name.</returns>
    /// <exception cref="ReportException">A reference has no target, a label is used twice, the report would be written over a file that it is made from, or the file cannot be written.</exception>
    public IReadOnlyList<Diagnostic> Save(string path, bool force = false) => OutputFile.Save(Build(), path, force);

    /// <summary>Writes the report in a form of your own.</summary>
    /// <param name="path">Where to; relative to the current folder.</param>
    /// <param name="writer">What writes it.</param>
    /// <param name="force">Whether a file that is protected against writing is replaced too.</param>
    /// <returns>What deserves attention.</returns>
    /// <exception cref="ReportException">The report has errors, it would be written over a file that it is made from, or the file cannot be written; an old file stays as it was.</exception>
    public IReadOnlyList<Diagnostic> Save(string path, IReportWriter writer, bool force = false) => OutputFile.Save(Build(), path, writer, [], force);

    /// <summary>Writes the report into a stream; <c>Build().WriteAsync</c> does so without blocking.</summary>
    /// <param name="stream">A stream that can be written; it stays open, and need not seek.</param>
    /// <returns>What deserves attention.</returns>
    /// <exception cref="ReportException">A reference has no target, or a label is used twice; nothing was written.</exception>
    public IReadOnlyList<Diagnostic> Write(Stream stream) => Build().Write(stream);

    private Report Add(FigureBlock figure, string? label, ProseTemplate? caption, ProseTemplate? note, ProseTemplate? source, SourcePlace place) => Append(figure with
    {
        Label = ToLabel(label, place),
        Caption = caption?.ToInlines(Language, place),
        Note = note?.ToInlines(Language, place),
        Source = source?.ToInlines(Language, place),
        Place = place,
    });

    private Report Append(Block block)
    {
        blocks.Add(block);
        return this;
    }

    private static SourcePlace Place(string file, int line) => new(Path.GetFileName(file), line, 1);

    private static Label? ToLabel(string? label, SourcePlace place) => label is null ? null : new Label(label, place);
}
