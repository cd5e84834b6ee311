using System.Collections.Immutable;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Mathematics;
using Fennick.Pictures;

namespace Fennick.Documents;

/// <summary>What a header or footer says of the page that it stands on.</summary>
public enum PageWord
{
    /// <summary>The number of the page.</summary>
    Number,

    /// <summary>How many pages there are.</summary>
    Count,

    /// <summary>The last heading of the first level.</summary>
    Chapter,

    /// <summary>The title of the report.</summary>
    Title,

    /// <summary>The date of the report.</summary>
    Date,
}

/// <summary>Something about the page, for headers and footers.</summary>
/// <param name="Word">What it is.</param>
public sealed record PageInline(PageWord Word) : Inline;

/// <summary>A part of a line: text, a value, a link, a reference.</summary>
public abstract record Inline
{
    private protected Inline()
    {
    }

    /// <summary>The words that it dresses; null if it is something else.</summary>
    internal RichText? Inside => this switch
    {
        Stress stress => stress.Content,
        StruckInline struck => struck.Content,
        Link link => link.Content,
        StyledInline styled => styled.Content,
        ColouredInline coloured => coloured.Content,
        _ => null,
    };
}

/// <summary>Text as it stands.</summary>
/// <param name="Text">The text; a tab or a line end in it becomes one in the document.</param>
public sealed record TextInline(string Text) : Inline
{
    /// <summary>What of it values have become, if somebody wants to know.</summary>
    internal ImmutableArray<OriginRange> Origins { get; init; } = [];
}

/// <summary>A value that becomes text in the report's own language.</summary>
/// <param name="Value">The value; null shows as an em dash.</param>
/// <param name="Format">A .NET format that fits it, or null for sensible digits.</param>
public sealed record ValueInline(object? Value, string? Format) : Inline;

/// <summary>Words of Fennick's own, which are those of the report's language.</summary>
/// <param name="English">The words in English, with <c>{0}</c> where something stands among them.</param>
/// <param name="Among">What stands there.</param>
public sealed record PhraseInline(string English, ImmutableArray<RichText> Among) : Inline
{
    /// <summary>Whether a sentence begins with it.</summary>
    public bool IsFirst { get; init; }

    /// <summary>The words in a language; in English where it has none for this.</summary>
    internal RichText In(Language language)
    {
        var inlines = ImmutableArray.CreateBuilder<Inline>();
        AppendTo(inlines, language, IsFirst);
        return new RichText(inlines.ToImmutable());
    }

    private void AppendTo(ImmutableArray<Inline>.Builder inlines, Language language, bool isFirst)
    {
        var words = Phrases.Find(English, language);
        while (words.Length > 0)
        {
            var place = words.IndexOf('{', StringComparison.Ordinal);
            if (place != 0) AddText(place < 0 ? words : words[..place]);
            if (place < 0) return;
            var end = words.IndexOf('}', place);
            foreach (var inline in Among[int.Parse(words.AsSpan(place + 1, end - place - 1), CultureInfo.InvariantCulture)].Inlines)
            {
                if (inline is PhraseInline phrase) phrase.AppendTo(inlines, language, phrase.IsFirst || (isFirst && inlines.Count == 0));
                else if (inline is TextInline text) AddText(text.Text);
                else inlines.Add(inline);
            }
            words = words[(end + 1)..];
        }

        void AddText(string text)
        {
            if (isFirst && inlines.Count == 0) text = Phrases.Capital(text, language);
            if (inlines is [.., TextInline before]) inlines[^1] = new TextInline(before.Text + text);
            else inlines.Add(new TextInline(text));
        }
    }
}

/// <summary>Emphasised text.</summary>
/// <param name="Strong">Bold if true, italic if false.</param>
/// <param name="Content">What is emphasised.</param>
public sealed record Stress(bool Strong, RichText Content) : Inline;

/// <summary>Text that no longer holds, struck through.</summary>
/// <param name="Content">What is struck.</param>
public sealed record StruckInline(RichText Content) : Inline;

/// <summary>A short piece of code or a file name, set in the fixed-width face.</summary>
/// <param name="Text">The code.</param>
public sealed record Code(string Text) : Inline;

/// <summary>A link to a place outside the report.</summary>
/// <param name="Target">The address.</param>
/// <param name="Content">The words that carry it.</param>
public sealed record Link(string Target, RichText Content) : Inline;

/// <summary>Text in a character style of the house.</summary>
/// <param name="Style">The name of the style.</param>
/// <param name="Content">What wears it.</param>
/// <param name="Place">Where it was written.</param>
public sealed record StyledInline(string Style, RichText Content, SourcePlace? Place) : Inline;

/// <summary>Text in a colour.</summary>
/// <param name="Colour">Six hexadecimal digits.</param>
/// <param name="Content">What wears it.</param>
public sealed record ColouredInline(string Colour, RichText Content) : Inline
{
    /// <summary>The six digits of a colour written as <c>#9A3412</c>; null if it is none.</summary>
    internal static string? Read(string colour) => colour is ['#', ..] && colour.Length == 7 && colour.Skip(1).All(char.IsAsciiHexDigit) ? colour[1..].ToUpperInvariant() : null;

    internal static Diagnostic Wrong(string colour, SourcePlace? place) => Diagnostic.Error(place, $"`{colour}` is not a colour", "write a `#` and six hexadecimal digits, such as `#9A3412`");
}

/// <summary>The mark of a footnote, which stands at the foot of the mark's page.</summary>
/// <param name="Blocks">Its text: paragraphs, lists, quotations and listings.</param>
/// <param name="Place">Where the mark was written.</param>
public sealed record FootnoteInline(ImmutableArray<Block> Blocks, SourcePlace? Place) : Inline;

/// <summary>The mark of a footnote that has been placed before, once more.</summary>
/// <param name="First">The footnote.</param>
public sealed record SameFootnoteInline(FootnoteInline First) : Inline;

/// <summary>A formula in a line.</summary>
/// <param name="Formula">The formula.</param>
public sealed record FormulaInline(Formula Formula) : Inline;

/// <summary>A source and where in it.</summary>
/// <param name="Key">The key of the source.</param>
/// <param name="Locator">The page or chapter, such as "p. 33"; empty for the whole.</param>
public sealed record CitedSource(string Key, string Locator = "");

/// <summary>A citation of one source or several.</summary>
/// <param name="Sources">The sources.</param>
/// <param name="Place">Where the citation was written.</param>
public sealed record CiteInline(ImmutableArray<CitedSource> Sources, SourcePlace? Place) : Inline
{
    /// <summary>Whether the names are part of the sentence: "Hale (2019)".</summary>
    public bool IsNamed { get; init; }
}

/// <summary>What of its target a reference shows.</summary>
public enum SeePart
{
    /// <summary>Word and number, or the title of a section.</summary>
    Whole,

    /// <summary>The number alone.</summary>
    Number,

    /// <summary>The caption or the title.</summary>
    Title,

    /// <summary>The number of its page.</summary>
    Page,

    /// <summary>Where it is from here: "above", "below", "on the next page", "on page 12".</summary>
    Where,
}

/// <summary>A cross-reference, shown as "Table 3", "Figure 2" or a section's title.</summary>
/// <param name="Label">The label of what is referred to.</param>
/// <param name="Place">Where the reference was written.</param>
public sealed record SeeInline(string Label, SourcePlace? Place) : Inline
{
    /// <summary>What of it is shown.</summary>
    public SeePart Part { get; init; }

    /// <summary>The letter of one of its panels: "Figure 3b".</summary>
    public char? Panel { get; init; }

    /// <summary>The grammatical case of the word before the number, in languages that have cases.</summary>
    public WordCase Case { get; init; }

    /// <summary>A word to stand before the number instead of the language's own.</summary>
    public string? Word { get; init; }

    /// <summary>Whether the word before the number may differ from that in the caption, so that the number alone is referred to.</summary>
    internal bool HasWordApart(Language language) => Word is not null || Case != WordCase.Nominative || language.Words.IsLowerInSentences;
}

/// <summary>References to several things at once: "Tables 2 and 4", "Tables 2–4".</summary>
/// <param name="References">Each of them.</param>
public sealed record SeeAllInline(ImmutableArray<SeeInline> References) : Inline
{
    /// <summary>The grammatical case of the word before the numbers, in languages that have cases.</summary>
    public WordCase Case { get; init; }

    /// <summary>A word to stand before the numbers instead of the language's own.</summary>
    public string? Word { get; init; }
}

/// <summary>A place that the index of terms leads to; nothing is shown.</summary>
/// <param name="Term">The term.</param>
/// <param name="Detail">What of it, as an entry under it; the term itself if null.</param>
public sealed record IndexInline(string Term, string? Detail = null) : Inline;

/// <summary>An abbreviation: where the text uses it first, with what it stands for.</summary>
/// <param name="Short">The abbreviation.</param>
/// <param name="Long">What it stands for; null where that is said elsewhere.</param>
/// <param name="Place">Where it was written.</param>
public sealed record AbbreviationInline(string Short, RichText? Long, SourcePlace? Place) : Inline;

/// <summary>A short text above the line, such as the mark of a note.</summary>
/// <param name="Text">The text.</param>
public sealed record RaisedInline(string Text) : Inline;

/// <summary>A picture in a line or a cell.</summary>
/// <param name="Picture">The picture.</param>
/// <param name="AlternativeText">What it shows, for readers who cannot see it; <c>decorative</c> if it is only an ornament.</param>
public sealed record PictureInline(Picture Picture, string AlternativeText) : Inline
{
    /// <summary>Its width; that of the picture itself if null.</summary>
    public Length? Width { get; init; }

    /// <summary>Where it was placed.</summary>
    public SourcePlace? Place { get; init; }
}

/// <summary>A line end that the writer asked for.</summary>
public sealed record BreakInline : Inline;
