using Fennick.Documents;
using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>A cell of a table.</summary>
/// <param name="Content">What stands in it: text, values, references, a picture, a small chart.</param>
public sealed record TableCell(RichText Content)
{
    /// <summary>An empty cell.</summary>
    public static TableCell Empty { get; } = new(RichText.Empty);

    /// <summary>Over how many columns it reaches.</summary>
    public int ColumnSpan { get; init; } = 1;

    /// <summary>Over how many rows it reaches; the rows below leave its place out.</summary>
    public int RowSpan { get; init; } = 1;

    /// <summary>Where its content stands; as its column says if null.</summary>
    public Alignment? Alignment { get; init; }

    /// <summary>What hangs behind the content in superscript, such as a significance sign or the mark of a note; it moves no number out of its line.</summary>
    public RichText? Sign { get; init; }

    /// <summary>How deeply it is shaded with the accent of the house, from 0 for the paper to 1 for the accent; not at all if null.</summary>
    public double? Shade { get; init; }

    /// <summary>Whether a thin rule stands under it.</summary>
    public bool RuleBelow { get; init; }

    /// <summary>The number that it shows, if it shows just one.</summary>
    public double? Number => NumberOf(Content);

    /// <summary>A cell of any value: text, a number, a date, an inline, rich text; a cell stays itself.</summary>
    public static TableCell Of(object? value, string? format = null) => value switch
    {
        TableCell cell => cell,
        string text => text,
        RichText rich => new TableCell(rich),
        Inline inline => new TableCell(new RichText([inline])),
        _ => new TableCell(new RichText([new ValueInline(value, value is null ? null : format)])),
    };

    /// <summary>A cell of text.</summary>
    public static implicit operator TableCell(string? text) => new(Content: RichText.Plain(text));

    /// <summary>A cell of formatted words.</summary>
    public static implicit operator TableCell(RichText words) => new(words);

    private static double? NumberOf(RichText content) => content.Inlines switch
    {
        [ValueInline { Value: var value }] when ValueFormatter.IsNumber(value) => ValueFormatter.ToDouble(value),
        [Stress emphasis] => NumberOf(emphasis.Content),
        _ => null,
    };
}
