using System.Collections;
using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Pictures;
using Fennick.Prose;
using Fennick.Tables;

namespace Fennick.Manuscripts.Running;

/// <summary>What a <c>text</c> step may give, and how a <c>show</c> step shows what it gave.</summary>
internal static class TextResults
{
    /// <summary>The blocks of a result: a text is Markdown, tables and charts stand unnumbered, a sequence is each of its items; null if it cannot be placed.</summary>
    public static ImmutableArray<Block>? Find(object? value, Language language, SourcePlace place) => value switch
    {
        null => [],
        // Values are in it already: its braces are braces.
        string markdown => ((ProseTemplate)markdown).ToBlocks(language, place),
        ProseTemplate template => template.ToBlocks(language, place),
        Block block => [block],
        RichText rich => [new Paragraph(rich)],
        Inline inline => [new Paragraph(new RichText([inline]))],
        ITableSource table => [new TableBlock(table.ToTable()) { Place = place }],
        Chart chart => [new FigureBlock(chart) { Place = place }],
        ChartPanels panels => [new FigureBlock(panels) { Place = place }],
        IDrawnFigure drawn => [new FigureBlock(drawn) { Place = place }],
        IChartSource made => [new FigureBlock(made.ToChart()) { Place = place }],
        IEnumerable items => FindAll(items, language, place),
        _ => null,
    };

    /// <summary>A value as a reader of code wants to see it: tables and charts as such, all else as a line of text.</summary>
    public static ImmutableArray<Block> Show(object value, Language language, SourcePlace place) => value switch
    {
        ITableSource or Chart or ChartPanels or IChartSource or Block => Find(value, language, place)!.Value,
        string text => [new Listing(text)],
        IEnumerable when TableResults.Find(value) is { } table => [new TableBlock(table.ToTable()) { Place = place }],
        _ => [new Listing(ValueFormatter.Format(value, null, language))],
    };

    private static ImmutableArray<Block>? FindAll(IEnumerable items, Language language, SourcePlace place)
    {
        var blocks = ImmutableArray.CreateBuilder<Block>();
        foreach (var item in items)
        {
            if (Find(item, language, place) is not { } found) return null;
            blocks.AddRange(found);
        }
        return blocks.ToImmutable();
    }
}
