using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Tables;

namespace Fennick.Houses;

/// <summary>What makes a house: its families, colours, page and styles, apart from any file format.</summary>
internal sealed record HouseDesign
{
    public required string Name { get; init; }

    public required string BodyFamily { get; init; }

    public required string HeadingFamily { get; init; }

    public string CodeFamily { get; init; } = "Courier New";

    public required PageGeometry Page { get; init; }

    /// <summary>The theme's colours as six hexadecimal digits.</summary>
    public required ImmutableDictionary<ThemeColour, string> Colours { get; init; }

    /// <summary>One style for each role.</summary>
    public required ImmutableArray<ParagraphStyle> Styles { get; init; }

    /// <summary>How its rulings are drawn.</summary>
    public required ImmutableArray<RulingDesign> Rulings { get; init; }

    /// <summary>The ruling of a name, however it is capitalised.</summary>
    /// <exception cref="ReportException">The house has none of this name.</exception>
    public Ruling FindRuling(string name, SourcePlace? place)
    {
        var names = Rulings.Select(r => r.Ruling.Name);
        return Rulings.FirstOrDefault(r => string.Equals(r.Ruling.Name, name, StringComparison.OrdinalIgnoreCase))?.Ruling
            ?? throw new ReportException(Diagnostic.Error(place, $"`{name}` is no ruling", Nearest.Suggest(name, names) ?? $"the rulings are {string.Join(", ", names.Select(n => $"`{n}`"))}"));
    }

    /// <summary>Height of a figure as a share of its width.</summary>
    public double FigureShape { get; init; } = 0.52;

    public string Family(FontSlot slot) => slot switch { FontSlot.Body => BodyFamily, FontSlot.Heading => HeadingFamily, _ => CodeFamily };
}
