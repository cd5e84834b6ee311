using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>A table, apart from any document: columns, header rows, rows and the notes that explain them. Immutable: <see cref="TableChanges"/> has what makes another one of it.</summary>
public sealed record Table : ITableSource
{
    /// <summary>The columns, from the left.</summary>
    public required ImmutableArray<TableColumn> Columns { get; init; }

    /// <summary>The rows that are repeated on every page.</summary>
    public ImmutableArray<TableRow> HeaderRows { get; init; } = [];

    /// <summary>The rows below the header.</summary>
    public TableRows Rows { get; init; } = TableRows.Empty;

    /// <summary>What the small print under the table says of itself, one sentence or more each.</summary>
    public ImmutableArray<RichText> Notes { get; init; } = [];

    /// <summary>How many columns from the left name the rows; they are repeated where a wide table goes on below itself.</summary>
    public int StubColumns { get; init; } = 1;

    /// <summary>Whether every second row is tinted.</summary>
    public bool IsStriped { get; init; }

    /// <summary>Whether the table may turn its page to landscape if it does not fit otherwise; as the report says if null.</summary>
    public bool? MayTurn { get; init; }

    /// <summary>Whether it is as wide as the text; as the report says if null.</summary>
    public bool? FillsWidth { get; init; }

    /// <summary>What the maker of the table wants the writer of the report to know.</summary>
    public ImmutableArray<string> Warnings { get; init; } = [];

    /// <summary>A table with a row for each record; name its columns with <see cref="RecordTable{T}.Column"/>.</summary>
    /// <example><c>Table.Of(strains).Column("Strain", s => s.Name).Column("Honey (kg)", s => s.Mean, "0.0")</c></example>
    public static RecordTable<T> Of<T>(IEnumerable<T> records) => new([.. records]);

    /// <summary>A table without rows yet; add them with <see cref="TableChanges.Row"/>. Columns of numbers align by themselves.</summary>
    /// <example><c>Table.WithHeads("Strain", "Hives").Row("Amber", 12).Row("Dusk", 9).Total("All", 21)</c></example>
    public static Table WithHeads(params string[] heads) => new()
    {
        Columns = [.. heads.Select((_, c) => new TableColumn(c == 0 ? Alignment.Left : Alignment.Right))],
        HeaderRows = [new TableRow([.. heads.Select(h => (TableCell)h)])],
    };

    /// <inheritdoc/>
    public Table ToTable() => this;

    /// <summary>The table as aligned plain text, for the terminal.</summary>
    public override string ToString() => PlainTable.Write(this, Language.Default);
}
