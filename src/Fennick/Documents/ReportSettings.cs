using Fennick.Tables;

namespace Fennick.Documents;

/// <summary>What holds for every table and figure of a report unless one says otherwise.</summary>
public sealed record ReportSettings
{
    /// <summary>The rules of its tables.</summary>
    public Ruling TableRuling { get; init; } = Ruling.Open;

    /// <summary>The width of its figures; the width of the text if null.</summary>
    public Length? FigureWidth { get; init; }

    /// <summary>The height of its figures; a fixed share of their width if null.</summary>
    public Length? FigureHeight { get; init; }
}
