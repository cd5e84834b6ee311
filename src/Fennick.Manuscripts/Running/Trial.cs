using System.Collections;
using System.Collections.Immutable;
using System.Diagnostics;
using System.Reflection;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Manuscripts.Steps;
using Fennick.Pictures;
using Fennick.Plots;
using Fennick.Tables;

namespace Fennick.Manuscripts.Running;

/// <summary>Watches a run that is a trial: shows what each step gives, and ends the run behind the last step that is wanted.</summary>
/// <param name="tree">The manuscript.</param>
/// <param name="last">The label of the last step that is wanted; null for all.</param>
/// <param name="folder">Where documents with its figures go; null if nobody wants them.</param>
/// <param name="show">Takes each step when it has run.</param>
internal sealed class Trial(ManuscriptTree tree, string? last, Lazy<string>? folder, Action<TriedStep> show)
{
    private const int MostRows = 40;
    private readonly Stopwatch watch = new();
    private (Step Step, string Name)? running;
    private TimeSpan time;
    private object? result;
    private int writtenBefore;

    /// <summary>Ends the run.</summary>
    public sealed class Ended : Exception;

    /// <summary>How many letters a line has that shows a table, if there is not room for any width.</summary>
    public int? Room { get; init; }

    /// <summary>Is told of each step when it begins.</summary>
    public Action<string, SourcePlace>? Began { get; init; }

    public void Begin(Step step, string name)
    {
        End();
        if (Began is { } began) StepConsole.Outside(() => began(name, tree.PlaceOf(step.Ordinal)));
        running = (step, name);
        result = null;
        writtenBefore = StepConsole.WrittenBy(name).Length;
        watch.Restart();
    }

    /// <summary>Takes what a step gave.</summary>
    public void Give(object? given)
    {
        time = watch.Elapsed;
        result = given;
    }

    /// <summary>The step that was shown last.</summary>
    public TriedStep? Last { get; private set; }

    /// <summary>Shows a step that need not run.</summary>
    public void ShowAgain(Step step, string name, TriedStep before) => StepConsole.Outside(() => show(before with { Name = name, Place = tree.PlaceOf(step.Ordinal), IsReused = true }));

    /// <summary>Shows the step that ran, if one did.</summary>
    /// <exception cref="Ended">It was the last one.</exception>
    public void End()
    {
        if (running is not var (step, name)) return;
        running = null;
        var (text, file, pictures) = Describe(result, name);
        var written = StepConsole.WrittenBy(name)[writtenBefore..];
        Last = new TriedStep(name, step.Role.ToString().ToLowerInvariant(), tree.PlaceOf(step.Ordinal), result is null ? watch.Elapsed : time, written, text, file) { Pictures = pictures };
        StepConsole.Outside(() => show(Last));
        if (last is not null && step.Label?.Text == last) throw new Ended();
    }

    private (string Text, string? File, ImmutableArray<string> Pictures) Describe(object? value, string name)
    {
        var language = tree.Settings.Language;
        if (value is IChartSource made) value = made.ToChart();
        if (value is not null && PictureTools.FigureOf(value) is { } plot) value = plot;
        switch (value)
        {
            case null: return ("", null, []);
            case string text: return (text, null, []);
            case ITableSource table: return (Describe(table.ToTable(), language), null, []);
            case Chart or ChartPanels or Picture or IDrawnFigure when folder is null: return (value is Chart or ChartPanels ? "a chart" : "a picture", null, []);
            case Chart or ChartPanels or Picture or IDrawnFigure:
                var path = Path.Combine(folder.Value, $"{Label.FromWords(name)}.docx");
                var content = new ReportContent { Language = language, Settings = tree.Settings.Report, Blocks = [value is Chart chart ? new FigureBlock(chart) : value is ChartPanels panels ? new FigureBlock(panels) : value is IDrawnFigure drawn ? new FigureBlock(drawn) : new FigureBlock((Picture)value)] };
                ReportFile.Save(content, path);
                return ("", path, Draw(content, Path.ChangeExtension(path, null)));
            // What a record says of itself is its properties in one line.
            case not null when value.GetType().GetMethod("<Clone>$") is not null: return (Members(value, language), null, []);
            case ImmutableArray<Block> blocks: return (string.Join('\n', blocks.Select(b => Describe(b, language))), null, []);
            default:
                try
                {
                    return (ValueFormatter.Format(value, null, language), null, []);
                }
                catch (ValueFormatException)
                {
                    return (TableResults.Find(value) is { } records ? Describe(records.ToTable(), language) : Members(value, language), null, []);
                }
        }
    }

    private string Describe(Table table, Language language) => Room is { } room ? PlainTable.WriteWithin(table, language, room, MostRows) : PlainTable.Write(table, language);

    /// <summary>Draws a figure as the report shows it: a picture for each panel.</summary>
    private ImmutableArray<string> Draw(ReportContent figure, string stem)
    {
        var laid = ReportFile.LayOut(figure with { House = tree.Settings.House, Settings = figure.Settings with { HasNativeCharts = false } }, []);
        var pictures = laid.Galley.Sections.SelectMany(s => s.Blocks).SelectMany(PicturesOf).ToArray();
        return [.. pictures.Select((picture, i) =>
        {
            var path = pictures.Length == 1 ? $"{stem}.{picture.Extension}" : $"{stem}-{i + 1}.{picture.Extension}";
            File.WriteAllBytes(path, [.. picture.Bytes]);
            return path;
        })];
    }

    private static IEnumerable<Picture> PicturesOf(GalleyBlock block) => block switch
    {
        GalleyParagraph paragraph => paragraph.Inlines.OfType<GalleyPicture>().Select(p => p.Picture),
        GalleyBox box => box.Rows.SelectMany(r => r).SelectMany(c => c).SelectMany(PicturesOf),
        _ => [],
    };

    /// <summary>What a value is and holds that has no text of its own: its public properties.</summary>
    private static string Members(object value, Language language)
    {
        var type = value.GetType();
        var lines = type.GetProperties(BindingFlags.Instance | BindingFlags.Public).Where(p => p.CanRead && p.GetIndexParameters().Length == 0 && p.Name != "EqualityContract").Select(p => (p.Name, Value: Of(p))).ToArray();
        var width = lines.Select(l => l.Name.Length).DefaultIfEmpty(0).Max();
        return string.Join('\n', lines.Select(l => $"  {l.Name.PadRight(width)}  {l.Value}").Prepend(ValueFormatter.DescribeType(value)));

        string Of(PropertyInfo property)
        {
            try
            {
                return property.GetValue(value) switch
                {
                    null => "(none)",
                    string text => text.ReplaceLineEndings(" "),
                    ICollection many => $"{many.Count} of {property.PropertyType.Name}",
                    var held => Format(held),
                };
            }
            catch (TargetInvocationException problem)
            {
                return $"({problem.InnerException!.GetType().Name})";
            }
        }

        string Format(object held)
        {
            try
            {
                return ValueFormatter.Format(held, null, language);
            }
            catch (ValueFormatException)
            {
                return ValueFormatter.DescribeType(held);
            }
        }
    }

    private static string Describe(Block block, Language language) => block switch
    {
        Paragraph paragraph => paragraph.Content.ToPlainText(language),
        Heading heading => $"{new string('#', heading.Level)} {heading.Content.ToPlainText(language)}",
        TableBlock table => PlainTable.Write(table.Table, language),
        Listing listing => listing.Code,
        Items list => string.Join('\n', list.Entries.Select(i => "- " + string.Join("\n  ", i.Select(b => Describe(b, language))))),
        _ => $"a {block.GetType().Name}",
    };
}
