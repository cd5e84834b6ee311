using System.Collections.Immutable;
using System.Text;
using Fennick.Charts;
using Fennick.Formatting;

namespace Fennick.Documents;

/// <summary>A line of inlines: the content of a paragraph, a caption or a cell.</summary>
/// <param name="Inlines">The inlines in order.</param>
public sealed record RichText(ImmutableArray<Inline> Inlines)
{
    /// <summary>No text.</summary>
    public static RichText Empty { get; } = new([]);

    /// <summary>Whether there is nothing in it.</summary>
    public bool IsEmpty => Inlines.IsEmpty;

    /// <summary>Plain text, exactly as it stands.</summary>
    public static RichText Plain(string? text) => string.IsNullOrEmpty(text) ? Empty : new([new TextInline(text)]);

    /// <summary>Plain text, exactly as it stands.</summary>
    public static implicit operator RichText(string? text) => Plain(text);

    /// <summary>The words without their formatting; a reference shows as its label.</summary>
    /// <param name="language">How values are written; British English if null.</param>
    public string ToPlainText(Language? language = null)
    {
        if (Inlines is [TextInline only]) return only.Text;
        var text = new StringBuilder();
        AppendTo(text, language ?? Language.Default);
        return text.ToString();
    }

    /// <summary>Parts with a text between them.</summary>
    internal static RichText Join(string between, IEnumerable<RichText> parts)
    {
        var inlines = ImmutableArray.CreateBuilder<Inline>();
        foreach (var part in parts)
        {
            if (inlines.Count > 0 && between.Length > 0) inlines.Add(new TextInline(between));
            inlines.AddRange(part.Inlines);
        }
        return new RichText(inlines.ToImmutable());
    }

    /// <summary>The words without their formatting.</summary>
    public override string ToString() => ToPlainText();

    private void AppendTo(StringBuilder text, Language language)
    {
        foreach (var inline in Inlines)
        {
            switch (inline)
            {
                case TextInline t: text.Append(t.Text); break;
                case ValueInline v: text.Append(ValueFormatter.Format(v.Value, v.Format, language)); break;
                case PhraseInline p: p.In(language).AppendTo(text, language); break;
                case Code c: text.Append(c.Text); break;
                case { Inside: { } inner }: inner.AppendTo(text, language); break;
                case IndexInline: break;
                case AbbreviationInline abbreviation: text.Append(abbreviation.Short); break;
                case SeeInline see: text.Append(see.Label); break;
                case SeeAllInline all: text.AppendJoin(", ", all.References.Select(r => r.Label)); break;
                case CiteInline cite: text.AppendJoin(", ", cite.Sources.Select(s => s.Key)); break;
                case FormulaInline f: text.Append(f.Formula.Source); break;
                case RaisedInline r: text.Append(r.Text); break;
                case SmallChart small: text.Append(small.Blocks(language)); break;
                case PictureInline p: text.Append(p.AlternativeText); break;
                case BreakInline: text.Append(' '); break;
            }
        }
    }
}
