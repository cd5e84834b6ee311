using System.Collections.Immutable;
using Fennick.Tables;

namespace Fennick.Styles;

/// <summary>A rule of a table.</summary>
/// <param name="EighthsOfPoint">Its thickness.</param>
/// <param name="Colour">Its colour.</param>
internal sealed record TableRule(int EighthsOfPoint, ThemeColour Colour)
{
    /// <summary>A colour that is none of the theme's, as six hexadecimal digits.</summary>
    public string? Hex { get; init; }
}

/// <summary>How the words of a table's heads look.</summary>
/// <param name="Bold">Whether they are bold.</param>
/// <param name="Hex">Their colour as six hexadecimal digits.</param>
/// <param name="Fill">What they stand on, in the same form.</param>
internal sealed record TableHeadLook(bool Bold, string? Hex, string? Fill);

/// <summary>How a ruling is drawn; where a rule is null there is none.</summary>
internal sealed record RulingDesign(Ruling Ruling)
{
    /// <summary>The id of the table style in a house's file.</summary>
    public string? FoundId { get; init; }

    /// <summary>The name of that style.</summary>
    public string? FoundName { get; init; }

    /// <summary>The id of its table style.</summary>
    public string StyleId => FoundId ?? $"Table{Capital(Ruling.Name)}";

    /// <summary>The name of its table style.</summary>
    public string StyleName => FoundName ?? $"Table {Capital(Ruling.Name)}";

    /// <summary>At the top and the bottom of the table.</summary>
    public TableRule? Outer { get; init; }

    /// <summary>The rule under the last row of a style that was found in a house.</summary>
    public TableRule? FoundBottom { get; init; }

    /// <summary>The rule under the last row.</summary>
    public TableRule? Bottom => FoundName is null ? Outer : FoundBottom;

    /// <summary>At the left and the right of the table.</summary>
    public TableRule? Sides { get; init; }

    /// <summary>Between all rows and all columns.</summary>
    public TableRule? Inner { get; init; }

    /// <summary>Between rows alone.</summary>
    public TableRule? Rows { get; init; }

    /// <summary>Under the header.</summary>
    public TableRule? Header { get; init; }

    /// <summary>Under heads over several columns, above totals, and where a table asks for one.</summary>
    public TableRule? Thin { get; init; }

    /// <summary>At the left of the table alone.</summary>
    public TableRule? Left { get; init; }

    /// <summary>Between columns alone.</summary>
    public TableRule? Columns { get; init; }

    /// <summary>What all cells stand on; nothing if null.</summary>
    public ThemeColour? Fill { get; init; }

    /// <summary>The margin of a cell above, in points.</summary>
    public double CellPadding { get; init; }

    /// <summary>The margin of a cell below; less where the space behind a paragraph is added.</summary>
    public double CellPaddingBelow { get; init; }

    /// <summary>The left or right margin of a cell, in points.</summary>
    public double CellMargin { get; init; } = 5.5;

    /// <summary>Left and right cell margins together, in points.</summary>
    public double CellMargins => 2 * CellMargin;

    /// <summary>How the table style itself says that the words of heads look; null if it does not.</summary>
    public TableHeadLook? Head { get; init; }

    /// <summary>Whether every second row is tinted without being asked for.</summary>
    public bool HasBands { get; init; }

    /// <summary>The four that every house has, and one of the house tansy's own.</summary>
    public static ImmutableArray<RulingDesign> Tansy { get; } = Create();

    /// <summary>How boxes look, in the order of <see cref="BoxLook"/>.</summary>
    public static ImmutableArray<RulingDesign> Boxes { get; } =
    [
        new(new Ruling("box")) { FoundId = "Box", FoundName = "Box", Left = new TableRule(36, ThemeColour.Accent2), Fill = ThemeColour.Tint, CellMargin = 11, CellPadding = 8, CellPaddingBelow = 1.5 },
        new(new Ruling("note box")) { FoundId = "NoteBox", FoundName = "Note Box", Left = new TableRule(18, ThemeColour.Accent1), CellMargin = 11, CellPadding = 2 },
        // Gaps between tiles are rules in the colour of the paper.
        new(new Ruling("key figures")) { FoundId = "KeyFigures", FoundName = "Key Figures", Outer = new TableRule(18, ThemeColour.Accent1), Columns = new TableRule(72, ThemeColour.Background), Rows = new TableRule(72, ThemeColour.Background), Fill = ThemeColour.Tint, CellMargin = 9, CellPadding = 6, CellPaddingBelow = 5 },
        new(new Ruling("panels")) { FoundId = "FigurePanels", FoundName = "Figure Panels", CellMargin = 4 },
        // Its edges are those of the text; what parts its cells is said by them.
        new(new Ruling("side by side")) { FoundId = "SideBySide", FoundName = "Side by Side", CellMargin = 0 },
    ];

    private static string Capital(string name) => char.ToUpperInvariant(name[0]) + name[1..];

    private static ImmutableArray<RulingDesign> Create()
    {
        var strong = new TableRule(12, ThemeColour.StrongText);
        var header = new TableRule(6, ThemeColour.StrongText);
        var thin = new TableRule(4, ThemeColour.Accent5);
        var open = new RulingDesign(Ruling.Open) { Outer = strong, Header = header, Thin = thin };
        return
        [
            open,
            open with { Ruling = Ruling.Banded, Outer = header, HasBands = true },
            new(Ruling.Boxed) { Outer = thin, Sides = thin, Inner = thin, Header = header },
            new(Ruling.Bare),
            // The house's own: a thin rule under every row, to read along.
            open with { Ruling = new Ruling("lined"), Header = strong, Rows = thin },
        ];
    }
}
