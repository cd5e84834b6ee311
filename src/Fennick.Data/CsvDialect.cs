namespace Fennick.Data;

/// <summary>How a character-separated file is written. What is left out is found, or is the usual.</summary>
/// <example><code>Csv.Read&lt;Hive&gt;("hives.csv", new CsvDialect { Separator = ';', DecimalSign = ',', Missing = ["", "-9"] })</code></example>
public sealed record CsvDialect
{
    /// <summary>What stands between cells; if null, comma, semicolon, tab or bar, whichever the first lines use.</summary>
    public char? Separator { get; init; }

    /// <summary>What stands around a cell that holds a separator or a line break.</summary>
    public char Quote { get; init; } = '"';

    /// <summary>
    /// What stands before decimals. If null, a point; and a comma where the file's cells are not separated by commas and its numbers say so: a file in which both
    /// meet, or where a comma may as well stand between thousands, is refused.
    /// </summary>
    public char? DecimalSign { get; init; }

    /// <summary>What stands between groups of three digits, such as <c>','</c>, <c>'.'</c> or <c>' '</c>; if null, a space or apostrophe, and the other of point and comma where numbers show both.</summary>
    public char? ThousandsSign { get; init; }

    /// <summary>How dates are written, as .NET names it, such as <c>dd.MM.yyyy</c>; as <c>2025-03-30</c> if null.</summary>
    public string? DateFormat { get; init; }

    /// <summary>The cells that stand for a missing value.</summary>
    public IReadOnlyList<string> Missing { get; init; } = ["", "NA"];

    /// <summary>The encoding, such as <c>windows-1252</c>; if null, that of the manuscript's setting <c>data.encoding</c>, or else UTF-8. A byte order mark in the file counts before both.</summary>
    public string? Encoding { get; init; }

    /// <summary>How many lines stand before the one that names the columns.</summary>
    public int LinesBefore { get; init; }

    /// <summary>What lines start with that are to be passed over; none if null.</summary>
    public char? Comment { get; init; }

    /// <summary>The columns that <see cref="Csv.Columns(string, CsvDialect?)"/> takes for text although most of their cells are numbers, such as codes of areas.</summary>
    public IReadOnlyList<string> TextColumns { get; init; } = [];

    /// <summary>The dialect in words: <c>separator `;`, decimal sign `,`</c>.</summary>
    public override string ToString()
    {
        IEnumerable<(string Name, object? Value)> parts =
        [
            ("separator", Separator == '\t' ? "tab" : Separator), ("quotation mark", Quote == '"' ? null : Quote), ("decimal sign", DecimalSign), ("thousands sign", ThousandsSign), ("dates as", DateFormat), ("encoding", Encoding),
            ("lines before", LinesBefore == 0 ? null : LinesBefore), ("comments behind", Comment), ("missing values", Missing is ["", "NA"] ? null : string.Join("`, `", Missing)), ("text columns", TextColumns.Count == 0 ? null : string.Join("`, `", TextColumns)),
        ];
        return string.Join(", ", parts.Where(p => p.Value is not null).Select(p => $"{p.Name} `{p.Value}`"));
    }
}
