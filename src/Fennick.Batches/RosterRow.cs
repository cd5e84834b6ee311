using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Batches;

/// <summary>A row of a roster.</summary>
public sealed class RosterRow
{
    private readonly Roster roster;

    internal RosterRow(Roster roster, int number, int line, ImmutableArray<string?> cells)
    {
        this.roster = roster;
        Number = number;
        Line = line;
        Cells = cells;
    }

    /// <summary>Its number, from 1.</summary>
    public int Number { get; }

    /// <summary>Its cells in the order of the columns; null for a missing value.</summary>
    public ImmutableArray<string?> Cells { get; }

    /// <summary>The line of the roster's file on which it ends; 0 if it comes from no file.</summary>
    internal int Line { get; }

    /// <summary>The cell of a column; null for a missing value.</summary>
    /// <exception cref="ReportException">The roster has no such column.</exception>
    public string? this[string column] => Cells[roster.FindColumn(column, null)];

    /// <summary>The names of the columns.</summary>
    internal ImmutableArray<string> Columns => roster.Columns;

    /// <summary>The index of a column; null if there is none.</summary>
    internal int? FindColumn(string name) => roster.TryFindColumn(name);

    /// <summary>Where a cell stands.</summary>
    internal SourcePlace PlaceOf(int column) => Line > 0 ? new SourcePlace(roster.Name, Line, column + 1) : new SourcePlace($"{roster.Name}, row {Number}", -1, 0);
}
