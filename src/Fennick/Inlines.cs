using System.Runtime.CompilerServices;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Mathematics;
using Fennick.Prose;

namespace Fennick;

/// <summary>What a report's interpolated text may hold beside values. Import it with <c>using static Fennick.Inlines;</c>.</summary>
public static class Inlines
{
    /// <summary>The number of the page, in a header or footer.</summary>
    public static Inline PageNumber { get; } = new PageInline(PageWord.Number);

    /// <summary>How many pages there are, in a header or footer.</summary>
    public static Inline PageCount { get; } = new PageInline(PageWord.Count);

    /// <summary>The title of the report, in a header or footer.</summary>
    public static Inline ReportTitle { get; } = new PageInline(PageWord.Title);

    /// <summary>The date of the report, in a header or footer.</summary>
    public static Inline ReportDate { get; } = new PageInline(PageWord.Date);

    /// <summary>The last heading of the first level, in a header or footer.</summary>
    public static Inline ChapterTitle { get; } = new PageInline(PageWord.Chapter);

    /// <summary>A cross-reference: "Table 3", "Figure 2", or the title of a section.</summary>
    /// <param name="label">The label of what is referred to.</param>
    /// <param name="part">What of it is shown.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    public static Inline See(string label, SeePart part = SeePart.Whole, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0) =>
        new SeeInline(label, Place(file, line)) { Part = part };

    /// <summary>References to several things at once: "Tables 2 and 4".</summary>
    /// <param name="labels">Their labels.</param>
    public static Inline SeeAll(params string[] labels) => new SeeAllInline([.. labels.Select(l => new SeeInline(l, null))]);

    /// <summary>One panel of a figure whose panels have letters: "Figure 3b".</summary>
    /// <param name="label">The label of the figure.</param>
    /// <param name="panel">The letter of the panel.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    public static Inline SeePanel(string label, char panel, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0) =>
        new SeeInline(label, Place(file, line)) { Panel = panel };

    /// <summary>A place that the index of terms leads to; nothing is shown.</summary>
    /// <param name="term">The term.</param>
    /// <param name="detail">What of it, as an entry under it.</param>
    public static Inline IndexTerm(string term, string? detail = null) => new IndexInline(term, detail);

    /// <summary>An abbreviation: where the text uses it first, with what it stands for.</summary>
    /// <param name="abbreviation">The abbreviation.</param>
    /// <param name="words">What it stands for; it is to be said once.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    public static Inline Abbreviation(string abbreviation, string? words = null, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0) =>
        new AbbreviationInline(abbreviation, words is null ? null : RichText.Plain(words), Place(file, line));

    /// <summary>The mark of a footnote, which stands at the foot of the mark's page.</summary>
    /// <param name="text">Its text: paragraphs, lists, quotations and listings in Markdown, with values.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">A format does not fit its value, or the Markdown holds what cannot be placed.</exception>
    public static FootnoteInline Footnote(ProseTemplate text, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(text);
        var place = Place(file, line);
        return new FootnoteInline(text.ToBlocks(null, place), place);
    }

    /// <summary>The mark of a footnote that stands in the text already, once more.</summary>
    /// <param name="footnote">The footnote.</param>
    public static Inline Again(FootnoteInline footnote) => new SameFootnoteInline(footnote);

    /// <summary>Words in a character style of the house, such as <c>Warning</c>.</summary>
    /// <param name="name">The name of the style; it is looked up when the report is saved.</param>
    /// <param name="words">Inline Markdown with values.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">The words are no single line, or a format does not fit its value.</exception>
    public static Inline Style(string name, ProseTemplate words, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(words);
        var place = Place(file, line);
        return new StyledInline(name, words.ToInlines(null, place), place);
    }

    /// <summary>Words in a colour.</summary>
    /// <param name="colour">A <c>#</c> and six hexadecimal digits, such as <c>#9A3412</c>.</param>
    /// <param name="words">Inline Markdown with values.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">This is not a colour, the words are no single line, or a format does not fit its value.</exception>
    public static Inline Colour(string colour, ProseTemplate words, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(words);
        var place = Place(file, line);
        return new ColouredInline(ColouredInline.Read(colour) ?? throw new ReportException(ColouredInline.Wrong(colour, place)), words.ToInlines(null, place));
    }

    /// <summary>A formula in a line, in the usual TeX notation.</summary>
    /// <param name="tex">For example <c>\bar{x} = \live{0:0.0}</c>.</param>
    /// <param name="values">What <c>\live{0}</c>, <c>\live{1}</c>… stand for.</param>
    /// <exception cref="ReportException">The notation is not understood, or a format does not fit its value.</exception>
    public static Inline Tex(string tex, params object?[] values) => new FormulaInline(Formula.Of(tex, values));

    /// <summary>A citation: "(Hale 2019, p. 33)", or "[3, p. 33]".</summary>
    /// <param name="key">The key of the source, one of the report's <see cref="Report.Sources"/>.</param>
    /// <param name="at">Where in it, such as "p. 33".</param>
    /// <param name="named">Whether the names are part of the sentence: "Hale (2019)".</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    public static Inline Cite(string key, string at = "", bool named = false, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0) =>
        new CiteInline([new CitedSource(key, at)], Place(file, line)) { IsNamed = named };

    /// <summary>A citation of several sources: "(Hale 2019; Moss 2004)".</summary>
    /// <param name="keys">Their keys.</param>
    public static Inline CiteAll(params string[] keys) => new CiteInline([.. keys.Select(k => new CitedSource(k))], null);

    private static SourcePlace Place(string file, int line) => new(Path.GetFileName(file), line, 1);
}
