using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>What can become a table.</summary>
public interface ITableSource
{
    /// <summary>The table.</summary>
    Table ToTable();
}

/// <summary>A column of a table.</summary>
/// <param name="Alignment">Where its cells stand.</param>
public sealed record TableColumn(Alignment Alignment);

/// <summary>A cell of a table.</summary>
/// <param name="Content">What stands in it.</param>
public sealed record TableCell(RichText Content);

/// <summary>A row of a table.</summary>
/// <param name="Cells">One cell for each column.</param>
public sealed record TableRow(ImmutableArray<TableCell> Cells);

/// <summary>A table, apart from any document: columns, header rows and rows.</summary>
public sealed record Table : ITableSource
{
    /// <summary>The columns, from the left.</summary>
    public required ImmutableArray<TableColumn> Columns { get; init; }

    /// <summary>The rows that are repeated on every page.</summary>
    public ImmutableArray<TableRow> HeaderRows { get; init; } = [];

    /// <summary>The rows below the header.</summary>
    public ImmutableArray<TableRow> Rows { get; init; } = [];

    /// <summary>A table with a row for each record; name its columns with <see cref="RecordTable{T}.Column"/>.</summary>
    /// <example><c>Table.Of(strains).Column("Strain", s => s.Name).Column("Honey (kg)", s => s.Mean, "0.0")</c></example>
    public static RecordTable<T> Of<T>(IEnumerable<T> records) => new([.. records], []);

    /// <inheritdoc/>
    public Table ToTable() => this;

    /// <summary>The table as aligned plain text, for the terminal.</summary>
    public override string ToString() => PlainTable.Write(this, Language.Default);
}
