using System.Collections.Immutable;

namespace Fennick.Manuscripts.Vocabulary;

/// <summary>What braces in prose mean.</summary>
internal static class BraceForms
{
    /// <summary>The forms.</summary>
    public static ImmutableArray<ReferenceEntry> All { get; } =
    [
        new("`{expression}`", "the value, with sensible digits"),
        new("`{expression:format}`", "the value in a named format, a .NET format, or a chain of them with bars between"),
        new("`{see LABEL}`", "a reference: \"Table 2\", \"Figure 1\", \"Section 3.1\", or the title of a section without a number"),
        new("`{see a, b}`", "references to several: \"Tables 2 and 4\", runs as \"Tables 2–4\""),
        new("`{see LABEL: number}`, `{see LABEL: title}`, `{see LABEL: page}`", "just that part of it"),
        new("`{see LABEL: where}`, `{see LABEL: (b)}`, `{see LABEL: as WORD}`", "where it is (\"above\", \"on page 4\"); one of its panels; another word before its number"),
        new("`{cite KEY}`, `{cite KEY at p. 33, OTHER}`", "a citation: \"(Hale 2019, p. 33; Moss 2004)\""),
        new("`{cite KEY: named}`", "with the names in the sentence: \"Hale (2019)\""),
        new("`# Heading {no number}`", "a heading without a number where headings have numbers"),
        new("`# Heading {label NAME}`, `$$…$$ {label NAME}`", "names a section, an equation; without it a section's label is its words"),
        new("`{style NAME: words}`", "words in a character style of the house; the house tansy has `Warning`, `Highlight`, `Small Capitals`, `Strong`, `Emphasis`, `Code Text`"),
        new("`{colour #9A3412: words}`, `{color …}`", "words in a colour"),
        new("`{page break}`", "alone on its line: what follows starts a new page"),
        new("`{contents}`, `{contents: 2 levels}`", "alone on its line: the headings with their pages"),
        new("`{list of tables}`, `{list of figures}`, `{list of PLURAL}`", "alone on its line: their captions with their pages; `{list of boxes}` for a series of your own"),
        new("`{appendix}`", "alone on its line: from here on chapters are appendices, \"A\", \"B\""),
        new("`{series NAME LABEL: Caption}` … `{end}`", "what stands between, under a caption of a series of your own"),
        new("`{equations LABEL}` … `{end}`", "the equations between have one number and letters: (3a), (3b)"),
        new("`{index TERM}`, `{index TERM: DETAIL}`", "a place that the index leads to; nothing is shown"),
        new("`{index of terms}`", "alone on its line: the terms of the index with their pages"),
        new("`{abbr GDP: words}`, `{abbr GDP}`", "an abbreviation, with its words where the text uses it first"),
        new("`{list of abbreviations}`", "alone on its line: the abbreviations with what they stand for"),
        new("`{bibliography}`", "alone on its line: the sources that are cited"),
        new("`{table NAME: Caption}`, `{figure NAME, width 8 cm: Caption}`", "on the line above a pipe table or a picture: its label, caption and size"),
        new("`{for each NAME in EXPRESSION}` … `{end}`", "what stands between, once for each item"),
        new("`{if CONDITION}` … `{else if CONDITION}` … `{else}` … `{end}`", "the first branch whose condition holds"),
        new("`{landscape}` … `{end}`", "what stands between, on pages turned to landscape"),
        new("`{pages KEY: VALUE; KEY: VALUE}` … `{end}`", "what stands between, on pages that look different; see [Pages](houses.md#pages)"),
        new("`{page number}`, `{page count}`, `{chapter title}`, `{report title}`, `{report date}`", "what the page and the report say of themselves, for headers and footers"),
        new("`{columns 1/3, 2/3}` … `{next column}` … `{end}`", "what stands between, side by side; also `40 %, 60 %`, or `2` for two alike"),
        new("`{box}`, `{box: Title}`, `{box note: Title}` … `{end}`", "what stands between, in a box"),
        new("`{box key figures}` … `{end}`", "a table of numbers to take away, as tiles"),
        new("`{last page}` … `{end}`", "paragraphs on a last page in the look of the cover"),
        new("`{pull quote}` … `{end}`, `{margin note}` … `{end}`", "a sentence set large; a remark in the margin"),
        new("`{include FILE}`", "another manuscript's content"),
        new("`\\{`", "a brace"),
    ];
}
