using System.Collections.Immutable;

namespace Fennick.Manuscripts.Vocabulary;

/// <summary>What steps say of themselves.</summary>
internal static class StepWords
{
    /// <summary>The roles.</summary>
    public static ImmutableArray<ReferenceEntry> Roles { get; } =
    [
        new("`prepare`", "nothing is placed"),
        new("`table`", "it is placed as a table"),
        new("`figure`", "it is placed as a figure"),
        new("`text`", "it is placed as prose: a string is Markdown; blocks, tables, charts, inlines and sequences of all of these are placed one after the other, so that a function can give a whole section"),
        new("`show`", "the code itself is placed, then what it wrote and gave"),
    ];

    /// <summary>The keys of heads.</summary>
    public static ImmutableArray<ReferenceEntry> HeadKeys { get; } =
    [
        new("`caption`", "the words above or under a table or figure, which is numbered then; inline prose that may hold values"),
        new("`note`", "a note under it; inline prose"),
        new("`source`", "where its data come from, on a line of its own under the note; inline prose"),
        new("`alt`", "what a figure shows, for readers who cannot see it; without it a chart describes itself"),
        new("`width`", "of a figure: a length, such as `12 cm` or `80 %` of the text; of a table: `full` or `content`"),
        new("`height`", "of a figure: a length, or a share of its width"),
        new("`align`", "where a figure stands: `left`, `centre` or `right`"),
        new("`native`", "whether a chart is the word processor's own: `yes` or `no`"),
        new("`dpi`", "the pixels to the inch of a chart that is a picture, from 50 to 1200"),
        new("`palette`", "the colours of a chart's series, such as `#2B6E5E, #B98D17`"),
        new("`labels`", "where the names of a chart's series stand: `auto`, `legend`, `ends` or `none`"),
        new("`letters`", "whether the panels of a figure have letters: `yes` or `no`"),
        new("`series`", "the series of the report's own that it is counted in; see [Captions and numbers](manuscript.md#captions-and-numbers)"),
        new("`ruling`", "the rules of a table: `open`, `banded`, `boxed`, `bare`, or a table style of the house"),
        new("`turning`", "whether the page may turn for a table: `yes` or `no`"),
        new("`listing`", "whether the code stands above the result: `shown` or `hidden`"),
        new("`from`", "a file, or a region of one, that holds the code: `analysis.cs#fit`"),
        new("`run`", "the program and its arguments. Quotation marks hold together what has spaces; values in braces are handed over as one word (numbers with a point, dates as `2025-11-03`); `\\{` is a brace. No shell reads it: for pipes write `sh -c \"…\"`"),
        new("`reads`", "the files that the program reads beside those that the command names, with commas: `data/*.csv, settings.json`"),
        new("`writes`", "the files that it writes, with commas; the first is the result. Without it the result is what the program writes to its standard output"),
        new("`limit`", "how long it may take, such as `90s` or `1h`; 10 minutes without it. Then it and what it has started is ended"),
    ];
}
