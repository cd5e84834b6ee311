using System.Xml.Linq;

namespace Fennick.Revision;

/// <summary>A paragraph or a table as it stands in a document.</summary>
/// <param name="Element">Its element.</param>
/// <param name="Mark">The number of its mark; 0 if it bears none.</param>
internal abstract record ReadBlock(XElement Element, int Mark)
{
    /// <summary>Its text.</summary>
    public abstract string Text { get; }
}

/// <summary>A paragraph.</summary>
internal sealed record ReadParagraph(XElement Element, int Mark) : ReadBlock(Element, Mark)
{
    private ParagraphReading? reading;

    /// <summary>What it holds.</summary>
    public ParagraphReading Reading => reading ??= ParagraphReading.Of(Element);

    public override string Text => Reading.Text;

    /// <summary>The id of its style; empty if it names none.</summary>
    public string Style => (string?)Element.Element(WordNames.W + "pPr")?.Element(WordNames.W + "pStyle")?.Attribute(WordNames.Val) ?? "";

    /// <summary>Reads it again after it was changed.</summary>
    public void Renew() => reading = null;
}

/// <summary>A table of data.</summary>
internal sealed record ReadTable(XElement Element, int Mark) : ReadBlock(Element, Mark)
{
    private ReadRow[]? rows;

    /// <summary>Its rows.</summary>
    public IReadOnlyList<ReadRow> Rows => rows ??= [.. RowsOf(Element).Select(r => new ReadRow(r))];

    public override string Text => string.Join('\n', Rows.Select(r => string.Join('\t', r.Cells.Select(c => c.Text))));

    /// <summary>Reads it again after it was changed.</summary>
    public void Renew() => rows = null;

    /// <summary>The rows of a table, also those in controls and tracked changes.</summary>
    public static IEnumerable<XElement> RowsOf(XElement table) => table.Elements().SelectMany(e => e.Name == WordNames.Row ? [e] : e.Is("sdt") || e.Is("customXml") || e.Is("sdtContent") ? RowsOf(e) : []);
}

/// <summary>A row of a table.</summary>
internal sealed class ReadRow(XElement element)
{
    public XElement Element => element;

    public IReadOnlyList<ReadCell> Cells { get; } = [.. CellsOf(element).Select(c => new ReadCell(c))];

    /// <summary>Whether somebody has deleted it, and that is tracked.</summary>
    public bool IsDeleted => element.Element(WordNames.W + "trPr")?.Element(WordNames.W + "del") is not null;

    private static IEnumerable<XElement> CellsOf(XElement row) => row.Elements().SelectMany(e => e.Name == WordNames.Cell ? [e] : e.Is("sdt") || e.Is("customXml") || e.Is("sdtContent") ? CellsOf(e) : []);
}

/// <summary>A cell of a table.</summary>
internal sealed class ReadCell(XElement element)
{
    private string? text;

    public XElement Element => element;

    /// <summary>Its paragraphs.</summary>
    public IReadOnlyList<ReadParagraph> Paragraphs { get; } = [.. element.Elements(WordNames.P).Select(p => new ReadParagraph(p, 0))];

    /// <summary>Its text without what puts numbers into their places.</summary>
    public string Text => text ??= Records.RecordedCell.Bare(string.Join('\n', Paragraphs.Select(p => p.Text)));

    /// <summary>How many columns it reaches over.</summary>
    public int Span => Math.Clamp(WordNames.NumberIn(element.Element(WordNames.W + "tcPr")?.Element(WordNames.W + "gridSpan")?.Attribute(WordNames.Val)) ?? 1, 1, MostColumns);

    // More no word processor makes.
    private const int MostColumns = 63;
}
