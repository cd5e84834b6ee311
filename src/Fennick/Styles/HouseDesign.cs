using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Tables;

namespace Fennick.Styles;

/// <summary>What makes a house: its families, colours, page and styles, apart from any file format.</summary>
internal sealed record HouseDesign
{
    public required string Name { get; init; }

    public required string BodyFamily { get; init; }

    public required string HeadingFamily { get; init; }

    /// <summary>The family of tables, captions, notes, headers and footers; that of headings if null.</summary>
    public string? TableFamily { get; init; }

    public string CodeFamily { get; init; } = "Courier New";

    public required PageGeometry Page { get; init; }

    /// <summary>The theme's colours as six hexadecimal digits.</summary>
    public required ImmutableDictionary<ThemeColour, string> Colours { get; init; }

    /// <summary>The colours that the theme of the document does not hold.</summary>
    public ImmutableHashSet<ThemeColour> OutsideTheme { get; init; } = [];

    /// <summary>Whether its families are those of the theme.</summary>
    public bool HasThemeFamilies { get; init; } = true;

    /// <summary>One style for each role, in the order of the roles.</summary>
    public required ImmutableArray<ParagraphStyle> Styles { get; init; }

    /// <summary>How its headings are numbered; empty if they have no numbers.</summary>
    public ImmutableArray<HeadingLevel?> HeadingLevels { get; init; } = [];

    /// <summary>The styles for words in a text.</summary>
    public required ImmutableArray<CharacterStyle> CharacterStyles { get; init; }

    /// <summary>How its rulings are drawn.</summary>
    public required ImmutableArray<RulingDesign> Rulings { get; init; }

    /// <summary>How its cover looks.</summary>
    public CoverDesign Cover { get; init; } = new(0.56, ThemeColour.StrongText, new TableRule(48, ThemeColour.Accent2));

    /// <summary>How its boxes are drawn, in the order of <see cref="BoxLook"/>.</summary>
    public ImmutableArray<RulingDesign> Boxes { get; init; } = RulingDesign.Boxes;

    /// <summary>The ruling of a name, however it is capitalised.</summary>
    /// <exception cref="ReportException">The house has none of this name.</exception>
    public Ruling FindRuling(string name, SourcePlace? place)
    {
        var names = Rulings.Select(r => r.Ruling.Name);
        return Rulings.FirstOrDefault(r => string.Equals(r.Ruling.Name, name, StringComparison.OrdinalIgnoreCase))?.Ruling
            ?? throw new ReportException(Diagnostic.Error(place, $"`{name}` is not a ruling", Nearest.Suggest(name, names) ?? $"the rulings are {string.Join(", ", names.Select(n => $"`{n}`"))}"));
    }

    /// <summary>The character style of a name, however it is capitalised.</summary>
    /// <exception cref="ReportException">The house has none of this name.</exception>
    public CharacterStyle FindCharacterStyle(string name, SourcePlace? place) => FindStyle(name) ?? throw new ReportException(FindMistake(name, place)!);

    /// <summary>What is wrong with the name of a character style; null if the house has it.</summary>
    public Diagnostic? FindMistake(string name, SourcePlace? place)
    {
        var names = CharacterStyles.Select(s => s.Name);
        return FindStyle(name) is not null ? null
            : Diagnostic.Error(place, $"the house {Name} has no character style `{name}`", Nearest.Suggest(name, names) ?? $"its character styles are {string.Join(", ", names.Select(n => $"`{n}`"))}");
    }

    /// <summary>Whether a colour is the theme's, so that it changes with it.</summary>
    public bool IsInTheme(ThemeColour colour) => !OutsideTheme.Contains(colour);

    /// <summary>The style of a kind of code.</summary>
    public CharacterStyle StyleOf(CodeKind kind) => FindCharacterStyle($"Code {kind}", null);

    /// <summary>The style of a role.</summary>
    public CharacterStyle StyleOf(CharacterRole role) => FindCharacterStyle(role switch { CharacterRole.Code => "Code Text", CharacterRole.Link => "Hyperlink", CharacterRole.NoteMark => "footnote reference", _ => role.ToString() }, null);

    /// <summary>The style of a role.</summary>
    public ParagraphStyle Style(StyleRole role) => Styles[(int)role];

    private CharacterStyle? FindStyle(string name) => CharacterStyles.FirstOrDefault(s => string.Equals(s.Name, name, StringComparison.OrdinalIgnoreCase));

    /// <summary>Height of a figure as a share of its width.</summary>
    public double FigureShape { get; init; } = 0.52;

    public string Family(ParagraphStyle style) => style.Family ?? Family(style.Font);

    public string Family(FontSlot slot) => slot switch { FontSlot.Body => BodyFamily, FontSlot.Heading => HeadingFamily, FontSlot.Table => TableFamily ?? HeadingFamily, _ => CodeFamily };
}
