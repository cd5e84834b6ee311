using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;

namespace Fennick.Manuscripts.Parsing;

/// <summary>Reads what sets blocks off from the text: <c>{box}</c>, <c>{box note: Title}</c>, <c>{box key figures}</c>, <c>{pull quote}</c>, <c>{margin note}</c>, <c>{last page}</c>.</summary>
internal static class BoxReader
{
    /// <summary>What becomes of the blocks inside.</summary>
    /// <param name="head">What stands between the braces.</param>
    /// <param name="place">Where they stand.</param>
    public static Func<ImmutableArray<Block>, Block> Read(string head, SourcePlace? place)
    {
        var colon = head.IndexOf(':', StringComparison.Ordinal);
        var (words, title) = colon < 0 ? (head, "") : (head[..colon].Trim(), head[(colon + 1)..].Trim());
        return words switch
        {
            "pull quote" => blocks => new Aside(AsideKind.PullQuote, blocks),
            "margin note" => blocks => new Aside(AsideKind.MarginNote, blocks),
            "last page" => blocks => new LastPage(blocks) { Place = place },
            "box key figures" => blocks => KeyFiguresOf(blocks, place),
            _ => blocks => new Box(words == "box note" ? BoxKind.Note : BoxKind.Summary, title.Length > 0 ? RichText.Plain(title) : null, blocks) { Place = place },
        };
    }

    private static KeyFigures KeyFiguresOf(ImmutableArray<Block> blocks, SourcePlace? place)
    {
        if (blocks.FirstOrDefault(b => b is not (TableBlock or KeyFigures)) is not null || blocks.IsEmpty)
            throw new ReportException(Diagnostic.Error(place, "`{box key figures}` takes a table and nothing else", "write a table with a row for each figure: its label, its number, and if you like its change and a small line"));
        return new KeyFigures([.. blocks.SelectMany(b => b is TableBlock table ? KeyFigures.Of(table.Table, place).Figures : ((KeyFigures)b).Figures)]);
    }
}
